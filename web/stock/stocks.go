package stock

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/stock"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// stockCard is a container on the lye bench.
type stockCard struct {
	stock.Stock
	Jug      draw.Jug
	Days     int // old
	Cautions []caution.Caution
}

func (s *Room) cardOf(one stock.Stock, now time.Time, sys unit.System) stockCard {
	c := stockCard{Stock: one, Days: max(0, int(now.Sub(one.Made).Hours()/24))}
	in := draw.JugInput{
		Text:    unit.FormatBriefMass(one.Balance, sys),
		C:       one.C,
		Lye:     one.Kind != document.Fats,
		Stopped: one.Status != store.InUse,
	}
	if one.ML > 0 {
		ml := one.Balance
		if in.Lye {
			ml = one.Lye().Volume(one.Balance)
		}
		in.Level = ml / one.ML
	} else if len(one.Moves) > 0 {
		in.Level = 0.9 * one.Balance / one.Moves[0].Change
	}
	if in.Lye {
		k := one.Lye()
		in.CrystalC = k.Crystal()
		c.Cautions = crystalCautions(k)
	} else {
		for _, x := range one.Blend {
			if fat.Separates(x.Fat) {
				c.Cautions = append(c.Cautions, caution.Caution{Code: "fats.separates", Level: caution.Warn,
					Reason: x.Fat.Name + " parts as it stands.",
					Remedy: "Warm the whole container and stir it through before any is taken."})
			}
		}
	}
	c.Jug = draw.OfJug(in)
	return c
}

// crystalCautions says that a stock is near its crystal point, or below it.
func crystalCautions(k lye.Stock) []caution.Caution {
	var p caution.Problems
	k.Check(&p, "stock")
	for _, q := range p {
		return []caution.Caution{{Code: "lye.crystals", Level: caution.Block, Reason: page.Capital(q.Text) + "."}}
	}
	return k.Advise()
}

type lyeList struct {
	Cards []stockCard
	RoomC float64
	All   bool
}

func (s *Room) lyeRoom(w http.ResponseWriter, r *http.Request) error {
	p := lyeList{RoomC: page.SessionOf(r).RoomC, All: r.URL.Query().Has("all")}
	list, err := s.Shop.Stocks(r.Context(), p.All)
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	for _, one := range list {
		p.Cards = append(p.Cards, s.cardOf(one, now, page.SessionOf(r).System))
	}
	return s.Show(w, r, http.StatusOK, "lye", "Lye", "Lye", nil, p)
}

// What is typed on the benches of the lye room: one of each for the shop.
var fillingDraft, heatDraft, blendDraft = journal.OfOne("filling"), journal.OfOne("heat"), journal.OfOne("blend")

// typedForm reads a bench of the lye room: what was typed on it, or a fresh
// form.
func (s *Room) typedForm(r *http.Request, d journal.Draft, fresh url.Values) (*page.Form, error) {
	f := &page.Form{Values: fresh, System: page.SessionOf(r).System}
	c, err := s.Shop.Draft(r.Context(), d)
	if c != nil {
		f.Values = url.Values(c.Form)
	}
	return f, err
}

// Making a stock.

type fillingPage struct {
	Form      *page.Form
	Answers   fillingAnswers
	Materials []page.Option
	From      []page.Option // deliveries that the alkali is out of
	Wanted    string        // pure alkali that the kept plans want, in words
	Enough    string        // weight of stock for them
}

type fillingAnswers struct {
	OK        bool
	Problems  caution.Problems
	Alkali    float64
	Water     float64
	Name      string
	ML        float64
	PeakC     float64
	LossyC    float64 // with the container's share
	Minutes   float64 // to 30 °C, after which it is capped
	Cautions  []caution.Caution
	Got       float64 // strength from what was weighed, 0 when it was not
	GotOff    float64
	Different bool
}

func freshFilling(roomC float64, sys unit.System) url.Values {
	return url.Values{
		"kind":           {document.NaOH},
		"stock.strength": {"50"},
		"stock.purity":   {"100"},
		"material":       {"hdpe"},
		"water_c":        {unit.FieldTemperature(roomC, sys)},
	}
}

