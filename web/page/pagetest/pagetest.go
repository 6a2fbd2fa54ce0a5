// Package pagetest tries the forms of the rooms with whatever may be sent in their place.
package pagetest

import (
	"fmt"
	"math"
	"net/url"
	"reflect"
	"testing"
	"time"

	"ashshelf/soap/unit"
	"ashshelf/web/page"
)

// seeds are forms of all rooms, and some that are none.
var seeds = []string{
	"name=Slow+olive&fats[0].fat=olive-oil&fats[0].percent=70&fats[1].fat=coconut&fats[1].percent=500+g&superfat_percent=5&" +
		"water.lye_strength=33&water.basis=lye-strength",
	"liquids[0].liquid=goat-milk&liquids[0].percent=1e999&additives[0].name=Clay&additives[0].rate.basis=tsp-per-lb-fats&" +
		"additives[0].rate.value=½&scent.rate=3",
	"portions[0].name=x&portions[0].percent=NaN&design[0].kind=swirl&process.mold=lined&colorants[99999999].name=x&" +
		"fats[-1].fat=x&fats[0x1].fat=y",
	"code=A&strength=50&grams=1+kg&material=hdpe&filled=2026-03-14&temperature=20",
	"first=9&second=1&bar=118&trimmings=46&size[0].name=guest&size[0].bar=2+oz&size[0].first=99999999999999999999&halves=-1",
	"kind=first/guest/bar&place=abc:3&place=:&count.x=3&target=molds&use_up.name=x&order=1&readings=0+80\n10+70\nx",
	"mold.shape=box&mold.length_mm=25+cm&mold.width_mm=&mold.fill_mm=%00&mold.cavities=3x4&mold.water_g=1,5+l&ml=9+kg",
	"trace=light&lye_c=98.6F&fats_c=-300&left=30&skipped=x&from=2026-13-40&at=2026-03-14+09:30", "%zz", "a=1;b=2", "",
}

// FuzzForms reads whatever is sent in place of a form, in both systems of units, to the
// end: to figures that can be computed with, or to problems, and in time.
func FuzzForms(f *testing.F, read map[string]func(*page.Form) any) {
	for _, s := range seeds {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		values, err := url.ParseQuery(s)
		if err != nil {
			return
		}
		began := time.Now()
		for _, system := range []unit.System{unit.Metric, unit.US} {
			for what, read := range read {
				if got := read(&page.Form{Values: values, System: system}); unheardOf(reflect.ValueOf(got)) {
					t.Fatalf("a %s was read from %q as %s", what, s, fmt.Sprintf("%.300v", got))
				}
			}
		}
		if took := time.Since(began); took > 2*time.Second {
			t.Fatalf("%d bytes took %v", len(s), took)
		}
	})
}

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
