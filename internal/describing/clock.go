package describing

import (
	"context"
	"errors"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/wordstore"
)

var clockAct = pieces.Act[calendar.Clock]{
	Name: "clock", Needs: access.Describe,
	Doing: func(n int, _ calendar.Clock) string {
		return fmt.Sprintf("Putting the clock of %s right", wording.Items(n))
	},
	Done: func(n, _ int, c calendar.Clock) string {
		switch {
		case n == 0:
			return "Nothing to change"
		case c.Back:
			return fmt.Sprintf("Set %s back to the moment in the file", wording.Items(n))
		case c.Seconds == 0:
			return fmt.Sprintf("Set the time zone of %s to %s", wording.Items(n), c.Zone)
		}
		return fmt.Sprintf("Moved the moment of %s by %s", wording.Items(n), c.Moved())
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, c calendar.Clock) (int, error) {
		stamped, err := wordstore.StampsOf(ctx, tx, p.IDs)
		if err != nil {
			return 0, err
		}
		for i := range stamped {
			one := &stamped[i]
			var invalid *fault.Invalid
			if one.Now, err = c.To(one.Now, one.File); errors.As(err, &invalid) {
				return 0, fault.Invalidf(invalid.Field, "“%s”: %s", one.Name, invalid.Text)
			} else if err != nil {
				return 0, err
			}
		}
		return wordstore.Stamp(ctx, tx, stamped)
	},
}

// SetClock puts the moments of capture of a selection right. What is undated stays so.
func (s *Service) SetClock(ctx context.Context, v *access.Viewer, sel query.Selection, c calendar.Clock) (store.Done, error) {
	if err := c.Check(); err != nil {
		return store.Done{}, err
	}
	return s.clock.Do(ctx, v, sel, pieces.Just(c))
}
