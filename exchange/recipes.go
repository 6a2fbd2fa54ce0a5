package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// BookFormat is a whole book of recipes in one file.
const BookFormat = "ashshelf.book/1"

// Recipe is a recipe as a file carries it.
type Recipe struct {
	Formula recipe.Formula
	Notes   string
	Policy  string  // code of the cure policy; empty for the recommended one
	SizeG   float64 // weight of fats in g that it was written for; 0 for none
	Weighed bool    // its shares were typed as weights of that size
	Tags    []string
}

type bookDoc struct {
	Format  string      `json:"format"`
	Recipes []recipeDoc `json:"recipes"`
}

// ReadRecipes reads a recipe, or a whole book of them. Problems of what was
// written are of type [caution.Problems]; other errors are of reading.
func ReadRecipes(r io.Reader) ([]Recipe, error) {
	text, err := readText(r)
	if err != nil {
		return nil, err
	}
	var head struct{ Format string }
	if err := json.Unmarshal(text, &head); err != nil {
		return nil, caution.Problems{{Text: "not a recipe: " + err.Error()}}
	}
	var docs []recipeDoc
	var p caution.Problems
	switch head.Format {
	case RecipeFormat:
		var one recipeDoc
		if err := readInto(text, "recipe-1", &one); err != nil {
			return nil, err
		}
		docs = []recipeDoc{one}
	case BookFormat:
		if docs, err = readBook(text); err != nil {
			return nil, err
		}
	default:
		return nil, caution.Problems{
			{
				Path: "format",
				Text: fmt.Sprintf("“%s” is not a format of recipes; %s and %s are", head.Format, RecipeFormat, BookFormat),
			},
		}
	}
	out := make([]Recipe, len(docs))
	for i, d := range docs {
		at := ""
		if head.Format == BookFormat {
			at = fmt.Sprintf("recipes[%d].", i)
		}
		if d.Name == "" {
			p.Add(at+"name", "give the recipe a name")
		}
		out[i] = Recipe{Formula: d.formula(at, &p), Notes: d.Notes, Policy: d.Cure, Tags: d.Tags, SizeG: d.SizeG, Weighed: d.Weighed}
		if len(p) == 0 {
			for _, q := range out[i].Formula.Check() {
				p.Add(at+q.Path, "%s", q.Text)
			}
		}
		if len(p) > mostTold {
			break
		}
	}
	return out, told(p).Err()
}

// readBook reads a book recipe by recipe, up to as many problems as are told.
func readBook(text []byte) ([]recipeDoc, error) {
	var book map[string]json.RawMessage
	if err := json.Unmarshal(text, &book); err != nil {
		return nil, caution.Problems{{Text: "not a book of recipes: " + err.Error()}}
	}
	var recipes []json.RawMessage
	if raw, ok := book["recipes"]; ok && json.Unmarshal(raw, &recipes) == nil {
		book["recipes"] = json.RawMessage("[]")
	}
	head, err := json.Marshal(book)
	if err != nil {
		return nil, fmt.Errorf("book: %w", err)
	}
	if err := validate(head, "book-1"); err != nil {
		return nil, err
	}
	docs := make([]recipeDoc, len(recipes))
	var p caution.Problems
	for i, raw := range recipes {
		err := readInto(raw, "recipe-1", &docs[i])
		var found caution.Problems
		if err != nil && !errors.As(err, &found) {
			return nil, err
		}
		for _, one := range found {
			p.Add(strings.TrimSuffix(fmt.Sprintf("recipes[%d].%s", i, one.Path), "."), "%s", one.Text)
		}
		if len(p) > mostTold {
			break
		}
	}
	return docs, told(p).Err()
}

func readInto(text []byte, schema string, into any) error {
	if err := validate(text, schema); err != nil {
		return err
	}
	err := json.Unmarshal(text, into)
	var kind *json.UnmarshalTypeError
	if errors.As(err, &kind) { // a whole number may be written as 10.0 or 1e1
		if text, err = wholeNumbers(text); err == nil {
			err = json.Unmarshal(text, into)
		}
	}
	if err != nil {
		return fmt.Errorf("%s: %w", schema, err)
	}
	return nil
}

// wholeNumbers writes numbers that are whole without a point or an exponent.
func wholeNumbers(text []byte) ([]byte, error) {
	d := json.NewDecoder(bytes.NewReader(text))
	d.UseNumber()
	var all any
	if err := d.Decode(&all); err != nil {
		return nil, err
	}
	return json.Marshal(wholeIn(all))
}

func wholeIn(v any) any {
	switch v := v.(type) {
	case map[string]any:
		for k := range v {
			v[k] = wholeIn(v[k])
		}
	case []any:
		for i := range v {
			v[i] = wholeIn(v[i])
		}
	case json.Number:
		if f, err := v.Float64(); err == nil && f == math.Trunc(f) && math.Abs(f) < 1<<53 {
			return json.Number(strconv.FormatFloat(f, 'f', -1, 64))
		}
	}
	return v
}

