package plans

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/planning"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// planDraft is what is typed on the plan bench: one for the shop.
var planDraft = journal.OfOne("plan")

type newPlanPage struct {
	Form    *page.Form
	Recipes []page.Option
	Bys     []page.Option
	Molds   []planMold
	Rules   []page.Option
	Pots    []page.Option
	Jugs    []page.Option
	Cookers []page.Option
	Stocks  []page.Option
	Blends  []page.Option
	Waters  []page.Option
	Answers planAnswers
	Open    []planning.Plan
	AllOpen int
	Days    []dayLink
	Ready   bool // there is a recipe to plan with
}

type planMold struct {
	catalog.Mold
	Draw  draw.Mold
	Holds float64
	Bars  int
	Cuts  []page.Option // ways to cut it this once
}

// planAnswers is the plan as it stands.
type planAnswers struct {
	OK       bool
	Problems caution.Problems
	Worked   planning.ComputedPlan
	Pot      plan.Plan
	Bars     int
	System   unit.System
	Blocked  bool
	UseUp    []page.Option // what can be used up
	Detail   planDetail
	Stories  []page.StoryTold // what went wrong before with something of it
	Next     []lots.NextTime
	Asked    supply.Asked
	Groups   *potGroups // unequal pots that serve better; nil where equal ones do
}

// pourStep is a step of the design with what it pours of one pot.
type pourStep struct {
	recipe.Step
	Pours string // empty where nothing is poured
}

// planDetail is what follows from a plan, kept or not, for showing.
type planDetail struct {
	Split   *draw.Picture
	Cuts    []cutLine
	Habits  []habitLine
	More    []planning.More
	Steps   []pourStep
	Recipe  string // address of its bench
	Portion []plan.PortionSize
	Facts   []page.Fact
	Thinned *recipe.Thinned // of a pot
	Piece   string          // what is counted: bar, jar
	Trial   string          // address of a trial of the same recipe
}

// cutLine is one mold's bars in words.
type cutLine struct {
	Mold, How string
	Count     int // of the whole order
	RawG      float64
	CuredG    float64
	Marks     []string
	Ends      int
	EndG      float64
	Label     bool
	StaysG    float64 // g above the label, or short of it
	Short     bool
}

type habitLine struct {
	plan.Habit
	Chosen bool
	Height string // how far above or below the line
}

func (s *Room) newPlan(w http.ResponseWriter, r *http.Request) error {
	c, err := s.Shop.Draft(r.Context(), planDraft)
	if err != nil {
		return err
	}
	f := orderForm(planning.DefaultOrder(page.SessionOf(r).Settings), page.SessionOf(r).System)
	if c != nil {
		f.Values = url.Values(c.Form)
	}
	q := r.URL.Query()
	if oid := q.Get("again"); oid != "" {
		if err := s.sameAgain(r, f, oid, q.Get("times")); err != nil {
			return err
		}
	}
	// A link from a recipe, a mold or a plan chooses it.
	for _, name := range []string{"recipe", "by", "day", "use_up.name", "use_up.grams"} {
		if v := q.Get(name); v != "" {
			f.Set(name, v)
		}
	}
	if v := q.Get("mold"); v != "" && f.Get("count."+v) == "" {
		f.Set("by", string(planning.ByMolds))
		f.Set("count."+v, "1")
	}
	return s.showPlan(w, r, http.StatusOK, f, nil)
}

// mostTimes is how many times over a lot can be planned at once.
const mostTimes = 20

// sameAgain fills the bench with what an earlier lot was made from, a number of
// times over.
func (s *Room) sameAgain(r *http.Request, f *page.Form, oid, times string) error {
	l, err := s.Shop.Lot(r.Context(), oid)
	if err != nil {
		return err
	}
	n := 1
	if times != "" {
		if n, err = strconv.Atoi(times); err != nil || n < 1 || n > mostTimes {
			return fmt.Errorf("%q times a lot: %w", times, store.ErrNotFound)
		}
	}
	for name := range f.Values {
		if strings.HasPrefix(name, "count.") || strings.HasPrefix(name, "fill.") || strings.HasPrefix(name, "cut.") ||
			strings.HasPrefix(name, "thick.") {
			f.Values.Del(name)
		}
	}
	f.Set("recipe", l.Recipe)
	f.Set("by", string(planning.ByMolds))
	if err := s.sameStocks(r, f, l); err != nil {
		return err
	}
	known := false
	for _, m := range l.Frozen.Molds {
		if m.OID != "" {
			known = true
			f.Set("count."+m.OID, strconv.Itoa(n*m.Count))
		}
	}
	if !known {
		f.Set("by", string(planning.ByFats))
		f.Set("fats_g", unit.FieldMass(float64(n)*l.Frozen.Pot.FatsG, f.System))
	}
	return nil
}

