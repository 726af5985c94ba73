package fixing

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// rule says how a kind of joint is fixed.
type rule struct {
	kind    catalog.FixingKind
	lengths ratio          // wanted length over the thickness passed through
	least   ratio          // the shortest that will do, likewise
	spacing measure.Length // between fixings along Run; 0 counts by board width
	strip   measure.Length // of board width to a fixing, where they are counted by it
	words   string
	nearest bool // the stocked length nearest to the wanted one, whatever it reaches
	thin    bool // little wood to hold in: half of the far piece will do
	each    int  // in every joint, whatever its size; 0 counts
}

// ratio of two lengths.
type ratio struct{ of, to int64 }

func (r ratio) times(l measure.Length) measure.Length {
	return l * measure.Length(r.of) / measure.Length(r.to)
}

// sevenQuarters of the thickness is the shortest that usually will do.
var sevenQuarters = ratio{7, 4}

// rules by kind of joint. Common practice: a deck screw is about twice (at
// least 1 3/4 times) the board it fastens; 1 1/2 in boards take 3 in screws,
// 3 1/2 in into posts and end grain; a cap about every 12 in (300 mm); two lag
// bolts to a corner, three in boards over 8 in (200 mm).
//
// A ledger or upright no thicker than its board leaves no room for 1 3/4 times: 2 1/2 in
// through two 1 1/2 in pieces is usual.
var rules = map[frame.JointKind]rule{
	frame.FaceToPost: {
		kind:    catalog.Screw,
		lengths: ratio{7, 3},
		least:   ratio{5, 3},
		strip:   hand,
		words:   "into a post: about 2 1/3 times the board",
	},
	frame.FaceToEnd: {
		kind:    catalog.Screw,
		lengths: ratio{7, 3},
		least:   sevenQuarters,
		strip:   hand,
		words:   "into end grain: about 2 1/3 times the board",
	},
	frame.TieToWall: {
		kind:    catalog.Screw,
		lengths: ratio{7, 3},
		least:   sevenQuarters,
		strip:   hand,
		words:   "into a tie's end: about 2 1/3 times the board",
	},
	frame.BoltToEnd: {
		kind:    catalog.Lag,
		lengths: ratio{7, 3},
		least:   sevenQuarters,
		strip:   2 * hand,
		words:   "bolt into end grain: about 2 1/3 times the board, with a washer",
	},
	frame.CarryToPost: {kind: catalog.Screw, lengths: ratio{7, 3}, least: ratio{5, 3}, strip: hand / 2,
		words: "what carries a floor, into a post: about 2 1/3 times the board, two by two, one for every inch (25" +
			" mm) of its width"},
	frame.TieToCleat: {kind: catalog.Screw, lengths: ratio{2, 1}, least: ratio{3, 2}, strip: hand / 2, thin: true,
		words: "a tie's side to its cleat: twice the tie, two by two, one for every inch (25 mm) of its width"},
	frame.WallLedger: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   ratio{5, 3},
		spacing: 150 * measure.Millimetre,
		words:   "a ledger that carries the floor: twice the piece it goes through, every 6 in (150 mm)",
	},
	frame.SlatLedger: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   sevenQuarters,
		strip:   hand,
		words:   "down into a ledger: twice the slat",
	},
	frame.SheetDown: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   sevenQuarters,
		spacing: 150 * measure.Millimetre,
		words:   "a sheet down onto a ledger: twice the sheet, every 6 in (150 mm)",
	},
	frame.CapToWall: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   sevenQuarters,
		spacing: 300 * measure.Millimetre,
		words:   "down into a board's edge: twice the cap",
	},
	frame.FaceToFace: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   ratio{3, 2},
		strip:   hand,
		thin:    true,
		words:   "board on board: twice the one it goes through, and not out behind",
	},
	frame.BehindPost: {
		kind:    catalog.Screw,
		lengths: ratio{3, 2},
		least:   ratio{4, 3},
		strip:   2 * hand,
		words:   "from behind: half as long again as the post, two to a sleeper",
	},
	frame.Stacked: {
		kind:    catalog.Screw,
		lengths: ratio{3, 2},
		least:   ratio{4, 3},
		strip:   2 * hand,
		words:   "down into a sleeper: half as long again as the upper one, two to a crossing",
	},
	frame.PocketEnd: {
		kind:    catalog.Pocket,
		lengths: ratio{5, 3},
		least:   ratio{1, 1},
		strip:   hand,
		nearest: true,
		words: "pocket holes from inside: the length nearest to 1 2/3 times the board, half of which the pocket" +
			" takes up",
	},
	frame.Bracket: {
		kind:    catalog.Screw,
		lengths: ratio{9, 1},
		least:   ratio{5, 1},
		each:    8,
		words: "two brackets to a corner, two screws in each leg: as long as the board takes without coming out" +
			" in front",
	},
	frame.Splice: {
		kind:    catalog.Screw,
		lengths: ratio{2, 1},
		least:   ratio{1, 1},
		each:    8,
		words:   "a plate on each face, four in each: two on either side of the joint",
	},
	frame.PlateOn: {
		kind:    catalog.Screw,
		lengths: ratio{9, 1},
		least:   ratio{5, 1},
		words:   "through a fitting's plate: as long as the wood takes without coming out behind",
	},
}
