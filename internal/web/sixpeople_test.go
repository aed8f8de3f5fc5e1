package web

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
)

// folderNamed makes a folder and returns its id.
func folderNamed(t *testing.T, h *house.House, brand int64, name string) (id int64) {
	t.Helper()
	require.NoError(t, h.DB.InTx(t.Context(), func(tx *store.Tx) (err error) {
		id, err = folderstore.AddFolder(t.Context(), tx, brand, 0, name)
		return err
	}))
	return id
}

// TestSixPeopleChangeTheSame stars, moves, words, tags, recipes and undoing of the same items at once, in every order: nobody is told
// of a fault of the server, and nobody of a conflict that is none.
func TestSixPeopleChangeTheSame(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "six")
	v := people[access.Coordinator]
	folders := []int64{folderNamed(t, h, v.Brand, "One"), folderNamed(t, h, v.Brand, "Two")}
	ids := storetest.Items(t, h.DB, v, folders[0], manyNames(60)...)
	require.NoError(t, h.Index.Load(t.Context(), v.Brand))
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	var wait sync.WaitGroup
	for person := range 6 {
		role := []access.Role{access.Coordinator, access.Steward}[person%2]
		client := clientOf(t, h, server, people[role].Person, string(role)+"@six.example")
		dice := rand.New(rand.NewPCG(uint64(person), 7))
		wait.Go(func() {
			for range 25 {
				some := slices.Clone(ids)
				dice.Shuffle(len(some), func(i, j int) { some[i], some[j] = some[j], some[i] })
				selection := map[string]any{"ids": some[:40]}
				c := []call{
					{"stars", "POST", "/api/brands/six/stars", map[string]any{"selection": selection, "stars": dice.IntN(6)}},
					{"move", "POST", "/api/brands/six/move", map[string]any{"selection": selection, "folder": folders[dice.IntN(2)]}},
					{"tag", "POST", "/api/brands/six/tags", map[string]any{"selection": selection, "add": fmt.Sprint("word ", dice.IntN(3))}},
				}[dice.IntN(3)]
				status, text := c.send(t, client, server.URL)
				assert.Equal(t, http.StatusOK, status, "%s: %s", c.operation, text)
			}
		})
	}
	wait.Wait()
}
