package timber

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/addition"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// openCarrier is a light frame with spanners across it and loose slats on them,
// to hold pots or grow bags: nothing is screwed to the house, and everything
// can be taken along.
//
//	 ______________________
//	|#|    |      |      |#|    # legs   | spanners
//	|======================|    slats, lengthwise
//	|======================|
//	|#|____|______|______|#|
var openCarrier = System{
	System: design.System{
		Name: "carrier", Title: "Open carrier",
		About:    "a frame for pots or grow bags: for balconies, tenants and bad backs",
		Examples: []design.Example{{About: "an open frame with spanners and loose slats, for pots or grow bags"}},
		Uses:     []string{},
		Lacks:    []string{"cap", "cap_profile", "cap_in", "cap_out", "filling"},
		Own: []design.Field{
			{Key: "holds", Label: "It holds", Stage: design.AtBed, Kind: design.ChoiceField, Default: "pots",
				Offers: []design.Choice{
					{Value: "pots", Label: "round pots"},
					{Value: "bags", Label: "square pots or bags"},
				}},
			{
				Key:     "pot",
				Label:   "Each is across",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "10 in",
				Metric:  "250 mm",
				Help:    "At the widest. The soil depth is that in the pots.",
			},
			{
				Key:     "pot_gap",
				Label:   "Between two of them",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "1/4 in",
				Metric:  "5 mm",
			},
			{
				Key:     "height",
				Does:    []design.Deed{{For: design.SetsRim}},
				Label:   "Rails above the ground",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "24 in",
				Metric:  "600 mm",
				Help:    "Their upper edges; the pots stand a little below.",
			},
			{
				Key:     "spanners",
				Label:   "Spanners between the ends",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    20,
				Help:    "auto sets as many as keep the slats from sagging.",
			},
			{
				Key:     "gap",
				Does:    []design.Deed{{For: design.DrainsFloor}},
				Label:   "Gap between slats",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "1 in",
				Metric:  "25 mm",
				Help:    "At least this; what is left over is shared out. Pots bridge it.",
			},
		},
		Start: startCarrier,
		Check: checkCarrier,
	},
	Build: buildCarrier,
}

// mostPots is the most one carrier is planned for.
const mostPots = 120

func startCarrier(cat *catalog.Catalog, b *design.Bed) {
	b.Cap = design.NoCap
	b.Length, b.Width, b.Soil = min(b.Length, 4*measure.Foot), min(b.Width, 2*measure.Foot), 9*measure.Inch
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Length, b.Width, b.Soil = min(b.Length, 1200*mm), min(b.Width, 600*mm), 225*mm
	}
	rail, err := railFor(cat, b.Species)
	if err != nil {
		return // Check says so
	}
	for _, p := range cat.Profiles { // the lowest board that stands above slats on spanners
		if p.Kind == catalog.Board && cat.Sold(p.ID, b.Species) && p.Thickness >= rail.Thickness &&
			p.Width >= rail.Width+40*measure.Millimetre {
			b.Board = p.ID
			return
		}
	}
}

