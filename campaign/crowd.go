package main

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/web"
)

// opened is a shop with the program open on it, for a part that kills nothing.
func (c *Campaign) opened(ctx context.Context, do func(dir string, p *program, v *visitor) error) error {
	dir, err := c.folder()
	if err != nil {
		return err
	}
	p, err := c.start(ctx, dir)
	if err != nil {
		return err
	}
	v, err := p.visit(ctx, tablet())
	if err == nil {
		err = do(dir, p, v)
	}
	if err == nil {
		err = errors.Join(c.took(p), p.alive(), p.stop(), p.clean())
	} else {
		p.kill()
	}
	if err != nil {
		return err
	}
	f, err := look(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.sound(), f.Close(), os.RemoveAll(dir))
}

// people is how many sell at once.
const people = 50

// crowd lets fifty people sell the last bars at once, each of them sending her page twice.
func (c *Campaign) crowd(ctx context.Context) error {
	for range c.Crowds {
		err := c.opened(ctx, func(dir string, p *program, v *visitor) error { return c.rush(ctx, dir, p, v) })
		if err != nil {
			return err
		}
	}
	return nil
}

func (c *Campaign) rush(ctx context.Context, dir string, p *program, v *visitor) error {
	t, err := find(ctx, v)
	if err != nil {
		return err
	}
	sell := kinds[5]
	if sell.name != "bars" {
		return errors.New("the crowd sells no bars")
	}
	lot := t.ready[0]
	had, err := balance(dir, lot)
	if err != nil {
		return err
	}
	var all sync.WaitGroup
	var mu sync.Mutex
	var records []*record
	var errs []error
	for n := range people {
		own := rand.New(rand.NewPCG(c.chance.Uint64(), uint64(n)))
		all.Go(func() {
			for range 4 {
				v, err := p.visit(ctx, tablet())
				var r *record
				if err == nil {
					r, err = prepare(ctx, v, &targets{ready: []string{lot}}, sell, fmt.Sprintf("m%06d", marks.Add(1)), own)
				}
				if errors.Is(err, errNoForm) {
					return // there are none left
				}
				if err == nil {
					again := *r
					err = errors.Join(r.send(ctx, v, 0), again.send(ctx, v, 0))
					r.acknowledged = r.acknowledged || again.acknowledged
				}
				mu.Lock()
				if err != nil {
					errs = append(errs, err)
				} else {
					records = append(records, r)
				}
				mu.Unlock()
			}
		})
	}
	all.Wait()
	left, err := balance(dir, lot)
	if err = errors.Join(append(errs, err)...); err != nil {
		return err
	}
	sold := 0
	for _, r := range records {
		if c.Tried++; r.acknowledged {
			sold++
			c.Acknowledged++
		}
	}
	if left < 0 || had-left < sold || sold == 0 {
		return fmt.Errorf("%d bars were there, %d are left, and %d sales were acknowledged", had, left, sold)
	}
	f, err := look(dir)
	if err != nil {
		return err
	}
	return errors.Join(c.judge(f, records), f.Close())
}

// balance is how many bars of a lot there are.
func balance(dir, lot string) (n int, err error) {
	f, err := look(dir)
	if err != nil {
		return 0, err
	}
	defer f.Close()
	err = f.QueryRow(`SELECT coalesce(sum(bars), 0) FROM bar_balance WHERE lot_id = (SELECT id FROM lot WHERE oid = ?)`,
		strings.TrimPrefix(lot, "/lots/")).
		Scan(&n)
	return n, err
}

// route is an address that the program serves, with its gaps.
type route struct{ method, pattern string }

// routes asks the router itself.
func (c *Campaign) routes(ctx context.Context) (out []route, err error) {
	dir, err := os.MkdirTemp(c.dir, "router-")
	if err != nil {
		return nil, err
	}
	s, err := shop.Open(ctx, dir, time.Now)
	if err != nil {
		return nil, err
	}
	defer s.Close()
	pages, err := web.New(s, nil, nil, nil)
	if err != nil {
		return nil, err
	}
	router, ok := pages.Handler().(chi.Routes)
	if !ok {
		return nil, errors.New("the pages have no router")
	}
	err = chi.Walk(router, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if method == http.MethodGet || method == http.MethodPost {
			out = append(out, route{method, pattern})
		}
		return nil
	})
	return out, err
}

