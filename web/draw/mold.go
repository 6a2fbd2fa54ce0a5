package draw

import (
	"fmt"
	"math"
	"strings"

	"ashshelf/soap/gel"
	"ashshelf/soap/mold"
	"ashshelf/soap/unit"
)

// Mold is a mold from the front and from above, in true proportion, with its
// fill line and its cuts.
type Mold struct{ Picture }

const (
	moldW    = 480.0 // canvas
	moldGap  = 26.0
	moldEdge = 34.0
	moldMost = 300.0 // height for front and above together
	rim      = 0.18  // of the fill height, where the rim was not measured
	wall     = 5.0
	apartAt  = 1.15 // pitch of cavities to their size
)

// CommonScale is the scale in canvas units per mm at which all the molds fit
// their canvas, so that they can be compared by eye.
func CommonScale(molds []mold.Mold) float64 {
	s := math.Inf(1)
	for _, m := range molds {
		s = math.Min(s, ownScale(m))
	}
	if math.IsInf(s, 1) {
		return 0
	}
	return s
}

func ownScale(m mold.Mold) float64 {
	if c, ok := cellsOf(m); ok {
		l, w := c.size()
		return math.Min((moldW-2*moldEdge)/l, moldMost/w)
	}
	l, w := floor(m)
	return math.Min((moldW-2*moldEdge)/l, moldMost/(w+rimOf(m)))
}

// floor is the length and depth in mm of a mold that is one piece.
func floor(m mold.Mold) (l, w float64) {
	if m.Shape == mold.Cylinder {
		return m.Diameter, m.Diameter
	}
	return m.Length, m.Width
}

// rimOf is the height in mm of the rim.
func rimOf(m mold.Mold) float64 { return math.Max(m.Height, m.Fill*(1+rim)) }

// cells are equal cavities as they lie from above.
type cells struct {
	n, cols, rows int
	l, w          float64 // of one, mm
	round         bool
	outline       mold.Outline
}

func (c cells) size() (l, w float64) {
	return float64(c.cols) * c.l * apartAt, float64(c.rows) * c.w * apartAt
}

// cellsOf lays cavities out nearly square. A cavity that is only known by its
// water is drawn as a cube of that volume. ok is false for a mold in one piece.
func cellsOf(m mold.Mold) (c cells, ok bool) {
	c.n = max(1, m.Cavities)
	switch {
	case m.Shape == mold.Water:
		c.l = math.Cbrt(m.WaterG * 1000)
		c.w, c.outline = c.l, m.Outline
	case c.n == 1 || m.Shape == mold.Grid:
		return c, false
	case m.Shape == mold.Cylinder:
		c.l, c.w, c.round = m.Diameter, m.Diameter, true
	default:
		c.l, c.w = m.Length, m.Width
	}
	c.cols = int(math.Ceil(math.Sqrt(float64(c.n) * 1.6 * c.w / c.l)))
	c.cols = min(max(1, c.cols), c.n)
	c.rows = (c.n + c.cols - 1) / c.cols
	return c, true
}

// OfMold lays a mold out with its cuts. scale 0 takes the largest that fits
// and says under the picture what is seen.
func OfMold(m mold.Mold, cut mold.Bars, scale float64) Mold {
	captions := scale == 0
	if scale == 0 {
		scale = ownScale(m)
	}
	p := Picture{W: moldW, Title: "The mold drawn to scale: " + m.Describe()}
	if c, ok := cellsOf(m); ok {
		p.cavities(c, scale)
		if captions {
			p.H += 20
			text := "from above"
			if m.Shape == mold.Water && m.Outline == "" {
				text += "; the shape is not known, only the water"
			}
			p.text("soft", moldW/2, p.H-6, 14, "middle", text)
		}
		return Mold{p}
	}
	p.front(m, cut, scale)
	if captions {
		p.text("soft", moldW/2, moldEdge/2+rimOf(m)*scale+wall+moldGap-8, 14, "middle", "front, and from above")
	}
	return Mold{p}
}

// outlines are the shapes of cavities, each as the curves of its edge in a square of one: a start, and
// then two handles and an end for each curve.
var outlines = map[mold.Outline][]float64{
	"bar": {
		.1, .2, .1, .2, .9, .2, .9, .2, 1, .2, 1, .3, 1, .3, 1, .3, 1, .7, 1, .7, 1, .8, .9, .8, .9, .8, .9, .8, .1, .8, .1, .8,
		0, .8, 0, .7, 0, .7, 0, .7, 0, .3, 0, .3, 0, .2, .1, .2, .1, .2,
	},
	"round":   {.5, 0, .776, 0, 1, .224, 1, .5, 1, .776, .776, 1, .5, 1, .224, 1, 0, .776, 0, .5, 0, .224, .224, 0, .5, 0},
	"oval":    {.5, .15, .776, .15, 1, .307, 1, .5, 1, .693, .776, .85, .5, .85, .224, .85, 0, .693, 0, .5, 0, .307, .224, .15, .5, .15},
	"hexagon": corners(6, 1),
	"star":    corners(5, .5),
	"heart":   {.5, .95, .2, .72, 0, .55, 0, .32, 0, .04, .38, 0, .5, .24, .62, 0, 1, .04, 1, .32, 1, .55, .8, .72, .5, .95},
	"leaf":    {.5, 0, .95, .2, 1, .7, .5, 1, 0, .7, .05, .2, .5, 0},
	"flower":  petals(6),
}

