package index

import (
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/store/findstore"
)

// put sets the columns of an item and adds it to the sets that it is in.
func (s *shelf) put(i *findstore.Indexed) {
	slot, known := s.slots[i.ID]
	if !known {
		slot = uint32(len(s.ids))
		s.slots[i.ID] = slot
		s.grow()
	}
	for name, o := range s.orders {
		if o.built && (!known || s.moves(name, slot, i)) {
			o.dirty.Add(slot)
		}
	}
	if s.words != nil && (!known || s.text.said[slot] != i.Text) {
		s.words.note(s.text.said[slot], -1)
		s.words.note(i.Text, 1)
		s.retold.Add(slot)
	}
	s.home[slot], s.piled[slot], s.sharp[slot] = i.Folder, i.Stack, i.Sharpness
	s.at[slot], s.camera[slot] = s.once(i.Place), s.once(i.Camera)
	s.text.set(slot, i.Text)
	s.ids[slot], s.name[slot], s.hand[slot], s.kind[slot], s.stars[slot] = i.ID, i.Name, i.Position, i.Kind, int8(i.Stars)
	s.width[slot], s.height[slot], s.tint[slot], s.bytes[slot] = i.Width, i.Height, i.Tint, i.Bytes
	s.taken[slot], s.added[slot], s.changed[slot] = i.Taken, i.Added, i.Changed
	s.until[slot] = i.RightsUntil
	s.likeness[slot], s.shades[slot] = i.Likeness, i.Shades
	s.used.Add(slot)
	mark(s.binned, slot, i.Binned)
	for bit, set := range s.has {
		mark(set, slot, i.Has&(1<<bit) != 0)
	}
	mark(s.fronts, slot, i.Front)
	for bit, set := range s.states {
		mark(set, slot, i.States&(1<<bit) != 0)
	}
	addTo(s.folder, i.Folder, slot)
	addTo(s.stage, i.Stage, slot)
	addTo(s.stack, i.Stack, slot)
	addTo(s.cameras, i.Camera, slot)
	addTo(s.places, i.Place, slot)
	s.kinds.add(i.Kind, slot)
	s.from.add(i.Source, slot)
	s.starred.add(int8(i.Stars), slot)
	for k, f := range columnsOfIDs {
		addTo(s.ownIDs[f.Name], i.OwnIDs[k], slot)
	}
	for k, f := range columnsOfNames {
		addTo(s.ownNames[f.Name], i.OwnNames[k], slot)
	}
	if i.Taken != findstore.Undated {
		s.years.add(time.Unix(i.Taken, 0).UTC().Year(), slot)
	}
}

// mostTexts is how many texts are kept once at a time.
const mostTexts = 100_000

// once is a text that many items have, kept once for all of them.
func (s *shelf) once(text string) string {
	known, there := s.texts[text]
	if there {
		return known
	}
	if len(s.texts) >= mostTexts {
		clear(s.texts)
	}
	s.texts[text] = text
	return text
}

func mark(set *roaring.Bitmap, slot uint32, in bool) {
	if in {
		set.Add(slot)
	}
}

// addTo adds an item to the set of a value, unless it has none.
func addTo[K comparable](p *postings[K], value K, slot uint32) {
	var none K
	if value != none {
		p.add(value, slot)
	}
}

func (s *shelf) grow() {
	s.home, s.piled, s.at = append(s.home, 0), append(s.piled, 0), append(s.at, "")
	s.camera, s.sharp = append(s.camera, ""), append(s.sharp, 0)
	s.text.grow()
	s.ids, s.name, s.hand, s.kind = append(s.ids, 0), append(s.name, ""), append(s.hand, ""), append(s.kind, "")
	s.stars, s.width, s.height, s.tint = append(s.stars, 0), append(s.width, 0), append(s.height, 0), append(s.tint, 0)
	s.bytes, s.taken, s.added, s.changed = append(s.bytes, 0), append(s.taken, 0), append(s.added, 0), append(s.changed, 0)
	s.until = append(s.until, 0)
	s.likeness, s.shades = append(s.likeness, 0), append(s.shades, nil)
}

// moves says whether an item, as it is now, has another place in an order than as it is known.
func (s *shelf) moves(name string, slot uint32, i *findstore.Indexed) bool {
	switch name {
	case "taken":
		return s.taken[slot] != i.Taken
	case "added":
		return s.added[slot] != i.Added
	case "name":
		return s.name[slot] != i.Name
	case "size":
		return s.bytes[slot] != i.Bytes
	case "stars":
		return s.stars[slot] != int8(i.Stars) || s.taken[slot] != i.Taken
	case "kind":
		return s.kind[slot] != i.Kind || s.taken[slot] != i.Taken
	}
	return true
}

// relate returns what adds a pair of a relation.
func (s *shelf) relate(relation findstore.Relation) func(asset, other int64) {
	r := s.relations[relation]
	return func(asset, other int64) {
		if slot, known := s.slots[asset]; known {
			r.relate(other, slot, s.binned.Contains(slot))
		}
	}
}
