package web

import (
	"bytes"
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
	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

// kept finds the revision that a request names: by number in the address or in
// the query, else the newest.
func (s *Server) kept(w http.ResponseWriter, r *http.Request) (one shop.Recipe, history []shop.Recipe, ok bool) {
	history, err := s.shop.RecipeHistory(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		s.fail(w, r, err)
		return one, nil, false
	}
	number := cmp.Or(chi.URLParam(r, "number"), r.URL.Query().Get("revision"))
	for _, one := range history {
		if number == "" || strconv.Itoa(one.Number) == number {
			return one, history, true
		}
	}
	s.notFound(w, r)
	return one, nil, false
}

// sizeOf reads the weight of fats that a paper is wanted for.
func sizeOf(r *http.Request) (grams float64, problem string) {
	text := r.URL.Query().Get("size")
	if text == "" {
		return usualSize, ""
	}
	return readSize(text, sessionOf(r).System)
}

// usualSize is the weight of fats in g that a recipe is shown for where none is said.
const usualSize = 1000.0

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
func (s *Server) revision(w http.ResponseWriter, r *http.Request) {
	one, history, ok := s.kept(w, r)
	if !ok {
		return
	}
	size, problem := sizeOf(r)
	f := &Form{Values: url.Values{"size": {cmp.Or(r.URL.Query().Get("size"), "1000 g")}}, System: sessionOf(r).System}
	answers, sheet, strength := recipeAnswers{}, []plan.Section(nil), ""
	if problem != "" {
		f.Problems.Add("size", "%s", problem)
		answers.Problems.Add("size", "for that weight of fats: %s", problem)
	} else {
		answers, sheet = answersOf(one.RecipeBody, size), sheetFor(one.Formula, size)
		strength = unit.Trim(one.Formula.For(size).SaySame()[recipe.LyeStrength], 1)
	}
	s.show(w, r, http.StatusOK, "revision", one.Name, "Recipes", nil, struct {
		shop.Recipe
		Form    *Form
		Answers recipeAnswers
		Blend   draw.Blend
		Sheet   []plan.Section
		Latest  int
		Facts   []fact

		Strength string
	}{one, f, answers, draw.OfBlend(one.Formula.Fats), sheet, history[0].Number, processFacts(one.RecipeBody, f.System), strength})
}

// fact is one line of what a card says of the process.
type fact struct{ Name, Words string }

// processFacts says how a recipe is made; what it leaves open is left out.
func processFacts(b shop.RecipeBody, sys unit.System) []fact {
	var out []fact
	add := func(name, words string, said bool) {
		if said {
			out = append(out, fact{name, words})
		}
	}
	pr := b.Formula.Process
	add("Made as", pr.Kind.Words(), pr.Kind != "")
	add("Working temperature", b.Formula.School.Words(), true)
	add("Lye at", unit.FormatTemperature(pr.LyeC, sys), pr.LyeC != 0)
	add("Fats at", unit.FormatTemperature(pr.FatsC, sys), pr.FatsC != 0)
	add("Pour at trace", pr.Trace.Words(), pr.Trace != "")
	add("Gel", pr.Gel.Words(), pr.Gel != "")
	add("Afterwards", pr.Cover.Words(), pr.Cover != "")
	add("Mold", materialWords(pr.Material), pr.Material != "")
	w := cure.Unmold(b.Formula, materialOf(b.Formula))
	add("Unmold", fmt.Sprintf("%s to %s h after the pour: %s", unit.Trim(w.Opens.Hours(), 1), unit.Trim(w.Closes.Hours(), 1), w.Why), true)
	c := b.Cure()
	add("Cure", fmt.Sprintf("%s, at least %d days", c.Name, c.Days), true)
	return out
}

// cardStep is what a card is rounded to, in g, whatever the shop's scale reads:
// it hangs on the wall for years.
const cardStep = 0.1

// sheetFor is the order of the work for a weight of fats; it is empty for what
// cannot be made.
func sheetFor(f recipe.Formula, size float64) []plan.Section {
	r := plan.Request{Formula: f, Rule: plan.Computed, LiquidC: lye.RoomC, Scales: plan.Scales{Resolution: cardStep}, Target: plan.Target{FatsG: size}}
	p, err := plan.Make(r)
	if err != nil {
		return nil
	}
	return plan.Sheet(r, p)
}

// download sends a file that write makes.
func (s *Server) download(w http.ResponseWriter, r *http.Request, name, kind string, write func(io.Writer) error) {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="%s"`, name))
	if _, err := b.WriteTo(w); err != nil {
		s.log.Debug("download", "path", r.URL.Path, "err", err)
	}
}

// fileName makes a name that every system takes.
func fileName(name, ending string) string {
	var b strings.Builder
	for _, c := range strings.ToLower(name) {
		if c >= 'a' && c <= 'z' || c >= '0' && c <= '9' {
			b.WriteRune(c)
		} else if n := b.Len(); n > 0 && b.String()[n-1] != '-' {
			b.WriteByte('-')
		}
	}
	return cmp.Or(strings.Trim(b.String(), "-"), "recipe") + ending
}

func asFile(one shop.Recipe) exchange.Recipe {
	return exchange.Recipe{Formula: one.Formula, Notes: one.Notes, Policy: one.Policy, Tags: one.Tags}
}

func (s *Server) recipeFile(w http.ResponseWriter, r *http.Request) {
	if one, _, ok := s.kept(w, r); ok {
		s.download(w, r, fileName(one.Name, ".json"), "application/json", func(w io.Writer) error { return exchange.WriteRecipe(w, asFile(one)) })
	}
}

func (s *Server) blendFile(w http.ResponseWriter, r *http.Request) {
	if one, _, ok := s.kept(w, r); ok {
		size, problem := sizeOf(r)
		if problem != "" { // the card says what is wrong with it
			seeOther(w, r, fmt.Sprintf("/recipes/%s/revisions/%d?%s", one.OID, one.Number, url.Values{"size": {r.URL.Query().Get("size")}}.Encode()))
			return
		}
		s.download(w, r, fileName(one.Name, ".csv"), "text/csv; charset=utf-8", func(w io.Writer) error { return exchange.WriteBlend(w, one.Formula, size) })
	}
}

func (s *Server) bookFile(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	all := make([]exchange.Recipe, len(list))
	for i, one := range list {
		all[i] = asFile(one)
	}
	s.download(w, r, "recipes.json", "application/json", func(w io.Writer) error { return exchange.WriteBook(w, all) })
}

// importPage takes recipes in: first it shows what a file holds, then it puts
// them into the book.
type importPage struct {
	Form  *Form
	Found []found
	Same  []Option
	Clash bool // some name is in the book already
}

// found is a recipe of a file before it is taken in.
type found struct {
	Name  string
	Blend draw.Blend
	Have  bool // a recipe of that name is in the book
}

func (s *Server) importRecipes(w http.ResponseWriter, r *http.Request) {
	s.showImport(w, r, http.StatusOK, &Form{Values: url.Values{}}, nil, nil)
}

func (s *Server) showImport(w http.ResponseWriter, r *http.Request, status int, f *Form, list []exchange.Recipe, notice *caution.Caution) {
	p := importPage{Form: f, Same: options(shop.Sames())}
	have, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
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
	s.show(w, r, status, "import", "Take recipes in", "Recipes", notice, p)
}

// takeIn reads the file or the pasted text. The text stays on the page, so that
// nothing is sent twice from a disk that may be gone.
func (s *Server) takeIn(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	if file, _, err := r.FormFile("file"); err == nil {
		text, err := io.ReadAll(file)
		if err != nil {
			s.fail(w, r, fmt.Errorf("read the file: %w", err))
			return
		}
		f.Set("text", string(text))
	} else if !errors.Is(err, http.ErrMissingFile) && !errors.Is(err, http.ErrNotMultipart) {
		s.fail(w, r, fmt.Errorf("read the file: %w", err))
		return
	}
	list, err := exchange.ReadRecipes(strings.NewReader(f.Get("text")))
	if err != nil {
		status, notice, ok := s.refused(w, r, err, nil)
		if ok {
			f.Problems.Add("text", "%s", strings.Join(strings.Split(err.Error(), "\n"), "; "))
			s.showImport(w, r, status, f, nil, notice)
		}
		return
	}
	if r.PostFormValue("do") != "take" {
		s.showImport(w, r, http.StatusOK, f, list, nil)
		return
	}
	bodies := make([]shop.RecipeBody, len(list))
	for i, one := range list {
		bodies[i] = shop.RecipeBody{Formula: one.Formula, Policy: one.Policy, Notes: one.Notes, Tags: one.Tags}
	}
	if err = s.shop.TakeIn(r.Context(), act(r), bodies, shop.Same(f.Get("same"))); err != nil {
		if status, notice, ok := s.refused(w, r, err, f); ok {
			s.showImport(w, r, status, f, list, notice)
		}
		return
	}
	seeOther(w, r, "/recipes")
}

// checkPage recomputes a recipe from elsewhere.
type checkPage struct {
	Form    *Form
	Finding *recipe.Finding
	Fats    []plan.Row
}

func (s *Server) checkForeign(w http.ResponseWriter, r *http.Request) {
	f := &Form{Values: r.URL.Query(), System: sessionOf(r).System}
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
	s.show(w, r, http.StatusOK, "check", "Check a recipe from elsewhere", "Recipes", nil, p)
}

func readForeign(f *Form) recipe.Foreign {
	usual := lye.DefaultAlkali()
	out := recipe.Foreign{Alkali: lye.Alkali{NaOHPercent: ifTyped(f, "naoh_percent", f.Number, usual.NaOHPercent),
		NaOHPurity: ifTyped(f, "naoh_purity_percent", f.Number, usual.NaOHPurity), KOHPurity: ifTyped(f, "koh_purity_percent", f.Number, usual.KOHPurity)}}
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
func (s *Server) takeForeign(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	foreign := readForeign(f)
	if len(f.Problems) > 0 {
		seeOther(w, r, "/recipes/check?"+f.Values.Encode())
		return
	}
	total := 0.0
	for _, one := range foreign.Fats {
		total += one.Percent
	}
	form := recipeForm(newFormula(), stores{System: f.System})
	form.Set("alkali.naoh_percent", unit.Trim(foreign.Alkali.NaOHPercent, 2))
	form.Set("size", unit.Trim(total, 1)+" g")
	for i, one := range foreign.Fats {
		form.Set(fmt.Sprintf("fats[%d].fat", i), one.Fat.Name)
		form.Set(fmt.Sprintf("fats[%d].percent", i), unit.Trim(one.Percent, 2)+" g")
	}
	b := newBench(store.Recipes, newToken())
	if _, err := s.saveCopy(r, b, form); err != nil {
		s.fail(w, r, err)
		return
	}
	seeOther(w, r, b.Path)
}

// comparePage lays two revisions side by side.
type comparePage struct {
	Form  *Form
	A, B  shop.Recipe
	Lines []recipe.Difference
	Size  float64
	Picks []Option
	Path  string
	BlA   draw.Blend
	BlB   draw.Blend
	Words [][3]string // what to expect of each
}

func (s *Server) compare(w http.ResponseWriter, r *http.Request) {
	one, history, ok := s.kept(w, r)
	if !ok {
		return
	}
	others, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	p := comparePage{Form: &Form{Values: r.URL.Query(), System: sessionOf(r).System}, Path: "/recipes/" + one.OID + "/compare"}
	byKey := map[string]shop.Recipe{}
	pick := func(rec shop.Recipe, label string) {
		key := fmt.Sprintf("%s.%d", rec.OID, rec.Number)
		byKey[key] = rec
		p.Picks = append(p.Picks, Option{key, label})
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
	size, problem := sizeOf(r)
	if p.Size = size; problem != "" {
		p.Form.Problems.Add("size", "%s", problem)
	}
	if p.Form.Get("size") == "" {
		p.Form.Set("size", "1000 g")
	}
	if problem == "" {
		p.Lines = recipe.Compare(p.A.Formula, p.B.Formula, size)
	}
	p.BlA, p.BlB = draw.OfBlend(p.A.Formula.Fats), draw.OfBlend(p.B.Formula.Fats)
	x, y := p.A.Formula.Judge().All(), p.B.Formula.Judge().All()
	for i := range x {
		p.Words = append(p.Words, [3]string{x[i].Name, x[i].Words, y[i].Words})
	}
	s.show(w, r, http.StatusOK, "compare", "Side by side", "Recipes", nil, p)
}