// corners is a figure of n points; in below 1 draws the edge in between them, as in a star.
func corners(n int, in float64) []float64 {
	var out []float64
	for i := range 2*n + 1 {
		r, at := 0.5, math.Pi*float64(i)/float64(n)-math.Pi/2
		if i%2 == 1 {
			if in == 1 {
				continue
			}
			r *= in
		}
		x, y := .5+r*math.Cos(at), .5+r*math.Sin(at)
		if len(out) > 0 {
			out = append(out, out[len(out)-2], out[len(out)-1], x, y)
		}
		out = append(out, x, y)
	}
	return out
}

// petals is a figure of n round petals.
func petals(n int) []float64 {
	at := func(i, r float64) (x, y float64) {
		a := 2*math.Pi*i/float64(n) - math.Pi/2
		return .5 + r*math.Cos(a), .5 + r*math.Sin(a)
	}
	x, y := at(-0.5, .3)
	out := []float64{x, y}
	for i := range n {
		x1, y1 := at(float64(i)-.45, .58)
		x2, y2 := at(float64(i)+.45, .58)
		x3, y3 := at(float64(i)+.5, .3)
		out = append(out, x1, y1, x2, y2, x3, y3)
	}
	return out
}

// outlined writes an outline into a box of the canvas.
func outlined(d []float64, x, y, w, h float64) string {
	var b strings.Builder
	for i := 0; i+1 < len(d); i += 2 {
		switch {
		case i == 0:
			b.WriteString("M")
		case i%6 == 2:
			b.WriteString("C")
		default:
			b.WriteString(" ")
		}
		fmt.Fprintf(&b, "%.1f %.1f", x+d[i]*w, y+d[i+1]*h)
	}
	return b.String() + "Z"
}

func (p *Picture) cavities(c cells, scale float64) {
	wide, deep := c.size()
	x0, top := (moldW-wide*scale)/2, moldEdge/2
	for i := range c.n {
		x := x0 + float64(i%c.cols)*c.l*apartAt*scale
		y := top + float64(i/c.cols)*c.w*apartAt*scale
		l, w := c.l*scale, c.w*scale
		if d := outlines[c.outline]; d != nil {
			p.path("wood", outlined(d, x-2, y-2, l+4, w+4))
			p.path("batter", outlined(d, x, y, l, w))
		} else if c.round {
			p.circle("wood", x+l/2, y+l/2, l/2+2)
			p.circle("batter", x+l/2, y+l/2, l/2)
		} else {
			p.rect("wood", x-2, y-2, l+4, w+4)
			p.rect("batter", x, y, l, w)
		}
	}
	p.H = top + deep*scale + 6
}

// front draws a mold in one piece: its walls with the batter up to the fill
// line, and below it the view from above. Cuts are dashes; what is trimmed or
// left over as an end is damp.
func (p *Picture) front(m mold.Mold, cut mold.Bars, scale float64) {
	l, w := floor(m)
	l, w = l*scale, w*scale
	h, high := m.Fill*scale, rimOf(m)*scale
	x0, top := (moldW-l)/2, moldEdge/2
	base := top + high
	p.path(
		"wood",
		fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1fH%.1fV%.1fH%.1fV%.1fZ", x0-wall, top, base+wall, x0+l+wall, top, x0+l, base, x0, top),
	)
	p.rect("batter", x0, base-h, l, h)
	above := base + wall + moldGap
	if m.Shape == mold.Cylinder {
		p.circle("wood", x0+l/2, above+w/2, l/2+wall)
		p.circle("batter", x0+l/2, above+w/2, l/2)
		for _, at := range cut.Marks {
			p.line("ln-dash", x0, base-at*scale, x0+l, base-at*scale)
		}
	} else {
		p.rect("wood", x0-wall, above-wall, l+2*wall, w+2*wall)
		p.rect("batter", x0, above, l, w)
	}
	if m.Shape == mold.Grid {
		p.dividers(m, x0, above, scale)
	} else if m.Shape == mold.Box {
		last := 0.0
		for i, at := range cut.Marks {
			x := x0 + at*scale
			if i == 0 && at < cut.Thickness-1e-6 {
				p.rect("damp", x0, above, at*scale, w) // trimmed off
			}
			p.line("ln-dash", x, base-h, x, base)
			p.line("ln-dash", x, above, x, above+w)
			last = at
		}
		if rest := cut.Along - last; len(cut.Marks) > 0 && rest < cut.Thickness-1e-6 {
			p.rect("damp", x0+last*scale, above, rest*scale, w)
		}
		for i := 1; i < cut.Loaves; i++ {
			y := above + w*float64(i)/float64(cut.Loaves)
			p.line("ln-dash", x0, y, x0+l, y)
		}
	}
	p.line("ln-mark", x0-wall-8, base-h, x0+l+wall+8, base-h)
	p.H = above + w + wall + 6
}

