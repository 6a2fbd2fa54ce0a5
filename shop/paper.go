package shop

import (
	"context"
	"strings"
	"time"

	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
)

// Paper is a run that was noted on a printed sheet and is filled in afterwards.
type Paper struct {
	When    time.Time // of the pour
	Weights map[plan.Key]float64
	From    map[plan.Key]string // identity of the delivery that each is out of
	Sure    bool                // odd weights were looked at again
	Left    string              // what was left out of the sheet, and why
	Minutes float64
	Pour    lot.Pour
}

// oldestPaper is how far back a sheet may be filled in.
const oldestPaper = 60 * 24 * time.Hour

// RecordPaper fills a whole sheet in at once, marked as noted on paper. All steps
// count as done but those that are said to be left out; weights are looked at as
// if they were typed at the bench.
func (s *Shop) RecordPaper(ctx context.Context, act journal.Act, oid string, p Paper) error {
	return s.onRun(ctx, act, oid, lot.ToPour, func(c *journal.Change, l *lot.Lot) error {
		bad := checkPour(p.Pour)
		p.Left = strings.TrimSpace(p.Left)
		switch ago := c.Now.Sub(p.When); {
		case p.When.IsZero():
			bad.Add("when", "say when it was poured")
		case ago < 0:
			bad.Add("when", "that is still to come; say when it was poured")
		case ago > oldestPaper:
			bad.Add("when", "that is more than %d days ago", int(oldestPaper.Hours()/24))
		}
		for _, sec := range l.Sheet() {
			for _, i := range sec.Items {
				g, ok := p.Weights[i.Key]
				if !ok {
					if p.Left == "" && !l.State().Closed[i.Key] {
						bad.Add("weight."+string(i.Key), "write what was weighed, or below why it was left out")
					}
					continue
				}
				if err := plausible(l, i, Weighed{Item: i.Key, Grams: g, Sure: p.Sure}); err != nil {
					bad.Add("weight."+string(i.Key), "%s", err.(caution.Problems)[0].Text)
				}
			}
		}
		if err := bad.Err(); err != nil {
			return err
		}
		c.Happened = p.When
		return s.paper(c, l, p)
	})
}

func (s *Shop) paper(c *journal.Change, l *lot.Lot, p Paper) error {
	done := l.Done()
	for _, step := range run.Steps(l.Order()) {
		g, weighed := p.Weights[step.Item.Key]
		switch {
		case step.Kind == run.Pour || step.After || done[step.Key]:
		case step.Kind == run.Weigh && weighed:
			if err := drawFor(c, l, Weighed{Item: step.Item.Key}, g); err != nil {
				return err
			}
			if err := s.offPaper(c, l, step.Item, g, p.From[step.Item.Key]); err != nil {
				return err
			}
		case step.Item.Key != "" && !weighed && !l.State().Closed[step.Item.Key]: // left out
		case step.Must && step.Kind != run.Weigh:
			k := Ticked{Step: step.Key, Note: "noted on paper", How: lot.OnPaper}
			switch step.Kind {
			case run.Trace:
				k.Trace, k.Minutes = p.Pour.Trace, p.Minutes
			case run.Warm:
				k.LyeC, k.FatsC, k.RoomC = p.Pour.LyeC, p.Pour.FatsC, p.Pour.RoomC
			}
			if err := tick(c, l, k); err != nil {
				return err
			}
		}
	}
	after, err := s.LotIn(c.Tx, l.OID)
	if err != nil {
		return err
	}
	p.Pour.Skipped = p.Left
	return pour(c, after, p.Pour)
}

// offPaper writes a weight down that was noted on paper. Where its delivery does not hold as much, the next in the
// order of use gives the rest, as at the bench.
func (s *Shop) offPaper(c *journal.Change, l *lot.Lot, i plan.Item, grams float64, from string) error {
	w := Weighed{Item: i.Key, Grams: grams, How: lot.OnPaper, From: from}
	if from != "" {
		list, _, err := stores.AtHandIn(c.Tx, inventory.KeyOf(l.Frozen.Formula, i.Key), i.Name, c.Now.Format(time.DateOnly))
		if err != nil {
			return err
		}
		for _, d := range list {
			if d.OID != from && d.Open() && d.Booked && d.Left > 0 && w.Then == "" {
				w.Then = d.OID
			}
		}
	}
	return putDown(c, l, i, w, grams)
}
