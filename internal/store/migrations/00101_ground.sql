-- +goose Up
-- What columns, defaults and indexes of the tables are made with. The functions are kept current in functions.sql.
create extension if not exists pg_trgm;
create extension if not exists unaccent;
-- Names as people read and compare them: case ignored, digits as numbers (shot 2 before Shot 10).
create collation natural_name (provider = icu, locale = 'und-u-kn-true-ks-level2', deterministic = true);

-- What the outside sees instead of an id: 16 letters and digits, unguessable, never reused.
create function new_code() returns text language sql volatile as
$$ select translate(encode(substr(decode(replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), 'hex'), 5, 12), 'base64'), '+/', 'xy') $$;

-- The document that a file is a state of (XMP Media Management: OriginalDocumentID, DerivedFrom, DocumentID).
-- +goose StatementBegin
create function document_of(metadata jsonb) returns text language sql immutable parallel safe as $$
  select left(coalesce(metadata ->> 'XMP-xmpMM:OriginalDocumentID', metadata #>> '{XMP-xmpMM:DerivedFrom,OriginalDocumentID}',
    metadata #>> '{XMP-xmpMM:DerivedFrom,DocumentID}', metadata ->> 'XMP-xmpMM:DocumentID'), 200)
$$;
-- +goose StatementEnd

-- +goose Down
drop function document_of(jsonb);
drop function new_code();
drop collation natural_name;
