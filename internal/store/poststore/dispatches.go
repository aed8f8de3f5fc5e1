// Package poststore keeps what is posted: outlets and their pages, plans, drafts, and each try.
package poststore

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/store"
)

// Dispatch is one sending of items to pages.
type Dispatch struct {
	ID        int64          `db:"id"`
	Brand     int64          `db:"brand_id"`
	Person    sql.NullInt64  `db:"person_id"`
	By        sql.NullString `db:"by_name"`
	Items     int            `db:"items"`
	Due       time.Time      `db:"due_at"`
	Zone      string         `db:"zone"`
	Created   time.Time      `db:"created_at"`
	Waits     bool           `db:"waits"` // for somebody else's go
	GoBy      sql.NullString `db:"go_by_name"`
	Held      bool           `db:"held"`
	Origin    string         `db:"origin"`       // what fed it, or ""
	Rehearsal sql.NullInt64  `db:"rehearsal_id"` // that it followed from
	Moves     sql.NullInt64  `db:"moves"`        // the post that is taken back once all of it is out
	Posts     []DispatchPost `db:"-"`
}

// DispatchPost is a post of a dispatch on one page.
type DispatchPost struct {
	ID        int64         `db:"id"`
	Brand     int64         `db:"brand_id"`
	Dispatch  int64         `db:"dispatch_id"`
	Page      sql.NullInt64 `db:"page_id"`
	PageName  string        `db:"page_name"`
	Code      string        `db:"code"`
	Caption   string        `db:"caption"`
	Post      sentPost      `db:"post"`
	Address   string        `db:"address"`
	Withdrawn sql.NullTime  `db:"withdrawn_at"`
	Due       time.Time     `db:"due_at"`
	Wall      string        `db:"wall"` // what clocks of the page show then, as calendar.WallForm
	Zone      string        `db:"zone"`
	Album     string        `db:"album"`        // there, by its title
	AlbumID   string        `db:"album_remote"` // there, once it is known
	Still     bool          `db:"still"`        // it waits for somebody's go, or is held
	Seen      *seenPost     `db:"seen"`
	Outlet    sql.NullInt64 `db:"outlet_id"`  // of its page
	TakesBack bool          `db:"takes_back"` // its page lets posts be taken back from here
	Items     []DispatchItem
}

// SeenPost is what a post looked like out there when it was looked at last.
type SeenPost struct {
	At      time.Time `json:"at"`
	Gone    time.Time `json:"gone,omitzero"` // when it was missed first
	Said    []string  `json:"said"`          // how it differs from what was sent
	Caption string    `json:"caption"`
	Media   []string  `json:"media"` // its pictures, by their ids there
	Trouble string    `json:"trouble,omitempty"`
}

type seenPost struct{ SeenPost }

// Scan implements sql.Scanner.
func (p *seenPost) Scan(value any) error { return store.ScanJSON(value, &p.SeenPost) }

type sentPost struct{ once.Post }

// Scan implements sql.Scanner.
func (p *sentPost) Scan(value any) error { return store.ScanJSON(value, &p.Post) }

// DispatchItem is an item of a post, as it was when somebody said "go".
type DispatchItem struct {
	Post     int64         `db:"post_id"`
	Position int           `db:"position"`
	Asset    sql.NullInt64 `db:"asset_id"`
	Version  sql.NullInt64 `db:"version_id"`
	Alt      string        `db:"alt"`
	Mend     string        `db:"mend"`
	// AtX and AtY are the point that stays in sight when it is cut, in fractions of its sides, where it is not the focal point.
	AtX sql.NullFloat64 `db:"at_x"`
	AtY sql.NullFloat64 `db:"at_y"`
	// Recipe is the hash of the recipe by which it was made last for its page, Sent what that looked like; unknown until then.
	Recipe sql.NullString `db:"recipe"`
	Sent   *sentPicture   `db:"sent"`
}

type sentPicture struct{ sending.Picture }

// Scan implements sql.Scanner.
func (p *sentPicture) Scan(value any) error { return store.ScanJSON(value, &p.Picture) }

