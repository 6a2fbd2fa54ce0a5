package tracing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/stock"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/recall"
	"ashshelf/soap/trace"
	"ashshelf/store"
)

// Recall is a recall, or a drill, with the score of every lot.
type Recall struct {
	store.Recall
	Lots []recall.Lot // oldest first
	Row  map[string]store.Named
}

// Score adds up its lots.
func (r Recall) Score() (sum recall.Score) {
	for _, l := range r.Lots {
		sum = sum.Plus(l.Score())
	}
	return sum
}

// Took is how long it ran, or has run.
func (r Recall) Took(now time.Time) time.Duration {
	if !r.Ended.IsZero() {
		now = r.Ended
	}
	return now.Sub(r.Began)
}

// Owing are the departures to buyers who are known and still have bars, with how many.
type Owing struct {
	recall.Went
	Lot, Code string
	With      int
}

// Owing lists them, by buyer.
func (r Recall) Owing() (out []Owing) {
	for _, l := range r.Lots {
		for _, w := range l.Went {
			if n := l.With(w.Entry); w.Known() && n > 0 {
				out = append(out, Owing{w, l.OID, l.Code, n})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Owing) int { return strings.Compare(strings.ToLower(a.Buyer), strings.ToLower(b.Buyer)) })
	return out
}

// Begin begins a recall, or a drill of one, of all lots that a subject is in, and returns its identity. A recall
// blocks what is left: deliveries, the container, and the bars of every lot. complaint is the identity of the one
// that led to it; empty for none.
func (r *Tracer) Begin(ctx context.Context, act journal.Act, s Subject, why string, drill bool, complaint string) (string, error) {
	if why = strings.TrimSpace(why); why == "" {
		return "", caution.Problems{{Path: "why", Text: "write why, such as what the supplier wrote"}}
	}
	return r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		found, err := TraceIn(c.Tx, s)
		if err != nil {
			return "", err
		}
		one := store.Recall{OID: journal.NewOID(), Drill: drill, Kind: s.Kind, Of: s.Of, Name: found.Name, Why: why, Shares: map[int64]int64{}}
		for _, l := range found.Lots() {
			one.Lots, one.Shares[l.ID] = append(one.Lots, l.ID), l.MG
		}
		if len(one.Lots) == 0 {
			return "", caution.Problems{{Path: "why", Text: "nothing of it went into a lot: there is nothing to call back"}}
		}
		if one.Number, err = c.NextRecall(); err != nil {
			return "", err
		}
		if err := c.Record("recall", func(entry int64) error {
			_, err := c.AddRecall(entry, one)
			return err
		}); err != nil {
			return "", err
		}
		if !drill {
			if err := r.block(c, found, fmt.Sprintf("recall %d: %s", one.Number, why)); err != nil {
				return "", err
			}
		}
		if complaint != "" {
			if err := wordOn(c, complaint, "recalled", fmt.Sprintf("%s %d", recallWord(drill), one.Number)); err != nil {
				return "", err
			}
		}
		return one.OID, nil
	})
}

func recallWord(drill bool) string {
	if drill {
		return "drill"
	}
	return "recall"
}

// block keeps back what is left of a subject, in deliveries and containers, and every lot that it is in.
func (r *Tracer) block(c *journal.Change, found Trace, why string) error {
	for _, step := range append(slices.Clone(found.Start), found.To...) {
		switch step.Kind {
		case trace.Delivery:
			if err := BlockDelivery(c, step.ID, inventory.Recalled, why); err != nil {
				return err
			}
		case trace.Stock:
			one, err := stock.Find(c, step.OID)
			if err != nil {
				return err
			}
			if one.Status != store.InUse {
				continue
			}
			if err := c.Record("stock word", func(entry int64) error {
				return c.AddStockWord(entry, step.ID, store.StockUpdate{Status: store.Quarantine, Why: why})
			}); err != nil {
				return err
			}
		}
	}
	if found.Kind == "scent" {
		deliveries, err := c.Deliveries(store.DeliveriesWhere{Left: true})
		if err != nil {
			return err
		}
		for _, d := range deliveries {
			if inventory.SameName(d.Name, found.Of) {
				if err := BlockDelivery(c, d.ID, inventory.Recalled, why); err != nil {
					return err
				}
			}
		}
	}
	for _, step := range found.Lots() {
		if err := r.reader.ActOn(c, step.OID, lot.ToMark, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
			if _, is := l.MarkedNow()[lot.Recalled]; is {
				return nil
			}
			return c.Record("mark", func(entry int64) error {
				return c.AddMark(entry, l.ID, lot.Mark{Mark: lot.Recalled, On: true, Why: why})
			})
		}); err != nil {
			return err
		}
	}
	return nil
}

// BlockDelivery writes whether a delivery may be used.
func BlockDelivery(c *journal.Change, id int64, status inventory.Status, why string) error {
	return c.Record("delivery word", func(entry int64) error {
		return c.AddDeliveryWord(entry, id, store.DeliveryWord{Status: &status, Why: why})
	})
}

