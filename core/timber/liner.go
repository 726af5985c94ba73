package timber

import (
	"fmt"

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
			Stage:   design.AtFrame,
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
			),
		}}},
	Build: func(b *box) {
		var round, tall measure.Length
		for _, c := range b.f.Cavities {
			if c.Pot {
				continue
			}
			for i, s := range c.Outline {
				e := c.Outline[(i+1)%len(c.Outline)]
				round += max(s.U-e.U, e.U-s.U) + max(s.V-e.V, e.V-s.V)
			}
			tall = max(tall, c.Depth())
			break
		}
		b.f.Sheets = append(
			b.f.Sheets,
			frame.Sheet{
				ID:       b.id("liner"),
				Bed:      b.bed.ID,
				Material: b.bed.Options["liner"],
				Place:    "round the walls, inside",
				Length:   round,
				Width:    tall,
				Inside:   true,
				Along:    true,
				Closed:   true,
				Lines:    true,
				Stapled:  round,
			},
		)
	},
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
