package design

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Example is a built-in design, ready to be changed and planned.
type Example struct {
	Name, About string
	make        func(*catalog.Catalog) Design
}

// Examples lists the built-in designs, one for each building system at least.
func Examples() []Example {
	return []Example{
		{
			"boarded",
			"boards on edge, screwed to posts inside the corners, with a mitred cap",
			func(c *catalog.Catalog) Design {
				d := New(c, "Boarded frame on posts")
				d.Beds[0].Cap = Mitred
				return d
			},
		},
		{
			"staked",
			"thin boards on pointed stakes that are driven into the ground",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Staked frame", "staked") },
		},
		{
			"plain-box",
			"thick boards butted and bolted through the corners, one board high, with cross ties",
			func(c *catalog.Catalog) Design {
				d := New(c, "Plain box")
				d.Beds[0].Length, d.Beds[0].Width = 10*measure.Foot, 4*measure.Foot
				if c.System == measure.Metric {
					d.Beds[0].Length, d.Beds[0].Width = 3*measure.Metre, 1200*measure.Millimetre
				}
				d.Beds[0].mustBecome("plain-box", c)
				return d
			},
		},
		{
			"cleated",
			"panels of fence boards on ripped cleats, with a ripped rim border",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Cleated panels", "cleated") },
		},
		{"tiered", "two heights in one box, tied by straps from offcuts, with caps", func(c *catalog.Catalog) Design {
			d := exampleOf(c, "Tiered box", "tiered")
			d.Beds[0].Cap = Mitred
			return d
		}},
		{
			"sleeper",
			"sleepers on edge, fixed from behind to set posts, with an inner floor",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Sleeper bed", "sleeper") },
		},
		{
			"pieced",
			"hidden sides joined from short boards with splice plates",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Pieced frame", "pieced") },
		},
		{
			"carrier",
			"an open frame with spanners and loose slats, for pots or grow bags",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Open carrier", "carrier") },
		},
		{
			"legged",
			"a planter at working height, on legs, with a floor on ledgers and a beam",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Planter on legs", "legged") },
		},
		{
			"block-wall",
			"a bed of garden wall blocks in half bond, with mitred caps, on a compacted base",
			func(c *catalog.Catalog) Design {
				d := exampleOf(c, "Block wall", "block-wall")
				d.Beds[0].Options["unit_cap"] = Mitred
				return d
			},
		},
		{
			"fence-line",
			"three walls of blocks along a fence, with a sheet that keeps the soil off it",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Bed along a fence", "fence-line") },
		},
		{
			"hollow-block",
			"standard hollow blocks, dry, pinned, with herbs in the cores",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Hollow blocks, planted", "hollow-block") },
		},
		{
			"slotted",
			"boards dropped into slotted corner blocks, in bays that share them",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Boards in slotted blocks", "slotted") },
		},
		{
			"terraces",
			"level beds behind low walls on a slope",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Terraces on a slope", "terraces") },
		},
		{
			"poured",
			"a wall of mortar and rubble cast between strips of flashing, with round corners",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Poured wall", "poured") },
		},
		{
			"keyhole",
			"a ring with a compost basket in its middle and a way in to it",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Keyhole bed", "keyhole") },
		},
		{
			"ring",
			"a round bed of tapered blocks",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Ring of blocks", "ring") },
		},
		{"half-ring", "half a ring against a wall or fence", func(c *catalog.Catalog) Design {
			d, err := Apply(exampleOf(c, "Half ring", "ring"), c, Edit{Bed: "b1", Field: "arc", Value: "half"})
			if err != nil {
				panic("design: " + err.Error())
			}
			return d
		}},
		{
			"footed",
			"a small planter with a slatted floor that stands clear on feet",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Small planter on feet", "footed") },
		},
		{
			"plinth",
			"bricks laid flat and dry under a planter",
			func(c *catalog.Catalog) Design { return exampleOf(c, "Plinth of bricks", "plinth") },
		},
	}
}

func exampleOf(c *catalog.Catalog, title, system string) Design {
	d := New(c, title)
	d.Beds[0].mustBecome(system, c)
	return d
}

// mustBecome is for systems that are known to be registered: every program that
// has examples has builders.
func (b *Bed) mustBecome(system string, c *catalog.Catalog) {
	if err := b.become(system, c); err != nil {
		panic("design: " + err.Error())
	}
}

// ExampleNamed returns a built-in design for a region.
func ExampleNamed(name string, c *catalog.Catalog) (Design, error) {
	for _, e := range Examples() {
		if e.Name == name {
			return e.make(c), nil
		}
	}
	return Design{}, fmt.Errorf("there is no example %q; chamfer examples lists them", name)
}
