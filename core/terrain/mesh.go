package terrain

import (
	"math"
	"math/big"
	"slices"
)

// delaunay joins spots to triangles of which none has another spot inside its circle, so
// that they are as little drawn out as can be (Delaunay 1934). Spots are swept from left to
// right, each joined to what it sees of the outside; then edges are turned until none wants
// to be (Lawson 1977). Which way of two that are as good is taken follows from the order of
// the spots alone.
func delaunay(spots []Spot) [][3]int {
	m := &mesher{at: make([][2]int64, len(spots))}
	order := make([]int, len(spots))
	for i, s := range spots {
		order[i] = i
		m.at[i] = [2]int64{int64(math.Round(s.X * 1e4)), int64(math.Round(s.Y * 1e4))}
	}
	slices.SortFunc(order, func(a, b int) int {
		if d := m.at[a][0] - m.at[b][0]; d != 0 {
			return sign(d)
		}
		return sign(m.at[a][1] - m.at[b][1])
	})
	m.sweep(order)
	m.turn()
	return m.triangles
}

type mesher struct {
	at        [][2]int64 // tenths of a millimetre
	triangles [][3]int
}

func sign(d int64) int { return int(min(1, max(-1, d))) }

// side is over zero where c lies to the left of a to b; places are within a kilometre, so
// that it is exact.
func (m *mesher) side(a, b, c int) int64 {
	p, q, r := m.at[a], m.at[b], m.at[c]
	return (q[0]-p[0])*(r[1]-p[1]) - (q[1]-p[1])*(r[0]-p[0])
}

// sweep joins spots in order to what they see of the outside of those before.
func (m *mesher) sweep(order []int) {
	n := 2 // how many begin in one line
	for n < len(order) && m.side(order[0], order[1], order[n]) == 0 {
		n++
	}
	if n >= len(order) {
		return // all in one line: there is no surface
	}
	tip, line := order[n], order[:n]
	var hull []int // anticlockwise
	left := m.side(line[0], line[1], tip) > 0
	for i := range n - 1 {
		if left {
			m.triangles = append(m.triangles, [3]int{line[i], line[i+1], tip})
		} else {
			m.triangles = append(m.triangles, [3]int{line[i+1], line[i], tip})
		}
	}
	if hull = append(slices.Clone(line), tip); !left {
		slices.Reverse(hull)
	}
	for _, p := range order[n+1:] {
		seen := make([]bool, len(hull))
		for i, a := range hull {
			seen[i] = m.side(a, hull[(i+1)%len(hull)], p) < 0
		}
		var next []int
		for i, a := range hull {
			b := hull[(i+1)%len(hull)]
			before := seen[(i+len(hull)-1)%len(hull)]
			if seen[i] {
				m.triangles = append(m.triangles, [3]int{b, a, p})
			}
			if !(seen[i] && before) {
				next = append(next, a)
			}
			if seen[i] && !seen[(i+1)%len(hull)] {
				next = append(next, p)
			}
		}
		hull = next
	}
}

// turn turns edges between two triangles until each is the better of the two there are.
func (m *mesher) turn() {
	type edge [2]int
	of := map[edge]int{} // the triangle to whose left an edge lies
	put := func(t int) {
		v := m.triangles[t]
		for k := range 3 {
			of[edge{v[k], v[(k+1)%3]}] = t
		}
	}
	var todo []edge
	for t, v := range m.triangles {
		put(t)
		for k := range 3 {
			if v[k] < v[(k+1)%3] {
				todo = append(todo, edge{v[k], v[(k+1)%3]})
			}
		}
	}
	for len(todo) > 0 {
		e := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		t, ok := of[e]
		o, there := of[edge{e[1], e[0]}]
		if !ok || !there {
			continue
		}
		c, d := opposite(m.triangles[t], e), opposite(m.triangles[o], e)
		if !m.inside(e[0], e[1], c, d) {
			continue
		}
		delete(of, e)
		delete(of, edge{e[1], e[0]})
		m.triangles[t], m.triangles[o] = [3]int{e[0], d, c}, [3]int{d, e[1], c}
		put(t)
		put(o)
		todo = append(todo, edge{e[0], d}, edge{d, e[1]}, edge{e[1], c}, edge{c, e[0]})
	}
}

func opposite(t [3]int, e [2]int) int {
	for _, v := range t {
		if v != e[0] && v != e[1] {
			return v
		}
	}
	return -1
}

// inside reports whether d lies inside the circle through a, b and c, which are
// anticlockwise. What floating point cannot tell is reckoned exactly.
func (m *mesher) inside(a, b, c, d int) bool {
	var x, y, w [3]float64
	for i, p := range []int{a, b, c} {
		x[i], y[i] = float64(m.at[p][0]-m.at[d][0]), float64(m.at[p][1]-m.at[d][1])
		w[i] = x[i]*x[i] + y[i]*y[i]
	}
	var det, size float64
	for i := range 3 {
		j, k := (i+1)%3, (i+2)%3
		det += w[i] * (x[j]*y[k] - x[k]*y[j])
		size += w[i] * (math.Abs(x[j]*y[k]) + math.Abs(x[k]*y[j]))
	}
	if math.Abs(det) > 1e-13*size {
		return det > 0
	}
	exact := new(big.Int)
	for i := range 3 {
		j, k := (i+1)%3, (i+2)%3
		whole := func(f float64) *big.Int { return big.NewInt(int64(f)) }
		minor := new(big.Int).Sub(new(big.Int).Mul(whole(x[j]), whole(y[k])), new(big.Int).Mul(whole(x[k]), whole(y[j])))
		lift := new(big.Int).Add(new(big.Int).Mul(whole(x[i]), whole(x[i])), new(big.Int).Mul(whole(y[i]), whole(y[i])))
		exact.Add(exact, minor.Mul(minor, lift))
	}
	return exact.Sign() > 0
}
