package store

import (
	"database/sql"
	"errors"
	"fmt"
	"slices"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
)

// productName is the newest name of a product, by its number.
func productName(column string) string {
	return `coalesce((SELECT pr.name FROM product_revision pr WHERE pr.product_id = ` + column + ` ORDER BY pr.number DESC LIMIT 1), '')`
}

// selling reads what became of the bars of the chosen lots as products.
func selling(c chosen[*Lot]) error {
	forWhom := `coalesce((SELECT r.name FROM reservation r WHERE r.id = x.reservation_id), '')`
	return errors.Join(
		c.t.each("departures", `SELECT m.lot_id, d.entry_id, `+productName("d.product_id")+`, d.channel, `+buyerName("d.buyer")+`, d.event `+
			c.from("bar_move", "lot_id")+`JOIN bar_move m ON m.entry_id = x.entry_id JOIN bar_departure d ON d.entry_id = m.entry_id`, c.args,
			func(r *sql.Rows) error {
				var id, entry int64
				var w lot.Went
				if err := r.Scan(&id, &entry, &w.Product, &w.Channel, &w.Buyer, &w.Event); err != nil {
					return err
				}
				moves := c.byID[id].Moves
				if i := slices.IndexFunc(moves, func(m lot.Move) bool { return m.ID == entry }); i >= 0 {
					moves[i].Went = w
				}
				return nil
			}),
		read(c, "label_run", "x.oid, x.size, x.grade, "+productName("x.product_id")+
			", (SELECT p.oid FROM product p WHERE p.id = x.product_id), x.number, x.bars, x.labels",
			func(r *lot.LabelRun) []any {
				return []any{&r.OID, &r.Kind.Size, &r.Kind.Grade, &r.Product, &r.ProductOID, &r.Number, &r.Bars, &r.Labels}
			},
			func(l *Lot, e lot.Entry, r lot.LabelRun) { r.Entry = e; l.LabelRuns = append(l.LabelRuns, r) }),
		read(c, "bar_binding", "x.size, x.grade, x.what, "+productName("x.product_id")+", "+forWhom+", x.change, x.note",
			func(b *lot.Binding) []any {
				return []any{&b.Kind.Size, &b.Kind.Grade, &b.What, &b.Product, &b.For, &b.Change, &b.Note}
			},
			func(l *Lot, e lot.Entry, b lot.Binding) { b.Entry = e; l.Bindings = append(l.Bindings, b) }),
		read(c, "complaint", `x.oid, x.number, x.kind, x.said, coalesce((SELECT w.what = 'ended' FROM complaint_word w
			WHERE w.complaint_id = x.id ORDER BY w.entry_id DESC LIMIT 1), 0)`,
			func(k *lot.Complaint) []any { return []any{&k.OID, &k.Number, &k.Kind, &k.Said, &k.Ended} },
			func(l *Lot, e lot.Entry, k lot.Complaint) { k.Entry = e; l.Complaints = append(l.Complaints, k) }),
		c.t.each("bound bars", `SELECT x.lot_id, x.size, x.grade, coalesce((SELECT p.oid FROM product p WHERE p.id = x.product_id), ''),
			coalesce((SELECT r.oid FROM reservation r WHERE r.id = x.reservation_id), ''), `+forWhom+`, x.bars `+
			c.from("bound_balance", "lot_id")+`WHERE x.bars > 0`, c.args,
			func(r *sql.Rows) error {
				var id int64
				var b lot.BoundBars
				err := r.Scan(&id, &b.Kind.Size, &b.Kind.Grade, &b.Product, &b.For, &b.Name, &b.Bars)
				if err == nil {
					c.byID[id].Bound = append(c.byID[id].Bound, b)
				}
				return err
			}),
	)
}

// AddLabelRules writes what the region asks of labels. The body is JSON.
func (t *Tx) AddLabelRules(entry int64, body []byte) error {
	return t.exec("add label rules", `INSERT INTO label_rules (entry_id, body) VALUES (?,?)`, entry, string(body))
}

// LabelRules is the newest word on that; [ErrNotFound] when there is none.
func (t *Tx) LabelRules() (body []byte, err error) {
	err = t.one("label rules", `SELECT body FROM label_rules ORDER BY entry_id DESC LIMIT 1`, nil, &body)
	return body, err
}

// AddAllergenWord writes what a supplier declares of an additive, or of one delivery of it.
func (t *Tx) AddAllergenWord(entry int64, item plan.Key, delivery int64, body []byte) error {
	return t.exec("add allergens", `INSERT INTO allergen_word (entry_id, item, delivery_id, body) VALUES (?,?,nullif(?, 0),?)`,
		entry, item, delivery, string(body))
}

