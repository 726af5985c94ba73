package cutting

import (
	"cmp"
	"encoding/binary"
	"math"
	"math/big"
	"slices"
	"sync"

	"chamfer/core/money"
)

// Boards' prices add up to few totals near the least, and few fillings are worth trying
// where a plan may cost no more than one of them. So the totals are tried from the lowest:
// all such fillings are listed, and a walk puts them together until every piece is there
// or no way is left, which shows that a plan costs more. No program is solved on the way:
// a filling that is worth less than its price, at the first program's prices, uses up of
// what the total leaves.

// walkEffort is what the walk for one total may take, and a part of walksShare of all
// effort what all of them may.
const (
	walkEffort = 8_000_000
	walksShare = 3
	walksShort = 8 // of little effort, for one walk
)

// mostWalked is how many fillings a walk puts together at most.
const mostWalked = 16_000

// mostFirst is how many they are before ranges are split: with more there is mostly a plan.
const mostFirst = 2_000

// quickly splits ranges by their numbers of boards, the one with the lowest bound first,
// and walks for the least total of those whose numbers the program leaves whole, until
// the best plan is shown to be the cheapest or a walk takes too long. It returns the
// ranges that are left.
func (t *tree) quickly(first span) []span {
	g := t.g
	open := []span{first}
	if g.sheet() || g.cut || g.sums.unit == 0 || t.cost >= g.without {
		return open
	}
	g.within(g.effort/walksShare, func() {
		for first.bound < t.cost && t.walkFor(&first, first.bound, nil, min(firstEffort, g.effort/walksShort), 1,
			mostFirst) {
		}
		t.after(&first)
		open[0] = first
		for range mostRanges {
			if t.stopped() {
				return
			}
			open = slices.DeleteFunc(open, func(n span) bool { return n.bound >= t.cost })
			if len(open) == 0 {
				return
			}
			var n span
			n, open = lowest(open)
			s, floor, parted := g.partBoards(n.cols, n.times)
			if parted {
				open = t.halves(n, s, floor, open, g.effort > besideEffort)
				continue
			}
			t.after(&n)
			ended := n.bound >= t.cost || t.walk(&n, n.bound, nil, walkEffort)
			if n.bound < t.cost {
				open = append(open, n)
			}
			if !ended {
				return
			}
		}
	})
	return open
}

// walker puts listed fillings together for a total.
type walker struct {
	t     *tree
	g     *group
	value []int64
	fills []tried
	gets  []int32 // kinds of the fillings and how many of each, one filling after another
	takes []int16 // of their runs' items, likewise
	st    state
	room  []int64 // that so many units of money buy at most; nil where it is not listed
	need  int64   // room that what is wanted takes
	path  []int32
	seen  map[string]int64 // what a walk from a state failed with
	kinds []int            // of one state: in how many fillings each kind is
	key   []byte
	list  []choose // of all states on the path, one after another
	order []choose // of those, the ones that are gone on with
	undo  []int    // what was wanted before each step of the path

	rooms []int64 // what room is kept in
}

// walkers are put aside between walks: one lists some thousands of fillings, and there are
// dozens of walks.
var walkers = sync.Pool{New: func() any { return &walker{seen: map[string]int64{}} }}

// begin makes an old walker ready.
func (w *walker) begin(t *tree, n *span) {
	clear(w.seen)
	*w = walker{t: t, g: t.g, value: n.b.value, st: n.st.copied(), seen: w.seen,
		fills: w.fills[:0], gets: w.gets[:0], takes: w.takes[:0], path: w.path[:0], key: w.key[:0],
		list: w.list[:0], order: w.order[:0], undo: w.undo[:0], rooms: w.rooms[:0],
		kinds: slices.Grow(w.kinds[:0], len(t.g.kinds))[:len(t.g.kinds)]}
	clear(w.kinds)
}

// tried is a filling, and what a board of its stock has to be worth.
type tried struct {
	price    money.Amount
	base     int64
	stock    int
	way      int
	from, to int32 // of gets
	takes    int32 // where its own begin
}

// choose is a filling that may come next, and what it uses up.
type choose struct {
	fill int32
	adds int64
}

