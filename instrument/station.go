package instrument

import (
	"context"
	"fmt"
	"time"
)

// Day is what a weather station expects of one.
type Day struct {
	Day       string  // "2027-04-03"
	Low, High float64 // °C
	Rain      float64 // mm
}

// Forecast asks a weather station for so many days.
func Forecast(ctx context.Context, addr string, from time.Time, days int) ([]Day, error) {
	l, err := meet(ctx, addr, "STATION")
	if err != nil {
		return nil, err
	}
	defer l.conn.Close()
	var list []Day
	for n := range days {
		name := from.AddDate(0, 0, n).Format(time.DateOnly)
		words, err := l.ask(ctx, "D", "DAY "+name)
		if err != nil {
			return nil, err
		}
		if len(words) != 4 || words[0] != name {
			return nil, ErrGarbled
		}
		d := Day{Day: name}
		for k, at := range []*float64{&d.Low, &d.High, &d.Rain} {
			least := -60.0
			if k == 2 {
				least = 0
			}
			if *at, err = number(words[k+1], least, 2000); err != nil {
				return nil, err
			}
		}
		if d.Low > d.High {
			return nil, fmt.Errorf("%w: %s is colder at its warmest", ErrGarbled, name)
		}
		list = append(list, d)
	}
	return list, nil
}

// nightsAtOnce are those that a station tells of in one line.
const nightsAtOnce = 14

// Nights asks a weather station for the lowest temperatures that it kept, of whole fortnights from a day on until all
// days asked for are told.
func Nights(ctx context.Context, addr string, from time.Time, days int) (lows []float64, err error) {
	l, err := meet(ctx, addr, "STATION")
	if err != nil {
		return nil, err
	}
	defer l.conn.Close()
	for len(lows) < days {
		name := from.AddDate(0, 0, len(lows)).Format(time.DateOnly)
		words, err := l.ask(ctx, "N", "NIGHTS "+name)
		if err != nil {
			return nil, err
		}
		if len(words) != 1+nightsAtOnce || words[0] != name {
			return nil, ErrGarbled
		}
		for _, w := range words[1:] {
			low, err := number(w, -60, 60)
			if err != nil {
				return nil, err
			}
			lows = append(lows, low)
		}
	}
	return lows[:days], nil
}
