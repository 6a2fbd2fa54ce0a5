package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"golang.org/x/term"

	"ashshelf/backup"
	"ashshelf/shop/journal"
	"ashshelf/soap/lot"
)

// told is where a command says what it did and asks.
type told struct {
	in  *os.File
	out io.Writer
	err io.Writer
}

var terminal = told{os.Stdin, os.Stdout, os.Stderr}

// command parses the flags of a command, which takes nothing else, and runs it.
func command(name string, args []string, flags *flag.FlagSet, run func(context.Context) error) int {
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	if flags.NArg() > 0 {
		fmt.Fprintf(os.Stderr, "ashshelf %s: %q is no flag; say it with one, such as -in FILE\n", name, flags.Arg(0))
		return 1
	}
	return report(run)
}

// asked is the passphrase of a sealed copy: the first line of a file, or what is typed.
func (t told) asked(file string) func() (string, error) {
	return t.secret("Passphrase of the copy: ", file)
}

// secret is the first line of a file, or what is typed and not shown.
func (t told) secret(prompt, file string) func() (string, error) {
	return func() (string, error) {
		if file != "" {
			text, err := os.ReadFile(file)
			line, _, _ := strings.Cut(string(text), "\n")
			return strings.TrimSuffix(line, "\r"), err
		}
		fmt.Fprint(t.err, prompt)
		if term.IsTerminal(int(t.in.Fd())) {
			text, err := term.ReadPassword(int(t.in.Fd()))
			fmt.Fprintln(t.err)
			return string(text), err
		}
		line, err := bufio.NewReader(t.in).ReadString('\n')
		if err != nil && !errors.Is(err, io.EOF) {
			return "", err
		}
		return strings.TrimRight(line, "\r\n"), nil
	}
}

