package media

import (
	"cmp"
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/children"
	"brightsatchel/internal/media/pictures"
)

// Sample gives a small copy of a picture as its file has it, to propose adjustments from: with a longer side in pixels, or 0 for what is
// enough for its tones.
func (e *Engine) Sample(ctx context.Context, original Original, by recipe.Recipe, side int, dir string) (recipe.Sample, error) {
	request, err := e.pictureOf(ctx, original, recipe.Recipe{Film: by.Film}, false, dir)
	if err != nil {
		return recipe.Sample{}, err
	}
	request.Sample = cmp.Or(side, sampleSide)
	answer, err := e.Pictures.Do(ctx, request)
	if err != nil {
		return recipe.Sample{}, refuse(err, dir)
	}
	return *answer.Sample, nil
}

// sampleSide is the longer side of a sample in pixels.
const sampleSide = 480

// Frame draws a picture by a recipe, so that what is shown has a size in pixels, as a JPEG of high quality, or a PNG where the target is
// called so; again and again, while somebody works at it.
func (e *Engine) Frame(ctx context.Context, original Original, by recipe.Recipe, size geometry.Size, target string) error {
	request, err := e.pictureOf(ctx, original, by, false, filepath.Dir(target))
	if err != nil {
		return err
	}
	request.Recipe, request.Hold = by, !Raw(original.MediaType)
	request.Outputs = []pictures.Output{{Path: target, Width: size.Width, Height: size.Height, Format: "jpeg", Quality: 95}}
	if filepath.Ext(target) == ".png" {
		request.Outputs[0].Format = "png"
	}
	_, err = e.Pictures.Do(ctx, request)
	return refuse(err, filepath.Dir(target))
}

// BaseMap writes the base map (see recipe.Tone) that a frame of a size in pixels is drawn with, as pictures has it.
func (e *Engine) BaseMap(ctx context.Context, original Original, by recipe.Recipe, size geometry.Size, target string) error {
	request, err := e.pictureOf(ctx, original, by, false, filepath.Dir(target))
	if err != nil {
		return err
	}
	request.Recipe, request.Hold, request.BaseMap = by, !Raw(original.MediaType), target
	request.Outputs = []pictures.Output{{Width: size.Width, Height: size.Height}}
	_, err = e.Pictures.Do(ctx, request)
	return refuse(err, filepath.Dir(target))
}

// pictureOf is the request for the picture of a file by a recipe: the file itself, what a camera raw file holds, computed at full size
// where that is needed, or the frame that stands for a clip.
func (e *Engine) pictureOf(ctx context.Context, original Original, by recipe.Recipe, full bool, dir string) (pictures.Request, error) {
	switch {
	case isFilm(original.MediaType):
		still, err := e.stills.at(ctx, original.Path, by.PosterAt(original.Seconds))
		if err != nil {
			err = &pictures.PictureError{Text: err.Error()}
		}
		return pictures.Request{Path: still, MediaType: "image/png"}, refuse(err, dir)
	case Raw(original.MediaType):
		request, err := e.developed(ctx, original.Path, dir, develop{sensor: by.Sensor, full: full})
		return request, refuse(err, dir)
	}
	return pictures.Request{Path: original.Path, MediaType: original.MediaType}, nil
}

// develop says how a camera raw file becomes a picture: from what the sensor saw, although the camera put a picture in, and then at full
// size, where half of it is not enough.
type develop struct{ sensor, full bool }

// developing is what computing a picture from a raw file may take: one of 100 megapixels is a TIFF of 600 MB.
var developing = children.Limits{Memory: 3 << 30, Output: 1 << 30, Time: 2 * time.Minute}

// developed gives the picture of a camera raw file: the largest that the camera put in, or one computed from the raw where there is none
// or that is wanted. Computed at half size, four photosites become a pixel, and it takes an eighth of the time.
func (e *Engine) developed(ctx context.Context, path, dir string, how develop) (pictures.Request, error) {
	if !how.sensor {
		target := filepath.Join(dir, "embedded.jpg")
		found, err := e.Metadata.Embedded(ctx, path, target)
		if err != nil || found {
			return pictures.Request{Path: target, MediaType: "image/jpeg"}, err
		}
	}
	alias := filepath.Join(dir, "raw")
	if err := os.Symlink(path, alias); err != nil {
		return pictures.Request{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, developing.Time)
	defer cancel()
	// The camera's white balance, no brightening by what is in the picture, sRGB and its curve, a TIFF.
	args := []string{"-w", "-W", "-g", "2.4", "12.92", "-o", "1", "-T"}
	if how.sensor && !how.full {
		args = append(args, "-h")
	}
	command := exec.CommandContext(ctx, "dcraw_emu", append(args, alias)...)
	if err := children.Run(command, developing); err != nil {
		return pictures.Request{}, &pictures.PictureError{Text: "it holds no preview, and the raw picture cannot be computed"}
	}
	return pictures.Request{Path: alias + ".tiff", MediaType: "image/tiff"}, nil
}
