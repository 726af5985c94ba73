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

// sleeperBed is heavy sleepers on edge, fixed from behind to posts that are set
// in the ground. An inner floor on rails keeps the soil as deep as it needs to
// be and no deeper; one end may be lower than the other.
//
//	 ______________
//	|    soil      |_______
//	|==============| soil  |    slats
//	|#            #|=======|    rails on the posts' inner faces
//	|              |#     #|
//	 #            #         posts, in the ground
var sleeperBed = System{
	System: design.System{
		Name: "sleeper", Title: "Sleeper bed", About: "heavy, long-lived, fixed from behind: no screw shows",
		Examples: []design.Example{{About: "sleepers on edge, fixed from behind to set posts, with an inner floor"}},
		Uses:     []string{"grass", "under", "post", "post_below_rim", "post_in_ground", "mid_posts", "mid_in_ground"},
		Lacks:    []string{"cap", "cap_profile", "cap_in", "cap_out"},
		Kinds:    []catalog.ProfileKind{catalog.Sleeper},
		Own: []design.Field{
			{
				Key:     "height",
				Does:    []design.Deed{{For: design.SetsRim}},
				Label:   "Walls at least",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "22 in",
				Metric:  "600 mm",
				Help:    "Whole sleepers are stacked until they reach it.",
			},
			{Key: "inner_floor", Does: []design.Deed{{For: design.FloorsInside, Value: "yes"}}, Label: "Inner floor",
				Stage: design.AtFrame, Kind: design.ChoiceField, Default: "yes",
				Offers: []design.Choice{
					{Value: "yes", Label: "on rails", Note: "soil only as deep as asked; fabric over the gaps"},
					{Value: "no", Label: "none", Note: "soil from the ground up"}}},
			{
				Key:     "low_length",
				Label:   "Lower end, planting length",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "0 in",
				Metric:  "0 mm",
				Help:    "0 is one height. The rest of the planting length is the high end's, on the left.",
			},
			{
				Key:     "low_height",
				Label:   "Walls of the lower end at least",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "16 in",
				Metric:  "400 mm",
			},
			{
				Key:     "gap",
				Does:    []design.Deed{{For: design.DrainsFloor}},
				Label:   "Gap between floor slats",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "1/4 in",
				Metric:  "6 mm",
				Help:    "At least this; what is left over is shared out. Lay fabric over the gaps.",
			},
		},
		Adds:  []string{"liner", "mesh", "grid", "trellis", "hoops", "arch", "bench", "face", "glue", "fence"},
		Makes: makes,
		Start: startSleeper,
		Check: checkSleeper,
	},
	Build: buildSleeper,
}

// startSleeper makes the long sides of one whole sleeper each.
func startSleeper(cat *catalog.Catalog, b *design.Bed) {
	b.Cap = design.NoCap
	board, err := cat.Profile(b.Board)
	if err != nil {
		return
	}
	b.Length, b.Width, b.Soil = 8*measure.Foot-2*board.Thickness, min(
		b.Width,
		4*measure.Foot-2*board.Thickness,
	), min(
		b.Soil,
		measure.Foot,
	)
	b.PostInGround, b.MidInGround = 16*measure.Inch, 16*measure.Inch
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Length, b.Width, b.Soil = 2400*mm-2*board.Thickness, min(
			b.Width,
			1200*mm-2*board.Thickness,
		), min(
			b.Soil,
			300*mm,
		)
		b.PostInGround, b.MidInGround = 400*mm, 400*mm
	}
}

// sleeperPart is one stretch of the bed with walls of one height: all of it, or
// its high and its low end.
type sleeperPart struct {
	key, name string
	from, to  measure.Length // inside, along the bed
	courses   int
	rim       measure.Length
	floor     measure.Length // what the soil lies on
	posts     []frame.Part   // front ones and back ones by turns
	fronts    []measure.Length
}

// floorDepth is what an inner floor takes: a slat on a rail.
func floorDepth(cat *catalog.Catalog, species string) (slat, rail catalog.Profile, err error) {
	if rail, err = railFor(cat, species); err != nil {
		return slat, rail, err
	}
	for _, p := range cat.Profiles { // of the rails' thickness, and wider
		if p.Kind == catalog.Board && p.Thickness >= rail.Thickness && p.Width > rail.Width &&
			cat.Sold(p.ID, design.SpeciesFor(cat, p.ID, species)) {
			return p, rail, nil
		}
	}
	return rail, rail, nil
}

