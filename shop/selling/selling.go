// Package selling is what bars are sold as, and which of them are there: products, their labels, what a supplier
// and an assessor say of them, and the bars that are labelled, put by and sold.
//
// A bar belongs to its lot for ever. To a product it belongs from the moment somebody labels it or puts it by as
// that product; until then every product that could use it shows it, as shared. All of it is counted in one
// transaction with the lot's own bars, so that two people at two tables never sell the same bar.
package selling

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/assess"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/label"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/product"
	"ashshelf/soap/recipe"
	"ashshelf/soap/sale"
	"ashshelf/soap/tag"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Seller sells.
type Seller struct {
	*journal.Journal
	catalog *catalog.Catalog
	reader  *lots.Reader
}

// New returns a seller of the lots of a reader.
func New(j *journal.Journal, c *catalog.Catalog, r *lots.Reader) *Seller { return &Seller{j, c, r} }

// Product is one revision of a product.
type Product struct {
	Name string // of this revision
	store.Revision
	product.Product
}

func asProduct(r store.Revision) (Product, error) {
	body, err := document.Decode("product "+r.Name, document.ReadProduct, r.Body)
	return Product{r.Name, r, body}, err
}

// Products returns the newest revision of every product, by name.
func (s *Seller) Products(ctx context.Context) ([]Product, error) {
	return catalog.ReadCollection(ctx, s.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Products) }, asProduct)
}

// ProductsIn is [Seller.Products] within a transaction.
func ProductsIn(tx *store.Tx) ([]Product, error) {
	revisions, err := tx.Latest(store.Products)
	if err != nil {
		return nil, err
	}
	return catalog.ReadAll(revisions, asProduct)
}

func productIn(tx *store.Tx, oid string) (Product, error) {
	history, err := tx.History(store.Products, oid)
	if err != nil {
		return Product{}, err
	}
	return asProduct(history[0])
}

// ProductHistory returns all revisions of a product, newest first.
func (s *Seller) ProductHistory(ctx context.Context, oid string) ([]Product, error) {
	return catalog.ReadCollection(ctx, s.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Products, oid) },
		asProduct)
}

// KeepProduct makes a new revision of a product, or a new one when base is 0. No two that are sold have one name.
// What it promises never keeps it from being written down, only from being offered.
func (s *Seller) KeepProduct(ctx context.Context, act journal.Act, oid string, base int, d product.Product) (string, error) {
	d.Name, d.Size, d.Stamp = strings.TrimSpace(d.Name), strings.TrimSpace(d.Size), strings.TrimSpace(d.Stamp)
	p := d.Check()
	have, err := s.Products(ctx)
	if err != nil {
		return "", err
	}
	for _, one := range have {
		if one.OID != oid && !one.Retired && !d.Retired && label.Key(one.Name) == label.Key(d.Name) {
			p.Add("name", "another product is called so already")
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return s.catalog.AddRevision(ctx, act, store.Products, oid, base, d.Name, "", "", d)
}

// AddProductPhoto notes a picture of a product whose file is there.
func (s *Seller) AddProductPhoto(ctx context.Context, act journal.Act, oid, file string) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if _, err := productIn(c.Tx, oid); err != nil {
			return "", err
		}
		return oid, c.Record("product photo", func(entry int64) error { return c.AddProductPhoto(entry, oid, file) })
	})
	return err
}

// Sheet is one revision of a sheet of labels.
type Sheet struct {
	store.Revision
	tag.Sheet
}

func asSheet(r store.Revision) (Sheet, error) {
	body, err := document.Decode("sheet "+r.Name, document.ReadLabelSheet, r.Body)
	return Sheet{r, body}, err
}

// Sheets returns the newest revision of every sheet of labels, by name.
func (s *Seller) Sheets(ctx context.Context) ([]Sheet, error) {
	return catalog.ReadCollection(ctx, s.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Sheets) }, asSheet)
}

// SheetHistory returns all revisions of a sheet, newest first.
func (s *Seller) SheetHistory(ctx context.Context, oid string) ([]Sheet, error) {
	return catalog.ReadCollection(ctx, s.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Sheets, oid) },
		asSheet)
}

// KeepSheet makes a new revision of a sheet, or a new one when base is 0.
func (s *Seller) KeepSheet(ctx context.Context, act journal.Act, oid string, base int, name string, d tag.Sheet) (string, error) {
	p := d.Check()
	document.CheckName(&p, name)
	if err := p.Err(); err != nil {
		return "", err
	}
	return s.catalog.AddRevision(ctx, act, store.Sheets, oid, base, name, "", "", d)
}

// LabelRules are what the region asks of labels, the usual ones as long as nobody said.
func (s *Seller) LabelRules(ctx context.Context) (out label.Rules, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = LabelRulesIn(tx)
		return err
	})
	return out, err
}

