// Package albumstore keeps albums, what is in them by hand or by a rule, their covers, and satchels.
package albumstore

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/orderstore"
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
	Parked      bool          `db:"parked"`
	ChosenBy    *AlbumRule    `db:"chosen_by"` // what it was made of, where that was a choice
	ChosenWhole bool          `db:"chosen_whole"`
	Chosen      sql.NullInt64 `db:"chosen"`
	Cover
}

const CoverColumns = `ca.id as cover_id, ca.code as cover_code, picture_version(cv.code, ca.recipe_hash) as cover_version,
	ca.alt as cover_alt`

// albumCoverColumns are coverColumns of an album, of which the cover can be a file of its own: that has no id.
const albumCoverColumns = `case when own.code is null then ca.id end as cover_id, coalesce('` + OwnCoverPrefix + `' || own.code, ca.code)
	as cover_code, coalesce(own.code, picture_version(cv.code, ca.recipe_hash)) as cover_version, coalesce(ca.alt, '') as cover_alt`

const albumCoverJoin = coverJoin + ` left join own_cover own on own.id = al.own_cover_id`

const coverJoin = ` left join lateral (select a.id, a.code, a.alt, a.version_id, a.recipe_hash from asset a where a.binned_at is null
	and a.id = coalesce(
		(select c.id from asset c where c.id = CHOSEN and c.binned_at is null),
		(select i.asset_id from album_item i join asset b on b.id = i.asset_id and b.binned_at is null where i.album_id = al.id
		order by i.position, i.asset_id limit 1))) ca on true
	left join version cv on cv.id = ca.version_id`

