package web

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/web/drive"
)

// addDrive shows the library as a drive. Whose it is says the password that comes with each request, and not a session.
func (s *Server) addDrive() {
	handler := &drive.Handler{
		House: s.house,
		Remember: func(key string, load func() (peoplestore.DriveViewer, error)) (peoplestore.DriveViewer, error) {
			return s.known.drives.get(key, holdFor, load)
		},
	}
	protected := http.NewCrossOriginProtection().Handler(handler)
	for _, method := range drive.Methods {
		for _, path := range []string{drive.Prefix, drive.Prefix + "/*path"} {
			s.route(method, path, public, func(c *gin.Context) error {
				protected.ServeHTTP(directly(c.Writer), drive.From(c.Request, callerOf(c)))
				return nil
			})
		}
	}
}

func (h *handler) ListDrivePasswords(ctx context.Context, _ api.ListDrivePasswordsRequestObject) (api.ListDrivePasswordsResponseObject,
	error) {
	all, err := h.house.People.DrivePasswords(ctx, viewerOf(ctx))
	return api.ListDrivePasswords200JSONResponse(each(all, func(p drivestore.DrivePassword) api.DrivePassword {
		return api.DrivePassword{ID: p.ID, Name: p.Name, Created: p.Created, Used: moment(p.Used), Ends: moment(p.Ends)}
	})), err
}

func (h *handler) MakeDrivePassword(ctx context.Context, r api.MakeDrivePasswordRequestObject) (api.MakeDrivePasswordResponseObject,
	error) {
	if err := h.house.People.Confirm(ctx, viewerOf(ctx).Person, r.Body.Present, h.bySession(ctx)); err != nil {
		return nil, err
	}
	password, err := h.house.People.MakeDrivePassword(ctx, viewerOf(ctx), r.Body.Name, value(r.Body.Days))
	return api.MakeDrivePassword200JSONResponse{Password: password}, err
}

func (h *handler) EndDrivePassword(ctx context.Context, r api.EndDrivePasswordRequestObject) (api.EndDrivePasswordResponseObject, error) {
	d, err := h.house.People.EndDrivePassword(ctx, viewerOf(ctx), r.ID)
	return api.EndDrivePassword200JSONResponse{DoneJSONResponse: done(d)}, err
}
