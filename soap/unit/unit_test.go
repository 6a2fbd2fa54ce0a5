package unit_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/unit"
)

func TestWeightsAreReadAsMakersWriteThem(t *testing.T) {
	for text, grams := range map[string]float64{
		"350 g": 350, "350": 350, "0.35kg": 350, "1 kg 200 g": 1200, "1 lb 4 oz": 20 * unit.GramsPerOunce,
		"1lb4oz":   20 * unit.GramsPerOunce,
		"1 1/2 oz": 1.5 * unit.GramsPerOunce, "3/4 lb": 0.75 * unit.GramsPerPound, "2,5 g": 2.5, "0,125 kg": 125,
		" 12.50 G ": 12.5, ".5 g": 0.5, "2 lbs.": 2 * unit.GramsPerPound,
	} {
		got, err := unit.Mass(text, "g")
		if assert.NoError(t, err, text) {
			assert.InDelta(t, grams, got, 1e-9, text)
		}
	}
	oz, err := unit.Mass("4", "oz")
	require.NoError(t, err)
	assert.InDelta(t, 4*28.349523125, oz, 1e-9, "a bare number is in the unit the page shows")
}

func TestLengthsVolumesAndTemperatures(t *testing.T) {
	for text, want := range map[string]float64{"4 ft": 1219.2, "4 ft 2 in": 1270, `5' 3"`: 1600.2, "1 1/2 feet": 457.2} {
		mm, err := unit.Length(text, "mm")
		require.NoError(t, err, text)
		assert.InDelta(t, want, mm, 1e-9, text)
	}
	mm, err := unit.Length("2.5 in", "mm")
	require.NoError(t, err)
	assert.InDelta(t, 63.5, mm, 1e-9)
	mm, err = unit.Length(`2 1/2"`, "mm")
	require.NoError(t, err)
	assert.InDelta(t, 63.5, mm, 1e-9)
	ml, err := unit.Volume("12 fl oz", "ml")
	require.NoError(t, err)
	assert.InDelta(t, 354.882, ml, 0.001)
	c, err := unit.Temperature("100 °F", "c")
	require.NoError(t, err)
	assert.InDelta(t, 37.78, c, 0.01)
	c, err = unit.Temperature("-18", "c")
	require.NoError(t, err)
	assert.Equal(t, -18.0, c)
}

func TestWhatCouldMeanTwoThingsIsRefusedInWords(t *testing.T) {
	for text, why := range map[string]string{
		"1,250 g": "could mean 1.250 or 1250", "12,345": "could mean", "1.250,5 g": "more than one decimal mark",
		"1,2,3 g": "more than one decimal mark",
		"5,":      "comma", ",5": "comma", "abc": "not a number", "": "type a weight", "-5 g": "below zero", "5 stone": "not a unit",
		"1 lb 4":  "unit of every number",
		"1 250 g": "unit of every number", "1/0 oz": "fraction", "1e9 kg": "not a unit", "9999999999 kg": "too large",
		"5 ml": "not a unit of weight",
	} {
		_, err := unit.Mass(text, "g")
		assert.ErrorContains(t, err, why, text)
	}
	_, err := unit.Number("1,000 %")
	assert.ErrorContains(t, err, "could mean")
	_, err = unit.Count("2.5")
	assert.ErrorContains(t, err, "whole number")
	_, err = unit.Temperature("40 K", "c")
	assert.ErrorContains(t, err, "not a unit of temperature")
}

func TestWhatIsWrittenReadsBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := rapid.Float64Range(0, 50000).Draw(t, "grams")
		for _, sys := range []unit.System{unit.Metric, unit.US} {
			back, err := unit.Mass(unit.FormatMass(g, sys), "g")
			require.NoError(t, err)
			step := 0.5 // a gram above 500 g
			if sys == unit.US {
				step = 0.005*unit.GramsPerOunce + 1e-9
			} else if g >= 10000 {
				step = 5
			}
			require.InDelta(t, g, back, step+1e-9)
			mm, err := unit.Length(unit.FormatLength(g, sys), "mm")
			require.NoError(t, err)
			require.InDelta(t, g, mm, 0.13)
		}
	})
}

