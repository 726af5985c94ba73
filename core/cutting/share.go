package cutting

import (
	"slices"

	"chamfer/core/measure"
)

// What a piece takes of its board's length is its own and a kerf where it is as wide as
// the board. A ripped one takes a share of that: whatever strips lie side by side, their
// shares together are no more than one, so that what all pieces take together is no more
// than the boards have, however they are cut.

// shareParts is what a whole width is reckoned in.
const shareParts = 1 << 16

// shares is what each kind takes of a board's length at least, in nanometres with the
// kerf; nil where boards of several widths or sheets are cut.
func (g *group) shares() []int64 {
	if len(g.kinds) == 0 || g.sheet() || !g.oneWidth() ||
		slices.ContainsFunc(g.kinds, func(k kind) bool { return k.turn }) {
		return nil
	}
	takes := make([]int64, len(g.kinds))
	var widths []measure.Length
	for k, kind := range g.kinds {
		if takes[k] = kind.size; kind.width > 0 && !slices.Contains(widths, kind.width) {
			widths = append(widths, kind.width)
		}
	}
	if len(widths) == 0 {
		return takes
	}
	slices.Sort(widths)
	share := g.shareOf(widths)
	for k, kind := range g.kinds {
		if i, ok := slices.BinarySearch(widths, kind.width); ok && kind.width > 0 {
			takes[k] = kind.size / shareParts * share[i]
		}
	}
	return takes
}

// shareOf is each width's share, of the ways to share that are tried the one by which
// all pieces take most: by width; and all that are no narrower than one of them alike,
// the narrower ones nothing.
func (g *group) shareOf(widths []measure.Length) []int64 {
	wide := g.wide()
	need := make([]float64, len(widths))
	for _, k := range g.kinds {
		if i, ok := slices.BinarySearch(widths, k.width); ok {
			need[i] += float64(k.want) * float64(k.size)
		}
	}
	var best []int64
	most := -1.0
	try := func(share []int64) {
		sum := 0.0
		for i, s := range share {
			sum += need[i] * float64(s)
		}
		if sum > most {
			best, most = share, sum
		}
	}
	byWidth := make([]int64, len(widths))
	for i, w := range widths {
		byWidth[i] = int64(float64(shareParts) * float64(w+g.ripKerf) / float64(wide+g.ripKerf) * (1 - over))
	}
	try(byWidth)
	for i, w := range widths {
		alike := make([]int64, len(widths))
		for j := i; j < len(widths); j++ {
			alike[j] = shareParts / int64(perWidth(wide, w, g.ripKerf))
		}
		try(alike)
	}
	return best
}

// rooms is how much of a board of each stock there is to take, with a kerf for each
// stretch of it.
func (g *group) rooms() []int64 {
	rooms := make([]int64, len(g.stock))
	for s, stock := range g.stock {
		for _, r := range stock.runs() {
			rooms[s] += int64(r[1] - r[0] + g.kerf)
		}
	}
	return rooms
}
