package shop

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Ticked is a step of the run sheet that was done, left out or taken back.
type Ticked struct {
	Step    string
	Undo    bool
	Note    string // what was seen; why it is left out
	Trace   string
	Minutes float64
	LiquidC *float64
	LyeC    *float64
	FatsC   *float64
	RoomC   *float64
	Onto    string  // where milk went
	CheckG  float64 // a known weight on the scale
	ReadsG  float64 // what the scale showed of it
	// Behaviour is how a scent behaved; with Remember the stores learn it.
	Behaviour additive.Behaviour
	Remember  bool
	How       lot.How // of the temperatures
	// Grams or level Spoons of what was stirred in by eye.
	Grams, Spoons float64
}

// Tick records that a step was done. An order that is dangerous is refused; what
// is merely odd needs a word why.
func (s *Shop) Tick(ctx context.Context, act journal.Act, oid string, k Ticked) error {
	return s.onRun(ctx, act, oid, lot.ToTick, func(c *journal.Change, l *lot.Lot) error {
		k.Note = strings.TrimSpace(k.Note)
		step, ok := stepOf(l, k.Step)
		if !ok || step.Kind == run.Pour {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no step “%s” to tick", l.Code, k.Step)}
		}
		if l.Done()[k.Step] == !k.Undo {
			return k.doneBefore(l, step) // another page or a second press did it
		}
		if k.Undo {
			return tick(c, l, k)
		}
		if step.Kind == run.Check {
			if err := checkScale(&k, l.Frozen.Scale); err != nil {
				return err
			}
		}
		if err := checkTick(step, k); err != nil {
			return err
		}
		conditions := run.Conditions{
			LiquidC: k.LiquidC,
			LyeC:    latestOf(k.LyeC, l.Warmth("lye")),
			FatsC:   latestOf(k.FatsC, l.Warmth("fats")),
			Onto:    k.Onto,
		}
		if step.Kind == run.Meet {
			m := l.WhenToCombine(20, c.Now)
			conditions.LyeC, conditions.FatsC = foretold(conditions.LyeC, m.LyeC), foretold(conditions.FatsC, m.FatsC)
		}
		if stop := run.StopsStep(l.Order(), l.State(), step, conditions); stop != nil {
			switch {
			case stop.Level == caution.Block:
				return caution.Problems{{Path: "step", Text: stop.Text()}}
			case k.Note == "":
				return caution.Problems{{Path: "note", Text: stop.Text()}}
			}
			if err := deviation(c, l, lot.ToTick, stop.Reason, k.Note); err != nil {
				return err
			}
		}
		return tick(c, l, k)
	})
}

// doneBefore is what becomes of a tick of what is ticked already: nothing, unless it says
// something that would be lost.
func (k Ticked) doneBefore(l *lot.Lot, step run.Step) error {
	var last lot.Tick
	for _, t := range l.Ticks {
		if t.Step == k.Step {
			last = t
		}
	}
	same := func(said, kept string) bool { return said == "" || said == kept || strings.HasSuffix(kept, said) }
	if same(k.Note, last.Note) && same(k.Trace, last.Trace) && (k.Minutes == 0 || k.Minutes == last.Minutes) {
		return nil
	}
	return &journal.Conflict{What: "“" + step.Title + "”", Who: last.Who, When: last.Recorded}
}

// mostOffScale is how far, in percent, a scale may be off a known weight.
const mostOffScale = 0.3

// checkScale reads the check of a scale against a known weight into the note of
// its step; a scale that is off needs a word.
func checkScale(k *Ticked, step float64) error {
	var p caution.Problems
	caution.Positive(&p, "check_g", "the known weight", k.CheckG)
	caution.Positive(&p, "reads_g", "what the scale reads", k.ReadsG)
	off := math.Abs(k.ReadsG - k.CheckG)
	if len(p) == 0 && off > math.Max(k.CheckG*mostOffScale/100, 2*step) && k.Note == "" {
		p.Add(
			"note",
			"the scale is %s g off: level it, change its battery, or use another; to weigh on it all the same, write why",
			unit.Trim(off, 2),
		)
	}
	k.Note = strings.TrimSuffix(fmt.Sprintf("%s g showed %s g. %s", unit.Trim(k.CheckG, 2), unit.Trim(k.ReadsG, 2), k.Note), ". ")
	return p.Err()
}

// stepOf finds a step of the lot's run sheet.
func stepOf(l *lot.Lot, key string) (run.Step, bool) {
	for _, s := range run.Steps(l.Order()) {
		if s.Key == key {
			return s, true
		}
	}
	return run.Step{}, false
}

func latestOf(said, read *float64) *float64 {
	if said != nil {
		return said
	}
	return read
}

// foretold is what a pot that was once read should be at by now.
func foretold(read *float64, now float64) *float64 {
	if read == nil {
		return nil
	}
	return &now
}

