package letters

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestAddressesAsPeopleWriteThem(t *testing.T) {
	good, wrong := ReadAddresses("Maren Holt <maren@example.org>\r\nbo@example.org, tove@example.org;MAREN@example.org\n\n" +
		"\"Holt, Maren\" <m.holt@example.org>\nHolt, <h@example.org>\nMs. M. Holt (press) <press@example.org>\nnot an address\n" +
		"two@at@example.org\n@example.org\nmaren@\nJörg Müller <joerg@münchen.example>\nmaren @example.org")
	assert.Equal(t, []Address{{"Maren Holt", "maren@example.org"}, {"", "bo@example.org"}, {"", "tove@example.org"},
		{"Holt, Maren", "m.holt@example.org"}, {"", "h@example.org"}, {"Ms. M. Holt", "press@example.org"},
		{"Jörg Müller", "joerg@münchen.example"}}, good)
	assert.Equal(t, []string{"Holt", "not an address", "two@at@example.org", "@example.org", "maren@", "maren @example.org"}, wrong)
}

// TestNoAddressBreaksALetter: whatever is typed, no name or address has a line end or a control character, and none comes twice.
func TestNoAddressBreaksALetter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := strings.Join(rapid.SliceOf(rapid.OneOf(rapid.String(), rapid.SampledFrom([]string{"a@b.example", "\n", ",", "<", ">", `"`,
			"Bcc: x@y.example", "A <a@b.example>", "\r\n", "\x00", "=?utf-8?q?a=0Ab?= <c@d.example>"}))).Draw(t, "parts"), "")
		good, _ := ReadAddresses(text)
		there := map[string]bool{}
		for _, a := range good {
			assert.False(t, strings.ContainsAny(a.Name+a.Email, "\r\n\x00"), "%q", a)
			key := strings.ToLower(a.Email)
			assert.False(t, there[key], key)
			there[key] = true
		}
	})
}

func TestALetterSaysTheSameInBothForms(t *testing.T) {
	l, err := Write(Draft{Subject: "Pictures\r\nBcc: x@y.example", Greeting: Dear("<script>\nMaren"), Lines: []string{"One & two."},
		Quote: "Look <b>here</b>\nand there", Press: "See the pictures", Link: "https://satchel.example/g/x?as=1&y=2", From: "Chioma",
		Small: "Yours alone.", Stop: "https://satchel.example/u/1", Cover: true})
	require.NoError(t, err)
	assert.Equal(t, "Pictures Bcc: x@y.example", l.Subject)
	for _, said := range []string{"Dear <script> Maren,", "One & two.", "Look <b>here</b>", "https://satchel.example/g/x?as=1&y=2", "Chioma",
		"Yours alone.", "https://satchel.example/u/1"} {
		assert.Contains(t, l.Text, said)
	}
	assert.NotContains(t, l.HTML, "<script>")
	assert.NotContains(t, l.HTML, "<b>")
	for _, said := range []string{"Dear &lt;script&gt; Maren,", "One &amp; two.", "as=1&amp;y=2", "Yours alone.", "cid:cover",
		"https://satchel.example/u/1"} {
		assert.Contains(t, l.HTML, said)
	}
	assert.Equal(t, "Hello,", Dear("  "))
}
