package plan

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
	"chamfer/core/planting"
	"chamfer/core/site"
	"chamfer/core/sun"
)

// Growing is what grows in one bed.
type Growing struct {
	Bed      string
	Surfaces []planting.Surface
	Patches  []planting.Patch
}

// Part is how much of a bed's surfaces a patch lies on, from 0 to 1.
func (g Growing) Part(x planting.Patch) float64 {
	all := 0.0
	for _, s := range g.Surfaces {
		all += metres(s.Hi.U-s.Lo.U) * metres(s.Hi.V-s.Lo.V)
	}
	return metres(x.Hi.U-x.Lo.U) * metres(x.Hi.V-x.Lo.V) / max(all, 1e-9)
}

// grow stands plants on the beds' soil as they were laid out.
func (p *Plan) grow() {
	p.Crops = p.Design.CropTable(p.Shop.Catalog.System)
	p.Growing = make([]Growing, len(p.Frames))
	for i := range p.Frames {
		p.Growing[i] = growOf(&p.Frames[i], p.Design.Beds[i], p.Shop.Catalog, p.Crops)
	}
	if slices.ContainsFunc(p.Growing, func(g Growing) bool { return len(g.Patches) > 0 }) {
		p.shine()
	}
}

// growOf is what grows in one bed as it is built.
func growOf(f *frame.Frame, bed design.Bed, cat *catalog.Catalog, table planting.Table) Growing {
	g := Growing{Bed: bed.ID, Surfaces: planting.Surfaces(f, bed.Cell(cat))}
	for n, x := range bed.Plants {
		crop, _ := table.Named(x.Crop)
		patch := planting.Patch{N: n, Crop: crop, How: x.How, Kept: x.Kept, Surface: x.Soil}
		if x.Soil < len(g.Surfaces) {
			s := g.Surfaces[x.Soil]
			patch.Lo = frame.Spot{U: s.Lo.U + x.X, V: s.Lo.V + x.Y}
			patch.Hi = frame.Spot{U: min(patch.Lo.U+x.Wide, s.Hi.U), V: min(patch.Lo.V+x.Deep, s.Hi.V)}
			patch.Laid = planting.Fit(crop, x.How, s.Patch(x.X, x.Y, x.Wide, x.Deep))
			patch.Deep = s.Deep
		}
		g.Patches = append(g.Patches, patch)
	}
	return g
}

// regrown are the patches of the i-th bed with it changed; where they are the same ones, in the sun as it was.
func (p *Plan) regrown(i int, bed design.Bed, f *frame.Frame) []planting.Patch {
	if len(bed.Plants) == 0 {
		return nil
	}
	g := growOf(f, bed, p.Shop.Catalog, p.Crops)
	for k := range g.Patches {
		x := &g.Patches[k]
		x.Hours = float64(x.Crop.SunHours)
		for _, was := range p.patches(i) {
			if was.Crop.ID == x.Crop.ID {
				x.Hours = was.Hours
				if slices.ContainsFunc(g.Patches, func(o planting.Patch) bool { return o.Crop.Name == was.By }) {
					x.Lost, x.By = was.Lost, was.By
				}
			}
		}
	}
	return g.Patches
}

// shine tells of each patch how long the sun reaches its middle, other crops aside.
func (p *Plan) shine() {
	l := p.Light()
	rays := l.Growing()
	for i := range p.Growing {
		stand, ok := p.stand(p.Growing[i].Bed)
		if !ok {
			continue
		}
		things := l.Things(p, false)
		put := stand.On(&p.Frames[i])
		for k := range p.Growing[i].Patches {
			x := &p.Growing[i].Patches[k]
			mid := put(frame.Spot{U: (x.Lo.U + x.Hi.U) / 2, V: (x.Lo.V + x.Hi.V) / 2})
			top := measure.Length(0)
			if x.Surface < len(p.Growing[i].Surfaces) {
				top = p.Growing[i].Surfaces[x.Surface].Top
			}
			x.Hours = sun.Hours(spotOf(mid, top), rays, things)
			p.overshadow(x, i, spotOf(mid, top+x.Crop.High/2), rays, things, put)
		}
	}
}

