package facestore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
	"brightsatchel/internal/store/tagstore"
)

// PeopleGroup is the tag group of those who are shown in pictures.
const PeopleGroup = "People"

// PersonShown is somebody who is shown in pictures: a tag of the group People, or one that a face has, and what is known of them.
type PersonShown struct {
	ID           int64  `db:"id"` // of the tag
	Name         string `db:"name"`
	Faces        int    `db:"faces"`
	Email        string `db:"email"`
	Consent      string `db:"consent"`
	ConsentUntil string `db:"consent_until"` // YYYY-MM-DD, or "" without an end
	Note         string `db:"note"`
	Told         bool   `db:"told"` // by letter, of new pictures
}

// Agrees is whether and until when the person agrees to be shown in public.
func (p *PersonShown) Agrees() sending.Consent {
	return sending.Consent{State: p.Consent, Until: p.ConsentUntil}
}

const personShown = `select t.id, t.name, coalesce(n.faces, 0)::int as faces, coalesce(p.email, '') as email,
	coalesce(p.consent, 'open') as consent, coalesce(p.consent_until::text, '') as consent_until, coalesce(p.note, '') as note,
	coalesce(p.told, false) as told
	from tag t left join tag_group g on g.id = t.group_id left join person_shown p on p.tag_id = t.id
	left join (select tag_id, count(*) as faces from face where brand_id = $1 and tag_id is not null group by tag_id) n on n.tag_id = t.id
	where t.brand_id = $1 and ` + tagstore.LivingTag + ` and (lower(g.name) = lower('` + PeopleGroup + `') or n.faces > 0 or p.tag_id is not
	null)`

// PeopleShown lists those who are shown in the pictures of a brand, by name.
func PeopleShown(ctx context.Context, r store.Reader, brand int64) ([]PersonShown, error) {
	return store.List[PersonShown](ctx, r, personShown+` order by t.name collate natural_name, t.id`, brand)
}

// PersonShownByID reads one of them.
func PersonShownByID(ctx context.Context, r store.Reader, brand, id int64) (PersonShown, error) {
	return store.Get[PersonShown](ctx, r, "That person is not there any more.", personShown+` and t.id = $2`, brand, id)
}

// SavePersonShown writes down what is known of a person.
func SavePersonShown(ctx context.Context, tx *store.Tx, brand int64, p PersonShown) error {
	_, err := tx.ExecContext(ctx, `insert into person_shown (tag_id, brand_id, email, consent, consent_until, note, told)
		values ($1, $2, $3, $4, nullif($5, '')::date, $6, $7) on conflict (tag_id) do update set email = excluded.email,
		consent = excluded.consent, consent_until = excluded.consent_until, note = excluded.note,
		told = excluded.told`, p.ID, brand, p.Email, p.Consent,
		p.ConsentUntil, p.Note, p.Told)
	return err
}

// EnsurePerson returns the tag of a person, which is made if need be. One without a group joins the people.
func EnsurePerson(ctx context.Context, tx *store.Tx, v *access.Viewer, name string) (int64, error) {
	for _, closed := range []func() (string, error){
		func() (string, error) { return tagstore.ClosedTagGroup(ctx, tx, v.Brand, name) },
		func() (string, error) { return closedForNew(ctx, tx, v.Brand, name) },
	} {
		group, err := closed()
		if err != nil {
			return 0, err
		}
		if group != "" && !v.Can(access.Closed) {
			return 0, fault.Forbiddenf("The group %s is closed: only stewards and coordinators add to it.", group)
		}
	}
	tag, err := tagstore.EnsureTag(ctx, tx, v.Brand, name, PeopleGroup)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `update tag set group_id = (select id from tag_group where brand_id = $1 and lower(name) = lower($3))
		where id = $2 and group_id is null`, v.Brand, tag, PeopleGroup)
	return tag, err
}

