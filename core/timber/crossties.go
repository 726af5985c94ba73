package timber

import (
	"slices"
	"strconv"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// crossTies hold the long sides of any box together.
var crossTies = Extra{
	Extra: design.Extra{Name: "cross_ties", Fields: []design.Field{
		{Key: "cross_ties", Label: "Cross ties", Stage: design.AtFrame, Kind: design.ChoiceField, Default: design.NotThere,
			Does: []design.Deed{{For: design.TiesWalls}},
			Help: "A board on edge from side to side, in the soil. It holds both sides at once and needs no ground.",
			Offers: orNone(
				"the posts or stakes do it",
				design.Choice{
					Value: "1",
					Label: "one",
				},
				design.Choice{Value: "2", Label: "two"},
				design.Choice{Value: "3", Label: "three"},
			)}}},
	Build: func(b *box) {
		profile, err := b.cat.Profile(b.bed.CapProfile)
		if err != nil {
			return // Check has refused it
		}
		n, _ := strconv.Atoi(b.bed.Options["cross_ties"])
		var ids []string
		for k := 1; k <= n; k++ {
			x, ok := b.slot(b.outLength*measure.Length(k)/measure.Length(n+1), profile.Thickness)
			if !ok {
				continue
			}
			ids = append(ids, b.tie(profile, k, x)...)
			for i := range b.f.Walls {
				w := &b.f.Walls[i]
				if w.End {
					continue
				}
				w.Supports = append(slices.Clip(w.Supports), x)
				slices.Sort(w.Supports)
			}
		}
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    "cross ties",
				Title: "Fix the cross ties",
				Where: "between the long sides, before the soil goes in",
				Parts: ids,
			},
		)
		b.f.Cavities[0] = b.displaced(b.bare(b.f.Cavities[0]))
	},
}

// slot finds the place nearest to a wanted one, along the bed, where a tie or a
// strap of some width passes the posts and ties that stand there already; ok is
// false where there is none.
func (b *box) slot(want, wide measure.Length) (mid measure.Length, ok bool) {
	const step = 5 * measure.Millimetre
	first, last := b.board.Thickness+wide/2, b.board.Thickness+b.inLength-(wide-wide/2)
	const cleat = 100 * measure.Millimetre
	// With room for the driver on one side and a cleat on the other, where that is close by.
	for _, room := range [][2]measure.Length{{driverLong, driverLong}, {driverLong, cleat}, {cleat, driverLong}, {}} {
		for d := measure.Length(0); d <= b.inLength && (room[0] == 0 || d <= driverLong); d += step {
			for _, x := range []measure.Length{want + d, want - d} {
				if x-room[0] >= first && x+room[1] <= last && b.clearAt(x-wide/2-room[0], x-wide/2+wide+room[1]) {
					return x, true
				}
			}
		}
	}
	return 0, false
}

// clearAt reports whether no post or tie stands between two places along the bed.
func (b *box) clearAt(from, to measure.Length) bool {
	for _, p := range b.f.Parts {
		lo, hi := p.Body.Bounds()
		if (p.Grain == frame.Z || p.Kind == frame.Tie) && p.Course == 0 && lo.X < to && hi.X > from {
			return false
		}
	}
	return true
}

// bare is a cavity with nothing noted in it yet.
func (b *box) bare(c frame.Cavity) frame.Cavity {
	c.Displaced = nil
	return c
}
