package cutting

import (
	"encoding/binary"
	"slices"
)

// Of all plans at the least price the one is wanted that does best by the aims.
// The search for the price does not look at them; afterwards boards are taken
// two at a time and cut anew where that does better and costs no more.

// judged is a whole plan with what it is worth, fill by fill.
type judged struct {
	g      *group
	fills  []fill
	keys   []string
	useful []int64
	times  map[string]int // how often a way of cutting is used
	worth  worth
}

func (g *group) judge(fills []fill) *judged {
	j := &judged{g: g, times: map[string]int{}, worth: worth{ok: true}}
	for _, f := range fills {
		j.put(f)
	}
	return j
}

// put adds a board to the plan.
func (j *judged) put(f fill) {
	key, useful := f.key(), j.g.usefulLeft(f)
	j.fills, j.keys, j.useful = append(j.fills, f), append(j.keys, key), append(j.useful, useful)
	j.worth.price += j.g.priceOf([]fill{f})
	j.worth.useful += useful
	j.worth.boards++
	if j.times[key]++; j.times[key] == 1 {
		j.worth.setups++
	}
}

// drop takes the i-th board out.
func (j *judged) drop(i int) {
	j.worth.price -= j.g.priceOf(j.fills[i : i+1])
	j.worth.useful -= j.useful[i]
	j.worth.boards--
	if j.times[j.keys[i]]--; j.times[j.keys[i]] == 0 {
		j.worth.setups--
	}
	j.fills, j.keys, j.useful = slices.Delete(
		j.fills,
		i,
		i+1,
	), slices.Delete(
		j.keys,
		i,
		i+1,
	), slices.Delete(
		j.useful,
		i,
		i+1,
	)
}

// with is what the plan would be worth with the boards a and b cut anew.
func (j *judged) with(a, b int, anew []fill) worth {
	w := j.worth
	change := map[string]int{}
	for _, i := range [2]int{a, b} {
		w.price -= j.g.priceOf(j.fills[i : i+1])
		w.useful -= j.useful[i]
		w.boards--
		change[j.keys[i]]--
	}
	for _, f := range anew {
		w.price += j.g.priceOf([]fill{f})
		w.useful += j.g.usefulLeft(f)
		w.boards++
		change[f.key()]++
	}
	for key, by := range change {
		had, has := j.times[key] > 0, j.times[key]+by > 0
		switch {
		case has && !had:
			w.setups++
		case had && !has:
			w.setups--
		}
	}
	return w
}

// usefulLeft is what a board leaves, less what it would have been worth unopened.
func (g *group) usefulLeft(f fill) int64 {
	w := g.ways[f.way]
	sum := -g.whole[w.stock]
	for r, l := range g.left(f) {
		sum += g.useful(l, w.runs[r].wide)
	}
	return sum
}

// key tells ways of cutting a board apart.
func (f fill) key() string {
	b := make([]byte, 0, 32)
	b = binary.AppendVarint(b, int64(f.way))
	for _, run := range f.takes {
		for i, n := range run {
			if n > 0 {
				b = binary.AppendVarint(binary.AppendVarint(b, int64(i)), int64(n))
			}
		}
		b = append(b, 0xff)
	}
	return string(b)
}

// mostPairs bounds the work of improvement.
const mostPairs = 80

// improve recuts pairs of boards while that does better by the aims.
func (g *group) improve(st state, fills []fill) []fill {
	if g.sheet() || len(g.aims) == 0 {
		return fills
	}
	j := g.judge(fills)
	spare := st.copied()
	for _, f := range fills {
		spare.use(g, f, 1)
	}
	tried := map[string]bool{}
	for pairs := 0; pairs < mostPairs; {
		a, b, anew := g.better(j, spare, tried, &pairs)
		if anew == nil {
			break
		}
		for _, i := range [2]int{b, a} { // the later one first
			if s := g.ways[j.fills[i].way].stock; spare.most[s] >= 0 {
				spare.most[s]++
			}
			j.drop(i)
		}
		for _, f := range anew {
			if s := g.ways[f.way].stock; spare.most[s] >= 0 {
				spare.most[s]--
			}
			j.put(f)
		}
	}
	return j.fills
}

// alike lists the first board of each way of cutting, and where all boards of each are.
func (j *judged) alike() (first []int, at [][]int) {
	place := map[string]int{}
	for i, key := range j.keys {
		k, seen := place[key]
		if !seen {
			k = len(at)
			place[key] = k
			first, at = append(first, i), append(at, nil)
		}
		at[k] = append(at[k], i)
	}
	return first, at
}

// nextOf is the first board of each way of cutting that comes after a, in order. Those
// after them are cut the same, and a pair with one of them is no other pair.
func nextOf(at [][]int, a int) []int {
	var list []int
	for _, all := range at {
		if k, _ := slices.BinarySearch(all, a+1); k < len(all) {
			list = append(list, all[k])
		}
	}
	slices.Sort(list)
	return list
}

// better finds a pair of boards that does better cut anew.
func (g *group) better(j *judged, spare state, tried map[string]bool, pairs *int) (a, b int, anew []fill) {
	first, at := j.alike()
	for _, a := range first {
		for _, b := range nextOf(at, a) {
			key := j.keys[a] + "|" + j.keys[b]
			if tried[key] {
				continue
			}
			tried[key] = true
			if *pairs++; *pairs > mostPairs || g.effort <= 0 {
				return 0, 0, nil
			}
			two := state{
				want:  make([]int, len(g.kinds)),
				least: make([]int, len(g.stock)),
				most:  slices.Clone(spare.most),
			}
			for _, f := range []fill{j.fills[a], j.fills[b]} {
				for k, n := range f.gets {
					two.want[k] += n
				}
				if s := g.ways[f.way].stock; two.most[s] >= 0 {
					two.most[s]++
				}
			}
			if anew, ok := exact(g, two, 400); ok && j.with(a, b, anew).better(j.worth, g.aims) {
				delete(tried, key) // there may be more of them
				*pairs--
				return a, b, anew
			}
		}
	}
	return 0, 0, nil
}
