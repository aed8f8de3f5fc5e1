package store

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
)

// clause collects the conditions of a query on the table asset, called a, with their arguments.
type clause struct {
	fit   query.Rule // by how badly items fit it, where that is the order
	from  string
	where []string
	args  []any
}

func (c *clause) arg(v any) string {
	c.args = append(c.args, v)
	return fmt.Sprintf("$%d", len(c.args))
}

func (c *clause) and(condition string, args ...any) {
	marks := make([]any, len(args))
	for i, a := range args {
		marks[i] = c.arg(a)
	}
	c.where = append(c.where, fmt.Sprintf(condition, marks...))
}

func (c *clause) sql() string { return c.from + " where " + strings.Join(c.where, " and ") }

// orders are the sorts of a sheet; DIR stands for the direction. The id makes each of them total. The index in
// internal/finding/index has the same ones.
var orders = map[string]string{
	"taken":   "a.captured_at DIR nulls last, a.id DIR",
	"added":   "a.added_at DIR, a.id DIR",
	"changed": "a.changed_at DIR, a.id DIR",
	"name":    "a.name_key DIR, a.id DIR",
	"size":    "a.bytes DIR, a.id DIR",
	"stars":   "a.stars DIR, coalesce(a.captured_at, '-infinity') DIR, a.id DIR",
	"kind":    "a.kind collate \"C\" DIR, coalesce(a.captured_at, '-infinity') DIR, a.id DIR",
	"hand":    "i.position DIR, a.id",
}

// build turns a query into SQL conditions, leaving out whatever the viewer may not look at.
func build(ctx context.Context, r Reader, v *access.Viewer, q *query.Query) (clause, error) {
	c := clause{from: "from asset a"}
	if err := q.Check(); err != nil {
		return c, err
	}
	if q.Sort == "hand" && q.Place == "album" {
		by, err := keptByRule(ctx, r, q.ID)
		if err != nil {
			return c, err
		}
		if by {
			q.Sort, q.Descending = query.SortOfRuleAlbum, true
		}
	}
	if q.Sort == "hand" && q.Place == "album" {
		c.from += " join album_item i on i.asset_id = a.id"
		c.and("i.album_id = %s", q.ID)
	}
	c.and("a.brand_id = %s", v.Brand)
	rule, err := Resolved(ctx, r, v, q.Rule())
	if err != nil {
		return c, err
	}
	c.where = append(c.where, c.rule(rule, v.Person))
	c.within(v.May(access.Look))
	if q.Sort == "fit" {
		c.fit, err = Fitting(ctx, r, v, q)
	}
	return c, err
}

// within keeps only what is in a reach.
func (c *clause) within(reach access.Reach) {
	if !reach.All {
		c.and("(a.folder_id = any(%s) or a.id in (select asset_id from album_item where album_id = any(%s)))", reach.FolderIDs(),
			reach.AlbumIDs())
	}
}

// Select resolves a selection to ids, in the order of the selection, and checks that the viewer may do the action to
// every one of them. Ids that the viewer may not even look at, or that are gone, give NotFound. It takes the database and
// not a transaction, since the index wants a connection of its own: whoever waits for one while holding another waits for
// ever when all do. Select first, then begin; StillReachable looks again within the transaction.
func Select(ctx context.Context, db *DB, v *access.Viewer, action access.Action, s query.Selection) ([]int64, error) {
	if s.Everything == nil {
		ids := distinct(s.IDs)
		return ids, Reachable(ctx, db, v, action, ids)
	}
	ids, err := db.Find().IDs(ctx, v, *s.Everything) // a query shows nothing that may not be looked at
	if err != nil {
		return nil, err
	}
	except := make(map[int64]bool, len(s.Except))
	for _, id := range s.Except {
		except[id] = true
	}
	ids = slices.DeleteFunc(ids, func(id int64) bool { return except[id] })
	if len(ids) == 0 {
		return nil, errNothing
	}
	return ids, StillReachable(ctx, db, v, action, ids)
}

var errNothing = fault.Invalidf("selection", "Nothing is selected.")

// Reachable checks that the viewer may look at items and do the action to every one of them.
func Reachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	if len(ids) == 0 {
		return errNothing
	}
	if err := allReachable(ctx, r, v, access.Look, ids); err != nil || action == access.Look {
		return err
	}
	return StillReachable(ctx, r, v, action, ids)
}

// StillReachable checks that the viewer may do the action to items that were there before.
func StillReachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	if v.May(action).All {
		return nil
	}
	return allReachable(ctx, r, v, action, ids)
}

// ThoseThere leaves out the ids of items that are not in the brand any more.
func ThoseThere(ctx context.Context, r Reader, brand int64, ids []int64) ([]int64, error) {
	return list[int64](ctx, r, `select u.id from unnest($2::bigint[]) with ordinality as u(id, n) join asset a on a.id = u.id
		where a.brand_id = $1 order by u.n`, brand, ids)
}

func allReachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	c := clause{from: "from asset a"}
	c.and("a.id = any(%s)", ids)
	c.and("a.brand_id = %s", v.Brand)
	c.within(v.May(action))
	n, err := get[int](ctx, r, "", "select count(*) "+c.sql(), c.args...)
	if err != nil || n == len(ids) {
		return err
	}
	missing := len(ids) - n
	if action == access.Look {
		return fault.NotFoundf("%s of the selection cannot be found any more.", wording.Items(missing))
	}
	return fault.Forbiddenf("You can’t change %s of the selection. Nothing was changed.", wording.Items(missing))
}

func distinct(ids []int64) []int64 {
	seen := make(map[int64]bool, len(ids))
	out := make([]int64, 0, len(ids))
	for _, id := range ids {
		if !seen[id] {
			seen[id] = true
			out = append(out, id)
		}
	}
	return out
}
