package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/why"
)

var _ = check(140, (*reviewer).rolls, "casters")

// rolls checks what stands on casters, wet, against what they may carry.
func (r *reviewer) rolls() {
	for _, x := range r.Frame.Fittings {
		fitting, err := r.Catalog.Fitting(x.Kind)
		if err != nil || fitting.Load == 0 || fitting.Height == 0 {
			continue
		}
		m := strength.Weigh(r.Frame, r.Catalog)
		soil, timber := m.Soil, m.Empty()
		on := max(1, x.Count-1) // of three or more one is off the ground
		bears := fitting.Load * float64(on)
		if soil+timber <= bears {
			continue
		}
		sys := r.Catalog.System
		kg := func(v float64) string { return sys.Mass(measure.Mass(v)) }
		f := Finding{Code: "casters", Severity: Warning,
			Text: fmt.Sprintf("Wet, it weighs about %s, and its %d casters may carry %s, one of them off the ground.",
				kg(soil+timber), x.Count, kg(bears)),
			Why: Why{
				Steps: []why.Step{
					why.Given("wet soil", why.Of(why.Mass, soil)),
					why.Given("timber", why.Of(why.Mass, timber)),
					why.Given("casters", why.Count(x.Count)),
					{Name: "on each of the others", As: why.Mass,
						Of: why.Over(why.Sum(why.Of(why.Mass, soil), why.Of(why.Mass, timber)), why.Count(on))},
				},
				Rule: "A stiff box stands on one caster less than it has: on any slab one of them is off the ground." +
					" Each of the others carries its share.",
				Result: "One bears " + kg(
					fitting.Load,
				) + ".",
				Source: fitting.Source + "; one off the ground: common practice",
			},
			Remedies: []Remedy{{"no casters", []design.Edit{r.edit("casters", "no")}}}}
		step := r.usualHole() / 12
		if less := measure.Length(float64(r.Bed.Soil)*(bears-timber)/soil) / step * step; less >= 4*step {
			f.Remedies = append([]Remedy{{r.p.Feet(less) + " of soil", r.to("soil", less)}}, f.Remedies...)
		}
		r.report(f)
	}
}
