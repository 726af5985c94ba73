package catalog

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/measure"
)

// A timber as somebody tells of it: what is told holds, what is not is the other timber's; and what cannot be read says
// why and how it would be written.
func TestParseTimber(t *testing.T) {
	us, err := ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	cedar, err := us.SpeciesOf("cedar")
	if err != nil {
		t.Fatal(err)
	}
	s, offers, err := us.ParseTimber("Lane ash, like Western cedar, lasts 5 to 8 years, 25 lb/ft3, treated, 2x6 at 10 ft" +
		" for 8.20, 2x6 at 7 ft 3 in for 6, 4x4 at 8 ft for 13")
	if err != nil {
		t.Fatal(err)
	}
	// 25 lb/ft3 = 400.46 kg/m3, a hair under cedar's 403: so its gravity is 0.36 x 400.46 / 403.
	if s.ID != "own:lane-ash" || s.Name != "Lane ash" || s.LifeMin != 5 || s.LifeMax != 8 || !s.Treated ||
		math.Abs(s.Density-400.46) > 0.01 || math.Abs(s.Gravity-0.3577) > 1e-4 || s.E != cedar.E ||
		s.Bending[0] != cedar.Bending[0] || s.Shear != cedar.Shear {
		t.Errorf("%+v", s)
	}
	if len(offers) != 3 || offers[0].SKU != "2x6/own:lane-ash/87 in" || offers[2].SKU != "2x6/own:lane-ash/10 ft" ||
		offers[2].Price != 820 || offers[2].Length != 10*measure.Foot {
		t.Errorf("%+v", offers)
	}
	heavy, _, err := us.ParseTimber("Iron oak, like cedar, 800 kg/m³, 2x6 at 8 ft for 9")
	if err != nil || heavy.Gravity != cedar.Gravity || heavy.Density != 800 || heavy.LifeMax != cedar.LifeMax {
		t.Errorf("a heavy one holds screws by more than was told: %+v %v", heavy, err)
	}
	with := us.WithTimbers(map[string]string{"own:lane-ash": "Lane ash, like cedar, 2x6 at 8 ft for 6"})
	if !with.Sold("2x6", "own:lane-ash") || with.Sold("2x8", "own:lane-ash") || us.Sold("2x6", "own:lane-ash") {
		t.Error("it is sold where it was not told, or the catalogue itself has it")
	}
	if !with.Sells("2x6/own:lane-ash/8 ft") || with.WithTimbers(nil).Sells("2x6/own:lane-ash/8 ft") {
		t.Error("it is no goods, or it stays once it is gone")
	}
	for text, says := range map[string]string{
		"":                                           "needs a name",
		"Lane ash":                                   "as strong as",
		"Lane ash, 2x6 at 8 ft for 6":                "as strong as",
		"Lane ash, like teak, 2x6 at 8 ft for 6":     "may be like cedar or redwood",
		"Lane ash, like ply, 2x6 at 8 ft for 6":      "may be like cedar",
		"Lane ash, like cedar":                       "needs a board",
		"Lane ash, like cedar, 3x9 at 8 ft for 6":    "no board here",
		"Lane ash, like cedar, 2x6 at 8 ft for free": "free",
		"Lane ash, like cedar, 2x6 at 8 ft for 0":    "goes to the shed",
		"Lane ash, like cedar, 2x6 at 99 ft for 6":   "26 ft",
		"Lane ash, like cedar, lasts 9 to 5 years, 2x6 at 8 ft for 6":       "from fewer to more",
		"Lane ash, like cedar, 20 kg/m³, 2x6 at 8 ft for 6":                 "250 to 1200",
		"Lane ash, like cedar, 2x6 at 8 ft for 6, 2x6 at 8 ft for 7":        "told twice",
		"Lane ash, like cedar, 2x6 at 8 ft for 1,250":                       "thousand",
		"Lane ash, like cedar, bends well, 2x6 at 8 ft for 6":               "nothing else that is told",
		strings.Repeat("ash", 20) + ", like cedar, 2x6 at 8 ft for 6":       "up to 40",
		"!!, like cedar, 2x6 at 8 ft for 6":                                 "needs a name",
		"Lane ash, like cedar, exterior plywood 23/32 at 8 ft for 6":        "no board here",
		"Lane ash, like cedar, 2x6 at 8 ft for 6, 2x6 at about 10 ft for 7": "not a length",
	} {
		if _, _, err := us.ParseTimber(text); err == nil || !strings.Contains(err.Error(), says) ||
			!strings.Contains(err.Error(), "write it like") {
			t.Errorf("%q: %v, want %q", text, err, says)
		}
	}
}
