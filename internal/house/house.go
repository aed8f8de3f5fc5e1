// Package house builds the application from its parts: the same for the server, for workers, for loading the demo brand
// and for tests.
package house

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/choosing"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/finding/index"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/inplace"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/media"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/people"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/preparing"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/sealing"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/sendout/rehearsals"
	"brightsatchel/internal/sendout/screening"
	"brightsatchel/internal/sendout/shelving"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/upkeep"
)

// Config says where things are. Workers is how many pictures are made at a time.
type Config struct {
	Database string // URL of a PostgreSQL database
	Data     string // folder for media and uploads
	Workers  int
	// ServerFolders are the folders on this machine inside of which stewards can allow folders to bring in from.
	ServerFolders []string
	// Outlets are addresses (host:port) on this machine or in private networks where outlets may be.
	Outlets []string
	// Services are those at which the server is registered, so that people can let it into their accounts.
	Services []outlets.Registered
	// Keys seal the tokens of accounts, as sealing.Read takes them; without them they are kept in a file in the data folder.
	Keys string
	// Origin is how people reach the server, for links in letters, as https://satchel.example.org.
	Origin string
	Mail   mail.Config
}

// House is the application.
type House struct {
	Config     Config
	DB         *store.DB
	Blobs      *blob.Store
	Media      *media.Engine
	Queue      *queue.Queue
	Index      *index.Index
	Pieces     *pieces.Service
	Mail       *mail.Service
	Renditions *renditions.Service
	Looking    *looking.Service
	InPlace    *inplace.Service
	BringIn    *bringin.Service
	Filing     *filing.Service
	Describing *describing.Service
	Choosing   *choosing.Service
	Preparing  *preparing.Service
	Gathering  *gathering.Service
	Finding    *finding.Service
	TakeAlong  *takealong.Service
	Posting    *posting.Service
	Hosting    *hosting.Service
	Embedding  *embedding.Service
	Screening  *screening.Service
	Rehearsals *rehearsals.Service
	Shelving   *shelving.Service
	Upkeep     *upkeep.Service
	People     *people.Service

	identity *queue.Identity
	Keys     sealing.Keys // seal what must not be read, or made up, outside
}

// Open connects to everything and brings the database to its present form.
func Open(ctx context.Context, c Config) (*House, error) {
	uploads := filepath.Join(c.Data, "uploads")
	if err := os.MkdirAll(uploads, 0o700); err != nil {
		return nil, fmt.Errorf("the data folder: %w", err)
	}
	db, err := store.Open(ctx, c.Database)
	if err != nil {
		return nil, err
	}
	if err := db.Migrate(ctx); err != nil {
		db.Close()
		return nil, err
	}
	blobs, err := blob.Open(filepath.Join(c.Data, "media"))
	if err != nil {
		db.Close()
		return nil, err
	}
	jobs, err := queue.New(db)
	if err != nil {
		db.Close()
		return nil, err
	}
	h := &House{Config: c, DB: db, Blobs: blobs, Queue: jobs, Media: media.NewEngine(c.Workers), Index: index.New(db)}
	db.Finder = h.Index
	if err := h.readKeys(); err != nil {
		db.Close()
		return nil, err
	}
	h.build(uploads)
	if err := h.Posting.Outlets.SealAnew(ctx); err != nil {
		db.Close()
		return nil, err
	}
	return h, nil
}

// readKeys reads the keys that seal the tokens of accounts.
func (h *House) readKeys() (err error) {
	if h.Config.Keys != "" {
		h.Keys, err = sealing.Read(h.Config.Keys)
	} else {
		h.Keys, err = sealing.FromFile(filepath.Join(h.Config.Data, "keys"))
	}
	if err != nil {
		return fmt.Errorf("the keys that seal the tokens of accounts: %w", err)
	}
	return nil
}

