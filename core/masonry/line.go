package masonry

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// line is a line on the ground from left to right, and what lies beside it. What lies so far
// out from it is found along its mitres:
//
//	     ___          out
//	 ___/   \___
//	/   ___     \     the line, and its mitres, on which every offset has its corners
//	___/   \____
type line struct {
	at    []vec // nm
	mitre []vec // so far along each for every length out
}

type vec struct{ u, v float64 }

func (a vec) minus(b vec) vec     { return vec{a.u - b.u, a.v - b.v} }
func (a vec) plus(b vec) vec      { return vec{a.u + b.u, a.v + b.v} }
func (a vec) times(t float64) vec { return vec{a.u * t, a.v * t} }
func (a vec) dot(b vec) float64   { return a.u*b.u + a.v*b.v }
func (a vec) turns(b vec) float64 { return a.u*b.v - a.v*b.u }
func (a vec) long() float64       { return math.Hypot(a.u, a.v) }
func (a vec) left() vec           { return vec{-a.v, a.u} }
func (a vec) unit() vec           { return a.times(1 / a.long()) }
func (a vec) spot() frame.Spot {
	return frame.Spot{U: measure.Length(math.Round(a.u)), V: measure.Length(math.Round(a.v))}
}
func placed(p design.Point) vec { return vec{float64(p.U), float64(p.V)} }
func (l line) leg(i int) vec    { return l.at[i+1].minus(l.at[i]) }
func (l line) out(d float64) []vec {
	list := make([]vec, len(l.at))
	for i, p := range l.at {
		list[i] = p.plus(l.mitre[i].times(d))
	}
	return list
}

// The least radius that flashing bends to without a kink, and the sharpest corner that can be
// formed (common practice).
const (
	leastBend    = 100 * measure.Millimetre
	sharpestTurn = 120 // degrees
)

// perTurn is how far a curve turns from one stretch to the next at most, degrees: such a chord is
// shorter than its arc by less than a thousandth.
const perTurn = 3

// newLine draws a line through points: straight from one to the next, or bent. A thin strip
// that is bent round pegs takes the shape of least bending, a natural cubic spline through
// them (de Boor, A Practical Guide to Splines, from memory).
func newLine(points []design.Point, curved bool) (line, error) {
	var l line
	for i, p := range points {
		if q := placed(p); i == 0 || q != l.at[len(l.at)-1] {
			l.at = append(l.at, q)
		}
	}
	if len(l.at) < 2 {
		return l, fmt.Errorf("a line has two ends: give at least two points")
	}
	if first, last := l.at[0], l.at[len(l.at)-1]; last.u <= first.u {
		return l, fmt.Errorf("a line goes from left to right as one stands below it: the last point lies to the right" +
			" of the first")
	}
	if curved && len(l.at) > 2 {
		l.at = bent(l.at)
	}
	n := len(l.at)
	l.mitre = make([]vec, n)
	for i := range l.at {
		before, after := l.leg(max(0, i-1)), l.leg(min(i, n-2))
		a, b := before.unit().left(), after.unit().left()
		if turn := math.Acos(min(1, a.dot(b))) * 180 / math.Pi; turn > sharpestTurn {
			return l, fmt.Errorf("the line turns by %.0f° at its point %s: up to %d° works",
				turn, nearestPoint(points, l.at[i]), sharpestTurn)
		}
		l.mitre[i] = a.plus(b).times(1 / (1 + a.dot(b)))
	}
	return l, nil
}

// nearestPoint is the number of the point that is nearest to a place.
func nearestPoint(points []design.Point, at vec) string {
	best := 0
	for i, p := range points {
		if placed(p).minus(at).long() < placed(points[best]).minus(at).long() {
			best = i
		}
	}
	return fmt.Sprint(best + 1)
}

