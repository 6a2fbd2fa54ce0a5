package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"ashshelf/soap/ledger"
	"ashshelf/soap/market"
	"ashshelf/soap/sale"
)

// AddBox says that what is put by for a reservation goes to a market or an order: the identity of one of them.
func (t *Tx) AddBox(entry, reservation int64, b Collection, oid string) error {
	column := map[Collection]string{Markets: "market_id", Orders: "order_id"}[b]
	return t.exec("add box", fmt.Sprintf(`INSERT INTO sale_box (reservation_id, entry_id, %s) VALUES (?,?,(SELECT id FROM %s WHERE oid = ?))`,
		column, b), reservation, entry, oid)
}

// Box is what is put by for a market or an order; [ErrNotFound] when nothing ever was.
func (t *Tx) Box(b Collection, oid string) (r Reservation, err error) {
	column := map[Collection]string{Markets: "market_id", Orders: "order_id"}[b]
	err = t.one("box", fmt.Sprintf(`SELECT r.id, r.oid, r.kind, r.name, r.day FROM sale_box x JOIN reservation r ON r.id = x.reservation_id
		WHERE x.%s = (SELECT id FROM %s WHERE oid = ?)`, column, b), []any{oid}, &r.ID, &r.OID, &r.Kind, &r.Name, &r.Day)
	return r, err
}

// Boxed are the bars that are put by for a reservation: the oldest lot first.
func (t *Tx) Boxed(reservation int64) (out []market.Boxed, err error) {
	err = t.each("boxed bars", `SELECT coalesce(p.oid, ''), l.oid, l.code, l.number, b.size, b.grade, b.bars FROM bound_balance b
			JOIN lot l ON l.id = b.lot_id LEFT JOIN product p ON p.id = b.product_id
			WHERE b.reservation_id = ? AND b.bars > 0 ORDER BY l.number, b.grade, b.size`, []any{reservation}, func(r *sql.Rows) error {
		var b market.Boxed
		err := r.Scan(&b.Product, &b.Lot, &b.Code, &b.Number, &b.Kind.Size, &b.Kind.Grade, &b.Bars)
		out = append(out, b)
		return err
	})
	return out, err
}

// TillEntry is what the till of a market said. Body is JSON.
type TillEntry struct {
	OID    string
	What   string // "sold", "undone" or "asked"
	At     time.Time
	Pay    market.Pay
	Amount int64
	Body   []byte
}

// AddTillEntry writes one; known is true when it was there already.
func (t *Tx) AddTillEntry(entry int64, of string, e TillEntry) error {
	return t.exec("add till entry", `INSERT INTO till_entry (entry_id, oid, market_id, what, at, pay, amount, body)
		VALUES (?,?,(SELECT id FROM market WHERE oid = ?),?,?,?,?,?)`,
		entry, e.OID, of, e.What, e.At.UnixMilli(), e.Pay, e.Amount, string(e.Body))
}

// HasTillEntry reports whether one is there already.
func (t *Tx) HasTillEntry(oid string) (bool, error) {
	var n int
	err := t.one("till entry", `SELECT count(*) FROM till_entry WHERE oid = ?`, []any{oid}, &n)
	return n > 0, err
}

// TillEntries are what the till of a market said, in the order in which it came.
func (t *Tx) TillEntries(of string) (out []TillEntry, err error) {
	err = t.each("till entries", `SELECT oid, what, at, pay, amount, body FROM till_entry
			WHERE market_id = (SELECT id FROM market WHERE oid = ?) ORDER BY entry_id`, []any{of}, func(r *sql.Rows) error {
		var e TillEntry
		var at int64
		err := r.Scan(&e.OID, &e.What, &at, &e.Pay, &e.Amount, &e.Body)
		e.At = time.UnixMilli(at)
		out = append(out, e)
		return err
	})
	return out, err
}

