package recipes

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
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
	"ashshelf/web/page"
)

// recipeCard is a recipe in the book.
type recipeCard struct {
	catalog.Recipe
	Blend draw.Blend
	Cure  cure.Policy
}

// recipeList is the book with what it is searched for.
type recipeList struct {
	Form  *page.Form
	Cards []recipeCard
	Lives []page.Option
	Tags  []string
	All   int
}

func (s *Room) recipes(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Recipes(r.Context())
	if err != nil {
		return err
	}
	p := recipeList{
		Form: &page.Form{Values: r.URL.Query()},
		Lives: append(
			[]page.Option{{Value: "", Label: "in use"}, {Value: "all", Label: "all, also retired"}},
			page.Options(recipe.Lives())...),
		All: len(list),
	}
	q := catalog.RecipeQuery{Text: p.Form.Get("q"), Life: p.Form.Get("life")}
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
	return s.Show(w, r, http.StatusOK, "recipes", "Recipes", "Recipes", nil, p)
}

// newFormula is what an empty bench starts from.
func newFormula() document.RecipeBody {
	return document.RecipeBody{Formula: recipe.Formula{
		Superfat: 5, Alkali: lye.DefaultAlkali(), Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}}
}

// freshRecipe is an empty bench, or one with a variant of another recipe.
func (s *Room) freshRecipe(r *http.Request, k stores) (*page.Form, error) {
	from := r.URL.Query().Get("from")
	if from == "" {
		return recipeForm(newFormula(), k), nil
	}
	history, err := s.Shop.RecipeHistory(r.Context(), from)
	if err != nil {
		return nil, err
	}
	body := history[0].RecipeBody
	body.Formula.Name += " variant"
	f := recipeForm(body, k)
	f.Set("parent", from)
	return f, nil
}

// recipePage is the page of a recipe on the bench.
type recipePage struct {
	page.Editor
	Form       *page.Form
	Answers    recipeAnswers
	Fats       []fatRow
	Liquids    []liquidRow
	Additives  []useRow
	Parts      []partRow
	Portions   []portionRow
	Design     []string
	Infusions  []string
	History    []catalog.Recipe
	Choices    recipeChoices
	Blend      []page.Option // the fats in the blend, to swap or infuse one
	PortionsOf []page.Option // to pour
	Dirty      bool
	Dual       bool // both alkalis
	Paste      bool // of potash alone
	Life       recipe.Life
	Lives      []page.Option
}

// Unfolded reports whether a part of the bench stands open: something is in it, or wrong in it. What a
// recipe does not need stays folded.
func (p recipePage) Unfolded(part string) bool {
	typed := func(names ...string) bool {
		return slices.ContainsFunc(names, func(n string) bool { return p.Form.Get(n) != "" || p.Form.Err(n) != "" })
	}
	some := func(rows int, list string, names ...string) bool {
		for i := range rows {
			at := fmt.Sprintf("%s[%d].", list, i)
			if !page.Blank(p.Form, at, names...) || p.Form.Err(at+names[0]) != "" {
				return true
			}
		}
		return rows > 1
	}
	switch part {
	case "additives":
		return some(len(p.Additives), "additives", "name", "rate.value")
	case "scent":
		return typed("scent", "scent.rate_percent_of_fats", "scent.parts", "scent.portions", "scent.bottle",
			"scent.over_maximum_because") || some(len(p.Parts), "scent.parts", "name", "percent")
	case "portions":
		return len(p.Portions)+len(p.Design) > 0 || typed("portions")
	case "infusions":
		return len(p.Infusions) > 0
	case "process":
		return typed("dilution", "process.kind", "process.lye_c", "process.fats_c", "process.trace", "process.gel",
			"process.cover", "process.mold", "process.unmold_from_h", "process.unmold_until_h", "dilution.soap_percent",
			"policy", "own_days", "own_check_day", "notes", "tags") || p.Paste
	}
	return true
}

