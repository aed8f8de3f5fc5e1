package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
)

// Intake is one batch that was brought in.
type Intake struct {
	ID           int64          `db:"id"`
	Brand        int64          `db:"brand_id"`
	Code         string         `db:"code"`
	Person       int64          `db:"person_id"`
	By           string         `db:"by"`
	Folder       sql.NullInt64  `db:"folder_id"`
	FolderName   sql.NullString `db:"folder_name"`
	Album        sql.NullInt64  `db:"album_id"`
	AlbumName    sql.NullString `db:"album_name"`
	Trail        sql.NullInt64  `db:"trail_id"`
	Started      time.Time      `db:"started_at"`
	Finished     sql.NullTime   `db:"finished_at"`
	Source       string         `db:"source"`
	SourceName   string         `db:"source_name"`
	Outlet       sql.NullInt64  `db:"outlet_id"`
	ServerFolder sql.NullInt64  `db:"server_folder_id"`
	ServerPath   sql.NullString `db:"server_path"`
	Leave        bool           `db:"leave"`
	Policy       string         `db:"policy"`
	Paused       bool           `db:"paused"`
	Ahead        sql.NullTime   `db:"ahead_at"`
	LeftOut      int            `db:"left_out"`
}

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
	Asset        sql.NullInt64  `db:"asset_id"`
	AssetCode    sql.NullString `db:"asset_code"`
	AssetVersion sql.NullString `db:"asset_version"`
	AssetTitle   sql.NullString `db:"asset_title"`
	AssetKind    sql.NullString `db:"asset_kind"`
	AssetBinned  sql.NullTime   `db:"asset_binned"`
	Twin         sql.NullInt64  `db:"twin"`
}

// Words are what was set on the file while it travelled.
func (f IntakeFile) Words() (arrival.Words, error) {
	var w arrival.Words
	err := json.Unmarshal(f.WordsJSON, &w)
	return w, err
}

const intakeColumns = `select i.id, i.brand_id, i.code, i.person_id, p.name as by, i.folder_id, f.name as folder_name, i.album_id, al.name as album_name, i.trail_id,
	i.started_at, i.finished_at, i.source, i.source_name, i.outlet_id, i.server_folder_id, sf.path as server_path, i.leave, i.policy, i.paused, i.ahead_at, i.left_out
	from intake i join person p on p.id = i.person_id left join folder f on f.id = i.folder_id left join album al on al.id = i.album_id
	left join server_folder sf on sf.id = i.server_folder_id`

