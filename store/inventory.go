package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
)

// ErrShort says that a delivery holds less than is to be taken.
var ErrShort = errors.New("the delivery holds less than that")

// AddDelivery puts an ingredient lot into the books, with nothing in it yet.
func (t *Tx) AddDelivery(entry int64, d inventory.Delivery, order string, line int) error {
	if err := t.exec(
		"add delivery",
		`INSERT INTO delivery (entry_id, delivery_id, unit, quantity, opening, order_id, line) VALUES (?, ?, ?, ?, ?,
			(SELECT id FROM supply_order WHERE oid = ?), ?)`,
		entry, d.ID, d.Unit, d.Quantity, d.Opening, order, line,
	); err != nil {
		return err
	}
	return t.exec("open delivery", `INSERT INTO delivery_balance (delivery_id, amount, priced) VALUES (?, 0, 0)`, d.ID)
}

// AddDeliveryPrice writes what a delivery cost; goods is nil where that is not known.
func (t *Tx) AddDeliveryPrice(entry, id int64, goods *int64, freight, tax int64, taxBack bool, note string) error {
	return t.exec(
		"add delivery price",
		`INSERT INTO delivery_price (entry_id, delivery_id, goods, freight, tax, tax_back, note) VALUES (?,?,?,?,?,?,?)`,
		entry, id, goods, freight, tax, taxBack, note,
	)
}

// DeliveryWord is what became known of a delivery; a nil field was not said.
type DeliveryWord struct {
	BestBefore, Opened, Place *string
	Status                    *inventory.Status
	Why                       string
	Who                       string
	At                        time.Time
}

// AddDeliveryWord writes what became known.
func (t *Tx) AddDeliveryWord(entry, id int64, w DeliveryWord) error {
	return t.exec(
		"add delivery word",
		`INSERT INTO delivery_word (entry_id, delivery_id, best_before, opened, status, place, why) VALUES (?,?,?,?,?,?,?)`,
		entry, id, w.BestBefore, w.Opened, w.Status, w.Place, w.Why,
	)
}

// MoveOf says what a move of a delivery is for; 0 and empty where it is for none.
type MoveOf struct {
	Lot, Stock int64
	Infusion   string // identity
}

// MoveDelivery writes a change of a delivery and its balance. It is [ErrShort] when less is there than is taken.
func (t *Tx) MoveDelivery(entry, id int64, m inventory.Move, of MoveOf) error {
	var have, priced int64
	if err := t.one("delivery balance", `SELECT amount, priced FROM delivery_balance WHERE delivery_id = ?`, []any{id},
		&have, &priced); err != nil {
		return err
	}
	if have+m.Change < 0 || priced+m.Priced < 0 || priced+m.Priced > have+m.Change {
		return fmt.Errorf("change %d of %d: %w", m.Change, have, ErrShort)
	}
	if err := t.exec(
		"add delivery move",
		`INSERT INTO delivery_move (entry_id, delivery_id, what, change, priced, lot_id, stock_id, infusion_id, note)
			VALUES (?,?,?,?,?,nullif(?,0),nullif(?,0),(SELECT id FROM infusion WHERE oid = ?),?)`,
		entry, id, m.What, m.Change, m.Priced, of.Lot, of.Stock, of.Infusion, m.Note,
	); err != nil {
		return err
	}
	return t.exec("change delivery", `UPDATE delivery_balance SET amount = amount + ?, priced = priced + ? WHERE delivery_id = ?`,
		m.Change, m.Priced, id)
}

// AddDeliveryReason says why the books were short at a move.
func (t *Tx) AddDeliveryReason(entry, move int64, why string) error {
	return t.exec("add delivery reason", `INSERT INTO delivery_reason (entry_id, move_id, why) VALUES (?,?,?)`, entry, move, why)
}

// AddDeliveryPaper writes the row of a paper whose file is there.
func (t *Tx) AddDeliveryPaper(entry, id int64, p inventory.Paper) error {
	return t.exec("add delivery paper", `INSERT INTO delivery_paper (entry_id, delivery_id, file, name) VALUES (?,?,?,?)`,
		entry, id, p.File, p.Name)
}

