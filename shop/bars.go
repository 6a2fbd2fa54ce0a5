package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/unit"
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
	return s.OnLot(ctx, act, oid, lot.ToMove, func(c *journal.Change, l *lot.Lot) error {
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
		if err := s.Saleable(c.Tx, l, r, "", c.Now); err != nil {
			return err
		}
		by, err := ledger.Change(have, l.Cut.Of(k)-have, k, r, count)
		if err != nil {
			return caution.Problems{{Path: "count", Text: err.Error()}}
		}
		if err := freeToGo(l, k, r, by); err != nil {
			return err
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

// freeToGo finds bars that are labelled, put by or kept for reference among those that would leave. What is spoiled or
// recounted can be a reference bar, too.
func freeToGo(l *lot.Lot, k ledger.Kind, r ledger.Reason, by int) error {
	free := l.Balance[k] - l.BoundOf(k)
	if r.Sign() < 0 && r != ledger.Spoiled {
		free = l.FreeOf(k)
	}
	switch bound, aside := l.BoundOf(k), l.Aside(k); {
	case by >= 0 || -by <= free:
		return nil
	case bound > 0:
		return caution.Problems{{Path: "count", Text: fmt.Sprintf("only %d of these are nobody’s: %d are labelled or put by. "+
			"Sell or free those where the product is", free, bound)}}
	default:
		return caution.Problems{{Path: "count", Text: fmt.Sprintf("only %d may go: %d are kept for reference", free, aside)}}
	}
}

// Reshape records that soap was cut up or shaped: bars and end pieces diced into scraps, scraps shaved
// or pressed. Bars that are diced leave the stock, of a lot that is not released too.
func (s *Shop) Reshape(ctx context.Context, act journal.Act, oid string, r lot.Reshaped) error {
	var p caution.Problems
	if !slices.Contains(lot.Sources(), r.Source) {
		p.Add("source", "say what is cut up or shaped")
	}
	if !slices.Contains(lot.Shapes(), r.Shape) || r.Shape == r.Source {
		p.Add("shape", "say what it becomes, something else than it is")
	}
	if !(r.Grams > 0) || r.Grams > 1e6 {
		p.Add("shape_grams", "weigh what it came to, more than 0 g")
	}
	if r.Source.Counted() && (r.Pieces < 1 || r.Pieces > 10_000) {
		p.Add("pieces", "say how many were taken, 1 or more")
	}
	if r.Shape.Counted() && (r.Made < 1 || r.Made > 10_000) {
		p.Add("made", "count the %s, 1 or more", r.Shape.Words())
	}
	if err := p.Err(); err != nil {
		return err
	}
	if !r.Source.Counted() {
		r.Pieces = 0
	}
	if !r.Shape.Counted() {
		r.Made = 0
	}
	if r.Source != lot.WholeBars {
		r.Kind = ledger.Kind{}
	}
	r.Note = strings.TrimSpace(r.Note)
	return s.OnLot(ctx, act, oid, lot.ToReshape, func(c *journal.Change, l *lot.Lot) error {
		if err := enoughToReshape(l, r); err != nil {
			return err
		}
		err := c.Record("reshape", func(entry int64) error { return c.AddReshaped(entry, l.ID, r) })
		if err != nil || r.Source != lot.WholeBars {
			return err
		}
		return c.ChangeBars(l.ID, r.Kind, -r.Pieces)
	})
}

// weightSlack is how far, as a share, what was cut up may weigh more than it is counted for: the
// typical bar is one of many.
const weightSlack = 0.15

// pileSlack is the same of what was weighed as a whole.
const pileSlack = 0.02

// enoughToReshape finds more being taken of a shape than there is.
func enoughToReshape(l *lot.Lot, r lot.Reshaped) error {
	var p caution.Problems
	if r.Source == lot.WholeBars {
		have := l.Balance[r.Kind] - l.BoundOf(r.Kind)
		if l.Cut.Of(r.Kind) == 0 {
			p.Add("source", "this lot has no %s", r.Kind.Words())
		} else if r.Pieces > have {
			p.Add("pieces", "%d wanted, but only %d %s are there and nobody’s", r.Pieces, have, r.Kind.Words())
		}
		if most := float64(r.Pieces) * l.Cut.Each(r.Kind) * (1 + weightSlack); most > 0 && r.Grams > most && len(p) == 0 {
			p.Add("shape_grams", "%d bars of %s g at the cut give no %s g: check count and weight", r.Pieces,
				unit.Trim(l.Cut.Each(r.Kind), 1), unit.Trim(r.Grams, 1))
		}
		return p.Err()
	}
	pile := l.Pile(r.Source)
	if r.Source.Counted() && r.Pieces > pile.Pieces {
		p.Add("pieces", "%d wanted, but only %d %s are left", r.Pieces, pile.Pieces, r.Source.Words())
	}
	if pile.Grams > 0 || r.Source == lot.Scraps { // end pieces may never have been weighed
		if r.Grams > pile.Grams*(1+pileSlack)+0.5 {
			p.Add("shape_grams", "only %s g of the %s are left", unit.Trim(pile.Grams, 1), r.Source.Words())
		}
	}
	return p.Err()
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
	return s.OnLotUnseen(ctx, act, oid, lot.ToKeep, func(c *journal.Change, l *lot.Lot) error {
		return c.Record("reference bar", func(entry int64) error {
			return c.AddReferenceBars(entry, l.ID, lot.ReferenceBars{Bars: bars, Place: place})
		})
	})
}
