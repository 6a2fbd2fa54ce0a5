package run

import (
	"ashshelf/soap/fat"
	"ashshelf/soap/plan"
)

// FirstTime is what somebody who never poured is told at a step, where it is about to matter, and not
// in a block beforehand that nobody remembers; empty where nothing is to be said.
func (o Order) FirstTime(step Step) string {
	key, isFat := step.Item.Key.Fat()
	switch {
	case step.Key == GearKey:
		return "Before the tub of lye is opened: goggles on first, then gloves, the sleeves over their cuffs. Tell somebody in the " +
			"house that you work with lye. Find the ! key now: it says what to do, and whom to call."
	case step.Kind == Weigh && step.Item.Key == plan.StockKey:
		return "The stock burns as lye does, and a drop of it runs under a glove. Pour it low and slowly, and wipe the lip at once."
	case step.Kind == Weigh && step.Item.Key.Alkali():
		return "Into a dry cup of its own. Grains jump and stick: what falls is brushed up dry, then wiped with a wet cloth, gloves on. " +
			"Close the tub before you do anything else; it draws water from the air."
	case step.Kind == LyeIn:
		return "The lye goes into the liquid, a spoon at a time. The other way round it boils up and throws lye at your face. It gets " +
			"hot in seconds and steams: face away, window open, both hands free. On skin: water, at once, for a quarter of an hour."
	case step.Kind == Weigh && isFat && o.separates(key):
		return "Melt its tub whole and stir it through before you weigh any: its fats part as it sets, and a spoon from the top is " +
			"another fat than one from the bottom."
	case step.Kind == Meet:
		return "Raw batter burns like lye: what splashes is wiped and rinsed. The head of the blender is under the surface before it " +
			"runs, and knocked against the bottom first, so that no air is blended in."
	case step.Kind == Scent:
		return "Only scents that are sold for skin, and no more than their maximum. Stir it in by hand, and have the mold beside you."
	case step.Kind == Cover:
		return "It is not soap yet: it is caustic until it was tested. Put it where no child or animal gets at it, with a note on it."
	case step.Key == cleanKey:
		return "Gloves and goggles stay on to the last pot: most burns come at the sink."
	}
	return ""
}

// separates reports whether a fat of the order parts as it sets.
func (o Order) separates(slug string) bool {
	for _, s := range o.Formula.Fats {
		if s.Fat.Key() == slug && (fat.Separates(s.Fat) || fat.SoftButter(s.Fat)) {
			return true
		}
	}
	return false
}
