package strength

import (
	"cmp"
	"math"
	"slices"
)

// Row is a beam over supports in a row, any distance apart; it may stand out past the first
// and the last.
//
//	   |   |  P      |
//	===v===v==v======v===    Each on every metre, and Points
//	  ^      ^        ^      At
type Row struct {
	From, To float64   // its ends, m
	At       []float64 // supports, m, in order, at least one
	Each     float64   // N/m along all of it
	Points   []Point
	Gives    []float64 // m that each support goes down for a N; nil where none gives
	EI       float64   // N·m², where supports give
}

// Point is a load at a place along a beam.
type Point struct{ At, N float64 }

// Carried is how a row carries: what comes to each support, N, upwards; and the greatest
// bending, N·m, and shear, N, anywhere in it.
type Carried struct {
	On            []float64
	Moment, Shear float64
}

// Carry works a row out by the three-moment equation (Clapeyron 1857; any textbook of
// statics). Over a single support all of it comes down there.
func (r Row) Carry() Carried {
	n := len(r.At)
	if r.Gives != nil && n > 2 {
		return r.sweep(r.onSprings())
	}
	total := r.Each * (r.To - r.From)
	for _, p := range r.Points {
		total += p.N
	}
	m := r.overSupports()
	c := Carried{On: make([]float64, n)}
	note := func(moment, shear float64) {
		c.Moment, c.Shear = max(c.Moment, math.Abs(moment)), max(c.Shear, math.Abs(shear))
	}
	left, _ := r.outside(r.At[0], true)
	right, _ := r.outside(r.At[n-1], false)
	if n == 1 {
		c.On[0] = total
		_, a := r.outside(r.At[0], true)
		_, b := r.outside(r.At[0], false)
		note(a, left)
		note(b, right)
		return c
	}
	c.On[0], c.On[n-1] = left, right
	note(m[0], left)
	note(m[n-1], right)
	for i := 0; i+1 < n; i++ {
		start, long := r.At[i], r.At[i+1]-r.At[i]
		up := r.Each*long/2 + (m[i+1]-m[i])/long // at its start
		inside := r.inside(start, long)
		for _, p := range inside {
			up += p.N * (long - p.At) / long
		}
		c.On[i] += up
		v, moment, at := up, m[i], 0.0
		note(moment, v)
		for _, p := range append(inside, Point{At: long}) {
			if d := p.At - at; r.Each > 0 && v > 0 && v < r.Each*d { // no shear: most bending
				note(moment+v*v/(2*r.Each), 0)
			}
			moment += v*(p.At-at) - r.Each*(p.At-at)*(p.At-at)/2
			v -= r.Each * (p.At - at)
			note(moment, v)
			v -= p.N
			note(moment, v)
			at = p.At
		}
		c.On[i+1] -= v
	}
	return c
}

// outside is the load that stands out past an end support, and its bending there.
func (r Row) outside(at float64, before bool) (n, moment float64) {
	over := at - r.From
	if !before {
		over = r.To - at
	}
	if over > 0 {
		n, moment = r.Each*over, r.Each*over*over/2
	}
	for _, p := range r.Points {
		d := at - p.At
		if !before {
			d = -d
		}
		if d > 0 {
			n, moment = n+p.N, moment+p.N*d
		}
	}
	return n, moment
}

// inside are the point loads of a span, in order, from its start.
func (r Row) inside(start, long float64) []Point {
	var list []Point
	for _, p := range r.Points {
		d := p.At - start
		if d < 0 || d > long || d == 0 && start != r.At[0] {
			continue
		}
		i := len(list)
		for i > 0 && list[i-1].At > d {
			i--
		}
		list = append(list, Point{})
		copy(list[i+1:], list[i:])
		list[i] = Point{d, p.N}
	}
	return list
}

// overSupports are the moments over the supports, downwards ones negative.
func (r Row) overSupports() []float64 {
	n := len(r.At)
	m := make([]float64, n)
	_, first := r.outside(r.At[0], true)
	_, last := r.outside(r.At[n-1], false)
	m[0], m[n-1] = -first, -last
	if n < 3 {
		return m
	}
	// m[i-1] a + 2 m[i] (a+b) + m[i+1] b = -right, eliminated downwards and put back.
	diagonal, right := make([]float64, n), make([]float64, n)
	for i := 1; i+1 < n; i++ {
		a, b := r.At[i]-r.At[i-1], r.At[i+1]-r.At[i]
		right[i] = -r.Each * (a*a*a + b*b*b) / 4
		for _, p := range r.inside(r.At[i-1], a) {
			right[i] -= p.N * p.At * (a*a - p.At*p.At) / a
		}
		for _, p := range r.inside(r.At[i], b) {
			d := b - p.At
			right[i] -= p.N * d * (b*b - d*d) / b
		}
		diagonal[i] = 2 * (a + b)
		switch i {
		case 1:
			right[i] -= m[0] * a
		default:
			f := a / diagonal[i-1]
			diagonal[i] -= f * a
			right[i] -= f * right[i-1]
		}
		if i+2 == n {
			right[i] -= m[n-1] * b
		}
	}
	for i := n - 2; i > 0; i-- {
		next := 0.0
		if i+2 < n {
			next = m[i+1] * (r.At[i+1] - r.At[i])
		}
		m[i] = (right[i] - next) / diagonal[i]
	}
	return m
}

