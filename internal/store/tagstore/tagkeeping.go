package tagstore

import (
	"context"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5/pgconn"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// TagGroup is a group of tags with how many are in it. Only stewards and coordinators add to a closed one.
type TagGroup struct {
	ID     int64  `db:"id"`
	Name   string `db:"name"`
	Closed bool   `db:"closed"`
	Tags   int    `db:"tags"`
}

// TagGroups lists the tag groups of a brand by name.
func TagGroups(ctx context.Context, r store.Reader, brand int64) ([]TagGroup, error) {
	return store.List[TagGroup](ctx, r, `select g.id, g.name, g.closed, (select count(*) from tag t where t.group_id = g.id
		and `+LivingTag+`)::int as tags from tag_group g where g.brand_id = $1 order by g.name collate natural_name`, brand)
}

// LivingTag is the condition that a tag t is one by itself: neither another spelling nor removed.
const LivingTag = "t.merged_into is null and t.removed_at is null"

// Spelling is another spelling of a tag.
type Spelling struct {
	ID   int64  `db:"id"`
	Tag  int64  `db:"merged_into"`
	Name string `db:"name"`
}

// SpellingsOf lists the other spellings of the tags of a brand.
func SpellingsOf(ctx context.Context, r store.Reader, brand int64) ([]Spelling, error) {
	return store.List[Spelling](ctx, r, `select id, merged_into, name from tag where brand_id = $1 and merged_into is not null
		order by name collate natural_name`, brand)
}

// KeptTag is a tag as who keeps the tags in order sees it. Group is "" without one.
type KeptTag struct {
	ID      int64  `db:"id"`
	Name    string `db:"name"`
	Group   string `db:"group_name"`
	Items   int    `db:"items"` // also in the bin
	Files   int    `db:"files"` // of which it came with the files
	Folders int    `db:"folders"`
}

const keptTags = `select t.id, t.name, coalesce(g.name, '') as group_name, x.items, x.files,
	(select count(*) from folder_tag f where f.tag_id = t.id)::int as folders
	from tag t left join tag_group g on g.id = t.group_id
	cross join lateral (select count(*)::int as items, count(*) filter (where origin = 'file')::int as files from asset_tag
		where tag_id = t.id) x
	where t.brand_id = $1 and ` + LivingTag

// TagsByID reads tags, which must be there, in the order of their names.
func TagsByID(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]KeptTag, error) {
	tags, err := store.List[KeptTag](ctx, r, keptTags+` and t.id = any($2) order by t.name collate natural_name`, brand, ids)
	if err == nil && len(tags) == 0 {
		err = fault.NotFoundf("That tag is not there any more.")
	}
	return tags, err
}

// TagNamed finds the tag that a name leads to: by its own name or another spelling; 0 if there is none.
func TagNamed(ctx context.Context, r store.Reader, brand int64, name string) (int64, error) {
	found, err := store.List[int64](ctx, r, `select coalesce(merged_into, id) from tag where brand_id = $1
		and lower(normalize(name, NFC)) = lower(normalize($2, NFC))`, brand, name)
	if err != nil || len(found) == 0 {
		return 0, err
	}
	return found[0], nil
}

// RenameTag gives a tag a name that no other has. Where that is another spelling of the tag, both change places.
func RenameTag(ctx context.Context, tx *store.Tx, brand int64, tag KeptTag, name string) error {
	spelling, err := store.List[int64](ctx, tx, `update tag set name = '– ' || id where brand_id = $1 and merged_into = $2
		and lower(normalize(name, NFC)) = lower(normalize($3, NFC)) returning id`, brand, tag.ID, name)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `update tag set name = $3 where brand_id = $1 and id = $2`, brand, tag.ID, name); err != nil {
		return NameTaken(err, name)
	}
	_, err = tx.ExecContext(ctx, `update tag set name = $2 where id = any($1)`, spelling, tag.Name)
	return err
}

