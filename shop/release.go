package shop

import (
	"context"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

func (c *change) hold(l *lot.Lot, held bool, why string) error {
	entry, err := c.entry("hold")
	if err != nil {
		return err
	}
	return c.AddHold(entry, l.ID, held, why)
}

// RecordCheck records a safety check, as the core judges it. A failed one holds the
// lot.
func (s *Shop) RecordCheck(ctx context.Context, act Act, oid string, k lot.SafetyCheck) error {
	var err error
	if k.Pass, err = cure.Verdict(k.Method, k.PH, k.Pass); err != nil {
		return err
	}
	if k.Method != "ph" {
		k.PH = nil
	}
	return s.onLot(ctx, act, oid, lot.ToCheck, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("check")
		if err != nil {
			return err
		}
		if err := c.AddCheck(entry, l.ID, k); err != nil {
			return err
		}
		if !k.Pass {
			return c.hold(l, true, "the safety check failed")
		}
		return nil
	})
}

// SetHold holds a lot or lifts its holds, with a reason.
func (s *Shop) SetHold(ctx context.Context, act Act, oid string, held bool, why string) error {
	what := lot.ToLift
	if held {
		what = lot.ToHold
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why"}}
	}
	return s.onLot(ctx, act, oid, what, func(c *change, l *lot.Lot) error {
		if !held && len(l.OwnHolds()) == 0 {
			return &lot.NotNow{Why: "lot " + l.Code + " has no hold of its own"}
		}
		return c.hold(l, held, why)
	})
}

// ReleaseLot is the acting person's word that the bars may be sold. Before its
// time it needs a reason; over a failed or missing safety check or a hold it
// cannot be given.
func (s *Shop) ReleaseLot(ctx context.Context, act Act, oid, early string) error {
	return s.onLot(ctx, act, oid, lot.ToRelease, func(c *change, l *lot.Lot) error {
		if c.doubt != "" {
			return &lot.NotNow{Why: "the clock is in doubt: no lot is released before it is put right, or somebody says that it is"}
		}
		g := l.Gate(c.now)
		early = strings.TrimSpace(early)
		switch {
		case g.MayRelease:
			early = ""
		case !g.MayEarly:
			var missing []string
			for _, k := range g.Conditions {
				if !k.Met && k.Code != "release" {
					missing = append(missing, strings.ToLower(k.Name)+" ("+k.Detail+")")
				}
			}
			return caution.Problems{{Path: "early", Text: "cannot be released: " + strings.Join(missing, "; ")}}
		case early == "":
			return caution.Problems{{Path: "early", Text: "it is before its time: write why it may go all the same"}}
		}
		entry, err := c.entry("release")
		if err != nil {
			return err
		}
		if err := c.AddRelease(entry, l.ID, early); err != nil {
			return err
		}
		seal, err := digest(c.Tx, l.ID, entry, store.DigestVersion)
		if err != nil {
			return err
		}
		return c.AddDigest(l.ID, store.DigestVersion, seal)
	})
}

// MoveBars moves bars out of, or back into, a released lot.
func (s *Shop) MoveBars(ctx context.Context, act Act, oid string, k ledger.Kind, r ledger.Reason, count int, note string) error {
	return s.onLot(ctx, act, oid, lot.ToMove, func(c *change, l *lot.Lot) error {
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
		entry, err := c.entry("move")
		if err != nil {
			return err
		}
		if err := c.AddMove(entry, l.ID, lot.Move{Kind: k, Reason: r, Change: by, Note: strings.TrimSpace(note)}); err != nil {
			return err
		}
		return c.ChangeBars(l.ID, k, by)
	})
}
