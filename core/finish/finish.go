// Package finish reckons what is brushed on the timber of a bed: the faces that show outside and the
// ends of the grain, how much of a tin that takes, which tins, and how long each coat waits.
package finish

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Rules of brushing (common practice).
const (
	// soaks is how many times as much end grain takes as a face.
	soaks = 3
	// wasted stays in brush and rag, thousandths.
	wasted = 100
)

// Bed is what of one bed is brushed, in as many as are built of it.
type Bed struct {
	Bed, Name string
	Of        string
	Faces     measure.Area
	Ends      measure.Area // of grain
}

// Tin is so many tins of one size.
type Tin struct {
	catalog.Finish
	Count int
}

// Can is one finish for all beds.
type Can struct {
	Of     string
	About  catalog.Finish
	Faces  measure.Area
	Ends   measure.Area
	Volume measure.Volume // all coats, with what is wasted
	Tins   []Tin
}

// Plan is the finishing of a project.
type Plan struct {
	Beds []Bed
	Cans []Can
}

// Work reckons what is brushed. price is what a tin costs in this shop.
func Work(beds []design.Bed, frames []frame.Frame, cat *catalog.Catalog,
	price func(sku string, listed money.Amount) money.Amount) Plan {
	var p Plan
	for i := range frames {
		of := beds[i].Finish
		if len(cat.FinishesOf(of)) == 0 {
			continue
		}
		faces, ends := Shown(&frames[i])
		if faces == 0 {
			continue
		}
		n := measure.Area(frames[i].Times)
		p.Beds = append(p.Beds, Bed{beds[i].ID, beds[i].Name, of, faces * n, ends * n})
	}
	done := map[string]bool{}
	for _, f := range cat.Finishes {
		if done[f.Of] {
			continue
		}
		done[f.Of] = true
		c := Can{Of: f.Of, About: cat.FinishesOf(f.Of)[0]}
		for _, b := range p.Beds {
			if b.Of == f.Of {
				c.Faces, c.Ends = c.Faces+b.Faces, c.Ends+b.Ends
			}
		}
		if c.Faces == 0 {
			continue
		}
		c.Volume = measure.CubicMetres(c.litres().Value())
		c.Tins = tins(cat.FinishesOf(f.Of), c.Volume, price)
		p.Cans = append(p.Cans, c)
	}
	return p
}

// litres is how much of a finish all coats take, in cubic metres.
func (c Can) litres() why.Term {
	all := why.Sum(why.Face(c.Faces), why.Times(why.Count(soaks), why.Face(c.Ends)))
	// A square metre to the litre is a layer of a millimetre.
	thick := (1/c.About.First + float64(c.About.Coats-1)/c.About.Later) / 1000
	return why.Times(all, why.Of(why.Length, thick).Called("all coats"), why.Of(why.Number, 1+wasted/1000.0))
}

// tins are those that hold enough for the least money; of as dear ones the fewest.
func tins(list []catalog.Finish, need measure.Volume, price func(string, money.Amount) money.Amount) []Tin {
	small, large := list[0], list[len(list)-1]
	var best []Tin
	var least money.Amount
	most := int((need + large.Tin - 1) / large.Tin)
	for n := range most + 1 {
		rest := max(0, need-large.Tin*measure.Volume(n))
		k := int((rest + small.Tin - 1) / small.Tin)
		cost := price(large.ID, large.Price).Times(n) + price(small.ID, small.Price).Times(k)
		if best == nil || cost <= least {
			best, least = nil, cost
			if n > 0 {
				best = append(best, Tin{large, n})
			}
			if k > 0 {
				best = append(best, Tin{small, k})
			}
		}
	}
	return best
}

// Lines are the tins that are bought.
func (p Plan) Lines(s why.Style, own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount) []cost.Line {
	var list []cost.Line
	for _, c := range p.Cans {
		for _, t := range c.Tins {
			list = append(list, cost.Line{Group: cost.Finish, SKU: t.ID, Item: t.Name, Quantity: t.Count, Unit: "tin",
				Price: price(t.ID, t.Price), Own: own(t.ID), Why: fmt.Sprintf("%s takes %s in %s",
					s.Write(why.Area, (c.Faces+c.Ends).SquareMetres()), Amount(c.Volume, s.System),
					measure.Count(c.About.Coats, "coat"))})
		}
	}
	return list
}

