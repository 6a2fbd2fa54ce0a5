package demo

import (
	"time"

	"ashshelf/shop/document"
	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/material"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
)

type share struct {
	slug    string
	percent float64
}

func blend(shares ...share) fat.Blend {
	var b fat.Blend
	for _, s := range shares {
		f, ok := fat.BySlug(s.slug)
		if !ok {
			panic("demo: no fat " + s.slug)
		}
		b = append(b, fat.Share{Fat: f, Percent: s.percent})
	}
	return b
}

func pour(slug string, percent float64, carries, frozen bool) recipe.Liquid {
	l, ok := liquid.BySlug(slug)
	if !ok {
		panic("demo: no liquid " + slug)
	}
	return recipe.Liquid{Liquid: l, Percent: percent, Carries: carries, Frozen: frozen}
}

// use takes an additive of the reference table.
func use(slug string, basis additive.Basis, rate float64) additive.Use {
	k, ok := additive.Find(slug)
	if !ok {
		panic("demo: no additive " + slug)
	}
	return additive.Use{
		Name:        k.Name,
		Stage:       k.Stage,
		Basis:       basis,
		Rate:        rate,
		GramsPerTsp: k.GramsPerTsp,
		Density:     k.Density,
		Lye:         k.Lye,
	}
}

// colour is a colorant of a portion, stirred smooth in something.
func colour(slug, name string, rate float64, in string, spoons float64) additive.Use {
	u := use(slug, additive.TspPerLbFats, rate)
	u.Name, u.Mark = name, material.None
	u.Disperse = &additive.Dispersal{In: in, Spoons: spoons}
	return u
}

// perfume scents a recipe with the shop's scents, in parts.
func (d *seeder) perfume(rate float64, stage additive.Stage, parts ...share) *additive.Perfume {
	p := &additive.Perfume{Rate: rate, Stage: stage}
	for _, part := range parts {
		p.Parts = append(p.Parts, additive.ScentPart{Scent: d.scents[part.slug], Percent: part.percent})
	}
	return p
}

func (d *seeder) materials() {
	d.ago(199 * 24)
	for key, s := range map[string]document.ScentBody{
		"fig": {Scent: additive.Scent{Name: "Fig leaf and black tea", Mark: material.None, Supplier: "Wendle & Tarr", Max: 5.2,
			MaxOf: additive.OfSoap, Density: 0.97, Stated: additive.Accelerates, Observed: additive.Behaves, Tint: "a light tan"},
			Notes: "Their paper warns of it. Two slabs at 2.5 % and 33 % lye, 38 °C: fluid for a quarter of an hour."},
		"samphire": {Scent: additive.Scent{Name: "Samphire and grapefruit", Supplier: "Wendle & Tarr", Max: 3.1,
			MaxOf: additive.OfSoap, Density: 0.93, Stated: additive.Behaves, Observed: additive.Fades},
			Notes: "Gone after three months unless it is kept boxed."},
		"hay": {Scent: additive.Scent{Name: "Hay and vetiver", Supplier: "Carrick Row Oils", Max: 2.8, MaxOf: additive.OfSoap,
			Density: 0.96, Stated: additive.Behaves, Observed: additive.Seizes},
			Notes: "Called well-behaved. Set like plaster in tallow at 40 °C: hold it back to the end, by hand, cool."},
		"tomato": {Scent: additive.Scent{Name: "Tomato leaf and basil", Supplier: "Carrick Row Oils", Max: 2.6,
			MaxOf: additive.OfSoap, Density: 0.94}},
		"laurel": {Scent: additive.Scent{Name: "Bay laurel oil", Mark: material.None, Supplier: "Wendle & Tarr", Max: 6,
			MaxOf: additive.OfSoap, Density: 0.885, Stated: additive.Behaves, Observed: additive.Behaves}},
		"clove": {Scent: additive.Scent{Name: "Clove bud oil", Mark: material.None, Supplier: "Wendle & Tarr", Max: 0.6,
			MaxOf: additive.OfSoap, Density: 1.05, Stated: additive.Accelerates, Observed: additive.Accelerates},
			Notes: "Never more than a twentieth of a blend."},
	} {
		d.scents[key] = s.Scent
		_, err := d.shop.KeepScent(d.ctx, d.act(odile), "", 0, s)
		d.check("scent "+key, err)
	}
	d.check("spoon", d.shop.NoteSpoon(d.ctx, d.act(bastian), "Kaolin clay", 2.6))
	d.check("spoon", d.shop.NoteSpoon(d.ctx, d.act(bastian), "Indigo mica", 1.5))
}

