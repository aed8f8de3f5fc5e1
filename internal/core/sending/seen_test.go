package sending_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/sending"
)

func TestWhatIsOutThereIsComparedInWords(t *testing.T) {
	picture := func(hash likeness.Hash, w, h int, bytes int64) sending.Picture {
		return sending.Picture{Size: geometry.Size{Width: w, Height: h}, Likeness: hash, Bytes: bytes}
	}
	a, b := picture(0, 1000, 800, 100_000), picture(^likeness.Hash(0), 800, 800, 100_000)
	both := sending.Result{Caption: "Up", Pictures: []sending.Picture{a, b}}
	one := func(p sending.Picture) sending.Result { return sending.Result{Pictures: []sending.Picture{p}} }
	for name, test := range map[string]struct {
		sent, seen sending.Result
		want       []string
	}{
		"as it was sent":  {both, both, nil},
		"caption changed": {both, sending.Result{Caption: "Down", Pictures: both.Pictures}, []string{"The caption is another one there: “Down”"}},
		"no caption":      {both, sending.Result{Pictures: both.Pictures}, []string{"The caption is missing there."}},
		"one is missing":  {both, sending.Result{Caption: "Up", Pictures: both.Pictures[:1]}, []string{"1 of 2 pictures are there."}},
		"in another order": {both, sending.Result{Caption: "Up", Pictures: []sending.Picture{b, a}},
			[]string{"The pictures are in another order there."}},
		"cut":     {one(a), one(picture(1, 600, 800, 60_000)), []string{"The picture was cut there: 600 × 800 instead of 1000 × 800."}},
		"resized": {one(a), one(picture(1, 500, 400, 60_000)), []string{"The picture was resized there: 500 × 400 instead of 1000 × 800."}},
		"coarser": {one(a), one(picture(1, 1000, 800, 20_000)), []string{"The picture is coarser there: 20 % of its bytes."}},
		"another": {one(a), one(picture(^likeness.Hash(0), 1000, 800, 90_000)), []string{"The picture is another one there."}},
		"nothing": {one(a), one(sending.Picture{}), []string{"The picture could not be looked at there."}},
		"picture 2 cut": {both, sending.Result{Caption: "Up", Pictures: []sending.Picture{a, picture(^likeness.Hash(1), 800, 500, 9)}},
			[]string{"Picture 2 was cut there: 800 × 500 instead of 800 × 800."}},
	} {
		assert.Equal(t, test.want, sending.Compare(test.sent, test.seen), name)
	}
	rapid.Check(t, func(t *rapid.T) {
		var r sending.Result
		r.Caption = rapid.String().Draw(t, "caption")
		for range rapid.IntRange(0, 12).Draw(t, "pictures") {
			r.Pictures = append(r.Pictures, picture(likeness.Hash(rapid.Uint64().Draw(t, "hash")), rapid.IntRange(1, 4000).Draw(t, "w"),
				rapid.IntRange(1, 4000).Draw(t, "h"), int64(rapid.IntRange(1, 1<<20).Draw(t, "bytes"))))
		}
		assert.Empty(t, sending.Compare(r, r), "the same is the same")
	})
}
