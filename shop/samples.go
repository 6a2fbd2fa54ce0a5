package shop

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// noteOddness writes down whether a lot that was just weighed dries unlike the
// others, so that the shelf can say so without fitting curves.
func (s *Shop) noteOddness(c *journal.Change, oid string) error {
	l, err := s.LotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	f, err := s.DryingIn(c.Tx, l)
	if err != nil {
		return err
	}
	return c.SetOdd(l.ID, f != nil && f.Odd)
}

// WeighSample records the marked sample bar's weight, or corrects an earlier
// one.
func (s *Shop) WeighSample(ctx context.Context, act journal.Act, oid string, grams float64, corrects int64, reason string) error {
	return s.OnLot(ctx, act, oid, lot.ToSample, func(c *journal.Change, l *lot.Lot) error { return s.weigh(c, l, grams, corrects, reason) })
}

// weigh records a weight of the marked bar within a change.
func (s *Shop) weigh(c *journal.Change, l *lot.Lot, grams float64, corrects int64, reason string) error {
	if grams <= 0 {
		return caution.Problems{{Path: "sample", Text: "type what the scale reads, more than 0 g"}}
	}
	var before float64
	for _, w := range l.Weights() {
		if corrects == 0 && w.Occurred.After(c.At()) {
			break // this one was earlier
		}
		if w.ID == corrects {
			c.Happened = w.Occurred // it is the same weighing, read rightly
			break
		}
		before = w.Grams
	}
	if corrects != 0 && c.Happened.IsZero() {
		return caution.Problems{{Path: "sample", Text: "this weight was corrected already"}}
	}
	if corrects != 0 && strings.TrimSpace(reason) == "" {
		return caution.Problems{{Path: "reason", Text: "write why the weight is corrected; both stay on record"}}
	}
	of, first := "the sample bar weighed %s g before", before == 0 && corrects == 0
	if cut := l.Cut; first && cut != nil && cut.BarG > 0 {
		before, of = cut.BarG, "a typical bar weighed %s g at the cut"
	}
	if oz, likely := run.Slip(before, grams); likely {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					of+"; %s g cannot be. Did you read ounces? %s oz would be %s g: type the unit with it.",
					unit.Trim(before, 1),
					unit.Trim(grams, 2),
					unit.Trim(grams, 2),
					unit.Trim(oz, 1),
				),
			},
		}
	}
	if first && before > 0 && (grams > before*1.25 || grams < before*0.5) {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					of+"; %s g cannot be one of them. Check the bar, the scale and the unit.",
					unit.Trim(before, 1),
					unit.Trim(grams, 1),
				),
			},
		}
	}
	if !first && before > 0 && (grams > before*1.03 || grams < before*0.6) {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					"the sample bar weighed %s g before; %s g cannot be the same bar. Check the bar, the scale and the unit.",
					unit.Trim(before, 1),
					unit.Trim(grams, 1),
				),
			},
		}
	}
	entry, err := c.Correction("sample", corrects, strings.TrimSpace(reason))
	if err != nil {
		return err
	}
	if err := c.AddSample(entry, l.ID, grams); err != nil {
		return err
	}
	return s.noteOddness(c, l.OID)
}

// Weight is what the marked bar of a lot weighs.
type Weight struct {
	OID   string
	Grams float64
}

// slipWithin is how soon a second weight of a bar is taken for a slip.
const slipWithin = time.Hour

// WeighRound records the marked bars of many lots, or of none when one of the
// weights cannot be. Its problems are at "g." and the lot's identity.
func (s *Shop) WeighRound(ctx context.Context, act journal.Act, weights []Weight) error {
	if len(weights) == 0 {
		return caution.Problems{{Path: "round", Text: "no weight is typed yet"}}
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		var bad caution.Problems
		for _, w := range weights {
			at := "g." + w.OID
			err := s.ActOn(c, w.OID, lot.ToSample, func(c *journal.Change, l *lot.Lot) error {
				if list := l.Weights(); len(list) > 0 && c.Now.Sub(list[len(list)-1].Occurred) < slipWithin {
					last := list[len(list)-1]
					return caution.Problems{
						{
							Text: fmt.Sprintf(
								"%s weighed it at %s already: %s g",
								last.Who,
								last.Occurred.In(c.Now.Location()).Format("15:04"),
								unit.Trim(last.Grams, 1),
							),
						},
					}
				}
				return nil
			}, func(c *journal.Change, l *lot.Lot) error { return s.weigh(c, l, w.Grams, 0, "") })
			var p caution.Problems
			var not *lot.NotNow
			switch {
			case errors.As(err, &p):
				bad.Add(at, "%s", p[0].Text)
			case errors.As(err, &not):
				bad.Add(at, "%s", not.Why)
			case err != nil:
				return "", err
			}
		}
		return "", bad.Err()
	})
	return err
}
