package shop

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// mostOff is how far in mm a mold can come from its line and still teach
// something.
const mostOff = 60

// RecordPour records the pour. What was not weighed needs a reason, and a soap
// that comes out lye-heavy is held. One with more lye than its fats can take is not
// poured at all; when it was all the same, a sheet from paper says so, and it is held.
func (s *Shop) RecordPour(ctx context.Context, act journal.Act, oid string, p lot.Pour) error {
	if err := checkPour(p).Err(); err != nil {
		return err
	}
	return s.onRun(ctx, act, oid, lot.ToPour, func(c *journal.Change, l *lot.Lot) error {
		if j := l.JudgePour(); j.Burns() {
			return caution.Problems{{Path: "pour", Text: fmt.Sprintf(
				"With a superfat of %s %% there is more lye in it than its fats can take: it is not poured into molds. Put it right, or give "+
					"the lot up.", unit.Trim(j.Superfat, 1))}}
		}
		return pour(c, l, p)
	})
}

// checkPour finds what cannot be in the words on a pour.
func checkPour(p lot.Pour) caution.Problems {
	var bad caution.Problems
	for field, v := range map[string]*float64{"lye_c": p.LyeC, "fats_c": p.FatsC, "room_c": p.RoomC} {
		if v != nil {
			caution.Temperature.Check(&bad, field, "the temperature", *v)
		}
	}
	if !slices.Contains(lot.Traces(), p.Trace) {
		bad.Add("trace", "say how thick the batter was")
	}
	if p.LeftG < 0 {
		bad.Add("left", "what was left cannot be below zero")
	}
	for oid, off := range p.Off {
		if math.Abs(off) > mostOff {
			bad.Add("off."+oid, "say how many millimetres it came above the line, or below it with a minus; at most %d", mostOff)
		}
	}
	return bad
}

// pour writes the pour once all that was planned is done or explained.
func pour(c *journal.Change, l *lot.Lot, p lot.Pour) error {
	p.Skipped = strings.TrimSpace(p.Skipped)
	if left := run.Undone(run.Steps(l.Order()), l.State()); len(left) > 0 && p.Skipped == "" {
		return caution.Problems{{Path: "skipped", Text: undone(left) + " Do it, or write why it is left out."}}
	}
	j := l.JudgePour()
	p.Judged = &j
	if err := trialMade(c, l); err != nil {
		return err
	}
	if err := teach(c, l, p); err != nil {
		return err
	}
	entry, err := c.Entry("pour")
	if err != nil {
		return err
	}
	if err := c.AddPour(entry, l.ID, p); err != nil {
		return err
	}
	if j.Heavy {
		return hold(c, l,
			true,
			fmt.Sprintf(
				"poured with a superfat of %s %% where %s %% was meant: test it before anybody touches it",
				unit.Trim(j.Superfat, 1),
				unit.Trim(j.Planned, 1),
			),
		)
	}
	if f := l.Frozen.Formula; f.Superfat < 0 {
		_, citric := f.Excess(f.AmountsFor(l.Frozen.Pot.FatsG))
		return hold(c, l, true, fmt.Sprintf(
			"made with lye left over on purpose: thin it, neutralise it with up to %s g of citric acid, test it, then lift this",
			unit.Trim(citric, 1)))
	}
	return nil
}

// undone says in a line what is not weighed and what is not done.
func undone(steps []run.Step) string {
	var weigh, do []string
	for _, s := range steps {
		if s.Kind == run.Weigh {
			weigh = append(weigh, s.Title)
		} else {
			do = append(do, strings.ToLower(s.Title[:1])+s.Title[1:])
		}
	}
	var out []string
	if len(weigh) > 0 {
		out = append(out, "Not weighed yet: "+strings.Join(weigh, ", ")+".")
	}
	if len(do) > 0 {
		out = append(out, "Not done yet: "+strings.Join(do, "; ")+".")
	}
	return strings.Join(out, " ")
}

// teach notes how full the molds of a pour came: those that were looked at, and
// all of them where something was left over.
func teach(c *journal.Change, l *lot.Lot, p lot.Pour) error {
	whole := l.PotNow().Whole()
	left := math.Min(p.LeftG/whole, 0.5)
	for _, m := range l.Frozen.Molds {
		off, looked := p.Off[m.OID]
		if m.OID == "" || !looked && left == 0 {
			continue
		}
		entry, err := c.Entry("mold pour")
		if err != nil {
			return err
		}
		used := m.Mold.Correction
		if used == 0 {
			used = 1
		}
		if err := c.AddMoldPour(entry, store.MoldPour{Mold: m.OID, LotID: l.ID, Correction: used, OffMM: off,
			LeftShare: left}); err != nil {
			return err
		}
	}
	return nil
}

// trialMade moves a draft on once a lot of it was poured, as long as it was not
// changed since.
func trialMade(c *journal.Change, l *lot.Lot) error {
	history, err := c.History(store.Recipes, l.Recipe)
	if err != nil {
		return err
	}
	life, err := catalog.LifeOf(c, l.Recipe, l.Frozen.Revision)
	if err != nil || life != recipe.Draft || history[0].Number != l.Frozen.Revision {
		return err
	}
	return catalog.SetLife(c, l.Recipe, l.Frozen.Revision, recipe.Trial)
}
