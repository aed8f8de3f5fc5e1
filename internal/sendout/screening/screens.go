package screening

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"math/big"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/screens"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/screenstore"
)

// Bounds of screens and of pairing them.
const (
	pairingLasts  = 10 * time.Minute
	pairingKept   = 24 * time.Hour // for a screen that was left standing with its code
	mostPairings  = 10_000         // that wait at a time
	mostScreens   = 500            // of a brand
	mostOnScreen  = 300            // items on a screen
	longestScreen = 200            // characters of its name
	noteEvery     = 15 * time.Second
	pairingTries  = 10 // wrong codes of a person within a quarter of an hour
	beginnings    = 60 // screens from one address within a quarter of an hour
	attemptWindow = 15 * time.Minute
)

func tokenSum(token string) []byte {
	sum := sha256.Sum256([]byte("screen " + token))
	return sum[:]
}

// BeginScreen gives a screen the token by which it is known from now on. From is the address that it asks from.
func (s *Service) BeginScreen(ctx context.Context, from string) (string, error) {
	wait, err := poststore.CountAttempt(ctx, s.DB, access.Limit{Key: "screens from " + from, Free: beginnings, Within: attemptWindow})
	if err != nil {
		return "", err
	}
	if wait > 0 {
		return "", &fault.TooMany{Text: "Too many screens ask from here. Wait a quarter of an hour.", After: wait}
	}
	n, err := screenstore.CountPairings(ctx, s.DB)
	if err == nil && n >= mostPairings {
		err = &fault.TooMany{Text: "Too many screens wait to be paired. Try again in a few minutes.", After: time.Minute}
	}
	if err != nil {
		return "", err
	}
	token := rand.Text()
	_, err = s.pairingFor(ctx, tokenSum(token))
	return token, err
}

// pairingFor gives a screen that is not paired a code.
func (s *Service) pairingFor(ctx context.Context, sum []byte) (screenstore.Pairing, error) {
	for range 20 { // until one that no other screen shows
		p := screenstore.Pairing{Code: screens.PairingCode(randomBelow), Expires: time.Now().Add(pairingLasts)}
		ok := false
		err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
			ok, err = screenstore.AddPairing(ctx, tx, sum, p, pairingKept)
			return err
		})
		if err != nil || ok {
			return p, err
		}
	}
	return screenstore.Pairing{}, errors.New("no pairing code is free")
}

func randomBelow(n int) int {
	at, err := rand.Int(rand.Reader, big.NewInt(int64(n)))
	if err != nil {
		panic(err) // the system has no random numbers
	}
	return int(at.Int64())
}

// OnScreen is what a screen is to show: a code as long as it is not paired; else items, and how.
type OnScreen struct {
	Pairing  *screenstore.Pairing
	Screen   screenstore.Screen
	Switches []screens.Switch
	Items    showing.Embedded
	Order    []int64
}

// ViewScreen tells a screen by its token what it is to show now.
func (s *Service) ViewScreen(ctx context.Context, token string) (OnScreen, error) {
	sum := tokenSum(token)
	screen, err := screenstore.ScreenByToken(ctx, s.DB, sum)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		p, err := screenstore.PairingOf(ctx, s.DB, sum)
		if err == nil && time.Now().After(p.Expires) {
			p, err = s.pairingFor(ctx, sum)
		}
		return OnScreen{Pairing: &p}, err
	}
	if err != nil {
		return OnScreen{}, err
	}
	return s.onScreen(ctx, screen)
}

// ScreenByCode is what a screen shows, by its code, for its pictures.
func (s *Service) ScreenByCode(ctx context.Context, code string) (OnScreen, error) {
	screen, err := screenstore.ScreenByCode(ctx, s.DB, code)
	if err != nil {
		return OnScreen{}, err
	}
	return s.onScreen(ctx, screen)
}

func (s *Service) onScreen(ctx context.Context, screen screenstore.Screen) (OnScreen, error) {
	now := time.Now()
	set := screen.Settings.Settings
	out := OnScreen{Screen: screen, Switches: set.Switches(now)}
	if may, err := s.mayShowOn(ctx, screen); err != nil || !may {
		return out, err
	}
	e := embedstore.Embed{Brand: screen.Brand, Sources: []assetstore.Place{{Album: screen.Album.Int64, ByRule: screen.ByRule}}}
	e.Settings.Settings = embeds.Usual()
	e.Settings.Most = mostOnScreen
	e.Settings.Sort, e.Settings.Descending = "hand", false
	if set.Order == "newest" {
		e.Settings.Sort, e.Settings.Descending = "added", true
	}
	var err error
	if out.Items, err = showing.OfEmbed(ctx, s.DB, e); err != nil {
		return out, err
	}
	ids := make([]int64, len(out.Items.Pictures))
	for i, a := range out.Items.Pictures {
		ids[i] = a.ID
	}
	out.Order = set.Sorted(ids, screen.Code, now)
	return out, nil
}

// mayShowOn says whether whoever paired the screen, or chose its album last, may show that now.
func (s *Service) mayShowOn(ctx context.Context, screen screenstore.Screen) (bool, error) {
	if !screen.Album.Valid || !screen.Person.Valid {
		return false, nil
	}
	v, err := peoplestore.ViewerIn(ctx, s.DB, screen.Person.Int64, screen.Brand)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return false, nil
	}
	if err != nil || !v.Can(access.Galleries) {
		return false, err
	}
	_, err = albumstore.SeenAlbum(ctx, s.DB, v, screen.Album.Int64)
	if errors.As(err, &missing) {
		return false, nil
	}
	return err == nil, err
}

