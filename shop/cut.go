package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/unit"
)

// RecordUnmold records that the soap came out of its mold. Outside of its window it
// asks for a reason; what came out soft gets a window for its cut.
func (s *Shop) RecordUnmold(ctx context.Context, act journal.Act, oid string, u lot.Unmolding, soft bool, deviation string) error {
	if !slices.Contains(lot.Gels(), u.Gel) {
		return caution.Problems{{Path: "gel", Text: "say how far the gel went"}}
	}
	return s.OnLot(ctx, act, oid, lot.ToUnmold, func(c *journal.Change, l *lot.Lot) error {
		if err := deviates(c, l, lot.ToUnmold, "unmolded", deviation); err != nil {
			return err
		}
		if err := c.Record("unmolding", func(entry int64) error { return c.AddUnmolding(entry, l.ID, u) }); err != nil || !soft {
			return err
		}
		return c.Record("care", func(entry int64) error { return c.AddCare(entry, l.ID, lot.Care{What: lot.StillSoft}) })
	})
}

// checkCut finds what cannot be in a count of bars.
func checkCut(k lot.Cut) caution.Problems {
	var bad caution.Problems
	counts := func(at string, bars map[ledger.Grade]int) (total int) {
		for g, n := range bars {
			if n < 0 || n > 5000 {
				bad.Add(at+string(g), "the count must lie between 0 and 5000")
			}
			total += n
		}
		return total
	}
	counts("", k.Bars)
	seen := map[string]bool{"": true}
	for i, one := range k.Sizes {
		at := fmt.Sprintf("size[%d].", i)
		n := counts(at, one.Bars)
		switch {
		case one.Name == "":
			bad.Add(at+"name", "say what size it is, such as guest bar")
		case utf8.RuneCountInString(one.Name) > 40:
			bad.Add(at+"name", "name it in 40 letters")
		case caution.Unseen(one.Name) != "" || strings.Contains(one.Name, "\n"):
			bad.Name(at+"name", one.Name)
		case seen[one.Name]:
			bad.Add(at+"name", "two sizes have this name")
		case n == 0:
			bad.Add(at+string(ledger.First), "count the bars of this size")
		}
		if one.BarG < 0 {
			bad.Add(at+"bar", "a weight cannot be below zero")
		}
		seen[one.Name] = true
	}
	if k.Count() == 0 && len(bad) == 0 {
		bad.Add(string(ledger.First), "count the bars; a lot that gave none is abandoned instead")
	}
	if k.BarG < 0 || k.TrimmingsG < 0 || k.EndsG < 0 {
		bad.Add("bar", "a weight cannot be below zero")
	}
	if k.Halves != 0 {
		bad.Add("halves", "half bars are a size of their own")
	}
	if k.Ends < 0 || k.Ends > 1000 {
		bad.Add("ends", "count the end pieces that are kept")
	}
	return bad
}

// RecordCut counts the bars and puts them on the rack. Outside of its window it
// asks for a reason.
func (s *Shop) RecordCut(ctx context.Context, act journal.Act, oid string, k lot.Cut, deviation string) error {
	for i := range k.Sizes {
		k.Sizes[i].Name = strings.TrimSpace(k.Sizes[i].Name)
	}
	if err := checkCut(k).Err(); err != nil {
		return err
	}
	return s.OnLot(ctx, act, oid, lot.ToCut, func(c *journal.Change, l *lot.Lot) error {
		if l.Plain() && k.OfGrade(ledger.First) > 0 {
			return caution.Problems{
				{Path: string(ledger.First), Text: "the bars of this lot are plain since its rescue: count them as seconds"},
			}
		}
		batter := l.PotNow().Whole()
		if weight := k.Weight(); k.BarsG() > 0 && weight > batter*1.1 {
			return caution.Problems{
				{
					Path: "bar",
					Text: fmt.Sprintf(
						"%d bars and what else was kept make %s g, more than the %s g that went into the mold: check counts and weights",
						k.Count(),
						unit.Grams(weight),
						unit.Grams(batter),
					),
				},
			}
		}
		if err := deviates(c, l, lot.ToCut, "cut", deviation); err != nil {
			return err
		}
		entry, err := c.Entry("cut")
		if err != nil {
			return err
		}
		if err := c.AddCut(entry, l.ID, k); err != nil {
			return err
		}
		if more := k.Ends > 0 || k.EndsG > 0 || k.Finish != ""; more {
			if entry, err = c.Entry("cut"); err != nil {
				return err
			}
			if err := c.AddCutMore(entry, l.ID, k); err != nil {
				return err
			}
		}
		if len(k.Sizes) > 0 {
			if entry, err = c.Entry("cut"); err != nil {
				return err
			}
			for _, one := range k.Sizes {
				if err := c.AddCutSize(entry, l.ID, one); err != nil {
					return err
				}
			}
		}
		for _, kind := range k.Kinds() {
			if err := c.CountBars(l.ID, kind, k.Of(kind)); err != nil {
				return err
			}
		}
		return nil
	})
}
