package media

import (
	"fmt"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
)

// colourOf decodes one pixel of a preview, at fractions of its size.
func colourOf(t *testing.T, e *Engine, preview string, size geometry.Size, x, y float64) (r, g, b int) {
	t.Helper()
	target := filepath.Join(t.TempDir(), "preview.png")
	_, err := e.Pictures.Do(ctx, pictures.Request{Path: preview, MediaType: "image/webp",
		Outputs: []pictures.Output{{Path: target, Width: size.Width, Height: size.Height, Format: "png"}}})
	require.NoError(t, err)
	file, err := os.Open(target)
	require.NoError(t, err)
	defer func() { _ = file.Close() }()
	decoded, err := png.Decode(file)
	require.NoError(t, err)
	cr, cg, cb, _ := decoded.At(int(x*float64(size.Width)), int(y*float64(size.Height))).RGBA()
	return int(cr >> 8), int(cg >> 8), int(cb >> 8)
}

func TestEveryKindIsShown(t *testing.T) {
	e := engine(t)
	cases := []struct {
		name      string
		data      []byte
		mediaType string
		kind      string
		size      geometry.Size
		pages     int
	}{
		{"deep.tif", mediatest.TIFF(120, 80, 16, 200, 40, 40), "image/tiff", "picture", geometry.Size{Width: 120, Height: 80}, 0},
		{"print.tif", mediatest.TIFF(120, 80, 8, 0, 255, 255, 0), "image/tiff", "picture", geometry.Size{Width: 120, Height: 80}, 0},
		{"raw.dng", mediatest.DNG(t, 900, 600, 1), "image/x-adobe-dng", "picture", geometry.Size{Width: 900, Height: 600}, 0},
		{"turned.dng", mediatest.DNG(t, 900, 600, 6), "image/x-adobe-dng", "picture", geometry.Size{Width: 600, Height: 900}, 0},
		{"one.cr2", mediatest.CR2(t, 900, 600), "image/x-canon-cr2", "picture", geometry.Size{Width: 900, Height: 600}, 0},
		{"one.nef", mediatest.NEF(t, 900, 600), "image/x-nikon-nef", "picture", geometry.Size{Width: 900, Height: 600}, 0},
		{"one.raf", mediatest.RAF(t, 900, 600), "image/x-fujifilm-raf", "picture", geometry.Size{Width: 900, Height: 600}, 0},
		{"without a name for it", mediatest.NEF(t, 600, 400), "image/x-nikon-nef", "picture", geometry.Size{Width: 600, Height: 400}, 0},
		{"paper.pdf", mediatest.PDF(3), "application/pdf", "document", geometry.Size{Width: 300, Height: 400}, 3},
		{"a.webp", mediatest.Saved(t, ".webp"), "image/webp", "picture", geometry.Size{Width: 320, Height: 240}, 0},
		{"a.avif", mediatest.Saved(t, ".avif"), "image/avif", "picture", geometry.Size{Width: 320, Height: 240}, 0},
		{"a.heic", mediatest.Saved(t, ".heic[compression=hevc]"), "image/heic", "picture", geometry.Size{Width: 320, Height: 240}, 0},
		{"a.mov", mediatest.Film(t, "libx264", "mov", 1), "video/quicktime", "clip", geometry.Size{Width: 160, Height: 120}, 0},
		{"a.webm", mediatest.Film(t, "libvpx-vp9", "webm", 1), "video/webm", "clip", geometry.Size{Width: 160, Height: 120}, 0},
		{"strange [page=7], -name.jpg", mediatest.JPEG(t, 64, 48, 1), "image/jpeg", "picture", geometry.Size{Width: 64, Height: 48}, 0},
	}
	for _, c := range cases {
		facts, previews, err := e.Read(ctx, mediatest.File(t, c.name, c.data), t.TempDir(), recipe.Recipe{})
		require.NoError(t, err, c.name)
		assert.Equal(t, Type{MediaType: c.mediaType, Kind: c.kind}, facts.Type, c.name)
		assert.Equal(t, c.size, facts.Size, c.name)
		require.Len(t, previews, 3, c.name)
		if c.pages > 0 {
			assert.Equal(t, c.pages, *facts.Pages, c.name)
		}
	}
}

