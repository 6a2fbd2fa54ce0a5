package trouble_test

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

var update = flag.Bool("update", false, "write the table of what is forgotten anew")

// everything is a pot with one of each thing that a sheet can hold, at 5 %, its lye
// weighed dry or drawn from a stock.
func everything(t *testing.T, superfat float64, stock bool) (plan.Request, plan.Plan) {
	t.Helper()
	f := recipe.Formula{
		Name:     "Everything",
		Alkali:   lye.DefaultAlkali(),
		Superfat: superfat,
		Water:    recipe.Water{Basis: recipe.LyeStrength, Value: 28},
	}
	for i, slug := range []string{"olive-oil", "coconut-oil", "beef-tallow"} {
		one, _ := fat.BySlug(slug)
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: []float64{55, 25, 20}[i]})
	}
	milk, _ := liquid.BySlug("sheep-milk")
	f.Liquids = []recipe.Liquid{{Liquid: liquid.Water(), Percent: 70, Carries: true}, {Liquid: milk, Percent: 30}}
	use := func(name string, stage additive.Stage, rate, takes float64) {
		f.Additives = append(
			f.Additives,
			additive.Use{Name: name, Stage: stage, Basis: additive.PercentOfFats, Rate: rate, Density: 1, Lye: takes},
		)
	}
	use("Sugar (granulated)", additive.InLiquid, 1, 0)
	use("Salt dissolved in the liquid", additive.InLiquid, 1, 0)
	use("Citric acid (anhydrous)", additive.InLiquid, 1, 0.625)
	use("Silk fibre", additive.InLye, 0.2, 0)
	use("Kaolin clay", additive.InFats, 1, 0)
	use("Coffee grounds", additive.Trace, 1, 0)
	use("Sea salt", additive.Top, 0.5, 0)
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Density: 0.95}, Percent: 100}},
	}
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: 20,
		Target:  plan.Target{FatsG: 1000},
		Scales:  plan.Scales{Resolution: 0.1},
	}
	if stock {
		r.Stock = &lye.Stock{Strength: 50, C: 21}
	}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return r, p
}

// at takes a pot back to a moment: what has its time later is not done yet.
func at(b trouble.Batch, m run.Moment) trouble.Batch {
	b.At = trouble.InPot
	if m == run.Molded {
		b.At = trouble.InMold
	}
	b.State.Combined = m == run.Combined || m == run.Molded
	b.State.Done[run.MeetKey] = b.State.Combined
	b.State.Done[run.LyeInKey] = m != run.NotMixed
	return b
}

// The table that a careful chemist reads line by line: testdata/forgotten.txt, what
// is missing, and how much of it, at each moment. Run with -update after a change
// of its words, and read it again.
func TestTheTableOfWhatIsForgottenIsTheOneThatWasRead(t *testing.T) {
	var out strings.Builder
	seen := map[run.Thing]bool{}
	cooks := ""
	for _, stock := range []bool{false, true} {
		r, p := everything(t, 5, stock)
		whole := combined(r, p, trouble.InPot, nil)
		things := run.Order{Request: r, Formula: r.Formula, Sheet: whole.Sheet}.Things()
		for _, sec := range whole.Sheet {
			for _, i := range sec.Items {
				if stock && things[i.Key] != run.AStock {
					continue
				}
				seen[things[i.Key]] = true
				for _, m := range run.Moments() {
					for _, short := range []float64{0.2, 1} {
						b := at(combined(r, p, trouble.InPot, map[plan.Key]float64{i.Key: i.Target * (1 - short)}), m)
						fmt.Fprintf(&out, "\n%s: %s, %.0f %% of it missing\n", m, i.Name, 100*short)
						c, ok := trouble.CardOf(trouble.Forgotten, b)
						require.True(t, ok)
						for _, w := range c.Ways {
							closed := ""
							if w.Not != "" {
								closed = "CLOSED. " + w.Not
							}
							ends := ""
							if w.Ends.Hold != "" {
								ends = " HELD: " + w.Ends.Hold
							}
							said := fmt.Sprintf("  %s. %s%s%s\n", w.Name, w.Text, closed, ends)
							if w.Key == "cook" && cooks == "" {
								cooks = said
							} else if said == cooks { // once is enough to read
								continue
							}
							out.WriteString(said)
							for _, s := range w.Steps {
								if w.Not != "" {
									break
								}
								fmt.Fprintf(&out, "    - %s\n", s.Text)
							}
						}
					}
				}
			}
		}
	}
	for _, thing := range run.Things() {
		assert.True(t, seen[thing], "%s is in the table", thing)
	}
	const file = "testdata/forgotten.txt"
	if *update {
		require.NoError(t, os.WriteFile(file, []byte(out.String()), 0o644))
	}
	read, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, string(read), out.String())
}

