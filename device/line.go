package device

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"ashshelf/soap/caution"
)

// Version opens the greeting of the line protocol.
const Version = "ASHSHELF-DEVICE/1"

// Limits of the line protocol: the longest line, and how long a device may be
// silent before contact counts as lost.
const (
	longestLine = 256
	silence     = 3 * time.Second
)

// Line is a device on the network that speaks the line protocol at an address,
// host:port. It serves one reader at a time. What is of another kind than is wanted
// is no device: degrees of a thermometer are not grams.
type Line struct {
	Addr string
	Kind Kind // that is wanted; empty for any

	mu   sync.Mutex
	conn net.Conn
}

// mostName is the longest name of a device.
const mostName = 60

// errNoDevice says that something else answers. What it says is not repeated: it may be
// any program in the house, and its words are nobody's business here.
var errNoDevice = errors.New("what answers there is no scale or thermometer of " + Version)

// errNoReading says that a device sends what it must not.
var errNoReading = errors.New("it sends a line that is no reading")

// errNoContact says that nobody answers.
var errNoContact = errors.New("no contact with the device")

// Read implements [Source].
func (l *Line) Read(ctx context.Context, hello func(Info), reading func(Reading)) error {
	dialer := net.Dialer{Timeout: silence}
	conn, err := dialer.DialContext(ctx, "tcp", l.Addr)
	if err != nil {
		return fmt.Errorf("%s: %w", l.Addr, err)
	}
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	defer conn.Close()
	defer l.set(nil)

	lines := bufio.NewScanner(conn)
	lines.Buffer(make([]byte, longestLine), longestLine)
	greeted, kind := false, Kind("")
	for {
		if err := conn.SetReadDeadline(time.Now().Add(silence)); err != nil {
			return fmt.Errorf("%s: %w", l.Addr, err)
		}
		if !lines.Scan() {
			if err := lines.Err(); err != nil {
				return fmt.Errorf("%s: %w", l.Addr, err)
			}
			return fmt.Errorf("%s: the device hung up", l.Addr)
		}
		text := strings.TrimSpace(lines.Text())
		if !greeted {
			info, err := ParseHello(text)
			if err != nil {
				return fmt.Errorf("%s: %w", l.Addr, err)
			}
			if l.Kind != "" && info.Kind != l.Kind {
				return fmt.Errorf("%s: that is a %s; a %s is wanted there", l.Addr, info.Kind.Words(), l.Kind.Words())
			}
			greeted, kind = true, info.Kind
			l.set(conn) // nothing is said to what is no device
			hello(info)
			continue
		}
		if !strings.HasPrefix(text, "R ") {
			continue // an answer to a command, or a word of a later version
		}
		r, err := ParseReading(text)
		if err == nil && r.Kind != "" && r.Kind != kind {
			err = fmt.Errorf("it calls itself a %s and sends what a %s measures", kind.Words(), r.Kind.Words())
		}
		if err != nil {
			return fmt.Errorf("%s: %w", l.Addr, err)
		}
		reading(r)
	}
}

func (l *Line) set(c net.Conn) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.conn = c
}

// Tare implements [Source].
func (l *Line) Tare(context.Context) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.conn == nil {
		return errNoContact
	}
	if err := l.conn.SetWriteDeadline(time.Now().Add(silence)); err != nil {
		return fmt.Errorf("tare: %w", err)
	}
	if _, err := l.conn.Write([]byte("TARE\n")); err != nil {
		return fmt.Errorf("tare: %w", err)
	}
	return nil
}

// ParseHello reads the greeting of a device:
//
//	ASHSHELF-DEVICE/1 scale step=0.1 most=10000 name=Set scale
//
// The name comes last and may hold spaces.
func ParseHello(text string) (i Info, err error) {
	rest, ok := strings.CutPrefix(text, Version+" ")
	if !ok {
		return i, errNoDevice
	}
	rest, i.Name, _ = strings.Cut(rest, " name=")
	if i.Name = strings.TrimSpace(i.Name); caution.Unseen(i.Name) != "" || utf8.RuneCountInString(i.Name) > mostName {
		return i, errNoDevice
	}
	words := strings.Fields(rest)
	if len(words) == 0 || words[0] != string(Scale) && words[0] != string(Probe) {
		return i, errNoDevice
	}
	i.Kind = Kind(words[0])
	for _, w := range words[1:] {
		key, value, _ := strings.Cut(w, "=")
		v, err := strconv.ParseFloat(value, 64)
		switch {
		case key != "step" && key != "most":
		case err != nil || !(v > 0) || v > 1e9:
			return i, errNoDevice
		case key == "step":
			i.Step = v
		default:
			i.Most = v
		}
	}
	return i, nil
}

// String writes the greeting.
func (i Info) String() string {
	return fmt.Sprintf("%s %s step=%g most=%g name=%s", Version, i.Kind, i.Step, i.Most, i.Name)
}

// ParseReading reads one line of a device:
//
//	R 1041 stable 152.4 g
//	R 1042 moving 160.1 g
//	R 1043 over
//	R 1044 stable 38.4 C
func ParseReading(text string) (r Reading, err error) {
	words := strings.Fields(text)
	if len(words) < 3 || words[0] != "R" {
		return r, errNoReading
	}
	if r.Number, err = strconv.ParseInt(words[1], 10, 64); err != nil || r.Number < 0 {
		return r, errNoReading
	}
	switch words[2] {
	case "over":
		r.Over = true
		return r, nil
	case "stable":
		r.Stable = true
	case "moving":
	default:
		return r, errNoReading
	}
	if len(words) != 5 || words[4] != "g" && words[4] != "C" {
		return r, errNoReading
	}
	if r.Kind = Scale; words[4] == "C" {
		r.Kind = Probe
	}
	r.Value, err = strconv.ParseFloat(words[3], 64)
	if err != nil || !(r.Value > -1e6 && r.Value < 1e6) {
		return r, errNoReading
	}
	return r, nil
}

// Line writes a reading of a device of a kind.
func (r Reading) Line(k Kind) string {
	unit := map[Kind]string{Scale: "g", Probe: "C"}[k]
	switch {
	case r.Over:
		return fmt.Sprintf("R %d over", r.Number)
	case r.Stable:
		return fmt.Sprintf("R %d stable %.1f %s", r.Number, r.Value, unit)
	}
	return fmt.Sprintf("R %d moving %.1f %s", r.Number, r.Value, unit)
}
