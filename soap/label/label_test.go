package label_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/label"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

// soapOf is a formula of fats by slug, sodium hydroxide of full purity, and two grams of water a gram.
func soapOf(t require.TestingT, superfat float64, fats ...any) recipe.Formula {
	f := recipe.Formula{
		Name: "Bar", Superfat: superfat, Alkali: lye.Alkali{NaOHPercent: 100, NaOHPurity: 100, KOHPurity: 90},
		Water:   recipe.Water{Basis: recipe.LiquidToLye, Value: 2},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	for i := 0; i < len(fats); i += 2 {
		one, ok := fat.BySlug(fats[i].(string))
		require.True(t, ok, fats[i])
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: fats[i+1].(float64)})
	}
	return f
}

func stirred(name string, percent float64) additive.Use {
	u := additive.Use{Name: name, Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: percent, Density: 1}
	return u.Takes(nil)
}

func shares(t *testing.T, q label.Request) map[string]float64 {
	t.Helper()
	l, err := label.Make(q)
	require.NoError(t, err)
	out, sum := map[string]float64{}, 0.0
	for _, i := range l.Ingredients {
		require.NotContains(t, out, i.Name, "a name stands once")
		out[i.Name] = i.Percent
		sum += i.Percent
	}
	require.InDelta(t, 100, sum, 1e-9, "the list weighs what the bar does")
	return out
}

func near(t *testing.T, want, got map[string]float64) {
	t.Helper()
	for name, percent := range want {
		assert.InDelta(t, percent, got[name], 0.001, "%s of %v", name, got)
	}
	assert.Len(t, got, len(want), "%v", got)
}

// By hand: 1000 g of olive oil take 190 g KOH = 3.38647 mol, which is 135.449 g NaOH, and twice that
// of water: 1406.347 g. A tenth dries away: 1265.712 g. 3.38647 ÷ 3 × 92.094 = 103.958 g of glycerin.
func TestAPlainOliveBarIsSaidInBothWays(t *testing.T) {
	olive := soapOf(t, 0, "olive-oil", 100.0)
	near(t, map[string]float64{"Olea Europaea Fruit Oil": 79.0069, "Aqua": 10.2917, "Sodium Hydroxide": 10.7014},
		shares(t, label.Request{Formula: olive, Style: label.AsPutIn, DryingLoss: 10}))
	near(t, map[string]float64{"Sodium Olivate": 81.4949, "Aqua": 10.2917, "Glycerin": 8.2134},
		shares(t, label.Request{Formula: olive, Style: label.AfterSaponification, DryingLoss: 10}))
}

// By hand, of 1000 g at 5 % superfat, nothing dried: olive 900 g × 190 and stearic acid 100 g × 208
// take 0.95 × 191.8 ÷ 56.1056 = 3.24762 mol = 129.895 g NaOH; 1389.686 g in all. The triglycerides
// take 2.89544 of it: 88.884 g of glycerin. The acid's 0.35219 mol set 6.345 g of water free.
func TestAFattyAcidGivesWaterAndNoGlycerin(t *testing.T) {
	got := shares(t, label.Request{Formula: soapOf(t, 5, "olive-oil", 90.0, "stearic-acid", 10.0), Style: label.AfterSaponification})
	const all = 1389.686
	near(t, map[string]float64{
		"Sodium Olivate": 100 * (855 + 115.809 - 88.884) / all, "Sodium Stearate": 100 * (95 + 14.087 - 6.345) / all,
		"Aqua": 100 * (259.790 + 6.345) / all, "Glycerin": 100 * 88.884 / all,
		"Olea Europaea Fruit Oil": 100 * 45 / all, "Stearic Acid": 100 * 5 / all,
	}, got)
}

func TestAnOwnFatThatIsLikeAFattyAcidGivesNoGlycerin(t *testing.T) {
	f := soapOf(t, 0, "olive-oil", 50.0)
	f.Fats = append(f.Fats, fat.Share{Fat: fat.NewOwn("Stearin of the mill", 208, 0.85, "stearic-acid"), Percent: 50})
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	a := f.AmountsFor(1000)
	assert.InDelta(t, 100*51.979/a.Batter(), got["Glycerin"], 0.001, "of the olive oil alone")
	assert.Contains(t, got, "Saponified Stearin of the mill")
}

