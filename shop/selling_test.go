package shop_test

import (
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/shop/selling"
	"ashshelf/soap/additive"
	"ashshelf/soap/assess"
	"ashshelf/soap/inventory"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/product"
	"ashshelf/soap/tag"
)

var first = ledger.Of(ledger.First)

// stand is a product of a recipe with a lot of it that is released: nine firsts and a second of 118 g at the cut.
type stand struct {
	*bench
	recipe, lot, product, sheet string
}

func onTheStand(t *testing.T) stand {
	t.Helper()
	b := open(t)
	s := stand{bench: b, lot: b.onTheRack()}
	b.cured(s.lot)
	require.NoError(t, b.ReleaseLot(ctx, b.on(s.lot), s.lot, ""))
	s.recipe = b.lot(s.lot).Recipe
	s.product = s.keeps(product.Product{Name: "Slate and lamp", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.First}, Net: 95})
	var err error
	s.sheet, err = b.KeepSheet(ctx, b.act(), "", 0, "Ten",
		tag.Sheet{PageW: 210, PageH: 297, Left: 10, Top: 8, Columns: 2, Rows: 5, W: 95, H: 56})
	require.NoError(t, err)
	rules := label.UsualRules()
	rules.Address = "Test bench, 1 Quay Street"
	require.NoError(t, b.KeepLabelRules(ctx, b.act(), rules))
	return s
}

func (s stand) keeps(p product.Product) string {
	s.t.Helper()
	oid, err := s.KeepProduct(ctx, s.act(), "", 0, p)
	require.NoError(s.t, err)
	return oid
}

// of is what a product has of the lot's firsts.
func (s stand) of(productOID string) product.Availability {
	s.t.Helper()
	stall, err := s.ReadyStock(ctx)
	require.NoError(s.t, err)
	for _, one := range stall.Available[productOID] {
		if one.Lot == s.lot && one.Kind == first {
			return one
		}
	}
	return product.Availability{}
}

func (s stand) sells(bars int, change ...func(*selling.Sale)) error {
	w := selling.Sale{Kind: first, Product: s.product, Reason: ledger.Sold, Bars: bars, Channel: "market"}
	for _, do := range change {
		do(&w)
	}
	return s.Sell(ctx, s.act(), s.lot, w)
}

func (s stand) label() selling.Of {
	return selling.Of{Product: s.product, Lot: s.lot, Kind: first, Sheet: s.sheet}
}