// LabelRulesIn is [Seller.LabelRules] within a transaction.
func LabelRulesIn(tx *store.Tx) (label.Rules, error) {
	body, err := tx.LabelRules()
	if errors.Is(err, store.ErrNotFound) {
		return label.UsualRules(), nil
	}
	if err != nil {
		return label.Rules{}, err
	}
	return document.Decode("label rules", document.ReadLabelRules, body)
}

// KeepLabelRules writes what the region asks of labels.
func (s *Seller) KeepLabelRules(ctx context.Context, act journal.Act, r label.Rules) error {
	r.Address = strings.TrimSpace(r.Address)
	if err := r.Check().Err(); err != nil {
		return err
	}
	return s.write(ctx, act, r, "label rules", func(c *journal.Change, entry int64, body []byte) error { return c.AddLabelRules(entry, body) })
}

// SaleRules are how the shop sells, the usual way as long as nobody said.
func (s *Seller) SaleRules(ctx context.Context) (out sale.Rules, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = SaleRulesIn(tx)
		return err
	})
	return out, err
}

// SaleRulesIn is [Seller.SaleRules] within a transaction.
func SaleRulesIn(tx *store.Tx) (sale.Rules, error) {
	body, err := tx.SaleRules()
	if errors.Is(err, store.ErrNotFound) {
		return sale.UsualRules(), nil
	}
	if err != nil {
		return sale.Rules{}, err
	}
	return document.Decode("sale rules", document.ReadSaleRules, body)
}

// KeepSaleRules writes how the shop sells.
func (s *Seller) KeepSaleRules(ctx context.Context, act journal.Act, r sale.Rules) error {
	r.Terms = strings.TrimSpace(r.Terms)
	if err := r.Check().Err(); err != nil {
		return err
	}
	return s.write(ctx, act, r, "sale rules", func(c *journal.Change, entry int64, body []byte) error { return c.AddSaleRules(entry, body) })
}

// write records a body by itself.
func (s *Seller) write(
	ctx context.Context,
	act journal.Act,
	body any,
	kind string,
	add func(c *journal.Change, entry int64, body []byte) error,
) error {
	text, err := document.Encode(body)
	if err != nil {
		return err
	}
	_, err = s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return "", c.Record(kind, func(entry int64) error { return add(c, entry, text) })
	})
	return err
}

// Declare writes what a supplier declares of the allergens in an additive, or in one delivery of it.
func (s *Seller) Declare(ctx context.Context, act journal.Act, item plan.Key, delivery string, d label.Declaration) error {
	d.Source = strings.TrimSpace(d.Source)
	p := d.Check()
	p.Name("source", d.Source)
	if item.Kind() != plan.AdditiveItem && delivery == "" {
		p.Add("allergens", "allergens are declared of scents, colours and other additives")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.write(ctx, act, d, "allergens", func(c *journal.Change, entry int64, body []byte) error {
		if delivery == "" {
			return c.AddAllergenWord(entry, inventoryKey(item), 0, body)
		}
		of, err := c.Delivery(delivery)
		if err != nil {
			return err
		}
		return c.AddAllergenWord(entry, inventoryKey(of.Item), of.ID, body)
	})
}

// Declared is what is declared of an additive, or of a delivery of it; known is false where nobody said.
func (s *Seller) Declared(ctx context.Context, item plan.Key, delivery string) (d label.Declaration, known bool, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		d, known, err = declaredIn(tx, item, delivery)
		return err
	})
	return d, known, err
}

func declaredIn(tx *store.Tx, item plan.Key, delivery string) (d label.Declaration, known bool, err error) {
	words, err := tx.AllergenWords(0, delivery)
	if err != nil {
		return d, false, err
	}
	for _, w := range words {
		if w.Item == inventoryKey(item) && w.Delivery == delivery {
			d, err = document.Decode("allergens of "+string(w.Item), document.ReadDeclaration, w.Body)
			return d, err == nil, err
		}
	}
	return d, false, nil
}

// inventoryKey is how an additive is named in the store.
func inventoryKey(item plan.Key) plan.Key { return inventory.Fold(item.Ingredient()) }

// suppliersIn are what is declared of additives, by name: of the deliveries that a lot was weighed from where that
// is known.
func suppliersIn(tx *store.Tx, lotID int64) (label.Suppliers, error) {
	words, err := tx.AllergenWords(lotID, "")
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(words, func(a, b store.AllergenWord) int { return len(a.Delivery) - len(b.Delivery) }) // deliveries last
	out := label.Suppliers{}
	for _, w := range words {
		d, err := document.Decode("allergens of "+string(w.Item), document.ReadDeclaration, w.Body)
		if err != nil {
			return nil, err
		}
		_, name, _ := strings.Cut(string(w.Item), ":")
		out[label.Key(name)] = d
	}
	return out, nil
}

