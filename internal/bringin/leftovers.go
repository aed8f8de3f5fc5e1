package bringin

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/prometheus/client_golang/prometheus"

	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/intakestore"
)

// Leftovers counts what was cleared that killed processes and refused files left.
var Leftovers = prometheus.NewCounterVec(prometheus.CounterOpts{Name: "satchel_leftovers_total",
	Help: "Files and folders that were left over and cleared."}, []string{"what"})

// How old something left over must be before it is cleared: whoever refused a file by mistake has an hour, and the longest
// work with a folder of its own takes less than two.
const (
	uploadKept   = time.Hour
	unfinished   = 2 * time.Hour
	leftoverLook = 24 * time.Hour
	guestsWait   = 24 * time.Hour // for what a guest announced and never sent
)

// clearLeftovers is the job that clears away what is left over, at every start and once a day.
type clearLeftovers struct{}

// Kind names the job in the queue.
func (clearLeftovers) Kind() string { return "clear_leftovers" }

func (s *Service) addLeftovers() {
	queue.Add(s.Queue, queue.Kind[clearLeftovers]{
		Do:     func(ctx context.Context, _ clearLeftovers) error { return s.ClearLeftovers(ctx, time.Now()) },
		GaveUp: queue.Nothing[clearLeftovers], Tries: queue.Once, Queue: queue.Background, Alone: true,
	})
	s.Queue.Regularly(leftoverLook, true, clearLeftovers{})
	s.addCopies()
	s.addDrive()
}

// ClearLeftovers removes the bytes of uploads that have their outcome or belong to nothing, unfinished files in the storage,
// and working folders of processes that were killed.
func (s *Service) ClearLeftovers(ctx context.Context, now time.Time) error {
	if err := s.endForGuests(ctx, now.Add(-guestsWait)); err != nil {
		return err
	}
	uploads, err := s.clearUploads(ctx, now.Add(-uploadKept))
	if err != nil {
		return err
	}
	stored, err := s.Blobs.ClearUnfinished(ctx, now.Add(-unfinished))
	if err != nil {
		return err
	}
	// By the clock of the machine, which all its processes go by: their working folders are beside ours.
	folders, err := clearFolders(time.Now().Add(-unfinished))
	for what, n := range map[string]int{"uploads": uploads, "unfinished files": stored, "working folders": folders} {
		Leftovers.WithLabelValues(what).Add(float64(n))
		if n > 0 {
			slog.Info("what was left over is cleared", "what", what, "number", n)
		}
	}
	return err
}

// endForGuests ends intakes of guests who went before they had sent all that they announced.
func (s *Service) endForGuests(ctx context.Context, before time.Time) error {
	intakes, err := gallerystore.LeftByGuests(ctx, s.DB, before)
	if err != nil {
		return err
	}
	for _, id := range intakes {
		if err := s.DB.InTx(ctx, func(tx *store.Tx) error {
			_, err := intakestore.CancelIntake(ctx, tx, id)
			return err
		}); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) clearUploads(ctx context.Context, before time.Time) (n int, err error) {
	entries, err := os.ReadDir(s.Uploads)
	if err != nil {
		return 0, err
	}
	for _, entry := range entries {
		info, err := entry.Info()
		if err != nil || entry.IsDir() || info.ModTime().After(before) {
			continue
		}
		code, _, _ := strings.Cut(entry.Name(), ".")
		f, err := intakestore.IntakeFileByCode(ctx, s.DB, code)
		var gone *fault.NotFound
		if err != nil && !errors.As(err, &gone) {
			return n, err
		}
		if err == nil && !arrival.State(f.State).Settled() {
			continue
		}
		if waits, err := drivestore.OnDrive(ctx, s.DB, code); err != nil {
			return n, err
		} else if waits {
			continue
		}
		if err := os.Remove(filepath.Join(s.Uploads, entry.Name())); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return n, err
		}
		n++
	}
	return n, nil
}

// clearFolders removes the working folders of this program in the system's folder for temporary files.
func clearFolders(before time.Time) (n int, err error) {
	found, err := filepath.Glob(filepath.Join(os.TempDir(), "satchel-work-*"))
	if err != nil {
		return 0, err
	}
	for _, path := range found {
		info, err := os.Lstat(path)
		if err != nil || !info.IsDir() || info.ModTime().After(before) {
			continue
		}
		if os.RemoveAll(path) == nil { // somebody else's cannot be removed, and need not be
			n++
		}
	}
	return n, nil
}
