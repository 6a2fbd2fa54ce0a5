package stock

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"ashshelf/shop/document"
	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Filling is the filling of a container, with what the maker confirms.
type Filling struct {
	Kind string
	document.StockBody
	From  string // identity of the delivery that the alkali is out of
	Gear  bool   // gloves, goggles, fresh air
	Clear bool   // nothing is left on the bottom
}

// CheckFilling finds what stands against a filling of lye.
func CheckFilling(f Filling) caution.Problems {
	var p caution.Problems
	if f.Kind != document.NaOH && f.Kind != document.KOH {
		p.Add("kind", "choose sodium or potassium hydroxide; the two are never mixed in one jug")
	}
	b := lye.Batch{Stock: lye.Stock{Strength: f.Target, KOH: f.Kind == document.KOH}, Purity: f.Purity, Grams: f.AlkaliG + f.WaterG}
	b.Check(&p, "stock")
	checkContainer(&p, f.StockBody)
	if !slices.Contains(lye.Materials(), f.Material) {
		p.Add("material", "choose what the container is made of")
	} else if list := caution.Blocks(f.Material.Advise(0)); len(list) > 0 {
		p.Add("material", "%s", list[0].Text())
	}
	if f.ML > 0 {
		for _, c := range caution.Blocks(b.Fill(b.Grams, f.ML)) {
			p.Add("ml", "%s", c.Text())
		}
	}
	return p
}

func checkContainer(p *caution.Problems, b document.StockBody) {
	if strings.TrimSpace(b.Container) == "" {
		p.Add("container", "name the container, such as blue canister 1")
	}
	if b.ML < 0 || b.ML > 1e6 {
		p.Add("ml", "a container holds between nothing and 1000 l")
	}
	if b.Tare < 0 || b.Tare > 1e5 {
		p.Add("tare", "an empty container weighs between nothing and 100 kg")
	}
}

// FillStock records a stock of lye that was made, with the strength of what was
// really weighed.
func (k *Keeper) FillStock(ctx context.Context, act journal.Act, f Filling) (string, error) {
	p := CheckFilling(f)
	caution.Positive(&p, "alkali_g", "the alkali", f.AlkaliG)
	caution.Positive(&p, "water_g", "the water", f.WaterG)
	if !f.Gear {
		p.Add("gear", "goggles, gloves, long sleeves, fresh air: tick it when they are on")
	}
	if !f.Clear {
		p.Add("clear", "stir until nothing is left on the bottom, feel it with the spatula, then tick it")
	}
	if got := lye.Made(f.AlkaliG, f.WaterG, f.Purity); len(p) == 0 && (got > caution.LyeStrength.Max || got < caution.LyeStrength.Min) {
		p.Add(
			"alkali_g",
			"what was weighed comes to %s %%; a stock lies between %s and %s %%",
			unit.Trim(got, 1),
			unit.Trim(caution.LyeStrength.Min, 0),
			unit.Trim(caution.LyeStrength.Max, 0),
		)
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return k.fill(ctx, act, f.Kind, f.StockBody, f.AlkaliG+f.WaterG, []outOf{{f.From, f.AlkaliG, alkaliKey(f.Kind), "from"}})
}

// outOf is what a filling takes from a delivery, in g.
type outOf struct {
	delivery string
	grams    float64
	material plan.Key
	field    string
}

// alkaliKey is the material of a kind of lye.
func alkaliKey(kind string) plan.Key {
	if kind == document.KOH {
		return plan.KOHKey
	}
	return plan.NaOHKey
}

// FillFats records a blend of fats that was melted together. The shares of the
// blend hold grams as weighed and become percent; from are the deliveries that each is out of, empty where
// none was said.
func (k *Keeper) FillFats(ctx context.Context, act journal.Act, b document.StockBody, from []string) (string, error) {
	var p caution.Problems
	checkContainer(&p, b)
	total := b.Blend.Sum(func(fat.Fat) bool { return true })
	if len(b.Blend) == 0 || total <= 0 {
		p.Add("fats", "name the fats with their weights")
	}
	for i, one := range b.Blend {
		if one.Percent <= 0 {
			p.Add(fmt.Sprintf("fats[%d].percent", i), "type what was weighed, more than 0 g")
		}
		if slices.ContainsFunc(b.Blend[:i], func(x fat.Share) bool { return x.Fat.Key() == one.Fat.Key() }) {
			p.Add(fmt.Sprintf("fats[%d].fat", i), "%s is in it already", one.Fat.Name)
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	takes := make([]outOf, len(b.Blend))
	for i := range b.Blend {
		takes[i].grams, takes[i].material = b.Blend[i].Percent, plan.FatKey(b.Blend[i].Fat)
		takes[i].field = fmt.Sprintf("fats[%d].from", i)
		if i < len(from) {
			takes[i].delivery = from[i]
		}
		b.Blend[i].Percent *= 100 / total
	}
	return k.fill(ctx, act, document.Fats, b, total, takes)
}

func (k *Keeper) fill(
	ctx context.Context,
	act journal.Act,
	kind string,
	body document.StockBody,
	grams float64,
	takes []outOf,
) (string, error) {
	text, err := document.Encode(body)
	if err != nil {
		return "", err
	}
	return k.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		number, err := c.NextStockNumber()
		if err != nil {
			return "", err
		}
		entry, err := c.Entry("stock")
		if err != nil {
			return "", err
		}
		oid := journal.NewOID()
		id, err := c.AddStock(entry, oid, number, "J"+lot.Code(number), kind, text)
		if err != nil {
			return "", err
		}
		move, err := c.Entry("stock move")
		if err != nil {
			return "", err
		}
		for _, one := range takes {
			m := stores.FromKey(one.material, "")
			if err := stores.OutOf(c, one.material, m.Name, one.delivery, inventory.MG(one.grams), inventory.Filled,
				store.MoveOf{Stock: id}, one.field); err != nil {
				return "", err
			}
		}
		return oid, c.MoveStock(move, id, store.StockMove{What: store.Made, Change: grams}, 0)
	})
}
