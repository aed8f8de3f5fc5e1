package media

import (
	"context"
	"errors"
	"image/jpeg"
	"io/fs"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/metadata"
	"brightsatchel/internal/media/pictures"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

func engine(t *testing.T) *Engine {
	t.Helper()
	e := NewEngine(1)
	t.Cleanup(e.Close)
	return e
}

func TestWhatFilesAreAndSay(t *testing.T) {
	e := engine(t)
	tagged := mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 1), "-Orientation#=6", "-Make=Ostrel", "-Model=M2", "-LensModel=28 mm",
		"-DateTimeOriginal=2026:05:17 10:21:37", "-OffsetTimeOriginal=+01:00", "-XMP-dc:Title=A kite", "-IPTC:Keywords=kite",
		"-IPTC:Keywords=wind",
		"-XMP-dc:Subject=Kite", "-XMP-xmp:Rating=4", "-XMP-dc:Rights=© Tansyloft",
		"-XMP-iptcCore:AltTextAccessibility=A kite in the air", "-IPTC:City=Hallow")
	facts, previews, err := e.Read(ctx, mediatest.File(t, "misnamed.png", tagged), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Equal(t, Type{MediaType: "image/jpeg", Kind: "picture"}, facts.Type, "told by content, not by name")
	assert.Equal(t, geometry.Size{Width: 600, Height: 900}, facts.Size, "upright")
	assert.Equal(t, "A kite", facts.Says.Title)
	assert.Equal(t, []string{"Kite", "wind"}, facts.Says.Keywords, "the same word twice counts once")
	assert.Equal(t, 4, facts.Says.Rating)
	assert.Equal(t, "A kite in the air", facts.Says.Alt)
	assert.Equal(t, "© Tansyloft", facts.Says.Copyright)
	assert.Equal(t, "Ostrel M2", facts.Says.Camera)
	assert.Equal(t, "28 mm", facts.Says.Lens)
	assert.Equal(t, "Hallow", facts.Says.Place)
	assert.Equal(t, time.Date(2026, 5, 17, 10, 21, 37, 0, time.UTC), facts.Says.Taken.Local)
	assert.Equal(t, "+01:00", facts.Says.Taken.Zone)
	assert.NotContains(t, string(facts.Raw), os.TempDir(), "nothing of our own paths is kept")
	require.Len(t, previews, 3)
	for _, p := range previews {
		info, err := os.Stat(p.Path)
		require.NoError(t, err)
		assert.Positive(t, info.Size())
	}

	clip, _, err := e.Read(ctx, mediatest.File(t, "a.mp4", mediatest.Clip(t, 320, 240)), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Equal(t, "clip", clip.Kind)
	assert.Equal(t, geometry.Size{Width: 320, Height: 240}, clip.Size)
	assert.InDelta(t, 2, *clip.Seconds, 0.1)

	moving, _, err := e.Read(ctx, mediatest.File(t, "a.gif", mediatest.Animation(t, 12)), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Equal(t, "animation", moving.Kind)
	assert.Equal(t, 12, *moving.Pages)
	assert.Nil(t, moving.Says.Taken, "undated stays undated")
}

func TestDamagedAndHostileFiles(t *testing.T) {
	e := engine(t)
	secret := mediatest.File(t, "secret.png", mediatest.PNG(t))
	cases := map[string]struct {
		data []byte
		why  string
	}{
		"empty.jpg":      {nil, "empty"},
		"text.jpg":       {[]byte("tea, string\n"), "plain text"},
		"truncated.jpg":  {mediatest.Truncated(t), "cannot be shown"},
		"zero.png":       {mediatest.HugePNG(0, 0), "cannot be shown"},
		"huge.png":       {mediatest.HugePNG(60_000, 60_000), "60000 × 60000 pixels"},
		"bomb.svg":       {mediatest.EntityBomb(), "cannot be shown"},
		"list.json":      {[]byte(`{"kites": [1, 2]}`), "data as text"},
		"table.csv":      {[]byte("kite,price\nmoth,40\nbird,12\n"), "a table as text"},
		"page.jpg":       {[]byte("<!doctype html><script>alert(1)</script>"), "a web page"},
		"head-only.mp4":  {mediatest.Clip(t, 64, 64)[:300], ""},
		"playlist.mp4":   {[]byte("#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"), ""},
		"archive.jpg.gz": {[]byte("\x1f\x8b\x08\x00\x00\x00\x00\x00"), ""},
	}
	for name, c := range cases {
		began := time.Now()
		_, _, err := e.Read(ctx, mediatest.File(t, name, c.data), t.TempDir(), recipe.Recipe{})
		var refused *Refused
		require.ErrorAs(t, err, &refused, name)
		assert.Contains(t, refused.Why, c.why, name)
		assert.Less(t, time.Since(began), 20*time.Second, name)
	}

	facts, previews, err := e.Read(ctx, mediatest.File(t, "drawing.svg", mediatest.SVG(secret)), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err, "a drawing with a script is taken; the script and what it refers to are not")
	assert.Equal(t, "vector", facts.Kind)
	assert.Greater(t, facts.Tint&0xff, 0x60, "the half that is not drawn stays light")
	assert.Less(t, facts.Tint>>16, 0xa0, "the file beside it, which is red, was not pulled in")
	assert.NotEmpty(t, previews)
}

// TestTextBombs: a small file that says very much costs little, and the picture is taken.
func TestTextBombs(t *testing.T) {
	e := engine(t)
	for _, length := range []int{50 << 20, 300 << 20} {
		data := mediatest.TextBomb(t, length)
		require.Less(t, len(data), 1<<20)
		facts, previews, err := e.Read(ctx, mediatest.File(t, "bomb.png", data), t.TempDir(), recipe.Recipe{})
		require.NoError(t, err)
		assert.NotEmpty(t, previews)
		assert.Less(t, len(facts.Raw), 256<<10, "what is kept of it is bounded")
		assert.Contains(t, string(facts.Raw), metadata.Cut, "and says that something was cut")
	}
	after, _, err := e.Read(ctx, mediatest.File(t, "a.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 90, 60, 1), "-XMP-dc:Title=Moth")),
		t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Equal(t, "Moth", after.Says.Title, "the next file is read as ever")
}

// TestSlowDrawingsLetOthersPass: drawings that take for ever hold one worker and never all.
func TestSlowDrawingsLetOthersPass(t *testing.T) {
	e := engine(t)
	hostile := mediatest.File(t, "slow.svg", mediatest.SlowDrawing())
	var ended atomic.Int32
	trying, stop := context.WithCancel(ctx)
	var group sync.WaitGroup
	for range 10 {
		group.Go(func() {
			for trying.Err() == nil {
				_, _, err := e.Read(trying, hostile, t.TempDir(), recipe.Recipe{})
				if errors.Is(err, pictures.ErrBusy) {
					continue // it has to wait for its turn
				}
				ended.Add(1)
				return
			}
		})
	}
	time.Sleep(500 * time.Millisecond) // until they are at it
	honest := mediatest.File(t, "a.jpg", mediatest.JPEG(t, 600, 400, 7))
	for range 10 {
		_, _, err := e.Read(ctx, honest, t.TempDir(), recipe.Recipe{})
		require.NoError(t, err)
	}
	assert.LessOrEqual(t, ended.Load(), int32(1), "they were still being tried")
	stop()
	group.Wait()
}

func TestAClipThatIsCutOffSaysSo(t *testing.T) {
	e := engine(t)
	whole := mediatest.Clip(t, 320, 240)
	facts, _, err := e.Read(ctx, mediatest.File(t, "a.mp4", whole), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Empty(t, facts.Note)
	quick := filepath.Join(t.TempDir(), "quick.mp4") // the part that says where the pictures are comes first
	require.NoError(t, clips.Web(ctx, mediatest.File(t, "a.mp4", whole), quick, geometry.Size{Width: 320, Height: 240}, clips.Edit{}, ""))
	data, err := os.ReadFile(quick)
	require.NoError(t, err)
	facts, _, err = e.Read(ctx, mediatest.File(t, "half.mp4", data[:len(data)*6/10]), t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Contains(t, facts.Note, "is cut off")
}

func TestAPoolOutlivesItsWorkers(t *testing.T) {
	pool := pictures.NewPool(2)
	defer pool.Close()
	good := mediatest.File(t, "good.jpg", mediatest.JPEG(t, 400, 300, 3))
	var group sync.WaitGroup
	for i := range 12 {
		group.Go(func() {
			if i%3 == 0 {
				impatient, cancel := context.WithCancel(ctx)
				cancel()
				_, _ = pool.Do(impatient, pictures.Request{Path: good, MediaType: "image/jpeg"})
				return
			}
			answer, err := pool.Do(ctx, pictures.Request{Path: good, MediaType: "image/jpeg"})
			assert.NoError(t, err)
			assert.Equal(t, 400, answer.Facts.Width)
		})
	}
	group.Wait()
	_, err := pool.Do(ctx, pictures.Request{Path: "/does/not/exist", MediaType: "image/jpeg"})
	var wrong *pictures.PictureError
	require.ErrorAs(t, err, &wrong)
}

// TestAMissingWorkingFolderIsNotTheFaultOfTheFile: the job is tried again, and nobody is told of damage.
func TestAMissingWorkingFolderIsNotTheFaultOfTheFile(t *testing.T) {
	e := engine(t)
	picture := mediatest.File(t, "fine.jpg", mediatest.JPEG(t, 400, 300, 5))
	_, _, err := e.Read(ctx, picture, filepath.Join(t.TempDir(), "gone"), recipe.Recipe{})
	require.ErrorIs(t, err, fs.ErrNotExist)
	var refused *Refused
	assert.NotErrorAs(t, err, &refused)
	_, previews, err := e.Read(ctx, picture, t.TempDir(), recipe.Recipe{})
	require.NoError(t, err)
	assert.Len(t, previews, 3)
}

func TestRenditionsKeepTheCopyrightAndNothingPrivate(t *testing.T) {
	e := engine(t)
	original := mediatest.File(t, "private.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 1500, 1000, 5), "-Orientation#=8",
		"-GPSLatitude=51.5", "-GPSLatitudeRef=N",
		"-GPSLongitude=1.2", "-GPSLongitudeRef=W", "-SerialNumber=12345", "-Artist=Private Name", "-XMP-dc:Rights=old"))
	source := outputs.Source{Kind: "picture", Size: geometry.Size{Width: 1000, Height: 1500}, Focal: geometry.Centre}
	size := outputs.Size{Name: "x", Width: 600, Height: 600, Fit: outputs.Inside, Format: "jpeg", Quality: 82,
		Metadata: outputs.StripPrivate, Pattern: "{name}"}
	render := func(size outputs.Size) (string, map[string]any, geometry.Size) {
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		target := filepath.Join(t.TempDir(), "out.jpg")
		_, err = e.Render(ctx, Rendering{Original: Original{Path: original, MediaType: "image/jpeg"}, Source: source,
			Plan: plan, Size: size,
			Says: outputs.Says{Copyright: "© Tansyloft Kites", Credit: "Greta"}}, target)
		require.NoError(t, err)
		said, err := e.Metadata.Read(ctx, target)
		require.NoError(t, err)
		file, err := os.Open(target)
		require.NoError(t, err)
		config, err := jpeg.DecodeConfig(file)
		require.NoError(t, errors.Join(err, file.Close()))
		assert.Equal(t, plan.Size, geometry.Size{Width: config.Width, Height: config.Height}, "exactly as computed")
		return target, said, plan.Size
	}
	_, said, dims := render(size)
	assert.Equal(t, geometry.Size{Width: 400, Height: 600}, dims)
	assert.Equal(t, "© Tansyloft Kites", said["XMP-dc:Rights"])
	assert.Equal(t, "© Tansyloft Kites", said["IFD0:Copyright"])
	for _, private := range []string{"GPS:GPSLatitude", "ExifIFD:SerialNumber", "IFD0:Artist", "IFD0:Orientation", "IFD0:Make"} {
		assert.NotContains(t, said, private)
	}
	size.Metadata = outputs.StripAll
	_, said, _ = render(size)
	assert.NotContains(t, said, "XMP-dc:Rights")
	size.Metadata, size.Fit = outputs.Keep, outputs.Fill
	_, said, dims = render(size)
	assert.Equal(t, geometry.Size{Width: 600, Height: 600}, dims, "cut to fill")
	assert.Contains(t, said, "GPS:GPSLatitude")
	assert.NotContains(t, said, "IFD0:Orientation", "it has been applied")
}