// sameStocks has the bench draw from what a lot drew from, where that is still in use.
func (s *Room) sameStocks(r *http.Request, f *page.Form, l *lot.Lot) error {
	for field, oid := range map[string]string{"stock": l.Frozen.Stock, "fat_stock": l.Frozen.FatStock} {
		f.Set(field, "")
		if oid == "" {
			continue
		}
		one, err := s.Shop.StockByOID(r.Context(), oid)
		if err != nil {
			return err
		}
		if one.Status == store.InUse && one.Balance > 0 {
			f.Set(field, oid)
		}
	}
	f.Set("stock_share", "")
	if share := l.Frozen.Request.StockShare; share > 0 && f.Get("stock") != "" {
		f.Set("stock_share", unit.Trim(share, 1))
	}
	return nil
}

// orderForm writes an order's settings into an empty bench.
func orderForm(o planning.Order, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	f.Set("by", string(o.By))
	f.Set("fill_rule", string(o.Rule))
	f.Set("fats_g", unit.FieldMass(o.FatsG, f.System))
	f.Set("pot_loss_percent", unit.Trim(o.PotLoss, 2))
	f.Set("risky_load_percent", unit.Trim(o.RiskyLoad, 0))
	f.Set("resolution_g", unit.FieldMass(o.Scales.Resolution, f.System))
	if o.Scales.FineStep > 0 {
		f.Set("fine_step_g", unit.FieldMass(o.Scales.FineStep, f.System))
		f.Set("fine_max_g", unit.FieldMass(o.Scales.FineMax, f.System))
	}
	f.Set("label.margin", unit.Trim(o.Label.Margin, 1))
	f.Set("liquid_temperature_c", unit.FieldTemperature(o.LiquidC, sys))
	return f
}

func (s *Room) showPlan(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	b := newPlanPage{
		Form:   f,
		Bys:    page.Options(planning.TargetKinds()),
		Rules:  page.Options(plan.FillRules()),
		Waters: append([]page.Option{{Value: "", Label: "as the recipe says"}}, page.Options(recipe.Bases())...),
	}
	recipes, err := s.Shop.Recipes(r.Context())
	if err == nil {
		most := page.MostPlans
		if r.FormValue("open") == "all" {
			most = 0
		}
		b.Open, b.AllOpen, err = s.Shop.OpenPlans(r.Context(), most)
	}
	var tools []catalog.Tool
	if err == nil {
		tools, err = s.Shop.Tools(r.Context())
	}
	var molds []catalog.Mold
	if err == nil {
		molds, err = s.Shop.Molds(r.Context())
	}
	if err == nil {
		b.Days, err = s.dayLinks(r)
	}
	if err != nil {
		return err
	}
	b.Recipes = []page.Option{{Value: "", Label: "choose a recipe"}}
	for _, one := range recipes {
		if one.Life != recipe.Retired || one.OID == f.Get("recipe") {
			b.Recipes = append(b.Recipes, page.Option{Value: one.OID, Label: one.Name})
		}
	}
	b.Ready = len(b.Recipes) > 1
	b.Pots, b.Jugs, b.Cookers = page.ToolOptions(
		tools,
		document.Pot,
		"by the weight beside",
	), page.ToolOptions(
		tools,
		document.Jug,
		"any",
	), page.ToolOptions(
		tools,
		document.Cooker,
		"none",
	)
	b.Molds = planMolds(molds, tools, f)
	stocks, err := s.Shop.Stocks(r.Context(), false)
	if err != nil {
		return err
	}
	b.Stocks, b.Blends = []page.Option{{Value: "", Label: "weighed dry"}}, []page.Option{{Value: "", Label: "each by itself"}}
	for _, one := range stocks {
		o := page.Option{Value: one.OID, Label: fmt.Sprintf("%s: %s, %s g", one.Code, one.Contents(), unit.Trim(one.Balance, 0))}
		if one.Kind == document.Fats {
			o.Label = fmt.Sprintf("%s: %s, %s g", one.Code, one.Container, unit.Trim(one.Balance, 0))
			b.Blends = append(b.Blends, o)
		} else {
			b.Stocks = append(b.Stocks, o)
		}
	}
	b.Answers, err = s.answersForPlan(r, f, status != http.StatusOK)
	if err != nil {
		return err
	}
	return s.Show(w, r, status, "plan", "Plan", "Plan", notice, b)
}

