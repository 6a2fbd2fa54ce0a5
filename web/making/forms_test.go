package making

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAPourIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"pour": func(f *page.Form) any { return readPour(f) },
		"place": func(f *page.Form) any {
			if _, level := page.ReadPlace(f, "place"); level < 0 && len(f.Problems) == 0 {
				panic("a level below the lowest")
			}
			return nil
		},
	})
}
