// Package clips reads and makes film with ffmpeg, in processes of its own that may only open the file they were given.
package clips

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/media/children"
)

// contained keeps ffmpeg from following playlists and addresses inside of a file that claims to be film.
var contained = []string{"-protocol_whitelist", "file", "-format_whitelist",
	"mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpeg,mpegts,gif"}

// safe keeps it from decoding frames of any size, too.
var safe = append([]string{"-max_pixels", fmt.Sprint(maxPixels)}, contained...)

// Bounds of a clip: what its frames may measure, so that a film of 8K is taken, and what reading or making one may take.
const (
	maxPixels  = 40_000_000
	memory     = 3 << 30 // bytes
	largestOut = 8 << 30 // bytes
	mostTold   = 4 << 20 // bytes that a program writes to us
)

// limits are what a program may take that is ended after a time, by which its threads work a multiple of it.
func limits(after time.Duration) children.Limits {
	return children.Limits{Memory: memory, Output: largestOut, Time: 8 * after}
}

// Facts are what a clip tells of itself. Size is upright, in pixels.
type Facts struct {
	Size    geometry.Size
	Seconds float64
	Codec   string
	Sound   bool
}

// ErrNoFilm is returned for a file without moving pictures.
var ErrNoFilm = errors.New("it holds no moving pictures")

// Read looks into a clip.
func Read(ctx context.Context, path string) (Facts, error) {
	out, err := run(ctx, 20*time.Second, "ffprobe", append(append([]string{"-v", "error"}, contained...),
		"-show_entries", "stream=codec_type,codec_name,width,height,duration:stream_side_data=rotation:format=duration", "-of", "json",
		path)...)
	if err != nil {
		return Facts{}, err
	}
	var probed struct {
		Streams []struct {
			Type     string `json:"codec_type"`
			Codec    string `json:"codec_name"`
			Width    int    `json:"width"`
			Height   int    `json:"height"`
			Duration string `json:"duration"`
			SideData []struct {
				Rotation float64 `json:"rotation"`
			} `json:"side_data_list"`
		} `json:"streams"`
		Format struct {
			Duration string `json:"duration"`
		} `json:"format"`
	}
	if err := json.Unmarshal(out, &probed); err != nil {
		return Facts{}, err
	}
	sound := false
	for _, s := range probed.Streams {
		sound = sound || s.Type == "audio"
	}
	for _, s := range probed.Streams {
		if s.Type != "video" || s.Width < 1 || s.Height < 1 {
			continue
		}
		if s.Width*s.Height > maxPixels {
			return Facts{}, fmt.Errorf("its frames measure %d × %d pixels; up to %d megapixels are taken", s.Width, s.Height, maxPixels/1_000_000)
		}
		f := Facts{Size: geometry.Size{Width: s.Width, Height: s.Height}, Codec: s.Codec, Sound: sound}
		for _, side := range s.SideData {
			if turned := int(side.Rotation) % 180; turned == 90 || turned == -90 {
				f.Size = geometry.Size{Width: s.Height, Height: s.Width}
			}
		}
		duration := probed.Format.Duration
		if duration == "" {
			duration = s.Duration
		}
		f.Seconds, _ = strconv.ParseFloat(duration, 64)
		return f, nil
	}
	return Facts{}, ErrNoFilm
}

// Still writes the frame at a moment, in seconds from the beginning, as a PNG; the first one where there is none so late.
func Still(ctx context.Context, path, png string, at float64) error {
	args := append([]string{"-v", "error", "-nostdin", "-y", "-threads", "1", "-ss", number(at)}, safe...)
	_, err := run(ctx, 60*time.Second, "ffmpeg", append(args, "-i", path, "-frames:v", "1", "-an", png)...)
	if _, missing := os.Stat(png); err == nil && missing != nil && at > 0 {
		return Still(ctx, path, png, 0)
	}
	return err
}

func number(n float64) string { return strconv.FormatFloat(n, 'f', 3, 64) }

// Playable says whether browsers play a codec, in MP4 or WebM.
func Playable(codec string) bool {
	return slices.Contains([]string{"h264", "vp8", "vp9", "av1"}, codec)
}

func run(ctx context.Context, limit time.Duration, program string, args ...string) ([]byte, error) {
	var out told
	_, err := runTo(ctx, &out, limit, program, args...)
	return out.Bytes(), err
}

// runTo writes the output of a program and gives what it says beside it.
func runTo(ctx context.Context, out io.Writer, limit time.Duration, program string, args ...string) (string, error) {
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	command := exec.CommandContext(ctx, program, args...)
	var said ending
	command.Stdout, command.Stderr = out, &said
	if err := children.Run(command, limits(limit)); err != nil {
		if ctx.Err() != nil {
			return "", fmt.Errorf("%s took longer than %s", program, limit)
		}
		line, _, _ := strings.Cut(strings.TrimSpace(string(said)), "\n")
		return "", fmt.Errorf("%s: %s", program, strings.ReplaceAll(line, args[len(args)-1], "the file"))
	}
	return string(said), nil
}

// told keeps what is written to it, up to a bound.
type told struct{ bytes.Buffer }

// Write implements io.Writer.
func (t *told) Write(p []byte) (int, error) {
	if t.Len()+len(p) > mostTold {
		return 0, errors.New("it says too much")
	}
	return t.Buffer.Write(p)
}

// ending keeps the end of what is written to it: a file can make a program say as much as it likes.
type ending []byte

const mostSaid = 64 << 10 // bytes

// Write implements io.Writer.
func (e *ending) Write(p []byte) (int, error) {
	*e = append(*e, p...)
	if over := len(*e) - mostSaid; over > 0 {
		*e = append((*e)[:0], (*e)[over:]...)
	}
	return len(p), nil
}