// What must never be said, whatever is missing, however much and whenever.
func TestNoWayTellsAMakerToDoWhatHurts(t *testing.T) {
	for _, superfat := range []float64{2.5, 5, 20} {
		for _, stock := range []bool{false, true} {
			r, p := everything(t, superfat, stock)
			whole := combined(r, p, trouble.InPot, nil)
			things := run.Order{Request: r, Formula: r.Formula, Sheet: whole.Sheet}.Things()
			for _, sec := range whole.Sheet {
				for _, i := range sec.Items {
					for _, m := range run.Moments() {
						for _, short := range []float64{0.05, 0.3, 1} {
							b := at(combined(r, p, trouble.InPot, map[plan.Key]float64{i.Key: i.Target * (1 - short)}), m)
							if len(b.Missing()) == 0 {
								continue
							}
							what := fmt.Sprintf("%s, %.0f %% missing, %s", i.Key, 100*short, m)
							for _, c := range trouble.Cards(b) {
								open := 0
								for _, w := range c.Ways {
									if w.Not != "" {
										continue
									}
									open++
									if b.Heavy() {
										assert.True(
											t,
											w.Mends || w.Ends.Hold != "" || w.Ends.GiveUp,
											"%s: %s / %s leads a lye-heavy pot to bars",
											what,
											c.Name,
											w.Name,
										)
									}
								}
								assert.Positive(t, open, "%s: %s has a way", what, c.Name)
							}
							w := way(t, trouble.Forgotten, b, trouble.AddPrefix+string(i.Key))
							said := w.Text
							for _, s := range w.Steps {
								said += " " + s.Text
							}
							switch thing := things[i.Key]; {
							case thing == run.AnAlkali && m != run.NotMixed:
								assert.Contains(t, said, "of water", what+": lye is never given dry")
								assert.Contains(t, said, "oggles", what)
								if m == run.Combined || m == run.Molded {
									assert.NotEmpty(t, w.Ends.Hold, what)
								}
							case thing == run.ALiquid && m == run.Mixed:
								assert.Contains(t, said, "pour the lye slowly into the second jug", what)
							case thing == run.BeforeLye && strings.Contains(string(i.Key), "acid") && m != run.NotMixed:
								assert.NotEmpty(t, w.Not, what)
							case m == run.Molded && thing != run.AnAlkali && thing != run.AStock && thing != run.OnTop:
								assert.NotEmpty(t, w.Not, what)
							}
							on := way(t, trouble.Forgotten, b, "go-on")
							if lyeThing := things[i.Key]; (lyeThing == run.AnAlkali || lyeThing == run.AStock) && short == 1 {
								assert.NotEmpty(t, on.Not, what+": without lye it is no soap")
							}
							if b.Heavy() {
								assert.NotEmpty(t, on.Not, what)
							}
						}
					}
				}
			}
		}
	}
}

func TestWhatIsStillToBeWeighedIsToComeAndNotForgotten(t *testing.T) {
	r, p := everything(t, 5, false)
	b := at(combined(r, p, trouble.InPot, map[plan.Key]float64{"fat:olive-oil": 0, "fat:coconut-oil": 0, "additive:Fig": 0}), run.Mixed)
	for _, key := range []plan.Key{"fat:olive-oil", "fat:coconut-oil", "additive:Fig"} {
		b.State.Closed[key] = false
	}
	assert.Empty(t, b.Missing())
	assert.Len(t, b.ToCome(), 3)
	assert.False(t, b.Heavy(), "fats that come are fats")
	w := way(t, trouble.Forgotten, b, "to-come")
	assert.Contains(t, w.Text, "Olive oil")
	b.State.Closed["fat:coconut-oil"] = true // “no more of it comes”
	assert.True(t, b.Heavy())
	first := way(t, trouble.TooMuchLye, b, "fat")
	assert.Contains(t, first.Text, "First what is missing: ")
	assert.NotContains(t, first.Text, "Olive oil", "what is to come is not asked for twice")
	assert.Equal(t, "Add fat", first.Name, "nothing has to be cooked before the lye meets the fats")
	assert.False(t, first.Ends.Cooked || first.Ends.Plain)
}

func TestAScentThatStandsOnTheBenchAfterThePourIsForgotten(t *testing.T) {
	r, p := everything(t, 5, false)
	b := at(combined(r, p, trouble.InPot, nil), run.Molded)
	assert.Empty(t, b.Missing())
	b.State.Done["in:additive:Fig"] = false
	require.Len(t, b.Missing(), 1)
	assert.NotEmpty(t, way(t, trouble.Forgotten, b, "add:additive:Fig").Not)
	assert.Empty(t, way(t, trouble.Forgotten, b, "go-on").Not, "unscented is soap too")
}

func TestACheckThatCountsRefutesTheWeights(t *testing.T) {
	r, p := everything(t, 5, false)
	b := at(combined(r, p, trouble.InPot, map[plan.Key]float64{"fat:olive-oil": 400}), run.Molded)
	b.At = trouble.AsBars
	assert.NotEmpty(t, way(t, trouble.Ash, b, "plain").Not)
	b.Sound = true
	assert.Empty(t, way(t, trouble.Ash, b, "plain").Not)
}

func TestTooLittleLyeIsMendedAsASolutionToo(t *testing.T) {
	r, p := everything(t, 5, false)
	for _, m := range run.Moments() {
		b := at(combined(r, p, trouble.InPot, map[plan.Key]float64{"alkali:naoh": 110}), m)
		w := way(t, trouble.TooLittle, b, "lye")
		assert.Empty(t, w.Not, m)
		if m != run.NotMixed {
			assert.Regexp(t, `of NaOH in [0-9.]+ g of water`, w.Text)
		}
	}
	assert.NotEmpty(t, way(t, trouble.TooLittle, at(combined(r, p, trouble.InPot, nil), run.Combined), "lye").Not)
}
