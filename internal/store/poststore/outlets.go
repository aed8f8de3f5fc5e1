package poststore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Outlet is an account somewhere outside where media is shown, and can be taken over from.
type Outlet struct {
	ID       int64        `db:"id"`
	Brand    int64        `db:"brand_id"`
	Code     string       `db:"code"`
	Kind     string       `db:"kind"`
	Name     string       `db:"name"`
	Address  string       `db:"address"`
	Account  string       `db:"account"` // whose it is there, or "" where that is not known
	Standing string       `db:"standing"`
	Trouble  string       `db:"trouble"`  // what went wrong when it was asked last
	Asked    sql.NullTime `db:"asked_at"` // when it was asked last
	Items    int          `db:"items"`    // how many items came from it
	Copied   bool         `db:"copied"`   // what is the brand's own there is copied here as it appears
	CopiedBy int64        `db:"copied_by"`
}

// How a connection stands: it is used, or it has to be connected again.
const (
	Connected    = "connected"
	ConnectAgain = "again"
)

const outletColumns = `select o.id, o.brand_id, o.code, o.kind, o.name, o.address, o.account, o.standing, o.trouble, o.asked_at, o.copied,
	coalesce(o.copied_by, 0) as copied_by,
	(select count(*) from asset_origin x join asset a on a.id = x.asset_id where x.outlet_id = o.id
	and a.binned_at is null)::int as items from outlet o`

// Outlets lists the outlets of a brand by name.
func Outlets(ctx context.Context, r store.Reader, brand int64) ([]Outlet, error) {
	return store.List[Outlet](ctx, r, outletColumns+` where o.brand_id = $1 order by o.name collate natural_name, o.id`, brand)
}

// OutletByID reads one outlet of a brand.
func OutletByID(ctx context.Context, r store.Reader, brand, id int64) (Outlet, error) {
	return store.Get[Outlet](ctx, r, "That outlet is not connected any more.", outletColumns+` where o.brand_id = $1 and o.id = $2`, brand, id)
}

// CopyOutlet has what is the brand's own at an outlet copied here as it appears, in the name of somebody, or ends that.
func CopyOutlet(ctx context.Context, tx *store.Tx, brand, id, person int64, on bool) error {
	n, err := tx.Change(ctx, `update outlet set copied = $4, copied_by = nullif($3::bigint, 0), copied_at = null where brand_id = $1 and id =
		$2`,
		brand, id, person, on)
	if err == nil && n == 0 {
		return fault.NotFoundf("That outlet is not connected any more.")
	}
	return err
}

// OutletsToCopy lists the outlets that were not copied for so many seconds, and notes that they are now.
func OutletsToCopy(ctx context.Context, tx *store.Tx, seconds float64) ([]int64, error) {
	return store.List[int64](ctx, tx, `update outlet set copied_at = now() where copied and standing = 'connected'
		and (copied_at is null or copied_at < now() - make_interval(secs => $1)) returning id`, seconds)
}

// OnTheWay are the ids of media of an outlet that are being fetched.
func OnTheWay(ctx context.Context, r store.Reader, outlet int64) ([]string, error) {
	return store.List[string](ctx, r, `select f.remote::jsonb->>'id' from intake_file f join intake i on i.id = f.intake_id
		where i.outlet_id = $1 and f.state = 'waiting' and f.remote <> ''`, outlet)
}

// AnyOutlet reads an outlet of any brand.
func AnyOutlet(ctx context.Context, r store.Reader, id int64) (Outlet, error) {
	return store.Get[Outlet](ctx, r, "That outlet is not connected any more.", outletColumns+` where o.id = $1`, id)
}

// OutletByCode reads an outlet by its code.
func OutletByCode(ctx context.Context, r store.Reader, code string) (Outlet, error) {
	return store.Get[Outlet](ctx, r, "That outlet is not connected any more.", outletColumns+` where o.code = $1`, code)
}

