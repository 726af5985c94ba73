package money

import "testing"

func TestParse(t *testing.T) {
	for text, want := range map[string]Amount{"11.40": 1140, "11,4": 1140, "11": 1100, ".5": 50, "0": 0, " 3.07 ": 307,
		"$12.50": 1250, "12,50 €": 1250, "£ 3": 300, "1,250.00": 125000} {
		if got, err := Parse(text); err != nil || got != want {
			t.Errorf("Parse(%q) = %d, %v; want %d", text, got, err, want)
		}
	}
	for _, text := range []string{"", "-1", "1.234", "1e3", "abc", "99999999999", ".", "1.2.3", "$", "1,250", "12 in",
		"1,25.00"} {
		if got, err := Parse(text); err == nil {
			t.Errorf("Parse(%q) = %d, want a refusal", text, got)
		}
	}
}

func TestRounding(t *testing.T) {
	for _, c := range []struct {
		name      string
		got, want Amount
	}{
		{"7.25 % of 10.00, half a cent up", Amount(1000).Rate(725), 73},
		{"20 % of 0.02", Amount(2).Rate(2000), 0},
		{"a third of 1.00", Amount(100).Per(3), 33},
		{"two thirds up", Amount(200).Per(3), 67},
		{"over nothing", Amount(200).Per(0), 0},
	} {
		if c.got != c.want {
			t.Errorf("%s: %v, want %v", c.name, c.got, c.want)
		}
	}
	if got := (Currency{Symbol: "$"}).Format(-123456789); got != "−$1,234,567.89" {
		t.Errorf("Format = %s", got)
	}
}
