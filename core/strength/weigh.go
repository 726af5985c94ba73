package strength

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
)

// Masses is what one bed weighs, in kg: its timber dry, what is laid and cast, and its
// soil wet.
type Masses struct{ Timber, Laid, Cast, Soil float64 }

// Empty is all but the soil.
func (m Masses) Empty() float64 { return m.Timber + m.Laid + m.Cast }

// All is the bed filled and wet.
func (m Masses) All() float64 { return m.Empty() + m.Soil }

// Mass is a piece's in kg, dry: its volume by its timber's density. What has no place in
// space, or is of no timber in the catalogue, weighs nothing.
func Mass(p frame.Part, cat *catalog.Catalog) float64 {
	s, err := cat.SpeciesOf(p.Species)
	if err != nil || len(p.Body.Outline) == 0 {
		return 0
	}
	return p.Volume().CubicMetres() * s.Density
}

// Weigh weighs a bed; soil is taken as the heaviest that is sold.
func Weigh(f *frame.Frame, cat *catalog.Catalog) Masses {
	var m Masses
	for _, p := range f.Parts {
		m.Timber += Mass(p, cat)
	}
	for _, u := range f.Units {
		if unit, err := cat.Unit(u.SKU); err == nil {
			m.Laid += unit.Mass
		}
	}
	for _, p := range f.Pours {
		m.Cast += p.Volume.CubicMetres() * p.Density
	}
	for _, c := range f.Cavities {
		m.Soil += c.Net().CubicMetres() * wetOf(f, cat)
	}
	return m
}

// wetOf is what a bed's filling weighs wet, kg/m³.
func wetOf(f *frame.Frame, cat *catalog.Catalog) float64 {
	if f.Wet > 0 {
		return f.Wet
	}
	return cat.WetDensity()
}
