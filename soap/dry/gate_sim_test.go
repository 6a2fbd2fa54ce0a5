package dry_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"ashshelf/soap/dry"
)

func TestGateSim(t *testing.T) {
	for _, sure := range []float64{0.9} {
		rng := rand.New(rand.NewPCG(5, 6))
		worst := 0.0
		wait := []float64{}
		for _, family := range []string{"one exponential", "skin and core", "diffusion"} {
			for _, air := range []float64{0, 0.0025, 0.005} {
				for _, step := range []float64{0.1, 1} {
					early, n := 0, 0
					for range 100 {
						truth := someTruth(rng, family)
						all := truth.weighed(rng, 26, step, air)
						s := truth.settles(0.5)
						for k := 3; k <= 26; k++ {
							f := dry.Case{Step: step, Limit: 0.5, Weighings: all[:k]}.Foretell(dry.Any())
							if f.Chance >= sure {
								h := all[k-1].Hours
								now := truth.left(h / 24)
								if 100*(now-truth.left(h/24+7))/now > 0.75 {
									early++
								}
								wait = append(wait, (h-s)/24)
								break
							}
						}
						n++
					}
					if p := 100 * float64(early) / float64(n); p > worst {
						worst = p
					}
					if early > 0 {
						fmt.Println(sure, family, air, step, early, n)
					}
				}
			}
		}
		fmt.Println("sure", sure, "worst", worst, "median wait after settled", middle(wait))
	}
}
