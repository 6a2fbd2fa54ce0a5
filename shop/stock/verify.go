package stock

import (
	"context"
	"fmt"
	"math"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Counted is what a weighing of a container says.
type Counted struct {
	Net     float64 // g in it by the scale
	Off     float64 // percent that the scale is away from the books
	Called  bool    // too far to pass without a word
	IfWater float64 // strength in percent if only water has left
}

// Count reads a weighing of a container, cap and all.
func (s Stock) Count(gross float64) Counted {
	c := Counted{Net: gross - s.Tare}
	if s.Balance > 0 {
		c.Off = 100 * (c.Net/s.Balance - 1)
	}
	c.Called = math.Abs(c.Off) > lye.Mismatch
	if c.Off < 0 && s.Kind != document.Fats {
		c.IfWater = lye.Evaporated(s.Strength, s.Balance, c.Net)
	}
	return c
}

// CountStock sets the books to what the scale says of a container. A mismatch
// over one percent needs a word; when it was water that left, the strength is
// rated anew.
func (k *Keeper) CountStock(ctx context.Context, act journal.Act, oid string, gross float64, water bool, why string) error {
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error {
		n := one.Count(gross)
		var p caution.Problems
		why = strings.TrimSpace(why)
		switch {
		case one.Tare == 0:
			p.Add("gross", "its empty weight is not known, so the scale cannot be read against the books")
		case n.Net < 0:
			p.Add("gross", "%s g is less than the empty container (%s g)", unit.Trim(gross, 1), unit.Trim(one.Tare, 1))
		case n.Called && why == "":
			p.Add(
				"why",
				"the scale is %s %% away from the books (%s g in place of %s g): write what happened",
				unit.Trim(n.Off, 1),
				unit.Trim(n.Net, 1),
				unit.Trim(one.Balance, 1),
			)
		case water && (n.IfWater == 0 || n.IfWater > caution.LyeStrength.Max):
			p.Add("water", "that much water cannot have left: the strength would be %s %%", unit.Trim(n.IfWater, 1))
		}
		if err := p.Err(); err != nil {
			return err
		}
		if err := move(c, one, store.StockMove{What: store.Counted, Change: n.Net - one.Balance, Note: why}, 0); err != nil {
			return err
		}
		if water {
			return word(c, one, store.StockUpdate{Strength: &n.IfWater, How: "water evaporated", Why: why})
		}
		return nil
	})
}

// Verified is what a density says of a stock.
type Verified struct {
	Density  float64 // g/ml
	Strength float64 // percent
	Off      float64 // points from what it is rated at
	ReRate   bool    // far enough to be rated anew
}

// Verify reads a density of the stock at a temperature.
func (s Stock) Verify(density, celsius float64) (Verified, error) {
	v := Verified{Density: density}
	var ok bool
	if v.Strength, ok = lye.ByDensity(density, celsius, s.Kind == document.KOH); !ok {
		var p caution.Problems
		p.Add(
			"density",
			"%s g/ml is no density of this lye; a %s %% solution has about %s at %s °C",
			unit.Trim(density, 3),
			unit.Trim(s.Strength, 0),
			unit.Fixed(s.Lye().Density(celsius), 3),
			unit.Trim(celsius, 0),
		)
		return v, p
	}
	v.Off = v.Strength - s.Strength
	v.ReRate = math.Abs(v.Off) > lye.ReRate
	return v, nil
}

// VerifyStock records a check by density; a stock that differs by more than
// half a point is rated anew.
func (k *Keeper) VerifyStock(ctx context.Context, act journal.Act, oid string, density, celsius float64) error {
	var p caution.Problems
	caution.Temperature.Check(&p, "at_c", "its temperature", celsius)
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error {
		if err := one.OnlyLye(); err != nil {
			return err
		}
		v, err := one.Verify(density, celsius)
		if err != nil {
			return err
		}
		w := store.StockUpdate{
			Celsius: &celsius,
			How: fmt.Sprintf(
				"density %s g/ml at %s °C says %s %%",
				unit.Fixed(density, 3),
				unit.Trim(celsius, 1),
				unit.Fixed(v.Strength, 1),
			),
		}
		if v.ReRate {
			w.Strength = &v.Strength
		}
		return word(c, one, w)
	})
}

// ReadStock notes the temperature of a container.
func (k *Keeper) ReadStock(ctx context.Context, act journal.Act, oid string, celsius float64) error {
	var p caution.Problems
	caution.Temperature.Check(&p, "celsius", "its temperature", celsius)
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *journal.Change, one Stock) error {
		return word(c, one, store.StockUpdate{Celsius: &celsius, How: "read"})
	})
}
