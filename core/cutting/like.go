package cutting

import (
	"cmp"
	"slices"

	"chamfer/core/measure"
)

// A plan for a job much like this one is a good place to start: its boards are
// cut as they were where all that comes out of them is still wanted, and only the
// rest is looked for.

// loose is how many pieces at least are looked for anew, so that what has changed
// can be cut together with what has not.
const loose = 30

// alike returns the boards that can be cut as before, those that leave least first,
// and what is still to be cut then.
func (g *group) alike(st state) ([]fill, state) {
	rest := st.copied()
	var fills []fill
	for _, b := range g.like {
		for range b.Count {
			if f, ok := g.asBefore(b, rest); ok {
				rest.use(g, f, 1)
				fills = append(fills, f)
			}
		}
	}
	slices.SortStableFunc(fills, func(a, b fill) int { return cmp.Compare(g.over(a), g.over(b)) })
	return fills, rest
}

// loosened takes boards back, those with the most left over, until enough is to be
// looked for anew.
func (g *group) loosened(fills []fill, rest state) ([]fill, state) {
	rest = rest.copied()
	for len(fills) > 0 && count(rest.want) < loose {
		last := fills[len(fills)-1]
		fills = fills[:len(fills)-1]
		for k, n := range last.gets {
			rest.want[k] += n
		}
		if s := g.ways[last.way].stock; rest.most[s] >= 0 {
			rest.most[s]++
		}
	}
	return fills, rest
}

// startAlike makes a plan from the one for a job much like this one, and returns what
// searches longer for one.
func (t *tree) startAlike(st state) func() {
	fills, rest := t.g.alike(st)
	end, left := greedy(t.g, rest)
	t.offer(append(slices.Clip(fills), end...), left)
	return func() {
		fills, rest := t.g.loosened(fills, rest)
		t.finish(rest, fills)
	}
}

// over is how much of its board a filling leaves.
func (g *group) over(f fill) measure.Length {
	sum := measure.Length(0)
	for _, left := range g.left(f) {
		sum += left
	}
	return sum
}

// asBefore is the filling that a board was cut by, if all of it is still wanted.
func (g *group) asBefore(b Board, rest state) (fill, bool) {
	for w, way := range g.ways {
		s := g.stock[way.stock]
		if s.ID != b.Stock.ID || way.part != b.Part || rest.most[way.stock] == 0 ||
			!slices.Equal(g.strips(way), b.Strips) {
			continue
		}
		takes := make([][]int, len(way.runs))
		for r, run := range way.runs {
			takes[r] = make([]int, len(g.classes[run.class].items))
		}
		for i, c := range b.Cuts {
			if c.Blank > 0 {
				if (i == 0 || b.Cuts[i-1].Blank != c.Blank) && !g.blankAs(way, takes, b, c.Blank) {
					return fill{}, false
				}
				continue
			}
			if i > 0 && b.Cuts[i-1].Strip == c.Strip && b.Cuts[i-1].At == c.At {
				continue // two names from one blank
			}
			if !g.takeAs(way, takes, c) {
				return fill{}, false
			}
		}
		f := g.filled(w, takes)
		for k, n := range f.gets {
			if n >= rest.want[k]+g.kinds[k].yield {
				return fill{}, false
			}
		}
		return f, true
	}
	return fill{}, false
}

// strips lists the widths that a way rips its board into.
func (g *group) strips(w way) []measure.Length {
	var list []measure.Length
	stretches := len(g.stock[w.stock].runs())
	for r, run := range w.runs {
		if width := g.classes[run.class].width; width > 0 && r%stretches == 0 {
			list = append(list, width)
		}
	}
	return list
}

// blankAs takes a blank that is cut as one of a board was.
func (g *group) blankAs(w way, takes [][]int, b Board, n int) bool {
	blank := b.Blanks[n-1]
	gets := map[[2]measure.Length]int{}
	for _, c := range b.Cuts {
		if c.Blank == n {
			gets[[2]measure.Length{c.Length, c.Width}]++
		}
	}
	for r, run := range w.runs {
		if blank.At < run.at || blank.At+blank.Length > run.at+run.length {
			continue
		}
		for i, it := range g.classes[run.class].items {
			same := it.strips != nil && len(it.gets) == len(gets) && it.size == int64(blank.Length+g.kerf)
			for _, y := range it.gets {
				k := g.kinds[y.kind]
				same = same && gets[[2]measure.Length{k.length, k.width}] == y.n
			}
			if same {
				takes[r][i]++
				return true
			}
		}
	}
	return false
}

// takeAs takes a piece of the size of a cut out of the run that the cut was in.
func (g *group) takeAs(w way, takes [][]int, c Cut) bool {
	stretches := len(g.stock[w.stock].runs())
	length, width := c.Length, c.Width
	if c.Turned {
		length, width = width, length
	}
	for r, run := range w.runs {
		if c.Strip > 0 && r/stretches+1 != c.Strip || c.At < run.at || c.End() > run.at+run.length {
			continue
		}
		for i, it := range g.classes[run.class].items {
			if it.strips != nil {
				continue
			}
			if k := g.kinds[it.kind()]; k.length == length && k.width == width && it.turned == c.Turned {
				takes[r][i]++
				return true
			}
		}
	}
	return false
}
