package review

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/why"
)

var _ = check(60, (*reviewer).bows, "side-bows", "end-bows")

// bows checks every board of every wall as a beam under its own share of the push, and
// tells of sides that fail once, and of ends: of the board that bows most.
func (r *reviewer) bows() {
	for _, end := range []bool{false, true} {
		path := strength.OnSide
		if end {
			path = strength.OnEnd
		}
		var worst strength.Link
		most := 0.0
		for _, l := range r.Links {
			if l.Path == path && l.Way == strength.Bending && l.Span > 0 &&
				!l.Gives { // those are told with their posts
				if over := max(tooMuchBow(l), l.Ratio()); over > most && over > 1 {
					most, worst = over, l
				}
			}
		}
		for _, w := range r.Frame.Walls {
			if w.End == end && most > 0 && slices.Contains(w.Boards, worst.From) {
				r.bowed(w, worst)
				break
			}
		}
	}
}

// tooMuchBow is how many times as far as passes unnoticed a board bows.
func tooMuchBow(l strength.Link) float64 { return l.Bow / (l.Span / strength.VisibleBow) }

// stoodBow is how many times as far as passes unnoticed boards bow, as it is reckoned, that
// have stood for years all the same: 3/4 in boards, two courses of 5 1/2 in, from stake to
// stake 4 ft apart, at an end that has none between (common practice).
func stoodBow(wood catalog.Species) float64 {
	const foot = measure.Foot
	got := strength.Check(
		strength.Side{
			Thickness: 3 * in / 4,
			Width:     11 * in / 2,
			Soil:      10 * in,
			Span:      4 * foot,
			Spans:     1,
			Species:   wood,
			Fluid:     strength.Giving,
		},
	)
	return float64(got.Bow) / float64(got.Limit)
}

// bowed reports the board that bows most, and with it its wall.
func (r *reviewer) bowed(w frame.Wall, l strength.Link) {
	code := "side-bows"
	if w.End {
		code = "end-bows"
	}
	board, _ := r.Frame.Part(l.From)
	wood, err := r.Catalog.SpeciesOf(board.Species)
	if err != nil {
		wood = r.species
	}
	seen := max(2, stoodBow(wood))
	f := Finding{
		Code:     code,
		Severity: Warning,
		Parts:    r.alike(w),
		Text:     r.bowText(w, l),
		Why:      r.bowWhy(w, board, wood, l),
	}
	if !slices.Contains(f.Parts, l.From) {
		f.Parts = append([]string{l.From}, f.Parts...)
	}
	if tooMuchBow(l) <= seen && severity(l) != Warning {
		f.Severity = Note
	}
	if f.Severity == Note && tooMuchBow(l) > 2 {
		f.Text += " Thin boards on stakes 4 ft (1.2 m) apart bow as far and have stood for years."
	}
	if w.Field != "" {
		n := strength.MidSupports(r.sideOf(w, r.board), w.Supports[len(w.Supports)-1]-w.Supports[0])
		if n = max(n, len(w.Supports)-1); n <= 6 {
			f.Remedies = append(f.Remedies, r.moreSupports(w, n))
		}
	}
	for k, p := range r.thicker() {
		if k > 0 && !strength.Check(r.sideOf(w, p)).Holds() {
			continue
		}
		if f.Remedies = append(f.Remedies, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}}); k > 0 {
			break
		}
	}
	r.report(f)
}

// moreSupports is the remedy of n supports to every such wall, those that lean on
// the ground set deep enough.
func (r *reviewer) moreSupports(w frame.Wall, n int) Remedy {
	m := Remedy{supports(n, w.Support) + " on each long side", []design.Edit{r.edit(w.Field, fmt.Sprint(n))}}
	switch {
	case w.End:
		m.Label = supports(n, w.Support) + " on each end"
	case w.Support == frame.CrossTie:
		m.Label = supports(n, w.Support)
	}
	if ground, ok := design.FieldOf(r.Bed, w.Ground); ok {
		deep := max(ground.LengthOf(r.Bed), r.usualHole())
		m.Label += ", set " + r.p.Feet(deep) + " in the ground"
		m.Edits = append(m.Edits, r.edit(w.Ground, deep.String()))
	}
	return m
}

// sideOf is a wall of some board as the beam formula sees it, over the longest
// stretch between two supports.
func (r *reviewer) sideOf(w frame.Wall, p catalog.Profile) strength.Side {
	span := measure.Length(0)
	for i := 1; i < len(w.Supports); i++ {
		span = max(span, w.Supports[i]-w.Supports[i-1])
	}
	species := r.species
	if board, ok := r.Frame.Part(w.Boards[0]); ok { // a front may be of another timber
		if s, err := r.Catalog.SpeciesOf(board.Species); err == nil {
			species = s
		}
	}
	return strength.Side{Thickness: p.Thickness, Width: p.Width, Soil: w.Soil, Span: span, Spans: len(w.Supports) - 1,
		Species: species, Fluid: strength.Fluid(r.Frame)}
}

func supports(n int, kind frame.PartKind) string {
	if n == 1 {
		return "one " + string(kind)
	}
	return fmt.Sprintf("%d %ss", n, kind)
}

// usualHole is how deep a post that only ties is set: 300 mm or 12 in (common
// practice: 300 to 400 mm).
func (r *reviewer) usualHole() measure.Length {
	if r.p.System == measure.Imperial {
		return measure.Foot
	}
	return 300 * measure.Millimetre
}