// AddDispatch writes a dispatch down with its posts and their items, and returns its id and those of the posts.
func AddDispatch(ctx context.Context, tx *store.Tx, d Dispatch) (id int64, posts []int64, err error) {
	id, err = store.Get[int64](ctx, tx, "", `insert into dispatch (brand_id, person_id, items, due_at, zone, waits, origin, moves,
		rehearsal_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id`, d.Brand, d.Person, d.Items, d.Due, d.Zone, d.Waits, d.Origin,
		d.Moves, d.Rehearsal)
	if err != nil {
		return 0, nil, err
	}
	for _, p := range d.Posts {
		text, err := json.Marshal(p.Post.Post)
		if err != nil {
			return 0, nil, err
		}
		wake := sql.NullTime{Time: time.Now(), Valid: !d.Waits}
		post, err := store.Get[int64](ctx, tx, "", `insert into dispatch_post (brand_id, dispatch_id, page_id, page_name, caption, post, wake_at,
			due_at, wall, zone, album) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) returning id`, d.Brand, id, p.Page, p.PageName,
			p.Caption, text, wake, p.Due, p.Wall, p.Zone, p.Album)
		if err != nil {
			return 0, nil, err
		}
		if err := addDispatchItems(ctx, tx, d.Brand, post, p.Items); err != nil {
			return 0, nil, err
		}
		posts = append(posts, post)
	}
	return id, posts, nil
}

// addDispatchItems writes down what a post shows.
func addDispatchItems(ctx context.Context, tx *store.Tx, brand, post int64, items []DispatchItem) error {
	var assets, versions []sql.NullInt64
	var alts, mends []string
	var xs, ys []sql.NullFloat64
	for _, i := range items {
		assets, versions, alts, mends = append(assets, i.Asset), append(versions, i.Version), append(alts, i.Alt), append(mends, i.Mend)
		xs, ys = append(xs, i.AtX), append(ys, i.AtY)
	}
	_, err := tx.ExecContext(ctx, `insert into dispatch_item (post_id, brand_id, position, asset_id, version_id, alt, mend, at_x, at_y)
		select $1, $2, place - 1, a, v, alt, mend, x, y from unnest($3::bigint[], $4::bigint[], $5::text[], $6::text[], $7::float8[],
			$8::float8[]) with ordinality i (a, v, alt, mend, x, y, place)`, post, brand, assets, versions, alts, mends, xs, ys)
	return err
}

// Dispatches lists the dispatches of a brand before an id (0 is none), the newest first, with their posts and items.
func Dispatches(ctx context.Context, r store.Reader, brand, before int64, most int) ([]Dispatch, error) {
	all, err := store.List[Dispatch](ctx, r, `select d.id, d.brand_id, d.person_id, p.name as by_name, d.items, d.due_at, d.zone, d.created_at,
		d.waits, d.held, d.origin, g.name as go_by_name
		from dispatch d left join person p on p.id = d.person_id left join person g on g.id = d.go_by where d.brand_id = $1 and ($2 = 0 or d.id
			< $2) order by d.id desc limit $3`,
		brand, before, most)
	if err != nil {
		return nil, err
	}
	ids, at := make([]int64, len(all)), map[int64]int{}
	for i, d := range all {
		ids[i], at[d.ID] = d.ID, i
	}
	posts, err := store.List[DispatchPost](ctx, r, postColumns+` where dispatch_id = any($1) order by id`, ids)
	if err != nil {
		return nil, err
	}
	if err := withItems(ctx, r, posts); err != nil {
		return nil, err
	}
	for _, p := range posts {
		d := &all[at[p.Dispatch]]
		d.Posts = append(d.Posts, p)
	}
	return all, nil
}

const postColumns = `select id, brand_id, dispatch_id, page_id, page_name, code, caption, post, address, withdrawn_at, due_at, wall, zone,
	album,
	album_remote, seen, (select g.outlet_id from page g where g.id = page_id) as outlet_id,
	coalesce((select (g.limits->>'withdraws')::boolean from page g where g.id = page_id), false) as takes_back, (select d.waits or d.held
		from dispatch d where d.id = dispatch_id) as still from dispatch_post`