// sleeperParts are the bed's stretches, the high one first.
func sleeperParts(b design.Bed, board catalog.Profile) []sleeperPart {
	t := board.Thickness
	tall := func(height measure.Length) int {
		return coursesFor(max(height, b.Soil+b.Freeboard), board)
	}
	low := b.OptionLength("low_length")
	parts := []sleeperPart{{from: t, to: t + b.Length - low, courses: tall(b.OptionLength("height"))}}
	if low > 0 {
		parts[0].key, parts[0].name = "high-", "high end's "
		from := parts[0].to + t
		parts = append(
			parts,
			sleeperPart{
				key:     "low-",
				name:    "low end's ",
				from:    from,
				to:      from + low,
				courses: tall(b.OptionLength("low_height")),
			},
		)
	}
	for i := range parts {
		p := &parts[i]
		p.rim = board.Width * measure.Length(p.courses)
		if b.Options["inner_floor"] == "yes" {
			p.floor = p.rim - b.Freeboard - b.Soil
		}
	}
	return parts
}

func checkSleeper(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	post, _ := cat.Profile(b.Post)
	slat, rail, err := floorDepth(cat, b.Species)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	low := b.OptionLength("low_length")
	if low > 0 && (low < 300*measure.Millimetre || b.Length-low < 300*measure.Millimetre) {
		refuse(
			"low_length",
			"%s leaves one end too short to plant: 0 for one height, or from %s to %s works",
			p.Feet(
				low,
			),
			p.Feet(300*measure.Millimetre),
			p.Feet(max(300*measure.Millimetre, b.Length-300*measure.Millimetre)),
		)
		return
	}
	within(
		refuse,
		p,
		"sleeper bed",
		limit{
			"height",
			b.OptionLength("height"),
			1200 * measure.Millimetre,
			"higher walls are for someone licensed to design",
		},
		limit{
			"low_height",
			b.OptionLength("low_height"),
			1200 * measure.Millimetre,
			"higher walls are for someone licensed to design",
		},
		limit{"gap", b.OptionLength("gap"), widestGap, "soil falls through wider ones"},
	)
	parts := sleeperParts(b, board)
	for i, part := range parts {
		field := []string{"height", "low_height"}[i]
		if least := slat.Thickness + rail.Width; b.Options["inner_floor"] == "yes" && part.floor < least {
			need := b.Soil + b.Freeboard + least
			refuse(
				field,
				"walls of %s hold %s of soil with no floor under it: from %s the floor fits, or choose none",
				p.Feet(part.rim),
				p.Feet(b.Soil),
				p.Feet(need),
			)
		}
	}
	if len(parts) == 2 && parts[1].courses >= parts[0].courses {
		refuse(
			"low_height",
			"the lower end would be as high as the other, %s: less works, or 0 for its length",
			p.Feet(parts[1].rim),
		)
	}
	if most := board.Width / 2; b.PostBelowRim > most {
		refuse(
			"post_below_rim",
			"%s would leave the top sleeper with nothing to be fixed to; up to %s works",
			p.Feet(b.PostBelowRim),
			p.AtMost(most),
		)
	}
	if least := 2*(post.Width+rail.Thickness) + betweenPosts; b.Width < least {
		refuse("width", "posts and rails leave no room; from %s works", p.AtLeast(least))
	} else if least += driverLong - betweenPosts; b.Width < least && b.Options["inner_floor"] == "yes" {
		refuse("width", "between the rails of an inner floor no driver finds room; from %s works, or no inner floor",
			p.AtLeast(least))
	}
	for _, part := range parts {
		if mid, ok := b.MidCount(); ok {
			if room := int((part.to - part.from - 2*post.Width) / (post.Width + betweenPosts)); mid > room {
				refuse(
					"mid_posts",
					"%d posts do not fit along %s; up to %d do",
					mid,
					p.Feet(part.to-part.from),
					max(0, room),
				)
				return
			}
		} else if part.to-part.from < 2*post.Width+betweenPosts {
			refuse("length", "two %s posts do not fit along %s", post.Name, p.Feet(part.to-part.from))
			return
		}
	}
}

func buildSleeper(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("post: %w", err)
	}
	slat, rail, err := floorDepth(cat, bed.Species)
	if err != nil {
		return frame.Frame{}, err
	}
	bed.Corners, bed.Cap = design.SidesCover, design.NoCap
	c, err := carcassOf(bed, cat, 0, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	s := &sleepers{boarded: &boarded{box: boxOf(c, bed, cat), post: post}, slat: slat, rail: rail,
		parts: sleeperParts(bed, c.board)}
	s.build()
	return s.f, nil
}

