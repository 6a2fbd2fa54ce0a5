package recipe

// Form is what soap stands as when it is done. It says what comes out of a mold, what is cut and
// what is counted.
type Form string

// The forms.
const (
	Loaf   Form = "loaf"   // comes out of its mold and is cut into bars
	Pieces Form = "pieces" // comes out of cavities, or from between dividers, as the bars it is
	Jars   Form = "jars"   // stays in its jar
	Paste  Form = "paste"  // of potash alone: it is scooped, or thinned to liquid soap
)

// Materials of molds that rules speak of.
const (
	LinedMold = "lined"
	Silicone  = "silicone"
	Cavities  = "cavities"
	Jar       = "jar"
)

// Material is what the mold is made of that the formula is meant for: a lined one when it does
// not say, a jar for shave soap.
func (f Formula) Material() string {
	switch {
	case f.Process.Material != "":
		return f.Process.Material
	case f.Process.Kind == Shave:
		return Jar
	}
	return LinedMold
}

// Form is what the soap stands as out of a mold of a material; divided is true of a mold with
// dividers or cavities, whatever it is made of.
func (f Formula) Form(material string, divided bool) Form {
	switch {
	case f.Potash():
		return Paste
	case material == Jar:
		return Jars
	case material == Cavities || divided:
		return Pieces
	}
	return Loaf
}

// Unmolded reports whether such soap comes out of what it was poured into.
func (m Form) Unmolded() bool { return m == Loaf || m == Pieces }

// Cut reports whether such soap is cut.
func (m Form) Cut() bool { return m == Loaf }

// Piece is what is counted of such soap, and Pieces more than one of it.
func (m Form) Piece() string {
	switch m {
	case Jars:
		return "jar"
	case Paste:
		return "tub"
	}
	return "bar"
}

// Stays says why such soap never comes out, or nothing.
func (m Form) Stays() string {
	switch m {
	case Jars:
		return "it stays in its jar: nothing is unmolded or cut"
	case Paste:
		return "soap of potash stays a paste: it is scooped or thinned, never unmolded or cut"
	}
	return ""
}