// overshadow tells how long the taller crops of its bed take the sun from a patch, half way up, and which of them most.
func (p *Plan) overshadow(x *planting.Patch, i int, at sun.Spot, rays []sun.Ray, things []sun.Thing,
	put func(frame.Spot) frame.Spot) {
	before, most := 0.0, 0.0
	all := slices.Clone(things)
	for _, o := range p.Growing[i].Patches {
		if o.N == x.N || o.Plants() == 0 || o.Surface >= len(p.Growing[i].Surfaces) ||
			o.Crop.High < x.Crop.High+tallerBy {
			continue
		}
		if before == 0 {
			before = sun.Hours(at, rays, things)
		}
		a, b := put(o.Lo), put(o.Hi)
		foot := p.Growing[i].Surfaces[o.Surface].Top
		tall := sun.Thing{X0: metres(min(a.U, b.U)), X1: metres(max(a.U, b.U)), Y0: metres(min(a.V, b.V)),
			Y1: metres(max(a.V, b.V)), Bottom: metres(foot), Top: metres(foot + o.Crop.High)}
		all = append(all, tall)
		if lost := before - sun.Hours(at, rays, append(slices.Clone(things), tall)); lost > most {
			most, x.By = lost, o.Crop.Name
		}
	}
	if most > 0 {
		x.Lost = before - sun.Hours(at, rays, all)
	}
}

// tallerBy is how much higher a crop grows than another that it is said to shade.
const tallerBy = 300 * measure.Millimetre

// stand is where the first of a bed's count stands.
func (p *Plan) stand(bed string) (site.Stand, bool) {
	i := slices.IndexFunc(p.Site.Stands, func(s site.Stand) bool { return s.Bed == bed && s.N == 0 })
	if i < 0 {
		return site.Stand{}, false
	}
	return p.Site.Stands[i], true
}

func spotOf(at frame.Spot, z measure.Length) sun.Spot {
	return sun.Spot{X: metres(at.U), Y: metres(at.V), Z: metres(z)}
}

func metres(l measure.Length) float64 { return float64(l) / float64(measure.Metre) }

// Light is the sun over a project's plot.
type Light struct {
	Place sun.Place
	North float64 // how far right of straight up it lies, true
	Said  bool    // the place was said; else it is what is usual in the region
	Sky   design.Sky
	Year  int
}

// sunYear is the year that the sun is reckoned for where none is asked: it differs by a hundredth of a degree or so.
const sunYear = 2026

// Light is where the sun goes over the plot.
func (p *Plan) Light() Light {
	s, said := p.Design.SkyOr(p.Shop.Catalog)
	return Light{Place: sun.Place{Lat: design.Degrees(s.Lat), Lon: design.Degrees(s.Lon), Zone: design.Degrees(s.Zone)},
		North: float64(p.Site.Plot.North) - design.Degrees(s.Variation), Said: said, Sky: s, Year: sunYear}
}

// Growing are the ways to the sun of the months that plants grow in, by the half hour.
func (l Light) Growing() []sun.Ray {
	return sun.Season(l.Place, sun.MidMonths(l.Year, sun.Growing(l.Place.Lat)...), 0.5, l.North, 0)
}

// Month are those of the middle of a month, by the quarter hour.
func (l Light) Month(month int) []sun.Ray {
	return sun.Season(l.Place, sun.MidMonths(l.Year, month), 0.25, l.North, 0)
}

// Things are all that throw a shadow: fences, what stands round the plot, the beds, and full-grown crops where they are
// asked for.
func (l Light) Things(p *Plan, crops bool) (list []sun.Thing) { return l.without(p, "", crops) }

// Beside are those of them that throw one on a bed wherever it stands: all but itself and its crops. Of beds built
// alike
// the others count.
func (l Light) Beside(p *Plan, bed string) (list []sun.Thing) { return l.without(p, bed, false) }

func (l Light) without(p *Plan, bed string, crops bool) (list []sun.Thing) {
	list = l.standing(p)
	for k := range p.Site.Stands {
		s := &p.Site.Stands[k]
		if s.Bed == bed && s.N == 0 {
			continue
		}
		if i := slices.IndexFunc(p.Frames, func(f frame.Frame) bool { return f.Bed == s.Bed }); i >= 0 {
			list = append(list, p.shading(i, s.On(&p.Frames[i]), crops)...)
		}
	}
	return list
}

