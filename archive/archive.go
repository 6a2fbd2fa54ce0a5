// Package archive is how what the shop froze is written: what a lot was made from,
// revisions of recipes, molds, equipment, racks and scents, kept plans, containers.
//
// A lot that was made ten years ago must be read as it was made, by a program that
// has changed since. So what is written has types of its own here, which nothing
// else uses and which change only on purpose, with the version that is written
// beside them. What an older program wrote is never rewritten: it is lifted to the
// newest version when it is read, one tested step for each version.
//
// To change what is written: add the field here, raise the version of its kind, say
// in a step what an older one means, and keep the files of testdata as they are.
package archive

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
)

// ErrNewer says that something was written by a newer program.
var ErrNewer = errors.New("it was written by a newer ashshelf; upgrade the program")

// Head is the version a body was written in; 0 is the first, which did not say.
type Head struct {
	Version int `json:"v,omitempty"`
}

func (h *Head) version() *int { return &h.Version }

// steps lift a body from version to version; the first from 1 to 2.
type steps []func()

// Body is anything that is written so.
type Body interface {
	version() *int
	steps() steps
}

// Newest is the version that a kind of body is written in.
func Newest[T any, P interface {
	*T
	Body
}]() int {
	return len(P(new(T)).steps()) + 1
}

// Write writes a body in its newest version.
func Write[T any, P interface {
	*T
	Body
}](b T) ([]byte, error) {
	*P(&b).version() = Newest[T, P]()
	text, err := json.Marshal(b)
	if err != nil {
		return nil, fmt.Errorf("write: %w", err)
	}
	return text, nil
}

// Read reads a body of any version and lifts it to the newest. One that a newer
// program wrote is [ErrNewer].
func Read[T any, P interface {
	*T
	Body
}](text []byte) (b T, err error) {
	if err := json.Unmarshal(text, &b); err != nil {
		return b, fmt.Errorf("read: %w", err)
	}
	version, lift := P(&b).version(), P(&b).steps()
	*version = max(*version, 1)
	if *version > len(lift)+1 {
		return b, fmt.Errorf("version %d: %w", *version, ErrNewer)
	}
	for ; *version <= len(lift); *version++ {
		lift[*version-1]()
	}
	return b, nil
}

func (b *Recipe) steps() steps    { return steps{cooked} }
func (b *Mold) steps() steps      { return nil }
func (b *Tool) steps() steps      { return nil }
func (b *Rack) steps() steps      { return nil }
func (b *KeptScent) steps() steps { return nil }
func (b *Container) steps() steps { return nil }
func (b *Lot) steps() steps       { return steps{func() { place(b.Sheet) }, cooked} }
func (b *KeptPlan) steps() steps  { return steps{func() { place(b.Sheet) }, cooked} }
func (b *Rescale) steps() steps   { return steps{func() { place(b.Sheet) }} }
func (b *Rules) steps() steps     { return steps{func() {}} } // a list before, see UnmarshalJSON

// cooked is the step to formulas whose fats may be held back until after the cook, and whose
// paste may be thinned: none was before, and a program that does not know it would weigh wrong.
func cooked() {}

// place says of the sections of a sheet where they go. Until the second version
// that was known from their titles, as they are here.
func place(sheet []Section) {
	titles := map[string]string{
		"Lye jug":                 "jug",
		"Fats to melt":            "melt",
		"Liquid fats":             "fluid",
		"Stirred into the fats":   "stir",
		"Liquid kept off the lye": "off-lye",
	}
	for i := range sheet {
		if sheet[i].Place = titles[sheet[i].Title]; sheet[i].Place == "" {
			sheet[i].Place = "hand"
		}
	}
}

// Rules are what must not stand beside what on the racks.
type Rules struct {
	Head
	Apart []Apart `json:"apart"`
}

// UnmarshalJSON reads rules; the first version was the list alone.
func (b *Rules) UnmarshalJSON(text []byte) error {
	if text = bytes.TrimSpace(text); len(text) > 0 && text[0] == '[' {
		return json.Unmarshal(text, &b.Apart)
	}
	type plain Rules
	return json.Unmarshal(text, (*plain)(b))
}

func (b *Material) steps() steps     { return nil }
func (b *SupplyOrder) steps() steps  { return nil }
func (b *LotCost) steps() steps      { return nil }
func (b *Product) steps() steps      { return nil }
func (b *Sheet) steps() steps        { return nil }
func (b *LabelRules) steps() steps   { return nil }
func (b *Declaration) steps() steps  { return nil }
func (b *Assessment) steps() steps   { return nil }
func (b *PrintedLabel) steps() steps { return nil }
func (b *Market) steps() steps       { return nil }
func (b *TillLines) steps() steps    { return nil }
func (b *MarketHome) steps() steps   { return nil }
func (b *SaleRules) steps() steps    { return nil }
func (b *SaleOrder) steps() steps    { return nil }
func (b *SaleDocument) steps() steps { return nil }
func (b *Bench) steps() steps        { return nil }
