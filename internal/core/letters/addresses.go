package letters

import (
	"net/mail"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/wording"
)

// Address is somebody to write to. Name may be empty.
type Address struct{ Name, Email string }

// MostAddresses is how many addresses are read at a time.
const MostAddresses = 1000

const (
	longestEmail = 254 // characters, RFC 5321, section 4.5.3.1.3
	longestName  = 100
)

// ReadAddresses reads the addresses that somebody typed or pasted: one on each line, or with commas or semicolons between them, with a
// name or without: "Maren Holt <maren@example.org>". Each address comes once. Wrong are the parts that are none, as they were written.
func ReadAddresses(text string) (good []Address, wrong []string) {
	there := map[string]bool{}
	for _, part := range split(text) {
		a, ok := readAddress(part)
		if !ok {
			wrong = append(wrong, wording.OneLine(part))
			continue
		}
		if key := strings.ToLower(a.Email); !there[key] {
			there[key] = true
			good = append(good, a)
		}
	}
	return good, wrong
}

// split cuts at line ends, and at commas and semicolons that are in no quotes and no angle brackets.
func split(text string) []string {
	var parts []string
	var part strings.Builder
	quoted, angled := false, false
	for _, r := range text {
		switch {
		case r == '"':
			quoted = !quoted
		case r == '<' && !quoted:
			angled = true
		case r == '>' && !quoted:
			angled = false
		}
		if r == '\n' || r == '\r' || (r == ',' || r == ';') && !quoted && !angled {
			parts = append(parts, part.String())
			part.Reset()
			quoted, angled = false, false // a line that was not ended right spoils no other
			continue
		}
		part.WriteRune(r)
	}
	out := []string{}
	for _, p := range append(parts, part.String()) {
		if p = strings.TrimSpace(p); p != "" {
			out = append(out, p)
		}
	}
	return out
}

func readAddress(text string) (Address, bool) {
	parsed, err := mail.ParseAddress(norm.NFC.String(text))
	if err != nil { // a name with a dot or a comma must be in quotes in a letter, and nobody types them
		at := strings.LastIndex(text, "<")
		if at < 0 || !strings.HasSuffix(text, ">") {
			return Address{}, false
		}
		if parsed, err = mail.ParseAddress(text[at+1 : len(text)-1]); err != nil || parsed.Name != "" {
			return Address{}, false
		}
		parsed.Name = strings.Trim(text[:at], ` "`)
	}
	name := wording.OneLine(parsed.Name)
	_, host, _ := strings.Cut(parsed.Address, "@")
	if len(parsed.Address) > longestEmail || len([]rune(name)) > longestName || strings.ContainsFunc(parsed.Address, unusual) ||
		host == "" || strings.HasPrefix(host, "[") {
		return Address{}, false
	}
	return Address{Name: name, Email: parsed.Address}, true
}

// unusual are signs that are allowed in quoted addresses and that no mail server of today takes.
func unusual(r rune) bool { return r <= ' ' || r == 0x7f || strings.ContainsRune(`"(),:;<>[\]`, r) }
