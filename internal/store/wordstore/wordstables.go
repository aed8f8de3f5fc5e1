package wordstore

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/tagstore"
)

// RowsOfTable reads the rows of items as a table of words says them, in the order of the ids.
func RowsOfTable(ctx context.Context, r store.Reader, ids []int64) ([]TableItem, error) {
	return rowsOfTable(ctx, r, `unnest($1::bigint[]) with ordinality u(id, n) join asset a on a.id = u.id`, "u.n", ids)
}

// TableItem is an item as a row of a table. May says whether the viewer may describe it, where that was asked.
type TableItem struct {
	ID  int64
	May bool
	describing.Row
}

// TableItems reads the items with some codes that the viewer may look at, by code. Items in the bin are none.
func TableItems(ctx context.Context, r store.Reader, v *access.Viewer, codes []string) (map[string]TableItem, error) {
	look := store.Clause{From: "from asset a"}
	look.And("a.code = any(%s)", codes)
	look.And("a.brand_id = %s and a.binned_at is null", v.Brand)
	look.Within(v.May(access.Look))
	ids, err := store.List[int64](ctx, r, "select a.id "+look.SQL(), look.Args...)
	if err != nil {
		return nil, err
	}
	may := store.Clause{From: "from asset a"}
	may.And("a.id = any(%s)", ids)
	may.Within(v.May(access.Describe))
	mine, err := store.List[int64](ctx, r, "select a.id "+may.SQL(), may.Args...)
	if err != nil {
		return nil, err
	}
	found, err := rowsOfTable(ctx, r, `unnest($1::bigint[]) u(id) join asset a on a.id = u.id`, "a.id", ids)
	out := make(map[string]TableItem, len(found))
	slices.Sort(mine)
	for _, row := range found {
		_, row.May = slices.BinarySearch(mine, row.ID)
		out[row.Code] = row
	}
	return out, err
}

func rowsOfTable(ctx context.Context, r store.Reader, from, order string, ids []int64) ([]TableItem, error) {
	var texts []string
	for _, f := range describing.Fields {
		texts = append(texts, wordColumns[f.Name].read)
	}
	rows, err := store.List[struct {
		ID       int64               `db:"id"`
		Code     string              `db:"code"`
		FileName string              `db:"file_name"`
		Words    store.Array[string] `db:"words"`
		Tags     store.Array[string] `db:"tags"`
	}](ctx, r, `select a.id, a.code, a.file_name, array[`+strings.Join(texts, ", ")+`]::text[] as words,
			array(select t.name from asset_tag x join tag t on t.id = x.tag_id where x.asset_id = a.id and `+tagstore.LivingTag+`
				order by t.name collate natural_name) as tags
		from `+from+` order by `+order, ids)
	out := make([]TableItem, len(rows))
	for i, row := range rows {
		out[i] = TableItem{ID: row.ID, Row: describing.Row{Number: i + 1, Code: row.Code, FileName: row.FileName,
			Words: make(map[string]string, len(describing.Fields)), Tags: append([]string{}, row.Tags...)}}
		for j, f := range describing.Fields {
			out[i].Words[f.Name] = row.Words[j]
		}
	}
	return out, err
}

// TagSpellings reads to which tag of a brand each name leads, by the name in small letters.
func TagSpellings(ctx context.Context, r store.Reader, brand int64) (map[string]string, error) {
	rows, err := store.List[struct {
		Name string `db:"name"`
		Tag  string `db:"tag"`
	}](ctx, r, `select lower(t.name) as name, coalesce(m.name, t.name) as tag from tag t left join tag m on m.id = t.merged_into
		where t.brand_id = $1 and t.removed_at is null`, brand)
	out := make(map[string]string, len(rows))
	for _, row := range rows {
		out[row.Name] = row.Tag
	}
	return out, err
}

// WordsTable is a table of words that somebody brought back. Read of its Of rows are compared; Counts says how many rows there are of
// each state. Why says what is against it, where it is refused.
type WordsTable struct {
	ID       int64               `db:"id"`
	Name     string              `db:"name"`
	Made     time.Time           `db:"made_at"`
	State    TableState          `db:"state"`
	Read     int                 `db:"rows_read"`
	Of       int                 `db:"rows_of"`
	Why      string              `db:"why"`
	Warnings store.Array[string] `db:"warnings"`
	NewTags  store.Array[string] `db:"new_tags"`
	Counts   map[RowState]int
}

