package assetstore

import (
	"context"
	"slices"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
)

// Stage is where an item stands in the workflow of a brand.
type Stage struct {
	ID   int64  `db:"id"`
	Name string `db:"name"`
}

// AddStage adds a stage after the others.
func AddStage(ctx context.Context, tx *store.Tx, brand int64, name string) error {
	_, err := tx.ExecContext(ctx, `insert into stage (brand_id, name, number) values ($1, $2, (select count(*) from stage
		where brand_id = $1)) on conflict do nothing`, brand, name)
	return err
}

// StageNames reads what the stages of a brand are called, by id.
func StageNames(ctx context.Context, r store.Reader, brand int64) (map[int64]string, error) {
	return store.Names(ctx, r, `select id, name from stage where brand_id = $1`, brand)
}

// Stages lists the stages of a brand in their order.
func Stages(ctx context.Context, r store.Reader, brand int64) ([]Stage, error) {
	return store.List[Stage](ctx, r, `select id, name from stage where brand_id = $1 order by number, id`, brand)
}

// StageByID reads a stage of a brand.
func StageByID(ctx context.Context, r store.Reader, brand, id int64) (Stage, error) {
	return store.Get[Stage](ctx, r, "That stage is not there any more.", `select id, name from stage where brand_id = $1 and id = $2`,
		brand,
		id,
	)
}

// RenameStage gives a stage another name; one that another stage has is *fault.Invalid.
func RenameStage(ctx context.Context, tx *store.Tx, brand, id int64, name string) (int, error) {
	taken, err := store.Get[bool](ctx, tx, "",
		`select exists (select from stage where brand_id = $1 and id <> $2 and lower(name) = lower($3))`,
		brand,
		id,
		name,
	)
	if err == nil && taken {
		err = fault.Invalidf("name", "There is a stage “%s” already.", name)
	}
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `update stage set name = $3 where brand_id = $1 and id = $2`, brand, id, name)
}

// PlaceStage moves a stage to a place among those of its brand, counted from 0, and returns how many stages have another place then.
func PlaceStage(ctx context.Context, tx *store.Tx, brand, id int64, place int) (int, error) {
	stages, err := Stages(ctx, tx, brand)
	if err != nil {
		return 0, err
	}
	ids := make([]int64, 0, len(stages))
	for _, s := range stages {
		if s.ID != id {
			ids = append(ids, s.ID)
		}
	}
	ids = slices.Insert(ids, min(place, len(ids)), id)
	return tx.Change(ctx, `update stage s set number = u.n - 1 from unnest($2::bigint[]) with ordinality u(id, n)
		where s.id = u.id and s.brand_id = $1 and s.number <> u.n - 1`, brand, ids)
}

// RemoveStage removes a stage. One at which there are items is *fault.Invalid with how many.
func RemoveStage(ctx context.Context, tx *store.Tx, brand, id int64) (int, error) {
	at, err := store.Get[int](ctx, tx, "", `select count(*) from asset where brand_id = $1 and stage_id = $2`, brand, id)
	if err == nil && at > 0 {
		err = fault.Invalidf("stage", "%s at this stage, also counting the bin. Put them at another one first.",
			wording.Count(at, "item is", "items are"))
	}
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `delete from stage where brand_id = $1 and id = $2`, brand, id)
}

// StageAssets puts items at a stage (0 is none) and returns how many were at another.
func StageAssets(ctx context.Context, tx *store.Tx, ids []int64, stage int64) (int, error) {
	return tx.Change(ctx, `update asset set stage_id = nullif($2::bigint, 0) where id = any($1) and stage_id is distinct from
		nullif($2::bigint, 0)`, ids, stage)
}

// EnsureStage returns the stage of that name, ignoring case, and makes it after the others if need be.
func EnsureStage(ctx context.Context, tx *store.Tx, brand int64, name string) (int64, error) {
	if name == "" {
		return 0, fault.Invalidf("name", "A stage needs a name.")
	}
	if err := AddStage(ctx, tx, brand, name); err != nil {
		return 0, err
	}
	return store.Get[int64](ctx, tx, "", `select id from stage where brand_id = $1 and lower(name) = lower($2)`, brand, name)
}

// Labelled lists the items outside of the bin without a stage whose file says a label.
func Labelled(ctx context.Context, r store.Reader, brand int64, label string) ([]int64, error) {
	return store.List[int64](ctx, r, `select a.id from version v join asset a on a.version_id = v.id where v.brand_id = $1
		and lower(v.metadata ->> 'XMP-xmp:Label') = lower($2) and v.metadata ? 'XMP-xmp:Label' and a.stage_id is null
		and a.binned_at is null order by a.id`, brand, label)
}
