package measure

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os/exec"
	"strconv"
	"strings"
	"testing"
)

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text string
		sys  System
		want Length
	}{
		{`8'`, Metric, 8 * Foot},
		{`8 ft`, Imperial, 8 * Foot},
		{`7'6"`, Metric, 90 * Inch},
		{`7' 6 1/2"`, Metric, 90*Inch + Inch/2},
		{`7 ft 6 1/2 in`, Metric, 90*Inch + Inch/2},
		{`7'6`, Imperial, 90 * Inch},
		{`93 1/2 in`, Metric, 93*Inch + Inch/2},
		{`93-1/2"`, Metric, 93*Inch + Inch/2},
		{`93.5 in`, Metric, 93*Inch + Inch/2},
		{`5/8"`, Metric, Inch * 5 / 8},
		{`½`, Imperial, Inch / 2},
		{`6½"`, Metric, 6*Inch + Inch/2},
		{`7′ 6½″`, Metric, 90*Inch + Inch/2},
		{`7’6”`, Metric, 90 * Inch},
		{`2.4 m`, Imperial, 2400 * Millimetre},
		{`2,4 m`, Imperial, 2400 * Millimetre},
		{`240 cm`, Imperial, 2400 * Millimetre},
		{`2400 mm`, Imperial, 2400 * Millimetre},
		{`2400`, Metric, 2400 * Millimetre},
		{`24`, Imperial, 2 * Foot},
		{`.5 in`, Metric, Inch / 2},
		{`0`, Metric, 0},
		{`1/3 in`, Metric, 8_466_667}, // nearest nanometre
		{`8'-0"`, Metric, 8 * Foot},
		{`8' - 3 1/2"`, Metric, 99*Inch + Inch/2},
		{`7 ft - 6`, Metric, 90 * Inch},
		{`7-6`, Imperial, 90 * Inch},
		{`7-6 1/2`, Imperial, 90*Inch + Inch/2},
		{`7-1/2`, Imperial, 7*Inch + Inch/2},
		{`480`, Imperial, 40 * Foot},
	} {
		if got, err := Parse(c.text, c.sys); err != nil || got != c.want {
			t.Errorf("Parse(%q, %s) = %d, %v; want %d", c.text, c.sys, got, err, c.want)
		}
	}
	for _, c := range []struct {
		text string
		want error
	}{
		{"", ErrEmpty}, {"  ", ErrEmpty}, {"-3 in", ErrNegative}, {"−3", ErrNegative}, {"abc", ErrSyntax}, {"3 feets",
			ErrSyntax},
		{"1/0 in", ErrZeroBelow}, {"101 m", ErrTooLong}, {"2 m 3 in", ErrMixed}, {"3 in 2 ft", ErrSyntax}, {"3 3",
			ErrSyntax},
		{"2400", ErrEither}, {"481", ErrEither}, {"8'-", ErrSyntax}, {"7-", ErrSyntax},
		{"3.in", ErrSyntax}, {"1e3", ErrSyntax}, {strings.Repeat("9", 70), ErrSyntax},
	} {
		got, err := Parse(c.text, Imperial)
		var p *ParseError
		if !errors.Is(err, c.want) || !errors.As(err, &p) || !strings.Contains(err.Error(), "write it like") {
			t.Errorf("Parse(%q) = %v, %v; want %v with an example", c.text, got, err, c.want)
		}
	}
}

// What is a thousand to some and one to others is refused in every reader of
// numbers, and what has but one meaning is read.
func TestThousands(t *testing.T) {
	for _, text := range []string{"1,000 mm", "2,400", "1,000 in", "1,250 m", "12,000 mm", "7 ft 1,000 in"} {
		for _, sys := range []System{Imperial, Metric} {
			if l, err := Parse(text, sys); !errors.Is(err, ErrThousands) {
				t.Errorf("Parse(%q) = %v, %v; want a refusal", text, l, err)
			}
		}
	}
	for text, want := range map[string]Length{
		"0,125 m": 125 * Millimetre, "1,25 m": 1250 * Millimetre, "1,5 cm": 15 * Millimetre, "1.000 mm": Millimetre,
		"1,0005 m": Metre + Millimetre/2,
	} {
		if l, err := Parse(text, Metric); err != nil || l != want {
			t.Errorf("Parse(%q) = %v, %v; want %v", text, l, err, want)
		}
	}
	for _, text := range []string{"1 000 mm", "1'000 mm", "1,000,000 mm", "1,000.5 mm", "1.000,5 mm"} {
		if l, err := Parse(text, Metric); err == nil {
			t.Errorf("Parse(%q) = %v, want a refusal", text, l)
		}
	}
	if a, err := ParseArea("1,000 sq ft", Imperial); err == nil {
		t.Errorf("an area of 1,000 sq ft is read as %v", a)
	}
	if v, err := ParseNumber("7,5"); err != nil || v != 7.5 {
		t.Errorf("7,5 is read as %v, %v", v, err)
	}
}

