package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const request = `{"format":"ashshelf.plan-request/1","recipe":{"fats":[{"fat":"olive-oil","percent":50},{"fat":"coconut-oil",` +
	`"percent":30},{"fat":"beef-tallow","percent":20}],
 "superfat_percent":5,"water":{"basis":"lye-strength","value":33}},"target":{"fats_g":1000}}`

func run3(stdin string, args ...string) (code int, out, errs string) {
	var stdout, stderr bytes.Buffer
	code = runPlan(args, strings.NewReader(stdin), &stdout, &stderr)
	return code, stdout.String(), stderr.String()
}

func TestThePlanCommandAnswersTheWorkedCase(t *testing.T) {
	code, out, errs := run3(request)
	require.Zero(t, code, errs)
	var p struct {
		Format  string
		NaOH    float64 `json:"naoh_g"`
		Density float64 `json:"batter_density_g_per_ml"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	assert.Equal(t, "ashshelf.plan/1", p.Format)
	assert.InDelta(t, 143.24, p.NaOH, 0.005)
	assert.InDelta(t, 1.004, p.Density, 0.0005)
	assert.Empty(t, errs)

	code, out, _ = run3(request, "-out", "text")
	assert.Zero(t, code)
	assert.Contains(t, out, "143.2 g  sodium hydroxide")

	file := filepath.Join(t.TempDir(), "request.json")
	require.NoError(t, os.WriteFile(file, []byte(request), 0o600))
	code, out, _ = run3("", "-in", file)
	assert.Zero(t, code)
	assert.Contains(t, out, `"naoh_g"`)
}

func TestARefusalSaysWhyAndPrintsNoPlan(t *testing.T) {
	for _, bad := range []string{"", "{}", strings.Replace(request, `"percent":50`, `"percent":90`, 1),
		strings.Replace(request, "1000", "0.01", 1), strings.Replace(request, `:33`, `:70`, 1)} {
		code, out, errs := run3(bad)
		assert.Equal(t, 2, code)
		assert.Empty(t, out)
		assert.NotEmpty(t, errs)
	}
}

func TestOtherFailuresAreNotRefusals(t *testing.T) {
	for _, args := range [][]string{{"-in", "/nowhere/at/all.json"}, {"-out", "yaml"}, {"-what"}, {"extra"}} {
		code, out, _ := run3(request, args...)
		assert.Equal(t, 1, code, args)
		assert.Empty(t, out)
	}
	code, _, _ := run3("", "-h")
	assert.Zero(t, code)
}
