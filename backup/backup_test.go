package backup

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/demo"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/role"
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
	if err := demo.Make(bg, dir, noon); err != nil {
		return "", err
	}
	s, err := shop.Open(bg, dir, func() time.Time { return noon })
	if err != nil {
		return "", err
	}
	defer s.Close()
	lots, err := s.Lots(bg, store.LotsWhere{})
	if err != nil {
		return "", err
	}
	for i, size := range []int{40, 70} {
		var picture bytes.Buffer
		if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, size, size)), nil); err != nil {
			return "", err
		}
		if err := s.AddPhoto(bg, journal.Act{Person: 1, Device: "bench"}, lots[i].OID, &picture, "the top"); err != nil {
			return "", err
		}
	}
	return dir, nil
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
	_, err := Import(bg, home, strings.NewReader(file), Restoring{Now: noon})
	require.NoError(t, err)
	assert.Equal(t, file, exported(t, home))
	_, missing, err := CheckFolder(bg, home)
	require.NoError(t, err)
	assert.Empty(t, missing)
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
	_, err = Import(bg, home, strings.NewReader(file), Restoring{Now: noon})
	assert.ErrorIs(t, err, store.ErrNotEmpty, "only an empty folder is filled")
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
	} {
		require.NoError(t, os.WriteFile(bad, text, 0o600))
		_, err := Restore(bg, bad, home, Restoring{Passphrase: never, Now: noon})
		assert.Error(t, err, name)
		assert.Equal(t, before, tree(t, home), "%s: nothing was touched", name)
	}
	// Of any bit that turns, what is read is the same, or it is refused.
	made, err := CheckFile(bg, file, never)
	require.NoError(t, err)
	refused := 0
	for at := 7; at < len(whole); at += len(whole) / 24 {
		require.NoError(t, os.WriteFile(bad, turned(whole, at), 0o600))
		m, err := CheckFile(bg, bad, never)
		if err != nil {
			refused++
			continue
		}
		assert.Equal(t, made, m, "bit at %d", at)
	}
	assert.Greater(t, refused, 18)
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

