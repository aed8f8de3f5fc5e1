package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/screens"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/sendout/screening"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/screenstore"

	front "brightsatchel/web"
)

// addScreens serves the page that a screen opens, what keeps it going without a network, and the pictures of screens.
func (s *Server) addScreens() {
	files := front.Files()
	s.route(http.MethodGet, "/screen", public, func(c *gin.Context) error {
		c.Header("Cache-Control", "no-cache")
		return sendPage(c, files, "screen.html")
	})
	s.route(http.MethodGet, "/screen/keeper.js", public, func(c *gin.Context) error {
		c.Header("Cache-Control", "no-cache")
		c.Header("Service-Worker-Allowed", "/screen")
		return sendPage(c, files, "keeper.js")
	})
	s.route(http.MethodGet, "/s/:code/:asset/:version/:name", public, func(c *gin.Context) error {
		on, err := s.onScreen(c, c.Param("code"))
		if err != nil {
			return err
		}
		a, shown := on.Items.Picture(c.Param("asset"))
		if !shown {
			return fault.NotFoundf("That picture is not shown there.")
		}
		return s.sendForPage(c, on.Screen.Brand, a)
	})
}

// onScreen is what a screen shows, believed for a moment: it asks for many pictures at once.
func (s *Server) onScreen(ctx context.Context, code string) (*screening.OnScreen, error) {
	return s.known.screens.get(code, holdFor, func() (*screening.OnScreen, error) {
		on, err := s.house.Screening.ScreenByCode(context.WithoutCancel(ctx), code)
		return &on, err
	})
}

func (h *handler) BeginScreen(ctx context.Context, _ api.BeginScreenRequestObject) (api.BeginScreenResponseObject, error) {
	token, err := h.house.Screening.BeginScreen(ctx, callerOf(ctx.(*gin.Context)))
	return api.BeginScreen200JSONResponse{Token: token}, err
}

// How long a screen waits for a change, and how many changes that come at once are told as one.
const (
	screenWaits = 25 * time.Second
	screenFolds = 150 * time.Millisecond
)

func (h *handler) ViewScreen(ctx context.Context, r api.ViewScreenRequestObject) (api.ViewScreenResponseObject, error) {
	token, is := strings.CutPrefix(r.Params.Authorization, "Bearer ")
	if !is {
		return nil, fault.NotFoundf("That screen is not paired any more.")
	}
	p := r.Params
	seen := screenstore.ScreenSeen{Width: value(p.Width), Height: value(p.Height), Showing: value(p.Showing), Kept: value(p.Kept)}
	st := &stream{pending: map[topics.Topic]bool{}, wake: make(chan struct{}, 1)} // of all brands, until it is known whose the screen is
	h.events.add(st)
	defer h.events.drop(st)
	until := time.NewTimer(screenWaits)
	defer until.Stop()
	for first := true; ; first = false {
		on, err := h.house.Screening.ViewScreen(ctx, token)
		if err != nil {
			return nil, err
		}
		if first && on.Pairing == nil {
			if err := h.house.Screening.NoteScreen(ctx, on.Screen, seen); err != nil {
				return nil, err
			}
		}
		out, err := onScreen(on)
		if err != nil {
			return nil, err
		}
		if out.Known != value(p.Known) || ctx.Err() != nil {
			return api.ViewScreen200JSONResponse(out), nil
		}
		for waiting := true; waiting; {
			select {
			case <-until.C:
				return api.ViewScreen200JSONResponse(out), nil
			case <-ctx.Done():
				return nil, ctx.Err()
			case <-h.events.closed:
				return api.ViewScreen200JSONResponse(out), nil
			case <-st.wake:
				time.Sleep(screenFolds)
				waiting = !h.events.concerns(st, on.Screen.Brand)
			}
		}
	}
}

