package people

import (
	"context"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/peoplestore"
)

// CreateBrand makes a brand of which the viewer, a steward of another one, is the steward, and returns its code.
func (s *Service) CreateBrand(ctx context.Context, v *access.Viewer, name string) (string, error) {
	if !v.Can(access.Settings) {
		return "", fault.Forbiddenf("Only a steward makes a brand.")
	}
	name = strings.Join(strings.Fields(norm.NFC.String(name)), " ")
	code := codeFrom(name)
	if code == "" {
		return "", fault.Invalidf("name", "A brand needs a name with letters in it.")
	}
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := peoplestore.LockBrands(ctx, tx); err != nil {
			return err
		}
		for {
			there, err := peoplestore.BrandByCode(ctx, tx, code)
			if err != nil {
				return err
			}
			if there == nil {
				break
			}
			if strings.EqualFold(there.Name, name) {
				return fault.Invalidf("name", "There is a brand “%s” already.", there.Name)
			}
			code += "-2"
		}
		brand, err := peoplestore.AddBrand(ctx, tx, code, name)
		if err != nil {
			return err
		}
		if err := downloadstore.AddFirstSizes(ctx, tx, v.Brand, brand); err != nil {
			return err
		}
		return peoplestore.AddMembership(ctx, tx, brand, v.Person, access.Steward)
	})
	return code, err
}

// Brand reads what the brand is called and how it works.
func (s *Service) Brand(ctx context.Context, v *access.Viewer) (peoplestore.Brand, error) {
	return peoplestore.BrandByID(ctx, s.DB, v.Brand)
}

// BrandChange is a change to a brand; nil stays as it is.
type BrandChange struct {
	Name           *string
	ReviewersCount *bool     // whether the stars of reviewers are the team's
	SecondGo       *bool     // whether a dispatch waits for the go of a second person
	Needs          *[]string // what an item must have to be called described, of describing.Needs
}

// ChangeBrand changes what the brand is called and how its people work together. Its address stays.
func (s *Service) ChangeBrand(ctx context.Context, v *access.Viewer, change BrandChange) (peoplestore.Brand, error) {
	var b peoplestore.Brand
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		var err error
		if b, err = peoplestore.BrandByID(ctx, tx, v.Brand); err != nil {
			return err
		}
		if change.Name != nil {
			if b.Name, err = cleanName(*change.Name); err != nil {
				return err
			}
		}
		if change.ReviewersCount != nil {
			b.ReviewersCount = *change.ReviewersCount
		}
		if change.SecondGo != nil {
			b.SecondGo = *change.SecondGo
		}
		if change.Needs != nil {
			if b.Needs, err = describing.CheckNeeds(*change.Needs); err != nil {
				return err
			}
		}
		return peoplestore.ChangeBrand(ctx, tx, b)
	})
	return b, err
}

const longestCode = 30

// codeFrom makes what stands in addresses of a name: lower case letters without accents, digits and hyphens.
func codeFrom(name string) string {
	var out strings.Builder
	for _, r := range norm.NFD.String(strings.ToLower(name)) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			out.WriteRune(r)
		case unicode.Is(unicode.Mn, r):
		case out.Len() > 0 && !strings.HasSuffix(out.String(), "-"):
			out.WriteByte('-')
		}
	}
	code := out.String()
	return strings.Trim(code[:min(len(code), longestCode)], "-")
}
