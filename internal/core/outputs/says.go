package outputs

import (
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/geometry"
)

// Says is what the library says of an item, as far as it can go into a file that is made of it. Empty texts say nothing.
type Says struct {
	Title       string            `json:",omitempty"`
	Description string            `json:",omitempty"`
	Alt         string            `json:",omitempty"`
	Credit      string            `json:",omitempty"`
	Copyright   string            `json:",omitempty"`
	UsageTerms  string            `json:",omitempty"`
	Place       string            `json:",omitempty"`
	Stage       string            `json:",omitempty"`
	Stars       int               `json:",omitempty"` // -1 for what was set aside, to 5
	Tags        []string          `json:",omitempty"`
	Taken       *calendar.Capture `json:",omitempty"`
	Faces       []Face            `json:",omitempty"` // on the item as it is shown
}

// Face is where somebody is in a picture, and who, or "".
type Face struct {
	geometry.Region
	Name string `json:",omitempty"`
}

// Under is what of it goes along under a policy: everything; who it belongs to and how it may be used; or nothing.
func (s Says) Under(policy Metadata) Says {
	switch policy {
	case Keep:
		return s
	case StripPrivate:
		return Says{Credit: s.Credit, Copyright: s.Copyright, UsageTerms: s.UsageTerms}
	}
	return Says{}
}

// FacesIn are the faces as they are in what is made by a plan of an item of a size in pixels. A face of which the middle is cut off
// does not go along.
func FacesIn(faces []Face, shown geometry.Size, plan Plan) []Face {
	if plan.Crop == nil {
		return faces
	}
	var out []Face
	for _, f := range faces {
		if r, in := f.Region.Within(*plan.Crop, shown); in {
			out = append(out, Face{r, f.Name})
		}
	}
	return out
}
