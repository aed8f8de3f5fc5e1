package store

import "context"

// BrandColour is a colour of a brand's own: its name, and # with six hexadecimal digits in small letters.
type BrandColour struct {
	ID     int64  `db:"id"`
	Name   string `db:"name"`
	Colour string `db:"colour"`
}

// BrandColours lists the colours of a brand in their order.
func BrandColours(ctx context.Context, r Reader, brand int64) ([]BrandColour, error) {
	return list[BrandColour](ctx, r, `select id, name, colour from brand_colour where brand_id = $1 order by place, id`, brand)
}

// SaveBrandColour adds a colour at the end, or with an id changes one, and returns its id.
func (tx *Tx) SaveBrandColour(ctx context.Context, brand int64, c BrandColour) (int64, error) {
	const missing = "That colour is not there any more."
	if c.ID != 0 {
		id, err := get[int64](ctx, tx, missing, `update brand_colour set name = $2, colour = $3 where brand_id = $1 and id = $4 returning id`,
			brand, c.Name, c.Colour, c.ID)
		return id, nameTaken(err, c.Name)
	}
	id, err := get[int64](ctx, tx, missing, `insert into brand_colour (brand_id, name, colour, place) values ($1, $2, $3,
		(select coalesce(max(place), 0) + 1 from brand_colour where brand_id = $1)) returning id`, brand, c.Name, c.Colour)
	return id, nameTaken(err, c.Name)
}

// RemoveBrandColour removes a colour.
func (tx *Tx) RemoveBrandColour(ctx context.Context, brand, id int64) (int, error) {
	return tx.change(ctx, `delete from brand_colour where brand_id = $1 and id = $2`, brand, id)
}