func withItems(ctx context.Context, r store.Reader, posts []DispatchPost) error {
	ids, at := make([]int64, len(posts)), map[int64]int{}
	for i, p := range posts {
		ids[i], at[p.ID] = p.ID, i
	}
	items, err := store.List[DispatchItem](ctx, r, `select post_id, position, asset_id, version_id, alt, mend, at_x, at_y, recipe, sent
		from dispatch_item where post_id = any($1) order by post_id, position`, ids)
	for _, item := range items {
		p := &posts[at[item.Post]]
		p.Items = append(p.Items, item)
	}
	return err
}

// PostOfBrand reads a post of a brand with its items, and keeps it as it is until the transaction ends.
func PostOfBrand(ctx context.Context, tx *store.Tx, brand, id int64) (DispatchPost, error) {
	p, err := store.Get[DispatchPost](ctx, tx, "That post is not there any more.", postColumns+` where id = $1 and brand_id = $2
		for update`, id, brand)
	if err != nil {
		return p, err
	}
	one := []DispatchPost{p}
	err = withItems(ctx, tx, one)
	return one[0], err
}

// TakePost reads a post with its items for a worker, unless another one is at it.
func TakePost(ctx context.Context, tx *store.Tx, id int64) (p DispatchPost, free bool, err error) {
	found, err := store.List[DispatchPost](ctx, tx, postColumns+` where id = $1 for update skip locked`, id)
	if err != nil || len(found) == 0 {
		return p, false, err
	}
	err = withItems(ctx, tx, found)
	return found[0], true, err
}

// SavePost writes down how far a post is, and when it is looked at again; the zero time is never.
func SavePost(ctx context.Context, tx *store.Tx, id int64, p once.Post, wake time.Time) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update dispatch_post set post = $2, wake_at = $3 where id = $1`, id, text,
		sql.NullTime{Time: wake, Valid: !wake.IsZero()})
	return err
}

// NotePlaced writes down where a post is out there and what it shows.
func NotePlaced(ctx context.Context, tx *store.Tx, p DispatchPost, address string) error {
	if _, err := tx.ExecContext(ctx, `update dispatch_post set address = $2, look_at = now() where id = $1`, p.ID, address); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `insert into placement (brand_id, asset_id, post_id, page_id) select brand_id, asset_id, post_id, $2
		from dispatch_item where post_id = $1 and asset_id is not null on conflict do nothing`, p.ID, p.Page); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update asset a set sent_at = now(), sent_version = coalesce(i.version_id, a.version_id),
		sent_recipe = coalesce(i.recipe, a.recipe_hash) from dispatch_item i where i.post_id = $1 and a.id = i.asset_id`, p.ID)
	return err
}

// NoteMade writes down by which recipe an item of a post was made for its page.
func NoteMade(ctx context.Context, tx *store.Tx, post int64, position int, recipe string) error {
	_, err := tx.ExecContext(ctx, `update dispatch_item set recipe = $3 where post_id = $1 and position = $2`, post, position, recipe)
	return err
}

// NoteSentPicture writes down what the item of a post looked like that was sent.
func NoteSentPicture(ctx context.Context, tx *store.Tx, post int64, position int, p sending.Picture) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update dispatch_item set sent = $3 where post_id = $1 and position = $2`, post, position, text)
	return err
}

// NoteWithdrawn writes down that a post is not out there any more.
func NoteWithdrawn(ctx context.Context, tx *store.Tx, id int64) error {
	if _, err := tx.ExecContext(ctx, `update dispatch_post set withdrawn_at = now() where id = $1`, id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update placement set gone_at = now() where post_id = $1 and gone_at is null`, id)
	return err
}

// DispatchOfBrand reads a dispatch of a brand without its posts, and keeps it as it is until the transaction ends.
func DispatchOfBrand(ctx context.Context, tx *store.Tx, brand, id int64) (Dispatch, error) {
	return store.Get[Dispatch](ctx, tx, "That dispatch is not there any more.",
		`select id, brand_id, person_id, items, due_at, zone, created_at,
		waits,
		held, origin from dispatch where id = $1 and brand_id = $2 for update`,
		id,
		brand,
	)
}