// MayPour refuses the oil of a jar that is called back.
func MayPour(c *journal.Change, jar string) error {
	list, err := c.Recalls("")
	for _, one := range list {
		if one.Kind == string(trace.Jar) && one.Of == jar && !one.Drill && one.Ended.IsZero() {
			return caution.Problems{{Path: "grams", Text: fmt.Sprintf("the jar is called back by recall %d: set it aside", one.Number)}}
		}
	}
	return err
}

// Recalls are all recalls and drills, the newest first, without their lots.
func (r *Tracer) Recalls(ctx context.Context) (out []Recall, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		list, err := tx.Recalls("")
		for _, one := range list {
			full, err := scored(tx, one)
			if err != nil {
				return err
			}
			out = append(out, full)
		}
		return err
	})
	return out, err
}

// Recall is a recall with its score.
func (r *Tracer) Recall(ctx context.Context, oid string) (out Recall, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = recallIn(tx, oid)
		return err
	})
	return out, err
}

func recallIn(tx *store.Tx, oid string) (Recall, error) {
	list, err := tx.Recalls(oid)
	if err == nil && (len(list) == 0 || oid == "") {
		err = fmt.Errorf("recall %s: %w", oid, store.ErrNotFound)
	}
	if err != nil {
		return Recall{}, err
	}
	return scored(tx, list[0])
}

func scored(tx *store.Tx, one store.Recall) (out Recall, err error) {
	out = Recall{Recall: one, Row: map[string]store.Named{}}
	if out.Lots, err = tx.Bars(one.Lots); err != nil {
		return out, err
	}
	moves, err := tx.RecallMoves(one.ID)
	if err != nil {
		return out, err
	}
	places := make([]trace.Place, len(one.Lots))
	for i, id := range one.Lots {
		out.Lots[i].Moves, places[i] = moves[id], trace.Place{Kind: trace.Lot, ID: id}
	}
	names, err := tx.Names(places)
	for _, n := range names {
		out.Row[n.OID] = n
	}
	return out, err
}

// Note writes what became of bars of a lot in a recall: they came back, were destroyed, or are used up. In a recall,
// what is destroyed in the house leaves the lot's books; a drill leaves them as they are.
func (r *Tracer) Note(ctx context.Context, act journal.Act, oid, lotOID string, m recall.Move) error {
	var p caution.Problems
	if !slices.Contains(recall.Whats(), m.What) {
		p.Add("what", "choose what became of them")
	} else if !slices.Contains(m.What.Pools(), m.Pool) {
		p.Add("pool", "bars from there are not %s", m.What.Words())
	}
	if m.Bars < 1 {
		p.Add("bars", "say how many, 1 or more")
	}
	m.Note = strings.TrimSpace(m.Note)
	p.Name("note", m.Note)
	if err := p.Err(); err != nil {
		return err
	}
	_, err := r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		one, err := recallIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if !one.Ended.IsZero() {
			return "", &lot.NotNow{Why: "it is ended: open it again first"}
		}
		i := slices.IndexFunc(one.Lots, func(l recall.Lot) bool { return l.OID == lotOID })
		if i < 0 {
			return "", caution.Problems{{Path: "lot", Text: "this lot is not in the recall"}}
		}
		if have := one.Lots[i].Takes(m.Pool, m.Of); m.Bars > have {
			return "", caution.Problems{{Path: "bars", Text: fmt.Sprintf("only %d are there", have)}}
		}
		if !one.Drill && m.Pool == recall.House {
			return oid, r.destroy(c, lotOID, m.Bars, strings.TrimSpace(fmt.Sprintf("destroyed in recall %d. %s", one.Number, m.Note)))
		}
		return oid, c.Record("recall note", func(entry int64) error { return c.AddRecallMove(entry, one.ID, one.Recall.Lots[i], m) })
	})
	return err
}

// destroy takes bars of a lot out of the house: free ones first, then those that are labelled or put by.
func (r *Tracer) destroy(c *journal.Change, oid string, bars int, note string) error {
	return r.reader.ActOn(c, oid, lot.ToHold, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
		for _, k := range l.Cut.Kinds() {
			n := min(bars, l.Balance[k])
			if n == 0 {
				continue
			}
			bars -= n
			if err := unbind(c, l, k, n-(l.Balance[k]-l.BoundOf(k)), note); err != nil {
				return err
			}
			if err := c.Record("move", func(entry int64) error {
				return c.AddMove(entry, l.ID, lot.Move{Kind: k, Reason: ledger.Spoiled, Change: -n, Note: note})
			}); err != nil {
				return err
			}
			if err := c.ChangeBars(l.ID, k, -n); err != nil {
				return err
			}
		}
		return nil
	})
}

// unbind frees so many bars of a kind, none when there are none to free.
func unbind(c *journal.Change, l *lot.Lot, k ledger.Kind, bars int, note string) error {
	for _, b := range l.Bound {
		n := min(bars, b.Bars)
		if b.Kind != k || n <= 0 {
			continue
		}
		bars -= n
		to := int64(0)
		if b.For != "" {
			list, err := c.Reservations(b.For)
			if err != nil {
				return err
			}
			to = list[0].ID
		}
		if err := c.Record("binding", func(entry int64) error {
			return c.Bind(entry, l.ID, k, lot.Left, b.Product, to, -n, note)
		}); err != nil {
			return err
		}
	}
	return nil
}

