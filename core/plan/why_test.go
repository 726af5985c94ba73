package plan_test

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/why"
	"chamfer/long"
)

// A calculator that knows only what is printed: numbers with their units, and how far each
// may be from what it was before it was rounded. It shares nothing with what prints them.

// span is what a printed number may have been.
type span struct{ lo, hi float64 }

func exact(v float64) span { return span{v, v} }

func combine(a, b span, f func(x, y float64) float64) span {
	out := exact(f(a.lo, b.lo))
	for _, v := range []float64{f(a.lo, b.hi), f(a.hi, b.lo), f(a.hi, b.hi)} {
		out.lo, out.hi = math.Min(out.lo, v), math.Max(out.hi, v)
	}
	return out
}

// Units in SI (NIST SP 811 and handbook 44), the longest first.
var unitValues = []struct {
	name string
	is   float64
}{
	{
		"lb/cu ft",
		0.45359237 / 0.028316846592,
	}, {"lb/sq ft", 4.4482216152605 / 0.09290304}, {"lb/ft", 4.4482216152605 / 0.3048},
	{
		"kg/m³",
		1,
	}, {"kN/m²", 1000}, {"N/m", 1}, {"cu yd", 0.764554857984}, {"cu ft", 0.028316846592}, {"sq ft", 0.09290304},
	{
		"years",
		1,
	}, {"m³", 1}, {"m²", 1}, {"mm", 0.001}, {"kg", 1}, {"lb", 0.45359237}, {"in", 0.0254}, {"ft", 0.3048}, {"%", 0.01},
	{"N", 1}, {"l", 0.001}, {"m", 1},
}

var (
	printed = regexp.MustCompile(`^−?[$£€]?\d[\d,]*(\.\d+)?`)
	trailer = regexp.MustCompile(`^ ?[^\d×÷+−=(),√π]*`)
)

// calculator reads a sum from left to right, × and ÷ before + and −.
type calculator struct {
	text  string
	force bool // lb is a force
	fault string
}

func (c *calculator) skip() { c.text = strings.TrimLeft(c.text, " ") }

func (c *calculator) eat(s string) bool {
	c.skip()
	if strings.HasPrefix(c.text, s) {
		c.text = c.text[len(s):]
		return true
	}
	return false
}

func (c *calculator) sum() span {
	v := c.product()
	for {
		switch {
		case c.eat("+"):
			v = combine(v, c.product(), func(x, y float64) float64 { return x + y })
		case c.eat("−"):
			v = combine(v, c.product(), func(x, y float64) float64 { return x - y })
		default:
			return v
		}
	}
}

func (c *calculator) product() span {
	v := c.value()
	for {
		switch {
		case c.eat("×"):
			v = combine(v, c.value(), func(x, y float64) float64 { return x * y })
		case c.eat("÷"):
			v = combine(v, c.value(), func(x, y float64) float64 { return x / y })
		default:
			return v
		}
	}
}

func (c *calculator) value() span {
	c.skip()
	switch {
	case c.eat("("):
		v := c.sum()
		if !c.eat(")") {
			c.fault = "no ) at " + c.text
		}
		return v
	case c.eat("√("):
		v := c.sum()
		c.eat(")")
		return span{math.Sqrt(v.lo), math.Sqrt(v.hi)}
	case c.eat("π"):
		return exact(math.Pi)
	case c.eat("the greatest of "):
		v := c.sum()
		for c.eat("and") {
			v = combine(v, c.sum(), math.Max)
		}
		return v
	}
	if v, ok := c.length(); ok {
		c.text = c.text[len(trailer.FindString(c.text)):]
		return v
	}
	text := printed.FindString(c.text)
	if text == "" {
		c.fault = "no number at " + c.text
		return span{}
	}
	c.text = c.text[len(text):]
	digits := strings.NewReplacer(",", "", "$", "", "£", "", "€", "", "−", "-").Replace(text)
	n, _ := strconv.ParseFloat(digits, 64)
	half := 0.5
	if _, after, ok := strings.Cut(digits, "."); ok {
		half = 0.5 * math.Pow(10, -float64(len(after)))
	}
	v := span{n - half, n + half}
	c.skip()
	found := false
	for _, u := range unitValues {
		if rest, ok := strings.CutPrefix(c.text, u.name); ok && (rest == "" || !isLetter(rest[0])) {
			is := u.is
			if c.force && u.name == "lb" {
				is = 4.4482216152605
			}
			if u.name == "lb" && n >= 1000 && n == math.Trunc(n/10)*10 ||
				u.name == "kg" && n >= 1000 && n == math.Trunc(n/10)*10 {
				v = span{n - 5, n + 5} // told in tens
			}
			v, c.text, found = span{v.lo * is, v.hi * is}, rest, true
			break
		}
	}
	if !found && !strings.Contains(digits, ".") {
		v = exact(n) // a count
	}
	c.text = c.text[len(trailer.FindString(c.text)):]
	return v
}

