package exchange_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/demand"
)

const fair = `{"format":"ashshelf.demand/1","today":"2026-05-04","pots_per_day":1,
 "recipes":[{"name":"Hedgerow bar","bars_per_pot":20,"mold_days":1,"cure_days":28},
  {"name":"Fig bar","bars_per_pot":9,"mold_days":2,"cure_days":42}],
 "on_hand":[{"recipe":"Fig bar","bars":0,"ready":"2026-03-02"}],
 "wanted":[{"recipe":"Hedgerow bar","bars":60,"on":"2026-06-06"},{"recipe":"Fig bar","bars":5,"on":"2026-06-06"}]}`

func TestABackplanIsWrittenAsItsSchemaSays(t *testing.T) {
	q, err := exchange.ReadDemand(strings.NewReader(fair))
	require.NoError(t, err)
	plan, err := demand.Back(q)
	require.NoError(t, err)
	require.Len(t, plan.Short, 1, "the fig bars are too late; the hedgerow bars are not")
	assert.Equal(t, demand.NoTime, plan.Short[0].Why)
	require.Len(t, plan.Pours, 3)

	var text bytes.Buffer
	require.NoError(t, exchange.WriteBackplan(&text, plan))
	holdsTo(t, "backplan-1", &text)
}

// Whatever is sent, it is answered with a plan or with problems that say where.
func FuzzADemandIsAnsweredOrRefused(f *testing.F) {
	f.Add(fair)
	f.Add(strings.Replace(fair, "2026-06-06", "2036-06-06", 1))
	f.Add(strings.Replace(fair, `"wanted":[`, `"wanted":[[],3,null,`, 1))
	shortenBriefly(f)
	f.Fuzz(func(t *testing.T, text string) {
		q, err := exchange.ReadDemand(strings.NewReader(text))
		if err != nil {
			return
		}
		plan, err := demand.Back(q)
		if err != nil {
			return
		}
		short := 0
		for _, one := range plan.Short {
			short += one.Bars
		}
		for _, one := range q.Wanted {
			short -= one.Bars
		}
		if short > 0 {
			t.Fatalf("%d bars more are short than are wanted", short)
		}
		if err := exchange.WriteBackplanText(&bytes.Buffer{}, plan); err != nil {
			t.Fatal(err)
		}
	})
}
