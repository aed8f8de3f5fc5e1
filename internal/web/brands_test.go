package web

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
)

// secret stands in every name of the brand that is not to be reached.
const secret = "Nobody else’s"

// TestNothingOfOneBrandIsReachedFromAnother has the steward of one brand use every operation on their own brand, with the
// ids of everything of another brand in the path and all over the body.
func TestNothingOfOneBrandIsReachedFromAnother(t *testing.T) {
	s, h := newServer(t)
	mine := storetest.Brand(t, h.DB, "mine")[access.Coordinator]
	theirs := storetest.Brand(t, h.DB, "theirs")[access.Steward]
	ids := belongings(t, h, mine)
	before := everythingOf(t, h, mine.Brand)
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, theirs.Person, "steward@theirs.example")
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	require.NoError(t, err)
	asked := 0
	for path, methods := range document.Paths.Map() {
		if !strings.Contains(path, "{brand}") {
			continue
		}
		for method, operation := range methods.Operations() {
			for what, id := range ids {
				body := ""
				if operation.RequestBody != nil {
					text, err := json.Marshal(filled(operation.RequestBody.Value.Content["application/json"].Schema.Value, "", id, 0))
					require.NoError(t, err)
					body = string(text)
				}
				address := server.URL + strings.NewReplacer("{brand}", "theirs", "{id}", fmt.Sprint(id), "{code}", "abc").Replace(path)
				request, err := http.NewRequest(method, address, strings.NewReader(body))
				require.NoError(t, err)
				request.Header.Set("Content-Type", "application/json")
				response, err := client.Do(request)
				require.NoError(t, err)
				answer, err := io.ReadAll(response.Body)
				require.NoError(t, err)
				require.NoError(t, response.Body.Close())
				assert.NotEqual(t, http.StatusInternalServerError, response.StatusCode, "%s with the id of a %s: %s",
					operation.OperationID, what, answer)
				assert.NotContains(t, string(answer), secret, "%s with the id of a %s", operation.OperationID, what)
				asked++
			}
		}
	}
	assert.Greater(t, asked, 500)
	assert.Equal(t, before, everythingOf(t, h, mine.Brand), "nothing of the brand has changed")
	assert.Empty(t, acrossBrands(t, h), "nothing of one brand refers to anything of the other")
}

// acrossBrands lists references from rows of one brand to rows of another.
func acrossBrands(t *testing.T, h *house.House) []string {
	t.Helper()
	var references []struct{ Child, Col, Parent string }
	require.NoError(t, storetest.SQL(h.DB).Select(&references, `select c.conrelid::regclass::text as child, a.attname as col,
		c.confrelid::regclass::text as parent from pg_constraint c
		join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
		where c.contype = 'f' and cardinality(c.conkey) = 1
			and exists (select from pg_attribute where attrelid = c.conrelid and attname = 'brand_id') and exists (select
			from pg_attribute where attrelid = c.confrelid and attname = 'brand_id')`))
	require.Greater(t, len(references), 40)
	out := []string{}
	for _, r := range references {
		var n int
		require.NoError(t, storetest.SQL(h.DB).Get(&n, fmt.Sprintf(`select count(*) from %s c join %s p on p.id = c.%s
			where c.brand_id <> p.brand_id`, r.Child, r.Parent, r.Col)))
		if n > 0 {
			out = append(out, fmt.Sprintf("%s.%s to %s", r.Child, r.Col, r.Parent))
		}
	}
	return out
}

// belongings makes one of each thing in a brand and returns their ids. They are far from those of any other brand.
func belongings(t *testing.T, h *house.House, v *access.Viewer) map[string]int64 {
	t.Helper()
	ids := map[string]int64{}
	for i, table := range []string{"folder", "asset", "album", "tag", "person", "stage", "stack", "trail", "intake", "gallery",
		"download", "access_grant"} {
		_, err := storetest.SQL(h.DB).Exec(fmt.Sprintf(`select setval(pg_get_serial_sequence('%s', 'id'), %d)`, table, 70_000+1000*i))
		require.NoError(t, err)
	}
	require.NoError(t, h.DB.InTx(t.Context(), func(tx *store.Tx) (err error) {
		if ids["folder"], err = folderstore.AddFolder(t.Context(), tx, v.Brand, 0, secret+" folder"); err != nil {
			return err
		}
		if ids["album"], err = albumstore.AddAlbum(t.Context(), tx, v.Brand, 0, secret+" album"); err != nil {
			return err
		}
		if ids["tag"], err = tagstore.EnsureTag(t.Context(), tx, v.Brand, secret+" tag", ""); err != nil {
			return err
		}
		if ids["person"], err = peoplestore.AddPerson(t.Context(), tx, v.Brand, "secret@mine.example", secret+" person", "x",
			access.Associate); err != nil {
			return err
		}
		return peoplestore.SetGrant(t.Context(), tx, v.Brand, ids["person"], "", access.Grant{Folder: ids["folder"], Level: access.LevelLook})
	}))
	ids["item"] = storetest.Items(t, h.DB, v, ids["folder"], secret+".jpg")[0]
	require.NoError(t, storetest.SQL(h.DB).Get(new(int), `select 1`))
	grant := int64(0)
	require.NoError(t, storetest.SQL(h.DB).Get(&grant, `select max(id) from access_grant`))
	ids["grant"] = grant
	done, err := h.Filing.Create(t.Context(), v, ids["folder"], secret+" inner")
	require.NoError(t, err)
	ids["trail entry"] = done.Trail
	return ids
}

// filled makes a value of a schema in which every number is the id, every list has one value and every word is its first.
func filled(s *openapi3.Schema, name string, id int64, depth int) any {
	for _, part := range s.AllOf {
		return filled(part.Value, name, id, depth)
	}
	switch {
	case len(s.Enum) > 0:
		return s.Enum[0]
	case s.Type.Is("object"):
		out := map[string]any{}
		for key, p := range s.Properties {
			if depth > 3 || key == "filter" || key == "everything" {
				continue
			}
			out[key] = filled(p.Value, key, id, depth+1)
		}
		return out
	case s.Type.Is("array"):
		return []any{filled(s.Items.Value, name, id, depth+1)}
	case s.Type.Is("integer"), s.Type.Is("number"):
		if s.Max != nil && float64(id) > *s.Max {
			return *s.Max
		}
		return id
	case s.Type.Is("boolean"):
		return true
	case name == "first":
		return "2026-05-17T10:21:37"
	}
	return "Kites"
}

// everythingOf is all rows of a brand, as text, so that two moments compare.
func everythingOf(t *testing.T, h *house.House, brand int64) map[string]string {
	t.Helper()
	var tables []string
	require.NoError(t, storetest.SQL(h.DB).Select(&tables, `select table_name from information_schema.columns where column_name = 'brand_id'
		and table_schema = 'public' and table_name <> 'feed'`))
	require.Greater(t, len(tables), 25)
	out := map[string]string{}
	for _, table := range tables {
		var text string
		require.NoError(t, storetest.SQL(h.DB).Get(&text, `select coalesce(string_agg(x::text, E'\n' order by x::text), '') from `+table+` x
			where brand_id = $1`, brand))
		out[table] = text
	}
	return out
}