// AddMarketHome writes that a market was counted back. The body is JSON.
func (t *Tx) AddMarketHome(entry int64, of string, body []byte) error {
	return t.exec("add market home", `INSERT INTO market_home (entry_id, market_id, body) VALUES (?,(SELECT id FROM market WHERE oid = ?),?)`,
		entry, of, string(body))
}

// MarketHomes are the markets that were counted back, by their identity; of one where one is given.
func (t *Tx) MarketHomes(of string) (out map[string][]byte, err error) {
	out = map[string][]byte{}
	err = t.each("markets counted back", `SELECT m.oid, h.body FROM market_home h
			JOIN market m ON m.id = h.market_id WHERE ? = '' OR m.oid = ?`,
		[]any{of, of}, func(r *sql.Rows) error {
			var oid string
			var body []byte
			err := r.Scan(&oid, &body)
			out[oid] = body
			return err
		})
	return out, err
}

// BarSale is bars that were sold, or came back after they were, with what they brought.
type BarSale struct {
	At         time.Time
	Lot, Code  string
	Kind       ledger.Kind
	Bars       int    // below zero for what came back
	Product    string // its name
	ProductOID string
	Recipe     string // its identity
	Channel    string
	Market     string // identity; empty for none
	Order      int64  // number; 0 for none
	Known      bool   // what was taken is
	sale.Taken
}

// AddBarSale writes what was taken for bars of a lot as a product; at a market or for an order, where the identity of one
// is given.
func (t *Tx) AddBarSale(entry int64, s BarSale, marketOID, orderOID string) error {
	return t.exec("add sale", `INSERT INTO bar_sale (entry_id, lot_id, size, grade, product_id, bars, channel, amount, tax, fee, pay,
			market_id, order_id)
		VALUES (?,(SELECT id FROM lot WHERE oid = ?),?,?,(SELECT id FROM product WHERE oid = ?),?,?,?,?,?,?,(SELECT id FROM market WHERE oid = ?),
			(SELECT id FROM sale_order WHERE oid = ?))`,
		entry, s.Lot, s.Kind.Size, s.Kind.Grade, s.ProductOID, s.Bars, s.Channel, s.Amount, s.Tax, s.Fee, s.Pay, marketOID, orderOID)
}

// BarSales are the bars that were sold between two moments, and what came back of them, the oldest first. Of some it is
// not known what they brought.
func (t *Tx) BarSales(from, to time.Time) (out []BarSale, err error) {
	// What happened then was written down then or later: the rows are read from the first entry of that time on.
	since := `>= (SELECT min(w.id) FROM entry w WHERE w.recorded_at >= ?1)`
	span := `e.occurred_at >= ?1 AND e.occurred_at < ?2`
	err = t.each("sales", `SELECT e.id, e.occurred_at, l.oid, l.code, s.size, s.grade, s.bars, `+productName("s.product_id")+`, p.oid, rc.oid,
			s.channel, coalesce((SELECT k.oid FROM market k WHERE k.id = s.market_id), ''), coalesce(s.order_id, 0), 1, s.amount, s.tax, s.fee, s.pay
		FROM bar_sale s CROSS JOIN entry e ON e.id = s.entry_id JOIN product p ON p.id = s.product_id JOIN lot l ON l.id = s.lot_id
		JOIN recipe rc ON rc.id = l.recipe_id WHERE s.entry_id `+since+` AND `+span+`
		UNION ALL
		SELECT e.id, e.occurred_at, l.oid, l.code, m.size, m.grade, -m.change, `+productName("d.product_id")+`,
			coalesce((SELECT p.oid FROM product p WHERE p.id = d.product_id), ''), rc.oid, coalesce(d.channel, ''), '', 0, 0, 0, 0, 0, ''
		FROM bar_move m CROSS JOIN entry e ON e.id = m.entry_id JOIN lot l ON l.id = m.lot_id JOIN recipe rc ON rc.id = l.recipe_id
		LEFT JOIN bar_departure d ON d.entry_id = m.entry_id
		WHERE m.entry_id `+since+` AND `+span+` AND m.reason = 'sold' AND NOT EXISTS (SELECT 1 FROM bar_sale s WHERE s.entry_id = m.entry_id)
		ORDER BY 2, 1`,
		[]any{from.UnixMilli(), to.UnixMilli()}, func(r *sql.Rows) error {
			var s BarSale
			var entry, at int64
			err := r.Scan(&entry, &at, &s.Lot, &s.Code, &s.Kind.Size, &s.Kind.Grade, &s.Bars, &s.Product, &s.ProductOID, &s.Recipe, &s.Channel,
				&s.Market, &s.Order, &s.Known, &s.Amount, &s.Tax, &s.Fee, &s.Pay)
			s.At = time.UnixMilli(at)
			out = append(out, s)
			return err
		})
	return out, err
}

