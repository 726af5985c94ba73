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

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Rule says how a kind of joint is fixed.
type rule struct {
	kind    string         // of fixing: screw or lag
	lengths [2]int64       // wanted length over the thickness passed through, as a ratio
	least   [2]int64       // the shortest that will do, likewise
	spacing measure.Length // between fixings along Run; 0 counts by board width
	strip   measure.Length // of board width to a fixing, where they are counted by it
	words   string
}

// sevenQuarters of the thickness is the shortest that usually will do.
var sevenQuarters = [2]int64{7, 4}

// rules by kind of joint. Common practice: a deck screw is about twice (at
// least 1 3/4 times) the board it fastens; 1 1/2 in boards take 3 in screws,
// 3 1/2 in into posts and end grain; a cap about every 12 in (300 mm); two lag
// bolts to a corner, three in boards over 8 in (200 mm).
//
// A ledger no thicker than its board leaves no room for 1 3/4 times: 2 1/2 in
// through two 1 1/2 in pieces is usual.
var rules = map[frame.JointKind]rule{
	frame.FaceToPost: {"screw", [2]int64{7, 3}, sevenQuarters, 0, 50 * measure.Millimetre, "into a post: about 2 1/3 times the board"},
	frame.FaceToEnd:  {"screw", [2]int64{7, 3}, sevenQuarters, 0, 50 * measure.Millimetre, "into end grain: about 2 1/3 times the board"},
	frame.TieToWall:  {"screw", [2]int64{7, 3}, sevenQuarters, 0, 50 * measure.Millimetre, "into a tie's end: about 2 1/3 times the board"},
	frame.BoltToEnd:  {"lag", [2]int64{7, 3}, sevenQuarters, 0, 100 * measure.Millimetre, "bolt into end grain: about 2 1/3 times the board, with a washer"},
	frame.WallLedger: {"screw", [2]int64{2, 1}, [2]int64{5, 3}, 150 * measure.Millimetre, 0, "a ledger that carries the floor: twice the piece it goes through, every 6 in (150 mm)"},
	frame.SlatLedger: {"screw", [2]int64{2, 1}, sevenQuarters, 0, 50 * measure.Millimetre, "down into a ledger: twice the slat"},
	frame.CapToWall:  {"screw", [2]int64{2, 1}, sevenQuarters, 300 * measure.Millimetre, 0, "down into a board's edge: twice the cap"},
}

// Source is who says so, for reading.
const Source = "common practice; thread in the far piece at least 6 diameters (NDS 2018 12.1.5.6, from memory); pilot 7/8 of the root (NDS 2018 12.1.5.3, from memory)"

// Need is one kind of screw and all it is needed for.
type Need struct {
	Fixing catalog.Fixing
	Pilot  measure.Length // drill
	Uses   []Use
	Count  int // screws in the joints
	Buy    int // with the allowance for dropped and stripped ones
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
	ByJoint map[string]Fixed
	Missing []string // joint IDs for which no screw in the shop is right
}

// Choose picks and counts the screws for all joints.
func Choose(frames []frame.Frame, cat *catalog.Catalog, habits catalog.Habits) Plan {
	p := Plan{ByJoint: map[string]Fixed{}}
	for _, f := range frames {
		for _, j := range f.Joints {
			s, ok := screw(j, cat)
			if !ok {
				p.Missing = append(p.Missing, j.ID)
				continue
			}
			fixed := Fixed{s, pilot(s, cat), number(j)}
			p.ByJoint[j.ID] = fixed
			p.add(j, fixed, f.Times)
			if s.Kind == "lag" {
				if w, ok := washer(s, cat); ok {
					p.add(j, Fixed{Fixing: w, Count: fixed.Count}, f.Times)
				}
			}
		}
	}
	slices.SortStableFunc(p.Needs, func(a, b Need) int {
		return cmp.Or(cmp.Compare(a.Fixing.Length, b.Fixing.Length), cmp.Compare(a.Fixing.ID, b.Fixing.ID))
	})
	for i := range p.Needs {
		n := &p.Needs[i]
		n.Buy = n.Count + (n.Count*habits.SparePerMille+999)/1000
		n.Packs = Packs(n.Buy, n.Fixing.Packs)
	}
	return p
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
		n.Uses = append(n.Uses, Use{Kind: j.Kind, Each: f.Count, Rule: rules[j.Kind].words})
	}
	n.Uses[u].Joints += times
}

