package inventory

import (
	"context"
	"fmt"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// TakeOverStock takes what was there when the books began, all or none: bars by the code on them, and deliveries that
// were opened or bought before.
func (s *Stores) TakeOverStock(ctx context.Context, act journal.Act, bars []inventory.Opening, stock []inventory.Receipt) error {
	var p caution.Problems
	seen := map[string]bool{}
	for i, o := range bars {
		at := ""
		if len(bars)+len(stock) > 1 {
			at = fmt.Sprintf("bars[%d].", i)
		}
		for _, one := range o.Check() {
			p = append(p, caution.Problem{Path: at + one.Path, Text: one.Text})
		}
		if code := strings.ToLower(strings.TrimSpace(o.Code)); seen[code] {
			p.Add(at+"code", "two lots have this code")
		} else {
			seen[code] = true
		}
	}
	if len(stock) > 0 {
		p = append(p, checkReceipts(stock)...)
	}
	if len(bars)+len(stock) == 0 {
		p.Add("code", "there is nothing to take over")
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		for i, o := range bars {
			o.OID, o.Code, o.Name = journal.NewOID(), strings.TrimSpace(o.Code), strings.TrimSpace(o.Name)
			if have, err := c.OpeningLots(o.Code); err != nil {
				return "", err
			} else if len(have) > 0 {
				at := "code"
				if len(bars)+len(stock) > 1 {
					at = fmt.Sprintf("bars[%d].code", i)
				}
				return "", caution.Problems{{Path: at, Text: o.Code + " was taken over already"}}
			}
			if err := c.Record("opening lot", func(entry int64) error { return c.AddOpeningLot(entry, o) }); err != nil {
				return "", err
			}
		}
		settings, err := c.Shop()
		if err != nil {
			return "", err
		}
		for _, r := range stock {
			r.Opening = true
			if _, err := receive(c, r, "", settings.TaxBack); err != nil {
				return "", err
			}
		}
		return "", nil
	})
	return err
}

// Openings returns the bars that were taken over, or those of an identity or a printed code.
func (s *Stores) Openings(ctx context.Context, find string) (out []inventory.Opening, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.OpeningLots(find)
		return err
	})
	return out, err
}

func (s *Stores) onOpening(ctx context.Context, act journal.Act, oid string, do func(*journal.Change, inventory.Opening) error) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		list, err := c.OpeningLots(oid)
		if err == nil && len(list) == 0 {
			err = fmt.Errorf("opening lot %s: %w", oid, store.ErrNotFound)
		}
		if err != nil {
			return "", err
		}
		return oid, do(c, list[0])
	})
	return err
}

// ReleaseOpening is the acting person's word that bars that were taken over may be sold, and how she knows.
func (s *Stores) ReleaseOpening(ctx context.Context, act journal.Act, oid, word string) error {
	word = strings.TrimSpace(word)
	return s.onOpening(ctx, act, oid, func(c *journal.Change, o inventory.Opening) error {
		if word == "" {
			return caution.Problems{{Path: "word", Text: "write how you know that they are sound, such as from which papers"}}
		}
		if o.ReleasedBy != "" {
			return &lot.NotNow{Why: o.Code + " was released by " + o.ReleasedBy + " already"}
		}
		if s.Life().Gap() {
			return &lot.NotNow{Why: journal.ErrGap.Error()}
		}
		settings, err := c.Shop()
		if err != nil {
			return err
		}
		zone, err := time.LoadLocation(settings.Zone)
		if err != nil {
			return fmt.Errorf("the shop's time zone: %w", err)
		}
		if o.Ready > c.Now.In(zone).Format(time.DateOnly) { // a day of the shop, not of the clock
			return caution.Problems{{Path: "word", Text: "they are ready on " + o.Ready + ", and that is not yet"}}
		}
		return c.Record("opening release", func(entry int64) error { return c.AddOpeningRelease(entry, o.ID, word) })
	})
}

// MoveOpening moves bars that were taken over: out, back, or to what was counted.
func (s *Stores) MoveOpening(ctx context.Context, act journal.Act, oid string, reason ledger.Reason, count int, note string) error {
	return s.onOpening(ctx, act, oid, func(c *journal.Change, o inventory.Opening) error {
		if why := o.MayLeave(); why != "" && reason != ledger.Recount && reason != ledger.Spoiled {
			return &lot.NotNow{Why: "bars of " + o.Code + " stay: " + why}
		}
		change, err := ledger.Change(o.Bars, o.Out(), ledger.Of(ledger.First), reason, count)
		if err != nil {
			return caution.Problems{{Path: "count", Text: err.Error()}}
		}
		return c.Record("opening move", func(entry int64) error {
			return c.MoveOpening(entry, o.ID, string(reason), change, strings.TrimSpace(note))
		})
	})
}
