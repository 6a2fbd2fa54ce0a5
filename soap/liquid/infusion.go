package liquid

import (
	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// Infusion is a fat of the blend that is infused with a dried herb before it is
// weighed. The herb keeps oil, so more is started with than is needed, and what
// is short after straining is topped up with plain oil.
type Infusion struct {
	Fat      string  // key of the fat in the blend
	Herb     string  // dried
	HerbPct  float64 // of the oil that is started with
	Loss     float64 // g of oil that stay with each g of herb, cloth included
	Overage  float64 // percent started with beyond what the loss takes
	Hours    float64 // of gentle heat, or of standing
	Standing bool    // stands for weeks in place of being heated
}

// Usual figures of an infusion: herb in percent of the oil started with, the
// loss in g of oil per g of herb (it varies: each herb has its own), the overage
// in percent and the hours of low heat.
const (
	UsualHerb    = 10.0
	UsualLoss    = 2.0
	UsualOverage = 5.0
	UsualHours   = 4.0
)

// mostHeated is how long an infusion is kept on low heat, in hours.
const mostHeated = 6.0

// Steep is what an infusion comes to, in grams.
type Steep struct {
	Need  float64 // infused oil that the batch wants
	Start float64 // oil to start with
	Herb  float64 // dried herb
	Yield float64 // oil to expect after straining
}

// For works an infusion out for the grams of oil a batch needs. The herb is a
// share a of the oil S that is started with and keeps L times its weight, so
// S − L·a·S must be the need with its overage.
func (i Infusion) For(need float64) Steep {
	a := i.HerbPct / 100
	start := need * (1 + i.Overage/100) / (1 - i.Loss*a)
	return Steep{Need: need, Start: start, Herb: a * start, Yield: start * (1 - i.Loss*a)}
}

// TopUp is how much plain oil makes strained grams of infused oil up to the
// need; 0 when there is enough.
func (s Steep) TopUp(strained float64) float64 { return max(0, s.Need-strained) }

// Check finds what cannot be worked with; path is where the infusion stands.
func (i Infusion) Check(p *caution.Problems, path string) {
	if i.Herb == "" {
		p.Add(path+".herb", "name the herb")
	}
	if !(i.HerbPct > 0) || i.HerbPct > 60 {
		p.Add(
			path+".herb_percent_of_oil",
			"the herb is %s %% of the oil; it must be more than 0 and at most 60 %%",
			unit.Trim(i.HerbPct, 1),
		)
	}
	if !(i.Loss >= 0) || i.Loss > 10 {
		p.Add(path+".loss_g_per_g", "the loss must lie between 0 and 10 g of oil per g of herb")
	} else if i.Loss*i.HerbPct >= 90 {
		p.Add(path+".loss_g_per_g", "so much herb keeps nearly all the oil: use less herb, or less loss")
	}
	if !(i.Overage >= 0) || i.Overage > 100 {
		p.Add(path+".overage_percent", "the overage must lie between 0 and 100 %%")
	}
	if !(i.Hours >= 0) || i.Hours > 5000 {
		p.Add(path+".hours", "say how many hours it steeps")
	}
}

// Advise gives the cautions of an infusion.
func (i Infusion) Advise() []caution.Caution {
	if i.Standing {
		return []caution.Caution{
			{
				Code:   "infusion.standing",
				Level:  caution.Advice,
				Reason: "A jar of " + i.Herb + " that stands for weeks can grow mold in summer.",
				Remedy: "Use bone-dry herb, keep it under the oil, look at it every few days, and throw away what smells or clouds.",
			},
		}
	}
	out := []caution.Caution{
		{Code: "infusion.heat", Level: caution.Advice, Reason: "Oil and " + i.Herb + " on low heat: hot oil is never left alone.",
			Remedy: "Two to six hours, strain through cloth, weigh, and top up with plain oil to the target."},
	}
	if i.Hours > mostHeated {
		out = append(
			out,
			caution.Caution{
				Code:   "infusion.long",
				Level:  caution.Advice,
				Reason: unit.Trim(i.Hours, 1) + " hours of heat age the oil.",
				Remedy: "Two to six hours are usual.",
			},
		)
	}
	return out
}
