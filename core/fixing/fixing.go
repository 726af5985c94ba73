// Package fixing chooses the screws for every joint and counts them. A screw
// holds by the thread in the far piece, so its length follows from the
// thickness it passes through; how many there are follows from how wide the
// board is, because a board held by one screw turns and one held in the middle
// cups.
//
//	 through | into
//	=========|------
//	(|#######|####>      length >= 2 x through, not out at the back
//	=========|------
package fixing

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// hand of board width to a screw: 50 mm or 2 in.
const hand = 50 * measure.Millimetre

// Source is who says so, for reading.
const Source = "common practice; thread in the far piece at least 6 diameters (NDS 2018 12.1.5.6, from memory);" +
	" pilot 7/8 of the root (NDS 2018 12.1.5.3, from memory)"

// Need is one kind of screw and all it is needed for.
type Need struct {
	Fixing catalog.Fixing
	Pilot  measure.Length // drill
	Uses   []Use
	Count  int  // screws in the joints
	Buy    int  // with the allowance for dropped and stripped ones, less what is there
	Have   int  // that are there already and go in first
	Yields bool // fewer spares than are usual, so that no other pack is opened for them
	Packs  []PackCount
}

// Use is all joints of a kind that take the same number of one screw.
type Use struct {
	Kind   frame.JointKind
	Joints int
	Each   int
	Rule   string
}

// PackCount is how many of a pack to buy.
type PackCount struct {
	Pack catalog.Pack
	N    int
}

// Fixed is what one joint takes.
type Fixed struct {
	Fixing catalog.Fixing
	Pilot  measure.Length
	Count  int
}

// Plan is the fixings of a whole project.
type Plan struct {
	Needs   []Need
	Ready   []Ready
	ByJoint map[string]Fixed
	Missing []string // joint IDs for which no screw in the shop is right
}

// MissingOf are the joints of one bed for which no screw in the shop is right.
func (p *Plan) MissingOf(bed string) (list []string) {
	for _, id := range p.Missing {
		if strings.HasPrefix(id, bed+".") {
			list = append(list, id)
		}
	}
	return list
}

// Choose picks and counts the screws for all joints.
func Choose(frames []frame.Frame, cat *catalog.Catalog, habits catalog.Habits) Plan {
	p := Plan{ByJoint: map[string]Fixed{}}
	var all []chosen
	for i := range frames {
		list, missing := wanted(&frames[i], cat)
		all, p.Missing = append(all, list...), append(p.Missing, missing...)
	}
	fewer(all, habits)
	for _, c := range all {
		fixed := Fixed{c.fixing, pilot(c.fixing, gravityOf(c.joint, c.frame, cat), cat), c.count}
		p.ByJoint[c.joint.ID] = fixed
		p.need(c, fixed, cat)
	}
	p.finish(frames, cat, habits)
	return p
}

// wanted are the screws that suit the joints of a bed best, and those that have none.
func wanted(f *frame.Frame, cat *catalog.Catalog) (all []chosen, missing []string) {
	for _, j := range f.Joints {
		if s, ok := screw(j, cat); ok {
			all = append(all, chosen{j, f, s, number(j, s)})
		} else {
			missing = append(missing, j.ID)
		}
	}
	return all, missing
}

// need counts a joint's fixings, with the washers of its bolts.
func (p *Plan) need(c chosen, fixed Fixed, cat *catalog.Catalog) {
	p.add(c.joint, fixed, c.frame.Times)
	if fixed.Fixing.Kind == catalog.Lag {
		if w, ok := washer(fixed.Fixing, cat); ok {
			p.add(c.joint, Fixed{Fixing: w, Count: fixed.Count}, c.frame.Times)
		}
	}
}

// finish adds what else is bought ready, and buys.
func (p *Plan) finish(frames []frame.Frame, cat *catalog.Catalog, habits catalog.Habits) {
	p.staples(frames, cat)
	p.ready(frames, cat)
	slices.SortStableFunc(p.Needs, func(a, b Need) int {
		return cmp.Or(cmp.Compare(a.Fixing.Length, b.Fixing.Length), cmp.Compare(a.Fixing.ID, b.Fixing.ID))
	})
	for i := range p.Needs {
		n := &p.Needs[i]
		n.buy((n.Count*habits.SparePerMille + 999) / 1000)
	}
}

