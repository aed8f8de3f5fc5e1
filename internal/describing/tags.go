package describing

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/tagstore"
)

// retagging puts one tag in place of others on all that have them; Into 0 takes them off.
type retagging struct {
	Into int64    `json:"into"`
	Name string   `json:"name"` // of that one
	From []int64  `json:"from"`
	Gone []string `json:"gone"` // what the others were called
}

func (r retagging) said(n int) string {
	on := fmt.Sprintf(" on %s", wording.Items(n))
	switch {
	case r.Into == 0 && len(r.Gone) == 1:
		return fmt.Sprintf("Removed the tag “%s”%s", r.Gone[0], on)
	case r.Into == 0:
		return fmt.Sprintf("Removed %d tags%s", len(r.Gone), on)
	case len(r.Gone) == 1:
		return fmt.Sprintf("Merged “%s” into “%s”%s", r.Gone[0], r.Name, on)
	}
	return fmt.Sprintf("Merged %d tags into “%s”%s", len(r.Gone), r.Name, on)
}

var retagAct = pieces.Act[retagging]{
	Name: "retag", Needs: access.Describe,
	Doing: func(n int, r retagging) string { return r.said(n) },
	Done:  func(_, of int, r retagging) string { return r.said(of) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, r retagging) (int, error) {
		n, err := tagstore.RetagAssets(ctx, tx, p.Viewer.Brand, p.IDs, r.Into, r.From)
		return max(n, 1), err // the tag itself has changed, too
	},
}

// KeptTag reads a tag for who keeps the tags in order.
func (s *Service) KeptTag(ctx context.Context, v *access.Viewer, id int64) (tagstore.KeptTag, error) {
	found, err := tagstore.TagsByID(ctx, s.DB, v.Brand, []int64{id})
	if err != nil {
		return tagstore.KeptTag{}, err
	}
	return found[0], nil
}

// Groups lists the tag groups of the brand.
func (s *Service) Groups(ctx context.Context, v *access.Viewer) ([]tagstore.TagGroup, error) {
	return tagstore.TagGroups(ctx, s.DB, v.Brand)
}

// Spellings lists the other spellings of the tags of the brand.
func (s *Service) Spellings(ctx context.Context, v *access.Viewer) ([]tagstore.Spelling, error) {
	return tagstore.SpellingsOf(ctx, s.DB, v.Brand)
}

// oneName reads what somebody typed as the name of one tag.
func oneName(text string) (string, error) {
	names, err := tags.Split(text)
	if err != nil {
		return "", err
	}
	if len(names) != 1 {
		return "", fault.Invalidf("name", "A tag has one name, without commas.")
	}
	return names[0], nil
}

// Rename gives a tag another name everywhere. Where another tag has that name already it is a Conflict in numbers, unless
// they are to be merged.
func (s *Service) Rename(ctx context.Context, v *access.Viewer, id int64, typed string, merge bool) (store.Done, error) {
	name, err := oneName(typed)
	if err != nil {
		return store.Done{}, err
	}
	other, err := tagstore.TagNamed(ctx, s.DB, v.Brand, name)
	if err != nil {
		return store.Done{}, err
	}
	if other != 0 && other != id {
		if merge {
			return s.Merge(ctx, v, other, []int64{id})
		}
		both, err := tagstore.TagsByID(ctx, s.DB, v.Brand, []int64{id, other})
		if err != nil {
			return store.Done{}, err
		}
		if i := slices.IndexFunc(both, func(t tagstore.KeptTag) bool { return t.ID == other }); i >= 0 {
			return store.Done{}, &fault.Conflict{Text: fmt.Sprintf("There is a tag “%s” already, on %s.", both[i].Name,
				wording.Items(both[i].Items)), Field: "name"}
		}
	}
	return s.DB.Act(ctx, v, "rename_tag", func(tx *store.Tx) (store.Done, error) {
		found, err := tagstore.TagsByID(ctx, tx, v.Brand, []int64{id})
		if err != nil {
			return store.Done{}, err
		}
		if found[0].Name == name {
			return store.Done{Said: "That is its name already"}, nil
		}
		return store.Done{Said: fmt.Sprintf("Renamed the tag “%s” to “%s” on %s", found[0].Name, name, wording.Items(found[0].Items)),
			Changed: 1}, tagstore.RenameTag(ctx, tx, v.Brand, found[0], name)
	})
}

