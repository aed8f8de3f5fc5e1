package bringin

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/metadata"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/tagstore"
)

// errSettled ends a transaction for a file that got its outcome meanwhile: it was cancelled.
var errSettled = errors.New("the file has its outcome already")

// makeItem adds the item, or the version, and settles the file in one transaction. Of two racing files with the same
// bytes the second waits for the first, and is then a duplicate.
func (s *Service) makeItem(ctx context.Context, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes, facts media.Facts) error {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.ContinueTrail(ctx, in.Trail.Int64); err != nil {
			return err
		}
		// What was chosen and said about the file may have changed while it was looked at.
		var err error
		if f, err = intakestore.LockIntakeFile(ctx, tx, f.Code); err != nil {
			return err
		}
		if f.State != string(arrival.Arrived) {
			return errSettled
		}
		words, err := f.Words()
		if err != nil {
			return err
		}
		if err := assetstore.LockContent(ctx, tx, in.Brand, got.sum); err != nil {
			return err
		}
		same, err := assetstore.SameContent(ctx, tx, in.Brand, got.sum, 0)
		if err != nil {
			return err
		}
		var outcome intakestore.Outcome
		state, err := becomes(ctx, tx, f, in, same, got.sum)
		if err != nil {
			return err
		}
		back, err := s.cameBack(ctx, tx, f, in, got, facts)
		switch {
		case err != nil:
		case back != nil:
			outcome = *back
		case state == arrival.Skipped:
			outcome, err = s.skippedFor(ctx, tx, in, *same)
		case state == arrival.Version:
			if f.Replaces.Valid {
				if same, err = assetstore.DuplicateOf(ctx, tx, f.Replaces.Int64); err != nil {
					return err
				}
			}
			outcome, err = s.addVersion(ctx, tx, f, in, got, facts, *same)
		default:
			outcome, err = s.addAsset(ctx, tx, f, in, got, facts, words)
		}
		if err != nil {
			return err
		}
		news, err := intakestore.SettleFile(ctx, tx, f, outcome)
		if err == nil && !news {
			err = errSettled
		}
		return err
	})
	if errors.Is(err, errSettled) {
		return nil
	}
	return err
}

// addVersion makes the file the newest version of the item that it repeats, if the person may change that.
func (s *Service) addVersion(ctx context.Context, tx *store.Tx, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes,
	facts media.Facts, same assetstore.Duplicate) (intakestore.Outcome, error) {
	v, err := s.viewer(ctx, tx, in)
	if err != nil {
		return intakestore.Outcome{}, err
	}
	if !v.May(access.Describe).Folder(same.Folder.Int64) || same.Binned.Valid {
		o, err := s.skippedFor(ctx, tx, in, same)
		if err != nil {
			return intakestore.Outcome{}, err
		}
		o.Why += " It could not become a version of that."
		return o, nil
	}
	version, err := assetstore.AddVersion(ctx, tx, in.Brand, same.Asset, renditions.File(f.Name, got.size, got.sum, facts, got.left))
	if err != nil {
		return intakestore.Outcome{}, err
	}
	return intakestore.Outcome{State: arrival.Version, Why: fmt.Sprintf("It is the newest version of “%s”.", same.Title), Asset: same.Asset,
			Version: version},
		s.Queue.Enqueue(ctx, tx, looking.Look{Brand: in.Brand, Asset: same.Asset})
}

// viewer is the person of an intake as they stand now.
func (s *Service) viewer(ctx context.Context, r store.Reader, in intakestore.Intake) (*access.Viewer, error) {
	brand, err := peoplestore.BrandCode(ctx, r, in.Brand)
	if err != nil {
		return nil, err
	}
	return peoplestore.LoadViewer(ctx, r, in.Person, brand)
}

