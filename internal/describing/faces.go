package describing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/facestore"
)

// onFace runs a change to a face of an item, which must be there and the viewer's to describe.
func (s *Service) onFace(ctx context.Context, v *access.Viewer, asset, face int64,
	f func(*store.Tx, facestore.Face) (store.Done, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, "face", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Describe, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		was, err := facestore.FaceByID(ctx, tx, asset, face)
		if err != nil {
			return store.Done{}, err
		}
		return f(tx, was)
	})
}

// regionOf brings an outline that somebody drew onto the picture.
func regionOf(r geometry.Region) (geometry.Region, error) {
	out, ok := r.Bounded()
	if !ok {
		return r, fault.Invalidf("x", "An outline is given in fractions of the picture.")
	}
	return out, nil
}

// DrawFace outlines a face on an item, in fractions of what is shown, and names it if a name is given.
func (s *Service) DrawFace(ctx context.Context, v *access.Viewer, asset int64, r geometry.Region, typed string) (store.Done, error) {
	r, err := regionOf(r)
	if err != nil {
		return store.Done{}, err
	}
	name, err := personName(typed)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "face", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Describe, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		id, err := facestore.DrawFace(ctx, tx, v.Brand, asset, r)
		if err != nil || name == "" {
			return store.Done{Said: "Outlined a face", Changed: 1, ID: id}, err
		}
		tag, err := facestore.EnsurePerson(ctx, tx, v, name)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Outlined the face of %s", name), Changed: 1, ID: id},
			facestore.GiveFace(ctx, tx, v.Brand, asset, facestore.Face{ID: id}, tag)
	})
}

// PlaceFace moves or resizes an outline.
func (s *Service) PlaceFace(ctx context.Context, v *access.Viewer, asset, face int64, r geometry.Region) (store.Done, error) {
	r, err := regionOf(r)
	if err != nil {
		return store.Done{}, err
	}
	return s.onFace(ctx, v, asset, face, func(tx *store.Tx, was facestore.Face) (store.Done, error) {
		said := "Moved the outline of a face"
		if was.Name != "" {
			said = "Moved the outline of " + was.Name
		}
		return store.Done{Said: said, Changed: 1}, facestore.PlaceFace(ctx, tx, asset, face, r)
	})
}

// NameFace says who a face is, or with "" that this is open.
func (s *Service) NameFace(ctx context.Context, v *access.Viewer, asset, face int64, typed string) (store.Done, error) {
	name, err := personName(typed)
	if err != nil {
		return store.Done{}, err
	}
	return s.onFace(ctx, v, asset, face, func(tx *store.Tx, was facestore.Face) (store.Done, error) {
		if name == "" && was.Tag == 0 {
			return store.Done{Said: "This face has no name"}, nil
		}
		if name == "" {
			return store.Done{
				Said:    fmt.Sprintf("Took the name %s off a face", was.Name),
				Changed: 1,
			}, facestore.GiveFace(ctx, tx, v.Brand, asset, was, 0)
		}
		tag, err := facestore.EnsurePerson(ctx, tx, v, name)
		if err != nil {
			return store.Done{}, err
		}
		if tag == was.Tag {
			return store.Done{Said: fmt.Sprintf("That is %s already", was.Name)}, nil
		}
		return store.Done{Said: fmt.Sprintf("Named a face: %s", name), Changed: 1}, facestore.GiveFace(ctx, tx, v.Brand, asset, was, tag)
	})
}

// DropFace takes an outline away, which is no face.
func (s *Service) DropFace(ctx context.Context, v *access.Viewer, asset, face int64) (store.Done, error) {
	return s.onFace(ctx, v, asset, face, func(tx *store.Tx, was facestore.Face) (store.Done, error) {
		said := "Took away an outline that is no face"
		if was.Name != "" {
			said = "Took away the outline of " + was.Name
		}
		return store.Done{Said: said, Changed: 1}, facestore.DropFace(ctx, tx, asset, was)
	})
}

// personName reads what somebody typed as the name of a person; "" is nobody.
func personName(typed string) (string, error) {
	names, err := tags.Split(typed)
	switch {
	case err != nil:
		return "", err
	case len(names) > 1:
		return "", fault.Invalidf("name", "A face has one name, without commas.")
	case len(names) == 0:
		return "", nil
	}
	return names[0], nil
}

// mostCounted is up to how many open faces are counted.
const mostCounted = 1000

// OpenFaces are how many faces nobody has named, at most mostCounted, and the next of them; its ID is 0 when there is none.
type OpenFaces struct {
	Left int
	Next facestore.OpenFace
}

// NextFace finds the next face to name after one, or the one before it.
func (s *Service) NextFace(ctx context.Context, v *access.Viewer, after int64, back bool) (out OpenFaces, err error) {
	if out.Next, err = facestore.NextFace(ctx, s.DB, v, after, back); err == nil {
		out.Left, err = facestore.CountFaces(ctx, s.DB, v, mostCounted)
	}
	return out, err
}
