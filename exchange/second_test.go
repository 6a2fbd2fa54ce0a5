package exchange_test

import (
	"encoding/csv"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/plan"
)

// A second computation of the weigh sheet, written plainly from the definitions of
// docs/formats.md and from the tables as files. It shares no code with the core, so
// that an error in one shows in the other.

// rows reads a reference table by its slugs.
func rows(t *testing.T, file string) map[string]map[string]float64 {
	t.Helper()
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	r := csv.NewReader(strings.NewReader(string(text)))
	r.Comment = '#'
	all, err := r.ReadAll()
	require.NoError(t, err)
	out := map[string]map[string]float64{}
	for _, cells := range all[1:] {
		row := map[string]float64{}
		for i, name := range all[0] {
			if v, err := strconv.ParseFloat(cells[i], 64); err == nil {
				row[name] = v
			}
		}
		out[cells[0]] = row
	}
	return out
}

// curve reads y over x of a table by straight lines.
func curve(table map[string]map[string]float64, x, y string, at float64) float64 {
	below, above := math.Inf(-1), math.Inf(1)
	var yb, ya float64
	for _, row := range table {
		if v := row[x]; v <= at && v > below {
			below, yb = v, row[y]
		}
		if v := row[x]; v >= at && v < above {
			above, ya = v, row[y]
		}
	}
	if above == below {
		return yb
	}
	return yb + (ya-yb)*(at-below)/(above-below)
}

// order is a made-up request in plain figures.
type order struct {
	fats                           map[string]float64 // percent by slug
	naohPercent, naohPure, kohPure float64
	superfat                       float64
	basis                          string
	water                          float64
	liquids                        map[string]float64
	additives                      []extra
	fatsG                          float64 // or, when 0, the molds' volume
	length, width, fill            float64
	molds                          int
}

type extra struct {
	name, stage, basis          string
	rate, tsp, density, lyePerG float64
}

func (o order) json() string {
	list := func(of map[string]float64, key, more string) string {
		var out []string
		for slug, p := range of {
			out = append(out, fmt.Sprintf(`{"%s":%q,"percent":%v%s}`, key, slug, p, more))
		}
		return "[" + strings.Join(out, ",") + "]"
	}
	var extras []string
	for _, e := range o.additives {
		tsp := ""
		if e.tsp > 0 {
			tsp = fmt.Sprintf(`,"grams_per_tsp":%v`, e.tsp)
		}
		extras = append(
			extras,
			fmt.Sprintf(
				`{"name":%q,"stage":%q,"density_g_per_ml":%v,"lye_g_per_g":%v,"rate":{"basis":%q,"value":%v%s}}`,
				e.name,
				e.stage,
				e.density,
				e.lyePerG,
				e.basis,
				e.rate,
				tsp,
			),
		)
	}
	target := fmt.Sprintf(`{"fats_g":%v}`, o.fatsG)
	if o.fatsG == 0 {
		target = fmt.Sprintf(
			`{"molds":[{"mold":{"shape":"box","length_mm":%v,"width_mm":%v,"fill_mm":%v},"count":%d}]}`,
			o.length,
			o.width,
			o.fill,
			o.molds,
		)
	}
	return fmt.Sprintf(
		`{"format":"ashshelf.plan-request/1","recipe":{"fats":%s,"alkali":{"naoh_percent":%v,"naoh_purity_percent":%v,`+
			`"koh_purity_percent":%v},"superfat_percent":%v,"water":{"basis":%q,"value":%v},"liquids":%s,"additives":[%s]},"target":%s}`,
		list(
			o.fats,
			"fat",
			"",
		),
		o.naohPercent,
		o.naohPure,
		o.kohPure,
		o.superfat,
		o.basis,
		o.water,
		list(o.liquids, "liquid", `,"carries_lye":true`),
		strings.Join(extras, ","),
		target,
	)
}

