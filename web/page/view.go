package page

import (
	"fmt"
	"html/template"
	"math"
	"regexp"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/cure"
	"ashshelf/soap/inventory"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
)

// funcs are what templates may call: they write values, they do not work
// anything out.
func (s *Kit) funcs(sys unit.System) template.FuncMap {
	return template.FuncMap{
		"static":   func(name string) string { return "/static/" + name + "?v=" + s.Version },
		"icon":     func(name string) string { return "/static/icons.svg?v=" + s.Version + "#" + name },
		"rooms":    func() any { return rooms },
		"fixed":    unit.Fixed,
		"trim":     unit.Trim,
		"say":      func(text string) string { return unit.Said(text, sys) },
		"weighs":   func(grams float64, decimals int) string { return unit.FormatWeighed(grams, decimals, sys) },
		"figure":   func(grams float64, decimals int) string { return unit.Figure(grams, decimals, sys) },
		"beside":   func(grams float64, decimals int) string { return besideIn(grams, decimals, sys) },
		"massof":   func(grams float64) string { return unit.FormatMass(grams, sys) },
		"tempof":   func(celsius float64) string { return unit.FormatTemperature(celsius, sys) },
		"volumeof": func(ml float64) string { return unit.FormatVolume(ml, sys) },
		"lengthof": func(mm float64) string { return unit.FormatLength(mm, sys) },
		"weighed":  func(grams float64, decimals int) string { return weighedIn(grams, decimals, sys) },
		"tempread": func(celsius float64) string { return readIn(celsius, sys) },
		"degrees":  func(celsius float64) string { return degreesIn(celsius, sys) },
		"marked":   func(marks []string) string { return markedIn(marks, sys) },
		"massunit": func() string { return sys.MassUnit() },
		"massword": func() string {
			if sys == unit.US {
				return "Ounces"
			}
			return "Grams"
		},
		"mass":    unit.FormatMass,
		"length":  unit.FormatLength,
		"volume":  unit.FormatVolume,
		"temp":    unit.FormatTemperature,
		"known":   func(v float64) bool { return !math.IsNaN(v) },
		"day":     func(t time.Time, loc *time.Location) string { return t.In(loc).Format("Mon 2 Jan") },
		"weekday": func(t time.Time) string { return t.Format("Mon")[:1] },
		"date":    func(t time.Time, loc *time.Location) string { return t.In(loc).Format("2 Jan 2006") },
		"moment":  func(t time.Time, loc *time.Location) string { return t.In(loc).Format("Mon 2 Jan, 15:04") },
		"dated":   func(t time.Time, loc *time.Location) string { return t.In(loc).Format("Mon 2 Jan 2006, 15:04") },
		"clock":   func(t time.Time, loc *time.Location) string { return t.In(loc).Format("15:04") },
		"until":   Until,
		"svg":     func(d interface{ SVG() string }) template.HTML { return template.HTML(saidIn(d.SVG(), sys)) },
		"lyeroom": func(room string) bool { return room == "Lye" || room == "Make" },
		"benchroom": func(room string) bool {
			return slices.Contains([]string{"Recipes", "Molds", "Plan", "Stores", "Lye"}, room)
		},
		"plural":  Plural,
		"hasend":  func(text, end string) bool { return strings.HasSuffix(text, end) },
		"share":   func(v float64) string { return unit.Trim(100*v, 1) + " %" },
		"hours":   Hours,
		"ondate":  DayWritten,
		"iso":     func(t time.Time) string { return t.UTC().Format(time.RFC3339) },
		"field":   func(f *Form, name, label string) Field { return Field{Form: f, Name: name, Label: label} },
		"unit":    func(u string, f Field) Field { f.Unit = u; return f },
		"hint":    func(h string, f Field) Field { f.Hint = h; return f },
		"text":    func(f Field) Field { f.Attr.Text = true; return f },
		"figures": func(on bool, f Field) Field { f.Attr.Figures = on; return f },
		"focus":   func(on bool, f Field) Field { f.Attr.Focus = on; return f },
		"help":    func(key string, f Field) Field { f.Attr.Help = key; return f },
		"term":    termOf,
		"bare":    func(f Field) Field { f.Attr.Bare = true; return f },
		"lines":   func(n int, f Field) Field { f.Attr.Rows = n; return f },
		"list":    func(id string, f Field) Field { f.Attr.List = id; return f },
		"picks":   func(id string, f Field) Field { f.Attr.Picks = id; return f },
		"holder":  func(text string, f Field) Field { f.Attr.Holder = text; return f },
		"choose":  func(o []Option, f Field) Field { f.Options = o; return f },
		"freightways": func() []Option {
			return []Option{{Value: string(inventory.ByWeight), Label: "by weight"}, {Value: string(inventory.ByPrice), Label: "by price"}}
		},
		"taxhint": func(back bool) string {
			if back {
				return "comes back, and is no cost"
			}
			return "counts as cost"
		},
		"money":    func(minor int64, currency string) string { return cost.Format(minor, currency) },
		"costs":    func(m cost.Money, currency string) string { return cost.Format(m.Rounded(), currency) },
		"amount":   func(n int64, u inventory.Unit) string { return AmountWords(n, u, sys) },
		"localday": func(day string) string { return LocalDay(day) },
		"dayof":    func(day string) string { return dayPart(day, "2") },
		"monthof":  func(day string) string { return dayPart(day, "Jan") },
		"fid":      FieldID,
		"next":     func(n int) int { return n + 1 },
		"parts":    parts,
		"over":     standIcon,
		"id":       func(id string, f Field) Field { f.Attr.ID = id; return f },
		"weekdays": func() []Option { return Weekdays },
		"timers":   run.Timers,
		"gels":     func() []string { return []string{"no ring yet", "a ring", "all of it"} },
		"temps":    func() []Option { return []Option{{"lye", "Lye"}, {"fats", "Fats"}, {"room", "Room"}} },
		"at":       func(list string, i int, name string) string { return fmt.Sprintf("%s[%d].%s", list, i, name) },
		"state":    StateOf,
		"join":     strings.Join,
		"capital":  Capital,
		"unitname": func(u string) string {
			return map[string]string{"c": "°C", "f": "°F"}[u]
		},
		"levelword": func(l caution.Level) string {
			return map[caution.Level]string{caution.Advice: "Note", caution.Warn: "Careful", caution.Block: "Stop"}[l]
		},
	}
}

