package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
)

// LinkLasts is how long the link works with which somebody chooses their password.
const LinkLasts = 7 * 24 * time.Hour

// A password has at least so many characters, and at most so many bytes.
const (
	shortestPassword = 10
	longestPassword  = 200
	longestName      = 100
)

// Invited is somebody who belongs to a brand now. Token is of the link with which they choose their password; it is "" for
// somebody who has one already.
type Invited struct {
	Person int64
	Token  string
	Ends   time.Time
	Sent   bool // a letter with the link is on its way
}

// Invite lets somebody into the brand. Who has the address already, from another brand, keeps their name and password.
func (s *Service) Invite(ctx context.Context, v *access.Viewer, name, email string, role access.Role) (Invited, error) {
	name, err := cleanName(name)
	if err != nil {
		return Invited{}, err
	}
	parsed, err := mail.ParseAddress(strings.TrimSpace(email))
	if err != nil || parsed.Name != "" || !strings.Contains(parsed.Address, "@") {
		return Invited{}, fault.Invalidf("email", "“%s” is not an e-mail address.", email)
	}
	var out Invited
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if _, err := folderstore.LockFolderTree(ctx, tx, v.Brand); err != nil {
			return err
		}
		person, err := peoplestore.PersonByEmail(ctx, tx, parsed.Address)
		var missing *fault.NotFound
		switch {
		case errors.As(err, &missing):
			if person.ID, err = peoplestore.AddPerson(ctx, tx, v.Brand, parsed.Address, name, "", role); err != nil {
				return err
			}
			person.Name = name
		case err != nil:
			return err
		default:
			people, err := peoplestore.Members(ctx, tx, v.Brand)
			if err != nil {
				return err
			}
			if slices.ContainsFunc(people, func(m peoplestore.Member) bool { return m.ID == person.ID }) {
				return fault.Invalidf("email", "%s belongs to the brand already.", person.Name)
			}
			if err := peoplestore.AddMembership(ctx, tx, v.Brand, person.ID, role); err != nil {
				return err
			}
		}
		if err := tx.Note(ctx, v.Brand, v.Person, "invite", fmt.Sprintf("Added %s as a %s", person.Name, role)); err != nil {
			return err
		}
		out.Person = person.ID
		if person.PasswordHash != "" {
			return nil
		}
		if err := s.addLink(ctx, tx, v, &out); err != nil {
			return err
		}
		return s.writeLink(ctx, tx, v, parsed.Address, person.Name, letters.Join, &out)
	})
	return out, err
}

// NewLink makes a link with which somebody of the brand chooses a password, again or at first. Somebody who belongs to
// brands of which the viewer is no steward keeps theirs: who could choose it could be them there.
func (s *Service) NewLink(ctx context.Context, v *access.Viewer, person int64) (Invited, error) {
	out := Invited{Person: person}
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		m, err := member(ctx, tx, v.Brand, person)
		if err != nil {
			return err
		}
		if err := s.addLink(ctx, tx, v, &out); err != nil {
			return err
		}
		if err := s.writeLink(ctx, tx, v, m.Email, m.Name, letters.Password, &out); err != nil {
			return err
		}
		return tx.Note(ctx, v.Brand, v.Person, "invite", "Made a link for "+m.Name+" to choose a password")
	})
	return out, err
}

func (s *Service) addLink(ctx context.Context, tx *store.Tx, v *access.Viewer, to *Invited) error {
	only, err := peoplestore.OnlyIn(ctx, tx, to.Person, v.Person)
	if err != nil {
		return err
	}
	if !only {
		return fault.Forbiddenf("They also belong to a brand that you are not a steward of. A steward of that brand makes the link.")
	}
	to.Token, to.Ends = rand.Text(), time.Now().Add(LinkLasts)
	return peoplestore.AddInvitation(ctx, tx, v.Brand, to.Person, v.Person, sumOf(to.Token), to.Ends)
}

