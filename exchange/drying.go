package exchange

import (
	"fmt"
	"io"
	"math"

	"ashshelf/soap/cure"
	"ashshelf/soap/dry"
)

// The formats of a bar that dries.
const (
	DryingFormat         = "ashshelf.drying/1"
	DryingForecastFormat = "ashshelf.drying-forecast/1"
)

type dryingDoc struct {
	Format string   `json:"format"`
	Step   float64  `json:"scale_step_g"`
	Limit  *float64 `json:"settled_percent_per_week"`
	Bar    *struct {
		Length    float64 `json:"length_mm"`
		Width     float64 `json:"width_mm"`
		Thickness float64 `json:"thickness_mm"`
	} `json:"bar"`
	Weights []struct {
		Hours float64 `json:"hours"`
		Grams float64 `json:"grams"`
	} `json:"weights"`
	Room []struct {
		Hours    float64  `json:"hours"`
		Humidity *float64 `json:"humidity_percent"`
		Celsius  *float64 `json:"temperature_c"`
	} `json:"room"`
}

// ReadDrying reads a bar that dries. Problems of what was written are of type
// [caution.Problems]; other errors are of reading.
func ReadDrying(r io.Reader) (dry.Case, error) {
	text, err := readText(r)
	if err != nil {
		return dry.Case{}, err
	}
	var d dryingDoc
	if err := readInto(text, "drying-1", &d); err != nil {
		return dry.Case{}, err
	}
	c := dry.Case{Step: d.Step, Limit: or(d.Limit, cure.SettledLoss)}
	if d.Bar != nil {
		c.Bar = dry.Bar{Length: d.Bar.Length, Width: d.Bar.Width, Thickness: d.Bar.Thickness}
	}
	for _, w := range d.Weights {
		c.Weighings = append(c.Weighings, dry.Weighing{Hours: w.Hours, Grams: w.Grams})
	}
	for _, a := range d.Room {
		air := dry.Air{Hours: a.Hours}
		air.Humidity, air.Celsius = or(a.Humidity, notRead), or(a.Celsius, math.NaN())
		c.Room = append(c.Room, air)
	}
	return c, told(c.Check()).Err()
}

// notRead is the humidity of air that nobody measured.
const notRead = -1.0

type settledDoc struct {
	Likely float64 `json:"likely_hours"`
	Early  float64 `json:"early_hours"`
	Late   float64 `json:"late_hours"`
}

// round writes a figure with so many decimals.
func round(v float64, decimals int) float64 {
	by := math.Pow(10, float64(decimals))
	return math.Round(v*by) / by
}

// WriteDryingForecast writes how a bar will dry.
func WriteDryingForecast(w io.Writer, f dry.Forecast) error {
	return writeJSON(w, struct {
		Format  string     `json:"format"`
		Final   float64    `json:"final_g"`
		Weekly  float64    `json:"weekly_loss_percent"`
		Settled settledDoc `json:"settled"`
		Chance  float64    `json:"settled_probability"`
	}{
		DryingForecastFormat, round(f.FinalG, 3), round(f.WeeklyPct, 4),
		settledDoc{round(f.Likely, 1), round(f.Early, 1), round(f.Late, 1)}, min(round(f.Chance, 4), 1),
	})
}

// WriteDryingText writes it for a person.
func WriteDryingText(w io.Writer, f dry.Forecast) error {
	days := func(hours float64) float64 { return hours / 24 }
	_, err := fmt.Fprintf(w, "dries towards %.1f g\nloses %.2f %% in the week after the last weighing\n"+
		"settled about day %.0f after the pour, nine times in ten between day %.0f and day %.0f\n"+
		"settled at the last weighing: %.0f %%\n",
		f.FinalG, f.WeeklyPct, days(f.Likely), days(f.Early), days(f.Late), 100*f.Chance)
	return err
}
