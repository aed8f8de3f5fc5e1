package drive_test

import (
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/storetest"
)

// known is an item that was copied onto the drive, with words and in an album: what must not be lost by how a program saves.
func (d *disk) known(path string, data []byte) (id int64) {
	d.t.Helper()
	require.Equal(d.t, http.StatusCreated, d.put(path, data))
	d.taken()
	require.NoError(
		d.t,
		storetest.SQL(d.h.DB).Get(&id, `select id from asset where file_name = $1 and binned_at is null`, filepath.Base(path)),
	)
	_, err := storetest.SQL(d.h.DB).Exec(`update asset set title = 'Known' where id = $1`, id)
	require.NoError(d.t, err)
	_, err = d.h.Gathering.Create(ctx, d.v, 0, fmt.Sprint("Album of ", id), &query.Selection{IDs: []int64{id}}, nil)
	require.NoError(d.t, err)
	return id
}

// is says that one item is at a path, with these bytes, and that it is the one that was known.
func (d *disk) is(id int64, path string, data []byte, why string) {
	d.t.Helper()
	status, text, _ := d.ask(http.MethodGet, path, nil)
	assert.Equal(d.t, http.StatusOK, status, why)
	assert.Equal(d.t, string(data), text, why)
	assert.Equal(d.t, 1, d.count(`select count(*) from asset a join album_item i on i.asset_id = a.id where a.id = $1 and a.title = 'Known'
		and a.file_name = $2 and a.binned_at is null`, id, filepath.Base(path)), why)
}

func (d *disk) made(path string) {
	d.t.Helper()
	d.does(http.StatusCreated, "", "MKCOL", path)
}

// TestWhatIsWrittenToAPathStaysThere, also where its bytes are in the library or in the bin.
func TestWhatIsWrittenToAPathStaysThere(t *testing.T) {
	_, _, of := drives(t, "drive_stays")
	d := of(access.Coordinator)
	d.made("/Library/One")
	d.made("/Library/Two")
	data := [][]byte{jpeg(t, 1), jpeg(t, 2), jpeg(t, 3), jpeg(t, 4), jpeg(t, 5), jpeg(t, 6)}

	copied := d.known("/Library/One/copied.jpg", data[0])
	require.Equal(t, 201, d.put("/Library/Two/copied.jpg", data[0]))
	d.taken()
	d.is(copied, "/Library/One/copied.jpg", data[0], "a copy for another folder leaves the first where it is")
	assert.Equal(t, []string{"copied.jpg"}, d.names("/Library/Two"))
	assert.Equal(t, 1, d.count(`select count(distinct sha256) from version`), "on the same bytes")

	renamed := d.known("/Library/One/before.jpg", data[1])
	d.does(204, "", "DELETE", "/Library/One/before.jpg")
	require.Equal(t, 201, d.put("/Library/Two/after.jpg", data[1]))
	d.taken()
	d.is(renamed, "/Library/Two/after.jpg", data[1], "removed first, then written anew")
	require.Equal(t, 201, d.put("/Library/One/again.jpg", data[1]))
	d.does(204, "", "DELETE", "/Library/Two/after.jpg")
	d.taken()
	d.is(renamed, "/Library/One/again.jpg", data[1], "written anew first, then removed, before it was taken")
	require.Equal(t, 201, d.put("/Library/Two/at last.jpg", data[1]))
	d.taken()
	d.does(204, "", "DELETE", "/Library/One/again.jpg")
	d.is(renamed, "/Library/Two/at last.jpg", data[1], "and after it was taken")
	assert.NotContains(t, d.names("/Library/One"), "again.jpg")

	back := d.known("/Library/One/back.jpg", data[2])
	d.does(204, "", "DELETE", "/Library/One/back.jpg")
	_, err := storetest.SQL(d.h.DB).Exec(`update asset set binned_at = now() - interval '3 days' where id = $1`, back)
	require.NoError(t, err)
	require.Equal(t, 201, d.put("/Library/One/back.jpg", data[2]))
	d.taken()
	d.is(back, "/Library/One/back.jpg", data[2], "days later it comes back to where it was")
	d.does(204, "", "DELETE", "/Library/One/back.jpg")
	_, err = storetest.SQL(d.h.DB).Exec(`update asset set binned_at = now() - interval '3 days' where id = $1`, back)
	require.NoError(t, err)
	require.Equal(t, 201, d.put("/Library/Two/elsewhere.jpg", data[2]))
	d.taken()
	assert.Contains(t, d.names("/Library/Two"), "elsewhere.jpg", "elsewhere it is another one")
	assert.Equal(t, 1, d.count(`select count(*) from asset where id = $1 and binned_at is not null`, back))
}

