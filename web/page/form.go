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

// Volume reads a volume into millilitres.
func (f *Form) Volume(name string) float64 {
	return f.read(name, func(s string) (float64, error) { return unit.Volume(s, "ml") })
}

// Temperature reads a temperature into degrees Celsius.
func (f *Form) Temperature(name string) float64 {
	return f.read(name, func(s string) (float64, error) { return unit.Temperature(s, f.System.TemperatureUnit()) })
}

// Count reads a whole number.
func (f *Form) Count(name string) int {
	return int(f.read(name, func(s string) (float64, error) { n, err := unit.Count(s); return float64(n), err }))
}

// Moment reads a day and an hour in a zone.
func (f *Form) Moment(name string, zone *time.Location) time.Time {
	at, err := time.ParseInLocation("2006-01-02 15:04", strings.Join(strings.Fields(f.Get(name)), " "), zone)
	if err != nil {
		f.Problems.Add(name, "type the day and the hour, such as 2026-03-14 09:30")
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
var meta = []string{"key", "seen", "tab", "base", "do"}

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
