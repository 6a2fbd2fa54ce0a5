package e2e_test

import (
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"ashshelf/store/disktest"
)

// While the disk is full, somebody who types is told that it is not kept, and no longer
// once there is space; an entry of make day waits on the bench until then.
func TestSomebodyWhoTypesIsToldThatTheDiskIsFull(t *testing.T) {
	t.Parallel()
	u := atBrowser(t, 1280, 800)
	require.NoError(t, os.MkdirAll(u.dir, 0o700))
	disk, err := disktest.New(u.dir, 16<<20)
	if errors.Is(err, disktest.ErrMayNot) {
		t.Skip(err)
	}
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, disk.Close()) })
	u.demoShop()
	u.start("demo", "-now", morning.Format("2006-01-02T15:04:05Z07:00"))
	u.open("/")
	u.press("Odile Marrow")
	lot := u.startsLot("Slow olive")
	u.open("/recipes/new")
	u.typeIn("f-name", "Ledge bar")
	u.reads("#notice", "")

	require.NoError(t, disk.Fill(0))
	full := func() bool {
		return eval[bool](u, `document.querySelector("#notice .disk-trouble") !== null`)
	}
	for i := 0; i < 60 && !full(); i++ { // the last pages of the log are still free
		u.typeIn("f-note", fmt.Sprint("milder ", i))
		u.until(
			"it is answered",
			fmt.Sprintf(`performance.getEntriesByType("resource").filter(r => r.name.includes("/live")).length > %d`, i),
		)
	}
	u.reads("#notice", "is not kept at the moment")
	u.open(strings.Replace(lot, "/lots/", "/make/", 1))
	u.reads("main", "The disk with the records is full")
	u.accessible("the bench on a full disk")
	u.rested()
	u.do("done", chromedp.Click(`.now button[data-key="PageDown"]`))
	u.reads("#outbox", "disk with the records is full")
	require.NoError(t, disk.Empty())
	u.until("it goes", `localStorage.getItem("outbox") === "[]"`)
	u.open("/recipes/new")
	require.False(t, full())
}
