package media

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"

	"github.com/gabriel-vasile/mimetype"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/media/metadata"
	"brightsatchel/internal/media/pictures"
)

// Engine is everything that works on files.
type Engine struct {
	Pictures *pictures.Pool
	Metadata *metadata.Tool

	stills stills
}

// Original is the file of an item. Size is upright, in pixels; Seconds are those of a clip.
type Original struct {
	Path, MediaType string
	Size            geometry.Size
	Seconds         float64
}

// NewEngine returns an engine that decodes at most workers pictures at a time.
func NewEngine(workers int) *Engine {
	return &Engine{Pictures: pictures.NewPool(workers), Metadata: metadata.NewTool()}
}

// Close ends the processes of the engine.
func (e *Engine) Close() {
	e.Pictures.Close()
	e.Metadata.Close()
	e.stills.close()
}

// Facts are what a file is and says. Size is upright, in pixels.
type Facts struct {
	Type
	Size    geometry.Size
	Seconds *float64
	Codec   string        // of a clip
	Recipe  recipe.Recipe // by which the previews are made; Size is before it
	Pages   *int
	Says    metadata.Facts
	Raw     json.RawMessage // all metadata as JSON
	Note    string          // what a person should know of the file, or ""
	Tint    int             // 0xRRGGBB
}

// Preview is a WebP of a file at one of the fixed sizes.
type Preview struct {
	Name string // small, medium or large
	Path string
}

// previewBoxes are the sizes that every item is shown at, largest first. Small is for sheets: rows of up to 200 pixels
// on a screen with two device pixels for each.
var previewBoxes = []struct {
	name    string
	box     geometry.Size
	quality int
}{
	{"large", geometry.Size{Width: 2000, Height: 2000}, 80},
	{"medium", geometry.Size{Width: 1000, Height: 1000}, 78},
	{"small", geometry.Size{Width: 900, Height: 400}, 74},
}

// PreviewBox is the box that a preview fits in, in pixels, by its name.
func PreviewBox(name string) (geometry.Size, bool) {
	for _, p := range previewBoxes {
		if p.name == name {
			return p.box, true
		}
	}
	return geometry.Size{}, false
}

// PreviewNames are the names of the previews, largest first.
var PreviewNames = []string{"large", "medium", "small"}

// Read identifies a file, reads what it says, and writes its previews, made by a recipe, into dir. Only
// pictures have one. What cannot be shown is Refused; what went wrong on our side is any other error and worth another try.
func (e *Engine) Read(ctx context.Context, path, dir string, by recipe.Recipe) (Facts, []Preview, error) {
	info, err := os.Stat(path)
	if err != nil {
		return Facts{}, nil, err
	}
	if info.Size() == 0 {
		return Facts{}, nil, &Refused{Why: "The file is empty."}
	}
	kind, err := e.identify(ctx, path)
	if err != nil {
		return Facts{}, nil, err
	}
	facts := Facts{Type: kind}
	picture, head, err := e.measure(ctx, path, dir, &facts, by)
	if err != nil {
		return Facts{}, nil, refuse(err, dir)
	}
	by = by.For(facts.Kind)
	facts.Recipe = by
	raw, err := e.Metadata.Read(ctx, path)
	if err != nil {
		return Facts{}, nil, err
	}
	facts.Says = metadata.Interpret(raw)
	for i, face := range facts.Says.Faces {
		facts.Says.Faces[i] = upright(face, head)
	}
	if facts.Raw, err = json.Marshal(raw); err != nil {
		return Facts{}, nil, err
	}
	picture.Recipe = by
	previews, tint, err := e.previews(ctx, picture, by.Size(facts.Size), dir)
	facts.Tint = tint
	return facts, previews, refuse(err, dir)
}

// upright carries a face region from the stored picture to the upright one. Programs differ in which of the
// two they mean; the dimensions they applied it to tell, where width and height differ.
func upright(f metadata.Face, head pictures.Facts) metadata.Face {
	meansStored := f.AppliedTo == [2]int{} || f.AppliedTo == [2]int{head.Width, head.Height}
	if o := geometry.Orientation(head.Orientation); meansStored {
		p := o.Point(geometry.Point{X: f.X, Y: f.Y})
		f.X, f.Y = p.X, p.Y
		if o.Turns() {
			f.Width, f.Height = f.Height, f.Width
		}
	}
	return f
}

