package run

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Kind is what a step asks of the maker.
type Kind string

// The kinds.
const (
	Do    Kind = "do"    // done, and ticked
	Weigh Kind = "weigh" // an ingredient on the scale
	LyeIn Kind = "lye-in"
	Warm  Kind = "warm" // temperatures of both pots
	Meet  Kind = "meet" // the lye into the fats
	Trace Kind = "trace"
	Scent Kind = "scent" // a scent goes in, and how it behaved
	Eye   Kind = "eye"   // a colour by eye, and what of it went in
	Check Kind = "check" // the scale against a known weight
	Milk  Kind = "milk"  // liquid that must not meet hot lye
	Cover Kind = "cover"
	Fill  Kind = "fill" // one mold
	Pour  Kind = "pour" // all of it is in the molds: the pour is recorded
)

// Step is one step of make day.
type Step struct {
	Key   string
	Stage string
	Kind  Kind
	Title string
	Text  string
	Item  plan.Item // of a weighing, or what goes in
	Timer *Timer    // that helps with it
	Pours float64   // g that it pours, 0 for what pours nothing
	// Must steps are done, or left out with a reason, before the pour is recorded.
	Must  bool
	After bool // comes after the pour
	// Gone steps were planned and have lost their point: the pot was rescued into plain soap.
	Gone bool
}

// Timer counts minutes down.
type Timer struct {
	Name    string
	Minutes float64
}

// Timers returns the waits of make day that are worth a bell.
func Timers() []Timer {
	return []Timer{melting, {"Boiling", 10}, cooking, motor}
}

// A melt is looked at every two minutes, a cook stirred at least every quarter of
// an hour; a blender's motor rests a minute after each bout.
var (
	melting = Timer{"Melting", 2}
	cooking = Timer{"Cooking", 15}
	motor   = Timer{"Blender rests", 1}
)

// Stages of make day in their order.
const (
	Ready      = "Get ready"
	LyeStage   = "Lye"
	FatStage   = "Fats"
	AtHand     = "At hand"
	Together   = "Together"
	IntoMold   = "Into the mold"
	AfterStage = "After the pour"
)

// Keys of steps that others look at.
const (
	GearKey    = "ready:gear"
	ScaleKey   = "ready:scale"
	LyeInKey   = "lye:in"
	MeetKey    = "batter:combine"
	TraceKey   = "batter:trace"
	PourKey    = "pour"
	milkPrefix = "milk:"

	portionPrefix, designPrefix = "portion:", "design:"
	eyePrefix                   = "eye:"
	moldPrefix, fillPrefix      = "ready:mold:", "fill:"
	meltKey                     = "fats:melt"
	cleanKey                    = "after:clean"
	cookKey, tapKey             = "batter:cook", "after:tap"
)

// WeighKey is the step that weighs an item.
func WeighKey(item plan.Key) string { return "weigh:" + string(item) }

// inKey is the step at which what was weighed goes in.
func inKey(item plan.Key) string { return "in:" + string(item) }

// Order is what the run sheet is built from: a pot as it is to be made now.
type Order struct {
	Request plan.Request // what the plan was made from
	Formula recipe.Formula
	Sheet   []plan.Section
	Pot     plan.Plan
	Molds   []Vessel
	Rescued bool // it was cooked after all, and is spooned into the molds as it is
}

// Vessel is a mold that waits for the batter.
type Vessel struct {
	Name     string
	Material string
	Count    int
	Mold     mold.Mold
	Cut      mold.Cut
}

// lined molds get paper or a liner before the work begins.
func (v Vessel) lined() bool { return v.Material == "lined" || v.Material == "plastic" }

// marks are where it is cut, from where soap begins.
func (v Vessel) marks() string {
	var at []string
	for _, mm := range v.Mold.Cuts(v.Cut).Marks {
		at = append(at, unit.Trim(mm, 0))
	}
	if len(at) == 0 {
		return ""
	}
	return ", and the cuts at " + strings.Join(at, ", ") + " mm from where soap begins"
}

func (v Vessel) times() string {
	if v.Count > 1 {
		return fmt.Sprintf("%d × %s", v.Count, v.Name)
	}
	return v.Name
}

// sheetOf sorts the items of a sheet by what they are.
type sheetOf struct {
	beforeLye, lye, inLye, solid, fluid, inFats, later, hand []plan.Item
}

