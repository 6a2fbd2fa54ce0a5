package soap_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Lines that are longer are read sideways.
const (
	widestGo   = 140 // but for one long text in it
	widestPage = 160
)

var text = regexp.MustCompile("\"(?:[^\"\\\\]|\\\\.)*\"|`[^`]*`")

// width is how wide a line of Go is without the longest text in it, with margins of four.
func width(line string) int {
	longest := 0
	for _, t := range text.FindAllString(line, -1) {
		longest = max(longest, len([]rune(t)))
	}
	return len([]rune(strings.ReplaceAll(line, "\t", "    "))) - longest
}

// tooWide are the lines of a file that are read sideways. What goes on in a text of
// several lines is a text.
func tooWide(path, body string) (out []string) {
	within := false
	for line := range strings.SplitSeq(body, "\n") {
		begins := within
		if strings.Count(line, "`")%2 == 1 {
			within = !within
		}
		switch {
		case strings.HasSuffix(path, ".html"):
			if len([]rune(line)) > widestPage {
				out = append(out, line)
			}
		case !begins && !within && width(line) > widestGo:
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
	assert.Empty(t, tooWide("a.go", `x := "`+strings.Repeat("a", 300)+`"`))
	assert.Len(t, tooWide("a.html", strings.Repeat("a", 161)), 1)
}
