package cure_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

func formula(olive, coconut float64, extras ...additive.Use) recipe.Formula {
	o, _ := fat.BySlug("olive-oil")
	c, _ := fat.BySlug("coconut-oil")
	return recipe.Formula{
		Fats:      fat.Blend{{Fat: o, Percent: olive}, {Fat: c, Percent: coconut}},
		Alkali:    lye.DefaultAlkali(),
		Water:     recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Additives: extras,
	}
}

// halfSalt is salt of a salt bar.
func halfSalt() additive.Use {
	return additive.Use{Name: "Sea salt", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 50, Density: 2.16}
}

func TestTheBlendChoosesItsCure(t *testing.T) {
	salt := halfSalt()
	assert.Equal(t, "four-to-six", cure.Recommend(formula(60, 40)).Code)
	assert.Equal(t, "long-olive", cure.Recommend(formula(80, 20)).Code)
	assert.Equal(t, "salt", cure.Recommend(formula(20, 80, salt)).Code)
	salt.Stage = additive.InLiquid
	assert.Equal(t, "four-to-six", cure.Recommend(formula(20, 80, salt)).Code, "salt in the liquid makes a brine bar, not a salt bar")
}

// What makes a soap like olive oil's is its acids, and not its name.
func TestABarHighInOleicAcidIsCuredAsOliveIs(t *testing.T) {
	of := func(slug string) recipe.Formula {
		f := formula(0, 0)
		one, ok := fat.BySlug(slug)
		require.True(t, ok, slug)
		f.Fats = fat.Blend{{Fat: one, Percent: 100}}
		return f
	}
	for slug, like := range map[string]bool{
		"olive-oil": true, "olive-pomace-oil": true, "sunflower-oil-high-oleic": true, "camellia-oil": true, "sweet-almond-oil": true,
		"safflower-oil-high-oleic": true, "sunflower-oil": false, "rapeseed-oil": false, "palm-oil": false, "shea-butter": false,
		"coconut-oil": false, "oleic-acid": false,
	} {
		assert.Equal(t, like, cure.MostlyOlive(of(slug)), slug)
		assert.Equal(t, like, cure.Recommend(of(slug)).Code == "long-olive", slug)
	}
	own := of("olive-oil")
	own.Fats[0].Fat = fat.NewOwn("House oil", 190, 0.91, "olive-oil")
	assert.True(t, cure.MostlyOlive(own), "an own oil that is said to be like olive")
	own.Fats[0].Fat = fat.NewOwn("House oil", 190, 0.91, "")
	assert.False(t, cure.MostlyOlive(own), "one of which nothing is known")
	own.Fats[0].Fat.Acids = fat.Acids{Oleic: 76, Linoleic: 9, Palmitic: 11, Stearic: 3}
	assert.True(t, cure.MostlyOlive(own), "by its certificate")
}

func TestOliveHurriesSaltHurriesMoreAndCavitiesWait(t *testing.T) {
	salt := halfSalt()
	loaf := unmold(formula(60, 40), "lined")
	olive := unmold(formula(90, 10), "lined")
	saltLoaf := unmold(formula(20, 80, salt), "lined")
	assert.Less(t, olive.Closes, loaf.Closes)
	assert.LessOrEqual(t, saltLoaf.Closes, 4*time.Hour)
	assert.Greater(t, unmold(formula(20, 80, salt), "cavities").Opens, saltLoaf.Closes)
	assert.Greater(t, unmold(formula(90, 10), "silicone").Opens, olive.Opens)
	assert.Equal(
		t,
		[]cure.State{cure.Waiting, cure.Open, cure.Late},
		[]cure.State{loaf.At(time.Hour), loaf.At(20 * time.Hour), loaf.At(60 * time.Hour)},
	)
}