// measure fills in the dimensions and returns what to make the previews from, and its header: the file itself, a frame of
// a clip, or the picture that a raw file holds.
func (e *Engine) measure(ctx context.Context, path, dir string, facts *Facts, by recipe.Recipe) (pictures.Request, pictures.Facts, error) {
	request := pictures.Request{Path: path, MediaType: facts.MediaType}
	switch {
	case facts.Kind == "clip":
		film, err := clips.Read(ctx, path)
		if err != nil {
			return request, pictures.Facts{}, &pictures.PictureError{Text: err.Error()}
		}
		facts.Size, facts.Seconds, facts.Codec = film.Size, &film.Seconds, film.Codec
		if missing := clips.Missing(path); missing > 0 {
			facts.Note = fmt.Sprintf("The clip is cut off: %d %% of its data is missing. What is there plays.", missing)
		}
		poster := filepath.Join(dir, "poster.png")
		if err := clips.Still(ctx, path, poster, by.PosterAt(film.Seconds)); err != nil {
			return request, pictures.Facts{}, &pictures.PictureError{Text: err.Error()}
		}
		return pictures.Request{Path: poster, MediaType: "image/png"}, pictures.Facts{Orientation: 1}, nil
	case Raw(facts.MediaType):
		var err error
		if request, err = e.developed(ctx, path, dir, develop{sensor: by.Sensor}); err != nil {
			return request, pictures.Facts{}, err
		}
	}
	request.Slow = pictures.MaySlow(request, 0)
	answer, err := e.Pictures.Do(ctx, request)
	if err != nil {
		return request, pictures.Facts{}, err
	}
	head := answer.Facts
	request.Slow = pictures.MaySlow(request, head.Width*head.Height)
	facts.Size = geometry.Orientation(head.Orientation).Size(geometry.Size{Width: head.Width, Height: head.Height})
	if head.Pages > 1 {
		facts.Pages = &head.Pages
		if facts.MediaType == "image/gif" || facts.MediaType == "image/webp" {
			facts.Kind = "animation"
		}
	}
	return request, head, nil
}

func (e *Engine) previews(ctx context.Context, request pictures.Request, size geometry.Size, dir string) ([]Preview, int, error) {
	var made []Preview
	for _, p := range previewBoxes {
		fitted := geometry.Fit(size, p.box)
		target := filepath.Join(dir, p.name+".webp")
		request.Outputs = append(request.Outputs, pictures.Output{Path: target, Width: fitted.Width, Height: fitted.Height,
			Format: "webp", Quality: p.quality})
		made = append(made, Preview{Name: p.name, Path: target})
	}
	answer, err := e.Pictures.Do(ctx, request)
	return made, answer.Tint, err
}

// Page writes one page of a document, counted from 0, as a WebP of up to 1600 pixels.
func (e *Engine) Page(ctx context.Context, path, mediaType string, size geometry.Size, page int, target string) error {
	// Pages of a document differ in their proportions; the box of the cover keeps a page of the usual ones upright.
	fitted := geometry.Size{Width: size.Width * 2, Height: size.Height * 2}
	fitted = geometry.Fit(fitted, geometry.Size{Width: 1600, Height: 1600})
	_, err := e.Pictures.Do(ctx, pictures.Request{Path: path, MediaType: mediaType, Page: page, Slow: true,
		Outputs: []pictures.Output{{Path: target, Width: fitted.Width, Height: fitted.Height, Format: "webp", Quality: 80}}})
	return refuse(err, filepath.Dir(target))
}

// Shrink writes a preview at a smaller size in pixels, as a WebP, with a mark across it where there is one; file is the path of a mark
// that is a picture.
func (e *Engine) Shrink(ctx context.Context, preview string, size geometry.Size, mark outputs.Mark, file, target string) error {
	_, err := e.Pictures.Do(ctx, pictures.Request{Path: preview, MediaType: "image/webp",
		Outputs: []pictures.Output{{Path: target, Width: size.Width, Height: size.Height, Format: "webp", Quality: 80,
			Mark: mark.Words, MarkFile: file, MarkPlace: mark.Place, MarkStrength: mark.Strength}}})
	return refuse(err, filepath.Dir(target))
}

