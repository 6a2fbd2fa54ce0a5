package recipe

import (
	"maps"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/unit"
)

// Tone is the colour that a portion is drawn in. It is a help to the eye; what
// colours the soap are its colorants.
type Tone string

// Tones returns all tones, the uncoloured batter first.
func Tones() []Tone {
	return []Tone{"plain", "white", "charcoal", "clay", "ochre", "leaf", "sky", "indigo", "rose", "earth"}
}

// Words says the tone.
func (t Tone) Words() string {
	if t == "plain" || t == "" {
		return "as the batter"
	}
	return string(t)
}

// Valid reports whether t is a tone, or not said.
func (t Tone) Valid() bool { return t == "" || slices.Contains(Tones(), t) }

// Portion is a share of the batter that is coloured on its own.
type Portion struct {
	Name      string
	Percent   float64 // of the batter
	Tone      Tone
	Scraps    bool // scraps are stirred into it
	Colorants []additive.Use
}

// Act is one thing that is done to make the look of a soap.
type Act string

// The acts.
const (
	Layer    Act = "pour"
	Drop     Act = "drop" // a portion into the pot of another, poured with it
	ScrapLay Act = "scraps"
	Swirl    Act = "swirl"
	Dividers Act = "dividers"
	Reserve  Act = "top"
	Drizzle  Act = "drizzle"
	Sprinkle Act = "sprinkle"
	Texture  Act = "texture"
)

// Acts returns all acts, in the order they usually come.
func Acts() []Act {
	return []Act{Layer, Drop, ScrapLay, Swirl, Dividers, Reserve, Drizzle, Texture, Sprinkle}
}

var actWords = map[Act]string{
	Layer: "pour", Drop: "drop into the pot", ScrapLay: "lay in scraps", Swirl: "swirl", Dividers: "press the dividers in",
	Reserve: "pour the reserved top", Drizzle: "drizzle over it", Sprinkle: "sprinkle on top", Texture: "texture the top",
}

// Words says the act as a maker would.
func (a Act) Words() string { return actWords[a] }

// Valid reports whether a is one of [Acts].
func (a Act) Valid() bool { return actWords[a] != "" }

// Takes reports whether the act uses up batter of a portion.
func (a Act) Takes() bool { return a.Pours() || a == Drop }

// Pours reports whether the act brings batter into the mold.
func (a Act) Pours() bool { return a == Layer || a == Reserve || a == Drizzle }

// Step is one step of the design. Steps are planned and ticked off, because at
// speed they are forgotten.
type Step struct {
	Do      Act     `json:"do"`
	Portion string  `json:"portion,omitempty"` // that it takes; empty with a single batter
	Into    string  `json:"into,omitempty"`    // the portion that it is dropped into
	Percent float64 `json:"percent,omitempty"` // of the portion; 0 for all that is left of it
	Note    string  `json:"note,omitempty"`
}

// Words says the step in a line.
func (s Step) Words() string {
	out := s.Do.Words()
	if s.Do == Drop {
		out = "drop “" + s.Portion + "” into the pot of “" + s.Into + "”"
	} else if s.Portion != "" {
		out += " “" + s.Portion + "”"
	}
	if s.Percent > 0 && s.Percent < 100 && s.Do.Takes() {
		out += ", " + unit.Trim(s.Percent, 0) + " % of it"
	}
	if s.Note != "" {
		out += ": " + s.Note
	}
	return out
}

// Uses returns all that goes in besides fats, alkali and liquid: the additives,
// the parts of the scent and the colorants of the portions. [Amounts.Additives]
// runs parallel to it.
func (f Formula) Uses() []additive.Use {
	out := slices.Clone(f.Additives)
	if f.Scent != nil {
		out = append(out, f.scentUses()...)
	}
	for _, p := range f.Portions {
		for _, u := range p.Colorants {
			out = append(out, p.takes(u))
		}
	}
	for _, u := range out {
		if d := u.Disperse; d != nil && d.Own {
			if oil, err := fat.Find(d.In); err == nil {
				out = append(out, u.OwnOil(oil.Name, oil.Density, oil.Composition(), oil.From()))
			}
		}
	}
	for i := range out {
		out[i].Molds = f.Molds
	}
	return out
}

// takes is a use as it goes into the portion alone.
func (p Portion) takes(u additive.Use) additive.Use {
	u.Stage, u.Portion, u.Part = additive.Portion, p.Name, p.Percent/100
	return u
}

