package masonry

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// terraces are level beds on a slope, one above the other, each behind a low wall.
// The fall is read from the heights of the plot's four corners; it is shared out over
// as many walls as keep each of them low.
//
//	           ____|   level 3
//	      ____|. . .        what lies over the slope is filled,
//	 ____|. .               what lies under it cut away
//	|. .
//
// A wall here holds ground up. Over the height that is allowed without, that is work
// for a licensed engineer.
var terraces = System{
	System: design.System{
		Name: "terraces", Title: "Terraces on a slope", About: "level beds behind low walls, as many as the fall needs",
		Of:       "masonry",
		Examples: []design.Example{{About: "level beds behind low walls on a slope"}},
		Uses:     []string{"grass", "under"},
		Lacks:    lacks,
		Adds:     addsFencing,
		Names:    map[string]string{"length": "Along the slope", "width": "Up the slope"},
		Own: append(
			ownFields(straightCaps, catalog.WallUnit, catalog.HollowUnit, catalog.Brick),
			design.Field{
				Key:     cornersKey,
				Does:    []design.Deed{{For: design.ReadsCorners, Words: "take the heights of its corners from the readings"}},
				Label:   "Heights of the corners",
				Stage:   design.AtSite,
				Kind:    design.TextField,
				Default: "0 in; 0 in; 30 in; 30 in",
				Metric:  "0 mm; 0 mm; 750 mm; 750 mm",
				Help:    "Front left; front right; back right; back left, above the lowest, as the level reads them.",
			},
			design.Field{
				Key:     aboveKey,
				Label:   "On the ground above them",
				Stage:   design.AtSite,
				Kind:    design.ChoiceField,
				Default: "soil",
				Help: "What presses on the soil behind a wall pushes the wall. Keep a path back from its edge as" +
					" far as the wall is high.",
				Offers: []design.Choice{
					{Value: "soil", Label: "level soil", Note: "planted, nobody walks there"},
					{Value: "slope", Label: "the slope goes on", Note: "steeper ground pushes more"},
					{Value: "drive", Label: "a drive or a building", Note: "an engineer's work"},
				},
			},
			design.Field{
				Key:     stepsKey,
				Label:   "Terraces",
				Stage:   design.AtBed,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    12,
				Help:    "auto takes the fewest whose walls stay low enough to stand by their weight.",
			},
			drainField("stone"),
		),
		Start:  startTerraces,
		Check:  checkTerraces,
		Follow: followStraight,
		Apart: func(b design.Bed, cat *catalog.Catalog, field string) measure.Length {
			if field == "length" {
				return apartWall(asStraight(b), cat, field)
			}
			return 0
		},
	},
	Build: buildTerraces,
}

const (
	cornersKey = "corners_at"
	stepsKey   = "terraces"
	aboveKey   = "above"
)

// engineered is what walls that hold up ground are lower than: what the model code has,
// and lower where one lives, which the review asks.
const engineered = catalog.ModelWall

// leastTerrace is the shallowest level worth planting: a foot, 300 mm.
const leastTerrace = 300 * measure.Millimetre

// asStraight is the bed with its walls all straight, for what straight walls ask.
func asStraight(b design.Bed) design.Bed {
	b.Options = withOption(b.Options, shapeKey, "straight")
	return b
}

// leastSlope is as far up the slope as the terraces of the slope they start with take.
const leastSlope = 1550 * measure.Millimetre

func startTerraces(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.WallUnit)[0]
	b.Options[unitKey] = u.ID
	b.Soil, b.Freeboard = min(b.Soil, cat.Told(8*measure.Inch, 200*measure.Millimetre)), 0
	b.Length, b.Width = max(b.Length, leastSlope), max(b.Width*5/2, leastSlope)
	straight := asStraight(*b)
	snap(&straight, u)
	b.Length = straight.Length
	b.Width = min(b.Width, b.Length)
}

func followStraight(b *design.Bed, cat *catalog.Catalog, changed func(string) bool) {
	if u, err := cat.Unit(b.Options[unitKey]); err == nil && changed(unitKey) && !changed("length") {
		straight := asStraight(*b)
		snap(&straight, u)
		b.Length = straight.Length
	}
	b.Width = min(b.Width, b.Length)
}

// slope is a plot's ground: the heights of its corners from front left round.
type slope struct {
	at         [4]measure.Length
	long, deep measure.Length
}

