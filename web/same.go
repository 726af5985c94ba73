package web

import (
	"strings"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// sameView offers what was just decided for one bed to the other beds of the project.
type sameView struct {
	Label  string
	Set    []string // "bed>field=value"
	Effect []plan.Change
	Vain   bool // they cannot be built so
}

// same sees what of the bed in hand is other than it was before, and which beds could have it
// likewise. Names and numbers are a bed's own.
func (b *benchPage) same(before design.Design) {
	now := b.Plan.Design
	bed, err := now.Bed(b.Bed)
	was, err2 := before.Bed(b.Bed)
	if err != nil || err2 != nil || len(now.Beds) < 2 {
		return
	}
	pr, cat := b.Plan.Shop.Precision(), b.Plan.Shop.Catalog
	var edits []design.Edit
	var said []string
	beds := map[string]bool{}
	for _, f := range design.FieldsOf(*bed) {
		value := b.valueOf(f, *bed)
		if _, had := design.FieldOf(*was, f.Key); !had || value == b.valueOf(f, *was) || f.Whole || f.Key == "name" ||
			f.Key == "count" {
			continue
		}
		any := false
		for _, other := range now.Beds {
			theirs, has := design.FieldOf(other, f.Key)
			e := design.Edit{Bed: other.ID, Field: f.Key, Value: value}
			if !has || other.ID == bed.ID || b.valueOf(theirs, other) == value {
				continue
			}
			if _, err := design.Apply(now, cat, append(edits[:len(edits):len(edits)], e)...); err == nil {
				edits, any, beds[other.ID] = append(edits, e), true, true
			}
		}
		if any {
			text := f.Text(*bed, pr)
			for _, ch := range f.Choices(cat, *bed) {
				if ch.Value == text {
					text = ch.Label
				}
			}
			said = append(said, strings.ToLower(f.Label)+" "+text)
		}
	}
	if len(edits) == 0 {
		return
	}
	v := &sameView{Label: "Likewise for " + measure.Count(len(beds), "bed") + " more" + ": " + strings.Join(said, ", ")}
	for _, e := range edits {
		v.Set = append(v.Set, e.Bed+">"+e.Field+"="+e.Value)
	}
	b.ask(func(o plan.Outcome) { v.Effect, v.Vain = effect(o.Changes), o.Err != nil }, edits...)
	b.Same = v
}

// valueOf is what a decision says, exactly.
func (b *benchPage) valueOf(f design.Field, bed design.Bed) string {
	if f.Kind == design.LengthField {
		return f.LengthOf(bed).String()
	}
	return f.Text(bed, b.Plan.Shop.Precision())
}
