package query

import (
	"fmt"
)

// Format is a kind of file as people tell them apart.
type Format struct {
	Name, Reads string
	Media       []string // media types (IANA)
}

// Formats are all kinds of files; what is none of them is another one.
var Formats = []Format{{"jpeg", "JPEG", []string{"image/jpeg"}}, {"png", "PNG", []string{"image/png"}}, {"webp", "WebP",
	[]string{"image/webp"}},
	{"heic", "HEIC or AVIF", []string{"image/heic", "image/heif", "image/avif"}}, {"tiff", "TIFF", []string{"image/tiff"}},
	{"gif", "GIF", []string{"image/gif"}}, {"raw", "raw", RawMedia}, {"svg", "SVG", []string{"image/svg+xml"}},
	{"pdf", "PDF", []string{"application/pdf"}}, {"mp4", "MP4", []string{"video/mp4"}}, {"mov", "MOV", []string{"video/quicktime"}},
	{"webm", "WebM", []string{"video/webm"}}, {OtherFormat, "another kind of file", nil}}

// RawMedia are the media types of the raw files of cameras, which nobody registered: image/x-… alone may be an icon or a drawing, too.
var RawMedia = []string{"image/x-adobe-dng", "image/x-canon-cr2", "image/x-canon-cr3", "image/x-canon-crw", "image/x-nikon-nef",
	"image/x-nikon-nrw",
	"image/x-sony-arw", "image/x-sony-sr2", "image/x-sony-srf", "image/x-fujifilm-raf", "image/x-olympus-orf", "image/x-panasonic-rw2",
	"image/x-panasonic-raw", "image/x-pentax-pef", "image/x-samsung-srw", "image/x-minolta-mrw", "image/x-epson-erf",
	"image/x-hasselblad-3fr",
	"image/x-hasselblad-fff", "image/x-kodak-dcr", "image/x-kodak-kdc", "image/x-leica-rwl", "image/x-mamiya-mef", "image/x-raw",
	"image/x-sigma-x3f", "image/x-phaseone-iiq"}

// OtherFormat is what is none of the others.
const OtherFormat = "other"

// FormatOf is the kind of file of a media type.
func FormatOf(media string) string {
	for _, f := range Formats {
		for _, m := range f.Media {
			if media == m {
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
			out += fmt.Sprintf(" when %s = '%s' then '%s'", column, m, f.Name)
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