func TestScalesShowTheirOwnDecimals(t *testing.T) {
	assert.Equal(
		t,
		[]int{0, 0, 1, 1, 2},
		[]int{unit.Decimals(1), unit.Decimals(5), unit.Decimals(0.1), unit.Decimals(0.5), unit.Decimals(0.01)},
	)
	assert.Equal(t, "0", unit.Trim(-0.0001, 2), "never minus nought")
}

func FuzzAWeightIsNeverMisread(f *testing.F) {
	for _, s := range []string{"1 lb 4 oz", "2,5", "1,250", "½ oz", "1/2", "12..3", "9e9", "−3", "5\x00g"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, read := range []func(string, string) (float64, error){unit.Mass, unit.Volume, unit.Length} {
			v, err := read(s, "g")
			if err == nil && (math.IsNaN(v) || math.IsInf(v, 0) || v < 0) {
				t.Fatalf("%q was read as %v", s, v)
			}
		}
	})
}

// A maker has spoons down to an eighth and tablespoons of three teaspoons.
func TestSpoonsAreWrittenAsTheyAreMeasured(t *testing.T) {
	for tsp, want := range map[float64]string{
		0: "a pinch", 0.05: "a pinch", 0.07: "⅛ tsp", 0.25: "¼ tsp", 0.5: "½ tsp", 0.94: "1 tsp", 1: "1 tsp", 1.3: "1¼ tsp",
		2.99: "1 tbsp",
		3:    "1 tbsp", 3.5: "1 tbsp + ½ tsp", 4: "1 tbsp + 1 tsp", 7.75: "2 tbsp + 1¾ tsp", 30: "10 tbsp",
	} {
		assert.Equal(t, want, unit.Spoons(tsp), "%v tsp", tsp)
	}
	marks := map[rune]float64{'⅛': 0.125, '¼': 0.25, '⅜': 0.375, '½': 0.5, '⅝': 0.625, '¾': 0.75, '⅞': 0.875}
	read := func(text string) (tsp float64) {
		for part := range strings.SplitSeq(text, " + ") {
			amount, spoon, _ := strings.Cut(part, " ")
			n := 0.0
			for _, c := range amount {
				if f, ok := marks[c]; ok {
					n += f
				} else {
					n = n*10 + float64(c-'0')
				}
			}
			if spoon == "tbsp" {
				n *= 3
			}
			tsp += n
		}
		return tsp
	}
	rapid.Check(t, func(t *rapid.T) {
		tsp := rapid.Float64Range(0.07, 60).Draw(t, "tsp")
		require.InDelta(t, tsp, read(unit.Spoons(tsp)), 0.0625+1e-9, "to the nearest eighth: %s", unit.Spoons(tsp))
	})
}

func TestEachSystemShowsItsOwnUnits(t *testing.T) {
	assert.Equal(
		t,
		[]string{"65 mm", "1290 ml", "38 °C"},
		[]string{unit.FormatLength(65, unit.Metric), unit.FormatVolume(1290, unit.Metric), unit.FormatTemperature(38, unit.Metric)},
	)
	assert.Equal(
		t,
		[]string{"2.56 in", "43.6 fl oz", "100 °F"},
		[]string{unit.FormatLength(65, unit.US), unit.FormatVolume(1290, unit.US), unit.FormatTemperature(37.8, unit.US)},
	)
	for sys, bare := range map[unit.System][3]string{unit.Metric: {"g", "mm", "c"}, unit.US: {"oz", "in", "f"}} {
		assert.Equal(t, bare, [3]string{sys.MassUnit(), sys.LengthUnit(), sys.TemperatureUnit()}, "a bare number is in the unit of the shop")
		assert.True(t, sys.Valid())
	}
	assert.False(t, unit.System("stones").Valid())
	c, err := unit.Temperature("100", unit.US.TemperatureUnit())
	require.NoError(t, err)
	assert.InDelta(t, 37.8, c, 0.05, "a bare 100 of an American is not boiling")
	n, err := unit.Count("12")
	require.NoError(t, err)
	assert.Equal(t, 12, n)
	for _, text := range []string{"-1", "a dozen", "1e3", "999999999999"} {
		_, err := unit.Count(text)
		assert.Error(t, err, text)
	}
}

