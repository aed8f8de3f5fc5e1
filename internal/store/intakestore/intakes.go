// Package intakestore keeps what is brought in: intakes with their files, and the folders of the server that are watched.
package intakestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
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

const intakeColumns = `select i.id, i.brand_id, i.code, i.person_id, p.name as by, i.folder_id, f.name as folder_name, i.album_id,
	al.name as album_name, i.trail_id,
	i.started_at, i.finished_at, i.source, i.source_name, i.outlet_id, i.server_folder_id, sf.path as server_path, i.leave, i.policy,
	i.paused, i.ahead_at, i.left_out
	from intake i join person p on p.id = i.person_id left join folder f on f.id = i.folder_id left join album al on al.id = i.album_id
	left join server_folder sf on sf.id = i.server_folder_id`

// Intakes lists the last intakes, newest first: all of the brand for who may look everywhere, else one's own.
func Intakes(ctx context.Context, r store.Reader, v *access.Viewer, limit int) ([]Intake, error) {
	return store.List[Intake](ctx, r, intakeColumns+` where i.brand_id = $1 and ($2 or i.person_id = $3) order by i.id desc limit $4`,
		v.Brand, v.May(access.Look).All, v.Person, limit)
}

// IntakeByID reads one intake of a brand.
func IntakeByID(ctx context.Context, r store.Reader, brand, id int64) (Intake, error) {
	return store.Get[Intake](ctx, r, "That intake is not there.", intakeColumns+` where i.brand_id = $1 and i.id = $2`, brand, id)
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
func AddIntake(ctx context.Context, tx *store.Tx, n NewIntake) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into intake (brand_id, person_id, folder_id, album_id, trail_id, source, source_name,
		outlet_id, server_folder_id, leave, policy, left_out)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), $5, $6, $7, nullif($8::bigint, 0), nullif($9::bigint, 0), $10,
		$11, $12) returning id`,
		n.Brand, n.Person, n.Folder, n.Album, n.Trail, n.Source, n.SourceName, n.Outlet, n.ServerFolder, n.Leave, n.Policy, n.LeftOut)
}

// IntakeChange is what can be changed on an intake; a nil field stays.
type IntakeChange struct {
	Paused *bool
	Policy *string
	Ahead  bool
	Folder *int64 // 0 is Unfiled
}

// ChangeIntake writes a change to an intake. One that is moved ahead is taken before all others.
func ChangeIntake(ctx context.Context, tx *store.Tx, id int64, c IntakeChange) error {
	_, err := tx.ExecContext(ctx, `update intake set paused = coalesce($2, paused), policy = coalesce($3, policy),
		ahead_at = case when $4 then now() else ahead_at end,
		folder_id = case when $5 then nullif($6::bigint, 0) else folder_id end where id = $1`,
		id, c.Paused, c.Policy, c.Ahead, c.Folder != nil, c.Folder)
	if err != nil || !c.Ahead {
		return err
	}
	_, err = tx.ExecContext(ctx, `update river_job set priority = 1 where kind in ('bring_in_file', 'fetch_file')
		and state in ('available', 'scheduled', 'retryable')
		and (args->>'file')::bigint in (select id from intake_file where intake_id = $1)`, id)
	return err
}

// IntakeStates counts the files of intakes by state.
func IntakeStates(ctx context.Context, r store.Reader, intakes []int64) (map[int64]map[arrival.State]int, error) {
	rows, err := store.List[struct {
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

// RecentTargets lists the folders that a person brought into last, the latest first.
func RecentTargets(ctx context.Context, r store.Reader, brand, person int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select folder_id from intake where brand_id = $1 and person_id = $2 and folder_id is not null
		group by folder_id order by max(id) desc limit 6`, brand, person)
}

// UndoIntake puts what an intake added into the bin, makes items that got a new version show the one before, and removes
// the folders that it made where they are empty. It returns how many items that were.
func UndoIntake(ctx context.Context, tx *store.Tx, trail int64) (int, error) {
	n, err := tx.Change(ctx, `update asset a set binned_at = now() from intake_file f join intake i on i.id = f.intake_id
		where i.trail_id = $1 and f.state = 'added' and a.id = f.asset_id and a.binned_at is null`, trail)
	if err != nil {
		return 0, err
	}
	versions, err := store.List[IntakeFile](ctx, tx, fileColumns+` join intake i on i.id = f.intake_id where i.trail_id = $1
		and f.state = 'version' order by f.id desc`, trail)
	if err != nil {
		return 0, err
	}
	for _, f := range versions {
		back, err := assetstore.EarlierVersion(ctx, tx, f.Asset.Int64, f.Version.Int64)
		if err != nil {
			return 0, err
		}
		if back {
			n++
		}
	}
	made, err := store.List[int64](ctx, tx, `select (key->>'id')::bigint from trail_change where trail_id = $1 and table_name = 'folder'
		and before is null order by id desc`, trail)
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

// CancelIntake cancels the files of an intake that are not being taken yet, and returns how many those were: the ones
// whose bytes are not here, and of an intake that needs none from a browser all that have no outcome.
func CancelIntake(ctx context.Context, tx *store.Tx, intake int64) (int, error) {
	n, err := tx.Change(ctx, `update intake_file set state = 'cancelled' where intake_id = $1 and (state = 'waiting' or state = 'arrived'
		and exists (select from intake where id = $1 and source <> 'upload'))`, intake)
	if err != nil {
		return 0, err
	}
	return n, finishIntake(ctx, tx, intake)
}

// IntakeFileIntake reads the intake that a file belongs to, for the machine.
func IntakeFileIntake(ctx context.Context, r store.Reader, f IntakeFile) (Intake, error) {
	return store.Get[Intake](ctx, r, "That intake is not there.", intakeColumns+` where i.id = $1`, f.Intake)
}
