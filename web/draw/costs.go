package draw

import (
	"fmt"
	"math"
)

// CostLine is one ingredient with what it cost, as it is written beside its bar.
type CostLine struct {
	Name    string
	Minor   int64 // minor units of money
	Text    string
	Unknown bool // some of it has no price
}

// The measures of a picture of costs.
const (
	costW, costRow  = 470.0, 26.0
	costName        = 178.0 // room for names
	costText        = 116.0 // and for what is written at the end
	costBar         = 14.0
	mostCostName    = 24 // letters of a name
	leastVisibleBar = 1.5
)

// OfCosts lays out what each ingredient cost as a bar, the dearest first, in one scale. What has no price has an open
// end, since it may be any.
func OfCosts(lines []CostLine) Picture {
	p := Picture{W: costW, H: costRow * math.Max(1, float64(len(lines)))}
	most := int64(1)
	for _, l := range lines {
		most = max(most, l.Minor)
	}
	wide := costW - costName - costText
	for i, l := range lines {
		y := float64(i) * costRow
		p.text("", costName-10, y+costRow*0.68, 14, "end", short(l.Name, mostCostName))
		w := wide * float64(l.Minor) / float64(most)
		if l.Minor > 0 {
			w = math.Max(w, leastVisibleBar)
			p.rect("wood", costName, y+(costRow-costBar)/2, w, costBar)
		}
		if l.Unknown {
			p.path("ln-dash", fmt.Sprintf("M%.1f %.1fh18m0 %.1fh-18", costName+w, y+(costRow-costBar)/2, costBar))
			w += 20
		}
		p.text("", costName+w+8, y+costRow*0.68, 14, "start", l.Text)
	}
	p.Title = fmt.Sprintf("What %s cost", counted(len(lines), "ingredient"))
	return p
}

// RiseLine is a bar of a recipe before and after a price.
type RiseLine struct {
	Name          string
	Before, After int64 // minor units of money
	Text          string
}

// OfRise lays out what bars cost before and after: what each costs now as a board, and what comes on top of it, or
// falls away from its end.
func OfRise(lines []RiseLine) Picture {
	p := Picture{W: costW, H: costRow * math.Max(1, float64(len(lines)))}
	most := int64(1)
	for _, l := range lines {
		most = max(most, l.Before, l.After)
	}
	scale := (costW - costName - costText) / float64(most)
	for i, l := range lines {
		y := float64(i)*costRow + (costRow-costBar)/2
		p.text("", costName-10, y+costBar-2, 14, "end", short(l.Name, mostCostName))
		low, high := scale*float64(min(l.Before, l.After)), scale*float64(max(l.Before, l.After))
		p.rect("wood", costName, y, low, costBar)
		switch {
		case l.After > l.Before:
			p.rect("batter", costName+low, y, high-low, costBar)
		case l.After < l.Before:
			p.path("ln-dash", fmt.Sprintf("M%.1f %.1fh%.1fv%.1fh-%.1f", costName+low, y, high-low, costBar, high-low))
		}
		p.text("", costName+high+8, y+costBar-2, 14, "start", l.Text)
	}
	p.Title = fmt.Sprintf("What a bar of %s costs", counted(len(lines), "recipe"))
	return p
}
