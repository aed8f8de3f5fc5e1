package query

import (
	"strconv"
	"strings"

	"brightsatchel/internal/core/likeness"
)

// Fits is the first condition of a filter by which items fit better or worse, one that must hold; nil without one.
func (q *Query) Fits() *Rule { return q.Filter.fits() }

func (r *Rule) fits() *Rule {
	if r == nil {
		return nil
	}
	if r.Field == "words" || r.Field == "colour" || r.Field == "like" {
		return r
	}
	if r.Match != All {
		return nil
	}
	for i := range r.Rules {
		if found := r.Rules[i].fits(); found != nil {
			return found
		}
	}
	return nil
}

// Colours are the colours that a condition asks for, and how much of one of them there must be, in percent.
type Colours struct {
	Any  []likeness.Lab
	From int32
}

// fewestColour is how much of a picture has a colour, in percent, for it to be found by it, unless somebody says otherwise.
const fewestColour = 10

// Colours reads a condition by colour.
func (r *Rule) Colours() Colours {
	c := Colours{From: fewestColour}
	if r.From != nil {
		c.From = int32(max(1, min(100, *r.From)))
	}
	for _, name := range r.Names {
		if lab, err := likeness.ParseColour(name); err == nil {
			c.Any = append(c.Any, lab)
		}
	}
	return c
}

// Share is the most that a picture has of one of the colours, in percent.
func (c Colours) Share(picture []likeness.Shade) (most int32) {
	for _, lab := range c.Any {
		most = max(most, likeness.Share(picture, lab))
	}
	return most
}

// Dominate says whether one of the colours dominates a picture.
func (c Colours) Dominate(picture []likeness.Shade) bool {
	return len(c.Any) > 0 && c.Share(picture) >= c.From
}

// Model is what others are to look like. One that was never looked into is like nothing.
type Model struct {
	Likeness likeness.Hash
	Shades   []likeness.Shade
}

// LikeModel is the condition that something looks like a model, in place of one that names an item.
func LikeModel(m Model) Rule {
	r := Rule{Field: "like", Names: []string{strconv.FormatUint(uint64(m.Likeness), 10)}}
	for _, s := range m.Shades {
		r.IDs = append(r.IDs, int64(s))
	}
	return r
}

// Model reads what LikeModel wrote.
func (r *Rule) Model() (m Model) {
	if len(r.Names) == 0 {
		return m
	}
	hash, _ := strconv.ParseUint(r.Names[0], 10, 64)
	m.Likeness = likeness.Hash(hash)
	for _, id := range r.IDs {
		m.Shades = append(m.Shades, likeness.Shade(id))
	}
	return m
}

// Like says whether something looks like the model.
func (m Model) Like(hash likeness.Hash, shades []likeness.Shade) bool {
	if m.Likeness.Tells() && hash.Tells() && likeness.Distance(m.Likeness, hash) <= likeness.LikeBits {
		return true
	}
	return likeness.Overlap(shades, m.Shades) >= likeness.LikeOverlap
}

// Misfits returns what says how badly something fits a condition whose words are as search_text makes them: 0 is best. Of words it
// counts those that are not in the name, of colours what is missing of all of it.
func (r *Rule) Misfits() func(name string, hash likeness.Hash, shades []likeness.Shade) int32 {
	colours, model := r.Colours(), r.Model()
	return func(name string, hash likeness.Hash, shades []likeness.Shade) (n int32) {
		switch r.Field {
		case "words":
			for _, word := range r.Names {
				if !strings.Contains(name, word) {
					n++
				}
			}
		case "colour":
			n = MostMisfit - min(MostMisfit, colours.Share(shades))
		case "like":
			n = likeness.Unlike(hash, shades, model.Likeness, model.Shades)
		}
		return min(n, MostMisfit)
	}
}

// MostMisfit is how badly anything fits at most.
const MostMisfit = 164