// thicker lists the boards sold in this timber that are thicker, thinnest
// first, and among those the ones nearest in width.
func (r *reviewer) thicker() []catalog.Profile {
	var list []catalog.Profile
	for _, p := range r.Catalog.Profiles {
		if p.Kind == catalog.Board && p.Thickness > r.board.Thickness && r.Catalog.Sold(p.ID, r.Bed.Species) &&
			p.Width*2 > r.board.Width {
			list = append(list, p)
		}
	}
	slices.SortStableFunc(list, func(a, b catalog.Profile) int {
		if a.Thickness != b.Thickness {
			return int(a.Thickness - b.Thickness)
		}
		return int(
			max(a.Width-r.board.Width, r.board.Width-a.Width) - max(b.Width-r.board.Width, r.board.Width-b.Width),
		)
	})
	return list
}

// alike returns the lowest boards of w and of every wall spanned as w is.
func (r *reviewer) alike(w frame.Wall) []string {
	var parts []string
	for _, o := range r.Frame.Walls {
		if o.End == w.End && len(o.Supports) == len(w.Supports) {
			parts = append(parts, o.Boards[0])
		}
	}
	return parts
}

func (r *reviewer) bowText(w frame.Wall, l strength.Link) string {
	which := "The long sides"
	switch {
	case r.Frame.Outline != nil:
		which = "The walls"
	case w.End:
		which = "The ends"
	}
	percent := math.Ceil(100 * l.Ratio())
	if tooMuchBow(l) <= 1 {
		return fmt.Sprintf("%s are bent to %.0f %% of what the timber bears.", which, percent)
	}
	text := fmt.Sprintf(
		"%s will bow about %s by the second summer; up to %s would pass unnoticed.",
		which,
		r.metres(l.Bow),
		r.metres(l.Span/strength.VisibleBow),
	)
	switch {
	case severity(l) == Warning:
		text += fmt.Sprintf(
			" They are bent to %.0f %% of what the timber bears for years: the weakest of twenty are expected to"+
				" break at %.0f %%, and most at %.0f %%.",
			percent,
			100*l.Much(),
			100*l.Breaks/l.Holds,
		)
	case l.Ratio() > 1:
		text += fmt.Sprintf(
			" They are bent to %.0f %% of what the timber bears for years; about %.0f %% is expected to break them.",
			percent,
			100*l.Breaks/l.Holds,
		)
	}
	return text
}

// metres is a length in m for reading.
func (r *reviewer) metres(m float64) string {
	return r.p.Short(measure.Length(math.Round(min(m, measure.MaxLength.Metres()) * float64(measure.Metre))))
}

func (r *reviewer) bowWhy(w frame.Wall, board frame.Part, wood catalog.Species, l strength.Link) Why {
	push := "pushed all along " + r.role(board.ID)
	return Why{
		Given: []string{
			"boards " + r.p.Short(board.Thickness) + " thick and " + r.p.Short(board.Width) + " wide, " + wood.Name,
			r.p.Feet(w.Soil) + " of soil", push},
		Steps: append(
			[]why.Step{why.Given("between supports", why.Of(why.Length, l.Span)), {Name: "what would pass unnoticed",
				Of: why.Over(why.Of(why.Length, l.Span), why.Count(strength.VisibleBow)), As: why.Length}},
			share(l)...),
		Rule: "Each board bends flatwise between what holds it, as a beam under the push at its own depth; courses" +
			" that a cleat or post ties in mid span share it, and a floor holds the board its ledger is screwed to." +
			" Wet wood under a lasting load bends about twice as far again in time.",
		Result: fmt.Sprintf("In time it bends %s.", r.metres(l.Bow)),
		Source: "push: Rankine, wet soil at 30°; beams: three-moment equation, AWC Design Aid No. 6; timber: " +
			wood.BendingFor(
				board.Width,
			).Source +
			"; mid posts taken as firm, and boards of 3/4 in on stakes 4 ft apart have stood: common practice",
	}
}

var _ = check(70, (*reviewer).looseMidPosts, "mid-loose")

// looseMidPosts finds supports that lean on the ground and hardly reach into it.
func (r *reviewer) looseMidPosts() {
	least := r.usualHole()
	for _, w := range r.Frame.Walls {
		if w.Ground == "" {
			continue
		}
		var loose []string
		deep := least
		for _, p := range r.Frame.Parts {
			if lo, _ := p.Body.Bounds(); p.Kind == w.Support && lo.Z > -least {
				loose = append(loose, p.ID)
				deep = min(deep, -lo.Z)
			}
		}
		if len(loose) == 0 {
			continue
		}
		widest := measure.Length(0)
		for i := 1; i < len(w.Supports); i++ {
			widest = max(widest, w.Supports[i]-w.Supports[i-1])
		}
		alone := strength.Stake{
			Force:  strength.Giving * w.Soil.Metres() * w.Soil.Metres() / 2 * widest.Metres(),
			Height: w.Soil / 3,
			Wide:   r.usualHole() / 4,
			Ground: strength.Bears,
		}.Depth()
		r.report(Finding{Code: "mid-loose", Severity: Warning, Parts: loose,
			Text: fmt.Sprintf(
				"A %s only %s in the ground holds little: it ties the boards to one another but not against the soil.",
				w.Support,
				r.p.Feet(deep),
			),
			Why: Why{Given: []string{r.p.Feet(deep) + " in the ground"},
				Rule: "Nothing but the ground pushes back on a support in mid side.",
				Result: "The least is " + r.p.Feet(
					least,
				) + "; one that stood alone, with no board to tie it to the corners, would have to reach " + r.p.Feet(
					alone,
				) + ".",
				Source: "common practice (posts that tie 300 to 400 mm, stakes about 300 mm);" +
					" alone: IBC 1807.3.2.1 eq. 18-1 in sand (from memory)"},
			Remedies: []Remedy{{"set them " + r.p.Feet(least), r.to(w.Ground, least)}}})
		return
	}
}
