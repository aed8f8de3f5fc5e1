package people_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/people"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

func peopleService(t *testing.T) (*people.Service, *store.DB) {
	db := storetest.New(t)
	return &people.Service{DB: db, Passwords: passwords.NewGuard(db)}, db
}

func TestSomebodyIsInvitedAndChoosesAPasswordOnce(t *testing.T) {
	s, db := peopleService(t)
	steward := storetest.Brand(t, db, "kites")[access.Steward]
	for _, wrong := range [][2]string{{"", "a@b.example"}, {"Ines", "not an address"},
		{"Ines", "Ines <a@b.example>"}, {"Ines", "STEWARD@kites.example"}} {
		_, err := s.Invite(ctx, steward, wrong[0], wrong[1], access.Reviewer)
		var invalid *fault.Invalid
		require.ErrorAs(t, err, &invalid, wrong)
	}
	i, err := s.Invite(ctx, steward, "  Ines   Duarte ", "ines@kites.example", access.Reviewer)
	require.NoError(t, err)
	require.NotEmpty(t, i.Token)
	assert.WithinDuration(t, time.Now().Add(people.LinkLasts), i.Ends, time.Minute)
	for _, guess := range []string{"", "x"} {
		_, err = s.SignIn(ctx, "ines@kites.example", guess, passwords.Caller{From: "here"})
		require.Error(t, err, "without a password nobody comes in")
	}
	seen, err := s.Invitation(ctx, i.Token)
	require.NoError(t, err)
	assert.Equal(t, "Ines Duarte", seen.Name)
	_, err = s.Join(ctx, i.Token, "short")
	require.Error(t, err)

	var group sync.WaitGroup
	joined := make(chan string, 8)
	for _, password := range []string{"one password for all", "another password here"} {
		group.Go(func() {
			if _, err := s.Join(ctx, i.Token, password); err == nil {
				joined <- password
			}
		})
	}
	group.Wait()
	require.Len(t, joined, 1, "of two at once one chooses")
	_, err = s.SignIn(ctx, "ines@kites.example", <-joined, passwords.Caller{From: "here"})
	require.NoError(t, err)
	_, err = s.Join(ctx, i.Token, "a third password")
	require.Error(t, err)

	again, err := s.NewLink(ctx, steward, i.Person)
	require.NoError(t, err)
	newer, err := s.NewLink(ctx, steward, i.Person)
	require.NoError(t, err)
	_, err = s.Invitation(ctx, again.Token)
	require.Error(t, err, "a newer link ends the one before")
	_, err = storetest.SQL(db).Exec(`update invitation set ends_at = now() where used_at is null`)
	require.NoError(t, err)
	_, err = s.Join(ctx, newer.Token, "after the week")
	require.Error(t, err)
}

func TestOneStewardIsNoStewardElsewhere(t *testing.T) {
	s, db := peopleService(t)
	kites, press := storetest.Brand(t, db, "kites"), storetest.Brand(t, db, "press")
	one, other := kites[access.Steward], press[access.Steward]
	i, err := s.Invite(ctx, one, "Whoever", "reviewer@press.example", access.Reviewer)
	require.NoError(t, err)
	assert.Equal(t, press[access.Reviewer].Person, i.Person)
	assert.Empty(t, i.Token, "they have a password")
	_, err = s.NewLink(ctx, one, i.Person)
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden, "who chose the password could be them in the other brand")
	_, err = s.NewLink(ctx, other, i.Person)
	require.ErrorAs(t, err, &forbidden)
	known, err := s.Elsewhere(ctx, one)
	require.NoError(t, err)
	assert.Empty(t, known, "the people of a brand are for its stewards to know")
	_, err = s.Invite(ctx, other, "", "steward@kites.example", access.Steward)
	require.Error(t, err)
	_, err = s.Invite(ctx, other, "x", "steward@kites.example", access.Steward)
	require.NoError(t, err)
	known, err = s.Elsewhere(ctx, storetest.See(t, db, one.Person, "kites"))
	require.NoError(t, err)
	assert.Len(t, known, 4, "all of the press but who is here and the reviewer")
}

