package hosting

import (
	"context"
	"database/sql"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/gallerystore"
)

// What guests add at most: files of one guest and of all guests of a gallery, and bytes of one file.
const (
	mostAdded      = 200
	mostAddedInAll = 2000
	MostAddedBytes = 100 << 20
)

// applyTaking lets guests add pictures, which come into a folder where the one who allows it may bring in; 0 ends it.
func (s *Service) applyTaking(v *access.Viewer, g *gallerystore.Gallery, folder int64) error {
	if folder == 0 {
		g.TakesInto, g.TakesBy = sql.NullInt64{}, sql.NullInt64{}
		return nil
	}
	if _, there := v.Tree[folder]; !there {
		return fault.Invalidf("takesInto", "That folder is not there any more.")
	}
	if !v.May(access.BringIn).Folder(folder) {
		return fault.Forbiddenf("You may bring in only where you were granted it. Choose another folder.")
	}
	g.TakesInto, g.TakesBy = sql.NullInt64{Int64: folder, Valid: true}, sql.NullInt64{Int64: v.Person, Valid: true}
	return nil
}

// NoteContributions writes down that the files of an intake are a guest's.
func (s *Service) NoteContributions(ctx context.Context, view *GuestView, intake int64) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return gallerystore.AddContributions(ctx, tx, view.Gallery, view.Guest, intake, mostAdded, mostAddedInAll)
	})
}

// mostListed is how many contributions are listed.
const mostListed = 500

// Contributions lists what guests added to a gallery of the brand.
func (s *Service) Contributions(ctx context.Context, v *access.Viewer, gallery int64) ([]gallerystore.Contribution, error) {
	if _, err := gallerystore.GalleryByID(ctx, s.DB, v, gallery); err != nil {
		return nil, err
	}
	return gallerystore.Contributions(ctx, s.DB, gallery, 0, mostListed)
}

// Accept writes down that somebody looked at what guests added and found that it may go out.
func (s *Service) Accept(ctx context.Context, v *access.Viewer, gallery int64, assets []int64) (int, error) {
	n := 0
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		g, err := gallerystore.GalleryByID(ctx, tx, v, gallery)
		if err != nil {
			return err
		}
		if err := store.Reachable(ctx, tx, v, access.Describe, assets); err != nil {
			return err
		}
		if n, err = gallerystore.AcceptContributions(ctx, tx, g.ID, v.Person, assets); err != nil || n == 0 {
			return err
		}
		return tx.Note(ctx, v.Brand, v.Person, "accept_contributions", fmt.Sprintf("Accepted %s of guests of the gallery “%s”",
			wording.Count(n, "picture", "pictures"), g.Title))
	})
	return n, err
}

// Came is what became of a file that a guest added, as far as it is theirs to know.
type Came string

// What can become of one.
const (
	Waiting  Came = "waiting"   // for its bytes
	Arrived  Came = "arrived"   // and is looked at by the machine
	WithTeam Came = "with_team" // and has not been accepted yet
	Accepted Came = "accepted"
	NotUsed  Came = "not_used" // somebody put it in the bin
	Known    Came = "known"    // they had it already
	Refused  Came = "refused"
	NotSent  Came = "not_sent"
)

// CameOf says what became of a contribution.
func CameOf(c gallerystore.Contribution) Came {
	switch {
	case c.State == "arrived":
		return Arrived
	case c.State == "skipped":
		return Known
	case c.State == "refused":
		return Refused
	case c.State == "cancelled":
		return NotSent
	case c.State == "waiting":
		return Waiting
	case !c.Asset.Valid:
		return NotUsed
	case c.Accepted.Valid:
		return Accepted
	}
	return WithTeam
}

// Added lists what a guest added to a gallery, the newest first.
func (s *Service) Added(ctx context.Context, gallery, guest int64) ([]gallerystore.Contribution, error) {
	if guest == 0 {
		return nil, nil
	}
	return gallerystore.Contributions(ctx, s.DB, gallery, guest, mostAdded)
}
