package page

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/supply"
	"ashshelf/soap/cure"
	"ashshelf/soap/inventory"
	"ashshelf/soap/unit"
)

func MinutesWords(m float64) string {
	switch {
	case math.IsInf(m, 1):
		return "never: its surroundings are warmer"
	case m < 1:
		return "now"
	case m < 100:
		return fmt.Sprintf("%.0f minutes", m)
	}
	return fmt.Sprintf("%.1f hours", m/60)
}

// Plural writes a count with its noun.
func Plural(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + noun + "s"
}

func MaterialWords(code string) string {
	for _, m := range document.Materials() {
		if m.Code == code {
			return m.Words
		}
	}
	return code
}

// CutterOptions are the cutters of the shop.
func CutterOptions(tools []catalog.Tool, none string) []Option {
	out := []Option{{"", none}}
	for _, t := range tools {
		if t.Kind == document.Cutter && !t.Retired {
			out = append(out, Option{t.OID, t.Name + ", " + unit.Trim(t.Spacing, 1) + " mm"})
		}
	}
	return out
}

// MarkWords says where a mark is made, in both units, because the ruler on a
// cutting table may have either.
func MarkWords(mm float64) string {
	return unit.Trim(mm, 1) + " mm (" + unit.Trim(mm/unit.MMPerInch, 2) + " in)"
}

func ToolOptions(tools []catalog.Tool, kind document.ToolKind, none string) []Option {
	out := []Option{{"", none}}
	for _, t := range tools {
		if t.Kind == kind && !t.Retired {
			out = append(out, Option{t.OID, fmt.Sprintf("%s, %s ml", t.Name, unit.Trim(t.ML, 0))})
		}
	}
	return out
}

// Fact is one line of what a card says of the process.
type Fact struct{ Name, Words string }

// ProcessFacts says how a recipe is made, and that it comes out of its mold in w; what it leaves open is left out.
func ProcessFacts(b document.RecipeBody, w cure.Window, sys unit.System) []Fact {
	var out []Fact
	add := func(name, words string, said bool) {
		if said {
			out = append(out, Fact{name, words})
		}
	}
	pr := b.Formula.Process
	add("Made as", pr.Kind.Words(), pr.Kind != "")
	add("Working temperature", b.Formula.Worked().Words(), true)
	add("Lye at", unit.FormatTemperature(pr.LyeC, sys), pr.LyeC != 0)
	add("Fats at", unit.FormatTemperature(pr.FatsC, sys), pr.FatsC != 0)
	add("Pour at trace", pr.Trace.Words(), pr.Trace != "")
	add("Gel", pr.Gel.Words(), pr.Gel != "")
	add("Afterwards", pr.Cover.Words(), pr.Cover != "")
	add("Mold", MaterialWords(pr.Material), pr.Material != "")
	if w.None() {
		add("It stays", w.Why, true)
	} else {
		add(
			"Unmold",
			fmt.Sprintf("%s to %s h after the pour: %s", Hours(w.Opens), Hours(w.Closes), w.Why),
			true,
		)
	}
	c := b.Cure()
	add("Cure", fmt.Sprintf("%s, at least %d days", c.Name, c.Days), true)
	return out
}

// Weekdays by the short names that days off are kept under.
var Weekdays = []Option{
	{"mon", "Monday"},
	{"tue", "Tuesday"},
	{"wed", "Wednesday"},
	{"thu", "Thursday"},
	{"fri", "Friday"},
	{"sat", "Saturday"},
	{"sun", "Sunday"},
}

// Hours says how long something takes: to half an hour up to half a day, to the hour beyond. More is not
// known of soap.
func Hours(d time.Duration) string {
	if d < 12*time.Hour {
		return unit.Trim(d.Round(30*time.Minute).Hours(), 1)
	}
	return unit.Trim(d.Hours(), 0)
}

// DayWritten writes a local date, such as 2026-03-14, as people write it; what is none stays as it is.
func DayWritten(date string) string {
	day, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return unit.FormatDay(day)
}

