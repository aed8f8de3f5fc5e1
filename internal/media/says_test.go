package media

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/metadata"
)

// everything is what a library can say of a picture of 1000 × 500 pixels.
var everything = outputs.Says{Title: "Kites over the bay", Description: "Two kites, one string", Alt: "Two red kites", Credit: "Greta Holm",
	Copyright: "© Tansyloft Kites", UsageTerms: "Not in print", Place: "Sandholm", Stage: "cleared", Stars: 4,
	Tags: []string{"kite", "Zoë; née Žák"}, Taken: &calendar.Capture{Local: time.Date(2026, 5, 17, 10, 21, 37, 0, time.UTC), Zone: "+02:00"},
	Faces: []outputs.Face{{Region: geometry.Region{X: 0.3, Y: 0.2, Width: 0.1, Height: 0.2}, Name: "Zoë"},
		{Region: geometry.Region{X: 0.02, Y: 0.2, Width: 0.1, Height: 0.2}}}}

// TestWhatTheLibrarySaysGoesAlong reads back what was written, in every format, in the place of what the original said.
func TestWhatTheLibrarySaysGoesAlong(t *testing.T) {
	e := engine(t)
	original := mediatest.File(t, "old.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 1000, 500, 5), "-XMP-dc:Title=Old title",
		"-IPTC:ObjectName=Old title", "-IFD0:ImageDescription=Old words", "-IPTC:Keywords=old", "-XMP-dc:Subject=old", "-XMP-xmp:Rating=1",
		"-XMP-xmp:Label=old", "-IPTC:City=Oldtown", "-SerialNumber=12345", "-IFD0:Artist=Rémi",
		"-ExifIFD:DateTimeOriginal=2020:01:01 00:00:00", "-ExifIFD:SubSecTimeOriginal=77", "-XMP-xmp:CreateDate=2020:01:01 00:00:00",
		"-XMP-mwg-rs:RegionInfo={AppliedToDimensions={W=9,H=9,Unit=pixel},RegionList=[{Area={X=.5,Y=.5,W=.1,H=.1,Unit=normalized},Name=Old,"+
			"Type=Face}]}"))
	source := outputs.Source{Kind: "picture", Size: geometry.Size{Width: 1000, Height: 500}, Focal: geometry.Centre}
	render := func(size outputs.Size, says outputs.Says) (metadata.Facts, map[string]any) {
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		target := filepath.Join(t.TempDir(), "out."+outputs.Extension(plan.Format))
		_, err = e.Render(ctx, Rendering{Original: Original{Path: original, MediaType: "image/jpeg"}, Source: source,
			Plan: plan, Size: size,
			Says: says}, target)
		require.NoError(t, err)
		said, err := e.Metadata.Read(ctx, target)
		require.NoError(t, err)
		return metadata.Interpret(said), said
	}
	for _, format := range outputs.Formats {
		t.Run(format, func(t *testing.T) {
			facts, said := render(outputs.Size{Name: "x", Width: 400, Height: 400, Fit: outputs.Fill, Format: format, Quality: 80,
				Metadata: outputs.Keep}, everything)
			assert.Equal(t, []any{everything.Title, everything.Description, everything.Alt, everything.Credit, everything.Copyright,
				everything.UsageTerms, everything.Place, everything.Stage, everything.Stars, everything.Tags, everything.Taken},
				[]any{facts.Title, facts.Description, facts.Alt, facts.Credit, facts.Copyright, facts.UsageTerms, facts.Place, facts.Label,
					facts.Rating, facts.Keywords, facts.Taken})
			require.Len(t, facts.Faces, 1, "the other one, and the one that the file named, were cut off or are gone")
			face := facts.Faces[0] // the cut takes the middle 500 × 500: from 0.05 × 2 to 0.15 × 2 of it
			assert.Equal(t, "Zoë", face.Name)
			assert.InDeltaSlice(t, []float64{0.2, 0.3, 0.2, 0.2}, []float64{face.X, face.Y, face.Width, face.Height}, 0.003)
			assert.Equal(t, [2]int{400, 400}, face.AppliedTo)
			assert.Equal(t, "12345", fmt.Sprint(said["ExifIFD:SerialNumber"]), "what the library does not know stays as it was")
		})
	}
	size := outputs.Size{Name: "x", Width: 400, Height: 400, Fit: outputs.Inside, Format: "jpeg", Quality: 80, Metadata: outputs.Keep}
	facts, said := render(size, outputs.Says{Place: "Oldtown", Taken: &calendar.Capture{Local: time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC)}})
	assert.Empty(t, facts.Title+facts.Description, "what the library has emptied is not said again")
	assert.Empty(t, facts.Keywords)
	assert.Empty(t, facts.Faces)
	assert.Zero(t, facts.Rating)
	assert.Equal(t, "old", facts.Label, "an item without a stage keeps the label of its file")
	assert.Equal(t, "Rémi", facts.Credit, "who took it stays")
	assert.Equal(t, []string{"Oldtown", "77"}, []string{fmt.Sprint(said["IPTC:City"]), fmt.Sprint(said["ExifIFD:SubSecTimeOriginal"])},
		"what is the same stays as fine as the file has it")

	for _, format := range outputs.Formats {
		size.Metadata, size.Format = outputs.StripPrivate, format
		facts, said = render(size, everything)
		assert.Equal(t, []string{everything.Credit, everything.Copyright, everything.UsageTerms}, []string{facts.Credit, facts.Copyright,
			facts.UsageTerms}, format)
		assert.Empty(t, facts.Title+facts.Description+facts.Alt+facts.Label+facts.Place, format)
		assert.Empty(t, facts.Keywords, format)
		assert.Empty(t, facts.Faces, format)
		assert.NotContains(t, said, "ExifIFD:SerialNumber", format)
		assert.NotContains(t, said, "ExifIFD:DateTimeOriginal", format)
	}
}