// checkTick finds what a step needs and was not told.
func checkTick(step run.Step, k Ticked) error {
	var p caution.Problems
	for field, v := range map[string]*float64{"liquid_c": k.LiquidC, "lye_c": k.LyeC, "fats_c": k.FatsC, "room_c": k.RoomC} {
		if v != nil {
			caution.Temperature.Check(&p, field, "the temperature", *v)
		}
	}
	switch step.Kind {
	case run.Weigh:
		if k.Note == "" {
			p.Add("note", "write why it is left short")
		}
	case run.Trace:
		if !slices.Contains(lot.Traces(), k.Trace) {
			p.Add("trace", "say how thick the batter is")
		}
		if k.Minutes < 0 || k.Minutes > 24*60 {
			p.Add("minutes", "say how many minutes it took, at most a day")
		}
	case run.Scent:
		if k.Behaviour != additive.Unknown && !k.Behaviour.Valid() {
			p.Add("behaviour", "choose how it behaved")
		}
	case run.Warm:
		if k.Note == "" && (k.LyeC == nil || k.FatsC == nil) {
			p.Add("lye_c", "read both pots, or write why not")
		}
	case run.Eye:
		if k.Grams+k.Spoons == 0 && k.Note == "" {
			p.Add("grams", "weigh or spoon what went in, or write why nobody knows")
		}
	case run.Milk:
		if !slices.Contains([]string{"fats", "batter", "lye"}, k.Onto) {
			p.Add("onto", "say where it goes")
		}
	}
	return p.Err()
}

// tick writes a step with the temperatures and the scent that came with it.
func tick(c *journal.Change, l *lot.Lot, k Ticked) error {
	how := k.How
	if how == "" {
		how = lot.Typed
	}
	for i, v := range []*float64{k.LiquidC, k.LyeC, k.FatsC, k.RoomC} {
		if v == nil {
			continue
		}
		if err := temperature(c, l, lot.Temp{Of: lot.Pots()[i], C: *v, How: how}); err != nil {
			return err
		}
	}
	if k.Onto != "" && !k.Undo {
		k.Note = strings.TrimSpace("into the " + k.Onto + ". " + k.Note)
	}
	entry, err := c.Entry("step")
	if err != nil {
		return err
	}
	step, _ := stepOf(l, k.Step)
	if err := c.AddTick(entry, l.ID, lot.Tick{Step: k.Step, Title: step.Title, Done: !k.Undo, Note: k.Note, Trace: k.Trace,
		Minutes: k.Minutes}); err != nil {
		return err
	}
	if u, ok := l.Order().EyeUse(step); ok && !k.Undo && k.Grams+k.Spoons > 0 {
		return addExtra(c, l, Added{Name: u.Name, Grams: k.Grams, Spoons: k.Spoons, Portion: u.Portion}, "grams")
	}
	if step.Kind == run.Scent && k.Behaviour != additive.Unknown {
		return scentSeen(c, l, step.Item.Name, k)
	}
	return nil
}

func temperature(c *journal.Change, l *lot.Lot, t lot.Temp) error {
	return c.Record("temperature", func(entry int64) error { return c.AddTemperature(entry, l.ID, t) })
}

// ReadTemperature notes a temperature of a pot.
func (s *Shop) ReadTemperature(ctx context.Context, act journal.Act, oid, of string, celsius float64, how lot.How) error {
	var p caution.Problems
	caution.Temperature.Check(&p, of+"_c", "the temperature", celsius)
	if !slices.Contains(lot.Pots(), of) {
		p.Add("of", "say which pot was read")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onRun(ctx, act, oid, lot.ToTick, func(c *journal.Change, l *lot.Lot) error {
		return temperature(c, l, lot.Temp{Of: of, C: celsius, How: how})
	})
}

// scentSeen writes how a scent behaved, and tells the stores when asked to.
func scentSeen(c *journal.Change, l *lot.Lot, name string, k Ticked) error {
	entry, err := c.Entry("scent seen")
	if err != nil {
		return err
	}
	if err := c.AddScentSeen(entry, l.ID, lot.ScentSeen{Scent: name, Behaviour: k.Behaviour, Note: k.Note}); err != nil || !k.Remember {
		return err
	}
	at, body, ok, err := scentCalled(c, l, name)
	if err != nil {
		return err
	}
	if !ok {
		return caution.Problems{{Path: "remember",
			Text: "the stores keep the oils of a mixed bottle and not the bottle: the record alone keeps how it behaved"}}
	}
	body.Scent.Observed = k.Behaviour
	line := fmt.Sprintf("Lot %s, %s: %s", l.Code, c.Now.Format("2 Jan 2006"), k.Behaviour.Words())
	if k.Note != "" {
		line += ". " + k.Note
	}
	body.Notes = strings.TrimSpace(body.Notes + "\n" + line)
	text, err := document.Encode(body)
	if err != nil {
		return err
	}
	if entry, err = c.Entry(string(store.Scents)); err != nil {
		return err
	}
	if at.OID == "" { // it stood in the recipe alone until now
		at.OID, at.Name = journal.NewOID(), body.Scent.Label()
		if err := c.AddDocument(store.Scents, entry, at.OID, ""); err != nil {
			return err
		}
	}
	return c.AddRevision(store.Scents, entry, at.OID, at.Number+1, at.Name, "", text)
}

// scentCalled finds a scent of a lot in the stores by its name, or makes a material of what the lot's
// recipe says of it when it stands there alone. ok is false when it is neither.
func scentCalled(c *journal.Change, l *lot.Lot, name string) (at store.Revision, body document.ScentBody, ok bool, err error) {
	called := func(one additive.Scent) bool {
		return strings.EqualFold(one.Label(), name) || strings.EqualFold(one.Name, name)
	}
	revisions, err := c.Latest(store.Scents)
	if err != nil {
		return at, body, false, err
	}
	for _, r := range revisions {
		have, err := catalog.AsScent(r)
		if err != nil {
			return at, body, false, err
		}
		if called(have.Scent) {
			return r, have.ScentBody, true, nil
		}
	}
	if blend := l.Frozen.Formula.Scent; blend != nil {
		for _, part := range blend.Parts {
			if called(part.Scent) {
				return at, document.ScentBody{Scent: part.Scent}, true, nil
			}
		}
	}
	return at, body, false, nil
}
