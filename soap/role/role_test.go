package role_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/role"
)

func TestWhoMayDoMoreMayDoAllThatOthersMay(t *testing.T) {
	for i, r := range role.All() {
		assert.True(t, r.Valid())
		assert.NotEmpty(t, r.Explained(), r)
		for j, other := range role.All() {
			assert.Equal(t, i <= j, r.May(other), "%s may do what takes a %s", r, other)
		}
	}
}

func TestARoleThatIsNoneMayNothing(t *testing.T) {
	for _, none := range []role.Role{"", "Owner", "boss"} {
		assert.False(t, none.Valid())
		for _, r := range role.All() {
			assert.False(t, none.May(r), "%q may do what takes a %s", none, r)
			assert.False(t, r.May(none), "what takes %q is for nobody", none)
		}
	}
}
