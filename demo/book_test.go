package demo_test

import (
	"context"
	"errors"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/demo"
	"ashshelf/shop"
	"ashshelf/shop/catalog"
	"ashshelf/shop/planning"
	"ashshelf/soap/caution"
	"ashshelf/soap/run"
)

// Any recipe of the book into any molds of the shelf, at a person's whim: the
// sheet weighs what the molds hold, the soap is the recipe's, and each pot can
// be lifted. What cannot be done is refused in words and never half answered.
func TestAnyRecipeGoesIntoAnyMolds(t *testing.T) {
	ctx := context.Background()
	clock := &demo.Clock{}
	s, err := shop.Open(ctx, t.TempDir(), clock.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	require.NoError(t, demo.Seed(ctx, s, clock, time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC)))
	recipes, err := s.Recipes(ctx)
	require.NoError(t, err)
	molds, err := s.Molds(ctx)
	require.NoError(t, err)
	settings, err := s.Settings(ctx)
	require.NoError(t, err)
	made, refused := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		o := planning.DefaultOrder(settings)
		r := rapid.SampledFrom(recipes).Draw(t, "recipe")
		o.Recipe = r.OID
		for _, m := range rapid.SliceOfNDistinct(rapid.SampledFrom(molds), 1, 3, func(m catalog.Mold) string { return m.OID }).Draw(t,
			"molds") {
			o.Molds = append(o.Molds, planning.OrderMold{OID: m.OID, Count: rapid.IntRange(1, 4).Draw(t, "count")})
		}
		w, err := s.ComputePlan(ctx, o)
		if err != nil {
			var p caution.Problems
			require.True(t, errors.As(err, &p), "%v", err)
			require.NotEmpty(t, p)
			refused++
			return
		}
		made++
		pot, pots := w.Plan.Pot(), float64(w.Plan.Batches)
		wanted := pot.BatterG
		for _, a := range pot.Additives {
			wanted += a.Grams
		}
		sheet, allowed := 0.0, 0.0
		for _, section := range w.Sheet {
			for _, i := range section.Items {
				require.Positive(t, i.Target, "%s: %s", r.Name, i.Name)
				sheet += i.Target
				allowed += i.Tolerance
			}
		}
		require.InDelta(t, wanted, sheet, allowed+1, "%s: what is weighed is what is poured", r.Name)
		require.InEpsilon(t, w.Request.Target.Volume(), pot.VolumeML*pots*(1-o.PotLoss/100), 0.03, "%s fills the molds", r.Name)

		soap := run.Judge(w.Request, w.Sheet, run.Pot{})
		require.InDelta(t, soap.Planned, soap.Superfat, 0.5, "%s: rounding to the scale leaves the soap alone", r.Name)
		split := 0.0
		for _, shares := range w.Split {
			for _, share := range shares {
				split += share.Count
			}
		}
		all := 0.0
		for _, m := range o.Molds {
			all += float64(m.Count)
		}
		require.InDelta(t, all, split, 1e-6, "every mold is filled from some pot")
		for _, more := range w.OneMore() {
			require.Positive(t, more.BatterG, "%s more", more.Mold)
			require.GreaterOrEqual(t, more.Pots, w.Plan.Batches)
		}
		require.True(
			t,
			slices.ContainsFunc(w.Plan.Cautions, func(c caution.Caution) bool { return c.Code == "lye.handling" }),
			"lye is never without its caution",
		)
	})
	assert.Greater(t, made, 3*refused, "%d made, %d refused", made, refused)
}
