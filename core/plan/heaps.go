package plan

import (
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Lying is a heap, and where it lies on the plot, if it fits there.
type Lying struct {
	fill.Heap
	At   frame.Spot // its middle
	Lies bool
}

// heapStep is how finely places for heaps are tried, heapOff what they keep off beds.
const (
	heapStep = 200 * measure.Millimetre
	heapOff  = 150 * measure.Millimetre
)

// Heaps lays out what is delivered loose where it fits: nearest the front, where it is tipped, off the beds
// and off one another.
func (p *Plan) Heaps() []Lying {
	var list []Lying
	for _, h := range p.Fill.Heaps() {
		x := Lying{Heap: h}
		r := h.Across / 2
		plot := p.Site.Plot
	search:
		for v := r; v+r <= plot.Depth; v += heapStep {
			for u := r; u+r <= plot.Width; u += heapStep {
				at := frame.Spot{U: u, V: v}
				if p.clear(at, r+heapOff, list) {
					x.At, x.Lies = at, true
					break search
				}
			}
		}
		list = append(list, x)
	}
	return list
}

// clear reports whether a circle touches no bed and no heap.
func (p *Plan) clear(at frame.Spot, r measure.Length, heaps []Lying) bool {
	for _, s := range p.Site.Stands {
		near := frame.Spot{U: min(max(at.U, s.Lo.U), s.Hi.U), V: min(max(at.V, s.Lo.V), s.Hi.V)}
		if measure.Hypot(near.U-at.U, near.V-at.V) < r {
			return false
		}
	}
	for _, h := range heaps {
		if h.Lies && measure.Hypot(h.At.U-at.U, h.At.V-at.V) < r+h.Across/2 {
			return false
		}
	}
	return true
}
