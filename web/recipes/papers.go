package recipes

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// kept finds the revision that a request names: by number in the address or in
// the query, else the newest.
func (s *Room) kept(r *http.Request) (one catalog.Recipe, history []catalog.Recipe, err error) {
	history, err = s.Shop.RecipeHistory(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return one, nil, err
	}
	number := cmp.Or(chi.URLParam(r, "number"), r.URL.Query().Get("revision"))
	for _, one := range history {
		if number == "" || strconv.Itoa(one.Number) == number {
			return one, history, nil
		}
	}
	return one, nil, store.ErrNotFound
}

// sizeOf reads the weight of fats that a paper is wanted for: what is asked, else what the recipe was
// written for.
func sizeOf(r *http.Request, kept float64) (typed string, grams float64, problem string) {
	sys := page.SessionOf(r).System
	if typed = r.URL.Query().Get("size"); typed == "" {
		typed = openingSize(kept, sys)
	}
	grams, problem = readSize(typed, sys)
	return typed, grams, problem
}

// openingSize is the weight of fats that a recipe opens at, as it stands in a field: that which it was
// written for, or a usual one.
func openingSize(kept float64, sys unit.System) string {
	if kept > 0 {
		return unit.FieldMass(kept, sys)
	}
	return page.UsualSize(sys)
}

// readSize reads a weight of fats. What is not understood is no weight: nothing is
// shown for it, least of all for another one.
func readSize(text string, sys unit.System) (grams float64, problem string) {
	g, err := unit.Mass(text, sys.MassUnit())
	switch {
	case err != nil:
		return 0, err.Error()
	case g <= 0 || g > 1e6:
		return 0, "give a weight of fats above zero, and below a tonne"
	}
	return g, ""
}

// revision shows a kept revision as it was; its print is the card for the
// binder.
func (s *Room) revision(w http.ResponseWriter, r *http.Request) error {
	one, history, err := s.kept(r)
	if err != nil {
		return err
	}
	typed, size, problem := sizeOf(r, one.SizeG)
	sys := page.SessionOf(r).System
	f := &page.Form{Values: url.Values{"size": {typed}}, System: sys}
	answers, sheet, strength := recipeAnswers{}, []plan.Section(nil), ""
	if problem != "" {
		f.Problems.Add("size", "%s", problem)
		answers.Problems.Add("size", "for that weight of fats: %s", problem)
	} else {
		answers, sheet = answersOf(one.RecipeBody, size, page.SessionOf(r).System), sheetFor(one.Formula, size)
		strength = unit.Trim(one.Formula.AmountsFor(size).EquivalentWater()[recipe.LyeStrength], 1)
	}
	return s.Show(w, r, http.StatusOK, "revision", one.Name, "Recipes", nil, struct {
		catalog.Recipe
		Form    *page.Form
		Answers recipeAnswers
		Blend   draw.Blend
		Sheet   []plan.Section
		Latest  int
		Facts   []page.Fact

		Strength string
	}{one, f, answers, draw.OfBlend(one.Formula.Fats), sheet, history[0].Number,
		page.ProcessFacts(one.RecipeBody, cure.Expected(one.Formula), f.System), strength})
}

// cardStep is what a card is rounded to, in g, whatever the shop's scale reads:
// it hangs on the wall for years.
const cardStep = 0.1

// sheetFor is the order of the work for a weight of fats; it is empty for what
// cannot be made.
func sheetFor(f recipe.Formula, size float64) []plan.Section {
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: lye.RoomC,
		Scales:  plan.Scales{Resolution: cardStep},
		Target:  plan.Target{FatsG: size},
	}
	p, err := plan.Make(r)
	if err != nil {
		return nil
	}
	return plan.Sheet(r, p)
}

func asFile(one catalog.Recipe) exchange.Recipe {
	return exchange.Recipe{
		Formula: one.Formula, Notes: one.Notes, Policy: one.Policy, Tags: one.Tags, SizeG: one.SizeG, Weighed: one.InWeights,
	}
}

func (s *Room) recipeFile(w http.ResponseWriter, r *http.Request) error {
	one, _, err := s.kept(r)
	if err != nil {
		return err
	}
	return s.Download(
		w,
		r,
		page.FileName(one.Name, ".json"),
		"application/json",
		func(w io.Writer) error { return exchange.WriteRecipe(w, asFile(one)) },
	)
}

func (s *Room) blendFile(w http.ResponseWriter, r *http.Request) error {
	one, _, err := s.kept(r)
	if err != nil {
		return err
	}
	_, size, problem := sizeOf(r, one.SizeG)
	if problem != "" { // the card says what is wrong with it
		query := url.Values{"size": {r.URL.Query().Get("size")}}
		return page.SeeOther(w, r, fmt.Sprintf("/recipes/%s/revisions/%d?%s", one.OID, one.Number, query.Encode()))
	}
	return s.Download(
		w,
		r,
		page.FileName(one.Name, ".csv"),
		"text/csv; charset=utf-8",
		func(w io.Writer) error { return exchange.WriteBlend(w, one.Formula, size) },
	)
}

