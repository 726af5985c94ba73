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
	Vain   bool        // they cannot be built so
	Beds   []cardOfBed // they are, where one may choose among them
}

// same offers what of the bed in hand is other than it was before to the beds that could have
// it likewise.
func (b *benchPage) same(before design.Design) {
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	edits, of := design.Likewise(b.Plan.Design, before, b.Bed, b.Plan.Shop.Catalog)
	if len(edits) == 0 {
		return
	}
	v := &sameView{}
	beds := map[string]bool{}
	for _, e := range edits {
		if other, err := b.Plan.Design.Bed(e.Bed); err == nil && !beds[e.Bed] {
			v.Beds = append(v.Beds, cardOfBed{other.ID, other.Name})
		}
		beds[e.Bed] = true
		v.Set = append(v.Set, e.Bed+">"+e.Field+"="+e.Value)
	}
	if len(v.Beds) == 1 {
		v.Beds = nil
	}
	var said []string
	for _, f := range of {
		said = append(said, strings.ToLower(f.Label)+" "+b.decision(f, *bed).Now)
	}
	v.Label = "Likewise for " + measure.Count(len(beds), "bed") + " more: " + strings.Join(said, ", ")
	b.ask(func(o plan.Outcome) { v.Effect, v.Vain = effect(o.Changes), o.Err != nil }, edits...)
	b.Same = v
}
