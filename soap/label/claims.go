package label

import (
	_ "embed"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"ashshelf/soap/internal/table"
	"ashshelf/soap/material"
	"ashshelf/soap/recipe"
)

//go:embed claims.csv
var claimsCSV string

// Tier is what a phrase asks of the seller.
type Tier string

// The tiers, the lightest first.
const (
	Plain    Tier = "plain"    // it cleans, it smells, what is in it, how it was made
	Cosmetic Tier = "cosmetic" // label duties, and proof
	Approval Tier = "approval" // testing and approval before it may be sold so
)

// Tiers returns the tiers, the lightest first.
func Tiers() []Tier { return []Tier{Plain, Cosmetic, Approval} }

// Words says the tier in a word or two.
func (t Tier) Words() string {
	switch t {
	case Cosmetic:
		return "a cosmetic claim"
	case Approval:
		return "not without approval"
	}
	return "plain"
}

// Duty says what the tier asks of the seller. Local rules come first.
func (t Tier) Duty() string {
	switch t {
	case Cosmetic:
		return "it is a cosmetic claim: label duties, and proof"
	case Approval:
		return "it needs testing and approval before sale"
	}
	return ""
}

// Claim is a phrase of the wording and what it promises.
type Claim struct {
	Words   string
	Tier    Tier
	Why     string // empty for what is plain
	Instead string // a sound way to say it
}

// rule finds one kind of promise.
type rule struct {
	name, says, instead string
	tier                Tier
	phrases, innocent   [][]string
}

var rules = sync.OnceValue(func() []rule {
	rows := table.Read(claimsCSV)
	out := make([]rule, len(rows))
	for i, r := range rows {
		out[i] = rule{name: r.Text("rule"), says: r.Text("says"), instead: r.Text("instead"), tier: Tier(r.Text("tier")),
			phrases: patterns(r.Text("phrases")), innocent: patterns(r.Text("innocent"))}
	}
	return out
})

// patterns are the phrases of a cell.
func patterns(cell string) [][]string {
	var out [][]string
	for phrase := range strings.SplitSeq(cell, ";") {
		if words := strings.Fields(phrase); len(words) > 0 {
			out = append(out, words)
		}
	}
	return out
}

// Read reads a wording phrase by phrase: each gets the heaviest tier of what it promises, with the
// words that do.
func Read(wording string) []Claim {
	var out []Claim
	for _, phrase := range Phrases(wording) {
		claim := Claim{Words: phrase, Tier: Plain}
		words := material.Words(phrase)
		for _, r := range rules() {
			said, found := r.find(words)
			if found && slices.Index(Tiers(), r.tier) > slices.Index(Tiers(), claim.Tier) {
				claim.Tier, claim.Instead = r.tier, r.instead
				claim.Why = fmt.Sprintf("“%s” says %s: %s", said, r.says, r.tier.Duty())
			}
		}
		out = append(out, claim)
	}
	return out
}

// Phrases parts a wording at the ends of its sentences, at semicolons and at the ends of lines. A
// point within a number, as in 9.5 %, ends nothing.
func Phrases(wording string) []string {
	var out []string
	start := 0
	cut := func(end, next int) {
		phrase := strings.TrimFunc(wording[start:end], func(r rune) bool { return unicode.IsSpace(r) || r == '•' || r == '·' })
		if strings.ContainsFunc(phrase, func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }) {
			out = append(out, phrase)
		}
		start = next
	}
	for i, r := range wording {
		_, wide := utf8.DecodeRuneInString(wording[i:]) // a broken byte counts as one
		after := i + wide
		next, _ := utf8.DecodeRuneInString(wording[after:])
		switch {
		case strings.ContainsRune(";\n\r•·", r):
			cut(i, after)
		case strings.ContainsRune(".!?…", r) && (after == len(wording) || !unicode.IsLetter(next) && !unicode.IsDigit(next)):
			cut(i, after)
		}
	}
	cut(len(wording), len(wording))
	return out
}

