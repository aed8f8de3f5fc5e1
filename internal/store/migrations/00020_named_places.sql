-- +goose Up
-- What a file says of where it was taken is kept as numbers; a place is what people call it.
update asset set place = '' where place ~ '^[+-][0-9]+\.[0-9]{6}, [+-][0-9]+\.[0-9]{6}$' and latitude is not null;
