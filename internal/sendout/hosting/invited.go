package hosting

import (
	"context"
	"database/sql"
	"fmt"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
)

// Mailing is a letter about a gallery to guests. To are addresses as somebody typed them, for invitations; other letters go to those
// who were invited, or to some of them.
type Mailing struct {
	Kind     string // letters.Invitation, letters.NewPictures or letters.Reminder
	To       string
	Guests   []int64
	Words    string // of the one who sends it
	LeaveOut bool   // what is no address is left out
}

// Planned is a mailing before it goes: to whom, which parts are no addresses, who has had it, and one letter as it will look.
type Planned struct {
	To     []letters.Address
	Wrong  []string
	Had    []letters.Address
	Silent []letters.Address // want no more letters
	Letter letters.Letter
}

// coverWidth is how wide the picture in a letter is, in pixels.
const coverWidth = 1120

// PlanMailing says what a mailing would send, and sends nothing.
func (s *Service) PlanMailing(ctx context.Context, v *access.Viewer, gallery int64, m Mailing) (Planned, error) {
	g, err := gallerystore.GalleryByID(ctx, s.DB, v, gallery)
	if err != nil {
		return Planned{}, err
	}
	p, _, err := s.planned(ctx, s.DB, &g, m)
	if err != nil {
		return p, err
	}
	one := gallerystore.Guest{}
	if len(p.To) > 0 {
		one.Name, one.Email = p.To[0].Name, p.To[0].Email
	}
	p.Letter, err = letters.Write(s.draft(v, &g, m, one, "their-own-link", ""))
	return p, err
}

// planned sorts out whom a mailing goes to; ids are of those who are guests already.
func (s *Service) planned(ctx context.Context, r store.Reader, g *gallerystore.Gallery, m Mailing) (p Planned, ids map[string]int64,
	err error) {
	guests, err := gallerystore.Guests(ctx, r, g.ID)
	if err != nil {
		return p, nil, err
	}
	known, ids := map[string]gallerystore.ListedGuest{}, map[string]int64{}
	for _, u := range guests {
		if u.Email != "" {
			known[strings.ToLower(u.Email)] = u
		}
	}
	var to []letters.Address
	after := time.Time{}
	switch m.Kind {
	case letters.Invitation:
		to, p.Wrong = letters.ReadAddresses(m.To)
	case letters.NewPictures, letters.Reminder:
		after = time.Now().Add(-time.Hour) // whoever presses twice does not write twice
		wanted := map[int64]bool{}
		for _, id := range m.Guests {
			wanted[id] = true
		}
		for _, u := range guests {
			if u.Email != "" && !u.Withdrawn.Valid && (len(wanted) == 0 || wanted[u.ID]) {
				to = append(to, letters.Address{Name: u.Name, Email: u.Email})
			}
		}
	default:
		return p, nil, fault.Invalidf("kind", "%q is no kind of letter about a gallery.", m.Kind)
	}
	if len(to) > letters.MostAddresses || len(p.Wrong) > letters.MostAddresses {
		return p, nil, fault.Invalidf("to", "That is more than %d addresses. Invite some of them first.", letters.MostAddresses)
	}
	had, err := gallerystore.HadLetter(ctx, r, g.ID, m.Kind, after)
	for _, a := range to {
		u, is := known[strings.ToLower(a.Email)]
		switch {
		case is && had[u.ID] && !u.Withdrawn.Valid:
			p.Had = append(p.Had, a)
		case is && u.Silent && m.Kind != letters.Invitation:
			p.Silent = append(p.Silent, a)
		default:
			p.To = append(p.To, a)
			ids[a.Email] = u.ID
		}
	}
	return p, ids, err
}

// Mail sends a mailing: each of those whom it goes to gets one letter, with a link of their own.
func (s *Service) Mail(ctx context.Context, v *access.Viewer, gallery int64, m Mailing) (int, error) {
	if err := s.Mailer.Ready(); err != nil {
		return 0, err
	}
	cover, err := s.letterCover(ctx, v, gallery) // before the transaction, which holds a connection
	if err != nil {
		return 0, err
	}
	sent := 0
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		// Two who send at once wait for each other, and the second sends nothing more.
		g, err := gallerystore.GalleryForChange(ctx, tx, v, gallery)
		if err != nil {
			return err
		}
		if g.Gate().State(galleries.Caller{Password: true, Invitation: true}, time.Now().Format(time.DateOnly)) != galleries.Open {
			return fault.Invalidf("open", "“%s” is closed, so the link in an e-mail would lead nowhere. Open it first.", g.Title)
		}
		p, ids, err := s.planned(ctx, tx, &g, m)
		if err != nil {
			return err
		}
		if len(p.Wrong) > 0 && !m.LeaveOut {
			return fault.Invalidf("to", "%s no e-mail address: %s", wording.Count(len(p.Wrong), "part is", "parts are"), wording.And(p.Wrong))
		}
		all := make([]peoplestore.Letter, 0, len(p.To))
		for _, a := range p.To {
			guest := gallerystore.Guest{ID: ids[a.Email], Name: a.Name, Email: a.Email}
			if m.Kind == letters.Invitation {
				guest, err = gallerystore.InviteGuest(ctx, tx, v.Brand, g.ID, a, s.newLink())
			} else {
				guest, err = gallerystore.GuestByID(ctx, tx, g.ID, guest.ID)
			}
			if err != nil {
				return err
			}
			link, err := s.LinkOf(guest.Link)
			if err != nil {
				return fmt.Errorf("the link of %s: %w", guest.Called(), err)
			}
			draft := s.draft(v, &g, m, guest, link, cover)
			l, err := letters.Write(draft)
			if err != nil {
				return err
			}
			all = append(all, peoplestore.Letter{Brand: v.Brand, Kind: m.Kind, Guest: sql.NullInt64{Int64: guest.ID, Valid: true}, Name: guest.Name,
				Email: guest.Email, Subject: l.Subject, Text: l.Text, HTML: l.HTML, Cover: cover, Stop: draft.Stop})
		}
		if sent = len(all); sent == 0 {
			return nil
		}
		if err := s.Mailer.Add(ctx, tx, all); err != nil {
			return err
		}
		return tx.Note(ctx, v.Brand, v.Person, "gallery_letters", fmt.Sprintf("Sent %s about the gallery “%s”",
			wording.Count(sent, "letter", "letters"), g.Title))
	})
	return sent, err
}