func TestPeopleLeaveAndWhatTheyMadeStays(t *testing.T) {
	s, db := peopleService(t)
	team := storetest.Brand(t, db, "kites")
	steward, coordinator := team[access.Steward], team[access.Coordinator]
	item := storetest.Items(t, db, coordinator, 0, "a.jpg")[0]
	require.Error(t, s.Leave(ctx, coordinator, team[access.Reviewer].Person), "only stewards take somebody out")
	require.Error(t, s.Leave(ctx, steward, steward.Person), "the last steward stays")
	require.NoError(t, s.Leave(ctx, coordinator, coordinator.Person))
	_, err := s.Viewer(ctx, coordinator.Person, "kites")
	require.Error(t, err)
	row, err := assetstore.AssetByID(ctx, db, steward, item)
	require.NoError(t, err)
	assert.Equal(t, "The coordinator", row.AddedBy.String)
	require.NoError(t, s.SetRole(ctx, steward, team[access.Reviewer].Person, access.Steward))
	var group sync.WaitGroup
	gone := make(chan int64, 2)
	for _, v := range []*access.Viewer{steward, storetest.See(t, db, team[access.Reviewer].Person, "kites")} {
		group.Go(func() {
			if s.Leave(ctx, v, v.Person) == nil {
				gone <- v.Person
			}
		})
	}
	group.Wait()
	assert.Len(t, gone, 1, "two stewards cannot both go")
}

func TestOnesOwnNameAndPassword(t *testing.T) {
	s, db := peopleService(t)
	me := storetest.Brand(t, db, "kites")[access.Coordinator].Person
	hash, err := passwords.Hash("the present one")
	require.NoError(t, err)
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error { return peoplestore.SetPassword(ctx, tx, me, hash) }))
	for _, token := range []string{"mine", "other"} {
		_, err := storetest.SQL(db).Exec(`insert into sessions (token, data, expiry) values ($1, '', now() + interval '1 day')`, token)
		require.NoError(t, err)
		require.NoError(t, peoplestore.NoteSession(ctx, db, me, peoplestore.Session{Token: token, Browser: "A browser", Place: "127.0.0.1"}))
	}
	name, err := s.Rename(ctx, me, " Corin\tAsh ")
	require.NoError(t, err)
	assert.Equal(t, "Corin Ash", name)
	_, err = s.Rename(ctx, me, "   ")
	require.Error(t, err)

	require.Error(t, s.ChangePassword(ctx, me, "mine", "a wrong one", "the next password", false, passwords.Caller{From: "here"}))
	require.Error(t, s.ChangePassword(ctx, me, "mine", "the present one", "short", false, passwords.Caller{From: "here"}))
	require.NoError(t, s.ChangePassword(ctx, me, "mine", "the present one", "the next password", false, passwords.Caller{From: "here"}))
	sessions, err := s.Sessions(ctx, me)
	require.NoError(t, err)
	require.Len(t, sessions, 1, "other browsers are signed out")
	assert.Equal(t, "mine", sessions[0].Token)
	require.Error(t, s.EndSession(ctx, me, "somebody else's"))
	require.NoError(t, s.EndSession(ctx, me, "mine"))
	_, err = s.SignIn(ctx, "coordinator@kites.example", "the next password", passwords.Caller{From: "here"})
	require.NoError(t, err)
}

