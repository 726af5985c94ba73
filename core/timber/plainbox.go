package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// plainBox is thick boards butted at the corners and fixed through the face of
// one into the end of the next, one board high, without posts. Where the sides
// are long, ties across the bed keep them from bowing.
//
//	=========================
//	|           |           |
//	|           | tie       |
//	|           |           |
//	=========================
var plainBox = System{
	System: stacked(design.System{
		Name: "plain-box", Title: "Plain box", About: "one thick board high, quickest to build, no posts",
		Examples: []design.Example{{About: "thick boards butted and bolted through the corners, one board high, with" +
			" cross ties", Sized: longBox}},
		For:  []string{design.OnPaving},
		Uses: []string{"grass", "under", "corners"},
		Own: []design.Field{
			{Key: "fixed_by", Label: "Corners fixed by", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "lags",
				Does: []design.Deed{{For: design.HoldsCorners, Value: "lags", Words: "lag bolts at the corners"}},
				Offers: []design.Choice{
					{Value: "lags", Label: "lag bolts with washers", Note: "come apart again, hold in end grain"},
					{Value: "screws", Label: "structural or deck screws", Note: "cheaper; end grain holds them less"},
					{
						Value: "brackets",
						Label: "angle brackets inside",
						Note:  "side grain all round, nothing shows; metal in wet soil",
					}}},
			{Key: "ties", Label: "Cross ties", Stage: design.AtFrame, Kind: design.NumberField, Default: design.Auto, Most: 10,
				Help: "auto sets as many as the sides need, and at least one in a box over 8 ft (2.4 m) (common" +
					" practice)."},
		},
		Start: startPlainBox,
		Adds:  addsToPlain,
		Makes: makes,
		Check: checkPlainBox,
	}, onTheGround),
	Build: buildPlainBox,
}

// longBox is long enough for a tie: 10 ft by 4, or 3 m by 1.2.
func longBox(c *catalog.Catalog, b *design.Bed) {
	b.Length, b.Width = 10*measure.Foot, 4*measure.Foot
	if c.System == measure.Metric {
		b.Length, b.Width = 3*measure.Metre, 1200*measure.Millimetre
	}
}

// tiedFrom is the length from which a box has at least one tie: about 2.4 m or
// 8 ft (common practice).
const tiedFrom = 8 * measure.Foot

// startPlainBox takes the thickest board wide enough for the soil, or the
// widest there is and as much soil as it holds.
func startPlainBox(cat *catalog.Catalog, b *design.Bed) {
	var best, widest catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind != catalog.Board || !cat.Sold(p.ID, b.Species) || p.Thickness < 38*measure.Millimetre {
			continue
		}
		if p.Width > widest.Width {
			widest = p
		}
		if p.Width >= b.Soil+b.Freeboard && (best.ID == "" || p.Width < best.Width) {
			best = p
		}
	}
	if best.ID == "" {
		best = widest
	}
	if best.ID == "" {
		return // nothing thick is sold in this timber: Check says so
	}
	takeWalls(best, cat, b)
	if most := best.Width - b.Freeboard; b.Soil > most {
		b.Soil = most
	}
}

func checkPlainBox(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	board, _ := cat.Profile(b.Board)
	p := cat.Precision(cat.Habits)
	if len(rowsFor(b, cat, board, 0)) > 1 {
		refuse(
			"soil",
			"a plain box is one board high, and %s holds %s of soil with %s above it; a wider board or a boarded"+
				" frame holds more",
			board.Name,
			p.Feet(board.Width-b.Freeboard),
			p.Feet(b.Freeboard),
		)
	}
	if least := 38 * measure.Millimetre; board.Thickness < least {
		refuse(
			"board",
			"a board of %s splits when it is fixed into its neighbour's end; from %s works",
			p.Short(board.Thickness),
			p.AtLeast(least),
		)
	}
	if n, ok := b.OptionCount("ties"); ok {
		if room := int(b.Length / (200 * measure.Millimetre)); n > room {
			refuse("ties", "%d ties leave no room to plant between; up to %d do", n, room)
		}
	}
}

