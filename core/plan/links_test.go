package plan_test

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/strength"
	"chamfer/long"
)

// Every load of random designs of all systems is followed to the ground: each piece and
// each joint lies on some path, no path ends in the air, and what comes down to the ground
// is what the timber and the soil on floors weigh.
func TestEveryLoadReachesTheGround(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := newDealer(15)
	seen := map[string]int{}
	worst := map[string]map[string]float64{} // by system; by path and way
	for k := range long.Of(500) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		d = furnished(r.Rand, d, shop)
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		system := d.Beds[0].System
		seen[system]++
		if worst[system] == nil {
			worst[system] = map[string]float64{}
		}
		for _, l := range p.Links {
			key := string(l.Path) + ": " + string(l.Way)
			worst[system][key] = max(worst[system][key], l.Ratio())
			if math.IsInf(l.Ratio(), 0) && len(p.Fixings.Missing) == 0 {
				t.Errorf("%s: nothing holds %s to %s, on the path of %s", system, l.From, l.To, l.Path)
			}
		}
		for _, fault := range append(unfollowed(p, &p.Frames[0]), unheld(p, &p.Frames[0])...) {
			t.Errorf("%s: %s\n%+v", d.Beds[0].System, fault, d.Beds[0])
		}
		if t.Failed() && k > 200 {
			return
		}
	}
	t.Log(seen)
	for _, system := range slices.Sorted(maps.Keys(worst)) {
		for _, key := range slices.Sorted(maps.Keys(worst[system])) {
			t.Logf("%s | %s | %.0f %%", system, key, 100*worst[system][key])
		}
	}
}

// furnished adds what else a bed may have.
func furnished(r *rand.Rand, d design.Design, shop plan.Shop) design.Design {
	any := func(list ...string) string { return list[r.IntN(len(list))] }
	for _, e := range []design.Edit{set("legs", any("inside", "outside", "wall")), set("floor", any("level", "sloped",
		"v")), set("floor_of", any("boards", "sheet", "picket", "1x6", "100x38")),
		set("beams", any("auto", "0", "1", "2")), set("apron", any("no", "yes")), set("straps", any("two", "none")),
		set("spanners", any("auto", "0", "2")),
		set("holds", any("pots", "bags")), set("cross_ties", any("none", "1", "2")), set("bench", any("none", "front")),
		set("hoops", any("none", "pipe")),
		set("arch", any("none", "panel")), set("grid", any("none", "string", "strips")), set("corners",
			any("sides-cover", "ends-cover", "pinwheel")), set("inner_floor", any("yes", "no")),
		set("low_length", any("0", "900 mm")), set("tiers", any("2", "3")), set("face", any("none", "redwood", "oak")),
		set("mid_in_ground", any("0", "300 mm", "600 mm")),
		set("cleats", any("auto", "0", "2")), set("longest_piece", any("4 ft", "6 ft")), set("false_floor", any("none",
			"slats"))} {
		if next, err := design.Apply(d, shop.Catalog, e); err == nil {
			d = next
		}
	}
	return d
}

// unfollowed lists what of a bed no link tells of.
func unfollowed(p *plan.Plan, f *frame.Frame) (faults []string) {
	parts, joints := map[string]bool{}, map[string]bool{}
	down := 0.0
	for _, l := range p.Links {
		parts[l.From], parts[l.To], joints[l.Joint] = true, true, true
		if l.To == "" {
			faults = append(faults, l.From+" has nothing under it, on the path of "+string(l.Path))
		}
		if math.IsNaN(l.Load) || math.IsNaN(l.Holds) || l.Load < 0 {
			faults = append(faults, l.From+" carries no number")
		}
		end := l.To == "ground" || l.To == "soil" || l.To == string(p.Design.Beds[0].On) || l.Way == strength.Rolling
		if l.Path == strength.OnFloor && end {
			load := l.Load
			if l.Way == strength.Rolling {
				load *= 3.0 / 4
			}
			down += load
		}
	}
	weight := 0.0
	for _, part := range f.Parts {
		if !parts[part.ID] {
			faults = append(faults, part.ID+" lies on no path")
		}
		weight += strength.Weight(strength.Mass(part, p.Shop.Catalog))
	}
	for _, j := range f.Joints {
		if !joints[j.ID] {
			faults = append(faults, "nobody checks "+j.ID+", "+string(j.Kind))
		}
	}
	for _, w := range f.Walls {
		for _, id := range w.Boards {
			path := strength.OnSide
			if w.End {
				path = strength.OnEnd
			}
			if !slices.ContainsFunc(p.Links, func(l strength.Link) bool { return l.From == id && l.Path == path }) &&
				w.Soil > 0 {
				faults = append(faults, id+" is pushed by no soil")
			}
		}
	}
	if len(f.Floors) > 0 {
		for _, c := range f.Cavities {
			weight += strength.Weight(c.Net().CubicMetres() * f.Wet)
		}
	}
	if len(f.Parts) > 0 && math.Abs(down-weight) > 0.01*weight+1 {
		faults = append(faults, "the ground bears "+number(down)+" N of "+number(weight))
	}
	return faults
}

