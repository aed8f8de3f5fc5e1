package bringin

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// Pair is two items that look alike: what came later, what was here, and how the later one differs, in words.
type Pair struct {
	Later, Earlier assetstore.Asset
	Differences    []string
	LaterState     bool // the later one came back from another program
}

const twinsListed = 100

// Twins lists possible duplicates that nobody has decided about, newest first: all, or those of one intake.
func (s *Service) Twins(ctx context.Context, v *access.Viewer, intake int64) ([]Pair, error) {
	open, err := assetstore.OpenTwins(ctx, s.DB, v, intake, twinsListed)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, 0, 2*len(open))
	for _, t := range open {
		ids = append(ids, t.Asset, t.Other)
	}
	assets, err := assetstore.AssetsIn(ctx, s.DB, v.Brand, ids)
	byID := map[int64]assetstore.Asset{}
	for _, a := range assets {
		byID[a.ID] = a
	}
	pairs := make([]Pair, len(open))
	for i, t := range open {
		later, earlier := byID[t.Asset], byID[t.Other]
		pairs[i] = Pair{
			Later:       later,
			Earlier:     earlier,
			Differences: likeness.Differences(assetstore.Compared(earlier), assetstore.Compared(later)),
			LaterState:  t.Reason == "later_state",
		}
	}
	return pairs, err
}

// DecideTwins settles a pair: "different" keeps both and does not ask again, "bin_later" and "bin_earlier" put one into
// the bin, "version" makes the later file the newest version of the earlier item, "stack" puts both into one stack, with the later one in
// front.
func (s *Service) DecideTwins(ctx context.Context, v *access.Viewer, later, earlier int64, decision string) (store.Done, error) {
	one, err := assetstore.AssetByID(ctx, s.DB, v, later)
	if err != nil {
		return store.Done{}, err
	}
	two, err := assetstore.AssetByID(ctx, s.DB, v, earlier)
	if err != nil {
		return store.Done{}, err
	}
	remove, change := v.May(access.Remove), v.May(access.Describe)
	if !change.Folder(one.Folder.Int64) ||
		(decision == "bin_later" || decision == "version") && !remove.Folder(one.Folder.Int64) ||
		decision == "bin_earlier" && !remove.Folder(two.Folder.Int64) || decision == "version" && !change.Folder(two.Folder.Int64) {
		return store.Done{}, fault.Forbiddenf("You may not do that to both of them.")
	}
	return s.DB.Act(ctx, v, "decide_twins", func(tx *store.Tx) (store.Done, error) {
		state, said := "settled", ""
		var err error
		switch decision {
		case "different":
			state, said = "different", "Both are kept"
		case "bin_later":
			said = "Put “" + titleOf(one) + "” in the bin"
			_, err = assetstore.BinAssets(ctx, tx, []int64{later}, true)
		case "bin_earlier":
			said = "Put “" + titleOf(two) + "” in the bin"
			_, err = assetstore.BinAssets(ctx, tx, []int64{earlier}, true)
		case "stack":
			said = "Stacked “" + titleOf(one) + "” with “" + titleOf(two) + "”"
			err = s.stackTwins(ctx, tx, v, later, earlier)
		case "version":
			said = "“" + one.FileName + "” is the newest version of “" + titleOf(two) + "”"
			err = s.mergeTwin(ctx, tx, v, later, earlier)
		default:
			return store.Done{}, fault.Invalidf("decision", "%q is not a decision.", decision)
		}
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: said, Changed: 1}, assetstore.SettleTwin(ctx, tx, v.Brand, later, earlier, state)
	})
}

// stackTwins stacks a later state with its original and all that is stacked with either.
func (s *Service) stackTwins(ctx context.Context, tx *store.Tx, v *access.Viewer, later, earlier int64) error {
	all, err := assetstore.StackedWith(ctx, tx, v.Brand, []int64{later, earlier})
	if err != nil {
		return err
	}
	if err := store.StillReachable(ctx, tx, v, access.File, all); err != nil {
		return fault.Forbiddenf("You can't change all items of that stack. Nothing was changed.")
	}
	return assetstore.Stack(ctx, tx, v.Brand, []int64{later, earlier}, later)
}

func (s *Service) mergeTwin(ctx context.Context, tx *store.Tx, v *access.Viewer, later, earlier int64) error {
	file, err := assetstore.FileOf(ctx, tx, later)
	if err != nil {
		return err
	}
	if _, err := assetstore.AddVersion(ctx, tx, v.Brand, earlier, file); err != nil {
		return err
	}
	if _, err := assetstore.BinAssets(ctx, tx, []int64{later}, true); err != nil {
		return err
	}
	return s.Queue.Enqueue(ctx, tx, looking.Look{Brand: v.Brand, Asset: earlier})
}

func titleOf(a assetstore.Asset) string {
	if a.Title != "" {
		return a.Title
	}
	return a.FileName
}
