package planting

import (
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

// Still is how many plants of a crop have room on cells, at least: several to a cell where they are close, else one on
// each block of cells that one takes, blocks taken from the left front.
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
		n += len(Fit(c, "", s.Patch(lo.U-s.Lo.U, lo.V-s.Lo.V, measure.Length(w)*wide, measure.Length(d)*deep)).Spots)
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
