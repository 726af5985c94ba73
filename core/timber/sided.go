package timber

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// sidedBed is six or eight boards round, alike, mitred at half the angle they turn and held by
// brackets bent open into the corners. Its size is across the flats, as one would measure it.
//
//	   ______           n boards round a circle of inner radius R:
//	  /      \
//	 /   R    \         outside, to the long points   2 (R + t) tan(180 deg / n)
//	|----------|        ends cut at                   180 deg / n
//	 \        /
//	  \______/
//
// What pushes two walls outwards at a corner as flat as these is held by their own pull along
// the boards: R / tan(180 deg / n) of what each of them brings, 2.4 times it for eight sides.
var sidedBed = System{
	System: stacked(design.System{
		Name: "sided", Title: "Six- or eight-sided bed", About: "boards mitred round, brackets in the corners",
		Examples: []design.Example{{About: "eight boards mitred round, with brackets bent into the corners"}},
		Uses:     []string{"grass", "under"},
		Lacks:    []string{"width", "cap", "cap_profile", "cap_in", "cap_out"},
		Names:    map[string]string{"length": "Inside, across the flats"},
		Own: []design.Field{
			{Key: sidesKey, Label: "Sides", Stage: design.AtBed, Kind: design.ChoiceField, Default: "8",
				Offers: []design.Choice{
					{Value: "6", Label: "six", Note: "ends cut at 30°"},
					{Value: "8", Label: "eight", Note: "ends cut at 22.5°, rounder, shorter boards"}}},
		},
		Start:   startSided,
		Planted: plantedSided,
		Follow: func(b *design.Bed, _ *catalog.Catalog, _ func(string) bool) {
			b.Width = b.Length
		},
		Adds:  []string{"liner", "mesh", "grid", "trellis", "hoops", "fence"},
		Check: checkSided,
	}, onTheGround),
	Build: buildSided,
}

const sidesKey = "sides"

// sidesOf is how many sides a bed has.
func sidesOf(b design.Bed) int {
	n, err := strconv.Atoi(b.Options[sidesKey])
	if err != nil || n < 3 {
		return 8
	}
	return n
}

// plantedSided is a regular polygon's surface by its inner radius: n R² tan(180 deg / n).
func plantedSided(b design.Bed) float64 {
	n := float64(sidesOf(b))
	r := float64(b.Length) / 2
	return n * r * r * math.Tan(math.Pi/n)
}

// startSided is round and thick: a bracket's screws need wood to hold in.
func startSided(cat *catalog.Catalog, b *design.Bed) {
	b.Cap = design.NoCap
	if board, err := cat.Profile(b.Board); err != nil || board.Thickness < thickEnough {
		takeThickBoard(cat, b)
	}
	b.Length = min(b.Length, cat.Reach["both"])
	b.Width = b.Length
}

// thickEnough is the thinnest board whose mitred end takes a bracket's screws from inside
// without their points coming out: 36 mm (common practice: two-inch boards).
const thickEnough = 36 * measure.Millimetre

// takeThickBoard gives a bed the narrowest board of its timber that is as thick.
func takeThickBoard(cat *catalog.Catalog, b *design.Bed) {
	var best catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Board && p.Thickness >= thickEnough && cat.Sold(p.ID, b.Species) &&
			p.Width >= 120*measure.Millimetre && (best.ID == "" || p.Width < best.Width) {
			best = p
		}
	}
	if best.ID != "" {
		b.Board = best.ID
	}
}

func checkSided(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	n := float64(sidesOf(b))
	if least := measure.Length(float64(leastSide) / math.Tan(math.Pi/n)); b.Length < least {
		refuse("length", "%s across makes sides too short for a bracket at either end: from %s works", p.Feet(b.Length),
			p.AtLeast(least))
	}
	checkRounded(b, cat, refuse)
}

// checkRounded refuses boards that brackets find no hold in, and walls higher than brackets hold.
func checkRounded(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	if board.Thickness < thickEnough {
		refuse("board", "brackets in the corners need boards of %s or more to screw into; a %s is %s",
			p.AtLeast(thickEnough), board.Name, p.Short(board.Thickness))
	}
	rows := len(rowsFor(b, cat, board, 0))
	if most := 3; rows > most {
		refuse("soil", "%d boards high want posts in the ground: up to %s of soil works, or wider boards", rows,
			p.AtMost(board.Width*measure.Length(most)-b.Freeboard))
	}
	if rows > 1 {
		if _, err := railFor(cat, b.Species); err != nil {
			refuse("board", "%v", err)
		}
	}
}

