package shop

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/trouble"
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
func (s *Shop) FileTrouble(ctx context.Context, act journal.Act, oid string, r Report) error {
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
	return s.onTrouble(ctx, act, oid, func(c *journal.Change, l *lot.Lot) error {
		cooker, err := catalog.CookerML(c.Tx)
		if err != nil {
			return err
		}
		card, _ := trouble.CardOf(r.Kind, l.Batch(cooker))
		entry, err := c.Entry("incident")
		if err != nil {
			return err
		}
		if err := c.AddIncident(entry, l.ID, lot.Incident{Kind: r.Kind, Called: r.Kind.Name(), Text: r.Text}); err != nil {
			return err
		}
		for _, suspect := range l.Suspects(r.Kind) {
			if slices.Contains(r.Blame, suspect.Subject) {
				if err := blame(c, l, entry, suspect, true); err != nil {
					return err
				}
			}
		}
		if r.Way != "" {
			return chooseRemedy(c, l, entry, card, r.Way)
		}
		if card.HoldsAtOnce() && len(l.OwnHolds()) == 0 {
			return hold(c, l, true, strings.ToLower(card.Name)+": "+card.Why)
		}
		return nil
	})
}

// onTrouble runs an act on a lot whatever device writes its run: trouble does not
// wait for a takeover.
func (s *Shop) onTrouble(ctx context.Context, act journal.Act, oid string, do lots.Use) error {
	return s.OnLotUnseen(ctx, act, oid, lot.ToTrouble, do)
}

func blame(c *journal.Change, l *lot.Lot, incident int64, s lot.Suspect, blamed bool) error {
	return c.Record("blame", func(entry int64) error {
		return c.AddBlame(entry, l.ID, lot.Blame{Incident: incident, Subject: s.Subject, Name: s.Name, Blamed: blamed})
	})
}

// chooseRemedy chooses a way out and does what it decides.
func chooseRemedy(c *journal.Change, l *lot.Lot, incident int64, card trouble.Card, key string) error {
	way, ok := card.Way(key)
	if !ok {
		return caution.Problems{{Path: "way", Text: "choose one of the ways"}}
	}
	if way.Not != "" {
		return caution.Problems{{Path: "way", Text: "this way is not open: " + way.Not}}
	}
	entry, err := c.Entry("way out")
	if err != nil {
		return err
	}
	if err := c.AddIncidentUpdate(entry, l.ID, lot.IncidentUpdate{Incident: incident, Way: key, Name: way.Name}); err != nil {
		return err
	}
	name := strings.ToLower(card.Name)
	if way.Ends.Cooked && !l.Cooked() || way.Ends.Plain && !l.Plain() {
		if entry, err = c.Entry("turn"); err != nil {
			return err
		}
		change := lot.ProcessChange{Cooked: way.Ends.Cooked, Plain: way.Ends.Plain, Why: name}
		if err := c.AddProcessChange(entry, l.ID, change); err != nil {
			return err
		}
	}
	switch {
	case way.Ends.GiveUp && l.Stage() == lot.Making:
		if entry, err = c.Entry("abandoned"); err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, store.Abandoned, name+": it cannot be rescued")
	case way.Ends.GiveUp:
		return hold(c, l, true, name+": it cannot be rescued and is to be disposed of")
	case way.Ends.Hold != "":
		return hold(c, l, true, way.Ends.Hold)
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
func (s *Shop) ChooseWay(ctx context.Context, act journal.Act, oid string, incident int64, way string) error {
	return s.onTrouble(ctx, act, oid, func(c *journal.Change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil || i.Way == way && way != "" {
			return err
		}
		cooker, err := catalog.CookerML(c.Tx)
		if err != nil {
			return err
		}
		card, _ := l.Card(i, cooker)
		return chooseRemedy(c, l, incident, card, way)
	})
}

// RecordOutcome writes how an incident came out.
func (s *Shop) RecordOutcome(ctx context.Context, act journal.Act, oid string, incident int64, outcome string) error {
	if outcome = strings.TrimSpace(outcome); outcome == "" {
		return caution.Problems{{Path: "outcome", Text: "write how it came out"}}
	}
	return s.onTrouble(ctx, act, oid, func(c *journal.Change, l *lot.Lot) error {
		if _, err := incidentOf(l, incident); err != nil {
			return err
		}
		return c.Record("outcome", func(entry int64) error {
			return c.AddIncidentUpdate(entry, l.ID, lot.IncidentUpdate{Incident: incident, Outcome: outcome})
		})
	})
}

// SetBlame says what is blamed for an incident from now on, and nothing else.
func (s *Shop) SetBlame(ctx context.Context, act journal.Act, oid string, incident int64, subjects []string) error {
	return s.onTrouble(ctx, act, oid, func(c *journal.Change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil {
			return err
		}
		now := i.BlamedNow()
		for _, suspect := range l.Suspects(i.Kind) {
			_, was := now[suspect.Subject]
			if is := slices.Contains(subjects, suspect.Subject); is != was {
				if err := blame(c, l, incident, suspect, is); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// TickRescue records that a step of the way out was done.
func (s *Shop) TickRescue(ctx context.Context, act journal.Act, oid string, incident int64, step int) error {
	return s.onTrouble(ctx, act, oid, func(c *journal.Change, l *lot.Lot) error {
		i, err := incidentOf(l, incident)
		if err != nil {
			return err
		}
		cooker, err := catalog.CookerML(c.Tx)
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
		return c.Record("step", func(entry int64) error {
			return c.AddTick(entry, l.ID, lot.Tick{Step: key, Title: way.Name, Done: true, Note: way.Steps[step].Text})
		})
	})
}