// closedForNew is the name of the group of people where it is closed and nobody of that name is there yet, or "".
func closedForNew(ctx context.Context, r store.Reader, brand int64, name string) (string, error) {
	there, err := tagstore.TagNamed(ctx, r, brand, name)
	if err != nil || there != 0 {
		return "", err
	}
	closed, err := store.List[string](ctx, r, `select name from tag_group where brand_id = $1 and lower(name) = lower($2) and closed`, brand,
		PeopleGroup)
	if err != nil || len(closed) == 0 {
		return "", err
	}
	return closed[0], nil
}

// PeopleOn lists who is shown on an item by its tags, with what they agreed to.
func PeopleOn(ctx context.Context, r store.Reader, asset int64) ([]sending.Shown, error) {
	rows, err := store.List[PersonShown](ctx, r, `select t.id, t.name, p.consent, coalesce(p.consent_until::text, '') as consent_until
		from asset_tag x join tag t on t.id = x.tag_id join person_shown p on p.tag_id = t.id where x.asset_id = $1
		order by t.name collate natural_name`, asset)
	out := make([]sending.Shown, len(rows))
	for i, p := range rows {
		out[i] = sending.Shown{Name: p.Name, Consent: p.Agrees()}
	}
	return out, err
}

// Consents reads what everybody who is shown agreed to, by tag.
func Consents(ctx context.Context, r store.Reader, brand int64) (map[int64]sending.Consent, error) {
	rows, err := store.List[PersonShown](ctx, r, `select t.id, coalesce(p.consent, 'open') as consent,
		coalesce(p.consent_until::text, '') as consent_until
		from tag t left join tag_group g on g.id = t.group_id left join person_shown p on p.tag_id = t.id
		where t.brand_id = $1 and `+tagstore.LivingTag+` and (lower(g.name) = lower($2) or p.tag_id is not null)`, brand, PeopleGroup)
	out := make(map[int64]sending.Consent, len(rows))
	for i := range rows {
		out[rows[i].ID] = rows[i].Agrees()
	}
	return out, err
}

// Portrait is a face by which somebody is known at sight, with what the address of its picture needs.
type Portrait struct {
	Person int64 `db:"person"`
	OpenFace
}

// portraitsAmong is how many of somebody's newest items are looked through for a face that must be theirs.
const portraitsAmong = 100

// Portraits picks a face for each of some people on an item that the viewer may look at: the newest that is named; of those of whom
// none is, the only one on a picture that shows nobody else by name.
func Portraits(ctx context.Context, r store.Reader, v *access.Viewer, people []int64) ([]Portrait, error) {
	reach := v.May(access.Look)
	rows, err := store.List[struct {
		Portrait
		recipestore.Framed
	}](ctx, r, `select p.id as person, f.* from unnest($1::bigint[]) p(id) cross join lateral (
		(select f.id, f.x, f.y, f.width, f.height, f.state, f.asset_id, `+recipestore.FramedColumns+`
		from face f join asset a on a.id = f.asset_id join version v on v.id = a.version_id
		where f.tag_id = p.id and a.binned_at is null and ($2 or a.folder_id = any($3)) order by f.id desc limit 1)
		union all (select f.id, f.x, f.y, f.width, f.height, f.state, f.asset_id, `+recipestore.FramedColumns+`
		from (select asset_id from asset_tag where tag_id = p.id order by asset_id desc limit $4) x join asset a on a.id = x.asset_id
		join version v on v.id = a.version_id join face f on f.asset_id = a.id and f.tag_id is null and f.state <> 'none'
		where a.binned_at is null and ($2 or a.folder_id = any($3))
		and (select count(*) from face o where o.asset_id = a.id and o.state <> 'none') = 1
		and not exists (select from asset_tag o join tag t on t.id = o.tag_id join tag_group g on g.id = t.group_id
			where o.asset_id = a.id and o.tag_id <> p.id and lower(g.name) = lower('`+PeopleGroup+`'))
		order by a.id desc limit 1) limit 1) f`, people, reach.All, reach.FolderIDs(), portraitsAmong)
	out := make([]Portrait, len(rows))
	for i := range rows {
		out[i] = rows[i].Portrait
		shown, _ := rows[i].Frame().ShownRegion(out[i].Region())
		out[i].put(shown)
	}
	return out, err
}
