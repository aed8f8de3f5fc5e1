-- +goose Up
-- The link of a guest is found by its sum, and is sealed by a key that is not in the database. What was kept as it is waits in code until
-- it is sealed, the next time that the server starts.
alter table guest alter column code drop not null;
alter table guest alter column code drop default;
alter table guest add column link_sum bytea unique;
alter table guest add column link_sealed bytea;
update guest set link_sum = sha256(convert_to(code, 'UTF8'));

-- +goose Down
delete from guest where code is null;
alter table guest drop column link_sealed;
alter table guest drop column link_sum;
alter table guest alter column code set default new_code();
alter table guest alter column code set not null;
