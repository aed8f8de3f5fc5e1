// Package calendar reads capture times. A capture time is the wall clock of the camera, with the offset from UTC only
// where the file says it; it is never invented and never converted.
package calendar

import (
	"regexp"
	"strings"
	"time"
)

// Capture is a local wall time (its Location is UTC by convention and means nothing) and an offset such as "+02:00",
// "Z", or "" when the file does not say.
type Capture struct {
	Local time.Time
	Zone  string
}

var stamp = regexp.MustCompile(`^(\d{4})[:-](\d{2})[:-](\d{2})[ T](\d{2}):(\d{2}):(\d{2})(?:\.\d+)?\s*(Z|[+-]\d{2}:\d{2})?$`)

// ReadCapture reads a time as EXIF 2.32 (2025:05:17 10:21:37) or XMP (2025-05-17T10:21:37+01:00) write it; offset is
// EXIF's OffsetTimeOriginal, or empty. It returns nil for anything that is not a real moment, such as 0000:00:00 00:00:00.
func ReadCapture(value, offset string) *Capture {
	m := stamp.FindStringSubmatch(strings.TrimSpace(value))
	if m == nil {
		return nil
	}
	local, err := time.Parse("2006-01-02 15:04:05", m[1]+"-"+m[2]+"-"+m[3]+" "+m[4]+":"+m[5]+":"+m[6])
	if err != nil || local.Year() < 1826 { // the year of the oldest photograph that survives
		return nil
	}
	zone := m[7]
	if zone == "" && zoneForm.MatchString(offset) {
		zone = offset
	}
	return &Capture{Local: local, Zone: zone}
}

var zoneForm = regexp.MustCompile(`^(Z|[+-]\d{2}:\d{2})$`)
