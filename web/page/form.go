package page

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// Form is a form as it was typed and what is wrong with it. Field names are
// the paths that the core uses for problems, such as "fats[0].percent", so a
// problem finds its field by itself.
type Form struct {
	Values   url.Values
	Problems caution.Problems
	System   unit.System
}

// Get returns what was typed into a field.
func (f *Form) Get(name string) string { return strings.TrimSpace(f.Values.Get(name)) }

// Err returns what is wrong with a field, or "".
func (f *Form) Err(name string) string { return f.Problems.At(name) }

// Set fills a field.
func (f *Form) Set(name, value string) { f.Values.Set(name, value) }

func (f *Form) read(name string, parse func(string) (float64, error)) float64 {
	v, err := parse(f.Get(name))
	if err != nil {
		f.Problems.Add(name, "%s", err.Error())
	}
	return v
}

// Number, Mass, Length, Temperature and Count read a field in the owner's
// units; what cannot be read becomes a problem at the field.
func (f *Form) Number(name string) float64 { return f.read(name, unit.Number) }

// Share reads a percentage, or a weight when a unit of weight is typed.
func (f *Form) Share(name string) (v float64, inGrams bool) {
	if v, err := unit.Number(f.Get(name)); err == nil {
		return v, false
	}
	if g, err := unit.Mass(f.Get(name), ""); err == nil {
		return g, true
	}
	return f.Number(name), false
}

// Mass reads a weight into grams.
func (f *Form) Mass(name string) float64 {
	return f.read(name, func(s string) (float64, error) { return unit.Mass(s, f.System.MassUnit()) })
}

// MassOrSpoons reads a weight into grams, or spoons into level teaspoons.
func (f *Form) MassOrSpoons(name string) (grams, teaspoons float64) {
	text := strings.ToLower(f.Get(name))
	for word, each := range map[string]float64{"tsp": 1, "teaspoon": 1, "teaspoons": 1, "tbsp": 3, "tablespoon": 3, "tablespoons": 3} {
		number, ok := strings.CutSuffix(text, word)
		if !ok {
			continue
		}
		v, err := unit.Number(strings.TrimSpace(number))
		if err != nil || !(v > 0) {
			f.Problems.Add(name, "type spoons like 2 tsp or 1 1/2 tbsp")
		}
		return 0, v * each
	}
	return f.Mass(name), 0
}

// Length reads a length into millimetres.
func (f *Form) Length(name string) float64 {
	return f.read(name, func(s string) (float64, error) { return unit.Length(s, f.System.LengthUnit()) })
}

// SignedLength reads a length into millimetres that may be below zero.
func (f *Form) SignedLength(name string) float64 {
	return f.read(name, func(s string) (float64, error) {
		rest := strings.TrimLeft(s, "+-− ")
		v, err := unit.Length(rest, f.System.LengthUnit())
		if strings.ContainsAny(s[:len(s)-len(rest)], "-−") {
			v = -v
		}
		return v, err
	})
}

// Volume reads a volume into millilitres. A bare number is millilitres; pints and quarts are those of
// the United States where the owner weighs in ounces.
func (f *Form) Volume(name string) float64 {
	return f.read(name, func(s string) (float64, error) {
		if f.System == unit.US && !bareNumber(s) {
			return unit.Volume(s, unit.USVolume)
		}
		return unit.Volume(s, "ml")
	})
}

func bareNumber(s string) bool {
	_, err := unit.Number(s)
	return err == nil
}

// Temperature reads a temperature into degrees Celsius.
func (f *Form) Temperature(name string) float64 {
	return f.read(name, func(s string) (float64, error) { return unit.Temperature(s, f.System.TemperatureUnit()) })
}

// Count reads a whole number.
func (f *Form) Count(name string) int {
	return int(f.read(name, func(s string) (float64, error) { n, err := unit.Count(s); return float64(n), err }))
}

