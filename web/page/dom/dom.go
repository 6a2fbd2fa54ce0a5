// Package dom reads pages as a browser does: the forms with what would be sent of them, the
// fields, and what is said beside them. The tests of the pages and the campaign use it, so
// that what they look for does not depend on how a page is laid out.
package dom

import (
	"fmt"
	"net/url"
	"strings"

	"github.com/PuerkitoBio/goquery"

	"ashshelf/web/page"
)

// Page is a page that was answered.
type Page struct{ doc *goquery.Document }

// Parse reads a page, or a part of one.
func Parse(html string) (Page, error) {
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(html))
	if err != nil {
		return Page{}, fmt.Errorf("page: %w", err)
	}
	return Page{doc}, nil
}

// Form is the first form that leads to an address, or to one that ends so, as a browser
// would send it: where to, and with what. A field that stands in it several times is sent as
// often.
func (p Page) Form(action string) (to string, values url.Values, ok bool) {
	with := func(is func(s, action string) bool) *goquery.Selection {
		return p.doc.Find("form").FilterFunction(func(_ int, f *goquery.Selection) bool {
			return is(f.AttrOr("action", ""), action)
		}).First()
	}
	found := with(func(s, action string) bool { return s == action })
	if found.Length() == 0 {
		found = with(strings.HasSuffix)
	}
	if found.Length() == 0 {
		return "", nil, false
	}
	values = url.Values{}
	found.Find("input, textarea, select").Each(func(_ int, in *goquery.Selection) {
		name := in.AttrOr("name", "")
		_, checked := in.Attr("checked")
		switch kind := in.AttrOr("type", ""); {
		case name == "" || kind == "file" || kind == "submit":
		case kind == "checkbox" || kind == "radio":
			if checked {
				values.Add(name, in.AttrOr("value", "on"))
			}
		case goquery.NodeName(in) == "textarea":
			values.Add(name, strings.TrimPrefix(in.Text(), "\n"))
		case goquery.NodeName(in) == "select":
			option := in.Find("option[selected]").Last()
			if option.Length() == 0 {
				option = in.Find("option").First()
			}
			values.Add(name, option.AttrOr("value", option.Text()))
		default:
			values.Add(name, in.AttrOr("value", ""))
		}
	})
	return found.AttrOr("action", ""), values, true
}

// Fields are the names of all fields, each once.
func (p Page) Fields() (out []string) {
	seen := map[string]bool{}
	p.doc.Find("input[name], textarea[name], select[name]").Each(func(_ int, in *goquery.Selection) {
		if name := in.AttrOr("name", ""); !seen[name] {
			seen[name] = true
			out = append(out, name)
		}
	})
	return out
}

// Beside is what is said beside a field, on a page or in an answer while somebody types; ok
// is false when nothing can be said there.
func (p Page) Beside(field string) (said string, ok bool) {
	id := page.FieldID(field) + "-err"
	at := p.doc.Find(fmt.Sprintf(`[id="%s"], hx-partial[hx-target="#%s"]`, id, id))
	return words(at), at.Length() > 0
}

// Complaints are all that is said to be wrong beside fields.
func (p Page) Complaints() (out []string) {
	p.doc.Find(".err").Each(func(_ int, at *goquery.Selection) {
		if said := strings.TrimSpace(at.Text()); said != "" {
			out = append(out, said)
		}
	})
	return out
}

// Told reports whether the page says why something was refused: beside a field, or on top.
func (p Page) Told() bool { return len(p.Complaints()) > 0 || p.Text("#notice") != "" }

// Text is what is to be read in the elements that a selector finds, with single spaces.
func (p Page) Text(selector string) string { return words(p.doc.Find(selector)) }

// words are the texts of elements with single spaces, also between one element and the next.
func words(of *goquery.Selection) string {
	var out []string
	var walk func(*goquery.Selection)
	walk = func(of *goquery.Selection) {
		of.Contents().Each(func(_ int, at *goquery.Selection) {
			if goquery.NodeName(at) == "#text" {
				out = append(out, strings.Fields(at.Text())...)
				return
			}
			walk(at)
		})
	}
	walk(of)
	return strings.Join(out, " ")
}

// Links are the addresses within the shop, each once.
func (p Page) Links() (out []string) {
	seen := map[string]bool{}
	p.doc.Find("a[href]").Each(func(_ int, a *goquery.Selection) {
		to, _, _ := strings.Cut(a.AttrOr("href", ""), "#")
		if strings.HasPrefix(to, "/") && !seen[to] {
			seen[to] = true
			out = append(out, to)
		}
	})
	return out
}

// Ours are the texts of the page that are not somebody's own words, with what stands in its fields and
// what they suggest. Somebody's own words, and grams beside ounces of lye, stand in elements marked
// so.
func (p Page) Ours() (out []string) {
	p.doc.Find("script, style, [data-words], .beside, textarea").Remove()
	p.doc.Find("input").Each(func(_ int, in *goquery.Selection) {
		out = append(out, in.AttrOr("placeholder", ""))
		if in.AttrOr("type", "") != "hidden" {
			out = append(out, in.AttrOr("value", ""))
		}
	})
	const said = "p, td, th, dd, dt, h1, h2, h3, li, label, span, strong, text, summary, option, button"
	p.doc.Find(said).Each(func(_ int, at *goquery.Selection) {
		if at.Children().Length() == 0 || goquery.NodeName(at) == "p" || goquery.NodeName(at) == "td" {
			out = append(out, words(at))
		}
	})
	return out
}
