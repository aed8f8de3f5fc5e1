package findstore

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Indexed is what an index knows of an item itself.
type Indexed struct {
	Likeness                 likeness.Hash
	Shades                   []likeness.Shade
	ID, Folder, Stage, Stack int64 // 0 without one
	Kind, Camera, Source     string
	Place                    string
	Text, Name, Position     string // as searched in, and as sorted by name and by hand
	Stars, Width, Height     int32
	Sharpness                float32 // below 0 where it is not known
	Tint                     int32
	Bytes                    int64
	Taken                    int64  // seconds of the wall time as if in UTC; Undated without one
	Added, Changed           int64  // microseconds since 1970
	Has                      uint16 // bits of describing.Needs that it has, but for tags
	RightsUntil              int32  // days since 1970; Unending without an end
	Binned, Front            bool
	States                   uint8 // bits of query.States
	// What fields have of their own, in the order of query.OwnColumns.
	OwnIDs   [query.MostColumns]int64
	OwnNames [query.MostColumns]string
}

// Unending is the end of rights that have none: after all others.
const Unending = math.MaxInt32

// hasBits is the SQL of Indexed.Has.
var hasBits = func() string {
	var bits []string
	for i, need := range describing.Needs {
		if need != "tags" {
			bits = append(bits, fmt.Sprintf("(case when %s then 0 else %d end)", strings.ReplaceAll(query.Lacks[need], "a.", ""), 1<<i))
		}
	}
	return strings.Join(bits, " + ")
}()

// stateBits is the SQL of Indexed.States.
var stateBits = func() string {
	bits := make([]string, len(query.States))
	for i, state := range query.States {
		bits[i] = fmt.Sprintf("(case when %s then %d else 0 end)", strings.ReplaceAll(query.Being[state], "a.", ""), 1<<i)
	}
	return strings.Join(bits, " + ")
}()

// ownColumns is the SQL of Indexed.OwnIDs and OwnNames.
var ownColumns, ownIDs, ownNames = func() (string, int, int) {
	ids, names := query.OwnColumns()
	out := ""
	for _, f := range slices.Concat(ids, names) {
		out += ", " + f.Column.SQL
	}
	return out, len(ids), len(names)
}()

// Undated is the capture time of an item without one: before all others.
const Undated = -1 << 62

// Relation is one of the tables that say what an item is in or has.
type Relation string

// The relations of an item: pairs of an item and an id.
const (
	InAlbum    Relation = "album_item"
	HasTag     Relation = "asset_tag"
	KeptBy     Relation = "keeper"
	FromOutlet Relation = "asset_origin"
	OfIntake   Relation = "intake_file"
)

// Relations are all of them.
var Relations = []Relation{InAlbum, HasTag, KeptBy, FromOutlet, OfIntake}

var otherColumn = map[Relation]string{InAlbum: "album_id", HasTag: "tag_id", KeptBy: "person_id", FromOutlet: "outlet_id",
	OfIntake: "intake_id"}

// Snapshot reads a brand as it stood at one moment.
type Snapshot struct {
	tx    pgx.Tx
	brand int64
}

// Mark is how far a reader of the feed has come: everything of transactions before XMin, and the entries in Seen, each with
// its transaction.
type Mark struct {
	XMin uint64
	Seen map[int64]uint64
}

// Freeze begins to read a brand as it stands now, and marks where the feed goes on from there. End it with Close.
func Freeze(ctx context.Context, db *store.DB, brand int64) (*Snapshot, Mark, error) {
	tx, err := db.Pool.BeginTx(ctx, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly})
	if err != nil {
		return nil, Mark{}, err
	}
	s := &Snapshot{tx: tx, brand: brand}
	mark := Mark{Seen: map[int64]uint64{}}
	var xmin string
	err = tx.QueryRow(ctx, `select set_config('statement_timeout', '0', true), pg_snapshot_xmin(pg_current_snapshot())::text`).Scan(nil,
		&xmin)
	if err == nil {
		mark.XMin, err = strconv.ParseUint(xmin, 10, 64)
	}
	if err == nil {
		err = s.each(ctx, `select seq, xid::text::bigint from feed where brand_id = $1 and xid >= $2::text::xid8`, []any{brand, xmin},
			func(row pgx.CollectableRow) error {
				var seq, xid int64
				err := row.Scan(&seq, &xid)
				mark.Seen[seq] = uint64(xid)
				return err
			})
	}
	if err != nil {
		s.Close(ctx)
		return nil, Mark{}, err
	}
	return s, mark, nil
}

// Close ends the reading.
func (s *Snapshot) Close(ctx context.Context) { _ = s.tx.Rollback(context.WithoutCancel(ctx)) }

func (s *Snapshot) each(ctx context.Context, query string, args []any, f func(pgx.CollectableRow) error) error {
	rows, err := s.tx.Query(ctx, query, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		if err := f(rows); err != nil {
			return err
		}
	}
	return rows.Err()
}

