package store

import "sync"

// Lately keeps what was read of each brand last, with the stamp it was read at.
type Lately struct {
	mu      sync.Mutex
	byBrand map[int64]readLast
}

type readLast struct {
	stamp string
	kept  any
}

// Under gives what is kept of a brand under a stamp, and reads it anew when what is kept stands under another one.
func (s *Lately) Under(brand int64, stamp string, read func() (any, error)) (any, error) {
	s.mu.Lock()
	known, ok := s.byBrand[brand]
	s.mu.Unlock()
	if ok && known.stamp == stamp {
		return known.kept, nil
	}
	now, err := read()
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.byBrand == nil {
		s.byBrand = map[int64]readLast{}
	}
	s.byBrand[brand] = readLast{stamp: stamp, kept: now}
	return now, nil
}