func (s *Room) bookFile(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Recipes(r.Context())
	if err != nil {
		return err
	}
	all := make([]exchange.Recipe, len(list))
	for i, one := range list {
		all[i] = asFile(one)
	}
	return s.Download(w, r, "recipes.json", "application/json", func(w io.Writer) error { return exchange.WriteBook(w, all) })
}

// importPage takes recipes in: first it shows what a file holds, then it puts
// them into the book.
type importPage struct {
	Form  *page.Form
	Found []found
	Same  []page.Option
	Clash bool // some name is in the book already
}

// found is a recipe of a file before it is taken in.
type found struct {
	Name  string
	Blend draw.Blend
	Have  bool // a recipe of that name is in the book
}

func (s *Room) importRecipes(w http.ResponseWriter, r *http.Request) error {
	return s.showImport(w, r, http.StatusOK, &page.Form{Values: url.Values{}}, nil, nil)
}

func (s *Room) showImport(
	w http.ResponseWriter,
	r *http.Request,
	status int,
	f *page.Form,
	list []exchange.Recipe,
	notice *caution.Caution,
) error {
	p := importPage{Form: f, Same: page.Options(catalog.OnDuplicates())}
	have, err := s.Shop.Recipes(r.Context())
	if err != nil {
		return err
	}
	names := map[string]bool{}
	for _, one := range have {
		names[strings.ToLower(one.Name)] = true
	}
	for _, one := range list {
		row := found{one.Formula.Name, draw.OfBlend(one.Formula.Fats), names[strings.ToLower(one.Formula.Name)]}
		p.Clash = p.Clash || row.Have
		p.Found = append(p.Found, row)
	}
	return s.Show(w, r, status, "import", "Import recipes", "Recipes", notice, p)
}

// importBook reads the file or the pasted text. The text stays on the page, so that
// nothing is sent twice from a disk that may be gone.
func (s *Room) importBook(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if file, _, err := r.FormFile("file"); err == nil {
		text, err := io.ReadAll(file)
		if err != nil {
			return fmt.Errorf("read the file: %w", err)
		}
		f.Set("text", string(text))
	} else if !errors.Is(err, http.ErrMissingFile) && !errors.Is(err, http.ErrNotMultipart) {
		return fmt.Errorf("read the file: %w", err)
	}
	list, err := exchange.ReadRecipes(strings.NewReader(f.Get("text")))
	if err != nil {
		status, notice, fault := s.Refused(w, r, err, nil)
		if fault != nil {
			return fault
		}
		f.Problems.Add("text", "%s", strings.Join(strings.Split(err.Error(), "\n"), "; "))
		return s.showImport(w, r, status, f, nil, notice)
	}
	if r.PostFormValue("do") != "take" {
		return s.showImport(w, r, http.StatusOK, f, list, nil)
	}
	bodies := make([]document.RecipeBody, len(list))
	for i, one := range list {
		bodies[i] = document.RecipeBody{
			Formula: one.Formula, Policy: one.Policy, Notes: one.Notes, Tags: one.Tags, SizeG: one.SizeG, InWeights: one.Weighed,
		}
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/recipes", s.Shop.ImportRecipes(r.Context(), page.Act(r), bodies, catalog.OnDuplicate(f.Get("same")))
	}, func(status int, notice *caution.Caution) error {
		return s.showImport(w, r, status, f, list, notice)
	})
}

// checkPage recomputes a recipe from elsewhere.
type checkPage struct {
	Form    *page.Form
	Finding *recipe.Finding
	Fats    []plan.Row
}

func (s *Room) checkForeign(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	p := checkPage{Form: f}
	if f.Get("fats") != "" || f.Get("lye") != "" {
		foreign := readForeign(f)
		for _, one := range foreign.Fats {
			p.Fats = append(p.Fats, plan.Row{Name: one.Fat.Name, Grams: one.Percent})
		}
		if len(f.Problems) == 0 {
			got, err := foreign.Check()
			if err != nil {
				f.Problems = asProblems(err)
			} else {
				p.Finding = &got
			}
		}
	}
	for _, name := range []string{"naoh_percent", "naoh_purity_percent", "koh_purity_percent"} {
		if f.Get(name) == "" {
			f.Set(name, map[string]string{"naoh_percent": "100", "naoh_purity_percent": "100", "koh_purity_percent": "90"}[name])
		}
	}
	return s.Show(w, r, http.StatusOK, "check", "Check a recipe from elsewhere", "Recipes", nil, p)
}

