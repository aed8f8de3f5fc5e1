package store

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
)

// clause collects the conditions of a query on the table asset, called a, with their arguments.
type clause struct {
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
	return c, nil
}

// within keeps only what lies in a reach.
func (c *clause) within(reach access.Reach) {
	if !reach.All {
		c.and("(a.folder_id = any(%s) or a.id in (select asset_id from album_item where album_id = any(%s)))", reach.FolderIDs(), reach.AlbumIDs())
	}
}

// Select resolves a selection to ids, in the order of the selection, and checks that the viewer may do the action to
// every one of them. Ids that the viewer may not even look at, or that are gone, give NotFound.
func Select(ctx context.Context, r Reader, v *access.Viewer, action access.Action, s query.Selection) ([]int64, error) {
	ids := distinct(s.IDs)
	if s.Everything != nil {
		all, err := finderOf(r).IDs(ctx, v, *s.Everything)
		if err != nil {
			return nil, err
		}
		except := make(map[int64]bool, len(s.Except))
		for _, id := range s.Except {
			except[id] = true
		}
		ids = slices.DeleteFunc(all, func(id int64) bool { return except[id] })
	}
	if len(ids) == 0 {
		return nil, fault.Invalidf("selection", "Nothing is selected.")
	}
	if s.Everything == nil { // a query shows nothing that may not be looked at
		if err := allReachable(ctx, r, v, access.Look, ids); err != nil {
			return nil, err
		}
	}
	if action == access.Look || v.May(action).All {
		return ids, nil
	}
	return ids, allReachable(ctx, r, v, action, ids)
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
		return fault.NotFoundf("%s of the selection cannot be found any more.", query.Items(missing))
	}
	return fault.Forbiddenf("%s of the selection lie where you may not do that. Nothing was changed.", query.Items(missing))
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
