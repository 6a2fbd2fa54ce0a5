package exchange

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/unit"
)

// storesDoc is the store in the open format ashshelf.stores/1: materials, deliveries and their movements. Amounts of
// money are decimal, in the shop's currency.
type storesDoc struct {
	Format     string          `json:"format"`
	Currency   string          `json:"currency"`
	Materials  []stuffDoc      `json:"materials"`
	Deliveries []storedDoc     `json:"deliveries"`
	Movements  []storedMoveDoc `json:"movements"`
}

type stuffDoc struct {
	Key    string     `json:"key"`
	Name   string     `json:"name"`
	Kind   string     `json:"kind"`
	Label  string     `json:"label_name,omitempty"`
	Unit   string     `json:"unit"`
	Dense  float64    `json:"density_g_per_ml,omitempty"`
	Place  string     `json:"place,omitempty"`
	Offers []offerDoc `json:"offers,omitempty"`
}

type offerDoc struct {
	Supplier string  `json:"supplier"`
	Article  string  `json:"article,omitempty"`
	Grams    float64 `json:"grams,omitempty"`
	Pieces   int64   `json:"pieces,omitempty"`
	Price    string  `json:"price,omitempty"`
	Lead     int     `json:"lead_days,omitempty"`
}

type storedDoc struct {
	ID         string  `json:"id"`
	Key        string  `json:"key"`
	Name       string  `json:"name"`
	Supplier   string  `json:"supplier"`
	Code       string  `json:"code"`
	Received   string  `json:"received,omitempty"`
	BestBefore string  `json:"best_before,omitempty"`
	Opened     string  `json:"opened,omitempty"`
	Status     string  `json:"status"`
	Booked     bool    `json:"in_the_books"`
	Grams      float64 `json:"grams,omitempty"`
	Pieces     int64   `json:"pieces,omitempty"`
	GramsLeft  float64 `json:"grams_left,omitempty"`
	PiecesLeft int64   `json:"pieces_left,omitempty"`
	Cost       string  `json:"cost,omitempty"` // left out where it is not known
	Purity     float64 `json:"purity_percent,omitempty"`
	SAP        float64 `json:"sap_koh_mg_per_g,omitempty"`
}

type storedMoveDoc struct {
	Delivery string  `json:"delivery"`
	At       string  `json:"at"`
	Who      string  `json:"who"`
	What     string  `json:"what"`
	Grams    float64 `json:"grams,omitempty"`
	Pieces   int64   `json:"pieces,omitempty"`
	Lot      string  `json:"lot,omitempty"`
	Stock    string  `json:"container,omitempty"`
	Note     string  `json:"note,omitempty"`
	Why      string  `json:"books_were_short_because,omitempty"`
}

// Stores is what is written of a store. Deliveries have their moves.
type Stores struct {
	Currency   string
	Materials  []inventory.Material
	Deliveries []inventory.Delivery
}

// split writes an amount as grams or as pieces.
func split(n int64, u inventory.Unit) (grams float64, pieces int64) {
	if u == inventory.Pieces {
		return 0, n
	}
	return inventory.Grams(n), 0
}