func readForeign(f *page.Form) recipe.Foreign {
	usual := lye.DefaultAlkali()
	out := recipe.Foreign{Alkali: lye.Alkali{NaOHPercent: page.IfTyped(f, "naoh_percent", f.Number, usual.NaOHPercent),
		NaOHPurity: page.IfTyped(
			f,
			"naoh_purity_percent",
			f.Number,
			usual.NaOHPurity,
		), KOHPurity: page.IfTyped(f, "koh_purity_percent", f.Number, usual.KOHPurity)}}
	fats, problems := recipe.ReadFats(f.Get("fats"))
	out.Fats = fats
	f.Problems = append(f.Problems, problems...)
	if f.Get("lye") == "" {
		f.Problems.Add("lye", "type the lye that the recipe states, such as 142 g")
	} else {
		out.LyeG = f.Mass("lye")
	}
	return out
}

// takeForeign writes the fats of a recipe from elsewhere onto a new bench,
// where the lye is worked out anew.
func (s *Room) takeForeign(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	foreign := readForeign(f)
	if len(f.Problems) > 0 {
		return page.SeeOther(w, r, "/recipes/check?"+f.Values.Encode())
	}
	total := 0.0
	for _, one := range foreign.Fats {
		total += one.Percent
	}
	form := recipeForm(newFormula(), stores{System: f.System})
	form.Set("alkali.naoh_percent", unit.Trim(foreign.Alkali.NaOHPercent, 2))
	form.Set("size", unit.FieldMass(total, f.System))
	for i, one := range foreign.Fats {
		form.Set(fmt.Sprintf("fats[%d].fat", i), one.Fat.Name)
		form.Set(fmt.Sprintf("fats[%d].percent", i), unit.FieldMass(one.Percent, f.System))
	}
	b := page.NewEditor(store.Recipes, page.NewToken())
	if _, err := s.KeepTyped(r, b.Typed, form); err != nil {
		return err
	}
	return page.SeeOther(w, r, b.Path)
}

// comparePage lays two revisions side by side.
type comparePage struct {
	Form  *page.Form
	A, B  catalog.Recipe
	Lines []recipe.Difference
	Size  float64
	Picks []page.Option
	Path  string
	BlA   draw.Blend
	BlB   draw.Blend
	Lives []*draw.Picture // nil of what is no bar
	Words [][3]string     // what to expect of each
}

func (s *Room) compare(w http.ResponseWriter, r *http.Request) error {
	one, history, err := s.kept(r)
	if err != nil {
		return err
	}
	others, err := s.Shop.Recipes(r.Context())
	if err != nil {
		return err
	}
	p := comparePage{
		Form: &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System},
		Path: "/recipes/" + one.OID + "/compare",
	}
	byKey := map[string]catalog.Recipe{}
	pick := func(rec catalog.Recipe, label string) {
		key := fmt.Sprintf("%s.%d", rec.OID, rec.Number)
		byKey[key] = rec
		p.Picks = append(p.Picks, page.Option{Value: key, Label: label})
	}
	for _, rec := range history {
		pick(rec, fmt.Sprintf("%s, revision %d", rec.Name, rec.Number))
	}
	for _, rec := range others {
		if rec.OID != one.OID {
			pick(rec, rec.Name)
		}
	}
	a, b := p.Form.Get("a"), p.Form.Get("b")
	if _, ok := byKey[a]; !ok {
		a = p.Picks[min(1, len(history)-1)].Value
	}
	if _, ok := byKey[b]; !ok {
		b = p.Picks[0].Value
		if a == b && len(p.Picks) > 1 {
			b = p.Picks[1].Value
		}
	}
	p.A, p.B = byKey[a], byKey[b]
	p.Form.Set("a", a)
	p.Form.Set("b", b)
	typed, size, problem := sizeOf(r, p.B.SizeG)
	if p.Size = size; problem != "" {
		p.Form.Problems.Add("size", "%s", problem)
	}
	p.Form.Set("size", typed)
	if problem == "" {
		p.Lines = recipe.Compare(p.A.Formula, p.B.Formula, size)
	}
	p.Lives = []*draw.Picture{lifeOf(p.A.RecipeBody), lifeOf(p.B.RecipeBody)}
	p.BlA, p.BlB = draw.OfBlend(p.A.Formula.Fats), draw.OfBlend(p.B.Formula.Fats)
	x, y := p.A.Formula.Judge().All(), p.B.Formula.Judge().All()
	for i := range x {
		p.Words = append(p.Words, [3]string{x[i].Name, x[i].Words, y[i].Words})
	}
	return s.Show(w, r, http.StatusOK, "compare", "Side by side", "Recipes", nil, p)
}