// planMolds are the molds to plan with; a retired one only where it is counted
// already.
func planMolds(molds []catalog.Mold, tools []catalog.Tool, f *page.Form) []planMold {
	molds = slices.DeleteFunc(slices.Clone(molds), func(m catalog.Mold) bool { return m.Retired && f.Get("count."+m.OID) == "" })
	all := make([]mold.Mold, len(molds))
	for i, m := range molds {
		all[i] = m.Mold
	}
	scale := draw.CommonScale(all)
	var out []planMold
	for _, m := range molds {
		bars := m.Cuts()
		one := planMold{Mold: m, Draw: draw.OfMold(m.Mold, bars, scale), Holds: m.Mold.Volume(), Bars: bars.Count}
		if !m.Mold.Single() && m.Mold.Shape != mold.Water {
			one.Cuts = append(
				[]page.Option{
					{Value: "", Label: "as usual"},
					{Value: "label", Label: "as the label wants it"},
					{Value: "thickness", Label: "at a thickness"},
				},
				page.CutterOptions(tools, "")[1:]...)
		}
		out = append(out, one)
	}
	return out
}

// readOrder reads the plan bench.
func readOrder(f *page.Form) (o planning.Order) {
	o.Recipe, o.Rule, o.By, o.Day = f.Get("recipe"), plan.FillRule(f.Get("fill_rule")), planning.TargetKind(f.Get("by")), f.Day("day")
	o.PotLoss = page.IfTyped(f, "pot_loss_percent", f.Number, 0)
	o.PotCapacity = page.IfTyped(f, "pot_capacity_g", f.Mass, 0)
	o.RiskyLoad = page.IfTyped(f, "risky_load_percent", f.Number, 0)
	o.Stock, o.StockShare, o.FatStock = f.Get("stock"), page.IfTyped(f, "stock_share", f.Number, 0), f.Get("fat_stock")
	o.Pot, o.Jug, o.Cooker = f.Get("pot"), f.Get("jug"), f.Get("cooker")
	o.Scales = plan.Scales{
		Resolution: f.Mass("resolution_g"),
		FineStep:   page.IfTyped(f, "fine_step_g", f.Mass, 0),
		FineMax:    page.IfTyped(f, "fine_max_g", f.Mass, 0),
	}
	o.LiquidC = f.Temperature("liquid_temperature_c")
	o.Label = mold.Label{
		Grams:  page.IfTyped(f, "label.grams", f.Mass, 0),
		Loss:   page.IfTyped(f, "label.loss", f.Number, 0),
		Margin: page.IfTyped(f, "label.margin", f.Number, 0),
	}
	if f.Get("scraps.grams") != "" {
		o.Scraps = &plan.Scraps{
			Grams:       f.Mass("scraps.grams"),
			FatsPercent: page.IfTyped(f, "scraps.fats_percent", f.Number, plan.UsualScrapFats),
			Density:     page.IfTyped(f, "scraps.density_g_per_ml", f.Number, plan.UsualScrapDensity),
		}
	}
	if basis := recipe.Basis(f.Get("water.basis")); basis != "" {
		o.Water = &recipe.Water{Basis: basis, Value: f.Number("water.value")}
	}
	switch o.By {
	case planning.ByBars:
		o.Bars = f.Count("bars")
		o.Label.Grams = f.Mass("label.grams")
	case planning.ByUseUp:
		o.UseUp = plan.Ingredient{Name: f.Get("use_up.name"), Grams: f.Mass("use_up.grams")}
	case planning.ByTrial, planning.ByFats:
		o.FatsG = f.Mass("fats_g")
	case planning.ByBatter:
		o.Batter = f.Mass("batter_g")
	}
	readMoldCounts(f, &o)
	if o.Recipe == "" {
		f.Problems.Add("recipe", "choose what to make")
	}
	return o
}

