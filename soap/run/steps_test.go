package run_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
)

// milkBar is a bar with all that a run sheet can hold: sugar before the lye,
// lactate after it, milk off the lye, clay, scent, two portions and a design.
func milkBar(t *testing.T) run.Order {
	t.Helper()
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	milk, _ := liquid.BySlug("sheep-milk")
	use := func(name string, stage additive.Stage, rate float64) additive.Use {
		return additive.Use{Name: name, Stage: stage, Basis: additive.PercentOfFats, Rate: rate, Density: 1}
	}
	f := recipe.Formula{
		Name:     "Milk bar",
		Fats:     fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}},
		Alkali:   lye.DefaultAlkali(),
		Superfat: 5,
		Water:    recipe.Water{Basis: recipe.LyeStrength, Value: 30},
		Liquids:  []recipe.Liquid{{Liquid: liquid.Water(), Percent: 60, Carries: true}, {Liquid: milk, Percent: 40}},
		Additives: []additive.Use{
			use("Sugar", additive.InLiquid, 1),
			use("Sodium lactate", additive.InLye, 1),
			use("Kaolin clay", additive.InFats, 2),
			use("Sea salt", additive.Top, 0.5),
		},
		Scent: &additive.Perfume{
			Rate:  2,
			Stage: additive.Trace,
			Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Density: 0.95}, Percent: 100}},
		},
		Portions: []recipe.Portion{
			{Name: "plain", Percent: 60},
			{Name: "green", Percent: 40, Colorants: []additive.Use{use("Spinach powder", additive.Portion, 1)}},
		},
		Design: []recipe.Step{{Do: recipe.Layer, Portion: "plain"}, {Do: recipe.Drizzle, Portion: "green"}},
	}
	require.NoError(t, f.Check().Err())
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: 20,
		Target:  plan.Target{FatsG: 1000},
		Scales:  plan.Scales{Resolution: 0.1},
	}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return run.Order{
		Request: r,
		Formula: f,
		Sheet:   plan.Sheet(r, p),
		Pot:     p,
		Molds: []run.Vessel{
			{Name: "Long loaf", Material: "lined", Count: 2, Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}},
		},
	}
}

func keys(steps []run.Step) []string {
	out := make([]string, len(steps))
	for i, s := range steps {
		out[i] = s.Key
	}
	return out
}

func step(t *testing.T, o run.Order, key string) run.Step {
	t.Helper()
	steps := run.Steps(o)
	i := slices.Index(keys(steps), key)
	require.GreaterOrEqual(t, i, 0, "%s in %v", key, keys(steps))
	return steps[i]
}

func TestTheRunGoesInTheOrderOfTheWork(t *testing.T) {
	o := milkBar(t)
	order := keys(run.Steps(o))
	wanted := []string{
		"ready:bench",
		run.GearKey,
		run.ScaleKey,
		"ready:mold:0",
		"weigh:liquid:water",
		"weigh:additive:Sugar",
		"lye:stir",
		"weigh:alkali:naoh",
		run.LyeInKey,
		"weigh:additive:Sodium lactate",
		"in:additive:Sodium lactate",
		"weigh:fat:coconut-oil",
		"fats:melt",
		"weigh:fat:olive-oil",
		"weigh:additive:Kaolin clay",
		"weigh:liquid:sheep-milk",
		"weigh:additive:Fig",
		"milk:liquid:sheep-milk",
		"batter:warm",
		run.MeetKey,
		run.TraceKey,
		"in:additive:Fig",
		"portion:plain",
		"portion:green",
		"design:0",
		"design:1",
		"after:tap", // and textured, before salt goes on it
		"in:additive:Sea salt",
		run.PourKey,
		"after:cover",
		"after:clean",
	}
	at := -1
	for _, key := range wanted {
		i := slices.Index(order, key)
		require.Greater(t, i, at, "%s comes in its turn in %v", key, order)
		at = i
	}
	once := map[string]bool{}
	for _, key := range order {
		assert.False(t, once[key], "%s comes once", key)
		once[key] = true
	}
	assert.Contains(t, step(t, o, "ready:mold:0").Text, "Liner", "a lined mold gets its liner")
}

