package media

import (
	"bufio"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"strings"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/media/pictures"
)

// isFilm says whether a media type is that of a clip.
func isFilm(mediaType string) bool { return strings.HasPrefix(mediaType, "video/") }

// edit is what a recipe does to a clip of an upright size in pixels. What it needs is written into dir.
func (e *Engine) edit(ctx context.Context, by recipe.Recipe, size geometry.Size, dir string) (clips.Edit, error) {
	by = by.For("clip")
	f := by.FilmOf()
	out := clips.Edit{From: f.From, To: f.To, Mute: f.Mute, Turn: by.Turn, Flip: by.Flip}
	if f.Level {
		out.Loudness = recipe.Loudness
	}
	if by.Crop != nil {
		out.Crop = new(by.Frame(size).Rect())
	}
	var err error
	out.Colours, err = e.colours(ctx, by.Effective(), dir)
	return out, err
}

// levels is how many steps of each colour a table of colours has: 255 is a multiple of one less, so that each is a colour of 8 bits.
const levels = 52

// colours writes what adjustments make of each colour into dir, as a table in the .cube form that is common for film, and gives its path;
// "" where they make nothing of it. It is drawn like any other picture, so that both are the same.
func (e *Engine) colours(ctx context.Context, do recipe.Adjustments, dir string) (string, error) {
	if do.Neutral() {
		return "", nil
	}
	plain, drawn := filepath.Join(dir, "colours-in.png"), filepath.Join(dir, "colours-out.png")
	all := image.NewNRGBA(image.Rect(0, 0, levels*levels, levels))
	const step = 255 / (levels - 1)
	for i := range levels * levels * levels {
		all.SetNRGBA(i%(levels*levels), i/(levels*levels),
			color.NRGBA{R: uint8(i % levels * step), G: uint8(i / levels % levels * step), B: uint8(i / levels / levels * step), A: 255})
	}
	if err := writePNG(plain, all); err != nil {
		return "", err
	}
	request := pictures.Request{Path: plain, MediaType: "image/png", Recipe: recipe.Recipe{Adjustments: do},
		Outputs: []pictures.Output{{Path: drawn, Width: levels * levels, Height: levels, Format: "png"}}}
	if _, err := e.Pictures.Do(ctx, request); err != nil {
		return "", err
	}
	return filepath.Join(dir, "colours.cube"), writeCube(filepath.Join(dir, "colours.cube"), drawn)
}

func writePNG(path string, picture image.Image) error {
	file, err := os.Create(path)
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(file, picture); err != nil {
		return err
	}
	return file.Close()
}

// writeCube writes a drawn table: red changes fastest, then green, then blue.
func writeCube(path, drawn string) error {
	from, err := os.Open(drawn)
	if err != nil {
		return err
	}
	defer func() { _ = from.Close() }()
	table, err := png.Decode(from)
	if err != nil {
		return err
	}
	file, err := os.Create(path)
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	out := bufio.NewWriter(file)
	_, _ = fmt.Fprintf(out, "LUT_3D_SIZE %d\n", levels) // Flush tells of what went wrong
	for i := range levels * levels * levels {
		r, g, b, _ := table.At(i%(levels*levels), i/(levels*levels)).RGBA()
		_, _ = fmt.Fprintf(out, "%.6f %.6f %.6f\n", float64(r)/0xffff, float64(g)/0xffff, float64(b)/0xffff)
	}
	if err := out.Flush(); err != nil {
		return err
	}
	return file.Close()
}

// Strip writes the scrub strip of a clip as a recipe makes it, as a WebP.
func (e *Engine) Strip(ctx context.Context, original Original, by recipe.Recipe, target string) error {
	edit, err := e.edit(ctx, by, original.Size, filepath.Dir(target))
	if err != nil {
		return err
	}
	from, to := by.Span(original.Seconds)
	return clips.Strip(ctx, original.Path, target, to-from, edit)
}
