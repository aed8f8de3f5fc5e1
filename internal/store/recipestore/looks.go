package recipestore

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"

	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/tagstore"
)

// PictureLook is a saved set of adjustments of a brand, with the groups of recipe.Groups that it is about.
type PictureLook struct {
	ID     int64               `db:"id"`
	Name   string              `db:"name"`
	Values Adjustments         `db:"adjustments"`
	Groups store.Array[string] `db:"groups"`
}

// Adjustments are adjustments as they are kept.
type Adjustments struct{ recipe.Adjustments }

// Scan implements sql.Scanner.
func (a *Adjustments) Scan(value any) error {
	text, ok := value.([]byte)
	if s, is := value.(string); is {
		text, ok = []byte(s), true
	}
	if !ok {
		return fmt.Errorf("adjustments cannot be read from a %T", value)
	}
	r, err := recipe.Parse(text)
	a.Adjustments = r.Adjustments
	return err
}

const lookMissing = "That look is not there any more."

// Looks lists the looks of a brand by their names.
func Looks(ctx context.Context, r store.Reader, brand int64) ([]PictureLook, error) {
	return store.List[PictureLook](ctx, r, `select id, name, adjustments, groups from look where brand_id = $1
		order by name collate natural_name, id`, brand)
}

// LookByID reads a look of a brand.
func LookByID(ctx context.Context, r store.Reader, brand, id int64) (PictureLook, error) {
	return store.Get[PictureLook](
		ctx,
		r,
		lookMissing,
		`select id, name, adjustments, groups from look where brand_id = $1 and id = $2`,
		brand,
		id,
	)
}

// SaveLook adds a look, or with an id changes one, and returns its id. A name that another look has is *fault.Invalid.
func SaveLook(ctx context.Context, tx *store.Tx, brand int64, l PictureLook) (int64, error) {
	text, err := json.Marshal(l.Values.Adjustments)
	if err != nil {
		return 0, err
	}
	if l.ID != 0 {
		id, err := store.Get[int64](
			ctx,
			tx,
			lookMissing,
			`update look set name = $3, adjustments = $4, groups = $5 where brand_id = $1 and id = $2
			returning id`,
			brand,
			l.ID,
			l.Name,
			string(text),
			l.Groups,
		)
		return id, tagstore.NameTaken(err, l.Name)
	}
	id, err := store.Get[int64](
		ctx,
		tx,
		lookMissing,
		`insert into look (brand_id, name, adjustments, groups) values ($1, $2, $3, $4) returning id`,
		brand,
		l.Name,
		string(text),
		l.Groups,
	)
	return id, tagstore.NameTaken(err, l.Name)
}

// RemoveLook removes a look. Items that it was put on keep it.
func RemoveLook(ctx context.Context, tx *store.Tx, brand, id int64) (int, error) {
	return tx.Change(ctx, `delete from look where brand_id = $1 and id = $2`, brand, id)
}

// RecipeStep is a recipe that an item had from some moment on.
type RecipeStep struct {
	Trail  int64        `db:"trail_id"`
	At     sql.NullTime `db:"at"`
	By     string       `db:"name"`
	Said   string       `db:"said"`
	Recipe Recipe       `db:"recipe"`
	Was    Recipe       `db:"was"`
}

// RecipesOf lists the recipes that an item had, the newest first, up to so many.
func RecipesOf(ctx context.Context, r store.Reader, asset int64, most int) ([]RecipeStep, error) {
	return store.List[RecipeStep](ctx, r, `select t.id as trail_id, t.at, p.name, t.said, c.after -> 'recipe' as recipe, c.before ->
		'recipe' as was
		from trail_change c join trail t on t.id = c.trail_id join person p on p.id = t.person_id
		where c.key @> jsonb_build_object('id', $1::bigint) and c.table_name = 'asset' and c.after ? 'recipe' and c.before ? 'recipe'
		order by c.id desc limit $2`,
		asset,
		most,
	)
}

// JoinPreparing makes the rest of the transaction a part of a step in which the same person prepared an item before, and says false
// where it can be none: it is another's, was undone, is about something else, or the item has another recipe since.
func JoinPreparing(ctx context.Context, tx *store.Tx, brand, person, asset, entry int64) (bool, error) {
	one, err := store.List[int64](ctx, tx, `select t.id from trail t join trail_change c on c.trail_id = t.id join asset a on a.id = $4
		where t.id = $1 and t.brand_id = $2 and t.person_id = $3 and t.action = 'prepare'
		and t.undone_by is null and t.at > now() - interval '2 hours'
		and c.table_name = 'asset' and c.key @> jsonb_build_object('id', $4::bigint) and c.after -> 'recipe' = a.recipe
		and (select count(*) from trail_change where trail_id = t.id) = 1
		and not exists (select from bulk where trail_id = t.id) for no key update of t`, entry, brand, person, asset)
	if err != nil || len(one) == 0 {
		return false, err
	}
	return true, tx.ContinueTrail(ctx, entry)
}

// MergePreparing makes one change of the two that a step has that was joined: from what was before it to what is now. It returns the
// recipes that the item had before the step, and has after it.
func MergePreparing(ctx context.Context, tx *store.Tx, entry int64) (was, is Recipe, err error) {
	merged, err := store.Get[struct {
		Was Recipe `db:"was"`
		Is  Recipe `db:"is"`
	}](ctx, tx, "That step is not in the trail.", `with first as (select min(id) as id from trail_change where trail_id = $1),
		last as (delete from trail_change c using first where c.trail_id = $1 and c.id <> first.id returning c.before, c.after),
		merged as (update trail_change c set before = coalesce(last.before, '{}') || c.before, after = c.after || coalesce(last.after, '{}')
			from first left join last on true where c.id = first.id returning c.before, c.after)
		select before -> 'recipe' as was, after -> 'recipe' as is from merged`, entry)
	return merged.Was, merged.Is, err
}
