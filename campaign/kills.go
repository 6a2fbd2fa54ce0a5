package main

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"ashshelf/archive/past"
	"ashshelf/store"
)

// writers is how many people write at once.
const writers = 4

// marks numbers all records of a campaign.
var marks atomic.Int64

// find looks for what there is to write to.
func find(ctx context.Context, v *visitor) (t *targets, err error) {
	t = &targets{}
	for page, into := range map[string]*[]string{"/lots?stage=making": &t.making, "/lots?stage=ready": &t.ready, "/lots": &t.lots} {
		if *into, err = v.links(ctx, page, "/lots/"); err != nil {
			return nil, err
		}
	}
	if t.deliveries, err = v.links(ctx, "/stores/of?key=fat:coconut-oil", "/stores/deliveries/"); err != nil {
		return nil, err
	}
	if t.products, err = v.links(ctx, "/products", "/products/"); err != nil {
		return nil, err
	}
	if t.markets, err = v.links(ctx, "/markets", "/markets/"); err != nil {
		return nil, err
	}
	if t.stocks, err = v.links(ctx, "/lye", "/lye/"); err != nil {
		return nil, err
	}
	recipes, err := v.links(ctx, "/recipes", "/recipes/")
	if err != nil || len(recipes) == 0 {
		return nil, fmt.Errorf("recipes: %w", err)
	}
	molds, err := v.links(ctx, "/molds", "/molds/")
	if err != nil || len(molds) == 0 {
		return nil, fmt.Errorf("molds: %w", err)
	}
	t.recipe, t.mold = recipes[0], molds[0]
	if len(t.lots)*len(t.making)*len(t.ready)*len(t.stocks)*len(t.deliveries)*len(t.products)*len(t.markets) == 0 {
		return nil, fmt.Errorf("the made-up shop lacks something to write to: %+v", t)
	}
	return t, nil
}

// crew is people who write until the program is gone or the context ends.
type crew struct {
	mu      sync.Mutex
	records []*record
	faults  []error
}

// write sends records of all kinds, one after the other.
func (w *crew) write(ctx context.Context, v *visitor, t *targets, chance *rand.Rand) {
	for ctx.Err() == nil {
		k := kinds[chance.IntN(len(kinds))]
		r, err := prepare(ctx, v, t, k, fmt.Sprintf("m%06d", marks.Add(1)), chance)
		if errors.Is(err, errNoForm) {
			continue // it cannot be done to that lot now
		}
		if err != nil {
			return
		}
		w.mu.Lock()
		w.records = append(w.records, r)
		w.mu.Unlock()
		if err := r.send(ctx, v, time.Duration(chance.IntN(3))*time.Millisecond); errors.Is(err, errFault) {
			w.mu.Lock()
			w.faults = append(w.faults, err)
			w.mu.Unlock()
		} else if err != nil {
			return // killed in the middle
		}
	}
}

// work lets a crew write until the context ends, and waits for them.
func (p *program) work(ctx context.Context, t *targets, at *cookiejar.Jar, chance *rand.Rand) (*crew, func(), error) {
	w := &crew{}
	var all sync.WaitGroup
	ctx, end := context.WithCancel(ctx)
	for range writers {
		v, err := p.visit(ctx, at)
		if err != nil {
			end()
			return nil, nil, err
		}
		own := rand.New(rand.NewPCG(chance.Uint64(), 2))
		all.Go(func() { w.write(ctx, v, t, own) })
	}
	return w, func() { end(); all.Wait() }, nil
}

// took notes how much memory the program had.
func (c *Campaign) took(p *program) error {
	bytes, err := p.peak()
	c.Memory = max(c.Memory, bytes)
	return err
}

// writes kills the program in the middle of records of every kind.
func (c *Campaign) writes(ctx context.Context) error {
	for done := 0; done < c.Writes; {
		n := min(c.Fresh, c.Writes-done)
		if err := c.oneShop(ctx, n); err != nil {
			return err
		}
		done += n
	}
	return nil
}

