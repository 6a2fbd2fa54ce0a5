package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/shop/stock"
	"ashshelf/shop/tracing"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/steep"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Weighed is a weight that somebody read off a scale.
type Weighed struct {
	Item     plan.Key
	Grams    float64
	Sure     bool // the maker has confirmed an odd weight
	Back     bool // taken back out
	How      lot.How
	Reading  int64       // number of the scale's reading
	From     string      // identity of the ingredient lot
	Then     string      // of the one that gives the rest when that one runs out
	Empty    bool        // it is empty now, whatever the books say
	Infusion string      // identity of the jar of infused oil that it is out of
	New      *lot.Bought // an ingredient lot that is new, in place of From
	Corrects int64       // the weighing it corrects, 0 for a first one
	Reason   string      // why it is corrected
}

// Weigh records an actual weight: one of several pours of an ingredient, or what
// is weighed back. A weight that looks like ounces typed for grams, or is far
// off, is asked about once; an order that is dangerous is stopped.
func (s *Shop) Weigh(ctx context.Context, act journal.Act, oid string, w Weighed) error {
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *journal.Change, l *lot.Lot) error {
		i, ok := l.Item(w.Item)
		if !ok {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no “%s” to weigh", l.Code, w.Item)}
		}
		for _, have := range l.Weighings {
			if have.Item == w.Item && have.ID > act.Seen {
				return &journal.Conflict{What: i.Name, Who: have.Who, When: have.Recorded}
			}
		}
		if err := plausible(l, i, w); err != nil {
			return err
		}
		return weigh(c, l, i, w)
	})
}

// plausible refuses what cannot be, and asks about what is odd.
func plausible(l *lot.Lot, i plan.Item, w Weighed) error {
	bad := func(format string, args ...any) error {
		return caution.Problems{{Path: "grams", Text: fmt.Sprintf(format, args...)}}
	}
	have := l.Actual()[i.Key]
	typed := unit.Trim(w.Grams, 2)
	switch {
	case w.Grams <= 0:
		return bad("type what the scale reads, more than 0 g")
	case w.Back && w.Grams > have+1e-6:
		return bad("%s g is more than the %s g that went in", typed, unit.Grams(have))
	case w.Corrects != 0:
		return correctable(l, w)
	case w.Back || w.Sure:
		return nil
	}
	rest := i.Target - have
	if oz, likely := run.Slip(rest, w.Grams); likely {
		return bad(
			"%s g is far from %s g. Did you read ounces? %s oz would be %s g. Type the unit (“%s oz”), or tick that %s g is right.",
			typed,
			unit.Grams(rest),
			typed,
			unit.Grams(oz),
			typed,
			typed,
		)
	}
	if l.State().Closed[i.Key] {
		return bad(
			"%s is weighed already: %s g. If this is more of it, tick that it is right; if that was misread, correct it.",
			i.Name,
			unit.Grams(have),
		)
	}
	if have+w.Grams > 2*i.Target || have == 0 && w.Grams < i.Target/2 && w.How != lot.ByDevice {
		return bad(
			"%s g is far from the %s g of the sheet. Check the scale and the unit, or tick that it is right.",
			typed,
			unit.Grams(i.Target),
		)
	}
	return nil
}

// weigh writes a weighing with all that hangs on it.
func weigh(c *journal.Change, l *lot.Lot, i plan.Item, w Weighed) error {
	if w.Corrects == 0 && !w.Back {
		if stop := run.StopsWeighing(l.Order(), l.State(), i); stop != nil {
			if !w.Sure || !run.Lifted(stop) {
				return caution.Problems{{Path: "grams", Text: stop.Text()}}
			}
			if err := deviation(c, l, lot.ToWeigh, stop.Reason, "said to be right as it stands"); err != nil {
				return err
			}
		}
	}
	grams := w.Grams
	if w.Back {
		grams = -grams
	}
	if err := drawFor(c, l, w, grams); err != nil {
		return err
	}
	if w.Infusion != "" && w.Corrects == 0 {
		jar, err := c.Infusion(w.Infusion)
		if err != nil {
			return err
		}
		if key, _ := i.Key.Fat(); key != jar.Fat {
			return caution.Problems{{Path: "from", Text: "that jar holds " + jar.Name + ", and this is " + i.Name}}
		}
		if grams > 0 {
			if err := tracing.MayPour(c, w.Infusion); err != nil {
				return err
			}
			if err := stock.MayUse(c, store.DeliveriesWhere{Jar: w.Infusion}, "the jar"); err != nil {
				return err
			}
		}
		if err := stock.Happened(c, w.Infusion, l.ID, steep.Event{What: steep.Used, Grams: grams}); err != nil {
			return err
		}
	}
	return putDown(c, l, i, w, grams)
}