func readMoldCounts(f *page.Form, o *planning.Order) {
	for name := range f.Values {
		oid, ok := strings.CutPrefix(name, "count.")
		if !ok || f.Get(name) == "" {
			continue
		}
		m := planning.OrderMold{OID: oid, Count: f.Count(name), Fill: page.IfTyped(f, "fill."+oid, f.Length, 0)}
		switch how := f.Get("cut." + oid); how {
		case "":
		case "label":
			m.Cut.Label = true
		case "thickness":
			m.Cut.Thickness = f.Length("thick." + oid)
		default:
			m.Cut.Cutter = how
		}
		o.Molds = append(o.Molds, m)
	}
	slices.SortFunc(o.Molds, func(a, b planning.OrderMold) int { return cmp.Compare(a.OID, b.OID) })
}

// nothingYet reports whether an order lacks what it would be counted by, which
// on a fresh bench is no mistake.
func nothingYet(f *page.Form, o planning.Order) bool {
	if o.Recipe == "" {
		return true
	}
	switch o.By {
	case planning.ByBars:
		return f.Get("bars") == "" || f.Get("label.grams") == ""
	case planning.ByUseUp:
		return f.Get("use_up.name") == "" || f.Get("use_up.grams") == ""
	case planning.ByTrial, planning.ByFats:
		return f.Get("fats_g") == ""
	case planning.ByBatter:
		return f.Get("batter_g") == ""
	}
	return len(o.Molds) == 0
}

// answersForPlan works the order out. Problems stay beside their fields; while
// nothing was sent, an empty bench is not a mistake.
func (s *Room) answersForPlan(r *http.Request, f *page.Form, sent bool) (planAnswers, error) {
	had := f.Problems
	f.Problems = nil
	o := readOrder(f)
	a := planAnswers{System: f.System}
	if o.Recipe != "" {
		if history, err := s.Shop.RecipeHistory(r.Context(), o.Recipe); err == nil {
			a.UseUp = useUpOptions(history[0].Formula)
		} else if !errors.Is(err, store.ErrNotFound) {
			return a, err
		}
	}
	if !sent && nothingYet(f, o) {
		f.Problems = nil
		return a, nil
	}
	if len(f.Problems) == 0 {
		w, err := s.Shop.ComputePlan(r.Context(), o)
		var p caution.Problems
		switch {
		case errors.As(err, &p):
			for _, q := range p {
				f.Problems.Add(planField(q.Path), "%s", q.Text)
			}
		case err != nil:
			return a, err
		default:
			a.OK, a.Worked, a.Pot, a.Bars = true, w, w.Plan.Pot(), w.Bars()
			a.Blocked = len(caution.Blocks(w.Plan.Cautions)) > 0
			if a.Detail, err = detailOf(w.PlanBody, o.Recipe); err != nil {
				return a, err
			}
			a.Detail.More = w.OneMore()
			room, err := s.Shop.Storeroom(r.Context())
			if err != nil {
				return a, err
			}
			a.Asked = room.Ask(w.PlanBody, w.Plan.Batches, false)
			if a.Groups, err = s.groupsOf(r, o); err != nil {
				return a, err
			}
			if a.Next, err = s.Shop.NextTime(r.Context(), o.Recipe, ""); err != nil {
				return a, err
			}
			if a.Stories, err = s.Told(r, page.Subjects(o.Recipe, w.Sheet)); err != nil {
				return a, err
			}
		}
	}
	for _, p := range had {
		if f.Problems.At(p.Path) == "" {
			f.Problems = append(f.Problems, p)
		}
	}
	a.Problems = f.Problems
	return a, nil
}