// rubbish is what is sent in the place of words and figures.
var rubbish = []string{
	"",
	" ",
	"0",
	"-1",
	"1e999",
	"NaN",
	"99999999999999999999",
	"½",
	"1,250",
	"5 lb 3 oz",
	"\x00",
	"\x1b[2J",
	"\u202e",
	"’; DROP TABLE lot; --",
	"<script>alert(1)</script>",
	"{{.}}",
	"../../etc/passwd",
	"%00",
	"=1+1",
	"\r\nSet-Cookie: x=1",
	"2026-13-45",
	"on",
	"keep",
	"look",
	"null",
	"[]",
	"{\"format\":\"ashshelf.recipe/1\"}",
	"first/",
	":::",
	"é\xff",
	strings.Repeat("A", 70_000),
}

// names are fields of the forms, and some that are none.
var names = []string{
	"key",
	"seen",
	"tab",
	"base",
	"do",
	"name",
	"note",
	"text",
	"why",
	"grams",
	"item",
	"step",
	"kind",
	"count",
	"reason",
	"fats[0].fat",
	"fats[0].percent",
	"fats[99999999].fat",
	"additives[0].name",
	"superfat_percent",
	"recipe",
	"mold",
	"count.x",
	"day",
	"from",
	"to",
	"q",
	"stage",
	"find",
	"next",
	"person",
	"zone",
	"at",
	"of",
	"because",
	"reading",
	"probe",
	"lye_c",
	"method",
	"ph",
	"result",
	"sample",
	"first",
	"size[0].name",
	"place",
	"mark",
	"mark_why",
	"way",
	"outcome",
	"incident",
	"parent",
	"what",
	"format",
	"undo",
	"again",
	"times",
	"by",
	"a[b].c",
	"[",
	"",
}

// garbage sends rubbish to every route, in its gaps, its fields and its body, and raw
// bytes to the port. The program answers each without a fault and lives.
func (c *Campaign) garbage(ctx context.Context) error {
	routes, err := c.routes(ctx)
	if err != nil {
		return err
	}
	return c.opened(ctx, func(_ string, p *program, v *visitor) error {
		t, err := find(ctx, v)
		if err != nil {
			return err
		}
		work := make(chan route)
		var all sync.WaitGroup
		var mu sync.Mutex
		var errs []error
		for n := range writers {
			own := rand.New(rand.NewPCG(c.chance.Uint64(), uint64(n)))
			all.Go(func() {
				for r := range work {
					if err := throw(ctx, v, t, r, own); err != nil {
						mu.Lock()
						errs = append(errs, err)
						mu.Unlock()
					}
				}
			})
		}
		for range c.Garbage {
			for _, r := range routes {
				work <- r
			}
		}
		close(work)
		all.Wait()
		return errors.Join(append(errs, raw(p, c.Garbage, c.chance))...)
	})
}

