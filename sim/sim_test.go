package sim

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"chamfer/core/measure"
	"chamfer/instrument"
)

func level(noise, tilt float64) *Level {
	return &Level{Right: 3, Out: -2, Up: 1.55, Ground: Garden, Noise: noise, Tilt: tilt,
		Rand: rand.New(rand.NewPCG(1, 2))}
}

func started(t *testing.T, d Device, f Faults) string {
	t.Helper()
	at, stop, err := Start("127.0.0.1:0", d, f)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = stop() })
	return at
}

const metre = measure.Metre

// The level is read as its ground is, through noise, lost and spoilt lines; what cannot be read is
// told by what would help.
func TestLevelIsRead(t *testing.T) {
	ctx := context.Background()
	want := (1.55 - Garden(2, 5)) * 1000
	for name, f := range map[string]Faults{"clean": {}, "drops": {Drop: 4}, "garbles": {Garble: 3}, "wrong": {Wrong: 3},
		"slow": {Latency: 20 * time.Millisecond}} {
		s, err := instrument.Level(ctx, started(t, level(0.3, 0), f), 2*metre, 5*metre)
		if err != nil || math.Abs(s.Staff.Millimetres()-want) > 0.8 || s.Spread > 3*measure.Millimetre {
			t.Errorf("%s: %v, not %.1f mm: %v", name, s.Staff, want, err)
		}
		if d := s.Distance.Metres(); math.Abs(d-math.Hypot(2-3, 5+2)) > 0.01 {
			t.Errorf("%s: %.2f m away", name, d)
		}
	}
	var refused *instrument.Refused
	for name, c := range map[string]struct {
		level *Level
		f     Faults
		want  error
		code  string
	}{
		"dead":      {level(0, 0), Faults{Garble: 1}, instrument.ErrGarbled, ""},
		"unplugged": {level(0, 0), Faults{Unplug: 4}, instrument.ErrGone, ""},
		"floods":    {level(0, 0), Faults{Flood: 1}, instrument.ErrGarbled, ""},
		"tilted":    {level(0, 9), Faults{}, nil, "2"},
		"no staff":  {&Level{Up: -9, Ground: Garden}, Faults{}, nil, "1"},
	} {
		_, err := instrument.Level(ctx, started(t, c.level, c.f), 2*metre, 5*metre)
		switch {
		case c.want != nil && !errors.Is(err, c.want):
			t.Errorf("%s: %v", name, err)
		case c.code != "" && (!errors.As(err, &refused) || refused.Code != c.code):
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := instrument.Level(ctx, started(t, level(4, 0), Faults{}), 2*metre, 5*metre); err == nil {
		t.Error("readings far apart were taken")
	}
	if _, err := instrument.Level(ctx, "127.0.0.1:1", 0, 0); !errors.Is(err, instrument.ErrAway) {
		t.Errorf("nothing there: %v", err)
	}
	// Out of level by 0.4 mm to the metre: equal sights take it out, unequal ones do not.
	at := started(t, level(0, 0.4), Faults{})
	near, _ := instrument.Level(ctx, at, 3*metre, 1*metre)
	far, _ := instrument.Level(ctx, at, 3*metre, 28*metre)
	true1, true2 := (1.55-Garden(3, 1))*1000, (1.55-Garden(3, 28))*1000
	if e := (far.Staff - near.Staff).Millimetres() - (true2 - true1); math.Abs(e-0.4*27) > 0.1 {
		t.Errorf("a tilted level is out by %.2f mm over 27 m, not 10.8", e)
	}
}

// A timer takes what it is told and says so; one that lies is found out; a probe is read through
// spoilt lines, and each is told from the others.
func TestTimerAndProbe(t *testing.T) {
	ctx := context.Background()
	prog := instrument.Program{Start: "06:00", Minutes: 37, Starts: 1, Days: []string{"MO", "WE", "FR"}}
	timer := &Timer{}
	if err := instrument.SetTimer(ctx, started(t, timer, Faults{Garble: 3}), prog); err != nil ||
		timer.Program != "06:00 37 1 MO,WE,FR" {
		t.Errorf("set to %q: %v", timer.Program, err)
	}
	var refused *instrument.Refused
	prog.Minutes = 500
	if err := instrument.SetTimer(ctx, started(t, &Timer{}, Faults{}), prog); !errors.As(err, &refused) ||
		refused.Code != "4" {
		t.Errorf("500 minutes: %v", err)
	}
	gone := started(t, &Timer{}, Faults{Unplug: 2})
	if err := instrument.SetTimer(ctx, gone, prog); !errors.Is(err, instrument.ErrGone) {
		t.Errorf("unplugged: %v", err)
	}
	prog.Minutes = 37
	if err := instrument.SetTimer(ctx, started(t, liar{}, Faults{}), prog); err == nil {
		t.Error("a timer that is set otherwise was believed")
	}
	probe := &Probe{Wet: 24, Rand: rand.New(rand.NewPCG(1, 2))}
	if wet, err := instrument.Moisture(ctx, started(t, probe, Faults{Garble: 3})); err != nil || math.Abs(wet-24) > 1 {
		t.Errorf("%.1f %%: %v", wet, err)
	}
	if _, err := instrument.Moisture(ctx, started(t, &Timer{}, Faults{})); err == nil {
		t.Error("a timer was read as a probe")
	}
	if _, err := instrument.Level(ctx, started(t, probe, Faults{}), 0, 0); err == nil {
		t.Error("a probe was read as a level")
	}
	if _, err := instrument.Moisture(ctx, started(t, probe, Faults{Garble: 1})); !errors.Is(err, instrument.ErrGarbled) {
		t.Errorf("garbled: %v", err)
	}
}

// liar is a timer that says it is set otherwise than it was told.
type liar struct{}

func (liar) Answer(words []string) (string, bool) {
	switch words[0] {
	case "ID":
		return "ID TIMER", true
	case "SET":
		return "OK", true
	}
	return "P 07:00 5 1 SU", true
}
