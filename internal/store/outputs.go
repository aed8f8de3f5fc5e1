package store

import (
	"context"

	"brightsatchel/internal/core/outputs"
)

// OutputSize is an output size of a brand.
type OutputSize struct {
	ID int64 `db:"id"`
	outputs.Size
}

const outputSizeColumns = `id, name, width, height, fit, format, quality, metadata, pattern`

// OutputSizes lists the output sizes of a brand in the order in which they were made.
func OutputSizes(ctx context.Context, r Reader, brand int64) ([]OutputSize, error) {
	return list[OutputSize](ctx, r, `select `+outputSizeColumns+` from output_size where brand_id = $1 order by id`, brand)
}

// OutputSizeByID reads one output size of a brand.
func OutputSizeByID(ctx context.Context, r Reader, brand, id int64) (OutputSize, error) {
	return get[OutputSize](ctx, r, "That output size is not there any more.", `select `+outputSizeColumns+` from output_size
		where brand_id = $1 and id = $2`, brand, id)
}

// AddOutputSize makes an output size and returns its id, or says what is wrong with it.
func (tx *Tx) AddOutputSize(ctx context.Context, brand int64, s outputs.Size) (int64, error) {
	if err := s.Check(); err != nil {
		return 0, err
	}
	var id int64
	err := tx.GetContext(ctx, &id, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id`, brand, s.Name, s.Width, s.Height, string(s.Fit), s.Format, s.Quality,
		string(s.Metadata), s.Pattern)
	return id, err
}

// AddFirstSizes gives a new brand the output sizes of another one.
func (tx *Tx) AddFirstSizes(ctx context.Context, from, to int64) error {
	_, err := tx.ExecContext(ctx, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern)
		select $2, name, width, height, fit, format, quality, metadata, pattern from output_size where brand_id = $1`, from, to)
	return err
}
