package web

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store/assetstore"
)

// addFrames draws items by recipes that they do not have yet, and gives browsers what they need to draw by themselves while something is
// dragged.
func (s *Server) addFrames() {
	s.route(http.MethodPost, "/api/brands/:brand/assets/:id/frame", may(access.Prepare), s.frame)
	s.route(http.MethodPost, "/api/brands/:brand/assets/:id/tone", may(access.Prepare), s.tone)
	s.route(http.MethodPost, "/api/brands/:brand/assets/:id/base-map", may(access.Prepare), s.baseMap)
}

// Limits of a frame that is asked for: bytes of the request, and pixels of a side.
const (
	mostFrame    = 64 << 10
	longestFrame = 3000
)

// wantedFrame is what is to be drawn of an item, by which recipe, to fit in which box in pixels.
type wantedFrame struct {
	item     assetstore.Asset
	by       recipe.Recipe
	box      geometry.Size
	lossless bool
}

func (s *Server) wantedFrame(c *gin.Context) (w wantedFrame, err error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return w, fault.NotFoundf("That item is not there, or you may not see it.")
	}
	var asked struct {
		Recipe   json.RawMessage `json:"recipe"`
		Width    int             `json:"width"`
		Height   int             `json:"height"`
		Lossless bool            `json:"lossless"`
	}
	if err := json.NewDecoder(io.LimitReader(c.Request.Body, mostFrame)).Decode(&asked); err != nil {
		return w, fault.Invalidf("recipe", "That is no recipe.")
	}
	if asked.Width < 1 || asked.Height < 1 || max(asked.Width, asked.Height) > longestFrame {
		return w, fault.Invalidf("width", "A frame has sides of 1 to %d pixels.", longestFrame)
	}
	if w.by, err = parsed(asked.Recipe); err != nil {
		return w, err
	}
	if w.item, err = s.house.Preparing.Item(c, viewerOf(c), id); err != nil {
		return w, err
	}
	w.box, w.lossless = geometry.Size{Width: asked.Width, Height: asked.Height}, asked.Lossless
	if side := viewerOf(c).Allowance(w.item.Folder.Int64).Largest; side > 0 {
		w.box.Width, w.box.Height = min(w.box.Width, side), min(w.box.Height, side)
	}
	return w, nil
}

// frame sends an item as a recipe would make it.
func (s *Server) frame(c *gin.Context) error {
	w, err := s.wantedFrame(c)
	if err != nil {
		return err
	}
	frame, err := s.house.Renditions.Frame(c, w.item, w.by, w.box, w.lossless)
	if err != nil {
		return err
	}
	cut := w.by.Frame(w.item.FileSize()).Cut()
	c.Header("Satchel-Cut", fmt.Sprintf("%.5f %.5f %.5f %.5f", cut.X, cut.Y, cut.Width, cut.Height))
	return sendDrawn(c, map[bool]string{true: "image/png", false: "image/jpeg"}[w.lossless], frame)
}

// tone sends the numbers of a tone (recipe.Tone.Floats), after six that say where the pixels of the frame lie in the file
// (geometry.Frame.Places), as 32-bit floats, little-endian.
func (s *Server) tone(c *gin.Context) error {
	w, err := s.wantedFrame(c)
	if err != nil {
		return err
	}
	frame := w.by.Frame(w.item.FileSize())
	var out []byte
	for _, n := range frame.Places(frame.Cut(), renditions.FrameSize(w.item, w.by, w.box)) {
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(float32(n)))
	}
	for _, n := range recipe.ToneOf(w.by.Effective()).Floats() {
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(n))
	}
	return sendDrawn(c, "application/octet-stream", out)
}

// baseMap sends the base map that a frame is drawn with.
func (s *Server) baseMap(c *gin.Context) error {
	w, err := s.wantedFrame(c)
	if err != nil {
		return err
	}
	base, err := s.house.Renditions.BaseMap(c, w.item, w.by, w.box)
	if err != nil {
		return err
	}
	return sendDrawn(c, "application/octet-stream", base)
}

func sendDrawn(c *gin.Context, mediaType string, data []byte) error {
	mediaHeaders(c.Writer.Header(), mediaType, "", "private, no-store")
	c.Header("Content-Length", fmt.Sprint(len(data)))
	_, err := c.Writer.Write(data)
	return err
}
