package shop

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/tracing"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

func hold(c *journal.Change, l *lot.Lot, held bool, why string) error {
	return c.Record("hold", func(entry int64) error { return c.AddHold(entry, l.ID, held, why) })
}

// RecordCheck records a safety check, as the core judges it. A failed one holds the
// lot.
func (s *Shop) RecordCheck(ctx context.Context, act journal.Act, oid string, k lot.SafetyCheck) error {
	var err error
	if k.Pass, err = cure.Verdict(k.Method, k.PH, k.Pass); err != nil {
		return err
	}
	if k.Method != "ph" {
		k.PH = nil
	}
	return s.OnLot(ctx, act, oid, lot.ToCheck, func(c *journal.Change, l *lot.Lot) error {
		entry, err := c.Entry("check")
		if err != nil {
			return err
		}
		if err := c.AddCheck(entry, l.ID, k); err != nil {
			return err
		}
		if !k.Pass {
			return hold(c, l, true, "the safety check failed")
		}
		return nil
	})
}

// SetHold holds a lot or lifts its holds, with a reason.
func (s *Shop) SetHold(ctx context.Context, act journal.Act, oid string, held bool, why string) error {
	what := lot.ToLift
	if held {
		what = lot.ToHold
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why"}}
	}
	return s.OnLot(ctx, act, oid, what, func(c *journal.Change, l *lot.Lot) error {
		if !held && len(l.OwnHolds()) == 0 {
			return &lot.NotNow{Why: "lot " + l.Code + " has no hold of its own"}
		}
		return hold(c, l, held, why)
	})
}

// ReleaseLot is the acting person's word that the bars may be sold. Before its
// time it needs a reason; over a failed or missing safety check or a hold it
// cannot be given.
func (s *Shop) ReleaseLot(ctx context.Context, act journal.Act, oid, early string) error {
	return s.OnLot(ctx, act, oid, lot.ToRelease, func(c *journal.Change, l *lot.Lot) error {
		if s.Life().Gap() {
			return &lot.NotNow{Why: journal.ErrGap.Error()}
		}
		if c.Doubt != "" {
			return &lot.NotNow{Why: "the clock is in doubt: no lot is released before it is put right, or somebody says that it is"}
		}
		g := l.Gate(c.Now)
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
		entry, err := c.Entry("release")
		if err != nil {
			return err
		}
		if err := c.AddRelease(entry, l.ID, early); err != nil {
			return err
		}
		if err := s.Freeze(c, l, entry); err != nil {
			return err
		}
		seal, err := lots.Digest(c.Tx, l.ID, entry, store.DigestVersion)
		if err != nil {
			return err
		}
		return c.AddDigest(l.ID, store.DigestVersion, seal)
	})
}

// SetDeliveryStatus says whether a delivery may be used, with the reason. What is recalled holds every lot that it
// went into, by whatever way; a hold is lifted by hand.
func (s *Shop) SetDeliveryStatus(ctx context.Context, act journal.Act, oid string, status inventory.Status, why string) error {
	var p caution.Problems
	if !slices.Contains(inventory.Statuses(), status) {
		p.Add("status", "choose whether it may be used")
	}
	if why = strings.TrimSpace(why); why == "" {
		p.Add("status_why", "write why")
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		d, err := c.Delivery(oid)
		if err != nil {
			return "", err
		}
		if err := tracing.BlockDelivery(c, d.ID, status, why); err != nil || status != inventory.Recalled {
			return oid, err
		}
		went, err := tracing.TraceIn(c.Tx, tracing.Subject{Kind: "delivery", Of: oid})
		if err != nil {
			return "", err
		}
		reason := d.Name + " of " + d.Label() + " was recalled: " + why
		for _, one := range went.Lots() {
			if one.State == string(lot.Abandoned) {
				continue // nothing of it is left to hold
			}
			if err := s.ActOn(c, one.OID, lot.ToHold, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
				return hold(c, l, true, reason)
			}); err != nil {
				return "", err
			}
		}
		return oid, nil
	})
	return err
}
