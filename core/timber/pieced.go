package timber

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

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
	System: stacked(design.System{
		Name: "pieced", Title: "Pieced frame", About: "hidden sides from short leftovers, one good board in front",
		Examples: []design.Example{{About: "hidden sides joined from short boards with splice plates"}},
		For:      []string{design.OfShortOnes},
		Uses: []string{
			"grass",
			"under",
			"corners",
			"post",
			"post_below_rim",
			"post_in_ground",
			"mid_posts",
			"mid_in_ground",
		},
		Own: []design.Field{
			{
				Key:     "pieced_sides",
				Label:   "Sides that may be pieced",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: "hidden",
				Offers: []design.Choice{
					{Value: "hidden", Label: "all but the front", Note: "the front shows, in one length"},
					{Value: "back", Label: "only the back", Note: "three sides in one length"},
					{Value: "all", Label: "all of them", Note: "nothing but leftovers"}},
			},
			{
				Key:     "longest_piece",
				Label:   "Longest piece",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "4 ft",
				Metric:  "1200 mm",
				Help:    "What there is in the pile: no piece of a pieced side is longer.",
			},
			{Key: jointsAt, Label: "Joints", Stage: design.AtFrame, Kind: design.TextField, Default: design.Auto,
				Help: "auto joins as seldom as the longest piece allows. Or say where, by side and course, from the" +
					" left or front end: back 1 at 40 in (1000 mm) and 72 in (1800 mm); back 2 at 24 in (600 mm). A" +
					" side where one would fall on a post or over another is worked out anew."},
		},
		Adds:  andFinishes(addsToGround),
		Makes: makes,
		Check: checkPieced,
	}, onTheGround),
	Build: buildPieced,
}

// jointsAt is the decision where the pieces meet.
const jointsAt = "joints_at"

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
	if _, err := readJoints(b.Options[jointsAt], cat.System); err != nil {
		refuse(
			jointsAt,
			"%v; auto works, or one like back 1 at 40 in (1000 mm) and 72 in (1800 mm); back 2 at 24 in (600 mm)",
			err,
		)
		return
	}
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
		refuse(
			"board",
			"the screws of a splice plate come out behind a board of %s; from %s works",
			p.Short(board.Thickness),
			p.AtLeast(least),
		)
		return
	}
	longest := b.OptionLength("longest_piece")
	if longest < 2*shortestPiece || longest > 12*measure.Metre {
		refuse(
			"longest_piece",
			"pieces of %s are out of range: from %s to %s works",
			p.Feet(longest),
			p.AtLeast(2*shortestPiece),
			p.AtMost(12*measure.Metre),
		)
		return
	}
	try := b.Copied()
	try.Options[jointsAt] = design.Auto
	for ; longest < 12*measure.Metre; longest += 4 * pieceStep {
		try.Options["longest_piece"] = longest.String()
		if pieces(try, cat) != nil {
			break
		}
	}
	if longest > b.OptionLength("longest_piece") {
		refuse(
			"longest_piece",
			"with pieces of %s some joints would fall on a post or over one another; from %s works",
			p.Feet(b.OptionLength("longest_piece")),
			p.AtLeast(longest),
		)
	}
}

// pieces parts the boards of every side and course, or returns nil where the
// joints cannot be kept clear.
func pieces(bed design.Bed, cat *catalog.Catalog) *boarded {
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return nil
	}
	x, err := newBox(bed, cat, 0, 0)
	if err != nil {
		return nil
	}
	b := &boarded{box: x, post: post}
	q, t := post.Width, x.board.Thickness
	x.joints = map[int][][]measure.Length{}
	given, _ := readJoints(bed.Options[jointsAt], cat.System)
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
		x.joints[i] = givenRows(given[r.key], len(x.rows), lo, hi, posts, q)
		if x.joints[i] == nil {
			odd, even, ok := staggered(lo, hi, bed.OptionLength("longest_piece"), posts, q)
			if !ok {
				return nil
			}
			for course := range x.rows {
				x.joints[i] = append(x.joints[i], [][]measure.Length{odd, even}[course%2])
			}
		}
		for course, joints := range x.joints[i] {
			run := frame.Pieced{
				Side:    r.key,
				Course:  course + 1,
				Profile: x.rows[course].board.ID,
				Species: x.species.ID,
				Length:  hi - lo,
				Least:   shortestPiece,
				Apart:   clearOfJoint,
				Field:   jointsAt,
			}
			for _, p := range posts {
				run.Clear = append(run.Clear, [2]measure.Length{max(0, p-clearOfPost-lo), p + q + clearOfPost - lo})
			}
			for _, at := range joints {
				run.Joints = append(run.Joints, at-lo)
			}
			b.runs = append(b.runs, run)
		}
	}
	return b
}

