package web_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/archive/past"
	"ashshelf/shop"
	"ashshelf/store"
)

// A shop that any earlier program left opens with all its pages, its lots in the words
// of their time and its seals whole.
func TestEveryPageOfAShopOfThePastOpens(t *testing.T) {
	for schema := 1; schema <= past.Newest; schema++ {
		t.Run(fmt.Sprint("schema ", schema), func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			require.NoError(t, past.Unpack(schema, dir, store.File))
			s, err := shop.Open(context.Background(), dir, func() time.Time { return moment })
			require.NoError(t, err)
			t.Cleanup(func() { assert.NoError(t, s.Close()) })
			v := serve(t, s, nil)
			v.post("/who", url.Values{"person": {"1"}})
			open := func(path string) string {
				status, page := v.get(path)
				require.Equal(t, http.StatusOK, status, path)
				return page
			}
			for _, path := range []string{"/", "/recipes", "/molds", "/plan", "/lye", "/make", "/stores", "/racks", "/calendar",
				"/settings"} {
				open(path)
			}
			lots, err := s.Lots(context.Background(), store.LotsWhere{})
			require.NoError(t, err)
			require.GreaterOrEqual(t, len(lots), 13)
			for _, l := range lots {
				open("/lots/" + l.OID)
				open("/lots/" + l.OID + "/record.json")
				open("/plans/" + l.PlanOID)
				record := open("/lots/" + l.OID + "/record")
				has(t, record, l.Frozen.Recipe)
				assert.NotContains(t, record, "<b>Altered:</b>", l.Code)
				assert.Equal(
					t,
					l.Release != nil && schema >= 6,
					strings.Contains(record, "Nothing on record up to the release was altered"),
					l.Code,
				)
			}
			recipes, err := s.Recipes(context.Background())
			require.NoError(t, err)
			for _, r := range recipes {
				open("/recipes/" + r.OID)
			}
		})
	}
}