// WriteStores writes a store in the open format ashshelf.stores/1.
func WriteStores(w io.Writer, s Stores) error {
	doc := storesDoc{
		Format: "ashshelf.stores/1", Currency: s.Currency, Materials: []stuffDoc{}, Deliveries: []storedDoc{}, Movements: []storedMoveDoc{},
	}
	for _, m := range s.Materials {
		one := stuffDoc{
			Key: string(m.Key), Name: oneLine(m.Name), Kind: string(m.Kind), Label: oneLine(m.Label), Unit: string(m.Unit), Dense: m.Dense,
			Place: oneLine(m.Place),
		}
		for _, o := range m.Offers {
			offer := offerDoc{Supplier: oneLine(o.Supplier), Article: oneLine(o.Article), Lead: o.Lead}
			if offer.Grams, offer.Pieces = split(o.Amount, m.Unit); o.Price >= 0 {
				offer.Price = cost.Format(o.Price, s.Currency)
			}
			one.Offers = append(one.Offers, offer)
		}
		doc.Materials = append(doc.Materials, one)
	}
	for _, d := range s.Deliveries {
		one := storedDoc{
			ID: d.OID, Key: string(d.Item), Name: oneLine(d.Name), Supplier: oneLine(d.Supplier), Code: oneLine(d.Code), Received: d.Received,
			BestBefore: d.BestBefore, Opened: d.Opened, Status: string(d.Status), Booked: d.Booked, Purity: d.Purity, SAP: d.SAP,
		}
		one.Grams, one.Pieces = split(d.Quantity, d.Unit)
		one.GramsLeft, one.PiecesLeft = split(d.Left, d.Unit)
		if sum, ok := d.Cost(); ok {
			one.Cost = cost.Format(sum.Rounded(), s.Currency)
		}
		doc.Deliveries = append(doc.Deliveries, one)
		for _, m := range d.Moves {
			move := storedMoveDoc{
				Delivery: d.OID, At: m.At.UTC().Format(time.RFC3339), Who: oneLine(m.Who), What: string(m.What), Lot: m.Lot, Stock: m.Stock,
				Note: oneLine(m.Note), Why: oneLine(m.Settled),
			}
			move.Grams, move.Pieces = split(m.Change, d.Unit)
			doc.Movements = append(doc.Movements, move)
		}
	}
	e := json.NewEncoder(w)
	e.SetIndent("", " ")
	if err := e.Encode(doc); err != nil {
		return fmt.Errorf("write stores: %w", err)
	}
	return nil
}

// WriteMaterials, WriteDeliveries and WriteMoves write a store as CSV.
func WriteMaterials(w io.Writer, s Stores) error {
	rows := [][]string{{"key", "name", "kind", "label_name", "unit", "place", "supplier", "article", "grams", "pieces", "price", "lead_days"}}
	for _, m := range s.Materials {
		head := []string{string(m.Key), m.Name, string(m.Kind), m.Label, string(m.Unit), m.Place}
		if len(m.Offers) == 0 {
			rows = append(rows, append(head, "", "", "", "", "", ""))
		}
		for _, o := range m.Offers {
			price := ""
			if o.Price >= 0 {
				price = cost.Format(o.Price, s.Currency)
			}
			row := append([]string{}, head...)
			rows = append(rows, append(row, o.Supplier, o.Article, gramsCell(o.Amount, m.Unit), piecesCell(o.Amount, m.Unit), price,
				strconv.Itoa(o.Lead)))
		}
	}
	return writeTable(w, "materials", rows)
}

// WriteDeliveries is said at [WriteMaterials].
func WriteDeliveries(w io.Writer, s Stores) error {
	rows := [][]string{{"material", "supplier", "code", "received", "best_before", "opened", "status", "grams", "pieces", "grams_left",
		"pieces_left", "cost", "currency"}}
	for _, d := range s.Deliveries {
		sum := ""
		if v, ok := d.Cost(); ok {
			sum = cost.Format(v.Rounded(), s.Currency)
		}
		rows = append(rows, []string{d.Name, d.Supplier, d.Code, d.Received, d.BestBefore, d.Opened, string(d.Status),
			gramsCell(d.Quantity, d.Unit), piecesCell(d.Quantity, d.Unit), gramsCell(d.Left, d.Unit), piecesCell(d.Left, d.Unit), sum,
			s.Currency})
	}
	return writeTable(w, "deliveries", rows)
}

// WriteMoves is said at [WriteMaterials].
func WriteMoves(w io.Writer, s Stores) error {
	rows := [][]string{{"at", "material", "supplier", "code", "what", "grams", "pieces", "lot", "container", "who", "note"}}
	for _, d := range s.Deliveries {
		for _, m := range d.Moves {
			note := strings.TrimPrefix(m.Note+"; "+m.Settled, "; ")
			rows = append(rows, []string{m.At.UTC().Format(time.RFC3339), d.Name, d.Supplier, d.Code, string(m.What),
				gramsCell(m.Change, d.Unit), piecesCell(m.Change, d.Unit), m.Lot, m.Stock, m.Who, strings.TrimSuffix(note, "; ")})
		}
	}
	return writeTable(w, "movements", rows)
}

