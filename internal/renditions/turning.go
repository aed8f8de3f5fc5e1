package renditions

import (
	"context"

	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
)

// Turn is the job that gives a picture a turn: its previews are made first, and then it changes everywhere at once.
type Turn struct {
	Brand int64 `json:"brand"`
	Asset int64 `json:"asset"`
	Turn  int   `json:"turn"` // degrees clockwise
}

// Kind names the job in the queue.
func (Turn) Kind() string { return "turn" }

func (s *Service) addTurning() {
	// A picture that could not be turned stays as it is, and is seen so.
	queue.Add(s.Queue, queue.Kind[Turn]{Do: s.turn, GaveUp: queue.Nothing[Turn], Tries: queue.Soon, Queue: queue.Waited})
}

func (s *Service) turn(ctx context.Context, job Turn) error {
	found, err := assetstore.AssetsIn(ctx, s.DB, job.Brand, []int64{job.Asset})
	if err != nil || len(found) == 0 {
		return err
	}
	a := found[0]
	if err := (recipe.Recipe{Turn: job.Turn}).Check(); err != nil || a.Kind != "picture" {
		return err
	}
	to := a.Recipe.Turned(job.Turn - a.Recipe.Turn)
	if to.Same(a.Recipe.Recipe) {
		return nil
	}
	if err := s.makePreviews(ctx, a, to); err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		changed, err := recipestore.SetRecipes(ctx, tx, []int64{a.ID}, func(now recipestore.Prepared) recipe.Recipe {
			if now.Version != a.VersionID || !now.Recipe.Same(a.Recipe.Recipe) {
				return now.Recipe.Recipe // it is another one meanwhile
			}
			return to
		})
		if err != nil || len(changed) == 0 {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, looking.Look{Brand: job.Brand, Asset: a.ID})
	})
}