// Whatever the recipe, everything on the weigh sheet is weighed exactly once, and
// everything that is stirred in later has a step of its own.
func TestNothingOfTheSheetIsForgottenInTheRun(t *testing.T) {
	o := milkBar(t)
	rapid.Check(t, func(t *rapid.T) {
		one := o
		one.Sheet = slices.DeleteFunc(slices.Clone(o.Sheet), func(plan.Section) bool { return rapid.Bool().Draw(t, "left out") })
		weighed := map[plan.Key]int{}
		for _, s := range run.Steps(one) {
			if s.Kind == run.Weigh {
				weighed[s.Item.Key]++
			}
		}
		items := 0
		for _, sec := range one.Sheet {
			for _, i := range sec.Items {
				items++
				require.Equal(t, 1, weighed[i.Key], i.Key)
			}
		}
		require.Len(t, weighed, items)
	})
}

// Whoever adds a stage is told here what has to know it: where it stands on the weigh
// sheet, that it is weighed, what it is when it is forgotten, and, unless it is stirred into
// what is weighed with it or into a portion of its own, the step at which it goes in.
func TestEveryStageOfAnAdditiveHasItsPlaceOnTheSheetAndItsStep(t *testing.T) {
	section := map[additive.Into]plan.Place{additive.ThePlainLiquid: plan.InJug, additive.TheLye: plan.InJug,
		additive.TheFats: plan.ToStir, additive.TheBatter: plan.AtHand, additive.TheTrace: plan.AtHand,
		additive.APortion: plan.AtHand, additive.TheTop: plan.AtHand}
	thing := map[additive.Into]run.Thing{additive.ThePlainLiquid: run.BeforeLye, additive.TheLye: run.IntoLye,
		additive.TheFats: run.IntoFats, additive.TheBatter: run.IntoPot, additive.TheTrace: run.IntoPot,
		additive.APortion: run.IntoPot, additive.TheTop: run.OnTop}
	withStep := []additive.Into{additive.TheLye, additive.TheFats, additive.TheBatter, additive.TheTrace, additive.TheTop}
	for _, stage := range additive.Stages() {
		t.Run(string(stage), func(t *testing.T) {
			require.NotEmpty(t, stage.Words())
			o := milkBar(t)
			f := o.Formula
			one := additive.Use{Name: "Ground spice", Stage: stage, Basis: additive.PercentOfFats, Rate: 1, Density: 1}
			key := plan.AdditiveKey(one)
			f.Additives, f.Portions, f.Design = []additive.Use{one}, nil, nil
			r := o.Request
			r.Formula = f
			p, err := plan.Make(r)
			require.NoError(t, err)
			o = run.Order{Request: r, Formula: f, Sheet: plan.Sheet(r, p), Pot: p.Pot()}
			require.Contains(t, section, stage.Into(), "package plan has no place for it yet")
			found := 0
			for _, sec := range o.Sheet {
				for _, i := range sec.Items {
					if i.Key == key {
						found++
						assert.Equal(t, section[stage.Into()], sec.Place)
					}
				}
			}
			assert.Equal(t, 1, found, "it stands on the sheet once")
			assert.Equal(t, run.Weigh, step(t, o, run.WeighKey(key)).Kind)
			what := o.Things()[key]
			assert.Equal(t, thing[stage.Into()], what)
			in, ok := o.GoesIn(key, what)
			assert.Equal(t, slices.Contains(withStep, stage.Into()), ok)
			if ok {
				assert.Contains(t, []plan.Key{key, ""}, step(t, o, in).Item.Key, "one step for all that goes in there")
			}
		})
	}
}

