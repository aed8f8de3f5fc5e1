package media

import (
	"regexp"
	"strings"
)

// What decoders say of files that are damaged, in words of their own, with what that means.
var reasons = []struct{ says, means string }{
	{"truncated", "it is cut off: a part of its data is missing"},
	{"premature end", "it is cut off: a part of its data is missing"},
	{"end of file", "it is cut off: a part of its data is missing"},
	{"moov atom not found", "it is cut off: the part that says where its pictures are is missing"},
	{"out of order read", "its data is damaged"},
	{"invalid data", "its data is damaged"},
	{"corrupt", "its data is damaged"},
	{"bad marker", "its data is damaged"},
	{"not a known file format", "it is not what its first bytes say"},
	{"entity", "it refers to itself without end"},
	{"out of memory", "it needs more memory than a picture may"},
	{"took longer than", "it takes too long to be read"},
}

// ours is what our own engines say, which are sentences already: "it measures 40 × 70,000 pixels".
var ours = regexp.MustCompile(`^(it|its) [^/]*$`)

// inWords says what is wrong with a file in words for a person: no path, no address in memory, no name of a program.
func inWords(text string) string {
	if ours.MatchString(text) && !strings.Contains(text, "0x") {
		return text
	}
	lower := strings.ToLower(text)
	for _, r := range reasons {
		if strings.Contains(lower, r.says) {
			return r.means
		}
	}
	return "its data is damaged, or of a kind that cannot be read here"
}
