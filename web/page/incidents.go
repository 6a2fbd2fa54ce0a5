package page

import (
	"net/http"
	"sort"

	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/trouble"
	"ashshelf/store"
)

// IncidentView is an incident with what can be done about it.
type IncidentView struct {
	lot.Incident
	Card     trouble.Card
	Chosen   *trouble.Way
	Steps    []rescueStep
	Suspects []lot.Suspect // Likely says whether it is blamed now
	Done     int
	Leads    bool // its steps come before those of the run
}

type rescueStep struct {
	trouble.Step
	Number int
	Done   bool
	Next   bool // the first that is not done
}

// IncidentsOf are the incidents of a lot with what can be done about each, the
// newest first.
func IncidentsOf(l *lot.Lot, cookerML float64) []IncidentView {
	var out []IncidentView
	done := l.Done()
	for n := len(l.Incidents) - 1; n >= 0; n-- {
		i := l.Incidents[n]
		v := IncidentView{Incident: i}
		v.Card, _ = l.Card(i, cookerML)
		if way, ok := v.Card.Way(i.Way); ok {
			v.Chosen = &way
			for k, step := range way.Steps {
				one := rescueStep{Step: step, Number: k, Done: done[lot.RescueKey(i.ID, k)]}
				one.Next = !one.Done && v.Done == k
				if one.Done {
					v.Done++
				}
				v.Steps = append(v.Steps, one)
			}
		}
		blamed := i.BlamedNow()
		for _, suspect := range l.Suspects(i.Kind) {
			_, suspect.Likely = blamed[suspect.Subject]
			v.Suspects = append(v.Suspects, suspect)
		}
		out = append(out, v)
	}
	return out
}

// MarksOf are the marks that a lot can have, with how they stand.
func MarksOf(l *lot.Lot) []MarkView {
	now := l.MarkedNow()
	var out []MarkView
	for _, m := range []string{lot.NotForSale, lot.Recalled} {
		why, on := now[m]
		out = append(out, MarkView{m, lot.MarkWords(m), on, why})
	}
	return out
}

type MarkView struct {
	Mark, Words string
	On          bool
	Why         string
}

// CarriedOptions are what is carried from lot to lot.
func CarriedOptions() []Option {
	return []Option{{"batter", "wet batter"}, {"trimmings", "scraps, or trimmings"}, {"petals", "petals"}, {"balls", "pressed balls"},
		{"rescued", "rescued soap"}}
}

// StoryTold is an incident as it is told again.
type StoryTold struct {
	store.Story
	Name, WayName string
}

func Subjects(recipe string, sheet []plan.Section) []string {
	out := []string{"recipe:" + recipe}
	for _, sec := range sheet {
		for _, i := range sec.Items {
			out = append(out, string(i.Key))
		}
	}
	return out
}

// Told are the stories of what went wrong before with any of the subjects.
func (s *Kit) Told(r *http.Request, subjects []string) ([]StoryTold, error) {
	list, err := s.Shop.Stories(r.Context(), subjects)
	var out []StoryTold
	for _, one := range list {
		t := StoryTold{Story: one, Name: trouble.Kind(one.Kind).Name()}
		if card, ok := trouble.CardOf(trouble.Kind(one.Kind), trouble.Batch{At: trouble.InPot}); ok {
			if way, ok := card.Way(one.Way); ok {
				t.WayName = way.Name
			}
		}
		out = append(out, t)
	}
	sort.SliceStable(out, func(i, k int) bool { return out[i].When.After(out[k].When) })
	return out, err
}
