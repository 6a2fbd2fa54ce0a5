package shop

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// CarryIn records that something of another lot went into a lot, which inherits
// what keeps the other one back.
func (s *Shop) CarryIn(ctx context.Context, act journal.Act, oid, code, what string, grams float64) error {
	var p caution.Problems
	number, err := lot.ParseCode(code)
	if err != nil {
		p.Add("parent", "%s", err.Error())
	}
	if !slices.Contains(lot.Carried(), what) && !slices.Contains(lot.Shapes(), lot.Shape(what)) {
		p.Add("what", "say what was carried over")
	}
	if !(grams > 0) || grams > 1e5 {
		p.Add("carried_grams", "say how much, more than 0 g")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.OnLotUnseen(ctx, act, oid, lot.ToCarry, func(c *journal.Change, l *lot.Lot) error {
		parents, err := s.LotsIn(c.Tx, store.LotsWhere{Number: number}, false)
		if err != nil {
			return err
		}
		for _, parent := range parents {
			if parent.Number != number {
				continue
			}
			if parent.Number >= l.Number {
				return caution.Problems{{Path: "parent", Text: "lot " + parent.Code + " is not older than this one"}}
			}
			if err := takeFromPile(c, parent, what, grams); err != nil {
				return err
			}
			if lot.Shape(what).Counted() && slices.Contains(lot.Shapes(), lot.Shape(what)) {
				what = "trimmings" // which they are again where they go in
			}
			return c.Record("carried", func(entry int64) error { return c.AddParent(entry, l.ID, parent.ID, what, grams) })
		}
		return caution.Problems{{Path: "parent", Text: "there is no lot " + lot.Code(number)}}
	})
}

// takeFromPile finds more being carried over than is left of the scraps, petals or balls of a lot.
// What was shaped is taken off its pile and goes as scraps.
func takeFromPile(c *journal.Change, parent *lot.Lot, what string, grams float64) error {
	shape := lot.Shape(what)
	switch what {
	case "trimmings":
		shape = lot.Scraps
	case string(lot.Petals), string(lot.Balls):
	default:
		return nil
	}
	pile := parent.Pile(shape)
	if grams > pile.Grams+0.5 {
		word := shape.Words()
		if shape == lot.Scraps {
			word = "trimmings and scraps"
		}
		return caution.Problems{{Path: "carried_grams",
			Text: fmt.Sprintf("only %s g of the %s of lot %s are left", unit.Trim(pile.Grams, 1), word, parent.Code)}}
	}
	if shape == lot.Scraps {
		return nil
	}
	pieces := int(math.Round(float64(pile.Pieces) * math.Min(1, grams/pile.Grams)))
	return c.Record("reshape", func(entry int64) error {
		return c.AddReshaped(entry, parent.ID, lot.Reshaped{Source: shape, Pieces: pieces, Shape: lot.Scraps, Grams: grams})
	})
}

// SetMark marks a lot as not for sale or called back, or lifts the mark, with a
// reason.
func (s *Shop) SetMark(ctx context.Context, act journal.Act, oid, mark string, on bool, why string) error {
	var p caution.Problems
	if mark != lot.NotForSale && mark != lot.Recalled {
		p.Add("mark", "choose not for sale, or called back")
	}
	if why = strings.TrimSpace(why); why == "" {
		p.Add("mark_why", "write why")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.OnLotUnseen(ctx, act, oid, lot.ToMark, func(c *journal.Change, l *lot.Lot) error {
		if _, is := l.MarkedNow()[mark]; is == on {
			return markedBefore(l, mark, why)
		}
		return c.Record("mark", func(entry int64) error {
			return c.AddMark(entry, l.ID, lot.Mark{Mark: mark, On: on, Why: why})
		})
	})
}

// markedBefore is what becomes of a mark that stands already, or is taken off: nothing,
// unless another reason is given, which would be lost.
func markedBefore(l *lot.Lot, mark, why string) error {
	for _, m := range slices.Backward(l.Marks) {
		if m.Mark == mark {
			if m.Why == why {
				return nil
			}
			return &journal.Conflict{What: "lot " + l.Code, Who: m.Who, When: m.Recorded}
		}
	}
	return &lot.NotNow{Why: fmt.Sprintf("lot %s is not marked as %s", l.Code, lot.MarkWords(mark))}
}
