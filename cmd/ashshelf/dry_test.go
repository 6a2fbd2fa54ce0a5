package main

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const drying = `{"format":"ashshelf.drying/1","scale_step_g":0.1,"settled_percent_per_week":0.5,
 "bar":{"length_mm":80,"width_mm":60,"thickness_mm":25},
 "weights":[{"hours":24,"grams":128.0},{"hours":192,"grams":120.4},{"hours":360,"grams":116.7},{"hours":528,"grams":114.9}],
 "room":[{"hours":24,"humidity_percent":55,"temperature_c":19},{"hours":500,"humidity_percent":60}]}`

func TestTheDryCommandForetellsABar(t *testing.T) {
	run := func(in string, args ...string) (int, string, string) {
		var out, errs bytes.Buffer
		code := runDry(args, strings.NewReader(in), &out, &errs)
		return code, out.String(), errs.String()
	}
	code, out, errs := run(drying)
	require.Zero(t, code, errs)
	var f struct {
		Format  string
		Final   float64 `json:"final_g"`
		Weekly  float64 `json:"weekly_loss_percent"`
		Settled struct {
			Likely float64 `json:"likely_hours"`
			Early  float64 `json:"early_hours"`
			Late   float64 `json:"late_hours"`
		}
		Chance *float64 `json:"settled_probability"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &f))
	assert.Equal(t, "ashshelf.drying-forecast/1", f.Format)
	assert.InDelta(t, 112.5, f.Final, 2.5)
	assert.InDelta(t, 0.9, f.Weekly, 0.4)
	assert.Less(t, f.Settled.Early, f.Settled.Likely)
	assert.Less(t, f.Settled.Likely, f.Settled.Late)
	assert.Less(t, *f.Chance, 0.2)

	code, out, _ = run(drying, "-out", "text")
	assert.Zero(t, code)
	assert.Contains(t, out, "nine times in ten between day")
	code, _, errs = run(`{"format":"ashshelf.drying/1","scale_step_g":1,"weights":[{"hours":24,"grams":128}]}`)
	assert.Zero(t, code, "one weighing is answered: %s", errs)

	for bad, says := range map[string]string{
		"": "", "{}": "", "[]": "",
		strings.Replace(drying, `"hours":360`, `"hours":12`, 1):         "weights[2].hours: weighings follow each other",
		strings.Replace(drying, `"hours":360`, `"hours":192`, 1):        "weights[2].hours",
		strings.Replace(drying, `128.0`, `0`, 1):                        "weights[0].grams",
		strings.Replace(drying, `128.0`, `-128`, 1):                     "weights[0].grams",
		strings.Replace(drying, `128.0`, `1e9`, 1):                      "weights[0].grams",
		strings.Replace(drying, `"scale_step_g":0.1,`, ``, 1):           "scale_step_g",
		strings.Replace(drying, `0.1`, `0`, 1):                          "scale_step_g",
		strings.Replace(drying, `:55`, `:155`, 1):                       "room[0].humidity_percent",
		strings.Replace(drying, `"weights":[`, `"weights":[],"x":[`, 1): "weights",
		strings.Replace(drying, `"format"`, `"grams":1,"format"`, 1):    "grams",
	} {
		code, out, errs := run(bad)
		assert.Equal(t, 2, code, bad)
		assert.Empty(t, out, bad)
		assert.Contains(t, errs, says, bad)
	}
	code, _, _ = run(drying, "-out", "poem")
	assert.Equal(t, 1, code)
	code, _, _ = run("", "-in", "nowhere.json")
	assert.Equal(t, 1, code)
}
