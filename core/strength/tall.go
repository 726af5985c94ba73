package strength

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Gusts is the wind on what stands tall, N/m²: 16 lb/ft² on the area that stands against it,
// 0.6 of it where stress is held to what is allowed (ASCE 7-16 29.7 and 2.4.1, the least for
// what is no building; from memory). Where it blows harder local codes say so.
const Gusts = 0.6 * 16 * 47.880_26

// InLeaf: of a trellis in leaf, of net and of a wire panel with climbers about half stands against
// the wind (common practice).
const InLeaf = 0.5

// NetSolid is how much of bare net on a fence stands against the wind: a fifth, and what hangs
// in it (common practice).
const NetSolid = 0.25

// Short loads may be more than those that stay for years: NDS Table 2.3.2, 1.6 for wind and
// 1.0 for people against 0.9 for good (from memory).
const (
	gustly  = 1.6 / 0.9
	briefly = 1.0 / 0.9
)

// drySoil is how heavy soil is when wind or a person would tip a planter: 0.6 of wet
// (common practice).
const drySoil = 0.6

// windy follows the wind from what stands tall into the bed.
func (w *walk) windy() {
	w.trellis()
	w.fence()
	w.hoops()
	w.overTurned()
}

// trellis is uprights on a wall's outer face, pushed away from it: they turn about their
// lower ends, and their screws pull the harder the higher they are.
func (w *walk) trellis() {
	var ups []int
	head := measure.Length(0)
	for i, n := range w.nodes {
		if n.Kind != frame.TrellisPart {
			continue
		}
		if head = max(head, n.hi.Z); n.upright() {
			ups = append(ups, i)
		}
	}
	rim := w.rimBehind()
	for k, i := range ups {
		n := &w.nodes[i]
		foot := max(rim, n.lo.Z) // where leaf begins
		wide := measure.Length(0)
		if k > 0 {
			wide += (n.lo.X - w.nodes[ups[k-1]].lo.X) / 2
		}
		if k+1 < len(ups) {
			wide += (w.nodes[ups[k+1]].lo.X - n.lo.X) / 2
		}
		high := (head - rim).Metres()
		push := Gusts * InLeaf * wide.Metres() * high
		if n.lo.Z < 0 {
			w.poleInWind(i, push, foot+(head-foot)/2)
		} else {
			w.pulledOver(i, push, (rim-n.lo.Z).Metres()+high/2)
		}
		_, _, factor, allowed := values(Member{Across: n.Width, Deep: n.Thickness, Species: n.wood})
		b, h := n.Width.Metres(), n.Thickness.Metres()
		holds := push * allowed * gustly * b * h * h / 6 / factor / (push * high / 2)
		w.add(
			Link{
				From:   n.ID,
				To:     n.ID,
				Path:   Wind,
				Way:    Bending,
				Load:   push,
				Holds:  holds,
				Breaks: holds * breaksBending(n.wood),
				Span:   high,
			},
		)
		for _, j := range w.Frame.Joints { // the head rail, with the leaf half a foot below it
			x, ok := w.Fixed[j.ID]
			if !ok || j.Parts[1] != n.ID || w.nodes[w.index[j.Parts[0]]].Kind != frame.TrellisPart {
				continue
			}
			s := w.heldBy(j, x)
			h := s.Across() * float64(x.Count) * gustly
			w.add(
				Link{
					From:     j.Parts[0],
					To:       n.ID,
					Path:     Wind,
					Way:      Across,
					Load:     Gusts * InLeaf * wide.Metres() * 0.15,
					Holds:    h,
					Breaks:   h * pullsOut,
					Joint:    j.ID,
					Screws:   x.Count,
					EndGrain: j.EndGrain,
				},
			)
		}
	}
}

// poleInWind is a post of its own in the ground, pushed at a height above it: the ground holds
// it, and it bends below there.
func (w *walk) poleInWind(i int, push float64, height measure.Length) {
	n := &w.nodes[i]
	p := Pole{Height: height, Wide: n.Width, Deep: -n.lo.Z}
	w.add(Link{From: n.ID, To: "ground", Path: Wind, Way: InGround, Load: push, Holds: p.Most() / BriefFactor,
		Breaks: p.Most()})
	moment, _ := p.Moment(push)
	if moment <= 0 {
		return
	}
	_, _, factor, allowed := values(Member{Across: n.Width, Deep: n.Thickness, Species: n.wood})
	b, h := n.Width.Metres(), n.Thickness.Metres()
	holds := push * allowed * gustly * b * h * h / 6 / factor / moment
	w.add(Link{From: n.ID, To: n.ID, Path: Wind, Way: Bending, Load: push, Holds: holds,
		Breaks: holds * breaksBending(n.wood), Span: height.Metres()})
}

