package shop

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Report is trouble as it is reported.
type Report struct {
	Kind  trouble.Kind
	Text  string
	Way   string   // key of the way that is gone; empty when none is chosen yet
	Blame []string // subjects that may be the cause
}

// FileTrouble files an incident with a lot and everything that may have been its
// cause, and lets the lot follow: what is not safe is held at once, and a way out
// decides what becomes of it.
func (s *Shop) FileTrouble(ctx context.Context, act Act, oid string, r Report) error {
	var p caution.Problems
	r.Text = strings.TrimSpace(r.Text)
	if !r.Kind.Valid() {
		p.Add("kind", "choose what it is")
	}
	if r.Kind == trouble.Other && r.Text == "" {
		p.Add("text", "write what happened")
	}
	if len(r.Text) > 4000 {
		p.Add("text", "keep it under 4000 letters")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onTrouble(ctx, act, oid, func(c *change, l *lot.Lot) error {
		cooker, err := cookerML(c.Tx)
		if err != nil {
			return err
		}
		card, _ := trouble.CardOf(r.Kind, l.Batch(cooker))
		entry, err := c.entry("incident")
		if err != nil {
			return err
		}
		if err := c.AddIncident(entry, l.ID, lot.Incident{Kind: r.Kind, Called: r.Kind.Name(), Text: r.Text}); err != nil {
			return err
		}
		for _, suspect := range l.Suspects(r.Kind) {
			if slices.Contains(r.Blame, suspect.Subject) {
				if err := c.blame(l, entry, suspect, true); err != nil {
					return err
				}
			}
		}
		if r.Way != "" {
			return c.chooseRemedy(l, entry, card, r.Way)
		}
		if card.HoldsAtOnce() && len(l.OwnHolds()) == 0 {
			return c.hold(l, true, strings.ToLower(card.Name)+": "+card.Why)
		}
		return nil
	})
}

// cookerML is the largest cooker of the shop to the rim, 0 for none.
func cookerML(tx *store.Tx) (ml float64, err error) {
	revisions, err := tx.Latest(store.Tools)
	for _, r := range revisions {
		t, err := asTool(r)
		if err != nil {
			return 0, err
		}
		if t.Kind == Cooker && !t.Retired {
			ml = max(ml, t.ML)
		}
	}
	return ml, err
}

// CookerML is the largest cooker of the shop to the rim, 0 for none.
func (cat *Catalog) CookerML(ctx context.Context) (ml float64, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		ml, err = cookerML(tx)
		return err
	})
	return ml, err
}

// onTrouble runs an act on a lot whatever device writes its run: trouble does not
// wait for a takeover.
func (s *Shop) onTrouble(ctx context.Context, act Act, oid string, do func(*change, *lot.Lot) error) error {
	return s.onLotWhere(ctx, act, oid, lot.ToTrouble, func(*change, *lot.Lot) error { return nil }, do)
}

func (c *change) blame(l *lot.Lot, incident int64, s lot.Suspect, blamed bool) error {
	entry, err := c.entry("blame")
	if err != nil {
		return err
	}
	return c.AddBlame(entry, l.ID, lot.Blame{Incident: incident, Subject: s.Subject, Name: s.Name, Blamed: blamed})
}

// chooseRemedy chooses a way out and does what it decides.
func (c *change) chooseRemedy(l *lot.Lot, incident int64, card trouble.Card, key string) error {
	way, ok := card.Way(key)
	if !ok {
		return caution.Problems{{Path: "way", Text: "choose one of the ways"}}
	}
	if way.Not != "" {
		return caution.Problems{{Path: "way", Text: "this way is not open: " + way.Not}}
	}
	entry, err := c.entry("way out")
	if err != nil {
		return err
	}
	if err := c.AddIncidentWord(entry, l.ID, lot.IncidentUpdate{Incident: incident, Way: key, Name: way.Name}); err != nil {
		return err
	}
	name := strings.ToLower(card.Name)
	if way.Ends.Cooked && !l.Cooked() || way.Ends.Plain && !l.Plain() {
		if entry, err = c.entry("turn"); err != nil {
			return err
		}
		if err := c.AddTurn(entry, l.ID, lot.ProcessChange{Cooked: way.Ends.Cooked, Plain: way.Ends.Plain, Why: name}); err != nil {
			return err
		}
	}
	switch {
	case way.Ends.GiveUp && l.Stage() == lot.Making:
		if entry, err = c.entry("abandoned"); err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, store.Abandoned, name+": it cannot be rescued")
	case way.Ends.GiveUp:
		return c.hold(l, true, name+": it cannot be rescued and is to be disposed of")
	case way.Ends.Hold != "":
		return c.hold(l, true, way.Ends.Hold)
	}
	return nil
}

