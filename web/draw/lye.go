package draw

import (
	"fmt"
	"math"
	"strings"

	"rsc.io/qr"

	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
)

// Jug is a container of stock: how full it is, and how warm beside the
// temperature at which crystals form.
type Jug struct{ Picture }

// JugInput is what a container is drawn from.
type JugInput struct {
	Level    float64 // share of the container, 0 to 1
	Text     string  // "3.2 kg"
	C        float64 // its temperature
	CrystalC float64
	Lye      bool // lye has crystals to fear, a blend of fats has not
	Stopped  bool // quarantined or gone
}

const (
	jugW, jugH         = 250.0, 190.0
	jugX, jugWide      = 16.0, 96.0
	jugTop, jugFloor   = 40.0, 178.0
	gaugeX             = 168.0
	gaugeTop, gaugeEnd = 20.0, 160.0
	gaugeLow, gaugeHi  = -5.0, 45.0 // °C
)

// OfJug lays a container out.
func OfJug(in JugInput) Jug {
	p := Picture{W: jugW, H: jugH, Title: in.Text + " in it"}
	level := math.Min(1, math.Max(0, in.Level))
	h := (jugFloor - jugTop - 4) * level
	class := "batter"
	if in.Lye {
		class = "wet"
	}
	if h > 0 {
		p.rect(class, jugX+2, jugFloor-h, jugWide-4, h)
	}
	p.path(
		"ln",
		fmt.Sprintf(
			"M%.1f %.1fV%.1fH%.1fV%.1fL%.1f %.1fV%.1fH%.1fV%.1fZ",
			jugX,
			jugTop+14,
			jugFloor,
			jugX+jugWide,
			jugTop+14,
			jugX+64,
			jugTop,
			jugTop-16,
			jugX+32,
			jugTop,
		),
	)
	p.rect("dot", jugX+28, jugTop-26, 40, 11)
	p.text("", jugX+jugWide/2, math.Min(jugFloor-12, jugFloor-h+24), 15, "middle", in.Text)
	if in.Stopped {
		p.path(
			"stop",
			fmt.Sprintf(
				"M%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1f",
				jugX+6,
				jugTop+22,
				jugX+jugWide-6,
				jugFloor-8,
				jugX+6,
				jugFloor-8,
				jugX+jugWide-6,
				jugTop+22,
			),
		)
	}
	if !in.Lye {
		return Jug{p}
	}
	y := func(c float64) float64 {
		c = math.Min(gaugeHi, math.Max(gaugeLow, c))
		return gaugeEnd - (gaugeEnd-gaugeTop)*(c-gaugeLow)/(gaugeHi-gaugeLow)
	}
	// What is below the guard is where crystals may form, below the point where
	// they do.
	p.rect("band", gaugeX-8, y(in.CrystalC+lye.CrystalStep), 16, y(gaugeLow)-y(in.CrystalC+lye.CrystalStep))
	p.rect("damp", gaugeX-8, y(in.CrystalC), 16, y(gaugeLow)-y(in.CrystalC))
	p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fa8 8 0 1 0 16 0V%.1fa8 8 0 0 0 -16 0Z", gaugeX-8, gaugeTop, gaugeEnd, gaugeTop))
	p.line("ln-mark", gaugeX-14, y(in.C), gaugeX+14, y(in.C))
	p.text("", gaugeX+20, y(in.C)+5, 14, "start", unit.FormatTemperature(in.C, unit.Metric))
	if at := y(in.CrystalC); in.CrystalC > gaugeLow && math.Abs(at-y(in.C)) > 15 {
		p.text("soft", gaugeX+20, at+5, 12.5, "start", unit.FormatTemperature(in.CrystalC, unit.Metric)+" ✳")
	}
	p.Title += fmt.Sprintf(", at %s °C; crystals form from %s °C", unit.Trim(in.C, 0), unit.Trim(in.CrystalC, 0))
	return Jug{p}
}

// HeatInput is two pots that cool, and the working range they are wanted in.
type HeatInput struct {
	Lye       lye.Cooling
	Fats      *lye.Cooling // nil when nothing is said of them
	Low, High float64      // °C of the working range
	Meet      float64      // minutes; NaN when they do not meet
	Readings  []lye.Reading
	Units     unit.System // of the degrees at its side
}

const (
	heatW, heatH     = 560.0, 250.0
	heatL, heatR     = 62.0, 545.0
	heatT, heatFloor = 14.0, 212.0
	heatSteps        = 60
	heatLabel        = 172.0 // how wide the words on the working range are
)

