// Package cure says when soap may be unmolded, how long it rests and when it
// may be sold.
//
// Two clocks run while soap cures. Its chemistry is mild after a few days; its
// water leaves over weeks, along a curve that flattens. A cure policy says how
// many days a soap must rest; a marked sample bar that is weighed each week
// says when drying has settled; a tongue or pH test says that it is mild. Only
// when days, weight and check are all good, nothing holds the lot, and a named
// person says so, is a bar ready.
package cure

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"ashshelf/soap/day"
	"ashshelf/soap/dry"
	"ashshelf/soap/fat"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Policy is a rule of how long a soap must cure.
type Policy struct {
	Code  string
	Name  string
	Days  int // the least, counted from the day of the pour
	Until int // when it is at its best
	Why   string
	Other string // what the other school says, where makers disagree
	// CheckDay is the day after the pour before which no safety check counts, where
	// the policy waits longer than the chemistry asks for; 0 where it does not.
	CheckDay int
}

// Policies returns the policies a recipe can follow, the usual one first.
// Where makers disagree, both schools are there.
func Policies() []Policy {
	return []Policy{
		{
			Code:  "four-to-six",
			Name:  "Four to six weeks",
			Days:  28,
			Until: 42,
			Why:   "the usual school: four weeks at the least, six for a harder bar",
			Other: "the brisk school is done after four",
		},
		{
			Code:  "four",
			Name:  "Four weeks",
			Days:  28,
			Until: 28,
			Why:   "the brisk school: four weeks and done",
			Other: "most give it up to six for a harder bar",
		},
		{
			Code:  "long-olive",
			Name:  "Long olive cure",
			Days:  60,
			Until: 360,
			Why:   "olive soap is slimy when young; two months at the least, best after half a year or more",
			Other: "others call a mostly-olive bar done at four to six weeks",
		},
		{Code: "salt", Name: "Salt bar, four weeks", Days: 28, Until: 28, Why: "salt bars are hard at once and mild after four weeks"},
		{
			Code:  "paste",
			Name:  "Paste of potash, two weeks",
			Days:  14,
			Until: 28,
			Why:   "soft soap dries on no rack: in two weeks it clears and settles",
			Other: "cooked until it is clear, some thin it the next day",
		},
		{
			Code:  "jar",
			Name:  "In jars, lids open",
			Days:  28,
			Until: 42,
			Why:   "soap in a jar dries only from its top: four to six weeks with the lid off",
		},
	}
}

// own begins the code of a rule of the shop's own, such as "own-45" for 45 days, or
// "own-45-check-14" where the safety check waits for day 14.
const own, ownCheck = "own-", "-check-"

// mostOwn is the longest cure that a shop can set itself, in days.
const mostOwn = 720

// Own is a policy of a number of days of the shop's own.
func Own(days int) Policy {
	return Policy{
		Code:  own + strconv.Itoa(days),
		Name:  fmt.Sprintf("Own rule, %d days", days),
		Days:  days,
		Until: days,
		Why:   "the shop says so itself",
	}
}

// OwnChecked is a policy of the shop's own whose safety check waits for a day after
// the pour.
func OwnChecked(days, checkDay int) Policy {
	p := Own(days)
	if checkDay > 0 {
		p.Code += ownCheck + strconv.Itoa(checkDay)
		p.Name += fmt.Sprintf(", checked from day %d", checkDay)
		p.CheckDay = checkDay
	}
	return p
}

// Cooked is the policy of a lot that was cooked after all: a cook finishes the
// chemistry, so only its water has to leave, which the brisk school gives four
// weeks. What asks for longer than the usual, as olive does, still asks for it.
func Cooked(p Policy) Policy {
	if usual := Policies()[0]; p.Days > usual.Days {
		return p
	}
	out, _ := PolicyByCode("four")
	out.Why = "it was cooked: its chemistry is done, its water has to leave"
	return out
}

