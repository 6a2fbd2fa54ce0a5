package shop

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

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
func (s *Shop) onRun(ctx context.Context, act Act, oid string, what lot.Act, do func(*change, *lot.Lot) error) error {
	return s.onLotWhere(ctx, act, oid, what, func(c *change, l *lot.Lot) error {
		switch w := l.Writer; {
		case w.Device == c.device:
			return nil
		case w.Device != 0 && c.now.Sub(l.Newest().Recorded) < takeOverAfter:
			return &NotWriter{w}
		}
		return nil
	}, func(c *change, l *lot.Lot) error {
		if err := do(c, l); err != nil || c.last == 0 || l.Writer.Device == c.device {
			return err
		}
		return c.write(l)
	})
}

// write makes the device of the change the writing one.
func (c *change) write(l *lot.Lot) error {
	entry, err := c.entry("writer")
	if err != nil {
		return err
	}
	return c.AddWriter(entry, l.ID)
}

// TakeOver makes this device the one that writes the run.
func (s *Shop) TakeOver(ctx context.Context, act Act, oid string) error {
	return s.onLotWhere(ctx, act, oid, lot.ToTick, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		if l.Writer.Device == c.device {
			return nil
		}
		return c.write(l)
	})
}

// Writes reports whether a device may write a run without taking over.
func (s *Shop) Writes(l *lot.Lot, device string) bool {
	return l.Writer.Device == 0 || l.Writer.Token == device || s.Clock().Sub(l.Newest().Recorded) >= takeOverAfter
}

// Weighed is a weight that somebody read off a scale.
type Weighed struct {
	Item     string
	Grams    float64
	Sure     bool // the maker has confirmed an odd weight
	Back     bool // taken back out
	How      lot.How
	Reading  int64       // number of the scale's reading
	From     string      // identity of the ingredient lot
	New      *lot.Bought // an ingredient lot that is new, in place of From
	Corrects int64       // the weighing it corrects, 0 for a first one
	Reason   string      // why it is corrected
}

// Weigh records an actual weight: one of several pours of an ingredient, or what
// is weighed back. A weight that looks like ounces typed for grams, or is far
// off, is asked about once; an order that is dangerous is stopped.
func (s *Shop) Weigh(ctx context.Context, act Act, oid string, w Weighed) error {
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *change, l *lot.Lot) error {
		i, ok := l.Item(w.Item)
		if !ok {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no “%s” to weigh", l.Code, w.Item)}
		}
		for _, have := range l.Weighings {
			if have.Item == w.Item && have.ID > act.Seen {
				return &Conflict{What: i.Name, Who: have.Who, When: have.Recorded}
			}
		}
		if err := plausible(l, i, w); err != nil {
			return err
		}
		return c.weigh(l, i, w)
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
func (c *change) weigh(l *lot.Lot, i plan.Item, w Weighed) error {
	if w.Corrects == 0 && !w.Back {
		if stop := run.StopsWeighing(l.Order(), l.State(), i); stop != nil && !(w.Sure && run.Lifted(stop)) {
			return caution.Problems{{Path: "grams", Text: stop.Text()}}
		}
	}
	grams := w.Grams
	if w.Back {
		grams = -grams
	}
	if err := c.drawFor(l, w, grams); err != nil {
		return err
	}
	from := w.From
	if w.New != nil {
		var err error
		if from, err = c.bought(l, i, *w.New); err != nil {
			return err
		}
	}
	entry, err := c.correction("weighing", w.Corrects, strings.TrimSpace(w.Reason))
	if err != nil {
		return err
	}
	how := w.How
	if how == "" {
		how = lot.Typed
	}
	if how != lot.ByDevice {
		w.Reading = 0
	}
	return c.AddWeighing(
		entry,
		l.ID,
		lot.Weighing{Item: i.Key, Target: i.Target, Actual: grams, How: how, Reading: w.Reading, From: lot.Bought{OID: from}},
	)
}

// ingredient is the key under which ingredient lots of an item are kept: what is
// set apart of a fat comes from the same deliveries.
func ingredient(item string) string {
	key, _, _ := strings.Cut(item, ";for:")
	return key
}

// bought notes an ingredient lot of a lot's item on the spot. A saponification value
// that the fat cannot have is refused: it would hide that the pot is lye-heavy.
func (c *change) bought(l *lot.Lot, i plan.Item, b lot.Bought) (oid string, err error) {
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
			if "fat:"+f.Key() != ingredient(i.Key) {
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
	b.OID, b.Item, b.Name = newOID(), ingredient(i.Key), strings.TrimSuffix(i.Name, ", set apart")
	entry, err := c.entry("ingredient lot")
	if err != nil {
		return "", err
	}
	return b.OID, c.AddBought(entry, b)
}

// mostBought is how many ingredient lots of one ingredient are offered.
const mostBought = 6

// Bought returns the newest ingredient lots of an item.
func (r *Reader) Bought(ctx context.Context, item string) (out []lot.Bought, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Bought(ingredient(item), mostBought)
		return err
	})
	return out, err
}

