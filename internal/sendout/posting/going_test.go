package posting_test

import (
	"bytes"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/storetest"
)

// TestASecondPersonSaysGo where the brand asks for it: nothing leaves before, and of many who say it at once one does.
func TestASecondPersonSaysGo(t *testing.T) {
	h, people, _, service, page := paged(t, "second_go")
	v, other := people[access.Coordinator], people[access.Steward]
	id := sendouttest.Bring(t, h, v, 800, 800)
	require.NoError(t, exec(h, `update brand set second_go = true where id = $1`, v.Brand))
	done, err := h.Posting.Go(ctx, v, to(page, "Together", id))
	require.NoError(t, err)
	assert.Equal(t, "1 item to 1 page waits for somebody else’s go", done.Said)
	found, err := h.Posting.Dispatches(ctx, v, 0)
	require.NoError(t, err)
	require.True(t, found[0].Waits)
	require.NoError(t, h.Posting.CarryOn(ctx, found[0].Posts[0].ID))
	require.NoError(t, h.Posting.WakePosts(ctx))
	assert.Empty(t, service.Posts(""))
	_, err = h.Posting.ChangeDispatch(ctx, v, done.ID, "go")
	require.ErrorContains(t, err, "You prepared this dispatch")
	var said atomic.Int32
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			if _, err := h.Posting.ChangeDispatch(ctx, other, done.ID, "go"); err == nil {
				said.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 1, said.Load())
	require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	assert.Len(t, service.Posts(""), 1)
	found, err = h.Posting.Dispatches(ctx, v, 0)
	require.NoError(t, err)
	assert.NotEmpty(t, found[0].GoBy.String)
}

// TestADispatchIsHeldCancelledAndTakenBack as a whole.
func TestADispatchIsHeldCancelledAndTakenBack(t *testing.T) {
	h, people, _, service, page := paged(t, "held")
	v := people[access.Coordinator]
	var ids []int64
	for n := range 6 {
		ids = append(ids, sendouttest.Bring(t, h, v, 800+n*13, 800))
	}
	wanted := to(page, "Six of them", ids...)
	_, err := h.Posting.Go(ctx, v, wanted)
	require.ErrorContains(t, err, "at most 4; these are 6, so that 2 posts are needed")
	wanted.Pages[0].Split = true
	wanted.At = atWall(t, page, 20*time.Hour)
	done, err := h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	assert.Equal(t, "Planned: 6 items to 1 page", done.Said)
	posts, err := poststore.PostsOf(ctx, h.DB, done.ID)
	require.NoError(t, err)
	require.Len(t, posts, 2)
	assert.Equal(t, []int{4, 2}, []int{len(posts[0].Items), len(posts[1].Items)})
	assert.Equal(t, wanted.At, posts[0].Wall)

	_, err = h.Posting.ChangeDispatch(ctx, v, done.ID, "hold")
	require.NoError(t, err)
	require.NoError(t, exec(h, `update dispatch_post set post = jsonb_set(post, '{Due}', to_jsonb(now())), wake_at = now()`))
	require.NoError(t, h.Posting.CarryOn(ctx, posts[0].ID))
	assert.Empty(t, service.Posts(""))
	_, err = h.Posting.ChangePost(ctx, v, posts[1].ID, "cancel")
	require.NoError(t, err)
	_, err = h.Posting.ChangeDispatch(ctx, v, done.ID, "carry_on")
	require.NoError(t, err)
	settled(t, h, v)
	assert.Len(t, service.Posts(""), 1)
	said, err := h.Posting.ChangeDispatch(ctx, v, done.ID, "withdraw")
	require.NoError(t, err)
	assert.Equal(t, "Took 1 post back", said.Said)
	assert.Empty(t, service.Posts(""))
	_, err = h.Posting.ChangeDispatch(ctx, v, done.ID, "withdraw")
	require.ErrorContains(t, err, "None of its posts")
	stranger := *v
	stranger.Brand++
	for _, what := range []string{"go", "hold", "carry_on", "cancel", "withdraw"} {
		_, err = h.Posting.ChangeDispatch(ctx, &stranger, done.ID, what)
		require.Error(t, err, what)
	}
}

