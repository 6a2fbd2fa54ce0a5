package draw

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/schedule"
	"ashshelf/soap/unit"
)

// Rack is a rack as it stands in the room: boards with lots along them, each a run
// of bars with its tag hanging from the board.
type Rack struct {
	Picture
	OID    string // of a rack that stands in the room; empty for lots without a place
	Levels []LevelAt
	Lots   []RackLot
}

// LevelAt is where a level of a rack is on the canvas.
type LevelAt struct {
	Level int // from the lowest, as the records count
	Y, H  float64
}

// LevelsAt writes the levels for the script that moves lots: "level:top:height" each.
func (r Rack) LevelsAt() string {
	words := make([]string, len(r.Levels))
	for i, l := range r.Levels {
		words[i] = fmt.Sprintf("%d:%.0f:%.0f", l.Level, l.Y, l.H)
	}
	return strings.Join(words, " ")
}

// RackLot is one lot on the rack. Its shapes are drawn at its place.
type RackLot struct {
	OID, Code, Words string // Words are read aloud
	Found            bool
	X, Y, W, H       float64
	Shapes           []Shape
}

// The measures of a rack's picture.
const (
	inner     = 726.0 // of a level, which is as wide as that however wide it stands in the room
	leastCell = 112.0 // of a lot, so that its tag can be read
	slotW     = inner / 3
	slotMM    = 300.0 // that a slot of a rack that is not told of stands for
	signH     = 20.0  // above the bars: flag, arrow, pointer
	barsH     = 44.0
	board     = 11.0
	tagH      = 44.0
	levelH    = signH + barsH + board + tagH
	freeH     = 34.0 // of a level with nothing on it
	post      = 12.0
	rackTop   = 8.0
	tagIndent = 10.0
	behindX   = 3.0 // how far the bars behind stand out
	behindY   = 4.0
	leastBar  = 4.0 // one bar and its air, narrower than which no eye counts them
	leastName = 5   // letters of a name, fewer than which say nothing
)

// RackInput is what a lot on the rack is drawn from.
type RackInput struct {
	Lot   *lot.Lot
	Gate  *cure.Gate // nil until poured
	Stand rack.Lot   // its bars as they stand
	Tag   string     // "day 12 of 28"
	Turn  bool       // its bars want turning
	Found bool       // it is what was looked for
	Now   time.Time
	Mold  *schedule.Task // the window of one that is in its mold
}

// OfRack lays lots that have no place out along boards, the given order from the
// top left.
func OfRack(lots []RackInput) Rack {
	p := Rack{Picture: Picture{W: inner + 2*post}}
	perLevel := int(inner / slotW)
	y := rackTop
	for from := 0; from < max(len(lots), 1); from += perLevel {
		p.board(y + signH + barsH)
		for i, in := range lots[from:min(from+perLevel, len(lots))] {
			p.Lots = append(p.Lots, rackLot(in, 2, slotW/slotMM, post+float64(i)*slotW, y, slotW))
		}
		y += levelH
	}
	p.posts(y)
	p.Title = "Without a place: " + counted(len(lots), "lot")
	return p
}

// OfStand lays a rack out as it stands in the room: its levels from the top down,
// the lots of each side by side, as wide as they are, and what is free beside them.
// A lot too narrow for its tag is given the room of one; the picture then grows
// wider than the rack is drawn otherwise.
func OfStand(name string, r rack.Rack, levels [][]RackInput, sys unit.System) Rack {
	p := Rack{Picture: Picture{W: inner + 2*post}}
	scale := inner / r.WidthMM
	cell := func(in RackInput) float64 { return math.Max(leastCell, r.Width(in.Stand)*scale) }
	for _, level := range levels {
		w := 2 * post
		for _, in := range level {
			w += cell(in)
		}
		p.W = math.Max(p.W, w)
	}
	y := rackTop
	for i := len(levels) - 1; i >= 0; i-- {
		level := levels[i]
		if len(level) == 0 {
			p.text("soft", post+tagIndent, y+freeH-board-6, 12.5, "start", fmt.Sprintf("level %d is free", i+1))
			p.board(y + freeH - board)
			p.Levels = append(p.Levels, LevelAt{i, y, freeH})
			y += freeH
			continue
		}
		p.board(y + signH + barsH)
		p.Levels = append(p.Levels, LevelAt{i, y, levelH})
		x, free := post, r.WidthMM
		for _, in := range level {
			p.Lots = append(p.Lots, rackLot(in, r.Deep, scale, x, y, cell(in)))
			x, free = x+cell(in), free-r.Width(in.Stand)
		}
		if p.W-post-x >= leastCell {
			p.text("soft", p.W-post-tagIndent, y+signH+barsH-8, 12.5, "end", unit.FormatLength(math.Max(0, free), sys)+" free")
		}
		y += levelH
	}
	p.posts(y)
	p.Title = fmt.Sprintf("%s, %s with %s", name, counted(len(levels), "level"), counted(len(p.Lots), "lot"))
	return p
}

