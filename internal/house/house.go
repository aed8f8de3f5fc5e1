// Package house builds the application from its parts: the same for the server, for workers, for loading the demo brand
// and for tests.
package house

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/riverqueue/river"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/choosing"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/finding/index"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/media"
	"brightsatchel/internal/people"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
	"brightsatchel/internal/upkeep"
)

// Config says where things are. Workers is how many pictures are made at a time.
type Config struct {
	Database string // URL of a PostgreSQL database
	Data     string // folder for media and uploads
	Workers  int
	// ServerFolders are the folders on this machine inside of which stewards can allow folders to bring in from.
	ServerFolders []string
}

// House is the application.
type House struct {
	Config     Config
	DB         *store.DB
	Blobs      *blob.Store
	Media      *media.Engine
	Queue      *queue.Queue
	Index      *index.Index
	BringIn    *bringin.Service
	Filing     *filing.Service
	Describing *describing.Service
	Choosing   *choosing.Service
	Gathering  *gathering.Service
	Finding    *finding.Service
	SendOut    *sendout.Service
	Upkeep     *upkeep.Service
	People     *people.Service
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
	found := index.New(db)
	db.Finder = found
	jobs, err := queue.New(db)
	if err != nil {
		db.Close()
		return nil, err
	}
	engine := media.NewEngine(c.Workers)
	return &House{
		Config: c, DB: db, Blobs: blobs, Media: engine, Queue: jobs, Index: found,
		BringIn:    &bringin.Service{DB: db, Blobs: blobs, Media: engine, Queue: jobs, Uploads: uploads, Allowed: c.ServerFolders},
		Filing:     &filing.Service{DB: db, Blobs: blobs, Queue: jobs},
		Describing: &describing.Service{DB: db},
		Choosing:   &choosing.Service{DB: db},
		Gathering:  &gathering.Service{DB: db},
		Finding:    &finding.Service{Finder: db.Find(), DB: db, Blobs: blobs, Media: engine},
		SendOut:    &sendout.Service{DB: db, Blobs: blobs, Media: engine, Queue: jobs},
		Upkeep:     &upkeep.Service{DB: db, Queue: jobs},
		People:     &people.Service{DB: db},
	}, nil
}

// Work starts doing background work in this process, and takes up what was left when it was last ended. Name is unique
// to the process among those running, and the same from one start to the next.
func (h *House) Work(ctx context.Context, name string) error {
	workers := river.NewWorkers()
	river.AddWorker(workers, &bringin.Taker{Service: h.BringIn})
	river.AddWorker(workers, &bringin.Fetcher{Service: h.BringIn})
	river.AddWorker(workers, &bringin.Looker{Service: h.BringIn})
	river.AddWorker(workers, &bringin.Again{Service: h.BringIn})
	river.AddWorker(workers, &bringin.Turner{Service: h.BringIn})
	river.AddWorker(workers, &bringin.Watcher{Service: h.BringIn})
	river.AddWorker(workers, &bringin.LeftChecker{Service: h.BringIn})
	river.AddWorker(workers, &filing.Changer{Service: h.Filing})
	river.AddWorker(workers, &filing.Clearer{Service: h.Filing})
	river.AddWorker(workers, &upkeep.Undoer{Service: h.Upkeep})
	river.AddWorker(workers, &sendout.Maker{Service: h.SendOut})
	if err := h.BringIn.Recover(ctx); err != nil {
		return err
	}
	return h.Queue.Start(ctx, name, workers, []*river.PeriodicJob{
		river.NewPeriodicJob(river.PeriodicInterval(bringin.WatchEvery), func() (river.JobArgs, *river.InsertOpts) { return bringin.WatchArgs{}, nil }, nil),
		river.NewPeriodicJob(river.PeriodicInterval(bringin.CheckLeftEvery), func() (river.JobArgs, *river.InsertOpts) { return bringin.CheckLeftArgs{}, nil }, &river.PeriodicJobOpts{RunOnStart: true}),
		river.NewPeriodicJob(river.PeriodicInterval(clearEvery), func() (river.JobArgs, *river.InsertOpts) { return filing.ClearArgs{}, nil }, &river.PeriodicJobOpts{RunOnStart: true}),
	}, h.Config.Workers)
}

// clearEvery is how often what is due is cleared away.
const clearEvery = 24 * time.Hour

// Close ends background work, at most until ctx ends, and lets go of everything.
func (h *House) Close(ctx context.Context) {
	h.Queue.Stop(ctx)
	h.Media.Close()
	_ = h.Blobs.Close()
	h.DB.Close()
}