// At 45 % lye the everyday loaf takes 2^(−12/14) = 0.55 of its time, at 28 % 2^(5/14) = 1.28.
func TestStrongLyeCoconutAndHardenersBringTheCutForward(t *testing.T) {
	at := func(strength float64, change ...func(*recipe.Formula)) cure.Window {
		f := formula(60, 40)
		f.Alkali, f.Water.Value = lye.DefaultAlkali(), strength
		for _, c := range change {
			c(&f)
		}
		return unmold(f, "lined")
	}
	assert.Equal(t, 24*time.Hour, at(33).Best)
	assert.InDelta(t, 24*0.552, at(45).Best.Hours(), 0.15)
	assert.InDelta(t, 24*1.281, at(28).Best.Hours(), 0.15)
	assert.Contains(t, at(45).Why, "sooner than most: 45 % lye")
	lactate := additive.Use{Name: "Sodium lactate", Stage: additive.InLye, Basis: additive.PercentOfFats, Rate: 2, Density: 1.32}
	assert.Less(t, at(33, func(f *recipe.Formula) { f.Additives = append(f.Additives, lactate) }).Best, at(33).Best)
	lactate.Rate = 0.1
	trace := at(33, func(f *recipe.Formula) { f.Additives = append(f.Additives, lactate) })
	assert.Equal(t, at(33).Best, trace.Best, "a trace of it does nothing")
	assert.Greater(t, at(33, func(f *recipe.Formula) { f.School = recipe.Room }).Best, at(33).Best)
	assert.Less(t, unmold(formula(30, 70), "lined").Best, at(33).Best)
	for strength := 20.0; strength <= 50; strength++ {
		w := at(strength)
		assert.True(t, 0 < w.Opens && w.Opens <= w.Best && w.Best <= w.Closes && w.Closes <= 72*time.Hour, "%v %%: %v", strength, w)
	}
}

// What a shop's own loaves showed moves when a window opens and is best, says why, and never has it close later.
func TestAWindowFollowsAShopsOwnLoaves(t *testing.T) {
	loaf := cure.Window{Opens: 12 * time.Hour, Best: 24 * time.Hour, Closes: 48 * time.Hour, Why: "an ordinary loaf"}
	later := loaf.Learned(1.25, "yours are soft for longer")
	assert.Equal(t, cure.Window{Opens: 15 * time.Hour, Best: 30 * time.Hour, Closes: 48 * time.Hour,
		Why: "an ordinary loaf; yours are soft for longer"}, later)
	sooner := loaf.Learned(0.75, "x")
	assert.Equal(t, []time.Duration{9 * time.Hour, 18 * time.Hour, 36 * time.Hour}, []time.Duration{sooner.Opens, sooner.Best, sooner.Closes})
	far := loaf.Learned(9, "x")
	assert.Equal(t, 36*time.Hour, far.Best, "by half at the most")
	assert.True(t, cure.Window{Why: "it stays"}.Learned(2, "x").None())
}

// Nine degrees above 21 °C are 2^(-9/20) = 0.73 of the time, ten below 1.41, of
// which 1.4 counts.
func TestAWarmRoomBringsTheWindowForwardAndACoolOneNeverLetsItCloseLater(t *testing.T) {
	loaf := unmold(formula(60, 40), "lined") // 12, 24, 48 h
	warm := loaf.InRoom(30)
	assert.Equal(
		t,
		[]time.Duration{8*time.Hour + 45*time.Minute, 17*time.Hour + 30*time.Minute, 35*time.Hour + 15*time.Minute},
		[]time.Duration{warm.Opens, warm.Best, warm.Closes},
	)
	assert.Contains(t, warm.Why, "sooner in a warm room of 30 °C")
	cool := loaf.InRoom(10)
	assert.Equal(
		t,
		[]time.Duration{16*time.Hour + 45*time.Minute, 33*time.Hour + 30*time.Minute, 48 * time.Hour},
		[]time.Duration{cool.Opens, cool.Best, cool.Closes},
	)
	assert.Equal(t, loaf, loaf.InRoom(21.5))
	assert.Equal(t, loaf, loaf.InRoom(math.NaN()))
	salt := halfSalt()
	for c := -40.0; c < 70; c++ {
		w := unmold(formula(20, 80, salt), "lined").InRoom(c)
		assert.True(t, 0 < w.Opens && w.Opens <= w.Best && w.Best <= w.Closes && w.Closes <= 4*time.Hour, "%v °C: %v", c, w)
	}
}