// screw picks the shortest screw of the wanted length; where the shop has none,
// the longest of at least 1 3/4 times the thickness. The thread reaches at
// least an inch and 6 diameters into the far piece and the tip stays 3 mm
// inside it.
func screw(j frame.Joint, cat *catalog.Catalog) (catalog.Fixing, bool) {
	r, ok := rules[j.Kind]
	if !ok {
		return catalog.Fixing{}, false
	}
	want := j.Through * measure.Length(r.lengths[0]) / measure.Length(r.lengths[1])
	least := j.Through * measure.Length(r.least[0]) / measure.Length(r.least[1])
	most := j.Through + j.Into - 3*measure.Millimetre
	var second catalog.Fixing
	for _, f := range cat.Fixings { // shortest first
		into := f.Length - j.Through
		if f.Kind != r.kind || f.Length < least || f.Length > most || into < max(measure.Inch, 6*f.Diameter) {
			continue
		}
		if f.Length >= want {
			return f, true
		}
		second = f
	}
	return second, second.ID != ""
}

// number of screws in a joint: along a cap one every spacing and one more;
// across a board one for every 50 mm (2 in) of width less one, at least two: 2
// in a 2x6, 3 in a 2x8, 4 in a 2x10 (common practice: two in thin stock, three
// or four in a 2x8 or 2x10); bolts one for every 100 mm (4 in).
func number(j frame.Joint) int {
	if s := rules[j.Kind].spacing; s > 0 {
		return int((j.Run+s-1)/s) + 1
	}
	strip := rules[j.Kind].strip
	n := int((j.Run + strip - 1) / strip)
	if rules[j.Kind].kind == "screw" {
		n--
	}
	return max(2, n)
}

// washer finds the washer that fits a bolt.
func washer(f catalog.Fixing, cat *catalog.Catalog) (catalog.Fixing, bool) {
	for _, w := range cat.Fixings {
		if w.Kind == "washer" && w.Diameter == f.Diameter {
			return w, true
		}
	}
	return catalog.Fixing{}, false
}

// pilot is the drill nearest to 7/8 of the screw's root diameter, or to half a
// bolt's (common practice; NDS 2018 12.1.4 has 40 to 70 % in softwood), the
// smaller where two are as near.
func pilot(f catalog.Fixing, cat *catalog.Catalog) measure.Length {
	want := f.Root * 7 / 8
	if f.Kind == "lag" {
		want = f.Diameter / 2
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
// up to the need plus the largest pack.
func Packs(need int, packs []catalog.Pack) []PackCount {
	if need <= 0 || len(packs) == 0 {
		return nil
	}
	largest := 0
	for _, p := range packs {
		largest = max(largest, p.Count)
	}
	type way struct {
		price int64
		last  int
	}
	cost := make([]way, need+largest)
	best := -1
	for n := range cost {
		cost[n] = way{-1, -1}
		if n == 0 {
			cost[n].price = 0
			continue
		}
		for i, p := range packs {
			if n < p.Count || cost[n-p.Count].price < 0 {
				continue
			}
			if c := cost[n-p.Count].price + int64(p.Price); cost[n].price < 0 || c < cost[n].price {
				cost[n] = way{c, i}
			}
		}
		if n >= need && cost[n].price >= 0 && (best < 0 || cost[n].price <= cost[best].price) {
			best = n
		}
	}
	counts := make([]int, len(packs))
	for n := best; n > 0; n -= packs[cost[n].last].Count {
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
		s += fmt.Sprintf("%d joints %s, %d each (%s)", u.Joints, u.Kind, u.Each, u.Rule)
	}
	return fmt.Sprintf("%s: %d in all, pilot %v", s, n.Count, n.Pilot)
}