func checkCarrier(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	leg, err := addition.Stick(cat)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	rail, err := railFor(cat, b.Species)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	slat, err := design.ThinBoard(cat, b.Species)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	board, _ := cat.Profile(b.Board)
	within(refuse, p, "carrier",
		limit{"length", b.Length, 2500 * measure.Millimetre, "two of them are longer"},
		limit{"width", b.Width, 1250 * measure.Millimetre, "nobody reaches further"},
		limit{"soil", b.Soil, 600 * measure.Millimetre, "taller pots tip"},
		limit{"gap", b.OptionLength("gap"), 60 * measure.Millimetre, "small pots tip in wider ones"},
		limit{"pot_gap", b.OptionLength("pot_gap"), 300 * measure.Millimetre, "leave a place empty instead"},
		limit{"height", b.OptionLength("height"), 1200 * measure.Millimetre, "higher is out of reach"})
	if board.Width < rail.Width+slat.Thickness {
		refuse(
			"board",
			"rails of %s are lower than the spanners and slats inside them, %s: a wider board works",
			board.Name,
			p.Short(rail.Width+slat.Thickness),
		)
	}
	if least := board.Width + 20*measure.Millimetre; b.OptionLength("height") < least {
		refuse(
			"height",
			"at %s the rails would lie on the ground: from %s works",
			p.Feet(b.OptionLength("height")),
			p.AtLeast(least),
		)
	}
	if least := 2*leg.Width + betweenPosts; b.Width < least {
		refuse("width", "two legs do not fit; from %s works", p.AtLeast(least))
	}
	pot := b.OptionLength("pot")
	if least := 50 * measure.Millimetre; pot < least || pot > b.Width {
		refuse(
			"pot",
			"pots %s across do not go in: from %s to the inside width, %s, works",
			p.Feet(pot),
			p.AtLeast(least),
			p.Feet(b.Width),
		)
		return
	}
	if n := len(setOut(b)); n > mostPots {
		refuse(
			"pot",
			"%d pots are more than one carrier is planned for; up to %d work, so larger ones or a smaller frame",
			n,
			mostPots,
		)
	}
	if n, ok := b.OptionCount("spanners"); ok {
		if room := int(b.Length / (3 * rail.Thickness)); n > room {
			refuse("spanners", "%d spanners do not fit along %s; up to %d do", n, p.Feet(b.Length), room)
		}
	}
}

func buildCarrier(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	leg, err := addition.Stick(cat)
	if err != nil {
		return frame.Frame{}, err
	}
	rail, err := railFor(cat, bed.Species)
	if err != nil {
		return frame.Frame{}, err
	}
	slat, err := design.ThinBoard(cat, bed.Species)
	if err != nil {
		return frame.Frame{}, err
	}
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("board: %w", err)
	}
	bed.Corners, bed.Cap = design.SidesCover, design.NoCap
	one := bed
	one.Soil, one.Freeboard = board.Width, 0 // one board high
	b, err := newBox(one, cat, bed.OptionLength("height")-board.Width, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	b.bed = bed
	c := &carrier{box: b, leg: leg, rail: rail, slat: slat}
	c.build()
	return b.f, nil
}

// carrier is one board all round, on legs, with spanners and slats inside.
type carrier struct {
	*box
	leg, rail, slat catalog.Profile
}

