package queue

import (
	"crypto/rand"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
)

// Identity is what a process is called in the queue. It stands in a file that the process keeps locked as long as it
// lives; the system lets go of the lock when it dies, however it dies. So whoever gets the lock of another file has proved
// that its process is gone, and inherits the jobs that it left running. Processes that live never take each other's.
type Identity struct {
	Name      string
	file      *os.File
	inherited []string
}

// Identify gives this process an identity in a folder that processes on this host share, and takes over those of processes
// that are gone. Release it at the end.
func Identify(dir string) (*Identity, error) {
	host, err := os.Hostname()
	if err != nil {
		return nil, fmt.Errorf("the name of this host: %w", err)
	}
	prefix := strings.Map(func(r rune) rune {
		if r == '/' || r == '.' || r < ' ' {
			return '-'
		}
		return r
	}, host) + "."
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("the folder for processes: %w", err)
	}
	id := &Identity{Name: prefix + rand.Text()}
	// The new file is locked before the others are looked at: two that start at once take each other for alive.
	if id.file, err = lockFile(filepath.Join(dir, id.Name), os.O_CREATE|os.O_EXCL|os.O_RDWR); err != nil {
		return nil, fmt.Errorf("locking the identity of this process: %w", err)
	}
	entries, err := os.ReadDir(dir)
	if err != nil {
		return nil, errors.Join(err, id.file.Close())
	}
	for _, entry := range entries {
		name := entry.Name()
		if name == id.Name || !strings.HasPrefix(name, prefix) {
			continue
		}
		gone, err := lockFile(filepath.Join(dir, name), os.O_RDWR)
		if err != nil {
			continue // it lives
		}
		id.inherited = append(id.inherited, name)
		_ = gone.Close()
	}
	return id, nil
}

// Settled forgets the identities that were inherited, once their jobs are released.
func (id *Identity) Settled(dir string) {
	for _, name := range id.inherited {
		_ = os.Remove(filepath.Join(dir, name))
	}
}

// Inherited are the names of processes that are gone.
func (id *Identity) Inherited() []string { return id.inherited }

// Release ends the identity of this process. With clean it has left no jobs running, and nobody needs to inherit them.
func (id *Identity) Release(clean bool) {
	if clean {
		_ = os.Remove(id.file.Name())
	}
	_ = id.file.Close()
}

func lockFile(path string, flags int) (*os.File, error) {
	file, err := os.OpenFile(path, flags, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return file, nil
}
