package sale

import (
	"fmt"
	"math"

	"ashshelf/soap/unit"
)

// Day is what a product sold on a day to those who come all the time.
type Day struct {
	Bars   int
	Absent bool // none was there to be sold, so that the day says nothing of what was wanted
}

// Expected is what a product will sell over days to come, had it enough bars.
type Expected struct {
	Bars   int     // rounded up
	Weekly float64 // bars in a week
	Season float64 // how many times the pace of the last weeks; 1 where last year says nothing
	Why    string
}

// What is looked at, in days. A year is of 52 weeks, so that each day stands beside one of the same name.
const (
	PaceDays   = 91  // of which the pace is taken
	SeasonDays = 364 // after which the year comes round
	History    = SeasonDays + PaceDays
)

// What a pace and a season need to be believed, and how far a season may go: few bars are chance.
const (
	paceLeastDays    = 14
	seasonLeastBars  = 6
	seasonLeastShare = 0.5 // of the days, on which some were there
	seasonMost       = 3.0
)

// Expect says what a product will sell in the days from today on: as fast as in the last weeks, and as much faster as the
// same days of last year were beside the weeks before them. A product that was not there of late, or that nobody wanted
// then, goes by last year alone. Days without bars do not count. days is what was sold until yesterday, the oldest first;
// of those that are missing nothing is known.
func Expect(days []Day, ahead int) (e Expected) {
	ahead = min(ahead, SeasonDays)
	e.Season = 1
	if ahead <= 0 {
		return e
	}
	recent := paceOf(days, -PaceDays, PaceDays)
	before := paceOf(days, -History, PaceDays)
	season := paceOf(days, -SeasonDays, ahead)
	switch {
	case season.tells() && before.tells() && recent.bars > 0 && recent.present >= paceLeastDays:
		e.Season = math.Min(seasonMost, math.Max(1/seasonMost, season.daily()/before.daily()))
		e.Weekly = recent.daily() * e.Season * 7
		e.Why = recent.words() + fmt.Sprintf("; last year these days sold %s times as fast as those before them", unit.Trim(e.Season, 1))
	case season.tells() && (recent.bars == 0 || recent.present < paceLeastDays):
		e.Weekly = season.daily() * 7
		e.Why = fmt.Sprintf("%d sold in the same days last year", season.bars)
	default:
		e.Weekly = recent.daily() * 7
		e.Why = recent.words()
	}
	e.Bars = int(math.Ceil(e.Weekly/7*float64(ahead) - 1e-9))
	return e
}

// pace is how fast bars went over some days.
type pace struct {
	bars, days int
	present    int // days on which some were there
}

// paceOf is the pace over some days, from counted back from the end.
func paceOf(days []Day, from, length int) (p pace) {
	p.days = length
	for i := range length {
		at := len(days) + from + i
		if at < 0 || at >= len(days) {
			continue
		}
		p.bars += days[at].Bars
		if !days[at].Absent || days[at].Bars > 0 {
			p.present++
		}
	}
	return p
}

// tells reports whether it is enough to say what a season is like.
func (p pace) tells() bool {
	return p.bars >= seasonLeastBars && float64(p.present) >= seasonLeastShare*float64(p.days)
}

// daily is bars a day. A product that was hardly ever there goes by all days: what a few days sold is chance.
func (p pace) daily() float64 {
	if p.present < min(paceLeastDays, p.days) {
		return float64(p.bars) / float64(p.days)
	}
	return float64(p.bars) / float64(p.present)
}

func (p pace) words() string {
	said := fmt.Sprintf("%d sold in %d weeks", p.bars, p.days/7)
	if absent := p.days - p.present; absent > 0 && p.present >= paceLeastDays {
		said += fmt.Sprintf(", with none there on %d of the days", absent)
	}
	return said
}
