package review

import (
	"fmt"
	"strings"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/planting"
)

var (
	_ = check(300, (*reviewer).noRoom, "plants-none", "plants-over")
	_ = check(310, (*reviewer).rootsMeetTheFloor, "plants-shallow")
	_ = check(320, (*reviewer).shaded, "plants-shade")
	_ = check(330, (*reviewer).unsupported, "plants-support")
	_ = check(340, (*reviewer).tooSoon, "plants-family")
	_ = check(325, (*reviewer).overshadowed, "plants-tall")
	_ = check(335, (*reviewer).overThePath, "plants-path")
	_ = check(345, (*reviewer).mostOfIt, "plants-most")
	_ = check(350, (*reviewer).besideOthers, "plants-beside")
)

const fromTable = "extension bulletins, as the table of crops says (from memory)"

// aHair is what two patches may lie over one another without sharing soil: sizes are typed to a sixteenth of an inch.
const aHair = 10 * measure.Millimetre

// plant is the edit of one planting.
func (r *reviewer) plant(n int, value string) []design.Edit {
	return []design.Edit{r.edit(fmt.Sprintf("plant:%d", n), value)}
}

// out takes a planting out.
func (r *reviewer) out(x planting.Patch) Remedy {
	return Remedy{"take the " + strings.ToLower(x.Crop.Name) + " out", r.plant(x.N, "remove")}
}

// noRoom looks at patches that hold nothing, and at those that lie over one another.
func (r *reviewer) noRoom() {
	for i, x := range r.Patches {
		if x.Plants() == 0 {
			need := x.Crop.Each
			r.report(Finding{Code: "plants-none", Severity: Warning,
				Text: fmt.Sprintf("%s has no room on its patch: each takes %s both ways.", x.Crop.Name, r.p.Feet(need)),
				Why: Why{Given: []string{"its patch " + r.p.Feet(max(0, x.Hi.U-x.Lo.U)) + " by " + r.p.Feet(max(0, x.Hi.V-x.Lo.V)),
					"apart " + r.p.Feet(need)},
					Rule:   "A plant stands half its spacing off the sides of its patch, so that the next has its half too.",
					Result: "None stands there.", Source: fromTable},
				Remedies: []Remedy{r.out(x)}})
			return
		}
		for _, y := range r.Patches[:i] {
			if x.Surface == y.Surface && min(x.Hi.U, y.Hi.U) > max(x.Lo.U, y.Lo.U)+aHair &&
				min(x.Hi.V, y.Hi.V) > max(x.Lo.V, y.Lo.V)+aHair {
				r.report(Finding{Code: "plants-over", Severity: Warning,
					Text: fmt.Sprintf("%s and %s are planted on the same soil.", x.Crop.Name, lower(y.Crop.Name)),
					Why: Why{Rule: "Two crops share a spot only where one is out before the other needs it.",
						Source: "common practice"},
					Remedies: []Remedy{r.out(x), r.out(y)}})
				return
			}
		}
	}
}

func lower(s string) string { return strings.ToLower(s) }

// rootsMeetTheFloor looks at roots that go deeper than the bed.
func (r *reviewer) rootsMeetTheFloor() {
	for _, x := range r.Patches {
		if x.Plants() == 0 || x.Crop.Deep <= x.Deep+measure.Millimetre {
			continue
		}
		f := Finding{Code: "plants-shallow", Severity: Warning,
			Text: fmt.Sprintf("%s roots deeper than this bed: %s of soil, and it asks for %s.", x.Crop.Name, r.p.Feet(x.Deep),
				r.p.Feet(x.Crop.Deep)),
			Why: Why{Given: []string{"soil " + r.p.Feet(x.Deep), "asked for " + r.p.Feet(x.Crop.Deep)},
				Rule:   "Roots that meet a floor early make small plants that dry out.",
				Source: fromTable}}
		if r.open() {
			f.Severity = Note
			f.Why.Rule = "Below an open bed roots go on into the ground, where that is loosened."
		}
		if soil, ok := design.FieldOf(r.Bed, "soil"); ok && x.Crop.Deep > soil.LengthOf(r.Bed) {
			f.Remedies = append(f.Remedies, Remedy{r.p.Feet(x.Crop.Deep) + " of soil", r.to("soil", x.Crop.Deep)})
		}
		f.Remedies = append(f.Remedies, r.out(x))
		r.report(f)
		return
	}
}

