package backup

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/demo"
	"ashshelf/shop"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

var (
	bg   = context.Background()
	noon = time.Date(2026, 3, 14, 12, 0, 0, 0, time.UTC)
)

var seeded = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "ashshelf-backup-test-")
	if err != nil {
		return "", err
	}
	return dir, demo.Make(bg, dir, noon)
})

func TestMain(m *testing.M) {
	code := m.Run()
	if dir, err := seeded(); err == nil {
		os.RemoveAll(dir)
	}
	os.Exit(code)
}

// aShop is a folder with the demo shop of its own.
func aShop(t testing.TB) string {
	t.Helper()
	from, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, os.DirFS(from)))
	return dir
}

// exported is the export of a folder without what differs by nature.
func exported(t testing.TB, dir string) string {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, Export(bg, dir, "test", noon, &b))
	return b.String()
}

func never() (string, error) { return "", errors.New("nobody was to be asked") }

func says(passphrase string) func() (string, error) {
	return func() (string, error) { return passphrase, nil }
}

func open(t testing.TB, dir string) *shop.Shop {
	t.Helper()
	s, err := shop.Open(bg, dir, func() time.Time { return noon })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func TestAShopComesBackFromItsCopyWhole(t *testing.T) {
	dir := aShop(t)
	before := exported(t, dir)
	file := filepath.Join(t.TempDir(), "copy.zip")
	open(t, dir) // it works while it is copied
	made, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	assert.NotEmpty(t, made.Manifest.Shop)
	assert.Positive(t, made.Manifest.LastLot)
	_, digest, err := digestOf(file)
	require.NoError(t, err)
	assert.Equal(t, digest, made.SHA256)

	home := filepath.Join(t.TempDir(), "another", "laptop")
	r, err := Restore(bg, file, home, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	assert.True(t, r.Assumed)
	assert.Empty(t, r.Aside, "nothing stood there")
	assert.Equal(t, before, exported(t, home))
	assert.False(t, Unfinished(home))

	again := open(t, home)
	lots, err := again.Lots(bg, store.LotsWhere{})
	require.NoError(t, err)
	sealed := 0
	for _, l := range lots {
		seal, err := again.Verify(bg, l)
		require.NoError(t, err)
		if seal.Digest != "" {
			sealed++
			assert.True(t, seal.Same, l.Code)
		}
	}
	assert.Positive(t, sealed, "seals are held to what came back")
}

func TestAnExportMakesAnEqualShop(t *testing.T) {
	dir := aShop(t)
	file := exported(t, dir)
	home := filepath.Join(t.TempDir(), "new")
	require.NoError(t, Import(bg, home, strings.NewReader(file)))
	assert.Equal(t, file, exported(t, home))
	_, err := CheckFolder(bg, home)
	require.NoError(t, err)
	s := open(t, home)
	lots, err := s.Lots(bg, store.LotsWhere{})
	require.NoError(t, err)
	for _, l := range lots {
		seal, err := s.Verify(bg, l)
		require.NoError(t, err)
		assert.True(t, seal.Digest == "" || seal.Same, l.Code)
	}
	// What lets somebody in stays at home.
	secret, err := s.Feed(bg)
	require.NoError(t, err)
	old := open(t, dir)
	mine, err := old.Feed(bg)
	require.NoError(t, err)
	if mine != "" {
		assert.NotContains(t, file, mine)
		assert.NotEqual(t, mine, secret)
	}
	assert.ErrorIs(t, Import(bg, home, strings.NewReader(file)), store.ErrNotEmpty, "only an empty folder is filled")
}

// Every table is in the export, follows from it, or is said to stay here.
func TestEveryTableIsExportedOrSaidToStay(t *testing.T) {
	dir := aShop(t)
	said := map[string]store.Use{}
	for _, table := range store.Tables() {
		said[table.Name] = table.Use
	}
	have, err := store.TableNames(bg, filepath.Join(dir, store.File))
	require.NoError(t, err)
	for _, name := range have {
		assert.NotEmpty(t, said[name], "say in store.Tables what becomes of %s when the shop is exported", name)
	}
	assert.Len(t, said, len(have), "and of no other")
	var doc struct{ Records map[string]json.RawMessage }
	require.NoError(t, json.Unmarshal([]byte(exported(t, dir)), &doc))
	assert.Greater(t, len(doc.Records), 40)
	for name := range doc.Records {
		assert.NotEqual(t, store.Local, said[name], name)
	}
}

func TestADamagedCopyChangesNothing(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	whole, err := os.ReadFile(file)
	require.NoError(t, err)
	home := aShop(t)
	before := tree(t, home)
	bad := filepath.Join(t.TempDir(), "bad.zip")
	for name, text := range map[string][]byte{
		"cut off":           whole[:len(whole)*2/3],
		"a letter":          []byte("Dear customer"),
		"empty":             nil,
		"a bit that turned": turned(whole, len(whole)/2),
		"another bit":       turned(whole, len(whole)/5),
		"and another":       turned(whole, len(whole)-2000),
	} {
		require.NoError(t, os.WriteFile(bad, text, 0o600))
		_, err := Restore(bg, bad, home, Restoring{Passphrase: never, Now: noon})
		assert.Error(t, err, name)
		assert.Equal(t, before, tree(t, home), "%s: nothing was touched", name)
	}
	_, err = Restore(bg, filepath.Join(t.TempDir(), "no such file"), home, Restoring{Passphrase: never, Now: noon})
	assert.ErrorIs(t, err, fs.ErrNotExist)
}

func turned(whole []byte, at int) []byte {
	out := bytes.Clone(whole)
	out[at] ^= 0x10
	return out
}

// tree is all files of a folder with their sizes, but for the lock.
func tree(t testing.TB, dir string) map[string]int64 {
	t.Helper()
	out := map[string]int64{}
	require.NoError(t, filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.Name() == "lock" || path == dir {
			return err
		}
		info, err := d.Info()
		if err == nil && !d.IsDir() {
			out[path] = info.Size()
		}
		return err
	}))
	return out
}

