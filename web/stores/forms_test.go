package stores

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAScentIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"material": func(f *page.Form) any { m, _ := readMaterial(f, "EUR"); return m },
		"scent":    func(f *page.Form) any { b, _ := readScentBody(f); return b },
	})
}
