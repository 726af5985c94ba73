package masonry

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/why"
)

// along is one or several cast walls along a line that is drawn, straight or bent, each with
// its bed behind it and a path behind that. Up a slope every wall holds its level; on the
// level each bed has a wall all round.
//
//	~~~~~~~~ path ~~~~~~~~
//	. . . . . bed  . . . .      every line is so far out from the first,
//	=======___    ___=====      wherever that goes
//	~~~~~~~~~~====~~~~~~~~
//	. . . . ___  ___ . . .
//	=======/   ==   \=====
var along = System{
	System: design.System{
		Name: "along", Title: "Walls along a line",
		About: "cast along a line you draw, straight or bent: one, or several one above the other", Of: "masonry",
		Examples: []design.Example{
			{About: "two cast walls in three curves up a slope, with beds and paths behind them"},
			{Name: "along-level", About: "a bed between two cast walls that follow a bend", Edits: []design.Edit{
				{Field: shapeKey, Value: "round"},
				{Field: manyKey, Value: "1"},
				{Field: lineKey, Value: "0 in out 24 in; 48 in out 4 in; 96 in out 0 in; 144 in out 12 in"},
			}},
		},
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Adds:  addsFencing,
		Names: map[string]string{"length": "Line, from end to end", "width": "Each bed, across"},
		Own: append([]design.Field{
			{
				Key:     lineKey,
				Does:    []design.Deed{{For: design.Contours, Words: "lay its line along the contour through its middle"}},
				Label:   "Line of the lowest wall",
				Stage:   design.AtBed,
				Kind:    design.PointsField,
				Default: "0 in out 0 in; 60 in out 10 in; 120 in out 6 in; 180 in out 10 in; 240 in out 0 in",
				Metric:  "0 mm out 0 mm; 1500 mm out 250 mm; 3000 mm out 150 mm; 4500 mm out 250 mm; 6000 mm out 0 mm",
				Help: "Its face, from left to right: how far along, and how far out from you. Drag its points on the" +
					" drawing, or those between two of them for one more.",
			},
			{Key: drawnKey, Label: "Between the points", Stage: design.AtBed, Kind: design.ChoiceField, Default: "bent",
				Offers: []design.Choice{
					{Value: "bent", Label: "bent", Note: "as a thin strip lies round pegs"},
					{Value: "straight", Label: "straight", Note: "with corners at the points"},
				}},
			{Key: shapeKey, Label: "Walls", Stage: design.AtBed, Kind: design.ChoiceField, Default: "slope",
				Offers: []design.Choice{
					{Value: "slope", Label: "up a slope", Note: "each holds the level behind it"},
					{Value: "round", Label: "on the level, all round each bed", Note: "two faces and two ends"},
				}},
			{
				Key:     manyKey,
				Label:   "Beds, one behind the other",
				Stage:   design.AtBed,
				Kind:    design.NumberField,
				Default: "2",
				Most:    6,
			},
			{
				Key:     pathKey,
				Label:   "Path behind each bed",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "24 in",
				Metric:  "600 mm",
				Help:    "18 in (450 mm) to walk and weed, 36 in (900 mm) for a barrow (common practice).",
			},
			{
				Key:     risesKey,
				Label:   "Ground rises from wall to wall",
				Stage:   design.AtSite,
				Kind:    design.LengthField,
				Default: "10 in",
				Metric:  "250 mm",
				Help:    "Each wall stands so much above the level below it.",
				Idle: func(b design.Bed) string {
					if b.Options[shapeKey] == "round" {
						return "the beds stand on the level"
					}
					return ""
				},
			},
		}, castFields()...),
		Start: func(cat *catalog.Catalog, b *design.Bed) {
			b.Soil = min(b.Soil, cat.Told(10*measure.Inch, 250*measure.Millimetre))
			b.Width = min(b.Width, cat.Told(30*measure.Inch, 750*measure.Millimetre))
			b.Freeboard = cat.Told(measure.Inch, 25*measure.Millimetre)
			b.Length, _ = design.Extent(b.Points(lineKey))
			b.Options[thickKey] = cat.Told(8*measure.Inch, 200*measure.Millimetre).String()
		},
		Follow: func(b *design.Bed, _ *catalog.Catalog, changed func(string) bool) {
			list := b.Points(lineKey)
			reach, out := design.Extent(list)
			switch {
			case reach == 0:
			case changed(lineKey):
				b.Length = reach
			case reach != b.Length:
				pull := float64(b.Length) / float64(reach)
				if pull < 1 { // bends stay as wide as they are
					pull *= pull
				}
				out = measure.Length(float64(out) * pull)
				b.SetPoints(lineKey, design.Stretched(list, b.Length, out))
			}
		},
		Planted: func(b design.Bed) float64 {
			l, err := newLine(b.Points(lineKey), b.Options[drawnKey] == "bent")
			if err != nil {
				return 0
			}
			return bedsAlong(b, l).planted()
		},
		Check: checkAlong,
	},
	Build: buildAlong,
}

