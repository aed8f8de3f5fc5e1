package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/topics"
)

// tracked is what is known of a table, in its one place. Triggers are made from it.
type tracked struct {
	tell   told          // what changed for open screens and caches when rows of it change
	record recorded      // which changes are written into the trail of the action that they belong to
	feed   string        // in the feed of the index: the column that names the item, or wholeBrand; "" is not in it
	undo   access.Action // the right that taking back a change of it needs: what doing the opposite needs
	along  bool          // its rows go and come back with the folder or album that they hang on, which needs no right of its own
	own    bool          // it is about what is a person's own, and nobody else takes that back
	asks   bool          // the public may see at once what taking back changes, so that a key asks first (asksFirst)
	many   bool          // hundreds of rows change at once: what changed is told and recorded set by set
}

// told are topics.
type told []topics.Topic

// recorded says which changes of a table are recorded, and by which columns a row is found again.
type recorded struct {
	when string
	key  []string
}

func by(key ...string) recorded { return recorded{"insert or update or delete", key} }

func only(when string, key ...string) recorded { return recorded{when, key} }

const wholeBrand = "-"

// tables are all tables of the database but those of the queue and of migrations.
var tables = map[string]tracked{
	// items and their files
	"asset":        {tell: told{topics.Items, topics.ItemsCounted}, record: by("id"), feed: "id", many: true},
	"version":      {record: only("update", "id"), undo: access.Describe},
	"asset_origin": {feed: "asset_id"},
	"asset_tag":    {tell: told{topics.ItemTags}, record: by("asset_id", "tag_id"), feed: "asset_id", undo: access.Describe},
	"face":         {tell: told{topics.Faces}, record: by("id", "asset_id"), undo: access.Describe},
	"twin":         {tell: told{topics.Twins}, record: only("update", "asset_id", "other_id"), undo: access.Describe},
	"stack":        {record: by("id"), undo: access.File},
	"film_wanted":  {},
	"rendition":    {},
	// folders, albums and words
	"folder":       {tell: told{topics.Folders}, record: by("id"), feed: wholeBrand, undo: access.File},
	"folder_tag":   {tell: told{topics.FolderTags}, record: by("folder_id", "tag_id"), feed: wholeBrand, undo: access.File, along: true},
	"trail_folder": {},
	"album":        {tell: told{topics.Albums}, record: by("id"), feed: wholeBrand, undo: access.Gather},
	"album_item":   {tell: told{topics.AlbumItems}, record: by("album_id", "asset_id"), feed: "asset_id", undo: access.Gather},
	"own_cover":    {},
	"tag":          {tell: told{topics.Tags}, record: only("delete or update", "id"), feed: wholeBrand, undo: access.Closed},
	"tag_group":    {tell: told{topics.TagGroups}, record: only("delete or update", "id"), feed: wholeBrand, undo: access.Closed},
	"stage":        {tell: told{topics.Stages}, record: only("delete or update", "id"), undo: access.Settings},
	"person_shown": {tell: told{topics.PeopleShown}, record: by("tag_id"), feed: wholeBrand, undo: access.Closed},
	"person_told":  {},
	"look":         {tell: told{topics.Looks}, record: by("id"), undo: access.Prepare},
	"brand_colour": {tell: told{topics.Colours}, record: by("id"), undo: access.Settings},
	// what is one person's
	"keeper":       {tell: told{topics.Keepers}, record: by("person_id", "asset_id"), feed: "asset_id", undo: access.Keep, own: true},
	"beside_stars": {tell: told{topics.OwnStars}, record: by("person_id", "asset_id"), undo: access.Rate, own: true},
	"satchel_item": {tell: told{topics.Satchel}, record: by("person_id", "asset_id"), undo: access.Carry, own: true},
	"preference":   {tell: told{topics.Preferences}},
	// how things come in
	"intake":         {tell: told{topics.Intakes}, record: only("update of folder_id, album_id", "id"), undo: access.BringIn, along: true},
	"intake_file":    {tell: told{topics.IntakeFiles}, feed: "asset_id"},
	"server_folder":  {tell: told{topics.ServerFolders}},
	"watched_folder": {tell: told{topics.WatchedFolders}, record: only("delete or update", "id"), undo: access.BringIn, along: true},
	"watched_file":   {},
	"words_table":    {},
	"words_row":      {},
	// galleries and their guests
	"gallery":         {tell: told{topics.Galleries}, record: by("id"), undo: access.Galleries, asks: true},
	"gallery_chapter": {tell: told{topics.Chapters}, record: by("id"), undo: access.Galleries, along: true, asks: true},
	"guest":           {tell: told{topics.Guests}, record: by("id"), undo: access.Galleries},
	"guest_list":      {tell: told{topics.GuestLists}, record: by("id"), undo: access.Galleries},
	"guest_mark":      {tell: told{topics.GuestMarks}, record: by("list_id", "guest_id", "asset_id"), undo: access.Galleries},
	"gallery_event":   {tell: told{topics.GalleryEvents}, record: by("id"), undo: access.Galleries},
	"remark":          {tell: told{topics.Remarks}, record: by("id"), undo: access.Galleries},
	"letter":          {tell: told{topics.Letters}, record: by("id"), undo: access.Galleries},
	"contribution":    {tell: told{topics.Contributions}},
	// what is shown outside
	"embed":          {tell: told{topics.Embeds}, record: by("id"), undo: access.Galleries, asks: true},
	"embed_source":   {tell: told{topics.EmbedSources}, record: by("id"), undo: access.Galleries, along: true, asks: true},
	"site":           {tell: told{topics.Sites}, record: by("id"), undo: access.Settings},
	"sighting":       {tell: told{topics.Sightings}},
	"public_address": {tell: told{topics.PublicAddresses}, record: by("id"), undo: access.Galleries, asks: true},
	"screen":         {tell: told{topics.Screens}, record: by("id"), undo: access.Galleries, asks: true},
	"screen_seen":    {tell: told{topics.ScreensSeen}},
	"screen_pairing": {},
	"logo":           {tell: told{topics.Logos}, record: by("asset_id"), undo: access.Galleries},
	"placement":      {tell: told{topics.Placements}},
	// what is sent
	"outlet":            {tell: told{topics.Outlets}},
	"connecting":        {},
	"page":              {tell: told{topics.Pages}},
	"page_feed":         {tell: told{topics.PageFeeds}},
	"dispatch":          {tell: told{topics.Dispatches}},
	"dispatch_post":     {tell: told{topics.Posts}, undo: access.Galleries},
	"dispatch_item":     {},
	"dispatch_draft":    {tell: told{topics.Drafts}, record: by("id"), undo: access.Galleries},
	"rehearsal":         {tell: told{topics.Rehearsals}, record: by("id"), undo: access.Galleries},
	"rehearsal_variant": {tell: told{topics.RehearsalVariants}, record: by("id"), undo: access.Galleries},
	"rehearsal_remark":  {tell: told{topics.RehearsalRemarks}, record: by("id"), undo: access.Look},
	"calendar_feed":     {},
	"thing_folder":      {tell: told{topics.Shelves}, record: by("id"), undo: access.Galleries},
	"thing_place":       {tell: told{topics.ShelfPlaces}, record: by("id"), undo: access.Galleries},
	// files to take along
	"output_size":   {tell: told{topics.Sizes}, record: only("insert or update", "id"), undo: access.Settings},
	"download":      {tell: told{topics.Downloads}},
	"download_item": {tell: told{topics.DownloadItems}},
	// the drive
	"drive_file":     {},
	"drive_lock":     {},
	"drive_password": {tell: told{topics.DrivePasswords}},
	"drive_property": {},
	"drive_tag":      {},
	// people, rights and the brand
	"brand":         {},
	"brand_usage":   {},
	"person":        {},
	"membership":    {tell: told{topics.Members}},
	"access_grant":  {tell: told{topics.Grants}, record: by("id"), along: true, undo: access.Settings},
	"widening_told": {record: only("delete", "folder_id", "audience"), undo: access.File, along: true},
	"invitation":    {},
	"session_of":    {},
	"sessions":      {},
	"attempt_count": {},
	// what keeps the house
	"trail":        {tell: told{topics.Trail}},
	"trail_change": {},
	"bulk":         {tell: told{topics.LargeActs}},
	"feed":         {},
	"clearing":     {},
}

