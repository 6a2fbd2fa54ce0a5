// Package device reads a kitchen scale and a thermometer.
//
// A scale shows a weight many times a second, and most of what it shows is on
// the way to somewhere: the stream of oil is still falling. What may go on
// record is a reading that stands still. A [Source] delivers readings, each
// with a number; a [Watch] reads one source, keeps the last minutes of it, tells
// any number of pages, and says when contact is lost. A page sends back the
// number of the reading that the maker saw, and that reading is what is stored.
//
// A source is a device on the network that speaks the line protocol of
// docs/devices.md ([Line]), or a stand-in within the program (package sim).
package device

import (
	"context"
	"log/slog"
	"sync"
	"time"
)

// Kind is what a device measures.
type Kind string

// The kinds.
const (
	Scale Kind = "scale"
	Probe Kind = "probe"
)

// Reading is one thing a device showed.
type Reading struct {
	Number int64     // rises by at least one from reading to reading of a source
	At     time.Time // when it came in
	Value  float64   // g of a scale, °C of a probe
	Stable bool      // it stands still
	Kind   Kind      // what its unit says it is of; empty where no unit was sent
	Over   bool      // more than the device can carry; Value means nothing
}

// Info is what a device says of itself.
type Info struct {
	Kind Kind
	Name string
	Step float64 // smallest difference it shows
	Most float64 // largest value it shows
}

// Source is a device. Read delivers its readings until the context ends or
// contact is lost, which is its error. Tare makes a scale show zero.
type Source interface {
	Read(ctx context.Context, hello func(Info), reading func(Reading)) error
	Tare(ctx context.Context) error
}

// State is what is known of a device now.
type State struct {
	Info    Info
	On      bool   // in contact
	Err     string // why not, in the words of the machine
	Since   time.Time
	Reading Reading // the newest
}

// kept is how many readings a watch remembers: ten minutes at ten a second, so
// that an entry that was held up on its way still finds what was seen.
const kept = 6000

// retry is how long a watch waits before it looks for a lost device again.
const retry = time.Second

// Stale is the age from which a reading is no longer what a device shows: a scale
// says ten times a second what lies on it, and two seconds are a slop of oil.
const Stale = 2 * time.Second

// Fresh reports whether a reading was live at a moment.
func (r Reading) Fresh(at time.Time) bool { return at.Sub(r.At) <= Stale }

// Words says what a device of the kind is.
func (k Kind) Words() string {
	if k == Probe {
		return "thermometer"
	}
	return "scale"
}

// Watch reads one source and shares what comes. Its methods may be called from
// anywhere.
type Watch struct {
	source Source
	log    *slog.Logger

	mu     sync.Mutex
	state  State
	past   []Reading // a ring, the oldest overwritten
	next   int
	last   int64 // number given to the newest reading
	wake   chan struct{}
	closed bool
}

// NewWatch makes a watch of a source; [Watch.Run] starts it.
func NewWatch(source Source, log *slog.Logger) *Watch {
	// Numbers start at the clock, so that those of an earlier run of the
	// program are never taken for new ones.
	return &Watch{
		source: source,
		log:    log,
		wake:   make(chan struct{}),
		last:   time.Now().UnixMilli(),
		state:  State{Err: "not found yet", Since: time.Now()},
	}
}

// Run reads the source until the context ends, looking for it again whenever
// contact is lost.
func (w *Watch) Run(ctx context.Context) {
	for ctx.Err() == nil {
		err := w.source.Read(ctx, w.hello, w.take)
		if ctx.Err() != nil {
			break
		}
		w.lost(err)
		select {
		case <-ctx.Done():
		case <-time.After(retry):
		}
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	w.closed = true
	w.tell()
}

func (w *Watch) hello(i Info) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.log.Info("device found", "kind", i.Kind, "name", i.Name)
	w.state = State{Info: i, On: true, Since: time.Now()}
	w.tell()
}

func (w *Watch) take(r Reading) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.last++
	r.Number, r.At = w.last, time.Now()
	w.state.Reading = r
	if len(w.past) < kept {
		w.past = append(w.past, r)
	} else {
		w.past[w.next] = r
	}
	w.next = (w.next + 1) % kept
	w.tell()
}

func (w *Watch) lost(err error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	text := "it went silent"
	if err != nil {
		text = err.Error()
	}
	if w.state.On {
		w.log.Warn("device lost", "kind", w.state.Info.Kind, "name", w.state.Info.Name, "err", text)
		w.state.Since = time.Now()
	}
	w.state.On, w.state.Err = false, text
	w.tell()
}

// tell wakes everybody who waits; the lock is held.
func (w *Watch) tell() {
	close(w.wake)
	w.wake = make(chan struct{})
}

// State is what is known now, and a channel that is closed at the next change.
// ok is false once the watch has ended.
func (w *Watch) State() (s State, changed <-chan struct{}, ok bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.state, w.wake, !w.closed
}

// Reading finds a reading by its number, as long as it is remembered.
func (w *Watch) Reading(number int64) (Reading, bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for _, r := range w.past {
		if r.Number == number {
			return r, true
		}
	}
	return Reading{}, false
}

// Tare makes the scale show zero.
func (w *Watch) Tare(ctx context.Context) error { return w.source.Tare(ctx) }
