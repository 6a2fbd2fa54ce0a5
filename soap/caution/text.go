package caution

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// MostText is the most letters that a note may have, and MostName a name.
const (
	MostText = 5000
	MostName = 120
)

// Unseen says what a text holds that nobody can see and no label can show: control
// characters, marks that turn the direction of writing, bytes that are no letters. Empty
// is none of it. Line breaks and tabs can be seen.
func Unseen(text string) string {
	if !utf8.ValidString(text) {
		return "there are characters in it that cannot be read; type it again"
	}
	for _, r := range text {
		if unicode.IsControl(r) && r != '\n' && r != '\t' || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 || r == 0x2028 ||
			r == 0x2029 {
			return fmt.Sprintf("there is a character in it that cannot be seen (%U); type it again without", r)
		}
	}
	return ""
}

// Text finds what is wrong with a text of several lines.
func (p *Problems) Text(path, text string) {
	if why := Unseen(text); why != "" {
		p.Add(path, "%s", why)
	} else if n := utf8.RuneCountInString(text); n > MostText {
		p.Add(path, "%d letters do not fit; shorten it to %d", n, MostText)
	}
}

// Name finds what is wrong with a name, a code or a word, which stands on one line. That
// it is empty may be right or wrong.
func (p *Problems) Name(path, name string) {
	switch n := utf8.RuneCountInString(name); {
	case Unseen(name) != "":
		p.Add(path, "%s", Unseen(name))
	case strings.ContainsAny(name, "\n\t"):
		p.Add(path, "keep it on one line")
	case n > MostName:
		p.Add(path, "%d letters do not fit; shorten it to %d", n, MostName)
	}
}
