package backup

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/archive/past"
	"ashshelf/soap/caution"
	"ashshelf/store"
)

func TestCopiesAreMadeDailyAndOldOnesGo(t *testing.T) {
	dir, stick := aShop(t), t.TempDir()
	p := Usual()
	p.Folder, p.Days, p.Weeks, p.Months = stick, 2, 1, 1
	require.NoError(t, WritePlan(dir, p))
	foreign := filepath.Join(stick, "ashshelf-2020-01-01-000000.zip")
	require.NoError(t, os.WriteFile(foreign, []byte("somebody else's"), 0o600))
	at := noon
	for range 5 {
		p, err := ReadPlan(dir)
		require.NoError(t, err)
		require.True(t, p.Due(at))
		_, err = Keep(bg, dir, "test", at)
		require.NoError(t, err)
		p, err = ReadPlan(dir)
		require.NoError(t, err)
		require.False(t, p.Due(at.Add(23*time.Hour)))
		at = at.Add(24 * time.Hour)
	}
	p, err := ReadPlan(dir)
	require.NoError(t, err)
	var there []string
	for _, one := range p.Made {
		assert.FileExists(t, one.File)
		there = append(there, one.Made.Format(time.DateOnly))
	}
	assert.Equal(t, []string{"2026-03-17", "2026-03-18"}, there, "two days, and the week and the month are in them")
	files, err := filepath.Glob(filepath.Join(stick, "*"))
	require.NoError(t, err)
	assert.Len(t, files, 3, "and what is not the shop's own stays")
	assert.FileExists(t, foreign)
}

// Whatever was made when, the newest is kept, and no more than the plan says.
func TestThePlanKeepsTheNewestAndNoMoreThanItSays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := Plan{
			Days: rapid.IntRange(1, 10).Draw(t, "days"), Weeks: rapid.IntRange(0, 6).Draw(t, "weeks"),
			Months: rapid.IntRange(0, 6).Draw(t, "months"),
		}
		var made []Kept
		at := noon
		for range rapid.IntRange(1, 60).Draw(t, "copies") {
			at = at.Add(time.Duration(rapid.IntRange(1, 200).Draw(t, "hours")) * time.Hour)
			made = append(made, Kept{Made: at})
		}
		keep := p.keeps(made)
		require.True(t, keep[len(made)-1], "the newest")
		require.LessOrEqual(t, len(keep), p.Days+p.Weeks+p.Months)
		days := map[string]bool{}
		for i := range made {
			day := made[i].Made.Format(time.DateOnly)
			require.False(t, days[day] && keep[i], "one a day")
			days[day] = days[day] || keep[i]
		}
	})
}

func TestTheShelfSaysWhatIsWrongWithTheCopies(t *testing.T) {
	stick := t.TempDir()
	file := filepath.Join(stick, "one.zip")
	require.NoError(t, os.WriteFile(file, []byte("x"), 0o600))
	one := []Kept{{File: file, Made: noon, Bytes: 1}}
	for name, c := range map[string]struct {
		plan Plan
		now  time.Time
		lots int
		says string
	}{
		"nothing to lose":      {Plan{Remind: 3}, noon, 0, ""},
		"none at all":          {Plan{Remind: 3}, noon, 1, "goes with it"},
		"a folder, no copy":    {Plan{Remind: 3, Folder: stick}, noon, 1, "no copy"},
		"a good one":           {Plan{Remind: 3, Folder: stick, Made: one}, noon.Add(71 * time.Hour), 1, ""},
		"one by hand":          {Plan{Remind: 3, Made: one}, noon.Add(time.Hour), 1, ""},
		"too old":              {Plan{Remind: 3, Folder: stick, Made: one}, noon.Add(72 * time.Hour), 1, "3 days old"},
		"the stick is missing": {Plan{Remind: 3, Folder: stick + "x", Made: one}, noon.Add(72 * time.Hour), 1, "plugged in"},
		"the last one failed":  {Plan{Remind: 3, Folder: stick, Made: one, Failed: "no room"}, noon, 1, "no room"},
		"it was taken away":    {Plan{Remind: 3, Folder: stick, Made: []Kept{{File: file + "x", Made: noon}}}, noon, 1, "no copy"},
		"it was cut off on it": {Plan{Remind: 3, Folder: stick, Made: []Kept{{File: file, Made: noon, Bytes: 9}}}, noon, 1, "no copy"},
	} {
		got := c.plan.Trouble(c.now, c.lots)
		if c.says == "" {
			assert.Nil(t, got, name)
			continue
		}
		require.NotNil(t, got, name)
		assert.Equal(t, caution.Warn, got.Level, name)
		assert.Contains(t, got.Text(), c.says, name)
	}
}

func TestAPlanThatCannotBeIsRefused(t *testing.T) {
	dir := aShop(t)
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	for folder, says := range map[string]string{
		"stick":                      "whole path",
		filepath.Join(dir, "copies"): "no such folder",
		file:                         "that is a file",
		dir:                          "beside them",
	} {
		p := Usual()
		p.Folder = folder
		assert.Contains(t, p.Check(dir).At("folder"), says, folder)
	}
	p := Plan{Days: 0, Weeks: -1, Months: 1000, Remind: 0}
	assert.Len(t, p.Check(dir), 4)
	assert.Empty(t, Usual().Check(dir))
}

