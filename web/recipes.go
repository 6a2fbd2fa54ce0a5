package web

import (
	"cmp"
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

// recipeCard is a recipe in the book.
type recipeCard struct {
	shop.Recipe
	Blend draw.Blend
	Cure  cure.Policy
}

func (s *Server) recipes(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	cards := make([]recipeCard, len(list))
	for i, one := range list {
		cards[i] = recipeCard{one, draw.OfBlend(one.Formula.Fats), one.Cure()}
	}
	s.show(w, r, http.StatusOK, "recipes", "Recipes", "Recipes", nil, cards)
}

// newRecipe opens an empty bench, or one with a variant of another recipe.
func (s *Server) newRecipe(w http.ResponseWriter, r *http.Request) {
	b := newBench(store.Recipes)
	body := shop.RecipeBody{Formula: recipe.Formula{
		Superfat: 5, Alkali: lye.DefaultAlkali(), Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}}
	f := recipeForm(body, sessionOf(r).System)
	if from := r.URL.Query().Get("from"); from != "" {
		history, err := s.shop.RecipeHistory(r.Context(), from)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		body = history[0].RecipeBody
		body.Formula.Name += " variant"
		f = recipeForm(body, sessionOf(r).System)
		f.Set("parent", from)
	}
	if _, err := s.saveCopy(r, b, f); err != nil {
		s.fail(w, r, err)
		return
	}
	seeOther(w, r, b.Path)
}

// recipeBench is the page of a recipe on the bench.
type recipeBench struct {
	bench
	Form      *Form
	Answers   recipeAnswers
	Fats      []fatRow
	Liquids   []string
	Additives []string
	History   []shop.Recipe
	Choices   recipeChoices
	Blend     []Option // the fats in the blend, to swap one
	Dirty     bool
}

// fatRow is a row of the blend on the bench.
type fatRow struct {
	At        string // "fats[0]"
	LookAlike string
	Own       bool // its own figures are shown
}

func fatRows(f *Form) []fatRow {
	var out []fatRow
	for _, at := range prefixes(f, "fats", 2) {
		row := fatRow{At: at}
		one, err := fat.Find(f.Get(at + ".fat"))
		if err == nil {
			row.LookAlike = fat.Names(one.Slug).LookAlike
		}
		row.Own = err != nil && f.Get(at+".fat") != "" || f.Get(at+".sap_koh_mg_per_g") != "" || f.Get(at+".density_g_per_ml") != ""
		out = append(out, row)
	}
	return out
}

func blendOptions(body shop.RecipeBody) []Option {
	out := []Option{{"", "choose"}}
	for _, s := range body.Formula.Fats {
		out = append(out, Option{s.Fat.Key(), s.Fat.Name})
	}
	return out
}

type recipeChoices struct {
	Liquids, Stages, Bases, Policies, Behaviours, Schools []Option
	Known                                                 []additive.Known
	Names                                                 []Option // of fats, with what each stands for
	Likes                                                 []Option
}

func choicesOfRecipe() recipeChoices {
	c := recipeChoices{Likes: []Option{{"", "nothing of the table"}}, Stages: options(additive.Stages()), Bases: options(additive.Bases()), Behaviours: options(additive.Behaviours()), Schools: options(recipe.Schools()),
		Policies: []Option{{"", "recommended from the blend"}}, Known: additive.Reference(), Liquids: []Option{{"", "choose a liquid"}}}
	for _, f := range fat.Reference() {
		c.Likes = append(c.Likes, Option{f.Slug, f.Name})
		c.Names = append(c.Names, Option{f.Name, strings.Join(fat.Names(f.Slug).Synonyms, ", ")})
		for _, n := range fat.Names(f.Slug).Synonyms {
			c.Names = append(c.Names, Option{n, f.Name})
		}
	}
	for _, l := range liquid.Reference() {
		c.Liquids = append(c.Liquids, Option{l.Slug, l.Name})
	}
	for _, p := range cure.Policies() {
		c.Policies = append(c.Policies, Option{p.Code, fmt.Sprintf("%s (%d days)", p.Name, p.Days)})
	}
	return c
}

func (s *Server) recipeBook() book[shop.Recipe] {
	return book[shop.Recipe]{store.Recipes, s.shop.RecipeHistory, func(r shop.Recipe) int { return r.Number },
		func(r shop.Recipe, sys unit.System) *Form { return recipeForm(r.RecipeBody, sys) }}
}

func (s *Server) recipe(w http.ResponseWriter, r *http.Request) {
	o, ok := openBench(s, w, r, s.recipeBook())
	if !ok {
		return
	}
	body, problems := readRecipe(o.form)
	o.form.Problems = problems
	if o.OID != "" && !o.stale && len(problems) == 0 && reflect.DeepEqual(body, o.history[0].RecipeBody) {
		o.notice, o.dirty = nil, false // only the size it is shown for was typed
	}
	s.showRecipe(w, r, http.StatusOK, o, body)
}

func (s *Server) showRecipe(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Recipe], body shop.RecipeBody) {
	f := o.form
	title := f.Get("name")
	if title == "" {
		title = "A new recipe"
	}
	answers := answersFor(f, body)
	for basis, v := range answers.Ways { // the ways that were not typed follow
		if basis != answers.Basis {
			f.Set("water."+basis, unit.Trim(v, wayDecimals(basis)))
		}
	}
	s.show(w, r, status, "recipe", title, "Recipes", o.notice, recipeBench{
		bench: o.bench, Form: f, Answers: answers, History: o.history, Choices: choicesOfRecipe(), Dirty: o.dirty,
		Fats: fatRows(f), Blend: blendOptions(body), Liquids: prefixes(f, "liquids", 1), Additives: prefixes(f, "additives", 1),
	})
}

