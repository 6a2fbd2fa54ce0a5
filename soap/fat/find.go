package fat

import (
	_ "embed"
	"fmt"
	"math"
	"strings"
	"sync"

	"ashshelf/soap/internal/table"
	"ashshelf/soap/unit"
)

//go:embed names.csv
var namesCSV string

// Naming is what else a reference fat is called and mistaken for.
type Naming struct {
	Synonyms  []string
	LookAlike string // a warning, or empty
}

var namings = sync.OnceValue(func() map[string]Naming {
	out := map[string]Naming{}
	for _, r := range table.Read(namesCSV) {
		n := Naming{LookAlike: r.Text("lookalike")}
		if s := r.Text("synonyms"); s != "" {
			n.Synonyms = strings.Split(s, ";")
		}
		out[r.Text("slug")] = n
	}
	return out
})

// Names returns the other names and look-alikes of a reference fat.
func Names(slug string) Naming { return namings()[slug] }

// Find reads a fat as somebody types it: its slug, its name, another name for
// it, or a few letters that only fit one. The error lists what it could be.
func Find(text string) (Fat, error) {
	t := strings.ToLower(strings.TrimSpace(text))
	var near []Fat
	for _, f := range Reference() {
		names := append([]string{f.Slug, f.Name}, Names(f.Slug).Synonyms...)
		close := false
		for _, n := range names {
			n = strings.ToLower(n)
			if n == t {
				return f, nil
			}
			close = close || t != "" && strings.Contains(n, t)
		}
		if close {
			near = append(near, f)
		}
	}
	switch len(near) {
	case 0:
		return Fat{}, fmt.Errorf("“%s” is not a fat of the table", strings.TrimSpace(text))
	case 1:
		return near[0], nil
	}
	words := make([]string, 0, 4)
	for _, f := range near[:min(len(near), 4)] {
		words = append(words, f.Name)
	}
	return Fat{}, fmt.Errorf("“%s” could be %s: type more of it", strings.TrimSpace(text), strings.Join(words, " or "))
}

// index finds a fat of the blend by its key, however that is spelt.
func (b Blend) index(key string) int {
	for i, s := range b {
		if strings.EqualFold(s.Fat.Key(), key) {
			return i
		}
	}
	return -1
}

// Swap puts one fat in another's place, share for share. Where the other is in
// the blend already the shares are added. ok is false when there is nothing to
// swap.
func (b Blend) Swap(key string, to Fat) (out Blend, ok bool) {
	i := b.index(key)
	if i < 0 || strings.EqualFold(to.Key(), key) {
		return b, false
	}
	out = append(Blend{}, b...)
	if j := b.index(to.Key()); j >= 0 {
		out[j].Percent += out[i].Percent
		return append(out[:i], out[i+1:]...), true
	}
	out[i].Fat = to
	return out, true
}

// Balance brings shares to 100 percent: what is held stays, the rest is scaled
// alike.
func Balance(percents []float64, held []bool) ([]float64, error) {
	fixed, free := 0.0, 0.0
	for i, p := range percents {
		if held[i] {
			fixed += p
		} else {
			free += p
		}
	}
	left := 100 - fixed
	switch {
	case left < -1e-9:
		return nil, fmt.Errorf("what is held comes to %s %%, more than 100 %%", unit.Trim(fixed, 2))
	case free <= 0 && math.Abs(left) > 1e-9:
		return nil, fmt.Errorf("what is held comes to %s %% and there is nothing free to take the rest", unit.Trim(fixed, 2))
	}
	out := make([]float64, len(percents))
	for i, p := range percents {
		if out[i] = p; !held[i] && free > 0 {
			out[i] = p * left / free
		}
	}
	return out, nil
}