// Merge makes tags other spellings of another one, on all items, folders and faces that have them.
func (s *Service) Merge(ctx context.Context, v *access.Viewer, into int64, from []int64) (store.Done, error) {
	from = slices.DeleteFunc(slices.Compact(slices.Sorted(slices.Values(from))), func(id int64) bool { return id == into })
	if len(from) == 0 {
		return store.Done{}, fault.Invalidf("from", "A tag cannot be merged into itself.")
	}
	ids, err := tagstore.TaggedWith(ctx, s.DB, v.Brand, from)
	if err != nil {
		return store.Done{}, err
	}
	return s.retag.DoTo(ctx, v, ids, func(tx *store.Tx) (retagging, error) {
		target, err := namesOf(ctx, tx, v, []int64{into})
		if err != nil {
			return retagging{}, err
		}
		gone, err := namesOf(ctx, tx, v, from)
		if err != nil {
			return retagging{}, err
		}
		return retagging{Into: into, Name: target[0], From: from, Gone: gone}, tagstore.MergeTags(ctx, tx, v.Brand, into, from)
	})
}

// Remove takes tags away, also from the items that have them.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, ids []int64) (store.Done, error) {
	ids = slices.Compact(slices.Sorted(slices.Values(ids)))
	tagged, err := tagstore.TaggedWith(ctx, s.DB, v.Brand, ids)
	if err != nil {
		return store.Done{}, err
	}
	return s.retag.DoTo(ctx, v, tagged, func(tx *store.Tx) (retagging, error) {
		gone, err := namesOf(ctx, tx, v, ids)
		if err != nil {
			return retagging{}, err
		}
		_, err = tagstore.RemoveTags(ctx, tx, v.Brand, ids)
		return retagging{From: ids, Gone: gone}, err
	})
}

// Tidy removes the tags that are on nothing.
func (s *Service) Tidy(ctx context.Context, v *access.Viewer) (store.Done, error) {
	return s.DB.Act(ctx, v, "tidy_tags", func(tx *store.Tx) (store.Done, error) {
		unused, err := tagstore.UnusedTags(ctx, tx, v.Brand)
		if err != nil || len(unused) == 0 {
			return store.Done{Said: "Every tag is on something"}, err
		}
		n, err := tagstore.RemoveTags(ctx, tx, v.Brand, unused)
		return store.Done{Said: fmt.Sprintf("Removed %s that %s on nothing", wording.Count(n, "tag", "tags"), were(n)), Changed: n}, err
	})
}

func were(n int) string {
	if n == 1 {
		return "was"
	}
	return "were"
}

func namesOf(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64) ([]string, error) {
	names, err := tagstore.NamesOfLivingTags(ctx, tx, v.Brand, ids)
	if err == nil && len(names) != len(ids) {
		err = fault.NotFoundf("One of these tags is not there any more. Nothing was changed.")
	}
	return names, err
}

// Spell makes a name another spelling of a tag: whoever types it gets the tag.
func (s *Service) Spell(ctx context.Context, v *access.Viewer, id int64, typed string) (store.Done, error) {
	name, err := oneName(typed)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "spell_tag", func(tx *store.Tx) (store.Done, error) {
		found, err := tagstore.TagsByID(ctx, tx, v.Brand, []int64{id})
		if err != nil {
			return store.Done{}, err
		}
		other, err := tagstore.TagNamed(ctx, tx, v.Brand, name)
		switch {
		case err != nil:
			return store.Done{}, err
		case other == id:
			return store.Done{Said: fmt.Sprintf("“%s” leads to “%s” already", name, found[0].Name)}, nil
		case other != 0:
			return store.Done{}, fault.Invalidf("name", "“%s” is, or leads to, another tag. Merge that one into “%s” instead.", name,
				found[0].Name)
		}
		return store.Done{
			Said:    fmt.Sprintf("“%s” leads to “%s” now", name, found[0].Name),
			Changed: 1,
		}, tagstore.AddSpelling(ctx, tx, v.Brand, id, name)
	})
}

