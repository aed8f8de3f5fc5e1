package access

import "slices"

// Changed is what one kind of change in a step did: to which table, whether rows were made or removed by it, and which
// column was changed where rows stayed.
type Changed struct {
	Table      string
	Made, Gone bool
	Column     string
}

// Tables says of tables which right taking back a change needs: the one that doing the opposite needs. Rows of Along go and come back
// with the folder or album that they hang on.
type Tables struct {
	Needs map[string]Action
	Along []string
}

// ofColumns is the right for changes to columns of items other than their words.
var ofColumns = map[string]Action{
	"stars":     Rate,
	"aside":     SetAside, // stars that were, or became, -1
	"binned_at": Remove,
	"recipe":    Prepare, "recipe_hash": Prepare, "width": Prepare, "height": Prepare, "seconds": Prepare,
	"focal_x": Prepare, "focal_y": Prepare, "focal_by": Prepare, "focal_for": Prepare,
	"folder_id": File, "position": File, "stack_id": File, "stack_front": File,
}

// Undoing lists the rights that taking back the changes of a step needs. A table of which nothing is known is for stewards.
func (t Tables) Undoing(changes []Changed) []Action {
	removal := slices.ContainsFunc(changes, func(c Changed) bool { return c.Gone && (c.Table == "folder" || c.Table == "album") })
	need := map[Action]bool{}
	for _, c := range changes {
		action := t.Needs[c.Table]
		switch {
		case removal && !c.Made && slices.Contains(t.Along, c.Table):
			continue
		case c.Table == "asset" && c.Made:
			action = File
		case c.Table == "asset" && (c.Column == "binned_folder" || c.Column == "added_by"):
			continue // goes along with something else
		case c.Table == "asset":
			action = Describe
			if of, is := ofColumns[c.Column]; is {
				action = of
			}
		case action == "":
			action = Settings
		}
		need[action] = true
	}
	out := []Action{}
	for _, action := range Actions {
		if need[action] {
			out = append(out, action)
		}
	}
	return out
}
