// Package measure holds the quantities of the job: how long, how much surface,
// how much room, how heavy.
//
// A tape reads in sixteenths or in millimetres, and a bed mixes both: an
// American board is 5 1/2 in wide and a European one 150 mm. A [Length] is
// therefore a whole number of nanometres, in which 1/64 in (396 875 nm) and
// 1 mm (1 000 000 nm) are both exact. Adding, halving and comparing lengths
// never rounds; only printing does, and printing can say so.
//
//	1/64 in  =       396 875 nm
//	1 mm     =     1 000 000 nm
//	1 in     =    25 400 000 nm   (exact: NIST SP 811, App. B)
//	1 ft     =   304 800 000 nm
package measure

import (
	"math"
	"math/bits"
)

// Length is a distance in whole nanometres. The zero value is no length at
// all. A Length holds up to about 9.2 million km; what people type is held to
// [MaxLength].
type Length int64

// Units of length. The inch is exactly 25.4 mm (NIST SP 811, App. B).
const (
	Nanometre  Length = 1
	Micrometre        = 1000 * Nanometre
	Millimetre        = 1000 * Micrometre
	Centimetre        = 10 * Millimetre
	Metre             = 1000 * Millimetre
	Inch              = 25_400 * Micrometre
	Foot              = 12 * Inch
	Sixteenth         = Inch / 16
)

// MaxLength is the longest length accepted from a person: 100 m. Anything
// longer is a slip of the finger in a garden.
const MaxLength = 100 * Metre

// Millimetres returns l in millimetres.
func (l Length) Millimetres() float64 { return float64(l) / float64(Millimetre) }

// Metres is so many metres as a length, to the nearest nanometre.
func Metres(m float64) Length { return Length(math.Round(m * float64(Metre))) }

// Metres returns l in metres.
func (l Length) Metres() float64 { return float64(l) / float64(Metre) }

// Inches returns l in inches.
func (l Length) Inches() float64 { return float64(l) / float64(Inch) }

// Feet returns l in feet.
func (l Length) Feet() float64 { return float64(l) / float64(Foot) }

// Hypot returns the diagonal of a by b, to the nearest nanometre of the
// floating-point result.
func Hypot(a, b Length) Length {
	return Length(math.Round(math.Hypot(float64(a), float64(b))))
}

// Area is a surface in square micrometres (1 m² is 10^12). Products of two
// lengths are rounded to the nearest square micrometre, which is below one
// part in 10^9 of the smallest board face.
type Area int64

// Units of area.
const (
	SquareMicrometre Area = 1
	SquareMetre           = 1_000_000_000_000 * SquareMicrometre
	SquareInch            = 645_160_000 * SquareMicrometre
	SquareFoot            = 144 * SquareInch
)

// Over returns the rectangle a by b. Both are at most [MaxLength].
func Over(a, b Length) Area { return Area(mulDiv(int64(a), int64(b), 1_000_000)) }

// SquareMetres returns a in m².
func (a Area) SquareMetres() float64 { return float64(a) / float64(SquareMetre) }

// SquareFeet returns a in ft².
func (a Area) SquareFeet() float64 { return float64(a) / float64(SquareFoot) }

// Volume is room in cubic millimetres (1 litre is 10^6, 1 m³ is 10^9).
type Volume int64

// Units of volume. One cubic foot is 28 316 846.592 mm³, kept to the nearest
// mm³ (NIST SP 811, App. B).
const (
	CubicMillimetre Volume = 1
	Litre                  = 1_000_000 * CubicMillimetre
	CubicMetre             = 1000 * Litre
)

// The exact imperial volumes in mm³, for conversions (NIST SP 811, App. B).
const (
	cubicFoot = 28_316_846.592
	cubicYard = 27 * cubicFoot
)

// CubicFeet returns f cubic feet as a Volume, to the nearest mm³.
func CubicFeet(f float64) Volume { return Volume(math.Round(f * cubicFoot)) }

// CubicMetres returns m cubic metres as a Volume, to the nearest mm³.
func CubicMetres(m float64) Volume { return Volume(math.Round(m * float64(CubicMetre))) }

// By returns the room a surface sweeps over the depth d, to the nearest mm³.
func (a Area) By(d Length) Volume { return Volume(mulDiv(int64(a), int64(d), 1_000_000_000_000)) }

// CubicMetres returns v in m³.
func (v Volume) CubicMetres() float64 { return float64(v) / float64(CubicMetre) }

// Litres returns v in litres.
func (v Volume) Litres() float64 { return float64(v) / float64(Litre) }

// CubicFeet returns v in ft³.
func (v Volume) CubicFeet() float64 { return float64(v) / cubicFoot }

// CubicYards returns v in yd³.
func (v Volume) CubicYards() float64 { return float64(v) / cubicYard }

// PerMille returns v enlarged or reduced to n thousandths of itself, to the
// nearest mm³: v.PerMille(1150) is v and 15 % more.
func (v Volume) PerMille(n int64) Volume { return Volume(mulDiv(int64(v), n, 1000)) }

// Mass is a weight on a scale, in kilograms.
type Mass float64

// PoundMass is one avoirdupois pound in kg (exact: NIST SP 811, App. B).
const PoundMass Mass = 0.453_592_37

// Pounds returns m in pounds.
func (m Mass) Pounds() float64 { return float64(m / PoundMass) }

// Pressure is a stress or a push of soil, in pascals.
type Pressure float64

// PSI is one pound-force to the square inch in Pa (NIST SP 811, App. B).
const PSI Pressure = 6894.757_293_168

// Megapascals returns p in N/mm².
func (p Pressure) Megapascals() float64 { return float64(p) / 1e6 }

// PoundsPerSquareInch returns p in psi.
func (p Pressure) PoundsPerSquareInch() float64 { return float64(p / PSI) }

// mulDiv returns a*b/c rounded half away from zero, with the product held in
// 128 bits. c is positive; the quotient must fit in 63 bits, which it does for
// lengths within MaxLength.
func mulDiv(a, b, c int64) int64 {
	negative := (a < 0) != (b < 0)
	hi, lo := bits.Mul64(magnitude(a), magnitude(b))
	lo, carry := bits.Add64(lo, uint64(c)/2, 0)
	hi += carry
	if hi >= uint64(c) {
		return math.MaxInt64
	}
	q, _ := bits.Div64(hi, lo, uint64(c))
	if negative {
		return -int64(q)
	}
	return int64(q)
}

func magnitude(n int64) uint64 {
	if n < 0 {
		return uint64(-n)
	}
	return uint64(n)
}