// leastSide is a side with room for two brackets and two cleats: 400 mm, 16 in (common
// practice).
const leastSide = 400 * measure.Millimetre

// sided is the walls of a bed of straight sides that turn outwards at every corner.
type sided struct {
	*box
	n            int
	inner, outer []frame.Spot     // corners of the walls' faces, anticlockwise from the front left
	long         []measure.Length // of each side's boards, to the long points
	way          []float64        // of each side, degrees anticlockwise from the front's
	turns        []float64        // from each side to the next, degrees
	boards       [][]string       // of each side, from the lowest
	fields       []string         // the decisions that shape its sides
}

func buildSided(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	bed.Cap, bed.Width = design.NoCap, bed.Length
	c, err := carcassOf(bed, cat, 0, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	s := &sided{box: boxOf(c, bed, cat), n: sidesOf(bed), fields: []string{"length", sidesKey, "board", "species"}}
	s.layOut()
	if err := s.build(); err != nil {
		return frame.Frame{}, err
	}
	s.sizes()
	return s.f, nil
}

// build is everything, once it is laid out.
func (s *sided) build() error {
	s.stack()
	cleats, err := s.cleats()
	if err != nil {
		return err
	}
	s.brackets()
	s.acts(cleats)
	s.room()
	s.addExtras()
	s.saidEach()
	return nil
}

// polygon is n corners round a middle whose sides' middles are r away, from the front's left,
// anticlockwise.
func polygon(n int, r float64, middle frame.Spot) []frame.Spot {
	far := r / math.Cos(math.Pi/float64(n))
	list := make([]frame.Spot, n)
	for k := range list {
		s, c := math.Sincos(-math.Pi/2 - math.Pi/float64(n) + 2*math.Pi*float64(k)/float64(n))
		list[k] = frame.Spot{U: middle.U + measure.Length(math.Round(far*c)),
			V: middle.V + measure.Length(math.Round(far*s))}
	}
	return list
}

func (s *sided) layOut() {
	r := float64(s.bed.Length) / 2
	out := r + float64(s.board.Thickness)
	raw := polygon(s.n, out, frame.Spot{})
	lo := raw[0]
	for _, c := range raw {
		lo = frame.Spot{U: min(lo.U, c.U), V: min(lo.V, c.V)}
	}
	middle := frame.Spot{U: -lo.U, V: -lo.V} // the outside touches both axes
	s.inner, s.outer = polygon(s.n, r, middle), polygon(s.n, out, middle)
	t, l, half := s.board.Thickness, s.bed.Length, s.n/2
	for _, k := range []int{0, 1} { // flats that lie along an axis are just as far apart as was asked
		s.outer[k].V, s.inner[k].V = 0, t
		s.outer[half+k].V, s.inner[half+k].V = l+2*t, l+t
		if s.n%4 == 0 {
			s.outer[s.n*3/4+k].U, s.inner[s.n*3/4+k].U = 0, t
			s.outer[s.n/4+k].U, s.inner[s.n/4+k].U = l+2*t, l+t
		}
	}
	long := measure.Length(math.Round(2 * out * math.Tan(math.Pi/float64(s.n))))
	for k := range s.n {
		s.long = append(s.long, long)
		s.way, s.turns = append(s.way, float64(k)*360/float64(s.n)), append(s.turns, 360/float64(s.n))
	}
	// Whoever tends it reaches the middle, or all across from one side.
	s.f.Deepest, s.f.DeepestBy, s.f.DeepestPer = l/2, "length", 2
	if s.bed.Access.FromOne() {
		s.f.Deepest, s.f.DeepestPer = l, 1
	}
}

// laid gives a piece that lies along a side its direction: along an axis where it runs so.
func (s *sided) laid(p *frame.Part, k int) {
	switch turn := s.way[k]; turn {
	case 0, 180:
		p.Grain = frame.X
	case 90, 270:
		p.Grain = frame.Y
	default:
		p.Grain, p.Turn = frame.X, turn
	}
}

// stack lays the boards of every side, course by course.
func (s *sided) stack() {
	s.boards = make([][]string, s.n)
	for k := range s.n {
		j := (k + 1) % s.n
		outline := []frame.Spot{s.outer[k], s.outer[j], s.inner[j], s.inner[k]}
		for course, row := range s.rows {
			p := s.part(row.board, frame.SideBoard, fmt.Sprintf("side %d, course %d", k+1, course+1))
			p.ID, p.Course, p.Width, p.Length = s.id("side.%d.%d", k+1, course+1), course+1, row.tall(), s.long[k]
			p.Ends = [2]frame.End{frame.Mitred, frame.Mitred}
			p.Mitres, p.Fields = [2]float64{s.turns[(k+s.n-1)%s.n] / 2, s.turns[k] / 2}, s.fields
			s.laid(&p, k)
			p.Body = frame.Prism{Axis: frame.Z, From: row.from, To: row.to, Outline: outline}
			s.f.Parts = append(s.f.Parts, p)
			s.boards[k] = append(s.boards[k], p.ID)
		}
	}
}

// cleats stand inside every side near both its ends where there are several courses, and tie
// them together; in the corners they leave room for the brackets.
func (s *sided) cleats() (ids []string, err error) {
	if len(s.rows) < 2 {
		return nil, nil
	}
	rail, err := railFor(s.cat, s.bed.Species)
	if err != nil {
		return nil, err
	}
	for k := range s.n {
		a, b := s.inner[k], s.inner[(k+1)%s.n]
		long := measure.Hypot(b.U-a.U, b.V-a.V)
		at := func(along, in measure.Length) frame.Spot {
			x, y := float64(along)/float64(long), float64(in)/float64(long)
			du, dv := float64(b.U-a.U), float64(b.V-a.V)
			return frame.Spot{U: a.U + measure.Length(math.Round(du*x-dv*y)),
				V: a.V + measure.Length(math.Round(dv*x+du*y))}
		}
		for e, from := range []measure.Length{bracketLeg, long - bracketLeg - rail.Width} {
			p := s.part(rail, frame.Cleat, fmt.Sprintf("cleat %d, side %d", e+1, k+1))
			p.ID, p.Grain, p.Hidden, p.Length = s.id("cleat.%d.%d", k+1, e+1), frame.Z, true, s.rim
			p.Body = frame.Prism{Axis: frame.Z, To: s.rim, Outline: []frame.Spot{at(from, 0), at(from+rail.Width, 0),
				at(from+rail.Width, rail.Thickness), at(from, rail.Thickness)}}
			s.f.Parts = append(s.f.Parts, p)
			ids = append(ids, p.ID)
			mid := at(from+rail.Width/2, 0)
			for c, board := range s.boards[k] {
				s.f.Joints = append(s.f.Joints, frame.Joint{ID: board + "+" + p.ID, Kind: frame.FaceToFace,
					Parts: [2]string{board, p.ID}, Through: s.board.Thickness, Into: rail.Thickness, Run: s.wide(c + 1),
					At:   frame.Point{X: mid.U, Y: mid.V, Z: (s.rows[c].from + s.rows[c].to) / 2},
					Load: "keeping the courses in line"})
			}
		}
	}
	return ids, nil
}

// bracketLeg is how far a bracket's leg reaches along a board from the corner: 3 in (75 mm).
const bracketLeg = 80 * measure.Millimetre

// brackets hold every corner, course by course.
func (s *sided) brackets() {
	count := 0
	for k := range s.n {
		corner := s.inner[(k+1)%s.n]
		for c, board := range s.boards[k] {
			other := s.boards[(k+1)%s.n][c]
			s.f.Joints = append(s.f.Joints, frame.Joint{ID: board + "+" + other, Kind: frame.Bracket,
				Parts: [2]string{board, other}, Through: plate, Into: s.board.Thickness, Run: s.wide(c + 1),
				Turn: s.turns[k], At: frame.Point{X: corner.U, Y: corner.V,
					Z: (s.rows[c].from + s.rows[c].to) / 2},
				Load: "the push of the soil on both walls, as a pull along them"})
			count += 2
		}
	}
	s.f.Fittings = append(s.f.Fittings, frame.Fitting{ID: s.id("brackets"), Bed: s.bed.ID, Kind: "bracket",
		Place: "inside the corners, bent to " + s.bends(),
		Count: count, Why: fmt.Sprintf("two to each course of %d corners, a quarter of the board's width from its edges",
			s.n)})
	for k := range s.n {
		a, b := s.inner[k], s.inner[(k+1)%s.n]
		turn := s.way[k] * math.Pi / 180
		along := func(c frame.Spot) measure.Length {
			return measure.Length(math.Round(float64(c.U)*math.Cos(turn) + float64(c.V)*math.Sin(turn)))
		}
		s.f.Walls = append(s.f.Walls, frame.Wall{ID: s.id("wall.%d", k+1), Bed: s.bed.ID,
			Name: fmt.Sprintf("side %d", k+1), Turn: s.way[k], Boards: s.boards[k], Soil: s.bed.Soil,
			Supports: []measure.Length{along(a), along(b)}})
	}
}

// bends are the angles inside the corners, each once, as they are come to.
func (s *sided) bends() string {
	var list []string
	for _, turn := range s.turns {
		words := strconv.FormatFloat(math.Round(10*(180-turn))/10, 'f', -1, 64) + "°"
		if !slices.Contains(list, words) {
			list = append(list, words)
		}
	}
	return strings.Join(list, ", ")
}

func (s *sided) acts(cleats []string) {
	var boards []string
	for _, side := range s.boards {
		boards = append(boards, side...)
	}
	s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.JoinUp, Of: "corners", Title: "Join the sides", Parts: boards,
		Where: "where the bed will stand, on a level spot", Fits: s.fittings("brackets"),
		Note: fmt.Sprintf("Lay the %d of the lowest course out in a ring and pull them tight with a strap round the"+
			" outside before a bracket is screwed on: %s.", s.n, s.shared())})
	if len(cleats) > 0 {
		s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.MakeUp, Of: "cleats", Title: "Screw the cleats on",
			Where: "inside every side, clear of the brackets", Parts: cleats,
			Note: "They keep one course over the other: flush below, boards pressed down tight before the first screw."})
	}
}

