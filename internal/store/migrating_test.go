package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestADatabaseOfAnotherVersionIsRefusedInWords, and nothing in it is changed.
func TestADatabaseOfAnotherVersionIsRefusedInWords(t *testing.T) {
	db := storetest.New(t)
	for what, c := range map[string]struct{ set, says string }{
		"newer": {`insert into goose_db_version (version_id, is_applied) values (100000, true)`, "used by a newer version"},
		"older": {`delete from goose_db_version; insert into goose_db_version (version_id, is_applied) values (0, true), (60, true)`,
			"made before the first release"},
	} {
		_, err := storetest.SQL(db).Exec(c.set)
		require.NoError(t, err)
		var other *store.ErrOther
		require.ErrorAs(t, db.Migrate(t.Context()), &other, what)
		assert.Contains(t, other.Error(), c.says)
		_, err = storetest.SQL(db).Exec(`delete from goose_db_version where version_id > 1000`)
		require.NoError(t, err)
	}
	_, err := storetest.SQL(db).Exec(`delete from goose_db_version; insert into goose_db_version (version_id, is_applied) select n, true
		from generate_series(101, 112) n`)
	require.NoError(t, err)
	require.NoError(t, db.Migrate(t.Context()))
}
