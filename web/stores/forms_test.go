package stores

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAScentIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"scent": func(f *page.Form) any { b, _ := readScentBody(f); return b },
	})
}
