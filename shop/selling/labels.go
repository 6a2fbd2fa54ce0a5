package selling

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/tag"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Tag is the label of a product on a bar of a lot, as it would be printed.
type Tag struct {
	label.Label
	Printed  tag.Printed
	Product  Product
	Lot      *lot.Lot
	Kind     ledger.Kind
	Sheet    tag.Sheet
	Will     float64 // g that a bar of the kind will weigh; 0 where nobody weighed one
	Refused  caution.Problems
	Rules    label.Rules
	Bars     int // of the kind that can be labelled: free ones
	Labelled int
}

// Of asks for a label.
type Of struct {
	Product string
	Lot     string
	Kind    ledger.Kind
	Sheet   string
}

// Tag makes the label of a product on a bar of a lot. What keeps it from being printed is in Refused, by field.
func (s *Seller) Tag(ctx context.Context, o Of) (out Tag, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = s.tagIn(tx, o)
		return err
	})
	return out, err
}

// LotLabel is what stands on a label of a lot whatever the product.
func (s *Seller) LotLabel(ctx context.Context, oid string) (out label.Label, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		rules, err := LabelRulesIn(tx)
		if err != nil {
			return err
		}
		l, err := s.reader.LotIn(tx, oid)
		if err != nil {
			return err
		}
		out, err = s.labelOf(tx, rules, l, "")
		return err
	})
	return out, err
}

// labelOf writes the label of a lot with what went into it.
func (s *Seller) labelOf(tx *store.Tx, r label.Rules, l *lot.Lot, words string) (label.Label, error) {
	older, err := l.Parts(func(oid string) (*lot.Lot, error) { return s.reader.LotIn(tx, oid) })
	if err != nil {
		return label.Label{}, err
	}
	names, err := namesIn(tx)
	if err != nil {
		return label.Label{}, err
	}
	var failed error
	of := label.Lots{
		Loss:  s.reader.LossOf,
		Named: names,
		Suppliers: func(l *lot.Lot) label.Suppliers {
			list, err := suppliersIn(tx, l.ID)
			if err != nil {
				failed = err
			}
			return list
		},
	}
	out, err := label.OfLot(l, older, r, of, words)
	if failed != nil {
		return out, failed
	}
	return out, err
}

func (s *Seller) tagIn(tx *store.Tx, o Of) (out Tag, err error) {
	if out.Rules, err = LabelRulesIn(tx); err != nil {
		return out, err
	}
	if out.Product, err = productIn(tx, o.Product); err != nil {
		return out, err
	}
	if out.Lot, err = s.reader.LotIn(tx, o.Lot); err != nil {
		return out, err
	}
	history, err := tx.History(store.Sheets, o.Sheet)
	if err != nil {
		return out, err
	}
	sheet, err := asSheet(history[0])
	if err != nil {
		return out, err
	}
	settings, err := tx.Shop()
	if err != nil {
		return out, err
	}
	l, p := out.Lot, out.Product
	out.Kind, out.Sheet, out.Printed.Sheet = o.Kind, sheet.Sheet, sheet.Name
	out.Bars, out.Labelled = l.FreeOf(o.Kind), boundTo(l, o.Kind, p.OID, "")
	if !p.Takes(l.Recipe, o.Kind) || l.Cut == nil || l.Cut.Of(o.Kind) == 0 {
		out.Refused.Add("lot", "%s of lot %s are no %s", o.Kind.Words(), l.Code, p.Name)
		return out, nil
	}
	if out.Label, err = s.labelOf(tx, out.Rules, l, p.Name+".\n"+p.Wording); err != nil {
		problems, ok := err.(caution.Problems)
		if !ok {
			return out, err
		}
		for _, one := range problems {
			out.Refused.Add("lot", "%s", one.Text)
		}
		return out, nil
	}
	out.Will = label.WillWeigh(l, o.Kind, s.reader.LossOf(l))
	out.refuse()
	out.lay(settings.Units == string(unit.US))
	return out, nil
}