func weekly(start time.Time, grams ...float64) []cure.Sample {
	var out []cure.Sample
	for i, g := range grams {
		out = append(out, cure.Sample{At: start.AddDate(0, 0, 7*i), Grams: g})
	}
	return out
}

// dried is a bar of 118 g that loses 12 % with a time constant of ten days, weighed so many
// times, a week apart.
func dried(start time.Time, times int) []cure.Sample {
	grams := make([]float64, times)
	for i := range grams {
		grams[i] = math.Round(10*118*(1-0.12*(1-math.Exp(-7*float64(i)/10)))) / 10
	}
	return weekly(start, grams...)
}

// After three weeks the next one takes 0.83 % of such a bar, after six 0.1 %.
func TestDryingIsSettledWhenItIsSureThatAWeekTakesLittle(t *testing.T) {
	start := time.Date(2026, 1, 1, 12, 0, 0, 0, time.UTC)
	early := cure.Facts{Poured: start, Samples: dried(start, 4), Step: 0.1}.Dry()
	assert.True(t, early.Long)
	assert.False(t, early.Settled)
	assert.InDelta(t, 0.83, early.WeeklyPct, 0.2)
	assert.InDelta(t, 100*(1-0.8947), early.LostPct, 0.1)
	late := cure.Facts{Poured: start, Samples: dried(start, 7), Step: 0.1}.Dry()
	assert.True(t, late.Settled)
	assert.Greater(t, late.Chance, cure.SureSettled)
	assert.InDelta(t, 0.1, late.WeeklyPct, 0.1)

	// A damp week in which the scale stands still proves nothing.
	still := append(dried(start, 3), cure.Sample{At: start.AddDate(0, 0, 21), Grams: dried(start, 3)[2].Grams})
	assert.False(t, cure.Facts{Poured: start, Samples: still, Step: 0.1}.Dry().Settled)
	same := weekly(start, 100, 100)
	two := cure.Facts{Poured: start, Samples: same, Step: 0.1}.Dry()
	assert.True(t, !two.Long && !two.Settled, "two weighings are too few")
	days := []cure.Sample{{At: start, Grams: 100}, {At: start.AddDate(0, 0, 2), Grams: 100}, {At: start.AddDate(0, 0, 4), Grams: 100}}
	assert.False(t, cure.Facts{Poured: start, Samples: days, Step: 0.1}.Dry().Long, "four days are too short")
	assert.False(t, cure.Facts{Poured: start, Samples: nil, Step: 0.1}.Dry().Settled)
	all := dried(start, 7)
	another := []cure.Sample{all[0], all[4], all[6]}
	assert.True(t, cure.Facts{Poured: start, Samples: another, Step: 0.1}.Dry().Settled)
	another[1].Grams -= 30 // another bar on the scale
	wrong := cure.Facts{Poured: start, Samples: another, Step: 0.1}.Dry()
	assert.Greater(t, wrong.Chance, cure.SureSettled)
	assert.Equal(t, 1, wrong.Aside)
	assert.False(t, wrong.Settled, "two that count and one that does not are too few")
	twice := append(dried(start, 7), dried(start, 7)[6])
	assert.True(t, cure.Facts{Poured: start, Samples: twice, Step: 0.1}.Dry().Settled, "twice in one minute is no trouble")
}

