package main

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const wanted = `{"format":"ashshelf.demand/1","today":"2026-03-02","pots_per_day":2,"days_off":["sun"],"margin_days":3,"rack_bars":400,
 "recipes":[{"name":"Hedgerow bar","bars_per_pot":20,"mold_days":1,"cure_days":28}],
 "on_hand":[{"recipe":"Hedgerow bar","bars":12,"ready":"2026-03-02"}],
 "wanted":[{"recipe":"Hedgerow bar","bars":60,"on":"2026-06-06"}]}`

// Worked by hand: 60 less 12 are 48 bars, three pots of 20. Three days before Saturday the 6th of June is the 3rd, and
// 29 days before that is Tuesday the 5th of May: two pots on it, and the third on the Monday before.
func TestTheBackplanCommandSaysWhatToPourByWhen(t *testing.T) {
	run := func(in string, args ...string) (int, string, string) {
		var out, errs bytes.Buffer
		code := runBackplan(args, strings.NewReader(in), &out, &errs)
		return code, out.String(), errs.String()
	}
	code, out, errs := run(wanted)
	require.Zero(t, code, errs)
	assert.JSONEq(t, `{"format":"ashshelf.backplan/1","pours":[
	  {"recipe":"Hedgerow bar","on":"2026-05-04","pots":1,"ready":"2026-06-02"},
	  {"recipe":"Hedgerow bar","on":"2026-05-05","pots":2,"ready":"2026-06-03"}],"short":[]}`, out)

	code, out, _ = run(strings.Replace(wanted, "2026-03-02", "2026-05-09", 1))
	assert.Zero(t, code)
	assert.JSONEq(t, `{"format":"ashshelf.backplan/1","pours":[],
	  "short":[{"recipe":"Hedgerow bar","bars":48,"on":"2026-06-06","why":"time"}]}`, out)

	code, out, _ = run(strings.Replace(wanted, `"rack_bars":400`, `"rack_bars":39`, 1), "-out", "text")
	assert.Zero(t, code)
	assert.Contains(t, out, "2026-05-05  pour 1 × Hedgerow bar, ready 2026-06-03")

	for change, says := range map[string]string{
		`"today":"2026-03-02"→"today":"2026-02-30"`:                      "today: “2026-02-30” is no day of the calendar",
		`"on":"2026-06-06"→"on":"2026-06-31"`:                            "wanted[0].on",
		`"on":"2026-06-06"→"on":"June"`:                                  "wanted[0].on",
		`"bars":12→"bars":-12`:                                           "on_hand[0].bars",
		`"bars":60→"bars":0`:                                             "wanted[0].bars",
		`"pots_per_day":2→"pots_per_day":0`:                              "pots_per_day",
		`["sun"]→["sun","mon","tue","wed","thu","fri","sat"]`:            "days_off",
		`["sun"]→["sunday"]`:                                             "days_off",
		`"rack_bars":400→"rack_bars":0`:                                  "rack_bars",
		`"wanted":[{"recipe":"Hedgerow bar"→"wanted":[{"recipe":"Hedge"`: "wanted[0].recipe: there is no recipe “Hedge”",
		`"margin_days":3→"margin_days":3,"margin":1`:                     "margin: there is no such field",
		`"margin_days":3→"margin_days":3,"margin_days":4`:                "margin_days",
		`"mold_days":1→"mold_days":1.5`:                                  "recipes[0].mold_days",
		`"cure_days":28}→"cure_days":28},{"name":"Hedgerow bar","bars_per_pot":1,"mold_days":0,"cure_days":0}`: "recipes[1].name",
	} {
		old, with, _ := strings.Cut(change, "→")
		require.Equal(t, 1, strings.Count(wanted, old), old)
		code, out, errs := run(strings.Replace(wanted, old, with, 1))
		assert.Equal(t, 2, code, change)
		assert.Empty(t, out, change)
		assert.Contains(t, errs, says, change)
	}
}
