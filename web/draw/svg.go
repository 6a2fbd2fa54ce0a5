package draw

import (
	"html"
	"math"
	"strconv"
)

// SVG writes the picture's shapes down.
func (p Picture) SVG() string {
	var to pen
	to.shapes(p.Shapes)
	return string(to)
}

// pen writes marks. Pictures are written here and not by a page, since a busy shelf
// has thousands of shapes.
type pen []byte

func (p *pen) raw(text string)  { *p = append(*p, text...) }
func (p *pen) text(text string) { p.raw(html.EscapeString(text)) }

// word writes a name with its value, num one with its length.
func (p *pen) word(name, value string) {
	p.raw(" " + name + `="`)
	p.text(value)
	p.raw(`"`)
}

func (p *pen) num(name string, v float64) {
	p.raw(" ")
	p.raw(name)
	p.raw(`="`)
	p.figure(v)
	p.raw(`"`)
}

// open begins a mark; end ends one that holds nothing.
func (p *pen) open(mark, class string) {
	p.raw("<")
	p.raw(mark)
	if class != "" {
		p.word("class", class)
	}
}

func (p *pen) end() { p.raw("/>") }

func (p *pen) shapes(list []Shape) {
	for i := range list {
		p.shape(&list[i])
	}
}

func (p *pen) shape(s *Shape) {
	switch s.Kind {
	case "rect":
		p.open("rect", s.Class)
		p.num("x", s.X)
		p.num("y", s.Y)
		p.num("width", s.W)
		p.num("height", s.H)
		p.end()
	case "line":
		p.open("line", s.Class)
		p.num("x1", s.X)
		p.num("y1", s.Y)
		p.num("x2", s.X2)
		p.num("y2", s.Y2)
		p.end()
	case "circle":
		p.open("circle", s.Class)
		p.num("cx", s.X)
		p.num("cy", s.Y)
		p.num("r", s.R)
		p.end()
	case "path":
		p.open("path", s.Class)
		p.word("d", s.D)
		p.end()
	case "row":
		p.open("path", s.Class)
		p.raw(` d="`)
		p.row(s)
		p.raw(`"`)
		p.end()
	case "text":
		p.open("text", s.Class)
		p.num("x", s.X)
		p.num("y", s.Y)
		p.num("font-size", s.Size)
		if s.Anchor != "" && s.Anchor != "start" { // which it is where nothing is said
			p.word("text-anchor", s.Anchor)
		}
		p.raw(">")
		p.text(s.Text)
		p.raw("</text> ") // the space parts words where they are read one after the other
	}
}

// row is the outline of equal boxes side by side, each begun where the one before
// was.
func (p *pen) row(s *Shape) {
	for i := range s.N {
		if i == 0 {
			p.raw("M")
			p.figure(s.X)
			p.raw(" ")
			p.figure(s.Y)
		} else {
			p.raw("m")
			p.figure(s.Pitch)
			p.raw(" 0")
		}
		p.raw("h")
		p.figure(s.W)
		p.raw("v")
		p.figure(s.H)
		p.raw("h")
		p.figure(-s.W)
		p.raw("z")
	}
}

// figure writes a length to a hundredth, which no eye tells from the whole.
func (p *pen) figure(v float64) {
	n := int64(math.Round(v * 100))
	if n < 0 {
		p.raw("-")
		n = -n
	}
	*p = strconv.AppendInt(*p, n/100, 10)
	switch rest := n % 100; {
	case rest == 0:
	case rest%10 == 0:
		p.raw(".")
		*p = strconv.AppendInt(*p, rest/10, 10)
	default:
		p.raw(".")
		if rest < 10 {
			p.raw("0")
		}
		*p = strconv.AppendInt(*p, rest, 10)
	}
}