// drawFor takes what is weighed out of a container from its books; a correction
// takes or puts back the difference.
func (c *change) drawFor(l *lot.Lot, w Weighed, grams float64) error {
	from := map[string]string{plan.StockKey: l.Frozen.Stock, plan.FatStockKey: l.Frozen.FatStock}[w.Item]
	if from == "" {
		return nil
	}
	for _, have := range l.Weighings {
		if w.Corrects != 0 && have.ID == w.Corrects {
			grams -= have.Actual
		}
	}
	return c.draw(from, grams, l.ID, strings.TrimSpace(w.Reason))
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
}

// Tick records that a step was done. An order that is dangerous is refused; what
// is merely odd needs a word why.
func (s *Shop) Tick(ctx context.Context, act Act, oid string, k Ticked) error {
	return s.onRun(ctx, act, oid, lot.ToTick, func(c *change, l *lot.Lot) error {
		k.Note = strings.TrimSpace(k.Note)
		step, ok := stepOf(l, k.Step)
		if !ok || step.Kind == run.Pour {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no step “%s” to tick", l.Code, k.Step)}
		}
		if l.Done()[k.Step] == !k.Undo {
			return k.doneBefore(l, step) // another page or a second press did it
		}
		if k.Undo {
			return c.tick(l, k)
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
			m := l.WhenToCombine(20, c.now)
			conditions.LyeC, conditions.FatsC = foretold(conditions.LyeC, m.LyeC), foretold(conditions.FatsC, m.FatsC)
		}
		if stop := run.StopsStep(l.Order(), l.State(), step, conditions); stop != nil {
			switch {
			case stop.Level == caution.Block:
				return caution.Problems{{Path: "step", Text: stop.Text()}}
			case k.Note == "":
				return caution.Problems{{Path: "note", Text: stop.Text()}}
			}
		}
		return c.tick(l, k)
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
	return &Conflict{What: "“" + step.Title + "”", Who: last.Who, When: last.Recorded}
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
			p.Add("note", "write why no more of it comes")
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
	case run.Milk:
		if !slices.Contains([]string{"fats", "batter", "lye"}, k.Onto) {
			p.Add("onto", "say where it goes")
		}
	}
	return p.Err()
}

// tick writes a step with the temperatures and the scent that came with it.
func (c *change) tick(l *lot.Lot, k Ticked) error {
	how := k.How
	if how == "" {
		how = lot.Typed
	}
	for i, v := range []*float64{k.LiquidC, k.LyeC, k.FatsC, k.RoomC} {
		if v == nil {
			continue
		}
		if err := c.temperature(l, lot.Temp{Of: lot.Pots()[i], C: *v, How: how}); err != nil {
			return err
		}
	}
	if k.Onto != "" && !k.Undo {
		k.Note = strings.TrimSpace("into the " + k.Onto + ". " + k.Note)
	}
	entry, err := c.entry("step")
	if err != nil {
		return err
	}
	step, _ := stepOf(l, k.Step)
	if err := c.AddTick(entry, l.ID, lot.Tick{Step: k.Step, Title: step.Title, Done: !k.Undo, Note: k.Note, Trace: k.Trace,
		Minutes: k.Minutes}); err != nil {
		return err
	}
	if step.Kind == run.Scent && k.Behaviour != additive.Unknown {
		return c.scentSeen(l, step.Item.Name, k)
	}
	return nil
}

func (c *change) temperature(l *lot.Lot, t lot.Temp) error {
	entry, err := c.entry("temperature")
	if err != nil {
		return err
	}
	return c.AddTemperature(entry, l.ID, t)
}

// ReadTemperature notes a temperature of a pot.
func (s *Shop) ReadTemperature(ctx context.Context, act Act, oid, of string, celsius float64, how lot.How) error {
	var p caution.Problems
	caution.Temperature.Check(&p, of+"_c", "the temperature", celsius)
	if !slices.Contains(lot.Pots(), of) {
		p.Add("of", "say which pot was read")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onRun(ctx, act, oid, lot.ToTick, func(c *change, l *lot.Lot) error {
		return c.temperature(l, lot.Temp{Of: of, C: celsius, How: how})
	})
}

// scentSeen writes how a scent behaved, and tells the stores when asked to.
func (c *change) scentSeen(l *lot.Lot, name string, k Ticked) error {
	entry, err := c.entry("scent seen")
	if err != nil {
		return err
	}
	if err := c.AddScentSeen(entry, l.ID, lot.ScentSeen{Scent: name, Behaviour: k.Behaviour, Note: k.Note}); err != nil || !k.Remember {
		return err
	}
	revisions, err := c.Latest(store.Scents)
	if err != nil {
		return err
	}
	for _, r := range revisions {
		have, err := asScent(r)
		if err != nil {
			return err
		}
		if !strings.EqualFold(have.Scent.Label(), name) && !strings.EqualFold(have.Scent.Name, name) {
			continue
		}
		body := have.ScentBody
		body.Scent.Observed = k.Behaviour
		line := fmt.Sprintf("Lot %s, %s: %s", l.Code, c.now.Format("2 Jan 2006"), k.Behaviour.Words())
		if k.Note != "" {
			line += ". " + k.Note
		}
		body.Notes = strings.TrimSpace(body.Notes + "\n" + line)
		text, err := encode(body)
		if err != nil {
			return err
		}
		if entry, err = c.entry(string(store.Scents)); err != nil {
			return err
		}
		return c.AddRevision(store.Scents, entry, r.OID, r.Number+1, r.Name, "", text)
	}
	return nil
}

// Rescale makes all that is not weighed yet larger, in step with an item of which
// too much went in. What was weighed before comes up short of the new sheet and
// is topped up.
func (s *Shop) Rescale(ctx context.Context, act Act, oid, item string) error {
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *change, l *lot.Lot) error {
		if _, ok := l.Item(item); !ok {
			return &lot.NotNow{Why: fmt.Sprintf("lot %s has no “%s” to rescale to", l.Code, item)}
		}
		r, err := l.RescaledTo(item)
		if err != nil {
			return atField("factor", err)
		}
		entry, err := c.entry("rescale")
		if err != nil {
			return err
		}
		body, err := encode(r)
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

// AddExtra records something that went in unplanned: a pinch more purple, or a
// handful of a fat, which then counts in the superfat.
func (s *Shop) AddExtra(ctx context.Context, act Act, oid, name string, grams float64) error {
	name = strings.TrimSpace(name)
	var p caution.Problems
	if name == "" || len(name) > 120 {
		p.Add("extra", "say what went in")
	}
	if !(grams > 0) || grams > 1e5 {
		p.Add("extra_grams", "say how much, more than 0 g")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onRun(ctx, act, oid, lot.ToWeigh, func(c *change, l *lot.Lot) error {
		x := lot.Extra{Name: name, Grams: grams}
		for _, f := range append(fatsOf(l), fat.Reference()...) {
			if strings.EqualFold(f.Name, name) || f.Slug == strings.ToLower(name) {
				x.Name, x.SAP = f.Name, f.SAP
				break
			}
		}
		entry, err := c.entry("extra")
		if err != nil {
			return err
		}
		return c.AddExtra(entry, l.ID, x)
	})
}

func fatsOf(l *lot.Lot) []fat.Fat {
	var out []fat.Fat
	for _, s := range l.Frozen.Formula.Fats {
		out = append(out, s.Fat)
	}
	return out
}

// Paper is a run that was noted on a printed sheet and is filled in afterwards.
type Paper struct {
	When    time.Time // of the pour
	Weights map[string]float64
	Sure    bool   // odd weights were looked at again
	Left    string // what was left out of the sheet, and why
	Minutes float64
	Pour    lot.Pour
}

// oldestPaper is how far back a sheet may be filled in.
const oldestPaper = 60 * 24 * time.Hour

// RecordPaper fills a whole sheet in at once, marked as noted on paper. All steps
// count as done but those that are said to be left out; weights are looked at as
// if they were typed at the bench.
func (s *Shop) RecordPaper(ctx context.Context, act Act, oid string, p Paper) error {
	return s.onRun(ctx, act, oid, lot.ToPour, func(c *change, l *lot.Lot) error {
		bad := checkPour(p.Pour)
		p.Left = strings.TrimSpace(p.Left)
		switch ago := c.now.Sub(p.When); {
		case p.When.IsZero():
			bad.Add("when", "say when it was poured")
		case ago < 0:
			bad.Add("when", "that is still to come; say when it was poured")
		case ago > oldestPaper:
			bad.Add("when", "that is more than %d days ago", int(oldestPaper.Hours()/24))
		}
		for _, sec := range l.Sheet() {
			for _, i := range sec.Items {
				g, ok := p.Weights[i.Key]
				if !ok {
					if p.Left == "" && !l.State().Closed[i.Key] {
						bad.Add("weight."+i.Key, "write what was weighed, or below why it was left out")
					}
					continue
				}
				if err := plausible(l, i, Weighed{Item: i.Key, Grams: g, Sure: p.Sure}); err != nil {
					bad.Add("weight."+i.Key, "%s", err.(caution.Problems)[0].Text)
				}
			}
		}
		if err := bad.Err(); err != nil {
			return err
		}
		c.when = p.When
		return s.paper(c, l, p)
	})
}

func (s *Shop) paper(c *change, l *lot.Lot, p Paper) error {
	done := l.Done()
	for _, step := range run.Steps(l.Order()) {
		g, weighed := p.Weights[step.Item.Key]
		switch {
		case step.Kind == run.Pour || step.After || done[step.Key]:
		case step.Kind == run.Weigh && weighed:
			if err := c.drawFor(l, Weighed{Item: step.Item.Key}, g); err != nil {
				return err
			}
			entry, err := c.entry("weighing")
			if err != nil {
				return err
			}
			if err := c.AddWeighing(entry, l.ID, lot.Weighing{Item: step.Item.Key, Target: step.Item.Target, Actual: g,
				How: lot.OnPaper}); err != nil {
				return err
			}
		case step.Item.Key != "" && !weighed && !l.State().Closed[step.Item.Key]: // left out
		case step.Must && step.Kind != run.Weigh:
			k := Ticked{Step: step.Key, Note: "noted on paper", How: lot.OnPaper}
			switch step.Kind {
			case run.Trace:
				k.Trace, k.Minutes = p.Pour.Trace, p.Minutes
			case run.Warm:
				k.LyeC, k.FatsC, k.RoomC = p.Pour.LyeC, p.Pour.FatsC, p.Pour.RoomC
			}
			if err := c.tick(l, k); err != nil {
				return err
			}
		}
	}
	after, err := s.lotIn(c.Tx, l.OID)
	if err != nil {
		return err
	}
	p.Pour.Skipped = p.Left
	return c.pour(after, p.Pour)
}
