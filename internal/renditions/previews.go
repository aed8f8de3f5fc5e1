package renditions

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"path/filepath"
	"slices"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
)

// Keep stores the previews that were made of an original by a recipe.
func (s *Service) Keep(ctx context.Context, sum []byte, by recipe.Recipe, previews []media.Preview) error {
	for _, p := range previews {
		if err := s.Blobs.PutFile(ctx, blob.Picture(sum, p.Name, by.Hash()), p.Path); err != nil {
			return err
		}
	}
	return nil
}

// Preview returns the key of a preview of an item by its name, within what somebody may have. One that is missing is made.
func (s *Service) Preview(ctx context.Context, a assetstore.Asset, name string, may access.Allowance) (string, error) {
	box, known := media.PreviewBox(name)
	if !known {
		return "", fault.NotFoundf("There is no such size.")
	}
	if may.Largest > 0 && max(box.Width, box.Height) > may.Largest {
		return s.bounded(ctx, a, may.Largest)
	}
	return s.preview(ctx, a, name)
}

// Previews makes the previews of an item where they are not there yet, and removes those by recipes that no item with the same content
// has any more. Whoever goes back to one has them made again.
func (s *Service) Previews(ctx context.Context, a assetstore.Asset) error {
	if _, err := s.preview(ctx, a, media.PreviewNames[0]); err != nil {
		return err
	}
	used, err := recipestore.RecipesOfContent(ctx, s.DB, a.SHA256)
	if err != nil {
		return err
	}
	return s.Blobs.RemovePictures(ctx, a.SHA256, func(recipe string) bool { return !slices.Contains(used, recipe) })
}

func (s *Service) preview(ctx context.Context, a assetstore.Asset, name string) (string, error) {
	at := blob.Picture(a.SHA256, name, a.Recipe.Hash())
	if _, err := s.Blobs.Local(ctx, at); err == nil {
		return at, nil
	}
	if a.Kind == "file" {
		return "", fault.NotFoundf("This kind of file is not shown here.")
	}
	_, err := once(ctx, s, a.SHA256, "previews "+a.Recipe.Hash(),
		func(ctx context.Context) (bool, error) { return true, s.makePreviews(ctx, a, a.Recipe.Recipe) })
	return at, err
}

// bounded is a preview whose longest side has at most so many pixels. It is made of the largest one, so that it shows the
// same, also of a clip.
func (s *Service) bounded(ctx context.Context, a assetstore.Asset, side int) (string, error) {
	name := fmt.Sprintf("within-%d", side)
	at := blob.Picture(a.SHA256, name, a.Recipe.Hash())
	if _, err := s.Blobs.Local(ctx, at); err == nil {
		return at, nil
	}
	_, err := once(ctx, s, a.SHA256, name+a.Recipe.Hash(), func(ctx context.Context) (bool, error) {
		large, err := s.preview(ctx, a, media.PreviewNames[0])
		if err != nil {
			return false, err
		}
		from, err := s.Blobs.Local(ctx, large)
		if err != nil {
			return false, err
		}
		return true, s.shrink(ctx, from, geometry.Fit(geometry.Size{Width: a.Width, Height: a.Height},
			geometry.Size{Width: side, Height: side}), outputs.Mark{}, at)
	})
	return at, err
}

// smallest is the longest side of what is shown without a mark: as tiles, and no larger.
const smallest = 600

// Marked is Preview with a mark across it, but for pictures as small as tiles.
func (s *Service) Marked(ctx context.Context, a assetstore.Asset, name string, may access.Allowance, mark outputs.Mark) (string, error) {
	box, known := media.PreviewBox(name)
	if !known {
		return "", fault.NotFoundf("There is no such size.")
	}
	side := max(box.Width, box.Height)
	if may.Largest > 0 {
		side = min(side, may.Largest)
	}
	if mark = mark.Under(); mark.None() || side <= smallest {
		return s.Preview(ctx, a, name, may)
	}
	text, err := json.Marshal(mark)
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(text)
	marked := fmt.Sprintf("marked-%d-%s", side, hex.EncodeToString(sum[:8]))
	at := blob.Picture(a.SHA256, marked, a.Recipe.Hash())
	if _, err := s.Blobs.Local(ctx, at); err == nil {
		return at, nil
	}
	_, err = once(ctx, s, a.SHA256, marked+a.Recipe.Hash(), func(ctx context.Context) (bool, error) {
		plain, err := s.preview(ctx, a, media.PreviewNames[0])
		if err != nil {
			return false, err
		}
		from, err := s.Blobs.Local(ctx, plain)
		if err != nil {
			return false, err
		}
		size := geometry.Fit(geometry.Size{Width: a.Width, Height: a.Height}, geometry.Size{Width: side, Height: side})
		return true, s.shrink(ctx, from, size, mark, at)
	})
	return at, err
}