// DeliveriesWhere says which deliveries are meant.
type DeliveriesWhere struct {
	OID   string
	ID    int64
	Item  plan.Key // whatever it is written with, large or small letters
	Left  bool     // those with something left, and those that are in no book
	Order string   // identity of the order they came by
	Lot   int64    // that something of was weighed for a lot
	Stock int64    // or filled into a container
	Jar   string   // or into a jar, by its identity
}

// newestWord is the newest word of a kind on a delivery.
func newestWord(column, said, otherwise string) string {
	return `coalesce((SELECT ` + column + ` FROM delivery_word x WHERE x.delivery_id = i.id AND ` + said +
		` IS NOT NULL ORDER BY entry_id DESC LIMIT 1), '` + otherwise + `')`
}

var deliveryQuery = `SELECT i.id, ` + boughtColumns + `, d.entry_id IS NOT NULL, coalesce(d.unit, 'mg'), coalesce(d.quantity, 0),
	coalesce(d.opening, 0), coalesce(b.amount, 0), coalesce(b.priced, 0), p.goods, coalesce(p.freight, 0), coalesce(p.tax, 0),
	coalesce(p.tax_back, 0), e.occurred_at, coalesce(w.name, ''), ` + strings.Join([]string{
	newestWord("best_before", "best_before", ""), newestWord("opened", "opened", ""), newestWord("place", "place", ""),
	newestWord("status", "status", "usable"), newestWord("why", "status", ""),
}, ", ") + ` FROM ingredient_lot i
	LEFT JOIN delivery d ON d.delivery_id = i.id
	LEFT JOIN delivery_balance b ON b.delivery_id = i.id
	LEFT JOIN delivery_price p ON p.entry_id = (SELECT max(entry_id) FROM delivery_price y WHERE y.delivery_id = i.id)
	JOIN entry e ON e.id = i.entry_id LEFT JOIN person w ON w.id = e.person_id `

// Deliveries returns deliveries in the order in which they were noted, without their moves.
func (t *Tx) Deliveries(w DeliveriesWhere) (out []inventory.Delivery, err error) {
	where, args := "WHERE 1", []any{}
	add := func(is bool, cond string, v ...any) {
		if is {
			where, args = where+" AND "+cond, append(args, v...)
		}
	}
	add(w.OID != "", "i.oid = ?", w.OID)
	add(w.ID != 0, "i.id = ?", w.ID)
	add(w.Item != "", "i.item = ? COLLATE NOCASE", w.Item)
	add(w.Left, "(b.amount > 0 OR b.amount IS NULL)")
	add(w.Order != "", "d.order_id = (SELECT id FROM supply_order WHERE oid = ?)", w.Order)
	add(w.Lot != 0, "i.id IN (SELECT delivery_id FROM delivery_move WHERE lot_id = ?)", w.Lot)
	add(w.Stock != 0, "i.id IN (SELECT delivery_id FROM delivery_move WHERE stock_id = ?)", w.Stock)
	add(w.Jar != "", "i.id IN (SELECT delivery_id FROM delivery_move WHERE infusion_id = (SELECT id FROM infusion WHERE oid = ?))", w.Jar)
	err = t.each("deliveries", deliveryQuery+where+" ORDER BY i.id", args, func(r *sql.Rows) error {
		var d inventory.Delivery
		var goods sql.NullInt64
		var came int64
		if err := r.Scan(&d.ID, &d.OID, &d.Item, &d.Name, &d.Supplier, &d.Code, &d.Received, &d.Purity, &d.SAP, &d.Booked, &d.Unit,
			&d.Quantity, &d.Opening, &d.Left, &d.Priced, &goods, &d.Freight, &d.Tax, &d.TaxBack, &came, &d.Who,
			&d.BestBefore, &d.Opened, &d.Place, &d.Status, &d.Why); err != nil {
			return err
		}
		if goods.Valid {
			d.Goods = &goods.Int64
		}
		d.Came = time.UnixMilli(came)
		out = append(out, d)
		return nil
	})
	return out, err
}