// tablesThat are the names of the tables for which something holds.
func tablesThat(holds func(tracked) bool) []string {
	var out []string
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		if holds(tables[name]) {
			out = append(out, name)
		}
	}
	return out
}

// TableNames are the names of all tables, in their order.
func TableNames() []string { return tablesThat(func(tracked) bool { return true }) }

// own are the tables of what is a person's own, asking those of what the public may see at once.
var (
	Own    = tablesThat(func(t tracked) bool { return t.own })
	asking = tablesThat(func(t tracked) bool { return t.asks })
)

// quoted are names as they are put into a query.
func quoted(names []string) string { return "'" + strings.Join(names, "', '") + "'" }

// Rights are those that taking back changes of tables needs.
var Rights = func() access.Tables {
	out := access.Tables{Needs: map[string]access.Action{}, Along: tablesThat(func(t tracked) bool { return t.along })}
	for name, t := range tables {
		out.Needs[name] = t.undo
	}
	return out
}()

// triggers are the statements that make what the tables are followed by, and what works out columns of items.
func triggers() string {
	var out strings.Builder
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		tables[name].triggers(name, &out)
	}
	for _, event := range []string{"insert", "delete"} {
		of := map[string]string{"insert": "new", "delete": "old"}[event]
		trigger(&out, "version", "count_usage_"+event, "after "+event, " referencing "+of+" table as changed for each statement",
			"count_usage()")
	}
	trigger(&out, "asset", "derive_insert", "before insert", eachRow, "derive()")
	trigger(&out, "asset", "derive_update", "before update of title, file_name, came_as, description, alt, place, camera, credit", eachRow,
		"derive()")
	trigger(&out, "asset", "touch", "before update", eachRow, "touch()")
	out.WriteString("alter table asset enable always trigger derive_insert;\n") // also where items are copied in by the thousand
	return out.String()
}

