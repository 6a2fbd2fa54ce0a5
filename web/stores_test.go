package web_test

import (
	"encoding/csv"
	"encoding/json"
	"html"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is near its date goes straight into a plan of a recipe that takes it, to its last gram.
func TestWhatIsNearItsDateGoesStraightIntoAPlan(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/stores/of?key=fat:hempseed-oil")
	hasAll(t, page, "Use it up in", "To be used by")
	link := html.UnescapeString(first(t, page, `href="(/plan\?[^"]*use_up[^"]*)"`))
	_, page = v.get(link)
	has(t, page, `value="hempseed-oil"`, `value="947.4 g"`, "Hempseed oil")
	assert.NotContains(t, page, "Not a plan yet")
}

func TestTheStoreGoesOutAsFiles(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, body := v.get("/stores/stores.json")
	var doc struct {
		Format     string
		Deliveries []struct {
			Code      string
			GramsLeft float64 `json:"grams_left"`
		}
		Movements []struct{ What string }
	}
	require.NoError(t, json.Unmarshal([]byte(body), &doc))
	assert.Equal(t, "ashshelf.stores/1", doc.Format)
	assert.Greater(t, len(doc.Movements), 100)
	for path, least := range map[string]int{"/stores/materials.csv": 20, "/stores/deliveries.csv": 25, "/stores/moves.csv": 100,
		"/stores/shopping.csv": 3, "/stores/value.csv?on=2026-03-01": 20} {
		_, body := v.get(path)
		rows, err := csv.NewReader(strings.NewReader(body)).ReadAll()
		require.NoError(t, err, path)
		assert.GreaterOrEqual(t, len(rows), least, path)
	}
	_, page := v.get("/stores/value?on=tomorrow")
	has(t, page, "type the day like")
	status, page := v.get("/stores/value?on=2030-01-01")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "still to come")
	_, page = v.get("/stores/prices?name=Moon+dust&price=4")
	has(t, page, "is in no recipe and no delivery")
	_, page = v.get("/stores/prices?name=Olive+oil&price=much")
	has(t, page, "type an amount such as")
}

// A delivery note is read row by row; what came with it is in the books.
func TestADeliveryNoteIsTakenIn(t *testing.T) {
	t.Parallel()
	v := visit(t)
	note := "material,supplier,code,amount,price\nOlive oil,Quay Oils,QO-0700,5 kg,61\n"
	page := v.does("/stores/opening", "/stores/opening/file", "list", note, "as", "note", "do", "take")
	assert.NotContains(t, page, "not understood")
	_, page = v.get("/stores/of?key=fat:olive-oil")
	has(t, page, "QO-0700")
	status, page := v.post("/stores/opening/file", url.Values{"list": {"soap,bars\nOld bar,5"}, "as": {"note"}, "key": {"k"}})
	assert.Equal(t, http.StatusOK, status)
	has(t, page, "they do not come with a delivery")
}
