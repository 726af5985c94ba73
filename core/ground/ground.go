// Package ground is the work below the bed: turf to lift, holes to dig for
// posts, and cloth or card laid over the ground in laps so that nothing finds
// a gap.
package ground

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Hole is a post hole; holes of one depth are counted together.
type Hole struct {
	Depth measure.Length
	Count int
}

// Cover is one sheet laid from a roll in strips.
type Cover struct {
	Sheet  frame.Sheet
	Roll   catalog.Sheet
	Strips int
	Strip  measure.Length // length of one strip
	Total  measure.Length // off the roll
	Area   measure.Area   // covered
	Rolls  int
	Cost   money.Amount
}

// Plan is the ground work of a project.
type Plan struct {
	Footprint measure.Area // outside of the walls
	Grass     map[string]measure.Area
	Holes     []Hole
	Driven    int // stakes
	Covers    []Cover
}

// Work reckons the ground under all frames. grass gives each bed's decision,
// price what a roll costs in this shop. Strips left over from one sheet serve
// the next of the same roll, so rolls are counted over the whole project and
// charged to the first cover that uses them.
func Work(frames []frame.Frame, cat *catalog.Catalog, grass map[string]string, price func(catalog.Sheet) money.Amount) (Plan, error) {
	p := Plan{Grass: map[string]measure.Area{}}
	used := map[string]measure.Length{}
	first := map[string]int{}
	for _, f := range frames {
		area := measure.Over(f.Outside[1].U-f.Outside[0].U, f.Outside[1].V-f.Outside[0].V) * measure.Area(f.Times)
		p.Footprint += area
		if !f.OnFeet {
			p.Grass[grass[f.Bed]] += area
		}
		for _, part := range f.Parts {
			lo, _ := part.Body.Bounds()
			switch {
			case lo.Z >= 0:
			case part.Ends[0] == frame.Pointed:
				p.Driven += f.Times
			default:
				p.hole(-lo.Z, f.Times)
			}
		}
		for _, s := range f.Sheets {
			roll, err := cat.Sheet(s.Material)
			if err != nil {
				return Plan{}, fmt.Errorf("ground: %w", err)
			}
			c := lay(s, roll)
			c.Strips, c.Total, c.Area = c.Strips*f.Times, c.Total*measure.Length(f.Times), c.Area*measure.Area(f.Times)
			if _, ok := first[roll.ID]; !ok {
				first[roll.ID] = len(p.Covers)
			}
			used[roll.ID] += c.Total
			p.Covers = append(p.Covers, c)
		}
	}
	for id, i := range first {
		c := &p.Covers[i]
		c.Rolls = int((used[id] + c.Roll.RollLength - 1) / c.Roll.RollLength)
		c.Cost = price(c.Roll).Times(c.Rolls)
	}
	return p, nil
}

func (p *Plan) hole(depth measure.Length, n int) {
	for i := range p.Holes {
		if p.Holes[i].Depth == depth {
			p.Holes[i].Count += n
			return
		}
	}
	p.Holes = append(p.Holes, Hole{depth, n})
}

// lay rolls strips out along the sheet or across it, whichever takes less.
//
//	|<------ width ------>|
//	|=== strip ===|
//	          |=== strip ===|      lapped, so strips = (width-lap)/(roll-lap)
func lay(s frame.Sheet, roll catalog.Sheet) Cover {
	c := Cover{Sheet: s, Roll: roll}
	long, wide := s.Length+2*s.TurnUp, s.Width+2*s.TurnUp
	c.Area = measure.Over(long, wide)
	for _, way := range [2][2]measure.Length{{long, wide}, {wide, long}} {
		strips := 1
		if way[1] > roll.RollWidth {
			step := roll.RollWidth - roll.Lap
			strips = int((way[1] - roll.Lap + step - 1) / step)
		}
		if total := way[0] * measure.Length(strips); c.Total == 0 || total < c.Total {
			c.Strips, c.Strip, c.Total = strips, way[0], total
		}
	}
	return c
}
