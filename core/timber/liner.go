package timber

import (
	"fmt"
	"math"

	"chamfer/core/addition"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// wallLiner keeps wet soil off the boards.
var wallLiner = Extra{
	Extra: design.Extra{Name: "liner", Fields: []design.Field{
		{
			Key:     "liner",
			Label:   "Lining of the walls",
			Stage:   design.AtFill,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "Stapled along its upper edge every 5 to 6 in (125 to 150 mm), just below the soil, where the sun" +
				" does not reach it. It laps like shingles, so that water runs off behind nothing.",
			Offers: orNone(
				"usual for food",
				design.Choice{Value: catalog.Fabric, Label: "fabric", Note: "keeps soil in, lets the boards dry"},
				design.Choice{
					Value: catalog.Membrane,
					Label: "membrane",
					Note:  "longest life of the boards; for flowers",
				},
				design.Choice{
					Value: catalog.Trough,
					Label: "a trough of pond liner, with drain holes",
					Note:  "over floor and walls: for flowers on paving or legs",
				},
			),
		}}},
	Build: func(b *box) {
		n := 0
		for _, c := range b.f.Cavities {
			if c.Pot {
				continue
			}
			n++
			id := b.id("liner")
			if n > 1 {
				id = b.id("liner.%d", n)
			}
			var round measure.Length
			lo, hi := c.Outline[0], c.Outline[0]
			for i, s := range c.Outline {
				e := c.Outline[(i+1)%len(c.Outline)]
				round += measure.Hypot(s.U-e.U, s.V-e.V)
				lo, hi = frame.Spot{U: min(lo.U, s.U), V: min(lo.V, s.V)}, frame.Spot{U: max(hi.U, s.U), V: max(hi.V, s.V)}
			}
			sheet := frame.Sheet{ID: id, Bed: b.bed.ID, Material: b.bed.Options["liner"], Inside: true, Lines: true,
				Stapled: round}
			if sheet.Material == catalog.Trough {
				sheet.Place = "over the floor and up the walls, cut to them last"
				sheet.Length, sheet.Width, sheet.TurnUp = hi.U-lo.U, hi.V-lo.V, c.Depth()+folded
				sheet.Holes = drains(sheet.Length, sheet.Width)
			} else {
				sheet.Place = "round the walls, inside"
				sheet.Length, sheet.Width, sheet.Along, sheet.Closed = round, c.Depth(), true, true
			}
			b.f.Sheets = append(b.f.Sheets, sheet)
		}
	},
}

// Rules of a trough of sheet (common practice).
const (
	// folded is what of it is folded under at its edge: 2 in, 50 mm.
	folded = 2 * measure.Inch
	// drain is across a hole, apart how far holes are from one another at most, near how far the outer ones
	// are from the walls: 1/2 in, 12 in and 2 in (12, 300 and 50 mm).
	drain, drainsApart, drainNear = measure.Inch / 2, 12 * measure.Inch, 2 * measure.Inch
	// tipped is how far a floor is packed up on one side, thousandths: 1/8 to 1/4 in a foot (10 to 20 mm/m).
	tipped = 15
	// storm is rain that has to get out, mm/h, clogs how many times the holes that would do: leaves and roots
	// stop the others.
	storm, clogs = 50, 4
	// gush is what one hole lets out under 1 in (25 mm) of water, l/min: 0.6 A √(2gh).
	gush = 3.22
)

// drains are the holes of a trough so long and wide: a grid with one near each corner, never fewer than four,
// and as many as take a cloudburst with most of them clogged.
func drains(long, wide measure.Length) frame.Holes {
	row := func(l measure.Length) int {
		return max(2, int((l-2*drainNear+drainsApart-1)/drainsApart)+1)
	}
	rain := math.Ceil(long.Metres() * wide.Metres() * storm / 60 * clogs / gush)
	return frame.Holes{Count: max(row(long)*row(wide), int(rain)), Rows: row(wide), Across: drain, Apart: drainsApart,
		Near: drainNear, Tilt: wide * tipped / 1000}
}

// burrowMesh keeps what digs out of the bed: under it, stapled up its boards.
var burrowMesh = Extra{
	Extra: addition.Mesh,
	Build: func(b *box) {
		up := b.bed.OptionLength("turn_up")
		mesh := frame.Sheet{
			ID:       b.id("mesh"),
			Bed:      b.bed.ID,
			Material: "mesh",
			Place:    "on the ground inside, turned up the walls",
			Length:   b.inLength,
			Width:    b.inWidth,
			TurnUp:   up,
			Inside:   true,
			Stapled:  2 * (b.inLength + b.inWidth),
		}
		if b.arms == nil {
			b.f.Sheets = append(b.f.Sheets, mesh)
			return
		}
		id := mesh.ID
		for i, a := range b.arms { // what is turned up where they meet is their lap
			mesh.ID, mesh.Length, mesh.Width = fmt.Sprintf("%s.%d", id, i+1), a.hi.U-a.lo.U, a.hi.V-a.lo.V
			mesh.Place = "on the ground inside " + a.name + ", turned up the walls, lapped where arms meet"
			mesh.Stapled = 2*(mesh.Length+mesh.Width) - a.open
			b.f.Sheets = append(b.f.Sheets, mesh)
		}
	},
}