// TestWhatIsShownSaysNothingPrivate: previews go to guests and to everybody who may only look.
func TestWhatIsShownSaysNothingPrivate(t *testing.T) {
	e := engine(t)
	original := mediatest.File(t, "private.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 1500, 1000, 5), "-GPSLatitude=51.5",
		"-GPSLatitudeRef=N", "-GPSLongitude=1.2", "-GPSLongitudeRef=W", "-SerialNumber=12345", "-IFD0:Artist=Private Name",
		"-XMP-dc:Description=Private words", "-IPTC:Keywords=private"))
	_, previews, err := e.Read(ctx, original, t.TempDir(), recipe.Recipe{Turn: 90})
	require.NoError(t, err)
	require.NotEmpty(t, previews)
	for _, p := range previews {
		data, err := os.ReadFile(p.Path)
		require.NoError(t, err)
		assert.NotContains(t, string(data), "Private", p.Name)
		said, err := e.Metadata.Read(ctx, p.Path)
		require.NoError(t, err)
		for name := range said {
			assert.NotRegexp(t, `^(GPS|XMP|IPTC|Composite:GPS)|Serial|Artist|IFD0:(Make|Model)`, name, p.Name)
		}
	}
}

// TestAFilmSaysItsWords: a film that is handed out carries what its size allows, and still plays from its beginning before all of it is
// there.
func TestAFilmSaysItsWords(t *testing.T) {
	e := engine(t)
	original := mediatest.File(t, "a.mp4", mediatest.Clip(t, 320, 240))
	source := outputs.Source{Kind: "clip", Size: geometry.Size{Width: 320, Height: 240}}
	says := everything
	says.Faces = nil // clips have none
	for policy, wanted := range map[outputs.Metadata][]string{
		outputs.Keep:         {says.Title, says.Copyright, says.Stage},
		outputs.StripPrivate: {"", says.Copyright, ""},
		outputs.StripAll:     {"", "", ""},
	} {
		size := outputs.Size{Name: "x", Width: 160, Height: 160, Fit: outputs.Inside, Format: "jpeg", Quality: 80, Metadata: policy}
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		target := filepath.Join(t.TempDir(), "out.mp4")
		_, err = e.Render(ctx, Rendering{Original: Original{Path: original, MediaType: "video/mp4"}, Source: source,
			Plan: plan, Size: size,
			Says: says}, target)
		require.NoError(t, err)
		said, err := e.Metadata.Read(ctx, target)
		require.NoError(t, err)
		facts := metadata.Interpret(said)
		assert.Equal(t, wanted, []string{facts.Title, facts.Copyright, facts.Label}, policy)
		data, err := os.ReadFile(target)
		require.NoError(t, err)
		assert.Less(t, bytes.Index(data, []byte("moov")), bytes.Index(data, []byte("mdat")), policy)
	}
}
