package plan

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/measure"
)

// mostNearer is how often a size is brought nearer to what it has to fit.
const mostNearer = 8

// InPlace seeks the largest bed of every way to build that a place has room for, by its outside: between a fence and a
// path, say. Soil is as deep as in the bed in hand.
func (p *Plan) InPlace(ctx context.Context, bedID string, long, wide measure.Length) (Prospects, error) {
	long, wide = max(long, wide), min(long, wide)
	out, err := p.fitted(ctx, bedID, size{length: long, width: wide},
		func(at size, then *Plan) (next size, fits bool) {
			l, w := then.Frames[0].Over()
			next = size{at.length - max(0, l-long), at.width - max(0, w-wide), at.soil}
			return next, l <= long && w <= wide
		}, func(a, b Prospect) int { return cmp.Or(cmp.Compare(b.Area, a.Area), cmp.Compare(a.Total, b.Total)) })
	pr := p.Shop.Precision()
	out.Over = fmt.Sprintf("every way to build, over its walls no more than %s by %s, as large as that leaves it",
		pr.Feet(long),
		pr.Feet(wide))
	return out, err
}

// Around seeks the bed of every way to build whose planting takes a thing so long, wide and deep, a crate say, and is
// no
// larger than that needs.
func (p *Plan) Around(ctx context.Context, bedID string, long, wide, deep measure.Length) (Prospects, error) {
	long, wide = max(long, wide), min(long, wide)
	out, err := p.fitted(ctx, bedID, size{long, wide, deep},
		func(at size, then *Plan) (next size, fits bool) {
			b := then.Design.Beds[0]
			next = size{at.length + max(0, long-b.Length), at.width + max(0, wide-b.Width), at.soil + max(0, deep-b.Soil)}
			return next, b.Length >= long && b.Width >= wide && b.Soil >= deep
		}, func(a, b Prospect) int { return cmp.Or(cmp.Compare(a.Area, b.Area), cmp.Compare(a.Total, b.Total)) })
	pr := p.Shop.Precision()
	out.Over = fmt.Sprintf("every way to build, its planting no less than %s by %s, %s deep", pr.Feet(long), pr.Feet(wide),
		pr.Feet(deep))
	return out, err
}

// fitted brings a bed of every system nearer to what it has to fit, size by size, until it does.
func (p *Plan) fitted(ctx context.Context, bedID string, begin size, step func(at size, then *Plan) (size, bool),
	better func(a, b Prospect) int) (out Prospects, err error) {
	alone := p.alone(bedID)
	bed, err := alone.Bed(bedID)
	if err != nil {
		return out, err
	}
	if begin.soil == 0 {
		begin.soil = bed.Soil
	}
	if min(begin.length, begin.width, begin.soil) < measure.Inch || begin.length > 30*measure.Metre {
		return out, &design.Refusal{Bed: bedID, Field: "place", Reason: "sizes from an inch (25 mm) to 100 ft (30 m) work"}
	}
	systems := design.Systems()
	plain := design.New(p.Shop.Catalog, "").Beds[0].System // takes any size
	found := make([]*Prospect, len(systems))
	stopped := make([]bool, len(systems))
	for i, fault := range tried(ctx, len(systems), func(i int) {
		s := systems[i]
		at := begin
		for range mostNearer {
			if stopped[i] = ctx.Err() != nil; stopped[i] {
				return
			}
			f := Prospect{System: s, Edits: []design.Edit{{Bed: bedID, Field: "system", Value: plain},
				{Bed: bedID, Field: "length", Value: at.length.String()}, {Bed: bedID, Field: "width", Value: at.width.String()},
				{Bed: bedID, Field: "soil", Value: at.soil.String()}, {Bed: bedID, Field: "system", Value: s.Name}}}
			d, err := design.Apply(alone, p.Shop.Catalog, f.Edits...)
			if err != nil {
				return
			}
			then, err := reckon(ctx, d, p.Shop, nil)
			if err != nil || len(then.Bill.Without) > 0 {
				return
			}
			next, fits := step(at, then)
			if fits {
				f.Area, f.Total = then.Area(), then.Bill.Total
				f.Length, f.Width, f.Soil = d.Beds[0].Length, d.Beds[0].Width, d.Beds[0].Soil
				f.Years[0], f.Years[1] = then.Life()
				found[i] = &f
				return
			}
			if next == at {
				return // it comes no nearer
			}
			at = next
		}
	}) {
		if fault != nil {
			found[i] = nil
		}
	}
	var all []Prospect
	out.Nearest = true
	out.Tried = len(systems)
	for i, f := range found {
		switch {
		case f != nil:
			all = append(all, *f)
		case stopped[i]:
			out.Stopped, out.Tried = true, out.Tried-1
		default:
			out.Refused++
		}
	}
	unfit := p.stopped(context.WithoutCancel(ctx), alone, all, map[string]bool{})
	out.Unfit = len(unfit)
	out.List = slices.DeleteFunc(all, func(f Prospect) bool { return unfit[f.key()] })
	slices.SortStableFunc(out.List, better)
	if len(out.List) == 0 && !out.Stopped {
		return out, errors.New("nothing that is built here fits that")
	}
	return out, nil
}
