package access

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWhatRolesMayDo(t *testing.T) {
	cases := []struct {
		role Role
		may  []Action
		not  []Action
	}{
		{Steward, Actions, nil},
		{Coordinator, []Action{BringIn, File, Gather, Remove, Download, Galleries, SetAside, Trail, Closed}, []Action{Settings, EmptyBin}},
		{Contributor, []Action{Look, Rate, Keep, Carry}, []Action{BringIn, File, Describe, Remove, Gather, Download, SetAside, Trail}},
		{Reviewer, []Action{Look, Rate, Keep, Carry}, []Action{BringIn, File, Describe, Remove, Gather, Download, SetAside, Closed}},
		{Associate, nil, []Action{Look, BringIn, File, Describe, Rate, Keep, Carry, Remove, Gather, Download, Galleries}},
	}
	for _, c := range cases {
		actor := Actor{Role: c.role}
		for _, a := range c.may {
			assert.True(t, actor.Can(a), "%s may %s", c.role, a)
			assert.True(t, actor.Reach(a, nil).All, "%s may %s everywhere", c.role, a)
		}
		for _, a := range c.not {
			assert.False(t, actor.Can(a), "%s may not %s", c.role, a)
			assert.True(t, actor.Reach(a, nil).None(), "%s may %s nowhere", c.role, a)
		}
	}
}

func TestWhoMaySetAsideIsWhoMayDescribe(t *testing.T) {
	for _, level := range []Level{LevelLook, LevelContribute, LevelManage} {
		actor := Actor{Role: Contributor, Grants: []Grant{{Folder: 1, Level: level}}}
		assert.Equal(t, actor.Reach(Describe, Tree{1: 0}), actor.Reach(SetAside, Tree{1: 0}), level)
	}
	undoing := Tables{}.Undoing([]Changed{{Table: "asset", Column: "aside"}})
	assert.Equal(t, []Action{SetAside}, undoing)
	for _, role := range []Role{Steward, Coordinator, Contributor, Associate} {
		assert.True(t, Actor{Role: role}.StarsCount(false), role)
	}
	assert.True(t, Actor{Role: Reviewer}.StarsCount(true))
	assert.False(t, Actor{Role: Reviewer}.StarsCount(false))
}

func TestABrandIsNeverWithoutASteward(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		roles := rapid.SliceOfN(rapid.SampledFrom([]Role{Steward, Coordinator, Reviewer}), 1, 6).Draw(rt, "roles")
		people := make([]Actor, len(roles))
		for i, role := range roles {
			people[i] = Actor{Person: int64(i + 1), Role: role}
		}
		leaving := rapid.IntRange(0, len(roles)-1).Draw(rt, "leaving")
		left := slices.Delete(slices.Clone(roles), leaving, leaving+1)
		assert.Equal(rt, !slices.Contains(left, Steward), NeedsSteward(people, int64(leaving+1)))
	})
}

func TestAGrantNeverLiftsAReviewer(t *testing.T) {
	actor := Actor{Role: Reviewer, Grants: []Grant{{Folder: 1, Level: LevelManage}}}
	assert.False(t, actor.Can(File))
	assert.True(t, actor.Reach(File, Tree{1: 0}).None())
}

func TestAlbumGrantsLetOneLookOnly(t *testing.T) {
	actor := Actor{Role: Associate, Grants: []Grant{{Album: 7, Level: LevelManage}}}
	assert.Equal(t, []int64{7}, actor.Reach(Look, nil).AlbumIDs())
	assert.True(t, actor.Reach(Describe, nil).None())
}

func TestUndoIsForOnesOwnUnlessOneCoordinates(t *testing.T) {
	assert.True(t, Actor{Person: 3, Role: Reviewer}.MayUndo(3))
	assert.False(t, Actor{Person: 3, Role: Reviewer}.MayUndo(4))
	assert.True(t, Actor{Person: 3, Role: Coordinator}.MayUndo(4))
}

// trees draws a tree of up to 40 folders in which every parent has a smaller id than its children.
func trees(t *rapid.T) Tree {
	n := rapid.IntRange(1, 40).Draw(t, "folders")
	tree := Tree{}
	for id := 1; id <= n; id++ {
		tree[int64(id)] = int64(rapid.IntRange(0, id-1).Draw(t, "parent"))
	}
	return tree
}

func TestGrantsAreInheritedDownwardsAndNeverLeakSideways(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		tree := trees(t)
		root := int64(rapid.IntRange(1, len(tree)).Draw(t, "granted"))
		level := rapid.SampledFrom([]Level{LevelLook, LevelContribute, LevelManage}).Draw(t, "level")
		action := rapid.SampledFrom(Actions).Draw(t, "action")
		actor := Actor{Role: Associate, Grants: []Grant{{Folder: root, Level: level}}}
		reach := actor.Reach(action, tree)
		if action == Undo {
			return
		}
		gives := slices.Contains(granted[level], action)
		for id := range tree {
			below := false
			for f := id; f != 0; f = tree[f] {
				below = below || f == root
			}
			assert.Equal(t, gives && below, reach.Folder(id), "folder %d, grant on %d", id, root)
		}
		assert.False(t, reach.Folder(0), "no grant covers Unfiled")
	})
}

func TestACycleEnds(t *testing.T) {
	assert.False(t, Tree{1: 2, 2: 1}.Within(1, 9))
}

func TestWhoGains(t *testing.T) {
	tree := Tree{1: 0, 2: 1, 3: 0}
	everyone := []Actor{{Person: 1, Role: Coordinator}, {Person: 2, Role: Associate, Grants: []Grant{{Folder: 1, Level: LevelLook}}},
		{Person: 3, Role: Associate, Grants: []Grant{{Folder: 3, Level: LevelManage}}},
		{Person: 4, Role: Reviewer}}
	gain := func(from []int64, to int64) []int64 {
		out := []int64{}
		for _, a := range Gain(everyone, tree, from, to) {
			out = append(out, a.Person)
		}
		return out
	}
	assert.Equal(t, []int64{2}, gain([]int64{0}, 2), "a folder inside the granted one")
	assert.Equal(t, []int64{3}, gain([]int64{1, 2}, 3))
	assert.Empty(t, gain([]int64{2}, 1), "it could be seen before")
	assert.Empty(t, gain([]int64{1, 3}, 0), "nobody is granted what is unfiled")
	assert.Equal(t, []int64{2}, gain([]int64{2, 3}, 1), "it gains by what came from where it could not be seen")
	assert.Equal(t, []int64{1, 2}, tree.Path(2))
}