// String and Parse are inverses, in both systems, for any length.
func TestStringParsesBack(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 20_000 {
		l := Length(r.Int64N(int64(MaxLength)))
		if r.IntN(2) == 0 {
			l -= l % (Inch / 64)
		}
		for _, sys := range []System{Imperial, Metric} {
			if got, err := Parse(l.String(), sys); err != nil || got != l {
				t.Fatalf("Parse(%q) = %d, %v; want %d", l.String(), got, err, l)
			}
		}
	}
}

func TestPrint(t *testing.T) {
	for _, c := range []struct {
		p     Precision
		l     Length
		feet  string
		short string
	}{
		{Sixteenths, 90*Inch + Inch/2, `7' 6 1/2"`, "90 1/2 in"},
		{Sixteenths, 96 * Inch, "8'", "96 in"},
		{Sixteenths, Inch * 3 / 4, `3/4"`, "3/4 in"},
		{Sixteenths, 12*Inch - Inch/64, "1'", "12 in"},
		{Eighths, Inch / 16, `1/8"`, "1/8 in"}, // halves away from zero
		{Millimetres, 2298 * Millimetre, "2298 mm", "2298 mm"},
		{FiveMillis, 2298 * Millimetre, "2300 mm", "2300 mm"},
		{Sixteenths, -Inch, `−1"`, "−1 in"},
	} {
		if got := c.p.Feet(c.l); got != c.feet {
			t.Errorf("Feet(%v) = %s, want %s", c.l, got, c.feet)
		}
		if got := c.p.Short(c.l); got != c.short {
			t.Errorf("Short(%v) = %s, want %s", c.l, got, c.short)
		}
	}
	if Sixteenths.Exact(Inch/32) || !Sixteenths.Exact(Inch/16) {
		t.Error("Exact does not tell what rounds at 1/16 in")
	}
}

// Conversions against GNU units, which Debian ships; without it, against the
// exact factors of NIST SP 811 alone.
func TestConversions(t *testing.T) {
	for _, c := range []struct {
		name, from, to string
		got, nist      float64
	}{
		{"inch", "inch", "mm", Inch.Millimetres(), 25.4},
		{"foot", "foot", "m", Foot.Metres(), 0.3048},
		{"square foot", "ft^2", "m^2", SquareFoot.SquareMetres(), 0.09290304},
		{"cubic foot", "ft^3", "m^3", CubicFeet(1000).CubicMetres() / 1000, 0.028316846592},
		{"cubic yard", "yd^3", "m^3", CubicFeet(27000).CubicMetres() / 1000, 0.764554857984},
		{"m3 in cubic yards", "m^3", "yd^3", CubicMetre.CubicYards(), 1 / 0.764554857984},
		{"pound", "lb", "kg", float64(PoundMass), 0.45359237},
		{"kilogram in pounds", "kg", "lb", Mass(1).Pounds(), 1 / 0.45359237},
		{"psi", "lbf/in^2", "Pa", float64(PSI), 6894.757293168},
	} {
		if math.Abs(c.got/c.nist-1) > 1e-9 {
			t.Errorf("%s: %v, NIST SP 811 has %v", c.name, c.got, c.nist)
		}
		path, err := exec.LookPath("units")
		if err != nil {
			t.Logf("%s: GNU units is not installed, checked against NIST SP 811 only", c.name)
			continue
		}
		out, err := exec.Command(path, "--terse", "-o", "%.12g", c.from, c.to).Output()
		if err != nil {
			t.Fatalf("units %s %s: %v", c.from, c.to, err)
		}
		want, err := strconv.ParseFloat(strings.TrimSpace(string(out)), 64)
		if err != nil || math.Abs(c.got/want-1) > 1e-9 {
			t.Errorf("%s: %v, GNU units has %s", c.name, c.got, out)
		}
	}
}

func TestAreaAndVolume(t *testing.T) {
	// 93 x 45 in, 11 1/4 in deep: 27.25 ft3 (93*45*11.25/1728).
	a := Over(93*Inch, 45*Inch)
	if got := a.By(11*Inch + Inch/4).CubicFeet(); math.Abs(got-93*45*11.25/1728) > 1e-6 {
		t.Errorf("volume %v ft3", got)
	}
	if got := Over(-2*Metre, 3*Metre); got != -6*SquareMetre {
		t.Errorf("signed area %v", got)
	}
	if got := (100 * Litre).PerMille(1150); got != 115*Litre {
		t.Errorf("15 %% more of 100 l is %v l", got.Litres())
	}
}