func TestBarsAreSharedUntilALabelOrAWordBindsThem(t *testing.T) {
	s := onTheStand(t)
	hearth := s.keeps(product.Product{Name: "Hearth", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.First}, Net: 90})
	plain := s.keeps(product.Product{Name: "Plain and sound", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.Second}, Net: 90})
	assert.Equal(t, []int{9, 9, 0}, []int{s.of(s.product).Shared, s.of(hearth).Shared, s.of(plain).Shared})
	assert.Equal(t, []string{hearth}, s.of(s.product).With)

	_, err := s.Print(ctx, s.act(), s.label(), 3, 5)
	require.NoError(t, err)
	fair := selling.For{Kind: "market", Name: "Quay fair", Day: "2026-07-04"}
	require.NoError(t, s.Reserve(ctx, s.act(), s.lot, first, s.product, fair, 4), "three that are labelled, and one more")
	assert.Equal(t, []int{0, 4, 5}, []int{s.of(s.product).Labelled, s.of(s.product).Reserved, s.of(s.product).Shared})
	assert.Equal(t, 5, s.of(hearth).Shared)

	// What is put by goes to nobody else, at no page.
	assert.Contains(t, problem(t, s.sells(6), "bars"), "only 5")
	said := problem(t, s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Sold, 6, ""), "count")
	assert.Contains(t, said, "only 5 of these are nobody’s: 4")
	assert.Contains(t, problem(t, s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Recount, 3, ""), "count"), "labelled or put by")
	diced := lot.Reshaped{Source: lot.WholeBars, Kind: first, Pieces: 6, Shape: lot.Scraps, Grams: 600}
	assert.Contains(t, problem(t, s.Reshape(ctx, s.on(s.lot), s.lot, diced), "pieces"), "nobody’s")
	problem(t, s.Reserve(ctx, s.act(), s.lot, first, hearth, fair, 6), "bars")
	require.NoError(t, s.sells(1, func(w *selling.Sale) { w.Product = hearth }))

	stall, err := s.ReadyStock(ctx)
	require.NoError(t, err)
	require.Len(t, stall.Reservations, 1)
	put := stall.Reservations[0]
	assert.Equal(t, 4, put.Bars)
	require.NoError(t, s.sells(2, func(w *selling.Sale) { w.For, w.Event = put.OID, "Quay fair" }))
	problem(t, s.sells(3, func(w *selling.Sale) { w.For = put.OID }), "bars")

	// Freed, what has its label stays the product's; a second word makes it anybody's.
	require.NoError(t, s.Free(ctx, s.act(), s.lot, first, s.product, put.OID, 2, "the fair is off"))
	assert.Equal(t, 2, s.of(s.product).Labelled)
	require.NoError(t, s.Free(ctx, s.act(), s.lot, first, s.product, "", 2, "labels off"))
	problem(t, s.Free(ctx, s.act(), s.lot, first, s.product, "", 1, ""), "bars")
	assert.Equal(t, []int{0, 0, 6}, []int{s.of(s.product).Labelled, s.of(s.product).Reserved, s.of(s.product).Shared})

	story := fmt.Sprint(s.lot_().Story())
	for _, words := range []string{"5 for 3 first grade as Slate and lamp", "4 first grade as Slate and lamp for Quay fair",
		"-2 first grade, sold, Slate and lamp, market, Quay fair"} {
		assert.Contains(t, story, words)
	}
}

func (s stand) lot_() *lot.Lot { return s.bench.lot(s.lot) }

func TestReferenceBarsAreNeverOffered(t *testing.T) {
	s := onTheStand(t)
	require.NoError(t, s.KeepReference(ctx, s.on(s.lot), s.lot, 2, "top shelf"))
	assert.Equal(t, []int{7, 2}, []int{s.of(s.product).Shared, s.of(s.product).Aside})
	problem(t, s.sells(8), "bars")
	assert.Contains(t, problem(t, s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Gift, 8, ""), "count"), "2 are kept for reference")
	require.NoError(t, s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Spoiled, 8, "the flood"), "what is spoiled can be one of them")
}

func TestNothingIsSoldBeforeItsReleaseAndNothingThatIsHeld(t *testing.T) {
	s := onTheStand(t)
	young := s.startedOf(s.recipe)
	s.made(young)
	stall, err := s.ReadyStock(ctx)
	require.NoError(t, err)
	for _, one := range stall.Available[s.product] {
		if one.Lot == young {
			assert.NotEmpty(t, one.Ready)
			assert.Zero(t, one.Offered())
		}
	}
	err = s.Sell(ctx, s.act(), young, selling.Sale{Kind: first, Product: s.product, Reason: ledger.Sold, Bars: 1})
	assert.ErrorContains(t, err, "not released")
	require.NoError(t, s.Reserve(ctx, s.act(), young, first, s.product, selling.For{Kind: "person", Name: "Ada"}, 2), "put by it may be")

	require.NoError(t, s.SetHold(ctx, s.on(s.lot), s.lot, true, "a complaint"))
	assert.Error(t, s.sells(1))
	assert.Equal(t, "a complaint", s.of(s.product).Blocked)
}

