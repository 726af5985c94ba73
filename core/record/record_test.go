package record

import (
	"math"
	"testing"

	"chamfer/core/work"
)

func TestRead(t *testing.T) {
	for _, x := range []struct {
		text            string
		minutes, people int
	}{{"45", 45, 1}, {"45 min", 45, 1}, {"1 h", 60, 1}, {"1 h 30 min", 90, 1}, {"1:30", 90, 1}, {"1.5 h by 2", 90, 2},
		{"2h", 120, 1}, {"1,5 h", 90, 1}, {" 3 H by 4 ", 180, 4}, {"", 0, 0}, {"long", 0, 0}, {"1 h 75 min", 0, 0},
		{"0", 0, 0}, {"-5", 0, 0}, {"1 h by none", 0, 0}, {"9999999 h", 0, 0}, {"1 h by 40", 0, 0}} {
		m, p, err := Read(x.text)
		if m != x.minutes || p != x.people || (err == nil) != (x.minutes > 0) {
			t.Errorf("%q is read as %d by %d, %v", x.text, m, p, err)
		}
		if err == nil {
			if again, by, err := Read((Taking{Minutes: m, People: p}).Text()); again != m || by != p || err != nil {
				t.Errorf("%q is written so that it reads %d by %d", x.text, again, by)
			}
		}
	}
}

// One step that took twice as long moves the estimate by the sixth root of two; many of them take it there; what took
// ten times as long counts as four; half and double cancel out.
func TestLearn(t *testing.T) {
	s := func(id string) work.Step {
		return work.Step{ID: id, Chores: []work.Chore{{Rate: work.Rate{Low: 10, High: 10}, N: 1}}} // 13 to 15 min
	}
	plain := 14.0
	steps := []work.Step{s("a"), s("b"), s("c")}
	took := func(id string, times float64) Taking { return Taking{id, int(times * plain), 1, ""} }
	one := Learn(steps, []Taking{took("a", 2)}, 0.5)
	if want := math.Pow(2, 1.0/6); one.N != 1 || one.Own != 2 || math.Abs(one.Times-want) > 1e-9 {
		t.Errorf("one of two: %+v, want %v", one, want)
	}
	l := Learn(steps, []Taking{took("a", 2), took("b", 0.5), took("gone", 3)}, 0.5)
	if l.N != 2 || math.Abs(l.Times-1) > 1e-9 {
		t.Errorf("half and double: %+v", l)
	}
	if l := Learn(steps, []Taking{took("a", 40)}, 0.5); l.Own != 4 {
		t.Errorf("what was something else: %+v", l)
	}
	if l := Learn(steps, []Taking{{"a", 14, 2, ""}}, 0.5); l.Own != 2 { // two people for as long
		t.Errorf("by two: %+v", l)
	}
	if l := Learn(steps, nil, 0.5); l.N != 0 || l.Times != 1 {
		t.Errorf("nothing written down: %+v", l)
	}
}
