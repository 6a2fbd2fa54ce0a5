package stock

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAStockIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"filling": func(f *page.Form) any { b, _ := readFilling(f); return b },
		"blend":   func(f *page.Form) any { b, _, _ := readBlend(f); return b },
		"heat":    func(f *page.Form) any { return readHeat(f) },
	})
}
