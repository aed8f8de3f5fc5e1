package preparing_test

import (
	"context"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/preparing"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/recipestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/upkeep"
)

var ctx = context.Background()

// bench is a brand with some pictures to prepare.
type bench struct {
	*testing.T
	db     *store.DB
	s      *preparing.Service
	jobs   *queue.Queue
	up     *upkeep.Service
	people map[access.Role]*access.Viewer
	v      *access.Viewer
	ids    []int64
}

func newBench(t *testing.T, code string) *bench {
	db := storetest.New(t)
	people := storetest.Brand(t, db, code)
	many, jobs := piecestest.New(t, db)
	(&looking.Service{DB: db, Queue: jobs}).AddJobs()
	return &bench{t, db, preparing.New(db, jobs, nil, many), jobs, upkeep.New(db, many), people, people[access.Coordinator],
		storetest.Items(t, db, people[access.Coordinator], 0, "a.jpg", "b.jpg", "c.jpg")}
}

func (b *bench) item(id int64) assetstore.Asset {
	a, err := assetstore.AssetByID(ctx, b.db, b.v, id)
	require.NoError(b, err)
	return a
}

func (b *bench) set(id int64, to recipe.Recipe, step int64) store.Done {
	b.Helper()
	done, err := b.s.Set(ctx, b.v, id, b.item(id).Recipe.Hash(), to, step)
	require.NoError(b, err)
	return done
}

func brighter(ev float64) recipe.Recipe {
	return recipe.Recipe{Adjustments: recipe.Adjustments{Exposure: ev}}
}

func TestOneSittingIsOneStep(t *testing.T) {
	b := newBench(t, "sitting")
	id := b.ids[0]
	first := b.set(id, brighter(0.5), 0)
	assert.Equal(t, "Prepared 1 item: Exposure +0.5 EV", first.Said)
	cropped := brighter(0.7)
	cropped.Crop = &recipe.Crop{X: 0.25, Y: 0, Width: 0.5, Height: 1}
	second := b.set(id, cropped, first.Trail)
	assert.Equal(t, first.Trail, second.Trail)
	assert.Equal(t, "Prepared 1 item: Cropped and Exposure +0.7 EV", second.Said)
	a := b.item(id)
	assert.Equal(t, [2]int{800, 1067}, [2]int{a.Width, a.Height}, "its dimensions are those of the crop")
	third, err := b.s.Set(ctx, b.v, id, "", cropped.Turned(90), second.Trail)
	require.NoError(t, err, "who goes on with a step need not know the hash of what it left")
	a = b.item(id)
	assert.Equal(t, [2]int{1067, 800}, [2]int{a.Width, a.Height})

	history, err := b.s.History(ctx, b.v, id)
	require.NoError(t, err)
	require.Len(t, history, 1)
	assert.Equal(t, []string{"Turned right", "Cropped", "Exposure +0.7 EV"}, history[0].Words)
	undone, err := b.up.Undo(ctx, b.v, third.Trail)
	require.NoError(t, err)
	assert.Equal(t, "Undone: prepared 1 item: Turned right, Cropped and Exposure +0.7 EV", undone.Said)
	a = b.item(id)
	assert.True(t, a.Recipe.Neutral())
	assert.Equal(t, [2]int{1600, 1067}, [2]int{a.Width, a.Height})
	again := b.set(id, brighter(1), third.Trail)
	assert.NotEqual(t, third.Trail, again.Trail, "what was undone is not gone on with")
	other := b.set(b.ids[1], brighter(1), again.Trail)
	assert.NotEqual(t, again.Trail, other.Trail, "nor what was done to another item")
}

func TestTheLaterSeesWhatTheEarlierDid(t *testing.T) {
	b := newBench(t, "later")
	id := b.ids[0]
	steward := b.people[access.Steward]
	_, err := b.s.Set(ctx, steward, id, "", brighter(-0.3), 0)
	require.NoError(t, err)
	_, err = b.s.Set(ctx, b.v, id, "", brighter(1), 0)
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, "The steward", conflict.By)
	assert.Equal(t, "Exposure −0.3 EV", conflict.Theirs)
	assert.InDelta(t, -0.3, b.item(id).Recipe.Exposure, 1e-9, "nothing was overwritten")
	same, err := b.s.Set(ctx, b.v, id, "", brighter(-0.3), 0)
	require.NoError(t, err, "who wants the same gets it")
	assert.Zero(t, same.Changed)

	var wins, losses sync.Map
	var all sync.WaitGroup
	base := b.item(id).Recipe.Hash()
	for i := range 40 {
		all.Go(func() {
			if _, err := b.s.Set(ctx, b.v, id, base, brighter(float64(i+1)/20), 0); err == nil {
				wins.Store(i, true)
			} else if assert.ErrorAs(t, err, new(*fault.Conflict)) {
				losses.Store(i, true)
			}
		})
	}
	all.Wait()
	n := 0
	wins.Range(func(any, any) bool { n++; return true })
	assert.Equal(t, 1, n, "of forty at once one wins")
}

