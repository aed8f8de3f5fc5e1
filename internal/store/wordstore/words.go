// Package wordstore keeps what is said of assets: titles, descriptions, dates, and tables of them.
package wordstore

import (
	"context"
	"database/sql"
	"fmt"
	"strings"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// wordColumn says how one of the words of an item is kept: the column in which it is (of coordinates the first), how it is
// read as text from asset a, and how it is written from the text w.text.
type wordColumn struct{ column, read, write string }

// wordColumns are the columns of describing.Fields, by their names.
var wordColumns = map[string]wordColumn{
	"title": plain("title"), "alt": plain("alt"), "description": plain("description"), "credit": plain("credit"),
	"copyright": plain("copyright"), "usageTerms": plain("usage_terms"), "place": plain("place"), "takenZone": plain("captured_zone"),
	"rightsUntil": {"rights_until", "coalesce(a.rights_until::text, '')", "rights_until = nullif(w.text, '')::date"},
	"taken": {"captured_at", `coalesce(to_char(a.captured_at, 'YYYY-MM-DD"T"HH24:MI:SS'), '')`,
		"captured_at = nullif(w.text, '')::timestamp"},
	"coordinates": {"latitude", "coalesce(a.latitude::text || ', ' || a.longitude::text, '')",
		`latitude = nullif(split_part(w.text, ',', 1), '')::double precision,
		longitude = nullif(trim(split_part(w.text, ',', 2)), '')::double precision`},
}

func plain(column string) wordColumn {
	return wordColumn{column: column, read: "a." + column, write: column + " = w.text"}
}

// Description is a change to the words on an item, as texts by the names of describing.Fields. Revision is what the person saw.
type Description struct {
	Revision int64
	Words    map[string]string
}

// Describe writes the fields of a description. A field that somebody else changed after the revision the person saw is a
// Conflict with both values; other people's changes to other fields do not matter. It returns how many fields changed.
func Describe(ctx context.Context, tx *store.Tx, id int64, d Description) (int, error) {
	revision, err := store.Get[int64](ctx, tx, assetstore.AssetMissing, `select revision from asset where id = $1 for no key update`, id)
	if err != nil {
		return 0, err
	}
	if d.Revision > revision {
		return 0, fault.Invalidf("revision", "Revision %d does not exist yet; the newest is %d.", d.Revision, revision)
	}
	changed := 0
	for _, field := range describing.Fields {
		to, said := d.Words[field.Name]
		if !said {
			continue
		}
		now, err := WordsOf(ctx, tx, []int64{id}, field.Name)
		if err != nil {
			return 0, err
		}
		if now[0].Text == to {
			continue
		}
		if d.Revision < revision {
			if err := staleField(ctx, tx, id, field, revision-d.Revision, to, now[0].Text); err != nil {
				return 0, err
			}
		}
		if _, err := WriteWords(ctx, tx, field.Name, []Word{{ID: id, Text: to}}); err != nil {
			return 0, err
		}
		changed++
	}
	return changed, nil
}

// staleField returns a Conflict when one of the last changes to the item, as many as the revision is behind, was to the field.
func staleField(ctx context.Context, tx *store.Tx, id int64, field describing.Field, behind int64, mine, theirs string) error {
	who, err := store.List[string](ctx, tx, `select p.name from (select * from trail_change where table_name = 'asset'
		and key @> jsonb_build_object('id', $1::bigint)
			and before is not null order by id desc limit $3) c
		join trail t on t.id = c.trail_id join person p on p.id = t.person_id where c.after ? $2 order by c.id desc limit 1`, id,
		wordColumns[field.Name].column, behind)
	if err != nil || len(who) == 0 {
		return err
	}
	return &fault.Conflict{Text: who[0] + " changed the " + field.Label + " meanwhile.", Field: field.Name, Mine: mine, Theirs: theirs,
		By: who[0]}
}

// Word is what one field of an item says.
type Word struct {
	ID   int64  `db:"id"`
	Text string `db:"text"`
}

// WordsOf reads one field of some items, in the order of the ids.
func WordsOf(ctx context.Context, r store.Reader, ids []int64, field string) ([]Word, error) {
	return store.List[Word](ctx, r, `select a.id, `+wordColumns[field].read+` as text from unnest($1::bigint[]) with ordinality u(id, n)
		join asset a on a.id = u.id order by u.n`, ids)
}

// WriteWords writes one field of some items and returns how many changed.
func WriteWords(ctx context.Context, tx *store.Tx, field string, words []Word) (int, error) {
	if len(words) == 0 {
		return 0, nil
	}
	ids, texts := make([]int64, len(words)), make([]string, len(words))
	for i, w := range words {
		ids[i], texts[i] = w.ID, w.Text
	}
	return tx.Change(ctx, `update asset a set `+wordColumns[field].write+` from unnest($1::bigint[], $2::text[]) as w(id, text)
		where a.id = w.id and `+wordColumns[field].read+` <> w.text`, ids, texts)
}

// Shared is what some items say in one field: Same is the text when they all say it, else there are so many Different ones.
// Empty is how many say nothing.
type Shared struct {
	Field     string
	Same      string
	Different int
	Empty     int
}

// SharedWords compares the words of some items, field by field. The items are read once.
func SharedWords(ctx context.Context, r store.Reader, ids []int64) ([]Shared, error) {
	var columns, compared []string
	for i, f := range describing.Fields {
		columns = append(columns, fmt.Sprintf("%s as f%d", wordColumns[f.Name].read, i))
		compared = append(compared, fmt.Sprintf(`select %d as field, count(*) as different, coalesce(min(text), '') as same,
			coalesce(sum(n) filter (where text = ''), 0) as empty from (select f%d as text, count(*) as n from those group by 1) x`, i, i))
	}
	rows, err := store.List[struct {
		Field     int    `db:"field"`
		Different int    `db:"different"`
		Same      string `db:"same"`
		Empty     int    `db:"empty"`
	}](ctx, r, `with those as materialized (select `+strings.Join(columns, ", ")+` from asset a where a.id = any($1)) `+
		strings.Join(compared, " union all ")+` order by field`, ids)
	out := make([]Shared, len(rows))
	for i, row := range rows {
		out[i] = Shared{Field: describing.Fields[i].Name, Different: row.Different, Empty: row.Empty}
		if row.Different == 1 {
			out[i].Same = row.Same
		}
	}
	return out, err
}

// Said is a text that some items have in one field, and how many.
type Said struct {
	Text  string `db:"text"`
	Items int    `db:"items"`
}

// TextsOf lists what some items say in one field, the most frequent first, at most so many.
func TextsOf(ctx context.Context, r store.Reader, ids []int64, field string, most int) ([]Said, error) {
	return store.List[Said](ctx, r, `select `+wordColumns[field].read+` as text, count(*) as items from asset a where a.id = any($1)
		group by 1 order by 2 desc, 1 limit $2`, ids, most)
}

// PatternFacts reads what patterns for titles are filled with, in the order of the ids.
func PatternFacts(ctx context.Context, r store.Reader, ids []int64) ([]describing.Facts, error) {
	rows, err := store.List[struct {
		Title    string              `db:"title"`
		FileName string              `db:"file_name"`
		Folder   string              `db:"folder"`
		Place    string              `db:"place"`
		Taken    sql.NullTime        `db:"captured_at"`
		Groups   store.Array[string] `db:"groups"`
		Tags     store.Array[string] `db:"tags"`
	}](ctx, r, `select a.title, a.file_name, coalesce(f.name, '') as folder, a.place, a.captured_at, coalesce(g.groups, '{}') as groups,
			coalesce(g.tags, '{}') as tags
		from unnest($1::bigint[]) with ordinality u(id, n) join asset a on a.id = u.id left join folder f on f.id = a.folder_id
		left join lateral (select array_agg(lower(tg.name) order by t.name) as groups, array_agg(t.name order by t.name) as tags
			from asset_tag x join tag t on t.id = x.tag_id join tag_group tg on tg.id = t.group_id where x.asset_id = a.id) g on true
		order by u.n`, ids)
	out := make([]describing.Facts, len(rows))
	for i, row := range rows {
		out[i] = describing.Facts{Title: row.Title, FileName: row.FileName, Folder: row.Folder, Place: row.Place, Tags: map[string][]string{}}
		if row.Taken.Valid {
			out[i].Taken = &row.Taken.Time
		}
		for j, group := range row.Groups {
			out[i].Tags[group] = append(out[i].Tags[group], row.Tags[j])
		}
	}
	return out, err
}