func (o Order) sorted() sheetOf {
	var s sheetOf
	stage := map[plan.Key]additive.Stage{}
	for _, u := range o.Formula.Uses() {
		stage[plan.AdditiveKey(u)] = u.Stage
	}
	for _, sec := range o.Sheet {
		for _, i := range sec.Items {
			switch place := sec.Place; {
			case i.Key.Alkali():
				s.lye = append(s.lye, i)
			case place == plan.InJug && stage[i.Key].Into() == additive.TheLye:
				s.inLye = append(s.inLye, i)
			case place == plan.InJug:
				s.beforeLye = append(s.beforeLye, i)
			case place == plan.ToMelt:
				s.solid = append(s.solid, i)
			case place == plan.Fluid:
				s.fluid = append(s.fluid, i)
			case place == plan.ToStir:
				s.inFats = append(s.inFats, i)
			case place == plan.OffLye:
				s.later = append(s.later, i)
			default:
				s.hand = append(s.hand, i)
			}
		}
	}
	return s
}

// Steps is the run sheet in the order of the work: the bench and the gear
// first, the lye early because it must cool, solid fats before liquid ones,
// everything that goes in at speed weighed and at hand before the lye meets the
// fats, then what is easily forgotten at speed one by one.
func Steps(o Order) []Step {
	var out []Step
	s := o.sorted()
	stage := Ready
	add := func(one Step) {
		if one.Stage == "" {
			one.Stage = stage
		}
		out = append(out, one)
	}
	do := func(key, title, text string) { add(Step{Key: key, Kind: Do, Title: title, Text: text, Must: true}) }
	weigh := func(items []plan.Item) {
		for _, i := range items {
			add(Step{Key: WeighKey(i.Key), Kind: Weigh, Title: i.Name, Text: i.Note, Item: i, Must: true})
		}
	}

	do(
		"ready:bench",
		"Clear and wipe the bench",
		"Food things, animals and children are out of the room. Running water and a towel at hand, the scale level.",
	)
	add(Step{Key: GearKey, Kind: Do, Title: "Protective gear on", Must: true,
		Text: "Goggles, gloves, long sleeves, closed shoes. Fresh air. A respirator where powders fly."})
	add(
		Step{
			Key:   ScaleKey,
			Kind:  Check,
			Title: "Check the scale",
			Text:  "Put a weight that you know on it: a coin roll, a full tin, best a check-weight. Leave it out when there is none.",
		},
	)
	for i, v := range o.Molds {
		key := fmt.Sprintf("%s%d", moldPrefix, i)
		if long, wide := v.Mold.Liner(); v.lined() && long > 0 {
			do(
				key,
				"Line and mark "+v.times(),
				fmt.Sprintf("Liner %.0f × %.0f mm each; mark the fill line at %s mm%s.", long, wide, unit.Trim(v.Mold.Fill, 1), v.marks()),
			)
		} else {
			do(key, "Set out "+v.times(), "Clean, dry and level.")
		}
	}

	stage = LyeStage
	weigh(s.beforeLye)
	if hasAdditive(s.beforeLye) {
		do(
			"lye:stir",
			"Stir until it is clear",
			"What dissolves now does not dissolve once the lye is in. A brine of sea salt stays cloudy: feel the bottom for grit.",
		)
	}
	weigh(s.lye)
	if len(s.lye) > 0 {
		add(
			Step{
				Key:   LyeInKey,
				Kind:  LyeIn,
				Title: lyeInTitle(s),
				Must:  true,
				Text: "Lye into liquid, never liquid into lye. Slowly, stirring, with your face away from the steam; then cover and " +
					"label the jug, out of reach.",
			},
		)
	}
	weigh(s.inLye)
	in := func(items []plan.Item, what string) {
		for _, i := range items {
			add(Step{Key: inKey(i.Key), Kind: Do, Title: i.Name + " into the " + what, Text: i.Note, Item: i, Must: true})
		}
	}
	in(s.inLye, "lye")

	stage = FatStage
	weigh(s.solid)
	if len(s.solid) > 0 {
		add(
			Step{
				Key:   meltKey,
				Kind:  Do,
				Title: "Melt the solid fats",
				Text:  "In short bursts, stirred between; palm and shea are melted and stirred through before any is taken.",
				Must:  true,
				Timer: &melting,
			},
		)
	}
	weigh(s.fluid)
	weigh(s.inFats)
	in(s.inFats, "fats")

	stage = AtHand
	weigh(s.later)
	weigh(s.hand)

	stage = Together
	for _, i := range s.later {
		add(
			Step{
				Key:   milkPrefix + string(i.Key),
				Kind:  Milk,
				Title: i.Name + " into the fats",
				Text:  "Never onto hot lye, where it scorches.",
				Item:  i,
				Must:  true,
			},
		)
	}
	low, high := o.Formula.Working()
	add(Step{Key: "batter:warm", Kind: Warm, Title: "Both pots at their temperature", Must: true,
		Text: fmt.Sprintf("Between %.0f and %.0f °C, within %.0f °C of each other.", low, high, lye.MostApart)})
	add(Step{Key: MeetKey, Kind: Meet, Title: "Lye into the fats", Must: true, Timer: &motor,
		Text: "Through a strainer, down the blender shaft. Blend in bouts of half a minute and let the motor rest."})
	o.batter(&s, add)

	stage = IntoMold
	tapped := o.topped(s) && !o.Formula.Potash()
	o.design(func(one Step) {
		if tapped && o.toppingStep(one.Key) {
			add(tap(IntoMold, false))
			tapped = false
		}
		add(one)
	})
	if tapped {
		add(tap(IntoMold, false))
	}
	for _, i := range s.hand {
		if o.into(i.Key) == additive.TheTop && !o.sprinkles() {
			add(Step{Key: inKey(i.Key), Stage: IntoMold, Kind: Do, Title: i.Name + " on top", Text: i.Note, Item: i, Must: true})
		}
	}
	add(Step{Key: PourKey, Kind: Pour, Title: "It is poured", Text: "How full each mold came, and what was left, teaches the molds."})

	stage = AfterStage
	after := func(key, title, text string, kind Kind) {
		add(Step{Key: key, Kind: kind, Title: title, Text: text, After: true})
	}
	if o.Formula.Potash() {
		after("after:lid", "Lid on the paste, and its name", "It goes on clearing for days. It is caustic until it was tested.", Do)
	} else {
		if !o.topped(s) {
			add(tap(AfterStage, true))
		}
		after("after:cover", unit.Capital(o.Cover().Words()), "Do not poke it. The gel ring shows after about two hours.", Cover)
	}
	after(
		cleanKey,
		"Clean up",
		"Gloves stay on: batter is caustic. Pots and blender wiped out with paper, then washed; jug and strainer rinsed with much "+
			"water; bench, scale and floor wiped; lye capped and put away; tools never go back to food.",
		Do,
	)
	if o.Rescued {
		return o.rescued(out)
	}
	return out
}

