// Package tagstore keeps tags, their groups and colours.
package tagstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Tag is a tag with the name of its group, or "", and a number of uses: in the brand or in a selection.
type Tag struct {
	ID    int64  `db:"id"`
	Name  string `db:"name"`
	Group string `db:"group_name"`
	Uses  int    `db:"uses"`
	Files int    `db:"files"` // how many of the uses come from the keywords of files
	Place int    `db:"place"` // among all tags in natural order of their names, where all were asked for
}

const tagColumns = `t.id, t.name, coalesce(g.name, '') as group_name, count(x.asset_id)::int as uses,
	count(x.asset_id) filter (where x.origin = 'file')::int as files from tag t left join tag_group g on g.id = t.group_id`

// AllTags lists every tag of a brand, by group and name. How often each is used is not counted.
func AllTags(ctx context.Context, r store.Reader, brand int64) ([]Tag, error) {
	return store.List[Tag](ctx, r, `select t.id, t.name, coalesce(g.name, '') as group_name, 0 as uses, 0 as files,
		row_number() over (order by t.name collate natural_name, t.id) as place from tag t left join tag_group g on g.id = t.group_id
		where t.brand_id = $1 and `+LivingTag+` order by g.name nulls last, t.name collate natural_name, t.id`, brand)
}

// SeenTags are all tags with how often each is used. Whoever may not look everywhere sees those that are on something they
// see. All stays as it is.
func SeenTags(v *access.Viewer, all []Tag, uses map[int64]int) []Tag {
	everywhere := v.May(access.Look).All
	out := make([]Tag, 0, len(all))
	for _, t := range all {
		if t.Uses = uses[t.ID]; t.Uses > 0 || everywhere {
			out = append(out, t)
		}
	}
	return out
}

// TagsOf lists the tags on any of the items, most used first, with on how many of them.
func TagsOf(ctx context.Context, r store.Reader, ids []int64) ([]Tag, error) {
	return store.List[Tag](ctx, r, `select `+tagColumns+` join asset_tag x on x.tag_id = t.id where x.asset_id = any($1)
		and `+LivingTag+`
		group by t.id, g.name order by count(*) desc, t.name collate natural_name`, ids)
}

// EnsureTag returns the tag that a name leads to, ignoring case, and makes it in the group (or in none, for "") if need be.
func EnsureTag(ctx context.Context, tx *store.Tx, brand int64, name, group string) (int64, error) {
	var groupID *int64
	if group != "" {
		id, err := EnsureTagGroup(ctx, tx, brand, group)
		if err != nil {
			return 0, err
		}
		groupID = &id
	}
	if _, err := tx.ExecContext(ctx, `insert into tag (brand_id, group_id, name) values ($1, $2, $3) on conflict do nothing`, brand,
		groupID, name); err != nil {
		return 0, err
	}
	return TagNamed(ctx, tx, brand, name)
}

// ClosedTagGroup returns the name of the closed group that a tag of this name is in, or would be, or "".
func ClosedTagGroup(ctx context.Context, r store.Reader, brand int64, name string) (string, error) {
	names, err := store.List[string](ctx, r, `select g.name from tag s join tag t on t.id = coalesce(s.merged_into, s.id)
		join tag_group g on g.id = t.group_id
		where s.brand_id = $1 and lower(normalize(s.name, NFC)) = lower(normalize($2, NFC)) and g.closed`, brand, name)
	if err != nil || len(names) == 0 {
		return "", err
	}
	return names[0], nil
}

// AddTagsFrom puts tags on items and remembers where they come from: "file" for the keywords of a file. A tag that is on an
// item already keeps its origin.
func AddTagsFrom(ctx context.Context, tx *store.Tx, brand int64, ids, tags []int64, origin string) (int, error) {
	return store.Get[int](ctx, tx, "", `with put as (insert into asset_tag (brand_id, asset_id, tag_id, origin)
			select $1, a, t, $4 from unnest($2::bigint[]) a, unnest($3::bigint[]) t on conflict do nothing returning asset_id)
		select count(distinct asset_id) from put`, brand, ids, tags, origin)
}

// ChangeTags puts tags on items and takes others off, and returns how many items changed.
func ChangeTags(ctx context.Context, tx *store.Tx, brand int64, ids, add, remove []int64) (int, error) {
	return store.Get[int](ctx, tx, "", `with put as (insert into asset_tag (brand_id, asset_id, tag_id)
			select $1, a, t from unnest($2::bigint[]) a, unnest($3::bigint[]) t on conflict do nothing returning asset_id),
		off as (delete from asset_tag where asset_id = any($2) and tag_id = any($4) returning asset_id)
		select count(*) from (select asset_id from put union select asset_id from off) changed`, brand, ids, add, remove)
}

// EnsureTags returns the tags of those names and makes the ones that are new. Tags in a closed group are for stewards and
// coordinators.
func EnsureTags(ctx context.Context, tx *store.Tx, v *access.Viewer, names []string) ([]int64, error) {
	tags := []int64{}
	for _, name := range names {
		if closed, err := ClosedTagGroup(ctx, tx, v.Brand, name); err != nil {
			return nil, err
		} else if closed != "" && !v.Can(access.Closed) {
			return nil, fault.Forbiddenf("“%s” is in the group %s, which only stewards and coordinators add to.", name, closed)
		}
		tag, err := EnsureTag(ctx, tx, v.Brand, name, "")
		if err != nil {
			return nil, err
		}
		tags = append(tags, tag)
	}
	return tags, nil
}

// TagNames reads what the tags of a brand are called, by id.
func TagNames(ctx context.Context, r store.Reader, brand int64) (map[int64]string, error) {
	return store.Names(ctx, r, `select id, name from tag where brand_id = $1`, brand)
}

// TagIDs reads the living tags of a brand, by name.
func TagIDs(ctx context.Context, r store.Reader, brand int64) (map[string]int64, error) {
	all, err := store.Names(ctx, r, `select id, name from tag t where brand_id = $1 and `+LivingTag, brand)
	out := make(map[string]int64, len(all))
	for id, name := range all {
		out[name] = id
	}
	return out, err
}

// NamesOfTags reads what some tags of a brand are called, in natural order.
func NamesOfTags(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]string, error) {
	return store.List[string](ctx, r, `select name from tag where brand_id = $1 and id = any($2) order by name collate natural_name`,
		brand,
		ids,
	)
}

// NamesOfLivingTags is NamesOfTags without those that are gone or other spellings.
func NamesOfLivingTags(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]string, error) {
	return store.List[string](ctx, r, `select t.name from tag t where t.brand_id = $1 and t.id = any($2) and `+LivingTag+`
		order by t.name collate natural_name`, brand, ids)
}

// CloseTagGroup closes a tag group, to which only stewards and coordinators add from then on, or opens it.
func CloseTagGroup(ctx context.Context, tx *store.Tx, brand int64, name string, closed bool) error {
	n, err := tx.Change(ctx, `update tag_group set closed = $3 where brand_id = $1 and lower(name) = lower($2)`, brand, name, closed)
	if err == nil && n == 0 {
		err = fault.NotFoundf("There is no tag group “%s”.", name)
	}
	return err
}
