package unit

import (
	"math"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Trim writes n with at most decimals places and without trailing zeros.
func Trim(n float64, decimals int) string {
	p := math.Pow(10, float64(decimals))
	n = math.Round(n*p) / p
	if n == 0 {
		n = 0 // never "-0"
	}
	return strconv.FormatFloat(n, 'f', -1, 64)
}

// Fixed writes n with exactly decimals places.
func Fixed(n float64, decimals int) string {
	s := strconv.FormatFloat(n, 'f', decimals, 64)
	if v, err := strconv.ParseFloat(s, 64); err == nil && v == 0 {
		return strconv.FormatFloat(0, 'f', decimals, 64)
	}
	return s
}

// WeighStep is the finest step in grams worth showing for a weight: a tenth of
// a gram below 500 g, a gram above. It follows what bench scales read.
func WeighStep(grams float64) float64 {
	if math.Abs(grams) < 500 {
		return 0.1
	}
	return 1
}

// Grams writes a weight for a scale that reads grams, at [WeighStep].
func Grams(grams float64) string {
	if WeighStep(grams) < 1 {
		return Fixed(grams, 1)
	}
	return Fixed(grams, 0)
}

// Decimals is how many places a scale with the given step shows.
func Decimals(step float64) int {
	return max(0, int(math.Ceil(-math.Log10(step)-1e-9)))
}

// FormatMass writes a weight in the owner's units, with the unit.
func FormatMass(grams float64, s System) string {
	if s == US {
		ounces := math.Round(grams/GramsPerOunce*100) / 100
		if ounces >= 16 {
			pounds := math.Floor(ounces / 16)
			return Trim(pounds, 0) + " lb " + Trim(ounces-16*pounds, 2) + " oz"
		}
		return Trim(ounces, 2) + " oz"
	}
	if grams >= 10000 {
		return Trim(grams/1000, 2) + " kg"
	}
	return Grams(grams) + " g"
}

// FormatLength writes a length in the owner's units, with the unit, to be read.
func FormatLength(mm float64, s System) string { return lengthTo(mm, s, 0) }

// FieldLength writes a length as [FormatLength] does, ten times finer: what stands in a
// field is kept as it stands.
func FieldLength(mm float64, s System) string { return lengthTo(mm, s, 1) }

func lengthTo(mm float64, s System, finer int) string {
	if s == US {
		inches := mm / MMPerInch
		if sixteenths := inches * 16; math.Abs(sixteenths-math.Round(sixteenths)) < 1e-3 {
			return Trim(inches, 4) + " in" // as a ruler has it: 1 1/8 in is 1.125, not 1.13
		}
		return Trim(inches, 2+finer) + " in"
	}
	return Trim(mm, 1+finer) + " mm"
}

// FormatBriefMass writes a weight in few letters, to be seen from afar: kilograms or pounds to a hundredth.
func FormatBriefMass(grams float64, s System) string {
	switch {
	case s == US && grams >= GramsPerPound:
		return Trim(grams/GramsPerPound, 2) + " lb"
	case s == US:
		return Trim(grams/GramsPerOunce, 1) + " oz"
	}
	return FormatMass(grams, s)
}

// FormatVolume writes a volume in the owner's units, with the unit.
func FormatVolume(ml float64, s System) string {
	if s == US {
		return Trim(ml/MLPerFluidOunce, 1) + " fl oz"
	}
	return Trim(ml, 0) + " ml"
}

// FormatTemperature writes a temperature in the owner's units, with the unit, in whole
// degrees: to be read.
func FormatTemperature(celsius float64, s System) string { return temperatureTo(celsius, s, 0) }

// FieldTemperature writes a temperature as [FormatTemperature] does, to a tenth of a degree:
// what stands in a field is kept as it stands.
func FieldTemperature(celsius float64, s System) string { return temperatureTo(celsius, s, 1) }

func temperatureTo(celsius float64, s System, decimals int) string {
	if s == US {
		return Trim(celsius*1.8+32, decimals) + " °F"
	}
	return Trim(celsius, decimals) + " °C"
}

// FieldMass writes a weight as it stands in a field, with the unit and finer than a scale reads, so
// that what is kept as it stands comes back as it was typed.
func FieldMass(grams float64, s System) string {
	if s == US {
		return Trim(grams/GramsPerOunce, 3) + " oz"
	}
	return Trim(grams, 2) + " g"
}

// FormatWeighed writes a weight as a scale of so many places of a gram shows it: in ounces to a
// hundredth, small ones to a thousandth.
func FormatWeighed(grams float64, decimals int, s System) string {
	if s == US {
		return weighedIn(grams) + " oz"
	}
	return Fixed(grams, decimals) + " g"
}

// Figure is [FormatWeighed] without the unit.
func Figure(grams float64, decimals int, s System) string {
	if s == US {
		return weighedIn(grams)
	}
	return Fixed(grams, decimals)
}

// smallOunces is the weight in ounces under which a hundredth is too coarse.
const smallOunces = 1.0

func weighedIn(grams float64) string {
	ounces := grams / GramsPerOunce
	if math.Abs(ounces) < smallOunces {
		return Fixed(ounces, 3)
	}
	return Fixed(ounces, 2)
}

// MassUnit, LengthUnit and TemperatureUnit name the unit that a bare number
// on a page of this system is read in.
func (s System) MassUnit() string {
	if s == US {
		return "oz"
	}
	return "g"
}

// LengthUnit is the unit of a bare length: mm or in.
func (s System) LengthUnit() string {
	if s == US {
		return "in"
	}
	return "mm"
}

// TemperatureUnit is the unit of a bare temperature: c or f.
func (s System) TemperatureUnit() string {
	if s == US {
		return "f"
	}
	return "c"
}

// Spoons writes level teaspoons as a maker measures them: to the nearest
// eighth, larger amounts in tablespoons of three. It is a help beside a weight,
// never in place of one.
func Spoons(tsp float64) string {
	const eighths = 8
	n := int(math.Round(tsp * eighths))
	if n == 0 {
		return "a pinch"
	}
	whole, rest := n/eighths, n%eighths
	part := []string{"", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞"}[rest]
	if whole >= 3 {
		text := Trim(float64(whole/3), 0) + " tbsp"
		if left := whole % 3; left > 0 || part != "" {
			small := part
			if left > 0 {
				small = Trim(float64(left), 0) + part
			}
			text += " + " + small + " tsp"
		}
		return text
	}
	if whole > 0 {
		part = Trim(float64(whole), 0) + part
	}
	return part + " tsp"
}

// Capital begins a text with a large letter.
func Capital(text string) string {
	_, wide := utf8.DecodeRuneInString(text)
	return strings.ToUpper(text[:wide]) + text[wide:]
}
