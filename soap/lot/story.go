package lot

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// Event is something that happened to a lot, in one line for its record.
type Event struct {
	Entry
	Title, Text string
}

// Story is all that happened, in the order it was recorded.
func (l *Lot) Story() []Event {
	var out []Event
	add := func(e Entry, title, format string, args ...any) {
		out = append(out, Event{e, title, fmt.Sprintf(format, args...)})
	}
	add(l.Started, "Started", "%s, revision %d, pot %d", l.Frozen.Recipe, l.Frozen.Revision, l.Pot)
	l.makeDay(add)
	if p := l.Pour; p != nil {
		text := p.Trace + " trace"
		if p.Skipped != "" {
			text += "; left out: " + p.Skipped
		}
		add(p.Entry, "Poured", "%s", withNote(text, p.Note))
	}
	if u := l.Unmolding; u != nil {
		add(u.Entry, "Unmolded", "%s", withNote("gel: "+u.Gel, u.Note))
	}
	if c := l.Cut; c != nil {
		add(c.Entry, "Cut", "%s", withNote(c.words(), c.Note))
	}
	for _, s := range l.Samples {
		add(s.Entry, "Sample bar", "%s g", unit.Trim(s.Grams, 2))
	}
	for _, c := range l.Checks {
		text := "tongue test: "
		if c.PH != nil {
			text = "pH " + unit.Trim(*c.PH, 1) + ": "
		}
		if c.Pass {
			text += "passed"
		} else {
			text += "failed"
		}
		if c.Pass && l.TooEarly(c) {
			text += ", too early to count"
		}
		add(c.Entry, "Safety check", "%s", withNote(text, c.Note))
	}
	for _, d := range l.Deviations {
		add(d.Entry, "Deviation", "%s: %s", d.What, d.Why)
	}
	for _, r := range l.Retimes {
		add(r.Entry, "Time put right", "%s", r.Said)
	}
	for _, h := range l.Holds {
		if h.Held {
			add(h.Entry, "Held", "%s", h.Why)
		} else {
			add(h.Entry, "Hold lifted", "%s%s", h.Why, h.Signed.by(h.Who))
		}
	}
	if r := l.Release; r != nil {
		add(r.Entry, "Released", "%s", withNote("by "+r.Who+r.Signed.Words(), r.Early))
	}
	for _, m := range l.Moves {
		text := fmt.Sprintf("%+d %s, %s", m.Change, m.Kind.Words(), m.Reason)
		if went := m.Went.Words(); went != "" {
			text += ", " + went
		}
		add(m.Entry, "Bars moved", "%s", withNote(text, m.Note))
	}
	for _, r := range l.LabelRuns {
		add(r.Entry, "Labels printed", "%d for %d %s as %s", r.Labels, r.Bars, r.Kind.Words(), r.Product)
	}
	titles := map[Bound]string{Labelled: "Labelled", Reserved: "Put by", Freed: "Free again"}
	for _, b := range l.Bindings {
		if title := titles[b.What]; title != "" { // what left is told with its move
			add(b.Entry, title, "%s", b.words())
		}
	}
	for _, c := range l.Complaints {
		add(c.Entry, "Complaint", "%s", c.Said)
	}
	for _, i := range l.Infused {
		add(i.Entry, "Infused oil", "%s", i.words())
	}
	for _, r := range l.Reshaped {
		add(r.Entry, "Cut up", "%s", r.words())
	}
	for _, n := range l.Notes {
		title := "Note"
		if n.Incident {
			title = "Trouble"
		}
		add(n.Entry, title, "%s", n.Text)
	}
	l.troubles(add)
	if a := l.Abandoned; a != nil {
		add(a.Entry, "Abandoned", "%s", a.Text)
	}
	slices.SortFunc(out, func(a, b Event) int { return cmp.Compare(a.ID, b.ID) })
	return out
}

func (i Infused) words() string {
	return fmt.Sprintf("%s g of %s on %s, of a jar begun with %s g on %s g", unit.Trim(i.Grams, 1), i.Oil, i.Herb, unit.Trim(i.OilG, 1),
		unit.Trim(i.HerbG, 1))
}

// titlesBefore are what the steps were called that were ticked before their titles
// were kept; those of ingredients and portions follow from what was frozen. They are
// never changed.
var titlesBefore = map[string]string{
	"ready:bench":    "Clear and wipe the bench",
	"lye:stir":       "Stir until it is clear",
	"after:tap":      "Tap out the bubbles, texture the top",
	"after:clean":    "Clean up",
	"ready:gear":     "Protective gear on",
	"ready:scale":    "Check the scale",
	"fats:melt":      "Melt the solid fats",
	"batter:warm":    "Both pots at their temperature",
	"batter:combine": "Lye into the fats",
	"batter:trace":   "Trace",
	"batter:cook":    "Cook until translucent",
}

