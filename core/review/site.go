package review

import (
	"fmt"

	"chamfer/core/design"
)

var _ = check(150, (*reviewer).stands, "beds-overlap", "off-plot", "path-narrow")

// stands checks where this bed stands: on other beds' ground, over the edge of
// the plot, or too close to a neighbour or a fence for whoever has to pass. A
// pair is told of once, with the first of the two.
func (r *reviewer) stands() {
	if r.Site == nil {
		return
	}
	free := func(i int) []Remedy {
		s := r.Site.Stands[i]
		return []Remedy{
			{
				"put it where there is room",
				[]design.Edit{{Bed: s.Bed, Field: fmt.Sprintf("place:%d", s.N), Value: "free"}},
			},
		}
	}
	mine := func(i int) bool { return r.Site.Stands[i].Bed == r.Bed.ID }
	set := func(i, j int) int { // the one of two whose place was decided, the second before the first
		if j >= 0 && r.Site.Stands[j].Set {
			return j
		}
		return i
	}
	for _, pair := range r.Site.Overlaps() {
		if !mine(pair[0]) {
			continue
		}
		r.report(Finding{Code: "beds-overlap", Severity: Stop,
			Text: fmt.Sprintf("%s stand on the same ground.", r.both(pair[0], pair[1])),
			Why: Why{
				Given:  []string{"where the beds stand on the plot"},
				Rule:   "Two beds need two places; they may touch.",
				Source: "geometry",
			},
			Remedies: free(set(pair[0], pair[1]))})
		break
	}
	for _, i := range r.Site.Off() {
		if !mine(i) || !r.Site.Decided {
			continue
		}
		r.report(
			Finding{
				Code:     "off-plot",
				Severity: Warning,
				Text:     fmt.Sprintf("%s reaches over the edge of the plot.", r.standing(i)),
				Why: Why{
					Given:  []string{"a plot of " + r.p.Feet(r.Site.Plot.Width) + " by " + r.p.Feet(r.Site.Plot.Depth)},
					Rule:   "What stands over the edge stands in the way or on somebody else's ground.",
					Source: "geometry",
				},
				Remedies: free(i),
			},
		)
		break
	}
	for _, g := range r.Site.Tight() {
		if !mine(g.A) {
			continue
		}
		between := r.standing(g.A) + " and the fence"
		if g.B >= 0 {
			between = r.both(g.A, g.B)
		}
		r.report(Finding{Code: "path-narrow", Severity: Warning,
			Text: fmt.Sprintf(
				"Between %s there are %s: too little to pass (%s: %s), too much to be closed.",
				between,
				r.p.Feet(g.Wide),
				r.Site.Plot.Passage,
				r.p.Feet(r.Site.Passage),
			),
			Why: Why{Given: []string{r.p.Feet(g.Wide) + " between them", "who goes there: " + r.Site.Plot.Passage},
				Rule:   "A path is as wide as whoever goes along it; beds may also butt together.",
				Result: "The least is " + r.p.Feet(r.Site.Passage) + ".", Source: r.Catalog.PassagesSource},
			Remedies: free(set(g.A, g.B))})
		break
	}
}

// standing is what one of the beds on the plot is called: by its number where several are
// alike.
func (r *reviewer) standing(i int) string {
	s := r.Site.Stands[i]
	for k, o := range r.Site.Stands {
		if k != i && o.Name == s.Name {
			return fmt.Sprintf("%s, number %d,", s.Name, i+1)
		}
	}
	return s.Name
}

// both are two of them.
func (r *reviewer) both(i, j int) string {
	a, b := r.Site.Stands[i], r.Site.Stands[j]
	if a.Name == b.Name {
		return fmt.Sprintf("%s, numbers %d and %d,", a.Name, i+1, j+1)
	}
	return r.standing(i) + " and " + r.standing(j)
}
