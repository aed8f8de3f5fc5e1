// Package preparing is making pictures and clips look as they should be seen: recipes of one or many items, looks, what the machine
// proposes, and other files in the place of old ones. The files stay as they are.
package preparing

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
)

// Service prepares items.
type Service struct {
	DB         *store.DB
	Queue      *queue.Queue
	Renditions *renditions.Service

	change   *pieces.Registered[recipe.Change]
	alike    *pieces.Registered[alike]
	replaced *pieces.Registered[replace]
}

// New returns the service, with its acts made known.
func New(db *store.DB, jobs *queue.Queue, made *renditions.Service, many *pieces.Service) *Service {
	s := &Service{DB: db, Queue: jobs, Renditions: made}
	s.change = pieces.Register(many, s.changeAct())
	s.alike = pieces.Register(many, s.alikeAct())
	s.replaced = pieces.Register(many, s.replaceAct())
	return s
}

const act = "prepare"

func (s *Service) changeAct() pieces.Act[recipe.Change] {
	return pieces.Act[recipe.Change]{
		Name: act, Needs: access.Prepare,
		Doing: func(n int, c recipe.Change) string { doing, _ := c.Said(wording.Items(n)); return doing },
		Done: func(n, of int, c recipe.Change) string {
			_, done := c.Said(wording.Items(n))
			return done + wording.Rest(n, of, "stays as it is", "stay as they are")
		},
		Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, c recipe.Change) (int, error) {
			return s.set(ctx, tx, p.Viewer.Brand, p.IDs, func(item recipestore.Prepared) recipe.Recipe {
				if !prepared(item.Kind) {
					return item.Recipe.Recipe
				}
				to := c.Apply(item.Recipe.Recipe, item.FileSize(), geometry.Point{X: item.FocalX, Y: item.FocalY})
				return to.For(item.Kind)
			})
		},
	}
}

// prepared says whether items of a kind have a recipe.
func prepared(kind string) bool { return kind == "picture" || kind == "clip" }

// set changes recipes and has the machine look into what changed, which also makes the previews; and the films of clips, which somebody
// waits for.
func (s *Service) set(ctx context.Context, tx *store.Tx, brand int64, ids []int64, next func(recipestore.Prepared) recipe.Recipe) (int,
	error) {
	jobs := map[int64]looking.Look{}
	changed, err := recipestore.SetRecipes(ctx, tx, ids, func(item recipestore.Prepared) recipe.Recipe {
		job := looking.Look{Brand: brand, Asset: item.ID}
		if item.Kind == "picture" {
			job.Prepared = time.Now()
		}
		jobs[item.ID] = job
		return next(item)
	})
	if err != nil {
		return 0, err
	}
	wanted := make([]queue.Args, len(changed))
	for i, id := range changed {
		wanted[i] = jobs[id]
	}
	return len(changed), s.Queue.EnqueueAll(ctx, tx, wanted)
}

// Change changes the recipes of a selection. Drawings, documents and animations among it stay as they are, and clips get what suits them.
func (s *Service) Change(ctx context.Context, v *access.Viewer, sel query.Selection, c recipe.Change, from int64) (store.Done, error) {
	if from != 0 {
		model, err := assetstore.AssetByID(ctx, s.DB, v, from)
		if err != nil {
			return store.Done{}, err
		}
		c.From = &model.Recipe.Recipe
	}
	if c.Look != nil && c.Look.ID != 0 {
		look, err := recipestore.LookByID(ctx, s.DB, v.Brand, c.Look.ID)
		if err != nil {
			return store.Done{}, err
		}
		c.Look = &recipe.Layer{ID: look.ID, Strength: c.Look.Strength, Values: look.Values.Adjustments}
		c.LookName = look.Name
	}
	if err := c.Check(); err != nil {
		return store.Done{}, err
	}
	done, err := s.change.Do(ctx, v, sel, pieces.Just(c))
	if err != nil || done.Trail == 0 || done.GoesOn || (c.Turn == 0 && !c.Flip) {
		return done, err
	}
	// whoever turns by a key does it several times, and takes it back at once
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		step, said, err := tx.FoldStep(ctx, done.Trail)
		if err == nil {
			done.Trail, done.Said = step, cmp.Or(said, done.Said)
		}
		return err
	})
	if err != nil { // it is turned, as two steps
		slog.Error("turning several times could not be made one step", "error", err)
	}
	return done, nil
}

