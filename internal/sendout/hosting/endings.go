package hosting

import (
	"context"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
)

// remindEndings is the job that writes to the coordinators when a gallery ends within a week.
type remindEndings struct{}

// Kind names the job.
func (remindEndings) Kind() string { return "remind_endings" }

const (
	endsWithin = 7 // days
	lookEvery  = time.Hour
)

// AddJobs makes the letters about endings known.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[remindEndings]{Do: func(ctx context.Context, _ remindEndings) error { return s.RemindEndings(ctx) },
		GaveUp: queue.Nothing[remindEndings], Tries: queue.Once, Queue: queue.Background, Alone: true})
	s.Queue.Regularly(lookEvery, true, remindEndings{})
}

// RemindEndings writes to the coordinators of each brand about galleries that end within a week, once for each last day.
func (s *Service) RemindEndings(ctx context.Context) error {
	if s.Mailer.Ready() != nil {
		return nil
	}
	ending, err := gallerystore.GalleriesEnding(ctx, s.DB, endsWithin)
	if err != nil {
		return err
	}
	for _, g := range ending {
		if err := s.remindEnding(ctx, g); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) remindEnding(ctx context.Context, g gallerystore.Gallery) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		news, err := gallerystore.NoteReminded(ctx, tx, g.ID, g.Ends.String)
		if err != nil || !news {
			return err
		}
		people, err := peoplestore.Members(ctx, tx, g.Brand)
		if err != nil {
			return err
		}
		day, err := time.Parse(time.DateOnly, g.Ends.String)
		if err != nil {
			return err
		}
		var all []peoplestore.Letter
		for _, m := range people {
			if m.Role != access.Coordinator {
				continue
			}
			l, err := letters.Write(letters.Draft{Subject: "It ends on " + day.Format("2 January") + ": " + g.Title, Greeting: letters.Dear(m.Name),
				Lines: []string{"The gallery “" + g.Title + "” is open until " + day.Format("Monday, 2 January 2006") + ". From the day after nobody " +
					"outside sees it any more.", "If it should stay open longer, choose a later last day."},
				Press: "See the gallery", Link: s.Origin + "/b/" + g.BrandCode + "/galleries", From: g.BrandName,
				Small: wording.OneLine("You get this e-mail because you are a coordinator of " + g.BrandName + ".")})
			if err != nil {
				return err
			}
			all = append(
				all,
				peoplestore.Letter{Brand: g.Brand, Kind: letters.EndsSoon, Name: m.Name, Email: m.Email, Subject: l.Subject, Text: l.Text,
					HTML: l.HTML},
			)
		}
		return s.Mailer.Add(ctx, tx, all)
	})
}
