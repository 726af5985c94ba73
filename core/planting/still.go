package planting

import (
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Cell is one of the strings' grid over a bed's surfaces.
type Cell struct{ Surface, Column, Row int }

// Cells are those of a bed's surfaces that lie on soil by their middles, by surface, row and column.
func Cells(list []Surface) (cells []Cell) {
	for k, s := range list {
		for row := range s.Rows {
			for column := range s.Columns {
				if s.Round == nil || frame.Inside(s.Round, s.Middle(column, row)) {
					cells = append(cells, Cell{k, column, row})
				}
			}
		}
	}
	return cells
}

// Middle is the middle of a cell.
func (s Surface) Middle(column, row int) frame.Spot {
	lo, hi := s.Cell(column, row)
	return frame.Spot{U: (lo.U + hi.U) / 2, V: (lo.V + hi.V) / 2}
}

// Free are the cells that no patch lies on.
func Free(list []Surface, patches []Patch) []Cell {
	return slices.DeleteFunc(Cells(list), func(c Cell) bool {
		lo, hi := list[c.Surface].Cell(c.Column, c.Row)
		return slices.ContainsFunc(patches, func(p Patch) bool {
			const hair = 10 * measure.Millimetre
			return p.Surface == c.Surface && min(p.Hi.U, hi.U) > max(p.Lo.U, lo.U)+hair &&
				min(p.Hi.V, hi.V) > max(p.Lo.V, lo.V)+hair
		})
	})
}

// Still is how many plants of a crop have room on cells, at least: in squares on each cell where they are close, else
// on
// each block of cells that one takes, blocks taken from the left front. Closer packing, [Fit], may find room for more.
func Still(c Crop, list []Surface, cells []Cell) (n int) {
	left := map[Cell]bool{}
	for _, x := range cells {
		left[x] = true
	}
	for _, x := range cells {
		s := list[x.Surface]
		wide, deep := (s.Hi.U-s.Lo.U)/measure.Length(s.Columns), (s.Hi.V-s.Lo.V)/measure.Length(s.Rows)
		w, d := blocks(c.Each, wide), blocks(c.Each, deep)
		if s.Pots != nil {
			w, d = 1, 1
		}
		room := true
		for i := range w * d {
			room = room && left[Cell{x.Surface, x.Column + i%w, x.Row + i/w}]
		}
		if !room {
			continue
		}
		for i := range w * d {
			delete(left, Cell{x.Surface, x.Column + i%w, x.Row + i/w})
		}
		lo, _ := s.Cell(x.Column, x.Row)
		for _, piece := range s.Patch(lo.U-s.Lo.U, lo.V-s.Lo.V, measure.Length(w)*wide, measure.Length(d)*deep) {
			n += piece.squares(c.Each)
		}
	}
	return n
}

// squares is how many plants so far apart stand on a piece of soil in squares about its middle, half of it off its
// sides
// and off what stands in it.
func (s Soil) squares(each measure.Length) (n int) {
	across, along := (s.Hi.U-s.Lo.U)/each, (s.Hi.V-s.Lo.V)/each
	u0 := (s.Lo.U + s.Hi.U - (across-1)*each) / 2
	v0 := (s.Lo.V + s.Hi.V - (along-1)*each) / 2
	off := func(at frame.Spot) bool {
		if s.Outline != nil {
			for k := range 16 {
				sin, cos := math.Sincos(float64(k) * math.Pi / 8)
				reach := float64(each) / 2 / math.Cos(math.Pi/16) // a circle lies within sixteen corners round it
				q := frame.Spot{U: at.U + measure.Length(cos*reach), V: at.V + measure.Length(sin*reach)}
				if !frame.Inside(s.Outline, q) {
					return false
				}
			}
		}
		for _, hole := range s.Holes {
			lo, hi := bounds(hole)
			if math.Hypot(float64(max(lo.U-at.U, at.U-hi.U, 0)), float64(max(lo.V-at.V, at.V-hi.V, 0))) < float64(each)/2 {
				return false
			}
		}
		return true
	}
	for i := range across {
		for j := range along {
			if off(frame.Spot{U: u0 + i*each, V: v0 + j*each}) {
				n++
			}
		}
	}
	return n
}

// Share is how many plants of a crop part of a bed comes to, in percent of its cells: one at least.
func Share(c Crop, list []Surface, percent int) int {
	cells := Cells(list)
	if len(cells) == 0 {
		return 0
	}
	n := max(1, len(cells)*percent/100)
	return max(1, Still(c, list, cells)*n/len(cells))
}