// oneShop writes to one shop and kills it so many times.
func (c *Campaign) oneShop(ctx context.Context, kills int) error {
	dir, err := c.folder()
	if err != nil {
		return err
	}
	f, err := look(dir)
	if err != nil {
		return err
	}
	bars, stock, err := f.ledgers()
	if err = errors.Join(err, f.Close()); err != nil {
		return err
	}
	var all, open []*record
	var t *targets
	at := tablet() // whose run is written on it alone
	for range kills {
		p, err := c.start(ctx, dir)
		if err != nil {
			return err
		}
		v, err := p.visit(ctx, at)
		if err == nil && t == nil {
			t, err = find(ctx, v)
		}
		if err != nil {
			p.kill()
			return errors.Join(err, p.clean())
		}
		// What was not answered is sent again, as a page does.
		for _, r := range open {
			if err := r.send(ctx, v, 0); err != nil {
				p.kill()
				return errors.Join(fmt.Errorf("send %s again: %w", r, err), p.clean())
			}
			c.Resent++
		}
		w, wait, err := p.work(ctx, t, at, c.chance)
		if err != nil {
			p.kill()
			return err
		}
		time.Sleep(time.Duration(20+c.chance.IntN(500)) * time.Millisecond)
		err = c.took(p)
		p.kill()
		wait()
		c.Kills++
		all, open = append(all, w.records...), open[:0]
		for _, r := range w.records {
			if c.Tried++; !r.acknowledged && !r.refused {
				open = append(open, r)
			}
		}
		if err := errors.Join(err, p.clean(), errors.Join(w.faults...)); err != nil {
			return err
		}
		if err := c.after(dir, w.records, bars, stock); err != nil {
			return err
		}
	}
	for _, r := range all {
		if r.acknowledged {
			c.Acknowledged++
			c.Kinds[r.name]++
		}
	}
	if err := c.after(dir, all, bars, stock); err != nil { // nothing was lost later
		return err
	}
	return os.RemoveAll(dir)
}

// after looks into the file when the program is dead.
func (c *Campaign) after(dir string, records []*record, bars, stock int64) error {
	f, err := look(dir)
	if err != nil {
		return err
	}
	defer f.Close()
	if err := errors.Join(f.sound(), c.judge(f, records)); err != nil {
		return err
	}
	bars2, stock2, err := f.ledgers()
	if err == nil && (bars2 != bars || stock2 != stock) {
		err = fmt.Errorf("the balances are off: bars %d, stock %d mg", bars2-bars, stock2-stock)
	}
	return err
}

// entries is how many entries a file holds, and its schema.
func entries(dir string) (n, schema int, err error) {
	f, err := look(dir)
	if err != nil {
		return 0, 0, err
	}
	defer f.Close()
	err = f.QueryRow(`SELECT (SELECT count(*) FROM entry), (SELECT max(version_id) FROM goose_db_version)`).Scan(&n, &schema)
	return n, schema, err
}

// killedWithin runs the program on a folder and kills it after a while, unless it opened
// before.
func (c *Campaign) killedWithin(ctx context.Context, dir string, most time.Duration) error {
	p, line, err := c.launch(ctx, dir)
	if err != nil {
		return err
	}
	select {
	case <-line:
	case <-time.After(time.Duration(c.chance.Int64N(int64(most)))):
	}
	if _, err := os.Stat(filepath.Join(dir, store.File)); err == nil {
		err = c.took(p) // while there is somebody to ask
		if err != nil && !strings.Contains(err.Error(), "no VmHWM") {
			p.kill()
			return err
		}
	}
	p.kill()
	c.Kills++
	return p.clean()
}

// opens starts the program in earnest and stops it.
func (c *Campaign) opens(ctx context.Context, dir string) error {
	p, err := c.start(ctx, dir)
	if err != nil {
		return err
	}
	return errors.Join(c.took(p), p.stop(), p.clean())
}

// upgrades kills the program while it brings shops of earlier schemas up to date.
func (c *Campaign) upgrades(ctx context.Context) error {
	for n := range c.Upgrades {
		dir, err := os.MkdirTemp(c.dir, "past-")
		if err != nil {
			return err
		}
		if err := past.Unpack(1+n%past.Newest, dir, store.File); err != nil {
			return err
		}
		had, _, err := entries(dir)
		if err != nil {
			return err
		}
		for range 1 + c.chance.IntN(2) {
			if err := c.killedWithin(ctx, dir, 250*time.Millisecond); err != nil {
				return err
			}
		}
		if err := c.opens(ctx, dir); err != nil {
			return fmt.Errorf("after a killed upgrade: %w", err)
		}
		has, _, err := entries(dir)
		if err != nil {
			return err
		}
		if has != had {
			c.Lost = append(c.Lost, fmt.Sprintf("%d of %d entries of schema %d", had-has, had, 1+n%past.Newest))
		}
		f, err := look(dir)
		if err != nil {
			return err
		}
		if err := errors.Join(f.sound(), f.Close(), os.RemoveAll(dir)); err != nil {
			return err
		}
	}
	return nil
}

// demos kills the program while it makes up the demo.
func (c *Campaign) demos(ctx context.Context) error {
	for range c.Demos {
		dir, err := os.MkdirTemp(c.dir, "demo-")
		if err != nil {
			return err
		}
		if err := c.killedWithin(ctx, dir, 6*time.Second); err != nil {
			return err
		}
		if err := c.opens(ctx, dir); err != nil {
			return fmt.Errorf("after a killed demo: %w", err)
		}
		held, err := store.Peek(ctx, dir)
		if err != nil || !held.Demo {
			return fmt.Errorf("the folder holds no demo: %w", err)
		}
		if _, err := os.Stat(filepath.Join(dir, "half-made")); err == nil {
			return errors.New("what was half made is still there")
		}
		if err := os.RemoveAll(dir); err != nil {
			return err
		}
	}
	return nil
}