// TestTheCheckOfADispatch says what is on the page already, when it is due there, and what is left of what is cut where somebody says.
func TestTheCheckOfADispatch(t *testing.T) {
	h, people, _, service, page := paged(t, "check_of_pages")
	v := people[access.Coordinator]
	wide, shown := sendouttest.Bring(t, h, v, 2400, 800), sendouttest.Bring(t, h, v, 900, 900)
	_, err := h.Posting.Go(ctx, v, to(page, "First", shown))
	require.NoError(t, err)
	settled(t, h, v)
	require.NoError(t, exec(h, `update asset set title = 'Low tide' where id = $1`, wide))
	wanted := to(page, "{title}, by {credit}", wide, shown)
	wanted.At = "2027-03-28T01:30" // which clocks in London leave out
	wanted.Pages[0].Mends[wide] = sending.Mend{Way: sending.Crop, At: &geometry.Point{X: 1, Y: 0.5}}
	checks, _, items, err := h.Posting.CheckDispatch(ctx, v, wanted)
	require.NoError(t, err)
	require.Len(t, items, 2)
	said := map[string]string{}
	for _, f := range checks[0].Findings {
		said[f.What] = f.Said
	}
	assert.Contains(t, said["no_such_time"], "There is no 01:30 in Europe/London")
	assert.Contains(t, said["shown_there"], "on that page already, since")
	assert.Equal(t, "Low tide, by", checks[0].Caption)
	cut := checks[0].Cuts()
	require.Len(t, cut, 1)
	assert.InDelta(t, 1, cut[0].X+cut[0].Width, 0.01, "the right side stays")

	wanted.At = atWall(t, page, 30*time.Hour)
	_, err = h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	wanted.At = atWall(t, page, 30*time.Hour+30*time.Minute)
	checks, _, _, err = h.Posting.CheckDispatch(ctx, v, wanted)
	require.NoError(t, err)
	assert.Equal(t, "crowded", checks[0].Findings[0].What)

	service.SetMostText(5) // between the check and "go"
	_, err = h.Posting.Go(ctx, v, to(page, "Too long now", shown))
	require.ErrorContains(t, err, "The caption is 7 too long: at most 5 there")
}

// TestWhatIsWrongWithLookingStopsNoSending: posts are woken whatever becomes of looking at those that are out.
func TestWhatIsWrongWithLookingStopsNoSending(t *testing.T) {
	h, people, _, _, page := paged(t, "looking_breaks")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 900, 900)
	require.NoError(t, exec(h, `alter table dispatch_post rename column look_at to broken`))
	_, err := h.Posting.Go(ctx, v, to(page, "On its way", id))
	require.NoError(t, err)
	require.NoError(t, exec(h, `delete from river_job where kind = 'send_post'`)) // it is left to be woken
	require.ErrorContains(t, h.Posting.WakePosts(ctx), "look_at", "what is wrong is said")
	var woken int
	require.NoError(t, storetest.SQL(h.DB).Get(&woken, `select count(*) from river_job where kind = 'send_post'`))
	assert.Positive(t, woken, "and it goes on")
	require.NoError(t, exec(h, `alter table dispatch_post rename column broken to look_at`))
	assert.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
}

// TestWhatIsOutThereIsLookedAt, and how it differs is said in words.
func TestWhatIsOutThereIsLookedAt(t *testing.T) {
	h, people, _, service, page := paged(t, "seen_there")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 1500, 1000)
	look := func(post int64) *poststore.SeenPost {
		require.NoError(t, h.Posting.LookNow(ctx, v, post))
		p, err := poststore.PostByID(ctx, h.DB, post)
		require.NoError(t, err)
		require.NotNil(t, p.Seen)
		return &p.Seen.SeenPost
	}
	for mode, said := range map[string]string{"fine": "", "cut": "was cut there: 1000 × 1000 instead of 1500 × 1000"} {
		service.Weather.Set("fine", 0)
		wanted := to(page, "As it is "+mode, id)
		service.Weather.Set(mode, 3)
		_, err := h.Posting.Go(ctx, v, wanted)
		require.NoError(t, err)
		p := settled(t, h, v)[0]
		require.Equal(t, once.Out, p.Post.Phase, p.Post.Why)
		seen := look(p.ID)
		if said == "" {
			assert.Empty(t, seen.Said)
		} else {
			assert.Contains(t, strings.Join(seen.Said, " "), said, mode)
		}
		assert.Len(t, seen.Media, 1)
		if mode == "fine" {
			service.Edit(p.Post.Remote, "Something else")
			assert.Equal(t, []string{"The caption is another one there: “Something else”"}, look(p.ID).Said)
			service.SetDown(true)
			assert.NotEmpty(t, look(p.ID).Trouble, "away is not gone")
			service.SetDown(false)
			service.Remove(p.Post.Remote)
			gone := look(p.ID).Gone
			assert.False(t, gone.IsZero())
			assert.True(t, look(p.ID).Gone.Equal(gone), "gone since then")
			placed, err := poststore.PlacedAt(ctx, h.DB, id)
			require.NoError(t, err)
			assert.False(t, slices.ContainsFunc(placed, func(at poststore.ShownAt) bool { return strings.HasSuffix(at.Path, "#"+p.Post.Remote) }))
		}
	}
	stranger := *v
	stranger.Brand++
	require.ErrorContains(t, h.Posting.LookNow(ctx, &stranger, settled(t, h, v)[0].ID), "not there any more")
}

