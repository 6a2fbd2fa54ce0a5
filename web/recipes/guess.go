package recipes

import (
	"strings"

	"github.com/agnivade/levenshtein"

	"ashshelf/soap/fat"
)

// leastGuessed is how many letters a guess needs, and mostWrong how many of them may be.
const leastGuessed, mostWrong = 4, 2

// guessed is the name of the fat that a misspelt text comes nearest to, by its letters or by those of
// a word of a name; empty where nothing is near. It is only ever asked about, never taken.
func guessed(text string) (name string) {
	text = strings.ToLower(strings.TrimSpace(text))
	if len(text) < leastGuessed {
		return ""
	}
	best := mostWrong + 1
	for _, f := range fat.Reference() {
		for _, n := range append([]string{f.Name}, fat.Names(f.Slug).Synonyms...) {
			n = strings.ToLower(n)
			for _, word := range append(strings.Fields(n), n) {
				if len(word) < leastGuessed {
					continue
				}
				if d := levenshtein.ComputeDistance(text, word); d < best {
					best, name = d, f.Name
				}
			}
		}
	}
	return name
}