// putDown writes grams of an item down, and takes them out of the deliveries that they are of.
func putDown(c *journal.Change, l *lot.Lot, i plan.Item, w Weighed, grams float64) error {
	how := w.How
	if how == "" {
		how = lot.Typed
	}
	if how != lot.ByDevice {
		w.Reading = 0
	}
	parts, err := partsOf(c, l, i, w, grams)
	if err != nil {
		return err
	}
	for _, part := range parts {
		entry, err := c.Correction("weighing", w.Corrects, strings.TrimSpace(w.Reason))
		if err != nil {
			return err
		}
		if err := c.AddWeighing(
			entry,
			l.ID,
			lot.Weighing{Item: i.Key, Target: i.Target, Actual: part.grams, How: how, Reading: w.Reading, From: lot.Bought{OID: part.from}},
		); err != nil {
			return err
		}
		if err := takes(c, l, w, entry, part); err != nil {
			return err
		}
	}
	return nil
}

// weighedPart is what one delivery gives of a weighing, in g.
type weighedPart struct {
	from  string
	grams float64
}

// partsOf says which deliveries a weighing comes from: the one that is named, and the next one when that runs
// out; what is corrected stays with its delivery, and what is weighed back goes where it came from last.
func partsOf(c *journal.Change, l *lot.Lot, i plan.Item, w Weighed, grams float64) ([]weighedPart, error) {
	if w.New != nil {
		from, err := bought(c, l, i, *w.New)
		return []weighedPart{{from, grams}}, err
	}
	if w.Corrects != 0 {
		for _, have := range l.Weighings {
			if have.ID == w.Corrects && w.From == "" {
				w.From = have.From.OID
			}
		}
		return []weighedPart{{w.From, grams}}, nil
	}
	if w.Infusion != "" {
		return []weighedPart{{"", grams}}, nil
	}
	if w.Back {
		return givenBack(l, i.Key, w.Grams), nil
	}
	if w.From == "" {
		return []weighedPart{{"", grams}}, nil
	}
	d, err := deliveryFor(c, l, i, w.From)
	if err != nil {
		return nil, err
	}
	if left := inventory.Grams(d.Left); d.Booked && w.Then != "" && w.Then != w.From && left < grams && left > 0 {
		if _, err := deliveryFor(c, l, i, w.Then); err != nil {
			return nil, err
		}
		return []weighedPart{{w.From, left}, {w.Then, inventory.Grams(inventory.MG(grams) - d.Left)}}, nil
	}
	return []weighedPart{{w.From, grams}}, nil
}

// deliveryFor reads a delivery that an item is weighed from; one of something else is refused, and one that may not
// be used.
func deliveryFor(c *journal.Change, l *lot.Lot, i plan.Item, oid string) (inventory.Delivery, error) {
	d, err := c.Delivery(oid)
	if err != nil {
		return d, err
	}
	m, err := stores.MaterialIn(c.Tx, inventory.KeyOf(l.Frozen.Formula, i.Key), i.Name)
	if err == nil && !m.Is(d.Item) && d.Item != i.Key.Ingredient() {
		err = caution.Problems{{Path: "from", Text: "that delivery is " + d.Name + ", and this is " + i.Name}}
	}
	if err == nil {
		err = stores.MayTake(d)
	}
	return d, err
}

// givenBack says where grams of an item go back to: to what it was weighed from, the last first.
func givenBack(l *lot.Lot, item plan.Key, grams float64) (out []weighedPart) {
	net := map[string]float64{}
	var order []string
	for _, w := range l.Weighings {
		if w.Item == item && !l.Corrected(w.ID) {
			net[w.From.OID] += w.Actual
			order = append(order, w.From.OID)
		}
	}
	for _, from := range slices.Backward(order) {
		if part := min(net[from], grams); part > 0 {
			out = append(out, weighedPart{from, -part})
			net[from], grams = net[from]-part, grams-part
		}
	}
	if grams > 1e-9 || len(out) == 0 {
		out = append(out, weighedPart{"", -grams})
	}
	return out
}

