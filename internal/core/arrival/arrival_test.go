package arrival

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestTheNumbersAlwaysAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		states := rapid.SliceOf(rapid.SampledFrom([]State{Waiting, Arrived, Added, Version, Skipped, Refused, Cancelled,
			Joined})).Draw(t, "states")
		s := Count(states)
		assert.Equal(t, s.Dropped, s.Added+s.Versions+s.Skipped+s.Refused+s.Cancelled+s.OnTheWay)
		assert.Equal(t, len(states), s.Dropped+s.Joined)
	})
}

func TestWhatAPolicyMakesOfADuplicate(t *testing.T) {
	for policy, want := range map[Policy]State{Skip: Skipped, KeepBoth: Added, NewVersion: Version} {
		assert.Equal(t, want, policy.Outcome(true))
		assert.Equal(t, Added, policy.Outcome(false))
		assert.True(t, want.Settled())
	}
}

func TestStrays(t *testing.T) {
	for _, name := range []string{".DS_Store", "Thumbs.db", "desktop.ini", "._a.jpg"} {
		assert.True(t, Stray("Walk", name), name)
	}
	assert.True(t, Stray("Walk/.git", "a.jpg"), "in a hidden folder")
	assert.True(t, Stray("__MACOSX/Walk", "a.jpg"))
	for _, name := range []string{"a.jpg", "thumbs.jpg", "a..jpg"} {
		assert.False(t, Stray("", name), name)
	}
}

func TestSidecarsFindTheirPicture(t *testing.T) {
	files := [][2]string{
		{"Walk", "a.jpg"}, {"Walk", "a.DNG"}, {"Walk", "A.xmp"}, // the raw one of two
		{"Walk", "b.jpg"}, {"Walk", "b.jpg.xmp"},
		{"", "a.xmp"},                            // in another folder: alone
		{"Walk", "a.jpg.XMP"}, {"Walk", "c.xmp"}, // whole name; alone
	}
	assert.Equal(t, map[int]int{2: 1, 4: 3, 6: 0}, Sidecars(files))
}

func TestLimitsSayWhatIsWrong(t *testing.T) {
	l := Limits{LargestFile: 5_000_000, Kinds: []string{"picture"}, StorageLimit: 10_000_000, Used: 9_500_000}
	cases := []struct {
		kind  string
		bytes int64
		why   string
	}{
		{"picture", 400_000, ""},
		{"", 400_000, ""},
		{"picture", 0, "The file is empty."},
		{"picture", 6_000_000, "The file has 6 MB; up to 5 MB are taken."},
		{"clip", 1000, "This brand does not take clips."},
		{"picture", 600_000, "The brand's storage is full: 9.5 MB of 10 MB are used."},
	}
	for _, c := range cases {
		assert.Equal(t, c.why, l.Check(c.kind, c.bytes))
	}
	assert.Equal(t, "999 bytes", Bytes(999))
	assert.Equal(t, "4.3 GB", Bytes(4<<30))
	assert.Equal(t, "124 MB", Bytes(123_600_000))
}

func TestWordsGoOverWhatWasSaidBefore(t *testing.T) {
	text := func(s string) *string { return &s }
	batch := Words{Title: text("Spring meet {n}"), Credit: text("Greta"), Tags: []string{"kite"}}
	one := Words{Title: text("The moth"), Tags: []string{"Kite", "moth "}}
	got := one.Over(batch)
	assert.Equal(t, "The moth", *got.Title)
	assert.Equal(t, "Greta", *got.Credit)
	assert.Equal(t, []string{"kite", "moth"}, got.Tags)
	assert.Equal(t, "Spring meet {n}", *batch.Title, "what was said before stays as it was")

	require.NoError(t, one.Check())
	wrong := 45
	assert.ErrorContains(t, Words{Turn: &wrong}.Check(), "0, 90, 180")
	assert.ErrorContains(t, Words{Title: text("Meet {x}")}.Check(), "{x}")
	assert.ErrorContains(t, Words{Tags: []string{string(make([]byte, 200))}}.Check(), "too long")
}

func TestTitlesOfManySortInTheirOrder(t *testing.T) {
	assert.Equal(t, "Spring meet 03", Title("Spring meet {n}", "x.jpg", 3, 84))
	assert.Equal(t, "DSC1 / 1", Title("{name} / {n}", "DSC1.jpg", 1, 1))
	rapid.Check(t, func(t *rapid.T) {
		total := rapid.IntRange(2, 5000).Draw(t, "total")
		n := rapid.IntRange(1, total-1).Draw(t, "n")
		assert.Less(t, Title("{n}", "a", n, total), Title("{n}", "a", n+1, total))
	})
}
