package work

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// ready covers what is done once for all beds: buying, cutting, drilling.
func (w *writer) ready() {
	buy := Step{ID: "buy", Title: "Bring the boards home", Have: []string{"the shopping list", "a tape"}}
	buy.chore("fetch", 1)
	cut := Step{
		ID:       "cut",
		Phase:    Saw,
		Title:    "Cut the pieces",
		Have:     []string{"saw", "square", "tape", "pencil", "the cut sheet"},
		Cautions: []Caution{saw},
	}
	total := 0
	var shop []string
	for _, a := range w.Cuts {
		for _, b := range a.Boards {
			cut.use(Use{Item: b.Stock.ID, Count: b.Count})
			if b.Stock.Home() {
				continue
			}
			total += b.Count
			if b.Part > 0 {
				shop = append(
					shop,
					fmt.Sprintf(
						"Have the shop cut %d × %s, %s long, at %s from one end: then it fits the car.",
						b.Count,
						profileName(w.Catalog, b.Stock.Profile),
						w.p.Feet(b.Stock.Length),
						w.p.Short(b.Part),
					),
				)
			}
		}
	}
	total += w.Spares
	buy.Do = []string{fmt.Sprintf("%s in all; the shopping list has the lengths.", measure.Count(total, "board")),
		"Look along each one: leave the twisted ones, and measure one across: what it measures is what counts."}
	if from := w.from(); from != "" {
		buy.Do = append(buy.Do, from)
	}
	buy.Do = append(buy.Do, shop...)
	buy.Cautions = []Caution{lift}
	for _, f := range w.Frames {
		for _, p := range f.Parts {
			if s, err := w.Catalog.SpeciesOf(p.Species); err == nil && s.Treated && len(cut.Cautions) == 1 {
				cut.Cautions = append(cut.Cautions, dust)
			}
		}
	}
	cut.Do = append(
		[]string{fmt.Sprintf("Measure, cut, then measure the next: every cut takes %v with it.", w.Habits.Kerf)},
		w.pieces()...)
	pieces, ends := 0, 0
	for _, f := range w.Frames {
		pieces += len(f.Parts) * f.Times
	}
	for _, a := range w.Cuts {
		for _, b := range a.Boards {
			ends += b.Count * max(1, len(b.Cuts))
		}
	}
	cut.chore("cut", float64(ends))
	w.add(buy)
	w.add(cut)
	lay := Step{ID: "lay-out", Phase: Tally, Title: "Lay the pieces out and count", Do: []string{
		"Lay every piece where it will go, best face outwards, and write its letter on the inner face.",
		"Count before the first screw: a missing piece is easier to cut while the saw is out."}}
	lay.chore("count", float64(pieces))
	mark := Step{
		ID:       "drill",
		Phase:    Bore,
		Title:    "Mark and drill",
		Have:     []string{"drill", "square", "pencil"},
		Cautions: []Caution{drill},
	}
	for _, n := range w.Fixings.Needs {
		switch n.Fixing.Kind {
		case catalog.Washer, catalog.Staple:
			continue
		case catalog.Pocket:
			mark.chore("drill", float64(n.Count))
			mark.Do = append(
				mark.Do,
				fmt.Sprintf(
					"Pocket holes for the %s, with the stepped bit and its stop set to the board's thickness, in the"+
						" faces that will be inside.",
					n.Fixing.Name,
				),
			)
			mark.Have = append(mark.Have, "pocket-hole guide with its stepped bit")
			continue
		case catalog.Lag:
			mark.chore("drill-lag", float64(n.Count))
			mark.Do = append(
				mark.Do,
				fmt.Sprintf(
					"For the %s: a hole of the bolt's own %s through the face, and a pilot of %s into the end, as"+
						" deep as the bolt goes.",
					n.Fixing.Name,
					n.Fixing.Diameter.String(),
					n.Pilot.String(),
				),
			)
			mark.Have = append(mark.Have, n.Fixing.Diameter.String()+" drill bit")
		default:
			mark.chore("drill", float64(n.Count))
			mark.Do = append(
				mark.Do,
				fmt.Sprintf("Pilot holes of %s for the %s, through the board only.", n.Pilot.String(), n.Fixing.Name),
			)
		}
		if bit := n.Pilot.String() + " drill bit"; !slices.Contains(mark.Have, bit) {
			mark.Have = append(mark.Have, bit)
		}
	}
	if w.joined(frame.BehindPost) {
		mark.Do = append(mark.Do, "What is fixed from behind is drilled from behind, through the post, once the post"+
			" stands; nothing is drilled in the face that shows.")
	}
	if w.joinedElse(frame.BehindPost) {
		mark.Do = append(mark.Do, "Mark and drill each board in the face its fixing enters.")
	}
	if w.joined(frame.FaceToPost) {
		mark.Do = append(
			mark.Do,
			"The posts get no holes: the screw finds its own way, and holds better.",
			"Where boards of two sides meet one post, set the screws of one side a thumb's width higher, so that"+
				" they miss each other.",
		)
	}
	w.add(lay)
	if len(w.Fixings.Needs) > 0 {
		w.add(mark)
	}
}

