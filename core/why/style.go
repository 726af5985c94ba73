package why

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Kind is what a quantity measures, and so how it is written.
type Kind uint8

// The kinds there are, each with its unit in SI.
const (
	Number   Kind = iota
	Share         // a part of one, written as a per cent
	Length        // m
	Area          // m²
	Volume        // m³
	Mass          // kg
	Density       // kg/m³
	Force         // N
	Pressure      // Pa, of soil on ground, or a load on a floor
	Line          // N/m, a load along a length
	Money         // minor units
	Years
	pi
)

// kinds are their dimensions.
var kinds = [...]struct{ dimension Dimension }{
	Number: {}, Share: {}, Years: {}, pi: {},
	Length: {Dimension{1}}, Area: {Dimension{2}}, Volume: {Dimension{3}},
	Mass: {Dimension{0, 1}}, Density: {Dimension{-3, 1}},
	Force: {Dimension{1, 1, -2}}, Pressure: {Dimension{-1, 1, -2}}, Line: {Dimension{0, 1, -2}},
	Money: {Dimension{0, 0, 0, 1}},
}

// Of a Kind, the dimension.
func (k Kind) Dimension() Dimension { return kinds[k].dimension }

// Style is how a project writes quantities.
type Style struct {
	System   measure.System
	Lengths  measure.Precision
	Currency money.Currency
}

// Units of the foot and pound (NIST SP 811).
const (
	cubicFoot  = 0.028316846592
	squareFoot = 0.09290304
	foot       = 0.3048
	pound      = 0.45359237
	poundForce = 4.4482216152605
	kilo       = 1000
)

// Write writes a quantity as a figure is shown.
func (s Style) Write(k Kind, n float64) string {
	switch k {
	case Share:
		return plain(100*n, 0) + " %"
	case Length:
		return s.Lengths.Feet(measure.Length(math.Round(n * float64(measure.Metre))))
	case Area:
		return s.System.Area(measure.Area(math.Round(n * float64(measure.SquareMetre))))
	case Volume:
		return s.System.Volume(measure.CubicMetres(n))
	case Mass:
		return s.System.Mass(measure.Mass(n))
	case Force:
		return s.System.Force(n)
	case Pressure:
		if s.System == measure.Imperial {
			return fmt.Sprintf("%.0f lb/sq ft", n*squareFoot/poundForce)
		}
		return fmt.Sprintf("%.1f kN/m²", n/kilo)
	case Money:
		return s.Currency.Format(money.Amount(math.Round(n)))
	}
	return s.fine(k, n)
}

// fine writes a quantity with the digits that whoever reckons with it needs.
func (s Style) fine(k Kind, n float64) string {
	inch := s.System == measure.Imperial
	switch k {
	case pi:
		return "π"
	case Number:
		return thousands(plain(n, 4))
	case Share:
		return plain(100*n, 1) + " %"
	case Years:
		return plain(n, 1) + " years"
	case Area:
		if inch {
			return thousands(plain(n/squareFoot, 3)) + " sq ft"
		}
		return plain(n, 4) + " m²"
	case Volume:
		if inch {
			return thousands(plain(n/cubicFoot, 3)) + " cu ft"
		}
		return plain(n, 5) + " m³"
	case Mass:
		if inch {
			return thousands(plain(n/pound, 1)) + " lb"
		}
		return thousands(plain(n, 1)) + " kg"
	case Density:
		if inch {
			return plain(n*cubicFoot/pound, 2) + " lb/cu ft"
		}
		return plain(n, 1) + " kg/m³"
	case Force:
		if inch {
			return thousands(plain(n/poundForce, 1)) + " lb"
		}
		return thousands(plain(n, 0)) + " N"
	case Pressure:
		if inch {
			return thousands(plain(n*squareFoot/poundForce, 1)) + " lb/sq ft"
		}
		return thousands(plain(n/kilo, 2)) + " kN/m²"
	case Line:
		if inch {
			return thousands(plain(n*foot/poundForce, 1)) + " lb/ft"
		}
		return thousands(plain(n, 0)) + " N/m"
	}
	return s.Write(k, n)
}

// thousands groups the digits before the point.
func thousands(text string) string {
	whole, rest, _ := strings.Cut(text, ".")
	sign := ""
	if strings.HasPrefix(whole, "-") {
		sign, whole = "−", whole[1:]
	}
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "," + whole[i:]
	}
	if rest != "" {
		whole += "." + rest
	}
	return sign + whole
}
