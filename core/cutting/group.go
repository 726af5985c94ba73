package cutting

import (
	"cmp"
	"fmt"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// kind is all pieces of one size, whoever asked for them.
type kind struct {
	length measure.Length
	width  measure.Length // ripped to; 0 is the board's own
	// It may lie along the board, and across it.
	straight, turn bool
	size           int64 // length + kerf
	want           int
	yield          int     // the most that one cut gives
	names          []named // who asked, in order
}

type named struct {
	id       string
	quantity int
}

// problem is what of one profile is to be cut from what, for one request: it is made once, and
// nothing that searches changes it, but that further ways to lay a sheet out are found on the
// way; see [group.layOut].
type problem struct {
	kerf, ripKerf, keep measure.Length
	aims                []Aim
	kinds               []kind // longest first
	stock               []Stock
	classes             []class
	ways                []way
	cut                 bool         // not all ways to rip a board are tried
	full                int          // so many of classes, the first, are of whole widths
	scale               int64        // parts of a cent that bounds are reckoned in
	without             money.Amount // what a piece that is left out counts
	// of each kind, what it takes of a board's length at least; nil where nothing is known
	takes  []int64
	roomIn []int64 // of each stock, what there is to take
	whole  []int64 // of each stock, what a board counts among the leftovers that is not opened
	shop   *ShopSaw
	like   []Board
}

// group is a search of the problem of one profile, and what it comes to.
type group struct {
	problem
	effort, reserve int64
	sums            sums // what boards can come to; more of it is known once there is a plan to beat
	pool            []*column
	columns         []column // room for the next ones
	listed          int      // columns there have been
	hard            []int    // of each class, so many times a knapsack is a table at once
	kept            *kept    // from one program for the next
	beside          [3]*kept // of work done side by side
	progress        func(cost money.Amount)
	stop            <-chan struct{}

	cost   money.Amount
	bound  money.Amount
	boards []Board
	unmet  []Unmet
	best   bool // no plan of this cost leaves more
}

// kept is room for the numbers of a program and of a knapsack, used again and
// again.
type kept struct {
	table      []int64
	points     []point
	list, next []int32
	m          *master
}

func newGroup(r Request, profile string) *group {
	g := &group{
		problem: problem{kerf: r.Kerf, ripKerf: r.RipKerf, keep: r.Keep, aims: r.Aims, shop: r.Shop},
		reserve: reserve,
		effort:  r.Effort,
		stop:    r.Stop,
		kept:    &kept{},
		beside:  [3]*kept{{}, {}, {}},
	}
	if r.Progress != nil {
		g.progress = func(cost money.Amount) { r.Progress(profile, cost) }
	}
	for _, b := range r.Like {
		if b.Stock.Profile == profile {
			g.like = append(g.like, b)
		}
	}
	longest, dearest := measure.Length(0), money.Amount(0)
	for _, s := range r.Stock {
		if s.Profile != profile || s.Quantity == 0 {
			continue
		}
		g.stock = append(g.stock, s)
		dearest = max(dearest, s.Price)
		for _, run := range s.runs() {
			if s.parted {
				run[1] = min(run[1], run[0]+r.Shop.Carry)
			}
			longest = max(longest, run[1]-run[0])
		}
	}
	pieces := 0
	for _, p := range r.Pieces {
		if p.Profile != profile {
			continue
		}
		straight := p.Length <= longest && (p.Width <= g.wide() || g.wide() == 0)
		turn := p.Turn && p.Width <= longest && p.Length <= g.wide()
		if !straight && !turn {
			reason := fmt.Sprintf("there is no %s to cut it from", profile)
			if longest > 0 {
				reason = fmt.Sprintf("at %v it is longer than the longest %s there is, %v", p.Length, profile, longest)
			}
			if longest > 0 && p.Length <= longest {
				reason = fmt.Sprintf("at %v it is wider than the widest %s there is, %v", p.Width, profile, g.wide())
			}
			g.unmet = append(g.unmet, Unmet{p.ID, p.Quantity, reason})
			continue
		}
		if !turn && g.oneWidth() && p.Width >= g.wide() {
			p.Width = 0
		}
		same := kind{length: p.Length, width: p.Width, straight: straight, turn: turn, size: int64(p.Length + r.Kerf)}
		i := slices.IndexFunc(g.kinds, func(k kind) bool {
			return k.length == same.length && k.width == same.width && k.turn == same.turn
		})
		if i < 0 {
			i = len(g.kinds)
			same.yield = perWidth(g.wide(), p.Width, r.RipKerf)
			if turn {
				same.yield = max(same.yield, perWidth(g.wide(), p.Length, r.RipKerf))
			}
			g.kinds = append(g.kinds, same)
		}
		g.kinds[i].want += p.Quantity
		g.kinds[i].names = append(g.kinds[i].names, named{p.ID, p.Quantity})
		pieces += p.Quantity
	}
	slices.SortStableFunc(
		g.kinds,
		func(a, b kind) int { return cmp.Or(-cmp.Compare(a.length, b.length), -cmp.Compare(a.width, b.width)) },
	)
	g.weigh(dearest, pieces)
	g.parted()
	g.hard = make([]int, len(g.classes))
	g.takes, g.roomIn, g.whole = g.shares(), g.rooms(), g.unopened()
	return g
}

// weigh sets what a piece left out counts, and the parts of a cent that bounds are reckoned
// in, by the dearest board. A thousandth of a piece left out counts more than all boards
// could cost; and every value of a board in parts of a cent stays a whole number of 62 bits.
func (g *group) weigh(dearest money.Amount, pieces int) {
	g.without = 1000 * (dearest + 1) * money.Amount(pieces+1)
	g.scale = 1 << 20
	for g.scale > 1 && g.dearest()*float64(pieces+1)*float64(g.scale) > 1<<61 {
		g.scale /= 2
	}
}

// small is how much of the search through everything is tried before the linear
// program is set up.
const small = 4_000

// smallOwned is how much of it is where boards are owned, for only the search through
// everything keeps most of them.
const smallOwned = 30_000

func (g *group) solve() {
	if len(g.kinds) == 0 {
		return
	}
	var st state
	for _, k := range g.kinds {
		st.want = append(st.want, k.want)
	}
	for _, s := range g.stock {
		st.most, st.least = append(st.most, s.Quantity), append(st.least, 0)
	}
	if !g.sheet() && !g.cut {
		effort := small
		if len(g.aims) > 0 && slices.ContainsFunc(g.stock, Stock.owned) {
			effort = smallOwned
		}
		if best, ok := exact(g, st, effort); ok {
			g.take(best)
			g.bound, g.best = g.cost, true
			return
		}
	}
	fills, cost, bound := g.search(st)
	again := g.spared(st, fills)
	fills = g.improve(st, fills)
	if again != nil {
		again = g.improve(st, again)
		if g.judge(again).worth.better(g.judge(fills).worth, g.aims) {
			fills = again
		}
	}
	left := slices.Clone(st.want)
	for _, f := range fills {
		for k, n := range f.gets {
			left[k] = max(0, left[k]-n)
		}
	}
	g.take(fills)
	for k, n := range left {
		if n > 0 {
			g.runOut(k, n)
		}
	}
	switch {
	case cost >= g.without:
	case g.sheet() || g.cut:
		// What is searched is not all that can be sawn: only the area is sure.
		g.bound = min(g.cost, g.sums.up(0, 0))
	default:
		g.bound = bound
	}
	// What was left out might have cost anything: no bound is claimed.
}

// runOut records n pieces of a kind as unmet, those asked for last first.
func (g *group) runOut(i, n int) {
	k := g.kinds[i]
	for j := len(k.names) - 1; j >= 0 && n > 0; j-- {
		m := min(n, k.names[j].quantity)
		g.unmet = append(g.unmet, Unmet{k.names[j].id, m, "the stock runs out"})
		n -= m
	}
}

// left is what remains of each run after its last saw cut: every piece eats its
// length and a kerf, but no cut is made past the end.
func (g *group) left(f fill) []measure.Length {
	runs := g.ways[f.way].runs
	left := make([]measure.Length, len(runs))
	for r, run := range runs {
		room := run.room
		for i, n := range f.takes[r] {
			room -= g.classes[run.class].items[i].size * int64(n)
		}
		left[r] = max(0, measure.Length(room)-g.kerf)
	}
	return left
}

// trimmed takes out of fills what is more than is wanted.
func (g *group) trimmed(fills []fill) []fill {
	over := make([]int, len(g.kinds)) // less than a whole cut's yield is no more than can be helped
	for k := range over {
		over[k] = -g.kinds[k].want
	}
	for _, f := range fills {
		for k, n := range f.gets {
			over[k] += n
		}
	}
	var out []fill
	for _, f := range fills {
		takes := cloneTakes(f.takes)
		for r, run := range g.ways[f.way].runs {
			for i, it := range g.classes[run.class].items {
				for takes[r][i] > 0 && !slices.ContainsFunc(it.gets, func(y yield) bool { return over[y.kind] < y.n }) {
					takes[r][i]--
					for _, y := range it.gets {
						over[y.kind] -= y.n
					}
				}
			}
		}
		if f = g.filled(f.way, takes); slices.Max(f.gets) > 0 {
			out = append(out, f)
		}
	}
	return out
}

// take turns fills into boards: alike boards together, pieces named, longest
// piece first in every run.
func (g *group) take(fills []fill) {
	fills = g.trimmed(fills)
	slices.SortStableFunc(fills, func(a, b fill) int {
		return cmp.Or(
			slices.Compare(b.gets, a.gets),
			cmp.Compare(a.way, b.way),
			slices.CompareFunc(b.takes, a.takes, slices.Compare),
		)
	})
	namer := newNamer(g.kinds)
	for _, f := range fills {
		w := g.ways[f.way]
		b := Board{Stock: g.stock[w.stock], Count: 1, Part: w.part}
		g.cost += b.Stock.Price
		var left []measure.Length
		stretches := len(g.stock[w.stock].runs())
		for r, run := range w.runs {
			strip := 0
			if g.classes[run.class].width > 0 {
				strip = r/stretches + 1
				if r%stretches == 0 {
					b.Strips = append(b.Strips, g.classes[run.class].width)
				}
			}
			at := run.at
			for i, n := range f.takes[r] {
				it := g.classes[run.class].items[i]
				for range n {
					if it.strips != nil {
						at = g.takeBlank(&b, it, at, namer)
						continue
					}
					c := Cut{
						Length: g.kinds[it.kind()].length,
						At:     at,
						Strip:  strip,
						Width:  g.kinds[it.kind()].width,
						Turned: it.turned,
					}
					if it.turned {
						c.Length, c.Width = c.Width, c.Length
					}
					for range it.gets[0].n {
						id, ok := namer.next(it.kind())
						if !ok {
							break // one more than wanted comes out
						}
						if c.Piece != "" && c.Piece != id { // two names from one blank
							b.Cuts = append(b.Cuts, c)
							c.Out = 0
						}
						c.Piece = id
						c.Out++
					}
					if c.Piece == "" {
						continue // nothing of it is wanted after all
					}
					b.Cuts = append(b.Cuts, c)
					at = c.End() + g.kerf
				}
			}
			left = append(left, max(0, run.at+run.length-at))
		}
		b.Offcut = slices.Max(left)
		if len(w.runs) > 1 {
			b.Left = left
		}
		if last := len(g.boards) - 1; last >= 0 && sameStock(g.boards[last].Stock, b.Stock) &&
			g.boards[last].Part == b.Part &&
			slices.Equal(g.boards[last].Cuts, b.Cuts) &&
			slices.EqualFunc(g.boards[last].Blanks, b.Blanks, Blank.same) {
			g.boards[last].Count++
			continue
		}
		g.boards = append(g.boards, b)
	}
}

func sameStock(a, b Stock) bool {
	return a.ID == b.ID && slices.Equal(a.Defects, b.Defects) && a.Length == b.Length
}