// Soap of one family's own milk goes to that family and to nobody else, and so does what its scraps are in.
func TestAFamilysBarsGoOnlyToItsOwnOrder(t *testing.T) {
	s := onTheStand(t)
	family := selling.For{Kind: "family", Name: "the Hallorans"}
	assert.Contains(t, problem(t, s.Reserve(ctx, s.act(), s.lot, first, "", family, 2), "for_kind"), "for anybody")
	require.NoError(t, s.SetMark(ctx, s.on(s.lot), s.lot, lot.NotForSale, true, "of the Hallorans' own milk"))
	problem(t, s.sells(1), "bars")
	problem(t, s.sells(1, func(w *selling.Sale) { w.Reason = ledger.Gift }), "bars")
	problem(t, s.Reserve(ctx, s.act(), s.lot, first, "", selling.For{Kind: "market", Name: "fair"}, 2), "for_kind")
	require.NoError(t, s.Reserve(ctx, s.act(), s.lot, first, "", family, 6))
	others := selling.For{Kind: "family", Name: "the Byrnes"}
	assert.Contains(t, problem(t, s.Reserve(ctx, s.act(), s.lot, first, "", others, 1), "for"), "Hallorans’s")
	stall, err := s.ReadyStock(ctx)
	require.NoError(t, err)
	require.NoError(t, s.sells(6, func(w *selling.Sale) { w.Product, w.For, w.Buyer = "", stall.Reservations[0].OID, "the Hallorans" }))
	problem(t, s.sells(1, func(w *selling.Sale) { w.Product = "" }), "bars")
}

// Whoever asks in how many tabs: of nine bars nine are sold, and one sending counts once.
func TestNineBarsAreSoldNineTimesFromAnyNumberOfTabs(t *testing.T) {
	s := onTheStand(t)
	var sold atomic.Int32
	var wait sync.WaitGroup
	for range 24 {
		act := s.act()
		wait.Go(func() {
			w := selling.Sale{Kind: first, Product: s.product, Reason: ledger.Sold, Bars: 1}
			if s.Sell(ctx, act, s.lot, w) == nil && assert.NoError(t, s.Sell(ctx, act, s.lot, w), "the same press again") {
				sold.Add(1)
			}
		})
	}
	wait.Wait()
	assert.EqualValues(t, 9, sold.Load())
	assert.Zero(t, s.lot_().Balance[first])
}

// Whatever is labelled, put by, freed, sold, moved and diced: bars bound are never more than there are, and the bound
// ones are the sum of what was bound.
func TestTheBoundBarsAreTheSumOfTheirWords(t *testing.T) {
	s := onTheStand(t)
	hearth := s.keeps(product.Product{Name: "Hearth", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.First}, Net: 90})
	rapid.Check(t, func(r *rapid.T) {
		n := rapid.IntRange(1, 4).Draw(r, "bars")
		p := rapid.SampledFrom([]string{s.product, hearth, ""}).Draw(r, "product")
		stall, err := s.ReadyStock(ctx)
		require.NoError(t, err)
		to := ""
		if len(stall.Reservations) > 0 && rapid.Bool().Draw(r, "put by") {
			to = rapid.SampledFrom(stall.Reservations).Draw(r, "for").OID
		}
		// What is refused leaves nothing behind; what is not must add up.
		_ = []func() error{
			func() error {
				who := rapid.SampledFrom([]string{"Ada", "Bo"}).Draw(r, "who")
				return s.Reserve(ctx, s.act(), s.lot, first, p, selling.For{Kind: "person", Name: who}, n)
			},
			func() error { return s.Free(ctx, s.act(), s.lot, first, p, to, n, "") },
			func() error { return s.sells(n, func(w *selling.Sale) { w.Product, w.For = p, to }) },
			func() error { return s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Returned, n, "") },
			func() error { return s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Gift, n, "") },
			func() error { _, err := s.Print(ctx, s.act(), s.label(), n, n); return err },
		}[rapid.IntRange(0, 5).Draw(r, "what")]()
		l := s.lot_()
		bound, words := 0, 0
		for _, one := range l.Bound {
			bound += one.Bars
		}
		for _, one := range l.Bindings {
			words += one.Change
		}
		if bound != words || bound > l.Balance[first] {
			r.Fatalf("%d bound of %d, by %d words", bound, l.Balance[first], words)
		}
	})
}

