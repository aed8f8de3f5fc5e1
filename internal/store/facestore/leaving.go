package facestore

import (
	"context"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
)

// Leaving reads what is known of items that are to leave the house, by id. Those that are not in the brand are left out.
func Leaving(ctx context.Context, r store.Reader, brand int64, ids []int64) (map[int64]sending.Leaving, error) {
	agreed, err := Consents(ctx, r, brand)
	if err != nil {
		return nil, err
	}
	rows, err := store.List[struct {
		ID          int64              `db:"id"`
		RightsUntil string             `db:"rights_until"`
		Alt         bool               `db:"alt"`
		SetAside    bool               `db:"aside"`
		Binned      bool               `db:"binned"`
		Sight       bool               `db:"sight"`
		Unseen      bool               `db:"unseen"`
		SaysWhere   bool               `db:"says_where"`
		People      store.Array[int64] `db:"people"`
	}](ctx, r, `select a.id, coalesce(a.rights_until::text, '') as rights_until, a.alt <> '' as alt, a.stars < 0 as aside,
		a.binned_at is not null as binned, a.kind in ('picture', 'animation', 'vector') as sight,
		a.latitude is not null as says_where,
		a.source = 'guest' and exists (select from intake_file f join contribution c on c.file_id = f.id where f.asset_id = a.id
			and c.accepted_at is null) as unseen,
		array(select x.tag_id from asset_tag x join person_shown p on p.tag_id = x.tag_id where x.asset_id = a.id) as people
		from asset a where a.brand_id = $1 and a.id = any($2)`, brand, ids)
	out := make(map[int64]sending.Leaving, len(rows))
	for _, row := range rows {
		l := sending.Leaving{RightsUntil: row.RightsUntil, SetAside: row.SetAside, Binned: row.Binned, Sight: row.Sight,
			Alt: row.Alt, Unseen: row.Unseen, SaysWhere: row.SaysWhere}
		for _, person := range row.People {
			l.Shown = append(l.Shown, agreed[person])
		}
		out[row.ID] = l
	}
	return out, err
}
