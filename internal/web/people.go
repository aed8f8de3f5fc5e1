package web

import (
	"context"
	"encoding/json"
	"time"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/peoplestore"
)

// The operations of people: rights, grants, brands, and what everybody sets for themselves.

func (h *handler) rights(ctx context.Context) (api.Rights, error) {
	r, err := h.house.People.Rights(ctx, viewerOf(ctx))
	if err != nil {
		return api.Rights{}, err
	}
	public, err := h.house.Hosting.Public(ctx, viewerOf(ctx))
	return api.Rights{
		People: each(r.People, func(m peoplestore.Member) api.Member {
			return api.Member{ID: m.ID, Name: m.Name, Email: m.Email, Role: api.Role(m.Role), Can: actions(m.Offered()), Joined: m.Joined,
				LinkEnds: linkEnds(r.Links, m.ID)}
		}),
		Grants: each(r.Grants, func(g peoplestore.Grant) api.Grant {
			out := api.Grant{ID: g.ID, Person: nullInt(g.Person), Folder: nullInt(g.Folder), Album: nullInt(g.Album),
				Level: api.Level(g.Level)}
			if g.Role.Valid {
				role := api.Role(g.Role.String)
				out.Role = &role
			}
			return out
		}),
		Public: each(public, func(p hosting.Reachable) api.Reachable {
			return api.Reachable{Kind: api.ReachableKind(p.Kind), Name: p.Name, Path: some(p.Path), Who: p.Who, Items: p.Items}
		}),
	}, err
}

func (h *handler) GetRights(ctx context.Context, _ api.GetRightsRequestObject) (api.GetRightsResponseObject, error) {
	r, err := h.rights(ctx)
	return api.GetRights200JSONResponse(r), err
}

func (h *handler) SetRole(ctx context.Context, r api.SetRoleRequestObject) (api.SetRoleResponseObject, error) {
	if err := h.house.People.SetRole(ctx, viewerOf(ctx), r.ID, access.Role(r.Body.Role)); err != nil {
		return nil, err
	}
	rights, err := h.rights(ctx)
	return api.SetRole200JSONResponse(rights), err
}

func (h *handler) SeesAs(ctx context.Context, r api.SeesAsRequestObject) (api.SeesAsResponseObject, error) {
	v, err := h.house.People.As(ctx, viewerOf(ctx), r.ID)
	if err != nil {
		return nil, err
	}
	page, err := h.house.Finding.Sheet(ctx, v, query.Query{Place: "everything", Filter: query.Both(query.WithAside)}, 0, 1)
	if err != nil {
		return nil, err
	}
	folders, err := h.house.Filing.Folders(ctx, v)
	if err != nil {
		return nil, err
	}
	albums, err := h.house.Gathering.Albums(ctx, v)
	return api.SeesAs200JSONResponse{Items: page.Total, Can: actions(v.Offered()), Folders: each(folders, folder),
		Albums: each(albums, album)}, err
}

func (h *handler) GiveGrant(ctx context.Context, r api.GiveGrantRequestObject) (api.GiveGrantResponseObject, error) {
	d, err := h.house.People.Give(ctx, viewerOf(ctx), value(r.Body.Person), access.Role(value(r.Body.Role)),
		access.Grant{Folder: value(r.Body.Folder), Album: value(r.Body.Album), Level: access.Level(r.Body.Level)})
	return api.GiveGrant200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TakeGrant(ctx context.Context, r api.TakeGrantRequestObject) (api.TakeGrantResponseObject, error) {
	d, err := h.house.People.Take(ctx, viewerOf(ctx), r.ID)
	return api.TakeGrant200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) CreateBrand(ctx context.Context, r api.CreateBrandRequestObject) (api.CreateBrandResponseObject, error) {
	code, err := h.house.People.CreateBrand(ctx, viewerOf(ctx), r.Body.Name)
	return api.CreateBrand200JSONResponse{Code: code, Name: r.Body.Name}, err
}

func (h *handler) GetPreferences(ctx context.Context, _ api.GetPreferencesRequestObject) (api.GetPreferencesResponseObject, error) {
	text, err := h.house.People.Preferences(ctx, viewerOf(ctx))
	if err != nil {
		return nil, err
	}
	out := api.GetPreferences200JSONResponse{}
	return out, json.Unmarshal(text, &out)
}

func (h *handler) SetPreferences(ctx context.Context, r api.SetPreferencesRequestObject) (api.SetPreferencesResponseObject, error) {
	text, err := h.house.People.SetPreferences(ctx, viewerOf(ctx), *r.Body)
	if err != nil {
		return nil, err
	}
	out := api.SetPreferences200JSONResponse{}
	return out, json.Unmarshal(text, &out)
}

// linkEnds is until when a person's link works, if they have one.
func linkEnds(links map[int64]time.Time, person int64) *time.Time {
	if ends, open := links[person]; open {
		return &ends
	}
	return nil
}