// AmountWords writes base units of a material: a weight, or pieces.
func AmountWords(n int64, u inventory.Unit, sys unit.System) string {
	if u == inventory.Pieces {
		return Plural(int(n), "piece")
	}
	sign := ""
	if n < 0 {
		sign, n = "−", -n
	}
	switch grams := inventory.Grams(n); {
	case sys == unit.US:
		return sign + unit.FormatMass(grams, sys)
	case grams >= 1000:
		return sign + unit.Trim(grams/1000, 3) + " kg"
	case grams < 10:
		return sign + unit.Trim(grams, 2) + " g"
	default:
		return sign + unit.Trim(grams, 1) + " g"
	}
}

// dayPart writes a part of a day that is kept as 2026-03-14.
func dayPart(day, layout string) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.Format(layout)
}

// LocalDay writes a day of the calendar that is kept as 2026-03-14.
func LocalDay(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return unit.FormatDay(at)
}

// weighedIn writes a weight with as many places as it has.
func weighedIn(grams float64, decimals int, sys unit.System) string {
	if sys == unit.US {
		return unit.FormatMass(grams, sys)
	}
	return unit.Trim(grams, decimals) + " g"
}

// readIn writes what a probe reads, to a tenth of a degree.
func readIn(celsius float64, sys unit.System) string {
	if sys == unit.US {
		return unit.Fixed(celsius*1.8+32, 1) + " °F"
	}
	return unit.Fixed(celsius, 1) + " °C"
}

// degreesIn writes a difference of temperatures.
func degreesIn(celsius float64, sys unit.System) string {
	if sys == unit.US {
		return unit.Fixed(celsius*1.8, 0) + " °F"
	}
	return unit.Fixed(celsius, 0) + " °C"
}

// markedIn writes marks in a line: in inches alone for who works in them.
func markedIn(marks []string, sys unit.System) string {
	out := slices.Clone(marks)
	for i, m := range out {
		if _, inches, ok := strings.Cut(m, " ("); ok && sys == unit.US {
			out[i] = strings.TrimSuffix(inches, ")")
		}
	}
	return strings.Join(out, ", ")
}

// besideIn is a weight in grams for who works in ounces, beside them where lye is weighed; empty for
// who works in grams.
func besideIn(grams float64, decimals int, sys unit.System) string {
	if sys != unit.US {
		return ""
	}
	return unit.Fixed(grams, decimals) + " g"
}

// drawnText is the text of a drawing.
var drawnText = regexp.MustCompile(`>[^<>]+<`)

// saidIn writes the words of a drawing in the owner's units.
func saidIn(svg string, sys unit.System) string {
	if sys != unit.US {
		return svg
	}
	return drawnText.ReplaceAllStringFunc(svg, func(text string) string { return unit.Said(text, sys) })
}

// standIcon is the sign for how a weight stands to its mark.
func standIcon(stand int) string {
	switch {
	case stand < 0:
		return "st-under"
	case stand > 0:
		return "st-over"
	}
	return "st-good"
}

// parts hands several things to a template by their names: a name, a thing, and so on.
func parts(list ...any) (map[string]any, error) {
	out := map[string]any{}
	for i := 0; i < len(list); i += 2 {
		name, ok := list[i].(string)
		if !ok || i+1 == len(list) {
			return nil, fmt.Errorf("parts are a name and a thing in turn, not %v", list)
		}
		out[name] = list[i+1]
	}
	return out, nil
}

// State is a state with its shape, class and word.
type State struct{ Icon, Class, Word string }

func StateOf(s cure.State) State {
	switch s {
	case cure.Late:
		return State{"st-late", "state-late", "late"}
	case cure.Open:
		return State{"st-open", "state-open", "now"}
	}
	return State{"st-wait", "state-waiting", "soon"}
}

// Until says how far off a moment is, roughly, as people do.
func Until(t, now time.Time) string {
	d := t.Sub(now)
	ago := d < 0
	if ago {
		d = -d
	}
	var text string
	switch {
	case d < time.Hour:
		text = fmt.Sprintf("%d min", int(d.Minutes()))
	case d < 36*time.Hour:
		text = fmt.Sprintf("%d h", int(math.Round(d.Hours())))
	default:
		text = fmt.Sprintf("%d days", int(math.Round(d.Hours()/24)))
	}
	if ago {
		return text + " ago"
	}
	return "in " + text
}

// Options makes choices from values that can say themselves.
func Options[T interface {
	~string
	Words() string
}](list []T) []Option {
	out := make([]Option, len(list))
	for i, v := range list {
		out[i] = Option{string(v), v.Words()}
	}
	return out
}

// Words makes choices from plain words.
func Words(list []string) []Option {
	out := make([]Option, len(list))
	for i, v := range list {
		out[i] = Option{v, v}
	}
	return out
}

// Capital writes a sentence with its first letter large.
func Capital(s string) string { return unit.Capital(s) }
