package intakestore

import (
	"context"
	"database/sql"
	"encoding/json"

	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// IntakeFile is one file of an intake; it has exactly one state, so the numbers of an intake always add up.
type IntakeFile struct {
	ID           int64          `db:"id"`
	Intake       int64          `db:"intake_id"`
	Code         string         `db:"code"`
	Number       int            `db:"number"`
	Name         string         `db:"name"`
	Path         string         `db:"path"`
	Bytes        int64          `db:"bytes"`
	State        string         `db:"state"`
	Why          string         `db:"why"`
	SHA256       []byte         `db:"sha256"`
	Policy       sql.NullString `db:"policy"`
	WordsJSON    []byte         `db:"words"`
	Remote       string         `db:"remote"`
	Version      sql.NullInt64  `db:"version_id"`
	SidecarOf    sql.NullInt64  `db:"sidecar_of"`
	Replaces     sql.NullInt64  `db:"replaces"` // the item that it is to be a version of, for a file that was saved over another one
	Asset        sql.NullInt64  `db:"asset_id"`
	AssetCode    sql.NullString `db:"asset_code"`
	AssetVersion sql.NullString `db:"asset_version"`
	AssetTitle   sql.NullString `db:"asset_title"`
	AssetKind    sql.NullString `db:"asset_kind"`
	AssetBinned  sql.NullTime   `db:"asset_binned"`
	Twin         sql.NullInt64  `db:"twin"`
}

// HideAsset takes out which item a file became.
func (f *IntakeFile) HideAsset() {
	f.Asset, f.AssetCode, f.AssetVersion, f.AssetTitle, f.AssetKind = sql.NullInt64{}, sql.NullString{}, sql.NullString{},
		sql.NullString{}, sql.NullString{}
}

// Words are what was set on the file while it travelled.
func (f IntakeFile) Words() (arrival.Words, error) {
	var w arrival.Words
	err := json.Unmarshal(f.WordsJSON, &w)
	return w, err
}

// IntakeFiles lists the files of intakes in the order in which they were dropped.
func IntakeFiles(ctx context.Context, r store.Reader, intakes ...int64) ([]IntakeFile, error) {
	return store.List[IntakeFile](ctx, r, fileColumns+` where f.intake_id = any($1) order by f.intake_id, f.number, f.id`, intakes)
}

// IntakeFileByCode reads one file by the name of its upload.
func IntakeFileByCode(ctx context.Context, r store.Reader, code string) (IntakeFile, error) {
	return store.Get[IntakeFile](ctx, r, "There is no such upload.", fileColumns+` where f.code = $1`, code)
}

// IntakeFileByID reads one file.
func IntakeFileByID(ctx context.Context, r store.Reader, id int64) (IntakeFile, error) {
	return store.Get[IntakeFile](ctx, r, "There is no such file.", fileColumns+` where f.id = $1`, id)
}

// NewIntakeFile is a file of an intake that begins. Number is its place, from 1, among everything that was dropped.
// SidecarOf is the number of the picture that it joins, or 0. Code is that of its bytes where these are here already; Replaces the item
// that
// it becomes a version of, or 0.
type NewIntakeFile struct {
	Number             int
	Name, Path, Remote string
	Code               string
	Bytes              int64
	SidecarOf          int
	Replaces           int64
}

// AddIntakeFiles adds files. They wait for their bytes.
func AddIntakeFiles(ctx context.Context, tx *store.Tx, brand, intake int64, files []NewIntakeFile) error {
	names, paths, remotes, sizes, numbers := make([]string, len(files)), make([]string, len(files)), make([]string, len(files)),
		make([]int64, len(files)), make([]int64, len(files))
	codes, replaces := make([]string, len(files)), make([]int64, len(files))
	var sidecars, pictures []int64
	for i, f := range files {
		names[i], paths[i], remotes[i], sizes[i], numbers[i] = f.Name, f.Path, f.Remote, f.Bytes, int64(f.Number)
		codes[i], replaces[i] = f.Code, f.Replaces
		if f.SidecarOf > 0 {
			sidecars, pictures = append(sidecars, int64(f.Number)), append(pictures, int64(f.SidecarOf))
		}
	}
	_, err := tx.ExecContext(ctx, `insert into intake_file (brand_id, intake_id, name, path, remote, bytes, number, code, replaces)
		select $1, $2, name, path, remote, bytes, number, coalesce(nullif(code, ''), new_code()), nullif(replaces, 0)
		from unnest($3::text[], $4::text[], $5::text[], $6::bigint[], $7::bigint[], $8::text[], $9::bigint[])
			as f(name, path, remote, bytes, number, code, replaces) order by number`,
		brand, intake, names, paths, remotes, sizes, numbers, codes, replaces)
	if err != nil || len(sidecars) == 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, `update intake_file f set sidecar_of = p.id from unnest($2::bigint[], $3::bigint[]) as x(sidecar, picture)
		join intake_file p on p.intake_id = $1 and p.number = x.picture where f.intake_id = $1 and f.number = x.sidecar`, intake,
		sidecars, pictures)
	return err
}

