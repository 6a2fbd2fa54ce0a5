package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	_ "modernc.org/sqlite" // to look into the file when the program is dead

	"ashshelf/store"
)

// kind is a kind of record, as a form of a page makes it.
type kind struct {
	name   string
	page   func(t *targets, r *rand.Rand) string
	action string // how the form's address ends; empty for the page's own
	fields func(mark string) url.Values
	count  string // how often a mark stands in the records
}

// targets is what there is to write to.
type targets struct {
	lots, making, ready, stocks []string
	recipe, mold                string
	deliveries, products        []string
	markets                     []string
}

func one(list []string, r *rand.Rand) string {
	if len(list) == 0 {
		return "/nothing"
	}
	return list[r.IntN(len(list))]
}

func anyLot(t *targets, r *rand.Rand) string   { return one(t.lots, r) }
func readyLot(t *targets, r *rand.Rand) string { return one(t.ready, r) }
func at(page string) func(*targets, *rand.Rand) string {
	return func(*targets, *rand.Rand) string { return page }
}

// atStep is a step of a lot on the bench.
func atStep(step string) func(*targets, *rand.Rand) string {
	return func(t *targets, r *rand.Rand) string {
		return strings.Replace(one(t.making, r), "/lots/", "/make/", 1) + "?step=" + url.QueryEscape(step)
	}
}

func field(pairs ...string) func(string) url.Values {
	return func(mark string) url.Values {
		v := url.Values{}
		for i := 0; i+1 < len(pairs); i += 2 {
			v.Set(pairs[i], strings.ReplaceAll(pairs[i+1], "MARK", mark))
		}
		return v
	}
}

// photos are sent in their own way.
const photos = "photo"