// makeDay tells of make day.
func (l *Lot) makeDay(add func(e Entry, title, format string, args ...any)) {
	names, steps := map[plan.Key]string{}, map[string]string{}
	for _, s := range l.Frozen.Sheet {
		for _, i := range s.Items {
			names[i.Key] = i.Name
		}
	}
	for _, s := range run.Steps(l.Order()) {
		steps[s.Key] = s.Title
	}
	for key, title := range titlesBefore {
		steps[key] = title
	}
	for _, w := range l.Weighings {
		how := map[How]string{ByDevice: ", by the scale", OnPaper: ", noted on paper"}[w.How]
		if from := w.From.Label(); w.From.OID != "" && from != "" {
			how += ", from " + from
		}
		if w.Actual < 0 {
			add(w.Entry, "Weighed back", "%s: %s g%s", names[w.Item], unit.Trim(-w.Actual, 2), how)
			continue
		}
		add(w.Entry, "Weighed", "%s: %s g of %s g%s", names[w.Item], unit.Trim(w.Actual, 2), unit.Trim(w.Target, 2), how)
	}
	for _, t := range l.Ticks {
		text := cmp.Or(t.Title, steps[t.Step])
		if t.Trace != "" {
			text = t.Trace + " trace"
			if t.Minutes > 0 {
				text += " after " + unit.Trim(t.Minutes, 1) + " min"
			}
		}
		switch {
		case !t.Done:
			add(t.Entry, "Taken back", "%s", withNote(text, t.Note))
		default:
			add(t.Entry, "Done", "%s", withNote(text, t.Note))
		}
	}
	for _, t := range l.Temps {
		add(t.Entry, "Temperature", "%s %s °C", t.Of, unit.Trim(t.C, 1))
	}
	for _, r := range l.Rescales {
		add(r.Entry, "Rescaled", "to %s %% of the plan, after %s", unit.Trim(100*r.Factor, 1), names[r.Because])
	}
	for _, x := range l.Extras {
		add(x.Entry, "Added", "%s: %s g, unplanned", x.Name, unit.Trim(x.Grams, 2))
	}
	for _, s := range l.Scents {
		add(s.Entry, "Scent", "%s", withNote(s.Scent+": "+s.Behaviour.Words(), s.Note))
	}
	for _, p := range l.Photos {
		add(p.Entry, "Photo", "%s", p.Caption)
	}
}

func withNote(text, note string) string {
	if note == "" {
		return text
	}
	return text + ". " + note
}

// troubles tells of what went wrong and what came of it.
func (l *Lot) troubles(add func(e Entry, title, format string, args ...any)) {
	for _, i := range l.Incidents {
		add(i.Entry, "Trouble", "%s", withNote(i.Name(), i.Text))
		for _, w := range i.Words {
			if w.Way != "" {
				add(w.Entry, "Way out", "%s: %s", i.Name(), cmp.Or(w.Name, l.wayName(i, w.Way)))
			}
			if w.Outcome != "" {
				add(w.Entry, "Came out", "%s: %s", i.Name(), w.Outcome)
			}
		}
		for _, b := range i.Blamed {
			if b.Blamed {
				add(b.Entry, "May be the cause", "%s: %s", i.Name(), b.Name)
			} else {
				add(b.Entry, "Not the cause", "%s: %s", i.Name(), b.Name)
			}
		}
	}
	for _, t := range l.ProcessChanges {
		became := []string{}
		if t.Cooked {
			became = append(became, "cooked soap")
		}
		if t.Plain {
			became = append(became, "plain bars")
		}
		add(t.Entry, "Became", "%s", withNote(strings.Join(became, ", "), t.Why))
	}
	for _, p := range l.Parents {
		add(p.Entry, "Carried in", "%s g of %s of lot %s", unit.Trim(p.Grams, 1), p.What, p.Code)
	}
	for _, p := range l.Children {
		add(p.Entry, "Carried out", "%s g of %s into lot %s", unit.Trim(p.Grams, 1), p.What, p.Code)
	}
	for _, m := range l.Marks {
		if m.On {
			add(m.Entry, "Marked", "%s: %s%s", MarkWords(m.Mark), m.Why, m.Signed.by(m.Who))
		} else {
			add(m.Entry, "Mark lifted", "%s: %s%s", MarkWords(m.Mark), m.Why, m.Signed.by(m.Who))
		}
	}
	for _, n := range l.Next {
		add(n.Entry, "Next time", "%s", n.Text)
	}
	for _, k := range l.Cared {
		add(k.Entry, CareWords(k.What), "%s", k.Note)
	}
	for _, k := range l.Washes {
		text := fmt.Sprintf("lather %d, creamy %d, slime %d, scent %d, of 4", k.Volume, k.Creaminess, k.Slime, k.Scent)
		if k.Against != "" {
			text += ", beside " + k.Against
		}
		add(k.Entry, "Washed with", "%s", withNote(text, k.Note))
	}
	for _, k := range l.Kept {
		add(k.Entry, "Reference bar", "%d kept: %s", k.Bars, k.Place)
	}
}
