package web

import (
	"chamfer/core/builder"
	"chamfer/core/design"
)

// bedStage is how much planting there is, and how deep.
var bedStage = stage{Key: "bed", Name: "Bed", About: "How much planting, how deep", Decides: true,
	Draws: (*benchPage).bedDrawing, Fields: (*benchPage).outsides, Shows: "outside:"}

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