// kinds are all kinds of records that somebody can make with a mark of her own.
var kinds = []kind{
	{"note", anyLot, "/note", field("text", "MARK"), `SELECT count(*) FROM lot_note WHERE text = ?`},
	{"what to change", anyLot, "/next", field("next", "MARK"), `SELECT count(*) FROM lot_next WHERE text = ?`},
	{"hold", anyLot, "/hold", field("why", "MARK"), `SELECT count(*) FROM hold WHERE why = ?`},
	{"lift", anyLot, "/lift", field("why", "MARK"), `SELECT count(*) FROM hold WHERE why = ?`},
	{"mark", anyLot, "/mark", field("mark_why", "MARK"), `SELECT count(*) FROM lot_mark WHERE why = ?`},
	{"bars", readyLot, "/move", field("count", "1", "note", "MARK"), `SELECT count(*) FROM bar_move WHERE note = ?`},
	{"photo", anyLot, photos, field("caption", "MARK"), `SELECT count(*) FROM photo WHERE caption = ?`},
	{"step", atStep("ready:bench"), "/tick", field("note", "MARK"), `SELECT count(*) FROM run_tick WHERE note = ?`},
	{
		"extra",
		atStep("ready:bench"),
		"/extra",
		field("extra", "MARK", "extra_grams", "1 g"),
		`SELECT count(*) FROM run_extra WHERE name = ?`,
	},
	{
		"weighing",
		atStep("weigh:fat:olive-oil"),
		"/weigh",
		field("grams", "1 g", "sure", "on", "from", "new", "supplier", "Quay Oils", "code", "MARK"),
		`SELECT count(*) FROM weighing w JOIN ingredient_lot i ON i.id = w.from_id WHERE i.code = ?`,
	},
	{"person", at("/people"), "/people", field("person", "MARK"), `SELECT count(*) FROM person WHERE name = ?`},
	{"settings", at("/settings"), "/settings", field("emergency", "MARK"), `SELECT count(*) FROM shop WHERE emergency = ?`},
	{
		"spoon",
		at("/scents"),
		"/stores/spoons",
		field("spoon", "MARK", "spoon_grams", "3 g"),
		`SELECT count(*) FROM spoon WHERE name = ?`,
	},
	{"scent", at("/scents/new"), "", field("name", "MARK", "do", "keep"), `SELECT count(*) FROM scent_revision WHERE name = ?`},
	{
		"mold",
		at("/molds/new"),
		"",
		field(
			"name",
			"MARK",
			"mold.shape",
			"box",
			"mold.length_mm",
			"25 cm",
			"mold.width_mm",
			"8 cm",
			"mold.fill_mm",
			"6 cm",
			"material",
			"lined",
			"bars",
			"10",
			"do",
			"keep",
		),
		`SELECT count(*) FROM mold_revision WHERE name = ?`,
	},
	{
		"vessel",
		at("/equipment/new"),
		"",
		field("name", "MARK", "kind", "pot", "ml", "8 l", "do", "keep"),
		`SELECT count(*) FROM equipment_revision WHERE name = ?`,
	},
	{
		"recipe",
		func(t *targets, _ *rand.Rand) string { return t.recipe },
		"",
		field("note", "MARK", "do", "keep"),
		`SELECT count(*) FROM recipe_revision WHERE note = ?`,
	},
	{
		"stock",
		func(t *targets, r *rand.Rand) string { return one(t.stocks, r) },
		"/draw",
		field("grams", "1 g", "note", "MARK"),
		`SELECT count(*) FROM stock_move WHERE note = ?`,
	},
	{
		"reshape",
		readyLot,
		"/reshape",
		field("source", "bars/first/", "pieces", "1", "shape", "scraps", "shape_grams", "1 g", "shape_note", "MARK"),
		`SELECT count(*) FROM reshaped WHERE note = ?`,
	},
	{
		"infusion",
		at("/infusions"),
		"/infusions",
		field("fat", "olive oil", "oil", "100 g", "herb", "MARK", "herb_g", "10 g"),
		`SELECT count(*) FROM infusion WHERE herb = ?`,
	},
	{
		"material",
		at("/materials/new"),
		"",
		field("name", "MARK", "kind", "packaging", "unit", "piece", "do", "keep"),
		`SELECT count(*) FROM material_revision WHERE name = ?`,
	},
	{
		"delivery",
		at("/stores/receive"),
		"/stores/receive",
		field("name", "Olive oil", "supplier", "Quay Oils", "code", "MARK", "amount", "5 kg", "goods", "50"),
		`SELECT count(*) FROM ingredient_lot i JOIN delivery_balance b ON b.delivery_id = i.id WHERE i.code = ? AND b.amount = 5000000`,
	},
	{
		"spill",
		func(t *targets, r *rand.Rand) string { return one(t.deliveries, r) },
		"/leave",
		field("what", "spilled", "amount", "0.1 g", "note", "MARK"),
		`SELECT count(*) FROM delivery_move WHERE note = ?`,
	},
	{
		"old bars",
		at("/stores/opening"),
		"/stores/opening",
		field("code", "MARK", "name", "Old bar", "bars", "5"),
		`SELECT count(*) FROM opening_lot WHERE code = ?`,
	},
	{
		"product",
		func(t *targets, _ *rand.Rand) string {
			return "/products/new?recipe=" + strings.TrimPrefix(t.recipe, "/recipes/")
		},
		"",
		field("name", "MARK", "net", "90 g", "do", "keep"),
		`SELECT count(*) FROM product_revision WHERE name = ?`,
	},
	{"sheet", at("/sheets/new"), "", field("name", "MARK", "do", "keep"), `SELECT count(*) FROM sheet_revision WHERE name = ?`},
	{
		"put by",
		func(t *targets, r *rand.Rand) string { return one(t.products, r) + "/bars" },
		"/reserve",
		field("bars", "1", "for_kind", "person", "for", "MARK"),
		`SELECT count(*) FROM reservation r JOIN bound_balance b ON b.reservation_id = r.id WHERE r.name = ? AND b.bars = 1`,
	},
	{"label rules", at("/labels"), "/labels", field("address", "MARK"), `SELECT count(*) FROM label_rules WHERE body LIKE '%"' || ? || '"%'`},
	{
		"allergens",
		at("/allergens?item=additive:kaolin+clay"),
		"/allergens",
		field("none", "on", "source", "MARK"),
		`SELECT count(*) FROM allergen_word WHERE body LIKE '%"' || ? || '"%'`,
	},
	{
		"assessment",
		func(t *targets, _ *rand.Rand) string {
			return "/assessments/" + strings.TrimPrefix(t.recipe, "/recipes/")
		},
		"",
		field("reference", "MARK", "on", "2026-03-01", "by", "T. Orwin"),
		`SELECT count(*) FROM assessment WHERE body LIKE '%"' || ? || '"%'`,
	},
	{
		"drill",
		func(t *targets, r *rand.Rand) string {
			return "/trace?kind=lot&of=" + strings.TrimPrefix(readyLot(t, r), "/lots/")
		},
		"/recalls",
		field("how", "drill", "why", "MARK"),
		`SELECT count(*) FROM recall WHERE why = ?`,
	},
	{
		"market",
		at("/markets/new"),
		"",
		field("name", "MARK", "on", "2027-05-01", "do", "keep"),
		`SELECT count(*) FROM market_revision WHERE name = ?`,
	},
	{
		"till",
		func(t *targets, r *rand.Rand) string { return one(t.markets, r) + "/stall" },
		"/till",
		field("what", "undone", "of", "MARK"),
		`SELECT count(*) FROM till_entry WHERE body LIKE '%"' || ? || '"%'`,
	},
	{
		"order",
		func(t *targets, r *rand.Rand) string {
			return "/orders/new?product=" + strings.TrimPrefix(one(t.products, r), "/products/")
		},
		"",
		field("buyer_name", "MARK", "due", "2027-05-01", "lines[0].bars", "3", "lines[0].price", "4", "do", "keep"),
		`SELECT count(*) FROM buyer_name n JOIN buyer b ON b.id = n.buyer_id JOIN sale_order_revision r ON r.name = b.code WHERE n.name = ?`,
	},
	{
		"bench",
		at("/plan/day/2027-05-01/hours"),
		"/hours",
		field("note", "MARK", "keep", "day"),
		`SELECT count(*) FROM bench WHERE body LIKE '%"' || ? || '"%'`,
	},
	{"channels", at("/selling"), "/selling", field("terms", "MARK"), `SELECT count(*) FROM sale_rules WHERE body LIKE '%"' || ? || '"%'`},
	{
		"complaint",
		at("/complaints"),
		"/complaints",
		field("kind", "smell", "said", "MARK"),
		`SELECT count(*) FROM complaint WHERE said = ?`,
	},
}

