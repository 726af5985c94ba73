package plan_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/long"
)

// The order of work can be followed, over random designs of all systems with all extras and over the examples: each
// step comes after those it waits for; every board, block, sheet, cast wall and filling is placed once, every joint
// closed once; what a step takes was brought by an earlier one; what stands is carried by what stood before it or is
// fixed to that; and what is put in had a straight way to its place, unless it is said to be sprung.
func TestOrderOfWorkCanBeFollowed(t *testing.T) {
	if testing.Short() {
		t.Skip("solids past solids")
	}
	r := newDealer(77)
	seen := map[string]int{}
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
		if k%4 == 0 { // beside another
			all := design.Systems()
			next, err := design.Apply(d, shop.Catalog, design.Edit{Field: "add-bed", Value: all[r.IntN(len(all))].Name})
			if err != nil {
				t.Fatal(err)
			}
			d = next
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		seen[d.Beds[0].System]++
		for _, fault := range followed(p) {
			t.Errorf("%s %d: %s", d.Beds[0].System, k, fault)
		}
		if t.Failed() && k > 400 {
			return
		}
	}
	t.Log(seen, driven)
	for _, k := range []frame.JointKind{frame.PocketEnd, frame.Bracket, frame.PlateOn, frame.Splice, "turned"} {
		if driven[k] == 0 && long.Whole() {
			t.Errorf("no joint was met with of the kind: %s", k)
		}
	}
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
			for _, fault := range followed(p) {
				t.Errorf("%s %s: %s", region, e.Name, fault)
			}
		}
	}
}

// followed lists what is wrong with the order of a plan's steps.
func followed(p *plan.Plan) (faults []string) {
	say := func(format string, args ...any) { faults = append(faults, fmt.Sprintf(format, args...)) }
	at := map[string]int{}
	placed, brought := map[string]int{}, map[string]int{}
	for i, s := range p.Steps {
		if _, twice := at[s.ID]; twice {
			say("%s is told twice", s.ID)
		}
		at[s.ID] = i
		for _, b := range s.After {
			if first, ok := at[b.ID]; !ok || first >= i {
				say("%s comes before %s: %s", s.ID, b.ID, b.Why)
			}
			if b.Why == "" {
				say("%s waits for %s and does not say why", s.ID, b.ID)
			}
		}
		for _, item := range s.Brings {
			brought[item] = i + 1
		}
		for _, u := range s.Uses {
			if brought[u.Item] == 0 {
				say("%s takes %s, which nobody has brought", s.ID, u.Item)
			}
		}
		if low, high := s.Minutes(); low <= 0 || high < low || s.Hands < 1 {
			say("%s takes %v to %v minutes of %d people", s.ID, low, high, s.Hands)
		}
		for _, id := range s.New {
			placed[s.Bed+" "+id]++
		}
		for _, id := range s.Joints {
			placed[s.Bed+" joint "+id]++
		}
		for _, id := range s.Fills {
			placed[s.Bed+" soil "+id]++
		}
		if s.Sheet != "" && s.Bed != "" {
			placed[s.Bed+" sheet "+s.Sheet]++
		}
	}
	for i := range p.Frames {
		f := &p.Frames[i]
		once := func(key string) {
			if n := placed[f.Bed+" "+key]; n != 1 {
				say("%s is placed %d times", key, n)
			}
		}
		for _, x := range f.Parts {
			once(x.ID)
		}
		for _, x := range f.Units {
			once(x.ID)
		}
		for _, x := range f.Pours {
			once(x.ID)
		}
		for _, x := range f.Sheets {
			once("sheet " + x.ID)
		}
		for _, x := range f.Cavities {
			if p.Fill.Net > 0 && p.Fill.Order+p.Fill.Topsoil+p.Fill.Turf > 0 {
				once("soil " + x.ID)
			}
		}
		for _, x := range f.Joints {
			if _, fixed := p.Fixings.ByJoint[x.ID]; fixed {
				once("joint " + x.ID)
			}
		}
		faults = append(faults, stood(p, f)...)
		faults = append(faults, sheeted(p, f, at)...)
	}
	return append(faults, finished(p)...)
}

