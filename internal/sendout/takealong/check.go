package takealong

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store/findstore"
)

// Check says what is against sending out a selection today.
func (s *Service) Check(ctx context.Context, v *access.Viewer, sel query.Selection) (leaving.Checked, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return leaving.Checked{}, err
	}
	return leaving.Check(ctx, s.DB, v.Brand, ids, false)
}