// onScreen is what a screen is told. The time of the server and the moments of its hours are not a part of what makes it another one.
func onScreen(on screening.OnScreen) (api.OnScreen, error) {
	out := api.OnScreen{Paired: on.Pairing == nil}
	if on.Pairing != nil {
		out.Code = &on.Pairing.Code
		out.Known = on.Pairing.Code
		return out, nil
	}
	set := screenSettings(on.Screen.Settings.Settings)
	state := api.ScreenState(on.Screen.State)
	items := []api.ScreenItem{}
	byID := map[int64]assetstore.Asset{}
	for _, a := range on.Items.Pictures {
		byID[a.ID] = a
	}
	for _, id := range on.Order {
		items = append(items, screenItem(on.Screen, byID[id]))
	}
	out.Name, out.State, out.Jumps, out.Settings, out.Items = &on.Screen.Name, &state, &on.Screen.Jumps, &set, &items
	text, err := json.Marshal(out)
	if err != nil {
		return out, err
	}
	sum := sha256.Sum256(text)
	out.Known = hex.EncodeToString(sum[:12])
	now := time.Now()
	out.Now = &now
	switches := each(on.Switches, func(w screens.Switch) struct {
		At time.Time `json:"at"`
		On bool      `json:"on"`
	} {
		return struct {
			At time.Time `json:"at"`
			On bool      `json:"on"`
		}{w.At, w.On}
	})
	out.Switches = &switches
	return out, nil
}

// widestOnScreen is how many pixels wide a picture for a screen is at most.
const widestOnScreen = 2000

func screenItem(screen screenstore.Screen, a assetstore.Asset) api.ScreenItem {
	base := fmt.Sprintf("/s/%s/%s/%s/", screen.Code, a.Code, a.Version)
	out := api.ScreenItem{Code: a.Code, Picture: fmt.Sprintf("%s%d.webp", base, embeds.Widest(a.Width, widestOnScreen)), Width: a.Width,
		Height: a.Height, FocalX: a.FocalX, FocalY: a.FocalY, Alt: a.Alt, Tint: a.Tint}
	if a.Kind == "clip" {
		film := base + "film.mp4"
		out.Film = &film
	}
	switch screen.Settings.Captions {
	case "title":
		out.Caption = a.Title
	case "credit":
		out.Caption = a.Credit
	}
	return out
}

func screenSettings(s screens.Settings) api.ScreenSettings {
	return api.ScreenSettings{Seconds: s.Seconds, Transition: api.ScreenSettingsTransition(s.Transition),
		Captions: api.ScreenSettingsCaptions(s.Captions), Order: api.ScreenSettingsOrder(s.Order), Fit: api.ScreenSettingsFit(s.Fit),
		From:  s.From,
		Until: s.Until, Days: append([]int{}, s.Days...), Zone: s.Zone}
}

func (h *handler) ListScreens(ctx context.Context, _ api.ListScreensRequestObject) (api.ListScreensResponseObject, error) {
	all, err := h.house.Screening.Screens(ctx, viewerOf(ctx))
	return api.ListScreens200JSONResponse(each(all, func(s screenstore.Screen) api.Screen {
		out := api.Screen{ID: s.ID, Name: s.Name, By: nullString(s.By), Album: nullInt(s.Album), AlbumName: nullString(s.AlbumName),
			Settings: screenSettings(s.Settings.Settings), State: api.ScreenState(s.State), Seen: moment(s.Seen), Showing: nullInt(s.Showing)}
		if s.Seen.Valid {
			width, height, kept := int(s.Width.Int64), int(s.Height.Int64), int(s.Kept.Int64)
			out.Width, out.Height, out.Kept = &width, &height, &kept
		}
		return out
	})), err
}

func (h *handler) PairScreen(ctx context.Context, r api.PairScreenRequestObject) (api.PairScreenResponseObject, error) {
	d, err := h.house.Screening.PairScreen(ctx, viewerOf(ctx), r.Body.Code, r.Body.Name, value(r.Body.Album), r.Body.Zone)
	return api.PairScreen200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeScreen(ctx context.Context, r api.ChangeScreenRequestObject) (api.ChangeScreenResponseObject, error) {
	c := screening.ScreenChange{Name: r.Body.Name, Album: r.Body.Album, Jump: value(r.Body.Jump)}
	if r.Body.State != nil {
		state := string(*r.Body.State)
		c.State = &state
	}
	if set := r.Body.Settings; set != nil {
		c.Settings = &screens.Settings{Seconds: set.Seconds, Transition: string(set.Transition), Captions: string(set.Captions),
			Order: string(set.Order), Fit: string(set.Fit), From: set.From, Until: set.Until, Days: set.Days, Zone: set.Zone}
	}
	d, err := h.house.Screening.ChangeScreen(ctx, viewerOf(ctx), r.ID, c)
	return api.ChangeScreen200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveScreen(ctx context.Context, r api.RemoveScreenRequestObject) (api.RemoveScreenResponseObject, error) {
	d, err := h.house.Screening.RemoveScreen(ctx, viewerOf(ctx), r.ID)
	return api.RemoveScreen200JSONResponse{DoneJSONResponse: done(d)}, err
}
