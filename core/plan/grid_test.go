package plan_test

import (
	"math"
	"slices"
)

// grid is a small stiffness program of its own: straight beams that bend out of one plane,
// joined where they cross (Hermite elements, textbook; a dense matrix, Gauss). It knows
// nothing of how the plan reckons, and lets everything give that bends.
type grid struct {
	sinks map[[2]int]int // the deflection of a place, by its millimetres
	tied  map[int]bool   // places along, in millimetres, where all that lie side by side go down together
	held  map[int]bool
	n     int
	parts []stick
}

// stick is a piece between two nodes next to one another.
type stick struct {
	of          string
	wi, wj      int
	ri, rj      int
	long, ei, q float64
}

func newGrid() *grid { return &grid{sinks: map[[2]int]int{}, held: map[int]bool{}} }

func (g *grid) sink(u, v float64) int {
	key := [2]int{int(math.Round(u * 1000)), int(math.Round(v * 1000))}
	if g.tied[key[0]] {
		key[1] = 0
	}
	if _, ok := g.sinks[key]; !ok {
		g.sinks[key] = g.n
		g.n++
	}
	return g.sinks[key]
}

// lay lays a beam along x or y through places on it, with a load on every metre.
func (g *grid) lay(of string, alongX bool, across float64, at []float64, ei, q float64) {
	at = slices.Clone(at)
	slices.Sort(at)
	at = slices.CompactFunc(at, func(a, b float64) bool { return math.Abs(b-a) < 0.0005 })
	turn := make([]int, len(at))
	for i := range at {
		turn[i] = g.n
		g.n++
	}
	place := func(x float64) int {
		if alongX {
			return g.sink(x, across)
		}
		return g.sink(across, x)
	}
	for i := 1; i < len(at); i++ {
		g.parts = append(g.parts, stick{of, place(at[i-1]), place(at[i]), turn[i-1], turn[i], at[i] - at[i-1], ei, q})
	}
}

func (s stick) matrix() [4][4]float64 {
	l, k := s.long, s.ei/(s.long*s.long*s.long)
	return [4][4]float64{
		{12 * k, 6 * l * k, -12 * k, 6 * l * k}, {6 * l * k, 4 * l * l * k, -6 * l * k, 2 * l * l * k},
		{-12 * k, -6 * l * k, 12 * k, -6 * l * k}, {6 * l * k, 2 * l * l * k, -6 * l * k, 4 * l * l * k}}
}

func (s stick) ends() [4]int { return [4]int{s.wi, s.ri, s.wj, s.rj} }

func (s stick) fixed() [4]float64 {
	return [4]float64{s.q * s.long / 2, s.q * s.long * s.long / 12, s.q * s.long / 2, -s.q * s.long * s.long / 12}
}

// solve returns where everything is pushed to, and what every held place bears.
func (g *grid) solve() (d []float64, bears map[int]float64) {
	a := make([][]float64, g.n)
	for i := range a {
		a[i] = make([]float64, g.n+1)
	}
	for _, s := range g.parts {
		k, f, at := s.matrix(), s.fixed(), s.ends()
		for i := range 4 {
			for j := range 4 {
				a[at[i]][at[j]] += k[i][j]
			}
			a[at[i]][g.n] += f[i]
		}
	}
	whole := make([][]float64, g.n)
	for i := range a {
		whole[i] = slices.Clone(a[i])
	}
	for i := range g.held {
		for j := range a[i] {
			a[i][j] = 0
		}
		a[i][i] = 1
	}
	for c := range g.n { // with the largest first
		best := c
		for r := c + 1; r < g.n; r++ {
			if math.Abs(a[r][c]) > math.Abs(a[best][c]) {
				best = r
			}
		}
		a[c], a[best] = a[best], a[c]
		for r := range g.n {
			if r == c || a[r][c] == 0 || a[c][c] == 0 {
				continue
			}
			f := a[r][c] / a[c][c]
			for j := c; j <= g.n; j++ {
				a[r][j] -= f * a[c][j]
			}
		}
	}
	d = make([]float64, g.n)
	for i := range d {
		if a[i][i] != 0 {
			d[i] = a[i][g.n] / a[i][i]
		}
	}
	bears = map[int]float64{}
	for i := range g.held {
		for j := range g.n {
			bears[i] -= whole[i][j] * d[j]
		}
		bears[i] += whole[i][g.n]
	}
	return d, bears
}

// most is the greatest bending of each beam, at its nodes and inside its sticks.
func (g *grid) most(d []float64) map[string]float64 {
	list := map[string]float64{}
	for _, s := range g.parts {
		k, f, at := s.matrix(), s.fixed(), s.ends()
		var end [4]float64
		for i := range 4 {
			for j := range 4 {
				end[i] += k[i][j] * d[at[j]]
			}
			end[i] -= f[i]
		}
		for step := range 21 { // shear end[0] upwards on the near end, moment end[1]
			x := s.long * float64(step) / 20
			list[s.of] = max(list[s.of], math.Abs(-end[1]+end[0]*x+s.q*x*x/2))
		}
	}
	return list
}
