package store

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
)

// SheetRow is what the sheet needs of every item, also of those far out of view.
type SheetRow struct {
	ID     int64 `db:"id"`
	Width  int   `db:"width"`
	Height int   `db:"height"`
	Tint   int   `db:"tint"`
}

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

// orders are the sorts of a sheet; DIR stands for the direction. The id makes each of them total.
var orders = map[string]string{
	"taken":   "a.captured_at DIR nulls last, a.id DIR",
	"added":   "a.added_at DIR, a.id DIR",
	"changed": "a.changed_at DIR, a.id DIR",
	"name":    "coalesce(nullif(a.title, ''), a.file_name) collate natural_name DIR, a.id DIR",
	"size":    "a.bytes DIR, a.id DIR",
	"stars":   "a.stars DIR, a.captured_at DIR nulls last, a.id DIR",
	"kind":    "a.kind DIR, a.captured_at desc nulls last, a.id DIR",
	"hand":    "i.position DIR, a.id",
}

// build turns a checked query into SQL conditions, leaving out whatever the viewer may not look at.
func build(v *access.Viewer, q *query.Query) clause {
	c := clause{from: "from asset a"}
	c.and("a.brand_id = %s", v.Brand)
	if q.Place == "bin" {
		c.and("a.binned_at is not null")
	} else {
		c.and("a.binned_at is null")
	}
	switch q.Place {
	case "unfiled":
		c.and("a.folder_id is null")
	case "folder":
		if q.Below {
			c.and("a.folder_id = any(%s)", v.Tree.Below(q.ID))
		} else {
			c.and("a.folder_id = %s", q.ID)
		}
	case "album":
		c.from += " join album_item i on i.asset_id = a.id"
		c.and("i.album_id = %s", q.ID)
	case "intake":
		c.and("a.id in (select asset_id from intake_file where intake_id = %s and state in ('added', 'version'))", q.ID)
	case "keepers":
		c.and("exists (select from keeper k where k.asset_id = a.id and k.person_id = %s)", v.Person)
	case "undescribed":
		c.and("(a.title = '' or a.alt = '')")
	case "unchosen":
		c.and("a.stars = 0")
	}
	if q.Place != "bin" && q.Place != "intake" && q.Place != "album" {
		// A stack shows its pick. What is not stacked beside its pick any more is shown by itself.
		c.and(`(a.stack_id is null or a.stack_pick or not exists (select from asset p where p.stack_id = a.stack_id and p.stack_pick
			and p.binned_at is null and p.folder_id is not distinct from a.folder_id))`)
	}
	if q.Source != "" {
		c.and("a.source = %s", q.Source)
	}
	if q.Outlet != 0 {
		c.and("a.id in (select asset_id from asset_origin where outlet_id = %s)", q.Outlet)
	}
	if !q.SetAside && q.Place != "bin" && q.Place != "album" {
		c.and("a.stars >= 0")
	}
	if q.Stars > 0 {
		c.and("a.stars >= %s", q.Stars)
	}
	if len(q.Kinds) > 0 {
		c.and("a.kind = any(%s)", q.Kinds)
	}
	if q.Tag != 0 {
		c.and("exists (select from asset_tag t where t.asset_id = a.id and t.tag_id = %s)", q.Tag)
	}
	for _, word := range q.Terms() {
		c.and(`(a.search like search_text('%%' || %s || '%%') or exists (select from asset_tag x join tag t on t.id = x.tag_id
			where x.asset_id = a.id and search_text(t.name) like search_text('%%' || %s || '%%')))`, likeLiteral(word), likeLiteral(word))
	}
	c.within(v.May(access.Look))
	return c
}

// within keeps only what lies in a reach.
func (c *clause) within(reach access.Reach) {
	if !reach.All {
		c.and("(a.folder_id = any(%s) or a.id in (select asset_id from album_item where album_id = any(%s)))", reach.FolderIDs(), reach.AlbumIDs())
	}
}

func likeLiteral(word string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(word)
}

// Sheet answers a query with every item in order.
func Sheet(ctx context.Context, r Reader, v *access.Viewer, q query.Query) ([]SheetRow, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	c := build(v, &q)
	direction := "asc"
	if q.Descending {
		direction = "desc"
	}
	order := strings.ReplaceAll(orders[q.Sort], "DIR", direction)
	return list[SheetRow](ctx, r, "select a.id, a.width, a.height, a.tint "+c.sql()+" order by "+order, c.args...)
}

// Select resolves a selection to ids, in the order of the selection, and checks that the viewer may do the action to
// every one of them. Ids that the viewer may not even look at, or that are gone, give NotFound.
func Select(ctx context.Context, r Reader, v *access.Viewer, action access.Action, s query.Selection) ([]int64, error) {
	ids := s.IDs
	if s.Everything != nil {
		rows, err := Sheet(ctx, r, v, *s.Everything)
		if err != nil {
			return nil, err
		}
		except := map[int64]bool{}
		for _, id := range s.Except {
			except[id] = true
		}
		ids = nil
		for _, row := range rows {
			if !except[row.ID] {
				ids = append(ids, row.ID)
			}
		}
	}
	ids = distinct(ids)
	if len(ids) == 0 {
		return nil, fault.Invalidf("selection", "Nothing is selected.")
	}
	if err := allReachable(ctx, r, v, access.Look, ids); err != nil {
		return nil, err
	}
	if action == access.Look {
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

// Counts are the numbers on the path.
type Counts struct {
	Everything  int `db:"everything"`
	Unfiled     int `db:"unfiled"`
	Undescribed int `db:"undescribed"`
	Unchosen    int `db:"unchosen"`
	Bin         int `db:"bin"`
}

// CountAll counts what waits at each step, among what the viewer may look at. Items that were set aside wait nowhere.
func CountAll(ctx context.Context, r Reader, v *access.Viewer) (Counts, error) {
	c := clause{from: "from asset a"}
	c.and("a.brand_id = %s", v.Brand)
	c.within(v.May(access.Look))
	return get[Counts](ctx, r, "", `select
		count(*) filter (where binned_at is null and stars >= 0) as everything,
		count(*) filter (where binned_at is null and stars >= 0 and folder_id is null) as unfiled,
		count(*) filter (where binned_at is null and stars >= 0 and (title = '' or alt = '')) as undescribed,
		count(*) filter (where binned_at is null and stars = 0) as unchosen,
		count(*) filter (where binned_at is not null) as bin `+c.sql(), c.args...)
}
