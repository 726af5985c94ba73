package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// sags checks floors: the slats between what they lie on, and the beams between
// the floor's ends, each with its share of wet soil. The remedy is the fewest
// beams with which both hold.
func (r *reviewer) sags() {
	for _, f := range r.Frame.Floors {
		slat, beam := r.floorMembers(f, len(f.Beams))
		parts, what, code, m := f.Slats, "The floor's slats", "floor-sags", slat
		if strength.Bend(slat).Holds() {
			if len(f.Beams) == 0 || strength.Bend(beam).Holds() {
				continue
			}
			parts, what, code, m = f.Beams, "The beams under the floor", "beams-sag", beam
		}
		got := strength.Bend(m)
		found := Finding{Code: code, Severity: Warning, Parts: parts,
			Text: fmt.Sprintf("%s will sag about %s under wet soil; up to %s would pass unnoticed.", what, r.p.Short(got.Bow), r.p.Short(got.Limit)),
			Why: Why{Given: []string{r.p.Short(m.Deep) + " deep and " + r.p.Short(m.Across) + " across", r.p.Feet(m.Span) + " from support to support", r.p.Feet(f.Soil) + " of wet soil above"},
				Rule:   "Each carries its share of the wet soil as a beam; wet wood under a lasting load bends about twice as far again in time.",
				Result: fmt.Sprintf("It sags %s in time; 1/%d of the span is %s. Stress is %d %% of what it bears.", r.p.Short(got.Bow), strength.VisibleBow, r.p.Short(got.Limit), got.StressPct),
				Source: "beams: AWC Design Aid No. 6; timber: " + m.Species.BendingFor(max(m.Across, m.Deep)).Source + "; soil: " + r.Catalog.Fills[0].Source}}
		if got.Bow <= got.Limit {
			found.Text = fmt.Sprintf("%s are bent to %d %% of what the timber bears.", what, got.StressPct)
		}
		if n := r.beamsThatHold(f); n > 0 {
			found.Remedies = append(found.Remedies, Remedy{supports(n, "beam") + " under the floor", []design.Edit{r.edit(f.Field, fmt.Sprint(n))}})
		} else if f.Field != "" { // too long for any number of them: less soil
			step := r.usualHole() / 12
			less := f
			for less.Soil = f.Soil / step * step; less.Soil > 4*step; less.Soil -= step {
				if n := r.beamsThatHold(less); n > 0 {
					e := append(r.to("soil", less.Soil), r.edit(f.Field, fmt.Sprint(n)))
					found.Remedies = append(found.Remedies, Remedy{r.p.Feet(less.Soil) + " of soil and " + supports(n, "beam"), e})
					break
				}
			}
		}
		r.report(found)
	}
}

// beamsThatHold is the fewest beams more than there are with which a floor
// holds, or 0 where not even as many as fit do.
func (r *reviewer) beamsThatHold(f frame.Floor) int {
	for n := len(f.Beams) + 1; f.Field != "" && n <= f.Most; n++ {
		slat, beam := r.floorMembers(f, n)
		if strength.Bend(slat).Holds() && strength.Bend(beam).Holds() {
			return n
		}
	}
	return 0
}

// floorMembers is the widest slat and a beam of a floor, as they bend with n
// beams under it.
func (r *reviewer) floorMembers(f frame.Floor, n int) (slat, beam strength.Member) {
	density := r.Catalog.WetDensity()
	var wide frame.Part
	for _, id := range f.Slats {
		if p, ok := r.Frame.Part(id); ok && p.Width > wide.Width {
			wide = p
		}
	}
	rail, _ := r.Frame.Part(f.Rail)
	across := f.Span * measure.Length(f.Spans) / measure.Length(n+1)
	species, err := r.Catalog.SpeciesOf(rail.Species)
	if err != nil {
		species = r.species
	}
	slat = strength.Member{Across: wide.Width, Deep: wide.Thickness, Span: across, Spans: n + 1, Species: r.species, Load: strength.WetSoil(f.Soil, wide.Width, density)}
	beam = strength.Member{Across: rail.Thickness, Deep: rail.Width, Span: f.BeamSpan, Spans: 1, Species: species, Load: strength.WetSoil(f.Soil, across, density)}
	return slat, beam
}
