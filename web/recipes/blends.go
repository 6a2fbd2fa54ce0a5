package recipes

import (
	"cmp"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/fat"
	"ashshelf/soap/material"
	"ashshelf/soap/recipe"
	"ashshelf/soap/reformulate"
	"ashshelf/soap/unit"
	"ashshelf/web/page"
)

// blendsPage asks for another blend for the same bar, and shows those that there are beside the one that it is.
type blendsPage struct {
	page.Editor
	Form    *page.Form
	Name    string
	Wishes  []page.Option
	Gone    []page.Option
	Asked   bool
	Columns []blendColumn // the first is as it is
	Fats    []blendLine
	Groups  []blendLine
	Rows    []blendLine
	Near    bool // it is only the nearest
	None    string
	Unknown []string // fats whose price is not known, where price is asked for
}

// blendColumn is one blend.
type blendColumn struct {
	Title string
	Value string   // as it is taken over; empty for the one that it is
	Binds []string // what stands in the way
}

// blendLine is a line of the table, with a cell for each blend.
type blendLine struct {
	What  string
	Cells []blendCell
}

type blendCell struct {
	Text   string
	Strong bool // it is other than it was
}

// blendsAt is a recipe with the blend that a page is about: its draft, or its newest revision.
func (s *Room) blendsAt(r *http.Request) (page.Opened[catalog.Recipe], recipe.Formula, stores, error) {
	k, err := s.stores(r)
	if err != nil {
		return page.Opened[catalog.Recipe]{}, recipe.Formula{}, k, err
	}
	o, err := page.OpenEditor(s.Kit, r, s.recipeDocuments(k))
	if err != nil {
		return o, recipe.Formula{}, k, err
	}
	body, problems := readRecipe(o.Form, k)
	if problems.Err() != nil {
		o.Form.Problems = caution.Problems{{Path: "blend", Text: "first mend on the bench what is marked there"}}
	}
	return o, body.Formula, k, nil
}

func (s *Room) blends(w http.ResponseWriter, r *http.Request) error {
	o, formula, _, err := s.blendsAt(r)
	if err != nil {
		return err
	}
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System, Problems: o.Form.Problems}
	p := blendsPage{Editor: o.Editor, Form: f, Name: o.Form.Get("name"), Asked: f.Get("wish") != "" && len(f.Problems) == 0}
	for _, wish := range reformulate.Wishes() {
		p.Wishes = append(p.Wishes, page.Option{Value: string(wish), Label: unit.Capital(wish.Words())})
	}
	p.Gone = append(p.Gone, page.Option{Value: "", Label: "choose"})
	for _, one := range formula.Fats {
		p.Gone = append(p.Gone, page.Option{Value: one.Fat.Key(), Label: one.Fat.Name})
	}
	status := http.StatusOK
	if p.Asked {
		if err := s.solveBlends(r, &p, formula); err != nil {
			return err
		}
	}
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	}
	if f.Get("band") == "" {
		f.Set("band", unit.Trim(reformulate.UsualBand, 1))
	}
	return s.Show(w, r, status, "blends", "Another blend for the same bar", "Recipes", nil, p)
}

// solveBlends asks for the blends and lays them beside the one that it is.
func (s *Room) solveBlends(r *http.Request, p *blendsPage, formula recipe.Formula) error {
	q := reformulate.Request{Blend: formula.Fats, Wish: reformulate.Wish(p.Form.Get("wish")), Gone: p.Form.Get("gone"),
		Band: reformulate.UsualBand, Marks: marksToKeep(formula.Fats)}
	if p.Form.Get("band") != "" {
		q.Band = p.Form.Number("band")
	}
	if p.Form.Get("grams") != "" {
		q.Grams = p.Form.Mass("grams")
	}
	if len(p.Form.Problems) > 0 {
		p.Asked = false
		return nil
	}
	var err error
	if q.Choices, err = s.Shop.FatChoices(r.Context(), formula.Fats, p.Form.Get("table") == "on"); err != nil {
		return err
	}
	if err := q.Check(); err != nil {
		p.Form.Problems, p.Asked = err, false
		return nil
	}
	answer, err := reformulate.Solve(q)
	if err != nil {
		p.Form.Problems.Add("blend", "no way could be worked out: ask for a wider band, or for fewer fats")
		p.Asked = false
		return nil
	}
	prices, err := s.Shop.Prices(r.Context())
	if err != nil {
		return err
	}
	if q.Wish == reformulate.Cheapest {
		for _, c := range q.Choices {
			if c.Price < 0 && p.Form.Get("table") == "" {
				p.Unknown = append(p.Unknown, c.Fat.Name)
			}
		}
	}
	p.None = answer.None
	ways := answer.Ways
	if answer.Near != nil {
		ways, p.Near = []reformulate.Way{*answer.Near}, true
	}
	if len(ways) > 0 {
		p.beside(formula, q, ways, prices.Currency)
	}
	return nil
}

// marksToKeep are the origins that a blend has none of, nor any of which nobody knows: another one gets none, either.
func marksToKeep(b fat.Blend) (out []material.Mark) {
	for _, m := range []material.Mark{material.Animal, material.Palm} {
		if !slices.ContainsFunc(b, func(s fat.Share) bool { return s.Fat.From() == m || s.Fat.From() == material.NotKnown }) {
			out = append(out, m, material.NotKnown)
		}
	}
	return out
}