// Degrees may be below zero and counts are whole; whatever is typed is a figure or is
// refused, never something between.
func FuzzDegreesNumbersAndCountsAreReadOrRefused(f *testing.F) {
	for _, s := range []string{"38.5 °C", "-18 C", "98.6F", "−40", "1e400", "NaN", "0x10", "½", "12 3/4", "1,250", "+7",
		"9999999999999999999", "٣", "5\x00", "--5", "1/0"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		finite := func(v float64, err error) {
			if err == nil && (math.IsNaN(v) || math.IsInf(v, 0) || math.Abs(v) > 1e12) {
				t.Fatalf("%q was read as %v", s, v)
			}
		}
		for _, bare := range []string{"C", "F"} {
			v, err := unit.Temperature(s, bare)
			finite(v, err)
			if err == nil && v < -273.15 {
				t.Fatalf("%q was read as %v °C", s, v)
			}
		}
		finite(unit.Number(s))
		n, err := unit.Count(s)
		if err == nil && (n < 0) {
			t.Fatalf("%q was counted as %d", s, n)
		}
	})
}

// A field is written from what is kept, and kept again as it stands: it must not move.
func TestWhatIsWrittenIntoAFieldIsKeptAsItStands(t *testing.T) {
	for _, sys := range []unit.System{unit.Metric, unit.US} {
		for tenths := -200; tenths < 2500; tenths++ {
			c, err := unit.Temperature(unit.Trim(float64(tenths)/10, 1), sys.TemperatureUnit())
			require.NoError(t, err)
			again, err := unit.Temperature(unit.FieldTemperature(c, sys), sys.TemperatureUnit())
			require.NoError(t, err)
			require.InDelta(t, c, again, 1e-9, "%v %s", float64(tenths)/10, sys.TemperatureUnit())
		}
		for eighths := 1; eighths < 400; eighths++ {
			mm, err := unit.Length(unit.Trim(float64(eighths)/8, 3), sys.LengthUnit())
			require.NoError(t, err)
			again, err := unit.Length(unit.FieldLength(mm, sys), sys.LengthUnit())
			require.NoError(t, err)
			require.InDelta(t, mm, again, 5.1e-3, "%d/8 %s", eighths, sys.LengthUnit())
		}
	}
}

func TestAWeightToBeSeenFromAfarIsShort(t *testing.T) {
	assert.Equal(t, "17.64 lb", unit.FormatBriefMass(8000, unit.US))
	assert.Equal(t, "4.2 oz", unit.FormatBriefMass(120, unit.US))
	assert.Equal(t, unit.FormatMass(8000, unit.Metric), unit.FormatBriefMass(8000, unit.Metric))
}

// A US pint is 16 fluid ounces of 29.57 ml, an imperial one 20 of 28.41 ml.
func TestAPintIsAsLargeAsItsCountryMakesIt(t *testing.T) {
	for text, want := range map[string]float64{
		"2 US pints": 946.353, "2 imperial pints": 1136.523, "1 imp. qt": 1136.523, "1 US quart": 946.353, "1 uk gal": 4546.09,
		"3 fl oz": 88.721, "2 fl. oz": 59.147, "3 imperial fl oz": 85.239, "1 us gallon 1 us pint": 4258.588, "1 us cup": 236.588,
	} {
		got, err := unit.Volume(text, "ml")
		require.NoError(t, err, text)
		assert.InDelta(t, want, got, 0.001, text)
	}
	got, err := unit.Volume("1 1/2 qt", unit.USVolume)
	require.NoError(t, err)
	assert.InDelta(t, 1419.529, got, 0.001, "where fluid ounces are at home")
	for _, text := range []string{"2 pints", "1 quart", "1 gal", "1 cup", "1 imperial cup"} {
		_, err := unit.Volume(text, "ml")
		assert.Error(t, err, text)
	}
}

func TestASentenceBeginsLargeWhateverItsFirstLetterIs(t *testing.T) {
	for text, want := range map[string]string{
		"": "", "olive": "Olive", "“heals” says": "“heals” says", "épine": "Épine", "9 g": "9 g",
	} {
		assert.Equal(t, want, unit.Capital(text))
	}
}