// joined reports whether anything is joined in this way.
func (w *writer) joined(kind frame.JointKind) bool {
	return slices.ContainsFunc(w.Frames, func(f frame.Frame) bool {
		return slices.ContainsFunc(f.Joints, func(j frame.Joint) bool { return j.Kind == kind })
	})
}

// joinedElse reports whether anything is joined in another way.
func (w *writer) joinedElse(kind frame.JointKind) bool {
	return slices.ContainsFunc(w.Frames, func(f frame.Frame) bool {
		return slices.ContainsFunc(f.Joints, func(j frame.Joint) bool { return j.Kind != kind })
	})
}

// pieces lists what is cut, letter by letter, longest first.
func (w *writer) pieces() []string {
	type line struct {
		part frame.Part
		n    int
	}
	var lines []line
	for _, f := range w.Frames {
		for _, p := range f.Parts {
			i := slices.IndexFunc(lines, func(l line) bool { return l.part.Letter == p.Letter })
			if i < 0 {
				lines = append(lines, line{p, f.Times})
			} else {
				lines[i].n += f.Times
			}
		}
	}
	slices.SortFunc(lines, func(a, b line) int {
		if len(a.part.Letter) != len(b.part.Letter) {
			return len(a.part.Letter) - len(b.part.Letter)
		}
		return strings.Compare(a.part.Letter, b.part.Letter)
	})
	var out []string
	for _, l := range lines {
		s := fmt.Sprintf(
			"%s: %d × %s of %s",
			l.part.Letter,
			l.n,
			w.p.Short(l.part.CutLength()),
			profileName(w.Catalog, l.part.Profile),
		)
		if words := l.part.EndWords(); words != "" {
			s += ", " + words
		}
		for _, n := range l.part.Notches {
			from, to, deep, _ := n.Cut(l.part)
			s += fmt.Sprintf(
				", notched for %s from %s to %s along, %s in from the edge",
				n.For,
				w.p.Short(from),
				w.p.Short(to),
				w.p.Short(deep),
			)
		}
		if board, err := w.Catalog.Profile(l.part.Profile); err == nil && l.part.Width < board.Width {
			s += ", ripped to " + w.p.Short(l.part.Width)
		}
		out = append(out, s+".")
	}
	return out
}

func profileName(c *catalog.Catalog, id string) string {
	if p, err := c.Profile(id); err == nil {
		return p.Name
	}
	return id
}

// from says which boards are bought at which shop, where shops were chosen.
func (w *writer) from() string {
	var shops []string
	n := map[string]int{}
	for _, a := range w.Cuts {
		for _, b := range a.Boards {
			if s, ok := w.Catalog.SaleOf(b.Stock.ID); ok && !b.Stock.Home() {
				if n[s.At] == 0 {
					shops = append(shops, s.At)
				}
				n[s.At] += b.Count
			}
		}
	}
	var parts []string
	for _, shop := range shops {
		parts = append(parts, measure.Count(n[shop], "board")+" at "+shop)
	}
	if len(parts) == 0 {
		return ""
	}
	return "As the bill has it: " + strings.Join(parts, ", ") + "."
}
