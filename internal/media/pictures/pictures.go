// Package pictures reads and makes pictures with libvips. Decoding happens in worker processes with a memory limit,
// which are this same program run again: a file that crashes or blocks the decoder costs one worker and one clear error,
// never the server. A program that uses this package calls RunIfWorker first thing in main.
package pictures

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/children"
)

// Limits of what is decoded. A picture beyond them is refused from its header, before any pixel is read.
const (
	MaxPixels = 250_000_000
	MaxSide   = 65_000
)

// limits are what a worker may take. About 1.6 GB of its memory are only reserved, by Go and by stacks.
var limits = children.Limits{Memory: 4 << 30, Output: 4 << 30, Time: children.Unending}

const workerVariable = "SATCHEL_PICTURE_WORKER"

// Facts are what the header of a picture tells: the stored (not turned) dimensions in pixels, pages or frames, and the
// EXIF orientation (1 to 8, 1 when there is none).
type Facts struct {
	Width, Height int
	Pages         int
	Orientation   int
	Alpha         bool
}

// Output is one file to make. Width and Height are its exact dimensions in pixels. Crop, in pixels of the picture at
// the size ScaledWidth × ScaledHeight, is taken out first when CropWidth is not 0.
type Output struct {
	Path                      string
	Width, Height             int
	Format                    string
	Quality                   int
	CropX, CropY              int
	CropWidth, CropHeight     int
	ScaledWidth, ScaledHeight int
	// Sharpen is 0 to 100, at the size that comes out.
	Sharpen float64
	// With PadWidth and PadHeight the picture is put in the middle of a larger one of a colour, 0xRRGGBB, or below 0 its mean colour.
	PadWidth, PadHeight int
	PadColour           int
	// Budget is how many bytes the file may take, or 0: the quality is as high as that allows, and at most Quality.
	Budget int64
	// Mark are words across the picture, or MarkFile the path of a picture, at a place (middle, across, corner) and as strong as that, in %.
	Mark, MarkFile, MarkPlace string
	MarkStrength              int
	// Measure asks how like the file is to what it was written from.
	Measure bool
}

// Written is what came of an output: the quality that it was written with and, where it was measured, how like it is (SSIM, at most 1).
type Written struct {
	Quality  int
	Likeness float64
}

// Request is one job: with Outputs files are made, the largest first; with Look the picture is looked into; with neither
// only the header is read. Page counts from 0. The recipe is applied after the EXIF orientation: the dimensions of outputs are those of
// what it makes.
type Request struct {
	Path      string
	MediaType string
	Page      int
	Recipe    recipe.Recipe
	Look      bool
	Sample    int    // the longer side, in pixels, of the small copy that is wanted
	BaseMap   string // where to write the base map, as it is used for the first of the outputs, and nothing else
	Hold      bool   // it is drawn again and again: keep what was decoded, and write it quickly
	Slow      bool   // it may take long, and so must not take the last worker
	Outputs   []Output
}

// Response is what a worker answers.
type Response struct {
	Facts Facts
	Tint  int   // 0xRRGGBB, of what was made or looked into
	Seen  *Seen // with Look
	// Sample is the small copy, before the recipe.
	Sample *recipe.Sample
	// Written is what came of the outputs, in their order.
	Written []Written
	Error   string // what is wrong with the picture, for a person
}

// RunIfWorker turns the process into a worker when it was started as one, and does not return then.
func RunIfWorker() {
	if os.Getenv(workerVariable) == "" {
		return
	}
	if err := start(); err != nil {
		fmt.Fprintln(os.Stderr, "picture worker:", err)
		os.Exit(1)
	}
	if err := serve(os.Stdin, os.Stdout); !errors.Is(err, io.EOF) {
		fmt.Fprintln(os.Stderr, "picture worker:", err)
		os.Exit(1)
	}
	os.Exit(0)
}

// serve answers requests, one JSON value after the other, until the input ends (io.EOF) or cannot be understood.
func serve(in io.Reader, out io.Writer) error {
	requests, answers := json.NewDecoder(in), json.NewEncoder(out)
	for {
		var request Request
		if err := requests.Decode(&request); err != nil {
			return err
		}
		response, err := do(request)
		if err != nil {
			response.Error = err.Error()
		}
		if err := answers.Encode(response); err != nil {
			return err
		}
	}
}

func do(r Request) (Response, error) {
	if strings.ContainsAny(r.Path, "[]") { // libvips would read options in them
		alias := filepath.Join(os.TempDir(), fmt.Sprintf("satchel-picture-%d", os.Getpid()))
		_ = os.Remove(alias)
		if err := os.Symlink(r.Path, alias); err != nil {
			return Response{}, err
		}
		defer func() { _ = os.Remove(alias) }()
		r.Path = alias
	}
	head, err := header(r.Path, r.MediaType)
	if err != nil {
		return Response{}, err
	}
	facts := head.facts()
	head.free()
	err = checkLimits(facts)
	switch {
	case err != nil:
		return Response{Facts: facts}, err
	case r.Page != 0 && r.Page >= facts.Pages:
		return Response{Facts: facts}, fmt.Errorf("it has %d pages, and page %d was asked for", facts.Pages, r.Page+1)
	case r.Look:
		return look(r, facts)
	case r.Sample > 0:
		return sample(r, facts)
	case len(r.Outputs) == 0:
		return Response{Facts: facts}, nil
	case r.BaseMap != "":
		return Response{Facts: facts}, writeBase(r, facts)
	}
	tint, written, err := makeAll(r, facts)
	return Response{Facts: facts, Tint: tint, Written: written}, err
}

func checkLimits(f Facts) error {
	switch {
	case f.Width < 1 || f.Height < 1:
		return fmt.Errorf("it measures %d × %d pixels", f.Width, f.Height)
	case f.Width > MaxSide || f.Height > MaxSide || f.Width*f.Height > MaxPixels:
		return fmt.Errorf("it measures %d × %d pixels; up to %d megapixels are taken", f.Width, f.Height, MaxPixels/1_000_000)
	}
	return nil
}

// makeAll decodes once, at the size of the first output, and makes the smaller ones from that.
func makeAll(r Request, facts Facts) (tint int, written []Written, err error) {
	first := r.Outputs[0]
	path := r.Path
	if r.Page > 0 {
		path = fmt.Sprintf("%s[page=%d]", r.Path, r.Page)
	}
	var base image
	if r.Recipe.Neutral() && first.Sharpen == 0 {
		width, height := first.Width, first.Height
		if first.CropWidth > 0 {
			width, height = first.ScaledWidth, first.ScaledHeight
		}
		base, err = thumbnail(path, r.MediaType, width, height)
	} else {
		base, err = render(path, r, facts, first)
		first.CropWidth = 0 // it is cut already
		r.Outputs = append([]Output{first}, r.Outputs[1:]...)
	}
	if err != nil {
		return 0, nil, err
	}
	defer func() { base.free() }()
	if len(r.Outputs) > 1 {
		pixels, err := base.inMemory()
		if err != nil {
			return 0, nil, err
		}
		base.free()
		base = pixels
		if tint, err = base.tint(); err != nil {
			return 0, nil, err
		}
	}
	var group errgroup.Group // somebody waits for all of them
	written = make([]Written, len(r.Outputs))
	for i, o := range r.Outputs {
		group.Go(func() (err error) {
			written[i], err = makeOne(base, o, r.Hold)
			return err
		})
	}
	return tint, written, group.Wait()
}
