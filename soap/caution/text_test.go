package caution_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/caution"
)

func TestANameIsALineThatCanBeSeen(t *testing.T) {
	for name, says := range map[string]string{
		"Hay and vetiver": "", "": "", "Moñita 🧼 αβγ": "", "Ida\u200d": "",
		"Slow\nolive": "one line", "Slow\tolive": "one line", "Slow\x00olive": "U+0000", "\x1b[31mred": "U+001B", "Slow\rolive": "U+000D",
		"evil\u202egnp.exe": "U+202E", "a\u2028b": "U+2028", "half\xff": "cannot be read", "\u0085": "U+0085",
		strings.Repeat("é", 120): "", strings.Repeat("é", 121): "shorten it to 120",
	} {
		var p caution.Problems
		p.Name("name", name)
		if says == "" {
			assert.Empty(t, p, "%q", name)
		} else {
			assert.Contains(t, p.At("name"), says, "%q", name)
		}
	}
	var p caution.Problems
	p.Text("note", "two lines\n\tand a tab")
	p.Text("note", strings.Repeat("x", caution.MostText))
	assert.Empty(t, p)
	p.Text("long", strings.Repeat("x", caution.MostText+1))
	p.Text("odd", "\x07")
	assert.Len(t, p, 2)
}
