package material

// Composition is what a material brings into a soap, in percent of its weight, whether it is
// a fat, a liquid or an additive: the water of vinegar, the fat of milk powder, the sugar of honey
// and the salt of brine all count alike. What is none of these is left out.
type Composition struct {
	Water, Fat, Salt, Sugar, Protein float64
	FatSAP                           float64 // mg KOH that a gram of its fat takes
	FreeAcid                         bool    // its fat is a fatty acid that is bound to nothing
	Lye                              float64 // g of sodium hydroxide that a gram of it takes up
}

// Brought is what some weights of materials bring together, in g.
type Brought struct {
	Water, Fat, Salt, Sugar, Protein float64
	FatKOH                           float64 // pure potassium hydroxide that the fat takes
	NaOH                             float64 // sodium hydroxide that acids take up
}

// Add adds a weight in g of what is made up so.
func (b *Brought) Add(grams float64, c Composition) {
	b.Water += grams * c.Water / 100
	b.Fat += grams * c.Fat / 100
	b.Salt += grams * c.Salt / 100
	b.Sugar += grams * c.Sugar / 100
	b.Protein += grams * c.Protein / 100
	b.FatKOH += grams * c.Fat / 100 * c.FatSAP / 1000
	b.NaOH += grams * c.Lye
}

// Browns reports whether lye browns and scorches it: milk, juice and what is like them by
// their sugar and protein.
func (c Composition) Browns() bool { return c.Sugar+c.Protein >= leastBrowning }

// leastBrowning is how much sugar and protein, in percent, scorches where it meets hot lye.
const leastBrowning = 1.5
