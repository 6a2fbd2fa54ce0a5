package shop

import (
	"context"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

// MoveBars moves bars out of, or back into, a released lot.
func (s *Shop) MoveBars(
	ctx context.Context,
	act journal.Act,
	oid string,
	k ledger.Kind,
	r ledger.Reason,
	count int,
	note string,
) error {
	return s.onLot(ctx, act, oid, lot.ToMove, func(c *journal.Change, l *lot.Lot) error {
		if s.Life().Gap() {
			return &lot.NotNow{Why: journal.ErrGap.Error()}
		}
		have := l.Balance[k]
		if l.Cut.Of(k) == 0 && have == 0 {
			return caution.Problems{{Path: "count", Text: "this lot has no " + k.Words()}}
		}
		if why := l.KeptFromSale(); why != "" && r == ledger.Sold {
			return caution.Problems{{Path: "reason", Text: "this lot is not for sale: " + why}}
		}
		by, err := ledger.Change(have, l.Cut.Of(k)-have, k, r, count)
		if err != nil {
			return caution.Problems{{Path: "count", Text: err.Error()}}
		}
		entry, err := c.Entry("move")
		if err != nil {
			return err
		}
		if err := c.AddMove(entry, l.ID, lot.Move{Kind: k, Reason: r, Change: by, Note: strings.TrimSpace(note)}); err != nil {
			return err
		}
		return c.ChangeBars(l.ID, k, by)
	})
}

// KeepReference puts bars aside that are never sold, to look at when somebody
// asks.
func (s *Shop) KeepReference(ctx context.Context, act journal.Act, oid string, bars int, place string) error {
	var p caution.Problems
	if bars < 1 || bars > 100 {
		p.Add("kept_bars", "keep between 1 and 100 bars")
	}
	if place = strings.TrimSpace(place); place == "" {
		p.Add("kept_place", "say where they are kept")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onLotUnseen(ctx, act, oid, lot.ToKeep, func(c *journal.Change, l *lot.Lot) error {
		return c.Record("reference bar", func(entry int64) error {
			return c.AddReferenceBars(entry, l.ID, lot.ReferenceBars{Bars: bars, Place: place})
		})
	})
}