// build makes the steps of the work on their foundation. Each makes its acts and jobs known.
func (h *House) build(uploads string) {
	guard := passwords.NewGuard(h.DB)
	connections := &outlets.Connections{DB: h.DB, Allowed: h.Config.Outlets, Services: h.Config.Services, Keys: h.Keys,
		Origin: h.Config.Origin}
	h.Pieces = pieces.New(h.DB, h.Queue)
	h.Renditions = renditions.New(h.DB, h.Blobs, h.Media, h.Queue, h.Config.Workers)
	h.Mail = &mail.Service{Config: h.Config.Mail, DB: h.DB, Blobs: h.Blobs, Queue: h.Queue}
	h.Mail.AddJobs()
	h.Looking = &looking.Service{DB: h.DB, Blobs: h.Blobs, Media: h.Media, Queue: h.Queue, Clips: h.Renditions.Clips,
		Previews: h.Renditions.Previews, Arrived: h.Renditions.Arrived, Patience: 20 * time.Second}
	h.Looking.AddJobs()
	h.InPlace = &inplace.Service{DB: h.DB, Blobs: h.Blobs, Media: h.Media, Queue: h.Queue, Renditions: h.Renditions}
	h.InPlace.AddJobs()
	h.BringIn = &bringin.Service{
		DB: h.DB, Blobs: h.Blobs, Media: h.Media, Queue: h.Queue, Uploads: uploads, Allowed: h.Config.ServerFolders,
		Renditions: h.Renditions, Outlets: connections,
	}
	h.BringIn.AddJobs()
	h.Filing = filing.New(h.DB, h.Blobs, h.Pieces, h.Queue)
	h.Describing = describing.New(h.DB, h.Pieces, h.Mail, h.Queue)
	h.Choosing = choosing.New(h.DB, h.Pieces)
	h.Preparing = preparing.New(h.DB, h.Queue, h.Renditions, h.Pieces)
	h.Gathering = gathering.New(h.DB, h.Blobs, h.Media, h.Pieces)
	h.Finding = &finding.Service{Finder: findstore.Find(h.DB), DB: h.DB}
	h.TakeAlong = &takealong.Service{DB: h.DB, Blobs: h.Blobs, Queue: h.Queue, Renditions: h.Renditions}
	h.TakeAlong.AddJobs()
	h.Posting = &posting.Service{DB: h.DB, Blobs: h.Blobs, Queue: h.Queue, Renditions: h.Renditions, Outlets: connections,
		Origin: h.Config.Origin}
	h.Posting.AddJobs()
	h.Hosting = &hosting.Service{DB: h.DB, Blobs: h.Blobs, Queue: h.Queue, Renditions: h.Renditions, Passwords: guard, Mailer: h.Mail,
		Keys: h.Keys, Origin: h.Config.Origin}
	h.Hosting.AddJobs()
	h.Embedding = &embedding.Service{DB: h.DB, Renditions: h.Renditions}
	h.Screening = &screening.Service{DB: h.DB}
	h.Rehearsals, h.Shelving = &rehearsals.Service{DB: h.DB}, &shelving.Service{DB: h.DB}
	h.Upkeep = upkeep.New(h.DB, h.Pieces)
	h.People = &people.Service{DB: h.DB, Passwords: guard, Mail: h.Mail, Origin: h.Config.Origin}
}

// Work starts doing background work in this process, and takes up what processes that are gone left.
func (h *House) Work(ctx context.Context) error {
	dir := filepath.Join(h.Config.Data, "processes")
	self, err := queue.Identify(dir)
	if err != nil {
		return err
	}
	h.identity = self
	if err := h.BringIn.Recover(ctx); err != nil {
		return err
	}
	if err := h.Queue.Start(ctx, self, h.Config.Workers+2); err != nil {
		return err
	}
	self.Settled(dir)
	return nil
}

// Close ends background work, at most until ctx ends, and lets go of everything.
func (h *House) Close(ctx context.Context) {
	clean := h.Queue.Stop(ctx)
	if h.identity != nil {
		h.identity.Release(clean)
	}
	h.Media.Close()
	_ = h.Blobs.Close()
	h.DB.Close()
}