// Bow is the greatest deflection, m, of a row that carries Each alone, of a stiffness E I in
// N·m²; looked for at 32 places of each span.
func (r Row) Bow(ei float64) float64 {
	m, most := r.overSupports(), 0.0
	for i := 0; i+1 < len(r.At); i++ {
		l := r.At[i+1] - r.At[i]
		for k := 1; k < 32; k++ {
			x := l * float64(k) / 32
			y := r.Each * x * (l*l*l - 2*l*x*x + x*x*x) / 24
			y += x * (l - x) / (6 * l) * (m[i]*(2*l-x) + m[i+1]*(l+x))
			most = max(most, math.Abs(y))
		}
	}
	return most / ei
}

// Inside returns the bending and the shear at a place of a row that carries Each alone.
func (r Row) Inside(at float64) (moment, shear float64) {
	m := r.overSupports()
	for i := 0; i+1 < len(r.At); i++ {
		if l := r.At[i+1] - r.At[i]; at >= r.At[i] && at <= r.At[i+1] {
			x := at - r.At[i]
			up := r.Each*l/2 + (m[i+1]-m[i])/l
			return m[i] + up*x - r.Each*x*x/2, up - r.Each*x
		}
	}
	return 0, 0
}

// onSprings is what comes to each support where they give: the beam's own line (Macaulay,
// E I y = load of the fourth order less the supports' of the third, and a straight line)
// meets each support where that has gone down to, and up and down and turning balance.
func (r Row) onSprings() []float64 {
	n := len(r.At)
	cube := func(x float64) float64 { return x * x * x / 6 }
	a := make([][]float64, n+2)
	for i := range a {
		a[i] = make([]float64, n+3)
	}
	total, turning := r.Each*(r.To-r.From), r.Each*(r.To-r.From)*(r.To+r.From)/2
	for _, p := range r.Points {
		total, turning = total+p.N, turning+p.N*p.At
	}
	for i, x := range r.At {
		for j, other := range r.At {
			if x > other {
				a[i][j] = cube(x-other) / r.EI
			}
		}
		a[i][i] += r.Gives[i]
		a[i][n], a[i][n+1] = -1, -x
		d := x - r.From
		a[i][n+2] = r.Each * d * d * d * d / 24 / r.EI
		for _, p := range r.Points {
			if x > p.At {
				a[i][n+2] += p.N * cube(x-p.At) / r.EI
			}
		}
		a[n][i], a[n+1][i] = 1, x
	}
	a[n][n+2], a[n+1][n+2] = total, turning
	return eliminate(a)[:n]
}

// eliminate solves linear equations, the largest pivot first; the last column is what they
// come to.
func eliminate(a [][]float64) []float64 {
	n := len(a)
	for c := range n {
		best := c
		for i := c + 1; i < n; i++ {
			if math.Abs(a[i][c]) > math.Abs(a[best][c]) {
				best = i
			}
		}
		a[c], a[best] = a[best], a[c]
		for i := range n {
			if i == c || a[i][c] == 0 {
				continue
			}
			f := a[i][c] / a[c][c]
			for k := c; k <= n; k++ {
				a[i][k] -= f * a[c][k]
			}
		}
	}
	x := make([]float64, n)
	for i := range x {
		x[i] = a[i][n] / a[i][i]
	}
	return x
}

// sweep goes along a beam whose supports' shares are known, from its start, and notes where
// bending and shear are greatest.
func (r Row) sweep(on []float64) Carried {
	c := Carried{On: on}
	events := append([]Point{{At: r.To}}, r.Points...)
	for i, x := range r.At {
		events = append(events, Point{x, -on[i]})
	}
	slices.SortStableFunc(events, func(a, b Point) int { return cmp.Compare(a.At, b.At) })
	moment, v, at := 0.0, 0.0, r.From // v is what pushes up on the part so far
	note := func(m float64) { c.Moment, c.Shear = max(c.Moment, math.Abs(m)), max(c.Shear, math.Abs(v)) }
	for _, e := range events {
		d := e.At - at
		if r.Each > 0 && v > 0 && v < r.Each*d { // no shear: most bending
			c.Moment = max(c.Moment, math.Abs(moment+v*v/(2*r.Each)))
		}
		moment += v*d - r.Each*d*d/2
		v -= r.Each * d
		note(moment)
		v -= e.N
		note(moment)
		at = e.At
	}
	return c
}
