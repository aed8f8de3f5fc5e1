-- +goose Up
-- How much of a film is made, from 0 to 1.
alter table film_wanted add made real not null default 0;
