package exchange

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/label"
)

// The formats of a label.
const (
	LabelRequestFormat = "ashshelf.label-request/1"
	LabelFormat        = "ashshelf.label/1"
)

type labelRequestDoc struct {
	Recipe    json.RawMessage `json:"recipe"`
	Style     label.Style     `json:"style"`
	Loss      float64         `json:"drying_loss_percent"`
	Colours   string          `json:"colours"`
	Order     string          `json:"order"`
	Allergens []struct {
		Additive string  `json:"additive"`
		Name     string  `json:"name"`
		Percent  float64 `json:"percent"`
	} `json:"allergens"`
	Words string `json:"words"`
}

// ReadLabelRequest reads what a label is asked for. Problems of what was written are of type
// [caution.Problems]; other errors are of reading.
func ReadLabelRequest(r io.Reader) (label.Request, error) {
	text, err := readText(r)
	if err != nil {
		return label.Request{}, err
	}
	var d labelRequestDoc
	if err := readInto(text, "label-request-1", &d); err != nil {
		return label.Request{}, err
	}
	var p caution.Problems
	plain, named, err := takeNames(d.Recipe, &p)
	if err != nil {
		return label.Request{}, err
	}
	var one recipeDoc
	if err := readInto(plain, "recipe-1", &one); err != nil {
		return label.Request{}, below("recipe.", err)
	}
	q := label.Request{
		Formula: one.formula("recipe.", &p), Fats: one.SizeG, Style: d.Style, DryingLoss: d.Loss, Named: named, Colours: d.Colours,
		Words: d.Words, ByAdded: d.Order == "as-added",
	}
	for _, a := range d.Allergens {
		q.Allergens = append(q.Allergens, label.Declared(a))
	}
	return q, told(p).Err()
}

// below puts problems of a part at their place in the whole.
func below(at string, err error) error {
	problems, ok := err.(caution.Problems)
	if !ok {
		return err
	}
	out := make(caution.Problems, len(problems))
	for i, q := range problems {
		q.Path = strings.TrimSuffix(at+q.Path, ".")
		out[i] = q
	}
	return out
}

// takeNames takes what is said for the label alone off the additives and colorants of a written
// recipe. What remains is a recipe as any other.
func takeNames(recipe json.RawMessage, p *caution.Problems) (plain []byte, named map[string]label.Naming, err error) {
	var doc map[string]any
	if err := json.Unmarshal(recipe, &doc); err != nil {
		return nil, nil, fmt.Errorf("recipe: %w", err)
	}
	named = map[string]label.Naming{}
	take := func(list any, at string) {
		rows, _ := list.([]any)
		for i, row := range rows {
			one, _ := row.(map[string]any)
			name, _ := one["name"].(string)
			said, isColour := one["colour"]
			word, isNamed := one["label_name"].(string)
			if !isColour && !isNamed {
				continue
			}
			n := label.Naming{Label: strings.TrimSpace(word)}
			switch colour := said.(type) {
			case bool:
				n.Colour, n.NoColour = colour, !colour
			case string:
				n.Colour, n.Number = true, strings.TrimSpace(colour)
			}
			delete(one, "colour")
			delete(one, "label_name")
			key := label.Key(name)
			if before, twice := named[key]; twice && before != n {
				p.Add(fmt.Sprintf("%s[%d].label_name", at, i), "%s is named otherwise above: give it one name", name)
			}
			named[key] = n
		}
	}
	take(doc["additives"], "recipe.additives")
	if portions, _ := doc["portions"].([]any); portions != nil {
		for i, portion := range portions {
			one, _ := portion.(map[string]any)
			take(one["colorants"], fmt.Sprintf("recipe.portions[%d].colorants", i))
		}
	}
	plain, err = json.Marshal(doc)
	return plain, named, err
}

type shareDoc struct {
	Name    string  `json:"name"`
	Percent float64 `json:"percent"`
}

type claimDoc struct {
	Words   string     `json:"words"`
	Tier    label.Tier `json:"tier"`
	Why     string     `json:"why"`
	Instead string     `json:"instead,omitempty"`
}

// WriteLabel writes what stands on the band. Shares have six decimals.
func WriteLabel(w io.Writer, l label.Label) error {
	out := struct {
		Format      string     `json:"format"`
		Ingredients []shareDoc `json:"ingredients"`
		Allergens   []shareDoc `json:"allergens"`
		Marks       []string   `json:"marks"`
		Claims      []claimDoc `json:"claims"`
		Text        string     `json:"text"`
		Undeclared  []string   `json:"undeclared,omitempty"`
	}{LabelFormat, []shareDoc{}, []shareDoc{}, append([]string{}, l.Marks...), []claimDoc{}, l.Text(), l.Undeclared}
	for _, i := range l.Ingredients {
		out.Ingredients = append(out.Ingredients, shareDoc{i.Name, round(i.Percent, 6)})
	}
	for _, a := range l.Allergens {
		out.Allergens = append(out.Allergens, shareDoc{a.Name, round(a.Percent, 6)})
	}
	for _, c := range l.Claims {
		out.Claims = append(out.Claims, claimDoc(c))
	}
	return writeJSON(w, out)
}

// WriteLabelText writes it for a person.
func WriteLabelText(w io.Writer, l label.Label) error {
	var b strings.Builder
	fmt.Fprintf(&b, "%s\n\n", l.Text())
	for _, i := range l.Ingredients {
		fmt.Fprintf(&b, "%8.3f %%  %s\n", i.Percent, i.Name)
	}
	for _, a := range l.Allergens {
		fmt.Fprintf(&b, "%8.3f %%  %s, an allergen\n", a.Percent, a.Name)
	}
	if len(l.Undeclared) > 0 {
		fmt.Fprintf(&b, "\nNo allergens are declared of %s: ask the supplier before this is printed.\n", strings.Join(l.Undeclared, ", "))
	}
	if len(l.Marks) > 0 {
		fmt.Fprintf(&b, "\nIt may be called %s.\n", strings.Join(l.Marks, ", "))
	}
	for _, c := range l.Claims {
		fmt.Fprintf(&b, "\n%s: %s\n", c.Tier, c.Words)
		if c.Why != "" {
			fmt.Fprintf(&b, "  %s\n  sound: %s\n", c.Why, c.Instead)
		}
	}
	b.WriteString("\nWhat your country asks of a label comes first.\n")
	_, err := io.WriteString(w, b.String())
	return err
}