// rescued are the steps of a pot that was cooked after all: nothing is traced, split, coloured by
// portions or laid into patterns any more, and what else was to be stirred in may be left out.
func (o Order) rescued(steps []Step) []Step {
	optional := []additive.Into{additive.TheBatter, additive.TheTrace, additive.APortion, additive.TheTop}
	for i := range steps {
		s := &steps[i]
		portion := s.Item.Key != "" && o.into(s.Item.Key) == additive.APortion && !o.scent(s.Item.Key) || s.Kind == Eye
		if s.Kind == Trace || s.Key == cookKey || portion || strings.HasPrefix(s.Key, portionPrefix) ||
			strings.HasPrefix(s.Key, designPrefix) {
			s.Gone, s.Must = true, false
		}
		if s.Item.Key != "" && slices.Contains(optional, o.into(s.Item.Key)) {
			s.Must = false
		}
	}
	return steps
}

// tap is the step that levels and textures the top: after the pour, or before what goes on it.
func tap(stage string, after bool) Step {
	return Step{
		Key: tapKey, Stage: stage, Kind: Do, After: after, Title: "Tap out the bubbles, texture the top",
		Text: "Spray it with alcohol against ash, away from flames.",
	}
}

// topped reports whether something goes onto the top: salt, petals, or dividers pressed in.
func (o Order) topped(s sheetOf) bool {
	for i := range o.Formula.DesignSteps() {
		if o.toppingStep(fmt.Sprintf("%s%d", designPrefix, i)) {
			return true
		}
	}
	return slices.ContainsFunc(s.hand, func(i plan.Item) bool { return o.into(i.Key) == additive.TheTop })
}

// toppingStep reports whether a step of the design is for a top that is level.
func (o Order) toppingStep(key string) bool {
	for i, d := range o.Formula.DesignSteps() {
		if key == fmt.Sprintf("%s%d", designPrefix, i) {
			return d.Do == recipe.Sprinkle || d.Do == recipe.Dividers
		}
	}
	return false
}

func lyeInTitle(s sheetOf) string {
	for _, i := range s.lye {
		if i.Key == plan.StockKey {
			return "The stock into the liquid"
		}
	}
	return "The lye into the liquid"
}

