package trading

import (
	"context"
	"strings"
	"time"

	"ashshelf/shop/document"
	"ashshelf/shop/selling"
	"ashshelf/soap/market"
	"ashshelf/soap/sale"
	"ashshelf/store"
)

// Held is a market as it was counted back, with what it brought and what the one of its name a year before did.
type Held struct {
	Market
	sale.Sum
	Left     int64 // of it, when the stall is paid too; in minor units, without what bars cost
	LastYear *Held
	Gone     []market.Outcome // that were sold out
}

// Report is what was sold between two moments.
type Report struct {
	Products, Scents, Channels, Weathers []sale.Sum
	Months                               []sale.Sum // in their order
	Markets                              []Held     // the newest first
	All                                  sale.Sum
	Currency                             string
	Sales                                []store.BarSale
	Rules                                sale.Rules
}

// Sold reads what was sold between two moments, in the shop's zone: of which products, scents, channels, at which markets
// and in which weather.
func (t *Trader) Sold(ctx context.Context, from, to time.Time) (out Report, err error) {
	err = t.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = t.soldIn(tx, from, to)
		return err
	})
	return out, err
}

func (t *Trader) soldIn(tx *store.Tx, from, to time.Time) (out Report, err error) {
	settings, err := tx.Shop()
	if err != nil {
		return out, err
	}
	out.Currency = settings.Currency
	if out.Rules, err = selling.SaleRulesIn(tx); err != nil {
		return out, err
	}
	if out.Sales, err = tx.BarSales(from, to); err != nil {
		return out, err
	}
	entries, err := t.costed(tx, out.Sales)
	if err != nil {
		return out, err
	}
	scents, err := scentsOf(tx, out.Sales)
	if err != nil {
		return out, err
	}
	markets, err := marketsIn(tx)
	if err != nil {
		return out, err
	}
	weather, series := map[string]string{}, map[string]*Market{}
	for i, m := range markets {
		series[m.OID] = &markets[i]
		if m.Home != nil {
			weather[m.OID] = m.Home.Home.Weather
		}
	}
	type one struct {
		store.BarSale
		sale.Entry
	}
	var list, rainy, monthly []one
	for i, s := range out.Sales {
		o := one{s, entries[i]}
		list = append(list, o)
		if weather[s.Market] != "" {
			rainy = append(rainy, o)
		}
		monthly = append(monthly, o)
		out.All.Add(entries[i])
	}
	named := func(key, name, otherwise string, e sale.Entry) (string, string, sale.Entry) {
		if name == "" {
			name = otherwise
		}
		return strings.ToLower(key), name, e
	}
	out.Products = sale.Group(list, func(o one) (string, string, sale.Entry) {
		return named(o.ProductOID, o.Product, "no product", o.Entry)
	})
	out.Scents = sale.Group(list, func(o one) (string, string, sale.Entry) {
		return named(scents[o.Recipe], scents[o.Recipe], "without a scent", o.Entry)
	})
	out.Channels = sale.Group(list, func(o one) (string, string, sale.Entry) {
		return named(o.BarSale.Channel, o.BarSale.Channel, "not noted", o.Entry)
	})
	out.Weathers = sale.Group(rainy, func(o one) (string, string, sale.Entry) {
		return weather[o.Market], weather[o.Market], o.Entry
	})
	out.Months = months(monthly, func(o one) (time.Time, sale.Entry) { return o.At.In(from.Location()), o.Entry })
	byMarket := map[string]sale.Sum{}
	for _, s := range sale.Group(list, func(o one) (string, string, sale.Entry) { return o.Market, o.Market, o.Entry }) {
		byMarket[s.Key] = s
	}
	for _, m := range markets {
		if m.Home == nil || m.On < from.Format(time.DateOnly) || m.On >= to.Format(time.DateOnly) {
			continue
		}
		held := heldOf(m, byMarket[m.OID])
		if year, ok := market.SameLastYear(m.On, pastOf(markets, m.Name)); ok {
			for _, before := range markets {
				if before.Home != nil && before.On == year.On && strings.EqualFold(before.Name, m.Name) {
					then := heldOf(before, sale.Sum{})
					held.LastYear = &then
				}
			}
		}
		out.Markets = append(out.Markets, held)
	}
	return out, nil
}

// months adds up by month, in order, with those in which nothing was sold.
func months[T any](list []T, of func(T) (time.Time, sale.Entry)) (out []sale.Sum) {
	for _, one := range list {
		at, e := of(one)
		key := at.Format("2006-01")
		for len(out) > 0 && out[len(out)-1].Key < key {
			last, err := time.Parse("2006-01", out[len(out)-1].Key)
			if err != nil {
				break
			}
			next := last.AddDate(0, 1, 0)
			out = append(out, sale.Sum{Key: next.Format("2006-01"), Name: next.Format("Jan")})
		}
		if len(out) == 0 {
			out = append(out, sale.Sum{Key: key, Name: at.Format("Jan")})
		}
		out[len(out)-1].Add(e)
	}
	return out
}

// heldOf is how a market did. What it sold and took is of its count, which stands whatever came after.
func heldOf(m Market, s sale.Sum) Held {
	h := Held{Market: m, Sum: s}
	h.Sum.Name, h.Bars, h.Amount = m.Name, 0, 0
	for _, o := range m.Home.Outcomes {
		h.Bars += o.Sold
		h.Amount += o.Amount
		if o.Gone != "" {
			h.Gone = append(h.Gone, o)
		}
	}
	h.Left = h.Amount - s.Tax - s.Taken.Fee - m.Market.Fee
	return h
}

// costed is what each of the sold bars cost, by what its lot did at its release.
func (t *Trader) costed(tx *store.Tx, list []store.BarSale) ([]sale.Entry, error) {
	var lots []string
	for _, s := range list {
		lots = append(lots, s.Lot)
	}
	bars, err := t.reckoner.BarCosts(tx, lots)
	if err != nil {
		return nil, err
	}
	out := make([]sale.Entry, len(list))
	for i, s := range list {
		out[i] = sale.Entry{Bars: s.Bars, Known: s.Known, Taken: s.Taken}
		if each, ok := bars[s.Lot][s.Kind]; ok {
			out[i].Cost, out[i].Whole = each.Of(int64(s.Bars), 1), true
		}
	}
	return out, nil
}

// scentsOf are the scents of the recipes that were sold, as they are written now, by the identity of the recipe.
func scentsOf(tx *store.Tx, list []store.BarSale) (map[string]string, error) {
	out := map[string]string{}
	for _, s := range list {
		if _, ok := out[s.Recipe]; ok {
			continue
		}
		history, err := tx.History(store.Recipes, s.Recipe)
		if err != nil {
			return nil, err
		}
		body, err := document.Decode("recipe "+history[0].Name, document.ReadRecipe, history[0].Body)
		if err != nil {
			return nil, err
		}
		var names []string
		if scent := body.Formula.Scent; scent != nil {
			for _, p := range scent.Parts {
				names = append(names, p.Scent.Name)
			}
		}
		out[s.Recipe] = strings.Join(names, " and ")
	}
	return out, nil
}
