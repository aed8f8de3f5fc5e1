package store

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
)

// Clause collects the conditions of a query on the table asset, called a, with their arguments.
type Clause struct {
	Fit   query.Rule // by how badly items fit it, where that is the order
	From  string
	Where []string
	Args  []any
}

func (c *Clause) Arg(v any) string {
	c.Args = append(c.Args, v)
	return fmt.Sprintf("$%d", len(c.Args))
}

func (c *Clause) And(condition string, args ...any) {
	marks := make([]any, len(args))
	for i, a := range args {
		marks[i] = c.Arg(a)
	}
	c.Where = append(c.Where, fmt.Sprintf(condition, marks...))
}

func (c *Clause) SQL() string { return c.From + " where " + strings.Join(c.Where, " and ") }

// Within keeps only what is in a reach.
func (c *Clause) Within(reach access.Reach) {
	if !reach.All {
		c.And("(a.folder_id = any(%s) or a.id in (select asset_id from album_item where album_id = any(%s)))", reach.FolderIDs(),
			reach.AlbumIDs())
	}
}

var ErrNothing = fault.Invalidf("selection", "Nothing is selected.")

// Reachable checks that the viewer may look at items and do the action to every one of them.
func Reachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	if len(ids) == 0 {
		return ErrNothing
	}
	if err := AllReachable(ctx, r, v, access.Look, ids); err != nil || action == access.Look {
		return err
	}
	return StillReachable(ctx, r, v, action, ids)
}

// StillReachable checks that the viewer may do the action to items that were there before.
func StillReachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	if v.May(action).All {
		return nil
	}
	return AllReachable(ctx, r, v, action, ids)
}

// ThoseThere leaves out the ids of items that are not in the brand any more.
func ThoseThere(ctx context.Context, r Reader, brand int64, ids []int64) ([]int64, error) {
	return List[int64](ctx, r, `select u.id from unnest($2::bigint[]) with ordinality as u(id, n) join asset a on a.id = u.id
		where a.brand_id = $1 order by u.n`, brand, ids)
}

func AllReachable(ctx context.Context, r Reader, v *access.Viewer, action access.Action, ids []int64) error {
	c := Clause{From: "from asset a"}
	c.And("a.id = any(%s)", ids)
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(action))
	n, err := Get[int](ctx, r, "", "select count(*) "+c.SQL(), c.Args...)
	if err != nil || n == len(ids) {
		return err
	}
	missing := len(ids) - n
	if action == access.Look {
		return fault.NotFoundf("%s of the selection cannot be found any more.", wording.Items(missing))
	}
	return fault.Forbiddenf("You can’t change %s of the selection. Nothing was changed.", wording.Items(missing))
}

func Distinct(ids []int64) []int64 {
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