// scentUses are the parts of the scent: in the whole batter, or in the portions that take it, in
// their order.
func (f Formula) scentUses() []additive.Use {
	uses := f.Scent.Uses()
	if len(f.Scent.Portions) == 0 {
		return uses
	}
	whole := 0.0
	var into []Portion
	for _, name := range f.Scent.Portions {
		for _, p := range f.Portions {
			if p.Name == name {
				into = append(into, p)
				whole += p.Percent
			}
		}
	}
	var out []additive.Use
	for _, p := range into {
		for _, u := range uses {
			if u.Basis == additive.GramsPerBatch { // one weight, shared out
				u.Rate *= p.Percent / math.Max(whole, 1e-9)
			}
			out = append(out, p.takes(u))
		}
	}
	return out
}

// checkScented finds portions that the scent cannot go into.
func (f Formula) checkScented(p *caution.Problems) {
	for i, name := range f.Scent.Portions {
		if !slices.ContainsFunc(f.Portions, func(one Portion) bool { return one.Name == name }) {
			p.Add("scent.portions", "there is no portion “%s” for the scent", name)
		}
		if slices.Contains(f.Scent.Portions[:i], name) {
			p.Add("scent.portions", "the scent goes into “%s” once", name)
		}
	}
}

// Poured is what stands in the mold after a pouring step, as a share of the
// whole batter.
type Poured struct {
	Step    Step
	Tone    Tone
	Share   float64 // 0 to 1
	Dropped []Tone  // of the portions that were dropped into its pot before
}

// Taken is what one step of the design takes of each portion that was split off, in percent of the
// whole batter: a portion that others were dropped into is poured with them.
type Taken map[string]float64

// Total is all that is taken, in percent of the whole batter.
func (t Taken) Total() float64 {
	sum := 0.0
	for _, v := range t {
		sum += v
	}
	return sum
}

// Pours works out how much of the batter each pouring step takes. Without
// steps the portions are poured in their order.
func (f Formula) Pours() []Poured {
	tones := map[string]Tone{}
	for _, p := range f.Portions {
		tones[p.Name] = p.Tone
	}
	var out []Poured
	dropped := map[string][]Tone{}
	steps := f.designSteps()
	for i, taken := range f.Takings() {
		switch s := steps[i]; {
		case s.Do == Drop:
			dropped[s.Into] = append(dropped[s.Into], tones[s.Portion])
		case s.Do.Pours():
			out = append(out, Poured{s, tones[s.Portion], taken.Total() / 100, dropped[s.Portion]})
		}
	}
	return out
}

// Takings is what each step of the design takes, parallel to [Formula.DesignSteps].
func (f Formula) Takings() []Taken {
	// What stands in the pot of each portion now, by the portions it was split from.
	pots, first := map[string]Taken{}, map[string]float64{}
	for _, p := range f.Portions {
		pots[p.Name], first[p.Name] = Taken{p.Name: p.Percent}, p.Percent
	}
	if len(f.Portions) == 0 {
		pots[""], first[""] = Taken{"": 100}, 100
	}
	steps := f.designSteps()
	out := make([]Taken, len(steps))
	for i, s := range steps {
		pot := pots[s.Portion]
		if !s.Do.Takes() || pot == nil {
			continue
		}
		all, share := pot.Total(), 1.0
		if s.Percent > 0 && all > 0 {
			share = min(1, first[s.Portion]*s.Percent/100/all)
		}
		out[i] = Taken{}
		for name, v := range pot {
			out[i][name] = v * share
			pot[name] = v * (1 - share)
		}
		if into := pots[s.Into]; s.Do == Drop && into != nil && s.Into != s.Portion {
			for name, v := range out[i] {
				into[name] += v
			}
			first[s.Into] += out[i].Total()
		}
	}
	return out
}

// designSteps are the steps, or those that go without saying.
func (f Formula) designSteps() []Step {
	if len(f.Design) > 0 || len(f.Portions) == 0 {
		return f.Design
	}
	out := make([]Step, len(f.Portions))
	for i, p := range f.Portions {
		out[i] = Step{Do: Layer, Portion: p.Name}
	}
	return out
}

// DesignSteps returns the steps of the look in order, portions without a plan
// one after the other.
func (f Formula) DesignSteps() []Step { return f.designSteps() }