// upTo is the state when every step before a key is done and all before it
// weighed.
func upTo(t *testing.T, o run.Order, key string) run.State {
	t.Helper()
	s := run.State{Done: map[string]bool{}, Pot: run.Pot{Grams: map[plan.Key]float64{}, Closed: map[plan.Key]bool{}}}
	for _, one := range run.Steps(o) {
		if one.Key == key {
			return s
		}
		s.Done[one.Key] = true
		if one.Kind == run.Weigh {
			s.Grams[one.Item.Key], s.Closed[one.Item.Key] = one.Item.Target, true
		}
	}
	require.Fail(t, "no step "+key)
	return s
}

func degrees(v float64) *float64 { return &v }

func TestADangerousOrderIsStopped(t *testing.T) {
	o := milkBar(t)
	code := func(c *caution.Caution) string {
		if c == nil {
			return ""
		}
		return string(c.Level) + " " + c.Code
	}
	in := step(t, o, run.LyeInKey)
	s := upTo(t, o, run.LyeInKey)
	cold := run.Conditions{LiquidC: degrees(18)}
	assert.Nil(t, run.StopsStep(o, s, in, cold))
	assert.Equal(t, "block run.liquid-unread", code(run.StopsStep(o, s, in, run.Conditions{})))
	assert.Equal(t, "block lye.liquid-hot", code(run.StopsStep(o, s, in, run.Conditions{LiquidC: degrees(55)})))
	s.Closed["additive:Sugar"] = false
	assert.Contains(t, run.StopsStep(o, s, in, cold).Reason, "Sugar", "sugar goes in before the lye")
	s = upTo(t, o, run.LyeInKey)
	s.Closed["alkali:naoh"] = false
	assert.Equal(t, "block run.lye-unweighed", code(run.StopsStep(o, s, in, cold)))
	s.Done[run.GearKey] = false
	assert.Equal(t, "block run.gear", code(run.StopsStep(o, s, in, cold)))
	assert.Equal(t, "block run.gear", code(run.StopsWeighing(o, s, step(t, o, "weigh:alkali:naoh").Item)))

	after := upTo(t, o, run.MeetKey)
	assert.Equal(t, "block run.liquid-into-lye", code(run.StopsWeighing(o, after, step(t, o, "weigh:liquid:water").Item)))
	assert.Equal(t, "block run.sugar-late", code(run.StopsWeighing(o, after, step(t, o, "weigh:additive:Sugar").Item)))
	assert.Nil(t, run.StopsWeighing(o, after, step(t, o, "weigh:fat:olive-oil").Item), "fats have their time")
	milk := step(t, o, "milk:liquid:sheep-milk")
	assert.Equal(t, "block run.milk-scorches", code(run.StopsStep(o, after, milk, run.Conditions{Onto: "lye", LyeC: degrees(70)})))
	assert.Equal(
		t,
		"block run.milk-scorches",
		code(run.StopsStep(o, after, milk, run.Conditions{Onto: "lye"})),
		"lye that was never read counts as hot",
	)
	assert.Nil(t, run.StopsStep(o, after, milk, run.Conditions{Onto: "lye", LyeC: degrees(30)}))
	assert.Nil(t, run.StopsStep(o, after, milk, run.Conditions{Onto: "fats"}))
}

// Beer that is not as cold as it should be goes on record with the maker's word; hot beer never takes
// lye.
func TestWarmBeerIsAskedAboutAndHotBeerIsStopped(t *testing.T) {
	o := milkBar(t)
	beer, _ := liquid.BySlug("beer")
	o.Formula.Liquids = []recipe.Liquid{{Liquid: beer, Percent: 100, Carries: true}}
	o.Request.Formula = o.Formula
	p, err := plan.Make(o.Request)
	require.NoError(t, err)
	o.Pot, o.Sheet = p, plan.Sheet(o.Request, p)
	in, s := step(t, o, run.LyeInKey), upTo(t, o, run.LyeInKey)
	assert.Nil(t, run.StopsStep(o, s, in, run.Conditions{LiquidC: degrees(6)}))
	warm := run.StopsStep(o, s, in, run.Conditions{LiquidC: degrees(14)})
	require.NotNil(t, warm)
	assert.Equal(t, caution.Warn, warm.Level)
	hot := run.StopsStep(o, s, in, run.Conditions{LiquidC: degrees(45)})
	require.NotNil(t, hot)
	assert.Equal(t, caution.Block, hot.Level)
}

