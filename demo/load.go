// Package demo loads the demo brand, Tansyloft Kites: everything in it is made up. Its files are brought in and described
// through the same steps of the work that people use. Loading that was interrupted goes on where it stopped.
package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/wordstore"
)

// Password is the one that everybody in the demo brand signs in with; GuestPassword opens its gallery.
const (
	Password      = "windy-day-2026"
	GuestPassword = "mind-the-hedge"
	brandCode     = "tansyloft"
)

// People of the demo brand, one for each role. All of them are invented.
var People = []struct {
	Name, Email string
	Role        access.Role
}{
	{"Greta Ollin", "greta@tansyloft.example", access.Steward},
	{"Chioma Oxendell", "chioma@tansyloft.example", access.Coordinator},
	{"Farid Larkmere", "farid@tansyloft.example", access.Contributor},
	{"Hugo Prestwynd", "hugo@tansyloft.example", access.Reviewer},
	{"Wren Tolliver", "wren@fieldfare-studio.example", access.Associate},
}

// stages are the names that the brand uses for where an item stands.
var stages = []string{"To be cleared", "Cleared for web", "Print only"}

// entry is a file of manifest.json.
type entry struct {
	Path        string              `json:"path"`
	Title       string              `json:"title"`
	Description string              `json:"description"`
	Alt         string              `json:"alt"`
	Tags        map[string][]string `json:"tags"`
	People      []string            `json:"people"`
	Folder      string              `json:"folder"`
	Stars       json.RawMessage     `json:"stars"`
	Albums      []string            `json:"albums"`
	JustIn      bool                `json:"justIn"` // arrived this morning: nobody has filed or described it yet
}

func (e entry) rating() int {
	var stars int
	if json.Unmarshal(e.Stars, &stars) != nil {
		return -1 // "set aside"
	}
	return stars
}

type loader struct {
	h      *house.House
	from   From
	dir    string
	files  []entry
	viewer *access.Viewer
	assets map[string]int64 // by path
}

// From is where the demo brand comes from: the folder with its files, and the addresses (host:port) of the simulated services and of the
// website where it is shown.
type From struct{ Folder, Services, Website string }

// Load makes the demo brand unless it is there.
func Load(ctx context.Context, h *house.House, from From) error {
	ctx = store.ByAgent(ctx, "The loader of the demo brand")
	dir := from.Folder
	l := &loader{h: h, from: from, dir: dir, assets: map[string]int64{}}
	data, err := os.ReadFile(filepath.Join(dir, "manifest.json"))
	if err != nil {
		return fmt.Errorf("the demo brand's files: %w", err)
	}
	var manifest struct{ Files []entry }
	if err := json.Unmarshal(data, &manifest); err != nil {
		return fmt.Errorf("manifest.json: %w", err)
	}
	l.files = manifest.Files
	if err := l.brand(ctx); err != nil {
		return err
	}
	if galleries, err := h.Hosting.Galleries(ctx, l.viewer); err != nil || len(galleries) > 0 {
		return err
	}
	if err := h.Work(ctx); err != nil {
		return err
	}
	for _, step := range []func(context.Context) error{l.bringIn, l.describe, l.rate, l.gather, l.furnish, l.grant, l.gallery} {
		if err := step(ctx); err != nil {
			return fmt.Errorf("loading the demo brand: %w", err)
		}
	}
	return nil
}

// brand makes the brand with its people, output sizes and tags, and signs the coordinator in.
func (l *loader) brand(ctx context.Context) error {
	db := l.h.DB
	brand, err := peoplestore.BrandByCode(ctx, db, brandCode)
	if err != nil {
		return err
	}
	if brand == nil {
		err = db.InTx(ctx, func(tx *store.Tx) error {
			id, err := peoplestore.AddBrand(ctx, tx, brandCode, "Tansyloft Kites")
			if err != nil {
				return err
			}
			for _, p := range People {
				hash, err := passwords.Hash(Password)
				if err != nil {
					return err
				}
				if _, err := peoplestore.AddPerson(ctx, tx, id, p.Email, p.Name, hash, p.Role); err != nil {
					return err
				}
			}
			for _, s := range outputs.Defaults {
				if _, err := downloadstore.AddOutputSize(ctx, tx, id, s); err != nil {
					return err
				}
			}
			for _, stage := range stages {
				if err := assetstore.AddStage(ctx, tx, id, stage); err != nil {
					return err
				}
			}
			if err := l.outside(ctx, tx, id); err != nil {
				return err
			}
			return l.tags(ctx, tx, id)
		})
		if err != nil {
			return err
		}
	}
	l.viewer, err = l.signIn(ctx, access.Coordinator)
	return err
}

