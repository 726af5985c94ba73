package catalog

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

// Dressed sizes against PS 20-20, American Softwood Lumber Standard, table of
// minimum dressed dry sizes (from memory), and the section properties of NDS
// Supplement 2018 Table 1B that follow from them.
func TestDressedSizes(t *testing.T) {
	c, err := ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	for _, w := range []struct {
		id               string
		thick, wide      float64 // in
		area, sxx, ixx64 float64 // in2, in3, in4 (Table 1B, edgewise)
	}{
		{"1x6", 0.75, 5.5, 4.125, 3.781, 10.4},
		{"2x4", 1.5, 3.5, 5.25, 3.063, 5.359},
		{"2x6", 1.5, 5.5, 8.25, 7.563, 20.8},
		{"2x8", 1.5, 7.25, 10.88, 13.14, 47.63},
		{"2x10", 1.5, 9.25, 13.88, 21.39, 98.93},
		{"2x12", 1.5, 11.25, 16.88, 31.64, 178},
		{"4x4", 3.5, 3.5, 12.25, 7.146, 12.51},
		{"4x6", 3.5, 5.5, 19.25, 17.65, 48.53},
	} {
		p, err := c.Profile(w.id)
		if err != nil {
			t.Error(err)
			continue
		}
		b, d := p.Thickness.Inches(), p.Width.Inches()
		if b != w.thick || d != w.wide {
			t.Errorf("%s is %v x %v in, PS 20 has %v x %v", w.id, b, d, w.thick, w.wide)
		}
		for what, pair := range map[string][2]float64{"A": {b * d, w.area}, "Sxx": {b * d * d / 6, w.sxx},
			"Ixx": {b * d * d * d / 12, w.ixx64}} {
			if math.Abs(pair[0]/pair[1]-1) > 0.001 {
				t.Errorf("%s %s = %.4g, Table 1B has %v", w.id, what, pair[0], pair[1])
			}
		}
	}
}

// What the shop sells hangs together: every offer's profile and species exist,
// longer boards cost more, every species can be bent, every screw has packs.
func TestCatalogueHangsTogether(t *testing.T) {
	for _, c := range Regions() {
		if len(c.Profiles) < 6 || len(c.Species) < 4 || len(c.Drills) == 0 || c.Thinnest == 0 || len(c.Reach) != 4 {
			t.Errorf("%s: something is missing", c.ID)
		}
		last := map[string]Offer{}
		for _, o := range c.Offers {
			if _, err := c.Profile(o.Profile); err != nil {
				t.Error(err)
			}
			if _, err := c.SpeciesOf(o.Species); err != nil {
				t.Error(err)
			}
			key := o.Profile + "/" + o.Species
			if before, ok := last[key]; ok && (o.Price <= before.Price || o.Length <= before.Length) {
				t.Errorf("%s: %s for %v after %s for %v", c.ID, o.SKU, o.Price, before.SKU, before.Price)
			}
			last[key] = o
		}
		for _, s := range c.Species {
			if len(s.Bending) == 0 || s.E <= 0 || s.LifeMin <= 0 || s.LifeMax < s.LifeMin {
				t.Errorf("%s: %s lacks strength or life", c.ID, s.ID)
			}
		}
		for _, f := range c.Fixings {
			if len(f.Packs) == 0 || f.Root <= 0 || f.Root >= f.Diameter {
				t.Errorf("%s: %s lacks packs, or its root is no thinner than it", c.ID, f.ID)
			}
		}
		if err := c.Habits.Check(); err != nil {
			t.Errorf("%s: %v", c.ID, err)
		}
		if _, err := c.Profile("9x9"); err == nil {
			t.Error("a 9x9 was found")
		}
	}
}

// Twins of the two regions are of one concrete: within a twentieth of one density.
func TestTwinsAreOfOneDensity(t *testing.T) {
	us, err := ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	metric, err := ForRegion("metric")
	if err != nil {
		t.Fatal(err)
	}
	for a, b := range map[string]string{"wall12": "wall300", "wall12l": "wall300l", "cap12": "cap300",
		"ring12": "ring300", "edging": "edging"} {
		one, err1 := us.Unit(a)
		two, err2 := metric.Unit(b)
		if err1 != nil || err2 != nil {
			t.Fatal(err1, err2)
		}
		density := func(u Unit) float64 {
			return u.Mass / measure.Over((u.Length+u.Back)/2, u.Depth).By(u.Height).CubicMetres()
		}
		if d, e := density(one), density(two); d/e < 0.95 || d/e > 1.05 {
			t.Errorf("%s weighs %.0f kg/m³, %s %.0f", a, d, b, e)
		}
	}
}

func TestHabitsCheck(t *testing.T) {
	for name, spoil := range map[string]func(*Habits){
		"kerf":      func(h *Habits) { h.Kerf = measure.Inch },
		"tax":       func(h *Habits) { h.TaxBasisPoints = 9000 },
		"settling":  func(h *Habits) { h.SettlingPerMille = -1 },
		"spare":     func(h *Habits) { h.SparePerMille = 501 },
		"carry":     func(h *Habits) { h.Carry = measure.Inch },
		"currency":  func(h *Habits) { h.CurrencySymbol = "crowns" },
		"precision": func(h *Habits) { h.Precision = "1/3 in" },
	} {
		h := Regions()[0].Habits
		spoil(&h)
		if e, ok := h.Check().(*HabitError); !ok || e.Field != name {
			t.Errorf("%s: %v", name, h.Check())
		}
	}
}
