package store

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/access"
)

// Intake is one batch that was brought in.
type Intake struct {
	ID         int64          `db:"id"`
	Brand      int64          `db:"brand_id"`
	Code       string         `db:"code"`
	Person     int64          `db:"person_id"`
	By         string         `db:"by"`
	Folder     sql.NullInt64  `db:"folder_id"`
	FolderName sql.NullString `db:"folder_name"`
	Album      sql.NullInt64  `db:"album_id"`
	Trail      sql.NullInt64  `db:"trail_id"`
	Started    time.Time      `db:"started_at"`
	Finished   sql.NullTime   `db:"finished_at"`
}

// IntakeFile is one file of an intake; it has exactly one state, so the numbers of an intake always add up.
type IntakeFile struct {
	ID           int64          `db:"id"`
	Intake       int64          `db:"intake_id"`
	Code         string         `db:"code"`
	Name         string         `db:"name"`
	Path         string         `db:"path"`
	Bytes        int64          `db:"bytes"`
	State        string         `db:"state"`
	Why          string         `db:"why"`
	Asset        sql.NullInt64  `db:"asset_id"`
	AssetCode    sql.NullString `db:"asset_code"`
	AssetVersion sql.NullString `db:"asset_version"`
}

const intakeColumns = `select i.id, i.brand_id, i.code, i.person_id, p.name as by, i.folder_id, f.name as folder_name, i.album_id, i.trail_id, i.started_at, i.finished_at
	from intake i join person p on p.id = i.person_id left join folder f on f.id = i.folder_id`

const fileColumns = `select f.id, f.intake_id, f.code, f.name, f.path, f.bytes, f.state, f.why, f.asset_id, a.code as asset_code, v.code as asset_version
	from intake_file f left join asset a on a.id = f.asset_id left join version v on v.id = a.version_id`

// Intakes lists the last intakes, newest first: all of the brand for who may look everywhere, else one's own.
func Intakes(ctx context.Context, r Reader, v *access.Viewer, limit int) ([]Intake, error) {
	return list[Intake](ctx, r, intakeColumns+` where i.brand_id = $1 and ($2 or i.person_id = $3) order by i.id desc limit $4`, v.Brand, v.May(access.Look).All, v.Person, limit)
}

// IntakeByID reads one intake of a brand.
func IntakeByID(ctx context.Context, r Reader, brand, id int64) (Intake, error) {
	return get[Intake](ctx, r, "That intake is not there.", intakeColumns+` where i.brand_id = $1 and i.id = $2`, brand, id)
}

// IntakeFiles lists the files of intakes in the order in which they were dropped.
func IntakeFiles(ctx context.Context, r Reader, intakes ...int64) ([]IntakeFile, error) {
	return list[IntakeFile](ctx, r, fileColumns+` where f.intake_id = any($1) order by f.id`, intakes)
}

// IntakeFileByCode reads one file by the name of its upload.
func IntakeFileByCode(ctx context.Context, r Reader, code string) (IntakeFile, error) {
	return get[IntakeFile](ctx, r, "There is no such upload.", fileColumns+` where f.code = $1`, code)
}

// IntakeFileByID reads one file.
func IntakeFileByID(ctx context.Context, r Reader, id int64) (IntakeFile, error) {
	return get[IntakeFile](ctx, r, "There is no such file.", fileColumns+` where f.id = $1`, id)
}

// AddIntake makes an intake and returns its id.
func (tx *Tx) AddIntake(ctx context.Context, brand, person, folder, album, trail int64) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into intake (brand_id, person_id, folder_id, album_id, trail_id)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), $5) returning id`, brand, person, folder, album, trail)
	return id, err
}

// AddIntakeFile adds a file that waits for its bytes.
func (tx *Tx) AddIntakeFile(ctx context.Context, brand, intake int64, name, path string, bytes int64) error {
	_, err := tx.ExecContext(ctx, `insert into intake_file (brand_id, intake_id, name, path, bytes) values ($1, $2, $3, $4, $5)`, brand, intake, name, path, bytes)
	return err
}

// FileArrived notes that all bytes of a file are here; it says false when that was known, or the file was cancelled.
func (tx *Tx) FileArrived(ctx context.Context, id int64) (bool, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = 'arrived' where id = $1 and state = 'waiting'`, id)
	if err != nil {
		return false, err
	}
	return affected(res) == 1, nil
}

// SettleFile writes the outcome of a file once; it says false when the file has one already. The last file to be settled
// finishes the intake.
func (tx *Tx) SettleFile(ctx context.Context, f IntakeFile, state, why string, asset int64) (bool, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = $2, why = $3, asset_id = nullif($4::bigint, 0) where id = $1 and state in ('waiting', 'arrived')`, f.ID, state, why, asset)
	if err != nil || affected(res) == 0 {
		return false, err
	}
	return true, tx.finishIntake(ctx, f.Intake)
}

func (tx *Tx) finishIntake(ctx context.Context, intake int64) error {
	// The row lock makes two last files wait for each other, so that one of them sees the other's outcome.
	if _, err := tx.ExecContext(ctx, `select from intake where id = $1 for update`, intake); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update intake set finished_at = now() where id = $1 and finished_at is null
		and not exists (select from intake_file where intake_id = $1 and state in ('waiting', 'arrived'))`, intake)
	return err
}

// CancelIntake cancels the files of an intake whose bytes are not here yet, and returns how many those were.
func (tx *Tx) CancelIntake(ctx context.Context, intake int64) (int, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = 'cancelled' where intake_id = $1 and state = 'waiting'`, intake)
	if err != nil {
		return 0, err
	}
	return affected(res), tx.finishIntake(ctx, intake)
}

// WaitingFiles lists the codes of all files that wait for bytes, so that a server that starts can look what arrived.
func WaitingFiles(ctx context.Context, r Reader) ([]string, error) {
	return list[string](ctx, r, `select code from intake_file where state = 'waiting'`)
}

// IntakeFileIntake reads the intake that a file belongs to, for the machine.
func IntakeFileIntake(ctx context.Context, r Reader, f IntakeFile) (Intake, error) {
	return get[Intake](ctx, r, "That intake is not there.", intakeColumns+` where i.id = $1`, f.Intake)
}
