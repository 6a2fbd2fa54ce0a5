package lots

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"

	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Digest works out the digest of a lot up to an entry.
func Digest(tx *store.Tx, lotID, upTo int64, version int) (string, error) {
	sum := sha256.New()
	err := tx.Digested(lotID, upTo, version, func(line string) { fmt.Fprintln(sum, line) })
	return hex.EncodeToString(sum.Sum(nil)), err
}

// Sealed is what became of a lot's record since its release.
type Sealed struct {
	Digest string // of the release; empty when it was released without one, or not at all
	Same   bool   // nothing on record up to then was altered
}

// Verify works the digest of a released lot out again.
func (r *Reader) Verify(ctx context.Context, l *lot.Lot) (out Sealed, err error) {
	if l.Release == nil {
		return out, nil
	}
	err = r.Read(ctx, func(tx *store.Tx) error {
		version, have, err := tx.Digest(l.ID)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		again, err := Digest(tx, l.ID, l.Release.ID, version)
		out = Sealed{have, again == have}
		return err
	})
	return out, err
}
