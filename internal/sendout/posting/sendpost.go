package posting

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"mime"
	"path"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/media"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/renditionstore"
)

// sendPost is the job that takes a post as far as it goes now. The row says how far that is: the job only wakes whoever carries it on, and
// being done twice, or never, changes nothing.
type sendPost struct {
	Post int64 `json:"post"`
}

// Kind names the job.
func (sendPost) Kind() string { return "send_post" }

// wakePosts is the job that carries on all posts whose moment has come.
type wakePosts struct{}

// Kind names the job.
func (wakePosts) Kind() string { return "wake_posts" }

const (
	wakeEvery = 5 * time.Second
	mostAwake = 500
	// grace is how long after the deadline of a call somebody else takes the post up.
	grace = 2 * time.Second
)

// AddJobs makes the jobs of sending known, and what taking back a change of a post means.
func (s *Service) AddJobs() {
	s.DB.TakeBack("dispatch_post", s.moveBack)
	queue.Add(s.Queue, queue.Kind[sendPost]{Do: func(ctx context.Context, job sendPost) error { return s.CarryOn(ctx, job.Post) },
		GaveUp: queue.Nothing[sendPost], Tries: queue.Once, Queue: queue.Waited, Priority: 2, Alone: true})
	queue.Add(s.Queue, queue.Kind[wakePosts]{Do: func(ctx context.Context, _ wakePosts) error { return s.WakePosts(ctx) },
		GaveUp: queue.Nothing[wakePosts], Tries: queue.Once, Queue: queue.Waited, Priority: 2, Alone: true})
	s.Queue.Regularly(wakeEvery, true, wakePosts{})
	s.addSeeing()
	s.addFeeds()
	s.addFromDrive()
	s.addMoves()
}

// WakePosts has all posts carried on whose moment has come.
func (s *Service) WakePosts(ctx context.Context) error {
	seeing := s.seeDue(ctx) // whatever is wrong with looking at what is out: sending goes on
	due, err := poststore.PostsToWake(ctx, s.DB, mostAwake)
	if err == nil && len(due) > 0 {
		err = s.DB.InTx(ctx, func(tx *store.Tx) error { return s.wake(ctx, tx, due) })
	}
	return errors.Join(err, seeing)
}

// wake has posts carried on once the transaction ends.
func (s *Service) wake(ctx context.Context, tx *store.Tx, posts []int64) error {
	return s.enqueueEach(ctx, tx, posts, func(id int64) queue.Args { return sendPost{id} })
}

// enqueueEach enqueues a job for each of some posts.
func (s *Service) enqueueEach(ctx context.Context, tx *store.Tx, posts []int64, job func(post int64) queue.Args) error {
	jobs := make([]queue.Args, len(posts))
	for i, id := range posts {
		jobs[i] = job(id)
	}
	return s.Queue.EnqueueAll(ctx, tx, jobs)
}

// CarryOn takes a post as far as it goes now. What is to be waited for only a moment is waited for here.
func (s *Service) CarryOn(ctx context.Context, post int64) error {
	for {
		wait, more, err := s.oneStep(ctx, post)
		if err != nil || !more {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(wait):
		}
	}
}

// begun is a step of a post that was written down.
type begun struct {
	row  poststore.DispatchPost
	page poststore.Page
	to   outlets.Poster
	step once.Step
	wait time.Duration // of one that is to be waited for
}

// oneStep writes a step down, does it, and writes down what came of it. No transaction is open while it is done.
func (s *Service) oneStep(ctx context.Context, post int64) (wait time.Duration, more bool, err error) {
	var b *begun
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		b, err = s.begin(ctx, tx, post)
		return err
	}); err != nil || b == nil {
		return 0, false, err
	}
	if b.step.Do == once.Wait {
		return b.wait, b.wait < wakeEvery, nil
	}
	asked := time.Now()
	o := s.do(ctx, b)
	o.Asked = asked
	return 0, true, s.DB.InTx(context.WithoutCancel(ctx), func(tx *store.Tx) error { return s.end(context.WithoutCancel(ctx), tx, b, o) })
}

