// Package leaving says what is against items going out: rights that ended, people who did not agree.
package leaving

import (
	"context"
	"slices"
	"time"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/facestore"
)

// Against is one thing that is said against sending out some items. Hinders says that they should not go out.
type Against struct {
	Reason  string // of sending.Reasons
	Hinders bool
	IDs     []int64
}

// Checked is what is said against sending out a selection. Fine is how many items nothing is said against.
type Checked struct {
	Items, Fine int
	Against     []Against // the gravest first
}

// Check says what is against some items; whole says that files go out with all that is written in them.
func Check(ctx context.Context, db *store.DB, brand int64, ids []int64, whole bool) (Checked, error) {
	return CheckFor(ctx, db, brand, ids, whole, time.Now())
}

// CheckFor is check for what goes out at a moment.
func CheckFor(ctx context.Context, db *store.DB, brand int64, ids []int64, whole bool, at time.Time) (Checked, error) {
	out := Checked{Items: len(ids)}
	against := map[string][]int64{}
	for some := range slices.Chunk(ids, 5000) {
		known, err := facestore.Leaving(ctx, db, brand, some)
		if err != nil {
			return out, err
		}
		for _, id := range some { // in their order
			leaving := known[id]
			leaving.SaysWhere = leaving.SaysWhere && whole
			reasons := sending.Check(leaving, at)
			if len(reasons) == 0 {
				out.Fine++
			}
			for _, reason := range reasons {
				against[reason] = append(against[reason], id)
			}
		}
	}
	for _, reason := range sending.Reasons {
		if items := against[reason]; len(items) > 0 {
			out.Against = append(out.Against, Against{reason, sending.Hinders(reason), items})
		}
	}
	return out, nil
}

// hindrance are the words for what keeps items from going out.
var Hindrance = map[string]string{
	sending.InTheBin: "in the bin", sending.RightsEnded: "their rights have ended",
	sending.NotAgreed: "somebody who is shown does not agree", sending.AgreedOnce: "the consent of somebody who is shown has run out",
}
