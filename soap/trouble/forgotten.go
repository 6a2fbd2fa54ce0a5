package trouble

import (
	"fmt"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// AddPrefix begins the key of a way that adds what was forgotten; the item follows.
const AddPrefix = "add:"

// mostLeft is the superfat in percent above which what is in the pot does not set
// to soap.
const mostLeft = 30.0

func forgottenWays(b Batch) []Way {
	missing, coming := b.Missing(), b.ToCome()
	if len(missing) == 0 {
		text := "Everything of the sheet is in."
		if names := namesOf(coming); names != "" {
			text = "Nothing is forgotten so far. Still to come in its turn: " + names + "."
		}
		return []Way{{Key: "to-come", Name: "Go on with the sheet", Text: text, Mends: true}}
	}
	var out []Way
	for _, m := range missing {
		out = append(out, b.bring(m))
	}
	if b.Heavy() {
		out = append(out, b.mend())
	}
	if out = append(out, b.goOnWithout()); b.Moment() == run.Combined || b.Moment() == run.Molded {
		out = append(out, b.cook())
	}
	return out
}

func namesOf(list []Missing) string {
	names := make([]string, len(list))
	for i, m := range list {
		names[i] = m.Name
	}
	return strings.Join(names, ", ")
}

// goOnWithout leaves out what is missing, where what comes of it is soap.
func (b Batch) goOnWithout() Way {
	j := b.look().soap
	left := unit.Trim(j.Superfat, 1)
	w := goOn("Go on without", "What is missing is only missed. Say so at the pour and on the label.")
	closed := func(why string) Way { return Way{Key: w.Key, Name: w.Name, Not: why} }
	switch {
	case j.Superfat > mostLeft:
		return closed(
			fmt.Sprintf("With a superfat of %s %% it stays oil and does not set: the lye that is missing goes in first.", left),
		)
	case b.Undissolved():
		return closed("There is too little water for the lye: some of it is not dissolved, and its grains burn.")
	case j.Superfat > j.Planned+leastShort:
		w.Text = fmt.Sprintf(
			"It comes to a superfat of %s %% instead of %s %%: a softer bar that keeps less long. Say so at the pour and on the label.",
			left,
			unit.Trim(j.Planned, 1),
		)
		w.Steps = steps(w.Text)
	}
	return w
}

// bring is how something that was forgotten is brought in after all, as far as that
// can be done: it follows from what it is, how far the pot has come, and the
// superfat that results.
func (b Batch) bring(m Missing) Way {
	w := Way{Key: AddPrefix + string(m.Key), Name: "Add " + m.Name}
	g, moment := grams(m.Short), b.Moment()
	w.Mends = moment != run.Molded // it goes on being made, and is judged at the pour
	write := "Write the weight down at its step."
	how := func(text string, todo ...string) { w.Text, w.Steps = text, steps(append(todo, write)...) }
	switch m.Thing {
	case run.AnAlkali:
		lye := run.Solution{NaOH: m.Short}
		if m.Key == plan.KOHKey {
			lye = run.Solution{KOH: m.Short}
		}
		to := b.lye(w.Key, lye.Words())
		to.Name, to.Steps = w.Name, append(to.Steps, do(write))
		to.Text = fmt.Sprintf("%s are missing; without it the superfat is %s %%. %s", g, unit.Trim(b.look().soap.Superfat, 1), to.Text)
		return to
	case run.AStock:
		switch moment {
		case run.NotMixed, run.Mixed:
			how(
				g+" of the stock are missing. It is a solution already.",
				"Goggles and gloves on. Draw "+g+" of the stock into a cup of its own.",
				"Pour it slowly into the jug with the liquid, stirring, with your face away from it.",
			)
		case run.Combined:
			how(
				g+" of the stock are missing. It is a solution already; it goes in cool.",
				"Goggles and gloves on. Draw "+g+" of the stock into a cup of its own.",
				"Stir it into the batter by hand in a thin stream, then blend well.",
			)
			w.Ends.Hold = "lye was added late; the safety check decides"
		default:
			return b.lye(w.Key, b.look().soap.Lye.Words())
		}
	case run.AFat:
		switch moment {
		case run.NotMixed, run.Mixed:
			how(
				g+" are missing. The lye has not met the fats: nothing is lost.",
				"Weigh "+g+" of it in with the other fats, melted where it is solid.",
			)
		case run.Combined:
			how(
				fmt.Sprintf("%s are missing. Without them the superfat is %s %%.", g, unit.Trim(b.look().soap.Superfat, 1)),
				"Goggles and gloves stay on. Weigh "+g+" of it and warm it to the batter's temperature.",
				"Stir it in by hand in a thin stream, then blend until no oil stands on it. If the batter is too thick for that, cook it.",
			)
			if b.Heavy() {
				w.Ends.Hold = "a fat came in late; the safety check decides"
			}
		default:
			return b.inTheMold(w, m, "")
		}
	case run.ALiquid:
		switch moment {
		case run.NotMixed:
			how(g+" are missing from the jug. The lye is not in yet.", "Weigh "+g+" of it into the jug now, before the lye.")
		case run.Mixed:
			how(
				g+" are missing. The lye is in already: nothing is poured onto it, which boils up and spits.",
				"Goggles and gloves on. Weigh "+g+" of it, cold, into a second jug that holds all of it.",
				"Wait until the lye reads 40 °C or less, then pour the lye slowly into the second jug, stirring.",
			)
		case run.Combined:
			how(
				g+" are missing: thicker and quicker, but it is in the fats already. Warm, and in thirds, so that it does not split.",
				"Warm "+g+" of it to the batter's temperature.",
				"Stir it in by hand in three parts, blending each in before the next.",
			)
			if b.Undissolved() {
				w.Ends.Hold = "there was too little water for the lye; the safety check decides"
			}
		default:
			return b.inTheMold(w, m, "Liquid no longer mixes with it. With less of it the soap is firm sooner.")
		}
	case run.OffTheLye:
		switch moment {
		case run.NotMixed, run.Mixed:
			how(g+" are missing; it goes into the fats, never onto hot lye.", "Stir "+g+" of it into the fats, at their temperature.")
		case run.Combined:
			how(
				g+" are missing. Warm, and in thirds, so that it does not split.",
				"Warm "+g+" of it to the batter's temperature, no more.",
				"Stir it in by hand in three parts, blending each in before the next.",
			)
		default:
			return b.inTheMold(w, m, "Liquid no longer mixes with it. With less of it the soap is firm sooner.")
		}
	case run.BeforeLye:
		known, _ := additive.Find(m.Name)
		switch {
		case moment == run.NotMixed:
			how(
				g+" are missing; it dissolves before the lye, not after.",
				"Stir "+g+" of it into the liquid until it is clear, before the lye.",
			)
		case b.acid(m.Item):
			w.Not = "It is an acid: in lye or raw batter it boils up and takes lye where it falls. It stays out; the superfat without it is " +
				unit.Trim(
					b.look().soap.Superfat,
					1,
				) + " %."
		case moment == run.Molded:
			return b.inTheMold(w, m, "")
		case known.Dissolves >= 100:
			how(
				g+" are missing. It no longer dissolves in lye, where it browns and boils up, but in its own weight of hot water.",
				"Dissolve "+g+" of it in "+g+" of hot water, away from the lye.",
				"Stir that into the batter at trace, by hand.",
			)
		default:
			w.Not = "It no longer dissolves once the lye is in. It stays out."
		}
	case run.IntoLye:
		switch moment {
		case run.NotMixed, run.Mixed:
			how(
				g+" are missing; it goes into the lye while that is warm.",
				"Goggles and gloves on. Stir "+g+" of it into the lye, a little at a time.",
			)
		default:
			w.Not = "It belongs into the warm lye, which is gone. It stays out; the soap is none the worse."
		}
	case run.IntoFats:
		switch moment {
		case run.NotMixed, run.Mixed:
			how(g+" are missing; it goes into the fats.", "Stir "+g+" of it into the fats until no lump is left.")
		case run.Combined:
			how(
				g+" are missing. It thickens the batter.",
				"Stir "+g+" of it smooth with a few spoons of the batter, gloves on, then into the rest by hand.",
			)
		default:
			return b.inTheMold(w, m, "")
		}
	case run.OnTop:
		how(g+" go on top while it is soft.", "Sprinkle "+g+" of it on the top and press it in lightly, gloves on.")
	case run.AScent:
		if moment == run.Molded {
			return b.inTheMold(
				w,
				m,
				"Scent poured over or pricked in burns skin and runs out. Unscented it is soap all the same: say so on its label; or "+
					"cook it, and stir the scent in at the end.",
			)
		}
		how(g+" of the scent are missing.", "Stir "+g+" of it in at trace, by hand, last of all, and watch it.")
	default:
		if moment == run.Molded {
			return b.inTheMold(w, m, "")
		}
		how(g+" are missing.", "Stir "+g+" of it in at trace, by hand.")
	}
	return w
}

// inTheMold closes a way for what no longer goes into a filled mold.
func (b Batch) inTheMold(w Way, m Missing, why string) Way {
	w.Text = grams(m.Short) + " of it are missing."
	w.Not = strings.TrimSpace("It is in the mold: nothing is stirred into it there. " + why)
	if m.Thing == run.AFat && b.Heavy() {
		w.Not += " It is lye-heavy without it: scooped out, it is mended in the cooker."
	}
	return w
}

// acid reports whether an item takes up lye.
func (b Batch) acid(i plan.Item) bool {
	for _, u := range b.Request.Formula.Uses() {
		if plan.AdditiveKey(u) == i.Key {
			return u.Lye > 0
		}
	}
	return false
}
