package web

import (
	"context"
	"slices"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store/peoplestore"
)

func (h *handler) WhoAmI(ctx context.Context, r api.WhoAmIRequestObject) (api.WhoAmIResponseObject, error) {
	person := h.sessions.GetInt64(ctx, "person")
	if person == 0 {
		return nil, errSignedOut
	}
	me, err := h.me(ctx, person, value(r.Params.Brand))
	return api.WhoAmI200JSONResponse{MeJSONResponse: api.MeJSONResponse(me)}, err
}

// me is a person in a brand of theirs, or in the first one if they do not belong to that.
func (h *handler) me(ctx context.Context, person int64, brand string) (api.Me, error) {
	brands, err := h.house.People.Brands(ctx, person)
	if err != nil {
		return api.Me{}, err
	}
	if len(brands) == 0 {
		return api.Me{}, errSignedOut
	}
	if !slices.ContainsFunc(brands, func(b peoplestore.Brand) bool { return b.Code == brand }) {
		brand = brands[0].Code
	}
	v, err := h.house.People.Viewer(ctx, person, brand)
	if err != nil {
		return api.Me{}, err
	}
	me := api.Me{ID: person, Name: v.Name, Email: v.Email, Brand: v.BrandCode, BrandName: v.BrandName, Role: api.Role(v.Role),
		Can: actions(v.Offered()), Everywhere: actions(v.Everywhere())}
	for _, b := range brands {
		me.Brands = append(me.Brands, api.BrandName{Code: b.Code, Name: b.Name})
	}
	return me, nil
}

func (h *handler) SignIn(ctx context.Context, r api.SignInRequestObject) (api.SignInResponseObject, error) {
	c, what := ctx.(*gin.Context), passwords.Account(r.Body.Email)
	person, err := h.house.People.SignIn(ctx, r.Body.Email, r.Body.Password, h.callerFor(c, what))
	if err != nil {
		return nil, err
	}
	brands, err := h.house.People.Brands(ctx, person.ID)
	if err != nil {
		return nil, err
	}
	if len(brands) == 0 {
		return nil, fault.Forbiddenf("You do not belong to any brand now. A steward can add you again.")
	}
	if err := h.begin(ctx, person.ID); err != nil {
		return nil, err
	}
	h.remember(c, what)
	me, err := h.me(ctx, person.ID, "")
	return api.SignIn200JSONResponse{MeJSONResponse: api.MeJSONResponse(me)}, err
}

func (h *handler) SignOut(ctx context.Context, _ api.SignOutRequestObject) (api.SignOutResponseObject, error) {
	token := h.sessions.Token(ctx)
	err := h.sessions.Destroy(ctx)
	h.events.end(token)
	return api.SignOut204Response{}, err
}
