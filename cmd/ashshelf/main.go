// Command ashshelf is the working companion of a small soap business: it
// scales recipes to molds, logs each lot and watches the curing shelf.
//
//	ashshelf serve   the shop, on this machine
//	ashshelf demo    a made-up shop to look around in
//	ashshelf plan    a plan request in, a plan out, as JSON or text
//	ashshelf dry     a bar's weighings in, how it will dry out, as JSON or text
//	ashshelf label   a recipe in, what stands on its label out, as JSON or text
//	ashshelf backplan  what is wanted by when in, what to pour by when out, as JSON or text
//	ashshelf day     the batches of a day in, when each step is done out, as JSON or text
//	ashshelf backup  a copy of the shop, while it works or not
//	ashshelf restore the shop from a copy
//	ashshelf check   whether a shop or a copy is whole
//	ashshelf export  the whole shop as one open file
//	ashshelf import  an equal shop from such a file
//	ashshelf passphrase  a way in for the owner of a shop on a network
//	ashshelf sim     a scale and a thermometer that are not there
//
// Each command answers -h with its flags.
package main

import (
	"errors"
	"flag"
	"fmt"
	"os"
)

func main() { os.Exit(run(os.Args[1:])) }

const usage = `ashshelf COMMAND [flags]

  serve   run the shop on this machine
  demo    run a made-up shop, with lots at every stage
  plan    turn a plan request (JSON) into a plan
  dry     foretell how a bar dries from its weighings (JSON)
  label   say what stands on the label of a recipe's bar (JSON)
  backplan  say what to pour by when for what is wanted (JSON)
  day     lay the steps of a day's batches beside each other (JSON)
  backup  make a copy of the shop, while it works or not
  restore bring a shop back from a copy
  check   look whether a shop or a copy is whole
  export  write the whole shop as one open file
  import  make an equal shop of such a file
  passphrase  give the owner, or somebody else, a passphrase to sign in with
  sim     run a simulated scale and thermometer to try them out with

ashshelf COMMAND -h lists the flags of a command.
`

func run(args []string) int {
	if len(args) == 0 {
		fmt.Fprint(os.Stderr, usage)
		return 1
	}
	switch args[0] {
	case "serve":
		return runServe(args[1:])
	case "demo":
		return runDemo(args[1:])
	case "plan":
		return runPlan(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "dry":
		return runDry(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "label":
		return runLabel(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "backplan":
		return runBackplan(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "day":
		return runDay(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "backup":
		return runBackup(args[1:], terminal)
	case "restore":
		return runRestore(args[1:], terminal)
	case "check":
		return runCheck(args[1:], terminal)
	case "export":
		return runExport(args[1:], terminal)
	case "import":
		return runImport(args[1:], terminal)
	case "passphrase":
		return runPassphrase(args[1:], terminal)
	case "sim":
		return runSim(args[1:], os.Stdin, os.Stdout, os.Stderr)
	case "help", "-h", "--help":
		fmt.Print(usage)
		return 0
	default:
		fmt.Fprintf(os.Stderr, "ashshelf: there is no command %q\n\n%s", args[0], usage)
		return 1
	}
}

// usageCode is the exit code after a command line could not be parsed: asking
// for help is no fault.
func usageCode(err error) int {
	if errors.Is(err, flag.ErrHelp) {
		return 0
	}
	return 1
}
