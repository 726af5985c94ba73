package cutting

import (
	"cmp"
	"slices"

	"chamfer/core/measure"
)

// A blank is crosscut from a board, ripped into strips of several widths, and the strips
// are crosscut into pieces:
//
//	|  piece  |k| piece |left|
//	--------------------------   rip
//	|          piece         |
//
// All those that can be of use are listed: strips lie side by side until no further width
// fits in, every strip is full, the longest is the blank's length, and there is no place
// where a cut through all of them would make two shorter blanks of it.

// Ways to cut a blank that are listed, and how many are looked at for that; of more, a
// plan is not said to be the cheapest.
const (
	mostBlanks  = 400
	blanksTried = 60_000
)

// blanksOf lists the blanks of a board's width.
func (g *group) blanksOf(wide measure.Length) []item {
	b := &blanker{g: g, wide: wide, tries: blanksTried, seen: map[string]int{}}
	for k, kind := range g.kinds {
		if kind.width <= 0 || kind.width >= wide || !kind.straight {
			continue
		}
		i := slices.IndexFunc(b.lanes, func(l lane) bool { return l.width == kind.width })
		if i < 0 {
			i = len(b.lanes)
			b.lanes = append(b.lanes, lane{width: kind.width})
		}
		b.lanes[i].kinds = append(b.lanes[i].kinds, k)
	}
	if len(b.lanes) == 0 {
		return nil
	}
	slices.SortFunc(b.lanes, func(a, b lane) int { return -cmp.Compare(a.width, b.width) })
	b.room = g.blankRoom(wide)
	for i := range b.lanes {
		b.fills(i)
	}
	b.side(0, wide+g.ripKerf)
	if b.tries <= 0 || len(b.found) > mostBlanks {
		g.cut = true
	}
	return b.found[:min(len(b.found), mostBlanks)]
}

// blankRoom is the longest that a blank can be and not fill its run: what does is a
// board that is ripped first.
func (g *group) blankRoom(wide measure.Length) int64 {
	least := int64(measure.MaxLength)
	for _, k := range g.kinds {
		least = min(least, k.size)
	}
	room := int64(0)
	for _, s := range g.stock {
		if g.widthOf(s) != wide {
			continue
		}
		runs := s.runs()
		for _, r := range runs {
			length := int64(r[1] - r[0] + g.kerf)
			if len(runs) == 1 && !s.parted && s.Width > 0 {
				length -= least
			}
			room = max(room, length)
		}
	}
	return room
}

// lane is a width that strips are ripped to, what is as wide, and the ways to fill one.
type lane struct {
	width measure.Length
	kinds []int
	fills []laneFill // shortest first
}

type laneFill struct {
	size int64
	gets []int // of the lane's kinds
}

type blanker struct {
	g     *group
	wide  measure.Length
	room  int64
	lanes []lane
	mix   []int // lanes side by side
	picks []int // their fills
	tries int
	seen  map[string]int // found, by what comes out
	found []item
}

// fills lists the ways to fill a strip of a lane.
func (b *blanker) fills(i int) {
	l := &b.lanes[i]
	gets := make([]int, len(l.kinds))
	var add func(k int, size int64)
	add = func(k int, size int64) {
		if b.tries--; b.tries <= 0 {
			return
		}
		if k == len(l.kinds) {
			l.fills = append(l.fills, laneFill{size, slices.Clone(gets)})
			return
		}
		kind := b.g.kinds[l.kinds[k]]
		for n := 0; n <= kind.want && size+int64(n)*kind.size <= b.room; n++ {
			gets[k] = n
			add(k+1, size+int64(n)*kind.size)
		}
		gets[k] = 0
	}
	add(0, 0)
	slices.SortStableFunc(l.fills, func(a, b laneFill) int { return cmp.Compare(a.size, b.size) })
}

// side puts lanes side by side until no further one fits in.
func (b *blanker) side(from int, room measure.Length) {
	if b.tries <= 0 {
		return
	}
	if len(b.mix) > 1 && b.lanes[len(b.lanes)-1].width+b.g.ripKerf > room {
		b.fill(0)
	}
	for i := from; i < len(b.lanes); i++ {
		if need := b.lanes[i].width + b.g.ripKerf; need <= room {
			b.mix = append(b.mix, i)
			b.side(i, room-need)
			b.mix = b.mix[:len(b.mix)-1]
		}
	}
}

// fill picks a filling for each strip from the s-th on.
func (b *blanker) fill(s int) {
	if b.tries--; b.tries <= 0 {
		return
	}
	if s == len(b.mix) {
		b.take()
		return
	}
	l := b.lanes[b.mix[s]]
	first := 0
	if s > 0 && b.mix[s-1] == b.mix[s] { // of strips of one width the shorter first
		first = b.picks[s-1]
	}
	for i := first; i < len(l.fills); i++ {
		b.picks = append(b.picks, i)
		if !b.over() {
			b.fill(s + 1)
		}
		b.picks = b.picks[:len(b.picks)-1]
	}
}

// gets is what comes out of the strips that are filled.
func (b *blanker) gets() []int {
	n := make([]int, len(b.g.kinds))
	for s, pick := range b.picks {
		l := b.lanes[b.mix[s]]
		for k, of := range l.fills[pick].gets {
			n[l.kinds[k]] += of
		}
	}
	return n
}

