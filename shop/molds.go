package shop

import (
	"context"

	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
	"ashshelf/store"
)

// Mold is one revision of a mold, with what the mold has learned since it was
// measured.
type Mold struct {
	store.Revision
	MoldBody
	Pours []store.MoldPour // that it learned from, the newest first
}

// MoldBody is what a revision of a mold says.
type MoldBody struct {
	Mold     mold.Mold
	Material string
	Bars     int      // bars cut from one, where Cut says no thickness
	Cut      mold.Cut // as it is usually cut
	Spare    bool     // takes what is left over
	Retired  bool     // no longer planned with
}

// Usual is the cut the mold is usually given.
func (b MoldBody) Usual() mold.Cut {
	c := b.Cut
	if c.Thickness == 0 && c.Bars == 0 {
		c.Bars = b.Bars
	}
	return c
}

// Cuts is what the usual cut makes of it.
func (b MoldBody) Cuts() mold.Bars { return b.Mold.Cuts(b.Usual()) }

// Material is what a mold is made of; it decides when soap comes out.
type Material struct{ Code, Words string }

// Materials returns the kinds of molds.
func Materials() []Material {
	return []Material{
		{"lined", "wood, lined"},
		{"silicone", "silicone"},
		{"plastic", "plastic, lined"},
		{"cavities", "single cavities"},
		{"jar", "jars"},
	}
}

func isMaterial(code string) bool {
	for _, m := range Materials() {
		if m.Code == code {
			return true
		}
	}
	return false
}

func asMold(r store.Revision) (Mold, error) {
	body, err := decode("mold "+r.Name, readMold, r.Body)
	return Mold{Revision: r, MoldBody: body}, err
}

// remembered is how many of a mold's pours are shown.
const remembered = 10

// readMolds reads revisions of molds with what each has learned.
func (cat *Catalog) readMolds(ctx context.Context, read func(*store.Tx) ([]store.Revision, error)) (out []Mold, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) error {
		revs, err := read(tx)
		if err != nil {
			return err
		}
		if out, err = list(revs, asMold); err != nil {
			return err
		}
		pours := map[string][]store.MoldPour{}
		for i, m := range out {
			if _, ok := pours[m.OID]; !ok {
				if pours[m.OID], err = tx.MoldPours(m.OID, remembered); err != nil {
					return err
				}
			}
			out[i].learn(pours[m.OID])
		}
		return nil
	})
	return out, err
}

// learn lets the mold take its pours in, the newest first, back to where it was
// told to forget.
func (m *Mold) learn(pours []store.MoldPour) {
	var said []mold.Pour
	for _, p := range pours {
		if p.Forgotten {
			break
		}
		m.Pours = append(m.Pours, p)
		said = append([]mold.Pour{{Correction: p.Correction, Off: p.OffMM, Left: p.LeftShare}}, said...)
	}
	if c, _ := mold.Learn(said, m.Mold.Fill); c != 1 {
		m.Mold.Correction = c
	}
}

// Molds returns the newest revision of every mold, by name.
func (cat *Catalog) Molds(ctx context.Context) ([]Mold, error) {
	return cat.readMolds(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Molds) })
}

// MoldHistory returns all revisions of a mold, newest first.
func (cat *Catalog) MoldHistory(ctx context.Context, oid string) ([]Mold, error) {
	return cat.readMolds(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Molds, oid) })
}

// CheckMold finds what cannot be worked with in a mold.
func CheckMold(name string, body MoldBody) caution.Problems {
	var p caution.Problems
	checkName(&p, name)
	body.Mold.Check(&p, "mold")
	if !isMaterial(body.Material) {
		p.Add("material", "choose what the mold is made of")
	}
	if body.Bars < 0 || body.Bars > 2000 {
		p.Add("bars", "the number of bars must lie between 0 and 2000")
	}
	body.Cut.Check(&p, "cut", body.Mold)
	return p
}

