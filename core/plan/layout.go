package plan

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/planting"
	"chamfer/core/sun"
)

// farShadow is up to how many times as far as it is high something is said to shade: the sun is below 14 degrees then,
// and gives little; common practice.
const farShadow = 4

// Planted is a bed laid out: what was found, and the edit that takes it.
type Planted struct {
	planting.Layout
	Edit design.Edit
}

// LayPlants lays the wanted crops of a bed out on its grid, round what was placed by hand.
func (p *Plan) LayPlants(bedID string, folklore bool) (Planted, error) {
	i := slices.IndexFunc(p.Design.Beds, func(b design.Bed) bool { return b.ID == bedID })
	if i < 0 {
		return Planted{}, fmt.Errorf("there is no bed %q", bedID)
	}
	bed, g := p.Design.Beds[i], p.Growing[i]
	a := planting.Ask{Surfaces: g.Surfaces, Folklore: folklore}
	if len(g.Surfaces) == 0 {
		return Planted{}, &design.Refusal{Bed: bedID, Field: "plant:all", Reason: "there is no soil in it to plant"}
	}
	kept := map[string]int{} // plants that stay are of those that are wanted
	for _, x := range g.Patches {
		if x.Kept {
			kept[x.Crop.ID] += x.Plants()
		}
	}
	for _, w := range bed.Wants {
		crop, ok := p.Crops.Named(w.Crop)
		n := w.N
		if w.Share > 0 {
			n = planting.Share(crop, g.Surfaces, w.Share)
		}
		if ok && n > kept[w.Crop] {
			a.Wants = append(a.Wants, planting.Wanted{Crop: crop, N: n - kept[w.Crop]})
		}
	}
	if len(bed.Wants) == 0 {
		return Planted{}, &design.Refusal{Bed: bedID, Field: "plant:all",
			Reason: "nothing is wanted yet: say how many plants of which crops, then have them laid out"}
	}
	lit := p.spots(&a, i)
	stand, _ := p.stand(bedID)
	put := stand.On(&p.Frames[i])
	cellBox := func(s planting.Spot, wide, deep int) (lo, hi frame.Spot) {
		b, _ := g.Surfaces[s.Surface].Cell(s.Column, s.Row)
		_, c := g.Surfaces[s.Surface].Cell(s.Column+wide-1, s.Row+deep-1)
		b, c = put(b), put(c)
		return frame.Spot{U: min(b.U, c.U), V: min(b.V, c.V)}, frame.Spot{U: max(b.U, c.U), V: max(b.V, c.V)}
	}
	a.Lost = func(high measure.Length, from planting.Spot, wide, deep int, to planting.Spot) (hours float64) {
		lo, hi := cellBox(from, wide, deep)
		t := sun.Thing{X0: metres(lo.U), X1: metres(hi.U), Y0: metres(lo.V), Y1: metres(hi.V), Top: metres(high)}
		b, c := cellBox(to, 1, 1)
		q := sun.Spot{X: metres(b.U+c.U) / 2, Y: metres(b.V+c.V) / 2}
		off := math.Hypot(max(t.X0-q.X, q.X-t.X1, 0), max(t.Y0-q.Y, q.Y-t.Y1, 0))
		if off > farShadow*t.Top {
			return 0
		}
		for _, r := range lit[[3]int{to.Surface, to.Column, to.Row}] {
			hours += r.Hours * (1 - sun.Light(q, r, []sun.Thing{t}))
		}
		return hours
	}
	out := Planted{Layout: planting.LayOut(a)}
	plants := slices.DeleteFunc(slices.Clone(bed.Plants), func(x design.Planting) bool { return !x.Kept })
	for _, x := range out.Placed {
		s := g.Surfaces[x.Surface]
		lo, _ := s.Cell(x.Column, x.Row)
		_, hi := s.Cell(x.Column+x.Wide-1, x.Row+x.Deep-1)
		plants = append(plants, design.Planting{Crop: x.Crop.ID, Soil: x.Surface, X: lo.U - s.Lo.U, Y: lo.V - s.Lo.V,
			Wide: hi.U - lo.U, Deep: hi.V - lo.V})
	}
	raw, err := json.Marshal(plants)
	out.Edit = design.Edit{Bed: bedID, Field: "plant:all", Value: string(raw)}
	return out, err
}