// open reports whether a bed's soil lies on the ground.
func (r *reviewer) open() bool {
	if r.Bed.On != design.OnGround {
		return false
	}
	for _, c := range r.Frame.Cavities {
		if c.Bottom <= 0 && !c.Pot {
			return true
		}
	}
	return false
}

// shaded looks at what has less sun than it asks for.
func (r *reviewer) shaded() {
	for _, x := range r.Patches {
		short := float64(x.Crop.SunHours) - x.Hours
		if x.Plants() == 0 || short < 0.5 {
			continue
		}
		f := Finding{Code: "plants-shade", Severity: Note,
			Text: fmt.Sprintf("%s has %.1f hours of sun a day where it grows, and asks for %d.", x.Crop.Name, x.Hours,
				x.Crop.SunHours),
			Why: Why{Given: []string{fmt.Sprintf("direct sun %.1f h", x.Hours), fmt.Sprintf("asked for %d h", x.Crop.SunHours)},
				Rule: "Hours of direct sun on the middle of its patch, on the mean day of the months plants grow in, with" +
					" fences, walls, trees and other beds in the way.",
				Source: "common practice for the hours; the sun after Meeus (from memory)"},
			Remedies: []Remedy{r.out(x)}}
		if x.Hours < 0.7*float64(x.Crop.SunHours) {
			f.Severity = Warning
		}
		r.report(f)
		return
	}
}

// overshadowed looks at what loses sun to a taller crop of its bed.
func (r *reviewer) overshadowed() {
	for _, x := range r.Patches {
		has := x.Hours - x.Lost
		if x.Plants() == 0 || x.Lost < 1 || has >= float64(x.Crop.SunHours)-0.5 {
			continue
		}
		f := Finding{Code: "plants-tall", Severity: Note,
			Text: fmt.Sprintf("%s loses %.1f hours of sun a day to what grows taller in its bed, most of it to %s: %.1f are"+
				" left, and it asks for %d.", x.Crop.Name, x.Lost, lower(x.By), has, x.Crop.SunHours),
			Why: Why{Given: []string{fmt.Sprintf("without it %.1f h", x.Hours), fmt.Sprintf("it takes %.1f h", x.Lost)},
				Rule: "Hours of direct sun half way up the lower one, in the middle of its patch, on the mean day of the months" +
					" plants grow in. Tall ones stand on the side towards the pole; one that is full grown late lets sun" +
					" through until then.",
				Source: "common practice for the hours; the sun after Meeus (from memory)"},
			Remedies: []Remedy{r.out(x)}}
		for _, o := range r.Patches {
			if o.Crop.Name == x.By {
				f.Remedies = append(f.Remedies, r.out(o))
				break
			}
		}
		r.report(f)
		return
	}
}

// overThePath looks at what grows out over the side of its bed.
func (r *reviewer) overThePath() {
	const much = 250 * measure.Millimetre
	lo, hi := r.Frame.Outside[0], r.Frame.Outside[1]
	for _, x := range r.Patches {
		over, half := measure.Length(0), x.Crop.Spread/2
		for _, s := range x.Laid.Spots {
			over = max(over, half-(s.U-lo.U), half-(hi.U-s.U), half-(s.V-lo.V), half-(hi.V-s.V))
		}
		if over < much {
			continue
		}
		f := Finding{Code: "plants-path", Severity: Note,
			Text: fmt.Sprintf("%s grows %s out over the side of the bed.", x.Crop.Name, r.p.Feet(over)),
			Why: Why{Given: []string{"full grown it is " + r.p.Feet(x.Crop.Spread) + " across"},
				Rule:   "What hangs over a path is trodden on, or the path is lost: leave room, tie it up, or plant it farther in.",
				Source: "common practice"},
			Remedies: []Remedy{r.out(x)}}
		narrow := measure.Length(0)
		for _, g := range r.Site.Gaps {
			mine := r.Site.Stands[g.A].Bed == r.Bed.ID || g.B >= 0 && r.Site.Stands[g.B].Bed == r.Bed.ID
			if mine && (narrow == 0 || g.Wide < narrow) {
				narrow = g.Wide
			}
		}
		if narrow > 0 {
			f.Text += fmt.Sprintf(" The narrowest path beside it is %s.", r.p.Feet(narrow))
		}
		r.report(f)
		return
	}
}

