package outputs

import (
	"fmt"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

const longestAddress = 40

// Address is the name under which items are had in an output size at their public addresses: small letters, figures, and hyphens between
// them, made of what the size is called when it is made. Taken says which names are in use; the first that is free is given.
func Address(name string, taken func(string) bool) string {
	var out strings.Builder
	for _, r := range norm.NFKD.String(strings.ToLower(name)) {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			out.WriteRune(r)
		case unicode.Is(unicode.Mn, r):
		case out.Len() > 0 && !strings.HasSuffix(out.String(), "-"):
			out.WriteByte('-')
		}
		if out.Len() >= longestAddress {
			break
		}
	}
	base := strings.Trim(out.String(), "-")
	if strings.Trim(base, "0123456789-") == "" { // figures alone are widths
		base = strings.Trim("size-"+base, "-")
	}
	address := base
	for n := 2; taken(address); n++ {
		address = fmt.Sprintf("%s-%d", base, n)
	}
	return address
}
