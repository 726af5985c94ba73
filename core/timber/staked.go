package timber

import (
	"fmt"
	"slices"

	"chamfer/core/addition"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// stakedFrame is thin boards screwed to pointed stakes that are driven into the
// ground: more stakes instead of thicker boards. A stake stands in each corner
// and along every side as often as the boards need.
//
//	    ______________
//	   |__|________|__|   boards
//	~~~|  |~~~~~~~~|  |~~~ ground
//	    \\/          \\/
var stakedFrame = System{
	System: stacked(design.System{
		Name: "staked", Title: "Staked frame", About: "thin boards, more stakes: the least timber",
		Examples: []design.Example{{About: "thin boards on pointed stakes that are driven into the ground"}},
		Uses:     []string{"grass", "under", "corners"},
		Own: []design.Field{
			{
				Key:     "stakes",
				Label:   "Stakes between the corners, each long side",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    30,
				Help: "auto sets one every 4 ft (1.2 m) along thin boards with up to about 14 in (350 mm) of soil, as" +
					" people build them (common practice); more where the soil is deeper, as many as thick boards need.",
			},
			{
				Key:     "end_stakes",
				Label:   "Stakes between the corners, each end",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    30,
			},
			{
				Key:     stakeKey,
				Label:   "Stakes of",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: usualStake,
				Help:    "Thicker ones bend less, and press on more ground.",
				Offer:   stakesOffered,
			},
			{
				Key:     "stake_in_ground",
				Label:   "Stakes into the ground",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "12 in",
				Metric:  "300 mm",
				Help:    "About 1 ft (300 mm) (common practice).",
			},
			{
				Key:     "driving",
				Label:   "Extra length for driving",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "2 in",
				Metric:  "50 mm",
				Help:    "The head is battered; what is left of it is sawn off level with the rim.",
			},
		},
		Start: startStaked,
		Adds:  andFinishes(addsToGround),
		Makes: makes,
		Check: checkStaked,
	}, onTheGround),
	Build: buildStaked,
}

// What stakes are of: what is sold for stakes, or a square post, pointed.
const (
	stakeKey   = "stake_of"
	usualStake = "stake"
)

func stakesOffered(cat *catalog.Catalog, _ design.Bed) []design.Choice {
	var list []design.Choice
	if stake, err := addition.Stick(cat); err == nil {
		list = append(list, design.Choice{Value: usualStake, Label: stake.Name, Note: "really " + stake.Actual})
	}
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Post && p.Width == p.Thickness {
			list = append(list, design.Choice{Value: p.ID, Label: p.Name, Note: "really " + p.Actual})
		}
	}
	return list
}

// stakeOf is what a bed's stakes are of.
func stakeOf(bed design.Bed, cat *catalog.Catalog) (catalog.Profile, error) {
	if own := bed.Options[stakeKey]; own != usualStake && own != "" {
		return cat.Profile(own)
	}
	return addition.Stick(cat)
}

// startStaked takes the thinnest board of the timber that lasts, and the
// region's round figures.
func startStaked(cat *catalog.Catalog, b *design.Bed) {
	takeThinBoard(cat, b)
}

// takeThinBoard gives a bed the thinnest board of its timber that lasts.
func takeThinBoard(cat *catalog.Catalog, b *design.Bed) {
	var best catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Board && p.Thickness >= cat.Thinnest && cat.Sold(p.ID, b.Species) &&
			(best.ID == "" || p.Thickness < best.Thickness) {
			best = p
		}
	}
	if best.ID == "" {
		return // none is sold: the bed keeps its board
	}
	takeWalls(best, cat, b)
}

// takeWalls gives a bed its boards, and the cap's inward overhang what they leave
// of it.
func takeWalls(board catalog.Profile, cat *catalog.Catalog, b *design.Bed) {
	b.Board = board.ID
	if capBoard, err := cat.Profile(b.CapProfile); err == nil {
		b.CapIn = max(0, capBoard.Width-board.Thickness-b.CapOut)
	}
}

func checkStaked(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	stake, err := stakeOf(b, cat)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	if l := b.OptionLength("stake_in_ground"); l < 100*measure.Millimetre || l > 1200*measure.Millimetre {
		refuse(
			"stake_in_ground",
			"a stake %s in the ground is out of range: from %s to %s works",
			p.Feet(l),
			p.AtLeast(100*measure.Millimetre),
			p.AtMost(1200*measure.Millimetre),
		)
	}
	if l := b.OptionLength("driving"); l > 300*measure.Millimetre {
		refuse(
			"driving",
			"%s is more than a hammer spoils; up to %s works",
			p.Feet(l),
			p.AtMost(300*measure.Millimetre),
		)
	}
	inLength, inWidth := b.Length, b.Width
	if b.Cap != design.NoCap {
		inLength, inWidth = inLength+2*b.CapIn, inWidth+2*b.CapIn
	}
	for _, side := range []struct {
		field  string
		length measure.Length
	}{{"stakes", inLength}, {"end_stakes", inWidth}} {
		if n, ok := b.OptionCount(side.field); ok {
			if room := int((side.length - 2*stake.Width) / (stake.Width + betweenPosts)); n > room {
				refuse(side.field, "%d stakes do not fit along %s; up to %d do", n, p.Feet(side.length), max(0, room))
			}
		}
	}
}

// everyFourFeet is the most between stakes where the boards do not decide:
// 1.2 m or 4 ft (common practice).
const everyFourFeet = 4 * measure.Foot

