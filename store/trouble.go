package store

import (
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

// AddIncident and its siblings below write one record of trouble under a head.
func (t *Tx) AddIncident(entry, lotID int64, i lot.Incident) error {
	return t.exec(
		"add incident",
		`INSERT INTO incident (entry_id, lot_id, kind, name, text) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		i.Kind,
		i.Called,
		i.Text,
	)
}

// AddIncidentUpdate writes what was done about an incident, or how it came out.
func (t *Tx) AddIncidentUpdate(entry, lotID int64, w lot.IncidentUpdate) error {
	return t.exec(
		"add incident word",
		`INSERT INTO incident_word (entry_id, lot_id, incident_id, way, name, outcome) VALUES (?,?,?,?,?,?)`,
		entry,
		lotID,
		w.Incident,
		w.Way,
		w.Name,
		w.Outcome,
	)
}

// AddBlame writes what may have been the cause.
func (t *Tx) AddBlame(entry, lotID int64, b lot.Blame) error {
	return t.exec(
		"add blame",
		`INSERT INTO incident_blame (entry_id, lot_id, incident_id, subject, name, blamed) VALUES (?,?,?,?,?,?)`,
		entry,
		lotID,
		b.Incident,
		b.Subject,
		b.Name,
		b.Blamed,
	)
}

// AddProcessChange writes what became of a lot.
func (t *Tx) AddProcessChange(entry, lotID int64, k lot.ProcessChange) error {
	return t.exec(
		"add turn",
		`INSERT INTO lot_turn (entry_id, lot_id, cooked, plain, why) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		k.Cooked,
		k.Plain,
		k.Why,
	)
}

// AddParent writes what of another lot went into a lot.
func (t *Tx) AddParent(entry, lotID, parentID int64, what string, g float64) error {
	return t.exec(
		"add parent",
		`INSERT INTO lot_parent (entry_id, lot_id, parent_id, what, weight) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		parentID,
		what,
		Milligrams(g),
	)
}

// AddMark writes a mark, or its lifting.
func (t *Tx) AddMark(entry, lotID int64, m lot.Mark) error {
	return t.exec(
		"add mark",
		`INSERT INTO lot_mark (entry_id, lot_id, mark, is_on, why) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		m.Mark,
		m.On,
		m.Why,
	)
}

// AddDeviation writes what was done otherwise than it should be.
func (t *Tx) AddDeviation(entry, lotID int64, d lot.Deviation) error {
	return t.exec(
		"add deviation",
		`INSERT INTO lot_deviation (entry_id, lot_id, act, what, why) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		d.Act,
		d.What,
		d.Why,
	)
}

// AddNext writes what to change next time.
func (t *Tx) AddNext(entry, lotID int64, text string) error {
	return t.exec("add next", `INSERT INTO lot_next (entry_id, lot_id, text) VALUES (?,?,?)`, entry, lotID, text)
}

// AddReshaped writes what was cut up or shaped; the balance of bars is changed by [Tx.ChangeBars].
func (t *Tx) AddReshaped(entry, lotID int64, r lot.Reshaped) error {
	return t.exec(
		"add reshaped",
		`INSERT INTO reshaped (entry_id, lot_id, source, size, grade, pieces, shape, made, weight_mg, note) VALUES (?,?,?,?,?,?,?,?,?,?)`,
		entry, lotID, r.Source, r.Kind.Size, r.Kind.Grade, r.Pieces, r.Shape, r.Made, Milligrams(r.Grams), r.Note,
	)
}

// AddReferenceBars writes a reference bar.
func (t *Tx) AddReferenceBars(entry, lotID int64, k lot.ReferenceBars) error {
	return t.exec(
		"add reference bar",
		`INSERT INTO lot_kept (entry_id, lot_id, bars, place) VALUES (?,?,?,?)`,
		entry,
		lotID,
		k.Bars,
		k.Place,
	)
}

// AddCare writes what was done for a lot.
func (t *Tx) AddCare(entry, lotID int64, k lot.Care) error {
	return t.exec("add care", `INSERT INTO lot_care (entry_id, lot_id, what, note) VALUES (?,?,?,?)`, entry, lotID, k.What, k.Note)
}

// AddWash writes how a bar washed.
func (t *Tx) AddWash(entry, lotID int64, k lot.Wash) error {
	return t.exec(
		"add wash",
		`INSERT INTO lot_wash (entry_id, lot_id, volume, creaminess, slime, scent, against, note) VALUES (?,?,?,?,?,?,?,?)`,
		entry,
		lotID,
		k.Volume,
		k.Creaminess,
		k.Slime,
		k.Scent,
		k.Against,
		k.Note,
	)
}

// AddCutMore writes what else a cut gave.
func (t *Tx) AddCutMore(entry, lotID int64, k lot.Cut) error {
	return t.exec(
		"add cut",
		`INSERT INTO cut_more (entry_id, lot_id, ends, ends_mg, halves, finish) VALUES (?,?,?,?,?,?)`,
		entry,
		lotID,
		k.Ends,
		Milligrams(k.EndsG),
		k.Halves,
		k.Finish,
	)
}

// AddCutSize writes the bars of another size.
func (t *Tx) AddCutSize(entry, lotID int64, k lot.Size) error {
	return t.exec(
		"add size",
		`INSERT INTO cut_size (entry_id, lot_id, size, bar_mg, first, second, tester, scrap) VALUES (?,?,?,?,?,?,?,?)`,
		entry,
		lotID,
		k.Name,
		Milligrams(k.BarG),
		k.Bars[ledger.First],
		k.Bars[ledger.Second],
		k.Bars[ledger.Tester],
		k.Bars[ledger.Scrap],
	)
}

// AddPlace writes where a lot stands.
func (t *Tx) AddPlace(entry, lotID int64, p lot.Place) error {
	return t.exec("add place", `INSERT INTO lot_place (entry_id, lot_id, rack, level) VALUES (?,?,?,?)`, entry, lotID, p.Rack, p.Level)
}

// AddFeed makes a new secret address of the calendar.
func (t *Tx) AddFeed(entry int64, secret string) error {
	return t.exec("add feed", `INSERT INTO calendar_feed (entry_id, secret) VALUES (?,?)`, entry, secret)
}

// Feed is the secret of the calendar that counts; [ErrNotFound] before there is
// one.
func (t *Tx) Feed() (secret string, err error) {
	err = t.one("feed", `SELECT secret FROM calendar_feed ORDER BY entry_id DESC LIMIT 1`, nil, &secret)
	return secret, err
}

// AddRackRules writes what must not stand beside what, as JSON.
func (t *Tx) AddRackRules(entry int64, body []byte) error {
	return t.exec("add rack rules", `INSERT INTO rack_rules (entry_id, body) VALUES (?,?)`, entry, string(body))
}

// RackRules are the rules that count; [ErrNotFound] before there are any.
func (t *Tx) RackRules() (body []byte, err error) {
	err = t.one("rack rules", `SELECT body FROM rack_rules ORDER BY entry_id DESC LIMIT 1`, nil, &body)
	return body, err
}

// AddMaterial notes that a lot has an ingredient.
func (t *Tx) AddMaterial(lotOID, item, name string) error {
	return t.exec(
		"add material",
		`INSERT INTO lot_material (lot_id, item, name) VALUES ((SELECT id FROM lot WHERE oid = ?), ?, ?) ON CONFLICT DO NOTHING`,
		lotOID,
		item,
		name,
	)
}

// troubles reads what went wrong and what came of it.
func troubles(c chosen[*Lot]) error {
	var mg, mg2, mg3 int64
	var how lot.Signature
	incident := func(l *Lot, id int64) *lot.Incident {
		for i := range l.Incidents {
			if l.Incidents[i].ID == id {
				return &l.Incidents[i]
			}
		}
		return &lot.Incident{} // cannot be: the table refers to it
	}
	return errors.Join(
		read(c, "incident", "x.kind, x.name, x.text",
			func(i *lot.Incident) []any { return []any{&i.Kind, &i.Called, &i.Text} },
			func(l *Lot, e lot.Entry, i lot.Incident) { i.Entry = e; l.Incidents = append(l.Incidents, i) }),
		read(c, "incident_word", "x.incident_id, x.way, x.name, x.outcome",
			func(w *lot.IncidentUpdate) []any { return []any{&w.Incident, &w.Way, &w.Name, &w.Outcome} },
			func(l *Lot, e lot.Entry, w lot.IncidentUpdate) {
				w.Entry = e
				i := incident(l, w.Incident)
				i.Words = append(i.Words, w)
				if w.Way != "" {
					i.Way = w.Way
				}
				if w.Outcome != "" {
					i.Outcome = w.Outcome
				}
			}),
		read(c, "incident_blame", "x.incident_id, x.subject, x.name, x.blamed",
			func(b *lot.Blame) []any { return []any{&b.Incident, &b.Subject, &b.Name, &b.Blamed} },
			func(l *Lot, e lot.Entry, b lot.Blame) {
				b.Entry = e
				i := incident(l, b.Incident)
				i.Blamed = append(i.Blamed, b)
			}),
		read(c, "lot_turn", "x.cooked, x.plain, x.why",
			func(k *lot.ProcessChange) []any { return []any{&k.Cooked, &k.Plain, &k.Why} },
			func(l *Lot, e lot.Entry, k lot.ProcessChange) {
				k.Entry = e
				l.ProcessChanges = append(l.ProcessChanges, k)
			}),
		read(
			c,
			"lot_parent",
			"(SELECT oid FROM lot WHERE id = x.parent_id), (SELECT code FROM lot WHERE id = x.parent_id), x.what, x.weight",
			func(p *lot.Parent) []any { return []any{&p.OID, &p.Code, &p.What, &mg} },
			func(l *Lot, e lot.Entry, p lot.Parent) {
				p.Entry, p.Grams = e, grams(mg)
				l.Parents = append(l.Parents, p)
			},
		),
		read(c, "lot_mark", "x.mark, x.is_on, x.why, "+signed,
			func(m *lot.Mark) []any { return []any{&m.Mark, &m.On, &m.Why, &how} },
			func(l *Lot, e lot.Entry, m lot.Mark) { m.Entry, m.Signed = e, how; l.Marks = append(l.Marks, m) }),
		read(c, "lot_deviation", "x.act, x.what, x.why",
			func(d *lot.Deviation) []any { return []any{&d.Act, &d.What, &d.Why} },
			func(l *Lot, e lot.Entry, d lot.Deviation) { d.Entry = e; l.Deviations = append(l.Deviations, d) }),
		read(c, "lot_next", "x.text",
			func(n *lot.Next) []any { return []any{&n.Text} },
			func(l *Lot, e lot.Entry, n lot.Next) { n.Entry = e; l.Next = append(l.Next, n) }),
		read(c, "lot_wash", "x.volume, x.creaminess, x.slime, x.scent, x.against, x.note",
			func(k *lot.Wash) []any {
				return []any{&k.Volume, &k.Creaminess, &k.Slime, &k.Scent, &k.Against, &k.Note}
			},
			func(l *Lot, e lot.Entry, k lot.Wash) { k.Entry = e; l.Washes = append(l.Washes, k) }),
		read(c, "cut_more", "x.ends, x.ends_mg, x.halves, x.finish",
			func(k *lot.Cut) []any { return []any{&k.Ends, &mg, &k.Halves, &k.Finish} },
			func(l *Lot, _ lot.Entry, k lot.Cut) {
				if l.Cut != nil {
					l.Cut.Ends, l.Cut.EndsG, l.Cut.Halves, l.Cut.Finish = k.Ends, grams(mg), k.Halves, k.Finish
				}
			}),
		read(c, "cut_size", "x.size, x.bar_mg, x.first, x.second, x.tester, x.scrap",
			func(r *cutRow) []any { return []any{&r.note, &mg, &r.first, &r.second, &r.tester, &r.scrap} },
			func(l *Lot, _ lot.Entry, r cutRow) {
				if l.Cut != nil {
					l.Cut.Sizes = append(l.Cut.Sizes, lot.Size{Name: r.note, BarG: grams(mg), Bars: r.bars()})
				}
			}),
		read(c, "lot_place", "x.rack, x.level",
			func(p *lot.Place) []any { return []any{&p.Rack, &p.Level} },
			func(l *Lot, e lot.Entry, p lot.Place) { p.Entry = e; l.Places = append(l.Places, p) }),
		read(c, "lot_care", "x.what, x.note",
			func(k *lot.Care) []any { return []any{&k.What, &k.Note} },
			func(l *Lot, e lot.Entry, k lot.Care) { k.Entry = e; l.Cared = append(l.Cared, k) }),
		read(c, "lot_kept", "x.bars, x.place",
			func(k *lot.ReferenceBars) []any { return []any{&k.Bars, &k.Place} },
			func(l *Lot, e lot.Entry, k lot.ReferenceBars) { k.Entry = e; l.Kept = append(l.Kept, k) }),
		read(c, "infusion_event", "x.weight_mg, (SELECT i.name FROM infusion i WHERE i.id = x.infusion_id), "+
			"(SELECT i.herb FROM infusion i WHERE i.id = x.infusion_id), (SELECT i.oil_mg FROM infusion i WHERE i.id = x.infusion_id), "+
			"(SELECT i.herb_mg FROM infusion i WHERE i.id = x.infusion_id), (SELECT i.oid FROM infusion i WHERE i.id = x.infusion_id)",
			func(i *lot.Infused) []any { return []any{&mg, &i.Oil, &i.Herb, &mg2, &mg3, &i.Jar} },
			func(l *Lot, e lot.Entry, i lot.Infused) {
				i.Entry, i.Grams, i.OilG, i.HerbG = e, grams(mg), grams(mg2), grams(mg3)
				l.Infused = append(l.Infused, i)
			}),
		read(c, "reshaped", "x.source, x.size, x.grade, x.pieces, x.shape, x.made, x.weight_mg, x.note",
			func(r *lot.Reshaped) []any {
				return []any{&r.Source, &r.Kind.Size, &r.Kind.Grade, &r.Pieces, &r.Shape, &r.Made, &mg, &r.Note}
			},
			func(l *Lot, e lot.Entry, r lot.Reshaped) {
				r.Entry, r.Grams = e, grams(mg)
				l.Reshaped = append(l.Reshaped, r)
			}),
	)
}

// Relate fills in what the records of other lots say of these: what they went
// into, and what keeps back the ones they were made from. It is no part of a lot's
// own record and can change without a new entry there.
func (t *Tx) Relate(lots []*lot.Lot) error {
	if len(lots) == 0 {
		return nil
	}
	c := chosen[*lot.Lot]{t: t, byID: map[int64]*lot.Lot{}}
	ids := make([]int64, len(lots))
	for i, l := range lots {
		ids[i], c.byID[l.ID] = l.ID, l
	}
	if err := c.choose(ids); err != nil {
		return err
	}
	return errors.Join(children(c), inherited(c))
}

// children reads what the chosen lots went into.
func children(c chosen[*lot.Lot]) error {
	var mg int64
	query := `SELECT x.parent_id, ` + headColumns + `, l.oid, l.code, x.what, x.weight ` + c.from(
		"lot_parent",
		"parent_id",
	) + `JOIN lot l ON l.id = x.lot_id ` + headJoin(
		"x",
	) + ` ORDER BY x.entry_id`
	return c.t.each("children", query, c.args, func(rows *sql.Rows) error {
		var id int64
		var h head
		p := lot.Parent{Child: true}
		if err := rows.Scan(append(append([]any{&id}, h.into()...), &p.OID, &p.Code, &p.What, &mg)...); err != nil {
			return err
		}
		p.Entry, p.Grams = h.entry(c.clock), grams(mg)
		c.byID[id].Children = append(c.byID[id].Children, p)
		return nil
	})
}

// inherited reads what keeps back the lots that the chosen ones were made from,
// however far back: holds that are not lifted, and marks that are on.
func inherited(c chosen[*lot.Lot]) error {
	query := `WITH RECURSIVE up (lot_id, from_id) AS (
		SELECT x.lot_id, x.parent_id ` + c.from("lot_parent", "lot_id") + `
		UNION SELECT up.lot_id, p.parent_id FROM up JOIN lot_parent p ON p.lot_id = up.from_id)
		SELECT up.lot_id, l.code, r.kind, r.why FROM up JOIN lot l ON l.id = up.from_id JOIN (
			SELECT lot_id, ` +
		`entry_id, ` + "'" + lot.HoldKind + "'" + ` AS kind, why FROM hold h WHERE held = 1 AND NOT EXISTS (SELECT 1 FROM hold x ` +
		`WHERE x.lot_id = h.lot_id AND x.held = 0 AND x.entry_id > h.entry_id)
			UNION ALL SELECT lot_id, entry_id, mark, why FROM lot_mark m WHERE is_on = 1
				AND NOT EXISTS (SELECT 1 FROM lot_mark x WHERE x.lot_id = m.lot_id AND x.mark = m.mark AND x.entry_id > m.entry_id)
		) r ON r.lot_id = up.from_id ORDER BY r.entry_id`
	return c.t.each("inherited", query, c.args, func(rows *sql.Rows) error {
		var id int64
		var r lot.Restriction
		if err := rows.Scan(&id, &r.Code, &r.Kind, &r.Why); err != nil {
			return err
		}
		c.byID[id].Inherited = append(c.byID[id].Inherited, r)
		return nil
	})
}

// Story is an incident as it is told to somebody who uses one of its causes
// again.
type Story struct {
	LotOID, Code   string
	When           time.Time
	Kind, Text     string
	Way, Outcome   string
	Subject, Cause string // what is blamed, by key and by name
}

// Stories returns the incidents that are blamed on a subject, the newest first.
func (t *Tx) Stories(subject string, most int) (out []Story, err error) {
	err = t.each("stories", `SELECT l.oid, l.code, e.occurred_at, i.kind, i.text,
			coalesce((SELECT w.way FROM incident_word w WHERE w.incident_id = i.entry_id AND w.way <> '' ORDER BY w.entry_id DESC LIMIT 1), ''),
			coalesce((SELECT w.outcome FROM incident_word w WHERE w.incident_id = i.entry_id AND w.outcome <> '' ORDER BY w.entry_id `+
		`DESC LIMIT 1), ''),
			b.subject, b.name
		FROM incident_blame b JOIN incident i ON i.entry_id = b.incident_id JOIN lot l ON l.id = i.lot_id JOIN entry e ON e.id = i.entry_id
		WHERE b.subject = ? AND b.blamed = 1 AND NOT EXISTS (SELECT 1 FROM incident_blame x WHERE x.incident_id = b.incident_id `+
		`AND x.subject = b.subject AND x.entry_id > b.entry_id)
		ORDER BY b.incident_id DESC LIMIT ?`, []any{subject, most}, func(r *sql.Rows) error {
		var s Story
		var at int64
		if err := r.Scan(&s.LotOID, &s.Code, &at, &s.Kind, &s.Text, &s.Way, &s.Outcome, &s.Subject, &s.Cause); err != nil {
			return err
		}
		s.When = time.UnixMilli(at)
		out = append(out, s)
		return nil
	})
	return out, err
}

// AddDigest keeps the digest of a lot at its release.
func (t *Tx) AddDigest(lotID int64, version int, digest string) error {
	return t.exec("add digest", `INSERT INTO release_digest (lot_id, version, digest) VALUES (?,?,?)`, lotID, version, digest)
}

// Digest returns the digest of a lot at its release; [ErrNotFound] when it has
// none.
func (t *Tx) Digest(lotID int64) (version int, digest string, err error) {
	err = t.one("digest", `SELECT version, digest FROM release_digest WHERE lot_id = ?`, []any{lotID}, &version, &digest)
	return version, digest, err
}

// digested are the tables and columns that a digest of each version covers. They
// must never change: a new version is a new list.
var digested = map[int][]string{
	1: digestedFirst,
	2: digestedSecond,
	3: digestedThird,
	4: digestedFourth,
	5: digestedFifth,
	6: digestedSixth,
	7: append(slices.Clone(digestedSixth),
		`reshaped: SELECT entry_id, source, size, grade, pieces, shape, made, weight_mg, note FROM reshaped x WHERE lot_id = ?1 AND `+
			`entry_id <= ?2`,
		`infused: SELECT entry_id, infusion_id, weight_mg, (SELECT herb FROM infusion i WHERE i.id = x.infusion_id) AS herb `+
			`FROM infusion_event x WHERE lot_id = ?1 AND entry_id <= ?2`,
	),
}

var digestedSixth = append(slices.Clone(digestedFifth),
	`signed: SELECT entry_id, how FROM entry_signed x WHERE entry_id <= ?2 AND entry_id IN (SELECT entry_id FROM release WHERE `+
		`lot_id = ?1 UNION SELECT entry_id FROM hold WHERE lot_id = ?1 UNION SELECT entry_id FROM lot_mark WHERE lot_id = ?1)`,
)

var digestedFifth = append(slices.Clone(digestedFourth),
	`time: SELECT entry_id, of_id, occurred_at AS at, said FROM entry_time x WHERE lot_id = ?1 AND entry_id <= ?2`,
)

var digestedFourth = append(slices.Clone(digestedThird),
	`title: SELECT entry_id, title FROM run_tick x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`called: SELECT entry_id, name FROM incident x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`way: SELECT entry_id, name FROM incident_word x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`judgement: SELECT entry_id, superfat, planned, heavy, said FROM pour_judgement x WHERE lot_id = ?1 AND entry_id <= ?2`,
)

var digestedThird = append(slices.Clone(digestedSecond),
	`deviation: SELECT entry_id, act, what, why FROM lot_deviation x WHERE lot_id = ?1 AND entry_id <= ?2`,
)

var digestedSecond = append(slices.Clone(digestedFirst),
	`size: SELECT entry_id, size, bar_mg, first, second, tester, scrap FROM cut_size x WHERE lot_id = ?1 AND entry_id <= ?2`,
)

var digestedFirst = []string{
	`lot: SELECT entry_id, number, code, pot, frozen FROM lot x WHERE id = ?1 AND entry_id <= ?2`,
	`weighing: SELECT entry_id, item, target, actual, how, reading, (SELECT oid FROM ingredient_lot i WHERE i.id = x.from_id) ` +
		`FROM weighing x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`step: SELECT entry_id, step, done, note, trace, minutes FROM run_tick x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`temperature: SELECT entry_id, pot, celsius, how FROM run_temperature x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`rescale: SELECT entry_id, factor, because, body FROM run_rescale x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`extra: SELECT entry_id, name, weight, sap FROM run_extra x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`scent: SELECT entry_id, scent, behaviour, note FROM run_scent x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`photo: SELECT entry_id, file, caption FROM photo x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`pour: SELECT entry_id, lye_c, fats_c, room_c, trace, left_mg, skipped, note FROM pour x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`unmolding: SELECT entry_id, gel, note FROM unmolding x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`cut: SELECT entry_id, first, second, tester, scrap, bar_mg, trimmings_mg, note FROM cut x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`more of the cut: SELECT entry_id, ends, ends_mg, halves, finish FROM cut_more x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`care: SELECT entry_id, what, note FROM lot_care x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`wash: SELECT entry_id, volume, creaminess, slime, scent, against, note FROM lot_wash x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`sample: SELECT entry_id, weight FROM sample_weight x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`check: SELECT entry_id, method, ph, pass, note FROM safety_check x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`hold: SELECT entry_id, held, why FROM hold x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`incident: SELECT entry_id, kind, text FROM incident x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`word: SELECT entry_id, incident_id, way, outcome FROM incident_word x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`blame: SELECT entry_id, incident_id, subject, blamed FROM incident_blame x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`turn: SELECT entry_id, cooked, plain, why FROM lot_turn x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`parent: SELECT entry_id, parent_id, what, weight FROM lot_parent x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`mark: SELECT entry_id, mark, is_on, why FROM lot_mark x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`kept: SELECT entry_id, bars, place FROM lot_kept x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`note: SELECT entry_id, kind, text FROM lot_note x WHERE lot_id = ?1 AND entry_id <= ?2`,
	`release: SELECT entry_id, early FROM release x WHERE lot_id = ?1 AND entry_id <= ?2`,
}

// DigestVersion is the newest way to digest a lot.
const DigestVersion = 7

// Digested hands every record of a lot up to an entry to say, one line each, in a
// fixed order: its table, its columns, and the head that says when, who and why.
func (t *Tx) Digested(lotID, upTo int64, version int, say func(line string)) error {
	list, ok := digested[version]
	if !ok {
		return fmt.Errorf("digest: version %d is not known", version)
	}
	for _, one := range list {
		table, query, _ := strings.Cut(one, ": ")
		query = `SELECT d.*, e.occurred_at, e.recorded_at, e.person_id, e.corrects_id, e.reason FROM (` + query +
			`) d JOIN entry e ON e.id = d.entry_id ORDER BY d.entry_id`
		err := t.each("digest", query, []any{lotID, upTo}, func(rows *sql.Rows) error {
			columns, err := rows.Columns()
			if err != nil {
				return err
			}
			values := make([]any, len(columns))
			for i := range values {
				values[i] = new(any)
			}
			if err := rows.Scan(values...); err != nil {
				return err
			}
			line := table
			for _, v := range values {
				line += fmt.Sprintf("|%q", fmt.Sprint(*v.(*any)))
			}
			say(line)
			return nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}
