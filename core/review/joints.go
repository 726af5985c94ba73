package review

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// gripAt is what the screws that hold boards of a wall to one of its supports are good
// for together, in N, for years, when they are pulled; how many they are; and one of them.
func (r *reviewer) gripAt(
	w frame.Wall,
	support int,
	boards ...string,
) (bears float64, n int, name string, screw strength.Screw) {
	for _, j := range r.Frame.Joints {
		x, ok := r.Fixed[j.ID]
		holds := slices.Contains(boards, j.Parts[0]) ||
			j.Kind == frame.BehindPost && slices.Contains(boards, j.Parts[1])
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
		screw, name, n = strength.Held(j, x, r.Frame, r.Catalog), x.Fixing.Name, n+held
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
func (r *reviewer) force(n float64) string { return r.p.System.Force(n) }

// lessSoil is so many times less soil than there is; 0 where that is too little to plant.
func (r *reviewer) lessSoil(times float64) measure.Length {
	step := r.usualHole() / 12
	less := floorTo(r.Bed.Soil, times, step)
	if less < 4*step {
		return 0
	}
	return less
}

// floorTo is a length so many times less, in whole steps.
func floorTo(l measure.Length, times float64, step measure.Length) measure.Length {
	return measure.Length(float64(l)/times) / step * step
}

var _ = check(230, (*reviewer).splits, "splits")

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
		if x.Fixing.Kind == catalog.Lag {
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
		Text: fmt.Sprintf(
			"Ends only %s thick split when a screw of %s goes in: drill every hole, and do not overdrive.",
			r.p.Short(thin),
			r.p.Short(d),
		),
		Why: Why{
			Given: []string{"thickness " + r.p.Short(thin), "screw " + r.p.Short(d) + " thick"},
			Rule: "From the middle of a screw to an edge there want to be two and a half of its diameters, of a lag" +
				" one and a half.",
			Result: fmt.Sprintf(
				"There is %s, and %s is wanted.",
				r.p.Short(thin/2),
				r.p.Short(room),
			),
			Source: "NDS Commentary Table C12.1.5.7, of lags Table 12.5.1E (from memory)",
		}}
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

var _ = check(280, (*reviewer).lifts, "heavy-piece", "heavy-frame")

func (r *reviewer) lifts() {
	heavy := 0.0
	var parts []string
	var worst frame.Part
	for _, p := range r.Frame.Parts {
		if m := strength.Mass(p, r.Catalog); m > liftsAlone {
			parts = append(parts, p.ID)
			if m > heavy {
				heavy, worst = m, p
			}
		}
	}
	whole := strength.Weigh(r.Frame, r.Catalog).Empty()
	kg := func(v float64) string { return r.Catalog.System.Mass(measure.Mass(v)) }
	rule := Why{
		Rule:   "One person lifts about " + kg(liftsAlone) + " with care, two people twice that.",
		Source: "load constant of the NIOSH lifting equation, 23 kg (from memory)",
	}
	if len(parts) > 0 {
		f := Finding{Code: "heavy-piece", Severity: Note, Parts: parts, Why: rule,
			Text: fmt.Sprintf(
				"The heaviest piece weighs about %s dry, more when wet: lift it with somebody.",
				kg(heavy),
			)}
		f.Why.Steps = r.weighed(worst)
		r.report(f)
	}
	if r.Frame.OnFeet && whole > 2*liftsAlone {
		f := Finding{Code: "heavy-frame", Severity: Note, Why: rule,
			Text: fmt.Sprintf(
				"Empty, it weighs about %s: make it up where it will stand, or bring four hands more.",
				kg(whole),
			)}
		one := *r.Frame
		one.Times = 1
		f.Why.Steps = strength.Weighed([]frame.Frame{one}, r.Catalog)
		r.report(f)
	}
}

var _ = check(290, (*reviewer).leansOver, "racks")

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
		if lo, _ := p.Body.Bounds(); p.Kind == frame.Leg {
			legs = append(legs, p.ID)
		} else {
			under = min(under, lo.Z)
		}
	}
	held := r.Frame.Rim - under
	if len(legs) == 0 || under <= 3*held {
		return
	}
	f := Finding{
		Code:     "racks",
		Severity: Note,
		Parts:    legs,
		Text: fmt.Sprintf(
			"Legs that stand %s free below the %s that hold them let it lean when someone pushes: brace them, or set"+
				" it against a wall.",
			r.p.Feet(under),
			r.p.Feet(held),
		),
		Why: Why{
			Given: []string{r.p.Feet(held) + " of each leg is held", r.p.Feet(under) + " stands free"},
			Rule: "What keeps a frame square is the height over which its legs are screwed, and any board or brace" +
				" below. No sum stands for how tight that is made; try it by hand before it is filled.",
			Source: "common practice",
		},
	}
	if d, ok := design.Serve(r.Bed, design.BracesLegs); ok && !d.Taken(r.Bed) {
		f.Remedies = []Remedy{{d.Words, []design.Edit{d.Edit(r.Bed)}}}
	}
	r.report(f)
}