func TestALabelIsRefusedForWhatIsNotTrueOfTheLot(t *testing.T) {
	s := onTheStand(t)
	refused := func(change func(*product.Product)) string {
		t.Helper()
		p := product.Product{Name: "Slate and lamp", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.First}, Net: 95}
		change(&p)
		history, err := s.ProductHistory(ctx, s.product)
		require.NoError(t, err)
		_, err = s.KeepProduct(ctx, s.act(), s.product, history[0].Number, p)
		require.NoError(t, err)
		_, err = s.Print(ctx, s.act(), s.label(), 1, 1)
		if err == nil {
			return ""
		}
		return err.Error()
	}
	assert.Empty(t, refused(func(*product.Product) {}))
	assert.Contains(t, refused(func(p *product.Product) { p.Net = 104 }), "the marked bar weighs 103.6 g, and the label says 104 g")
	assert.Contains(t, refused(func(p *product.Product) { p.Net = 103.5 }), "will dry to")
	assert.Contains(t, refused(func(p *product.Product) { p.Wording = "Repels midges." }), "“Repels midges” needs testing and approval")
	assert.Empty(t, refused(func(p *product.Product) { p.Wording, p.Approval = "Repels midges.", "B-1" }))
	assert.Empty(t, refused(func(p *product.Product) { p.Wording = "Vegan and unscented." }), "olive and coconut, and nothing else")
	long := refused(func(p *product.Product) { p.Wording = strings.Repeat("A bar for the kitchen sink. ", 40) })
	assert.Contains(t, long, "too high for the label")
	assert.Contains(t, refused(func(p *product.Product) { p.Retired = true }), "not sold any more")

	_, err := s.Print(ctx, s.act(), s.label(), 2, 1)
	problem(t, err, "labels")
	require.NoError(t, s.SetMark(ctx, s.on(s.lot), s.lot, lot.Recalled, true, "a letter"))
	assert.Contains(t, refused(func(*product.Product) {}), "is called back: a letter")
	require.NoError(t, s.SetMark(ctx, s.on(s.lot), s.lot, lot.Recalled, false, "the wrong lot"))
	rules := label.UsualRules()
	require.NoError(t, s.KeepLabelRules(ctx, s.act(), rules))
	assert.Contains(t, refused(func(*product.Product) {}), "name and address")
}