// By hand: olive 950 g × 190 and beeswax 50 g × 93 take 185.15 ÷ 56.1056 = 3.30003 mol = 131.991 g,
// and 263.982 g of water: 1395.974 g. Glycerin by the oil's 3.21715 mol alone: 98.760 g.
func TestAWaxGivesNoGlycerinAndKeepsItsName(t *testing.T) {
	got := shares(t, label.Request{Formula: soapOf(t, 0, "olive-oil", 95.0, "beeswax", 5.0), Style: label.AfterSaponification})
	const all = 1395.974
	near(t, map[string]float64{
		"Sodium Olivate": 100 * (950 + 128.676 - 98.760) / all, "Cera Alba": 100 * (50 + 3.315) / all,
		"Aqua": 100 * 263.982 / all, "Glycerin": 100 * 98.760 / all,
	}, got)
}

// By hand: 190 g of pure KOH are 211.111 g at 90 %, with twice that of water: 1633.333 g. The 21.111 g
// that the flakes hold besides are water. Glycerin as of any oil of that value: 103.958 g.
func TestSoapOfPotashIsNamedAfterIt(t *testing.T) {
	f := soapOf(t, 0, "olive-oil", 100.0)
	f.Alkali.NaOHPercent = 0
	const all = 1633.333
	near(t, map[string]float64{
		"Potassium Olivate": 100 * (1000 + 190 - 103.958) / all, "Glycerin": 100 * 103.958 / all, "Aqua": 100 * (422.222 + 21.111) / all,
	}, shares(t, label.Request{Formula: f, Style: label.AfterSaponification}))
	near(t, map[string]float64{
		"Potassium Hydroxide": 100 * 211.111 / all, "Olea Europaea Fruit Oil": 100 * 1000 / all, "Aqua": 100 * 422.222 / all,
	}, shares(t, label.Request{Formula: f, Style: label.AsPutIn}))
}

// Half of the moles each: 1.69324 mol. A mole of potassium soap weighs 16.109 g more than one of sodium:
// of 1000 + 67.724 + 95.0 − 103.958 = 1058.766 g the lighter half is 529.383 − 13.638 = 515.745 g.
func TestTwoAlkalisMakeTwoSoaps(t *testing.T) {
	f := soapOf(t, 0, "olive-oil", 100.0)
	f.Alkali.NaOHPercent, f.Alkali.KOHPurity = 50, 100
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	all := 1000 + 3*(67.724+95)
	assert.InDelta(t, 100*515.745/all, got["Sodium Olivate"], 0.001)
	assert.InDelta(t, 100*(1058.766-515.745)/all, got["Potassium Olivate"], 0.001)
}

// All of the liquid is goat milk, 270.896 g: one row, in both ways. What dries away is its water, since
// there is no other. Its fat is split as well: 11.107 g × 227 make 0.04494 mol of 3.38647, of which the
// lye reaches the same share as of the oil.
func TestMilkIsOneRow(t *testing.T) {
	f := soapOf(t, 0, "olive-oil", 100.0)
	milk, _ := liquid.BySlug("goat-milk")
	f.Liquids[0].Liquid = milk
	all := 1000 + 135.449 + 270.897
	near(t, map[string]float64{
		"Olea Europaea Fruit Oil": 100 * 1000 / (.9 * all), "Caprae Lac": 100 * (270.897 - .1*all) / (.9 * all),
		"Sodium Hydroxide": 100 * 135.449 / (.9 * all),
	}, shares(t, label.Request{Formula: f, Style: label.AsPutIn, DryingLoss: 10}))
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	part := 3.38647 / (3.38647 + 0.04494)
	assert.InDelta(t, 100*1000*(1-part)/all, got["Olea Europaea Fruit Oil"], 0.001, "the milk's fat leaves oil over")
	assert.InDelta(t, 100*103.958/all, got["Glycerin"], 0.001, "all alkali splits triglycerides")
	assert.InDelta(t, 100*(270.897+part*0.04494*(39.997-92.094/3))/all, got["Caprae Lac"], 0.001)
	assert.NotContains(t, got, "Aqua")
	assert.Len(t, got, 4)
}

