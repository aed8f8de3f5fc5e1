package bringin

import (
	"context"
	"encoding/json"
	"fmt"

	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/media/metadata"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/wordstore"
)

// joinSidecar gives the item of a picture what its sidecar says, once the picture is in.
func (s *Service) joinSidecar(ctx context.Context, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes) error {
	picture, err := intakestore.IntakeFileByID(ctx, s.DB, f.SidecarOf.Int64)
	if err != nil {
		return err
	}
	state := arrival.State(picture.State)
	joined := intakestore.Outcome{State: arrival.Joined, Why: fmt.Sprintf("It belongs to “%s”.", picture.Name), Asset: picture.Asset.Int64}
	switch {
	case !state.Settled():
		return queue.Later(sidecarFor)
	case state != arrival.Added && state != arrival.Version:
		joined.Why = fmt.Sprintf("It belongs to “%s”, which was %s.", picture.Name, state)
		return s.settle(ctx, f, joined)
	}
	raw, err := s.Media.Metadata.Read(ctx, got.path)
	if err != nil {
		return err
	}
	if len(raw) == 0 {
		joined.Why += " Nothing in it could be read."
		return s.settle(ctx, f, joined)
	}
	text, err := json.Marshal(raw)
	if err != nil {
		return err
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.ContinueTrail(ctx, in.Trail.Int64); err != nil {
			return err
		}
		if err := wordstore.ApplySidecar(ctx, tx, in.Brand, picture.Asset.Int64, sidecar(metadata.Interpret(raw), text)); err != nil {
			return err
		}
		if err := tagWithKeywords(ctx, tx, in.Brand, picture.Asset.Int64, metadata.Interpret(raw).Keywords); err != nil {
			return err
		}
		if err := nameFaces(ctx, tx, in.Brand, picture.Asset.Int64, metadata.Interpret(raw).Faces); err != nil {
			return err
		}
		_, err := intakestore.SettleFile(ctx, tx, f, joined)
		return err
	})
	if err != nil {
		return err
	}
	return s.clean(s.uploadPath(f.Code))
}

func sidecar(says metadata.Facts, raw json.RawMessage) wordstore.Sidecar {
	out := wordstore.Sidecar{Title: says.Title, Description: says.Description, Alt: says.Alt, Credit: says.Credit, Copyright: says.Copyright,
		UsageTerms: says.UsageTerms,
		Place:      says.Place, Stars: says.Rating, Stage: says.Label, Metadata: raw}
	if says.Taken != nil {
		out.Taken, out.TakenZone = &says.Taken.Local, says.Taken.Zone
	}
	return out
}