func TestLyeAndFatsMeetOnlyWhenAllIsReady(t *testing.T) {
	o := milkBar(t)
	meet := step(t, o, run.MeetKey)
	for want, c := range map[string]run.Conditions{
		"":              {LyeC: degrees(38), FatsC: degrees(40)},
		"run.unread":    {},
		"run.apart":     {LyeC: degrees(55), FatsC: degrees(38)},
		"run.too-hot":   {LyeC: degrees(85), FatsC: degrees(60)},
		"run.too-cold":  {LyeC: degrees(17), FatsC: degrees(18)},
		"run.off-range": {LyeC: degrees(57), FatsC: degrees(54)},
	} {
		got := run.StopsStep(o, upTo(t, o, run.MeetKey), meet, c)
		if want == "" {
			assert.Nil(t, got)
			continue
		}
		require.NotNil(t, got, want)
		assert.Equal(t, want, got.Code)
	}
	good := run.Conditions{LyeC: degrees(38), FatsC: degrees(40)}
	s := upTo(t, o, run.MeetKey)
	s.Closed["additive:Fig"] = false
	assert.Equal(t, "run.not-at-hand", run.StopsStep(o, s, meet, good).Code, "the scent is weighed before there is no time for it")
	s = upTo(t, o, run.MeetKey)
	s.Closed["fat:olive-oil"] = false
	assert.Contains(t, run.StopsStep(o, s, meet, good).Reason, "Olive oil", "a fat forgotten")
	s = upTo(t, o, run.MeetKey)
	s.Grams["alkali:naoh"] *= 1.08
	heavy := run.StopsStep(o, s, meet, good)
	require.NotNil(t, heavy)
	assert.Equal(t, "run.lye-heavy", heavy.Code)
	assert.Contains(t, heavy.Remedy, "g Olive oil", "the remedy names the grams of which fat")
}

func TestThePourWaitsForTheScentAndTheDesign(t *testing.T) {
	o := milkBar(t)
	s := upTo(t, o, run.PourKey)
	assert.Empty(t, run.Undone(run.Steps(o), s))
	s.Closed["additive:Fig"], s.Done["weigh:additive:Fig"], s.Done["in:additive:Fig"], s.Done["design:1"] = false, false, false, false
	left := run.Undone(run.Steps(o), s)
	assert.Equal(t, []string{"weigh:additive:Fig", "design:1"}, keys(left), "an unweighed scent is named once")
	s.Closed["additive:Fig"] = true
	assert.Equal(t, []string{"in:additive:Fig", "design:1"}, keys(run.Undone(run.Steps(o), s)), "weighed is not yet in")
}

