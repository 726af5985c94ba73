package cutting

import (
	"math"
	"slices"
)

// The linear program behind the proof: how often to use each filling, in parts,
// for the least money, so that every piece is there and no stock is exceeded.
// Fillings are too many to list; those that are worth using are found by a
// knapsack at the prices the program puts on the pieces (Gilmore and Gomory
// 1961, Operations Research 9:849). The program is reckoned in floating point;
// what is claimed from it is reckoned again in whole numbers, in [bound].

// column is a filling in the program.
type column struct {
	price float64
	stock int
	kinds []int // it yields
	count []float64
	mixed uint32 // a number of its own
	fill  fill
}

// state is what is left to do: pieces wanted, and of each stock the fewest and
// the most boards that may still be used (most below zero: any number).
type state struct {
	want, least, most []int
}

func (s state) copied() state {
	return state{slices.Clone(s.want), slices.Clone(s.least), slices.Clone(s.most)}
}

func (s state) done() bool { return !slices.ContainsFunc(s.want, func(n int) bool { return n > 0 }) }

// use takes a filling out of what is left to do.
func (s *state) use(g *group, f fill, times int) {
	for k, n := range f.gets {
		s.want[k] = max(0, s.want[k]-n*times)
	}
	st := g.ways[f.way].stock
	s.least[st] = max(0, s.least[st]-times)
	if s.most[st] >= 0 {
		s.most[st] -= times
	}
}

// master is the program of one state.
type master struct {
	g       *group
	st      state
	rows    int
	demand  []int // row of each kind, -1 where none is wanted
	atMost  []int // row of each stock, or -1
	atLeast []int
	rhs     []float64
	cols    []*column
	basis   []int // column, or slack and artificial below zero
	inv     []float64
	x       []float64
	y       []float64 // prices of rows
	asked   []int64   // values that fillings were last looked for at
	worth   []int64   // the most a board of each stock was worth at them
	column  []float64 // that is being brought in, as the basis sees it
	filled  []int     // places of the row a pivot is on that are not zero
	tilt    int       // the program is tilted this way; 0 is not
	of      []float64 // prices of kinds, and after them of stocks
	fine    float64   // how much a filling has to save at them
}

// perMaster and perColumn are the work of setting a program up and of listing a
// filling, by which small programs count.
const (
	perMaster = 3_000
	perColumn = 400
)

func (g *group) master(st state) *master {
	m := g.kept.m
	if m == nil {
		m = &master{}
	}
	g.kept.m = nil
	*m = master{
		g:       g,
		st:      st,
		demand:  m.demand[:0],
		atMost:  m.atMost[:0],
		atLeast: m.atLeast[:0],
		rhs:     m.rhs[:0],
		cols:    m.cols[:0],
		basis:   m.basis,
		inv:     m.inv,
		x:       m.x,
		y:       m.y,
		column:  m.column,
		of:      m.of,
		filled:  m.filled[:0],
	}
	g.effort -= perMaster + 2*int64(len(g.pool))
	row := func(rhs int) int {
		// A little is added to every row, so that ties are few.
		m.rhs = append(m.rhs, float64(rhs)+ties*float64(1+len(m.rhs)%7))
		m.rows++
		return m.rows - 1
	}
	for _, n := range st.want {
		r := -1
		if n > 0 {
			r = row(n)
		}
		m.demand = append(m.demand, r)
	}
	for s := range g.stock {
		most, least := -1, -1
		if st.most[s] >= 0 {
			most = row(st.most[s])
		}
		if st.least[s] > 0 {
			least = row(st.least[s])
		}
		m.atMost, m.atLeast = append(m.atMost, most), append(m.atLeast, least)
	}
	for _, c := range g.pool {
		if m.usable(c) {
			m.cols = append(m.cols, c)
		}
	}
	m.basis = slices.Grow(m.basis[:0], m.rows)[:m.rows]
	m.inv, m.x, m.y = zeros(m.inv, m.rows*m.rows), zeros(m.x, m.rows), zeros(m.y, m.rows)
	m.column, m.of = zeros(m.column, m.rows), zeros(m.of, len(m.demand)+len(m.atMost))
	copy(m.x, m.rhs)
	for r := range m.rows {
		m.basis[r] = m.artificial(r)
		m.inv[r*m.rows+r] = 1
	}
	for _, r := range m.atMost {
		if r >= 0 {
			m.basis[r] = slack(r)
		}
	}
	return m
}