// TestTheCalendar shows what is planned, says what is too near, moves it, and is read by programs of whoever may see it.
func TestTheCalendar(t *testing.T) {
	h, people, _, _, page := paged(t, "calendar")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 800, 800)
	for _, later := range []time.Duration{48 * time.Hour, 48*time.Hour + 20*time.Minute, 72 * time.Hour} {
		wanted := to(page, "Planned, with; a comma", id)
		wanted.At = atWall(t, page, later)
		_, err := h.Posting.Go(ctx, v, wanted)
		require.NoError(t, err)
	}
	from := time.Now()
	all, err := h.Posting.Calendar(ctx, v, from, from.Add(10*24*time.Hour))
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.Equal(t, []bool{true, true, false}, []bool{all[0].Crowded, all[1].Crowded, all[2].Crowded})
	_, err = h.Posting.Calendar(ctx, v, from, from.Add(-time.Hour))
	require.ErrorContains(t, err, "at most 45 days")

	days, err := h.Posting.CalendarDays(ctx, v, from, from.Add(300*24*time.Hour))
	require.NoError(t, err)
	posts := 0
	for _, d := range days {
		posts += d.Posts
		assert.Equal(t, d.Posts, d.Planned)
	}
	assert.Equal(t, 3, posts)
	_, err = h.Posting.CalendarDays(ctx, v, from, from.Add(500*24*time.Hour))
	require.ErrorContains(t, err, "at most 400 days")

	to, before := atWall(t, page, 96*time.Hour), all[0].Wall
	moved, err := h.Posting.MovePost(ctx, v, all[0].ID, to)
	require.NoError(t, err)
	wall := func() (wall string) {
		require.NoError(t, h.DB.GetContext(ctx, &wall, `select wall from dispatch_post where id = $1`, all[0].ID))
		return wall
	}
	back, err := h.Upkeep.Undo(ctx, v, moved.Trail)
	require.NoError(t, err)
	assert.Equal(t, before, wall(), "undone like anything else")
	_, err = h.Upkeep.Undo(ctx, people[access.Reviewer], back.Trail)
	require.Error(t, err)
	again, err := h.Upkeep.Undo(ctx, v, back.Trail)
	require.NoError(t, err)
	assert.Equal(t, to, wall(), "and done again")
	require.NoError(t, exec(h, `update dispatch_post set wake_at = null, post = jsonb_set(post, '{Phase}', '"placing"')
		where id = $1`, all[0].ID))
	_, err = h.Upkeep.Undo(ctx, v, again.Trail)
	require.ErrorContains(t, err, "being sent by now", "what leaves is not called back by it")
	require.NoError(t, exec(h, `update dispatch_post set wake_at = null, post = jsonb_set(post, '{Phase}', '"planned"')
		where id = $1`, all[0].ID))
	for _, wrong := range []string{"2027-03-28T01:30", "yesterday", atWall(t, page, -time.Hour), atWall(t, page, 400*24*time.Hour)} {
		_, err = h.Posting.MovePost(ctx, v, all[0].ID, wrong)
		require.Error(t, err, wrong)
	}
	all, err = h.Posting.Calendar(ctx, v, from, from.Add(10*24*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, to, all[2].Wall, "it is the last one now")
	assert.False(t, all[0].Crowded)

	address, err := h.Posting.MakeCalendarFeed(ctx, v)
	require.NoError(t, err)
	code := strings.TrimSuffix(address[strings.LastIndex(address, "/")+1:], ".ics")
	text, err := h.Posting.CalendarFeed(ctx, code)
	require.NoError(t, err)
	assert.Equal(t, 3, strings.Count(text, "BEGIN:VEVENT"))
	assert.Contains(t, text, "Planned\\, with\\; a comma")
	require.NoError(t, exec(h, `update membership set role = 'reviewer' where person_id = $1`, v.Person))
	_, err = h.Posting.CalendarFeed(ctx, code)
	require.ErrorContains(t, err, "no such calendar", "who may not see it any more")
	require.NoError(t, exec(h, `update membership set role = 'coordinator' where person_id = $1`, v.Person))
	_, err = h.Posting.EndCalendarFeed(ctx, v)
	require.NoError(t, err)
	_, err = h.Posting.CalendarFeed(ctx, code)
	require.Error(t, err)
}

