package selling

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/soap/assess"
	"ashshelf/soap/inventory"
	"ashshelf/soap/label"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// File is what a shop shows an inspector of a product: what it is, its recipes with their assessments, the papers of
// the suppliers, and the lots that were made.
type File struct {
	Product Product
	Recipes []FileRecipe
	Lots    []FileLot
	Papers  []FilePaper
	Rules   label.Rules
}

// FileRecipe is a recipe of a product as it stands, and its assessment; nil where there is none.
type FileRecipe struct {
	catalog.Recipe
	Assessment *assess.Assessment
	Outside    []string
}

// FileLot is a lot that labels of the product were printed for, or bars of which were sold as it.
type FileLot struct {
	*lot.Lot
	Labels int
}

// FilePaper is a delivery that went into one of the lots, with its papers and what is declared of it.
type FilePaper struct {
	inventory.Delivery
	Allergens string // as they are declared; empty where nothing is
}

// MostFileLots is how many lots a file names, the newest.
const MostFileLots = 60

// ProductFile gathers the file of a product.
func (s *Seller) ProductFile(ctx context.Context, oid string) (out File, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		if out.Product, err = productIn(tx, oid); err != nil {
			return err
		}
		if out.Rules, err = LabelRulesIn(tx); err != nil {
			return err
		}
		recipes, err := catalog.LatestRecipes(tx)
		if err != nil {
			return err
		}
		for _, r := range recipes {
			if !slices.Contains(out.Product.Recipes, r.OID) {
				continue
			}
			one := FileRecipe{Recipe: r}
			if one.Assessment, err = assessmentIn(tx, r.OID); err != nil {
				return err
			}
			if one.Assessment != nil {
				one.Outside = one.Assessment.Outside(r.Formula, r.SizeG)
			}
			out.Recipes = append(out.Recipes, one)
		}
		if err := s.fileLots(tx, &out); err != nil {
			return err
		}
		return filePapers(tx, &out)
	})
	return out, err
}

func (s *Seller) fileLots(tx *store.Tx, out *File) error {
	places, err := tx.Beginning("product", out.Product.OID)
	if err != nil {
		return err
	}
	names, err := tx.Names(places)
	if err != nil {
		return err
	}
	for _, p := range slices.Backward(places) {
		if len(out.Lots) == MostFileLots {
			break
		}
		l, err := s.reader.LotIn(tx, names[p].OID)
		if err != nil {
			return err
		}
		one := FileLot{Lot: l}
		for _, r := range l.LabelRuns {
			if r.ProductOID == out.Product.OID {
				one.Labels += r.Labels
			}
		}
		out.Lots = append(out.Lots, one)
	}
	return nil
}

// filePapers reads the deliveries that were weighed for the lots.
func filePapers(tx *store.Tx, out *File) error {
	var seen []string
	for _, l := range out.Lots {
		for _, w := range l.Weighings {
			if oid := w.From.OID; oid != "" && !slices.Contains(seen, oid) {
				seen = append(seen, oid)
			}
		}
	}
	for _, oid := range seen {
		d, err := tx.Delivery(oid)
		if err != nil {
			return err
		}
		one := FilePaper{Delivery: d}
		for _, of := range []string{"", oid} { // its own certificate counts before what is said of all of it
			said, known, err := declaredIn(tx, d.Item, of)
			if err != nil {
				return err
			}
			if known {
				one.Allergens = said.Said()
			}
		}
		out.Papers = append(out.Papers, one)
	}
	slices.SortStableFunc(out.Papers, func(a, b FilePaper) int { return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	return nil
}
