package work

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/laying"
	"chamfer/core/measure"
)

// Use is what a step takes of something that is bought or owned: so many, so much of it
// along, or so much by volume. Item is the shop's number of it, of what is loose its kind.
type Use struct {
	Item   string
	Count  int
	Length measure.Length
	Volume measure.Volume
}

// use adds to what a step takes.
func (s *Step) use(u Use) {
	i := slices.IndexFunc(s.Uses, func(o Use) bool { return o.Item == u.Item })
	if i < 0 {
		s.Uses = append(s.Uses, u)
		return
	}
	s.Uses[i].Count += u.Count
	s.Uses[i].Length += u.Length
	s.Uses[i].Volume += u.Volume
}

// fits takes the fittings of an act.
func (w *writer) fits(s *Step, f *frame.Frame, ids []string) {
	for _, x := range f.Fittings {
		if !slices.Contains(ids, x.ID) {
			continue
		}
		if ft, err := w.Catalog.Fitting(x.Kind); err == nil {
			n := max(1, x.Count)
			s.use(
				Use{
					Item:   ft.ID,
					Count:  x.Count * f.Times,
					Length: x.Each * measure.Length(n*f.Times),
					Volume: measure.Volume(x.Milli * f.Times),
				},
			)
			s.chore("fitting", float64(x.Count*f.Times))
			if x.Each > 0 {
				s.chore("line", x.Each.Metres()*float64(n*f.Times))
			}
			if x.Count > 0 {
				s.Have = append(s.Have, fmt.Sprintf("%d of %s", x.Count, ft.Name))
			} else {
				s.Have = append(s.Have, ft.Name)
			}
		}
		if fx, ok := w.Fixings.ByJoint[x.ID]; ok {
			s.use(Use{Item: fx.Fixing.ID, Count: fx.Count * f.Times})
			s.Have = append(s.Have, fmt.Sprintf("%d of %s", fx.Count, fx.Fixing.Name))
			s.driver(fx.Fixing, fx.Count*f.Times)
		}
	}
}

// based is what a bed's base takes.
func (w *writer) based(s *Step, f *frame.Frame, b frame.Base) {
	n := measure.Volume(f.Times)
	if v := b.Area.By(b.Stone) * n; v > 0 {
		s.use(Use{Item: "base", Volume: v})
		if w.Laying.Hire != nil && !w.hired {
			s.use(Use{Item: w.Laying.Hire.ID, Count: 1})
			w.hired = true
		}
	}
	sand, cement := laying.Screed(b)
	s.use(Use{Item: "sand", Volume: sand * n})
	s.Digs = true
	s.chore(w.digging(), b.Area.By(b.Stone+b.Screed+b.Buried).CubicMetres()*float64(n))
	if b.Stone+b.Screed > 0 {
		s.chore("base", b.Area.SquareMetres()*float64(n))
	}
	s.use(Use{Item: "cement", Volume: cement * n})
}

// laidUses is what an act of laying takes: units, the mortar of their joints, beads.
func (w *writer) laidUses(s *Step, f *frame.Frame, a frame.Act) {
	n := measure.Volume(f.Times)
	for _, u := range f.Units {
		if !slices.Contains(a.Parts, u.ID) {
			continue
		}
		s.use(Use{Item: u.SKU, Count: f.Times})
		if unit, err := w.Catalog.Unit(u.SKU); err == nil {
			s.use(Use{Item: "mortar", Volume: laying.Mortar(unit, u) * n})
			s.chore(layingOf(unit, u, f), float64(n))
			if laying.Mortar(unit, u) > 0 {
				s.weather(NoFrost)
			}
		}
	}
	if a.Verb == frame.FixCap {
		for _, b := range f.Beads {
			s.use(Use{Item: w.Laying.Glue.ID, Length: b.Length * measure.Length(f.Times)})
			s.weather(NoRain)
		}
	}
	here := func(i int) bool { return a.Level == 0 || i+1 == a.Level } // of a slope, what is of this level
	switch kindOf(&a) {
	case "drains":
		for i, d := range f.Drains {
			if !here(i) {
				continue
			}
			s.use(Use{Item: "stone", Volume: d.Volume * n})
			s.chore("stone", (d.Volume * n).CubicMetres())
		}
	case "cores":
		for _, c := range f.Cores {
			s.use(Use{Item: "stone", Volume: c.Volume * n})
			s.chore("stone", (c.Volume * n).CubicMetres())
		}
	case "mix":
		for i, p := range f.Pours {
			if !here(i) {
				continue
			}
			for kind, v := range laying.Poured(p) {
				s.use(Use{Item: string(kind), Volume: v * n})
			}
			s.weather(NoFrost)
		}
	}
	if kindOf(&a) == "mix" && len(f.Pours) > 0 {
		part := w.share(f, here)
		s.chore("mix", float64(w.Laying.Batches()*max(1, f.Pours[0].Batch))*part)
		days := w.Laying.Days()
		if a.Level > 0 && w.Laying.Daily > 0 {
			days = int(math.Ceil(float64(w.Laying.Batches()) * part / float64(w.Laying.Daily)))
		}
		if days > 1 {
			s.Rounds, s.Between = days, Waits()["day-joint"]
		}
	}
	for i, p := range f.Pours {
		if !here(i) {
			continue
		}
		switch kindOf(&a) {
		case "form":
			s.chore("form", p.FormLength.Metres()*float64(n))
		case "strips":
			s.chore("strip", p.FormLength.Metres()*float64(n))
		}
	}
	w.fits(s, f, a.Fits)
}

