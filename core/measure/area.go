package measure

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// ErrArea says a text is no surface.
var ErrArea = errors.New("this is not an area; write it like 32 sq ft or 3 m²")

// areaUnits by the way they are written.
var areaUnits = map[string]Length{
	"sq ft": Foot, "sqft": Foot, "ft2": Foot, "ft²": Foot, "square feet": Foot, "sq in": Inch, "in²": Inch, "in2": Inch,
	"m2": Metre, "m²": Metre, "sq m": Metre, "square metres": Metre, "cm2": Metre / 100, "cm²": Metre / 100,
}

// ParseArea reads a surface as people write it: 32 sq ft, 3 m², 2,5 m2. A bare
// number is square feet or square metres as sys says. It is over zero and at
// most a hectare; fractions of a square micrometre are dropped.
func ParseArea(text string, sys System) (Area, error) {
	s := strings.ToLower(strings.TrimSpace(text))
	i := strings.IndexFunc(s, func(r rune) bool { return (r < '0' || r > '9') && r != '.' && r != ',' })
	number, unit := s, ""
	if i >= 0 {
		number, unit = s[:i], strings.TrimSpace(s[i:])
	}
	side, ok := areaUnits[unit]
	if unit == "" {
		side, ok = Foot, true
		if sys == Metric {
			side = Metre
		}
	}
	v, err := ParseNumber(number)
	if errors.Is(err, ErrThousands) {
		return 0, fmt.Errorf("“%s”: %w", text, err)
	}
	if err != nil || !ok {
		return 0, fmt.Errorf("“%s”: %w", text, ErrArea)
	}
	a := v * float64(Over(side, side))
	if v <= 0 || a > float64(Over(100*Metre, 100*Metre)) {
		return 0, fmt.Errorf("“%s”: an area over zero and up to a hectare works", text)
	}
	return Area(a), nil
}

// ParseNumber reads a plain number that is not below zero, with a point or a comma
// before its decimals: 7.5 or 7,5. Like [Parse] it refuses 1,000, and whatever is
// no plain number.
func ParseNumber(text string) (float64, error) {
	s := strings.TrimSpace(text)
	if whole, part, comma := strings.Cut(s, ","); comma {
		if len(part) == 3 && strings.Trim(whole, "0") != "" {
			return 0, ErrThousands
		}
		s = whole + "." + part
	}
	if len(s) > 30 || strings.Trim(s, "0123456789.") != "" {
		return 0, ErrSyntax
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		return 0, ErrSyntax
	}
	return v, nil
}

// Side is the side of a square of a surface, rounded down to a nanometre.
func Side(a Area) Length { return Length(math.Sqrt(float64(a)) * float64(Micrometre)) }
