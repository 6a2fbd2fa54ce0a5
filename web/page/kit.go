// Package page is what all pages of the shop share: who is at which device, how a form is
// read and shown again with what is wrong, how a page is made, kept and sent, how a draft
// is kept while somebody types, and how a refusal or a fault is told.
//
// The rooms of the program (recipes, plans, make day and so on) embed a [Kit] and add
// their addresses, their handlers and their templates. None of them knows another; what
// several of them show of a lot, such as its line in a list, is here, too.
package page

import (
	"context"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"regexp"
	"sync"
	"sync/atomic"
	"time"

	"ashshelf/backup"
	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/rehearse"
	"ashshelf/soap/unit"
	"ashshelf/web/door"
)

//go:embed *.html
var shared embed.FS

// Limits of what is taken from a browser and how long it may take.
const (
	mostForm     = 2 << 20 // a whole book of recipes fits
	mostCopy     = 32 << 30
	ReadTimeout  = 15 * time.Second
	WriteTimeout = 30 * time.Second
	IdleTimeout  = 2 * time.Minute
	photoTimeout = 2 * time.Minute
)

// Kit is what the rooms of one shop share.
type Kit struct {
	Shop     *shop.Shop
	Log      *slog.Logger
	tmpl     map[unit.System]*template.Template // the pages in the units of each system
	Version  string                             // of the static files
	Devices  *device.Set                        // scale and thermometer; nil for none
	Stopping chan struct{}                      // closed when the program is told to stop
	Names    door.Names                         // that the shop is opened by
	Door     *door.Door                         // who comes in
	Rules    door.Rules                         // who may use which address
	House    *House                             // how devices of the house reach it; nil when none do
	Reopened chan struct{}                      // closed when the shop is to be opened anew
	Awaits   bool                               // it opens itself to the network once its owner has a passphrase

	Beside    BesideKind // what it is when it is opened beside a real one; empty for a real one
	Rehearsed *Rehearsed // the run of a rehearsal, in a shop that is one
	// Demo opens the made-up shop beside this one, nil where that cannot be, and Rehearse a rehearsal of
	// a plan. The token leads a browser into it.
	Demo     func(context.Context) (token string, err error)
	Rehearse func(ctx context.Context, act journal.Act, plan string) (token, lot string, err error)

	reopen sync.Once

	before pageCache
	drawn  atomic.Int64 // pages that were made, not taken from the cache
	sizes  sync.Map     // of each page when it was last made, in bytes
}

// Rehearsed is a run that is rehearsed: its slips, and which of them were played already.
type Rehearsed struct {
	Lot    string
	Who    int64 // who rehearses: in a copy of the records nobody becomes somebody else
	Scenes []rehearse.Scene

	mu     sync.Mutex
	played map[string]bool
	says   string // of a scene that led to another step, until that is shown
}

// At is the scene of a step, nil for none, and whether it is played for the first time.
func (r *Rehearsed) At(step string) (scene *rehearse.Scene, first bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for i := range r.Scenes {
		if one := &r.Scenes[i]; one.Step == step {
			first = !r.played[step]
			if r.played == nil {
				r.played = map[string]bool{}
			}
			if r.played[step] = true; first && one.To != "" {
				r.says = one.Says
			}
			return one, first
		}
	}
	return nil, false
}

// Says is what is still to be shown of a scene that led elsewhere; it is told once.
func (r *Rehearsed) Says() (text string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	text, r.says = r.says, ""
	return text
}

// House is how devices of the house reach the shop over a line that is not listened in on.
type House struct {
	Addresses   []string // with https, the one to be typed first
	Plain       string   // without, where a device learns whom to trust
	Fingerprint string
	DER         []byte
}

// New makes the kit of a shop with its door and the devices on its bench, nil for none, the
// static files, and the templates of all rooms.
func New(s *shop.Shop, d *door.Door, devices *device.Set, log *slog.Logger, static fs.FS, rooms ...fs.FS) (*Kit, error) {
	k := &Kit{Shop: s, Door: d, Devices: devices, Log: log, Stopping: make(chan struct{}), Reopened: make(chan struct{})}
	var err error
	if k.Version, err = HashOf(static); err != nil {
		return nil, err
	}
	k.tmpl = map[unit.System]*template.Template{}
	for _, sys := range []unit.System{unit.Metric, unit.US} {
		k.tmpl[sys] = template.New("").Option("missingkey=error").Funcs(k.funcs(sys))
		for _, pages := range append([]fs.FS{shared}, rooms...) {
			if err := parse(k.tmpl[sys], pages); err != nil {
				return nil, err
			}
		}
	}
	return k, nil
}

// indents are the margins of a template, which are for those who read it.
var indents = regexp.MustCompile(`\n[ \t]+`)

// defines names the templates of a file.
var defines = regexp.MustCompile(`\{\{-? *define "([^"]+)"`)

// parse reads the templates of a room into the set of all.
func parse(into *template.Template, pages fs.FS) error {
	files, err := fs.Glob(pages, "*.html")
	if err != nil {
		return fmt.Errorf("pages: %w", err)
	}
	for _, name := range files {
		text, err := fs.ReadFile(pages, name)
		if err != nil {
			return fmt.Errorf("page %s: %w", name, err)
		}
		for _, one := range defines.FindAllStringSubmatch(string(text), -1) {
			if into.Lookup(one[1]) != nil {
				return fmt.Errorf("page %s: another room has a template “%s” already", name, one[1])
			}
		}
		if _, err := into.Parse(indents.ReplaceAllString(string(text), "\n")); err != nil {
			return fmt.Errorf("page %s: %w", name, err)
		}
	}
	return nil
}

// RestorePath is where an empty shop is restored from a copy.
const RestorePath = "/welcome/restore"

// Copies is what the owner has to know of the copies of her shop; nil when all is well, and
// in a made-up shop, which nobody misses.
func (s *Kit) Copies(ctx context.Context) (*caution.Caution, error) {
	settings, err := s.Shop.Settings(ctx)
	if err != nil || settings.Demo {
		return nil, err
	}
	p, err := backup.ReadPlan(s.Shop.Dir())
	if err != nil {
		return nil, err
	}
	lots, err := s.Shop.CountLots(ctx)
	return p.Trouble(time.Now(), lots), err
}

// Reopen has the program open the shop anew, once open requests are answered.
func (s *Kit) Reopen() { s.reopen.Do(func() { close(s.Reopened) }) }