// buy takes the cheapest packs that hold what is needed with its spares. Spares yield to the
// pack: where the cheapest packs for the joints alone leave half of them or more, no other
// pack is bought for the rest.
func (n *Need) buy(spare int) {
	n.Buy = n.Count + spare
	n.Packs = Packs(n.Buy, n.Fixing.Packs)
	bare := Packs(n.Count, n.Fixing.Packs)
	if left := inPacks(bare) - n.Count; left < spare && 2*left >= spare {
		n.Buy, n.Packs, n.Yields = n.Count+left, bare, true
	}
}

// inPacks is how many there are in packs.
func inPacks(packs []PackCount) int {
	n := 0
	for _, k := range packs {
		n += k.N * k.Pack.Count
	}
	return n
}

// Use takes what is there already, by fixing, before anything is bought.
func (p *Plan) Use(have map[string]int) {
	for i := range p.Needs {
		n := &p.Needs[i]
		if n.Have = min(have[n.Fixing.ID], n.Buy); n.Have > 0 {
			n.Buy -= n.Have
			n.Packs = Packs(n.Buy, n.Fixing.Packs)
		}
	}
}

func (p *Plan) add(j frame.Joint, f Fixed, times int) {
	i := slices.IndexFunc(p.Needs, func(n Need) bool { return n.Fixing.ID == f.Fixing.ID })
	if i < 0 {
		i = len(p.Needs)
		p.Needs = append(p.Needs, Need{Fixing: f.Fixing, Pilot: f.Pilot})
	}
	n := &p.Needs[i]
	n.Count += f.Count * times
	u := slices.IndexFunc(n.Uses, func(u Use) bool { return u.Kind == j.Kind && u.Each == f.Count })
	if u < 0 {
		u = len(n.Uses)
		words := rules[j.Kind].words
		if j.Said > 0 {
			words = "as many as you said"
		}
		n.Uses = append(n.Uses, Use{Kind: j.Kind, Each: f.Count, Rule: words})
	}
	n.Uses[u].Joints += times
}

// screw picks the shortest screw of the wanted length; where the shop has none,
// the longest of at least 1 3/4 times the thickness. The thread reaches at
// least an inch and 6 diameters into the far piece, or half through it where
// there is little, and the tip stays 3 mm inside it.
func screw(j frame.Joint, cat *catalog.Catalog) (catalog.Fixing, bool) {
	r, ok := rules[j.Kind]
	if !ok {
		return catalog.Fixing{}, false
	}
	want, most := r.lengths.times(j.Through), j.Through+j.Into-clear
	var second catalog.Fixing
	if r.nearest {
		for _, f := range cat.Fixings {
			if f.Kind == r.kind && f.Length <= most &&
				(second.ID == "" || away(f.Length, want) < away(second.Length, want)) {
				second = f
			}
		}
		return second, second.ID != ""
	}
	for _, f := range cat.Fixings { // shortest first
		if !r.suits(j, f) {
			continue
		}
		if f.Length >= want {
			return f, true
		}
		second = f
	}
	return second, second.ID != ""
}

// narrow is what two of a screw side by side would split: 30 mm, 1 3/16 in, or six of its
// diameters, which leaves each one and a half from its edge (common practice).
func narrow(f catalog.Fixing) measure.Length {
	return max(30*measure.Millimetre, 6*f.Diameter)
}

// number of screws in a joint: along a cap one every spacing and one more;
// across a board one for every 50 mm (2 in) of width less one, at least two: 2
// in a 2x6, 3 in a 2x8, 4 in a 2x10 (common practice: two in thin stock, three
// or four in a 2x8 or 2x10); bolts one for every 100 mm (4 in).
func number(j frame.Joint, f catalog.Fixing) int {
	if j.Said > 0 {
		return j.Said
	}
	if n := rules[j.Kind].each; n > 0 {
		return n
	}
	if s := rules[j.Kind].spacing; s > 0 {
		s /= measure.Length(max(1, j.Close))
		return int((j.Run+s-1)/s) + 1
	}
	if j.Run < narrow(f) {
		return 1
	}
	strip := rules[j.Kind].strip
	n := int((j.Run + strip - 1) / strip)
	if rules[j.Kind].kind != catalog.Lag {
		n--
	}
	return max(2, n)
}

