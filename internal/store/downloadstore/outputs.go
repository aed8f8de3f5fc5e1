package downloadstore

import (
	"context"
	"slices"

	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store"
)

// OutputSize is an output size of a brand. OnArrival has it made of everything that comes in, before anybody asks.
type OutputSize struct {
	outputs.Size
	OnArrival bool   `db:"on_arrival"`
	Public    bool   `db:"public"`  // items are had in it at their public addresses
	Address   string `db:"address"` // under this name, which stays
}

const outputSizeColumns = `id, name, width, height, fit, format, quality, metadata, pattern, colour, enlarge, budget, sharpen,
	clip_side as clipside, clip_rate as cliprate, quiet,
	clip_format as clipformat, on_arrival, public, address`

// OutputSizes lists the output sizes of a brand that are not retired, in their order.
func OutputSizes(ctx context.Context, r store.Reader, brand int64) ([]OutputSize, error) {
	return store.List[OutputSize](ctx, r, `select `+outputSizeColumns+` from output_size where brand_id = $1 and retired_at is null
		order by position, id`, brand)
}

// MadeOnArrival lists the output sizes that are made of everything that comes in.
func MadeOnArrival(ctx context.Context, r store.Reader, brand int64) ([]OutputSize, error) {
	return store.List[OutputSize](ctx, r, `select `+outputSizeColumns+` from output_size where brand_id = $1 and retired_at is null and
		on_arrival
		order by position, id`,
		brand,
	)
}

// OutputSizesByID reads the output sizes of a brand by their ids, also those that are retired.
func OutputSizesByID(ctx context.Context, r store.Reader, brand int64) (map[int64]outputs.Size, error) {
	sizes, err := store.List[OutputSize](ctx, r, `select `+outputSizeColumns+` from output_size where brand_id = $1`, brand)
	out := make(map[int64]outputs.Size, len(sizes))
	for _, s := range sizes {
		out[s.ID] = s.Size
	}
	return out, err
}

// OutputSizeByID reads one output size of a brand, also one that is retired.
func OutputSizeByID(ctx context.Context, r store.Reader, brand, id int64) (OutputSize, error) {
	return store.Get[OutputSize](ctx, r, "That output size is not there any more.", `select `+outputSizeColumns+` from output_size
		where brand_id = $1 and id = $2`, brand, id)
}

// PublicSize reads the output size under whose name items are had at their public addresses. One that was retired since stays.
func PublicSize(ctx context.Context, r store.Reader, brand int64, address string) (outputs.Size, error) {
	size, err := store.Get[OutputSize](ctx, r, "There is no such size.", `select `+outputSizeColumns+` from output_size
		where brand_id = $1 and address = $2 and public`, brand, address)
	return size.Size, err
}

// AddOutputSize makes an output size, the last one, and returns its id, or says what is wrong with it.
func AddOutputSize(ctx context.Context, tx *store.Tx, brand int64, s outputs.Size) (int64, error) {
	if err := s.Check(); err != nil {
		return 0, err
	}
	taken, err := store.List[string](ctx, tx, `select address from output_size where brand_id = $1`, brand)
	if err != nil {
		return 0, err
	}
	address := outputs.Address(s.Name, func(a string) bool { return embeds.Named[a] != 0 || slices.Contains(taken, a) })
	var id int64
	err = tx.GetContext(ctx, &id, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern, colour,
		enlarge, budget, sharpen, clip_side, clip_rate, quiet, clip_format, address, position) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10,
		$11, $12, $13, $14, $15, $16, $17, $18, (select coalesce(max(position), 0) + 1 from output_size where brand_id = $1)) returning id`,
		brand, s.Name, s.Width, s.Height,
		string(s.Fit), s.Format, s.Quality, string(s.Metadata), s.Pattern, s.Colour, s.Enlarge, s.Budget, s.Sharpen, s.ClipSide, s.ClipRate,
		s.Quiet, s.ClipFormat, address)
	return id, sizeNameTaken(err, s.Name)
}

// ChangeOutputSize writes everything about an output size, or says what is wrong with it.
func ChangeOutputSize(ctx context.Context, tx *store.Tx, brand int64, s OutputSize) error {
	if err := s.Check(); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update output_size set name = $3, width = $4, height = $5, fit = $6, format = $7, quality = $8,
		metadata = $9,
		pattern = $10, colour = $11, enlarge = $12, budget = $13, sharpen = $14, clip_side = $15, clip_rate = $16, quiet = $17, on_arrival = $18,
		clip_format = $19, public = $20 where brand_id = $1 and id = $2`,
		brand, s.ID, s.Name, s.Width, s.Height, string(s.Fit), s.Format, s.Quality, string(s.Metadata),
		s.Pattern, s.Colour, s.Enlarge, s.Budget, s.Sharpen, s.ClipSide, s.ClipRate, s.Quiet, s.OnArrival,
		s.ClipFormat, s.Public)
	return sizeNameTaken(err, s.Name)
}