// sheeted lists the sheets of a bed that cannot be laid when they are: those on the ground once boards stand on it,
// those inside once soil lies there, and those that hang over an edge once a cap covers it. Cloth, card and mesh are
// rolled out and bend, so they need no straight way.
func sheeted(p *plan.Plan, f *frame.Frame, at map[string]int) (faults []string) {
	for _, sheet := range f.Sheets {
		i := slices.IndexFunc(p.Steps, func(s work.Step) bool { return s.Bed == f.Bed && s.Sheet == sheet.ID })
		for k, s := range p.Steps[:max(0, i)] {
			if s.Bed != f.Bed || sheet.Outside || sheet.After != "" { // those hang before their stone, see orders
				continue
			}
			a := actOf(f, s)
			boards := a != nil && a.Verb != frame.SetPost && !a.Loose && slices.ContainsFunc(a.Parts, func(id string) bool {
				_, board := f.Part(id)
				return board
			})
			if boards && !sheet.Inside {
				faults = append(faults, fmt.Sprintf("%s lies under what step %d placed", sheet.ID, k))
			}
			if slices.ContainsFunc(s.Fills, func(c string) bool { return sheet.Cavity == "" || sheet.Cavity == c }) &&
				(sheet.Inside || sheet.Lines) {
				faults = append(faults, fmt.Sprintf("%s goes in under the soil of %s", sheet.ID, s.ID))
			}
			if a != nil && a.Verb == frame.FixCap && sheet.Stapled > 0 {
				faults = append(faults, fmt.Sprintf("%s is stapled under the cap of %s", sheet.ID, s.ID))
			}
		}
	}
	return faults
}

// finished lists the steps that hide a face which was brushed before: all that is put on or beside it comes first, and
// what lies round it afterwards waits for the finish.
func finished(p *plan.Plan) (faults []string) {
	for i, s := range p.Steps {
		if s.Phase != work.Brush {
			continue
		}
		for _, o := range p.Steps[i+1:] {
			if o.Bed != "" && len(o.New)+len(o.Joints) > 0 {
				faults = append(faults, fmt.Sprintf("%s hides what %s has brushed", o.ID, s.ID))
			}
		}
		for _, o := range p.Steps[:i] {
			if o.Phase == work.Cover {
				faults = append(faults, fmt.Sprintf("%s lies against the foot that %s brushes", o.ID, s.ID))
			}
		}
	}
	return faults
}

// body is something solid of a bed: a board, a block, or soil.
type body struct {
	id     string
	solids []frame.Prism
	soil   bool
}

// bodies are the solids of a bed by their names.
func bodies(f *frame.Frame) map[string]body {
	all := map[string]body{}
	for _, x := range f.Parts {
		all[x.ID] = body{id: x.ID, solids: x.Solids()}
	}
	for _, x := range f.Units {
		all[x.ID] = body{id: x.ID, solids: x.Solids()}
	}
	for _, x := range f.Pours {
		all[x.ID] = body{id: x.ID, solids: x.Solids()}
	}
	return all
}