// PolicyByCode finds a policy.
func PolicyByCode(code string) (Policy, bool) {
	for _, p := range Policies() {
		if p.Code == code {
			return p, true
		}
	}
	if text, ok := strings.CutPrefix(code, own); ok {
		text, day, waits := strings.Cut(text, ownCheck)
		days, err := strconv.Atoi(text)
		if err != nil || days < 1 || days > mostOwn {
			return Policy{}, false
		}
		if !waits {
			return Own(days), true
		}
		if checkDay, err := strconv.Atoi(day); err == nil && checkDay >= 1 && checkDay <= days {
			return OwnChecked(days, checkDay), true
		}
	}
	return Policy{}, false
}

const (
	longOliveShare = 80.0 // percent of fats
	saltBarShare   = 25.0 // percent of fats
	softMilkShare  = 50.0 // percent of liquid
	lastBit        = 1e-6 // percent that shares which were typed as weights may be off
)

// MostlyOlive, SaltBar and MilkBar report whether a formula makes such bars; olive is whatever
// has its make-up.
func MostlyOlive(f recipe.Formula) bool { return f.Fats.Sum(fat.OliveLike) >= longOliveShare-lastBit }

// SaltBar is said at [MostlyOlive].
func SaltBar(f recipe.Formula) bool { return f.Salt() >= saltBarShare-lastBit }

// MilkBar is said at [MostlyOlive].
func MilkBar(f recipe.Formula) bool { return f.Milk() >= softMilkShare-lastBit }

// Recommend picks the policy for a formula from its blend; Why of the answer
// says the reason for this recipe.
func Recommend(f recipe.Formula) Policy {
	pick := func(code, why string) Policy {
		p, _ := PolicyByCode(code)
		p.Why = why
		return p
	}
	if f.Potash() {
		return pick("paste", "it is made with potash alone: a paste, which is thinned and never a bar")
	}
	if v := f.Fats.Sum(fat.OliveLike); MostlyOlive(f) {
		return pick("long-olive", fmt.Sprintf("olive oil and its like are %s %% of the fats: young, such soap is slimy", unit.Trim(v, 0)))
	}
	if f.Material() == recipe.Jar {
		return pick("jar", "it stays in its jar, where only the top dries")
	}
	if v := f.Salt(); SaltBar(f) {
		return pick("salt", fmt.Sprintf("salt is %s %% of the fats' weight: it hardens at once", unit.Trim(v, 0)))
	}
	return pick("four-to-six", "an ordinary blend: four weeks at the least, six for a harder bar")
}

// Window is when a step is due, counted from the pour; [Window.None] is true where nothing is.
type Window struct {
	Opens, Best, Closes time.Duration
	Why                 string
}

// None reports whether there is no window: what stays where it was poured.
func (w Window) None() bool { return w.Closes == 0 }

// patience is how long soap that is not cut may wait in its mold: no wire finds it too hard.
const patience = 96 * time.Hour

// Unmold is when soap of this formula that stands as form comes out of a mold of the given
// material and is cut, where it is.
func Unmold(f recipe.Formula, form recipe.Form, material string) Window {
	if !form.Unmolded() {
		return Window{Why: form.Stays()}
	}
	w := unmold(f, form, material)
	if !form.Cut() && f.Process.Closes == 0 && w.Closes < patience {
		w.Closes = patience
		w.Why += "; it is not cut, so that it may wait"
	}
	return w
}

// Expected is [Unmold] of the mold that the formula is meant for.
func Expected(f recipe.Formula) Window { return Unmold(f, f.Form(f.Material(), false), f.Material()) }