// Scraps of a lot with honey take "vegan" from the lot that they are in, and their scent must be declared; what the
// supplier says of the delivery that was weighed counts before what is said of all of it.
func TestALabelKnowsTheScrapsAndTheDeliveryThatWasWeighed(t *testing.T) {
	s := onTheStand(t)
	f := formula()
	f.Name, f.Additives = "Honey and fig", []additive.Use{
		{Name: "Honey", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 1, Density: 1.4},
		{Name: "Fig leaf", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 3, Density: 1, Behaviour: additive.Behaves},
	}
	_, honey := s.startedWith(f)
	figKey := plan.Key("additive:fig leaf")
	bottle := s.came(figKey, "Fig leaf", "F-7", 500, 3000)
	s.throughBy(honey, s.out)
	require.NoError(t, s.RecordPour(ctx, s.on(honey), honey, lot.Pour{Trace: "light"}))
	s.now = s.now.AddDate(0, 0, 1)
	require.NoError(t, s.RecordUnmold(ctx, s.on(honey), honey, lot.Unmolding{Gel: "full"}, false, ""))
	require.NoError(t, s.RecordCut(ctx, s.on(honey), honey,
		lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, BarG: 118, TrimmingsG: 300}, ""))
	got, err := s.LotLabel(ctx, honey)
	require.NoError(t, err)
	assert.Equal(t, []string{"Fig leaf"}, got.Undeclared)
	assert.NotContains(t, got.Marks, "vegan")

	require.NoError(t, s.Declare(ctx, s.act(), figKey, "", label.Declaration{Allergens: []label.Share{{Name: "Linalool", Percent: 4}}}))
	got, err = s.LotLabel(ctx, honey)
	require.NoError(t, err)
	require.Len(t, got.Allergens, 1)
	general := got.Allergens[0].Percent
	require.NoError(t, s.Declare(ctx, s.act(), "", bottle, label.Declaration{Allergens: []label.Share{{Name: "Linalool", Percent: 8}}}))
	got, err = s.LotLabel(ctx, honey)
	require.NoError(t, err)
	assert.InDelta(t, 2*general, got.Allergens[0].Percent, 1e-9, "its own certificate says twice as much")

	second := s.startedOf(s.recipe)
	require.NoError(t, s.CarryIn(ctx, s.on(second), second, s.bench.lot(honey).Code, "trimmings", 250))
	s.made(second)
	mixed, err := s.LotLabel(ctx, second)
	require.NoError(t, err)
	assert.NotContains(t, mixed.Marks, "vegan")
	assert.NotContains(t, mixed.Marks, "unscented")
	require.Len(t, mixed.Allergens, 1)
	poured := s.bench.lot(second).PotNow().Whole()
	assert.InDelta(t, got.Allergens[0].Percent*250/(poured*0.88+250), mixed.Allergens[0].Percent, 0.02)
	alone, err := s.LotLabel(ctx, s.lot)
	require.NoError(t, err)
	assert.Contains(t, alone.Marks, "vegan")
	assert.Contains(t, mixed.Text(), "Mel")
	assert.NotContains(t, alone.Text(), "Mel")

	_, err = s.KeepMaterial(ctx, s.act(), "", 0, inventory.Material{Key: "additive:honey", Name: "Honey", Kind: inventory.Additive,
		Unit: inventory.Milligrams, Label: "Raw Honey"})
	require.NoError(t, err)
	mixed, err = s.LotLabel(ctx, second)
	require.NoError(t, err)
	assert.Contains(t, mixed.Text(), "Raw Honey", "as the shop calls it")

	require.NoError(t, s.Declare(ctx, s.act(), figKey, "", label.Declaration{None: true}))
	require.NoError(t, s.Declare(ctx, s.act(), "", bottle, label.Declaration{None: true}))
	none, err := s.LotLabel(ctx, honey)
	require.NoError(t, err)
	assert.Empty(t, none.Undeclared)
	assert.Empty(t, none.Allergens)
	problem(t, s.Declare(ctx, s.act(), figKey, "", label.Declaration{}), "allergens")
}

func TestARunOfLabelsStaysAsItWasPrinted(t *testing.T) {
	s := onTheStand(t)
	oid, err := s.Print(ctx, s.act(), s.label(), 2, 3)
	require.NoError(t, err)
	again, err := s.Print(ctx, s.act(), s.label(), 0, 1)
	require.NoError(t, err, "one more for the file binds no bar")
	assert.NotEqual(t, oid, again)
	history, err := s.ProductHistory(ctx, s.product)
	require.NoError(t, err)
	changed := history[0].Product
	changed.Net, changed.Wording = 90, "Another word."
	_, err = s.KeepProduct(ctx, s.act(), s.product, 1, changed)
	require.NoError(t, err)
	runs, err := s.Runs(ctx, "", oid, 1)
	require.NoError(t, err)
	require.Len(t, runs, 1)
	assert.InDelta(t, 95, runs[0].Printed.Net, 1e-9)
	assert.Equal(t, 1, runs[0].Number)
	text := ""
	for _, l := range runs[0].Printed.Lines {
		text += l.Text + " "
		assert.GreaterOrEqual(t, l.Size, tag.SizeOf(1.6)-1e-9, "no letter is under the least")
	}
	for _, words := range []string{"Slate and lamp", "95 g", "Olea Europaea Fruit Oil", "Lot " + s.lot_().Code, "1 Quay Street"} {
		assert.Contains(t, text, words)
	}
	assert.Len(t, s.lot_().LabelRuns, 2)

	file, err := s.ProductFile(ctx, s.product)
	require.NoError(t, err)
	require.Len(t, file.Recipes, 1)
	require.Len(t, file.Lots, 1)
	assert.Equal(t, 4, file.Lots[0].Labels)
}