// Delivery returns one delivery with its moves and papers; [ErrNotFound] when there is none.
func (t *Tx) Delivery(oid string) (d inventory.Delivery, err error) {
	list, err := t.Deliveries(DeliveriesWhere{OID: oid})
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("delivery %s: %w", oid, ErrNotFound)
	}
	if err != nil {
		return d, err
	}
	d = list[0]
	moves, err := t.DeliveryMoves(MovesWhere{Delivery: d.ID})
	for _, m := range moves {
		d.Moves = append(d.Moves, m.Move)
	}
	if err != nil {
		return d, err
	}
	return d, t.each("delivery papers", `SELECT file, name FROM delivery_paper WHERE delivery_id = ? ORDER BY entry_id`, []any{d.ID},
		func(r *sql.Rows) error {
			var p inventory.Paper
			err := r.Scan(&p.File, &p.Name)
			d.Papers = append(d.Papers, p)
			return err
		})
}

// MovesWhere says which moves are meant.
type MovesWhere struct {
	Delivery, Lot, Stock int64
	Jar                  string
	Packed               bool // what bars were packed in
	Found                bool // what the books were short of, and nobody has said why
}

// DeliveryMove is a move with what it is of.
type DeliveryMove struct {
	inventory.Move
	Delivery int64
	OID      string
	Item     plan.Key
	Name     string
}

// DeliveryMoves returns moves in their order.
func (t *Tx) DeliveryMoves(w MovesWhere) (out []DeliveryMove, err error) {
	where, args := "WHERE 1", []any{}
	add := func(is bool, cond string, v ...any) {
		if is {
			where, args = where+" AND "+cond, append(args, v...)
		}
	}
	add(w.Delivery != 0, "m.delivery_id = ?", w.Delivery)
	add(w.Lot != 0, "m.lot_id = ?", w.Lot)
	add(w.Stock != 0, "m.stock_id = ?", w.Stock)
	add(w.Jar != "", "m.infusion_id = (SELECT id FROM infusion WHERE oid = ?)", w.Jar)
	add(w.Packed, "m.what = 'packed'")
	add(w.Found, "m.what = 'found' AND r.why IS NULL")
	err = t.each("delivery moves", `SELECT m.entry_id, m.delivery_id, i.oid, i.item, i.name, m.what, m.change, m.priced,
			coalesce(l.code, ''), coalesce(l.oid, ''), coalesce(s.code, ''), m.note, coalesce(r.why, ''), coalesce(w.name, ''), e.occurred_at
			FROM delivery_move m JOIN ingredient_lot i ON i.id = m.delivery_id JOIN entry e ON e.id = m.entry_id
			LEFT JOIN person w ON w.id = e.person_id LEFT JOIN lot l ON l.id = m.lot_id LEFT JOIN stock s ON s.id = m.stock_id
			LEFT JOIN delivery_reason r ON r.move_id = m.entry_id `+where+` ORDER BY m.entry_id`, args,
		func(r *sql.Rows) error {
			var m DeliveryMove
			var at int64
			if err := r.Scan(&m.Entry, &m.Delivery, &m.OID, &m.Item, &m.Name, &m.What, &m.Change, &m.Priced, &m.Lot, &m.LotOID,
				&m.Stock, &m.Note, &m.Settled, &m.Who, &at); err != nil {
				return err
			}
			m.At = time.UnixMilli(at)
			out = append(out, m)
			return nil
		})
	return out, err
}

// Taken is how much soap took of each ingredient since a moment, and since when the shop has it.
type Taken struct {
	Item   plan.Key
	Amount int64
	Since  string // local day of its first delivery; empty when no day was noted
}

// TakenSince adds up what soap took.
func (t *Tx) TakenSince(from time.Time) (out []Taken, err error) {
	err = t.each("use", `SELECT i.item, -sum(m.change),
			(SELECT coalesce(min(nullif(received, '')), '') FROM ingredient_lot f WHERE f.item = i.item)
			FROM entry e CROSS JOIN delivery_move m ON m.entry_id = e.id JOIN ingredient_lot i ON i.id = m.delivery_id
			WHERE e.recorded_at >= ? AND m.what IN ('weighed', 'filled', 'steeped', 'packed') GROUP BY i.item`,
		[]any{from.UnixMilli()}, func(r *sql.Rows) error {
			var u Taken
			err := r.Scan(&u.Item, &u.Amount, &u.Since)
			out = append(out, u)
			return err
		})
	return out, err
}

