package dry_test

import (
	"math/rand/v2"
	"testing"

	"ashshelf/soap/dry"
)

func BenchmarkForetell(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	c := dry.Case{Step: 0.1, Limit: 0.5, Weighings: someTruth(rng, "skin and core").weighed(rng, 6, 0.1, 0.0025)}
	for b.Loop() {
		c.Foretell(dry.Any())
	}
}
