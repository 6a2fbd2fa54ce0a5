// Package unit reads and writes the amounts a soap maker types: weights,
// volumes, lengths, temperatures and plain numbers.
//
// Inside the program a weight is always grams, a volume millilitres, a length
// millimetres and a temperature degrees Celsius. Owners type what their scale,
// ruler or book says: "1 lb 4 oz", "350 g", "2.5 in", "1 1/2 oz". A number
// without a unit is taken in the unit the page shows, which the caller names.
//
// A decimal comma is understood ("2,5 g" is two and a half grams). Where a
// comma could as well be a thousands mark ("1,250 g") the text is refused,
// because a wrong guess would be a thousandfold error in a pot of lye.
package unit

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// System is the set of units that an owner reads by preference.
type System string

// The two systems an owner can choose.
const (
	Metric System = "metric" // g, ml, mm, °C
	US     System = "us"     // oz and lb, fl oz, in, °F
)

// Valid reports whether s is one of the systems of this package.
func (s System) Valid() bool { return s == Metric || s == US }

// Exact or defined factors; the troy and imperial namesakes are never meant.
const (
	GramsPerOunce   = 28.349523125  // avoirdupois ounce, exact
	GramsPerPound   = 453.59237     // avoirdupois pound, exact
	MLPerFluidOunce = 29.5735295625 // US fluid ounce, exact
	MLPerTeaspoon   = 4.92892159375 // US teaspoon, a sixth of a fluid ounce, exact
	MMPerInch       = 25.4          // exact

	mlPerImperialOunce = 28.4130625 // exact, by the Weights and Measures Act
	MMPerFoot          = 12 * MMPerInch
)

// Error says why a text is not an amount, in words for the person who typed
// it. Input is what was typed.
type Error struct {
	Input string
	Why   string
}

func (e *Error) Error() string { return e.Why }

// largest is far above anything a small business weighs or measures; past it
// the text is a slip of the keyboard.
const largest = 1e9

type dimension struct {
	what    string             // "a weight"
	example string             // "350 g or 1 lb 4 oz"
	factors map[string]float64 // by lower-case unit, to the inner unit
}

var (
	mass = dimension{"a weight", "350 g or 1 lb 4 oz", map[string]float64{
		"g": 1, "gr": 1, "gram": 1, "grams": 1, "kg": 1000, "kilo": 1000, "kilos": 1000, "mg": 0.001,
		"oz": GramsPerOunce, "ounce": GramsPerOunce, "ounces": GramsPerOunce,
		"lb": GramsPerPound, "lbs": GramsPerPound, "pound": GramsPerPound, "pounds": GramsPerPound,
	}}
	volume = dimension{"a volume", "500 ml or 12 fl oz", map[string]float64{
		"ml": 1, "cl": 10, "dl": 100, "l": 1000, "litre": 1000, "litres": 1000, "liter": 1000, "liters": 1000,
		"floz": MLPerFluidOunce, "usfloz": MLPerFluidOunce, "impfloz": mlPerImperialOunce, "uscup": 8 * MLPerFluidOunce,
		"uspt": 16 * MLPerFluidOunce, "usqt": 32 * MLPerFluidOunce, "usgal": 128 * MLPerFluidOunce,
		"imppt": 20 * mlPerImperialOunce, "impqt": 40 * mlPerImperialOunce, "impgal": 160 * mlPerImperialOunce,
	}}
	length = dimension{"a length", "65 mm or 2.5 in", map[string]float64{
		"mm": 1, "cm": 10, "m": 1000,
		"in": MMPerInch, "inch": MMPerInch, "inches": MMPerInch, `"`: MMPerInch, "″": MMPerInch,
		"ft": MMPerFoot, "foot": MMPerFoot, "feet": MMPerFoot, "'": MMPerFoot, "′": MMPerFoot,
	}}
)

// Mass reads a weight into grams. A bare number is in the unit bare ("g",
// "oz" ...). Weights below zero are refused.
func Mass(text, bare string) (grams float64, err error) { return mass.parse(text, bare) }