// Changes under way to the old records stay beside them: the engine would take them for changes to the
// restored ones.
func TestNothingOfTheOldRecordsStaysBesideTheRestoredOnes(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	r, err := Stage(bg, file, dir, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	for _, name := range []string{"-journal", "-wal", "-shm"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, store.File+name), []byte("of the old ones"), 0o600))
	}
	require.NoError(t, Finish(dir))
	for _, name := range []string{"-journal", "-wal", "-shm"} {
		assert.NoFileExists(t, filepath.Join(dir, store.File+name))
		assert.FileExists(t, filepath.Join(r.Aside, store.File+name))
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
	f.Add([]byte(`{"format":"ashshelf.shop/1","exported_at":"2026-03-14T12:00:00Z","schema":12,` +
		`"records":{"person":[{"id":1,"name":"Ida","active":1}]},"photos":{}}`))
	f.Add([]byte(`{"format":"ashshelf.shop/1","exported_at":"2026-03-14T12:00:00Z",` +
		`"schema":3,"records":{"entry":[{"id":1e400,"kind":{},"x":[true]}]},"photos":{"../x":"AA=="}}`))
	f.Add([]byte(`{"format":"ashshelf.shop/1","exported_at":"2026-03-14T12:00:00Z","schema":99,"records":{}}`))
	f.Add([]byte(`{"records":[]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		home := filepath.Join(t.TempDir(), "home")
		if _, err := Import(bg, home, bytes.NewReader(text), Restoring{Now: noon}); err != nil {
			left, err := os.ReadDir(filepath.Dir(home))
			assert.NoError(t, err)
			assert.Empty(t, left, "a file that is refused leaves nothing")
			return
		}
		_, _, err := CheckFolder(bg, home)
		assert.NoError(t, err)
	})
}

func importText(home, text string) error {
	_, err := Import(bg, home, strings.NewReader(text), Restoring{Now: noon})
	return err
}

// A picture that is gone is told, and keeps nobody from a copy of the rest.
func TestAMissingPictureIsToldAndTheRestIsCopied(t *testing.T) {
	dir := aShop(t)
	in, missing, err := CheckFolder(bg, dir)
	require.NoError(t, err)
	require.Empty(t, missing)
	require.Len(t, in.Photos, 2)
	require.NoError(t, os.Remove(filepath.Join(dir, PhotoFolder, in.Photos[0])))
	file := filepath.Join(t.TempDir(), "copy.zip")
	made, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	assert.Equal(t, in.Photos[:1], made.Manifest.Missing)
	home := filepath.Join(t.TempDir(), "home")
	_, err = Restore(bg, file, home, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	assert.Equal(t, exported(t, dir), exported(t, home))
	// One that is another than its name says is no picture of the shop.
	require.NoError(t, os.WriteFile(filepath.Join(dir, PhotoFolder, in.Photos[1]), []byte("x"), 0o600))
	_, _, err = CheckFolder(bg, dir)
	assert.ErrorIs(t, err, store.ErrDamaged)
}

// While somebody writes all the time, a copy is of one moment: nobody in it is missing who
// was there before another.
func TestACopyIsOfOneMomentWhileTheShopIsWrittenTo(t *testing.T) {
	dir := aShop(t)
	s := open(t, dir)
	stop, done := make(chan struct{}), make(chan int)
	go func() {
		n := 0
		for ; ; n++ {
			select {
			case <-stop:
				done <- n
				return
			default:
			}
			if err := s.AddPerson(bg, journal.Act{Person: 1, Device: "bench"}, fmt.Sprintf("Helper %04d", n), role.Helper); err != nil {
				t.Error(err)
			}
		}
	}()
	for n := range 4 {
		file := filepath.Join(t.TempDir(), "copy.zip")
		_, err := Make(bg, dir, "test", noon, file, nil)
		require.NoError(t, err)
		home := filepath.Join(t.TempDir(), "home")
		_, err = Restore(bg, file, home, Restoring{Passphrase: never, Now: noon})
		require.NoError(t, err)
		settings, err := open(t, home).Settings(bg)
		require.NoError(t, err)
		helpers := 0
		for _, p := range settings.People { // by name
			if strings.HasPrefix(p.Name, "Helper") {
				require.Equal(t, fmt.Sprintf("Helper %04d", helpers), p.Name, "copy %d", n)
				helpers++
			}
		}
	}
	close(stop)
	assert.Greater(t, <-done, 20)
}

// Restoring again, in the same second or over one that was cut off, puts aside what stands
// there and overwrites nothing that was put aside before.
func TestRestoringAgainOverwritesNothingThatWasPutAside(t *testing.T) {
	source, dir := aShop(t), aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, source, "test", noon, file, nil)
	require.NoError(t, err)
	s, err := shop.Open(bg, dir, func() time.Time { return noon })
	require.NoError(t, err)
	require.NoError(t, s.AddPerson(bg, journal.Act{Person: 1, Device: "bench"}, "Only here", role.Maker))
	require.NoError(t, s.Close())
	stood := exported(t, dir)

	r, err := Stage(bg, file, dir, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	for _, name := range ofAShop[:3] { // cut off half way
		require.NoError(t, exchangeOne(dir, filepath.Join(dir, restoring), r.Aside, name))
	}
	asides := map[string]bool{r.Aside: true}
	for range 2 {
		again, err := Restore(bg, file, dir, Restoring{Passphrase: never, Now: noon})
		require.NoError(t, err)
		require.False(t, asides[again.Aside], "%s is taken", again.Aside)
		asides[again.Aside] = true
	}
	assert.Equal(t, stood, exported(t, r.Aside))
	assert.Equal(t, exported(t, source), exported(t, dir))
}

func TestAnExportKeepsToItsPublishedSchema(t *testing.T) {
	text, err := os.ReadFile("../exchange/schema/shop-1.schema.json")
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("urn:ashshelf:shop-1", doc))
	schema, err := c.Compile("urn:ashshelf:shop-1")
	require.NoError(t, err)
	file, err := jsonschema.UnmarshalJSON(strings.NewReader(exported(t, aShop(t))))
	require.NoError(t, err)
	require.NoError(t, schema.Validate(file))
	for name, change := range map[string]func(records map[string]any){
		"a kind that there is not": func(r map[string]any) { r["secrets"] = []any{} },
		"a column that there is not": func(r map[string]any) {
			r["person"].([]any)[0].(map[string]any)["pin"] = "1234"
		},
		"a column that is missing": func(r map[string]any) { delete(r["entry"].([]any)[0].(map[string]any), "kind") },
	} {
		file, err := jsonschema.UnmarshalJSON(strings.NewReader(exported(t, aShop(t))))
		require.NoError(t, err)
		change(file.(map[string]any)["records"].(map[string]any))
		require.Error(t, schema.Validate(file), name)
	}
}

// What was held, or called back, after the copy is not in it: until somebody has looked,
// nothing is released and no bars leave, after a restart as well.
func TestNothingLeavesAShopThatCameBackBeforeSomebodyLooked(t *testing.T) {
	dir := aShop(t)
	text := exported(t, dir)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	restored, imported := filepath.Join(t.TempDir(), "restored"), filepath.Join(t.TempDir(), "imported")
	_, err = Restore(bg, file, restored, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	require.NoError(t, importText(imported, text))
	for _, home := range []string{restored, imported} {
		s, err := shop.Open(bg, home, func() time.Time { return noon })
		require.NoError(t, err)
		act := func(l *lot.Lot) journal.Act { return journal.Act{Person: 1, Device: "bench", Seen: l.LastEntry} }
		list, err := s.Lots(bg, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}})
		require.NoError(t, err)
		var gate, ready *lot.Lot
		for _, l := range list {
			if g := l.Gate(noon); g.MayRelease && l.Release == nil {
				gate = l
			} else if l.Release != nil && l.InStock() > 0 && l.KeptFromSale() == "" && len(l.Held()) == 0 {
				ready = l
			}
		}
		require.NotNil(t, gate)
		require.NotNil(t, ready)
		sell := func() error {
			return s.MoveBars(bg, act(ready), ready.OID, ledger.Kind{Grade: ledger.First}, ledger.Sold, 1, "")
		}
		var not *lot.NotNow
		require.ErrorAs(t, s.ReleaseLot(bg, act(gate), gate.OID, ""), &not)
		require.ErrorAs(t, sell(), &not)
		assert.Contains(t, not.Why, "Look through your papers")
		require.ErrorIs(t, s.CloseGap(bg, journal.Act{Person: 99, Device: "bench"}), journal.ErrNobody)
		require.NoError(t, s.Close())
		s = open(t, home)
		require.ErrorAs(t, sell(), &not, "a restart closes no gap")
		require.NoError(t, s.CloseGap(bg, journal.Act{Person: 1, Device: "bench"}))
		require.NoError(t, s.ReleaseLot(bg, act(gate), gate.OID, ""))
		require.NoError(t, sell())
		life, err := store.ReadLife(home)
		require.NoError(t, err)
		assert.False(t, life.Gap())
	}
}

// The shop that is put aside knows lots that the copy does not: their codes are not given out
// again, whatever is said or not.
func TestLotsOfTheShopThatIsPutAsideCountAsGivenOut(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	made, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	r, err := Restore(bg, file, dir, Restoring{Passphrase: never, LastLot: lot.Code(made.Manifest.LastLot + 5), Now: noon})
	require.NoError(t, err)
	r, err = Restore(bg, file, dir, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	assert.Equal(t, made.Manifest.LastLot+5, r.LastLot)
}

// A name that was blanked after a copy was made does not come back with the copy.
func TestABlankedNameDoesNotComeBackWithACopy(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "copy.zip")
	_, err := Make(bg, dir, "test", noon, file, nil)
	require.NoError(t, err)
	named := func(s *shop.Shop) (out []string) {
		buyers, err := s.Buyers(bg)
		require.NoError(t, err)
		for _, b := range buyers {
			out = append(out, b.Name)
		}
		return out
	}
	s, err := shop.Open(bg, dir, func() time.Time { return noon })
	require.NoError(t, err)
	require.Equal(t, []string{"The Lantern House"}, named(s))
	buyers, err := s.Buyers(bg)
	require.NoError(t, err)
	require.NoError(t, s.Blank(bg, journal.Act{Person: 1, Device: "till", DeviceLabel: "till", Key: "blank"}, buyers[0].Key, "asked"))
	require.NoError(t, s.Close())

	_, err = Restore(bg, file, dir, Restoring{Passphrase: never, Now: noon})
	require.NoError(t, err)
	assert.Equal(t, []string{""}, named(open(t, dir)))
}
