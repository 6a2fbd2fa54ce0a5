package page

import (
	"net/http"
	"strings"
)

// reminder is what every page says of the windows that are open now.
type reminder struct {
	Count int
	Words string // "Unmold and cut 11-S; Texture the top 12-W"
}

func (s *Kit) Reminds(r *http.Request) (out reminder, err error) {
	tasks, err := s.Shop.Pressing(r.Context(), SessionOf(r).Location)
	var words []string
	for _, t := range tasks {
		words = append(words, t.Kind.Words()+" "+t.Lot.Code)
	}
	return reminder{len(tasks), strings.Join(words, "; ")}, err
}