// Volume reads a volume into millilitres; see [Mass] for bare. A pint, a quart and a gallon are a
// fifth larger in Britain than in the United States: without a country they are taken for those of
// the United States where the owner works in fluid ounces, and asked about where she does not.
func Volume(text, bare string) (ml float64, err error) {
	unclear := ""
	said := measures.ReplaceAllStringFunc(strings.ToLower(text), func(m string) string {
		parts := measures.FindStringSubmatch(m)
		of := measureNames[parts[2][:1]]
		if strings.HasPrefix(parts[2], "fl") {
			of = "floz"
		}
		switch {
		case strings.HasPrefix(parts[1], "u") && !strings.HasPrefix(parts[1], "uk"), parts[1] == "american", parts[1] == "" && bare == USVolume:
			return "us" + of
		case parts[1] != "":
			return "imp" + of
		case of != "floz":
			unclear = parts[2]
		}
		return of
	})
	if unclear != "" {
		why := fmt.Sprintf("“%s”: say whose measure, such as 2 US %[2]s or 2 imperial %[2]s, or type ml", strings.TrimSpace(text), unclear)
		return 0, &Error{text, why}
	}
	return volume.parse(said, bare)
}

// USVolume is the unit of a bare volume where fluid ounces are meant.
const USVolume = "floz"

// measures are the liquid measures that have two sizes, with the country where it is said;
// measureNames shortens them by their first letter.
var (
	measures = regexp.MustCompile(
		`(?:\b(us|u\.s\.|american|imperial|imp\.?|uk|british)\s*)?(fl\.? ?oz|fluid ounces?|pints?|pt|quarts?|qt|gallons?|gal|cups?)\b`)
	measureNames = map[string]string{"f": "floz", "p": "pt", "q": "qt", "g": "gal", "c": "cup"}
)

// Length reads a length into millimetres; see [Mass] for bare.
func Length(text, bare string) (mm float64, err error) { return length.parse(text, bare) }

func (d dimension) parse(text, bare string) (float64, error) {
	fail := func(format string, args ...any) (float64, error) {
		return 0, &Error{text, fmt.Sprintf(format, args...)}
	}
	rest := strings.TrimSpace(strings.ToLower(text))
	if rest == "" {
		return fail("type %s, such as %s", d.what, d.example)
	}
	total, parts := 0.0, 0
	for rest != "" {
		if strings.HasPrefix(rest, "-") || strings.HasPrefix(rest, "−") {
			return fail("%s cannot be below zero", d.what)
		}
		var n float64
		var err error
		if n, rest, err = number(rest, text); err != nil {
			return 0, err
		}
		name := rest
		if i := strings.IndexFunc(rest, func(r rune) bool {
			return unicode.IsDigit(r) || unicode.IsSpace(r) || r == '-' ||
				r == ','
		}); i >= 0 {
			name = rest[:i]
		}
		rest = strings.TrimSpace(rest[len(name):])
		name = strings.TrimSuffix(name, ".")
		if name == "" {
			if parts > 0 || rest != "" {
				return fail("“%s”: say the unit of every number, such as %s", strings.TrimSpace(text), d.example)
			}
			name = bare
		}
		f, ok := d.factors[name]
		if !ok {
			return fail("“%s” is not a unit of %s; type it like %s", name, strings.TrimPrefix(d.what, "a "), d.example)
		}
		total += n * f
		parts++
	}
	if total > largest {
		return fail("“%s” is too large to be %s", strings.TrimSpace(text), d.what)
	}
	return total, nil
}

// Number reads a plain number such as a percentage. A trailing percent sign is
// allowed. Negative numbers are read; ranges are the caller's business.
func Number(text string) (float64, error) {
	rest := strings.TrimSpace(text)
	rest = strings.TrimSpace(strings.TrimSuffix(rest, "%"))
	if rest == "" {
		return 0, &Error{text, "type a number, such as 5 or 2.5"}
	}
	n, tail, err := signed(rest, text)
	if err != nil {
		return 0, err
	}
	if tail != "" {
		return 0, &Error{text, fmt.Sprintf("“%s” is not a number; type it like 5 or 2.5", strings.TrimSpace(text))}
	}
	if math.Abs(n) > largest {
		return 0, &Error{text, fmt.Sprintf("“%s” is too large", strings.TrimSpace(text))}
	}
	return n, nil
}

// Count reads a whole number that is not negative.
func Count(text string) (int, error) {
	n, err := Number(text)
	if err != nil {
		return 0, err
	}
	if n != math.Trunc(n) || n < 0 {
		return 0, &Error{text, fmt.Sprintf("“%s” is not a whole number", strings.TrimSpace(text))}
	}
	return int(n), nil
}

