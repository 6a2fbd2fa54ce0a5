// Package table reads the reference tables that are embedded in the core:
// comma-separated, '#' starts a comment line, the first row names the columns.
//
// The tables are part of the program, so a fault in one is a fault of the
// program: reading panics, and the tests of each package read its table.
package table

import (
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Row is one line of a table.
type Row struct {
	columns map[string]int
	cells   []string
}

// Read parses a whole table.
func Read(text string) []Row {
	r := csv.NewReader(strings.NewReader(text))
	r.Comment = '#'
	all, err := r.ReadAll()
	if err != nil || len(all) < 2 {
		panic(fmt.Sprintf("reference table: %d rows: %v", len(all), err))
	}
	columns := map[string]int{}
	for i, name := range all[0] {
		columns[name] = i
	}
	rows := make([]Row, 0, len(all)-1)
	for _, cells := range all[1:] {
		rows = append(rows, Row{columns, cells})
	}
	return rows
}

// Text returns the cell of a column.
func (r Row) Text(column string) string {
	i, ok := r.columns[column]
	if !ok {
		panic("reference table: no column " + column)
	}
	return r.cells[i]
}

// Number returns the cell of a column as a number; an empty cell is 0.
func (r Row) Number(column string) float64 {
	s := r.Text(column)
	if s == "" {
		return 0
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		panic(fmt.Sprintf("reference table: column %s: %v", column, err))
	}
	return v
}

// Points is a curve given by rising x, read off by straight lines between its
// points and held at its ends.
type Points struct{ X, Y []float64 }

// Curve takes two columns of a table as a curve.
func Curve(rows []Row, x, y string) Points {
	p := Points{make([]float64, len(rows)), make([]float64, len(rows))}
	for i, r := range rows {
		p.X[i], p.Y[i] = r.Number(x), r.Number(y)
		if i > 0 && p.X[i] <= p.X[i-1] {
			panic("reference table: " + x + " does not rise")
		}
	}
	return p
}

// CarriedTo carries the last line of the curve on to x, for figures that are
// known to go on rising where the table ends.
func (p Points) CarriedTo(x float64) Points {
	last := len(p.X) - 1
	slope := (p.Y[last] - p.Y[last-1]) / (p.X[last] - p.X[last-1])
	return Points{append(slices.Clone(p.X), x), append(slices.Clone(p.Y), p.Y[last]+slope*(x-p.X[last]))}
}

// At reads the curve at x.
func (p Points) At(x float64) float64 {
	last := len(p.X) - 1
	if x <= p.X[0] {
		return p.Y[0]
	}
	for i := 1; i <= last; i++ {
		if x <= p.X[i] {
			f := (x - p.X[i-1]) / (p.X[i] - p.X[i-1])
			return p.Y[i-1] + f*(p.Y[i]-p.Y[i-1])
		}
	}
	return p.Y[last]
}
