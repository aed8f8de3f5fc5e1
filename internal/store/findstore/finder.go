// Package findstore finds: sheets, counts and rules, asked of the database, and what an index is made from.
package findstore

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"sort"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/tagstore"
)

// Finder answers what is in a sheet, in which order and how many, within what a viewer may look at. SQL does, and the
// index in internal/finding/index does the same from memory.
type Finder interface {
	// Sheet returns a page of the matching items in order: at most so many from a place, counted from 0.
	Sheet(ctx context.Context, v *access.Viewer, q query.Query, from, most int) (SheetPage, error)
	// Together returns what lies together with an item of the sheet, or next the first pile that begins after it; without one, nothing.
	Together(ctx context.Context, v *access.Viewer, q query.Query, id int64, next bool) (SheetPile, error)
	// IDs returns every matching item in order.
	IDs(ctx context.Context, v *access.Viewer, q query.Query) ([]int64, error)
	// Count returns how many items match.
	Count(ctx context.Context, v *access.Viewer, q query.Query) (int, error)
	// Counts returns how many items wait at each step.
	Counts(ctx context.Context, v *access.Viewer) (Counts, error)
	// FolderCounts returns how many items lie in each folder that is not empty.
	FolderCounts(ctx context.Context, v *access.Viewer) (map[int64]FolderCount, error)
	// Facets returns what the matching items are, with how many of each.
	Facets(ctx context.Context, v *access.Viewer, q query.Query) (Facets, error)
	// Uses returns how many items outside of the bin have each tag, or are in each album, leaving out those without any.
	Uses(ctx context.Context, v *access.Viewer, of Relation) (map[int64]int, error)
	// Albums lists the albums that the viewer may look at, in natural order of their names, with how many items of each they see.
	Albums(ctx context.Context, v *access.Viewer) ([]albumstore.Album, error)
	// Tags lists the tags by group and name, with on how many items each is. Whoever may not look everywhere sees those that
	// are on something they see.
	Tags(ctx context.Context, v *access.Viewer) ([]tagstore.Tag, error)
	// NameTags writes the names of the tags of some items of a brand into their rows.
	NameTags(ctx context.Context, brand int64, rows []assetstore.AssetRow) error
	// Nearest returns words, in small letters and without accents, that somebody may have meant by another one: those with the fewest
	// slips first, and none that only others' items say.
	Nearest(ctx context.Context, v *access.Viewer, word string) ([]string, error)
	// Days returns on which days the matching items were taken, the last one first, and how many are undated at the end.
	Days(ctx context.Context, v *access.Viewer, q query.Query) ([]Day, error)
}

// SheetPage is a part of a sheet.
type SheetPage struct {
	Total int // rows
	Items int // with all that lie together
	Aside int // how many more there are that were set aside and are not shown
	Rows  []SheetRow
	Piles []SheetPile // of which something is among the rows
}

// SheetPile is items that lie together in a sheet, in its order, and which of them stands for them, with the reason or "".
type SheetPile struct {
	IDs      []int64
	Front    int64
	Why      string
	Unfolded bool
}

// SheetRow is what the sheet needs of every item, also of those far out of view.
type SheetRow struct {
	ID     int64 `db:"id"`
	Width  int   `db:"width"`
	Height int   `db:"height"`
	Tint   int   `db:"tint"`
}

// Counts are the numbers on the path and in the cabinet: what the sheets of those places show.
type Counts struct {
	Everything  int `db:"everything"`
	Unfiled     int `db:"unfiled"`
	Undescribed int `db:"undescribed"`
	Unchosen    int `db:"unchosen"`
	Bin         int `db:"bin"`
	Lookable    int `db:"lookable"` // that can be looked into, also those that were set aside or are behind the front of a stack
}

// FolderCount is how many items a folder shows, how many are in it with what was set aside or is behind the front of a stack, and how many
// of these were set aside.
type FolderCount struct{ Shown, All, Aside int }

// Facets are the values that some items have, with how many have each.
type Facets struct {
	Total                   int
	Tags, Stages            map[int64]int
	Kinds, Cameras, Sources map[string]int
	Places                  map[string]int
	By                      map[int64]int  // who brought them in
	Formats                 map[string]int // of query.Formats
	Lacks                   map[string]int // of describing.Needs; nothing of what none lacks
	States                  map[string]int // of query.States, likewise
	Years, Stars            map[int]int
}

