package design

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Point is a place on a line or an outline that somebody draws: how far along, to the
// right, and how far out, away from whoever stands in front.
type Point struct{ U, V measure.Length }

// MostPoints is how many points one line or outline may have.
const MostPoints = 24

// pointWays is how points are written, for whoever wrote them otherwise.
const pointWays = "write points like 0 out 0; 4 ft out 18 in; 8 ft out 0, along first and then out"

// ReadPoints reads points as they are written, "4 ft out 18 in; 8 ft out 0": a semicolon
// between two of them, and "out", or a comma with a blank behind it, within one.
func ReadPoints(text string, system measure.System) ([]Point, error) {
	var list []Point
	for _, part := range strings.Split(text, ";") {
		if strings.TrimSpace(part) == "" {
			continue
		}
		along, out, ok := strings.Cut(part, "out")
		if !ok {
			along, out, ok = strings.Cut(part, ", ")
		}
		if !ok || strings.TrimSpace(along) == "" || strings.TrimSpace(out) == "" {
			return nil, fmt.Errorf("%q is no point; %s", strings.TrimSpace(part), pointWays)
		}
		var p Point
		var err error
		if p.U, err = measure.Parse(strings.TrimSpace(along), system); err == nil {
			p.V, err = measure.Parse(strings.TrimSpace(out), system)
		}
		if err != nil {
			return nil, fmt.Errorf("%w; %s", err, pointWays)
		}
		list = append(list, p)
	}
	if len(list) > MostPoints {
		return nil, fmt.Errorf("%d points are more than can be pegged in a morning: up to %d work", len(list), MostPoints)
	}
	return list, nil
}

// WritePoints writes points so that [ReadPoints] reads just them.
func WritePoints(list []Point) string {
	return writePoints(list, measure.Length.String)
}

func writePoints(list []Point, say func(measure.Length) string) string {
	var parts []string
	for _, p := range list {
		parts = append(parts, say(p.U)+" out "+say(p.V))
	}
	return strings.Join(parts, "; ")
}

// Points are the points of one of the system's own decisions; Check has seen to it that they
// can be read.
func (b Bed) Points(key string) []Point {
	list, err := ReadPoints(b.Options[key], measure.Metric)
	if err != nil {
		return nil
	}
	return list
}

// SetPoints sets one of the system's own decisions to points.
func (b *Bed) SetPoints(key string, list []Point) {
	b.Options = maps.Clone(b.Options)
	b.option(key, WritePoints(list))
}

// Between is where one more point is taken hold of between two: short of half way, where the
// names of things are written.
func Between(a, b Point) Point { return Point{a.U + (b.U-a.U)*3/8, a.V + (b.V-a.V)*3/8} }

// Extent is how far points reach along and out, from their first left front to their last.
func Extent(list []Point) (along, out measure.Length) {
	lo, hi := bounds(list)
	return hi.U - lo.U, hi.V - lo.V
}

func bounds(list []Point) (lo, hi Point) {
	for i, p := range list {
		if i == 0 {
			lo, hi = p, p
		}
		lo = Point{min(lo.U, p.U), min(lo.V, p.V)}
		hi = Point{max(hi.U, p.U), max(hi.V, p.V)}
	}
	return lo, hi
}

// fromCorner counts points from the left and the front of what they enclose.
func fromCorner(list []Point) []Point {
	lo, _ := bounds(list)
	for i := range list {
		list[i].U, list[i].V = list[i].U-lo.U, list[i].V-lo.V
	}
	return list
}

// Stretched are points pulled until they reach so far along and out; those between go in
// proportion, to the nearest millimetre. What reaches nowhere is not pulled.
func Stretched(list []Point, along, out measure.Length) []Point {
	is, deep := Extent(list)
	pull := func(at, of, to measure.Length) measure.Length {
		if at == of || of == 0 {
			return at - of + to
		}
		mm := measure.Millimetre
		return measure.Length(float64(at)*float64(to)/float64(of)+float64(mm)/2) / mm * mm
	}
	next := fromCorner(slices.Clone(list))
	for i, p := range next {
		if is > 0 && is != along {
			p.U = pull(p.U, is, along)
		}
		if deep > 0 && deep != out {
			p.V = pull(p.V, deep, out)
		}
		next[i] = p
	}
	return next
}

// movePoint moves a point of a decision that is made of them: what is "line:2" for its third,
// or "line:2+" for a new one part of the way from that to the next; by how much along and out,
// in millimetres, "120;-30". It comes to stand on whole steps, and one that is dragged onto
// its neighbour is taken away.
func (b *Bed) movePoint(what, by string, cat *catalog.Catalog) error {
	key, nth, _ := strings.Cut(what, ":")
	nth, half := strings.CutSuffix(nth, "+")
	f, ok := FieldOf(*b, key)
	if !ok || f.Kind != PointsField {
		return fmt.Errorf("nothing here is drawn point by point as %q", key)
	}
	list := b.Points(key)
	n, err := strconv.Atoi(nth)
	if err != nil || n < 0 || n >= len(list) {
		return fmt.Errorf("there is no point %q: it has %d", nth, len(list))
	}
	along, out, _ := strings.Cut(by, ";")
	u, err1 := strconv.ParseFloat(along, 64)
	v, err2 := strconv.ParseFloat(out, 64)
	if err1 != nil || err2 != nil || math.Abs(u) > farthest || math.Abs(v) > farthest { // also where it is no number
		return fmt.Errorf("%q is no distance: drag it again, or type where its points are", by)
	}
	if half && len(list) == MostPoints {
		return fmt.Errorf("it has %d points, and more than that cannot be pegged in a morning", MostPoints)
	}
	step := cat.Told(measure.Inch/2, 10*measure.Millimetre)
	round := func(l measure.Length, mm float64) measure.Length {
		steps := math.Round((float64(l) + mm*float64(measure.Millimetre)) / float64(step))
		return measure.Length(steps) * step
	}
	if half {
		list = slices.Insert(list, n+1, Between(list[n], list[(n+1)%len(list)]))
		n++
	}
	list[n] = Point{round(list[n].U, u), round(list[n].V, v)}
	for _, k := range []int{n - 1, n + 1} {
		if k >= 0 && k < len(list) && measure.Hypot(list[k].U-list[n].U, list[k].V-list[n].V) < onto {
			list = slices.Delete(list, n, n+1)
			break
		}
	}
	return f.set(b, cat, WritePoints(fromCorner(list)))
}

// farthest is how far anything is dragged at a time, mm.
const farthest = 100_000

// drags reports whether an edit drags a point of a field.
func (e Edit) drags(field string) bool { return strings.HasPrefix(e.Field, "point:"+field+":") }

// onto is how near two points are when one is dragged onto the other.
const onto = 60 * measure.Millimetre