// counted says how many there are of something.
func counted(n int, one string) string {
	if n != 1 {
		one += "s"
	}
	return fmt.Sprintf("%d %s", n, one)
}

func (r *Rack) board(y float64) { r.rect("wood", 0, y, r.W, board) }

// posts closes the rack below its lowest level.
func (r *Rack) posts(y float64) {
	r.H = y + 6
	r.rect("wood", 0, rackTop-4, post, r.H-rackTop)
	r.rect("wood", r.W-post, rackTop-4, post, r.H-rackTop)
}

// rackLot draws a lot in a cell of its level. scale is px to a mm.
func rackLot(in RackInput, deep int, scale, x, y, w float64) RackLot {
	l := in.Lot
	out := RackLot{OID: l.OID, Code: l.Code, Found: in.Found, X: x, Y: y, W: w, H: levelH}
	p := &Picture{Shapes: make([]Shape, 0, 8)}
	left, top, floor := x+tagIndent/2, y+signH, y+signH+barsH
	held := len(l.Held()) > 0
	state := l.StageWords()
	end := left // of what stands there
	switch stage := l.Stage(); stage {
	case lot.Making:
		// A pot on the board, with its lid beside.
		p.path("ln-dash", fmt.Sprintf("M%.1f %.1fv-34h58v34z", left+12, floor))
		p.path("ln", fmt.Sprintf("M%.1f %.1fq-12 4 -12 14", left+12, floor-28))
		p.path("ln", fmt.Sprintf("M%.1f %.1fq12 4 12 14", left+70, floor-28))
		end += 82
	case lot.InMold:
		p.path("wood", fmt.Sprintf("M%.1f %.1fv-44h6v38h130v-38h6v44z", left, floor))
		p.rect("batter", left+6, floor-36, 130, 30)
		p.countdown(in, left+6, floor-36, 130, 30)
		end += 142
	case lot.Unmolded:
		p.rect("batter", left, floor-34, 142, 34)
		end += 142
	default:
		end = bars(p, in, deep, scale, left, top, w-tagIndent/2-behindX)
	}
	sign := left + 1
	if held {
		state = "on hold"
		p.path(
			"stop",
			fmt.Sprintf("M%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1f", left-3, top+2, end+3, floor-2, left-3, floor-2, end+3, top+2),
		)
	} else if l.Stage() == lot.Ready {
		p.path("done", fmt.Sprintf("M%.1f %.1fv-18h15l-4 5.5l4 5.5h-13v7z", sign, top))
		sign += 24
	}
	var words []string
	if in.Turn {
		// An arrow that bends over and points back down.
		p.path("ln", fmt.Sprintf("M%.1f %.1fv-6a6 6 0 0 1 12 0v5m-4 -4l4 4l4 -4", sign+2, top-3))
		words = append(words, "turn its bars")
	}
	if in.Found {
		p.path("found", fmt.Sprintf("M%.1f %.1fh18l-9 13z", x+w/2-9, y+2))
		words = append(words, "found")
	}
	tagX, tagY := x+tagIndent, floor+board+18
	p.text("title", tagX, tagY, 15, "start", l.Code)
	// Letters are counted, not measured: a code's are at most 10.5 wide, a name's about 6.6.
	name := ""
	nameX := tagX + 10.5*float64(len(l.Code)) + 6
	if letters := int((x + w - 4 - nameX) / 6.6); letters >= min(leastName, len(l.Frozen.Recipe)) {
		name = short(l.Frozen.Recipe, letters)
		p.text("", nameX, tagY, 13.5, "start", name)
	}
	p.text("soft", tagX, tagY+16, 12.5, "start", in.Tag)
	// What is read aloud begins with what is to be read, so that who says it to her computer is
	// understood; after it what the drawing shows.
	seen := strings.Join(slices.DeleteFunc([]string{l.Code, name, in.Tag}, func(s string) bool { return s == "" }), " ")
	if name != l.Frozen.Recipe {
		words = slices.Insert(words, 0, l.Frozen.Recipe)
	}
	out.Words = strings.Join(append([]string{"Lot " + seen, state}, words...), ", ")
	out.Shapes = p.Shapes
	return out
}

