package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"log/slog"
	"math"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"syscall"
	"time"

	"ashshelf/access"
	"ashshelf/backup"
	"ashshelf/demo"
	"ashshelf/device"
	"ashshelf/device/sim"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/store"
	"ashshelf/store/disk"
	"ashshelf/web"
	"ashshelf/web/page"
)

const defaultAddr = "127.0.0.1:8420"

// shutdownWait is how long open requests may take once the program is told to
// stop; then they are broken off, and what they were about to record is taken back.
const shutdownWait = 2 * time.Second

func runServe(args []string) int {
	flags := flag.NewFlagSet("serve", flag.ContinueOnError)
	var on line
	on.flags(flags)
	data := flags.String("data", defaultData(), "`folder` of the shop's records")
	at := flags.String("now", "", "`moment` to try the shop out from, such as 2026-03-14T10:30:00Z, in a folder without real records")
	insist := flags.Bool("insist", false, "move the clock although the folder holds real records")
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	clock, moment, err := clockFrom(*at)
	if err != nil {
		fmt.Fprintln(os.Stderr, "ashshelf serve:", err)
		return 1
	}
	return report(func(ctx context.Context) error {
		if err := backup.FinishLocked(*data); err != nil { // before anybody looks into the folder
			return err
		}
		if *at != "" {
			if err := journal.MayMoveClock(ctx, *data, *insist); err != nil {
				return fmt.Errorf("%s: %w; choose another -data folder, or say -insist", *data, err)
			}
		}
		return again(func() error {
			s, err := openShop(ctx, *data, clock)
			if err != nil {
				return opening(*data, err)
			}
			if *at != "" {
				if err := s.MoveClock(ctx, moment, time.Now()); err != nil {
					return errors.Join(err, s.Close())
				}
			}
			keeping, stop := context.WithCancel(ctx)
			kept := keepCopies(keeping, *data)
			devices := device.NewSet(ctx, quiet())
			err = listen(ctx, s, devices, on, "records in "+*data)
			stop()
			<-kept
			return errors.Join(err, s.Close())
		})
	})
}

// softMemory is how much memory the program would rather not take, in bytes: a crowd that is turned away at once
// leaves a page each behind, which is swept up sooner from there on. It runs on an old laptop.
const softMemory = 96 << 20

// sparing keeps to [softMemory], unless whoever starts the program says otherwise by GOMEMLIMIT.
func sparing() {
	if debug.SetMemoryLimit(-1) == math.MaxInt64 {
		debug.SetMemoryLimit(softMemory)
	}
}

// again runs a shop for as long as it ends to be opened anew.
func again(run func() error) error {
	sparing()
	for {
		if err := run(); !errors.Is(err, web.ErrReopen) {
			return err
		}
	}
}

// openShop opens a shop after what was begun in its folder is finished, and after a copy of
// records that a newer program is about to change.
func openShop(ctx context.Context, dir string, clock func() time.Time) (*shop.Shop, error) {
	if err := backup.FinishLocked(dir); err != nil {
		return nil, err
	}
	if err := backup.BeforeUpgrade(ctx, dir, journal.Version, time.Now()); err != nil {
		quiet().Warn("copy before the upgrade", "err", err) // one lies beside the records in any case
	}
	return shop.Open(ctx, dir, clock)
}

// copyLook is how often it is looked whether a copy is due.
const copyLook = 5 * time.Minute

// keepCopies makes copies by themselves until ctx ends.
func keepCopies(ctx context.Context, dir string) (ended <-chan struct{}) {
	done := make(chan struct{})
	go func() {
		defer close(done)
		said := ""
		for tick := time.NewTimer(time.Second); ; tick.Reset(copyLook) {
			select {
			case <-ctx.Done():
				tick.Stop()
				return
			case <-tick.C:
			}
			p, err := backup.ReadPlan(dir)
			if err == nil && p.Due(time.Now()) {
				_, err = backup.Keep(ctx, dir, journal.Version, time.Now())
			}
			if err == nil {
				said = ""
			} else if ctx.Err() == nil && err.Error() != said { // once, not every few minutes
				said = err.Error()
				quiet().Warn("copy", "err", err)
			}
		}
	}()
	return done
}

// defaultData is where a shop lives when nothing else is said.
func defaultData() string {
	home, err := os.UserHomeDir()
	if err != nil {
		return "ashshelf-data"
	}
	return filepath.Join(home, "ashshelf-data")
}

func runDemo(args []string) int {
	flags := flag.NewFlagSet("demo", flag.ContinueOnError)
	var on line
	on.flags(flags)
	data := flags.String("data", "", "`folder` to keep the demo in; a fresh temporary one when left out")
	at := flags.String("now", "", "`moment` the demo starts from, such as 2026-03-14T10:30:00Z; now when left out")
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	clock, _, err := clockFrom(*at)
	if err != nil {
		fmt.Fprintln(os.Stderr, "ashshelf demo:", err)
		return 1
	}
	return report(func(ctx context.Context) error {
		dir := *data
		if dir == "" {
			tmp, err := os.MkdirTemp("", "ashshelf-demo-")
			if err != nil {
				return fmt.Errorf("temporary folder: %w", err)
			}
			defer os.RemoveAll(tmp)
			dir = tmp
		}
		return again(func() error {
			s, err := openDemo(ctx, dir, clock)
			if err != nil {
				return err
			}
			devices := device.NewSet(ctx, quiet())
			devices.Place(device.Scale, sim.NewScale(uint64(time.Now().UnixNano())))
			devices.Place(device.Probe, sim.NewProbe(uint64(time.Now().UnixNano())))
			return errors.Join(listen(ctx, s, devices, on, "a made-up shop in "+dir), s.Close())
		})
	})
}

