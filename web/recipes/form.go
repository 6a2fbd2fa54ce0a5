package recipes

import (
	"cmp"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/material"
	"ashshelf/soap/recipe"
	"ashshelf/soap/steep"
	"ashshelf/soap/unit"
	"ashshelf/web/page"
)

// ownPolicy is the choice of a cure policy in days of the shop's own.
const ownPolicy = "own"

// stores is what the shop keeps that a typed recipe draws on: its scents by
// label and its own weights of a teaspoon.
type stores struct {
	System unit.System
	Scents []catalog.Scent
	Spoons map[string]float64 // by name in small letters
	Jars   []steep.Jar        // of infused oil, which teach what each herb keeps
}

// loss is what a herb keeps back in g of oil per g: as the shop's own jars taught, else the usual.
func (k stores) loss(herb string) float64 {
	if v, of := steep.Learned(herb, k.Jars); of > 0 {
		return math.Round(100*v) / 100
	}
	return liquid.UsualLoss
}

func (s *Room) stores(r *http.Request) (stores, error) {
	k := stores{System: page.SessionOf(r).System, Spoons: map[string]float64{}}
	var err error
	if k.Scents, err = s.Shop.Scents(r.Context()); err != nil {
		return k, err
	}
	open, past, err := s.Shop.Infusions(r.Context())
	if err != nil {
		return k, err
	}
	k.Jars = slices.Concat(open, past)
	spoons, err := s.Shop.Spoons(r.Context())
	for _, one := range spoons {
		k.Spoons[strings.ToLower(one.Name)] = one.Grams
	}
	return k, err
}

// scent finds a scent of the shop by its label, or by its name when only one
// supplier has it.
func (k stores) scent(text string) (additive.Scent, bool) {
	var named []additive.Scent
	for _, s := range k.Scents {
		if strings.EqualFold(s.Scent.Label(), text) {
			return s.Scent, true
		}
		if strings.EqualFold(s.Scent.Name, text) {
			named = append(named, s.Scent)
		}
	}
	if len(named) == 1 {
		return named[0], true
	}
	return additive.Scent{}, false
}

// spoon is what a level teaspoon of something weighs: by the shop's own scale,
// else by the table, 0 when neither knows.
func (k stores) spoon(name string) float64 {
	if g, ok := k.Spoons[strings.ToLower(strings.TrimSpace(name))]; ok {
		return g
	}
	known, _ := additive.Find(name)
	return known.GramsPerTsp
}

// discount is the fourth way to say the liquid: percent off the recipe's own
// full liquid. It is kept as percent of the fats.
const discount = "discount"

