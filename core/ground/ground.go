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
	Strip  measure.Length // length of one strip, with the lap where its ends meet
	Joints int            // where a strip goes on from another roll, or from a rest
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
	Account   Account      // of what is dug
	Paths     measure.Area // that is covered
}

// Work reckons the ground under all frames. grass gives each bed's decision, paths is the ground
// between the beds that is covered, price what a roll costs in this shop. Rests of one sheet serve
// the next of the same roll, so rolls are counted over the whole project and charged to the first
// cover that uses them.
func Work(
	frames []frame.Frame,
	cat *catalog.Catalog,
	grass map[string]string,
	paths measure.Area,
	price func(catalog.Sheet) money.Amount,
) (Plan, error) {
	p := Plan{Grass: map[string]measure.Area{}, Paths: paths}
	for _, f := range frames {
		area := f.Footprint() * measure.Area(f.Times)
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
			p.Covers = append(p.Covers, Cover{Sheet: s, Roll: roll, Strips: f.Times})
		}
	}
	if paths > 0 { // in strips cut to fit; each laps the next
		roll, err := cat.Sheet(catalog.Fabric)
		if err != nil {
			return Plan{}, fmt.Errorf("ground: %w", err)
		}
		p.Covers = append(p.Covers, Cover{Sheet: frame.Sheet{ID: "paths", Material: roll.ID, Place: "under the paths",
			Length: strips(paths, roll), Width: roll.RollWidth, Along: true}, Roll: roll, Strips: 1})
	}
	p.lay(price)
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
