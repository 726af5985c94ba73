package instrument

import (
	"context"
	"fmt"
	"math"
	"slices"

	"chamfer/core/measure"
)

// Sighted is what a level reads on its staff.
type Sighted struct {
	Staff    measure.Length // up the staff, to a tenth of a millimetre
	Distance measure.Length // of the staff
	Spread   measure.Length // between the readings it is the middle of
}

// A level is read so many times, and its readings may lie so far apart: wind and a staff that
// sways make a millimetre or two (common practice).
const (
	sights     = 5
	mostSpread = 3 * measure.Millimetre
	longStaff  = 6000   // mm
	farStaff   = 110000 // mm
)

// Level reads the staff that a digital level at an address sees, as the middle of several
// readings. At is where the staff stands on the plot, for a stand-in that has to be told; a real
// level is turned to it.
func Level(ctx context.Context, addr string, right, out measure.Length) (Sighted, error) {
	l, err := dial(ctx, addr)
	if err != nil {
		return Sighted{}, err
	}
	defer l.conn.Close()
	id, err := l.ask(ctx, "ID", "ID")
	if err != nil {
		return Sighted{}, err
	}
	if len(id) == 0 || id[0] != "LEVEL" {
		return Sighted{}, fmt.Errorf("this is no level but %q: plug in the level", id)
	}
	if slices.Contains(id, "STAND-IN") {
		if _, err := l.ask(ctx, "OK", fmt.Sprintf("STAFF %.0f %.0f", right.Millimetres(), out.Millimetres())); err != nil {
			return Sighted{}, err
		}
	}
	var up, far []float64
	for range sights {
		words, err := l.ask(ctx, "M", "MEAS")
		if err != nil {
			return Sighted{}, err
		}
		if len(words) != 2 {
			return Sighted{}, ErrGarbled
		}
		u, err := number(words[0], 0, longStaff)
		if err != nil {
			return Sighted{}, err
		}
		d, err := number(words[1], 0, farStaff)
		if err != nil {
			return Sighted{}, err
		}
		up, far = append(up, u), append(far, d)
	}
	slices.Sort(up)
	mm := func(v float64) measure.Length {
		return measure.Length(math.Round(v*10)) * measure.Millimetre / 10
	}
	s := Sighted{mm(up[sights/2]), mm(far[sights/2]), mm(up[sights-1] - up[0])}
	if s.Spread > mostSpread {
		return s, fmt.Errorf("its readings are %v apart: hold the staff still, out of the wind, and read again", s.Spread)
	}
	return s, nil
}
