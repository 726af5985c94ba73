package masonry

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/why"
)

// tier is a ring on the soil of the one below.
type tier struct {
	round
	number  int
	courses int
	foot    measure.Length // of its first course
	soil    measure.Length // its surface
	below   measure.Length // that of the ring below
}

// tiersOf are the rings above the first, as many as fit: each the largest that leaves
// the ledge and closes with touching units.
func tiersOf(b design.Bed, u catalog.Unit, r round) []tier {
	n, _ := b.OptionCount(tiersKey)
	courses, _ := b.OptionCount(tierCoursesKey)
	var list []tier
	soil := b.Soil
	bury := min(buried(b), u.Height/2)
	for k := 2; k <= n; k++ {
		room := r.inner - b.OptionLength(ledgeKey) - u.Depth
		next := round{parts: r.parts, middle: r.middle, joint: u.Joint}
		for m := leastRound(u, r.parts); m <= 4000 && apothem(u, m, u.Joint) <= room; m += r.parts {
			next.n, next.inner = m, apothem(u, m, u.Joint)
		}
		if next.n == 0 {
			return list
		}
		t := tier{round: next, number: k, courses: courses, foot: soil - bury, below: soil}
		t.soil = t.foot + u.Course()*measure.Length(courses) - u.Joint - b.Freeboard
		list = append(list, t)
		soil, r = t.soil, next
	}
	return list
}

// tier lays an upper ring and fills it.
func (w *laid) tier(t tier) {
	u := w.unit
	first, laidBefore := len(w.f.Units), w.f.Courses()
	for course := 1; course <= t.courses; course++ {
		w.ringCourse(t.round, course)
	}
	from, _ := w.course(1)
	for k := first; k < len(w.f.Units); k++ {
		x := &w.f.Units[k]
		x.Body = x.Body.Move(frame.Point{Z: t.foot - from})
		x.Role = fmt.Sprintf("ring %d, course %d", t.number, x.Course)
		x.Course += laidBefore
	}
	var ids []string
	for _, x := range w.f.Units[first:] {
		ids = append(ids, x.ID)
	}
	w.upper = append(w.upper, ids)
	up := frame.Stack{Bed: w.bed.ID, Thick: u.Depth, Soil: t.soil - t.below, Density: density(u), Tied: true,
		Bond: frame.Dry}
	for _, x := range w.f.Units[first:] {
		if x.Course == 1+laidBefore && x.Kind != frame.CapUnit {
			if up.Units = append(up.Units, x.ID); u.Joint > 0 && !x.Dry {
				up.Bond = frame.Mortared
			}
		}
	}
	w.f.Stacks = append(w.f.Stacks, up)
	rim := t.foot + u.Course()*measure.Length(t.courses) - u.Joint
	below := &w.f.Cavities[len(w.f.Cavities)-1]
	outer := t.inner + u.Depth
	around := measure.Area(
		math.Pi * (outer.Metres()*outer.Metres() - t.inner.Metres()*t.inner.Metres()) / float64(t.parts) * 1e12,
	)
	below.Displaced = append(
		below.Displaced,
		frame.Displaced{Part: w.id("ring.%d", t.number), Volume: around.By(t.below - t.foot)},
	)
	below.Pieces = t.ledge(below.Outline, outer)
	w.f.Cavities = append(
		w.f.Cavities,
		frame.Cavity{
			ID:      w.id("soil.%d", t.number),
			Bed:     w.bed.ID,
			Bottom:  t.below,
			Top:     t.soil,
			Rim:     rim,
			Outline: t.disc(t.inner),
			Free:    t.flat(),
		},
	)
	open := &w.f.Openings[len(w.f.Openings)-1]
	open.Name = fmt.Sprintf("ring %d", t.number-1)
	hole := t.disc(outer)
	ledge := why.Less(frame.Surface(open.Round), frame.Circle(outer, t.parts))
	open.Surface = &ledge
	ring := append(slices.Clone(open.Round), open.Round[0], hole[0])
	slices.Reverse(hole)
	open.Round = append(ring, hole...)
	m := t.middle
	w.f.Openings = append(
		w.f.Openings,
		frame.Opening{
			Name:  fmt.Sprintf("ring %d", t.number),
			Lo:    frame.Spot{U: m.U - t.inner, V: m.V - t.inner},
			Hi:    frame.Spot{U: m.U + t.inner, V: m.V + t.inner},
			Rim:   rim,
			Round: t.disc(t.inner),
		},
	)
	w.f.Arcs = append(
		w.f.Arcs,
		frame.Arc{
			Bed:     w.bed.ID,
			Name:    fmt.Sprintf("ring %d", t.number),
			Middle:  m,
			Inside:  t.inner,
			Outside: outer,
			Degrees: 360 / t.parts,
		},
	)
	w.f.Rim = rim
}

// ledge is a disc's outline without what stands on its middle, in pieces that have no
// hollow.
func (r round) ledge(outline []frame.Spot, inside measure.Length) [][]frame.Spot {
	in := r.disc(inside)
	from := 0
	if r.parts > 1 {
		from = 1 // the middle itself
	}
	n := len(outline)
	var list [][]frame.Spot
	for k := from; k < n; k++ {
		j := k + 1
		if j == n {
			if r.parts > 1 {
				break
			}
			j = from
		}
		list = append(list, []frame.Spot{outline[k], outline[j], in[j], in[k]})
	}
	return list
}
