package outputs

import (
	"fmt"
	"strings"

	"github.com/gosimple/slug"
)

const longestAddress = 40

// Address is the name under which items are had in an output size at their public addresses: small letters, figures, and hyphens between
// them, with letters of other alphabets written in these, made of what the size is called when it is made. Taken says which names are in
// use; the first that is free is given.
func Address(name string, taken func(string) bool) string {
	base := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, slug.MakeLang(name, "en"))
	for strings.Contains(base, "--") {
		base = strings.ReplaceAll(base, "--", "-")
	}
	base = strings.Trim(base[:min(len(base), longestAddress)], "-")
	if strings.Trim(base, "0123456789-") == "" { // figures alone are widths
		base = strings.Trim("size-"+base, "-")
	}
	address := base
	for n := 2; taken(address); n++ {
		address = fmt.Sprintf("%s-%d", base, n)
	}
	return address
}
