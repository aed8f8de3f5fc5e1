package hosting

import (
	"archive/zip"
	"context"
	"fmt"
	"io"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/gallerystore"
)

// GuestView is a gallery as a guest sees it. State is one of the states of galleries.Gate. Sizes are those that may be taken along.
type GuestView struct {
	gallerystore.Gallery
	State string
	Sizes []downloadstore.OutputSize
	Guest gallerystore.Guest // who looks, where that is known
}

// Allowance is what guests may have of what the gallery shows.
func (g *GuestView) Allowance() access.Allowance {
	sides := make([]galleries.Side, len(g.Sizes))
	for i, size := range g.Sizes {
		sides[i] = galleries.Side{Size: size.ID, Longest: max(size.Width, size.Height)}
	}
	big, _ := media.PreviewBox(media.PreviewNames[0])
	return g.Settings.Allowance(sides, max(big.Width, big.Height))
}

// Visit reads a gallery for a guest; who says what this guest has given or has.
func (s *Service) Visit(ctx context.Context, code string, who func(gallerystore.Gallery) galleries.Caller) (GuestView, error) {
	g, err := gallerystore.GalleryByCode(ctx, s.DB, code)
	if err != nil {
		return GuestView{}, err
	}
	view := GuestView{Gallery: g, State: g.Gate().State(who(g), time.Now().Format(time.DateOnly))}
	if view.State != galleries.Open {
		return view, nil
	}
	sizes, err := downloadstore.OutputSizes(ctx, s.DB, g.Brand)
	for _, size := range sizes {
		if slices.Contains(g.Settings.Sizes, size.ID) {
			view.Sizes = append(view.Sizes, size)
		}
	}
	return view, err
}

// ShownIn finds what an open gallery shows.
func (s *Service) ShownIn(ctx context.Context, view *GuestView) (*Shown, error) {
	if view.State != galleries.Open {
		return nil, fault.Forbiddenf("This gallery is not open to you.")
	}
	return s.shown(ctx, &view.Gallery)
}

// Unlock checks a guest's password. From says where the attempt comes from, for the limit. A gallery that is closed does not
// say whether a password is right, and one without a password has none to give: it says false.
func (s *Service) Unlock(ctx context.Context, g gallerystore.Gallery, password string, by passwords.Caller) (bool, error) {
	switch g.Gate().State(galleries.Caller{}, time.Now().Format(time.DateOnly)) {
	case galleries.Closed:
		return false, fault.Forbiddenf("This gallery is closed.")
	case galleries.Locked:
		return true, s.Passwords.Check(ctx, passwords.Attempt{What: passwords.Gallery(g.Code), Caller: by}, password, g.PasswordHash,
			"That is not the password of this gallery.")
	}
	return false, nil
}

// ForGuest gives the key of one file of a picture for a guest: a preview by its name, or the film of a clip; none is larger than what
// may be taken along.
func (s *Service) ForGuest(ctx context.Context, view *GuestView, a assetstore.Asset, size string) (name, key string, err error) {
	may := view.Allowance()
	if size == "film" && a.Kind == "clip" {
		key, err = s.Renditions.Film(ctx, view.Brand, a, may)
		return "film.mp4", key, err
	}
	mark, err := s.Renditions.MarkOf(ctx, view.Brand, view.Settings.Mark)
	if err != nil {
		return "", "", err
	}
	key, err = s.Renditions.Marked(ctx, a, size, may, mark)
	return size + ".webp", key, err
}

// Given is a file that a guest takes along.
type Given struct {
	Name string
	Blob string // the key of a rendition; "" is the original
	Of   assetstore.Asset
}

// Give makes the files of pictures that a guest takes along in an output size; 0 is the original. It hands them to each, one after the
// other as they are made. Accept is what media types somebody takes, as their browser says it.
func (s *Service) Give(ctx context.Context, view *GuestView, pictures []assetstore.Asset, size int64, accept string,
	each func(Given) error) error {
	if view.State != galleries.Open || !view.Settings.MayTake(size) {
		return fault.Forbiddenf("This gallery does not hand that out.")
	}
	at := slices.IndexFunc(view.Sizes, func(s downloadstore.OutputSize) bool { return s.ID == size })
	if size != 0 && at < 0 {
		return fault.NotFoundf("There is no such size any more.")
	}
	var as outputs.Size
	if size != 0 {
		as = view.Sizes[at].For(accept)
		mark, err := s.Renditions.MarkOf(ctx, view.Brand, view.Settings.Mark)
		if err != nil {
			return err
		}
		as.Mark = mark
	}
	for i, name := range givenNames(pictures, size, as) {
		given := Given{Name: name, Of: pictures[i]}
		if size != 0 {
			made, err := s.Renditions.EnsureAtLast(ctx, view.Brand, pictures[i], as)
			if err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
			given.Blob = made.Blob
		}
		if err := each(given); err != nil {
			return err
		}
	}
	return nil
}

func givenNames(pictures []assetstore.Asset, size int64, as outputs.Size) []string {
	if size != 0 {
		return renditions.Names(pictures, as)
	}
	out := make([]string, len(pictures))
	for i, a := range pictures {
		out[i] = outputs.CleanName(a.FileName)
	}
	return outputs.Unique(out)
}

// ZipForGuest writes pictures as a ZIP in an output size; 0 is the originals.
func (s *Service) ZipForGuest(ctx context.Context, view *GuestView, pictures []assetstore.Asset, size int64, w io.Writer) error {
	archive := zip.NewWriter(w)
	err := s.Give(ctx, view, pictures, size, "", func(g Given) error {
		if g.Blob != "" {
			return s.Blobs.Pack(ctx, archive, g.Name, g.Blob)
		}
		return s.packOriginal(ctx, archive, g.Name, g.Of)
	})
	if err != nil {
		return err
	}
	return archive.Close()
}

func (s *Service) packOriginal(ctx context.Context, archive *zip.Writer, name string, a assetstore.Asset) error {
	file, err := s.Blobs.OpenSource(ctx, renditions.Original(a))
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	to, err := archive.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: time.Now()})
	if err != nil {
		return err
	}
	_, err = io.Copy(to, file)
	return err
}
