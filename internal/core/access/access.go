// Package access is the one place that decides who may do what. It knows roles, folder grants and album grants; it does
// not know where they are stored. A role says what a person may do everywhere in a brand; a grant adds to that inside
// one folder, with everything below it, or for one album.
package access

import "slices"

// Role is what a person is in one brand.
type Role string

// The roles, from the most to the least that they may do.
const (
	Steward     Role = "steward"
	Coordinator Role = "coordinator"
	Contributor Role = "contributor"
	Reviewer    Role = "reviewer"
	Associate   Role = "associate"
)

// Action is something that a person may or may not do.
type Action string

// The actions that rights are given for.
const (
	Look      Action = "look"
	BringIn   Action = "bring_in"
	File      Action = "file"
	Describe  Action = "describe"
	Prepare   Action = "prepare"
	Rate      Action = "rate"
	SetAside  Action = "set_aside"
	Keep      Action = "keep"
	Carry     Action = "carry"
	Gather    Action = "gather"
	Remove    Action = "remove"
	Download  Action = "download"
	Galleries Action = "galleries"
	Undo      Action = "undo"
	Closed    Action = "closed_tags" // add to closed tag groups
	Trail     Action = "trail"       // read, and undo, what others did
	Settings  Action = "settings"
	EmptyBin  Action = "empty_bin"
)

// Actions lists every action in the order in which interfaces show them.
var Actions = []Action{Look, BringIn, File, Describe, Prepare, Rate, SetAside, Keep, Carry, Gather, Remove, Download, Galleries, Undo,
	Closed, Trail, Settings, EmptyBin}

// Level is how far a grant goes.
type Level string

// The levels of a grant; each includes the ones before it.
const (
	LevelLook       Level = "look"
	LevelContribute Level = "contribute"
	LevelManage     Level = "manage"
)

// Grant gives a person rights in one folder with everything below it, or in one album. The other id is 0.
type Grant struct {
	Folder int64
	Album  int64
	Level  Level
}

// Actor is a person in one brand.
type Actor struct {
	Person int64
	Brand  int64
	Role   Role
	Grants []Grant
}

// everywhere says which actions a role has in the whole brand.
var everywhere = map[Role][]Action{
	Steward:     Actions,
	Coordinator: Actions[:slices.Index(Actions, Settings)], // all but Settings and what comes after it
	Contributor: {Look, Rate, Keep, Carry, Undo},
	Reviewer:    {Look, Rate, Keep, Carry, Undo},
	Associate:   {Undo},
}

// granted says which actions a grant of a level gives inside what it was given for.
var granted = map[Level][]Action{
	LevelLook:       {Look, Keep, Carry},
	LevelContribute: {Look, Keep, Carry, Rate, SetAside, BringIn, Describe, Prepare, File},
	LevelManage:     {Look, Keep, Carry, Rate, SetAside, BringIn, Describe, Prepare, File, Remove},
}

// Tree maps each folder of a brand to its parent; 0 stands for the top.
type Tree map[int64]int64

// Within says whether folder is ancestor or lies anywhere below it. A cycle, which the store prevents, ends in false.
func (t Tree) Within(folder, ancestor int64) bool {
	for steps := 0; folder != 0 && steps <= len(t); steps++ {
		if folder == ancestor {
			return true
		}
		folder = t[folder]
	}
	return false
}

// Path returns a folder and those above it, from the top.
func (t Tree) Path(folder int64) []int64 {
	var out []int64
	for ; folder != 0 && len(out) <= len(t); folder = t[folder] {
		out = append(out, folder)
	}
	slices.Reverse(out)
	return out
}

// Below returns root and every folder below it, in no particular order.
func (t Tree) Below(root int64) []int64 {
	var out []int64
	for id := range t {
		if t.Within(id, root) {
			out = append(out, id)
		}
	}
	return out
}

// BelowAny returns the folders that are one of roots or below one, in one walk however many roots there are.
func (t Tree) BelowAny(roots map[int64]bool) map[int64]bool {
	out := make(map[int64]bool, len(roots))
	if len(roots) == 0 {
		return out
	}
	for id := range t {
		for at, steps := id, 0; at != 0 && steps <= len(t); at, steps = t[at], steps+1 {
			if roots[at] || out[at] {
				out[id] = true
				break
			}
		}
	}
	return out
}

// Reach is where an actor may do one action: everywhere, or inside some folders and albums.
type Reach struct {
	All     bool
	Folders map[int64]bool
	Albums  map[int64]bool
}

// None says that the action is not possible anywhere.
func (r Reach) None() bool { return !r.All && len(r.Folders) == 0 && len(r.Albums) == 0 }

