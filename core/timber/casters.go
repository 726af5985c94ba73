package timber

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// castersField is the decision of every planter that stands on legs.
var castersField = design.Field{
	Key:     "casters",
	Label:   "Casters",
	Stage:   design.AtFrame,
	Kind:    design.ChoiceField,
	Default: "no",
	Help: "Under every leg, with brakes. Move it before it is watered: wet soil is heavy, and a wheel in a gap" +
		" tips it.",
	Offers: []design.Choice{
		{Value: "no", Label: "none"},
		{Value: "yes", Label: "under every leg", Note: "for a slab or a deck that carries it"}},
}

// castersUnder is how high casters lift a planter; 0 without.
func castersUnder(b design.Bed, cat *catalog.Catalog) measure.Length {
	if b.Options["casters"] != "yes" {
		return 0
	}
	c, err := cat.Fitting("caster")
	if err != nil {
		return 0 // onCasters says so
	}
	return c.Height
}

// onCasters puts one under every leg.
func (f *floored) onCasters() error {
	if f.bed.Options["casters"] != "yes" {
		return nil
	}
	if _, err := f.cat.Fitting("caster"); err != nil {
		return fmt.Errorf("casters: %w", err)
	}
	legs := 0
	var lines [][]frame.Point
	for _, p := range f.f.Parts {
		if p.Kind == frame.Leg {
			legs++
			lo, hi := p.Body.Bounds()
			lines = append(
				lines,
				caster(frame.Point{X: (lo.X + hi.X) / 2, Y: (lo.Y + hi.Y) / 2, Z: lo.Z}, hi.X-lo.X)...)
		}
	}
	f.f.Fittings = append(
		f.f.Fittings,
		frame.Fitting{ID: f.id("casters"), Bed: f.bed.ID, Kind: "caster", Place: "under the legs",
			Count: legs, Screws: 4, Into: f.leg.Width, Lines: lines,
			Why: fmt.Sprintf("one under each of %d legs, four screws in each", legs)},
	)
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "casters",
			Title: "Screw on the casters",
			Where: "upside down, empty",
			Fits:  []string{f.id("casters")},
			Soil:  frame.BeforeSoil,
			Over:  true,
			Note:  "Set the brakes before it is turned over, and again before it is filled.",
		},
	)
	return nil
}

// caster is how one looks under a leg whose foot has its middle there and is so wide: a
// plate, a fork down to the axle, and a wheel on the ground, turned lengthwise.
func caster(foot frame.Point, wide measure.Length) [][]frame.Point {
	const corners = 24
	at := func(x, z measure.Length) frame.Point { return frame.Point{X: foot.X + x, Y: foot.Y, Z: z} }
	r := foot.Z * 2 / 5 // of the wheel: the fork and the plate take the rest
	var wheel []frame.Point
	for k := range corners + 1 {
		a := 2 * math.Pi * float64(k) / corners
		wheel = append(wheel, at(measure.Length(float64(r)*math.Cos(a)), r+measure.Length(float64(r)*math.Sin(a))))
	}
	plate := foot.Z - foot.Z/20
	return [][]frame.Point{wheel,
		{at(-wide/2, plate), at(wide/2, plate)},
		{at(-wide/4, plate), at(0, r), at(wide/4, plate)}}
}