func written(r Recipe) recipeDoc {
	f := r.Formula
	usual := lye.DefaultAlkali()
	d := recipeDoc{
		Name:     f.Name,
		Superfat: f.Superfat,
		Water:    waterDoc(f.Water),
		School:   f.School,
		Notes:    r.Notes,
		Cure:     r.Policy,
		SizeG:    r.SizeG,
		Weighed:  r.Weighed,
		Tags:     r.Tags,
	}
	if f.Alkali != usual {
		d.Alkali = &alkaliDoc{&f.Alkali.NaOHPercent, &f.Alkali.NaOHPurity, &f.Alkali.KOHPurity}
	}
	for _, s := range f.Fats {
		row := fatDoc{Percent: s.Percent, Mark: s.Fat.Mark, Certified: s.Fat.Certified, AfterCook: s.AfterCook}
		ref, known := fat.BySlug(s.Fat.Slug)
		if known {
			row.Fat = s.Fat.Slug
		} else {
			row.Name, row.Like = s.Fat.Name, s.Fat.Like
		}
		if !known || ref.SAP != s.Fat.SAP {
			row.SAP = &s.Fat.SAP
		}
		if !known || ref.Density != s.Fat.Density {
			row.Density = &s.Fat.Density
		}
		if !known {
			ref, _ = fat.BySlug(s.Fat.Like)
			ref.INCI = ""
		}
		if ref.Acids != s.Fat.Acids {
			row.Acids = &s.Fat.Acids
		}
		if ref.INCI != s.Fat.INCI {
			row.Label = s.Fat.INCI
		}
		d.Fats = append(d.Fats, row)
	}
	for _, l := range f.Liquids {
		row := liquidDoc{Liquid: l.Liquid.Slug, Percent: l.Percent, Carries: &l.Carries, Frozen: l.Frozen}
		ref, _ := liquid.BySlug(l.Liquid.Slug)
		own := func(p **float64, v, usual float64) {
			if v != usual {
				*p = &v
			}
		}
		own(&row.Water, l.Liquid.Water, ref.Water)
		own(&row.Fat, l.Liquid.Fat, ref.Fat)
		own(&row.FatSAP, l.Liquid.FatSAP, ref.FatSAP)
		own(&row.Lye, l.Liquid.Lye, ref.Lye)
		own(&row.BoilDown, l.Liquid.BoilDown, ref.BoilDown)
		d.Liquids = append(d.Liquids, row)
	}
	for _, u := range f.Additives {
		d.Additives = append(d.Additives, writtenUse(u))
	}
	d.writeMore(f)
	return d
}

// WriteRecipe writes one recipe.
func WriteRecipe(w io.Writer, r Recipe) error {
	d := written(r)
	d.Format = RecipeFormat
	return writeJSON(w, d)
}

// WriteBook writes a whole book.
func WriteBook(w io.Writer, list []Recipe) error {
	d := bookDoc{Format: BookFormat, Recipes: []recipeDoc{}}
	for _, r := range list {
		d.Recipes = append(d.Recipes, written(r))
	}
	return writeJSON(w, d)
}

func writeJSON(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

// WriteBlend writes the weights of a recipe for a weight of fats as CSV, for
// a spreadsheet: what, kind, percent of its kind, grams, when.
func WriteBlend(w io.Writer, f recipe.Formula, fats float64) error {
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', 2, 64) }
	a := f.AmountsFor(fats)
	rows := [][]string{{"what", "kind", "percent", "grams", "stage"}}
	for i, s := range f.Fats {
		rows = append(rows, []string{s.Fat.Name, "fat", num(s.Percent), num(a.Fats[i]), ""})
	}
	if a.NaOH > 0 {
		rows = append(rows, []string{"Sodium hydroxide", "alkali", "", num(a.NaOH), ""})
	}
	if a.KOH > 0 {
		rows = append(rows, []string{"Potassium hydroxide", "alkali", "", num(a.KOH), ""})
	}
	for i, l := range f.Liquids {
		rows = append(rows, []string{l.Liquid.Name, "liquid", num(l.Percent), num(a.Liquids[i]), ""})
	}
	for i, u := range f.Uses() {
		rows = append(rows, []string{u.Key(), "additive", "", num(a.Additives[i]), string(u.Stage)})
	}
	return writeTable(w, "blend", rows)
}

// WriteSheet writes a weigh sheet as CSV, in the order of the work, with empty
// columns for what is really weighed and noted.
func WriteSheet(w io.Writer, sheet []plan.Section) error {
	rows := [][]string{{"vessel", "what", "grams", "within", "running", "note", "weighed", "remarks"}}
	for _, s := range sheet {
		for _, i := range s.Items {
			num := func(v float64) string { return strconv.FormatFloat(v, 'f', i.Decimals, 64) }
			running := ""
			if i.Running > 0 {
				running = num(i.Running)
			}
			rows = append(rows, []string{s.Title, i.Name, num(i.Target), num(i.Tolerance), running, i.Note, "", ""})
		}
	}
	return writeTable(w, "sheet", rows)
}
