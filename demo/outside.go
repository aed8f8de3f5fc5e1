package demo

import (
	"context"
	"fmt"
	"os"
	"path/filepath"

	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/drawn"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/windward"
)

// shelves are folders on the server's disk with pictures that are not in the library yet.
var shelves = []struct {
	path     string
	pictures int
}{{"Autumn proofs/Day 1", 4}, {"Autumn proofs/Day 2", 3}, {"Scans", 2}}

// outside gives the brand something to bring in from, a folder on the server and accounts at the simulated social services, and a website
// whose editors may pick.
func (l *loader) outside(ctx context.Context, tx *store.Tx, brand int64) error {
	for _, o := range []struct{ kind, name, account, token string }{
		{"windward", "Tansyloft Kites on Windward", "a1", windward.Token},
		{"longtable", "Tansyloft Kites on Longtable", "kites", longtable.Token},
		{"beanpole", "Tansyloft Kites on Beanpole", "7001", beanpole.Token},
	} {
		id, err := poststore.AddOutlet(ctx, tx, poststore.Outlet{Brand: brand, Kind: o.kind, Name: o.name,
			Address: "http://" + l.from.Services + "/" + o.kind, Account: o.account})
		if err != nil {
			return err
		}
		sealed, err := l.h.Posting.Outlets.Seal(id, outlets.Secret{Access: o.token})
		if err != nil {
			return err
		}
		if err := poststore.SaveSecret(ctx, tx, id, sealed); err != nil {
			return err
		}
	}
	if _, err := embedstore.AddSite(ctx, tx, embedstore.Site{Brand: brand, Name: "Pennick Moor Fliers",
		Origin: "http://" + l.from.Website}); err != nil {
		return err
	}
	if len(l.h.Config.ServerFolders) == 0 {
		return nil
	}
	disk, err := filepath.Abs(filepath.Join(l.h.Config.ServerFolders[0], "Studio disk"))
	if err != nil {
		return err
	}
	number := 100
	for _, shelf := range shelves {
		dir := filepath.Join(disk, shelf.path)
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return err
		}
		for i := range shelf.pictures {
			number++
			if err := os.WriteFile(filepath.Join(dir, fmt.Sprintf("proof %d.jpg", i+1)), drawn.Kite(number), 0o644); err != nil {
				return err
			}
		}
	}
	_, err = intakestore.AddServerFolder(ctx, tx, brand, "Studio disk", disk)
	return err
}