// washer finds the washer that fits a bolt.
func washer(f catalog.Fixing, cat *catalog.Catalog) (catalog.Fixing, bool) {
	for _, w := range cat.Fixings {
		if w.Kind == catalog.Washer && w.Diameter == f.Diameter {
			return w, true
		}
	}
	return catalog.Fixing{}, false
}

// gravityOf is the specific gravity of what receives a joint's screws.
func gravityOf(j frame.Joint, f *frame.Frame, cat *catalog.Catalog) float64 {
	if p, ok := f.Part(j.Parts[1]); ok {
		if s, err := cat.SpeciesOf(p.Species); err == nil {
			return s.SpecificGravity()
		}
	}
	return 0.5
}

// pilot is the drill nearest to what the wood wants, the smaller where two are as near.
// A screw's is 7/8 of its root, or all of it in dense wood over 0.6 (NDS 2018 12.1.5.3);
// a lag's half its diameter in light wood, 2/3 over 0.5 and 3/4 over 0.6 (12.1.4: 40 to 70
// %, 60 to 75, 65 to 85); from memory.
func pilot(f catalog.Fixing, gravity float64, cat *catalog.Catalog) measure.Length {
	want := f.Root * 7 / 8
	if gravity > 0.6 {
		want = f.Root
	}
	if f.Kind == catalog.Lag {
		switch {
		case gravity > 0.6:
			want = f.Diameter * 3 / 4
		case gravity > 0.5:
			want = f.Diameter * 2 / 3
		default:
			want = f.Diameter / 2
		}
	}
	best := cat.Drills[0]
	for _, d := range cat.Drills {
		if away(d, want) < away(best, want) {
			best = d
		}
	}
	return best
}

func away(a, b measure.Length) measure.Length { return max(a-b, b-a) }

// Packs returns the packs that cover need for the least money, and among those
// the ones with most in them. Packs is exact: it weighs every number of screws
// up to the need plus the largest pack that packs can come to.
func Packs(need int, packs []catalog.Pack) []PackCount {
	if need <= 0 || len(packs) == 0 {
		return nil
	}
	step, largest := 0, 0 // packs come to whole steps
	for _, p := range packs {
		step, largest = common(step, p.Count), max(largest, p.Count)
	}
	type way struct {
		price money.Amount
		last  int
	}
	need = (need + step - 1) / step
	cost := make([]way, need+largest/step)
	best := -1
	for n := 1; n < len(cost); n++ {
		cost[n] = way{-1, -1}
		for i, p := range packs {
			if n < p.Count/step || cost[n-p.Count/step].price < 0 {
				continue
			}
			if c := cost[n-p.Count/step].price + p.Price; cost[n].price < 0 || c < cost[n].price {
				cost[n] = way{c, i}
			}
		}
		if n >= need && cost[n].price >= 0 && (best < 0 || cost[n].price <= cost[best].price) {
			best = n
		}
	}
	counts := make([]int, len(packs))
	for n := best; n > 0; n -= packs[cost[n].last].Count / step {
		counts[cost[n].last]++
	}
	var out []PackCount
	for i, c := range counts {
		if c > 0 {
			out = append(out, PackCount{packs[i], c})
		}
	}
	return out
}

// common is the greatest number that divides both.
func common(a, b int) int {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

// Words says why a need has the length and number it has.
func (n Need) Words() string {
	if n.Pilot == 0 {
		return fmt.Sprintf("%d, one under each bolt's head", n.Count)
	}
	s := ""
	for i, u := range n.Uses {
		if i > 0 {
			s += "; "
		}
		s += fmt.Sprintf("%s %s, %d each (%s)", measure.Count(u.Joints, "joint"), u.Kind, u.Each, u.Rule)
	}
	return fmt.Sprintf("%s: %d in all, pilot %v", s, n.Count, n.Pilot)
}
