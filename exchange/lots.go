package exchange

import (
	"io"
	"time"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/unit"
)

// lotDoc is the record of a lot in the open format ashshelf.lot/1.
type lotDoc struct {
	Format       string         `json:"format"`
	Code         string         `json:"code"`
	Stage        string         `json:"stage"`
	Recipe       string         `json:"recipe"`
	Revision     int            `json:"revision"`
	Trial        bool           `json:"trial"`
	Started      string         `json:"started_at"`
	StartedBy    string         `json:"started_by"`
	Program      string         `json:"program"`
	Formula      recipeDoc      `json:"formula"`
	Superfat     float64        `json:"superfat_percent"`
	Planned      float64        `json:"superfat_planned_percent"`
	Materials    []materialDoc  `json:"materials"`
	Events       []eventDoc     `json:"events"`
	Bars         map[string]int `json:"bars_cut,omitempty"` // of all sizes
	Sizes        []sizeDoc      `json:"sizes_cut,omitempty"`
	Restrictions []string       `json:"restrictions"`
	Parents      []parentDoc    `json:"made_with"`
	Digest       string         `json:"digest_at_release,omitempty"`
}

// sizeDoc is what of the bars is of another size than the usual one.
type sizeDoc struct {
	Size string         `json:"size"`
	BarG float64        `json:"bar_g"`
	Bars map[string]int `json:"bars_cut"`
}

type materialDoc struct {
	Item       string        `json:"item"`
	Name       string        `json:"name"`
	Target     float64       `json:"target_g"`
	Actual     float64       `json:"actual_g"`
	Deliveries []deliveryDoc `json:"deliveries"`
}

type deliveryDoc struct {
	Supplier string  `json:"supplier"`
	Code     string  `json:"code"`
	Received string  `json:"received,omitempty"`
	Grams    float64 `json:"grams"`
}

type eventDoc struct {
	Number   int64  `json:"number"`
	Occurred string `json:"occurred_at"`
	Recorded string `json:"recorded_at"`
	Who      string `json:"who"`
	Device   string `json:"device"`
	What     string `json:"what"`
	Text     string `json:"text"`
	Corrects int64  `json:"corrects,omitempty"`
	Reason   string `json:"reason,omitempty"`
}

type parentDoc struct {
	Lot   string  `json:"lot"`
	What  string  `json:"what"`
	Grams float64 `json:"grams"`
}

func moment(t time.Time) string { return t.UTC().Format(time.RFC3339) }

// WriteLot writes the record of a lot. digest is that of its release, empty when
// it has none.
func WriteLot(w io.Writer, l *lot.Lot, digest string) error {
	soap := l.AsPoured()
	d := lotDoc{
		Format:   "ashshelf.lot/1",
		Code:     l.Code,
		Stage:    string(l.Stage()),
		Recipe:   l.Frozen.Recipe,
		Revision: l.Frozen.Revision,
		Trial:    l.Frozen.Kind == lot.Trial,
		Started: moment(
			l.Started.Occurred,
		),
		StartedBy:    l.Started.Who,
		Program:      l.Frozen.Program,
		Superfat:     soap.Superfat,
		Planned:      soap.Planned,
		Materials:    materialsOf(l),
		Restrictions: append([]string{}, l.Held()...),
		Parents:      []parentDoc{},
		Digest:       digest,
	}
	d.Formula = written(Recipe{Formula: l.Frozen.Formula})
	d.Formula.Format = RecipeFormat
	if why := l.KeptFromSale(); why != "" {
		d.Restrictions = append(d.Restrictions, "not for sale: "+why)
	}
	for _, p := range l.Parents {
		d.Parents = append(d.Parents, parentDoc{p.Code, p.What, p.Grams})
	}
	for _, e := range l.Story() {
		d.Events = append(
			d.Events,
			eventDoc{e.ID, moment(e.Occurred), moment(e.Recorded), e.Who, e.Device, e.Title, e.Text, e.Corrects, e.Reason},
		)
	}
	if l.Cut != nil {
		d.Bars = map[string]int{}
		for _, g := range append(ledger.Grades(), ledger.Scrap) {
			d.Bars[string(g)] = l.Cut.OfGrade(g)
		}
		d.Sizes = sizesOf(*l.Cut)
	}
	return writeJSON(w, d)
}

func sizesOf(c lot.Cut) []sizeDoc {
	var out []sizeDoc
	for _, s := range c.Sizes {
		one := sizeDoc{s.Name, s.BarG, map[string]int{}}
		for _, g := range append(ledger.Grades(), ledger.Scrap) {
			one.Bars[string(g)] = s.Bars[g]
		}
		out = append(out, one)
	}
	return out
}

// materialsOf are the items of a lot with the deliveries they came from.
func materialsOf(l *lot.Lot) []materialDoc {
	actual := l.Actual()
	out := []materialDoc{}
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			m := materialDoc{Item: string(i.Key), Name: i.Name, Target: i.Target, Actual: actual[i.Key], Deliveries: []deliveryDoc{}}
			at := map[string]int{}
			for _, w := range l.Weighings {
				if w.Item != i.Key || w.From.OID == "" || l.Corrected(w.ID) {
					continue
				}
				n, ok := at[w.From.OID]
				if !ok {
					n = len(m.Deliveries)
					at[w.From.OID] = n
					m.Deliveries = append(m.Deliveries, deliveryDoc{w.From.Supplier, w.From.Code, w.From.Received, 0})
				}
				m.Deliveries[n].Grams += w.Actual
			}
			out = append(out, m)
		}
	}
	return out
}

// WriteLotSheet writes everything that happened to a lot as CSV, one line each, in
// order.
func WriteLotSheet(w io.Writer, l *lot.Lot) error {
	rows := [][]string{{"number", "occurred_at", "recorded_at", "who", "device", "what", "text", "corrects", "reason"}}
	for _, e := range l.Story() {
		corrects := ""
		if e.Corrects != 0 {
			corrects = unit.Trim(float64(e.Corrects), 0)
		}
		rows = append(
			rows,
			[]string{
				unit.Trim(float64(e.ID), 0),
				moment(e.Occurred),
				moment(e.Recorded),
				e.Who,
				e.Device,
				e.Title,
				e.Text,
				corrects,
				e.Reason,
			},
		)
	}
	return writeTable(w, "lot", rows)
}
