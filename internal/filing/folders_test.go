package filing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

func names(t *testing.T, s *filing.Service, v *access.Viewer, parent int64) []string {
	t.Helper()
	folders, err := s.Folders(ctx, v)
	require.NoError(t, err)
	out := []string{}
	for _, f := range folders {
		if f.Parent.Int64 == parent {
			out = append(out, f.Name)
		}
	}
	return out
}

func text(s string) *string { return &s }

func TestSeveralFoldersAtOnce(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	done, err := s.Create(ctx, v, ids["Brand"], "Week 10\n\n  Week 9/Monday\nWeek 9/Tuesday\n")
	require.NoError(t, err)
	assert.Equal(t, "Made 4 folders: “Week 10”, “Week 9 / Monday” and “Week 9 / Tuesday”", done.Said)
	assert.Equal(t, []string{"Week 9", "Week 10"}, names(t, s, v, ids["Brand"]), "9 before 10")
	_, err = s.Create(ctx, v, ids["Brand"], "New\nWEEK 9")
	require.ErrorContains(t, err, "There is a folder “WEEK 9” here already. Try “WEEK 9 2”.")
	assert.NotContains(t, names(t, s, v, ids["Brand"]), "New", "all of them or none")
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Empty(t, names(t, s, v, ids["Brand"]))
}

func TestOrderByHandAndByName(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	for _, n := range []string{"a", "b", "c", "d"} {
		done, err := s.Create(ctx, v, ids["Brand"], n)
		require.NoError(t, err)
		ids[n] = done.ID
	}
	v = storetest.See(t, s.DB, v.Person, "cabinet")
	order := func(moved []string, before string) []string {
		list := []int64{}
		for _, n := range moved {
			list = append(list, ids[n])
		}
		_, err := s.Order(ctx, v, ids["Brand"], list, ids[before])
		require.NoError(t, err)
		return names(t, s, v, ids["Brand"])
	}
	assert.Equal(t, []string{"d", "a", "b", "c"}, order([]string{"d"}, "a"))
	assert.Equal(t, []string{"d", "b", "c", "a"}, order([]string{"a"}, ""))
	assert.Equal(t, []string{"d", "May", "b", "c", "a"}, order([]string{"May"}, "b"), "one from elsewhere comes in")
	_, err := s.Create(ctx, v, ids["Brand"], "0 new")
	require.NoError(t, err)
	assert.Equal(t, []string{"d", "May", "b", "c", "a", "0 new"}, names(t, s, v, ids["Brand"]), "what has no place comes after")
	done, err := s.OrderByName(ctx, v, ids["Brand"])
	require.NoError(t, err)
	assert.Equal(t, []string{"0 new", "a", "b", "c", "d", "May"}, names(t, s, v, ids["Brand"]))
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, "d", names(t, s, v, ids["Brand"])[0])
	_, err = s.Order(ctx, v, ids["May"], []int64{ids["Brand"]}, 0)
	require.ErrorContains(t, err, "cannot go into itself")
}

func TestAFolderSpeaksForWhatIsInIt(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	in := storetest.Items(t, s.DB, v, ids["May"], "in.jpg")
	storetest.Items(t, s.DB, v, ids["Brand"], "out.jpg")
	done, err := s.Change(ctx, v, ids["2025"], filing.Change{Description: text("Kites by the weir"), Date: text("2025-05-03"),
		Tags: text("Outdoors, Spring")})
	require.NoError(t, err)
	find := func(q query.Query) []int64 {
		q.Place = "everything"
		got, err := findstore.Find(s.DB).IDs(ctx, v, q)
		require.NoError(t, err)
		return got
	}
	var tag int64
	require.NoError(t, storetest.SQL(s.DB).Get(&tag, `select id from tag where name = 'Spring'`))
	assert.Equal(t, in, find(query.Query{Filter: query.Both(query.Rule{Field: "tag", IDs: []int64{tag}})}))
	assert.Equal(t, in, find(query.Query{Filter: query.Both(query.Words("WEIR outdoors"))}))
	assert.Equal(t, in, find(query.Query{Filter: &query.Rule{Field: "taken", Since: "2025-05-01", Until: "2025-05-31"}}),
		"it is undated, so the folder's day counts")
	assert.Empty(t, find(query.Query{Filter: &query.Rule{Field: "taken", Since: "2025-06-01"}}))
	_, err = s.Change(ctx, v, ids["2025"], filing.Change{Date: text("3 May")})
	require.ErrorContains(t, err, "not a day")
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Empty(t, find(query.Query{Filter: query.Both(query.Rule{Field: "tag", IDs: []int64{tag}})}))
}

func TestParkingAndDuplicating(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	storetest.Items(t, s.DB, v, ids["May"], "a.jpg")
	parked := true
	done, err := s.Change(ctx, v, ids["2025"], filing.Change{Parked: &parked})
	require.NoError(t, err)
	assert.Equal(t, "Parked the folder “2025”", done.Said)
	done, err = s.Duplicate(ctx, v, ids["Shoots"], "Shoots again")
	require.NoError(t, err)
	assert.Equal(t, "Made “Shoots again” with 2 folders inside, all of them empty", done.Said)
	assert.Equal(t, []string{"2025"}, names(t, s, v, done.ID))
	assert.Equal(t, [2]int{0, 0}, counts(t, s, v)["Shoots again"])
	_, err = s.Duplicate(ctx, v, ids["Shoots"], "shoots")
	require.ErrorContains(t, err, "already")
}

func TestOrderOfItemsInAFolder(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, ids["May"], "a.jpg", "b.jpg", "c.jpg", "d.jpg")
	hand := func() []int64 {
		got, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "folder", ID: ids["May"], Sort: "hand"})
		require.NoError(t, err)
		return got
	}
	a, b, c, d := items[0], items[1], items[2], items[3]
	assert.Equal(t, items, hand(), "by name while nobody placed any")
	_, err := s.OrderItems(ctx, v, ids["May"], []int64{d, c}, b)
	require.NoError(t, err)
	assert.Equal(t, []int64{a, d, c, b}, hand())
	moved, err := s.Move(ctx, v, query.Selection{IDs: []int64{d}}, ids["Brand"])
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, s.DB, v, moved.Trail)
	require.NoError(t, err)
	assert.Equal(t, []int64{a, d, c, b}, hand(), "undo brings its place back too")
	_, err = s.OrderItems(ctx, v, ids["Brand"], []int64{a}, 0)
	require.ErrorContains(t, err, "not in this folder")
}

func TestRemovingSaysInNumbersWhatMoves(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	storetest.Items(t, s.DB, v, ids["2025"], "a.jpg", "b.jpg")
	done, err := s.Remove(ctx, v, ids["2025"])
	require.NoError(t, err)
	assert.Equal(t, "Removed the folder “2025”; 2 items and 1 folder moved to “Shoots”", done.Said)
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, [2]int{2, 2}, counts(t, s, v)["2025"])
}
