package cure_test

import (
	"fmt"
	"time"

	"ashshelf/soap/cure"
)

// Bars are four weeks old, their weight has settled, and nobody has tested one yet: may
// they be sold?
func ExampleFacts_EvaluateGate() {
	policy, _ := cure.PolicyByCode("four-to-six")
	poured := time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC)
	after := func(days int) time.Time { return poured.AddDate(0, 0, days) }
	facts := cure.Facts{
		Poured: poured, Now: after(28), Policy: policy,
		Samples: []cure.Sample{
			{At: after(1), Grams: 118}, {At: after(7), Grams: 109.6}, {At: after(14), Grams: 106.7}, {At: after(21), Grams: 105.9},
			{At: after(28), Grams: 105.7},
		},
		Step: 0.1,
	}
	gate := facts.EvaluateGate()
	for _, c := range gate.Conditions {
		fmt.Printf("%t %s: %s\n", c.Met, c.Name, c.Detail)
	}
	fmt.Println("may be released:", gate.MayRelease)
	// Output:
	// true Days: day 28 of 28
	// true Weight: settled, as good as surely: about 0.1 % a week
	// false Safety check: not made yet
	// true Nothing holds it: no hold
	// false Released by name: not yet
	// may be released: false
}