// countdown draws the time in the mold along it: what is past is firm already, the window is dashed, and
// a line is now. The mold's length is the time from the pour to the end of the window.
func (p *Picture) countdown(in RackInput, x, y, w, h float64) {
	l := in.Lot
	if in.Mold == nil || l.Pour == nil || !in.Mold.Closes.After(l.Pour.Occurred) {
		return
	}
	whole := in.Mold.Closes.Sub(l.Pour.Occurred).Hours()
	at := func(t time.Time) float64 {
		return x + w*math.Min(1, math.Max(0, t.Sub(l.Pour.Occurred).Hours()/whole))
	}
	p.rect("firm", x, y, at(in.Now)-x, h)
	p.rect("ribbon-window", at(in.Mold.Opens), y+2, x+w-at(in.Mold.Opens), h-4)
	p.line("now-line", at(in.Now), y-6, at(in.Now), y+h)
}

// bars draws a lot's bars side by side, as damp as they still are, and those behind
// them. It returns where they end.
func bars(p *Picture, in RackInput, deep int, scale, left, top, room float64) float64 {
	n := in.Stand.Bars
	if n == 0 {
		return left
	}
	deep = max(1, deep)
	front := (n + deep - 1) / deep
	pitch := (rack.Rack{Deep: 1}).Width(rack.Lot{Bars: 1, ThickMM: in.Stand.ThickMM}) * scale
	if pitch < leastBar || float64(front)*pitch > room { // what cannot be counted is drawn as a run
		length := math.Min(room, float64(front)*pitch)
		front = max(1, int(length/math.Max(leastBar, length/float64(front))))
		pitch = length / float64(front)
	}
	air := math.Min(6, pitch*0.24)
	behind := min(front, n/deep)
	w, h := pitch-air, barsH-4
	if deep > 1 && behind > 0 {
		p.row("soap", left+behindX, top+4-behindY, w, h, behind, pitch)
	}
	p.row("soap", left, top+4, w, h, front, pitch)
	if in.Lot.Stage() == lot.Curing && in.Gate != nil {
		if days := in.Lot.Policy().Days; days > 0 && in.Gate.DaysLeft > 0 {
			damp := (h - 2) * math.Min(1, float64(in.Gate.DaysLeft)/float64(days))
			p.row("damp", left+1, top+4+h-1-damp, w-2, damp, front, pitch)
		}
	}
	return left + float64(front)*pitch - air
}

// SVG writes the rack down, each lot as a link to its record.
func (r Rack) SVG() string {
	to := make(pen, 0, 1000*(len(r.Lots)+1)) // about what a lot takes
	to.shapes(r.Shapes)
	for _, l := range r.Lots {
		to.raw("<a")
		to.word("href", "/lots/"+l.OID)
		to.word("id", "at-"+l.Code)
		to.word("aria-label", l.Words)
		if l.Found {
			to.word("class", "is-found")
		}
		to.raw(">")
		to.shape(&Shape{Kind: "rect", Class: "hit", X: l.X, Y: l.Y, W: l.W, H: l.H})
		to.shapes(l.Shapes)
		to.raw("</a>")
	}
	return string(to)
}

// short cuts a name to a number of letters.
func short(name string, most int) string {
	if r := []rune(name); len(r) > most {
		return string(r[:max(most-1, 1)]) + "…"
	}
	return name
}