// bent is a natural cubic spline through points, cut into stretches that turn little.
func bent(p []vec) []vec {
	n := len(p)
	t := make([]float64, n) // along its chords
	for i := 1; i < n; i++ {
		t[i] = t[i-1] + p[i].minus(p[i-1]).long()
	}
	m := seconds(t, p)
	at := func(i int, s float64) vec {
		h := t[i+1] - t[i]
		a, b := 1-s, s
		bow := m[i].times(a*a*a - a).plus(m[i+1].times(b*b*b - b)).times(h * h / 6)
		return p[i].times(a).plus(p[i+1].times(b)).plus(bow)
	}
	list := []vec{p[0]}
	for i := range n - 1 {
		const fine = 48
		turn, last := 0., vec{}
		for k := range fine {
			leg := at(i, float64(k+1)/fine).minus(at(i, float64(k)/fine))
			if k > 0 {
				turn += math.Abs(math.Atan2(last.turns(leg), last.dot(leg)))
			}
			last = leg
		}
		parts := max(1, math.Ceil(turn*180/math.Pi/perTurn))
		for k := 1.; k <= parts; k++ {
			list = append(list, at(i, k/parts))
		}
	}
	return list
}

// seconds are the second derivatives of a natural cubic spline at its points: none at its ends,
// and a slope without a jump between them, which is a system of three diagonals.
func seconds(t []float64, p []vec) []vec {
	n := len(p)
	m, c := make([]vec, n), make([]float64, n)
	for i := 1; i < n-1; i++ { // downwards
		h, g := t[i]-t[i-1], t[i+1]-t[i]
		d := 2*(h+g) - h*c[i-1]
		c[i] = g / d
		right := p[i+1].minus(p[i]).times(6 / g).minus(p[i].minus(p[i-1]).times(6 / h))
		m[i] = right.minus(m[i-1].times(h)).times(1 / d)
	}
	for i := n - 2; i > 0; i-- { // and back
		m[i] = m[i].minus(m[i+1].times(c[i]))
	}
	return m
}

// tightest is the least radius of all that lies from the line to so far out, where it bends
// towards its left, and of the line itself where it bends the other way, with where that is;
// corners, which are formed, do not count.
func (l line) tightest(far float64) (radius float64, at int) {
	radius = math.Inf(1)
	for i := 1; i < len(l.at)-1; i++ {
		a, b := l.leg(i-1), l.leg(i)
		turn := math.Atan2(a.turns(b), a.dot(b))
		if turn == 0 {
			continue
		}
		r := (a.long() + b.long()) / 2 / math.Abs(turn)
		if turn > 0 {
			r -= far
		}
		if r < radius {
			radius, at = r, i
		}
	}
	return radius, at
}

// clear reports whether the strip from the line to so far out neither folds nor crosses itself.
func (l line) clear(far float64) bool {
	top := l.out(far)
	for i := range len(l.at) - 1 {
		if l.leg(i).dot(top[i+1].minus(top[i])) <= 0 {
			return false
		}
	}
	round := slices.Clone(l.at)
	slices.Reverse(top)
	round = append(round, top...)
	n := len(round)
	for i := range n {
		for k := i + 2; k < n; k++ {
			if i == 0 && k == n-1 {
				continue
			}
			if crosses(round[i], round[i+1], round[k], round[(k+1)%n]) {
				return false
			}
		}
	}
	return true
}

// crosses reports whether two stretches cross.
func crosses(a, b, c, d vec) bool {
	side := func(p, q, r vec) float64 { return q.minus(p).turns(r.minus(p)) }
	return side(a, b, c)*side(a, b, d) < 0 && side(c, d, a)*side(c, d, b) < 0
}

// length is how long the line is so far out.
func (l line) length(far float64) measure.Length {
	sum := 0.
	top := l.out(far)
	for i := range len(top) - 1 {
		sum += top[i+1].minus(top[i]).long()
	}
	return measure.Length(math.Round(sum))
}

// strip is the outline of what lies between two lengths out, anticlockwise.
func (l line) strip(from, to float64) []frame.Spot {
	var list []frame.Spot
	for _, p := range l.out(from) {
		list = append(list, p.spot())
	}
	top := l.out(to)
	for i := len(top) - 1; i >= 0; i-- {
		list = append(list, top[i].spot())
	}
	return list
}
