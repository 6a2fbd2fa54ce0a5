package store

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"ashshelf/soap/ledger"
	"ashshelf/soap/recall"
	"ashshelf/soap/trace"
)

// edge is a query for edges of a kind of place: the numbers of both ends and the weight that passed, for the places
// of a JSON list.
type edge struct {
	from, to trace.Kind
	query    string // with %s where the list goes: on the end that is known
	down, up string // column of the end that is known
}

// standing is a weighing that no later one corrects.
const standing = ` AND NOT EXISTS (SELECT 1 FROM entry c WHERE c.corrects_id = x.entry_id)`

var edges = []edge{
	{trace.Order, trace.Delivery, `SELECT x.order_id, x.delivery_id, x.quantity, '' FROM %s delivery x ON %s AND x.order_id IS NOT NULL`,
		"x.order_id", "x.delivery_id"},
	{trace.Delivery, trace.Lot, `SELECT x.from_id, x.lot_id, sum(x.actual), '' FROM %s weighing x ON %s` + standing +
		` AND x.from_id IS NOT NULL GROUP BY x.from_id, x.lot_id HAVING sum(x.actual) > 0`, "x.from_id", "x.lot_id"},
	{trace.Delivery, trace.Stock, `SELECT x.delivery_id, x.stock_id, -sum(x.change), '' FROM %s delivery_move x ON %s
		AND x.stock_id IS NOT NULL GROUP BY x.delivery_id, x.stock_id HAVING sum(x.change) < 0`, "x.delivery_id", "x.stock_id"},
	{trace.Delivery, trace.Jar, `SELECT x.delivery_id, x.infusion_id, -sum(x.change), '' FROM %s delivery_move x ON %s
		AND x.infusion_id IS NOT NULL GROUP BY x.delivery_id, x.infusion_id HAVING sum(x.change) < 0`, "x.delivery_id", "x.infusion_id"},
	{trace.Stock, trace.Lot, `SELECT x.stock_id, x.lot_id, -sum(x.change), '' FROM %s stock_move x ON %s
		AND x.lot_id IS NOT NULL GROUP BY x.stock_id, x.lot_id HAVING sum(x.change) < 0`, "x.stock_id", "x.lot_id"},
	{trace.Jar, trace.Lot, `SELECT x.infusion_id, x.lot_id, sum(x.weight_mg), '' FROM %s infusion_event x ON %s
		AND x.lot_id IS NOT NULL GROUP BY x.infusion_id, x.lot_id HAVING sum(x.weight_mg) > 0`, "x.infusion_id", "x.lot_id"},
	{trace.Lot, trace.Lot, `SELECT x.parent_id, x.lot_id, sum(x.weight), min(x.what) FROM %s lot_parent x ON %s
		GROUP BY x.parent_id, x.lot_id`, "x.parent_id", "x.lot_id"},
}

// wholes are what went through places of a kind in all, in mg.
var wholes = map[trace.Kind]string{
	trace.Order: `SELECT j.value, (SELECT coalesce(sum(quantity), 0) FROM delivery WHERE order_id = j.value) FROM json_each(?) j`,
	trace.Delivery: `SELECT j.value, coalesce((SELECT quantity FROM delivery WHERE delivery_id = j.value),
		(SELECT sum(actual) FROM weighing WHERE from_id = j.value), 0) FROM json_each(?) j`,
	trace.Stock: `SELECT j.value, (SELECT coalesce(sum(change), 0) FROM stock_move
		WHERE stock_id = j.value AND change > 0) FROM json_each(?) j`,
	trace.Jar: `SELECT j.value, (SELECT oil_mg FROM infusion WHERE id = j.value) + (SELECT coalesce(sum(weight_mg), 0)
		FROM infusion_event WHERE infusion_id = j.value AND what = 'topped-up') FROM json_each(?) j`,
	trace.Lot: `SELECT j.value, (SELECT coalesce(sum(x.actual), 0) FROM weighing x WHERE x.lot_id = j.value` + standing + `)
		+ (SELECT coalesce(sum(weight), 0) FROM lot_parent WHERE lot_id = j.value) FROM json_each(?) j`,
}

