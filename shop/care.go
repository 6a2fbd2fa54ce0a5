package shop

import (
	"context"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
)

// LookAfter records that lots were looked after: a top textured, all bars of a
// room turned. A second press within the hour is the same one.
func (s *Shop) LookAfter(ctx context.Context, act journal.Act, what, note string, oids ...string) error {
	if lot.CareWords(what) == "" {
		return caution.Problems{{Path: "care", Text: "choose what was done"}}
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		for _, oid := range oids {
			err := s.ActOn(c, oid, lot.ToCare, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
				if at, done := l.LastCare(what); done && c.Now.Sub(at) < time.Hour {
					return nil
				}
				return c.Record("care", func(entry int64) error {
					return c.AddCare(entry, l.ID, lot.Care{What: what, Note: strings.TrimSpace(note)})
				})
			})
			if err != nil {
				return "", err
			}
		}
		return "", nil
	})
	return err
}

// Wash records how a bar washed. None is washed with before the safety check of
// its lot is good.
func (s *Shop) Wash(ctx context.Context, act journal.Act, oid string, k lot.Wash) error {
	var p caution.Problems
	for field, v := range map[string]int{"volume": k.Volume, "creaminess": k.Creaminess, "slime": k.Slime, "scent": k.Scent} {
		if v < 0 || v > 4 {
			p.Add(field, "give it 0 to 4")
		}
	}
	if err := p.Err(); err != nil {
		return err
	}
	k.Against, k.Note = strings.TrimSpace(k.Against), strings.TrimSpace(k.Note)
	return s.OnLotUnseen(ctx, act, oid, lot.ToWash, func(c *journal.Change, l *lot.Lot) error {
		return c.Record("wash", func(entry int64) error { return c.AddWash(entry, l.ID, k) })
	})
}