func unmold(f recipe.Formula, form recipe.Form, material string) Window {
	h := func(opens, best, closes float64, why string) Window {
		d := func(x float64) time.Duration { return time.Duration(x * float64(time.Hour)) }
		return Window{d(opens), d(best), d(closes), why}
	}
	single := form == recipe.Pieces
	silicone := material == recipe.Silicone
	own := f.Process
	switch {
	case own.Closes > 0:
		return h(own.Opens, (own.Opens+own.Closes)/2, own.Closes, "the recipe says so itself")
	case own.Kind == recipe.Cooked || own.Kind == recipe.Rebatch:
		return h(6, 16, 36, "cooked soap comes out the same evening or the next day")
	case own.Kind == recipe.Confetti:
		return h(84, 96, 120, "confetti waits about four days in the mold against halos")
	case SaltBar(f) && single:
		return h(12, 18, 48, "salt bars in cavities or under dividers wait overnight")
	case SaltBar(f):
		return h(1, 2.5, 4, "a salt loaf crumbles under the wire once it has set")
	case MostlyOlive(f) && (silicone || single):
		return h(36, 48, 60, "olive soap in silicone or cavities wants two days").setting(f)
	case MostlyOlive(f):
		return h(12, 18, 24, "all-olive soap turns too hard to cut after a day").setting(f)
	case MilkBar(f):
		return h(24, 40, 72, "milk bars stay soft for one to three days").setting(f)
	case silicone && f.Fats.Sum(fat.OliveLike) >= 50:
		return h(48, 72, 96, "much olive in silicone wants two to four days").setting(f)
	}
	return h(12, 24, 48, "an ordinary loaf").setting(f)
}

// The everyday loaf that the windows are of, and how far another one is earlier or later.
const (
	everydayLye       = 33.0      // percent lye strength
	oliveLye          = 40.0      // that of olive soap, which is made with little water, and mostly with salt or lactate
	lyeHalves         = 14.0      // points of strength that halve the time
	leastCoconut      = 15.0      // percent of the fats: with less it sets later
	mostCoconut       = 45.0      // with more it sets sooner
	coconutPace       = 80.0      // points beside them that change the time by e
	hardenerPace      = 0.85      // each hardener
	leastHardener     = 0.5       // percent of the fats that one takes
	roomPace, hotPace = 1.2, 0.85 // where the recipe is worked at room temperature, or hot
	earliest, latest  = 0.5, 1.5  // in all
)

// setting is the window of a formula that sets sooner or later than an everyday loaf: strong lye
// leaves less water to hold it soft, coconut and its like set fast, and lactate, salt, sugar and
// wax harden. The rule is one of thumb; what the recipe says itself, and what was seen, count
// before it.
func (w Window) setting(f recipe.Formula) Window {
	pace, why := 1.0, []string{}
	by := func(factor float64, what string) {
		pace *= factor
		why = append(why, what)
	}
	a := f.AmountsFor(1000)
	olive, usual := MostlyOlive(f), everydayLye
	if olive {
		usual = oliveLye
	}
	if strength := a.EquivalentWater()[recipe.LyeStrength]; math.Abs(strength-usual) >= 2 {
		by(math.Exp2((usual-strength)/lyeHalves), unit.Trim(strength, 0)+" % lye")
	}
	switch coconut := f.Fats.Sum(fat.CoconutType); {
	case coconut > mostCoconut:
		by(math.Exp((mostCoconut-coconut)/coconutPace), "much coconut")
	case coconut < leastCoconut && !olive:
		by(math.Exp((leastCoconut-coconut)/coconutPace), "little coconut")
	}
	if !olive {
		if f.Lactate(a) >= leastHardener {
			by(hardenerPace, "sodium lactate")
		}
		if f.AllSalt(a) >= leastHardener {
			by(hardenerPace, "salt")
		}
		if f.AddedSugar(a) >= leastHardener {
			by(hardenerPace, "sugar")
		}
	}
	for _, s := range f.Fats {
		if fat.HardWax(s.Fat) && s.Percent >= leastHardener {
			by(hardenerPace, strings.ToLower(s.Fat.Name))
		}
	}
	switch f.Worked() {
	case recipe.Room:
		by(roomPace, "worked at room temperature")
	case recipe.Hot:
		by(hotPace, "worked hot")
	}
	if pace = min(latest, max(earliest, pace)); math.Abs(pace-1) < 0.05 {
		return w
	}
	quarter := func(d time.Duration) time.Duration { return time.Duration(float64(d) * pace).Round(15 * time.Minute) }
	how := "sooner"
	if pace > 1 {
		how = "later"
	}
	return Window{quarter(w.Opens), quarter(w.Best), quarter(w.Closes), w.Why + "; " + how + " than most: " + strings.Join(why, ", ")}
}

