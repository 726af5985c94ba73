package catalog

import (
	"fmt"
	"slices"
)

// Kinds of material that a bed is filled with.
const (
	Rough = "rough" // filler below the soil: it rots and sinks for years
	Food  = "food"  // compost and manure
	Light = "light" // loosens, holds water
	Soil  = "soil"
)

// Mixed is the material a bed is filled with where nothing else is said.
const Mixed = "mix"

// Material is something a bed is filled with.
type Material struct {
	ID, Name, Kind string
	Wet            float64 // kg/m³ when it is wet and settled
	Settles        int     // thousandths of what is placed that it loses in its first season
	Repose         float64 // angle of a heap of it, degrees
	Source         string
}

// Material looks a material up by its ID.
func (c *Catalog) Material(id string) (Material, error) {
	for _, m := range c.Materials {
		if m.ID == id {
			return m, nil
		}
	}
	return Material{}, fmt.Errorf("no material %q", id)
}

// FillsOf are the ways a material is sold, none of one that nobody sells.
func (c *Catalog) FillsOf(material string) (list []Fill) {
	for _, f := range c.Fills {
		if f.Of == material {
			list = append(list, f)
		}
	}
	return list
}

// IsFill reports whether something is a way a material is sold; what is there of that is reckoned by its volume.
func (c *Catalog) IsFill(sku string) bool {
	return slices.ContainsFunc(c.Fills, func(f Fill) bool { return f.ID == sku })
}