// Day reads a day, as 2006-01-02; empty when nothing is typed.
func (f *Form) Day(name string) string {
	if f.Get(name) == "" {
		return ""
	}
	day, err := unit.Day(f.Get(name), f.System)
	if err != nil {
		f.Problems.Add(name, "%s", err.Error())
		return ""
	}
	return day.Format(time.DateOnly)
}

// Moment reads a day and an hour in a zone, where they have a field each out of these.
func (f *Form) Moment(zone *time.Location, name string, of ...string) time.Time {
	text := f.Get(name)
	if len(of) > 0 {
		text = ""
	}
	for _, field := range of {
		text += " " + f.Get(field)
	}
	at, err := unit.Moment(text, f.System, zone)
	if err != nil {
		f.Problems.Add(name, "%s", err.Error())
	}
	return at
}

// IfTyped calls read only when something was typed.
func IfTyped[T any](f *Form, name string, read func(string) T, otherwise T) T {
	if f.Get(name) == "" {
		return otherwise
	}
	return read(name)
}

// meta are the fields a page adds by itself; they are not part of what is
// typed.
var meta = []string{"key", "seen", "tab", "base", "do", "bar_life", "bar_life_before", SecretField,
	"new_pin", "new_pin_again", "new_phrase", "new_phrase_again"}

// typed returns the values without the page's own fields.
func typed(v url.Values) url.Values {
	out := url.Values{}
	for name, values := range v {
		if !slices.Contains(meta, name) {
			out[name] = values
		}
	}
	return out
}

// Fingerprint tells two different sendings of one page apart.
func Fingerprint(path string, v url.Values) string {
	sum := sha256.Sum256([]byte(path + "?" + typed(v).Encode()))
	return hex.EncodeToString(sum[:16])
}

// Value is what was typed.
func (f Field) Value() string { return f.Form.Values.Get(f.Name) }

// Err is what is wrong.
func (f Field) Err() string { return f.Form.Err(f.Name) }

// Checked reports whether a tick box is ticked.
func (f Field) Checked() bool { return f.Value() == "on" }

// Entry reads the number of an entry or a reading that the page wrote: 0 when it wrote
// none, and one that there never is when it cannot be read.
func Entry(f *Form, name string) int64 {
	if f.Get(name) == "" {
		return 0
	}
	id, err := strconv.ParseInt(f.Get(name), 10, 64)
	if err != nil || id < 0 {
		return -1
	}
	return id
}

// Form reads a posted form.
func (s *Kit) Form(r *http.Request) (*Form, error) {
	parse := r.ParseForm
	if strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/form-data") {
		parse = func() error { return r.ParseMultipartForm(mostForm) }
	}
	if err := parse(); err != nil {
		return nil, fmt.Errorf("%w: %w", errUnreadable, err)
	}
	f := &Form{Values: typed(r.PostForm)}
	if v := SessionOf(r); v != nil {
		f.System = v.System
	}
	return f, nil
}

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
	Help     string // word of the craft that is explained beside the label
	Text     bool   // letters, not figures
	Figures  bool   // of a secret: figures alone
	Rows     int    // lines of a text area
	List     string // id of a datalist
	Picks    string // id of a radio button that typing here chooses
	Focus    bool   // the cursor is in it when the page opens
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

// Earlier is the act of a form on which may be said that it happened earlier, by whom, and why it is
// written down only now.
func Earlier(r *http.Request, f *Form) journal.Act {
	a := Act(r)
	if f.Get("when") == "" {
		if f.Get("late") != "" {
			f.Moment(time.UTC, "when") // says what is to be typed
		}
		return a
	}
	a.Happened, a.Late = f.Moment(SessionOf(r).Location, "when"), f.Get("late")
	if a.Late == "" {
		f.Problems.Add("late", "write by whom it was done, and why it is written down only now")
	}
	return a
}

// UsualSize is the weight of fats that a recipe is shown for where nobody says another: a round one in
// the owner's units.
func UsualSize(s unit.System) string {
	if s == unit.US {
		return "2 lb"
	}
	return "1000 g"
}