// The room at which the windows hold as they are, and how far a warmer or colder one
// moves them at the most.
const (
	windowsC               = 21.0
	leastPace, slowestPace = 0.7, 1.4
)

// InRoom is the window in a room of so many °C. By the usual rule of thumb a
// reaction runs twice as fast ten degrees warmer; a loaf warms itself, so half of
// that is counted, √2 for ten degrees. A warm room brings all of the window
// forward. A cold one lets it open later but not close later: a look too early does
// no harm, a loaf that is too hard does. NaN leaves it as it is.
func (w Window) InRoom(c float64) Window {
	pace := math.Exp2((windowsC - c) / 20)
	pace = math.Max(leastPace, math.Min(slowestPace, pace))
	if math.IsNaN(c) || math.Abs(pace-1) < 0.05 {
		return w
	}
	out := w.moved(pace)
	how := "sooner in a warm room"
	if pace > 1 {
		how = "later in a cool room"
	}
	out.Why += fmt.Sprintf("; %s of %s °C", how, unit.Trim(c, 0))
	return out
}

// moved is a window that opens and is best so many times later, and closes no later than it did.
func (w Window) moved(pace float64) Window {
	by := func(d time.Duration, pace float64) time.Duration {
		return time.Duration(float64(d) * pace).Round(15 * time.Minute)
	}
	out := Window{by(w.Opens, pace), by(w.Best, pace), by(w.Closes, math.Min(1, pace)), w.Why}
	out.Opens, out.Best = min(out.Opens, out.Closes), min(out.Best, out.Closes)
	return out
}

// Learned is the window of loaves that a shop's own lots found firm so many times later than the table has it, by half at
// the most; why says how that is known. Like a cold room it does not let the window close later.
func (w Window) Learned(pace float64, why string) Window {
	if w.None() || math.IsNaN(pace) {
		return w
	}
	out := w.moved(min(latest, max(earliest, pace)))
	out.Why += "; " + why
	return out
}

// State of a window at a moment.
type State string

// The states of a window.
const (
	Waiting State = "waiting"
	Open    State = "open"
	Late    State = "late"
)

// At says how a window stands a given time after the pour.
func (w Window) At(after time.Duration) State {
	switch {
	case after < w.Opens:
		return Waiting
	case after <= w.Closes:
		return Open
	}
	return Late
}

// Sample is a weighing of the marked sample bar.
type Sample struct {
	At    time.Time
	Grams float64
}

// SettledLoss is the loss in percent of weight per week under which drying
// counts as settled.
const SettledLoss = 0.5

// What a settled weight is told from: that many weighings over that long, and a chance that it
// is settled. A damp week moves a bar by half a percent, so that two weighings prove nothing;
// with these, fewer than one in fifty bars are first called settled while they still lose over
// 0.75 % a week (docs/decisions.md).
const (
	LeastWeighings = 3
	leastSpan      = 13 * 24 * time.Hour // two weeks, a day early
	SureSettled    = 0.85
)

// Drying is what the weighings of the marked bar tell.
type Drying struct {
	Weighings int
	LostPct   float64       // since the first weighing
	Span      time.Duration // from the first weighing to the last
	Long      bool          // weighings enough, over long enough, to tell from
	Aside     int           // weighings that fit no way to dry, and count for nothing
	WeeklyPct float64       // what the coming week takes; only when they are
	Chance    float64       // that it is settled; only when they are
	Settled   bool
}

