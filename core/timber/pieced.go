package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// piecedFrame is a boarded frame whose sides out of sight are joined end to end
// from shorter boards, with a metal plate on both faces of every joint: one
// plate alone hinges when the side is lifted.
//
//	course 2  |=======|======[]==============|==========[]===|
//	course 1  |=========[]===|======================|========|
//	          post           post                         post
//
// Joints keep clear of the posts and of the joints in the course below, and lie
// about a quarter of the way from post to post, where a board bends least.
var piecedFrame = System{
	System: design.System{
		Name: "pieced", Title: "Pieced frame", About: "hidden sides from short leftovers, one good board in front",
		Uses: []string{"grass", "under", "corners", "post", "post_below_rim", "post_in_ground", "mid_posts", "mid_in_ground"},
		Own: []design.Field{
			{Key: "pieced_sides", Label: "Sides that may be pieced", Stage: "frame", Kind: design.ChoiceField, Default: "hidden",
				Offers: []design.Choice{
					{Value: "hidden", Label: "all but the front", Note: "the front shows, in one length"},
					{Value: "back", Label: "only the back", Note: "three sides in one length"},
					{Value: "all", Label: "all of them", Note: "nothing but leftovers"}}},
			{Key: "longest_piece", Label: "Longest piece", Stage: "frame", Kind: design.LengthField, Default: "4 ft", Metric: "1200 mm",
				Help: "What there is in the pile: no piece of a pieced side is longer."},
		},
		Adds:  addsToGround,
		Check: checkPieced,
	},
	Build: buildPieced,
}

// Where joints may be: clear of a post's face, from the joint in the course
// below, and from the ends of a board (common practice: kept off the posts and
// away from one another; half a plate is 3 in or 75 mm).
const (
	clearOfPost   = 100 * measure.Millimetre
	clearOfJoint  = 300 * measure.Millimetre
	shortestPiece = 250 * measure.Millimetre
	pieceStep     = 25 * measure.Millimetre
)

func checkPieced(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	failed := false
	checkBoarded(b, cat, func(field, format string, args ...any) {
		failed = true
		refuse(field, format, args...)
	})
	if failed {
		return
	}
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	if least := 36 * measure.Millimetre; board.Thickness < least {
		refuse("board", "the screws of a splice plate come out behind a board of %s; from %s works", p.Short(board.Thickness), p.Short(least))
		return
	}
	longest := b.OptionLength("longest_piece")
	if longest < 2*shortestPiece || longest > 12*measure.Metre {
		refuse("longest_piece", "pieces of %s are out of range: from %s to %s works", p.Feet(longest), p.Feet(2*shortestPiece), p.Feet(12*measure.Metre))
		return
	}
	try := b.Copied()
	for ; longest < 12*measure.Metre; longest += 4 * pieceStep {
		try.Options["longest_piece"] = longest.String()
		if pieces(try, cat) != nil {
			break
		}
	}
	if longest > b.OptionLength("longest_piece") {
		refuse("longest_piece", "with pieces of %s some joints would fall on a post or over one another; from %s works", p.Feet(b.OptionLength("longest_piece")), p.Feet(longest))
	}
}

// pieces parts the boards of every side and course, or returns nil where the
// joints cannot be kept clear.
func pieces(bed design.Bed, cat *catalog.Catalog) *boarded {
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return nil
	}
	x, err := layOut(bed, cat, 0, 0, "", "")
	if err != nil {
		return nil
	}
	x.walls()
	b := &boarded{box: x, post: post}
	q, t := post.Width, x.board.Thickness
	x.joints = map[int][][]measure.Length{}
	for i, r := range x.sides {
		if !slices.Contains(piecedSides[bed.Options["pieced_sides"]], i) {
			continue
		}
		lo, hi := r.lo.U, r.hi.U
		first, last, n := t, x.outLength-t-q, 0
		if r.grain == frame.Y {
			lo, hi = r.lo.V, r.hi.V
			last = x.outWidth - t - q
		} else {
			n = b.midCount(last - first)
		}
		var posts []measure.Length
		for k := 0; k <= n+1; k++ {
			posts = append(posts, first+(last-first)*measure.Length(k)/measure.Length(n+1))
		}
		odd, even, ok := staggered(lo, hi, bed.OptionLength("longest_piece"), posts, q)
		if !ok {
			return nil
		}
		for course := range x.courses {
			x.joints[i] = append(x.joints[i], [][]measure.Length{odd, even}[course%2])
		}
	}
	return b
}

