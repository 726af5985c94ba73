package cutting

import (
	"cmp"
	"math"
	"slices"

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
	program *tableau
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
	l.program = newTableau(price, most)
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
	r := row{of: make([]int64, len(l.fills)), least: int64(least)}
	for j, f := range l.fills {
		r.of[j] = int64(of(f))
	}
	l.program.add(r)
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
func (l *listed) search(p *tableau, rounds int) money.Amount {
	t := l.t
	bound := money.Amount(0)
	for round := 0; ; round++ {
		if ray := l.solve(p); ray != nil {
			return max(bound, l.none(p, ray))
		}
		bound = max(bound, l.bound(p, p.prices()))
		if bound >= t.cost || t.stopped() || l.whole(p) {
			return min(bound, t.cost)
		}
		if round == rounds || !l.tighten(p) {
			break
		}
	}
	x := p.times()
	at, most := -1, 1e-6
	for j, v := range x {
		if part := v - math.Floor(v+1e-6); part > most {
			at, most = j, part
		}
	}
	if at < 0 {
		return bound
	}
	size := len(p.lines) * len(p.more)
	if l.held+size > mostHeld {
		return bound // too deep
	}
	l.held += size
	t.g.effort -= int64(size) / 8 // copying is quick
	floor := int64(math.Floor(x[at] + 1e-6))
	more, fewer := row{of: make([]int64, len(x)), least: floor + 1}, row{of: make([]int64, len(x)), least: -floor}
	more.of[at], fewer.of[at] = 1, -1
	up := p.copied()
	up.add(more)
	least := l.search(up, partRounds)
	if l.held -= size; t.stopped() {
		return bound
	}
	p.add(fewer)
	return max(bound, min(least, l.search(p, partRounds)))
}

func (l *listed) solve(p *tableau) (ray []float64) {
	spent := p.spent
	ray = p.solve(float64(l.t.cost) + 1)
	l.t.g.effort -= p.spent - spent
	return ray
}

// tighten puts in planes, those first that cut off most, and reports whether there
// are any.
func (l *listed) tighten(p *tableau) bool {
	type made struct {
		row row
		by  float64
	}
	var planes []made
	spent := p.spent
	x := p.times()
	for i, v := range p.rhs {
		if math.Abs(v-math.Round(v)) > 1e-4 {
			if r, by := p.plane(i, x); by > 0 {
				planes = append(planes, made{r, by})
			}
		}
	}
	slices.SortStableFunc(planes, func(a, b made) int { return cmp.Compare(b.by, a.by) })
	p.drop()
	for _, m := range planes[:min(len(planes), mostPlanes)] {
		p.add(m.row)
	}
	l.t.g.effort -= p.spent - spent
	return len(planes) > 0
}

// listScale is the parts of a cent that bounds of listed fillings are reckoned in.
const listScale = 1 << 16

// bound is a bound from prices of rows, as a total that boards can come to.
func (l *listed) bound(p *tableau, y []float64) money.Amount {
	return l.t.g.sums.up(money.Amount(roundUp(p.bound(y, listScale), listScale)), 0)
}

// none is the bound of a program that nothing keeps: along the ray that shows it the
// prices of rows may rise until no plan is cheaper than the best.
func (l *listed) none(p *tableau, ray []float64) money.Amount {
	gain := 0.0
	for r, v := range ray {
		gain += v * float64(p.rows[r].least)
	}
	if gain <= 0 {
		return 0
	}
	y, by := p.prices(), (2*float64(l.t.cost)+1)/gain
	for r, v := range ray {
		y[r] += by * v
	}
	return min(l.bound(p, y), l.t.cost)
}

// whole offers the program's numbers as a plan where they are whole and keep all its
// rows.
func (l *listed) whole(p *tableau) bool {
	times := make([]int64, len(l.fills))
	var fills []fill
	for j, v := range p.times() {
		n := math.Round(v)
		if n < 0 || math.Abs(v-n) > 1e-6 {
			return false
		}
		times[j] = int64(n)
		for range times[j] {
			fills = append(fills, l.fills[j])
		}
	}
	for _, r := range p.rows {
		sum := int64(0)
		for j, n := range times {
			sum += r.of[j] * n
		}
		if sum < r.least {
			return false
		}
	}
	l.t.offer(fills, nil)
	return true
}