// sleepers is a bed of one or two stretches.
type sleepers struct {
	*boarded
	slat, rail catalog.Profile
	parts      []sleeperPart
	inner      []string // sleepers of the wall between the two ends
}

func (s *sleepers) build() {
	high, last := s.parts[0], s.parts[len(s.parts)-1]
	s.outLength = last.to + s.board.Thickness
	s.rim = high.rim
	s.f.Rim = s.rim
	s.stack()
	for i := range s.parts {
		s.uprights(&s.parts[i])
	}
	s.leans()
	side := func(i int) []string { return s.sides[i].boards }
	var posts []string
	for _, p := range s.f.Parts {
		if p.Kind == frame.CornerPost || p.Kind == frame.MidPost {
			posts = append(posts, p.ID)
		}
	}
	s.f.Acts = append(
		s.f.Acts,
		frame.Act{
			Verb:  frame.SetPost,
			Of:    "posts",
			Title: "Set the posts",
			Where: "on strings, all to one side of them",
			Parts: posts,
			Note: "Plumb each one both ways and tamp the soil back in layers. The sleepers' inner faces run along" +
				" the strings.",
		},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "sleepers",
			Title: "Lay the sleepers, course by course",
			Where: "against the posts",
			Parts: slices.Concat(side(front), side(back), side(left), side(right), s.inner),
			Note: "Two people to a sleeper. Level the first course before anything stands on it; fix each one from" +
				" behind, through the post, so that no screw shows.",
		},
	)
	for i := range s.parts {
		s.innerFloor(&s.parts[i])
	}
	s.room()
	s.under()
	s.sizes()
	s.addExtras()
}

// stack lays the sleepers: the long sides run through as far as their course
// goes, the ends and the wall between stand between them.
func (s *sleepers) stack() {
	t, l, w := s.board.Thickness, s.outLength, s.outWidth
	s.sides = [4]run{
		front: {key: "front", name: "front side", kind: frame.SideBoard, grain: frame.X, hi: frame.Spot{U: l, V: t}},
		right: {
			key:   "right",
			name:  "right end",
			kind:  frame.EndBoard,
			grain: frame.Y,
			lo:    frame.Spot{U: l - t, V: t},
			hi:    frame.Spot{U: l, V: w - t},
		},
		back: {
			key:   "back",
			name:  "back side",
			kind:  frame.SideBoard,
			grain: frame.X,
			lo:    frame.Spot{V: w - t},
			hi:    frame.Spot{U: l, V: w},
		},
		left: {
			key:   "left",
			name:  "left end",
			kind:  frame.EndBoard,
			grain: frame.Y,
			lo:    frame.Spot{V: t},
			hi:    frame.Spot{U: t, V: w - t},
		},
	}
	put := func(key, name string, kind frame.PartKind, grain frame.Axis, lo, hi frame.Spot, course int) string {
		z := s.board.Width * measure.Length(course-1)
		p := s.part(s.board, kind, fmt.Sprintf("%s, course %d", name, course))
		p.ID, p.Course, p.Grain = s.id("%s.%d", key, course), course, grain
		p.Body = standing(lo, hi, z, z+s.board.Width, grain)
		p.Length = p.Body.To - p.Body.From
		s.f.Parts = append(s.f.Parts, p)
		return p.ID
	}
	high, low := s.parts[0], s.parts[len(s.parts)-1]
	for i := range s.sides {
		r := &s.sides[i]
		for course := 1; course <= high.courses; course++ {
			lo, hi := r.lo, r.hi
			if course > low.courses { // only the high end is this high
				if i == right {
					break
				}
				if r.grain == frame.X {
					hi.U = high.to + t
				}
			}
			r.boards = append(r.boards, put(r.key, r.name, r.kind, r.grain, lo, hi, course))
		}
	}
	if len(s.parts) == 2 {
		for course := 1; course <= high.courses; course++ {
			s.inner = append(
				s.inner,
				put(
					"inner",
					"wall between the ends",
					frame.EndBoard,
					frame.Y,
					frame.Spot{U: high.to, V: t},
					frame.Spot{U: high.to + t, V: w - t},
					course,
				),
			)
		}
	}
}