const eachRow = " for each row"

func (t tracked) triggers(table string, out *strings.Builder) {
	each := func(what, call string) {
		for _, event := range []string{"insert", "update", "delete"} {
			if t.many && what == "tell" && event == "update" {
				continue
			}
			of := "new"
			if event == "delete" {
				of = "old"
			}
			trigger(out, table, what+"_"+event, "after "+event, " referencing "+of+" table as changed for each statement", call)
		}
	}
	const both = " referencing old table as before new table as after for each statement"
	if len(t.tell) > 0 {
		words := make([]string, len(t.tell))
		for i, topic := range t.tell {
			words[i] = "'" + string(topic) + "'"
		}
		each("tell", "tell_change("+strings.Join(words, ", ")+")")
	}
	if t.feed != "" {
		each("feed", "feed_change('"+strings.TrimPrefix(t.feed, wholeBrand)+"')")
	}
	if len(t.record.key) > 0 {
		call := "record_change(" + quoted(t.record.key) + ")"
		when := t.record.when
		if t.many {
			when = strings.Replace(when, " or update", "", 1)
			trigger(out, table, "record_updates", "after update", both, "record_updates()")
		}
		trigger(out, table, "record", "after "+when, eachRow, call)
	}
	if t.many {
		trigger(out, table, "tell_update", "after update", both, "tell_items()")
	}
}

func trigger(out *strings.Builder, table, name, when, how, call string) {
	fmt.Fprintf(out, "create trigger %s %s on %s%s execute function %s;\n", name, when, table, how, call)
}

// putTriggers makes the triggers anew where the tables are followed by others. Which are there is noted beside the trail.
func (tx *Tx) putTriggers(ctx context.Context) error {
	text := triggers()
	sum := sha256.Sum256([]byte(text))
	now := "followed by " + hex.EncodeToString(sum[:])
	there, err := Get[string](ctx, tx, "", `select coalesce(obj_description('trail'::regclass), '')`)
	if err != nil || there == now {
		return err
	}
	if err := tx.dropTriggers(ctx); err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, text+`comment on table trail is '`+now+`'`)
	return err
}

// dropTriggers drops what tables were followed by before, also those that are followed by nothing any more.
func (tx *Tx) dropTriggers(ctx context.Context) error {
	drops, err := List[string](ctx, tx, `select format('drop trigger %I on %s', tgname, tgrelid::regclass) from pg_trigger
		where not tgisinternal and tgname ~
		'^(tell|feed|derive|count_usage)_(insert|update|delete)$|^record(_updates)?$|^touch$'`)
	if err != nil || len(drops) == 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, strings.Join(drops, ";\n"))
	return err
}