// readSlope reads four heights.
func readSlope(b design.Bed, system measure.System) (slope, error) {
	s := slope{long: b.Length, deep: b.Width}
	parts := strings.Split(b.Options[cornersKey], ";")
	if len(parts) != 4 {
		return s, fmt.Errorf("%d heights are given, of four corners", len(parts))
	}
	for i, p := range parts {
		if p = strings.TrimSpace(p); strings.TrimLeft(p, "0") == "" || strings.HasPrefix(p, "0 ") {
			continue // the lowest
		}
		l, err := measure.Parse(p, system)
		if err != nil {
			return s, err
		}
		s.at[i] = l
	}
	return s, nil
}

// front and back are the middle heights of the two edges.
func (s slope) front() measure.Length { return (s.at[0] + s.at[1]) / 2 }
func (s slope) back() measure.Length  { return (s.at[2] + s.at[3]) / 2 }

// height is the ground's at a place, by its corners, in parts of the plot.
func (s slope) height(u, v float64) float64 {
	return (float64(s.at[0])*(1-u)+float64(s.at[1])*u)*(1-v) + (float64(s.at[3])*(1-u)+float64(s.at[2])*u)*v
}

// moved is what is cut from the ground and what is filled on it between two parts of
// the depth, for a level at a height: added up over a grid of middles.
func (s slope) moved(from, to float64, level measure.Length) (cut, fill measure.Volume) {
	const n = 60
	cell := s.long.Metres() / n * s.deep.Metres() * (to - from) / n
	var c, f float64
	for i := range n {
		for k := range n {
			h := s.height((float64(i)+0.5)/n, from+(to-from)*(float64(k)+0.5)/n) - float64(level)
			if h > 0 {
				c += h
			} else {
				f -= h
			}
		}
	}
	return measure.CubicMetres(
			c * cell / float64(measure.Metre),
		), measure.CubicMetres(
			f * cell / float64(measure.Metre),
		)
}

// steps are the terraces: how many, and how high each wall is.
func (s slope) steps(b design.Bed, u catalog.Unit) (n int, each measure.Length) {
	fall := s.back() - s.front()
	n, ok := b.OptionCount(stepsKey)
	if !ok {
		for n = 1; n < 12; n++ {
			if each = fall / measure.Length(n); each <= engineered && stands(b, each, u) {
				break
			}
		}
	}
	return n, fall / measure.Length(max(1, n))
}

func checkTerraces(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	s, err := readSlope(b, cat.System)
	fall := s.back() - s.front()
	switch {
	case err != nil:
		refuse(cornersKey, "%v; write them like 0 in; 0 in; 24 in; 20 in, from front left round", err)
		return
	case fall < 100*measure.Millimetre:
		refuse(
			cornersKey,
			"the ground rises %s to the back: that is a bed on the level; a rise of %s and more makes terraces",
			p.Feet(max(0, fall)),
			p.Feet(100*measure.Millimetre),
		)
		return
	case fall > 6*measure.Metre:
		refuse(
			cornersKey,
			"a fall of %s is a hillside: its walls are for a licensed engineer; up to %s works",
			p.Feet(fall),
			p.AtMost(6*measure.Metre),
		)
		return
	}
	if b.Options[aboveKey] == "drive" {
		refuse(
			aboveKey,
			"a wall below a drive or a building is work for a licensed engineer, whatever its height; level soil or"+
				" a slope above it works here",
		)
		return
	}
	n, each := s.steps(b, u)
	deep := b.Width/measure.Length(max(1, n)) - u.Depth
	switch {
	case n < 1 || each > engineered || !stands(b, each, u):
		fewest := 1
		for ; fewest < 40; fewest++ {
			if h := fall / measure.Length(fewest); h <= engineered && stands(b, h, u) {
				break
			}
		}
		refuse(
			stepsKey,
			"%d walls would be %s high each: walls that hold up ground stand by their weight up to about %s of these"+
				" units, and over %s they are for a licensed engineer; from %d terraces work",
			n,
			p.Feet(each),
			p.Feet(fall/measure.Length(fewest)),
			p.Feet(engineered),
			fewest,
		)
		return
	case deep < leastTerrace:
		refuse(
			"width",
			"%d terraces would be %s deep each, too little to plant: from %s works, or deeper units and fewer walls",
			n,
			p.Feet(max(0, deep)),
			p.AtLeast((leastTerrace+u.Depth)*measure.Length(n)),
		)
		return
	}
	if b.Options[capKey] == "mitred" {
		refuse(capKey, "straight walls have no corners to mitre: butted works")
	}
	long, wide := outer(asStraight(b), u)
	for _, r := range runs("straight", long, wide) {
		if over := r.over(b, u); over != 0 {
			less, more := bonded(b.Length, over, u)
			refuse(
				"length",
				"no bond of whole units makes %s: %s and %s do",
				p.Feet(b.Length),
				lengthText(p, less),
				lengthText(p, more),
			)
		}
	}
}

