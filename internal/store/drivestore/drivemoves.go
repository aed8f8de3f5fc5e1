package drivestore

import (
	"context"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// SyncWithin is how long after something went from the drive the same may come back to it, and be it: programs that keep two places alike
// rename by writing anew and removing, in any order, and editors save like this.
const SyncWithin = time.Minute

// Gone is an item in the bin that a file on the drive is, or takes the place of: what it had, in which folder (0 is Unfiled), and whether
// its bytes are those of the file.
type Gone struct {
	Asset  int64  `db:"id"`
	Folder int64  `db:"folder"`
	Name   string `db:"file_name"`
	Same   bool   `db:"same"`
}

// DriveFileByCode reads a file on the drive by the code of its bytes; nil when it is not there.
func DriveFileByCode(ctx context.Context, r store.Reader, code string) (*DriveFile, error) {
	rows, err := store.List[DriveFile](ctx, r, driveFileColumns+`where code = $1`, code)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// GoneFor finds the item in the bin that a file in a folder of the drive is, whose bytes have a sum: one with the same bytes that went
// within SyncWithin of when it was written, wherever it was, or at any time from the same folder under the same name; or one that went
// from there under that name just then, of which the file is another version. It is nil when there is none.
func GoneFor(ctx context.Context, r store.Reader, f DriveFile, sum []byte) (*Gone, error) {
	rows, err := store.List[Gone](ctx, r, `with near as (
			select a.id from version v join asset a on a.version_id = v.id where v.brand_id = $1 and v.sha256 = $2 and a.binned_at is not null
			union select id from asset where brand_id = $1 and binned_at between $3::timestamptz - $4::interval and $3::timestamptz + $4::interval)
		select a.id, coalesce(a.folder_id, 0) as folder, a.file_name, v.sha256 = $2 as same
		from near join asset a on a.id = near.id join version v on v.id = a.version_id,
		lateral (select a.binned_at between $3::timestamptz - $4::interval and $3::timestamptz + $4::interval as now,
			coalesce(a.folder_id, 0) = $5 as there, a.file_name = $6 as named) is_
		where a.brand_id = $1 and (v.sha256 = $2 and (is_.now or is_.there and is_.named)
			or is_.now and is_.there and (is_.named or v.file_name = $6))
		order by same desc, is_.there desc, is_.named desc, a.binned_at desc limit 1`, f.Brand, sum, f.Written, SyncWithin.String(),
		f.Folder, f.Name)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// ItemAt says whether an item with these bytes is in a folder (0 is Unfiled) under a name.
func ItemAt(ctx context.Context, r store.Reader, f DriveFile, sum []byte) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from asset a join version v on v.id = a.version_id where a.brand_id = $1
		and a.binned_at is null and a.file_name = $3 and v.sha256 = $4 and `+atFolder(f.Folder)+`)`, f.Brand, f.Folder, f.Name, sum)
}

// Copied is an item with the copy of it that somebody just brought in over the drive: in which folder and under which name that is.
type Copied struct {
	Asset  int64  `db:"id"`
	Copy   int64  `db:"copy"`
	Folder int64  `db:"folder"`
	Name   string `db:"file_name"`
}

// CopiedJustNow finds the items among some of which the viewer brought a copy in over the drive within SyncWithin, which is not among them
// itself: whoever removes these now has moved them.
func CopiedJustNow(ctx context.Context, r store.Reader, v *access.Viewer, ids []int64) ([]Copied, error) {
	return store.List[Copied](ctx, r, `select distinct on (a.id) a.id, c.id as copy, coalesce(c.folder_id, 0) as folder, c.file_name
		from asset a join version av on av.id = a.version_id
		join version cv on cv.brand_id = a.brand_id and cv.sha256 = av.sha256 join asset c on c.version_id = cv.id
		where a.brand_id = $1 and a.id = any($2) and c.id > a.id and c.id <> all($2) and c.binned_at is null and c.added_by = $3
		and c.added_at > now() - $4::interval and exists (select from intake_file f join intake n on n.id = f.intake_id
			where f.asset_id = c.id and f.state = 'added' and n.source = 'drive')
		order by a.id, c.id desc`, v.Brand, store.Array[int64](ids), v.Person, SyncWithin.String())
}
