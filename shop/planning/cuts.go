package planning

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
)

// cut works out the bars of each mold, now that it is known what a millilitre
// of this soap weighs.
func (w *ComputedPlan) cut(o Order, tools []catalog.Tool) error {
	var p caution.Problems
	density := soapDensity(w.Plan) * w.fullness()
	for i := range w.Molds {
		m := &w.Molds[i]
		want := o.Molds[slices.IndexFunc(o.Molds, func(x OrderMold) bool { return x.OID == m.OID })].Cut
		at, cutter := "cut."+m.OID, catalog.Tool{}
		switch {
		case want.Label && o.Label.Grams == 0:
			p.Add(at, "say the weight on the label, then its thickness follows")
		case want.Label:
			// Rounded up to half a millimetre, which is what a guide can be set to.
			m.Cut.Thickness = math.Ceil(2*m.Mold.ThicknessFor(w.Label.Raw()/density, m.Cut.Loaves)-1e-9) / 2
			m.Cut.Bars = 0
		case want.Thickness > 0:
			m.Cut.Thickness, m.Cut.Bars = want.Thickness, 0
		case want.Cutter != "":
			k := slices.IndexFunc(tools, func(t catalog.Tool) bool { return t.OID == want.Cutter })
			if k < 0 {
				p.Add(at, "that cutter is not among the equipment")
				break
			}
			cutter = tools[k]
			m.Cut.Thickness, m.Cut.Bars, m.Cut.Cutter = cutter.Spacing, 0, cutter.Name
		}
		var wrong caution.Problems
		m.Cut.Check(&wrong, at, m.Mold)
		for _, q := range wrong {
			p.Add(at, "%s", q.Text)
		}
		b := m.Mold.Cuts(m.Cut)
		m.Bars = b.Count
		c := document.CutPlan{Bars: b, RawG: b.Volume * density, EndG: b.EndVolume * density, Cutter: cutter.Name}
		c.CuredG = mold.Label{Loss: w.Loss}.Cured(c.RawG)
		if w.Label.Grams > 0 && b.Count > 0 {
			c.Stays = w.Label.Stays(c.RawG)
			if c.Stays < -0.005 {
				w.shortOfLabel(*m, c, density, tools)
			}
		}
		w.Cuts = append(w.Cuts, c)
	}
	caution.Sort(w.Plan.Cautions)
	if w.Plan.PerBatch != nil {
		caution.Sort(w.Plan.PerBatch.Cautions)
	}
	return p.Err()
}

// fullness is how full a habit of filling leaves the molds, as a share of their fill line: bars are
// as much lighter or heavier.
func (w *ComputedPlan) fullness() float64 {
	hold := w.Request.Target.Volume()
	if w.Request.Rule == plan.Computed || hold <= 0 {
		return 1
	}
	return w.Plan.VolumeML * w.Request.Reaches() / hold
}

// soapDensity is what a millilitre of the soap as it is poured weighs in g,
// additives and scraps included.
func soapDensity(p plan.Plan) float64 {
	return p.Whole() / p.VolumeML
}

// shortOfLabel says that a cut falls short of the label, by how much, and what
// would meet it: a thicker cut, a cutter of the shop that serves, or a fuller
// mold.
func (w *ComputedPlan) shortOfLabel(m lot.Mold, c document.CutPlan, density float64, tools []catalog.Tool) {
	var ways []string
	need := m.Mold.ThicknessFor(w.Label.Raw()/density, max(1, c.Loaves))
	if need > 0 {
		ways = append(ways, fmt.Sprintf("cut %s mm thick", unit.Trim(math.Ceil(2*need-1e-9)/2, 1)))
		best := catalog.Tool{}
		for _, t := range tools {
			if t.Kind == document.Cutter && !t.Retired && t.Spacing >= need-1e-9 && (best.OID == "" || t.Spacing < best.Spacing) {
				best = t
			}
		}
		if best.OID != "" {
			ways = append(ways, fmt.Sprintf("use the %s (%s mm)", best.Name, unit.Trim(best.Spacing, 1)))
		}
	}
	if m.Mold.Fill > 0 && c.RawG > 0 {
		fill := m.Mold.Fill * w.Label.Raw() / c.RawG
		if m.Mold.Height == 0 || fill < m.Mold.Height {
			ways = append(ways, fmt.Sprintf("fill to %s mm in place of %s", unit.Trim(math.Ceil(fill), 0), unit.Trim(m.Mold.Fill, 1)))
		}
	}
	how := ""
	if len(ways) > 0 {
		how = unit.Capital(strings.Join(ways, ", or ")) + "."
	}
	add := caution.Caution{Code: "label.short", Level: caution.Warn,
		Reason: fmt.Sprintf(
			"%s: a bar cures to about %s g, %s g short of its label of %s g.",
			m.Name,
			unit.Fixed(c.CuredG, 1),
			unit.Fixed(w.Label.Grams-c.CuredG, 1),
			unit.Trim(w.Label.Grams, 1),
		), Remedy: how}
	w.Plan.Cautions = append(w.Plan.Cautions, add)
	if w.Plan.PerBatch != nil {
		w.Plan.PerBatch.Cautions = append(w.Plan.PerBatch.Cautions, add)
	}
}