// over reports whether the strips hold more of a kind than is wanted.
func (b *blanker) over() bool {
	for k, n := range b.gets() {
		if n > b.g.kinds[k].want {
			return true
		}
	}
	return false
}

// take keeps a blank if nothing more goes in, and if it is no two blanks.
func (b *blanker) take() {
	size := int64(0)
	for s, pick := range b.picks {
		size = max(size, b.lanes[b.mix[s]].fills[pick].size)
	}
	if size == 0 {
		return
	}
	gets := b.gets()
	for s, pick := range b.picks {
		l := b.lanes[b.mix[s]]
		for _, k := range l.kinds {
			if gets[k] < b.g.kinds[k].want && l.fills[pick].size+b.g.kinds[k].size <= size {
				return
			}
		}
	}
	if b.parts(size) {
		return
	}
	it := item{size: size}
	key := make([]byte, 0, 2*len(gets))
	for k, n := range gets {
		key = append(key, byte(n), byte(n>>8))
		if n > 0 {
			it.gets = append(it.gets, yield{k, n})
		}
	}
	if only := it.gets[0]; len(it.gets) == 1 && only.n <= perWidth(b.wide, b.g.kinds[only.kind].width, b.g.ripKerf) {
		return // pieces side by side
	}
	for s, pick := range b.picks {
		l := b.lanes[b.mix[s]]
		if l.fills[pick].size == 0 {
			continue // nothing wanted is as short
		}
		st := strip{width: l.width}
		for k, n := range l.fills[pick].gets {
			for range n {
				st.kinds = append(st.kinds, l.kinds[k])
			}
		}
		it.strips = append(it.strips, st)
	}
	if at, ok := b.seen[string(key)]; ok {
		if b.found[at].size > size {
			b.found[at] = it
		}
		return
	}
	b.seen[string(key)] = len(b.found)
	b.found = append(b.found, it)
}

// parts reports whether a cut through all strips makes two blanks of one.
func (b *blanker) parts(size int64) bool {
	sums := make([][]int64, len(b.picks))
	for s, pick := range b.picks {
		l := b.lanes[b.mix[s]]
		list := []int64{0}
		for k, n := range l.fills[pick].gets {
			was := len(list)
			for _, sum := range list[:was] {
				for t := 1; t <= n; t++ {
					list = append(list, sum+int64(t)*b.g.kinds[l.kinds[k]].size)
				}
			}
		}
		slices.Sort(list)
		sums[s] = slices.Compact(list)
	}
	for _, list := range sums {
		for _, at := range list {
			if at > 0 && at < size && b.partsAt(at, size, sums) {
				return true
			}
		}
	}
	return false
}

func (b *blanker) partsAt(at, size int64, sums [][]int64) bool {
	for s, pick := range b.picks {
		all := b.lanes[b.mix[s]].fills[pick].size
		// The left part holds at most at, the right one the rest of the size.
		i, _ := slices.BinarySearch(sums[s], all-(size-at))
		if i == len(sums[s]) || sums[s][i] > at {
			return false
		}
	}
	return true
}

// takeBlank puts a blank's cuts on its board, and returns where the next may begin. Of what
// is not wanted any more nothing is cut; where one strip is left of it, pieces are crosscut
// from the board and ripped.
func (g *group) takeBlank(b *Board, it item, at measure.Length, names *namer) measure.Length {
	blank := Blank{At: at}
	var cuts []Cut
	for _, strip := range it.strips {
		from := at
		for _, k := range strip.kinds {
			if id, ok := names.next(k); ok {
				cuts = append(
					cuts,
					Cut{
						Piece:  id,
						Length: g.kinds[k].length,
						At:     from,
						Blank:  len(b.Blanks) + 1,
						Strip:  len(blank.Strips) + 1,
						Width:  strip.width,
						Out:    1,
					},
				)
				from = cuts[len(cuts)-1].End() + g.kerf
			}
		}
		if from > at {
			blank.Strips = append(blank.Strips, strip.width)
			blank.Length = max(blank.Length, from-g.kerf-at)
		}
	}
	switch len(blank.Strips) {
	case 0:
		return at
	case 1:
		for i := range cuts {
			cuts[i].Blank, cuts[i].Strip = 0, 0
		}
	default:
		b.Blanks = append(b.Blanks, blank)
	}
	b.Cuts = append(b.Cuts, cuts...)
	return at + blank.Length + g.kerf
}

// namer gives pieces their names, in the order they were asked for.
type namer struct {
	kinds []kind
	still []int
	at    []struct{ name, used int }
}

func newNamer(kinds []kind) *namer {
	n := &namer{kinds: kinds, still: make([]int, len(kinds)), at: make([]struct{ name, used int }, len(kinds))}
	for k := range kinds {
		n.still[k] = kinds[k].want
	}
	return n
}

// next is the name of one more piece of a kind, if one is still wanted.
func (n *namer) next(k int) (string, bool) {
	if n.still[k] == 0 {
		return "", false
	}
	n.still[k]--
	on := &n.at[k]
	if on.used == n.kinds[k].names[on.name].quantity {
		on.name, on.used = on.name+1, 0
	}
	on.used++
	return n.kinds[k].names[on.name].id, true
}
