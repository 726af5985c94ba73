package masonry

import (
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// storey is blocks and boards that come to the same height: a board to a block, one to two or
// three blocks, or two boards to a block.
//
//	[ ]=====[ ]      [ ]=====[ ]
//	[ ]=====[ ]      [ ]     [ ]   one board as high as two blocks
//	                    =====
type storey struct {
	blocks, boards int
	off            measure.Length // how much higher its boards are than its blocks
}

// uneven is how much boards and blocks may differ in height over all: boards lie on boards and
// blocks on blocks, and the slots guide both (common practice: 13 mm, 1/2 in).
const uneven = measure.Inch / 2

// storeyOf is the lowest storey that blocks and boards make.
func storeyOf(u catalog.Unit, board catalog.Profile) (storey, bool) {
	for _, s := range []storey{{blocks: 1, boards: 1}, {blocks: 1, boards: 2}, {blocks: 2, boards: 1},
		{blocks: 3, boards: 2}, {blocks: 3, boards: 1}} {
		s.off = board.Width*measure.Length(s.boards) - u.Height*measure.Length(s.blocks)
		if -uneven <= s.off && s.off <= uneven {
			return s, true
		}
	}
	return storey{}, false
}

// tall is how high so many storeys stand, where their lower edge is.
func (s storey) tall(u catalog.Unit, board catalog.Profile, n int) measure.Length {
	return measure.Length(n) * min(u.Height*measure.Length(s.blocks), board.Width*measure.Length(s.boards))
}

// storeysFor is how many reach a bed's soil and what is kept below the rim.
func (s storey) storeysFor(b design.Bed, u catalog.Unit, board catalog.Profile) int {
	n := 1
	for s.tall(u, board, n) < b.Soil+b.Freeboard {
		n++
	}
	return n
}
