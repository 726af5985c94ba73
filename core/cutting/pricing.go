package cutting

import (
	"slices"
)

// values are the prices of the kinds as whole numbers, a little low: the program
// is out by about so much, and no stock is then worth more than its price.
func (m *master) values() []int64 {
	v := make([]int64, len(m.demand))
	for k, r := range m.demand {
		if r >= 0 {
			v[k] = max(0, int64(min(max(m.y[r], 0), m.g.dearest())*float64(m.g.scale))-2)
		}
	}
	return v
}

// price looks for fillings that would pay at the present prices, and returns
// the best of them as a column, or -1.
func (m *master) price() int {
	best, least := -1, -m.fine
	m.asked = m.values()
	if m.g.sheet() {
		for s := range m.g.stock {
			if m.st.most[s] != 0 {
				m.g.layOut(s, m.asked, m.st, 0)
			}
		}
	}
	worth := m.g.worthiest(m.asked, m.st)
	m.worth = m.g.byStock(worth)
	for w, fills := range worth {
		if fills.takes == nil {
			continue
		}
		c := m.g.column(m.g.filled(w, fills.takes))
		if len(c.kinds) == 0 {
			continue
		}
		rc := m.reduced(c)
		if rc >= -m.fine {
			continue
		}
		m.g.keepColumn(c)
		m.cols = append(m.cols, c)
		if rc < least {
			best, least = len(m.cols)-1, rc
		}
	}
	return best
}

// wayWorth is the most a way can be worth, and the filling that is.
type wayWorth struct {
	value int64
	takes [][]int
}

// worthiest fills every way that may be used with what is worth most, no kind
// more often than it is wanted in any one run.
func (g *group) worthiest(value []int64, st state) []wayWorth {
	out := make([]wayWorth, len(g.ways))
	usable := func(w int) bool { return st.most[g.ways[w].stock] != 0 }
	for w := range g.ways {
		if usable(w) {
			out[w].takes = make([][]int, len(g.ways[w].runs))
		}
	}
	for c, class := range g.classes {
		var rooms []int64
		for w := range g.ways {
			for _, r := range g.ways[w].runs {
				if usable(w) && r.class == c && !slices.Contains(rooms, r.room) {
					rooms = append(rooms, r.room)
				}
			}
		}
		if len(rooms) == 0 {
			continue
		}
		worth, most := make([]int64, len(class.items)), make([]int, len(class.items))
		for i, it := range class.items {
			worth[i], most[i] = it.worth(value), it.most(st.want)
		}
		found := g.fillBest(c, worth, most, rooms)
		for w := range g.ways {
			for r, run := range g.ways[w].runs {
				if usable(w) && run.class == c {
					f := found[slices.Index(rooms, run.room)]
					out[w].value += f.value
					out[w].takes[r] = f.takes
				}
			}
		}
	}
	return out
}

// mostColumns is how many fillings are remembered from program to program.
const mostColumns = 3000

func (g *group) keepColumn(c *column) {
	if len(g.pool) < mostColumns {
		g.pool = append(g.pool, c)
	}
}