const (
	lineKey  = "line"
	drawnKey = "drawn"
	manyKey  = "lines"
	pathKey  = "path"
	risesKey = "rises"
)

// lined is a bed's walls along its line.
type lined struct {
	line
	n                 int
	thick, wide, path measure.Length
	rises             measure.Length // from wall to wall; 0 on the level
	round             bool           // each bed has walls all round
	soil, rim, buried measure.Length // of each bed, above where its wall stands
}

func bedsAlong(b design.Bed, l line) lined {
	w := lined{line: l, thick: b.OptionLength(thickKey), wide: b.Width, path: b.OptionLength(pathKey),
		round: b.Options[shapeKey] == "round", soil: b.Soil, buried: buried(b)}
	w.n, _ = b.OptionCount(manyKey)
	w.rim = b.Soil + b.Freeboard
	if !w.round {
		w.rises = b.OptionLength(risesKey)
		w.rim = w.rises + b.Freeboard
	}
	return w
}

// pitch is from one wall's face to the next one's.
func (w lined) pitch() measure.Length {
	p := w.thick + w.wide + w.path
	if w.round {
		p += w.thick
	}
	return p
}

// deep is how far out all of it reaches.
func (w lined) deep() measure.Length {
	d := w.pitch() * measure.Length(w.n)
	if w.round {
		d -= w.path // nothing is behind the last
	}
	return d
}

// bed is where bed i begins and ends, out from the line.
func (w lined) bed(i int) (from, to float64) {
	from = float64(w.pitch()*measure.Length(i) + w.thick)
	return from, from + float64(w.wide)
}

// planted is the surface of all its beds, nm².
func (w lined) planted() float64 {
	sum := measure.Area(0)
	for i := range w.n {
		sum += frame.OutlineArea(w.strip(w.bed(i)))
	}
	return sum.SquareMetres() * 1e18
}

func checkAlong(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	points := b.Points(lineKey)
	l, err := newLine(points, b.Options[drawnKey] == "bent")
	if err != nil {
		refuse(lineKey, "%v", err)
		return
	}
	if reach, _ := design.Extent(points); reach != b.Length {
		refuse(lineKey, "from end to end it is %s, and the bed %s long: one of the two works", p.Feet(reach),
			p.Feet(b.Length))
		return
	}
	if !checkCast(b, cat, refuse) {
		return
	}
	w := bedsAlong(b, l)
	if w.n < 1 {
		refuse(manyKey, "there is no bed: 1 to 6 works")
		return
	}
	if w.path < 0 || w.path > 3*measure.Metre {
		refuse(pathKey, "up to %s works", p.AtMost(3*measure.Metre))
		return
	}
	if tight, at := l.tightest(float64(w.deep())); b.Options[drawnKey] == "bent" && tight < float64(leastBend) {
		refuse(
			lineKey,
			"at its point %s it bends too tightly: over the %s that lie out from it walls would fold or kink. Draw the"+
				" bend wider by %s, or take narrower beds and paths, or fewer",
			nearestPoint(points, l.at[at]),
			p.Feet(w.deep()),
			p.Feet(leastBend-measure.Length(tight)),
		)
		return
	}
	if !l.clear(float64(w.deep())) {
		refuse(
			lineKey,
			"beds and paths %s deep run into one another along this line: draw its bends wider, or take narrower ones, or"+
				" fewer",
			p.Feet(w.deep()),
		)
		return
	}
	if w.round {
		bears(b, cat, castUnit(w.thick), refuse)
		return
	}
	if b.On.Firm() {
		refuse("on", "a slope is ground that is cut and filled: on a %s walls all round each bed work", b.On)
		return
	}
	most := w.rises
	for most > 0 && (most > engineered || !stands(b, most, castUnit(w.thick))) {
		most -= p.Step
	}
	switch {
	case w.rises < 50*measure.Millimetre:
		refuse(risesKey, "ground that rises %s is level: from %s works, or walls all round each bed", p.Short(w.rises),
			p.AtLeast(50*measure.Millimetre))
	case most < w.rises:
		refuse(
			risesKey,
			"walls %s thick hold up levels of about %s by their weight, and over %s they are for a licensed engineer:"+
				" up to %s works, or thicker walls and more of them",
			p.Short(w.thick),
			p.Short(most),
			p.Feet(engineered),
			p.AtMost(most),
		)
	}
}