// beside lays the ways beside the blend that it is.
func (p *blendsPage) beside(formula recipe.Formula, q reformulate.Request, ways []reformulate.Way, currency string) {
	price := func(b fat.Blend) float64 {
		sum := 0.0
		for _, s := range b {
			i := slices.IndexFunc(q.Choices, func(c reformulate.Choice) bool { return c.Fat.Key() == s.Fat.Key() })
			if i < 0 || q.Choices[i].Price < 0 {
				return -1
			}
			sum += s.Percent / 100 * q.Choices[i].Price
		}
		return sum
	}
	blends := []fat.Blend{formula.Fats}
	p.Columns = []blendColumn{{Title: "as it is"}}
	for _, w := range ways {
		blends = append(blends, w.Blend)
		c := blendColumn{Title: w.Title, Value: blendValue(w.Blend)}
		for _, b := range w.Binds {
			text := b.What
			if b.Saves > 0.5 {
				text += ": a point more would save " + cost.Format(int64(math.Round(b.Saves)), currency) + " a kilo"
			}
			c.Binds = append(c.Binds, text)
		}
		p.Columns = append(p.Columns, c)
	}
	p.fats(blends)
	for g, group := range ways[0].Groups {
		line := blendLine{What: group.Name, Cells: []blendCell{{Text: unit.Trim(group.Was, 1)}}}
		for _, w := range ways {
			line.Cells = append(line.Cells, blendCell{unit.Trim(w.Groups[g].Is, 1), w.Groups[g].Beyond})
		}
		p.Groups = append(p.Groups, line)
	}
	p.rows(formula, blends, price, currency)
}

// fats are the shares, line by line: those of the blend that it is first.
func (p *blendsPage) fats(blends []fat.Blend) {
	var names []string
	share := make([]map[string]float64, len(blends))
	for i, b := range blends {
		share[i] = map[string]float64{}
		for _, s := range b {
			share[i][s.Fat.Name] += s.Percent
			if !slices.Contains(names, s.Fat.Name) {
				names = append(names, s.Fat.Name)
			}
		}
	}
	for _, name := range names {
		line := blendLine{What: name}
		for i := range blends {
			cell := blendCell{Strong: math.Abs(share[i][name]-share[0][name]) > 0.05}
			if v := share[i][name]; v > 0 {
				cell.Text = unit.Trim(v, 1) + " %"
			}
			line.Cells = append(line.Cells, cell)
		}
		p.Fats = append(p.Fats, line)
	}
}

// rows are what comes of each blend: lye, pace, bar, life and price.
func (p *blendsPage) rows(formula recipe.Formula, blends []fat.Blend, price func(fat.Blend) float64, currency string) {
	const kilo = 1000.0
	lines := []blendLine{}
	set := func(n int, what, text string) {
		for len(lines) <= n {
			lines = append(lines, blendLine{})
		}
		lines[n].What = what
		lines[n].Cells = append(lines[n].Cells, blendCell{text, len(lines[n].Cells) > 0 && text != lines[n].Cells[0].Text})
	}
	for _, b := range blends {
		f := formula
		f.Fats = b
		a := f.AmountsFor(kilo)
		alkali, grams := "NaOH for a kilo of fats", a.NaOH
		if formula.Potash() {
			alkali, grams = "KOH for a kilo of fats", a.KOH
		}
		set(0, alkali, unit.FormatWeighed(grams, 1, p.Form.System))
		n := 1
		for _, o := range f.Judge().All() {
			set(n, o.Name, o.Words)
			n++
		}
		text := "not known"
		if v := price(b); v >= 0 {
			text = cost.Format(int64(math.Round(v)), currency)
		}
		set(n, "A kilo of fats costs", text)
	}
	p.Rows = lines
}

// blendValue writes a blend as it is taken over.
func blendValue(b fat.Blend) string {
	parts := make([]string, 0, len(b))
	for _, s := range b {
		parts = append(parts, s.Fat.Key()+"="+unit.Trim(s.Percent, 2))
	}
	return strings.Join(parts, ";")
}

// readBlend reads it back, with the fats of the blend that it is for those that are the owner's own.
func readBlend(text string, was fat.Blend) (out fat.Blend, ok bool) {
	for part := range strings.SplitSeq(text, ";") {
		key, percent, found := strings.Cut(part, "=")
		share, err := strconv.ParseFloat(percent, 64)
		if !found || err != nil || !(share > 0 && share <= 100) {
			return nil, false
		}
		one, known := fat.BySlug(key)
		if i := slices.IndexFunc(was, func(s fat.Share) bool { return s.Fat.Key() == key }); i >= 0 {
			one, known = was[i].Fat, true // with figures that were typed for it
		}
		if !known {
			return nil, false
		}
		out = append(out, fat.Share{Fat: one, Percent: share})
	}
	return out, len(out) > 0
}

// takeBlend makes a blend that was found the one of the draft, and leads to it.
func (s *Room) takeBlend(w http.ResponseWriter, r *http.Request) error {
	o, formula, k, err := s.blendsAt(r)
	if err != nil {
		return err
	}
	blend, ok := readBlend(r.PostFormValue("blend"), formula.Fats)
	if !ok || len(o.Form.Problems) > 0 {
		return page.SeeOther(w, r, o.Path+"/blends")
	}
	setBlend(o.Form, blend, k, true)
	o.Form.Set("note", cmp.Or(o.Form.Get("note"), "another blend for the same bar"))
	if _, err := s.Shop.SaveDraft(r.Context(), page.Typing(r), o.Typed, r.PostFormValue("tab"), o.Base, o.Form.Values); err != nil {
		return err
	}
	return page.SeeOther(w, r, o.Path+"#fats")
}