func (l *loader) signIn(ctx context.Context, role access.Role) (*access.Viewer, error) {
	for _, p := range People {
		if p.Role == role {
			person, err := peoplestore.PersonByEmail(ctx, l.h.DB, p.Email)
			if err != nil {
				return nil, err
			}
			return l.h.People.Viewer(ctx, person.ID, brandCode)
		}
	}
	return nil, fmt.Errorf("nobody is a %s", role)
}

// tags makes every tag in its group beforehand, so that keywords in the files find them.
func (l *loader) tags(ctx context.Context, tx *store.Tx, brand int64) error {
	for _, f := range l.files {
		for group, names := range f.allTags() {
			for _, name := range names {
				if _, err := tagstore.EnsureTag(ctx, tx, brand, name, group); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

func (e entry) allTags() map[string][]string {
	all := map[string][]string{}
	for group, names := range e.Tags {
		all[group] = append(all[group], names...)
	}
	all["People"] = append(all["People"], e.People...)
	return all
}

// bringIn brings the files in, one intake for each folder of the library.
func (l *loader) bringIn(ctx context.Context) error {
	var folders []string
	byFolder := map[string][]entry{}
	for _, f := range l.files {
		target := f.Folder
		if f.JustIn {
			target = ""
		}
		if byFolder[target] == nil {
			folders = append(folders, target)
		}
		byFolder[target] = append(byFolder[target], f)
	}
	// what nobody has filed yet arrived last
	slices.SortStableFunc(folders, func(a, b string) int { return strings.Compare(b, a) })
	for _, folder := range folders {
		if err := l.bringInto(ctx, folder, byFolder[folder]); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) bringInto(ctx context.Context, folder string, files []entry) error {
	var id int64
	err := l.h.DB.InTx(ctx, func(tx *store.Tx) error {
		for _, part := range outputs.CleanPath(folder) {
			var err error
			if id, _, err = folderstore.EnsureFolder(ctx, tx, l.viewer.Brand, id, part); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	dropped := make([]bringin.Dropped, len(files))
	for i, f := range files {
		info, err := os.Stat(filepath.Join(l.dir, f.Path))
		if err != nil {
			return err
		}
		dropped[i] = bringin.Dropped{Name: filepath.Base(f.Path), Bytes: info.Size()}
	}
	if l.viewer, err = l.signIn(ctx, access.Coordinator); err != nil { // sees the new folder
		return err
	}
	batch, err := l.h.BringIn.Begin(ctx, l.viewer, bringin.Target{Folder: id}, dropped, 0)
	if err != nil {
		return err
	}
	for i, f := range batch.Files {
		if err := l.receive(ctx, f.Code, files[i].Path); err != nil {
			return err
		}
	}
	return l.wait(ctx, batch.ID, files)
}

func (l *loader) receive(ctx context.Context, code, path string) error {
	file, err := os.Open(filepath.Join(l.dir, path))
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	return l.h.BringIn.Receive(ctx, code, file)
}

// wait waits until every file of an intake has its outcome. A file that is here already is one of an earlier loading.
func (l *loader) wait(ctx context.Context, intake int64, files []entry) error {
	for {
		batch, err := l.h.BringIn.Load(ctx, l.viewer, intake)
		if err != nil {
			return err
		}
		if batch.Finished.Valid {
			for i, f := range batch.Files {
				if !f.Asset.Valid {
					return fmt.Errorf("%s: %s", f.Name, f.Why)
				}
				l.assets[files[i].Path] = f.Asset.Int64
			}
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
}

func (l *loader) described() []entry {
	return slices.DeleteFunc(slices.Clone(l.files), func(f entry) bool { return f.JustIn })
}

// describe gives the items their words and tags.
func (l *loader) describe(ctx context.Context) error {
	tagged := map[string][]int64{}
	var names []string
	for _, f := range l.described() {
		card, err := l.h.Finding.Card(ctx, l.viewer, l.assets[f.Path])
		if err != nil {
			return err
		}
		words := wordstore.Description{Revision: card.Revision, Words: map[string]string{"title": f.Title, "description": f.Description,
			"alt": f.Alt, "credit": "Tansyloft Kites", "copyright": "© Tansyloft Kites"}}
		if _, err := l.h.Describing.Describe(ctx, l.viewer, card.ID, words); err != nil {
			return err
		}
		for _, group := range f.allTags() {
			for _, name := range group {
				if tagged[name] == nil {
					names = append(names, name)
				}
				tagged[name] = append(tagged[name], card.ID)
			}
		}
	}
	slices.Sort(names)
	for _, name := range names {
		if _, err := l.h.Describing.Tag(ctx, l.viewer, query.Selection{IDs: tagged[name]}, name, nil); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) rate(ctx context.Context) error {
	byStars := map[int][]int64{}
	for _, f := range l.described() {
		byStars[f.rating()] = append(byStars[f.rating()], l.assets[f.Path])
	}
	for _, stars := range []int{-1, 2, 3, 4, 5} {
		if len(byStars[stars]) == 0 {
			continue
		}
		if _, err := l.h.Choosing.Rate(ctx, l.viewer, query.Selection{IDs: byStars[stars]}, stars); err != nil {
			return err
		}
	}
	return nil
}

// gather makes the albums.
func (l *loader) gather(ctx context.Context) error {
	var names []string
	members := map[string][]int64{}
	for _, f := range l.described() {
		for _, name := range f.Albums {
			if members[name] == nil {
				names = append(names, name)
			}
			members[name] = append(members[name], l.assets[f.Path])
		}
	}
	for _, name := range names {
		id, err := l.album(ctx, name)
		if err != nil {
			return err
		}
		sel := query.Selection{IDs: members[name]}
		if id != 0 {
			_, err = l.h.Gathering.Add(ctx, l.viewer, []int64{id}, sel)
		} else {
			_, err = l.h.Gathering.Create(ctx, l.viewer, 0, name, &sel, nil)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) album(ctx context.Context, name string) (int64, error) {
	albums, err := l.h.Gathering.Albums(ctx, l.viewer)
	if err != nil {
		return 0, err
	}
	for _, a := range albums {
		if a.Name == name {
			return a.ID, nil
		}
	}
	return 0, nil
}

// grant lets the contributor work on this year's shoots, and the associate on the brand folder and see the press kit.
func (l *loader) grant(ctx context.Context) error {
	folders, err := l.h.Filing.Folders(ctx, l.viewer)
	if err != nil {
		return err
	}
	byName := map[string]int64{}
	for _, f := range folders {
		byName[f.Name] = f.ID
	}
	press, err := l.album(ctx, "Press kit")
	if err != nil {
		return err
	}
	grants := map[access.Role][]access.Grant{
		access.Contributor: {{Folder: byName["2026"], Level: access.LevelManage}},
		access.Associate:   {{Folder: byName["Brand"], Level: access.LevelContribute}, {Album: press, Level: access.LevelLook}},
	}
	return l.h.DB.InTx(ctx, func(tx *store.Tx) error {
		for role, list := range grants {
			v, err := l.signIn(ctx, role)
			if err != nil {
				return err
			}
			if len(v.Grants) > 0 {
				continue
			}
			for _, g := range list {
				if err := peoplestore.AddGrant(ctx, tx, v.Brand, v.Person, g); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// gallery opens a client gallery on the press kit.
func (l *loader) gallery(ctx context.Context) error {
	press, err := l.album(ctx, "Press kit")
	if err != nil {
		return err
	}
	title, password, open := "Press kit, spring 2026", GuestPassword, true
	message := "Dear press, everything you need and one kite you do not. Please mention the wind."
	logo := query.Selection{IDs: []int64{l.assets["media/brand/tansyloft-word-mark.svg"]}}
	if _, err := l.h.Embedding.SetLogos(ctx, l.viewer, logo, true); err != nil {
		return err
	}
	cover := l.assets["media/spring-meet-hallow-down/OST_0412.JPG"]
	done, err := l.h.Hosting.CreateGallery(ctx, l.viewer, galleries.Client, hosting.GalleryChange{Title: &title, Password: &password,
		Message: &message, Cover: &cover, Chapters: []gallerystore.Chapter{{Place: assetstore.Place{Album: press}}}})
	if err != nil {
		return err
	}
	_, err = l.h.Hosting.ChangeGallery(ctx, l.viewer, done.ID, hosting.GalleryChange{Open: &open})
	return err
}
