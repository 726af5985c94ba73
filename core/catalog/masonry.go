package catalog

import (
	"fmt"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Unit is a block or brick by its actual size; with its joint it is as large as
// it is called.
//
//	 ______ length ______
//	|                    |  depth
//	 \__ back, tapered __/
type Unit struct {
	ID, Name string
	Kind     UnitKind
	Length   measure.Length // of the face that shows
	Back     measure.Length // of the face behind; Length where it does not taper
	Depth    measure.Length // from face to face
	Height   measure.Length
	Joint    measure.Length // it is laid with; 0 where it is laid dry
	Mass     float64        // kg
	Price    money.Amount
	Pallet   int
	// SlotWide and SlotDeep are of the slots in the middle of its sides, which take the
	// ends of boards; 0 where there are none.
	SlotWide, SlotDeep measure.Length
	Half               string // the unit that is half of it; "" where it has to be cut
	Left, Right        string // the units with a finished end for corners; "" where it has none of its own
	Lugs               bool   // below, which hook it over the course below and come off where it lies across
	Source             string
}

// Module is the length with a joint.
func (u Unit) Module() measure.Length { return u.Length + u.Joint }

// Course is the height with a joint.
func (u Unit) Course() measure.Length { return u.Height + u.Joint }

// Loose is what is sold by the bag or by the ton: base, sand, cement, mixes.
type Loose struct {
	ID, Name string
	Kind     LooseKind
	Pack     string // what one is called: "bag", "ton"
	// Volume is what one pack makes: loose, or mixed where it is a mix.
	Volume  measure.Volume
	Mass    float64 // kg of a pack
	Density float64 // kg/m³ in place: compacted, dry or set
	Price   money.Amount
	Source  string
}

// Unit looks a masonry unit up by its ID.
func (c *Catalog) Unit(id string) (Unit, error) {
	i := slices.IndexFunc(c.Units, func(u Unit) bool { return u.ID == id })
	if i < 0 {
		return Unit{}, fmt.Errorf("unit %q %w", id, ErrNotSold)
	}
	return c.Units[i], nil
}

// UnitsOf lists the units of some kinds, in the shop's order.
func (c *Catalog) UnitsOf(kinds ...UnitKind) []Unit {
	var list []Unit
	for _, u := range c.Units {
		if slices.Contains(kinds, u.Kind) {
			list = append(list, u)
		}
	}
	return list
}

// LooseOf is the first of a kind that is sold.
func (c *Catalog) LooseOf(kind LooseKind) (Loose, error) {
	i := slices.IndexFunc(c.Loose, func(l Loose) bool { return l.Kind == kind })
	if i < 0 {
		return Loose{}, fmt.Errorf("%s %w", kind, ErrNotSold)
	}
	return c.Loose[i], nil
}

func (t *tables) masonry() {
	t.each("units.csv", func(c *Catalog, r row) {
		u := Unit{
			ID:     r.text("id"),
			Name:   r.text("name"),
			Kind:   UnitKind(r.text("kind")),
			Length: r.length("length"),
			Depth:  r.length("depth"),
			Height: r.length("height"),
			Joint: r.length(
				"joint",
			),
			Mass:   r.number("mass"),
			Price:  r.amount("price"),
			Pallet: int(r.number("pallet")),
			Half:   r.text("half"),
			Left:   r.text("left"),
			Right:  r.text("right"),
			Lugs:   r.text("lugs") == "yes",
			Source: r.text("source"),
		}
		if u.Back = u.Length; r.text("back") != "" {
			u.Back = r.length("back")
		}
		if r.text("slot_wide") != "" {
			u.SlotWide, u.SlotDeep = r.length("slot_wide"), r.length("slot_deep")
		}
		c.Units = append(c.Units, u)
	})
	t.each("loose.csv", func(c *Catalog, r row) {
		c.Loose = append(
			c.Loose,
			Loose{
				ID:     r.text("id"),
				Name:   r.text("name"),
				Kind:   LooseKind(r.text("kind")),
				Pack:   r.text("pack"),
				Volume: r.volume("volume"),
				Mass: r.number(
					"mass",
				),
				Density: r.number("density"),
				Price:   r.amount("price"),
				Source:  r.text("source"),
			},
		)
	})
}

// Counted reports whether a number is that of something people have so many of: a fixing, a
// block, or packs of something loose or of soil, rolls, tins and what is ready-made.
func (c *Catalog) Counted(id string) bool {
	return slices.ContainsFunc(c.Fixings, func(f Fixing) bool { return f.ID == id }) ||
		slices.ContainsFunc(c.Units, func(u Unit) bool { return u.ID == id }) ||
		slices.ContainsFunc(c.Loose, func(l Loose) bool { return l.ID == id }) ||
		slices.ContainsFunc(c.Fills, func(f Fill) bool { return f.ID == id }) ||
		slices.ContainsFunc(c.Sheets, func(s Sheet) bool { return s.ID == id }) ||
		slices.ContainsFunc(c.Fittings, func(f Fitting) bool { return f.ID == id }) ||
		slices.ContainsFunc(c.Finishes, func(f Finish) bool { return f.ID == id }) ||
		slices.ContainsFunc(c.Boosters, func(b Booster) bool { return b.ID == id })
}
