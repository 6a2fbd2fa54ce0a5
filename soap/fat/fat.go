// Package fat knows the oils, butters, waxes and fatty acids that soap is made
// of, and blends of them.
//
// Every fat needs its own amount of lye, given by its saponification value
// (SAP): milligrams of potassium hydroxide that turn one gram of it wholly
// into soap. A blend's value is the average by weight of its fats. The
// reference table gives a working value, the published range around it, the
// density of the liquid fat and its typical fatty acids; a supplier's
// certificate overrides the working value.
package fat

import (
	"cmp"
	_ "embed"
	"sync"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/table"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

//go:embed fats.csv
var fatsCSV string

// DensityFall is how much the density of a liquid fat falls per °C, in g/ml.
const DensityFall = 0.00068

// Kind is the family of a fat.
type Kind string

// The families of the reference table, and the owner's own.
const (
	Oil    Kind = "oil"
	Butter Kind = "butter"
	Animal Kind = "animal"
	Wax    Kind = "wax"
	Acid   Kind = "acid"
	Own    Kind = "own"
)

// Acids is the make-up of a fat in percent of its fatty acids. It need not sum
// to 100: about half of a wax is long alcohols that never become soap.
type Acids struct {
	CaprylicCapric float64 `json:"caprylic_capric,omitempty"`
	Lauric         float64 `json:"lauric,omitempty"`
	Myristic       float64 `json:"myristic,omitempty"`
	Palmitic       float64 `json:"palmitic,omitempty"`
	Palmitoleic    float64 `json:"palmitoleic,omitempty"`
	Stearic        float64 `json:"stearic,omitempty"`
	Ricinoleic     float64 `json:"ricinoleic,omitempty"`
	Oleic          float64 `json:"oleic,omitempty"`
	Linoleic       float64 `json:"linoleic,omitempty"`
	Linolenic      float64 `json:"linolenic,omitempty"`
	LongChain      float64 `json:"long_chain,omitempty"`
}

// Fat is one fat as a recipe uses it.
type Fat struct {
	Slug     string // empty for the owner's own fat
	Name     string
	INCI     string
	Kind     Kind
	Solid    bool    // solid at 20 °C
	MeltC    float64 // °C, 0 when not given
	Density  float64 // g/ml, liquid, at 25 °C
	SAPLow   float64 // published range, mg KOH per g
	SAPHigh  float64
	SAP      float64 // used here, mg KOH per g
	Acids    Acids
	MaxShare float64 // common upper share in %, 0 when none
	Like     string  // own fat: the reference fat it resembles

	Mark material.Mark // own fat: where it comes from, as the owner says
	// Certified is true of an own fat whose figures stand on its supplier's certificate.
	Certified bool
}

// Key names the fat in formats and forms: its slug, or its name when it is the
// owner's own.
func (f Fat) Key() string {
	if f.Slug != "" {
		return f.Slug
	}
	return f.Name
}

var reference = sync.OnceValue(func() []Fat {
	rows := table.Read(fatsCSV)
	fats := make([]Fat, len(rows))
	for i, r := range rows {
		n := r.Number
		fats[i] = Fat{
			Slug: r.Text("slug"), Name: r.Text("name"), INCI: r.Text("inci"), Kind: Kind(r.Text("kind")),
			Solid: r.Text("solid") == "1", MeltC: n("melt_c"), Density: n("density_g_ml"),
			SAPLow: n("sap_low"), SAPHigh: n("sap_high"), SAP: n("sap"), MaxShare: n("max_share_pct"),
			Acids: Acids{n("caprylic_capric"), n("lauric"), n("myristic"), n("palmitic"), n("palmitoleic"), n("stearic"),
				n("ricinoleic"), n("oleic"), n("linoleic"), n("linolenic"), n("long_chain")},
		}
	}
	return fats
})

var bySlug = sync.OnceValue(func() map[string]Fat {
	m := map[string]Fat{}
	for _, f := range reference() {
		m[f.Slug] = f
	}
	return m
})

// Reference returns the reference fats in the order of the table. The slice
// must not be changed.
func Reference() []Fat { return reference() }

// marks are those of the table, by slug.
var marks = sync.OnceValue(func() map[string]material.Mark {
	out := map[string]material.Mark{}
	for _, r := range table.Read(fatsCSV) {
		out[r.Text("slug")] = material.ReadMark(r.Text("mark"))
	}
	return out
})

// soaps are what sodium hydroxide makes of the fats of the table, on a label, by slug.
var soaps = sync.OnceValue(func() map[string]string {
	out := map[string]string{}
	for _, r := range table.Read(fatsCSV) {
		out[r.Text("slug")] = r.Text("inci_saponified")
	}
	return out
})

// Soap is what sodium hydroxide makes of the fat, as a label has it: Sodium Olivate. Of an own fat
// it says that it is saponified, and of what.
func (f Fat) Soap() string {
	if name := soaps()[f.Slug]; name != "" {
		return name
	}
	return "Saponified " + f.Labelled()
}

// Labelled is the fat's name on a label: its INCI name, or its own where it has none.
func (f Fat) Labelled() string { return cmp.Or(f.INCI, f.Name) }

// From is where the fat comes from: by the table, or as the owner says of an own one.
func (f Fat) From() material.Mark {
	if _, known := BySlug(f.Slug); known {
		return marks()[f.Slug]
	}
	return f.Mark
}

// Composition is what the fat brings into a soap.
func (f Fat) Composition() material.Composition {
	return material.Composition{Fat: 100, FatSAP: f.SAP, FreeAcid: f.Family() == Acid}
}

// Family is what the fat is of: an own one that is like a fat of the table is of that one's.
func (f Fat) Family() Kind {
	if like, ok := BySlug(f.Like); ok && f.Kind == Own {
		return like.Kind
	}
	return f.Kind
}

// BySlug finds a reference fat.
func BySlug(slug string) (Fat, bool) {
	f, ok := bySlug()[slug]
	return f, ok
}

// NewOwn is a fat of the owner's. Where it is said to be like a reference fat,
// it takes over that one's fatty acids and whether it is solid, so that it can
// be judged; its own figures decide the lye and the volume.
func NewOwn(name string, sap, density float64, like string) Fat {
	f := Fat{Name: name, Kind: Own, SAP: sap, Density: density}
	if ref, ok := BySlug(like); ok {
		f.Like, f.Acids, f.Solid, f.MeltC = like, ref.Acids, ref.Solid, ref.MeltC
	}
	return f
}

// HardWax reports whether a fat is a wax that is solid in a warm room, as beeswax is.
func HardWax(f Fat) bool { return f.Kind == Wax && f.Solid }

// Share is a fat and its percentage of the blend.
type Share struct {
	Fat       Fat
	Percent   float64
	AfterCook bool // held back until the soap is cooked, so that it is what stays unsaponified
}

// Blend is the fats of a recipe.
type Blend []Share

// SAP is the saponification value of the blend in mg KOH per g.
func (b Blend) SAP() float64 {
	sum := 0.0
	for _, s := range b {
		sum += s.Percent / 100 * s.Fat.SAP
	}
	return sum
}

// Acids is the make-up of the blend, weighted by share and never normalised.
func (b Blend) Acids() Acids {
	var a Acids
	for _, s := range b {
		p, f := s.Percent/100, s.Fat.Acids
		a.CaprylicCapric += p * f.CaprylicCapric
		a.Lauric += p * f.Lauric
		a.Myristic += p * f.Myristic
		a.Palmitic += p * f.Palmitic
		a.Palmitoleic += p * f.Palmitoleic
		a.Stearic += p * f.Stearic
		a.Ricinoleic += p * f.Ricinoleic
		a.Oleic += p * f.Oleic
		a.Linoleic += p * f.Linoleic
		a.Linolenic += p * f.Linolenic
		a.LongChain += p * f.LongChain
	}
	return a
}

// Solid is the share of fats in percent that are solid at 20 °C.
func (b Blend) Solid() float64 { return b.Sum(func(f Fat) bool { return f.Solid }) }

// dissolves is how many °C each percent of liquid fats lowers the temperature at
// which the solid ones set: they dissolve in them.
const dissolves = 0.15

// ClearC is the temperature in °C above which the solid fats of the blend stay
// melted, 0 when there are none. The rule is this program's own: their mean melting
// point by share, less 0.15 °C for each percent of liquid fats.
func (b Blend) ClearC() float64 {
	solid, melt := 0.0, 0.0
	for _, s := range b {
		if s.Fat.Solid {
			solid += s.Percent
			melt += s.Percent * s.Fat.MeltC
		}
	}
	if solid <= 0 {
		return 0
	}
	return melt/solid - dissolves*(100-solid)
}

// Sum adds the percentages of the fats that match.
func (b Blend) Sum(match func(Fat) bool) float64 {
	sum := 0.0
	for _, s := range b {
		if match(s.Fat) {
			sum += s.Percent
		}
	}
	return sum
}

// OliveLike reports whether a fat makes soap as olive oil does, by its acids: oleic acid above
// all, and little that is solid or short. Olive oil of any pressing is, and what is like it: high
// oleic sunflower, almond, camellia, an own oil whose certificate says so.
func OliveLike(f Fat) bool {
	a := f.Acids
	return f.Kind != Acid && a.Oleic >= 64 && a.Palmitic+a.Stearic <= 20 && a.CaprylicCapric+a.Lauric+a.Myristic <= 3
}

// CoconutType reports whether a fat is mostly lauric and myristic: it foams
// fast, makes a hard bar and dries the skin at high shares.
func CoconutType(f Fat) bool { return f.Acids.Lauric+f.Acids.Myristic >= 50 }

// SoftButter reports whether a fat is a butter, such as shea or mango.
func SoftButter(f Fat) bool { return f.Kind == Butter }

// Separates reports whether a fat parts into a hard and a soft fraction as it
// stands, so that a scoop from the top is not the fat on the label.
func Separates(f Fat) bool { return f.Slug == "palm-oil" || f.Like == "palm-oil" }

// OxidisingLimit is the share of linoleic and linolenic acid, in percent of
// the blend, above which bars are apt to turn rancid within a year. The shares
// of the common safe oils (olive about 11, rice bran about 37) bracket it.
const OxidisingLimit = 20

// Advise gives advice about the shares of a blend. Superfat is in percent.
func (b Blend) Advise(superfat float64) []caution.Caution {
	var out []caution.Caution
	add := func(code string, level caution.Level, reason, remedy string) {
		out = append(out, caution.Caution{Code: code, Level: level, Reason: reason, Remedy: remedy})
	}
	pct := func(v float64) string { return unit.Trim(v, 1) + " %" }

	if v := b.Sum(CoconutType); v > 33 && superfat < 15 {
		add("fats.coconut", caution.Advice, "Coconut-type fats are "+pct(v)+" of the blend: quick big foam that may dry the skin.",
			"Keep them at or below 33 %, or raise the superfat to 15–20 %.")
	}
	if v := b.Sum(SoftButter); v > 15 {
		add("fats.butters", caution.Advice, "Butters are "+pct(v)+" of the blend: they hold the foam back and cost the most.",
			"10–15 % is usual.")
	}
	for _, s := range b {
		if Separates(s.Fat) && s.Percent > 0 {
			add(
				"fats.separates",
				caution.Advice,
				s.Fat.Name+" parts as it stands.",
				"Melt the whole container and stir it before you weigh any.",
			)
		}
		if s.Fat.MaxShare > 0 && s.Percent > s.Fat.MaxShare && !CoconutType(s.Fat) && !SoftButter(s.Fat) {
			add("fats.share."+s.Fat.Slug, caution.Advice, s.Fat.Name+" is "+pct(s.Percent)+" of the blend.",
				"Up to "+pct(s.Fat.MaxShare)+" is usual.")
		}
		if c, doubtful := s.Fat.AdviseSAP(); doubtful && s.Percent > 0 {
			out = append(out, c)
		}
	}
	if a := b.Acids(); a.Linoleic+a.Linolenic > OxidisingLimit {
		add(
			"fats.rancid",
			caution.Advice,
			"Linoleic and linolenic acids are "+pct(a.Linoleic+a.Linolenic)+" of the blend: bars may turn rancid (orange spots).",
			"Give a shorter shelf life, or swap part of the seed oils for olive or high-oleic sunflower.",
		)
	}
	return out
}
