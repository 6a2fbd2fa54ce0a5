package run

import (
	"math"
	"time"

	"ashshelf/soap/lye"
)

// Reading is a temperature that was read at a pot.
type Reading struct {
	At time.Time
	C  float64
}

// Meeting is when lye and fats can meet.
type Meeting struct {
	LyeC, FatsC float64 // now, foretold from the last readings; NaN when nothing is known
	Low, High   float64 // °C of the range that both are worked in
	Minutes     float64 // until both are in the range and near each other
	OK          bool    // it comes to that within a day
	LyeThen     float64 // °C that each would be at by then on its own
	FatsThen    float64
}

// Cold reports whether a pot that was read is below the range already, from which
// it does not come back on its own.
func (m Meeting) Cold() bool { return m.LyeC < m.Low || m.FatsC < m.Low }

// Forecast foretells when the two pots can be combined. Each pot cools from its own
// readings, leaning on the usual pace of an open pot of its weight; lye that was
// never read starts at the highest temperature that its heat can give, dissolved
// at the moment lyeIn in liquid of startC.
func Forecast(o Order, lyeRead, fatsRead []Reading, lyeIn time.Time, startC, roomC float64, now time.Time) Meeting {
	jug := o.Jug(Pot{}, startC)
	if len(lyeRead) == 0 && !lyeIn.IsZero() {
		lyeRead = []Reading{{lyeIn, jug.PeakC()}}
	}
	l := pace(lyeRead, roomC, lye.UsualTau(jug.Solution.Mass(), "open", false), now)
	f := pace(fatsRead, roomC, lye.UsualTau(o.Pot.FatsG, "open", true), now)
	m := Meeting{LyeC: math.NaN(), FatsC: math.NaN()}
	m.Low, m.High = o.Formula.Working()
	if l != nil {
		m.LyeC = l.StartC
	}
	if f != nil {
		m.FatsC = f.StartC
	}
	if l == nil || f == nil {
		return m
	}
	m.Minutes, m.OK = lye.Meet(*l, *f, m.Low, m.High, lye.MostApart)
	m.LyeThen, m.FatsThen = l.At(m.Minutes), f.At(m.Minutes)
	return m
}

// pace is how a pot cools from now on, nil when it was never read.
func pace(read []Reading, roomC, tau float64, now time.Time) *lye.Cooling {
	if len(read) == 0 {
		return nil
	}
	points := make([]lye.Reading, len(read))
	for i, r := range read {
		points[i] = lye.Reading{Minutes: r.At.Sub(read[0].At).Minutes(), C: r.C}
	}
	c := lye.Cooling{StartC: read[0].C, RoomC: roomC, Tau: tau}
	if len(read) > 1 {
		c = c.Learn(points)
	}
	// From here on it starts at what it should read now; the last reading is
	// nearer to the truth than the line through all of them.
	last := read[len(read)-1]
	c.StartC = last.C
	c.StartC = c.At(math.Max(0, now.Sub(last.At).Minutes()))
	return &c
}
