package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/people"
	"brightsatchel/internal/store/peoplestore"
)

// The operations of one's own account, and of coming into a brand and leaving it.

// begin signs a person in for this browser.
func (h *handler) begin(ctx context.Context, person int64) error {
	if err := h.sessions.RenewToken(ctx); err != nil { // against sessions fixed beforehand
		return err
	}
	h.sessions.Put(ctx, "person", person)
	c := ctx.(*gin.Context)
	return peoplestore.NoteSession(ctx, h.house.DB, person, peoplestore.Session{Token: h.sessions.Token(ctx), Browser: c.Request.UserAgent(),
		Place: callerOf(c)})
}

// self is the person who is signed in.
func (h *handler) self(ctx context.Context) int64 { return h.sessions.GetInt64(ctx, "person") }

func (h *handler) RenameMe(ctx context.Context, r api.RenameMeRequestObject) (api.RenameMeResponseObject, error) {
	name, err := h.house.People.Rename(ctx, h.self(ctx), r.Body.Name)
	return api.RenameMe200JSONResponse{Name: name}, err
}

func (h *handler) ChangePassword(ctx context.Context, r api.ChangePasswordRequestObject) (api.ChangePasswordResponseObject, error) {
	err := h.house.People.ChangePassword(ctx, h.self(ctx), h.sessions.Token(ctx), r.Body.Present, r.Body.Next,
		value(r.Body.KeepDrive), h.bySession(ctx))
	return api.ChangePassword204Response{}, err
}

// bySession is who asks for their own password: a session has a budget of attempts of its own.
func (h *handler) bySession(ctx context.Context) passwords.Caller {
	return passwords.Caller{From: callerOf(ctx.(*gin.Context)), Device: nameOfSession(h.sessions.Token(ctx))}
}

// nameOfSession is what stands for a session outside of its cookie.
func nameOfSession(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:12])
}

func (h *handler) ListSessions(ctx context.Context, _ api.ListSessionsRequestObject) (api.ListSessionsResponseObject, error) {
	found, err := h.house.People.Sessions(ctx, h.self(ctx))
	return api.ListSessions200JSONResponse(each(found, func(s peoplestore.Session) api.Session {
		return api.Session{ID: nameOfSession(s.Token), Begun: s.Begun, Browser: s.Browser, Place: s.Place,
			Current: s.Token == h.sessions.Token(ctx)}
	})), err
}

func (h *handler) EndSession(ctx context.Context, r api.EndSessionRequestObject) (api.EndSessionResponseObject, error) {
	found, err := h.house.People.Sessions(ctx, h.self(ctx))
	if err != nil {
		return nil, err
	}
	for _, s := range found {
		if nameOfSession(s.Token) != r.Session {
			continue
		}
		err := h.house.People.EndSession(ctx, h.self(ctx), s.Token)
		h.events.end(s.Token)
		return api.EndSession204Response{}, err
	}
	return nil, fault.NotFoundf("That browser is signed out already.")
}

func (h *handler) ViewInvitation(ctx context.Context, r api.ViewInvitationRequestObject) (api.ViewInvitationResponseObject, error) {
	i, err := h.house.People.Invitation(ctx, r.Token)
	return api.ViewInvitation200JSONResponse{Name: i.Name, Email: i.Email, BrandName: i.Brand, Returned: i.Returned, Ends: i.Ends}, err
}

func (h *handler) Join(ctx context.Context, r api.JoinRequestObject) (api.JoinResponseObject, error) {
	i, err := h.house.People.Join(ctx, r.Token, r.Body.Password)
	if err != nil {
		return nil, err
	}
	if err := h.begin(ctx, i.Person); err != nil {
		return nil, err
	}
	me, err := h.me(ctx, i.Person, i.Code)
	return api.Join200JSONResponse{MeJSONResponse: api.MeJSONResponse(me)}, err
}

func (h *handler) Invite(ctx context.Context, r api.InviteRequestObject) (api.InviteResponseObject, error) {
	i, err := h.house.People.Invite(ctx, viewerOf(ctx), r.Body.Name, r.Body.Email, access.Role(r.Body.Role))
	return api.Invite200JSONResponse(invited(i)), err
}

func (h *handler) NewLink(ctx context.Context, r api.NewLinkRequestObject) (api.NewLinkResponseObject, error) {
	i, err := h.house.People.NewLink(ctx, viewerOf(ctx), r.ID)
	return api.NewLink200JSONResponse(invited(i)), err
}

func invited(i people.Invited) api.Invited {
	out := api.Invited{Person: i.Person, Token: some(i.Token), Sent: some(i.Sent)}
	if i.Token != "" {
		out.Ends = &i.Ends
	}
	return out
}

func (h *handler) LeaveBrand(ctx context.Context, r api.LeaveBrandRequestObject) (api.LeaveBrandResponseObject, error) {
	return api.LeaveBrand204Response{}, h.house.People.Leave(ctx, viewerOf(ctx), r.ID)
}

func (h *handler) ListKnown(ctx context.Context, _ api.ListKnownRequestObject) (api.ListKnownResponseObject, error) {
	known, err := h.house.People.Elsewhere(ctx, viewerOf(ctx))
	return api.ListKnown200JSONResponse(each(known, func(p peoplestore.Person) api.KnownPerson {
		return api.KnownPerson{Name: p.Name, Email: p.Email}
	})), err
}

func brandSettings(b peoplestore.Brand) api.BrandSettings {
	return api.BrandSettings{Name: b.Name, ReviewersCount: b.ReviewersCount, SecondGo: b.SecondGo, Needs: each(b.Needs,
		func(n string) api.Need {
			return api.Need(n)
		})}
}

func (h *handler) GetBrand(ctx context.Context, _ api.GetBrandRequestObject) (api.GetBrandResponseObject, error) {
	b, err := h.house.People.Brand(ctx, viewerOf(ctx))
	return api.GetBrand200JSONResponse(brandSettings(b)), err
}

func (h *handler) ChangeBrand(ctx context.Context, r api.ChangeBrandRequestObject) (api.ChangeBrandResponseObject, error) {
	change := people.BrandChange{Name: r.Body.Name, ReviewersCount: r.Body.ReviewersCount, SecondGo: r.Body.SecondGo}
	if r.Body.Needs != nil {
		needs := each(*r.Body.Needs, func(n api.Need) string { return string(n) })
		change.Needs = &needs
	}
	b, err := h.house.People.ChangeBrand(ctx, viewerOf(ctx), change)
	return api.ChangeBrand200JSONResponse(brandSettings(b)), err
}

func (h *handler) ForgotPassword(ctx context.Context, r api.ForgotPasswordRequestObject) (api.ForgotPasswordResponseObject, error) {
	return api.ForgotPassword204Response{}, h.house.People.Forgot(ctx, r.Body.Email,
		h.callerFor(ctx.(*gin.Context), passwords.Account(r.Body.Email)))
}
