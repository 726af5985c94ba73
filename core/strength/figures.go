package strength

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/why"
)

// Weighed is how what beds weigh without soil comes about: timber dry, what is laid, what
// is cast.
func Weighed(frames []frame.Frame, cat *catalog.Catalog) []why.Step {
	type sort struct {
		name    string
		of      float64 // m³, or how many
		density float64 // kg/m³, or kg each
		counted bool
	}
	var sorts []sort
	add := func(s sort) {
		for i := range sorts {
			if sorts[i].name == s.name && sorts[i].density == s.density && sorts[i].counted == s.counted {
				sorts[i].of += s.of
				return
			}
		}
		sorts = append(sorts, s)
	}
	for _, f := range frames {
		n := float64(f.Times)
		for _, p := range f.Parts {
			if s, err := cat.SpeciesOf(p.Species); err == nil && len(p.Body.Outline) > 0 {
				add(sort{s.Name, p.Volume().CubicMetres() * n, s.Density, false})
			}
		}
		for _, u := range f.Units {
			if unit, err := cat.Unit(u.SKU); err == nil {
				add(sort{unit.Name, n, unit.Mass, true})
			}
		}
		for _, p := range f.Pours {
			add(sort{"cast walls", p.Volume.CubicMetres() * n, p.Density, false})
		}
	}
	var steps []why.Step
	for _, s := range sorts {
		t := why.Times(why.Of(why.Volume, s.of), why.Of(why.Density, s.density))
		if s.counted {
			t = why.Times(why.Of(why.Number, s.of), why.Of(why.Mass, s.density))
		}
		steps = append(steps, why.Step{Name: s.name, Of: t, As: why.Mass})
	}
	return why.Added("together", why.Mass, steps...)
}
