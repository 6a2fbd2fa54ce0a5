package trouble

import (
	"fmt"

	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

func do(text string) Step { return Step{Text: text} }

func timed(text, name string, minutes float64) Step {
	return Step{text, &run.Timer{Name: name, Minutes: minutes}}
}

func steps(texts ...string) []Step {
	out := make([]Step, len(texts))
	for i, t := range texts {
		out[i] = do(t)
	}
	return out
}

func grams(g float64) string { return unit.Grams(g) + " g" }

// cook is the rescue in the cooker, which everything that is still batter or raw
// soap can take as long as nothing is wrong with what was weighed.
func (b Batch) cook() Way {
	w := Way{Key: "cook", Name: "Cook it", Ends: Ends{Cooked: true, Plain: true},
		Text: "Cooked until it is translucent it is whole soap, plain to look at: sold as seconds. Nothing needs adding if all was weighed."}
	c, ok := b.Cooking()
	if !ok {
		w.Not = "No cooker is noted under pots, jugs and cutters."
		return w
	}
	if b.look().soap.Superfat > mostLeft {
		w.Not = "There is too little lye in it to make soap, however long it cooks: that goes in first."
		return w
	}
	if b.Undissolved() {
		w.Ends.Hold = "there was too little water for the lye; the safety check decides"
	}
	load := "all of it"
	if c.Loads > 1 {
		load = fmt.Sprintf("%d loads of at most %.0f ml", c.Loads, c.ML)
		w.Text += fmt.Sprintf(" The cooker takes %.0f ml with room to climb; this is %.0f ml.", c.ML, b.VolumeML)
	}
	w.Steps = append([]Step{do("Gloves and goggles stay on. Scoop " + load + " into the cooker, lid on, low.")}, c.steps()...)
	w.Steps = append(w.Steps, do("Let it fall below 80 °C, stir in what scent is left over, spoon it into the mold and press it down."))
	return w
}

func (c Cook) steps() []Step {
	return []Step{
		timed(
			fmt.Sprintf(
				"Cook about %.0f minutes, until translucent like wax; stir every %.0f, and whenever it climbs. Never leave it alone.",
				c.Minutes,
				c.Stir,
			),
			"Stir the cook",
			c.Stir,
		),
		do("Take a crumb, cool it, and test it: only soap, no zap. Else cook on."),
	}
}

// mendKey is the way that mends too much lye.
const mendKey = "fat"

// mend is how a lye-heavy batch is put right with fat: in the pot before the lye
// has met the fats, else in the cooker.
func (b Batch) mend() Way {
	w := Way{
		Key:   mendKey,
		Name:  "Add fat and cook",
		Mends: true,
		Ends:  Ends{Cooked: true, Plain: true, Hold: "it was lye-heavy; the safety check decides"},
	}
	open := b.Moment() == run.NotMixed || b.Moment() == run.Mixed
	if open {
		w.Name, w.Ends = "Add fat", Ends{}
	}
	if !b.Heavy() {
		w.Not = "What was weighed is not lye-heavy."
		return w
	}
	j := b.look().soap
	if rows := run.Rows(j.Missing); rows != "" {
		w.Text = "First what is missing: " + rows + ". "
	}
	if rows := run.Rows(j.Blend); rows != "" {
		sum := 0.0
		for _, r := range j.Blend {
			sum += r.Grams
		}
		w.Text += fmt.Sprintf("%s more of the blend: %s. ", grams(sum), rows)
	}
	w.Text += "That brings the superfat back to " + unit.Trim(j.Planned, 1) + " %."
	all := run.Rows(j.AddFats())
	if open {
		w.Text += " The lye has not met the fats: nothing is lost."
		w.Steps = steps(
			"Weigh in "+all+", melted where it is solid; what was not on the sheet is written down as “added something”.",
			"Look at the superfat again before the lye goes in.",
		)
		return w
	}
	c, ok := b.Cooking()
	if !ok {
		c = Cook{1, b.VolumeML, cookMinutes, cookStir}
		w.Text = "No cooker is noted; use a steel pot with a lid, three quarters full at most. " + w.Text
	}
	w.Steps = append(
		[]Step{
			do("Gloves and goggles. Grate or scoop it into the cooker."),
			do("Weigh in " + all + ", and write it down as “added something”."),
		},
		c.steps()...)
	w.Steps = append(w.Steps, do("Mold it. It stays held until its check is good and somebody lifts the hold."))
	return w
}

// leaveOver adds to the ways of a paste with lye left over on purpose what becomes of it in the end.
func (b Batch) leaveOver(ways []Way) []Way {
	for i := range ways {
		if e := &ways[i].Ends; ways[i].Not == "" && e.Hold == "" && !e.GiveUp {
			e.Hold = "lye is left over on purpose and not neutralised yet; the safety check decides"
		}
	}
	acid := b.look().citric
	return append(ways, Way{
		Key: "neutralise", Name: "Thin it and neutralise it", Ends: Ends{Hold: "it was neutralised; the safety check decides"},
		Text: "Lye is left over in it on purpose: it burns until it is taken up. That is done when the paste is soap, in water.",
		Steps: append(steps("Goggles and gloves. Thin the paste, or a weighed part of it, with hot water until no lump is left."),
			do(fmt.Sprintf("Dissolve %s of citric acid in %s of water for all of the paste, or the same part of both for a part.",
				grams(acid), grams(recipe.AcidDilution*acid))),
			do("Stir it in a spoon at a time, and wait a minute after each: it clouds and clears again."),
			do("Stop when a sample reads pH 9 to 10.5, whatever is left of the acid; more than that curdles it."),
			do("Write the reading down as its safety check.")),
	})
}

// lye is how lye that is missing is given to a batch, which is never dry: words say
// the solution, such as "12 g of NaOH in 24 g of water".
func (b Batch) lye(key, words string) Way {
	w := Way{Key: key, Name: "Add the lye that is missing"}
	mix := "Goggles and gloves on. Into a second jug: " + words + ". Lye into water, never water into lye."
	switch b.Moment() {
	case run.NotMixed:
		w.Text = "None of the lye is in the liquid yet: nothing is lost."
		w.Steps = steps("Weigh it into the dry cup with the rest of the lye, before any of it goes into the liquid.")
	case run.Mixed:
		w.Text = "As a solution of its own: " + words + ". Dry lye into lye that is hot boils up."
		w.Steps = steps(mix, "Let it cool as far as the other jug.", "Pour both into the fats, one after the other.")
	case run.Combined:
		w.Text = "As a solution of its own: " + words + ". Dry lye never goes into batter: it burns in it and leaves pockets."
		w.Ends.Hold = "lye was added late; the safety check decides"
		w.Steps = steps(
			mix,
			"Let it cool until it is no warmer than the batter.",
			"Stir it in by hand in a thin stream, then blend well.",
			"It stays held until its check is good and somebody lifts the hold.",
		)
	default:
		w.Name = "Scoop it out and cook it with the lye that is missing"
		w.Text = "As a solution of its own: " + words + ", in the cooker; never dry, and never poured into the mold."
		w.Ends = Ends{Cooked: true, Plain: true, Hold: "lye was added late; the safety check decides"}
		c, ok := b.Cooking()
		if !ok {
			w.Not = "No cooker is noted under pots, jugs and cutters."
			return w
		}
		w.Steps = append(
			append(
				[]Step{
					do(mix),
					do("Scoop or grate the soap into the cooker, lid on, low."),
					do("When it melts, stir the cooled solution in by hand in a thin stream."),
				},
				c.steps()...),
			do("Mold it. It stays held until its check is good and somebody lifts the hold."),
		)
	}
	return w
}

// rebatch melts soap that has set already.
func (b Batch) rebatch() Way {
	w := Way{Key: "rebatch", Name: "Grate it and melt it again", Ends: Ends{Cooked: true, Plain: true},
		Text: fmt.Sprintf(
			"%s of warm water go with %s of grated soap: what it has lost since the pour, and a twentieth for the steam.",
			grams(b.RebatchLiquid()),
			grams(b.SoapG),
		)}
	c, ok := b.Cooking()
	if !ok {
		w.Not = "No cooker is noted under pots, jugs and cutters."
		return w
	}
	w.Steps = append(
		[]Step{do("Grate it, with gloves on."), do("Stir in " + grams(b.RebatchLiquid()) + " of warm water, lid on, low.")},
		c.steps()...)
	w.Steps = append(w.Steps, do("Spoon it into the mold and press it down."))
	return w
}

// lost ends a lot that nothing mends.
func lost(why string) Way {
	return Way{Key: "lost", Name: "It cannot be rescued", Text: why, Ends: Ends{GiveUp: true},
		Steps: steps(
			"Leave it, labelled and out of reach, until it has set and cooled.",
			"Dispose of it as your local rules say for caustic waste; never down a drain in one go.",
		)}
}

// hold keeps it back until somebody has looked.
func hold(why, text string) Way {
	return Way{Key: "hold", Name: "Hold it and test it", Text: text, Ends: Ends{Hold: why},
		Steps: steps(
			"Mark it so that nobody takes it.",
			"Test three bars from different places, with a strip or the tongue's tip, and note it as the safety check.",
			"If it passes, somebody lifts the hold with a reason.",
		)}
}

// goOn is the way that changes nothing.
func goOn(name, text string) Way {
	return Way{Key: "go-on", Name: name, Text: text, Steps: steps(text)}
}

func looksOnly(name, next string) func(Batch) []Way {
	return func(Batch) []Way { return []Way{{Key: "go-on", Name: name, Text: next}, plainBars()} }
}

func plainBars() Way {
	return Way{
		Key:  "plain",
		Name: "Sell them as plain ones",
		Text: "Sound, but not pretty: seconds are a line of their own and sell well.",
		Ends: Ends{Plain: true},
	}
}

func spillWays(Batch) []Way {
	return []Way{
		{
			Key:   "first-aid",
			Name:  "First aid, now",
			Mends: true,
			Text: "Skin or eyes: clothes off, lenses out, running water for at least 15 minutes, then medical help. Swallowed: rinse " +
				"the mouth, no vomiting, call at once.",
			Steps: []Step{
				timed("Rinse with running water, 15 minutes by the clock.", "Rinse", 15),
				do("Call emergency or poison services and follow their words."),
				do(
					"When everybody is safe: gloves and goggles on, keep people out, take the spill up with plenty of water and cloths.",
				),
				do("Look whether lye is missing in the pot; if so, weigh what is left or give the batch up."),
			},
		},
		lost("When nobody knows how much lye is left in the pot, nobody knows what soap it makes."),
	}
}

func seizedWays(b Batch) []Way {
	return []Way{
		b.cook(),
		{
			Key:   "press",
			Name:  "Spoon it into the mold",
			Text:  "While it still gives, packed down hard and tapped; full of holes, but soap.",
			Ends:  Ends{Plain: true},
			Steps: steps("Spoon and press it in, tapping out the air.", "Insulate it: it gels as it stands."),
		},
	}
}

func ricingWays(b Batch) []Way {
	return []Way{
		{
			Key:   "blend",
			Name:  "Blend it through",
			Text:  "Most ricing goes when the blender runs on; it thickens quickly then.",
			Steps: steps("Blend through until it is smooth.", "Pour at once."),
		},
		b.cook(),
	}
}

func falseTraceWays(b Batch) []Way {
	return []Way{
		{
			Key:  "warm",
			Name: "Warm it",
			Text: "Until the hard fats melt again it thins; then blend to a true trace.",
			Steps: []Step{
				timed("Stand the pot in hot water and stir, a few minutes.", "Warming", 5),
				do("Blend on until a true trace holds when it is warm."),
			},
		},
		b.cook(),
	}
}

func separationWays(b Batch) []Way {
	out := []Way{
		{
			Key:  "blend",
			Name: "Blend it together again",
			Text: "In the pot, or scooped back out of the mold while it is soft.",
			Steps: steps(
				"Check the weights against the sheet first.",
				"Warm it a little and blend until no oil stands on it.",
				"Pour, and look again after an hour.",
			),
		},
	}
	if b.At == InMold {
		out[0].Ends = Ends{Plain: true, Hold: "it had parted in the mold; test top and bottom"}
	}
	return append(out, b.cook(), b.mend())
}

func overheatingWays(Batch) []Way {
	return []Way{
		{
			Key:  "cool",
			Name: "Cool it",
			Text: "Uncovered, moving air, off the wood; a loaf that climbs stands in a tray.",
			Steps: []Step{
				do("Uncover it and set it on a rack in moving air."),
				timed("Look again in a quarter of an hour.", "Look at the loaf", 15),
			},
		},
		plainBars(),
	}
}

func wrongWays(b Batch) []Way {
	return []Way{
		{
			Key:  "reckon",
			Name: "Work it out again",
			Text: "Write what really went in as “added something” and correct the weight of what did not: the superfat then says what it is.",
			Ends: Ends{Hold: "the wrong thing went in; it is worked out again first"},
			Steps: steps(
				"Write down what went in, with its weight.",
				"Correct the weight of what did not.",
				"Look at the superfat and at the ways for too much lye.",
			),
		},
		b.mend(),
		lost("When nobody knows what went in, nobody can say that it is safe."),
	}
}

func tooMuchLyeWays(b Batch) []Way {
	return []Way{
		b.mend(),
		lost("More than a few points over, and with a long list of other things in it, it is cheaper to begin anew."),
	}
}

// leastShort is how many points above its plan a superfat must be before it is
// called too little lye.
const leastShort = 2.0

func tooLittleLyeWays(b Batch) []Way {
	j := b.look().soap
	add := b.lye("lye", j.Lye.Words())
	if j.Superfat-j.Planned < leastShort {
		add.Text, add.Steps = "", nil
		add.Not = fmt.Sprintf("What was weighed comes to a superfat of %s %%, as planned.", unit.Trim(j.Superfat, 1))
	}
	return []Way{add, b.goOnWithout(), hold("it may be short of lye", "When in doubt, nobody gets a bar before it is tested.")}
}

func undissolvedWays(b Batch) []Way {
	out := []Way{b.cook()}
	out[0].Ends.Hold = "undissolved lye was found; the safety check decides"
	if b.At == AsBars {
		out = []Way{hold("white spots that may be lye", "White spots are often only ash or fat; the check tells."), b.rebatch()}
		out[1].Ends.Hold = "undissolved lye was found; the safety check decides"
	}
	return append(out, lost("Pockets of lye that a cook does not take up leave a soap that nobody may touch."))
}

func weepingWays(b Batch) []Way {
	out := []Way{
		goOn("Wipe it and wait", "Drier air, space between bars; look again in a day."),
		hold("it weeps oil", "Oil that comes back asks for the check: top, middle and end."),
	}
	if b.Heavy() {
		out = append(out, b.mend())
	}
	return append(out, b.rebatch())
}

func tooSoftWays(b Batch) []Way {
	return []Way{
		goOn("Wait a day", "Milk, much olive and silicone stay soft for days. Uncover it, or an hour in the cold."),
		hold("it does not set", "A loaf that stays soft for a week asks for its weights and its check."),
		b.rebatch(),
	}
}

func tooHardWays(b Batch) []Way {
	return []Way{
		goOn("Warm it, or saw it", "An hour in a barely warm oven, or a fine saw; next time cut earlier or use dividers."),
		plainBars(),
		b.rebatch(),
	}
}

func spotsWays(Batch) []Way {
	return []Way{
		hold("rancid spots", "Spotted bars are not sold. Look at the others of the lot every week."),
		{
			Key:  "sort",
			Name: "Sort them out",
			Text: "Spotted bars are counted as spoiled; the sound ones are sold soon, with a shorter date.",
			Ends: Ends{Plain: true, Hold: "rancid spots: sorted first"},
			Steps: steps(
				"Take the spotted bars out and move them out as spoiled.",
				"Look up which oil it was, and its delivery: blame it below.",
			),
		},
		lost("Spots in many bars spread to the rest."),
	}
}

func fadedWays(b Batch) []Way {
	return []Way{
		goOn(
			"Sell it as it is",
			"Closed boxes after the cure keep what is left. Next time: more, or a scent that stays, within the supplier's maximum.",
		),
		plainBars(),
		b.rebatch(),
	}
}

func complaintWays(Batch) []Way {
	return []Way{
		{
			Key:  "look-into",
			Name: "Look into it",
			Text: "Hold the lot, take the details down, and test the bar that was kept back. A reaction that does not pass belongs " +
				"before a doctor; your local rules say what must be reported.",
			Ends: Ends{Hold: "a complaint is being looked into"},
			Steps: steps(
				"Note who, which bar (its code), when, what they saw, and what they used before and after.",
				"Ask for the bar back; keep it apart.",
				"Test the reference bar of the lot: zap or pH, looks, smell.",
				"Look at the lot's record and at others from the same deliveries.",
				"Answer the person, and note what was found as the outcome.",
			),
		},
		{
			Key:   "recall",
			Name:  "Call the lot back",
			Text:  "When it may hurt somebody, what has gone out is called back as your local rules say.",
			Ends:  Ends{Hold: "it is called back"},
			Steps: steps("The lot's record lists what went out, where and when.", "Tell each of them; take the bars back as returned."),
		},
	}
}

func otherWays(b Batch) []Way {
	return []Way{
		goOn("Note it and go on", "Write down what was seen; it comes back with the same recipe and materials."),
		hold("something is odd about it", "When in doubt, nobody gets a bar before it is tested."),
		lost("When nobody can say that it is safe."),
	}
}
