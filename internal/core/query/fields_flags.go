package query

import (
	"fmt"

	"github.com/RoaringBitmap/roaring/v2"
)

func init() {
	flag := func(name, said, sql string) {
		register(Field{Name: name, Dear: 1, Say: plain(said), SQL: func(Where, *Rule, int64) string { return sql },
			Set: func(ix Index, _ *Rule, _ int64) Sought { return Sought{Any: []*roaring.Bitmap{ix.Flagged(name)}} }})
	}
	flag("binned", "in the bin", "a.binned_at is not null")
	// A stack shows its front. What is not stacked beside its front any more is shown by itself.
	flag("behind", "behind its front", `(a.stack_id is not null and not a.stack_front and exists (select from asset p
		where p.stack_id = a.stack_id and p.stack_front and p.binned_at is null and p.folder_id is not distinct from a.folder_id))`)
	register(Field{Name: "keeper", Say: plain("my keepers"),
		SQL: func(w Where, _ *Rule, person int64) string {
			return fmt.Sprintf("exists (select from keeper k where k.asset_id = a.id and k.person_id = %s)", w.Arg(person))
		},
		Set: func(ix Index, _ *Rule, person int64) Sought { return Sought{Any: ix.ByID("keeper").Of(person)} }})
	// With Missing it is everything, also what was set aside.
	register(Field{Name: "aside", Takes: Takes{Missing: true}, Dear: 1, Say: plain("set aside"),
		SQL: func(_ Where, r *Rule, _ int64) string {
			if r.Missing {
				return "true"
			}
			return "a.stars < 0"
		},
		Set: func(ix Index, r *Rule, _ int64) Sought {
			if r.Missing {
				return Sought{Any: []*roaring.Bitmap{ix.All()}}
			}
			return Sought{Any: ix.Starred(func(stars int64) bool { return stars < 0 })}
		}})
}