func TestEveryConditionOfTheGateCounts(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	poured := time.Date(2026, 3, 1, 23, 30, 0, 0, zone)
	policy, _ := cure.PolicyByCode("four")
	good := cure.Facts{
		Poured:  poured,
		Now:     time.Date(2026, 3, 29, 0, 10, 0, 0, zone),
		Policy:  policy,
		Samples: dried(poured.AddDate(0, 0, -21), 7), // it began to dry before
		Step:    0.1,
		Checked: true,
		Passed:  true,
	}
	require.True(t, good.EvaluateGate().MayRelease, "28 dates later, though the clocks went forward and it was poured late in the evening")

	released := good
	released.Released = true
	assert.True(t, released.EvaluateGate().Ready)

	for name, spoil := range map[string]func(*cure.Facts){
		"days":   func(f *cure.Facts) { f.Now = f.Now.AddDate(0, 0, -1) },
		"weight": func(f *cure.Facts) { f.Samples = f.Samples[:2] },
		"check":  func(f *cure.Facts) { f.Passed = false },
		"hold":   func(f *cure.Facts) { f.Holds = []string{"spots"} },
	} {
		f := good
		spoil(&f)
		g := f.EvaluateGate()
		assert.False(t, g.MayRelease, name)
		assert.Equal(t, name == "days" || name == "weight", g.MayEarly, "early only on days or weight: %s", name)
		for _, c := range g.Conditions {
			assert.Equal(t, c.Code != name && c.Code != "release", c.Met, "%s while %s is missing", c.Code, name)
		}
	}
	released.Holds = []string{"complaint"}
	assert.False(t, released.EvaluateGate().Ready, "a hold closes the gate again after the release")
}

func TestAReadingBelowSoapDoubtsTheStrip(t *testing.T) {
	for ph, pass := range map[float64]bool{7.5: false, 9: true, 10.2: true, 10.5: true, 11.5: false} {
		got, text := cure.PHVerdict(ph)
		assert.Equal(t, pass, got, text)
	}
}

// By hand, for 1000 g of fats at 33 % lye: L g of lye carry L·67/33 g of water,
// six tenths of which dry away.
func TestABarLosesItsWaterAsTheRecipesOwnLotsDid(t *testing.T) {
	f := formula(70, 30)
	f.Alkali, f.Superfat = lye.DefaultAlkali(), 5
	f.Liquids = []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}
	caustic := f.AmountsFor(1000).NaOH
	water := caustic * 67 / 33
	byHand := 100 * 0.6 * water / (1000 + caustic + water)
	assert.InDelta(t, byHand, cure.UsualLoss(f, nil), 0.051)
	assert.InDelta(t, 12, byHand, 1.5, "bars lose 8 to 15 %")
	assert.InDelta(t, (byHand+3*13.06)/4, cure.UsualLoss(f, []float64{12.9, 13.06, 31}), 0.051, "a lot by the stove turns nothing")
	f.Water.Value = 25
	assert.Greater(t, cure.UsualLoss(f, nil), byHand, "more water, more to lose")
}

func TestAShopMaySetItsOwnCureAndEachSchoolHearsTheOther(t *testing.T) {
	p, ok := cure.PolicyByCode("own-45")
	require.True(t, ok)
	assert.Equal(t, 45, p.Days)
	assert.Equal(t, cure.Own(45), p)
	for _, code := range []string{"own-0", "own-9999", "own-", "own-x", "own--3", "never"} {
		_, ok := cure.PolicyByCode(code)
		assert.False(t, ok, code)
	}
	for _, p := range cure.Policies()[:3] {
		assert.NotEmpty(t, p.Other, p.Name)
	}
	assert.Equal(t, "four", cure.Cooked(cure.Policies()[0]).Code)
	long, _ := cure.PolicyByCode("long-olive")
	assert.Equal(t, "long-olive", cure.Cooked(long).Code, "a cook makes olive soap no less slimy")
}