// A failed copy is noted and told, and the ones that are there stay.
func TestAStickThatIsGoneIsToldAndLosesNothing(t *testing.T) {
	dir, stick := aShop(t), filepath.Join(t.TempDir(), "stick")
	require.NoError(t, os.Mkdir(stick, 0o700))
	p := Usual()
	p.Folder = stick
	require.NoError(t, WritePlan(dir, p))
	_, err := Keep(bg, dir, "test", noon)
	require.NoError(t, err)
	require.NoError(t, os.Rename(stick, stick+"-unplugged"))
	_, err = Keep(bg, dir, "test", noon.Add(25*time.Hour))
	require.Error(t, err)
	p, err = ReadPlan(dir)
	require.NoError(t, err)
	assert.Contains(t, p.Failed, "plugged in")
	assert.Len(t, p.Made, 1)
	left, err := filepath.Glob(filepath.Join(dir, WorkFolder+"*"))
	require.NoError(t, err)
	assert.Empty(t, left)
}

// A copy of any program that ever was comes back and goes on; so does its export.
func TestACopyOfThePastComesBackAndGoesOn(t *testing.T) {
	for schema := 1; schema <= past.Newest; schema++ {
		t.Run(fmt.Sprint("schema ", schema), func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			require.NoError(t, past.Unpack(schema, dir, store.File))
			file := filepath.Join(t.TempDir(), "copy.zip")
			_, err := Make(bg, dir, "test", noon, file, nil)
			require.NoError(t, err, "without upgrading what it copies")
			in, err := store.Inspect(bg, filepath.Join(dir, store.File))
			require.NoError(t, err)
			require.EqualValues(t, schema, in.Schema)
			home := filepath.Join(t.TempDir(), "home")
			_, err = Restore(bg, file, home, Restoring{Passphrase: never, Now: noon})
			require.NoError(t, err)
			text := exported(t, home)
			require.Equal(t, exported(t, dir), text)
			second := filepath.Join(t.TempDir(), "second")
			require.NoError(t, importText(second, text))
			require.Equal(t, text, exported(t, second))
			open(t, home)
			open(t, second)
			newest, err := store.Inspect(bg, filepath.Join(second, store.File))
			require.NoError(t, err)
			assert.EqualValues(t, past.Newest, newest.Schema)
		})
	}
}

func TestACopyIsMadeBeforeAnUpgrade(t *testing.T) {
	dir, stick := t.TempDir(), t.TempDir()
	require.NoError(t, past.Unpack(past.Newest-1, dir, store.File))
	require.NoError(t, BeforeUpgrade(bg, dir, "test", noon), "without a folder there is none")
	p := Usual()
	p.Folder = stick
	require.NoError(t, WritePlan(dir, p))
	require.NoError(t, BeforeUpgrade(bg, dir, "test", noon))
	files, err := filepath.Glob(filepath.Join(stick, "*.zip"))
	require.NoError(t, err)
	require.Len(t, files, 1)
	m, err := CheckFile(bg, files[0], never)
	require.NoError(t, err)
	require.EqualValues(t, past.Newest-1, m.Schema)
	open(t, dir) // it is up to date from here on
	require.NoError(t, BeforeUpgrade(bg, dir, "test", noon.Add(time.Hour)))
	files, err = filepath.Glob(filepath.Join(stick, "*.zip"))
	require.NoError(t, err)
	assert.Len(t, files, 1, "what is up to date needs none")
}

// A button that is pressed twice within a second makes two copies, of which the newest stays.
func TestTwoCopiesWithinASecondAreTwo(t *testing.T) {
	dir, stick := aShop(t), t.TempDir()
	p := Usual()
	p.Folder = stick
	require.NoError(t, SetPlan(dir, p))
	one, err := Keep(bg, dir, "test", noon)
	require.NoError(t, err)
	two, err := Keep(bg, dir, "test", noon)
	require.NoError(t, err)
	assert.NotEqual(t, one.File, two.File)
	p, err = ReadPlan(dir)
	require.NoError(t, err)
	newest, ok := p.newest()
	require.True(t, ok, "it lies there")
	assert.Equal(t, two.File, newest.File)
	_, err = CheckFile(bg, two.File, never)
	require.NoError(t, err)
}

// The shelf looks and tries nothing, wherever the program was started.
func TestLookingAtTheCopiesWritesNothing(t *testing.T) {
	stick := t.TempDir()
	t.Chdir(filepath.Dir(stick))
	require.NoError(t, os.Chmod(stick, 0o500))
	t.Cleanup(func() { assert.NoError(t, os.Chmod(stick, 0o700)) })
	p := Plan{Remind: 1, Folder: stick}
	assert.Contains(t, p.Trouble(noon, 1).Reason, "no copy of this shop")
}

// A copy that is made while somebody changes the plan is noted all the same.
func TestChangingThePlanForgetsNoCopy(t *testing.T) {
	dir, stick := aShop(t), t.TempDir()
	p := Usual()
	p.Folder = stick
	require.NoError(t, SetPlan(dir, p))
	done := make(chan error)
	go func() {
		_, err := Keep(bg, dir, "test", noon)
		done <- err
	}()
	for n := range 40 {
		p.Remind = 1 + n
		require.NoError(t, SetPlan(dir, p))
	}
	require.NoError(t, <-done)
	p, err := ReadPlan(dir)
	require.NoError(t, err)
	assert.Len(t, p.Made, 1)
}
