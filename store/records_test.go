package store

import (
	"context"
	"database/sql"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/role"
)

// books is an open database with a person, a device, and the records a test adds.
type books struct {
	*DB
	t      *testing.T
	person int64
	device int64
	at     time.Time
}

var bg = context.Background()

func openBooks(t *testing.T) *books {
	t.Helper()
	db, err := Open(bg, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	b := &books{DB: db, t: t, at: time.UnixMilli(1_772_000_000_000)}
	b.write(func(tx *Tx) error {
		var err error
		if b.person, err = tx.AddPerson("Ida", role.Maker); err == nil {
			b.device, err = tx.Device("token", "tablet", b.at)
		}
		return err
	})
	return b
}

func (b *books) write(do func(*Tx) error) {
	b.t.Helper()
	require.NoError(b.t, b.Write(bg, do))
}

func (b *books) look(do func(*Tx) error) {
	b.t.Helper()
	require.NoError(b.t, b.Read(bg, do))
}

// entry writes a head, a minute after the last.
func (b *books) entry(tx *Tx, kind string) int64 {
	b.at = b.at.Add(time.Minute)
	id, err := tx.AddEntry(Entry{Kind: kind, Occurred: b.at, Recorded: b.at, Person: b.person, Device: b.device})
	require.NoError(b.t, err)
	return id
}

// recipe writes a recipe with one revision, whose entry it returns.
func (b *books) recipe(tx *Tx, oid string) int64 {
	e := b.entry(tx, "recipe")
	require.NoError(b.t, tx.AddDocument(Recipes, e, oid, ""))
	require.NoError(b.t, tx.AddRevision(Recipes, e, oid, 1, "Bar "+oid, "first", []byte(`{"v":1}`)))
	return e
}

// lot writes a lot of a plan of a recipe.
func (b *books) lot(tx *Tx, n int, plan, recipe string, pot int) (id int64) {
	oid := fmt.Sprint("lot", n)
	require.NoError(
		b.t,
		tx.AddLot(b.entry(tx, "lot"), oid, n, lot.Code(n), plan, recipe, pot, []byte(fmt.Sprintf(`{"n":%d}`, n)), lot.Making),
	)
	heads, err := tx.LotHeads(LotsWhere{OID: oid})
	require.NoError(b.t, err)
	require.Len(b.t, heads, 1)
	return heads[0].ID
}

// blank takes what the head of a record brings, so that the rest can be compared.
func blank(e *lot.Entry) { *e = lot.Entry{} }

// Every kind of record of a lot is written and read as it was, with its head.
func TestEveryRecordOfALotComesBackAsItWasWritten(t *testing.T) {
	b := openBooks(t)
	lyeC, ph := 38.5, 9.6
	grade := func(n int) map[ledger.Grade]int {
		return map[ledger.Grade]int{ledger.First: n, ledger.Second: 1, ledger.Tester: 0, ledger.Scrap: 2}
	}
	guest := ledger.Kind{Size: "guest bar", Grade: ledger.First}
	want := lot.Lot{
		Weighings: []lot.Weighing{
			{
				Item:    "fat:olive-oil",
				Target:  500.25,
				Actual:  501.125,
				How:     lot.ByDevice,
				Reading: 9,
				From: lot.Bought{
					OID:      "delivery",
					Item:     "fat:olive-oil",
					Name:     "Olive oil",
					Supplier: "Quay Oils",
					Code:     "QO-1",
					Received: "2026-01-02",
					SAP:      190,
				},
			},
			{Item: "fat:olive-oil", Actual: -1, How: lot.Typed},
		},
		Ticks:    []lot.Tick{{Step: "batter:trace", Title: "Trace", Done: true, Note: "quick", Trace: "light", Minutes: 6.5}},
		Temps:    []lot.Temp{{Of: "lye", C: lyeC, How: lot.OnPaper}},
		Rescales: []lot.Rescale{{Factor: 1.04, Because: "fat:olive-oil"}},
		Extras:   []lot.Extra{{Name: "Rice bran oil", Grams: 12.5, SAP: 187}},
		Scents:   []lot.ScentSeen{{Scent: "Fig leaf", Behaviour: additive.Accelerates, Note: "a little"}},
		Photos:   []lot.Photo{{File: "p.jpg", W: 640, H: 480, Caption: "the swirl"}},
		Pour: &lot.Pour{
			LyeC:    &lyeC,
			Trace:   "light",
			LeftG:   30,
			Skipped: "no scent",
			Note:    "shiny",
			Judged:  &lot.Judged{Superfat: 5.2, Planned: 5, Heavy: true, Said: "look again"},
		},
		Unmolding: &lot.Unmolding{Gel: "ring", Note: "clean"},
		Cut: &lot.Cut{
			Bars:       grade(9),
			BarG:       118.5,
			Ends:       2,
			EndsG:      80,
			Halves:     1,
			TrimmingsG: 46,
			Finish:     "Jon",
			Note:       "crisp",
			Sizes:      []lot.Size{{Name: "guest bar", BarG: 40, Bars: grade(3)}},
		},
		Samples: []lot.SampleWeight{{Grams: 117.5}},
		Checks:  []lot.SafetyCheck{{Method: "ph", PH: &ph, Pass: true, Note: "twice"}, {Method: "zap"}},
		Holds:   []lot.Hold{{Held: true, Why: "white spots"}, {Why: "flour"}},
		Incidents: []lot.Incident{
			{
				Kind:    "seized",
				Called:  "Seized",
				Text:    "a lump",
				Way:     "press",
				Outcome: "plain bars",
				Words:   []lot.IncidentUpdate{{Way: "press", Name: "Press it in"}, {Outcome: "plain bars"}},
				Blamed:  []lot.Blame{{Subject: "recipe:r", Name: "the recipe", Blamed: true}},
			},
		},
		ProcessChanges: []lot.ProcessChange{{Cooked: true, Why: "seized"}},
		Parents:        []lot.Parent{{OID: "lot1", Code: lot.Code(1), What: "trimmings", Grams: 50.5}},
		Marks:          []lot.Mark{{Mark: lot.NotForSale, On: true, Why: "a gift"}},
		Next:           []lot.Next{{Text: "less scent"}},
		Kept:           []lot.ReferenceBars{{Bars: 1, Place: "drawer"}},
		Reshaped:       []lot.Reshaped{{Source: lot.WholeBars, Kind: guest, Pieces: 2, Shape: lot.Balls, Made: 3, Grams: 80.5, Note: "for soap"}},
		Washes:         []lot.Wash{{Volume: 3, Creaminess: 2, Slime: 1, Scent: 4, Against: "0-A", Note: "soft"}},
		Places:         []lot.Place{{Rack: "left", Level: 2}},
		Release:        &lot.Release{Early: "for the fair"},
		Moves:          []lot.Move{{Kind: guest, Reason: ledger.Sold, Change: -2, Note: "at the door"}},
		Notes:          []lot.Note{{Text: "smells of figs"}, {Text: "a child tasted it", Incident: true}},
		Deviations:     []lot.Deviation{{Act: lot.ToCut, What: "cut late", Why: "a wedding"}},
		Retimes:        []lot.Retime{{At: time.Date(2026, 2, 3, 4, 5, 0, 0, time.UTC), Said: "a flat battery"}},
		Abandoned:      &lot.Note{Text: "the dog"},
	}
	for _, what := range []string{"texture", "gel", "oven", "turn", "stamp", lot.Diluted} {
		want.Cared = append(want.Cared, lot.Care{What: what, Note: "done"})
	}
	var first, second int64
	b.write(func(tx *Tx) error {
		revision := b.recipe(tx, "r")
		require.NoError(t, tx.AddPlan(b.entry(tx, "plan"), "p", revision, []byte(`{}`)))
		first, second = b.lot(tx, 1, "p", "r", 1), b.lot(tx, 2, "p", "r", 2)
		ok := func(err error) { t.Helper(); require.NoError(t, err) }
		e := func() int64 { return b.entry(tx, "record") }
		ok(tx.AddBought(e(), want.Weighings[0].From))
		for _, w := range want.Weighings {
			ok(tx.AddWeighing(e(), second, w))
		}
		ok(tx.AddTick(e(), second, want.Ticks[0]))
		ok(tx.AddTemperature(e(), second, want.Temps[0]))
		ok(tx.AddRescale(e(), second, want.Rescales[0], []byte(`{"v":2}`)))
		ok(tx.AddExtra(e(), second, want.Extras[0]))
		ok(tx.AddScentSeen(e(), second, want.Scents[0]))
		ok(tx.AddPhoto(e(), second, want.Photos[0]))
		ok(tx.AddWriter(e(), second))
		ok(tx.AddPour(e(), second, *want.Pour))
		ok(tx.AddUnmolding(e(), second, *want.Unmolding))
		cut := e()
		ok(tx.AddCut(cut, second, *want.Cut))
		ok(tx.AddCutMore(cut, second, *want.Cut))
		ok(tx.AddCutSize(cut, second, want.Cut.Sizes[0]))
		ok(tx.CountBars(second, guest, 3))
		ok(tx.CountBars(second, ledger.Of(ledger.First), 9))
		ok(tx.AddSample(e(), second, want.Samples[0].Grams))
		for _, k := range want.Checks {
			ok(tx.AddCheck(e(), second, k))
		}
		for _, h := range want.Holds {
			ok(tx.AddHold(e(), second, h.Held, h.Why))
		}
		incident := e()
		ok(tx.AddIncident(incident, second, want.Incidents[0]))
		for _, w := range want.Incidents[0].Words {
			w.Incident = incident
			ok(tx.AddIncidentUpdate(e(), second, w))
		}
		blame := want.Incidents[0].Blamed[0]
		blame.Incident = incident
		ok(tx.AddBlame(e(), second, blame))
		ok(tx.AddProcessChange(e(), second, want.ProcessChanges[0]))
		ok(tx.AddParent(e(), second, first, "trimmings", 50.5))
		ok(tx.AddMark(e(), second, want.Marks[0]))
		ok(tx.AddNext(e(), second, want.Next[0].Text))
		ok(tx.AddReferenceBars(e(), second, want.Kept[0]))
		ok(tx.AddReshaped(e(), second, want.Reshaped[0]))
		for _, k := range want.Cared {
			ok(tx.AddCare(e(), second, k))
		}
		ok(tx.AddWash(e(), second, want.Washes[0]))
		ok(tx.AddPlace(e(), second, want.Places[0]))
		ok(tx.AddRelease(e(), second, want.Release.Early))
		ok(tx.AddMove(e(), second, want.Moves[0]))
		ok(tx.ChangeBars(second, guest, -2))
		ok(tx.AddNote(e(), second, "note", want.Notes[0].Text))
		ok(tx.AddNote(e(), second, "incident", want.Notes[1].Text))
		ok(tx.AddDeviation(e(), second, want.Deviations[0]))
		want.Retimes[0].Of = first // an entry that there is
		ok(tx.AddRetime(e(), second, want.Retimes[0]))
		last := e()
		ok(tx.AddNote(last, second, "abandoned", want.Abandoned.Text))
		ok(tx.SetOdd(second, true))
		return tx.SetLotState(second, lot.Abandoned, last)
	})
	b.look(func(tx *Tx) error {
		heads, err := tx.LotHeads(LotsWhere{OID: "lot2"})
		require.NoError(t, err)
		list, err := tx.LotsOf(heads, true)
		require.NoError(t, err)
		got := list[0]
		assert.Equal(t, `{"n":2}`, string(got.FrozenJSON))
		assert.Equal(t, [][]byte{[]byte(`{"v":2}`)}, got.RescaleJSON)
		assert.Equal(t, map[ledger.Kind]int{guest: 1, ledger.Of(ledger.First): 9}, got.Balance)
		assert.True(t, got.Odd)
		assert.Equal(t, "tablet", got.Writer.Label)
		assert.Equal(t, heads[0].LastEntry, got.Abandoned.ID)
		assert.Equal(t, "Ida", got.Pour.Who)
		assert.Equal(t, got.Pour.Occurred.Add(time.Minute), got.Unmolding.Occurred, "heads are in their order")
		headless(&got.Lot)
		got.Retimes[0].At = got.Retimes[0].At.UTC()
		assert.Equal(
			t,
			want,
			lot.Lot{
				Weighings:      got.Weighings,
				Ticks:          got.Ticks,
				Temps:          got.Temps,
				Rescales:       got.Rescales,
				Extras:         got.Extras,
				Scents:         got.Scents,
				Photos:         got.Photos,
				Pour:           got.Pour,
				Unmolding:      got.Unmolding,
				Cut:            got.Cut,
				Samples:        got.Samples,
				Checks:         got.Checks,
				Holds:          got.Holds,
				Incidents:      got.Incidents,
				ProcessChanges: got.ProcessChanges,
				Parents:        got.Parents,
				Marks:          got.Marks,
				Next:           got.Next,
				Kept:           got.Kept,
				Reshaped:       got.Reshaped,
				Cared:          got.Cared,
				Washes:         got.Washes,
				Places:         got.Places,
				Release:        got.Release,
				Moves:          got.Moves,
				Notes:          got.Notes,
				Deviations:     got.Deviations,
				Retimes:        got.Retimes,
				Abandoned:      got.Abandoned,
			},
		)

		quiet, err := tx.LotsOf(heads, false)
		require.NoError(t, err)
		assert.Empty(t, quiet[0].Weighings, "without the bench")
		assert.NotNil(t, quiet[0].Pour)
		has, err := tx.HasPhoto("p.jpg")
		require.NoError(t, err)
		assert.True(t, has)
		bought, err := tx.Bought("fat:olive-oil", 5)
		require.NoError(t, err)
		assert.Equal(t, []lot.Bought{want.Weighings[0].From}, bought)
		stories, err := tx.Stories("recipe:r", 5)
		require.NoError(t, err)
		require.Len(t, stories, 1)
		assert.Equal(t, "plain bars", stories[0].Outcome)
		return nil
	})
	// The first lot is part of the second, which inherits what holds it.
	b.write(func(tx *Tx) error {
		require.NoError(t, tx.AddHold(b.entry(tx, "hold"), first, true, "glass"))
		return tx.AddMark(b.entry(tx, "mark"), first, lot.Mark{Mark: lot.Recalled, On: true, Why: "glass"})
	})
	b.look(func(tx *Tx) error {
		heads, err := tx.LotHeads(LotsWhere{})
		require.NoError(t, err)
		list, err := tx.LotsOf(heads, false)
		require.NoError(t, err)
		lots := []*lot.Lot{&list[0].Lot, &list[1].Lot}
		require.NoError(t, tx.Relate(lots))
		assert.Equal(
			t,
			[]lot.Restriction{{Code: lot.Code(1), Kind: "hold", Why: "glass"}, {Code: lot.Code(1), Kind: lot.Recalled, Why: "glass"}},
			lots[0].Inherited,
		)
		require.Len(t, lots[1].Children, 1)
		assert.Equal(t, lot.Code(2), lots[1].Children[0].Code)
		return nil
	})
	err := b.Write(bg, func(tx *Tx) error { return tx.ChangeBars(second, guest, -2) })
	assert.Error(t, err, "there is one bar: the database itself refuses a balance below nothing")
}

// headless takes the heads off all records of a lot.
func headless(l *lot.Lot) {
	for i := range l.Weighings {
		blank(&l.Weighings[i].Entry)
	}
	for i := range l.Incidents {
		blank(&l.Incidents[i].Entry)
		for k := range l.Incidents[i].Words {
			blank(&l.Incidents[i].Words[k].Entry)
			l.Incidents[i].Words[k].Incident = 0
		}
		for k := range l.Incidents[i].Blamed {
			blank(&l.Incidents[i].Blamed[k].Entry)
			l.Incidents[i].Blamed[k].Incident = 0
		}
	}
	for _, one := range []*lot.Entry{&l.Ticks[0].Entry, &l.Temps[0].Entry, &l.Rescales[0].Entry, &l.Extras[0].Entry,
		&l.Scents[0].Entry, &l.Photos[0].Entry, &l.Pour.Entry, &l.Unmolding.Entry, &l.Cut.Entry,
		&l.Samples[0].Entry, &l.ProcessChanges[0].Entry, &l.Parents[0].Entry, &l.Marks[0].Entry, &l.Next[0].Entry, &l.Kept[0].Entry,
		&l.Reshaped[0].Entry,
		&l.Washes[0].Entry,
		&l.Places[0].Entry, &l.Release.Entry, &l.Moves[0].Entry, &l.Deviations[0].Entry, &l.Retimes[0].Entry, &l.Abandoned.Entry} {
		blank(one)
	}
	for i := range l.Checks {
		blank(&l.Checks[i].Entry)
	}
	for i := range l.Holds {
		blank(&l.Holds[i].Entry)
	}
	for i := range l.Notes {
		blank(&l.Notes[i].Entry)
	}
	for i := range l.Cared {
		blank(&l.Cared[i].Entry)
	}
}

func TestLotsAreFoundByWhatIsAskedFor(t *testing.T) {
	b := openBooks(t)
	b.write(func(tx *Tx) error {
		for n, r := range []string{"fig", "olive", "salt"} {
			revision := b.recipe(tx, r)
			require.NoError(t, tx.AddPlan(b.entry(tx, "plan"), r, revision, []byte(`{}`)))
			id := b.lot(tx, n+1, r, r, 1)
			require.NoError(t, tx.AddMaterial(fmt.Sprint("lot", n+1), "fat:"+r, "Oil of "+r))
			if r == "salt" {
				require.NoError(t, tx.AddIncident(b.entry(tx, "incident"), id, lot.Incident{Kind: "seized"}))
				require.NoError(t, tx.AddPour(b.entry(tx, "pour"), id, lot.Pour{}))
				require.NoError(t, tx.AddCheck(b.entry(tx, "check"), id, lot.SafetyCheck{Method: "zap", Pass: true}))
				require.NoError(t, tx.AddRelease(b.entry(tx, "release"), id, ""))
				require.NoError(t, tx.SetLotState(id, lot.Ready, b.entry(tx, "note")))
			}
		}
		return nil
	})
	for name, c := range map[string]struct {
		where LotsWhere
		found []int
	}{
		"all, the newest first":      {LotsWhere{}, []int{3, 2, 1}},
		"two at a time":              {LotsWhere{Most: 2}, []int{3, 2}},
		"and the next":               {LotsWhere{Most: 2, Skip: 2}, []int{1}},
		"a number":                   {LotsWhere{Number: 2}, []int{2}},
		"a recipe":                   {LotsWhere{Recipe: "fig"}, []int{1}},
		"a stage":                    {LotsWhere{Stages: []lot.Stage{lot.Ready, lot.Gone}}, []int{3}},
		"a code, without its dash":   {LotsWhere{Text: lot.Code(2)[:1]}, []int{2}},
		"a name of the recipe":       {LotsWhere{Text: "bar ol"}, []int{2}},
		"who began it":               {LotsWhere{Text: "ida"}, []int{3, 2, 1}},
		"no wildcard of the engine":  {LotsWhere{Text: "%"}, nil},
		"an ingredient by its key":   {LotsWhere{Material: "fat:fig"}, []int{1}},
		"or by part of its name":     {LotsWhere{Material: "of s"}, []int{3}},
		"any trouble":                {LotsWhere{Trouble: "any"}, []int{3}},
		"a trouble it never had":     {LotsWhere{Trouble: "ricing"}, nil},
		"released on an early check": {LotsWhere{Unproven: true}, []int{3}},
		"started from then on":       {LotsWhere{From: b.at.Add(time.Hour)}, nil},
		"started before that":        {LotsWhere{To: b.at.Add(time.Hour)}, []int{3, 2, 1}},
	} {
		b.look(func(tx *Tx) error {
			heads, err := tx.LotHeads(c.where)
			require.NoError(t, err, name)
			var got []int
			for _, h := range heads {
				var n int
				_, err := fmt.Sscanf(h.OID, "lot%d", &n)
				require.NoError(t, err)
				got = append(got, n)
			}
			assert.Equal(t, c.found, got, name)
			if c.where.Most == 0 {
				n, err := tx.CountLots(c.where)
				require.NoError(t, err, name)
				assert.Equal(t, len(c.found), n, name)
			}
			next, err := tx.NextLotNumber()
			require.NoError(t, err)
			assert.Equal(t, 4, next)
			return nil
		})
	}
}

func TestAPlanIsOpenAndOnItsDayUntilItIsStarted(t *testing.T) {
	b := openBooks(t)
	b.write(func(tx *Tx) error {
		revision := b.recipe(tx, "r")
		for i, day := range []string{"2026-03-20", "2026-03-20", "2026-03-21", ""} {
			oid := fmt.Sprint("p", i)
			require.NoError(t, tx.AddPlan(b.entry(tx, "plan"), oid, revision, []byte(`{}`)))
			if day != "" {
				require.NoError(t, tx.SetPlanDay(b.entry(tx, "day"), oid, day, 2-i))
			}
		}
		b.lot(tx, 1, "p0", "r", 1)
		return nil
	})
	oids := func(list []Plan, err error) (out []string) {
		require.NoError(t, err)
		for _, p := range list {
			out = append(out, p.OID)
		}
		return out
	}
	b.look(func(tx *Tx) error {
		assert.Equal(t, []string{"p3", "p2", "p1"}, oids(tx.OpenPlans(0)))
		assert.Equal(t, []string{"p3"}, oids(tx.OpenPlans(1)))
		n, err := tx.CountOpenPlans()
		require.NoError(t, err)
		assert.Equal(t, 3, n)
		assert.Equal(t, []string{"p1", "p0"}, oids(tx.PlansOf("2026-03-20")), "in their turns, started or not")
		assert.Equal(t, []string{"p1", "p2"}, oids(tx.OpenPlansOn("2026-03-01", "2026-03-31")))
		assert.Empty(t, oids(tx.OpenPlansOn("2026-03-22", "2026-03-31")))
		days, plans, err := tx.Days("2026-03-01")
		require.NoError(t, err)
		assert.Equal(t, []string{"2026-03-20", "2026-03-21"}, days)
		assert.Equal(t, []int{2, 1}, plans)
		p, err := tx.Plan("p0")
		require.NoError(t, err)
		require.Len(t, p.Lots, 1)
		assert.Equal(t, "2026-03-20", p.Day)
		_, err = tx.Plan("p9")
		assert.ErrorIs(t, err, ErrNotFound)
		return nil
	})
	b.write(func(tx *Tx) error { return tx.SetPlanDay(b.entry(tx, "day"), "p1", "", 0) })
	b.look(func(tx *Tx) error {
		assert.Equal(t, []string{"p2"}, oids(tx.OpenPlansOn("2026-03-01", "2026-03-31")), "it was taken off its day")
		return nil
	})
}

func TestAContainerHoldsTheSumOfItsMoves(t *testing.T) {
	b := openBooks(t)
	strong, warm := 49.5, 24.0
	b.write(func(tx *Tx) error {
		n, err := tx.NextStockNumber()
		require.NoError(t, err)
		id, err := tx.AddStock(b.entry(tx, "stock"), "jug", n, "J1", "naoh", []byte(`{}`))
		require.NoError(t, err)
		require.NoError(t, tx.MoveStock(b.entry(tx, "made"), id, StockMove{What: "made", Change: 2000}, 0))
		require.NoError(t, tx.MoveStock(b.entry(tx, "draw"), id, StockMove{What: "draw", Change: -250.5, Note: "for a loaf"}, 0))
		require.NoError(t, tx.AddStockWord(b.entry(tx, "word"), id, StockUpdate{Strength: &strong, How: "titrated"}))
		require.NoError(t, tx.AddStockWord(b.entry(tx, "word"), id, StockUpdate{Celsius: &warm}))
		require.NoError(t, tx.AddCooled(b.entry(tx, "cooling"), Cooled{Stands: "air", Usual: 45, Learned: 52}))
		assert.ErrorIs(t, tx.MoveStock(b.entry(tx, "draw"), id, StockMove{What: "draw", Change: -1750}, 0), ErrEmpty)
		return nil
	})
	b.look(func(tx *Tx) error {
		s, err := tx.Stock("jug")
		require.NoError(t, err)
		assert.InDelta(t, 1749.5, s.Balance, 1e-9)
		require.Len(t, s.Moves, 2)
		require.Len(t, s.Words, 2)
		assert.Equal(t, strong, *s.Words[0].Strength)
		assert.Nil(t, s.Words[1].Strength)
		_, err = tx.Stock("tin")
		assert.ErrorIs(t, err, ErrNotFound)
		cooled, err := tx.Cooled("", "air", false, 5)
		require.NoError(t, err)
		assert.Equal(t, []Cooled{{Stands: "air", Usual: 45, Learned: 52}}, cooled)
		return nil
	})
	b.write(func(tx *Tx) error {
		s, err := tx.Stock("jug")
		require.NoError(t, err)
		return tx.AddStockWord(b.entry(tx, "word"), s.ID, StockUpdate{Status: "gone", Why: "poured out"})
	})
	b.look(func(tx *Tx) error {
		here, err := tx.Stocks(false, 10)
		require.NoError(t, err)
		assert.Empty(t, here)
		all, err := tx.Stocks(true, 10)
		require.NoError(t, err)
		assert.Len(t, all, 1)
		return nil
	})
}

// The newest word counts: of settings, lives, spoons, rules, feeds, and of every book.
func TestTheNewestWordCounts(t *testing.T) {
	b := openBooks(t)
	b.write(func(tx *Tx) error {
		_, err := tx.Shop()
		assert.ErrorIs(t, err, ErrNotFound)
		_, err = tx.Feed()
		assert.ErrorIs(t, err, ErrNotFound)
		_, err = tx.RackRules()
		assert.ErrorIs(t, err, ErrNotFound)
		for _, name := range []string{"Bench", "Better bench"} {
			require.NoError(
				t,
				tx.AddShop(
					b.entry(tx, "shop"),
					Shop{
						Name:      name,
						Zone:      "UTC",
						Units:     "metric",
						Currency:  "EUR",
						ScaleStep: 1,
						FillRule:  "computed",
						RiskyLoad: 60,
						RoomC:     18,
						DaysOff:   "sun",
					},
				),
			)
			require.NoError(t, tx.AddFeed(b.entry(tx, "feed"), name+" with twenty letters"))
			require.NoError(t, tx.AddRackRules(b.entry(tx, "rules"), []byte(`["`+name+`"]`)))
			require.NoError(t, tx.AddSpoon(b.entry(tx, "spoon"), "Kaolin", float64(len(name))))
			require.NoError(t, tx.AddBench(b.entry(tx, "bench"), "", []byte(`{"note":"`+name+`"}`)))
		}
		b.recipe(tx, "r")
		require.NoError(t, tx.AddLife(b.entry(tx, "life"), "r", 1, "trial"))
		require.NoError(t, tx.AddLife(b.entry(tx, "life"), "r", 1, "tested"))
		require.NoError(t, tx.AddRevision(Recipes, b.entry(tx, "recipe"), "r", 2, "Bar two", "more", []byte(`{}`)))
		variant := b.entry(tx, "recipe")
		require.NoError(t, tx.AddDocument(Recipes, variant, "s", "r"))
		require.NoError(t, tx.AddRevision(Recipes, variant, "s", 1, "Another", "", []byte(`{}`)))
		for _, book := range Books()[1:] {
			e := b.entry(tx, string(book))
			require.NoError(t, tx.AddDocument(book, e, "one", ""))
			require.NoError(t, tx.AddRevision(book, e, "one", 1, "One", "", []byte(`{}`)))
		}
		require.NoError(t, tx.AddMoldPour(b.entry(tx, "pour"), MoldPour{Mold: "one", Correction: 1.02, OffMM: -2, LeftShare: 0.1}))
		require.NoError(t, tx.SetActive(b.person, false))
		return tx.AddMovedClock(b.at, b.at)
	})
	b.look(func(tx *Tx) error {
		s, err := tx.Shop()
		require.NoError(t, err)
		assert.Equal(t, "Better bench", s.Name)
		feed, err := tx.Feed()
		require.NoError(t, err)
		assert.Contains(t, feed, "Better")
		rules, err := tx.RackRules()
		require.NoError(t, err)
		assert.Contains(t, string(rules), "Better")
		bench, err := tx.Bench("")
		require.NoError(t, err)
		assert.Contains(t, string(bench), "Better")
		_, err = tx.Bench("2026-03-15")
		assert.ErrorIs(t, err, ErrNotFound, "what is usual is no day's own")
		spoons, err := tx.Spoons()
		require.NoError(t, err)
		require.Len(t, spoons, 1)
		assert.Equal(t, 12.0, spoons[0].Grams)
		lives, err := tx.Lives()
		require.NoError(t, err)
		assert.Equal(t, "tested", lives["r"].Life)
		latest, err := tx.Latest(Recipes)
		require.NoError(t, err)
		require.Len(t, latest, 2)
		assert.Equal(t, "Bar two", latest[0].Parent, "by the name it has now")
		history, err := tx.History(Recipes, "r")
		require.NoError(t, err)
		require.Len(t, history, 2)
		assert.Equal(t, 2, history[0].Number)
		for _, book := range Books() {
			_, err := tx.History(book, "nothing")
			assert.ErrorIs(t, err, ErrNotFound, book)
		}
		pours, err := tx.MoldPours("one", 5)
		require.NoError(t, err)
		require.Len(t, pours, 1)
		assert.Equal(t, -2.0, pours[0].OffMM)
		people, err := tx.People()
		require.NoError(t, err)
		assert.False(t, people[0].Active)
		moved, err := tx.MovedClock()
		require.NoError(t, err)
		assert.True(t, moved)
		return nil
	})
}

// A key records once, and drafts are replaced, dropped, and swept.
func TestKeysAndDraftsAreKept(t *testing.T) {
	b := openBooks(t)
	before := b.Version()
	form := map[string][]string{"name": {"Half a name"}}
	b.write(func(tx *Tx) error {
		_, _, used, err := tx.Key("key")
		require.NoError(t, err)
		assert.False(t, used)
		require.NoError(t, tx.UseKey("key", "print", "ref", b.at))
		assert.Error(t, tx.UseKey("key", "print", "ref", b.at), "never twice")
		require.NoError(t, tx.SaveDraft("recipe", "r", Draft{Form: form, Base: 1, Tab: "one", Updated: b.at}, b.device))
		require.NoError(t, tx.SaveDraft("recipe", "r", Draft{Form: form, Base: 2, Tab: "two", Updated: b.at}, b.device))
		return tx.SaveDraft("lot-note", "r", Draft{Form: form, Updated: b.at.Add(time.Hour)}, b.device)
	})
	assert.NotEqual(t, before, b.Version())
	b.look(func(tx *Tx) error {
		print, ref, used, err := tx.Key("key")
		require.NoError(t, err)
		assert.True(t, used)
		assert.Equal(t, []string{"print", "ref"}, []string{print, ref})
		c, err := tx.Draft("recipe", "r")
		require.NoError(t, err)
		assert.Equal(t, &Draft{Form: form, Base: 2, Tab: "two", Updated: b.at}, c)
		all, err := tx.DraftsOf("r")
		require.NoError(t, err)
		assert.Len(t, all, 2)
		return nil
	})
	assert.Error(t, b.Read(bg, func(tx *Tx) error { return tx.DropDraft("recipe", "r") }), "a reader writes nothing")
	b.write(func(tx *Tx) error { return tx.SweepDrafts(b.at.Add(time.Minute), 10) })
	b.look(func(tx *Tx) error {
		all, err := tx.DraftsOf("r")
		require.NoError(t, err)
		assert.Len(t, all, 1, "what was not typed in since is gone")
		return nil
	})
	b.write(func(tx *Tx) error { return tx.SweepDrafts(b.at, 0) })
	b.look(func(tx *Tx) error {
		all, err := tx.DraftsOf("r")
		require.NoError(t, err)
		assert.Empty(t, all)
		return nil
	})
}

func TestAFolderIsLookedIntoWithoutChangingIt(t *testing.T) {
	dir := t.TempDir()
	p, err := Peek(bg, dir)
	require.NoError(t, err)
	assert.Equal(t, Peeked{}, p)
	db, err := Open(bg, dir)
	require.NoError(t, err)
	_, err = Open(bg, dir)
	assert.ErrorIs(t, err, ErrLocked, "a second program stays out")
	require.NoError(t, db.Unsynced(bg, func() error {
		return db.Write(bg, func(tx *Tx) error {
			device, err := tx.Device("token", "tablet", time.Now())
			require.NoError(t, err)
			e, err := tx.AddEntry(Entry{Kind: "shop", Device: device})
			require.NoError(t, err)
			return tx.AddShop(
				e,
				Shop{
					Name:      "Bench",
					Zone:      "UTC",
					Units:     "metric",
					Currency:  "EUR",
					ScaleStep: 1,
					FillRule:  "computed",
					RiskyLoad: 60,
					Demo:      true,
				},
			)
		})
	}))
	require.NoError(t, db.Close())
	p, err = Peek(bg, dir)
	require.NoError(t, err)
	assert.Equal(t, Peeked{Exists: true, Founded: true, Demo: true}, p)

	raw, err := sql.Open("sqlite", "file:"+dir+"/"+File)
	require.NoError(t, err)
	_, err = raw.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, 1)`)
	require.NoError(t, err)
	require.NoError(t, raw.Close())
	_, err = Open(bg, dir)
	assert.ErrorIs(t, err, ErrNewer)
}

// A digest covers each record of its version's tables, up to its entry.
func TestADigestSaysEveryRecordUpToItsEntry(t *testing.T) {
	b := openBooks(t)
	var id, upTo int64
	b.write(func(tx *Tx) error {
		revision := b.recipe(tx, "r")
		require.NoError(t, tx.AddPlan(b.entry(tx, "plan"), "p", revision, []byte(`{}`)))
		id = b.lot(tx, 1, "p", "r", 1)
		require.NoError(t, tx.AddTick(b.entry(tx, "step"), id, lot.Tick{Step: "trace", Title: "Trace", Done: true}))
		require.NoError(t, tx.AddRetime(b.entry(tx, "retime"), id, lot.Retime{Of: 1, At: b.at, Said: "a flat battery"}))
		held := b.entry(tx, "hold")
		require.NoError(t, tx.AddHold(held, id, true, "smells odd"))
		require.NoError(t, tx.AddSigned(held, "pin"))
		require.NoError(t, tx.AddReshaped(b.entry(tx, "reshape"), id, lot.Reshaped{Source: lot.Scraps, Shape: lot.Petals, Made: 3, Grams: 9}))
		upTo = b.entry(tx, "pour")
		require.NoError(t, tx.AddPour(upTo, id, lot.Pour{Judged: &lot.Judged{Superfat: 5}}))
		require.NoError(t, tx.AddDigest(id, DigestVersion, "digest"))
		require.NoError(t, tx.AddRetime(b.entry(tx, "retime"), id, lot.Retime{Of: upTo, At: b.at, Said: "after the release"}))
		return tx.AddSample(b.entry(tx, "sample"), id, 100)
	})
	b.look(func(tx *Tx) error {
		version, digest, err := tx.Digest(id)
		require.NoError(t, err)
		assert.Equal(t, DigestVersion, version)
		assert.Equal(t, "digest", digest)
		lines := map[int]int{}
		for version := 1; version <= DigestVersion; version++ {
			require.NoError(t, tx.Digested(id, upTo, version, func(string) { lines[version]++ }))
		}
		assert.Equal(
			t,
			map[int]int{1: 4, 2: 4, 3: 4, 4: 6, 5: 7, 6: 8, 7: 9},
			lines,
			"lot, step, hold, pour; then the step's title and the judgement too; then the time that was put right; then the PIN; then "+
				"what was reshaped",
		)
		assert.Error(t, tx.Digested(id, upTo, DigestVersion+1, func(string) {}))
		_, _, err = tx.Digest(id + 1)
		assert.ErrorIs(t, err, ErrNotFound)
		return nil
	})
}
