package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/why"
)

var _ = check(90, (*reviewer).sags, "floor-sags", "beams-sag", "ledgers-sag")

// sags checks floors: the slats between what they lie on, and the beams between
// the floor's ends, each with its share of wet soil. The remedy is the fewest
// beams with which both hold.
func (r *reviewer) sags() {
	for _, f := range r.Frame.Floors {
		slat, beam := r.floorMembers(f, len(f.Beams))
		switch {
		case !strength.Bend(slat).Holds():
			found := r.sag("floor-sags", "The floor's slats", f.Slats, slat, f.Soil)
			found.Remedies = r.moreBeams(f)
			r.report(found)
		case len(f.Beams) > 0 && !strength.Bend(beam).Holds():
			found := r.sag("beams-sag", "What carries the floor's slats", f.Beams, beam, f.Soil)
			found.Remedies = r.moreBeams(f)
			r.report(found)
		}
		if f.LedgerSpan > 0 {
			r.ledgersSag(f)
		}
	}
}

// sag is the finding about one kind of member of a floor.
func (r *reviewer) sag(code, what string, parts []string, m strength.Member, soil measure.Length) Finding {
	got := strength.Bend(m)
	f := Finding{Code: code, Severity: Warning, Parts: parts,
		Text: fmt.Sprintf(
			"%s will sag about %s under wet soil; up to %s would pass unnoticed.",
			what,
			r.p.Short(got.Bow),
			r.p.Short(got.Limit),
		),
		Why: Why{
			Given: []string{
				r.p.Short(m.Deep) + " deep and " + r.p.Short(m.Across) + " across",
				r.p.Feet(soil) + " of wet soil above",
			},
			Steps: []why.Step{why.Given("from support to support", why.Long(m.Span)), visible(m.Span)},
			Rule: "Each carries its share of the wet soil as a beam; wet wood under a lasting load bends about" +
				" twice as far again in time.",
			Result: fmt.Sprintf(
				"In time it sags %s. Stress is %d %% of what it bears.",
				r.p.Short(got.Bow),
				got.StressPct,
			),
			Source: "beams: AWC Design Aid No. 6; timber: " + m.Species.BendingFor(
				max(m.Across, m.Deep),
			).Source + "; soil: " + r.Catalog.Fills[0].Source,
		}}
	if got.Bears() {
		f.Severity = Note
	}
	if got.Bow <= got.Limit {
		f.Text = fmt.Sprintf("%s are bent to %d %% of what the timber bears.", what, got.StressPct)
	}
	return f
}

// moreBeams is the fewest beams with which slats and beams hold, or, where no
// number of them does, less soil and as many.
func (r *reviewer) moreBeams(f frame.Floor) []Remedy {
	word := f.Carriers()
	if n := r.beamsThatHold(f); n > 0 {
		return []Remedy{{supports(n, word) + " under the floor", []design.Edit{r.edit(f.Field, fmt.Sprint(n))}}}
	}
	if f.Field == "" {
		return nil
	}
	step := r.usualHole() / 12
	less := f
	for less.Soil = f.Soil / step * step; less.Soil > 4*step; less.Soil -= step {
		if n := r.beamsThatHold(less); n > 0 {
			e := append(r.to("soil", less.Soil), r.edit(f.Field, fmt.Sprint(n)))
			return []Remedy{{r.p.Feet(less.Soil) + " of soil and " + supports(n, word), e}}
		}
	}
	return nil
}

// ledgersSag checks the ledgers along the sides where only posts hold them.
func (r *reviewer) ledgersSag(f frame.Floor) {
	m := r.ledgerMember(f, f.LedgerSpans)
	if strength.Bend(m).Holds() {
		return
	}
	found := r.sag("ledgers-sag", "The rails under the floor", []string{f.Rail}, m, f.Soil)
	for n := f.LedgerSpans; n <= 8; n++ {
		if strength.Bend(r.ledgerMember(f, n+1)).Holds() {
			found.Remedies = []Remedy{
				{supports(n, frame.MidPost) + " on each long side", []design.Edit{r.edit(f.LedgerField, fmt.Sprint(n))}},
			}
			break
		}
	}
	r.report(found)
}

// ledgerMember is a side ledger over so many spans, with half the floor on it.
func (r *reviewer) ledgerMember(f frame.Floor, spans int) strength.Member {
	rail, _ := r.Frame.Part(f.Rail)
	species, err := r.Catalog.SpeciesOf(rail.Species)
	if err != nil {
		species = r.species
	}
	return strength.Member{
		Across:  rail.Thickness,
		Deep:    rail.Width,
		Span:    f.LedgerSpan * measure.Length(f.LedgerSpans) / measure.Length(spans),
		Spans:   spans,
		Species: species,
		Load:    strength.WetSoil(f.Soil, r.Bed.Width/2, r.Bed.WetDensity(r.Catalog)),
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
	density := r.Bed.WetDensity(r.Catalog)
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
	of, err := r.Catalog.SpeciesOf(wide.Species)
	if err != nil {
		of = r.species
	}
	slat = strength.Member{
		Across:  wide.Width,
		Deep:    wide.Thickness,
		Span:    across,
		Spans:   n + 1,
		Species: of,
		Load:    strength.WetSoil(f.Soil, wide.Width, density),
	}
	load := strength.WetSoil(f.Soil, across, density)
	if n > 0 { // slats that run on over a beam press it with more than half of either span
		load *= strength.OverMiddle(n + 1)
	}
	beam = strength.Member{
		Across:  rail.Thickness,
		Deep:    rail.Width,
		Span:    f.BeamSpan,
		Spans:   1,
		Species: species,
		Load:    load,
	}
	return slat, beam
}
