package recipe

import (
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
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
	return []Act{Layer, ScrapLay, Swirl, Dividers, Reserve, Drizzle, Texture, Sprinkle}
}

var actWords = map[Act]string{
	Layer: "pour", ScrapLay: "lay in scraps", Swirl: "swirl", Dividers: "press the dividers in",
	Reserve: "pour the reserved top", Drizzle: "drizzle over it", Sprinkle: "sprinkle on top", Texture: "texture the top",
}

// Words says the act as a maker would.
func (a Act) Words() string { return actWords[a] }

// Valid reports whether a is one of [Acts].
func (a Act) Valid() bool { return actWords[a] != "" }

// Pours reports whether the act uses up batter of a portion.
func (a Act) Pours() bool { return a == Layer || a == Reserve || a == Drizzle }

// Step is one step of the design. Steps are planned and ticked off, because at
// speed they are forgotten.
type Step struct {
	Do      Act     `json:"do"`
	Portion string  `json:"portion,omitempty"` // of the pouring acts; empty with a single batter
	Percent float64 `json:"percent,omitempty"` // of the portion; 0 for all that is left of it
	Note    string  `json:"note,omitempty"`
}

// Words says the step in a line.
func (s Step) Words() string {
	out := s.Do.Words()
	if s.Portion != "" {
		out += " “" + s.Portion + "”"
	}
	if s.Percent > 0 && s.Percent < 100 && s.Do.Pours() {
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
	if f.Scent == nil && len(f.Portions) == 0 {
		return f.Additives
	}
	out := slices.Clone(f.Additives)
	if f.Scent != nil {
		out = append(out, f.Scent.Uses()...)
	}
	for _, p := range f.Portions {
		for _, u := range p.Colorants {
			u.Stage, u.Portion, u.Part = additive.Portion, p.Name, p.Percent/100
			out = append(out, u)
		}
	}
	return out
}

// Poured is what stands in the mold after a pouring step, as a share of the
// whole batter.
type Poured struct {
	Step  Step
	Tone  Tone
	Share float64 // 0 to 1
}

// Pours works out how much of the batter each pouring step takes. Without
// steps the portions are poured in their order.
func (f Formula) Pours() []Poured {
	left := map[string]float64{}
	tones := map[string]Tone{}
	for _, p := range f.Portions {
		left[p.Name], tones[p.Name] = p.Percent, p.Tone
	}
	if len(f.Portions) == 0 {
		left[""] = 100
	}
	whole := func(name string) float64 {
		for _, p := range f.Portions {
			if p.Name == name {
				return p.Percent
			}
		}
		return 100
	}
	var out []Poured
	for _, s := range f.designSteps() {
		if !s.Do.Pours() {
			continue
		}
		take := left[s.Portion]
		if s.Percent > 0 {
			take = min(take, whole(s.Portion)*s.Percent/100)
		}
		left[s.Portion] -= take
		out = append(out, Poured{s, tones[s.Portion], take / 100})
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
	poured := map[string]float64{}
	for i, s := range f.Design {
		at := path("design", i)
		if !s.Do.Valid() {
			p.Add(at+".do", "“%s” is not a step", s.Do)
			continue
		}
		if s.Percent < 0 || s.Percent > 100 {
			p.Add(at+".percent", "pour between 0 and 100 %% of the portion")
		}
		if !s.Do.Pours() {
			continue
		}
		if len(f.Portions) > 0 && !names[strings.ToLower(strings.TrimSpace(s.Portion))] {
			p.Add(at+".portion", "choose which portion is poured")
		}
		if len(f.Portions) == 0 && s.Portion != "" {
			p.Add(at+".portion", "there is no portion “%s”", s.Portion)
		}
		before := poured[s.Portion]
		if before >= 100-1e-9 {
			p.Add(at+".percent", "nothing is left of “%s” for this step", s.Portion)
		} else if before+s.Percent > 100+caution.ShareTolerance {
			p.Add(at+".percent", "only %s %% of “%s” is left for this step", unit.Trim(100-before, 1), s.Portion)
		}
		if s.Percent == 0 {
			poured[s.Portion] = 100
		} else {
			poured[s.Portion] += s.Percent
		}
	}
}

// adviseDesign names what is mixed and never poured.
func (f Formula) adviseDesign() []caution.Caution {
	if len(f.Design) == 0 || len(f.Portions) == 0 {
		return nil
	}
	taken := map[string]float64{}
	for _, p := range f.Pours() {
		taken[p.Step.Portion] += p.Share * 100
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
