// Package embedstore keeps what websites show: embeds, sites, public addresses and logos.
package embedstore

import (
	"context"
	"encoding/json"

	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// Embed is a live embed. Only one that is Live is shown outside.
type Embed struct {
	ID        int64              `db:"id"`
	Brand     int64              `db:"brand_id"`
	BrandName string             `db:"brand_name"`
	Code      string             `db:"code"`
	Name      string             `db:"name"`
	Live      bool               `db:"live"`
	Settings  embedSettings      `db:"settings"`
	Pages     int                `db:"pages"` // that were seen to show it
	Sources   []assetstore.Place `db:"-"`
}

// embedSettings are settings as they are kept.
type embedSettings struct{ embeds.Settings }

// Scan implements sql.Scanner.
func (s *embedSettings) Scan(value any) error { return store.ScanJSON(value, &s.Settings) }

const embedColumns = `select e.id, e.brand_id, b.name as brand_name, e.code, e.name, e.live, e.settings,
	(select count(*) from sighting s where s.embed_id = e.id) as pages from embed e join brand b on b.id = e.brand_id`

const embedMissing = "There is no such embed."

// Embeds lists the embeds of a brand, the newest first.
func Embeds(ctx context.Context, r store.Reader, brand int64) ([]Embed, error) {
	all, err := store.List[Embed](ctx, r, embedColumns+` where e.brand_id = $1 order by e.id desc`, brand)
	if err != nil {
		return nil, err
	}
	return all, withSources(ctx, r, all)
}

// EmbedByID reads one embed of a brand, and keeps it as it is until the transaction ends.
func EmbedByID(ctx context.Context, tx *store.Tx, brand, id int64) (Embed, error) {
	return oneEmbed(ctx, tx, embedColumns+` where e.brand_id = $1 and e.id = $2 for no key update of e`, brand, id)
}

// SeenEmbed reads one embed of a brand.
func SeenEmbed(ctx context.Context, r store.Reader, brand, id int64) (Embed, error) {
	return oneEmbed(ctx, r, embedColumns+` where e.brand_id = $1 and e.id = $2`, brand, id)
}

// LiveEmbed reads an embed for the outside, by its code.
func LiveEmbed(ctx context.Context, r store.Reader, code string) (Embed, error) {
	return oneEmbed(ctx, r, embedColumns+` where e.code = $1 and e.live`, code)
}

func oneEmbed(ctx context.Context, r store.Reader, query string, args ...any) (Embed, error) {
	e, err := store.Get[Embed](ctx, r, embedMissing, query, args...)
	if err != nil {
		return e, err
	}
	one := []Embed{e}
	err = withSources(ctx, r, one)
	return one[0], err
}

func withSources(ctx context.Context, r store.Reader, all []Embed) error {
	ids, at := make([]int64, len(all)), make(map[int64]*Embed, len(all))
	for i := range all {
		ids[i], at[all[i].ID] = all[i].ID, &all[i]
	}
	sources, err := store.List[struct {
		Embed int64 `db:"embed_id"`
		assetstore.Place
	}](ctx, r, `select s.embed_id, `+assetstore.PlaceColumns+` from embed_source s`+assetstore.PlaceJoins+`
		where s.embed_id = any($1) order by s.embed_id, s.position, s.id`, ids)
	for _, s := range sources {
		at[s.Embed].Sources = append(at[s.Embed].Sources, s.Place)
	}
	return err
}

// AddEmbed makes an embed that is not live, and returns its id.
func AddEmbed(ctx context.Context, tx *store.Tx, e Embed) (int64, error) {
	settings, err := json.Marshal(e.Settings.Settings)
	if err != nil {
		return 0, err
	}
	err = tx.GetContext(ctx, &e.ID, `insert into embed (brand_id, name, settings) values ($1, $2, $3) returning id`, e.Brand, e.Name,
		string(settings))
	if err != nil {
		return 0, err
	}
	return e.ID, setSources(ctx, tx, e)
}

// ChangeEmbed writes everything about an embed that can be set.
func ChangeEmbed(ctx context.Context, tx *store.Tx, e Embed) error {
	settings, err := json.Marshal(e.Settings.Settings)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update embed set name = $2, live = $3, settings = $4 where id = $1`, e.ID, e.Name, e.Live, string(settings))
	return err
}

// SetEmbedSources has an embed show other folders and albums.
func SetEmbedSources(ctx context.Context, tx *store.Tx, e Embed) error {
	if _, err := tx.ExecContext(ctx, `delete from embed_source where embed_id = $1`, e.ID); err != nil {
		return err
	}
	return setSources(ctx, tx, e)
}

func setSources(ctx context.Context, tx *store.Tx, e Embed) error {
	for i, s := range e.Sources {
		_, err := tx.ExecContext(ctx, `insert into embed_source (brand_id, embed_id, position, folder_id, album_id, below)
			values ($1, $2, $3, nullif($4, 0), nullif($5, 0), $6)`, e.Brand, e.ID, i, s.Folder, s.Album, s.Below)
		if err != nil {
			return err
		}
	}
	return nil
}

// RemoveEmbed removes an embed. Pages that hold it show nothing then.
func RemoveEmbed(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from embed where id = $1`, id)
	return err
}
