package store

import (
	"context"

	"brightsatchel/internal/core/fault"
)

// Stage is where an item stands in the workflow of a brand.
type Stage struct {
	ID   int64  `db:"id"`
	Name string `db:"name"`
}

// AddStage adds a stage after the others.
func (tx *Tx) AddStage(ctx context.Context, brand int64, name string) error {
	_, err := tx.ExecContext(ctx, `insert into stage (brand_id, name, number) values ($1, $2, (select count(*) from stage
		where brand_id = $1)) on conflict do nothing`, brand, name)
	return err
}

// StageNames reads what the stages of a brand are called, by id.
func StageNames(ctx context.Context, r Reader, brand int64) (map[int64]string, error) {
	return names(ctx, r, `select id, name from stage where brand_id = $1`, brand)
}

// Stages lists the stages of a brand in their order.
func Stages(ctx context.Context, r Reader, brand int64) ([]Stage, error) {
	return list[Stage](ctx, r, `select id, name from stage where brand_id = $1 order by number, id`, brand)
}

// StageByID reads a stage of a brand.
func StageByID(ctx context.Context, r Reader, brand, id int64) (Stage, error) {
	return get[Stage](ctx, r, "That stage is not there any more.", `select id, name from stage where brand_id = $1 and id = $2`, brand, id)
}

// StageAssets puts items at a stage (0 is none) and returns how many were at another.
func (tx *Tx) StageAssets(ctx context.Context, ids []int64, stage int64) (int, error) {
	return tx.change(ctx, `update asset set stage_id = nullif($2::bigint, 0) where id = any($1) and stage_id is distinct from
		nullif($2::bigint, 0)`, ids, stage)
}

// EnsureStage returns the stage of that name, ignoring case, and makes it after the others if need be.
func (tx *Tx) EnsureStage(ctx context.Context, brand int64, name string) (int64, error) {
	if name == "" {
		return 0, fault.Invalidf("name", "A stage needs a name.")
	}
	if err := tx.AddStage(ctx, brand, name); err != nil {
		return 0, err
	}
	return get[int64](ctx, tx, "", `select id from stage where brand_id = $1 and lower(name) = lower($2)`, brand, name)
}

// Labelled lists the items outside of the bin without a stage whose file says a label.
func Labelled(ctx context.Context, r Reader, brand int64, label string) ([]int64, error) {
	return list[int64](ctx, r, `select a.id from version v join asset a on a.version_id = v.id where v.brand_id = $1
		and lower(v.metadata ->> 'XMP-xmp:Label') = lower($2) and v.metadata ? 'XMP-xmp:Label' and a.stage_id is null
		and a.binned_at is null order by a.id`, brand, label)
}