// find reports the words that promise something, if any do: words in another sense do not, nor do
// those that say that it is not so.
func (r rule) find(words []string) (said string, found bool) {
	for i := range words {
		for _, p := range r.phrases {
			if !at(words, i, p) {
				continue
			}
			if r.means(words, i, len(p)) && !denied(words, i) {
				return strings.Join(words[i:i+len(p)], " "), true
			}
		}
	}
	return "", false
}

// means reports whether some words are meant as a promise: no innocent phrase covers them.
func (r rule) means(words []string, from, n int) bool {
	for _, p := range r.innocent {
		for i := max(0, from+n-len(p)); i <= from; i++ {
			if at(words, i, p) && i+len(p) >= from+n {
				return false
			}
		}
	}
	return true
}

// at reports whether words hold a phrase at a place: * ends a word that may go on, # is any number.
func at(words []string, i int, phrase []string) bool {
	if i+len(phrase) > len(words) {
		return false
	}
	for k, want := range phrase {
		word := words[i+k]
		stem, open := strings.CutSuffix(want, "*")
		switch {
		case want == "#":
			if !number(word) {
				return false
			}
		case open && !strings.HasPrefix(word, stem), !open && word != want:
			return false
		}
	}
	return true
}

// counted are numbers as people write them in a sentence.
var counted = []string{"one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
	"over", "about"}

func number(word string) bool {
	return word != "" && unicode.IsDigit(rune(word[0])) || slices.Contains(counted, word)
}

// between are the words that may stand between a no and what it denies: "is not meant to treat".
var between = []string{"a", "an", "the", "to", "for", "as", "be", "been", "meant", "intended", "made", "tested", "suited", "suitable",
	"claim", "claimed", "promise", "it", "that", "any", "or", "nor"}

// denied reports whether what stands at a place is said not to be so. Between the no and it only
// small words may stand, and others that are denied with it, as in "does not repel midges": "does not
// let germs live" denies no germs.
func denied(words []string, i int) bool {
	for k := i - 1; k >= 0; k-- {
		switch {
		case words[k] == "not", words[k] == "never", words[k] == "cannot", words[k] == "t" && k > 0:
			return k == 0 || words[k-1] != "why"
		case !slices.Contains(between, words[k]) && !promising(words, k):
			return false
		}
	}
	return false
}

// promising reports whether a phrase of any rule begins at a place.
func promising(words []string, i int) bool {
	return slices.ContainsFunc(rules(), func(r rule) bool {
		return slices.ContainsFunc(r.phrases, func(p []string) bool { return at(words, i, p) })
	})
}

// marksSaid are the words that say a mark.
var marksSaid = map[string][]string{
	"vegan":          {"vegan", "plant-based", "plant based", "no animal", "without animal", "free of animal"},
	"palm-free":      {"palm-free", "palm free", "palm oil free", "palm-oil-free", "no palm", "without palm", "free of palm"},
	recipe.Unscented: {"unscented", "no scent", "without scent", "fragrance-free", "fragrance free", "free of scent", "scent-free"},
}

// MarksSaid are the marks that a wording says the bar has. They must be true of the bar it is wrapped round.
func MarksSaid(wording string) (out []string) {
	text := " " + Key(wording) + " "
	for _, mark := range slices.Sorted(maps.Keys(marksSaid)) {
		if slices.ContainsFunc(marksSaid[mark], func(words string) bool { return saysMark(text, words) }) {
			out = append(out, mark)
		}
	}
	return out
}

// saysMark finds words that are not taken back by the one before: "not vegan" says no mark.
func saysMark(text, words string) bool {
	for rest := text; ; {
		at := strings.Index(rest, words)
		if at < 0 {
			return false
		}
		before := strings.TrimRight(rest[:at], " ")
		if !strings.HasSuffix(before, " not") && !strings.HasSuffix(before, "n’t") && !strings.HasSuffix(before, "n't") {
			return true
		}
		rest = rest[at+len(words):]
	}
}
