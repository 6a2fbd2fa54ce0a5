package device_test

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device"
	"ashshelf/soap/caution"
)

func FuzzALineOfADeviceIsReadOrRefused(f *testing.F) {
	for _, text := range []string{"R 1041 stable 152.4 g", "R 1042 moving -0.1 g", "R 3 over", "R 9 stable 38.4 C",
		"R x stable 1 g", "R 1 stable NaN g", "", "R 1 stable 1e300 g", "R 1 stable 5 lb"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		r, err := device.ParseReading(text)
		if err != nil {
			return
		}
		kind := device.Scale
		again, err := device.ParseReading(r.Line(kind))
		require.NoError(t, err)
		assert.Equal(t, r.Number, again.Number)
		assert.InDelta(t, r.Value, again.Value, 0.051)
		assert.Equal(t, [2]bool{r.Stable, r.Over}, [2]bool{again.Stable, again.Over})
	})
}

// serveLines is a device on the network that says these lines to whoever comes.
func serveLines(t *testing.T, lines ...string) (addr string) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	go func() {
		for {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			for _, line := range lines {
				fmt.Fprintln(conn, line)
			}
			conn.Close()
		}
	}()
	return l.Addr().String()
}

// 38.4 °C on the scale's port became 38,400 mg of oil.
func TestAThermometerIsNoScale(t *testing.T) {
	probe, scale := device.Info{
		Kind: device.Probe,
		Name: "p",
		Step: 0.1,
		Most: 250,
	}.String(), device.Info{
		Kind: device.Scale,
		Name: "s",
		Step: 0.1,
		Most: 9000,
	}.String()
	for name, c := range map[string]struct {
		wants device.Kind
		lines []string
		says  string
		got   int
	}{
		"a thermometer on the scale's port": {device.Scale, []string{probe, "R 1 stable 38.4 C"},
			"that is a thermometer; a scale is wanted", 0},
		"a scale on the thermometer's port": {device.Probe, []string{scale, "R 1 stable 38.4 g"},
			"that is a scale; a thermometer is wanted", 0},
		"a scale that sends degrees": {device.Scale, []string{scale, "R 1 stable 38.4 C"},
			"sends what a thermometer measures", 0},
		"a scale that is one, until it hangs up": {device.Scale, []string{scale, "R 1 stable 38.4 g", "R 2 over"}, "hung up", 2},
	} {
		line := &device.Line{Addr: serveLines(t, c.lines...), Kind: c.wants}
		n := 0
		err := line.Read(t.Context(), func(device.Info) {}, func(device.Reading) { n++ })
		assert.ErrorContains(t, err, c.says, name)
		assert.Equal(t, c.got, n, name)
	}
}

func TestAReadingIsLiveForTwoSeconds(t *testing.T) {
	now := time.Now()
	r := device.Reading{At: now}
	assert.True(t, r.Fresh(now.Add(1900*time.Millisecond)))
	assert.False(t, r.Fresh(now.Add(2100*time.Millisecond)))
}

func TestAGreetingSaysWhatADeviceIs(t *testing.T) {
	want := device.Info{Kind: device.Scale, Name: "Set scale", Step: 0.1, Most: 10000}
	got, err := device.ParseHello(want.String())
	require.NoError(t, err)
	assert.Equal(t, want, got)
	for _, text := range []string{"", "HTTP/1.1 200 OK", device.Version + " toaster name=x", device.Version + " scale step=none",
		device.Version + " scale step=-1", device.Version + " scale name=\x1b[31mred",
		device.Version + " scale name=" + strings.Repeat("x", 61)} {
		_, err := device.ParseHello(text)
		assert.Error(t, err, text)
	}
}

