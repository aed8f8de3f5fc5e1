package describing

import (
	"context"
	"fmt"
	"net/mail"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
)

// PersonShown is somebody who is shown in pictures, with on how many items, how the consent stands today (of sending.Standings), and
// a face to be known by, whose ID is 0 when there is none.
type PersonShown struct {
	facestore.PersonShown
	Items    int
	Stands   string
	Portrait facestore.OpenFace
}

// PeopleShown lists those who are shown in the pictures of the brand.
func (s *Service) PeopleShown(ctx context.Context, v *access.Viewer) ([]PersonShown, error) {
	people, err := facestore.PeopleShown(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	ids, today := make([]int64, len(people)), findstore.Today()
	for i, p := range people {
		ids[i] = p.ID
	}
	portraits, err := facestore.Portraits(ctx, s.DB, v, ids)
	if err != nil {
		return nil, err
	}
	faces := make(map[int64]facestore.OpenFace, len(portraits))
	for _, p := range portraits {
		faces[p.Person] = p.OpenFace
	}
	tags, err := findstore.Find(s.DB).Tags(ctx, v)
	uses := make(map[int64]int, len(tags))
	for _, t := range tags {
		uses[t.ID] = t.Uses
	}
	out := make([]PersonShown, len(people))
	for i, p := range people {
		out[i] = PersonShown{PersonShown: p, Items: uses[p.ID], Stands: p.Agrees().On(today), Portrait: faces[p.ID]}
	}
	return out, err
}

// AboutPerson is what is written down about a person; nil parts stay.
type AboutPerson struct {
	Email, Consent, ConsentUntil, Note *string
	Told                               *bool // of new pictures, by letter
}

// longestNote is how many characters a note about a consent has at most.
const longestNote = 1000

// WriteAbout writes down what is known of somebody who is shown.
func (s *Service) WriteAbout(ctx context.Context, v *access.Viewer, id int64, about AboutPerson) (store.Done, error) {
	return s.DB.Act(ctx, v, "person_shown", func(tx *store.Tx) (store.Done, error) {
		was, err := facestore.PersonShownByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		now := was
		for _, part := range []struct{ to, from *string }{{&now.Email, about.Email}, {&now.Consent, about.Consent},
			{&now.ConsentUntil, about.ConsentUntil}, {&now.Note, about.Note}} {
			if part.from != nil {
				*part.to = strings.TrimSpace(*part.from)
			}
		}
		if about.Told != nil {
			now.Told = *about.Told
		}
		if now.Told && now.Email == "" {
			if about.Told != nil {
				return store.Done{}, fault.Invalidf("told", "Write down their e-mail address first.")
			}
			now.Told = false
		}
		if now.Consent != sending.Given && about.ConsentUntil == nil {
			now.ConsentUntil = ""
		}
		if err := checkPerson(&now); err != nil {
			return store.Done{}, err
		}
		if now == was {
			return store.Done{Said: "Nothing to change"}, nil
		}
		if err := facestore.SavePersonShown(ctx, tx, v.Brand, now); err != nil {
			return store.Done{}, err
		}
		if now.Told && !was.Told { // what there is already is no news
			err = facestore.KnowsAll(ctx, tx, now.ID)
		}
		return store.Done{Said: saidOfPerson(was, now), Changed: 1}, err
	})
}

func checkPerson(p *facestore.PersonShown) error {
	if err := p.Agrees().Check(); err != nil {
		return err
	}
	if len([]rune(p.Note)) > longestNote {
		return fault.Invalidf("note", "A note has at most %d characters.", longestNote)
	}
	if p.Email == "" {
		return nil
	}
	if address, err := mail.ParseAddress(p.Email); err != nil || address.Name != "" || len(p.Email) > 254 {
		return fault.Invalidf("email", "%q is not an e-mail address.", p.Email)
	}
	return nil
}

func saidOfPerson(was, now facestore.PersonShown) string {
	if now.Told && !was.Told {
		return fmt.Sprintf("%s is told of new pictures, by one e-mail a day", now.Name)
	}
	if was.Agrees() == now.Agrees() {
		return fmt.Sprintf("Changed what is known of %s", now.Name)
	}
	switch {
	case now.Consent == sending.Refused:
		return fmt.Sprintf("%s does not agree to be shown in public", now.Name)
	case now.Consent == sending.Open:
		return fmt.Sprintf("It is open whether %s agrees to be shown in public", now.Name)
	case now.ConsentUntil != "":
		return fmt.Sprintf("%s agrees to be shown in public until %s", now.Name, now.ConsentUntil)
	}
	return fmt.Sprintf("%s agrees to be shown in public", now.Name)
}