// Set gives one item a recipe. Base is the hash of the one that this was made from: where the item has another meanwhile, that is a
// *fault.Conflict that says whose it is. A step of the trail in which the same person prepared the item before is gone on with, so that
// one sitting is one act; 0 is none.
func (s *Service) Set(ctx context.Context, v *access.Viewer, asset int64, base string, to recipe.Recipe, step int64) (store.Done, error) {
	if err := to.Check(); err != nil {
		return store.Done{}, err
	}
	to = to.Normal()
	change := func(tx *store.Tx, known bool) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Prepare, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		var was recipe.Recipe
		var wrong error
		n, err := s.set(ctx, tx, v.Brand, []int64{asset}, func(item recipestore.Prepared) recipe.Recipe {
			was = item.Recipe.Recipe
			switch {
			case to.CheckFor(item.Kind) != nil:
				wrong = to.CheckFor(item.Kind)
			case item.Kind == "clip" && to.FilmOf().From > max(0, item.Seconds-recipe.ShortestClip):
				wrong = fault.Invalidf("film", "The clip is %.2f seconds long, and ends before what should remain of it begins.", item.Seconds)
			case !known && was.Hash() != base && !was.Same(to):
				wrong = errElse
			default:
				return to
			}
			return was
		})
		if err == nil {
			err = wrong
		}
		return store.Done{Said: "Prepared 1 item: " + recipe.Say(recipe.Changes(was, to)), Changed: n, ID: asset}, err
	}
	if step != 0 {
		done, joined, err := s.join(ctx, v, asset, step, change)
		if joined || err != nil {
			return done, s.whose(ctx, asset, err)
		}
	}
	done, err := s.DB.Act(ctx, v, act, func(tx *store.Tx) (store.Done, error) { return change(tx, false) })
	return done, s.whose(ctx, asset, err)
}

// errElse says that an item has another recipe than was thought.
var errElse = errors.New("the item has another recipe")

// join does a change as a part of an earlier step, which says for sure what recipe the item has now.
func (s *Service) join(ctx context.Context, v *access.Viewer, asset, step int64, change func(*store.Tx, bool) (store.Done, error)) (
	done store.Done, joined bool, err error) {
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if joined, err = recipestore.JoinPreparing(ctx, tx, v.Brand, v.Person, asset, step); err != nil || !joined {
			return err
		}
		if done, err = change(tx, true); err != nil || done.Changed == 0 {
			return err
		}
		was, is, err := recipestore.MergePreparing(ctx, tx, step)
		if err != nil {
			return err
		}
		done.Trail, done.Said = step, "Prepared 1 item: "+recipe.Say(recipe.Changes(was.Recipe, is.Recipe))
		if was.Same(is.Recipe) {
			done.Said = "Prepared 1 item, and put it back as it was"
		}
		return tx.SayOfStep(ctx, step, done.Said)
	})
	return done, joined, err
}

// whose words that somebody else prepared an item meanwhile.
func (s *Service) whose(ctx context.Context, asset int64, err error) error {
	if !errors.Is(err, errElse) {
		return err
	}
	last, err := recipestore.RecipesOf(ctx, s.DB, asset, 1)
	if err != nil {
		return err
	}
	conflict := &fault.Conflict{Field: "recipe", Text: "It was prepared differently meanwhile. Look at that before yours goes over it."}
	if len(last) > 0 {
		conflict.By = last[0].By
		conflict.Theirs = recipe.Say(recipe.Changes(last[0].Was.Recipe, last[0].Recipe.Recipe))
		conflict.Text = fmt.Sprintf("%s has prepared it meanwhile: %s. Look at that before yours goes over it.", conflict.By, conflict.Theirs)
	}
	return conflict
}

// Earlier is a recipe that an item had, with what made it differ from the one before, in words.
type Earlier struct {
	recipestore.RecipeStep
	Words []string
}

// mostEarlier is how many recipes of an item are listed.
const mostEarlier = 50

// History lists the recipes that an item had, the newest first.
func (s *Service) History(ctx context.Context, v *access.Viewer, asset int64) ([]Earlier, error) {
	if _, err := assetstore.AssetByID(ctx, s.DB, v, asset); err != nil {
		return nil, err
	}
	steps, err := recipestore.RecipesOf(ctx, s.DB, asset, mostEarlier)
	out := make([]Earlier, len(steps))
	for i, step := range steps {
		out[i] = Earlier{step, recipe.Changes(step.Was.Recipe, step.Recipe.Recipe)}
	}
	return out, err
}