// AllAlbums lists the albums of a brand in natural order of their names, without counting their items.
func AllAlbums(ctx context.Context, r store.Reader, brand int64) ([]Album, error) {
	return store.List[Album](ctx, r, `select al.id, al.code, al.parent_id, al.name, al.description, al.rule, al.pick, al.parked,
		al.chosen_by, al.chosen_whole, al.cover_id as chosen, `+albumCoverColumns+`
		from album al`+strings.ReplaceAll(albumCoverJoin, "CHOSEN", "al.cover_id")+` where al.brand_id = $1
		order by al.name collate natural_name, al.id`, brand)
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
func AlbumCovers(ctx context.Context, r store.Reader, ids []int64) (map[int64]Cover, error) {
	albums, err := store.List[Album](ctx, r, `select al.id, `+albumCoverColumns+` from album al`+
		strings.ReplaceAll(albumCoverJoin, "CHOSEN", "al.cover_id")+`
		where al.id = any($1)`, ids)
	covers := make(map[int64]Cover, len(albums))
	for _, a := range albums {
		covers[a.ID] = a.Cover
	}
	return covers, err
}

// CoverOf is an item as a cover.
func CoverOf(ctx context.Context, r store.Reader, asset int64) (Cover, error) {
	return store.Get[Cover](ctx, r, assetstore.AssetMissing, `select `+CoverColumns+` from asset ca join version cv on cv.id = ca.version_id
		where ca.id = $1`, asset)
}

// AlbumByID reads an album that the viewer may look at, and keeps it as it is until the transaction ends. Who reads several so does it in
// the order of their ids, or two would wait for each other for ever.
func AlbumByID(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (Album, error) {
	return albumByID(ctx, r, v, id, " for no key update")
}

// SeenAlbum is AlbumByID without keeping the album as it is.
func SeenAlbum(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (Album, error) {
	return albumByID(ctx, r, v, id, "")
}

func albumByID(ctx context.Context, r store.Reader, v *access.Viewer, id int64, keep string) (Album, error) {
	const missing = "That album is not there any more."
	if reach := v.May(access.Look); !reach.All && !reach.Albums[id] {
		return Album{}, fault.NotFoundf(missing)
	}
	return store.Get[Album](ctx, r, missing, `select id, code, parent_id, name, description, rule, pick, parked, chosen_by, chosen_whole,
		cover_id as chosen from album where id = $1 and brand_id = $2`+keep, id, v.Brand)
}

// AddAlbum makes an album. Two siblings cannot have one name.
func AddAlbum(ctx context.Context, tx *store.Tx, brand, parent int64, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into album (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3) returning id`,
		brand, parent, name)
	return id, albumNameTaken(err, name)
}

func albumNameTaken(err error, name string) error {
	if store.Violates(err, "album_sibling_name") {
		return fault.Invalidf("name", "There is an album “%s” here already. Try “%s 2”.", name, name)
	}
	return err
}

// ChangeAlbum writes name and description of an album.
func ChangeAlbum(ctx context.Context, tx *store.Tx, id int64, name, description string) error {
	_, err := tx.ExecContext(ctx, `update album set name = $2, description = $3 where id = $1`, id, name, description)
	return albumNameTaken(err, name)
}

// SetAlbumCover gives an album one of its items as its cover, or a file of its own; 0 and 0 let it be found.
func SetAlbumCover(ctx context.Context, tx *store.Tx, id, asset, own int64) error {
	_, err := tx.ExecContext(ctx, `update album set cover_id = nullif($2::bigint, 0), own_cover_id = nullif($3::bigint, 0) where id = $1`, id,
		asset, own)
	return err
}

// RemoveAlbums removes an album, or with all that are in it; the items stay in the library. Albums inside of one that is removed alone
// move up.
func RemoveAlbums(ctx context.Context, tx *store.Tx, ids []int64) error {
	used, err := store.List[string](ctx, tx, `select g.title from gallery g join gallery_chapter c on c.gallery_id = g.id
		where c.album_id = any($1) order by g.title`, ids)
	if err != nil {
		return err
	}
	if len(used) > 0 {
		return fault.Invalidf("album", "The gallery “%s” shows this album. Take the chapter out of that gallery first.", used[0])
	}
	for _, statement := range []string{
		`delete from album_item where album_id = any($1)`,
		`update album a set parent_id = p.parent_id from album p where p.id = a.parent_id and a.parent_id = any($1) and not a.id = any($1)`,
		`delete from album where id = any($1)`,
	} {
		if _, err := tx.ExecContext(ctx, statement, ids); err != nil {
			return albumNameTaken(err, "of the same name")
		}
	}
	return nil
}

// AlbumsWithin lists albums that are in one, however deep, with itself first.
func AlbumsWithin(ctx context.Context, r store.Reader, brand, album int64) ([]Album, error) {
	return store.List[Album](ctx, r, `with recursive down as (
			select id, 0 as depth from album where id = $1 and brand_id = $2
			union all select a.id, down.depth + 1 from album a join down on a.parent_id = down.id where down.depth < 50)
		select al.id, al.parent_id, al.name, al.description, al.rule, al.pick, al.cover_id as chosen from down join album al on al.id = down.id
		order by down.depth, al.name collate natural_name, al.id`, album, brand)
}

// LockAlbums has those wait for each other who change how the albums of a brand are in each other: two who move albums into each other at
// once would make a ring. It comes before any album is read, or two would wait for each other for ever.
func LockAlbums(ctx context.Context, tx *store.Tx, brand int64) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext('albums'), $1::int)`, brand)
	return err
}

// KeepAlbums keeps albums as they are until the transaction ends, in the order in which everybody does.
func KeepAlbums(ctx context.Context, tx *store.Tx, ids []int64) error {
	_, err := tx.ExecContext(ctx, `select from album where id = any($1) order by id for no key update`, ids)
	return err
}

// MoveAlbum puts an album into another one, or to the top (0), after LockAlbums.
func MoveAlbum(ctx context.Context, tx *store.Tx, brand int64, a Album, parent int64) error {
	if parent != 0 {
		within, err := AlbumsWithin(ctx, tx, brand, a.ID)
		if err != nil {
			return err
		}
		if slices.ContainsFunc(within, func(x Album) bool { return x.ID == parent }) {
			return fault.Invalidf("parent", "“%s” cannot be put into itself, or into an album that is in it.", a.Name)
		}
	}
	_, err := tx.ExecContext(ctx, `update album set parent_id = nullif($2::bigint, 0) where id = $1`, a.ID, parent)
	return albumNameTaken(err, a.Name)
}

// ParkAlbum puts an album out of sight, or back.
func ParkAlbum(ctx context.Context, tx *store.Tx, album int64, parked bool) error {
	_, err := tx.ExecContext(ctx, `update album set parked = $2 where id = $1`, album, parked)
	return err
}

// SetAlbumChoice notes which choice an album was made of, and whether of all of it; without one it is forgotten.
func SetAlbumChoice(ctx context.Context, tx *store.Tx, album int64, by *query.Rule, whole bool) error {
	var text *string
	if by != nil {
		json, err := json.Marshal(by)
		if err != nil {
			return err
		}
		text = new(string(json))
	}
	_, err := tx.ExecContext(ctx, `update album set chosen_by = $2::jsonb, chosen_whole = $3 where id = $1`, album, text, whole)
	return err
}

// CopyAlbum makes another album like one, with its items in their order, its rule and its cover, under a name in a parent (0 is the top).
func CopyAlbum(ctx context.Context, tx *store.Tx, brand int64, of Album, parent int64, name string) (int64, error) {
	id, err := AddAlbum(ctx, tx, brand, parent, name)
	if err != nil {
		return 0, err
	}
	if _, err := tx.ExecContext(ctx, `update album a set description = o.description, rule = o.rule, pick = o.pick, cover_id = o.cover_id,
		own_cover_id = o.own_cover_id
		from album o where a.id = $1 and o.id = $2`, id, of.ID); err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `insert into album_item (brand_id, album_id, asset_id, position)
		select brand_id, $1, asset_id, position from album_item where album_id = $2`, id, of.ID)
	return id, err
}

// FreeAlbumName is a name that no album in a parent (0 is the top) has: the one that is wished for, or with a number after it.
func FreeAlbumName(ctx context.Context, r store.Reader, brand, parent int64, name string) (string, error) {
	taken, err := store.List[string](ctx, r, `select lower(normalize(name, NFC)) from album where brand_id = $1
		and parent_id is not distinct from nullif($2::bigint, 0)`, brand, parent)
	free := name
	for n := 2; slices.Contains(taken, strings.ToLower(norm.NFC.String(free))); n++ {
		free = fmt.Sprintf("%s %d", name, n)
	}
	return free, err
}

// CountInAlbums is how many items are in some albums, each once for each of them.
func CountInAlbums(ctx context.Context, r store.Reader, albums []int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*) from album_item where album_id = any($1)`, albums)
}

// AlbumItemIDs lists the items of an album that are not in the bin, in its order.
func AlbumItemIDs(ctx context.Context, r store.Reader, album int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select i.asset_id from album_item i join asset a on a.id = i.asset_id and a.binned_at is null
		where i.album_id = $1 order by i.position, i.asset_id`, album)
}

