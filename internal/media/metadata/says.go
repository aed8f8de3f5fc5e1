package metadata

import (
	"context"
	"slices"

	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
)

// Say writes what the library says into a file of a size in pixels and leaves everything else in it as it is. A JPEG gets its
// copyright notice in EXIF and IPTC too, since many look for it there only.
func (t *Tool) Say(ctx context.Context, path string, says outputs.Says, size geometry.Size, isJPEG bool) error {
	return t.Write(ctx, path, values(says, size, isJPEG))
}

// CopyUnder copies every value that can be written from one file to another, but the orientation, which renditions have applied to
// their pixels, and but those that the library says itself. What it says as the file does, of place and moment, stays as the file
// has it, which is finer. It returns what remains to be said.
func (t *Tool) CopyUnder(ctx context.Context, from, to string, says outputs.Says) (outputs.Says, error) {
	raw, err := t.Read(ctx, from)
	if err != nil {
		return says, err
	}
	file := Interpret(raw)
	not := slices.Concat(names.title, names.description, names.alt, names.credit, names.copyright, names.usageTerms, names.keywords,
		[]string{names.rating, names.regions})
	if says.Stage != "" {
		not = append(not, names.label)
	}
	if says.Place == file.Place {
		says.Place = ""
	} else {
		not = append(not, slices.Concat(names.place...)...)
	}
	if sameMoment(says.Taken, file.Taken) {
		says.Taken = nil
	} else {
		for _, pair := range names.taken {
			not = append(not, pair[0], pair[1])
		}
		not = append(not, "IPTC:DateCreated", "IPTC:TimeCreated", "ExifIFD:SubSecTimeOriginal")
	}
	args := []string{"-tagsFromFile", from, "-all:all", "--Composite:all", "--Orientation", "--ThumbnailImage"}
	for _, name := range not {
		if name != "" {
			args = append(args, "--"+name)
		}
	}
	return says, t.change(ctx, append(args, to)...)
}

func sameMoment(a, b *calendar.Capture) bool {
	if a == nil || b == nil {
		return a == b
	}
	return a.Zone == b.Zone && a.Local.Unix() == b.Local.Unix()
}

// values are what is written, by group and name.
func values(says outputs.Says, size geometry.Size, isJPEG bool) map[string]any {
	out := map[string]any{}
	for name, text := range map[string]string{
		names.title[0]: says.Title, names.description[0]: says.Description, names.alt[0]: says.Alt, names.credit[0]: says.Credit,
		names.copyright[0]: says.Copyright, names.usageTerms[0]: says.UsageTerms, names.label: says.Stage, names.place[0][0]: says.Place,
	} {
		if text != "" {
			out[name] = text
		}
	}
	if says.Copyright != "" && isJPEG {
		out["IFD0:Copyright"], out["IPTC:CopyrightNotice"] = says.Copyright, says.Copyright
	}
	if says.Stars != 0 {
		out[names.rating] = says.Stars
	}
	if len(says.Tags) > 0 {
		out[names.keywords[0]] = says.Tags
	}
	if at := says.Taken; at != nil {
		out["XMP-photoshop:DateCreated"] = at.Local.Format("2006:01:02 15:04:05") + at.Zone
		if isJPEG {
			out[names.taken[0][0]] = at.Local.Format("2006:01:02 15:04:05")
			if at.Zone != "" {
				out[names.taken[0][1]] = at.Zone
			}
		}
	}
	if len(says.Faces) > 0 {
		out[names.regions] = regions(says.Faces, size)
	}
	return out
}

// regions are faces as MWG regions have them: by their middle, in fractions of the picture.
func regions(faces []outputs.Face, size geometry.Size) map[string]any {
	var list []any
	for _, f := range faces {
		region := map[string]any{"Type": "Face", "Area": map[string]any{"X": f.X + f.Width/2, "Y": f.Y + f.Height/2, "W": f.Width,
			"H": f.Height, "Unit": "normalized"}}
		if f.Name != "" {
			region["Name"] = f.Name
		}
		list = append(list, region)
	}
	return map[string]any{"RegionList": list,
		"AppliedToDimensions": map[string]any{"W": size.Width, "H": size.Height, "Unit": "pixel"}}
}