// dividers draws the walls between the cells of a grid, in true thickness.
func (p *Picture) dividers(m mold.Mold, x0, y0, scale float64) {
	t := math.Max(m.Divider*scale, 1.5)
	for i := 1; i < m.Cols; i++ {
		x := m.Length * float64(i) / float64(m.Cols) * scale
		p.rect("wood", x0+x-t/2, y0, t, m.Width*scale)
	}
	for i := 1; i < m.Rows; i++ {
		y := m.Width * float64(i) / float64(m.Rows) * scale
		p.rect("wood", x0, y0+y-t/2, m.Length*scale, t)
	}
}

// The measures of a loaf that warms and cools.
const (
	gelWide, gelHigh = 150.0, 120.0 // of one cross-section at most
	gelGap           = 26.0
	gelLine          = 4 // to a row
)

// gelTints are the temperatures from which on a cell has another tint.
var gelTints = []float64{35, 45, 55, 65, 75, 85}

// OfGel draws the cross-section of a loaf at some hours: the warmer, the darker, with a line around what has gelled.
func OfGel(c gel.Course, width, height float64, words string) (p Picture) {
	scale := math.Min(gelWide/width, gelHigh/height)
	w, h := width*scale, height*scale
	rows := (len(c.Moments) + gelLine - 1) / gelLine
	p = Picture{W: gelLine * (gelWide + gelGap), H: float64(rows) * (h + 34), Title: words}
	for n, m := range c.Moments {
		left := float64(n%gelLine)*(gelWide+gelGap) + (gelWide-w)/2
		top := float64(n/gelLine) * (h + 34)
		ny, nx := len(m.Warmth), len(m.Warmth[0])
		dx, dy := w/2/float64(nx), h/float64(ny)
		for y, row := range m.Warmth {
			at := top + h - float64(y+1)*dy
			p.band(row, left+w/2, at, dx, dy)
		}
		if ring := gelRing(m.Gelled, left+w/2, top+h, dx, dy); ring != "" {
			p.path("gel-ring", ring)
		}
		p.rect("ln", left, top, w, h)
		said := fmt.Sprintf("%s h, %.0f °C", unit.Trim(m.Hour, 1), m.Warmth[ny/2][0])
		p.text("soft", left+w/2, top+h+18, 13, "middle", said)
	}
	return p
}

// band draws a row of cells from the middle outward to both sides, as few rectangles as do.
func (p *Picture) band(row []float64, middle, y, dx, dy float64) {
	dy += 0.4 // so that no light shows between two rows
	class := func(i int) string {
		tint := 0
		for _, from := range gelTints {
			if row[i] >= from {
				tint++
			}
		}
		return fmt.Sprintf("warm-%d", tint)
	}
	for from := 0; from < len(row); {
		to := from + 1
		for to < len(row) && class(to) == class(from) {
			to++
		}
		a, b := float64(from)*dx, float64(to)*dx
		if from == 0 {
			p.rect(class(from), middle-b, y, 2*b, dy)
		} else {
			p.rect(class(from), middle+a, y, b-a, dy)
			p.rect(class(from), middle-b, y, b-a, dy)
		}
		from = to
	}
}

// gelRing is the line between what has gelled and what has not, around both halves. Rows stand from the floor up.
func gelRing(gelled [][]bool, middle, floor, dx, dy float64) string {
	var d strings.Builder
	at := func(y, x int) bool { return y >= 0 && y < len(gelled) && x < len(gelled[y]) && gelled[y][x] }
	line := func(x1, y1, x2, y2 float64) {
		fmt.Fprintf(&d, "M%.1f %.1fL%.1f %.1f", middle+x1, y1, middle+x2, y2)
		fmt.Fprintf(&d, "M%.1f %.1fL%.1f %.1f", middle-x1, y1, middle-x2, y2)
	}
	for y := range len(gelled) + 1 {
		bottom := floor - float64(y)*dy
		for x := range gelled[0] {
			left, right := float64(x)*dx, float64(x+1)*dx
			if at(y, x) != at(y-1, x) {
				line(left, bottom, right, bottom)
			}
			if y < len(gelled) && at(y, x) != at(y, x+1) {
				line(right, bottom, right, bottom-dy)
			}
		}
	}
	return d.String()
}
