-- +goose Up
alter table drive_password add ends_at timestamptz;
-- What is written down of a letter that has gone out has no links in it: whoever reads the database opens nothing by them.
update letter set body_text = regexp_replace(body_text, 'https?://\S+', '(link)', 'g'), body_html = '', stop_address = '' where state = 'sent';

-- +goose Down
alter table drive_password drop ends_at;
