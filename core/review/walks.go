package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/ground"
	"chamfer/core/measure"
)

var _ = check(172, (*reviewer).walks, "path-steep", "path-slants")

// walks looks at how the paths beside a bed fall, on ground that was measured. A path is told of once, with the
// first of the two beds beside it.
func (r *reviewer) walks() {
	if r.Site == nil {
		return
	}
	most := ground.SlopesOf(r.Site.Plot.Passage)
	told := map[string]bool{}
	for _, w := range r.Walks {
		if r.Site.Stands[w.A].Bed != r.Bed.ID {
			continue
		}
		given := []string{"who goes there: " + r.Site.Plot.Passage, r.p.Feet(w.Long) + " long"}
		if w.Along > most.Along && !told["path-steep"] {
			told["path-steep"] = true
			r.report(Finding{Code: "path-steep", Severity: Warning,
				Text: fmt.Sprintf("The path %s falls 1 in %.0f: it wants %s of 6 in (150 mm), or another way round.",
					w.Between(r.Site), 1/w.Along, measure.Count(w.Steps, "step")),
				Why: Why{Given: given,
					Rule: "A full barrow is held up to 1 in 12, a wheelchair up to 1 in 20 without rails; on foot 1 in 6 is slippery" +
						" when it is wet.",
					Result: fmt.Sprintf("Up to 1 in %.0f here.", 1/most.Along), Source: most.Source}})
		}
		if w.Across > most.Across && !r.Even && !told["path-slants"] {
			told["path-slants"] = true
			r.report(Finding{Code: "path-slants", Severity: Note,
				Text: fmt.Sprintf("The path %s falls 1 in %.0f from side to side: wheels and feet slide down it.",
					w.Between(r.Site), 1/w.Across),
				Why: Why{Given: given, Rule: "A path is even across, or nearly; what falls along it lets water run off.",
					Result: fmt.Sprintf("Up to 1 in %.0f here.", 1/most.Across), Source: most.Source},
				Remedies: []Remedy{{"make the paths even across", []design.Edit{{Field: "ground:even", Value: "even"}}}}})
		}
	}
}