// SupplyOrder is an order to a supplier. Body is JSON.
type SupplyOrder struct {
	ID       int64
	OID      string
	Number   int
	Supplier string
	Body     []byte
	At       time.Time
	Who      string
	Status   string // "sent", "closed" or "withdrawn"
	Note     string // of the status
}

// NextSupplyOrder is one more than any order ever had.
func (t *Tx) NextSupplyOrder() (n int, err error) {
	err = t.one("next order", `SELECT coalesce(max(number), 0) + 1 FROM supply_order`, nil, &n)
	return n, err
}

// AddSupplyOrder writes an order.
func (t *Tx) AddSupplyOrder(entry int64, oid string, number int, supplier string, body []byte) (int64, error) {
	return t.insert("add order", `INSERT INTO supply_order (oid, entry_id, number, supplier, body) VALUES (?,?,?,?,?)`,
		oid, entry, number, supplier, string(body))
}

// AddSupplyOrderWord says what became of an order.
func (t *Tx) AddSupplyOrderWord(entry, id int64, what, note string) error {
	return t.exec("add order word", `INSERT INTO supply_order_word (entry_id, order_id, what, note) VALUES (?,?,?,?)`, entry, id, what, note)
}

// SupplyOrders returns the newest orders, or the one of an identity.
func (t *Tx) SupplyOrders(oid string, most int) (out []SupplyOrder, err error) {
	err = t.each("orders", `SELECT o.id, o.oid, o.number, o.supplier, o.body, e.occurred_at, coalesce(w.name, ''),
			coalesce((SELECT what FROM supply_order_word x WHERE x.order_id = o.id ORDER BY entry_id DESC LIMIT 1), 'sent'),
			coalesce((SELECT note FROM supply_order_word x WHERE x.order_id = o.id ORDER BY entry_id DESC LIMIT 1), '')
			FROM supply_order o JOIN entry e ON e.id = o.entry_id LEFT JOIN person w ON w.id = e.person_id
			WHERE ? = '' OR o.oid = ? ORDER BY o.id DESC LIMIT ?`, []any{oid, oid, most},
		func(r *sql.Rows) error {
			var o SupplyOrder
			var at int64
			err := r.Scan(&o.ID, &o.OID, &o.Number, &o.Supplier, &o.Body, &at, &o.Who, &o.Status, &o.Note)
			o.At = time.UnixMilli(at)
			out = append(out, o)
			return err
		})
	return out, err
}

// OrderLines says which lines of orders deliveries came for, with how much.
func (t *Tx) OrderLines(order int64) (came map[int]int64, err error) {
	came = map[int]int64{}
	err = t.each("order lines", `SELECT line, sum(quantity) FROM delivery WHERE order_id = ? GROUP BY line`, []any{order},
		func(r *sql.Rows) error {
			var line int
			var n int64
			err := r.Scan(&line, &n)
			came[line] = n
			return err
		})
	return came, err
}

// AddLotCost freezes what a lot cost. Body is JSON.
func (t *Tx) AddLotCost(entry, lotID int64, body []byte) error {
	return t.exec("add lot cost", `INSERT INTO lot_cost (entry_id, lot_id, body) VALUES (?,?,?)`, entry, lotID, string(body))
}

// LotCost is what a lot cost at its release; [ErrNotFound] where none was reckoned.
func (t *Tx) LotCost(lotID int64) (body []byte, err error) {
	err = t.one("lot cost", `SELECT body FROM lot_cost WHERE lot_id = ?`, []any{lotID}, &body)
	return body, err
}

// LotCosts are what lots cost at their release, by their identity; those of which none was reckoned are left out.
func (t *Tx) LotCosts(oids []string) (out map[string][]byte, err error) {
	list, err := json.Marshal(oids)
	if err != nil {
		return nil, fmt.Errorf("lot costs: %w", err)
	}
	out = map[string][]byte{}
	err = t.each("lot costs", `SELECT l.oid, c.body FROM lot l JOIN lot_cost c ON c.lot_id = l.id
			WHERE l.oid IN (SELECT value FROM json_each(?))`,
		[]any{string(list)}, func(r *sql.Rows) error {
			var oid string
			var body []byte
			err := r.Scan(&oid, &body)
			out[oid] = body
			return err
		})
	return out, err
}

