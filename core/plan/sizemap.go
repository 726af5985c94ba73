package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Sized is a size of a bed on a map of them: what it costs by itself, and how much of its boards is waste.
type Sized struct {
	Length, Width measure.Length
	Total         money.Amount
	PerArea       money.Amount // of a square foot or metre of planting
	Bought, Used  measure.Area // of the boards' faces
	Built         bool         // it can be
	Least         bool         // of less waste than all sizes beside it
}

// Waste is the part of the boards that is in no piece, from 0 to 1.
func (s Sized) Waste() float64 {
	if s.Bought == 0 {
		return 0
	}
	return max(0, 1-float64(s.Used)/float64(s.Bought))
}

// SizeMap is a bed by itself in all sizes of a grid, by width and then by length.
type SizeMap struct {
	Lengths, Widths []measure.Length
	Cells           []Sized
	Every           int  // size of the whole map it has: 1 for all of it
	Stopped         bool // before all were tried
}

// At is the size of a column, a length, and a row, a width.
func (m SizeMap) At(column, row int) Sized { return m.Cells[row*len(m.Lengths)+column] }

// mapSteps are the sizes of a map: every three inches (75 mm) from two feet (600 mm) of length to sixteen and from one
// foot of width to seven; of a bed that is built of whole units the sizes that they make, and of a round one its length
// alone.
func mapSteps(p *Plan, bed design.Bed, coarse bool) (lengths, widths []measure.Length) {
	step := p.Shop.Catalog.Told(3*measure.Inch, 75*measure.Millimetre)
	s, _ := design.SystemNamed(bed.System)
	line := func(field string, now, least, most measure.Length) (list []measure.Length) {
		if slices.Contains(s.Lacks, field) {
			return []measure.Length{now}
		}
		from, by := least, step
		if s.Apart != nil {
			if apart := s.Apart(bed, p.Shop.Catalog, field); apart > 0 {
				from, by = now-(now-least)/apart*apart, apart
			}
		}
		if coarse {
			by *= coarsely
		}
		for l := from; l <= most; l += by {
			list = append(list, l)
		}
		return list
	}
	return line("length", bed.Length, 8*step, 64*step), line("width", bed.Width, 4*step, 28*step)
}

// coarsely is how many sizes a first map goes on by.
const coarsely = 4

// FirstMap is [Plan.SizeMap] of every fourth length and width: what is known at once.
func (p *Plan) FirstMap(ctx context.Context, bedID string) (SizeMap, error) {
	return p.sizeMap(ctx, bedID, true)
}

// SizeMap plans a bed by itself in some 1,400 sizes. What is not longer than wide is left out, but where the system
// takes it.
func (p *Plan) SizeMap(ctx context.Context, bedID string) (SizeMap, error) {
	return p.sizeMap(ctx, bedID, false)
}

func (p *Plan) sizeMap(ctx context.Context, bedID string, coarse bool) (SizeMap, error) {
	var m SizeMap
	alone := p.alone(bedID)
	bed, err := alone.Bed(bedID)
	if err != nil {
		return m, err
	}
	m.Lengths, m.Widths = mapSteps(p, *bed, coarse)
	m.Cells = make([]Sized, len(m.Lengths)*len(m.Widths))
	stopped := make([]bool, len(m.Cells))
	for i, fault := range tried(ctx, len(m.Cells), func(i int) {
		c := &m.Cells[i]
		c.Length, c.Width = m.Lengths[i%len(m.Lengths)], m.Widths[i/len(m.Lengths)]
		if stopped[i] = ctx.Err() != nil; stopped[i] {
			return
		}
		d, err := design.Apply(alone, p.Shop.Catalog, SizeEdits(*bed, *c)...)
		if err != nil {
			return
		}
		then, err := reckon(ctx, d, p.Shop.asked(), nil)
		if stopped[i] = ctx.Err() != nil; err != nil || len(then.Bill.Without) > 0 {
			return
		}
		c.Built, c.Total, c.PerArea = true, then.Bill.Total, then.PerArea()
		for _, cut := range then.Cuts {
			for _, b := range cut.Answer.Boards {
				c.Bought += measure.Over(b.Stock.Length, cut.Profile.Width) * measure.Area(b.Count)
			}
			for _, piece := range cut.Request.Pieces {
				wide := cmp.Or(piece.Width, cut.Profile.Width)
				c.Used += measure.Over(piece.Length, wide) * measure.Area(piece.Quantity)
			}
		}
	}) {
		if fault != nil {
			m.Cells[i].Built = false
		}
	}
	m.Stopped = slices.Contains(stopped, true)
	m.Every = 1
	if coarse {
		m.Every = coarsely
	} else {
		m.mark()
	}
	if !m.Stopped && !slices.ContainsFunc(m.Cells, func(c Sized) bool { return c.Built }) {
		return m, &design.Refusal{Bed: bedID, Field: "length",
			Reason: "its sizes follow from other decisions: change those on the Bed page, and see what each comes to"}
	}
	return m, nil
}

// SizeEdits are those that give a bed a size of a map.
func SizeEdits(bed design.Bed, s Sized) []design.Edit {
	list := []design.Edit{{Bed: bed.ID, Field: "length", Value: s.Length.String()}}
	if x, _ := design.SystemNamed(bed.System); !slices.Contains(x.Lacks, "width") {
		list = append(list, design.Edit{Bed: bed.ID, Field: "width", Value: s.Width.String()})
	}
	return list
}

// mark marks the sizes of less waste than all beside them.
func (m *SizeMap) mark() {
	columns := len(m.Lengths)
	for i := range m.Cells {
		c := &m.Cells[i]
		c.Least = c.Built && c.Bought > 0
		for dr := -1; dr <= 1 && c.Least; dr++ {
			for dc := -1; dc <= 1; dc++ {
				column, row := i%columns+dc, i/columns+dr
				if (dc == 0 && dr == 0) || column < 0 || row < 0 || column >= columns || row >= len(m.Widths) {
					continue
				}
				if o := m.At(column, row); o.Built && o.Waste() <= c.Waste() {
					c.Least = false
				}
			}
		}
	}
}

// Best are so many of the marked sizes that are no wider than can be reached, the cheapest for their planting first.
func (m SizeMap) Best(n int, widest measure.Length) []Sized {
	var list []Sized
	for _, c := range m.Cells {
		if c.Least && c.Width <= widest {
			list = append(list, c)
		}
	}
	slices.SortStableFunc(list, func(a, b Sized) int { return cmp.Compare(a.PerArea, b.PerArea) })
	return list[:min(n, len(list))]
}

// Claim says what was tried.
func (m SizeMap) Claim() string {
	built := 0
	for _, c := range m.Cells {
		if c.Built {
			built++
		}
	}
	text := fmt.Sprintf("%d sizes were tried, %d can be built: this bed by itself, every 3 in (75 mm) of length and"+
		" width, or every size that its units make.", len(m.Cells), built)
	if m.Stopped {
		text += " It was stopped before all were."
	}
	return text
}
