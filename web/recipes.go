package web

import (
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"slices"
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
	"ashshelf/soap/material"
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

// recipeList is the book with what it is searched for.
type recipeList struct {
	Form  *Form
	Cards []recipeCard
	Lives []Option
	Tags  []string
	All   int
}

func (s *Server) recipes(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	p := recipeList{Form: &Form{Values: r.URL.Query()}, Lives: append([]Option{{"", "in use"}, {"all", "all, also retired"}}, options(recipe.Lives())...), All: len(list)}
	q := shop.RecipeQuery{Text: p.Form.Get("q"), Life: p.Form.Get("life")}
	for _, one := range list {
		for _, t := range one.Tags {
			if !slices.Contains(p.Tags, t) {
				p.Tags = append(p.Tags, t)
			}
		}
		if q.Matches(one) {
			p.Cards = append(p.Cards, recipeCard{one, draw.OfBlend(one.Formula.Fats), one.Cure()})
		}
	}
	slices.Sort(p.Tags)
	s.show(w, r, http.StatusOK, "recipes", "Recipes", "Recipes", nil, p)
}

// newFormula is what an empty bench starts from.
func newFormula() shop.RecipeBody {
	return shop.RecipeBody{Formula: recipe.Formula{
		Superfat: 5, Alkali: lye.DefaultAlkali(), Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}}
}

// freshRecipe is an empty bench, or one with a variant of another recipe.
func (s *Server) freshRecipe(r *http.Request, k stores) (*Form, error) {
	from := r.URL.Query().Get("from")
	if from == "" {
		return recipeForm(newFormula(), k), nil
	}
	history, err := s.shop.RecipeHistory(r.Context(), from)
	if err != nil {
		return nil, err
	}
	body := history[0].RecipeBody
	body.Formula.Name += " variant"
	f := recipeForm(body, k)
	f.Set("parent", from)
	return f, nil
}

// recipeBench is the page of a recipe on the bench.
type recipeBench struct {
	bench
	Form       *Form
	Answers    recipeAnswers
	Fats       []fatRow
	Liquids    []liquidRow
	Additives  []useRow
	Parts      []partRow
	Portions   []portionRow
	Design     []string
	Infusions  []string
	History    []shop.Recipe
	Choices    recipeChoices
	Blend      []Option // the fats in the blend, to swap or infuse one
	PortionsOf []Option // to pour
	Dirty      bool
	Dual       bool // both alkalis
	Life       recipe.Life
	Lives      []Option
}

// fatRow is a row of the blend on the bench.
type fatRow struct {
	At        string // "fats[0]"
	LookAlike string
	Own       bool // its own figures are shown
	Figures   bool // there are some
}

func fatRows(f *Form) []fatRow {
	var out []fatRow
	for _, at := range prefixes(f, "fats", 2) {
		row := fatRow{At: at}
		one, err := fat.Find(f.Get(at + ".fat"))
		if err == nil {
			row.LookAlike = fat.Names(one.Slug).LookAlike
		}
		row.Figures = !blank(f, at+".", ownFat...)
		row.Own = err != nil && f.Get(at+".fat") != "" || row.Figures
		ownedBy(f, at, "fat", row.Figures)
		out = append(out, row)
	}
	return out
}

// ownedBy notes what own figures of a row were typed for, where that is not noted yet.
func ownedBy(f *Form, at, field string, figures bool) {
	if figures && f.Get(at+".of") == "" {
		f.Set(at+".of", f.Get(at+"."+field))
	}
}

// liquidRow is a row of the liquids, with what the table says of it.
type liquidRow struct {
	At  string
	Ref liquid.Liquid
	Own bool
}

func liquidRows(f *Form) []liquidRow {
	var out []liquidRow
	for _, at := range prefixes(f, "liquids", 1) {
		ref, _ := liquid.BySlug(f.Get(at + ".liquid"))
		out = append(out, liquidRow{at, ref, !blank(f, at+".", "water_percent", "fat_percent", "fat_sap_koh_mg_per_g", "boil_down")})
	}
	return out
}

// useRow is a row of the additives or of a portion's colorants.
type useRow struct {
	At                     string
	SpoonText, DensityText string // what counts where nothing is typed
	Own                    bool   // its rarer figures are shown
	Figures                bool   // there are some
	LyeText                string
	Portion                bool
	Form                   *Form
	Choices                *recipeChoices
}

func useRows(f *Form, list string, least int, k stores, c *recipeChoices) []useRow {
	var out []useRow
	for _, at := range prefixes(f, list, least) {
		name := f.Get(at + ".name")
		row := useRow{At: at, SpoonText: "weigh it", DensityText: "1", Form: f, Choices: c, Portion: strings.HasPrefix(list, "portions"), Figures: !blank(f, at+".", ownUse...), LyeText: "none"}
		ownedBy(f, at, "name", row.Figures)
		row.Own = row.Figures || !blank(f, at+".", "disperse.in") || f.Err(at+".rate.grams_per_tsp") != ""
		if takes, _, ask := additive.Acid(name); takes > 0 {
			row.LyeText = unit.Trim(takes, 4)
		} else if ask {
			row.LyeText, row.Own = "ask", true
		}
		if g := k.spoon(name); g > 0 {
			row.SpoonText = unit.Trim(g, 2)
		}
		row.DensityText = unit.Trim(densityOf(name), 2)
		out = append(out, row)
	}
	return out
}

// partRow is a row of the scent.
type partRow struct {
	At    string
	Known *additive.Scent // of the shop's stores; nil when its figures are typed here

	Figures bool // some are typed
}

func partRows(f *Form, k stores) []partRow {
	var out []partRow
	for _, at := range prefixes(f, "scent.parts", 1) {
		row := partRow{At: at, Figures: !blank(f, at+".", ownScent...)}
		ownedBy(f, at, "name", row.Figures)
		if one, ok := k.scent(f.Get(at + ".name")); ok {
			row.Known = &one
		}
		out = append(out, row)
	}
	return out
}

// portionRow is a colour portion with its colorants.
type portionRow struct {
	At        string
	Colorants []useRow
}

func portionRows(f *Form, k stores, c *recipeChoices) []portionRow {
	var out []portionRow
	for _, at := range prefixes(f, "portions", 0) {
		out = append(out, portionRow{at, useRows(f, at+".colorants", 1, k, c)})
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
	ScentStages, MaxOfs, Tones, Acts                      []Option
	Kinds, Traces, Gels, Covers, Materials                []Option
	Known                                                 []additive.Known
	Marks                                                 []Option // where an own material comes from
	Names                                                 []Option // of fats, with what each stands for
	Likes                                                 []Option
	Scents                                                []Option
	Carriers                                              []Option // what a powder can be stirred into
}

func choicesOfRecipe(k stores) recipeChoices {
	open := func(word string, o []Option) []Option { return append([]Option{{"", word}}, o...) }
	c := recipeChoices{Likes: []Option{{"", "nothing of the table"}}, Stages: append([]Option{{"", "when it usually does"}}, options(additive.Stages())...), Bases: options(additive.Bases()), Behaviours: options(additive.Behaviours()), Schools: options(recipe.Schools()),
		Policies: []Option{{"", "recommended from the blend"}}, Known: additive.Reference(), Liquids: []Option{{"", "choose a liquid"}},
		ScentStages: options(additive.ScentStages()), MaxOfs: options(additive.MaxOfs()), Tones: options(recipe.Tones()), Acts: open("choose a step", options(recipe.Acts())),
		Kinds: open("not said", options(recipe.Kinds())), Traces: open("not said", options(recipe.Traces())), Gels: open("not said", options(recipe.Gels())), Covers: open("not said", options(recipe.Covers())), Materials: []Option{{"", "not said"}}, Marks: options(material.Marks())}
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
	c.Policies = append(c.Policies, Option{ownPolicy, "a rule of our own, in days"})
	for _, m := range shop.Materials() {
		c.Materials = append(c.Materials, Option{m.Code, m.Words})
	}
	for _, s := range k.Scents {
		c.Scents = append(c.Scents, Option{s.Scent.Label(), s.Scent.Behaviour().Verb()})
	}
	return c
}

func (s *Server) recipeBook(k stores) book[shop.Recipe] {
	return book[shop.Recipe]{store.Recipes, s.shop.RecipeHistory, func(r shop.Recipe) int { return r.Number },
		func(r shop.Recipe, _ unit.System) *Form { return recipeForm(r.RecipeBody, k) },
		func(r *http.Request) (*Form, error) { return s.freshRecipe(r, k) }}
}

func (s *Server) recipe(w http.ResponseWriter, r *http.Request) {
	k, err := s.stores(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	o, ok := openBench(s, w, r, s.recipeBook(k))
	if !ok {
		return
	}
	if note := r.URL.Query().Get("note"); note != "" && o.form.Get("note") == "" {
		o.form.Set("note", note) // what a lot says to change next time
	}
	body, problems := readRecipe(o.form, k)
	o.form.Problems = problems
	if o.OID != "" && !o.stale && len(problems) == 0 && reflect.DeepEqual(body, o.history[0].RecipeBody) {
		o.notice, o.dirty = nil, false // only the size it is shown for was typed
	}
	s.showRecipe(w, r, http.StatusOK, o, body, k)
}

func (s *Server) showRecipe(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Recipe], body shop.RecipeBody, k stores) {
	f := o.form
	title := f.Get("name")
	if title == "" {
		title = "A new recipe"
	}
	answers := answersFor(f, body)
	for basis, text := range answers.Fills() { // the ways that were not typed follow
		if basis != answers.Basis {
			f.Set("water."+basis, text)
		}
	}
	c := choicesOfRecipe(k)
	p := recipeBench{
		bench: o.bench, Form: f, Answers: answers, History: o.history, Choices: c, Dirty: o.dirty, Dual: body.Formula.Alkali.NaOHPercent < 100,
		Fats: fatRows(f), Liquids: liquidRows(f), Parts: partRows(f, k), Additives: useRows(f, "additives", 1, k, &c), Portions: portionRows(f, k, &c),
		Design: prefixes(f, "design", 0), Infusions: prefixes(f, "infusions", 0), Lives: options(recipe.Lives()),
		Blend: blendOptions(body), PortionsOf: []Option{{"", "the batter"}},
	}
	c.Carriers = append([]Option{{"", "nothing: dry, or as it is"}, {additive.InWater, "water"}}, p.Blend[1:]...)
	if len(body.Formula.Portions) > 0 {
		p.PortionsOf = nil
	}
	for _, one := range body.Formula.Portions {
		p.PortionsOf = append(p.PortionsOf, Option{one.Name, one.Name})
	}
	if len(o.history) > 0 {
		p.Life = o.history[0].Life
	}
	s.show(w, r, status, "recipe", title, "Recipes", o.notice, p)
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
	k, err := s.stores(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	b := benchOf(r, store.Recipes)
	other, err := s.saveCopy(r, b, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	body, problems := readRecipe(f, k)
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
	return append(out, "fats", "liquids", "scent", "scent.parts", "portions")
}

// keepRecipe makes a revision; its other buttons add and remove rows, reckon
// with the rows, say where the recipe is in its life, or throw the working copy
// away.
func (s *Server) keepRecipe(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	k, err := s.stores(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	do, what, _ := strings.Cut(r.PostFormValue("do"), " ")
	switch do {
	case "add", "remove", "up":
		b := benchOf(r, store.Recipes)
		list := editRows(f, do, what)
		if _, err := s.saveCopy(r, b, f); err != nil {
			s.fail(w, r, err)
			return
		}
		seeOther(w, r, b.Path+"#"+url.PathEscape(list))
		return
	case "clear", "own":
		b := benchOf(r, store.Recipes)
		settleOwn(f, do, what)
		if _, err := s.saveCopy(r, b, f); err != nil {
			s.fail(w, r, err)
			return
		}
		seeOther(w, r, b.Path+"#"+fieldID(what))
		return
	case "balance", "swap", "split":
		s.reckon(w, r, f, k, do)
		return
	}
	body, problems := readRecipe(f, k)
	o, status, ok := keepBench(s, w, r, s.recipeBook(k), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepRecipe(r.Context(), act(ending(r, b.Typed)), b.OID, b.Base, body, f.Get("note"), f.Get("parent"))
	})
	if ok {
		s.showRecipe(w, r, status, o, body, k)
	}
}

// settleOwn clears the own figures of a row, or says that they are of what it is
// named now.
func settleOwn(f *Form, do, row string) {
	name := f.Get(row + ".name")
	if name == "" {
		name = f.Get(row + ".fat")
	}
	f.Set(row+".of", name)
	if do == "clear" {
		for _, field := range ownOfRow(row) {
			f.Values.Del(row + "." + field)
		}
	}
}

// recipeLife says where a recipe is in its life.
func (s *Server) recipeLife(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	oid := chi.URLParam(r, "oid")
	err := s.shop.SetLife(r.Context(), act(r), oid, postedBase(r), recipe.Life(f.Get("life")))
	if err == nil {
		seeOther(w, r, "/recipes/"+oid)
		return
	}
	status, notice, ok := s.refused(w, r, err, f)
	if !ok {
		return
	}
	if notice == nil {
		notice = &caution.Caution{Level: caution.Warn, Reason: capital(err.Error()) + "."}
	}
	k, err := s.stores(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if o, ok := openBench(s, w, r, s.recipeBook(k)); ok {
		body, problems := readRecipe(o.form, k)
		o.form.Problems, o.notice = problems, notice
		s.showRecipe(w, r, status, o, body, k)
	}
}

// editRows adds, removes or raises a row, such as "fats" or
// "portions[0].colorants[2]", and returns the list to go back to.
func editRows(f *Form, do, what string) (list string) {
	if do == "add" {
		if n := rows(f.Values, what); n < mostRows {
			f.Set(fmt.Sprintf("%s[%d].name", what, n), "")
		}
	} else if open := strings.LastIndex(what, "["); open > 0 {
		row := what[open+1:]
		if i, err := strconv.Atoi(strings.TrimSuffix(row, "]")); err == nil && i >= 0 {
			if do == "up" {
				raiseRow(f.Values, what[:open], i)
			} else {
				removeRow(f.Values, what[:open], i)
			}
		}
	}
	section, _, _ := strings.Cut(what, "[")
	section, _, _ = strings.Cut(section, ".")
	return section
}

// reckon brings the shares of the fats to 100, swaps a fat, or splits the liquid
// between what carries the lye and what is kept off it, and shows the bench as
// it is then.
func (s *Server) reckon(w http.ResponseWriter, r *http.Request, f *Form, k stores, do string) {
	b := benchOf(r, store.Recipes)
	body, _ := readRecipe(f, k)
	blend := body.Formula.Fats
	held := make([]bool, 0, len(blend))
	for i := range rows(f.Values, "fats") {
		if at := fmt.Sprintf("fats[%d].", i); f.Get(at+"fat") != "" || f.Get(at+"percent") != "" {
			held = append(held, f.Get(at+"held") == "on")
		}
	}
	var err error
	switch {
	case do == "split":
		err = splitLiquid(f, body)
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
	if err == nil && do != "split" {
		written := recipeForm(shop.RecipeBody{Formula: recipe.Formula{Fats: blend}}, k)
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
		section := "fats"
		if do == "split" {
			section = "liquids"
		}
		seeOther(w, r, b.Path+"#"+section)
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
	body, f.Problems = readRecipe(f, k)
	s.showRecipe(w, r, http.StatusUnprocessableEntity, o, body, k)
}

// splitLiquid writes the split of the liquid into the rows of the form.
func splitLiquid(f *Form, body shop.RecipeBody) error {
	if len(body.Formula.Liquids) == 0 || len(body.Formula.Fats) == 0 {
		return fmt.Errorf("first name the fats and the liquids")
	}
	percents, err := body.Formula.Split()
	if err != nil {
		return fmt.Errorf("%s", asProblems(err)[0].Text)
	}
	kept := 0
	for i := range rows(f.Values, "liquids") {
		at := fmt.Sprintf("liquids[%d].", i)
		if blank(f, at, "liquid", "percent") {
			continue
		}
		if kept < len(percents) {
			f.Set(at+"percent", unit.Trim(percents[kept], 2))
		}
		kept++
	}
	return nil
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

// recipesRoutes are the addresses of the book of recipes.
func (s *Server) recipesRoutes(r chi.Router) {
	r.Get("/recipes", s.recipes)
	r.Get("/recipes/new", startNew(store.Recipes))
	for _, at := range []string{"/recipes/{oid}", "/recipes/new/{token}"} {
		r.Get(at, s.recipe)
		r.Post(at+"/live", s.recipeLive)
		r.Post(at, s.keepRecipe)
	}
	r.Get("/recipes/book.json", s.bookFile)
	r.Get("/recipes/import", s.importRecipes)
	r.Post("/recipes/import", s.takeIn)
	r.Get("/recipes/check", s.checkForeign)
	r.Post("/recipes/check", s.takeForeign)
	r.Post("/recipes/{oid}/life", s.recipeLife)
	r.Get("/recipes/{oid}/compare", s.compare)
	r.Get("/recipes/{oid}/recipe.json", s.recipeFile)
	r.Get("/recipes/{oid}/blend.csv", s.blendFile)
	r.Get("/recipes/{oid}/revisions/{number}", s.revision)
	r.Get("/recipes/{oid}/card", s.revision)
}
