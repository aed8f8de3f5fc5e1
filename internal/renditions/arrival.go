package renditions

import (
	"context"
	"errors"

	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
)

// onArrival is the job that makes of an item what the brand wants made before anybody asks.
type onArrival struct {
	Brand int64 `json:"brand"`
	Asset int64 `json:"asset"`
}

// Kind names the job in the queue.
func (onArrival) Kind() string { return "make_on_arrival" }

func (s *Service) addOnArrival() {
	// What could not be made is made when somebody asks for it.
	queue.Add(s.Queue, queue.Kind[onArrival]{Do: s.makeOnArrival, GaveUp: queue.Nothing[onArrival], Tries: queue.Soon,
		Queue: queue.Background, Priority: 4, Alone: true})
}

// Arrived has made of an item what the brand wants made on arrival.
func (s *Service) Arrived(ctx context.Context, brand, asset int64) error {
	wanted, err := downloadstore.MadeOnArrival(ctx, s.DB, brand)
	if err != nil || len(wanted) == 0 {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return s.Queue.Enqueue(ctx, tx, onArrival{Brand: brand, Asset: asset}) })
}

func (s *Service) makeOnArrival(ctx context.Context, job onArrival) error {
	found, err := assetstore.AssetsIn(ctx, s.DB, job.Brand, []int64{job.Asset})
	if err != nil || len(found) == 0 || found[0].Binned.Valid {
		return err
	}
	sizes, err := downloadstore.MadeOnArrival(ctx, s.DB, job.Brand)
	for _, size := range sizes {
		var refused *media.Refused
		if _, err := s.Ensure(ctx, job.Brand, found[0], size.Size); err != nil && !errors.As(err, &refused) && !errors.Is(err, ErrMaking) {
			return err
		}
	}
	return err
}
