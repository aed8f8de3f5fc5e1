package bringin

import (
	"context"
	"encoding/hex"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
)

// Announced is a file of an intake with the SHA-256 that a browser computed, in hexadecimal.
type Announced struct{ Code, Sum string }

// Announce settles what can be settled before bytes travel: files whose content is here already are skipped, or taken
// from our own storage when both are to be kept. The others go on waiting. It returns the intake's files as they are then.
func (s *Service) Announce(ctx context.Context, v *access.Viewer, id int64, announced []Announced) (Batch, error) {
	in, err := intakestore.IntakeByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return Batch{}, err
	}
	if in.Person != v.Person {
		return Batch{}, fault.Forbiddenf("That is %s's intake.", in.By)
	}
	look := v.May(access.Look)
	for _, a := range announced {
		sum, err := hex.DecodeString(a.Sum)
		if err != nil || len(sum) != 32 {
			return Batch{}, fault.Invalidf("sum", "%q is not a SHA-256.", a.Sum)
		}
		f, err := intakestore.IntakeFileByCode(ctx, s.DB, a.Code)
		if err != nil || f.Intake != id {
			return Batch{}, fault.NotFoundf("There is no such upload.")
		}
		if f.State != string(arrival.Waiting) {
			continue
		}
		same, err := assetstore.SameContent(ctx, s.DB, v.Brand, sum, 0)
		if err != nil {
			return Batch{}, err
		}
		// Nobody gets at bytes by knowing their sum: what one may not see has to be sent.
		if same != nil && !look.Folder(same.Folder.Int64) {
			same = nil
		}
		if err := s.settleAnnounced(ctx, f, in, sum, same); err != nil {
			return Batch{}, err
		}
	}
	return s.Load(ctx, v, id)
}

func (s *Service) settleAnnounced(ctx context.Context, f intakestore.IntakeFile, in intakestore.Intake, sum []byte,
	same *assetstore.Duplicate) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := intakestore.SetSum(ctx, tx, f.ID, sum, f.Bytes); err != nil || same == nil {
			return err
		}
		if policyOf(f, in) == arrival.Skip {
			_, err := intakestore.SettleFile(ctx, tx, f, skipped(*same))
			return err
		}
		news, err := intakestore.FileArrived(ctx, tx, f.ID)
		if err != nil || !news {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, takeFile{File: f.ID})
	})
}

// Decide changes what is done with one file that is a duplicate, also after it was done: the bytes are here.
func (s *Service) Decide(ctx context.Context, v *access.Viewer, id int64, code string, policy arrival.Policy) (store.Done, error) {
	in, err := s.mine(ctx, v, id)
	if err != nil {
		return store.Done{}, err
	}
	if err := s.mayBringIn(v, Target{Folder: in.Folder.Int64, Policy: policy}); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "decide_duplicate", func(tx *store.Tx) (store.Done, error) {
		f, err := intakestore.LockIntakeFile(ctx, tx, code)
		if err != nil || f.Intake != id {
			return store.Done{}, fault.NotFoundf("That file is not in the intake.")
		}
		if policyOf(f, in) == policy && arrival.State(f.State) != arrival.Skipped {
			return store.Done{}, nil
		}
		if err := intakestore.SetFilePolicy(ctx, tx, f.ID, string(policy)); err != nil {
			return store.Done{}, err
		}
		said := map[arrival.Policy]string{arrival.Skip: "“%s” is skipped", arrival.KeepBoth: "“%s” is kept beside its duplicate",
			arrival.NewVersion: "“%s” becomes the newest version"}[policy]
		done := store.Done{Said: fmt.Sprintf(said, f.Name), Changed: 1}
		switch arrival.State(f.State) {
		case arrival.Waiting, arrival.Arrived:
			return done, nil
		case arrival.Skipped, arrival.Added, arrival.Version:
			return done, s.decideAnew(ctx, tx, v, in, f, policy)
		}
		return store.Done{}, fault.Invalidf("policy", "“%s” was not taken, so there is nothing to decide. Bring it in again.", f.Name)
	})
}

// decideAnew takes back what was done with a file and does the other thing.
func (s *Service) decideAnew(ctx context.Context, tx *store.Tx, v *access.Viewer, in intakestore.Intake, f intakestore.IntakeFile,
	policy arrival.Policy) error {
	own := int64(0)
	if arrival.State(f.State) == arrival.Added {
		own = f.Asset.Int64
	}
	same, err := assetstore.SameContent(ctx, tx, in.Brand, f.SHA256, own)
	if err != nil {
		return err
	}
	if same == nil {
		return fault.Invalidf("policy", "“%s” is not a duplicate of anything.", f.Name)
	}
	switch arrival.State(f.State) {
	case arrival.Added:
		if !v.May(access.BringIn).Folder(in.Folder.Int64) {
			return fault.Forbiddenf("You may not take back what was added there.")
		}
		if _, err := assetstore.BinAssets(ctx, tx, []int64{f.Asset.Int64}, true); err != nil {
			return err
		}
	case arrival.Version:
		back, err := assetstore.EarlierVersion(ctx, tx, f.Asset.Int64, f.Version.Int64)
		if err != nil {
			return err
		}
		if !back {
			return &fault.Conflict{Text: "The item has got another version since, so this one cannot be taken back."}
		}
	}
	if policy == arrival.Skip {
		o, err := s.skippedFor(ctx, tx, in, *same)
		if err != nil {
			return err
		}
		return intakestore.ChangeOutcome(ctx, tx, f.ID, string(o.State), o.Why, o.Asset)
	}
	if err := intakestore.ReopenFile(ctx, tx, f); err != nil {
		return err
	}
	return s.Queue.Enqueue(ctx, tx, takeFile{File: f.ID})
}