// TestWhoForgotTheirPasswordGetsALetter, whoever has no address here gets none, and neither is told.
func TestWhoForgotTheirPasswordGetsALetter(t *testing.T) {
	s, db := peopleService(t)
	steward := storetest.Brand(t, db, "kites")[access.Steward]
	require.ErrorContains(t, s.Forgot(ctx, "steward@kites.example", passwords.Caller{From: "here"}), "E-mail cannot be sent from here")
	jobs, err := queue.New(db)
	require.NoError(t, err)
	s.Mail = &mail.Service{Config: mail.Config{Server: "127.0.0.1:1", From: "satchel@house.example"}, DB: db, Queue: jobs}
	s.Mail.AddJobs()
	s.Origin = "https://satchel.example"
	require.NoError(t, s.Forgot(ctx, "nobody@kites.example", passwords.Caller{From: "here"}))
	require.NoError(t, s.Forgot(ctx, " STEWARD@kites.example ", passwords.Caller{From: "here"}))
	var texts []string
	require.NoError(t, storetest.SQL(db).Select(&texts, `select body_text from letter`))
	require.Len(t, texts, 1)
	_, link, there := strings.Cut(texts[0], "https://satchel.example/join/")
	require.True(t, there)
	i, err := s.Join(ctx, strings.Fields(link)[0], "another long password")
	require.NoError(t, err)
	assert.Equal(t, steward.Person, i.Person)
	for range 4 {
		err = s.Forgot(ctx, "steward@kites.example", passwords.Caller{From: "elsewhere"})
	}
	var tooMany *fault.TooMany
	require.ErrorAs(t, err, &tooMany, "nobody's letters are flooded")
	for i := range 12 { // nor by many strangers, who cannot hold up whoever was signed in on a device before either
		err = s.Forgot(ctx, "steward@kites.example", passwords.Caller{From: fmt.Sprint("stranger ", i)})
	}
	require.ErrorAs(t, err, &tooMany)
	require.NoError(t, s.Forgot(ctx, "steward@kites.example", passwords.Caller{From: "elsewhere", Device: "a phone"}))

	invited, err := s.Invite(ctx, steward, "Ines", "ines@kites.example", access.Reviewer)
	require.NoError(t, err)
	assert.True(t, invited.Sent)
	require.NoError(t, storetest.SQL(db).Select(&texts, `select body_text from letter where to_email = 'ines@kites.example'`))
	require.Len(t, texts, 1)
	assert.Contains(t, texts[0], "https://satchel.example/join/"+invited.Token)
}

// TestAChangeOfPasswordEndsOtherWaysIn: links that were not used, addresses of calendars, and passwords for the drive, unless these are
// kept.
func TestAChangeOfPasswordEndsOtherWaysIn(t *testing.T) {
	s, db := peopleService(t)
	v := storetest.Brand(t, db, "kites")[access.Steward]
	hash, err := passwords.Hash("the present one")
	require.NoError(t, err)
	_, err = storetest.SQL(db).Exec(`update person set password_hash = $2 where id = $1`, v.Person, hash)
	require.NoError(t, err)
	by := passwords.Caller{From: "here"}
	opens := func(password string) bool {
		_, err := s.OnDrive(t.Context(), v.Email, password)
		return err == nil
	}
	drive, err := s.MakeDrivePassword(t.Context(), v, "laptop", 0)
	require.NoError(t, err)
	require.True(t, opens(drive))
	_, err = storetest.SQL(db).Exec(`insert into calendar_feed (code, brand_id, person_id) values ('abc', $1, $2)`, v.Brand, v.Person)
	require.NoError(t, err)
	require.NoError(t, db.InTx(t.Context(), func(tx *store.Tx) error {
		return peoplestore.AddInvitation(t.Context(), tx, v.Brand, v.Person, v.Person, []byte("a sum"), time.Now().Add(time.Hour))
	}))
	require.NoError(t, s.ChangePassword(t.Context(), v.Person, "mine", "the present one", "kept on my devices", true, by))
	assert.True(t, opens(drive))
	var left int
	require.NoError(t, storetest.SQL(db).Get(&left, `select (select count(*) from calendar_feed) + (select count(*) from invitation)`))
	assert.Zero(t, left)
	require.NoError(t, s.ChangePassword(t.Context(), v.Person, "mine", "kept on my devices", "and now on none", false, by))
	assert.False(t, opens(drive))

	short, err := s.MakeDrivePassword(t.Context(), v, "phone", 30)
	require.NoError(t, err)
	require.True(t, opens(short))
	_, err = storetest.SQL(db).Exec(`update drive_password set ends_at = now() - interval '1 second' where name = 'phone'`)
	require.NoError(t, err)
	assert.False(t, opens(short), "it ends by itself")
	require.Error(t, s.Confirm(t.Context(), v.Person, "a guess", by))
	require.NoError(t, s.Confirm(t.Context(), v.Person, "and now on none", by))
}