// Held is bars of a released lot through some time: how many are there now, and what changed before.
type Held struct {
	Recipe   string
	Kind     ledger.Kind
	Released time.Time
	Now      int
	Changes  []HeldChange
}

// HeldChange is bars that left, below zero, or came.
type HeldChange struct {
	At   time.Time
	Bars int
}

// On is how many were there at a moment: those of now, less what came since, and none before the release.
func (h Held) On(at time.Time) int {
	if h.Released.After(at) {
		return 0
	}
	n := h.Now
	for _, c := range h.Changes {
		if c.At.After(at) {
			n -= c.Bars
		}
	}
	return n
}

// HeldSince are the bars that were there to be sold at any time since a moment.
func (t *Tx) HeldSince(from time.Time) (out []Held, err error) {
	type key struct {
		lot  int64
		kind ledger.Kind
	}
	changes := map[key][]HeldChange{}
	if err := t.each("changes of bars", `SELECT x.lot_id, x.size, x.grade, h.at, x.bars FROM (
				SELECT entry_id, lot_id, size, grade, change AS bars FROM bar_move
				UNION ALL SELECT entry_id, lot_id, size, grade, -pieces FROM reshaped WHERE pieces > 0 AND grade <> ''
			) x JOIN happened h ON h.id = x.entry_id
			WHERE x.entry_id >= (SELECT min(w.id) FROM entry w WHERE w.recorded_at >= ?)`, []any{from.UnixMilli()},
		func(r *sql.Rows) error {
			var k key
			var at int64
			var c HeldChange
			err := r.Scan(&k.lot, &k.kind.Size, &k.kind.Grade, &at, &c.Bars)
			c.At = time.UnixMilli(at)
			changes[k] = append(changes[k], c)
			return err
		}); err != nil {
		return nil, err
	}
	lots := make([]int64, 0, len(changes))
	for k := range changes {
		lots = append(lots, k.lot)
	}
	list, err := json.Marshal(lots)
	if err != nil {
		return nil, fmt.Errorf("bars of released lots: %w", err)
	}
	err = t.each("bars of released lots", `SELECT l.id, rc.oid, b.size, b.grade, b.bars, h.at FROM (
				SELECT lot_id FROM bar_balance WHERE bars > 0 UNION SELECT value FROM json_each(?)
			) j CROSS JOIN release r ON r.lot_id = j.lot_id CROSS JOIN lot l ON l.id = j.lot_id CROSS JOIN recipe rc ON rc.id = l.recipe_id
			CROSS JOIN bar_balance b ON b.lot_id = l.id CROSS JOIN happened h ON h.id = r.entry_id ORDER BY l.id, b.size, b.grade`,
		[]any{string(list)}, func(r *sql.Rows) error {
			var k key
			var at int64
			var h Held
			err := r.Scan(&k.lot, &h.Recipe, &k.kind.Size, &k.kind.Grade, &h.Now, &at)
			h.Kind, h.Released, h.Changes = k.kind, time.UnixMilli(at), changes[k]
			if h.Now > 0 || len(h.Changes) > 0 {
				out = append(out, h)
			}
			return err
		})
	return out, err
}