// recipeForm writes a recipe into a form.
func recipeForm(b document.RecipeBody, k stores) *page.Form {
	f := &page.Form{Values: url.Values{}, System: k.System}
	fm := b.Formula
	num := func(name string, v float64) { f.Set(name, unit.Trim(v, 4)) }
	f.Set("name", fm.Name)
	f.Set("notes", b.Notes)
	f.Set("policy", b.Policy)
	if own, ok := cure.PolicyByCode(b.Policy); ok && strings.HasPrefix(b.Policy, ownPolicy+"-") {
		f.Set("policy", ownPolicy)
		f.Set("own_days", unit.Trim(float64(own.Days), 0))
		if own.CheckDay > 0 {
			f.Set("own_check_day", unit.Trim(float64(own.CheckDay), 0))
		}
	}
	f.Set("tags", strings.Join(b.Tags, ", "))
	f.Set("temperature", string(cmp.Or(fm.School, recipe.Warm)))
	num("superfat_percent", fm.Superfat)
	bindAlkali(page.Write(f, "alkali."), &fm.Alkali)
	f.Set("water.basis", string(fm.Water.Basis))
	num("water.value", fm.Water.Value)
	num("full_liquid_percent_of_fats", fm.Full())
	if f.Set("size", openingSize(b.SizeG, f.System)); b.InWeights {
		f.Set("size", "") // its weights say it
	}
	share := num // of the fats, as it was typed
	inWeights := b.InWeights && b.SizeG > 0
	if inWeights {
		share = func(name string, percent float64) { f.Set(name, unit.FieldMass(percent/100*b.SizeG, f.System)) }
	}
	for i, s := range fm.Fats {
		at := fmt.Sprintf("fats[%d].", i)
		f.Set(at+"fat", s.Fat.Name)
		share(at+"percent", s.Percent)
		bindHeldBack(page.Write(f, at), &s)
		f.Set(at+"like", s.Fat.Like)
		ref, known := fat.BySlug(s.Fat.Slug)
		if !known || ref.SAP != s.Fat.SAP {
			num(at+"sap_koh_mg_per_g", s.Fat.SAP)
		}
		if !known || ref.Density != s.Fat.Density {
			num(at+"density_g_per_ml", s.Fat.Density)
		}
		if s.Fat.Like != "" {
			ref, _ = fat.BySlug(s.Fat.Like)
		}
		if s.Fat.Acids != ref.Acids {
			f.Set(at+"acids", s.Fat.Acids.String())
		}
		if s.Fat.INCI != ref.INCI && (known || s.Fat.INCI != "") {
			f.Set(at+"label", s.Fat.INCI)
		}
		f.Set(at+"mark", string(s.Fat.Mark))
		f.Set(at+"of", s.Fat.Name)
	}
	for i, l := range fm.Liquids {
		at := fmt.Sprintf("liquids[%d].", i)
		f.Set(at+"liquid", l.Liquid.Slug)
		table, _ := liquid.BySlug(l.Liquid.Slug)
		bindLiquid(page.Write(f, at), &l, table)
		if num(at+"percent", l.Percent); inWeights && fm.Water.Basis == recipe.PercentOfFats {
			share(at+"percent", l.Percent/100*fm.Water.Value)
		}
	}
	for i, u := range fm.Additives {
		at := fmt.Sprintf("additives[%d].", i)
		setUse(f, at, u, k)
		if inWeights && u.Basis == additive.PercentOfFats {
			share(at+"rate.value", u.Rate)
		}
		f.Set(at+"stage", string(u.Stage))
		f.Set(at+"behaviour", string(u.Behaviour))
	}
	if s := fm.Scent; s != nil {
		if num("scent.rate_percent_of_fats", s.Rate); s.Grams > 0 {
			f.Set("scent.rate_percent_of_fats", unit.FieldMass(s.Grams, f.System))
		}
		f.Set("scent.bottle", s.Bottle)
		f.Set("scent.stage", string(s.Stage))
		f.Set("scent.portions", strings.Join(s.Portions, ", "))
		f.Set("scent.over_maximum_because", s.OverMax)
		for i, p := range s.Parts {
			at := fmt.Sprintf("scent.parts[%d].", i)
			num(at+"percent", p.Percent)
			f.Set(at+"name", p.Label())
			if _, ok := k.scent(p.Label()); ok {
				continue // what is known of it is looked up
			}
			f.Set(at+"of", p.Name)
			bindScent(page.Write(f, at), &p.Scent)
		}
	}
	for i, p := range fm.Portions {
		at := fmt.Sprintf("portions[%d].", i)
		bindPortion(page.Write(f, at), &p)
		num(at+"percent", p.Percent)
		for j, u := range p.Colorants {
			setUse(f, fmt.Sprintf("%scolorants[%d].", at, j), u, k)
		}
	}
	for i, s := range fm.Design {
		bindDesign(page.Write(f, fmt.Sprintf("design[%d].", i)), &s)
	}
	for i, one := range fm.Infusions {
		bindInfusion(page.Write(f, fmt.Sprintf("infusions[%d].", i)), &one, k.loss(one.Herb))
	}
	bindProcess(page.Write(f, "process."), &fm.Process)
	if fm.Dilution != nil {
		bindDilution(page.Write(f, "dilution."), fm.Dilution)
	}
	return f
}

