package query

import (
	"fmt"
	"strings"
)

// Format is a kind of file as people tell them apart.
type Format struct {
	Name, Reads string
	Media       []string // media types (IANA); one that ends with % stands for all that begin so
}

// Formats are all kinds of files; what is none of them is another one. The media types of raw files are those that cameras' makers never
// registered: image/x-….
var Formats = []Format{{"jpeg", "JPEG", []string{"image/jpeg"}}, {"png", "PNG", []string{"image/png"}}, {"webp", "WebP",
	[]string{"image/webp"}},
	{"heic", "HEIC or AVIF", []string{"image/heic", "image/heif", "image/avif"}}, {"tiff", "TIFF", []string{"image/tiff"}},
	{"gif", "GIF", []string{"image/gif"}}, {"raw", "raw", []string{"image/x-%"}}, {"svg", "SVG", []string{"image/svg+xml"}},
	{"pdf", "PDF", []string{"application/pdf"}}, {"mp4", "MP4", []string{"video/mp4"}}, {"mov", "MOV", []string{"video/quicktime"}},
	{"webm", "WebM", []string{"video/webm"}}, {OtherFormat, "another kind of file", nil}}

// OtherFormat is what is none of the others.
const OtherFormat = "other"

// FormatOf is the kind of file of a media type.
func FormatOf(media string) string {
	for _, f := range Formats {
		for _, m := range f.Media {
			if begins, all := strings.CutSuffix(m, "%"); media == m || all && strings.HasPrefix(media, begins) {
				return f.Name
			}
		}
	}
	return OtherFormat
}

// formatSQL is FormatOf of the column media_type.
func formatSQL(column string) string {
	out := "case"
	for _, f := range Formats {
		for _, m := range f.Media {
			out += fmt.Sprintf(" when %s like '%s' then '%s'", column, m, f.Name)
		}
	}
	return out + " else '" + OtherFormat + "' end"
}

// formatNames are how formats read, by their places in Formats.
var formatNames = map[int64]string{}

func init() {
	reads := map[string]string{}
	for i, f := range Formats {
		reads[f.Name], formatNames[int64(i)] = f.Reads, f.Reads
	}
	register(Field{Name: "format", Takes: Takes{Names: true}, Dear: 1, Say: byNames("a file of the kind", reads, ""),
		SQL: isOne(formatSQL("a.media_type")), Set: oneNamed("format"), Column: &Column{SQL: formatSQL("media_type")}})
}
