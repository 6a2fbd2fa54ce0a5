package lot

import (
	"math"
	"strings"
	"time"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// How a weight or a temperature came onto the record.
type How string

// The ways.
const (
	Typed    How = "typed"
	ByDevice How = "scale" // read from a scale or a probe
	OnPaper  How = "paper" // noted on paper and filled in afterwards
)

// Weighing is one pour of one ingredient, or what was taken back out of it.
type Weighing struct {
	Entry
	Item    plan.Key
	Target  float64 // g
	Actual  float64 // g; below zero is weighed back
	How     How
	Reading int64  // number of the scale's reading; 0 when it was not read from one
	From    Bought // the ingredient lot; its OID is empty where none was said
}

// Bought is an ingredient lot: a delivery of one ingredient.
type Bought struct {
	OID      string
	Item     plan.Key // of the ingredient, whatever part of it is set apart
	Name     string
	Supplier string
	Code     string  // of the supplier
	Received string  // day, 2006-01-02; may be empty
	Purity   float64 // percent, by its certificate; 0 when not known
	SAP      float64 // mg KOH per g, by its certificate; 0 when not known
}

// Short names it in a few words: who sold it, and the code on it.
func (b Bought) Short() string { return strings.Trim(b.Supplier+" "+b.Code, " ") }

// Label names it in a line.
func (b Bought) Label() string {
	out := b.Short()
	if b.Received != "" {
		out += ", received " + b.Received
	}
	return strings.TrimPrefix(out, ", ")
}

// Tick is a step of the run sheet done, left out, or taken back.
type Tick struct {
	Entry
	Step    string
	Title   string // of the step when it was ticked; empty before that was kept
	Done    bool
	Note    string  // why it was left out, or what was seen
	Trace   string  // at the trace
	Minutes float64 // to it
}

// Temp is a temperature that was read.
type Temp struct {
	Entry
	Of  string // "liquid", "lye", "fats" or "room"
	C   float64
	How How
}

// Pots are what a temperature can be read of.
func Pots() []string { return []string{"liquid", "lye", "fats", "room"} }

// Rescale makes all that is still to come larger or smaller.
type Rescale struct {
	Entry
	Factor  float64  // of the plan that the lot was started from
	Because plan.Key // the item that was over
	Sheet   []plan.Section
	Pot     plan.Plan
}

// Extra is something that went in unplanned.
type Extra struct {
	Entry
	Name  string
	Grams float64
	SAP   float64 // mg KOH per g where it is a fat; else 0
}

// ScentSeen is how a scent behaved in the pot.
type ScentSeen struct {
	Entry
	Scent     string
	Behaviour additive.Behaviour
	Note      string
}

// Photo is a picture of the lot.
type Photo struct {
	Entry
	File    string // name of its content
	W, H    int
	Caption string
}

// Writer is the device that writes a run; others watch.
type Writer struct {
	Device int64  // 0 when nothing was written yet
	Token  string // by which its browser is known
	Label  string
	Who    string
	Since  time.Time
}

// AsWeighed is the formula of what is really in the pot, and the weight of its fats in g: fats and additives as
// they were weighed, what went in unplanned among them, and the superfat as it was judged. What nobody weighed is
// as planned; so are the liquids, which a stock of lye brings a part of.
func (l *Lot) AsWeighed() (f recipe.Formula, fats float64) {
	f = l.Frozen.Formula
	actual := map[plan.Key]float64{}
	for key, g := range l.Actual() {
		actual[key.Ingredient()] += g
	}
	planned := l.PotNow().FatsG
	amounts := f.AmountsFor(planned)
	grams := make([]float64, len(f.Fats))
	for i, s := range f.Fats {
		if grams[i] = amounts.Fats[i]; actual[plan.FatKey(s.Fat)] > 0 {
			grams[i] = actual[plan.FatKey(s.Fat)]
		}
		fats += grams[i]
	}
	blend := append(fat.Blend(nil), f.Fats...)
	var extras []additive.Use
	for _, x := range l.Extras {
		switch known, err := fat.Find(x.Name); {
		case x.SAP > 0 && err == nil:
			blend, grams, fats = append(blend, fat.Share{Fat: known}), append(grams, x.Grams), fats+x.Grams
		case x.SAP > 0:
			own := fat.Fat{Name: x.Name, SAP: x.SAP, Density: unknownDensity}
			blend, grams, fats = append(blend, fat.Share{Fat: own}), append(grams, x.Grams), fats+x.Grams
		default:
			extras = append(extras, additive.Use{Name: x.Name, Stage: additive.Trace, Basis: additive.GramsPerBatch, Rate: x.Grams, Density: 1})
		}
	}
	if !(fats > 0) {
		return f, planned
	}
	for i := range blend {
		blend[i].Percent = 100 * grams[i] / fats
	}
	uses := f.Uses()
	for i := range uses {
		u := &uses[i]
		g := amounts.Additives[i]
		if w := actual[plan.AdditiveKey(*u)]; w > 0 {
			g = w
		}
		u.Basis, u.Rate = additive.GramsPerBatch, g
		if u.Portion, u.Part = "", 0; u.Stage == additive.Portion {
			u.Stage = additive.Trace
		}
	}
	f.Fats, f.Additives, f.Scent, f.Portions, f.Design = blend, merged(append(uses, extras...)), nil, nil, nil
	f.Water = recipe.Water{Basis: recipe.PercentOfFats, Value: 100 * amounts.Liquid / fats}
	if judged := l.AsPoured(); !math.IsNaN(judged.Superfat) {
		f.Superfat = math.Max(0, math.Min(40, judged.Superfat))
	}
	return f, fats
}

// unknownDensity is that of a fat of which nobody said it, in g/ml.
const unknownDensity = 0.92

// merged adds up additives of the same name: names are unique in a formula.
func merged(list []additive.Use) (out []additive.Use) {
	at := map[string]int{}
	for _, u := range list {
		i, known := at[u.Name]
		if !known {
			at[u.Name] = len(out)
			u.Disperse = nil // its own oil stands in the list by itself
			out = append(out, u)
			continue
		}
		out[i].Rate += u.Rate
	}
	return out
}

// Parts are the older lots whose soap is in this one, however far back, with g of each: scraps bring along what
// they were made with. read gives a lot by its identity.
func (l *Lot) Parts(read func(oid string) (*Lot, error)) (out []Part, err error) {
	for _, p := range l.Parents {
		of, err := read(p.OID)
		if err != nil {
			return nil, err
		}
		older, err := of.Parts(read)
		if err != nil {
			return nil, err
		}
		whole := of.PotNow().Whole() - of.PotNow().ScrapsG // what really went in stands for them
		for _, one := range of.Parents {
			whole += one.Grams
		}
		left := p.Grams
		for _, one := range older {
			if whole > 0 {
				one.Grams *= p.Grams / whole
			}
			left -= one.Grams
			out = append(out, one)
		}
		out = append(out, Part{of, math.Max(0, left)})
	}
	return out, nil
}

// Part is soap of a lot that is in another one.
type Part struct {
	*Lot
	Grams float64
}
