package downloadstore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
)

// DownloadItem is one file of a download.
type DownloadItem struct {
	Download int64  `db:"download_id"`
	Number   int    `db:"number"`
	Asset    int64  `db:"asset_id"`
	Size     int64  `db:"output_size_id"`
	Item     string `db:"item"`
	Name     string `db:"name"`
	Width    int    `db:"width"`
	Height   int    `db:"height"`
	Bytes    int64  `db:"bytes"`
	Blob     string `db:"blob"`
	State    string `db:"state"`
	Why      string `db:"why"`
	// What it was made of, once it is.
	Version int64  `db:"version_id"`
	Recipe  string `db:"recipe"`
}

const downloadItemColumns = `select i.download_id, i.number, i.asset_id, i.output_size_id,
	coalesce(nullif(a.title, ''), a.file_name) as item,
	i.name, i.width, i.height, i.bytes, i.blob, i.state, i.why, coalesce(i.version_id, 0) as version_id, coalesce(i.recipe, '') as recipe
	from download_item i join asset a on a.id = i.asset_id`

// FilesInState lists some files of a download in a state after a number, in their order.
func FilesInState(ctx context.Context, r store.Reader, download int64, state string, after, most int) ([]DownloadItem, error) {
	return store.List[DownloadItem](ctx, r, downloadItemColumns+` where i.download_id = $1 and i.state = $2 and i.number > $3 order by i.number
		limit $4`, download, state, after, most)
}

// DownloadFileAt reads one file of a download by its number.
func DownloadFileAt(ctx context.Context, r store.Reader, download int64, number int) (DownloadItem, error) {
	return store.Get[DownloadItem](
		ctx,
		r,
		downloadMissing,
		downloadItemColumns+` where i.download_id = $1 and i.number = $2`,
		download,
		number,
	)
}

// PlanDownload writes which files a download has, once they are worked out.
func PlanDownload(ctx context.Context, tx *store.Tx, d Download, items []DownloadItem) error {
	n := len(items)
	numbers, assets, sizes, widths, heights := make([]int, n), make([]int64, n), make([]int64, n), make([]int, n), make([]int, n)
	names, states, whys := make([]string, n), make([]string, n), make([]string, n)
	for k, i := range items {
		numbers[k], assets[k], sizes[k], widths[k], heights[k] = i.Number, i.Asset, i.Size, i.Width, i.Height
		names[k], states[k], whys[k] = i.Name, i.State, i.Why
	}
	if _, err := tx.ExecContext(ctx, `insert into download_item (brand_id, download_id, number, asset_id, output_size_id, name, width, height,
		state, why) select $1, $2, * from unnest($3::int[], $4::bigint[], $5::bigint[], $6::text[], $7::int[], $8::int[], $9::text[],
		$10::text[])`, d.Brand, d.ID, numbers, assets, sizes, names, widths, heights, states, whys); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update download set selected = null, total = $2 where id = $1`, d.ID, n)
	return err
}

// SetDownloadItem writes what came of one file.
func SetDownloadItem(ctx context.Context, db *store.DB, i DownloadItem) error {
	_, err := db.ExecContext(ctx, `update download_item set state = $3, why = $4, blob = $5, width = $6, height = $7, name = $8,
		version_id = nullif($9::bigint, 0), recipe = $10, bytes = $11 where download_id = $1 and number = $2`,
		i.Download, i.Number, i.State, i.Why, i.Blob, i.Width, i.Height, i.Name, i.Version, i.Recipe, i.Bytes)
	return err
}

// SentOut is one sending of an item: in what somebody took along, by an output size.
type SentOut struct {
	At     time.Time `db:"at"`
	By     string    `db:"by"`
	Size   string    `db:"size"`
	Place  string    `db:"place"` // a folder on the server, or "" for a ZIP
	Name   string    `db:"name"`  // of the file
	Width  int       `db:"width"`
	Height int       `db:"height"`
	Older  bool      `db:"older"` // the item has another file or another recipe now
}

// mostSent is how many sendings of an item are listed.
const mostSent = 50

// SentOuts lists when an item was sent out, the last one first.
func SentOuts(ctx context.Context, r store.Reader, asset int64) ([]SentOut, error) {
	return store.List[SentOut](ctx, r, `select d.finished_at as at, p.name as by, o.name as size, d.place, i.name, i.width, i.height,
		i.version_id <> a.version_id or i.recipe <> a.recipe_hash as older
		from download_item i join download d on d.id = i.download_id join asset a on a.id = i.asset_id join person p on p.id = d.person_id
		join output_size o on o.id = i.output_size_id
		where i.asset_id = $1 and i.version_id is not null and i.state = 'made' and d.finished_at is not null
		order by d.id desc, i.number limit $2`, asset, mostSent)
}
