package work

import (
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Every rate and wait can be read, has its source, is at least as long at most as at least, and some step is made of
// it.
func TestTables(t *testing.T) {
	files, err := filepath.Glob("*.go")
	if err != nil {
		t.Fatal(err)
	}
	code := ""
	for _, f := range files {
		if strings.HasSuffix(f, "_test.go") {
			continue
		}
		raw, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		code += string(raw)
	}
	if len(Rates()) < 30 || len(Waits()) < 8 {
		t.Fatalf("%d rates and %d waits", len(Rates()), len(Waits()))
	}
	for key, r := range Rates() {
		if r.Low <= 0 || r.High < r.Low || r.Source == "" || r.What == "" || r.Unit == "" {
			t.Errorf("%+v", r)
		}
		if named := `"` + key + `"`; !strings.Contains(code, named) && !strings.HasPrefix(key, "dig-") {
			t.Errorf("no step is made of %s", key)
		}
	}
	for key, w := range Waits() {
		if w.Low < 0 || w.High < w.Low || w.Source == "" || w.What == "" {
			t.Errorf("%+v", w)
		}
		if !strings.Contains(code, `"`+key+`"`) {
			t.Errorf("nothing waits for %s", key)
		}
	}
}

// Waits as they are told in the trade (common practice, and ACI 308R for what is cast, from memory): mortar bears no
// load for a day and a light filling after three to seven; what is cast is damp for a week; soil settles in two to
// seven days, over branches in two to four weeks. Seven days at 20 °C are ten and a half at 10.
func TestWaits(t *testing.T) {
	const day = 24
	for key, want := range map[string][2]float64{"mortar": {3 * day, 7 * day}, "bed-joint": {day, day}, "cast": {7 * day,
		7 * day}, "glue": {day, day}, "soil": {2 * day, 7 * day}, "rough": {14 * day, 28 * day}} {
		if w := Waits()[key]; w.Low != want[0] || w.High != want[1] {
			t.Errorf("%s waits %v to %v hours", key, w.Low, w.High)
		}
	}
	if w := Waits()["cast"].At(10); w.High != 10.5*day {
		t.Errorf("at 10 °C %v days", w.High/day)
	}
	if w := Waits()["soil"].At(10); w != Waits()["soil"] {
		t.Error("soil settles by warmth")
	}
}

// Work worked by hand: 1.62 m3 loose by a barrow of 65 l over 20 m at 50 m a minute, two minutes to load and one to
// tip, is 25 trips of 3.8 minutes, 95 in all; 1.296 m3 of loam at 0.6 m3 an hour are 130 minutes; a bed of 4 by 8 ft
// is lined in 20 to 40. What is reckoned has each between the shorter and the longer time, before rest and setting
// up.
func TestRates(t *testing.T) {
	bare := func(chores ...Chore) (low, high float64) {
		low, high = Step{Chores: chores}.Minutes()
		more := Rates()["allowance"]
		return low / more.Low, high / more.High
	}
	const bedArea = 4 * 8 * 0.09290304
	for _, x := range []struct {
		what   string
		want   float64
		chores []Chore
	}{
		{"filling", 95, []Chore{{Rates()["fill"], 1.62}, {Rates()["barrow"], math.Ceil(1.62 / 0.065)}}},
		{"digging", 129.6, []Chore{{Rates()["dig-loam"], 1.296}}},
		{"lining, at least", 21, []Chore{{Rates()["sheet"], bedArea}}},
		{"lining, at most", 38, []Chore{{Rates()["sheet"], bedArea}}},
		{"100 screws with pilots, at 40 s", 100 * 40.0 / 60, []Chore{{Rates()["drill"], 100}, {Rates()["drive"], 100}}},
		{"100 screws with pilots, at 73 s", 100 * 73.0 / 60, []Chore{{Rates()["drill"], 100}, {Rates()["drive"], 100}}},
		{"20 blocks at 9 an hour", 20 * 60.0 / 9, []Chore{{Rates()["block"], 20}}},
	} {
		if low, high := bare(x.chores...); x.want < low-0.5 || x.want > high+0.5 {
			t.Errorf("%s: %.0f to %.0f minutes, by hand %.0f", x.what, low, high, x.want)
		}
	}
}