// Day is a day on which items were taken (YYYY-MM-DD, as their cameras had it); "" stands for undated.
type Day struct {
	Date  string `db:"date"`
	Items int    `db:"items"`
}

// SQL is the Finder that asks the database each time.
type SQL struct{ DB store.Reader }

// Find is the Finder of a database: the index when there is one, else SQL.
func Find(db *store.DB) Finder {
	if f, ok := db.Finder.(Finder); ok {
		return f
	}
	return SQL{DB: db}
}

// Sheet implements Finder.
func (f SQL) Sheet(ctx context.Context, v *access.Viewer, q query.Query, from, most int) (SheetPage, error) {
	var page SheetPage
	c, err := build(ctx, f.DB, v, &q)
	if err != nil {
		return page, err
	}
	if page.Total, err = store.Get[int](ctx, f.DB, "", "select count(*) "+c.SQL(), c.Args...); err != nil {
		return page, err
	}
	if aside, leavesOut := q.Aside(); leavesOut {
		set, err := build(ctx, f.DB, v, &aside)
		if err != nil {
			return page, err
		}
		if page.Aside, err = store.Get[int](ctx, f.DB, "", "select count(*) "+set.SQL(), set.Args...); err != nil {
			return page, err
		}
	}
	page.Items = page.Total
	if q.Piled && page.Total <= mostLaid {
		return page, f.lay(ctx, v, &q, from, most, &page)
	}
	page.Rows, err = store.List[SheetRow](ctx, f.DB, "select a.id, a.width, a.height, a.tint "+c.SQL()+" order by "+orderSQL(&c, &q)+" limit "+
		""+c.Arg(most)+" offset "+c.Arg(from), c.Args...)
	return page, err
}

// mostLaid is how many items are laid together by the database alone, which it does only until the index is there.
const mostLaid = 20_000

// lay fills a page with what lies together as one.
func (f SQL) lay(ctx context.Context, v *access.Viewer, q *query.Query, from, most int, page *SheetPage) error {
	ids, err := f.IDs(ctx, v, *q)
	if err != nil {
		return err
	}
	shots, err := assetstore.PileShots(ctx, f.DB, ids)
	if err != nil {
		return err
	}
	shown, piles := layShots(shots, q.IsUnfolded())
	page.Total = len(shown)
	shown = shown[min(from, len(shown)):min(from+most, len(shown))]
	var wanted []int64
	for _, at := range shown {
		wanted = append(wanted, shots[at].ID)
	}
	page.Rows, err = store.List[SheetRow](ctx, f.DB, `select a.id, a.width, a.height, a.tint from unnest($1::bigint[]) with ordinality u(id, n)
		join asset a on a.id = u.id order by u.n`, wanted)
	page.Piles = PilesOn(shown, piles, func(at int) int64 { return shots[at].ID })
	return err
}

func layShots(shots []likeness.Shot, unfolded func(id int64) bool) ([]int32, []likeness.Together) {
	same := func(a, b int) bool { return likeness.SamePile(shots[a], shots[b]) }
	return likeness.Lay(len(shots), same, func(at int) likeness.Shot { return shots[at] }, unfolded)
}

// Around an item so many others are asked whether they lie with it, and so many after it are looked through for the next pile.
const (
	aroundPile = 100
	aheadPile  = 20_000
)

// Together implements Finder.
func (f SQL) Together(ctx context.Context, v *access.Viewer, q query.Query, id int64, next bool) (SheetPile, error) {
	ids, err := f.IDs(ctx, v, q)
	if err != nil {
		return SheetPile{}, err
	}
	at := slices.Index(ids, id)
	if at < 0 && !next {
		return SheetPile{}, nil
	}
	first, last := max(0, at-aroundPile), min(len(ids), at+aroundPile)
	if next {
		last = min(len(ids), at+1+aheadPile)
	}
	shots, err := assetstore.PileShots(ctx, f.DB, ids[first:last])
	if err != nil {
		return SheetPile{}, err
	}
	_, piles := layShots(shots, func(int64) bool { return false })
	for _, p := range piles {
		if next && first+p.From > at || !next && first+p.From <= at && at < first+p.To {
			return PileOf(p, func(i int) int64 { return shots[i].ID }), nil
		}
	}
	return SheetPile{}, nil
}