func isLetter(b byte) bool { return b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' }

// length reads 7' 6 1/2" or 4".
func (c *calculator) length() (span, bool) {
	m := regexp.MustCompile(`^(−?)(?:(\d+)')? ?(?:(\d+)?(?: ?(\d+)/(\d+))?")?`).FindStringSubmatch(c.text)
	if m == nil || !strings.ContainsAny(m[0], `'"`) {
		return span{}, false
	}
	of := func(s string) float64 { n, _ := strconv.ParseFloat(s, 64); return n }
	inches := 12*of(m[2]) + of(m[3])
	if m[5] != "" {
		if m[3] != "" && m[4] != "" && !strings.Contains(m[0], " "+m[4]+"/") && !strings.HasPrefix(m[0], m[4]+"/") {
			inches = 12*of(m[2]) + of(m[3]+m[4])/of(m[5])
		} else {
			inches += of(m[4]) / of(m[5])
		}
	}
	if m[1] != "" {
		inches = -inches
	}
	c.text = strings.TrimRight(c.text[len(m[0]):], " ") // what is left
	return span{(inches - 1./32) * 0.0254, (inches + 1./32) * 0.0254}, true
}

// check evaluates one printed sum, a = b or a = b = c; it returns what is wrong with it.
func check(text string, force bool) string {
	if name, sum, ok := strings.Cut(text, ": "); ok && !strings.Contains(name, "=") {
		text = sum
	}
	sides := strings.Split(text, " = ")
	if len(sides) < 2 {
		return ""
	}
	var last span
	for i, side := range sides {
		side, up := strings.CutSuffix(side, ", rounded up")
		c := calculator{text: side, force: force}
		v := c.sum()
		if c.skip(); c.fault != "" || c.text != "" {
			return fmt.Sprintf("cannot be read: %s %q", c.fault, c.text)
		}
		if up {
			v = span{math.Ceil(v.lo - 1e-9), math.Ceil(v.hi - 1e-9)}
		}
		if i > 0 && (v.lo > last.hi+1e-9*math.Abs(last.hi) || v.hi < last.lo-1e-9*math.Abs(last.lo)) {
			return fmt.Sprintf("%.6g to %.6g is not %.6g to %.6g", last.lo, last.hi, v.lo, v.hi)
		}
		last = v
	}
	return ""
}

// whys are all of a plan's.
func whys(p *plan.Plan) map[string]why.Why {
	all := map[string]why.Why{}
	add := func(stage string, list []why.Figure) {
		for _, f := range list {
			all[stage+", "+f.Label] = f.Why
		}
	}
	add("tally", p.Tally)
	add("ground", p.OfGround())
	add("fill", p.OfFill())
	for _, b := range p.Design.Beds {
		add("sizes of "+b.Name, p.OfSizes(b.ID))
	}
	add("cuts", []why.Figure{p.OfWaste()})
	for _, f := range p.Findings {
		all["finding "+f.Code] = f.Why
	}
	return all
}

// Every why of every example in both regions, evaluated from what is printed to what is
// printed.
func TestWhysCompute(t *testing.T) {
	sums := 0
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range design.Examples() {
			d, err := design.ExampleNamed(e.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			sums += compute(t, region+" "+e.Name, p)
			told(t, region+" "+e.Name, p)
		}
	}
	t.Logf("%d sums", sums)
	if sums < 500 {
		t.Errorf("only %d sums were found", sums)
	}
}

// compute evaluates all whys of a plan and returns how many sums there were.
func compute(t *testing.T, what string, p *plan.Plan) int {
	t.Helper()
	n := 0
	for name, w := range whys(p) {
		for i, x := range w.Steps {
			if d, ok := x.Of.Dimension(); !ok || d != x.As.Dimension() {
				t.Errorf("%s: %s: step %d is no %v", what, name, i, x.As)
			}
		}
		told := p.Explain(w)
		for _, line := range append(told.Inputs, told.Sum) {
			if !strings.Contains(line, " = ") {
				continue
			}
			n++
			force := slices.ContainsFunc(w.Steps, func(x why.Step) bool {
				return x.As == why.Force || x.As == why.Pressure || strings.Contains(told.Sum, "what comes to it")
			})
			if fault := check(line, force); fault != "" {
				t.Errorf("%s: %s: %s: %s", what, name, line, fault)
			}
		}
	}
	return n
}

// What the figures come to is what is ordered, dug and paid: the words are of the same
// thing as the quantities.
func told(t *testing.T, what string, p *plan.Plan) {
	t.Helper()
	near := func(label string, got, want float64) {
		if math.Abs(got-want) > 3e-6*math.Max(1e-3, math.Abs(want)) {
			t.Errorf("%s: %s comes to %.9g, and is %.9g", what, label, got, want)
		}
	}
	near("planting", p.Figure("area").Value, p.Area().SquareMetres())
	near("soil", p.Figure("soil").Value, p.Fill.Order.CubicMetres())
	near("weight", p.Figure("weight").Value, float64(p.Fill.WetMass))
	near("total", p.Figure("total").Value, float64(p.Bill.Total))
	near("units", p.Figure("units").Value, float64(p.Units()))
	if f := p.Figure("boards"); f.Key != "" {
		near("boards", f.Value, float64(p.Boards()))
	}
	if f := p.Figure("screws"); f.Key != "" {
		near("fixings", f.Value, float64(p.Screws()))
	}
	fill := p.OfFill()
	near("between the walls", fill[0].Value, p.Fill.Gross.CubicMetres())
	near("settled", fill[1].Value, p.Fill.Net.CubicMetres())
	for _, f := range fill {
		if f.Label == "barrow loads" {
			near(f.Label, f.Value, float64(p.Fill.Barrows))
		}
	}
	by := map[string]why.Figure{}
	for _, f := range p.OfGround() {
		by[f.Label] = f
	}
	near("footprint", by["footprint"].Value, p.Ground.Footprint.SquareMetres())
	near("turf", by["turf to strip"].Value, p.Ground.Grass["strip"].SquareMetres())
	near("dug", by["to dig out of the trench"].Value, p.Laying.Dug.CubicMetres())
	for _, h := range p.Laying.Heaps {
		near(h.Loose.Name, by[h.Loose.Name].Value, h.Volume.CubicMetres())
		near(h.Loose.Name+" in packs", by[h.Loose.Name+", by the "+h.Loose.Pack].Value, float64(h.Packs+h.Have))
	}
}

// Whys of random designs of all systems with all extras, likewise.
func TestWhysOfRandomDesigns(t *testing.T) {
	sums, n := 0, 0
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		r := newDealer(17)
		for range long.Of(250) * 2 {
			d, ok := some(r, shop)
			if !ok {
				continue
			}
			p, err := plan.Make(furnished(r.Rand, d, shop), shop)
			if err != nil {
				continue
			}
			n++
			what := region + " " + p.Design.Beds[0].System
			sums += compute(t, what, p)
			told(t, what, p)
		}
	}
	t.Logf("%d sums of %d designs", sums, n)
}