// Items reads the items of a brand, those of the ids only unless ids is nil.
func (s *Snapshot) Items(ctx context.Context, ids []int64, f func(Indexed)) error {
	only, args := s.only("id", ids)
	return s.each(ctx, `select id, coalesce(folder_id, 0), coalesce(stage_id, 0), coalesce(stack_id, 0), kind, camera, place, source, search,
		name_key, coalesce(position, ''),
		stars, width, height, tint, bytes, coalesce(likeness, 0), coalesce(sharpness, -1)::real, colours, captured_at, added_at, changed_at,
		`+hasBits+`, coalesce(rights_until - '1970-01-01'::date, 2147483647), binned_at is not null, stack_front, `+stateBits+ownColumns+`
		from asset where brand_id = $1`+only+` order by id`, args, func(row pgx.CollectableRow) error {
		var i Indexed
		var taken pgtype.Timestamp
		var added, changed time.Time
		var hash int64
		into := []any{&i.ID, &i.Folder, &i.Stage, &i.Stack, &i.Kind, &i.Camera, &i.Place, &i.Source, &i.Text, &i.Name, &i.Position,
			&i.Stars, &i.Width, &i.Height, &i.Tint, &i.Bytes, &hash, &i.Sharpness, &i.Shades,
			&taken, &added, &changed, &i.Has, &i.RightsUntil, &i.Binned, &i.Front, &i.States}
		for k := range ownIDs {
			into = append(into, &i.OwnIDs[k])
		}
		for k := range ownNames {
			into = append(into, &i.OwnNames[k])
		}
		err := row.Scan(into...)
		i.Likeness = likeness.Hash(hash)
		i.Taken = Undated
		if taken.Valid {
			i.Taken = taken.Time.Unix()
		}
		i.Added, i.Changed = added.UnixMicro(), changed.UnixMicro()
		f(i)
		return err
	})
}

func (s *Snapshot) only(column string, ids []int64) (string, []any) {
	if ids == nil {
		return "", []any{s.brand}
	}
	return " and " + column + " = any($2)", []any{s.brand, ids}
}

// Related reads the pairs of a relation, those of the items only unless ids is nil.
func (s *Snapshot) Related(ctx context.Context, of Relation, ids []int64, f func(asset, other int64)) error {
	only, args := s.only("asset_id", ids)
	where := " where brand_id = $1" + only
	if of == OfIntake {
		where += " and asset_id is not null and state in ('added', 'version')"
	}
	return s.each(ctx, "select asset_id, "+otherColumn[of]+" from "+string(of)+where, args, func(row pgx.CollectableRow) error {
		var asset, other int64
		err := row.Scan(&asset, &other)
		f(asset, other)
		return err
	})
}

// Changes are what the feed says: items that changed, those whose relations did, and the other tables that did.
type Changes struct {
	Assets  []int64
	Related map[Relation][]int64
	Tables  map[string]bool
}

// None says that nothing changed.
func (c *Changes) None() bool { return len(c.Assets) == 0 && len(c.Related) == 0 && len(c.Tables) == 0 }

// World says whether what rules are resolved in has changed.
func (c *Changes) World() bool {
	return c.Tables["folder"] || c.Tables["folder_tag"] || c.Tables["tag"] || c.Tables["album"] || c.Tables["brand"] ||
		c.Tables["person_shown"]
}

// TagList says whether tags have other names, groups or places in their list, or are others.
func (c *Changes) TagList() bool { return c.Tables["tag"] || c.Tables["tag_group"] }

// AlbumList says the same of albums. Their covers change with their items too.
func (c *Changes) AlbumList() bool { return c.Tables["album"] }

// Changed reads what was committed since a mark, and moves the mark on.
func Changed(ctx context.Context, db *store.DB, brand int64, mark *Mark) (Changes, error) {
	var out Changes
	seen := make([]int64, 0, len(mark.Seen))
	for seq := range mark.Seen {
		seen = append(seen, seq)
	}
	// The one row on the left brings the mark also when nothing changed.
	rows, err := db.Pool.Query(ctx, `select f.seq, f.xid::text::bigint, f.what, f.assets,
		pg_snapshot_xmin(pg_current_snapshot())::text::bigint
		from (select 0) one left join feed f on f.brand_id = $1 and f.xid >= $2::text::xid8 and f.seq <> all($3)`, brand,
		strconv.FormatUint(mark.XMin, 10), seen)
	if err != nil {
		return out, err
	}
	defer rows.Close()
	xmin := int64(0)
	changed := map[string][]int64{}
	for rows.Next() {
		var seq, xid *int64
		var what *string
		var assets []int64
		if err := rows.Scan(&seq, &xid, &what, &assets, &xmin); err != nil {
			return out, err
		}
		if seq != nil {
			mark.Seen[*seq] = uint64(*xid)
			changed[*what] = append(changed[*what], assets...)
		}
	}
	if err := rows.Err(); err != nil {
		return out, err
	}
	mark.XMin = max(mark.XMin, uint64(xmin))
	maps.DeleteFunc(mark.Seen, func(_ int64, xid uint64) bool { return xid < mark.XMin })
	for what, assets := range changed {
		slices.Sort(assets)
		assets = slices.Compact(assets)
		switch _, relation := otherColumn[Relation(what)]; {
		case what == "asset":
			out.Assets = assets
		case relation:
			if out.Related == nil {
				out.Related = map[Relation][]int64{}
			}
			out.Related[Relation(what)] = assets
		default:
			if out.Tables == nil {
				out.Tables = map[string]bool{}
			}
			out.Tables[what] = true
		}
	}
	return out, nil
}
