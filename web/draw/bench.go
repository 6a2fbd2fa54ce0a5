package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/run"
)

// BenchStage is a stage of make day: how many of its steps are done.
type BenchStage struct {
	Name      string
	Done, All int
	Current   bool
}

func (s BenchStage) share() float64 { return float64(s.Done) / math.Max(1, float64(s.All)) }

// The bench of make day, one thing for each stage side by side, all on one board.
const (
	benchCell, benchH     = 128.0, 96.0
	benchBoard            = 64.0 // where things stand
	benchTall, benchThing = 46.0, 52.0
	benchLabel            = 86.0
)

// OfBench draws how far a run is as the bench itself shows it: goggles are put on, the jug and the pots
// fill, cups stand weighed, the mold fills and is covered. A bar under it marks the stage at hand.
func OfBench(stages []BenchStage) Picture {
	p := Picture{W: benchCell * math.Max(1, float64(len(stages))), H: benchH}
	p.line("ln-fine", 0, benchBoard, p.W, benchBoard)
	done, all := 0, 0
	for i, s := range stages {
		mid := benchCell * (float64(i) + 0.5)
		draw := p.benchPot
		switch s.Name {
		case run.Ready:
			draw = p.benchGoggles
		case run.LyeStage:
			draw = p.benchJug
		case run.AtHand:
			draw = p.benchCups
		case run.Together:
			draw = p.benchBlender
		case run.IntoMold:
			draw = p.benchMold
		case run.AfterStage:
			draw = p.benchCover
		}
		draw(mid, s.share())
		class := "soft"
		if s.Current {
			class = "title"
			p.rect("found", mid-benchCell/2+8, benchBoard+2, benchCell-16, 5)
			p.Title = fmt.Sprintf("%s: %d of %d done; ", s.Name, s.Done, s.All)
		}
		p.text(class, mid, benchLabel, 14, "middle", s.Name)
		done, all = done+s.Done, all+s.All
	}
	p.Title += fmt.Sprintf("%d of %d steps done", done, all)
	return p
}

// benchGoggles are put on lens by lens.
func (p *Picture) benchGoggles(mid, share float64) {
	for i, x := range []float64{mid - 17, mid + 17} {
		class := "peg"
		if share >= float64(i+1)/2-1e-9 {
			class = "damp-lens"
		}
		p.circle(class, x, benchBoard-22, 14)
	}
	p.path("ln", fmt.Sprintf("M%.1f %.1fq3 -4 6 0", mid-3, benchBoard-22))
	p.path("ln", fmt.Sprintf("M%.1f %.1fq-9 -6 -14 2M%.1f %.1fq9 -6 14 2", mid-31, benchBoard-24, mid+31, benchBoard-24))
}

// vessel is a straight-walled one with its contents.
func (p *Picture) vessel(class string, x, top, wide, share float64) {
	if tall := (benchBoard - top - 2) * math.Min(1, share); tall > 0.5 {
		p.rect(class, x+1, benchBoard-1-tall, wide-2, tall)
	}
	p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", x, top, benchBoard, x+wide, top))
}

func (p *Picture) benchJug(mid, share float64) {
	x, top := mid-18, benchBoard-benchTall
	p.vessel("wet", x, top, 34, share)
	p.path("ln", fmt.Sprintf("M%.1f %.1fl-7 -4M%.1f %.1fq14 2 14 14t-14 12", x, top, x+34, top+6))
}

func (p *Picture) benchPot(mid, share float64) {
	x, top := mid-benchThing/2, benchBoard-benchTall+8
	p.vessel("batter", x, top, benchThing, share)
	p.path("ln", fmt.Sprintf("M%.1f %.1fq-9 1 -9 8M%.1f %.1fq9 1 9 8", x, top+6, x+benchThing, top+6))
}

func (p *Picture) benchCups(mid, share float64) {
	for i := range 3 {
		p.vessel("batter", mid-38+float64(i)*27, benchBoard-22, 20, math.Max(0, 3*share-float64(i)))
	}
}

func (p *Picture) benchBlender(mid, share float64) {
	p.benchPot(mid, share)
	x, top := mid+8, benchBoard-benchTall-12
	p.path("ln", fmt.Sprintf("M%.1f %.1fh10l-2 24h-6zM%.1f %.1fv18l-4 5h10l-4 -5", x-5, top, x, top+24))
}

func (p *Picture) benchMold(mid, share float64) { p.vessel("batter", mid-40, benchBoard-28, 80, share) }

// benchCover draws a cloth over the mold as far as what follows the pour is done.
func (p *Picture) benchCover(mid, share float64) {
	p.vessel("batter", mid-40, benchBoard-28, 80, 0)
	if wide := 92 * math.Min(1, share); wide > 0.5 {
		p.path("wood", fmt.Sprintf("M%.1f %.1fv-14q0 -8 8 -8h%.1fq8 0 8 8v14q-6 4 -12 0t-12 0z", mid-46, benchBoard-14, math.Max(0, wide-16)))
	}
}