// incidentOf finds an incident of a lot.
func incidentOf(l *lot.Lot, id int64) (lot.Incident, error) {
	for _, i := range l.Incidents {
		if i.ID == id {
			return i, nil
		}
	}
	return lot.Incident{}, &lot.NotNow{Why: "lot " + l.Code + " has no such trouble"}
}

// ChooseWay chooses a way out of an incident.
func (s *Shop) ChooseWay(ctx context.Context, act Act, oid string, incident int64, way string) error {
	return s.onTrouble(ctx, act, oid, func(c *change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil || i.Way == way && way != "" {
			return err
		}
		cooker, err := cookerML(c.Tx)
		if err != nil {
			return err
		}
		card, _ := l.Card(i, cooker)
		return c.chooseRemedy(l, incident, card, way)
	})
}

// RecordOutcome writes how an incident came out.
func (s *Shop) RecordOutcome(ctx context.Context, act Act, oid string, incident int64, outcome string) error {
	if outcome = strings.TrimSpace(outcome); outcome == "" {
		return caution.Problems{{Path: "outcome", Text: "write how it came out"}}
	}
	return s.onTrouble(ctx, act, oid, func(c *change, l *lot.Lot) error {
		if _, err := incidentOf(l, incident); err != nil {
			return err
		}
		entry, err := c.entry("outcome")
		if err != nil {
			return err
		}
		return c.AddIncidentWord(entry, l.ID, lot.IncidentUpdate{Incident: incident, Outcome: outcome})
	})
}

