package describing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// jobsOf is a queue that nobody works at.
func jobsOf(db *store.DB) *queue.Queue {
	q, err := queue.New(db)
	if err != nil {
		panic(err)
	}
	return q
}

// TestPeopleAreToldOfNewPicturesOnceADay and of none that were there before somebody said so.
func TestPeopleAreToldOfNewPicturesOnceADay(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "telling")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	jobs := jobsOf(db)
	letters := &mail.Service{Config: mail.Config{Server: "127.0.0.1:1", From: "satchel@house.example"}, DB: db, Queue: jobs}
	letters.AddJobs()
	s := describing.New(db, many, letters, jobs)
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg", "d.jpg")
	var person int64
	require.NoError(t, storetest.SQL(db).Get(&person, `with g as (insert into tag_group (brand_id, name) values ($1, 'People') returning id)
		insert into tag (brand_id, group_id, name) select $1, id, 'Maren' from g returning id`, v.Brand))
	tagged := func(asset int64) {
		_, err := storetest.SQL(db).Exec(`insert into asset_tag (brand_id, asset_id, tag_id) values ($1, $2, $3)`, v.Brand, asset, person)
		require.NoError(t, err)
	}
	tagged(ids[0])
	yes, email := true, "maren@example.org"
	_, err := s.WriteAbout(ctx, v, person, describing.AboutPerson{Told: &yes})
	require.ErrorContains(t, err, "e-mail address first")
	_, err = s.WriteAbout(ctx, v, person, describing.AboutPerson{Told: &yes, Email: &email})
	require.NoError(t, err)
	told := func() (texts []string) {
		require.NoError(t, s.TellPeople(ctx))
		require.NoError(t, storetest.SQL(db).Select(&texts, `select body_text from letter order by id`))
		return texts
	}
	assert.Empty(t, told(), "what was there is no news")
	tagged(ids[1])
	tagged(ids[2])
	first := told()
	require.Len(t, first, 1)
	assert.Contains(t, first[0], "2 new pictures that you are on")
	assert.Contains(t, first[0], "b.jpg; c.jpg")
	tagged(ids[3])
	assert.Len(t, told(), 1, "not on the same day")
	_, err = storetest.SQL(db).Exec(`update person_shown set told_at = now() - interval '1 day'`)
	require.NoError(t, err)
	next := told()
	require.Len(t, next, 2)
	assert.Contains(t, next[1], "It is called d.jpg.")
	none := ""
	_, err = s.WriteAbout(ctx, v, person, describing.AboutPerson{Email: &none})
	require.NoError(t, err)
	var still bool
	require.NoError(t, storetest.SQL(db).Get(&still, `select told from person_shown`))
	assert.False(t, still, "without an address nobody is told")
}
