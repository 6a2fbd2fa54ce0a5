// Package role is what somebody may do in the shop.
//
// An owner has the shop: its people, their devices, its copies. A maker does the whole job,
// from the recipe to the word that a lot may be sold. A helper does what is done with the
// hands: she weighs and ticks, cuts, places, turns, hands out, and says when something goes
// wrong; she alters no recipe and releases nothing.
package role

// Role is what somebody may do.
type Role string

// The roles. Each may do all that those after it may.
const (
	Owner  Role = "owner"
	Maker  Role = "maker"
	Helper Role = "helper"
)

// All returns the roles, the one that may do most first.
func All() []Role { return []Role{Owner, Maker, Helper} }

// rank is how much a role may; 0 for none.
func (r Role) rank() int { return map[Role]int{Owner: 3, Maker: 2, Helper: 1}[r] }

// Valid reports whether it is one of the roles.
func (r Role) Valid() bool { return r.rank() > 0 }

// May reports whether somebody in this role may do what takes at least another one.
func (r Role) May(least Role) bool { return least.Valid() && r.rank() >= least.rank() }

// Words says the role.
func (r Role) Words() string { return string(r) }

// Explained says in a line what somebody in the role does.
func (r Role) Explained() string {
	return map[Role]string{
		Owner:  "has the shop: people, devices, copies, and all of the job",
		Maker:  "does all of the job: recipes, plans, lots, release",
		Helper: "weighs, cuts, places, turns and hands out; alters no recipe, releases nothing",
	}[r]
}
