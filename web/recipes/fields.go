package recipes

import (
	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/web/page"
)

// The fields of a recipe, each named once: they are bound to be written into a form and to
// be read from it. What takes more than a field, such as a fat that is found by its name,
// is in form.go.

func bindAlkali(b page.Binding, a *lye.Alkali) {
	usual := lye.DefaultAlkali()
	b.Usual("naoh_percent", &a.NaOHPercent, usual.NaOHPercent)
	b.Usual("naoh_purity_percent", &a.NaOHPurity, usual.NaOHPurity)
	b.Usual("koh_purity_percent", &a.KOHPurity, usual.KOHPurity)
}

// bindHeldBack binds what is said of a fat beside its share: a certificate is only asked for of an own
// one.
func bindHeldBack(b page.Binding, s *fat.Share) {
	b.Ticked("after_cook", &s.AfterCook)
	if s.Fat.Slug == "" {
		b.Ticked("certified", &s.Fat.Certified)
	}
}

func bindDilution(b page.Binding, d *recipe.Dilution) {
	b.Usual("soap_percent", &d.Soap, recipe.UsualDilution().Soap)
	b.Own("glycerin_percent", &d.Glycerin, 0)
}

// bindLiquid binds a liquid whose composition may be the recipe's own, over that of the
// table.
func bindLiquid(b page.Binding, l *recipe.Liquid, table liquid.Liquid) {
	b.Ticked("carries_lye", &l.Carries)
	b.Ticked("frozen", &l.Frozen)
	b.Own("water_percent", &l.Liquid.Water, table.Water)
	b.Own("fat_percent", &l.Liquid.Fat, table.Fat)
	b.Own("fat_sap_koh_mg_per_g", &l.Liquid.FatSAP, table.FatSAP)
	b.Own("lye_g_per_g", &l.Liquid.Lye, table.Lye)
	b.Own("boil_down", &l.Liquid.BoilDown, table.BoilDown)
}

// bindScent binds a scent that the shop does not know.
func bindScent(b page.Binding, s *additive.Scent) {
	b.Text("name", &s.Name)
	b.Text("supplier", &s.Supplier)
	b.Own("max_percent", &s.Max, 0)
	page.Word(b, "max_of", &s.MaxOf)
	b.Usual("density_g_per_ml", &s.Density, additive.ScentDensity)
	page.Word(b, "stated", &s.Stated)
	page.Word(b, "observed", &s.Observed)
	page.Word(b, "mark", &s.Mark)
}

func bindPortion(b page.Binding, p *recipe.Portion) {
	b.Text("name", &p.Name)
	page.Word(b, "tone", &p.Tone)
	b.Ticked("scraps", &p.Scraps)
}

func bindDesign(b page.Binding, s *recipe.Step) {
	page.Word(b, "do", &s.Do)
	b.Text("portion", &s.Portion)
	b.Text("into", &s.Into)
	b.Own("percent", &s.Percent, 0)
	b.Text("note", &s.Note)
}

// bindInfusion binds an infusion; loss is what its herb is known to keep.
func bindInfusion(b page.Binding, i *liquid.Infusion, loss float64) {
	b.Text("fat", &i.Fat)
	b.Text("herb", &i.Herb)
	b.Usual("herb_percent_of_oil", &i.HerbPct, liquid.UsualHerb)
	b.Usual("loss_g_per_g", &i.Loss, loss)
	b.Usual("overage_percent", &i.Overage, liquid.UsualOverage)
	b.Usual("hours", &i.Hours, liquid.UsualHours)
	b.Ticked("standing", &i.Standing)
}

func bindProcess(b page.Binding, p *recipe.Process) {
	page.Word(b, "kind", &p.Kind)
	page.Word(b, "trace", &p.Trace)
	page.Word(b, "gel", &p.Gel)
	page.Word(b, "cover", &p.Cover)
	b.Text("mold", &p.Material)
	b.Temperature("lye_c", &p.LyeC)
	b.Temperature("fats_c", &p.FatsC)
	b.Own("unmold_from_h", &p.Opens, 0)
	b.Own("unmold_until_h", &p.Closes, 0)
}
