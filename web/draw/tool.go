package draw

import (
	"fmt"
	"math"

	"ashshelf/shop/document"
)

// Tools stand on one board in one scale, so that one sees which holds what.
const (
	toolW, toolH    = 150.0, 150.0
	toolBoard       = 138.0
	toolTall        = 104.0 // of the largest vessel
	toolWide        = 0.95  // of a vessel to its height, as pots mostly are
	toolUsable      = 0.75  // of every vessel; the rest stays empty
	wireFrameW      = 120.0
	wireFrame, mmPx = 60.0, 0.8 // height of a cutter's frame; px to a mm between its wires
)

// OfTool draws a pot, a jug, a cooker or a cutter. most is what the largest vessel of the shop holds, in
// ml; the line in a vessel is how far it may be filled.
func OfTool(b document.ToolBody, most float64) Picture {
	p := Picture{W: toolW, H: toolH, Title: b.Kind.Words()}
	p.line("ln-fine", 0, toolBoard, toolW, toolBoard)
	if b.Kind == document.Cutter {
		p.cutter(b)
		return p
	}
	tall := toolTall * math.Cbrt(b.ML/math.Max(most, 1)) // in true proportion: a volume goes by the cube
	wide := tall * toolWide
	x, top := (toolW-wide)/2, toolBoard-tall
	fill := (tall - 2) * toolUsable
	p.rect(toolStuff[b.Kind], x+1, toolBoard-1-fill, wide-2, fill)
	p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", x, top, toolBoard, x+wide, top))
	p.line("ln-mark", x-4, toolBoard-1-fill, x+wide+4, toolBoard-1-fill)
	switch b.Kind {
	case document.Jug:
		p.path("ln", fmt.Sprintf("M%.1f %.1fl-9 -5M%.1f %.1fq18 3 18 %.1ft-18 %.1f", x, top, x+wide, top+tall*.15, tall*.25, tall*.25))
	case document.Cooker:
		p.path("ln", fmt.Sprintf("M%.1f %.1fq%.1f -22 %.1f 0zM%.1f %.1fh8", x-4, top, wide/2+4, wide+8, x+wide/2-4, top-14))
		p.rect("wood", x+wide*.3, toolBoard-tall*.16, wide*.4, tall*.1)
	default:
		p.path("ln", fmt.Sprintf("M%.1f %.1fq-12 1 -12 10M%.1f %.1fq12 1 12 10", x, top+8, x+wide, top+8))
	}
	return p
}

// toolStuff is what goes into a vessel.
var toolStuff = map[document.ToolKind]string{document.Pot: "batter", document.Jug: "wet", document.Cooker: "batter"}

// cutter draws a frame with its wires as far apart as they are.
func (p *Picture) cutter(b document.ToolBody) {
	left, top := (toolW-wireFrameW)/2, toolBoard-wireFrame-8
	p.path("wood", fmt.Sprintf("M%.1f %.1fh%.1fv%.1fh-8v-%.1fh-%.1fv%.1fh-8z",
		left, top, wireFrameW, wireFrame+8, wireFrame, wireFrameW-16, wireFrame))
	apart := math.Min(b.Spacing*mmPx, (wireFrameW-24)/math.Max(1, float64(b.Wires)))
	first := left + wireFrameW/2 - apart*float64(b.Wires-1)/2
	for i := range b.Wires {
		x := first + apart*float64(i)
		p.line("ln", x, top+8, x, toolBoard-4)
	}
}