func buildPlainBox(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	b, err := newBox(bed, cat, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	kind := frame.BoltToEnd
	switch bed.Options["fixed_by"] {
	case "screws":
		kind = frame.FaceToEnd
	case "brackets":
		kind = frame.Bracket
	}
	b.butts(kind)
	if kind == frame.Bracket {
		n := 2 * len(b.f.Joints)
		b.f.Fittings = append(
			b.f.Fittings,
			frame.Fitting{ID: b.id("brackets"), Bed: bed.ID, Kind: "bracket", Place: "inside the corners", Count: n,
				Why: fmt.Sprintf(
					"two to each of %d corners, a quarter of the board's width from its edges",
					len(b.f.Joints),
				)},
		)
	}
	n, fixed := bed.OptionCount("ties")
	if !fixed {
		n = b.tiesNeeded(bed.Soil)
	}
	ties, supports, err := b.ties(n)
	if err != nil {
		return frame.Frame{}, err
	}
	b.tiedWalls(supports, b.board.Thickness/2)
	all := []string{}
	for _, r := range b.sides {
		all = append(all, r.boards...)
	}
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "sides",
			Title: "Fix the four corners",
			Where: "where the bed will stand, on a level spot",
			Parts: all,
			Fits:  b.fittings("brackets"),
			Note: "Hold each corner in a clamp or against a square while the holes are drilled: the hole in the end" +
				" is centred in the board's thickness, about 1 in (25 mm) from its edges.",
		},
	)
	if len(ties) > 0 {
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    "cross ties",
				Title: "Fix the cross ties",
				Where: "between the long sides, before the soil goes in",
				Parts: ties,
				Note:  "Without them the soil pushes the long sides apart, a little more each wet season.",
			},
		)
	}
	return b.finish(), nil
}

// plate is how thick an angle bracket is: 3 mm, 1/8 in (common practice).
const plate = 3 * measure.Millimetre

// butts fixes each corner through the board that covers it into the end of the
// one that is covered.
func (b *box) butts(kind frame.JointKind) {
	t := b.board.Thickness
	for _, c := range []struct {
		name string
		a, b int // the walls that meet; which covers follows from their layout
		x, y measure.Length
	}{
		{"front-left", front, left, t / 2, t / 2}, {"front-right", front, right, b.outLength - t/2, t / 2},
		{"back-right", back, right, b.outLength - t/2, b.outWidth - t/2}, {"back-left", back, left, t / 2,
			b.outWidth - t/2},
	} {
		cover, covered := c.a, c.b
		if r := b.sides[c.b]; r.lo.U < c.x && c.x < r.hi.U && r.lo.V < c.y && c.y < r.hi.V {
			cover, covered = c.b, c.a
		}
		for i, board := range b.sides[cover].boards {
			other := b.sides[covered].boards[i]
			cover, _ := b.f.Part(board)
			part, _ := b.f.Part(other)
			through, into := t, part.Length
			at, _, ok := contact(cover.Body, part.Body)
			if !ok {
				at = frame.Point{X: c.x, Y: c.y, Z: b.lift + (b.rows[i].from+b.rows[i].to)/2}
			}
			if kind == frame.Bracket {
				through, into = plate, t
			}
			b.f.Joints = append(b.f.Joints, frame.Joint{
				ID: board + "+" + other, Kind: kind, Parts: [2]string{board, other},
				Through: through, Into: into, Run: part.Width, EndGrain: kind != frame.Bracket,
				At:   at,
				Load: "the push of the soil on the corner",
			})
		}
	}
}

// tiesNeeded is the fewest cross ties that keep the long sides straight, and at
// least one in a long box.
func (b *box) tiesNeeded(soil measure.Length) int {
	n := strength.MidSupports(strength.Side{Thickness: b.board.Thickness, Width: b.wide(1), Soil: soil,
		Species: b.species, Fluid: strength.Giving}, b.outLength-b.board.Thickness)
	if n == 0 && b.outLength > tiedFrom {
		n = 1
	}
	return min(n, int(b.bed.Length/(200*measure.Millimetre)))
}

// ties sets cross ties evenly along the bed, at mid height of the lowest board,
// and returns them with what the long sides lean on.
func (b *box) ties(n int) (ids []string, supports []measure.Length, err error) {
	profile, err := b.cat.Profile(b.bed.CapProfile)
	if err != nil {
		return nil, nil, fmt.Errorf("tie: %w", err)
	}
	t := b.board.Thickness
	first, last := t/2, b.outLength-t/2
	supports = []measure.Length{first}
	for k := 1; k <= n; k++ {
		x := first + (last-first)*measure.Length(k)/measure.Length(n+1)
		supports = append(supports, x)
		ids = append(ids, b.tie(profile, k, x)...)
	}
	return ids, append(supports, last), nil
}