func (d *seeder) book() {
	d.materials()
	d.ago(198 * 24)
	water := []recipe.Liquid{pour("water", 100, true, false)}
	f := func(name string, superfat float64, w recipe.Water, liquids []recipe.Liquid, fats fat.Blend,
		extras ...additive.Use) recipe.Formula {
		return recipe.Formula{
			Name:      name,
			Fats:      fats,
			Alkali:    lye.DefaultAlkali(),
			Superfat:  superfat,
			Water:     w,
			Liquids:   liquids,
			Additives: extras,
		}
	}
	strength := func(v float64) recipe.Water { return recipe.Water{Basis: recipe.LyeStrength, Value: v} }
	ofFats := func(v float64) recipe.Water { return recipe.Water{Basis: recipe.PercentOfFats, Value: v} }

	base := f(
		"Quern base",
		5,
		strength(33),
		water,
		blend(
			share{"olive-oil", 45},
			share{"coconut-oil", 28},
			share{"shea-butter", 12},
			share{"rice-bran-oil", 10},
			share{"castor-oil", 5},
		),
		use("sugar", additive.PercentOfFats, 1),
	)
	d.recipe("base", "", document.RecipeBody{Formula: base, Notes: "The bar that everything else grows from.", Tags: []string{"base"}}, "")
	fig := base
	fig.Name, fig.Scent = "Fig and black tea", d.perfume(2.5, additive.Trace, share{"fig", 100})
	fig.Additives = append(fig.Additives, use("kaolin", additive.TspPerLbFats, 1))
	fig.Process = recipe.Process{Kind: recipe.Cold, Trace: "medium", Gel: "force", Cover: "insulate"}
	d.recipe(
		"fig",
		"base",
		document.RecipeBody{Formula: fig, Notes: "Stays fluid for a quarter of an hour; texture with a spoon.", Tags: []string{"market"}},
		"",
	)
	d.ago(120 * 24)
	fig.Scent = d.perfume(3, additive.Trace, share{"fig", 100})
	d.again(
		"fig",
		1,
		document.RecipeBody{Formula: fig, Notes: "Stays fluid for a quarter of an hour; texture with a spoon.", Tags: []string{"market"}},
		"scent up to 3 %: it had faded after two months",
	)

	d.ago(190 * 24)
	olive := f(
		"Slow olive",
		4,
		ofFats(20),
		water,
		blend(share{"olive-oil", 88}, share{"coconut-oil", 7}, share{"castor-oil", 5}),
		use("salt-in-liquid", additive.PercentOfFats, 1),
	)
	olive.Process = recipe.Process{Kind: recipe.AllOlive, Trace: "light"}
	d.recipe("olive", "", document.RecipeBody{Formula: olive, Notes: "Unscented. Do not touch for a year if you can help it."}, "")
	salt := f(
		"Ebb salt bar",
		18,
		strength(32),
		water,
		blend(share{"coconut-oil", 80}, share{"olive-oil", 15}, share{"castor-oil", 5}),
		use("sea-salt-fine", additive.PercentOfFats, 50),
	)
	salt.Scent = d.perfume(2.5, additive.Trace, share{"samphire", 100})
	salt.Process = recipe.Process{Kind: recipe.SaltBar, Trace: "light", Material: "cavities"}
	d.recipe(
		"salt",
		"",
		document.RecipeBody{Formula: salt, Notes: "Single cavities; pour at light trace.", Tags: []string{"market", "summer"}},
		"",
	)
	sheep := f(
		"Ewe morning",
		4,
		strength(31),
		[]recipe.Liquid{pour("water", 55, true, false), pour("sheep-milk", 45, false, false)},
		blend(
			share{"olive-oil", 50},
			share{"coconut-oil", 22},
			share{"beef-tallow", 20},
			share{"sunflower-oil-high-oleic", 8},
		),
		use("oatmeal-colloidal", additive.TspPerLbFats, 1),
	)
	sheep.Process = recipe.Process{Kind: recipe.Cold, Trace: "light", Gel: "avoid", Cover: "chill"}
	d.recipe(
		"sheep",
		"",
		document.RecipeBody{Formula: sheep, Notes: "Lye in the water, milk into the cool fats.", Tags: []string{"market"}},
		"",
	)
	tallow := f(
		"Drover tallow",
		5,
		recipe.Water{Basis: recipe.LiquidToLye, Value: 1.9},
		water,
		blend(share{"beef-tallow", 60}, share{"coconut-oil", 20}, share{"olive-oil", 15}, share{"castor-oil", 5}),
	)
	tallow.Scent = d.perfume(2.5, additive.Trace, share{"hay", 100})
	d.recipe("tallow", "", document.RecipeBody{Formula: tallow, Notes: "Rendered in the yard; strain it twice."}, "")

	swift := f(
		"Swifts at dusk",
		5,
		strength(30),
		water,
		blend(
			share{"olive-oil", 55},
			share{"coconut-oil", 25},
			share{"shea-butter", 10},
			share{"sunflower-oil-high-oleic", 5},
			share{"castor-oil", 5},
		),
		use("sugar", additive.PercentOfFats, 1),
	)
	swift.Scent = d.perfume(2.5, additive.InFats, share{"laurel", 96}, share{"clove", 4})
	swift.Portions = []recipe.Portion{
		{
			Name:      "indigo",
			Percent:   55,
			Tone:      "indigo",
			Colorants: []additive.Use{colour("mica", "Indigo mica", 1.5, "sunflower-oil-high-oleic", 2)},
		},
		{
			Name:      "white",
			Percent:   35,
			Tone:      "white",
			Colorants: []additive.Use{colour("titanium-dioxide", "Titanium dioxide (water-dispersible)", 1, additive.InWater, 1)},
		},
		{
			Name:      "coal",
			Percent:   10,
			Tone:      "charcoal",
			Colorants: []additive.Use{colour("charcoal", "Activated charcoal", 1, "sunflower-oil-high-oleic", 2)},
		},
	}
	swift.Design = []recipe.Step{
		{Do: recipe.Layer, Portion: "indigo", Percent: 80},
		{Do: recipe.Layer, Portion: "white"},
		{Do: recipe.Swirl, Note: "one slow eight with a spoon handle"},
		{Do: recipe.Reserve, Portion: "indigo"},
		{Do: recipe.Drizzle, Portion: "coal", Note: "from a height, in birds"},
	}
	swift.Process = recipe.Process{
		Kind:     recipe.Cold,
		Trace:    "light",
		Gel:      "allow",
		Cover:    "insulate",
		LyeC:     35,
		FatsC:    38,
		Material: "lined",
	}
	d.recipe(
		"swift",
		"",
		document.RecipeBody{
			Formula: swift,
			Notes:   "White thickens most: its water is kept small, and it gets its colour last.",
			Tags:    []string{"winter", "market"},
		},
		"",
	)
	brine := f(
		"Harbour brine",
		8,
		strength(28),
		[]recipe.Liquid{pour("brine", 100, true, false)},
		blend(share{"coconut-oil", 60}, share{"olive-oil", 35}, share{"castor-oil", 5}),
	)
	brine.Process = recipe.Process{Kind: recipe.BrineBar, Trace: "light", Gel: "force", Cover: "oven"}
	d.recipe(
		"brine",
		"",
		document.RecipeBody{Formula: brine, Notes: "Made-up brine, never from the harbour.", Tags: []string{"summer"}},
		"",
	)
	nettle := f(
		"Nettle oil bar",
		5,
		ofFats(26),
		water,
		blend(share{"olive-oil", 60}, share{"coconut-oil", 20}, share{"cocoa-butter", 10}, share{"rice-bran-oil", 10}),
	)
	nettle.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Dried nettle", HerbPct: 12, Loss: 2.2, Overage: 5, Hours: 3}}
	d.recipe("nettle", "", document.RecipeBody{Formula: nettle, Notes: "The strained leaves go into the next lot's top."}, "")
	shave := f(
		"Barber's stone",
		4,
		ofFats(38),
		water,
		blend(share{"stearic-acid", 45}, share{"beef-tallow", 20}, share{"coconut-oil", 20}, share{"castor-oil", 15}),
	)
	shave.Alkali = lye.Alkali{NaOHPercent: 40, NaOHPurity: 100, KOHPurity: 90}
	shave.School, shave.Process = recipe.Hot, recipe.Process{Kind: recipe.Shave, Trace: "thick", Material: recipe.Jar}
	d.recipe("shave", "", document.RecipeBody{Formula: shave, Notes: "Cooked soft, pressed into jars with plastic lids."}, "")
	for _, key := range []string{"base", "olive", "salt", "sheep", "tallow", "brine"} {
		d.proven(key, 1)
	}
	d.ago(100 * 24)
	d.proven("fig", 2)

	d.ago(30 * 24)
	trial := f(
		"Trial: hemp and tomato leaf",
		5,
		strength(33),
		water,
		blend(
			share{"olive-oil", 40},
			share{"coconut-oil", 26},
			share{"hempseed-oil", 10},
			share{"shea-butter", 14},
			share{"rice-bran-oil", 10},
		),
	)
	trial.Scent = d.perfume(2.5, additive.Trace, share{"tomato", 100})
	d.recipe("trial", "base", document.RecipeBody{Formula: trial, Notes: "Half a loaf first. Watch the hemp for rancidity."}, "")

	d.ago(197 * 24)
	d.mold(
		"loaf",
		"Long loaf",
		document.MoldBody{
			Mold:     mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65, Height: 85},
			Material: "lined",
			Cut:      mold.Cut{Thickness: 25},
			Owned:    6,
		},
	)
	d.mold(
		"slab",
		"Birch slab",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 390, Width: 270, Fill: 30}, Material: "lined", Bars: 27, Owned: 1},
	)
	d.mold(
		"short",
		"Short silicone loaf",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 165, Width: 76, Fill: 60}, Material: "silicone", Bars: 7, Owned: 2},
	)
	d.mold(
		"rounds",
		"Twelve rounds",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Water, WaterG: 112, Cavities: 12}, Material: "cavities", Bars: 12},
	)
	d.mold(
		"grid",
		"Salt grid",
		document.MoldBody{
			Mold:     mold.Mold{Shape: mold.Grid, Length: 300, Width: 195, Fill: 32, Height: 50, Cols: 5, Rows: 3, Divider: 3},
			Material: "cavities",
			Owned:    2,
		},
	)
	d.mold(
		"hearts",
		"Odd hearts",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Water, WaterG: 84, Cavities: 6, Outline: "heart"}, Material: "cavities", Spare: true},
	)
	d.mold(
		"drawer",
		"The old drawer",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 420, Width: 300, Fill: 40}, Material: "lined", Bars: 36, Retired: true},
	)
	for _, t := range []struct {
		key, name string
		body      document.ToolBody
	}{
		{"pot", "Big steel pot", document.ToolBody{Kind: document.Pot, ML: 7500, Tare: 2140}}, {"small", "Small steel pot",
			document.ToolBody{Kind: document.Pot, ML: 3500, Tare: 960}},
		{"jug", "Blue lye jug", document.ToolBody{Kind: document.Jug, ML: 3000, Tare: 310,
			Notes: "Polypropylene. Nothing else ever goes in."}},
		{"cooker", "Slow cooker", document.ToolBody{Kind: document.Cooker, ML: 4500, Tare: 3900}},
		{"wires", "Five-wire cutter", document.ToolBody{Kind: document.Cutter, Wires: 5, Spacing: 25}}, {"wide", "Wide cutter",
			document.ToolBody{Kind: document.Cutter, Wires: 3, Spacing: 31}},
	} {
		oid, err := d.shop.KeepTool(d.ctx, d.act(bastian), "", 0, t.name, t.body)
		d.check("equipment "+t.key, err)
		d.tools[t.key] = oid
	}
	usual, _, err := d.shop.Bench(d.ctx, d.now.Format(time.DateOnly))
	d.check("the usual bench", err)
	d.check("the usual bench", d.shop.KeepBench(d.ctx, d.act(odile), "", usual))
	d.mold(
		"pipe",
		"Column",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Cylinder, Diameter: 76, Fill: 230}, Material: "plastic", Bars: 9},
	)
}

func (d *seeder) recipe(key, parent string, body document.RecipeBody, note string) {
	if d.err != nil {
		return
	}
	oid, err := d.shop.KeepRecipe(d.ctx, d.act(odile), "", 0, body, note, d.recipes[parent])
	d.check("recipe "+key, err)
	d.recipes[key] = oid
}

func (d *seeder) again(key string, base int, body document.RecipeBody, note string) {
	if d.err == nil {
		_, err := d.shop.KeepRecipe(d.ctx, d.act(bastian), d.recipes[key], base, body, note, "")
		d.check("revise "+key, err)
	}
}

// proven marks a revision as fit for production.
func (d *seeder) proven(key string, number int) {
	if d.err == nil {
		d.check("tested "+key, d.shop.SetLife(d.ctx, d.act(odile), d.recipes[key], number, recipe.Tested))
	}
}

func (d *seeder) mold(key, name string, body document.MoldBody) {
	if d.err != nil {
		return
	}
	oid, err := d.shop.KeepMold(d.ctx, d.act(bastian), "", 0, name, body)
	d.check("mold "+key, err)
	d.molds[key] = oid
}
