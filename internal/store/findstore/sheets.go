package findstore

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
)

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
func build(ctx context.Context, r store.Reader, v *access.Viewer, q *query.Query) (store.Clause, error) {
	c := store.Clause{From: "from asset a"}
	if err := q.Check(); err != nil {
		return c, err
	}
	if q.Sort == "hand" && q.Place == "album" {
		by, err := albumstore.KeptByRule(ctx, r, q.ID)
		if err != nil {
			return c, err
		}
		if by {
			q.Sort, q.Descending = query.SortOfRuleAlbum, true
		}
	}
	if q.Sort == "hand" && q.Place == "album" {
		c.From += " join album_item i on i.asset_id = a.id"
		c.And("i.album_id = %s", q.ID)
	}
	c.And("a.brand_id = %s", v.Brand)
	rule, err := Resolved(ctx, r, v, q.Rule())
	if err != nil {
		return c, err
	}
	c.Where = append(c.Where, ruleSQL(&c, rule, v.Person))
	c.Within(v.May(access.Look))
	if q.Sort == "fit" {
		c.Fit, err = Fitting(ctx, r, v, q)
	}
	return c, err
}

// Select resolves a selection to ids, in the order of the selection, and checks that the viewer may do the action to
// every one of them. Ids that the viewer may not even look at, or that are gone, give NotFound. It takes the database and
// not a transaction, since the index wants a connection of its own: whoever waits for one while holding another waits for
// ever when all do. Select first, then begin; StillReachable looks again within the transaction.
func Select(ctx context.Context, db *store.DB, v *access.Viewer, action access.Action, s query.Selection) ([]int64, error) {
	if s.Everything == nil {
		ids := store.Distinct(s.IDs)
		return ids, store.Reachable(ctx, db, v, action, ids)
	}
	ids, err := Find(db).IDs(ctx, v, *s.Everything) // a query shows nothing that may not be looked at
	if err != nil {
		return nil, err
	}
	except := make(map[int64]bool, len(s.Except))
	for _, id := range s.Except {
		except[id] = true
	}
	ids = slices.DeleteFunc(ids, func(id int64) bool { return except[id] })
	if len(ids) == 0 {
		return nil, store.ErrNothing
	}
	return ids, store.StillReachable(ctx, db, v, action, ids)
}