// wayDecimals is how finely a way to say the liquid is written.
func wayDecimals(basis string) int {
	if basis == string(recipe.LiquidToLye) {
		return 3
	}
	return 2
}

// prefixes names the rows of a list with at least one empty row at the end.
func prefixes(f *Form, list string, least int) []string {
	n := max(rows(f.Values, list), least)
	out := make([]string, n)
	for i := range out {
		out[i] = fmt.Sprintf("%s[%d]", list, i)
	}
	return out
}

// recipeLive answers while somebody types.
func (s *Server) recipeLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	b := benchOf(r, store.Recipes)
	other, err := s.saveCopy(r, b, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	body, problems := readRecipe(f)
	f.Problems = problems
	live := liveAnswer{Form: f, Names: fieldNames(f.Values), Answers: answersFor(f, body)}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "recipe-live", live)
}

// liveAnswer is what comes back while somebody types: the answers and, for
// every field, what is wrong with it.
type liveAnswer struct {
	Form    *Form
	Names   []string
	Answers any
	Notice  *caution.Caution
}

func fieldNames(v url.Values) []string {
	var out []string
	for name := range v {
		out = append(out, name)
	}
	return append(out, "fats", "liquids")
}

// keepRecipe makes a revision; its other buttons add and remove rows or throw
// the working copy away.
func (s *Server) keepRecipe(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	if do := r.PostFormValue("do"); strings.HasPrefix(do, "add ") || strings.HasPrefix(do, "remove ") || strings.HasPrefix(do, "up ") {
		b := benchOf(r, store.Recipes)
		list := editRows(f, do)
		if _, err := s.saveCopy(r, b, f); err != nil {
			s.fail(w, r, err)
			return
		}
		seeOther(w, r, b.Path+"#"+url.PathEscape(list))
		return
	}
	if do := r.PostFormValue("do"); do == "balance" || do == "swap" {
		s.changeBlend(w, r, f, do)
		return
	}
	body, problems := readRecipe(f)
	o, status, ok := keepBench(s, w, r, s.recipeBook(), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepRecipe(r.Context(), act(r), b.OID, b.Base, body, f.Get("note"), f.Get("parent"))
	})
	if ok {
		s.showRecipe(w, r, status, o, body)
	}
}