// stood walks through the steps of a bed with its solids, and lists what would fall, and what could not be put in.
func stood(p *plan.Plan, f *frame.Frame) (faults []string) {
	all := bodies(f)
	joined := func(a, b string) bool {
		return slices.ContainsFunc(f.Joints, func(j frame.Joint) bool {
			return j.Parts == [2]string{a, b} || j.Parts == [2]string{b, a}
		})
	}
	made := map[string]int{} // what was made up, by the step it was
	var there []body
	for i, s := range p.Steps {
		if s.Bed != f.Bed {
			continue
		}
		for _, id := range s.Fills {
			c := f.Cavities[slices.IndexFunc(f.Cavities, func(c frame.Cavity) bool { return c.ID == id })]
			pieces := c.Pieces
			if pieces == nil {
				pieces = [][]frame.Spot{c.Outline}
			}
			soil := body{id: id, soil: true}
			for _, o := range pieces {
				soil.solids = append(soil.solids, frame.Prism{Axis: frame.Z, From: c.Bottom, To: c.Top, Outline: o})
			}
			there = append(there, soil)
		}
		a := actOf(f, s)
		if a == nil {
			continue
		}
		if a.Loose {
			var own []body
			for _, id := range slices.Concat(a.Parts, a.Again) {
				made[id] = i + 1
				own = append(own, all[id])
			}
			faults = append(faults, cramped(f, s, all, own, nil)...)
			continue
		}
		var movers [][]body
		groups := map[int][]body{}
		for _, id := range a.Again {
			groups[made[id]] = append(groups[made[id]], all[id])
		}
		for k := range len(p.Steps) + 1 {
			movers = append(movers, hanging(groups[k], joined)...)
		}
		var own [][]body
		for _, id := range a.Parts {
			own = append(own, []body{all[id]})
		}
		if a.AsOne {
			own = [][]body{slices.Concat(own...)}
		}
		movers = append(movers, own...)
		if !a.Bent && a.Verb != frame.Drive {
			if stuck := takenApart(movers, there); len(stuck) > 0 {
				faults = append(faults, fmt.Sprintf("%s: there is no straight way in for %v", s.ID, stuck))
			}
		}
		for _, m := range movers {
			there = append(there, m...)
		}
		if a.AsOne { // its own joints are closed before it goes in
			inner, outer := s, s
			inner.Joints, outer.Joints = nil, nil
			for _, id := range s.Joints {
				j := f.Joints[slices.IndexFunc(f.Joints, func(j frame.Joint) bool { return j.ID == id })]
				if slices.Contains(a.Parts, j.Parts[0]) && slices.Contains(a.Parts, j.Parts[1]) {
					inner.Joints = append(inner.Joints, id)
				} else {
					outer.Joints = append(outer.Joints, id)
				}
			}
			faults = append(faults, cramped(f, inner, all, own[0], nil)...)
			s = outer
		}
		faults = append(faults, cramped(f, s, all, there, movers)...)
		if a.Over {
			continue
		}
		if falls := unsupported(f, there, joined); len(falls) > 0 {
			faults = append(faults, fmt.Sprintf("%s: nothing carries %v", s.ID, falls))
		}
	}
	return faults
}

// driverLong is the room a screw's head wants behind it, driverWide how much the holder of a bit takes across (common
// practice).
const driverLong, driverWide = 200 * measure.Millimetre, 18 * measure.Millimetre

// approach is where a driver stands to a screw's head, and which way it points away from it.
type approach struct {
	at  frame.Point
	way [3]float64
}

// driven counts the joints that were looked at, by kind, and those of turned pieces.
var driven = map[frame.JointKind]int{}

