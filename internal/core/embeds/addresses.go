package embeds

import (
	"net/url"
	"strconv"
	"strings"

	"brightsatchel/internal/core/fault"
)

// Named are the sizes of a public address, by name: how many pixels wide, where the picture has as many.
var Named = map[string]int{"small": 640, "medium": 1280, "large": 1920}

// Width reads the size in a public address: a name, or one of Widths.
func Width(text string) (pixels int, known bool) {
	if pixels, known = Named[text]; known {
		return pixels, true
	}
	for _, w := range Widths {
		if strconv.Itoa(w) == text {
			return w, true
		}
	}
	return 0, false
}

// Widest is the widest of the widths of a picture, itself so many pixels wide, that is not wider than what was asked for. So an address
// goes on leading to a picture when that has become smaller.
func Widest(width, asked int) int {
	all := WidthsOf(width)
	widest := all[0]
	for _, w := range all {
		if w <= asked {
			widest = w
		}
	}
	return widest
}

// Origin reads the origin of a website (RFC 6454) from what somebody types: scheme and host, and the port where it has one of its own.
func Origin(text string) (string, error) {
	text = strings.TrimSpace(text)
	if text != "" && !strings.Contains(text, "://") {
		text = "https://" + text
	}
	at, err := url.Parse(text)
	if err != nil || at.Hostname() == "" || at.Scheme != "https" && at.Scheme != "http" || at.User != nil ||
		strings.ContainsAny(at.Host, "*, ") {
		return "", fault.Invalidf("origin", "“%s” is not the address of a website such as https://www.example.org.", text)
	}
	host := strings.ToLower(at.Hostname())
	if strings.Contains(host, ":") {
		host = "[" + host + "]"
	}
	if port := at.Port(); port != "" && port != map[string]string{"http": "80", "https": "443"}[at.Scheme] {
		host += ":" + port
	}
	return at.Scheme + "://" + host, nil
}