// done gives the program's room to the next one; it must not be used any more.
func (m *master) done() { m.g.kept.m = m }

// zeros is a list of so many, in the room of another where it has as much.
func zeros(list []float64, n int) []float64 {
	list = slices.Grow(list[:0], n)[:n]
	clear(list)
	return list
}

// slack and artificial are the basis entries of a row.
func slack(r int) int { return -1 - r }

func (m *master) artificial(r int) int { return -1 - m.rows - r }

// usable reports whether a filling yields nothing that is not wanted.
func (m *master) usable(c *column) bool {
	if m.st.most[c.stock] == 0 {
		return false
	}
	for i, k := range c.kinds {
		if int(c.count[i]) >= m.st.want[k]+m.g.kinds[k].yield {
			return false
		}
	}
	return true
}

// missing is the cost of a piece that is left out: more than all others can be.
func (g *group) missing() float64 { return float64(g.without) }

// dearest is the most that a piece is priced at. That may be more than one left out
// costs, for once a kind is cut in full none of it is left out again; were it less,
// ranges of too few boards would seem to be worth searching.
func (g *group) dearest() float64 { return 16 * g.missing() }

func (m *master) costOf(entry int) float64 {
	switch {
	case entry >= 0:
		return m.priceOf(m.cols[entry])
	case entry < -m.rows:
		return m.g.missing()
	}
	return 0
}

// block is how many columns are looked at before the best of them is taken.
const block = 100

// solve brings the program to its least, from the fillings another program used
// where there are any. It is false where it gave up.
func (m *master) solve(from []*column) bool {
	m.prices()
	for _, c := range from {
		if m.usable(c) && m.reduced(c) < -m.fine {
			m.cols = append(m.cols, c)
			m.pivot(len(m.cols)-1, m.through(c))
		}
	}
	at := 0
	for round := 0; round < 60*m.rows+400; round++ {
		if m.g.effort -= int64(m.rows * m.rows); m.g.effort <= 0 {
			return false
		}
		if round%50 == 49 {
			m.prices()
		}
		if r := m.enteringSlack(); r >= 0 {
			col := m.column
			sign := 1.0 // of a slack; a surplus counts against its row
			if !slices.Contains(m.atMost, r) {
				sign = -1
			}
			for i := range m.rows {
				col[i] = sign * m.inv[i*m.rows+r]
			}
			if !m.pivot(slack(r), col) {
				return false
			}
			continue
		}
		best, least := -1, -m.fine
		for seen := 0; seen < len(m.cols); seen++ {
			if at++; at >= len(m.cols) {
				at = 0
			}
			if rc := m.reduced(m.cols[at]); rc < least {
				best, least = at, rc
			}
			if best >= 0 && seen%block == block-1 {
				break
			}
			m.g.effort -= 3
		}
		if best < 0 {
			m.prices() // exactly, before anything is concluded from them
			if best = m.price(); best < 0 {
				return true
			}
		}
		if !m.pivot(best, m.through(m.cols[best])) {
			return false
		}
	}
	return false
}

// prices of the rows: the costs of the basis through its inverse.
func (m *master) prices() {
	clear(m.y)
	for i, entry := range m.basis {
		c := m.costOf(entry)
		if c == 0 {
			continue
		}
		row := m.inv[i*m.rows : (i+1)*m.rows]
		for r, v := range row {
			m.y[r] += c * v
		}
	}
	m.index()
	m.fine = finest
	for _, v := range m.of {
		m.fine = max(m.fine, coarse*math.Abs(v))
	}
}

// index lists the prices by kind and stock.
func (m *master) index() {
	for k, r := range m.demand {
		if r >= 0 {
			m.of[k] = m.y[r]
		}
	}
	stocks := m.of[len(m.demand):]
	for s := range stocks {
		stocks[s] = 0
		for _, r := range [2]int{m.atMost[s], m.atLeast[s]} {
			if r >= 0 {
				stocks[s] += m.y[r]
			}
		}
	}
}

