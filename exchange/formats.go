package exchange

import (
	"cmp"
	"fmt"
	"io"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/material"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// The names of the formats.
const (
	RecipeFormat      = "ashshelf.recipe/1"
	PlanRequestFormat = "ashshelf.plan-request/1"
	PlanFormat        = "ashshelf.plan/1"
)

// defaultDensity is that of an additive of which nothing is said, in g/ml.
const defaultDensity = 1.0

type recipeDoc struct {
	Format    string        `json:"format,omitempty"`
	Name      string        `json:"name,omitempty"`
	Fats      []fatDoc      `json:"fats"`
	Alkali    *alkaliDoc    `json:"alkali,omitempty"`
	Superfat  float64       `json:"superfat_percent"`
	Water     waterDoc      `json:"water"`
	Liquids   []liquidDoc   `json:"liquids,omitempty"`
	Additives []additiveDoc `json:"additives,omitempty"`
	School    recipe.School `json:"temperature,omitempty"`
	Cure      string        `json:"cure,omitempty"`
	Notes     string        `json:"notes,omitempty"`
	Tags      []string      `json:"tags,omitempty"`
	SizeG     float64       `json:"written_for_fats_g,omitempty"`
	Weighed   bool          `json:"written_in_weights,omitempty"`

	Full      float64       `json:"full_liquid_percent_of_fats,omitempty"`
	Scent     *scentDoc     `json:"scent,omitempty"`
	Portions  []portionDoc  `json:"portions,omitempty"`
	Design    []recipe.Step `json:"design,omitempty"`
	Infusions []infusionDoc `json:"infusions,omitempty"`
	Process   *processDoc   `json:"process,omitempty"`
	Dilution  *dilutionDoc  `json:"dilution,omitempty"`
}

type fatDoc struct {
	Fat     string   `json:"fat,omitempty"`
	Name    string   `json:"name,omitempty"`
	SAP     *float64 `json:"sap_koh_mg_per_g,omitempty"`
	Density *float64 `json:"density_g_per_ml,omitempty"`
	Like    string   `json:"like,omitempty"`

	Acids   *fat.Acids    `json:"fatty_acids_percent,omitempty"`
	Label   string        `json:"label_name,omitempty"`
	Mark    material.Mark `json:"comes_from,omitempty"`
	Percent float64       `json:"percent"`

	Certified bool `json:"certified,omitempty"`
	AfterCook bool `json:"after_cook,omitempty"`
}

type alkaliDoc struct {
	NaOH       *float64 `json:"naoh_percent,omitempty"`
	NaOHPurity *float64 `json:"naoh_purity_percent,omitempty"`
	KOHPurity  *float64 `json:"koh_purity_percent,omitempty"`
}

type waterDoc struct {
	Basis recipe.Basis `json:"basis"`
	Value float64      `json:"value"`
}

type liquidDoc struct {
	Liquid  string  `json:"liquid"`
	Percent float64 `json:"percent"`
	Carries *bool   `json:"carries_lye,omitempty"`
	Frozen  bool    `json:"frozen,omitempty"`

	Water    *float64 `json:"water_percent,omitempty"`
	Fat      *float64 `json:"fat_percent,omitempty"`
	FatSAP   *float64 `json:"fat_sap_koh_mg_per_g,omitempty"`
	Lye      *float64 `json:"lye_g_per_g,omitempty"`
	BoilDown *float64 `json:"boil_down,omitempty"`
}

type additiveDoc struct {
	Name    string         `json:"name"`
	Stage   additive.Stage `json:"stage,omitempty"`
	Density *float64       `json:"density_g_per_ml,omitempty"`
	Lye     *float64       `json:"lye_g_per_g,omitempty"`
	Mark    material.Mark  `json:"comes_from,omitempty"`
	Rate    rateDoc        `json:"rate"`

	Behaviour additive.Behaviour  `json:"behaviour,omitempty"`
	Disperse  *additive.Dispersal `json:"disperse,omitempty"`
}

type rateDoc struct {
	Basis       additive.Basis `json:"basis"`
	Value       float64        `json:"value"`
	GramsPerTsp float64        `json:"grams_per_tsp,omitempty"`
}

type requestDoc struct {
	Recipe recipeDoc `json:"recipe"`
	Target struct {
		Molds []struct {
			Mold struct {
				Shape    mold.Shape `json:"shape"`
				Length   float64    `json:"length_mm"`
				Width    float64    `json:"width_mm"`
				Diameter float64    `json:"diameter_mm"`
				Fill     float64    `json:"fill_mm"`
				Water    float64    `json:"water_g"`
				Cavities *float64   `json:"cavities"`
			} `json:"mold"`
			Count float64 `json:"count"`
		} `json:"molds"`
		Fats       float64 `json:"fats_g"`
		Batter     float64 `json:"batter_g"`
		Ingredient *struct {
			Name  string  `json:"name"`
			Grams float64 `json:"grams"`
		} `json:"ingredient"`
	} `json:"target"`
	Rule     plan.FillRule `json:"fill_rule"`
	Loss     float64       `json:"pot_loss_percent"`
	Capacity float64       `json:"pot_capacity_g"`
	Step     float64       `json:"resolution_g"`
	Stock    *struct {
		NaOH float64  `json:"naoh_percent"`
		KOH  float64  `json:"koh_percent"`
		C    *float64 `json:"temperature_c"`
	} `json:"lye_stock"`
	LiquidC *float64 `json:"liquid_temperature_c"`
	Scraps  *struct {
		Grams   float64  `json:"grams"`
		Fats    *float64 `json:"fats_percent"`
		Density *float64 `json:"density_g_per_ml"`
	} `json:"scraps"`
}

func or(p *float64, otherwise float64) float64 {
	if p == nil {
		return otherwise
	}
	return *p
}

// formula turns the written recipe into a formula. Unknown fats and liquids
// are problems, at paths below at.
func (d recipeDoc) formula(at string, p *caution.Problems) recipe.Formula {
	f := recipe.Formula{Name: d.Name, Superfat: d.Superfat, Water: recipe.Water(d.Water), Alkali: lye.DefaultAlkali(), School: d.School}
	for i, row := range d.Fats {
		var one fat.Fat
		if row.Fat != "" {
			ref, ok := fat.BySlug(row.Fat)
			if !ok {
				p.Add(
					fmt.Sprintf("%sfats[%d].fat", at, i),
					"“%s” is not a fat of the reference table; give an own fat by name, sap_koh_mg_per_g and density_g_per_ml",
					row.Fat,
				)
				continue
			}
			one = ref
		} else {
			if _, ok := fat.BySlug(row.Like); !ok && row.Like != "" {
				p.Add(fmt.Sprintf("%sfats[%d].like", at, i), "“%s” is not a fat of the reference table", row.Like)
			}
			one = fat.NewOwn(row.Name, 0, 0, row.Like)
		}
		one.SAP, one.Density = or(row.SAP, one.SAP), or(row.Density, one.Density)
		if row.Acids != nil {
			one.Acids = *row.Acids
		}
		one.INCI = cmp.Or(row.Label, one.INCI)
		one.Mark, one.Certified = row.Mark, row.Certified
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: row.Percent, AfterCook: row.AfterCook})
	}
	if a := d.Alkali; a != nil {
		f.Alkali = lye.Alkali{
			NaOHPercent: or(a.NaOH, f.Alkali.NaOHPercent),
			NaOHPurity:  or(a.NaOHPurity, f.Alkali.NaOHPurity),
			KOHPurity:   or(a.KOHPurity, f.Alkali.KOHPurity),
		}
	}
	said := false
	for _, row := range d.Liquids {
		said = said || row.Carries != nil
	}
	for i, row := range d.Liquids {
		l, ok := liquid.BySlug(row.Liquid)
		if !ok {
			p.Add(fmt.Sprintf("%sliquids[%d].liquid", at, i), "“%s” is not a liquid of the reference table", row.Liquid)
			continue
		}
		l.Water, l.Fat, l.FatSAP = or(row.Water, l.Water), or(row.Fat, l.Fat), or(row.FatSAP, l.FatSAP)
		l.Lye, l.BoilDown = or(row.Lye, l.Lye), or(row.BoilDown, l.BoilDown)
		carries := !said || row.Carries != nil && *row.Carries
		f.Liquids = append(f.Liquids, recipe.Liquid{Liquid: l, Percent: row.Percent, Carries: carries, Frozen: row.Frozen})
	}
	if len(d.Liquids) == 0 {
		f.Liquids = []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}
	}
	for _, row := range d.Additives {
		f.Additives = append(f.Additives, row.use())
	}
	d.more(&f)
	return f
}

