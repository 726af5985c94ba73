package design_test

import (
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// What people say of a bed, and the decisions it comes to.
func TestABedInOneSentence(t *testing.T) {
	us, metric := region(t, "us"), region(t, "metric")
	for _, c := range []struct {
		cat  *catalog.Catalog
		say  string
		want map[string]string // decisions
		left string            // not understood
	}{
		// 30 sq ft reached from one side, 2 ft: 15 ft long is over the longest board inside, two of 7 1/2 ft.
		{us, "a bed of 30 sq ft, 12 in deep, of cedar, against the fence", map[string]string{"width": `2'`, "soil": `1'`,
			"species": "cedar", "access": "one", "system": "boarded"}, ""},
		{us, "4 x 8, of 2x8, with a cap", map[string]string{"length": `8'`, "width": `4'`, "board": "2x8",
			"cap": "mitred"}, ""},
		{us, "4x8x1 treated pine", map[string]string{"length": `8'`, "width": `4'`, "soil": `1'`, "species": "treated"}, ""},
		{us, `8' by 3' 6" raised bed 10 inches deep`, map[string]string{"length": `8'`, "width": `3' 6"`, "soil": `10"`}, ""},
		{us, "a planter on legs 48 in long, 24 in wide, for salads on a balcony", map[string]string{"system": "legged",
			"length": `4'`, "width": `2'`, "grows": "salads", "on": "deck"}, ""},
		{us, "two beds 6 ft x 3 ft of redwood, against gophers, drip lines", map[string]string{"count": "2",
			"length": `6'`, "width": `3'`, "species": "redwood", "mesh": "mesh", "water": "drip"}, ""},
		{us, "octagon 5 ft across of 2x6", map[string]string{"system": "sided", "sides": "8", "length": `5'`,
			"board": "2x6"}, ""},
		{us, "a round one of bricks, 4 ft across, with glitter", map[string]string{"length": `4'`}, "one glitter"},
		{metric, "2.4 m x 1.2 m, 30 cm deep, larch, oiled", map[string]string{"length": "2400 mm", "width": "1200 mm",
			"soil": "300 mm", "species": "larch", "finish": "linseed"}, ""},
		{metric, "3 m² of sleepers for tomatoes", map[string]string{"system": "sleeper", "grows": "fruits"}, ""},
		{metric, "keyhole bed", map[string]string{"system": "keyhole"}, ""},
	} {
		u, err := design.Understand(c.say, "x", c.cat)
		if err != nil {
			t.Errorf("%s: %v", c.say, err)
			continue
		}
		b := u.Design.Beds[0]
		for key, want := range c.want {
			f, ok := design.FieldOf(b, key)
			if got := f.Text(b, c.cat.Precision(c.cat.Habits)); !ok || got != want {
				t.Errorf("%s: %s is %q, not %q (%v)", c.say, key, got, want, u.Refused)
			}
		}
		if left := strings.Join(u.Left, " "); left != c.left {
			t.Errorf("%s: %q was not understood, not %q", c.say, left, c.left)
		}
		if len(u.Refused) > 0 {
			t.Errorf("%s: %v", c.say, u.Refused)
		}
		if len(u.Heard) == 0 {
			t.Errorf("%s: it is not said what was understood", c.say)
		}
	}
	// An area is planted, as wide as is reached.
	u, err := design.Understand("30 sq ft against the fence", "x", us)
	if err != nil {
		t.Fatal(err)
	}
	b := u.Design.Beds[0]
	if got := measure.Over(b.Length, b.Width) * measure.Area(b.Times()); b.Width > us.Reach["one"] ||
		got < measure.Over(30*measure.Foot, measure.Foot)*95/100 {
		t.Errorf("%v by %v, %d of them", b.Length, b.Width, b.Times())
	}
	// What cannot be is told, and the rest is done.
	u, err = design.Understand("a bed 50 ft long, 3 ft wide, of cedar", "x", us)
	if b := u.Design.Beds[0]; err != nil || len(u.Refused) != 1 || b.Species != "cedar" || b.Width != 3*measure.Foot {
		t.Errorf("%v, %v", u.Refused, err)
	}
	for _, say := range []string{"", "please help", "glitter"} {
		if _, err := design.Understand(say, "x", us); err == nil || !strings.Contains(err.Error(), "works") {
			t.Errorf("%q: %v", say, err)
		}
	}
}

// Every phrase by itself is understood in either region, or told why it cannot be; any text is answered.
func TestWhateverIsSaid(t *testing.T) {
	all := design.Phrases()
	bits := append([]string{"30 sq ft", "4 x 8", "3 m²", "12 in deep", "2x8", "½ \"", "1e9 m", "x", "×", "of", "ft2", "Ⱥ",
		"\xff",
		"2.4 m by 1.2 m by 300 mm", "0 x 0", "9999999999999 ft", "İstanbul", "cedar", "treated"}, all...)
	r := rand.New(rand.NewPCG(18, 22))
	for _, name := range []string{"us", "metric"} {
		cat := region(t, name)
		for _, words := range all {
			u, err := design.Understand(words, "x", cat)
			if err != nil || len(u.Left) > 0 || len(u.Heard)+len(u.Refused) == 0 {
				t.Errorf("%s, %q: %v left, %v refused: %v", name, words, u.Left, u.Refused, err)
			}
		}
		for range 400 {
			var say []string
			for range 1 + r.IntN(8) {
				say = append(say, bits[r.IntN(len(bits))])
			}
			text := strings.Join(say, []string{" ", ", ", ""}[r.IntN(3)])
			u, err := design.Understand(text, "x", cat)
			if err != nil {
				continue
			}
			if err := design.Check(u.Design, cat); err != nil {
				t.Errorf("%q became a bed that cannot be: %v", text, err)
			}
		}
	}
}
