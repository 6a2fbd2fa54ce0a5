package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"ashshelf/backup"
	"ashshelf/store"
)

// cutOff runs a command of the program and kills it after a while, unless it ended before.
func (c *Campaign) cutOff(ctx context.Context, most time.Duration, args ...string) error {
	var out bytes.Buffer
	cmd := exec.CommandContext(ctx, c.program, args...)
	cmd.Stdout, cmd.Stderr = &out, &out
	if err := cmd.Start(); err != nil {
		return err
	}
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	select {
	case err := <-ended:
		if err != nil {
			return fmt.Errorf("%s: %w\n%s", args[0], err, out.String())
		}
		return nil
	case <-time.After(time.Duration(c.chance.Int64N(int64(most)))):
	}
	if err := cmd.Process.Kill(); err != nil && !errors.Is(err, os.ErrProcessDone) {
		return err
	}
	c.Kills++
	<-ended
	return nil
}

// whole runs a command of the program to its end.
func (c *Campaign) whole(ctx context.Context, args ...string) error {
	out, err := exec.CommandContext(ctx, c.program, args...).CombinedOutput()
	if err != nil {
		return fmt.Errorf("%s: %w\n%s", args[0], err, out)
	}
	return nil
}

func shopOf(ctx context.Context, dir string) (string, error) {
	var b bytes.Buffer
	err := backup.Export(ctx, dir, "campaign", time.Unix(0, 0), &b)
	return b.String(), err
}

// longest is about how long each of these takes on a slow machine.
const longest = 300 * time.Millisecond

// copies kills backup, restore, export and import. What is there afterwards is whole or not
// there at all; a folder that was restored holds the old shop or the new one, and the old
// one is put aside whole; a second try always comes to its end.
func (c *Campaign) copies(ctx context.Context) error {
	asked := func() (string, error) { return "", errors.New("nothing is sealed") }
	for range c.Copies {
		dir, err := os.MkdirTemp(c.dir, "copies-")
		if err != nil {
			return err
		}
		at := func(name string) string { return filepath.Join(dir, name) }
		for _, name := range []string{"shop", "home"} {
			if err := os.Mkdir(at(name), 0o700); err != nil {
				return err
			}
			if err := os.WriteFile(filepath.Join(at(name), store.File), c.blank, 0o600); err != nil {
				return err
			}
		}
		if err := renamed(ctx, at("home")); err != nil { // so that the two can be told apart
			return err
		}
		want, err := shopOf(ctx, at("shop"))
		if err != nil {
			return err
		}
		stood, err := shopOf(ctx, at("home"))
		if err != nil || stood == want {
			return fmt.Errorf("two shops that are one: %w", err)
		}

		if err := c.cutOff(ctx, longest, "backup", "-data", at("shop"), "-out", at("copy.zip")); err != nil {
			return err
		}
		if _, err := os.Stat(at("copy.zip")); err == nil {
			if _, err := backup.CheckFile(ctx, at("copy.zip"), asked); err != nil {
				return fmt.Errorf("a killed backup left a copy that is none: %w", err)
			}
		}
		if err := c.whole(ctx, "backup", "-data", at("shop"), "-out", at("copy.zip")); err != nil {
			return err
		}

		if err := c.cutOff(ctx, longest, "restore", "-in", at("copy.zip"), "-data", at("home")); err != nil {
			return err
		}
		if err := c.opens(ctx, at("home")); err != nil {
			return fmt.Errorf("after a killed restore: %w", err)
		}
		has, err := shopOf(ctx, at("home"))
		if err != nil || has != stood && has != want {
			return fmt.Errorf("a killed restore left neither the old shop nor the new one: %w", err)
		}
		if err := c.whole(ctx, "restore", "-in", at("copy.zip"), "-data", at("home")); err != nil {
			return err
		}
		if has, err = shopOf(ctx, at("home")); err != nil || has != want {
			c.Lost = append(c.Lost, fmt.Sprintf("a restored shop (%v)", err))
		}
		aside, err := filepath.Glob(filepath.Join(at("home"), "before-restore-*"))
		if err != nil || len(aside) == 0 {
			return fmt.Errorf("what stood there is not aside: %w", err)
		}
		if has, err = shopOf(ctx, aside[0]); err != nil || has != stood {
			c.Lost = append(c.Lost, fmt.Sprintf("a shop that was put aside (%v)", err))
		}

		if err := c.cutOff(ctx, longest, "export", "-data", at("shop"), "-out", at("shop.json")); err != nil {
			return err
		}
		_, err = os.Stat(at("shop.json"))
		if err := c.imports(ctx, err == nil, at("shop"), at("shop.json"), at("new")); err != nil {
			return err
		}
		if has, err = shopOf(ctx, at("new")); err != nil || has != want {
			c.Lost = append(c.Lost, fmt.Sprintf("an imported shop (%v)", err))
		}
		if err := os.RemoveAll(dir); err != nil {
			return err
		}
	}
	return nil
}

// imports kills an import and lets the next come to its end. A file that a killed export left
// is whole.
func (c *Campaign) imports(ctx context.Context, there bool, from, file, to string) error {
	if !there {
		if err := c.whole(ctx, "export", "-data", from, "-out", file); err != nil {
			return err
		}
	}
	if err := c.cutOff(ctx, longest, "import", "-in", file, "-data", to); err != nil {
		return err
	}
	if _, err := os.Stat(to); err == nil {
		if _, _, err := backup.CheckFolder(ctx, to); err != nil {
			return fmt.Errorf("a killed import left a shop that is none: %w", err)
		}
		return nil
	}
	return c.whole(ctx, "import", "-in", file, "-data", to)
}

// renamed gives a shop another person, so that it is another shop.
func renamed(ctx context.Context, dir string) error {
	f, err := look(dir)
	if err != nil {
		return err
	}
	_, err = f.ExecContext(ctx, `INSERT INTO person (name) VALUES ('Somebody Else')`)
	return errors.Join(err, f.Close())
}