// setUse writes an additive. What the table and the stores know of it is looked up
// and not written; a figure in a field is the recipe's own.
func setUse(f *page.Form, at string, u additive.Use, k stores) {
	num := func(name string, v float64) { f.Set(at+name, unit.Trim(v, 4)) }
	f.Set(at+"name", u.Name)
	f.Set(at+"of", u.Name)
	f.Set(at+"rate.basis", string(u.Basis))
	if u.Basis != additive.ByEye {
		num("rate.value", u.Rate)
	}
	if u.GramsPerTsp > 0 && u.GramsPerTsp != k.spoon(u.Name) {
		num("rate.grams_per_tsp", u.GramsPerTsp)
	}
	if u.Density != additive.UsualDensity(u.Name) {
		num("density_g_per_ml", u.Density)
	}
	if usual := u.Takes(nil); u.Lye > 0 && u.Lye != usual.Lye || u.Neutral {
		num("lye_g_per_g", u.Lye)
	}
	f.Set(at+"mark", string(u.Mark))
	if u.Disperse != nil {
		if f.Set(at+"disperse.in", u.Disperse.In); u.Disperse.Own {
			f.Set(at+"disperse.in", ownOil+u.Disperse.In)
		}
		num("disperse.spoons", u.Disperse.Spoons)
	}
}

// Own figures of the rows of a recipe: what is typed there counts in place of what
// the tables and the stores know.
var (
	ownFat   = []string{"sap_koh_mg_per_g", "density_g_per_ml", "acids", "label", "like", "mark"}
	ownUse   = []string{"rate.grams_per_tsp", "density_g_per_ml", "lye_g_per_g", "behaviour", "mark"}
	ownScent = []string{"supplier", "max_percent", "density_g_per_ml", "stated", "observed", "mark"}
)

// ownOfRow are the own figures of a row, such as "additives[2]".
func ownOfRow(at string) []string {
	switch {
	case strings.HasPrefix(at, "fats["):
		return ownFat
	case strings.HasPrefix(at, "scent."):
		return ownScent
	}
	return ownUse
}

// stillOf finds own figures that were given for another name than the row now has:
// they are facts of that material, and not of this one before somebody says so.
func stillOf(f *page.Form, at, field string, same func(a, b string) bool) {
	of, name := f.Get(at+"of"), f.Get(at+field)
	if of == "" || name == "" || same(of, name) || page.Blank(f, at, ownOfRow(at)...) {
		return
	}
	f.Problems.Add(at+field, "the figures below were given for %s; clear them, or say that they are of %s too", of, name)
}

func sameFat(a, b string) bool {
	x, errX := fat.Find(a)
	y, errY := fat.Find(b)
	return strings.EqualFold(a, b) || errX == nil && errY == nil && x.Slug == y.Slug
}

// byWeight says that the share of sodium hydroxide counts on what both weigh, and not on what each
// saponifies.
const byWeight = "weight"

