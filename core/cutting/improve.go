package cutting

import (
	"fmt"
	"slices"
)

// Of all plans at the least price the one is wanted that does best by the aims.
// The search for the price does not look at them; afterwards boards are taken
// two at a time and cut anew where that does better and costs no more.

// worthOf judges a whole plan.
func (g *group) worthOf(fills []fill) worth {
	w := worth{price: g.priceOf(fills), boards: len(fills), ok: true}
	seen := map[string]bool{}
	for _, f := range fills {
		seen[f.key()] = true
		for _, l := range g.left(f) {
			w.useful += g.useful(l)
		}
	}
	w.setups = len(seen)
	return w
}

func (f fill) key() string { return fmt.Sprint(f.way, f.takes) }

// mostPairs bounds the work of one round of improvement.
const mostPairs = 120

// improve recuts pairs of boards while that does better by the aims.
func (g *group) improve(st state, fills []fill) []fill {
	if !g.plain() || len(g.aims) == 0 {
		return fills
	}
	spare := st.copied()
	for _, f := range fills {
		spare.use(g, f, 1)
	}
	now := g.worthOf(fills)
	pairs := 0
	for better := true; better; {
		better = false
		for a := 0; a < len(fills) && !better; a++ {
			for b := a + 1; b < len(fills) && !better; b++ {
				if pairs++; pairs > mostPairs || g.effort <= 0 {
					return fills
				}
				if b > a+1 && fills[b].key() == fills[b-1].key() {
					continue // the same pair again
				}
				two := state{want: make([]int, len(g.kinds)), least: make([]int, len(g.stock)), most: slices.Clone(spare.most)}
				for _, f := range []fill{fills[a], fills[b]} {
					for k, n := range f.gets {
						two.want[k] += n
					}
					if s := g.ways[f.way].stock; two.most[s] >= 0 {
						two.most[s]++
					}
				}
				anew, ok := exact(g, two, 600)
				if !ok {
					continue
				}
				next := slices.Concat(fills[:a:a], fills[a+1:b], fills[b+1:], anew)
				if w := g.worthOf(next); w.better(now, g.aims) {
					fills, now, better = next, w, true
					spare = st.copied()
					for _, f := range fills {
						spare.use(g, f, 1)
					}
				}
			}
		}
	}
	return fills
}
