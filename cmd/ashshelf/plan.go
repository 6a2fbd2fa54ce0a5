package main

import (
	"bytes"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"

	"ashshelf/exchange"
	"ashshelf/soap/caution"
	"ashshelf/soap/demand"
	"ashshelf/soap/dry"
	"ashshelf/soap/label"
	"ashshelf/soap/plan"
	"ashshelf/soap/timetable"
)

// runPlan answers a plan request.
func runPlan(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	return answer("plan", "a plan request", args, stdin, stdout, stderr, func(in io.Reader, out io.Writer, text bool) error {
		request, err := exchange.ReadRequest(in)
		if err != nil {
			return err
		}
		made, err := plan.Make(request)
		if err != nil {
			return err
		}
		if text {
			return exchange.WritePlanText(out, made)
		}
		return exchange.WritePlan(out, made)
	})
}

// runDry foretells how a bar dries.
func runDry(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	return answer("dry", "a bar's weighings", args, stdin, stdout, stderr, func(in io.Reader, out io.Writer, text bool) error {
		c, err := exchange.ReadDrying(in)
		if err != nil {
			return err
		}
		if text {
			return exchange.WriteDryingText(out, c.Foretell(dry.Any()))
		}
		return exchange.WriteDryingForecast(out, c.Foretell(dry.Any()))
	})
}

// runLabel says what stands on the label of a recipe's bar.
func runLabel(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	return answer("label", "a label request", args, stdin, stdout, stderr, func(in io.Reader, out io.Writer, text bool) error {
		request, err := exchange.ReadLabelRequest(in)
		if err != nil {
			return err
		}
		made, err := label.Make(request)
		if err != nil {
			return err
		}
		if text {
			return exchange.WriteLabelText(out, made)
		}
		return exchange.WriteLabel(out, made)
	})
}

// runBackplan says what to pour by when.
func runBackplan(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	return answer("backplan", "what is wanted", args, stdin, stdout, stderr, func(in io.Reader, out io.Writer, text bool) error {
		request, err := exchange.ReadDemand(in)
		if err != nil {
			return err
		}
		plan, err := demand.Back(request)
		if err != nil {
			return err
		}
		if text {
			return exchange.WriteBackplanText(out, plan)
		}
		return exchange.WriteBackplan(out, plan)
	})
}

// runDay says when the steps of a day's batches are done.
func runDay(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	return answer("day", "the batches of a day", args, stdin, stdout, stderr, func(in io.Reader, out io.Writer, text bool) error {
		day, err := exchange.ReadDay(in)
		if err != nil {
			return err
		}
		if text {
			return exchange.WriteDayText(out, timetable.Lay(day))
		}
		return exchange.WriteDay(out, timetable.Lay(day))
	})
}

// answer answers a file with another. Exit 0 with the answer; 2 with nothing on standard output
// when what was asked is refused; 1 when a file cannot be read or written, or the command line
// is wrong.
func answer(
	name, what string,
	args []string,
	stdin io.Reader,
	stdout, stderr io.Writer,
	work func(in io.Reader, out io.Writer, text bool) error,
) int {
	flags := flag.NewFlagSet(name, flag.ContinueOnError)
	flags.SetOutput(stderr)
	in := flags.String("in", "-", "`file` with "+what+"; - is standard input")
	out := flags.String("out", "json", "json or text")
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	if flags.NArg() > 0 || *out != "json" && *out != "text" {
		fmt.Fprintf(stderr, "usage: ashshelf %s [-in FILE] [-out json|text]\n", name)
		return 1
	}
	if *in != "-" {
		f, err := os.Open(*in)
		if err != nil {
			fmt.Fprintf(stderr, "ashshelf %s: %v\n", name, err)
			return 1
		}
		defer f.Close()
		stdin = f
	}
	var text bytes.Buffer
	err := work(stdin, &text, *out == "text")
	var refused caution.Problems
	if errors.As(err, &refused) {
		fmt.Fprintln(stderr, refused.Error())
		return 2
	}
	if err == nil {
		_, err = stdout.Write(text.Bytes())
	}
	if err != nil {
		fmt.Fprintf(stderr, "ashshelf %s: %v\n", name, err)
		return 1
	}
	return 0
}