func gramsCell(n int64, u inventory.Unit) string {
	if u == inventory.Pieces {
		return ""
	}
	return unit.Trim(inventory.Grams(n), 3)
}

func piecesCell(n int64, u inventory.Unit) string {
	if u != inventory.Pieces {
		return ""
	}
	return strconv.FormatInt(n, 10)
}

// ListRow is a row of a delivery note or of a list of what is there, by the names of its columns.
type ListRow struct {
	Line  int // in the file
	Cells map[string]string
}

// Limits of a list.
const (
	mostListBytes = 1 << 20
	mostListRows  = 500
)

// columns are the names that a column of a list may have.
var columns = map[string]string{
	"material": "name", "name": "name", "soap": "name", "supplier": "supplier", "code": "code", "lot": "code", "amount": "amount",
	"quantity": "amount", "price": "goods", "cost": "goods", "freight": "freight", "tax": "tax", "received": "received",
	"best before": "best_before", "opened": "opened", "purity": "purity", "sap": "sap", "bars": "bars", "made": "made", "ready": "ready",
	"kind": "kind", "note": "note", "place": "place",
}

// Columns are the names of columns that a list is read by, sorted.
func Columns() []string {
	return []string{"material", "kind", "supplier", "code", "amount", "price", "freight", "tax", "received", "best before", "opened",
		"place", "bars", "made", "ready", "note"}
}

// ReadList reads a delivery note or a list of what is there as CSV, parted by commas, semicolons or tabs. The first
// row names the columns; one that is not known is refused, so that nothing is passed over.
func ReadList(text []byte) ([]ListRow, error) {
	switch {
	case len(text) > mostListBytes:
		return nil, errors.New("the list is longer than a megabyte")
	case !utf8.Valid(text):
		return nil, errors.New("the list is not written in UTF-8: save it as “CSV UTF-8”")
	}
	body := strings.TrimPrefix(string(text), "\ufeff")
	head, _, _ := strings.Cut(body, "\n")
	c := csv.NewReader(strings.NewReader(body))
	c.TrimLeadingSpace = true
	for _, sep := range []rune{';', '\t'} {
		if strings.ContainsRune(head, sep) {
			c.Comma = sep
		}
	}
	names, err := c.Read()
	if errors.Is(err, io.EOF) {
		return nil, errors.New("the list is empty")
	}
	if err != nil {
		return nil, fmt.Errorf("the first row cannot be read: %w", err)
	}
	seen := map[string]bool{}
	for i, name := range names {
		plain := strings.ReplaceAll(strings.ToLower(strings.TrimSpace(name)), "_", " ")
		to, ok := columns[plain]
		if !ok {
			return nil, fmt.Errorf("column %d is called “%s”, which nobody here knows: the columns are %s", i+1, oneLine(name),
				strings.Join(Columns(), ", "))
		}
		if seen[to] {
			return nil, fmt.Errorf("two columns are the %s", plain)
		}
		seen[to], names[i] = true, to
	}
	var out []ListRow
	for {
		row, err := c.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			var bad *csv.ParseError
			if errors.As(err, &bad) {
				return nil, fmt.Errorf("row %d cannot be read: %w", bad.StartLine, bad.Err)
			}
			return nil, fmt.Errorf("the list cannot be read: %w", err)
		}
		line, _ := c.FieldPos(0)
		if len(out) == mostListRows {
			return nil, fmt.Errorf("the list has more than %d rows: take it in parts", mostListRows)
		}
		cells := map[string]string{}
		for i, cell := range row {
			cells[names[i]] = strings.TrimSpace(cell)
		}
		out = append(out, ListRow{line, cells})
	}
}
