package bench

import (
	"fmt"
	"net/http"
)

// prepare asks for what the board of preparing asks for, and prepares one item after the other.
func (d *desk) prepare(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	one := fmt.Sprintf("%s/assets/%d", brand, many[i])
	d.ask("", http.MethodPost, brand+"/looks", map[string]any{"name": fmt.Sprintf("Look %d", i), "groups": []string{"colour"},
		"values": map[string]any{"warmth": 1 + i}}, nil)
	d.ask(name("looks"), http.MethodGet, brand+"/looks", nil, nil)
	d.ask(name("preparing one item"), http.MethodPost, brand+"/recipes", map[string]any{"selection": map[string]any{"ids": many[i : i+1]},
		"turn": 90}, nil)
	d.ask(name("the recipes of an item"), http.MethodGet, one+"/recipe", nil, nil)
	d.ask(name("first page of what is prepared"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything",
		"filter": map[string]any{"match": "all", "rules": []any{map[string]any{"field": "state", "names": []string{"prepared"}}}}}, nil)
	d.ask(name("namesakes of 100, with where they are shown"), http.MethodPost, brand+"/replacements/plan", map[string]any{
		"selection": map[string]any{"ids": many[:100]}}, nil)
}
