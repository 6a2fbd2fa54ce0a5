package shop_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/journal"
	"ashshelf/store"
)

// newOf is the n-th recipe that is being typed and was never kept.
func newOf(n int) journal.Draft {
	letters := strings.Repeat("a", 20)
	for range 6 {
		letters += string(rune('a' + n%26))
		n /= 26
	}
	return journal.OfNew(store.Recipes, letters)
}

// What was recorded is not offered again: its draft ends in the same transaction, and
// only there.
func TestADraftEndsWithTheRecordItBecomes(t *testing.T) {
	b := open(t)
	oid := b.started()
	d := journal.OfLot("note", oid)
	form := map[string][]string{"note": {"smells of figs"}}
	_, err := b.SaveDraft(ctx, b.act(), d, "tab", 0, form)
	require.NoError(t, err)
	a := b.on(oid)
	a.Draft = d
	assert.Error(t, b.AddNote(ctx, a, oid, false, ""), "nothing is no note")
	kept, err := b.Draft(ctx, d)
	require.NoError(t, err)
	require.NotNil(t, kept, "what was refused is still typed")
	require.NoError(t, b.AddNote(ctx, a, oid, false, "smells of figs"))
	kept, err = b.Draft(ctx, d)
	require.NoError(t, err)
	assert.Nil(t, kept)

	_, err = b.SaveDraft(ctx, a, d, "tab", 0, form)
	require.NoError(t, err)
	kept, err = b.Draft(ctx, d)
	require.NoError(t, err)
	assert.Nil(t, kept, "what was typed on that page and comes late is recorded already")

	_, err = b.SaveDraft(ctx, b.act(), d, "tab", 0, form)
	require.NoError(t, err)
	require.NoError(t, b.AddNote(ctx, a, oid, false, "smells of figs"), "the same press again")
	kept, err = b.Draft(ctx, d)
	require.NoError(t, err)
	assert.NotNil(t, kept, "records nothing, and ends nothing that was typed since")
}

func TestADraftOfWhatIsNotThereIsRefused(t *testing.T) {
	b := open(t)
	for _, d := range []journal.Draft{
		journal.OfLot("note", "nowhere"), journal.OfLot("", b.started()), journal.OfLot("a note", b.started()), journal.OfBook(store.Recipes,
			"nowhere"), journal.OfBook(store.Molds, "new-"),
		journal.OfNew(store.Scents, "short"), journal.OfOne("nonsense"), {Kind: "plan", Ref: "elsewhere"}, {},
	} {
		_, err := b.SaveDraft(ctx, b.act(), d, "tab", 0, map[string][]string{"a": {"b"}})
		assert.ErrorIs(t, err, store.ErrNotFound, "%+v", d)
	}
	for _, d := range []journal.Draft{journal.OfOne("plan"), journal.OfOne("heat"), journal.OfRound("tablet"), newOf(1)} {
		_, err := b.SaveDraft(ctx, b.act(), d, "tab", 0, nil)
		assert.NoError(t, err, "%+v", d)
	}
	_, err := b.SaveDraft(ctx, b.act(), newOf(1), "tab", 0, map[string][]string{"notes": {strings.Repeat("soap ", 60_000)}})
	assert.ErrorIs(t, err, journal.ErrDraftTooLong)
}

// Drafts that nobody came back to go; the newest stay.
func TestDraftsAreBoundedAndSwept(t *testing.T) {
	b := open(t)
	for n := range 410 {
		b.now = b.now.Add(time.Second)
		_, err := b.SaveDraft(ctx, b.act(), newOf(n), "tab", 0, map[string][]string{"name": {fmt.Sprint(n)}})
		require.NoError(t, err)
	}
	there := func(n int) bool {
		c, err := b.Draft(ctx, newOf(n))
		require.NoError(t, err)
		return c != nil
	}
	assert.False(t, there(0))
	assert.False(t, there(9))
	assert.True(t, there(10))
	assert.True(t, there(409))
	b.now = b.now.Add(200 * 24 * time.Hour)
	_, err := b.SaveDraft(ctx, b.act(), newOf(500), "tab", 0, nil)
	require.NoError(t, err)
	assert.False(t, there(409))
	assert.True(t, there(500))
}