// narrow is by how much the fillings are fewer that a walk begins with: those that use up
// least make a plan soonest, where there is one.
var narrow = []int64{16, 4, 1}

// besideEffort is how much effort there is where it pays to part work of a millisecond.
const besideEffort = 5_000_000

// mostRanges is how many ranges are looked at quickly.
const mostRanges = 64

// after dives from a range for a plan of its least total.
func (t *tree) after(n *span) {
	t.target = n.bound
	for skip := 0; skip < quickDives && n.bound < t.cost; skip++ {
		t.dive(n.st, nil, n.cols, n.times, skip, 0)
	}
	t.target = 0
}

// A dive that is after one total walks for it once so few pieces are left, each time with
// so much work.
var quickTails = []int{48, 32, 20, 10}

const (
	quickDives  = 2
	quickEffort = 300_000
	firstEffort = 600_000
)

// walk looks for a plan that begins with some fillings and goes on in a range, of no more
// than a total in all, and reports whether it came to its end. Where there is none, the
// range's bound is past the total then.
func (t *tree) walk(n *span, total money.Amount, done []fill, effort int64) bool {
	for _, part := range narrow {
		if t.walkFor(n, total, done, effort/part, part, int(mostWalked/part)) {
			return true
		}
	}
	return false
}

// walkFor walks by those of the fillings only that use up no more than a part of what the
// total leaves, and only where they are no more than the most.
func (t *tree) walkFor(n *span, total money.Amount, done []fill, effort, part int64, most int) bool {
	g := t.g
	left := total - g.priceOf(done)
	room := new(big.Int).Mul(big.NewInt(int64(left)), big.NewInt(g.scale))
	if room.Sub(room, n.b.bound); room.Sign() < 0 || !room.IsInt64() {
		return false
	}
	w := walkers.Get().(*walker)
	defer walkers.Put(w)
	w.begin(t, n)
	found, ended := false, false
	g.within(effort, func() {
		if w.listed(n, left, room.Int64()/part, most) {
			found = w.from(left, room.Int64(), 0, len(w.list))
			ended = g.effort > 0
		}
	})
	if found {
		fills := slices.Clone(done)
		for _, i := range w.path {
			fills = append(fills, w.made(i))
		}
		t.offer(fills, nil)
		return true
	}
	if part > 1 || !ended || t.stopped() {
		return false
	}
	n.bound = g.sums.up(total+1, 0)
	return true
}

// listed lists the fillings of a range that use up no more than so much of what a total
// leaves; false where they are more than the most.
func (w *walker) listed(n *span, total money.Amount, room int64, most int) bool {
	g := w.g
	waste := w.t.waste(n.st, total)
	for way := range g.ways {
		s := g.ways[way].stock
		if n.st.most[s] == 0 {
			continue
		}
		base := g.base(s, n.st, n.b)
		l := &lister{
			g:     g,
			way:   way,
			value: w.value,
			least: base - room,
			kind:  anyKind,
			waste: waste,
			most:  most - len(w.fills),
		}
		l.keep = func() { w.keep(l, base) }
		if l.list(n.st); l.cut {
			return false
		}
	}
	if g.takes != nil {
		for k, n := range n.st.want {
			w.need += int64(n) * g.takes[k]
		}
		if w.rooms = append(w.rooms, g.sums.most...); len(w.rooms) > 0 {
			w.room = w.rooms
		}
		for c := 1; c < len(w.room); c++ {
			w.room[c] = max(w.room[c], w.room[c-1])
		}
	}
	return true
}

// keep takes the filling that a lister has come to.
func (w *walker) keep(l *lister, base int64) {
	s := w.g.ways[l.way].stock
	f := tried{
		price: w.g.stock[s].Price,
		base:  base,
		stock: s,
		way:   l.way,
		from:  int32(len(w.gets)),
		takes: int32(len(w.takes)),
	}
	for k, n := range l.before {
		if n > l.want[k] {
			w.gets = append(w.gets, int32(k), int32(n-l.want[k]))
		}
	}
	for _, run := range l.takes {
		for _, n := range run {
			w.takes = append(w.takes, int16(n))
		}
	}
	f.to = int32(len(w.gets))
	w.list = append(w.list, choose{fill: int32(len(w.fills))})
	w.fills = append(w.fills, f)
	w.g.effort -= keepSteps
}

