package store

import (
	"context"
	"database/sql"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
)

// Cover is a picture that stands for an album or a gallery.
type Cover struct {
	CoverID      sql.NullInt64  `db:"cover_id"`
	CoverCode    sql.NullString `db:"cover_code"`
	CoverVersion sql.NullString `db:"cover_version"`
	CoverAlt     sql.NullString `db:"cover_alt"`
}

// Album is an album. Items, where they were counted, are those of it that are not in the bin. Its cover is the one that was chosen, or else
// its first item.
type Album struct {
	ID          int64         `db:"id"`
	Code        string        `db:"code"`
	Parent      sql.NullInt64 `db:"parent_id"`
	Name        string        `db:"name"`
	Description string        `db:"description"`
	Items       int           `db:"items"`
	Kept        *AlbumRule    `db:"rule"` // of a rule album
	Pick        int           `db:"pick"` // of what the rule finds, at random; 0 is all
	Chosen      sql.NullInt64 `db:"chosen"`
	Cover
}

const coverColumns = `ca.id as cover_id, ca.code as cover_code, picture_version(cv.code, ca.recipe_hash) as cover_version,
	ca.alt as cover_alt`

const coverJoin = ` left join lateral (select a.id, a.code, a.alt, a.version_id, a.recipe_hash from asset a where a.binned_at is null
	and a.id = coalesce(
		(select c.id from asset c where c.id = CHOSEN and c.binned_at is null),
		(select i.asset_id from album_item i join asset b on b.id = i.asset_id and b.binned_at is null where i.album_id = al.id
		order by i.position, i.asset_id limit 1))) ca on true
	left join version cv on cv.id = ca.version_id`