// fence is net on posts, each with half of what hangs to either side of it.
func (w *walk) fence() {
	var posts []int
	for i, n := range w.nodes {
		if n.Kind == frame.FencePost {
			posts = append(posts, i)
		}
	}
	for k, i := range posts {
		n := &w.nodes[i]
		wide := 0.0
		for _, o := range []int{k - 1, k + 1} {
			if o >= 0 && o < len(posts) {
				m := &w.nodes[posts[o]]
				wide += measure.Hypot(m.lo.X-n.lo.X, m.lo.Y-n.lo.Y).Metres() / 2
			}
		}
		w.poleInWind(i, Gusts*NetSolid*wide*n.hi.Z.Metres(), n.hi.Z/2)
	}
}

// rimBehind is the top of the highest wall board, or of what else the walls are.
func (w *walk) rimBehind() measure.Length {
	rim := measure.Length(0)
	if len(w.Frame.Units)+len(w.Frame.Pours) > 0 {
		rim = w.Frame.Rim
	}
	for _, n := range w.nodes {
		if n.Course > 0 {
			rim = max(rim, n.hi.Z)
		}
	}
	return rim
}

// pulledOver is an upright that is pushed at some height above its lower end.
func (w *walk) pulledOver(i int, push, arm float64) {
	n := &w.nodes[i]
	var links []Link
	var at []float64
	all := 0.0
	for _, j := range w.Frame.Joints {
		x, ok := w.Fixed[j.ID]
		if !ok || j.Parts[0] != n.ID && j.Parts[1] != n.ID ||
			w.nodes[w.index[j.Parts[0]]].Kind == w.nodes[w.index[j.Parts[1]]].Kind {
			continue
		}
		s, count := w.heldBy(j, x), Holding(j, x)
		other := j.Parts[0]
		if other == n.ID {
			other = j.Parts[1]
		}
		h := s.Pull() * float64(count) * gustly
		links = append(
			links,
			Link{
				From:     n.ID,
				To:       other,
				Path:     Wind,
				Way:      Pulled,
				Holds:    h,
				Breaks:   h * pullsOut,
				Joint:    j.ID,
				Screws:   count,
				EndGrain: j.EndGrain,
			},
		)
		z := (j.At.Z - n.lo.Z).Metres()
		at, all = append(at, z), all+z*z
	}
	for k, l := range links {
		if all > 0 {
			l.Load = push * arm * at[k] / all
		}
		w.add(l)
	}
}

// hoops and arches: the wind against their net or leaf goes to what holds their feet.
func (w *walk) hoops() {
	for _, x := range w.Frame.Fittings {
		if len(x.Lines) == 0 && x.Kind != "panel" {
			continue
		}
		switch x.Kind {
		case "hoop":
			var long, rise measure.Length
			for i, line := range x.Lines {
				lo, hi := line[0].Z, line[0].Z
				for _, p := range line {
					lo, hi = min(lo, p.Z), max(hi, p.Z)
				}
				rise = max(rise, hi-lo)
				if i > 0 {
					long = max(long, line[0].X-x.Lines[i-1][0].X)
				}
			}
			w.hoopFoot(x.ID, HoopFoot(long, rise))
		case "panel":
			high := x.Each.Metres() / 3 // of half a circle on two legs
			load := Gusts * InLeaf * archWide * high
			w.add(
				Link{
					From:   x.ID,
					To:     "wire ties",
					Path:   Wind,
					Way:    Strapped,
					Load:   load,
					Holds:  4 * wireTie,
					Breaks: 8 * wireTie,
				},
			)
		}
	}
}

// hoopFoot is what holds the end of a hoop: straps on a board, or a pin two thirds in the soil.
func (w *walk) hoopFoot(id string, load float64) {
	pinned := slices.ContainsFunc(w.Frame.Fittings, func(x frame.Fitting) bool { return x.Kind == "pin" && x.Feet })
	if pinned {
		w.add(Link{From: id, To: "soil", Path: Wind, Way: InGround, Load: load, Holds: HoopPin.Most() / BriefFactor,
			Breaks: HoopPin.Most()})
		return
	}
	clip, err := w.Catalog.Fitting("clip")
	if err != nil {
		return
	}
	w.add(Link{From: id, To: "strap", Path: Wind, Way: Strapped, Load: load, Holds: Weight(clip.Load),
		Breaks: 2 * Weight(clip.Load)})
}

// HoopPin is a pin that a hoop's foot goes over: half an inch thick (12 mm) and 24 in (600 mm)
// long, three quarters of it in the soil.
var HoopPin = Pole{Wide: 12 * measure.Millimetre, Deep: 450 * measure.Millimetre}

