package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// bench is a seat along the front: boards on arms that are fixed to the wall
// and stand on a leg in front.
//
//	 ________
//	|________|#   seat
//	|=====|  |#   arm
//	|     |__|#   wall
//	|  leg   |#
var bench = Extra{
	Extra: design.Extra{Name: "bench", Fields: []design.Field{
		{
			Key:     "bench",
			Label:   "Bench along the front",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "A seat is about 16 in (400 mm) high and 12 in (300 mm) deep (common practice). The front is" +
				" then reached over it: mind how far.",
			Offers: orNone(
				"",
				design.Choice{Value: "front", Label: "a seat of boards, or of sleepers where the walls are",
					Note: "for whoever tends it sitting"},
			),
		},
		{
			Key:     "bench_height",
			Label:   "Seat above the ground",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "16 in",
			Metric:  "400 mm",
		},
		{
			Key:     "bench_depth",
			Label:   "Seat, at least this deep",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "12 in",
			Metric:  "300 mm",
		}},
		Check: checkBench,
	},
	Build: buildBench,
}

// armsApart is the most between two arms under a seat of 1 1/2 in (38 mm)
// boards: 24 in (600 mm) (common practice).
const armsApart = 610 * measure.Millimetre

func checkBench(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	rail, err := railFor(cat, b.Species)
	if err != nil {
		refuse("bench", "%v", err)
		return
	}
	board, _ := cat.Profile(b.Board)
	seat := b.OptionLength("bench_height")
	walls := high(rowsFor(b, cat, board, 0))
	if board.Kind == catalog.Sleeper {
		walls = measure.Metre // nothing hangs on them
	}
	if least, most := 250*measure.Millimetre, min(600*measure.Millimetre,
		walls+rail.Thickness+rail.Width/2); seat < least ||
		seat > most {
		refuse(
			"bench_height",
			"a seat %s high is out of range: with walls of %s, from %s to %s works",
			p.Feet(seat),
			p.Feet(walls),
			p.AtLeast(least),
			p.AtMost(max(least, most)),
		)
	}
	if d := b.OptionLength("bench_depth"); d < 200*measure.Millimetre || d > 600*measure.Millimetre {
		refuse(
			"bench_depth",
			"a seat %s deep is out of range: from %s to %s works",
			p.Feet(d),
			p.AtLeast(200*measure.Millimetre),
			p.AtMost(600*measure.Millimetre),
		)
	}
	if b.Cap != design.NoCap && b.CapOut > 0 {
		refuse(
			"bench",
			"the cap stands out %s in front, where the seat goes: an overhang outwards of 0 works",
			p.Short(b.CapOut),
		)
	}
}

