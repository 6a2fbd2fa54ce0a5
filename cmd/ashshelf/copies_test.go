package main

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/backup"
	"ashshelf/demo"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

var seeded = sync.OnceValues(func() ([]byte, error) {
	return demo.Records(context.Background(), time.Date(2026, 3, 14, 12, 0, 0, 0, time.UTC))
})

// aShop is a folder with the records of the demo.
func aShop(t *testing.T) string {
	t.Helper()
	records, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.File), records, 0o600))
	return dir
}

// said runs a command and returns what it said.
func said(t *testing.T, run func([]string, told) int, args ...string) (code int, out string) {
	t.Helper()
	var b bytes.Buffer
	code = run(args, told{os.Stdin, &b, &b})
	return code, b.String()
}

// The way that the README tells, by commands alone.
func TestAShopComesBackByCommands(t *testing.T) {
	dir, home, second := aShop(t), filepath.Join(t.TempDir(), "home"), filepath.Join(t.TempDir(), "second")
	to := t.TempDir()
	file, shop, again := filepath.Join(to, "shop.zip"), filepath.Join(to, "shop.json"), filepath.Join(to, "again.json")
	code, out := said(t, runBackup, "-data", dir, "-out", file)
	require.Zero(t, code)
	assert.Contains(t, out, "13 lots, not sealed, looked through")
	code, out = said(t, runCheck, "-in", file)
	require.Zero(t, code)
	assert.Contains(t, out, "is whole: Quernhollow Soap, 13 lots, newest "+lot.Code(13))
	code, out = said(t, runCheck, "-data", dir)
	require.Zero(t, code)
	assert.Contains(t, out, "is whole")

	code, out = said(t, runRestore, "-in", file, "-data", home)
	require.Zero(t, code)
	assert.Contains(t, out, "The next lot is "+lot.Code(14)+"; if that code is on your papers", "what was assumed is said")
	code, out = said(t, runRestore, "-in", file, "-data", home, "-last-lot", lot.Code(17))
	require.Zero(t, code)
	assert.Contains(t, out, "What stood there is in")
	assert.Contains(t, out, "The next lot is "+lot.Code(18))

	code, out = said(t, runExport, "-data", home, "-out", shop)
	require.Zero(t, code, out)
	code, out = said(t, runImport, "-data", second, "-in", shop)
	require.Zero(t, code, out)
	assert.Contains(t, out, "Quernhollow Soap as of")
	assert.Contains(t, out, "no bars leave before somebody")
	code, _ = said(t, runExport, "-data", second, "-out", again)
	require.Zero(t, code)
	one, err := os.ReadFile(shop)
	require.NoError(t, err)
	two, err := os.ReadFile(again)
	require.NoError(t, err)
	but := regexp.MustCompile(`"exported_at": "[^"]*"`)
	assert.Equal(t, but.ReplaceAllString(string(one), ""), but.ReplaceAllString(string(two), ""))
}

func TestWhatCannotBeRestoredIsSaidAndNothingChanged(t *testing.T) {
	dir, bad := t.TempDir(), filepath.Join(t.TempDir(), "letter.zip")
	require.NoError(t, os.WriteFile(bad, []byte("Dear customer"), 0o600))
	for _, run := range []struct {
		command func([]string, told) int
		args    []string
	}{
		{runRestore, []string{"-in", bad, "-data", dir}},
		{runRestore, []string{"-data", dir}},
		{runRestore, []string{bad, dir}},
		{runCheck, []string{"-in", bad}},
		{runCheck, []string{"-data", dir}},
		{runCheck, nil},
		{runBackup, []string{"-data", dir, "-out", filepath.Join(dir, "copy.zip")}},
		{runBackup, []string{"-data", dir}},
		{runExport, []string{"-data", dir, "-out", filepath.Join(dir, "shop.json")}},
		{runImport, []string{"-data", filepath.Join(dir, "new"), "-in", bad}},
		{runImport, []string{"-in", bad}},
	} {
		code, _ := said(t, run.command, run.args...)
		assert.Equal(t, 1, code, "%v", run.args)
	}
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	for _, f := range left {
		assert.Equal(t, "lock", f.Name(), "nothing is left behind")
	}
}

func TestNoFileOfSomebodyElseIsOverwritten(t *testing.T) {
	dir, thesis := aShop(t), filepath.Join(t.TempDir(), "thesis")
	require.NoError(t, os.WriteFile(thesis, []byte("Chapter one"), 0o600))
	for _, run := range []func([]string, told) int{runBackup, runExport} {
		code, _ := said(t, run, "-data", dir, "-out", thesis)
		assert.Equal(t, 1, code)
	}
	text, err := os.ReadFile(thesis)
	require.NoError(t, err)
	assert.Equal(t, "Chapter one", string(text))
	for name, run := range map[string]func([]string, told) int{"copy.zip": runBackup, "shop.json": runExport} {
		for range 2 { // one's own is made anew
			code, out := said(t, run, "-data", dir, "-out", filepath.Join(dir, name))
			assert.Zero(t, code, out)
		}
	}
}

func TestASealedCopyAsksForItsPassphrase(t *testing.T) {
	dir := aShop(t)
	p := backup.Usual()
	var err error
	p.Seal, err = backup.NewSeal("four goats on a wall")
	require.NoError(t, err)
	require.NoError(t, backup.WritePlan(dir, p))
	file := filepath.Join(t.TempDir(), "copy.zip")
	code, out := said(t, runBackup, "-data", dir, "-out", file)
	require.Zero(t, code)
	assert.Contains(t, out, "sealed")
	pass := filepath.Join(t.TempDir(), "pass")
	for text, want := range map[string]int{"four goats on a wall\n": 0, "four goats on a wall\r\nand a second line": 0, "wrong": 1, "": 1} {
		require.NoError(t, os.WriteFile(pass, []byte(text), 0o600))
		code, _ := said(t, runCheck, "-in", file, "-passphrase-file", pass)
		assert.Equal(t, want, code, "%q", strings.TrimSpace(text))
	}
	code, _ = said(t, runBackup, "-data", dir, "-out", file, "-plain")
	require.Zero(t, code)
	assert.False(t, backup.Sealed(file))
}
