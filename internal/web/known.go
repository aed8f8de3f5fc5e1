package web

import (
	"context"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/sendout/screening"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
)

// known is what a server remembers to hand out pictures without asking the database for each: who has which session, what
// they may look at, and what is under an address. It holds for a second at most, and is dropped at once where the database
// tells of a change; whether somebody may look at an item comes from the index. Nothing but looking is decided by it.
type known struct {
	house     *house.House
	people    remembered[string, int64]                   // of session tokens
	viewers   remembered[whoWhere, viewer]                // of people in brands
	drives    remembered[string, peoplestore.DriveViewer] // of addresses with their passwords
	visits    remembered[string, hosting.GuestView]
	unlocked  remembered[string, galleries.Caller]     // of session token, gallery and the stored form of its password
	delivered remembered[string, assetstore.Delivered] // of codes and versions: they never change
	galleries remembered[string, *hosting.Shown]
	forGuests remembered[guestAsks, string] // the key of a preview that a guest may have
	embeds    remembered[string, *showing.Embedded]
	screens   remembered[string, *screening.OnScreen]
	onPages   remembered[string, string] // of paths below an embed: the key of a picture that it shows
	addresses remembered[string, addressed]
	sizes     remembered[string, outputs.Size] // of brand and name in public addresses
	forPages  remembered[string, string]       // of code, version and size: the key of a picture that was made
	finding   singleflight.Group
}

type whoWhere struct {
	person int64
	brand  string
}

// viewer is a viewer with where they may look.
type viewer struct {
	*access.Viewer
	look access.Reach
}

// holdFor is how long something is believed that may change.
const holdFor = time.Second

func newKnown(h *house.House) *known { return &known{house: h} }

// forget drops what depends on what changed in a brand; brand 0 means all.
func (k *known) forget(_ int64, topic topics.Topic) {
	switch topic {
	case topics.Grants, topics.Members, topics.Folders, topics.Everything:
		k.viewers.clear()
		k.drives.clear()
	}
	if topic == topics.DrivePasswords {
		k.drives.clear()
	}
	if topic == topics.Galleries || topic == topics.Chapters || topic == topics.Everything {
		k.visits.clear()
		k.galleries.clear()
		k.forGuests.clear()
	}
	if topic == topics.Guests || topic == topics.Everything {
		k.unlocked.clear()
		k.forGuests.clear()
	}
	if topic == topics.Embeds || topic == topics.EmbedSources || topic == topics.Everything {
		k.embeds.clear()
		k.onPages.clear()
	}
	if topic == topics.Screens || topic == topics.Everything {
		k.screens.clear()
	}
	if topic == topics.Sizes || topic == topics.Everything {
		k.sizes.clear()
	}
	if topic == topics.PublicAddresses || topic == topics.Everything {
		k.addresses.clear()
	}
}

func (k *known) viewer(ctx context.Context, person int64, brand string) (viewer, error) {
	return k.viewers.get(whoWhere{person, brand}, holdFor, func() (viewer, error) {
		v, err := k.house.People.Viewer(ctx, person, brand)
		if err != nil {
			return viewer{}, err
		}
		return viewer{v, v.May(access.Look)}, nil
	})
}

// remembered holds values for a time. When it has grown too large it begins anew.
type remembered[K comparable, V any] struct {
	mu  sync.RWMutex
	all map[K]held[V]
}

type held[V any] struct {
	value V
	until time.Time
}

const mostRemembered = 20_000

func (r *remembered[K, V]) get(key K, hold time.Duration, load func() (V, error)) (V, error) {
	now := time.Now()
	r.mu.RLock()
	h, there := r.all[key]
	r.mu.RUnlock()
	if there && now.Before(h.until) {
		return h.value, nil
	}
	value, err := load()
	if err == nil {
		r.put(key, value, now.Add(hold)) // from when it was asked: it was true then
	}
	return value, err
}

// have is the value of a key that is remembered.
func (r *remembered[K, V]) have(key K) (V, bool) {
	r.mu.RLock()
	defer r.mu.RUnlock()
	h, there := r.all[key]
	return h.value, there && time.Now().Before(h.until)
}

func (r *remembered[K, V]) put(key K, value V, until time.Time) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.all == nil || len(r.all) >= mostRemembered {
		r.all = map[K]held[V]{}
	}
	r.all[key] = held[V]{value, until}
}

func (r *remembered[K, V]) clear() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.all = nil
}