// fatRow is a row of the blend on the bench.
type fatRow struct {
	At        string // "fats[0]"
	LookAlike string
	Own       bool // its own figures are shown
	Figures   bool // there are some
}

func fatRows(f *page.Form) []fatRow {
	var out []fatRow
	for _, at := range page.Prefixes(f, "fats", 2) {
		row := fatRow{At: at}
		one, err := fat.Find(f.Get(at + ".fat"))
		if err == nil {
			row.LookAlike = fat.Names(one.Slug).LookAlike
		}
		row.Figures = !page.Blank(f, at+".", ownFat...)
		row.Own = err != nil && f.Get(at+".fat") != "" || row.Figures
		ownedBy(f, at, "fat", row.Figures)
		out = append(out, row)
	}
	return out
}

// ownedBy notes what own figures of a row were typed for, where that is not noted yet.
func ownedBy(f *page.Form, at, field string, figures bool) {
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

func liquidRows(f *page.Form) []liquidRow {
	var out []liquidRow
	for _, at := range page.Prefixes(f, "liquids", 1) {
		ref, _ := liquid.BySlug(f.Get(at + ".liquid"))
		out = append(
			out,
			liquidRow{at, ref, !page.Blank(f, at+".", "water_percent", "fat_percent", "fat_sap_koh_mg_per_g", "lye_g_per_g", "boil_down")},
		)
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
	Form                   *page.Form
	Choices                *recipeChoices
}

func useRows(f *page.Form, list string, least int, k stores, c *recipeChoices) []useRow {
	var out []useRow
	for _, at := range page.Prefixes(f, list, least) {
		name := f.Get(at + ".name")
		row := useRow{
			At:          at,
			SpoonText:   "weigh it",
			DensityText: "1",
			Form:        f,
			Choices:     c,
			Portion:     strings.HasPrefix(list, "portions"),
			Figures:     !page.Blank(f, at+".", ownUse...),
			LyeText:     "none",
		}
		ownedBy(f, at, "name", row.Figures)
		row.Own = row.Figures || !page.Blank(f, at+".", "disperse.in") || f.Err(at+".rate.grams_per_tsp") != ""
		if takes, _, ask := additive.Acid(name); takes > 0 {
			row.LyeText = unit.Trim(takes, 4)
		} else if ask {
			row.LyeText, row.Own = "ask", true
		}
		if g := k.spoon(name); g > 0 {
			row.SpoonText = unit.Trim(g, 2)
		}
		row.DensityText = unit.Trim(additive.UsualDensity(name), 2)
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

func partRows(f *page.Form, k stores) []partRow {
	var out []partRow
	for _, at := range page.Prefixes(f, "scent.parts", 1) {
		row := partRow{At: at, Figures: !page.Blank(f, at+".", ownScent...)}
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

func portionRows(f *page.Form, k stores, c *recipeChoices) []portionRow {
	var out []portionRow
	for _, at := range page.Prefixes(f, "portions", 0) {
		out = append(out, portionRow{at, useRows(f, at+".colorants", 1, k, c)})
	}
	return out
}

func blendOptions(body document.RecipeBody) []page.Option {
	out := []page.Option{{Value: "", Label: "choose"}}
	for _, s := range body.Formula.Fats {
		out = append(out, page.Option{Value: s.Fat.Key(), Label: s.Fat.Name})
	}
	return out
}

type recipeChoices struct {
	Liquids, Stages, Bases, Policies, Behaviours, Schools []page.Option
	Waters                                                []page.Option
	ScentStages, MaxOfs, Tones, Acts                      []page.Option
	Kinds, Traces, Gels, Covers, Materials                []page.Option
	Known                                                 []additive.Known
	Marks                                                 []page.Option // where an own material comes from
	Names                                                 []page.Option // of fats, with what each stands for
	Likes                                                 []page.Option
	Scents                                                []page.Option
	Carriers                                              []page.Option // what a powder can be stirred into
	AlkaliBys                                             []page.Option
}

func choicesOfRecipe(k stores) recipeChoices {
	open := func(word string, o []page.Option) []page.Option {
		return append([]page.Option{{Value: "", Label: word}}, o...)
	}
	c := recipeChoices{
		Likes:      []page.Option{{Value: "", Label: "nothing of the table"}},
		Stages:     append([]page.Option{{Value: "", Label: "when it usually does"}}, page.Options(additive.Stages())...),
		Bases:      page.Options(additive.Bases()),
		Behaviours: page.Options(additive.Behaviours()),
		Schools:    page.Options(recipe.Schools()),
		Waters:     waterBases,
		Policies: []page.Option{
			{Value: "", Label: "recommended from the blend"},
		},
		AlkaliBys: []page.Option{
			{Value: "", Label: "by what it saponifies"},
			{Value: byWeight, Label: "by weight"},
		},
		Known:   additive.Reference(),
		Liquids: []page.Option{{Value: "", Label: "choose a liquid"}},
		ScentStages: page.Options(
			additive.ScentStages(),
		),
		MaxOfs: page.Options(additive.MaxOfs()),
		Tones:  page.Options(recipe.Tones()),
		Acts:   open("choose a step", page.Options(recipe.Acts())),
		Kinds: open(
			"not said",
			page.Options(recipe.Kinds()),
		),
		Traces:    open("not said", page.Options(recipe.Traces())),
		Gels:      open("not said", page.Options(recipe.Gels())),
		Covers:    open("not said", page.Options(recipe.Covers())),
		Materials: []page.Option{{Value: "", Label: "not said"}},
		Marks:     page.Options(material.Marks()),
	}
	for _, f := range fat.Reference() {
		c.Likes = append(c.Likes, page.Option{Value: f.Slug, Label: f.Name})
		c.Names = append(c.Names, page.Option{Value: f.Name, Label: strings.Join(fat.Names(f.Slug).Synonyms, ", ")})
		for _, n := range fat.Names(f.Slug).Synonyms {
			c.Names = append(c.Names, page.Option{Value: n, Label: f.Name})
		}
	}
	for _, l := range liquid.Reference() {
		c.Liquids = append(c.Liquids, page.Option{Value: l.Slug, Label: l.Name})
	}
	for _, p := range cure.Policies() {
		c.Policies = append(c.Policies, page.Option{Value: p.Code, Label: fmt.Sprintf("%s (%d days)", p.Name, p.Days)})
	}
	c.Policies = append(c.Policies, page.Option{Value: ownPolicy, Label: "a rule of our own, in days"})
	for _, m := range document.Materials() {
		c.Materials = append(c.Materials, page.Option{Value: m.Code, Label: m.Words})
	}
	for _, s := range k.Scents {
		c.Scents = append(c.Scents, page.Option{Value: s.Scent.Label(), Label: s.Scent.Behaviour().Verb()})
	}
	return c
}

func (s *Room) recipeDocuments(k stores) page.Documents[catalog.Recipe] {
	return page.Documents[catalog.Recipe]{
		Kind:    store.Recipes,
		History: s.Shop.RecipeHistory,
		Number:  func(r catalog.Recipe) int { return r.Number },
		Form:    func(r catalog.Recipe, _ unit.System) *page.Form { return recipeForm(r.RecipeBody, k) },
		Fresh:   func(r *http.Request) (*page.Form, error) { return s.freshRecipe(r, k) },
	}
}

func (s *Room) recipe(w http.ResponseWriter, r *http.Request) error {
	k, err := s.stores(r)
	if err != nil {
		return err
	}
	o, err := page.OpenEditor(s.Kit, r, s.recipeDocuments(k))
	if err != nil {
		return err
	}
	if note := r.URL.Query().Get("note"); note != "" && o.Form.Get("note") == "" {
		o.Form.Set("note", note) // what a lot says to change next time
	}
	if name, rate := r.URL.Query().Get("add"), r.URL.Query().Get("per_kg"); name != "" {
		addAdditive(o.Form, name, rate)
	}
	body, problems := readRecipe(o.Form, k)
	o.Form.Problems = problems
	if begun := !page.Blank(o.Form, "fats[0].", "fat", "percent") || !page.Blank(o.Form, "fats[1].", "fat", "percent"); o.OID == "" && !begun {
		o.Form.Problems = slices.DeleteFunc(slices.Clone(problems), func(p caution.Problem) bool { return p.Path == "fats" })
	}
	if o.OID != "" && !o.Stale && len(problems) == 0 && reflect.DeepEqual(body, o.History[0].RecipeBody) {
		o.Notice, o.Dirty = nil, false // only the size it is shown for was typed
	}
	return s.showRecipe(w, r, http.StatusOK, o, body, k)
}

// addAdditive writes what a lot was given unplanned into the rows of its recipe: over the rate of what
// is there by that name, else into a row of its own.
func addAdditive(f *page.Form, name, gramsPerKg string) {
	n := page.Rows(f.Values, "additives")
	at := n
	for i := range n {
		if was := f.Get(fmt.Sprintf("additives[%d].name", i)); strings.EqualFold(was, name) || was == "" && at == n {
			at = i
		}
	}
	f.Set(fmt.Sprintf("additives[%d].name", at), name)
	f.Set(fmt.Sprintf("additives[%d].rate.value", at), gramsPerKg)
	f.Set(fmt.Sprintf("additives[%d].rate.basis", at), string(additive.GramsPerKgFats))
}

func (s *Room) showRecipe(
	w http.ResponseWriter,
	r *http.Request,
	status int,
	o page.Opened[catalog.Recipe],
	body document.RecipeBody,
	k stores,
) error {
	f := o.Form
	title := f.Get("name")
	if title == "" {
		title = "A new recipe"
	}
	answers := answersFor(f, body)
	if err := errors.Join(s.doubt(r, &answers, body.Formula), s.cost(r, &answers, body.Formula)); err != nil {
		return err
	}
	c := choicesOfRecipe(k)
	p := recipePage{
		Editor: o.Editor, Form: f, Answers: answers, History: o.History, Choices: c, Dirty: o.Dirty,
		Dual: body.Formula.Alkali.NaOHPercent < 100, Paste: body.Formula.Potash(),
		Fats: fatRows(
			f,
		), Liquids: liquidRows(f), Parts: partRows(f, k), Additives: useRows(f, "additives", 1, k, &c), Portions: portionRows(f, k, &c),
		Design: page.Prefixes(f, "design", 0), Infusions: page.Prefixes(f, "infusions", 0), Lives: page.Options(recipe.Lives()),
		Blend: blendOptions(body), PortionsOf: []page.Option{{Value: "", Label: "the batter"}},
	}
	c.Carriers = append(
		[]page.Option{{Value: "", Label: "nothing: dry, or as it is"}, {Value: additive.InWater, Label: "water"}},
		p.Blend[1:]...)
	for _, one := range drizzleOils {
		if oil, err := fat.Find(one); err == nil {
			c.Carriers = append(c.Carriers, page.Option{Value: ownOil + one, Label: oil.Name + ", besides the batch’s"})
		}
	}
	if len(body.Formula.Portions) > 0 {
		p.PortionsOf = nil
	}
	for _, one := range body.Formula.Portions {
		p.PortionsOf = append(p.PortionsOf, page.Option{Value: one.Name, Label: one.Name})
	}
	if len(o.History) > 0 {
		p.Life = o.History[0].Life
	}
	return s.Show(w, r, status, "recipe", title, "Recipes", o.Notice, p)
}

// drizzleOils are what a powder is stirred into besides the batch's own fats, the usual first.
var drizzleOils = []string{"olive-oil", "sunflower-oil-high-oleic", "sweet-almond-oil", "rice-bran-oil"}

// wayDecimals is how finely a way to say the liquid is written.
func wayDecimals(basis string) int {
	if basis == string(recipe.LiquidToLye) {
		return 3
	}
	return 2
}

// recipeLive answers while somebody types.
func (s *Room) recipeLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Recipes).Typed)
	if err != nil {
		return err
	}
	k, err := s.stores(r)
	if err != nil {
		return err
	}
	body, problems := readRecipe(live.Form, k)
	live.Form.Problems = problems
	answers := answersFor(live.Form, body) // which finds what is wrong with the size
	if err := errors.Join(s.doubt(r, &answers, body.Formula), s.cost(r, &answers, body.Formula)); err != nil {
		return err
	}
	answers.after(r.PostFormValue("bar_life"), r.PostFormValue("bar_life_before"))
	live.Answers = answers
	return s.Render(w, r, http.StatusOK, "recipe-live", live)
}

// keepRecipe makes a revision; its other buttons add and remove rows, reckon
// with the rows, say where the recipe is in its life, or throw the draft
// away.
func (s *Room) keepRecipe(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	k, err := s.stores(r)
	if err != nil {
		return err
	}
	do, what, _ := strings.Cut(r.PostFormValue("do"), " ")
	switch do {
	case "add", "remove", "up":
		b := page.EditorOf(r, store.Recipes)
		list := page.EditRows(f, do, what)
		if _, err := s.KeepTyped(r, b.Typed, f); err != nil {
			return err
		}
		return page.SeeOther(w, r, b.Path+"#"+url.PathEscape(list))
	case "clear", "own":
		b := page.EditorOf(r, store.Recipes)
		settleOwn(f, do, what)
		if _, err := s.KeepTyped(r, b.Typed, f); err != nil {
			return err
		}
		return page.SeeOther(w, r, b.Path+"#"+page.FieldID(what))
	case "balance", "swap", "split":
		return s.reckon(w, r, f, k, do)
	}
	body, problems := readRecipe(f, k)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.recipeDocuments(k), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepRecipe(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, body, f.Get("note"), f.Get("parent"))
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showRecipe(w, r, status, o, body, k)
}

// settleOwn clears the own figures of a row, or says that they are of what it is
// named now.
func settleOwn(f *page.Form, do, row string) {
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
func (s *Room) recipeLife(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	return s.Record(w, r, f, func() (string, error) {
		return "/recipes/" + oid, s.Shop.SetLife(r.Context(), page.Act(r), oid, page.PostedBase(r), recipe.Life(f.Get("life")))
	}, func(status int, notice *caution.Caution) error {
		if notice == nil {
			notice = &caution.Caution{Level: caution.Warn, Reason: page.Capital(f.Problems.Error()) + "."}
		}
		k, err := s.stores(r)
		if err != nil {
			return err
		}
		o, err := page.OpenEditor(s.Kit, r, s.recipeDocuments(k))
		if err != nil {
			return err
		}
		body, problems := readRecipe(o.Form, k)
		o.Form.Problems, o.Notice = problems, notice
		return s.showRecipe(w, r, status, o, body, k)
	})
}

// setBlend writes a blend over the one of a form. Where it is another one, nothing stays locked.
func setBlend(f *page.Form, blend fat.Blend, k stores, another bool) {
	written := recipeForm(document.RecipeBody{Formula: recipe.Formula{Fats: blend}}, k)
	for name := range f.Values {
		if strings.HasPrefix(name, "fats[") && (another || !strings.HasSuffix(name, ".held")) {
			f.Values.Del(name)
		}
	}
	for name, v := range written.Values {
		if strings.HasPrefix(name, "fats[") {
			f.Values[name] = v
		}
	}
}

// reckon brings the shares of the fats to 100, swaps a fat, or splits the liquid
// between what carries the lye and what is kept off it, and shows the bench as
// it is then.
func (s *Room) reckon(w http.ResponseWriter, r *http.Request, f *page.Form, k stores, do string) error {
	b := page.EditorOf(r, store.Recipes)
	body, _ := readRecipe(f, k)
	blend := body.Formula.Fats
	held := make([]bool, 0, len(blend))
	for i := range page.Rows(f.Values, "fats") {
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
		setBlend(f, blend, k, do == "swap")
	}
	if _, saved := s.KeepTyped(r, b.Typed, f); saved != nil {
		return saved
	}
	if err == nil {
		section := "fats"
		if do == "split" {
			section = "liquids"
		}
		return page.SeeOther(w, r, b.Path+"#"+section)
	}
	o := page.Opened[catalog.Recipe]{
		Editor: b,
		Form:   f,
		Dirty:  true,
		Notice: &caution.Caution{Level: caution.Warn, Reason: page.Capital(err.Error()) + "."},
	}
	o.Base = page.PostedBase(r)
	if o.OID != "" {
		var fault error
		if o.History, fault = s.Shop.RecipeHistory(r.Context(), o.OID); fault != nil {
			return fault
		}
	}
	body, f.Problems = readRecipe(f, k)
	return s.showRecipe(w, r, http.StatusUnprocessableEntity, o, body, k)
}

// splitLiquid writes the split of the liquid into the rows of the form.
func splitLiquid(f *page.Form, body document.RecipeBody) error {
	if len(body.Formula.Liquids) == 0 || len(body.Formula.Fats) == 0 {
		return fmt.Errorf("first name the fats and the liquids")
	}
	percents, err := body.Formula.Split()
	if err != nil {
		return fmt.Errorf("%s", asProblems(err)[0].Text)
	}
	kept := 0
	for i := range page.Rows(f.Values, "liquids") {
		at := fmt.Sprintf("liquids[%d].", i)
		if page.Blank(f, at, "liquid", "percent") {
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
func swapFor(f *page.Form, body document.RecipeBody) *swapAnswer {
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
		x := fm.AmountsFor(1000)
		return unit.Fixed(x.NaOH+x.KOH, 1) + " g for 1000 g of fats"
	}
	a.Rows = []swapRow{{"Lye", lyeOf(body.Formula), lyeOf(after)}}
	before, then := body.Formula.Judge().All(), after.Judge().All()
	for i := range before {
		a.Rows = append(a.Rows, swapRow{before[i].Name, before[i].Words, then[i].Words})
	}
	return a
}

// RecipesRoutes are the addresses of the book of recipes.
func (s *Room) RecipesRoutes(r page.Routes) {
	r.Get("/recipes", s.recipes)
	r.Get("/recipes/new", page.StartNew(store.Recipes))
	for _, at := range []string{"/recipes/{oid}", "/recipes/new/{token}"} {
		r.Get(at, s.recipe)
		r.Post(at+"/live", s.recipeLive)
		r.Post(at, s.keepRecipe)
	}
	r.Get("/recipes/book.json", s.bookFile)
	r.Get("/recipes/import", s.importRecipes)
	r.Post("/recipes/import", s.importBook)
	r.Get("/recipes/check", s.checkForeign)
	r.Post("/recipes/check", s.takeForeign)
	r.Post("/recipes/{oid}/life", s.recipeLife)
	r.Get("/recipes/{oid}/compare", s.compare)
	r.Get("/recipes/{oid}/label", s.label)
	r.Get("/recipes/{oid}/learned", s.learned)
	r.Get("/recipes/{oid}/blends", s.blends)
	r.Post("/recipes/{oid}/blends", s.takeBlend)
	r.Get("/recipes/{oid}/recipe.json", s.recipeFile)
	r.Get("/recipes/{oid}/blend.csv", s.blendFile)
	r.Get("/recipes/{oid}/revisions/{number}", s.revision)
	r.Get("/recipes/{oid}/card", s.revision)
}
