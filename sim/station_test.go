package sim

import (
	"context"
	"errors"
	"testing"
	"time"

	"chamfer/instrument"
)

// A weather station tells the same of the same day, over a line that loses and spoils answers; no other instrument is
// read as one. Its year is warm in the middle, has frost in winter, and rains on a quarter to a half of the days.
func TestStation(t *testing.T) {
	ctx := context.Background()
	from := time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)
	year, err := instrument.Forecast(ctx, started(t, &Station{Seed: 14}, Faults{}), from, 365)
	if err != nil {
		t.Fatal(err)
	}
	frost, rain, summer, winter := 0, 0, 0.0, 0.0
	for n, d := range year {
		if d.Low < 0 {
			frost++
		}
		if d.Rain >= 1 {
			rain++
		}
		switch d.Day[5:7] {
		case "07":
			summer += d.High / 31
		case "01":
			winter += d.High / 31
		}
		if d.Low > d.High || d.Day != from.AddDate(0, 0, n).Format(time.DateOnly) {
			t.Errorf("%+v", d)
		}
	}
	if frost < 30 || frost > 150 || rain < 60 || rain > 180 || summer < winter+10 {
		t.Errorf("%d days of frost, %d of rain, %.0f °C in July and %.0f in January", frost, rain, summer, winter)
	}
	again, err := instrument.Forecast(ctx, started(t, &Station{Seed: 14}, Faults{Garble: 5, Drop: 7}), from, 12)
	if err != nil || again[11] != year[11] {
		t.Errorf("over a bad line %+v, %v", again, err)
	}
	if _, err := instrument.Forecast(ctx, started(t, &Timer{}, Faults{}), from, 1); err == nil {
		t.Error("a timer was read as a station")
	}
	// The nights it kept are those of its days, and a line that is spoilt now and then is asked for again.
	lows, err := instrument.Nights(ctx, started(t, &Station{Seed: 14}, Faults{Garble: 20}), from, 365)
	if err != nil || len(lows) != 365 {
		t.Fatalf("%d nights: %v", len(lows), err)
	}
	for i, d := range year {
		if lows[i] != d.Low {
			t.Errorf("%s: the night had %.1f, the day %.1f", d.Day, lows[i], d.Low)
		}
	}
	if _, err := instrument.Forecast(ctx, started(t, &Station{}, Faults{Garble: 1}), from, 1); !errors.Is(err,
		instrument.ErrGarbled) {
		t.Errorf("only spoilt answers: %v", err)
	}
}