func (c *carrier) build() {
	t, q, thick := c.board.Thickness, c.leg.Width, c.rail.Thickness
	top := c.lift + c.rail.Width // of legs and spanners, where the slats lie
	var legs []string
	for _, k := range c.corners(q) {
		p := c.part(c.leg, frame.Leg, k.name+" leg")
		p.ID, p.Grain, p.Hidden, p.Length = c.id("leg.%d", len(legs)+1), frame.Z, true, top
		p.Body = upright(k.x, k.y, q, 0, top)
		c.f.Parts = append(c.f.Parts, p)
		legs = append(legs, p.ID)
		for _, side := range k.sides {
			c.fixTo(side, p, frame.CarryToPost)
		}
	}
	spans := c.spans()
	var spanners []string
	first, last := t, c.outLength-t-thick
	for k := measure.Length(0); k <= spans; k++ {
		x := first + (last-first)*k/spans
		y0, y1, between := t, c.outWidth-t, true
		if k == 0 || k == spans { // between the legs, against the end
			y0, y1, between = t+q, c.outWidth-t-q, false
		}
		p := c.part(c.rail, frame.Spanner, fmt.Sprintf("spanner %d", k+1))
		p.ID, p.Grain, p.Hidden = c.id("spanner.%d", k+1), frame.Y, true
		p.Body = standing(frame.Spot{U: x, V: y0}, frame.Spot{U: x + thick, V: y1}, c.lift, top, frame.Y)
		p.Length = y1 - y0
		c.f.Parts = append(c.f.Parts, p)
		spanners = append(spanners, p.ID)
		if between {
			c.hang(p, front, frame.FaceToEnd)
			c.hang(p, back, frame.FaceToEnd)
		} else if k == 0 {
			c.hang(p, left, frame.WallLedger)
		} else {
			c.hang(p, right, frame.WallLedger)
		}
	}
	var slats []string
	for _, s := range spread(c.inWidth, c.slat.Width, c.bed.OptionLength("gap")) {
		p := c.part(c.slat, frame.Slat, fmt.Sprintf("loose slat %d", len(slats)+1))
		p.ID, p.Grain, p.Hidden, p.Width, p.Length = c.id("slat.%d", len(slats)+1), frame.X, true, s.wide, c.inLength
		p.Body = frame.Box(
			frame.Point{X: t, Y: t + s.at, Z: top},
			frame.Point{X: t + c.inLength, Y: t + s.at + s.wide, Z: top + c.slat.Thickness},
		)
		c.f.Parts = append(c.f.Parts, p)
		slats = append(slats, p.ID)
	}
	inner := spanners[1 : len(spanners)-1]
	c.f.Floors = append(
		c.f.Floors,
		frame.Floor{ID: c.id("floor"), Bed: c.bed.ID, Slats: slats, Soil: c.bed.Soil, Beams: inner,
			Span: (last - first) / spans, Spans: int(spans), BeamSpan: c.inWidth, Rail: spanners[0], Field: "spanners",
			Called: frame.Spanner,
			Most:   int(c.bed.Length / (3 * thick))},
	)
	long, short := slices.Concat(
		c.sides[front].boards,
		c.sides[back].boards,
	), slices.Concat(
		c.sides[left].boards,
		c.sides[right].boards,
	)
	c.f.Acts = append(
		c.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "rails",
			Title: "Make up the two long rails with their legs",
			Where: "on a flat surface",
			Parts: slices.Concat(long, legs),
			Loose: true,
		},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "end rails",
			Title: "Join them with the end rails",
			Where: "standing on the legs",
			Parts: short,
			Again: slices.Concat(long, legs),
		},
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "spanners",
			Title: "Fix the spanners",
			Where: "inside, level with the rails' lower edges",
			Parts: spanners,
			Note:  ledgerNote,
		},
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "slats",
			Title: "Lay the slats loose",
			Where: "on the spanners, lengthwise",
			Parts: slats,
			Soil:  frame.BeforeSoil,
			Note: "They stay loose, so that the frame can be carried in pieces. A balcony, deck or roof must carry" +
				" what stands on it when it is wet: that is a question for someone licensed to answer it, and local" +
				" codes come first.",
		},
	)
	c.pots(top + c.slat.Thickness)
	c.f.Outside = [2]frame.Spot{{}, {U: c.outLength, V: c.outWidth}}
	lo, hi := frame.Spot{U: t, V: t}, frame.Spot{U: t + c.inLength, V: t + c.inWidth}
	c.f.Openings = []frame.Opening{{Lo: lo, Hi: hi}}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	c.f.Measures = []frame.Measure{
		{Name: "inside length", Field: "length", From: at(lo.U, lo.V, c.rim), To: at(hi.U, lo.V, c.rim), Primary: true},
		{Name: "inside width", Field: "width", From: at(lo.U, lo.V, c.rim), To: at(lo.U, hi.V, c.rim), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(c.outLength, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, c.outWidth, 0)},
		{Name: "rails above the ground", Field: "height", From: at(0, 0, 0), To: at(0, 0, c.rim), Primary: true},
		{
			Name:  "soil depth",
			Field: "soil",
			From:  at(t, t, top+c.slat.Thickness),
			To:    at(t, t, top+c.slat.Thickness+c.bed.Soil),
		},
	}
}

