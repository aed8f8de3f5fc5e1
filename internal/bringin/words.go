package bringin

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/wordstore"
)

// Describe sets words on files of an intake, all of them when codes is empty. Those that are on the way get them when they
// are taken, those that were added get them now.
func (s *Service) Describe(ctx context.Context, v *access.Viewer, id int64, codes []string, words arrival.Words) (store.Done, error) {
	in, err := s.mine(ctx, v, id)
	if err != nil {
		return store.Done{}, err
	}
	if err := s.mayDescribe(ctx, v, words); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "describe_intake", func(tx *store.Tx) (store.Done, error) {
		files, err := intakestore.LockIntakeFiles(ctx, tx, id)
		if err != nil {
			return store.Done{}, err
		}
		merged, n := map[int64]arrival.Words{}, 0
		for _, f := range files {
			state := arrival.State(f.State)
			if f.SidecarOf.Valid || len(codes) > 0 && !slices.Contains(codes, f.Code) || state.Settled() && state != arrival.Added {
				continue
			}
			before, err := f.Words()
			if err != nil {
				return store.Done{}, err
			}
			merged[f.ID] = words.Over(before)
			n++
			if state == arrival.Added && f.Asset.Valid {
				if err := s.describeAdded(ctx, tx, v, in, f, words); err != nil {
					return store.Done{}, err
				}
			}
		}
		if n == 0 {
			return store.Done{}, fault.Invalidf("files", "None of these files can be described: they were not added.")
		}
		return store.Done{
			Said:    "Described " + wording.Count(n, "file", "files") + " of the intake",
			Changed: n,
		}, intakestore.SetWords(ctx, tx, merged)
	})
}

func (s *Service) mayDescribe(ctx context.Context, v *access.Viewer, words arrival.Words) error {
	if err := words.Check(); err != nil {
		return err
	}
	if words.Album != nil {
		if !v.Can(access.Gather) {
			return fault.Forbiddenf("You may not add to albums.")
		}
		if _, err := albumstore.AlbumByID(ctx, s.DB, v, *words.Album); err != nil {
			return err
		}
	}
	if v.Can(access.Closed) {
		return nil
	}
	for _, name := range append(slices.Clone(words.Tags), words.People...) {
		group, err := tagstore.ClosedTagGroup(ctx, s.DB, v.Brand, name)
		if err != nil {
			return err
		}
		if group != "" {
			return fault.Forbiddenf("The group %s is closed: only stewards and coordinators add to it.", group)
		}
	}
	return nil
}

// describeAdded writes words onto an item that is in already.
func (s *Service) describeAdded(ctx context.Context, tx *store.Tx, v *access.Viewer, in intakestore.Intake, f intakestore.IntakeFile,
	words arrival.Words) error {
	asset, err := assetstore.AssetByID(ctx, tx, v, f.Asset.Int64)
	if err != nil {
		return err
	}
	if !v.May(access.Describe).Folder(asset.Folder.Int64) {
		return fault.Forbiddenf("“%s” is in a folder where you may not describe.", f.Name)
	}
	title := words.Title
	if title != nil {
		place, of, err := intakestore.PlaceInIntake(ctx, tx, f)
		if err != nil {
			return err
		}
		filled := arrival.Title(*title, f.Name, place, of)
		title = &filled
	}
	change := wordstore.Description{Revision: asset.Revision, Words: map[string]string{}}
	for name, text := range map[string]*string{"title": title, "description": words.Description, "alt": words.Alt, "credit": words.Credit} {
		if text != nil {
			change.Words[name] = *text
		}
	}
	if _, err := wordstore.Describe(ctx, tx, asset.ID, change); err != nil {
		return err
	}
	if err := gatherByWords(ctx, tx, in, asset.ID, words); err != nil {
		return err
	}
	if words.Turn == nil || *words.Turn == asset.Recipe.Turn || asset.Kind != "picture" {
		return nil
	}
	return s.Queue.Enqueue(ctx, tx, renditions.Turn{Brand: in.Brand, Asset: asset.ID, Turn: *words.Turn})
}

// nameByWords puts what was typed while a file travelled in place of what the file says. The caption at an outlet is the
// description of what comes from there, unless the file has one.
func (s *Service) nameByWords(ctx context.Context, r store.Reader, n *assetstore.NewAsset, f intakestore.IntakeFile, in intakestore.Intake,
	words arrival.Words) error {
	if words.Title != nil {
		place, of, err := intakestore.PlaceInIntake(ctx, r, f)
		if err != nil {
			return err
		}
		n.Title = arrival.Title(*words.Title, f.Name, place, of)
	}
	if in.Outlet.Valid && n.Description == "" {
		n.Description = captionOf(f)
	}
	for _, field := range []struct {
		to   *string
		from *string
	}{{&n.Description, words.Description}, {&n.Alt, words.Alt}, {&n.Credit, words.Credit}} {
		if field.from != nil {
			*field.to = *field.from
		}
	}
	return nil
}

// gatherByWords puts the tags, people and albums on an item that were chosen for it and for its intake.
func gatherByWords(ctx context.Context, tx *store.Tx, in intakestore.Intake, asset int64, words arrival.Words) error {
	var tags []int64
	for group, names := range map[string][]string{"": words.Tags, "People": words.People} {
		for _, name := range names {
			tag, err := tagstore.EnsureTag(ctx, tx, in.Brand, name, group)
			if err != nil {
				return err
			}
			tags = append(tags, tag)
		}
	}
	if _, err := tagstore.ChangeTags(ctx, tx, in.Brand, []int64{asset}, tags, nil); err != nil {
		return fmt.Errorf("tagging what was brought in: %w", err)
	}
	albums := []int64{}
	if in.Album.Valid {
		albums = append(albums, in.Album.Int64)
	}
	if words.Album != nil && *words.Album != in.Album.Int64 {
		albums = append(albums, *words.Album)
	}
	for _, album := range albums {
		if _, err := albumstore.AddToAlbum(ctx, tx, in.Brand, album, []int64{asset}); err != nil {
			return err
		}
	}
	return nil
}
