package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// tie sets one cross tie at x, at mid height of the lowest board, but never out of the
// soil, where it would be in the way, and a cleat at either end of it:
//
//	=================  wall
//	  |   |[ cleat ]   the tie is screwed to the cleat's edge, in side grain, and the
//	  |   |            cleat to every board; screws into the tie's end hold little
//	  | tie
//
// Where there is no room for a cleat, screws go into its end. It returns the IDs of the tie
// and its cleats.
func (b *box) tie(profile catalog.Profile, k int, x measure.Length) []string {
	t := b.board.Thickness
	low := b.floor + max(0, min((b.wide(1)-profile.Width)/2, b.bed.Soil-profile.Width))
	p := b.part(profile, frame.Tie, fmt.Sprintf("%scross tie %d", b.tier, k))
	p.ID, p.Grain, p.Hidden, p.Length = b.id("tie.%d", k), frame.Y, true, b.inWidth
	p.Width = min(profile.Width, b.wide(1))
	p.Body = standing(
		frame.Spot{U: x - profile.Thickness/2, V: t},
		frame.Spot{U: x - profile.Thickness/2 + profile.Thickness, V: t + b.inWidth},
		low,
		low+p.Width,
		frame.Y,
	)
	b.f.Parts = append(b.f.Parts, p)
	ids := []string{p.ID}
	for _, side := range []int{front, back} {
		if id, ok := b.tieCleat(p, side); ok {
			ids = append(ids, id)
			continue
		}
		for _, id := range b.sides[side].boards {
			board, _ := b.f.Part(id)
			at, _, ok := contact(board.Body, p.Body)
			if !ok {
				continue
			}
			b.f.Joints = append(
				b.f.Joints,
				frame.Joint{ID: id + "+" + p.ID, Kind: frame.TieToWall, Parts: [2]string{id, p.ID},
					Through: t, Into: p.Length, Run: p.Width, EndGrain: true, At: at,
					Load: "the pull that keeps the long sides together"},
			)
			break
		}
	}
	return ids
}

// tieCleat stands a cleat inside a long side beside a tie's end, where there is room on
// either side of it, and screws it to the tie and to every board.
func (b *box) tieCleat(tie frame.Part, side int) (id string, ok bool) {
	rail, err := railFor(b.cat, b.bed.Species)
	if err != nil {
		return "", false
	}
	lo, hi := tie.Body.Bounds()
	y := b.board.Thickness
	if side == back {
		y = b.outWidth - b.board.Thickness - rail.Thickness
	}
	for _, from := range []measure.Length{hi.X, lo.X - rail.Width} {
		to := from + rail.Width
		driver := lo.X - driverLong // the screws come from the side without the cleat
		if from < lo.X {
			driver = hi.X
		}
		if from < b.board.Thickness || to > b.board.Thickness+b.inLength || !b.roomFor(side, from, to, tie.ID) ||
			!b.roomFor(side, driver, driver+driverLong, tie.ID) {
			continue
		}
		p := b.part(rail, frame.TieCleat, fmt.Sprintf("cleat of the %s, %s", tie.Role, b.sides[side].name))
		p.ID, p.Grain, p.Hidden, p.Length = tie.ID+".cleat."+b.sides[side].key, frame.Z, true, b.rim-b.lift
		p.Body = frame.Prism{
			Axis:    frame.Z,
			From:    b.lift,
			To:      b.rim,
			Outline: rectangle(frame.Spot{U: from, V: y}, frame.Spot{U: to, V: y + rail.Thickness}),
		}
		b.f.Parts = append(b.f.Parts, p)
		for _, board := range b.sides[side].boards {
			wall, _ := b.f.Part(board)
			if at, _, ok := contact(wall.Body, p.Body); ok {
				b.f.Joints = append(
					b.f.Joints,
					frame.Joint{ID: board + "+" + p.ID, Kind: frame.FaceToFace, Parts: [2]string{board, p.ID},
						Through: b.board.Thickness, Into: rail.Thickness, Run: wall.Width, At: at,
						Load: "the push of the soil on the board"},
				)
			}
		}
		at, _, _ := contact(tie.Body, p.Body)
		b.f.Joints = append(
			b.f.Joints,
			frame.Joint{ID: tie.ID + "+" + p.ID, Kind: frame.TieToCleat, Parts: [2]string{tie.ID, p.ID},
				Through: tie.Thickness, Into: rail.Width, Run: tie.Width, At: at,
				Load: "the pull that keeps the long sides together"},
		)
		return p.ID, true
	}
	return "", false
}

// roomFor reports whether an upright against a long side would be clear of all that stands
// there already, but for one piece.
func (b *box) roomFor(side int, from, to measure.Length, but string) bool {
	y0, y1 := b.board.Thickness, b.board.Thickness+b.inWidth/2
	if side == back {
		y0, y1 = b.board.Thickness+b.inWidth/2, b.board.Thickness+b.inWidth
	}
	for _, p := range b.f.Parts {
		lo, hi := p.Body.Bounds()
		if p.ID != but && p.Course == 0 && p.Kind != frame.CapBoard && lo.Z < b.rim && lo.X < to && hi.X > from &&
			lo.Y < y1 &&
			hi.Y > y0 {
			return false
		}
	}
	return true
}

// tiedWalls are the walls of a box whose long sides hang on ties at those places; the ends
// are held so far from their own.
func (b *box) tiedWalls(supports []measure.Length, end measure.Length) {
	for i, r := range b.sides {
		w := frame.Wall{ID: b.id("wall.%s", r.key), Bed: b.bed.ID, Name: r.name, End: r.grain == frame.Y,
			Boards: r.boards, Soil: b.bed.Soil, Supports: []measure.Length{end, b.outWidth - end}}
		if i == front || i == back {
			w.Supports, w.Field, w.Support = supports, "ties", frame.CrossTie
		}
		b.f.Walls = append(b.f.Walls, w)
	}
}
