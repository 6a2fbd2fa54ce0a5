package page

import (
	"strings"
)

// Field is one input with its label, for the "field" templates.
type Field struct {
	Form              *Form
	Name, Label, Unit string
	Hint              string
	Options           []Option
	Attr              Attr
}

// Attr are the rarer properties of a field.
type Attr struct {
	Text     bool   // letters, not figures
	Rows     int    // lines of a text area
	List     string // id of a datalist
	Picks    string // id of a radio button that typing here chooses
	Bare     bool   // no visible label; it is read aloud only
	Required bool
	ID       string // in place of the one from the name, where a name is on the page twice
	Holder   string // shown while empty
}

// Option is one choice of a select.
type Option struct{ Value, Label string }

// ID is the field's id on the page.
func (f Field) ID() string {
	if f.Attr.ID != "" {
		return "f-" + f.Attr.ID
	}
	return FieldID(f.Name)
}

func FieldID(name string) string {
	return "f-" + strings.Trim(strings.NewReplacer("[", "-", "].", "-", "]", "", ".", "-").Replace(name), "-")
}

func Tick(f *Form, name string, on bool) {
	if on {
		f.Set(name, "on")
	}
}