// WantAgain wants as many of each crop as grew in a bed in a year: laid out anew, families move on from where they
// stood.
func (p *Plan) WantAgain(bedID string, year int) ([]design.Edit, error) {
	i := slices.IndexFunc(p.Design.Beds, func(b design.Bed) bool { return b.ID == bedID })
	if i < 0 {
		return nil, fmt.Errorf("there is no bed %q", bedID)
	}
	var order []string
	n := map[string]int{}
	for _, x := range p.Design.Beds[i].Grown {
		crop, ok := p.Crops.Named(x.Crop)
		if x.Year != year || !ok || x.Soil >= len(p.Growing[i].Surfaces) {
			continue
		}
		if n[x.Crop] == 0 {
			order = append(order, x.Crop)
		}
		pieces := p.Growing[i].Surfaces[x.Soil].Patch(x.X, x.Y, x.Wide, x.Deep)
		n[x.Crop] += max(1, len(planting.Fit(crop, x.How, pieces).Spots))
	}
	if len(order) == 0 {
		return nil, &design.Refusal{Bed: bedID, Field: "grown:again",
			Reason: fmt.Sprintf("nothing is written down for %d", year)}
	}
	var edits []design.Edit
	for _, id := range order {
		edits = append(edits, design.Edit{Bed: bedID, Field: "want:" + id, Value: fmt.Sprint(n[id])})
	}
	return edits, nil
}

// spots are the cells of a bed with what decides what grows there, and the ways to the sun that reach each.
func (p *Plan) spots(a *planting.Ask, i int) map[[3]int][]sun.Ray {
	bed, g, f := p.Design.Beds[i], p.Growing[i], &p.Frames[i]
	l := p.Light()
	rays, things := l.Growing(), l.Things(p, false)
	stand, _ := p.stand(bed.ID)
	put := stand.On(f)
	lit := map[[3]int][]sun.Ray{}
	year := 0
	for _, x := range bed.Grown {
		year = max(year, x.Year+1)
	}
	for k, s := range g.Surfaces {
		for row := range s.Rows {
			for column := range s.Columns {
				lo, hi := s.Cell(column, row)
				mid := frame.Spot{U: (lo.U + hi.U) / 2, V: (lo.V + hi.V) / 2}
				if s.Round != nil && !frame.Inside(s.Round, mid) {
					continue
				}
				spot := planting.Spot{Surface: k, Column: column, Row: row, Deep: s.Deep, Past: map[string]int{},
					Off: row, Trellis: tallBy(f, lo, hi, s.Top)}
				if !bed.Access.FromOne() {
					spot.Off = min(row, s.Rows-1-row)
				}
				spot.Pole = p.fromPole(s, mid, put, l)
				q := spotOf(put(mid), s.Top)
				for _, r := range rays {
					if part := sun.Light(q, r, things); part > 0 {
						r.Hours *= part
						spot.Hours += r.Hours
						lit[[3]int{k, column, row}] = append(lit[[3]int{k, column, row}], r)
					}
				}
				on := func(x design.Planting) bool {
					at := frame.Spot{U: s.Lo.U + x.X, V: s.Lo.V + x.Y}
					return x.Soil == k && min(at.U+x.Wide, hi.U)-max(at.U, lo.U) > 10*measure.Millimetre &&
						min(at.V+x.Deep, hi.V)-max(at.V, lo.V) > 10*measure.Millimetre
				}
				for _, x := range bed.Plants {
					if x.Kept && on(x) {
						crop, _ := p.Crops.Named(x.Crop)
						spot.Kept = &crop
					}
				}
				for _, x := range bed.Grown {
					if crop, ok := p.Crops.Named(x.Crop); ok && on(x.Planting) {
						if ago, was := spot.Past[crop.Family]; !was || year-x.Year < ago {
							spot.Past[crop.Family] = year - x.Year
						}
					}
				}
				a.Spots = append(a.Spots, spot)
			}
		}
	}
	return lit
}

// tallBy reports whether something to climb rises at a cell: a part that stands knee-high and more over the soil.
func tallBy(f *frame.Frame, lo, hi frame.Spot, top measure.Length) bool {
	const knee, near = 600 * measure.Millimetre, 150 * measure.Millimetre
	for _, part := range f.Parts {
		a, b := part.Body.Bounds()
		if b.Z < top+knee {
			continue
		}
		du := max(lo.U-b.X, a.X-hi.U, 0)
		dv := max(lo.V-b.Y, a.Y-hi.V, 0)
		if math.Hypot(float64(du), float64(dv)) <= float64(near) {
			return true
		}
	}
	return false
}

// fromPole is how many cells lie between a spot and its surface's side towards the pole of its hemisphere.
func (p *Plan) fromPole(s planting.Surface, at frame.Spot, put func(frame.Spot) frame.Spot, l Light) int {
	sin, cos := math.Sincos(l.North * math.Pi / 180)
	if l.Place.Lat < 0 {
		sin, cos = -sin, -cos
	}
	along := func(q frame.Spot) float64 { q = put(q); return float64(q.U)*sin + float64(q.V)*cos }
	far := math.Inf(-1)
	for _, q := range []frame.Spot{s.Lo, {U: s.Hi.U, V: s.Lo.V}, s.Hi, {U: s.Lo.U, V: s.Hi.V}} {
		far = max(far, along(q))
	}
	return int((far - along(at)) / float64(max((s.Hi.V-s.Lo.V)/measure.Length(s.Rows), measure.Inch)))
}