// groupsOf draws what an order is better made as: pots of their own for its kinds of molds.
func (s *Room) groupsOf(r *http.Request, o planning.Order) (*potGroups, error) {
	list, err := s.Shop.Groups(r.Context(), o)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	g := potGroups{Plans: len(list)}
	var pots []draw.SplitPot
	for _, w := range list {
		pots = append(pots, splitPots(w.PlanBody)...)
	}
	for i := range pots {
		pots[i].Name = fmt.Sprintf("Pot %d", i+1)
	}
	g.Drawn = draw.OfSplit(pots)
	return &g, nil
}

// potGroups are unequal pots in place of equal ones.
type potGroups struct {
	Plans int
	Drawn draw.Picture
}

// planField is the field of the bench that a problem of the plan belongs to.
func planField(path string) string {
	switch path {
	case "target.ingredient.name", "target.ingredient.grams":
		return "use_up." + strings.TrimPrefix(path, "target.ingredient.")
	case "target.fats_g", "target.batter_g":
		return strings.TrimPrefix(path, "target.")
	case "recipe.water.value":
		return "water.value"
	case "lye_stock.share":
		return "stock_share"
	}
	if strings.HasPrefix(path, "lye_stock.") {
		return "stock"
	}
	if rest, ok := strings.CutPrefix(path, "mold."); ok {
		oid, _, _ := strings.Cut(rest, ".")
		return "fill." + oid
	}
	return path
}

// useUpOptions are the ingredients of a recipe, by name.
func useUpOptions(f recipe.Formula) []page.Option {
	var out []page.Option
	for _, s := range f.Fats {
		out = append(out, page.Option{Value: s.Fat.Key(), Label: s.Fat.Name})
	}
	for _, l := range f.Liquids {
		out = append(out, page.Option{Value: l.Liquid.Slug, Label: l.Liquid.Name})
	}
	for _, u := range f.Uses() {
		out = append(out, page.Option{Value: u.Key(), Label: u.Key()})
	}
	return out
}

// Cutting reports whether bars are known of any of the molds.
func (d planDetail) Cutting() bool {
	return slices.ContainsFunc(d.Cuts, func(c cutLine) bool { return c.Count > 0 })
}

// detailOf works out what is shown of a plan besides its weights.
func detailOf(b document.PlanBody, recipeOID string) (d planDetail, err error) {
	f := b.Request.Formula
	d.Recipe, d.Portion = "/recipes/"+recipeOID, plan.PortionsOf(f, b.Plan.Pot())
	sizes := plan.DesignPours(f, b.Plan.Pot(), b.Request.Reaches())
	for i, step := range f.DesignSteps() {
		d.Steps = append(d.Steps, pourStep{step, sizes[i].Words()})
	}
	d.Trial = "/plan?by=trial&recipe=" + recipeOID
	form, _ := lot.FormIn(f, b.Molds)
	d.Thinned, d.Piece = plan.Thinned(f, b.Plan.Pot()), form.Piece()
	for i, c := range b.Cuts {
		m := b.Molds[i]
		line := cutLine{
			Mold:   m.Name,
			Count:  c.Count * m.Count,
			RawG:   c.RawG,
			CuredG: c.CuredG,
			Ends:   c.Ends * m.Count,
			How:    cutWords(c),
		}
		if c.Ends > 0 {
			line.EndG = c.EndG / float64(c.Ends)
		}
		for _, at := range c.Marks {
			line.Marks = append(line.Marks, page.MarkWords(at))
		}
		if b.Label.Grams > 0 && c.Count > 0 {
			line.Label, line.StaysG = true, math.Abs(c.CuredG-b.Label.Grams)
			line.Short = c.Stays < -0.005
		}
		d.Cuts = append(d.Cuts, line)
	}
	if len(b.Split) > 1 { // one pot fills them all, which needs no picture
		split := draw.OfSplit(splitPots(b))
		d.Split = &split
	}
	habits, err := b.Request.Habits(b.Plan.Batches)
	if err != nil {
		return d, fmt.Errorf("fill habits: %w", err)
	}
	for _, h := range habits {
		line := habitLine{Habit: h, Chosen: h.Rule == b.Request.Rule, Height: "to the line"}
		if mm := unit.Trim(h.MM, 1); mm != "0" {
			line.Height = strings.TrimPrefix(mm, "-") + " mm above the line"
			if h.MM < 0 {
				line.Height = strings.TrimPrefix(mm, "-") + " mm below the line"
			}
		}
		d.Habits = append(d.Habits, line)
	}
	return d, nil
}