// Look looks into a preview: likeness, sharpness, colour, focal point, faces.
func (e *Engine) Look(ctx context.Context, preview string) (pictures.Seen, int, error) {
	answer, err := e.Pictures.Do(ctx, pictures.Request{Path: preview, MediaType: "image/webp", Look: true})
	if err != nil {
		return pictures.Seen{}, 0, refuse(err, "")
	}
	return *answer.Seen, answer.Tint, nil
}

// LookAt looks into a picture of any kind, of which nothing is known: what it looks like, and its size in pixels. What is no picture that
// can be looked into is Refused.
func (e *Engine) LookAt(ctx context.Context, path string) (pictures.Seen, geometry.Size, error) {
	found, err := mimetype.DetectFile(path)
	if err != nil {
		return pictures.Seen{}, geometry.Size{}, err
	}
	if of := kinds[found.String()]; of != "picture" {
		return pictures.Seen{}, geometry.Size{}, &Refused{Why: "It is no picture."}
	}
	answer, err := e.Pictures.Do(ctx, pictures.Request{Path: path, MediaType: found.String(), Look: true})
	if err != nil {
		return pictures.Seen{}, geometry.Size{}, refuse(err, "")
	}
	size := geometry.Size{Width: answer.Facts.Width, Height: answer.Facts.Height}
	return *answer.Seen, geometry.Orientation(answer.Facts.Orientation).Size(size), nil
}

// refuse words an error of the picture itself as the reason why it is not taken. What could not be written into dir because
// the disk is full, or dir is gone, is no error of the picture; the engines tell it in words of their own, so the disk is asked.
func refuse(err error, dir string) error {
	var wrong *pictures.PictureError
	if !errors.As(err, &wrong) {
		return err
	}
	if dir != "" {
		if ours := writable(dir); ours != nil {
			return fmt.Errorf("%s: %w", wrong.Text, ours)
		}
	}
	if strings.HasSuffix(wrong.Text, "were allowed") { // of the bytes of a budget
		return &Refused{Why: "I" + wrong.Text[1:] + "."}
	}
	slog.Info("a file was refused", "said", wrong.Text) // the person is told in other words
	return &Refused{Why: "It cannot be shown: " + inWords(wrong.Text) + "."}
}

// With less room than this, in bytes, what is made of a file may not find a place.
const scarce = 16 << 20

func writable(dir string) error {
	var disk syscall.Statfs_t
	if err := syscall.Statfs(dir, &disk); err != nil {
		return err
	}
	if disk.Bavail*uint64(disk.Bsize) < scarce {
		return syscall.ENOSPC
	}
	return nil
}

// Rendering is one file that is made from an original: by a recipe, as a plan says that an output size makes of what the item shows.
type Rendering struct {
	Original Original
	By       recipe.Recipe
	Source   outputs.Source
	Plan     outputs.Plan
	Size     outputs.Size
	Says     outputs.Says // what the library says of the item
	MarkFile string       // the path of the picture across it, of a mark that is one
	Measure  bool         // ask how like a picture is to what it was written from
	// Told, when it is not nil, is told how much of a film is made, from 0 to 1.
	Told func(part float64)
}

// Render makes the file, with as much as the size allows of what its original and the library say of it.
func (e *Engine) Render(ctx context.Context, r Rendering, target string) (pictures.Written, error) {
	if r.Source.Kind == "clip" {
		return pictures.Written{}, e.renderFilm(ctx, r, target)
	}
	budget := r.Size.Budget
	for {
		written, err := e.renderPicture(ctx, r, target)
		if err != nil || budget == 0 {
			return written, err
		}
		info, err := os.Stat(target)
		if err != nil || info.Size() <= budget {
			return written, err
		}
		r.Size.Budget -= info.Size() - budget // what is said in it takes bytes, too
		if r.Size.Budget < budget/4 {
			return written, &Refused{Why: fmt.Sprintf("What is said in it takes too much of the %d kB that were allowed.", budget/1000)}
		}
	}
}

