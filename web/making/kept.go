package making

import (
	"ashshelf/web/page"
)

// keptWords say of each act on a lot that it is on record.
var keptWords = map[string]string{
	"weigh": "Written down.", "back": "Taken back out.", "tick": "Done.", "temp": "Temperature noted.", "extra": "Written down: it went in.",
	"rescale": "The rest is rescaled.", "takeover": "You write here now.", "pour": "The pour is on record.", "paper": "Filled in from paper.",
	"photo": "The photo is kept.", "giveup": "The lot is abandoned.",
	"unmold": "It is out of the mold.", "cut": "Counted in.", "sample": "The weighing is on record.", "check": "The check is on record.",
	"note": "Noted.", "next": "Kept for next time.", "hold": "The lot is on hold.", "lift": "The hold is lifted.",
	"release": "The lot is released.", "move": "The bars are moved out.", "place": "It has its place.", "care": "Done.",
	"wash": "Noted how it washes.", "mark": "The mark is changed.", "kept": "The reference bar is kept.",
	"reshape": "The pieces are on record.",
	"carry":   "Written down: it went in.", "retime": "The time is put right.",
	"trouble": "The trouble is on record.", "way": "Chosen.", "rescue": "Done.", "outcome": "Written down.", "blame": "Changed.",
}

// keptOf is what the next page says of an act. A tick is taken back by a tick that says so; what was
// weighed, judged or sold is corrected where it stands, with a reason.
func keptOf(oid, act string, f *page.Form) page.Kept {
	k := page.Kept{Said: keptWords[act]}
	if k.Said == "" {
		k.Said = "Kept."
	}
	if act != "tick" {
		return k
	}
	if f.Get("undo") == "on" {
		k.Said = "Taken back: it is still to do."
		return k
	}
	k.Undo = &page.Undo{Path: "/lots/" + oid + "/tick", Fields: map[string]string{"step": f.Get("step"), "undo": "on"}}
	return k
}