// FilesArrived notes that the bytes of all files of an intake that wait are at hand, and returns the ids of those files.
func FilesArrived(ctx context.Context, tx *store.Tx, intake int64) ([]int64, error) {
	return store.List[int64](ctx, tx, `update intake_file set state = 'arrived' where intake_id = $1 and state = 'waiting' returning id`,
		intake,
	)
}

// SetSum notes the SHA-256 and the size of a file, in bytes.
func SetSum(ctx context.Context, tx *store.Tx, id int64, sum []byte, bytes int64) error {
	_, err := tx.ExecContext(ctx, `update intake_file set sha256 = $2, bytes = $3 where id = $1 and (sha256, bytes) is distinct
		from ($2, $3)`, id, sum, bytes)
	return err
}

// SetWords writes what was set on files, by their ids.
func SetWords(ctx context.Context, tx *store.Tx, words map[int64]arrival.Words) error {
	ids, texts := make([]int64, 0, len(words)), make([]string, 0, len(words))
	for id, w := range words {
		text, err := json.Marshal(w)
		if err != nil {
			return err
		}
		ids, texts = append(ids, id), append(texts, string(text))
	}
	_, err := tx.ExecContext(ctx, `update intake_file f set words = x.words::jsonb from unnest($1::bigint[], $2::text[]) as x(id, words)
		where f.id = x.id`, ids, texts)
	return err
}

// SetFilePolicy chooses what is done with one file if it is a duplicate.
func SetFilePolicy(ctx context.Context, tx *store.Tx, id int64, policy string) error {
	_, err := tx.ExecContext(ctx, `update intake_file set policy = $2 where id = $1`, id, policy)
	return err
}

// ReopenFile sets a file that has its outcome back to arrived, so that it is taken anew.
func ReopenFile(ctx context.Context, tx *store.Tx, f IntakeFile) error {
	if _, err := tx.ExecContext(ctx, `update intake_file set state = 'arrived', why = '', asset_id = null, version_id = null
		where id = $1`, f.ID); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update intake set finished_at = null where id = $1`, f.Intake)
	return err
}

// ChangeOutcome replaces the outcome of a file that has one.
func ChangeOutcome(ctx context.Context, tx *store.Tx, id int64, state, why string, asset int64) error {
	_, err := tx.ExecContext(ctx, `update intake_file set state = $2, why = $3, asset_id = nullif($4::bigint, 0), version_id = null
		where id = $1`, id, state, why, asset)
	return err
}

// AddedIn lists the items that an intake added, with the name and folder path of their files, for those of one stem.
func AddedIn(ctx context.Context, r store.Reader, intake int64, path, stem string) ([]IntakeFile, error) {
	return store.List[IntakeFile](ctx, r, fileColumns+` where f.intake_id = $1 and f.state = 'added' and f.path = $2
		and lower(regexp_replace(f.name, '\.[^.]*$', '')) = $3 order by f.id`, intake, path, stem)
}

// LockStem makes the files of one name, whatever their endings, in one folder of an intake wait for each other.
func LockStem(ctx context.Context, tx *store.Tx, intake int64, path, stem string) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(-$1::int, hashtext($2))`, intake, path+"/"+stem)
	return err
}

// FileArrived notes that all bytes of a file are here; it says false when that was known, or the file was cancelled.
func FileArrived(ctx context.Context, tx *store.Tx, id int64) (bool, error) {
	n, err := tx.Change(ctx, `update intake_file set state = 'arrived' where id = $1 and state = 'waiting'`, id)
	return n > 0, err
}

