// Package trouble is what to do when soap misbehaves.
//
// Batter seizes, loaves crack, bars sweat; sooner or later somebody asks about a
// bar sold last year. Each kind of trouble is a card: what it is, whether the
// soap is safe, and the usual ways out with the amounts for this very batch. A
// way is a row of steps, some with a timer, and says what becomes of the lot:
// whether it is cooked soap from then on, whether its bars are sold as plain
// ones, whether it is held. What happened, what was blamed and how it came out
// is kept with everything that may have been the cause, and comes back when that
// is used again.
package trouble

import (
	"fmt"
	"slices"

	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// Kind is a kind of trouble.
type Kind string

// The kinds, in the order in which they can come.
const (
	Spill       Kind = "spill"
	Seized      Kind = "seized"
	Ricing      Kind = "ricing"
	FalseTrace  Kind = "false-trace"
	Separation  Kind = "separation"
	Overheating Kind = "overheating"
	Forgotten   Kind = "forgotten"
	Wrong       Kind = "wrong"
	TooMuchLye  Kind = "lye-heavy"
	TooLittle   Kind = "lye-short"
	Undissolved Kind = "undissolved"
	PartialGel  Kind = "partial-gel"
	Ash         Kind = "ash"
	Rivers      Kind = "rivers"
	Bubbles     Kind = "bubbles"
	Weeping     Kind = "weeping"
	TooSoft     Kind = "too-soft"
	TooHard     Kind = "too-hard"
	Spots       Kind = "spots"
	Faded       Kind = "faded"
	Complaint   Kind = "complaint"
	Other       Kind = "other"
)

// Safety is what the trouble means for whoever washes with the soap.
type Safety string

// The safeties.
const (
	Harmless Safety = "harmless" // looks only
	Test     Safety = "test"     // safe once the safety check is good
	Unsafe   Safety = "unsafe"   // held until somebody has shown that it is safe
	Danger   Safety = "danger"   // people first
)

// Words says the safety.
func (s Safety) Words() string {
	switch s {
	case Harmless:
		return "safe: looks only"
	case Test:
		return "safe once its check is good"
	case Unsafe:
		return "not safe as it is"
	}
	return "people first"
}

// At is a time of a lot's life at which a kind of trouble can show.
type At string

// The times.
const (
	InPot  At = "pot"
	InMold At = "mold"
	AsBars At = "bars"
)

// Way is a way out.
type Way struct {
	Key   string
	Name  string
	Text  string // why one would, and the amounts
	Steps []Step
	Ends  Ends
	Not   string // why this batch cannot go this way; empty when it can
	// Mends says that the way puts the lye right, or looks after people first. Any
	// other is closed to a lye-heavy pot unless it holds the lot or gives it up.
	Mends bool
}

// Step is one step of a way out.
type Step struct {
	Text  string
	Timer *run.Timer
}

// Ends is what becomes of the lot when it goes a way.
type Ends struct {
	Cooked bool   // it is cooked soap from now on
	Plain  bool   // its bars are sound but plain: sold as seconds
	Hold   string // why it is held; empty when the way holds nothing
	GiveUp bool   // it cannot be rescued
}

// Card is a kind of trouble with its ways out.
type Card struct {
	Kind   Kind
	Name   string
	What   string
	Safety Safety
	Why    string // of the safety
	At     []At
	Ways   []Way
}

// HoldsAtOnce reports whether a lot with this trouble is held before anything
// else is known.
func (c Card) HoldsAtOnce() bool { return c.Safety == Unsafe }

// entry is a card without the batch that it is drawn up for.
type entry struct {
	kind   Kind
	name   string
	what   string
	safety Safety
	why    string
	at     []At
	ways   func(Batch) []Way
}

var entries = []entry{
	{
		Spill,
		"Lye or batter on somebody, or spilled",
		"Lye eats skin, eyes and clothes; raw batter does too, more slowly.",
		Danger,
		"first the person, then the floor, the soap last",
		[]At{InPot, InMold},
		spillWays,
	},
	{
		Seized,
		"Seized",
		"All of a sudden the batter is a lump that no blender turns: an accelerating scent, too hot, or too strong lye.",
		Test,
		"if all was weighed nothing is missing in it",
		[]At{InPot},
		seizedWays,
	},
	{
		Ricing,
		"Ricing",
		"Small hard grains like rice: part of the scent or a hard fat has bound before the rest.",
		Test,
		"blended smooth it is ordinary soap",
		[]At{InPot},
		ricingWays,
	},
	{
		FalseTrace,
		"False trace",
		"It looks thick and is not soap yet: a hard fat has set again because the batter is too cool.",
		Unsafe,
		"poured like this the fats part from the lye",
		[]At{InPot},
		falseTraceWays,
	},
	{
		Separation,
		"Separating",
		"Oil stands on top or runs out at the bottom: it was poured before it was emulsified, or something was weighed wrong.",
		Unsafe,
		"where the oil is missing there is too much lye",
		[]At{InPot, InMold},
		separationWays,
	},
	{
		Overheating,
		"Too hot: cracks, a volcano",
		"Sugar, milk, honey or a warm room drive the gel until the loaf cracks or climbs.",
		Test,
		"the soap is the same; cracks and holes are looks",
		[]At{InMold},
		overheatingWays,
	},
	{
		Forgotten,
		"Something was forgotten",
		"It is at hand and should be in the pot.",
		Test,
		"a missing fat leaves lye over; a missing scent is only missed",
		[]At{InPot, InMold},
		forgottenWays,
	},
	{
		Wrong,
		"The wrong thing went in",
		"Another fat, another bottle, the wrong cup.",
		Unsafe,
		"until its lye is worked out again nobody knows what it is",
		[]At{InPot, InMold},
		wrongWays,
	},
	{
		TooMuchLye,
		"Too much lye",
		"More lye, or less fat, than the recipe has.",
		Unsafe,
		"it burns skin",
		[]At{InPot, InMold, AsBars},
		tooMuchLyeWays,
	},
	{
		TooLittle,
		"Too little lye",
		"Less lye, or more fat, than the recipe has.",
		Test,
		"soft and greasy, not caustic; lye that is added late asks for the check",
		[]At{InPot, InMold, AsBars},
		tooLittleLyeWays,
	},
	{
		Undissolved,
		"Undissolved lye, white pockets",
		"Grains or pockets of lye in the batter or the cut face; they zap on the tongue's tip or turn a strip dark.",
		Unsafe,
		"a pocket burns whoever finds it",
		[]At{InPot, InMold, AsBars},
		undissolvedWays,
	},
	{
		PartialGel,
		"A ring of partial gel",
		"A darker middle with a paler rim: only the middle was warm enough.",
		Harmless,
		"it is a matter of looks",
		[]At{InMold, AsBars},
		looksOnly("Leave it", "Cover the mold, or chill it, so that all of it gels or none."),
	},
	{
		Ash,
		"Soda ash",
		"A white bloom on the top: raw soap that met the air.",
		Harmless,
		"it washes off",
		[]At{InMold, AsBars},
		looksOnly("Steam or rinse it off, or leave it", "Next time: thicker trace, less water, a cover, alcohol on the top."),
	},
	{
		Rivers,
		"Glycerin rivers",
		"Clear veins through the soap: much water and much heat.",
		Harmless,
		"it is a matter of looks",
		[]At{InMold, AsBars},
		looksOnly("Leave them", "Next time: less water, or cooler."),
	},
	{
		Bubbles,
		"Air bubbles",
		"Small holes in the cut face: air was blended in or trapped by a thick pour.",
		Harmless,
		"it is a matter of looks",
		[]At{InMold, AsBars},
		looksOnly("Leave them, or plane the face", "Next time: blend with the bell under the surface, tap the mold."),
	},
	{
		Weeping,
		"Drops on the bars",
		"Drops of oil or of clear liquid. Glycerin draws water from damp air; oil that stays means that something is off.",
		Test,
		"wipe it and look again in a day: water is harmless, oil asks for the check",
		[]At{InMold, AsBars},
		weepingWays,
	},
	{
		TooSoft,
		"Too soft to cut",
		"It bends, or the wire drags.",
		Test,
		"often only young; if it never sets, something was weighed wrong",
		[]At{InMold},
		tooSoftWays,
	},
	{
		TooHard,
		"Too hard to cut",
		"It cracks or breaks the wire: olive and salt go quickly.",
		Harmless,
		"it is a matter of time",
		[]At{InMold},
		tooHardWays,
	},
	{
		Spots,
		"Orange spots",
		"The soap turns rancid in spots: oils that spoil easily, old oil, metal, damp.",
		Unsafe,
		"it may irritate, and it smells",
		[]At{AsBars},
		spotsWays,
	},
	{
		Faded,
		"The scent has faded",
		"There is little left of it after the cure.",
		Harmless,
		"only the nose misses it",
		[]At{AsBars},
		fadedWays,
	},
	{
		Complaint,
		"A complaint or a skin reaction",
		"Somebody bought or was given a bar and is not well, or is not content.",
		Unsafe,
		"nothing more goes out until it is looked into",
		[]At{AsBars},
		complaintWays,
	},
	{Other, "Something else", "What has no card of its own.", Test, "hold it when in doubt", []At{InPot, InMold, AsBars}, otherWays},
}

// Kinds returns all kinds.
func Kinds() []Kind {
	out := make([]Kind, len(entries))
	for i, e := range entries {
		out[i] = e.kind
	}
	return out
}

// Name says the kind, and is empty for what is none.
func (k Kind) Name() string {
	for _, e := range entries {
		if e.kind == k {
			return e.name
		}
	}
	return ""
}

// Valid reports whether k is one of [Kinds].
func (k Kind) Valid() bool { return slices.Contains(Kinds(), k) }

// Cards returns the cards for a batch, those of the time of its life.
func Cards(b Batch) []Card {
	b.known = b.look()
	var out []Card
	for _, e := range entries {
		if slices.Contains(e.at, b.At) {
			out = append(out, e.card(b))
		}
	}
	return out
}

// CardOf returns one card; ok is false where there is none of that kind.
func CardOf(k Kind, b Batch) (c Card, ok bool) {
	b.known = b.look()
	for _, e := range entries {
		if e.kind == k {
			return e.card(b), true
		}
	}
	return Card{}, false
}

func (e entry) card(b Batch) Card {
	return Card{Kind: e.kind, Name: e.name, What: e.what, Safety: e.safety, Why: e.why, At: e.at, Ways: b.judge(e.ways(b))}
}

// judge asks one question of the pot before any way leads to soap that is washed
// with: is there too much lye in it? If there is, only what mends that, holds the
// lot or gives it up stays open, and a way that mends is there. Lye that was left over on purpose
// closes no way, but none of them leads past its neutralising.
func (b Batch) judge(ways []Way) []Way {
	if b.Excess() {
		ways = b.leaveOver(ways)
	}
	if !b.Heavy() {
		return ways
	}
	mended := false
	for i := range ways {
		w := &ways[i]
		mended = mended || w.Key == mendKey
		if w.Not == "" && !w.Mends && w.Ends.Hold == "" && !w.Ends.GiveUp {
			w.Text, w.Steps = "", nil
			w.Not = fmt.Sprintf(
				"It is lye-heavy, with a superfat of %s %%: that is put right first.",
				unit.Trim(b.look().soap.Superfat, 1),
			)
		}
	}
	if !mended {
		ways = append(ways, b.mend())
	}
	return ways
}

// Way finds a way out of a card.
func (c Card) Way(key string) (Way, bool) {
	for _, w := range c.Ways {
		if w.Key == key {
			return w, true
		}
	}
	return Way{}, false
}
