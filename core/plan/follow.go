package plan

import (
	"math"
	"strings"

	"chamfer/core/builder"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/review"
	"chamfer/core/terrain"
)

// FromGround are decisions of a bed that follow from the ground as it was measured: a line that
// is drawn point by point along a contour, heights of corners that are asked for.
func (p *Plan) FromGround(bed string) []review.Remedy {
	i, ok := p.Site.Stand(bed, 0)
	b, err := p.Design.Bed(bed)
	if p.Surface == nil || !ok || err != nil {
		return nil
	}
	var f *frame.Frame
	for k := range p.Frames {
		if p.Frames[k].Bed == bed {
			f = &p.Frames[k]
		}
	}
	var list []review.Remedy
	for _, x := range design.Serves(*b, design.ReadsCorners) {
		list = append(list, review.Remedy{Label: x.Words, Edits: []design.Edit{x.To(*b, p.cornersOf(f, i))}})
	}
	for _, x := range design.Serves(*b, design.Contours) {
		list = append(list, p.alongContour(b, i, x)...)
	}
	return list
}

// cornersOf are the heights of the ground at the corners of a stand, above the lowest of them,
// from its front left round.
func (p *Plan) cornersOf(f *frame.Frame, stand int) string {
	put := p.Site.Stands[stand].On(f)
	lo, hi := f.Outside[0], f.Outside[1]
	var at [4]float64
	low := math.Inf(1)
	for k, q := range []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}} {
		s := put(q)
		at[k], _ = p.Surface.At(s.U.Metres(), s.V.Metres())
		low = min(low, at[k])
	}
	step := p.Shop.Catalog.Told(measure.Inch/4, measure.Millimetre)
	var words []string
	for _, z := range at {
		l := measure.Length((z-low)*float64(measure.Metre)) + step/2
		words = append(words, p.Shop.Precision().Short(l/step*step))
	}
	return strings.Join(words, "; ")
}

// mostBends is how many points a line along a contour is drawn with, at most.
const mostBends = 9

// alongContour lays a bed's line along the contour that runs through its middle.
func (p *Plan) alongContour(b *design.Bed, stand int, of design.Serving) []review.Remedy {
	s := p.Site.Stands[stand]
	x, y := (s.Lo.U+s.Hi.U).Metres()/2, (s.Lo.V+s.Hi.V).Metres()/2
	z, _ := p.Surface.At(x, y)
	var best []terrain.Spot
	near := math.Inf(1)
	for _, c := range p.Surface.ContoursAt(z) {
		for _, q := range c.Line {
			if d := math.Hypot(q.X-x, q.Y-y); d < near {
				near, best = d, c.Line
			}
		}
	}
	if len(best) < 2 {
		return nil
	}
	// Higher ground lies to the left of a contour: behind the bed, where the line runs to the right.
	half := b.Length.Metres() / 2
	line := stretch(best, x, y, half)
	if a, z := line[0], line[len(line)-1]; z.X-a.X < math.Abs(z.Y-a.Y) {
		return nil // it would have to be turned
	}
	// Where it bends more tightly than the walls can, it is drawn straighter until they do.
	for within := 0.03; within < 1; within *= 2 {
		drawn := thinned(line, within)
		for tight := within; len(drawn) > mostBends; {
			tight *= 1.5
			drawn = thinned(line, tight)
		}
		if edits, ok := p.laidAlong(b, of, drawn); ok {
			pr := p.Shop.Precision()
			label := of.Words + ", at " + pr.Short(measure.Length(z*float64(measure.Metre)))
			if off := measure.Length(p.offLevel(drawn, z) * float64(measure.Metre)); off > 10*measure.Millimetre {
				label += ", within " + pr.Short(off) + " of it where the walls bend no more tightly"
			}
			return []review.Remedy{{Label: label, Edits: edits}}
		}
	}
	return nil
}

// offLevel is how far the ground along a line is off a height, at most.
func (p *Plan) offLevel(line []terrain.Spot, z float64) (off float64) {
	for i := 1; i < len(line); i++ {
		for k := range 11 {
			t := float64(k) / 10
			h, _ := p.Surface.At(line[i-1].X+t*(line[i].X-line[i-1].X), line[i-1].Y+t*(line[i].Y-line[i-1].Y))
			off = max(off, math.Abs(h-z))
		}
	}
	return off
}

