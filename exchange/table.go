package exchange

import (
	"encoding/csv"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unicode"
)

// writeTable writes rows as CSV. No cell of it is taken for a formula by a spreadsheet:
// whatever begins like one and is no number has an apostrophe before it.
func writeTable(w io.Writer, what string, rows [][]string) error {
	for _, row := range rows {
		for i, cell := range row {
			row[i] = plain(cell)
		}
	}
	if err := csv.NewWriter(w).WriteAll(rows); err != nil {
		return fmt.Errorf("write %s: %w", what, err)
	}
	return nil
}

// WriteTable writes rows of text as CSV, the first of them the names of the columns.
func WriteTable(w io.Writer, what string, rows [][]string) error { return writeTable(w, what, rows) }

func plain(cell string) string {
	if _, err := strconv.ParseFloat(cell, 64); err == nil {
		return cell
	}
	if begins := strings.TrimLeftFunc(cell, unseen); begins != "" && strings.ContainsRune("=+-@＝＋－＠|%", []rune(begins)[0]) {
		return "'" + cell
	}
	return cell
}

// unseen are characters that a spreadsheet may pass over before it looks at a cell.
func unseen(r rune) bool {
	return unicode.IsSpace(r) || unicode.IsControl(r) || unicode.Is(unicode.Cf, r)
}

// oneLine is a text without characters that a line of a file is cut at.
func oneLine(text string) string {
	return strings.Join(strings.FieldsFunc(text, unicode.IsControl), " ")
}
