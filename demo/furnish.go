package demo

import (
	"context"
	"slices"
	"time"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/sending"
	steps "brightsatchel/internal/describing"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
	"brightsatchel/internal/store/tagstore"
)

// furnish shows what else there is: stages, ends of rights, consents, places, colours, looks, rule albums, a closed tag group, a stack, a
// folder with a date, and one that is parked.
func (l *loader) furnish(ctx context.Context) error {
	if err := l.stages(ctx); err != nil {
		return err
	}
	if err := l.rights(ctx); err != nil {
		return err
	}
	if err := l.consents(ctx); err != nil {
		return err
	}
	if err := l.places(ctx); err != nil {
		return err
	}
	if err := l.h.DB.InTx(ctx, func(tx *store.Tx) error {
		return tagstore.CloseTagGroup(ctx, tx, l.viewer.Brand, "Campaign",
			true)
	}); err != nil {
		return err
	}
	if err := l.colours(ctx); err != nil {
		return err
	}
	if err := l.looks(ctx); err != nil {
		return err
	}
	if err := l.ruleAlbums(ctx); err != nil {
		return err
	}
	burst := query.Selection{IDs: []int64{l.assets["media/shore-festival/OSF_3145.JPG"], l.assets["media/shore-festival/OSF_3146.JPG"]}}
	if _, err := l.h.Filing.Stack(ctx, l.viewer, burst, burst.IDs[0]); err != nil {
		return err
	}
	folders, err := l.h.Filing.Folders(ctx, l.viewer)
	if err != nil {
		return err
	}
	for _, f := range folders {
		if f.Name != "Spring meet at Hallow Down" {
			continue
		}
		day, about := "2025-05-17", "The first meet of the season, with everybody who builds."
		if _, err := l.h.Filing.Change(ctx, l.viewer, f.ID, filing.Change{Date: &day, Description: &about}); err != nil {
			return err
		}
	}
	made, err := l.h.Filing.Create(ctx, l.viewer, 0, "Price lists 2024")
	if err != nil {
		return err
	}
	parked := true
	_, err = l.h.Filing.Change(ctx, l.viewer, made.ID, filing.Change{Parked: &parked})
	return err
}

// stages makes two, and puts the banners of the website at the second.
func (l *loader) stages(ctx context.Context) error {
	steward, err := l.signIn(ctx, "steward")
	if err != nil {
		return err
	}
	var last int64
	for _, name := range []string{"In work", "Cleared for web"} {
		done, err := l.h.Choosing.MakeStage(ctx, steward, name)
		if err != nil {
			return err
		}
		last = done.ID
	}
	var banners []int64
	for _, f := range l.described() {
		for _, album := range f.Albums {
			if album == "Website banners" {
				banners = append(banners, l.assets[f.Path])
			}
		}
	}
	_, err = l.h.Choosing.Stage(ctx, l.viewer, query.Selection{IDs: banners}, last)
	return err
}

// colours are the brand's own, by which pictures are found.
func (l *loader) colours(ctx context.Context) error {
	steward, err := l.signIn(ctx, "steward")
	if err != nil {
		return err
	}
	for _, c := range []tagstore.BrandColour{{Name: "Sail red", Colour: "#c23a2b"}, {Name: "Signal yellow", Colour: "#f0c020"},
		{Name: "Sky", Colour: "#8ab4dc"}, {Name: "Down green", Colour: "#5f8a3a"}} {
		if _, err := l.h.Finding.SaveColour(ctx, steward, c); err != nil {
			return err
		}
	}
	return nil
}

// looks are two of the brand's own.
func (l *loader) looks(ctx context.Context) error {
	for name, values := range map[string]recipe.Adjustments{
		"Late sun":         {Exposure: 0.15, Shadows: 15, Warmth: 18, Vibrance: 15, Vignette: -12},
		"Catalogue, crisp": {Contrast: 12, White: 8, Saturation: -6, Clarity: 18, Sharpen: 35, Radius: 0.8},
	} {
		look := recipestore.PictureLook{Name: name, Groups: recipe.Groups, Values: recipestore.Adjustments{Adjustments: values}}
		if _, err := l.h.Preparing.SaveLook(ctx, l.viewer, look); err != nil {
			return err
		}
	}
	return nil
}

