package metadata

// names are where files say what the library knows too, by group and name as exiftool has them, the first that says something
// first: EXIF 2.32, the IPTC Photo Metadata Standard 2023, XMP, MWG regions 2.0, QuickTime. What the library says goes into a file
// under the first of them.
var names = struct {
	title, description, alt, credit, creator, copyright, usageTerms, keywords []string
	rating, label, regions                                                    string
	taken                                                                     [][2]string // with where the offset is
	place                                                                     [][]string  // the narrowest first
}{
	title: []string{"XMP-dc:Title", "IPTC:ObjectName", "QuickTime:Title", "ItemList:Title", "Keys:Title"},
	description: []string{"XMP-dc:Description", "IPTC:Caption-Abstract", "IFD0:ImageDescription", "ItemList:Description",
		"Keys:Description"},
	alt:        []string{"XMP-iptcCore:AltTextAccessibility"},
	credit:     []string{"XMP-photoshop:Credit", "IPTC:Credit"},
	creator:    []string{"XMP-dc:Creator", "IPTC:By-line", "IFD0:Artist"},
	copyright:  []string{"XMP-dc:Rights", "IPTC:CopyrightNotice", "IFD0:Copyright", "ItemList:Copyright", "Keys:Copyright"},
	usageTerms: []string{"XMP-xmpRights:UsageTerms"},
	keywords:   []string{"XMP-dc:Subject", "IPTC:Keywords"},
	rating:     "XMP-xmp:Rating",
	label:      "XMP-xmp:Label",
	regions:    "XMP-mwg-rs:RegionInfo",
	taken: [][2]string{
		{"ExifIFD:DateTimeOriginal", "ExifIFD:OffsetTimeOriginal"}, {"XMP-exif:DateTimeOriginal", ""}, {"XMP-photoshop:DateCreated", ""},
		{"ExifIFD:CreateDate", "ExifIFD:OffsetTimeDigitized"}, {"Keys:CreationDate", ""}, {"XMP-xmp:CreateDate", ""},
		{"QuickTime:CreateDate", ""},
	},
	place: [][]string{{"XMP-iptcCore:Location", "IPTC:Sub-location"}, {"XMP-photoshop:City", "IPTC:City"},
		{"XMP-photoshop:Country", "IPTC:Country-PrimaryLocationName"}},
}
