package shop

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Retime records when something of a lot really happened that was recorded by a wrong
// clock.
func (s *Shop) Retime(ctx context.Context, act journal.Act, oid string, of int64, at time.Time, why string) error {
	return s.OnLot(ctx, act, oid, lot.ToRetime, func(c *journal.Change, l *lot.Lot) error {
		if c.Doubt != "" { // it would be held to a future that is none, and settle a doubt by another
			return &lot.NotNow{Why: "the clock is in doubt: put it right first, or say that it is, and then this time"}
		}
		var p caution.Problems
		var not *lot.NotNow
		if err := l.CheckRetime(of, at, c.Now); errors.As(err, &not) {
			p.Add("at", "%s", not.Why)
		} else if err != nil {
			return err
		}
		if why = strings.TrimSpace(why); why == "" {
			p.Add("because", "write how you know; both moments stay on record")
		}
		if err := p.Err(); err != nil {
			return err
		}
		was, _ := l.Retimable(of)
		entry, err := c.Entry("retime")
		if err != nil {
			return err
		}
		said := func(t time.Time) string { return t.In(at.Location()).Format("2 January 2006, 15:04") }
		return c.AddRetime(
			entry,
			l.ID,
			lot.Retime{
				Of:   of,
				At:   at,
				Said: fmt.Sprintf("“%s” was at %s, not at %s: %s", was.Title, said(at), said(was.Occurred), why),
			},
		)
	})
}

// AddNote writes a remark on a lot, or an incident.
func (s *Shop) AddNote(ctx context.Context, act journal.Act, oid string, incident bool, text string) error {
	if text = strings.TrimSpace(text); text == "" {
		return caution.Problems{{Path: "text", Text: "write what happened"}}
	}
	kind := store.Remark
	if incident {
		kind = store.Mishap
	}
	return s.OnLot(ctx, act, oid, lot.ToNote, func(c *journal.Change, l *lot.Lot) error {
		return c.Record(string(kind), func(entry int64) error { return c.AddNote(entry, l.ID, kind, text) })
	})
}

// AddPhoto keeps a picture of a lot. It is turned upright, made smaller and
// written anew, which leaves behind what the camera noted of place and owner.
// The file, named by its content, is on the disk before its row.
func (s *Shop) AddPhoto(ctx context.Context, act journal.Act, oid string, from io.Reader, caption string) error {
	l, err := s.Lot(ctx, oid)
	if err != nil {
		return err
	}
	if err := s.Takes(len(l.Photos)); err != nil {
		return err
	}
	file, size, err := s.KeepPhoto(from)
	if err != nil {
		return err
	}
	return s.OnLotUnseen(ctx, act, oid, lot.ToPhoto, func(c *journal.Change, l *lot.Lot) error {
		if err := s.Takes(len(l.Photos)); err != nil { // others add some, too
			return err
		}
		return c.Record("photo", func(entry int64) error {
			return c.AddPhoto(entry, l.ID, lot.Photo{File: file, W: size.X, H: size.Y, Caption: strings.TrimSpace(caption)})
		})
	})
}

// AddNext writes what to change next time.
func (s *Shop) AddNext(ctx context.Context, act journal.Act, oid, text string) error {
	if text = strings.TrimSpace(text); text == "" || len(text) > 2000 {
		return caution.Problems{{Path: "next", Text: "write what to change, in up to 2000 letters"}}
	}
	return s.OnLotUnseen(ctx, act, oid, lot.ToNext, func(c *journal.Change, l *lot.Lot) error {
		return c.Record("next time", func(entry int64) error { return c.AddNext(entry, l.ID, text) })
	})
}