// readRecipe reads the form of the bench into a recipe. Empty rows are passed
// over; problems are placed at the rows of the form.
func readRecipe(f *page.Form, k stores) (document.RecipeBody, caution.Problems) {
	f.Problems = nil
	fm := recipe.Formula{
		Name: f.Get("name"), Superfat: f.Number("superfat_percent"), School: recipe.School(f.Get("temperature")),
		Water: recipe.Water{Basis: recipe.Basis(f.Get("water.basis"))},
	}
	if fm.School == recipe.Warm {
		fm.School = "" // it goes without saying
	}
	bindAlkali(page.Read(f, "alkali."), &fm.Alkali)
	if f.Get("alkali.counted") == byWeight {
		fm.Alkali = fm.Alkali.SharedByWeight(fm.Alkali.NaOHPercent)
	}
	if full := page.IfTyped(f, "full_liquid_percent_of_fats", f.Number, 0); full != recipe.UsualFull {
		fm.FullLiquid = full
	}
	if each := "water." + string(fm.Water.Basis); f.Get("water.value") == "" && f.Get(each) != "" {
		f.Set("water.value", f.Get(each)) // a draft from when each way had a field of its own
	}
	fm.Water.Value = f.Number("water.value")
	if fm.Water.Basis == discount {
		fm.Water = recipe.Water{Basis: recipe.PercentOfFats, Value: fm.Discounted(fm.Water.Value)}
	}
	pl := page.Places{} // problem paths to field names
	size, _ := readSize(cmp.Or(f.Get("size"), page.UsualSize(f.System)), f.System)
	weighed := readFats(f, pl, &fm)
	if weighed > 0 {
		size = weighed
	}
	kept := size // for nothing, where it is the size that anything opens at
	if weighed == 0 && cmp.Or(f.Get("size"), page.UsualSize(f.System)) == page.UsualSize(f.System) {
		kept = 0
	}
	readLiquids(f, pl, &fm, size)
	for i := range page.Rows(f.Values, "additives") {
		at := fmt.Sprintf("additives[%d].", i)
		if page.Blank(f, at, "name", "rate.value") {
			continue
		}
		pl.Row("additives", "additives", i, len(fm.Additives))
		u := readUse(f, at, k, size)
		u.Stage = additive.Stage(f.Get(at + "stage"))
		if u.Stage == "" {
			known, _ := additive.Find(u.Name)
			u.Stage = known.UsualStage()
		}
		fm.Additives = append(fm.Additives, u)
	}
	readLook(f, pl, &fm, k)
	readScent(f, pl, &fm, k) // which may go into portions
	for i := range page.Rows(f.Values, "infusions") {
		at := fmt.Sprintf("infusions[%d].", i)
		if page.Blank(f, at, "herb", "fat") {
			continue
		}
		pl.Row("infusions", "infusions", i, len(fm.Infusions))
		var one liquid.Infusion
		bindInfusion(page.Read(f, at), &one, k.loss(f.Get(at+"herb")))
		fm.Infusions = append(fm.Infusions, one)
	}
	bindProcess(page.Read(f, "process."), &fm.Process)
	if !page.Blank(f, "dilution.", "soap_percent", "glycerin_percent") {
		fm.Dilution = &recipe.Dilution{}
		bindDilution(page.Read(f, "dilution."), fm.Dilution)
	}
	policy := f.Get("policy")
	if policy == ownPolicy {
		policy = cure.OwnChecked(f.Count("own_days"), page.IfTyped(f, "own_check_day", f.Count, 0)).Code
	}
	body := document.RecipeBody{
		Formula: fm, Policy: policy, Notes: f.Get("notes"), Tags: readTags(f.Get("tags")), SizeG: kept, InWeights: weighed > 0,
	}
	problems := f.Problems
	if len(problems) == 0 { // an unread number would only be reported twice
		for _, p := range body.Check() {
			if p.Path == "name" && fm.Name == "" {
				continue // it is asked for when the recipe is kept
			}
			if at := pl.Of(p.Path); problems.At(at) == "" {
				problems.Add(at, "%s", p.Text)
			}
		}
	}
	return body, problems
}

// readTags reads words between commas, each once.
func readTags(text string) []string {
	var out []string
	for _, t := range strings.Split(text, ",") {
		if t = strings.TrimSpace(t); t != "" && !slices.ContainsFunc(out, func(o string) bool { return strings.EqualFold(o, t) }) {
			out = append(out, t)
		}
	}
	return out
}

// readFats reads the blend; grams is what all of it weighs where its shares were typed as weights.
func readFats(f *page.Form, pl page.Places, fm *recipe.Formula) (grams float64) {
	weighed := 0 // shares that were typed as weights
	for i := range page.Rows(f.Values, "fats") {
		at := fmt.Sprintf("fats[%d].", i)
		if page.Blank(f, at, "fat", "percent") {
			continue
		}
		stillOf(f, at, "fat", sameFat)
		one, ok := readFat(f, at)
		share, inGrams := f.Share(at + "percent")
		if !ok {
			continue
		}
		if inGrams {
			weighed++
		}
		pl.Row("fats", "fats", i, len(fm.Fats))
		row := fat.Share{Fat: one, Percent: share}
		bindHeldBack(page.Read(f, at), &row)
		fm.Fats = append(fm.Fats, row)
	}
	return fromGrams(f, fm.Fats, weighed)
}