// standing are those of them that stand there whatever is built: fences, and what is round the plot.
func (l Light) standing(p *Plan) (list []sun.Thing) {
	const thick = 0.05
	w, d, high := metres(p.Site.Plot.Width), metres(p.Site.Plot.Depth), metres(l.Sky.Fence)
	for _, e := range p.Site.Plot.Fences {
		t := sun.Thing{Name: "the fence, " + e, X1: w, Y1: d, Top: high}
		switch e {
		case "front":
			t.Y0, t.Y1 = -thick, 0
		case "back":
			t.Y0, t.Y1 = d, d+thick
		case "left":
			t.X0, t.X1 = -thick, 0
		case "right":
			t.X0, t.X1 = w, w+thick
		}
		list = append(list, t)
	}
	for _, x := range l.Sky.Tall {
		list = append(list, tall(x, l.Place.Lat))
	}
	return list
}

// bareLight is how much light comes through a tree without leaves; common practice gives a half to two thirds.
const bareLight = 0.6

func tall(x design.Tall, lat float64) sun.Thing {
	t := sun.Thing{Name: x.Kind, X0: metres(measure.Length(x.X)), Y0: metres(measure.Length(x.Y)),
		Top: metres(x.High), Bottom: metres(x.Clear)}
	if !x.Round() {
		t.X1, t.Y1 = t.X0+metres(x.Wide), t.Y0+metres(x.Deep)
		return t
	}
	t.Radius, t.Trunk = metres(x.Wide)/2, max(0.08, metres(x.High)*0.02)
	if x.Kind == "tree" {
		t.Bare, t.LetsWhenBare = [2]int{11, 4}, bareLight
		if lat < 0 {
			t.Bare = [2]int{5, 10}
		}
	}
	return t
}

// shading is what of one bed throws a shadow: its walls, what rises over them, and its crops.
func (p *Plan) shading(i int, put func(frame.Spot) frame.Spot, crops bool) (list []sun.Thing) {
	f := &p.Frames[i]
	box := func(lo, hi frame.Spot, bottom, top measure.Length) {
		a, b := put(lo), put(hi)
		t := sun.Thing{Name: f.Name, X0: metres(min(a.U, b.U)), X1: metres(max(a.U, b.U)), Y0: metres(min(a.V, b.V)),
			Y1: metres(max(a.V, b.V)), Bottom: metres(bottom), Top: metres(top)}
		if t.X1 > t.X0 && t.Y1 > t.Y0 && t.Top > t.Bottom {
			list = append(list, t)
		}
	}
	rim, bottom := measure.Length(0), measure.Length(math.MaxInt64)
	for _, c := range f.Cavities {
		rim, bottom = max(rim, c.Rim), min(bottom, max(0, c.Bottom))
	}
	const wall = 50 * measure.Millimetre
	lo, hi := f.Outside[0], f.Outside[1]
	if len(f.Cavities) > 0 && len(f.Openings) == 1 {
		box(lo, frame.Spot{U: hi.U, V: lo.V + wall}, bottom, rim)
		box(frame.Spot{U: lo.U, V: hi.V - wall}, hi, bottom, rim)
		box(lo, frame.Spot{U: lo.U + wall, V: hi.V}, bottom, rim)
		box(frame.Spot{U: hi.U - wall, V: lo.V}, hi, bottom, rim)
		rim += 100 * measure.Millimetre
	} else {
		rim = 0 // tiers and bays: board by board
	}
	for _, c := range f.Cavities { // and its soil, where it stands over the ground
		if len(c.Outline) == 4 && c.Bottom > 0 {
			a, b := c.Outline[0], c.Outline[0]
			for _, q := range c.Outline {
				a, b = frame.Spot{U: min(a.U, q.U), V: min(a.V, q.V)}, frame.Spot{U: max(b.U, q.U), V: max(b.V, q.V)}
			}
			box(a, b, c.Bottom, c.Top)
		}
	}
	for _, part := range f.Parts {
		if a, b := part.Body.Bounds(); b.Z > rim {
			box(frame.Spot{U: a.X, V: a.Y}, frame.Spot{U: b.X, V: b.Y}, max(a.Z, 0), b.Z)
		}
	}
	for _, u := range f.Units {
		if a, b := u.Body.Bounds(); b.Z > rim {
			box(frame.Spot{U: a.X, V: a.Y}, frame.Spot{U: b.X, V: b.Y}, max(a.Z, 0), b.Z)
		}
	}
	if !crops || i >= len(p.Growing) {
		return list
	}
	for _, x := range p.Growing[i].Patches {
		if len(x.Laid.Spots) > 0 && x.Surface < len(p.Growing[i].Surfaces) {
			top := p.Growing[i].Surfaces[x.Surface].Top
			box(x.Lo, x.Hi, top, top+x.Crop.High)
		}
	}
	return list
}

