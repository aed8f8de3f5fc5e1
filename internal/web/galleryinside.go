package web

import (
	"context"
	"database/sql"

	"brightsatchel/api"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/gallerystore"
)

func (h *handler) LookInside(ctx context.Context, r api.LookInsideRequestObject) (api.LookInsideResponseObject, error) {
	v := viewerOf(ctx)
	in, err := h.house.Hosting.LookInside(ctx, v, r.ID)
	if err != nil {
		return nil, err
	}
	g, err := gallerystore.GalleryByID(ctx, h.house.DB, v, r.ID)
	return api.LookInside200JSONResponse{
		Lists: guestLists(in.Lists), Opened: in.Opened, Took: in.Took, Letters: in.Letters,
		Chosen: each(in.Chosen, func(c gallerystore.Chosen) api.Chosen {
			return api.Chosen{List: c.List, Asset: c.Asset, Guests: c.Guests}
		}),
		Remarks: each(in.Remarks, func(k gallerystore.Remark) api.Remark {
			out := remark(k)
			out.Mine = k.Person.Valid && k.Person.Int64 == v.Person
			return out
		}),
		Guests: each(in.Guests, func(u hosting.InsideGuest) api.Guest {
			return api.Guest{ID: u.ID, Name: u.Name, Email: u.Email, Path: ownLink(&g, u.Own), Invited: u.Invited.Valid,
				Withdrawn: u.Withdrawn.Valid, Silent: u.Silent, Visits: u.Visits, LastSeen: moment(u.LastSeen), Marks: u.Marks,
				Remarks: u.Remarks, Took: u.Took, Letter: nullInt(u.Letter), LetterKind: nullString(u.LetterKind),
				LetterState: (*api.GuestLetterState)(nullString(u.LetterState)), LetterWhy: nullString(u.LetterWhy)}
		}),
		Events: each(in.Events, func(e gallerystore.GalleryEvent) api.GalleryEvent {
			return api.GalleryEvent{What: api.GalleryEventWhat(e.What), Guest: nullString(e.Guest), Items: e.Items, Detail: e.Detail, At: e.At}
		}),
	}, err
}

// ownLink is the path of a guest's own link.
func ownLink(g *gallerystore.Gallery, own string) string {
	if own == "" {
		return ""
	}
	return g.At() + "?as=" + own
}

func (h *handler) SetGuestLists(ctx context.Context, r api.SetGuestListsRequestObject) (api.SetGuestListsResponseObject, error) {
	d, err := h.house.Hosting.SetLists(ctx, viewerOf(ctx), r.ID, each(r.Body.Lists, func(l api.GuestList) gallerystore.GuestList {
		return gallerystore.GuestList{ID: l.ID, Name: l.Name, Most: l.Most}
	}))
	return api.SetGuestLists200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AnswerGuest(ctx context.Context, r api.AnswerGuestRequestObject) (api.AnswerGuestResponseObject, error) {
	said := gallerystore.Remark{Words: r.Body.Words, Asset: value(r.Body.Asset)}
	if r.Body.Answers != nil {
		said.Answers = sql.NullInt64{Int64: *r.Body.Answers, Valid: true}
	}
	_, err := h.house.Hosting.Answer(ctx, viewerOf(ctx), r.ID, said)
	return api.AnswerGuest204Response{}, err
}

func (h *handler) RemoveRemark(ctx context.Context, r api.RemoveRemarkRequestObject) (api.RemoveRemarkResponseObject, error) {
	d, err := h.house.Hosting.RemoveRemark(ctx, viewerOf(ctx), r.ID, r.Remark)
	return api.RemoveRemark200JSONResponse{DoneJSONResponse: done(d)}, err
}

func mailing(m api.Mailing) hosting.Mailing {
	out := hosting.Mailing{Kind: string(m.Kind), To: value(m.To), Words: value(m.Words), LeaveOut: value(m.LeaveOut)}
	if m.Guests != nil {
		out.Guests = *m.Guests
	}
	return out
}

func (h *handler) PlanLetters(ctx context.Context, r api.PlanLettersRequestObject) (api.PlanLettersResponseObject, error) {
	p, err := h.house.Hosting.PlanMailing(ctx, viewerOf(ctx), r.ID, mailing(*r.Body))
	address := func(a letters.Address) api.MailAddress { return api.MailAddress{Name: a.Name, Email: a.Email} }
	return api.PlanLetters200JSONResponse{To: each(p.To, address), Wrong: append([]string{}, p.Wrong...), Had: each(p.Had, address),
		Silent: each(p.Silent, address), Subject: p.Letter.Subject, Text: p.Letter.Text, HTML: p.Letter.HTML}, err
}

func (h *handler) SendLetters(ctx context.Context, r api.SendLettersRequestObject) (api.SendLettersResponseObject, error) {
	n, err := h.house.Hosting.Mail(ctx, viewerOf(ctx), r.ID, mailing(*r.Body))
	return api.SendLetters200JSONResponse{Letters: n}, err
}

func (h *handler) LetterAgain(ctx context.Context, r api.LetterAgainRequestObject) (api.LetterAgainResponseObject, error) {
	return api.LetterAgain204Response{}, h.house.Hosting.LetterAgain(ctx, viewerOf(ctx), r.ID)
}

func (h *handler) WithdrawGuest(ctx context.Context, r api.WithdrawGuestRequestObject) (api.WithdrawGuestResponseObject, error) {
	_, err := h.house.Hosting.Withdraw(ctx, viewerOf(ctx), r.ID, r.Guest)
	return api.WithdrawGuest204Response{}, err
}
