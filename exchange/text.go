package exchange

import (
	"fmt"
	"io"
	"text/tabwriter"

	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
)

// WritePlanText writes a plan for reading: the weights in the order of the
// work and the cautions.
func WritePlanText(w io.Writer, p plan.Plan) error {
	t := tabwriter.NewWriter(w, 0, 4, 2, ' ', tabwriter.AlignRight)
	one := p.Pot()
	row := func(name string, pot, all float64) {
		if p.Batches > 1 {
			fmt.Fprintf(t, "%s g\t%s g\t  %s\n", unit.Fixed(pot, 1), unit.Fixed(all, 1), name)
			return
		}
		fmt.Fprintf(t, "%s g\t  %s\n", unit.Fixed(all, 1), name)
	}
	if p.Batches > 1 {
		fmt.Fprintf(w, "%d equal batches; first column one batch, second the whole order\n\n", p.Batches)
	}
	for i, r := range p.Liquids {
		row(r.Name, one.Liquids[i].Grams, r.Grams)
	}
	if d := p.Draw; d != nil {
		row("of that, plain water to add first", one.Draw.LiquidToAdd, d.LiquidToAdd)
		row("lye stock to draw", one.Draw.Solution, d.Solution)
	} else if p.NaOH > 0 {
		row("sodium hydroxide", one.NaOH, p.NaOH)
	}
	if p.KOH > 0 {
		row("potassium hydroxide", one.KOH, p.KOH)
	}
	for i, r := range p.Fats {
		row(r.Name, one.Fats[i].Grams, r.Grams)
	}
	for i, r := range p.Additives {
		row(r.Name+" ("+r.Stage.Words()+")", one.Additives[i].Grams, r.Grams)
	}
	row("batter: fats, lye and liquid", one.BatterG, p.BatterG)
	if err := t.Flush(); err != nil {
		return fmt.Errorf("write plan: %w", err)
	}
	fmt.Fprintf(w, "\nbatter %s g/ml, %s %% fats; superfat %s %%; lye at most %s °C\n",
		unit.Fixed(p.Density, 3), unit.Fixed(p.FatShare, 1), unit.Fixed(p.Superfat, 1), unit.Fixed(p.PeakC, 0))
	for _, c := range p.Cautions {
		if _, err := fmt.Fprintf(w, "\n%s: %s\n", c.Level, c.Text()); err != nil {
			return fmt.Errorf("write plan: %w", err)
		}
	}
	return nil
}