// refuse finds what a label must not say of this lot.
func (t *Tag) refuse() {
	p, l := t.Product, t.Lot
	switch {
	case p.Retired:
		t.Refused.Add("lot", "%s is not sold any more", p.Name)
	case len(p.Claimed()) > 0 && p.Approval == "":
		t.Refused.Add("lot", "“%s” needs testing and approval: take it back, or write its approval down", p.Claimed()[0].Words)
	}
	if why, is := l.MarkedNow()[lot.Recalled]; is {
		t.Refused.Add("lot", "lot %s is called back: %s", l.Code, why)
	}
	for _, mark := range label.MarksSaid(p.Name + "\n" + p.Wording) {
		if !slices.Contains(t.Marks, mark) {
			t.Refused.Add("lot", "the words say %s, and lot %s is not, or nobody said where all that is in it comes from", mark, l.Code)
		}
	}
	for _, name := range t.Undeclared {
		t.Refused.Add("lot", "no allergens are declared of %s: write down what its supplier says, also that there are none", name)
	}
	now := 0.0
	if w := l.Weights(); len(w) > 0 && t.Kind.Size == "" {
		now = w[len(w)-1].Grams
	}
	switch {
	case t.Will == 0:
		t.Refused.Add("lot", "no bar of these was weighed at the cut: nobody can say that it will weigh %s g", unit.Trim(p.Net, 1))
	case now > 0 && now < p.Net:
		t.Refused.Add("lot", "the marked bar weighs %s g, and the label says %s g", unit.Trim(now, 1), unit.Trim(p.Net, 1))
	case t.Will < p.Net:
		t.Refused.Add("lot", "a bar of lot %s will dry to %s g, and the label says %s g", l.Code, unit.Trim(t.Will, 1), unit.Trim(p.Net, 1))
	}
}

// lay puts the words on the label.
func (t *Tag) lay(ounces bool) {
	p, least := t.Product, t.Rules.Letter
	net := unit.Trim(p.Net, 1) + " g"
	if ounces {
		net = unit.Trim(p.Net/unit.GramsPerOunce, 2) + " oz (" + net + ")"
	}
	list := t.Label.Text()
	blocks := []tag.Block{
		{Text: p.Name, Letter: 1.5 * least, Bold: true},
		{Text: net, Letter: least, Gap: 0.5, Bold: true},
		{Text: p.Wording, Letter: least, Gap: 1},
		{Text: "Ingredients: " + list, Letter: least, Gap: 1},
		{Text: p.Care, Letter: least, Gap: 1},
		{Text: t.Rules.Address, Letter: least, Gap: 1},
		{Text: "Lot " + t.Lot.Code, Letter: least, Gap: 0.5, Bold: true},
	}
	lines, err := tag.Lay(blocks, t.Sheet.W, t.Sheet.H)
	if err != nil {
		t.Refused.Add("sheet", "%s", err.Error())
	}
	if strings.TrimSpace(t.Rules.Address) == "" {
		t.Refused.Add("sheet", "write the maker’s name and address into the rules of labels: they stand on each")
	}
	t.Printed.W, t.Printed.H, t.Printed.Lines = t.Sheet.W, t.Sheet.H, lines
	t.Printed.Ingredients, t.Printed.Net, t.Printed.Wording, t.Printed.Marks = list, p.Net, p.Wording, t.Label.Marks
	for _, a := range t.Label.Allergens {
		t.Printed.Allergens = append(t.Printed.Allergens, a.Name)
	}
}

// Print records a run of labels, which makes so many free bars the product's, and returns its identity. labels is how
// many are printed, with those for the file and the bin.
func (s *Seller) Print(ctx context.Context, act journal.Act, o Of, bars, labels int) (string, error) {
	var p caution.Problems
	if bars < 0 || bars > 100_000 {
		p.Add("bars", "say for how many bars, none or more")
	}
	if labels < 1 || labels > 100_000 {
		p.Add("labels", "say how many labels, 1 or more")
	}
	if labels < bars {
		p.Add("labels", "%d bars take no fewer labels", bars)
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		oid := journal.NewOID()
		return oid, s.reader.ActOn(c, o.Lot, lot.ToBind, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
			t, err := s.tagIn(c.Tx, o)
			if err != nil {
				return err
			}
			if err := t.Refused.Err(); err != nil {
				return err
			}
			if bars > t.Bars {
				return problem("bars", "only %d of these bars are nobody’s yet", t.Bars)
			}
			body, err := document.Encode(t.Printed)
			if err != nil {
				return err
			}
			run := lot.LabelRun{OID: oid, Kind: o.Kind, ProductOID: o.Product, Number: t.Product.Number, Bars: bars, Labels: labels}
			if err := c.Record("labels", func(entry int64) error { return c.AddLabelRun(entry, l.ID, run, body) }); err != nil || bars == 0 {
				return err
			}
			return bind(c, l, o.Kind, lot.Labelled, o.Product, 0, bars, "")
		})
	})
}

// Run is a run of labels as it was printed.
type Run struct {
	store.Run
	Printed tag.Printed
}

// Runs are the newest runs of labels of a product, or the one of an identity.
func (s *Seller) Runs(ctx context.Context, productOID, oid string, most int) (out []Run, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		list, err := tx.Runs(productOID, oid, most)
		for _, r := range list {
			printed, err := document.Decode("labels of lot "+r.Code, document.ReadPrinted, r.Body)
			if err != nil {
				return err
			}
			out = append(out, Run{r, printed})
		}
		return err
	})
	return out, err
}
