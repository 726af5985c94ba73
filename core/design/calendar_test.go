package design

import (
	"encoding/json"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// What is typed of a calendar is read as people write it, and written as it is read; what cannot be read says what can.
func TestReadCalendar(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d := New(cat, "beds")
	for _, x := range []struct{ key, value, want string }{
		{"start", "2027-04-03", ""}, {"start", "3 April", "2027-04-03"}, {"start", "2027-02-30", "no day"},
		{"people", "2", ""}, {"people", "0", "1 to 12"}, {"people", "two", "1 to 12"}, {"pace", "slow", "quick"},
		{"sat", "9-12, 13:30-17", ""}, {"sat", "13-17,9-12", ""}, {"sat", "9-12,11-13", "over one another"},
		{"sat", "9", "13:30-17"}, {"sat", "25-26", "13:30-17"}, {"sun", "-", ""}, {"sun", "", ""},
		{"away", "2027-04-10, 2027-05-01 to 2027-05-03", ""}, {"away", "2027-05-03 to 2027-05-01", "later"},
		{"away", "next week", "2027-04-03"}, {"brought", "Monday, thu", ""}, {"brought", "any", ""},
		{"brought", "payday", "mon"}, {"zone", "Europe/Lisbon", ""}, {"zone", "Fennick/Reach", "Europe/Lisbon"},
		{"zone", "Local", "Europe/Lisbon"}, {"forecast", "2027-04-03,30,50,0", ""},
		{"forecast", "day,low_c,high_c,rain_mm\n2027-04-03,-2,9,1.5\n2027-04-04,3,12,0", ""},
		{"forecast", "2027-04-03,2,9", "four columns"}, {"forecast", "2027-04-03,9,2,0", "line 1"},
		{"forecast", "2027-04-03,a,2,0", "column 2"}, {"forecast", "2027-04-03,1,2,0\n2027-04-03,1,2,0", "twice"},
		{"lunch", "12", `no "lunch"`},
	} {
		next, err := Apply(d, cat, Edit{Field: "calendar:" + x.key, Value: x.value})
		switch {
		case x.want == "" && err != nil:
			t.Errorf("%s %q: %v", x.key, x.value, err)
		case x.want != "" && (err == nil || !strings.Contains(err.Error(), x.want)):
			t.Errorf("%s %q: %v, want %q", x.key, x.value, err, x.want)
		case err == nil:
			raw, err := next.Encode()
			if err != nil {
				t.Fatal(err)
			}
			var back Design
			if err := json.Unmarshal(raw, &back); err != nil {
				t.Fatalf("%s %q cannot be read back: %v", x.key, x.value, err)
			}
			if again, err := back.Encode(); err != nil || string(again) != string(raw) {
				t.Errorf("%s %q is not the same read back", x.key, x.value)
			}
		}
	}
	d, err = Apply(d, cat, Edit{Field: "calendar:away", Value: "2027-05-02, 2027-05-01 to 2027-05-03,2027-04-10"},
		Edit{Field: "calendar:forecast", Value: "2027-04-03,32,50,1"})
	if err != nil {
		t.Fatal(err)
	}
	if got := d.Calendar.AwayText(); got != "2027-04-10, 2027-05-01 to 2027-05-03" {
		t.Errorf("away %q", got)
	}
	if w := d.Calendar.Forecast[0]; w.Low != 0 || w.High != 10 || w.Rain != 25.4 {
		t.Errorf("32 to 50 °F and an inch are %+v", w)
	}
	if list, err := ReadForecast(ForecastText(d.Calendar.Forecast), measure.Imperial); err != nil || len(list) != 1 ||
		list[0] != d.Calendar.Forecast[0] {
		t.Errorf("read back %+v, %v", list, err)
	}
	for _, hours := range []string{"mon", "tue", "wed", "thu", "fri", "sun"} {
		if d, err = Apply(d, cat, Edit{Field: "calendar:" + hours, Value: "-"}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := Apply(d, cat, Edit{Field: "calendar:sat", Value: ""}); err == nil {
		t.Error("a week without an hour is taken")
	}
}