// hang fixes a spanner to the board of a side that it meets.
func (c *carrier) hang(p frame.Part, side int, kind frame.JointKind) {
	id := c.sides[side].boards[0]
	board, _ := c.f.Part(id)
	at, _, _ := contact(board.Body, p.Body)
	j := frame.Joint{
		ID:       id + "+" + p.ID,
		Kind:     kind,
		Parts:    [2]string{id, p.ID},
		Through:  c.board.Thickness,
		Into:     p.Length,
		Run:      c.rail.Width,
		EndGrain: true,
		At:       at,
		Load:     "its share of the pots",
	}
	if kind == frame.WallLedger {
		j.Into, j.Run, j.EndGrain = c.rail.Thickness, p.Length, false
	}
	c.f.Joints = append(c.f.Joints, j)
}

// spans is how many stretches the slats are parted into: asked for, or the
// fewest that hold.
func (c *carrier) spans() measure.Length {
	if n, ok := c.bed.OptionCount("spanners"); ok {
		return measure.Length(n + 1)
	}
	whole, most := c.inLength-c.rail.Thickness, max(1, c.bed.Length/(3*c.rail.Thickness))
	species, err := c.cat.SpeciesOf(design.SpeciesFor(c.cat, c.slat.ID, c.bed.Species))
	if err != nil {
		species = c.species
	}
	load := strength.WetSoil(c.bed.Soil, c.slat.Width, c.bed.WetDensity(c.cat))
	holds := c.holds(
		frame.Joint{
			Kind:     frame.FaceToEnd,
			Through:  c.board.Thickness,
			Into:     c.inWidth,
			Run:      c.rail.Width,
			EndGrain: true,
		},
		c.rail,
	)
	for n := measure.Length(1); n <= most; n++ {
		end := strength.WetSoil(
			c.bed.Soil,
			whole/n,
			c.bed.WetDensity(c.cat),
		) * c.inWidth.Metres() / 2 * strength.OverMiddle(
			int(n),
		)
		if n > 1 && n < most && end > holds { // a spanner's end
			continue
		}
		if strength.Bend(strength.Member{Across: c.slat.Width, Deep: c.slat.Thickness, Span: whole / n, Spans: int(n),
			Species: species, Load: load}).
			Holds() {
			return n
		}
	}
	return most
}

// pots fills the frame with as many as fit, each its own room for soil.
func (c *carrier) pots(z measure.Length) {
	t, across := c.board.Thickness, c.bed.OptionLength("pot")
	for i, s := range setOut(c.bed) {
		mid := frame.Spot{U: t + s.U, V: t + s.V}
		outline := rectangle(
			frame.Spot{U: mid.U - across/2, V: mid.V - across/2},
			frame.Spot{U: mid.U - across/2 + across, V: mid.V - across/2 + across},
		)
		if c.bed.Options["holds"] == "pots" {
			outline = round(mid, across)
		}
		c.f.Cavities = append(
			c.f.Cavities,
			frame.Cavity{ID: c.id("pot.%d", i+1), Bed: c.bed.ID, Pot: true, Outline: outline,
				Bottom: z, Top: z + c.bed.Soil, Rim: z + c.bed.Soil + c.bed.Freeboard},
		)
	}
	c.bought(across)
}