// KeepMold makes a new revision of a mold, or a new mold when base is 0. What
// the mold has learned is not part of its measures.
func (cat *Catalog) KeepMold(ctx context.Context, act Act, oid string, base int, name string, body MoldBody) (string, error) {
	body.Mold.Correction = 0
	if err := CheckMold(name, body).Err(); err != nil {
		return "", err
	}
	return cat.keep(ctx, act, store.Molds, oid, base, name, "", "", body)
}

// ForgetMold starts what a mold learns anew.
func (cat *Catalog) ForgetMold(ctx context.Context, act Act, oid string) error {
	_, err := cat.byPerson(ctx, act, func(c *change) (string, error) {
		if _, err := c.History(store.Molds, oid); err != nil {
			return "", err
		}
		entry, err := c.entry("mold pour")
		if err != nil {
			return "", err
		}
		return oid, c.AddMoldPour(entry, store.MoldPour{Mold: oid, Correction: 1, Forgotten: true})
	})
	return err
}

// ToolKind is what a piece of equipment does.
type ToolKind string

// The kinds.
const (
	Pot    ToolKind = "pot"
	Jug    ToolKind = "jug"
	Cooker ToolKind = "cooker"
	Cutter ToolKind = "cutter"
)

// ToolKinds returns all kinds.
func ToolKinds() []ToolKind { return []ToolKind{Pot, Jug, Cooker, Cutter} }

// Words says the kind.
func (k ToolKind) Words() string {
	switch k {
	case Pot:
		return "pot, to mix in"
	case Jug:
		return "lye jug"
	case Cooker:
		return "cooker, for a rescue"
	}
	return "cutter with set wires"
}

// Tool is one revision of a piece of equipment.
type Tool struct {
	store.Revision
	ToolBody
}

// ToolBody is what a revision of a piece of equipment says.
type ToolBody struct {
	Kind    ToolKind
	ML      float64 // to the rim
	Tare    float64 // g, empty
	Spacing float64 // between the wires of a cutter
	Wires   int
	Notes   string
	Retired bool
}

func asTool(r store.Revision) (Tool, error) {
	body, err := decode("equipment "+r.Name, readTool, r.Body)
	return Tool{r, body}, err
}

// Tools returns the newest revision of all equipment, by name.
func (cat *Catalog) Tools(ctx context.Context) ([]Tool, error) {
	return readBook(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Tools) }, asTool)
}

// ToolHistory returns all revisions of a piece of equipment, newest first.
func (cat *Catalog) ToolHistory(ctx context.Context, oid string) ([]Tool, error) {
	return readBook(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Tools, oid) }, asTool)
}

// CheckTool finds what cannot be worked with in a piece of equipment.
func CheckTool(name string, b ToolBody) caution.Problems {
	var p caution.Problems
	checkName(&p, name)
	switch b.Kind {
	case Pot, Jug, Cooker:
		caution.Positive(&p, "ml", "what it holds to the rim", b.ML)
		if b.ML > 1e6 {
			p.Add("ml", "that is more than a cubic metre: check the unit")
		}
	case Cutter:
		caution.Positive(&p, "spacing", "the spacing of the wires", b.Spacing)
		if b.Wires < 1 || b.Wires > 200 {
			p.Add("wires", "a cutter has 1 to 200 wires")
		}
	default:
		p.Add("kind", "choose what it is")
	}
	if b.Tare < 0 || b.Tare > 1e5 {
		p.Add("tare", "an empty vessel weighs between nothing and 100 kg")
	}
	return p
}

// KeepTool makes a new revision of a piece of equipment, or a new one when base
// is 0.
func (cat *Catalog) KeepTool(ctx context.Context, act Act, oid string, base int, name string, body ToolBody) (string, error) {
	if err := CheckTool(name, body).Err(); err != nil {
		return "", err
	}
	return cat.keep(ctx, act, store.Tools, oid, base, name, "", "", body)
}