func cutWords(c document.CutPlan) string {
	switch {
	case c.Thickness == 0:
		return "as they come"
	case c.Cutter != "":
		return c.Cutter + ", " + unit.Trim(c.Thickness, 1) + " mm"
	case c.Loaves > 1:
		return fmt.Sprintf("%d loaves, %s mm", c.Loaves, unit.Trim(c.Thickness, 1))
	}
	return unit.Trim(c.Thickness, 1) + " mm"
}

// splitPots turns the split of a plan into what is drawn.
func splitPots(b document.PlanBody) []draw.SplitPot {
	pot := b.Plan.Pot()
	load := pot.InPot()
	var out []draw.SplitPot
	for i, shares := range b.Split {
		one := draw.SplitPot{Name: fmt.Sprintf("Pot %d", i+1), Load: unit.Grams(load) + " g"}
		if ml := b.Request.Vessels.Pot.ML; ml > 0 {
			one.Full = pot.VolumeML / ml
		}
		for _, s := range shares {
			one.Molds = append(one.Molds, draw.SplitMold{Name: b.Molds[s.Mold].Name, Count: s.Count})
		}
		out = append(out, one)
	}
	return out
}

func (s *Room) planLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, planDraft)
	if err != nil {
		return err
	}
	live.Names = append(live.Names, "molds", "use_up.name", "thickness")
	if live.Answers, err = s.answersForPlan(r, live.Form, false); err != nil {
		return err
	}
	return s.Render(w, r, http.StatusOK, "plan-live", live)
}

func (s *Room) keepPlan(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if done, err := s.OnlyTyped(w, r, planDraft, "/plan", f); done {
		return err
	}
	o := readOrder(f)
	return s.Record(w, r, f, func() (string, error) {
		keep := s.Shop.KeepPlan
		if r.PostFormValue("do") == "groups" {
			keep = s.Shop.KeepGroups
		}
		oid, err := keep(r.Context(), page.Act(page.Ending(r, planDraft)), o)
		return "/plans/" + oid, err
	}, func(status int, notice *caution.Caution) error {
		if _, err := s.KeepTyped(r, planDraft, f); err != nil {
			return err
		}
		return s.showPlan(w, r, status, f, notice)
	})
}

// rehearse opens a rehearsal of a plan beside the shop.
func (s *Room) rehearse(w http.ResponseWriter, r *http.Request) error {
	if s.Beside != "" || s.Rehearse == nil {
		return store.ErrNotFound // it is one already
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		token, lot, err := s.Rehearse(r.Context(), page.Act(r), chi.URLParam(r, "oid"))
		if err == nil {
			page.SetBeside(w, r, token)
		}
		return "/make/" + lot, err
	}, func(status int, notice *caution.Caution) error {
		return s.showKeptPlan(w, r, status, f, notice)
	})
}

type planPage struct {
	planning.Plan
	Detail  planDetail
	Form    *page.Form
	Pot     plan.Plan
	Blocks  []caution.Caution
	NextPot int
	Volume  float64
	Sure    struct{ Low, High float64 } // of the superfat
	Life    recipe.Life
	Running bool // the sheet has running totals
	Asked   supply.Asked
	Said    planning.Said
}

func (s *Room) plan(w http.ResponseWriter, r *http.Request) error {
	return s.showKeptPlan(w, r, http.StatusOK, &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}, nil)
}