// laidAlong are the edits that draw a bed's line so on the plot, false where it cannot be built.
func (p *Plan) laidAlong(b *design.Bed, of design.Serving, line []terrain.Spot) ([]design.Edit, bool) {
	step := p.Shop.Catalog.Told(measure.Inch, 10*measure.Millimetre)
	loX, loY := math.Inf(1), math.Inf(1)
	for _, q := range line {
		loX, loY = min(loX, q.X), min(loY, q.Y)
	}
	whole := func(m float64) measure.Length { return measure.Length(math.Round(m/step.Metres())) * step }
	var points []design.Point
	for _, q := range line {
		points = append(points, design.Point{U: whole(q.X - loX), V: whole(q.Y - loY)})
	}
	edits := []design.Edit{of.To(*b, design.WritePoints(points))}
	d, err := design.Apply(p.Design, p.Shop.Catalog, edits...)
	if err != nil {
		return nil, false
	}
	next, err := d.Bed(b.ID)
	if err != nil {
		return nil, false
	}
	built, err := builder.Build(*next, p.Shop.Catalog)
	if err != nil || len(built.Handles) == 0 {
		return nil, false
	}
	lo, _ := built.Bounds()
	first := built.Handles[0].At
	px := max(0, measure.Length(line[0].X*float64(measure.Metre))-(first.U-lo.X))
	py := max(0, measure.Length(line[0].Y*float64(measure.Metre))-(first.V-lo.Y))
	place := px.String() + ";" + py.String() + ";straight"
	return append(edits, design.Edit{Bed: b.ID, Field: "place:0", Value: place}), true
}

// stretch is what of a line lies within so far along of the place on it nearest to another.
func stretch(line []terrain.Spot, x, y, half float64) []terrain.Spot {
	at := []float64{0}
	nearest, near := 0.0, math.Inf(1)
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		l := math.Hypot(b.X-a.X, b.Y-a.Y)
		if l > 0 {
			t := min(max(((x-a.X)*(b.X-a.X)+(y-a.Y)*(b.Y-a.Y))/(l*l), 0), 1)
			if d := math.Hypot(a.X+t*(b.X-a.X)-x, a.Y+t*(b.Y-a.Y)-y); d < near {
				near, nearest = d, at[i-1]+t*l
			}
		}
		at = append(at, at[i-1]+l)
	}
	long := at[len(at)-1]
	from := min(max(0, nearest-half), max(0, long-2*half))
	to := min(long, from+2*half)
	point := func(d float64) terrain.Spot {
		for i := 1; i < len(line); i++ {
			if at[i] >= d && at[i] > at[i-1] {
				t := (d - at[i-1]) / (at[i] - at[i-1])
				a, b := line[i-1], line[i]
				return terrain.Spot{X: a.X + t*(b.X-a.X), Y: a.Y + t*(b.Y-a.Y), Z: a.Z}
			}
		}
		return line[len(line)-1]
	}
	out := []terrain.Spot{point(from)}
	for i, q := range line {
		if at[i] > from+0.05 && at[i] < to-0.05 {
			out = append(out, q)
		}
	}
	return append(out, point(to))
}

// thinned leaves out points of a line that lie within a distance of what is left
// (Douglas and Peucker 1973).
func thinned(line []terrain.Spot, within float64) []terrain.Spot {
	if len(line) < 3 {
		return line
	}
	a, b := line[0], line[len(line)-1]
	l := math.Hypot(b.X-a.X, b.Y-a.Y)
	far, at := 0.0, 0
	for i, q := range line[1 : len(line)-1] {
		d := math.Hypot(q.X-a.X, q.Y-a.Y)
		if l > 0 {
			d = math.Abs((b.X-a.X)*(q.Y-a.Y)-(b.Y-a.Y)*(q.X-a.X)) / l
		}
		if d > far {
			far, at = d, i+1
		}
	}
	if far <= within {
		return []terrain.Spot{a, b}
	}
	head := thinned(line[:at+1], within)
	return append(head[:len(head):len(head)], thinned(line[at:], within)[1:]...)
}