// readFat reads the fat of a row: one of the table as it is typed, or an own
// one with its figures.
func readFat(f *page.Form, at string) (fat.Fat, bool) {
	name := f.Get(at + "fat")
	one, err := fat.Find(name)
	if err == nil {
		one.SAP = page.IfTyped(f, at+"sap_koh_mg_per_g", f.Number, one.SAP)
		one.Density = page.IfTyped(f, at+"density_g_per_ml", f.Number, one.Density)
		return ownMakeUp(f, at, one), true
	}
	if name == "" || f.Get(at+"sap_koh_mg_per_g") == "" {
		meant := ""
		if guess := guessed(name); guess != "" && !strings.Contains(err.Error(), "could be") {
			meant = ": did you mean " + guess + "?"
		}
		f.Problems.Add(at+"fat", "%s%s; or give its own figures beside it", err, meant)
		return one, false
	}
	return ownMakeUp(f, at, fat.NewOwn(name, f.Number(at+"sap_koh_mg_per_g"), f.Number(at+"density_g_per_ml"), f.Get(at+"like"))), true
}

// ownMakeUp reads the fatty acids and the label's name of a certificate.
func ownMakeUp(f *page.Form, at string, one fat.Fat) fat.Fat {
	if text := f.Get(at + "acids"); text != "" {
		var err error
		if one.Acids, err = fat.ReadAcids(text); err != nil {
			f.Problems.Add(at+"acids", "%s", err)
		}
	}
	if label := f.Get(at + "label"); label != "" {
		one.INCI = label
	}
	if one.Slug == "" {
		one.Mark = material.Mark(f.Get(at + "mark"))
	}
	return one
}

// fromGrams turns shares that were typed as weights into percentages of what they come to.
func fromGrams(f *page.Form, b fat.Blend, weighed int) (total float64) {
	switch {
	case weighed == 0:
		return 0
	case weighed < len(b):
		f.Problems.Add(
			"fats",
			"%d of the fats have a weight and %d a percentage; type all of them the same way",
			weighed,
			len(b)-weighed,
		)
		return 0
	}
	total = b.Sum(func(fat.Fat) bool { return true })
	for i := range b {
		if total > 0 {
			b[i].Percent *= 100 / total
		}
	}
	return total
}

// readLiquids reads the liquids. Where they are weights, those say how much liquid there is on fats
// grams of fats, and the way it was said otherwise counts no more.
func readLiquids(f *page.Form, pl page.Places, fm *recipe.Formula, fats float64) {
	weighed, total := 0, 0.0
	for i := range page.Rows(f.Values, "liquids") {
		at := fmt.Sprintf("liquids[%d].", i)
		if page.Blank(f, at, "liquid", "percent") {
			continue
		}
		table, ok := liquid.BySlug(f.Get(at + "liquid"))
		if !ok {
			f.Problems.Add(at+"liquid", "choose the liquid")
			continue
		}
		one := recipe.Liquid{Liquid: table}
		bindLiquid(page.Read(f, at), &one, table)
		share, inGrams := f.Share(at + "percent")
		if one.Percent = share; inGrams {
			weighed++
			total += share
		}
		pl.Row("liquids", "liquids", i, len(fm.Liquids))
		fm.Liquids = append(fm.Liquids, one)
	}
	switch {
	case weighed == 0:
	case weighed < len(fm.Liquids):
		f.Problems.Add("liquids", "%d of the liquids have a weight and %d a percentage; type all of them the same way", weighed,
			len(fm.Liquids)-weighed)
	case total > 0 && fats > 0:
		for i := range fm.Liquids {
			fm.Liquids[i].Percent *= 100 / total
		}
		fm.Water = recipe.Water{Basis: recipe.PercentOfFats, Value: 100 * total / fats}
	}
}

