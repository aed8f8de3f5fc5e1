// Package clips reads and makes film with ffmpeg, in processes of its own that may only open the file they were given.
package clips

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/media/children"
)

// safe keeps ffmpeg from following playlists and addresses inside of a file that claims to be film.
var safe = []string{"-protocol_whitelist", "file", "-format_whitelist", "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpeg,mpegts,gif"}

// Facts are what a clip tells of itself. Size is upright, in pixels.
type Facts struct {
	Size    geometry.Size
	Seconds float64
	Codec   string
}

// ErrNoFilm is returned for a file without moving pictures.
var ErrNoFilm = errors.New("it holds no moving pictures")

// Read looks into a clip.
func Read(ctx context.Context, path string) (Facts, error) {
	out, err := run(ctx, 20*time.Second, "ffprobe", append(append([]string{"-v", "error"}, safe...),
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
	for _, s := range probed.Streams {
		if s.Type != "video" || s.Width < 1 || s.Height < 1 {
			continue
		}
		f := Facts{Size: geometry.Size{Width: s.Width, Height: s.Height}, Codec: s.Codec}
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

// Poster writes a frame from a third into the clip, at most 3 seconds in, as a PNG.
func Poster(ctx context.Context, path, png string, seconds float64) error {
	at := strconv.FormatFloat(min(3, seconds/3), 'f', 2, 64)
	args := append([]string{"-v", "error", "-nostdin", "-y", "-threads", "1", "-ss", at}, safe...)
	_, err := run(ctx, 60*time.Second, "ffmpeg", append(args, "-i", path, "-frames:v", "1", "-an", png)...)
	return err
}

// Playable says whether browsers play a codec, in MP4 or WebM.
func Playable(codec string) bool {
	return slices.Contains([]string{"h264", "vp8", "vp9", "av1"}, codec)
}

// StripFrames is how many frames a scrub strip shows side by side, each StripWidth pixels wide.
const (
	StripFrames = 10
	StripWidth  = 240
)

// Strip writes frames spread over a clip side by side into one WebP. Of long clips only key frames are decoded.
func Strip(ctx context.Context, path, webp string, seconds float64) error {
	args := []string{"-v", "error", "-nostdin", "-y", "-threads", "1"}
	if seconds > 60 {
		args = append(args, "-skip_frame", "nokey")
	}
	rate := strconv.FormatFloat(StripFrames/max(0.1, seconds), 'f', 6, 64)
	filter := fmt.Sprintf("fps=%s:round=up,scale=%d:-2,tile=%dx1", rate, StripWidth, StripFrames)
	args = append(append(args, safe...), "-i", path, "-an", "-vf", filter, "-frames:v", "1", "-c:v", "libwebp", "-quality", "60", "-f",
		"webp", webp)
	_, err := run(ctx, 5*time.Minute, "ffmpeg", args...)
	return err
}

// Web writes a clip as H.264 and AAC in an MP4 that starts playing before it is loaded, of exactly that size in pixels
// (even numbers), with all metadata stripped. Notice, when not empty, is written as its copyright.
func Web(ctx context.Context, path, mp4 string, size geometry.Size, notice string) error {
	args := append([]string{"-v", "error", "-nostdin", "-y", "-threads", "2"}, safe...)
	args = append(args, "-i", path, "-map", "0:v:0", "-map", "0:a:0?", "-map_metadata", "-1", "-map_chapters", "-1",
		"-vf", fmt.Sprintf("scale=%d:%d,setsar=1,format=yuv420p", size.Width, size.Height),
		"-c:v", "libx264", "-preset", "veryfast", "-crf", "23", "-c:a", "aac", "-b:a", "128k", "-movflags", "+faststart")
	if notice != "" {
		args = append(args, "-metadata", "copyright="+notice)
	}
	_, err := run(ctx, 20*time.Minute, "ffmpeg", append(args, "-f", "mp4", mp4)...)
	return err
}

func run(ctx context.Context, limit time.Duration, program string, args ...string) ([]byte, error) {
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	command := exec.CommandContext(ctx, program, args...)
	var out, problems bytes.Buffer
	command.Stdout, command.Stderr = &out, &problems
	if err := children.Run(command); err != nil {
		if ctx.Err() != nil {
			return nil, fmt.Errorf("%s took longer than %s", program, limit)
		}
		line, _, _ := strings.Cut(strings.TrimSpace(problems.String()), "\n")
		return nil, fmt.Errorf("%s: %s", program, strings.ReplaceAll(line, args[len(args)-1], "the file"))
	}
	return out.Bytes(), nil
}
