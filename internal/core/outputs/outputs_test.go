package outputs

import (
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

var web1200 = Size{Name: "Web 1200", Width: 1200, Height: 1200, Fit: Inside, Format: "jpeg", Quality: 82, Metadata: StripPrivate,
	Pattern: "{name}"}

func TestMake(t *testing.T) {
	square := Size{Name: "Square", Width: 1080, Height: 1080, Fit: Fill, Format: "webp", Quality: 80, Pattern: "{n}"}
	cases := []struct {
		name   string
		src    Source
		size   Size
		want   geometry.Size
		format string
	}{
		{"landscape", Source{Kind: "picture", Size: geometry.Size{Width: 2000, Height: 800}}, web1200,
			geometry.Size{Width: 1200, Height: 480}, "jpeg"},
		{"never enlarged", Source{Kind: "picture", Size: geometry.Size{Width: 400, Height: 300}}, web1200,
			geometry.Size{Width: 400, Height: 300}, "jpeg"},
		{"clip", Source{Kind: "clip", Size: geometry.Size{Width: 1918, Height: 1081}}, web1200, geometry.Size{Width: 1200, Height: 676},
			"mp4"},
		{"filled", Source{Kind: "picture", Size: geometry.Size{Width: 1600, Height: 1067}, Focal: geometry.Centre}, square,
			geometry.Size{Width: 1067, Height: 1067}, "webp"},
	}
	for _, c := range cases {
		plan, err := Make(c.src, c.size)
		require.NoError(t, err, c.name)
		assert.Equal(t, c.want, plan.Size, c.name)
		assert.Equal(t, c.format, plan.Format, c.name)
	}
	_, err := Make(Source{Kind: "picture"}, web1200)
	assert.ErrorIs(t, err, ErrNoDimensions)
}

func TestCheck(t *testing.T) {
	assert.NoError(t, web1200.Check())
	for field, change := range map[string]func(*Size){
		"name":    func(s *Size) { s.Name = "" },
		"width":   func(s *Size) { s.Width = -1 },
		"quality": func(s *Size) { s.Quality = 101 },
		"format":  func(s *Size) { s.Format = "mp4" },
		"pattern": func(s *Size) { s.Pattern = "{nme}" },
	} {
		s := web1200
		change(&s)
		var invalid *fault.Invalid
		require.ErrorAs(t, s.Check(), &invalid)
		assert.Equal(t, field, invalid.Field)
	}
}

func TestNames(t *testing.T) {
	taken := time.Date(2025, 5, 17, 10, 21, 37, 0, time.UTC)
	v := Values{Title: "Two generations, one line", FileName: "OST_0418.JPG", Number: 7, Total: 120, Taken: &taken, Size: "Web 1200",
		Width: 1200, Height: 800}
	cases := map[string]string{
		"{name}":                  "OST_0418.jpg",
		"{title}":                 "Two generations, one line.jpg",
		"{date} {n} {name}":       "2025-05-17 007 OST_0418.jpg",
		"{size}/{width}x{height}": "Web 1200-1200x800.jpg",
		"../{name}":               "-OST_0418.jpg",
	}
	for pattern, want := range cases {
		assert.Equal(t, want, Name(pattern, v, "jpeg"), pattern)
	}
	assert.Equal(t, "undated.jpg", Name("{date}", Values{}, "jpeg"))
	assert.Equal(t, "kite.jpg", Name("{title}", Values{FileName: "kite.png"}, "jpeg"), "a title that is missing falls back on the name")
}

func TestCleanName(t *testing.T) {
	cases := map[string]string{
		"../../etc/passwd":            "-..-etc-passwd",
		"line\nbreak\t\x00":           "line break",
		"\u202egnp.exe":               "gnp.exe",
		"🪁 emoji":                     "🪁 emoji",
		"CON":                         "_CON",
		"...":                         "untitled",
		"":                            "untitled",
		"e\u0301clat":                 "éclat",
		strings.Repeat("a", 300):      strings.Repeat("a", 180),
		strings.Repeat("é", 300):      strings.Repeat("é", 90),
		"what? <really>: \"a|b\"* / ": "what- -really-- -a-b-- -",
	}
	for in, want := range cases {
		assert.Equal(t, want, CleanName(in), "%q", in)
	}
}

func TestCleanedNamesAreSafeAndStay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := CleanName(rapid.String().Draw(t, "name"))
		require.NotEmpty(t, name)
		require.True(t, utf8.ValidString(name))
		require.LessOrEqual(t, len(name), longestName+1)
		require.False(t, strings.ContainsAny(name, "/\\:*?\"<>|\n\r\x00"))
		require.False(t, strings.HasPrefix(name, "."))
		require.Equal(t, name, CleanName(name))
	})
}

func TestCleanPathNeverLeadsUpwards(t *testing.T) {
	assert.Equal(t, []string{"a", "b"}, CleanPath("/../a/./b//"))
	assert.Equal(t, []string{"a", "b"}, CleanPath(`a\..\b`))
	assert.Empty(t, CleanPath("../.."))
}

func TestUniqueNames(t *testing.T) {
	assert.Equal(t, []string{"a.jpg", "A 2.jpg", "a 3.jpg", "b.jpg"}, Unique([]string{"a.jpg", "A.jpg", "a.jpg", "b.jpg"}))
	rapid.Check(t, func(t *rapid.T) {
		names := Unique(rapid.SliceOf(rapid.StringMatching(`[abAB]( 2)?\.jpg`)).Draw(t, "names"))
		seen := map[string]bool{}
		for _, n := range names {
			require.False(t, seen[strings.ToLower(n)], n)
			seen[strings.ToLower(n)] = true
		}
	})
}
