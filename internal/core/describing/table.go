package describing

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"brightsatchel/internal/core/fault"
)

// Columns of a table beside those of Fields. The code says which item a row is about; the file name is there to be read.
const (
	CodeColumn     = "code"
	FileNameColumn = "fileName"
	TagsColumn     = "tags"
)

// Row is the words of one item in a table: texts by the names of fields, and tags. Words holds only the columns that a table has.
// Tags is nil where it has no column of tags.
type Row struct {
	Number         int // of the line or, in JSON, of the entry; from 1
	Code, FileName string
	Words          map[string]string
	Tags           []string
}

// Table is the words of items in rows, as it was read.
type Table struct {
	Fields   []string // those that it has columns for, in its order
	Tags     bool     // whether it has a column of tags
	Rows     []Row
	Warnings []string // what was read otherwise than one might think, in words
}

// Limits of a table that comes in.
const (
	MostRows    = 100_000
	MostBytes   = 32 << 20
	mostColumns = 100
)

// A TableWriter writes rows as CSV (RFC 4180, UTF-8 with the mark that spreadsheets know it by) or as a JSON array.
type TableWriter struct {
	out    io.Writer
	csv    *csv.Writer
	rows   int
	isJSON bool
}

// NewTableWriter begins a table.
func NewTableWriter(out io.Writer, asJSON bool) (*TableWriter, error) {
	w := &TableWriter{out: out, isJSON: asJSON}
	if asJSON {
		_, err := io.WriteString(out, "[")
		return w, err
	}
	if _, err := io.WriteString(out, "\ufeff"); err != nil {
		return nil, err
	}
	w.csv = csv.NewWriter(out)
	w.csv.UseCRLF = true
	return w, w.csv.Write(columns())
}

func columns() []string {
	out := []string{CodeColumn, FileNameColumn}
	for _, f := range Fields {
		out = append(out, f.Name)
	}
	return append(out, TagsColumn)
}

// Write adds a row.
func (w *TableWriter) Write(r Row) error {
	if w.isJSON {
		return w.writeJSON(r)
	}
	cells := []string{r.Code, guarded(r.FileName)}
	for _, f := range Fields {
		cells = append(cells, guarded(r.Words[f.Name]))
	}
	return w.csv.Write(append(cells, guarded(joinTags(r.Tags))))
}

func (w *TableWriter) writeJSON(r Row) error {
	entry := map[string]any{CodeColumn: r.Code, FileNameColumn: r.FileName, TagsColumn: append([]string{}, r.Tags...)}
	for _, f := range Fields {
		entry[f.Name] = r.Words[f.Name]
	}
	text, err := json.Marshal(entry)
	if err != nil {
		return err
	}
	before := "\n"
	if w.rows++; w.rows > 1 {
		before = ",\n"
	}
	_, err = io.WriteString(w.out, before+string(text))
	return err
}

// Close ends the table.
func (w *TableWriter) Close() error {
	if w.isJSON {
		_, err := io.WriteString(w.out, "\n]\n")
		return err
	}
	w.csv.Flush()
	return w.csv.Error()
}

// guarded keeps a spreadsheet from running a text as a formula: one that begins with a sign of formulas gets an apostrophe in front,
// as does one that begins with apostrophes and such a sign, so that unguarded gives back exactly what was there.
func guarded(text string) string {
	text = oneEnd(text)
	if runs(text) {
		return "'" + text
	}
	return text
}

func unguarded(text string) string {
	if strings.HasPrefix(text, "'") && runs(text) {
		return text[1:]
	}
	return text
}

func runs(text string) bool {
	rest := strings.TrimLeft(text, "'")
	return rest != "" && strings.ContainsRune("=+-@\t\n", rune(rest[0]))
}

// joinTags writes tags with semicolons between them. A semicolon in a name is written twice.
func joinTags(tags []string) string {
	out := make([]string, len(tags))
	for i, tag := range tags {
		out[i] = strings.ReplaceAll(tag, ";", ";;")
	}
	return strings.Join(out, "; ")
}

// splitTags reads what joinTags writes, and whatever somebody types between semicolons.
func splitTags(text string) []string {
	out := []string{}
	const inside = "\x00"
	for _, tag := range strings.Split(strings.ReplaceAll(text, ";;", inside), ";") {
		if tag = strings.TrimSpace(strings.ReplaceAll(tag, inside, ";")); tag != "" {
			out = append(out, tag)
		}
	}
	return out
}

// ReadTable reads a table in CSV or JSON, by what it begins with. CSV may be UTF-8, UTF-16 or Windows-1252, with commas, semicolons
// or tabs. What cannot be read at all is *fault.Invalid with the line; what is wrong with single cells is for the comparison to say.
func ReadTable(data []byte) (*Table, error) {
	if len(data) > MostBytes {
		return nil, fault.Invalidf("table", "The table has more than %d MB. Bring it back in parts.", MostBytes>>20)
	}
	text, warning, err := decoded(data)
	if err != nil {
		return nil, err
	}
	t := &Table{}
	if warning != "" {
		t.Warnings = append(t.Warnings, warning)
	}
	switch first := strings.TrimSpace(text); {
	case first == "":
		return nil, fault.Invalidf("table", "The file is empty.")
	case strings.HasPrefix(first, "[") || strings.HasPrefix(first, "{"):
		err = t.readJSON(first)
	default:
		err = t.readCSV(text)
	}
	if err == nil && len(t.Rows) == 0 {
		err = fault.Invalidf("table", "The table has no rows below its head.")
	}
	return t, err
}

func (t *Table) add(r Row) error {
	if len(t.Rows) == MostRows {
		return fault.Invalidf("table", "The table has more than %d rows. Bring it back in parts.", MostRows)
	}
	t.Rows = append(t.Rows, r)
	return nil
}

var joined = strings.NewReplacer(" ", "", "_", "", "-", "")

// columnsOf reads the head of a table: what each column is, "" for one that is not known.
func (t *Table) columnsOf(head []string) ([]string, error) {
	if len(head) > mostColumns {
		return nil, fault.Invalidf("table", "The table has %d columns; up to %d are read.", len(head), mostColumns)
	}
	out := make([]string, len(head))
	known := map[string]string{}
	for _, name := range columns() {
		known[strings.ToLower(name)] = name
	}
	for _, f := range Fields {
		known[strings.ReplaceAll(f.Label, " ", "")] = f.Name
	}
	seen := map[string]bool{}
	var strange []string
	for i, text := range head {
		bare := joined.Replace(strings.ToLower(unguarded(strings.TrimSpace(text))))
		name := known[bare]
		switch {
		case name == "" && bare != "":
			strange = append(strange, firstLetters(text, 40))
		case name != "" && seen[name]:
			return nil, fault.Invalidf("table", "The table has two columns called “%s”.", name)
		}
		seen[name], out[i] = true, name
	}
	if !seen[CodeColumn] {
		return nil, fault.Invalidf("table", "The table has no column “code”, which says what each row is about. Its head must be kept.")
	}
	for _, f := range Fields {
		if seen[f.Name] {
			t.Fields = append(t.Fields, f.Name)
		}
	}
	t.Tags = seen[TagsColumn]
	if len(strange) > 0 {
		if len(strange) > 5 {
			strange = append(strange[:5], "…")
		}
		t.Warnings = append(t.Warnings, fmt.Sprintf("Columns that mean nothing here are left out: %s.", strings.Join(strange, ", ")))
	}
	return out, nil
}

func firstLetters(text string, most int) string {
	letters := []rune(text)
	return string(letters[:min(most, len(letters))])
}
