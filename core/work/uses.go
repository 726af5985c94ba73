package work

import (
	"fmt"
	"slices"

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
			if x.Count > 0 {
				s.Have = append(s.Have, fmt.Sprintf("%d of %s", x.Count, ft.Name))
			} else {
				s.Have = append(s.Have, ft.Name)
			}
		}
		if fx, ok := w.Fixings.ByJoint[x.ID]; ok {
			s.use(Use{Item: fx.Fixing.ID, Count: fx.Count * f.Times})
			s.Have = append(s.Have, fmt.Sprintf("%d of %s", fx.Count, fx.Fixing.Name))
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
		}
	}
	if a.Verb == frame.FixCap {
		for _, b := range f.Beads {
			s.use(Use{Item: w.Laying.Glue.ID, Length: b.Length * measure.Length(f.Times)})
		}
	}
	switch a.Of {
	case "drains":
		for _, d := range f.Drains {
			s.use(Use{Item: "stone", Volume: d.Volume * n})
		}
	case "cores":
		for _, c := range f.Cores {
			s.use(Use{Item: "stone", Volume: c.Volume * n})
		}
	case "mix":
		for _, p := range f.Pours {
			for kind, v := range laying.Poured(p) {
				s.use(Use{Item: string(kind), Volume: v * n})
			}
		}
	}
	w.fits(s, f, a.Fits)
}

// sheeted is what a cover takes of its roll, and the staples that hold it.
func (w *writer) sheeted(s *Step, c ground.Cover, times int) {
	s.use(Use{Item: c.Roll.ID, Length: c.Total})
	if id, n := w.Fixings.Stapled(c.Sheet, times); n > 0 {
		s.use(Use{Item: id, Count: n})
	}
}