func TestPreparingIsForThoseWhoMay(t *testing.T) {
	b := newBench(t, "may")
	folder := store.Done{}
	for _, role := range []access.Role{access.Reviewer, access.Contributor, access.Associate} {
		v := b.people[role]
		_, err := b.s.Set(ctx, v, b.ids[0], "", brighter(1), 0)
		require.Error(t, err, role)
		_, err = b.s.Change(ctx, v, query.Selection{IDs: b.ids}, recipe.Change{Turn: 90}, 0)
		require.Error(t, err, role)
	}
	assert.True(t, b.item(b.ids[0]).Recipe.Neutral())
	done := b.set(b.ids[0], brighter(1), folder.Trail)
	_, err := b.up.Undo(ctx, b.people[access.Reviewer], done.Trail)
	require.Error(t, err)
	_, err = b.s.Set(ctx, b.v, b.ids[0], b.item(b.ids[0]).Recipe.Hash(), brighter(9), 0)
	require.ErrorContains(t, err, "Exposure goes from -4 to 4 EV")
	_, err = b.s.Set(ctx, b.v, 1<<40, "", brighter(1), 0)
	require.ErrorAs(t, err, new(*fault.NotFound))
	_, err = storetest.SQL(b.db).Exec(`update asset set kind = 'vector' where id = $1`, b.ids[2])
	require.NoError(t, err)
	_, err = b.s.Set(ctx, b.v, b.ids[2], "", brighter(1), 0)
	require.ErrorContains(t, err, "vector")
	many, err := b.s.Change(ctx, b.v, query.Selection{IDs: b.ids}, recipe.Change{Flip: true}, 0)
	require.NoError(t, err)
	assert.Equal(t, "Mirrored 2 items; 1 stays as it is", many.Said, "what has no recipe stays as it is")
}

func TestLooksArePutOnAndTakenOff(t *testing.T) {
	b := newBench(t, "looks")
	warm := recipe.Adjustments{Warmth: 20, Exposure: 0.4, Sharpen: 30}
	_, err := b.s.SaveLook(ctx, b.v, recipestore.PictureLook{Name: " ", Groups: []string{"colour"},
		Values: recipestore.Adjustments{Adjustments: warm}})
	require.ErrorContains(t, err, "name")
	_, err = b.s.SaveLook(ctx, b.v, recipestore.PictureLook{Name: "Edges", Groups: []string{"edges"},
		Values: recipestore.Adjustments{Adjustments: warm}})
	require.ErrorContains(t, err, "nothing")
	saved, err := b.s.SaveLook(ctx, b.v, recipestore.PictureLook{Name: "Late  sun", Groups: []string{"colour", "brightness"},
		Values: recipestore.Adjustments{Adjustments: warm}})
	require.NoError(t, err)
	assert.Equal(t, "Saved the look “Late sun”", saved.Said)
	_, err = b.s.SaveLook(ctx, b.v, recipestore.PictureLook{Name: "late sun", Groups: []string{"colour"},
		Values: recipestore.Adjustments{Adjustments: warm}})
	require.ErrorAs(t, err, new(*fault.Conflict))
	looks, err := b.s.Looks(ctx, b.v)
	require.NoError(t, err)
	require.Len(t, looks, 1)
	assert.Equal(t, recipe.Adjustments{Warmth: 20, Exposure: 0.4}, looks[0].Values.Adjustments, "texture was not chosen")

	own := b.set(b.ids[0], brighter(0.5), 0)
	require.NotZero(t, own.Trail)
	sel := query.Selection{IDs: b.ids}
	put, err := b.s.Change(ctx, b.v, sel, recipe.Change{Look: &recipe.Layer{ID: saved.ID, Strength: 50}}, 0)
	require.NoError(t, err)
	assert.Equal(t, "Put the look “Late sun” on 3 items", put.Said)
	both := b.item(b.ids[0]).Recipe.Effective()
	assert.InDelta(t, 0.7, both.Exposure, 1e-9)
	assert.InDelta(t, 10, both.Warmth, 1e-9)
	_, err = b.s.RemoveLook(ctx, b.v, saved.ID)
	require.NoError(t, err)
	assert.InDelta(t, 0.7, b.item(b.ids[0]).Recipe.Effective().Exposure, 1e-9, "what it was put on keeps it")
	_, err = b.s.Change(ctx, b.v, sel, recipe.Change{Look: &recipe.Layer{ID: saved.ID, Strength: 50}}, 0)
	require.ErrorAs(t, err, new(*fault.NotFound))
	off, err := b.s.Change(ctx, b.v, sel, recipe.Change{Back: []string{"look"}}, 0)
	require.NoError(t, err)
	assert.Equal(t, "Took the look off 3 items", off.Said)
	assert.InDelta(t, 0.5, b.item(b.ids[0]).Recipe.Effective().Exposure, 1e-9, "one's own stay")
	assert.True(t, b.item(b.ids[1]).Recipe.Neutral())

	carried, err := b.s.Change(ctx, b.v, query.Selection{IDs: b.ids[1:]}, recipe.Change{Parts: []string{"brightness"}}, b.ids[0])
	require.NoError(t, err)
	assert.Equal(t, "Carried brightness to 2 items", carried.Said)
	assert.InDelta(t, 0.5, b.item(b.ids[2]).Recipe.Exposure, 1e-9)
	prepared, err := findstore.Select(ctx, b.db, b.v, access.Look, query.Selection{Everything: &query.Query{Place: "everything",
		Filter: query.Both(query.Rule{Field: "state", Names: []string{"prepared"}})}})
	require.NoError(t, err)
	assert.Len(t, prepared, 3)
}