// AddSaleRules writes how the shop sells. The body is JSON.
func (t *Tx) AddSaleRules(entry int64, body []byte) error {
	return t.exec("add sale rules", `INSERT INTO sale_rules (entry_id, body) VALUES (?, ?)`, entry, string(body))
}

// SaleRules is the newest word on that; [ErrNotFound] when there is none.
func (t *Tx) SaleRules() (body []byte, err error) {
	err = t.one("sale rules", `SELECT body FROM sale_rules ORDER BY entry_id DESC LIMIT 1`, nil, &body)
	return body, err
}

// Buyer is somebody who buys. The name is empty when it was blanked.
type Buyer struct {
	ID            int64
	OID, Key      string
	Name, Contact string
	Last          string // the day by which the last of the orders was wanted, or the day it was written down
}

// buyerName is what a buyer of a key is called, or the words that stand there; a key whose name was blanked stays.
func buyerName(column string) string {
	return `coalesce((SELECT n.name FROM buyer b JOIN buyer_name n ON n.buyer_id = b.id WHERE b.code = ` + column +
		` ORDER BY n.entry_id DESC LIMIT 1), ` + column + `)`
}

// AddBuyer writes somebody who buys, and returns the key.
func (t *Tx) AddBuyer(entry int64, oid string) (key string, err error) {
	var last int64
	if err := t.one("buyers", `SELECT coalesce(max(id), 0) FROM buyer`, nil, &last); err != nil {
		return "", err
	}
	key = fmt.Sprintf("B%d", last+1)
	return key, t.exec("add buyer", `INSERT INTO buyer (oid, entry_id, code) VALUES (?,?,?)`, oid, entry, key)
}

// NameBuyer writes what a buyer is called.
func (t *Tx) NameBuyer(entry int64, key, name, contact string) error {
	return t.exec("name buyer", `INSERT INTO buyer_name (entry_id, buyer_id, name, contact)
		VALUES (?,(SELECT id FROM buyer WHERE code = ?),?,?)`, entry, key, name, contact)
}

// BlankBuyer takes all names of a buyer out, and keeps that it was done.
func (t *Tx) BlankBuyer(entry int64, key, why string) error {
	return errors.Join(
		t.ForgetBuyer(key),
		t.exec("blank buyer", `INSERT INTO buyer_blank (entry_id, buyer_id, why)
			VALUES (?,(SELECT id FROM buyer WHERE code = ?),?)`, entry, key, why),
	)
}

// Buyers are all of them, by name and key.
func (t *Tx) Buyers() (out []Buyer, err error) {
	err = t.each("buyers", `SELECT b.id, b.oid, b.code, coalesce(n.name, ''), coalesce(n.contact, ''),
			coalesce((SELECT max(json_extract(r.body, '$.due')) FROM sale_order_revision r WHERE r.name = b.code),
				date(e.recorded_at / 1000, 'unixepoch'))
			FROM buyer b JOIN entry e ON e.id = b.entry_id LEFT JOIN buyer_name n ON n.entry_id =
			(SELECT max(x.entry_id) FROM buyer_name x WHERE x.buyer_id = b.id) ORDER BY n.name IS NULL, n.name COLLATE NOCASE, b.id`, nil,
		func(r *sql.Rows) error {
			var b Buyer
			err := r.Scan(&b.ID, &b.OID, &b.Key, &b.Name, &b.Contact, &b.Last)
			out = append(out, b)
			return err
		})
	return out, err
}

// OrderNumbers are the numbers of all orders, by identity.
func (t *Tx) OrderNumbers() (out map[string]int64, err error) {
	out = map[string]int64{}
	err = t.each("orders", `SELECT oid, id FROM sale_order`, nil, func(r *sql.Rows) error {
		var oid string
		var n int64
		err := r.Scan(&oid, &n)
		out[oid] = n
		return err
	})
	return out, err
}

// Blanked are the identities of the buyers whose names were blanked.
func (t *Tx) Blanked() (out []string, err error) {
	err = t.each("blanked buyers", `SELECT DISTINCT b.oid FROM buyer_blank x JOIN buyer b ON b.id = x.buyer_id`, nil, func(r *sql.Rows) error {
		var oid string
		err := r.Scan(&oid)
		out = append(out, oid)
		return err
	})
	return out, err
}