// unsupported looks at climbers without anything to climb.
func (r *reviewer) unsupported() {
	for _, x := range r.Patches {
		if x.Plants() == 0 || !x.Crop.Climbs() {
			continue
		}
		field, has := design.FieldOf(r.Bed, "trellis")
		if has && field.Text(r.Bed, r.p) != "none" {
			return
		}
		f := Finding{Code: "plants-support", Severity: Note,
			Text: fmt.Sprintf("%s climbs, and this bed has nothing to climb.", x.Crop.Name),
			Why: Why{Given: []string{"it wants a " + x.Crop.Support},
				Rule: "What climbs is tied up from the start: later its roots are hurt.", Source: fromTable}}
		if has && len(field.Choices(r.Catalog, r.Bed)) > 1 {
			f.Remedies = append(f.Remedies, Remedy{"add a trellis",
				[]design.Edit{r.edit("trellis", field.Choices(r.Catalog, r.Bed)[1].Value)}})
		}
		f.Remedies = append(f.Remedies, r.out(x))
		r.report(f)
		return
	}
}

// tooSoon looks at families that come back to the same soil.
func (r *reviewer) tooSoon() {
	year := 0
	for _, g := range r.Bed.Grown {
		year = max(year, g.Year+1)
	}
	for _, x := range r.Patches {
		rest := planting.Rest(x.Crop)
		for _, g := range r.Bed.Grown {
			was, _ := r.Crops.Named(g.Crop)
			p := r.Bed.Plants[x.N]
			if was.Family != x.Crop.Family || year-g.Year > rest || g.Soil != x.Surface ||
				min(p.X+p.Wide, g.X+g.Wide) <= max(p.X, g.X)+aHair || min(p.Y+p.Deep, g.Y+g.Deep) <= max(p.Y, g.Y)+aHair {
				continue
			}
			r.report(Finding{Code: "plants-family", Severity: Note,
				Text: fmt.Sprintf("%s stands where %s stood in %d: they are of one family.", x.Crop.Name, lower(was.Name), g.Year),
				Why: Why{Given: []string{fmt.Sprintf("rest of the family %d years", rest)},
					Rule: "What eats one eats the other, and waits in the soil. Between beds a few steps apart moving helps" +
						" little; it helps most against what lives in the soil.",
					Source: "common practice"},
				Remedies: []Remedy{r.out(x)}})
			return
		}
	}
}

// mostOfIt looks at a family that has so much of a bed that it cannot move on next year.
func (r *reviewer) mostOfIt() {
	of, all := map[string]float64{}, 0.0
	for _, o := range r.Frame.Openings {
		all += float64(o.Hi.U-o.Lo.U) / 1e9 * float64(o.Hi.V-o.Lo.V) / 1e9
	}
	for _, x := range r.Patches {
		if x.Plants() == 0 || x.Crop.Perennial || planting.Rest(x.Crop) == 0 {
			continue
		}
		of[x.Crop.Family] += float64(x.Hi.U-x.Lo.U) / 1e9 * float64(x.Hi.V-x.Lo.V) / 1e9
		part := of[x.Crop.Family] / max(all, 1e-9)
		if part <= 0.6 {
			continue
		}
		r.report(Finding{Code: "plants-most", Severity: Note,
			Text: fmt.Sprintf("%s and its family take %.0f %% of this bed: next year they have nowhere else to stand in it.",
				x.Crop.Name, 100*part),
			Why: Why{Given: []string{"family " + x.Crop.Family,
				fmt.Sprintf("rest of the family %d years", planting.Rest(x.Crop))},
				Rule: "Families move on from year to year, so no more than about half of a bed is one's; or the whole family" +
					" goes to another bed next year.",
				Source: "common practice"},
			Remedies: []Remedy{r.out(x)}})
		return
	}
}

// besideOthers looks at neighbours that do one another no good.
func (r *reviewer) besideOthers() {
	for i, x := range r.Patches {
		for _, y := range r.Patches[:i] {
			if x.Surface != y.Surface || max(x.Lo.U, y.Lo.U) > min(x.Hi.U, y.Hi.U)+measure.Inch ||
				max(x.Lo.V, y.Lo.V) > min(x.Hi.V, y.Hi.V)+measure.Inch {
				continue
			}
			for _, pair := range planting.Known(x.Crop, y.Crop, false) {
				if pair.Helps {
					continue
				}
				r.report(Finding{Code: "plants-beside", Severity: Note,
					Text: fmt.Sprintf("%s and %s do not go well side by side: %s.", x.Crop.Name, lower(y.Crop.Name), pair.Why),
					Why: Why{Given: []string{fmt.Sprintf("evidence, of 3: %d", pair.Grade)},
						Rule: "Neighbours that are known to harm one another are kept apart.", Source: pair.Source},
					Remedies: []Remedy{r.out(x), r.out(y)}})
				return
			}
		}
	}
}