// editRows adds or removes a row, as "add fats" or "remove fats[2]" say, and
// returns the list.
func editRows(f *Form, do string) (list string) {
	if list, ok := strings.CutPrefix(do, "add "); ok {
		if n := rows(f.Values, list); n < mostRows {
			f.Set(fmt.Sprintf("%s[%d].percent", list, n), "")
		}
		return list
	}
	what, row, _ := strings.Cut(do, " ")
	list, rest, _ := strings.Cut(row, "[")
	if i, err := strconv.Atoi(strings.TrimSuffix(rest, "]")); err == nil && i >= 0 {
		if what == "up" {
			raiseRow(f.Values, list, i)
		} else {
			removeRow(f.Values, list, i)
		}
	}
	return list
}

// changeBlend brings the shares to 100 or swaps a fat, and shows the bench with
// the blend as it is then.
func (s *Server) changeBlend(w http.ResponseWriter, r *http.Request, f *Form, do string) {
	b := benchOf(r, store.Recipes)
	body, _ := readRecipe(f)
	blend := body.Formula.Fats
	held := make([]bool, 0, len(blend))
	for i := range rows(f.Values, "fats") {
		if at := fmt.Sprintf("fats[%d].", i); f.Get(at+"fat") != "" || f.Get(at+"percent") != "" {
			held = append(held, f.Get(at+"held") == "on")
		}
	}
	var err error
	switch {
	case do == "swap":
		if swap := swapFor(f, body); swap != nil {
			blend = swap.blend
			f.Values.Del("swap.from")
			f.Values.Del("swap.to")
		} else {
			err = fmt.Errorf("choose a fat of the blend and another one to take its place")
		}
	case len(held) == len(blend) && len(blend) > 0:
		percents := make([]float64, len(blend))
		for i, one := range blend {
			percents[i] = one.Percent
		}
		if percents, err = fat.Balance(percents, held); err == nil {
			for i := range blend {
				blend[i].Percent = percents[i]
			}
		}
	default:
		err = fmt.Errorf("first mend what is marked in the fats")
	}
	if err == nil {
		written := recipeForm(shop.RecipeBody{Formula: recipe.Formula{Fats: blend}}, f.System)
		for name := range f.Values {
			if strings.HasPrefix(name, "fats[") && (do == "swap" || !strings.HasSuffix(name, ".held")) {
				f.Values.Del(name)
			}
		}
		for name, v := range written.Values {
			if strings.HasPrefix(name, "fats[") {
				f.Values[name] = v
			}
		}
	}
	if _, saved := s.saveCopy(r, b, f); saved != nil {
		s.fail(w, r, saved)
		return
	}
	if err == nil {
		seeOther(w, r, b.Path+"#fats")
		return
	}
	o := opened[shop.Recipe]{bench: b, form: f, dirty: true, notice: &caution.Caution{Level: caution.Warn, Reason: capital(err.Error()) + "."}}
	o.Base = postedBase(r)
	if o.OID != "" {
		var fault error
		if o.history, fault = s.shop.RecipeHistory(r.Context(), o.OID); fault != nil {
			s.fail(w, r, fault)
			return
		}
	}
	body, f.Problems = readRecipe(f)
	s.showRecipe(w, r, http.StatusUnprocessableEntity, o, body)
}

// swapAnswer is a swap before and after.
type swapAnswer struct {
	From, To string
	Rows     []swapRow
	blend    fat.Blend
}

type swapRow struct{ What, Before, After string }

// swapFor works out the swap that the form asks for, or nil.
func swapFor(f *Form, body shop.RecipeBody) *swapAnswer {
	to, err := fat.Find(f.Get("swap.to"))
	if err != nil {
		return nil
	}
	after := body.Formula
	var ok bool
	if after.Fats, ok = body.Formula.Fats.Swap(f.Get("swap.from"), to); !ok {
		return nil
	}
	a := &swapAnswer{To: to.Name, blend: after.Fats}
	for _, s := range body.Formula.Fats {
		if s.Fat.Key() == f.Get("swap.from") {
			a.From = s.Fat.Name
		}
	}
	lyeOf := func(fm recipe.Formula) string {
		x := fm.For(1000)
		return unit.Fixed(x.NaOH+x.KOH, 1) + " g for 1000 g of fats"
	}
	a.Rows = []swapRow{{"Lye", lyeOf(body.Formula), lyeOf(after)}}
	before, then := body.Formula.Judge().All(), after.Judge().All()
	for i := range before {
		a.Rows = append(a.Rows, swapRow{before[i].Name, before[i].Words, then[i].Words})
	}
	return a
}