// madeUp makes the demo shop in a folder, for a look round beside a shop.
func madeUp(ctx context.Context, dir string) (out web.Opened, err error) {
	if err := demo.Make(ctx, dir, time.Now()); err != nil {
		return out, err
	}
	if out.Shop, err = shop.Open(ctx, dir, time.Now); err != nil {
		return out, err
	}
	out.Devices = device.NewSet(ctx, quiet())
	out.Devices.Place(device.Scale, sim.NewScale(uint64(time.Now().UnixNano())))
	out.Devices.Place(device.Probe, sim.NewProbe(uint64(time.Now().UnixNano())))
	return out, nil
}

// clockFrom is a clock that starts from a moment as it is typed, and that moment; the
// machine's own when nothing is typed. Only what is recorded goes by it: how long a
// request, a session or a certificate lasts goes by the machine's.
func clockFrom(typed string) (clock func() time.Time, moment time.Time, err error) {
	began := time.Now()
	if typed == "" {
		return time.Now, began, nil
	}
	if moment, err = time.Parse(time.RFC3339, typed); err != nil {
		return nil, moment, fmt.Errorf("-now is a moment such as 2026-03-14T10:30:00Z, not %q", typed)
	}
	return func() time.Time { return moment.Add(time.Since(began)) }, moment, nil
}

// openDemo opens the demo shop in dir, making it first where the folder holds
// none. A folder with a real shop is refused before anything is written to it.
func openDemo(ctx context.Context, dir string, clock func() time.Time) (*shop.Shop, error) {
	if err := backup.FinishLocked(dir); err != nil {
		return nil, err
	}
	held, err := store.Peek(ctx, dir)
	if err != nil {
		return nil, err
	}
	if held.Exists && !held.Demo {
		return nil, fmt.Errorf("%s holds a shop that is not a demo; nothing was touched. Choose another -data folder, or none", dir)
	}
	if !held.Exists {
		if err := demo.Make(ctx, dir, clock()); err != nil {
			return nil, err
		}
	}
	s, err := openShop(ctx, dir, clock)
	return s, opening(dir, err)
}

// opening puts the folder in front of what kept it from being opened. What the disk says
// names it already.
func opening(dir string, err error) error {
	var disk *disk.Error
	if err == nil || errors.As(err, &disk) {
		return err
	}
	return fmt.Errorf("open %s: %w", dir, err)
}

// report runs a command until it ends or the program is told to stop.
func report(run func(context.Context) error) int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "ashshelf:", err)
		return 1
	}
	return 0
}

// quiet is the log: warnings and what a person should know.
func quiet() *slog.Logger { return slog.New(slog.NewTextHandler(os.Stderr, nil)) }

// listen serves the shop until ctx ends, then lets open requests finish.
func listen(ctx context.Context, s *shop.Shop, devices *device.Set, at line, what string) (err error) {
	accounts, err := access.Open(ctx, s.Dir(), s.Life().ID, time.Now)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, accounts.Close()) }()
	pages, err := web.New(s, accounts, devices, quiet())
	if err != nil {
		return err
	}
	if err := pages.FindDevices(ctx); err != nil {
		return err
	}
	pages.Demo = func(ctx context.Context) (string, error) { return pages.OpenBeside(ctx, page.MadeUp, madeUp) }
	ready, err := ownerShows(ctx, s, accounts)
	if err != nil {
		return err
	}
	l, awaits, err := at.open(ready)
	if err != nil {
		return err
	}
	if pages.Awaits = awaits; awaits {
		fmt.Fprintln(os.Stderr, waiting)
		go reopenOnceReady(ctx, s, accounts, pages)
	}
	if risky := s.Risky(); risky != "" {
		fmt.Fprintln(os.Stderr, "ashshelf:", risky)
	}
	served, err := at.serveOn(pages, l, s.Dir())
	if err != nil {
		return errors.Join(err, l.Close())
	}
	served.print(os.Stdout, what)
	done := make(chan error, 1)
	go func() { done <- served.serve() }()
	var ended error
	select {
	case err := <-done:
		return fmt.Errorf("serve: %w", err)
	case <-ctx.Done():
	case <-pages.Reopened:
		ended = web.ErrReopen
	}
	wait, cancel := context.WithTimeout(context.Background(), shutdownWait)
	defer cancel()
	server := served.server
	if err := server.Shutdown(wait); errors.Is(err, context.DeadlineExceeded) {
		err = server.Close()
		if err != nil {
			return fmt.Errorf("close connections: %w", err)
		}
	} else if err != nil {
		return fmt.Errorf("shut down: %w", err)
	}
	if err := <-done; !errors.Is(err, http.ErrServerClosed) && !errors.Is(err, net.ErrClosed) {
		return fmt.Errorf("serve: %w", err)
	}
	return ended
}
