package timber

import (
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// How high a box is: whole boards, as many as its soil needs or as many as were asked for;
// or just as high as the soil needs, with one course ripped.
//
//	 whole             top ripped        lowest ripped
//	|------|           |------|          |------|
//	|      |  spare    |______|          |      |
//	|------|           |      |          |------|
//	|      |           |      |          |______|
const (
	highKey   = "boards_high"
	rippedKey = "ripped"
	eachKey   = "screws_each"
	topKey    = "top_board"

	topSame = "same"

	ripNone   = "none"
	ripTop    = "top"
	ripLowest = "lowest"
)

// leastRip is the narrowest a course is ripped: two screws have to stand in it beside one
// another and clear of its edges, and what is narrower bends off the saw. underCap is what
// the screws of a cap stand in, down from above. (Common practice: 64 and 89 mm, 2 1/2 and
// 3 1/2 in.)
const (
	leastRip = 5 * measure.Inch / 2
	underCap = 7 * measure.Inch / 2
)

// heightFields are those decisions.
var heightFields = []design.Field{
	{Key: highKey, Label: "Boards high", Stage: design.AtFrame, Kind: design.NumberField, Default: design.Auto, Most: 12,
		Help: "auto: as many as the soil and what stands above it need. A number of whole boards decides the" +
			" depth of the soil."},
	{Key: topKey, Label: "Top course of", Stage: design.AtFrame, Kind: design.ChoiceField, Default: topSame,
		Help:  "A board of another width, as thick as the others, may come nearer to the height you want than one more.",
		Offer: topsOffered},
	{Key: rippedKey, Label: "Ripped to height", Stage: design.AtFrame, Kind: design.ChoiceField, Default: ripNone,
		Help: "Whole boards are often higher than the soil needs. A ripped one ends the walls just where you want them.",
		Offers: []design.Choice{
			{Value: ripNone, Label: "none, whole boards", Note: "no rip cut; a little higher"},
			{Value: ripTop, Label: "the top board", Note: "the height you asked for"},
			{Value: ripLowest, Label: "the lowest board", Note: "the rip is out of sight; the top edge is as bought"}}},
	{Key: eachKey, Label: "Fixings in each board's end", Stage: design.AtFrame, Kind: design.NumberField,
		Default: design.Auto, Most: 8,
		Help: "auto: one for every 2 in (50 mm) of a board's width less one, at least two; bolts half as many. What" +
			" fewer hold is checked like any other number."},
}

// apart is the least that fixings of a board's end stand from one another and from its edges,
// or the board splits: 20 mm (common practice).
const apart = 20 * measure.Millimetre

// saidEach puts as many fixings as were said into the ends of the walls' boards; what carries a
// floor is fixed as its load asks.
func (b *box) saidEach() {
	n, said := b.bed.OptionCount(eachKey)
	if !said || n < 1 {
		return
	}
	for i := range b.f.Joints {
		j := &b.f.Joints[i]
		switch j.Kind {
		case frame.FaceToPost, frame.FaceToEnd, frame.BoltToEnd, frame.BehindPost:
		default:
			continue
		}
		for _, id := range j.Parts {
			if p, ok := b.f.Part(id); ok && p.Course > 0 {
				j.Said = n
			}
		}
	}
}

// row is one course of a wall: its lower and upper edge above the lowest.
type row struct {
	from, to measure.Length
	board    catalog.Profile
}

func (r row) tall() measure.Length { return r.to - r.from }

// topsOffered are the walls' boards, and others as thick that are sold in the bed's timber.
func topsOffered(cat *catalog.Catalog, b design.Bed) []design.Choice {
	list := []design.Choice{{Value: topSame, Label: "the same boards"}}
	board, err := cat.Profile(b.Board)
	for _, p := range cat.Profiles {
		if err == nil && p.Kind == board.Kind && p.Thickness == board.Thickness && p.Width != board.Width &&
			cat.Sold(p.ID, b.Species) {
			list = append(list, design.Choice{Value: p.ID, Label: p.Name, Note: "really " + p.Actual})
		}
	}
	return list
}

// topOf is what the top course is of, and whether it is other than the rest.
func topOf(bed design.Bed, cat *catalog.Catalog, board catalog.Profile) (catalog.Profile, bool) {
	if own := bed.Options[topKey]; own != "" && own != topSame {
		if p, err := cat.Profile(own); err == nil && p.Thickness == board.Thickness {
			return p, true
		}
	}
	return board, false
}

// coursesUp is how many courses reach a height, the topmost of another board; there is always
// one below that.
func coursesUp(tall measure.Length, board, top catalog.Profile, other bool) int {
	if !other {
		return max(1, coursesFor(tall, board))
	}
	return 1 + max(1, coursesFor(tall-top.Width, board))
}

// rowsFor are the courses of a bed's walls whose soil lies so far above their lower edge.
func rowsFor(bed design.Bed, cat *catalog.Catalog, board catalog.Profile, floor measure.Length) []row {
	want := floor + bed.Soil + bed.Freeboard
	top, other := topOf(bed, cat, board)
	n, said := bed.OptionCount(highKey)
	if !said || n < 1 {
		n = coursesUp(want, board, top, other)
	}
	var rows []row
	for i := range n {
		r := row{board: board, to: board.Width}
		if i == n-1 {
			r = row{board: top, to: top.Width}
		}
		rows = append(rows, r)
	}
	spare := -want
	for _, r := range rows {
		spare += r.to
	}
	ripped := -1
	switch bed.Options[rippedKey] {
	case ripTop:
		ripped = n - 1
	case ripLowest:
		ripped = 0
	}
	if ripped >= 0 && spare > 0 && spare < rows[ripped].to {
		rows[ripped].to -= spare
	}
	at := measure.Length(0)
	for i := range rows {
		rows[i].from, rows[i].to = at, at+rows[i].to
		at = rows[i].to
	}
	return rows
}

// high is how high they are together.
func high(rows []row) measure.Length { return rows[len(rows)-1].to }

// floorOf is how far above the lower edge of a bed's walls its soil lies.
type floorOf func(design.Bed, *catalog.Catalog) measure.Length

func onTheGround(design.Bed, *catalog.Catalog) measure.Length { return 0 }

// stacked gives a system the decisions on how high its walls are, with what follows from
// them.
func stacked(s design.System, floor floorOf) design.System {
	s.Own = slices.Concat(s.Own, heightFields)
	follow, ruled, check := s.Follow, s.Ruled, s.Check
	s.Follow = func(b *design.Bed, cat *catalog.Catalog, changed func(string) bool) {
		if follow != nil {
			follow(b, cat, changed)
		}
		n, said := b.OptionCount(highKey)
		board, err := cat.Profile(b.Board)
		if !said || n < 1 || err != nil || b.Options[rippedKey] != ripNone {
			return
		}
		if soil := high(rowsFor(*b, cat, board, floor(*b, cat))) - floor(*b, cat) - b.Freeboard; soil > 0 {
			b.Soil = soil
		}
	}
	s.Ruled = func(b design.Bed, field string) string {
		if _, said := b.OptionCount(highKey); said && field == "soil" && b.Options[rippedKey] == ripNone {
			return highKey
		}
		if ruled != nil {
			return ruled(b, field)
		}
		return ""
	}
	s.Check = func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
		board, err := cat.Profile(b.Board)
		if err == nil {
			checkHeight(b, cat, board, floor(b, cat), refuse)
		}
		check(b, cat, refuse)
	}
	return s
}

