package ground

import (
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Sheets come from rolls in strips, lapped where they meet; what stands against a wall runs
// along it, the upper strip over the lower. Of the ways to lay them that take the least
// rolls the one with the fewest seams is taken.
//
//	|<------ width ------>|
//	|=== strip ===|
//	          |=== strip ===|      strips = (width-lap)/(roll-lap)

// way is one way to lay a sheet.
type way struct {
	strips int
	strip  measure.Length
}

// waysOf lists the ways to lay a sheet so many times from a roll.
func waysOf(s frame.Sheet, c Cover) []way {
	long, wide := s.Length+2*s.TurnUp, s.Width+2*s.TurnUp
	if s.Closed {
		long += c.Roll.Lap
	}
	across := func(l measure.Length) int {
		if l <= c.Roll.RollWidth {
			return 1
		}
		step := c.Roll.RollWidth - c.Roll.Lap
		return int((l - c.Roll.Lap + step - 1) / step)
	}
	ways := []way{{across(wide), long}}
	if other := (way{across(long), wide}); !s.Along && other != ways[0] {
		ways = append(ways, other)
	}
	return ways
}

// mostTogether is of how many sheets of one roll all ways are tried together; of more each
// is laid the way that takes least of the roll.
const mostTogether = 6

// lay chooses how every cover is laid, roll by roll. Until then a cover's strips are how
// often it is laid.
func (p *Plan) lay(price func(catalog.Sheet) money.Amount) {
	done := map[string]bool{}
	for i := range p.Covers {
		roll := p.Covers[i].Roll
		if done[roll.ID] {
			continue
		}
		done[roll.ID] = true
		var of []int
		for k, c := range p.Covers {
			if c.Roll.ID == roll.ID {
				of = append(of, k)
			}
		}
		p.layRoll(of)
		c := &p.Covers[i]
		c.Cost = price(roll).Times(c.Rolls)
	}
}

// laid is a way to lay some covers of one roll.
type laid struct {
	ways          []way
	rolls, joints int
	seams         int
	total         measure.Length
}

func (a laid) better(b laid) bool {
	switch {
	case a.rolls != b.rolls:
		return a.rolls < b.rolls
	case a.seams != b.seams:
		return a.seams < b.seams
	}
	return a.total < b.total
}

// layRoll lays the covers of one roll.
func (p *Plan) layRoll(of []int) {
	roll := p.Covers[of[0]].Roll
	options := make([][]way, len(of))
	for i, k := range of {
		options[i] = waysOf(p.Covers[k].Sheet, p.Covers[k])
		if len(of) > mostTogether {
			slices.SortStableFunc(options[i], func(a, b way) int {
				return int(min(1, max(-1, a.strip*measure.Length(a.strips)-b.strip*measure.Length(b.strips))))
			})
			options[i] = options[i][:1]
		}
	}
	var best laid
	var choose func(ways []way)
	choose = func(ways []way) {
		if len(ways) < len(options) {
			for _, w := range options[len(ways)] {
				choose(append(slices.Clip(ways), w))
			}
			return
		}
		a := laid{ways: ways}
		var strips []measure.Length
		for i, w := range ways {
			for range p.Covers[of[i]].Strips * w.strips {
				strips = append(strips, w.strip)
			}
			a.seams += p.Covers[of[i]].Strips * (w.strips - 1)
			a.total += w.strip * measure.Length(p.Covers[of[i]].Strips*w.strips)
		}
		a.rolls, a.joints = Rolls(strips, roll.RollLength, roll.Lap)
		a.seams += a.joints
		if best.ways == nil || a.better(best) {
			best = a
		}
	}
	choose(nil)
	for i, k := range of {
		c := &p.Covers[k]
		times := c.Strips
		w := best.ways[i]
		c.Strips, c.Strip = times*w.strips, w.strip
		c.Total = w.strip * measure.Length(c.Strips)
		c.Area = measure.Over(c.Sheet.Length+2*c.Sheet.TurnUp, c.Sheet.Width+2*c.Sheet.TurnUp) * measure.Area(times)
	}
	p.Covers[of[0]].Rolls, p.Covers[of[0]].Joints = best.rolls, best.joints
}

// mostParted is of how many strips the fewest joints are found for certain.
const mostParted = 9

// Rolls is how many rolls strips take at least where a strip may go on from another roll by
// a lap, and the fewest such joints with so many rolls. Strips that go on into one another's
// rolls make a group; a group of so many rolls has one joint fewer than rolls, so the more
// groups the fewer joints.
func Rolls(strips []measure.Length, roll, lap measure.Length) (rolls, joints int) {
	strips = slices.Clone(strips)
	slices.SortFunc(strips, func(a, b measure.Length) int { return int(min(1, max(-1, b-a))) })
	sum := measure.Length(0)
	for _, s := range strips {
		sum += s
	}
	// sum + (n-1) lap <= n roll
	need := func(sum measure.Length) int { return max(1, int((sum-lap+roll-lap-1)/(roll-lap))) }
	if len(strips) == 0 {
		return 0, 0
	}
	rolls = need(sum)
	var left []measure.Length // of rolls, filled with the longest first
	for _, s := range strips {
		i := slices.IndexFunc(left, func(l measure.Length) bool { return l >= s })
		if i < 0 {
			left = append(left, roll)
			i = len(left) - 1
		}
		left[i] -= s
	}
	if len(left) == rolls && slices.Min(left) >= 0 {
		return rolls, 0
	}
	if len(strips) > mostParted {
		return rolls, rolls - 1
	}
	// fewest[m] is the least rolls and, of those, the fewest joints for a set of strips.
	type made struct{ rolls, joints int }
	all := 1 << len(strips)
	sums := make([]measure.Length, all)
	fewest := make([]made, all)
	for m := 1; m < all; m++ {
		for i, s := range strips {
			if m>>i&1 == 1 {
				sums[m] = sums[m&^(1<<i)] + s
				break
			}
		}
		n := need(sums[m])
		fewest[m] = made{n, n - 1}
		for part := (m - 1) & m; part > 0; part = (part - 1) & m {
			if a, b := fewest[part], fewest[m&^part]; a.rolls+b.rolls < fewest[m].rolls ||
				a.rolls+b.rolls == fewest[m].rolls && a.joints+b.joints < fewest[m].joints {
				fewest[m] = made{a.rolls + b.rolls, a.joints + b.joints}
			}
		}
	}
	return fewest[all-1].rolls, fewest[all-1].joints
}