// Any program of the house may answer at an address that was typed wrong: its words are
// not repeated, and nothing is said to it.
func TestWhatIsNoDeviceIsNeitherQuotedNorSpokenTo(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	heard := make(chan string)
	go func() {
		conn, err := l.Accept()
		if err != nil {
			return
		}
		defer conn.Close()
		time.Sleep(100 * time.Millisecond)
		_, _ = fmt.Fprintln(conn, "220 mail.internal.example ready, version 1.2.3")
		_ = conn.SetReadDeadline(time.Now().Add(time.Second))
		buf := make([]byte, 64)
		n, _ := conn.Read(buf)
		heard <- string(buf[:n])
	}()
	line := &device.Line{Addr: l.Addr().String(), Kind: device.Scale}
	ended := make(chan error)
	go func() { ended <- line.Read(t.Context(), func(device.Info) {}, func(device.Reading) {}) }()
	time.Sleep(50 * time.Millisecond)
	assert.Error(t, line.Tare(t.Context()), "it has not greeted yet")
	err = <-ended
	assert.Error(t, err)
	assert.NotContains(t, err.Error(), "internal")
	assert.Empty(t, <-heard)
	require.NoError(t, l.Close())
}

func FuzzAGreetingIsReadOrRefused(f *testing.F) {
	for _, text := range []string{device.Version + " scale step=0.1 most=10000 name=Set scale", device.Version + " probe name=p",
		device.Version + " scale step=NaN", device.Version + " scale step=1e309 most=0", "", device.Version,
		device.Version + " scale name=\x00"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		i, err := device.ParseHello(text)
		if err != nil {
			assert.NotContains(t, err.Error(), "name=", "what is no device is not quoted")
			return
		}
		assert.Empty(t, caution.Unseen(i.Name))
		again, err := device.ParseHello(i.String())
		if i.Step > 0 && i.Most > 0 { // what was not said is not written either
			require.NoError(t, err)
			assert.Equal(t, i, again)
		}
	})
}

// script is a source that delivers what a test says.
type script struct {
	runs  chan []device.Reading
	tared bool
}

func (s *script) Read(ctx context.Context, hello func(device.Info), reading func(device.Reading)) error {
	select {
	case <-ctx.Done():
		return ctx.Err()
	case list := <-s.runs:
		hello(device.Info{Kind: device.Scale, Name: "script"})
		for _, r := range list {
			reading(r)
		}
		return errors.New("the cable fell out")
	}
}

func (s *script) Tare(context.Context) error { s.tared = true; return nil }

func until(t *testing.T, w *device.Watch, what string, ok func(device.State) bool) device.State {
	t.Helper()
	deadline := time.After(5 * time.Second)
	for {
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

func TestAWatchRemembersWhatWasSeenAndSaysWhenContactIsLost(t *testing.T) {
	src := &script{runs: make(chan []device.Reading, 2)}
	w := device.NewWatch(src, slog.New(slog.DiscardHandler))
	ctx, cancel := context.WithCancel(t.Context())
	go w.Run(ctx)
	src.runs <- []device.Reading{{Number: 1, Value: 99}, {Number: 2, Value: 100, Stable: true}}
	first := until(t, w, "the scale is lost", func(s device.State) bool { return !s.On && s.Reading.Value == 100 })
	assert.Equal(t, "the cable fell out", first.Err)
	seen, ok := w.Reading(first.Reading.Number)
	require.True(t, ok)
	assert.Equal(t, 100.0, seen.Value)
	_, ok = w.Reading(first.Reading.Number + 1)
	assert.False(t, ok)

	src.runs <- []device.Reading{{Number: 1, Value: 7}}
	again := until(t, w, "found again", func(s device.State) bool { return s.Reading.Value == 7 })
	assert.Greater(t, again.Reading.Number, first.Reading.Number, "numbers go on rising although the device began anew")
	require.NoError(t, w.Tare(ctx))
	assert.True(t, src.tared)
	cancel()
	require.Eventually(
		t,
		func() bool { _, _, ok := w.State(); return !ok },
		time.Second,
		5*time.Millisecond,
		"a page that streams is told of the end",
	)
}
