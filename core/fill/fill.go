// Package fill reckons what a bed is filled with: what fits between the walls less what stands in
// it, layer by layer; how much looser each material must be ordered because it settles; and whether
// bags or a load in the drive is cheaper. Bagged soil usually costs several times as much by
// volume; a delivery fee evens that out for one small bed.
package fill

import (
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Way is one way to buy a material.
type Way struct {
	Fill     catalog.Fill
	Packs    int // bags, or steps of loose soil
	Bought   measure.Volume
	Loads    int // that it is delivered in
	Material money.Amount
	Delivery money.Amount // of all loads
}

// Cost returns what the way costs, delivery with it.
func (w Way) Cost() money.Amount { return w.Material + w.Delivery }

// Need is one material for all beds.
type Need struct {
	Material catalog.Material
	Settled  measure.Volume // in the beds, what is bought or owned of it
	Loses    int            // thousandths more that are placed, because it settles
	Order    measure.Volume // loose
	Owned    measure.Volume // of that, what is there already
	Mulch    measure.Volume // of that, what lies on the beds
	Paths    measure.Volume // and on the paths
	Ways     []Way          // none of what nobody sells: it is found
	Chosen   int            // index into Ways
	Cheapest int
}

// Way returns the way chosen; it has a fill without a name where nobody sells it.
func (n Need) Way() Way {
	if len(n.Ways) == 0 {
		return Way{}
	}
	return n.Ways[n.Chosen]
}

// Plan is the filling of a whole project.
type Plan struct {
	Gross    measure.Volume // between the walls
	Net      measure.Volume // less what stands in it: what is filled
	Found    measure.Volume // of that, what nobody buys: twigs below the soil
	Topsoil  measure.Volume // dug from the ground, settled as it lay
	Turf     measure.Volume // dug, as thick as it was cut: it settles to half
	Laid     []Laid         // layers, bed by bed, from the bottom
	Mulches  []Laid         // on top of them
	Needs    []Need         // materials, in the catalogue's order
	Forked   []Forked       // into the top layer
	Settling int            // thousandths added to what is sold as soil for beds
	Order    measure.Volume // of all that is bought or owned, loose
	Barrows  int
	WetMass  measure.Mass // of all that is filled, settled and wet
}

// Need is what of a material is needed, false for none.
func (p Plan) Need(material string) (Need, bool) {
	i := slices.IndexFunc(p.Needs, func(n Need) bool { return n.Material.ID == material })
	if i < 0 {
		return Need{}, false
	}
	return p.Needs[i], true
}

// Layered reports whether anything but one layer of soil is filled.
func (p Plan) Layered() bool {
	return slices.ContainsFunc(p.Laid, func(l Laid) bool {
		return !l.Top || len(l.Parts) > 1 || l.Parts[0].Material != catalog.Mixed
	}) || len(p.Needs) > 1
}

// Input is what the filling is reckoned from.
type Input struct {
	Frames  []frame.Frame
	Beds    []design.Bed // of the frames, in their order
	Catalog *catalog.Catalog
	Habits  catalog.Habits
	By      string         // how it comes: "cheaper", "bag" or "loose"
	Have    map[string]int // packs of a fill that are there already, by its ID
	// Topsoil and Turf are dug and may go in, as much as there is of them, as they lay.
	Topsoil, Turf measure.Volume
	Paths         measure.Volume                                     // wood chips on the paths
	Price         func(sku string, listed money.Amount) money.Amount // of a fill or its delivery in this shop
}

// Rules of filling (common practice).
const (
	// TurfSettles is into how many parts turf sinks that lies upside down below soil: half of its
	// thickness is left, a third to a half.
	TurfSettles = 2
	// MixLoses is what a mix has less room than its parts, thousandths: 5 to 15 % where coarse goes
	// with fine.
	MixLoses = 100
)

// Work reckons the filling of all cavities.
func Work(in Input) Plan {
	p := Plan{Settling: in.Habits.SettlingPerMille}
	for i := range in.Frames {
		f := &in.Frames[i]
		times := measure.Volume(f.Times)
		for _, c := range f.Cavities {
			p.Gross += c.Gross() * times
			p.Net += c.Net() * times
		}
		for _, x := range f.Found {
			if x.Below {
				p.Found += x.Volume * times
			}
		}
		p.Laid = append(p.Laid, lay(f, in.Beds[i], in.Catalog)...)
		if m, ok := mulch(f, in.Beds[i], in.Catalog); ok {
			p.Mulches = append(p.Mulches, m)
		}
	}
	p.Turf = min(in.Turf, TurfSettles*(p.Net-p.Found))
	p.under(p.Turf / TurfSettles)
	settled := map[string]measure.Volume{}
	for _, l := range p.Laid {
		for k, v := range l.shares() {
			settled[l.Parts[k].Material] += v
		}
	}
	for _, of := range []string{"topsoil", catalog.Mixed} { // what is dug stands in for what would be bought
		take := min(in.Topsoil-p.Topsoil, settled[of])
		p.Topsoil += take
		settled[of] -= take
	}
	mulch := map[string]measure.Volume{}
	for _, l := range p.Mulches {
		mulch[l.Parts[0].Material] += l.Volume
	}
	for _, m := range in.Catalog.Materials {
		paths := measure.Volume(0)
		if m.ID == "chips" {
			paths = in.Paths
		}
		if v := settled[m.ID] + mulch[m.ID] + paths; v > 0 {
			n := p.need(m, v, in)
			n.Mulch = measure.Volume(float64(n.Order) * float64(mulch[m.ID]) / float64(v))
			n.Paths = measure.Volume(float64(n.Order) * float64(paths) / float64(v))
			p.Needs = append(p.Needs, n)
		}
	}
	for _, n := range p.Needs {
		if len(n.Ways) > 0 {
			p.Order += n.Order
		}
	}
	p.Forked = boosts(in.Beds, in.Frames, in.Catalog)
	p.Barrows = ceil(p.Order, measure.CubicMetres(in.Catalog.BarrowLitres/1000))
	p.WetMass = p.weigh(in.Catalog)
	return p
}

// need is how a material is bought.
func (p Plan) need(m catalog.Material, settled measure.Volume, in Input) Need {
	n := Need{Material: m, Settled: settled}
	if m.ID == catalog.Mixed {
		n.Loses = p.Settling
		n.Order = settled.PerMille(1000 + int64(n.Loses))
	} else {
		n.Order = over(settled, 1000, 1000-m.Settles)
		n.Loses = m.Settles * 1000 / (1000 - m.Settles)
	}
	fills := in.Catalog.FillsOf(m.ID)
	for _, f := range fills {
		n.Owned += f.Pack * measure.Volume(in.Have[f.ID])
	}
	n.Owned = min(n.Owned, n.Order)
	for i, f := range fills {
		w := Way{Fill: f}
		if rest := n.Order - n.Owned; rest > 0 {
			w.Packs, w.Loads = ceil(max(rest, f.Least), f.Pack), 1
		}
		w.Bought = f.Pack * measure.Volume(w.Packs)
		if f.Most > 0 {
			w.Loads = ceil(w.Bought, f.Most)
		}
		w.Delivery = in.Price(f.ID+catalog.Delivery, f.Delivery).Times(w.Loads)
		w.Material = in.Price(f.ID, f.Price).Times(w.Packs)
		n.Ways = append(n.Ways, w)
		if best := n.Ways[n.Cheapest]; best.Fill.Absent && !f.Absent || best.Fill.Absent == f.Absent &&
			w.Cost() < best.Cost() {
			n.Cheapest = i
		}
	}
	n.Chosen = n.Cheapest
	for i, w := range n.Ways {
		if string(w.Fill.Kind) == in.By && !w.Fill.Absent {
			n.Chosen = i
			break
		}
	}
	return n
}

// Into is how much of a need goes into one bed, loose: of what is neither mulch nor on paths its share, by what lies
// settled in each. The shares of all beds are all of it.
func (p Plan) Into(bed string, n Need) measure.Volume {
	var all, before, upTo measure.Volume
	for _, l := range p.Laid {
		for k, v := range l.shares() {
			if l.Parts[k].Material != n.Material.ID {
				continue
			}
			all += v
			if l.Bed == bed {
				upTo = all
			} else if upTo == 0 {
				before = all
			}
		}
	}
	if upTo == 0 {
		return 0
	}
	order := float64(n.Order - n.Mulch - n.Paths)
	part := func(v measure.Volume) measure.Volume {
		return measure.Volume(math.Round(order * float64(v) / float64(all)))
	}
	return part(upTo) - part(before)
}

// Placed is how much goes into one bed, loose as it lies in the barrow: what is bought or owned, and what is dug or
// found as much as it fills.
func (p Plan) Placed(bed string) (v measure.Volume) {
	for _, l := range p.Laid {
		if l.Bed == bed {
			v += l.Volume.PerMille(1000+int64(p.Settling)) + l.Taken
		}
	}
	return v
}

// MassIn is what is filled into one bed, settled and wet.
func (p Plan) MassIn(bed string, cat *catalog.Catalog) (m measure.Mass) {
	mixed, _ := p.Density(catalog.Mixed, cat)
	for _, l := range p.Laid {
		if l.Bed == bed {
			m += p.MassOf(l, cat) + measure.Mass(l.Taken.CubicMetres()*mixed)
		}
	}
	return m
}

// over is so much as many times larger, rounded up to whole cubic millimetres.
func over(v measure.Volume, up, down int) measure.Volume {
	return (v*measure.Volume(up) + measure.Volume(down) - 1) / measure.Volume(down)
}

func ceil(v, step measure.Volume) int { return int((v + step - 1) / step) }

// Density is what a material weighs wet, kg/m³: as the way it comes says, or its kind.
func (p Plan) Density(material string, cat *catalog.Catalog) (float64, string) {
	if n, ok := p.Need(material); ok && len(n.Ways) > 0 {
		return n.Way().Fill.WetDensity, n.Way().Fill.Source
	}
	for _, f := range cat.FillsOf(material) {
		return f.WetDensity, f.Source
	}
	m, _ := cat.Material(material)
	return m.Wet, m.Source
}

// weigh is what all that is filled weighs wet: by its layers, what is dug or found as soil.
func (p Plan) weigh(cat *catalog.Catalog) measure.Mass {
	var kg float64
	for _, w := range p.weighed(cat) {
		kg += w.volume.CubicMetres() * w.density
	}
	return measure.Mass(kg)
}

// heavy is so much of something of a density.
type heavy struct {
	name    string
	volume  measure.Volume
	density float64
	source  string
}

// weighed is what is in the beds, by material; what was found and dug weighs as the soil does that
// is bought.
func (p Plan) weighed(cat *catalog.Catalog) []heavy {
	var list []heavy
	room := map[string]measure.Volume{}
	rest := p.Net
	for _, l := range p.Laid {
		for k, v := range l.parted() {
			room[l.Parts[k].Material] += v
			rest -= v
		}
	}
	room[catalog.Mixed] += rest // twigs, turf
	for _, l := range p.Mulches {
		room[l.Parts[0].Material] += l.Volume
	}
	for _, m := range cat.Materials {
		if v := room[m.ID]; v > 0 {
			d, source := p.Density(m.ID, cat)
			list = append(list, heavy{m.Name, v, d, source})
		}
	}
	return list
}

// MassOf is what one layer weighs wet.
func (p Plan) MassOf(l Laid, cat *catalog.Catalog) measure.Mass {
	var kg float64
	for k, v := range l.parted() {
		d, _ := p.Density(l.Parts[k].Material, cat)
		kg += v.CubicMetres() * d
	}
	return measure.Mass(kg)
}

// OwnedOf is how much of one layer is there already, of what is there of its materials its share.
func (p Plan) OwnedOf(l Laid) (v measure.Volume) {
	for k, part := range l.parted() {
		if n, ok := p.Need(l.Parts[k].Material); ok && n.Order > 0 {
			v += measure.Volume(float64(part) * float64(n.Owned) / float64(n.Order))
		}
	}
	return v
}

// Cheapest is the way so much of a material costs least, false where nobody sells it.
func Cheapest(material string, v measure.Volume, cat *catalog.Catalog,
	price func(sku string, listed money.Amount) money.Amount) (Way, bool) {
	var p Plan
	m, err := cat.Material(material)
	if err != nil {
		return Way{}, false
	}
	n := p.need(m, v, Input{Catalog: cat, Price: price})
	if len(n.Ways) == 0 {
		return Way{}, false
	}
	return n.Ways[n.Cheapest], true
}
