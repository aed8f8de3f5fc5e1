package renditions

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/renditionstore"
)

// Tried is a rendition that was made to be looked at, with what its file says.
type Tried struct {
	renditionstore.Rendition
	Plan     outputs.Plan
	Likeness float64
	Says     map[string]string
}

// mostTold is how many values of a file are told, and how long each is at most.
const (
	mostTold    = 60
	longestTold = 200
)

// TryOut makes a rendition of a picture, and keeps nothing of it.
func (s *Service) TryOut(ctx context.Context, a assetstore.Asset, size outputs.Size) (t Tried, err error) {
	w, err := s.want(ctx, a, size)
	if err != nil {
		return t, err
	}
	if err := s.gate.Acquire(ctx, 1); err != nil {
		return t, err
	}
	defer s.gate.Release(1)
	t.Plan = w.plan
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		target := filepath.Join(dir, "rendition."+outputs.Extension(w.plan.Format))
		began := time.Now()
		written, err := s.Media.Render(ctx, media.Rendering{Original: original, By: w.by, Source: Source(a), Plan: w.plan, Size: w.size,
			Says: w.says, Measure: true}, target)
		if err != nil {
			return err
		}
		t.Seconds, t.Quality, t.Likeness = time.Since(began).Seconds(), written.Quality, written.Likeness
		info, err := os.Stat(target)
		if err != nil {
			return err
		}
		t.Bytes = info.Size()
		raw, err := s.Media.Metadata.Read(ctx, target)
		if err == nil {
			t.Says = told(raw)
		}
		return err
	})
	return t, err
}

// told are the values of a file that somebody has said, leaving out what every file has.
func told(values map[string]any) map[string]string {
	out := map[string]string{}
	for name, value := range values {
		group, _, _ := strings.Cut(name, ":")
		switch {
		case len(out) == mostTold, strings.HasPrefix(group, "File"), group == "ExifTool", group == "JFIF", group == "ICC-header",
			strings.HasPrefix(group, "ICC"), group == "Composite", group == "PNG", group == "RIFF", group == "QuickTime", group == "Meta",
			name == "SourceFile", strings.HasSuffix(name, ":XMPToolkit"):
			continue
		}
		text := fmt.Sprint(value)
		if runes := []rune(text); len(runes) > longestTold {
			text = string(runes[:longestTold]) + "…"
		}
		out[name] = text
	}
	return out
}
