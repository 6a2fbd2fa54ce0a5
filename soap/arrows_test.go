package soap_test

import (
	"encoding/json"
	"errors"
	"io"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// allowed says which rooms of the program each room may use. A room that is
// not listed may be used by nobody but the program itself.
var allowed = map[string][]string{
	"soap":      {"soap"},
	"archive":   {"archive"},
	"docs":      {"docs"},
	"store":     {"store", "soap"},
	"device":    {"device", "soap"},
	"photo":     {"photo"},
	"authority": {"authority", "store"},
	"access":    {"access", "store", "soap"},
	"backup":    {"backup", "store", "soap"}, // its tests make shops of the past
	"shop":      {"shop", "store", "soap", "archive", "photo"},
	"exchange":  {"exchange", "soap"},
	"demo":      {"demo", "shop", "store", "soap"},
	"web":       {"web", "shop", "store", "soap", "exchange", "device", "backup", "access", "docs"},
	"cmd":       {"cmd", "access", "authority", "web", "shop", "store", "soap", "exchange", "demo", "device", "backup"},
	"campaign":  {"campaign", "access", "web", "shop", "store", "demo", "archive", "e2e", "backup"},
	"e2e":       {"e2e", "access", "cmd", "web", "shop", "store", "soap", "demo", "exchange", "device", "backup"},
}

// roomOfPages reports whether a package is a room of the interface. What rooms share is
// none: page and its tests, door, and draw.
func roomOfPages(path string) bool {
	rest, ok := strings.CutPrefix(path, "ashshelf/web/")
	return ok && rest != "draw" && rest != "door" && rest != "page" && !strings.HasPrefix(rest, "page/")
}

// shopRooms are the rooms of the use cases: each may use those before it, and the door
// all of them.
var shopRooms = []string{
	"document", "journal", "catalog", "inventory", "stock", "lots", "tracing", "selling", "planning", "supply", "costing", "trading",
}

// shopRoom is where a package of the use cases stands among them, after all of them for
// the door; below zero for another package.
func shopRoom(path string) int {
	room, ok := strings.CutPrefix(path, "ashshelf/shop/")
	switch {
	case path == "ashshelf/shop":
		return len(shopRooms)
	case room == "search" || room == "starter": // it stands before the door, and looks in by it
		return len(shopRooms) + 1
	case ok:
		return slices.Index(shopRooms, room)
	}
	return -1
}

// The core computes; it does not read, write, serve or remember.
var notInTheCore = []string{"net", "os", "database/", "html/", "log", "testing"}

func TestTheArrowsPointOneWay(t *testing.T) {
	out, err := exec.Command("go", "list", "-json=ImportPath,Imports", "ashshelf/...").Output()
	require.NoError(t, err)
	d := json.NewDecoder(strings.NewReader(string(out)))
	rooms := 0
	for {
		var p struct {
			ImportPath string
			Imports    []string
		}
		err := d.Decode(&p)
		if errors.Is(err, io.EOF) {
			break
		}
		require.NoError(t, err)
		room, _, _ := strings.Cut(strings.TrimPrefix(p.ImportPath, "ashshelf/"), "/")
		require.Contains(t, allowed, room, "a new room needs its arrows")
		rooms++
		if strings.HasPrefix(p.ImportPath, "ashshelf/shop") {
			require.GreaterOrEqual(t, shopRoom(p.ImportPath), 0, "%s needs its place among the use cases", p.ImportPath)
		}
		for _, imp := range p.Imports {
			require.False(
				t,
				roomOfPages(p.ImportPath) && roomOfPages(imp),
				"%s uses %s: no room of the pages knows another",
				p.ImportPath,
				imp,
			)
			if from, to := shopRoom(p.ImportPath), shopRoom(imp); from >= 0 {
				require.Less(t, to, from, "%s uses %s", p.ImportPath, imp)
			}
			if rest, ours := strings.CutPrefix(imp, "ashshelf/"); ours {
				to, _, _ := strings.Cut(rest, "/")
				require.Contains(t, allowed[room], to, "%s uses %s", p.ImportPath, imp)
				continue
			}
			if room == "soap" {
				for _, no := range notInTheCore {
					require.False(
						t,
						imp == strings.TrimSuffix(no, "/") || strings.HasPrefix(imp, strings.TrimSuffix(no, "/")+"/"),
						"%s uses %s",
						p.ImportPath,
						imp,
					)
				}
				require.NotContains(t, strings.SplitN(imp, "/", 2)[0], ".", "%s uses the package %s from outside", p.ImportPath, imp)
			}
		}
	}
	require.Greater(t, rooms, 15)
}