// shared says what the strap is good for: how far the last joint stands open at the outside
// where every cut is a tenth of a degree out, both cuts of every corner, over the boards'
// thickness.
func (s *sided) shared() string {
	open := measure.Length(2 * float64(s.n) * 0.1 * math.Pi / 180 * float64(s.board.Thickness))
	p := s.cat.Precision(s.cat.Habits)
	if open < p.Step/2 {
		return "what is wrong with one cut the strap shares out among all"
	}
	return fmt.Sprintf("a tenth of a degree wrong at every cut is %s at the last joint, and the strap shares it out",
		p.Short(open))
}

// room is the soil, the way it is planted, and what lies below.
func (s *sided) room() {
	c := frame.Cavity{ID: s.id("soil"), Bed: s.bed.ID, Top: s.bed.Soil, Rim: s.rim, Outline: s.inner}
	s.f.Cavities = append(s.f.Cavities, s.displaced(c))
	lo, hi := s.outer[0], s.outer[0]
	for _, p := range s.outer {
		lo, hi = frame.Spot{U: min(lo.U, p.U), V: min(lo.V, p.V)}, frame.Spot{U: max(hi.U, p.U), V: max(hi.V, p.V)}
	}
	in := s.inner[0]
	to := in
	for _, p := range s.inner {
		in, to = frame.Spot{U: min(in.U, p.U), V: min(in.V, p.V)}, frame.Spot{U: max(to.U, p.U), V: max(to.V, p.V)}
	}
	s.f.Openings = append(s.f.Openings, frame.Opening{Lo: in, Hi: to, Rim: s.rim, Round: s.inner})
	s.f.Outside, s.f.Outline = [2]frame.Spot{lo, hi}, s.outer
	if s.bed.Under != "none" {
		s.f.Sheets = append(s.f.Sheets, frame.Sheet{ID: s.id("under"), Bed: s.bed.ID, Material: s.bed.Under,
			Place: "under the bed", Length: hi.U - lo.U, Width: hi.V - lo.V})
	}
}

// sizes are the dimensions worth reading: across the flats, front to back.
func (s *sided) sizes() {
	lo, hi := s.f.Outside[0], s.f.Outside[1]
	mid := (s.inner[0].U + s.inner[1].U) / 2
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	low := s.inner[0].V
	s.f.Measures = []frame.Measure{
		{Name: "across the flats, inside", Field: "length", From: at(mid, low, s.rim),
			To: at(mid, low+s.bed.Length, s.rim), Primary: true},
		{Name: "a side, to the long points", From: at(s.outer[0].U, 0, s.rim), To: at(s.outer[1].U, 0, s.rim), Primary: true},
		{Name: "outside, from left to right", From: at(lo.U, lo.V, 0), To: at(hi.U, lo.V, 0)},
		{Name: "outside, across the flats", From: at(lo.U, lo.V, 0), To: at(lo.U, hi.V, 0)},
		{Name: "soil depth", Field: "soil", From: at(s.inner[0].U, low, 0), To: at(s.inner[0].U, low, s.bed.Soil),
			Primary: true},
		{Name: "wall height", From: at(lo.U, lo.V, 0), To: at(lo.U, lo.V, s.rim)},
	}
}
