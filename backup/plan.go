package backup

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/store"
)

// Plan is how copies of a shop are made by themselves, and which were. It belongs to the
// machine: it lies in the data folder and is in no copy.
type Plan struct {
	Folder string `json:"folder"` // empty when none are made by themselves
	Days   int    `json:"days"`   // of so many days the newest copy is kept,
	Weeks  int    `json:"weeks"`  // of so many weeks,
	Months int    `json:"months"` // and of so many months
	Remind int    `json:"remind"` // days without a good copy before the shelf says so
	Seal   *Seal  `json:"seal,omitempty"`

	Made   []Kept `json:"made,omitempty"`   // the oldest first
	Failed string `json:"failed,omitempty"` // why the last one was not made
}

// Kept is a copy that was made.
type Kept struct {
	File   string    `json:"file"` // its whole path
	Made   time.Time `json:"made"`
	Bytes  int64     `json:"bytes"`
	SHA256 string    `json:"sha256"`
	Lots   int       `json:"lots"`
	Sealed bool      `json:"sealed"`
}

// Usual is the plan where nothing was said.
func Usual() Plan { return Plan{Days: 7, Weeks: 5, Months: 12, Remind: 3} }

const planFile = "copies.json"

// mostMade is how many copies are remembered.
const mostMade = 200

// ReadPlan reads the plan of a data folder.
func ReadPlan(dir string) (Plan, error) {
	p := Usual()
	text, err := os.ReadFile(filepath.Join(dir, planFile))
	if errors.Is(err, os.ErrNotExist) {
		return p, nil
	}
	if err != nil {
		return p, fmt.Errorf("plan of the copies: %w", err)
	}
	if err := json.Unmarshal(text, &p); err != nil {
		return p, fmt.Errorf("%s is damaged; set the copies up anew (%w)", planFile, err)
	}
	return p, nil
}

// WritePlan writes it down.
func WritePlan(dir string, p Plan) error {
	p.Made = p.Made[max(0, len(p.Made)-mostMade):]
	text, err := json.MarshalIndent(p, "", " ")
	if err != nil {
		return fmt.Errorf("plan of the copies: %w", err)
	}
	if err := store.WriteWhole(filepath.Join(dir, planFile), append(text, '\n')); err != nil {
		return fmt.Errorf("plan of the copies: %w", err)
	}
	return nil
}

// planned lets one at a time make a copy or change the plan: each reads it, and writes it.
var planned sync.Mutex

// SetPlan keeps a plan as somebody set it. Which copies were made it does not change.
func SetPlan(dir string, p Plan) error {
	planned.Lock()
	defer planned.Unlock()
	have, err := ReadPlan(dir)
	if err != nil {
		return err
	}
	p.Made, p.Failed = have.Made, ""
	return WritePlan(dir, p)
}

// Check finds what cannot be worked with. The folder has to be there and to take files, and
// must not be one of the shop's own.
func (p Plan) Check(dir string) caution.Problems {
	var out caution.Problems
	between := func(path string, v, least, most int, of string) {
		if v < least || v > most {
			out.Add(path, "keep the newest of %d to %d %s", least, most, of)
		}
	}
	between("days", p.Days, 1, 60, "days")
	between("weeks", p.Weeks, 0, 60, "weeks")
	between("months", p.Months, 0, 240, "months")
	if p.Remind < 1 || p.Remind > 90 {
		out.Add("remind", "be told after 1 to 90 days")
	}
	if p.Folder == "" {
		return out
	}
	switch why := folderTakes(p.Folder, dir); {
	case !filepath.IsAbs(p.Folder):
		out.Add("folder", "write the whole path, such as %s", filepath.Join(string(filepath.Separator)+"media", "stick", "soap"))
	case why != "":
		out.Add("folder", "%s", why)
	}
	return out
}

// folderThere says why a folder is none, or "".
func folderThere(folder string) string {
	info, err := os.Stat(folder)
	switch {
	case errors.Is(err, os.ErrNotExist):
		return "there is no such folder; is the stick plugged in?"
	case err != nil:
		return "it cannot be looked into: " + err.Error()
	case !info.IsDir():
		return "that is a file; choose a folder"
	}
	return ""
}

// folderTakes says why a folder takes no copies of a shop, or "". It tries.
func folderTakes(folder, dir string) string {
	if why := folderThere(folder); why != "" {
		return why
	}
	own, err := filepath.Abs(dir)
	if err != nil {
		return err.Error()
	}
	if rel, err := filepath.Rel(own, folder); err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator)) {
		return "that is within the folder of the records; a copy beside them goes when they go"
	}
	f, err := os.CreateTemp(folder, "ashshelf-try-")
	if err != nil {
		return "it takes no files: " + err.Error()
	}
	if err := errors.Join(f.Close(), os.Remove(f.Name())); err != nil {
		return "it takes no files: " + err.Error()
	}
	return ""
}

// daily is how old the newest copy is when the next is made by itself.
const daily = 24 * time.Hour

// newest is the newest copy that still lies where it was put.
func (p Plan) newest() (Kept, bool) {
	for _, one := range slices.Backward(p.Made) {
		if info, err := os.Stat(one.File); err == nil && info.Size() == one.Bytes {
			return one, true
		}
	}
	return Kept{}, false
}