// batter are the steps from emulsion to the last thing stirred in.
func (o Order) batter(s *sheetOf, add func(Step)) {
	in := func(into additive.Into) {
		for _, stage := range additive.StagesInto(into) {
			scents := []plan.Item{}
			for _, i := range s.hand {
				if o.stageOf(i.Key) != stage {
					continue
				}
				if o.scent(i.Key) {
					scents = append(scents, i)
					continue
				}
				add(Step{Key: inKey(i.Key), Stage: Together, Kind: Do, Title: i.Name + " in", Text: i.Note, Item: i, Must: true})
			}
			for _, u := range o.Formula.Uses() {
				if u.Stage == stage {
					o.eye(u, add)
				}
			}
			for _, i := range scents {
				add(scentIn(i, i.Name+" in"))
			}
		}
	}
	in(additive.TheBatter)
	wanted := string(o.Formula.Process.Trace)
	text := "Blend in bouts; feel whether it is soap that thickens or a hard fat that sets."
	if wanted != "" {
		text = "Wanted: " + wanted + ". " + text
	}
	add(Step{Key: TraceKey, Stage: Together, Kind: Trace, Title: "Trace", Text: text, Must: true, Timer: &motor})
	if o.Formula.Process.Kind == recipe.Cooked || o.Formula.Process.Kind == recipe.Rebatch {
		add(
			Step{
				Key:   cookKey,
				Stage: Together,
				Kind:  Do,
				Title: "Cook until translucent",
				Text:  "Low heat, lid on, stirred when it climbs. Never left alone.",
				Must:  true,
				Timer: &cooking,
			},
		)
	}
	in(additive.TheTrace)
	for _, p := range plan.PortionsOf(o.Formula, o.Pot) {
		var colors []string
		for _, c := range p.Colorants {
			if c.Basis != additive.ByEye {
				colors = append(colors, c.Name)
			}
		}
		text := ""
		if len(colors) > 0 {
			text = "Stir in " + strings.Join(colors, ", ") + "."
		}
		if p.Scraps {
			text += " The scraps go into this one."
		}
		add(Step{Key: portionPrefix + p.Name, Stage: Together, Kind: Do, Title: p.Title(), Text: strings.TrimSpace(text), Must: true})
		for _, u := range o.Formula.Uses() {
			if u.Portion == p.Name {
				o.eye(u, add)
			}
		}
	}
	// The scent comes last, portion by portion in the order that the recipe says.
	for _, u := range o.Formula.Uses() {
		for _, i := range s.hand {
			if u.Scent && u.Portion != "" && plan.AdditiveKey(u) == i.Key {
				add(scentIn(i, u.Name+" into “"+u.Portion+"”"))
			}
		}
	}
}

// scentIn is the step at which a scent goes in.
func scentIn(i plan.Item, title string) Step {
	return Step{Key: inKey(i.Key), Stage: Together, Kind: Scent, Title: title, Item: i, Must: true,
		Text: "By hand, last of all, and watch it."}
}

// eye is the step at which something is stirred in until it pleases, for what has no weight.
func (o Order) eye(u additive.Use, add func(Step)) {
	if u.Basis != additive.ByEye {
		return
	}
	title := u.Name + " by eye"
	if u.Portion != "" {
		title += ", into “" + u.Portion + "”"
	}
	add(Step{Key: eyePrefix + u.Key(), Stage: Together, Kind: Eye, Title: title, Must: true,
		Text: "A little at a time, stirred through, until you like it; then note what went in."})
}

// EyeUse is what a step stirs in by eye.
func (o Order) EyeUse(step Step) (additive.Use, bool) {
	for _, u := range o.Formula.Uses() {
		if step.Kind == Eye && step.Key == eyePrefix+u.Key() {
			return u, true
		}
	}
	return additive.Use{}, false
}

// design are the steps that lay the batter into the molds.
func (o Order) design(add func(Step)) {
	steps := o.Formula.DesignSteps()
	sizes := plan.DesignPours(o.Formula, o.Pot, o.Request.Reaches())
	for i, d := range steps {
		text, pours := sizes[i].Words(), 0.0
		if d.Do.Pours() {
			pours = sizes[i].Grams
			if n := o.molds(); text != "" && n > 1 {
				text += fmt.Sprintf("; %s into each of %d molds", unit.Fixed(sizes[i].Grams/float64(n), 0)+" g", n)
			}
		}
		add(Step{
			Key: fmt.Sprintf("%s%d", designPrefix, i), Stage: IntoMold, Kind: Do, Title: unit.Capital(d.Words()), Text: text, Pours: pours,
			Must: true,
		})
	}
	if len(steps) > 0 && !o.Rescued {
		return
	}
	holds, counts := make([]float64, len(o.Molds)), make([]int, len(o.Molds))
	for i, v := range o.Molds {
		holds[i], counts[i] = v.Mold.Volume(), v.Count
	}
	each := plan.MoldPours(o.Formula, o.Pot, o.Request.Reaches(), holds, counts)
	for i, v := range o.Molds {
		text := "To the fill line"
		if v.Mold.Fill > 0 {
			text = fmt.Sprintf("To the fill line at %s mm", unit.Trim(v.Mold.Fill, 1))
		}
		if words := each[i].Words(); words != "" && v.Count > 1 {
			text += ", " + words + " into each"
		} else if words != "" {
			text += ", " + words
		}
		add(Step{
			Key: fmt.Sprintf("%s%d", fillPrefix, i), Stage: IntoMold, Kind: Fill, Title: "Pour into " + v.times(), Text: text + ".",
			Pours: each[i].Grams, Must: true,
		})
	}
}

