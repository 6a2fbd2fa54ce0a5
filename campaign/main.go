// Command campaign attacks the program as a bad year would, and counts what was lost.
//
//	go run ./campaign            the long form: a thousand kills, and all the rest
//	go run ./campaign -short     as the tests run it
//	go run ./campaign -race      the program built with the race detector
//
// It builds the program, opens made-up shops with it, and writes to them as people do,
// through the forms of its pages. Then it pulls the plug: the program is killed in the
// middle of records, uploads, upgrades, copies, restoring and the making of the demo; disks fill up and are
// write-protected; fifty people sell the last bars at once; every route gets garbage;
// readers are slow. Each record that is tried has a key and a mark of its own, so that
// afterwards, in the file itself, each can be counted: what was acknowledged must be there
// once, what was not at most once, and sent again it must be there once. One that is lost
// or doubled, a fault, a race, or more memory than a small computer spares fails the whole.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"time"
)

func main() {
	flags := flag.NewFlagSet("campaign", flag.ExitOnError)
	short := flags.Bool("short", false, "a few of everything, as the tests run it")
	race := flags.Bool("race", false, "build the program with the race detector; memory is not judged then")
	kills := flags.Int("kills", 1000, "how often the program is killed in all")
	seed := flags.Uint64("seed", uint64(time.Now().UnixNano()), "of the chances, to have them again")
	only := flags.String("only", "", "one part: writes, upgrades, demos, copies, disk, crowd, garbage, slow")
	_ = flags.Parse(os.Args[1:]) // it ends the program itself
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	size := Long(*kills)
	if *short {
		size = Short
	}
	c, err := New(ctx, size, *seed, *race)
	if err == nil {
		err = errors.Join(c.Run(ctx, *only), c.Close())
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "campaign:", err)
		os.Exit(1)
	}
}

// Size is how much of everything.
type Size struct {
	Writes, Upgrades, Demos int           // kills
	Copies                  int           // rounds of backup, restore, export and import, each killed
	Fresh                   int           // kills after which the shop is a new one
	Fills                   int           // of a disk
	Crowds                  int           // rushes on the last bars
	Garbage                 int           // requests for each route
	Slow                    time.Duration // of reading
}

// Short is the form that the tests run.
var Short = Size{Writes: 8, Upgrades: 6, Demos: 1, Copies: 2, Fresh: 40, Fills: 3, Crowds: 1, Garbage: 10, Slow: 2 * time.Second}

// Long is the form with so many kills in all.
func Long(kills int) Size {
	return Size{
		Writes:   kills * 60 / 100,
		Upgrades: kills * 17 / 100,
		Demos:    kills * 3 / 100,
		Copies:   kills * 5 / 100,
		Fresh:    40,
		Fills:    40,
		Crowds:   20,
		Garbage:  250,
		Slow:     time.Minute,
	}
}

// enoughForAll is how many kills leave no kind of record untried.
const enoughForAll = 200

// mostMemory is what the program may take, in bytes.
const mostMemory = 200 << 20

// Campaign is one campaign.
type Campaign struct {
	Size
	Tally
	dir     string // of its own
	program string
	race    bool
	chance  *rand.Rand
	blank   []byte // the records of a made-up shop
	moment  time.Time
}

// Tally is what came of it.
type Tally struct {
	Kills, Tried, Acknowledged, Resent int
	Lost, Doubled                      []string       // by what they were, none when all is well
	Memory                             int64          // the most that the program took, in bytes
	Kinds                              map[string]int // acknowledged records of each kind
}

func (t Tally) String() string {
	return fmt.Sprintf(
		"%d kills, %d records tried, %d acknowledged, %d sent again, %d lost, %d doubled, %d MB at most",
		t.Kills,
		t.Tried,
		t.Acknowledged,
		t.Resent,
		len(t.Lost),
		len(t.Doubled),
		t.Memory>>20,
	)
}

// New builds the program, and a made-up shop to start from.
func New(ctx context.Context, size Size, seed uint64, race bool) (*Campaign, error) {
	dir, err := os.MkdirTemp("", "ashshelf-campaign-")
	if err != nil {
		return nil, fmt.Errorf("folder: %w", err)
	}
	c := &Campaign{
		Size:    size,
		dir:     dir,
		program: filepath.Join(dir, "ashshelf"),
		race:    race,
		Tally:   Tally{Kinds: map[string]int{}},
		chance:  rand.New(rand.NewPCG(seed, 1)),
		moment:  time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC),
	}
	fmt.Printf("chances of seed %d in %s\n", seed, dir)
	args := []string{"build", "-o", c.program}
	if race {
		args = append(args, "-race")
	}
	build := exec.CommandContext(ctx, "go", append(args, "ashshelf/cmd/ashshelf")...)
	build.Stderr = os.Stderr
	if err := build.Run(); err != nil {
		return nil, errors.Join(fmt.Errorf("build: %w", err), c.Close())
	}
	if c.blank, err = blankShop(ctx, c.moment); err != nil {
		return nil, errors.Join(err, c.Close())
	}
	return c, nil
}

// Close takes away what the campaign left, when it went well.
func (c *Campaign) Close() error { return os.RemoveAll(c.dir) }

// Run runs all parts, or one, and says what came of it.
func (c *Campaign) Run(ctx context.Context, only string) error {
	parts := []struct {
		name string
		run  func(context.Context) error
	}{
		{"writes", c.writes}, {"upgrades", c.upgrades}, {"demos", c.demos}, {"copies", c.copies}, {"disk", c.disk},
		{"crowd", c.crowd}, {"garbage", c.garbage}, {"slow", c.slow},
	}
	known := false
	for _, part := range parts {
		if only != "" && part.name != only {
			continue
		}
		known = true
		began := time.Now()
		if err := part.run(ctx); err != nil {
			return fmt.Errorf("%s: %w", part.name, err)
		}
		fmt.Printf("%-9s %6.1f s   so far: %s\n", part.name, time.Since(began).Seconds(), c.Tally)
	}
	if !known {
		return fmt.Errorf("there is no part %q", only)
	}
	fmt.Println(c.Kinds)
	return c.verdict(only)
}

// verdict fails on one record that is lost or doubled, and on memory.
func (c *Campaign) verdict(only string) error {
	switch {
	case len(c.Lost)+len(c.Doubled) > 0:
		return fmt.Errorf("lost %q, doubled %q", c.Lost, c.Doubled)
	case c.Memory > mostMemory && !c.race:
		return fmt.Errorf("the program took %d MB", c.Memory>>20)
	case c.Kills >= enoughForAll && only == "":
		for _, k := range kinds {
			if c.Kinds[k.name] == 0 {
				return fmt.Errorf("no %s was ever taken: it was not tried in earnest", k.name)
			}
		}
	}
	return nil
}