func TestAColourComesLastHoweverMuchItIs(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	f.Additives = []additive.Use{stirred("Titanium dioxide", 4), stirred("Kaolin", 0.5)}
	q := label.Request{Formula: f, Style: label.AsPutIn}
	made, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, "Olea Europaea Fruit Oil, Aqua, Sodium Hydroxide, Kaolin, CI 77891", made.Text())
	assert.Greater(t, made.Ingredients[4].Percent, label.AnyOrder, "more than a hundredth of the bar")
	q.Colours = label.ColoursByName
	made, err = label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, "Titanium Dioxide", made.Ingredients[4].Name)
	q.Named = map[string]label.Naming{"kaolin": {Label: "White clay", Colour: true}, "titanium dioxide": {Number: "CI 1"}}
	q.Colours = label.ColoursByNumber
	made, err = label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, "Olea Europaea Fruit Oil, Aqua, Sodium Hydroxide, CI 1, White clay", made.Text())
}

// Citric acid 192.12 takes three of sodium hydroxide 39.997 and sets three of water 18.015 free: 10 g
// become 10 + 6.245 − 2.813 = 13.432 g of its salt.
func TestAnAcidIsItsSaltAfterwards(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	f.Additives = []additive.Use{stirred("Citric acid", 1)}
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	a := f.AmountsFor(1000)
	assert.InDelta(t, 100*13.432/(a.Batter()+10), got["Sodium Citrate"], 0.002)
	assert.NotContains(t, got, "Citric Acid")
	assert.Contains(t, shares(t, label.Request{Formula: f, Style: label.AsPutIn}), "Citric Acid")
	assert.InDelta(t, 100*50/(a.Batter()+10), got["Olea Europaea Fruit Oil"], 1e-6, "the acid's lye is made good")
}

func TestAFatOfAfterTheCookIsWhatStaysOil(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 96.0, "castor-oil", 4.0)
	f.Process.Kind = recipe.Cooked
	f.Fats[1].AfterCook = true
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	a := f.AmountsFor(1000)
	assert.InDelta(t, 100*40/a.Batter(), got["Ricinus Communis Seed Oil"], 1e-6)
	assert.NotContains(t, got, "Sodium Castorate")
}

func TestBrineIsWaterAndSaltAndNamesThatAreTheSameAddUp(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 60.0, "olive-pomace-oil", 40.0)
	brine, _ := liquid.BySlug("brine")
	f.Liquids[0].Liquid = brine
	f.Additives = []additive.Use{stirred("Sea salt (fine)", 2)}
	got := shares(t, label.Request{Formula: f, Style: label.AsPutIn})
	a := f.AmountsFor(1000)
	near(t, map[string]float64{
		"Olea Europaea Fruit Oil": 100 * 1000 / (a.Batter() + 20), "Aqua": 96.5 * a.Liquid / (a.Batter() + 20),
		"Sodium Chloride": 100 * (20 + .035*a.Liquid) / (a.Batter() + 20), "Sodium Hydroxide": 100 * a.NaOH / (a.Batter() + 20),
	}, got)
}

// A powder's own oil is an oil as any other: it adds up with that of the pot, and becomes soap.
func TestAnOilOfAPowdersOwnIsListedAsAnOil(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	clay := stirred("Kaolin", 1)
	clay.GramsPerTsp, clay.Disperse = 2.4, &additive.Dispersal{In: "olive-oil", Spoons: 2, Own: true}
	f.Additives = []additive.Use{clay}
	a := f.AmountsFor(1000)
	require.Len(t, a.Additives, 2)
	all := a.Batter() + a.Additives[0] + a.Additives[1]
	near(t, map[string]float64{
		"Olea Europaea Fruit Oil": 100 * (1000 + a.Additives[1]) / all, "Kaolin": 1000 / all, "Aqua": 100 * a.Liquid / all,
		"Sodium Hydroxide": 100 * a.NaOH / all,
	}, shares(t, label.Request{Formula: f, Style: label.AsPutIn}))
	got := shares(t, label.Request{Formula: f, Style: label.AfterSaponification})
	assert.Len(t, got, 5)
	assert.InDelta(t, 100*(50+a.Additives[1])/all, got["Olea Europaea Fruit Oil"], 1e-6, "the lye is that of the pot")
}