// cramped lists the joints of a step whose screws a driver cannot reach, past all that is there: one of the ways to
// each of its heads has to be free. movers are what the step puts in, piece by piece: each joint is closed before what
// would be in its way goes in.
func cramped(f *frame.Frame, s work.Step, all map[string]body, there []body, movers [][]body) (faults []string) {
	group := map[string]int{}
	for k, m := range movers {
		for _, b := range m {
			group[b.id] = k + 1
		}
	}
	lo, hi := f.Bounds()
	middle := frame.Point{X: (lo.X + hi.X) / 2, Y: (lo.Y + hi.Y) / 2, Z: (lo.Z + hi.Z) / 2}
	for _, id := range s.Joints {
		j := f.Joints[slices.IndexFunc(f.Joints, func(j frame.Joint) bool { return j.ID == id })]
		a, _ := f.Part(j.Parts[0])
		b, _ := f.Part(j.Parts[1])
		driven[j.Kind]++
		if j.Turn != 0 || a.Turn != 0 || a.Tilt != 0 {
			driven["turned"]++
		}
		if touch, known := touching(a, b); known && j.Turn == 0 && j.Run > touch+measure.Millimetre {
			switch j.Kind {
			case frame.PocketEnd, frame.Bracket, frame.PlateOn, frame.Splice, frame.CapToWall:
			default:
				faults = append(faults, fmt.Sprintf("%s: screws over %v of %s, %s, where %v touch", s.ID, j.Run, id, j.Kind, touch))
			}
		}
		heads := headsOf(j, a, b, middle)
		if len(heads) == 0 {
			faults = append(faults, fmt.Sprintf("%s: nobody can say where %s, %s, is screwed from", s.ID, id, j.Kind))
		}
		for _, ways := range heads {
			blocked := ""
			for _, w := range ways {
				if blocked = hinders(w, there, a, b, group); blocked == "" {
					break
				}
			}
			if blocked != "" {
				faults = append(faults, fmt.Sprintf("%s: %s is in the way of the driver at %s, %s", s.ID, blocked, id, j.Kind))
			}
		}
	}
	return faults
}

// touching is how long two square pieces lie against each other, along the longer side of where they do.
func touching(a, b frame.Part) (long measure.Length, ok bool) {
	if a.Turn != 0 || b.Turn != 0 || a.Tilt != 0 || b.Tilt != 0 || !a.Body.IsBox() || !b.Body.IsBox() {
		return 0, false
	}
	la, ha := a.Body.Bounds()
	lb, hb := b.Body.Bounds()
	const near = measure.Millimetre
	for axis := frame.X; axis <= frame.Z; axis++ {
		before, behind := lb.Along(axis)-ha.Along(axis), la.Along(axis)-hb.Along(axis)
		if (before < -near || before > near) && (behind < -near || behind > near) {
			continue
		}
		for o := frame.X; o <= frame.Z; o++ {
			if o != axis {
				long = max(long, min(ha.Along(o), hb.Along(o))-max(la.Along(o), lb.Along(o)))
			}
		}
		return long, true
	}
	return 0, false
}

// headsOf are the heads of a joint's screws, each with the ways a driver may come to it: straight behind the piece that
// is fastened, beside the middle of the joint where it is spread along a run; at a bracket or a plate from a wide face
// of either piece, at a splice from both; at a pocket along the board, from inside.
func headsOf(j frame.Joint, a, b frame.Part, middle frame.Point) (heads [][]approach) {
	switch j.Kind {
	case frame.Bracket, frame.PlateOn:
		return [][]approach{onFaces(j, a), onFaces(j, b)}
	case frame.Splice:
		for _, p := range []frame.Part{a, b} {
			for _, w := range onFaces(j, p) {
				heads = append(heads, []approach{w})
			}
		}
		return heads
	case frame.PocketEnd:
		inner := onFaces(j, a)[0]
		along := runOf(a, j.At)
		for _, w := range onFaces(j, a) {
			if dot(w.way, between(j.At, middle)) > dot(inner.way, between(j.At, middle)) {
				inner = w
			}
		}
		const tilt = 15 * math.Pi / 180 // of the jig's hole (common practice)
		var way [3]float64
		for k := range way {
			way[k] = math.Cos(tilt)*along[k] + math.Sin(tilt)*inner.way[k]
		}
		return [][]approach{{{moved(moved(inner.at, along, 40*measure.Millimetre), inner.way, driverWide), way}}}
	}
	for _, s := range a.Solids() {
		for _, fa := range s.Faces() {
			if math.Abs(off(fa, j.At)) > float64(measure.Millimetre) || !touches(b, fa) {
				continue
			}
			out := [3]float64{-fa.Normal[0], -fa.Normal[1], -fa.Normal[2]}
			thick := measure.Length(math.MaxInt64) // of it, along the screw
			for _, o := range s.Faces() {
				if d := dot(o.Normal, out); d > 0.01 {
					thick = min(thick, measure.Length(-off(o, j.At)/d))
				}
			}
			ways := []approach{{moved(j.At, out, thick), out}}
			if j.Run >= 10*driverWide {
				run := runOf(a, j.At)
				for _, by := range []measure.Length{-100 * measure.Millimetre, 100 * measure.Millimetre} {
					ways = append(ways, approach{moved(ways[0].at, run, by), out})
				}
			}
			return [][]approach{ways}
		}
	}
	return nil
}

