// Package exchange reads and writes the open formats: recipes, plan requests
// and plans as JSON with published schemas.
//
// A file from elsewhere is read strictly. An unknown field, a field that
// stands twice, a missing figure or a word that is not in the list is refused
// with its place, because a typing error that passes silently becomes a pot of
// soap. What the schema cannot say (sums, ranges, unknown fats) the core says.
package exchange

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"ashshelf/soap/caution"
)

//go:embed schema
var schemas embed.FS

// Schemas are the published JSON Schemas, by file name.
func Schemas() fs.FS {
	sub, err := fs.Sub(schemas, "schema")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return sub
}

// Limits of a file, far above any recipe or book: its bytes, the entries of a list
// within a recipe, the bytes of one text and of one name. What is beyond them is refused
// before anything is made of it, since a problem takes far more room than what it tells of.
const (
	mostBytes   = 1 << 20
	mostEntries = 100
	mostRecipes = 2000
	mostText    = 20_000
	mostName    = 100
)

// mostTold is how many problems are told of a file; who has mended them sees the rest.
const mostTold = 20

// told bounds problems to what somebody reads.
func told(p caution.Problems) caution.Problems {
	if len(p) <= mostTold {
		return p
	}
	more := len(p) - mostTold
	p = p[:mostTold:mostTold]
	p.Add("", "there are more like these, %d at least; mend these first", more)
	return p
}

var compiled = sync.OnceValue(func() map[string]*jsonschema.Schema {
	c := jsonschema.NewCompiler()
	out := map[string]*jsonschema.Schema{}
	names := []string{"recipe-1", "book-1", "plan-request-1", "plan-1", "lot-1", "drying-1", "drying-forecast-1",
		"label-request-1", "label-1", "demand-1", "backplan-1", "day-request-1", "day-1"}
	for _, name := range names {
		text, err := schemas.ReadFile("schema/" + name + ".schema.json")
		if err != nil {
			panic(err)
		}
		doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		if err != nil {
			panic(err)
		}
		if err := c.AddResource("urn:ashshelf:"+name, doc); err != nil {
			panic(err)
		}
	}
	for _, name := range names {
		out[name] = c.MustCompile("urn:ashshelf:" + name)
	}
	return out
})

// readText reads all of r as JSON without a schema. Problems of the text itself
// are of type [caution.Problems]; other errors are of reading.
func readText(r io.Reader) ([]byte, error) {
	text, err := io.ReadAll(io.LimitReader(r, mostBytes+1))
	if err != nil {
		return nil, fmt.Errorf("read: %w", err)
	}
	if len(text) > mostBytes {
		return nil, caution.Problems{{Text: "the file is larger than 1 MiB: it is no recipe, book or plan request"}}
	}
	return text, scan(text)
}

// validate holds a text to the named schema.
func validate(text []byte, schema string) error {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return caution.Problems{{Text: "not JSON: " + err.Error()}}
	}
	if err := compiled()[schema].Validate(doc); err != nil {
		var ve *jsonschema.ValidationError
		if !errors.As(err, &ve) {
			return fmt.Errorf("validate: %w", err)
		}
		var p caution.Problems
		flatten(ve, &p)
		return told(p)
	}
	return nil
}

// scan walks the tokens of a JSON text: it must be one value, name no field
// twice, and hold no number too large to compute with.
func scan(text []byte) error {
	d := jsontext.NewDecoder(bytes.NewReader(text))
	for values := 0; ; {
		tok, err := d.ReadToken()
		if err == io.EOF {
			if values == 0 {
				return caution.Problems{{Text: "the file is empty; a JSON text is wanted"}}
			}
			return nil
		}
		var at string
		var syn *jsontext.SyntacticError
		if errors.As(err, &syn) {
			at = dotted(strings.Split(strings.TrimPrefix(string(syn.JSONPointer), "/"), "/"))
		}
		if errors.Is(err, jsontext.ErrDuplicateName) {
			return caution.Problems{{Path: at, Text: "this field stands twice; keep one"}}
		}
		if err != nil {
			return caution.Problems{{Path: at, Text: "not JSON: " + strings.TrimPrefix(err.Error(), "jsontext: ")}}
		}
		if tok.Kind() == '0' {
			if !weighable(tok.String()) {
				at := dotted(strings.Split(strings.TrimPrefix(string(d.StackPointer()), "/"), "/"))
				return caution.Problems{{Path: at, Text: "this number is too large or too long"}}
			}
		}
		if refusal := beyond(d, tok); refusal != "" {
			at := d.StackPointer()
			if len(at.LastToken()) > mostName {
				at = at.Parent()
			}
			return caution.Problems{{Path: dotted(strings.Split(strings.TrimPrefix(string(at), "/"), "/")), Text: refusal}}
		}
		if d.StackDepth() == 0 {
			if values++; values > 1 {
				return caution.Problems{{Text: "not JSON: more than one value in the file"}}
			}
		}
	}
}

