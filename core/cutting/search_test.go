package cutting

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// searched solves a request by the linear program and its search alone, without
// the walk through everything that small jobs otherwise get.
func searched(r Request) (cost, bound money.Amount, fills []fill, g *group) {
	r.Keep, r.Effort, r.RipKerf = 300*measure.Millimetre, DefaultEffort, r.Kerf
	g = newGroup(r, r.Pieces[0].Profile)
	var st state
	for _, k := range g.kinds {
		st.want = append(st.want, k.want)
	}
	for _, s := range g.stock {
		st.most, st.least = append(st.most, s.Quantity), append(st.least, 0)
	}
	fills, cost, bound = g.search(st)
	return cost, bound, fills, g
}

// The search against brute force, on jobs small enough for it.
func TestSearchAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 17))
	for i := range 3000 {
		q := random(r, 1+r.IntN(9))
		want := cheapest(q)
		cost, bound, _, g := searched(q)
		if len(g.unmet) > 0 || want < 0 {
			if want >= 0 || len(g.unmet) == 0 && cost < g.without {
				t.Fatalf("%d: brute force finds %v, the search %v, %d too long\n%+v", i, want, cost, len(g.unmet), q)
			}
			continue
		}
		if cost != want || bound != want {
			t.Fatalf("%d: %v with bound %v, least is %v\n%+v", i, cost, bound, want, q)
		}
	}
}
