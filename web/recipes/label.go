package recipes

import (
	"net/http"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/label"
	"ashshelf/soap/unit"
	"ashshelf/web/page"
)

// labelPage is what would stand on the label of a recipe's bar.
type labelPage struct {
	Form      *page.Form
	Recipe    catalog.Recipe
	Path      string
	Styles    []page.Option
	Colours   []page.Option
	Additives []string // what an allergen can be declared of
	Answered  bool
	Label     label.Label
}

func (s *Room) label(w http.ResponseWriter, r *http.Request) error {
	one, _, err := s.kept(r)
	if err != nil {
		return err
	}
	p := labelPage{
		Form: &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}, Recipe: one, Path: "/recipes/" + one.OID + "/label",
		Colours: []page.Option{{Value: label.ColoursByNumber, Label: "by number"}, {Value: label.ColoursByName, Label: "by name"}},
	}
	for _, style := range label.Styles() {
		p.Styles = append(p.Styles, page.Option{Value: string(style), Label: style.Words()})
	}
	for _, u := range one.Formula.Uses() {
		if !slices.Contains(p.Additives, u.Name) {
			p.Additives = append(p.Additives, u.Name)
		}
	}
	known, err := s.Shop.LabelRequest(r.Context(), one.Formula, one.SizeG, 0)
	if err != nil {
		return err
	}
	for name, usual := range map[string]string{
		"style": string(known.Style), "colours": known.Colours, "allergens": label.DeclaredWords(known.Allergens),
		"loss": unit.Trim(cure.UsualLoss(one.Formula, nil), 1),
	} {
		if !p.Form.Values.Has(name) {
			p.Form.Set(name, usual)
		}
	}
	q := labelRequest(one, p.Form)
	q.Quiet, q.ByAdded, q.Named = known.Quiet, known.ByAdded, known.Named
	if p.Label, err = label.Make(q); err == nil {
		p.Answered = len(p.Form.Problems) == 0
	} else if err = atFields(p.Form, err); err != nil {
		return err
	}
	p.Label.Claims = label.Read(p.Form.Get("words")) // they are read whatever else is amiss
	return s.Show(w, r, http.StatusOK, "label", "On the label of "+one.Name, "Recipes", nil, p)
}

// labelRequest reads what is asked for from the fields.
func labelRequest(one catalog.Recipe, f *page.Form) label.Request {
	q := label.Request{
		Formula: one.Formula, Fats: one.SizeG, Style: label.Style(f.Get("style")), Colours: f.Get("colours"), DryingLoss: f.Number("loss"),
		Words: f.Get("words"),
	}
	declared, problems := label.ReadDeclared(f.Get("allergens"))
	for _, problem := range problems {
		f.Problems.Add("allergens", "%s: %s", problem.Path, problem.Text)
	}
	q.Allergens = declared
	return q
}

// atFields puts the problems of a label at the fields of the page; what is of the recipe itself stands
// on top of it.
func atFields(f *page.Form, err error) error {
	problems, ok := err.(caution.Problems)
	if !ok {
		return err
	}
	for _, problem := range problems {
		field, _, _ := strings.Cut(problem.Path, "[")
		switch {
		case field == "drying_loss_percent":
			field = "loss"
		case strings.HasPrefix(field, "recipe"):
			field = "recipe"
		}
		f.Problems.Add(field, "%s", problem.Text)
	}
	return nil
}
