package fat_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/fat"
)

func TestFattyAcidsAreReadAsACertificateStatesThem(t *testing.T) {
	a, err := fat.ReadAcids("Oleic acid 62,5 %, linoleic 20; palmitic 9\nStearic 3")
	require.NoError(t, err)
	assert.Equal(t, fat.Acids{Oleic: 62.5, Linoleic: 20, Palmitic: 9, Stearic: 3}, a)
	for text, says := range map[string]string{
		"oleic":                 "give a fatty acid and its percentage",
		"moonic 20":             "not a fatty acid",
		"oleic lots":            "not a number",
		"oleic 140":             "between 0 and 100",
		"oleic 80, linoleic 30": "more than the whole",
	} {
		_, err := fat.ReadAcids(text)
		assert.ErrorContains(t, err, says, text)
	}
}

// What is written is read again as the same, for every fat of the table.
func TestEveryMakeUpOfTheTableRoundTrips(t *testing.T) {
	for _, f := range fat.Reference() {
		if f.Acids == (fat.Acids{}) {
			continue
		}
		again, err := fat.ReadAcids(f.Acids.String())
		require.NoError(t, err, f.Name)
		assert.Equal(t, f.Acids, again, f.Name)
	}
}

func FuzzReadAcids(f *testing.F) {
	for _, s := range []string{"oleic 62, linoleic 20", "lauric 48;", "oleic 1,5", ",,,", "oleic NaN"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		a, err := fat.ReadAcids(text)
		if err == nil {
			assert.LessOrEqual(t, a.Sum(), 105.0)
			assert.GreaterOrEqual(t, a.Sum(), 0.0)
		}
	})
}