// AllergenWord is what a supplier declares. Delivery is empty for what is said of the additive whatever delivery.
type AllergenWord struct {
	Item     plan.Key
	Delivery string
	Body     []byte
}

// AllergenWords are the newest words of each kind: on all additives, and on the deliveries that were weighed for a
// lot where one is given, on one delivery where that is.
func (t *Tx) AllergenWords(lotID int64, delivery string) (out []AllergenWord, err error) {
	err = t.each("allergens", `SELECT a.item, coalesce(i.oid, ''), a.body FROM allergen_word a
			LEFT JOIN ingredient_lot i ON i.id = a.delivery_id
			WHERE (a.delivery_id IS NULL OR i.oid = ? OR a.delivery_id IN (SELECT w.from_id FROM weighing w WHERE w.lot_id = ?))
			AND a.entry_id = (SELECT max(x.entry_id) FROM allergen_word x WHERE x.item = a.item AND x.delivery_id IS a.delivery_id)
			ORDER BY a.entry_id`, []any{delivery, lotID}, func(r *sql.Rows) error {
		var w AllergenWord
		err := r.Scan(&w.Item, &w.Delivery, &w.Body)
		out = append(out, w)
		return err
	})
	return out, err
}

// AddAssessment writes what an assessor says of a recipe. The body is JSON.
func (t *Tx) AddAssessment(entry int64, recipe string, body []byte) error {
	return t.exec("add assessment", `INSERT INTO assessment (entry_id, recipe_id, body) VALUES (?, (SELECT id FROM recipe WHERE oid = ?), ?)`,
		entry, recipe, string(body))
}

// Assessments are the newest ones, by the identity of their recipe; of one recipe where one is given.
func (t *Tx) Assessments(recipe string) (out map[string][]byte, err error) {
	out = map[string][]byte{}
	err = t.each("assessments", `SELECT r.oid, a.body FROM recipe r JOIN assessment a ON a.entry_id =
			(SELECT max(x.entry_id) FROM assessment x WHERE x.recipe_id = r.id) WHERE ? = '' OR r.oid = ?`, []any{recipe, recipe},
		func(r *sql.Rows) error {
			var oid string
			var body []byte
			err := r.Scan(&oid, &body)
			out[oid] = body
			return err
		})
	return out, err
}

// Reservation is for whom or what bars are put by.
type Reservation struct {
	ID        int64
	OID       string
	Kind      string // "market", "order", "person" or "family"
	Name, Day string
	Bars      int // that are put by for it now
}

// AddReservation writes a reservation.
func (t *Tx) AddReservation(entry int64, r Reservation) (id int64, err error) {
	return t.insert("add reservation", `INSERT INTO reservation (oid, entry_id, kind, name, day) VALUES (?,?,?,?,?)`,
		r.OID, entry, r.Kind, r.Name, r.Day)
}

// Reservations are those that bars are put by for, by day and name, or the one of an identity.
func (t *Tx) Reservations(oid string) (out []Reservation, err error) {
	where := `WHERE r.id IN (SELECT b.reservation_id FROM bound_balance b WHERE b.reservation_id IS NOT NULL AND b.bars > 0)`
	args := []any{}
	if oid != "" {
		where, args = `WHERE r.oid = ?`, []any{oid}
	}
	err = t.each("reservations", `SELECT r.id, r.oid, r.kind, r.name, r.day,
			(SELECT coalesce(sum(b.bars), 0) FROM bound_balance b WHERE b.reservation_id = r.id) FROM reservation r `+where+
		` ORDER BY r.day, r.name COLLATE NOCASE`, args, func(r *sql.Rows) error {
		var one Reservation
		err := r.Scan(&one.ID, &one.OID, &one.Kind, &one.Name, &one.Day, &one.Bars)
		out = append(out, one)
		return err
	})
	return out, err
}

// ReservationFor finds one by what it is for.
func (t *Tx) ReservationFor(kind, name, day string) (r Reservation, err error) {
	err = t.one("reservation", `SELECT id, oid, kind, name, day FROM reservation WHERE kind = ? AND name = ? COLLATE NOCASE AND day = ?
		ORDER BY id DESC LIMIT 1`, []any{kind, name, day}, &r.ID, &r.OID, &r.Kind, &r.Name, &r.Day)
	return r, err
}

