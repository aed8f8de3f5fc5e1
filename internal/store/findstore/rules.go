package findstore

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/facestore"
)

// World reads what rules mean in a brand beyond its items.
func World(ctx context.Context, r store.Reader, brand int64) (*query.World, error) {
	return WorldAfter(ctx, r, brand, nil, nil)
}

// WorldAfter reads what rules are resolved in after changes, and takes over from before what did not change. Without a world before it
// reads everything.
func WorldAfter(ctx context.Context, r store.Reader, brand int64, before *query.World, changes *Changes) (*query.World, error) {
	w := &query.World{}
	if before != nil {
		w = &query.World{Folders: before.Folders, Tags: before.Tags, Albums: before.Albums, Parents: before.Parents,
			People: before.People, Rules: before.Rules,
			Needs: before.Needs}
	}
	for _, part := range []struct {
		tables []string // that it is read from
		read   func() error
	}{
		{[]string{"brand"}, func() error {
			needs, err := store.Get[store.Array[string]](ctx, r, "There is no such brand.", `select described_needs from brand where id = $1`, brand)
			w.Needs = needs
			return err
		}},
		{[]string{"folder", "folder_tag"}, func() (err error) {
			w.Folders, err = worldFolders(ctx, r, brand)
			return err
		}},
		{[]string{"tag"}, func() (err error) {
			w.Tags, err = store.Names(ctx, r, `select coalesce(merged_into, id) as id, string_agg(search_text(name), E'\n') as name from tag
				where brand_id = $1 and removed_at is null group by 1`, brand)
			return err
		}},
		{[]string{"person_shown", "tag"}, func() (err error) {
			w.People, err = facestore.Consents(ctx, r, brand)
			return err
		}},
		{[]string{"album"}, func() (err error) {
			w.Rules, err = albumstore.RuleAlbums(ctx, r, brand)
			return err
		}},
		{[]string{"album"}, func() (err error) {
			w.Albums, w.Parents, err = worldAlbums(ctx, r, brand)
			return err
		}},
	} {
		if before != nil && !slices.ContainsFunc(part.tables, func(table string) bool { return changes.Tables[table] }) {
			continue
		}
		if err := part.read(); err != nil {
			return nil, err
		}
	}
	return w, nil
}

func worldAlbums(ctx context.Context, r store.Reader, brand int64) (called map[int64]string, parents map[int64]int64, err error) {
	albums, err := store.List[struct {
		ID     int64  `db:"id"`
		Parent int64  `db:"parent"`
		Text   string `db:"text"`
	}](ctx, r, `select id, coalesce(parent_id, 0) as parent, search_text(name) as text from album where brand_id = $1`, brand)
	called, parents = make(map[int64]string, len(albums)), map[int64]int64{}
	for _, a := range albums {
		called[a.ID] = a.Text
		if a.Parent != 0 {
			parents[a.ID] = a.Parent
		}
	}
	return called, parents, err
}

func worldFolders(ctx context.Context, r store.Reader, brand int64) (map[int64]query.Folder, error) {
	folders, err := store.List[struct {
		ID     int64              `db:"id"`
		Parent int64              `db:"parent"`
		Date   string             `db:"date"`
		Text   string             `db:"text"`
		Tags   store.Array[int64] `db:"tags"`
	}](ctx, r, `select f.id, coalesce(f.parent_id, 0) as parent, coalesce(f.happened_on::text, '') as date, search_text(f.name,
		f.description) as text,
		array(select tag_id from folder_tag t where t.folder_id = f.id) as tags from folder f where f.brand_id = $1`, brand)
	out := make(map[int64]query.Folder, len(folders))
	for _, f := range folders {
		out[f.ID] = query.Folder{Parent: f.Parent, Date: f.Date, Text: f.Text, Tags: f.Tags}
	}
	return out, err
}

// Resolved is a rule with its words as they are looked for, and expanded in the world of the brand. Folders that the
// viewer may not look into tell nothing.
func Resolved(ctx context.Context, r store.Reader, v *access.Viewer, rule query.Rule) (query.Rule, error) {
	if !rule.NeedsWorld() {
		return rule, nil
	}
	w, err := World(ctx, r, v.Brand)
	if err != nil {
		return rule, err
	}
	var failed error
	resolved, err := ResolvedIn(ctx, r, v, w, rule, func(of query.Rule, n int) []int64 {
		ids, err := picked(ctx, r, v, of, n)
		failed = errors.Join(failed, err)
		return ids
	})
	return resolved, errors.Join(err, failed)
}

// picked picks so many items of a brand at random, for today.
func picked(ctx context.Context, r store.Reader, v *access.Viewer, rule query.Rule, n int) ([]int64, error) {
	c := store.Clause{From: "from asset a"}
	c.And("a.brand_id = %s", v.Brand)
	c.Where = append(c.Where, ruleSQL(&c, rule, v.Person))
	day := c.Arg(query.DayNumber(Today()))
	return store.List[int64](ctx, r, `select a.id `+c.SQL()+` order by `+query.LotSQL("a.id", day)+`, a.id limit `+c.Arg(n), c.Args...)
}

