package catalog

import (
	"context"
	"crypto/subtle"
	"errors"

	"ashshelf/shop/journal"
	"ashshelf/store"
)

// NewFeed makes a new secret address of the calendar; the one before leads
// nowhere from then on.
func (cat *Catalog) NewFeed(ctx context.Context, act journal.Act) error {
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return "", c.Record("calendar feed", func(entry int64) error { return c.AddFeed(entry, journal.NewOID()) })
	})
	return err
}

// Feed is the secret of the calendar's address, empty before one is made.
func (cat *Catalog) Feed(ctx context.Context) (secret string, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		if secret, err = tx.Feed(); errors.Is(err, store.ErrNotFound) {
			return nil
		}
		return err
	})
	return secret, err
}

// IsFeed reports whether a secret is the one that counts.
func (cat *Catalog) IsFeed(ctx context.Context, secret string) (bool, error) {
	have, err := cat.Feed(ctx)
	return have != "" && subtle.ConstantTimeCompare([]byte(have), []byte(secret)) == 1, err
}
