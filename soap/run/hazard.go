package run

import (
	"fmt"
	"math"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// LiquidIntoLye is the hazard of liquid that comes after the lye, and SugarLate that of what no
// longer dissolves. They are the stops that the maker's word can lift: that the liquid stands in a jug
// of its own, or that the sugar is in all the same.
const (
	LiquidIntoLye = "liquid-into-lye"
	SugarLate     = "sugar-late"
)

// State is how far a pot has come.
type State struct {
	Done map[string]bool // steps, by key
	Pot
}

// closed reports whether no more of an item is to come.
func (s State) closed(i plan.Item) bool { return s.Closed[i.Key] }

// Temperatures at which order hazards begin, in °C.
const (
	mostBeerC = 10.0 // boiled-down beer and wine, which foam up
	mostMilkC = 35.0 // lye that milk may meet without scorching
	mostMeetC = 70.0 // of either, when they meet
	coldSlack = 0.5  // °C that a thermometer reads to
)

func stop(code, reason, remedy string) *caution.Caution {
	return &caution.Caution{Code: "run." + code, Level: caution.Block, Reason: reason, Remedy: remedy}
}

func ask(code, reason, remedy string) *caution.Caution {
	return &caution.Caution{Code: "run." + code, Level: caution.Warn, Reason: reason, Remedy: remedy}
}

// StopsWeighing is the hazard of weighing an item now, nil when there is none.
func StopsWeighing(o Order, s State, i plan.Item) *caution.Caution {
	if i.Key.Alkali() && !s.Done[GearKey] {
		return stop("gear", "Lye is handled with goggles and gloves on.", "Tick the protective gear first.")
	}
	if !s.Done[LyeInKey] || !o.beforeLye(i.Key) {
		return nil
	}
	if i.Key.Kind() != plan.LiquidItem {
		return stop(SugarLate, i.Name+" no longer dissolves: the lye is in.",
			"Leave it out and say why, or dissolve it in its own weight of hot water kept from another step and stir that in at trace. "+
				"Tick that it is right when it is in all the same.")
	}
	return stop(
		LiquidIntoLye,
		"The lye is in already. Liquid poured onto lye boils up and spits.",
		"Weigh what is missing into a second jug, and pour the cooled lye slowly into that. Tick that it is right when it stands there.",
	)
}

func (o Order) beforeLye(key plan.Key) bool {
	for _, i := range o.sorted().beforeLye {
		if i.Key == key {
			return true
		}
	}
	return false
}

func open(s State, items ...plan.Item) []string {
	var out []string
	for _, i := range items {
		if !s.closed(i) {
			out = append(out, i.Name)
		}
	}
	return out
}

// Lifted reports whether the maker's word lifts a stop.
func Lifted(c *caution.Caution) bool {
	return c.Code == "run."+LiquidIntoLye || c.Code == "run."+SugarLate
}

// Conditions are what a step is about to happen under.
type Conditions struct {
	LiquidC *float64 // of the liquid that the lye goes into
	LyeC    *float64
	FatsC   *float64
	Onto    string // where milk goes: "fats", "batter" or "lye"
}

// StopsStep is the hazard of doing a step now, nil when there is none. A Block
// has only the way out that it names; a Warn may be passed with a reason.
func StopsStep(o Order, s State, step Step, c Conditions) *caution.Caution {
	items := o.sorted()
	switch step.Kind {
	case LyeIn:
		return o.stopsLyeIn(s, items, c)
	case Milk:
		if c.Onto == "lye" && (c.LyeC == nil || *c.LyeC > mostMilkC) {
			return stop(
				"milk-scorches",
				"Milk on hot lye scorches and smells.",
				fmt.Sprintf("Stir it into the fats or the batter, or wait until the lye reads %.0f °C or less.", mostMilkC),
			)
		}
	case Meet:
		return o.stopsMeet(s, items, c)
	case Trace, Scent, Fill, Cover:
		if !s.Done[MeetKey] && step.Kind != Cover && len(items.lye) > 0 {
			return ask("not-combined", "The lye has not met the fats yet.", "Tick that step first, or say why not.")
		}
	}
	if open := Forgotten(Steps(o), s, step); len(open) > 0 {
		var names []string
		for _, one := range open {
			names = append(names, one.Item.Name)
		}
		return ask(
			"forgotten",
			"Not in yet: "+strings.Join(names, ", ")+".",
			"It goes in before the batter is split or poured. Stir it in first, or say why it is left out.",
		)
	}
	if (step.Kind == Do || step.Kind == Scent) && step.Item.Key != "" && !s.closed(step.Item) {
		return ask("not-weighed", step.Item.Name+" is not weighed.", "Weigh it first, or say why not.")
	}
	return nil
}

func (o Order) stopsLyeIn(s State, items sheetOf, c Conditions) *caution.Caution {
	if !s.Done[GearKey] {
		return stop("gear", "Lye is handled with goggles and gloves on.", "Tick the protective gear first.")
	}
	if missing := open(s, items.beforeLye...); len(missing) > 0 {
		return stop(
			"liquid-first",
			"Not in the jug yet: "+strings.Join(missing, ", ")+".",
			"It goes in before the lye: afterwards liquid spits and sugar or salt no longer dissolves. Weigh it, or leave it out with a reason.",
		)
	}
	if missing := open(s, items.lye...); len(missing) > 0 {
		return stop("lye-unweighed", "Not weighed: "+strings.Join(missing, ", ")+".", "Weigh it into a dry cup of its own first.")
	}
	if c.LiquidC == nil {
		return stop("liquid-unread", "How warm is the liquid?", "Read its temperature: lye into warm liquid boils up.")
	}
	for _, one := range o.Jug(s.Pot, *c.LiquidC).Advise() {
		if one.Level == caution.Block {
			return &one
		}
	}
	for _, l := range o.Formula.Liquids {
		if l.Carries && l.Liquid.BoilDown > 1 && *c.LiquidC > mostBeerC {
			return ask(
				"liquid-warm",
				fmt.Sprintf(
					"The %s is at %s °C; lye foams in it above %.0f °C.",
					strings.ToLower(l.Liquid.Name),
					unit.Trim(*c.LiquidC, 0),
					mostBeerC,
				),
				"Cool it first, in cold water or the fridge; or, when it is flat and the jug is tall, write why it goes in as it is.",
			)
		}
	}
	return nil
}

// Jug is the lye jug by what is weighed and still to come, with liquid of a
// temperature.
func (o Order) Jug(p Pot, liquidC float64) lye.Jug {
	r := o.request()
	r.LiquidC = liquidC
	target := plan.Targets(o.Sheet)
	var a recipe.Amounts
	r.Formula, a = p.real(r.Formula, plan.Amounts(r, func(key plan.Key) float64 { return p.coming(key, target[key]) }))
	return r.Jug(a)
}

func (o Order) stopsMeet(s State, items sheetOf, c Conditions) *caution.Caution {
	all := append(append(append(items.beforeLye, items.lye...), items.inLye...), items.solid...)
	all = append(append(all, items.fluid...), items.inFats...)
	if missing := open(s, all...); len(missing) > 0 {
		return ask(
			"fats-first",
			"Not weighed yet: "+strings.Join(missing, ", ")+".",
			"A fat forgotten now leaves lye in the soap. Weigh it, or say why it is left out.",
		)
	}
	if len(items.lye) > 0 && !s.Done[LyeInKey] {
		return stop("lye-not-in", "The lye is not dissolved yet.", "Put it into the liquid first; dry lye never goes into fats.")
	}
	if j := Judge(o.request(), o.Sheet, s.Pot); j.Heavy {
		held := *j.Off
		held.Level = caution.Warn
		held.Remedy += " To go on all the same, write why; the lot is then held."
		return &held
	}
	if c.LyeC == nil || c.FatsC == nil {
		return ask("unread", "The temperatures were not read.", "Read both pots, or say why not.")
	}
	low, high := o.Formula.Working()
	l, f := *c.LyeC, *c.FatsC
	switch {
	case l > mostMeetC || f > mostMeetC:
		return ask(
			"too-hot",
			fmt.Sprintf("Lye at %s °C, fats at %s °C: together they may boil up.", unit.Trim(l, 0), unit.Trim(f, 0)),
			fmt.Sprintf("Wait until both are below %.0f °C, or say why not.", high),
		)
	case math.Abs(l-f) > lye.MostApart:
		return ask(
			"apart",
			fmt.Sprintf("Lye at %s °C and fats at %s °C are more than %.0f °C apart.", unit.Trim(l, 0), unit.Trim(f, 0), lye.MostApart),
			"Stand the warmer one in cold water, or the colder one in warm; or say why not.",
		)
	case math.Min(l, f) < low-coldSlack:
		return ask(
			"too-cold",
			fmt.Sprintf(
				"Lye at %s °C, fats at %s °C: below %.0f °C hard fats set before they are soap, and it only seems to thicken.",
				unit.Trim(l, 0),
				unit.Trim(f, 0),
				low,
			),
			fmt.Sprintf("Warm both to between %.0f and %.0f °C, or say why not.", low, high),
		)
	case math.Max(l, f) > high+lye.MostApart:
		return ask(
			"off-range",
			fmt.Sprintf(
				"Lye at %s °C, fats at %s °C; this recipe is worked between %.0f and %.0f °C.",
				unit.Trim(l, 0),
				unit.Trim(f, 0),
				low,
				high,
			),
			"Bring them there, or say why not.",
		)
	}
	if cold := o.Jug(s.Pot, l).Solution.AdviseCold(l); len(cold) > 0 {
		return ask("crystals", cold[0].Reason, cold[0].Remedy+" Or say why it is poured all the same.")
	}
	if missing := open(s, o.atSpeed(items)...); len(missing) > 0 {
		return ask(
			"not-at-hand",
			"Not at hand: "+strings.Join(missing, ", ")+".",
			"Weigh it now: at trace there is no time. Or say why not.",
		)
	}
	return nil
}

// atSpeed are the items that go in between emulsion and pour.
func (o Order) atSpeed(items sheetOf) []plan.Item {
	var out []plan.Item
	for _, i := range items.hand {
		if o.into(i.Key) != additive.TheTop {
			out = append(out, i)
		}
	}
	return out
}

// Forgotten are the steps at which a scent or an additive goes into the batter, that
// come before a step which splits or pours it, and are not done.
func Forgotten(steps []Step, s State, at Step) []Step {
	if !at.Splits() {
		return nil
	}
	var out []Step
	for _, step := range steps {
		if step.Key == at.Key {
			break
		}
		goesIn := step.Kind == Scent || step.Kind == Eye || step.Kind == Do && step.Item.Key != ""
		if goesIn && step.Stage == Together && step.Must && !s.Done[step.Key] {
			out = append(out, step)
		}
	}
	return out
}

// First are the steps that come before another one, in their order: what is to be put on, weighed
// or stirred in before it can be done.
func First(o Order, s State, at Step) []Step {
	steps := Steps(o)
	wanted := map[string]bool{}
	weighed := func(items ...plan.Item) {
		for _, i := range items {
			wanted[WeighKey(i.Key)] = true
		}
	}
	items := o.sorted()
	switch {
	case at.Kind == Weigh && at.Item.Key.Alkali():
		wanted[GearKey] = true
	case at.Kind == LyeIn:
		wanted[GearKey] = true
		weighed(items.beforeLye...)
		weighed(items.lye...)
	case at.Kind == Meet:
		for _, list := range [][]plan.Item{items.beforeLye, items.lye, items.inLye, items.solid, items.fluid, items.inFats, o.atSpeed(items)} {
			weighed(list...)
		}
		wanted[LyeInKey] = len(items.lye) > 0
	case (at.Kind == Do || at.Kind == Scent) && at.Item.Key != "":
		weighed(at.Item)
	default:
		return Forgotten(steps, s, at)
	}
	var out []Step
	for _, one := range steps {
		if wanted[one.Key] && !s.Done[one.Key] && !(one.Kind == Weigh && s.closed(one.Item)) {
			out = append(out, one)
		}
	}
	return out
}

// Splits reports whether a step splits or pours the batter: what is not in it then is too late.
func (s Step) Splits() bool {
	return s.Kind == Fill || s.Kind == Pour || strings.HasPrefix(s.Key, portionPrefix) || strings.HasPrefix(s.Key, designPrefix)
}

// Undone are the steps that must be done before the pour and are not; what is
// not weighed is named by its weighing alone.
func Undone(steps []Step, s State) []Step {
	var out []Step
	for _, step := range steps {
		if !step.Must || step.Gone || s.Done[step.Key] || step.Kind == Weigh && s.closed(step.Item) {
			continue
		}
		if step.Kind != Weigh && step.Item.Key != "" && !s.closed(step.Item) {
			continue
		}
		out = append(out, step)
	}
	return out
}

// request is what the pot is judged by.
func (o Order) request() plan.Request {
	r := o.Request
	r.Formula = o.Formula
	return r
}
