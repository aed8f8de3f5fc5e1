package store

import (
	"flag"
	"fmt"
	"io/fs"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write docs/schema.md anew")

// areas reads the migrations: each is one area of the schema.
func areas(t *testing.T) (numbers []int64, texts []string) {
	t.Helper()
	files, err := fs.Glob(migrations, "migrations/*.sql")
	require.NoError(t, err)
	for _, file := range files {
		text, err := fs.ReadFile(migrations, file)
		require.NoError(t, err)
		number, _, _ := strings.Cut(strings.TrimPrefix(file, "migrations/"), "_")
		n, err := strconv.ParseInt(number, 10, 64)
		require.NoError(t, err)
		up, _, _ := strings.Cut(string(text), "-- +goose Down")
		numbers, texts = append(numbers, n), append(texts, strings.TrimPrefix(up, "-- +goose Up\n"))
	}
	return numbers, texts
}

func TestTheVersionKnowsItsMigrations(t *testing.T) {
	numbers, _ := areas(t)
	assert.EqualValues(t, oldest, slices.Min(numbers))
	assert.EqualValues(t, newest, slices.Max(numbers), "newest in store.go")
}

var (
	tableHead = regexp.MustCompile(`^create table (\w+)`)
	refers    = regexp.MustCompile(`references (\w+)`)
	afterward = regexp.MustCompile(`^alter table (\w+) add .*references (\w+)`)
)

// picture draws the tables of one area with what they refer to, as Mermaid's flow charts have it. Brands are left out: everything
// refers to them.
func picture(text string) string {
	var out strings.Builder
	title, _, _ := strings.Cut(text, "\n")
	var inside, arrows []string
	table := ""
	arrow := func(from, to string) {
		if line := fmt.Sprintf("  %s --> %s\n", from, to); to != "brand" && !slices.Contains(arrows, line) {
			arrows = append(arrows, line)
		}
	}
	for line := range strings.Lines(text) {
		if m := tableHead.FindStringSubmatch(line); m != nil {
			table = m[1]
			inside = append(inside, table)
		}
		if m := afterward.FindStringSubmatch(line); m != nil {
			arrow(m[1], m[2])
			continue
		}
		for _, m := range refers.FindAllStringSubmatch(line, -1) {
			arrow(table, m[1])
		}
	}
	title = strings.TrimSuffix(strings.TrimPrefix(title, "-- "), ".")
	fmt.Fprintf(&out, "## %s\n\n```mermaid\nflowchart LR\n  subgraph here [\" \"]\n", title)
	for _, name := range inside {
		fmt.Fprintf(&out, "    %s\n", name)
	}
	out.WriteString("  end\n" + strings.Join(arrows, "") + "```\n")
	return out.String()
}

// TestThePictureOfTheTablesIsCurrent: docs/schema.md is made from the migrations. `go test ./internal/store -run Picture -update`
// writes it.
func TestThePictureOfTheTablesIsCurrent(t *testing.T) {
	_, texts := areas(t)
	out := "# The tables\n\nMade from `internal/store/migrations`, one picture an area; an arrow is a reference. Every table refers to its " +
		"brand, which is\nleft out. What is told, recorded and fed of each is in `internal/store/tracked.go`.\n"
	for _, text := range texts[1:] { // the first is the ground
		out += "\n" + picture(text)
	}
	const file = "../../docs/schema.md"
	if *update {
		require.NoError(t, os.WriteFile(file, []byte(out), 0o644))
	}
	now, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, out, string(now), "write it anew: go test ./internal/store -run Picture -update")
}