// MergeTags makes tags other spellings of another one, with their own spellings, on folders and faces too. What they are on is
// tagged anew by RetagAssets.
func MergeTags(ctx context.Context, tx *store.Tx, brand, into int64, from []int64) error {
	for _, statement := range []string{
		`update tag set merged_into = $2, group_id = null where brand_id = $1 and (id = any($3) or merged_into = any($3))`,
		`insert into folder_tag (brand_id, folder_id, tag_id) select $1, folder_id, $2 from folder_tag where tag_id = any($3)
			group by folder_id on conflict do nothing`,
		`delete from folder_tag where brand_id = $1 and tag_id = any($3) and tag_id <> $2`,
		`update face set tag_id = $2 where brand_id = $1 and tag_id = any($3)`,
		// who refused under one name has refused under all
		`insert into person_shown (tag_id, brand_id, email, consent, consent_until, note)
			select $2, $1, max(email), (array_agg(consent order by consent = 'refused' desc, consent = 'given' desc))[1],
			case when bool_and(consent = 'given') then min(consent_until) end, string_agg(nullif(note, ''), ' ' order by tag_id)
			from (select email, consent, consent_until, note, tag_id from person_shown where brand_id = $1
				and (tag_id = $2 or tag_id = any($3))) p having bool_or(tag_id <> $2)
			on conflict (tag_id) do update set email = excluded.email, consent = excluded.consent, consent_until = excluded.consent_until,
			note = coalesce(excluded.note, '')`,
		`delete from person_shown where brand_id = $1 and tag_id = any($3) and tag_id <> $2`,
	} {
		if _, err := tx.ExecContext(ctx, statement, brand, into, from); err != nil {
			return err
		}
	}
	return nil
}

// RetagAssets puts a tag on items in place of others, with where those came from, and returns how many items changed. Into 0
// takes the others off.
func RetagAssets(ctx context.Context, tx *store.Tx, brand int64, ids []int64, into int64, from []int64) (int, error) {
	if into != 0 {
		if _, err := tx.ExecContext(ctx, `insert into asset_tag (brand_id, asset_id, tag_id, origin) select $1, asset_id, $3, min(origin)
			from asset_tag where asset_id = any($2) and tag_id = any($4) group by asset_id on conflict do nothing`, brand, ids, into,
			from); err != nil {
			return 0, err
		}
	}
	return store.Get[int](ctx, tx, "", `with off as (delete from asset_tag where brand_id = $1 and asset_id = any($2) and tag_id = any($3)
		returning asset_id) select count(distinct asset_id) from off`, brand, ids, from)
}

// TaggedWith lists the items that have any of some tags, also those in the bin. They come as one value and from the index alone: 40,000
// rows would take longer than all else.
func TaggedWith(ctx context.Context, r store.Reader, brand int64, tags []int64) ([]int64, error) {
	if len(tags) == 1 { // which no item has twice
		return store.Get[store.Array[int64]](ctx, r, "", `select coalesce(array_agg(asset_id), '{}') from asset_tag where tag_id = $2
			and exists (select from tag where id = $2 and brand_id = $1)`, brand, tags[0])
	}
	return store.Get[store.Array[int64]](ctx, r, "", `select coalesce(array_agg(distinct asset_id), '{}') from asset_tag where tag_id in
		(select id from tag where brand_id = $1 and id = any($2))`, brand, tags)
}

// RemoveTags takes tags away from folders, faces and lists. Their names are free for others at once.
func RemoveTags(ctx context.Context, tx *store.Tx, brand int64, ids []int64) (int, error) {
	for _, statement := range []string{
		`delete from folder_tag where brand_id = $1 and tag_id = any($2)`,
		`update face set tag_id = null, state = 'found' where brand_id = $1 and tag_id = any($2)`,
		`update tag set removed_at = now(), name = left(name, 60) || ' · ' || id where brand_id = $1 and merged_into = any($2)`,
	} {
		if _, err := tx.ExecContext(ctx, statement, brand, ids); err != nil {
			return 0, err
		}
	}
	return tx.Change(ctx, `update tag set removed_at = now(), group_id = null, name = left(name, 60) || ' · ' || id where brand_id = $1
		and id = any($2) and removed_at is null`, brand, ids)
}

