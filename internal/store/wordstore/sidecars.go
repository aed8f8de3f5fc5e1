package wordstore

import (
	"context"
	"encoding/json"
	"time"

	"brightsatchel/internal/store"
)

// Sidecar is what an XMP sidecar says about an item; what it does not say is empty.
type Sidecar struct {
	Title, Description, Alt string
	Credit, Copyright       string
	UsageTerms              string
	Place, Stage            string
	Stars                   int
	Taken                   *time.Time
	TakenZone               string
	Metadata                json.RawMessage
}

// ApplySidecar writes what a sidecar says over what the file itself says, and keeps all of it beside the file's metadata.
func ApplySidecar(ctx context.Context, tx *store.Tx, brand, asset int64, c Sidecar) error {
	_, err := tx.ExecContext(ctx, `update asset set title = coalesce(nullif($2, ''), title), description = coalesce(nullif($3, ''),
		description),
		alt = coalesce(nullif($4, ''), alt), credit = coalesce(nullif($5, ''), credit), copyright = coalesce(nullif($6, ''), copyright),
		place = coalesce(nullif($7, ''), place), stars = case when $8 = 0 then stars else $8 end,
		captured_at = coalesce($9, captured_at), captured_zone = case when $9::timestamp is null then captured_zone else $10 end,
		file_captured_at = coalesce($9, file_captured_at), file_captured_zone = case when $9::timestamp is null then file_captured_zone
		else $10 end, usage_terms = coalesce(nullif($13, ''), usage_terms),
		stage_id = coalesce((select id from stage where brand_id = $11 and lower(name) = lower($12)), stage_id) where id = $1`,
		asset, c.Title, c.Description, c.Alt, c.Credit, c.Copyright, c.Place, c.Stars, c.Taken, c.TakenZone, brand, c.Stage, c.UsageTerms)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update version v set metadata = v.metadata || jsonb_build_object('Sidecar', $2::jsonb) from asset a
		where a.id = $1 and v.id = a.version_id`, asset, string(c.Metadata))
	return err
}
