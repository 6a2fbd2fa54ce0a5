package lye

import (
	"math"

	"ashshelf/soap/internal/stat"
)

// Vessel is what a pot of lye or fats stands in while it cools.
type Vessel string

// Vessels returns the ways a pot can stand, the usual one first.
func Vessels() []Vessel { return []Vessel{"open", "lid", "water", "ice"} }

// Words says how it stands.
func (v Vessel) Words() string {
	switch v {
	case "lid":
		return "with a lid, or wrapped"
	case "water":
		return "in a basin of cold water"
	case "ice":
		return "in a basin of ice and water"
	}
	return "open, in air"
}

// Cooling is a pot that cools towards its surroundings: the warmer it is above
// them the faster, and a little more than in proportion, since hot air rises off
// it faster.
//
//	d(T − room)/dt = −(T − room)/τ · ((T − room)/40 °C)^¼
//
// Source: heat given to still air by natural convection goes with the 5/4 power of
// the difference in temperature.
type Cooling struct {
	StartC float64
	RoomC  float64
	Tau    float64 // minutes: the distance over the pace at which it shrinks, when it is 40 °C
}

// drift is by which power more than in proportion a hot pot cools, and tauAt the distance
// in °C at which τ is said.
const drift, tauAt = 0.25, 40.0

// age turns a distance from the surroundings into a figure that grows evenly with time,
// by [Cooling.pace] each minute; distance is the way back.
func age(distance float64) float64 { return math.Pow(distance, -drift) }

func distance(age float64) float64 { return math.Pow(age, -1/drift) }

func (c Cooling) pace() float64 { return drift / (c.Tau * math.Pow(tauAt, drift)) }

// tauLye and tauFats are τ in minutes of a kilo in an open jug. A litre of hot
// lye takes about 75 minutes from 90 to 40 °C in a room of 20 °C; fats hold
// little more than half as much heat. Both are only a start: a jug learns its
// own.
const (
	tauLye  = 60.0
	tauFats = 36.0
)

// UsualTau is τ in minutes for grams in a vessel. Volume grows faster than the
// surface that loses heat, so τ grows with the cube root of the mass.
func UsualTau(grams float64, v Vessel, fats bool) float64 {
	tau := tauLye
	if fats {
		tau = tauFats
	}
	tau *= math.Cbrt(math.Max(grams, 1) / 1000)
	switch v {
	case "lid":
		tau *= 2.2
	case "water":
		tau *= 0.25
	case "ice":
		tau *= 0.2
	}
	return tau
}

// OwnTau is τ in minutes of a vessel that has cooled before: the usual one times
// the median of how often its own was the usual one. Without any it is the
// usual one.
func OwnTau(usual float64, ratios []float64) float64 {
	if len(ratios) == 0 {
		return usual
	}
	return usual * stat.Median(ratios)
}

// Surroundings is what a pot in a vessel cools towards, in °C.
func Surroundings(roomC float64, v Vessel) float64 {
	switch v {
	case "water":
		return math.Min(roomC, 15)
	case "ice":
		return 2
	}
	return roomC
}

// At is the temperature after minutes. What is colder than its surroundings is slow to warm, and
// stays as it is here.
func (c Cooling) At(minutes float64) float64 {
	if c.StartC <= c.RoomC {
		return c.StartC
	}
	return c.RoomC + distance(age(c.StartC-c.RoomC)+c.pace()*minutes)
}

// Until is how many minutes it takes down to a temperature; 0 when it is there
// already, infinite when its surroundings are warmer.
func (c Cooling) Until(celsius float64) float64 {
	switch {
	case c.StartC <= celsius:
		return 0
	case celsius <= c.RoomC:
		return math.Inf(1)
	}
	return (age(celsius-c.RoomC) - age(c.StartC-c.RoomC)) / c.pace()
}

// Reading is a temperature that was logged, minutes after the first.
type Reading struct {
	Minutes, C float64
}

// How much a logged temperature is trusted, in °C, and how far the usual τ may
// be off, as a share, before the readings outweigh it; and a distance in °C that no pot has.
const (
	readingError = 0.5
	usualError   = 0.4
	farthest     = 300.0
)

// Learn corrects a cooling by logged temperatures: the straight line of its [age]
// over time, in which warmer readings count more because the same error in degrees
// is less of them, leaning on the usual τ as long as the readings are few or close
// together. The start becomes what the line says of the moment of the first reading,
// from which waiting times then count.
func (c Cooling) Learn(readings []Reading) Cooling {
	var sw, st, sy float64
	type point struct{ t, y, w float64 }
	var points []point
	for _, r := range readings {
		if d := r.C - c.RoomC; d > 1 {
			sd := drift * age(d) / d * readingError
			w := 1 / (sd * sd)
			points = append(points, point{r.Minutes, age(d), w})
			sw, st, sy = sw+w, st+w*r.Minutes, sy+w*age(d)
		}
	}
	if len(points) == 0 {
		return c
	}
	mt, my := st/sw, sy/sw
	var stt, sty float64
	for _, p := range points {
		stt += p.w * (p.t - mt) * (p.t - mt)
		sty += p.w * (p.t - mt) * (p.y - my)
	}
	// The usual pace joins as if it were one more measurement of the slope.
	usual := c.pace()
	prior := 1 / (usual * usualError * usual * usualError)
	slope := math.Max((sty+prior*usual)/(stt+prior), usual*1e-3)
	c.Tau *= usual / slope
	c.StartC = c.RoomC + distance(math.Max(my-slope*mt, age(farthest)))
	return c
}

// Meet is when, in minutes, two cooling pots are both within a range of temperature
// and within a number of degrees of each other, each being kept from falling below
// the range while the other still cools. ok is false when that never happens within
// a day, or when one of them is too cold to begin with.
func Meet(a, b Cooling, lowC, highC, apart float64) (minutes float64, ok bool) {
	if math.Min(a.StartC, b.StartC) < lowC {
		return 0, false
	}
	for m := 0.0; m <= 24*60; m++ {
		x, y := math.Max(a.At(m), lowC), math.Max(b.At(m), lowC)
		if math.Max(x, y) <= highC && math.Abs(x-y) <= apart {
			return m, true
		}
	}
	return 0, false
}

// Lossy is the highest temperature when a vessel takes its share of the heat:
// vessel grams of a specific heat in J/g/K that start at vesselC.
func (s Solution) Lossy(peakC, vesselG, vesselHeat, vesselC float64) float64 {
	own := s.Mass() * s.SpecificHeat()
	if own == 0 {
		return peakC
	}
	return (own*peakC + vesselG*vesselHeat*vesselC) / (own + vesselG*vesselHeat)
}

// VesselHeat is the specific heat of a container's material in J/g/K.
func (m Material) VesselHeat() float64 {
	switch m {
	case "steel":
		return 0.5
	case "glass":
		return 0.84
	case "hdpe", "pp":
		return 1.9
	}
	return 1
}

// boils is the temperature at which lye of a strength in percent boils, by
// handbook values rounded to whole degrees; what lye touches first is water,
// which spits from 100 °C on.
var boils = []struct{ strength, c float64 }{{0, 100}, {10, 103}, {20, 108}, {30, 117}, {40, 128}, {50, 142}}

// BoilsC is the boiling point of the solution in °C.
func (s Solution) BoilsC() float64 {
	w := s.Strength()
	for i := 1; i < len(boils); i++ {
		if a, b := boils[i-1], boils[i]; w <= b.strength {
			return a.c + (b.c-a.c)*(w-a.strength)/(b.strength-a.strength)
		}
	}
	return boils[len(boils)-1].c
}
