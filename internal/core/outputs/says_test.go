package outputs

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/core/geometry"
)

func TestWhatGoesAlongUnderAPolicy(t *testing.T) {
	all := Says{Title: "t", Description: "d", Alt: "a", Credit: "c", Copyright: "©", UsageTerms: "u", Place: "p", Stage: "s", Stars: 3,
		Tags: []string{"x"}, Faces: []Face{{Name: "n"}}}
	assert.Equal(t, all, all.Under(Keep))
	assert.Equal(t, Says{Credit: "c", Copyright: "©", UsageTerms: "u"}, all.Under(StripPrivate))
	assert.Equal(t, Says{}, all.Under(StripAll))
	assert.Equal(t, Says{}, all.Under(""), "what is not known strips everything")
}

func TestFacesGoThroughTheCut(t *testing.T) {
	faces := []Face{{geometry.Region{X: 0, Y: 0, Width: 0.2, Height: 0.2}, "left"},
		{geometry.Region{X: 0.4, Y: 0.4, Width: 0.2, Height: 0.2}, "middle"}}
	shown := geometry.Size{Width: 200, Height: 100}
	assert.Equal(t, faces, FacesIn(faces, shown, Plan{}), "all of them where nothing is cut")
	got := FacesIn(faces, shown, Plan{Crop: &geometry.Rect{X: 50, Width: 100, Height: 100}})
	assert.Len(t, got, 1)
	assert.Equal(t, "middle", got[0].Name)
	assert.InDelta(t, 0.3, got[0].X, 1e-9)
	assert.InDelta(t, 0.4, got[0].Width, 1e-9)
}