// AlbumItemAt is the item at a place of an album, counted from 1 among those that are not left out and not in the bin; 0 behind the end.
func AlbumItemAt(ctx context.Context, r store.Reader, brand, album int64, without []int64, place int) (int64, error) {
	// what is in the bin is looked up first: it is far less than what an album may hold
	found, err := store.List[int64](ctx, r, `with gone as materialized (select id from asset where brand_id = $1 and binned_at is not null)
		select i.asset_id from album_item i where i.album_id = $2 and not i.asset_id = any($3)
		and not exists (select from gone g where g.id = i.asset_id) order by i.position, i.asset_id offset $4 limit 1`, brand, album, without,
		place-1)
	if err != nil || len(found) == 0 {
		return 0, err
	}
	return found[0], nil
}

// items is the order of what is in albums.
var items = orderstore.Table{Name: "album_item", Owner: "album_id"}

// AddToAlbum puts items at the end of an album, in the order given; those that are in it stay where they are. It returns
// how many are new in it.
func AddToAlbum(ctx context.Context, tx *store.Tx, brand, album int64, ids []int64) (int, error) {
	if err := byHand(ctx, tx, album); err != nil {
		return 0, err
	}
	return orderstore.Append(ctx, tx, items, brand, album, ids)
}

// TakeOutOfAlbum takes items out of an album, which deletes nothing else, and returns how many were in it.
func TakeOutOfAlbum(ctx context.Context, tx *store.Tx, album int64, ids []int64) (int, error) {
	if err := byHand(ctx, tx, album); err != nil {
		return 0, err
	}
	return orderstore.TakeOut(ctx, tx, items, album, ids)
}

// OrderAlbum moves items before another one of the album, or to its end when before is 0, keeping the order given.
func OrderAlbum(ctx context.Context, tx *store.Tx, album int64, ids []int64, before int64) (int, error) {
	if err := byHand(ctx, tx, album); err != nil {
		return 0, err
	}
	return orderstore.Reorder(ctx, tx, items, album, ids, before)
}

// AlbumOrder is the order of an album that was made by hand.
func AlbumOrder(ctx context.Context, r store.Reader, brand, album int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select asset_id from album_item where album_id = $1 and brand_id = $2 order by position, asset_id`,
		album, brand)
}

// AlbumsOf lists the albums that an item is in.
func AlbumsOf(ctx context.Context, r store.Reader, v *access.Viewer, asset int64) ([]Album, error) {
	c := store.Clause{From: " from album al join album_item i on i.album_id = al.id"}
	c.And("i.asset_id = %s", asset)
	if reach := v.May(access.Look); !reach.All {
		c.And("al.id = any(%s)", reach.AlbumIDs())
	}
	return store.List[Album](ctx, r, `select al.id, al.name`+c.SQL()+` order by al.name collate natural_name`, c.Args...)
}