// TableState says how far a table is.
type TableState string

// The states of tables.
const (
	TableReading TableState = "reading"
	TableReady   TableState = "ready"
	TableRefused TableState = "refused"
)

// RowState says what comes of a row of a table.
type RowState string

// The states of rows. A row with something wrong changes nothing.
const (
	RowChanges   RowState = "changes"
	RowSame      RowState = "same"
	RowWrong     RowState = "wrong"
	RowUnknown   RowState = "unknown"
	RowForbidden RowState = "forbidden"
)

// WordsRow is a row of a table with what it changes.
type WordsRow struct {
	Number   int
	Asset    int64 // 0 where there is none
	Code     string
	FileName string
	State    RowState
	Changes  []describing.CellChange
	Problems []describing.CellProblem
}

// AddWordsTable keeps the bytes of a table that is to be read. Those that the same person brought into the brand before are forgotten.
func AddWordsTable(ctx context.Context, tx *store.Tx, v *access.Viewer, name string, data []byte) (int64, error) {
	if _, err := tx.ExecContext(ctx, `delete from words_table where brand_id = $1 and person_id = $2`, v.Brand, v.Person); err != nil {
		return 0, err
	}
	return store.Get[int64](ctx, tx, "", `insert into words_table (brand_id, person_id, name, warnings, new_tags, state, data)
		values ($1, $2, $3, '{}', '{}', 'reading', $4) returning id`, v.Brand, v.Person, name, data)
}

// UnreadTable is a table that is to be read, and whose it is.
type UnreadTable struct {
	Brand  int64  `db:"brand_id"`
	Person int64  `db:"person_id"`
	Data   []byte `db:"data"`
}

// TableToRead finds a table that is to be read; there is none where it was read, or another was brought back meanwhile.
func TableToRead(ctx context.Context, r store.Reader, id int64) (UnreadTable, error) {
	return store.Get[UnreadTable](
		ctx,
		r,
		tableMissing,
		`select brand_id, person_id, data from words_table where id = $1 and state = 'reading'`,
		id,
	)
}

// ReadTableAnew forgets what was compared of a table by somebody who was stopped in it, and says how many rows it has.
func ReadTableAnew(ctx context.Context, tx *store.Tx, id int64, rows int) error {
	if _, err := tx.ExecContext(ctx, `delete from words_row where table_id = $1`, id); err != nil {
		return err
	}
	return tableGoesOn(ctx, tx, id, `rows_read = 0, rows_of = $2`, rows)
}

// AddRowsOfTable keeps rows of a table that were compared.
func AddRowsOfTable(ctx context.Context, tx *store.Tx, id int64, rows []WordsRow) error {
	if err := tableGoesOn(ctx, tx, id, `rows_read = rows_read + $2`, len(rows)); err != nil {
		return err
	}
	return addWordsRows(ctx, tx, id, rows)
}

// TableIsRead ends the reading of a table.
func TableIsRead(ctx context.Context, tx *store.Tx, id int64, warnings, newTags []string) error {
	return tableGoesOn(ctx, tx, id, `state = 'ready', data = null, warnings = $2, new_tags = $3`, append([]string{}, warnings...),
		append([]string{}, newTags...))
}

// RefuseTable ends the reading of a table that cannot be read.
func RefuseTable(ctx context.Context, db *store.DB, id int64, why string) error {
	_, err := db.ExecContext(ctx, `update words_table set state = 'refused', data = null, why = $2 where id = $1
		and state = 'reading'`, id, why)
	return err
}

// tableGoesOn changes a table that is being read; it is missing where another was brought back meanwhile.
func tableGoesOn(ctx context.Context, tx *store.Tx, id int64, change string, args ...any) error {
	_, err := store.Get[int64](ctx, tx, tableMissing, `update words_table set `+change+` where id = $1 and state = 'reading' returning id`,
		append([]any{id}, args...)...)
	return err
}