// DryingCase is the marked bar as package dry takes it: its weighings in hours since the pour.
func (f Facts) DryingCase() dry.Case {
	c := dry.Case{Step: f.Step, Limit: SettledLoss, Bar: f.Bar}
	for _, s := range f.Samples {
		hours := math.Max(0, s.At.Sub(f.Poured).Hours())
		if n := len(c.Weighings); n > 0 && hours <= c.Weighings[n-1].Hours {
			hours = c.Weighings[n-1].Hours + 1.0/60 // two in one minute, or a clock that was wrong
		}
		c.Weighings = append(c.Weighings, dry.Weighing{Hours: hours, Grams: s.Grams})
	}
	return c
}

// Weighed is what the weighings say without foretelling anything; they are in order of time.
func Weighed(samples []Sample) Drying {
	d := Drying{Weighings: len(samples)}
	if len(samples) == 0 {
		return d
	}
	first, last := samples[0], samples[len(samples)-1]
	d.LostPct = 100 * (1 - last.Grams/first.Grams)
	d.Span = last.At.Sub(first.At)
	d.Long = len(samples) >= LeastWeighings && d.Span >= leastSpan
	return d
}

// Dry reads the weighings, which are in order of time, and foretells from them.
func (f Facts) Dry() Drying {
	d := Weighed(f.Samples)
	if !d.Long {
		return d
	}
	told := f.DryingCase().Foretell(dry.Any())
	d.WeeklyPct, d.Chance, d.Aside = told.WeeklyPct, told.Chance, told.Aside
	d.Settled = d.Chance >= SureSettled && d.Weighings-d.Aside >= LeastWeighings
	return d
}

// Facts is all that the gate looks at.
type Facts struct {
	Poured   time.Time // in the shop's zone
	Now      time.Time
	Policy   Policy
	Samples  []Sample
	Step     float64       // g that the marked bar's scale reads in
	Bar      dry.Bar       // its measures, where the molds tell them
	Known    func() Drying // what the weighings tell, where that was worked out before
	Checked  bool          // a safety check was made
	Passed   bool          // the latest one was good, and counts
	Early    bool          // it was good, and made too early to count
	From     Checkable
	Form     recipe.Form // what it stands as
	Holds    []string
	Released bool
	InTime   bool // released with all of the gate met
}

// Condition is one bar of the gate.
type Condition struct {
	Code   string // days, weight, check, hold, release
	Name   string
	Met    bool
	Detail string
}

// Gate is the way from the shelf to the stall.
type Gate struct {
	Conditions []Condition
	Ready      bool      // all met, release included
	MayRelease bool      // all met but the release
	MayEarly   bool      // a person may release early on days or weight, with a reason
	ReadyOn    time.Time // the first day the policy allows
	DaysLeft   int       // until then, not below zero
}

// ReadyOn is the first local day on which the policy's days have passed.
func (p Policy) ReadyOn(poured time.Time) time.Time { return day.Plus(poured, p.Days) }

// DaysLeft is how many local days are left until [Policy.ReadyOn], not below zero.
func (p Policy) DaysLeft(poured, now time.Time) int { return max(0, Days(now, p.ReadyOn(poured))) }

// Days is the number of local dates from a to b.
func Days(a, b time.Time) int { return day.Between(a, b) }

// DayOf words how old bars are, in days, on their way to an age.
func DayOf(age, of int) string {
	if age < 0 {
		return "poured after today: look at the clock"
	}
	return fmt.Sprintf("day %d of %d", age, of)
}

// Drying is what the weighings tell.
func (f Facts) Drying() Drying {
	if f.Known != nil {
		return f.Known()
	}
	return f.Dry()
}

// weighings says how often the bar was weighed.
func weighings(n int) string {
	if n == 1 {
		return "one weighing"
	}
	return fmt.Sprintf("%d weighings", n)
}

// chanceWords says a chance in tenths, as people do.
func chanceWords(p float64) string {
	switch n := math.Floor(10 * p); {
	case n < 1:
		return "hardly"
	case p >= 0.99:
		return "as good as surely"
	default:
		return fmt.Sprintf("%.0f times in ten", n)
	}
}

