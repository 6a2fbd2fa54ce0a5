// Package stock is the containers that are made ahead: lye of a strength, and blends of fats.
//
// A container's balance is worked out from what went in and what was drawn, is never below
// zero, and is counted again on the scale. Its strength is what was weighed into it, until
// a density says otherwise.
package stock

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/document"
	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Keeper keeps the containers of lye and of blended fats.
type Keeper struct{ *journal.Journal }

// Stock is a container of lye or of blended fats as it is now.
type Stock struct {
	store.Stock
	document.StockBody
	Strength float64   // percent of pure alkali, as it was last rated
	C        float64   // °C, as it was last read; the room's when nobody read it lately
	Read     time.Time // when; zero when nobody read it lately
	Status   store.Status
	Why      string // of the status
}

// Lye is the stock as the core knows it.
func (s Stock) Lye() lye.Stock {
	return lye.Stock{Strength: s.Strength, C: s.C, KOH: s.Kind == document.KOH, Name: s.Code}
}

// OnlyLye refuses what is done to a strength and not to fats.
func (s Stock) OnlyLye() error {
	if s.Kind == document.Fats {
		return &lot.NotNow{Why: "a blend of fats has no strength, which could be checked or diluted"}
	}
	return nil
}

// Contents says what is in it.
func (s Stock) Contents() string {
	switch s.Kind {
	case document.NaOH:
		return "Sodium hydroxide, " + unit.Trim(s.Strength, 1) + " %"
	case document.KOH:
		return "Potassium hydroxide, " + unit.Trim(s.Strength, 1) + " %"
	}
	parts := make([]string, len(s.Blend))
	for i, one := range s.Blend {
		parts[i] = one.Fat.Name + " " + unit.Trim(one.Percent, 1) + " %"
	}
	return strings.Join(parts, ", ")
}

// readingCounts is how long a temperature that was read counts before the room's is
// taken again.
const readingCounts = 12 * time.Hour

func asStock(row store.Stock, room float64, now time.Time) (Stock, error) {
	body, err := document.Decode("stock "+row.Code, document.ReadContainer, row.Body)
	s := Stock{Stock: row, StockBody: body, C: room, Status: store.InUse}
	if s.Kind != document.Fats {
		s.Strength = lye.Made(body.AlkaliG, body.WaterG, body.Purity)
	}
	for _, w := range row.Words {
		if w.Strength != nil {
			s.Strength = *w.Strength
		}
		if w.Celsius != nil && now.Sub(w.At) < readingCounts {
			s.C, s.Read = *w.Celsius, w.At
		}
		if w.Status != "" {
			s.Status, s.Why = w.Status, w.Why
		}
	}
	return s, err
}