// TestTheSaveDanceOfEditors: beside and over, away and anew, with a copy for safety; with other bytes it is a version, with the same
// nothing.
func TestTheSaveDanceOfEditors(t *testing.T) {
	_, _, of := drives(t, "drive_dance")
	d := of(access.Coordinator)
	d.made("/Library/One")
	move := func(from, to string) {
		t.Helper()
		status, text, _ := d.ask("MOVE", "/Library/One/"+from, nil, "Destination", d.site+"/dav/Library/One/"+to)
		require.Contains(t, []int{201, 204}, status, text)
	}
	dances := map[string]func(data []byte){
		"away and anew": func(data []byte) {
			d.does(204, "", "DELETE", "/Library/One/NAME.jpg")
			require.Equal(t, 201, d.put("/Library/One/NAME.jpg", data))
		},
		"beside, away, over": func(data []byte) {
			require.Equal(t, 201, d.put("/Library/One/NAME.jpg.new", data))
			d.does(204, "", "DELETE", "/Library/One/NAME.jpg")
			move("NAME.jpg.new", "NAME.jpg")
		},
		"with a copy for safety": func(data []byte) {
			require.Equal(t, 201, d.put("/Library/One/saving.jpg", data))
			move("NAME.jpg", "NAME.jpg.bak")
			move("saving.jpg", "NAME.jpg")
			d.does(204, "", "DELETE", "/Library/One/NAME.jpg.bak")
		},
		"over itself": func(data []byte) { require.Equal(t, 204, d.put("/Library/One/NAME.jpg", data)) },
	}
	n := 10
	for what, dance := range dances {
		n += 2
		first, second := jpeg(t, n), jpeg(t, n+1)
		id := d.known("/Library/One/NAME.jpg", first)
		dance(first)
		d.taken()
		d.is(id, "/Library/One/NAME.jpg", first, what+", the same bytes")
		dance(second)
		d.taken()
		d.is(id, "/Library/One/NAME.jpg", second, what+", other bytes")
		assert.Equal(t, 2, d.count(`select count(*) from version where asset_id = $1`, id), what)
		assert.Equal(t, []string{"NAME.jpg"}, d.names("/Library/One"), what)
		_, err := storetest.SQL(d.h.DB).Exec(`update asset set binned_at = now() - interval '2 days', file_name = 'gone' where id = $1`, id)
		require.NoError(t, err)
	}
}

// TestSyncBothWaysTwice: what a program keeps alike is alike, whatever was renamed, copied, removed and changed here and there meanwhile.
func TestSyncBothWaysTwice(t *testing.T) {
	_, _, of := drives(t, "drive_sync")
	d := of(access.Coordinator)
	home, here, there := t.TempDir(), t.TempDir(), t.TempDir()
	write := func(dir, name string, n int) {
		t.Helper()
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, name)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), jpeg(t, n), 0o600))
	}
	for i := range 12 {
		write(here, fmt.Sprintf("Shoot %d/%d.jpg", i/4, i), 40+i)
	}
	run(t, home, "", "rclone", "config", "create", "d", "webdav", "url="+d.site+"/dav/Library", "vendor=other", "user="+d.email,
		"pass="+d.password, "--obscure")
	sync := func(from, to string) { run(t, home, "", "rclone", "sync", from, to) }
	up := func() {
		t.Helper()
		for range 2 {
			sync(here, "d:Sync")
			d.taken()
		}
		sync("d:Sync", there)
		require.Equal(t, sums(t, here), sums(t, there))
	}
	up()
	var ids []int64
	require.NoError(t, storetest.SQL(d.h.DB).Select(&ids, `select id from asset order by id`))
	rename := func(dir, from, to string) {
		t.Helper()
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, to)), 0o755))
		require.NoError(t, os.Rename(filepath.Join(dir, from), filepath.Join(dir, to)))
	}
	rename(here, "Shoot 0/0.jpg", "Shoot 0/zero.jpg")
	rename(here, "Shoot 0/1.jpg", "Shoot 2/1.jpg")
	rename(here, "Shoot 1", "Shoot one")
	write(here, "Shoot 2/copy.jpg", 48) // the bytes of 8.jpg
	write(here, "Shoot 2/9.jpg", 90)
	require.NoError(t, os.Remove(filepath.Join(here, "Shoot 2/10.jpg")))
	up()
	var now []int64
	require.NoError(t, storetest.SQL(d.h.DB).Select(&now, `select id from asset where binned_at is null and id = any($1) order by id`, ids))
	assert.Len(t, now, len(ids)-1, "all but the one that was removed are who they were")
	write(here, "Shoot 2/10.jpg", 50)
	up()
	// the other way: what is done there comes here
	d.does(201, "", "MOVE", "/Library/Sync/Shoot%202/8.jpg", "Destination", d.site+"/dav/Library/Sync/eight.jpg")
	d.does(204, "", "DELETE", "/Library/Sync/Shoot%20one/5.jpg")
	for range 2 {
		sync("d:Sync", here)
		sync("d:Sync", there)
	}
	assert.Equal(t, sums(t, here), sums(t, there))
	assert.FileExists(t, filepath.Join(here, "eight.jpg"))
	up()
}
