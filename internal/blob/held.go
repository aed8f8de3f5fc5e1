package blob

import (
	"errors"
	"io"
	"os"
)

// Small files are asked for again and again: tiles, and pictures on websites. The last ones are held in memory, 64 MB at most, for opening
// a file takes the system longer than sending it.
const (
	largestHeld = 64 << 10 // bytes
	mostHeld    = 1000
)

// Quickly gives what is stored under a key on this machine: its bytes where they are few, which must not be changed, and else the file.
// ErrMissing when nothing is stored there, or elsewhere.
func (s *Store) Quickly(key string) ([]byte, *os.File, error) {
	if data, is := s.held.Get(key); is {
		return data, nil, nil
	}
	file, err := s.OpenFile(key)
	if err != nil {
		return nil, nil, err
	}
	info, err := file.Stat()
	if err == nil && info.Size() > largestHeld {
		return nil, file, nil
	}
	var data []byte
	if err == nil {
		data = make([]byte, info.Size())
		_, err = io.ReadFull(file, data)
	}
	if err := errors.Join(err, file.Close()); err != nil {
		return nil, nil, err
	}
	s.held.Add(key, data)
	return data, nil, nil
}
