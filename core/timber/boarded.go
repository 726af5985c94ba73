package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// boardedFrame is a rectangular frame of boards on edge, screwed from outside
// to posts that stand inside the corners.
//
//	==================
//	|#      #       #|    # post
//	|                |
//	|#      #       #|
//	==================
var boardedFrame = System{
	System: stacked(design.System{
		Name: "boarded", Title: "Boarded frame on posts", About: "any height, posts inside the corners",
		Examples: []design.Example{{About: "boards on edge, screwed to posts inside the corners, with a mitred cap",
			Then: mitredCap}},
		For: []string{design.AnyHeight},
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
		Adds:  andFinishes(addsToGround),
		Makes: makes,
		Check: checkBoarded,
	}, onTheGround),
	Build: buildBoarded,
}

// betweenPosts is the least room between two posts: a hand's width.
const betweenPosts = 50 * measure.Millimetre

func checkBoarded(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	board, _ := cat.Profile(b.Board)
	post, _ := cat.Profile(b.Post)
	p := cat.Precision(cat.Habits)
	if most := board.Width / 2; b.PostBelowRim > most {
		refuse("post_below_rim", "%s would leave the top board with nothing to be screwed to; up to %s works",
			p.Feet(b.PostBelowRim), p.Feet(most))
	}
	inLength, inWidth := b.Length, b.Width
	if b.Cap != design.NoCap {
		inLength, inWidth = inLength+2*b.CapIn, inWidth+2*b.CapIn
	}
	if least := 2*post.Width + betweenPosts; inWidth < least {
		refuse("width", "two %s posts do not fit between the long sides; from %s works",
			post.Name, p.Feet(b.Width+least-inWidth))
	}
	if mid, ok := b.MidCount(); ok {
		room := int((inLength - 2*post.Width) / (post.Width + betweenPosts))
		if mid > room {
			refuse("mid_posts", "%d posts do not fit along %s; up to %d do", mid, p.Feet(inLength), max(0, room))
		}
	}
}

func buildBoarded(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("post: %w", err)
	}
	x, err := newBox(bed, cat, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	b := &boarded{box: x, post: post}
	return b.build(), nil
}

// build sets the posts and finishes the box whose walls stand.
func (b *boarded) build() frame.Frame {
	b.posts()
	f := b.finish()
	if b.bed.PostInGround > 0 {
		t := b.board.Thickness
		f.Measures = append(f.Measures, frame.Measure{Name: "posts in the ground", Field: "post_in_ground",
			From: frame.Point{X: t, Y: t, Z: -b.bed.PostInGround}, To: frame.Point{X: t, Y: t}})
	}
	return f
}

// boarded is a box held together by posts.
type boarded struct {
	*box
	post catalog.Profile
	runs []frame.Pieced // sides that may be pieced
}

// posts stands a post in each corner and the mid posts along the long sides,
// screws every board to every post it touches, and records what each wall
// leans on and the order in which it all goes together.
func (b *boarded) posts() {
	t, q := b.board.Thickness, b.post.Width
	top := b.rim - b.bed.PostBelowRim
	x0, x1 := t, b.outLength-t-q
	y0, y1 := t, b.outWidth-t-q
	foot := -b.bed.PostInGround
	var ends, mids []string
	for _, c := range b.corners(q) {
		id := b.stand("post."+c.key, frame.CornerPost, c.name+" corner post", c.x, c.y, foot, top)
		ends = append(ends, id.ID)
		for _, s := range c.sides {
			b.fixTo(s, id, frame.FaceToPost)
		}
	}
	supports := []measure.Length{x0 + q/2, x1 + q/2}
	n := b.midCount(supports[1] - supports[0])
	for k := 1; k <= n; k++ {
		centre := supports[0] + (supports[len(supports)-1]-supports[0])*measure.Length(k)/measure.Length(n+1)
		for _, m := range []struct {
			side int
			y    measure.Length
		}{{front, y0}, {back, y1}} {
			name := b.sides[m.side].key
			id := b.stand(fmt.Sprintf("mid.%s.%d", name, k), frame.MidPost,
				fmt.Sprintf("mid post %d, %s", k, b.sides[m.side].name), centre-q/2, m.y, -b.bed.MidInGround, top)
			mids = append(mids, id.ID)
			b.fixTo(m.side, id, frame.FaceToPost)
		}
	}
	long := make([]measure.Length, 0, n+2)
	for k := 0; k <= n+1; k++ {
		long = append(long, supports[0]+(supports[1]-supports[0])*measure.Length(k)/measure.Length(n+1))
	}
	short := []measure.Length{y0 + q/2, y1 + q/2}
	for i, r := range b.sides {
		w := frame.Wall{
			ID:     b.id("wall.%s", r.key),
			Bed:    b.bed.ID,
			Name:   r.name,
			End:    r.grain == frame.Y,
			Boards: r.boards,
			Soil:   b.bed.Soil,
		}
		if i == front || i == back {
			w.Supports, w.Field, w.Support, w.Ground = long, "mid_posts", frame.MidPost, "mid_in_ground"
		} else {
			w.Supports = short
		}
		b.f.Walls = append(b.f.Walls, w)
	}
	b.acts(ends, mids)
}

