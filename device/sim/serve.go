package sim

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"sync"

	"ashshelf/device"
)

// Serve lets a device be read over the line protocol until the context ends.
// Besides TARE it understands "SIM" with a command of the bench, which a real
// device does not. It serves any number of connections.
func (d *Device) Serve(ctx context.Context, l net.Listener) error {
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	var open sync.WaitGroup
	defer open.Wait()
	for {
		conn, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil || errors.Is(err, net.ErrClosed) {
				return nil
			}
			return fmt.Errorf("accept: %w", err)
		}
		open.Add(1)
		go func() {
			defer open.Done()
			d.converse(ctx, conn)
		}()
	}
}

// converse reads commands of one connection and writes readings to it.
func (d *Device) converse(ctx context.Context, conn net.Conn) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	defer conn.Close()
	var mu sync.Mutex
	say := func(text string) {
		mu.Lock()
		defer mu.Unlock()
		if _, err := fmt.Fprintln(conn, text); err != nil {
			cancel()
		}
	}
	go func() {
		defer cancel()
		lines := bufio.NewScanner(conn)
		for lines.Scan() {
			say(d.answer(ctx, strings.TrimSpace(lines.Text())))
		}
	}()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	greeted := false
	err := d.Read(ctx, func(i device.Info) { greeted = true; say(i.String()) }, func(r device.Reading) { say(r.Line(d.info.Kind)) })
	if errors.Is(err, errUnplugged) && !greeted {
		<-ctx.Done() // without a plug it is silent, but still hears what happens on the bench
	}
}

func (d *Device) answer(ctx context.Context, line string) string {
	var err error
	switch command, ok := strings.CutPrefix(line, "SIM "); {
	case ok:
		err = d.Do(command)
	case line == "TARE":
		err = d.Tare(ctx)
	default:
		err = fmt.Errorf("unknown command %.40q", line)
	}
	if err != nil {
		return "NO " + err.Error()
	}
	return "OK"
}
