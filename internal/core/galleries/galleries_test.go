package galleries

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestWhoSeesAGalleryAtWhichMoment(t *testing.T) {
	const today = "2026-11-27"
	for name, c := range map[string]struct {
		gate   Gate
		caller Caller
		state  string
	}{
		"closed":                         {Gate{Audience: Everyone}, Caller{Password: true, Invitation: true}, Closed},
		"with the link":                  {Gate{Open: true, Audience: Link}, Caller{}, Open},
		"on its last day":                {Gate{Open: true, Audience: Link, LastDay: today}, Caller{}, Open},
		"the day after":                  {Gate{Open: true, Audience: Link, LastDay: "2026-11-26"}, Caller{Password: true}, Closed},
		"locked":                         {Gate{Open: true, Audience: Link, Password: true}, Caller{}, Locked},
		"unlocked":                       {Gate{Open: true, Audience: Link, Password: true}, Caller{Password: true}, Open},
		"invited past the password":      {Gate{Open: true, Audience: Link, Password: true}, Caller{Invitation: true}, Open},
		"not invited":                    {Gate{Open: true, Audience: Invited}, Caller{Password: true}, Uninvited},
		"invited":                        {Gate{Open: true, Audience: Invited}, Caller{Invitation: true}, Open},
		"everyone in spite of passwords": {Gate{Open: true, Audience: Everyone, Password: true}, Caller{}, Open},
	} {
		assert.Equal(t, c.state, c.gate.State(c.caller, today), name)
	}
}

// TestNobodySeesMoreByHavingLess: whoever has neither password nor invitation never sees what somebody with them does not.
func TestNobodySeesMoreByHavingLess(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := Gate{Open: rapid.Bool().Draw(t, "open"), Password: rapid.Bool().Draw(t, "password"),
			Audience: rapid.SampledFrom(Audiences).Draw(t, "audience"),
			LastDay:  rapid.SampledFrom([]string{"", "2026-01-01", "2030-01-01"}).Draw(t, "day")}
		if g.State(Caller{}, "2026-11-27") == Open {
			for _, c := range []Caller{{Password: true}, {Invitation: true}, {Password: true, Invitation: true}} {
				assert.Equal(t, Open, g.State(c, "2026-11-27"))
			}
		}
		if g.State(Caller{Password: true, Invitation: true}, "2026-11-27") == Open {
			assert.True(t, g.Open)
		}
	})
}

func TestWhatGuestsMayHave(t *testing.T) {
	sides := []Side{{1, 800}, {2, 3000}, {3, 0}}
	for name, c := range map[string]struct {
		settings Settings
		take     bool
		original bool
		largest  int
	}{
		"only looking":           {Settings{Sizes: []int64{}}, false, false, 2000},
		"small":                  {Settings{Downloads: true, Sizes: []int64{1}}, true, false, 800},
		"two sizes":              {Settings{Downloads: true, Sizes: []int64{1, 2}}, true, false, 3000},
		"switched off":           {Settings{Sizes: []int64{1}, Original: true}, false, false, 800},
		"the original":           {Settings{Downloads: true, Sizes: []int64{1}, Original: true}, true, true, 0},
		"on and nothing chosen":  {Settings{Downloads: true}, false, false, 2000},
		"a size without a bound": {Settings{Downloads: true, Sizes: []int64{3}}, true, false, 2000},
	} {
		may := c.settings.Allowance(sides, 2000)
		assert.Equal(t, c.take, may.Take, name)
		assert.Equal(t, c.original, may.Original, name)
		assert.Equal(t, c.largest, may.Largest, name)
		assert.Equal(t, c.original, c.settings.MayTake(0), name)
	}
}

func TestAddresses(t *testing.T) {
	for typed, want := range map[string]string{"": "", "Spring Kites": "spring-kites", "a1-b2": "a1-b2", "  x  y  z ": "x-y-z"} {
		got, err := Address(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got)
	}
	for _, typed := range []string{"ab", "-abc", "abc-", "a--b", "ä bc", "a/b", "..", "a.b", "<script>", "a\x00bc"} {
		_, err := Address(typed)
		assert.Error(t, err, typed)
	}
}
