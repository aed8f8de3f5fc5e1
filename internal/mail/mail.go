// Package mail sends letters by SMTP. A letter is written down before it is sent and what came of it after; where that cannot be known
// it is unsure, and only a person has it sent again.
package mail

import (
	"context"
	"errors"
	"fmt"
	"net"

	"brightsatchel/internal/store/peoplestore"

	netmail "net/mail"
	"regexp"
	"strconv"
	"time"

	smtp "github.com/wneessen/go-mail"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Config says how letters go out.
type Config struct {
	Server         string // host:port of a mail server; "" sends nothing
	From           string // address that letters are from
	User, Password string // for the mail server, where it asks
}

// Service sends letters.
type Service struct {
	Config
	DB    *store.DB
	Blobs *blob.Store
	Queue *queue.Queue
}

// Ready says what is missing for letters to be sent.
func (s *Service) Ready() error {
	if s == nil || s.Server == "" {
		return fault.Invalidf("letters", "No mail server is set, so no e-mail can be sent. Copy the link and send it yourself.")
	}
	return nil
}

// sendLetter is the job that sends one letter.
type sendLetter struct {
	Letter int64 `json:"letter"`
}

// Kind names the job.
func (sendLetter) Kind() string { return "send_letter" }

// AddJobs makes the queue know how letters are sent.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[sendLetter]{Do: func(ctx context.Context, job sendLetter) error { return s.Send(ctx, job.Letter) },
		GaveUp: s.gaveUp, Tries: queue.Patient, Queue: queue.Letters})
}

// Add keeps letters in a transaction, and has them sent once it is committed.
func (s *Service) Add(ctx context.Context, tx *store.Tx, all []peoplestore.Letter) error {
	if err := s.Ready(); err != nil {
		return err
	}
	jobs := make([]queue.Args, len(all))
	for i, l := range all {
		id, err := peoplestore.AddLetter(ctx, tx, l)
		if err != nil {
			return err
		}
		jobs[i] = sendLetter{id}
	}
	return s.Queue.EnqueueAll(ctx, tx, jobs)
}

// Again has a letter sent once more of which somebody says that it did not arrive.
func (s *Service) Again(ctx context.Context, tx *store.Tx, brand, id int64) error {
	if err := s.Ready(); err != nil {
		return err
	}
	if err := peoplestore.SendAgain(ctx, tx, brand, id); err != nil {
		return err
	}
	return s.Queue.Enqueue(ctx, tx, sendLetter{id})
}

func (s *Service) gaveUp(ctx context.Context, job sendLetter, why error) error {
	if errors.Is(why, queue.ErrKilled) {
		return peoplestore.GiveUpLetter(ctx, s.DB, job.Letter, "Something went wrong on the server, and it was not sent.")
	}
	return peoplestore.GiveUpLetter(ctx, s.DB, job.Letter, "The mail server could not be reached for half a day: "+short(why))
}

// Send hands a letter that waits to the mail server. An error means that it was not taken and can be tried again.
func (s *Service) Send(ctx context.Context, id int64) error {
	l, taken, err := peoplestore.TakeLetter(ctx, s.DB, id)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && !taken {
		return nil // its guest was removed, or it is done with
	}
	if err != nil {
		return err
	}
	ended := context.WithoutCancel(ctx)
	came, failed := s.deliver(ctx, l)
	switch came {
	case accepted:
		return peoplestore.EndLetter(ended, s.DB, l.ID, "sent", "")
	case refused:
		return peoplestore.EndLetter(ended, s.DB, l.ID, "refused", short(failed))
	case unsure:
		return peoplestore.EndLetter(ended, s.DB, l.ID, "unsure", "The mail server took it and did not say whether it will deliver it.")
	}
	return errors.Join(failed, peoplestore.EndLetter(ended, s.DB, l.ID, "waiting", short(failed)))
}

// What comes of handing a letter to a mail server.
type outcome int

const (
	accepted outcome = iota
	later            // it was not taken, and may be if tried again
	refused          // it will not be taken
	unsure           // it may have been taken
)

// patience is how long a mail server may take for one step.
const patience = 30 * time.Second