// End ends a recall once every bar is accounted for, and a drill when it is done; or opens it again.
func (r *Tracer) End(ctx context.Context, act journal.Act, oid string, again bool, note string) error {
	_, err := r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		one, err := recallIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if one.Ended.IsZero() == again {
			return oid, nil // it stands so already
		}
		what := "ended"
		if again {
			what = "opened again"
		} else if s := one.Score(); !one.Drill && !s.Whole() {
			return "", caution.Problems{{Path: "note", Text: fmt.Sprintf("%d bars are not accounted for yet", s.Made-s.Accounted())}}
		}
		return oid, c.Record("recall word", func(entry int64) error { return c.AddRecallWord(entry, one.ID, what, strings.TrimSpace(note)) })
	})
	return err
}

// ComplaintKinds are what people complain of, with their words.
func ComplaintKinds() [][2]string {
	return [][2]string{
		{"skin", "a rash, or skin that burns"}, {"soft", "it is soft or slimy"}, {"crumbles", "it crumbles or cracks"},
		{"spots", "orange spots, or it smells old"}, {"smell", "the scent"}, {"other", "something else"},
	}
}

// Complain writes a complaint. code is what stands on the bar, empty where nobody knows it.
func (r *Tracer) Complain(ctx context.Context, act journal.Act, k store.Complaint, code string) (string, error) {
	k.Said, k.From = strings.TrimSpace(k.Said), strings.Join(strings.Fields(k.From), " ")
	var p caution.Problems
	if !slices.ContainsFunc(ComplaintKinds(), func(one [2]string) bool { return one[0] == k.Kind }) {
		p.Add("kind", "choose what it is about")
	}
	if k.Said == "" {
		p.Add("said", "write what she says, in her words")
	}
	p.Name("from", k.From)
	number := 0
	if code = strings.TrimSpace(code); code != "" {
		var err error
		if number, err = lot.ParseCode(code); err != nil {
			p.Add("code", "%s", err.Error())
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		k.OID = journal.NewOID()
		add := func(id int64) error {
			return c.Record("complaint", func(entry int64) error { return c.AddComplaint(entry, id, k) })
		}
		if number == 0 {
			return k.OID, add(0)
		}
		heads, err := c.LotHeads(store.LotsWhere{Number: number})
		if err != nil {
			return "", err
		}
		if len(heads) == 0 {
			return "", caution.Problems{{Path: "code", Text: "there is no lot “" + code + "”"}}
		}
		return k.OID, r.reader.ActOn(c, heads[0].OID, lot.ToNote, lots.Unchecked, func(_ *journal.Change, l *lot.Lot) error { return add(l.ID) })
	})
}

// wordOn writes what was done about a complaint.
func wordOn(c *journal.Change, oid, what, text string) error {
	list, err := c.Complaints(oid, 1)
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("complaint %s: %w", oid, store.ErrNotFound)
	}
	if err != nil {
		return err
	}
	return c.Record("complaint word", func(entry int64) error { return c.AddComplaintWord(entry, list[0].ID, what, text) })
}

// Answer writes what was done about a complaint, or how it ended; held puts its lot on hold with it.
func (r *Tracer) Answer(ctx context.Context, act journal.Act, oid, what, text string) error {
	var p caution.Problems
	if !slices.Contains([]string{"done", "held", "ended"}, what) {
		p.Add("what", "choose what was done")
	}
	if text = strings.TrimSpace(text); text == "" {
		p.Add("text", "write it down")
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if err := wordOn(c, oid, what, text); err != nil {
			return "", err
		}
		list, err := c.Complaints(oid, 1)
		if err != nil || list[0].Lot == "" {
			if err == nil && what == "held" {
				err = caution.Problems{{Path: "what", Text: "nobody knows the lot: there is nothing to hold"}}
			}
			return oid, err
		}
		if what != "held" {
			return oid, r.reader.ActOn(c, list[0].Lot, lot.ToNote, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
				return c.Record("note", func(entry int64) error {
					return c.AddNote(entry, l.ID, store.Remark, fmt.Sprintf("Complaint %d, %s: %s", list[0].Number, what, text))
				})
			})
		}
		return oid, r.reader.ActOn(c, list[0].Lot, lot.ToHold, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
			return c.Record("hold", func(entry int64) error {
				return c.AddHold(entry, l.ID, true, fmt.Sprintf("complaint %d: %s", list[0].Number, text))
			})
		})
	})
	return err
}

// Complaints are the newest complaints, or the one of an identity.
func (r *Tracer) Complaints(ctx context.Context, oid string) (out []store.Complaint, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Complaints(oid, mostComplaints)
		return err
	})
	if err == nil && oid != "" && len(out) == 0 {
		err = fmt.Errorf("complaint %s: %w", oid, store.ErrNotFound)
	}
	return out, err
}

// mostComplaints is how many are listed.
const mostComplaints = 200
