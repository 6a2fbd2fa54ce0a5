package recipe

import (
	"math"
	"slices"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/unit"
)

// School is a school of working temperature.
type School string

// The schools. Warm is what is meant when nothing is said.
const (
	Room School = "room" // below 30 °C
	Warm School = "warm" // 30 to 43 °C
	Hot  School = "hot"  // 43 to 63 °C
)

// Schools returns the schools, the default first.
func Schools() []School { return []School{Warm, Room, Hot} }

// Range is the school's working temperature in °C.
func (s School) Range() (low, high float64) {
	switch s {
	case Room:
		return 20, 30
	case Hot:
		return 43, 63
	}
	return 30, 43
}

// wishSlack is how many °C beside what a recipe wishes for both pots it may be worked at.
const wishSlack = 5.0

// Working is the range in °C that both pots of the formula are worked in: about what it wishes for
// both of them, else that of its school, widened by a wish for one; and never so cold that its
// solid fats set.
func (f Formula) Working() (low, high float64) {
	low, high = f.School.Range()
	switch lyeC, fatsC := f.Process.LyeC, f.Process.FatsC; {
	case lyeC != 0 && fatsC != 0:
		low, high = math.Min(lyeC, fatsC)-wishSlack, math.Max(lyeC, fatsC)+wishSlack
	case lyeC != 0 || fatsC != 0:
		wish := lyeC + fatsC
		low, high = math.Min(low, wish), math.Max(high, wish)
	}
	return math.Min(math.Max(low, f.Fats.ClearC()), high), high
}

// Worked is the school that the formula is worked by: that of the temperatures it wishes for both
// pots, else the one that was chosen.
func (f Formula) Worked() School {
	if f.Process.LyeC == 0 || f.Process.FatsC == 0 {
		return f.School
	}
	mean := (f.Process.LyeC + f.Process.FatsC) / 2
	for _, s := range []School{Hot, Warm} {
		if low, _ := s.Range(); mean > low {
			return s
		}
	}
	return Room
}

// Words says the school as a maker would.
func (s School) Words() string {
	switch s {
	case Room:
		return "room temperature, below 30 °C"
	case Hot:
		return "hot, 43 to 63 °C"
	}
	return "warm, 30 to 43 °C"
}

// Valid reports whether s is a school, or not said.
func (s School) Valid() bool { return s == "" || slices.Contains(Schools(), s) }

// Outlook is one thing that can be foretold of a soap: a figure that only
// orders soaps among each other, and what a person would see and feel.
type Outlook struct {
	Name   string
	Figure float64
	Words  string
	Causes []string // the strongest first
}

// Outlooks is what a formula promises.
//
// The rules are this program's own and are stated in docs/judgement.md. They
// are weighted sums of fatty acids that order soaps as makers do; the figures
// mean nothing by themselves.
type Outlooks struct {
	Foam   Outlook // how quickly it foams
	Early  Outlook // how firm it is at the cut
	Cured  Outlook // how firm after its cure
	Skin   Outlook // how dry it leaves the skin
	Keeps  Outlook // how soon it may spoil; higher is sooner
	Time   Outlook // how long the batter can be worked; higher is longer
	Groups []Group
}

// All returns the outlooks in the order of the work.
func (o Outlooks) All() []Outlook {
	return []Outlook{o.Time, o.Early, o.Cured, o.Foam, o.Skin, o.Keeps}
}

// Group is a family of fatty acids that do the same in soap, in percent of
// all.
type Group struct {
	Name    string
	Percent float64
}

// grade picks the words whose limit the figure does not reach.
func grade(v float64, limits []float64, words []string) string {
	for i, l := range limits {
		if v < l-1e-9 { // words do not hang on the last bit
			return words[i]
		}
	}
	return words[len(words)-1]
}

// Judge foretells the soap.
func (f Formula) Judge() Outlooks {
	const size = 1000.0
	amounts := f.AmountsFor(size)
	superfat := f.SuperfatOf(amounts)
	a := f.Fats.Acids()
	quick := a.CaprylicCapric + a.Lauric + a.Myristic
	firm := a.Palmitic + a.Stearic
	loose := a.Linoleic + a.Linolenic
	wetness := math.Max(-driest, 100*f.TrueWater(amounts)/size-usualWater)
	salt := f.AllSalt(amounts)

	var o Outlooks
	foam := (a.Lauric+a.Myristic+0.5*a.CaprylicCapric+0.2*a.Ricinoleic)*(1-0.015*(superfat-5)) - 0.1*math.Min(salt, 60)
	o.Foam = Outlook{Name: "Foam", Figure: foam, Words: grade(foam, []float64{8, 17, 30},
		[]string{"slow and low, more cream than bubbles", "moderate, with some rubbing", "quick and lively", "very quick and big"})}
	early := quick*0.8 + firm + 0.6*math.Min(salt, 60) + f.hardeners(amounts) - 0.6*wetness - 0.4*(superfat-5) - 0.15*loose
	o.Early = Outlook{Name: "At the cut", Figure: early, Words: grade(early, []float64{20, 33, 55},
		[]string{"soft for days", "soft at first, cut it patiently", "firm by the next day", "hard early: cut it in time"})}
	cured := 0.8*quick + firm + 0.32*a.Oleic + 0.15*a.Ricinoleic - 0.35*loose + 0.5*math.Min(salt, 60) - 0.5*(superfat-5)
	o.Cured = Outlook{Name: "After its cure", Figure: cured, Words: grade(cured, []float64{30, 46, 66},
		[]string{"stays soft and wears quickly", "firm enough", "a hard bar that lasts", "a very hard bar"})}
	if f.Potash() {
		o.Early.Words = "a paste: it is scooped, not cut"
		o.Cured.Words = "stays a paste, or is thinned to liquid soap"
	}
	skin := quick - 1.6*(superfat-5)
	o.Skin = Outlook{Name: "On the skin", Figure: skin, Words: grade(skin, []float64{12, 26, 36},
		[]string{"very mild", "mild", "cleans strongly", "may dry the skin"})}
	keeps := (a.Linoleic + 2*a.Linolenic) * (1 + 0.06*(superfat-5))
	o.Keeps = Outlook{Name: "Keeping", Figure: keeps, Words: grade(
		keeps,
		[]float64{12, 20, 30},
		[]string{
			"keeps well over a year",
			"keeps about a year",
			"may turn rancid within the year: sell it young",
			"turns rancid in months: a short best-before",
		},
	)}
	o.Time = f.timeToWork(amounts, salt)
	o.Groups = []Group{
		{"quick foam", quick}, {"firm and creamy", firm}, {"lasting foam, from castor", a.Ricinoleic},
		{"mild, as olive is", a.Oleic}, {"quick to spoil", loose}, {"long acids and waxes", a.LongChain},
	}
	return o
}

