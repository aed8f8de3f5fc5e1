package tagstore

import (
	"context"

	"brightsatchel/internal/store"
)

// BrandColour is a colour of a brand's own: its name, and # with six hexadecimal digits in small letters.
type BrandColour struct {
	ID     int64  `db:"id"`
	Name   string `db:"name"`
	Colour string `db:"colour"`
}

// BrandColours lists the colours of a brand in their order.
func BrandColours(ctx context.Context, r store.Reader, brand int64) ([]BrandColour, error) {
	return store.List[BrandColour](ctx, r, `select id, name, colour from brand_colour where brand_id = $1 order by place, id`, brand)
}

// SaveBrandColour adds a colour at the end, or with an id changes one, and returns its id.
func SaveBrandColour(ctx context.Context, tx *store.Tx, brand int64, c BrandColour) (int64, error) {
	const missing = "That colour is not there any more."
	if c.ID != 0 {
		id, err := store.Get[int64](
			ctx,
			tx,
			missing,
			`update brand_colour set name = $2, colour = $3 where brand_id = $1 and id = $4 returning id`,
			brand,
			c.Name,
			c.Colour,
			c.ID,
		)
		return id, NameTaken(err, c.Name)
	}
	id, err := store.Get[int64](ctx, tx, missing, `insert into brand_colour (brand_id, name, colour, place) values ($1, $2, $3,
		(select coalesce(max(place), 0) + 1 from brand_colour where brand_id = $1)) returning id`, brand, c.Name, c.Colour)
	return id, NameTaken(err, c.Name)
}

// RemoveBrandColour removes a colour.
func RemoveBrandColour(ctx context.Context, tx *store.Tx, brand, id int64) (int, error) {
	return tx.Change(ctx, `delete from brand_colour where brand_id = $1 and id = $2`, brand, id)
}