func TestColoursOfDeepAndPrintPicturesStay(t *testing.T) {
	e := engine(t)
	for name, data := range map[string][]byte{"deep": mediatest.TIFF(120, 80, 16, 200, 40, 40),
		"print": mediatest.TIFF(120, 80, 8, 0, 230, 230, 20)} {
		facts, previews, err := e.Read(ctx, mediatest.File(t, name+".tif", data), t.TempDir(), recipe.Recipe{})
		require.NoError(t, err)
		r, g, b := colourOf(t, e, previews[0].Path, facts.Size, 0.5, 0.5)
		assert.InDelta(t, 200, r, 40, name)
		assert.InDelta(t, 40, g, 40, name)
		assert.InDelta(t, 40, b, 40, name)
	}
}

// TestAWideProfileIsHonoured has the same red twice: in sRGB, and in Display P3, where it is stored by other numbers.
func TestAWideProfileIsHonoured(t *testing.T) {
	e := engine(t)
	narrow := mediatest.File(t, "narrow.tif", mediatest.TIFF(120, 80, 8, 200, 40, 40))
	wide := filepath.Join(t.TempDir(), "wide.tif")
	out, err := exec.Command("vips", "icc_transform", narrow, wide, "p3", "--input-profile", "srgb").CombinedOutput()
	require.NoError(t, err, "%s", out)
	stored, err := exec.Command("vips", "getpoint", wide, "60", "40").Output()
	require.NoError(t, err)
	var r, g, b float64
	_, err = fmt.Sscan(string(stored), &r, &g, &b)
	require.NoError(t, err)
	require.Less(t, r, 192.0, "it is stored by other numbers")
	facts, previews, err := e.Read(ctx, wide, t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	red, green, blue := colourOf(t, e, previews[0].Path, facts.Size, 0.5, 0.5)
	assert.InDelta(t, 200, red, 6)
	assert.InDelta(t, 40, green, 8)
	assert.InDelta(t, 40, blue, 8)
}

func TestTurningPutsTheBrightQuarterWhereItBelongs(t *testing.T) {
	e := engine(t)
	path := mediatest.File(t, "a.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 20),
		"-Orientation#=6")) // bright upper right when upright
	bright := map[int][2]float64{0: {0.75, 0.25}, 90: {0.75, 0.75}, 180: {0.25, 0.75}, 270: {0.25, 0.25}}
	for turn, at := range bright {
		facts, previews, err := e.Read(ctx, path, t.TempDir(), recipe.Recipe{Turn: turn})
		require.NoError(t, err)
		assert.Equal(t, geometry.Size{Width: 600, Height: 900}, facts.Size, "what is known of the file stays, however it is turned")
		shown := facts.Recipe.Size(facts.Size)
		r, _, _ := colourOf(t, e, previews[0].Path, shown, at[0], at[1])
		assert.Greater(t, r, 200, "turned by %d", turn)
	}
}

func TestFaceRegionsFollowThePicture(t *testing.T) {
	e := engine(t)
	data := mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 1), "-Orientation#=6",
		"-XMP-mwg-rs:RegionInfo={AppliedToDimensions={W=900,H=600,Unit=pixel},"+
			"RegionList=[{Area={X=0.25,Y=0.5,W=0.1,H=0.2,Unit=normalized},Name=Greta Ollin,Type=Face}]}")
	facts, _, err := e.Read(ctx, mediatest.File(t, "a.jpg", data), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	require.Len(t, facts.Says.Faces, 1)
	face := facts.Says.Faces[0]
	assert.Equal(t, "Greta Ollin", face.Name)
	assert.InDelta(t, 0.5, face.X, 0.001)
	assert.InDelta(t, 0.25, face.Y, 0.001)
	assert.InDelta(t, 0.2, face.Width, 0.001, "width and height change places")
}

