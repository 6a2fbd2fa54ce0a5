package exchange

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/timetable"
)

// The formats of a day's batches, and of when their steps are done.
const (
	DayRequestFormat = "ashshelf.day-request/1"
	DayFormat        = "ashshelf.day/1"
)

type dayDoc struct {
	Start     string         `json:"start"`
	End       string         `json:"end"`
	Resources map[string]int `json:"resources"`
	Batches   []struct {
		Name  string `json:"name"`
		Steps []struct {
			Name    string            `json:"name"`
			Minutes int               `json:"minutes"`
			Uses    []string          `json:"uses"`
			Keeps   map[string]string `json:"keeps"`
			After   []string          `json:"after"`
			Within  map[string]int    `json:"within"`
			At      string            `json:"at"`
			From    string            `json:"from"`
		} `json:"steps"`
	} `json:"batches"`
}

// ReadDay reads the batches of a day. Problems of what was written are of type [caution.Problems]; other errors are of
// reading.
func ReadDay(r io.Reader) (timetable.Day, error) {
	text, err := readText(r)
	if err != nil {
		return timetable.Day{}, err
	}
	var doc dayDoc
	if err := readInto(text, "day-request-1", &doc); err != nil {
		return timetable.Day{}, err
	}
	var p caution.Problems
	at := func(path, text string) int {
		minute, ok := timetable.ReadClock(text)
		if !ok && text != "" {
			p.Add(path, "“%s” is no time of the day", text)
		}
		return minute
	}
	d := timetable.Day{Start: at("start", doc.Start), End: at("end", doc.End), Resources: doc.Resources}
	for i, b := range doc.Batches {
		one := timetable.Batch{Name: b.Name}
		for j, s := range b.Steps {
			path := fmt.Sprintf("batches[%d].steps[%d]", i, j)
			one.Steps = append(one.Steps, timetable.Step{Name: s.Name, Minutes: s.Minutes, Uses: s.Uses, Keeps: s.Keeps, After: s.After,
				Within: s.Within, At: at(path+".at", s.At), From: at(path+".from", s.From)})
		}
		d.Batches = append(d.Batches, one)
	}
	if len(p) == 0 {
		p = d.Check()
	}
	return d, told(p).Err()
}

type stepDoc struct {
	Batch string `json:"batch"`
	Name  string `json:"name"`
	From  string `json:"from"`
	To    string `json:"to"`
}

type lateDoc struct {
	Batch string `json:"batch"`
	Why   string `json:"why"`
}

// WriteDay writes when the steps of a day are done.
func WriteDay(w io.Writer, p timetable.Plan) error {
	doc := struct {
		Format  string    `json:"format"`
		Steps   []stepDoc `json:"steps"`
		Ends    string    `json:"ends"`
		AtLeast string    `json:"at_least"`
		Late    []lateDoc `json:"late"`
	}{DayFormat, []stepDoc{}, timetable.Clock(p.Ends), timetable.Clock(p.AtLeast), []lateDoc{}}
	for _, s := range p.Steps {
		doc.Steps = append(doc.Steps, stepDoc{s.Batch, s.Name, timetable.Clock(s.From), timetable.Clock(s.To)})
	}
	for _, l := range p.Late {
		doc.Late = append(doc.Late, lateDoc(l))
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	if err := e.Encode(doc); err != nil {
		return fmt.Errorf("write a day: %w", err)
	}
	return nil
}

// WriteDayText writes it to be read, with what each step waits for.
func WriteDayText(w io.Writer, p timetable.Plan) error {
	var b strings.Builder
	for _, s := range p.Steps {
		fmt.Fprintf(&b, "%s to %s  %s: %s", timetable.Clock(s.From), timetable.Clock(s.To), oneLine(s.Batch), oneLine(s.Name))
		if s.Waits != nil {
			fmt.Fprintf(&b, "  (%s)", oneLine(s.Waits.Words()))
		}
		b.WriteString("\n")
	}
	if len(p.Steps) > 0 {
		fmt.Fprintf(&b, "All is done at %s, and could not be before %s.\n", timetable.Clock(p.Ends), timetable.Clock(p.AtLeast))
	}
	for _, l := range p.Late {
		fmt.Fprintf(&b, "%s is not made: %s\n", oneLine(l.Batch), oneLine(l.Why))
	}
	if b.Len() == 0 {
		b.WriteString("Nothing is to be done.\n")
	}
	if _, err := io.WriteString(w, b.String()); err != nil {
		return fmt.Errorf("write a day: %w", err)
	}
	return nil
}
