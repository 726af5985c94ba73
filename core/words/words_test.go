package words

import "testing"

// Each region by its own words and sizes; what people wrote stays. Spellings: common usage
// in the United States and in Britain.
func TestSay(t *testing.T) {
	us, metric := Speech{American: true, Imperial: true}, Speech{}
	for _, c := range []struct{ text, us, metric string }{
		{"The car takes mitred caps.", "The truck takes mitered caps.", "The car takes mitred caps."},
		{"Turf, then a carton of timber.", "Sod, then a carton of lumber.", "Turf, then a carton of timber."},
		{"Railway sleepers; a paving slab under each", "Railroad ties; a paver under each",
			"Railway sleepers; a paving slab under each"},
		{"paved with paving", "paved with paving", "paved with paving"},
		{"10 barrow-loads", "10 wheelbarrow-loads", "10 barrow-loads"},
		{"every 6 in (150 mm)", "every 6 in", "every 150 mm"},
		{"one every foot (300 mm) and an inch (25 mm)", "one every foot and an inch", "one every 300 mm and 25 mm"},
		{"12 to 16 in (300 to 400 mm) deep", "12 to 16 in deep", "300 to 400 mm deep"},
		{"no thinner than 19 mm (3/4 in)", "no thinner than 3/4 in", "no thinner than 19 mm"},
		{"bears 1500 lb/ft² (72 kN/m²).", "bears 1500 lb/ft².", "bears 72 kN/m²."},
		{"one slot (two in all)", "one slot (two in all)", "one slot (two in all)"},
		{"Car Park: 3 cars", "Car Park: 3 trucks", "Car Park: 3 cars"},
		{"", "", ""},
	} {
		if got := us.Say(c.text, "Car Park"); got != c.us {
			t.Errorf("%q is said %q, want %q", c.text, got, c.us)
		}
		if got := metric.Say(c.text, "Car Park"); got != c.metric {
			t.Errorf("%q is said %q, want %q", c.text, got, c.metric)
		}
	}
	if got := (Speech{Both: true}).Say("every 6 in (150 mm)"); got != "every 6 in (150 mm)" {
		t.Errorf("of no region: %q", got)
	}
}
