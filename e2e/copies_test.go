package e2e_test

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/backup"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// exported is the whole shop of a folder as an open file.
func exported(t *testing.T, dir string) string {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, backup.Export(context.Background(), dir, "test", morning, &b))
	return b.String()
}

// realShop makes a shop of the demo's records that is none: somebody would miss it.
func (u *user) realShop() {
	u.t.Helper()
	u.demoShop()
	file := strings.Replace(exported(u.t, u.dir), `"demo": 1`, `"demo": 0`, 1)
	require.NoError(u.t, os.RemoveAll(u.dir))
	_, err := backup.Import(context.Background(), u.dir, strings.NewReader(file), backup.Restoring{Now: morning})
	require.NoError(u.t, err)
}

func TestAShopSurvivesItsLaptop(t *testing.T) {
	t.Parallel()
	u := atBrowser(t, 1280, 800)
	u.realShop()
	stick := t.TempDir()
	serve := []string{"serve", "-insist", "-now", morning.Format(time.RFC3339)}
	u.start(serve...)
	u.open("/")
	u.press("Odile Marrow")
	u.reads("main", "There is no copy of this shop")
	u.press("Choose a stick or another disk")
	u.accessible("copies before there are any")

	u.typeIn("f-folder", filepath.Join(stick, "nowhere"))
	u.typeIn("f-days", "none")
	u.press("Keep this")
	u.reads("#f-days-err", "not a")
	u.typeIn("f-days", "7")
	u.press("Keep this")
	u.reads("#f-folder-err", "there is no such folder")
	u.typeIn("f-folder", u.dir)
	u.press("Keep this")
	u.reads("#f-folder-err", "a copy beside them goes when they go")
	u.typeIn("f-folder", stick)
	u.do("sealed", chromedp.Click("#f-sealed"))
	u.typeIn("f-passphrase", "four goats on a wall")
	u.typeIn("f-again", "four goats on a hill")
	u.press("Keep this")
	u.reads("#f-again-err", "not the same")
	assert.Empty(t, eval[string](u, `document.getElementById("f-passphrase").value`), "it stands on no page")
	u.typeIn("f-passphrase", "four goats on a wall")
	u.typeIn("f-again", "four goats on a wall")
	u.press("Keep this")
	u.press("Make a copy now")
	u.reads("main", "sealed")
	u.accessible("copies")
	u.open("/")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "There is no copy")
	old := eval[string](u, `document.querySelector("input[name=key]").value`)
	u.open("/copies/book")
	u.reads("main", "Open lots")

	// The laptop is gone, and with it its folder.
	files, err := filepath.Glob(filepath.Join(stick, "*.zip"))
	require.NoError(t, err)
	require.NotEmpty(t, files)
	copied := files[len(files)-1]
	before := exported(t, u.dir)
	held, err := store.Inspect(context.Background(), filepath.Join(u.dir, store.File))
	require.NoError(t, err)
	u.kill()
	require.NoError(t, os.RemoveAll(u.dir))

	u.start(serve...)
	u.open("/")
	u.press("I have a copy")
	u.accessible("bringing a shop back")
	give := func(file, passphrase, last string) {
		u.do("choose the file", chromedp.SetUploadFiles("#f-copy", []string{file}))
		u.typeIn("f-passphrase", passphrase)
		u.typeIn("f-last_lot", last)
		u.press("Bring it back")
	}
	u.press("Bring it back")
	u.reads("#f-copy-err", "choose the file")
	u.reads("#f-last_lot-err", "newest lot")
	broken := filepath.Join(t.TempDir(), "broken.zip")
	whole, err := os.ReadFile(copied)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(broken, whole[:len(whole)/2], 0o600))
	last := lot.Code(held.Last + 2)
	give(broken, "four goats on a wall", last)
	u.reads("#f-copy-err", "nothing was changed")
	give(copied, "four goats on a hill", last)
	u.reads("#f-passphrase-err", "not the passphrase")
	give(copied, "four goats on a wall", "12-Q")
	u.reads("#f-last_lot-err", "code")
	give(copied, "four goats on a wall", last)
	u.reads("main", "is back as it stood")
	u.reads("main", lot.Code(held.Last+3))
	u.mu.Lock()
	u.cut = true // the program opens the shop anew
	u.mu.Unlock()
	u.until("the shop is open again", `fetch("/who").then(r => r.ok && !r.redirected).catch(() => false)`)
	tried := regexp.MustCompile(`(?s)"moved_clock": \[.*?\]`) // which notes each start with a clock of its own
	assert.Equal(t, tried.ReplaceAllString(before, ""), tried.ReplaceAllString(exported(t, u.dir), ""))

	u.open("/")
	u.press("Odile Marrow") // everybody says again who they are
	u.reads("main", "Today")
	u.reads("main", "Look through your papers") // holds and checks may be missing
	u.accessible("a shop that came back")
	u.press("I have looked, and written it down")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Look through your papers")
	late := eval[string](u, fmt.Sprintf(
		`fetch("/people", {method: "POST", body: new URLSearchParams({person: "Late", role: "helper", key: %q})}).then(r => `+
			`r.text().then(t => r.status + t))`, old))
	assert.True(t, strings.HasPrefix(late, "409"), "what an old page sends is not recorded")
	assert.Contains(t, late, "before the shop was restored")
	u.open(eval[string](u, `fetch("/plan").then(r => r.text()).then(t => t.match(/\/plans\/[a-z0-9]{26}/)[0])`))
	u.press("Start")
	u.reads("main", lot.Code(held.Last+3))
	u.noErrors()
}