func buildAlong(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	l, err := newLine(bed.Points(lineKey), bed.Options[drawnKey] == "bent")
	if err != nil {
		return frame.Frame{}, err
	}
	w := bedsAlong(bed, l)
	f := frame.Frame{Bed: bed.ID, Name: bed.Name, Baseline: true}
	lo, hi := spread(w.strip(0, float64(w.deep())))
	if w.round { // its ends stand out
		lo, hi = spread(append(w.ring(0).Outside, w.ring(w.n-1).Outside...))
	}
	home := func(list []frame.Spot) []frame.Spot { // counted from the left front of it all
		for i := range list {
			list[i].U, list[i].V = list[i].U-lo.U, list[i].V-lo.V
		}
		return list
	}
	stakes := func(line measure.Length) int {
		apart := stakeStraight
		if bed.Options[drawnKey] == "bent" && len(l.at) > 2 {
			apart = stakeCurve
		}
		return 2 * int((line+apart-1)/apart)
	}
	// Wall by wall: what forms the longest forms all others after it.
	var walls []frame.Pour
	var most form
	var longest frame.Pour
	line, used := measure.Length(0), measure.Length(0)
	tall := w.rim + w.buried
	for i := range w.n {
		at := w.pitch() * measure.Length(i)
		wall := frame.Pour{Open: true}
		long := l.length(float64(at + w.thick/2))
		faces := l.length(float64(at)) + l.length(float64(at+w.thick))
		if w.round {
			wall = w.ring(i)
			faces, long = around(wall.Inside)+around(wall.Outside), (around(wall.Inside)+around(wall.Outside))/2
		} else {
			for k, q := range w.out(float64(at)) {
				wall.Outside, wall.Inside = append(wall.Outside, q.spot()),
					append(wall.Inside, q.plus(w.mitre[k].times(float64(w.thick))).spot())
			}
		}
		form, err := formed(bed, cat, faces, tall, stakes(long))
		if err != nil {
			return f, err
		}
		if form.faces > most.faces {
			most = form
		}
		foot := w.rises * measure.Length(i)
		cast := form.pour(bed, fmt.Sprintf("%s.pour.%d", bed.ID, i+1), 0, foot-w.buried, foot+w.rim)
		cast.Ground = foot
		cast.Outside, cast.Inside, cast.Open = home(wall.Outside), home(wall.Inside), wall.Open
		for _, s := range cast.Solids() {
			cast.Volume += s.Volume()
		}
		walls = append(walls, cast)
		if line += long; cast.Volume > longest.Volume {
			longest, used = cast, long
		}
	}
	f.Pours, f.Fittings = walls, most.fittings(bed.ID)
	if w.n > 1 {
		for i := range f.Fittings {
			f.Fittings[i].Why += "; one wall after the other, so that they serve for all"
		}
	}
	w.beds(&f, bed, home)
	f.Bases = []frame.Base{castBase(bed, cat, line)}
	var first []string
	for _, c := range f.Pours {
		first = append(first, c.ID)
	}
	soil := w.soil
	if !w.round {
		soil = w.rises
	}
	f.Stacks = []frame.Stack{{Bed: bed.ID, Units: first, Thick: w.thick, Soil: soil, Density: cast, Tied: w.round,
		Bond: frame.Cast}}
	f.Outside = [2]frame.Spot{{}, {U: hi.U - lo.U, V: hi.V - lo.V}}
	f.Rim = f.Pours[w.n-1].To
	for i, q := range bed.Points(lineKey) {
		at := frame.Spot{U: q.U - lo.U, V: q.V - lo.V}
		f.Marks = append(f.Marks, frame.Mark{At: at, What: fmt.Sprintf("point %d of the line: the face of the lowest wall",
			i+1)})
		f.Handles = append(f.Handles, frame.Handle{Field: lineKey, Nth: i, At: at})
	}
	for i := range len(f.Handles) - 1 {
		at := design.Between(design.Point(f.Handles[i].At), design.Point(f.Handles[i+1].At))
		f.Handles = append(f.Handles, frame.Handle{Field: lineKey, Nth: i, Half: true, At: frame.Spot(at)})
	}
	w.measures(&f, lo)
	foot := "on the base, along the string; bend the first strip round the pegs, the others lie out from it"
	if w.round || w.n == 1 {
		again := ""
		if w.n > 1 {
			again = " When a wall is stripped its form stands for the next."
		}
		f.Acts = castActs(bed, cat, longest, used, foot, again, first...)
		return f, nil
	}
	for i := range w.n { // one after the other, from the lowest: the ground of each is made first
		for _, a := range castActs(bed, cat, longest, used, foot, "", f.Pours[i].ID) {
			a.Level = i + 1
			if i > 0 && a.Of == "form" {
				a.Fits, a.Where = nil, "on the base; the form of the wall below serves again"
			}
			a.Of, a.Title = fmt.Sprintf("%s %d", a.Of, i+1), fmt.Sprintf("%s: wall %d", a.Title, i+1)
			f.Acts = append(f.Acts, a)
		}
	}
	return f, nil
}

