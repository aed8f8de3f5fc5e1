package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/sending/once"
)

// Dispatch is one sending of items to pages.
type Dispatch struct {
	ID      int64          `db:"id"`
	Brand   int64          `db:"brand_id"`
	Person  sql.NullInt64  `db:"person_id"`
	By      sql.NullString `db:"by_name"`
	Items   int            `db:"items"`
	Due     time.Time      `db:"due_at"`
	Zone    string         `db:"zone"`
	Created time.Time      `db:"created_at"`
	Posts   []DispatchPost `db:"-"`
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
	Items     []DispatchItem
}

type sentPost struct{ once.Post }

// Scan implements sql.Scanner.
func (p *sentPost) Scan(value any) error { return scanJSON(value, &p.Post) }

// DispatchItem is an item of a post, as it was when somebody said "go".
type DispatchItem struct {
	Post     int64         `db:"post_id"`
	Position int           `db:"position"`
	Asset    sql.NullInt64 `db:"asset_id"`
	Version  sql.NullInt64 `db:"version_id"`
	Alt      string        `db:"alt"`
	Mend     string        `db:"mend"`
}

// AddDispatch writes a dispatch down with its posts and their items, and returns its id and those of the posts.
func (tx *Tx) AddDispatch(ctx context.Context, d Dispatch) (id int64, posts []int64, err error) {
	id, err = get[int64](ctx, tx, "", `insert into dispatch (brand_id, person_id, items, due_at, zone) values ($1, $2, $3, $4, $5)
		returning id`, d.Brand, d.Person, d.Items, d.Due, d.Zone)
	if err != nil {
		return 0, nil, err
	}
	for _, p := range d.Posts {
		text, err := json.Marshal(p.Post.Post)
		if err != nil {
			return 0, nil, err
		}
		post, err := get[int64](ctx, tx, "", `insert into dispatch_post (brand_id, dispatch_id, page_id, page_name, caption, phase, post, wake_at)
			values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`, d.Brand, id, p.Page, p.PageName, p.Caption, string(p.Post.Phase), text,
			time.Now())
		if err != nil {
			return 0, nil, err
		}
		for i, item := range p.Items {
			if _, err := tx.ExecContext(ctx, `insert into dispatch_item (post_id, brand_id, position, asset_id, version_id, alt, mend)
				values ($1, $2, $3, $4, $5, $6, $7)`, post, d.Brand, i, item.Asset, item.Version, item.Alt, item.Mend); err != nil {
				return 0, nil, err
			}
		}
		posts = append(posts, post)
	}
	return id, posts, nil
}

