package setup

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/unit"
	"ashshelf/web/page"

	"net/url"
)

func TestMoneyAndScaleAreGuessedFromTheBrowsersLanguages(t *testing.T) {
	for languages, wants := range map[string]place{
		"en-US,en;q=0.9":        {"USD", unit.US},
		"en-GB":                 {"GBP", unit.Metric},
		"de-CH, de;q=0.8":       {"CHF", unit.Metric},
		"sv":                    {"SEK", unit.Metric},
		"":                      usualPlace,
		"no language at all;;q": usualPlace,
	} {
		assert.Equal(t, wants, placeOf(languages), languages)
	}
}

func TestWhoChoosesFahrenheitAndTypesSeventyMeansFahrenheit(t *testing.T) {
	f := &page.Form{Values: url.Values{"units": {"us"}, "room_c": {"70"}}, System: unit.Metric}
	assert.InDelta(t, 21.1, readShop(f).RoomC, 0.05)
	f = &page.Form{Values: url.Values{"units": {"metric"}, "room_c": {"21"}}, System: unit.US}
	assert.InDelta(t, 21, readShop(f).RoomC, 1e-9)
}