// letterCover is the key of the picture in letters about a gallery, "" where it shows none.
func (s *Service) letterCover(ctx context.Context, v *access.Viewer, gallery int64) (string, error) {
	g, err := gallerystore.GalleryByID(ctx, s.DB, v, gallery)
	if err != nil {
		return "", err
	}
	one := []gallerystore.Gallery{g}
	if err := s.withItems(ctx, one); err != nil || !one[0].CoverID.Valid {
		return "", err
	}
	assets, err := assetstore.AssetsIn(ctx, s.DB, v.Brand, []int64{one[0].CoverID.Int64})
	if err != nil || len(assets) == 0 || assets[0].Kind != "picture" {
		return "", err
	}
	made, err := s.Renditions.Ensure(ctx, v.Brand, assets[0], outputs.Size{Name: "in letters", Width: coverWidth, Fit: outputs.Inside,
		Format: "jpeg", Quality: 80, Metadata: outputs.StripPrivate})
	return made.Blob, err
}

// draft is what a letter about a gallery to one guest is made of. Own is the secret part of their link.
func (s *Service) draft(v *access.Viewer, g *gallerystore.Gallery, m Mailing, to gallerystore.Guest, own, cover string) letters.Draft {
	d := letters.Draft{Greeting: letters.Dear(to.Name), Quote: strings.TrimSpace(m.Words), Press: "See the pictures",
		Link: s.Origin + g.At() + "?as=" + own, Stop: s.Origin + "/u/" + own, Cover: cover != "",
		From:  strings.TrimPrefix(v.Name+", ", ", ") + g.BrandName,
		Small: "The link is yours alone. Whoever you pass it on to looks and marks in your name."}
	switch m.Kind {
	case letters.Invitation:
		d.Subject = "Pictures for you: " + g.Title
		d.Lines = []string{fmt.Sprintf("%s invites you to look at “%s”.", g.BrandName, g.Title)}
	case letters.NewPictures:
		d.Subject = "New pictures: " + g.Title
		d.Lines = []string{fmt.Sprintf("There are new pictures in “%s”.", g.Title)}
	case letters.Reminder:
		d.Subject = "A reminder: " + g.Title
		d.Lines = []string{fmt.Sprintf("“%s” is waiting for you.", g.Title)}
	}
	if g.Message != "" && m.Kind == letters.Invitation {
		d.Lines = append(d.Lines, g.Message)
	}
	if g.Ends.Valid {
		if day, err := time.Parse(time.DateOnly, g.Ends.String); err == nil {
			d.Lines = append(d.Lines, "It is open until "+day.Format("2 January 2006")+".")
		}
	}
	return d
}

// Withdraw takes the link of a guest back.
func (s *Service) Withdraw(ctx context.Context, v *access.Viewer, gallery, guest int64) (gallerystore.Guest, error) {
	var u gallerystore.Guest
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		g, err := gallerystore.GalleryByID(ctx, tx, v, gallery)
		if err != nil {
			return err
		}
		if u, err = gallerystore.WithdrawGuest(ctx, tx, g.ID, guest); err != nil {
			return err
		}
		return tx.Note(ctx, v.Brand, v.Person, "withdraw_guest", fmt.Sprintf("Took the link of %s to the gallery “%s” back", u.Called(), g.Title))
	})
	return u, err
}

// LetterAgain sends a letter about a gallery once more of which somebody says that it did not arrive.
func (s *Service) LetterAgain(ctx context.Context, v *access.Viewer, letter int64) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		l, err := peoplestore.LetterByID(ctx, tx, v.Brand, letter)
		if err != nil {
			return err
		}
		if err := s.Mailer.Again(ctx, tx, v.Brand, letter); err != nil {
			return err
		}
		return tx.Note(ctx, v.Brand, v.Person, "gallery_letters", fmt.Sprintf("Sent the letter “%s” to %s again", l.Subject, l.Email))
	})
}
