package review

import (
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/why"
)

// standsFor is the soil behind boards up to which closed boxes with posts or stakes in mid
// side have stood for years, whatever is reckoned: about 14 in (common practice).
const standsFor = strength.StoodFor

// beyond is by how much more than what stands for years something is loaded before it is
// said to be more than has been seen (common practice: half as much again).
const beyond = 1.5

// stretch is a part of a wall between two things that do not give, a corner or a cross
// tie, with the posts and stakes between them that only the ground holds.
type stretch struct {
	from, to int // of the wall's supports
	clear    measure.Length
	poles    []frame.Part
}

// stretches parts a wall at what does not give.
func (r *reviewer) stretches(w frame.Wall) []stretch {
	var list []stretch
	at := stretch{}
	for i := 1; i < len(w.Supports); i++ {
		pole, ok := r.poleAt(w, i)
		if ok && i+1 < len(w.Supports) {
			at.poles = append(at.poles, pole)
			continue
		}
		at.to, at.clear = i, w.Supports[i]-w.Supports[at.from]
		list = append(list, at)
		at = stretch{from: i}
	}
	return list
}

// poleAt is the post or stake that a wall leans on at one of its supports; false for a tie.
func (r *reviewer) poleAt(w frame.Wall, support int) (frame.Part, bool) {
	for _, j := range r.Frame.Joints {
		for k, id := range j.Parts {
			if !slices.Contains(w.Boards, j.Parts[1-k]) {
				continue
			}
			p, ok := r.Frame.Part(id)
			if !ok || p.Grain != frame.Z {
				continue
			}
			lo, hi := p.Body.Bounds()
			from, to := lo.X, hi.X
			if w.End {
				from, to = lo.Y, hi.Y
			}
			if nearest(w.Supports, (from+to)/2) == support && lo.Z < 0 {
				return p, true
			}
		}
	}
	return frame.Part{}, false
}

// leant is a stretch under the soil's push: what its poles and the ground take, and the
// boards carry past them to what does not give.
type leant struct {
	stretch
	push     float64 // N on one pole
	most     float64 // N at which the ground gives there
	good     float64 // N that is counted on for years
	boards   strength.Bearing
	pull     float64 // N at the worse end of the stretch
	bears    float64 // N that its screws are good for
	at       string
	deep     measure.Length
	grip     int
	average  float64 // times what is allowed that boards break at
	weak     float64 // and that the weakest of twenty do
	gripName string
}

// worst is by how much the boards, or the screws at their ends, are loaded over what they
// are good for, each by its own measure of what is too much: the bow that one sees, the
// stress and the pull that are allowed. too is where that is more than worth knowing.
func (l leant) worst() (ratio, too float64) {
	ratio, too = float64(l.boards.Bow)/float64(l.boards.Limit), 2
	if s := float64(l.boards.Stress) / float64(l.boards.Allowed); s/l.weak > ratio/too {
		ratio, too = s, l.weak
	}
	if _, weak := strength.LetGo(); l.bears > 0 && l.pull/l.bears/weak > ratio/too {
		ratio, too = l.pull/l.bears, weak
	}
	return ratio, too
}

// lean works a stretch of a wall out under some depth of soil. The ground gives under a
// load that stays, so its poles take what it holds and no more; the boards, all courses
// together since the poles tie them, carry the rest from end to end.
func (r *reviewer) lean(w frame.Wall, s stretch, soil measure.Length) (leant, bool) {
	all := strength.Giving * soil.Metres() * soil.Metres() / 2
	l := leant{stretch: s, push: all * s.clear.Metres() / float64(len(s.poles)+1)}
	held := 0.0
	for i, p := range s.poles {
		lo, hi := p.Body.Bounds()
		wide := hi.X - lo.X
		if w.End {
			wide = hi.Y - lo.Y
		}
		pole := strength.Pole{Height: soil / 3, Wide: wide, Deep: -lo.Z}
		wood, err := r.Catalog.SpeciesOf(p.Species)
		if err != nil {
			return l, false
		}
		good := pole.Holds(strength.Bends(p.Width, p.Thickness, wood))
		if i == 0 || good < l.good {
			l.good, l.most, l.deep = good, pole.Most(), -lo.Z
		}
		held += min(good, l.push)
	}
	rest := max(0, all-held/s.clear.Metres())
	m := strength.Member{Across: r.board.Width, Deep: r.board.Thickness, Span: s.clear, Spans: 1,
		Species: r.sideOf(w, r.board).Species, Load: rest / float64(len(w.Boards))}
	l.boards = strength.Bend(m)
	l.average, l.weak = strength.Broken(m.Species)
	l.pull, l.at = rest*s.clear.Metres()/2, "a corner"
	for _, end := range []int{s.from, s.to} {
		bears, n, name, _ := r.gripAt(w, end, w.Boards...)
		if n > 0 && (l.bears == 0 || bears < l.bears) {
			l.bears, l.grip, l.gripName = bears, n, name
			if end > 0 && end+1 < len(w.Supports) {
				l.at = "a tie"
			}
		}
	}
	return l, true
}

var _ = check(80, (*reviewer).yields, "ground-gives", "ground-gives-ends")