var piecedSides = map[string][]int{"hidden": {back, left, right}, "back": {back}, "all": {front, back, left, right}}

// staggered parts a board in two ways for courses by turns, whose joints keep
// clear of each other. Where the best way for itself leaves none for the next
// course, its joints go as far to one end as they can.
func staggered(lo, hi, longest measure.Length, posts []measure.Length, q measure.Length) (odd, even []measure.Length, ok bool) {
	quarter := func(x measure.Length) measure.Length { return fromQuarter(x, posts, q) }
	for _, way := range []func(measure.Length) measure.Length{quarter, func(x measure.Length) measure.Length { return x - lo }, func(x measure.Length) measure.Length { return hi - x }} {
		if odd, ok = part(lo, hi, longest, posts, q, nil, way); !ok {
			return nil, nil, false
		}
		if even, ok = part(lo, hi, longest, posts, q, odd, quarter); ok {
			return odd, even, true
		}
	}
	return nil, nil, false
}

// part finds where a board from lo to hi is joined: the fewest joints with no
// piece over the longest, all of them clear of posts and of the joints below,
// and among those the ones least off from where they are best.
// It walks the places for a joint from left to right, keeping the best way to
// each.
func part(lo, hi, longest measure.Length, posts []measure.Length, q measure.Length, below []measure.Length, off func(measure.Length) measure.Length) (cuts []measure.Length, ok bool) {
	if hi-lo <= longest {
		return nil, true
	}
	type way struct {
		joints int
		off    measure.Length // all joints together
		from   int
		ok     bool
	}
	var at []measure.Length
	for x := lo; x < hi; x += pieceStep {
		if x == lo || x-lo >= shortestPiece && hi-x >= shortestPiece && free(x, posts, q, below) {
			at = append(at, x)
		}
	}
	at = append(at, hi)
	ways := make([]way, len(at))
	ways[0].ok = true
	for i := 1; i < len(at); i++ {
		for j := i - 1; j >= 0 && at[i]-at[j] <= longest; j-- {
			if !ways[j].ok || at[i]-at[j] < shortestPiece {
				continue
			}
			w := way{ways[j].joints, ways[j].off, j, true}
			if i < len(at)-1 {
				w.joints, w.off = w.joints+1, w.off+off(at[i])
			}
			if b := ways[i]; !b.ok || w.joints < b.joints || w.joints == b.joints && w.off < b.off {
				ways[i] = w
			}
		}
	}
	end := len(at) - 1
	if !ways[end].ok {
		return nil, false
	}
	for i := ways[end].from; i > 0; i = ways[i].from {
		cuts = append(cuts, at[i])
	}
	slices.Reverse(cuts)
	return cuts, true
}

// free reports whether a joint at x is clear of posts and of the joints below.
func free(x measure.Length, posts []measure.Length, q measure.Length, below []measure.Length) bool {
	for _, p := range posts {
		if x > p-clearOfPost && x < p+q+clearOfPost {
			return false
		}
	}
	return !slices.ContainsFunc(below, func(b measure.Length) bool { return max(x-b, b-x) < clearOfJoint })
}

// fromQuarter is how far x lies from a quarter of the way between its posts.
func fromQuarter(x measure.Length, posts []measure.Length, q measure.Length) measure.Length {
	best := measure.MaxLength
	for i := 1; i < len(posts); i++ {
		a, b := posts[i-1]+q/2, posts[i]+q/2
		for _, want := range []measure.Length{a + (b-a)/4, b - (b-a)/4} {
			best = min(best, max(x-want, want-x))
		}
	}
	return best
}

func buildPieced(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	b := pieces(bed, cat)
	if b == nil {
		return frame.Frame{}, fmt.Errorf("no way to keep the joints clear")
	}
	b.f.Parts = nil
	b.walls()
	return b.build(), nil
}

// splice joins the pieces of one course with a plate on both faces.
func (b *box) splice(ids []string) {
	for i := 1; i < len(ids); i++ {
		one, _ := b.f.Part(ids[i-1])
		two, _ := b.f.Part(ids[i])
		at, _, _ := contact(one.Body, two.Body)
		b.f.Joints = append(b.f.Joints, frame.Joint{ID: one.ID + "+" + two.ID, Kind: frame.Splice, Parts: [2]string{one.ID, two.ID},
			Through: 2 * measure.Millimetre, Into: b.board.Thickness, Run: b.board.Width, At: at, Load: "what bends the side, where it bends least"})
		b.plates += 2
	}
}
