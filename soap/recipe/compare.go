package recipe

import (
	"ashshelf/soap/unit"
)

// Difference is one line of two recipes side by side.
type Difference struct {
	What   string
	Kind   string // fat, lye, liquid, additive, setting
	A, B   string // as they are said: shares, words
	AG, BG float64
	Grams  bool // AG and BG count, at one size
	Same   bool
}

// Compare lays two formulas side by side, at one weight of fats in grams.
// Lines come in the order of a, then what only b has.
func Compare(a, b Formula, fats float64) []Difference {
	x, y := a.AmountsFor(fats), b.AmountsFor(fats)
	var out []Difference
	pct := func(v float64) string { return unit.Trim(v, 2) + " %" }
	weighed := func(kind string, list func(Formula, Amounts, func(key, name, said string, g float64))) {
		at := map[string]int{}
		collect := func(second bool) func(key, name, said string, g float64) {
			return func(key, name, said string, g float64) {
				i, ok := at[key]
				if !ok {
					i = len(out)
					at[key] = i
					out = append(out, Difference{What: name, Kind: kind, Grams: true})
				}
				if second {
					out[i].B, out[i].BG = said, g
				} else {
					out[i].A, out[i].AG = said, g
				}
			}
		}
		list(a, x, collect(false))
		list(b, y, collect(true))
	}
	weighed("fat", func(f Formula, m Amounts, add func(key, name, said string, g float64)) {
		for i, s := range f.Fats {
			said := pct(s.Percent)
			if ref := s.Fat.SAP; ref > 0 {
				said += ", SAP " + unit.Trim(ref, 1)
			}
			if s.AfterCook {
				said += ", after the cook"
			}
			add(s.Fat.Key(), s.Fat.Name, said, m.Fats[i])
		}
	})
	weighed("lye", func(f Formula, m Amounts, add func(key, name, said string, g float64)) {
		if m.NaOH > 0 {
			add("naoh", "Sodium hydroxide", pct(f.Alkali.NaOHPercent)+" of the work", m.NaOH)
		}
		if m.KOH > 0 {
			add("koh", "Potassium hydroxide", pct(100-f.Alkali.NaOHPercent)+" of the work", m.KOH)
		}
	})
	weighed("liquid", func(f Formula, m Amounts, add func(key, name, said string, g float64)) {
		for i, l := range f.Liquids {
			said := pct(l.Percent)
			if l.Carries {
				said += ", carries the lye"
			}
			if l.Frozen {
				said += ", frozen"
			}
			add(l.Liquid.Slug, l.Liquid.Name, said, m.Liquids[i])
		}
	})
	weighed("additive", func(f Formula, m Amounts, add func(key, name, said string, g float64)) {
		for i, u := range f.Uses() {
			add(u.Key(), u.Key(), u.Describe(), m.Additives[i])
		}
	})
	setting := func(what, p, q string) {
		if p != "" || q != "" {
			out = append(out, Difference{What: what, Kind: "setting", A: p, B: q})
		}
	}
	setting("Superfat", pct(a.Superfat), pct(b.Superfat))
	setting("Lye strength", pct(x.EquivalentWater()[LyeStrength]), pct(y.EquivalentWater()[LyeStrength]))
	setting("Batter", unit.Grams(x.Batter())+" g", unit.Grams(y.Batter())+" g")
	setting("Working temperature", a.Worked().Words(), b.Worked().Words())
	setting("Process", a.Process.Kind.Words(), b.Process.Kind.Words())
	setting("Thinned", a.Dilution.Words(), b.Dilution.Words())
	setting("Trace", string(a.Process.Trace), string(b.Process.Trace))
	setting("Gel", string(a.Process.Gel), string(b.Process.Gel))
	setting("Cover", string(a.Process.Cover), string(b.Process.Cover))
	n := max(len(a.Portions), len(b.Portions))
	for i := range n {
		said := func(f Formula) string {
			if i < len(f.Portions) {
				return f.Portions[i].Name + ", " + pct(f.Portions[i].Percent)
			}
			return ""
		}
		setting("Portion "+unit.Trim(float64(i+1), 0), said(a), said(b))
	}
	for i := range max(len(a.Design), len(b.Design)) {
		said := func(f Formula) string {
			if i < len(f.Design) {
				return f.Design[i].Words()
			}
			return ""
		}
		setting("Step "+unit.Trim(float64(i+1), 0), said(a), said(b))
	}
	for i := range out {
		d := &out[i]
		d.Same = d.A == d.B && unit.Trim(d.AG, 2) == unit.Trim(d.BG, 2)
	}
	return out
}