// onFaces are the ways to screws in the two wide faces of a piece, near a joint.
func onFaces(j frame.Joint, p frame.Part) (ways []approach) {
	run := runOf(p, j.At)
	at := moved(j.At, run, 40*measure.Millimetre)
	wide := 0.0
	for _, fa := range p.Body.Faces() {
		if math.Abs(dot(fa.Normal, run)) > 0.1 {
			continue
		}
		size := across(fa)
		if size > wide*1.05 {
			ways, wide = nil, size
		}
		if size > wide*0.95 {
			ways = append(ways, approach{moved(at, fa.Normal, measure.Length(-off(fa, at))), fa.Normal})
		}
	}
	return ways
}

// across is how wide a face is across its longest edge.
func across(fa frame.Face) float64 {
	shortest := math.Inf(1)
	for k, c := range fa.Corners {
		shortest = min(shortest, size(between(c, fa.Corners[(k+1)%len(fa.Corners)])))
	}
	return shortest
}

// runOf is the way along a piece, from a place on it to where most of it is.
func runOf(p frame.Part, at frame.Point) (run [3]float64) {
	longest := 0.0
	var sum frame.Point
	corners := p.Body.Corners()
	for _, c := range corners {
		sum = sum.Plus(c)
	}
	n := measure.Length(len(corners))
	for _, fa := range p.Body.Faces() {
		for k, c := range fa.Corners {
			if e := between(c, fa.Corners[(k+1)%len(fa.Corners)]); size(e) > longest {
				longest, run = size(e), e
			}
		}
	}
	if dot(run, between(at, frame.Point{X: sum.X / n, Y: sum.Y / n, Z: sum.Z / n})) < 0 {
		longest = -longest
	}
	return [3]float64{run[0] / longest, run[1] / longest, run[2] / longest}
}

// touches reports whether a piece has a face that lies against another's.
func touches(p frame.Part, fa frame.Face) bool {
	for _, s := range p.Solids() {
		for _, o := range s.Faces() {
			if dot(o.Normal, fa.Normal) < -0.98 && math.Abs(off(o, fa.Corners[0])) < 2*float64(measure.Millimetre) {
				return true
			}
		}
	}
	return false
}

