package choosing

import (
	"context"
	"fmt"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// longestStage is how many characters the name of a stage may have.
const longestStage = 60

// atStage is the stage that items get; 0 is none.
type atStage struct {
	Stage int64  `json:"stage"`
	Name  string `json:"name"`
}

var stageAct = pieces.Act[atStage]{
	Name: "stage", Needs: access.Describe,
	Doing: func(n int, s atStage) string {
		if s.Stage == 0 {
			return fmt.Sprintf("Taking %s out of their stages", wording.Items(n))
		}
		return fmt.Sprintf("Putting %s at “%s”", wording.Items(n), s.Name)
	},
	Done: func(n, _ int, s atStage) string {
		if s.Stage == 0 {
			return fmt.Sprintf("Took the stage off %s", wording.Items(n))
		}
		return fmt.Sprintf("Put %s at “%s”", wording.Items(n), s.Name)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, s atStage) (int, error) {
		return assetstore.StageAssets(ctx, tx, p.IDs, s.Stage)
	},
}

// Stages lists the stages of the brand, in their order.
func (s *Service) Stages(ctx context.Context, v *access.Viewer) ([]assetstore.Stage, error) {
	return assetstore.Stages(ctx, s.db, v.Brand)
}

// Stage puts a selection at a stage (XMP Label); 0 takes it out of the one it is at.
func (s *Service) Stage(ctx context.Context, v *access.Viewer, sel query.Selection, stage int64) (store.Done, error) {
	return s.stage.Do(ctx, v, sel, func(tx *store.Tx) (atStage, error) {
		if stage == 0 {
			return atStage{}, nil
		}
		found, err := assetstore.StageByID(ctx, tx, v.Brand, stage)
		return atStage{Stage: found.ID, Name: found.Name}, err
	})
}

// stageName cleans the name of a stage.
func stageName(name string) (string, error) {
	name = strings.Join(strings.Fields(norm.NFC.String(name)), " ")
	if name == "" || len([]rune(name)) > longestStage {
		return "", fault.Invalidf("name", "The name of a stage has between 1 and %d characters.", longestStage)
	}
	return name, nil
}

const changeStage = "change_stage"

// ChangeStage gives a stage another name, or another place among the others, counted from 0.
func (s *Service) ChangeStage(ctx context.Context, v *access.Viewer, id int64, name *string, place *int) (store.Done, error) {
	if name != nil {
		clean, err := stageName(*name)
		if err != nil {
			return store.Done{}, err
		}
		name = &clean
	}
	return s.db.Act(ctx, v, changeStage, func(tx *store.Tx) (store.Done, error) {
		was, err := assetstore.StageByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		done := store.Done{Said: "Nothing to change"}
		if place != nil {
			done.Said = fmt.Sprintf("Moved the stage “%s”", was.Name)
			done.Changed, err = assetstore.PlaceStage(ctx, tx, v.Brand, id, *place)
		}
		if err == nil && name != nil && *name != was.Name {
			done.Said = fmt.Sprintf("Renamed the stage “%s” to “%s”", was.Name, *name)
			done.Changed, err = assetstore.RenameStage(ctx, tx, v.Brand, id, *name)
		}
		return done, err
	})
}

// RemoveStage removes a stage that no item is at, also none in the bin.
func (s *Service) RemoveStage(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.db.Act(ctx, v, changeStage, func(tx *store.Tx) (store.Done, error) {
		was, err := assetstore.StageByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		n, err := assetstore.RemoveStage(ctx, tx, v.Brand, id)
		return store.Done{Said: fmt.Sprintf("Removed the stage “%s”", was.Name), Changed: n}, err
	})
}

// MakeStage makes a stage after the others, and puts the items at it that have none and whose files say it as their label.
func (s *Service) MakeStage(ctx context.Context, v *access.Viewer, name string) (store.Done, error) {
	name, err := stageName(name)
	if err != nil {
		return store.Done{}, err
	}
	labelled, err := assetstore.Labelled(ctx, s.db, v.Brand, name)
	if err != nil {
		return store.Done{}, err
	}
	var made int64
	make := func(tx *store.Tx) (atStage, error) {
		var err error
		made, err = assetstore.EnsureStage(ctx, tx, v.Brand, name)
		return atStage{Stage: made, Name: name}, err
	}
	if len(labelled) > 0 {
		return s.stage.DoTo(ctx, v, labelled, make)
	}
	return s.db.Act(ctx, v, stageAct.Name, func(tx *store.Tx) (store.Done, error) {
		_, err := make(tx)
		return store.Done{Said: fmt.Sprintf("Made the stage “%s”", name), Changed: 1, ID: made}, err
	})
}
