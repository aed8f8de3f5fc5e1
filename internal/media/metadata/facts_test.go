package metadata

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func degrees(d float64) *float64 { return &d }

func TestWhereStandardsSayTheSameThing(t *testing.T) {
	cases := []struct {
		name string
		raw  map[string]any
		want Facts
	}{
		{"nothing", map[string]any{}, Facts{}},
		{"XMP before IPTC before EXIF", map[string]any{
			"XMP-dc:Description": "from XMP", "IPTC:Caption-Abstract": "from IPTC", "IFD0:ImageDescription": "from EXIF",
			"IPTC:ObjectName": "title from IPTC", "IFD0:Copyright": "© from EXIF", "IPTC:By-line": []any{"Greta", "Farid"},
		}, Facts{Description: "from XMP", Title: "title from IPTC", Copyright: "© from EXIF", Credit: "Greta"}},
		{"blanks count as missing", map[string]any{"XMP-dc:Title": "  ", "IPTC:ObjectName": "x\x00"}, Facts{Title: "x"}},
		{"numbers in texts", map[string]any{"XMP-dc:Title": 2026.0, "XMP-dc:Subject": []any{1.0, "one"}},
			Facts{Title: "2026", Keywords: []string{"1", "one"}}},
		{"ratings are held within bounds", map[string]any{"XMP-xmp:Rating": 99.0}, Facts{Rating: 5}},
		{"a rejected one", map[string]any{"XMP-xmp:Rating": "-1"}, Facts{Rating: -1}},
		{"a rating that is none", map[string]any{"XMP-xmp:Rating": "good"}, Facts{}},
		{"the maker is not said twice", map[string]any{"IFD0:Make": "Ostrel", "IFD0:Model": "OSTREL M2"}, Facts{Camera: "OSTREL M2"}},
		{"a maker without a model", map[string]any{"IFD0:Make": "Ostrel"}, Facts{Camera: "Ostrel"}},
		{"named places before numbers", map[string]any{"XMP-photoshop:City": "Hallow", "IPTC:Country-PrimaryLocationName": "Nowhere",
			"Composite:GPSLatitude": "+51.5", "Composite:GPSLongitude": "-1.2"},
			Facts{Place: "Hallow, Nowhere", Latitude: degrees(51.5), Longitude: degrees(-1.2)}},
		{"numbers where there is no name", map[string]any{"Composite:GPSLatitude": "+51.5", "Composite:GPSLongitude": "-1.2"},
			Facts{Latitude: degrees(51.5), Longitude: degrees(-1.2)}},
		{"a position that cannot be", map[string]any{"Composite:GPSLatitude": "+951.5", "Composite:GPSLongitude": "-1.2"}, Facts{}},
		{"exposure", map[string]any{"ExifIFD:ExposureTime": "1/250", "ExifIFD:FNumber": 2.8, "ExifIFD:ISO": 400.0,
			"ExifIFD:FocalLength": "50.0 mm"}, Facts{Exposure: "1/250 s, f/2.8, ISO 400, 50.0 mm"}},
		{"a label", map[string]any{"XMP-xmp:Label": "Cleared"}, Facts{Label: "Cleared"}},
		{"regions", map[string]any{"XMP-mwg-rs:RegionInfo": map[string]any{
			"AppliedToDimensions": map[string]any{"W": 900.0, "H": 600.0, "Unit": "pixel"},
			"RegionList": []any{
				map[string]any{"Area": map[string]any{"X": 0.25, "Y": 0.5, "W": 0.1, "H": 0.2, "Unit": "normalized"},
					"Name": "Greta Ollin", "Type": "Face"},
				map[string]any{"Area": map[string]any{"X": 0.25, "Y": 0.5, "W": 0.1, "H": 0.2, "Unit": "normalized"}, "Name": "a kite",
					"Type": "Focus"},
				map[string]any{"Area": map[string]any{"X": 25.0, "Y": 50.0, "W": 10.0, "H": 20.0, "Unit": "pixel"}, "Type": "Face"},
				"nonsense",
			}}}, Facts{Faces: []Face{{X: 0.25, Y: 0.5, Width: 0.1, Height: 0.2, Name: "Greta Ollin", AppliedTo: [2]int{900, 600}}}}},
		{"half a position is none", map[string]any{"Composite:GPSLatitude": "+51.5"}, Facts{}},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, Interpret(c.raw), c.name)
	}
}

func TestTheMomentOfCapture(t *testing.T) {
	moment := time.Date(2026, 5, 17, 10, 21, 37, 0, time.UTC)
	cases := []struct {
		name string
		raw  map[string]any
		zone string
	}{
		{"EXIF with its offset", map[string]any{"ExifIFD:DateTimeOriginal": "2026:05:17 10:21:37",
			"ExifIFD:OffsetTimeOriginal": "+02:00", "ExifIFD:CreateDate": "2020:01:01 00:00:00"}, "+02:00"},
		{"EXIF that is blank, then XMP", map[string]any{"ExifIFD:DateTimeOriginal": "0000:00:00 00:00:00",
			"XMP-photoshop:DateCreated": "2026:05:17 10:21:37-04:00"}, "-04:00"},
		{"a clip", map[string]any{"QuickTime:CreateDate": "2026:05:17 10:21:37"}, ""},
	}
	for _, c := range cases {
		got := Interpret(c.raw).Taken
		require.NotNil(t, got, c.name)
		assert.Equal(t, moment, got.Local, c.name)
		assert.Equal(t, c.zone, got.Zone, c.name)
	}
	assert.Nil(t, Interpret(map[string]any{"System:FileModifyDate": "2026:05:17 10:21:37"}).Taken,
		"the date of a file is no date taken")
}
