package clips

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/core/geometry"
)

// Edit is what is done to a clip on its way. The zero value does nothing.
type Edit struct {
	// From and To are what remains, in seconds from the beginning of the file; a To of 0 is its end.
	From, To float64
	Mute     bool
	// Rate is the most pictures a second, or 0.
	Rate float64
	// Loudness is what the sound is brought to, in LUFS, or 0.
	Loudness float64
	// Turn is in degrees clockwise; Flip mirrors left to right, after it; Crop is in pixels of the turned pictures.
	Turn int
	Flip bool
	Crop *geometry.Rect
	// Told, when it is not nil, is told how much of the film is made, from 0 to 1, of so many Seconds.
	Told    func(part float64)
	Seconds float64
	// Bits are how many bits a second what is seen and what is heard take at most, or 0 for as many as they look and sound well with.
	VideoBits, SoundBits int
	// Colours is the path of a table of colours (a .cube of three dimensions), or "".
	Colours string
}

// seek are the arguments before the input, so that nothing of what is cut off is even read into what is made.
func (e Edit) seek() (args []string) {
	if e.From > 0 {
		args = append(args, "-ss", number(e.From))
	}
	if e.To > 0 {
		args = append(args, "-t", number(e.To-e.From))
	}
	return args
}

// pictures are the filters for what is seen, in the order of a recipe.
func (e Edit) pictures() (filters []string) {
	switch e.Turn {
	case 90:
		filters = append(filters, "transpose=clock")
	case 180:
		filters = append(filters, "hflip", "vflip")
	case 270:
		filters = append(filters, "transpose=cclock")
	}
	if e.Flip {
		filters = append(filters, "hflip")
	}
	if c := e.Crop; c != nil {
		filters = append(filters, fmt.Sprintf("crop=%d:%d:%d:%d:exact=1", c.Width, c.Height, c.X, c.Y))
	}
	if e.Colours != "" {
		filters = append(filters, "format=gbrp", "lut3d=file="+escaped(e.Colours)+":interp=tetrahedral")
	}
	return filters
}

