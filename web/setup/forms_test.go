package setup

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfSettingsIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"shop": func(f *page.Form) any { return readShop(f) },
	})
}