func buildTerraces(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	w, err := newLaid(asStraight(bed), cat)
	if err != nil {
		return frame.Frame{}, err
	}
	s, err := readSlope(bed, cat.System)
	if err != nil {
		return frame.Frame{}, err
	}
	u := w.unit
	n, each := s.steps(bed, u)
	depth := bed.Width / measure.Length(n)
	var line measure.Length
	for i := range n {
		level := s.front() + each*measure.Length(i+1)
		below := level - each
		at := depth * measure.Length(i)
		w.courses = coursesUp(each+w.bury, bed.Freeboard, u)
		lift := below // the first course goes into the ground of the level below
		r := run{key: fmt.Sprintf("wall %d", i+1), at: frame.Spot{V: at}, du: 1, length: bed.Length}
		first := len(w.f.Units)
		w.top = u.Course()*measure.Length(w.courses) - u.Joint - w.bury
		for course := 1; course <= w.courses; course++ {
			w.run(r, course)
		}
		if w.cap.ID != "" {
			w.capRun(r)
		}
		for k := first; k < len(w.f.Units); k++ {
			w.level[w.f.Units[k].ID] = i + 1
			w.f.Units[k].Body = w.f.Units[k].Body.Move(frame.Point{Z: lift})
		}
		w.f.Rim = lift + w.top
		lo, hi := frame.Spot{V: at + u.Depth}, frame.Spot{U: bed.Length, V: depth * measure.Length(i+1)}
		// The ground is dug or raised to where the bought soil, and stone, begin.
		cut, fill := s.moved(float64(i)/float64(n), float64(i+1)/float64(n), level-bed.Soil)
		name := fmt.Sprintf("terrace %d", i+1)
		w.f.Cavities = append(
			w.f.Cavities,
			frame.Cavity{
				ID:      w.id("soil.%d", i+1),
				Bed:     bed.ID,
				Bottom:  level - bed.Soil,
				Top:     level,
				Rim:     w.f.Rim,
				Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}},
				Free:    []int{1, 2, 3}, // the slope goes on there
			},
		)
		w.drain(i, bed.Length, false)
		w.f.Openings = append(w.f.Openings, frame.Opening{Name: name, Lo: lo, Hi: hi, Rim: w.f.Rim})
		w.f.Levels = append(
			w.f.Levels,
			frame.Level{Bed: bed.ID, Name: name, Height: level, Wall: each, Cut: cut, Fill: fill},
		)
		line += bed.Length
		if i > 0 {
			w.f.Marks = append(
				w.f.Marks,
				frame.Mark{At: frame.Spot{V: at}, What: fmt.Sprintf("left end of the face of wall %d", i+1)},
				frame.Mark{
					At:   frame.Spot{U: bed.Length, V: at},
					What: fmt.Sprintf("right end of the face of wall %d", i+1),
				},
			)
		}
	}
	w.f.Grade = [2]measure.Length{s.front(), s.back()}
	// Reached from the level below and the one above.
	w.f.Deepest, w.f.DeepestBy, w.f.DeepestPer = (depth-u.Depth)/2, "width", 2*float64(n)
	w.f.Outside = [2]frame.Spot{{}, {U: bed.Length, V: bed.Width}}
	w.base(line, measure.Over(line, u.Depth), measure.Over(line, u.Depth+2*w.usual.beside))
	w.stack(each, false)
	w.acts(
		"on its base, along a line",
		"on the courses below",
	)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	w.f.Measures = []frame.Measure{
		{Name: "along the slope", Field: "length", From: at(0, 0, 0), To: at(bed.Length, 0, 0), Primary: true},
		{Name: "up the slope", Field: "width", From: at(0, 0, 0), To: at(0, bed.Width, 0), Primary: true},
		{Name: "fall", From: at(0, bed.Width, s.front()), To: at(0, bed.Width, s.back()), Primary: true},
		{
			Name: "first terrace",
			From: at(bed.Length, u.Depth, s.front()+each),
			To:   at(bed.Length, depth, s.front()+each),
		},
		{Name: "each wall above the level below", From: at(0, 0, s.front()), To: at(0, 0, s.front()+each)},
	}
	return w.f, nil
}
