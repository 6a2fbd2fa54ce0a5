package trading

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"ashshelf/exchange"
	"ashshelf/shop/trading"
	"ashshelf/soap/cost"
	"ashshelf/soap/sale"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// soldPart is what was sold by something in common.
type soldPart struct {
	Title string
	Sums  []sale.Sum
	Drawn draw.Picture
}

// heldRow is a market beside the one of a year before.
type heldRow struct {
	trading.Held
	Names []string // of what was sold out, with the hours
}

// soldPage is what was sold between two days.
type soldPage struct {
	trading.Report
	Form     *page.Form
	From, To string // days, both of them in it
	Parts    []soldPart
	ByMonth  draw.Picture
	Held     []heldRow
	Query    string
}

// span reads the two days that are asked for: the last year where nobody says.
func (s *Room) span(r *http.Request) (f *page.Form, from, to time.Time) {
	zone := page.SessionOf(r).Location
	f = &page.Form{Values: url.Values{"from": {r.URL.Query().Get("from")}, "to": {r.URL.Query().Get("to")}}, System: page.SessionOf(r).System}
	today := s.Shop.Now(zone)
	day := func(field string, usual time.Time) time.Time {
		text := f.Day(field)
		if text == "" {
			text = usual.Format(time.DateOnly)
		}
		at, err := time.ParseInLocation(time.DateOnly, text, zone)
		if err != nil {
			return usual
		}
		return at
	}
	to = day("to", today)
	from = day("from", to.AddDate(-1, 0, 1))
	if from.After(to) {
		f.Problems.Add("from", "this is after the other day")
		from = to
	}
	if f.Err("from") == "" {
		f.Set("from", from.Format(time.DateOnly))
	}
	if f.Err("to") == "" {
		f.Set("to", to.Format(time.DateOnly))
	}
	return f, from, to
}

func (s *Room) sold(w http.ResponseWriter, r *http.Request) error {
	f, from, to := s.span(r)
	report, err := s.Shop.Sold(r.Context(), from, to.AddDate(0, 0, 1))
	if err != nil {
		return err
	}
	p := soldPage{Report: report, Form: f, From: from.Format(time.DateOnly), To: to.Format(time.DateOnly),
		Query: url.Values{"from": {from.Format(time.DateOnly)}, "to": {to.Format(time.DateOnly)}}.Encode()}
	for _, part := range []soldPart{{Title: "By product", Sums: report.Products}, {Title: "By scent", Sums: report.Scents},
		{Title: "By channel", Sums: report.Channels}, {Title: "By the weather of market days", Sums: report.Weathers}} {
		if len(part.Sums) == 0 {
			continue
		}
		part.Drawn = draw.OfEarned(earned(part.Sums), part.Title+", drawn: what the bars cost, what the channel keeps, tax, and what is left")
		p.Parts = append(p.Parts, part)
	}
	var months []draw.Month
	for _, m := range report.Months {
		months = append(months, draw.Month{Name: m.Name, Amount: float64(m.Amount), Bars: m.Bars})
	}
	p.ByMonth = draw.OfMonths(months, "Takings by month")
	for _, h := range report.Markets {
		row := heldRow{Held: h}
		for _, o := range h.Gone {
			row.Names = append(row.Names, o.Name+" at "+o.Gone)
		}
		p.Held = append(p.Held, row)
	}
	status := http.StatusOK
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	}
	return s.Show(w, r, status, "sold", "What sold", "Sell", nil, p)
}

// mostDrawn is how many beams a drawing has.
const mostDrawn = 12

// earned takes sums apart for a drawing. Where costs are not known, what is left is drawn apart: it looks larger than it is.
func earned(list []sale.Sum) (out []draw.Earned) {
	for _, s := range list[:min(len(list), mostDrawn)] {
		e := draw.Earned{Name: s.Name, Cost: s.Cost.Float(), Fee: float64(s.Fee), Tax: float64(s.Tax)}
		if left := s.Margin().Float(); s.Uncosted == 0 || left < 0 {
			e.Margin = left
		} else {
			e.Unknown = left
		}
		out = append(out, e)
	}
	return out
}

// takings are all sales of a span as a table for a bookkeeper.
func (s *Room) takings(w http.ResponseWriter, r *http.Request) error {
	f, from, to := s.span(r)
	if err := f.Problems.Err(); err != nil {
		return s.sold(w, r)
	}
	report, err := s.Shop.Sold(r.Context(), from, to.AddDate(0, 0, 1))
	if err != nil {
		return err
	}
	zone, currency := page.SessionOf(r).Location, page.SessionOf(r).Currency
	name := fmt.Sprintf("takings-%s-%s.csv", from.Format(time.DateOnly), to.Format(time.DateOnly))
	return s.Download(w, r, name, "text/csv; charset=utf-8", func(out io.Writer) error { return writeTakings(out, report, zone, currency) })
}

// writeTakings writes a row for what was sold of a lot at once, and one for the fee of each stall.
func writeTakings(out io.Writer, report trading.Report, zone *time.Location, currency string) error {
	rows := [][]string{{"day", "channel", "what", "product", "lot", "bars", "taken", "tax in it", "channel keeps", "net", "currency"}}
	names := map[string]string{}
	for _, h := range report.Markets {
		names[h.OID] = h.Sum.Name
	}
	for _, one := range report.Sales {
		what := names[one.Market]
		if one.Order > 0 {
			what = trading.OrderName(one.Order)
		}
		on := one.At.In(zone).Format(time.DateOnly)
		row := []string{on, one.Channel, what, one.Product, one.Code, strconv.Itoa(one.Bars), "", "", "", "", currency}
		if one.Known {
			row[6], row[7] = plain(one.Amount, currency), plain(one.Tax, currency)
			row[8], row[9] = plain(one.Fee, currency), plain(one.Amount-one.Tax, currency)
		}
		rows = append(rows, row)
	}
	for _, h := range report.Markets {
		if fee := h.Market.Fee; fee > 0 {
			rows = append(rows, []string{h.On, h.Market.Channel, h.Sum.Name, "stall fee", "", "", "", "", plain(fee, currency), "", currency})
		}
	}
	return exchange.WriteTable(out, "takings", rows)
}

// plain writes an amount as a spreadsheet reads it, with a plain sign.
func plain(minor int64, currency string) string {
	if minor < 0 {
		return "-" + cost.Format(-minor, currency)
	}
	return cost.Format(minor, currency)
}