// usualWater is the water in percent of the fats at which a soap is as firm at the cut as its fats
// make it, and driest how far below it less still makes it firmer.
const usualWater, driest = 28.0, 8.0

// hardeners is how much firmer lactate, sugar and solid waxes make a soap at the cut: each a few
// points, however much of it there is.
func (f Formula) hardeners(a Amounts) float64 {
	const each, least = 4.0, 0.5 // points; percent of the fats
	sum := 0.0
	if f.Lactate(a) >= least {
		sum += each
	}
	if f.AddedSugar(a) >= least {
		sum += each
	}
	if f.Fats.Sum(fat.HardWax) >= least {
		sum += each
	}
	return sum
}

// timeToWork multiplies the effects of all that hastens or slows the batter;
// 100 is an everyday blend at 33 % lye, warm.
func (f Formula) timeToWork(a Amounts, salt float64) Outlook {
	type effect struct {
		factor      float64
		slow, hasty string
	}
	var effects []effect
	add := func(factor float64, hasty, slow string) { effects = append(effects, effect{factor, slow, hasty}) }

	solid := f.Fats.Solid()
	add(math.Exp(-(solid-40)/60), "solid fats at "+unit.Trim(solid, 0)+" %", "liquid fats at "+unit.Trim(100-solid, 0)+" %")
	strength := a.EquivalentWater()[LyeStrength]
	add(math.Exp(-(strength-33)*0.05), "strong lye ("+unit.Trim(strength, 1)+" %)", "weak lye ("+unit.Trim(strength, 1)+" %)")
	switch f.Worked() {
	case Room:
		add(1.35, "", "working at room temperature")
	case Hot:
		add(0.6, "working hot", "")
	}
	if olive := f.Fats.Sum(fat.OliveLike); olive > 60 {
		add(1+(olive-60)/40, "", "much olive oil")
	}
	acids := f.Fats.Sum(func(x fat.Fat) bool { return x.Kind == fat.Acid })
	add(math.Exp(-acids*0.12), "free fatty acids", "")
	castor := f.Fats.Acids().Ricinoleic
	add(math.Exp(-castor*0.012), "castor oil", "")
	if salt >= 10 {
		add(math.Exp(-salt*0.006), "salt", "")
	}
	for _, u := range f.Uses() {
		switch {
		case u.Behaviour == additive.Seizes || u.Behaviour == additive.Rices:
			add(0.2, "a scent that "+string(u.Behaviour)+" ("+u.Name+")", "")
		case u.Behaviour == additive.Accelerates:
			add(0.4, "a scent that accelerates ("+u.Name+")", "")
		case u.Behaviour == additive.Slows:
			add(1.3, "", "a scent that slows ("+u.Name+")")
		case u.Is("clay", "bentonite", "kaolin"):
			add(0.85, u.Name, "")
		case u.Is("powder", "oatmeal", "charcoal"):
			add(0.93, u.Name, "")
		}
	}
	if milk := f.Milk(); milk > 0 {
		add(1-0.15*milk/100, "milk", "")
	}

	figure := 100.0
	for _, e := range effects {
		figure *= e.factor
	}
	slices.SortStableFunc(effects, func(x, y effect) int {
		return int(math.Copysign(1, math.Abs(math.Log(y.factor))-math.Abs(math.Log(x.factor))))
	})
	out := Outlook{Name: "Time to work", Figure: figure, Words: grade(
		figure,
		[]float64{25, 60, 130, 260},
		[]string{
			"hardly any: everything at hand, one colour",
			"short: a simple pour",
			"fair: a swirl if you are ready",
			"plenty for pattern work",
			"very long: patience, blend in bouts",
		},
	)}
	for _, e := range effects {
		if len(out.Causes) == 3 || math.Abs(math.Log(e.factor)) < 0.01 && len(out.Causes) >= 2 {
			break
		}
		if e.factor < 1 && e.hasty != "" {
			out.Causes = append(out.Causes, e.hasty)
		} else if e.factor >= 1 && e.slow != "" {
			out.Causes = append(out.Causes, e.slow)
		}
	}
	return out
}