// ForgetBuyer takes all names of a buyer out; what was recorded keeps the key.
func (t *Tx) ForgetBuyer(key string) error {
	return t.exec("forget buyer", `DELETE FROM buyer_name WHERE buyer_id = (SELECT id FROM buyer WHERE code = ?)`, key)
}

// OrderMove is what became of bars of an order.
type OrderMove struct {
	sale.Move
	Order    int64
	Code     string // of the lot
	At       time.Time
	Who      string
	Document string
	Note     string
}

// AddOrderMove writes what became of bars of an order.
func (t *Tx) AddOrderMove(entry int64, of string, m sale.Move, document, note string) error {
	return t.exec("add order move", `INSERT INTO order_move (entry_id, order_id, lot_id, size, grade, product_id, what, bars, document, note)
		VALUES (?,(SELECT id FROM sale_order WHERE oid = ?),(SELECT id FROM lot WHERE oid = ?),?,?,
			(SELECT id FROM product WHERE oid = ?),?,?,?,?)`,
		entry, of, m.Lot, m.Kind.Size, m.Kind.Grade, m.Product, m.What, m.Count, document, note)
}

// OrderMoves are what became of the bars of an order, or of all where none is given, in order.
func (t *Tx) OrderMoves(of string) (out []OrderMove, err error) {
	err = t.each("order moves", `SELECT m.order_id, l.oid, l.code, m.size, m.grade, p.oid, m.what, m.bars, e.recorded_at, coalesce(w.name, ''),
			m.document, m.note
			FROM order_move m JOIN lot l ON l.id = m.lot_id JOIN product p ON p.id = m.product_id JOIN entry e ON e.id = m.entry_id
			LEFT JOIN person w ON w.id = e.person_id
			WHERE ? = '' OR m.order_id = (SELECT id FROM sale_order WHERE oid = ?) ORDER BY m.entry_id`, []any{of, of}, func(r *sql.Rows) error {
		var m OrderMove
		var at int64
		err := r.Scan(&m.Order, &m.Lot, &m.Code, &m.Kind.Size, &m.Kind.Grade, &m.Product, &m.What, &m.Count, &at, &m.Who, &m.Document, &m.Note)
		m.At = time.UnixMilli(at)
		out = append(out, m)
		return err
	})
	return out, err
}

// SaleDocument is a paper of an order. Body is JSON.
type SaleDocument struct {
	OID    string
	Kind   sale.Kind
	Number int
	Order  string // identity
	Body   []byte
}

// AddSaleDocument writes a paper under the next number of its kind.
func (t *Tx) AddSaleDocument(entry int64, d SaleDocument) (number int, err error) {
	if err := t.one("papers", `SELECT coalesce(max(number), 0) + 1 FROM sale_document WHERE kind = ?`, []any{d.Kind}, &number); err != nil {
		return 0, err
	}
	return number, t.exec("add paper", `INSERT INTO sale_document (entry_id, oid, order_id, kind, number, body)
		VALUES (?,?,(SELECT id FROM sale_order WHERE oid = ?),?,?,?)`, entry, d.OID, d.Order, d.Kind, number, string(d.Body))
}

// SaleDocuments are the papers of an order, or the one of an identity.
func (t *Tx) SaleDocuments(order, oid string) (out []SaleDocument, err error) {
	err = t.each("papers", `SELECT d.oid, d.kind, d.number, o.oid, d.body FROM sale_document d JOIN sale_order o ON o.id = d.order_id
		WHERE o.oid = ? OR d.oid = ? ORDER BY d.entry_id`, []any{order, oid}, func(r *sql.Rows) error {
		var d SaleDocument
		err := r.Scan(&d.OID, &d.Kind, &d.Number, &d.Order, &d.Body)
		out = append(out, d)
		return err
	})
	return out, err
}