// Figures are those of what is brushed, with how each came about.
func (p Plan) Figures(s why.Style) []why.Figure {
	var list []why.Figure
	for _, b := range p.Beds {
		list = append(list, s.Figure("", b.Name+", faces that show", why.Why{
			Steps: []why.Step{why.Given("outside, over the ground and the cap", why.Face(b.Faces)),
				why.Given("of end grain", why.Face(b.Ends)),
				{Of: why.Sum(why.Face(b.Faces), why.Face(b.Ends)), As: why.Area}},
			Rule:   "What lies against other timber, in the ground, or inside where food grows is left bare.",
			Source: "geometry"}))
	}
	for _, c := range p.Cans {
		f := s.Figure("", c.About.Of+", all coats", why.Why{
			Steps: []why.Step{{Of: c.litres(), As: why.Volume}},
			Rule: fmt.Sprintf("The first coat soaks in, the others lie on it; end grain takes %d times as much; a tenth stays"+
				" in brush and rag.", soaks),
			Source: c.About.Source})
		f.Text = Amount(c.Volume, s.System)
		list = append(list, f)
	}
	return list
}

// Amount writes how much of something comes out of a tin.
func Amount(v measure.Volume, sys measure.System) string {
	if sys == measure.Imperial {
		return fmt.Sprintf("%.2f qt", v.Litres()/0.946352946)
	}
	return fmt.Sprintf("%.2f l", v.Litres())
}

// samples are looked at along each side of a face.
const samples = 6

// Shown is how much of a frame's timber shows outside: of faces along the grain, and of its ends. What
// lies against something else, in soil or ground, or looks into the room that is planted, does not.
func Shown(f *frame.Frame) (faces, ends measure.Area) {
	bodies := make([]frame.Prism, 0, len(f.Parts)+len(f.Units))
	for _, p := range f.Parts {
		bodies = append(bodies, p.Body)
	}
	for _, u := range f.Units {
		bodies = append(bodies, u.Solids()...)
	}
	los, his := make([]frame.Point, len(bodies)), make([]frame.Point, len(bodies))
	for i, b := range bodies {
		los[i], his[i] = b.Bounds()
	}
	hidden := func(q frame.Point) bool {
		if q.Z < 0 && !f.OnFeet {
			return true
		}
		for _, c := range f.Cavities {
			if q.Z < max(c.Top, c.Rim) && frame.Inside(c.Outline, frame.Spot{U: q.X, V: q.Y}) {
				return true
			}
		}
		for i, b := range bodies {
			if q.X >= los[i].X && q.X <= his[i].X && q.Y >= los[i].Y && q.Y <= his[i].Y && q.Z >= los[i].Z &&
				q.Z <= his[i].Z && b.Holds(q) {
				return true
			}
		}
		return false
	}
	var long, end float64
	for _, p := range f.Parts {
		for _, face := range p.Body.Faces() {
			area, share := shown(face, hidden)
			if math.Abs(face.Normal[p.Grain]) > 0.7 {
				end += area * share
			} else {
				long += area * share
			}
		}
	}
	square := func(m float64) measure.Area { return measure.Area(math.Round(m * float64(measure.SquareMetre))) }
	return square(long), square(end)
}

// shown is a face's surface, m², and what share of it is free, by a grid of places a little before it.
func shown(face frame.Face, hidden func(frame.Point) bool) (area, share float64) {
	c := face.Corners
	vec := func(p frame.Point) [3]float64 { return [3]float64{p.X.Metres(), p.Y.Metres(), p.Z.Metres()} }
	size := math.Sqrt(face.Normal[0]*face.Normal[0] + face.Normal[1]*face.Normal[1] + face.Normal[2]*face.Normal[2])
	free, all := 0.0, 0.0
	for i := 1; i+1 < len(c); i++ { // triangles
		a, b, d := vec(c[0]), vec(c[i]), vec(c[i+1])
		u := [3]float64{b[0] - a[0], b[1] - a[1], b[2] - a[2]}
		v := [3]float64{d[0] - a[0], d[1] - a[1], d[2] - a[2]}
		x := [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
		tri := math.Sqrt(x[0]*x[0]+x[1]*x[1]+x[2]*x[2]) / 2
		hits, seen := 0, 0
		for j := range samples {
			for k := range samples - j {
				s, t := (float64(j)+1./3)/samples, (float64(k)+1./3)/samples
				var q [3]float64
				for m := range 3 {
					q[m] = a[m] + s*u[m] + t*v[m] + face.Normal[m]/size*0.004
				}
				seen++
				if !hidden(frame.Point{X: measure.Metres(q[0]), Y: measure.Metres(q[1]), Z: measure.Metres(q[2])}) {
					hits++
				}
			}
		}
		all += tri
		free += tri * float64(hits) / float64(seen)
	}
	if all == 0 {
		return 0, 0
	}
	return all, free / all
}
