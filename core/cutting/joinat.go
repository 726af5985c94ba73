package cutting

import (
	"cmp"
	"slices"

	"chamfer/core/measure"
)

// Where a piece is joined: clear of posts and of the joints in the courses beside it,
// at places that let its parts use up a board or a leftover.

// beside reports whether two pieces lie in neighbouring courses of a wall.
func (l long) beside(o long) bool {
	return l.join.Wall != "" && o.join.Wall == l.join.Wall && o.copy == l.copy &&
		max(o.join.Course-l.join.Course, l.join.Course-o.join.Course) == 1
}

// may reports whether a piece may be joined at a place.
func (j *joiner) may(i int, at measure.Length) bool {
	l := j.longs[i]
	if at < l.join.Least || l.length-at < l.join.Least || l.join.Step > 0 && at%l.join.Step != 0 {
		return false
	}
	for _, c := range l.join.Clear {
		if at > c.From && at < c.To {
			return false
		}
	}
	for _, o := range j.longs {
		if !l.beside(o) {
			continue
		}
		apart := max(l.join.Apart, o.join.Apart)
		for _, x := range o.joints {
			if max(x-at, at-x) < apart {
				return false
			}
		}
	}
	return true
}

// near is the furthest place up to one where a piece may be joined, and no less
// than its shortest part after another; false where there is none.
func (j *joiner) near(i int, at, after measure.Length) (measure.Length, bool) {
	l := j.longs[i]
	for range 100 {
		if l.join.Step > 0 {
			at -= at % l.join.Step
		}
		if at-after < l.join.Least {
			return 0, false
		}
		if j.may(i, at) {
			return at, true
		}
		next := min(at-1, l.length-l.join.Least)
		for _, c := range l.join.Clear {
			if at > c.From && at < c.To {
				next = min(next, c.From)
			}
		}
		if next == at-1 { // too near a joint of a course beside it
			for _, o := range j.longs {
				apart := max(l.join.Apart, o.join.Apart)
				for _, x := range o.joints {
					if l.beside(o) && max(x-at, at-x) < apart {
						next = min(next, x-apart)
					}
				}
			}
		}
		at = next
	}
	return 0, false
}

// rooms lists the usable lengths of a piece's stock, longest first, and of each
// how many there are.
func (j *joiner) rooms(i int) []measure.Length {
	var list []measure.Length
	for _, s := range j.r.Stock {
		if s.Profile != j.r.Pieces[j.longs[i].line].Profile || s.Quantity == 0 {
			continue
		}
		for _, run := range s.runs() {
			room := run[1] - run[0]
			if j.r.Shop != nil && s.carried() {
				room = min(room, j.r.Shop.Carry)
			}
			for n := range min(4, max(1, s.Quantity)) {
				if n > 0 && s.Quantity == Unlimited {
					break
				}
				list = append(list, room)
			}
		}
	}
	slices.SortFunc(list, func(a, b measure.Length) int { return -cmp.Compare(a, b) })
	return list
}

// fewest joins a piece as seldom as can be, every part as long as the longest
// board allows.
func (j *joiner) fewest(i int) ([]measure.Length, bool) {
	rooms := j.rooms(i)
	if len(rooms) == 0 {
		return nil, false
	}
	return j.chain(i, func(int) measure.Length { return rooms[0] })
}

// chain joins a piece part after part, the nth no longer than a length.
func (j *joiner) chain(i int, length func(n int) measure.Length) ([]measure.Length, bool) {
	l := j.longs[i]
	var joints []measure.Length
	from := measure.Length(0)
	for n := 0; l.length-from > length(n); n++ {
		at, ok := j.near(i, from+length(n), from)
		if !ok || n > 40 {
			return nil, false
		}
		joints, from = append(joints, at), at
	}
	return joints, true
}

// candidates are the ways to join a piece that might be worth it: whole; with a
// first or last part that uses up a board, by itself or with other pieces; and
// from leftovers in the order of their lengths.
func (j *joiner) candidates(i int) [][]measure.Length {
	l := j.longs[i]
	rooms := j.rooms(i)
	if len(rooms) == 0 {
		return nil
	}
	longest := rooms[0]
	var list [][]measure.Length
	add := func(joints []measure.Length, ok bool) {
		if ok && !slices.ContainsFunc(list, func(o []measure.Length) bool { return slices.Equal(o, joints) }) {
			list = append(list, joints)
		}
	}
	if l.length <= longest {
		add(nil, true)
	}
	lengths := slices.Compact(slices.Clone(rooms))
	for s := range lengths {
		add(j.chain(i, func(n int) measure.Length { return lengths[min(s+n, len(lengths)-1)] }))
		add(j.chain(i, func(n int) measure.Length { return lengths[s] }))
	}
	targets := j.targets(i, rooms)
	for _, t := range targets {
		add(j.chain(i, func(n int) measure.Length {
			if n == 0 {
				return t
			}
			return longest
		}))
		if at := j.lastFrom(i, t); j.may(i, at) {
			add(j.before(i, at, longest))
		}
	}
	for _, t := range targets { // both ends, and what is between
		for _, u := range targets {
			first, ok := j.near(i, t, 0)
			last := j.lastFrom(i, u)
			if ok && j.may(i, last) && last-first >= l.join.Least && last-first <= longest {
				add([]measure.Length{first, last}, true)
			}
		}
	}
	return list[:min(len(list), 300)]
}

// lastFrom is where the last part begins if it is no longer than a length.
func (j *joiner) lastFrom(i int, length measure.Length) measure.Length {
	at := j.longs[i].length - length
	if step := j.longs[i].join.Step; step > 0 && at%step != 0 {
		at += step - at%step
	}
	return at
}

// before joins what comes before a joint, if it must be.
func (j *joiner) before(i int, at, longest measure.Length) ([]measure.Length, bool) {
	var joints []measure.Length
	from := measure.Length(0)
	for at-from > longest {
		x, ok := j.near(i, min(from+longest, at-j.longs[i].join.Least), from)
		if !ok || len(joints) > 40 {
			return nil, false
		}
		joints, from = append(joints, x), x
	}
	return append(joints, at), true
}

// targets are the lengths of a part that leave nothing of a board, by itself or
// beside one or two other pieces or parts; the longest first.
func (j *joiner) targets(i int, rooms []measure.Length) []measure.Length {
	l := j.longs[i]
	var others []measure.Length
	profile := j.r.Pieces[l.line].Profile
	for _, p := range j.r.Pieces {
		if p.Join == nil && p.Profile == profile && p.Width == 0 {
			others = append(others, p.Length)
		}
	}
	for k, o := range j.longs {
		if k != i && j.r.Pieces[o.line].Profile == profile {
			others = append(others, o.parts()...)
		}
	}
	slices.Sort(others)
	others = slices.Compact(others)
	var list []measure.Length
	add := func(t measure.Length) {
		if t >= l.join.Least && t < l.length {
			list = append(list, t)
		}
	}
	for _, u := range slices.Compact(slices.Clone(rooms)) {
		add(u)
		for a, one := range others {
			left := u - one - j.r.Kerf
			add(left)
			for _, two := range others[a:] {
				add(left - two - j.r.Kerf)
			}
		}
	}
	slices.SortFunc(list, func(a, b measure.Length) int { return -cmp.Compare(a, b) })
	list = slices.Compact(list)
	return list[:min(len(list), 40)]
}