// Bind changes how many bars of a lot are a product's, or put by. The database refuses more than there are.
func (t *Tx) Bind(entry, lotID int64, k ledger.Kind, what lot.Bound, product string, reservation int64, change int, note string) error {
	productID := `(SELECT id FROM product WHERE oid = ?)`
	if err := t.exec("bind bars", `INSERT INTO bar_binding (entry_id, lot_id, size, grade, product_id, reservation_id, what, change, note)
			VALUES (?,?,?,?,`+productID+`,nullif(?, 0),?,?,?)`,
		entry, lotID, k.Size, k.Grade, product, reservation, what, change, note); err != nil {
		return err
	}
	key := []any{lotID, k.Size, k.Grade, product, reservation}
	where := ` WHERE lot_id = ? AND size = ? AND grade = ? AND product_id IS ` + productID + ` AND reservation_id IS nullif(?, 0)`
	var have int
	err := t.one("bound bars", `SELECT count(*) FROM bound_balance`+where, key, &have)
	switch {
	case err != nil:
		return err
	case have > 0:
		return t.exec("change bound bars", `UPDATE bound_balance SET bars = bars + ?`+where, append([]any{change}, key...)...)
	}
	return t.exec("change bound bars", `INSERT INTO bound_balance (lot_id, size, grade, product_id, reservation_id, bars)
		VALUES (?,?,?,`+productID+`,nullif(?, 0),?)`, append(key, change)...)
}

// AddDeparture writes where bars went, under the head of their move.
func (t *Tx) AddDeparture(entry int64, product string, reservation int64, w lot.Went) error {
	return t.exec("add departure", `INSERT INTO bar_departure (entry_id, product_id, reservation_id, channel, buyer, event)
		VALUES (?, (SELECT id FROM product WHERE oid = ?), nullif(?, 0), ?, ?, ?)`, entry, product, reservation, w.Channel, w.Buyer, w.Event)
}

// AddLabelRun writes labels that were printed. The body is JSON.
func (t *Tx) AddLabelRun(entry, lotID int64, r lot.LabelRun, body []byte) error {
	return t.exec("add label run", `INSERT INTO label_run (entry_id, oid, lot_id, size, grade, product_id, number, bars, labels, body)
		VALUES (?,?,?,?,?,(SELECT id FROM product WHERE oid = ?),?,?,?,?)`,
		entry, r.OID, lotID, r.Kind.Size, r.Kind.Grade, r.ProductOID, r.Number, r.Bars, r.Labels, string(body))
}

// Run is a run of labels with the label as it was printed. Body is JSON.
type Run struct {
	lot.LabelRun
	Lot, Code string
	Body      []byte
}

// Runs are the newest runs of labels of a product, or the one of an identity.
func (t *Tx) Runs(product, oid string, most int) (out []Run, err error) {
	c, err := t.clockWords()
	if err != nil {
		return nil, err
	}
	where, of := `x.product_id = (SELECT id FROM product WHERE oid = ?)`, product
	if oid != "" {
		where, of = `x.oid = ?`, oid
	}
	err = t.each("label runs", `SELECT `+headColumns+`, x.oid, x.size, x.grade, `+productName("x.product_id")+`,
			p.oid, x.number, x.bars, x.labels,
			l.oid, l.code, x.body FROM label_run x JOIN product p ON p.id = x.product_id JOIN lot l ON l.id = x.lot_id `+headJoin("x")+`
			WHERE `+where+` ORDER BY x.entry_id DESC LIMIT ?`, []any{of, most}, func(rows *sql.Rows) error {
		var h head
		var r Run
		if err := rows.Scan(append(h.into(), &r.OID, &r.Kind.Size, &r.Kind.Grade, &r.Product, &r.ProductOID, &r.Number, &r.Bars,
			&r.Labels, &r.Lot, &r.Code, &r.Body)...); err != nil {
			return err
		}
		r.Entry = h.entry(c)
		out = append(out, r)
		return nil
	})
	if err == nil && oid != "" && len(out) == 0 {
		err = fmt.Errorf("labels %s: %w", oid, ErrNotFound)
	}
	return out, err
}

// AddProductPhoto writes a picture of a product.
func (t *Tx) AddProductPhoto(entry int64, product, file string) error {
	return t.exec("add product photo", `INSERT INTO product_photo (entry_id, product_id, file)
		VALUES (?, (SELECT id FROM product WHERE oid = ?), ?)`, entry, product, file)
}

// ProductPhotos are the newest pictures of products, by their identity.
func (t *Tx) ProductPhotos() (out map[string]string, err error) {
	out = map[string]string{}
	err = t.each("product photos", `SELECT p.oid, x.file FROM product_photo x JOIN product p ON p.id = x.product_id ORDER BY x.entry_id`, nil,
		func(r *sql.Rows) error {
			var oid, file string
			err := r.Scan(&oid, &file)
			out[oid] = file
			return err
		})
	return out, err
}
