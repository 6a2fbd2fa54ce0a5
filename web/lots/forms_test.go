package lots

import (
	"testing"

	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfACutIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"cut": func(f *page.Form) any { return readCut(f) },
		"kind": func(f *page.Form) any {
			kind := readKind(f.Get("kind"))
			if f.Get("kind") != "" && readKind(string(kind.Grade)+"/"+kind.Size) != kind {
				panic("a kind of bars is not read as it is written")
			}
			return kind
		},
	})
}