// Temperature reads a temperature into degrees Celsius; bare is "c" or "f".
func Temperature(text, bare string) (celsius float64, err error) {
	rest := strings.ToLower(strings.TrimSpace(text))
	if rest == "" {
		return 0, &Error{text, "type a temperature, such as 38 °C or 100 °F"}
	}
	n, tail, err := signed(rest, text)
	if err != nil {
		return 0, err
	}
	tail = strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(tail), "°"))
	if tail == "" {
		tail = bare
	}
	switch tail {
	case "c", "celsius":
	case "f", "fahrenheit":
		n = (n - 32) / 1.8
	default:
		return 0, &Error{text, fmt.Sprintf("“%s” is not a unit of temperature; type it like 38 °C or 100 °F", tail)}
	}
	if n < -100 || n > 1000 {
		return 0, &Error{text, fmt.Sprintf("“%s” is no temperature of a workshop", strings.TrimSpace(text))}
	}
	return n, nil
}

// signed is number with an optional minus sign in front.
func signed(rest, whole string) (float64, string, error) {
	sign := 1.0
	for _, minus := range []string{"-", "−"} {
		if strings.HasPrefix(rest, minus) {
			sign, rest = -1, strings.TrimSpace(strings.TrimPrefix(rest, minus))
			break
		}
	}
	n, tail, err := number(rest, whole)
	return sign * n, tail, err
}

// number takes a number off the front of s: "12", "12.5", "12,5", "1/2" or
// "1 1/2". The rest is returned without leading space.
func number(s, whole string) (float64, string, error) {
	bad := func(why string) (float64, string, error) {
		return 0, "", &Error{whole, fmt.Sprintf("“%s” %s", strings.TrimSpace(whole), why)}
	}
	end := strings.IndexFunc(s, func(r rune) bool { return (r < '0' || r > '9') && r != '.' && r != ',' })
	if end < 0 {
		end = len(s)
	}
	lit, rest := s[:end], strings.TrimLeft(s[end:], " \t\u00a0\u202f")
	if lit == "" {
		return bad("is not a number")
	}
	plain, why := decimal(lit)
	if why != "" {
		return bad(why)
	}
	n, err := strconv.ParseFloat(plain, 64)
	if err != nil {
		return bad("is not a number")
	}
	// A fraction: directly "3/4", or after the whole number "1 3/4".
	if over, ok := strings.CutPrefix(rest, "/"); ok {
		return fraction(0, lit, over, whole)
	}
	if num, over, ok := strings.Cut(rest, "/"); ok && isDigits(num) && isDigits(lit) {
		return fraction(n, num, over, whole)
	}
	return n, rest, nil
}

func fraction(add float64, num, over, whole string) (float64, string, error) {
	over = strings.TrimSpace(over)
	end := 0
	for end < len(over) && over[end] >= '0' && over[end] <= '9' {
		end++
	}
	a, errA := strconv.ParseFloat(num, 64)
	b, errB := strconv.ParseFloat(over[:end], 64)
	if errA != nil || errB != nil || b == 0 {
		return 0, "", &Error{whole, fmt.Sprintf("“%s” is not a fraction", strings.TrimSpace(whole))}
	}
	return add + a/b, strings.TrimSpace(over[end:]), nil
}

func isDigits(s string) bool {
	for _, r := range s {
		if r < '0' || r > '9' {
			return false
		}
	}
	return s != ""
}

// decimal turns a literal of digits, points and commas into one that Go reads,
// or says why it cannot be read without guessing.
func decimal(lit string) (plain, why string) {
	points, commas := strings.Count(lit, "."), strings.Count(lit, ",")
	switch {
	case points > 1 || commas > 1 || points+commas > 1:
		return "", "has more than one decimal mark; leave thousands marks out"
	case strings.Trim(lit, ".,") == "":
		return "", "is not a number"
	case commas == 1:
		before, after, _ := strings.Cut(lit, ",")
		if before == "" || after == "" {
			return "", "ends or begins with a comma; type it like 2.5"
		}
		if len(after) == 3 && strings.Trim(before, "0") != "" {
			return "", fmt.Sprintf(
				"could mean %s.%s or %s%s; type a point for decimals and no thousands mark",
				before,
				after,
				before,
				after,
			)
		}
		return before + "." + after, ""
	}
	return lit, ""
}