// AddOutlet connects an account, or finds the one that was connected before, and returns its id.
func AddOutlet(ctx context.Context, tx *store.Tx, o Outlet) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into outlet (brand_id, kind, name, address, account) values ($1, $2, $3, $4, $5)
		on conflict (brand_id, kind, account) where account <> '' do update set address = excluded.address, standing = 'connected', trouble = ''
		returning id`, o.Brand, o.Kind, o.Name, o.Address, o.Account)
}

// OutletSecret reads what is kept sealed of an outlet.
func OutletSecret(ctx context.Context, r store.Reader, id int64) ([]byte, error) {
	return store.Get[[]byte](ctx, r, "That outlet is not connected any more.", `select coalesce(secret, '') from outlet where id = $1`, id)
}

// KeepSecret is the same, and keeps it as it is until the transaction ends.
func KeepSecret(ctx context.Context, tx *store.Tx, id int64) ([]byte, error) {
	return store.Get[[]byte](ctx, tx, "That outlet is not connected any more.",
		`select coalesce(secret, '') from outlet where id = $1 for update`, id)
}

// SaveSecret writes down what is kept sealed of an outlet, which is connected with it.
func SaveSecret(ctx context.Context, tx *store.Tx, id int64, sealed []byte) error {
	_, err := tx.ExecContext(ctx, `update outlet set secret = $2, token = '', standing = 'connected' where id = $1`, id, sealed)
	return err
}

// OutletSecrets lists what is kept of all outlets, and keeps it as it is until the transaction ends. Token is one that was not sealed yet.
func OutletSecrets(ctx context.Context, tx *store.Tx) ([]struct {
	ID     int64  `db:"id"`
	Token  string `db:"token"`
	Secret []byte `db:"secret"`
}, error) {
	return store.List[struct {
		ID     int64  `db:"id"`
		Token  string `db:"token"`
		Secret []byte `db:"secret"`
	}](ctx, tx, `select id, token, coalesce(secret, '') as secret from outlet order by id for update`)
}

// SetOutletStanding says how a connection stands.
func SetOutletStanding(ctx context.Context, tx *store.Tx, id int64, standing string) error {
	_, err := tx.ExecContext(ctx, `update outlet set standing = $2 where id = $1 and standing <> $2`, id, standing)
	return err
}

// NoteAsked writes down that an outlet was asked for its pages, and what went wrong; "" is nothing.
func NoteAsked(ctx context.Context, tx *store.Tx, id int64, trouble string) error {
	_, err := tx.ExecContext(ctx, `update outlet set asked_at = now(), trouble = $2,
		standing = case when $2 = '' then 'connected' else standing end where id = $1`, id, trouble)
	return err
}

// Connecting is somebody who went to a service to let the server in, and is to come back with the state.
type Connecting struct {
	Brand    int64  `db:"brand_id"`
	Person   int64  `db:"person_id"`
	Kind     string `db:"kind"`
	Verifier string `db:"verifier"`
}

// AddConnecting writes down that somebody went, for ten minutes. State is the sum of what they bring back.
func AddConnecting(ctx context.Context, tx *store.Tx, state string, c Connecting) error {
	if _, err := tx.ExecContext(ctx, `delete from connecting where ends_at < now()`); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `insert into connecting (state, brand_id, person_id, kind, verifier, ends_at)
		values ($1, $2, $3, $4, $5, now() + interval '10 minutes')`, state, c.Brand, c.Person, c.Kind, c.Verifier)
	return err
}

// TakeConnecting finds who came back with a state, once.
func TakeConnecting(ctx context.Context, tx *store.Tx, state string, person int64) (Connecting, error) {
	return store.Get[Connecting](ctx, tx, "That took too long, or came back twice. Connect the account again.", `delete from connecting
		where state = $1 and person_id = $2 and ends_at > now() returning brand_id, person_id, kind, verifier`, state, person)
}

// RemoveOutlet disconnects an outlet; items that came from it stay, and forget where they came from.
func RemoveOutlet(ctx context.Context, tx *store.Tx, brand, id int64) error {
	n, err := tx.Change(ctx, `delete from outlet where brand_id = $1 and id = $2`, brand, id)
	if err == nil && n == 0 {
		return fault.NotFoundf("That outlet is not connected any more.")
	}
	return err
}