// IngredientLotID is the number of an ingredient lot.
func (t *Tx) IngredientLotID(oid string) (id int64, err error) {
	err = t.one("delivery", `SELECT id FROM ingredient_lot WHERE oid = ?`, []any{oid}, &id)
	return id, err
}

// WeighedOf is what was weighed of an ingredient lot for a lot.
type WeighedOf struct{ Lot, MG int64 }

// WeighedFrom adds up what was weighed of an ingredient lot, by lot, as it was corrected.
func (t *Tx) WeighedFrom(id int64) (out []WeighedOf, err error) {
	err = t.each("weighed", `SELECT lot_id, sum(actual) FROM weighing w WHERE from_id = ?
			AND NOT EXISTS (SELECT 1 FROM entry e WHERE e.corrects_id = w.entry_id) GROUP BY lot_id HAVING sum(actual) > 0 ORDER BY lot_id`,
		[]any{id}, func(r *sql.Rows) error {
			var w WeighedOf
			err := r.Scan(&w.Lot, &w.MG)
			out = append(out, w)
			return err
		})
	return out, err
}

// NamedVersion changes whenever a recipe, a scent or a teaspoon was written.
func (t *Tx) NamedVersion() (v int64, err error) {
	err = t.one("newest names", `SELECT max(coalesce((SELECT max(entry_id) FROM recipe_revision), 0),
			coalesce((SELECT max(entry_id) FROM scent_revision), 0), coalesce((SELECT max(entry_id) FROM spoon), 0))`, nil, &v)
	return v, err
}

// NewestPrices returns, of each ingredient, the newest delivery that has a price.
func (t *Tx) NewestPrices() ([]inventory.Delivery, error) {
	var ids []int64
	if err := t.each("newest prices", `SELECT max(i.id) FROM ingredient_lot i WHERE EXISTS (SELECT 1 FROM delivery_price p
			WHERE p.delivery_id = i.id AND p.goods IS NOT NULL) GROUP BY lower(i.item)`, nil, func(r *sql.Rows) error {
		var id int64
		err := r.Scan(&id)
		ids = append(ids, id)
		return err
	}); err != nil {
		return nil, err
	}
	var out []inventory.Delivery
	for _, id := range ids {
		list, err := t.Deliveries(DeliveriesWhere{ID: id})
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
	}
	return out, nil
}

// UnfinishedPlans returns the plans that no lot was started from and that were not put away, and those begun since a
// moment, with the lots that were started from each.
func (t *Tx) UnfinishedPlans(since time.Time) ([]Plan, error) {
	out, err := t.plans(`WHERE s.open = 1 ORDER BY s.plan_id`)
	if err != nil {
		return nil, err
	}
	begun, err := t.plans(`WHERE s.open = 0 AND s.plan_id IN (SELECT l.plan_id FROM entry b CROSS JOIN lot l ON l.entry_id = b.id
		WHERE b.recorded_at >= ? AND b.kind = 'lot') ORDER BY s.plan_id`, since.UnixMilli())
	if err != nil {
		return nil, err
	}
	for _, p := range begun {
		if p.Away {
			continue
		}
		if p.Lots, err = t.lotRows(`WHERE p.oid = ? ORDER BY l.pot`, p.OID); err != nil {
			return nil, err
		}
		out = append(out, p)
	}
	return out, nil
}

// AddOpeningLot writes bars that were there when the books began, with how many.
func (t *Tx) AddOpeningLot(entry int64, o inventory.Opening) error {
	id, err := t.insert("add opening lot",
		`INSERT INTO opening_lot (oid, entry_id, code, name, made, ready, cost, note) VALUES (?,?,?,?,?,?,?,?)`,
		o.OID, entry, o.Code, o.Name, o.Made, o.Ready, o.Cost, o.Note)
	if err != nil {
		return err
	}
	if err := t.exec("open opening lot", `INSERT INTO opening_balance (opening_id, bars) VALUES (?, 0)`, id); err != nil {
		return err
	}
	return t.MoveOpening(entry, id, inventory.TakenOver, o.Bars, "")
}