// PostsOf lists the posts of a dispatch with their items.
func PostsOf(ctx context.Context, r store.Reader, dispatch int64) ([]DispatchPost, error) {
	posts, err := store.List[DispatchPost](ctx, r, postColumns+` where dispatch_id = $1 order by id`, dispatch)
	if err != nil {
		return nil, err
	}
	return posts, withItems(ctx, r, posts)
}

// Moved is the post that a dispatch moves, with who does, once all of the dispatch is out and as long as that post is; else found is false.
func Moved(ctx context.Context, r store.Reader, dispatch int64) (m struct {
	Post   int64         `db:"moves"`
	Brand  int64         `db:"brand_id"`
	Person sql.NullInt64 `db:"person_id"`
}, found bool, err error) {
	all, err := store.List[struct {
		Post   int64         `db:"moves"`
		Brand  int64         `db:"brand_id"`
		Person sql.NullInt64 `db:"person_id"`
	}](ctx, r, `select d.moves, d.brand_id, d.person_id from dispatch d join dispatch_post m on m.id = d.moves
		where d.id = $1 and m.phase = 'out' and m.withdrawn_at is null
		and not exists (select from dispatch_post p where p.dispatch_id = d.id and p.phase <> 'out')`, dispatch)
	if err != nil || len(all) == 0 {
		return m, false, err
	}
	return all[0], true, nil
}

// SayGo writes down that somebody said "go" to a dispatch that waited for it.
func SayGo(ctx context.Context, tx *store.Tx, id, person int64) error {
	_, err := tx.ExecContext(ctx, `update dispatch set waits = false, go_by = $2, go_at = now() where id = $1`, id,
		sql.NullInt64{Int64: person,
			Valid: person != 0})
	return err
}

// Hold keeps what of a dispatch has not left from leaving, or lets it go on.
func Hold(ctx context.Context, tx *store.Tx, id int64, held bool) error {
	_, err := tx.ExecContext(ctx, `update dispatch set held = $2 where id = $1`, id, held)
	return err
}

// WakeDispatch has the posts of a dispatch looked at that are not over, and lists them.
func WakeDispatch(ctx context.Context, tx *store.Tx, id int64) ([]int64, error) {
	return store.List[int64](ctx, tx, `update dispatch_post set wake_at = now() where dispatch_id = $1
		and phase not in ('out', 'refused', 'cancelled', 'unsure') returning id`, id)
}

// MovePost writes down another moment for a post.
func MovePost(ctx context.Context, tx *store.Tx, id int64, due time.Time, wall, zone string) error {
	_, err := tx.ExecContext(ctx, `update dispatch_post set due_at = $2, wall = $3, zone = $4 where id = $1`, id, due, wall, zone)
	return err
}

// NoteAlbum writes down which album there a post goes into.
func NoteAlbum(ctx context.Context, tx *store.Tx, id int64, album string) error {
	_, err := tx.ExecContext(ctx, `update dispatch_post set album_remote = $2 where id = $1`, id, album)
	return err
}

// NoteSeen writes down what a post looks like out there, and when it is looked at next; the zero time is never.
func NoteSeen(ctx context.Context, tx *store.Tx, id int64, seen SeenPost, next time.Time) error {
	text, err := json.Marshal(seen)
	if err != nil {
		return err
	}
	n, err := tx.Change(ctx, `update dispatch_post set seen = $2, look_at = $3 where id = $1
		and (seen is null or (seen->>'at')::timestamptz <= $4)`, id, text, sql.NullTime{Time: next, Valid: !next.IsZero()}, seen.At)
	if err != nil || n == 0 { // somebody looked later
		return err
	}
	if !seen.Gone.IsZero() {
		_, err = tx.ExecContext(ctx, `update placement set gone_at = $2 where post_id = $1 and gone_at is null`, id, seen.Gone)
	}
	if err == nil && seen.Gone.IsZero() && seen.Trouble == "" {
		_, err = tx.ExecContext(ctx, `update placement p set gone_at = null from dispatch_post d where p.post_id = $1 and d.id = p.post_id
			and d.withdrawn_at is null and p.gone_at is not null`, id)
	}
	return err
}