// weigh is the sheet of the order by its second computation: grams by item.
func (o order) weigh(t *testing.T) map[string]float64 {
	fats := rows(t, "../soap/fat/fats.csv")
	naohTable, kohTable := rows(t, "../soap/lye/naoh_solution.csv"), rows(t, "../soap/lye/koh_solution.csv")
	const naohPerKOH = 39.997 / 56.1056
	at := func(fatsG float64) (out map[string]float64, volume float64) {
		out = map[string]float64{}
		sap := 0.0
		for slug, p := range o.fats {
			out["fat:"+slug] = fatsG * p / 100
			sap += p / 100 * fats[slug]["sap"]
			volume += fatsG * p / 100 / (fats[slug]["density_g_ml"] - 0.00068*10)
		}
		batter, naoh, koh, liquid, acid := fatsG, 0.0, 0.0, 0.0, 0.0
		for range 400 { // an acid by the batter wants the batter first
			need := fatsG*sap/1000*(1-o.superfat/100) + acid
			naoh = need * o.naohPercent / 100 * naohPerKOH / (o.naohPure / 100)
			koh = need * (1 - o.naohPercent/100) / (o.kohPure / 100)
			switch o.basis {
			case "lye-strength":
				liquid = (naoh + koh) * (100/o.water - 1)
			case "liquid-to-lye":
				liquid = (naoh + koh) * o.water
			default:
				liquid = fatsG * o.water / 100
			}
			batter, acid = fatsG+naoh+koh+liquid, 0
			for _, e := range o.additives {
				g := 0.0
				switch e.basis {
				case "percent-of-fats":
					g = fatsG * e.rate / 100
				case "g-per-kg-fats":
					g = fatsG / 1000 * e.rate
				case "percent-of-batter":
					g = batter * e.rate / 100
				case "tsp-per-lb-fats":
					g = fatsG / 453.59237 * e.rate * e.tsp
				case "tsp-per-lb-batter":
					g = batter / 453.59237 * e.rate * e.tsp
				case "grams-per-batch":
					g = e.rate
				}
				out["additive:"+e.name] = g
				acid += g * e.lyePerG / naohPerKOH
			}
		}
		if naoh > 0 {
			out["alkali:naoh"] = naoh
		}
		if koh > 0 {
			out["alkali:koh"] = koh
		}
		for slug, p := range o.liquids {
			out["liquid:"+slug] = liquid * p / 100
		}
		pureNaOH, pureKOH := naoh*o.naohPure/100, koh*o.kohPure/100
		w := 100 * (pureNaOH + pureKOH) / (naoh + koh + liquid)
		density := (curve(naohTable, "weight_pct", "density_g_ml", w)*pureNaOH+curve(kohTable, "weight_pct", "density_g_ml",
			w)*pureKOH)/(pureNaOH+pureKOH) - 15*curve(
			naohTable,
			"weight_pct",
			"density_fall_per_c",
			w,
		)
		volume += (naoh + koh + liquid) / density
		for _, e := range o.additives {
			volume += out["additive:"+e.name] / e.density
		}
		return out, volume
	}
	if o.fatsG > 0 {
		out, _ := at(o.fatsG)
		return out
	}
	low, high, want := 1.0, 1e6, o.length*o.width*o.fill/1000*float64(o.molds)
	for range 200 {
		if mid := (low + high) / 2; func() float64 { _, v := at(mid); return v }() < want {
			low = mid
		} else {
			high = mid
		}
	}
	out, _ := at(low)
	return out
}

// mixed makes up an order: bars, soft soap and liquid soap, milk and brine, acids,
// salt, every way to say the liquid and a rate.
func mixed(rng *rand.Rand) order {
	between := func(a, b float64) float64 { return math.Round((a+(b-a)*rng.Float64())*100) / 100 }
	shares := func(of []string, most int) map[string]float64 {
		n, left := 1+rng.IntN(most), 100.0
		out := map[string]float64{}
		for i, at := range rng.Perm(len(of))[:n] {
			p := left
			if i < n-1 {
				p = math.Round(left * rng.Float64() * 0.8)
			}
			out[of[at]], left = p, left-p
		}
		return out
	}
	o := order{
		naohPercent: []float64{100, 100, 100, 0, 40}[rng.IntN(5)],
		naohPure:    between(96, 100),
		kohPure:     between(85, 95),
		superfat:    between(0, 20),
		fats: shares(
			[]string{
				"olive-oil",
				"coconut-oil",
				"beef-tallow",
				"palm-oil",
				"castor-oil",
				"shea-butter",
				"rapeseed-oil",
				"stearic-acid",
				"beeswax",
				"lard",
			},
			5,
		),
		liquids: map[string]float64{"water": 60},
	}
	o.liquids[[]string{"goat-milk", "brine", "coconut-milk", "tea", "ice"}[rng.IntN(5)]] = 40
	switch o.basis = []string{"lye-strength", "liquid-to-lye", "percent-of-fats"}[rng.IntN(3)]; o.basis {
	case "lye-strength":
		o.water = between(25, 35)
	case "liquid-to-lye":
		o.water = between(1.8, 3)
	default:
		o.water = between(36, 60)
	}
	for i, b := range []string{"percent-of-fats", "g-per-kg-fats", "percent-of-batter", "tsp-per-lb-fats", "tsp-per-lb-batter",
		"grams-per-batch"} {
		if rng.IntN(2) == 0 {
			continue
		}
		e := extra{
			name:    fmt.Sprintf("Extra %d", i),
			basis:   b,
			rate:    between(0.5, 8),
			density: between(0.8, 2.6),
			stage:   []string{"liquid", "lye-water", "fats", "emulsion", "trace", "top"}[rng.IntN(6)],
		}
		if strings.HasPrefix(b, "tsp") {
			e.tsp = between(1, 6)
		}
		if rng.IntN(4) == 0 {
			e.lyePerG, e.rate = between(0.05, 0.6), between(0.2, 2)
		}
		o.additives = append(o.additives, e)
	}
	if o.fatsG = between(300, 9000); rng.IntN(2) == 0 {
		o.fatsG, o.length, o.width, o.fill, o.molds = 0, between(100, 400), between(60, 250), between(25, 80), 1+rng.IntN(6)
	}
	return o
}

func TestAHundredSheetsAgreeWithASecondComputation(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 26))
	for n := range 100 {
		o := mixed(rng)
		request := o.json()
		r, err := exchange.ReadRequest(strings.NewReader(request))
		require.NoError(t, err, "%d: %s", n, request)
		p, err := plan.Make(r)
		require.NoError(t, err, "%d: %s", n, request)
		want := o.weigh(t)
		got := map[string]float64{}
		for _, section := range plan.Sheet(r, p) {
			for _, i := range section.Items {
				got[string(i.Key)] += i.Target
			}
		}
		for item, g := range want {
			if g < 1e-9 {
				continue
			}
			assert.InEpsilon(t, g, got[item], 1e-6, "%d: %s of %s", n, item, request)
			delete(got, item)
		}
		for item, g := range got {
			assert.Zero(t, g, "%d: %s is on the sheet and not in the second computation", n, item)
		}
	}
}