// SetBlame says what is blamed for an incident from now on, and nothing else.
func (s *Shop) SetBlame(ctx context.Context, act Act, oid string, incident int64, subjects []string) error {
	return s.onTrouble(ctx, act, oid, func(c *change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil {
			return err
		}
		now := i.BlamedNow()
		for _, suspect := range l.Suspects(i.Kind) {
			_, was := now[suspect.Subject]
			if is := slices.Contains(subjects, suspect.Subject); is != was {
				if err := c.blame(l, incident, suspect, is); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// TickRescue records that a step of the way out was done.
func (s *Shop) TickRescue(ctx context.Context, act Act, oid string, incident int64, step int) error {
	return s.onTrouble(ctx, act, oid, func(c *change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil {
			return err
		}
		cooker, err := cookerML(c.Tx)
		if err != nil {
			return err
		}
		card, _ := l.Card(i, cooker)
		way, ok := card.Way(i.Way)
		if !ok || step < 0 || step >= len(way.Steps) {
			return &lot.NotNow{Why: "that way out has no such step"}
		}
		key := lot.RescueKey(incident, step)
		if l.Done()[key] {
			return nil
		}
		entry, err := c.entry("step")
		if err != nil {
			return err
		}
		return c.AddTick(entry, l.ID, lot.Tick{Step: key, Title: way.Name, Done: true, Note: way.Steps[step].Text})
	})
}

// CarryIn records that something of another lot went into a lot, which inherits
// what keeps the other one back.
func (s *Shop) CarryIn(ctx context.Context, act Act, oid, code, what string, grams float64) error {
	var p caution.Problems
	number, err := lot.ParseCode(code)
	if err != nil {
		p.Add("parent", "%s", err.Error())
	}
	if !slices.Contains(lot.Carried(), what) {
		p.Add("what", "say what was carried over")
	}
	if !(grams > 0) || grams > 1e5 {
		p.Add("carried_grams", "say how much, more than 0 g")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onLotWhere(ctx, act, oid, lot.ToCarry, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		parents, err := s.lotsIn(c.Tx, store.LotsWhere{Number: number}, false)
		if err != nil {
			return err
		}
		for _, parent := range parents {
			if parent.Number != number {
				continue
			}
			if left := parent.TrimmingsLeft(); what == "trimmings" && grams > left+0.5 {
				return caution.Problems{
					{
						Path: "carried_grams",
						Text: fmt.Sprintf("only %s g of the trimmings of lot %s are left", unit.Trim(left, 1), parent.Code),
					},
				}
			}
			if parent.Number >= l.Number {
				return caution.Problems{{Path: "parent", Text: "lot " + parent.Code + " is not older than this one"}}
			}
			entry, err := c.entry("carried")
			if err != nil {
				return err
			}
			return c.AddParent(entry, l.ID, parent.ID, what, grams)
		}
		return caution.Problems{{Path: "parent", Text: "there is no lot " + lot.Code(number)}}
	})
}

// SetMark marks a lot as not for sale or called back, or lifts the mark, with a
// reason.
func (s *Shop) SetMark(ctx context.Context, act Act, oid, mark string, on bool, why string) error {
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
	return s.onLotWhere(ctx, act, oid, lot.ToMark, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		if _, is := l.MarkedNow()[mark]; is == on {
			return markedBefore(l, mark, why)
		}
		entry, err := c.entry("mark")
		if err != nil {
			return err
		}
		return c.AddMark(entry, l.ID, lot.Mark{Mark: mark, On: on, Why: why})
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
			return &Conflict{What: "lot " + l.Code, Who: m.Who, When: m.Recorded}
		}
	}
	return &lot.NotNow{Why: fmt.Sprintf("lot %s is not marked as %s", l.Code, lot.MarkWords(mark))}
}

// AddNext writes what to change next time.
func (s *Shop) AddNext(ctx context.Context, act Act, oid, text string) error {
	if text = strings.TrimSpace(text); text == "" || len(text) > 2000 {
		return caution.Problems{{Path: "next", Text: "write what to change, in up to 2000 letters"}}
	}
	return s.onLotWhere(ctx, act, oid, lot.ToNext, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("next time")
		if err != nil {
			return err
		}
		return c.AddNext(entry, l.ID, text)
	})
}

// KeepReference puts bars aside that are never sold, to look at when somebody
// asks.
func (s *Shop) KeepReference(ctx context.Context, act Act, oid string, bars int, place string) error {
	var p caution.Problems
	if bars < 1 || bars > 100 {
		p.Add("kept_bars", "keep between 1 and 100 bars")
	}
	if place = strings.TrimSpace(place); place == "" {
		p.Add("kept_place", "say where they are kept")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onLotWhere(ctx, act, oid, lot.ToKeep, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("reference bar")
		if err != nil {
			return err
		}
		return c.AddKept(entry, l.ID, lot.ReferenceBars{Bars: bars, Place: place})
	})
}

// Wash records how a bar washed. None is washed with before the safety check of
// its lot is good.
func (s *Shop) Wash(ctx context.Context, act Act, oid string, k lot.Wash) error {
	var p caution.Problems
	for field, v := range map[string]int{"volume": k.Volume, "creaminess": k.Creaminess, "slime": k.Slime, "scent": k.Scent} {
		if v < 0 || v > 4 {
			p.Add(field, "give it 0 to 4")
		}
	}
	if err := p.Err(); err != nil {
		return err
	}
	k.Against, k.Note = strings.TrimSpace(k.Against), strings.TrimSpace(k.Note)
	return s.onLotWhere(ctx, act, oid, lot.ToWash, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("wash")
		if err != nil {
			return err
		}
		return c.AddWash(entry, l.ID, k)
	})
}

// Trimmings returns the lots with trimmings that are not worked in yet, the
// freshest first.
func (r *Reader) Trimmings(ctx context.Context) (out []*lot.Lot, err error) {
	lots, err := r.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}})
	for _, l := range lots {
		if l.TrimmingsLeft() > 0 {
			out = append(out, l)
		}
	}
	return out, err
}

// mostStories is how many stories are told of one cause.
const mostStories = 3

// Stories returns what went wrong before with a recipe or with anything that goes
// into it, each incident once, under the cause that is named first.
func (r *Reader) Stories(ctx context.Context, subjects []string) (out []store.Story, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		told := map[string]bool{}
		for _, subject := range subjects {
			list, err := tx.Stories(subject, mostStories)
			if err != nil {
				return err
			}
			for _, one := range list {
				if key := one.LotOID + one.When.String(); !told[key] {
					told[key] = true
					out = append(out, one)
				}
			}
		}
		return nil
	})
	return out, err
}

// digest works out the digest of a lot up to an entry.
func digest(tx *store.Tx, lotID, upTo int64, version int) (string, error) {
	sum := sha256.New()
	err := tx.Digested(lotID, upTo, version, func(line string) { fmt.Fprintln(sum, line) })
	return hex.EncodeToString(sum.Sum(nil)), err
}

// Sealed is what became of a lot's record since its release.
type Sealed struct {
	Digest string // of the release; empty when it was released without one, or not at all
	Same   bool   // nothing on record up to then was altered
}

// Verify works the digest of a released lot out again.
func (r *Reader) Verify(ctx context.Context, l *lot.Lot) (out Sealed, err error) {
	if l.Release == nil {
		return out, nil
	}
	err = r.Read(ctx, func(tx *store.Tx) error {
		version, have, err := tx.Digest(l.ID)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		again, err := digest(tx, l.ID, l.Release.ID, version)
		out = Sealed{have, again == have}
		return err
	})
	return out, err
}
