package query

import (
	"fmt"
	"slices"
	"strings"

	"github.com/RoaringBitmap/roaring/v2"
)

func init() {
	register(Field{Name: "kind", Takes: Takes{Names: true}, Dear: 1, Say: byNames("a", nil, ""), SQL: isOne("a.kind"),
		Set: oneNamed("kind")})
	register(Field{Name: "source", Takes: Takes{Names: true}, Dear: 1, SQL: isOne("a.source"), Set: oneNamed("source"),
		Say: byNames("from", map[string]string{"upload": "people’s own devices", "server": "the server", "watched": "a watched folder",
			"outlet": "an outlet", "guest": "guests of galleries", "drive": "the drive"}, "")})
	register(Field{Name: "camera", Takes: Takes{Names: true, Missing: true}, Dear: 1, Say: byNames("taken with", nil, "without a camera"),
		SQL: isOne("a.camera"), Set: oneNamed("camera")})
	register(Field{Name: "place", Takes: Takes{Names: true, Missing: true}, Dear: 1, Say: byNames("at", nil, "without a place"),
		SQL: isOne("a.place"), Set: oneNamed("place")})
	register(Field{Name: "lacks", Takes: Takes{Names: true}, Dear: 1,
		Say: byNames("without", map[string]string{"alt": "alt text", "usageTerms": "usage terms", "taken": "date taken"}, ""),
		SQL: anyOf(Lacks), Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Any: each(r.Names, ix.Lacking)} }})
	register(Field{Name: "state", Takes: Takes{Names: true}, Dear: 1,
		Say: byNames("", map[string]string{"sent": "sent out", "older": "changed since it was sent out"}, ""),
		SQL: anyOf(Being), Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Any: each(r.Names, ix.In)} }})
	register(Field{Name: "described", Worldly: true, Say: plain("described")})
	register(Field{Name: "consent", Takes: Takes{Names: true}, Worldly: true,
		Say: byNames("showing somebody", map[string]string{"open": "nobody has asked", "given": "who agrees", "refused": "who does not agree",
			"ended": "who agreed once"}, "")})
	register(Field{Name: "words", Takes: Takes{Names: true}, Worldly: true, Dear: 3, Say: sayWords,
		SQL: func(w Where, r *Rule, _ int64) string {
			parts := []string{"true"}
			for _, word := range r.Names {
				parts = append(parts, fmt.Sprintf("a.search like '%%' || %s || '%%'", w.Arg(likeLiteral(word))))
			}
			return "(" + strings.Join(parts, " and ") + ")"
		},
		Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Within: ix.Saying(r.Names)} }})
}

// Lacks are the conditions that something of describing.Needs is not there.
var Lacks = map[string]string{"title": "a.title = ''", "alt": "a.alt = ''", "description": "a.description = ''", "credit": "a.credit = ''",
	"copyright": "a.copyright = ''", "usageTerms": "a.usage_terms = ''", "place": "a.place = ''", "taken": "a.captured_at is null",
	"tags": "not exists (select from asset_tag t where t.asset_id = a.id)"}

// Being are the conditions of States.
var Being = map[string]string{"prepared": "a.recipe_hash <> ''", "sent": "a.sent_at is not null",
	"older": "(a.sent_at is not null and (a.sent_version <> a.version_id or a.sent_recipe <> a.recipe_hash))"}

// isOne is the condition that a column of names has one of some, or none where that is asked for.
func isOne(column string) func(Where, *Rule, int64) string {
	return func(w Where, r *Rule, _ int64) string {
		names := slices.DeleteFunc(slices.Clone(r.Names), func(n string) bool { return n == "" })
		if r.Missing {
			names = append(names, "")
		}
		return fmt.Sprintf("%s = any(%s)", column, w.Arg(names))
	}
}

// anyOf is the condition that one of some named conditions holds.
func anyOf(conditions map[string]string) func(Where, *Rule, int64) string {
	return func(_ Where, r *Rule, _ int64) string {
		parts := []string{"false"}
		for _, name := range r.Names {
			if condition, known := conditions[name]; known {
				parts = append(parts, condition)
			}
		}
		return "(" + strings.Join(parts, " or ") + ")"
	}
}

// each is a set for each of some names.
func each(names []string, set func(string) *roaring.Bitmap) []*roaring.Bitmap {
	out := make([]*roaring.Bitmap, len(names))
	for i, name := range names {
		out[i] = set(name)
	}
	return out
}

func sayWords(r *Rule, _ *Names) string {
	if parts := Split(strings.Join(r.Names, " ")); len(parts) == 1 && parts[0][0] == '"' {
		return "with “" + strings.Trim(parts[0], `"`) + "” word for word"
	}
	return "with “" + strings.Join(r.Names, " ") + "”"
}

func likeLiteral(word string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(word)
}