// TestAnAlbumFeedsAPage at each moment of its rhythm once, with what was not there yet.
func TestAnAlbumFeedsAPage(t *testing.T) {
	h, people, _, _, page := paged(t, "fed")
	v := people[access.Coordinator]
	wide := sendouttest.Bring(t, h, v, 3000, 900) // which does not fit
	first, second := sendouttest.Bring(t, h, v, 800, 800), sendouttest.Bring(t, h, v, 900, 800)
	done, err := h.Gathering.Create(ctx, v, 0, "Look up", &query.Selection{IDs: []int64{wide, first, second}}, nil)
	require.NoError(t, err)
	fed, err := h.Posting.AddPageFeed(ctx, v, poststore.PageFeed{Page: page.ID, Album: done.ID, Caption: "Look up"})
	require.NoError(t, err)
	_, err = h.Posting.ChangePageFeed(ctx, v, fed.ID, "go")
	require.ErrorContains(t, err, "has no rhythm")
	zone, err := calendar.Zone(page.Zone)
	require.NoError(t, err)
	soon := time.Now().In(zone).Add(2 * time.Hour)
	_, err = h.Posting.SetRhythm(ctx, v, page.ID, sending.Rhythm{{Weekday: soon.Weekday(), Minute: soon.Hour()*60 + soon.Minute()}})
	require.NoError(t, err)
	require.NoError(t, h.Posting.FeedPages(ctx, time.Now()))
	planned := func() (out []poststore.DispatchPost) {
		found, err := h.Posting.Dispatches(ctx, v, 0)
		require.NoError(t, err)
		for _, d := range found {
			assert.Equal(t, "Look up", d.Origin)
			out = append(out, d.Posts...)
		}
		return out
	}
	assert.Empty(t, planned(), "nothing before somebody says go")
	_, err = h.Posting.ChangePageFeed(ctx, v, fed.ID, "go")
	require.NoError(t, err)
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() { assert.NoError(t, h.Posting.FeedPages(ctx, time.Now())) })
	}
	all.Wait()
	posts := planned()
	require.Len(t, posts, 1, "one moment, one post")
	assert.Equal(t, first, posts[0].Items[0].Asset.Int64)
	assert.Equal(t, soon.Format(calendar.WallForm), posts[0].Wall)
	feeds, err := h.Posting.PageFeeds(ctx, v)
	require.NoError(t, err)
	assert.Contains(t, feeds[0].Trouble, "1 item before it were passed over")
	assert.Equal(t, 2, feeds[0].Left)
	require.NoError(t, h.Posting.FeedPages(ctx, time.Now().Add(7*24*time.Hour)))
	posts = planned()
	require.Len(t, posts, 2)
	assert.Equal(t, second, posts[0].Items[0].Asset.Int64, "the next one")

	require.NoError(t, exec(h, `update membership set role = 'reviewer' where person_id = $1`, v.Person))
	require.NoError(t, h.Posting.FeedPages(ctx, time.Now().Add(14*24*time.Hour)))
	feeds, err = h.Posting.PageFeeds(ctx, people[access.Steward])
	require.NoError(t, err)
	assert.False(t, feeds[0].Running)
	assert.Contains(t, feeds[0].Trouble, "may not send any more")
	_, err = h.Posting.ChangePageFeed(ctx, people[access.Steward], fed.ID, "remove")
	require.NoError(t, err)
	assert.Len(t, planned(), 2, "what is planned stays")
}

