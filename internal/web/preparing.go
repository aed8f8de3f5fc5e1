package web

import (
	"context"
	"encoding/json"
	"errors"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/preparing"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
)

// as carries what has the same form as JSON: the recipe of the contract is that of core/recipe, field by field.
func as[To any](from any) (to To, err error) {
	text, err := json.Marshal(from)
	if err == nil {
		err = json.Unmarshal(text, &to)
	}
	return to, err
}

func recipeFrom(r api.Recipe) (recipe.Recipe, error) {
	text, err := json.Marshal(r)
	if err != nil {
		return recipe.Recipe{}, err
	}
	return parsed(text)
}

func parsed(text []byte) (recipe.Recipe, error) {
	r, err := recipe.Parse(text)
	var invalid *fault.Invalid
	if err != nil && !errors.As(err, &invalid) {
		err = fault.Invalidf("recipe", "That is no recipe: %v.", err)
	}
	return r, err
}

func recipeOf(r recipe.Recipe) (api.Recipe, error) { return as[api.Recipe](r.Normal()) }

func (h *handler) SetRecipe(ctx context.Context, r api.SetRecipeRequestObject) (api.SetRecipeResponseObject, error) {
	to, err := recipeFrom(r.Body.Recipe)
	if err != nil {
		return nil, err
	}
	d, err := h.house.Preparing.Set(ctx, viewerOf(ctx), r.ID, r.Body.Base, to, value(r.Body.Step))
	return api.SetRecipe200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) SetFocal(ctx context.Context, r api.SetFocalRequestObject) (api.SetFocalResponseObject, error) {
	var at *geometry.Point
	if r.Body.X != nil && r.Body.Y != nil {
		at = &geometry.Point{X: *r.Body.X, Y: *r.Body.Y}
	}
	if r.Body.Proportion != nil {
		d, err := h.house.Preparing.FocalFor(ctx, viewerOf(ctx), r.ID, *r.Body.Proportion, at)
		return api.SetFocal200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	d, err := h.house.Preparing.Focal(ctx, viewerOf(ctx), r.ID, at)
	return api.SetFocal200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListPageCrops(ctx context.Context, r api.ListPageCropsRequestObject) (api.ListPageCropsResponseObject, error) {
	all, err := h.house.Preparing.PageCrops(ctx, viewerOf(ctx), r.ID)
	out := make(api.ListPageCrops200JSONResponse, len(all))
	for i, c := range all {
		out[i] = api.PageCrop{ID: c.Page.ID, Name: c.Page.Name, Narrowest: proportionOf(c.Narrowest), Widest: proportionOf(c.Widest),
			Crop: proportionOf(c.Crop)}
	}
	return out, err
}

func proportionOf(s geometry.Size) *api.Proportion {
	if s.Empty() {
		return nil
	}
	return &api.Proportion{Width: s.Width, Height: s.Height}
}

func (h *handler) ListRecipes(ctx context.Context, r api.ListRecipesRequestObject) (api.ListRecipesResponseObject, error) {
	steps, err := h.house.Preparing.History(ctx, viewerOf(ctx), r.ID)
	out := make(api.ListRecipes200JSONResponse, len(steps))
	for i, s := range steps {
		out[i] = api.EarlierRecipe{Trail: s.Trail, At: s.At.Time, By: s.By, Words: append([]string{}, s.Words...)}
		if out[i].Recipe, err = recipeOf(s.Recipe.Recipe); err != nil {
			return nil, err
		}
	}
	return out, err
}

func (h *handler) ProposeRecipe(ctx context.Context, r api.ProposeRecipeRequestObject) (api.ProposeRecipeResponseObject, error) {
	now, err := recipeFrom(r.Body.Recipe)
	if err != nil {
		return nil, err
	}
	at := geometry.Point{X: value(r.Body.X), Y: value(r.Body.Y)}
	to, note, err := h.house.Preparing.Propose(ctx, viewerOf(ctx), r.ID, string(r.Body.What), now, at)
	if err != nil {
		return nil, err
	}
	out := api.ProposeRecipe200JSONResponse{Words: append([]string{}, recipe.Changes(now, to)...), Note: some(note)}
	out.Recipe, err = recipeOf(to)
	return out, err
}

func (h *handler) ChangeRecipes(ctx context.Context, r api.ChangeRecipesRequestObject) (api.ChangeRecipesResponseObject, error) {
	c := recipe.Change{Turn: value(r.Body.Turn), Flip: value(r.Body.Flip), Width: value(r.Body.Width), Height: value(r.Body.Height)}
	for _, p := range value(r.Body.Back) {
		c.Back = append(c.Back, string(p))
	}
	for _, p := range value(r.Body.Parts) {
		c.Parts = append(c.Parts, string(p))
	}
	if r.Body.Look != nil {
		c.Look = &recipe.Layer{ID: *r.Body.Look, Strength: 100}
		if r.Body.Strength != nil {
			c.Look.Strength = *r.Body.Strength
		}
	}
	d, err := h.house.Preparing.Change(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), c, value(r.Body.From))
	return api.ChangeRecipes200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MakeAlike(ctx context.Context, r api.MakeAlikeRequestObject) (api.MakeAlikeResponseObject, error) {
	d, err := h.house.Preparing.MakeAlike(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Model)
	return api.MakeAlike200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) PreviewAlike(ctx context.Context, r api.PreviewAlikeRequestObject) (api.PreviewAlikeResponseObject, error) {
	found, err := h.house.Preparing.Alike(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Model)
	return api.PreviewAlike200JSONResponse(each(found, func(l preparing.Likened) api.Likened {
		return api.Likened{ID: l.ID, Exposure: l.Exposure, Warmth: l.Warmth, Tint: l.Tint}
	})), err
}

func (h *handler) ListLooks(ctx context.Context, _ api.ListLooksRequestObject) (api.ListLooksResponseObject, error) {
	looks, err := h.house.Preparing.Looks(ctx, viewerOf(ctx))
	out := make(api.ListLooks200JSONResponse, len(looks))
	for i, l := range looks {
		out[i] = api.Look{ID: l.ID, Name: l.Name, Groups: each(l.Groups, func(g string) api.RecipePart { return api.RecipePart(g) }),
			Words: append([]string{}, recipe.Words(recipe.Recipe{Adjustments: l.Values.Adjustments})...)}
		if out[i].Values, err = as[api.Adjustments](l.Values.Adjustments); err != nil {
			return nil, err
		}
	}
	return out, err
}

// lookFrom reads a look that somebody saves, or brings in from a file.
func lookFrom(w api.LookWanted) (recipestore.PictureLook, error) {
	if value(w.Version) > recipe.Current {
		return recipestore.PictureLook{}, recipe.Recipe{Version: *w.Version}.Check()
	}
	values, err := as[recipe.Adjustments](w.Values)
	groups := each(w.Groups, func(g api.RecipePart) string { return string(g) })
	return recipestore.PictureLook{Name: w.Name, Groups: groups, Values: recipestore.Adjustments{Adjustments: values}}, err
}

func (h *handler) SaveLook(ctx context.Context, r api.SaveLookRequestObject) (api.SaveLookResponseObject, error) {
	l, err := lookFrom(*r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.house.Preparing.SaveLook(ctx, viewerOf(ctx), l)
	return api.SaveLook200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeLook(ctx context.Context, r api.ChangeLookRequestObject) (api.ChangeLookResponseObject, error) {
	l, err := lookFrom(*r.Body)
	if err != nil {
		return nil, err
	}
	l.ID = r.ID
	d, err := h.house.Preparing.SaveLook(ctx, viewerOf(ctx), l)
	return api.ChangeLook200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveLook(ctx context.Context, r api.RemoveLookRequestObject) (api.RemoveLookResponseObject, error) {
	d, err := h.house.Preparing.RemoveLook(ctx, viewerOf(ctx), r.ID)
	return api.RemoveLook200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListControls(context.Context, api.ListControlsRequestObject) (api.ListControlsResponseObject, error) {
	return api.ListControls200JSONResponse(each(recipe.Controls, func(c recipe.Control) api.Control {
		return api.Control{Name: c.Name, Words: c.Words, Group: api.RecipePart(c.Group), Unit: c.Unit, From: c.From, To: c.To, Step: c.Step,
			Neutral: c.Neutral, With: c.With, Film: c.OnFilm()}
	})), nil
}

func (h *handler) GetFilm(ctx context.Context, r api.GetFilmRequestObject) (api.GetFilmResponseObject, error) {
	v := viewerOf(ctx)
	a, err := assetstore.AssetByID(ctx, h.house.DB, v, r.ID)
	if err != nil {
		return nil, err
	}
	if a.Kind != "clip" {
		return nil, fault.Invalidf("id", "It is no clip.")
	}
	film, err := h.house.Renditions.FilmState(ctx, v.Brand, a, v.Allowance(a.Folder.Int64))
	return api.GetFilm200JSONResponse{Ready: film.Ready, Made: film.Made, Failed: some(film.Failed)}, err
}
