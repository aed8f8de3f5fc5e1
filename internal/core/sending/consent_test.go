package sending

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestConsentOnADay(t *testing.T) {
	for _, c := range []struct {
		consent Consent
		day     string
		want    string
	}{
		{Consent{State: Open}, "2026-11-26", Open},
		{Consent{State: Given}, "2999-01-01", Given},
		{Consent{State: Given, Until: "2026-11-26"}, "2026-11-26", Given},
		{Consent{State: Given, Until: "2026-11-26"}, "2026-11-27", Ended},
		{Consent{State: Refused}, "2026-11-26", Refused},
	} {
		assert.Equal(t, c.want, c.consent.On(c.day), c)
		assert.NoError(t, c.consent.Check())
	}
	for _, c := range []Consent{{State: ""}, {State: Ended}, {State: Given, Until: "2026-02-30"}, {State: Refused, Until: "2026-11-26"},
		{State: Given, Until: "tomorrow"}} {
		assert.Error(t, c.Check(), c)
	}
}

func TestWhatIsAgainstSendingOut(t *testing.T) {
	said := Against([]Shown{{"Ada Quill", Consent{State: Refused}}, {"Bo Marsh", Consent{State: Given, Until: "2026-05-17"}},
		{"Cy Thorn", Consent{State: Given}}, {"Di Fenn", Consent{State: Open}}}, "2026-11-26")
	assert.Equal(t, []string{"Ada Quill does not agree to be shown in public",
		"Bo Marsh agreed to be shown in public until 17 May 2026 only"}, said)
	assert.Empty(t, Against(nil, "2026-11-26"))
}
