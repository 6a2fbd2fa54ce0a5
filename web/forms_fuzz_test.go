package web

import (
	"fmt"
	"math"
	"net/url"
	"reflect"
	"testing"
	"time"

	"ashshelf/soap/unit"
)

// unheardOf finds a number in what was read that is none.
func unheardOf(v reflect.Value) bool {
	switch v.Kind() {
	case reflect.Float64:
		return math.IsNaN(v.Float()) || math.IsInf(v.Float(), 0)
	case reflect.Pointer, reflect.Interface:
		return !v.IsNil() && unheardOf(v.Elem())
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			if unheardOf(v.Index(i)) {
				return true
			}
		}
	case reflect.Map:
		for _, k := range v.MapKeys() {
			if unheardOf(v.MapIndex(k)) {
				return true
			}
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if unheardOf(v.Field(i)) {
				return true
			}
		}
	}
	return false
}

// Whatever is sent in place of a form is read to the end, to figures that can be computed
// with or to problems.
func FuzzAnyFormIsReadOrRefused(f *testing.F) {
	for _, s := range []string{
		"name=Slow+olive&fats[0].fat=olive-oil&fats[0].percent=70&fats[1].fat=coconut&fats[1].percent=500+g&superfat_percent=5&water.lye_strength=33&water.basis=lye-strength",
		"liquids[0].liquid=goat-milk&liquids[0].percent=1e999&additives[0].name=Clay&additives[0].rate.basis=tsp-per-lb-fats&additives[0].rate.value=½&scent.rate=3",
		"portions[0].name=x&portions[0].percent=NaN&design[0].kind=swirl&process.mold=lined&colorants[99999999].name=x&fats[-1].fat=x&fats[0x1].fat=y",
		"code=A&strength=50&grams=1+kg&material=hdpe&filled=2026-03-14&temperature=20",
		"first=9&second=1&bar=118&trimmings=46&size[0].name=guest&size[0].bar=2+oz&size[0].first=99999999999999999999&halves=-1",
		"kind=first/guest/bar&place=abc:3&place=:&count.x=3&target=molds&use_up.name=x&order=1&readings=0+80\n10+70\nx",
		"shape=box&length=25+cm&width=&fill=%00&cavities=3x4&water=1,5+l&capacity=9+kg",
		"trace=light&lye_c=98.6F&fats_c=-300&left=30&skipped=x&from=2026-13-40", "%zz", "a=1;b=2", "",
	} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		values, err := url.ParseQuery(s)
		if err != nil {
			return
		}
		began := time.Now()
		for _, system := range []unit.System{unit.Metric, unit.US} {
			form := func() *Form { return &Form{Values: values, System: system} }
			k := stores{System: system, Spoons: map[string]float64{}}
			read := map[string]func(*Form) any{
				"recipe":  func(f *Form) any { b, _ := readRecipe(f, k); return b },
				"filling": func(f *Form) any { b, _ := readFilling(f); return b },
				"blend":   func(f *Form) any { b, _ := readBlend(f); return b },
				"cut":     func(f *Form) any { return readCut(f) },
				"mold":    func(f *Form) any { _, b, _ := readMold(f, nil); return b },
				"tool":    func(f *Form) any { _, b, _ := readTool(f); return b },
				"scent":   func(f *Form) any { b, _ := readScentBody(f); return b },
				"order":   func(f *Form) any { return readOrder(f) },
				"pour":    func(f *Form) any { return readPour(f) },
				"shop":    func(f *Form) any { return readShop(f) },
				"foreign": func(f *Form) any { return readForeign(f) },
				"heat":    func(f *Form) any { return readHeat(f) },
				"day":     func(f *Form) any { return readDay(f, "from", time.UTC) },
				"moment":  func(f *Form) any { return f.Moment("filled", time.UTC) },
			}
			for what, read := range read {
				if got := read(form()); what != "day" && what != "moment" && unheardOf(reflect.ValueOf(got)) {
					t.Fatalf("a %s was read from %q as %s", what, s, fmt.Sprintf("%.300v", got))
				}
			}
			place := form()
			if _, level := readPlace(place, "place"); level < 0 && len(place.Problems) == 0 {
				t.Fatalf("level %d from %q", level, s)
			}
			if kind := readKind(values.Get("kind")); values.Get("kind") != "" && readKind(string(kind.Grade)+"/"+kind.Size) != kind {
				t.Fatalf("a kind of bars was read from %q as %v", s, kind)
			}
		}
		if took := time.Since(began); took > 2*time.Second {
			t.Fatalf("%d bytes took %v", len(s), took)
		}
	})
}
