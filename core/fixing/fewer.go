package fixing

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// chosen is the screw of one joint, and how many.
type chosen struct {
	joint  frame.Joint
	frame  *frame.Frame
	fixing catalog.Fixing
	count  int
}

// fewer puts joints of one kind of screw on another that is bought anyway, as long as
// that costs no more: a box that is opened for sixteen screws is seldom worth it. What
// carries a load is never put on a shorter or thinner one.
func fewer(all []chosen, habits catalog.Habits) {
	for {
		best := money.Amount(-1)
		var from, to string
		kinds, counts := used(all)
		for _, a := range kinds {
			for _, b := range kinds {
				if a.ID == b.ID || a.Kind != b.Kind || a.Kind != catalog.Screw || !takes(all, a, b) {
					continue
				}
				apart := costs(a, counts[a.ID], habits) + costs(b, counts[b.ID], habits)
				if saved := apart - costs(b, counts[a.ID]+counts[b.ID], habits); saved > best {
					best, from, to = saved, a.ID, b.ID
				}
			}
		}
		if best < 0 {
			return
		}
		var taken catalog.Fixing
		for _, k := range kinds {
			if k.ID == to {
				taken = k
			}
		}
		for i := range all {
			if all[i].fixing.ID == from {
				all[i].fixing = taken
			}
		}
	}
}

// used lists the kinds of screw, in the order of their joints, and how many of each.
func used(all []chosen) ([]catalog.Fixing, map[string]int) {
	var kinds []catalog.Fixing
	counts := map[string]int{}
	for _, c := range all {
		if _, ok := counts[c.fixing.ID]; !ok {
			kinds = append(kinds, c.fixing)
		}
		counts[c.fixing.ID] += c.count * max(1, c.frame.Times)
	}
	return kinds, counts
}

// costs is what the packs for so many of a screw cost.
func costs(f catalog.Fixing, count int, habits catalog.Habits) money.Amount {
	n := Need{Fixing: f, Count: count}
	n.buy((count*habits.SparePerMille + 999) / 1000)
	var sum money.Amount
	for _, k := range n.Packs {
		sum += k.Pack.Price.Times(k.N)
	}
	return sum
}

// takes reports whether every joint that has screw a could as well have b.
func takes(all []chosen, a, b catalog.Fixing) bool {
	for _, c := range all {
		if c.fixing.ID == a.ID && !could(c.joint, a, b) {
			return false
		}
	}
	return true
}

// could reports whether a joint for which a is right could as well have b: as long as its
// rule asks for and inside the far piece, no thicker than five of it in what it goes
// through, and where a load hangs on it no shorter nor thinner than a.
func could(j frame.Joint, a, b catalog.Fixing) bool {
	r := rules[j.Kind]
	if r.nearest || r.each > 0 {
		return false
	}
	if weaker := b.Length < a.Length || b.Diameter < a.Diameter; weaker && j.Load != "" {
		return false
	}
	if b.Diameter > a.Diameter && 5*b.Diameter > j.Through {
		return false
	}
	return r.suits(j, b) && number(j, a) == number(j, b)
}

// suits reports whether a screw is long enough for a joint and stays inside it.
func (r rule) suits(j frame.Joint, f catalog.Fixing) bool {
	thread := max(measure.Inch, 6*f.Diameter)
	if r.thin {
		thread = min(thread, j.Into/2)
	}
	return f.Kind == r.kind && f.Length >= r.least.times(j.Through) &&
		f.Length <= j.Through+j.Into-clear && f.Length-j.Through >= thread
}

// clear is what a screw's tip stays inside the far piece.
const clear = 3 * measure.Millimetre
