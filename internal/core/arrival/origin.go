package arrival

import (
	"regexp"
	"strings"
)

// appended is what programs and people put at the end of a name when they save a later state of a picture under it. Numbers alone are not
// among it: they tell the frames of a shoot apart.
var appended = regexp.MustCompile(`(?:[-_ .]+|^)(?:` + words + `)(?:[-_ .]*(?:v|copy)?[-_ .]*\d{1,2})?$|[-_ ]?\(\d{1,2}\)$|[-_ ]+v\d{1,2}$`)

const words = "edit|edited|bearbeitet|modifi[eé]|retouch|retouched|export|exported|final|master|copy|crop|cropped|bw|b&w|web|print|small|" +
	"large|hdr|denoised|sharpened|straightened"

// Origin is the stem of the file that a file of this name is a later state of, going by what is appended to it ("walk-edit-2.tif" comes
// from "walk"), or "" where nothing is.
func Origin(name string) string {
	stem := Stem(name)
	root := stem
	for {
		shorter := strings.TrimRight(appended.ReplaceAllString(root, ""), "-_ .")
		if shorter == root || shorter == "" {
			break
		}
		root = shorter
	}
	if root == stem {
		return ""
	}
	return root
}