func (s *Service) addAsset(ctx context.Context, tx *store.Tx, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes,
	facts media.Facts, words arrival.Words) (intakestore.Outcome, error) {
	// Of a raw picture and its JPEG the second to come finds the first.
	if err := intakestore.LockStem(ctx, tx, in.ID, f.Path, arrival.Stem(f.Name)); err != nil {
		return intakestore.Outcome{}, err
	}
	folder := in.Folder.Int64
	for part := range strings.SplitSeq(f.Path, "/") {
		if part == "" {
			continue
		}
		var err error
		if folder, _, err = folderstore.EnsureFolder(ctx, tx, in.Brand, folder, part); err != nil {
			return intakestore.Outcome{}, err
		}
	}
	n := newAsset(f, in, folder, got, facts)
	if err := s.nameByWords(ctx, tx, &n, f, in, words); err != nil {
		return intakestore.Outcome{}, err
	}
	asset, err := assetstore.AddAsset(ctx, tx, n)
	if err != nil {
		return intakestore.Outcome{}, err
	}
	if err := tagWithKeywords(ctx, tx, in.Brand, asset, facts.Says.Keywords); err != nil {
		return intakestore.Outcome{}, err
	}
	if err := nameFaces(ctx, tx, in.Brand, asset, facts.Says.Faces); err != nil {
		return intakestore.Outcome{}, err
	}
	if err := gatherByWords(ctx, tx, in, asset, words); err != nil {
		return intakestore.Outcome{}, err
	}
	if err := stackWithRaw(ctx, tx, in, f, asset); err != nil {
		return intakestore.Outcome{}, err
	}
	if err := s.noteOrigin(ctx, tx, in, f, asset); err != nil {
		return intakestore.Outcome{}, err
	}
	if words.Turn != nil && *words.Turn != facts.Recipe.Turn && facts.Kind == "picture" {
		if err := s.Queue.Enqueue(ctx, tx, renditions.Turn{Brand: in.Brand, Asset: asset, Turn: *words.Turn}); err != nil {
			return intakestore.Outcome{}, err
		}
	}
	if facts.Kind != "file" {
		err = s.Queue.Enqueue(ctx, tx, looking.Look{Brand: in.Brand, Asset: asset})
	}
	return intakestore.Outcome{State: arrival.Added, Why: plainFile(facts), Asset: asset}, err
}

func plainFile(facts media.Facts) string {
	if facts.Kind == "file" {
		return "It cannot be shown here and is kept as a plain file."
	}
	return facts.Note
}

// stackWithRaw puts a raw picture and a JPEG of the same name, brought in together, into one stack that shows the JPEG.
func stackWithRaw(ctx context.Context, tx *store.Tx, in intakestore.Intake, f intakestore.IntakeFile, asset int64) error {
	mates, err := intakestore.AddedIn(ctx, tx, in.ID, f.Path, arrival.Stem(f.Name))
	if err != nil {
		return err
	}
	raw := arrival.RawName(f.Name)
	for _, mate := range mates {
		if arrival.RawName(mate.Name) == raw {
			continue
		}
		front := asset
		if raw {
			front = mate.Asset.Int64
		}
		return assetstore.Stack(ctx, tx, in.Brand, []int64{asset, mate.Asset.Int64}, front)
	}
	return nil
}

func newAsset(f intakestore.IntakeFile, in intakestore.Intake, folder int64, got fileBytes, facts media.Facts) assetstore.NewAsset {
	says := facts.Says
	n := assetstore.NewAsset{
		File: renditions.File(f.Name, got.size, got.sum, facts, got.left), Brand: in.Brand, Person: in.Person, Folder: folder,
		Source: in.Source, Recipe: facts.Recipe,
		Title: says.Title, Description: says.Description, Alt: says.Alt, Credit: says.Credit, Copyright: says.Copyright,
		UsageTerms: says.UsageTerms,
		Stars:      says.Rating, Stage: says.Label,
		Camera: says.Camera, Lens: says.Lens, Exposure: says.Exposure, Place: says.Place, Latitude: says.Latitude,
		Longitude: says.Longitude,
	}
	if says.Taken != nil {
		n.Taken, n.TakenZone = &says.Taken.Local, says.Taken.Zone
	}
	return n
}

// longestKeyword is how long a keyword in a file may be to become a tag, in bytes.
const longestKeyword = 100

func tagWithKeywords(ctx context.Context, tx *store.Tx, brand, asset int64, keywords []string) error {
	var tags []int64
	for _, word := range keywords {
		if len(word) > longestKeyword {
			continue
		}
		tag, err := tagstore.EnsureTag(ctx, tx, brand, word, "")
		if err != nil {
			return err
		}
		tags = append(tags, tag)
	}
	_, err := tagstore.AddTagsFrom(ctx, tx, brand, []int64{asset}, tags, "file")
	return err
}

// nameFaces keeps the faces that a file names, and tags the item with the people.
func nameFaces(ctx context.Context, tx *store.Tx, brand, asset int64, faces []metadata.Face) error {
	for _, face := range faces {
		if face.Name == "" || len(face.Name) > longestKeyword {
			continue
		}
		tag, err := tagstore.EnsureTag(ctx, tx, brand, face.Name, "People")
		if err != nil {
			return err
		}
		if _, err := tagstore.AddTagsFrom(ctx, tx, brand, []int64{asset}, []int64{tag}, "file"); err != nil {
			return err
		}
		region := geometry.Region{X: face.X - face.Width/2, Y: face.Y - face.Height/2, Width: face.Width, Height: face.Height}
		if err := facestore.NameFace(ctx, tx, brand, asset, tag, region); err != nil {
			return err
		}
	}
	return nil
}