// uprights stands the posts of a stretch and fixes the sleepers to them from
// behind.
func (s *sleepers) uprights(part *sleeperPart) {
	q := s.post.Width
	top := part.rim - s.bed.PostBelowRim
	y := [2]measure.Length{s.board.Thickness, s.outWidth - s.board.Thickness - q}
	first, last := part.from, part.to-q
	n := s.mids(part)
	for k := 0; k <= n+1; k++ {
		x := first + (last-first)*measure.Length(k)/measure.Length(n+1)
		kind, foot, name := frame.MidPost, -s.bed.MidInGround, fmt.Sprintf("%spost %d", part.name, k)
		if k == 0 || k == n+1 {
			kind, foot = frame.CornerPost, -s.bed.PostInGround
			name = part.name + "corner post"
		}
		part.fronts = append(part.fronts, x)
		for i, side := range []string{"front", "back"} {
			p := s.stand(
				fmt.Sprintf("%spost.%s.%d", part.key, side, k),
				kind,
				fmt.Sprintf("%s, %s", name, side),
				x,
				y[i],
				foot,
				top,
			)
			part.posts = append(part.posts, p)
			for wall := range s.sides {
				s.fixTo(wall, p, frame.BehindPost)
			}
			for _, id := range s.inner {
				s.behind(p, id)
			}
		}
	}
}

// behind fixes one sleeper to a post it lies against, from behind.
func (s *sleepers) behind(post frame.Part, id string) {
	board, _ := s.f.Part(id)
	low, high := board.Body.Bounds()
	foot, top := post.Body.Bounds()
	if at, _, ok := contact(board.Body, post.Body); ok {
		s.f.Joints = append(
			s.f.Joints,
			frame.Joint{ID: id + "+" + post.ID, Kind: frame.BehindPost, Parts: [2]string{post.ID, id},
				Through: s.post.Width, Into: s.board.Thickness, At: at,
				Run: min(high.Z, top.Z) - max(low.Z, foot.Z), Past: max(0, top.Z-high.Z),
				Load: "the push of the soil on the sleeper"},
		)
	}
}

// mids is how many posts stand between the corners of a stretch: as asked, or
// the fewest with which sleepers and floor rails hold.
func (s *sleepers) mids(part *sleeperPart) int {
	if n, ok := s.bed.MidCount(); ok {
		return n
	}
	between := part.to - part.from - s.post.Width
	n := strength.MidSupports(
		strength.Side{
			Thickness: s.board.Thickness,
			Width:     s.board.Width,
			Soil:      s.bed.Soil,
			Species:   s.species,
			Fluid:     strength.Giving,
		},
		between,
	)
	for part.floor > 0 && n < 12 && (!strength.Bend(s.railMember(between, n)).Holds() || s.onPost(part, between,
		n) > s.railHolds(part)) {
		n++
	}
	return min(n, max(0, int((between-s.post.Width)/(s.post.Width+betweenPosts))))
}

// onPost is what a floor's rail brings to a post in its middle, N.
func (s *sleepers) onPost(part *sleeperPart, between measure.Length, n int) float64 {
	m := s.railMember(between, n)
	if n == 0 {
		return m.Load * m.Span.Metres() / 2
	}
	return m.Load * m.Span.Metres() * strength.OverMiddle(n+1)
}

// railHolds is what a rail's screws at a post and those of the block below it are good for,
// N.
func (s *sleepers) railHolds(part *sleeperPart) float64 {
	all := 0.0
	for _, run := range []measure.Length{s.rail.Width, min(blockTall,
		part.floor-s.slat.Thickness-s.rail.Width-clearGround)} {
		if run >= 2*s.rail.Thickness {
			all += s.holds(
				frame.Joint{Kind: frame.CarryToPost, Through: s.rail.Thickness, Into: s.post.Width, Run: run},
				s.post,
			)
		}
	}
	return all
}

// railMember is a floor rail with n posts between its ends.
func (s *sleepers) railMember(between measure.Length, n int) strength.Member {
	species, err := s.cat.SpeciesOf(design.SpeciesFor(s.cat, s.rail.ID, s.bed.Species))
	if err != nil {
		species = s.species
	}
	return strength.Member{
		Across:  s.rail.Thickness,
		Deep:    s.rail.Width,
		Span:    between / measure.Length(n+1),
		Spans:   n + 1,
		Species: species,
		Load:    strength.WetSoil(s.bed.Soil, s.bed.Width/2, s.bed.WetDensity(s.cat)),
	}
}