func (s *Room) newStock(w http.ResponseWriter, r *http.Request) error {
	f, err := s.typedForm(r, fillingDraft, freshFilling(page.SessionOf(r).RoomC, page.SessionOf(r).System))
	if err != nil {
		return err
	}
	return s.showFilling(w, r, http.StatusOK, f, nil)
}

func (s *Room) showFilling(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := fillingPage{Form: f, Materials: page.Options(lye.Materials())}
	naoh, koh, plans, err := s.Shop.Wanted(r.Context())
	if err != nil {
		return err
	}
	had := f.Problems
	fill, problems := readFilling(f)
	want := naoh
	if fill.Kind == document.KOH {
		want = koh
	}
	if want > 0 && fill.Target > 0 {
		p.Wanted = fmt.Sprintf("%s g of it, pure, for %s that are kept and not started", unit.Trim(want, 0), page.Plural(plans, "plan"))
		p.Enough = unit.Trim(100*math.Ceil(want/fill.Target*spare), 0) + " g" // the percent and the hundreds cancel
	}
	if f.Get("grams") == "" {
		problems = nil // nothing was asked for yet
	}
	p.Answers = answersForFilling(f, fill, problems, page.SessionOf(r).RoomC)
	f.Problems = append(had, problems...)
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	p.From = page.FromOptions(room, inventory.Alkali, page.SessionOf(r).System)
	return s.Show(w, r, status, "filling", "Make a stock", "Lye", notice, p)
}

// spare is how much more than the plans want is made, for what stays in the
// strainer; the sum is then rounded up to the next 100 g.
const spare = 1.05

// readFilling reads the bench of a filling. The weights to aim for follow from
// strength and size; the actual ones are read where they are typed.
func readFilling(f *page.Form) (stock.Filling, caution.Problems) {
	had := f.Problems
	f.Problems = nil
	x := stock.Filling{Kind: f.Get("kind"), From: f.Get("from"), Gear: f.Get("gear") == "on", Clear: f.Get("clear") == "on"}
	x.StockBody = document.StockBody{
		Target: f.Number(
			"stock.strength",
		), Purity: page.IfTyped(f, "stock.purity", f.Number, 100), Lot: f.Get("lot"), Container: f.Get("container"),
		ML: page.IfTyped(
			f,
			"ml",
			f.Volume,
			0,
		), Material: lye.Material(f.Get("material")), Tare: page.IfTyped(f, "tare", f.Mass, 0), Note: f.Get("note"),
		AlkaliG: page.IfTyped(f, "alkali_g", f.Mass, 0), WaterG: page.IfTyped(f, "water_g", f.Mass, 0),
	}
	f.Mass("grams")
	page.IfTyped(f, "water_c", f.Temperature, 0)
	problems := f.Problems
	f.Problems = had
	return x, problems
}

