package exchange

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/demand"
)

// The formats of what is wanted, and of what to pour for it.
const (
	DemandFormat   = "ashshelf.demand/1"
	BackplanFormat = "ashshelf.backplan/1"
)

type demandDoc struct {
	Today   string   `json:"today"`
	Pots    int      `json:"pots_per_day"`
	DaysOff []string `json:"days_off"`
	Margin  int      `json:"margin_days"`
	Rack    int      `json:"rack_bars"`
	Recipes []struct {
		Name string `json:"name"`
		Bars int    `json:"bars_per_pot"`
		Mold int    `json:"mold_days"`
		Cure int    `json:"cure_days"`
	} `json:"recipes"`
	OnHand []struct {
		Recipe string `json:"recipe"`
		Bars   int    `json:"bars"`
		Ready  string `json:"ready"`
	} `json:"on_hand"`
	Wanted []struct {
		Recipe string `json:"recipe"`
		Bars   int    `json:"bars"`
		On     string `json:"on"`
	} `json:"wanted"`
}

// weekdays are the days of the week as they are written.
var weekdays = map[string]time.Weekday{"sun": time.Sunday, "mon": time.Monday, "tue": time.Tuesday, "wed": time.Wednesday,
	"thu": time.Thursday, "fri": time.Friday, "sat": time.Saturday}

// ReadDemand reads what is wanted. Problems of what was written are of type [caution.Problems]; other errors are of
// reading.
func ReadDemand(r io.Reader) (demand.Request, error) {
	text, err := readText(r)
	if err != nil {
		return demand.Request{}, err
	}
	var d demandDoc
	if err := readInto(text, "demand-1", &d); err != nil {
		return demand.Request{}, err
	}
	var p caution.Problems
	day := func(at, text string) time.Time {
		t, err := time.Parse(time.DateOnly, text)
		if err != nil {
			p.Add(at, "“%s” is no day of the calendar", text)
		}
		return t
	}
	q := demand.Request{Today: day("today", d.Today), PotsPerDay: d.Pots, Margin: d.Margin, RackBars: d.Rack}
	for _, name := range d.DaysOff {
		q.DaysOff = append(q.DaysOff, weekdays[name])
	}
	for _, one := range d.Recipes {
		q.Recipes = append(q.Recipes, demand.Recipe{Name: one.Name, Bars: one.Bars, MoldDays: one.Mold, CureDays: one.Cure})
	}
	for i, one := range d.OnHand {
		q.OnHand = append(q.OnHand, demand.Stock{Recipe: one.Recipe, Bars: one.Bars, Ready: day(fmt.Sprintf("on_hand[%d].ready", i), one.Ready)})
	}
	for i, one := range d.Wanted {
		q.Wanted = append(q.Wanted, demand.Want{Recipe: one.Recipe, Bars: one.Bars, On: day(fmt.Sprintf("wanted[%d].on", i), one.On)})
	}
	return q, told(p).Err()
}

type pourDoc struct {
	Recipe string `json:"recipe"`
	On     string `json:"on"`
	Pots   int    `json:"pots"`
	Ready  string `json:"ready"`
}

type shortDoc struct {
	Recipe string     `json:"recipe"`
	Bars   int        `json:"bars"`
	On     string     `json:"on"`
	Why    demand.Why `json:"why"`
}

// WriteBackplan writes what to pour by when, and what cannot be had.
func WriteBackplan(w io.Writer, plan demand.Plan) error {
	doc := struct {
		Format string     `json:"format"`
		Pours  []pourDoc  `json:"pours"`
		Short  []shortDoc `json:"short"`
	}{BackplanFormat, []pourDoc{}, []shortDoc{}}
	for _, one := range plan.Pours {
		doc.Pours = append(doc.Pours, pourDoc{one.Recipe, one.On.Format(time.DateOnly), one.Pots, one.Ready.Format(time.DateOnly)})
	}
	for _, one := range plan.Short {
		doc.Short = append(doc.Short, shortDoc{one.Recipe, one.Bars, one.On.Format(time.DateOnly), one.Why})
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	if err := e.Encode(doc); err != nil {
		return fmt.Errorf("write a back-plan: %w", err)
	}
	return nil
}

// WriteBackplanText writes it to be read.
func WriteBackplanText(w io.Writer, plan demand.Plan) error {
	var b strings.Builder
	for _, one := range plan.Pours {
		fmt.Fprintf(&b, "%s  pour %d × %s, ready %s\n", one.On.Format("Mon 2006-01-02"), one.Pots, oneLine(one.Recipe),
			one.Ready.Format(time.DateOnly))
	}
	why := map[demand.Why]string{
		demand.NoTime: "no day is left for it",
		demand.NoPots: "the days that are left are full",
		demand.NoRack: "there is no place for it to cure",
	}
	for _, one := range plan.Short {
		fmt.Fprintf(&b, "%s  %d of %s are short: %s\n", one.On.Format("Mon 2006-01-02"), one.Bars, oneLine(one.Recipe), why[one.Why])
	}
	if b.Len() == 0 {
		b.WriteString("Nothing is to be poured.\n")
	}
	if _, err := io.WriteString(w, b.String()); err != nil {
		return fmt.Errorf("write a back-plan: %w", err)
	}
	return nil
}
