package query

import (
	"fmt"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
)

func init() {
	register(Field{Name: "colour", Takes: Takes{Names: true, Range: true}, Dear: 2, // #rrggbb, of which the picture has so many percent
		Check: func(r *Rule) error {
			for _, name := range r.Names {
				if _, err := likeness.ParseColour(name); err != nil {
					return fault.Invalidf("filter", "%v.", err)
				}
			}
			return nil
		},
		Say: func(r *Rule, _ *Names) string { return "with the colour " + or(r.Names) },
		SQL: func(w Where, r *Rule, _ int64) string {
			if by := r.Colours(); len(by.Any) > 0 {
				return fmt.Sprintf("%s >= %s", by.ShareSQL(w), w.Arg(by.From))
			}
			return "false"
		},
		Set: func(ix Index, r *Rule, _ int64) Sought {
			dominated, _ := ix.Looks()
			return Sought{Each: dominated(r.Colours())}
		}})
	register(Field{Name: "like", Takes: Takes{IDs: true}, Worldly: true, Dear: 2, Say: plain("like one picture"),
		SQL: func(w Where, r *Rule, _ int64) string {
			m := r.Model()
			return fmt.Sprintf("(likeness_bits(a.likeness, %s) <= %d or colour_overlap(a.colours, %s) >= %d)", w.Arg(int64(m.Likeness)),
				likeness.LikeBits, w.Arg(likeness.Ints(m.Shades)), likeness.LikeOverlap)
		},
		Set: func(ix Index, r *Rule, _ int64) Sought {
			_, like := ix.Looks()
			return Sought{Each: like(r.Model())}
		}})
}

// ShareSQL is the most that an item has of one of the colours, in percent.
func (c Colours) ShareSQL(w Where) string {
	wanted := make([]likeness.Shade, len(c.Any))
	for i, lab := range c.Any {
		wanted[i] = likeness.NewShade(lab, 0)
	}
	return fmt.Sprintf("(select coalesce(max(colour_share(a.colours, w)), 0) from unnest(%s::int[]) w)", w.Arg(likeness.Ints(wanted)))
}