// enteringSlack finds a row whose price has the wrong sign.
func (m *master) enteringSlack() int {
	best, worst := -1, tiny
	try := func(r int, wrong float64) {
		if r >= 0 && wrong > worst {
			best, worst = r, wrong
		}
	}
	for _, r := range m.demand {
		if r >= 0 {
			try(r, -m.y[r])
		}
	}
	for s := range m.atMost {
		if r := m.atMost[s]; r >= 0 {
			try(r, m.y[r])
		}
		if r := m.atLeast[s]; r >= 0 {
			try(r, -m.y[r])
		}
	}
	return best
}

// priceOf is a filling's price, by a little more for some than for others where
// the program is tilted, so that of several solutions it comes to another.
func (m *master) priceOf(c *column) float64 {
	if m.tilt == 0 {
		return c.price
	}
	mixed := c.mixed ^ uint32(m.tilt)*2246822519
	mixed = (mixed ^ mixed>>15) * 2654435761
	return c.price + float64(mixed>>8)/(1<<24)*0.2
}

func (m *master) reduced(c *column) float64 {
	rc := m.priceOf(c) - m.of[len(m.demand)+c.stock]
	count := c.count[:len(c.kinds)]
	for i, k := range c.kinds {
		rc -= m.of[k] * count[i]
	}
	return rc
}

// through is a column as the basis sees it.
func (m *master) through(c *column) []float64 {
	out := m.column
	clear(out)
	add := func(r int, v float64) {
		if r < 0 {
			return
		}
		for i := range m.rows {
			out[i] += m.inv[i*m.rows+r] * v
		}
	}
	for i, k := range c.kinds {
		add(m.demand[k], c.count[i])
	}
	add(m.atMost[c.stock], 1)
	add(m.atLeast[c.stock], 1)
	return out
}

// pivot brings an entry into the basis; false where nothing limits it.
func (m *master) pivot(entry int, col []float64) bool {
	leave, ratio := -1, math.Inf(1)
	for i, v := range col {
		if v <= pivotal {
			continue
		}
		if r := m.x[i] / v; r < ratio-tie || leave >= 0 && r < ratio+tie && v > col[leave] {
			leave, ratio = i, r
		}
	}
	if leave < 0 {
		return false
	}
	pivotRow := m.inv[leave*m.rows : (leave+1)*m.rows]
	d := col[leave]
	m.filled = m.filled[:0]
	for r := range pivotRow {
		if pivotRow[r] /= d; pivotRow[r] != 0 {
			m.filled = append(m.filled, r)
		}
	}
	m.x[leave] /= d
	for i, v := range col {
		if i == leave || v == 0 {
			continue
		}
		row := m.inv[i*m.rows : (i+1)*m.rows][:len(pivotRow)]
		if 2*len(m.filled) < m.rows {
			for _, r := range m.filled {
				row[r] -= v * pivotRow[r]
			}
		} else {
			for r, p := range pivotRow {
				row[r] -= v * p
			}
		}
		m.x[i] = max(0, m.x[i]-v*m.x[leave])
	}
	m.basis[leave] = entry
	// The prices move along the new row, by what the entry would have saved.
	rc := m.costOf(entry)
	if entry >= 0 {
		rc = m.reduced(m.cols[entry])
	} else if r := -1 - entry; r < m.rows {
		rc = -m.y[r]
		if !slices.Contains(m.atMost, r) {
			rc = m.y[r]
		}
	}
	for r, p := range pivotRow {
		m.y[r] += rc * p
	}
	m.index()
	return true
}

func (g *group) column(f fill) *column {
	if len(g.columns) == cap(g.columns) {
		g.columns = make([]column, 0, 256) // side by side, for they are gone through often
	}
	g.columns = append(g.columns, column{fill: f, stock: g.ways[f.way].stock})
	c := &g.columns[len(g.columns)-1]
	g.effort -= perColumn
	g.listed++
	c.mixed = uint32(g.listed) * 2654435761
	c.price = float64(g.stock[c.stock].Price)
	for k, n := range f.gets {
		if n > 0 {
			c.kinds, c.count = append(c.kinds, k), append(c.count, float64(n))
		}
	}
	return c
}

// shares are the fillings in use, and how often, in parts.
func (m *master) shares() (cols []*column, times []float64) {
	for i, entry := range m.basis {
		if entry >= 0 && m.x[i] > wholly {
			cols, times = append(cols, m.cols[entry]), append(times, m.x[i])
		}
	}
	return cols, times
}
