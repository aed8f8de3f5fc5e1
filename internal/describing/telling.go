package describing

import (
	"context"
	"fmt"
	"strings"
	"time"

	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/peoplestore"
)

// tellPeople is the job that tells people of new pictures that show them: one letter a day each.
type tellPeople struct{}

// Kind names the job.
func (tellPeople) Kind() string { return "tell_people" }

const (
	tellEvery  = time.Hour
	mostTitles = 20 // that a letter lists
)

func (s *Service) addTelling(jobs *queue.Queue) {
	queue.Add(jobs, queue.Kind[tellPeople]{Do: func(ctx context.Context, _ tellPeople) error { return s.TellPeople(ctx) },
		GaveUp: queue.Nothing[tellPeople], Tries: queue.Once, Queue: queue.Background, Alone: true})
	jobs.Regularly(tellEvery, false, tellPeople{})
}

// TellPeople writes to those who want to be told, each at most once a day, of the pictures that show them and of which they do not know.
func (s *Service) TellPeople(ctx context.Context) error {
	if s.Mail.Ready() != nil {
		return nil
	}
	people, err := facestore.PeopleToTell(ctx, s.DB)
	if err != nil {
		return err
	}
	for _, p := range people {
		if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return s.tell(ctx, tx, p) }); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) tell(ctx context.Context, tx *store.Tx, p facestore.ToTell) error {
	titles, err := facestore.NewOn(ctx, tx, p)
	if err != nil || len(titles) == 0 {
		return err
	}
	n := wording.Count(len(titles), "new picture", "new pictures")
	some := titles[:min(len(titles), mostTitles)]
	listed := "They are called " + strings.Join(some, "; ")
	if len(titles) == 1 {
		listed = "It is called " + titles[0]
	}
	if more := len(titles) - len(some); more > 0 {
		listed += fmt.Sprintf("; and %d more", more)
	}
	l, err := letters.Write(letters.Draft{Subject: fmt.Sprintf("You are on %s at %s", n, p.BrandName), Greeting: letters.Dear(p.Name),
		Lines: []string{fmt.Sprintf("The media library of %s has %s that you are on.", p.BrandName, n), listed + ".",
			"If you do not want one of them to be shown, tell the people there."}, From: p.BrandName,
		Small: "You get at most one such e-mail a day. Tell the people at " + p.BrandName + " if you want none."})
	if err != nil {
		return err
	}
	return s.Mail.Add(ctx, tx, []peoplestore.Letter{{Brand: p.Brand, Kind: letters.Shown, Name: p.Name, Email: p.Email, Subject: l.Subject,
		Text: l.Text, HTML: l.HTML}})
}