func (s *Service) deliver(ctx context.Context, l peoplestore.Letter) (outcome, error) {
	message, err := s.message(ctx, l)
	if err != nil {
		return refused, err
	}
	host, port, err := net.SplitHostPort(s.Server)
	if err != nil {
		return later, fmt.Errorf("the address of the mail server: %w", err)
	}
	number, err := strconv.Atoi(port)
	if err != nil {
		return later, fmt.Errorf("the port of the mail server: %w", err)
	}
	options := []smtp.Option{smtp.WithPort(number), smtp.WithTimeout(patience), smtp.WithTLSPolicy(smtp.TLSOpportunistic)}
	if s.User != "" {
		options = append(options, smtp.WithSMTPAuth(smtp.SMTPAuthAutoDiscover), smtp.WithUsername(s.User), smtp.WithPassword(s.Password))
	}
	client, err := smtp.NewClient(host, options...)
	if err != nil {
		return later, err
	}
	ctx, end := context.WithTimeout(ctx, 4*patience)
	defer end()
	if err := client.DialWithContext(ctx); err != nil {
		return later, err
	}
	defer func() { _ = client.Close() }()
	return came(client.Send(message))
}

// came reads what came of sending from the answers of the mail server (RFC 5321, section 4.2.1): 4yz may be tried again, 5yz never. Only
// at the end of the data no answer leaves open whether the letter was taken.
func came(err error) (outcome, error) {
	if err == nil {
		return accepted, nil
	}
	var failed *smtp.SendError
	if !errors.As(err, &failed) {
		return later, err
	}
	switch code := failed.ErrorCode(); {
	case failed.Reason == smtp.ErrSMTPReset:
		return accepted, nil // it was taken before
	case code >= 500:
		return refused, err
	case code >= 400:
		return later, err
	case failed.Reason == smtp.ErrSMTPDataClose:
		return unsure, err
	}
	return later, err
}

// message is a letter as MIME: text first, HTML as an alternative, the cover inside of it.
func (s *Service) message(ctx context.Context, l peoplestore.Letter) (*smtp.Msg, error) {
	m := smtp.NewMsg(smtp.WithNoDefaultUserAgent())
	if err := m.From(s.From); err != nil {
		return nil, fmt.Errorf("the address that letters are from: %w", err)
	}
	m.ToMailAddress(&netmail.Address{Name: l.Name, Address: l.Email})
	m.Subject(l.Subject)
	m.SetDateWithValue(l.Created)
	_, host, _ := cutAddress(s.From)
	m.SetMessageIDWithValue(l.Code + "." + strconv.FormatInt(l.ID, 10) + "@" + host) // the same at every try
	if l.Stop != "" {
		m.SetListUnsubscribe(l.Stop)
		m.SetListUnsubscribePost()
	}
	m.SetBodyString(smtp.TypeTextPlain, l.Text)
	m.AddAlternativeString(smtp.TypeTextHTML, l.HTML)
	if l.Cover == "" {
		return m, nil
	}
	picture, err := s.Blobs.Open(ctx, l.Cover)
	if err != nil {
		return m, nil //nolint:nilerr // a letter without its picture is better than none
	}
	defer func() { _ = picture.Close() }()
	return m, m.EmbedReader("cover.jpg", picture, smtp.WithFileContentID(letters.CoverID), smtp.WithFileContentType("image/jpeg"))
}

func cutAddress(from string) (name, host string, ok bool) {
	parsed, err := netmail.ParseAddress(from)
	if err != nil {
		return "", "localhost", false
	}
	for i := len(parsed.Address) - 1; i >= 0; i-- {
		if parsed.Address[i] == '@' {
			return parsed.Name, parsed.Address[i+1:], true
		}
	}
	return "", "localhost", false
}

// answered finds the answer of a mail server in an error.
var answered = regexp.MustCompile(`(?s)\b([245]\d\d) "(.*?)"`)

// mostOfWhy is how much of an error is kept, in bytes: what a mail server says is not ours.
const mostOfWhy = 300

func short(err error) string {
	if err == nil {
		return ""
	}
	words := err.Error()
	if said := answered.FindStringSubmatch(words); said != nil {
		words = "the mail server says " + said[1] + " " + said[2]
	}
	text := []rune(words)
	return string(text[:min(len(text), mostOfWhy)])
}