// 1000 g of olive oil of SAP 190 take 135.45 g of NaOH; of a lot of SAP 180 only
// 128.3 g. The lye of 5 % superfat, 128.7 g, is then all that it takes.
func TestTheLotsThatWerePickedDecideTheSuperfat(t *testing.T) {
	f, sheet := bench(t, 5)
	full := func(parts ...run.Part) float64 {
		p := in(map[plan.Key]float64{"fat:olive-oil": 1000, "alkali:naoh": 128.7})
		p.Parts = parts
		return run.Judge(f, sheet, p).Superfat
	}
	sap := f.Formula.Fats[0].Fat.SAP
	plain := full()
	half := full(run.Part{Item: "fat:olive-oil", Grams: 500, SAP: sap - 10})
	all := full(run.Part{Item: "fat:olive-oil", Grams: 1000, SAP: sap - 10})
	assert.InDelta(t, 100*(1-(1-plain/100)*sap/(sap-10)), all, 1e-9)
	assert.InDelta(t, 100*(1-(1-plain/100)*sap/(sap-5)), half, 1e-9, "half of it from the weaker lot")
	assert.InDelta(
		t,
		100*(1-(1-plain/100)*0.97),
		full(run.Part{Item: "alkali:naoh", Grams: 128.7, Purity: 97}),
		1e-9,
		"weaker lye leaves more fat",
	)
	extra := in(map[plan.Key]float64{"fat:olive-oil": 1000, "alkali:naoh": 128.7})
	extra.Extras = []run.Extra{{Grams: 20, SAP: sap}, {Grams: 5}}
	assert.InDelta(
		t,
		100*(1-(1-plain/100)/1.02),
		run.Judge(f, sheet, extra).Superfat,
		1e-9,
		"a handful of fat counts, a pinch of colour does not",
	)
}

func TestWhatIsStillToComeCountsWithItsTarget(t *testing.T) {
	f, sheet := bench(t, 5)
	half := run.Pot{Grams: map[plan.Key]float64{"fat:olive-oil": 400}}
	assert.InDelta(
		t,
		run.Judge(f, sheet, run.Pot{}).Superfat,
		run.Judge(f, sheet, half).Superfat,
		1e-9,
		"a bottle that ran out is not the end of the oil",
	)
	half.Closed = map[plan.Key]bool{"fat:olive-oil": true}
	assert.Less(t, run.Judge(f, sheet, half).Superfat, 0.0, "unless the maker says so")
}

// Rescaling to what went in brings the superfat back to the plan, whatever was
// over and by how much.
func TestRescalingBringsTheSoapBackToItsPlan(t *testing.T) {
	f, sheet := bench(t, 5)
	pot, err := plan.Make(f)
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		item := sheet[rapid.IntRange(0, len(sheet)-1).Draw(t, "vessel")].Items[0]
		poured := item.Target * rapid.Float64Range(1.02, 1.4).Draw(t, "over")
		over := run.Over(item, poured)
		require.NotNil(t, over)
		_, again, err := f.Rescaled(pot, over.Factor)
		require.NoError(t, err)
		after := run.Judge(f, again, run.Pot{Grams: map[plan.Key]float64{item.Key: poured}})
		require.InDelta(t, 5, after.Superfat, 0.2)
	})
	assert.Nil(t, run.Over(sheet[0].Items[0], sheet[0].Items[0].Target), "on the mark there is nothing to rescale")
}

// Lye read at 80 °C and fats at 55 °C come together at last; readings that
// follow the cooling law move the forecast by little.
func TestTheForecastFollowsTheReadings(t *testing.T) {
	o := milkBar(t)
	now := time.Date(2026, 3, 14, 10, 0, 0, 0, time.UTC)
	at := func(min float64) time.Time { return now.Add(time.Duration(min * float64(time.Minute))) }
	unread := run.Forecast(o, nil, nil, time.Time{}, 20, 20, now)
	assert.False(t, unread.OK)
	lyeRead := []run.Reading{{At: now, C: 80}}
	fatsRead := []run.Reading{{At: now, C: 55}}
	first := run.Forecast(o, lyeRead, fatsRead, time.Time{}, 20, 20, now)
	require.True(t, first.OK)
	assert.InDelta(t, 80, first.LyeC, 1e-9)
	later := run.Forecast(o, lyeRead, fatsRead, time.Time{}, 20, 20, at(10))
	assert.Less(t, later.LyeC, 80.0)
	assert.InDelta(t, first.Minutes-10, later.Minutes, 1.1, "ten minutes later it is ten minutes less")
	slow := run.Forecast(
		o,
		append(lyeRead, run.Reading{At: at(10), C: 78}, run.Reading{At: at(20), C: 76}),
		fatsRead,
		time.Time{},
		20,
		20,
		at(20),
	)
	assert.Greater(t, slow.Minutes+20, first.Minutes, "a pot that holds its heat is waited for longer")
	assert.Greater(t, run.Forecast(o, nil, fatsRead, now, 20, 20, now).LyeC, 60.0, "fresh lye counts as hot as its heat can make it")
}