func ExamplePrecision_Feet() {
	l, _ := Parse(`7' 6 1/2"`, Imperial)
	fmt.Println(Sixteenths.Feet(l), "is", Millimetres.Feet(l))
	// Output: 7' 6 1/2" is 2299 mm
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{`7' 6 1/2"`, "2,4 m", "½", "93-1/2", "1/0", "--", "9'9'9'", "0.0000000000001 m"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, sys := range []System{Imperial, Metric} {
			if l, err := Parse(s, sys); err == nil && (l < 0 || l > MaxLength) {
				t.Errorf("Parse(%q) = %d is out of range", s, l)
			}
		}
	})
}

func TestParseArea(t *testing.T) {
	foot, metre := Over(Foot, Foot), Over(Metre, Metre)
	for text, want := range map[string]Area{
		"32 sq ft": 32 * foot, "32": 32 * foot, "1.5 ft²": foot * 3 / 2, "3 m²": 3 * metre, "2,5 m2": metre * 5 / 2,
		"144 sq in": foot, "20000 cm2": 2 * metre,
	} {
		if got, err := ParseArea(text, Imperial); err != nil || max(got-want, want-got) > 1 {
			t.Errorf("%s: %d, want %d; %v", text, got, want, err)
		}
	}
	if got, err := ParseArea("3", Metric); err != nil || got != 3*metre {
		t.Errorf("%d, %v", got, err)
	}
	for _, text := range []string{"", "big", "0", "-3 m2", "3 m", "1e9 m2", "20000 m2", "3 acres", "."} {
		if got, err := ParseArea(text, Metric); err == nil {
			t.Errorf("%q was read as %d", text, got)
		}
	}
	if s := Side(9 * metre); s != 3*Metre {
		t.Errorf("side %v", s)
	}
}

// A limit is said in round numbers, and what is said is within it.
func TestLimits(t *testing.T) {
	us, metric := Sixteenths, Precision{Millimetre, Metric}
	for _, c := range []struct {
		p           Precision
		l           Length
		least, most string
	}{
		{us, 300 * Millimetre, "1'", `11 1/2"`}, {us, 100 * Millimetre, `4"`, `3 3/4"`}, {us, 24 * Inch, "2'", "2'"},
		{metric, 24 * Inch, "610 mm", "605 mm"}, {metric, 300 * Millimetre, "300 mm", "300 mm"},
	} {
		if least, most := c.p.AtLeast(c.l), c.p.AtMost(c.l); least != c.least || most != c.most {
			t.Errorf("%v: from %s, up to %s; want %s and %s", c.l, least, most, c.least, c.most)
		}
	}
}

// Both readings of a bare number that is too many inches are said.
func TestParseSaysBoth(t *testing.T) {
	_, err := Parse("2400", Imperial)
	if err == nil || !strings.Contains(err.Error(), `2400 mm or 200'`) {
		t.Errorf("%v", err)
	}
	if _, err := Parse("7-6", Metric); !errors.Is(err, ErrSyntax) {
		t.Errorf("7-6 in millimetres: %v", err)
	}
}

func TestParsePair(t *testing.T) {
	for _, c := range []struct {
		text       string
		sys        System
		long, wide Length
	}{
		{"4 x 8", Imperial, 8 * Foot, 4 * Foot},
		{"4x8 ft", Imperial, 8 * Foot, 4 * Foot},
		{`8' × 4'`, Imperial, 8 * Foot, 4 * Foot},
		{`93 1/2 in by 48 in`, Imperial, 93*Inch + Inch/2, 48 * Inch},
		{"96 x 48", Imperial, 96 * Inch, 48 * Inch},
		{"2400 x 1200", Metric, 2400 * Millimetre, 1200 * Millimetre},
		{"1.2 m x 2.4 m", Imperial, 2400 * Millimetre, 1200 * Millimetre},
	} {
		long, wide, ok, err := ParsePair(c.text, c.sys)
		if !ok || err != nil || long != c.long || wide != c.wide {
			t.Errorf("%q: %v by %v, %v, %v", c.text, long, wide, ok, err)
		}
	}
	if _, _, ok, _ := ParsePair("8 ft", Imperial); ok {
		t.Error("8 ft is a pair")
	}
	if _, _, ok, err := ParsePair("8 ft x something", Imperial); !ok || err == nil {
		t.Errorf("half a pair: %v, %v", ok, err)
	}
}