// yields tells of posts and stakes in mid side that the ground does not hold, of all sides
// once and of all ends once: the soil pushes at them with more than firm ground takes for
// years, so that the boards carry the rest.
func (r *reviewer) yields() {
	if !slices.ContainsFunc(r.Frame.Parts, func(p frame.Part) bool { lo, _ := p.Body.Bounds(); return lo.Z < 0 }) {
		return // nothing stands in the ground
	}
	for _, end := range []bool{false, true} {
		var worst leant
		var wall frame.Wall
		most := 0.0
		for _, w := range r.Frame.Walls {
			if w.End != end {
				continue
			}
			for _, s := range r.stretches(w) {
				if len(s.poles) == 0 {
					continue
				}
				l, ok := r.lean(w, s, w.Soil)
				if !ok || l.good >= l.push {
					continue
				}
				if ratio, too := l.worst(); ratio/too > most {
					most, worst, wall = ratio/too, l, w
				}
			}
		}
		if most > 0 {
			r.yield(wall, worst)
		}
	}
}

func (r *reviewer) yield(w frame.Wall, l leant) {
	ratio, too := l.worst()
	if ratio <= 1 {
		return // the boards do without it, and nobody sees them bow
	}
	f := Finding{Code: "ground-gives", Severity: Warning}
	if w.End {
		f.Code = "ground-gives-ends"
	}
	seen, _ := r.lean(w, l.stretch, standsFor)
	stood, _ := seen.worst()
	if ratio <= max(too, beyond*stood) {
		f.Severity = Note
	}
	for _, p := range l.poles {
		f.Parts = append(f.Parts, p.ID)
	}
	pole := w.Support
	if pole == "" {
		pole = "post"
	}
	bow := "about " + r.p.Short(l.boards.Bow)
	if most := l.clear / 20; l.boards.Bow > most {
		bow = "more than " + r.p.Short(most)
	}
	f.Text = fmt.Sprintf(
		"Soil pushes at a %s with %s; firm ground holds one %s deep with %s for years, and gives at %s."+
			" The boards carry the rest %s, and are reckoned to bow %s by the second summer.",
		pole,
		r.force(l.push),
		r.p.Feet(l.deep),
		r.force(l.good),
		r.force(l.most),
		between(w, l),
		bow,
	)
	switch {
	case f.Severity == Note && ratio > too:
		usual := standsFor
		if r.p.System == measure.Metric {
			usual = 350 * measure.Millimetre
		}
		f.Text += fmt.Sprintf(
			" Closed boxes of up to about %s of soil have stood for years all the same.",
			r.p.Feet(usual),
		)
	case float64(l.boards.Stress) > l.average*float64(l.boards.Allowed):
		f.Text += fmt.Sprintf(
			" At %d %% of what the timber bears for years they are near what breaks them.",
			l.boards.StressPct,
		)
	}
	f.Why = Why{
		Given: []string{
			r.p.Feet(w.Soil) + " of soil",
			r.p.Feet(l.clear) + " " + between(w, l),
			supports(len(l.poles), pole) + " there",
			measure.Count(len(w.Boards), "course of boards "+r.p.Short(r.board.Thickness)+" thick"),
			fmt.Sprintf("%d × %s at %s, good for %s", l.grip, l.gripName, l.at, r.force(l.bears)),
		},
		Rule: "A pole turns in the ground when it is pushed. Under a load that stays a third of what makes the" +
			" ground give is counted on. What it does not take the boards carry, all courses together, as a beam" +
			" that the corners or ties hold.",
		Steps: []why.Step{why.Given("the soil pushes with", why.Of(why.Force, l.push)),
			why.Given("the ground holds", why.Of(why.Force, l.good)),
			{Name: "of the push", Of: why.Over(why.Of(why.Force, l.good), why.Of(why.Force, l.push)), As: why.Share}},
		Result: fmt.Sprintf(
			"The boards bow %s, and %s would pass unnoticed; they are bent to %d %% of what they bear for years, and"+
				" about %.0f %% would break them; %s of %s pull at the screws.",
			r.p.Short(
				l.boards.Bow,
			),
			r.p.Short(l.boards.Limit),
			l.boards.StressPct,
			100*l.average,
			r.force(l.pull),
			r.force(l.bears),
		),
		Source: "ground: Broms 1964 for short rigid poles in sand, 110 lb/ft³ at 30°, a third of it for a lasting" +
			" load; push: Rankine, wet soil of 110 lb/ft³ at 30°; beams: AWC Design Aid No. 6. Closed boxes of up to" +
			" about 14 in (350 mm) of soil stand so for years: common practice, and the severity goes by it",
	}
	f.Remedies = r.holdOn(w, l)
	r.report(f)
}

// between says what a stretch lies between.
func between(w frame.Wall, l leant) string {
	if l.from == 0 && l.to == len(w.Supports)-1 {
		return "from corner to corner"
	}
	return "between what holds them"
}

// holdOn is what carpenters do about it: a tie across, which both sides hang on, deeper or
// more poles, thicker boards, less soil.
func (r *reviewer) holdOn(w frame.Wall, l leant) []Remedy {
	var list []Remedy
	if !w.End {
		list = append(list, r.tiesAcross(2)...)
	}
	if f, ok := design.FieldOf(r.Bed, w.Ground); ok {
		if deep := 2 * r.usualHole(); deep > f.LengthOf(r.Bed) {
			list = append(list, Remedy{"set them " + r.p.Feet(deep) + " in the ground", r.to(w.Ground, deep)})
		}
	}
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	ratio, _ := l.worst()
	if less := r.lessSoil(ratio); less > 0 {
		list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	return list
}
