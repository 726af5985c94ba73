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

// bows checks every wall by the beam formula, and tells of walls that fail in
// the same way once: of the one that bows most, with remedies that mend all.
func (r *reviewer) bows() {
	failed := map[bool][]frame.Wall{}
	for _, w := range r.Frame.Walls {
		if !strength.Check(r.sideOf(w, r.board)).Holds() {
			failed[w.End] = append(failed[w.End], w)
		}
	}
	for _, end := range []bool{false, true} {
		if walls := failed[end]; len(walls) > 0 {
			r.bowed(walls)
		}
	}
}

// bowed reports walls that bow, all of them sides or all of them ends.
func (r *reviewer) bowed(walls []frame.Wall) {
	code, w := "side-bows", walls[0]
	if w.End {
		code = "end-bows"
	}
	most := strength.Check(r.sideOf(w, r.board))
	for _, o := range walls[1:] {
		if got := strength.Check(r.sideOf(o, r.board)); got.Bow > most.Bow {
			w, most = o, got
		}
	}
	f := Finding{Code: code, Severity: Warning, Parts: r.alike(w), Text: r.bowText(w, most), Why: r.bowWhy(w, r.sideOf(w, r.board).Span, most)}
	if most.Bears() {
		f.Severity = Note
	}
	if w.Field != "" {
		n := 0
		for _, o := range walls {
			n = max(n, strength.MidSupports(r.sideOf(o, r.board), o.Supports[len(o.Supports)-1]-o.Supports[0]))
		}
		if n <= 6 {
			f.Remedies = append(f.Remedies, r.moreSupports(w, n))
		}
	}
	for _, p := range r.thicker() {
		if !slices.ContainsFunc(r.Frame.Walls, func(o frame.Wall) bool { return o.End == w.End && !strength.Check(r.sideOf(o, p)).Holds() }) {
			f.Remedies = append(f.Remedies, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
			break
		}
	}
	r.report(f)
}

// moreSupports is the remedy of n supports to every such wall, those that lean on
// the ground set deep enough.
func (r *reviewer) moreSupports(w frame.Wall, n int) Remedy {
	m := Remedy{supports(n, w.Support) + " on each long side", []design.Edit{r.edit(w.Field, fmt.Sprint(n))}}
	if w.End {
		m.Label = supports(n, w.Support) + " on each end"
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
		Species: species, Fluid: strength.Giving}
}

func supports(n int, kind string) string {
	if n == 1 {
		return "one " + kind
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
		if p.Kind == "board" && p.Thickness > r.board.Thickness && r.Catalog.Sold(p.ID, r.Bed.Species) && p.Width*2 > r.board.Width {
			list = append(list, p)
		}
	}
	slices.SortStableFunc(list, func(a, b catalog.Profile) int {
		if a.Thickness != b.Thickness {
			return int(a.Thickness - b.Thickness)
		}
		return int(max(a.Width-r.board.Width, r.board.Width-a.Width) - max(b.Width-r.board.Width, r.board.Width-b.Width))
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

func (r *reviewer) bowText(w frame.Wall, got strength.Bearing) string {
	which := "The long sides"
	if w.End {
		which = "The ends"
	}
	if got.Bow > got.Limit {
		text := fmt.Sprintf("%s will bow about %s by the second summer; up to %s would pass unnoticed.",
			which, r.p.Short(got.Bow), r.p.Short(got.Limit))
		switch {
		case got.StressPct > 100*breaks:
			text += fmt.Sprintf(" They are bent to %d %% of what the timber bears for years, and will break.", got.StressPct)
		case got.StressPct > 100:
			text += fmt.Sprintf(" They are bent to %d %% of what the timber bears for years; about %d %% breaks it.", got.StressPct, 100*breaks)
		}
		return text
	}
	return fmt.Sprintf("%s are bent to %d %% of what the timber bears.", which, got.StressPct)
}

func (r *reviewer) bowWhy(w frame.Wall, span measure.Length, got strength.Bearing) Why {
	push := fmt.Sprintf("%.0f lb on each foot of the lowest board", got.Load/14.593_90)
	if r.p.System == measure.Metric {
		push = fmt.Sprintf("%.0f N on each metre of the lowest board", got.Load)
	}
	return Why{
		Given: []string{
			"boards " + r.p.Short(r.board.Thickness) + " thick and " + r.p.Short(r.board.Width) + " wide, " + r.species.Name,
			r.p.Feet(span) + " between supports", r.p.Feet(w.Soil) + " of soil", "so " + push},
		Rule: "The lowest board bends flatwise between its supports as a beam under the soil's push; wet wood under a lasting load bends about twice as far again in time.",
		Result: fmt.Sprintf("It bends %s when filled and %s in time; 1/%d of the span is %s. Stress is %d %% of what it bears.",
			r.p.Short(got.FirstBow), r.p.Short(got.Bow), strength.VisibleBow, r.p.Short(got.Limit), got.StressPct),
		Source: "push: Rankine, wet soil of 110 lb/ft³ at 30°; beams: AWC Design Aid No. 6; timber: " + r.species.BendingFor(r.board.Width).Source + "; mid posts taken as firm: common practice",
	}
}

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
		alone := strength.Stake{Force: strength.Giving * w.Soil.Metres() * w.Soil.Metres() / 2 * widest.Metres(), Height: w.Soil / 3, Wide: r.usualHole() / 4, Ground: strength.Bears}.Depth()
		r.report(Finding{Code: "mid-loose", Severity: Warning, Parts: loose,
			Text: fmt.Sprintf("A %s only %s in the ground holds little: it ties the boards to one another but not against the soil.", w.Support, r.p.Feet(deep)),
			Why: Why{Given: []string{r.p.Feet(deep) + " in the ground"},
				Rule:   "Nothing but the ground pushes back on a support in mid side.",
				Result: "The least is " + r.p.Feet(least) + "; one that stood alone, with no board to tie it to the corners, would have to reach " + r.p.Feet(alone) + ".",
				Source: "common practice (posts that tie 300 to 400 mm, stakes about 300 mm); alone: IBC 1807.3.2.1 eq. 18-1 in sand (from memory)"},
			Remedies: []Remedy{{"set them " + r.p.Feet(least), r.to(w.Ground, least)}}})
		return
	}
}