func (k *Keeper) readStocks(ctx context.Context, read func(*store.Tx) ([]store.Stock, error)) (out []Stock, err error) {
	err = k.Read(ctx, func(tx *store.Tx) error {
		settings, err := tx.Shop()
		if err != nil {
			return err
		}
		rows, err := read(tx)
		if err != nil {
			return err
		}
		for _, row := range rows {
			one, err := asStock(row, settings.RoomC, k.Clock())
			if err != nil {
				return err
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}

// Stocks returns the containers that are not gone, the newest first; with all,
// the gone ones too.
func (k *Keeper) Stocks(ctx context.Context, all bool) ([]Stock, error) {
	return k.readStocks(ctx, func(tx *store.Tx) ([]store.Stock, error) { return tx.Stocks(all, 200) })
}

// StockByOID returns one container.
func (k *Keeper) StockByOID(ctx context.Context, oid string) (Stock, error) {
	list, err := k.readStocks(ctx, func(tx *store.Tx) ([]store.Stock, error) {
		one, err := tx.Stock(oid)
		return []store.Stock{one}, err
	})
	if err != nil {
		return Stock{}, err
	}
	return list[0], nil
}

// onStock runs one act on a container that is not gone.
func (k *Keeper) onStock(ctx context.Context, act journal.Act, oid string, do func(*journal.Change, Stock) error) error {
	_, err := k.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		one, err := Find(c, oid)
		if err != nil {
			return "", err
		}
		if one.Status == store.Gone {
			return "", &lot.NotNow{Why: one.Code + " is gone: " + one.Why}
		}
		return oid, do(c, one)
	})
	return err
}

// Find reads a container within a change; [store.ErrNotFound] when there is none.
func Find(c *journal.Change, oid string) (Stock, error) {
	row, err := c.Stock(oid)
	if err != nil {
		return Stock{}, err
	}
	settings, err := c.Shop()
	if err != nil {
		return Stock{}, err
	}
	return asStock(row, settings.RoomC, c.Now)
}

func word(c *journal.Change, s Stock, w store.StockUpdate) error {
	return c.Record("stock word", func(entry int64) error { return c.AddStockWord(entry, s.ID, w) })
}

func move(c *journal.Change, s Stock, m store.StockMove, lotID int64) error {
	return c.Record("stock move", func(entry int64) error { return c.MoveStock(entry, s.ID, m, lotID) })
}

// MayUse refuses what a container or a jar holds when a delivery that went into it may not be used any more:
// what is mixed cannot be told apart.
func MayUse(c *journal.Change, in store.DeliveriesWhere, name string) error {
	list, err := c.Deliveries(in)
	if err != nil {
		return err
	}
	for _, d := range list {
		if err := stores.MayTake(d); err != nil {
			return caution.Problems{{Path: "grams", Text: fmt.Sprintf("%s holds %s of %s, which is %s: use another, and set this aside",
				name, d.Name, d.Label(), d.Status.Short())}}
		}
	}
	return nil
}

// Draw takes grams out of a container for a lot; below zero it puts them back.
func Draw(c *journal.Change, oid string, grams float64, lotID int64, note string) error {
	one, err := Find(c, oid)
	if err != nil {
		return err
	}
	if one.Status != store.InUse && grams > 0 {
		return caution.Problems{{Path: "grams", Text: one.Code + " is not to be used: " + one.Why}}
	}
	err = move(c, one, store.StockMove{What: store.Drawn, Change: -grams, Note: note}, lotID)
	if errors.Is(err, store.ErrEmpty) {
		return caution.Problems{
			{
				Path: "grams",
				Text: fmt.Sprintf(
					"by the books %s holds only %s g. Weigh the container, then the books agree with it.",
					one.Code,
					unit.Trim(one.Balance, 1),
				),
			},
		}
	}
	return err
}

// DrawStock takes some out of a container for something that is not a lot.
func (k *Keeper) DrawStock(ctx context.Context, act journal.Act, oid string, grams float64, note string) error {
	var p caution.Problems
	caution.Positive(&p, "grams", "what was taken", grams)
	if strings.TrimSpace(note) == "" {
		p.Add("note", "write what it was for")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error { return Draw(c, oid, grams, 0, strings.TrimSpace(note)) })
}

// SetStockStatus quarantines a container, frees it, or says that it is gone; why
// is always written.
func (k *Keeper) SetStockStatus(ctx context.Context, act journal.Act, oid string, status store.Status, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "status_why", Text: "write why"}}
	}
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error {
		if !slices.Contains(store.Statuses(), status) {
			return caution.Problems{{Path: "status_why", Text: "choose what becomes of it"}}
		}
		if status == store.Gone && one.Balance > 0 {
			if err := move(c, one, store.StockMove{What: store.Disposed, Change: -one.Balance, Note: why}, 0); err != nil {
				return err
			}
		}
		return word(c, one, store.StockUpdate{Status: status, How: string(status), Why: why})
	})
}

// DiluteStock brings a stock down to a lower strength with water that was
// weighed in.
func (k *Keeper) DiluteStock(ctx context.Context, act journal.Act, oid string, waterG float64) error {
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error {
		var p caution.Problems
		if err := one.OnlyLye(); err != nil {
			return err
		}
		caution.Positive(&p, "dilute_water", "the water", waterG)
		to := 0.0
		if one.Balance+waterG > 0 {
			to = one.Strength * one.Balance / (one.Balance + waterG)
		}
		if len(p) == 0 && to < caution.LyeStrength.Min {
			p.Add("dilute_water", "that leaves a lye of %s %%, too weak for a stock", unit.Trim(to, 1))
		}
		after := lye.Stock{Strength: to, KOH: one.Kind == document.KOH}
		if one.ML > 0 && len(p) == 0 {
			for _, b := range caution.Blocks(after.Fill(one.Balance+waterG, one.ML)) {
				p.Add("dilute_water", "%s", b.Text())
			}
		}
		if err := p.Err(); err != nil {
			return err
		}
		if err := move(c, one, store.StockMove{What: store.Watered, Change: waterG}, 0); err != nil {
			return err
		}
		return word(c, one, store.StockUpdate{Strength: &to, How: fmt.Sprintf("diluted with %s g of water", unit.Trim(waterG, 1))})
	})
}
