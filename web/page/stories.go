package page

import (
	"net/http"
	"sort"

	"ashshelf/soap/plan"
	"ashshelf/soap/trouble"
	"ashshelf/store"
)

// StoryTold is an incident as it is told again.
type StoryTold struct {
	store.Story
	Name, WayName string
}

func Subjects(recipe string, sheet []plan.Section) []string {
	out := []string{"recipe:" + recipe}
	for _, sec := range sheet {
		for _, i := range sec.Items {
			out = append(out, i.Key)
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