// term is a word of the craft that stops a newcomer, said in a sentence or two where it stands.
type term struct {
	Key, Term, Text string
	More            string // where the guide says more
}

var terms = map[string]term{
	"superfat": {
		Term: "Superfat", More: "/guide/using#the-recipe-bench",
		Text: "How much of the fats the lye leaves as they are, in percent. 5 % is usual in a bar: it is kinder to skin, and a margin " +
			"for a scale that is a little off. Below 2 % a bar may burn; much above 8 % it stays soft and spoils sooner.",
	},
	"discount": {
		Term: "Lye strength, liquid, discount", More: "/guide/using#the-recipe-bench",
		Text: "Four ways to say how much water goes in: as the strength of the lye (33 g of lye in 100 g of lye and liquid), as liquid " +
			"to lye, in percent of the fats, or as a discount, which is how much less than the recipe’s full liquid. Less water sets and " +
			"dries faster, and gives less time.",
	},
	"share": {
		Term: "Percent or weight", More: "/guide/using#typing-weights-and-lengths",
		Text: "A recipe in percent fits any mold. Type all fats as weights instead (350 g, 12 oz) if that is how it came to you: it is " +
			"kept and opens in its weights, and is scaled all the same.",
	},
	"lock": {
		Term: "Lock", More: "/guide/using#the-recipe-bench",
		Text: "What is locked keeps its share while the others give or take: when a joint is moved, and when the rest is brought to 100.",
	},
	"revision": {
		Term: "Revision", More: "/guide/using#the-recipe-bench",
		Text: "Each time you keep a recipe it becomes a revision of its own, and the ones before stay. A lot says which it was made from.",
	},
	"crystal point": {
		Term: "Crystal point", More: "/guide/using#lye",
		Text: "Below some temperature lye that stands falls out as crystals, at 50 % already in a cool room. What is then poured off the " +
			"top is weaker than the label says, and the last of it stronger: it makes bars that burn. A stock is kept, and warmed, above it.",
	},
	"master batch": {
		Term: "Stock of lye", More: "/guide/using#lye",
		Text: "Lye dissolved ahead for many pots, mostly half lye and half water. It is cool when you need it, and dry lye is handled " +
			"once instead of at every pot. Each pot then needs less of it, and more water of its own.",
	},
	"load": {
		Term: "Load for a scent that may hurry", More: "/guide/using#plan",
		Text: "A scent can thicken batter within a minute. For one that may, or that nobody has tried, a pot is planned smaller, so " +
			"that all of it is in the molds in time: this share of what the pot takes otherwise.",
	},
	"cure": {
		Term: "Cure", More: "/guide/using#the-life-of-a-lot",
		Text: "The weeks in which a bar dries and its soap arranges itself: it becomes harder, milder and lasts longer. It is ready when " +
			"its days are done and its weight has settled.",
	},
}

// termOf is a word of the craft; a template that asks for one that is not there fails.
func termOf(key string) (term, error) {
	t, ok := terms[key]
	if !ok {
		return t, fmt.Errorf("no help on %q", key)
	}
	t.Key = strings.ReplaceAll(key, " ", "-")
	return t, nil
}

// FromOptions are the deliveries of a kind that something can be taken from, each as a choice.
func FromOptions(room supply.Storeroom, kind inventory.Kind, sys unit.System) []Option {
	out := []Option{{Label: "not said"}}
	for _, l := range room.Lines {
		if l.Kind != kind {
			continue
		}
		for _, d := range l.Deliveries {
			if d.Open() {
				out = append(out, Option{Value: d.OID, Label: d.Name + ", " + DeliveryWords(d, l.Life, sys)})
			}
		}
	}
	return out
}

// DeliveryWords say which delivery it is, how much is left of it, and until when it keeps.
func DeliveryWords(d inventory.Delivery, l inventory.Life, sys unit.System) string {
	out := d.Short()
	if d.Booked {
		out += ": " + AmountWords(d.Left, d.Unit, sys) + " left"
	}
	if d.Opened != "" {
		out += ", open"
	}
	if end := d.Expires(l); end != "" {
		out += ", use by " + LocalDay(end)
	}
	return out
}
