package masonry

import (
	"cmp"
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// laps is the course whose pattern a course has: in stack bond every one is as the
// first.
func laps(b design.Bed, course int) int {
	if b.Options[bondKey] == "stack" {
		return 1
	}
	return course
}

// run is a straight wall: where its outer face begins, which way it goes, how long
// it is, and whether it turns a corner at either end.
type run struct {
	key        string
	at         frame.Spot
	du, dv     measure.Length // one of them 1 or -1
	length     measure.Length
	start, end bool // a corner
}

// runs lists the walls of a shape with their outer sizes.
func runs(shape string, a, b measure.Length) []run {
	closed := shape == "closed"
	left := run{key: "left", at: frame.Spot{V: b}, dv: -1, length: b, start: closed, end: true}
	front := run{key: "front", du: 1, length: a, start: shape != "straight", end: closed || shape == "u"}
	right := run{key: "right", at: frame.Spot{U: a}, dv: 1, length: b, start: true, end: closed}
	back := run{key: "back", at: frame.Spot{U: a, V: b}, du: -1, length: a, start: true, end: true}
	switch shape {
	case "closed":
		return []run{front, right, back, left}
	case "u":
		return []run{left, front, right}
	case "l":
		return []run{left, front}
	}
	return []run{front}
}

// fitKey says whether units are cut where a run lies between two things that stand.
const fitKey = "fit"

var fitField = design.Field{
	Key:     fitKey,
	Label:   "A front between two things",
	Stage:   design.AtBed,
	Kind:    design.ChoiceField,
	Default: "whole",
	Help:    "Where only the front is built its length may be given.",
	Idle: func(b design.Bed) string {
		if b.Options[shapeKey] != "straight" {
			return "with walls at its sides the front is as long as whole units make it"
		}
		return ""
	},
	Offers: []design.Choice{
		{Value: "whole", Label: "as long as whole units make it", Note: "nothing to cut"},
		{Value: "cut", Label: "just as long as it is, with cut units", Note: "one or two cuts a course"},
	},
}

// cutToFit reports whether a bed's one run is cut to its length.
func cutToFit(b design.Bed) bool {
	return b.Options[fitKey] == "cut" && b.Options[shapeKey] == "straight"
}

// fitted fills a stretch of any length: whole units as far as the last is no less than a
// quarter of one; where it would be, three quarters go before what is left. Joints so
// stay a quarter from those of the courses above and below, which begin half a unit
// further.
func fitted(lo, hi measure.Length, u catalog.Unit) (list []piece) {
	for at := lo; at < hi; {
		rest := hi - at
		take := u.Length
		switch least := u.Length / 4; {
		case rest <= u.Length:
			take = rest
		case rest-u.Module() < least:
			take = u.Length * 3 / 4
		}
		list = append(list, piece{at, at + take})
		at += take + u.Joint
	}
	return list
}

// over is what a run is longer than whole units make it: with a corner some units and
// one's depth, without any, or joint over joint from a corner that all its courses
// begin at, some units less the last joint.
func (r run) over(b design.Bed, u catalog.Unit) measure.Length {
	if r.end || r.start && b.Options[bondKey] != "stack" {
		return (r.length - u.Depth) % u.Module()
	}
	return (r.length + u.Joint) % u.Module()
}

// piece is a stretch of a run that a unit covers.
type piece struct{ from, to measure.Length }

// stretch fills a run's stretch with units: whole ones from the end that has a
// corner, and at the other end what is left. Without a corner every other course
// begins with half a unit.
func stretch(r run, u catalog.Unit, course int) []piece {
	lo, hi := measure.Length(0), r.length
	odd := course%2 == 1
	if r.start && !odd {
		lo += u.Depth + u.Joint
	}
	if r.end && odd {
		hi -= u.Depth + u.Joint
	}
	var list []piece
	if r.end && !r.start { // from the corner backwards
		for at := hi; at > lo; at -= u.Module() {
			list = append(list, piece{max(lo, at-u.Length), at})
		}
		return list
	}
	at := lo
	if !r.start && !r.end && !odd {
		half := u.Module()/2 - u.Joint
		list = append(list, piece{lo, lo + half})
		at += half + u.Joint
	}
	if !r.start && !r.end { // between two things that stand
		return append(list, fitted(at, hi, u)...)
	}
	for ; at < hi; at += u.Module() {
		list = append(list, piece{at, min(hi, at+u.Length)})
	}
	return list
}

// outline is a piece from above, depth deep, set back from the outer face.
func (r run) outline(from, to, inFrom, inTo, back, depth measure.Length) []frame.Spot {
	at := func(s, in measure.Length) frame.Spot {
		return frame.Spot{U: r.at.U + r.du*s - r.dv*in, V: r.at.V + r.dv*s + r.du*in}
	}
	return []frame.Spot{at(from, back), at(to, back), at(inTo, back+depth), at(inFrom, back+depth)}
}

// down is how many courses the base lies lower under a piece than at the left, where the
// ground falls away: half of what is buried there is still in the ground at its lowest end.
func (w *laid) down(r run, ends ...measure.Length) int {
	most := measure.Length(0)
	for _, s := range ends {
		most = max(most, r.at.U+r.du*s)
	}
	if r.du == 0 && r.at.U > 0 { // along the right
		most = w.f.Outside[1].U
	}
	return w.deeper(-w.f.GroundAt(most))
}

// deeper is how many courses lower the base has to be where the ground is so much lower.
func (w *laid) deeper(ground measure.Length) int {
	course := w.unit.Course()
	return max(0, int((ground-w.bury/2+course-1)/course))
}

// run lays one course of a wall.
func (w *laid) run(r run, course int) {
	u := w.unit
	laps := laps(w.bed, course)
	list := stretch(r, u, laps)
	for i, p := range list {
		if course <= w.steps && course <= w.steps-w.down(r, p.to, p.from) {
			continue // the base is higher here
		}
		kind, sku, cut := frame.StandardUnit, u.ID, measure.Length(0)
		switch l := p.to - p.from; {
		case l == u.Length:
		case w.half.ID != "" && l == w.half.Length:
			kind, sku = frame.HalfUnit, w.half.ID
		default:
			kind, cut = frame.CutUnit, l
		}
		first, last := i == 0, i == len(list)-1
		if r.end && !r.start { // it was laid from its end
			first, last = last, first
		}
		switch {
		case kind != frame.StandardUnit:
		case r.start && first && laps%2 == 1:
			kind, sku = frame.LeftCorner, cmp.Or(u.Left, sku)
		case r.end && last && laps%2 == 0:
			kind, sku = frame.RightCorner, cmp.Or(u.Right, sku)
		}
		w.lay(
			sku,
			kind,
			fmt.Sprintf("%s, course %d", r.key, course),
			course,
			r.outline(p.from, p.to, p.from, p.to, 0, u.Depth),
			cut,
			0,
		)
		w.f.Units[len(w.f.Units)-1].Lugs = u.Lugs &&
			(course <= 1+w.steps || kind == frame.LeftCorner || kind == frame.RightCorner)
	}
}