func number(v float64) string { return strconv.FormatFloat(v, 'f', 0, 64) }

// unheld lists the sides of a bed's soil that nothing is reckoned to hold: no board, block or
// cast wall that touches it there is pushed on any path, and no other soil goes on behind it.
func unheld(p *plan.Plan, f *frame.Frame) (faults []string) {
	pushed := map[string]bool{}
	for _, l := range p.Links {
		if l.Path == strength.OnSide || l.Path == strength.OnEnd {
			pushed[l.From] = true
		}
	}
	stacks := map[string]bool{}
	for _, s := range f.Stacks {
		if !s.Tied && !slices.ContainsFunc(s.Units, func(id string) bool { return pushed[id] }) {
			continue
		}
		for _, id := range s.Units {
			stacks[wallOf(f, id)] = true
		}
	}
	const eps = 20 * measure.Millimetre // units of a ring stand that far apart at their backs
	for k, c := range f.Cavities {
		if c.Pot || c.Top <= 0 {
			continue
		}
		low := max(c.Bottom, 0)
		for i, s := range c.Outline {
			if slices.Contains(c.Free, i) {
				continue
			}
			e := c.Outline[(i+1)%len(c.Outline)]
			for _, share := range []measure.Length{20, 50, 80} {
				x, y, z := s.U+(e.U-s.U)*share/100, s.V+(e.V-s.V)*share/100, c.Top-(c.Top-low)/4
				spot := frame.Box(frame.Point{X: x - eps, Y: y - eps, Z: z}, frame.Point{X: x + eps, Y: y + eps, Z: z + eps})
				held, by := false, ""
				for _, part := range f.Parts {
					if frame.Overlap(part.Body, spot) {
						held, by = held || pushed[part.ID], by+" "+part.ID
					}
				}
				for _, u := range f.Units {
					for _, b := range u.Solids() {
						if frame.Overlap(b, spot) {
							held, by = held || stacks[wallOf(f, u.ID)], by+" "+u.ID
						}
					}
				}
				for _, w := range f.Pours {
					for _, b := range w.Solids() {
						if frame.Overlap(b, spot) {
							held, by = held || stacks[w.ID] || pushed[w.ID], by+" "+w.ID
						}
					}
				}
				for j, other := range f.Cavities {
					behind := frame.Prism{Axis: frame.Z, From: other.Bottom, To: other.Top, Outline: other.Outline}
					if j == k || other.Bottom > low {
						continue
					}
					if held = held || frame.Overlap(spot, behind); other.Top >= c.Top { // as high on either side
						beyond := frame.Spot{U: x + sign(e.V-s.V)*thickest, V: y - sign(e.U-s.U)*thickest}
						held = held || frame.Overlap(behind, frame.Box(frame.Point{X: beyond.U - eps, Y: beyond.V - eps, Z: z},
							frame.Point{X: beyond.U + eps, Y: beyond.V + eps, Z: z + eps}))
					}
				}
				if !held {
					faults = append(faults, fmt.Sprintf("side %d of soil %d is held by nothing at %v, %v, %v; there is%s",
						i, k, x, y, z, by+" of "+wallOf(f, strings.TrimSpace(by))))
				}
			}
		}
	}
	return faults
}

// thickest is how thick what parts two bays may be.
const thickest = 120 * measure.Millimetre

func sign(l measure.Length) measure.Length {
	return measure.Length(cmp.Compare(l, 0))
}

// wallOf is the wall a unit belongs to.
func wallOf(f *frame.Frame, id string) string {
	for _, u := range f.Units {
		if u.ID == id {
			wall, _, _ := strings.Cut(u.Role, ",")
			return wall
		}
	}
	return id
}