// NoteScreen writes down what a screen says of itself.
func (s *Service) NoteScreen(ctx context.Context, screen screenstore.Screen, seen screenstore.ScreenSeen) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return screenstore.NoteScreen(ctx, tx, screen, seen, noteEvery) })
}

// Screens lists the screens of the brand.
func (s *Service) Screens(ctx context.Context, v *access.Viewer) ([]screenstore.Screen, error) {
	return screenstore.Screens(ctx, s.DB, v.Brand)
}

// PairScreen takes the screen that shows a code into the brand, under a name, with the album that it shows (0 is none yet). Wrong codes are
// counted.
func (s *Service) PairScreen(ctx context.Context, v *access.Viewer, typed, name string, album int64, zone string) (store.Done, error) {
	name, err := screenName(name)
	if err != nil {
		return store.Done{}, err
	}
	settings := screens.Usual(zone)
	if err := settings.Check(); err != nil {
		return store.Done{}, err
	}
	tries := access.Limit{Key: fmt.Sprintf("pairing %d", v.Person), Free: pairingTries, Within: attemptWindow}
	if wait, err := poststore.CountAttempt(ctx, s.DB, tries); err != nil || wait > 0 {
		return store.Done{}, errors.Join(err, tooManyCodes(wait))
	}
	done, err := s.DB.Act(ctx, v, "screen", func(tx *store.Tx) (store.Done, error) {
		all, err := screenstore.Screens(ctx, tx, v.Brand)
		if err == nil && len(all) >= mostScreens {
			err = fault.Invalidf("code", "There are %d screens already.", len(all))
		}
		if err != nil {
			return store.Done{}, err
		}
		sum, err := screenstore.TakePairing(ctx, tx, screens.TypedCode(typed))
		var missing *fault.NotFound
		if errors.As(err, &missing) {
			err = fault.Invalidf("code", "%s", missing.Text)
		}
		if err != nil {
			return store.Done{}, err
		}
		one := screenstore.Screen{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person, Valid: true}, Name: name}
		one.Settings.Settings = settings
		if album != 0 {
			if _, err := albumstore.SeenAlbum(ctx, tx, v, album); err != nil {
				return store.Done{}, err
			}
			one.Album = sql.NullInt64{Int64: album, Valid: true}
		}
		id, err := screenstore.AddScreen(ctx, tx, one, sum)
		return store.Done{Said: fmt.Sprintf("Paired the screen “%s”", name), Changed: 1, ID: id}, err
	})
	if err == nil {
		err = poststore.ForgetAttempt(ctx, s.DB, tries)
	}
	return done, err
}

func tooManyCodes(wait time.Duration) error {
	return &fault.TooMany{Text: "That was tried too often. Wait " + wording.Wait(wait) + ", and read the code from the screen again.",
		After: wait}
}

func screenName(name string) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || len([]rune(name)) > longestScreen {
		return "", fault.Invalidf("name", "A screen has a name of 1 to %d characters.", longestScreen)
	}
	return name, nil
}

// ScreenChange is what can be set about a screen; nil stays. Jump is by how many pictures it goes on now, less than 0 for back.
type ScreenChange struct {
	Name, State *string
	Album       *int64
	Settings    *screens.Settings
	Jump        int
}

// ChangeScreen changes what a screen shows and how, or tells it to pause, to go on, or to show nothing. It does so within a second.
func (s *Service) ChangeScreen(ctx context.Context, v *access.Viewer, id int64, c ScreenChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "screen", func(tx *store.Tx) (store.Done, error) {
		one, err := screenstore.ScreenByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		said := fmt.Sprintf("Changed the screen “%s”", one.Name)
		if c.Name != nil {
			if one.Name, err = screenName(*c.Name); err != nil {
				return store.Done{}, err
			}
		}
		if c.State != nil {
			one.State = *c.State
			said = fmt.Sprintf("The screen “%s” %s", one.Name, map[string]string{"playing": "plays", "paused": "pauses",
				"blank": "shows nothing"}[one.State])
		}
		if c.Settings != nil {
			if err := c.Settings.Check(); err != nil {
				return store.Done{}, err
			}
			one.Settings.Settings = *c.Settings
		}
		if c.Album != nil {
			one.Album = sql.NullInt64{Int64: *c.Album, Valid: *c.Album != 0}
			one.Person = sql.NullInt64{Int64: v.Person, Valid: true} // it is shown in their name from now on
			said = fmt.Sprintf("The screen “%s” shows nothing now", one.Name)
			if *c.Album != 0 {
				album, err := albumstore.SeenAlbum(ctx, tx, v, *c.Album)
				if err != nil {
					return store.Done{}, err
				}
				said = fmt.Sprintf("The screen “%s” shows “%s”", one.Name, album.Name)
			}
		}
		if c.Jump != 0 {
			one.Jumps += c.Jump
			said = fmt.Sprintf("The screen “%s” goes %s", one.Name, map[bool]string{true: "on", false: "back"}[c.Jump > 0])
		}
		return store.Done{Said: said, Changed: 1, ID: id}, screenstore.ChangeScreen(ctx, tx, one)
	})
}

// RemoveScreen ends that a screen shows anything of the brand; it asks to be paired again.
func (s *Service) RemoveScreen(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "screen", func(tx *store.Tx) (store.Done, error) {
		one, err := screenstore.ScreenByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("The screen “%s” is not paired any more", one.Name),
			Changed: 1,
		}, screenstore.RemoveScreen(ctx, tx, id)
	})
}