// leans says what every wall leans on.
func (s *sleepers) leans() {
	q := s.post.Width
	var long []measure.Length
	for _, part := range s.parts {
		for _, x := range part.fronts {
			long = append(long, x+q/2)
		}
	}
	t := s.board.Thickness
	for i, r := range s.sides {
		w := frame.Wall{
			ID:       s.id("wall.%s", r.key),
			Bed:      s.bed.ID,
			Name:     r.name,
			End:      r.grain == frame.Y,
			Boards:   r.boards,
			Soil:     s.bed.Soil,
			Supports: []measure.Length{t + q/2, s.outWidth - t - q/2},
		}
		if i == front || i == back {
			w.Supports, w.Field, w.Support, w.Ground = long, "mid_posts", frame.MidPost, "mid_in_ground"
		}
		s.f.Walls = append(s.f.Walls, w)
	}
	if len(s.inner) > 0 && s.parts[0].floor > 0 { // without a floor the soil stands as high on either side of it
		s.f.Walls = append(
			s.f.Walls,
			frame.Wall{
				ID:       s.id("wall.inner"),
				Bed:      s.bed.ID,
				Name:     "wall between the ends",
				End:      true,
				Boards:   s.inner,
				Soil:     s.bed.Soil,
				Supports: []measure.Length{t + q/2, s.outWidth - t - q/2},
			},
		)
	}
}

// innerFloor lays rails along the posts' inner faces and slats across them.
func (s *sleepers) innerFloor(part *sleeperPart) {
	if part.floor == 0 {
		return
	}
	t, q, thick := s.board.Thickness, s.post.Width, s.rail.Thickness
	z := part.floor - s.slat.Thickness
	var rails []string
	for i, y := range []measure.Length{t + q, s.outWidth - t - q - thick} {
		name := []string{"front", "back"}[i]
		p := s.part(s.rail, frame.Ledger, fmt.Sprintf("%sfloor rail, %s", part.name, name))
		p.ID, p.Grain, p.Hidden, p.Length = s.id("%srail.%s", part.key, name), frame.X, true, part.to-part.from
		p.Body = standing(
			frame.Spot{U: part.from, V: y},
			frame.Spot{U: part.to, V: y + thick},
			z-s.rail.Width,
			z,
			frame.X,
		)
		s.f.Parts = append(s.f.Parts, p)
		rails = append(rails, p.ID)
		for _, post := range part.posts {
			if at, _, ok := contact(p.Body, post.Body); ok {
				s.f.Joints = append(
					s.f.Joints,
					frame.Joint{ID: p.ID + "+" + post.ID, Kind: frame.CarryToPost, Parts: [2]string{p.ID, post.ID},
						Through: thick, Into: q, Run: s.rail.Width, At: at,
						Load: "its share of the floor and the wet soil on it"},
				)
			}
		}
	}
	blocks := s.railBlocks(part, rails)
	d := decking{box: s.box, slat: s.slat, rail: s.rail, z: z, gap: s.bed.OptionLength("gap"), key: part.key}
	y0, y1 := t, s.outWidth-t
	at := part.from
	for k, x := range part.fronts {
		d.bay(at, x, y0, y1, rails...)
		// Beside a post one slat runs from post to post: it fills the post's width.
		wide := min(q, s.slat.Width)
		edge := x
		if k == len(part.fronts)-1 {
			edge = x + q - wide
		}
		d.lay(edge, wide, t+q, s.outWidth-t-q, rails...)
		at = x + q
	}
	spans := len(part.fronts) - 1
	s.f.Floors = append(
		s.f.Floors,
		frame.Floor{ID: s.id("%sfloor", part.key), Bed: s.bed.ID, Slats: d.ids, Soil: s.bed.Soil,
			Span: s.outWidth - 2*(t+q) - thick, Spans: 1, Rail: rails[0],
			LedgerSpan: (part.to - part.from - q) / measure.Length(spans), LedgerSpans: spans,
			LedgerField: "mid_posts"},
	)
	s.f.Acts = append(
		s.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    part.name + "rails",
			Title: "Fix the " + part.name + "floor rails",
			Where: "along the posts' inner faces, level",
			Parts: slices.Concat(rails, blocks),
			Note:  "They carry all the soil, so every screw goes in, and the blocks are pushed up hard below them.",
		},
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    part.name + "floor",
			Title: "Lay the " + part.name + "floor",
			Where: "down onto the rails",
			Parts: d.ids,
			Note:  "The slats beside the posts first. The fabric goes over them before the soil does.",
		},
	)
	s.f.Sheets = append(
		s.f.Sheets,
		frame.Sheet{
			ID:       s.id("%sfloor-cloth", part.key),
			Bed:      s.bed.ID,
			Material: "fabric",
			Place:    "on the " + part.name + "floor, turned a hand up the walls",
			Length:   part.to - part.from,
			Width:    s.outWidth - 2*t,
			TurnUp:   clothUp,
			Inside:   true,
		},
	)
}