// Albums implements Finder.
func (f SQL) Albums(ctx context.Context, v *access.Viewer) ([]Album, error) {
	all, err := AllAlbums(ctx, f.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	items, err := f.Uses(ctx, v, InAlbum)
	if err != nil {
		return nil, err
	}
	seen := SeenAlbums(v, all, items)
	return seen, FillRuleAlbums(ctx, f.DB, seen, func(q query.Query) ([]int64, error) { return f.IDs(ctx, v, q) })
}

// AllAlbums lists the albums of a brand in natural order of their names, without counting their items.
func AllAlbums(ctx context.Context, r Reader, brand int64) ([]Album, error) {
	return list[Album](ctx, r, `select al.id, al.code, al.parent_id, al.name, al.description, al.rule, al.pick,
		al.cover_id as chosen, `+coverColumns+`
		from album al`+replaceChosen("al.cover_id")+` where al.brand_id = $1 order by al.name collate natural_name, al.id`, brand)
}

// SeenAlbums are those of all albums that the viewer may look at, with how many items of each they see. Of what is above
// nobody learns that it is there. All stays as it is.
func SeenAlbums(v *access.Viewer, all []Album, items map[int64]int) []Album {
	reach := v.May(access.Look)
	out := make([]Album, 0, len(all))
	for _, a := range all {
		if !reach.All && !reach.Albums[a.ID] {
			continue
		}
		a.Items = items[a.ID]
		a.Parent.Valid = a.Parent.Valid && (reach.All || reach.Albums[a.Parent.Int64])
		out = append(out, a)
	}
	return out
}

// AlbumCovers looks up the covers of some albums.
func AlbumCovers(ctx context.Context, r Reader, ids []int64) (map[int64]Cover, error) {
	albums, err := list[Album](ctx, r, `select al.id, `+coverColumns+` from album al`+replaceChosen("al.cover_id")+`
		where al.id = any($1)`, ids)
	covers := make(map[int64]Cover, len(albums))
	for _, a := range albums {
		covers[a.ID] = a.Cover
	}
	return covers, err
}

func replaceChosen(column string) string {
	return strings.ReplaceAll(coverJoin, "CHOSEN", column)
}

// AlbumByID reads name, description and chosen cover of an album that the viewer may look at.
func AlbumByID(ctx context.Context, r Reader, v *access.Viewer, id int64) (Album, error) {
	const missing = "That album is not there any more."
	if reach := v.May(access.Look); !reach.All && !reach.Albums[id] {
		return Album{}, fault.NotFoundf(missing)
	}
	return get[Album](ctx, r, missing, `select id, code, parent_id, name, description, rule, pick, cover_id as chosen from album where id = $1
		and brand_id = $2 for no key update`, id, v.Brand)
}

// AddAlbum makes an album. Two siblings cannot have one name.
func (tx *Tx) AddAlbum(ctx context.Context, brand, parent int64, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into album (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3) returning id`,
		brand, parent, name)
	return id, albumNameTaken(err, name)
}

func albumNameTaken(err error, name string) error {
	if violates(err, "album_sibling_name") {
		return fault.Invalidf("name", "There is an album “%s” here already. Try “%s 2”.", name, name)
	}
	return err
}

// ChangeAlbum writes name, description and cover (0 is none) of an album.
func (tx *Tx) ChangeAlbum(ctx context.Context, id int64, name, description string, cover int64) error {
	_, err := tx.ExecContext(ctx, `update album set name = $2, description = $3, cover_id = nullif($4::bigint, 0) where id = $1`, id,
		name, description, cover)
	return albumNameTaken(err, name)
}

// RemoveAlbum removes an album; its items stay in the library and albums inside move up.
func (tx *Tx) RemoveAlbum(ctx context.Context, id int64) error {
	used, err := list[string](ctx, tx, `select title from gallery where album_id = $1`, id)
	if err != nil {
		return err
	}
	if len(used) > 0 {
		return fault.Invalidf("album", "The gallery “%s” shows this album. Give that gallery another album first.", used[0])
	}
	for _, statement := range []string{
		`delete from album_item where album_id = $1`,
		`update album set parent_id = (select parent_id from album where id = $1) where parent_id = $1`,
		`delete from album where id = $1`,
	} {
		if _, err := tx.ExecContext(ctx, statement, id); err != nil {
			return albumNameTaken(err, "of the same name")
		}
	}
	return nil
}

// AlbumItemIDs lists the items of an album that are not in the bin, in its order.
func AlbumItemIDs(ctx context.Context, r Reader, album int64) ([]int64, error) {
	return list[int64](ctx, r, `select i.asset_id from album_item i join asset a on a.id = i.asset_id and a.binned_at is null
		where i.album_id = $1 order by i.position, i.asset_id`, album)
}

// AddToAlbum puts items at the end of an album, in the order given; those that are in it stay where they are. It returns
// how many are new in it.
func (tx *Tx) AddToAlbum(ctx context.Context, brand, album int64, ids []int64) (int, error) {
	if err := tx.byHand(ctx, album); err != nil {
		return 0, err
	}
	return tx.appendOrdered(ctx, orderedTable{"album_item", "album_id"}, brand, album, ids)
}

// TakeOutOfAlbum takes items out of an album, which deletes nothing else, and returns how many were in it.
func (tx *Tx) TakeOutOfAlbum(ctx context.Context, album int64, ids []int64) (int, error) {
	if err := tx.byHand(ctx, album); err != nil {
		return 0, err
	}
	return tx.takeOutOrdered(ctx, orderedTable{"album_item", "album_id"}, album, ids)
}

// OrderAlbum moves items before another one of the album, or to its end when before is 0, keeping the order given.
func (tx *Tx) OrderAlbum(ctx context.Context, album int64, ids []int64, before int64) (int, error) {
	if err := tx.byHand(ctx, album); err != nil {
		return 0, err
	}
	return tx.reorder(ctx, orderedTable{"album_item", "album_id"}, album, ids, before)
}

// AlbumOrder is the order of an album that was made by hand.
func AlbumOrder(ctx context.Context, r Reader, brand, album int64) ([]int64, error) {
	return list[int64](ctx, r, `select asset_id from album_item where album_id = $1 and brand_id = $2 order by position, asset_id`,
		album, brand)
}

// AlbumsOf lists the albums that an item is in.
func AlbumsOf(ctx context.Context, r Reader, v *access.Viewer, asset int64) ([]Album, error) {
	c := clause{from: " from album al join album_item i on i.album_id = al.id"}
	c.and("i.asset_id = %s", asset)
	if reach := v.May(access.Look); !reach.All {
		c.and("al.id = any(%s)", reach.AlbumIDs())
	}
	return list[Album](ctx, r, `select al.id, al.name`+c.sql()+` order by al.name collate natural_name`, c.args...)
}