func size(bytes int64) string {
	if bytes < 1e6 {
		return fmt.Sprintf("%d kB", (bytes+999)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(bytes)/1e6)
}

func runBackup(args []string, t told) int {
	flags := flag.NewFlagSet("backup", flag.ContinueOnError)
	data := flags.String("data", defaultData(), "`folder` of the shop's records")
	out := flags.String("out", "", "`file` to write the copy to, such as /media/stick/shop.zip")
	plain := flags.Bool("plain", false, "do not seal it, although copies of this shop are sealed")
	return command("backup", args, flags, func(ctx context.Context) error {
		if *out == "" {
			return errors.New("say where the copy goes: -out FILE")
		}
		c, err := backup.ReadPlan(*data)
		if err != nil {
			return err
		}
		seal := c.Seal
		if *plain {
			seal = nil
		}
		made, err := backup.Make(ctx, *data, journal.Version, time.Now(), *out, seal)
		if err != nil {
			return err
		}
		how := "not sealed"
		if made.Sealed {
			how = "sealed"
		}
		fmt.Fprintf(t.out, "%s: %s, %d lots, %s, looked through.\nIts digest (SHA-256): %s\n", made.Path, size(made.Bytes),
			made.Manifest.Lots, how, made.SHA256)
		return nil
	})
}

func runRestore(args []string, t told) int {
	flags := flag.NewFlagSet("restore", flag.ContinueOnError)
	data := flags.String("data", defaultData(), "`folder` to restore the shop in; what stands there is put aside")
	in := flags.String("in", "", "`file` of the copy")
	last := flags.String("last-lot", "", "`code` of the newest lot on your papers and bars; lots go on after it")
	pass := flags.String("passphrase-file", "", "`file` with the passphrase of a sealed copy, in place of typing it")
	return command("restore", args, flags, func(ctx context.Context) error {
		if *in == "" {
			return errors.New("say which copy: -in FILE")
		}
		r, err := backup.Restore(ctx, *in, *data, backup.Restoring{Passphrase: t.asked(*pass), LastLot: *last, Now: time.Now()})
		if err != nil {
			return fmt.Errorf("%w; nothing was changed", err)
		}
		m := r.Manifest
		fmt.Fprintf(t.out, "%s as of %s is restored in %s: %d lots.\n", m.Shop, m.Made.Local().Format("2006-01-02 15:04"), *data, m.Lots)
		if r.Aside != "" {
			fmt.Fprintf(t.out, "What stood there is in %s.\n", r.Aside)
		}
		t.begun(r, *data)
		return nil
	})
}

// begun says how a shop that came back goes on.
func (t told) begun(r backup.Restored, data string) {
	if r.Assumed {
		fmt.Fprintf(t.out, "It is assumed that no lot was begun later. The next lot is %s; if that code is on your papers or bars, "+
			"do it again with -last-lot and the newest code that is.\n", lot.Code(r.LastLot+1))
	} else {
		fmt.Fprintf(t.out, "The next lot is %s.\n", lot.Code(r.LastLot+1))
	}
	fmt.Fprintln(t.out, "Holds, checks and calls back that came later are not in it: nothing is released and no bars leave before somebody "+
		"says on its pages that she looked for them.\nOpen it with: ashshelf serve -data "+data)
}

func runCheck(args []string, t told) int {
	flags := flag.NewFlagSet("check", flag.ContinueOnError)
	data := flags.String("data", "", "`folder` of a shop to look through")
	in := flags.String("in", "", "`file` of a copy to look through")
	pass := flags.String("passphrase-file", "", "`file` with the passphrase of a sealed copy, in place of typing it")
	return command("check", args, flags, func(ctx context.Context) error {
		if (*in == "") == (*data == "") {
			return errors.New("say what to look through: -data FOLDER or -in FILE")
		}
		if *in != "" {
			m, err := backup.CheckFile(ctx, *in, t.asked(*pass))
			if err != nil {
				return err
			}
			fmt.Fprintf(t.out, "%s is whole: %s, %d lots, newest %s, made %s by version %s.\n", *in, m.Shop, m.Lots, codeOr(m.LastLot),
				m.Made.Local().Format("2006-01-02 15:04"), m.Program)
			if len(m.Missing) > 0 {
				fmt.Fprintf(t.out, "%d pictures were missing when it was made: %s.\n", len(m.Missing), strings.Join(m.Missing, ", "))
			}
			return nil
		}
		found, missing, err := backup.CheckFolder(ctx, *data)
		if err != nil {
			return err
		}
		fmt.Fprintf(t.out, "%s is whole: %s, %d lots, newest %s, %d entries, %d pictures.\n", *data, found.Shop, found.Lots,
			codeOr(found.Last), found.Entries, len(found.Photos))
		if len(missing) > 0 {
			fmt.Fprintf(t.out, "%d pictures are missing: %s.\n", len(missing), strings.Join(missing, ", "))
		}
		if backup.Unfinished(*data) {
			fmt.Fprintln(t.out, "A restoring was cut off there; it is finished when the shop is opened.")
		}
		return nil
	})
}

// codeOr is the code of a lot, or that there is none.
func codeOr(number int) string {
	if number == 0 {
		return "none"
	}
	return lot.Code(number)
}

func runExport(args []string, t told) int {
	flags := flag.NewFlagSet("export", flag.ContinueOnError)
	data := flags.String("data", defaultData(), "`folder` of the shop's records")
	out := flags.String("out", "", "`file` to write, such as shop.json")
	return command("export", args, flags, func(ctx context.Context) error {
		if *out == "" {
			return errors.New("say where the shop goes: -out FILE")
		}
		if err := exportOf(*out); err != nil {
			return err
		}
		half := *out + ".half"
		f, err := os.OpenFile(half, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		err = backup.Export(ctx, *data, journal.Version, time.Now(), f)
		if err = errors.Join(err, f.Sync(), f.Close()); err == nil {
			err = os.Rename(half, *out)
		}
		if err != nil {
			return errors.Join(err, os.Remove(half))
		}
		fmt.Fprintf(t.out, "The whole shop is in %s (%s).\n", *out, backup.ShopFormat)
		return nil
	})
}

// exportOf refuses to overwrite a file that is no export.
func exportOf(path string) error {
	f, err := os.Open(path)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	defer f.Close()
	head := make([]byte, 100)
	n, err := f.Read(head)
	if err != nil || !strings.Contains(string(head[:n]), backup.ShopFormat) {
		return fmt.Errorf("%s: %w", path, backup.ErrNotOurs)
	}
	return nil
}

func runImport(args []string, t told) int {
	flags := flag.NewFlagSet("import", flag.ContinueOnError)
	data := flags.String("data", "", "empty `folder` to make the shop in")
	in := flags.String("in", "", "`file` that ashshelf export wrote")
	last := flags.String("last-lot", "", "`code` of the newest lot on your papers and bars; lots go on after it")
	return command("import", args, flags, func(ctx context.Context) error {
		if *in == "" || *data == "" {
			return errors.New("say what becomes a shop, and where: -in FILE -data FOLDER")
		}
		f, err := os.Open(*in)
		if err != nil {
			return err
		}
		defer f.Close()
		r, err := backup.Import(ctx, *data, f, backup.Restoring{LastLot: *last, Now: time.Now()})
		if err != nil {
			return fmt.Errorf("%w; nothing was made", err)
		}
		m := r.Manifest
		fmt.Fprintf(t.out, "%s as of %s is in %s: %d lots.\n", m.Shop, m.Made.Local().Format("2006-01-02 15:04"), *data, m.Lots)
		t.begun(r, *data)
		return nil
	})
}
