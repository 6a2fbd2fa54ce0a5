package molds

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAMoldIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"mold": func(f *page.Form) any { _, b, _ := readMold(f, nil); return b },
		"tool": func(f *page.Form) any { _, b, _ := readTool(f); return b },
	})
}
