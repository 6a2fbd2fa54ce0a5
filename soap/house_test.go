package soap_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Lines that are longer are read sideways.
const (
	widestGo   = 140
	widestPage = 160
)

// tooWide are the lines of a file that are read sideways.
func tooWide(path, body string) (out []string) {
	widest := widestGo
	if strings.HasSuffix(path, ".html") {
		widest = widestPage
	}
	for line := range strings.SplitSeq(body, "\n") {
		if utf8.RuneCountInString(line) > widest {
			out = append(out, line)
		}
	}
	return out
}

// fullest is how many sources a folder may have before it is two.
const fullest = 16

// No line of Go or of a page is too wide, and no folder too full.
func TestNoLineIsReadSidewaysAndNoFolderIsTooFull(t *testing.T) {
	seen, sources := 0, map[string]int{}
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git") {
			return filepath.SkipDir
		}
		if ext := filepath.Ext(path); d.IsDir() || ext != ".go" && ext != ".html" || strings.HasSuffix(path, "_gen.go") {
			return nil
		}
		body, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		seen++
		if filepath.Ext(path) == ".go" && !strings.HasSuffix(path, "_test.go") {
			sources[filepath.Dir(path)]++
		}
		assert.Empty(t, tooWide(path, string(body)), path)
		return nil
	}))
	require.Greater(t, seen, 200)
	for dir, n := range sources {
		assert.LessOrEqual(t, n, fullest, "%s has %d source files: move a subject of them out", dir, n)
	}
	assert.Len(t, tooWide("a.go", "x := "+strings.Repeat("a+", 80)+"a"), 1, "what is too wide is found")
	assert.Len(t, tooWide("a.go", `x := "`+strings.Repeat("a", 300)+`"`), 1, "a long text is broken, too")
	assert.Len(t, tooWide("a.html", strings.Repeat("a", 161)), 1)
}