// ids are the numbers of the places of a kind, as a JSON list; empty for none.
func ids(of []trace.Place, kind trace.Kind) (string, error) {
	var list []int64
	for _, p := range of {
		if p.Kind == kind {
			list = append(list, p.ID)
		}
	}
	if len(list) == 0 {
		return "", nil
	}
	return numbers(list)
}

func numbers(list []int64) (string, error) {
	text, err := json.Marshal(list)
	if err != nil {
		return "", fmt.Errorf("numbers: %w", err)
	}
	return string(text), nil
}

// Next is [trace.Graph]. Each kind of edge is read in one go for all places.
func (t *Tx) Next(of []trace.Place, down bool) (out []trace.Edge, err error) {
	for _, e := range edges {
		kind, column := e.from, e.down
		if !down {
			kind, column = e.to, e.up
		}
		list, err := ids(of, kind)
		if err != nil || list == "" {
			if err != nil {
				return nil, err
			}
			continue
		}
		query := fmt.Sprintf(e.query, "json_each(?) j CROSS JOIN", column+" = j.value")
		if err := t.each("trace", query, []any{list}, func(r *sql.Rows) error {
			one := trace.Edge{From: trace.Place{Kind: e.from}, To: trace.Place{Kind: e.to}}
			err := r.Scan(&one.From.ID, &one.To.ID, &one.MG, &one.What)
			out = append(out, one)
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Whole is [trace.Graph].
func (t *Tx) Whole(of []trace.Place) (map[trace.Place]int64, error) {
	out := map[trace.Place]int64{}
	for _, kind := range trace.Kinds() {
		list, err := ids(of, kind)
		if err != nil {
			return nil, err
		}
		if list == "" {
			continue
		}
		if err := t.each("trace", wholes[kind], []any{list}, func(r *sql.Rows) error {
			p := trace.Place{Kind: kind}
			var mg int64
			err := r.Scan(&p.ID, &mg)
			out[p] = mg
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Named is a place with what it is called.
type Named struct {
	trace.Place
	OID, Name string
	More      string // in small letters: the supplier and code of a delivery, the recipe of a lot
	State     string // of a delivery whether it may be used, of a lot its stage
}

// Href is its page.
func (n Named) Href() string {
	switch n.Kind {
	case trace.Order:
		return "/stores/orders/" + n.OID
	case trace.Delivery:
		return "/stores/deliveries/" + n.OID
	case trace.Stock:
		return "/lye/" + n.OID
	case trace.Jar:
		return "/infusions#jar-" + n.OID
	}
	return "/lots/" + n.OID
}

// named are queries for what places are called: number, identity, name, more, state.
var named = map[trace.Kind]string{
	trace.Order: `SELECT o.id, o.oid, 'Order ' || o.number, o.supplier, '' FROM supply_order o`,
	trace.Delivery: `SELECT o.id, o.oid, o.name, trim(o.supplier || ' ' || o.code), coalesce((SELECT w.status FROM delivery_word w
		WHERE w.delivery_id = o.id AND w.status IS NOT NULL ORDER BY w.entry_id DESC LIMIT 1), 'usable') FROM ingredient_lot o`,
	trace.Stock: `SELECT o.id, o.oid, o.code, CASE o.kind WHEN 'fats' THEN 'blend of fats' ELSE 'lye' END, '' FROM stock o`,
	trace.Jar:   `SELECT o.id, o.oid, o.name || ' on ' || o.herb, 'infused oil', '' FROM infusion o`,
	trace.Lot: `SELECT o.id, o.oid, o.code, (SELECT r.name FROM recipe_revision r WHERE r.recipe_id = o.recipe_id
		ORDER BY r.number DESC LIMIT 1), (SELECT s.stage FROM lot_state s WHERE s.lot_id = o.id) FROM lot o`,
}

// Names says what places are called.
func (t *Tx) Names(of []trace.Place) (out map[trace.Place]Named, err error) {
	out = map[trace.Place]Named{}
	for _, kind := range trace.Kinds() {
		list, err := ids(of, kind)
		if err != nil {
			return nil, err
		}
		if list == "" {
			continue
		}
		if err := t.each("names", named[kind]+` WHERE o.id IN (SELECT value FROM json_each(?))`, []any{list}, func(r *sql.Rows) error {
			n := Named{Place: trace.Place{Kind: kind}}
			err := r.Scan(&n.ID, &n.OID, &n.Name, &n.More, &n.State)
			out[n.Place] = n
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// PlaceOf finds a place by its identity.
func (t *Tx) PlaceOf(kind trace.Kind, oid string) (p trace.Place, err error) {
	table := map[trace.Kind]string{trace.Order: "supply_order", trace.Delivery: "ingredient_lot", trace.Stock: "stock",
		trace.Jar: "infusion", trace.Lot: "lot"}[kind]
	if table == "" {
		return p, fmt.Errorf("place of %q: %w", kind, ErrNotFound)
	}
	p.Kind = kind
	err = t.one("place", `SELECT id FROM `+table+` WHERE oid = ?`, []any{oid}, &p.ID)
	return p, err
}

// Beginnings are queries for the lots and deliveries that a recall of something else begins with.
var beginnings = map[string]string{
	"product": `SELECT DISTINCT 'lot', m.lot_id FROM bar_departure d JOIN bar_move m ON m.entry_id = d.entry_id
		WHERE d.product_id = (SELECT id FROM product WHERE oid = ?1)
		UNION SELECT 'lot', lot_id FROM bar_binding WHERE product_id = (SELECT id FROM product WHERE oid = ?1)
		UNION SELECT 'lot', lot_id FROM label_run WHERE product_id = (SELECT id FROM product WHERE oid = ?1)`,
	"event": `SELECT DISTINCT 'lot', m.lot_id FROM bar_departure d JOIN bar_move m ON m.entry_id = d.entry_id
		WHERE d.event = ?1 COLLATE NOCASE OR d.buyer = ?1 COLLATE NOCASE OR d.buyer IN (SELECT b.code FROM buyer b
			JOIN buyer_name n ON n.buyer_id = b.id WHERE n.name = ?1 COLLATE NOCASE)
		UNION SELECT 'lot', lot_id FROM bar_binding WHERE reservation_id IN (SELECT id FROM reservation WHERE name = ?1 COLLATE NOCASE)`,
	"scent": `SELECT DISTINCT 'lot', lot_id FROM lot_material WHERE item LIKE 'additive:%' AND name = ?1 COLLATE NOCASE`,
}

// Beginning are the places that a product, an event or buyer, or a scent by its name was in.
func (t *Tx) Beginning(kind, of string) (out []trace.Place, err error) {
	query := beginnings[kind]
	if query == "" {
		return nil, fmt.Errorf("beginning of %q: %w", kind, ErrNotFound)
	}
	err = t.each("beginning", query, []any{of}, func(r *sql.Rows) error {
		var p trace.Place
		err := r.Scan(&p.Kind, &p.ID)
		out = append(out, p)
		return err
	})
	return out, err
}

// Bars are the bars of lots, for their score, in the order of the lots.
func (t *Tx) Bars(lots []int64) ([]recall.Lot, error) {
	list, err := numbers(lots)
	if err != nil || len(lots) == 0 {
		return nil, err
	}
	out := make([]recall.Lot, len(lots))
	at := map[int64]*recall.Lot{}
	for i, id := range lots {
		at[id] = &out[i]
	}
	if err := t.each("bars", `SELECT l.id, l.oid, l.code, coalesce(c.first + c.second + c.tester, 0)
			+ (SELECT coalesce(sum(z.first + z.second + z.tester), 0) FROM cut_size z WHERE z.lot_id = l.id),
			(SELECT coalesce(sum(bars), 0) FROM bar_balance b WHERE b.lot_id = l.id),
			(SELECT coalesce(sum(pieces), 0) FROM reshaped x WHERE x.lot_id = l.id AND x.source = 'bars')
			FROM json_each(?) j CROSS JOIN lot l ON l.id = j.value LEFT JOIN cut c ON c.lot_id = l.id`, []any{list},
		func(r *sql.Rows) error {
			var id int64
			var l recall.Lot
			err := r.Scan(&id, &l.OID, &l.Code, &l.Made, &l.House, &l.Worked)
			*at[id] = l
			return err
		}); err != nil {
		return nil, err
	}
	if err := t.each("bars that are lent", `SELECT m.lot_id, max(e.occurred_at),
				sum(CASE m.what WHEN 'sent' THEN m.bars WHEN 'sold' THEN -m.bars WHEN 'returned' THEN -m.bars ELSE 0 END) AS still,
				`+buyerName("r.name")+`, 'Order ' || o.id
			FROM json_each(?) j CROSS JOIN order_move m ON m.lot_id = j.value JOIN entry e ON e.id = m.entry_id
			JOIN sale_order o ON o.id = m.order_id JOIN sale_order_revision r ON r.sale_order_id = o.id
				AND r.number = (SELECT max(x.number) FROM sale_order_revision x WHERE x.sale_order_id = o.id)
			WHERE json_extract(r.body, '$.terms') = 'return' GROUP BY m.lot_id, o.id HAVING still > 0 ORDER BY m.lot_id, o.id`, []any{list},
		func(r *sql.Rows) error {
			var id, ms int64
			var w recall.Went
			err := r.Scan(&id, &ms, &w.Bars, &w.Buyer, &w.Event)
			w.On = time.UnixMilli(ms)
			at[id].Lent = append(at[id].Lent, w)
			return err
		}); err != nil {
		return nil, err
	}
	if err := t.each("moves of bars", `SELECT x.lot_id, x.entry_id, h.at, x.reason, x.change, x.note, coalesce(`+buyerName("d.buyer")+`, ''),
			coalesce(nullif(d.event, ''), d.channel, '') FROM json_each(?) j CROSS JOIN bar_move x ON x.lot_id = j.value
			JOIN happened h ON h.id = x.entry_id LEFT JOIN bar_departure d ON d.entry_id = x.entry_id ORDER BY x.entry_id`, []any{list},
		func(r *sql.Rows) error {
			var id, ms int64
			var change int
			var note string
			var w recall.Went
			if err := r.Scan(&id, &w.Entry, &ms, &w.Reason, &change, &note, &w.Buyer, &w.Event); err != nil {
				return err
			}
			w.On, w.Bars = time.UnixMilli(ms), -change
			if w.Event == "" {
				w.Event = note
			}
			switch l := at[id]; w.Reason {
			case ledger.Spoiled:
				l.Destroyed -= change
			case ledger.Recount:
				l.Lost -= change
			default:
				l.Went = append(l.Went, w)
			}
			return nil
		}); err != nil {
		return nil, err
	}
	for i := range out {
		out[i].Went = recall.Net(out[i].Went)
	}
	return out, nil
}

// Recall is a recall, or a drill, as it stands. Kind and Of are what it began with.
type Recall struct {
	ID            int64
	OID           string
	Number        int
	Drill         bool
	Kind, Of      string
	Name, Why     string
	Began         time.Time
	Who           string
	Ended         time.Time // zero as long as it runs
	EndedBy, Note string
	Lots          []int64
	Shares        map[int64]int64 // mg of what it began with, by lot
	Last          int64           // its newest entry
}

// NextRecall is one more than any recall ever had.
func (t *Tx) NextRecall() (n int, err error) {
	err = t.one("next recall", `SELECT coalesce(max(number), 0) + 1 FROM recall`, nil, &n)
	return n, err
}

// AddRecall begins a recall with its lots.
func (t *Tx) AddRecall(entry int64, r Recall) (id int64, err error) {
	id, err = t.insert("add recall", `INSERT INTO recall (oid, entry_id, number, drill, kind, of, name, why) VALUES (?,?,?,?,?,?,?,?)`,
		r.OID, entry, r.Number, r.Drill, r.Kind, r.Of, r.Name, r.Why)
	for _, l := range r.Lots {
		if err == nil {
			err = t.exec("add lot of recall", `INSERT INTO recall_lot (recall_id, lot_id, entry_id, share_mg) VALUES (?,?,?,?)`,
				id, l, entry, r.Shares[l])
		}
	}
	return id, err
}

// AddRecallMove notes what became of bars.
func (t *Tx) AddRecallMove(entry, id, lotID int64, m recall.Move) error {
	return t.exec("add recall move", `INSERT INTO recall_move (entry_id, recall_id, lot_id, what, pool, move_id, bars, note)
		VALUES (?,?,?,?,?,nullif(?, 0),?,?)`, entry, id, lotID, m.What, m.Pool, m.Of, m.Bars, m.Note)
}

// AddRecallWord ends a recall, or opens it again.
func (t *Tx) AddRecallWord(entry, id int64, what, note string) error {
	return t.exec("add recall word", `INSERT INTO recall_word (entry_id, recall_id, what, note) VALUES (?,?,?,?)`, entry, id, what, note)
}

// Recalls are all recalls, the newest first, or the one of an identity.
func (t *Tx) Recalls(oid string) (out []Recall, err error) {
	if err := t.each("recalls", `SELECT r.id, r.oid, r.number, r.drill, r.kind, r.of, r.name, r.why, e.occurred_at, coalesce(w.name, ''),
			max(r.entry_id, coalesce((SELECT max(m.entry_id) FROM recall_move m WHERE m.recall_id = r.id), 0),
			coalesce((SELECT max(x.entry_id) FROM recall_word x WHERE x.recall_id = r.id), 0))
			FROM recall r JOIN entry e ON e.id = r.entry_id LEFT JOIN person w ON w.id = e.person_id
			WHERE ? = '' OR r.oid = ? ORDER BY r.id DESC`, []any{oid, oid}, func(rows *sql.Rows) error {
		var r Recall
		var ms int64
		err := rows.Scan(&r.ID, &r.OID, &r.Number, &r.Drill, &r.Kind, &r.Of, &r.Name, &r.Why, &ms, &r.Who, &r.Last)
		r.Began, r.Shares = time.UnixMilli(ms), map[int64]int64{}
		out = append(out, r)
		return err
	}); err != nil {
		return nil, err
	}
	for i := range out {
		r := &out[i]
		if err := t.each("recall words", `SELECT x.what, x.note, e.occurred_at, coalesce(w.name, '') FROM recall_word x
				JOIN entry e ON e.id = x.entry_id LEFT JOIN person w ON w.id = e.person_id WHERE x.recall_id = ? ORDER BY x.entry_id`,
			[]any{r.ID}, func(rows *sql.Rows) error {
				var what string
				var ms int64
				err := rows.Scan(&what, &r.Note, &ms, &r.EndedBy)
				if r.Ended = time.UnixMilli(ms); what != "ended" {
					r.Ended, r.EndedBy = time.Time{}, ""
				}
				return err
			}); err != nil {
			return nil, err
		}
		if err := t.each("lots of recall", `SELECT lot_id, share_mg FROM recall_lot WHERE recall_id = ? ORDER BY lot_id`, []any{r.ID},
			func(rows *sql.Rows) error {
				var id, mg int64
				err := rows.Scan(&id, &mg)
				r.Lots, r.Shares[id] = append(r.Lots, id), mg
				return err
			}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// RecallMoves are what became of bars in a recall, by lot.
func (t *Tx) RecallMoves(id int64) (out map[int64][]recall.Move, err error) {
	out = map[int64][]recall.Move{}
	err = t.each("recall moves", `SELECT m.lot_id, m.entry_id, e.occurred_at, coalesce(w.name, ''), m.what, m.pool,
			coalesce(m.move_id, 0), m.bars, m.note FROM recall_move m JOIN entry e ON e.id = m.entry_id LEFT JOIN person w ON w.id = e.person_id
			WHERE m.recall_id = ? ORDER BY m.entry_id`, []any{id}, func(r *sql.Rows) error {
		var lotID, ms int64
		var m recall.Move
		err := r.Scan(&lotID, &m.Entry, &ms, &m.Who, &m.What, &m.Pool, &m.Of, &m.Bars, &m.Note)
		m.At = time.UnixMilli(ms)
		out[lotID] = append(out[lotID], m)
		return err
	})
	return out, err
}

// Complaint is what somebody complains of. Lot is empty where the bar's code is not known.
type Complaint struct {
	ID         int64
	OID        string
	Number     int
	Kind, Said string
	From       string // who complains, as little as is needed
	Lot, Code  string
	At         time.Time
	Who        string
	Words      []ComplaintWord
}

// ComplaintWord is what was done about a complaint: "done", "held", "recalled" or "ended".
type ComplaintWord struct {
	What, Text string
	At         time.Time
	Who        string
}

// Ended reports whether it is dealt with.
func (c Complaint) Ended() bool { return len(c.Words) > 0 && c.Words[len(c.Words)-1].What == "ended" }

// AddComplaint writes a complaint of a lot, 0 for none, and numbers it.
func (t *Tx) AddComplaint(entry, lotID int64, c Complaint) error {
	return t.exec("add complaint", `INSERT INTO complaint (oid, entry_id, number, lot_id, kind, said, who)
		VALUES (?, ?, (SELECT coalesce(max(number), 0) + 1 FROM complaint), nullif(?, 0), ?, ?, ?)`,
		c.OID, entry, lotID, c.Kind, c.Said, c.From)
}

// AddComplaintWord writes what was done about a complaint.
func (t *Tx) AddComplaintWord(entry, id int64, what, text string) error {
	return t.exec("add complaint word", `INSERT INTO complaint_word (entry_id, complaint_id, what, text) VALUES (?,?,?,?)`,
		entry, id, what, text)
}

// Complaints are the newest ones, or the one of an identity.
func (t *Tx) Complaints(oid string, most int) (out []Complaint, err error) {
	if err := t.each("complaints", `SELECT c.id, c.oid, c.number, c.kind, c.said, c.who, coalesce(l.oid, ''), coalesce(l.code, ''),
			e.occurred_at, coalesce(w.name, '') FROM complaint c JOIN entry e ON e.id = c.entry_id LEFT JOIN person w ON w.id = e.person_id
			LEFT JOIN lot l ON l.id = c.lot_id WHERE ? = '' OR c.oid = ? ORDER BY c.id DESC LIMIT ?`, []any{oid, oid, most},
		func(r *sql.Rows) error {
			var c Complaint
			var ms int64
			err := r.Scan(&c.ID, &c.OID, &c.Number, &c.Kind, &c.Said, &c.From, &c.Lot, &c.Code, &ms, &c.Who)
			c.At = time.UnixMilli(ms)
			out = append(out, c)
			return err
		}); err != nil {
		return nil, err
	}
	for i := range out {
		if err := t.each("complaint words", `SELECT x.what, x.text, e.occurred_at, coalesce(w.name, '') FROM complaint_word x
				JOIN entry e ON e.id = x.entry_id LEFT JOIN person w ON w.id = e.person_id WHERE x.complaint_id = ? ORDER BY x.entry_id`,
			[]any{out[i].ID}, func(r *sql.Rows) error {
				var w ComplaintWord
				var ms int64
				err := r.Scan(&w.What, &w.Text, &ms, &w.Who)
				w.At = time.UnixMilli(ms)
				out[i].Words = append(out[i].Words, w)
				return err
			}); err != nil {
			return nil, err
		}
	}
	return out, nil
}
