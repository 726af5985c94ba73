package masonry

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// slotted is boards dropped into the slots of corner blocks, a block to a course, with
// a pin down the middle on soft ground. Bays in a row share the blocks between them.
// Nothing is drilled, and it comes apart again.
//
//	[ ]=====[ ]=====[ ]     block, board in its slots
//	 "       "       "
//	[ ]=====[ ]=====[ ]
var slotted = System{
	System: design.System{
		Name: "slotted", Title: "Boards in slotted blocks",
		About: "corner blocks with slots for boards: nothing to drill, comes apart again", Of: "masonry",
		Examples: []design.Example{{About: "boards dropped into slotted corner blocks, in bays that share them"}},
		Uses:     []string{"grass", "under"},
		Lacks:    []string{"cap", "cap_profile", "cap_in", "cap_out"},
		Adds:     adds,
		Own: []design.Field{
			{
				Key:     unitKey,
				Label:   "Unit",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: "",
				Offer:   unitsOf(catalog.SlottedUnit),
			},
			{Key: baysKey, Label: "Bays", Stage: design.AtFrame, Kind: design.NumberField, Default: design.Auto, Most: 12,
				Help: "auto sets as many as keep the boards from bowing. Each has boards all round, and shares its" +
					" middle blocks."},
			{Key: pinnedKey, Label: "Pins", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "yes",
				Does: []design.Deed{{For: design.PinsStacks, Value: "yes", Words: "pins down the middle of every stack"}},
				Offers: []design.Choice{
					{Value: "yes", Label: "one down each stack", Note: "on soft ground, or over one course"},
					{Value: "no", Label: "none", Note: "on a slab"},
				}},
		},
		Start: startSlotted,
		Check: checkSlotted,
	},
	Build: buildSlotted,
}

const (
	baysKey   = "bays"
	pinnedKey = "pinned"
)

// play is what a board is shorter than its slots at either end, so that it drops in
// and may swell (common practice: about 3 mm, 1/8 in).
const play = 3 * measure.Millimetre

func startSlotted(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.SlottedUnit)[0]
	b.Options[unitKey] = u.ID
	thick := measure.Length(0)
	for _, p := range cat.Profiles { // the thickest that goes in
		if p.Kind == catalog.Board && p.Width == u.Height && p.Thickness > thick && p.Thickness < u.SlotWide &&
			cat.Sold(p.ID, design.SpeciesFor(cat, p.ID, b.Species)) {
			thick = p.Thickness
			b.Board, b.Species = p.ID, design.SpeciesFor(cat, p.ID, b.Species)
		}
	}
}

func checkSlotted(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	st, rises := storeyOf(u, board)
	switch {
	case !rises:
		refuse(
			"board",
			"a %s is %s wide and these blocks are %s high: boards and blocks must rise together within %s, so one %s"+
				" wide works, or one as high as two or three blocks",
			board.Name,
			p.Short(board.Width),
			p.Short(u.Height),
			p.Short(uneven),
			p.Short(u.Height),
		)
		return
	case board.Thickness > u.SlotWide-measure.Millimetre:
		refuse(
			"board",
			"a %s, %s thick, does not go into slots of %s: up to %s works",
			board.Name,
			p.Short(board.Thickness),
			p.Short(u.SlotWide),
			p.AtMost(u.SlotWide-measure.Millimetre),
		)
		return
	}
	if least := u.Depth + 200*measure.Millimetre; b.Width < least {
		refuse("width", "the blocks leave no room between them: from %s works", p.AtLeast(least))
	}
	if n, ok := b.OptionCount(baysKey); ok {
		if most := int(b.Length / (u.Depth + 200*measure.Millimetre)); n < 1 || n > most {
			refuse(baysKey, "%d bays do not fit into %s: from 1 to %d do", n, p.Feet(b.Length), max(1, most))
		}
	}
	n := st.storeysFor(b, u, board)
	if off := max(st.off, -st.off) * measure.Length(n); off > uneven {
		most := int(uneven / max(1, st.off, -st.off))
		refuse("soil", "over %s boards and blocks come %s apart, more than %s: up to %s of soil works", measure.Count(n,
			"storey"), p.Short(off), p.Short(uneven), p.AtMost(st.tall(u, board, most)-b.Freeboard))
	}
	if most := max(1, 4/st.blocks); n > most {
		refuse(
			"soil",
			"%s of loose blocks want a wall of their own: up to %s of soil works",
			measure.Count(n*st.blocks, "course"),
			p.AtMost(st.tall(u, board, most)-b.Freeboard),
		)
	}
}