// readUse reads an additive or a colorant, which share most of their fields. A weight in place of a
// percentage of the fats is one on fats grams of them; 0 for a colorant, whose fats are its portion's.
func readUse(f *page.Form, at string, k stores, fats float64) additive.Use {
	stillOf(f, at, "name", strings.EqualFold)
	u := additive.Use{
		Name:      f.Get(at + "name"),
		Basis:     additive.Basis(f.Get(at + "rate.basis")),
		Mark:      material.Mark(f.Get(at + "mark")),
		Behaviour: additive.Behaviour(f.Get(at + "behaviour")),
	}
	u.Rate = readRate(f, at+"rate.value", u.Basis, fats)
	if u.Basis == additive.ByEye && u.Rate != 0 {
		f.Problems.Add(at+"rate.value", "leave this empty: by eye, nobody knows beforehand")
	}
	u.Density = page.IfTyped(f, at+"density_g_per_ml", f.Number, additive.UsualDensity(u.Name))
	var said *float64
	if f.Get(at+"lye_g_per_g") != "" {
		v := f.Number(at + "lye_g_per_g")
		said = &v
		if !(v >= 0 && v <= 2) {
			f.Problems.Add(at+"lye_g_per_g", "a gram of an acid takes between 0 and 2 g of NaOH, not %s", unit.Trim(v, 3))
		}
	}
	u = u.Takes(said)
	u.GramsPerTsp = page.IfTyped(f, at+"rate.grams_per_tsp", f.Number, k.spoon(u.Name))
	if in := f.Get(at + "disperse.in"); in != "" {
		in, own := strings.CutPrefix(in, ownOil)
		u.Disperse = &additive.Dispersal{In: in, Own: own, Spoons: page.IfTyped(f, at+"disperse.spoons", f.Number, usualSpoons(in))}
	}
	return u
}

// readRate reads a rate. By eye there is none; what counts in grams takes any weight, and a share of
// the fats too.
func readRate(f *page.Form, name string, basis additive.Basis, fats float64) float64 {
	if f.Get(name) == "" && basis == additive.ByEye {
		return 0
	}
	v, inGrams := f.Share(name)
	switch {
	case !inGrams, basis == additive.GramsPerBatch, basis == additive.GramsPerMold:
		return v
	case basis == additive.PercentOfFats && fats > 0:
		return 100 * v / fats
	}
	return f.Number(name) // which says what to type
}

// ownOil begins the choice of an oil of its own for a powder, besides those of the batch.
const ownOil = "own:"

// usualSpoons is how many spoons a powder is stirred into where nothing is
// typed.
func usualSpoons(in string) float64 {
	if in == additive.InWater {
		return additive.UsualWaterSpoons
	}
	return additive.UsualOilSpoons
}

func readScent(f *page.Form, pl page.Places, fm *recipe.Formula, k stores) {
	var s additive.Perfume
	said := 0 // shares that were typed as parts
	for i := range page.Rows(f.Values, "scent.parts") {
		at := fmt.Sprintf("scent.parts[%d].", i)
		if page.Blank(f, at, "name") {
			continue
		}
		one, known := k.scent(f.Get(at + "name"))
		if !known {
			stillOf(f, at, "name", strings.EqualFold)
			bindScent(page.Read(f, at), &one)
		}
		pl.Row("scent.parts", "scent.parts", i, len(s.Parts))
		part, ofParts := readPart(f, at+"percent", alone(f))
		if ofParts {
			said++
		}
		s.Parts = append(s.Parts, additive.ScentPart{Scent: one, Percent: part})
	}
	shares := make([]*float64, len(s.Parts))
	for i := range s.Parts {
		shares[i] = &s.Parts[i].Percent
	}
	fromParts(f, "scent.parts", shares, said)
	if len(s.Parts) == 0 {
		return
	}
	rate, fixed := f.Share("scent.rate_percent_of_fats")
	if s.Rate = rate; fixed {
		s.Rate, s.Grams = 0, rate
	}
	s.Bottle, s.OverMax = f.Get("scent.bottle"), f.Get("scent.over_maximum_because")
	s.Stage = cmp.Or(additive.Stage(f.Get("scent.stage")), additive.Trace)
	for name := range strings.SplitSeq(f.Get("scent.portions"), ",") {
		if name = strings.TrimSpace(name); name != "" {
			s.Portions = append(s.Portions, named(fm, name))
		}
	}
	fm.Scent = &s
}

// named is the name of a portion as it is written, for one that was typed in other letters.
func named(fm *recipe.Formula, typed string) string {
	for _, p := range fm.Portions {
		if strings.EqualFold(p.Name, typed) {
			return p.Name
		}
	}
	return typed
}