func (f Formula) checkDesign(p *caution.Problems, unique func(path, name string)) {
	shares := make([]float64, len(f.Portions))
	names := map[string]bool{}
	scraps := 0
	for i, one := range f.Portions {
		at := path("portions", i)
		name := strings.TrimSpace(one.Name)
		switch {
		case name == "":
			p.Add(at+".name", "give the portion a name, such as its colour")
		case names[strings.ToLower(name)]:
			p.Add(at+".name", "there is a portion “%s” already", name)
		}
		p.Name(at+".name", name)
		names[strings.ToLower(name)] = true
		if !one.Tone.Valid() {
			p.Add(at+".tone", "“%s” is not a tone", one.Tone)
		}
		caution.Share.Check(p, at+".percent", "the portion", one.Percent)
		shares[i] = one.Percent
		if one.Scraps {
			scraps++
		}
		for j, u := range one.Colorants {
			in := path(at+".colorants", j)
			u.Stage = additive.Portion
			unique(in, additive.Use{Name: u.Name, Portion: one.Name}.Key())
			u.Check(p, in)
			f.checkCarrier(p, in, u)
		}
	}
	if len(shares) > 0 {
		caution.Sum(p, "portions", "portions", shares)
	}
	if scraps > 1 {
		p.Add("portions", "scraps go into one of the portions; %d are ticked", scraps)
	}
	f.checkSteps(p, names)
}

// checkSteps finds steps of the design that cannot be done: of portions that are not there, or of
// more than is left. names are those of the portions, in small letters.
func (f Formula) checkSteps(p *caution.Problems, names map[string]bool) {
	known := func(name string) bool { return names[strings.ToLower(strings.TrimSpace(name))] }
	share := map[string]float64{"": 100} // of each pot in percent of the batter, and how much of it is left
	for _, one := range f.Portions {
		share[one.Name] = one.Percent
	}
	left := maps.Clone(share)
	for i, s := range f.Design {
		at := path("design", i)
		if !s.Do.Valid() {
			p.Add(at+".do", "“%s” is not a step", s.Do)
			continue
		}
		if s.Percent < 0 || s.Percent > 100 {
			p.Add(at+".percent", "pour between 0 and 100 %% of the portion")
		}
		if !s.Do.Takes() {
			continue
		}
		if len(f.Portions) > 0 && !known(s.Portion) {
			p.Add(at+".portion", "choose which portion is poured")
		}
		if len(f.Portions) == 0 && s.Portion != "" {
			p.Add(at+".portion", "there is no portion “%s”", s.Portion)
		}
		take := left[s.Portion]
		if s.Percent > 0 {
			take = share[s.Portion] * s.Percent / 100
		}
		switch {
		case left[s.Portion] <= 1e-9:
			p.Add(at+".percent", "nothing is left of “%s” for this step", s.Portion)
		case take > left[s.Portion]+caution.ShareTolerance:
			p.Add(at+".percent", "only %s %% of “%s” is left for this step", unit.Trim(100*left[s.Portion]/share[s.Portion], 1), s.Portion)
		}
		left[s.Portion] -= take
		if s.Do == Drop {
			if !known(s.Into) || s.Into == s.Portion {
				p.Add(at+".into", "choose another portion, into whose pot it is dropped")
				continue
			}
			share[s.Into], left[s.Into] = share[s.Into]+take, left[s.Into]+take
		}
	}
}

// adviseDesign names what is mixed and never poured.
func (f Formula) adviseDesign() []caution.Caution {
	if len(f.Design) == 0 || len(f.Portions) == 0 {
		return nil
	}
	taken := map[string]float64{}
	steps := f.DesignSteps()
	for i, t := range f.Takings() {
		for name, v := range t {
			if steps[i].Do.Pours() {
				taken[name] += v
			}
		}
	}
	var out []caution.Caution
	for _, p := range f.Portions {
		if left := p.Percent - taken[p.Name]; left > 0.05 {
			out = append(out, caution.Caution{Code: "design.unpoured", Level: caution.Warn,
				Reason: unit.Trim(left, 1) + " % of the batter, of portion “" + p.Name + "”, is in no step of the design.",
				Remedy: "Add the step that pours it, or leave the last step's share empty so that it takes the rest."})
		}
	}
	return out
}