// “Lye 37 °F, fats 36 °F, ready to combine now”, of a blend that is more than half
// solid: never.
func TestPotsThatAreTooColdAreNotReady(t *testing.T) {
	o := milkBar(t)
	tallow, _ := fat.BySlug("beef-tallow")
	o.Formula.Fats = fat.Blend{{Fat: tallow, Percent: 90}, o.Formula.Fats[1]}
	o.Formula.Fats[1].Percent = 10
	low, high := o.Formula.Working()
	assert.InDelta(t, 41, low, 1, "tallow sets below")
	assert.Equal(t, 43.0, high)
	now := time.Date(2026, 3, 14, 10, 0, 0, 0, time.UTC)
	at := func(lyeC, fatsC float64) run.Meeting {
		return run.Forecast(o, []run.Reading{{At: now, C: lyeC}}, []run.Reading{{At: now, C: fatsC}}, time.Time{}, 20, 20, now)
	}
	for _, cold := range [][2]float64{{2.8, 2.2}, {38, 35}, {42, 30}, {30, 42}} {
		m := at(cold[0], cold[1])
		assert.False(t, m.OK, "%v", cold)
		assert.True(t, m.Cold(), "%v", cold)
		stop := run.StopsStep(o, upTo(t, o, run.MeetKey), step(t, o, run.MeetKey), run.Conditions{LyeC: &cold[0], FatsC: &cold[1]})
		require.NotNil(t, stop, "%v", cold)
	}
	good := at(42, 42)
	assert.True(t, good.OK)
	assert.False(t, good.Cold())
	rapid.Check(t, func(t *rapid.T) {
		m := at(rapid.Float64Range(0, 95).Draw(t, "lye"), rapid.Float64Range(0, 95).Draw(t, "fats"))
		if m.OK && m.Minutes == 0 {
			require.GreaterOrEqual(t, min(m.LyeC, m.FatsC), m.Low)
		}
	})
}

// Plan, make day and forecast ask the same jug, whatever is in it: ice, frozen milk,
// a stock, or flakes of potash.
func TestOneJugAnswersEverybody(t *testing.T) {
	ice, _ := liquid.BySlug(liquid.Ice)
	milk, _ := liquid.BySlug("goat-milk")
	water := liquid.Water()
	for name, change := range map[string]func(*plan.Request){
		"water": func(*plan.Request) {},
		"half ice": func(r *plan.Request) {
			r.Formula.Liquids = []recipe.Liquid{{Liquid: water, Percent: 50, Carries: true}, {Liquid: ice, Percent: 50, Carries: true}}
		},
		"frozen milk": func(r *plan.Request) {
			r.Formula.Liquids = []recipe.Liquid{{Liquid: milk, Percent: 100, Carries: true, Frozen: true}}
		},
		"a stock":    func(r *plan.Request) { r.Stock = &lye.Stock{Strength: 50, C: 21} },
		"part stock": func(r *plan.Request) { r.Stock, r.StockShare = &lye.Stock{Strength: 50, C: 21}, 40 },
		"potash":     func(r *plan.Request) { r.Formula.Alkali.NaOHPercent = 0 },
		"a mix":      func(r *plan.Request) { r.Formula.Alkali.NaOHPercent = 40 },
	} {
		r, _ := bench(t, 5)
		r.LiquidC = 17
		r.Formula.Water.Value = 30
		change(&r)
		p, err := plan.Make(r)
		require.NoError(t, err, name)
		o := run.Order{Request: r, Formula: r.Formula, Sheet: plan.Sheet(r, p), Pot: p}
		assert.InDelta(t, p.PeakC, o.Jug(run.Pot{}, 17).PeakC(), 0.1, name)
		assert.InDelta(t, p.PeakC, r.JugOf(p).PeakC(), 1e-9, name)
		now := time.Date(2026, 3, 14, 10, 0, 0, 0, time.UTC)
		fresh := run.Forecast(o, nil, nil, now, 17, 10, now)
		assert.InDelta(t, p.PeakC, fresh.LyeC, 0.1, name)
		hot := 60.0
		stop := run.StopsStep(o, upTo(t, o, run.LyeInKey), step(t, o, run.LyeInKey), run.Conditions{LiquidC: &hot})
		if name != "frozen milk" { // which has no fluid part that could be hot
			require.NotNil(t, stop, name)
			assert.Equal(t, caution.Block, stop.Level, name)
		}
	}
}

