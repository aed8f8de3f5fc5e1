package web

import (
	"context"
	"database/sql"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/poststore"
)

// openTo reads a gallery for a guest who wants to do something in it.
func (h *handler) openTo(ctx context.Context, code string) (hosting.GuestView, error) {
	view, err := h.visit(ctx, code)
	if err == nil && view.State != galleries.Open {
		err = fault.Forbiddenf("This gallery is not open to you.")
	}
	return view, err
}

// knownTo is openTo for what only a guest does who is known.
func (h *handler) knownTo(ctx context.Context, code string) (hosting.GuestView, error) {
	view, err := h.openTo(ctx, code)
	if err == nil && view.Guest.ID == 0 {
		err = fault.Invalidf("name", "Say first what you are called.")
	}
	return view, err
}

func (h *handler) ViewTalk(ctx context.Context, r api.ViewTalkRequestObject) (api.ViewTalkResponseObject, error) {
	view, err := h.openTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	t, err := h.house.Hosting.TalkFor(ctx, &view, view.Guest.ID)
	if err != nil {
		return nil, err
	}
	added, err := h.house.Hosting.Added(ctx, view.ID, view.Guest.ID)
	if err != nil {
		return nil, err
	}
	out := api.GuestTalk{Added: each(added, addedFile), Me: some(view.Guest.Called()), Lists: guestLists(t.Lists),
		MayRemark: view.Settings.Remarks,
		Marks: each(t.Marks, func(m gallerystore.GuestMark) api.GuestMark {
			return api.GuestMark{List: m.List, Picture: m.Code, Guest: m.Guest, Name: m.Name, Mine: m.Guest == view.Guest.ID}
		}),
		Remarks: each(t.Remarks, func(r gallerystore.Remark) api.Remark {
			out := remark(r)
			out.Asset, out.Mine = nil, r.Guest.Valid && r.Guest.Int64 == view.Guest.ID
			return out
		})}
	return api.ViewTalk200JSONResponse(out), nil
}

// addedFile tells a guest what became of their file; why only where it is about the file, and not about what the brand has.
func addedFile(c gallerystore.Contribution) api.AddedFile {
	out := api.AddedFile{Name: c.Name, Came: api.AddedFileCame(hosting.CameOf(c))}
	if c.State == "refused" {
		out.Why = some(c.Why)
	}
	return out
}

// How often somebody from one address gives a name: to one gallery, and to all.
const (
	mostNames   = 20
	namesWithin = time.Hour
)

func (h *handler) IntroduceGuest(ctx context.Context, r api.IntroduceGuestRequestObject) (api.IntroduceGuestResponseObject, error) {
	view, err := h.openTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	if view.Guest.ID != 0 {
		return api.IntroduceGuest204Response{}, nil
	}
	wait, err := poststore.CountAttempt(ctx, h.house.DB, access.Limit{Key: "name from " + callerOf(ctx.(*gin.Context)), Free: mostNames,
		Within: namesWithin})
	if err != nil {
		return nil, err
	}
	if wait > 0 {
		return nil, &fault.TooMany{Text: "Very many people from where you are gave a name. Wait a little.", After: wait}
	}
	guest, err := h.house.Hosting.Introduce(ctx, &view, r.Body.Name)
	if err != nil {
		return nil, err
	}
	h.sessions.Put(ctx, guestKey(view.Code), string(guest.Sum))
	return api.IntroduceGuest204Response{}, nil
}

// pictureIn is the id of a picture that a gallery shows, by its code.
func (h *handler) pictureIn(ctx context.Context, view *hosting.GuestView, code string) (int64, error) {
	shown, err := h.shownIn(ctx, view)
	if err != nil {
		return 0, err
	}
	a, there := shown.Picture(code)
	if !there {
		return 0, fault.NotFoundf("That picture is not in this gallery.")
	}
	return a.ID, nil
}

func (h *handler) GuestMarks(ctx context.Context, r api.GuestMarksRequestObject) (api.GuestMarksResponseObject, error) {
	view, err := h.knownTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	asset, err := h.pictureIn(ctx, &view, r.Body.Picture)
	if err != nil {
		return nil, err
	}
	return api.GuestMarks204Response{}, h.house.Hosting.Mark(ctx, &view, view.Guest.ID, r.Body.List, asset, r.Body.Marked)
}

func (h *handler) GuestRemarks(ctx context.Context, r api.GuestRemarksRequestObject) (api.GuestRemarksResponseObject, error) {
	view, err := h.knownTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	asset, err := h.pictureIn(ctx, &view, r.Body.Picture)
	if err != nil {
		return nil, err
	}
	said := gallerystore.Remark{Asset: asset, Guest: sql.NullInt64{Int64: view.Guest.ID, Valid: true}, Words: r.Body.Words}
	if r.Body.X != nil {
		said.X = sql.NullFloat64{Float64: *r.Body.X, Valid: true}
	}
	if r.Body.Y != nil {
		said.Y = sql.NullFloat64{Float64: *r.Body.Y, Valid: true}
	}
	if r.Body.Answers != nil {
		if err := h.mayAnswer(ctx, &view, *r.Body.Answers); err != nil {
			return nil, err
		}
		said.Answers = sql.NullInt64{Int64: *r.Body.Answers, Valid: true}
	}
	_, err = h.house.Hosting.Say(ctx, &view, said)
	return api.GuestRemarks204Response{}, err
}

// mayAnswer says whether a guest sees the remark that they answer.
func (h *handler) mayAnswer(ctx context.Context, view *hosting.GuestView, remark int64) error {
	t, err := h.house.Hosting.TalkFor(ctx, view, view.Guest.ID)
	if err != nil {
		return err
	}
	for _, r := range t.Remarks {
		if r.ID == remark {
			return nil
		}
	}
	return fault.NotFoundf("That remark is not there any more.")
}

func (h *handler) GuestUnsays(ctx context.Context, r api.GuestUnsaysRequestObject) (api.GuestUnsaysResponseObject, error) {
	view, err := h.knownTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	return api.GuestUnsays204Response{}, h.house.Hosting.Unsay(ctx, &view, view.Guest.ID, r.ID)
}

func guestLists(in []gallerystore.GuestList) []api.GuestList {
	return each(in, func(l gallerystore.GuestList) api.GuestList {
		return api.GuestList{ID: l.ID, Name: l.Name, Most: l.Most}
	})
}

func remark(r gallerystore.Remark) api.Remark {
	return api.Remark{ID: r.ID, Picture: r.Code, Asset: &r.Asset, Name: r.Name, Team: r.Person.Valid, Answers: nullInt(r.Answers),
		Words: r.Words, X: nullFloat(r.X), Y: nullFloat(r.Y), At: r.At}
}
