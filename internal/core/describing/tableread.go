package describing

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"brightsatchel/internal/core/fault"
)

// decoded is the text of a file that some spreadsheet wrote: UTF-16 where it says so, UTF-8 where it is that, else Windows-1252.
func decoded(data []byte) (text, warning string, err error) {
	switch {
	case len(data) >= 2 && (data[0] == 0xfe && data[1] == 0xff || data[0] == 0xff && data[1] == 0xfe):
		out, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder().Bytes(data)
		if err != nil {
			return "", "", fault.Invalidf("table", "The file says that it is UTF-16, and is not.")
		}
		text = string(out)
	case utf8.Valid(data):
		text = strings.TrimPrefix(string(data), "\ufeff")
	default:
		out, err := charmap.Windows1252.NewDecoder().Bytes(data)
		if err != nil {
			return "", "", fault.Invalidf("table", "How the file's characters are encoded is not clear. Save it as CSV UTF-8.")
		}
		text, warning = string(out), "The file is not UTF-8, so its letters were read as Windows-1252. Look at those with accents."
	}
	if strings.ContainsRune(text, 0) {
		return "", "", fault.Invalidf("table", "The file is not a table: it holds bytes that no text has. Save it as CSV UTF-8.")
	}
	return text, warning, nil
}

// longestCell is how many characters a cell may have; the longest field has fewer.
const longestCell = 20_000

func (t *Table) readCSV(text string) error {
	reader := csv.NewReader(strings.NewReader(text))
	reader.Comma = separatorOf(text)
	reader.FieldsPerRecord = -1
	head, err := reader.Read()
	if err != nil {
		return unreadable(err)
	}
	columns, err := t.columnsOf(head)
	if err != nil {
		return err
	}
	if reader.Comma != ',' {
		name := map[rune]string{';': "semicolons", '\t': "tabs"}[reader.Comma]
		t.Warnings = append(t.Warnings, "The cells were read as separated by "+name+".")
	}
	for {
		cells, err := reader.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return unreadable(err)
		}
		line, _ := reader.FieldPos(0)
		if !slices.ContainsFunc(cells, func(cell string) bool { return strings.TrimSpace(cell) != "" }) {
			continue // a spreadsheet leaves empty lines
		}
		if len(cells) > len(columns) && slices.ContainsFunc(cells[len(columns):], func(c string) bool { return c != "" }) {
			return fault.Invalidf("table", "Line %d has %d cells and the head only %d. Is a separator missing its quotation marks?", line,
				len(cells), len(columns))
		}
		row := Row{Number: line, Words: map[string]string{}}
		for i, name := range columns[:min(len(columns), len(cells))] {
			if utf8.RuneCountInString(cells[i]) > longestCell {
				return fault.Invalidf("table", "Line %d has a cell of more than %d characters.", line, longestCell)
			}
			row.set(name, unguarded(cells[i]))
		}
		if err := t.add(row); err != nil {
			return err
		}
	}
}

func (r *Row) set(column, text string) {
	switch column {
	case "":
	case CodeColumn:
		r.Code = strings.TrimSpace(text)
	case FileNameColumn:
		r.FileName = text
	case TagsColumn:
		r.Tags = splitTags(text)
	default:
		r.Words[column] = text
	}
}

// separatorOf is the sign that separates the columns of the head.
func separatorOf(text string) rune {
	head, _, _ := strings.Cut(text, "\n")
	most, best := 0, ','
	for _, sign := range ",;\t" {
		if n := strings.Count(head, string(sign)); n > most {
			most, best = n, sign
		}
	}
	return best
}

func unreadable(err error) error {
	var wrong *csv.ParseError
	if errors.As(err, &wrong) {
		return fault.Invalidf("table", "Line %d cannot be read: a quotation mark is missing or too many.", wrong.Line)
	}
	return fault.Invalidf("table", "The table cannot be read: %v.", err)
}

func (t *Table) readJSON(text string) error {
	decoder := json.NewDecoder(strings.NewReader(text))
	if start, err := decoder.Token(); err != nil || start != json.Delim('[') {
		return fault.Invalidf("table", "The JSON is not a list of items.")
	}
	seen := []string{}
	entries := []map[string]json.RawMessage{}
	for decoder.More() {
		var entry map[string]json.RawMessage
		if err := decoder.Decode(&entry); err != nil {
			return fault.Invalidf("table", "Entry %d of the JSON cannot be read: it must be an object of texts.", len(entries)+1)
		}
		if len(entry) > mostColumns {
			return fault.Invalidf("table", "Entry %d has %d names; up to %d are read.", len(entries)+1, len(entry), mostColumns)
		}
		if len(entries) == MostRows {
			return fault.Invalidf("table", "The table has more than %d rows. Bring it back in parts.", MostRows)
		}
		entries = append(entries, entry)
		for name := range entry {
			if !slices.Contains(seen, name) {
				if seen = append(seen, name); len(seen) > mostColumns {
					return fault.Invalidf("table", "The entries have more than %d different names.", mostColumns)
				}
			}
		}
	}
	if _, err := decoder.Token(); err != nil {
		return fault.Invalidf("table", "The JSON ends too early.")
	}
	slices.Sort(seen)
	columns, err := t.columnsOf(seen)
	if err != nil {
		return err
	}
	for i, entry := range entries {
		row := Row{Number: i + 1, Words: map[string]string{}}
		for j, name := range seen {
			raw, has := entry[name]
			if !has || columns[j] == "" {
				continue
			}
			if err := row.setJSON(columns[j], raw); err != nil {
				return err
			}
		}
		if err := t.add(row); err != nil {
			return err
		}
	}
	return nil
}

func (r *Row) setJSON(column string, raw json.RawMessage) error {
	if column == TagsColumn {
		tags := []string{}
		if json.Unmarshal(raw, &tags) != nil {
			return fault.Invalidf("table", "The tags of entry %d are not a list of texts.", r.Number)
		}
		r.Tags = tags
		return nil
	}
	var text string
	if json.Unmarshal(raw, &text) != nil {
		return fault.Invalidf("table", "“%s” of entry %d is not a text.", column, r.Number)
	}
	if utf8.RuneCountInString(text) > longestCell || strings.ContainsRune(text, 0) {
		return fault.Invalidf("table", "“%s” of entry %d is no text of at most %d characters.", column, r.Number, longestCell)
	}
	r.set(column, text)
	return nil
}
