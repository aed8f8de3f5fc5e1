-- +goose Up
-- Sharpness is measured otherwise now; the old numbers mean nothing beside the new ones. "Look again" finds them out anew.
update asset set sharpness = null where sharpness is not null;