// record is one record that is tried.
type record struct {
	kind
	mark, to     string
	form         url.Values
	acknowledged bool
	refused      bool
}

func (r *record) String() string { return r.name + " " + r.mark }

func (r *record) key() string { return r.form.Get("key") }

// prepare fills in the form of a new record, without sending it.
func prepare(ctx context.Context, v *visitor, t *targets, k kind, mark string, chance *rand.Rand) (*record, error) {
	page, action := k.page(t, chance), k.action
	if action == photos {
		page, action = strings.Replace(one(t.making, chance), "/lots/", "/make/", 1), "/photo"
	}
	to, form, err := v.form(ctx, page, action)
	if err != nil {
		return nil, err
	}
	for name, values := range k.fields(mark) {
		form[name] = values
	}
	return &record{kind: k, mark: mark, to: to, form: form}, nil
}

// send sends a record. It is acknowledged when the answer leads on; err says that there
// was no answer.
func (r *record) send(ctx context.Context, v *visitor, slowly time.Duration) error {
	body, kindOf := io.Reader(strings.NewReader(r.form.Encode())), "application/x-www-form-urlencoded"
	if r.action == photos {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		for name := range r.form {
			if err := w.WriteField(name, r.form.Get(name)); err != nil {
				return err
			}
		}
		file, err := w.CreateFormFile("photo", "bench.jpg")
		if err != nil {
			return err
		}
		if err := errors.Join(picture(file, r.mark), w.Close()); err != nil {
			return err
		}
		body, kindOf = &slow{&b, slowly}, w.FormDataContentType()
	}
	q, err := http.NewRequestWithContext(ctx, http.MethodPost, v.base+r.to, body)
	if err != nil {
		return err
	}
	q.Header.Set("Content-Type", kindOf)
	still := *v.http
	still.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	answer, err := still.Do(q)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	switch {
	case answer.StatusCode == http.StatusSeeOther || answer.StatusCode == http.StatusNoContent:
		r.acknowledged = true
	case answer.StatusCode >= 500 && answer.StatusCode != http.StatusInsufficientStorage &&
		answer.StatusCode != http.StatusServiceUnavailable:
		text, err := io.ReadAll(answer.Body)
		return errors.Join(fmt.Errorf("%w: %s answers %d: %.300s", errFault, r, answer.StatusCode, text), err)
	default:
		r.refused = true
	}
	return nil
}

