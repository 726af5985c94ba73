package design

import (
	"chamfer/core/measure"
	"strings"
)

// Standing is what a bed stands on; "" is the ground.
type Standing string

// What a bed can stand on.
const (
	OnGround Standing = "ground"
	OnSlab   Standing = "slab"
	OnDeck   Standing = "deck"
	OnGravel Standing = "gravel"
)

// Firm reports whether nothing can be dug or driven below it: paving or a deck.
func (s Standing) Firm() bool { return s == OnSlab || s == OnDeck }

// Growing is what is to grow in a bed; "" is a bit of everything.
type Growing string

// What can be asked to grow.
const (
	Mixed      Growing = "mixed"
	Salads     Growing = "salads"
	Greens     Growing = "greens"
	Fruits     Growing = "fruits"
	Perennials Growing = "perennials"
	Flowers    Growing = "flowers"
)

// Tending is how whoever tends a bed works; "" is kneeling.
type Tending string

// The ways of tending.
const (
	Kneeling   Tending = "kneeling"
	Upright    Tending = "standing"
	Seated     Tending = "seated"
	Wheelchair Tending = "wheelchair"
)

// Access is from where a bed is reached, and by whom.
type Access string

// The ways a bed is reached.
const (
	BothSides      Access = "both"
	OneSide        Access = "one"
	BothSidesChild Access = "both-child"
	OneSideChild   Access = "one-child"
)

// FromOne reports whether it is reached from one long side only.
func (a Access) FromOne() bool { return a == OneSide || a == OneSideChild }

// Who is whose reach in the catalogue counts: "" for a grown person's, "child".
func (a Access) Who() string {
	_, who, _ := strings.Cut(string(a), "-")
	return who
}

// Sides is from how many sides it is reached.
func (a Access) Sides() measure.Length {
	if a.FromOne() {
		return 1
	}
	return 2
}

// ToOne is the same person's reach from one side.
func (a Access) ToOne() Access {
	if a.Who() != "" {
		return OneSideChild
	}
	return OneSide
}

// ToBoth is the same person's reach from both sides.
func (a Access) ToBoth() Access {
	if a.Who() != "" {
		return BothSidesChild
	}
	return BothSides
}

// Stage is where in the order of work a decision is taken.
type Stage string

// The stages at which something of a bed is decided.
const (
	AtSite   Stage = "site"
	AtBed    Stage = "bed"
	AtFrame  Stage = "frame"
	AtGround Stage = "ground"
	AtFill   Stage = "fill"
	AtWater  Stage = "water"
	AtFinish Stage = "finish"
)
