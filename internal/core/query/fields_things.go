package query

import (
	"fmt"

	"github.com/RoaringBitmap/roaring/v2"
)

func init() {
	register(Field{Name: "folder", Takes: Takes{IDs: true, Missing: true, Below: true},
		Say: below(byIDs("in", func(n *Names) map[int64]string { return n.Folders }, removed, "Unfiled")),
		SQL: among("a.folder_id"), Set: oneOf("folder")})
	register(Field{Name: "stage", Takes: Takes{IDs: true, Missing: true}, Dear: 1,
		Say: byIDs("stage", func(n *Names) map[int64]string { return n.Stages }, removed, "no stage"),
		SQL: among("a.stage_id"), Set: oneOf("stage")})
	register(Field{Name: "album", Takes: Takes{IDs: true, Below: true}, Worldly: true,
		Say: below(byIDs("in the album", func(n *Names) map[int64]string { return n.Albums }, removed, "")),
		SQL: related("select asset_id from album_item where album_id = any(%s)", ""), Set: oneOf("album")})
	register(Field{Name: "tag", Takes: Takes{IDs: true, Missing: true}, Worldly: true,
		Say: byIDs("tagged", func(n *Names) map[int64]string { return n.Tags }, removed, "without tags"),
		SQL: related("select asset_id from asset_tag where tag_id = any(%s)", "not exists (select from asset_tag t where t.asset_id = a.id)"),
		Set: oneOf("tag")})
	register(Field{Name: "outlet", Takes: Takes{IDs: true},
		Say: byIDs("from", func(n *Names) map[int64]string { return n.Outlets }, removed, ""),
		SQL: related("select asset_id from asset_origin where outlet_id = any(%s)", ""), Set: oneOf("outlet")})
	register(Field{Name: "intake", Takes: Takes{IDs: true}, Say: plain("from one intake"),
		SQL: related("select asset_id from intake_file where intake_id = any(%s) and state in ('added', 'version')", ""),
		Set: oneOf("intake")})
	register(Field{Name: "item", Takes: Takes{IDs: true},
		Say: func(r *Rule, _ *Names) string { return "one of " + Items(len(r.IDs)) },
		SQL: func(w Where, r *Rule, _ int64) string {
			return fmt.Sprintf("coalesce(a.id = any(%s), false)", w.Arg(r.IDs))
		},
		Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Any: []*roaring.Bitmap{ix.Known(r.IDs)}} }})
}

const removed = "something that was removed"

// byIDs says a comparison by ids: what comes before their names, what stands for one that has none any more, and what is said of items
// that have no value.
func byIDs(about string, of func(*Names) map[int64]string, gone, missing string) func(*Rule, *Names) string {
	return func(r *Rule, n *Names) string {
		var out []string
		for _, id := range r.IDs {
			name, known := of(n)[id]
			if !known {
				name = gone
			}
			out = append(out, name)
		}
		said := about + " " + or(out)
		switch {
		case r.Missing && len(out) == 0:
			return missing
		case r.Missing:
			return missing + " or " + said
		case len(out) == 0:
			return ""
		}
		return said
	}
}

// below says that what is below is meant, too.
func below(say func(*Rule, *Names) string) func(*Rule, *Names) string {
	return func(r *Rule, n *Names) string {
		if r.Below {
			return say(r, n) + " or below"
		}
		return say(r, n)
	}
}

// related is the condition that another table has an item with one of some ids.
func related(ids, missing string) func(Where, *Rule, int64) string {
	return func(w Where, r *Rule, _ int64) string {
		if r.Missing && len(r.IDs) == 0 {
			return missing
		}
		text := "a.id in (" + fmt.Sprintf(ids, w.Arg(r.IDs)) + ")"
		if r.Missing {
			return "(" + text + " or " + missing + ")"
		}
		return text
	}
}
