package bringin

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/intakestore"
)

// inDriveFolder is the file on the drive that is brought in, where it was written to a path in a folder: whatever is written there stays
// there. It is nil for all others, and for one that was saved over an item.
func inDriveFolder(ctx context.Context, r store.Reader, f intakestore.IntakeFile) (*drivestore.DriveFile, error) {
	if f.Remote != intakestore.FromDrive || f.Replaces.Valid {
		return nil, nil
	}
	d, err := drivestore.DriveFileByCode(ctx, r, f.Code)
	if err != nil || d == nil || d.Page != 0 || d.Album != 0 {
		return nil, err
	}
	return d, nil
}

// becomes is outcomeOf, but that a file in a folder of the drive is never left out for its bytes alone: it becomes an item beside the one
// that has them, unless it is that one, at its place.
func becomes(ctx context.Context, r store.Reader, f intakestore.IntakeFile, in intakestore.Intake, same *assetstore.Duplicate,
	sum []byte) (arrival.State,
	error) {
	state := outcomeOf(f, in, same)
	if state != arrival.Skipped {
		return state, nil
	}
	d, err := inDriveFolder(ctx, r, f)
	if err != nil || d == nil {
		return state, err
	}
	if there, err := drivestore.ItemAt(ctx, r, *d, sum); err != nil || there {
		return state, err
	}
	return arrival.Added, nil
}

// cameBack puts an item back from the bin that a file in a folder of the drive is, at the place where it was written; or makes the file its
// newest version, where another file was written to its place. It is nil where the file is none of these.
func (s *Service) cameBack(ctx context.Context, tx *store.Tx, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes,
	facts media.Facts) (*intakestore.Outcome, error) {
	d, err := inDriveFolder(ctx, tx, f)
	if err != nil || d == nil {
		return nil, err
	}
	gone, err := drivestore.GoneFor(ctx, tx, *d, got.sum)
	if err != nil || gone == nil {
		return nil, err
	}
	v, err := s.viewer(ctx, tx, in)
	if err != nil || !v.May(access.Remove).Folder(gone.Folder) || !v.May(access.Describe).Folder(d.Folder) {
		return nil, err
	}
	if _, err := assetstore.BinAssets(ctx, tx, []int64{gone.Asset}, false); err != nil {
		return nil, err
	}
	if _, err := assetstore.MoveAssets(ctx, tx, []int64{gone.Asset}, d.Folder); err != nil {
		return nil, err
	}
	if err := drivestore.RenameFile(ctx, tx, in.Brand, gone.Asset, d.Name); err != nil {
		return nil, err
	}
	if gone.Same {
		return &intakestore.Outcome{State: arrival.Skipped, Asset: gone.Asset,
			Why: fmt.Sprintf("It is “%s”, which is back from the bin.", gone.Name)}, nil
	}
	same, err := assetstore.DuplicateOf(ctx, tx, gone.Asset)
	if err != nil {
		return nil, err
	}
	o, err := s.addVersion(ctx, tx, f, in, got, facts, *same)
	return &o, err
}