// Dispatches lists the dispatches of a brand before an id (0 is none), the newest first, with their posts and items.
func Dispatches(ctx context.Context, r Reader, brand, before int64, most int) ([]Dispatch, error) {
	all, err := list[Dispatch](ctx, r, `select d.id, d.brand_id, d.person_id, p.name as by_name, d.items, d.due_at, d.zone, d.created_at
		from dispatch d left join person p on p.id = d.person_id where d.brand_id = $1 and ($2 = 0 or d.id < $2) order by d.id desc limit $3`,
		brand, before, most)
	if err != nil {
		return nil, err
	}
	ids, at := make([]int64, len(all)), map[int64]int{}
	for i, d := range all {
		ids[i], at[d.ID] = d.ID, i
	}
	posts, err := list[DispatchPost](ctx, r, postColumns+` where dispatch_id = any($1) order by id`, ids)
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

const postColumns = `select id, brand_id, dispatch_id, page_id, page_name, code, caption, post, address, withdrawn_at from dispatch_post`

func withItems(ctx context.Context, r Reader, posts []DispatchPost) error {
	ids, at := make([]int64, len(posts)), map[int64]int{}
	for i, p := range posts {
		ids[i], at[p.ID] = p.ID, i
	}
	items, err := list[DispatchItem](ctx, r, `select post_id, position, asset_id, version_id, alt, mend from dispatch_item
		where post_id = any($1) order by post_id, position`, ids)
	for _, item := range items {
		p := &posts[at[item.Post]]
		p.Items = append(p.Items, item)
	}
	return err
}

// PostOfBrand reads a post of a brand with its items, and keeps it as it is until the transaction ends.
func (tx *Tx) PostOfBrand(ctx context.Context, brand, id int64) (DispatchPost, error) {
	p, err := get[DispatchPost](ctx, tx, "That post is not there any more.", postColumns+` where id = $1 and brand_id = $2
		for update`, id, brand)
	if err != nil {
		return p, err
	}
	one := []DispatchPost{p}
	err = withItems(ctx, tx, one)
	return one[0], err
}

// TakePost reads a post with its items for a worker, unless another one is at it.
func (tx *Tx) TakePost(ctx context.Context, id int64) (p DispatchPost, free bool, err error) {
	found, err := list[DispatchPost](ctx, tx, postColumns+` where id = $1 for update skip locked`, id)
	if err != nil || len(found) == 0 {
		return p, false, err
	}
	err = withItems(ctx, tx, found)
	return found[0], true, err
}

// SavePost writes down how far a post is, and when it is looked at again; the zero time is never.
func (tx *Tx) SavePost(ctx context.Context, id int64, p once.Post, wake time.Time) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update dispatch_post set post = $2, phase = $3, wake_at = $4 where id = $1`, id, text, string(p.Phase),
		sql.NullTime{Time: wake, Valid: !wake.IsZero()})
	return err
}

// NotePlaced writes down where a post is out there and what it shows.
func (tx *Tx) NotePlaced(ctx context.Context, p DispatchPost, address string) error {
	if _, err := tx.ExecContext(ctx, `update dispatch_post set address = $2 where id = $1`, p.ID, address); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `insert into placement (brand_id, asset_id, post_id) select brand_id, asset_id, post_id from dispatch_item
		where post_id = $1 and asset_id is not null on conflict do nothing`, p.ID); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update asset a set sent_at = now(), sent_version = a.version_id, sent_recipe = a.recipe_hash
		from dispatch_item i where i.post_id = $1 and a.id = i.asset_id`, p.ID)
	return err
}

// NoteWithdrawn writes down that a post is not out there any more.
func (tx *Tx) NoteWithdrawn(ctx context.Context, id int64) error {
	if _, err := tx.ExecContext(ctx, `update dispatch_post set withdrawn_at = now() where id = $1`, id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update placement set gone_at = now() where post_id = $1 and gone_at is null`, id)
	return err
}

// PostsToWake lists the posts that are to be looked at by now, at most so many.
func PostsToWake(ctx context.Context, r Reader, most int) ([]int64, error) {
	return list[int64](ctx, r, `select id from dispatch_post where wake_at <= now() order by wake_at limit $1`, most)
}

// WakeContainer has the posts of an outlet looked at that wait for a container, and lists them.
func (tx *Tx) WakeContainer(ctx context.Context, outlet int64, container string) ([]int64, error) {
	return list[int64](ctx, tx, `update dispatch_post d set wake_at = now(), post = jsonb_set(post, '{NotBefore}', to_jsonb(now()))
		from page p where p.id = d.page_id and p.outlet_id = $1 and d.phase = 'preparing' and d.post->>'Container' = $2
		and d.wake_at is not null returning d.id`, outlet, container)
}

// PlacedAt lists where an item is shown on pages now.
func PlacedAt(ctx context.Context, r Reader, asset int64) ([]ShownAt, error) {
	return list[ShownAt](ctx, r, `select 'page' as kind, p.page_name as name, p.address as path, l.since, 0 as pages from placement l
		join dispatch_post p on p.id = l.post_id where l.asset_id = $1 and l.gone_at is null order by l.since desc limit 200`, asset)
}