// SunMap is the hours of sun on a plot, in columns by rows, for the ways to the sun that are given; over a bed it is on
// its soil.
func (p *Plan) SunMap(columns, rows int, rays []sun.Ray, things []sun.Thing) sun.Map {
	w, d := metres(p.Site.Plot.Width), metres(p.Site.Plot.Depth)
	heights := make([]float64, columns*rows)
	for _, s := range p.Site.Stands {
		i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == s.Bed })
		if i < 0 {
			continue
		}
		put := s.On(&p.Frames[i])
		for _, surface := range p.Growing[i].Surfaces {
			a, b := put(surface.Lo), put(surface.Hi)
			x0, x1 := metres(min(a.U, b.U)), metres(max(a.U, b.U))
			y0, y1 := metres(min(a.V, b.V)), metres(max(a.V, b.V))
			for k := range heights {
				x, y := (float64(k%columns)+0.5)*w/float64(columns), (float64(k/columns)+0.5)*d/float64(rows)
				if x > x0 && x < x1 && y > y0 && y < y1 {
					heights[k] = metres(surface.Top)
				}
			}
		}
	}
	return sun.MapOf(w, d, columns, rows, heights, rays, things)
}

// patches are those of the i-th bed.
func (p *Plan) patches(i int) []planting.Patch {
	if i >= len(p.Growing) {
		return nil
	}
	return p.Growing[i].Patches
}

// Shifted is where a planting comes to stand that is carried so many millimetres to the right and away, "120;-40": on
// the strings where it is let go near them, and never beside its surface.
func (p *Plan) Shifted(bed, n, by string) (string, error) {
	i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == bed })
	k, err := strconv.Atoi(n)
	if err != nil || i < 0 || k < 0 || k >= len(p.Design.Beds[i].Plants) {
		return "", fmt.Errorf("there is no planting %q in this bed", n)
	}
	right, away, ok := strings.Cut(by, ";")
	dx, err := strconv.ParseFloat(right, 64)
	dy, err2 := strconv.ParseFloat(away, 64)
	x := p.Design.Beds[i].Plants[k]
	if !ok || err != nil || err2 != nil || !(math.Abs(dx) < 1e6 && math.Abs(dy) < 1e6) ||
		x.Soil >= len(p.Growing[i].Surfaces) {
		return "", fmt.Errorf("it cannot be carried there: type its place instead")
	}
	s := p.Growing[i].Surfaces[x.Soil]
	put := func(at measure.Length, by float64, size, whole measure.Length, cells int) measure.Length {
		at += measure.Length(by * float64(measure.Millimetre))
		cell := whole / measure.Length(cells)
		if near := (at + cell/2) / cell * cell; at > 0 && max(near-at, at-near) < cell/4 {
			at = whole * measure.Length((at+cell/2)/cell) / measure.Length(cells)
		}
		return max(0, min(at, whole-size))
	}
	x.X = put(x.X, dx, x.Wide, s.Hi.U-s.Lo.U, s.Columns)
	x.Y = put(x.Y, dy, x.Deep, s.Hi.V-s.Lo.V, s.Rows)
	return fmt.Sprintf("%d; %s; %s; %s; %s", x.Soil, x.X, x.Y, x.Wide, x.Deep), nil
}
