package web_test

import (
	"context"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/web"
	"ashshelf/web/page"
)

// The made-up shop stands beside the real one: what is done there is no record here, every page says so,
// and leaving it ends it.
func TestAShopBesideTheRealOneLeavesNothingBehind(t *testing.T) {
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	file, err := seeded()
	require.NoError(t, err)
	var folder string
	v.kit.Demo = func(ctx context.Context) (string, error) {
		return v.kit.OpenBeside(ctx, page.MadeUp, func(ctx context.Context, dir string) (out web.Opened, err error) {
			folder = dir
			if err := writeShop(dir, file); err != nil {
				return out, err
			}
			out.Shop, err = shop.Open(ctx, dir, func() time.Time { return moment })
			return out, err
		})
	}
	_, welcome := v.get("/welcome")
	has(t, welcome, "Look round a made-up shop first")
	left := filepath.Join(os.TempDir(), "ashshelf-beside-left-by-a-kill") // as a program that was killed leaves it
	require.NoError(t, os.MkdirAll(left, 0o700))
	require.NoError(t, os.Chtimes(left, time.Time{}, time.Now().Add(-48*time.Hour)))
	v.post("/welcome/demo", url.Values{})
	assert.NoDirExists(t, left, "a copy of records is not left lying about")
	_, page := v.post("/who", url.Values{"person": {"1"}})
	has(t, page, "A made-up shop.")
	_, book := v.get("/recipes")
	has(t, book, "Quern base")
	has(t, book, "nothing here is a record")
	assert.DirExists(t, folder)

	_, page = v.post("/beside/leave", url.Values{})
	has(t, page, "What is the shop called?", "back at the empty shop")
	assert.NoDirExists(t, folder)
	_, err = os.Stat(folder)
	assert.True(t, os.IsNotExist(err))
	status, page := v.get("/recipes")
	assert.Equal(t, http.StatusOK, status)
	has(t, page, "What is the shop called?", "its records are not here")
}

// Two windows of one browser: one rehearses, the other still shows the real shop. What the other sends is
// recorded neither in the copy, where it would be lost, nor twice; and in the copy nobody becomes
// somebody else, since all records lie in it.
func TestAWindowOfTheRealShopRecordsNothingInARehearsal(t *testing.T) {
	t.Parallel()
	v := visit(t)
	v.kit.Demo = func(context.Context) (string, error) {
		assert.Fail(t, "the made-up shop is for who has none yet")
		return "", nil
	}
	v.post("/welcome/demo", url.Values{})
	v.post("/who", url.Values{"person": {"2"}}) // who is not the owner
	_, list := v.get("/plan?open=all")
	plan := first(t, list, `href="(/plans/[a-z0-9]{26})"`)
	lot := v.link("/lots", "lots", "7-F")
	_, real := v.get(lot)
	note := filled(t, real, lot+"/note")
	note.Set("text", "from the other window")

	_, sheet := v.get(plan)
	status, page := v.post(plan+"/rehearse", filled(t, sheet, plan+"/rehearse"))
	require.Equal(t, http.StatusOK, status)
	has(t, page, "Nothing here is a record")
	status, page = v.post(lot+"/note", note)
	assert.Equal(t, http.StatusServiceUnavailable, status, "an outbox keeps it until the real shop is back")
	has(t, page, "another window of this browser is in a rehearsal")
	_, rehearsed := v.get(lot)
	assert.NotContains(t, rehearsed, "from the other window")
	stale := filled(t, rehearsed, lot+"/note")
	stale.Set("text", "from the rehearsal")

	v.post("/who", url.Values{"person": {"1"}})
	status, _ = v.get("/copies")
	assert.Equal(t, http.StatusForbidden, status, "the copy is not read by who may not read the shop")

	v.post("/beside/leave", url.Values{})
	v.post("/who", url.Values{"person": {"2"}})
	status, _ = v.post(lot+"/note", stale)
	assert.Equal(t, http.StatusConflict, status)
	_, page = v.post(lot+"/note", note)
	has(t, page, "from the other window", "sent again it is on record")
	assert.NotContains(t, page, "from the rehearsal")
}
