package exchange

import (
	"cmp"

	"ashshelf/soap/additive"
	"ashshelf/soap/liquid"
	"ashshelf/soap/material"
	"ashshelf/soap/recipe"
)

// What a recipe may say besides its chemistry. All of it is optional, so that a
// file that leaves it out means what it always meant.

type scentDoc struct {
	Rate    float64        `json:"rate_percent_of_fats,omitempty"`
	Grams   float64        `json:"grams_per_batch,omitempty"`
	Bottle  string         `json:"mixed_as,omitempty"`
	Into    []string       `json:"into_portions,omitempty"`
	Stage   additive.Stage `json:"stage,omitempty"`
	Parts   []scentPartDoc `json:"parts"`
	OverMax string         `json:"over_maximum_because,omitempty"`
}

type scentPartDoc struct {
	Name     string             `json:"name"`
	Supplier string             `json:"supplier,omitempty"`
	Percent  float64            `json:"percent"`
	Max      float64            `json:"max_percent,omitempty"`
	MaxOf    additive.MaxOf     `json:"max_of,omitempty"`
	Density  *float64           `json:"density_g_per_ml,omitempty"`
	Stated   additive.Behaviour `json:"stated,omitempty"`
	Observed additive.Behaviour `json:"observed,omitempty"`
	Tint     string             `json:"tint,omitempty"`
	Mark     material.Mark      `json:"comes_from,omitempty"`
}

type portionDoc struct {
	Name      string        `json:"name"`
	Percent   float64       `json:"percent"`
	Tone      recipe.Tone   `json:"tone,omitempty"`
	Scraps    bool          `json:"scraps,omitempty"`
	Colorants []additiveDoc `json:"colorants,omitempty"`
}

type infusionDoc struct {
	Fat      string   `json:"fat"`
	Herb     string   `json:"herb"`
	HerbPct  *float64 `json:"herb_percent_of_oil,omitempty"`
	Loss     *float64 `json:"loss_g_per_g,omitempty"`
	Overage  *float64 `json:"overage_percent,omitempty"`
	Hours    *float64 `json:"hours,omitempty"`
	Standing bool     `json:"standing,omitempty"`
}

type processDoc struct {
	Kind     recipe.Kind  `json:"kind,omitempty"`
	LyeC     float64      `json:"lye_c,omitempty"`
	FatsC    float64      `json:"fats_c,omitempty"`
	Trace    recipe.Trace `json:"trace,omitempty"`
	Gel      recipe.Gel   `json:"gel,omitempty"`
	Cover    recipe.Cover `json:"cover,omitempty"`
	Material string       `json:"mold,omitempty"`
	Opens    float64      `json:"unmold_from_h,omitempty"`
	Closes   float64      `json:"unmold_until_h,omitempty"`
}

type dilutionDoc struct {
	Soap     float64 `json:"soap_percent"`
	Glycerin float64 `json:"glycerin_percent,omitempty"`
}

// usualDensity is that of what has such a name; a scent is named after anything.
func (d additiveDoc) usualDensity() float64 {
	if d.Behaviour != additive.Unknown {
		return defaultDensity
	}
	return additive.UsualDensity(d.Name)
}

// use reads an additive. What takes up lye by its name counts, unless the file says
// itself how much.
func (d additiveDoc) use() additive.Use {
	u := additive.Use{
		Name: d.Name, Stage: d.Stage, Density: or(d.Density, d.usualDensity()), Basis: d.Rate.Basis,
		Rate: d.Rate.Value, GramsPerTsp: d.Rate.GramsPerTsp, Behaviour: d.Behaviour, Disperse: d.Disperse, Mark: d.Mark,
	}
	return u.Takes(d.Lye)
}