// ReadRequest reads a plan request. Problems of what was written are of type
// [caution.Problems]; other errors are of reading.
func ReadRequest(r io.Reader) (plan.Request, error) {
	text, err := readText(r)
	if err != nil {
		return plan.Request{}, err
	}
	var d requestDoc
	if err := readInto(text, "plan-request-1", &d); err != nil {
		return plan.Request{}, err
	}
	var p caution.Problems
	q := plan.Request{
		Formula: d.Recipe.formula("recipe.", &p), Rule: plan.Computed, PotLoss: d.Loss, PotCapacity: d.Capacity,
		Scales: plan.Scales{Resolution: d.Step}, LiquidC: or(d.LiquidC, lye.RoomC),
	}
	if d.Rule != "" {
		q.Rule = d.Rule
	}
	for _, m := range d.Target.Molds {
		q.Target.Molds = append(q.Target.Molds, plan.MoldCount{Count: int(m.Count), Mold: mold.Mold{
			Shape: m.Mold.Shape, Length: m.Mold.Length, Width: m.Mold.Width, Diameter: m.Mold.Diameter,
			Fill: m.Mold.Fill, WaterG: m.Mold.Water, Cavities: int(or(m.Mold.Cavities, 1)),
		}})
	}
	q.Target.FatsG, q.Target.BatterG = d.Target.Fats, d.Target.Batter
	if in := d.Target.Ingredient; in != nil {
		q.Target.Ingredient = &plan.Ingredient{Name: in.Name, Grams: in.Grams}
	}
	if s := d.Stock; s != nil {
		q.Stock = &lye.Stock{Strength: s.NaOH, C: or(s.C, lye.RoomC)}
		if s.KOH != 0 {
			q.Stock.Strength, q.Stock.KOH = s.KOH, true
		}
	}
	if s := d.Scraps; s != nil {
		q.Scraps = &plan.Scraps{
			Grams:       s.Grams,
			FatsPercent: or(s.Fats, plan.UsualScrapFats),
			Density:     or(s.Density, plan.UsualScrapDensity),
		}
	}
	return q, p.Err()
}

