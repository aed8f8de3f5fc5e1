// Package choosing is going through items and saying which are good: stars, set aside, keepers.
package choosing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
)

// Service records choices.
type Service struct {
	db   *store.DB
	rate *pieces.Registered[stars]
	side *pieces.Registered[stars]
	keep *pieces.Registered[keeping]

	stage *pieces.Registered[atStage]
	lower *pieces.Registered[stars]
}

// New returns the service, with its acts made known.
func New(db *store.DB, many *pieces.Service) *Service {
	aside := rateAct
	aside.Name, aside.Needs = string(access.SetAside), access.SetAside
	return &Service{db: db, rate: pieces.Register(many, rateAct), side: pieces.Register(many, aside), keep: pieces.Register(many, keepAct),
		stage: pieces.Register(many, stageAct), lower: pieces.Register(many, lowerAct)}
}

// stars is what items get: 0 to 5, or -1 to set them aside.
type stars struct {
	Stars  int  `json:"stars"`
	Beside bool `json:"beside,omitempty"` // one's own, shown beside the team's
}

var rateAct = pieces.Act[stars]{
	Name: string(access.Rate), Needs: access.Rate,
	Doing: func(n int, s stars) string {
		switch {
		case s.Stars < 0:
			return fmt.Sprintf("Setting %s aside", wording.Items(n))
		case s.Stars == 0:
			return fmt.Sprintf("Taking the stars off %s", wording.Items(n))
		}
		return fmt.Sprintf("Giving %s %d ★", wording.Items(n), s.Stars)
	},
	Done: func(n, _ int, s stars) string {
		switch {
		case s.Stars < 0:
			return fmt.Sprintf("Set %s aside", wording.Items(n))
		case s.Stars == 0:
			return fmt.Sprintf("Took the stars off %s", wording.Items(n))
		}
		return fmt.Sprintf("Gave %s %d ★", wording.Items(n), s.Stars)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, s stars) (int, error) {
		if s.Beside {
			return assetstore.RateBeside(ctx, tx, p.Viewer.Brand, p.Viewer.Person, p.IDs, s.Stars)
		}
		return assetstore.RateAssets(ctx, tx, p.Viewer, p.IDs, s.Stars)
	},
}

// Rate gives a selection stars from 0 to 5, or sets it aside with -1 (XMP Rating), which is the team's verdict. The stars
// of somebody whose stars do not count in the brand are their own.
func (s *Service) Rate(ctx context.Context, v *access.Viewer, sel query.Selection, to int) (store.Done, error) {
	if to < 0 {
		return s.side.Do(ctx, v, sel, pieces.Just(stars{Stars: to}))
	}
	brand, err := peoplestore.BrandByID(ctx, s.db, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	return s.rate.Do(ctx, v, sel, pieces.Just(stars{Stars: to, Beside: !v.StarsCount(brand.ReviewersCount)}))
}

// Lower gives each of a selection so many stars less, and keeps what is set aside as it is. It is the team's verdict.
func (s *Service) Lower(ctx context.Context, v *access.Viewer, sel query.Selection, by int) (store.Done, error) {
	brand, err := peoplestore.BrandByID(ctx, s.db, v.Brand)
	switch {
	case err != nil:
		return store.Done{}, err
	case by < 1:
		return store.Done{}, fault.Invalidf("stars", "At least one star less.")
	case !v.StarsCount(brand.ReviewersCount):
		return store.Done{}, fault.Forbiddenf("Your stars are beside the team’s, which you can’t lower.")
	}
	return s.lower.Do(ctx, v, sel, pieces.Just(stars{Stars: by}))
}

var lowerAct = pieces.Act[stars]{
	Name: "lower", Needs: access.Rate,
	Doing: func(n int, _ stars) string { return fmt.Sprintf("Lowering %s", wording.Items(n)) },
	Done: func(n, _ int, s stars) string {
		return fmt.Sprintf("Gave %s %s less", wording.Items(n), wording.Count(s.Stars, "star", "stars"))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, s stars) (int, error) {
		return assetstore.LowerStars(ctx, tx, p.IDs, s.Stars)
	},
}

// keeping says whether items get a person's own mark or lose it.
type keeping struct {
	Keep bool `json:"keep"`
}

var keepAct = pieces.Act[keeping]{
	Name: string(access.Keep), Needs: access.Keep,
	Doing: func(n int, k keeping) string {
		if k.Keep {
			return fmt.Sprintf("Making %s keepers", wording.Items(n))
		}
		return fmt.Sprintf("Taking the keeper mark off %s", wording.Items(n))
	},
	Done: func(n, _ int, k keeping) string {
		switch {
		case k.Keep && n == 1:
			return "Made 1 item a keeper"
		case k.Keep:
			return fmt.Sprintf("Made %s keepers", wording.Items(n))
		}
		return fmt.Sprintf("Took the keeper mark off %s", wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, k keeping) (int, error) {
		return assetstore.KeepAssets(ctx, tx, p.Viewer.Brand, p.Viewer.Person, p.IDs, k.Keep)
	},
}

// Keep sets or takes away the viewer's own mark on a selection.
func (s *Service) Keep(ctx context.Context, v *access.Viewer, sel query.Selection, keep bool) (store.Done, error) {
	return s.keep.Do(ctx, v, sel, pieces.Just(keeping{keep}))
}
