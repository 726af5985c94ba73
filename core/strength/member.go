package strength

import (
	"math"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Member is any piece that bends under a load spread evenly along it: a wall's
// lowest board, a floor slat, a beam.
type Member struct {
	Across  measure.Length // of the section, square to the load
	Deep    measure.Length // of the section, along the load; less than Across where it bends flatwise
	Span    measure.Length // between centres of supports
	Spans   int            // how many in a row it runs over, at least 1
	Species catalog.Species
	Load    float64 // N/m
}

// Bend works a member out as a beam. Across, Deep and Span must be positive.
func Bend(m Member) Bearing {
	b, h, span := m.Across.Metres(), m.Deep.Metres(), m.Span.Metres()
	bow, moment := beam(m.Spans)
	inertia := b * h * h * h / 12
	section := b * h * h / 6
	e, creep, factor, allowed := values(m)
	first := m.Load * math.Pow(span, 4) / (bow * e * inertia)
	out := Bearing{Load: m.Load, Moment: m.Load * span * span / moment, Allowed: measure.Pressure(allowed),
		FirstBow: metres(first), Bow: metres(first * creep), Limit: m.Span / VisibleBow}
	out.Stress = measure.Pressure(out.Moment * factor / section)
	out.StressPct = int(math.Ceil(float64(out.Stress) / float64(out.Allowed) * 100))
	return out
}

// Bends is the bending in N·m that is allowed in a post or stake of a section, pushed
// across its width, for years in the wet; a load factor is taken off it already.
func Bends(width, thickness measure.Length, species catalog.Species) float64 {
	b, h := width.Metres(), thickness.Metres()
	_, _, factor, allowed := values(Member{Across: width, Deep: thickness, Species: species})
	return allowed * b * h * h / 6 / factor
}

// gravity in m/s² (standard value, NIST SP 811).
const gravity = 9.806_65

// Weight is a mass's in N.
func Weight(kg float64) float64 { return kg * gravity }

// WetSoil is the load of soil on a strip of floor, in N/m: its depth and density
// (kg/m³, wet) over the strip's width.
func WetSoil(depth, width measure.Length, density float64) float64 {
	return depth.Metres() * width.Metres() * density * gravity
}

// Codes that a timber's strength may belong to, as the catalogue names them.
const (
	eurocode      = "ec5"
	eurocodePanel = "ec5-panel"
	apaPanel      = "apa"
)

// values returns the stiffness in Pa, the creep factor, the factor on the load
// and the bending strength in Pa that may be used.
//
// NDS 2018: E' = E CM, F'b = Fb CD CM CF Cfu with CD 0.9 for lasting soil load,
// CM 0.9 on E and 0.85 on Fb when wet (1.0 where Fb CF <= 1150 psi), Cfu only
// flatwise, creep factor 2.0 for wet service (3.5.2). EN 1995-1-1: kmod 0.50
// (permanent, service class 3), gamma_M 1.3, kh = min((150/h)^0.2, 1.3), kdef
// 2.0, load factor 1.35 (EN 1990). Plywood has factors of its own: APA D510 0.75 on
// strength and 0.85 on stiffness when wet; EN 1995-1-1 kdef 2.50 and gamma_M 1.2 (Tables
// 3.2 and 2.3), no kh (REFERENCE G8.3). All from memory.
func values(m Member) (e, creep, factor, allowed float64) {
	row := m.Species.BendingFor(max(m.Across, m.Deep))
	psi := float64(measure.PSI)
	switch m.Species.Method {
	case eurocode:
		kh := 1.0
		if h := m.Deep.Millimetres(); h < 150 {
			kh = min(math.Pow(150/h, 0.2), 1.3)
		}
		return m.Species.E * 1e9, 1 + 2.0, 1.35, 0.50 * kh * row.Strength / 1.3 * 1e6
	case eurocodePanel:
		return m.Species.E * 1e9, 1 + 2.5, 1.35, 0.50 * row.Strength / 1.2 * 1e6
	case apaPanel:
		return m.Species.E * 0.85 * psi, 2.0, 1, row.Strength * 0.9 * 0.75 * psi
	}
	wet, flat := 0.85, row.FlatFactor
	if row.Strength*row.SizeFactor <= 1150 {
		wet = 1.0
	}
	if m.Deep >= m.Across {
		flat = 1
	}
	return m.Species.E * 0.9 * psi, 2.0, 1, row.Strength * 0.9 * wet * row.SizeFactor * flat * psi
}

// OverMiddle is what a middle support carries of evenly loaded spans in a row, to half of
// its two (AISC Manual Tables 3-22c and 3-23: 10/8 of two, 1.1 of three).
func OverMiddle(spans int) float64 {
	if spans == 2 {
		return 1.25
	}
	return 1.1
}