func buildBench(b *box) {
	if ofSleepers(b) {
		b.sleeperSeat()
		return
	}
	rail, err := railFor(b.cat, b.bed.Species)
	if err != nil {
		return // Check has refused it
	}
	seat, thick, wide := b.bed.OptionLength("bench_height"), rail.Thickness, rail.Width
	gap := 6 * measure.Millimetre
	n := max(1, (b.bed.OptionLength("bench_depth")+gap+wide+gap-1)/(wide+gap))
	deep := n*(wide+gap) - gap
	under := seat - thick // of the seat boards: the arms' upper edges
	l := b.outLength
	var ids []string
	add := func(role, id string, body frame.Prism, grain frame.Axis) frame.Part {
		p := b.put(rail, frame.BenchPart, role, id, body, grain)
		ids = append(ids, p.ID)
		return p
	}
	bays := (l - thick + armsApart - 1) / armsApart
	var arms []frame.Part
	for k := measure.Length(0); k <= bays; k++ {
		x := b.armAt((l-thick)*k/bays, thick, under-wide, under)
		arm := add(fmt.Sprintf("bench arm %d", k+1), fmt.Sprintf("bench.arm.%d", k+1),
			standing(frame.Spot{U: x, V: -deep}, frame.Spot{U: x + thick, V: 0}, under-wide, under, frame.Y), frame.Y)
		leg := add(
			fmt.Sprintf("bench leg %d", k+1),
			fmt.Sprintf("bench.leg.%d", k+1),
			frame.Prism{
				Axis:    frame.Z,
				From:    0,
				To:      under - wide,
				Outline: rectangle(frame.Spot{U: x, V: -deep}, frame.Spot{U: x + thick, V: -deep + wide}),
			},
			frame.Z,
		)
		arms = append(arms, arm)
		for _, id := range b.sides[front].boards {
			board, _ := b.f.Part(id)
			if at, run, ok := contact(board.Body, arm.Body); ok {
				b.f.Joints = append(
					b.f.Joints,
					frame.Joint{
						ID:       id + "+" + arm.ID,
						Kind:     frame.FaceToEnd,
						Parts:    [2]string{id, arm.ID},
						EndGrain: true,
						Through:  b.board.Thickness,
						Into:     arm.Length,
						Run:      min(wide/2, run),
						At:       at,
						Load:     "half of whoever sits on it",
					},
				)
			}
		}
		at, _, _ := contact(arm.Body, leg.Body)
		b.f.Joints = append(
			b.f.Joints,
			frame.Joint{ID: arm.ID + "+" + leg.ID, Kind: frame.CapToWall, Parts: [2]string{arm.ID, leg.ID},
				Through: thick, Into: leg.Length, Run: wide, At: at, Load: "half of whoever sits on it"},
		)
	}
	for k := measure.Length(0); k < n; k++ {
		y := -deep + k*(wide+gap)
		p := add(fmt.Sprintf("bench seat %d", k+1), fmt.Sprintf("bench.seat.%d", k+1),
			frame.Box(frame.Point{X: 0, Y: y, Z: under}, frame.Point{X: l, Y: y + wide, Z: seat}), frame.X)
		for _, arm := range arms {
			if at, _, ok := contact(p.Body, arm.Body); ok {
				b.f.Joints = append(
					b.f.Joints,
					frame.Joint{ID: p.ID + "+" + arm.ID, Kind: frame.SlatLedger, Parts: [2]string{p.ID, arm.ID},
						Through: thick, Into: wide, Run: wide, At: at, Load: "whoever sits on it"},
				)
			}
		}
	}
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "bench",
			Title: "Build the bench",
			Where: "against the front, before the soil goes in",
			Parts: ids,
			Soil:  frame.BeforeSoil,
			Note: "Screw the arms on from inside the wall, into their ends; skew two screws down through each arm" +
				" into its leg, level the legs on a slab each, and lay the seat.",
		},
	)
}

// armAt is the place nearest to a wanted one where the screws of a bench's arm, so thick and between two heights, are
// reached from inside the front; the wanted one where none is within a step.
func (b *box) armAt(want, thick, low, high measure.Length) measure.Length {
	const step, aside = 5 * measure.Millimetre, 300 * measure.Millimetre
	for d := measure.Length(0); d <= aside; d += step {
		for _, x := range []measure.Length{want + d, want - d} {
			free := x >= 0 && x+thick <= b.outLength
			for _, id := range b.sides[front].boards {
				board, _ := b.f.Part(id)
				lo, hi := board.Body.Bounds()
				if from, to := max(low, lo.Z), min(high, hi.Z); from < to { // it is screwed there
					z := (from + to) / 2
					free = free && b.reached(front, x+thick/2, z-driverWide/2, z+driverWide/2)
				}
			}
			if free {
				return x
			}
		}
	}
	return want
}

// faceBoards gives the front another timber, chosen for show.
var faceBoards = Extra{
	Extra: design.Extra{Name: "face", Fields: []design.Field{
		{
			Key:     "face",
			Does:    []design.Deed{{For: design.FacesFront}},
			Label:   "Front boards in another timber",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help:    "The good-looking boards where they show, the cheaper ones where they do not.",
			Offer: func(cat *catalog.Catalog, b design.Bed) []design.Choice {
				list := orNone("all of one timber")
				for _, s := range cat.Species {
					if s.ID != b.Species && cat.Sold(b.Board, s.ID) || s.ID == b.Options["face"] {
						list = append(list, design.Choice{Value: s.ID, Label: s.Name})
					}
				}
				return list
			},
		}},
		Check: func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
			if !cat.Sold(b.Board, b.Options["face"]) {
				refuse("face", "%s is not sold in this timber; none works", b.Board)
			}
		}},
	Build: func(b *box) {
		for i := range b.f.Parts {
			p := &b.f.Parts[i]
			for _, id := range b.sides[front].boards {
				if p.ID == id {
					p.Species = b.bed.Options["face"]
				}
			}
		}
	},
}