func (e *Engine) renderFilm(ctx context.Context, r Rendering, target string) error {
	says := r.Says.Under(r.Size.Metadata)
	edit, err := e.edit(ctx, r.By, r.Original.Size, filepath.Dir(target))
	if err != nil {
		return err
	}
	from, to := r.By.Span(r.Original.Seconds)
	edit.Told, edit.Seconds = r.Told, to-from
	edit.Mute, edit.Rate = edit.Mute || r.Size.Quiet, r.Size.ClipRate
	if r.Size.Animated() {
		if err := clips.Animate(ctx, r.Original.Path, target, r.Plan.Format, r.Plan.Size, edit, r.Size.Quality); err != nil {
			return err
		}
		return e.say(ctx, target, says, r.Plan.Size)
	}
	return withinBudget(r.Size.Budget, &edit, target, func() error {
		if err := clips.Web(ctx, r.Original.Path, target, r.Plan.Size, edit, says.Copyright); err != nil {
			return err
		}
		return e.say(ctx, target, says, r.Plan.Size)
	})
}

func (e *Engine) renderPicture(ctx context.Context, r Rendering, target string) (written pictures.Written, err error) {
	original, by, source, plan, size := r.Original, r.By, r.Source, r.Plan, r.Size
	shown := source.Size.Width
	if plan.Crop != nil {
		shown = plan.Crop.Width
	}
	request, err := e.pictureOf(ctx, original, by, 2*plan.Size.Width > shown, filepath.Dir(target))
	if err != nil {
		return written, err
	}
	request.Recipe = by
	request.Outputs = []pictures.Output{outputOf(r, target)}
	request.Slow = pictures.MaySlow(request, source.Size.Width*source.Size.Height)
	done, err := e.Pictures.Do(ctx, request)
	if err != nil {
		return written, refuse(err, filepath.Dir(target))
	}
	if len(done.Written) > 0 {
		written = done.Written[0]
	}
	says := r.Says.Under(size.Metadata)
	if size.Metadata != outputs.Keep && plan.Format == "jpeg" { // it says nothing yet
		if err := e.Metadata.Stamp(ctx, target, says); err != nil {
			return written, fmt.Errorf("writing what the library says: %w", err)
		}
		return written, nil
	}
	if size.Metadata == outputs.Keep {
		if says, err = e.Metadata.CopyUnder(ctx, original.Path, target, says); err != nil {
			return written, err
		}
		says.Faces = outputs.FacesIn(says.Faces, source.Size, plan)
	}
	return written, e.say(ctx, target, says, plan.Size)
}

// outputOf is the file that a rendering asks for.
func outputOf(r Rendering, target string) pictures.Output {
	plan, size := r.Plan, r.Size
	out := pictures.Output{Path: target, Width: plan.Size.Width, Height: plan.Size.Height, Format: plan.Format, Quality: size.Quality,
		Sharpen: float64(size.Sharpen), Budget: size.Budget, Measure: r.Measure,
		Mark: size.Mark.Words, MarkFile: r.MarkFile, MarkPlace: size.Mark.Place, MarkStrength: size.Mark.Strength}
	if inner := plan.Inner; inner != nil {
		out.PadWidth, out.PadHeight, out.PadColour = plan.Size.Width, plan.Size.Height, padColour(size.Colour)
		out.Width, out.Height = inner.Width, inner.Height
	}
	if c := plan.Crop; c != nil {
		scale := float64(plan.Size.Width) / float64(c.Width)
		at := func(v int) int { return int(float64(v)*scale + 0.5) }
		out.ScaledWidth = max(plan.Size.Width, at(r.Source.Size.Width))
		out.ScaledHeight = max(plan.Size.Height, at(r.Source.Size.Height))
		out.CropX = min(at(c.X), out.ScaledWidth-plan.Size.Width)
		out.CropY = min(at(c.Y), out.ScaledHeight-plan.Size.Height)
		out.CropWidth, out.CropHeight = plan.Size.Width, plan.Size.Height
	}
	return out
}

// padColour is a colour as 0xRRGGBB; below 0 is the picture's own.
func padColour(text string) int {
	n, err := strconv.ParseUint(strings.TrimPrefix(text, "#"), 16, 24)
	if err != nil {
		return -1
	}
	return int(n)
}

func (e *Engine) say(ctx context.Context, target string, says outputs.Says, size geometry.Size) error {
	if err := e.Metadata.Say(ctx, target, says, size, filepath.Ext(target) == ".jpg"); err != nil {
		return fmt.Errorf("writing what the library says: %w", err)
	}
	return nil
}
