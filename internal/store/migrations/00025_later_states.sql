-- +goose Up
-- What came back from another program proposes to join its original: two items are alike, or one is a later state of the other.
alter table twin add reason text not null default 'alike' check (reason in ('alike', 'later_state'));
-- The document that a file is a state of (XMP Media Management: OriginalDocumentID, DerivedFrom, DocumentID).
create function document_of(metadata jsonb) returns text language sql immutable parallel safe as $$
  select left(coalesce(metadata ->> 'XMP-xmpMM:OriginalDocumentID', metadata #>> '{XMP-xmpMM:DerivedFrom,OriginalDocumentID}',
    metadata #>> '{XMP-xmpMM:DerivedFrom,DocumentID}', metadata ->> 'XMP-xmpMM:DocumentID'), 200)
$$;
create index version_document on version (brand_id, document_of(metadata)) where document_of(metadata) is not null;