// givenRows are the joints of a side that were asked for, in the frame's
// measures; nil where there are none or they cannot be where they should.
func givenRows(
	given map[int][]measure.Length,
	courses int,
	lo, hi measure.Length,
	posts []measure.Length,
	q measure.Length,
) [][]measure.Length {
	if given == nil {
		return nil
	}
	rows := make([][]measure.Length, courses)
	for course, joints := range given {
		if course > courses {
			return nil
		}
		for _, at := range joints {
			rows[course-1] = append(rows[course-1], lo+at)
		}
	}
	var below []measure.Length
	for _, row := range rows {
		from := lo
		for _, x := range append(slices.Clone(row), hi) {
			if x-from < shortestPiece || x < hi && !free(x, posts, q, below) {
				return nil
			}
			from = x
		}
		below = row
	}
	return rows
}

// readJoints reads where the pieces of every side and course meet: nil for auto.
func readJoints(text string, system measure.System) (map[string]map[int][]measure.Length, error) {
	if text = strings.TrimSpace(text); text == "" || text == design.Auto {
		return nil, nil
	}
	given := map[string]map[int][]measure.Length{}
	for _, line := range strings.Split(text, ";") {
		where, places, _ := strings.Cut(strings.TrimSpace(line), " at ")
		side, number, _ := strings.Cut(strings.TrimSpace(where), " ")
		course, err := strconv.Atoi(strings.TrimSpace(number))
		if !slices.Contains([]string{"front", "back", "left", "right"}, side) || err != nil || course < 1 ||
			course > 40 {
			return nil, fmt.Errorf("%q names no side and course", where)
		}
		if given[side] == nil {
			given[side] = map[int][]measure.Length{}
		}
		for _, place := range strings.Split(places, " and ") {
			if places == "" {
				break
			}
			at, err := measure.Parse(place, system)
			if err != nil {
				return nil, err
			}
			given[side][course] = append(given[side][course], at)
		}
		slices.Sort(given[side][course])
	}
	return given, nil
}

var piecedSides = map[string][]int{"hidden": {back, left, right}, "back": {back}, "all": {front, back, left, right}}

// staggered parts a board in two ways for courses by turns, whose joints keep
// clear of each other. Where the best way for itself leaves none for the next
// course, its joints go as far to one end as they can.
func staggered(
	lo, hi, longest measure.Length,
	posts []measure.Length,
	q measure.Length,
) (odd, even []measure.Length, ok bool) {
	quarter := func(x measure.Length) measure.Length { return fromQuarter(x, posts, q) }
	for _, way := range []func(measure.Length) measure.Length{quarter,
		func(x measure.Length) measure.Length { return x - lo }, func(x measure.Length) measure.Length { return hi - x }} {
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
func part(
	lo, hi, longest measure.Length,
	posts []measure.Length,
	q measure.Length,
	below []measure.Length,
	off func(measure.Length) measure.Length,
) (cuts []measure.Length, ok bool) {
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
	f := b.build()
	f.Pieced = b.runs
	for i, run := range f.Pieced {
		for _, p := range f.Parts {
			if strings.HasPrefix(p.ID, b.id("%s.%d", run.Side, run.Course)) {
				f.Pieced[i].Parts = append(f.Pieced[i].Parts, p.ID)
			}
		}
	}
	return f, nil
}

// splice joins the pieces of one course with a plate on both faces.
func (b *box) splice(ids []string) {
	for i := 1; i < len(ids); i++ {
		one, _ := b.f.Part(ids[i-1])
		two, _ := b.f.Part(ids[i])
		at, _, _ := contact(one.Body, two.Body)
		b.f.Joints = append(
			b.f.Joints,
			frame.Joint{ID: one.ID + "+" + two.ID, Kind: frame.Splice, Parts: [2]string{one.ID, two.ID},
				Through: 2 * measure.Millimetre, Into: b.board.Thickness, Run: one.Width, At: at,
				Load: "what bends the side, where it bends least"},
		)
		b.plates += 2
	}
}
