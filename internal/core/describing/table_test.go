package describing

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"pgregory.net/rapid"
)

func asIs(name string) string { return name }

func written(t require.TestingT, asJSON bool, rows ...Row) []byte {
	var out bytes.Buffer
	w, err := NewTableWriter(&out, asJSON)
	require.NoError(t, err)
	for _, r := range rows {
		require.NoError(t, w.Write(r))
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

// TestATableOutAndInChangesNothing writes any words and reads them again, in both forms.
func TestATableOutAndInChangesNothing(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		text := rapid.StringOf(rapid.RuneFrom([]rune("aZé=+-@\r'\";,\n\t 😀風\u200f0/:")))
		rows := make([]Row, rapid.IntRange(1, 4).Draw(rt, "rows"))
		for i := range rows {
			code := rapid.StringMatching(`[A-Za-z0-9]{16}`).Draw(rt, "code")
			rows[i] = Row{Code: code, FileName: "a.jpg", Words: map[string]string{}, Tags: []string{}}
			for _, f := range Fields {
				rows[i].Words[f.Name] = text.Draw(rt, f.Name)
			}
			tag := rapid.StringMatching(`[=+;,a-d']([;, =+a-d]{0,4}[a-d])?`)
			for _, tag := range rapid.SliceOfNDistinct(tag, 0, 4, rapid.ID[string]).Draw(rt, "tags") {
				if tag = strings.Join(strings.Fields(tag), " "); tag != "" {
					rows[i].Tags = append(rows[i].Tags, tag)
				}
			}
		}
		for _, asJSON := range []bool{false, true} {
			table, err := ReadTable(written(rt, asJSON, rows...))
			require.NoError(rt, err)
			require.Empty(rt, table.Warnings)
			require.Len(rt, table.Rows, len(rows))
			for i, row := range table.Rows {
				require.Equal(rt, rows[i].Code, row.Code)
				changes, problems := row.Compare(rows[i], asIs)
				require.Empty(rt, changes)
				require.Empty(rt, problems)
			}
		}
	})
}

func TestNoSpreadsheetRunsWhatIsWritten(t *testing.T) {
	for _, formula := range []string{"=1+1", "+1", "-1", "@SUM(A1)", "\t=1", "'=1", "\r=1", "\n=1"} {
		data := written(t, false, Row{Code: "c", FileName: formula, Words: map[string]string{"title": formula}, Tags: []string{formula}})
		cells, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(data, []byte("\ufeff")))).ReadAll()
		require.NoError(t, err)
		for _, cell := range cells[1][1:] {
			assert.True(t, cell == "" || cell[0] == '\'', "%q", cell)
		}
	}
	table, err := ReadTable([]byte("code,title\nc,=1+1\n"))
	require.NoError(t, err)
	assert.Equal(t, "=1+1", table.Rows[0].Words["title"], "is text")
}

func TestWhatSpreadsheetsWrite(t *testing.T) {
	plain := "Code;Alt text;Tags;Colour\r\nabc;\"Ein Drachen; über Köln\";\"Wind;Sand; \";blau\r\n;;;\r\n"
	western, err := charmap.Windows1252.NewEncoder().String(plain)
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(strings.ReplaceAll(plain, ";", "\t"))
	require.NoError(t, err)
	for name, test := range map[string]struct {
		text     string
		tags     []string
		warnings int
	}{
		"UTF-8": {plain, []string{"Wind", "Sand"}, 2}, "with a mark": {"\ufeff" + plain, []string{"Wind", "Sand"}, 2},
		"Windows-1252": {western, []string{"Wind", "Sand"}, 3}, "UTF-16 with tabs": {wide, []string{"Wind\tSand"}, 2},
	} {
		table, err := ReadTable([]byte(test.text))
		require.NoError(t, err, name)
		require.Len(t, table.Rows, 1, name)
		assert.Len(t, table.Warnings, test.warnings, "%s: %v", name, table.Warnings)
		assert.Contains(t, strings.Join(table.Warnings, " "), "Colour", name)
		assert.Equal(t, "abc", table.Rows[0].Code, name)
		assert.Contains(t, table.Rows[0].Words["alt"], "über Köln", name)
		assert.Equal(t, []string{"alt"}, table.Fields, name)
		assert.Equal(t, 2, table.Rows[0].Number, name)
	}
}

func TestTablesThatCannotBeRead(t *testing.T) {
	for text, says := range map[string]string{
		"": "empty", " \n": "empty", "title\nx\n": "no column “code”", "code,title\n": "no rows", "code,title,Title\na,b,c\n": "two columns",
		"code,title\na,\"b\n": "Line", "code\na,b\n": "Line 2 has 2 cells", "code\n\"a\"b\n": "Line 2 cannot be read",
		"PK\x03\x04\x00": "not a table", "[1]": "Entry 1", `{"code":"a"}`: "not a list", `[{"code":1}]`: "“code” of entry 1",
		`[{"code":"a","tags":"b"}]`: "tags of entry 1", `[{"code":"a"}`: "too early", `[]`: "no column",
		"code,title\na," + strings.Repeat("x", longestCell+1) + "\n": "Line 2 has a cell",
		"code\n" + strings.Repeat("a\n", MostRows+1):                 "more than 100000 rows",
		"code" + strings.Repeat(",x", 1_000_000) + "\na\n":           "1000001 columns",
		"[{" + manyNames(200) + `"code":"a"}]`:                       "up to 100 are read",
	} {
		_, err := ReadTable([]byte(text))
		assert.ErrorContains(t, err, says, firstLetters(text, 40))
	}
}

func manyNames(n int) string {
	var out strings.Builder
	for i := range n {
		fmt.Fprintf(&out, `"n%d":"",`, i)
	}
	return out.String()
}

func TestWhatARowChanges(t *testing.T) {
	now := Row{Words: map[string]string{"title": "Moth", "credit": "Ada", "taken": "2026-05-17T14:03:22", "place": " odd  place"},
		Tags: []string{"Wind", "Sand"}}
	row := Row{Words: map[string]string{"title": "Moth kite ", "credit": "", "taken": "17 May", "place": " odd  place"},
		Tags: []string{"sand", "Sea", "SAND"}}
	changes, problems := row.Compare(now, func(name string) string {
		if strings.EqualFold(name, "sand") {
			return "Sand"
		}
		return name
	})
	assert.Equal(t, []CellChange{{"title", "Moth", "Moth kite"}, {"credit", "Ada", ""}, {"tags", "Wind; Sand", "Sand; Sea"}}, changes)
	require.Len(t, problems, 1)
	assert.Equal(t, "taken", problems[0].Field)
	row.Tags = nil
	changes, _ = row.Compare(now, asIs)
	assert.Len(t, changes, 2, "without a column of tags they stay")
}
