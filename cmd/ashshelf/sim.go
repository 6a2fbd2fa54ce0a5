package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"net"
	"strings"
	"time"

	"ashshelf/device/sim"
)

// runSim serves a simulated scale and a simulated probe over the line protocol.
// Each line on in tells one of them what happens on the bench, such as
// "scale pour 350"; the end of in leaves them running.
func runSim(args []string, in io.Reader, out, errs io.Writer) int {
	flags := flag.NewFlagSet("sim", flag.ContinueOnError)
	flags.SetOutput(errs)
	scaleAt := flags.String("scale", "127.0.0.1:8430", "`address` of the scale")
	probeAt := flags.String("probe", "127.0.0.1:8431", "`address` of the thermometer")
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	return report(func(ctx context.Context) error {
		ctx, stop := context.WithCancel(ctx)
		defer stop()
		seed := uint64(time.Now().UnixNano())
		devices := map[string]*sim.Device{"scale": sim.NewScale(seed), "probe": sim.NewProbe(seed)}
		done := make(chan error, len(devices))
		for name, addr := range map[string]string{"scale": *scaleAt, "probe": *probeAt} {
			l, err := net.Listen("tcp", addr)
			if err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
			fmt.Fprintf(out, "The simulated %s is at %s\n", name, l.Addr())
			go func() { done <- devices[name].Serve(ctx, l) }()
		}
		fmt.Fprintf(out, "Type what happens, such as: scale pour 350. A device understands: %s. Ctrl-C ends it.\n", sim.Commands)
		go func() {
			lines := bufio.NewScanner(in)
			for lines.Scan() {
				if err := tell(devices, lines.Text()); err != nil {
					fmt.Fprintln(errs, "ashshelf sim:", err)
				}
			}
		}()
		var failed error
		for range devices {
			if err := <-done; err != nil {
				failed = errors.Join(failed, err)
				stop() // the other one goes with it
			}
		}
		return failed
	})
}

// tell passes a line on to the device that it names.
func tell(devices map[string]*sim.Device, line string) error {
	name, command, _ := strings.Cut(strings.TrimSpace(line), " ")
	if name == "" {
		return nil
	}
	d, ok := devices[name]
	if !ok {
		return fmt.Errorf("begin with scale or probe, not with %q", name)
	}
	return d.Do(command)
}
