// Package people says who may do what, and how a person is known: roles and the rights that go with them, passwords,
// links that let somebody in, and how often one may try.
//
// Everything belongs to a household. A person has a role in it, and where a project says otherwise, another in that
// project:
//
//	            look   take down   design   keep house
//	owner        x         x          x          x
//	helper       x         x
//	reader       x
//	guest      only in projects that name them
//
// What may be taken down is what comes of the work itself: steps done, boards cut, prices paid, what the shed holds.
package people

import "slices"

// Role is what a person is in a household, or in one of its projects.
type Role string

// The roles, the one with most rights first.
const (
	Owner  Role = "owner"
	Helper Role = "helper"
	Reader Role = "reader"
	Guest  Role = "guest" // of a household: only projects that give them a role
)

// Roles are all of them, the one with most rights first.
var Roles = []Role{Owner, Helper, Reader, Guest}

// Right is something that may be done.
type Right int

// The rights, each with those before it.
const (
	Look     Right = iota // see a project and all that comes of it
	TakeDown              // tick, cut, shop: what the work comes to
	Design                // change what is built
	Keep                  // delete, share, invite, set the workshop's habits
)

// rights is the last right that goes with each role; a guest has none.
var rights = map[Role]Right{Owner: Keep, Helper: TakeDown, Reader: Look}

// Valid reports whether there is such a role.
func (r Role) Valid() bool { return slices.Contains(Roles, r) }

// May reports whether a right goes with a role.
func (r Role) May(do Right) bool {
	last, some := rights[r]
	return some && do <= last
}

// About is what a role may do, for people.
func (r Role) About() string {
	switch r {
	case Owner:
		return "changes everything, shares and invites"
	case Helper:
		return "ticks steps, cuts boards, writes down prices and what the shed holds; changes no design"
	case Reader:
		return "looks, and saves files"
	case Guest:
		return "sees only the projects that name them"
	}
	return "nothing"
}

// Of is the role a person has in a project: an owner of the household always that; else what the project says, and
// where it says nothing, what they are in the household.
func Of(household, project Role) Role {
	if household == Owner || !project.Valid() {
		return household
	}
	return project
}

// Lesser is the one of two roles with fewer rights.
func Lesser(a, b Role) Role {
	if slices.Index(Roles, a) > slices.Index(Roles, b) {
		return a
	}
	return b
}

// Words say a right, as what somebody would do with it.
func (do Right) Words() string {
	switch do {
	case Look:
		return "look at this"
	case TakeDown:
		return "tick, cut and write down here"
	case Design:
		return "change this design"
	}
	return "share, delete or invite here"
}

// Holder is the role with fewest rights that may do it.
func (do Right) Holder() Role {
	for _, r := range slices.Backward(Roles) {
		if r.May(do) {
			return r
		}
	}
	return Owner
}
