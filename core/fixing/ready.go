package fixing

import (
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Ready is ready-made fittings of one kind, and what for.
type Ready struct {
	Fitting catalog.Fitting
	Count   int            // pieces, or lengths to buy
	Run     measure.Length // in all, where it is sold by length
	Packs   int
	Why     []string
	whole   int // pieces or lengths, but for those
	milli   int // thousandths, of what is poured or spread
}

// stapleEvery is along a sheet's edge: 125 to 150 mm or 5 to 6 in (common
// practice).
const stapleEvery = 140 * measure.Millimetre

// staples hold sheets to the walls.
func (p *Plan) staples(frames []frame.Frame, cat *catalog.Catalog) {
	i := slices.IndexFunc(cat.Fixings, func(f catalog.Fixing) bool { return f.Kind == catalog.Staple })
	if i < 0 {
		return
	}
	need := Need{Fixing: cat.Fixings[i]}
	for _, f := range frames {
		for _, s := range f.Sheets {
			if s.Stapled == 0 {
				continue
			}
			need.Count += stapled(s) * f.Times
			u := slices.IndexFunc(need.Uses, func(u Use) bool { return u.Each == stapled(s) })
			if u < 0 {
				u = len(need.Uses)
				need.Uses = append(need.Uses, Use{Kind: "sheet to wall", Each: stapled(s),
					Rule: "along the edge every 5 to 6 in (125 to 150 mm)"})
			}
			need.Uses[u].Joints += f.Times
		}
	}
	if need.Count > 0 {
		p.Needs = append(p.Needs, need)
	}
}

// stapled is how many staples hold a sheet.
func stapled(s frame.Sheet) int { return int((s.Stapled + stapleEvery - 1) / stapleEvery) }

// Stapled is the staple that holds a sheet, put in so many times, and how many of it.
func (p Plan) Stapled(s frame.Sheet, times int) (id string, n int) {
	for _, need := range p.Needs {
		if need.Fixing.Kind == catalog.Staple && s.Stapled > 0 {
			return need.Fixing.ID, stapled(s) * times
		}
	}
	return "", 0
}

// Washer is the washer that goes under a lag's head, if the plan has one for it.
func (p Plan) Washer(f catalog.Fixing) string {
	if f.Kind != catalog.Lag {
		return ""
	}
	for _, n := range p.Needs {
		if n.Fixing.Kind == catalog.Washer && n.Fixing.Diameter == f.Diameter {
			return n.Fixing.ID
		}
	}
	return ""
}

// ready counts what is bought ready-made. Things sold by length are cut one
// after the other; a hoop or a panel comes out of one length.
func (p *Plan) ready(frames []frame.Frame, cat *catalog.Catalog) {
	for _, f := range frames {
		for _, x := range f.Fittings {
			p.fit(x, f.Name, f.Times, cat)
		}
	}
	p.packed()
}

// Also counts fittings that belong to no bed.
func (p *Plan) Also(list []frame.Fitting, cat *catalog.Catalog) {
	if len(list) == 0 {
		return
	}
	p.Ready = slices.Clone(p.Ready)
	for _, x := range list {
		p.fit(x, "", 1, cat)
	}
	p.packed()
}

// fit counts one kind of fitting of a bed that is built so many times.
func (p *Plan) fit(x frame.Fitting, bed string, times int, cat *catalog.Catalog) {
	ft, err := cat.Fitting(x.Kind)
	if err != nil {
		p.Missing = append(p.Missing, x.ID)
		return
	}
	i := slices.IndexFunc(p.Ready, func(r Ready) bool { return r.Fitting.ID == ft.ID })
	if i < 0 {
		i = len(p.Ready)
		p.Ready = append(p.Ready, Ready{Fitting: ft})
	}
	r := &p.Ready[i]
	n := x.Count * times
	r.milli += x.Milli * times
	r.Run += x.Each * measure.Length(n)
	if x.Screws > 0 {
		p.holdOn(x, times, cat)
	}
	switch {
	case x.Each == 0:
		r.whole += n
	case x.Each > ft.Each: // one run over several lengths: wire, string
		r.whole += int((x.Each+ft.Each-1)/ft.Each) * n
	default:
		per := int(ft.Each / x.Each)
		r.whole += (n + per - 1) / per
	}
	said := x.Place + ", " + x.Why
	if bed != "" {
		said = bed + ": " + said
	}
	r.Why = append(slices.Clip(r.Why), said)
}

// packed counts packs, of all beds together.
func (p *Plan) packed() {
	for i := range p.Ready {
		r := &p.Ready[i]
		r.Count = r.whole + (r.milli+999)/1000
		r.Packs = (r.Count + r.Fitting.Pack - 1) / r.Fitting.Pack
	}
}

// plateThick is the plate of a fitting that screws go through: an eighth of an inch (common
// practice).
const plateThick = 3 * measure.Millimetre

// softest is the specific gravity that pilots for fittings are drilled by: the lightest wood
// needs the thinnest.
const softest = 0.35

// holdOn chooses the screws that hold a fitting on.
func (p *Plan) holdOn(x frame.Fitting, times int, cat *catalog.Catalog) {
	j := frame.Joint{ID: x.ID, Kind: frame.PlateOn, Through: plateThick, Into: x.Into}
	s, ok := screw(j, cat)
	if !ok {
		p.Missing = append(p.Missing, x.ID)
		return
	}
	fx := Fixed{Fixing: s, Pilot: pilot(s, softest, cat), Count: x.Screws}
	p.ByJoint[x.ID] = Fixed{Fixing: s, Pilot: fx.Pilot, Count: x.Screws * x.Count}
	p.add(j, fx, x.Count*times)
}