// beds are the soil of each bed, what it is planted in, and the levels they stand on.
func (w lined) beds(f *frame.Frame, b design.Bed, home func([]frame.Spot) []frame.Spot) {
	under := frame.Sheet{ID: b.ID + ".under", Bed: b.ID, Material: b.Under, Place: "under the beds, cut to their bends",
		Width: w.wide}
	for i := range w.n {
		foot := w.rises * measure.Length(i)
		level, name := foot+w.soil, fmt.Sprintf("bed %d", i+1)
		if !w.round {
			level = foot + w.rises
		}
		from, to := w.bed(i)
		round := home(w.strip(from, to))
		soil := frame.Cavity{ID: fmt.Sprintf("%s.soil.%d", b.ID, i+1), Bed: b.ID, Bottom: level - w.soil, Top: level,
			Rim: foot + w.rim, Outline: round}
		for k := len(w.at) - 1; k < len(round) && !w.round; k++ {
			soil.Free = append(soil.Free, k) // the slope goes on there
		}
		for k := range len(w.at) - 1 { // none of them bent
			far := len(round) - 1 - k
			soil.Pieces = append(soil.Pieces, []frame.Spot{round[k], round[k+1], round[far-1], round[far]})
		}
		lo, hi := spread(round)
		// Mitred, a strip is as large as its middle is long times its width.
		surface := why.Times(why.Long(w.length((from+to)/2)).Called("along the middle"), why.Long(w.wide))
		soil.Surface = &surface
		opening := frame.Opening{Lo: lo, Hi: hi, Rim: soil.Rim, Round: round, Surface: &surface}
		if w.n > 1 {
			opening.Name = name
		}
		f.Cavities, f.Openings = append(f.Cavities, soil), append(f.Openings, opening)
		under.Length += max(w.length(from), w.length(to))
		if !w.round {
			cut, fill := w.moved(i)
			f.Levels = append(f.Levels, frame.Level{Bed: b.ID, Name: name, Height: level, Wall: w.rises, Cut: cut, Fill: fill})
		}
	}
	if b.Under != "none" {
		f.Sheets = append(f.Sheets, under)
	}
	if !w.round {
		f.Grade = [2]measure.Length{0, w.rises * measure.Length(w.n)}
		f.Taken = home(w.strip(0, float64(w.deep())))
		// Each bed is reached from the level below and from the path behind it.
		f.Deepest, f.DeepestBy, f.DeepestPer = w.wide/2, "width", 2
	}
}