func answersForFilling(f *page.Form, x stock.Filling, problems caution.Problems, roomC float64) fillingAnswers {
	a := fillingAnswers{Problems: problems}
	grams, err := unit.Mass(f.Get("grams"), f.System.MassUnit())
	if len(problems) > 0 || err != nil {
		return a
	}
	b := lye.Batch{Stock: lye.Stock{Strength: x.Target, KOH: x.Kind == document.KOH}, Purity: x.Purity, Grams: grams}
	var p caution.Problems
	if b.Check(&p, "stock"); len(p) > 0 {
		a.Problems = p
		return a
	}
	startC := roomC
	if text := f.Get("water_c"); text != "" {
		if startC, err = unit.Temperature(text, f.System.TemperatureUnit()); err != nil {
			a.Problems.Add("water_c", "the water: %s", err.Error())
			return a
		}
	}
	a.OK, a.Name = true, page.Capital(b.Word())
	a.Alkali, a.Water = b.Weigh()
	a.ML = b.Volume(grams)
	jug := b.Jug(startC)
	a.PeakC = jug.PeakC()
	a.LossyC = jug.Solution.Lossy(a.PeakC, x.Tare, x.Material.VesselHeat(), roomC)
	a.Minutes = lye.Cooling{StartC: a.LossyC, RoomC: roomC, Tau: lye.UsualTau(grams, "open", false)}.Until(math.Max(30, roomC+3))
	a.Cautions = append(a.Cautions, jug.Advise()...)
	a.Cautions = append(a.Cautions, x.Material.Advise(a.PeakC)...)
	a.Cautions = append(a.Cautions, b.Fill(grams, x.ML)...)
	room := b.Stock
	room.C = roomC
	a.Cautions = append(a.Cautions, crystalCautions(room)...)
	caution.Sort(a.Cautions)
	if x.AlkaliG > 0 && x.WaterG > 0 {
		a.Got = lye.Made(x.AlkaliG, x.WaterG, x.Purity)
		a.GotOff = math.Abs(a.Got - x.Target)
		a.Different = a.GotOff > lye.ReRate
	}
	return a
}

func (s *Room) fillingLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, fillingDraft)
	if err != nil {
		return err
	}
	f := live.Form
	x, problems := readFilling(f)
	live.Names = append(live.Names, "gear", "clear")
	live.Answers = answersForFilling(f, x, problems, page.SessionOf(r).RoomC)
	f.Problems = problems
	return s.Render(w, r, http.StatusOK, "filling-live", live)
}

func (s *Room) fillStock(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if done, err := s.OnlyTyped(w, r, fillingDraft, "/lye/new", f); done {
		return err
	}
	x, problems := readFilling(f)
	f.Problems = problems
	return s.Record(w, r, f, func() (string, error) {
		oid, err := s.Shop.FillStock(r.Context(), page.Act(page.Ending(r, fillingDraft)), x)
		return "/lye/" + oid, err
	}, func(status int, notice *caution.Caution) error {
		if _, err := s.KeepTyped(r, fillingDraft, f); err != nil {
			return err
		}
		return s.showFilling(w, r, status, f, notice)
	})
}

// A blend of fats.

type blendPage struct {
	From  []page.Option // deliveries that a fat is out of
	Form  *page.Form
	Rows  []string
	Names []page.Option
}

func (s *Room) newBlend(w http.ResponseWriter, r *http.Request) error {
	f, err := s.typedForm(r, blendDraft, url.Values{})
	if err != nil {
		return err
	}
	return s.showBlend(w, r, http.StatusOK, f, nil)
}

func (s *Room) showBlend(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := blendPage{Form: f, Rows: page.Prefixes(f, "fats", 2)}
	for _, x := range fat.Reference() {
		p.Names = append(p.Names, page.Option{Value: x.Name, Label: strings.Join(fat.Names(x.Slug).Synonyms, ", ")})
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	p.From = page.FromOptions(room, inventory.Fat, page.SessionOf(r).System)
	return s.Show(w, r, status, "blend", "Blend fats ahead", "Lye", notice, p)
}

func (s *Room) blendLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, blendDraft)
	if err != nil {
		return err
	}
	readBlend(live.Form)
	return s.Render(w, r, http.StatusOK, "live-errors", live)
}

func readBlend(f *page.Form) (b document.StockBody, from []string, pl page.Places) {
	f.Problems = nil
	b = document.StockBody{
		Container: f.Get("container"),
		ML:        page.IfTyped(f, "ml", f.Volume, 0),
		Tare:      page.IfTyped(f, "tare", f.Mass, 0),
		Note:      f.Get("note"),
	}
	pl = page.Places{}
	for i := range page.Rows(f.Values, "fats") {
		at := fmt.Sprintf("fats[%d].", i)
		if page.Blank(f, at, "fat", "percent") {
			continue
		}
		one, err := fat.Find(f.Get(at + "fat"))
		if err != nil {
			f.Problems.Add(at+"fat", "%s", err)
		}
		pl.Row("fats", "fats", i, len(b.Blend))
		b.Blend = append(b.Blend, fat.Share{Fat: one, Percent: f.Mass(at + "percent")})
		from = append(from, f.Get(at+"from"))
	}
	return b, from, pl
}