func dot(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
func size(a [3]float64) float64   { return math.Sqrt(dot(a, a)) }

func between(a, b frame.Point) [3]float64 {
	return [3]float64{float64(b.X - a.X), float64(b.Y - a.Y), float64(b.Z - a.Z)}
}

// off is how far a place is outside a face, in nm.
func off(fa frame.Face, at frame.Point) float64 { return dot(fa.Normal, between(fa.Corners[0], at)) }

func moved(p frame.Point, way [3]float64, by measure.Length) frame.Point {
	d := float64(by)
	return p.Plus(frame.Point{X: measure.Length(way[0] * d), Y: measure.Length(way[1] * d),
		Z: measure.Length(way[2] * d)})
}

// hinders is what stands in the room for a driver that fastens a piece to another, "" for nothing.
func hinders(w approach, there []body, a, b frame.Part, group map[string]int) string {
	const half = driverWide / 2
	at := moved(w.at, w.way, half*3/2) // clear of the face, however it is turned
	reach := frame.Point{X: half, Y: half, Z: half}
	holder := frame.Box(at.Plus(frame.Point{X: -half, Y: -half, Z: -half}), at.Plus(reach))
	for _, o := range there {
		if o.id == a.ID || o.id == b.ID {
			continue
		}
		if g := group[o.id]; g > 0 && g != group[a.ID] && g != group[b.ID] { // it is put in after that is driven
			continue
		}
		for _, q := range o.solids {
			if sweeps(holder, w.way, q, float64(driverLong-half*5/2)) {
				return o.id
			}
		}
	}
	return ""
}

// actOf is the act of a bed that a step is of, nil for none.
func actOf(f *frame.Frame, s work.Step) *frame.Act {
	for i := range f.Acts {
		if f.Acts[i].Key(f.Bed) == s.ID {
			return &f.Acts[i]
		}
	}
	return nil
}

// hanging parts what was made up in one act into what hangs together.
func hanging(list []body, joined func(a, b string) bool) (groups [][]body) {
	done := map[string]bool{}
	for _, b := range list {
		if done[b.id] {
			continue
		}
		done[b.id] = true
		group := []body{b}
		for k := 0; k < len(group); k++ {
			for _, o := range list {
				if !done[o.id] && joined(group[k].id, o.id) {
					done[o.id] = true
					group = append(group, o)
				}
			}
		}
		groups = append(groups, group)
	}
	return groups
}

// takenApart takes what an act has put in out again, one after the other, each by a straight way past all that is left,
// and returns what stays stuck. What comes out so went in so, the last first.
func takenApart(movers [][]body, there []body) (stuck []string) {
	left := slices.Clone(movers)
	for len(left) > 0 {
		out := slices.IndexFunc(left, func(m []body) bool {
			rest := slices.Clone(there)
			for _, o := range left {
				if &o[0] != &m[0] {
					rest = append(rest, o...)
				}
			}
			return free(m, rest)
		})
		if out < 0 {
			for _, m := range left {
				stuck = append(stuck, m[0].id)
			}
			return stuck
		}
		left = slices.Delete(left, out, out+1)
	}
	return nil
}

// free reports whether something can be moved far away along an axis of the world or of its own.
func free(m, rest []body) bool {
	ways := [][3]float64{{0, 0, 1}, {1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, -1}}
	for _, s := range m[0].solids {
		for _, f := range s.Faces() {
			if math.Abs(f.Normal[0]) < 1 && math.Abs(f.Normal[1]) < 1 && math.Abs(f.Normal[2]) < 1 {
				ways = append(ways, f.Normal)
			}
		}
	}
	return slices.ContainsFunc(ways, func(way [3]float64) bool {
		for _, b := range m {
			for _, s := range b.solids {
				for _, o := range rest {
					if o.soil && sunk(b, o) { // it is set into it
						continue
					}
					for _, q := range o.solids {
						if sweeps(s, way, q, away) {
							return false
						}
					}
				}
			}
		}
		return true
	})
}

// sunk reports whether something stands in soil, which was dug out for it.
func sunk(b, soil body) bool {
	return slices.ContainsFunc(b.solids, func(s frame.Prism) bool {
		return slices.ContainsFunc(soil.solids, func(q frame.Prism) bool { return frame.Overlap(s, q) })
	})
}

// away is far enough to be out of every bed, in nm.
const away = 20e9

// sweeps reports whether a prism that is moved so far along a direction of unit length runs into another, by
// separating axes of what it sweeps.
func sweeps(p frame.Prism, way [3]float64, q frame.Prism, far float64) bool {
	const slack = 20_000 // nm: what is rounded where boards are turned
	la, ha := p.Bounds()
	lb, hb := q.Bounds()
	for x := frame.X; x <= frame.Z; x++ {
		lo, hi := float64(la.Along(x)), float64(ha.Along(x))
		lo, hi = min(lo, lo+far*way[x]), max(hi, hi+far*way[x])
		if hi <= float64(lb.Along(x))+slack || float64(hb.Along(x)) <= lo+slack {
			return false
		}
	}
	var axes [][3]float64
	edges := [2][][3]float64{{way}, nil}
	for i, b := range []frame.Prism{p, q} {
		for _, f := range b.Faces() {
			axes = append(axes, f.Normal)
			for k := range f.Corners {
				u, v := f.Corners[k], f.Corners[(k+1)%len(f.Corners)]
				e := [3]float64{float64(v.X - u.X), float64(v.Y - u.Y), float64(v.Z - u.Z)}
				size := math.Sqrt(e[0]*e[0] + e[1]*e[1] + e[2]*e[2])
				edges[i] = append(edges[i], [3]float64{e[0] / size, e[1] / size, e[2] / size})
			}
		}
	}
	cross := func(u, v [3]float64) {
		c := [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
		if size := math.Sqrt(c[0]*c[0] + c[1]*c[1] + c[2]*c[2]); size > 1e-6 {
			axes = append(axes, [3]float64{c[0] / size, c[1] / size, c[2] / size})
		}
	}
	for _, u := range edges[0] {
		for _, v := range edges[1] {
			cross(u, v)
		}
		cross(u, way)
	}
	span := func(b frame.Prism, n [3]float64) (lo, hi float64) {
		lo, hi = math.Inf(1), math.Inf(-1)
		for _, c := range b.Corners() {
			d := n[0]*float64(c.X) + n[1]*float64(c.Y) + n[2]*float64(c.Z)
			lo, hi = min(lo, d), max(hi, d)
		}
		return lo, hi
	}
	for _, n := range axes {
		lo, hi := span(p, n)
		run := far * (n[0]*way[0] + n[1]*way[1] + n[2]*way[2])
		lo, hi = min(lo, lo+run), max(hi, hi+run)
		if lq, hq := span(q, n); hi <= lq+slack || hq <= lo+slack {
			return false
		}
	}
	return true
}

// unsupported lists what of all that stands is neither on the ground, on soil or on something that is carried, nor
// fixed to such.
func unsupported(f *frame.Frame, there []body, joined func(a, b string) bool) (falls []string) {
	const near = 2 * measure.Millimetre
	held := map[string]bool{}
	foot := func(b body) (low measure.Length) {
		low = measure.Length(math.MaxInt64)
		for _, s := range b.solids {
			lo, _ := s.Bounds()
			low = min(low, lo.Z)
		}
		return low
	}
	lowest := measure.Length(math.MaxInt64)
	for _, b := range there {
		lowest = min(lowest, foot(b))
	}
	on := func(top, low body) bool {
		for _, s := range top.solids {
			a, b := s.Bounds()
			for _, o := range low.solids {
				c, d := o.Bounds()
				up := a.Z - d.Z
				if (up >= -near && up <= near || low.soil && a.Z < d.Z && a.Z >= c.Z) &&
					a.X < d.X && c.X < b.X && a.Y < d.Y && c.Y < b.Y {
					return true
				}
			}
		}
		return false
	}
	for _, b := range there {
		if lo := foot(b); b.soil || lo <= near || lo <= lowest+near || terraced(f, lo) {
			held[b.id] = true
		}
	}
	for changed := true; changed; {
		changed = false
		for _, b := range there {
			if held[b.id] {
				continue
			}
			for _, o := range there {
				if held[o.id] && (on(b, o) || joined(b.id, o.id)) {
					held[b.id], changed = true, true
					break
				}
			}
		}
	}
	for _, b := range there {
		if !held[b.id] {
			falls = append(falls, b.id)
		}
	}
	return falls
}

// terraced reports whether something stands at the height of a level of a slope, on ground that is cut or filled to it.
func terraced(f *frame.Frame, low measure.Length) bool {
	for _, l := range f.Levels {
		if low <= l.Height {
			return true
		}
	}
	return f.Fall != 0 || f.Grade != [2]measure.Length{}
}

// Every tool that a fixing needs lies ready in its step, and the bits of all pilot holes where they are drilled, before
// the first of their screws.
func TestToolsAtHand(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := newDealer(78)
	tools := map[catalog.FixingKind]string{catalog.Screw: "driver", catalog.Pocket: "pocket", catalog.Lag: "wrench",
		catalog.Nail: "hammer", catalog.Staple: "stapler"}
	seen := map[catalog.FixingKind]int{}
	for k := range long.Of(300) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		p, err := plan.Make(furnished(r.Rand, d, shop), shop)
		if err != nil {
			t.Fatal(err)
		}
		drilled := ""
		for _, s := range p.Steps {
			have := strings.Join(s.Have, "; ")
			if s.ID == "drill" {
				drilled = have
			}
			for _, u := range s.Uses {
				i := slices.IndexFunc(p.Fixings.Needs, func(n fixing.Need) bool { return n.Fixing.ID == u.Item })
				if i < 0 {
					continue
				}
				n := p.Fixings.Needs[i]
				seen[n.Fixing.Kind]++
				if tool := tools[n.Fixing.Kind]; tool != "" && !strings.Contains(have, tool) {
					t.Errorf("%s: %s takes %s and has no %s: %s", d.Beds[0].System, s.ID, n.Fixing.Name, tool, have)
				}
				if n.Fixing.Kind == catalog.Screw && !strings.Contains(drilled, n.Pilot.String()+" drill bit") {
					t.Errorf("%s: %s takes %s before its pilot was drilled", d.Beds[0].System, s.ID, n.Fixing.Name)
				}
			}
		}
	}
	t.Log(seen)
	if seen[catalog.Screw] == 0 || seen[catalog.Staple] == 0 ||
		long.Whole() && seen[catalog.Pocket]*seen[catalog.Lag] == 0 {
		t.Errorf("some kinds of fixing were not met: %v", seen)
	}
}

// Words follow what is there: nothing is dug or pegged on slabs, decks and balconies, no screw is told of where none is
// driven, no diagonals where a wall is round, and nobody is told to look at a fence that is not there.
func TestWordsFollowWhatIsThere(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := newDealer(79)
	seen := map[string]int{}
	for k := range long.Of(400) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		if k%3 == 0 {
			for _, on := range []string{"paving", "deck"} {
				if next, err := design.Apply(d, shop.Catalog, set("on", on)); err == nil {
					d = next
				}
			}
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		firm, round := d.Beds[0].On.Firm(), len(p.Frames[0].Arcs) > 0
		for _, s := range p.Steps {
			if s.Bed == "" {
				continue
			}
			words := strings.ToLower(s.Title + " " + strings.Join(s.Do, " ") + " " + strings.Join(s.Have, " "))
			for what, fault := range map[string]bool{
				"a spade on what is firm":     firm && s.Phase == work.SetOut && strings.Contains(words, "spade"),
				"pegs on what is firm":        firm && s.Phase == work.SetOut && strings.Contains(words, "peg "),
				"the diagonals of a circle":   round && strings.Contains(words, "both diagonals"),
				"a screw where there is none": len(p.Fixings.Needs) == 0 && strings.Contains(words, "screw"),
			} {
				if fault {
					t.Errorf("%s %d, %s: %s: %s", d.Beds[0].System, k, s.ID, what, words)
				}
			}
		}
		for what, is := range map[string]bool{"firm": firm, "round": round, "no screws": len(p.Fixings.Needs) == 0} {
			if is {
				seen[what]++
			}
		}
	}
	if seen["firm"]*seen["round"]*seen["no screws"] == 0 {
		t.Errorf("not all of it was met: %v", seen)
	}
}