func TestWhatStoodThereIsPutAsideAndTheLotsGoOn(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	made, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	stood := exported(t, dir)
	last := made.Manifest.LastLot + 3
	for _, said := range []string{"nonsense", lot.Code(1)} {
		_, err = Restore(bg, file, dir, Restoring{Passphrase: never, LastLot: said, Now: noon})
		require.ErrorIs(t, err, ErrLastLot, said)
	}
	r, err := Restore(bg, file, dir, Restoring{Passphrase: never, LastLot: lot.Code(last), Now: noon})
	require.NoError(t, err)
	assert.False(t, r.Assumed)
	assert.Equal(t, stood, exported(t, r.Aside), "what stood there is whole")
	life, err := store.ReadLife(dir)
	require.NoError(t, err)
	assert.Equal(t, last, life.LastLot)
}

// Cut off between any two steps, a restoring is finished the next time, and the old shop is
// aside and whole.
func TestARestoringThatIsCutOffIsFinished(t *testing.T) {
	source := aShop(t)
	want := exported(t, source)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, source, "test", noon, file, nil)
	require.NoError(t, err)
	for steps := range len(ofAShop) + 1 {
		dir := aShop(t)
		stood := exported(t, dir)
		r, err := Stage(bg, file, dir, Restoring{Passphrase: never, Now: noon})
		require.NoError(t, err)
		for _, name := range ofAShop[:steps] {
			require.NoError(t, exchangeOne(dir, filepath.Join(dir, restoring), r.Aside, name))
		}
		require.True(t, Unfinished(dir))
		require.NoError(t, Finish(dir))
		require.NoError(t, Finish(dir), "a second time is none")
		assert.Equal(t, want, exported(t, dir), "after %d steps", steps)
		assert.Equal(t, stood, exported(t, r.Aside), "after %d steps", steps)
	}
}

func TestASealedCopyOpensWithItsPassphraseAlone(t *testing.T) {
	dir := aShop(t)
	seal, err := newSeal("four goats on a wall", 10)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "copy.zip")
	made, err := Make(bg, dir, "test", noon, file, seal)
	require.NoError(t, err)
	assert.True(t, made.Sealed)
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "SQLite format", "nothing of it is to be read")
	assert.NotContains(t, string(text), made.Manifest.Shop)
	for _, wrong := range []string{"", "four goats on a hill"} {
		_, err = CheckFile(bg, file, says(wrong))
		assert.ErrorIs(t, err, ErrPassphrase, wrong)
	}
	m, err := CheckFile(bg, file, says("four goats on a wall"))
	require.NoError(t, err)
	assert.Equal(t, made.Manifest, m)
	home := filepath.Join(t.TempDir(), "home")
	_, err = Restore(bg, file, home, Restoring{Passphrase: says("four goats on a wall"), Now: noon})
	require.NoError(t, err)
	assert.Equal(t, exported(t, dir), exported(t, home))
	for _, weak := range []string{"short", "eleven lett", strings.Repeat("x", 501), "twelve letters\x00"} {
		_, err := NewSeal(weak)
		assert.Error(t, err, weak)
	}
}

func FuzzAFileIsAShopOrRefused(f *testing.F) {
	f.Add([]byte(`{"format":"ashshelf.shop/1","schema":12,"records":{"person":[{"id":1,"name":"Ida","active":1}]},"photos":{}}`))
	f.Add([]byte(`{"format":"ashshelf.shop/1","schema":3,"records":{"entry":[{"id":1e400,"kind":{},"x":[true]}]},"photos":{"../x":"AA=="}}`))
	f.Add([]byte(`{"format":"ashshelf.shop/1","schema":99,"records":{}}`))
	f.Add([]byte(`{"records":[]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		home := filepath.Join(t.TempDir(), "home")
		if err := Import(bg, home, bytes.NewReader(text)); err != nil {
			assert.NoDirExists(t, home, "a file that is refused leaves nothing")
			return
		}
		_, err := CheckFolder(bg, home)
		assert.NoError(t, err)
	})
}