func TestManyArePreparedInPieces(t *testing.T) {
	b := newBench(t, "heap")
	names := make([]string, 300)
	for i := range names {
		names[i] = "heap" + string(rune('a'+i%26)) + string(rune('a'+i/26)) + ".jpg"
	}
	ids := storetest.Items(t, b.db, b.v, 0, names...)
	done, err := b.s.Change(ctx, b.v, query.Selection{IDs: ids}, recipe.Change{Turn: 90}, 0)
	require.NoError(t, err)
	assert.True(t, done.GoesOn)
	assert.Equal(t, "Turning 300 items right", done.Said)
}

// TestAFocalPointStaysOnWhatItWasOn crops and turns pictures of which somebody has set the focal point.
func TestAFocalPointStaysOnWhatItWasOn(t *testing.T) {
	b := newBench(t, "focal")
	id := b.ids[0]
	_, err := storetest.SQL(b.db).Exec(`update asset set focal_x = 0.75, focal_y = 0.5, focal_by = 'person' where id = $1`, id)
	require.NoError(t, err)
	done := b.set(id, recipe.Recipe{Crop: &recipe.Crop{X: 0.5, Y: 0, Width: 0.5, Height: 1}}, 0)
	a := b.item(id)
	assert.InDelta(t, 0.5, a.FocalX, 1e-3)
	b.set(id, a.Recipe.Turned(90), done.Trail)
	a = b.item(id)
	assert.InDelta(t, 0.5, a.FocalX, 1e-3)
	assert.InDelta(t, 0.5, a.FocalY, 1e-3)
	_, err = b.up.Undo(ctx, b.v, done.Trail)
	require.NoError(t, err)
	assert.InDelta(t, 0.75, b.item(id).FocalX, 1e-3)

	set, err := b.s.Focal(ctx, b.v, id, &geometry.Point{X: 0.2, Y: 3})
	require.NoError(t, err)
	a = b.item(id)
	assert.InDelta(t, 0.2, a.FocalX, 1e-3)
	assert.InDelta(t, 1, a.FocalY, 1e-3, "it lies on the picture")
	_, err = b.s.Focal(ctx, b.people[access.Reviewer], id, nil)
	require.Error(t, err)
	found, err := b.s.Focal(ctx, b.v, id, nil)
	require.NoError(t, err)
	_, err = storetest.SQL(b.db).Exec(`update asset set focal_x = 0.6, focal_y = 0.1 where id = $1`, id) // as the machine does
	require.NoError(t, err)
	assert.Equal(t, "proposed", b.item(id).FocalBy)
	_, err = b.up.Undo(ctx, b.v, found.Trail)
	require.NoError(t, err)
	_, err = b.up.Undo(ctx, b.v, set.Trail)
	require.NoError(t, err)
	assert.InDelta(t, 0.75, b.item(id).FocalX, 1e-3)
}

// TestForty turns in a row are one step, which takes all of them back; what comes in between begins another one.
func TestFortyTurnsAreOneStep(t *testing.T) {
	b := newBench(t, "turns")
	sel := query.Selection{IDs: b.ids}
	turn := func(degrees int) store.Done {
		done, err := b.s.Change(ctx, b.v, sel, recipe.Change{Turn: degrees}, 0)
		require.NoError(t, err)
		return done
	}
	first := turn(90)
	var last store.Done
	for range 38 {
		last = turn(90)
	}
	assert.Equal(t, first.Trail, last.Trail)
	assert.Contains(t, last.Said, ", 39 times in a row")
	assert.Equal(t, 270, b.item(b.ids[1]).Recipe.Turn)
	other := turn(-90)
	assert.NotEqual(t, last.Trail, other.Trail, "the other way is another step")
	trail, err := store.Trail(ctx, b.db, b.v.Brand, store.TrailFilter{Limit: 10})
	require.NoError(t, err)
	assert.Equal(t, other.Said, trail[0].Said)
	assert.Equal(t, last.Said, trail[1].Said)
	_, err = b.up.Undo(ctx, b.v, other.Trail)
	require.NoError(t, err)
	again := turn(90)
	assert.NotEqual(t, last.Trail, again.Trail, "something was done in between")
	_, err = b.up.Undo(ctx, b.v, again.Trail)
	require.NoError(t, err)
	_, err = b.up.Undo(ctx, b.v, last.Trail)
	require.NoError(t, err)
	assert.Zero(t, b.item(b.ids[1]).Recipe.Turn, "as it was before the first")
}
