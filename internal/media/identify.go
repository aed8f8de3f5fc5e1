// Package media turns files of all kinds into facts and pictures. It tells what a file is by its content, never by its
// name, and passes it on to the engine for its kind.
package media

import (
	"github.com/gabriel-vasile/mimetype"
)

// Type is what a file is.
type Type struct {
	MediaType string // IANA media type
	Kind      string // picture, clip, animation, vector, document
}

var kinds = map[string]string{
	"image/jpeg": "picture", "image/png": "picture", "image/webp": "picture", "image/avif": "picture",
	"image/heic": "picture", "image/heif": "picture", "image/tiff": "picture", "image/gif": "picture",
	"image/svg+xml": "vector", "application/pdf": "document",
	"video/mp4": "clip", "video/quicktime": "clip", "video/webm": "clip",
}

// refusedNames says in words what some files are that are not taken.
var refusedNames = map[string]string{
	"text/plain; charset=utf-8": "plain text", "text/html; charset=utf-8": "a web page", "application/zip": "a ZIP archive",
	"application/octet-stream": "data of an unknown kind", "image/vnd.adobe.photoshop": "a layered working file",
}

// Refused is a file that cannot be taken, with the reason for a person.
type Refused struct{ Why string }

func (e *Refused) Error() string { return e.Why }

// Identify tells what a file is by its content. A file that is none of the kinds is Refused.
func Identify(path string) (Type, error) {
	found, err := mimetype.DetectFile(path)
	if err != nil {
		return Type{}, err
	}
	for m := found; m != nil; m = m.Parent() {
		if kind, ok := kinds[m.String()]; ok {
			return Type{MediaType: m.String(), Kind: kind}, nil
		}
	}
	name := refusedNames[found.String()]
	if name == "" {
		name = found.String()
	}
	return Type{}, &Refused{Why: "Its content is " + name + ", which is not a picture, clip or document that can be shown here."}
}
