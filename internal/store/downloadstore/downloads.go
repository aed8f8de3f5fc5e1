// Package downloadstore keeps output sizes, and what is made to be taken along.
package downloadstore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/store"
)

// Download is what somebody took along: files made of items, in a ZIP or in a folder on the server.
type Download struct {
	ID           int64               `db:"id"`
	Brand        int64               `db:"brand_id"`
	Code         string              `db:"code"`
	Person       int64               `db:"person_id"`
	By           string              `db:"by"`
	Name         string              `db:"name"`
	Pattern      string              `db:"pattern"` // "" takes those of the sizes
	Sizes        store.Array[int64]  `db:"sizes"`
	SizeNames    store.Array[string] `db:"size_names"` // as they were called
	Selected     store.Array[int64]  `db:"selected"`   // items of which the files are not worked out yet
	KeepFolders  bool                `db:"keep_folders"`
	Numbered     bool                `db:"numbered"`
	ServerFolder sql.NullInt64       `db:"server_folder_id"`
	Place        string              `db:"place"` // what the server folder was called; "" for a ZIP
	Path         string              `db:"path"`  // the folder in it that holds the files
	State        string              `db:"state"`
	Total        int                 `db:"total"`
	Made         int                 `db:"made"`
	Failed       int                 `db:"failed"`
	Bytes        sql.NullInt64       `db:"bytes"`
	Started      time.Time           `db:"started_at"`
	Finished     sql.NullTime        `db:"finished_at"`
	After        sql.NullInt64       `db:"after_trail_id"` // a step of the trail that must be done before
}

// While files are made, how many are is counted; afterwards it is known.
const downloadColumns = `select d.id, d.brand_id, d.code, d.person_id, p.name as by, d.name, d.pattern, d.sizes, d.size_names,
	d.keep_folders, d.numbered, d.server_folder_id, d.place, d.path, d.state, d.total, coalesce(c.made, d.made) as made,
	coalesce(c.failed, d.failed) as failed, d.bytes, d.started_at, d.finished_at, d.after_trail_id
	from download d join person p on p.id = d.person_id left join lateral (select count(*) filter (where i.state = 'made')::int as made,
		count(*) filter (where i.state = 'failed')::int as failed from download_item i where i.download_id = d.id) c on d.state = 'making'`

const downloadMissing = "That download is not there any more."

// MostDownloads is how many downloads are listed at a time.
const MostDownloads = 20

// Downloads lists a person's downloads of the last 7 days, newest first.
func Downloads(ctx context.Context, r store.Reader, brand, person int64) ([]Download, error) {
	return store.List[Download](ctx, r, downloadColumns+` where d.brand_id = $1 and d.person_id = $2
		and d.started_at > now() - interval '7 days' order by d.id desc limit $3`, brand, person, MostDownloads)
}

// AllDownloads lists what was taken along from a brand, by anybody and ever, newest first, before an id (0 for the newest).
func AllDownloads(ctx context.Context, r store.Reader, brand, before int64) ([]Download, error) {
	return store.List[Download](ctx, r, downloadColumns+` where d.brand_id = $1 and ($2 = 0 or d.id < $2) order by d.id desc limit $3`,
		brand, before, MostDownloads)
}

// DownloadByID reads a download, for the machine, with the items that are selected.
func DownloadByID(ctx context.Context, r store.Reader, id int64) (Download, error) {
	d, err := store.Get[Download](ctx, r, downloadMissing, downloadColumns+` where d.id = $1`, id)
	if err == nil {
		d.Selected, err = store.Get[store.Array[int64]](ctx, r, "", `select coalesce(selected, '{}') from download where id = $1`, id)
	}
	return d, err
}

// DownloadByCode reads a download by the code in its address.
func DownloadByCode(ctx context.Context, r store.Reader, brand int64, code string) (Download, error) {
	return store.Get[Download](ctx, r, downloadMissing, downloadColumns+` where d.brand_id = $1 and d.code = $2`, brand, code)
}

// AddDownload makes a download of which the files are not worked out yet, and returns its id.
func AddDownload(ctx context.Context, tx *store.Tx, d Download) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into download (brand_id, person_id, name, pattern, sizes, size_names, selected, keep_folders,
		numbered, server_folder_id, place, path, total, after_trail_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10,
		$11, $12, $13, $14) returning id`,
		d.Brand, d.Person, d.Name, d.Pattern, d.Sizes, d.SizeNames, d.Selected, d.KeepFolders, d.Numbered, d.ServerFolder, d.Place, d.Path,
		d.Total, d.After)
}

// FinishDownload writes the end of a download; what was made is sent out. One that was stopped meanwhile stays so.
func FinishDownload(ctx context.Context, tx *store.Tx, id int64, state string) error {
	if _, err := tx.ExecContext(ctx, `update download d set state = case when d.state = 'making' then $2 else d.state end, finished_at = now(),
		made = c.made, failed = c.failed, bytes = nullif(c.bytes, 0) from (select count(*) filter (where state = 'made') as made,
			count(*) filter (where state = 'failed') as failed, coalesce(sum(bytes) filter (where state = 'made'), 0)::bigint as bytes
			from download_item where download_id = $1) c where d.id = $1`, id, state); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update asset a set sent_at = now(), sent_version = i.version_id, sent_recipe = i.recipe
		from (select distinct on (asset_id) asset_id, version_id, recipe from download_item where download_id = $1 and state = 'made'
			and version_id is not null order by asset_id) i where a.id = i.asset_id`, id)
	return err
}

// RetryDownload makes the failed files of a download wait again.
func RetryDownload(ctx context.Context, tx *store.Tx, id int64) error {
	if _, err := tx.ExecContext(ctx, `update download_item set state = 'waiting', why = '' where download_id = $1 and state = 'failed'`,
		id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update download set state = 'making' where id = $1`, id)
	return err
}

// FailDownload ends a download that cannot be made now; what was not made is failed, and can be tried again.
func FailDownload(ctx context.Context, tx *store.Tx, id int64, why string) error {
	if _, err := tx.ExecContext(ctx, `update download_item set state = 'failed', why = $2 where download_id = $1 and state = 'waiting'
		and exists (select from download where id = $1 and state = 'making')`, id, why); err != nil {
		return err
	}
	return FinishDownload(ctx, tx, id, "failed")
}

// StopDownload ends a download of a person that is being made, as far as it is, and says whether there was one.
func StopDownload(ctx context.Context, tx *store.Tx, brand, person, id int64) (bool, error) {
	n, err := tx.Change(ctx, `update download set state = 'stopped' where brand_id = $1 and person_id = $2 and id = $3 and state = 'making'`,
		brand, person, id)
	return n > 0, err
}
