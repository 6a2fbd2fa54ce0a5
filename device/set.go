package device

import (
	"context"
	"fmt"
	"log/slog"
	"sync"
)

// StandIn is a simulated device, which is told what happens on the bench.
type StandIn interface {
	Do(command string) error
}

// Set is the devices of a shop, at most one of each kind. It may be used from
// anywhere.
type Set struct {
	ctx context.Context
	log *slog.Logger

	mu      sync.Mutex
	devices map[Kind]*placed
}

type placed struct {
	addr   string
	source Source
	watch  *Watch
	stop   context.CancelFunc
}

// NewSet makes an empty set, whose devices are read until the context ends.
func NewSet(ctx context.Context, log *slog.Logger) *Set {
	return &Set{ctx: ctx, log: log, devices: map[Kind]*placed{}}
}

// Place puts a source on the bench in place of the one of its kind.
func (b *Set) Place(k Kind, source Source) { b.place(k, "", source) }

// Find looks for a device on the network, host:port, unless it is on the bench
// already; an empty address takes a device from the network away.
func (b *Set) Find(k Kind, addr string) {
	b.mu.Lock()
	have := b.devices[k]
	b.mu.Unlock()
	switch {
	case have != nil && have.addr == addr:
	case have != nil && have.addr == "" && addr == "": // a stand-in stays
	case addr == "":
		b.place(k, "", nil)
	default:
		b.place(k, addr, &Line{Addr: addr, Kind: k})
	}
}

func (b *Set) place(k Kind, addr string, source Source) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if old := b.devices[k]; old != nil {
		old.stop()
		delete(b.devices, k)
	}
	if source == nil {
		return
	}
	ctx, stop := context.WithCancel(b.ctx)
	p := &placed{addr, source, NewWatch(source, b.log), stop}
	b.devices[k] = p
	go p.watch.Run(ctx)
}

// Watch is the watch of a kind of device, nil where there is none.
func (b *Set) Watch(k Kind) *Watch {
	if b == nil {
		return nil
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	if p := b.devices[k]; p != nil {
		return p.watch
	}
	return nil
}

// Simulated reports whether the device of a kind is a stand-in.
func (b *Set) Simulated(k Kind) bool {
	_, ok := b.standIn(k)
	return ok
}

func (b *Set) standIn(k Kind) (StandIn, bool) {
	if b == nil {
		return nil, false
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	p := b.devices[k]
	if p == nil {
		return nil, false
	}
	s, ok := p.source.(StandIn)
	return s, ok
}

// Tell tells a stand-in what happens on the bench.
func (b *Set) Tell(k Kind, command string) error {
	s, ok := b.standIn(k)
	if !ok {
		return fmt.Errorf("the %s is not a simulated one", k)
	}
	return s.Do(command)
}