// takes moves what was weighed out of its delivery, or back; a correction moves the difference.
func takes(c *journal.Change, l *lot.Lot, w Weighed, entry int64, part weighedPart) error {
	of, mg := store.MoveOf{Lot: l.ID}, inventory.MG(part.grams)
	for _, have := range l.Weighings {
		if w.Corrects == 0 || have.ID != w.Corrects {
			continue
		}
		if have.From.OID == part.from {
			mg -= inventory.MG(have.Actual)
		} else if _, err := stores.TakeFor(c, have.From.OID, -inventory.MG(have.Actual), inventory.Weighed, of, w.Reason); err != nil {
			return err
		}
	}
	if _, err := stores.Take(c, part.from, entry, mg, inventory.Weighed, of, strings.TrimSpace(w.Reason)); err != nil {
		return err
	}
	if w.Empty && part.from == w.From && part.from != "" {
		return stores.Emptied(c, part.from, "empty at the pot of lot "+l.Code)
	}
	return nil
}

// bought notes an ingredient lot of a lot's item on the spot. A saponification value
// that the fat cannot have is refused: it would hide that the pot is lye-heavy.
func bought(c *journal.Change, l *lot.Lot, i plan.Item, b lot.Bought) (oid string, err error) {
	var p caution.Problems
	b.Supplier, b.Code = strings.TrimSpace(b.Supplier), strings.TrimSpace(b.Code)
	if b.Supplier == "" && b.Code == "" {
		p.Add("supplier", "name the supplier, or the code on the container")
	}
	p.Name("supplier", b.Supplier)
	p.Name("code", b.Code)
	if b.Received != "" {
		if _, err := time.Parse("2006-01-02", b.Received); err != nil {
			p.Add("received", "“%s” is not a day; write it like 2026-03-14", b.Received)
		}
	}
	if b.Purity != 0 {
		caution.Purity.Check(&p, "purity", "the purity", b.Purity)
	}
	if b.SAP != 0 {
		caution.SAPValue.Check(&p, "sap", "the saponification value", b.SAP)
		for _, f := range fatsOf(l) {
			if plan.FatKey(f) != i.Key.Ingredient() {
				continue
			}
			f.SAP = b.SAP
			if doubt, is := f.AdviseSAP(); is && (doubt.Level == caution.Block || doubt.Code == "fats.sap-naoh") && len(p) == 0 {
				p.Add("sap", "%s", doubt.Text())
			}
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	b.OID, b.Item, b.Name = journal.NewOID(), inventory.KeyOf(l.Frozen.Formula, i.Key), strings.TrimSuffix(i.Name, ", set apart")
	return b.OID, c.Record("ingredient lot", func(entry int64) error { return c.AddBought(entry, b) })
}

// drawFor takes what is weighed out of a container from its books; a correction
// takes or puts back the difference.
func drawFor(c *journal.Change, l *lot.Lot, w Weighed, grams float64) error {
	from := map[plan.Key]string{plan.StockKey: l.Frozen.Stock, plan.FatStockKey: l.Frozen.FatStock}[w.Item]
	if from == "" {
		return nil
	}
	if w.Corrects == 0 && grams > 0 { // what was drawn was drawn, and may be put right
		one, err := stock.Find(c, from)
		if err != nil {
			return err
		}
		if err := stock.MayUse(c, store.DeliveriesWhere{Stock: one.ID}, one.Code); err != nil {
			return err
		}
	}
	for _, have := range l.Weighings {
		if w.Corrects != 0 && have.ID == w.Corrects {
			grams -= have.Actual
		}
	}
	return stock.Draw(c, from, grams, l.ID, strings.TrimSpace(w.Reason))
}

func correctable(l *lot.Lot, w Weighed) error {
	if strings.TrimSpace(w.Reason) == "" {
		return caution.Problems{{Path: "reason", Text: "write why the weight is corrected; both stay on record"}}
	}
	for _, have := range l.Weighings {
		if have.ID == w.Corrects && have.Item == w.Item && !l.Corrected(have.ID) {
			return nil
		}
	}
	return caution.Problems{{Path: "grams", Text: "this weight was corrected already"}}
}