func TestACookedSoapIsCookedAndAJarIsNotLined(t *testing.T) {
	o := milkBar(t)
	o.Formula.Process.Kind = recipe.Cooked
	o.Formula.Design, o.Formula.Portions = nil, nil
	o.Molds = []run.Vessel{{Name: "Jar", Material: "jar", Count: 6, Mold: mold.Mold{Shape: mold.Water, WaterG: 120, Cavities: 1}}}
	r := o.Request
	r.Formula = o.Formula
	p, err := plan.Make(r)
	require.NoError(t, err)
	o.Pot, o.Sheet = p, plan.Sheet(r, p)
	assert.NotNil(t, step(t, o, "batter:cook").Timer)
	assert.NotContains(t, step(t, o, "ready:mold:0").Text, "Liner")
	assert.Equal(t, run.Fill, step(t, o, "fill:0").Kind, "without a design each mold is poured")
	assert.True(t, strings.HasPrefix(step(t, o, "fill:0").Title, "Pour into 6 × Jar"))
}

func TestAFatThatIsHeldBackGoesInAfterTheCook(t *testing.T) {
	o := milkBar(t)
	r := o.Request
	shea, _ := fat.BySlug("shea-butter")
	r.Formula.Portions, r.Formula.Design, r.Formula.Process.Kind = nil, nil, recipe.Cooked
	r.Formula.Fats = append(slices.Clone(r.Formula.Fats), fat.Share{Fat: shea, Percent: 4, AfterCook: true})
	r.Formula.Fats[0].Percent -= 4
	p, err := plan.Make(r)
	require.NoError(t, err)
	o.Formula, o.Request, o.Pot, o.Sheet = r.Formula, r, p, plan.Sheet(r, p)
	order := keys(run.Steps(o))
	key := plan.FatKey(shea)
	weighed, cooked, in := slices.Index(order, run.WeighKey(key)), slices.Index(order, "batter:cook"), slices.Index(order, "in:"+string(key))
	require.Positive(t, weighed)
	assert.Less(t, weighed, slices.Index(order, run.MeetKey), "it stands ready before the lye meets the fats")
	assert.Less(t, slices.Index(order, run.MeetKey), cooked)
	assert.Less(t, cooked, in)
	assert.Equal(t, run.AFat, o.Things()[key], "what trouble is with it is that of a fat")
	total := 0.0
	for key, g := range plan.Targets(o.Sheet) {
		if key.Kind() == plan.FatItem {
			total += g
		}
	}
	assert.InDelta(t, 1000, total, 0.5, "it is weighed once")
}

