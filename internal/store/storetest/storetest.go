// Package storetest gives tests databases of their own on the PostgreSQL server that ./check starts.
package storetest

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
)

// Address makes an empty database with the present schema and returns its address and a function that removes it.
func Address(ctx context.Context, name string) (string, func(), error) {
	server := os.Getenv("SATCHEL_TEST_DATABASE")
	if server == "" {
		return "", nil, fmt.Errorf("SATCHEL_TEST_DATABASE is not set: run the tests with ./check, or set it to a PostgreSQL server " +
			"where databases may be made")
	}
	admin, err := sqlx.ConnectContext(ctx, "pgx", server)
	if err != nil {
		return "", nil, err
	}
	from, err := template(ctx, admin, server)
	if err != nil {
		return "", nil, fmt.Errorf("the database that others are copied from: %w", err)
	}
	name = "test_" + strings.ToLower(name) + fmt.Sprintf("_%d", os.Getpid())
	if _, err := admin.ExecContext(ctx, `drop database if exists `+name+` with (force)`); err != nil {
		return "", nil, err
	}
	if _, err := admin.ExecContext(ctx, `create database `+name+` template `+from); err != nil {
		return "", nil, err
	}
	address, err := at(server, name)
	return address, remover(ctx, admin, name), err
}

// at is the address of a database on a server.
func at(server, name string) (string, error) {
	address, err := url.Parse(server)
	if err != nil {
		return "", err
	}
	address.Path = "/" + name
	return address.String(), nil
}

// template is the name of an empty database with the present schema. It is made once on a server, whoever asks first: making the schema
// anew for each test takes longer than most tests.
func template(ctx context.Context, admin *sqlx.DB, server string) (string, error) {
	sum, err := store.SchemaSum()
	if err != nil {
		return "", err
	}
	name := "template_" + sum
	connection, err := admin.Connx(ctx)
	if err != nil {
		return "", err
	}
	defer func() { _ = connection.Close() }()
	if _, err := connection.ExecContext(ctx, `select pg_advisory_lock(20261127)`); err != nil {
		return "", err
	}
	defer func() {
		_, _ = connection.ExecContext(context.WithoutCancel(ctx), `select pg_advisory_unlock(20261127)`)
	}()
	var made bool
	if err := connection.GetContext(ctx, &made, `select exists (select from pg_database where datname = $1)`, name); err != nil || made {
		return name, err
	}
	begun := name + "_begun" // a process that was killed leaves it so
	for _, statement := range []string{`drop database if exists ` + begun + ` with (force)`, `create database ` + begun} {
		if _, err := connection.ExecContext(ctx, statement); err != nil {
			return "", err
		}
	}
	address, err := at(server, begun)
	if err != nil {
		return "", err
	}
	db, err := store.Open(ctx, address)
	if err != nil {
		return "", err
	}
	err = db.Migrate(ctx)
	db.Close()
	if err != nil {
		return "", err
	}
	_, err = connection.ExecContext(ctx, `alter database `+begun+` rename to `+name)
	return name, err
}

// Copy makes a copy of a database that nobody has open, and returns its address and a function that removes it. Copies of one
// database are told apart by a number.
func Copy(ctx context.Context, address string, number int) (string, func(), error) {
	copied, err := url.Parse(address)
	if err != nil {
		return "", nil, err
	}
	from := strings.TrimPrefix(copied.Path, "/")
	admin, err := sqlx.ConnectContext(ctx, "pgx", os.Getenv("SATCHEL_TEST_DATABASE"))
	if err != nil {
		return "", nil, err
	}
	name := fmt.Sprintf("%s_%d", from, number)
	if _, err := admin.ExecContext(ctx, `create database `+name+` template `+from); err != nil {
		return "", nil, err
	}
	copied.Path = "/" + name
	return copied.String(), remover(ctx, admin, name), nil
}

// remover removes a database and ends the connection that does.
func remover(ctx context.Context, admin *sqlx.DB, name string) func() {
	return func() {
		_, _ = admin.ExecContext(context.WithoutCancel(ctx), `drop database if exists `+name+` with (force)`)
		_ = admin.Close()
	}
}

// New gives a test an empty, migrated database.
func New(t *testing.T) *store.DB {
	t.Helper()
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' {
			return r
		}
		return '_'
	}, t.Name())
	address, remove, err := Address(context.Background(), name[:min(40, len(name))])
	require.NoError(t, err)
	t.Cleanup(remove)
	db, err := store.Open(context.Background(), address)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	require.NoError(t, db.Migrate(context.Background()))
	return db
}

// Brand makes a brand with a person of each role, and returns how each of them sees it; See gives it anew after
// folders or grants changed.
func Brand(t *testing.T, db *store.DB, code string) map[access.Role]*access.Viewer {
	t.Helper()
	ctx := context.Background()
	viewers := map[access.Role]*access.Viewer{}
	people := map[access.Role]int64{}
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		brand, err := peoplestore.AddBrand(ctx, tx, code, "Brand "+code)
		if err != nil {
			return err
		}
		for _, role := range []access.Role{access.Steward, access.Coordinator, access.Contributor, access.Reviewer, access.Associate} {
			if people[role], err = peoplestore.AddPerson(ctx, tx, brand, string(role)+"@"+code+".example", "The "+string(role), "x",
				role); err != nil {
				return err
			}
		}
		return nil
	}))
	for role, person := range people {
		viewers[role] = See(t, db, person, code)
	}
	return viewers
}

// See reads how a person sees a brand now.
func See(t *testing.T, db *store.DB, person int64, code string) *access.Viewer {
	t.Helper()
	v, err := peoplestore.LoadViewer(context.Background(), db, person, code)
	require.NoError(t, err)
	return v
}

// Items makes items in a folder (0 is Unfiled) and returns their ids.
func Items(t *testing.T, db *store.DB, v *access.Viewer, folder int64, names ...string) []int64 {
	t.Helper()
	ctx := context.Background()
	var ids []int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		for _, name := range names {
			id, err := assetstore.AddAsset(ctx, tx, assetstore.NewAsset{
				Brand: v.Brand, Person: v.Person, Folder: folder, File: assetstore.File{Kind: "picture", FileName: name, MediaType: "image/jpeg",
					Bytes: 1000, SHA256: []byte(name), Width: 1600, Height: 1067, Metadata: []byte(`{}`)},
			})
			if err != nil {
				return err
			}
			ids = append(ids, id)
		}
		return nil
	}))
	return ids
}

// SQL is a way to a database past the store: for what a test looks at, or brings about, by itself.
func SQL(db *store.DB) *sqlx.DB { return sqlx.NewDb(stdlib.OpenDBFromPool(db.Pool), "pgx") }

// Act changes something by hand, as an action of somebody.
func Act(t testing.TB, db *store.DB, v *access.Viewer, f func(tx *store.Tx) (int, error)) store.Done {
	t.Helper()
	done, err := db.Act(t.Context(), v, "test", func(tx *store.Tx) (store.Done, error) {
		n, err := f(tx)
		return store.Done{Said: "Did something", Changed: n}, err
	})
	require.NoError(t, err)
	return done
}