// PileOf is what lies together, by the ids of the places.
func PileOf(p likeness.Together, id func(at int) int64) SheetPile {
	out := SheetPile{Front: id(p.Front), Why: p.Why, Unfolded: p.Unfolded}
	for at := p.From; at < p.To; at++ {
		out.IDs = append(out.IDs, id(at))
	}
	return out
}

// PilesOn are the piles of which something is among the places shown on a page, which are in order.
func PilesOn(shown []int32, piles []likeness.Together, id func(at int) int64) []SheetPile {
	if len(shown) == 0 {
		return nil
	}
	first := sort.Search(len(piles), func(i int) bool { return piles[i].To > int(shown[0]) })
	var out []SheetPile
	for _, p := range piles[first:] {
		if p.From > int(shown[len(shown)-1]) {
			break
		}
		out = append(out, PileOf(p, id))
	}
	return out
}

// IDs implements Finder.
func (f SQL) IDs(ctx context.Context, v *access.Viewer, q query.Query) ([]int64, error) {
	c, err := build(ctx, f.DB, v, &q)
	if err != nil {
		return nil, err
	}
	return store.List[int64](ctx, f.DB, "select a.id "+c.SQL()+" order by "+orderSQL(&c, &q), c.Args...)
}

// Count implements Finder.
func (f SQL) Count(ctx context.Context, v *access.Viewer, q query.Query) (int, error) {
	c, err := build(ctx, f.DB, v, &q)
	if err != nil {
		return 0, err
	}
	return store.Get[int](ctx, f.DB, "", "select count(*) "+c.SQL(), c.Args...)
}

// Counts implements Finder.
func (f SQL) Counts(ctx context.Context, v *access.Viewer) (Counts, error) {
	c := store.Clause{From: "from asset a"}
	parts := []string{}
	for _, place := range []string{"everything", "unfiled", "undescribed", "unchosen", "bin"} {
		rule, err := Resolved(ctx, f.DB, v, (&query.Query{Place: place}).Rule())
		if err != nil {
			return Counts{}, err
		}
		parts = append(parts, "count(*) filter (where "+ruleSQL(&c, rule, v.Person)+") as "+place)
	}
	parts = append(parts, "count(*) filter (where a.binned_at is null and a.kind <> 'file') as lookable")
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(access.Look))
	return store.Get[Counts](ctx, f.DB, "", "select "+strings.Join(parts, ", ")+" "+c.SQL(), c.Args...)
}

// FolderCounts implements Finder.
func (f SQL) FolderCounts(ctx context.Context, v *access.Viewer) (map[int64]FolderCount, error) {
	c := store.Clause{From: "from asset a"}
	shown := ruleSQL(&c, (&query.Query{Place: "everything"}).Rule(), v.Person)
	c.And("a.brand_id = %s", v.Brand)
	c.Where = append(c.Where, "a.binned_at is null and a.folder_id is not null")
	c.Within(v.May(access.Look))
	rows, err := store.List[struct {
		Folder int64 `db:"folder_id"`
		Shown  int   `db:"shown"`
		All    int   `db:"n"`
		Aside  int   `db:"aside"`
	}](ctx, f.DB, "select a.folder_id, count(*) as n, count(*) filter (where a.stars < 0) as aside, "+
		"count(*) filter (where "+shown+") as shown "+c.SQL()+" group by a.folder_id", c.Args...)
	out := make(map[int64]FolderCount, len(rows))
	for _, r := range rows {
		out[r.Folder] = FolderCount{Shown: r.Shown, All: r.All, Aside: r.Aside}
	}
	return out, err
}