// HoopFoot is the wind that comes to either foot of a hoop so far from the next, in N.
func HoopFoot(apart, rise measure.Length) float64 {
	return Gusts * InLeaf * apart.Metres() * rise.Metres() / 2
}

// archWide is a wire panel's width in m; wireTie what one tie of 14 gauge wire bears, N: 75
// lb (REFERENCE G8.2, 15 ksi).
const (
	archWide = 1.27
	wireTie  = 75 * 4.448_222
)

// overTurned is a planter on feet with wind against its walls and what stands on them, its
// soil dry: it tips about its feet. So does one with somebody on its rim.
func (w *walk) overTurned() {
	f := w.Frame
	if !f.OnFeet || len(w.nodes) == 0 {
		return
	}
	m := Weigh(f, w.Catalog)
	weight := Weight(m.Empty() + drySoil*m.Soil)
	first := true
	var feet, all [2]frame.Point
	for _, n := range w.nodes {
		if first {
			all, first = [2]frame.Point{n.lo, n.hi}, false
		}
		all[0].Y, all[1].Y, all[1].Z = min(all[0].Y, n.lo.Y), max(all[1].Y, n.hi.Y), max(all[1].Z, n.hi.Z)
		all[0].X, all[1].X = min(all[0].X, n.lo.X), max(all[1].X, n.hi.X)
	}
	first = true
	for i, n := range w.nodes {
		if !w.grounded(i) {
			continue
		}
		if first {
			feet, first = [2]frame.Point{n.lo, n.hi}, false
		}
		feet[0].Y, feet[1].Y = min(feet[0].Y, n.lo.Y), max(feet[1].Y, n.hi.Y)
	}
	half := (feet[1].Y - feet[0].Y).Metres() / 2
	long, rim := (all[1].X - all[0].X).Metres(), w.rimBehind()
	under := rim
	for _, n := range w.nodes {
		if n.Course > 0 {
			under = min(under, n.lo.Z)
		}
	}
	walls := Gusts * long * (rim - under).Metres()
	above := Gusts * InLeaf * long * (all[1].Z - rim).Metres()
	turning := walls*((rim+under)/2-w.floor).Metres() + above*((all[1].Z+rim)/2-w.floor).Metres()
	push := walls + above
	if turning <= 0 {
		return
	}
	holds := push * weight * half / turning
	w.add(
		Link{From: "wind", To: w.standsOn(), Path: Wind, Way: Tipping, Load: push, Holds: holds / Safe, Breaks: holds},
	)
	if over := (feet[0].Y - w.seatLine()).Metres(); over > 0 { // on the rim, past the feet
		holds := weight * half / over
		w.add(
			Link{
				From:   "a person on the rim",
				To:     w.standsOn(),
				Path:   Seated,
				Way:    Tipping,
				Load:   Seat,
				Holds:  holds / Safe,
				Breaks: holds,
			},
		)
	}
}

func (w *walk) standsOn() string {
	if w.On == "" {
		return "ground"
	}
	return string(w.On)
}

// byWeight checks what is laid or cast, for each metre of wall.
func (w *walk) byWeight() {
	fluid := Fluid(w.Frame)
	for _, s := range w.Frame.Stacks {
		g := Gravity{Base: s.Thick, Height: s.Soil, Density: s.Density, Fluid: fluid, Friction: OnGravel}
		got, h, b := g.Check(), s.Soil.Metres(), s.Thick.Metres()
		thrust := fluid * h * h / 2
		from := "wall"
		if len(s.Units) > 0 {
			from = s.Units[0]
		}
		w.add(
			Link{
				From:   from,
				To:     "ground",
				Path:   OnSide,
				Way:    ByWeight,
				Load:   thrust,
				Holds:  thrust * got.Sliding / Safe,
				Breaks: thrust * got.Sliding,
			},
		)
		w.add(
			Link{
				From:   from,
				To:     "ground",
				Path:   OnSide,
				Way:    Tipping,
				Load:   thrust,
				Holds:  thrust * got.Tipping / Safe,
				Breaks: thrust * got.Tipping,
			},
		)
		w.add(
			Link{
				From:   from,
				To:     "ground",
				Path:   OnSide,
				Way:    OnGround,
				Load:   min(got.Toe, 1e9) * b,
				Holds:  notSoft * b,
				Breaks: groundOver * notSoft * b,
			},
		)
		if tension := s.Bond.Tension(); tension > 0 {
			m, section := thrust*h/3, b*b/6
			holds := thrust * (tension + s.Density*gravity*h) / (m / section)
			w.add(
				Link{From: from, To: from, Path: OnSide, Way: Rooted, Load: thrust, Holds: holds, Breaks: 2.5 * holds},
			)
		}
	}
}