// railBlocks sets a block under each rail at each post, screwed to it: the rail bears on
// them past its own screws. Where a rail lies on the ground it needs none.
func (s *sleepers) railBlocks(part *sleeperPart, rails []string) []string {
	var ids []string
	for _, id := range rails {
		rail, _ := s.f.Part(id)
		lo, hi := rail.Body.Bounds()
		tall := min(blockTall, lo.Z-clearGround) // it hangs on the post, which stands deeper than it would
		if tall < 2*s.rail.Thickness {
			continue
		}
		for _, post := range part.posts {
			a, b := post.Body.Bounds()
			if a.Y != hi.Y && b.Y != lo.Y {
				continue
			}
			from, to := frame.Spot{U: a.X, V: lo.Y}, frame.Spot{U: min(b.X, a.X+s.rail.Width), V: hi.Y}
			p := s.part(s.rail, frame.Block, fmt.Sprintf("%sblock %d, under the floor rail", part.name, len(ids)+1))
			p.ID, p.Grain, p.Hidden, p.Length, p.Width = s.id(
				"%sblock.%d",
				part.key,
				len(ids)+1,
			), frame.Z, true, tall, to.U-from.U
			p.Body = frame.Prism{Axis: frame.Z, From: lo.Z - tall, To: lo.Z, Outline: rectangle(from, to)}
			s.f.Parts = append(s.f.Parts, p)
			ids = append(ids, p.ID)
			at, _, _ := contact(p.Body, post.Body)
			s.f.Joints = append(
				s.f.Joints,
				frame.Joint{ID: p.ID + "+" + post.ID, Kind: frame.CarryToPost, Parts: [2]string{p.ID, post.ID},
					Through: s.rail.Thickness, Into: s.post.Width, Run: tall, At: at,
					Load: "its share of the floor and the wet soil on it"},
			)
		}
	}
	return ids
}

// room is the soil's, a stretch at a time.
func (s *sleepers) room() {
	t := s.board.Thickness
	for _, part := range s.parts {
		lo, hi := frame.Spot{U: part.from, V: t}, frame.Spot{U: part.to, V: s.outWidth - t}
		c := frame.Cavity{
			ID:      s.id("%ssoil", part.key),
			Bed:     s.bed.ID,
			Bottom:  part.floor,
			Top:     part.floor + s.bed.Soil,
			Rim:     part.rim,
			Outline: rectangle(lo, hi),
		}
		s.f.Cavities = append(s.f.Cavities, s.displaced(c))
		name := ""
		if part.key != "" {
			name = part.name + "bed"
		}
		s.f.Openings = append(s.f.Openings, frame.Opening{Name: name, Lo: lo, Hi: hi, Rim: part.rim})
	}
	s.f.Outside = [2]frame.Spot{{}, {U: s.outLength, V: s.outWidth}}
}

func (s *sleepers) sizes() {
	t, high := s.board.Thickness, s.parts[0]
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	s.f.Measures = []frame.Measure{
		{Name: "planting width", Field: "width", From: at(t, t, s.rim), To: at(t, s.outWidth-t, s.rim), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(s.outLength, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, s.outWidth, 0)},
		{
			Name:    "soil depth",
			Field:   "soil",
			From:    at(t, t, high.floor),
			To:      at(t, t, high.floor+s.bed.Soil),
			Primary: true,
		},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, s.rim)},
		{Name: "posts in the ground", Field: "post_in_ground", From: at(t, t, -s.bed.PostInGround), To: at(t, t, 0)},
	}
	if len(s.parts) == 1 {
		s.f.Measures = append(
			[]frame.Measure{
				{
					Name:    "planting length",
					Field:   "length",
					From:    at(high.from, t, s.rim),
					To:      at(high.to, t, s.rim),
					Primary: true,
				},
			},
			s.f.Measures...)
		return
	}
	low := s.parts[1]
	s.f.Measures = append([]frame.Measure{
		{Name: "high end's planting length", From: at(high.from, t, s.rim), To: at(high.to, t, s.rim), Primary: true},
		{
			Name:    "low end's planting length",
			Field:   "low_length",
			From:    at(low.from, t, s.rim),
			To:      at(low.to, t, s.rim),
			Primary: true,
		}}, s.f.Measures...)
}
