package ground

import (
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Earth is how a soil behaves when it is dug.
type Earth struct {
	ID      string
	Loose   float64 // room of what was dug, to what it was
	Trodden float64 // and once it is filled and trodden down
	Density float64 // kg/m³ loose, damp
}

// Earths are soils by their names. Volumes: US Army FM 5-434 (2000), Table 1-1, from memory;
// handbooks give clay anything from 1.2 to 1.45. Densities: common practice.
var Earths = []Earth{
	{"loam", 1.25, 0.90, 1250}, {"sand", 1.11, 0.95, 1450}, {"clay", 1.43, 0.90, 1200},
}

// EarthSource is where what is known of them is from.
const EarthSource = "US Army FM 5-434 (2000), Table 1-1 (from memory); clay differs from book to book, 1.2 to 1.45"

// EarthOf is the soil by a name, loam where there is none.
func EarthOf(id string) Earth {
	for _, e := range Earths {
		if e.ID == id {
			return e
		}
	}
	return Earths[0]
}

// Sizes of digging (common practice).
const (
	// postHole is the diameter of a hole dug for a post: 10 in, 250 mm.
	postHoleInch, postHoleMetric = 10 * measure.Inch, 250 * measure.Millimetre
	// turfThick is what comes off with grass: 2 in, 50 mm.
	turfInch, turfMetric = 2 * measure.Inch, 50 * measure.Millimetre
	// topsoil is how deep good soil goes, a spade: 10 in, 250 mm.
	topsoilInch, topsoilMetric = 10 * measure.Inch, 250 * measure.Millimetre
)

// PathDeep is how deep paths are covered: 3 in, 75 mm (common practice).
func PathDeep(cat *catalog.Catalog) measure.Length {
	return cat.Told(3*measure.Inch, 75*measure.Millimetre)
}

// TurfThick is how thick turf is cut.
func TurfThick(cat *catalog.Catalog) measure.Length { return cat.Told(turfInch, turfMetric) }

// Flow is ground that comes out somewhere or goes somewhere, in room of ground as it lay.
type Flow struct {
	What   string
	Volume measure.Volume
}

// Account is where what is dug goes, all of it counted as it lay: what comes out is what goes
// in, what is used in the beds, and what leaves; or what has to be brought.
type Account struct {
	Earth   Earth
	Out, In []Flow
	Turf    measure.Volume // of what comes out
	Top     measure.Volume // topsoil of what comes out
	Offered measure.Volume // of the topsoil, what is left for the beds' soil
	Under   measure.Volume // turf that lies in the beds, as thick as it was cut
	Used    measure.Volume // topsoil in the beds' soil
	Short   measure.Volume // that has to be brought
	Leaves  measure.Volume
	Loose   measure.Volume // what leaves, as it lies in a barrow
	Mass    measure.Mass
	Barrows int
	Loads   int // of a small trailer
}

// trailer is what a small trailer carries: common practice, 500 kg and 0.65 m³ behind a car, in
// the US 1400 lb and 40 cu ft.
func trailer(cat *catalog.Catalog) (measure.Volume, measure.Mass) {
	if cat.System == measure.Metric {
		return 650 * measure.Litre, 500
	}
	return measure.CubicMetres(40 * 0.028316846592), 1400 * measure.PoundMass
}

// Count adds up what comes out of the ground and what of it is filled. trench is what masonry's
// foot is dug for. Turf that is lifted was part of the ground: levels count without it.
func (p *Plan) Count(frames []frame.Frame, forms []Formation, walks []Walk, g design.Ground, trench measure.Volume,
	cat *catalog.Catalog) {
	a := Account{Earth: EarthOf(g.Earth)}
	out := func(what string, v measure.Volume) {
		if v > 0 {
			a.Out = append(a.Out, Flow{what, v})
		}
	}
	if area := p.Grass["strip"]; area > 0 {
		a.Turf = area.By(TurfThick(cat))
		out("turf", a.Turf)
	}
	var cut, fill, top, holes, posts, levelCut, levelFill float64
	deep := cat.Told(topsoilInch, topsoilMetric).Metres()
	for _, f := range forms {
		cut, fill = cut+f.Moved.Cut, fill+f.Moved.Fill
		if f.Moved.Deepest <= deep {
			top += f.Moved.Cut
		} else { // what lies deeper than a spade is no soil for a bed
			top += min(f.Moved.Cut, f.Moved.CutOver*deep)
		}
	}
	var paths, pathFill float64
	for _, w := range walks {
		if g.Even == "even" {
			paths, pathFill = paths+w.Moved.Cut, pathFill+w.Moved.Fill
		}
	}
	across := cat.Told(postHoleInch, postHoleMetric).Metres()
	for _, f := range frames {
		for _, part := range f.Parts {
			lo, _ := part.Body.Bounds()
			if lo.Z >= 0 || part.Ends[0] == frame.Pointed {
				continue
			}
			hole := math.Pi / 4 * across * across * -lo.Z.Metres()
			holes += hole * float64(f.Times)
			posts += min(hole, part.Width.Metres()*part.Thickness.Metres()*-lo.Z.Metres()) * float64(f.Times)
		}
		for _, l := range f.Levels {
			levelCut, levelFill = levelCut+l.Cut.CubicMetres()*float64(f.Times),
				levelFill+l.Fill.CubicMetres()*float64(f.Times)
		}
	}
	cubic := measure.CubicMetres
	out("level the ground under the beds", cubic(cut))
	out("levels of a slope", cubic(levelCut))
	out("the high sides of the paths", cubic(paths))
	out("post holes", cubic(holes))
	out("the trench for the walls", trench)
	// What is filled takes more ground than it has room, since it is trodden down.
	wanted := cubic((fill + levelFill + pathFill) / a.Earth.Trodden)
	a.Top = cubic(top)
	sub := cubic(cut) - a.Top + cubic(levelCut) + cubic(paths) + trench + cubic(posts) // first, what is no soil for a bed
	take := func(what string, v measure.Volume) {
		if v > 0 {
			a.In = append(a.In, Flow{what, v})
		}
	}
	take("back round the posts", cubic(holes)-cubic(posts))
	from := min(wanted, sub+a.Top)
	take("filled under the beds and paths and trodden down", from)
	a.Short = wanted - from
	rest := sub + a.Top - from
	a.Offered = min(a.Top, rest)
	if g.Spoil != "bed" {
		a.Offered = 0
	}
	if g.Turf == "under" {
		a.Under = a.Turf
	}
	a.Leaves = rest + a.Turf
	p.Account = a
}

// Close books what the beds' soil took of what was offered to it, and what leaves.
func (p *Plan) Close(topsoil, turf measure.Volume, cat *catalog.Catalog) {
	a := &p.Account
	a.Used, a.Under = topsoil, turf
	if topsoil > 0 {
		a.In = append(a.In, Flow{"topsoil for the beds", topsoil})
	}
	if turf > 0 {
		a.In = append(a.In, Flow{"turf under the soil of the beds", turf})
	}
	a.Leaves -= topsoil + turf
	a.Loose = measure.CubicMetres(a.Leaves.CubicMetres() * a.Earth.Loose)
	a.Mass = measure.Mass(a.Loose.CubicMetres() * a.Earth.Density)
	a.Barrows = int(math.Ceil(a.Loose.Litres()/cat.BarrowLitres - 1e-9))
	room, load := trailer(cat)
	a.Loads = int(math.Ceil(max(float64(a.Loose)/float64(room), float64(a.Mass/load)) - 1e-9))
}
