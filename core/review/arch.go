package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/why"
)

// archLooks is how far a path may be off what an arch is bent for: wire gives that much
// (common practice).
const archLooks = 50 * measure.Millimetre

var _ = check(160, (*reviewer).arches, "arch-alone", "arch-path")

// arches checks the path that an arch spans: there has to be a bed on its other side, as
// far away as the panel is bent for.
func (r *reviewer) arches() {
	arch, ok := design.Serve(r.Bed, design.SpansPath)
	if !ok || r.Site == nil || arch.Taken(r.Bed) {
		return
	}
	path, _ := design.Serve(r.Bed, design.SetsSpan)
	bent := path.LengthOf(r.Bed)
	found, wide := false, measure.Length(0)
	for _, g := range r.Site.Gaps {
		if g.B < 0 || g.Wide <= 0 || r.Site.Stands[g.A].Bed != r.Bed.ID && r.Site.Stands[g.B].Bed != r.Bed.ID {
			continue
		}
		if off := max(g.Wide-bent, bent-g.Wide); !found || off < max(wide-bent, bent-wide) {
			found, wide = true, g.Wide
		}
	}
	none := Remedy{arch.Words, []design.Edit{arch.Edit(r.Bed)}}
	const rule = "An arch is sprung from bed to bed; what it is bent for is the way between their walls."
	if !found {
		r.report(Finding{Code: "arch-alone", Severity: Warning,
			Text: "An arch goes over a path to the next bed, and no bed stands beside this one.",
			Why: Why{Given: []string{measure.Count(len(r.Site.Stands), "bed") + " on the plot"}, Rule: rule,
				Source: "common practice"},
			Remedies: []Remedy{none}})
		return
	}
	if max(wide-bent, bent-wide) <= archLooks {
		return
	}
	f := Finding{Code: "arch-path", Severity: Warning,
		Text: fmt.Sprintf(
			"The arch is bent for a path of %s, and the bed beside it stands %s away.",
			r.p.Feet(bent),
			r.p.Feet(wide),
		),
		Why: Why{Steps: []why.Step{why.Given("between the beds", why.Long(wide)), why.Given("bent for", why.Long(bent)),
			{Name: "off by", Of: why.Less(why.Long(max(wide, bent)), why.Long(min(wide, bent))), As: why.Length}},
			Rule: rule, Source: "common practice"}}
	f.Remedies = []Remedy{{"bend it for " + r.p.Feet(wide), r.to(path.Key, wide)}, none}
	r.report(f)
}