// molds is how many molds the pot is poured into.
func (o Order) molds() (n int) {
	for _, v := range o.Molds {
		n += v.Count
	}
	return n
}

// Cover is what happens to the molds after the pour.
func (o Order) Cover() recipe.Cover {
	if c := o.Formula.Process.Cover; c != "" {
		return c
	}
	if o.Formula.Process.Kind == recipe.Oven {
		return "oven"
	}
	return recipe.Covers()[0]
}

// InOven reports whether the molds go into a warm oven.
func (o Order) InOven() bool { return o.Cover() == "oven" }

func (o Order) sprinkles() bool {
	for _, d := range o.Formula.DesignSteps() {
		if d.Do == recipe.Sprinkle {
			return true
		}
	}
	return false
}

func (o Order) stageOf(key plan.Key) additive.Stage {
	switch key.Kind() {
	case plan.FatItem:
		return additive.AfterCook // of fats, only what is held back comes at a stage
	case plan.ScrapsItem:
		return o.scrapsStage()
	}
	for _, u := range o.Formula.Uses() {
		if plan.AdditiveKey(u) == key {
			return u.Stage
		}
	}
	return ""
}

// scrapsStage is when scraps go in: at trace, or into the portion that takes them.
func (o Order) scrapsStage() additive.Stage {
	for _, p := range o.Formula.Portions {
		if p.Scraps {
			return additive.Portion
		}
	}
	return additive.Trace
}

// Into is what a step stirs its item into; empty for one that stirs nothing in.
func (o Order) Into(step Step) additive.Into {
	if use, ok := o.EyeUse(step); ok {
		return use.Stage.Into()
	}
	return o.into(step.Item.Key)
}

// PortionOf is the portion that a step splits off or stirs something into; empty for the whole pot.
func (o Order) PortionOf(step Step) string {
	if name, ok := strings.CutPrefix(step.Key, portionPrefix); ok {
		return name
	}
	if use, ok := o.EyeUse(step); ok {
		return use.Portion
	}
	for _, u := range o.Formula.Uses() {
		if step.Item.Key != "" && plan.AdditiveKey(u) == step.Item.Key {
			return u.Portion
		}
	}
	return ""
}

// PortionKey is the step that splits a portion off.
func PortionKey(name string) string { return portionPrefix + name }

// IsPortion reports whether a step splits a portion off.
func IsPortion(step Step) bool { return strings.HasPrefix(step.Key, portionPrefix) }

// Melts reports whether a step melts the solid fats.
func Melts(step Step) bool { return step.Key == meltKey }

// Cooks reports whether a step cooks the batter.
func Cooks(step Step) bool { return step.Key == cookKey }

// DesignStep is which step of the design it is; false for another.
func DesignStep(step Step) (n int, ok bool) { return numbered(step, designPrefix) }

// FillStep is which mold it fills, by its place among [Order.Molds]; false for another.
func FillStep(step Step) (n int, ok bool) { return numbered(step, fillPrefix) }

// MoldStep is which mold it makes ready; false for another.
func MoldStep(step Step) (n int, ok bool) { return numbered(step, moldPrefix) }

func numbered(step Step, prefix string) (int, bool) {
	text, ok := strings.CutPrefix(step.Key, prefix)
	n, err := strconv.Atoi(text)
	return n, ok && err == nil
}

// into is what an item goes into.
func (o Order) into(key plan.Key) additive.Into { return o.stageOf(key).Into() }

// scent reports whether an item is a part of the scent.
func (o Order) scent(key plan.Key) bool {
	if o.Formula.Scent == nil {
		return false
	}
	for _, u := range o.Formula.Uses() {
		if u.Scent && plan.AdditiveKey(u) == key {
			return true
		}
	}
	return false
}

func hasAdditive(items []plan.Item) bool {
	for _, i := range items {
		if i.Key.Kind() == plan.AdditiveItem {
			return true
		}
	}
	return false
}