// ResolvedIn is Resolved with a world that is known already, and with who picks at random.
func ResolvedIn(ctx context.Context, r store.Reader, v *access.Viewer, w *query.World, rule query.Rule,
	pick func(query.Rule, int) []int64) (query.Rule, error) {
	if err := store.Normalise(ctx, r, &rule); err != nil {
		return rule, err
	}
	if err := modelled(ctx, r, v, &rule); err != nil {
		return rule, err
	}
	return seenBy(w, v).Expand(rule, query.Now{Day: Today(), Pick: pick}), nil
}

// seenBy is what somebody may know of a world: folders and albums that they may not look into say nothing.
func seenBy(w *query.World, v *access.Viewer) *query.World {
	reach := v.May(access.Look)
	if reach.All {
		return w
	}
	seen := &query.World{Folders: make(map[int64]query.Folder, len(w.Folders)), Tags: w.Tags, Needs: w.Needs, People: w.People,
		Rules: w.Rules, Albums: map[int64]string{}, Parents: w.Parents}
	for id, f := range w.Folders {
		if !reach.Folder(id) {
			f = query.Folder{Parent: f.Parent}
		}
		seen.Folders[id] = f
	}
	for _, id := range reach.AlbumIDs() {
		if name, there := w.Albums[id]; there {
			seen.Albums[id] = name
		}
	}
	return seen
}

// Today is the day, as YYYY-MM-DD in UTC, that rules about days to come and gone are judged on.
func Today() string { return time.Now().UTC().Format(time.DateOnly) }

// ruleSQL turns an expanded rule into one SQL condition on the table asset, called a.
func ruleSQL(c *store.Clause, r query.Rule, person int64) string {
	if r.Match != "" {
		return groupSQL(c, r, person)
	}
	return r.Condition(c, person)
}

func groupSQL(c *store.Clause, r query.Rule, person int64) string {
	join, empty := " and ", "true"
	if r.Match != query.All {
		join, empty = " or ", "false"
	}
	parts := make([]string, len(r.Rules))
	for i, x := range r.Rules {
		parts[i] = ruleSQL(c, x, person)
	}
	text := empty
	if len(parts) > 0 {
		text = "(" + strings.Join(parts, join) + ")"
	}
	if r.Match == query.None {
		return "not " + text
	}
	return text
}

// misfitSQL is query.Rule.Misfit of an item.
func misfitSQL(c *store.Clause, r query.Rule) string {
	worst := c.Arg(query.MostMisfit)
	switch r.Field {
	case "colour":
		return fmt.Sprintf("(%[1]s - least(%[1]s, %s))", worst, r.Colours().ShareSQL(c))
	case "like":
		m := r.Model()
		return fmt.Sprintf("least(%s, 100 - colour_overlap(a.colours, %s) + likeness_bits(a.likeness, %s))", worst,
			c.Arg(likeness.Ints(m.Shades)), c.Arg(int64(m.Likeness)))
	}
	parts := []string{"0"}
	for _, word := range r.Names {
		parts = append(parts, fmt.Sprintf("(case when strpos(a.name_key, %s) > 0 then 0 else 1 end)", c.Arg(word)))
	}
	return "least(" + worst + ", " + strings.Join(parts, " + ") + ")"
}

// Fitting is the condition by which a query orders what fits best, with its words and its model as they are looked for.
func Fitting(ctx context.Context, r store.Reader, v *access.Viewer, q *query.Query) (query.Rule, error) {
	rule := *q.Fits()
	if rule.Field == "words" {
		rule.Names = query.Terms(rule.Names...)
	}
	if err := store.Normalise(ctx, r, &rule); err != nil {
		return rule, err
	}
	return rule, modelled(ctx, r, v, &rule)
}

// modelled puts what an item looks like in place of its id, in conditions that ask for what is like it. One that the viewer may not
// see, or that is gone, is like nothing.
func modelled(ctx context.Context, r store.Reader, v *access.Viewer, rule *query.Rule) error {
	if rule.Field == "like" {
		c := store.Clause{From: "from asset a"}
		c.And("a.id = any(%s)", rule.IDs)
		c.And("a.brand_id = %s", v.Brand)
		c.Within(v.May(access.Look))
		found, err := store.List[struct {
			Likeness int64              `db:"likeness"`
			Colours  store.Array[int64] `db:"colours"`
		}](ctx, r, `select coalesce(a.likeness, 0) as likeness, a.colours `+c.SQL()+` limit 1`, c.Args...)
		if err != nil {
			return err
		}
		*rule = query.Rule{Match: query.Any}
		if len(found) > 0 {
			m := query.Model{Likeness: likeness.Hash(found[0].Likeness)}
			for _, s := range found[0].Colours {
				m.Shades = append(m.Shades, likeness.Shade(s))
			}
			*rule = query.LikeModel(m)
		}
		return nil
	}
	for i := range rule.Rules {
		if err := modelled(ctx, r, v, &rule.Rules[i]); err != nil {
			return err
		}
	}
	return nil
}
