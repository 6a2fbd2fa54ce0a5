package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// GiveUp ends a lot that was started and will not be poured.
func (s *Shop) GiveUp(ctx context.Context, act journal.Act, oid, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why the lot is abandoned"}}
	}
	return s.onRun(ctx, act, oid, lot.ToAbandon, func(c *journal.Change, l *lot.Lot) error {
		return c.Record("abandoned", func(entry int64) error { return c.AddNote(entry, l.ID, store.Abandoned, why) })
	})
}

// NotWriter says that another device writes the run.
type NotWriter struct {
	Writer lot.Writer
}

func (e *NotWriter) Error() string {
	return fmt.Sprintf("%s writes this run on %s; nothing was recorded here", e.Writer.Who, e.Writer.Label)
}

// takeOverAfter is how long the writing device is silent before another may write
// without asking: it was put down, or its battery is flat.
const takeOverAfter = 30 * time.Minute

// onRun runs one act of make day. One device writes a run at a time; the first to
// write is it, another takes over by [Shop.TakeOver]. What the page had seen is
// checked by each act for its own subject, so that entries kept back while the
// connection was lost still find their place.
func (s *Shop) onRun(ctx context.Context, act journal.Act, oid string, what lot.Act, do lots.Use) error {
	return s.OnLotWhere(ctx, act, oid, what, func(c *journal.Change, l *lot.Lot) error {
		switch w := l.Writer; {
		case w.Device == c.DeviceID:
			return nil
		case w.Device != 0 && c.Now.Sub(l.Newest().Recorded) < takeOverAfter:
			return &NotWriter{w}
		}
		return nil
	}, func(c *journal.Change, l *lot.Lot) error {
		if err := do(c, l); err != nil || c.Last == 0 || l.Writer.Device == c.DeviceID {
			return err
		}
		return write(c, l)
	})
}

// write makes the device of the change the writing one.
func write(c *journal.Change, l *lot.Lot) error {
	return c.Record("writer", func(entry int64) error { return c.AddWriter(entry, l.ID) })
}

// TakeOver makes this device the one that writes the run.
func (s *Shop) TakeOver(ctx context.Context, act journal.Act, oid string) error {
	return s.OnLotUnseen(ctx, act, oid, lot.ToTick, func(c *journal.Change, l *lot.Lot) error {
		if l.Writer.Device == c.DeviceID {
			return nil
		}
		return write(c, l)
	})
}

// Writes reports whether a device may write a run without taking over.
func (s *Shop) Writes(l *lot.Lot, device string) bool {
	return l.Writer.Device == 0 || l.Writer.Token == device || s.Clock().Sub(l.Newest().Recorded) >= takeOverAfter
}

// Rescale makes all that is not weighed yet larger, in step with an item of which
// too much went in. What was weighed before comes up short of the new sheet and
// is topped up.
func (s *Shop) Rescale(ctx context.Context, act journal.Act, oid string, item plan.Key) error {
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *journal.Change, l *lot.Lot) error {
		if _, ok := l.Item(item); !ok {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no “%s” to rescale to", l.Code, item)}
		}
		r, err := l.RescaledTo(item)
		if err != nil {
			return atField("factor", err)
		}
		entry, err := c.Entry("rescale")
		if err != nil {
			return err
		}
		body, err := document.Encode(r)
		if err != nil {
			return err
		}
		return c.AddRescale(entry, l.ID, r, body)
	})
}

// atField gathers problems of a plan at one field of a page.
func atField(path string, err error) error {
	problems, ok := err.(caution.Problems)
	if !ok {
		return err
	}
	texts := make([]string, len(problems))
	for i, p := range problems {
		texts[i] = p.Text
	}
	return caution.Problems{{Path: path, Text: strings.Join(texts, "; ")}}
}

// Added is something that went into a pot unplanned: its weight, or level teaspoons of it, and the
// colour portion it went into, where it was one.
type Added struct {
	Name          string
	Grams, Spoons float64
	Portion       string
}

// AddExtra records what went in unplanned. A fat by its name counts in the superfat; spoons count
// as the shop, the recipe or the table has weighed them.
func (s *Shop) AddExtra(ctx context.Context, act journal.Act, oid string, added Added) error {
	name := strings.TrimSpace(added.Name)
	var p caution.Problems
	if name == "" || len(name) > 120 {
		p.Add("extra", "say what went in")
	}
	if amount := added.Grams + added.Spoons; !(amount > 0) || amount > 1e5 {
		p.Add("extra_grams", "say how much, more than 0 g")
	}
	if err := p.Err(); err != nil {
		return err
	}
	added.Name = name
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *journal.Change, l *lot.Lot) error { return addExtra(c, l, added, "extra_grams") })
}

// addExtra writes down what went into the pot besides what was planned; field is where its amount
// was typed.
func addExtra(c *journal.Change, l *lot.Lot, added Added, field string) error {
	x := lot.Extra{Name: added.Name, Grams: added.Grams}
	if added.Spoons > 0 {
		each, err := spoonOf(c, l, added.Name, field)
		if err != nil {
			return err
		}
		x.Grams += added.Spoons * each
	}
	for _, f := range append(fatsOf(l), fat.Reference()...) {
		if strings.EqualFold(f.Name, added.Name) || f.Slug == strings.ToLower(added.Name) {
			x.Name, x.SAP = f.Name, f.SAP
			break
		}
	}
	if added.Portion != "" {
		if !slices.ContainsFunc(l.Frozen.Formula.Portions, func(p recipe.Portion) bool { return p.Name == added.Portion }) {
			return caution.Problems{{Path: "extra_portion", Text: "choose one of the portions"}}
		}
		x.Name += ", into “" + added.Portion + "”"
	}
	return c.Record("extra", func(entry int64) error { return c.AddExtra(entry, l.ID, x) })
}

// spoonOf is what a level teaspoon of something weighs, in g: as the shop weighed it, else as the
// recipe of the lot has it, else by the table.
func spoonOf(c *journal.Change, l *lot.Lot, name, field string) (float64, error) {
	spoons, err := c.Spoons()
	if err != nil {
		return 0, err
	}
	for _, one := range spoons {
		if strings.EqualFold(one.Name, name) {
			return one.Grams, nil
		}
	}
	for _, u := range l.Frozen.Formula.Uses() {
		if strings.EqualFold(u.Name, name) && u.GramsPerTsp > 0 {
			return u.GramsPerTsp, nil
		}
	}
	if k, ok := additive.Find(name); ok && k.GramsPerTsp > 0 {
		return k.GramsPerTsp, nil
	}
	return 0, caution.Problems{{Path: field,
		Text: "nobody has weighed a spoon of " + name + " here: type its grams, or weigh a level teaspoon of it once in the stores"}}
}

func fatsOf(l *lot.Lot) []fat.Fat {
	var out []fat.Fat
	for _, s := range l.Frozen.Formula.Fats {
		out = append(out, s.Fat)
	}
	return out
}
