package door

import (
	"crypto/rand"
	"net/url"

	"ashshelf/soap/role"
)

// NewToken is a name that cannot be guessed.
func NewToken() string { return rand.Text() }

// Anyone is the role of what is open to whoever comes.
const Anyone role.Role = "anyone"

// Rule says who may use an address, and whether she shows there that it is she.
type Rule struct {
	Least role.Role

	// Signs reports whether what is sent takes the word of somebody who showed that it is she;
	// nil when nothing does.
	Signs func(url.Values) bool
}

// Always is for addresses where everything takes it.
func Always(url.Values) bool { return true }

// Rules are the rules of all addresses, by method and pattern. Where an address ends in an
// act, each act may have a rule of its own in place of that of the pattern.
type Rules map[string]Rule

// Of is the rule of a request. What has none is for owners alone.
func (t Rules) Of(method, pattern, act string) Rule {
	if act != "" {
		const end = "{act}"
		if n := len(pattern) - len(end); n > 0 && pattern[n:] == end {
			if rule, ok := t[method+" "+pattern[:n]+act]; ok {
				return rule
			}
		}
	}
	if rule, ok := t[method+" "+pattern]; ok {
		return rule
	}
	return Rule{Least: role.Owner}
}

// May reports whether somebody in a role may use an address.
func (rule Rule) May(who role.Role) bool { return rule.Least == Anyone || who.May(rule.Least) }
