package fat_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
)

// Triolein is C57H104O6, 885.43 g/mol, and takes three of KOH: 190.1 mg a gram.
// Trilaurin is C39H74O6, 639.0 g/mol: 263.4.
func TestASaponificationValueFollowsFromTheAcids(t *testing.T) {
	assert.InDelta(t, 190.1, fat.Acids{Oleic: 100}.FromAcids(), 0.3)
	assert.InDelta(t, 263.4, fat.Acids{Lauric: 100}.FromAcids(), 0.5)
	assert.Zero(t, fat.Acids{Oleic: 40}.FromAcids(), "half a certificate says nothing")
	assert.InDelta(t, 198.6, fat.Acids{Oleic: 100}.FromFreeAcids(), 0.3, "oleic acid is 282.5 g/mol")
	for _, f := range fat.Reference() {
		switch f.Kind {
		case fat.Wax: // half of it is alcohols
		case fat.Acid:
			assert.InDelta(t, f.SAP, f.Acids.FromFreeAcids(), 0.03*f.SAP, f.Slug)
		default:
			// Unsaponifiable matter lowers the value, shea's by some ten percent; the free acids of
			// tamanu and the short ones of butterfat and murumuru raise it.
			require.NotZero(t, f.Acids.FromAcids(), f.Slug)
			assert.InDelta(t, f.SAP, f.Acids.FromAcids(), 0.08*f.SAP, f.Slug)
		}
		assert.True(t, f.SAPLow <= f.SAP && f.SAP <= f.SAPHigh, f.Slug)
		assert.InDelta(t, 0.91, f.Density, 0.07, f.Slug)
	}
}

func TestASlipInASaponificationValueIsCalledOut(t *testing.T) {
	of := func(slug string, sap float64) fat.Fat {
		f, ok := fat.BySlug(slug)
		require.True(t, ok)
		f.SAP = sap
		return f
	}
	own := func(sap float64, like string) fat.Fat { return fat.NewOwn("House blend", sap, 0.91, like) }
	withAcids := func(sap float64) fat.Fat {
		f := own(sap, "")
		f.Acids = fat.Acids{Oleic: 80, Palmitic: 12, Linoleic: 8}
		return f
	}
	for name, c := range map[string]struct {
		fat  fat.Fat
		want string
	}{
		"olive at 194 is olive":                         {of("olive-oil", 194), ""},
		"an own fat like olive at 194":                  {own(194, "olive-oil"), ""},
		"a little outside":                              {of("olive-oil", 199), "warn fats.sap-range"},
		"far above":                                     {of("olive-oil", 250), "block fats.sap-range"},
		"an own fat like olive at 250":                  {own(250, "olive-oil"), "block fats.sap-range"},
		"a value for NaOH":                              {of("olive-oil", 135.4), "warn fats.sap-naoh"},
		"a value for NaOH of an own fat like coconut":   {own(183, "coconut-oil"), "warn fats.sap-naoh"},
		"by its acids":                                  {withAcids(192), ""},
		"far from its acids":                            {withAcids(257), "block fats.sap-range"},
		"a value for NaOH against its acids":            {withAcids(137), "warn fats.sap-naoh"},
		"an own fat of which nothing is known":          {own(196, ""), ""},
		"below most fats, and no value for NaOH either": {own(100, ""), "warn fats.sap-range"},
		"below most fats, a value for NaOH":             {own(140, ""), "warn fats.sap-naoh"},
		"above most fats":                               {own(300, ""), "warn fats.sap-range"},
		"beeswax is a wax":                              {of("beeswax", 93), ""},
	} {
		advice, doubtful := c.fat.AdviseSAP()
		got := ""
		if doubtful {
			got = string(advice.Level) + " " + advice.Code
			assert.NotEmpty(t, advice.Remedy)
		}
		assert.Equal(t, c.want, got, name)
	}
	for _, f := range fat.Reference() {
		_, doubtful := f.AdviseSAP()
		assert.False(t, doubtful, f.Slug)
		f.SAP = math.Round(f.SAPHigh*1.06*10) / 10
		c, _ := f.AdviseSAP()
		assert.Equal(t, caution.Block, c.Level, f.Slug)
	}
}
