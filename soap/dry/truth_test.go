package dry_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"ashshelf/soap/dry"
)

// truth is a bar whose drying is known, after hours since the pour.
type truth struct {
	family string
	left   func(days float64) float64 // share of its weight
	grams  float64
	bar    dry.Bar
}

// slabHeld is the share of its water that a slab still has, by finite differences and not by
// the series of the package.
func slabHeld(tau float64) func(days float64) float64 {
	const cells, per = 24, 24 // cells from the middle to the face, steps a day
	d := math.Pow(2*cells, 2) / (math.Pi * math.Pi * tau) // of cells², a day
	steps := int(math.Ceil(3 * d))
	var held []float64
	u := make([]float64, cells)
	for i := range u {
		u[i] = 1
	}
	for range 800 {
		for range per {
			sum := 0.0
			for _, v := range u {
				sum += v
			}
			held = append(held, sum/cells)
			n := max(1, steps/per+1)
			k := d / per / float64(n)
			for range n {
				before := u[0]
				for i := range u {
					left, right := before, 0.0
					if i == 0 {
						left = u[0]
					}
					if i+1 < cells {
						right = u[i+1]
					} else {
						right = -u[i] // the face is dry
					}
					before, u[i] = u[i], u[i]+k*(left-2*u[i]+right)
				}
			}
		}
	}
	return func(days float64) float64 {
		at := min(max(days, 0)*per, float64(len(held)-2))
		i := int(at)
		return held[i] + (at-float64(i))*(held[i+1]-held[i])
	}
}

// slabs are worked out once for each time constant.
var slabs = map[int]func(float64) float64{}

func someTruth(rng *rand.Rand, family string) truth {
	in := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	loss := in(0.06, 0.16)
	t := truth{family: family, grams: math.Exp(in(math.Log(40), math.Log(400)))}
	var held func(float64) float64
	switch family {
	case "one exponential":
		tau := in(5, 20)
		held = func(d float64) float64 { return math.Exp(-d / tau) }
	case "skin and core":
		fast, slow, part := in(3, 9), in(16, 36), in(0.4, 0.8)
		held = func(d float64) float64 { return part*math.Exp(-d/fast) + (1-part)*math.Exp(-d/slow) }
	default:
		tau := 10 + rng.IntN(25)
		if slabs[tau] == nil {
			slabs[tau] = slabHeld(float64(tau))
		}
		held = slabs[tau]
	}
	t.left = func(d float64) float64 { return 1 - loss*(1-held(d)) }
	return t
}

// settles is after how many hours it is settled.
func (t truth) settles(limit float64) float64 {
	for h := 0.0; ; h++ {
		now := t.left(h / 24)
		if (now-t.left(h/24+7))/now <= limit/100 {
			return h
		}
	}
}

// weighed is the bar on a scale, at the cut and about weekly, in air whose moisture moves it by
// so much, hanging together.
func (t truth) weighed(rng *rand.Rand, n int, step, air float64) []dry.Weighing {
	var out []dry.Weighing
	stays, drift := 0.6, air*rng.NormFloat64()
	for k := range n {
		h := 24 + 168*float64(k)
		if k > 0 {
			h += 24 * (rng.Float64() - 0.5)
			drift = stays*drift + math.Sqrt(1-stays*stays)*air*rng.NormFloat64()
		}
		g := t.grams * t.left(h/24) * (1 + drift)
		out = append(out, dry.Weighing{Hours: math.Round(h), Grams: math.Round(g/step) * step})
	}
	return out
}

type cell struct {
	n, covered           int
	ranges, misses, ends []float64
	early                int // first called settled while truly losing over 0.75 % a week
}

func middle(v []float64) float64 {
	s := slices.Sorted(slices.Values(v))
	if len(s) == 0 {
		return 0
	}
	return s[len(s)/2]
}

func (c cell) String() string {
	return fmt.Sprintf("%4d bars: covered %5.1f %%, median range %5.1f days, median miss %4.1f days, final weight off by %.2f %% (95th %.2f %%)",
		c.n, 100*float64(c.covered)/float64(c.n), middle(c.ranges), middle(c.misses), middle(c.ends), high(c.ends))
}

func high(v []float64) float64 {
	s := slices.Sorted(slices.Values(v))
	return s[len(s)*95/100]
}

func TestSim(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	all, still := cell{}, cell{}
	for _, family := range []string{"one exponential", "skin and core", "diffusion"} {
		for _, air := range []float64{0, 0.0025, 0.005} {
			for _, limit := range []float64{0.3, 0.5, 1} {
				for _, step := range []float64{0.1, 1} {
					c := cell{}
					for range 60 {
						truth := someTruth(rng, family)
						n := 4 + rng.IntN(5)
						cs := dry.Case{Step: step, Limit: limit, Weighings: truth.weighed(rng, n, step, air)}
						f := cs.Foretell(dry.Any())
						s := truth.settles(limit)
						for _, x := range []*cell{&c, &all, &still} {
							if x == &still && air > 0 {
								continue
							}
							x.n++
							if s >= f.Early-1 && s <= f.Late+1 {
								x.covered++
							}
							x.ranges = append(x.ranges, (f.Late-f.Early)/24)
							x.misses = append(x.misses, math.Abs(f.Likely-s)/24)
							final := truth.grams * truth.left(1e4)
							x.ends = append(x.ends, 100*math.Abs(f.FinalG-final)/final)
						}
					}
					fmt.Printf("%-16s air %.4f limit %.1f step %.1f %s\n", family, air, limit, step, c)
				}
			}
		}
	}
	fmt.Println("all", all)
	fmt.Println("still", still)
}