// made is a kept filling as it was found.
func (w *walker) made(i int32) fill {
	f := w.fills[i]
	at := f.takes
	var takes [][]int
	for _, r := range w.g.ways[f.way].runs {
		run := make([]int, len(w.g.classes[r.class].items))
		for i := range run {
			run[i] = int(w.takes[at])
			at++
		}
		takes = append(takes, run)
	}
	return w.g.filled(f.way, takes)
}

// keepSteps is about how many of the smallest steps the keeping of a filling takes,
// stateSteps a state on the walk, and fillSteps one of the fillings looked at there.
const (
	keepSteps  = 60
	stateSteps = 600
	fillSteps  = 12
)

// from puts fillings of a part of the list together until nothing is wanted, for so much
// money and so much that they may be worth less than their price.
func (w *walker) from(left money.Amount, room int64, lo, hi int) bool {
	if w.st.done() {
		return true
	}
	if w.room != nil {
		if c := min(int64(left/w.g.sums.unit), int64(len(w.room)-1)); c < 0 || w.room[c] < w.need {
			return false
		}
	}
	w.key = w.key[:0]
	for _, list := range [2][]int{w.st.want, w.st.most} {
		for _, n := range list {
			w.key = binary.AppendVarint(w.key, int64(n))
		}
	}
	if failed, ok := w.seen[string(w.key)]; ok && failed >= room {
		return false
	}
	w.g.effort -= stateSteps + fillSteps*int64(hi-lo)
	key := string(w.key)
	clear(w.kinds)
	end := len(w.list)
	defer func() { w.list = w.list[:end] }()
	for _, c := range w.list[lo:hi] {
		f := &w.fills[c.fill]
		if f.price > left || w.st.most[f.stock] == 0 {
			continue
		}
		over, any := f.base, false
		gets := w.gets[f.from:f.to]
		for j := 0; j < len(gets); j += 2 {
			if n := min(int(gets[j+1]), w.st.want[gets[j]]); n > 0 {
				over -= int64(n) * w.value[gets[j]]
				any = true
			}
		}
		if !any || over > room {
			continue
		}
		w.list = append(w.list, choose{c.fill, over})
		for j := 0; j < len(gets); j += 2 {
			w.kinds[gets[j]]++
		}
	}
	still := len(w.list)
	next, fewest := -1, math.MaxInt
	for k, n := range w.st.want {
		if n > 0 && w.kinds[k] < fewest {
			next, fewest = k, w.kinds[k]
		}
	}
	first := len(w.order)
	defer func() { w.order = w.order[:first] }()
	for _, c := range w.list[end:still] {
		f := &w.fills[c.fill]
		for j := f.from; j < f.to; j += 2 {
			if int(w.gets[j]) == next {
				w.order = append(w.order, c)
			}
		}
	}
	last := len(w.order)
	slices.SortStableFunc(w.order[first:], func(a, b choose) int { return cmp.Compare(a.adds, b.adds) })
	for i := first; i < last; i++ {
		c := w.order[i]
		if w.t.stopped() {
			return false
		}
		f := &w.fills[c.fill]
		was := len(w.undo)
		w.undo = append(w.undo, w.st.want...)
		need := w.need
		for j := f.from; j < f.to; j += 2 {
			k := w.gets[j]
			got := min(int(w.gets[j+1]), w.st.want[k])
			w.st.want[k] -= got
			if w.room != nil {
				w.need -= int64(got) * w.g.takes[k]
			}
		}
		if w.st.most[f.stock] > 0 {
			w.st.most[f.stock]--
		}
		w.path = append(w.path, c.fill)
		if w.from(left-f.price, room-c.adds, end, still) {
			return true
		}
		w.path = w.path[:len(w.path)-1]
		if w.st.most[f.stock] >= 0 {
			w.st.most[f.stock]++
		}
		copy(w.st.want, w.undo[was:])
		w.undo = w.undo[:was]
		w.need = need
	}
	if !w.t.stopped() {
		w.seen[key] = room
	}
	return false
}