// PostsToSee lists the posts that are to be looked at out there by now, at most so many.
func PostsToSee(ctx context.Context, r store.Reader, most int) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from dispatch_post where look_at <= now() and withdrawn_at is null order by look_at limit $1`,
		most,
	)
}

// PostByID reads a post with its items.
func PostByID(ctx context.Context, r store.Reader, id int64) (DispatchPost, error) {
	p, err := store.Get[DispatchPost](ctx, r, "That post is not there any more.", postColumns+` where id = $1`, id)
	if err != nil {
		return p, err
	}
	one := []DispatchPost{p}
	err = withItems(ctx, r, one)
	return one[0], err
}

// DueOn lists when posts on some pages are due that are not over or are out, between two moments.
func DueOn(ctx context.Context, r store.Reader, pages []int64, from, to time.Time) ([]struct {
	Page int64     `db:"page_id"`
	Due  time.Time `db:"due_at"`
}, error) {
	return store.List[struct {
		Page int64     `db:"page_id"`
		Due  time.Time `db:"due_at"`
	}](ctx, r, `select page_id, due_at from dispatch_post where page_id = any($1) and due_at between $2 and $3
		and phase not in ('refused', 'cancelled') and withdrawn_at is null order by due_at`, pages, from, to)
}

// OnPages says since when items are shown on pages now: by page, then by item.
func OnPages(ctx context.Context, r store.Reader, pages, ids []int64) (map[int64]map[int64]time.Time, error) {
	found, err := store.List[struct {
		Page  int64     `db:"page_id"`
		Asset int64     `db:"asset_id"`
		Since time.Time `db:"since"`
	}](ctx, r, `select l.page_id, l.asset_id, min(l.since) as since from unnest($2::bigint[]) i (id)
		join placement l on l.asset_id = i.id and l.gone_at is null where l.page_id = any($1) group by 1, 2`, pages, ids)
	out := map[int64]map[int64]time.Time{}
	for _, f := range found {
		if out[f.Page] == nil {
			out[f.Page] = map[int64]time.Time{}
		}
		out[f.Page][f.Asset] = f.Since
	}
	return out, err
}

// TagNamesOf are the names of the tags of items, by item.
func TagNamesOf(ctx context.Context, r store.Reader, ids []int64) (map[int64][]string, error) {
	found, err := store.List[struct {
		Asset int64  `db:"asset_id"`
		Name  string `db:"name"`
	}](ctx, r, `select x.asset_id, t.name from asset_tag x join tag t on t.id = x.tag_id where x.asset_id = any($1)
		order by x.asset_id, t.name collate natural_name`, ids)
	out := map[int64][]string{}
	for _, f := range found {
		out[f.Asset] = append(out[f.Asset], f.Name)
	}
	return out, err
}

// PostsToWake lists the posts that are to be looked at by now, at most so many.
func PostsToWake(ctx context.Context, r store.Reader, most int) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from dispatch_post where wake_at <= now() order by wake_at limit $1`, most)
}

// WakeContainer has the posts of an outlet looked at that wait for a container, and lists them.
func WakeContainer(ctx context.Context, tx *store.Tx, outlet int64, container string) ([]int64, error) {
	return store.List[int64](ctx, tx, `update dispatch_post d set wake_at = now(), post = jsonb_set(post, '{NotBefore}', to_jsonb(now()))
		from page p where p.id = d.page_id and p.outlet_id = $1 and d.phase = 'preparing' and d.post->>'Container' = $2
		and d.wake_at is not null returning d.id`, outlet, container)
}

// PlacedAt lists where an item is shown on pages now.
func PlacedAt(ctx context.Context, r store.Reader, asset int64) ([]ShownAt, error) {
	return store.List[ShownAt](ctx, r, `select 'page' as kind, p.page_name as name, p.address as path, l.since, 0 as pages,
		coalesce(i.version_id <> a.version_id, false) or coalesce(i.recipe <> a.recipe_hash, false) as older
		from placement l join asset a on a.id = l.asset_id join dispatch_post p on p.id = l.post_id
		left join lateral (select version_id, recipe from dispatch_item where post_id = p.id and asset_id = a.id limit 1) i on true
		where l.asset_id = $1 and l.gone_at is null order by l.since desc limit 200`, asset)
}
