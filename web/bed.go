package web

import (
	"html/template"

	"chamfer/core/builder"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
)

// bedStage is how much planting there is, and how deep.
var bedStage = stage{Key: "bed", Name: "Bed", About: "How much planting, how deep", Decides: true,
	Draws: (*benchPage).bedDrawing, Fields: (*benchPage).bedFields, Shows: "outside:"}

// bedFields are what is said of a bed but rarely: its sizes from outside, and what there is to
// build it of.
func (b *benchPage) bedFields(no refused) {
	b.outsides(no)
	b.owned()
}

// wayView is one way to build a bed of what is there.
type wayView struct {
	Words   string
	Set     []string // "field=value"
	Effect  []plan.Change
	Drawing template.HTML
	Now     bool   // as it is built
	Not     string // why it cannot be
}

// owned draws the ways to build the bed in hand of the units that are there, side by side and
// to one scale.
func (b *benchPage) owned() {
	unit, _, ways := b.Plan.OfOwned(b.Bed)
	if b.OwnedUnit = unit; unit == "" {
		return
	}
	var all measure.Length
	for _, w := range ways {
		if w.Not != "" {
			b.Ways = append(b.Ways, &wayView{Words: w.Words, Not: sentence(w.Not)})
			continue
		}
		lo, hi := w.Frame.Outside[0], w.Frame.Outside[1]
		all = max(all, hi.U-lo.U, hi.V-lo.V)
	}
	for _, w := range ways {
		if w.Not != "" {
			continue
		}
		v := &wayView{Words: w.Words, Drawing: template.HTML(draw.Small(&w.Frame, all, draw.Sheet{W: 150, H: 150}))}
		for _, e := range w.Edits {
			v.Set = append(v.Set, e.Field+"="+e.Value)
		}
		b.ask(func(o plan.Outcome) {
			v.Effect, v.Now = effect(o.Changes), o.Err == nil && o.Same && len(o.Changes) == 0
		}, w.Edits...)
		b.Ways = append(b.Ways, v)
	}
}

// outsides are the sizes of the bed in hand from outside, which can be said instead of those
// inside.
func (b *benchPage) outsides(no refused) {
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	pr, is := b.Plan.Shop.Precision(), builder.OuterOf(*b.frame())
	for _, field := range design.OutsideFields(*bed) {
		size, kept := bed.Outside[field]
		if !kept {
			size = is[field]
		}
		v := fieldView{
			ID:    "outside-" + field,
			Key:   "outside:" + field,
			Label: design.OutsideLabel(field),
			Kind:  design.TextField,
			Text:  pr.Feet(size),
		}
		if !pr.Exact(size) {
			v.Text = size.String()
		}
		if kept {
			b.Outer, v.Help = true, "As you said; it stays. Empty it, and it follows again."
		}
		no.fill(&v)
		b.Outer = b.Outer || v.Error != ""
		b.Outsides = append(b.Outsides, v)
	}
}