// readPart reads a share of a blend: percent, a fraction such as 1/3, or parts such as “3 parts” and
// weights, which count among themselves.
func readPart(f *page.Form, name string, alone float64) (v float64, ofParts bool) {
	text := strings.ToLower(f.Get(name))
	for _, word := range []string{"parts", "part"} {
		if number, ok := strings.CutSuffix(text, word); ok {
			v, err := unit.Number(strings.TrimSpace(number))
			if err != nil || !(v > 0) {
				f.Problems.Add(name, "type parts like 3 parts, or percent")
			}
			return v, true
		}
	}
	if above, below, ok := strings.Cut(text, "/"); ok && !strings.ContainsAny(above, " .") {
		a, errA := unit.Number(above)
		b, errB := unit.Number(strings.TrimSpace(strings.TrimSuffix(below, "%")))
		if errA == nil && errB == nil && b > 0 {
			return 100 * a / b, false
		}
	}
	if text == "" {
		return alone, false
	}
	return f.Share(name)
}

// fromParts turns shares of which so many were said as parts or weights into percent.
func fromParts(f *page.Form, list string, shares []*float64, said int) {
	switch {
	case said == 0:
		return
	case said < len(shares):
		f.Problems.Add(list, "%d of the shares are parts or weights and %d percent; type all of them the same way", said, len(shares)-said)
		return
	}
	total := 0.0
	for _, p := range shares {
		total += *p
	}
	for _, p := range shares {
		if total > 0 {
			*p *= 100 / total
		}
	}
}

// alone is the part of a scent that stands alone, which needs no percentage.
func alone(f *page.Form) float64 {
	named := 0
	for i := range page.Rows(f.Values, "scent.parts") {
		if f.Get(fmt.Sprintf("scent.parts[%d].name", i)) != "" {
			named++
		}
	}
	if named == 1 {
		return 100
	}
	return 0
}

// renamed takes the steps of a portion along when it gets another name.
func renamed(f *page.Form, was, name string) {
	if was == "" || name == "" || was == name {
		return
	}
	for i := range page.Rows(f.Values, "design") {
		for _, field := range []string{"portion", "into"} {
			if at := fmt.Sprintf("design[%d].%s", i, field); f.Get(at) == was {
				f.Set(at, name)
			}
		}
	}
	scented := strings.Split(f.Get("scent.portions"), ",")
	for i, one := range scented {
		if scented[i] = strings.TrimSpace(one); scented[i] == was {
			scented[i] = name
		}
	}
	f.Set("scent.portions", strings.Join(scented, ", "))
}

// readLook reads the colour portions and the steps of the design.
func readLook(f *page.Form, pl page.Places, fm *recipe.Formula, k stores) {
	said := 0 // shares that were typed as parts or weights
	for i := range page.Rows(f.Values, "portions") {
		at := fmt.Sprintf("portions[%d].", i)
		if page.Blank(f, at, "name", "percent") {
			continue
		}
		in, core := pl.Row("portions", "portions", i, len(fm.Portions))
		var p recipe.Portion
		bindPortion(page.Read(f, at), &p)
		share, ofParts := readPart(f, at+"percent", 0)
		if p.Percent = share; ofParts {
			said++
		}
		renamed(f, f.Get(at+"was"), p.Name)
		for j := range page.Rows(f.Values, in+"colorants") {
			to := fmt.Sprintf("%scolorants[%d].", at, j)
			if page.Blank(f, to, "name", "rate.value") {
				continue
			}
			pl.Row(in+"colorants", core+".colorants", j, len(p.Colorants))
			p.Colorants = append(p.Colorants, readUse(f, to, k, 0))
		}
		fm.Portions = append(fm.Portions, p)
	}
	shares := make([]*float64, len(fm.Portions))
	for i := range fm.Portions {
		shares[i] = &fm.Portions[i].Percent
	}
	fromParts(f, "portions", shares, said)
	for i := range page.Rows(f.Values, "design") {
		at := fmt.Sprintf("design[%d].", i)
		if page.Blank(f, at, "do") {
			continue
		}
		pl.Row("design", "design", i, len(fm.Design))
		var st recipe.Step
		bindDesign(page.Read(f, at), &st)
		if !st.Do.Takes() {
			st.Portion = ""
		}
		if st.Do != recipe.Drop {
			st.Into = ""
		}
		fm.Design = append(fm.Design, st)
	}
}
