package shop_test

import (
	"database/sql"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/archive/past"
	"ashshelf/shop"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// pastNow is the moment that the shops of the past were made for.
var pastNow = time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC)

func openPast(t *testing.T, schema int) *shop.Shop {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, past.Unpack(schema, dir, store.File))
	s, err := shop.Open(ctx, dir, func() time.Time { return pastNow })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

// tell says of every lot what its maker would ask: what it was made of, how it went,
// what it is like, where it stands.
func tell(t *testing.T, s *shop.Shop) string {
	t.Helper()
	var out strings.Builder
	heads, err := s.Lots(ctx, store.LotsWhere{})
	require.NoError(t, err)
	for _, head := range heads {
		l, err := s.Lot(ctx, head.OID)
		require.NoError(t, err)
		sealed, err := s.Verify(ctx, l)
		require.NoError(t, err)
		assert.Equal(t, sealed.Digest != "", sealed.Same, "lot %s: nothing was altered since its release", l.Code)
		soap := l.AsPoured()
		fmt.Fprintf(
			&out,
			"lot %s, %s rev. %d, %s, made by %s; superfat %s of %s; sealed %v\n",
			l.Code,
			l.Frozen.Recipe,
			l.Frozen.Revision,
			l.Stage(),
			l.Frozen.Program,
			unit.Trim(soap.Superfat, 2),
			unit.Trim(soap.Planned, 2),
			sealed.Same,
		)
		for _, sec := range l.Sheet() {
			fmt.Fprintf(&out, "  sheet %s, %s:", sec.Place, sec.Title)
			for _, i := range sec.Items {
				fmt.Fprintf(&out, " %s %s;", i.Name, unit.Trim(i.Target, 1))
			}
			out.WriteString("\n")
		}
		for _, m := range l.Frozen.Molds {
			fmt.Fprintf(
				&out,
				"  mold %d x %s, %s, %s by %s mm\n",
				m.Count,
				m.Name,
				m.Material,
				unit.Trim(m.Mold.Length, 0),
				unit.Trim(m.Mold.Width, 0),
			)
		}
		if l.Pour != nil {
			g := l.Gate(pastNow)
			fmt.Fprintf(
				&out,
				"  policy %s, %d days; ready on %s; ready %v\n",
				l.Frozen.Policy.Code,
				l.Frozen.Policy.Days,
				g.ReadyOn.Format(time.DateOnly),
				g.Ready,
			)
		}
		for _, c := range l.Frozen.Pot.Cautions {
			fmt.Fprintf(&out, "  caution %s %s\n", c.Level, c.Code)
		}
		for _, e := range l.Story() {
			fmt.Fprintf(&out, "  %s %s: %s\n", e.Occurred.UTC().Format("2006-01-02 15:04"), e.Title, e.Text)
		}
	}
	return out.String()
}

var update = flag.Bool("update", false, "write the golden files anew, after a wanted change")

// A shop of any schema opens, every lot is told as it was, and every seal holds.
func TestAShopOfThePastIsReadAsItWas(t *testing.T) {
	for schema := 1; schema <= past.Newest; schema++ {
		t.Run(fmt.Sprint("schema ", schema), func(t *testing.T) {
			t.Parallel()
			s := openPast(t, schema)
			told := tell(t, s)
			path := filepath.Join("testdata", "past", fmt.Sprintf("schema-%02d.txt", schema))
			if *update {
				require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
				require.NoError(t, os.WriteFile(path, []byte(told), 0o644))
			}
			golden, err := os.ReadFile(path)
			require.NoError(t, err)
			assert.Equal(t, string(golden), told)
			for _, read := range []func() error{
				func() error { _, err := s.Recipes(ctx); return err },
				func() error { _, _, err := s.OpenPlans(ctx, 0); return err },
				func() error { _, err := s.Molds(ctx); return err },
				func() error { _, err := s.Tools(ctx); return err },
				func() error { _, err := s.Stocks(ctx, true); return err },
				func() error { _, _, err := s.Room(ctx); return err },
				func() error { _, err := s.Markets(ctx); return err },
				func() error { _, err := s.SaleOrders(ctx); return err },
				func() error { _, err := s.Sold(ctx, pastNow.AddDate(-1, 0, 0), pastNow); return err },
			} {
				assert.NoError(t, read())
			}
		})
	}
}

// Seals were kept from the sixth schema on, in three versions since; each is worked
// out again as it was, and sees what was altered past the program.
func TestASealOfAnyVersionHoldsAfterTheUpgrade(t *testing.T) {
	seals := map[int]int{}
	for schema := 6; schema <= past.Newest; schema++ {
		dir := t.TempDir()
		require.NoError(t, past.Unpack(schema, dir, store.File))
		db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.File))
		require.NoError(t, err)
		var version, n int
		require.NoError(t, db.QueryRow(`SELECT max(version), count(*) FROM release_digest`).Scan(&version, &n))
		seals[version] += n
		require.NoError(t, db.Close())
		s, err := shop.Open(ctx, dir, func() time.Time { return pastNow })
		require.NoError(t, err)
		tell(t, s)
		require.NoError(t, s.Close())
		db, err = sql.Open("sqlite", "file:"+filepath.Join(dir, store.File))
		require.NoError(t, err)
		_, err = db.Exec(`DROP TRIGGER weighing_keep_u`)
		require.NoError(t, err)
		_, err = db.Exec(`UPDATE weighing SET actual = actual + 1000`)
		require.NoError(t, err)
		require.NoError(t, db.Close())
		s, err = shop.Open(ctx, dir, func() time.Time { return pastNow })
		require.NoError(t, err)
		lots, err := s.Lots(ctx, store.LotsWhere{})
		require.NoError(t, err)
		for _, l := range lots {
			sealed, err := s.Verify(ctx, l)
			require.NoError(t, err)
			assert.False(t, sealed.Same, "lot %s of schema %d: a gram more shows", l.Code, schema)
		}
		require.NoError(t, s.Close())
	}
	for version := 1; version <= 3; version++ {
		assert.NotZero(t, seals[version], "there is a seal of version %d", version)
	}
}
