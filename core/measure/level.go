package measure

import "strings"

// Level is a height above something, or below it where it is under zero.
type Level Length

// ParseLevel reads a height as [Parse] reads a length, with a sign before it where it is below
// zero: -85 mm, −3 1/4 in, +0.2 m. Whatever has no number but zeros is zero, with or without unit.
func ParseLevel(text string, sys System) (Level, error) {
	bare := strings.TrimSpace(text)
	rest, below := strings.CutPrefix(bare, "-")
	if !below {
		rest, below = strings.CutPrefix(bare, "−")
	}
	if !below {
		rest = strings.TrimPrefix(bare, "+")
	}
	l, err := Parse(strings.TrimSpace(rest), sys)
	if below {
		l = -l
	}
	return Level(l), err
}

// String writes a height so that [ParseLevel] reads just it.
func (l Level) String() string { return Length(l).String() }

// MarshalText writes l as [Level.String] does.
func (l Level) MarshalText() ([]byte, error) { return []byte(l.String()), nil }

// UnmarshalText reads a height with its unit; a bare number is millimetres.
func (l *Level) UnmarshalText(text []byte) error {
	parsed, err := ParseLevel(string(text), Metric)
	if err != nil {
		return err
	}
	*l = parsed
	return nil
}
