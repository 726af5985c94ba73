package cutting

import (
	"math"

	"chamfer/core/cutting/planes"
	"chamfer/core/money"
)

// Where a plan cheaper than the best so far could be made of few fillings only, all
// of them are listed. The program over them needs no others to be found, so that it
// can be cut down to whole numbers by planes, and what those leave open is searched.

// mostListed is how many fillings are listed at most.
const mostListed = 4000

// listed is what is left to do, by fillings that are all listed.
type listed struct {
	t       *tree
	fills   []fill
	program *planes.Program
	held    int // numbers in the programs that wait to be searched
}

// mostHeld is how many such numbers there may be, of eight bytes each.
const mostHeld = 16 << 20

// list is every filling that a plan cheaper than the best so far could be made of;
// false where they are too many.
func (t *tree) list(st state, b priced) (*listed, bool) {
	g := t.g
	room := t.room(0, b)
	if g.sheet() || g.cut || t.cost > g.without || room.Sign() < 0 || !room.IsInt64() {
		return nil, false
	}
	l := &listed{t: t}
	waste := t.waste(st, t.cost-1)
	var price, most []int64
	for w, way := range g.ways {
		s := way.stock
		if st.most[s] == 0 {
			continue
		}
		found := &lister{
			g:     g,
			way:   w,
			value: b.value,
			least: g.base(s, st, b) - room.Int64(),
			kind:  anyKind,
			waste: waste,
			most:  mostListed - len(l.fills),
		}
		if found.list(st); found.cut {
			return nil, false
		}
		for _, f := range found.found {
			l.fills, price, most = append(
				l.fills,
				f,
			), append(
				price,
				int64(g.stock[s].Price),
			), append(
				most,
				int64(st.need(f)+st.least[s]),
			)
		}
	}
	l.program = planes.New(price, most)
	for k, n := range st.want {
		if n > 0 {
			l.row(n, func(f fill) int { return min(n, f.gets[k]) })
		}
	}
	for s := range g.stock {
		boards := func(f fill) int {
			if g.ways[f.way].stock == s {
				return 1
			}
			return 0
		}
		if st.least[s] > 0 {
			l.row(st.least[s], boards)
		}
		if st.most[s] >= 0 {
			l.row(-st.most[s], func(f fill) int { return -boards(f) })
		}
	}
	return l, true
}

// need is how often a filling is needed at most: after so many times all that it
// yields is there.
func (s state) need(f fill) int {
	times := 0
	for k, n := range f.gets {
		if n > 0 {
			times = max(times, (s.want[k]+n-1)/n)
		}
	}
	return times
}

func (l *listed) row(least int, of func(f fill) int) {
	r := planes.Row{Of: make([]int64, len(l.fills)), Least: int64(least)}
	for j, f := range l.fills {
		r.Of[j] = int64(of(f))
	}
	l.program.Add(r)
}

// byList searches a range by all fillings that are worth trying, where they are few
// enough, and raises its bound.
func (t *tree) byList(n *span, effort int64) {
	t.g.within(effort, func() {
		if l, ok := t.list(n.st, n.b); ok {
			n.bound = max(n.bound, l.search(l.program, planeRounds))
		}
	})
}

// Planes are put in so many times before a program is split, and so many times in
// its parts; so many at once.
const (
	planeRounds = 20
	partRounds  = 3
	mostPlanes  = 15
)

// search returns a bound for all plans that keep the program's rows.
func (l *listed) search(p *planes.Program, rounds int) money.Amount {
	t := l.t
	bound := money.Amount(0)
	for round := 0; ; round++ {
		if ray := l.solve(p); ray != nil {
			return max(bound, l.none(p, ray))
		}
		bound = max(bound, l.bound(p, p.Prices()))
		if bound >= t.cost || t.stopped() || l.whole(p) {
			return min(bound, t.cost)
		}
		if round == rounds || !l.tighten(p) {
			break
		}
	}
	x := p.Times()
	at, most := -1, wholly
	for j, v := range x {
		if part := v - math.Floor(v+wholly); part > most {
			at, most = j, part
		}
	}
	if at < 0 {
		return bound
	}
	size := p.Size()
	if l.held+size > mostHeld {
		return bound // too deep
	}
	l.held += size
	t.g.effort -= int64(size) / 8 // copying is quick
	floor := int64(math.Floor(x[at] + wholly))
	more := planes.Row{Of: make([]int64, len(x)), Least: floor + 1}
	fewer := planes.Row{Of: make([]int64, len(x)), Least: -floor}
	more.Of[at], fewer.Of[at] = 1, -1
	up := p.Copied()
	up.Add(more)
	least := l.search(up, partRounds)
	if l.held -= size; t.stopped() {
		return bound
	}
	p.Add(fewer)
	return max(bound, min(least, l.search(p, partRounds)))
}

func (l *listed) solve(p *planes.Program) (ray []float64) {
	spent := p.Spent
	ray = p.Solve(float64(l.t.cost) + 1)
	l.t.g.effort -= p.Spent - spent
	return ray
}

// tighten puts in planes, and reports whether there are any.
func (l *listed) tighten(p *planes.Program) bool {
	spent := p.Spent
	any := p.Tighten(mostPlanes)
	l.t.g.effort -= p.Spent - spent
	return any
}

// listScale is the parts of a cent that bounds of listed fillings are reckoned in.
const listScale = 1 << 16

// bound is a bound from prices of rows, as a total that boards can come to.
func (l *listed) bound(p *planes.Program, y []float64) money.Amount {
	return l.t.g.sums.up(money.Amount(planes.RoundUp(p.Bound(y, listScale), listScale)), 0)
}

// none is the bound of a program that nothing keeps: along the ray that shows it the
// prices of rows may rise until no plan is cheaper than the best.
func (l *listed) none(p *planes.Program, ray []float64) money.Amount {
	gain := 0.0
	for r, v := range ray {
		gain += v * float64(p.Rows[r].Least)
	}
	if gain <= 0 {
		return 0
	}
	y, by := p.Prices(), (2*float64(l.t.cost)+1)/gain
	for r, v := range ray {
		y[r] += by * v
	}
	return min(l.bound(p, y), l.t.cost)
}

// whole offers the program's numbers as a plan where they are whole and keep all its
// rows.
func (l *listed) whole(p *planes.Program) bool {
	times := make([]int64, len(l.fills))
	var fills []fill
	for j, v := range p.Times() {
		n := math.Round(v)
		if n < 0 || math.Abs(v-n) > wholly {
			return false
		}
		times[j] = int64(n)
		for range times[j] {
			fills = append(fills, l.fills[j])
		}
	}
	for _, r := range p.Rows {
		sum := int64(0)
		for j, n := range times {
			sum += r.Of[j] * n
		}
		if sum < r.Least {
			return false
		}
	}
	l.t.offer(fills, nil)
	return true
}
