package planting

import (
	"fmt"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Surface is one of a bed's surfaces that are planted: the clear opening over it, and how deep its soil is.
type Surface struct {
	Name          string // where there are several
	Lo, Hi        frame.Spot
	Round         []frame.Spot // its outline where it is no rectangle
	Top           measure.Length
	Deep          measure.Length // of the soil between the walls
	Holes         [][]frame.Spot
	Pots          []Soil
	Columns, Rows int // of the grid of strings, cells no smaller than was asked
}

// Surfaces are what can be planted of a bed. Cell is how far strings lie apart at least.
func Surfaces(f *frame.Frame, cell measure.Length) []Surface {
	var list []Surface
	for k, o := range f.Openings {
		s := Surface{Name: o.Name, Lo: o.Lo, Hi: o.Hi, Round: o.Round,
			Columns: max(1, int((o.Hi.U-o.Lo.U)/cell)), Rows: max(1, int((o.Hi.V-o.Lo.V)/cell))}
		if s.Name == "" && len(f.Openings) > 1 {
			s.Name = fmt.Sprintf("surface %d", k+1)
		}
		s.soil(f)
		list = append(list, s)
	}
	return list
}

// soil finds what lies below a surface: its top and depth, pots, and what stands in it.
func (s *Surface) soil(f *frame.Frame) {
	at := s.inside()
	for i := range f.Cavities {
		c := &f.Cavities[i]
		lo, hi := bounds(c.Outline)
		if c.Pot {
			if mid := (frame.Spot{U: (lo.U + hi.U) / 2, V: (lo.V + hi.V) / 2}); within(mid, s.Lo, s.Hi) {
				s.Pots = append(s.Pots, Soil{Lo: lo, Hi: hi, Outline: c.Outline, Pot: true})
				s.Top, s.Deep = c.Top, max(s.Deep, c.Top-c.Bottom)
			}
			continue
		}
		if frame.Inside(c.Outline, at) {
			s.Top = max(s.Top, c.Top)
			s.Deep += c.Top - c.Bottom
		}
	}
	s.inRows()
	hole := func(body frame.Prism) {
		slice, ok := body.Slice(s.Top-measure.Millimetre, s.Top)
		if !ok {
			return
		}
		lo, hi := slice.Bounds()
		a, b := frame.Spot{U: max(lo.X, s.Lo.U), V: max(lo.Y, s.Lo.V)}, frame.Spot{U: min(hi.X, s.Hi.U), V: min(hi.Y, s.Hi.V)}
		if a.U < b.U && a.V < b.V {
			if slice.Axis == frame.Z {
				s.Holes = append(s.Holes, slice.Outline)
			} else {
				s.Holes = append(s.Holes, []frame.Spot{a, {U: b.U, V: a.V}, b, {U: a.U, V: b.V}})
			}
		}
	}
	for i := range f.Parts {
		hole(f.Parts[i].Body)
	}
	for i := range f.Units {
		if s.Round == nil { // a round outline leaves its blocks out already
			hole(f.Units[i].Body)
		}
	}
}

// inRows makes the grid one of pots, where there are pots: as many columns and rows as they stand in.
func (s *Surface) inRows() {
	var us, vs []measure.Length
	for _, p := range s.Pots {
		us, vs = append(us, (p.Lo.U+p.Hi.U)/2), append(vs, (p.Lo.V+p.Hi.V)/2)
	}
	count := func(list []measure.Length) (n int) {
		slices.Sort(list)
		for i, l := range list {
			if i == 0 || l > list[i-1]+measure.Inch {
				n++
			}
		}
		return n
	}
	if c, r := count(us), count(vs); c*r > 0 {
		s.Columns, s.Rows = c, r
	}
}

// inside is a spot well inside a surface.
func (s *Surface) inside() frame.Spot {
	mid := frame.Spot{U: (s.Lo.U + s.Hi.U) / 2, V: (s.Lo.V + s.Hi.V) / 2}
	if s.Round == nil || frame.Inside(s.Round, mid) {
		return mid
	}
	const parts = 24
	for j := 1; j < parts; j++ {
		for i := 1; i < parts; i++ {
			at := frame.Spot{U: s.Lo.U + (s.Hi.U-s.Lo.U)*measure.Length(i)/parts,
				V: s.Lo.V + (s.Hi.V-s.Lo.V)*measure.Length(j)/parts}
			if frame.Inside(s.Round, at) {
				return at
			}
		}
	}
	return mid
}

// Cell is a cell of the strings' grid, from its left front corner to the opposite.
func (s Surface) Cell(column, row int) (lo, hi frame.Spot) {
	at := func(i, j int) frame.Spot {
		return frame.Spot{U: s.Lo.U + (s.Hi.U-s.Lo.U)*measure.Length(i)/measure.Length(s.Columns),
			V: s.Lo.V + (s.Hi.V-s.Lo.V)*measure.Length(j)/measure.Length(s.Rows)}
	}
	return at(column, row), at(column+1, row+1)
}

// Patch is the soil of a rectangle on a surface, from the surface's left front corner: pieces that are planted each by
// itself. There is none where it lies beside the surface.
func (s Surface) Patch(x, y, wide, deep measure.Length) (pieces []Soil) {
	lo := frame.Spot{U: s.Lo.U + x, V: s.Lo.V + y}
	hi := frame.Spot{U: min(lo.U+wide, s.Hi.U), V: min(lo.V+deep, s.Hi.V)}
	if lo.U >= hi.U || lo.V >= hi.V {
		return nil
	}
	if s.Pots == nil {
		return []Soil{{Lo: lo, Hi: hi, Outline: s.Round, Holes: s.Holes}}
	}
	for _, p := range s.Pots {
		if within(frame.Spot{U: (p.Lo.U + p.Hi.U) / 2, V: (p.Lo.V + p.Hi.V) / 2}, lo, hi) {
			pieces = append(pieces, p)
		}
	}
	return pieces
}

// Fit plants a crop on pieces of soil, each way or in rows.
func Fit(c Crop, how string, pieces []Soil) Laid {
	var all Laid
	for _, s := range pieces {
		var one Laid
		switch how {
		case "":
			one = Pack(s, c.Each, c.Each/2)
		default:
			one = Rows(s, c.InRow, c.Rows, min(c.InRow, c.Rows)/2, how == "across")
		}
		if len(one.Spots) > 0 {
			all.Lattice, all.Turned, all.Tried = one.Lattice, one.Turned, one.Tried
			all.Spots = append(all.Spots, one.Spots...)
		}
	}
	return all
}

func within(at, lo, hi frame.Spot) bool {
	return at.U >= lo.U && at.U <= hi.U && at.V >= lo.V && at.V <= hi.V
}

func bounds(outline []frame.Spot) (lo, hi frame.Spot) {
	lo, hi = outline[0], outline[0]
	for _, q := range outline {
		lo = frame.Spot{U: min(lo.U, q.U), V: min(lo.V, q.V)}
		hi = frame.Spot{U: max(hi.U, q.U), V: max(hi.V, q.V)}
	}
	return lo, hi
}

// Patch is one crop as it stands on a bed's soil.
type Patch struct {
	N       int // which of the bed's plantings
	Crop    Crop
	How     string
	Kept    bool
	Surface int
	Lo, Hi  frame.Spot // in the bed's own coordinates, within the surface
	Laid    Laid
	Deep    measure.Length // of the soil
	Hours   float64        // of sun a day through the growing season, other crops aside
	Lost    float64        // hours that the one in whose shadow it is most takes of them
	By      string         // that one's crop; "" for none
}

// Plants is how many stand there.
func (p Patch) Plants() int { return len(p.Laid.Spots) }

// Seeds is how many are sown for them: half as many again where they are sown outdoors, a quarter more indoors, and
// twice as many for what is thinned; common practice. Set is how many plants are bought instead.
func (p Patch) Seeds() (seeds, set int) {
	n := p.Plants()
	switch {
	case p.Crop.Direct != nil && p.Crop.Each < 150*measure.Millimetre:
		return 2 * n, 0
	case p.Crop.Direct != nil:
		return (3*n + 1) / 2, n
	case p.Crop.Indoor != nil:
		return (5*n + 3) / 4, n
	}
	return 0, n
}
