package main

import (
	"context"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/store"
)

// A few of everything: what was acknowledged outlives kills, full disks, crowds and rubbish.
func TestTheShortCampaignLosesNothing(t *testing.T) {
	c, err := New(t.Context(), Short, uint64(time.Now().UnixNano()), false)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, c.Close()) })
	require.NoError(t, c.Run(t.Context(), ""))
	assert.GreaterOrEqual(t, c.Kills, Short.Writes+Short.Upgrades+Short.Demos)
	assert.Greater(t, c.Acknowledged, 50)
	assert.Greater(t, c.Memory, int64(10<<20))
}

// The count itself counts: one record is there, one is acknowledged and gone, one is there
// twice, one has its key and not its mark.
func TestTheCountFindsWhatIsLostAndWhatIsDoubled(t *testing.T) {
	dir := t.TempDir()
	blank, err := blankShop(context.Background(), time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.File), blank, 0o600))
	f, err := look(dir)
	require.NoError(t, err)
	defer f.Close()
	note := kinds[0]
	require.Equal(t, "note", note.name)
	of := func(mark string, acknowledged bool) *record {
		return &record{kind: note, mark: mark, form: url.Values{"key": {"key of " + mark}}, acknowledged: acknowledged}
	}
	write := func(mark string) {
		_, err := f.Exec(`INSERT INTO entry (kind, occurred_at, recorded_at, person_id, device_id) VALUES ('note', 1, 1, 1, 1)`)
		require.NoError(t, err)
		_, err = f.Exec(`INSERT INTO lot_note (entry_id, lot_id, kind, text) SELECT max(id), 1, 'note', ? FROM entry`, mark)
		require.NoError(t, err)
		_, err = f.Exec(`INSERT OR IGNORE INTO request_key (key, fingerprint, ref, at) VALUES (?, '', '', 1)`, "key of "+mark)
		require.NoError(t, err)
	}
	write("there")
	write("twice")
	write("twice")
	_, err = f.Exec(`INSERT INTO request_key (key, fingerprint, ref, at) VALUES ('key of half', '', '', 1)`)
	require.NoError(t, err)
	var tally Tally
	require.NoError(
		t,
		tally.judge(
			f,
			[]*record{of("there", true), of("gone", true), of("never answered", false), of("twice", true), of("half", false)},
		),
	)
	assert.Equal(t, []string{"note twice"}, tally.Doubled)
	require.Len(t, tally.Lost, 2)
	assert.Contains(t, tally.Lost[0], "gone")
	assert.Contains(t, tally.Lost[1], "half")
	c := Campaign{Tally: tally}
	assert.Error(t, c.verdict(""))
	assert.Error(t, (&Campaign{Tally: Tally{Memory: mostMemory + 1}}).verdict(""))
	assert.Error(t, (&Campaign{Tally: Tally{Kills: enoughForAll}}).verdict(""), "no kind was ever taken")
	assert.NoError(t, (&Campaign{}).verdict(""))

	// A photo that is on record and not on the disk, and balances that are off.
	require.NoError(t, f.sound())
	bars, _, err := f.ledgers()
	require.NoError(t, err)
	_, err = f.Exec(
		`UPDATE bar_balance SET bars = bars + 1 WHERE lot_id = (SELECT min(lot_id) FROM bar_balance) AND grade = (SELECT ` +
			`min(grade) FROM bar_balance)`,
	)
	require.NoError(t, err)
	more, _, err := f.ledgers()
	require.NoError(t, err)
	assert.Equal(t, bars+1, more)
	_, err = f.Exec(
		`INSERT INTO photo (entry_id, lot_id, file, width, height, caption) SELECT max(id), 1, ?, 1, 1, '' FROM entry`,
		"0000.jpg",
	)
	require.NoError(t, err)
	assert.ErrorContains(t, f.sound(), "photo")
}
