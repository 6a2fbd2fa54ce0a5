package stores

import (
	"io"
	"net/http"
	"net/url"
	"time"

	"ashshelf/exchange"
	"ashshelf/shop/costing"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// pricesPage is what a price does to every recipe's bar.
type pricesPage struct {
	Form    *page.Form
	Names   []string
	Changed string // the material that was set anew
	Was     cost.Price
	Per     string
	Is      int64
	Recipes []priceLine
	Picture draw.Picture
}

// mostDrawn is how many recipes are drawn, the dearest first.
const mostDrawn = 16

// priceLine is a bar before and after.
type priceLine struct {
	costing.RecipeCost
	Before, After int64 // minor units, of what is known
	Unknown       []string
	Up            bool
	Diff          int64
}

func (s *Room) prices(w http.ResponseWriter, r *http.Request) error {
	session := page.SessionOf(r)
	f := &page.Form{Values: r.URL.Query(), System: session.System}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	before, err := s.Shop.Prices(r.Context())
	if err != nil {
		return err
	}
	p := pricesPage{Form: f, Names: materialNames(room), Per: "kilo"}
	kilo := inventory.MG(1000)
	if session.System == unit.US {
		kilo, p.Per = inventory.MG(unit.GramsPerPound), "pound"
	}
	after := before
	if f.Get("name") != "" {
		l, err := byName(room, f.Get("name"))
		switch {
		case err != nil:
			f.Problems.Add("name", "%s", "“"+f.Get("name")+"” is in no recipe and no delivery")
		case f.Get("price") == "":
			f.Problems.Add("price", "type what a %s of it costs now", p.Per)
		default:
			if v := moneyIn(r, f, "price"); v != nil {
				p.Changed, p.Was, p.Is = l.Name, before.Newest(l.Key), *v
				after = before.With(l.Key, cost.Price{Cost: cost.Minor(*v), Amount: kilo})
			}
		}
	}
	was, err := s.Shop.RecipeCosts(r.Context(), before)
	if err != nil {
		return err
	}
	is, err := s.Shop.RecipeCosts(r.Context(), after)
	if err != nil {
		return err
	}
	var rise []draw.RiseLine
	old := map[string]costing.RecipeCost{}
	for _, one := range was {
		old[one.OID] = one
	}
	for _, one := range is {
		total, had := one.Replace.Total(), old[one.OID].Replace.Total()
		line := priceLine{RecipeCost: one, Before: had.Known.Rounded(), After: total.Known.Rounded(), Unknown: total.Unknown}
		line.Diff = line.After - line.Before
		line.Up = line.Diff > 0
		p.Recipes = append(p.Recipes, line)
		text := cost.Format(line.After, session.Currency)
		if line.Diff != 0 {
			text = cost.Format(line.Before, session.Currency) + " → " + text
		}
		rise = append(rise, draw.RiseLine{Name: line.Name, Before: line.Before, After: line.After, Text: text})
	}
	p.Picture = draw.OfRise(rise[:min(len(rise), mostDrawn)])
	status := http.StatusOK
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	}
	return s.Show(w, r, status, "prices", "What a price does", "Stores", nil, p)
}

// valuePage is what was in the house on a day, at cost.
type valuePage struct {
	costing.Valuation
	Form   *page.Form
	Groups []valueGroup
	All    cost.Sum
	Today  string
}

type valueGroup struct {
	Name  string
	Lines []costing.Valued
	Sum   cost.Sum
}

// dayOf reads the day a page was asked for; today when none was.
func (s *Room) dayOf(r *http.Request) (string, *page.Form) {
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	today := s.Shop.Now(page.SessionOf(r).Location).Format(time.DateOnly)
	f.Set("on", r.URL.Query().Get("on"))
	day := f.Day("on")
	switch {
	case day == "" && len(f.Problems) == 0:
		day = today
	case day > today:
		f.Problems.Add("on", "that day is still to come")
	}
	if len(f.Problems) > 0 {
		return today, f
	}
	f.Set("on", page.LocalDay(day))
	return day, f
}

func (s *Room) value(w http.ResponseWriter, r *http.Request) error {
	day, f := s.dayOf(r)
	v, err := s.Shop.StockOn(r.Context(), day)
	if err != nil {
		return err
	}
	p := valuePage{Valuation: v, Form: f, Today: day}
	names, groups := v.Groups()
	sums, all := costing.Totals(groups...)
	p.All = all
	for i, name := range names {
		p.Groups = append(p.Groups, valueGroup{name, groups[i], sums[i]})
	}
	status := http.StatusOK
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	}
	return s.Show(w, r, status, "stock-value", "What is in the house, at cost", "Stores", nil, p)
}

func (s *Room) valueCSV(w http.ResponseWriter, r *http.Request) error {
	day, f := s.dayOf(r)
	if err := f.Problems.Err(); err != nil {
		return page.SeeOther(w, r, "/stores/value?"+r.URL.RawQuery)
	}
	v, err := s.Shop.StockOn(r.Context(), day)
	if err != nil {
		return err
	}
	return s.Download(w, r, "stock-"+day+".csv", "text/csv; charset=utf-8", func(to io.Writer) error {
		return exchange.WriteTable(to, "stock at cost", valueRows(v))
	})
}

func valueRows(v costing.Valuation) [][]string {
	rows := [][]string{{"group", "name", "code", "grams", "pieces", "cost", "currency", "not_known"}}
	names, groups := v.Groups()
	for i, g := range groups {
		for _, one := range g {
			known := ""
			if !one.Cost.Whole() {
				known = "some of it has no price"
			}
			rows = append(rows, []string{
				names[i], one.Name, one.Detail, gramsOrEmpty(one.MG), countOrEmpty(one.Count),
				cost.Format(one.Cost.Known.Rounded(), v.Currency), v.Currency, known,
			})
		}
	}
	return rows
}