// Folder says whether the action is possible in a folder; 0 stands for Unfiled, which no grant covers.
func (r Reach) Folder(id int64) bool { return r.All || r.Folders[id] }

// FolderIDs lists the folders of a reach that is not everywhere.
func (r Reach) FolderIDs() []int64 { return keys(r.Folders) }

// AlbumIDs lists the albums of a reach that is not everywhere.
func (r Reach) AlbumIDs() []int64 { return keys(r.Albums) }

func keys(m map[int64]bool) []int64 {
	out := make([]int64, 0, len(m))
	for id := range m {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}

// Can says whether the actor may do the action somewhere in the brand: whether to offer it at all.
func (a Actor) Can(action Action) bool {
	if slices.Contains(everywhere[a.Role], action) {
		return true
	}
	if a.Role == Reviewer {
		return false
	}
	return slices.ContainsFunc(a.Grants, func(g Grant) bool { return slices.Contains(granted[g.Level], action) })
}

// Offered lists what the actor may do somewhere.
func (a Actor) Offered() []Action {
	out := []Action{}
	for _, action := range Actions {
		if a.Can(action) {
			out = append(out, action)
		}
	}
	return out
}

// Reach tells where in the brand the actor may do the action. A folder grant is inherited by every folder below it and
// by no other; an album grant lets its items be looked at, kept and carried, and nothing more.
func (a Actor) Reach(action Action, tree Tree) Reach {
	if slices.Contains(everywhere[a.Role], action) {
		return Reach{All: true}
	}
	reach := Reach{Folders: map[int64]bool{}, Albums: map[int64]bool{}}
	if a.Role == Reviewer {
		return reach
	}
	roots := map[int64]bool{}
	for _, g := range a.Grants {
		if g.Album != 0 && slices.Contains(granted[LevelLook], action) {
			reach.Albums[g.Album] = true
		}
		if g.Folder == 0 || !slices.Contains(granted[g.Level], action) {
			continue
		}
		roots[g.Folder] = true
	}
	reach.Folders = tree.BelowAny(roots)
	return reach
}

// MayUndo says whether the actor may undo something that person did.
func (a Actor) MayUndo(person int64) bool {
	return a.Person == person || a.Can(Trail)
}

// Everywhere lists what the actor may do in the whole brand: at the top level and in Unfiled too.
func (a Actor) Everywhere() []Action { return slices.Clone(everywhere[a.Role]) }

// StarsCount says whether the stars that the actor gives are the team's. Those of a reviewer are where the brand lets them;
// else they are shown beside.
func (a Actor) StarsCount(reviewersCount bool) bool { return a.Role != Reviewer || reviewersCount }

// NeedsSteward says whether a brand would be without a steward if one of its people became something else, or left.
func NeedsSteward(people []Actor, leaving int64) bool {
	return !slices.ContainsFunc(people, func(a Actor) bool { return a.Person != leaving && a.Role == Steward })
}

// Viewer is an actor together with the folders of the brand: all that is needed to decide.
type Viewer struct {
	Actor
	Tree      Tree
	BrandCode string
	BrandName string
	Name      string
	Email     string
}

// May returns where the viewer may do the action.
func (v *Viewer) May(action Action) Reach { return v.Reach(action, v.Tree) }

// In lists the actions that the viewer may do in a folder; 0 stands for Unfiled.
func (v *Viewer) In(folder int64) []Action { return v.Rights()(folder) }

// Rights is In for many folders.
func (v *Viewer) Rights() func(folder int64) []Action {
	reaches := make([]Reach, len(Actions))
	everywhere, somewhere := []Action{}, false
	for i, action := range Actions {
		reaches[i] = v.May(action)
		if reaches[i].All {
			everywhere = append(everywhere, action)
		}
		somewhere = somewhere || !reaches[i].All && len(reaches[i].Folders) > 0
	}
	if !somewhere {
		return func(int64) []Action { return everywhere }
	}
	return func(folder int64) []Action {
		out := []Action{}
		for i, action := range Actions {
			if reaches[i].Folder(folder) {
				out = append(out, action)
			}
		}
		return out
	}
}

// Gain lists those of some actors who may not look everywhere that items now are in, but may where they go; 0 is Unfiled.
func Gain(actors []Actor, tree Tree, from []int64, to int64) []Actor {
	return slices.DeleteFunc(slices.Clone(actors), func(a Actor) bool {
		reach := a.Reach(Look, tree)
		return !reach.Folder(to) || !slices.ContainsFunc(from, func(id int64) bool { return !reach.Folder(id) })
	})
}