// TestAnAlbumThere is made on the way, once.
func TestAnAlbumThere(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "album_there")
	w := around(t, h)
	page := connected(t, h, people)["lt-1"]
	v := people[access.Coordinator]
	for n := range 2 {
		wanted := posting.Dispatching{Selection: query.Selection{IDs: []int64{sendouttest.Bring(t, h, v, 800+n, 800)}}, Caption: "There",
			Pages: []posting.WantedPost{{Page: page.ID, Album: "Autumn winds"}}}
		_, err := h.Posting.Go(ctx, v, wanted)
		require.NoError(t, err)
		require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	}
	posts := w.albums.Posts("lt-1")
	assert.Equal(t, posts[0].Album, posts[1].Album)
	assert.NotEqual(t, posts[0].Album, posts[2].Album)
}

// TestAPostIsMoved: it is taken back from where it was once it is out where it goes, and not before.
func TestAPostIsMoved(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "moved")
	w := around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 800, 900)
	_, err := h.Posting.Go(ctx, v, to(pages["windward"], "From here", id))
	require.NoError(t, err)
	first := settled(t, h, v)[0]
	w.albums.Weather.Set("no", 1)
	there := to(pages["lt-1"], "From here", id)
	there.Moves = first.ID
	_, err = h.Posting.Go(ctx, v, there)
	require.NoError(t, err)
	refused := settled(t, h, v)[0]
	require.Equal(t, once.Refused, refused.Post.Phase)
	assert.Len(t, w.short.Posts("windward"), 1, "it stays where it is until it is out there")
	_, err = h.Posting.ChangePost(ctx, v, refused.ID, "again")
	require.NoError(t, err)
	require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	require.Eventually(t, func() bool {
		row, err := poststore.PostByID(ctx, h.DB, first.ID)
		return err == nil && row.Withdrawn.Valid // which is known a moment after it is so
	}, time.Minute, 50*time.Millisecond)
	assert.Empty(t, w.short.Posts("windward"))
	there.Moves = first.ID
	_, err = h.Posting.Go(ctx, v, there)
	require.ErrorContains(t, err, "is not out there")
	there.Moves = 999_999
	_, err = h.Posting.Go(ctx, v, there)
	require.ErrorContains(t, err, "not there any more")
}

// TestAClipIsTakenFromItsBeginning where it is longer than a page takes.
func TestAClipIsTakenFromItsBeginning(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "clip_trimmed")
	around(t, h)
	page := connected(t, h, people)["c1"]
	v := people[access.Coordinator]
	require.NoError(t, exec(h, `update page set limits = limits || '{"mostSeconds": 1}' where id = $1`, page.ID))
	page, err := poststore.PageByID(ctx, h.DB, v.Brand, page.ID)
	require.NoError(t, err)
	film := mediatest.Clip(t, 360, 480)
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "kite.mp4", Bytes: int64(len(film))}}, 0)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(film)))
	id := housetest.Settled(t, h, v, batch.ID).Files[0].Asset.Int64
	wanted := to(page, "Higher", id)
	checks, _, _, err := h.Posting.CheckDispatch(ctx, v, wanted)
	require.NoError(t, err)
	at := slices.IndexFunc(checks[0].Findings, func(f sending.Finding) bool { return f.What == sending.TooLong })
	require.GreaterOrEqual(t, at, 0, "%v", checks[0].Findings)
	assert.Equal(t, []string{sending.Trim, sending.LeaveOut}, checks[0].Findings[at].Mends)
	found, err := assetstore.AssetsIn(ctx, h.DB, v.Brand, []int64{id})
	require.NoError(t, err)
	piece := sending.Piece{Kind: "clip", Size: geometry.Size{Width: 360, Height: 480}}
	short, err := h.Renditions.Ensure(ctx, v.Brand, found[0], page.Limits.Size(piece, sending.Trim))
	require.NoError(t, err)
	long, err := h.Renditions.Ensure(ctx, v.Brand, found[0], page.Limits.Size(piece, ""))
	require.NoError(t, err)
	assert.Less(t, short.Bytes, long.Bytes)
}
