package record

import (
	"fmt"
	"math"

	"chamfer/core/measure"
)

// Estimate is what one's own record makes of a published value: nearer to that the less there is to go by,
//
//	value = (own x n + published x weighs) / (n + weighs)
//
// which is the mean of a normal quantity whose published value counts as so many observations (Gelman and others,
// Bayesian Data Analysis, 2.5, from memory). It is offered and never imposed.
type Estimate struct {
	Key       string  // "spare", "settling", "kerf", "spoilt"
	Name      string  // "screws beyond those that hold"
	Of        string  // what was counted: "screw"
	N         float64 // how many of that
	Own       float64 // what they say; per thousand, or nanometres
	Published float64
	Weighs    float64 // how many of one's own the published value counts as
	Value     float64 // what is offered
	now       float64 // what is counted on
}

func (e Estimate) shrunk() Estimate {
	e.Value = (e.Own*e.N + e.Published*e.Weighs) / (e.N + e.Weighs)
	return e
}

// What the published values count as (our own choices): a bed's worth of screws, two beds of soil, the cuts of a trial
// with a saw, the pieces of a bed.
const (
	screwsWeigh = 200
	bedsWeigh   = 2
	cutsWeigh   = 5
	piecesWeigh = 40
)

// Spare is how many more fixings are used than hold, per thousand, by what was left of them. Need is what holds.
func Spare(list []Good, published, now int) (Estimate, bool) {
	e := Estimate{Key: "spare", Name: "Fixings beyond those that hold", Of: "fixing", Published: float64(published),
		Weighs: screwsWeigh, now: float64(now)}
	var used float64
	for _, g := range list {
		if n, known := g.Used(); known && g.Need > 0 {
			e.N += float64(g.Need)
			used += min(float64(n), 2*float64(g.Need)) // a box that was lost is no screws that were used
		}
	}
	if e.N == 0 {
		return e, false
	}
	e.Own = max(0, 1000*(used-e.N)/e.N)
	return e.shrunk(), true
}

// Sank is how far a bed's soil sank in its first weeks, and how deep it lay when it was filled.
type Sank struct {
	Bed        string
	Deep, Sunk measure.Length
}

// Settling is how much more soil is placed than stays, per thousand, by how far it sank: what lay deep and sank by s
// fills deep - s in the end.
func Settling(list []Sank, published, now int) (Estimate, bool) {
	e := Estimate{Key: "settling", Name: "Soil beyond what stays", Of: "bed", Published: float64(published),
		Weighs: bedsWeigh, now: float64(now)}
	sum := 0.0
	for _, s := range list {
		if s.Sunk >= 0 && s.Sunk < s.Deep {
			e.N++
			sum += min(500, 1000*float64(s.Sunk)/float64(s.Deep-s.Sunk))
		}
	}
	if e.N == 0 {
		return e, false
	}
	e.Own = sum / e.N
	return e.shrunk(), true
}

// Trial is a board that was cut so many times: how long it was, and what its pieces and its rest came to.
type Trial struct {
	Cuts int            `json:"cuts"`
	Lost measure.Length `json:"lost"` // in all
}

// Kerf is what a cut takes, by boards that were measured before and after.
func Kerf(list []Trial, published, now measure.Length) (Estimate, bool) {
	e := Estimate{Key: "kerf", Name: "What a cut takes", Of: "cut", Published: float64(published), Weighs: cutsWeigh,
		now: float64(now)}
	lost := 0.0
	for _, t := range list {
		if t.Cuts > 0 && t.Lost >= 0 {
			e.N += float64(t.Cuts)
			lost += float64(t.Lost)
		}
	}
	if e.N == 0 {
		return e, false
	}
	e.Own = lost / e.N
	return e.shrunk(), true
}

// Spoilt is how many pieces are spoilt, per thousand that were cut. Whoever counts on some buys a board more.
func Spoilt(cut, spoilt, published, now int) (Estimate, bool) {
	e := Estimate{Key: "spoilt", Name: "Pieces that are spoilt", Of: "piece", N: float64(cut),
		Published: float64(published),
		Weighs:    piecesWeigh, now: float64(now)}
	if cut == 0 {
		return e, false
	}
	e.Own = min(500, 1000*float64(spoilt)/float64(cut))
	return e.shrunk(), true
}

// PerMille is what is offered, in thousandths.
func (e Estimate) PerMille() int { return int(math.Round(e.Value)) }

// Length is what is offered of a kerf, to a tenth of a millimetre.
func (e Estimate) Length() measure.Length {
	const tenth = measure.Millimetre / 10
	return measure.Length(math.Round(e.Value/float64(tenth))) * tenth
}

// New reports whether it is another value than is counted on.
func (e Estimate) New() bool {
	if e.Key == "kerf" {
		return e.Length() != measure.Length(e.now)
	}
	return e.PerMille() != int(e.now)
}

// Why says how it came about, with both values, how many and the rule.
func (e Estimate) Why() string {
	write := func(v float64) string {
		if e.Key == "kerf" {
			return fmt.Sprintf("%.1f mm", v/float64(measure.Millimetre))
		}
		return fmt.Sprintf("%.1f %%", v/10)
	}
	return fmt.Sprintf("%s of your own: %s. The published %s counts as %s: together %s.",
		measure.Count(int(e.N), e.Of), write(e.Own), write(e.Published), measure.Count(int(e.Weighs), e.Of), write(e.Value))
}

// Offer is what would be counted on.
func (e Estimate) Offer() string {
	if e.Key == "kerf" {
		return e.Length().String()
	}
	return fmt.Sprintf("%.1f %%", float64(e.PerMille())/10)
}
