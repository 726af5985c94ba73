package catalog

import (
	"testing"

	"chamfer/core/measure"
)

// What people write of the boards they have.
func TestParseLeftover(t *testing.T) {
	us, err := ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	metric, err := ForRegion("metric")
	if err != nil {
		t.Fatal(err)
	}
	in, mm := measure.Inch, measure.Millimetre
	for text, want := range map[string]Leftover{
		"3 of 2x6 cedar 41 in, one cracked end": {Profile: "2x6", Species: "cedar", Length: 41 * in,
			Quantity: 3, TrimEnd: 2 * in},
		"2x4 redwood 3'6\"": {Profile: "2x4", Species: "redwood", Length: 42 * in,
			Quantity: 1},
		"2 × 4x4 30": {Profile: "4x4", Species: "cedar", Length: 30 * in,
			Quantity: 2},
		"2x8 cedar 62 in, both ends split": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimStart: 2 * in, TrimEnd: 2 * in},
		"5 x 2x6 Western cedar 20 1/2 in, 4 in bad end": {Profile: "2x6", Species: "cedar",
			Length: 20*in + in/2, Quantity: 5, TrimEnd: 4 * in},
		"2x8 cedar 62 in, bad from 20 to 26 in": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, BadFrom: 20 * in, BadTo: 26 * in},
		"2x8 cedar 62 in, a knot at 20 in": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, BadFrom: 19 * in, BadTo: 21 * in},
		"2x8 cedar 62 in, split from 20 in to 26 in": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, BadFrom: 20 * in, BadTo: 26 * in},
		"2x6 cedar 70 in by 2 in": {Profile: "2x6", Species: "cedar", Length: 70 * in,
			Width: 2 * in, Quantity: 1},
		"2 2x8 cedar 60\"": {Profile: "2x8", Species: "cedar", Length: 60 * in,
			Quantity: 2},
		"two 2x8 cedar 60 in": {Profile: "2x8", Species: "cedar", Length: 60 * in,
			Quantity: 2},
		"2 x 4 cedar 40 in": {Profile: "2x4", Species: "cedar", Length: 40 * in,
			Quantity: 1},
		"2 2 x 4 cedar 40 in": {Profile: "2x4", Species: "cedar", Length: 40 * in,
			Quantity: 2},
		"2x8 cedar 62 in, crack about 1 1/2 ft long at one end": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimEnd: 18 * in},
		"2x8 cedar 62 in, a foot and a half cracked at one end": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimEnd: 18 * in},
		"2x8 cedar 62 in, half a foot rotten at each end": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimStart: 6 * in, TrimEnd: 6 * in},
		"2x8 cedar 62 in, left end split for six inches": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimStart: 6 * in},
		"2x8 cedar 62 in, bowed but usable": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1},
		"2x8 cedar 62 in, end cracked 18\"": {Profile: "2x8", Species: "cedar", Length: 62 * in,
			Quantity: 1, TrimEnd: 18 * in},
		"fence picket 3 ft, the one Aster left": {Profile: "picket", Species: "cedar", Length: 36 * in,
			Quantity: 1},
	} {
		got, err := us.ParseLeftover(text)
		want.Note = got.Note
		if err != nil || got != want {
			t.Errorf("%q: %+v, %v; want %+v", text, got, err, want)
		}
	}
	if got, err := metric.ParseLeftover("4 of 150x38 larch 1050, one cracked end"); err != nil ||
		got.Length != 1050*mm ||
		got.Quantity != 4 ||
		got.Species != "larch" ||
		got.TrimEnd != 2*in {
		t.Errorf("%+v, %v", got, err)
	}
	for _, text := range []string{"", "cedar", "2x6", "2x6 cedar", "0 of 2x6 cedar 41 in", "9999 of 2x6 cedar 41 in",
		"9x9 cedar 41 in", "2x6 cedar long", "2x6 teak 41 in", "2x6 cedar 3 in, both ends cracked", "2x6 cedar 300 m",
		"2x6 cedar 41 in, a knot at 50 in", "2x6 cedar 41 in, bad from here to there",
		"2x6 cedar 41 in, warped", "2x6 cedar 41 in, a long crack at one end",
		"2x6 cedar 41 in, cracked half its length", "2x6 cedar 41 in, 18 in of it",
		"2x6 cedar 41 in, 4 in cracked and 3 in rotten"} {
		if got, err := us.ParseLeftover(text); err == nil {
			t.Errorf("%q was read as %+v", text, got)
		}
	}
}
