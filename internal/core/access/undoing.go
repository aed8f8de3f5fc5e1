package access

import "slices"

// Changed is what one kind of change in a step did: to which table, whether rows were made or removed by it, and which
// column was changed where rows stayed.
type Changed struct {
	Table      string
	Made, Gone bool
	Column     string
}

// ofTables is the right that taking back a change to a table needs: the one that doing the opposite needs. What is not
// listed is for stewards.
var ofTables = map[string]Action{
	"asset_tag": Describe, "face": Describe, "tag": Closed, "tag_group": Closed, "person_shown": Closed, "twin": Describe, "version": Describe,
	"folder": File, "folder_tag": File, "stack": File, "widening_told": File,
	"look":  Prepare,
	"album": Gather, "album_item": Gather,
	"gallery": Galleries, "gallery_chapter": Galleries, "guest": Galleries, "letter": Galleries, "gallery_event": Galleries,
	"guest_list": Galleries, "guest_mark": Galleries, "remark": Galleries,
	"embed": Galleries, "embed_source": Galleries, "public_address": Galleries, "logo": Galleries,
	"rehearsal": Galleries, "rehearsal_variant": Galleries, "rehearsal_remark": Look,
	"thing_folder": Galleries, "thing_place": Galleries, "dispatch_draft": Galleries, "screen": Galleries,
	"dispatch_post": Galleries,
	"keeper":        Keep, "satchel_item": Carry, "beside_stars": Rate,
	"intake": BringIn, "watched_folder": BringIn,
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

// along are tables of which rows go and come back with the folder or album that they hang on.
var along = []string{"access_grant", "folder_tag", "widening_told", "watched_folder", "intake", "embed_source",
	"gallery_chapter"}

// Undoing lists the rights that taking back the changes of a step needs.
func Undoing(changes []Changed) []Action {
	removal := slices.ContainsFunc(changes, func(c Changed) bool { return c.Gone && (c.Table == "folder" || c.Table == "album") })
	need := map[Action]bool{}
	for _, c := range changes {
		action, known := ofTables[c.Table]
		switch {
		case removal && !c.Made && slices.Contains(along, c.Table):
			continue
		case c.Table == "asset" && c.Made:
			action = File
		case c.Table == "asset" && (c.Column == "binned_folder" || c.Column == "added_by"):
			continue // goes along with something else
		case c.Table == "asset":
			if action, known = ofColumns[c.Column]; !known {
				action = Describe
			}
		case !known:
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