// slots is a slotted bed's plan: middles of the blocks along and across, and sizes.
type slots struct {
	*laid
	cat     *catalog.Catalog
	board   catalog.Profile
	species string
	x, y    []measure.Length // middles
	storey
	storeys int
	rim     measure.Length // of boards or blocks, whichever end lower
}

func buildSlotted(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	bed.Options = withOption(bed.Options, capKey, "none")
	w, err := newLaid(bed, cat)
	if err != nil {
		return frame.Frame{}, err
	}
	s := &slots{laid: w, cat: cat, species: bed.Species}
	if s.board, err = cat.Profile(bed.Board); err != nil {
		return frame.Frame{}, err
	}
	u, t := w.unit, s.board.Thickness
	var rises bool
	if s.storey, rises = storeyOf(u, s.board); !rises {
		return frame.Frame{}, fmt.Errorf("%s in blocks %s high: %w", s.board.Name, u.Height, catalog.ErrNotSold)
	}
	s.storeys = s.storeysFor(bed, u, s.board)
	w.courses = s.storeys * s.blocks
	w.top, s.rim = u.Height*measure.Length(w.courses), s.tall(u, s.board, s.storeys)
	w.f.Rim = s.rim
	bays := measure.Length(s.bays())
	each := (bed.Length - (bays-1)*t) / bays // clear, of a bay
	for k := measure.Length(0); k <= bays; k++ {
		s.x = append(s.x, u.Depth/2+k*(each+t))
	}
	s.x[bays] = u.Depth/2 + bed.Length + t
	s.y = []measure.Length{u.Depth / 2, u.Depth/2 + bed.Width + t}
	for course := 1; course <= w.courses; course++ {
		for i, x := range s.x {
			for k, y := range s.y {
				s.block(x, y, course, i, k)
			}
		}
	}
	for course := 1; course <= s.storeys*s.boards; course++ {
		for k, name := range []string{"front", "back"} {
			for i := range bays {
				s.plank(
					fmt.Sprintf("%s.%d.%d", name, i+1, course),
					name+" side",
					frame.SideBoard,
					course,
					frame.X,
					s.x[i],
					s.x[i+1],
					s.y[k],
				)
			}
		}
		for i, x := range s.x {
			name, kind := fmt.Sprintf("cross board %d", i), frame.CrossBoard
			switch i {
			case 0:
				name, kind = "left end", frame.EndBoard
			case len(s.x) - 1:
				name, kind = "right end", frame.EndBoard
			}
			s.plank(fmt.Sprintf("across.%d.%d", i+1, course), name, kind, course, frame.Y, s.y[0], s.y[1], x)
		}
	}
	s.inside()
	s.record()
	return w.f, nil
}

func withOption(m map[string]string, key, value string) map[string]string {
	out := map[string]string{key: value}
	for k, v := range m {
		if k != key {
			out[k] = v
		}
	}
	return out
}

// bays is the number asked for, or the fewest whose boards do not bow.
func (s *slots) bays() int {
	if n, ok := s.bed.OptionCount(baysKey); ok {
		return n
	}
	species, err := s.cat.SpeciesOf(s.species)
	if err != nil {
		return 1
	}
	side := strength.Side{
		Thickness: s.board.Thickness,
		Width:     s.board.Width,
		Soil:      s.bed.Soil,
		Species:   species,
		Spans:     1,
		Fluid:     strength.Giving,
	}
	for n := 1; n < 12; n++ {
		if side.Span = (s.bed.Length + s.board.Thickness) / measure.Length(n); strength.Check(side).Holds() {
			return n
		}
	}
	return 12
}

// block lays one block of a stack; it is drawn and measured with its slots.
func (s *slots) block(x, y measure.Length, course, i, k int) {
	u := s.unit
	h, w, d := u.Depth/2, u.SlotWide/2, u.SlotDeep
	at := func(a, b measure.Length) frame.Spot { return frame.Spot{U: x + a, V: y + b} }
	where := fmt.Sprintf("stack %d, %s, course %d", i+1, []string{"front", "back"}[k], course)
	s.lay(
		u.ID,
		frame.SlottedUnit,
		where,
		course,
		[]frame.Spot{
			at(-h, -h),
			at(-w, -h),
			at(-w, d-h),
			at(w, d-h),
			at(w, -h),
			at(h, -h),
			at(h, -w),
			at(h-d, -w),
			at(h-d, w),
			at(h, w),
			at(
				h,
				h,
			),
			at(w, h),
			at(w, h-d),
			at(-w, h-d),
			at(-w, h),
			at(-h, h),
			at(-h, w),
			at(d-h, w),
			at(d-h, -w),
			at(-h, -w),
		},
		0,
		0,
	)
	on := &s.f.Units[len(s.f.Units)-1]
	on.Fields = []string{unitKey, baysKey}
	piece := func(a0, b0, a1, b1 measure.Length) {
		on.Pieces = append(
			on.Pieces,
			frame.Prism{
				Axis:    frame.Z,
				From:    on.Body.From,
				To:      on.Body.To,
				Outline: []frame.Spot{at(a0, b0), at(a1, b0), at(a1, b1), at(a0, b1)},
			},
		)
	}
	piece(d-h, d-h, h-d, h-d) // the middle, and two of every corner
	for _, c := range [4][2]measure.Length{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}} {
		lo, hi := ordered(c[0]*w, c[0]*h)
		v0, v1 := ordered(c[1]*(h-d), c[1]*h)
		piece(lo, v0, hi, v1)
		u0, u1 := ordered(c[0]*(h-d), c[0]*h)
		b0, b1 := ordered(c[1]*w, c[1]*(h-d))
		piece(u0, b0, u1, b1)
	}
}