// OfHeat draws temperature over time.
func OfHeat(in HeatInput) Picture {
	p := Picture{W: heatW, H: heatH}
	span := 60.0 // minutes
	if until := in.Lye.Until(in.Low + 1); !math.IsInf(until, 0) {
		span = math.Min(360, math.Max(30, until*1.15))
	}
	if !math.IsNaN(in.Meet) {
		span = math.Max(span, in.Meet*1.2)
	}
	top := math.Max(in.Lye.StartC, in.High) + 5
	if in.Fats != nil {
		top = math.Max(top, in.Fats.StartC+5)
	}
	x := func(m float64) float64 { return heatL + (heatR-heatL)*m/span }
	y := func(c float64) float64 { return heatFloor - (heatFloor-heatT)*math.Max(0, c)/top }
	p.rect("batter", heatL, y(in.High), heatR-heatL, y(in.Low)-y(in.High))
	label := heatR - 6
	if at := x(in.Meet); at < label && at > label-heatLabel {
		label = at - 6 // clear of the line of the moment
	}
	p.text("", label, y(in.High)-6, 13, "end", fmt.Sprintf("working range %s to %s °C", unit.Trim(in.Low, 0), unit.Trim(in.High, 0)))
	p.line("ln", heatL, heatFloor, heatR, heatFloor)
	p.line("ln", heatL, heatT, heatL, heatFloor)
	step := 10.0
	for span/step > 8 {
		step += 10
	}
	for m := 0.0; m <= span; m += step {
		p.line("ln-fine", x(m), heatFloor, x(m), heatFloor+5)
		p.text("soft", x(m), heatFloor+19, 13, "middle", unit.Trim(m, 0))
	}
	p.text("soft", heatR, heatFloor+34, 13, "end", "minutes")
	first, every := 20.0, 20.0 // °C, or round figures of °F
	if in.Units == unit.US {
		first, every = 40.0/9, 200.0/9
	}
	for c := first; c < top; c += every {
		p.line("ln-fine", heatL-4, y(c), heatL, y(c))
		p.text("soft", heatL-8, y(c)+4, 13, "end", unit.FormatTemperature(c, in.Units))
	}
	curve := func(c lye.Cooling) string {
		var b strings.Builder
		for i := range heatSteps + 1 {
			m := span * float64(i) / heatSteps
			letter := "L"
			if i == 0 {
				letter = "M"
			}
			fmt.Fprintf(&b, "%s%.1f %.1f", letter, x(m), y(c.At(m)))
		}
		return b.String()
	}
	p.path("ln curve-lye", curve(in.Lye))
	at := span * 0.06
	p.text("title", x(at)+6, y(in.Lye.At(at))-2, 14, "start", "lye")
	if in.Fats != nil {
		p.path("ln-dash", curve(*in.Fats))
		p.text("title", x(span*0.3), y(in.Fats.At(span*0.3))+18, 14, "start", "fats")
	}
	for _, r := range in.Readings {
		p.circle("dot", x(r.Minutes), y(r.C), 4.5)
	}
	p.Title = fmt.Sprintf("The lye cools from %s °C", unit.Trim(in.Lye.StartC, 0))
	if !math.IsNaN(in.Meet) {
		p.line("ln-mark", x(in.Meet), heatT, x(in.Meet), heatFloor)
		p.text("", x(in.Meet)+5, heatT+10, 13, "start", "together")
		p.Title += fmt.Sprintf("; lye and fats are ready together after %s minutes", unit.Trim(in.Meet, 0))
	}
	return p
}

// OfQR draws a text as a QR code, one square a module, with its quiet margin.
func OfQR(text string) (Picture, error) {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return Picture{}, fmt.Errorf("qr code: %w", err)
	}
	const quiet = 4
	side := float64(code.Size + 2*quiet)
	p := Picture{W: side, H: side, Title: "QR code: " + text}
	p.rect("qr-paper", 0, 0, side, side)
	var b strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				fmt.Fprintf(&b, "M%d %dh1v1h-1z", x+quiet, y+quiet)
			}
		}
	}
	p.path("qr-ink", b.String())
	return p, nil
}

// Corrosive is the warning sign for what eats skin and metal, as the rules for
// labels of chemicals draw it: a square on its point, with drops that fall on a
// hand and on a bar.
func Corrosive() Picture {
	p := Picture{W: 120, H: 120, Title: "Warning sign: corrosive"}
	p.path("sign", "M60 5L115 60L60 115L5 60Z")
	p.path("sign-ink", "M30 48l20-9 3 6-20 9zM90 48l-20-9-3 6 20 9z")                                                  // two tubes
	p.path("sign-ink", "M52 52q-4 6 0 8q4-2 0-8M68 52q-4 6 0 8q4-2 0-8M53 63q-3 5 0 7q3-2 0-7M67 63q-3 5 0 7q3-2 0-7") // drops
	p.path("sign-ink", "M26 74h14l6 5h12v3H40l-14-2zM64 76h28v8H64z")                                                  // a hand, a bar
	p.path("sign", "M66 76q4 6 8 0z")
	return p
}