func addWordsRows(ctx context.Context, tx *store.Tx, table int64, rows []WordsRow) error {
	n := len(rows)
	numbers, assets := make([]int, n), make([]int64, n)
	codes, names, states, changes, problems := make([]string, n), make([]string, n), make([]string, n), make([]string, n), make([]string, n)
	for i, r := range rows {
		numbers[i], assets[i], codes[i], names[i], states[i] = r.Number, r.Asset, r.Code, r.FileName, string(r.State)
		for at, value := range map[*string]any{&changes[i]: r.Changes, &problems[i]: r.Problems} {
			text, err := json.Marshal(value)
			if err != nil {
				return err
			}
			*at = string(text)
		}
	}
	_, err := tx.ExecContext(ctx, `insert into words_row (table_id, number, asset_id, code, file_name, state, changes, problems)
		select $1, n, nullif(a, 0), c, f, s, ch::jsonb, p::jsonb from unnest($2::int[], $3::bigint[], $4::text[], $5::text[], $6::text[],
		$7::text[], $8::text[]) as u(n, a, c, f, s, ch, p)`, table, numbers, assets, codes, names, states, changes, problems)
	return err
}

const tableMissing = "There is no such table any more. Bring it back again."

const wordsTableColumns = `id, name, made_at, state, rows_read, rows_of, why, warnings, new_tags`

// TableApplied notes that what a table changes is being done.
func TableApplied(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `update words_table set applied_at = now() where id = $1`, id)
	return err
}

// LatestWordsTable is the id of the table that the viewer brought back last and did not apply, 0 where there is none.
func LatestWordsTable(ctx context.Context, r store.Reader, v *access.Viewer) (int64, error) {
	return store.Get[int64](ctx, r, "", `select coalesce(max(id), 0) from words_table where brand_id = $1 and person_id = $2
		and applied_at is null`, v.Brand, v.Person)
}

// WordsTableOf reads a table that the viewer brought back.
func WordsTableOf(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (WordsTable, error) {
	t, err := store.Get[WordsTable](ctx, r, tableMissing, `select `+wordsTableColumns+` from words_table
		where id = $1 and brand_id = $2 and person_id = $3`, id, v.Brand, v.Person)
	if err != nil {
		return t, err
	}
	counts, err := store.List[struct {
		State RowState `db:"state"`
		N     int      `db:"n"`
	}](ctx, r, `select state, count(*) as n from words_row where table_id = $1 group by state`, id)
	t.Counts = map[RowState]int{}
	for _, c := range counts {
		t.Counts[c.State] = c.N
	}
	return t, err
}

type wordsRow struct {
	Number   int      `db:"number"`
	Asset    int64    `db:"asset_id"`
	Code     string   `db:"code"`
	FileName string   `db:"file_name"`
	State    RowState `db:"state"`
	Changes  []byte   `db:"changes"`
	Problems []byte   `db:"problems"`
}

const wordsRowColumns = `select number, coalesce(asset_id, 0) as asset_id, code, file_name, state, changes, problems from words_row `

// WordsRows lists rows of a table after a number, of one state or all.
func WordsRows(ctx context.Context, r store.Reader, table int64, state RowState, after, most int) ([]WordsRow, error) {
	return wordsRows(ctx, r, wordsRowColumns+`where table_id = $1 and number > $2 and ($3 = '' or state = $3) order by number limit $4`,
		table, after, string(state), most)
}

// ChangingRows lists the rows of a table that change some items.
func ChangingRows(ctx context.Context, r store.Reader, table int64, assets []int64) ([]WordsRow, error) {
	return wordsRows(ctx, r, wordsRowColumns+`where table_id = $1 and state = 'changes' and asset_id = any($2)`, table, assets)
}

// ChangingAssets lists the items that a table changes, in the order of its rows.
func ChangingAssets(ctx context.Context, r store.Reader, table int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select asset_id from words_row where table_id = $1 and state = 'changes' order by number`, table)
}

func wordsRows(ctx context.Context, r store.Reader, query string, args ...any) ([]WordsRow, error) {
	rows, err := store.List[wordsRow](ctx, r, query, args...)
	if err != nil {
		return nil, err
	}
	out := make([]WordsRow, len(rows))
	for i, row := range rows {
		out[i] = WordsRow{Number: row.Number, Asset: row.Asset, Code: row.Code, FileName: row.FileName, State: row.State}
		if err := json.Unmarshal(row.Changes, &out[i].Changes); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(row.Problems, &out[i].Problems); err != nil {
			return nil, err
		}
	}
	return out, nil
}
