package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"time"

	"ashshelf/store/disk"
)

// conns hands out connections to the database, each with the statements that
// were parsed on it before. Parsing costs more than most queries, and a program
// asks the same few hundred again and again.
type conns struct {
	db   *sql.DB
	free chan *conn    // a nil one is not opened yet
	wait time.Duration // for one of them
}

// conn is one connection. It serves one transaction at a time.
type conn struct {
	*sql.Conn
	parsed map[string]*sql.Stmt
}

// mostParsed bounds what a connection remembers; what is asked beyond it is
// parsed each time.
const mostParsed = 500

func newConns(db *sql.DB, most int) *conns {
	db.SetMaxOpenConns(most)
	c := &conns{db, make(chan *conn, most), mostWait}
	for range most {
		c.free <- nil
	}
	return c
}

// mostWait is how long somebody waits for a connection that others use.
const mostWait = 8 * time.Second

// take waits for a connection; give hands it back.
func (c *conns) take(ctx context.Context) (*conn, error) {
	patience := time.NewTimer(c.wait)
	defer patience.Stop()
	select {
	case <-ctx.Done():
		return nil, ctx.Err()
	case <-patience.C:
		return nil, disk.ErrBusy
	case one := <-c.free:
		if one != nil {
			return one, nil
		}
		opened, err := c.db.Conn(ctx)
		if err != nil {
			c.free <- nil
			return nil, fmt.Errorf("connect: %w", err)
		}
		return &conn{opened, map[string]*sql.Stmt{}}, nil
	}
}

func (c *conns) give(one *conn) { c.free <- one }

// drop hands back the place of a connection that is no longer good.
func (c *conns) drop(one *conn) {
	_ = one.Close() // it is closed already, or broken
	c.free <- nil
}

// dead reports whether an error says that the connection is gone: a request that
// is cancelled in the middle takes its connection with it.
func dead(err error) bool {
	return errors.Is(err, sql.ErrConnDone) || errors.Is(err, driver.ErrBadConn)
}

// begin opens a transaction on a connection that is good. It outlives its context, and is ended by
// [conns.within] alone: one that is taken back behind our back when a request is cut off may still
// be open when the next one begins on its connection. What is asked within it ends with the context.
func (c *conns) begin(ctx context.Context) (*conn, *sql.Tx, error) {
	for {
		one, err := c.take(ctx)
		if err != nil {
			return nil, nil, err
		}
		tx, err := one.BeginTx(context.WithoutCancel(ctx), nil)
		if err == nil {
			return one, tx, nil
		}
		if !dead(err) {
			c.give(one)
			return nil, nil, err
		}
		c.drop(one)
	}
}

// within runs f in one transaction. When f panics, what it wrote is taken back and
// the connection serves the next one, before the panic goes on.
func (c *conns) within(ctx context.Context, writing bool, f func(*Tx) error) error {
	one, tx, err := c.begin(ctx)
	if err != nil {
		return fmt.Errorf("begin: %w", err)
	}
	ended := false
	defer func() {
		if ended {
			c.give(one)
			return
		}
		if err := tx.Rollback(); err != nil {
			c.drop(one) // it may be in the middle of something
			return
		}
		c.give(one)
	}()
	err = f(&Tx{conn: one, ctx: ctx, Writing: writing})
	ended = true
	if err != nil {
		if back := tx.Rollback(); back != nil && !errors.Is(back, sql.ErrTxDone) {
			return errors.Join(err, fmt.Errorf("roll back: %w", back))
		}
		return err
	}
	if err := tx.Commit(); err != nil {
		ended = false // what a full disk stopped half way is taken back, if need be by closing
		return fmt.Errorf("commit: %w", err)
	}
	return nil
}

// stmt parses a statement, or finds it parsed. It runs on the connection, and so
// within the transaction that is open there.
func (t *Tx) stmt(query string) (s *sql.Stmt, done func(), err error) {
	if s, ok := t.conn.parsed[query]; ok {
		return s, func() {}, nil
	}
	if s, err = t.conn.PrepareContext(t.ctx, query); err != nil {
		return nil, nil, err
	}
	if len(t.conn.parsed) < mostParsed {
		t.conn.parsed[query] = s
		return s, func() {}, nil
	}
	return s, func() { s.Close() }, nil
}

// close closes all connections. Nobody may be using one.
func (c *conns) close() error {
	var errs []error
	for range cap(c.free) {
		if one := <-c.free; one != nil {
			for _, s := range one.parsed {
				errs = append(errs, s.Close())
			}
			errs = append(errs, one.Close())
		}
	}
	return errors.Join(append(errs, c.db.Close())...)
}
