package sim_test

import (
	"context"
	"log/slog"
	"math"
	"net"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/device"
	"ashshelf/device/sim"
)

// settled lets time pass until the scale stands still.
func settled(t require.TestingT, d *sim.Device) device.Reading {
	for range 3000 {
		if r := d.Step(100 * time.Millisecond); r.Stable || r.Over {
			return r
		}
	}
	require.Fail(t, "it never settles")
	return device.Reading{}
}

func TestAPourTakesItsTimeAndSettlesAtWhatIsThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := sim.NewScale(rapid.Uint64().Draw(t, "seed"))
		jug, goal := rapid.Float64Range(0, 900).Draw(t, "jug"), rapid.Float64Range(5, 800).Draw(t, "goal")
		require.NoError(t, d.Do("put "+format(jug)))
		require.NoError(t, d.Tare(context.Background()))
		assert.InDelta(t, 0, settled(t, d).Value, 0.21)
		require.NoError(t, d.Do("pour "+format(goal)))
		ticks := 0
		for r := d.Step(100 * time.Millisecond); !r.Stable; r = d.Step(100 * time.Millisecond) {
			ticks++
			require.Less(t, ticks, 3000)
		}
		assert.Greater(t, float64(ticks), goal/60*9, "a hand pours no faster")
		assert.InDelta(t, goal, settled(t, d).Value, 0.4, "noise and drift are small")
	})
}

func format(v float64) string { return strconv.FormatFloat(v, 'f', 3, 64) }

func TestTooMuchOnTheScaleShowsNoWeight(t *testing.T) {
	d := sim.NewScale(1)
	require.NoError(t, d.Do("put 10400"))
	r := d.Step(100 * time.Millisecond)
	assert.True(t, r.Over)
	assert.False(t, r.Stable)
	require.NoError(t, d.Do("lift"))
	assert.InDelta(t, 0, settled(t, d).Value, 0.2)
	for _, bad := range []string{"", "pour", "pour much", "juggle 3", "put NaN", "put 1e99"} {
		assert.Error(t, d.Do(bad), bad)
	}
}

func TestAProbeFollowsItsPotWithALag(t *testing.T) {
	d := sim.NewProbe(3)
	require.NoError(t, d.Do("heat 60"))
	soon := d.Step(500 * time.Millisecond)
	assert.Less(t, soon.Value, 40.0)
	assert.False(t, soon.Stable)
	for range 200 {
		soon = d.Step(100 * time.Millisecond)
	}
	assert.True(t, soon.Stable)
	assert.InDelta(t, 60, soon.Value, 0.6)
}

// Read over the network, unplugged in the middle and plugged in again, the last
// weight is known and the scale is found again by itself.
func TestAnUnpluggedScaleIsSaidToBeLostAndFoundAgain(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	d := sim.NewScale(7)
	served := make(chan error, 1)
	go func() { served <- d.Serve(ctx, l) }()
	line := &device.Line{Addr: l.Addr().String()}
	require.Error(t, line.Tare(ctx), "nobody is connected yet")
	w := device.NewWatch(line, slog.New(slog.DiscardHandler))
	go w.Run(ctx)
	wait := func(what string, ok func(device.State) bool) device.State {
		for deadline := time.After(10 * time.Second); ; {
			s, changed, _ := w.State()
			if ok(s) {
				return s
			}
			select {
			case <-changed:
			case <-deadline:
				require.Fail(t, what)
			}
		}
	}
	require.NoError(t, d.Do("put 250"))
	wait("a steady weight", func(s device.State) bool { return s.Reading.Stable && math.Abs(s.Reading.Value-250) < 0.3 })
	require.NoError(t, w.Tare(ctx))
	wait("zero", func(s device.State) bool { return s.Reading.Stable && math.Abs(s.Reading.Value) < 0.3 })
	require.NoError(t, d.Do("unplug"))
	lost := wait("lost", func(s device.State) bool { return !s.On })
	_, ok := w.Reading(lost.Reading.Number)
	assert.True(t, ok, "what was seen last is remembered")

	// Somebody at another terminal plugs it in.
	conn, err := net.Dial("tcp", l.Addr().String())
	require.NoError(t, err)
	_, err = conn.Write([]byte("SIM plug\n"))
	require.NoError(t, err)
	answer := make([]byte, 3)
	_, err = conn.Read(answer)
	require.NoError(t, err)
	assert.Equal(t, "OK\n", string(answer))
	require.NoError(t, conn.Close())
	wait("found again", func(s device.State) bool { return s.On && s.Reading.Stable })
	cancel()
	require.NoError(t, <-served)
}
