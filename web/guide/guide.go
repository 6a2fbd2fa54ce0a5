package guide

import (
	"bytes"
	"fmt"
	"html/template"
	"net/http"
	"strings"
	"sync"

	"github.com/go-chi/chi/v5"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	"github.com/yuin/goldmark/parser"
	"github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"

	"ashshelf/docs"
	"ashshelf/store"
	"ashshelf/web/page"
)

// first is the page of the guide to begin with.
const first = "using"

// chapter is a page of the guide.
type chapter struct {
	Name, Title string
	Body        template.HTML
	Sections    []section
}

// section is a part of a page under a heading of its own.
type section struct {
	Page, ID, Title string
	lines           []string // its paragraphs and list items, as plain text
}

// chapters are all pages of the guide, in the order in which one reads them. They come out of the
// program itself, so that one which cannot be read is a fault of the program.
var chapters = sync.OnceValue(func() []chapter {
	var out []chapter
	for _, name := range []string{first, "judgement", "record", "devices", "security"} {
		source, err := docs.Guide.ReadFile(name + ".md")
		if err != nil {
			panic(err) // it is embedded
		}
		made, err := chapterOf(name, source)
		if err != nil {
			panic(err)
		}
		out = append(out, made)
	}
	return out
})

// chapterOf makes a page of its source. Links between pages lead within the guide; one that leads
// to a file of the sources stays as text.
func chapterOf(name string, source []byte) (chapter, error) {
	md := goldmark.New(
		goldmark.WithExtensions(extension.Table),
		goldmark.WithParserOptions(parser.WithAutoHeadingID(), parser.WithASTTransformers(util.Prioritized(links{}, 100))),
	)
	tree := md.Parser().Parse(text.NewReader(source))
	out := chapter{Name: name}
	for n := tree.FirstChild(); n != nil; {
		next := n.NextSibling()
		switch h, ok := n.(*ast.Heading); {
		case ok && h.Level == 1:
			out.Title = plain(h, source)
			tree.RemoveChild(tree, n) // the page has its own
		case ok:
			id, _ := h.AttributeString("id")
			anchor, _ := id.([]byte)
			out.Sections = append(out.Sections, section{Page: name, ID: string(anchor), Title: plain(h, source)})
		case len(out.Sections) > 0:
			last := &out.Sections[len(out.Sections)-1]
			last.lines = append(last.lines, linesOf(n, source)...)
		}
		n = next
	}
	var b bytes.Buffer
	err := md.Renderer().Render(&b, source, tree)
	out.Body = template.HTML(b.String()) // of our own pages, by a renderer that lets no raw HTML through
	return out, err
}

// links leads what points at another page to its address here.
type links struct{}

// Transform implements [parser.ASTTransformer].
func (links) Transform(tree *ast.Document, _ text.Reader, _ parser.Context) {
	var outside []*ast.Link
	_ = ast.Walk(tree, func(n ast.Node, in bool) (ast.WalkStatus, error) {
		link, ok := n.(*ast.Link)
		if !ok || !in {
			return ast.WalkContinue, nil
		}
		to, anchor, _ := strings.Cut(string(link.Destination), "#")
		name, isPage := strings.CutSuffix(to, ".md")
		_, err := docs.Guide.Open(to)
		switch {
		case to == "":
		case isPage && err == nil && anchor != "":
			link.Destination = []byte("/guide/" + name + "#" + anchor)
		case isPage && err == nil:
			link.Destination = []byte("/guide/" + name)
		default:
			outside = append(outside, link)
		}
		return ast.WalkContinue, nil
	})
	for _, link := range outside {
		parent := link.Parent()
		for n := link.FirstChild(); n != nil; n = link.FirstChild() {
			parent.InsertBefore(parent, link, n)
		}
		parent.RemoveChild(parent, link)
	}
}

// linesOf are the paragraphs of a block, each as plain text.
func linesOf(n ast.Node, source []byte) []string {
	var out []string
	_ = ast.Walk(n, func(n ast.Node, in bool) (ast.WalkStatus, error) {
		if !in || n.Type() != ast.TypeBlock {
			return ast.WalkContinue, nil
		}
		if first := n.FirstChild(); first != nil && first.Type() == ast.TypeInline {
			out = append(out, plain(n, source))
		}
		return ast.WalkContinue, nil
	})
	return out
}

// plain is the text of a node without its marks.
func plain(n ast.Node, source []byte) string {
	var b strings.Builder
	_ = ast.Walk(n, func(n ast.Node, in bool) (ast.WalkStatus, error) {
		if t, ok := n.(*ast.Text); ok && in {
			b.Write(t.Segment.Value(source))
			if t.SoftLineBreak() {
				b.WriteByte(' ')
			}
		}
		return ast.WalkContinue, nil
	})
	return b.String()
}

// guidePage is one page of the guide with the way to the others.
type guidePage struct {
	chapter
	All []chapter
}

func (s *Room) guide(w http.ResponseWriter, r *http.Request) error {
	name := chi.URLParam(r, "page")
	if name == "" {
		name = first
	}
	for _, one := range chapters() {
		if one.Name == name {
			return s.Show(w, r, http.StatusOK, "guide", one.Title, "Find", nil, guidePage{one, chapters()})
		}
	}
	return fmt.Errorf("page of the guide: %w", store.ErrNotFound)
}

// told is where the guide speaks of something.
type told struct {
	section
	Line string // the paragraph with the words
}

// mostTold is how many places of the guide a search names.
const mostTold = 8

// tells finds where the guide speaks of words: first where a heading has them all, then where a
// paragraph does.
func tells(query string) []told {
	words := strings.Fields(strings.ToLower(query))
	has := func(text string) bool {
		text = strings.ToLower(text)
		for _, w := range words {
			if !strings.Contains(text, w) {
				return false
			}
		}
		return len(words) > 0
	}
	var headed, spoken []told
	for _, c := range chapters() {
		for _, part := range c.Sections {
			if has(part.Title) {
				headed = append(headed, told{section: part})
				continue
			}
			for _, line := range part.lines {
				if has(line) {
					spoken = append(spoken, told{part, around(line, words[0])})
					break
				}
			}
		}
	}
	out := append(headed, spoken...)
	return out[:min(len(out), mostTold)]
}

// around is what stands about a word in a long line, cut at spaces.
func around(line, word string) string {
	const before, after = 60, 140
	at := max(strings.Index(strings.ToLower(line), word), 0)
	if at > len(line) { // a letter that is longer when it is small
		at = 0
	}
	from, to := max(at-before, 0), min(at+after, len(line))
	if from > 0 {
		from += strings.IndexByte(line[from:], ' ') + 1
	}
	if to < len(line) {
		to = from + strings.LastIndexByte(line[from:to], ' ')
	}
	out := strings.ToValidUTF8(line[from:to], "")
	if from > 0 {
		out = "… " + out
	}
	if to < len(line) {
		out += " …"
	}
	return out
}

// findPage is what was looked for, and where it is.
type findPage struct {
	Form   *page.Form
	Asked  bool
	Groups []group
	Told   []told
}
