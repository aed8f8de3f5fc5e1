package drive

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"net/http"
)

// Bounds of the XML of a request: a program that lists a folder asks for some ten properties of each file in it.
const (
	mostElements = 200
	mostNested   = 20
)

// errXML is what cannot be read as XML (RFC 4918, section 8.2).
var errXML = &said{http.StatusBadRequest, "What was asked for cannot be read: it is no XML."}

// readXML reads the XML of a request before anything is done by it, and puts it back: bounded in length, elements and depth, and without
// prefixes that stand for nothing, which Go's reader takes.
func readXML(w http.ResponseWriter, r *http.Request) error {
	data, err := io.ReadAll(http.MaxBytesReader(w, r.Body, longestXML))
	if err != nil {
		return err
	}
	r.Body = io.NopCloser(bytes.NewReader(data))
	elements, nested := 0, 0
	for decoder := xml.NewDecoder(bytes.NewReader(data)); ; {
		token, err := decoder.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return errXML
		}
		switch t := token.(type) {
		case xml.StartElement:
			elements, nested = elements+1, nested+1
			for _, a := range t.Attr {
				if a.Name.Space == "xmlns" && a.Value == "" {
					return errXML
				}
			}
		case xml.EndElement:
			nested--
		}
		if elements > mostElements || nested > mostNested {
			return &said{http.StatusRequestEntityTooLarge, "That asks for too many properties at once."}
		}
	}
}
