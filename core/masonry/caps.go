package masonry

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// capRun lays the caps of a wall, half of what they are deeper than it on either
// side. Whole ones come first; the last few share what is left, so that none is a
// sliver.
func (w *laid) capRun(r run) {
	c := w.cap
	lo, hi, over := w.capSpan(r)
	mitred := w.bed.Options[capKey] == "mitred"
	inLo, inHi := lo, hi
	if mitred && r.start {
		inLo += c.Depth
	}
	if mitred && r.end {
		inHi -= c.Depth
	}
	for _, p := range w.capPieces(r) {
		cut, angle := measure.Length(0), 0.0
		if l := p.to - p.from; l != c.Length {
			cut = l
		}
		if mitred && (p.from == lo && r.start || p.to == hi && r.end) {
			cut, angle = p.to-p.from, 45
		}
		w.lay(
			c.ID,
			frame.CapUnit,
			"cap, "+r.key,
			w.courses,
			r.outline(p.from, p.to, max(p.from, inLo), min(p.to, inHi), -over, c.Depth),
			cut,
			angle,
		)
	}
	w.f.Beads = append(w.f.Beads, frame.Bead{Bed: w.bed.ID, Place: "under the caps, " + r.key, Length: 2 * (hi - lo)})
}

// capPieces parts a wall's caps: where they are mitred a whole one to each corner,
// between them as many whole ones as fit and the rest shared.
func (w *laid) capPieces(r run) []piece {
	c := w.cap
	lo, hi, _ := w.capSpan(r)
	if w.bed.Options[capKey] != "mitred" {
		return shared(lo, hi, c.Length/4, c)
	}
	if hi-lo <= 3*c.Module() {
		return shared(lo, hi, c.Depth+leastBeside, c)
	}
	var list, last []piece
	if r.start {
		list = append(list, piece{lo, lo + c.Length})
		lo += c.Module()
	}
	if r.end {
		last = append(last, piece{hi - c.Length, hi})
		hi -= c.Module()
	}
	return append(append(list, shared(lo, hi, c.Length/4, c)...), last...)
}

// leastBeside is what is left of a mitred cap's inner edge at least.
const leastBeside = 25 * measure.Millimetre

// mitres reports whether a wall's caps are long enough to be mitred at its corners.
func (w *laid) mitres(r run) bool {
	list := w.capPieces(r)
	first, last := list[0], list[len(list)-1]
	return (!r.start || first.to-first.from >= w.cap.Depth+leastBeside) &&
		(!r.end || last.to-last.from >= w.cap.Depth+leastBeside)
}

// capSpan is where a wall's caps begin and end, and how far they stand over it:
// half of what they are deeper. Butted ones end at the side of the next wall's.
func (w *laid) capSpan(r run) (lo, hi, over measure.Length) {
	c := w.cap
	over = (c.Depth - w.unit.Depth) / 2
	hi = r.length
	if r.start {
		lo -= over
	}
	if r.end {
		hi += over
	}
	if r.end && w.bed.Options[capKey] != "mitred" {
		hi -= c.Depth + c.Joint
	}
	return lo, hi, over
}

// shared covers a stretch with whole units and, where it does not come out, with
// the last few cut to one length that is no less than the least.
func shared(lo, hi, least measure.Length, u catalog.Unit) []piece {
	n := int((hi - lo + u.Joint + u.Module() - 1) / u.Module())
	var list []piece
	for whole := n; whole >= 0; whole-- {
		rest := hi - lo - u.Module()*measure.Length(whole) // after whole units and their joints
		cuts := n - whole
		if cuts == 0 {
			if rest+u.Joint != 0 {
				continue
			}
		} else if each := (rest+u.Joint)/measure.Length(cuts) - u.Joint; each < least && whole > 0 {
			continue
		}
		at := lo
		for range whole {
			list = append(list, piece{at, at + u.Length})
			at += u.Module()
		}
		for k := range cuts {
			end := at + (hi-at+u.Joint)/measure.Length(cuts-k) - u.Joint
			if k == cuts-1 {
				end = hi
			}
			list = append(list, piece{at, end})
			at = end + u.Joint
		}
		return list
	}
	return list
}
