// Package internal_test keeps the structure: which package may import which.
package internal_test

import (
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const module = "brightsatchel/"

// steps are the packages of the steps of the work; none of them imports another.
var steps = []string{"bringin", "filing", "describing", "choosing", "preparing", "gathering", "finding", "upkeep", "people"}

// foundation is what steps are built on, with what each of it may import besides the core.
var foundation = map[string][]string{
	"store": {}, "blob": {}, "media": {"media"}, "media/children": {},
	"media/pictures": {"media/children"}, "media/clips": {"media/children"}, "media/metadata": {"media/children"},
	"queue": {"store"}, "finding/index": {"store"}, "passwords": {"store"}, "sealing": {}, "outlets": {"store", "sealing"},
	"mail":   {"store", "blob", "queue"},
	"pieces": {"store", "queue"}, "pieces/piecestest": {"store", "queue", "pieces"}, "looking": {"store", "blob", "media", "queue"},
	"renditions": {"store", "blob", "media", "queue", "looking"},
	"settings":   {"house", "mail", "outlets"}, "inplace": {"store", "blob", "media", "queue", "looking", "renditions"},
}

// mayImport says whether a package below internal may import another one.
func mayImport(from, to string) bool {
	within := func(p, parent string) bool { return p == parent || strings.HasPrefix(p, parent+"/") }
	switch {
	case within(from, "core"):
		return within(to, "core")
	case within(to, "core"), within(from, "house"), within(from, "web"):
		return true
	}
	if strings.HasPrefix(from, "store/") { // the nouns of the store lean on it and on each other, and it knows none of them
		return within(to, "store")
	}
	if allowed, ok := foundation[from]; ok {
		return slices.ContainsFunc(allowed, func(a string) bool { return within(to, a) })
	}
	step, _, house := strings.Cut(from, "/") // sendout is a street of houses, none of which knows another, on two floors of their own
	if step == "sendout" && slices.Contains([]string{"sendout/leaving", "sendout/showing"}, to) {
		return true
	}
	if slices.Contains(steps, from) || house && step == "sendout" {
		return slices.ContainsFunc([]string{"store", "blob", "media", "queue", "passwords", "outlets", "pieces", "looking",
			"renditions", "mail", "sealing"}, func(a string) bool { return within(to, a) })
	}
	return false
}

func TestImportsRunDownwardOnly(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}{{range .Imports}} {{.}}{{end}}`, "brightsatchel/internal/...").Output()
	require.NoError(t, err)
	checked := 0
	for line := range strings.Lines(string(out)) {
		packages := strings.Fields(line)
		from := strings.TrimPrefix(packages[0], module+"internal/")
		for _, imported := range packages[1:] {
			if !strings.HasPrefix(imported, module+"internal/") {
				continue
			}
			to := strings.TrimPrefix(imported, module+"internal/")
			assert.True(t, mayImport(from, to), "%s must not import %s", from, to)
			checked++
		}
	}
	assert.Greater(t, checked, 40)
}

func TestTheRulesForImportsCanFail(t *testing.T) {
	for _, wrong := range [][2]string{{"core/outputs", "store"}, {"filing", "gathering"}, {"store", "queue"}, {"media", "store"},
		{"sendout/posting", "web"}, {"somewhere", "store"}, {"sendout/rehearsals", "sendout/posting"}, {"sendout/shelving", "sendout/rehearsals"},
		{"filing/attic", "store"}, {"store", "store/assetstore"},
		{"store/assetstore", "queue"}} {
		assert.False(t, mayImport(wrong[0], wrong[1]), "%v", wrong)
	}
}

func TestTheCoreKnowsNoDiskDatabaseOrNetwork(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}{{range .Imports}} {{.}}{{end}}`,
		"brightsatchel/internal/core/...").Output()
	require.NoError(t, err)
	for line := range strings.Lines(string(out)) {
		packages := strings.Fields(line)
		for _, imported := range packages[1:] {
			assert.NotContains(t, []string{"os", "net", "net/http", "database/sql", "os/exec"}, imported, packages[0])
		}
	}
}