const fileColumns = `select f.id, f.intake_id, f.code, f.number, f.name, f.path, f.bytes, f.state, f.why, f.sha256, f.policy, f.words, f.remote, f.version_id, f.sidecar_of, f.asset_id,
	a.code as asset_code, v.code || case when a.turn = 0 then '' else '-' || a.turn end as asset_version, coalesce(nullif(a.title, ''), a.file_name) as asset_title,
	a.kind as asset_kind, a.binned_at as asset_binned,
	(select t.other_id from twin t where t.asset_id = f.asset_id and t.state = 'open' and f.state = 'added' order by t.distance limit 1) as twin
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
	return list[IntakeFile](ctx, r, fileColumns+` where f.intake_id = any($1) order by f.intake_id, f.number, f.id`, intakes)
}

// IntakeFileByCode reads one file by the name of its upload.
func IntakeFileByCode(ctx context.Context, r Reader, code string) (IntakeFile, error) {
	return get[IntakeFile](ctx, r, "There is no such upload.", fileColumns+` where f.code = $1`, code)
}

// IntakeFileByID reads one file.
func IntakeFileByID(ctx context.Context, r Reader, id int64) (IntakeFile, error) {
	return get[IntakeFile](ctx, r, "There is no such file.", fileColumns+` where f.id = $1`, id)
}

// NewIntake is an intake that begins. Ids that are 0 are none.
type NewIntake struct {
	Brand, Person, Folder, Album, Trail int64
	Source, SourceName                  string
	Outlet, ServerFolder                int64
	Leave                               bool
	Policy                              string
	LeftOut                             int
}

// AddIntake makes an intake and returns its id.
func (tx *Tx) AddIntake(ctx context.Context, n NewIntake) (int64, error) {
	return get[int64](ctx, tx, "", `insert into intake (brand_id, person_id, folder_id, album_id, trail_id, source, source_name, outlet_id, server_folder_id, leave, policy, left_out)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), $5, $6, $7, nullif($8::bigint, 0), nullif($9::bigint, 0), $10, $11, $12) returning id`,
		n.Brand, n.Person, n.Folder, n.Album, n.Trail, n.Source, n.SourceName, n.Outlet, n.ServerFolder, n.Leave, n.Policy, n.LeftOut)
}

// NewIntakeFile is a file of an intake that begins. Number is its place, from 1, among everything that was dropped.
// SidecarOf is the number of the picture that it joins, or 0.
type NewIntakeFile struct {
	Number             int
	Name, Path, Remote string
	Bytes              int64
	SidecarOf          int
}

// AddIntakeFiles adds files. They wait for their bytes.
func (tx *Tx) AddIntakeFiles(ctx context.Context, brand, intake int64, files []NewIntakeFile) error {
	names, paths, remotes, sizes, numbers := make([]string, len(files)), make([]string, len(files)), make([]string, len(files)), make([]int64, len(files)), make([]int64, len(files))
	var sidecars, pictures []int64
	for i, f := range files {
		names[i], paths[i], remotes[i], sizes[i], numbers[i] = f.Name, f.Path, f.Remote, f.Bytes, int64(f.Number)
		if f.SidecarOf > 0 {
			sidecars, pictures = append(sidecars, int64(f.Number)), append(pictures, int64(f.SidecarOf))
		}
	}
	_, err := tx.ExecContext(ctx, `insert into intake_file (brand_id, intake_id, name, path, remote, bytes, number)
		select $1, $2, name, path, remote, bytes, number from unnest($3::text[], $4::text[], $5::text[], $6::bigint[], $7::bigint[]) as f(name, path, remote, bytes, number) order by number`,
		brand, intake, names, paths, remotes, sizes, numbers)
	if err != nil || len(sidecars) == 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, `update intake_file f set sidecar_of = p.id from unnest($2::bigint[], $3::bigint[]) as x(sidecar, picture)
		join intake_file p on p.intake_id = $1 and p.number = x.picture where f.intake_id = $1 and f.number = x.sidecar`, intake, sidecars, pictures)
	return err
}

// FilesArrived notes that the bytes of all files of an intake that wait are at hand, and returns the ids of those files.
func (tx *Tx) FilesArrived(ctx context.Context, intake int64) ([]int64, error) {
	return list[int64](ctx, tx, `update intake_file set state = 'arrived' where intake_id = $1 and state = 'waiting' returning id`, intake)
}

// SetSum notes the SHA-256 and the size of a file, in bytes.
func (tx *Tx) SetSum(ctx context.Context, id int64, sum []byte, bytes int64) error {
	_, err := tx.ExecContext(ctx, `update intake_file set sha256 = $2, bytes = $3 where id = $1 and (sha256, bytes) is distinct from ($2, $3)`, id, sum, bytes)
	return err
}

// SetWords writes what was set on files, by their ids.
func (tx *Tx) SetWords(ctx context.Context, words map[int64]arrival.Words) error {
	ids, texts := make([]int64, 0, len(words)), make([]string, 0, len(words))
	for id, w := range words {
		text, err := json.Marshal(w)
		if err != nil {
			return err
		}
		ids, texts = append(ids, id), append(texts, string(text))
	}
	_, err := tx.ExecContext(ctx, `update intake_file f set words = x.words::jsonb from unnest($1::bigint[], $2::text[]) as x(id, words) where f.id = x.id`, ids, texts)
	return err
}

// SetFilePolicy chooses what is done with one file if it is a duplicate.
func (tx *Tx) SetFilePolicy(ctx context.Context, id int64, policy string) error {
	_, err := tx.ExecContext(ctx, `update intake_file set policy = $2 where id = $1`, id, policy)
	return err
}

// ReopenFile sets a file that has its outcome back to arrived, so that it is taken anew.
func (tx *Tx) ReopenFile(ctx context.Context, f IntakeFile) error {
	if _, err := tx.ExecContext(ctx, `update intake_file set state = 'arrived', why = '', asset_id = null, version_id = null where id = $1`, f.ID); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update intake set finished_at = null where id = $1`, f.Intake)
	return err
}

// ChangeOutcome replaces the outcome of a file that has one.
func (tx *Tx) ChangeOutcome(ctx context.Context, id int64, state, why string, asset int64) error {
	_, err := tx.ExecContext(ctx, `update intake_file set state = $2, why = $3, asset_id = nullif($4::bigint, 0), version_id = null where id = $1`, id, state, why, asset)
	return err
}

// IntakeChange is what can be changed on an intake; a nil field stays.
type IntakeChange struct {
	Paused *bool
	Policy *string
	Ahead  bool
	Folder *int64 // 0 is Unfiled
}

// ChangeIntake writes a change to an intake. One that is moved ahead is taken before all others.
func (tx *Tx) ChangeIntake(ctx context.Context, id int64, c IntakeChange) error {
	_, err := tx.ExecContext(ctx, `update intake set paused = coalesce($2, paused), policy = coalesce($3, policy), ahead_at = case when $4 then now() else ahead_at end,
		folder_id = case when $5 then nullif($6::bigint, 0) else folder_id end where id = $1`,
		id, c.Paused, c.Policy, c.Ahead, c.Folder != nil, c.Folder)
	if err != nil || !c.Ahead {
		return err
	}
	_, err = tx.ExecContext(ctx, `update river_job set priority = 1 where kind in ('bring_in_file', 'fetch_file') and state in ('available', 'scheduled', 'retryable')
		and (args->>'file')::bigint in (select id from intake_file where intake_id = $1)`, id)
	return err
}