// begin takes a post that nobody else is at, and writes down its next step; nil is nothing to do now.
func (s *Service) begin(ctx context.Context, tx *store.Tx, post int64) (*begun, error) {
	row, free, err := poststore.TakePost(ctx, tx, post)
	if err != nil || !free || row.Post.Phase.Over() {
		return nil, err
	}
	if row.Still && (row.Post.Phase == once.Planned || row.Post.Phase == once.Preparing) { // what is under way is brought to an end
		return nil, poststore.SavePost(ctx, tx, post, row.Post.Post, time.Time{})
	}
	b := &begun{row: row}
	b.page, b.to, err = s.pageOf(ctx, tx, row)
	var gone *fault.NotFound
	if errors.As(err, &gone) {
		p := once.Cancel(row.Post.Post)
		p.Phase, p.Why = once.Refused, "Its page is not connected any more."
		return nil, poststore.SavePost(ctx, tx, post, p, time.Time{})
	}
	if err != nil {
		return nil, err
	}
	now := time.Now()
	b.step = once.Next(row.Post.Post, b.page.Ways.Ways, now)
	switch b.step.Do {
	case once.Wait:
		b.wait = max(0, time.Until(b.step.At))
		return b, poststore.SavePost(ctx, tx, post, row.Post.Post, b.step.At)
	case once.Nothing:
		return nil, nil
	}
	p := once.Began(row.Post.Post, b.step, b.page.Ways.Ways, now)
	b.row.Post.Post = p
	if p.Phase.Over() { // a person is asked
		return nil, poststore.SavePost(ctx, tx, post, p, time.Time{})
	}
	return b, poststore.SavePost(ctx, tx, post, p, now.Add(b.page.Ways.Timeout+grace))
}

// end takes what came of a step.
func (s *Service) end(ctx context.Context, tx *store.Tx, b *begun, o once.Outcome) error {
	row, err := poststore.PostOfBrand(ctx, tx, b.row.Brand, b.row.ID)
	var gone *fault.NotFound
	if errors.As(err, &gone) {
		return nil
	}
	if err != nil {
		return err
	}
	now := time.Now()
	ways := b.page.Ways.Ways
	before := row.Post.Phase
	p := once.Took(row.Post.Post, b.step, b.row.Post.Attempt, o, ways, now)
	if p.Phase == once.Out && before != once.Out {
		if err := poststore.NotePlaced(ctx, tx, row, b.to.Address(b.page.Address, p.Remote)); err != nil {
			return err
		}
	}
	wake := now
	if p.Phase.Over() {
		wake = time.Time{}
	}
	if err := poststore.SavePost(ctx, tx, row.ID, p, wake); err != nil || p.Phase != once.Out || before == once.Out {
		return err
	}
	return s.Queue.Enqueue(ctx, tx, endMove{row.Dispatch})
}

// pageOf is the page of a post, and the connection to it.
func (s *Service) pageOf(ctx context.Context, r store.Reader, row poststore.DispatchPost) (poststore.Page, outlets.Poster, error) {
	page, err := poststore.PageByID(ctx, r, row.Brand, row.Page.Int64)
	if err != nil {
		return page, nil, err
	}
	o, err := poststore.OutletByID(ctx, r, row.Brand, page.Outlet)
	if err != nil {
		return page, nil, err
	}
	to, err := s.poster(o)
	return page, to, err
}

// do carries out a step that was written down. A visible one is not begun after its deadline, and is broken off then.
func (s *Service) do(ctx context.Context, b *begun) once.Outcome {
	until := time.Now().Add(b.page.Ways.Timeout)
	if b.step.Visible() {
		until = b.row.Post.Deadline
	}
	ctx, cancel := context.WithDeadline(ctx, until)
	defer cancel()
	if ctx.Err() != nil {
		return once.Outcome{Kind: once.Lost}
	}
	if b.step.Do == once.Upload && b.row.Album != "" && b.row.AlbumID == "" {
		if failed := s.albumThere(ctx, b); failed != nil {
			return *failed
		}
	}
	content := outlets.Content{Page: b.page.Remote, Album: b.row.AlbumID, Caption: b.row.Caption,
		Open: func(ctx context.Context, picture int) (outlets.File, error) {
			return s.fileFor(ctx, b.row, b.page.Limits.Limits, picture)
		}}
	for _, item := range b.row.Items {
		content.Alts = append(content.Alts, item.Alt)
	}
	return b.to.Do(ctx, b.step, b.row.Post.Post, once.Key(b.row.Code, b.row.Post.Post), content)
}

// albumThere finds or makes the album that a post goes into, before anything is brought there. It says what came of it where it failed.
func (s *Service) albumThere(ctx context.Context, b *begun) *once.Outcome {
	shelves, can := b.to.(outlets.Shelver)
	if !can {
		return nil
	}
	id, err := shelves.MakeAlbum(ctx, b.page.Remote, b.row.Album)
	switch {
	case errors.Is(err, outlets.ErrRefused):
		return &once.Outcome{Kind: once.No, Why: fmt.Sprintf("There is no album “%s” there, and none could be made.", b.row.Album)}
	case err != nil:
		return &once.Outcome{Kind: once.Lost, Why: "The album there could not be made."}
	}
	b.row.AlbumID = id
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.NoteAlbum(ctx, tx, b.row.ID, id) }); err != nil {
		return &once.Outcome{Kind: once.Lost, Why: "The album there could not be written down."}
	}
	return nil
}

