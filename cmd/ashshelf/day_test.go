package main

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const onePot = `{"format":"ashshelf.day-request/1","start":"08:00","end":"17:00",
 "resources":{"hands":1,"jug":2,"pot":1,"scale":1},
 "batches":[{"name":"A","steps":[
  {"name":"lye","minutes":10,"uses":["hands","scale"],"keeps":{"jug":"combine"}},
  {"name":"cool","minutes":60,"after":["lye"]},
  {"name":"fats","minutes":20,"uses":["hands","scale"],"keeps":{"pot":"pour"}},
  {"name":"combine","minutes":15,"uses":["hands"],"after":["cool","fats"],"within":{"cool":30}},
  {"name":"pour","minutes":15,"uses":["hands"],"after":["combine"]}]}]}`

// Worked by hand: the lye is weighed at ten past eight and cool at ten past nine; then it is stirred in and poured.
func TestTheDayCommandSaysWhenEachStepIsDone(t *testing.T) {
	run := func(in string, args ...string) (int, string, string) {
		var out, errs bytes.Buffer
		code := runDay(args, strings.NewReader(in), &out, &errs)
		return code, out.String(), errs.String()
	}
	code, out, errs := run(onePot)
	require.Zero(t, code, errs)
	assert.JSONEq(t, `{"format":"ashshelf.day/1","steps":[
	  {"batch":"A","name":"lye","from":"08:00","to":"08:10"},{"batch":"A","name":"cool","from":"08:10","to":"09:10"},
	  {"batch":"A","name":"fats","from":"08:10","to":"08:30"},{"batch":"A","name":"combine","from":"09:10","to":"09:25"},
	  {"batch":"A","name":"pour","from":"09:25","to":"09:40"}],"ends":"09:40","at_least":"09:40","late":[]}`, out)

	code, out, _ = run(strings.Replace(onePot, "17:00", "09:39", 1))
	assert.Zero(t, code)
	assert.JSONEq(t, `{"format":"ashshelf.day/1","steps":[],"ends":"08:00","at_least":"08:00",
	  "late":[{"batch":"A","why":"it takes 1 h 40 by itself, and the day has 1 h 39"}]}`, out)

	code, out, _ = run(onePot, "-out", "text")
	assert.Zero(t, code)
	assert.Contains(t, out, "08:10 to 08:30  A: fats  (waits for hands until 08:10: taken by “lye” of A)")
	assert.Contains(t, out, "All is done at 09:40, and could not be before 09:40.")

	for change, says := range map[string]string{
		`"end":"17:00"→"end":"07:00"`:                            "end: has to be later than the start",
		`"end":"17:00"→"end":"25:00"`:                            "end",
		`"start":"08:00"→"start":"8:00"`:                         "start",
		`"hands":1→"hands":-1`:                                   "resources",
		`"hands":1→"hands":1.5`:                                  "resources",
		`"name":"cool","minutes":60→"name":"cool","minutes":0.5`: "batches[0].steps[1].minutes",
		`"name":"cool","minutes":60→"name":"lye","minutes":60`:   "batches[0].steps[1].name: “lye” stands twice",
		`"jug":"combine"→"jug":"boil"`:                           "batches[0].steps[0].keeps: “boil” is no step of the batch",
		`"pot":"pour"→"cauldron":"pour"`:                         "batches[0].steps[2].keeps: “cauldron” is none of the resources",
		`"pot":"pour"→"pot":"lye"`:                               "does not come after",
		`"within":{"cool":30}→"within":{"cool":-30}`:             "batches[0].steps[3].within",
		`"within":{"cool":30}→"within":{"cool":30},"until":3`:    "there is no such field",
		`"after":["combine"]→"after":["combine","pour"]`:         "batches[0].steps[4].after: “pour” would have to be done before itself",
	} {
		old, with, _ := strings.Cut(change, "→")
		require.Equal(t, 1, strings.Count(onePot, old), old)
		code, out, errs := run(strings.Replace(onePot, old, with, 1))
		assert.Equal(t, 2, code, change)
		assert.Empty(t, out, change)
		assert.Contains(t, errs, says, change)
	}
}
