package store

import (
	"context"
	"database/sql"
	"time"
)

// Download is a ZIP that is being made, or was.
type Download struct {
	ID          int64         `db:"id"`
	Brand       int64         `db:"brand_id"`
	Code        string        `db:"code"`
	Person      int64         `db:"person_id"`
	SizeID      int64         `db:"output_size_id"`
	SizeName    string        `db:"size_name"`
	Name        string        `db:"name"`
	Pattern     string        `db:"pattern"`
	KeepFolders bool          `db:"keep_folders"`
	State       string        `db:"state"`
	Bytes       sql.NullInt64 `db:"bytes"`
	Started     time.Time     `db:"started_at"`
	After       sql.NullInt64 `db:"after_trail_id"` // a step of the trail that must be done before
}

// DownloadItem is one file of a download.
type DownloadItem struct {
	Download int64  `db:"download_id"`
	Number   int    `db:"number"`
	Asset    int64  `db:"asset_id"`
	Item     string `db:"item"`
	Name     string `db:"name"`
	Width    int    `db:"width"`
	Height   int    `db:"height"`
	Blob     string `db:"blob"`
	State    string `db:"state"`
	Why      string `db:"why"`
}

const downloadColumns = `select d.id, d.brand_id, d.code, d.person_id, d.output_size_id, o.name as size_name, d.name, d.pattern,
	d.keep_folders, d.state, d.bytes, d.started_at, d.after_trail_id
	from download d join output_size o on o.id = d.output_size_id`

const downloadMissing = "That download is not there any more."

// Downloads lists a person's downloads of the last 7 days, newest first.
func Downloads(ctx context.Context, r Reader, brand, person int64) ([]Download, error) {
	return list[Download](ctx, r, downloadColumns+` where d.brand_id = $1 and d.person_id = $2
		and d.started_at > now() - interval '7 days' order by d.id desc limit 20`, brand, person)
}

// DownloadByID reads a download, for the machine.
func DownloadByID(ctx context.Context, r Reader, id int64) (Download, error) {
	return get[Download](ctx, r, downloadMissing, downloadColumns+` where d.id = $1`, id)
}

// DownloadByCode reads a download by the code in its address.
func DownloadByCode(ctx context.Context, r Reader, brand int64, code string) (Download, error) {
	return get[Download](ctx, r, downloadMissing, downloadColumns+` where d.brand_id = $1 and d.code = $2`, brand, code)
}

// DownloadItems lists the files of downloads in their order.
func DownloadItems(ctx context.Context, r Reader, downloads ...int64) ([]DownloadItem, error) {
	return list[DownloadItem](ctx, r, `select i.download_id, i.number, i.asset_id, coalesce(nullif(a.title, ''), a.file_name) as item,
		i.name, i.width, i.height, i.blob, i.state, i.why
		from download_item i join asset a on a.id = i.asset_id where i.download_id = any($1) order by i.download_id desc, i.number`,
		downloads)
}

// AddDownload makes a download with its files and returns its id.
func (tx *Tx) AddDownload(ctx context.Context, d Download, items []DownloadItem) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into download (brand_id, person_id, output_size_id, name, pattern, keep_folders,
		after_trail_id) values ($1, $2, $3, $4, $5, $6, $7) returning id`,
		d.Brand, d.Person, d.SizeID, d.Name, d.Pattern, d.KeepFolders, d.After)
	if err != nil {
		return 0, err
	}
	for _, i := range items {
		if _, err := tx.ExecContext(ctx, `insert into download_item (brand_id, download_id, number, asset_id, name, width, height,
			state, why)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`, d.Brand, id, i.Number, i.Asset, i.Name, i.Width, i.Height, i.State,
			i.Why); err != nil {
			return 0, err
		}
	}
	return id, nil
}

// SetDownloadItem writes what came of one file.
func (db *DB) SetDownloadItem(ctx context.Context, i DownloadItem) error {
	_, err := db.ExecContext(ctx, `update download_item set state = $3, why = $4, blob = $5, width = $6, height = $7, name = $8
		where download_id = $1 and number = $2`,
		i.Download, i.Number, i.State, i.Why, i.Blob, i.Width, i.Height, i.Name)
	return err
}

// FinishDownload writes the end of a download; bytes is the size of its ZIP.
func (db *DB) FinishDownload(ctx context.Context, id int64, state string, bytes int64) error {
	_, err := db.ExecContext(ctx, `update download set state = $2, bytes = nullif($3::bigint, 0) where id = $1`, id, state, bytes)
	return err
}

// RetryDownload makes the failed files of a download wait again.
func (tx *Tx) RetryDownload(ctx context.Context, id int64) error {
	if _, err := tx.ExecContext(ctx, `update download_item set state = 'waiting', why = '' where download_id = $1 and state = 'failed'`,
		id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update download set state = 'making' where id = $1`, id)
	return err
}

// FailDownload ends a download that cannot be made now; what was not made is failed, and can be tried again.
func (tx *Tx) FailDownload(ctx context.Context, id int64, why string) error {
	if _, err := tx.ExecContext(ctx, `update download_item set state = 'failed', why = $2 where download_id = $1 and state = 'waiting'
		and exists (select from download where id = $1 and state = 'making')`, id, why); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update download set state = 'failed' where id = $1 and state = 'making'`, id)
	return err
}