func TestPagesOfADocument(t *testing.T) {
	e := engine(t)
	path := mediatest.File(t, "a.pdf", mediatest.PDF(3))
	size := geometry.Size{Width: 300, Height: 400}
	for page, at := range []float64{0.08, 0.22, 0.38} {
		target := filepath.Join(t.TempDir(), "page.webp")
		require.NoError(t, e.Page(ctx, path, "application/pdf", size, page, target))
		_, g, _ := colourOf(t, e, target, size, 0.5, at)
		assert.Less(t, g, 160, "the bar of page %d", page+1)
		_, g, _ = colourOf(t, e, target, size, 0.5, 0.9)
		assert.Greater(t, g, 240, "the paper of page %d", page+1)
	}
	var refused *Refused
	require.ErrorAs(t, e.Page(ctx, path, "application/pdf", size, 3, filepath.Join(t.TempDir(), "no.webp")), &refused)
	assert.Contains(t, refused.Why, "3 pages")
}

func TestLookingIntoPictures(t *testing.T) {
	e := engine(t)
	look := func(data []byte) pictures.Seen {
		_, previews, err := e.Read(ctx, mediatest.File(t, "a.jpg", data), t.TempDir(), recipe.Recipe{})
		require.NoError(t, err)
		seen, _, err := e.Look(ctx, previews[0].Path)
		require.NoError(t, err)
		return seen
	}
	portrait := mediatest.Portrait(t)
	path := mediatest.File(t, "in.jpg", portrait)
	again := filepath.Join(t.TempDir(), "again.jpg")
	_, err := e.Pictures.Do(ctx, pictures.Request{Path: path, MediaType: "image/jpeg",
		Outputs: []pictures.Output{{Path: again, Width: 400, Height: 500, Format: "jpeg", Quality: 40}}})
	require.NoError(t, err)
	saved, err := os.ReadFile(again)
	require.NoError(t, err)
	first, second := look(portrait), look(saved)
	require.NotEmpty(t, first.Faces, "the head is found")
	assert.LessOrEqual(t, likeness.Distance(likeness.Hash(first.Likeness), likeness.Hash(second.Likeness)), likeness.Near,
		"another size and quality")
	assert.Greater(t, first.Sharpness, 0.0)
	face := first.Faces[0]
	assert.InDelta(t, face.X+face.Width/2, first.Focal.X, 0.3)
	other := look(mediatest.JPEG(t, 800, 600, 3))
	assert.Empty(t, other.Faces)
	assert.Greater(t, likeness.Distance(likeness.Hash(first.Likeness), likeness.Hash(other.Likeness)), likeness.Near)
}

func TestStripsAndFilmsForBrowsers(t *testing.T) {
	e := engine(t)
	path := mediatest.File(t, "a.mp4", mediatest.Film(t, "mpeg4", "mp4", 3))
	facts, _, err := e.Read(ctx, path, t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Equal(t, "mpeg4", facts.Codec)
	assert.False(t, clips.Playable(facts.Codec))
	strip := filepath.Join(t.TempDir(), "strip.webp")
	require.NoError(t, clips.Strip(ctx, path, strip, *facts.Seconds, clips.Edit{}))
	answer, err := e.Pictures.Do(ctx, pictures.Request{Path: strip, MediaType: "image/webp"})
	require.NoError(t, err)
	assert.Equal(t, clips.StripFrames*clips.StripWidth, answer.Facts.Width)
	film := filepath.Join(t.TempDir(), "film.mp4")
	require.NoError(t, clips.Web(ctx, path, film, geometry.Size{Width: 160, Height: 120}, clips.Edit{}, ""))
	played, err := clips.Read(ctx, film)
	require.NoError(t, err)
	assert.True(t, clips.Playable(played.Codec))
}

func TestWhatIsNotShownCanBeKeptAsAPlainFile(t *testing.T) {
	_, _, err := engine(t).Read(ctx, mediatest.File(t, "prices.csv", []byte("kite,price\nmoth,40\n")), t.TempDir(), recipe.Recipe{})
	var refused *Refused
	require.ErrorAs(t, err, &refused)
	assert.True(t, refused.Plain)
	assert.Equal(t, "file", refused.Type.Kind)
	_, _, err = engine(t).Read(ctx, mediatest.File(t, "cut.jpg", mediatest.Truncated(t)), t.TempDir(), recipe.Recipe{})
	require.ErrorAs(t, err, &refused)
	assert.False(t, refused.Plain, "a damaged picture is not kept as something else")
}