// fileFor opens what a page takes of an item, making it if it is not there.
func (s *Service) fileFor(ctx context.Context, row poststore.DispatchPost, limits sending.Limits, picture int) (outlets.File, error) {
	made, a, err := s.madeFor(ctx, row, limits, picture)
	if err != nil {
		return outlets.File{}, err
	}
	file, err := s.Blobs.Open(ctx, made.Blob)
	if err != nil {
		return outlets.File{}, fmt.Errorf("“%s” could not be read here", a.Called())
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.NoteMade(ctx, tx, row.ID, picture, a.Recipe.Hash()) }); err != nil {
		return outlets.File{}, errors.Join(fmt.Errorf("“%s” could not be written down here", a.Called()), file.Close())
	}
	return outlets.File{Name: path.Base(made.Blob), Body: file, Bytes: made.Bytes, MediaType: mime.TypeByExtension(path.Ext(made.Blob))}, nil
}

// neverAgain is why a picture is not made for a page, whenever it is tried.
type neverAgain string

func (e neverAgain) Error() string { return string(e) }

// madeFor is what a page takes of an item.
func (s *Service) madeFor(ctx context.Context, row poststore.DispatchPost, limits sending.Limits,
	picture int) (made renditionstore.Rendition,
	a assetstore.Asset, err error) {
	item := row.Items[picture]
	found, err := assetstore.AssetsIn(ctx, s.DB, row.Brand, []int64{item.Asset.Int64})
	switch {
	case err != nil:
		return made, a, fmt.Errorf("picture %d could not be read here", picture+1)
	case len(found) == 0 || found[0].Binned.Valid:
		return made, a, neverAgain(fmt.Sprintf("picture %d was removed here", picture+1))
	case found[0].VersionID != item.Version.Int64:
		return made, a, neverAgain(fmt.Sprintf("picture %d has another version since; look at it, and send it anew", picture+1))
	}
	a = found[0]
	known, err := facestore.Leaving(ctx, s.DB, row.Brand, []int64{a.ID})
	if err != nil {
		return made, a, fmt.Errorf("picture %d could not be read here", picture+1)
	}
	for _, reason := range sending.Check(known[a.ID], time.Now()) {
		if sending.Hinders(reason) { // since somebody said "go"
			return made, a, neverAgain(fmt.Sprintf("“%s” should not go out any more: %s", a.Called(), leaving.Hindrance[reason]))
		}
	}
	piece := sending.Piece{Kind: a.Kind, Size: geometry.Size{Width: a.Width, Height: a.Height}, Seconds: a.Seconds.Float64}
	size := limits.Size(piece, item.Mend)
	if item.AtX.Valid && item.Mend == sending.Crop {
		box := geometry.Size{Width: size.Width, Height: size.Height}
		a.Focals = map[string]geometry.Point{outputs.Proportion(box): {X: item.AtX.Float64, Y: item.AtY.Float64}}
	}
	made, err = s.Renditions.Ensure(ctx, row.Brand, a, size)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return made, a, neverAgain(fmt.Sprintf("“%s”: %s", a.Called(), refused.Why))
	}
	if err != nil {
		slog.Error("making a picture for a page", "post", row.ID, "error", err)
		return made, a, fmt.Errorf("“%s” could not be made here", a.Called())
	}
	return made, a, nil
}

// withdraw takes a post back that is out.
func (s *Service) withdraw(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	var row poststore.DispatchPost
	var page poststore.Page
	var to outlets.Poster
	if err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		if row, err = poststore.PostOfBrand(ctx, tx, v.Brand, id); err != nil {
			return err
		}
		if row.Post.Phase != once.Out || row.Withdrawn.Valid {
			return fault.Invalidf("what", "The post on “%s” is not out there.", row.PageName)
		}
		page, to, err = s.pageOf(ctx, tx, row)
		return err
	}); err != nil {
		return store.Done{}, err
	}
	if !page.Limits.Withdraws || row.Post.Remote == "" {
		return store.Done{}, fault.Invalidf("what", "“%s” lets nothing be taken back from here. Take it back there.", row.PageName)
	}
	said := fmt.Sprintf("Took the post back from “%s”", row.PageName)
	switch err := to.Withdraw(ctx, row.Post.Remote); {
	case errors.Is(err, outlets.ErrGone):
		said = fmt.Sprintf("The post was not on “%s” any more", row.PageName)
	case err != nil:
		return store.Done{}, outlets.Fault(row.PageName, err)
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		return store.Done{Said: said, Changed: 1}, poststore.NoteWithdrawn(ctx, tx, id)
	})
}
