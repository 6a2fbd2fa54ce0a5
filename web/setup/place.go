package setup

import (
	"os"
	"path/filepath"
	"strings"
	"time"

	"golang.org/x/text/currency"
	"golang.org/x/text/language"

	"ashshelf/soap/unit"
)

// place is what a browser's languages tell of where it is used.
type place struct {
	Currency string
	Units    unit.System
}

// usualPlace is where nothing can be told.
var usualPlace = place{"EUR", unit.Metric}

// ounces are the countries whose kitchens weigh in ounces.
var ounces = map[string]bool{"US": true, "LR": true, "MM": true}

// placeOf guesses from the languages that a browser asks for. A guess is shown before it counts.
func placeOf(languages string) place {
	tags, _, err := language.ParseAcceptLanguage(languages)
	if err != nil || len(tags) == 0 {
		return usualPlace
	}
	region, sure := tags[0].Region()
	if sure == language.No {
		return usualPlace
	}
	out := usualPlace
	if c, ok := currency.FromRegion(region); ok {
		out.Currency = c.String()
	}
	if ounces[region.String()] {
		out.Units = unit.US
	}
	return out
}

// hereZone is the time zone of this computer by its name, which is the shop's as long as she works at
// it; empty where the system does not say. A browser elsewhere says its own.
func hereZone() string {
	if name := os.Getenv("TZ"); name != "" && name != "Local" {
		return strings.TrimPrefix(name, ":")
	}
	if name := time.Local.String(); name != "Local" {
		return name
	}
	to, err := filepath.EvalSymlinks("/etc/localtime")
	if _, name, ok := strings.Cut(filepath.ToSlash(to), "zoneinfo/"); err == nil && ok {
		return name
	}
	return ""
}
