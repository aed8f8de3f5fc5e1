package embedding

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
)

// Embeds lists the live embeds of the brand, the newest first.
func (s *Service) Embeds(ctx context.Context, v *access.Viewer) ([]embedstore.Embed, error) {
	return embedstore.Embeds(ctx, s.DB, v.Brand)
}

// EmbedChange is what can be set about an embed; nil stays as it is.
type EmbedChange struct {
	Name     *string
	Live     *bool
	Settings *embeds.Settings
	Sources  []assetstore.Place
}

// CreateEmbed makes an embed of some folders and albums. Nobody outside sees anything of it until it is live.
func (s *Service) CreateEmbed(ctx context.Context, v *access.Viewer, c EmbedChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "create_embed", func(tx *store.Tx) (store.Done, error) {
		e := embedstore.Embed{Brand: v.Brand}
		e.Settings.Settings = embeds.Usual()
		if err := s.applyEmbed(ctx, tx, &e, c); err != nil {
			return store.Done{}, err
		}
		if len(e.Sources) == 0 {
			return store.Done{}, fault.Invalidf("sources", "Choose a folder or an album that it shows.")
		}
		if e.Name == "" {
			e.Name = e.Sources[0].Name
		}
		id, err := embedstore.AddEmbed(ctx, tx, e)
		return store.Done{Said: fmt.Sprintf("Made the embed “%s”. It is off", e.Name), Changed: 1, ID: id}, err
	})
}

// ChangeEmbed sets things about an embed, and switches it on or off.
func (s *Service) ChangeEmbed(ctx context.Context, v *access.Viewer, id int64, c EmbedChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "change_embed", func(tx *store.Tx) (store.Done, error) {
		e, err := embedstore.EmbedByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		was := e
		if err := s.applyEmbed(ctx, tx, &e, c); err != nil {
			return store.Done{}, err
		}
		if c.Sources != nil {
			if len(e.Sources) == 0 {
				return store.Done{}, fault.Invalidf("sources", "An embed shows at least one folder or album.")
			}
			if err := embedstore.SetEmbedSources(ctx, tx, e); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: embedChanged(&was, &e, c), Changed: 1}, embedstore.ChangeEmbed(ctx, tx, e)
	})
}

// embedChanged says what differs about an embed.
func embedChanged(was, is *embedstore.Embed, c EmbedChange) string {
	var what []string
	if is.Live && !was.Live {
		what = append(what, "switched it on; anyone on a page that holds it sees it")
	}
	if was.Live && !is.Live {
		what = append(what, "switched it off; pages that hold it show nothing")
	}
	if was.Name != is.Name {
		what = append(what, fmt.Sprintf("renamed it from “%s”", was.Name))
	}
	if c.Sources != nil {
		what = append(what, "it shows "+wording.Count(len(is.Sources), "place", "places"))
	}
	if was.Settings != is.Settings {
		what = append(what, "changed how it looks")
	}
	if len(what) == 0 {
		what = []string{"nothing changed"}
	}
	return fmt.Sprintf("Embed “%s”: %s", is.Name, strings.Join(what, ", "))
}

// RemoveEmbed removes an embed; pages that hold it show nothing.
func (s *Service) RemoveEmbed(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "remove_embed", func(tx *store.Tx) (store.Done, error) {
		e, err := embedstore.EmbedByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Removed the embed “%s”. Its pictures stay in the library", e.Name), Changed: 1},
			embedstore.RemoveEmbed(ctx, tx, id)
	})
}

func (s *Service) applyEmbed(ctx context.Context, tx *store.Tx, e *embedstore.Embed, c EmbedChange) error {
	if c.Name != nil {
		if e.Name = strings.TrimSpace(*c.Name); e.Name == "" && e.ID != 0 {
			return fault.Invalidf("name", "An embed needs a name.")
		}
	}
	if c.Settings != nil {
		if err := c.Settings.Check(); err != nil {
			return err
		}
		e.Settings.Settings = *c.Settings
	}
	if c.Live != nil {
		e.Live = *c.Live
	}
	if c.Sources == nil {
		return nil
	}
	if len(c.Sources) > embeds.MostSources {
		return fault.Invalidf("sources", "An embed shows %d folders and albums at most.", embeds.MostSources)
	}
	e.Sources = c.Sources
	return assetstore.NamePlaces(ctx, tx, e.Brand, e.Sources)
}

// CheckEmbed says what is against showing what an embed shows now.
func (s *Service) CheckEmbed(ctx context.Context, v *access.Viewer, id int64) (leaving.Checked, error) {
	e, err := embedstore.SeenEmbed(ctx, s.DB, v.Brand, id)
	if err != nil {
		return leaving.Checked{}, err
	}
	ids, _, err := showing.EmbedIDs(ctx, s.DB, &e, 0, e.Settings.Most)
	if err != nil {
		return leaving.Checked{}, err
	}
	return leaving.Check(ctx, s.DB, v.Brand, ids, false)
}

// EmbedSeen lists the pages that were seen to show an embed, those seen last first.
func (s *Service) EmbedSeen(ctx context.Context, v *access.Viewer, id int64) ([]assetstore.Sighting, error) {
	if _, err := embedstore.SeenEmbed(ctx, s.DB, v.Brand, id); err != nil {
		return nil, err
	}
	return assetstore.EmbedSightings(ctx, s.DB, v.Brand, id)
}
