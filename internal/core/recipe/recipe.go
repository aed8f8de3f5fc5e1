// Package recipe is what is done to a picture on its way from the file to the eye. It is kept with the item, and the file
// stays as it is. A recipe has one canonical form, so that the same recipe always has the same hash: that is what files
// made by it are known by.
package recipe

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"

	"brightsatchel/internal/core/geometry"
)

// Recipe is what is done to a picture. The zero value does nothing. The fields stand in the order in which they are
// applied, after the orientation that the file itself tells (EXIF).
type Recipe struct {
	// Turn is in degrees clockwise: 0, 90, 180 or 270.
	Turn int `json:"turn,omitempty"`
}

// Parse reads the canonical form.
func Parse(text []byte) (Recipe, error) {
	var r Recipe
	if err := json.Unmarshal(text, &r); err != nil {
		return r, fmt.Errorf("a recipe that cannot be read: %w", err)
	}
	return r, r.Check()
}

// Check says what is wrong with a recipe.
func (r Recipe) Check() error {
	if r.Turn < 0 || r.Turn >= 360 || r.Turn%90 != 0 {
		return fmt.Errorf("turn: %d is not 0, 90, 180 or 270 degrees", r.Turn)
	}
	return nil
}

// Canonical is the one way to write a recipe, as JSON (RFC 8259): fields in their order, those that do nothing left out.
func (r Recipe) Canonical() []byte {
	text, err := json.Marshal(r)
	if err != nil {
		panic(err) // numbers can be written
	}
	return text
}

// hashLength is how much of the sum is kept, in characters of 4 bits.
const hashLength = 12

// Hash stands for a recipe in addresses and keys: the beginning of the SHA-256 of its canonical form in hexadecimal, or ""
// for one that does nothing.
func (r Recipe) Hash() string {
	if r == (Recipe{}) {
		return ""
	}
	sum := sha256.Sum256(r.Canonical())
	return hex.EncodeToString(sum[:])[:hashLength]
}

// Size is the size in pixels of what the recipe makes of a picture of a size in pixels.
func (r Recipe) Size(s geometry.Size) geometry.Size {
	if r.Turn%180 != 0 {
		return geometry.Size{Width: s.Height, Height: s.Width}
	}
	return s
}

// Orientation is the turn as one of the eight orientations of EXIF (tag 0x0112), to carry points and regions with.
func (r Recipe) Orientation() geometry.Orientation {
	return map[int]geometry.Orientation{0: 1, 90: 6, 180: 3, 270: 8}[r.Turn]
}