// MoveOpening writes a change of bars that were taken over, and their balance.
func (t *Tx) MoveOpening(entry, id int64, reason string, change int, note string) error {
	if err := t.exec("add opening move", `INSERT INTO opening_move (entry_id, opening_id, reason, change, note) VALUES (?,?,?,?,?)`,
		entry, id, reason, change, note); err != nil {
		return err
	}
	return t.exec("change opening lot", `UPDATE opening_balance SET bars = bars + ? WHERE opening_id = ?`, change, id)
}

// AddOpeningRelease writes somebody's word that bars that were taken over may be sold.
func (t *Tx) AddOpeningRelease(entry, id int64, word string) error {
	return t.exec("add opening release", `INSERT INTO opening_release (entry_id, opening_id, word) VALUES (?,?,?)`, entry, id, word)
}

// OpeningLots returns the bars that were taken over, by code, or the ones of an identity or a code.
func (t *Tx) OpeningLots(find string) (out []inventory.Opening, err error) {
	err = t.each("opening lots", `SELECT o.id, o.oid, o.code, o.name, o.made, o.ready, o.cost, o.note, b.bars, coalesce(r.word, ''),
			coalesce(rw.name, ''), e.occurred_at, coalesce(w.name, '') FROM opening_lot o JOIN opening_balance b ON b.opening_id = o.id
			JOIN entry e ON e.id = o.entry_id LEFT JOIN person w ON w.id = e.person_id
			LEFT JOIN opening_release r ON r.opening_id = o.id LEFT JOIN entry re ON re.id = r.entry_id
			LEFT JOIN person rw ON rw.id = re.person_id
			WHERE ? = '' OR o.oid = ? OR o.code = ? COLLATE NOCASE ORDER BY o.code`, []any{find, find, find},
		func(r *sql.Rows) error {
			var o inventory.Opening
			var cost sql.NullInt64
			var at int64
			if err := r.Scan(&o.ID, &o.OID, &o.Code, &o.Name, &o.Made, &o.Ready, &cost, &o.Note, &o.Bars, &o.Word, &o.ReleasedBy,
				&at, &o.Who); err != nil {
				return err
			}
			if cost.Valid {
				o.Cost = &cost.Int64
			}
			o.At = time.UnixMilli(at)
			out = append(out, o)
			return nil
		})
	if err != nil {
		return nil, err
	}
	for i := range out {
		if err := t.each("opening moves", `SELECT m.reason, m.change, m.note, coalesce(w.name, ''), e.occurred_at FROM opening_move m
				JOIN entry e ON e.id = m.entry_id LEFT JOIN person w ON w.id = e.person_id WHERE m.opening_id = ? ORDER BY m.entry_id`,
			[]any{out[i].ID}, func(r *sql.Rows) error {
				var m inventory.OpeningMove
				var at int64
				err := r.Scan(&m.Reason, &m.Change, &m.Note, &m.Who, &at)
				m.At = time.UnixMilli(at)
				out[i].Moves = append(out[i].Moves, m)
				return err
			}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// LotsMovedSince are the identities of lots of which bars came or went since a moment.
func (t *Tx) LotsMovedSince(from time.Time) (out []string, err error) {
	err = t.each("moved lots", `SELECT DISTINCT l.oid FROM entry e CROSS JOIN bar_move m ON m.entry_id = e.id JOIN lot l ON l.id = m.lot_id
			WHERE e.recorded_at >= ?`, []any{from.UnixMilli()},
		func(r *sql.Rows) error {
			var oid string
			err := r.Scan(&oid)
			out = append(out, oid)
			return err
		})
	return out, err
}

// DeliverySums are what deliveries held at a moment, and how much of that carries a cost, by delivery.
func (t *Tx) DeliverySums(until time.Time) (out map[int64][2]int64, err error) {
	out = map[int64][2]int64{}
	err = t.each("delivery sums", `SELECT b.delivery_id, b.amount - coalesce(a.change, 0), b.priced - coalesce(a.priced, 0)
			FROM delivery_balance b LEFT JOIN (SELECT m.delivery_id, sum(m.change) AS change, sum(m.priced) AS priced
			FROM entry e CROSS JOIN delivery_move m ON m.entry_id = e.id WHERE e.recorded_at >= ? GROUP BY m.delivery_id) a
			ON a.delivery_id = b.delivery_id`, []any{until.UnixMilli()},
		func(r *sql.Rows) error {
			var id int64
			var sums [2]int64
			err := r.Scan(&id, &sums[0], &sums[1])
			if sums[0] != 0 {
				out[id] = sums
			}
			return err
		})
	return out, err
}

// FromDelivery is how much of a delivery went into a lot, by its identity.
type FromDelivery struct {
	Lot string
	MG  int64
}

// LotsFrom are the lots that a delivery was weighed for, whether or not it is in the books.
func (t *Tx) LotsFrom(id int64) ([]FromDelivery, error) {
	return t.fromDelivery(`SELECT l.oid, sum(w.actual) FROM weighing w JOIN lot l ON l.id = w.lot_id WHERE w.from_id = ?
		AND NOT EXISTS (SELECT 1 FROM entry e WHERE e.corrects_id = w.entry_id) GROUP BY l.id HAVING sum(w.actual) > 0 ORDER BY l.id`, id)
}

func (t *Tx) fromDelivery(query string, args ...any) (out []FromDelivery, err error) {
	err = t.each("lots of a delivery", query, args, func(r *sql.Rows) error {
		var f FromDelivery
		err := r.Scan(&f.Lot, &f.MG)
		out = append(out, f)
		return err
	})
	return out, err
}

// VesselFrom is a container or a jar that a delivery went into, with the lots that drew from it.
type VesselFrom struct {
	Name, OID string
	Jar       bool
	MG        int64 // of the delivery
	Whole     int64 // that was in it when it was full
	Lots      []FromDelivery
}

// Href is the page of the vessel.
func (v VesselFrom) Href() string {
	if v.Jar {
		return "/infusions#jar-" + v.OID
	}
	return "/lye/" + v.OID
}

// VesselsFrom are the containers and jars that a delivery went into.
func (t *Tx) VesselsFrom(id int64) (out []VesselFrom, err error) {
	var ids []int64
	err = t.each("vessels of a delivery", `SELECT s.id, s.code, s.oid, 0, -sum(m.change),
			(SELECT sum(change) FROM stock_move v WHERE v.stock_id = s.id AND v.change > 0)
			FROM delivery_move m JOIN stock s ON s.id = m.stock_id WHERE m.delivery_id = ? GROUP BY s.id
			UNION ALL SELECT j.id, j.name || ' on ' || j.herb, j.oid, 1, -sum(m.change), j.oil_mg
			FROM delivery_move m JOIN infusion j ON j.id = m.infusion_id WHERE m.delivery_id = ? GROUP BY j.id`, []any{id, id},
		func(r *sql.Rows) error {
			var v VesselFrom
			var one int64
			err := r.Scan(&one, &v.Name, &v.OID, &v.Jar, &v.MG, &v.Whole)
			ids, out = append(ids, one), append(out, v)
			return err
		})
	if err != nil {
		return nil, err
	}
	for i, v := range out {
		query := `SELECT l.oid, -sum(v.change) FROM stock_move v JOIN lot l ON l.id = v.lot_id WHERE v.stock_id = ?
			GROUP BY l.id HAVING sum(v.change) < 0`
		if v.Jar {
			query = `SELECT l.oid, sum(v.weight_mg) FROM infusion_event v JOIN lot l ON l.id = v.lot_id WHERE v.infusion_id = ?
				GROUP BY l.id HAVING sum(v.weight_mg) > 0`
		}
		if out[i].Lots, err = t.fromDelivery(query+" ORDER BY l.id", ids[i]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// BarsOfRecipes is what a raw bar weighed at the newest cut at which one was weighed, in mg, by recipe.
func (t *Tx) BarsOfRecipes() (out map[string]int64, err error) {
	out = map[string]int64{}
	err = t.each("bars of recipes", `SELECT r.oid, c.bar_mg FROM recipe r JOIN cut c ON c.lot_id =
			(SELECT max(l.id) FROM lot l JOIN cut x ON x.lot_id = l.id WHERE l.recipe_id = r.id AND x.bar_mg > 0)`, nil,
		func(r *sql.Rows) error {
			var oid string
			var mg int64
			err := r.Scan(&oid, &mg)
			out[oid] = mg
			return err
		})
	return out, err
}