// AddSpelling makes a name, which nothing has yet, another spelling of a tag. It is made as one that was removed, so that what is
// taken back is a change: making tags is not.
func AddSpelling(ctx context.Context, tx *store.Tx, brand, tag int64, name string) error {
	id, err := store.Get[int64](ctx, tx, "",
		`insert into tag (brand_id, name, removed_at) values ($1, '– ' || new_code(), now()) returning id`,
		brand,
	)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update tag set name = $3, merged_into = $2, removed_at = null where id = $1`, id, tag, name)
	return NameTaken(err, name)
}

// NameTaken says that somebody else was quicker with a name.
func NameTaken(err error, name string) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == "23505" {
		return &fault.Conflict{Text: fmt.Sprintf("Somebody has just used the name “%s”. Nothing was changed.", name), Field: "name"}
	}
	return err
}

// RemoveSpelling takes another spelling away.
func RemoveSpelling(ctx context.Context, tx *store.Tx, brand, id int64) (int, error) {
	return tx.Change(ctx, `update tag set removed_at = now(), merged_into = null, name = left(name, 60) || ' · ' || id where brand_id = $1
		and id = $2 and merged_into is not null`, brand, id)
}

// GroupTags puts tags into a group; 0 takes them out of theirs. It returns how many moved.
func GroupTags(ctx context.Context, tx *store.Tx, brand int64, ids []int64, group int64) (int, error) {
	return tx.Change(ctx, `update tag t set group_id = nullif($3::bigint, 0) where brand_id = $1 and id = any($2) and `+LivingTag+`
		and group_id is distinct from nullif($3::bigint, 0)`, brand, ids, group)
}

// UnusedTags lists the tags of a brand that are on no item, no folder and no face.
func UnusedTags(ctx context.Context, r store.Reader, brand int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select t.id from tag t where t.brand_id = $1 and `+LivingTag+`
		and not exists (select from asset_tag x where x.tag_id = t.id) and not exists (select from folder_tag f where f.tag_id = t.id)
		and not exists (select from face f where f.tag_id = t.id) order by t.id`, brand)
}

const groupMissing = "That group is not there any more."

// TagGroupByID reads a group.
func TagGroupByID(ctx context.Context, r store.Reader, brand, id int64) (TagGroup, error) {
	return store.Get[TagGroup](
		ctx,
		r,
		groupMissing,
		`select id, name, closed, 0 as tags from tag_group where brand_id = $1 and id = $2`,
		brand,
		id,
	)
}

// EnsureTagGroup returns the group of that name, ignoring case, and makes it if need be.
func EnsureTagGroup(ctx context.Context, tx *store.Tx, brand int64, name string) (int64, error) {
	_, err := tx.ExecContext(ctx, `insert into tag_group (brand_id, name) values ($1, $2) on conflict do nothing`, brand, name)
	if err != nil {
		return 0, err
	}
	// by itself, so that it sees a group that somebody else made meanwhile
	return store.Get[int64](ctx, tx, "", `select id from tag_group where brand_id = $1 and lower(name) = lower($2)`, brand, name)
}

// ChangeTagGroup renames a group and closes or opens it, and returns 1 if that changed anything.
func ChangeTagGroup(ctx context.Context, tx *store.Tx, brand, id int64, name string, closed bool) (int, error) {
	n, err := tx.Change(ctx, `update tag_group set name = $3, closed = $4 where brand_id = $1 and id = $2
		and (name, closed) is distinct from ($3, $4)`, brand, id, name, closed)
	return n, NameTaken(err, name)
}

// RemoveTagGroup removes a group. Its tags stay, in no group.
func RemoveTagGroup(ctx context.Context, tx *store.Tx, brand, id int64) (int, error) {
	if _, err := tx.Change(ctx, `update tag set group_id = null where brand_id = $1 and group_id = $2`, brand, id); err != nil {
		return 0, err
	}
	return tx.Change(ctx, `delete from tag_group where brand_id = $1 and id = $2`, brand, id)
}