// Facets implements Finder.
func (f SQL) Facets(ctx context.Context, v *access.Viewer, q query.Query) (Facets, error) {
	out := Facets{Tags: map[int64]int{}, Stages: map[int64]int{}, Kinds: map[string]int{}, Cameras: map[string]int{}, Places: map[string]int{},
		Sources: map[string]int{}, By: map[int64]int{}, Formats: map[string]int{}, Lacks: map[string]int{}, States: map[string]int{},
		Years: map[int]int{}, Stars: map[int]int{}}
	q.Sort = ""
	c, err := build(ctx, f.DB, v, &q)
	if err != nil {
		return out, err
	}
	rows, err := store.List[struct {
		Facet string         `db:"facet"`
		ID    int64          `db:"id"`
		Name  sql.NullString `db:"name"`
		Items int            `db:"n"`
	}](ctx, f.DB, `with found as materialized (select a.id, a.stage_id, a.kind, a.camera, a.place, a.source, a.stars,
			a.captured_at, a.added_by, `+query.Fields["format"].Column.SQL+` as format `+c.SQL()+`)
		select 'total' as facet, 0::bigint as id, '' as name, count(*) as n from found
		union all select 'tag', t.tag_id, '', count(*) from found f join asset_tag t on t.asset_id = f.id group by t.tag_id
		union all select 'stage', stage_id, '', count(*) from found where stage_id is not null group by stage_id
		union all select 'kind', 0, kind, count(*) from found group by kind
		union all select 'camera', 0, camera, count(*) from found where camera <> '' group by camera
		union all select 'place', 0, place, count(*) from found where place <> '' group by place
		union all select 'by', added_by, '', count(*) from found where added_by is not null group by added_by
		union all select 'format', 0, format, count(*) from found group by format
		union all select 'source', 0, source, count(*) from found group by source
		union all select 'year', extract(year from captured_at)::bigint, '', count(*) from found where captured_at is not null group by 2
		union all select 'stars', stars, '', count(*) from found group by stars`+lackFacets+stateFacets, c.Args...)
	for _, r := range rows {
		switch r.Facet {
		case "total":
			out.Total = r.Items
		case "tag":
			out.Tags[r.ID] = r.Items
		case "stage":
			out.Stages[r.ID] = r.Items
		case "kind":
			out.Kinds[r.Name.String] = r.Items
		case "camera":
			out.Cameras[r.Name.String] = r.Items
		case "place":
			out.Places[r.Name.String] = r.Items
		case "by":
			out.By[r.ID] = r.Items
		case "format":
			out.Formats[r.Name.String] = r.Items
		case "source":
			out.Sources[r.Name.String] = r.Items
		case "year":
			out.Years[int(r.ID)] = r.Items
		case "lacks":
			out.Lacks[r.Name.String] = r.Items
		case "state":
			out.States[r.Name.String] = r.Items
		case "stars":
			out.Stars[int(r.ID)] = r.Items
		}
	}
	return out, err
}

// lackFacets counts what the items found lack, for Facets.
var lackFacets = func() string {
	out := ""
	for _, need := range describing.Needs {
		out += fmt.Sprintf(" union all select 'lacks', 0, '%s', count(*) from found f join asset a on a.id = f.id where %s having count(*) > 0",
			need, query.Lacks[need])
	}
	return out
}()

// stateFacets counts how many of the items found are in each of query.States, for Facets.
var stateFacets = func() string {
	out := ""
	for _, state := range query.States {
		out += fmt.Sprintf(" union all select 'state', 0, '%s', count(*) from found f join asset a on a.id = f.id where %s having count(*) > 0",
			state, query.Being[state])
	}
	return out
}()

// Uses implements Finder.
func (f SQL) Uses(ctx context.Context, v *access.Viewer, of Relation) (map[int64]int, error) {
	c := store.Clause{From: "from asset a join " + string(of) + " x on x.asset_id = a.id"}
	c.And("a.brand_id = %s", v.Brand)
	c.Where = append(c.Where, "a.binned_at is null")
	c.Within(v.May(access.Look))
	rows, err := store.List[struct {
		ID    int64 `db:"id"`
		Items int   `db:"items"`
	}](ctx, f.DB, "select x."+otherColumn[of]+" as id, count(*) as items "+c.SQL()+" group by 1", c.Args...)
	out := make(map[int64]int, len(rows))
	for _, row := range rows {
		out[row.ID] = row.Items
	}
	return out, err
}

// Days implements Finder.
func (f SQL) Days(ctx context.Context, v *access.Viewer, q query.Query) ([]Day, error) {
	q.Sort = ""
	c, err := build(ctx, f.DB, v, &q)
	if err != nil {
		return nil, err
	}
	return store.List[Day](
		ctx,
		f.DB,
		"select coalesce(a.captured_at::date::text, '') as date, count(*) as items "+c.SQL()+" group by 1 order "+
			"by 1 desc",
		c.Args...)
}

func orderSQL(c *store.Clause, q *query.Query) string {
	if q.Sort == "fit" {
		return misfitSQL(c, c.Fit) + ", a.captured_at desc nulls last, a.id desc"
	}
	if q.Sort == "hand" && q.Place == "folder" {
		return "a.position nulls last, a.name_key, a.id"
	}
	direction := "asc"
	if q.Descending {
		direction = "desc"
	}
	return strings.ReplaceAll(orders[q.Sort], "DIR", direction)
}
