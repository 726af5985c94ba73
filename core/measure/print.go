package measure

import (
	"fmt"
	"strconv"
	"strings"
)

// Precision is the fineness a workshop prints to: 1/16 in by default, or
// another fraction of an inch, or whole millimetres. Arithmetic never rounds.
type Precision struct {
	Step   Length
	System System
}

// The precisions a workshop can choose.
var (
	Eighths       = Precision{Inch / 8, Imperial}
	Sixteenths    = Precision{Inch / 16, Imperial}
	ThirtySeconds = Precision{Inch / 32, Imperial}
	Millimetres   = Precision{Millimetre, Metric}
	FiveMillis    = Precision{5 * Millimetre, Metric}
)

// Precisions lists the choices by the word a file or a form uses for them.
var Precisions = map[string]Precision{
	"1/8 in": Eighths, "1/16 in": Sixteenths, "1/32 in": ThirtySeconds,
	"1 mm": Millimetres, "5 mm": FiveMillis,
}

// Exact reports whether l prints at this precision without rounding.
func (p Precision) Exact(l Length) bool { return l%p.Step == 0 }

// Round returns l at the nearest step, halves away from zero.
func (p Precision) Round(l Length) Length {
	if l < 0 {
		return -p.Round(-l)
	}
	return (l + p.Step/2) / p.Step * p.Step
}

// Feet prints the way a tape reads: 7' 6 1/2" or 2298 mm.
func (p Precision) Feet(l Length) string {
	if p.System == Metric {
		return p.Short(l)
	}
	l = p.Round(l)
	sign := ""
	if l < 0 {
		sign, l = "−", -l
	}
	feet, rest := l/Foot, l%Foot
	switch {
	case feet == 0:
		return sign + inches(rest) + `"`
	case rest == 0:
		return fmt.Sprintf("%s%d'", sign, feet)
	}
	return fmt.Sprintf(`%s%d' %s"`, sign, feet, inches(rest))
}

// Short prints in inches alone, 90 1/2 in, or in millimetres, 2298 mm: the
// form for cut lists, where one unit is safer at the saw.
func (p Precision) Short(l Length) string {
	l = p.Round(l)
	sign := ""
	if l < 0 {
		sign, l = "−", -l
	}
	if p.System == Metric {
		return sign + strconv.FormatInt(int64(l/Millimetre), 10) + " mm"
	}
	return sign + inches(l) + " in"
}

// String returns l exactly, in a form [Parse] reads back to the same l: in
// inches where l is a whole number of 1/64 in, otherwise in millimetres.
func (l Length) String() string {
	sign := ""
	if l < 0 {
		sign, l = "-", -l
	}
	if l%(Inch/64) == 0 {
		return sign + inches(l) + " in"
	}
	return sign + l.In(Metric)
}

// In returns l exactly, in millimetres for a metric system, otherwise as String does.
func (l Length) In(sys System) string {
	if sys != Metric {
		return l.String()
	}
	sign := ""
	if l < 0 {
		sign, l = "-", -l
	}
	s := strconv.FormatInt(int64(l/Millimetre), 10)
	if part := l % Millimetre; part != 0 {
		s += strings.TrimRight(fmt.Sprintf(".%06d", int64(part)), "0")
	}
	return sign + s + " mm"
}

// inches prints a whole number of 64ths: 5 1/2, 3/4, 12, 0.
func inches(l Length) string {
	whole, part := l/Inch, int64(l%Inch)*64/int64(Inch)
	if part == 0 {
		return strconv.FormatInt(int64(whole), 10)
	}
	under := int64(64)
	for part%2 == 0 {
		part, under = part/2, under/2
	}
	if whole == 0 {
		return fmt.Sprintf("%d/%d", part, under)
	}
	return fmt.Sprintf("%d %d/%d", whole, part, under)
}

// MarshalText writes l as [Length.String] does.
func (l Length) MarshalText() ([]byte, error) { return []byte(l.String()), nil }

// UnmarshalText reads l with its unit; a bare number is millimetres, the unit
// of files without a project around them.
func (l *Length) UnmarshalText(text []byte) error {
	parsed, err := Parse(string(text), Metric)
	if err != nil {
		return err
	}
	*l = parsed
	return nil
}

// Force prints a force given in N: in pounds or newtons, whole ones (1 lbf = 4.448 221 6 N,
// NIST SP 811).
func (s System) Force(n float64) string {
	if s == Imperial {
		return fmt.Sprintf("%.0f lb", n/4.4482216)
	}
	return fmt.Sprintf("%.0f N", n)
}

// Area prints a surface: 32 sq ft or 2.88 m².
func (s System) Area(a Area) string {
	if s == Metric {
		return fmt.Sprintf("%.2f m²", a.SquareMetres())
	}
	return trim(fmt.Sprintf("%.1f", a.SquareFeet())) + " sq ft"
}

// Volume prints room: 1.09 cu yd, 4.2 cu ft, 0.86 m³ or 85 l.
func (s System) Volume(v Volume) string {
	switch {
	case s == Metric && v < 200*Litre:
		return fmt.Sprintf("%.0f l", v.Litres())
	case s == Metric:
		return fmt.Sprintf("%.2f m³", v.CubicMetres())
	case v.CubicYards() < 0.5:
		return trim(fmt.Sprintf("%.1f", v.CubicFeet())) + " cu ft"
	}
	return fmt.Sprintf("%.2f cu yd", v.CubicYards())
}

// Mass prints a weight to about three figures: 2,310 lb or 1,050 kg.
func (s System) Mass(m Mass) string {
	n, unit := float64(m), " kg"
	if s == Imperial {
		n, unit = m.Pounds(), " lb"
	}
	whole := int64(n + 0.5)
	if whole >= 1000 {
		whole = int64(n/10+0.5) * 10
	}
	return grouped(whole) + unit
}

func grouped(n int64) string {
	s := strconv.FormatInt(n, 10)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}

func trim(s string) string { return strings.TrimSuffix(s, ".0") }

// AtLeast writes a limit that a size may not be under, as people say one: rounded up to a
// quarter of an inch, from 6 in on to a half, or to 5 mm; what it says works.
func (p Precision) AtLeast(l Length) string { return p.Feet(p.limit(l, true)) }

// AtMost writes a limit that a size may not be over, rounded down likewise.
func (p Precision) AtMost(l Length) string { return p.Feet(p.limit(l, false)) }

func (p Precision) limit(l Length, up bool) Length {
	step := 5 * Millimetre
	if p.System == Imperial {
		if step = Inch / 4; l >= 6*Inch {
			step = Inch / 2
		}
	}
	if l <= 0 || l < step {
		return l
	}
	if up {
		l += step - 1
	}
	return l / step * step
}