// namesIn are the names that the shop gives its additives on a label.
func namesIn(tx *store.Tx) (map[string]label.Naming, error) {
	materials, err := catalog.MaterialsIn(tx)
	out := map[string]label.Naming{}
	for _, m := range materials {
		if m.Of.Label != "" && m.Of.Key.Kind() == plan.AdditiveItem {
			_, name, _ := strings.Cut(string(m.Of.Key), ":")
			out[label.Key(name)] = label.Naming{Label: m.Of.Label, Colour: m.Of.Kind == inventory.Colour}
		}
	}
	return out, err
}

// LabelRequest asks for the label of a recipe as the shop would have it: by its rules, with what is declared of all
// additives and the names that it gives them.
func (s *Seller) LabelRequest(ctx context.Context, f recipe.Formula, fats, dryingLoss float64) (q label.Request, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		rules, err := LabelRulesIn(tx)
		if err != nil {
			return err
		}
		suppliers, err := suppliersIn(tx, 0)
		if err != nil {
			return err
		}
		names, err := namesIn(tx)
		q = label.Of(f, fats, dryingLoss, rules, suppliers, names)
		return err
	})
	return q, err
}

// Assess writes what an assessor says of a recipe.
func (s *Seller) Assess(ctx context.Context, act journal.Act, recipe string, a assess.Assessment) error {
	a.Reference, a.By, a.Note = strings.TrimSpace(a.Reference), strings.TrimSpace(a.By), strings.TrimSpace(a.Note)
	if err := a.Check().Err(); err != nil {
		return err
	}
	return s.write(ctx, act, a, "assessment", func(c *journal.Change, entry int64, body []byte) error {
		if _, err := c.History(store.Recipes, recipe); err != nil {
			return err
		}
		return c.AddAssessment(entry, recipe, body)
	})
}

// Assessment is the newest assessment of a recipe; nil where there is none.
func (s *Seller) Assessment(ctx context.Context, recipe string) (out *assess.Assessment, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = assessmentIn(tx, recipe)
		return err
	})
	return out, err
}

func assessmentIn(tx *store.Tx, recipe string) (*assess.Assessment, error) {
	bodies, err := tx.Assessments(recipe)
	if err != nil || bodies[recipe] == nil {
		return nil, err
	}
	a, err := document.Decode("assessment", document.ReadAssessment, bodies[recipe])
	return &a, err
}

// Doubts are what is to be said of a formula of a recipe before it is made: that it is outside of its assessment, or
// has none where the shop needs one. fats is the weight of the fats of a pot in g, 0 for any.
func (s *Seller) Doubts(ctx context.Context, oid string, f recipe.Formula, fats float64) (out []caution.Caution, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		rules, err := LabelRulesIn(tx)
		if err != nil {
			return err
		}
		a, err := assessmentIn(tx, oid)
		if err != nil {
			return err
		}
		remedy := "Stay within it, or have it assessed anew before it is sold."
		switch {
		case a == nil && rules.Assessed:
			out = append(out, caution.Caution{Code: "sale.assessment", Level: caution.Warn,
				Reason: "This recipe has no safety assessment, and the shop sells nothing without one.", Remedy: "Have it assessed before it is sold."})
		case a == nil:
		default:
			for _, why := range a.Outside(f, fats) {
				out = append(out, caution.Caution{Code: "sale.assessment", Level: caution.Warn, Reason: unit.Capital(why) + ".", Remedy: remedy})
			}
		}
		return nil
	})
	return out, err
}

// notAssessed says why a lot is not sold as its region wants it; empty when nothing is against it.
func notAssessed(tx *store.Tx, r label.Rules, l *lot.Lot) (string, error) {
	if !r.Assessed {
		return "", nil
	}
	a, err := assessmentIn(tx, l.Recipe)
	if err != nil {
		return "", err
	}
	if a == nil {
		return "its recipe has no safety assessment", nil
	}
	f, fats := l.AsWeighed()
	if out := a.Outside(f, fats); len(out) > 0 {
		return "it is outside of its safety assessment: " + strings.Join(out, "; "), nil
	}
	return "", nil
}

// NotAssessed says why a lot is not sold as its region wants it; empty when nothing is against it.
func (s *Seller) NotAssessed(ctx context.Context, l *lot.Lot) (why string, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		rules, err := LabelRulesIn(tx)
		if err != nil {
			return err
		}
		why, err = notAssessed(tx, rules, l)
		return err
	})
	return why, err
}

// day is today in the shop's zone.
func day(c *store.Tx, now time.Time) (string, error) {
	settings, err := c.Shop()
	if err != nil {
		return "", err
	}
	zone, err := time.LoadLocation(settings.Zone)
	if err != nil {
		return "", fmt.Errorf("the shop's time zone: %w", err)
	}
	return now.In(zone).Format(time.DateOnly), nil
}

// problem is one problem at a field.
func problem(field, format string, args ...any) error {
	return caution.Problems{{Path: field, Text: fmt.Sprintf(format, args...)}}
}
