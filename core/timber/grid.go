package timber

import (
	"fmt"
	"slices"

	"chamfer/core/addition"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// plantingGrid is strings or strips between boards.
var plantingGrid = Extra{Extra: addition.Grid, Build: buildGrid}

// stripTall is how thick a strip lies.
const stripTall = addition.StripTall

// buildGrid lays the lines of every opening.
func buildGrid(b *box) {
	cell := b.bed.OptionLength("grid_cell")
	var along, across measure.Length
	var lines [][]frame.Point
	var ids []string
	for _, o := range b.f.Openings {
		long, wide := o.Hi.U-o.Lo.U, o.Hi.V-o.Lo.V
		nx, ny := long/cell, wide/cell // cells along and across
		if b.bed.Options["grid"] == "string" {
			for i := measure.Length(1); i < nx; i++ {
				x := o.Lo.U + long*i/nx
				lines = append(lines, []frame.Point{{X: x, Y: o.Lo.V, Z: o.Rim}, {X: x, Y: o.Hi.V, Z: o.Rim}})
			}
			for i := measure.Length(1); i < ny; i++ {
				y := o.Lo.V + wide*i/ny
				lines = append(lines, []frame.Point{{X: o.Lo.U, Y: y, Z: o.Rim}, {X: o.Hi.U, Y: y, Z: o.Rim}})
			}
			along += max(0, ny-1) * long
			across += max(0, nx-1) * wide
			continue
		}
		top := b.soilAt(o.Lo)
		thin, err := design.ThinBoard(b.cat, b.bed.Species)
		if err != nil {
			return // Check has refused it
		}
		t := thin.Thickness
		lay := func(name string, lo, hi frame.Spot, z measure.Length, grain frame.Axis) {
			lo, hi = b.short(lo, hi, z, grain)
			if hi.U-lo.U < 2*t && hi.V-lo.V < 2*t || hi.U <= lo.U || hi.V <= lo.V {
				return // a tie lies there already
			}
			p := b.part(thin, frame.Strip, fmt.Sprintf("grid strip %d, %s", len(ids)+1, name))
			p.ID, p.Grain, p.Width = b.id("strip.%d", len(ids)+1), grain, stripTall
			p.Body = standing(lo, hi, z, z+stripTall, grain)
			p.Length = p.Body.To - p.Body.From
			b.f.Parts = append(b.f.Parts, p)
			ids = append(ids, p.ID)
		}
		for i := measure.Length(1); i < ny; i++ {
			y := o.Lo.V + wide*i/ny - t/2
			lay("along", frame.Spot{U: o.Lo.U, V: y}, frame.Spot{U: o.Hi.U, V: y + t}, top, frame.X)
		}
		over := top
		if slices.ContainsFunc(
			b.f.Parts,
			func(p frame.Part) bool {
				return p.Kind == frame.Strip && p.Grain == frame.X && p.Body.Outline[0].V == top
			},
		) {
			over += stripTall // they lie across those that run along
		}
		for i := measure.Length(1); i < nx; i++ {
			x := o.Lo.U + long*i/nx - t/2
			lay("across", frame.Spot{U: x, V: o.Lo.V}, frame.Spot{U: x + t, V: o.Hi.V}, over, frame.Y)
		}
	}
	act := frame.Act{
		Verb:  frame.FitOut,
		Of:    "grid",
		Title: "Lay the planting grid",
		Where: "once the soil has settled",
		Parts: ids,
		Soil:  frame.OnSoil,
		Note:  fmt.Sprintf("Whole cells of at least %s: measure from one corner, the tape left in place.", cell),
	}
	if n := len(lines); n > 0 {
		b.f.Fittings = append(
			b.f.Fittings,
			frame.Fitting{
				ID:    b.id("string"),
				Bed:   b.bed.ID,
				Kind:  "string",
				Place: "the planting grid",
				Count: 1,
				Each:  along + across,
				Why:   measure.Count(n, "line"),
				Lines: lines,
			},
			frame.Fitting{
				ID:    b.id("nails"),
				Bed:   b.bed.ID,
				Kind:  "nail",
				Place: "the planting grid",
				Count: 2 * n,
				Why:   "2 for each of " + measure.Count(n, "line"),
			},
		)
		act.Fits = []string{b.id("string"), b.id("nails")}
	}
	b.f.Acts = append(b.f.Acts, act)
}

// soilAt is the surface of the soil under a spot.
func (b *box) soilAt(s frame.Spot) measure.Length {
	top := measure.Length(0)
	for _, c := range b.f.Cavities {
		if lo, hi := c.Outline[0], c.Outline[2]; s.U >= lo.U && s.U <= hi.U && s.V >= lo.V && s.V < hi.V {
			top = max(top, c.Top)
		}
	}
	return top
}

// short takes a strip's ends back to the posts that stand in its way.
func (b *box) short(lo, hi frame.Spot, z measure.Length, grain frame.Axis) (frame.Spot, frame.Spot) {
	for _, p := range b.f.Parts {
		a, c := p.Body.Bounds()
		if p.Kind == frame.Strip || c.Z <= z || a.Z >= z+stripTall || c.X <= lo.U || a.X >= hi.U || c.Y <= lo.V ||
			a.Y >= hi.V {
			continue
		}
		if grain == frame.X {
			lo.U, hi.U = beside(lo.U, hi.U, a.X, c.X)
		} else {
			lo.V, hi.V = beside(lo.V, hi.V, a.Y, c.Y)
		}
	}
	return lo, hi
}

// beside keeps the longer of what is left of a stretch on either side of
// something that stands in it.
func beside(lo, hi, from, to measure.Length) (measure.Length, measure.Length) {
	if from-lo > hi-to {
		return lo, from
	}
	return to, hi
}
