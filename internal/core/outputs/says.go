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
	var out []Face
	if inner := plan.Inner; inner != nil {
		w, h := float64(plan.Size.Width), float64(plan.Size.Height)
		left, top := float64((plan.Size.Width-inner.Width)/2), float64((plan.Size.Height-inner.Height)/2)
		for _, f := range faces {
			r := f.Region
			out = append(out, Face{geometry.Region{X: (left + r.X*float64(inner.Width)) / w, Y: (top + r.Y*float64(inner.Height)) / h,
				Width: r.Width * float64(inner.Width) / w, Height: r.Height * float64(inner.Height) / h}, f.Name})
		}
		return out
	}
	if plan.Crop == nil {
		return faces
	}
	for _, f := range faces {
		if r, in := f.Region.Within(*plan.Crop, shown); in {
			out = append(out, Face{r, f.Name})
		}
	}
	return out
}
