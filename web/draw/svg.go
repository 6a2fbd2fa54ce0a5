package draw

import (
	"html"
	"math"
	"strconv"
	"strings"
)

// SVG writes the picture's shapes down.
func (p Picture) SVG() string { return SVG(p.Shapes) }

// SVG writes shapes down. It is written here and not as a page, since a busy shelf
// has thousands of them.
func SVG(shapes []Shape) string {
	var b strings.Builder
	for _, s := range shapes {
		switch s.Kind {
		case "rect":
			open(&b, "rect", s.Class, "x", s.X, "y", s.Y, "width", s.W, "height", s.H)
		case "line":
			open(&b, "line", s.Class, "x1", s.X, "y1", s.Y, "x2", s.X2, "y2", s.Y2)
		case "circle":
			open(&b, "circle", s.Class, "cx", s.X, "cy", s.Y, "r", s.R)
		case "path":
			open(&b, "path", s.Class, "d", s.D)
		case "row":
			open(&b, "path", s.Class, "d", row(s))
		case "text":
			open(&b, "text", s.Class, "x", s.X, "y", s.Y, "font-size", s.Size, "text-anchor", s.Anchor)
			b.WriteString(">" + html.EscapeString(s.Text) + "</text>")
			continue
		}
		b.WriteString("/>")
	}
	return b.String()
}

// open writes a mark up to the end of its names and values.
func open(b *strings.Builder, mark, class string, pairs ...any) {
	b.WriteString("<" + mark)
	if class != "" {
		b.WriteString(` class="` + html.EscapeString(class) + `"`)
	}
	for i := 0; i < len(pairs); i += 2 {
		b.WriteString(" " + pairs[i].(string) + `="`)
		switch v := pairs[i+1].(type) {
		case float64:
			b.WriteString(figure(v))
		case string:
			b.WriteString(html.EscapeString(v))
		}
		b.WriteByte('"')
	}
}

// row is the outline of equal boxes side by side.
func row(s Shape) string {
	box := "h" + figure(s.W) + "v" + figure(s.H) + "h" + figure(-s.W) + "z"
	var b strings.Builder
	for i := range s.N {
		b.WriteString("M" + figure(s.X+float64(i)*s.Pitch) + " " + figure(s.Y) + box)
	}
	return b.String()
}

// figure writes a length to a hundredth, which no eye tells from the whole.
func figure(v float64) string {
	v = math.Round(v*100) / 100
	if v == 0 {
		return "0" // never "-0"
	}
	return strconv.FormatFloat(v, 'f', -1, 64)
}