// IntakeStates counts the files of intakes by state.
func IntakeStates(ctx context.Context, r Reader, intakes []int64) (map[int64]map[arrival.State]int, error) {
	rows, err := list[struct {
		Intake int64  `db:"intake_id"`
		State  string `db:"state"`
		N      int    `db:"n"`
	}](ctx, r, `select intake_id, state, count(*) as n from intake_file where intake_id = any($1) group by 1, 2`, intakes)
	out := map[int64]map[arrival.State]int{}
	for _, row := range rows {
		if out[row.Intake] == nil {
			out[row.Intake] = map[arrival.State]int{}
		}
		out[row.Intake][arrival.State(row.State)] = row.N
	}
	return out, err
}

// AddedIn lists the items that an intake added, with the name and folder path of their files, for those of one stem.
func AddedIn(ctx context.Context, r Reader, intake int64, path, stem string) ([]IntakeFile, error) {
	return list[IntakeFile](ctx, r, fileColumns+` where f.intake_id = $1 and f.state = 'added' and f.path = $2 and lower(regexp_replace(f.name, '\.[^.]*$', '')) = $3 order by f.id`, intake, path, stem)
}

// LockStem makes the files of one name, whatever their endings, in one folder of an intake wait for each other.
func (tx *Tx) LockStem(ctx context.Context, intake int64, path, stem string) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(-$1::int, hashtext($2))`, intake, path+"/"+stem)
	return err
}

// RecentTargets lists the folders that a person brought into last, the latest first.
func RecentTargets(ctx context.Context, r Reader, brand, person int64) ([]int64, error) {
	return list[int64](ctx, r, `select folder_id from intake where brand_id = $1 and person_id = $2 and folder_id is not null group by folder_id order by max(id) desc limit 6`, brand, person)
}

// UndoIntake puts what an intake added into the bin, makes items that got a new version show the one before, and removes
// the folders that it made where they are empty. It returns how many items that were.
func (tx *Tx) UndoIntake(ctx context.Context, trail int64) (int, error) {
	res, err := tx.ExecContext(ctx, `update asset a set binned_at = now() from intake_file f join intake i on i.id = f.intake_id
		where i.trail_id = $1 and f.state = 'added' and a.id = f.asset_id and a.binned_at is null`, trail)
	if err != nil {
		return 0, err
	}
	n := affected(res)
	versions, err := list[IntakeFile](ctx, tx, fileColumns+` join intake i on i.id = f.intake_id where i.trail_id = $1 and f.state = 'version' order by f.id desc`, trail)
	if err != nil {
		return 0, err
	}
	for _, f := range versions {
		back, err := tx.EarlierVersion(ctx, f.Asset.Int64, f.Version.Int64)
		if err != nil {
			return 0, err
		}
		if back {
			n++
		}
	}
	made, err := list[int64](ctx, tx, `select (key->>'id')::bigint from trail_change where trail_id = $1 and table_name = 'folder' and before is null order by id desc`, trail)
	if err != nil {
		return 0, err
	}
	for _, id := range made {
		// Items in the bin remember the folder that they were in, so only folders that never held any go.
		if _, err := tx.ExecContext(ctx, `delete from folder f where id = $1 and not exists (select from asset where folder_id = f.id)
			and not exists (select from folder where parent_id = f.id)`, id); err != nil {
			return 0, err
		}
	}
	return n, nil
}

// FileArrived notes that all bytes of a file are here; it says false when that was known, or the file was cancelled.
func (tx *Tx) FileArrived(ctx context.Context, id int64) (bool, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = 'arrived' where id = $1 and state = 'waiting'`, id)
	if err != nil {
		return false, err
	}
	return affected(res) == 1, nil
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
func (tx *Tx) SettleFile(ctx context.Context, f IntakeFile, o Outcome) (bool, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = $2, why = $3, asset_id = nullif($4::bigint, 0), version_id = nullif($5::bigint, 0)
		where id = $1 and state in ('waiting', 'arrived')`, f.ID, string(o.State), o.Why, o.Asset, o.Version)
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

// CancelIntake cancels the files of an intake that are not being taken yet, and returns how many those were: the ones
// whose bytes are not here, and of an intake that needs none from a browser all that have no outcome.
func (tx *Tx) CancelIntake(ctx context.Context, intake int64) (int, error) {
	res, err := tx.ExecContext(ctx, `update intake_file set state = 'cancelled' where intake_id = $1 and (state = 'waiting' or state = 'arrived'
		and exists (select from intake where id = $1 and source <> 'upload'))`, intake)
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
