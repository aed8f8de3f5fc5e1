-- +goose Up
-- Nothing ever wrote how alike a rendition is to what it was made from: it is told when a size is tried out.
alter table rendition drop likeness;

-- +goose Down
alter table rendition add likeness real;
