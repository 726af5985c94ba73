package cutting

import (
	"slices"

	"chamfer/core/money"
)

// Boards that are owned cost nothing, so that a plan of the least price may open twenty
// where ten would do. One rule says which of such plans is wanted: what is left in the end,
// opened or not, is to be worth most, every leftover by its length's square and its width,
// below the keep length nothing. A plan that opens a long board for a short piece loses by
// that more than one that takes a short board.
//
// Small jobs are walked through whole and keep the rule exactly. For others a plan is looked
// for that opens the least of what is owned, with the boards that the cheapest plan buys,
// and then boards are cut anew two at a time; that it is the best is not said.

// Looking for such a plan may take a part of the effort, and no more than this.
const (
	againPart = 4
	againMost = 1_200_000
)

// spared looks for a plan with the boards that some fills buy which opens less of what is
// owned. It returns nil where nothing is opened or no such plan is found.
func (g *group) spared(st state, fills []fill) []fill {
	bought := make([]int, len(g.stock))
	opened := false
	for _, f := range fills {
		s := g.ways[f.way].stock
		bought[s]++
		opened = opened || g.stock[s].owned()
	}
	if !opened || g.sheet() || g.cut || !slices.Contains(g.aims, Leftovers) {
		return nil
	}
	again := *g
	again.stock = slices.Clone(g.stock)
	again.pool, again.columns, again.like, again.progress = nil, nil, nil, nil
	again.kept = &kept{}
	again.reserve = 0
	again.effort = min(g.effort/againPart, againMost)
	st = st.copied()
	dearest := money.Amount(0)
	for s := range again.stock {
		if g.stock[s].owned() {
			// By its square as the rule has it, in parts so coarse that totals stay few.
			again.stock[s].Price = 1 + money.Amount(worthParts*float64(g.whole[s])/float64(slices.Max(g.whole)+1))
		} else {
			again.stock[s].Price, st.most[s] = 0, bought[s]
		}
		dearest = max(dearest, again.stock[s].Price)
	}
	again.weigh(dearest, count(st.want))
	was := again.effort
	best, cost, _ := again.search(st)
	g.effort -= max(0, was-again.effort)
	if cost >= again.without {
		return nil
	}
	return best
}

// worthParts is what the board that is worth most is priced at.
const worthParts = 99