// kindOf is what kind of thing an act of laying is done to: "wall" of "wall 2".
func kindOf(a *frame.Act) string {
	kind, _, _ := strings.Cut(a.Of, " ")
	return kind
}

// share is how much of all that is cast goes into the walls of one bed that are asked for.
func (w *writer) share(f *frame.Frame, here func(int) bool) float64 {
	var all, own float64
	for _, o := range w.Frames {
		for i, p := range o.Pours {
			v := p.Volume.CubicMetres() * float64(o.Times)
			if all += v; o.Bed == f.Bed && here(i) {
				own += v
			}
		}
	}
	if all == 0 {
		return 0
	}
	return own / all
}

// small is what a unit weighs in kg that is laid as bricks are (common practice).
const small = 5

// layingOf is the kind of work it is to lay a unit.
func layingOf(unit catalog.Unit, u frame.Unit, f *frame.Frame) string {
	switch mortar := laying.Mortar(unit, u) > 0; {
	case u.Kind == frame.CapUnit:
		return "cap"
	case mortar && unit.Mass < small:
		return "brick"
	case mortar:
		return "block"
	case u.Course <= 1+f.Steps:
		return "first"
	}
	return "unit"
}

// weather adds to what weather a step wants.
func (s *Step) weather(x Weather) {
	if !slices.Contains(s.Weather, x) {
		s.Weather = append(s.Weather, x)
	}
}

// driver puts what a fixing is driven with beside the step, and how long that takes.
func (s *Step) driver(fx catalog.Fixing, n int) {
	tool, rate := "drill or impact driver, with a bit for the screws", "drive"
	switch fx.Kind {
	case catalog.Lag:
		tool, rate = "socket wrench for the bolts' heads", "drive-lag"
	case catalog.Pocket:
		tool = "drill or impact driver, with a long bit for pocket screws"
	case catalog.Nail:
		tool, rate = "hammer", "staple"
	case catalog.Staple:
		tool, rate = "stapler", "staple"
	}
	if !slices.Contains(s.Have, tool) {
		s.Have = append(s.Have, tool)
	}
	s.chore(rate, float64(n))
}

// holes is the digging and driving of what an act sets into the ground.
func (s *Step) holes(f *frame.Frame, a frame.Act) {
	const usual = 762 * measure.Millimetre // deep, of the hole the rate is for: 30 in
	if a.Verb == frame.Drive {
		for _, p := range f.Parts {
			if p.Ends[0] == frame.Pointed {
				s.chore("stake", float64(f.Times))
			}
		}
	}
	for _, id := range a.Parts {
		p, ok := f.Part(id)
		if !ok {
			continue
		}
		lo, _ := p.Body.Bounds()
		switch {
		case lo.Z >= 0 || p.Ends[0] == frame.Pointed: // stakes are driven in an act of their own
		default:
			s.Digs = true
			s.chore("hole", float64(f.Times)*max(0.25, float64(-lo.Z)/float64(usual)))
		}
	}
}

// digging is the kind of work it is to dig the plot's ground.
func (w *writer) digging() string { return "dig-" + ground.EarthOf(w.Earth).ID }

// sheeted is what a cover takes of its roll, and the staples that hold it.
func (w *writer) sheeted(s *Step, c ground.Cover, times int) {
	// Where a strip goes on from another roll, the lap is cloth as well.
	s.use(Use{Item: c.Roll.ID, Length: c.Total + c.Roll.Lap*measure.Length(c.Joints)})
	s.chore("sheet", c.Area.SquareMetres())
	if id, n := w.Fixings.Stapled(c.Sheet, times); n > 0 {
		s.use(Use{Item: id, Count: n})
		s.chore("staple", float64(n))
	}
}