func ordered(a, b measure.Length) (lo, hi measure.Length) { return min(a, b), max(a, b) }

// plank drops a board into the slots of two blocks.
func (s *slots) plank(id, name string, kind frame.PartKind, course int, grain frame.Axis, from, to, at measure.Length) {
	u, t := s.unit, s.board.Thickness
	in := u.Depth/2 - u.SlotDeep + play
	z0 := s.board.Width * measure.Length(course-1)
	z1 := z0 + s.board.Width
	p := frame.Part{
		ID:        s.id("%s", id),
		Role:      fmt.Sprintf("%s, course %d", name, course),
		Kind:      kind,
		Bed:       s.bed.ID,
		Profile:   s.board.ID,
		Species:   s.species,
		Width:     s.board.Width,
		Thickness: t,
		Ends:      [2]frame.End{frame.Square, frame.Square},
		Course:    course,
		Grain:     grain,
		Fields:    []string{"length", "board", "species", baysKey},
	}
	lo, hi := from+in, to-in
	p.Length = hi - lo
	if grain == frame.X {
		p.Body = frame.Prism{
			Axis: frame.X,
			From: lo,
			To:   hi,
			Outline: []frame.Spot{
				{U: at - t/2, V: z0},
				{U: at + t - t/2, V: z0},
				{U: at + t - t/2, V: z1},
				{U: at - t/2, V: z1},
			},
		}
	} else {
		p.Body = frame.Prism{Axis: frame.Y, From: lo, To: hi, Outline: []frame.Spot{{U: at + t - t/2, V: z0},
			{U: at + t - t/2, V: z1}, {U: at - t/2, V: z1}, {U: at - t/2, V: z0}}}
	}
	s.f.Parts = append(s.f.Parts, p)
}

// inside are the bays' soil, less the blocks' corners that stand in it.
func (s *slots) inside() {
	u, t, b := s.unit, s.board.Thickness, s.bed
	corner := measure.Over(
		u.Depth/2-(t-t/2),
		u.Depth/2-(t-t/2),
	) - measure.Over(
		max(0, u.SlotWide/2-(t-t/2)),
		u.SlotDeep,
	)*2
	for i := 0; i+1 < len(s.x); i++ {
		lo := frame.Spot{U: s.x[i] + t - t/2, V: s.y[0] + t - t/2}
		hi := frame.Spot{U: s.x[i+1] - t/2, V: s.y[1] - t/2}
		c := frame.Cavity{
			ID:      s.id("soil.%d", i+1),
			Bed:     b.ID,
			Top:     b.Soil,
			Rim:     s.rim,
			Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}},
		}
		in := u.Depth/2 - (t - t/2) // the blocks stand in the corners so far
		rect := func(u0, v0, u1, v1 measure.Length) []frame.Spot {
			return []frame.Spot{{U: u0, V: v0}, {U: u1, V: v0}, {U: u1, V: v1}, {U: u0, V: v1}}
		}
		c.Pieces = [][]frame.Spot{
			rect(lo.U, lo.V+in, lo.U+in, hi.V-in),
			rect(lo.U+in, lo.V, hi.U-in, hi.V),
			rect(hi.U-in, lo.V+in, hi.U, hi.V-in),
		}
		for k := range 4 {
			c.Displaced = append(
				c.Displaced,
				frame.Displaced{Part: s.id("stack.%d.%d", i+1, k+1), Volume: corner.By(b.Soil)},
			)
		}
		s.f.Cavities = append(s.f.Cavities, c)
		s.f.Openings = append(
			s.f.Openings,
			frame.Opening{
				Lo:   lo,
				Hi:   hi,
				Rim:  s.rim,
				Name: map[bool]string{true: fmt.Sprintf("bay %d", i+1)}[len(s.x) > 2],
			},
		)
	}
	far := frame.Spot{U: s.x[len(s.x)-1] + u.Depth/2, V: s.y[1] + u.Depth/2}
	s.f.Outside = [2]frame.Spot{{}, far}
	s.under(b.Length, b.Width)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	lo, hi := s.f.Openings[0].Lo, s.f.Openings[len(s.f.Openings)-1].Hi
	s.f.Measures = []frame.Measure{
		{
			Name:    "planting length",
			Field:   "length",
			From:    at(lo.U, lo.V, s.rim),
			To:      at(hi.U, lo.V, s.rim),
			Primary: true,
		},
		{Name: "planting width", Field: "width", From: at(lo.U, lo.V, s.rim), To: at(lo.U, hi.V, s.rim), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(far.U, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, far.V, 0)},
		{Name: "soil depth", Field: "soil", From: at(lo.U, lo.V, 0), To: at(lo.U, lo.V, b.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, s.top)},
	}
	if s.off != 0 {
		s.f.Measures = append(s.f.Measures, frame.Measure{Name: "height of the boards", From: at(lo.U, 0, 0),
			To: at(lo.U, 0, s.board.Width*measure.Length(s.storeys*s.boards))})
	}
}

