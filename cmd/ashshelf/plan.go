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
	"ashshelf/soap/plan"
)

// runPlan answers a plan request. Exit 0 with a plan; 2 with nothing on
// standard output when the request is refused; 1 when a file cannot be read
// or written, or the command line is wrong.
func runPlan(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	flags := flag.NewFlagSet("plan", flag.ContinueOnError)
	flags.SetOutput(stderr)
	in := flags.String("in", "-", "`file` with a plan request; - is standard input")
	out := flags.String("out", "json", "json or text")
	if err := flags.Parse(args); err != nil {
		return usageCode(err)
	}
	if flags.NArg() > 0 || *out != "json" && *out != "text" {
		fmt.Fprintln(stderr, "usage: ashshelf plan [-in FILE] [-out json|text]")
		return 1
	}
	if *in != "-" {
		f, err := os.Open(*in)
		if err != nil {
			fmt.Fprintln(stderr, "ashshelf plan:", err)
			return 1
		}
		defer f.Close()
		stdin = f
	}
	request, err := exchange.ReadRequest(stdin)
	var answer plan.Plan
	if err == nil {
		answer, err = plan.Make(request)
	}
	var refused caution.Problems
	if errors.As(err, &refused) {
		fmt.Fprintln(stderr, refused.Error())
		return 2
	}
	var text bytes.Buffer
	if err == nil {
		write := exchange.WritePlan
		if *out == "text" {
			write = exchange.WritePlanText
		}
		if err = write(&text, answer); err == nil {
			_, err = stdout.Write(text.Bytes())
		}
	}
	if err != nil {
		fmt.Fprintln(stderr, "ashshelf plan:", err)
		return 1
	}
	return 0
}
