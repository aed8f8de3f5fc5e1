package outputs

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
)

func named(files []File) []string {
	out := make([]string, len(files))
	for i, f := range files {
		out[i] = f.Name
	}
	return out
}

func TestFilesOfSeveralSizes(t *testing.T) {
	picture := func(name string, folders ...string) Item {
		return Item{Source: Source{Kind: "picture", Size: geometry.Size{Width: 3000, Height: 2000}}, FileName: name, Folders: folders}
	}
	items := []Item{picture("a.jpg", "Field days", "Morning"), picture("A.tif", "Field days"), picture("b.png")}
	web := Size{Name: "Web", Width: 1200, Height: 1200, Fit: Inside, Format: "jpeg", Quality: 80, Pattern: "{name}"}
	press := Size{Name: "Press: large", Width: 2400, Fit: Inside, Format: "png", Quality: 90, Pattern: "{name} {width}"}
	for _, c := range []struct {
		name  string
		sizes []Size
		how   Arranging
		want  []string
	}{
		{"one size", []Size{web}, Arranging{}, []string{"a.jpg", "A 2.jpg", "b.jpg"}},
		{"each size in its folder", []Size{web, press}, Arranging{},
			[]string{"Web/a.jpg", "Web/A 2.jpg", "Web/b.jpg", "Press- large/a 2400.png", "Press- large/A 2400 2.png", "Press- large/b 2400.png"}},
		{"in the folders of the items", []Size{web}, Arranging{Folders: true},
			[]string{"Field days/Morning/a.jpg", "Field days/A.jpg", "b.jpg"}},
		{"numbered", []Size{web}, Arranging{Numbered: true}, []string{"01 a.jpg", "02 A.jpg", "03 b.jpg"}},
		{"numbered in each folder", []Size{web}, Arranging{Numbered: true, Folders: true},
			[]string{"Field days/Morning/01 a.jpg", "Field days/01 A.jpg", "01 b.jpg"}},
		{"the first of a thousand", []Size{web}, Arranging{Numbered: true, Total: 1000}, []string{"0001 a.jpg", "0002 A.jpg", "0003 b.jpg"}},
		{"another pattern for all", []Size{web, press}, Arranging{Pattern: "kite-{n}"},
			[]string{"Web/kite-01.jpg", "Web/kite-02.jpg", "Web/kite-03.jpg", "Press- large/kite-01.png", "Press- large/kite-02.png",
				"Press- large/kite-03.png"}},
	} {
		assert.Equal(t, c.want, named(Arrange(items, c.sizes, c.how)), c.name)
	}
	broken := Arrange([]Item{{Source: Source{Kind: "file"}, FileName: "notes.txt"}}, []Size{web}, Arranging{})
	assert.ErrorIs(t, broken[0].Problem, ErrNoDimensions)
	assert.Equal(t, "007 Morning", NumberedFolder("Morning", 7, 120))
}

// TestNoTwoFilesAreCalledTheSame, and the first of many are called as they are among all.
func TestNoTwoFilesAreCalledTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.SampledFrom([]string{"a.jpg", "A.JPG", "a 2.jpg", "../b.png", "", "Web", "ü.tif"})
		items := make([]Item, rapid.IntRange(1, 12).Draw(t, "items"))
		for i := range items {
			items[i] = Item{Source: Source{Kind: "picture", Size: geometry.Size{Width: 30, Height: 20}}, FileName: name.Draw(t, "name"),
				Folders: rapid.SliceOfN(rapid.SampledFrom([]string{"Web", "x"}), 0, 2).Draw(t, "folders")}
		}
		sizes := make([]Size, rapid.IntRange(1, 3).Draw(t, "sizes"))
		for s := range sizes {
			sizes[s] = Size{Name: rapid.SampledFrom([]string{"Web", "web", "Press"}).Draw(t, "size"), Width: 20, Format: "jpeg",
				Pattern: rapid.SampledFrom([]string{"{name}", "{n}", "x"}).Draw(t, "pattern")}
		}
		how := Arranging{Folders: rapid.Bool().Draw(t, "in folders"), Numbered: rapid.Bool().Draw(t, "numbered"), Total: len(items)}
		all := Arrange(items, sizes, how)
		require.Len(t, all, len(items)*len(sizes))
		seen := map[string]bool{}
		for _, f := range all {
			key := strings.ToLower(f.Name)
			require.False(t, seen[key], "%s twice", f.Name)
			seen[key] = true
			require.NotContains(t, "/"+f.Name+"/", "/../")
			require.NotEqual(t, "/", f.Name[:1])
		}
		first := rapid.IntRange(1, len(items)).Draw(t, "first")
		require.Equal(t, fmt.Sprint(named(all[:first])), fmt.Sprint(named(Arrange(items[:first], sizes, how)[:first])))
	})
}
