package document

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"path/filepath"
	"reflect"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/archive"
	"ashshelf/soap/lot"
	"ashshelf/soap/market"
	"ashshelf/soap/rack"
)

var update = flag.Bool("update", false, "write the golden files anew, after a wanted change")

// filled is a value of which no field is zero, each with a value of its own.
func filled(v reflect.Value, n *int, depth int) {
	*n++
	switch v.Kind() {
	case reflect.String:
		v.SetString("text " + strconv.Itoa(*n))
	case reflect.Int, reflect.Int64:
		v.SetInt(int64(*n))
	case reflect.Float64:
		v.SetFloat(float64(*n) + 0.5)
	case reflect.Bool:
		v.SetBool(true)
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 1, 1))
		filled(v.Index(0), n, depth)
	case reflect.Pointer:
		if depth > 0 { // a plan holds the plan of one batch
			v.Set(reflect.New(v.Type().Elem()))
			filled(v.Elem(), n, depth-1)
		}
	case reflect.Struct:
		for f, field := range v.Fields() {
			if f.IsExported() {
				filled(field, n, depth)
			}
		}
	default:
		panic("a body holds a " + v.Kind().String())
	}
}

// bodyOf is one kind of body, read back as the shop does.
type bodyOf struct {
	name  string
	empty any
	read  func(text []byte) (any, error)
}

func reads[T, A any, P interface {
	*A
	archive.Body
}](name string, read func(A) T) bodyOf {
	var empty T
	return bodyOf{name, empty, func(text []byte) (any, error) { return Decode[T, A, P](name, read, text) }}
}

func allBodies() []bodyOf {
	return []bodyOf{
		reads(
			"lot",
			ReadFrozen,
		), reads("recipe", ReadRecipe), reads("mold", ReadMold), reads("equipment", ReadTool), reads("scent", ReadScent),
		reads("rack", ReadRack), reads("container", ReadContainer), reads("plan", ReadPlan),
		reads("material", ReadMaterial), reads("supply-order", ReadOrder), reads("lot-cost", ReadCost),
		reads("product", ReadProduct), reads("sheet", ReadLabelSheet), reads("label-rules", ReadLabelRules),
		reads("declaration", ReadDeclaration), reads("assessment", ReadAssessment), reads("printed-label", ReadPrinted),
		reads("market", ReadMarket), reads("market-home", ReadMarketHome), reads("sale-rules", ReadSaleRules),
		reads("sale-order", ReadSaleOrder), reads("sale-document", ReadSaleDocument), reads("bench", ReadBench),
		reads("till-lines", func(b archive.TillLines) []market.Line { return ReadTillLines(b.Lines) }),
		reads("rules", func(b archive.Rules) []rack.Apart { return ReadApart(b.Apart) }),
		reads("rescale", func(b archive.Rescale) lot.Rescale {
			return lot.Rescale{Sheet: ReadSheet(b.Sheet), Pot: ReadPot(b.Pot)}
		}),
	}
}

// Every field of the core that is frozen is written under the name that the golden
// files say, and comes back as it was: nothing is lost on the way, and no name of the
// core is a name on record.
func TestEveryFieldThatIsFrozenIsWrittenAndComesBack(t *testing.T) {
	for _, b := range allBodies() {
		t.Run(b.name, func(t *testing.T) {
			n, v := 0, reflect.New(reflect.TypeOf(b.empty)).Elem()
			filled(v, &n, 8)
			switch one := v.Addr().Interface().(type) { // what is known from elsewhere, or derived
			case *lot.Rescale:
				one.Entry, one.Factor, one.Because = lot.Entry{}, 0, ""
			}
			text, err := Encode(v.Interface())
			require.NoError(t, err)
			back, err := b.read(text)
			require.NoError(t, err)
			derived(v)
			assert.Equal(t, v.Interface(), back)

			var pretty bytes.Buffer
			require.NoError(t, json.Indent(&pretty, text, "", " "))
			path := filepath.Join("testdata", "bodies", b.name+".json")
			if *update {
				require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
				require.NoError(t, os.WriteFile(path, append(pretty.Bytes(), '\n'), 0o644))
			}
			golden, err := os.ReadFile(path)
			require.NoError(t, err)
			assert.JSONEq(t, string(golden), pretty.String(), "a name on record is for ever")
		})
	}
	_, err := Encode(struct{}{})
	assert.Error(t, err, "nothing is written that nobody can read")
}

// derived clears what a recipe works out and never freezes: whose portion or scent a use is of.
func derived(v reflect.Value) {
	switch v.Kind() {
	case reflect.Struct:
		if v.Type().String() == "additive.Use" {
			for _, name := range []string{"Scent", "Portion", "Part", "Oil", "Molds"} {
				v.FieldByName(name).SetZero()
			}
		}
		for f, field := range v.Fields() {
			if f.IsExported() {
				derived(field)
			}
		}
	case reflect.Slice:
		for i := range v.Len() {
			derived(v.Index(i))
		}
	case reflect.Pointer:
		if !v.IsNil() {
			derived(v.Elem())
		}
	}
}
