package plans

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAPlanIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"order": func(f *page.Form) any { return readOrder(f) },
	})
}