// Due reports whether a copy is to be made by itself.
func (p Plan) Due(now time.Time) bool {
	if p.Folder == "" {
		return false
	}
	last, ok := p.newest()
	return !ok || now.Sub(last.Made) >= daily || last.Made.Sub(now) > daily
}

// Trouble is what the owner has to know of her copies; nil when all is well, or when a shop
// has nothing yet that could be lost.
func (p Plan) Trouble(now time.Time, lots int) *caution.Caution {
	say := func(level caution.Level, reason, remedy string) *caution.Caution {
		return &caution.Caution{Code: "copies", Level: level, Reason: reason, Remedy: remedy}
	}
	last, ok := p.newest()
	days := int(now.Sub(last.Made) / daily)
	switch {
	case lots == 0:
		return nil
	case !ok && p.Folder == "":
		return say(caution.Warn, "There is no copy of this shop: what is on this computer goes with it.",
			"Choose a stick or another disk for copies.")
	case ok && days < p.Remind && p.Failed == "":
		return nil
	case p.Folder != "" && folderThere(p.Folder) != "":
		return say(caution.Warn, fmt.Sprintf("Copies cannot be made in "+
			"%s: %s", p.Folder, folderThere(p.Folder)), "Plug it in, or choose another.")
	case !ok:
		return say(caution.Warn, "There is no copy of this shop.", "Make one now.")
	case days >= p.Remind:
		return say(caution.Warn, fmt.Sprintf("The newest copy of this shop is %d days old.", days), "Make one now.")
	}
	return say(caution.Warn, "The last copy could not be made: "+p.Failed+".", "Look at the copies.")
}

// Keep makes a copy in the plan's folder, notes it, and takes away those that the plan does
// not keep any more. why begins its name: what it was made for.
func Keep(ctx context.Context, dir, program string, now time.Time) (Kept, error) {
	planned.Lock()
	defer planned.Unlock()
	p, err := ReadPlan(dir)
	if err != nil {
		return Kept{}, err
	}
	if p.Folder == "" {
		return Kept{}, errors.New("no folder is chosen for copies")
	}
	if why := folderTakes(p.Folder, dir); why != "" {
		err = fmt.Errorf("%s: %s", p.Folder, why)
	}
	var made Made
	if err == nil {
		var name string
		if name, err = unused(filepath.Join(p.Folder, NameOf(now, p.Seal != nil))); err == nil {
			made, err = Make(ctx, dir, program, now, name, p.Seal)
		}
	}
	if err != nil {
		p.Failed = err.Error()
		return Kept{}, errors.Join(err, WritePlan(dir, p))
	}
	one := Kept{made.Path, made.Manifest.Made, made.Bytes, made.SHA256, made.Manifest.Lots, made.Sealed}
	p.Failed, p.Made = "", append(p.Made, one)
	p.Made, err = p.prune(p.Made)
	return one, errors.Join(err, WritePlan(dir, p))
}

// NameOf is what a copy is called that is made at a moment.
func NameOf(now time.Time, sealed bool) string {
	name := "ashshelf-" + now.Format("2006-01-02-150405")
	if sealed {
		name += "-sealed"
	}
	return name + ".zip"
}

// prune removes the files of copies that the plan does not keep.
func (p Plan) prune(made []Kept) (kept []Kept, err error) {
	keep := p.keeps(made)
	for i, one := range made {
		if keep[i] {
			kept = append(kept, one)
			continue
		}
		if gone := os.Remove(one.File); gone != nil && !errors.Is(gone, os.ErrNotExist) {
			err = errors.Join(err, gone)
			kept = append(kept, one)
		}
	}
	return kept, err
}

// keeps says which copies are kept: the newest of each of the last days, weeks and months
// that have one.
func (p Plan) keeps(made []Kept) map[int]bool {
	keep := map[int]bool{}
	for _, span := range []struct {
		most int
		of   func(time.Time) string
	}{
		{p.Days, func(t time.Time) string { return t.Format(time.DateOnly) }},
		{p.Weeks, func(t time.Time) string { y, w := t.ISOWeek(); return fmt.Sprint(y, " ", w) }},
		{p.Months, func(t time.Time) string { return t.Format("2006-01") }},
	} {
		seen := map[string]bool{}
		for i, one := range slices.Backward(made) {
			if of := span.of(one.Made); !seen[of] && len(seen) < span.most {
				seen[of], keep[i] = true, true
			}
		}
	}
	return keep
}

// BeforeUpgrade makes a copy of records that this program is about to bring up to date, when
// the plan has a folder for it.
func BeforeUpgrade(ctx context.Context, dir, program string, now time.Time) error {
	p, err := ReadPlan(dir)
	if err != nil || p.Folder == "" {
		return err
	}
	in, err := store.Inspect(ctx, filepath.Join(dir, store.File))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	newest, fault := store.Schema()
	if err := errors.Join(err, fault); err != nil || in.Schema >= newest {
		return err
	}
	_, err = Keep(ctx, dir, program, now)
	return err
}