// 4 % of a scent of which 1 % is in a bar of 1000 g fats, and so on: the bar weighs what was poured.
func TestAllergensAreSummedOverScentsAndNamedAboveTheThreshold(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	f.Additives = []additive.Use{stirred("Fig leaf", 2), stirred("Bergamot peel", 1)}
	bar := f.AmountsFor(1000).Batter() + 30
	at := func(percent float64) float64 { return percent * bar / 100 / 20 * 100 } // of fig leaf, for a share of the bar
	q := label.Request{Formula: f, Style: label.AsPutIn, Allergens: []label.Declared{
		{Additive: "Fig leaf", Name: "Linalool", Percent: 4}, {Additive: "bergamot peel", Name: "linalool", Percent: 10},
		{Additive: "Fig leaf", Name: "Citral", Percent: at(0.01)}, {Additive: "Fig leaf", Name: "Geraniol", Percent: at(0.0101)},
	}}
	made, err := label.Make(q)
	require.NoError(t, err)
	require.Len(t, made.Allergens, 2, "what is at the threshold is not above it")
	assert.Equal(t, "Linalool", made.Allergens[0].Name)
	assert.InDelta(t, 100*(20*.04+10*.10)/bar, made.Allergens[0].Percent, 1e-9)
	assert.Equal(t, "Geraniol", made.Allergens[1].Name)
	assert.InDelta(t, 0.0101, made.Allergens[1].Percent, 1e-9)
	assert.Contains(t, made.Text(), ", Bergamot peel, Linalool, Geraniol")

	dry := q
	dry.DryingLoss = 10
	made, err = label.Make(dry)
	require.NoError(t, err)
	assert.Len(t, made.Allergens, 3, "in a bar that has dried they are more")
}

// A list that is silent of a scent's allergens may hurt: it says of what nothing is declared.
func TestAListSaysOfWhichScentsNothingIsDeclared(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	oakmoss := stirred("Oakmoss blend", 1)
	oakmoss.Behaviour = additive.Accelerates
	f.Additives = []additive.Use{oakmoss, stirred("Fig leaf", 2), stirred("Kaolin", 1), stirred("Sea salt (fine)", 1)}
	q := label.Request{Formula: f, Style: label.AsPutIn}
	made, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, []string{"Oakmoss blend", "Fig leaf"}, made.Undeclared)
	q.Allergens = []label.Declared{{"oakmoss blend", "Evernia Prunastri Extract", 0.001}}
	made, err = label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, []string{"Fig leaf"}, made.Undeclared)
	assert.Empty(t, made.Allergens)
}

func TestWhatCannotBeOnALabelIsRefusedAtItsPlace(t *testing.T) {
	f := soapOf(t, 5, "olive-oil", 100.0)
	f.Additives = []additive.Use{stirred("Fig leaf", 2)}
	good := label.Request{Formula: f, Style: label.AsPutIn}
	for path, change := range map[string]func(*label.Request){
		"style":                         func(q *label.Request) { q.Style = "as-it-pleases" },
		"colours":                       func(q *label.Request) { q.Colours = "both" },
		"drying_loss_percent":           func(q *label.Request) { q.DryingLoss = 25 },
		"recipe.superfat_percent":       func(q *label.Request) { q.Formula.Superfat = 60 },
		"allergens[0].additive":         func(q *label.Request) { q.Allergens = []label.Declared{{"Pine", "Linalool", 1}} },
		"allergens[0].name":             func(q *label.Request) { q.Allergens = []label.Declared{{"Fig leaf", " ", 1}} },
		"allergens[0].percent":          func(q *label.Request) { q.Allergens = []label.Declared{{"Fig leaf", "Linalool", 0}} },
		"allergens[1].percent":          func(q *label.Request) { q.Allergens = []label.Declared{{"Fig leaf", "A", 60}, {"Fig leaf", "B", 41}} },
		"recipe.additives":              func(q *label.Request) { q.Named = map[string]label.Naming{"pine": {Label: "Pine"}} },
		"recipe.written_for_fats_g":     func(q *label.Request) { q.Formula.Additives[0].Basis = additive.GramsPerBatch },
		"recipe.additives (by the eye)": func(q *label.Request) { q.Formula.Additives[0].Basis, q.Formula.Additives[0].Rate = additive.ByEye, 0 },
	} {
		q := good
		q.Formula.Additives = []additive.Use{f.Additives[0]}
		change(&q)
		_, err := label.Make(q)
		var p caution.Problems
		require.ErrorAs(t, err, &p, path)
		want := path
		if path == "recipe.additives (by the eye)" {
			want = "recipe.additives"
		}
		assert.NotEmpty(t, p.At(want), "%s: %v", path, p)
	}
	all := 100 * f.TrueWater(f.AmountsFor(1000)) / (f.AmountsFor(1000).Batter() + 20)
	q := good
	q.DryingLoss = all
	made, err := label.Make(q)
	require.NoError(t, err, "every drop may dry away")
	assert.NotContains(t, made.Text(), "Aqua")
}

