package recipes

import (
	"net/url"
	"reflect"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/additive"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/web/page"
)

// fill gives every field of a struct a value of its own, but for those that are named.
func fill(v reflect.Value, n *int, but map[string]bool) {
	for f, field := range v.Fields() {
		*n++
		switch {
		case but[f.Name]:
		case field.Kind() == reflect.String:
			field.SetString("word " + strconv.Itoa(*n))
		case field.Kind() == reflect.Float64:
			field.SetFloat(float64(*n) + 0.5)
		case field.Kind() == reflect.Bool:
			field.SetBool(true)
		case field.Kind() == reflect.Struct:
			fill(field, n, but)
		default:
			panic(f.Name + " is a " + field.Kind().String())
		}
	}
}

// comesBack writes a value into a form and reads it again.
func comesBack[T any](t *testing.T, bind func(page.Binding, *T), elsewhere ...string) {
	t.Helper()
	var want, got T
	but, n := map[string]bool{}, 0
	for _, name := range elsewhere {
		but[name] = true
	}
	fill(reflect.ValueOf(&want).Elem(), &n, but)
	f := &page.Form{Values: url.Values{}}
	bind(page.Write(f, "at[0]."), &want)
	bind(page.Read(f, "at[0]."), &got)
	assert.Equal(t, want, got, "a field of %T is not bound", want)
	assert.Empty(t, f.Problems)
}

// What a recipe gets a field for must not be lost on the way through its form. What is
// named here is no field of a row: it is looked up by a name, or has rows of its own.
func TestEveryFieldOfARecipeComesBackFromItsForm(t *testing.T) {
	comesBack(t, bindAlkali)
	comesBack(t, bindPortion, "Colorants", "Percent")
	comesBack(t, bindDesign)
	comesBack(t, func(b page.Binding, i *liquid.Infusion) { bindInfusion(b, i, liquid.UsualLoss) })
	comesBack(t, bindProcess)
	comesBack(t, bindDilution)
	comesBack(t, bindHeldBack, "Fat", "Percent")
	comesBack(t, bindScent, "Tint")
	comesBack(t, func(b page.Binding, l *recipe.Liquid) { bindLiquid(b, l, liquid.Liquid{}) },
		"Slug", "Name", "Plain", "Note", "Percent")
}

func TestWhatIsLeftEmptyIsTheUsual(t *testing.T) {
	f := &page.Form{Values: url.Values{}}
	var a lye.Alkali
	bindAlkali(page.Read(f, ""), &a)
	assert.Equal(t, lye.DefaultAlkali(), a)
	s := additive.Scent{}
	bindScent(page.Read(f, ""), &s)
	assert.InDelta(t, additive.ScentDensity, s.Density, 0)
	assert.Empty(t, f.Problems)
}
