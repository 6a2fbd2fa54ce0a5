package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"ashshelf/archive/past"
	"ashshelf/store"
	"ashshelf/store/disktest"
)

// disk fills the disk while people write, upgrade and make the demo, and protects it.
func (c *Campaign) disk(ctx context.Context) error {
	dir, err := os.MkdirTemp(c.dir, "disk-")
	if err != nil {
		return err
	}
	d, err := disktest.New(dir, 32<<20)
	if errors.Is(err, disktest.ErrMayNot) {
		fmt.Println("disk: left out, there is", err)
		return nil
	}
	if err != nil {
		return err
	}
	return errors.Join(c.fullWrites(ctx, d), c.fullStarts(ctx, d), c.protected(ctx, d), d.Close())
}

// fullWrites fills the disk in the middle of records, again and again. Nothing that was
// acknowledged is lost, and the program goes on when there is space.
func (c *Campaign) fullWrites(ctx context.Context, d *disktest.Disk) error {
	if err := os.WriteFile(filepath.Join(d.Dir, store.File), c.blank, 0o600); err != nil {
		return err
	}
	f, err := look(d.Dir)
	if err != nil {
		return err
	}
	bars, stock, err := f.ledgers()
	if err = errors.Join(err, f.Close()); err != nil {
		return err
	}
	p, err := c.start(ctx, d.Dir)
	if err != nil {
		return err
	}
	defer p.kill()
	at := tablet()
	v, err := p.visit(ctx, at)
	if err != nil {
		return err
	}
	t, err := find(ctx, v)
	if err != nil {
		return err
	}
	w, wait, err := p.work(ctx, t, at, c.chance)
	if err != nil {
		return err
	}
	pause := func() { time.Sleep(time.Duration(50+c.chance.IntN(400)) * time.Millisecond) }
	for range c.Fills {
		pause()
		if err := d.Fill(c.chance.IntN(4) << 15); err != nil {
			return err
		}
		pause()
		if status, _, _, err := v.get(ctx, "/"); err != nil || status >= 500 {
			return fmt.Errorf("on a full disk the shelf answers %d: %w", status, err)
		}
		if err := d.Empty(); err != nil {
			return err
		}
	}
	pause()
	wait()
	refused := 0
	for _, r := range w.records {
		c.Tried++
		switch {
		case r.acknowledged:
			c.Acknowledged++
			c.Kinds[r.name]++
		case r.refused:
			refused++
			if err := r.send(ctx, v, 0); err != nil { // now there is space
				return fmt.Errorf("send %s again: %w", r, err)
			}
			c.Resent++
		}
	}
	if refused == 0 {
		return errors.New("the disk was never full")
	}
	if err := errors.Join(c.took(p), p.alive(), errors.Join(w.faults...), p.stop()); err != nil {
		return err
	}
	return c.after(d.Dir, w.records, bars, stock)
}

// fullStarts opens shops of the past, and makes the demo, where there is too little space:
// either it goes well or it says so, and it goes well once there is space.
func (c *Campaign) fullStarts(ctx context.Context, d *disktest.Disk) error {
	for n := range c.Fills {
		if err := clear(d.Dir); err != nil {
			return err
		}
		schema, had := 1+n%(past.Newest+1), 0
		if schema <= past.Newest {
			if err := past.Unpack(schema, d.Dir, store.File); err != nil {
				return err
			}
			var err error
			if had, _, err = entries(d.Dir); err != nil {
				return err
			}
		}
		if err := d.Fill(c.chance.IntN(48) << 14); err != nil {
			return err
		}
		p, err := c.start(ctx, d.Dir)
		switch {
		case err == nil:
			if err := errors.Join(p.stop(), p.clean()); err != nil {
				return err
			}
		case !errors.Is(err, errNotOpen) || !strings.Contains(err.Error(), "full"):
			return fmt.Errorf("schema %d on a full disk: %w", schema, err)
		}
		if err := errors.Join(d.Empty(), c.opens(ctx, d.Dir)); err != nil {
			return fmt.Errorf("schema %d with space again: %w", schema, err)
		}
		if has, _, err := entries(d.Dir); err != nil || has < had {
			c.Lost = append(c.Lost, fmt.Sprintf("%d of %d entries of schema %d on a full disk (%v)", had-has, had, schema, err))
		}
	}
	return nil
}

// protected opens the shop on a disk that is write-protected: it says so in a sentence.
func (c *Campaign) protected(ctx context.Context, d *disktest.Disk) error {
	if err := d.Protect(true); err != nil {
		return err
	}
	_, err := c.start(ctx, d.Dir)
	if err == nil || !strings.Contains(err.Error(), "cannot be written to") {
		return fmt.Errorf("on a protected disk: %w", err)
	}
	return errors.Join(d.Protect(false), c.opens(ctx, d.Dir))
}

// clear empties a folder.
func clear(dir string) error {
	files, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	for _, f := range files {
		if err := os.RemoveAll(filepath.Join(dir, f.Name())); err != nil {
			return err
		}
	}
	return nil
}
