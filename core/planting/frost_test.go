package planting

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
)

// Growing degrees by three methods, worked by hand (REFERENCE; McMaster & Wilhelm 1997, Baskerville & Emin 1969).
func TestDegrees(t *testing.T) {
	for _, c := range [][5]float64{{25, 13, 9, 9, 9}, {18, 4, 1, 4, 2.7509}, {12, 2, 0, 1, 0.3877}, {9, -1, 0, 0, 0},
		{33, 21, 17, 15.5, 17}, {30, 16, 13, 13, 13}} {
		for k, how := range []string{"average", "limited", "sine"} {
			if got := Degrees(c[1], c[0], 10, 30, how); math.Abs(got-c[2+k]) > 1e-4 {
				t.Errorf("%v by %s: %v, want %v", c[:2], how, got, c[2+k])
			}
		}
	}
	sum := [2]float64{}
	for _, d := range [][2]float64{{18, 6}, {20, 8}, {15, 3}, {11, 1}, {22, 12}, {25, 13}, {24, 14}} {
		sum[0] += Degrees(d[1], d[0], 10, 30, "average")
		sum[1] += Degrees(d[1], d[0], 10, 30, "limited")
	}
	if sum != [2]float64{31, 37} {
		t.Errorf("a week comes to %v, want 31 and 37", sum)
	}
}

// Nine invented years whose last frosts are known: of nine the latest is passed in one of ten, the fifth in half; the
// same nights half a year later, south of the equator, give the same half a year later.
func TestFrostOfRecords(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	lasts := []int{120, 131, 118, 125, 110, 129, 122, 116, 127} // days of the year; sorted 131 129 127 125 122 ...
	firsts := []int{280, 291, 275, 283, 288, 270, 279, 285, 277}
	for _, south := range []bool{false, true} {
		var b strings.Builder
		b.WriteString("day,min,max\n")
		for k := range lasts {
			for day := 1; day <= 365; day++ {
				min := 2 + r.Float64()*12
				if day == lasts[k] || day == firsts[k] || day < 60 {
					min = -1.5
				}
				at := time.Date(2001+4*(k/4)+k%4, 1, day, 0, 0, 0, 0, time.UTC)
				if south {
					at = time.Date(2001+k, 7, day, 0, 0, 0, 0, time.UTC)
				}
				fmt.Fprintf(&b, "%s,%.1f,%.1f\n", at.Format(time.DateOnly), min, min+9)
			}
		}
		nights, err := ReadNights(strings.NewReader(b.String()))
		if err != nil {
			t.Fatal(err)
		}
		f, err := FrostOf(nights, south)
		if err != nil {
			t.Fatal(err)
		}
		want := []string{"05-11", "05-02", "09-27", "10-07"} // days 131, 122; 270, 280
		if south {
			want = []string{"11-08", "10-30", "03-27", "04-06"}
		}
		for i, got := range []time.Time{f.Last, f.LastHalf, f.First, f.FirstHalf} {
			at, _ := time.Parse("01-02", want[i])
			if d := got.YearDay() - at.YearDay(); d < -3 || d > 3 {
				t.Errorf("south %v, date %d: %s, want %s", south, i, got.Format("01-02"), want[i])
			}
			if d := got.YearDay() - at.YearDay(); !south && d != 0 && d != 1 && d != -1 {
				t.Errorf("date %d: %s, want %s", i, got.Format("01-02"), want[i])
			}
		}
		if f.Years != 9 || f.Risk != 0.1 {
			t.Errorf("%+v", f)
		}
	}
	if _, err := FrostOf(nil, false); err == nil {
		t.Error("nothing says something")
	}
	for _, text := range []string{"2019-05-03", "day\nx,1", "2019-05-03,cold"} {
		if _, err := ReadNights(strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), "line") {
			t.Errorf("%q: %v", text, err)
		}
	}
}