func TestMarksAreThoseThatHold(t *testing.T) {
	made, err := label.Make(label.Request{Formula: soapOf(t, 5, "olive-oil", 95.0, "beeswax", 5.0), Style: label.AsPutIn})
	require.NoError(t, err)
	assert.Equal(t, []string{"palm-free", "unscented"}, made.Marks)
}

// Whatever the recipe, a list weighs the bar, nothing on it is less than nothing, it descends, and
// the soaps in it are all the soap that the recipe makes.
func TestAListWeighsTheBar(t *testing.T) {
	slugs := []string{"olive-oil", "coconut-oil", "stearic-acid", "castor-oil", "beef-tallow", "lauric-acid"}
	liquids := []string{"water", "goat-milk", "brine", "coconut-milk", "vinegar", "tea"}
	rapid.Check(t, func(r *rapid.T) {
		first := rapid.Float64Range(10, 90).Draw(r, "first")
		f := soapOf(r, rapid.Float64Range(0, 20).Draw(r, "superfat"),
			rapid.SampledFrom(slugs).Draw(r, "one"), first, rapid.SampledFrom(slugs).Draw(r, "other"), 100-first)
		f.Alkali.NaOHPercent = rapid.SampledFrom([]float64{0, 30, 95, 100}).Draw(r, "soda")
		f.Alkali.NaOHPurity = rapid.Float64Range(90, 100).Draw(r, "pure")
		second, _ := liquid.BySlug(rapid.SampledFrom(liquids).Draw(r, "liquid"))
		f.Liquids[0].Percent = 60
		f.Liquids = append(f.Liquids, recipe.Liquid{Liquid: second, Percent: 40})
		more := []string{"Citric acid", "Milk powder", "Kaolin", "Titanium dioxide"}
		f.Additives = []additive.Use{stirred(rapid.SampledFrom(more).Draw(r, "more"), 2)}
		if len(f.Check()) > 0 {
			r.Skip("no recipe")
		}
		style := rapid.SampledFrom(label.Styles()).Draw(r, "style")
		loss := rapid.Float64Range(0, 12).Draw(r, "loss")
		made, err := label.Make(label.Request{Formula: f, Style: style, DryingLoss: loss})
		if err != nil {
			r.Skip(err.Error())
		}
		sum, soap, last := 0.0, 0.0, 101.0
		for _, i := range made.Ingredients {
			require.GreaterOrEqual(r, i.Percent, 0.0, i.Name)
			if !i.Colour {
				require.LessOrEqual(r, i.Percent, last)
				last = i.Percent
			}
			sum += i.Percent
			for _, of := range []string{"Olivate", "Cocoate", "Stearate", "Castorate", "Tallowate", "Laurate"} {
				if i.Name == "Sodium "+of || i.Name == "Potassium "+of {
					soap += i.Percent
				}
			}
		}
		require.InDelta(r, 100, sum, 1e-6)
		if style == label.AfterSaponification && second.Fat == 0 && f.Additives[0].Name != "Milk powder" {
			a := f.AmountsFor(1000)
			bar := (a.Batter() + a.Additives[0]) * (1 - loss/100)
			require.InDelta(r, 100*f.DrySoap(a)/bar, soap, 1e-6, "the soap of the list is that of the recipe")
		}
	})
}

func TestDeclarationsAreReadLineByLine(t *testing.T) {
	got, p := label.ReadDeclared("Fig leaf: Linalool 4 %\n\nFig leaf : Amyl cinnamal 0,5\r\nBergamot peel: Citral 12.5%")
	require.Empty(t, p)
	assert.Equal(t, []label.Declared{{"Fig leaf", "Linalool", 4}, {"Fig leaf", "Amyl cinnamal", 0.5}, {"Bergamot peel", "Citral", 12.5}}, got)
	_, p = label.ReadDeclared("Linalool 4 %\nFig leaf: Linalool\nFig leaf: Linalool some")
	for _, at := range []string{"line 1", "line 2", "line 3"} {
		assert.NotEmpty(t, p.At(at), at)
	}
}