func TestAShopThatNeedsAnAssessmentSellsNothingOutsideOfIt(t *testing.T) {
	s := onTheStand(t)
	rules, err := s.LabelRules(ctx)
	require.NoError(t, err)
	rules.Assessed = true
	require.NoError(t, s.KeepLabelRules(ctx, s.act(), rules))
	assert.Contains(t, problem(t, s.sells(1), "reason"), "no safety assessment")
	assert.Contains(t, problem(t, s.MoveBars(ctx, s.on(s.lot), s.lot, first, ledger.Sold, 1, ""), "reason"), "no safety assessment")
	assert.Equal(t, "its recipe has no safety assessment", s.of(s.product).Blocked)
	require.NoError(t, s.sells(1, func(w *selling.Sale) { w.Reason = ledger.Gift }), "a gift is no sale")

	limits := []assess.Limit{{Name: "Olive oil", Min: 60, Max: 80}, {Name: "Coconut oil", Max: 29}}
	a := assess.Assessment{Reference: "A-9", On: "2026-03-01", By: "T. Orwin", Limits: limits}
	require.NoError(t, s.Assess(ctx, s.act(), s.recipe, a))
	assert.Contains(t, problem(t, s.sells(1), "reason"), "Coconut oil is 30.04 % of the fats, and the assessment allows up to 29 %")
	doubts, err := s.Doubts(ctx, s.recipe, formula(), 1000)
	require.NoError(t, err)
	require.Len(t, doubts, 1)
	a.Limits[1].Max = 30.02 // as planned it is within, as weighed not
	require.NoError(t, s.Assess(ctx, s.act(), s.recipe, a))
	problem(t, s.sells(1), "reason")
	assert.Contains(t, s.of(s.product).Blocked, "30.04 % of the fats", "and the page says what the sale does")
	a.Limits[1].Max = 30.5
	require.NoError(t, s.Assess(ctx, s.act(), s.recipe, a))
	require.NoError(t, s.sells(1))
	a.Withdrawn = true
	require.NoError(t, s.Assess(ctx, s.act(), s.recipe, a))
	problem(t, s.sells(1), "reason")
	problem(t, s.Assess(ctx, s.act(), s.recipe, assess.Assessment{}), "reference")
	assert.Error(t, s.Assess(ctx, s.act(), "nothing", a))
}

// The plan says it before anything is weighed.
func TestAPlanOutsideOfItsAssessmentIsWarnedOf(t *testing.T) {
	b, o, _ := planned(t)
	limits := []assess.Limit{{Name: "Olive oil", Min: 0, Max: 1}}
	require.NoError(t, b.Assess(ctx, b.act(), o.Recipe, assess.Assessment{Reference: "A", On: "2026-03-01", By: "T", Limits: limits}))
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(w.Plan.Cautions), "sale.assessment")
}

func TestAProductIsRefusedWhatCannotBe(t *testing.T) {
	s := onTheStand(t)
	p := product.Product{Name: " slate AND lamp", Recipes: []string{s.recipe}, Grades: []ledger.Grade{ledger.First}, Net: 95}
	_, err := s.KeepProduct(ctx, s.act(), "", 0, p)
	assert.Contains(t, problem(t, err, "name"), "called so already")
	p.Retired = true
	_, err = s.KeepProduct(ctx, s.act(), "", 0, p)
	require.NoError(t, err, "an old one may have the name")
	_, err = s.KeepProduct(ctx, s.act(), s.product, 7, product.Product{Name: "X", Recipes: []string{s.recipe},
		Grades: []ledger.Grade{ledger.First}, Net: 95})
	assert.ErrorContains(t, err, "was changed by")
	half := ledger.Kind{Size: "half", Grade: ledger.First}
	problem(t, s.Reserve(ctx, s.act(), s.lot, half, s.product, selling.For{Kind: "order", Name: "x"}, 1), "bars")
	problem(t, s.Reserve(ctx, s.act(), s.lot, first, s.product, selling.For{Kind: "fairy", Name: "x"}, 1), "for_kind")
	problem(t, s.Reserve(ctx, s.act(), s.lot, first, s.product, selling.For{Kind: "order", Day: "soon"}, 1), "for")
	problem(t, s.sells(0), "bars")
	problem(t, s.sells(1, func(w *selling.Sale) { w.Reason = ledger.Recount }), "reason")
}