// consents writes down what some of those who are shown agreed to; the others nobody has asked yet.
func (l *loader) consents(ctx context.Context) error {
	people, err := l.h.Describing.PeopleShown(ctx, l.viewer)
	if err != nil {
		return err
	}
	given, refused, none := sending.Given, sending.Refused, ""
	soon, over := time.Now().AddDate(1, 2, 0).Format(time.DateOnly), time.Now().AddDate(0, -2, 0).Format(time.DateOnly)
	letter, call := "Signed at the loft, filed under personnel.", "Told Chioma on the telephone."
	left := "For the season in which he worked here."
	said := map[string]steps.AboutPerson{
		"Ada Marrowby":    {Consent: &given, ConsentUntil: &soon, Note: &letter},
		"Greta Ollin":     {Consent: &given, ConsentUntil: &none},
		"Emiko Fennimoor": {Consent: &refused, Note: &call},
		"Dov Hartsill":    {Consent: &given, ConsentUntil: &over, Note: &left},
	}
	for _, person := range people {
		about, known := said[person.Name]
		if !known {
			continue
		}
		if _, err := l.h.Describing.WriteAbout(ctx, l.viewer, person.ID, about); err != nil {
			return err
		}
	}
	return nil
}

// places says what it is called where the shoots were.
func (l *loader) places(ctx context.Context) error {
	folders, err := l.h.Filing.Folders(ctx, l.viewer)
	if err != nil {
		return err
	}
	called := map[string]string{"Dune trials": "Sallow Dunes", "First light at Pennick Moor": "Pennick Moor", "Shop front": "Quay Street",
		"Shore festival": "Gannet Sands", "Spring meet at Hallow Down": "Hallow Down", "Workshop days": "The loft",
		"Team portraits": "The loft"}
	for _, f := range folders {
		place, known := called[f.Name]
		if !known {
			continue
		}
		there := query.Selection{Everything: &query.Query{Place: "folder", ID: f.ID, Filter: query.Both(query.WithAside)}}
		change := describing.Change{Field: "place", How: describing.Fill, Text: place}
		if _, err := l.h.Describing.Write(ctx, l.viewer, there, change); err != nil {
			return err
		}
	}
	return nil
}

// ruleAlbums makes albums that rules keep filled: with groups, by the day, and at random.
func (l *loader) ruleAlbums(ctx context.Context) error {
	stages, err := assetstore.StageNames(ctx, l.h.DB, l.viewer.Brand)
	if err != nil {
		return err
	}
	var cleared []int64
	for id, name := range stages {
		if name == "Cleared for web" {
			cleared = append(cleared, id)
		}
	}
	ready := query.Rule{Match: query.Any, Rules: []query.Rule{
		{Match: query.All, Rules: []query.Rule{query.AtLeast(4), {Field: "stage", IDs: cleared}}}, {Field: "keeper"}}}
	post := query.Rule{Match: query.All, Rules: []query.Rule{query.AtLeast(4), {Field: "kind", Names: []string{"picture"}}}}
	for _, made := range []struct {
		name string
		by   query.RuleAlbum
	}{
		{"Ready for the web", query.RuleAlbum{Rule: ready}},
		{"Ten to post today", query.RuleAlbum{Rule: post, Pick: 10}},
		{"This day in other years", query.RuleAlbum{Rule: query.Rule{Field: "anniversary"}}},
	} {
		if _, err := l.h.Gathering.CreateByRule(ctx, l.viewer, 0, made.name, made.by); err != nil {
			return err
		}
	}
	return nil
}

// rights gives the banners of the website an end of their rights, of which one comes soon, and another spelling to a tag.
func (l *loader) rights(ctx context.Context) error {
	days := 18
	for _, f := range l.described() {
		if !slices.Contains(f.Albums, "Website banners") {
			continue
		}
		until := time.Now().AddDate(0, 0, days).Format(time.DateOnly)
		days += 200
		for field, text := range map[string]string{"rightsUntil": until, "usageTerms": "Website and newsletters of the brand"} {
			if _, err := l.h.Describing.Write(ctx, l.viewer, query.Selection{IDs: []int64{l.assets[f.Path]}},
				describing.Change{Field: field, How: describing.Replace, Text: text}); err != nil {
				return err
			}
		}
	}
	tags, err := l.h.Describing.Tags(ctx, l.viewer)
	if err != nil {
		return err
	}
	for _, tag := range tags {
		if tag.Name == "Hexagon" {
			_, err = l.h.Describing.Spell(ctx, l.viewer, tag.ID, "Six-sided")
		}
	}
	return err
}
