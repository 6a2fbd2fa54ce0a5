package table_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/internal/table"
)

const small = "# what it is\n# and where it comes from\nx,y,name\n0,10,first\n10,30,\n20,30,\"last, not least\"\n"

func TestATableIsReadBelowItsHead(t *testing.T) {
	rows := table.Read(small)
	require.Len(t, rows, 3)
	assert.Equal(t, "last, not least", rows[2].Text("name"))
	assert.Zero(t, rows[1].Number("name"), "an empty cell is no figure")
	assert.Panics(t, func() { rows[0].Number("name") }, "a word is no figure: the table is wrong")
	assert.Panics(t, func() { rows[0].Text("z") }, "a column that is not there")
}

func TestACurveIsReadByStraightLinesAndHeldAtItsEnds(t *testing.T) {
	c := table.Curve(table.Read(small), "x", "y")
	for x, y := range map[float64]float64{-5: 10, 0: 10, 5: 20, 10: 30, 15: 30, 20: 30, 90: 30} {
		assert.InDelta(t, y, c.At(x), 1e-9, "at %v", x)
	}
	steep := table.Points{X: []float64{0, 10}, Y: []float64{1, 2}}.CarriedTo(20)
	assert.InDelta(t, 3, steep.At(20), 1e-9, "carried on along its last line")
	assert.InDelta(t, 3, steep.At(25), 1e-9, "and held from there")
	assert.Panics(t, func() { table.Curve(table.Read("x,y\n5,1\n5,2\n"), "x", "y") }, "x must rise")
}