func buildStaked(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	stake, err := stakeOf(bed, cat)
	if err != nil {
		return frame.Frame{}, err
	}
	b, err := newBox(bed, cat, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	s := &staked{box: b, stake: stake, deep: bed.OptionLength("stake_in_ground"), driven: bed.OptionLength("driving")}
	s.plant()
	return b.finish(), nil
}

// staked is a box held by stakes.
type staked struct {
	*box
	stake  catalog.Profile
	deep   measure.Length // in the ground
	driven measure.Length // extra, for driving
}

// plant sets the stakes, screws the boards to them and says what leans on what.
func (s *staked) plant() {
	t, q := s.board.Thickness, s.stake.Width
	x0, x1 := t, s.outLength-t-q
	y0, y1 := t, s.outWidth-t-q
	var corners, mids []string
	for _, c := range s.corners(q) {
		id := s.drive(fmt.Sprintf("stake.%d", len(corners)+1), c.name+" corner stake", c.x, c.y)
		corners = append(corners, id.ID)
		for _, side := range c.sides {
			s.fixTo(side, id, frame.FaceToPost)
		}
	}
	for i, r := range s.sides {
		from, to, field := x0, x1, "stakes"
		if r.grain == frame.Y {
			from, to, field = y0, y1, "end_stakes"
		}
		n := s.between(field, to-from)
		supports := []measure.Length{from + q/2}
		for k := 1; k <= n; k++ {
			at := from + (to-from)*measure.Length(k)/measure.Length(n+1)
			x, y := at, at
			switch i {
			case front:
				y = y0
			case back:
				y = y1
			case left:
				x = x0
			default:
				x = x1
			}
			id := s.drive(fmt.Sprintf("stake.%s.%d", r.key, k), fmt.Sprintf("stake %d, %s", k, r.name), x, y)
			mids = append(mids, id.ID)
			s.fixTo(i, id, frame.FaceToPost)
			supports = append(supports, at+q/2)
		}
		s.f.Walls = append(
			s.f.Walls,
			frame.Wall{
				ID:       s.id("wall.%s", r.key),
				Bed:      s.bed.ID,
				Name:     r.name,
				End:      r.grain == frame.Y,
				Boards:   r.boards,
				Soil:     s.bed.Soil,
				Supports: append(supports, to+q/2),
				Field:    field,
				Support:  frame.Stake,
				Ground:   "stake_in_ground",
			},
		)
	}
	long := append(append([]string{}, s.sides[front].boards...), s.sides[back].boards...)
	short := append(append([]string{}, s.sides[left].boards...), s.sides[right].boards...)
	s.f.Acts = append(
		s.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "sides",
			Title: "Screw the long sides to their corner stakes",
			Where: "upside down on flat ground, points in the air",
			Parts: slices.Concat(long, corners),
			Loose: true,
			Over:  true,
			Note: "The rim lies on the ground, so the boards' top edges and the stakes' heads are level by" +
				" themselves; leave the stakes their extra length past it in a groove or over a plank's edge.",
		},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "ends",
			Title: "Join the sides with the ends",
			Where: "still upside down, beside the place",
			Parts: short,
			Again: slices.Concat(long, corners),
			Over:  true,
			Note:  "Turn it over with two people and set the points where they go in.",
		},
	)
	s.f.Acts = append(
		s.f.Acts,
		frame.Act{Verb: frame.Drive, Of: "stakes", Title: "Drive the stakes", Where: "in place", Parts: mids,
			Note: "Drive the corner stakes first, then the ones between, and screw the boards to those from outside."},
	)
}

// between is the number of stakes asked for between two corners. Of thin boards with no more
// soil than closed boxes have stood with for years it is one for every 4 ft, as people build
// them (six for a bed of 8 by 4 ft; common practice), and what they bow is told; of others the
// fewest that hold.
func (s *staked) between(field string, length measure.Length) int {
	if n, ok := s.bed.OptionCount(field); ok {
		return n
	}
	n := int((length - 1) / everyFourFeet)
	if thin := s.board.Thickness < 38*measure.Millimetre; !thin || s.bed.Soil > strength.StoodFor {
		needed := strength.MidSupports(strength.Side{Thickness: s.board.Thickness, Width: s.wide(1), Soil: s.bed.Soil,
			Species: s.species, Fluid: strength.Giving}, length)
		if n = max(n, needed); !thin {
			n = needed
		}
	}
	return min(n, max(0, int((length-s.stake.Width)/(s.stake.Width+betweenPosts))))
}

// drive places a stake with its point down, its near corner at x, y.
func (s *staked) drive(key, role string, x, y measure.Length) frame.Part {
	q, deep := s.stake.Width, s.deep
	p := s.part(s.stake, frame.Stake, role)
	p.ID, p.Grain, p.Hidden = s.id("%s", key), frame.Z, true
	p.Ends = [2]frame.End{frame.Pointed, frame.Square}
	p.Length, p.Extra = deep+s.rim, s.driven
	point := min(2*q, deep/2)
	p.Body = frame.Prism{Axis: frame.Y, From: y, To: y + q, Outline: []frame.Spot{
		{
			U: x + q/2,
			V: -deep,
		}, {U: x + q, V: point - deep}, {U: x + q, V: s.rim}, {U: x, V: s.rim}, {U: x, V: point - deep},
	}}
	s.f.Parts = append(s.f.Parts, p)
	return p
}
