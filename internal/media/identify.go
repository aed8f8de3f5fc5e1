// Package media turns files of all kinds into facts and pictures. It tells what a file is by its content, never by its
// name, and passes it on to the engine for its kind.
package media

import (
	"context"
	"slices"
	"strings"

	"brightsatchel/internal/core/query"

	"github.com/gabriel-vasile/mimetype"
)

// Type is what a file is.
type Type struct {
	MediaType string // IANA media type
	Kind      string // picture, clip, animation, vector, document, file
}

var kinds = map[string]string{
	"image/jpeg": "picture", "image/png": "picture", "image/webp": "picture", "image/avif": "picture",
	"image/heic": "picture", "image/heif": "picture", "image/tiff": "picture", "image/gif": "picture",
	"image/svg+xml": "vector", "application/pdf": "document",
	"video/mp4": "clip", "video/quicktime": "clip", "video/webm": "clip",
}

// refusedNames says in words what some files are that are not taken.
var refusedNames = map[string]string{
	"text/plain": "plain text", "text/html": "a web page", "application/zip": "a ZIP archive",
	"text/csv": "a table as text", "application/json": "data as text (JSON)",
	"application/octet-stream": "data of an unknown kind", "image/vnd.adobe.photoshop": "a layered working file",
}

// raws are the media types that exiftool has for camera raw files. By their first bytes many of them are TIFF, and read
// as TIFF they show their tiny first thumbnail.
var raws = query.RawMedia

// Raw says whether a media type is camera raw.
func Raw(mediaType string) bool { return slices.Contains(raws, mediaType) }

// Refused is a file that cannot be shown, with the reason for a person. Plain says that nothing is wrong with it but that
// it is of a kind that is not shown here: it can be kept as a plain file of that type.
type Refused struct {
	Why   string
	Plain bool
	Type  Type
}

func (e *Refused) Error() string { return e.Why }

// identify tells what a file is by its content. A file that is none of the kinds is Refused, as Plain.
func (e *Engine) identify(ctx context.Context, path string) (Type, error) {
	found, err := mimetype.DetectFile(path)
	if err != nil {
		return Type{}, err
	}
	known := Type{}
	for m := found; m != nil && known.Kind == ""; m = m.Parent() {
		if kind, ok := kinds[m.String()]; ok {
			known = Type{MediaType: m.String(), Kind: kind}
		}
	}
	if known.Kind == "" || known.MediaType == "image/tiff" {
		// A damaged file can end exiftool, which is started again for the next one: this one is no raw picture then.
		if told, err := e.Metadata.FileType(ctx, path); err == nil && Raw(told) {
			return Type{MediaType: told, Kind: "picture"}, nil
		}
	}
	if known.Kind != "" {
		return known, nil
	}
	mediaType, _, _ := strings.Cut(found.String(), ";")
	name := refusedNames[mediaType]
	if name == "" {
		name = "a file of another kind (" + mediaType + ")"
	}
	return Type{}, &Refused{Why: "Its content is " + name + ", which is not a picture, clip or document that can be shown here.",
		Plain: true, Type: Type{MediaType: mediaType, Kind: "file"}}
}