type rowDoc struct {
	Name  string         `json:"name"`
	Stage additive.Stage `json:"stage,omitempty"`
	Grams float64        `json:"grams"`
}

type planDoc struct {
	Format    string       `json:"format,omitempty"`
	Batches   int          `json:"batches"`
	FatsG     float64      `json:"fats_g"`
	Fats      []rowDoc     `json:"fats"`
	NaOH      float64      `json:"naoh_g"`
	KOH       float64      `json:"koh_g"`
	LiquidG   float64      `json:"liquid_g"`
	Liquids   []rowDoc     `json:"liquids"`
	Draw      *drawDoc     `json:"lye_draw,omitempty"`
	Additives []rowDoc     `json:"additives"`
	Batter    float64      `json:"batter_g"`
	Density   float64      `json:"batter_density_g_per_ml"`
	FatShare  float64      `json:"fats_percent_of_batter"`
	Superfat  float64      `json:"superfat_percent"`
	PeakC     float64      `json:"lye_peak_c"`
	Cautions  []cautionDoc `json:"cautions"`
	PerBatch  *planDoc     `json:"per_batch,omitempty"`
}

type drawDoc struct {
	Solution float64 `json:"solution_g"`
	Water    float64 `json:"water_in_solution_g"`
	ToAdd    float64 `json:"liquid_to_add_g"`
}

type cautionDoc struct {
	Code  string        `json:"code"`
	Level caution.Level `json:"level"`
	Text  string        `json:"text"`
}

func writtenPlan(p plan.Plan) *planDoc {
	d := &planDoc{
		Batches: p.Batches, FatsG: p.FatsG, NaOH: p.NaOH, KOH: p.KOH, LiquidG: p.LiquidG, Batter: p.BatterG,
		Density: p.Density, FatShare: p.FatShare, Superfat: p.Superfat, PeakC: p.PeakC,
		Fats: rows(p.Fats), Liquids: rows(p.Liquids), Additives: rows(p.Additives), Cautions: []cautionDoc{},
	}
	if p.Draw != nil {
		d.Draw = &drawDoc{p.Draw.Solution, p.Draw.Water, p.Draw.LiquidToAdd}
	}
	for _, c := range p.Cautions {
		d.Cautions = append(d.Cautions, cautionDoc{c.Code, c.Level, c.Text()})
	}
	if p.PerBatch != nil {
		d.PerBatch = writtenPlan(*p.PerBatch)
	}
	return d
}

func rows(in []plan.Row) []rowDoc {
	out := make([]rowDoc, len(in))
	for i, r := range in {
		out[i] = rowDoc(r)
	}
	return out
}

// WritePlan writes a plan in the open format.
func WritePlan(w io.Writer, p plan.Plan) error {
	d := writtenPlan(p)
	d.Format = PlanFormat
	return writeJSON(w, d)
}