func TestAReadingDecidesWhateverAnybodySaysOfIt(t *testing.T) {
	for ph, want := range map[float64]bool{13: false, 10.6: false, 10.5: true, 9: true, 8.9: false, 0: false} {
		for _, said := range []bool{true, false} {
			pass, err := cure.Verdict("ph", &ph, said)
			require.NoError(t, err)
			assert.Equal(t, want, pass, "pH %v", ph)
		}
	}
	for _, bad := range []float64{-1, 14.1, math.NaN()} {
		_, err := cure.Verdict("ph", &bad, true)
		assert.Error(t, err)
	}
	_, err := cure.Verdict("ph", nil, true)
	assert.Error(t, err)
	_, err = cure.Verdict("smell", nil, true)
	assert.Error(t, err)
	pass, err := cure.Verdict("zap", nil, true)
	assert.True(t, pass)
	assert.NoError(t, err)
}

func TestAnOwnPolicyIsFoundByItsCode(t *testing.T) {
	for _, p := range []cure.Policy{cure.Own(45), cure.OwnChecked(45, 14), cure.OwnChecked(10, 10)} {
		got, ok := cure.PolicyByCode(p.Code)
		require.True(t, ok, p.Code)
		assert.Equal(t, p, got)
	}
	for _, bad := range []string{"own-", "own-0", "own-900", "own-45-check-", "own-45-check-0", "own-45-check-46", "own-x-check-3"} {
		_, ok := cure.PolicyByCode(bad)
		assert.False(t, ok, bad)
	}
}

// unmold is the window of a formula in a mold of a material without dividers.
func unmold(f recipe.Formula, material string) cure.Window {
	return cure.Unmold(f, f.Form(material, false), material)
}

func TestWhatStaysWhereItWasPouredHasNoWindow(t *testing.T) {
	assert.True(t, unmold(formula(60, 40), recipe.Jar).None())
	potash := formula(60, 40)
	potash.Alkali.NaOHPercent = 0
	assert.True(t, unmold(potash, recipe.LinedMold).None())
	assert.Equal(t, "paste", cure.Recommend(potash).Code)
	assert.Zero(t, cure.ExpectedLoss(potash), "a paste is not dried")
	shave := formula(60, 40)
	shave.Process.Kind = recipe.Shave
	assert.True(t, cure.Expected(shave).None())
	assert.Equal(t, "jar", cure.Recommend(shave).Code)
	own := formula(60, 40)
	own.Process.Opens, own.Process.Closes = 5, 9
	assert.True(t, unmold(own, recipe.Jar).None(), "whatever the recipe says of a loaf")
	assert.Equal(t, 9*time.Hour, unmold(own, recipe.Cavities).Closes)
}

func TestWhatIsNotCutMayWait(t *testing.T) {
	for _, f := range []recipe.Formula{formula(60, 40), formula(95, 5), formula(20, 80, halfSalt())} {
		loaf, divided := unmold(f, recipe.LinedMold), cure.Unmold(f, recipe.Pieces, recipe.LinedMold)
		assert.GreaterOrEqual(t, divided.Closes, 96*time.Hour)
		assert.GreaterOrEqual(t, divided.Opens, loaf.Opens)
	}
	assert.GreaterOrEqual(t, cure.Unmold(formula(20, 80, halfSalt()), recipe.Pieces, recipe.LinedMold).Opens, 12*time.Hour,
		"salt under dividers waits overnight")
}

func TestAPasteIsNotAskedForASettledWeight(t *testing.T) {
	now := time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)
	policy, _ := cure.PolicyByCode("paste")
	facts := cure.Facts{Poured: now.AddDate(0, 0, -15), Now: now, Policy: policy, Checked: true, Passed: true, Form: recipe.Paste}
	assert.True(t, facts.EvaluateGate().MayRelease)
	assert.False(t, facts.SampleDue(now.AddDate(0, 0, -15)))
	facts.Form = recipe.Loaf
	assert.False(t, facts.EvaluateGate().MayRelease)
}
