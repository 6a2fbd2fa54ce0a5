package page

import (
	"fmt"
	"slices"
	"strconv"
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

// Places finds the field of a problem. The core counts the rows of a recipe;
// the form may have empty rows between them.
type Places map[string]string

// Row notes that the kept row of a list stands in row i of the form, and
// returns the prefix of its fields there.
func (pl Places) Row(formList, coreList string, i, kept int) (at, core string) {
	at, core = fmt.Sprintf("%s[%d]", formList, i), fmt.Sprintf("%s[%d]", coreList, kept)
	pl[core] = at
	return at + ".", core
}

// Of turns the path of a problem into the name of its field.
func (pl Places) Of(path string) string {
	if to, ok := pl[path]; ok {
		if strings.HasSuffix(to, "]") {
			return to + "." + nameField(path)
		}
		return to
	}
	for i := strings.LastIndex(path, "]"); i >= 0; i = strings.LastIndex(path[:i], "]") {
		if to, ok := pl[path[:i+1]]; ok {
			return to + path[i+1:]
		}
	}
	return path
}

// nameField is the field of a row that a problem with the whole row belongs to.
func nameField(path string) string {
	list, _, _ := strings.Cut(path, "[")
	switch list {
	case "fats", "infusions":
		return "fat"
	case "liquids":
		return "liquid"
	case "design":
		return "do"
	}
	return "name"
}

// Blank reports whether none of the fields of a row were typed in.
func Blank(f *Form, at string, names ...string) bool {
	return !slices.ContainsFunc(names, func(n string) bool { return f.Get(at+n) != "" })
}

// Prefixes names the rows of a list with at least one empty row at the end.
func Prefixes(f *Form, list string, least int) []string {
	n := max(Rows(f.Values, list), least)
	out := make([]string, n)
	for i := range out {
		out[i] = fmt.Sprintf("%s[%d]", list, i)
	}
	return out
}

// EditRows adds, removes or raises a row, such as "fats" or
// "portions[0].colorants[2]", and returns the list to go back to.
func EditRows(f *Form, do, what string) (list string) {
	if do == "add" {
		if n := Rows(f.Values, what); n < mostRows {
			f.Set(fmt.Sprintf("%s[%d].name", what, n), "")
		}
	} else if open := strings.LastIndex(what, "["); open > 0 {
		row := what[open+1:]
		if i, err := strconv.Atoi(strings.TrimSuffix(row, "]")); err == nil && i >= 0 {
			if do == "up" {
				raiseRow(f.Values, what[:open], i)
			} else {
				removeRow(f.Values, what[:open], i)
			}
		}
	}
	section, _, _ := strings.Cut(what, "[")
	section, _, _ = strings.Cut(section, ".")
	return section
}
