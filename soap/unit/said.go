package unit

import (
	"regexp"
	"strconv"
	"strings"
)

// Said writes the figures of a text of ours in the owner's units: what the rules of the job say in
// grams, millilitres, millimetres and °C reads in ounces, fluid ounces, inches and °F. It is the one
// door for text, as [FormatMass] and its like are for figures. What people wrote is never put
// through it. A difference of temperatures is told from a temperature by the words around it.
func Said(text string, s System) string {
	if s != US || !strings.ContainsAny(text, "0123456789") {
		return text
	}
	return quoted.ReplaceAllStringFunc(text, func(part string) string {
		if strings.HasPrefix(part, "“") {
			return part // what somebody typed
		}
		return said(part)
	})
}

// quoted parts a text into what stands in quotes and what does not.
var quoted = regexp.MustCompile(`“[^”]*”|[^“]+|“`)

func said(text string) string {
	return metric.ReplaceAllStringFunc(text, func(found string) string {
		m := metric.FindStringSubmatch(found)
		before, first, between, second, unit, after := m[1], m[2], m[3], m[4], m[5], m[6]
		if strings.HasPrefix(after, "/") || after == " per " {
			return found // a density, or a rate
		}
		difference := unit == "°C" && (apart.MatchString(before) || apart.MatchString(after))
		out := before
		if second != "" {
			out += figureIn(first, unit, difference, false) + between + figureIn(second, unit, difference, true)
		} else {
			out += figureIn(first, unit, difference, true)
		}
		return out + after
	})
}

// metric finds a figure with its unit, or two of them such as “30 to 43 °C” and “100 × 50 mm”, with the
// words before and after that tell a difference.
var metric = regexp.MustCompile(
	`((?:within about |within |more than |only |than )?)(-?\d+(?:\.\d+)?)((?: to | and | × |–)?)((?:-?\d+(?:\.\d+)?)?)` +
		` ?(kg|g|ml|mm|°C)\b` +
		`((?:/ml|/kg|/g| per | of each other| apart| below the| warmer| colder)?)`)

// apart are the words around a difference of temperatures.
var apart = regexp.MustCompile(`within|of each other|apart|below the|warmer|colder`)

// figureIn converts one figure; named says whether its unit is written after it.
func figureIn(text, unit string, difference, named bool) string {
	v, err := strconv.ParseFloat(text, 64)
	if err != nil {
		return text
	}
	out := ""
	switch unit {
	case "kg":
		out = FormatMass(1000*v, US)
	case "g":
		out = FormatMass(v, US)
	case "ml":
		out = FormatVolume(v, US)
	case "mm":
		out = FormatLength(v, US)
	default:
		if out = FormatTemperature(v, US); difference {
			out = Trim(1.8*v, 0) + " °F"
		}
	}
	if named {
		return out
	}
	figure, _, _ := strings.Cut(out, " ")
	if strings.Count(out, " ") > 1 && unit != "ml" { // pounds and ounces keep their words
		return out
	}
	return figure
}
