package albumstore

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
)

// AlbumRule is the rule of an album as it is kept.
type AlbumRule struct{ query.Rule }

// Scan implements sql.Scanner.
func (r *AlbumRule) Scan(value any) error {
	switch text := value.(type) {
	case []byte:
		return json.Unmarshal(text, &r.Rule)
	case string:
		return json.Unmarshal([]byte(text), &r.Rule)
	}
	return fmt.Errorf("the rule of an album cannot be read from a %T", value)
}

// RuleOf is the rule that keeps an album filled; false says that there is none.
func (a *Album) RuleOf() (query.RuleAlbum, bool) {
	if a.Kept == nil {
		return query.RuleAlbum{}, false
	}
	return query.RuleAlbum{Rule: a.Kept.Rule, Pick: a.Pick}, true
}

// RuleAlbums reads the rules of the albums of a brand, with their words as they are looked for.
func RuleAlbums(ctx context.Context, r store.Reader, brand int64) (map[int64]query.RuleAlbum, error) {
	rows, err := store.List[Album](ctx, r, `select id, rule, pick from album where brand_id = $1 and rule is not null`, brand)
	out := make(map[int64]query.RuleAlbum, len(rows))
	for i := range rows {
		by, _ := rows[i].RuleOf()
		if err := store.Normalise(ctx, r, &by.Rule); err != nil {
			return nil, err
		}
		out[rows[i].ID] = by
	}
	return out, err
}

// SetAlbumRule has an album kept filled by a rule. Nothing may have been put in it by hand.
func SetAlbumRule(ctx context.Context, tx *store.Tx, brand, album int64, by query.RuleAlbum) error {
	rules, err := RuleAlbums(ctx, tx, brand)
	if err != nil {
		return err
	}
	if err := (&query.World{Rules: rules}).CheckAlbum(&by, album); err != nil {
		return err
	}
	n, err := store.Get[int](ctx, tx, "", `select count(*) from album_item where album_id = $1`, album)
	if err != nil {
		return err
	}
	if n > 0 {
		return fault.Invalidf("rule", "Items were put into this album by hand. Make another one for the rule.")
	}
	text, err := json.Marshal(by.Rule)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update album set rule = $2, pick = $3 where id = $1`, album, string(text), by.Pick)
	return err
}

// KeptByRule says whether a rule keeps an album filled, so that it has no order made by hand.
func KeptByRule(ctx context.Context, r store.Reader, album int64) (bool, error) {
	found, err := store.List[bool](ctx, r, `select rule is not null from album where id = $1`, album)
	return len(found) > 0 && found[0], err
}

// byHand refuses what people do by hand to an album that a rule keeps filled.
func byHand(ctx context.Context, tx *store.Tx, album int64) error {
	if by, err := KeptByRule(ctx, tx, album); err != nil || !by {
		return err
	}
	return fault.Invalidf("album", "A rule keeps this album filled. Change its rule, or gather what it shows in another album.")
}

// RefuseRuleAlbum refuses to show a rule album to those outside of the brand, since what comes into it nobody looks at first.
func RefuseRuleAlbum(ctx context.Context, r store.Reader, album int64) error {
	if by, err := KeptByRule(ctx, r, album); err != nil || !by {
		return err
	}
	return fault.Invalidf("album", "A rule keeps this album filled, so others would see what nobody chose. "+
		"Gather what it shows in an album first.")
}

// RuleNames reads what the things are called that rules speak of, as far as the viewer may know.
func RuleNames(ctx context.Context, r store.Reader, v *access.Viewer) (*query.Names, error) {
	out := &query.Names{Me: v.Person}
	reach := v.May(access.Look)
	for _, part := range []struct {
		to   *map[int64]string
		from string
		see  func(id int64) bool
	}{
		{&out.Tags, "tag", nil}, {&out.Stages, "stage", nil}, {&out.Outlets, "outlet", nil},
		{&out.Folders, "folder", reach.Folder}, {&out.Albums, "album", func(id int64) bool { return reach.All || reach.Albums[id] }},
	} {
		all, err := store.Names(ctx, r, `select id, name from `+part.from+` where brand_id = $1`, v.Brand)
		if err != nil {
			return nil, err
		}
		if part.see != nil {
			maps.DeleteFunc(all, func(id int64, _ string) bool { return !part.see(id) })
		}
		*part.to = all
	}
	var err error
	out.People, err = peoplestore.Colleagues(ctx, r, v.Brand)
	return out, err
}
