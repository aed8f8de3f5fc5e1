package index

import (
	"encoding/json"
	"slices"
	"sync"
)

// answers keeps what was asked for lately, so that the next page of a sheet, or another window of a person, costs nothing.
type answers struct {
	most int
	mu   sync.Mutex
	kept []answer
}

type answer struct {
	key     string
	version uint64
	value   any
}

// answered returns what was given before under a key if nothing has changed since, or makes it. Nobody may change it.
func answered[T any](a *answers, key string, version uint64, make func() (T, error)) (T, error) {
	a.mu.Lock()
	at := slices.IndexFunc(a.kept, func(k answer) bool { return k.key == key && k.version == version })
	if at >= 0 {
		value := a.kept[at].value
		a.mu.Unlock()
		return value.(T), nil
	}
	a.mu.Unlock()
	value, err := make()
	if err != nil {
		return value, err
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	a.kept = slices.DeleteFunc(a.kept, func(k answer) bool { return k.version != version || k.key == key })
	if len(a.kept) >= a.most {
		a.kept = a.kept[1:]
	}
	a.kept = append(a.kept, answer{key, version, value})
	return value, nil
}

// keyOf names a question by its parts.
func keyOf(parts ...any) string {
	text, _ := json.Marshal(parts)
	return string(text)
}