// record writes down what the walls lean on, the pins and the order of laying.
func (s *slots) record() {
	boards := func(prefix string) (ids []string) {
		for _, p := range s.f.Parts {
			if p.Role == prefix+fmt.Sprintf(", course %d", p.Course) {
				ids = append(ids, p.ID)
			}
		}
		return ids
	}
	wall := func(name string, end bool, places []measure.Length) {
		w := frame.Wall{
			ID:       s.id("wall.%s", name),
			Bed:      s.bed.ID,
			Name:     name,
			End:      end,
			Boards:   boards(name),
			Soil:     s.bed.Soil,
			Supports: places[:2],
		}
		if !end {
			w.Field, w.Support = baysKey, frame.MiddleBlock
		}
		s.f.Walls = append(s.f.Walls, w)
	}
	wall("front side", false, s.x)
	wall("back side", false, s.x)
	wall("left end", true, s.y)
	wall("right end", true, s.y)
	if s.bed.Options[pinnedKey] == "yes" {
		n := len(s.x) * 2
		s.f.Fittings = append(
			s.f.Fittings,
			frame.Fitting{
				ID:    s.id("pins"),
				Bed:   s.bed.ID,
				Kind:  "pin",
				Place: "down the middle of every stack into the ground",
				Count: n,
				Why:   fmt.Sprintf("%d stacks; drive them below the top of the last block, or put a cap on each", n),
			},
		)
	}
	for n := 1; n <= s.storeys; n++ {
		s.raise(n)
	}
}

// raise is the act that sets a storey: its blocks, then its boards from above.
func (s *slots) raise(n int) {
	var ids []string
	from, to := (n-1)*s.blocks+1, n*s.blocks
	for _, u := range s.f.Units {
		if u.Course >= from && u.Course <= to {
			ids = append(ids, u.ID)
		}
	}
	for _, p := range s.f.Parts {
		if p.Course > (n-1)*s.boards && p.Course <= n*s.boards {
			ids = append(ids, p.ID)
		}
	}
	note := "Set the four outer blocks by their diagonals first, level each, then drop the boards in: they" +
		" should go in by hand."
	if n > 1 {
		note = "Joints of the boards lie over those below: it is the blocks and the pins that hold."
	}
	if s.off != 0 {
		lower := "blocks"
		if s.off < 0 {
			lower = "boards"
		}
		off := max(s.off, -s.off) * measure.Length(n)
		note += fmt.Sprintf(" The %s end %s lower here; boards lie on boards and blocks on blocks.", lower,
			s.cat.Precision(s.cat.Habits).Short(off))
	}
	of, title := fmt.Sprintf("course %d", from), fmt.Sprintf("Set course %d", from)
	if to > from {
		of, title = fmt.Sprintf("courses %d to %d", from, to), fmt.Sprintf("Set courses %d to %d", from, to)
	}
	s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.Lay, Of: of, Title: title,
		Where: "blocks first, then the boards from above", Parts: ids, Note: note})
	if n == s.storeys && s.bed.Options[pinnedKey] == "yes" {
		s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.FitOut, Of: "pins", Title: "Drive the pins",
			Where: "down the middle of every stack", Fits: []string{s.id("pins")}, Soil: frame.BeforeSoil,
			Tools: []string{"club hammer", "caps for the pins' ends"},
			Note: "Through all blocks of the stack into the ground, below the top of the last one, or with a" +
				" cap on each: someone who stumbles falls on it."})
	}
}
