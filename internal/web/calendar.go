package web

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store/poststore"
)

func beat(b sending.Beat) api.Beat { return api.Beat{Weekday: int(b.Weekday), Minute: b.Minute} }

func (h *handler) GetCalendar(ctx context.Context, r api.GetCalendarRequestObject) (api.GetCalendarResponseObject, error) {
	all, err := h.house.Posting.Calendar(ctx, viewerOf(ctx), r.Params.From, r.Params.To)
	return api.GetCalendar200JSONResponse(each(all, func(p posting.InCalendar) api.CalendarPost {
		return api.CalendarPost{ID: p.ID, Dispatch: p.Dispatch, Page: p.Page, PageName: p.PageName, Phase: api.CalendarPostPhase(p.Phase),
			Due: p.Due, Wall: p.Wall, Zone: p.Zone, Items: p.Items, Item: nullInt(p.Item), Caption: p.Caption, Withdrawn: p.Withdrawn,
			Still: p.Still, Crowded: p.Crowded, Ends: p.Ends}
	})), err
}

func (h *handler) GetCalendarDays(ctx context.Context, r api.GetCalendarDaysRequestObject) (api.GetCalendarDaysResponseObject, error) {
	all, err := h.house.Posting.CalendarDays(ctx, viewerOf(ctx), r.Params.From, r.Params.To)
	return api.GetCalendarDays200JSONResponse(each(all, func(d poststore.PlannedDay) api.CalendarDay {
		return api.CalendarDay{Day: d.Day, Posts: d.Posts, Planned: d.Planned, Wrong: d.Wrong}
	})), err
}

func (h *handler) MakeCalendarFeed(ctx context.Context, _ api.MakeCalendarFeedRequestObject) (api.MakeCalendarFeedResponseObject, error) {
	address, err := h.house.Posting.MakeCalendarFeed(ctx, viewerOf(ctx))
	return api.MakeCalendarFeed200JSONResponse{Address: address}, err
}

func (h *handler) EndCalendarFeed(ctx context.Context, _ api.EndCalendarFeedRequestObject) (api.EndCalendarFeedResponseObject, error) {
	d, err := h.house.Posting.EndCalendarFeed(ctx, viewerOf(ctx))
	return api.EndCalendarFeed200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) SetRhythm(ctx context.Context, r api.SetRhythmRequestObject) (api.SetRhythmResponseObject, error) {
	rhythm := sending.Rhythm(each(r.Body.Beats, func(b api.Beat) sending.Beat {
		return sending.Beat{Weekday: time.Weekday(b.Weekday), Minute: b.Minute}
	}))
	d, err := h.house.Posting.SetRhythm(ctx, viewerOf(ctx), r.ID, rhythm)
	return api.SetRhythm200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListPageFeeds(ctx context.Context, _ api.ListPageFeedsRequestObject) (api.ListPageFeedsResponseObject, error) {
	all, err := h.house.Posting.PageFeeds(ctx, viewerOf(ctx))
	return api.ListPageFeeds200JSONResponse(each(all, func(f posting.Feeding) api.PageFeed {
		out := api.PageFeed{ID: f.ID, Page: f.Page, PageName: f.PageName, Album: f.Album, AlbumTitle: f.Title, Caption: f.Caption,
			Running: f.Running, Next: moment(f.Next), Left: f.Left, Trouble: f.Trouble}
		if f.Item != 0 {
			out.Item = &f.Item
		}
		return out
	})), err
}

func (h *handler) AddPageFeed(ctx context.Context, r api.AddPageFeedRequestObject) (api.AddPageFeedResponseObject, error) {
	d, err := h.house.Posting.AddPageFeed(ctx, viewerOf(ctx), poststore.PageFeed{Page: r.Body.Page, Album: r.Body.Album,
		Caption: r.Body.Caption})
	return api.AddPageFeed200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangePageFeed(ctx context.Context, r api.ChangePageFeedRequestObject) (api.ChangePageFeedResponseObject, error) {
	d, err := h.house.Posting.ChangePageFeed(ctx, viewerOf(ctx), r.ID, string(r.Body.What))
	return api.ChangePageFeed200JSONResponse{DoneJSONResponse: done(d)}, err
}

// addCalendar serves the calendar to programs that subscribe to it; the code in the address is what lets in.
func (s *Server) addCalendar() {
	s.route(http.MethodGet, "/calendar/:file", public, func(c *gin.Context) error {
		code, named := strings.CutSuffix(c.Param("file"), ".ics")
		if !named {
			return fault.NotFoundf("There is no such calendar any more.")
		}
		text, err := s.house.Posting.CalendarFeed(c, code)
		if err != nil {
			return err
		}
		c.Header("Cache-Control", "private, no-cache")
		c.Data(http.StatusOK, "text/calendar; charset=utf-8", []byte(text))
		return nil
	})
}
