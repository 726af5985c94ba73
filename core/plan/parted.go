package plan

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/planting"
	"chamfer/core/sun"
)

// Room is how many plants of a crop have room where nothing grows yet, at least.
type Room struct {
	Crop planting.Crop
	N    int
}

// StillFits are the crops that have room in what is left of a bed, where its soil is deep enough and the sun on some of
// it long enough; with how many of its cells are free, and how many there are.
func (p *Plan) StillFits(bed string) (list []Room, free, all int) {
	i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == bed })
	if i < 0 {
		return nil, 0, 0
	}
	g := p.Growing[i]
	hours := p.CellHours(bed)
	cells := planting.Free(g.Surfaces, g.Patches)
	for _, c := range p.Crops {
		good := slices.DeleteFunc(slices.Clone(cells), func(x planting.Cell) bool {
			return g.Surfaces[x.Surface].Deep < c.Deep || hours[x] < float64(c.SunHours)
		})
		if n := planting.Still(c, g.Surfaces, good); n > 0 {
			list = append(list, Room{c, n})
		}
	}
	return list, len(cells), len(planting.Cells(g.Surfaces))
}

// CellHours are the hours of sun a day on the soil in the middle of each cell of a bed, on the mean day of the months
// plants grow in, crops aside.
func (p *Plan) CellHours(bed string) map[planting.Cell]float64 {
	i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == bed })
	stand, ok := p.stand(bed)
	if i < 0 || !ok {
		return nil
	}
	l := p.Light()
	rays, things, put := l.Growing(), l.Things(p, false), stand.On(&p.Frames[i])
	hours := map[planting.Cell]float64{}
	for _, c := range planting.Cells(p.Growing[i].Surfaces) {
		s := p.Growing[i].Surfaces[c.Surface]
		hours[c] = sun.Hours(spotOf(put(s.Middle(c.Column, c.Row)), s.Top), rays, things)
	}
	return hours
}

// Parted takes a planting apart along the strings, into its rows or its cells, so that each can be moved by itself.
func (p *Plan) Parted(bedID, n, by string) (design.Edit, error) {
	e := design.Edit{Bed: bedID, Field: "plant:all"}
	i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == bedID })
	k, err := strconv.Atoi(n)
	if err != nil || i < 0 || k < 0 || k >= len(p.Design.Beds[i].Plants) {
		return e, fmt.Errorf("there is no planting %q in this bed", n)
	}
	refuse := func(why string) (design.Edit, error) {
		return e, &design.Refusal{Bed: bedID, Field: "plant:" + n, Reason: why}
	}
	x := p.Design.Beds[i].Plants[k]
	if x.Soil >= len(p.Growing[i].Surfaces) {
		return refuse("it lies on no surface of this bed: move it first")
	}
	s := p.Growing[i].Surfaces[x.Soil]
	cuts := func(from, size, whole measure.Length, cells int) []measure.Length {
		list := []measure.Length{from}
		for c := range cells {
			at := whole * measure.Length(c) / measure.Length(cells)
			if at > from+measure.Inch && at < from+size-measure.Inch {
				list = append(list, at)
			}
		}
		return append(list, from+size)
	}
	us, vs := []measure.Length{x.X, x.X + x.Wide}, cuts(x.Y, x.Deep, s.Hi.V-s.Lo.V, s.Rows)
	if by == "cells" {
		us = cuts(x.X, x.Wide, s.Hi.U-s.Lo.U, s.Columns)
	}
	if len(us) == 2 && len(vs) == 2 {
		return refuse(map[bool]string{true: "it is one cell already", false: "it is one row already"}[by == "cells"])
	}
	list := slices.Delete(slices.Clone(p.Design.Beds[i].Plants), k, k+1)
	for r := range len(vs) - 1 {
		for c := range len(us) - 1 {
			one := x
			one.X, one.Y, one.Wide, one.Deep, one.Kept = us[c], vs[r], us[c+1]-us[c], vs[r+1]-vs[r], true
			lo := frame.Spot{U: one.X, V: one.Y}
			if len(planting.Fit(p.Growing[i].Patches[k].Crop, x.How, s.Patch(lo.U, lo.V, one.Wide, one.Deep)).Spots) > 0 {
				list = append(list, one)
			}
		}
	}
	if len(list) == len(p.Design.Beds[i].Plants)-1 {
		return refuse("its plants need more room than one of them: it stays whole")
	}
	raw, err := json.Marshal(list)
	e.Value = string(raw)
	return e, err
}
