package review

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// liveLoad is what the floor of a dwelling's deck or balcony is built to carry: 40 lb/ft²,
// 1.92 kPa (IRC Table R301.5, from memory; ASCE 7-16 asks more of balconies, EN 1991-1-1
// 2.5 to 4.0 kN/m²).
const liveLoad = 40 * 47.880_26

var _ = check(40, (*reviewer).carries, "deck")

// carries checks what a bed on a deck, balcony or roof weighs on it. What weighs no more
// than a person does is a load at one place, as a person is; all else is spread over what
// it stands on. Feet bring theirs to single places.
func (r *reviewer) carries() {
	if r.Bed.On != design.OnDeck || len(r.Frame.Cavities) == 0 {
		return
	}
	m := strength.Weigh(r.Frame, r.Catalog)
	size := r.standsOn()
	all := strength.Weight(m.All())
	load := all / size.SquareMetres()
	per := r.pressure
	f := Finding{
		Code:     "deck",
		Severity: Note,
		Text: fmt.Sprintf(
			"Wet, it weighs %s on what carries it. Ask whoever owns or designed that what it bears.",
			per(load),
		),
		Why: Why{Steps: r.pressing(m, size),
			Rule: "Decks and balconies of dwellings are usually built for people and chairs, and a planter never" +
				" goes home. A planter of soil is as heavy as a crowd, day and night; one that weighs no more than a" +
				" person is no more than a person there.",
			Result: "Floors are usually built for " + per(liveLoad) + ".",
			Source: "IRC Table R301.5 (from memory); local codes and the structure itself come first: ask its owner" +
				" and a licensed engineer"},
	}
	feet, most := 0, 0.0
	for _, l := range r.Links {
		if p, ok := r.Frame.Part(l.From); ok && p.Grain == frame.Z && l.Path == strength.OnFloor &&
			(l.To == string(r.Bed.On) || l.Way == strength.Rolling) {
			feet, most = feet+1, max(most, l.Load)
		}
	}
	if r.Frame.OnFeet && feet > 0 {
		f.Why.Given = append(f.Why.Given, measure.Count(feet, "foot")+", up to "+r.force(most)+" on one")
	}
	switch {
	case all <= strength.Seat:
		f.Text = fmt.Sprintf(
			"Wet, it weighs %s, no more than a person: it is a load at one place, and what carries it bears a person"+
				" anywhere.",
			r.force(all),
		)
		f.Why.Result = r.force(all) + " against a person's " + r.force(strength.Seat) + "."
	case load > liveLoad:
		f.Severity = Warning
		f.Text = fmt.Sprintf(
			"Wet, it weighs %s on what carries it, and decks are usually built for %s. Without an engineer's word it"+
				" does not belong there.",
			per(load),
			per(liveLoad),
		)
		step := r.usualHole() / 12
		room := liveLoad*size.SquareMetres() - strength.Weight(m.Empty())
		less := measure.Length(float64(r.Bed.Soil)*room/strength.Weight(m.Soil)) / step * step
		if less >= 4*step {
			f.Remedies = append(f.Remedies, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
		}
		f.Remedies = append(f.Remedies, Remedy{"stand it on the ground", []design.Edit{r.edit("on", "ground")}})
	}
	if r.Frame.OnFeet && most > strength.Seat {
		f.Text += fmt.Sprintf(
			" Each foot brings up to %s to one place, more than a person does: over a joist or a beam, never"+
				" between them.",
			r.force(most),
		)
	}
	r.report(f)
}

// standsOn is the ground a bed covers: of a ring its circle, of all else what its walls go round.
func (r *reviewer) standsOn() measure.Area {
	for _, a := range r.Frame.Arcs {
		if a.Degrees == 360 {
			radius := a.Outside.Metres()
			return measure.Area(math.Pi * radius * radius * float64(measure.SquareMetre))
		}
	}
	return frame.OutlineArea(r.Frame.Around())
}

// pressure is one for reading.
func (r *reviewer) pressure(pa float64) string {
	if r.p.System == measure.Imperial {
		return fmt.Sprintf("%.0f lb/sq ft", pa/47.880_26)
	}
	return fmt.Sprintf("%.2f kN/m²", pa/1000)
}

var _ = check(30, (*reviewer).hard, "into-paving", "washes-out")

// hard checks a bed on paving: nothing can be driven into it, and soil washes out below
// walls that do not lie flat on it.
func (r *reviewer) hard() {
	if !r.Bed.On.Firm() || !r.Frame.Screwed() {
		return
	}
	var deep []string
	for _, p := range r.Frame.Parts {
		if lo, _ := p.Body.Bounds(); lo.Z < 0 {
			deep = append(deep, p.ID)
		}
	}
	if len(deep) > 0 {
		f := Finding{
			Code:     "into-paving",
			Severity: Stop,
			Parts:    deep,
			Text:     fmt.Sprintf("%s into the ground, and here is none to take them.", reaching(len(deep))),
			Why: Why{
				Given: []string{"it stands on paving or a deck"},
				Rule: "On paving a frame holds itself together: posts end at the ground, and ties across it do" +
					" what the ground would.",
				Source: "common practice",
			},
		}
		if set, ok := design.Serve(r.Bed, design.SetsPosts); ok {
			e := append(r.to("post_in_ground", 0), set.To(r.Bed, "0"))
			if d, ok := design.Serve(r.Bed, design.TiesWalls); ok && !r.Bed.Has(d.Key) {
				e = append(e, d.To(r.Bed, "1"))
			}
			f.Remedies = append(f.Remedies, Remedy{"posts that end at the ground, and a tie across", e})
		} else if s, ok := design.SystemFor(design.OnPaving); ok {
			f.Remedies = append(f.Remedies, Remedy{"a " + strings.ToLower(s.Title), []design.Edit{r.edit("system",
				s.Name)}})
		}
		f.Remedies = append(f.Remedies, Remedy{"stand it on the ground", []design.Edit{r.edit("on", "ground")}})
		r.report(f)
	}
	if r.loses() {
		r.report(
			Finding{
				Code:     "washes-out",
				Severity: Note,
				Text:     "Paving is never quite flat: water carries soil out below the boards.",
				Why: Why{
					Given:  []string{"no floor", "under the bed: " + r.Bed.Under},
					Rule:   "Cloth over the paving, turned up inside the walls, lets water out and keeps soil in.",
					Source: "common practice",
				},
				Remedies: []Remedy{{"landscape fabric under it", []design.Edit{r.edit("under", "fabric")}}},
			},
		)
	}
}

// loses reports whether soil gets out below: nothing holds it in.
func (r *reviewer) loses() bool {
	return !r.Frame.OnFeet && len(r.Frame.Floors) == 0 && r.Bed.Under != "fabric" && len(r.Frame.Cavities) > 0 &&
		r.Frame.Lined() != catalog.Trough
}

var _ = check(31, (*reviewer).onGravel, "gravel-loses")

// onGravel tells of soil that goes down between stones.
func (r *reviewer) onGravel() {
	if r.Bed.On != design.OnGravel || !r.loses() {
		return
	}
	r.report(Finding{Code: "gravel-loses", Severity: Warning,
		Text: "Every rain takes some of the soil down between the stones, and the gravel is soon full of it.",
		Why: Why{Given: []string{"it stands on gravel", "under the bed: " + r.Bed.Under},
			Rule:   "Cloth over the gravel lets water through and keeps the two apart; card rots within a year.",
			Source: "common practice"},
		Remedies: []Remedy{{"landscape fabric under it", []design.Edit{r.edit("under", "fabric")}}}})
}

// reaching says that so many posts or stakes reach.
func reaching(n int) string {
	if n == 1 {
		return "One post or stake reaches"
	}
	return fmt.Sprintf("%d posts or stakes reach", n)
}

var _ = check(130, (*reviewer).drains, "no-drain")

// drains tells of floors that let no water out.
func (r *reviewer) drains() {
	gap, ok := design.Serve(r.Bed, design.DrainsFloor)
	if !ok || len(r.Frame.Floors) == 0 || gap.LengthOf(r.Bed) > 0 {
		return
	}
	least := in / 4
	if r.p.System == measure.Metric {
		least = 6 * mm
	}
	r.report(
		Finding{
			Code:     "no-drain",
			Severity: Warning,
			Parts:    r.Frame.Floors[0].Slats,
			Text:     "The floor has no gaps: water stands in the soil, and roots and boards rot.",
			Why: Why{
				Given:  []string{"slats with no gap"},
				Rule:   "What goes in at the top has to get out at the bottom.",
				Result: "The least is " + r.p.Short(least) + ".",
				Source: "common practice",
			},
			Remedies: []Remedy{{"gaps of " + r.p.Short(least), r.to(gap.Key, least)}},
		},
	)
}

var _ = check(50, (*reviewer).leans, "wall-slides", "wall-bends", "wall-high")

// leans checks what is laid or cast and holds soil by its weight.
func (r *reviewer) leans() {
	for _, s := range r.Frame.Stacks {
		with := func(soil measure.Length) strength.Standing {
			return strength.Gravity{
				Base:     s.Thick,
				Height:   soil,
				Density:  s.Density,
				Fluid:    strength.Fluid(r.Frame),
				Friction: strength.OnGravel,
			}.Check()
		}
		got := with(s.Soil)
		how := "laid dry: each course holds those above by friction alone"
		switch s.Bond {
		case frame.Mortared, frame.Cast:
			how = string(s.Bond) + ": it stands and slides as one piece"
		case frame.Glued:
			how = "glued: its courses do not slide on one another, and against tipping glue is counted on for nothing"
		}
		p := Why{Given: []string{"wall " + r.p.Short(s.Thick) + " thick", how, r.p.Feet(s.Soil) + " of soil"},
			Rule: "Its weight times friction stands against the soil's push, and its weight times half its thickness" +
				" against the push at a third of its height; one and a half times is asked of both.",
			Result: fmt.Sprintf(
				"%.2f times against sliding, %.2f against tipping; it presses %s at its toe, and clay that is not"+
					" soft bears %s.",
				got.Sliding,
				got.Tipping,
				r.pressure(got.Toe),
				r.pressure(1500*47.880_26),
			),
			Source: "IBC 1807.2.3, friction of Table 1806.2 (from memory); push: Rankine at 30°, wet soil"}
		if got.Sliding < strength.Safe && !s.Tied {
			f := Finding{Code: "wall-slides", Severity: Warning, Parts: s.Units, Why: p,
				Text: fmt.Sprintf(
					"Soil pushes this wall along with more than it comfortably resists: %.2f times over, and 1.5"+
						" is asked.",
					got.Sliding,
				)}
			step := r.usualHole() / 12
			less := s.Soil / step * step
			for less > 3*step && with(less).Sliding < strength.Safe {
				less -= step
			}
			if less > 3*step {
				f.Remedies = []Remedy{{r.p.Feet(less) + " of soil", r.to("soil", less)}}
			}
			r.report(f)
		}
		r.bendsAtFoot(s)
		r.tooHigh(s.Units, s.Soil)
	}
	r.boardsTooHigh()
}

// bendsAtFoot checks a wall that mortar or casting makes one piece: it bends at its foot
// before it tips.
func (r *reviewer) bendsAtFoot(s frame.Stack) {
	for _, l := range r.Links {
		if l.Way != strength.Rooted || severity(l) == "" || len(s.Units) > 0 && l.From != s.Units[0] {
			continue
		}
		rule := strength.Rules[strength.Rooted]
		f := Finding{Code: "wall-bends", Severity: severity(l), Parts: s.Units,
			Text: fmt.Sprintf(
				"The soil bends this %s wall at its foot: %.0f %% of what its joints may be counted on for.",
				s.Bond,
				100*l.Ratio(),
			),
			Why: Why{
				Given:  []string{"wall " + r.p.Short(s.Thick) + " thick", r.p.Feet(s.Soil) + " of soil"},
				Steps:  share(l),
				Rule:   rule.Words,
				Source: rule.Source,
			}}
		step := r.usualHole() / 12
		if less := floorTo(s.Soil, math.Cbrt(l.Ratio()), step); less > 3*step {
			f.Remedies = []Remedy{{r.p.Feet(less) + " of soil", r.to("soil", less)}}
		}
		r.report(f)
		return
	}
}

// tooHigh tells of a wall, whatever it is built of, that holds more soil than may be held
// without an engineer.
func (r *reviewer) tooHigh(parts []string, soil measure.Length, also ...Remedy) {
	limit := r.Habits.WallsUpTo()
	if soil <= limit {
		return
	}
	r.report(Finding{Code: "wall-high", Severity: Stop, Parts: parts,
		Text: fmt.Sprintf(
			"A wall that holds %s of soil is over %s: it is work for a licensed engineer, and in most places for a"+
				" permit.",
			r.p.Feet(soil),
			r.p.Feet(limit),
		),
		Why: Why{
			Given: []string{
				r.p.Feet(soil) + " of soil",
				"the limit where you live, in your habits: " + r.p.Feet(limit),
			},
			Rule: "Over that a wall that is not tied at its top is designed, by someone who answers for it.",
			Result: "The most is " + r.p.Feet(
				limit,
			) + ".",
			Source: "IRC R404.4: 24 in (610 mm), from memory; local limits come first",
		},
		Remedies: append([]Remedy{{r.p.Feet(limit) + " of soil", r.to("soil", r.Bed.Soil-(soil-limit))}}, also...)})
}

// boardsTooHigh holds walls of boards to the same limit, once for all of a bed. A planter
// on feet holds back no ground that anybody stands on, and a box whose sides a tie holds to
// one another is tied at its top.
func (r *reviewer) boardsTooHigh() {
	if r.Frame.OnFeet || slices.ContainsFunc(r.Frame.Parts, func(p frame.Part) bool { return p.Kind == frame.Tie }) {
		return
	}
	var parts []string
	most := measure.Length(0)
	for _, w := range r.Frame.Walls {
		if w.Soil > r.Habits.WallsUpTo() {
			parts, most = append(parts, w.Boards[0]), max(most, w.Soil)
		}
	}
	var also []Remedy
	if d, ok := design.Serve(r.Bed, design.TiesWalls); ok {
		also = append(also, Remedy{"one cross tie", []design.Edit{d.To(r.Bed, "1")}})
	}
	if len(parts) > 0 {
		r.tooHigh(parts, most, also...)
	}
}

var _ = check(260, (*reviewer).sunny, "shades")

// sunny tells of what stands tall on the side the sun comes from. It is asked only where
// the plot has been decided; south of the equator it is the other one.
func (r *reviewer) sunny() {
	tall := r.Frame.Tall
	if r.Site == nil || !r.Site.Decided || tall == "" {
		return
	}
	for _, s := range r.Site.Stands {
		if s.Bed != r.Bed.ID {
			continue
		}
		back := 0 // degrees to the right of straight up, the way the bed's back faces
		if s.Turned {
			back = 90
		}
		pole, side := r.Site.Plot.North, "north of the equator"
		if r.South {
			pole, side = pole+180, "south of the equator"
		}
		off := ((back-pole)%360 + 360) % 360
		if off <= 90 || off >= 270 {
			continue
		}
		f := Finding{
			Code:     "shades",
			Severity: Note,
			Text: fmt.Sprintf(
				"The %s of %s stands on the side the sun comes from and shades the rest.",
				tall,
				s.Name,
			),
			Why: Why{
				Given: []string{
					fmt.Sprintf("north is %d° to the right of straight up", r.Site.Plot.North),
					fmt.Sprintf("the bed's back faces %d°", back),
					"the plot lies " + side,
				},
				Rule: "What is tall stands on the side of the pole: north in the northern half of the world, south in the" +
					" southern.",
				Source: "common practice",
			},
		}
		if r.Frame.TallBy != "" {
			f.Remedies = []Remedy{{"no " + tall, []design.Edit{r.edit(r.Frame.TallBy, design.NotThere)}}}
		}
		r.report(f)
		return
	}
}
