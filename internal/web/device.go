package web

import (
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/passwords"
)

// device is a browser on which passwords were right before. It is kept in a cookie, sealed: what was opened on a device has a budget of
// attempts there that nobody else can use up.
type device struct {
	ID     string   `json:"id"`
	Opened []string `json:"opened"` // passwords.Account, passwords.Gallery; the newest last
}

const (
	deviceCookie = "satchel-device"
	deviceLasts  = 400 * 24 * time.Hour // as long as browsers keep any cookie (RFC 6265bis)
	mostOpened   = 12
)

// deviceOf reads the device that a request comes from; one that was made up, or sealed by a key that is gone, is none.
func (s *Server) deviceOf(c *gin.Context) (d device) {
	text, err := c.Cookie(deviceCookie)
	if err != nil {
		return d
	}
	sealed, err := base64.RawURLEncoding.DecodeString(text)
	if err != nil {
		return d
	}
	plain, _, err := s.house.Keys.Open(sealed, deviceCookie)
	if err != nil || json.Unmarshal(plain, &d) != nil {
		return device{}
	}
	return d
}

// callerFor is who tries to open something: an address, and the device where it was opened there before.
func (s *Server) callerFor(c *gin.Context, what string) passwords.Caller {
	by := passwords.Caller{From: callerOf(c)}
	if d := s.deviceOf(c); slices.Contains(d.Opened, what) {
		by.Device = d.ID
	}
	return by
}

// remember keeps on a device that something was opened there.
func (s *Server) remember(c *gin.Context, what string) {
	d := s.deviceOf(c)
	if d.ID == "" {
		d.ID = rand.Text()
	}
	d.Opened = append(slices.DeleteFunc(d.Opened, func(one string) bool { return one == what }), what)
	d.Opened = d.Opened[max(0, len(d.Opened)-mostOpened):]
	plain, err := json.Marshal(d)
	if err != nil {
		return
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: deviceCookie, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.https,
		MaxAge: int(deviceLasts.Seconds()), Value: base64.RawURLEncoding.EncodeToString(s.house.Keys.Seal(plain, deviceCookie))})
}
