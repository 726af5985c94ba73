package record

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

func left(n int64) *int64 { return &n }

// By hand, with what the published value counts as: 100 screws needed and 115 used, 10 % published as 200: (150 x 100 +
// 100 x 200) / 300 = 116.7 per thousand. A bed 300 mm deep that sank by 60: 60/240 is 250 per thousand, with 150
// published as two beds (250 + 300)/3 = 183.3. Five cuts that took 16 mm: 3.2 each, as many as the 3 published count
// as: 3.1. Of 60 pieces 3 spoilt, none published as 40: 50 x 60/100 = 30.
func TestEstimates(t *testing.T) {
	const mm = measure.Millimetre
	spare, ok1 := Spare([]Good{{Left: left(10), Had: 125, Need: 100}, {Had: 50, Need: 40}}, 100, 100)
	settling, ok2 := Settling([]Sank{{Deep: 300 * mm, Sunk: 60 * mm}, {Deep: 100 * mm, Sunk: 100 * mm}}, 150, 150)
	kerf, ok3 := Kerf([]Trial{{5, 16 * mm}}, 3*mm, 3*mm)
	spoilt, ok4 := Spoilt(60, 3, 0, 0)
	for _, x := range []struct {
		e    Estimate
		ok   bool
		want float64
	}{{spare, ok1, 350.0 / 3}, {settling, ok2, 550.0 / 3}, {kerf, ok3, 3.1 * float64(mm)}, {spoilt, ok4, 30}} {
		if !x.ok || math.Abs(x.e.Value-x.want) > 1e-6*x.want {
			t.Errorf("%s: %v, want %v", x.e.Key, x.e.Value, x.want)
		}
		if !x.e.New() || x.e.Offer() == "" {
			t.Errorf("%s: what is learnt is not offered", x.e.Key)
		}
	}
	if got, want := spare.Why(),
		"100 fixings of your own: 15.0 %. The published 10.0 % counts as 200 fixings: together 11.7 %."; got != want {
		t.Errorf("%s", got)
	}
	if _, ok := Spare([]Good{{Had: 50, Need: 40}}, 100, 100); ok {
		t.Error("something is learnt of what nobody counted")
	}
	if e, _ := Spare([]Good{{Left: left(0), Had: 900, Need: 100}}, 100, 100); e.Own != 1000 {
		t.Errorf("a box that was lost counts as %v", e.Own)
	}
	// The more there is the nearer it comes, and never past it.
	last := 0.0
	for n := 1; n < 200; n *= 2 {
		e, _ := Spoilt(10*n, n, 0, 0)
		if e.Value <= last || e.Value > 100 {
			t.Errorf("%d of %d: %v after %v", n, 10*n, e.Value, last)
		}
		last = e.Value
	}
}

func TestReadLeft(t *testing.T) {
	for _, x := range []struct {
		text, unit string
		want       int64
	}{{"13", "pieces", 13}, {"none", "pieces", 0}, {" 0 ", "volume", 0}, {"1/2", "volume", 500}, {"half", "volume", 500},
		{"2 1/4", "volume", 2250}, {"2,5", "volume", 2500}, {"1.2 m", "length", int64(1200 * measure.Millimetre)},
		{"2.5", "pieces", -1}, {"-1", "pieces", -1}, {"", "pieces", -1}, {"1/0", "volume", -1}, {"a few", "volume", -1},
		{"NaN", "volume", -1}, {"Inf", "volume", -1}, {"1e300", "pieces", -1}, {"12 apples", "pieces", -1},
		{"long", "length", -1}} {
		got, err := ReadLeft(x.text, x.unit, 1000, measure.Metric)
		if (err == nil) != (x.want >= 0) || err == nil && got != x.want {
			t.Errorf("%q of %s is read as %d, %v", x.text, x.unit, got, err)
		}
	}
}

func TestSizes(t *testing.T) {
	list := []Size{{"sunk:b1", 300, 45}, {"kerf:5", 0, 16}, {"kerf:x", 0, 1}, {"kerf:99999999999", 0, 1},
		{"step:cut|a", 1, 2}}
	if s := Sunk(list); len(s) != 1 || s[0].Bed != "b1" || s[0].Sunk != 45 {
		t.Errorf("%+v", s)
	}
	if k := Trials(list); len(k) != 1 || k[0] != (Trial{5, 16}) {
		t.Errorf("%+v", k)
	}
}