func checkHeight(
	b design.Bed, cat *catalog.Catalog, board catalog.Profile, floor measure.Length, refuse design.Refuse,
) {
	p := cat.Precision(cat.Habits)
	narrow := board.Width // of any course: a ripped one splits first
	for _, r := range rowsFor(b, cat, board, floor) {
		narrow = min(narrow, r.tall())
	}
	if each, said := b.OptionCount(eachKey); said && (each < 1 || measure.Length(each+1)*apart > narrow) {
		refuse(eachKey, "from 1 to %d stand in a board %s wide without splitting it; auto works", max(1,
			int(narrow/apart)-1), p.Short(narrow))
	}
	n, said := b.OptionCount(highKey)
	if said && n < 1 {
		refuse(highKey, "walls are at least one board high; auto takes as many as the soil needs")
		return
	}
	want := floor + b.Soil + b.Freeboard
	top, other := topOf(b, cat, board)
	need := coursesUp(want, board, top, other)
	if other && said && n < 2 {
		refuse(topKey, "one board high there is no other course below it; the same boards work, or two boards")
		return
	}
	whole := board.Width*measure.Length(need-1) + top.Width
	if b.Options[rippedKey] == ripNone {
		if all := board.Width*measure.Length(n-1) + top.Width; said && all < want {
			refuse(highKey, "walls of %s make %s, and %s of soil needs %s; auto, or %d works", measure.Count(n, "board"),
				p.Feet(all), p.Feet(b.Soil), p.Feet(want), need)
		}
		return
	}
	if said && n != need {
		refuse(highKey, "with a ripped board the height is what the soil needs, %s, which is %s; auto works", p.Feet(want),
			measure.Count(need, "board"))
		return
	}
	ripped, least := board, leastRip
	if b.Options[rippedKey] == ripTop {
		ripped = top
		if b.Cap != design.NoCap {
			least = underCap
		}
	}
	rest := ripped.Width - (whole - want)
	if rest >= min(least, ripped.Width) {
		return
	}
	below := whole - ripped.Width
	more := p.AtLeast(below + least - floor - b.Freeboard)
	if below == 0 || rest <= 0 {
		refuse(rippedKey, "nothing to screw would be left of a %s; %s of soil or more works, or whole boards",
			ripped.Name, more)
		return
	}
	refuse(rippedKey, "a course of %s is too narrow to rip and to screw: %s of soil makes whole boards, %s or more"+
		" leaves enough to rip", p.Short(rest), p.Feet(below-floor-b.Freeboard), more)
}

// wide is how wide a course's boards are.
func (b *box) wide(course int) measure.Length { return b.rows[course-1].tall() }