// revision shows a kept revision as it was.
func (s *Server) revision(w http.ResponseWriter, r *http.Request) {
	history, err := s.shop.RecipeHistory(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	for _, one := range history {
		if strconv.Itoa(one.Number) == chi.URLParam(r, "number") {
			s.show(w, r, http.StatusOK, "revision", one.Name, "Recipes", nil, struct {
				shop.Recipe
				Answers recipeAnswers
				Blend   draw.Blend
				Latest  int
			}{one, answersFor(recipeForm(one.RecipeBody, sessionOf(r).System), one.RecipeBody), draw.OfBlend(one.Formula.Fats), history[0].Number})
			return
		}
	}
	s.notFound(w, r)
}

// recipeForm writes a recipe into a form.
func recipeForm(b shop.RecipeBody, sys unit.System) *Form {
	f := &Form{Values: url.Values{}, System: sys}
	fm := b.Formula
	num := func(name string, v float64) { f.Set(name, unit.Trim(v, 4)) }
	f.Set("name", fm.Name)
	f.Set("notes", b.Notes)
	f.Set("policy", b.Policy)
	f.Set("temperature", string(cmp.Or(fm.School, recipe.Warm)))
	num("superfat_percent", fm.Superfat)
	num("alkali.naoh_percent", fm.Alkali.NaOHPercent)
	num("alkali.naoh_purity_percent", fm.Alkali.NaOHPurity)
	num("alkali.koh_purity_percent", fm.Alkali.KOHPurity)
	f.Set("water.basis", string(fm.Water.Basis))
	num("water."+string(fm.Water.Basis), fm.Water.Value)
	f.Set("size", "1000 g")
	for i, s := range fm.Fats {
		at := fmt.Sprintf("fats[%d].", i)
		f.Set(at+"fat", s.Fat.Name)
		num(at+"percent", s.Percent)
		f.Set(at+"like", s.Fat.Like)
		ref, known := fat.BySlug(s.Fat.Slug)
		if !known || ref.SAP != s.Fat.SAP {
			num(at+"sap_koh_mg_per_g", s.Fat.SAP)
		}
		if !known || ref.Density != s.Fat.Density {
			num(at+"density_g_per_ml", s.Fat.Density)
		}
	}
	for i, l := range fm.Liquids {
		at := fmt.Sprintf("liquids[%d].", i)
		f.Set(at+"liquid", l.Liquid.Slug)
		num(at+"percent", l.Percent)
		tick(f, at+"carries_lye", l.Carries)
		tick(f, at+"frozen", l.Frozen)
	}
	for i, u := range fm.Additives {
		at := fmt.Sprintf("additives[%d].", i)
		f.Set(at+"name", u.Name)
		f.Set(at+"stage", string(u.Stage))
		f.Set(at+"rate.basis", string(u.Basis))
		num(at+"rate.value", u.Rate)
		if u.GramsPerTsp > 0 {
			num(at+"rate.grams_per_tsp", u.GramsPerTsp)
		}
		num(at+"density_g_per_ml", u.Density)
		f.Set(at+"behaviour", string(u.Behaviour))
	}
	return f
}

func tick(f *Form, name string, on bool) {
	if on {
		f.Set(name, "on")
	}
}

// readRecipe reads the form of the bench into a recipe. Empty rows are passed
// over; problems are placed at the rows of the form.
func readRecipe(f *Form) (shop.RecipeBody, caution.Problems) {
	f.Problems = nil
	fm := recipe.Formula{
		Name: f.Get("name"), Superfat: f.Number("superfat_percent"), School: recipe.School(f.Get("temperature")),
		Water: recipe.Water{Basis: recipe.Basis(f.Get("water.basis"))},
	}
	usual := lye.DefaultAlkali()
	fm.Alkali = lye.Alkali{
		NaOHPercent: ifTyped(f, "alkali.naoh_percent", f.Number, usual.NaOHPercent),
		NaOHPurity:  ifTyped(f, "alkali.naoh_purity_percent", f.Number, usual.NaOHPurity),
		KOHPurity:   ifTyped(f, "alkali.koh_purity_percent", f.Number, usual.KOHPurity),
	}
	water := "water." + string(fm.Water.Basis)
	fm.Water.Value = f.Number(water)

	place := map[string]string{"water.value": water} // problem paths to field names
	row := func(list string, i, kept int) string {
		at := fmt.Sprintf("%s[%d]", list, i)
		place[fmt.Sprintf("%s[%d]", list, kept)] = at
		return at + "."
	}
	empty := func(at string, names ...string) bool {
		for _, n := range names {
			if f.Get(at+n) != "" {
				return false
			}
		}
		return true
	}
	weighed := 0 // shares that were typed as weights
	for i := range rows(f.Values, "fats") {
		at := fmt.Sprintf("fats[%d].", i)
		if empty(at, "fat", "percent") {
			continue
		}
		one, ok := readFat(f, at)
		share, inGrams := f.share(at + "percent")
		if !ok {
			continue
		}
		if inGrams {
			weighed++
		}
		row("fats", i, len(fm.Fats))
		fm.Fats = append(fm.Fats, fat.Share{Fat: one, Percent: share})
	}
	fromGrams(f, fm.Fats, weighed)
	for i := range rows(f.Values, "liquids") {
		at := fmt.Sprintf("liquids[%d].", i)
		if empty(at, "liquid", "percent") {
			continue
		}
		one, ok := liquid.BySlug(f.Get(at + "liquid"))
		if !ok {
			f.Problems.Add(at+"liquid", "choose the liquid")
			continue
		}
		row("liquids", i, len(fm.Liquids))
		fm.Liquids = append(fm.Liquids, recipe.Liquid{Liquid: one, Percent: f.Number(at + "percent"), Carries: f.Get(at+"carries_lye") == "on", Frozen: f.Get(at+"frozen") == "on"})
	}
	for i := range rows(f.Values, "additives") {
		at := fmt.Sprintf("additives[%d].", i)
		if empty(at, "name", "rate.value") {
			continue
		}
		row("additives", i, len(fm.Additives))
		u := additive.Use{Name: f.Get(at + "name"), Stage: additive.Stage(f.Get(at + "stage")), Basis: additive.Basis(f.Get(at + "rate.basis")), Rate: f.Number(at + "rate.value"), Density: 1, Behaviour: additive.Behaviour(f.Get(at + "behaviour"))}
		known, ok := additive.Find(u.Name)
		if ok {
			u.Density, u.Lye = known.Density, known.Lye
			if u.Basis.Spoons() {
				u.GramsPerTsp = known.GramsPerTsp
			}
		}
		u.Density = ifTyped(f, at+"density_g_per_ml", f.Number, u.Density)
		if u.Basis.Spoons() {
			u.GramsPerTsp = ifTyped(f, at+"rate.grams_per_tsp", f.Number, u.GramsPerTsp)
		}
		fm.Additives = append(fm.Additives, u)
	}
	problems := f.Problems
	if len(problems) == 0 { // an unread number would only be reported twice
		for _, p := range fm.Check() {
			if at := placed(place, p.Path); problems.At(at) == "" {
				problems.Add(at, "%s", p.Text)
			}
		}
	}
	return shop.RecipeBody{Formula: fm, Policy: f.Get("policy"), Notes: f.Get("notes")}, problems
}

// readFat reads the fat of a row: one of the table as it is typed, or an own
// one with its figures.
func readFat(f *Form, at string) (fat.Fat, bool) {
	name := f.Get(at + "fat")
	one, err := fat.Find(name)
	if err == nil {
		one.SAP = ifTyped(f, at+"sap_koh_mg_per_g", f.Number, one.SAP)
		one.Density = ifTyped(f, at+"density_g_per_ml", f.Number, one.Density)
		return one, true
	}
	if name == "" || f.Get(at+"sap_koh_mg_per_g") == "" {
		f.Problems.Add(at+"fat", "%s; or give its own figures beside it", err)
		return one, false
	}
	return fat.NewOwn(name, f.Number(at+"sap_koh_mg_per_g"), f.Number(at+"density_g_per_ml"), f.Get(at+"like")), true
}

// fromGrams turns shares that were typed as weights into percentages.
func fromGrams(f *Form, b fat.Blend, weighed int) {
	switch {
	case weighed == 0:
		return
	case weighed < len(b):
		f.Problems.Add("fats", "%d of the fats have a weight and %d a percentage; type all of them the same way", weighed, len(b)-weighed)
		return
	}
	total := b.Sum(func(fat.Fat) bool { return true })
	for i := range b {
		if total > 0 {
			b[i].Percent *= 100 / total
		}
	}
}

// placed turns the path of a problem into the name of its field.
func placed(place map[string]string, path string) string {
	if to, ok := place[path]; ok {
		if strings.HasSuffix(to, "]") {
			return to + "." + nameField(path)
		}
		return to
	}
	if i := strings.Index(path, "]"); i >= 0 {
		if to, ok := place[path[:i+1]]; ok {
			return to + path[i+1:]
		}
	}
	return path
}

// nameField is the field of a row that a problem with the whole row belongs to.
func nameField(path string) string {
	switch {
	case strings.HasPrefix(path, "fats"):
		return "fat"
	case strings.HasPrefix(path, "liquids"):
		return "liquid"
	}
	return "name"
}

// recipeAnswers is what a recipe comes to, for the size it is shown at.
type recipeAnswers struct {
	OK       bool
	Problems caution.Problems
	Size     float64 // g of fats
	Amounts  recipe.Amounts
	Plan     plan.Plan
	Ways     map[string]float64
	Basis    string
	Fats     []plan.Row // with the names of the fats
	Rows     []plan.Row // additives
	Solid    float64
	Blend    draw.Blend
	Superfat float64
	Cure     cure.Policy
	Unmold   cure.Window
	Cautions []caution.Caution
	Judged   []recipe.Outlook
	Acids    draw.Acids
	Swap     *swapAnswer
}

// answersFor works the recipe out for the size that the form shows.
func answersFor(f *Form, body shop.RecipeBody) recipeAnswers {
	size, err := unit.Mass(f.Get("size"), f.System.MassUnit())
	if err != nil || size <= 0 {
		size = 1000
	}
	a := recipeAnswers{Size: size, Problems: f.Problems, Basis: string(body.Formula.Water.Basis)}
	if len(f.Problems) > 0 {
		return a
	}
	p, err := plan.Make(plan.Request{Formula: body.Formula, Rule: plan.Computed, LiquidC: lye.RoomC, Target: plan.Target{FatsG: size}})
	if err != nil {
		a.Problems = asProblems(err)
		return a
	}
	a.OK, a.Plan, a.Amounts, a.Superfat = true, p, body.Formula.For(size), p.Superfat
	a.Ways = map[string]float64{}
	for basis, v := range a.Amounts.SaySame() {
		a.Ways[string(basis)] = v
	}
	for i, s := range body.Formula.Fats {
		a.Fats = append(a.Fats, plan.Row{Name: s.Fat.Name, Grams: a.Amounts.Fats[i]})
	}
	a.Rows, a.Cautions = p.Additives, p.Cautions
	a.Solid, a.Blend = body.Formula.Fats.Solid(), draw.OfBlend(body.Formula.Fats)
	a.Swap = swapFor(f, body)
	o := body.Formula.Judge()
	a.Judged, a.Acids = o.All(), draw.OfAcids(o.Groups)
	a.Cure, a.Unmold = body.Cure(), cure.Unmold(body.Formula, "lined")
	return a
}

func asProblems(err error) caution.Problems {
	if p, ok := err.(caution.Problems); ok {
		return p
	}
	return caution.Problems{{Text: err.Error()}}
}
