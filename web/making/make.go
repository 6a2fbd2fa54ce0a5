package making

import (
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/device"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/planning"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// makePage is the bench on make day: one step large, the others small.
type makePage struct {
	*lot.Lot
	Next     nextThings // of all pots, where there is another one
	Forms    page.Forms
	Seen     int64
	Stages   []runStage
	Now      *runStep
	Before   string // key of the step before
	Then     []runStep
	Done     int
	All      int
	Bench    draw.Picture
	Soap     run.Judgement
	Burns    bool   // there is more lye in it than its fats can take
	Left     string // what must still be done before the pour, in words
	Weigh    *weighing
	Warm     warmth
	Foretold string        // how long it takes to trace, by own lots
	Scene    string        // of a rehearsal: what the maker sees
	First    string        // to somebody who never poured, at this step
	Work     *draw.Picture // what the step does; nil where nothing is to be drawn
	Live     *live         // what the scale or the probe shows, nil without one
	Others   []*lot.Lot
	Troubles []page.IncidentView
	Rescuing bool // a way out is under way, and comes first
	Stories  []page.StoryTold
	Notes    string // of the recipe, before the work begins
	Said     []lots.NextTime
	Carried  []page.Option
	Into     []page.Option // portions that something can be added to
	Watching *lot.Writer   // another device that writes
	Traces   []page.Option
	Lines    []traceLine   // the same, drawn
	Seens    []page.Option // how a scent can behave
	Ontos    []page.Option
	AllIn    bool       // all is weighed
	Open     []run.Step // what should have gone in before the current step and has not
}

// traceLine is a thickness as the line that it leaves.
type traceLine struct {
	page.Option
	Picture draw.Picture
	Wanted  bool // by the recipe
}

type runStage struct {
	Name  string
	Steps []runStep
	Done  int
	Open  bool
}

// runStep is a step of the run sheet as it stands.
type runStep struct {
	run.Step
	Number  int
	Done    bool
	Current bool
	LeftOut bool    // done by a word why not
	Note    string  // of the tick
	Grams   float64 // weighed
	Some    bool    // something was weighed
	Stand   int     // -1 under, 0 in, 1 over
}

// Over reports whether too much of it was weighed.
func (s runStep) Over() bool { return s.Kind == run.Weigh && s.Some && s.Stand > 0 }

// weighing is what is known of the item on the scale.
type weighing struct {
	In      float64 // g so far
	Rest    float64 // g to come
	Closed  bool
	Stand   int
	Pours   []pourLine
	From    []fromLine // deliveries that it can be out of, in the order in which they are to be used
	Then    string     // the delivery that gives the rest when the first runs out
	First   string     // the one that is used first, and how much of it is left, where that is not enough
	Second  string     // the one after it, and what it gives
	Missing float64    // g that no delivery holds, by the books
	Books   bool       // the books know of some
	Jars    []jarLeft  // of infused oil that it can be out of
	Purity  bool       // its lots have a purity; fats have a SAP
	SAP     bool
	Over    *overPour
	Fill    draw.Fill
	Running float64
}

// fromLine is a delivery as a place that an ingredient is weighed from.
type fromLine struct {
	inventory.Delivery
	Words string
}

// jarLeft is a jar of infused oil as a place that an oil is weighed from.
type jarLeft struct {
	Value string
	Herb  string
	Left  float64
}

// fromJar begins the choice of a jar of infused oil in place of a delivery.
const fromJar = "infusion:"

type pourLine struct {
	lot.Weighing
	Corrected bool
}

// overPour is what an over-pour comes to and the ways on.
type overPour struct {
	By        float64
	Percent   float64 // that everything grows by when rescaled
	BatterG   float64 // of the rescaled pot
	MoreG     float64 // than the molds take
	Short     []plan.Row
	Refused   string // why it cannot be rescaled
	SecondJug bool   // the lye is dissolved already
}

// warmth is what is known of the temperatures.
type warmth struct {
	Lye, Fats  string // now, or empty
	Ready      string
	Low, High  float64
	Picture    *draw.Picture
	LyeRead    int
	LiquidRead string
}

func (s *Room) makeLot(w http.ResponseWriter, r *http.Request) error {
	return s.showMake(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showMake(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error {
	oid := chi.URLParam(r, "oid")
	l, err := s.Shop.Lot(r.Context(), oid)
	if err != nil {
		return err
	}
	if st := l.Stage(); st != lot.Making && (st != lot.InMold || runOver(l) || posted == "pour" || posted == "weigh") {
		if posted == "" {
			return page.SeeOther(w, r, "/lots/"+oid)
		}
		// An old window of the bench: say that what it sent is not on record.
		left := &caution.Caution{
			Code:   "web.refused",
			Level:  caution.Warn,
			Reason: "This lot has left the bench.",
			Remedy: "Nothing was recorded.",
		}
		if notice != nil {
			left.Reason = notice.Reason
		}
		return s.Lots.ShowLot(w, r, status, posted, f, left)
	}
	p, err := s.makePageOf(r, l, posted, f)
	if err != nil {
		return err
	}
	if p.Next, err = s.nextThings(r, l.OID); err != nil {
		return err
	}
	var to string
	if p.Scene, to, err = s.scene(l.OID, p.Now.Step, p.Now.Done); err != nil {
		return err
	}
	if to != "" && posted == "" {
		return page.SeeOther(w, r, "/make/"+oid+"?"+url.Values{"step": {to}}.Encode())
	}
	return s.Show(w, r, status, "make", "Lot "+l.Code+": "+l.Frozen.Recipe, "Make", notice, p)
}

// Caustic reports whether the step at hand is with lye, or with batter that is not soap yet.
func (p makePage) Caustic() bool {
	return p.Now.Stage != run.FatStage && p.Now.Stage != run.AtHand || p.Now.Item.Key.Alkali()
}

// runOver reports whether nothing is left to do after the pour.
func runOver(l *lot.Lot) bool {
	done := l.Done()
	return !slices.ContainsFunc(run.Steps(l.Order()), func(s run.Step) bool { return s.After && !done[s.Key] })
}

// wantedStep is the step a page was asked for: one that is pointed at, one that
// was sent, or what follows on one.
func wantedStep(r *http.Request, posted string, f *page.Form) (key string, after bool) {
	q := r.URL.Query()
	switch {
	case f != nil && f.Get("step") != "":
		return f.Get("step"), false
	case f != nil && f.Get("item") != "":
		return run.WeighKey(plan.Key(f.Get("item"))), false
	case posted == "pour":
		return run.PourKey, false
	case q.Get("item") != "":
		return run.WeighKey(plan.Key(q.Get("item"))), false
	case q.Get("step") != "":
		return q.Get("step"), false
	}
	return q.Get("after"), true
}

// makePageOf lays the run out around its current step: the wanted one, else the
// first after the last one that is not done.
func (s *Room) makePageOf(r *http.Request, l *lot.Lot, posted string, f *page.Form) (p makePage, err error) {
	forms, err := s.Forms(r, l.OID, posted, f)
	if err != nil {
		return p, err
	}
	cooker, err := s.Shop.CookerML(r.Context())
	if err != nil {
		return p, err
	}
	state := l.State()
	steps := run.Steps(l.Order())
	left := run.Undone(steps, state)
	p = makePage{
		Lot:    l,
		Forms:  forms,
		Seen:   l.LastEntry,
		Soap:   l.JudgePot(),
		Traces: page.Words(lot.Traces()),
		Seens:  behaviours(),
		AllIn:  len(l.Unweighed()) == 0,
		Ontos: []page.Option{
			{Value: "fats", Label: "into the fats"},
			{Value: "batter", Label: "into the batter"},
			{Value: "lye", Label: "into the cooled lye"},
		},
		Left:  titles(left),
		Burns: l.Pour == nil && l.JudgePour().Burns() && len(left) == 0,
	}
	for i, one := range l.Frozen.Formula.Portions {
		if i == 0 {
			p.Into = []page.Option{{Value: "", Label: "all of it"}}
		}
		p.Into = append(p.Into, page.Option{Value: one.Name, Label: one.Name})
	}
	if !s.Shop.Writes(l, page.SessionOf(r).Device) {
		p.Watching = &l.Writer
	}
	list := make([]runStep, len(steps))
	for i, step := range steps {
		list[i] = stepLine(l, state, step, i+1)
	}
	list = slices.DeleteFunc(list, func(s runStep) bool { return s.Gone && !s.Done })
	for i := range list {
		list[i].Number = i + 1
		if list[i].Done {
			p.Done++
		}
	}
	p.All = len(list)
	now := currentStep(list, r, posted, f)
	list[now].Current = true
	p.Now = &list[now]
	if now > 0 {
		p.Before = list[now-1].Key
	}
	for _, one := range list[now+1:] {
		if !one.Done && len(p.Then) < 2 {
			p.Then = append(p.Then, one)
		}
	}
	if !p.Now.Done {
		p.Open = run.First(l.Order(), state, p.Now.Step)
	}
	for _, one := range list {
		if n := len(p.Stages); n == 0 || p.Stages[n-1].Name != one.Stage {
			p.Stages = append(p.Stages, runStage{Name: one.Stage})
		}
		stage := &p.Stages[len(p.Stages)-1]
		stage.Steps = append(stage.Steps, one)
		stage.Open = stage.Open || one.Current
		if one.Done {
			stage.Done++
		}
	}
	drawn := make([]draw.BenchStage, len(p.Stages))
	for i, one := range p.Stages {
		drawn[i] = draw.BenchStage{Name: one.Name, Done: one.Done, All: len(one.Steps), Current: one.Open}
	}
	p.Bench = draw.OfBench(drawn)
	for _, act := range []string{"weigh", "tick"} {
		if sent := forms.Of(act); sent.Get("step") != p.Now.Key && plan.Key(sent.Get("item")) != p.Now.Item.Key {
			// What was typed for another step does not belong here.
			forms.List[act] = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
		}
	}
	if f := forms.Of("pour"); f.Get("trace") == "" {
		f.Set("trace", traceOf(l))
		for field, pot := range map[string]string{"lye_c": "lye", "fats_c": "fats", "room_c": "room"} {
			if c := l.Warmth(pot); c != nil && posted != "pour" {
				f.Set(field, unit.FieldTemperature(*c, f.System))
			}
		}
	}
	if f := forms.Of("tick"); f.Get("trace") == "" {
		f.Set("trace", "light")
	}
	if f := forms.Of("tick"); p.Now.Kind == run.Trace && f.Get("minutes") == "" && posted != "tick" {
		if since, ok := l.SinceMet(s.Shop.Now(page.SessionOf(r).Location)); ok {
			f.Set("minutes", strconv.Itoa(int(since.Minutes()+0.5)))
		}
	}
	if p.Now.Kind == run.Trace {
		if p.Foretold, err = s.traceForetold(r, l); err != nil {
			return p, err
		}
	}
	if p.Now.Kind == run.Weigh {
		if p.Weigh, err = s.weighingOf(r, l, state, p.Now.Item); err != nil {
			return p, err
		}
	}
	p.Warm = warmthOf(l, page.SessionOf(r).RoomC, s.Shop.Now(page.SessionOf(r).Location), page.SessionOf(r).System)
	if who := page.SessionOf(r).Who; who.ID != 0 && !p.Now.Done {
		poured, err := s.Shop.Poured(r.Context(), who.ID)
		if err != nil {
			return p, err
		}
		if poured == 0 {
			p.First = l.Order().FirstTime(p.Now.Step)
		}
	}
	for _, one := range p.Traces {
		wanted := one.Value == string(l.Frozen.Formula.Process.Trace)
		p.Lines = append(p.Lines, traceLine{one, draw.OfTrace(one.Value), wanted})
	}
	if pic, ok := draw.OfWork(draw.Work{
		Order: l.Order(), Step: p.Now.Step, Done: state.Done,
		Warm: l.WhenToCombine(page.SessionOf(r).RoomC, s.Shop.Now(page.SessionOf(r).Location)),
	}); ok {
		p.Work = &pic
	}
	p.Live = s.liveOf(r, l, p.Now.Step)
	p.Troubles, p.Carried = page.IncidentsOf(l, cooker), page.CarriedOptions()
	for i, one := range p.Troubles {
		if one.Way == "" || one.Done < len(one.Steps) {
			p.Rescuing = true
			p.Troubles[i].Leads = one.Way != ""
			break
		}
	}
	if p.Stories, err = s.storiesAt(r, l, p.Now.Step); err != nil {
		return p, err
	}
	if p.Now.Stage == run.Ready {
		p.Notes = l.Frozen.Notes
		if p.Said, err = s.Shop.NextTime(r.Context(), l.Recipe, l.OID); err != nil {
			return p, err
		}
	}
	bench, err := s.Shop.BeingMade(r.Context())
	for _, one := range bench {
		if one.OID != l.OID {
			p.Others = append(p.Others, one)
		}
	}
	return p, err
}

// storiesAt are what went wrong before, where it matters: all of it before the
// work begins, and that of an ingredient when it is weighed or goes in.
func (s *Room) storiesAt(r *http.Request, l *lot.Lot, step run.Step) ([]page.StoryTold, error) {
	var about []string
	switch {
	case step.Stage == run.Ready:
		about = subjectsOf(l)
	case step.Item.Key != "":
		about = []string{string(step.Item.Key)}
		bought, _, err := s.Shop.AtHand(r.Context(), step.Item.Key, step.Item.Name)
		if err != nil {
			return nil, err
		}
		for _, b := range bought {
			about = append(about, "bought:"+b.OID)
		}
	}
	list, err := s.Told(r, about)
	return slices.DeleteFunc(list, func(t page.StoryTold) bool { return t.LotOID == l.OID }), err
}

func currentStep(list []runStep, r *http.Request, posted string, f *page.Form) int {
	key, after := wantedStep(r, posted, f)
	from := 0
	if i := slices.IndexFunc(list, func(s runStep) bool { return s.Key == key }); i >= 0 {
		// An over-pour is looked at before the work goes on.
		on := r.URL.Query().Get("on") != "" // whatever it is like
		if !after || !on && (!list[i].Done || list[i].Over()) {
			return i
		}
		from = i
	}
	// What may be left out is passed over once something after it is done.
	passed := from
	for i, one := range list {
		if one.Done {
			passed = max(passed, i)
		}
	}
	open := func(i int) bool {
		one := list[i]
		return !one.Done && (one.Must || one.After || one.Kind == run.Pour || i > passed)
	}
	for _, start := range []int{from, 0} {
		for i := start; i < len(list); i++ {
			if open(i) {
				return i
			}
		}
	}
	return len(list) - 1
}

func stepLine(l *lot.Lot, state run.State, step run.Step, number int) runStep {
	one := runStep{Step: step, Number: number, Done: state.Done[step.Key]}
	if step.Kind == run.Pour {
		one.Done = l.Pour != nil
	}
	if step.Kind == run.Weigh {
		one.Grams, one.Some = state.Grams[step.Item.Key], state.Grams[step.Item.Key] > 0
		one.Stand = run.InTolerance(step.Item, one.Grams)
		one.LeftOut = one.Done && one.Stand < 0
		one.Done = state.Closed[step.Item.Key]
	}
	for _, t := range l.Ticks {
		if t.Step == step.Key && t.Done {
			one.Note = t.Note
		}
	}
	return one
}

// titles says in a line what is still to be done before the pour.
func titles(steps []run.Step) string {
	out := make([]string, len(steps))
	for i, s := range steps {
		out[i] = s.Title
	}
	return strings.Join(out, "; ")
}

// traceOf is the trace that was seen, or the usual one.
func traceOf(l *lot.Lot) string {
	out := "light"
	for _, t := range l.Ticks {
		if t.Trace != "" {
			out = t.Trace
		}
	}
	return out
}

func behaviours() []page.Option {
	out := []page.Option{{Value: "", Label: "not looked at"}}
	for _, b := range additive.Behaviours()[1:] {
		out = append(out, page.Option{Value: string(b), Label: b.Words()})
	}
	return out
}

// weighingOf gathers what is known of the item on the scale.
func (s *Room) weighingOf(r *http.Request, l *lot.Lot, state run.State, i plan.Item) (*weighing, error) {
	in := state.Grams[i.Key]
	v := &weighing{
		In:      in,
		Rest:    math.Max(0, i.Target-in),
		Closed:  state.Closed[i.Key],
		Stand:   run.InTolerance(i, in),
		Fill:    draw.OfFill(i.Target, i.Tolerance, in),
		Running: i.Running,
		Purity:  i.Key.Kind() == plan.AlkaliItem,
		SAP:     i.Key.Kind() == plan.FatItem,
	}
	for _, w := range l.Weighings {
		if w.Item == i.Key {
			v.Pours = append(v.Pours, pourLine{w, l.Corrected(w.ID)})
		}
	}
	deliveries, m, err := s.Shop.AtHand(r.Context(), inventory.KeyOf(l.Frozen.Formula, i.Key), i.Name)
	if err != nil {
		return nil, err
	}
	v.propose(deliveries, inventory.LifeOf(m), page.SessionOf(r).System)
	if key, ok := i.Key.Fat(); ok {
		jars, err := s.Shop.InfusionsOf(r.Context(), key)
		if err != nil {
			return nil, err
		}
		for _, j := range jars {
			v.Jars = append(v.Jars, jarLeft{fromJar + j.OID, j.Herb, j.Left()})
		}
	}
	if over := run.Over(i, in); over != nil {
		v.Over = overOf(l, *over, state)
	}
	return v, nil
}

// propose lays out which deliveries the rest is weighed from.
func (v *weighing) propose(list []inventory.Delivery, life inventory.Life, sys unit.System) {
	for _, d := range list {
		v.From = append(v.From, fromLine{d, page.DeliveryWords(d, life, sys)})
		v.Books = v.Books || d.Booked
	}
	parts, missing := inventory.Propose(list, inventory.MG(v.Rest))
	if !v.Books || v.Closed {
		return
	}
	v.Missing = inventory.Grams(missing)
	if len(parts) > 1 {
		v.Then = parts[1].Delivery.OID
		v.First = page.AmountWords(parts[0].Amount, parts[0].Delivery.Unit, sys) + " of " + parts[0].Delivery.Short()
		v.Second = page.AmountWords(parts[1].Amount, parts[1].Delivery.Unit, sys) + " of " + parts[1].Delivery.Short()
	}
}

// overOf works out what rescaling to an over-pour would mean.
func overOf(l *lot.Lot, over run.OverPour, state run.State) *overPour {
	v := &overPour{By: over.By, Percent: 100 * (over.Factor - 1), SecondJug: state.Done[run.LyeInKey]}
	to, err := l.RescaledTo(over.Item.Key)
	if err != nil {
		v.Refused = page.Capital(err.Error())
		var problems caution.Problems
		if errors.As(err, &problems) {
			v.Refused = page.Capital(problems[0].Text)
		}
		return v
	}
	v.BatterG, v.MoreG = to.Pot.InPot(), to.Pot.InPot()-l.Frozen.Pot.InPot()
	for _, sec := range to.Sheet {
		for _, i := range sec.Items {
			if g := state.Grams[i.Key]; state.Closed[i.Key] && run.InTolerance(i, g) < 0 {
				v.Short = append(v.Short, plan.Row{Name: i.Name, Grams: i.Target - g})
			}
		}
	}
	return v
}

func warmthOf(l *lot.Lot, roomC float64, now time.Time, sys unit.System) warmth {
	m := l.WhenToCombine(roomC, now)
	v := warmth{LyeRead: len(l.Read("lye"))}
	v.Low, v.High = m.Low, m.High
	say := func(c float64) string {
		if math.IsNaN(c) {
			return ""
		}
		return unit.FormatTemperature(math.Round(c), sys)
	}
	v.Lye, v.Fats = say(m.LyeC), say(m.FatsC)
	if c := l.Warmth("liquid"); c != nil {
		v.LiquidRead = say(*c)
	}
	switch {
	case v.Lye == "" || v.Fats == "":
	case l.State().Combined || l.Pour != nil: // they have met
	case m.Cold():
		v.Ready = fmt.Sprintf("Too cold: warm both to %s or more before they meet.", say(m.Low))
	case !m.OK:
		v.Ready = "They do not come together on their own: warm or cool one of them."
	case m.Minutes < 1:
		v.Ready = "Ready to combine now."
	default:
		v.Ready = fmt.Sprintf("Ready to combine in about %s.", page.MinutesWords(m.Minutes))
		if m.FatsThen < m.Low {
			v.Ready += fmt.Sprintf(" Keep the fats above %s until then.", say(m.Low))
		}
	}
	return v
}

// live is what a device shows.
type live struct {
	Kind      device.Kind
	Lot       string // its identity
	Step      string
	On        bool
	Why       string // it is not in contact
	Simulated bool
	Stable    bool
	Over      bool // more than it can carry
	Value     float64
	Number    int64
	Total     float64 // with what is in already
	Rest      float64 // still to come; below zero it is over
	Stand     int
	Fill      draw.Fill
	Decimals  int
	Back      bool // it shows less than nothing: something was taken out
	Stale     bool // the device has said nothing new for too long: it is not what lies there now
}

// Stream is where its readings are streamed from.
func (v live) Stream() string {
	return "/make/" + v.Lot + "/live?" + url.Values{"step": {v.Step}}.Encode()
}

// By is how much it is over.
func (v live) By() float64 { return -v.Rest }

// Hands are what the hand of the demo can do at a stand-in.
func (v live) Hands() []page.Option {
	if v.Kind == device.Probe {
		return []page.Option{
			{Value: "heat 90", Label: "Hot pot"},
			{Value: "heat 38", Label: "Warm pot"},
			{Value: "heat 18", Label: "Cold water"},
		}
	}
	return []page.Option{
		{Value: fmt.Sprintf("pour %.2f", math.Max(0, v.Rest)), Label: "Pour (simulated)"},
		{Value: "pour 20", Label: "+20 g"},
		{Value: "pour -10", Label: "−10 g"},
		{Value: "unplug", Label: "Unplug"},
		{Value: "plug", Label: "Plug in"},
	}
}

// liveOf is what the device that serves a step shows now, nil where there is
// none.
func (s *Room) liveOf(r *http.Request, l *lot.Lot, step run.Step) *live {
	kind := device.Scale
	switch step.Kind {
	case run.Weigh:
	case run.LyeIn, run.Warm, run.Meet:
		kind = device.Probe
	default:
		if step.Pours == 0 {
			return nil
		}
	}
	watch := s.Devices.Watch(kind)
	if watch == nil {
		return nil
	}
	state, _, _ := watch.State()
	return s.liveIs(l, step, kind, state)
}

func (s *Room) liveIs(l *lot.Lot, step run.Step, kind device.Kind, d device.State) *live {
	v := &live{
		Kind:      kind,
		Lot:       l.OID,
		Step:      step.Key,
		On:        d.On,
		Why:       d.Err,
		Simulated: s.Devices.Simulated(kind),
		Stable:    d.Reading.Stable,
		Over:      d.Reading.Over,
		Value:     d.Reading.Value,
		Number:    d.Reading.Number,
		Decimals:  unit.Decimals(d.Info.Step),
		Stale:     d.On && !d.Reading.Fresh(time.Now()),
	}
	if kind == device.Scale {
		i := step.Item
		if step.Pours > 0 {
			i = plan.Item{Target: step.Pours, Tolerance: math.Max(1, step.Pours*pourTolerance)}
		}
		v.Total = l.Actual()[i.Key] + v.Value
		v.Rest, v.Stand, v.Back = i.Target-v.Total, run.InTolerance(i, v.Total), v.Value < 0
		v.Fill = draw.OfFill(i.Target, i.Tolerance, v.Total)
	}
	return v
}

// pourTolerance is how far a pouring may be off its share of the pot, as a share.
const pourTolerance = 0.02

// OfScraps reports whether scraps are on the scale, whose lot is asked for beside them.
func (p makePage) OfScraps() bool { return p.Now.Item.Key == plan.ScrapsKey }

// typedLot keeps what is being typed into a form of a lot.
func (s *Room) typedLot(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if _, err := s.Shop.SaveDraft(r.Context(), page.Typing(r), journal.OfLot(chi.URLParam(r, "act"), chi.URLParam(r, "oid")),
		r.PostFormValue("tab"), 0, f.Values); err != nil {
		return err
	}
	w.WriteHeader(http.StatusNoContent)
	return nil
}

// actOf is what a form of a lot does, by its name, and whose it is; ok is false when
// there is no such form.
func (s *Room) actOf(r *http.Request, oid, name string, f *page.Form) (do func() error, making, troubled, ok bool) {
	if do, making = s.makeAct(r, oid, name, f); making {
		return do, true, false, true
	}
	if do, troubled = s.troubleAct(r, oid, name, f); troubled {
		return do, false, true, true
	}
	do, ok = s.Lots.LotAct(r, oid, name, f)
	return do, false, false, ok
}

// actPath is the address of the forms of a lot.
const actPath = "/lots/{oid}/{act}"

// opens are the cards that open at once when a scent behaves so: there is no time to look for them.
var opens = map[additive.Behaviour]trouble.Kind{additive.Seizes: trouble.Seized, additive.Rices: trouble.Ricing}

// passedOver reports whether a step that may be left out is gone past with nothing said: the check
// of the scale, for who has no known weight at hand.
func passedOver(f *page.Form) bool {
	return f.Get("step") == run.ScaleKey && f.Get("undo") == "" && page.Blank(f, "", "check_g", "reads_g", "note")
}

// actOnLot reads one form of a lot, calls its use case, and leads to where the
// work goes on.
func (s *Room) actOnLot(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid, name := chi.URLParam(r, "oid"), chi.URLParam(r, "act")
	if name == "sample" && r.PostFormValue("do") == "scale" {
		status := http.StatusOK
		if s.OffScale(f, "sample"); len(f.Problems) > 0 {
			status = http.StatusUnprocessableEntity
		}
		return s.Lots.ShowLot(w, r, status, name, f, nil)
	}
	if name == "tick" && passedOver(f) {
		return page.Recorded(w, r, "/make/"+oid+"?"+url.Values{"after": {f.Get("step")}, "on": {"1"}}.Encode())
	}
	r, unsigned := s.Sign(page.Ending(r, journal.OfLot(name, oid)), actPath)
	do, making, troubled, ok := s.actOf(r, oid, name, f)
	if !ok {
		return store.ErrNotFound
	}
	if err = f.Problems.Err(); err == nil {
		err = unsigned
	}
	if err == nil {
		err = do()
	}
	if err == nil {
		to := "/lots/" + oid
		if f.Get("back") == "shelf" {
			to = "/"
		}
		if making && name != "giveup" && name != "paper" || troubled && f.Get("back") == "make" {
			to = "/make/" + oid + afterStep(name, f)
		}
		if err := page.SayKept(w, r, keptOf(oid, name, f)); err != nil {
			return err
		}
		if kind, ok := opens[additive.Behaviour(f.Get("behaviour"))]; ok && name == "tick" && f.Get("undo") == "" {
			to = "/lots/" + oid + "/trouble/" + string(kind)
		}
		return page.Recorded(w, r, to)
	}
	known := len(f.Problems)
	status, notice, err := s.Refused(w, r, err, f)
	if err != nil {
		return err
	}
	if known > 0 {
		f.Problems = f.Problems[:known] // they were the error itself
	}
	show := s.Lots.ShowLot
	switch {
	case name == "paper":
		show = s.showPaper
	case name == "trouble":
		show = s.showTrouble
	case making || troubled && f.Get("back") == "make":
		show = s.showMake
	}
	return show(w, r, status, name, f, notice)
}

// afterStep is where the bench goes on after an act.
func afterStep(act string, f *page.Form) string {
	key := f.Get("step")
	if key == "" && f.Get("item") != "" {
		key = run.WeighKey(plan.Key(f.Get("item")))
	}
	if act == "pour" {
		key = run.PourKey
	}
	if key == "" || act == "rescale" || act == "rescue" {
		return ""
	}
	how := "after"
	if act == "tick" && f.Get("undo") == "on" || act == "temp" || act == "extra" || act == "photo" {
		how = "step"
	}
	return "?" + url.Values{how: {key}}.Encode()
}

// MakingRoutes are the addresses of make day, of trouble and of records.
func (s *Room) MakingRoutes(r page.Routes) {
	r.Get("/make", s.makeList)
	r.Get("/make/next", s.next)
	r.Get("/make/{oid}", s.makeLot)
	r.Get("/make/{oid}/paper", s.paper)
	r.Get("/rehearsal", s.rehearsal)
	r.Get("/make/{oid}/live", s.liveStream)
	r.Post("/bench/scale/tare", s.tareScale)
	r.Post("/bench/{kind}/tell", s.tellDevice)
	r.Get("/photos/{file}", s.photo)
	r.Get("/lots/{oid}/trouble", s.trouble)
	r.Get("/lots/{oid}/trouble/{kind}", s.trouble)
	r.Get("/lots/{oid}/record", s.record)
	r.Get("/lots/{oid}/record.json", s.recordFile)
	r.Get("/lots/{oid}/record.csv", s.recordSheet)
	r.Post("/lots/{oid}/typed/{act}", s.typedLot)
	r.Post(actPath, s.actOnLot)
}

// TypedLabel is what the field for a weight is called: with a scale on the bench the
// figure comes by itself.
func (p makePage) TypedLabel() string {
	if p.Live != nil {
		return "or type it"
	}
	return "The scale reads"
}

func (s *Room) makeList(w http.ResponseWriter, r *http.Request) error {
	lots, err := s.Shop.BeingMade(r.Context())
	if err != nil {
		return err
	}
	plans, all, err := s.Shop.OpenPlans(r.Context(), page.MostPlans)
	if err != nil {
		return err
	}
	next, err := s.nextThings(r, "")
	if err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "makelist", "Make", "Make", nil, struct {
		Lots  []*lot.Lot
		Plans []planning.Plan
		All   int
		None  bool
		Next  nextThings
	}{lots, plans, all, len(lots) == 0 && len(plans) == 0, next})
}

// nextThings are what is to be done next at the bench, across all pots that are being made or are planned for today.
type nextThings struct {
	Lot    string // the run on whose page they stand; empty on the list
	Things []nextThing
	Late   []string
	Hours  string // address of the day by its hours
}

type nextThing struct {
	When, What, Of, Link string
	Now                  bool
}

// mostNext is how many things are told at once: what is to be done, and what to keep in mind.
const mostNext = 3

// nextThings lays what is left of the day. On the page of a run that is the only pot there is nothing to add.
func (s *Room) nextThings(r *http.Request, lot string) (out nextThings, err error) {
	c, err := s.Shop.Conduct(r.Context())
	if err != nil {
		return out, err
	}
	out.Lot = lot
	out.Hours = "/plan/day/" + s.Shop.Now(page.SessionOf(r).Location).Format("2006-01-02") + "/hours"
	if out.Lot != "" && len(c.Day.Batches) < 2 {
		return out, nil
	}
	for _, step := range c.Next() {
		if len(out.Things) == mostNext {
			break
		}
		one := nextThing{When: timetable.Clock(step.From), What: step.Name, Of: step.Batch, Link: out.Hours, Now: step.From <= c.Day.Start}
		if oid := c.Lots[step.Batch]; oid != "" {
			one.Link = "/make/" + oid
		}
		out.Things = append(out.Things, one)
	}
	for _, l := range c.Late() {
		out.Late = append(out.Late, l.Batch)
	}
	return out, nil
}

func (s *Room) next(w http.ResponseWriter, r *http.Request) error {
	next, err := s.nextThings(r, r.URL.Query().Get("lot"))
	if err != nil {
		return err
	}
	return s.Render(w, r, http.StatusOK, "next-things", next)
}

// traceForetold says how long the batter takes to trace by the shop's own lots; empty where they say nothing.
func (s *Room) traceForetold(r *http.Request, l *lot.Lot) (string, error) {
	e, err := s.Shop.Experience(r.Context(), []string{l.Recipe})
	if err != nil {
		return "", err
	}
	if f := e.Trace(planning.About{Recipe: l.Recipe, Formula: l.Frozen.Formula}); f.Lots() > 0 {
		return "To trace: " + f.Words(), nil
	}
	return "", nil
}
