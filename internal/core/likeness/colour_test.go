package likeness

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// TestLab compares with values of the CIE formulas for sRGB that are published widely.
func TestLab(t *testing.T) {
	for text, want := range map[string]Lab{"#ffffff": {100, 0, 0}, "#000000": {0, 0, 0}, "#ff0000": {53, 80, 67}, "#00ff00": {88, -86, 83},
		"#0000ff": {32, 79, -108}, "#808080": {54, 0, 0}} {
		got, err := ParseColour(text)
		require.NoError(t, err)
		assert.Equal(t, want, got, text)
	}
	for _, wrong := range []string{"", "red", "#12", "123456", "#12345g", "#1234567"} {
		_, err := ParseColour(wrong)
		assert.Error(t, err, wrong)
	}
}

func paint(parts ...any) (pixels []byte) {
	for i := 0; i < len(parts); i += 2 {
		for range parts[i+1].(int) {
			rgb := parts[i].([3]byte)
			pixels = append(pixels, rgb[:]...)
		}
	}
	return pixels
}

func TestWhatDominates(t *testing.T) {
	red, almost, blue := [3]byte{220, 30, 30}, [3]byte{210, 40, 38}, [3]byte{30, 60, 200}
	shades := Shades(paint(red, 50, almost, 10, blue, 39, [3]byte{0, 255, 0}, 1))
	require.Len(t, shades, 2, "one percent is none")
	assert.Equal(t, []int32{60, 39}, []int32{shades[0].Share(), shades[1].Share()})
	assert.EqualValues(t, 60, Share(shades, LabOf(215, 35, 35)))
	assert.EqualValues(t, 0, Share(shades, LabOf(255, 255, 255)))
	assert.EqualValues(t, 39, Overlap(shades, Shades(paint(blue, 100))))
	assert.EqualValues(t, 39, Overlap(Shades(paint(blue, 100)), shades))
	assert.Empty(t, Shades(nil))
}

func TestShadesKeepWhatTheyAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := LabOf(rapid.Byte().Draw(t, "r"), rapid.Byte().Draw(t, "g"), rapid.Byte().Draw(t, "b"))
		share := rapid.Int32Range(0, 100).Draw(t, "share")
		s := NewShade(c, share)
		require.Equal(t, c, s.Lab())
		require.Equal(t, share, s.Share())
		require.Positive(t, int32(s)+1)
		pixels := rapid.SliceOfN(rapid.Byte(), 3, 600).Draw(t, "pixels")
		picture := Shades(pixels)
		require.LessOrEqual(t, len(picture), mostShades)
		total := int32(0)
		for i, s := range picture {
			total += s.Share()
			require.True(t, i == 0 || s.Share() <= picture[i-1].Share())
		}
		require.LessOrEqual(t, total, int32(104), "each is rounded by itself")
		require.Equal(t, picture, Shades(pixels))
		require.Zero(t, Unlike(0x0f0f, picture, 0x0f0f, picture)-(100-Overlap(picture, picture)))
	})
}