func (s *Room) fillBlend(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if do, what, _ := strings.Cut(r.PostFormValue("do"), " "); do == "add" || do == "remove" {
		page.EditRows(f, do, what)
		if _, err := s.KeepTyped(r, blendDraft, f); err != nil {
			return err
		}
		return page.SeeOther(w, r, "/lye/fats")
	}
	if done, err := s.OnlyTyped(w, r, blendDraft, "/lye/fats", f); done {
		return err
	}
	b, from, pl := readBlend(f)
	return s.Record(w, r, f, func() (string, error) {
		oid, err := s.Shop.FillFats(r.Context(), page.Act(page.Ending(r, blendDraft)), b, from)
		return "/lye/" + oid, err
	}, func(status int, notice *caution.Caution) error {
		if _, err := s.KeepTyped(r, blendDraft, f); err != nil {
			return err
		}
		for i := range f.Problems {
			f.Problems[i].Path = pl.Of(f.Problems[i].Path)
		}
		return s.showBlend(w, r, status, f, notice)
	})
}

// A container.

type stockPage struct {
	stockCard
	Form    *page.Form
	Balance []balanceLine
	Margin  float64 // °C above the crystal point
	Crystal float64
	Aged    bool // old enough for a check by density
	Usable  bool
	IsLye   bool
	Filled  []inventory.Delivery // that it was filled from
	Found   *stock.Counted       // of a weighing that needs a word
	Weaker  *weaker              // when another strength was asked for
}

// weaker says how a stock comes down to another strength.
type weaker struct {
	Water, PeakC float64
	Cautions     []caution.Caution // of its container, which must hold it all
}

// balanceLine is one line of a container's books.
type balanceLine struct {
	What, Note, Lot, LotOID, Who string
	At                           time.Time
	Change, After                float64
}

// aged is the age in days from which a stock is worth a check by density:
// carbonate forms and water leaves.
const aged = 90

func (s *Room) stock(w http.ResponseWriter, r *http.Request) error {
	return s.showStock(w, r, http.StatusOK, &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}, nil)
}