// Outcome is what came of a file.
type Outcome struct {
	State   arrival.State
	Why     string
	Asset   int64 // what was added or got a version, or the duplicate; 0 is none
	Version int64
}

// SettleFile writes the outcome of a file once; it says false when the file has one already. The last file to be settled
// finishes the intake.
func SettleFile(ctx context.Context, tx *store.Tx, f IntakeFile, o Outcome) (bool, error) {
	n, err := tx.Change(ctx, `update intake_file set state = $2, why = $3, asset_id = nullif($4::bigint, 0),
		version_id = nullif($5::bigint, 0)
		where id = $1 and state in ('waiting', 'arrived')`, f.ID, string(o.State), o.Why, o.Asset, o.Version)
	if err != nil || n == 0 {
		return false, err
	}
	if f.Remote == FromDrive {
		if err := drivestore.DriveFileSettled(ctx, tx, drivestore.DriveArrival{Code: f.Code, Name: f.Name, Intake: f.Intake, Asset: o.Asset,
			State: o.State, Why: o.Why}); err != nil {
			return false, err
		}
	}
	return true, finishIntake(ctx, tx, f.Intake)
}

// FromDrive is where files come from that were copied onto the drive.
const FromDrive = "drive"

func finishIntake(ctx context.Context, tx *store.Tx, intake int64) error {
	// The row lock makes two last files wait for each other, so that one of them sees the other's outcome.
	if _, err := tx.ExecContext(ctx, `select from intake where id = $1 for no key update`, intake); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update intake set finished_at = now() where id = $1 and finished_at is null
		and not exists (select from intake_file where intake_id = $1 and state in ('waiting', 'arrived'))`, intake)
	return err
}

// WaitingFiles lists the codes of all files that wait for bytes, so that a server that starts can look what arrived.
func WaitingFiles(ctx context.Context, r store.Reader) ([]string, error) {
	return store.List[string](ctx, r, `select code from intake_file where state = 'waiting'`)
}

// LockIntakeFiles reads the files of an intake and keeps others from settling them until the end of the transaction.
func LockIntakeFiles(ctx context.Context, tx *store.Tx, intake int64) ([]IntakeFile, error) {
	if _, err := tx.ExecContext(ctx, `select from intake_file where intake_id = $1 order by id for no key update`, intake); err != nil {
		return nil, err
	}
	return IntakeFiles(ctx, tx, intake)
}

// LockIntakeFile reads one file of an intake by its code and keeps others from settling it.
func LockIntakeFile(ctx context.Context, tx *store.Tx, code string) (IntakeFile, error) {
	if _, err := tx.ExecContext(ctx, `select from intake_file where code = $1 for no key update`, code); err != nil {
		return IntakeFile{}, err
	}
	return IntakeFileByCode(ctx, tx, code)
}

// PlaceInIntake is which of the files of an intake one is, from 1, and of how many. Sidecars do not count.
func PlaceInIntake(ctx context.Context, r store.Reader, f IntakeFile) (place, of int, err error) {
	row, err := store.Get[struct {
		Place int `db:"place"`
		Of    int `db:"of"`
	}](ctx, r, "", `select count(*) filter (where (number, id) <= ($2, $3)) as place, count(*) as of from intake_file
		where intake_id = $1 and sidecar_of is null`, f.Intake, f.Number, f.ID)
	return row.Place, row.Of, err
}

const fileColumns = `select f.id, f.intake_id, f.code, f.number, f.name, f.path, f.bytes, f.state, f.why, f.sha256, f.policy, f.words,
	f.remote, f.version_id, f.sidecar_of, f.replaces, f.asset_id,
	a.code as asset_code, picture_version(v.code, a.recipe_hash) as asset_version, coalesce(nullif(a.title, ''),
	a.file_name) as asset_title,
	a.kind as asset_kind, a.binned_at as asset_binned,
	(select t.other_id from twin t where t.asset_id = f.asset_id and t.state = 'open' and f.state = 'added'
	order by t.distance limit 1) as twin
	from intake_file f left join asset a on a.id = f.asset_id left join version v on v.id = a.version_id`
