package page

import "ashshelf/soap/unit"

// Binding ties fields of a form to values, so that each field is named once: written, it
// fills the form in the owner's units; read, it takes what was typed.
type Binding struct {
	form    *Form
	at      string // before every name
	writing bool
}

// Write fills the fields below at from values.
func Write(f *Form, at string) Binding { return Binding{f, at, true} }

// Read takes values from the fields below at.
func Read(f *Form, at string) Binding { return Binding{f, at, false} }

// Text is a field of words.
func (b Binding) Text(name string, v *string) { Word(b, name, v) }

// Word is a field of one of some words.
func Word[T ~string](b Binding, name string, v *T) {
	if b.writing {
		b.form.Set(b.at+name, string(*v))
		return
	}
	*v = T(b.form.Get(b.at + name))
}

// Ticked is a box to tick.
func (b Binding) Ticked(name string, v *bool) {
	if b.writing {
		Tick(b.form, b.at+name, *v)
		return
	}
	*v = b.form.Get(b.at+name) == "on"
}

// Number is a number that has to be typed.
func (b Binding) Number(name string, v *float64) {
	if b.writing {
		b.form.Set(b.at+name, unit.Trim(*v, decimals))
		return
	}
	*v = b.form.Number(b.at + name)
}

// Usual is a number that is the usual one where nothing is typed.
func (b Binding) Usual(name string, v *float64, usual float64) {
	if !b.writing && b.form.Get(b.at+name) == "" {
		*v = usual
		return
	}
	b.Number(name, v)
}

// Own is a number that counts in place of the known one, and is empty where it is that.
func (b Binding) Own(name string, v *float64, known float64) {
	if b.writing && *v == known {
		return
	}
	b.Usual(name, v, known)
}

// Temperature is a temperature, or empty for 0.
func (b Binding) Temperature(name string, v *float64) {
	switch {
	case !b.writing:
		*v = IfTyped(b.form, b.at+name, b.form.Temperature, 0)
	case *v != 0:
		b.form.Set(b.at+name, unit.FieldTemperature(*v, b.form.System))
	}
}

// decimals is how exactly a number is written into a field.
const decimals = 4
