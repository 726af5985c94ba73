package timber

import (
	"fmt"

	"chamfer/core/addition"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// trellis stands uprights against the outer face of the back wall, with a rail
// across their heads and wires between.
//
//	 _______________
//	|_______________|   head rail
//	|---------------|   wires
//	|---------------|
//	|===============|   back wall, from behind
var trellis = Extra{Extra: addition.Trellis, Build: buildTrellis}

// Uprights stand no further apart than this, wires likewise.
const (
	uprightsApart = addition.UprightsApart
	wiresApart    = addition.WiresApart
)

func buildTrellis(b *box) {
	stick, err := addition.Stick(b.cat)
	if err != nil {
		return // Check has refused it
	}
	q, head := stick.Width, b.bed.OptionLength("trellis_height")
	y := b.outWidth
	top := b.rim
	lo := b.lift
	var ids []string
	add := func(role, id string, body frame.Prism, grain frame.Axis) frame.Part {
		p := b.put(stick, frame.TrellisPart, role, id, body, grain)
		ids = append(ids, p.ID)
		return p
	}
	first, last := measure.Length(0), b.outLength-q
	n := max(1, int((last-first+uprightsApart-1)/uprightsApart))
	var uprights []frame.Part
	for k := 0; k <= n; k++ {
		x, ok := b.behind(first+(last-first)*measure.Length(k)/measure.Length(n), q)
		if !ok {
			continue
		}
		p := add(
			fmt.Sprintf("trellis upright %d", k+1),
			fmt.Sprintf("trellis.%d", k+1),
			upright(x, y, q, lo, head-q),
			frame.Z,
		)
		uprights = append(uprights, p)
		b.fixBehind(p)
	}
	if len(uprights) == 0 {
		return // legs stand all along, closer than an upright
	}
	a, c := uprights[0].Body.Bounds()
	_, e := uprights[len(uprights)-1].Body.Bounds()
	rail := add(
		"trellis head rail",
		"trellis.head",
		frame.Box(frame.Point{X: a.X, Y: a.Y, Z: head - q}, frame.Point{X: e.X, Y: c.Y, Z: head}),
		frame.X,
	)
	for _, u := range uprights {
		at, _, _ := contact(rail.Body, u.Body)
		b.f.Joints = append(
			b.f.Joints,
			frame.Joint{
				ID:       rail.ID + "+" + u.ID,
				Kind:     frame.FaceToEnd,
				Parts:    [2]string{rail.ID, u.ID},
				EndGrain: true,
				Through:  q,
				Into:     u.Length,
				Run:      q,
				At:       at,
				Load:     "the plants, and the wind in them",
			},
		)
	}
	wires := int((head - top) / wiresApart)
	var lines [][]frame.Point
	for k := range wires {
		z := top + wiresApart*measure.Length(k) + wiresApart/2
		lines = append(lines, []frame.Point{{X: a.X, Y: c.Y, Z: z}, {X: e.X, Y: c.Y, Z: z}})
	}
	b.f.Fittings = append(
		b.f.Fittings,
		frame.Fitting{ID: b.id("wire"), Bed: b.bed.ID, Kind: "wire", Place: "the trellis", Count: 1,
			Each: (e.X - a.X) * measure.Length(
				wires,
			), Why: measure.Count(wires, "wire") + ", one about every foot", Lines: lines},
	)
	b.f.Tall, b.f.TallBy = "trellis", "trellis"
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "trellis",
			Title: "Put up the trellis",
			Where: "behind the back side",
			Parts: ids,
			Fits:  []string{b.id("wire")},
			Soil:  frame.BeforeSoil,
			Note: "Screw the uprights on plumb before the head rail, and string the wires from the bottom up. A" +
				" trellis in leaf catches the wind: stay it to something firm where it blows.",
		},
	)
}

// behind finds the place nearest to a wanted one where something so wide stands behind the back side, clear of the legs
// there, and within a step to either side one where its screws are reached from inside.
func (b *box) behind(want, wide measure.Length) (x measure.Length, ok bool) {
	const step, aside = 5 * measure.Millimetre, 300 * measure.Millimetre
	for _, reached := range []bool{true, false} {
		for d := measure.Length(0); d <= b.outLength && (!reached || d <= aside); d += step {
			for _, x := range []measure.Length{want + d, want - d} {
				free := x >= 0 && x+wide <= b.outLength && (!reached || b.reachedAtTop(back, x+wide/2))
				for _, p := range b.f.Parts {
					lo, hi := p.Body.Bounds()
					free = free && (hi.Y <= b.outWidth || p.Kind == frame.CapBoard || hi.X <= x || lo.X >= x+wide)
				}
				if free {
					return x, true
				}
			}
		}
	}
	return 0, false
}

// fixBehind fixes an upright behind the back side to every board whose screws are reached from inside, or to all
// where none are; what is thicker than the upright from behind, through that.
func (b *box) fixBehind(upright frame.Part) {
	lo, hi := upright.Body.Bounds()
	var from []string
	at := map[string]measure.Length{}
	for _, id := range b.sides[back].boards {
		board, _ := b.f.Part(id)
		if z, ok := b.reachedOn(back, board, (lo.X+hi.X)/2); ok {
			from = append(from, id)
			at[id] = z
		}
	}
	r := b.sides[back]
	kind := frame.BehindPost
	if b.board.Thickness <= upright.Thickness { // screws go through the thinner of the two
		kind = frame.FaceToPost
		if len(from) > 0 {
			r.boards = from
		}
	}
	first := len(b.f.Joints)
	b.fixRun(r, upright, kind)
	for k := first; k < len(b.f.Joints); k++ {
		if z, ok := at[b.f.Joints[k].Parts[0]]; ok {
			b.f.Joints[k].At.Z = z
		}
	}
}
