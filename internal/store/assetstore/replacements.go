package assetstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/replacing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// Replacement is an item whose file another item's takes the place of.
type Replacement struct {
	Of   int64 `db:"of" json:"of"`
	With int64 `db:"with" json:"with"`
}

// SameNamed pairs items that the viewer may look at with those of the same file name among the given ones, whatever their case: up to
// so many. Of several with one name the newest comes.
func SameNamed(ctx context.Context, r store.Reader, v *access.Viewer, with []int64, most int) ([]Replacement, error) {
	c := store.Clause{From: `from asset w join asset a on a.brand_id = w.brand_id and lower(a.file_name) = lower(w.file_name)`}
	c.And("w.id = any(%s)", with)
	c.And("a.brand_id = %s", v.Brand)
	c.And("a.id <> all(%s)", with)
	c.And("a.binned_at is null")
	c.Within(v.May(access.Look))
	rest := ` order by a.id, w.id desc limit ` + c.Arg(most)
	return store.List[Replacement](ctx, r, `select distinct on (a.id) a.id as "of", w.id as "with" `+c.SQL()+rest, c.Args...)
}

// Showing is something that shows an item.
type Showing struct {
	Asset int64  `db:"asset_id"`
	What  string `db:"what"` // album, gallery, embed, or address, which is the item's own
	Name  string `db:"name"`
	Open  bool   `db:"open"` // people outside see it now
}

// ShowingOf lists the albums, galleries and embeds that show items, and their own public addresses, as far as the viewer may know of them.
func ShowingOf(ctx context.Context, r store.Reader, v *access.Viewer, ids []int64) ([]Showing, error) {
	reach := v.May(access.Look)
	return store.List[Showing](ctx, r, `select i.asset_id, 'album' as what, al.name, false as open from album_item i
			join album al on al.id = i.album_id where i.asset_id = any($1) and al.brand_id = $2 and ($3 or al.id = any($4))
		union select a.id, 'gallery', g.title, `+ShownNow+` from asset a join gallery g on g.brand_id = a.brand_id
			where a.id = any($1) and g.brand_id = $2 and $5 and (g.cover_id = a.id
			or exists (select from gallery_chapter s where s.gallery_id = g.id and `+placeShows+`))
		union select a.id, 'embed', e.name, e.live from asset a join embed e on e.brand_id = a.brand_id
			join embed_source s on s.embed_id = e.id where a.id = any($1) and a.brand_id = $2 and $5 and `+placeShows+`
		union all select p.asset_id, 'address', '', true from public_address p where p.asset_id = any($1) and p.brand_id = $2 and p.live and $5
		order by 2, 3, 1`, ids, v.Brand, reach.All, reach.AlbumIDs(), v.May(access.Galleries).All)
}

// FilesOf reads what replacing has to know of the present files of items.
func FilesOf(ctx context.Context, r store.Reader, ids []int64) (map[int64]replacing.File, map[int64][]byte, error) {
	rows, err := store.List[struct {
		ID        int64   `db:"id"`
		Kind      string  `db:"kind"`
		MediaType string  `db:"media_type"`
		Width     int     `db:"width"`
		Height    int     `db:"height"`
		Seconds   float64 `db:"seconds"`
		SHA256    []byte  `db:"sha256"`
	}](ctx, r, `select a.id, v.kind, v.media_type, v.width, v.height, coalesce(v.seconds, 0) as seconds, v.sha256
		from asset a join version v on v.id = a.version_id where a.id = any($1)`, ids)
	files, sums := map[int64]replacing.File{}, map[int64][]byte{}
	for _, f := range rows {
		files[f.ID], sums[f.ID] = replacing.File{Kind: f.Kind, MediaType: f.MediaType, Seconds: f.Seconds,
			Size: geometry.Size{Width: f.Width, Height: f.Height}}, f.SHA256
	}
	return files, sums, err
}

// Replace gives an item the file of another one as its newest version, and returns whether that is another than it had. What does not
// stay is as of an item that has just come.
func Replace(ctx context.Context, tx *store.Tx, brand int64, p Replacement, stays replacing.Stays) (bool, error) {
	file, err := FileOf(ctx, tx, p.With)
	if err != nil {
		return false, err
	}
	now, err := FileOf(ctx, tx, p.Of)
	if err != nil || string(now.SHA256) == string(file.SHA256) {
		return false, err
	}
	if !stays.Recipe || file.Kind != now.Kind {
		if _, err := recipestore.SetRecipes(ctx, tx, []int64{p.Of},
			func(recipestore.Prepared) recipe.Recipe { return recipe.Recipe{} }); err != nil {
			return false, err
		}
	}
	if !stays.Focal || file.Kind != now.Kind {
		if _, err := recipestore.ForgetFocal(ctx, tx, p.Of); err != nil {
			return false, err
		}
	}
	had, err := store.List[int64](ctx, tx, `select id from version where asset_id = $1 and sha256 = $2 order by id desc limit 1`,
		p.Of,
		file.SHA256,
	)
	switch {
	case err != nil:
	case len(had) > 0: // it had this file once
		err = showVersion(ctx, tx, p.Of, had[0])
	default:
		_, err = AddVersion(ctx, tx, brand, p.Of, file)
	}
	return true, err
}

// ShowVersion makes a version that an item had what everybody sees again. It returns the name of its file.
func ShowVersion(ctx context.Context, tx *store.Tx, brand, asset, version int64) (string, error) {
	name, err := store.Get[string](ctx, tx, "The item never had that version.",
		`select v.file_name from version v join asset a on a.id = v.asset_id
		where a.brand_id = $1 and a.id = $2 and v.id = $3 and v.id <> a.version_id`,
		brand,
		asset,
		version,
	)
	if err != nil {
		return "", err
	}
	return name, showVersion(ctx, tx, asset, version)
}