func (s *Room) showKeptPlan(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p, err := s.Shop.Plan(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	shown := planPage{
		Plan:    p,
		Form:    f,
		Pot:     p.PlanBody.Plan.Pot(),
		Blocks:  caution.Blocks(p.PlanBody.Plan.Cautions),
		NextPot: p.NextPot(),
		Volume:  p.Request.Target.Volume(),
		Running: plan.Running(p.Sheet),
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	if shown.NextPot > 0 && !p.Away {
		left := p.PlanBody.Plan.Batches - len(p.Lots)
		shown.Asked = room.Ask(p.PlanBody, left, inventory.Reserves(p.Day, room.Today))
	}
	about := planning.About{Recipe: p.Plan.Recipe, Formula: p.Request.Formula}
	if shown.Said, err = s.Shop.OwnLots(r.Context(), about, p.Molds, p.Request.PotLoss); err != nil {
		return err
	}
	shown.Sure.Low, shown.Sure.High = plan.SuperfatRange(p.Request.Formula, shown.Pot, p.Sheet)
	if shown.Detail, err = detailOf(p.PlanBody, p.Plan.Recipe); err != nil {
		return err
	}
	shown.Detail.Facts = page.ProcessFacts(document.RecipeBody{Formula: p.Request.Formula, Policy: p.Policy.Code}, shown.Said.Window, f.System)
	if f.Get("day") == "" {
		f.Set("day", page.DayWritten(p.Day))
	}
	return s.Show(w, r, status, "weighsheet", "Weigh sheet: "+p.PlanBody.Recipe, "Plan", notice, shown)
}

// sheetFile sends the weigh sheet of a kept plan as CSV, planFile the plan in
// the open format.
func (s *Room) sheetFile(w http.ResponseWriter, r *http.Request) error {
	p, err := s.Shop.Plan(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	return s.Download(w, r, page.FileName(p.PlanBody.Recipe, "-weigh-sheet.csv"), "text/csv; charset=utf-8",
		func(w io.Writer) error { return exchange.WriteSheet(w, p.Sheet) })
}

func (s *Room) planFile(w http.ResponseWriter, r *http.Request) error {
	p, err := s.Shop.Plan(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	return s.Download(w, r, page.FileName(p.PlanBody.Recipe, "-plan.json"), "application/json",
		func(w io.Writer) error { return exchange.WritePlan(w, p.PlanBody.Plan) })
}

// setPlanDay says which day a kept plan is meant for.
func (s *Room) setPlanDay(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	to, on := "/plans/"+oid, f.Day("day")
	if on != "" {
		to = "/plan/day/" + on
	}
	return s.Record(w, r, f, func() (string, error) {
		return to, s.Shop.SetDay(r.Context(), page.Act(r), oid, on)
	}, func(status int, notice *caution.Caution) error {
		return s.showKeptPlan(w, r, status, f, notice)
	})
}

// putAway puts a kept plan away, or takes it out again.
func (s *Room) putAway(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	return s.Record(w, r, f, func() (string, error) {
		return "/plans/" + oid, s.Shop.PutPlanAway(r.Context(), page.Act(r), oid, f.Get("away") == "yes")
	}, func(status int, notice *caution.Caution) error {
		return s.showKeptPlan(w, r, status, f, notice)
	})
}

func (s *Room) startLot(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	pot, err := strconv.Atoi(f.Get("pot"))
	if err != nil {
		pot = 0
	}
	return s.Record(w, r, f, func() (string, error) {
		oid, err := s.Shop.StartLot(r.Context(), page.Act(r), chi.URLParam(r, "oid"), pot, f.Get("override"))
		return "/make/" + oid, err
	}, func(status int, notice *caution.Caution) error {
		return s.showKeptPlan(w, r, status, f, notice)
	})
}

// PlansRoutes are the addresses of plans and days.
func (s *Room) PlansRoutes(r page.Routes) {
	r.Get("/plan", s.newPlan)
	r.Get("/plan/day/{date}", s.day)
	r.Get("/plan/day/{date}/hours", s.hours)
	r.Post("/plan/day/{date}/hours", s.keepHours)
	r.Post("/plan/day/{date}", s.movePlan)
	r.Get("/plans/{oid}/gel", s.gel)
	r.Get("/plans/{oid}/sheet.csv", s.sheetFile)
	r.Get("/plans/{oid}/plan.json", s.planFile)
	r.Post("/plans/{oid}/day", s.setPlanDay)
	r.Post("/plans/{oid}/away", s.putAway)
	r.Post("/plans/{oid}/rehearse", s.rehearse)
	r.Post("/plan/live", s.planLive)
	r.Post("/plan", s.keepPlan)
	r.Get("/plans/{oid}", s.plan)
	r.Post("/plans/{oid}", s.startLot)
}