func TestWhatComesFirstIsNamed(t *testing.T) {
	o := milkBar(t)
	steps := run.Steps(o)
	step := func(key string) run.Step {
		i := slices.IndexFunc(steps, func(s run.Step) bool { return s.Key == key })
		require.GreaterOrEqual(t, i, 0, key)
		return steps[i]
	}
	none := run.State{Done: map[string]bool{}, Pot: run.Pot{Grams: map[plan.Key]float64{}, Closed: map[plan.Key]bool{}}}
	assert.Equal(t, []string{run.GearKey}, keys(run.First(o, none, step(run.WeighKey(plan.NaOHKey)))))
	lyeIn := keys(run.First(o, none, step(run.LyeInKey)))
	assert.Equal(t, run.GearKey, lyeIn[0])
	assert.Contains(t, lyeIn, run.WeighKey("additive:Sugar"))
	assert.NotContains(t, lyeIn, run.WeighKey("fat:olive-oil"), "fats have time")
	meet := keys(run.First(o, none, step(run.MeetKey)))
	assert.Contains(t, meet, run.WeighKey("fat:olive-oil"))
	assert.Contains(t, meet, run.LyeInKey)
	assert.Contains(t, meet, run.WeighKey("additive:Fig"), "at trace there is no time to weigh")
	assert.NotContains(t, meet, run.WeighKey("additive:Sea salt"), "what goes on top waits")
	assert.Equal(t, []string{run.WeighKey("additive:Fig")}, keys(run.First(o, none, step("in:additive:Fig"))))
	for _, s := range o.Sheet {
		for _, i := range s.Items {
			none.Closed[i.Key] = true
		}
	}
	none.Done[run.LyeInKey], none.Done[run.GearKey] = true, true
	assert.Empty(t, run.First(o, none, step(run.MeetKey)))
	assert.Equal(t, []string{"in:additive:Fig"}, keys(run.First(o, none, step("portion:plain"))), "it is split with what is in it")
}

// A pot that was cooked after all is spooned into its molds: nothing is traced, split or swirled.
func TestARescueClosesWhatHasLostItsPoint(t *testing.T) {
	o := milkBar(t)
	o.Rescued = true
	gone := map[string]bool{}
	var fill bool
	for _, s := range run.Steps(o) {
		gone[s.Key] = s.Gone
		fill = fill || s.Kind == run.Fill
		if s.Gone {
			assert.False(t, s.Must, s.Key)
		}
	}
	for _, key := range []string{run.TraceKey, "portion:plain", "portion:green", "design:0", "design:1"} {
		assert.True(t, gone[key], key)
	}
	assert.False(t, gone["in:additive:Fig"], "what scent is left goes in")
	assert.False(t, gone[run.PourKey])
	assert.True(t, fill, "it still goes into its molds")
	s := run.State{Done: map[string]bool{}, Pot: run.Pot{Closed: map[plan.Key]bool{}}}
	for _, one := range run.Undone(run.Steps(o), s) {
		assert.False(t, one.Gone, "%s keeps no pour waiting", one.Key)
	}
}

func TestWhoNeverPouredIsToldAtTheStepAndNotBefore(t *testing.T) {
	o := milkBar(t)
	said := map[string]string{}
	for _, s := range run.Steps(o) {
		said[s.Key] = o.FirstTime(s)
	}
	assert.Contains(t, said[run.GearKey], "the tub of lye is opened", "gear comes before the lye")
	assert.Contains(t, said[run.LyeInKey], "lye goes into the liquid")
	assert.Contains(t, said[run.MeetKey], "Raw batter burns")
	assert.NotEmpty(t, said[run.WeighKey(plan.NaOHKey)], "the lye is weighed")
	assert.Empty(t, said["ready:bench"], "nothing is said where nothing is at stake")
	assert.Empty(t, said[run.WeighKey(plan.FatKeyOf("olive-oil"))])
	palm, _ := fat.BySlug("palm-oil")
	o.Formula.Fats[1].Fat = palm
	step := run.Step{Kind: run.Weigh, Item: plan.Item{Key: plan.FatKeyOf("palm-oil")}}
	assert.Contains(t, o.FirstTime(step), "Melt its tub whole")
}
