package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// cornerStrips are thin boards on end over the end grain that shows at the corners: on the ends where the sides
// cover them, on the long sides where the ends do.
//
//	 __________________
//	|=|______________|=|   = strips, on the long side
//	|#|              |#|   # ends of the ends' boards behind them
var cornerStrips = Extra{
	Extra: design.Extra{Name: "trim", Fields: []design.Field{
		{
			Key:     "trim",
			Label:   "Corners",
			Stage:   design.AtFinish,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "End grain drinks water and shows. A strip over it keeps it dry at the outside, and nobody is caught by a" +
				" sharp corner.",
			Offers: orNone("as they are sawn", design.Choice{Value: "strips", Label: "covered with a strip",
				Note: "a thin board on end, over the end grain"}),
		},
	}, Check: func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
		if b.Corners == design.Pinwheel {
			refuse("trim", "where each board covers one corner its grain shows on all four sides: with sides or ends that"+
				" cover it works, or without strips")
		}
		for _, other := range []string{"trellis", "bench", "arch"} {
			if b.Corners == design.EndsCover && b.Has(other) {
				refuse("trim", "a %s stands where the strips would, on the long sides: with sides that cover the ends it works,"+
					" or without strips", other)
			}
		}
		thin, err := design.ThinBoard(cat, b.Species)
		if err != nil {
			refuse("trim", "%v", err)
			return
		}
		board, err := cat.Profile(b.Board)
		if err != nil || screwed(cat, thin.Thickness, thin.Thickness*3/2, board.Thickness) {
			return
		}
		refuse("trim", "no screw holds a strip on boards %s thick and does not come out behind: thicker boards work, or none",
			cat.Precision(cat.Habits).Short(board.Thickness))
	}},
	Build: buildStrips,
}

func buildStrips(b *box) {
	thin, err := design.ThinBoard(b.cat, b.bed.Species)
	if err != nil {
		return // Check has refused it
	}
	t, w := thin.Thickness, thin.Width
	walls := [2]int{left, right}
	if b.bed.Corners == design.EndsCover {
		walls = [2]int{front, back}
	}
	var ids []string
	for _, wall := range walls {
		for k, far := range []bool{false, true} {
			lo, hi := frame.Spot{U: -t}, frame.Spot{V: w}
			switch {
			case wall == left && far:
				lo, hi = frame.Spot{U: -t, V: b.outWidth - w}, frame.Spot{V: b.outWidth}
			case wall == right:
				lo, hi = frame.Spot{U: b.outLength}, frame.Spot{U: b.outLength + t, V: w}
				if far {
					lo.V, hi.V = b.outWidth-w, b.outWidth
				}
			case wall == front:
				lo, hi = frame.Spot{V: -t}, frame.Spot{U: w}
				if far {
					lo.U, hi.U = b.outLength-w, b.outLength
				}
			case wall == back:
				lo, hi = frame.Spot{V: b.outWidth}, frame.Spot{U: w, V: b.outWidth + t}
				if far {
					lo.U, hi.U = b.outLength-w, b.outLength
				}
			}
			r := b.sides[wall]
			p := b.put(thin, frame.Trim, fmt.Sprintf("corner strip %d, %s", k+1, r.name),
				fmt.Sprintf("trim.%s.%d", r.key, k+1), frame.Prism{Axis: frame.Z, From: b.lift, To: b.rim,
					Outline: rectangle(lo, hi)}, frame.Z)
			ids = append(ids, p.ID)
			for _, id := range r.boards {
				board, _ := b.f.Part(id)
				at, _, ok := contact(p.Body, board.Body)
				if !ok {
					continue
				}
				b.f.Joints = append(b.f.Joints, frame.Joint{ID: id + "+" + p.ID, Kind: frame.FaceToFace,
					Parts: [2]string{p.ID, id}, Through: t, Into: b.board.Thickness, Run: board.Width, At: at})
			}
		}
	}
	b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FitOut, Of: "trim", Title: "Cover the corners",
		Where: "over the end grain that shows", Parts: ids,
		Note: "Brush the end grain first, whatever it is finished with. Flush at the corner and under the rim; screws into" +
			" the board that lies behind, not into the end grain."})
}

