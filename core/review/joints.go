package review

import (
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// gripOf is one of a joint's screws as the withdrawal and yield formulas see it.
func (r *reviewer) gripOf(j frame.Joint, x fixing.Fixed) strength.Screw {
	f := x.Fixing
	s := strength.Screw{Kind: f.Kind, Diameter: f.Diameter, Root: f.Root, Side: j.Through, EndGrain: j.EndGrain, Wood: r.species}
	if p, ok := r.Frame.Part(j.Parts[1]); ok {
		if wood, err := r.Catalog.SpeciesOf(p.Species); err == nil {
			s.Wood = wood
		}
	}
	s.Thread = min(f.Length-j.Through, f.Thread())
	if f.Kind == "lag" { // its point holds nothing
		s.Thread -= f.Tip()
	}
	return s
}

// pulled checks the screws that hold each wall's lowest board to what it leans on: soil
// pulls at them along their length. A wall is told of once, at its worst joint.
func (r *reviewer) pulled() {
	worst := map[bool]float64{}
	found := map[bool]Finding{}
	for _, w := range r.Frame.Walls {
		low := w.Boards[0]
		side := r.sideOf(w, r.board)
		load := strength.Check(side).Load
		for i, at := range w.Supports {
			pull := 0.0 // of the spans on either side, half each; more over the middle ones
			if i > 0 {
				pull += load * (at - w.Supports[i-1]).Metres() / 2
			}
			if i+1 < len(w.Supports) {
				pull += load * (w.Supports[i+1] - at).Metres() / 2
			}
			if i > 0 && i+1 < len(w.Supports) {
				pull *= strength.OverMiddle(len(w.Supports) - 1)
			}
			bears, n, name, screw := r.gripAt(w, i, low)
			if n == 0 || pull <= bears || pull/bears <= worst[w.End] {
				continue
			}
			worst[w.End] = pull / bears
			at := "a corner"
			if i > 0 && i+1 < len(w.Supports) {
				at = "a " + w.Support
			}
			found[w.End] = r.pull(w, at, pull, bears, n, name, screw)
		}
	}
	for _, end := range []bool{false, true} {
		if worst[end] > 0 {
			r.report(found[end])
		}
	}
}

// gripAt is what the screws that hold boards of a wall to one of its supports are good
// for together, in N, for years, when they are pulled; how many they are; and one of them.
func (r *reviewer) gripAt(w frame.Wall, support int, boards ...string) (bears float64, n int, name string, screw strength.Screw) {
	for _, j := range r.Frame.Joints {
		x, ok := r.Fixed[j.ID]
		holds := slices.Contains(boards, j.Parts[0]) || j.Kind == frame.BehindPost && slices.Contains(boards, j.Parts[1])
		if !ok || !holds || j.Kind == frame.PocketEnd || j.Kind == frame.Splice || j.Kind == frame.CapToWall {
			continue
		}
		pos := j.At.X
		if w.End {
			pos = j.At.Y
		}
		if nearest(w.Supports, pos) != support {
			continue
		}
		held := x.Count
		if j.Kind == frame.Bracket { // one leg of each is on this board
			held /= 2
		}
		screw, name, n = r.gripOf(j, x), x.Fixing.Name, n+held
		bears += float64(held) * screw.Pull()
	}
	return bears, n, name, screw
}

func nearest(list []measure.Length, at measure.Length) int {
	best := 0
	for i, l := range list {
		if max(l-at, at-l) < max(list[best]-at, at-list[best]) {
			best = i
		}
	}
	return best
}

// force is a force for reading.
func (r *reviewer) force(n float64) string {
	if r.p.System == measure.Imperial {
		return fmt.Sprintf("%.0f lb", n/4.4482216)
	}
	return fmt.Sprintf("%.0f N", n)
}

func (r *reviewer) pull(w frame.Wall, at string, pull, bears float64, n int, name string, s strength.Screw) Finding {
	what := "side"
	if w.End {
		what = "end"
	}
	grain := "side grain"
	if s.EndGrain {
		grain = "end grain"
	}
	f := Finding{Code: "pulls-" + what, Severity: Warning, Parts: []string{w.Boards[0]},
		Text: fmt.Sprintf("At %s soil pulls at the lowest board of the %s with %s; the %d screws that hold it there are good for %s, for years in the wet.", at, what, r.force(pull), n, r.force(bears)),
		Why: Why{Given: []string{r.p.Feet(w.Soil) + " of soil", fmt.Sprintf("%d × %s", n, name), r.p.Short(s.Thread) + " of thread in " + grain, "each holds " + r.force(bears/float64(n))},
			Rule:   "The board's push goes to what it leans on, half a span from either side. Thread holds by its length, its diameter and the wood's density; less in wet wood, and for good, and in end grain.",
			Result: r.force(pull) + " against " + r.force(bears) + ".",
			Source: "withdrawal: NDS 2018 12.2 with 0.9 (permanent) and 0.7 (wet); end grain 0.75 of it for lags (12.5.2.1), for screws 0.75 as tests find where nothing splits (Wood Handbook ch. 8), though the standard counts on none; push: Rankine, wet soil of 110 lb/ft³ at 30°; from memory"}}
	if r.Bed.Options["fixed_by"] == "screws" {
		f.Remedies = append(f.Remedies, Remedy{"lag bolts at the corners", []design.Edit{r.edit("fixed_by", "lags")}})
	}
	if less := r.lessSoil(pull / bears); less > 0 {
		f.Remedies = append(f.Remedies, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	if w.Field != "" {
		f.Remedies = append([]Remedy{r.moreSupports(w, min(6, len(w.Supports)-2+1))}, f.Remedies...)
	}
	return f
}

// lessSoil is the soil with which a push that grows with its square is so many times
// less; 0 where that is too little to plant.
func (r *reviewer) lessSoil(times float64) measure.Length {
	step := r.usualHole() / 12
	less := measure.Length(float64(r.Bed.Soil)/times) / step * step
	if less < 4*step {
		return 0
	}
	return less
}

// breaks is how often over its reference value a joint is loaded before it is near what
// breaks it (Wood Handbook ch. 8: tests find 4.5 to 6 times the design values; less for
// years in the wet: common practice).
const breaks = 3

// sheared checks the screws of the ledgers that carry a floor, across their length: those
// along the sides bear the slats' ends, half of the soil or what beams leave them, those
// at the ends the beams.
func (r *reviewer) sheared() {
	for _, f := range r.Frame.Floors {
		weight := strength.Weight(strength.Weigh(r.Frame, r.Catalog).Soil)
		spans := float64(max(1, f.Spans))
		for _, end := range []bool{false, true} {
			beams := weight * (spans - 1) / spans // what slats that run on over them bring to beams
			if spans > 1 {
				beams *= strength.OverMiddle(int(spans))
			}
			load, where := weight-beams, "along the sides"
			if end {
				load, where = beams, "at the ends"
			}
			bears, n := 0.0, 0
			var rails []string
			var name string
			for _, j := range r.Frame.Joints {
				x, ok := r.Fixed[j.ID]
				if !ok || j.Kind != frame.WallLedger {
					continue
				}
				rail, _ := r.Frame.Part(j.Parts[1])
				if p, ok := r.Frame.Part(j.Parts[0]); ok && p.Kind != rail.Kind && p.Kind == "ledger" {
					rail = p
				}
				if (rail.Grain == frame.Y) != end {
					continue
				}
				name, n, rails = x.Fixing.Name, n+x.Count, append(rails, rail.ID)
				bears += float64(x.Count) * r.gripOf(j, x).Across()
			}
			if n > 0 && load > bears {
				r.shear(f, where, load, bears, n, name, rails)
			}
		}
	}
}

func (r *reviewer) shear(f frame.Floor, where string, load, bears float64, n int, name string, rails []string) {
	found := Finding{Code: "ledger-screws", Severity: Note, Parts: rails,
		Text: fmt.Sprintf("The floor's ledgers %s hang on %d screws that are good for %s together, for years in the wet, and carry %s: more than a code counts on, though short of what breaks them.", where, n, r.force(bears), r.force(load)),
		Why: Why{Given: []string{r.p.Feet(f.Soil) + " of wet soil", fmt.Sprintf("%d × %s", n, name), "each bears " + r.force(bears/float64(n)) + " across its length"},
			Rule:   "Slats bring their load to the ledgers along the sides, beams theirs to those at the ends. A screw bears across its length until it bends or the wood gives.",
			Result: r.force(load) + " against " + r.force(bears) + ".",
			Source: "NDS 2018 Table 12.3.1A, single shear, with 0.9 (permanent) and 0.7 (wet), from memory; tests find several times as much before one breaks (Wood Handbook ch. 8)"}}
	if load > breaks*bears {
		found.Severity = Warning
		found.Text = fmt.Sprintf("The floor's ledgers %s hang on %d screws that are good for %s together, for years in the wet, and carry %s.", where, n, r.force(bears), r.force(load))
	}
	if f.Field != "" {
		for _, beams := range []int{len(f.Beams) + 1, len(f.Beams) + 2, len(f.Beams) - 1, 0} {
			if beams >= 0 && beams <= f.Most && beams != len(f.Beams) {
				found.Remedies = append(found.Remedies, Remedy{supports(beams, "beam") + " under the floor", []design.Edit{r.edit(f.Field, fmt.Sprint(beams))}})
			}
		}
	}
	step := r.usualHole() / 12
	if less := measure.Length(float64(r.Bed.Soil)*bears/load) / step * step; less >= 4*step {
		found.Remedies = append(found.Remedies, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	r.report(found)
}

// splits tells of screws so near a face that the wood splits: their middle wants to be two
// and a half of their diameters from an edge (NDS Commentary C12.1.5.7, from memory), a
// lag's one and a half (Table 12.5.1E, pulled only), and in the end of a board they stand
// in the middle of its thickness.
func (r *reviewer) splits() {
	var parts []string
	var thin measure.Length
	var d, room measure.Length
	for _, j := range r.Frame.Joints {
		x, ok := r.Fixed[j.ID]
		if !ok || !j.EndGrain {
			continue
		}
		p, ok := r.Frame.Part(j.Parts[1])
		if !ok {
			continue
		}
		want := x.Fixing.Diameter * 5 / 2
		if x.Fixing.Kind == "lag" {
			want = x.Fixing.Diameter * 3 / 2
		}
		if t := min(p.Thickness, p.Width); t/2 < want {
			parts, thin, d, room = append(parts, p.ID), t, x.Fixing.Diameter, want
		}
	}
	if len(parts) == 0 {
		return
	}
	f := Finding{Code: "splits", Severity: Note, Parts: parts,
		Text: fmt.Sprintf("Ends only %s thick split when a screw of %s goes in: drill every hole, and do not overdrive.", r.p.Short(thin), r.p.Short(d)),
		Why: Why{Given: []string{"thickness " + r.p.Short(thin), "screw " + r.p.Short(d) + " thick"}, Rule: "From the middle of a screw to an edge there want to be two and a half of its diameters, of a lag one and a half.",
			Result: fmt.Sprintf("There is %s, and %s is wanted.", r.p.Short(thin/2), r.p.Short(room)), Source: "NDS Commentary Table C12.1.5.7, of lags Table 12.5.1E (from memory)"}}
	for _, p := range r.thicker() {
		if p.Thickness/2 >= room {
			f.Remedies = append(f.Remedies, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
			break
		}
	}
	r.report(f)
}

// lift checks what has to be carried: one piece, and the empty frame where it stands on
// feet and is made up elsewhere. One person lifts 23 kg (51 lb) with care, two twice that
// (the NIOSH equation's load constant; common practice).
const liftsAlone = 23.0

func (r *reviewer) lifts() {
	heavy := 0.0
	var parts []string
	for _, p := range r.Frame.Parts {
		if m := strength.Mass(p, r.Catalog); m > liftsAlone {
			heavy, parts = max(heavy, m), append(parts, p.ID)
		}
	}
	whole := strength.Weigh(r.Frame, r.Catalog).Empty()
	kg := func(v float64) string { return r.Catalog.System.Mass(measure.Mass(v)) }
	rule := Why{Rule: "One person lifts about " + kg(liftsAlone) + " with care, two people twice that.", Source: "load constant of the NIOSH lifting equation, 23 kg (from memory)"}
	if len(parts) > 0 {
		f := Finding{Code: "heavy-piece", Severity: Note, Parts: parts, Why: rule,
			Text: fmt.Sprintf("The heaviest piece weighs about %s dry, more when wet: lift it with somebody.", kg(heavy))}
		f.Why.Given, f.Why.Result = []string{"its volume by its timber's density"}, kg(heavy)+"."
		r.report(f)
	}
	if r.Frame.OnFeet && whole > 2*liftsAlone {
		f := Finding{Code: "heavy-frame", Severity: Note, Why: rule,
			Text: fmt.Sprintf("Empty, it weighs about %s: make it up where it will stand, or bring four hands more.", kg(whole))}
		f.Why.Given, f.Why.Result = []string{fmt.Sprintf("%d pieces", len(r.Frame.Parts))}, kg(whole)+"."
		r.report(f)
	}
}

// leansOver tells of legs that are long for the walls that hold them: a planter on them
// racks when it is pushed. Over three times as long below as held above is much (common
// practice).
func (r *reviewer) leansOver() {
	if !r.Frame.OnFeet {
		return
	}
	under := r.Frame.Rim
	var legs []string
	for _, p := range r.Frame.Parts {
		if lo, _ := p.Body.Bounds(); p.Kind == "leg" {
			legs = append(legs, p.ID)
		} else {
			under = min(under, lo.Z)
		}
	}
	held := r.Frame.Rim - under
	if len(legs) == 0 || under <= 3*held {
		return
	}
	f := Finding{Code: "racks", Severity: Note, Parts: legs, Text: fmt.Sprintf("Legs that stand %s free below the %s that hold them let it lean when someone pushes: brace them, or set it against a wall.", r.p.Feet(under), r.p.Feet(held)),
		Why: Why{Given: []string{r.p.Feet(held) + " of each leg is held", r.p.Feet(under) + " stands free"}, Rule: "What keeps a frame square is the height over which its legs are screwed, and any board or brace below. No sum stands for how tight that is made; try it by hand before it is filled.", Source: "common practice"}}
	if _, ok := design.FieldOf(r.Bed, "apron"); ok && r.Bed.Options["apron"] != "yes" {
		f.Remedies = []Remedy{{"an apron below the walls", []design.Edit{r.edit("apron", "yes")}}}
	}
	r.report(f)
}