func (s *Room) showStock(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	one, err := s.Shop.StockByOID(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := stockPage{
		stockCard: s.cardOf(one, s.Shop.Now(page.SessionOf(r).Location), page.SessionOf(r).System),
		Form:      f,
		Usable:    one.Status == store.InUse,
		IsLye:     one.Kind != document.Fats,
	}
	if p.Filled, err = s.Shop.FilledFrom(r.Context(), one.ID); err != nil {
		return err
	}
	if p.IsLye {
		p.Crystal = one.Lye().Crystal()
		p.Margin = one.C - p.Crystal
	}
	if p.IsLye && f.Get("dilute_to") != "" {
		to := f.Number("dilute_to")
		water, peak, ok := one.Lye().Weaker(one.Balance, to, page.SessionOf(r).RoomC)
		switch {
		case f.Err("dilute_to") != "":
		case !ok:
			f.Problems.Add("dilute_to", "type a strength below its %s %%; water only makes it weaker", unit.Trim(one.Strength, 1))
		default:
			p.Weaker = &weaker{Water: water, PeakC: peak}
			if one.ML > 0 {
				p.Weaker.Cautions = lye.Stock{Strength: to, KOH: one.Kind == document.KOH}.Fill(one.Balance+water, one.ML)
			}
			f.Set("dilute_water", unit.Trim(water, 1))
		}
	}
	p.Aged = p.IsLye && p.Days > aged
	after := 0.0
	for _, m := range one.Moves {
		after += m.Change
		p.Balance = append([]balanceLine{{m.What.Words(), m.Note, m.Lot, m.LotOID, m.Who, m.At, m.Change, after}}, p.Balance...)
	}
	if f.Err("why") != "" {
		if gross, err := unit.Mass(f.Get("gross"), f.System.MassUnit()); err == nil {
			n := one.Count(gross)
			p.Found = &n
		}
	}
	if f.Get("at_c") == "" {
		f.Set("at_c", unit.FieldTemperature(one.C, f.System))
	}
	return s.Show(w, r, status, "stock", one.Code+": "+one.Container, "Lye", notice, p)
}

// actOnStock reads one form of a container and calls its use case.
func (s *Room) actOnStock(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	ctx, a, oid := r.Context(), page.Act(r), chi.URLParam(r, "oid")
	one, err := s.Shop.StockByOID(ctx, oid)
	if err != nil {
		return err
	}
	act := chi.URLParam(r, "act")
	if slices.Contains([]string{"verify", "read", "dilute"}, act) {
		if err := one.OnlyLye(); err != nil {
			return err // the page of fats has no fields of it
		}
	}
	var do func() error
	switch act {
	case "draw":
		grams := f.Mass("grams")
		do = func() error { return s.Shop.DrawStock(ctx, a, oid, grams, f.Get("note")) }
	case "count":
		gross := f.Mass("gross")
		do = func() error { return s.Shop.CountStock(ctx, a, oid, gross, f.Get("water") == "on", f.Get("why")) }
	case "verify":
		density, celsius := readDensity(f), f.Temperature("at_c")
		do = func() error { return s.Shop.VerifyStock(ctx, a, oid, density, celsius) }
	case "read":
		celsius := f.Temperature("celsius")
		do = func() error { return s.Shop.ReadStock(ctx, a, oid, celsius) }
	case "dilute":
		water := f.Mass("dilute_water")
		do = func() error { return s.Shop.DiluteStock(ctx, a, oid, water) }
	case "status":
		do = func() error {
			return s.Shop.SetStockStatus(ctx, a, oid, store.Status(r.PostFormValue("status")), f.Get("status_why"))
		}
	default:
		return store.ErrNotFound
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/lye/" + oid, do()
	}, func(status int, notice *caution.Caution) error {
		return s.showStock(w, r, status, f, notice)
	})
}

// readDensity reads a density as a hydrometer shows it, or from a known volume
// that was weighed.
func readDensity(f *page.Form) float64 {
	if f.Get("density") != "" || f.Get("volume") == "" {
		return f.Number("density")
	}
	ml, g := f.Volume("volume"), f.Mass("weight")
	if ml <= 0 {
		f.Problems.Add("volume", "type the volume that was weighed, such as 100 ml")
		return 0
	}
	return g / ml
}

// stockLabel is the label to print for a container.
func (s *Room) stockLabel(w http.ResponseWriter, r *http.Request) error {
	one, err := s.Shop.StockByOID(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	code, err := draw.OfQR(page.AddressOf(r, "/lye/"+one.OID))
	if err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "stocklabel", "Label for "+one.Code, "Lye", nil, struct {
		stock.Stock
		QR, Sign draw.Picture
		IsLye    bool
		Crystal  float64
	}{one, code, draw.Corrosive(), one.Kind != document.Fats, math.Ceil(one.Lye().Crystal() + lye.CrystalStep - 0.1)})
}

// StockRoutes are the addresses of the lye bench.
func (s *Room) StockRoutes(r page.Routes) {
	r.Get("/lye", s.lyeRoom)
	r.Get("/lye/new", s.newStock)
	r.Post("/lye/new", s.fillStock)
	r.Post("/lye/new/live", s.fillingLive)
	r.Get("/lye/fats", s.newBlend)
	r.Post("/lye/fats", s.fillBlend)
	r.Post("/lye/fats/live", s.blendLive)
	r.Get("/lye/heat", s.heat)
	r.Post("/lye/heat", s.noteHeat)
	r.Post("/lye/heat/live", s.heatLive)
	r.Get("/lye/{oid}", s.stock)
	r.Get("/lye/{oid}/label", s.stockLabel)
	r.Post("/lye/{oid}/{act}", s.actOnStock)
}