// easedEdges takes the sharpness off what hands and knees meet.
var easedEdges = Extra{
	Extra: design.Extra{Name: "edges", Fields: []design.Field{
		{
			Key:     "edges",
			Label:   "Edges of the rim",
			Stage:   design.AtFinish,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help:    "What somebody leans or sits on: 1/8 in (3 mm) off an edge is enough, and a finish holds better on it.",
			Offers: orNone("as they are sawn", design.Choice{Value: "rounded", Label: "rounded and sanded",
				Note: "80, then 120 grit, by hand round a block"}),
		},
	}},
	Build: func(b *box) {
		round := 2 * (b.outLength + b.outWidth)
		const each = 3 * measure.Metre // a sheet of it lasts (common practice)
		id := b.id("sandpaper")
		b.f.Fittings = append(b.f.Fittings, frame.Fitting{ID: id, Bed: b.bed.ID, Kind: "sandpaper", Place: "the rim's edges",
			Count: 2 * int((round+each-1)/each),
			Why:   "a sheet of either grit to 10 ft (3 m) of rim, " + b.cat.Precision(b.cat.Habits).Feet(round) + " round"})
		b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FitOut, Of: "edges", Title: "Round the edges of the rim",
			Where: "inside and outside, and the corners", Fits: []string{id},
			Note: "Along the grain, round a block of wood: 80 grit until no edge is sharp, then 120. Dust mask; that of" +
				" treated timber is swept up, not blown about."})
	},
}

// wallHooks are screwed to the outside for hose, can and tools.
var wallHooks = Extra{
	Extra: design.Extra{Name: "hooks", Fields: []design.Field{
		{
			Key:     "hooks",
			Label:   "Hooks on the outside",
			Stage:   design.AtFinish,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help:    "For hose, can and tools, on an end, a hand below the rim.",
			Offers: orNone("", design.Choice{Value: "2", Label: "two"}, design.Choice{Value: "4", Label: "four"},
				design.Choice{Value: "6", Label: "six"}),
		},
	}, Check: func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
		if n, ok := b.OptionCount("hooks"); ok && b.Width < measure.Length(n)*hooksApart {
			refuse("hooks", "%d hooks do not hang side by side on an end so wide; %d do", n, max(0, int(b.Width/hooksApart)))
		}
		if board, err := cat.Profile(b.Board); err == nil && !screwed(cat, hookPlate, 0, board.Thickness) {
			refuse("hooks", "every screw would come out behind boards %s thick: thicker boards work, or none",
				cat.Precision(cat.Habits).Short(board.Thickness))
		}
	}},
	Build: func(b *box) {
		n, ok := b.bed.OptionCount("hooks")
		if !ok {
			return
		}
		id := b.id("hooks")
		b.f.Fittings = append(b.f.Fittings, frame.Fitting{ID: id, Bed: b.bed.ID, Kind: "hook", Place: "on the right end",
			Count: n, Screws: 2, Into: b.board.Thickness, Why: "as many as you said, two screws in each"})
		b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FitOut, Of: "hooks", Title: "Screw on the hooks",
			Where: "on the right end, a hand below the rim", Fits: []string{id},
			Note: "Side by side, a hand apart; what hangs there keeps off the path."})
	},
}

// hookPlate is how thick a hook's plate is: an eighth of an inch, 3 mm (common practice).
const hookPlate = 3 * measure.Millimetre

// screwed reports whether the shop has a screw that is so long at least and does not come out behind what lies
// under a piece.
func screwed(cat *catalog.Catalog, through, least, into measure.Length) bool {
	return slices.ContainsFunc(cat.Fixings, func(f catalog.Fixing) bool {
		return f.Kind == catalog.Screw && f.Length >= least && f.Length < through+into
	})
}

// hooksApart is how far one hook is from the next: 4 in, 100 mm (common practice).
const hooksApart = 100 * measure.Millimetre

// finishes are what is done to a box's corners, edges and outside, on every system of boards.
var finishes = []string{"trim", "edges", "hooks"}

// andFinishes adds those to what a system offers.
func andFinishes(adds []string) []string { return append(slices.Clip(adds), finishes...) }
