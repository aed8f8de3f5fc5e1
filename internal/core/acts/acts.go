// Package acts sorts what people do into the steps of the work, for whoever looks for it in the trail.
package acts

import "slices"

// Step is a step of the work, or what goes across all of them.
type Step string

// The steps that an act can belong to.
const (
	BringIn  Step = "bring_in"
	File     Step = "file"
	Describe Step = "describe"
	Choose   Step = "choose"
	Prepare  Step = "prepare"
	Gather   Step = "gather"
	SendOut  Step = "send_out"
	People   Step = "people"
	Undo     Step = "undo"
)

// Steps lists the steps in the order of the work.
var Steps = []Step{BringIn, File, Describe, Choose, Prepare, Gather, SendOut, People, Undo}

var ofSteps = map[Step][]string{
	BringIn: {"bring_in", "decide_duplicate", "decide_twins", "describe_intake", "find_left", "take_changed"},
	File: {"move", "copy", "bin", "restore", "empty_bin", "file_by_date", "create_folder", "change_folder", "order_folders",
		"order_in_folder", "rename_file", "duplicate_folder", "remove_folder", "stack", "unstack", "choose_front"},
	Describe: {"describe", "tag", "write", "name", "clock", "take_over", "table", "retag", "rename_tag", "tidy_tags", "spell_tag",
		"group_tags", "tag_group", "face", "person_shown"},
	Choose:  {"rate", "lower", "set_aside", "keep", "stage", "change_stage"},
	Prepare: {"prepare", "focal", "prepare_alike", "look", "replace", "show_version"},
	Gather: {"create_album", "change_album", "remove_album", "add_to_album", "take_out_of_album", "order_album", "move_between_albums",
		"albums_from_folder", "follow_choice", "carry", "put_down",
		"order_satchel"},
	SendOut: {"create_gallery", "change_gallery", "remove_gallery", "merge_galleries", "remove_remark",
		"gallery_letters", "withdraw_guest", "accept_contributions", "output_size", "create_embed", "change_embed", "remove_embed",
		"site", "make_public", "end_public", "logo", "dispatch", "draft", "rehearsal", "parking", "screen"},
	People: {"grant", "take_grant", "set_role", "invite", "leave", "brand_colour"},
	Undo:   {"undo", "redo"},
}

// Of lists the acts that belong to a step; none for one that is not known.
func Of(s Step) []string { return slices.Clone(ofSteps[s]) }
