package store

import (
	"context"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// TrailEntry is one thing that somebody did.
type TrailEntry struct {
	ID     int64     `db:"id"`
	Person int64     `db:"person_id"`
	By     string    `db:"by"`    // who did it: the person, or the machine that did it for them
	Agent  string    `db:"agent"` // the machine, or ""
	At     time.Time `db:"at"`
	Said   string    `db:"said"`
	Undone bool      `db:"undone"`
	Action string    `db:"action"`
	Can    bool      `db:"can"`  // it changed something that can be put back
	Asks   string    `db:"asks"` // what is said first before a key takes it back, or ""
	Own    bool      `db:"own"`  // it is about what is a person's own, and nobody else takes it back
}

var trailColumns = `t.id, t.person_id, coalesce(nullif(t.agent, ''), p.name) as by, t.agent, t.at, t.said, t.action,
	t.undone_by is not null as undone, ` + canUndo + ` as can, coalesce(` + asksFirst + `, '') as asks,
	exists (select from trail_change c where c.trail_id = t.id and c.table_name in (` + quoted(Own) + `)) as own`

const canUndo = `(t.undone_by is null and exists (select from trail_change c where c.trail_id = t.id))`

// asksFirst says what taking a step back would do that a key must not do unasked: many items go to the bin, or what the public reaches
// changes. It is about how that stands now.
var asksFirst = `case when t.undone_by is not null then null when t.action = 'bring_in' then
	(select n || ' items go to the bin. They stay there for 60 days and can be put back.' from (select count(*) from trail_change c
		where c.trail_id = t.id and c.table_name = 'asset' and c.before is null) made(n) where n > 20)
	else (select string_agg(distinct live.said, ' ') from trail_change c cross join lateral (
		select 'The gallery “' || g.title || '” is open to its guests.' from gallery g where g.open and g.id =
			case c.table_name when 'gallery' then (c.key ->> 'id')::bigint when 'gallery_chapter' then coalesce(
			(coalesce(c.after, c.before) ->> 'gallery_id')::bigint, (select gallery_id from gallery_chapter where id = (c.key ->> 'id')::bigint)) end
		union all select 'The gallery “' || coalesce(c.before ->> 'title', (select title from gallery where id = (c.key ->> 'id')::bigint), '')
			|| '” opens to its guests again.' where c.table_name = 'gallery' and (c.before ->> 'open')::boolean
		union all select 'The embed “' || e.name || '” is on.' from embed e where e.live and e.id =
			case c.table_name when 'embed' then (c.key ->> 'id')::bigint when 'embed_source' then coalesce(
			(coalesce(c.after, c.before) ->> 'embed_id')::bigint, (select embed_id from embed_source where id = (c.key ->> 'id')::bigint)) end
		union all select 'The embed “' || coalesce(c.before ->> 'name', (select name from embed where id = (c.key ->> 'id')::bigint), '')
			|| '” is on again.' where c.table_name = 'embed' and (c.before ->> 'live')::boolean
		union all select 'The public address of “' || coalesce(nullif(a.title, ''), a.file_name) || '” works.' from public_address p
			join asset a on a.id = p.asset_id where c.table_name = 'public_address' and p.id = (c.key ->> 'id')::bigint and p.live
		union all select 'The screen “' || s.name || '” is playing.' from screen s where c.table_name = 'screen'
			and s.id = (c.key ->> 'id')::bigint and s.state = 'playing') live(said) where c.trail_id = t.id
			and c.table_name in (` + quoted(asking) + `))
	end`

// TrailFilter says which entries of the trail are meant; what is zero or empty does not matter.
type TrailFilter struct {
	Before  int64    // older than this entry
	Person  int64    // what this person did by themself
	Actions []string // one of these kinds of act
	Asset   int64
	Folders []int64 // concerning one of these folders, or an item in it
	Can     bool    // only what can still be undone
	Limit   int
}

// Trail lists entries of a brand, newest first.
func Trail(ctx context.Context, r Reader, brand int64, f TrailFilter) ([]TrailEntry, error) {
	c := Clause{From: "from trail t"}
	c.And("t.brand_id = %s", brand)
	c.And("t.said <> '' and t.part_of is null")
	if f.Before != 0 {
		c.And("t.id < %s", f.Before)
	}
	if f.Person != 0 {
		c.And("t.person_id = %s and t.agent = ''", f.Person)
	}
	if len(f.Actions) > 0 {
		c.And("t.action = any(%s)", f.Actions)
	}
	if f.Asset != 0 {
		c.And("t.id in (select coalesce(o.part_of, o.id) from trail o where o.id in ("+ofAsset("%[1]s")+"))", f.Asset)
	}
	if f.Folders != nil {
		c.And("t.id in (select trail_id from trail_folder where folder_id = any(%s))", f.Folders)
	}
	if f.Can {
		c.And("t.action <> 'undo' and " + canUndo)
	}
	// First which they are: asked together, what can be undone would be found out of the whole trail.
	return List[TrailEntry](ctx, r, `with page as materialized (select t.id `+c.SQL()+` order by t.id desc limit `+c.Arg(f.Limit)+`)
		select `+trailColumns+` from page join trail t on t.id = page.id join person p on p.id = t.person_id order by t.id desc`, c.Args...)
}

// Note writes what was done into the trail, with nothing that could be undone.
func (tx *Tx) Note(ctx context.Context, brand, person int64, action, said string) error {
	_, err := tx.ExecContext(ctx, `insert into trail (brand_id, person_id, action, said, agent) values ($1, $2, $3, $4, $5)`, brand,
		person, action, said, agentOf(ctx))
	return err
}

// NoteFolder notes that the entry of the transaction concerns a folder, which its changes do not say. 0 is none.
func (tx *Tx) NoteFolder(ctx context.Context, folder int64) error {
	_, err := tx.ExecContext(ctx, `insert into trail_folder (folder_id, trail_id)
		select $1::bigint, current_setting('satchel.trail')::bigint where $1::bigint <> 0 on conflict do nothing`, folder)
	return err
}

// TrailOf lists what was done to an item, newest first.
func TrailOf(ctx context.Context, r Reader, brand, asset int64) ([]TrailEntry, error) {
	return List[TrailEntry](ctx, r, `select `+trailColumns+` from trail t join person p on p.id = t.person_id
		where t.brand_id = $1 and t.said <> '' and t.id in (`+ofAsset("$2")+`)
		order by coalesce(t.part_of, t.id) desc, t.id desc limit 100`, brand, asset)
}

// ofAsset selects the entries with changes to an item.
func ofAsset(id string) string {
	return `select trail_id from trail_change c where c.key @> jsonb_build_object('asset_id', ` + id + `::bigint)
		union select trail_id from trail_change c where c.table_name = 'asset' and c.key @> jsonb_build_object('id', ` + id + `::bigint)`
}

// assetOfChange is the item that a change c is about.
const assetOfChange = `coalesce((c.key ->> 'asset_id')::bigint, case when c.table_name = 'asset' then (c.key ->> 'id')::bigint end)`

// Extent is how far a step reaches: how many items it changed, and whether it can be taken back for one of them alone.
type Extent struct {
	Items int  `db:"items"`
	Alone bool `db:"alone"`
}

// ExtentOf reads how far an entry reaches that changed an item. What makes, stacks or removes is one whole.
func ExtentOf(ctx context.Context, r Reader, v *access.Viewer, entry, asset int64) (Extent, error) {
	return Get[Extent](ctx, r, "", `select count(distinct `+assetOfChange+`) as items,
		coalesce(bool_or(`+assetOfChange+` = $3), false) and coalesce(bool_and(c.table_name in ('asset', 'asset_tag', 'album_item',
			`+quoted(Own)+`) and not (c.table_name = 'asset' and (c.before is null or c.after is null
			or c.before ?| array['stack_id', 'stack_front', 'version_id']))), false) as alone
		from trail_change c join trail t on t.id = c.trail_id where t.id = $2 and t.brand_id = $1`, v.Brand, entry, asset)
}

// Split takes what an entry did to one item out of it, into an entry of its own, which it returns.
func (tx *Tx) Split(ctx context.Context, v *access.Viewer, entry, asset int64) (int64, error) {
	if _, err := Get[int64](ctx, tx, "That step is not in the trail.", `select id from trail where id = $1
		and brand_id = $2 for no key update`, entry, v.Brand); err != nil {
		return 0, err
	}
	extent, err := ExtentOf(ctx, tx, v, entry, asset)
	if err != nil {
		return 0, err
	}
	if !extent.Alone {
		return 0, &fault.Conflict{Text: "That can only be undone as a whole."}
	}
	if extent.Items == 1 {
		return entry, nil
	}
	part, err := Get[int64](ctx, tx, "", `insert into trail (brand_id, person_id, agent, action, said, at, undone_by, part_of)
		select brand_id, person_id, agent, action, said, at, undone_by, id from trail where id = $1 returning id`, entry)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `update trail_change c set trail_id = $1 where c.trail_id = $2 and `+assetOfChange+` = $3`,
		part, entry, asset)
	return part, err
}

// LastStep is when anything was done in a brand last; now, where nothing was.
func LastStep(ctx context.Context, r Reader, brand int64) (time.Time, error) {
	return Get[time.Time](ctx, r, "", `select coalesce((select at from trail where brand_id = $1 order by id desc limit 1), now())`, brand)
}
