package media

import (
	"context"
	"crypto/sha256"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"sync"

	"brightsatchel/internal/media/clips"
)

// stills are the last frames of clips that somebody worked at, as files: finding one takes longer than drawing it.
type stills struct {
	lock  sync.Mutex
	dir   string
	names []string // the newest last
}

const mostStills = 24

// at gives a file with the frame of a clip at a moment in seconds. It stays until others have come in its place.
func (s *stills) at(ctx context.Context, path string, seconds float64) (string, error) {
	name := fmt.Sprintf("%x-%.2f.png", sha256.Sum256([]byte(path)), seconds)
	s.lock.Lock()
	defer s.lock.Unlock() // one at a time: whoever drags asks for the next one only when the last is here
	still := filepath.Join(s.dir, name)
	if slices.Contains(s.names, name) {
		if _, err := os.Stat(still); err == nil {
			return still, nil
		}
	}
	if _, err := os.Stat(s.dir); s.dir == "" || err != nil { // it may have been cleared as a leftover
		if s.dir, err = os.MkdirTemp("", "satchel-work-stills-"); err != nil {
			return "", err
		}
		s.names, still = nil, filepath.Join(s.dir, name)
	}
	if err := clips.Still(ctx, path, still, seconds); err != nil {
		return "", err
	}
	if s.names = append(s.names, name); len(s.names) > mostStills {
		_ = os.Remove(filepath.Join(s.dir, s.names[0]))
		s.names = s.names[1:]
	}
	return still, nil
}

func (s *stills) close() {
	if s.dir != "" {
		_ = os.RemoveAll(s.dir)
	}
}