func writtenUse(u additive.Use) additiveDoc {
	d := additiveDoc{Name: u.Name, Stage: u.Stage, Density: &u.Density, Behaviour: u.Behaviour, Disperse: u.Disperse, Mark: u.Mark,
		Rate: rateDoc{u.Basis, u.Rate, u.GramsPerTsp}}
	if usual := u.Takes(nil); u.Lye > 0 || u.Lye != usual.Lye || u.Neutral != usual.Neutral {
		d.Lye = &u.Lye
	}
	return d
}

// more reads all that is optional into the formula.
func (d recipeDoc) more(f *recipe.Formula) {
	f.FullLiquid, f.Design = d.Full, d.Design
	if s := d.Scent; s != nil {
		f.Scent = &additive.Perfume{
			Rate: s.Rate, Grams: s.Grams, Bottle: s.Bottle, Stage: cmp.Or(s.Stage, additive.Trace), OverMax: s.OverMax,
			Portions: s.Into,
		}
		for _, p := range s.Parts {
			f.Scent.Parts = append(f.Scent.Parts, additive.ScentPart{Percent: p.Percent, Scent: additive.Scent{
				Name: p.Name, Supplier: p.Supplier, Max: p.Max, MaxOf: p.MaxOf, Density: or(p.Density,
					additive.ScentDensity), Stated: p.Stated, Observed: p.Observed, Tint: p.Tint, Mark: p.Mark}})
		}
	}
	for _, p := range d.Portions {
		one := recipe.Portion{Name: p.Name, Percent: p.Percent, Tone: p.Tone, Scraps: p.Scraps}
		for _, c := range p.Colorants {
			one.Colorants = append(one.Colorants, c.use())
		}
		f.Portions = append(f.Portions, one)
	}
	for _, i := range d.Infusions {
		f.Infusions = append(
			f.Infusions,
			liquid.Infusion{Fat: i.Fat, Herb: i.Herb, HerbPct: or(i.HerbPct, liquid.UsualHerb), Loss: or(i.Loss, liquid.UsualLoss),
				Overage: or(i.Overage, liquid.UsualOverage), Hours: or(i.Hours, liquid.UsualHours), Standing: i.Standing},
		)
	}
	if p := d.Process; p != nil {
		f.Process = recipe.Process(*p)
	}
	if t := d.Dilution; t != nil {
		dilution := recipe.Dilution(*t)
		f.Dilution = &dilution
	}
}

// writeMore is the way back.
func (d *recipeDoc) writeMore(f recipe.Formula) {
	d.Full, d.Design = f.FullLiquid, f.Design
	if s := f.Scent; s != nil {
		d.Scent = &scentDoc{Rate: s.Rate, Grams: s.Grams, Bottle: s.Bottle, Stage: s.Stage, OverMax: s.OverMax, Into: s.Portions}
		for _, p := range s.Parts {
			d.Scent.Parts = append(
				d.Scent.Parts,
				scentPartDoc{Name: p.Name, Supplier: p.Supplier, Percent: p.Percent, Max: p.Max, MaxOf: p.MaxOf,
					Density: &p.Density, Stated: p.Stated, Observed: p.Observed, Tint: p.Tint, Mark: p.Mark},
			)
		}
	}
	for _, p := range f.Portions {
		one := portionDoc{Name: p.Name, Percent: p.Percent, Tone: p.Tone, Scraps: p.Scraps}
		for _, u := range p.Colorants {
			u.Stage = ""
			one.Colorants = append(one.Colorants, writtenUse(u))
		}
		d.Portions = append(d.Portions, one)
	}
	for _, i := range f.Infusions {
		d.Infusions = append(d.Infusions, infusionDoc{i.Fat, i.Herb, &i.HerbPct, &i.Loss, &i.Overage, &i.Hours, i.Standing})
	}
	if f.Process != (recipe.Process{}) {
		p := processDoc(f.Process)
		d.Process = &p
	}
	if f.Dilution != nil {
		t := dilutionDoc(*f.Dilution)
		d.Dilution = &t
	}
}
