package calendar

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func at(text string) *time.Time {
	t, err := time.Parse("2006-01-02 15:04", text)
	if err != nil {
		panic(err)
	}
	return &t
}

func TestShootsAreParted(t *testing.T) {
	shots := []Shot{
		{4, at("2026-05-18 00:20"), "Spring meet 4"}, {1, at("2026-05-17 22:00"), "Spring meet 1"}, {9, nil, "Logo"},
		{2, at("2026-05-17 23:59"), "Spring meet, 2"}, {3, at("2026-05-19 09:00"), "Harbour – 12"},
	}
	shoots, undated := Shoots(shots, 3*time.Hour)
	assert.Equal(t, []int64{9}, undated)
	require.Len(t, shoots, 2)
	assert.Equal(t, []int64{1, 2, 4}, shoots[0].IDs, "midnight parts nothing")
	year, day := shoots[0].Folder()
	assert.Equal(t, []string{"2026", "2026-05-17 Spring"}, []string{year, day}, "only whole words that all of them have")
	assert.Equal(t, "Harbour", shoots[1].Name)
	shoots, _ = Shoots(shots[:2], time.Minute)
	assert.Len(t, shoots, 2)
	assert.Equal(t, "Spring meet", shoots[0].Name)
	shoots, undated = Shoots(nil, time.Hour)
	assert.Empty(t, shoots)
	assert.Empty(t, undated)
}

func TestEveryShotIsInOneShootOrUndated(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		n := rapid.IntRange(0, 40).Draw(rt, "n")
		gap := time.Duration(rapid.IntRange(0, 6*60).Draw(rt, "gap")) * time.Minute
		shots := make([]Shot, n)
		for i := range shots {
			shots[i].ID = int64(i + 1)
			if rapid.IntRange(0, 5).Draw(rt, "dated") > 0 {
				taken := at("2026-05-17 08:00").Add(time.Duration(rapid.IntRange(0, 4*24*60).Draw(rt, "minute")) * time.Minute)
				shots[i].Taken = &taken
			}
		}
		shoots, all := Shoots(shots, gap)
		for i, s := range shoots {
			for j, id := range s.IDs {
				if j > 0 {
					assert.LessOrEqual(rt, shots[id-1].Taken.Sub(*shots[s.IDs[j-1]-1].Taken), gap)
				}
			}
			if i > 0 {
				assert.Greater(rt, s.First.Sub(shoots[i-1].Last), gap)
			}
			all = append(all, s.IDs...)
		}
		slices.Sort(all)
		assert.Len(rt, all, n)
		assert.Len(rt, slices.Compact(all), n)
	})
}