// throw sends one piece of rubbish.
func throw(ctx context.Context, v *visitor, t *targets, r route, chance *rand.Rand) error {
	pick := func(list []string) string { return list[chance.IntN(len(list))] }
	known := append([]string{t.recipe, t.mold}, append(append(append([]string{}, t.lots...), t.making...), t.stocks...)...)
	path := r.pattern
	for strings.Contains(path, "{") {
		before, rest, _ := strings.Cut(path, "{")
		gap, after, _ := strings.Cut(rest, "}")
		for strings.Count(gap, "{") > strings.Count(gap, "}") { // a pattern with braces of its own
			more, rest, _ := strings.Cut(after, "}")
			gap, after = gap+"}"+more, rest
		}
		fill := pick(rubbish)
		switch name, _, _ := strings.Cut(gap, ":"); {
		case name == "oid" && chance.IntN(4) > 0:
			fill = pick(known)[strings.LastIndex(pick(known), "/")+1:]
			if id := pick(known); chance.IntN(2) == 0 {
				fill = id[strings.LastIndex(id, "/")+1:]
			}
		case name == "act" && chance.IntN(4) > 0:
			fill = pick(
				[]string{
					"note",
					"next",
					"hold",
					"lift",
					"mark",
					"move",
					"sample",
					"check",
					"cut",
					"unmold",
					"release",
					"pour",
					"weigh",
					"tick",
					"temp",
					"extra",
					"care",
					"wash",
					"kept",
					"reshape",
					"place",
					"retime",
					"trouble",
					"way",
					"outcome",
					"blame",
					"rescue",
					"carry",
					"count",
					"draw",
					"dilute",
					"status",
					"verify",
					"read",
					"giveup",
					"paper",
					"back",
					"takeover",
				},
			)
		case name == "month" || name == "date":
			fill = pick([]string{"2026-03", "2026-03-14", "0000-00", "9999-12", "-1", "2026-02-30"})
		case name == "kind":
			fill = pick([]string{"scale", "probe", "forgotten", "seized", "x"})
		case len(fill) > 100:
			fill = fill[:100]
		}
		path = before + url.PathEscape(fill) + after
	}
	path = strings.TrimSuffix(path, "*")
	fields := url.Values{}
	for range chance.IntN(8) {
		fields.Add(pick(names), pick(rubbish))
	}
	body, kindOf := fields.Encode(), "application/x-www-form-urlencoded"
	switch chance.IntN(6) {
	case 0:
		kindOf = pick([]string{"multipart/form-data; boundary=b", "multipart/form-data", "application/json", "text/plain", "\x00"})
	case 1:
		body = pick(rubbish)
	}
	if r.method == http.MethodGet {
		path, body = path+"?"+fields.Encode(), ""
	}
	if strings.HasSuffix(r.pattern, "/live") && r.method == http.MethodGet {
		return nil // it goes on for ever, as it should
	}
	q, err := http.NewRequestWithContext(ctx, r.method, v.base+path, strings.NewReader(body))
	if err != nil {
		return nil // no request at all
	}
	q.Header.Set("Content-Type", strings.ReplaceAll(kindOf, "\x00", "none"))
	still := *v.http
	still.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	answer, err := still.Do(q)
	if err != nil {
		return fmt.Errorf("%s %.200s: %w", r.method, path, err)
	}
	defer answer.Body.Close()
	if answer.StatusCode >= 500 {
		return fmt.Errorf("%s %.200s answers %d to %.300q", r.method, path, answer.StatusCode, body)
	}
	if to := answer.Header.Get("Location"); to != "" && (!strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//")) {
		return fmt.Errorf("%s %.200s leads away, to %.200q", r.method, path, to)
	}
	return nil
}

// raw throws bytes that are no request at the port.
func raw(p *program, n int, chance *rand.Rand) error {
	for range n {
		line, err := net.DialTimeout("tcp", p.addr, 5*time.Second)
		if err != nil {
			return fmt.Errorf("the port is closed: %w", err)
		}
		bytes := make([]byte, chance.IntN(4096))
		for i := range bytes {
			bytes[i] = byte(chance.UintN(256))
		}
		_, _ = line.Write(append([]byte("POST /"), bytes...)) // it may be hung up on
		_ = line.Close()
	}
	return p.alive()
}

// readers is how many read slowly.
const readers = 150

// slow lets many read and write a byte at a time. Others are served meanwhile.
func (c *Campaign) slow(ctx context.Context) error {
	return c.opened(ctx, func(_ string, p *program, v *visitor) error {
		ctx, end := context.WithTimeout(ctx, c.Slow)
		defer end()
		var all sync.WaitGroup
		for n := range readers {
			all.Go(func() {
				line, err := net.DialTimeout("tcp", p.addr, 5*time.Second)
				if err != nil {
					return // it is hung up on
				}
				defer line.Close()
				stop := context.AfterFunc(ctx, func() { line.Close() })
				defer stop()
				request := "GET /static/dist/app.css HTTP/1.1\r\nHost: " + p.addr + "\r\n\r\n"
				if n%2 == 1 {
					request = "POST /who HTTP/1.1\r\nHost: " + p.addr + "\r\nContent-Length: 100000\r\n\r\nperson="
				}
				if _, err := line.Write([]byte(request)); err != nil {
					return
				}
				for b := make([]byte, 1); ctx.Err() == nil; time.Sleep(100 * time.Millisecond) {
					if n%2 == 1 {
						_, err = line.Write([]byte("1"))
					} else {
						_, err = line.Read(b)
					}
					if err != nil {
						return
					}
				}
			})
		}
		defer all.Wait()
		defer end()
		for ctx.Err() == nil {
			began := time.Now()
			status, _, _, err := v.get(context.WithoutCancel(ctx), "/")
			if took := time.Since(began); err != nil || status != http.StatusOK || took > 5*time.Second {
				return fmt.Errorf("beside slow readers the shelf answers %d after %v: %w", status, took, err)
			}
			time.Sleep(200 * time.Millisecond)
		}
		return nil
	})
}