// Unspell takes another spelling away.
func (s *Service) Unspell(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "spell_tag", func(tx *store.Tx) (store.Done, error) {
		n, err := tagstore.RemoveSpelling(ctx, tx, v.Brand, id)
		if err == nil && n == 0 {
			err = fault.NotFoundf("That spelling is not there any more.")
		}
		return store.Done{Said: "Removed another spelling", Changed: n}, err
	})
}

// Group puts tags into the group of that name, which is made if need be, or with "" takes them out of theirs.
func (s *Service) Group(ctx context.Context, v *access.Viewer, ids []int64, group string) (store.Done, error) {
	name, err := groupName(group)
	if err != nil && group != "" {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "group_tags", func(tx *store.Tx) (store.Done, error) {
		var id int64
		if name != "" {
			if id, err = tagstore.EnsureTagGroup(ctx, tx, v.Brand, name); err != nil {
				return store.Done{}, err
			}
		}
		n, err := tagstore.GroupTags(ctx, tx, v.Brand, ids, id)
		moved := wording.Count(n, "tag", "tags")
		switch {
		case n == 0:
			return store.Done{Said: "Nothing to move"}, err
		case id == 0:
			return store.Done{Said: fmt.Sprintf("Took %s out of %s", moved, wording.Count(n, "its group", "their groups")[2:]), Changed: n}, err
		}
		return store.Done{Said: fmt.Sprintf("Moved %s to the group “%s”", moved, name), Changed: n}, err
	})
}

// longestGroup is how many characters the name of a group has at most.
const longestGroup = 60

func groupName(typed string) (string, error) {
	name, err := oneName(typed)
	if err == nil && len([]rune(name)) > longestGroup {
		err = fault.Invalidf("name", "A group has at most %d characters in its name.", longestGroup)
	}
	return name, err
}

// MakeGroup makes a tag group.
func (s *Service) MakeGroup(ctx context.Context, v *access.Viewer, typed string) (store.Done, error) {
	name, err := groupName(typed)
	if err != nil {
		return store.Done{}, err
	}
	done, err := s.DB.Act(ctx, v, "tag_group", func(tx *store.Tx) (store.Done, error) {
		id, err := tagstore.EnsureTagGroup(ctx, tx, v.Brand, name)
		return store.Done{Said: fmt.Sprintf("Made the group “%s”", name), Changed: 1, ID: id}, err
	})
	done.Trail = 0 // others may put tags into it at once, so it is removed and not taken back
	return done, err
}

// ChangeGroup renames a group, and closes or opens it.
func (s *Service) ChangeGroup(ctx context.Context, v *access.Viewer, id int64, typed string, closed bool) (store.Done, error) {
	name, err := groupName(typed)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "tag_group", func(tx *store.Tx) (store.Done, error) {
		was, err := tagstore.TagGroupByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		said := fmt.Sprintf("Renamed the group “%s” to “%s”", was.Name, name)
		switch {
		case closed && !was.Closed:
			said = fmt.Sprintf("Closed the group “%s”: stewards and coordinators add to it", name)
		case !closed && was.Closed:
			said = fmt.Sprintf("Opened the group “%s” to all who describe", name)
		}
		n, err := tagstore.ChangeTagGroup(ctx, tx, v.Brand, id, name, closed)
		return store.Done{Said: said, Changed: n}, err
	})
}

// RemoveGroup removes a group. Its tags stay.
func (s *Service) RemoveGroup(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "tag_group", func(tx *store.Tx) (store.Done, error) {
		was, err := tagstore.TagGroupByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tagstore.RemoveTagGroup(ctx, tx, v.Brand, id)
		return store.Done{Said: fmt.Sprintf("Removed the group “%s”; its tags stay", was.Name), Changed: n}, err
	})
}
