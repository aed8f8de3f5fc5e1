package assetstore

import (
	"context"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Place is a folder or an album that an embed or a chapter of a gallery shows, with everything below it or not. The other id is 0.
type Place struct {
	Folder int64  `db:"folder"`
	Album  int64  `db:"album"`
	Below  bool   `db:"below"`
	Name   string `db:"name"`
	ByRule bool   `db:"by_rule"` // a rule keeps the album filled
}

// placeColumns reads a Place from s, which has folder_id, album_id and below; placeJoins names it.
const (
	PlaceColumns = `coalesce(s.folder_id, 0) as folder, coalesce(s.album_id, 0) as album, s.below,
		coalesce(f.name, a.name) as name, a.rule is not null as by_rule`
	PlaceJoins = ` left join folder f on f.id = s.folder_id left join album a on a.id = s.album_id`
)

// NamePlaces fills in what folders and albums of a brand are called, and says of which one is not there.
func NamePlaces(ctx context.Context, r store.Reader, brand int64, places []Place) error {
	for i, s := range places {
		found, err := store.Get[Place](ctx, r, "One of those folders and albums is not there any more.", `select id as folder, 0 as album, name,
			false as by_rule from folder where brand_id = $1 and id = $2 and $3 = 0
			union all select 0, id, name, rule is not null from album where brand_id = $1 and id = $3 and $2 = 0`, brand, s.Folder, s.Album)
		if err != nil {
			return err
		}
		places[i].Name, places[i].ByRule = found.Name, found.ByRule
	}
	return nil
}

// RuleOfPlaces is being in one of some folders and albums.
func RuleOfPlaces(places []Place) query.Rule {
	in := make([]query.Rule, len(places))
	for i, s := range places {
		in[i] = query.Rule{Field: "folder", IDs: []int64{s.Folder}, Below: s.Below}
		if s.Album != 0 {
			in[i] = query.Rule{Field: "album", IDs: []int64{s.Album}, Below: s.Below}
		}
	}
	return query.Rule{Match: query.Any, Rules: in}
}

// placeShows is the condition that a place s shows an item a, but for albums that a rule keeps filled.
const placeShows = `(s.album_id in (select album_id from album_item x where x.asset_id = a.id) or s.folder_id = a.folder_id
	or s.below and s.folder_id in (with recursive up as (select a.folder_id as id union all select f.parent_id from folder f
		join up on f.id = up.id where f.parent_id is not null) select id from up))`
