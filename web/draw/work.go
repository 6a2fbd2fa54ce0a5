package draw

import (
	"fmt"
	"math"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// Work is what the drawing of a step knows: the order, the step, what is done of the others, and how
// warm the pots are.
type Work struct {
	Order run.Order
	Step  run.Step
	Done  map[string]bool
	Warm  run.Meeting
}

// The bench as it is seen at one step: things stand on the board, and what moves has an arrow.
const (
	workW, workH = 520.0, 210.0
	workBoard    = 172.0
	workLabel    = 196.0
	workJugW     = 84.0
	workPotW     = 128.0
	workTall     = 104.0
	workFull     = 0.68 // of a vessel with all of its own in it
	mostVessels  = 6    // drawn side by side; more are counted
)

// OfWork draws what a step does: a jug, a pot or the molds, filling as the work goes on. ok is false
// for a step that has nothing to show.
func OfWork(w Work) (p Picture, ok bool) {
	p = Picture{W: workW, H: workH}
	into := w.Order.Into(w.Step)
	mold, readies := run.MoldStep(w.Step)
	filled, fills := run.FillStep(w.Step)
	laid, lays := run.DesignStep(w.Step)
	if !fills && w.Step.Kind != run.Pour {
		p.line("ln-fine", 0, workBoard, workW, workBoard)
	}
	switch {
	case w.Step.Kind == run.Weigh, w.Step.Kind == run.Trace: // the one has its beaker, the other its choices drawn
		return p, false
	case w.Step.Kind == run.Check:
		p.workScale()
	case readies && mold < len(w.Order.Molds):
		return markedMold(w.Order.Molds[mold]), true
	case lays && laid < len(w.Order.Formula.DesignSteps()):
		return designUpTo(w.Order.Formula, laid+1), true
	case fills:
		p = filling(w.Order.Molds, filled)
	case w.Step.Kind == run.Pour:
		p = filling(w.Order.Molds, len(w.Order.Molds))
	case w.Step.Kind == run.Cover:
		p.workMolds(standing(w.Order.Molds), len(w.Order.Molds), workBoard, false)
		p.workCover(w.Order.Cover())
	case w.Step.Kind == run.LyeIn:
		p.workJug(190, 0.45, "wet", "the liquid")
		p.tipped(330, 40, "the lye")
		p.arrow(318, 62, 250, 92)
		p.steam(226)
	case w.Step.Kind == run.Warm:
		return w.pots(), true
	case w.Step.Kind == run.Meet:
		p.workPot(220, workFull, "batter", "the fats")
		p.tipped(360, 28, "the lye")
		p.sieve(284, 52)
		p.arrow(350, 40, 306, 50)
	case run.IsPortion(w.Step), into == additive.APortion:
		p.portions(w)
	case w.Step.Kind == run.Milk || into == additive.TheFats:
		p.workPot(150, workFull, "batter", "the fats")
		p.pouredIn(w.Step.Item)
	case into == additive.TheLye, into == additive.ThePlainLiquid:
		p.workJug(190, workFull, "wet", "the jug")
		p.pouredIn(w.Step.Item)
	case w.Step.Item.Key != "" && into == additive.TheTop:
		p.workMolds(standing(w.Order.Molds), len(w.Order.Molds), workBoard, false)
		p.pouredIn(w.Step.Item)
	case w.Step.Item.Key != "", w.Step.Kind == run.Eye:
		p.workPot(150, workFull, "batter", "the batter")
		p.pouredIn(w.Step.Item)
	case run.Melts(w.Step), run.Cooks(w.Step):
		p.workPot(196, workFull, "batter", "low heat, stirred")
		p.steam(260)
	default:
		return p, false
	}
	p.Title = w.Step.Title
	return p, true
}

// workVessel is a straight-walled vessel on the board, filled to a share of its height.
func (p *Picture) workVessel(x, wide, share float64, class, name string) {
	top := workBoard - workTall
	if tall := (workTall - 4) * math.Min(1, share); tall > 0.5 {
		p.rect(class, x+2, workBoard-2-tall, wide-4, tall)
	}
	p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", x, top, workBoard, x+wide, top))
	p.text("", x+wide/2, workLabel, labelSize, "middle", name)
}

func (p *Picture) workJug(x, share float64, class, name string) {
	p.workVessel(x, workJugW, share, class, name)
	top := workBoard - workTall
	p.path("ln", fmt.Sprintf("M%.1f %.1fl-14 -8M%.1f %.1fq30 4 30 32t-30 28", x, top, x+workJugW, top+16))
}

func (p *Picture) workPot(x, share float64, class, name string) {
	p.workVessel(x, workPotW, share, class, name)
	top := workBoard - workTall
	p.path("ln", fmt.Sprintf("M%.1f %.1fq-20 2 -20 18M%.1f %.1fq20 2 20 18", x, top+12, x+workPotW, top+12))
}

// tipped is a cup that is being emptied to the left.
func (p *Picture) tipped(x, y float64, name string) {
	p.path("batter", fmt.Sprintf("M%.1f %.1fl47 -16l6 17l-50 14z", x+3, y+15))
	p.path("ln", fmt.Sprintf("M%.1f %.1fl44 -18l12 34l-50 14", x, y))
	p.text("", x+68, y+16, labelSize, "start", name)
}

func (p *Picture) arrow(x, y, x2, y2 float64) {
	p.path("ln-mark", fmt.Sprintf("M%.1f %.1fQ%.1f %.1f %.1f %.1f", x, y, (x+x2)/2, y-8, x2, y2))
	p.path("found", fmt.Sprintf("M%.1f %.1fl14 -4l-8 -10z", x2-3, y2+6))
}

// pouredIn is what a step adds, by name, on its way into what stands at the left.
func (p *Picture) pouredIn(i plan.Item) {
	p.tipped(330, 34, short(i.Name, 18))
	if i.Target > 0 {
		p.text("title", 398, 76, labelSize+4, "start", unit.Fixed(i.Target, i.Decimals)+" g")
	}
	p.arrow(318, 58, 262, 84)
}

func (p *Picture) steam(x float64) {
	for i := range 3 {
		p.path("ln-fine", fmt.Sprintf("M%.1f %.1fq-8 -10 0 -20t0 -20", x-22+float64(i)*22, workBoard-workTall-4))
	}
}

// sieve hangs over the pot, for what has not dissolved.
func (p *Picture) sieve(x, y float64) {
	p.path("ln", fmt.Sprintf("M%.1f %.1fq26 34 52 0zM%.1f %.1fl34 -6", x-26, y, x+26, y))
	for i := range 4 {
		p.line("ln-fine", x-14+float64(i)*9, y+3, x-12+float64(i)*8, y+11)
	}
}

// workScale is a scale with a weight that one knows.
func (p *Picture) workScale() {
	p.path("soap", fmt.Sprintf("M170 %.1fl16 -34h148l16 34z", workBoard))
	p.rect("wood", 190, workBoard-46, 140, 10)
	p.rect("wet", 226, workBoard-28, 68, 20)
	p.path("batter", fmt.Sprintf("M232 %.1fl8 -56h40l8 56zM252 %.1fa8 8 0 1 1 16 0", workBoard-47, workBoard-104))
	p.text("", 260, workLabel, labelSize, "middle", "a weight you know")
}

// stood are molds as they stand side by side on the bench, in one scale.
type stood struct {
	boxes []stoodMold
	all   int     // with those that are not drawn
	tall  float64 // of the highest, on the canvas
}

// stoodMold is one of them, with its sizes on the canvas.
type stoodMold struct {
	of                 int // which kind
	name               string
	x, wide, rim, fill float64
	lineMM             float64 // where it is filled to; 0 where only its water is known
}

// standing lays molds out in true proportion; one that is known by its water alone is a cube of it.
func standing(molds []run.Vessel) stood {
	const gap = 22.0
	var out stood
	sum := 0.0
	for i, v := range molds {
		l, _ := floor(v.Mold)
		rim, fill := rimOf(v.Mold), v.Mold.Fill
		if l <= 0 || rim <= 0 {
			l = math.Cbrt(math.Max(v.Mold.Volume(), 1) * 1000)
			rim, fill = l*(1+rim), l
		}
		for range v.Count {
			if out.all++; len(out.boxes) < mostVessels {
				out.boxes = append(out.boxes, stoodMold{of: i, name: v.Name, wide: l, rim: rim, fill: fill, lineMM: v.Mold.Fill})
				sum, out.tall = sum+l, math.Max(out.tall, rim)
			}
		}
	}
	n := float64(len(out.boxes))
	scale := math.Min((workW-gap*(n+1))/math.Max(sum, 1), workTall/math.Max(out.tall, 1))
	out.tall *= scale
	x := (workW - sum*scale - gap*(n-1)) / 2
	for i := range out.boxes {
		b := &out.boxes[i]
		b.x, b.wide, b.rim, b.fill = x, b.wide*scale, b.rim*scale, b.fill*scale
		x += b.wide + gap
	}
	return out
}

// filling draws the pour mold by mold.
func filling(molds []run.Vessel, current int) Picture {
	s := standing(molds)
	board := s.tall + 30
	p := Picture{W: workW, H: board + workH - workBoard}
	p.line("ln-fine", 0, board, workW, board)
	p.workMolds(s, current, board, true)
	return p
}

// workMolds draws molds on a board: those before the current one are full, the current one fills.
func (p *Picture) workMolds(molds stood, current int, board float64, lines bool) {
	label := board + workLabel - workBoard
	for i, b := range molds.boxes {
		switch {
		case b.of < current:
			p.rect("batter", b.x, board-b.fill, b.wide, b.fill)
		case b.of == current:
			p.rect("batter", b.x, board-b.fill/2, b.wide, b.fill/2)
			p.path("found", fmt.Sprintf("M%.1f %.1fl-8 -12h16z", b.x+b.wide/2, board-b.rim-8))
		}
		p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", b.x, board-b.rim, board, b.x+b.wide, board-b.rim))
		if lines {
			p.line("ln-mark", b.x-6, board-b.fill, b.x+b.wide+6, board-b.fill)
		}
		if i == 0 || molds.boxes[i-1].of != b.of {
			words := short(b.name, max(6, int(b.wide/8)))
			if lines && b.lineMM > 0 && b.wide > 90 {
				words += ", " + unit.Trim(b.lineMM, 0) + " mm"
			}
			p.text("", b.x+b.wide/2, label, labelSize, "middle", words)
		}
	}
	if more := molds.all - len(molds.boxes); more > 0 {
		p.text("soft", workW-4, 16, labelSize, "end", fmt.Sprintf("and %d more", more))
	}
}

// workCover is what keeps the molds warm or cold: towels, the oven, the cold box; nothing where they
// stand open.
func (p *Picture) workCover(c recipe.Cover) {
	switch c {
	case "insulate":
		p.path(
			"wood",
			fmt.Sprintf("M30 %.1fv-70q0 -40 40 -40h380q40 0 40 40v70q-20 14 -40 0t-60 0t-60 0t-60 0t-60 0t-60 0t-60 0t-60 0z", workBoard-16),
		)
	case "oven", "chill":
		p.path("ln", fmt.Sprintf("M6 %.1fV22q0 -10 10 -10H504q10 0 10 10V%.1f", workBoard, workBoard))
		for i := range 5 {
			x := 80 + float64(i)*90
			if c == "oven" {
				p.path("ln-mark", fmt.Sprintf("M%.1f 30q-8 8 0 16t0 16", x))
			} else {
				p.path("curve-lye", fmt.Sprintf("M%.1f 30v24M%.1f 36l20 12M%.1f 48l20 -12", x, x-10, x-10))
			}
		}
	}
}

// markedMold is a mold with its liner, the line to fill to and where it is cut, in mm as they are
// measured with a ruler.
func markedMold(v run.Vessel) Picture {
	p := OfMold(v.Mold, v.Mold.Cuts(v.Cut), 0).Picture
	p.Title = "Set out " + v.Name + ": " + p.Title
	return p
}

// portions are the jugs that the batter is split into, in their colours: those done are full, the
// one at hand is pointed at.
func (p *Picture) portions(w Work) {
	sizes := plan.PortionsOf(w.Order.Formula, w.Order.Pot)
	if len(sizes) == 0 {
		return
	}
	at, most := w.Order.PortionOf(w.Step), 0.0
	for _, s := range sizes {
		most = math.Max(most, s.With)
	}
	cell := workW / float64(len(sizes))
	wide := math.Min(workJugW, cell-34)
	before := true // up to the one at hand they are split off
	for i, s := range sizes {
		x := cell*(float64(i)+0.5) - wide/2
		share := 0.0
		if split := w.Done[run.PortionKey(s.Name)]; split || before && run.IsPortion(w.Step) && s.Name != at || s.Name == at {
			share = 0.25 + 0.55*s.With/math.Max(most, 1)
		}
		p.workVessel(x, wide, share, "tone tone-"+toneClass(s.Tone), short(s.Name, int(cell/9)))
		p.text("", x+wide/2, workBoard-workTall-8, labelSize, "middle", unit.Fixed(s.Grams, 0)+" g")
		if s.Name == at {
			before = false
			p.rect("found", x-4, workBoard+3, wide+8, 5)
			if w.Step.Item.Key != "" {
				p.path("found", fmt.Sprintf("M%.1f %.1fl-9 -14h18z", x+wide/2, workBoard-workTall+22))
			}
		}
	}
}

// pots are the lye and the fats with their temperatures on one scale, and the band in which both are
// to be when they meet.
func (w Work) pots() Picture {
	const tall, axis = 250.0, 262.0
	p := Picture{W: workW, H: tall, Title: w.Step.Title}
	m := w.Warm
	low, high := m.Low-15, m.High+15
	for _, c := range []float64{m.LyeC, m.FatsC} {
		if !math.IsNaN(c) {
			low, high = math.Min(low, c-5), math.Max(high, c+5)
		}
	}
	y := func(c float64) float64 { return tall - 20 - (c-low)/(high-low)*(tall-44) }
	p.rect("band-settled", 150, y(m.High), 220, y(m.Low)-y(m.High))
	p.line("ln-fine", axis, 12, axis, tall-12)
	for c := math.Ceil(low/10) * 10; c <= high; c += 10 {
		p.line("ln-fine", axis-5, y(c), axis+5, y(c))
		p.text("soft", axis+10, y(c)+5, 14, "start", unit.Fixed(c, 0)+" °C")
	}
	var words []string
	for _, pot := range []struct {
		name string
		c, x float64
		side string
	}{{"Lye", m.LyeC, 140, "end"}, {"Fats", m.FatsC, 380, "start"}} {
		if math.IsNaN(pot.c) {
			p.text("soft", pot.x, tall/2, 20, pot.side, pot.name+": not read")
			continue
		}
		to := 154.0
		if pot.side == "start" {
			to = 366
		}
		p.line("ln-mark", math.Min(to, pot.x)+2, y(pot.c), math.Max(to, pot.x)-2, y(pot.c))
		p.circle("found", to, y(pot.c), 7)
		said := fmt.Sprintf("%s %s °C", pot.name, unit.Fixed(pot.c, 0))
		p.text("title", pot.x, y(pot.c)+8, 24, pot.side, said)
		words = append(words, said)
	}
	if len(words) > 0 {
		p.Title += ": " + strings.Join(words, ", ")
	}
	return p
}

// How the line that runs off a spoon stands on the batter, by trace: how high, and how long it stays.
var traceLines = map[string]struct{ ridge, wide, ends float64 }{
	"emulsion": {0, 5, 0.35}, "light": {3, 7, 0.7}, "medium": {9, 10, 1}, "thick": {20, 16, 1},
}

// OfTrace is a thickness as the line that the spoon leaves on the batter.
func OfTrace(name string) Picture {
	const wide, tall, surface, x = 108.0, 104.0, 70.0, 4.0
	p := Picture{W: wide + 2*x + 8, H: tall, Title: "Trace, " + name}
	t := traceLines[name]
	from, along := x+wide*0.08, wide*0.58*t.ends
	top := fmt.Sprintf("M%.1f %.1f", x, surface)
	if t.ridge > 0 {
		top += fmt.Sprintf("H%.1f", from)
		for range 4 {
			top += fmt.Sprintf("q%.1f %.1f %.1f 0", along/8, -2*t.ridge, along/4)
		}
	}
	p.path("batter", top+fmt.Sprintf("H%.1fV%.1fH%.1fZ", x+wide, tall-2, x))
	if t.ridge == 0 {
		p.path("ln-dash", fmt.Sprintf("M%.1f %.1fh%.1f", from, surface+2, along))
	}
	p.path("ln", fmt.Sprintf("M%.1f 40V%.1fH%.1fV40", x, tall-2, x+wide))
	spoon := from + along
	p.path("batter", fmt.Sprintf("M%.1f 18h%.1fV%.1fh-%.1fz", spoon-t.wide/2, t.wide, surface-t.ridge, t.wide))
	p.path("wood", fmt.Sprintf("M%.1f 22q-14 0 -14 -9t14 -9q12 0 14 8l26 -12l4 6l-28 13q-4 3 -14 3z", spoon-2))
	return p
}