// errFault says that the program answered with a fault.
var errFault = errors.New("a fault")

// slow reads a little at a time.
type slow struct {
	from  io.Reader
	pause time.Duration
}

func (s *slow) Read(p []byte) (int, error) {
	if s.pause > 0 {
		time.Sleep(s.pause)
		p = p[:min(len(p), 8<<10)]
	}
	return s.from.Read(p)
}

// picture writes a photo that is like no other.
func picture(w io.Writer, mark string) error {
	img := image.NewRGBA(image.Rect(0, 0, 480, 360))
	sum := sha256.Sum256([]byte(mark))
	noise := rand.New(rand.NewChaCha8(sum))
	for y := range 360 {
		for x := range 480 {
			img.Set(x, y, color.RGBA{sum[0], byte(noise.UintN(256)), byte(x), 255})
		}
	}
	return jpeg.Encode(w, img, &jpeg.Options{Quality: 80})
}

// file looks into the records when the program is dead.
type file struct {
	*sql.DB
	dir string
}

func look(dir string) (file, error) {
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.File)+"?_pragma=busy_timeout(5000)")
	if err != nil {
		return file{}, fmt.Errorf("look: %w", err)
	}
	db.SetMaxOpenConns(1)
	return file{db, dir}, nil
}

// ledgers are what the balances of bars, of containers, of deliveries and of bound bars must come to.
const ledgers = `SELECT (SELECT coalesce(sum(bars), 0) FROM bar_balance) - (SELECT coalesce(sum(change), 0) FROM bar_move)
		+ (SELECT coalesce(sum(pieces), 0) FROM reshaped WHERE source = 'bars'),
	(SELECT coalesce(sum(mg), 0) FROM stock_balance) - (SELECT coalesce(sum(change), 0) FROM stock_move)
		+ (SELECT coalesce(sum(amount), 0) FROM delivery_balance) - (SELECT coalesce(sum(change), 0) FROM delivery_move)
		+ (SELECT coalesce(sum(bars), 0) FROM bound_balance) - (SELECT coalesce(sum(change), 0) FROM bar_binding)`

// ledgers is the difference between the balances and the moves since the cut, which
// never changes as long as no bars are cut.
func (f file) ledgers() (bars, stock int64, err error) {
	err = f.QueryRow(ledgers).Scan(&bars, &stock)
	return bars, stock, err
}

// sound fails on a damaged file, on records without a head, and on photos without their
// file or with another's.
func (f file) sound() error {
	var said string
	if err := f.QueryRow(`PRAGMA quick_check`).Scan(&said); err != nil || said != "ok" {
		return fmt.Errorf("the file is damaged: %s, %w", said, err)
	}
	rows, err := f.Query(`PRAGMA foreign_key_check`)
	if err != nil {
		return err
	}
	if rows.Next() {
		return errors.Join(errors.New("a record has no head"), rows.Close())
	}
	if err := rows.Close(); err != nil {
		return err
	}
	rows, err = f.Query(`SELECT DISTINCT file FROM photo`)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return err
		}
		body, err := os.ReadFile(filepath.Join(f.dir, "photos", name))
		if err != nil {
			return fmt.Errorf("a photo on record is not there: %w", err)
		}
		if sum := sha256.Sum256(body); hex.EncodeToString(sum[:])+".jpg" != name {
			return fmt.Errorf("photo %s is not what it was", name)
		}
	}
	return rows.Err()
}

// judge counts each record: by its key, which says that it was recorded, and by its mark.
func (t *Tally) judge(f file, records []*record) error {
	for _, r := range records {
		var keyed, marked int
		if err := f.QueryRow(`SELECT count(*) FROM request_key WHERE key = ?`, r.key()).Scan(&keyed); err != nil {
			return err
		}
		if err := f.QueryRow(r.count, r.mark).Scan(&marked); err != nil {
			return fmt.Errorf("%s: %w", r.name, err)
		}
		switch {
		case marked > 1:
			t.Doubled = append(t.Doubled, r.String())
		case r.acknowledged && marked == 0, keyed != marked:
			t.Lost = append(t.Lost, fmt.Sprintf("%s (acknowledged %t, key %d, mark %d)", r, r.acknowledged, keyed, marked))
		}
	}
	return nil
}