// midCount is the number asked for, or the fewest that keep the boards
// straight.
func (b *boarded) midCount(between measure.Length) int {
	if n, ok := b.bed.MidCount(); ok {
		return n
	}
	n := strength.MidSupports(strength.Side{
		Thickness: b.board.Thickness, Width: b.wide(1), Soil: b.bed.Soil,
		Species: b.species, Fluid: strength.Giving,
	}, between)
	room := int((between - b.post.Width) / (b.post.Width + 50*measure.Millimetre))
	return min(n, max(0, room))
}

func (b *boarded) stand(key string, kind frame.PartKind, role string, x, y, z0, z1 measure.Length) frame.Part {
	q := b.post.Width
	p := b.part(b.post, kind, role)
	p.ID = b.id("%s", key)
	p.Grain, p.Hidden, p.Length = frame.Z, true, z1-z0
	p.Body = upright(x, y, q, z0, z1)
	b.f.Parts = append(b.f.Parts, p)
	return p
}

func (b *boarded) acts(corner, mids []string) {
	if b.plates > 0 {
		b.f.Fittings = append(
			b.f.Fittings,
			frame.Fitting{
				ID:    b.id("plates"),
				Bed:   b.bed.ID,
				Kind:  "plate",
				Place: "over the joints of pieced sides, on both faces",
				Count: b.plates,
				Why:   "one on each face of every joint: one alone hinges when the side is lifted",
			},
		)
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    "pieced boards",
				Title: "Join the pieced boards end to end",
				Where: "on a flat surface",
				Parts: b.pieced,
				Loose: true,
				Fits:  []string{b.id("plates")},
				Note: "Push the ends tight, a plate on one face, then turn it over with two people and screw on" +
					" the other.",
			},
		)
	}
	ends, again := b.whole(slices.Concat(b.sides[left].boards, b.sides[right].boards))
	sides, sidesAgain := b.whole(slices.Concat(b.sides[front].boards, b.sides[back].boards))
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{Verb: frame.MakeUp, Of: "ends", Title: "Make up the two ends", Where: "on a flat surface",
			Parts: slices.Concat(ends, corner), Again: again, Loose: true, Note: b.endNote()},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "sides",
			Title: "Join the ends with the long sides",
			Where: "where the bed will stand, because the finished frame is heavy to carry",
			Parts: sides,
			Again: slices.Concat(ends, again, corner, sidesAgain),
			Note: "Start with the bottom board of each side, one screw in each post, and put in the rest once the" +
				" frame is square.",
		},
	)
	if len(mids) > 0 {
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{Verb: frame.SetPost, Of: "mid posts", Title: "Set the mid posts", Where: "inside the long sides",
				Parts: mids,
				Note: "It is the ground that holds a mid post. Tamp the soil back round it in layers, then screw" +
					" the boards to it from outside."},
		)
	}
}

// whole parts boards in one length from those that were made up of pieces.
func (b *boarded) whole(boards []string) (whole, again []string) {
	for _, id := range boards {
		if slices.Contains(b.pieced, id) {
			again = append(again, id)
		} else {
			whole = append(whole, id)
		}
	}
	return whole, again
}

func (b *boarded) endNote() string {
	switch b.bed.Corners {
	case design.EndsCover:
		return "Let the end boards stand out past the posts by one board's thickness on both edges: they will cover" +
			" the sides."
	case design.Pinwheel:
		return "Each end board stands out past one post by a board's thickness, the front end of the left one flush," +
			" the front end of the right one past its post: lay both ends out before driving a screw."
	}
	return "Keep the board ends flush with the outer faces of the posts: the long sides will cover them."
}

// mitredCap puts a cap on.
func mitredCap(b *design.Bed) { b.Cap = design.Mitred }