// beyond says what of the token that was just read is beyond the limits, or nothing.
func beyond(d *jsontext.Decoder, tok jsontext.Token) string {
	kind, n := d.StackIndex(d.StackDepth())
	most := int64(mostEntries)
	if d.StackDepth() == 2 && d.StackPointer().Parent() == "/recipes" {
		most = mostRecipes
	}
	switch {
	case kind == '[' && n > most:
		return fmt.Sprintf("this list has more than %d entries", most)
	case kind == '{' && n > 2*mostEntries:
		return fmt.Sprintf("there are more than %d fields here", mostEntries)
	case tok.Kind() == '"' && kind == '{' && n%2 == 1 && len(tok.String()) > mostName:
		return "this name is too long for a field"
	case tok.Kind() == '"' && caution.Unseen(tok.String()) != "":
		return caution.Unseen(tok.String())
	case tok.Kind() == '"' && len(tok.String()) > mostText:
		return fmt.Sprintf("this text is longer than %d letters", mostText)
	}
	return ""
}

// weighable reports whether a number is of a size that weights and shares can
// have. Validating works with exact fractions, so that a short text such as
// 1e-999999999 would otherwise take for ever.
func weighable(number string) bool {
	f, err := strconv.ParseFloat(number, 64)
	if err != nil || math.Abs(f) > 1e15 || len(number) > 60 {
		return false
	}
	_, exponent, _ := strings.Cut(strings.ToLower(number), "e")
	n, err := strconv.Atoi(exponent)
	return exponent == "" || err == nil && n >= -30 && n <= 30
}

var english = message.NewPrinter(language.English)

// flatten gathers the innermost causes of a validation error.
func flatten(e *jsonschema.ValidationError, p *caution.Problems) {
	if len(e.Causes) == 0 {
		switch k := e.ErrorKind.(type) {
		case *kind.AdditionalProperties:
			for _, name := range k.Properties {
				p.Add(dotted(append(slices.Clone(e.InstanceLocation), name)), "there is no such field here")
			}
		case *kind.Required:
			for _, name := range k.Missing {
				p.Add(dotted(append(slices.Clone(e.InstanceLocation), name)), "this field is missing")
			}
		case *kind.MaxProperties:
			p.Add(dotted(e.InstanceLocation), "give %d of the fields here, not %d", k.Want, k.Got)
		case *kind.MinProperties:
			p.Add(dotted(e.InstanceLocation), "give %d of the fields here", k.Want)
		case *kind.FalseSchema:
			p.Add(dotted(e.InstanceLocation), "this field does not go with the others here")
		default:
			p.Add(dotted(e.InstanceLocation), "%s", k.LocalizedString(english))
		}
		return
	}
	for _, c := range e.Causes {
		flatten(c, p)
	}
}

// dotted writes a place as makers of formats do: fats[2].percent.
func dotted(steps []string) string {
	var b strings.Builder
	for _, s := range steps {
		s = strings.NewReplacer("~1", "/", "~0", "~").Replace(s)
		if _, err := strconv.Atoi(s); err == nil {
			b.WriteString("[" + s + "]")
			continue
		}
		if b.Len() > 0 && s != "" {
			b.WriteByte('.')
		}
		b.WriteString(s)
	}
	return b.String()
}
