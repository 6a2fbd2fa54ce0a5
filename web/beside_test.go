package web_test

import (
	"context"
	"net/http"
	"net/url"
	"os"
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
	v.post("/welcome/demo", url.Values{})
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
