package web_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/web/page/dom"
)

// planner types into the planner, which answers while one types.
type planner struct {
	*visitor
	form    url.Values
	answers dom.Page
}

// planning begins a plan.
func (v *visitor) planning(pairs ...string) *planner {
	v.t.Helper()
	v.post("/plan", url.Values{"do": {"discard"}})
	_, page := v.get("/plan")
	p := &planner{visitor: v, form: filled(v.t, page, "/plan")}
	p.types(pairs...)
	return p
}

// types fills in fields and reads what is answered.
func (p *planner) types(pairs ...string) {
	p.t.Helper()
	for i := 0; i < len(pairs); i += 2 {
		p.form.Set(pairs[i], pairs[i+1])
	}
	status, live := p.post("/plan/live", p.form)
	require.Equal(p.t, http.StatusOK, status)
	p.answers = read(p.t, live)
}

// says reports what the answers say.
func (p *planner) says(text string) {
	p.t.Helper()
	all := p.answers.Text("body")
	assert.True(p.t, strings.Contains(all, text), "%q is not among the answers: %.2000s", text, all)
}

// beside reports what is said beside a field.
func (p *planner) beside(field, text string) {
	p.t.Helper()
	said, ok := p.answers.Beside(field)
	assert.True(p.t, ok, field)
	assert.Contains(p.t, said, text)
}

// oid is the identity of something by its name in a list.
func (v *visitor) oid(room, name string) string {
	v.t.Helper()
	path := v.link("/"+room, room, name)
	return path[strings.LastIndex(path, "/")+1:]
}

func TestPlansOfEveryKindComeOutExactly(t *testing.T) {
	t.Parallel()
	v := visit(t)
	loaf, slab, grid := v.oid("molds", "Long loaf"), v.oid("molds", "Birch slab"), v.oid("molds", "Salt grid")
	base, milk, salt := v.oid("recipes", "Quern base"), v.oid("recipes", "Ewe morning"), v.oid("recipes", "Ebb salt bar")

	t.Run("an ingredient to its last gram, on whatever scale", func(t *testing.T) {
		p := v.planning("recipe", milk, "by", "use-up", "use_up.name", "moon milk", "use_up.grams", "830 g")
		p.beside("use_up.name", "not in the recipe")
		p.types("use_up.name", "Sheep milk")
		p.says("Sheep milk into the fats or the batter, never onto hot lye 830")
	})
	t.Run("a salt bar in a grid comes out level, since salt displaces", func(t *testing.T) {
		p := v.planning("recipe", salt, "count."+grid, "2")
		p.says("Sea salt (fine)")
		p.says("computed from the batter")
		p.says("to the line")
		p.says("above the line")
		assert.Equal(t, "30", p.answers.Text("#answer-bars"))
		p.types("count."+grid, "minus one")
		p.beside("count."+grid, "not a")
	})
	t.Run("trimmings take the place of fresh batter", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "2")
		p.says("One pot of")
		before := p.answers.Text("#answer-batter")
		p.types("scraps.grams", "420 g")
		assert.NotEqual(t, before, p.answers.Text("#answer-batter"))
		p.types("scraps.grams", "9 kg")
		p.says("use fewer scraps or a larger target")
	})
	t.Run("an order for three pots", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "3", "count."+slab, "1", "pot", v.oid("equipment", "Small steel pot"))
		p.says("3 equal pots of")
		p.says("What one mold more would do")
	})
	t.Run("a label that the wires can meet, and one that they cannot", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "1", "label.grams", "110 g", "cut."+loaf, v.oid("equipment", "Five-wire"))
		p.says("above the label")
		p.types("label.grams", "125 g")
		p.says("short of the label")
		p.says("use the Wide cutter (31 mm)")
		p.types("cut."+loaf, "label")
		p.says("above the label")
		p.types("by", "bars", "bars", "60")
		p.says("One pot of")
	})
}
