package plan

import (
	"context"
	"math"
	"slices"

	"chamfer/core/aside"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/review"
	"chamfer/core/strength"
)

// Group is what kind of bed a system makes, for choosing among them.
type Group string

// The groups, in the order they are offered.
const (
	OfTimber Group = "Timber on the ground"
	OfBlocks Group = "Blocks, bricks and cast walls"
	OnLegs   Group = "Off the ground"
)

// BuiltAs is one bed by itself, built as a system is: with the planting area and the depth of the bed it stands for.
type BuiltAs struct {
	System design.System
	Group  Group
	Now    bool         // the bed is built so
	Err    error        // why it cannot be; nothing else is said then
	Plan   *Plan        // of this bed alone
	Hours  [2]int       // of work for one person, at least and at most
	Empty  measure.Mass // without soil
	Other  bool         // it plants more or less than the bed it stands for, by over 3 %
	Doubts []review.Finding
}

// BuiltAll plans a bed by itself as every system there is, the one it is built as among them, in the order they are
// offered. None is planned once ctx is done.
func (p *Plan) BuiltAll(ctx context.Context, bed string) []BuiltAs {
	alone := p.alone(bed)
	systems := design.Systems()
	all := make([]BuiltAs, len(systems))
	for i, fault := range aside.Do(len(systems), func(i int) { all[i] = p.builtAs(ctx, alone, bed, systems[i]) }) {
		if fault != nil {
			all[i] = BuiltAs{System: systems[i], Group: GroupOf(systems[i], nil), Err: fault}
		}
	}
	slices.SortStableFunc(all, func(a, b BuiltAs) int {
		order := []Group{OfTimber, OfBlocks, OnLegs}
		return slices.Index(order, a.Group) - slices.Index(order, b.Group)
	})
	return all
}

// alone is the design with one bed only.
func (p *Plan) alone(bed string) design.Design {
	alone := p.Design
	for _, b := range p.Design.Beds {
		if b.ID == bed {
			continue
		}
		if next, err := design.Apply(alone, p.Shop.Catalog, design.Edit{Bed: b.ID, Field: "remove-bed"}); err == nil {
			alone = next
		}
	}
	return alone
}

func (p *Plan) builtAs(ctx context.Context, alone design.Design, bed string, s design.System) BuiltAs {
	out := BuiltAs{System: s, Group: GroupOf(s, nil)}
	was, err := alone.Bed(bed)
	if err != nil {
		out.Err = err
		return out
	}
	if out.Now = was.System == s.Name; !out.Now {
		alone, out.Err = design.Apply(alone, p.Shop.Catalog, design.Edit{Bed: bed, Field: "system", Value: s.Name})
		if out.Err != nil {
			return out
		}
	}
	if out.Plan, out.Err = MakeFor(ctx, alone, p.Shop); out.Err != nil {
		return out
	}
	out.Group = GroupOf(s, &out.Plan.Frames[0])
	for i := range p.Frames {
		if p.Frames[i].Bed == bed {
			was, now := float64(p.Frames[i].PlantingArea()), float64(out.Plan.Frames[0].PlantingArea())
			out.Other = math.Abs(now-was) > 0.03*was
		}
	}
	low, high := 0.0, 0.0
	for _, step := range out.Plan.Steps {
		l, h := step.Minutes()
		low, high = low+l, high+h
	}
	out.Hours = [2]int{max(1, int(math.Round(low/60))), max(1, int(math.Round(high/60)))}
	empty := strength.Weighed(out.Plan.Frames, p.Shop.Catalog)
	out.Empty = measure.Mass(empty[len(empty)-1].Of.Value())
	for _, f := range out.Plan.Findings {
		if f.Severity != review.Note && !f.Kept {
			out.Doubts = append(out.Doubts, f)
		}
	}
	return out
}

// GroupOf is the group of a system; f is a bed of it, where there is one.
func GroupOf(s design.System, f *frame.Frame) Group {
	switch {
	case f != nil && slices.ContainsFunc(f.Parts, func(p frame.Part) bool { return p.Kind == frame.Leg }):
		return OnLegs
	case s.Of != "":
		return OfBlocks
	}
	return OfTimber
}