// moved is what is cut and filled behind wall i, under its bed down to where bought soil
// begins and under its path to its level: added up over narrow strips, on ground that rises
// evenly outwards from each wall to the next.
func (w lined) moved(i int) (cut, fill measure.Volume) {
	const n = 96
	start, pitch := float64(w.pitch()*measure.Length(i)), float64(w.pitch())
	from, to := w.bed(i)
	add := func(a, b float64, level measure.Length) {
		for k := range n {
			lo, hi := a+(b-a)*float64(k)/n, a+(b-a)*float64(k+1)/n
			ground := measure.Length(float64(w.rises) * (float64(i) + ((lo+hi)/2-start)/pitch))
			v := frame.OutlineArea(w.strip(lo, hi))
			if ground > level {
				cut += v.By(ground - level)
			} else {
				fill += v.By(level - ground)
			}
		}
	}
	level := w.rises * measure.Length(i+1)
	add(from, to, level-w.soil)
	if w.path > 0 {
		add(to, start+pitch, level)
	}
	return cut, fill
}

// ring is the wall all round bed i.
func (w lined) ring(i int) frame.Pour {
	from, to := w.bed(i)
	t, last := float64(w.thick), len(w.at)-1
	var p frame.Pour
	side := func(out, in float64, back bool) {
		face, inner := w.out(out), w.out(in)
		face[0] = face[0].minus(w.leg(0).unit().times(t))
		face[last] = face[last].plus(w.leg(last - 1).unit().times(t))
		if back {
			slices.Reverse(face)
			slices.Reverse(inner)
		}
		for k := range face {
			p.Outside, p.Inside = append(p.Outside, face[k].spot()), append(p.Inside, inner[k].spot())
		}
	}
	side(from-t, from, false)
	side(to+t, to, true)
	return p
}

// measures are the sizes that are decided, and the heights.
func (w lined) measures(f *frame.Frame, lo frame.Spot) {
	best := 0 // where out is straight away from whoever looks
	for i, m := range w.mitre {
		if math.Abs(m.u) < math.Abs(w.mitre[best].u) {
			best = i
		}
	}
	p := w.at[best].plus(w.mitre[best].times(float64(w.thick))).spot()
	p = frame.Spot{U: p.U - lo.U, V: p.V - lo.V}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	ends := [2]measure.Length{w.at[0].spot().U, w.at[0].spot().U}
	for _, q := range f.Handles {
		ends = [2]measure.Length{min(ends[0], q.At.U+lo.U), max(ends[1], q.At.U+lo.U)}
	}
	far := f.Outside[1]
	f.Measures = []frame.Measure{
		{Name: "line, from end to end", Field: "length", From: at(ends[0]-lo.U, 0, 0), To: at(ends[1]-lo.U, 0, 0),
			Primary: true},
		{Name: "each bed, across", Field: "width", From: at(p.U, p.V, 0), To: at(p.U, p.V+w.wide, 0), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(far.U, 0, 0)},
		{Name: "all of it, out", From: at(0, 0, 0), To: at(0, far.V, 0)},
	}
	if w.round {
		f.Measures = append(f.Measures,
			frame.Measure{Name: "soil depth", Field: "soil", From: at(0, p.V, 0), To: at(0, p.V, w.soil), Primary: true},
			frame.Measure{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, w.rim)})
		return
	}
	f.Measures = append(f.Measures,
		frame.Measure{Name: "each wall above the level below", Field: risesKey, From: at(0, p.V, 0), To: at(0, p.V, w.rises),
			Primary: true},
		frame.Measure{Name: "rise of it all", From: at(0, far.V, 0), To: at(0, far.V, w.rises*measure.Length(w.n))})
}

// spread is the rectangle about some places.
func spread(list []frame.Spot) (lo, hi frame.Spot) {
	lo, hi = list[0], list[0]
	for _, s := range list {
		lo, hi = frame.Spot{U: min(lo.U, s.U), V: min(lo.V, s.V)}, frame.Spot{U: max(hi.U, s.U), V: max(hi.V, s.V)}
	}
	return lo, hi
}

// around is how long it is round an outline.
func around(list []frame.Spot) measure.Length {
	sum := measure.Length(0)
	for i, a := range list {
		b := list[(i+1)%len(list)]
		sum += measure.Hypot(b.U-a.U, b.V-a.V)
	}
	return sum
}