// bought puts the pots or bags on the list: the widest that go where one so far across does. Where none is sold as
// narrow, they are the gardener's own.
func (c *carrier) bought(across measure.Length) {
	kind, best := "pot-", catalog.Fitting{}
	if c.bed.Options["holds"] == "bags" {
		kind = "bag-"
	}
	for _, f := range c.cat.Fittings {
		if strings.HasPrefix(f.ID, kind) && f.Height <= across && f.Height > best.Height {
			best = f
		}
	}
	if best.ID == "" {
		return
	}
	p := c.cat.Precision(c.cat.Habits)
	id := c.id("pots")
	c.f.Fittings = append(c.f.Fittings, frame.Fitting{ID: id, Bed: c.bed.ID, Kind: best.ID, Place: "on the slats",
		Count: len(c.f.Cavities),
		Why:   "as many as stand there, the widest that are sold up to " + p.Short(across) + " across"})
	c.f.Acts = append(c.f.Acts, frame.Act{Verb: frame.FitOut, Of: "pots", Title: "Set them on the slats",
		Where: "close together, the heavy ones over a spanner", Fits: []string{id}, Soil: frame.BeforeSoil,
		After: []string{"fit out slats"},
		Note: "Where they are to stand for the year: full and wet nobody moves them. Holes below are open, with a bit of" +
			" mesh or a shard over each."})
}

// round is a circle as a figure of 16 corners with the circle's surface.
func round(mid frame.Spot, across measure.Length) []frame.Spot {
	const corners = 16
	r := float64(across) / 2 * math.Sqrt(2*math.Pi/corners/math.Sin(2*math.Pi/corners))
	var outline []frame.Spot
	for k := range corners {
		a := 2 * math.Pi * (float64(k) + 0.5) / corners
		outline = append(
			outline,
			frame.Spot{
				U: mid.U + measure.Length(math.Round(r*math.Cos(a))),
				V: mid.V + measure.Length(math.Round(r*math.Sin(a))),
			},
		)
	}
	return outline
}

// setOut places as many pots as fit between the rails: in rows and files, or,
// where more round ones go in so, in rows that are shifted by half a pot, along
// the frame or across it. Places are middles, from the inner corner.
func setOut(b design.Bed) []frame.Spot {
	pot, gap := b.OptionLength("pot"), b.OptionLength("pot_gap")
	if pot <= 0 || pot > b.Length || pot > b.Width {
		return nil
	}
	best := files(b.Length, b.Width, pot, gap)
	if b.Options["holds"] != "pots" {
		return best
	}
	along := shifted(b.Length, b.Width, pot, gap)
	across := shifted(b.Width, b.Length, pot, gap)
	for i, s := range across {
		across[i] = frame.Spot{U: s.V, V: s.U}
	}
	for _, other := range [][]frame.Spot{along, across} {
		if len(other) > len(best) {
			best = other
		}
	}
	return best
}

// files sets pots in rows and files, shared out over the room.
func files(long, wide, pot, gap measure.Length) []frame.Spot {
	nx, ny := (long+gap)/(pot+gap), (wide+gap)/(pot+gap)
	if nx*ny > 10*mostPots {
		nx, ny = 10*mostPots, 1 // too many to set out one by one: Check refuses them
	}
	var list []frame.Spot
	for j := range ny {
		for i := range nx {
			list = append(list, frame.Spot{U: among(long, pot, i, nx), V: among(wide, pot, j, ny)})
		}
	}
	return list
}

// among is the middle of the i-th of n pots from one end of a room to the other.
func among(room, pot, i, n measure.Length) measure.Length {
	if n == 1 {
		return room / 2
	}
	return pot/2 + (room-pot)*i/(n-1)
}

// shifted sets rows close together, every other one moved by half a pitch.
func shifted(long, wide, pot, gap measure.Length) []frame.Spot {
	pitch := pot + gap
	rise := measure.Length(math.Ceil(float64(pitch) * math.Sqrt(3) / 2))
	rows := (wide-pot)/rise + 1
	if n := (long + gap) / pitch; n*rows > 10*mostPots {
		return nil // files says so
	}
	lift := (wide - pot - rise*(rows-1)) / 2
	var list []frame.Spot
	for j := range rows {
		start := pot / 2
		if j%2 == 1 {
			start += pitch / 2
			if pitch%2 == 1 {
				start++
			}
		}
		for u := start; u <= long-(pot-pot/2); u += pitch {
			list = append(list, frame.Spot{U: u, V: lift + pot/2 + rise*j})
		}
	}
	return list
}