// weight is whether the weight has settled. A lot that was released in time had; what it is like
// now is told on its own page.
func (f Facts) weight() Condition {
	weight := Condition{Code: "weight", Name: "Weight"}
	if f.InTime {
		weight.Met, weight.Detail = true, "settled when it was released"
		return weight
	}
	if f.Form == recipe.Paste {
		weight.Met, weight.Detail = true, "a paste does not dry: it is not asked for"
		return weight
	}
	dry := f.Drying()
	weight.Met = dry.Settled
	switch {
	case dry.Weighings == 0:
		weight.Detail = "no weighing of the sample bar yet"
	case !dry.Long:
		weight.Detail = fmt.Sprintf("%s over %.0f days: it takes %d over two weeks", weighings(dry.Weighings), dry.Span.Hours()/24,
			LeastWeighings)
	case dry.Weighings-dry.Aside < LeastWeighings:
		weight.Detail = fmt.Sprintf("%s, of which %d cannot be right: weigh again", weighings(dry.Weighings), dry.Aside)
	case dry.Settled:
		weight.Detail = fmt.Sprintf("settled, %s: about %s %% a week", chanceWords(dry.Chance), unit.Trim(math.Max(0, dry.WeeklyPct), 1))
	default:
		weight.Detail = fmt.Sprintf(
			"loses about %s %% a week; settled at %s %%, by now %s",
			unit.Trim(math.Max(0, dry.WeeklyPct), 1),
			unit.Trim(SettledLoss, 1),
			chanceWords(dry.Chance),
		)
	}
	return weight
}

// EvaluateGate works out the gate.
func (f Facts) EvaluateGate() Gate {
	g := Gate{ReadyOn: f.Policy.ReadyOn(f.Poured), DaysLeft: f.Policy.DaysLeft(f.Poured, f.Now)}
	age := Days(f.Poured, f.Now)

	days := Condition{"days", "Days", age >= f.Policy.Days, DayOf(age, f.Policy.Days)}
	weight := f.weight()
	check := Condition{"check", "Safety check", f.Checked && f.Passed, "not made yet"}
	switch {
	case f.Checked && f.Passed:
		check.Detail = "passed"
	case f.Early:
		check.Detail = "made too early to prove anything: " + f.From.Words()
	case f.Checked:
		check.Detail = "failed: do not sell, gift or test"
	case f.From.After(f.Now):
		check.Detail += "; " + f.From.Words()
	}
	hold := Condition{"hold", "Nothing holds it", len(f.Holds) == 0, "no hold"}
	if !hold.Met {
		hold.Detail = f.Holds[0]
	}
	before := days.Met && weight.Met && check.Met && hold.Met
	release := Condition{"release", "Released by name", f.Released, "not yet"}
	if f.Released {
		release.Detail = "released"
	}
	g.Conditions = []Condition{days, weight, check, hold, release}
	// An owner may have released early; a later hold or failed check closes the
	// gate again all the same.
	g.Ready = f.Released && check.Met && hold.Met
	g.MayRelease = before && !f.Released
	g.MayEarly = check.Met && hold.Met && !f.Released && !before
	return g
}

// CheckAsked is the age in days from which the safety check is asked for; it counts
// from the moment that [ChecksFrom] says.
const CheckAsked = 21

// SampleEvery is how often the sample bar is to be weighed, in days.
const SampleEvery = 7

// SampleDue reports whether the sample bar should be weighed now.
func (f Facts) SampleDue(cut time.Time) bool {
	last := cut
	if n := len(f.Samples); n > 0 {
		last = f.Samples[n-1].At
	}
	return !f.Released && f.Form != recipe.Paste && (len(f.Samples) == 0 || Days(last, f.Now) >= SampleEvery)
}

// CheckDue reports whether the safety check should be made now.
func (f Facts) CheckDue() bool {
	return !f.Passed && (!f.Checked || f.Early) && !f.Released && !f.From.After(f.Now) && Days(f.Poured, f.Now) >= CheckAsked
}