// writeLink sends somebody their link, where a mail server is set.
func (s *Service) writeLink(ctx context.Context, tx *store.Tx, v *access.Viewer, email, name, kind string, to *Invited) error {
	if s.Mail.Ready() != nil {
		return nil
	}
	d := letters.Draft{Greeting: letters.Dear(name), Link: s.Origin + "/join/" + to.Token, From: v.Name + ", " + v.BrandName,
		Subject: "Come and work with us at " + v.BrandName, Press: "Choose a password",
		Lines: []string{fmt.Sprintf("%s has added you to the media library of %s. Choose a password, and you are in.", v.Name, v.BrandName)},
		Small: "The link works once, until " + to.Ends.UTC().Format("2 January 2006, 15:04") + " UTC. " +
			"If you do not know what this is about, do nothing."}
	if kind == letters.Password {
		d.Subject = "Choose a password for " + v.BrandName
		d.Lines = []string{"With this link you choose another password. Until then the one that you have goes on working."}
	}
	to.Sent = true
	return s.write(ctx, tx, v.Brand, kind, email, name, d)
}

func (s *Service) write(ctx context.Context, tx *store.Tx, brand int64, kind, email, name string, d letters.Draft) error {
	l, err := letters.Write(d)
	if err != nil {
		return err
	}
	return s.Mail.Add(ctx, tx, []peoplestore.Letter{{Brand: brand, Kind: kind, Name: name, Email: email, Subject: l.Subject, Text: l.Text,
		HTML: l.HTML}})
}

func sumOf(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// Invitation is what a link is for, while it works.
func (s *Service) Invitation(ctx context.Context, token string) (peoplestore.Invitation, error) {
	return peoplestore.InvitationBy(ctx, s.DB, sumOf(token))
}

// Join spends a link: its person has the password from now on, and is signed out everywhere else.
func (s *Service) Join(ctx context.Context, token, password string) (peoplestore.Invitation, error) {
	i, err := s.Invitation(ctx, token)
	if err != nil {
		return i, err
	}
	hash, err := s.hash(ctx, password)
	if err != nil {
		return i, err
	}
	return i, s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := peoplestore.UseInvitation(ctx, tx, i.ID); err != nil {
			return err
		}
		if _, err := peoplestore.EndSessions(ctx, tx, i.Person, ""); err != nil {
			return err
		}
		if err := drivestore.EndWaysIn(ctx, tx, i.Person, false); err != nil {
			return err
		}
		return peoplestore.SetPassword(ctx, tx, i.Person, hash)
	})
}

// Leave takes somebody out of the brand: a steward anybody, everybody themself. What they made stays.
func (s *Service) Leave(ctx context.Context, v *access.Viewer, person int64) error {
	if person != v.Person && !v.Can(access.Settings) {
		return fault.Forbiddenf("Only a steward takes somebody out of the brand.")
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if _, err := folderstore.LockFolderTree(ctx, tx, v.Brand); err != nil { // so that two stewards cannot both go
			return err
		}
		people, err := peoplestore.Members(ctx, tx, v.Brand)
		if err != nil {
			return err
		}
		m, err := member(ctx, tx, v.Brand, person)
		if err != nil {
			return err
		}
		if access.NeedsSteward(actors(people), person) {
			return fault.Invalidf("person", "A brand needs a steward, and %s is the only one. Make somebody else a steward first.", m.Name)
		}
		said := "Took " + m.Name + " out of the brand"
		if person == v.Person {
			said = m.Name + " left the brand"
		}
		if err := tx.Note(ctx, v.Brand, v.Person, "leave", said); err != nil {
			return err
		}
		return peoplestore.EndMembership(ctx, tx, v.Brand, person)
	})
}

// Elsewhere lists the people of other brands of the viewer's, as a steward, who could be added to this one.
func (s *Service) Elsewhere(ctx context.Context, v *access.Viewer) ([]peoplestore.Person, error) {
	return peoplestore.KnownElsewhere(ctx, s.DB, v.Brand, v.Person)
}

func member(ctx context.Context, r store.Reader, brand, person int64) (peoplestore.Member, error) {
	people, err := peoplestore.Members(ctx, r, brand)
	at := slices.IndexFunc(people, func(m peoplestore.Member) bool { return m.ID == person })
	if err == nil && at < 0 {
		err = fault.NotFoundf("That person does not belong to the brand.")
	}
	if err != nil {
		return peoplestore.Member{}, err
	}
	return people[at], nil
}

func cleanName(name string) (string, error) {
	name = strings.Join(strings.Fields(norm.NFC.String(name)), " ")
	if name == "" || len([]rune(name)) > longestName {
		return "", fault.Invalidf("name", "A name has between 1 and %d characters.", longestName)
	}
	return name, nil
}