// markFile is the path of the picture of a mark, or "" for one of words.
func (s *Service) markFile(ctx context.Context, mark outputs.Mark) (string, error) {
	if mark.Picture == "" {
		return "", nil
	}
	return s.Blobs.Local(ctx, mark.Picture)
}

// MarkOf is a mark as it is drawn now: of an item, what it looks like. Nothing that should carry a mark goes out without one, so where
// the item is gone words stand for it.
func (s *Service) MarkOf(ctx context.Context, brand int64, mark outputs.Mark) (outputs.Mark, error) {
	if mark = mark.Under(); mark.Item == 0 {
		return mark, nil
	}
	drawn := outputs.Mark{Place: mark.Place, Strength: mark.Strength}
	found, err := assetstore.AssetsIn(ctx, s.DB, brand, []int64{mark.Item})
	if err != nil {
		return drawn, err
	}
	if len(found) == 0 || found[0].Binned.Valid || found[0].Kind == "clip" || found[0].Kind == "file" {
		drawn.Words = goneMark
		return drawn, nil
	}
	drawn.Picture, err = s.preview(ctx, found[0], media.PreviewNames[0])
	return drawn, err
}

// goneMark is written where the picture of a mark is gone.
const goneMark = "PROOF"

func (s *Service) shrink(ctx context.Context, from string, size geometry.Size, mark outputs.Mark, at string) error {
	file, err := s.markFile(ctx, mark)
	if err != nil {
		return err
	}
	return inFolder(func(dir string) error {
		target := filepath.Join(dir, "picture.webp")
		if err := s.Media.Shrink(ctx, from, size, mark, file, target); err != nil {
			return err
		}
		return s.Blobs.PutFile(ctx, at, target)
	})
}

// makePreviews makes the previews of an item by a recipe.
func (s *Service) makePreviews(ctx context.Context, a assetstore.Asset, by recipe.Recipe) error {
	return s.beside(ctx, a, func(original media.Original, dir string) error {
		_, previews, err := s.Media.Read(ctx, original.Path, dir, by)
		if err != nil {
			return err
		}
		return s.Keep(ctx, a.SHA256, by, previews)
	})
}

// Page returns the key of a page of a document, counted from 0; it is made when it is first looked at.
func (s *Service) Page(ctx context.Context, a assetstore.Asset, page int) (string, error) {
	name := fmt.Sprintf("page-%d", page+1)
	at := blob.Picture(a.SHA256, name, "")
	if _, err := s.Blobs.Local(ctx, at); err == nil {
		return at, nil
	}
	_, err := once(ctx, s, a.SHA256, name, func(ctx context.Context) (bool, error) { return true, s.makePage(ctx, a, page, at) })
	return at, err
}

func (s *Service) makePage(ctx context.Context, a assetstore.Asset, page int, at string) error {
	return s.beside(ctx, a, func(original media.Original, dir string) error {
		target := filepath.Join(dir, "page.webp")
		if err := s.Media.Page(ctx, original.Path, a.MediaType, geometry.Size{Width: a.Width, Height: a.Height}, page, target); err != nil {
			return err
		}
		return s.Blobs.PutFile(ctx, at, target)
	})
}

// Strip is the key of the scrub strip of a clip, as its recipe makes it.
func Strip(a assetstore.Asset) string { return blob.Picture(a.SHA256, "strip", a.Recipe.Hash()) }

// WholeStrip is the key of the scrub strip of the file of a clip as it came.
func WholeStrip(a assetstore.Asset) string { return blob.Picture(a.SHA256, "strip", "") }

// Clips makes the scrub strips of a clip, and has a film made where browsers do not play the original, or a recipe makes another one.
func (s *Service) Clips(ctx context.Context, brand int64, a assetstore.Asset) error {
	if _, err := s.Blobs.LocalSource(ctx, Original(a)); errors.Is(err, blob.ErrMissing) {
		return nil // it was left where it is, and has gone since
	}
	for key, by := range map[string]recipe.Recipe{Strip(a): a.Recipe.Recipe, WholeStrip(a): {}} {
		if err := s.strip(ctx, a, by, key); err != nil {
			return fmt.Errorf("the scrub strip of item %d: %w", a.ID, err)
		}
	}
	return s.wantFilm(ctx, brand, a)
}

func (s *Service) strip(ctx context.Context, a assetstore.Asset, by recipe.Recipe, key string) error {
	if _, err := s.Blobs.Local(ctx, key); err == nil {
		return nil
	}
	return s.beside(ctx, a, func(original media.Original, dir string) error {
		strip := filepath.Join(dir, "strip.webp")
		if err := s.Media.Strip(ctx, original, by, strip); err != nil {
			return err
		}
		return s.Blobs.PutFile(ctx, key, strip)
	})
}
