package web

import (
	"context"
	"errors"
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
)

// addContributions takes the bytes of files that guests announced, each in one request.
func (s *Server) addContributions() {
	s.route(http.MethodPut, "/g/:code/add/:file", public, s.takeFromGuest)
}

// allowsAdding says whether guests of a gallery may add pictures, and in whose name they come.
func (s *Server) allowsAdding(ctx context.Context, view *hosting.GuestView) error {
	if !view.TakesInto.Valid || !view.TakesBy.Valid {
		return fault.Forbiddenf("This gallery takes no pictures of guests.")
	}
	return nil
}

func (h *handler) AnnounceContributions(ctx context.Context, r api.AnnounceContributionsRequestObject,
) (api.AnnounceContributionsResponseObject, error) {
	view, err := h.knownTo(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	if err := h.allowsAdding(ctx, &view); err != nil {
		return nil, err
	}
	if !r.Body.Agreed {
		return nil, fault.Invalidf("agreed", "Say that the pictures may be used.")
	}
	files := make([]bringin.Dropped, len(r.Body.Files))
	for i, f := range r.Body.Files {
		if f.Bytes > hosting.MostAddedBytes {
			return nil, fault.Invalidf("files", "“%s” is larger than the %d MB that this gallery takes.", f.Name, hosting.MostAddedBytes>>20)
		}
		files[i] = bringin.Dropped{Name: f.Name, Bytes: f.Bytes}
	}
	host, err := peoplestore.ViewerIn(ctx, h.house.DB, view.TakesBy.Int64, view.Brand)
	if err != nil {
		return nil, fault.Forbiddenf("This gallery takes no pictures any more. Ask the people at %s.", view.BrandName)
	}
	batch, err := h.house.BringIn.BeginForGuest(ctx, host, view.TakesInto.Int64, view.Guest.Called(), files)
	if err != nil {
		return nil, err
	}
	if err := h.house.Hosting.NoteContributions(ctx, &view, batch.ID); err != nil {
		_, cancelled := h.house.BringIn.Cancel(ctx, host, batch.ID)
		return nil, errors.Join(err, cancelled)
	}
	return api.AnnounceContributions200JSONResponse{Files: each(batch.Files, func(f intakestore.IntakeFile) api.GuestFile {
		return api.GuestFile{Code: f.Code, Name: f.Name, State: f.State, Why: some(f.Why)}
	})}, nil
}

func (s *Server) takeFromGuest(c *gin.Context) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	if view.Guest.ID == 0 || view.State != "open" {
		return fault.Forbiddenf("This gallery is not open to you.")
	}
	if err := s.allowsAdding(c, &view); err != nil {
		return err
	}
	size, err := gallerystore.ContributionOf(c, s.house.DB, view.ID, view.Guest.ID, c.Param("file"))
	if err != nil {
		return err
	}
	if c.Request.ContentLength != size {
		return fault.Invalidf("file", "The file is not as large as was said before. Choose it again.")
	}
	if err := s.house.BringIn.Receive(c, c.Param("file"), io.LimitReader(c.Request.Body, size)); err != nil {
		return err
	}
	c.Status(http.StatusNoContent)
	return nil
}

func (h *handler) ListContributions(ctx context.Context, r api.ListContributionsRequestObject,
) (api.ListContributionsResponseObject, error) {
	all, err := h.house.Hosting.Contributions(ctx, viewerOf(ctx), r.ID)
	return api.ListContributions200JSONResponse(each(all, contribution)), err
}

func contribution(c gallerystore.Contribution) api.Contribution {
	return api.Contribution{Code: c.Code, Name: c.Name, State: c.State, Why: some(c.Why), Asset: nullInt(c.Asset), Guest: c.Guest,
		Agreed: c.Agreed, Accepted: c.Accepted.Valid}
}

func (h *handler) AcceptContributions(ctx context.Context, r api.AcceptContributionsRequestObject,
) (api.AcceptContributionsResponseObject, error) {
	_, err := h.house.Hosting.Accept(ctx, viewerOf(ctx), r.ID, r.Body.Ids)
	return api.AcceptContributions204Response{}, err
}