func sizeNameTaken(err error, name string) error {
	if store.Violates(err, "output_size_name") {
		return fault.Invalidf("name", "There is an output size “%s” already.", name)
	}
	return err
}

// OrderOutputSizes puts the output sizes of a brand in an order; those that are left out come last.
func OrderOutputSizes(ctx context.Context, tx *store.Tx, brand int64, ids []int64) error {
	_, err := tx.ExecContext(ctx, `update output_size s set position = n.n from (select id, row_number() over (order by
		coalesce(array_position($2::bigint[], id), 1000000), position, id) as n from output_size where brand_id = $1 and retired_at is null) n
		where n.id = s.id and s.position <> n.n`, brand, ids)
	return err
}

// RetireOutputSize does not offer an output size any more.
func RetireOutputSize(ctx context.Context, tx *store.Tx, brand, id int64) error {
	used, err := store.List[string](ctx, tx, `select title from gallery where brand_id = $1
		and settings -> 'sizes' @> to_jsonb($2::bigint) order by title`, brand, id)
	if err != nil {
		return err
	}
	if len(used) > 0 {
		return fault.Invalidf("outputSize", "The gallery “%s” gives this size to guests. Take it off there first.", used[0])
	}
	_, err = tx.ExecContext(ctx, `update output_size set retired_at = now() where brand_id = $1 and id = $2`, brand, id)
	return err
}

// SizeCost is what was made by an output size, or with the id 0 by none, for pages and players: files, their bytes, and how many
// seconds it took to make them.
type SizeCost struct {
	ID      int64   `db:"id"`
	Files   int     `db:"files"`
	Bytes   int64   `db:"bytes"`
	Seconds float64 `db:"seconds"`
}

// SizeCosts says what was made by the output sizes of a brand.
func SizeCosts(ctx context.Context, r store.Reader, brand int64) ([]SizeCost, error) {
	return store.List[SizeCost](ctx, r, `select coalesce(output_size_id, 0) as id, count(*)::int as files, sum(bytes)::bigint as bytes,
		sum(seconds)::float8 as seconds
		from rendition where brand_id = $1 group by 1`, brand)
}

// ForgetMade forgets what was made by an output size, or with 0 by none, and returns the keys of the files in the storage.
// What a download still holds is made
// again when it is asked for.
func ForgetMade(ctx context.Context, tx *store.Tx, brand, size int64) ([]string, error) {
	return store.List[string](ctx, tx, `delete from rendition where brand_id = $1 and output_size_id is not distinct from
		nullif($2::bigint, 0) returning blob`, brand, size)
}

// AddFirstSizes gives a new brand the output sizes of another one.
func AddFirstSizes(ctx context.Context, tx *store.Tx, from, to int64) error {
	_, err := tx.ExecContext(ctx, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern, colour,
		enlarge, budget, sharpen, clip_side, clip_rate, quiet, clip_format, on_arrival, public, address, position)
		select $2, name, width, height, fit, format, quality, metadata, pattern, colour, enlarge, budget, sharpen, clip_side, clip_rate, quiet,
		clip_format, on_arrival, public, address, position from output_size where brand_id = $1 and retired_at is null`, from, to)
	return err
}