// escaped writes a path as a value of a filter (ffmpeg-utils, "Quoting and escaping").
func escaped(path string) string {
	return strings.NewReplacer(`\`, `\\\\`, `'`, `\\\'`, `:`, `\\:`, `,`, `\,`, `[`, `\[`, `]`, `\]`, `;`, `\;`).Replace(path)
}

// StripFrames is how many frames a scrub strip shows side by side, each StripWidth pixels wide.
const (
	StripFrames = 10
	StripWidth  = 240
)

// Strip writes frames spread over a clip of so many seconds side by side into one WebP. Of long clips only key frames are decoded.
func Strip(ctx context.Context, path, webp string, seconds float64, e Edit) error {
	args := []string{"-v", "error", "-nostdin", "-y", "-threads", "1"}
	if seconds > 60 {
		args = append(args, "-skip_frame", "nokey")
	}
	args = append(append(args, e.seek()...), safe...)
	filters := append([]string{fmt.Sprintf("fps=%.6f:round=up", StripFrames/max(0.1, seconds))}, e.pictures()...)
	filters = append(filters, fmt.Sprintf("scale=%d:-2", StripWidth), fmt.Sprintf("tile=%dx1", StripFrames))
	args = append(args, "-i", path, "-an", "-vf", strings.Join(filters, ","), "-frames:v", "1", "-c:v", "libwebp", "-quality", "60", "-f",
		"webp", webp)
	_, err := run(ctx, 5*time.Minute, "ffmpeg", args...)
	return err
}

// Web writes a clip as H.264 and AAC in an MP4 that starts playing before it is loaded, of exactly that size in pixels
// (even numbers), with all metadata stripped. Notice, when not empty, is written as its copyright. Whatever was cut off is not in it:
// everything is encoded anew.
func Web(ctx context.Context, path, mp4 string, size geometry.Size, e Edit, notice string) error {
	sound, err := e.sound(ctx, path)
	if err != nil {
		return err
	}
	args := append([]string{"-v", "error", "-nostdin", "-y", "-threads", "2"}, safe...)
	filters := append(e.pictures(), fmt.Sprintf("scale=%d:%d", size.Width, size.Height), "setsar=1", "format=yuv420p")
	if e.Rate > 0 { // fewer pictures, never more
		filters = append(filters, fmt.Sprintf("fps='min(source_fps,%s)'", number(e.Rate)))
	}
	args = append(append(args, e.seek()...), "-i", path, "-map", "0:v:0", "-map_metadata", "-1", "-map_chapters", "-1",
		"-vf", strings.Join(filters, ","), "-c:v", "libx264", "-preset", "veryfast")
	args = append(args, e.rate()...)
	args = append(append(args, sound...), "-movflags", "+faststart")
	if notice != "" {
		args = append(args, "-metadata", "copyright="+notice)
	}
	if e.Told != nil && e.Seconds > 0 {
		args = append(args, "-progress", "pipe:1", "-nostats")
	}
	// Films give way to pictures, which are waited for more keenly.
	args = append([]string{"-n", "10", "ffmpeg"}, append(args, "-f", "mp4", mp4)...)
	_, err = runTo(ctx, &telling{edit: e}, 20*time.Minute, "nice", args...)
	return err
}

// rate are the arguments for how much what is seen may take.
func (e Edit) rate() []string {
	if e.VideoBits == 0 {
		return []string{"-crf", "23"}
	}
	bits := strconv.Itoa(e.VideoBits)
	return []string{"-b:v", bits, "-maxrate", bits, "-bufsize", strconv.Itoa(2 * e.VideoBits)}
}

// animationRate is how many pictures a second an animation has at most where nothing else is said.
const animationRate = 15.0

// Animate writes a clip as an animation that goes on for ever, a GIF or a WebP by its format, of exactly that size in pixels, without sound
// and metadata. Quality, 1 to 100, is for WebP; a GIF has the 256 colours that suit the clip best.
func Animate(ctx context.Context, path, target, format string, size geometry.Size, e Edit, quality int) error {
	rate := animationRate
	if e.Rate > 0 {
		rate = e.Rate
	}
	filters := strings.Join(append(e.pictures(), fmt.Sprintf("fps='min(source_fps,%s)'", number(rate)),
		fmt.Sprintf("scale=%d:%d:flags=lanczos", size.Width, size.Height), "setsar=1"), ",")
	from := append(append([]string{"-n", "10", "ffmpeg", "-v", "error", "-nostdin", "-y", "-threads", "2"}, safe...), e.seek()...)
	from = append(from, "-i", path)
	to := []string{"-map", "0:v:0", "-map_metadata", "-1", "-vf", filters, "-c:v", "libwebp_anim", "-quality", strconv.Itoa(quality),
		"-loop", "0", "-f", "webp"}
	if format == "gif" {
		// The colours are found in a first pass: in one pass all pictures would be held until the last was seen.
		palette := target + ".palette.png"
		defer func() { _ = os.Remove(palette) }()
		args := append(slices.Clone(from), "-map", "0:v:0", "-vf", filters+",palettegen=stats_mode=diff", "-frames:v", "1", palette)
		if _, err := run(ctx, 10*time.Minute, "nice", args...); err != nil {
			return err
		}
		from = append(from, "-i", palette)
		to = []string{"-map_metadata", "-1", "-filter_complex", "[0:v:0]" + filters + "[clip];[clip][1:v]paletteuse=dither=bayer:bayer_scale=4",
			"-loop", "0", "-f", "gif"}
	}
	if e.Told != nil && e.Seconds > 0 {
		to = append(to, "-progress", "pipe:1", "-nostats")
	}
	_, err := runTo(ctx, &telling{edit: e}, 10*time.Minute, "nice", append(append(from, to...), target)...)
	return err
}

// telling reads how far ffmpeg says that it is.
type telling struct {
	edit Edit
	rest string
}

// Write implements io.Writer.
func (t *telling) Write(p []byte) (int, error) {
	t.rest += string(p)
	for {
		line, rest, whole := strings.Cut(t.rest, "\n")
		if !whole {
			t.rest = line[max(0, len(line)-mostSaid):]
			return len(p), nil
		}
		t.rest = rest
		var micros float64
		if _, err := fmt.Sscanf(line, "out_time_us=%g", &micros); err == nil && t.edit.Told != nil {
			t.edit.Told(max(0, min(1, micros/1e6/t.edit.Seconds)))
		}
	}
}

// usualSound is how many bits a second sound takes where nothing else is said.
const usualSound = 128_000

// sound are the arguments for what is heard.
func (e Edit) sound(ctx context.Context, path string) ([]string, error) {
	if e.Mute {
		return []string{"-an"}, nil
	}
	args := []string{"-map", "0:a:0?", "-c:a", "aac", "-b:a", strconv.Itoa(cmp.Or(e.SoundBits, usualSound))}
	if e.Loudness == 0 {
		return args, nil
	}
	facts, err := Read(ctx, path)
	if err != nil || !facts.Sound {
		return args, err
	}
	heard, err := e.heard(ctx, path)
	if err != nil || !heard.tells() {
		return args, err
	}
	filter := fmt.Sprintf("%s:measured_I=%s:measured_TP=%s:measured_LRA=%s:measured_thresh=%s:offset=%s:linear=true",
		e.levelling(), heard.I, heard.TP, heard.LRA, heard.Threshold, heard.Offset)
	return append(args, "-af", filter, "-ar", "48000"), nil // the filter works at 192 kHz
}

// truePeak is what no sample between the samples goes over, in dBTP (EBU R 128), and loudnessRange how much quiet and loud parts may be
// apart, in LU; larger ones are kept by the filter where the level alone does it.
const (
	truePeak      = -1.5
	loudnessRange = 11
)

func (e Edit) levelling() string {
	return fmt.Sprintf("loudnorm=I=%g:TP=%g:LRA=%d", e.Loudness, truePeak, loudnessRange)
}

// heard is what the first pass measures, as the filter writes it.
type heard struct {
	I         string `json:"input_i"`
	TP        string `json:"input_tp"`
	LRA       string `json:"input_lra"`
	Threshold string `json:"input_thresh"`
	Offset    string `json:"target_offset"`
}

// tells says whether there was anything to hear.
func (h heard) tells() bool {
	var n float64
	for _, text := range []string{h.I, h.TP, h.LRA, h.Threshold, h.Offset} {
		if _, err := fmt.Sscanf(text, "%g", &n); err != nil || math.IsInf(n, 0) || math.IsNaN(n) {
			return false
		}
	}
	return true
}

func (e Edit) heard(ctx context.Context, path string) (h heard, err error) {
	args := append([]string{"-hide_banner", "-v", "info", "-nostats", "-nostdin"}, safe...)
	args = append(append(args, e.seek()...), "-i", path, "-map", "0:a:0", "-vn", "-af", e.levelling()+":print_format=json", "-f", "null", "-")
	said, err := runTo(ctx, io.Discard, 10*time.Minute, "ffmpeg", args...)
	if err != nil {
		return h, err
	}
	from := strings.LastIndex(said, "{")
	to := strings.LastIndex(said, "}")
	if from < 0 || to < from {
		return h, nil
	}
	return h, json.Unmarshal([]byte(said[from:to+1]), &h)
}
