// Package sim is a kitchen scale and a thermometer that are not there: stand-ins
// that behave as real ones do, for the demo, for tests, and for a shop that has
// none yet.
//
// The scale pours at the speed of a hand, trembles by a few tenths while
// something falls into it, drifts, needs a moment to settle, carries no more than
// it can, and loses contact when it is unplugged. The probe follows its pot
// with a lag. Both are told what happens on the bench by short commands, such as
// "pour 350", which a page, a test or a person at a terminal can give.
package sim

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"sync"
	"time"

	"ashshelf/device"
)

// tick is how often the stand-ins show something.
const tick = 100 * time.Millisecond

// How the scale behaves.
const (
	pourRate = 60.0  // g a second from a hand that means to be quick
	lastRate = 8.0   // g a second for the last of it
	lastPart = 25.0  // g before the goal where the hand slows down
	tremble  = 0.35  // g while something falls
	rest     = 0.02  // g at rest
	settle   = 6     // ticks that it must stand still before it says so
	drift    = 0.002 // g a second
)

// Device is a simulated scale or probe.
type Device struct {
	info device.Info
	rng  *rand.Rand

	mu        sync.Mutex
	on        float64 // g on the platform, or °C of the pot
	goal      float64 // that is being poured to
	speed     float64 // g a second; 0 for the speed of a hand
	zero      float64 // what shows as zero
	shown     float64
	still     int
	drifted   float64
	unplugged bool
	gone      chan struct{} // closed when it is unplugged
	number    int64
}

// NewScale makes a simulated kitchen scale that shows tenths of a gram and
// carries 10 kg.
func NewScale(seed uint64) *Device {
	return &Device{
		info: device.Info{Kind: device.Scale, Name: "Simulated kitchen scale", Step: 0.1, Most: 10000},
		rng:  rand.New(rand.NewPCG(seed, 1)),
		gone: make(chan struct{}),
	}
}

// NewProbe makes a simulated thermometer in a pot at room temperature.
func NewProbe(seed uint64) *Device {
	d := &Device{
		info: device.Info{Kind: device.Probe, Name: "Simulated probe", Step: 0.1, Most: 250},
		rng:  rand.New(rand.NewPCG(seed, 2)),
		gone: make(chan struct{}),
	}
	d.on, d.goal, d.shown = 20, 20, 20
	return d
}

// Commands says in a line what a device understands besides TARE.
const Commands = "pour GRAMS [GRAMS-A-SECOND], put GRAMS, lift, heat CELSIUS, unplug, plug"

var errUnplugged = errors.New("it is unplugged")

// Do carries out a command of the bench.
func (d *Device) Do(command string) error {
	words := strings.Fields(strings.ToLower(command))
	if len(words) == 0 {
		return fmt.Errorf("say one of: %s", Commands)
	}
	var args []float64
	for _, w := range words[1:] {
		v, err := strconv.ParseFloat(w, 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > 1e6 {
			return fmt.Errorf("%q is not a number", w)
		}
		args = append(args, v)
	}
	need := map[string]int{"pour": 1, "put": 1, "heat": 1}[words[0]]
	if len(args) < need {
		return fmt.Errorf("%s needs a number", words[0])
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	switch words[0] {
	case "pour": // so much more, from what is there now
		d.goal, d.speed, d.still = d.goal+args[0], 0, 0
		if len(args) > 1 {
			d.speed = math.Abs(args[1])
		}
	case "put":
		d.on, d.goal, d.still = d.on+args[0], d.goal+args[0], 0
	case "lift":
		d.on, d.goal, d.still = 0, 0, 0
	case "heat":
		d.goal = args[0]
	case "unplug":
		if !d.unplugged {
			d.unplugged = true
			close(d.gone)
		}
	case "plug":
		if d.unplugged {
			d.unplugged, d.gone = false, make(chan struct{})
		}
	default:
		return fmt.Errorf("%q is not one of: %s", words[0], Commands)
	}
	return nil
}

// Tare implements [device.Source].
func (d *Device) Tare(context.Context) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.unplugged {
		return errUnplugged
	}
	d.zero, d.drifted, d.still = d.on, 0, 0
	return nil
}

// Read implements [device.Source].
func (d *Device) Read(ctx context.Context, hello func(device.Info), reading func(device.Reading)) error {
	d.mu.Lock()
	gone, unplugged := d.gone, d.unplugged
	d.mu.Unlock()
	if unplugged {
		return errUnplugged
	}
	hello(d.info)
	ticker := time.NewTicker(tick)
	defer ticker.Stop()
	for {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-gone:
			return errUnplugged
		case <-ticker.C:
			reading(d.Step(tick))
		}
	}
}

// Step lets time pass and says what the device shows then.
func (d *Device) Step(by time.Duration) device.Reading {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.number++
	if d.info.Kind == device.Probe {
		return d.warm(by.Seconds())
	}
	return d.weigh(by.Seconds())
}

func (d *Device) weigh(seconds float64) device.Reading {
	falling := math.Abs(d.goal-d.on) > 1e-9
	if falling {
		rate := d.speed
		if rate == 0 {
			if rate = pourRate; d.goal-d.on < lastPart {
				rate = lastRate
			}
		}
		d.on += math.Copysign(math.Min(rate*seconds, math.Abs(d.goal-d.on)), d.goal-d.on)
	}
	if d.on > d.info.Most {
		d.still = 0
		return device.Reading{Number: d.number, Over: true}
	}
	noise := rest
	if falling {
		noise = tremble
	}
	d.drifted += drift * seconds * (2*d.rng.Float64() - 1)
	value := math.Round((d.on-d.zero+d.drifted+noise*d.rng.NormFloat64())/d.info.Step) * d.info.Step
	if value == 0 {
		value = 0 // no minus before a zero
	}
	if !falling && math.Abs(value-d.shown) <= d.info.Step+1e-9 {
		d.still++
	} else {
		d.still = 0
	}
	// A scale that stands still holds what it shows.
	if d.still > settle {
		value = d.shown
	}
	d.shown = value
	return device.Reading{Number: d.number, Value: value, Stable: d.still >= settle}
}

// lag is the time in seconds in which a probe takes on most of its pot's heat.
const lag = 2.0

func (d *Device) warm(seconds float64) device.Reading {
	d.on += (d.goal - d.on) * (1 - math.Exp(-seconds/lag))
	value := math.Round((d.on+0.05*d.rng.NormFloat64())/d.info.Step) * d.info.Step
	return device.Reading{Number: d.number, Value: value, Stable: math.Abs(d.goal-d.on) < 0.5}
}
