// Package laying counts what is laid: blocks and bricks by kind, those that are
// cut and what they are cut from, mortar for the joints, glue under the caps, and
// the base below it all: stone that loses a fifth of its volume under the
// compactor, and a dry screed of six sand to one cement.
package laying

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Count is one unit of the shop, and all that is made of it.
type Count struct {
	Unit  catalog.Unit
	Kinds []Kind
	Laid  int          // places in the walls, pieces of units among them
	Cut   int          // whole units that are cut up
	Part  int          // pieces that come out of those
	Left  int          // longer than a quarter of the unit, that they leave
	Lugs  int          // whose lugs come off
	Spare int          // one in twenty, less those that broke
	Broke int          // that stand in for no place in a wall any more
	Have  int          // that are there already and are laid first
	Buy   int          // with the spares, less what is there
	Mass  measure.Mass // of those that are bought
	Cost  money.Amount
}

// Kind is how many of a unit are laid in one way.
type Kind struct {
	Name  frame.UnitKind
	Count int
	Cut   measure.Length // they are cut to; 0 for whole ones
	Angle float64        // of the cut, degrees from square
}

// Words says how many of a kind, and what is cut off: "4 × cut, to 240 mm".
func (k Kind) Words(pr measure.Precision) string {
	words := fmt.Sprintf("%d × %s", k.Count, k.Name)
	switch {
	case k.Cut > 0 && k.Name == frame.CutUnit:
		words += " to " + pr.Short(k.Cut)
	case k.Cut > 0:
		words += ", cut to " + pr.Short(k.Cut)
	}
	if k.Angle != 0 {
		words += fmt.Sprintf(", mitred at %s° from square", strconv.FormatFloat(math.Round(10*k.Angle)/10, 'f', -1, 64))
	}
	return words
}

// Heap is something that comes by the pack, and what it is for.
type Heap struct {
	Loose  catalog.Loose
	Volume measure.Volume // in place
	Mass   measure.Mass
	Have   int // packs that are there already
	Packs  int // to buy
	Cost   money.Amount
	For    []why.Step // what it is for, with how much that takes
}

// Plan is the masonry of a project.
type Plan struct {
	Units  []Count
	Heaps  []Heap
	Bead   measure.Length // of glue
	Tubes  int
	Glue   catalog.Fitting
	Dug    measure.Volume // out of the trench
	Trench measure.Length // along its middle
	Hire   *catalog.Fitting
	Rubble measure.Volume // in cast walls
	Mix    measure.Volume // that is made for them
	Batch  measure.Volume // that is mixed at a time
	Daily  int            // so many times a day
	Left   measure.Volume // of mix from the last bag
	Bricks int            // that makes
}

// Batches is how often is mixed.
func (p Plan) Batches() int {
	if p.Batch == 0 {
		return 0
	}
	return int((p.Mix + p.Batch - 1) / p.Batch)
}

// Days is how many days' pours there are: each but the last ends at a day joint.
func (p Plan) Days() int {
	if p.Daily == 0 {
		return 0
	}
	return (p.Batches() + p.Daily - 1) / p.Daily
}

// Rules of the trade (common practice).
const (
	// spareEach is one unit more for so many: corners break, cuts go wrong.
	spareEach = 20
	// loosened is the volume of loose stone or dry mix to that compacted, in tenths.
	loosened = 12
	// mortarFactor is the mortar that is mixed to what the joints hold, in tenths:
	// 100 blocks take 6 to 8.5 cubic feet where a full bed holds 3.9.
	mortarFactor = 16
	// spilt is the mix to what is cast, in hundredths.
	spilt = 105
	// dried is cement and sand, loose and dry, to the mix they make, in hundredths
	// (REFERENCE 5: 1.33, common practice).
	dried = 133
	// A screed of six dry sand to one cement.
	sandParts, cementParts = 6, 1
	// sawKerf is what a masonry blade takes.
	sawKerf = 3 * measure.Millimetre
)

// Work counts the units of all frames. price is what something costs in this shop,
// by its ID.
func Work(
	frames []frame.Frame,
	cat *catalog.Catalog,
	price func(id string, listed money.Amount) money.Amount,
) (Plan, error) {
	p := Plan{}
	if err := p.units(frames, cat, price); err != nil {
		return Plan{}, err
	}
	if err := p.pours(frames, cat, price); err != nil {
		return Plan{}, err
	}
	if len(p.Units) == 0 && p.Batch == 0 {
		return p, nil
	}
	for _, f := range frames {
		for _, b := range f.Beads {
			p.Bead += b.Length * measure.Length(f.Times)
		}
	}
	if p.Bead > 0 {
		glue, err := cat.Fitting("adhesive")
		if err != nil {
			return Plan{}, fmt.Errorf("laying: %w", err)
		}
		p.Glue, p.Tubes = glue, int((p.Bead+glue.Each-1)/glue.Each)
	}
	return p, p.base(frames, cat, price)
}

func (p *Plan) units(frames []frame.Frame, cat *catalog.Catalog, price func(string, money.Amount) money.Amount) error {
	var joints []bedded
	for _, f := range frames {
		for _, u := range f.Units {
			i := slices.IndexFunc(p.Units, func(c Count) bool { return c.Unit.ID == u.SKU })
			if i < 0 {
				unit, err := cat.Unit(u.SKU)
				if err != nil {
					return fmt.Errorf("laying: %w", err)
				}
				i = len(p.Units)
				p.Units = append(p.Units, Count{Unit: unit})
			}
			c := &p.Units[i]
			c.Laid += f.Times
			if u.Lugs {
				c.Lugs += f.Times
			}
			k := slices.IndexFunc(
				c.Kinds,
				func(k Kind) bool { return k.Name == u.Kind && k.Cut == u.Cut && k.Angle == u.Angle },
			)
			if k < 0 {
				k = len(c.Kinds)
				c.Kinds = append(c.Kinds, Kind{Name: u.Kind, Cut: u.Cut, Angle: u.Angle})
			}
			c.Kinds[k].Count += f.Times
			if Mortar(c.Unit, u) > 0 {
				joints = count(joints, c.Unit, f.Times)
			}
		}
	}
	for i := range p.Units {
		c := &p.Units[i]
		whole := c.cutUp()
		c.Buy = whole + c.Cut
		c.Spare = (c.Buy + spareEach - 1) / spareEach
		c.Buy += c.Spare
		c.Mass = measure.Mass(c.Unit.Mass * float64(c.Buy))
		c.Cost = price(c.Unit.ID, c.Unit.Price).Times(c.Buy)
	}
	for _, j := range joints {
		if err := p.heap(cat, price, catalog.Mortar, j.volume(), j.step()); err != nil {
			return err
		}
	}
	return nil
}

// bedded is how many of a unit lie in mortar.
type bedded struct {
	unit catalog.Unit
	n    int
}

func count(list []bedded, u catalog.Unit, n int) []bedded {
	for i := range list {
		if list[i].unit.ID == u.ID {
			list[i].n += n
			return list
		}
	}
	return append(list, bedded{u, n})
}

func (j bedded) volume() measure.Volume {
	return jointed(j.unit) * mortarFactor / 10 * measure.Volume(j.n)
}

// step is how the mortar of so many comes about: the face of a unit with its joints less
// the face without them, as deep as it is.
func (j bedded) step() why.Step {
	u := j.unit
	round := why.Less(
		why.Times(why.Long(u.Module()), why.Long(u.Course())),
		why.Times(why.Long(u.Length), why.Long(u.Height)))
	return why.Step{
		Name: "joints on a full bed, and six tenths more for cores, webs and what is dropped",
		Of:   why.Times(why.Count(j.n), round, why.Long(u.Depth), why.Of(why.Number, mortarFactor/10.)),
		As:   why.Volume,
	}
}

// pours adds the mix of cast walls: what their rubble leaves, and a twentieth for
// what is spilt; from bags, or as cement and sand.
func (p *Plan) pours(frames []frame.Frame, cat *catalog.Catalog, price func(string, money.Amount) money.Amount) error {
	for _, f := range frames {
		for _, c := range f.Pours {
			n := measure.Volume(f.Times)
			p.Rubble += c.Volume * n / 1000 * measure.Volume(c.Rubble)
			p.Mix += mixOf(c) * n
			bag, err := cat.LooseOf(catalog.Mortar)
			if err != nil {
				return fmt.Errorf("laying: %w", err)
			}
			p.Batch = max(p.Batch, bag.Volume*measure.Volume(c.Batch))
			if p.Daily == 0 || c.Daily < p.Daily {
				p.Daily = c.Daily
			}
			of := Poured(c)
			for _, kind := range slices.Sorted(maps.Keys(of)) {
				if err := p.heap(cat, price, kind, of[kind]*n, poured(c, f.Times, kind)); err != nil {
					return err
				}
			}
			if h := p.heapOf(catalog.Mortar); c.Sand == 0 && h != nil {
				p.Left = h.Loose.Volume*measure.Volume(h.Packs) - h.Volume
			}
		}
	}
	if bricks := cat.UnitsOf(catalog.Brick); len(bricks) > 0 {
		p.Bricks = int(p.Left / measure.Over(bricks[0].Length, bricks[0].Depth).By(bricks[0].Height))
	}
	return nil
}

func (p *Plan) heapOf(kind catalog.LooseKind) *Heap {
	i := slices.IndexFunc(p.Heaps, func(h Heap) bool { return h.Loose.Kind == kind })
	if i < 0 {
		return nil
	}
	return &p.Heaps[i]
}

// mixOf is what is mixed for a cast wall.
func mixOf(c frame.Pour) measure.Volume {
	return (c.Volume - c.Volume/1000*measure.Volume(c.Rubble)) / 100 * spilt
}

// poured is how what cast walls take of a kind comes about.
func poured(c frame.Pour, times int, kind catalog.LooseKind) why.Step {
	s := why.Step{Name: "the cast wall less its rubble, and a twentieth more for what is spilt", As: why.Volume}
	terms := []why.Term{why.Count(times), why.Room(c.Volume),
		why.Of(why.Number, 1-float64(c.Rubble)/1000), why.Of(why.Number, spilt/100.)}
	if c.Sand > 0 {
		s.Name += fmt.Sprintf("; one cement to %d sand, which are a third more before they are mixed", c.Sand)
		terms = append(terms, why.Of(why.Number, dried/100.))
		if kind == catalog.Sand {
			terms = append(terms, why.Count(c.Sand))
		}
		s.Of = why.Over(why.Times(terms...), why.Count(c.Sand+1))
		return s
	}
	s.Of = why.Times(terms...)
	return s
}

// Mortar is what is mixed for the joints of a unit as it is laid.
func Mortar(u catalog.Unit, as frame.Unit) measure.Volume {
	if u.Joint == 0 || as.Kind == frame.CapUnit || as.Dry {
		return 0
	}
	return jointed(u) * mortarFactor / 10
}

// Screed is the loose sand and cement of a base's screed.
func Screed(b frame.Base) (sand, cement measure.Volume) {
	v := b.Seat.By(b.Screed) * loosened / 10
	if b.Sand {
		return v, 0
	}
	parts := measure.Volume(sandParts + cementParts)
	return v * sandParts / parts, v * cementParts / parts
}

// Poured is what a cast wall takes, by kind: its mix, or the cement and sand that make it.
func Poured(c frame.Pour) map[catalog.LooseKind]measure.Volume {
	if c.Sand == 0 {
		return map[catalog.LooseKind]measure.Volume{catalog.Mortar: mixOf(c)}
	}
	part := mixOf(c) / 100 * dried / measure.Volume(c.Sand+1)
	return map[catalog.LooseKind]measure.Volume{catalog.Cement: part, catalog.Sand: part * measure.Volume(c.Sand)}
}

// jointed is the mortar round one unit: a bed joint and an upright one.
func jointed(u catalog.Unit) measure.Volume {
	return (measure.Over(u.Module(), u.Course()) - measure.Over(u.Length, u.Height)).By(u.Depth)
}

// cutUp counts whole units that are laid as they are, and in Cut those that are cut: as
// few as yield all square pieces, and one for each slanting cut. A unit that is split in two
// gives both halves: a chisel takes nothing with it, where a saw takes its kerf.
func (c *Count) cutUp() (whole int) {
	r := cutting.Request{
		Kerf:   sawKerf,
		Effort: 10_000_000,
		Stock: []cutting.Stock{
			{ID: c.Unit.ID, Profile: c.Unit.ID, Length: c.Unit.Length, Price: 1, Quantity: cutting.Unlimited},
		},
	}
	for _, k := range c.Kinds {
		if k.Cut == 0 {
			whole += k.Count
			continue
		}
		c.Part += k.Count
		length := k.Cut
		if c.Split(k) { // so that two and a kerf fill a unit
			length -= sawKerf / 2
		}
		if k.Angle != 0 || length <= sawKerf {
			c.Cut += k.Count
			continue
		}
		r.Pieces = append(
			r.Pieces,
			cutting.Piece{ID: string(k.Name) + k.Cut.String(), Profile: c.Unit.ID, Length: length, Quantity: k.Count},
		)
	}
	if len(r.Pieces) == 0 {
		return whole
	}
	a, err := cutting.Solve(r)
	if err != nil { // more than the cutter takes: each its own unit
		for _, q := range r.Pieces {
			c.Cut += q.Quantity
		}
		return whole
	}
	c.Cut += a.Count()
	for _, b := range a.Boards {
		if 4*b.Offcut > c.Unit.Length {
			c.Left += b.Count
		}
	}
	for _, u := range a.Unmet {
		c.Cut += u.Quantity
	}
	return whole
}

// Words say how the number to buy came about.
func (c *Count) Words() string {
	why := fmt.Sprintf("%d laid whole", c.Laid-c.Part)
	if c.Cut > 0 {
		why += fmt.Sprintf(", %d cut up for %s", c.Cut, measure.Count(c.Part, "piece"))
	}
	if c.Broke > 0 {
		why += fmt.Sprintf(", %d broken", c.Broke)
	}
	why += fmt.Sprintf(", %d spare", c.Spare)
	if c.Have > 0 {
		why += fmt.Sprintf(", %d of all these yours", c.Have)
	}
	return why
}

// Split reports whether pieces of a kind are halves, which one blow parts.
func (c *Count) Split(k Kind) bool {
	return k.Angle == 0 && k.Cut > 0 && 2*k.Cut <= c.Unit.Length && 2*k.Cut+sawKerf > c.Unit.Length
}

// Use counts what is there already, by the shop's numbers, before anything is bought, and what broke: the spares stand
// in for that first.
func (p *Plan) Use(have, broken map[string]int, price func(id string, listed money.Amount) money.Amount) {
	for i := range p.Units {
		c := &p.Units[i]
		if c.Broke = broken[c.Unit.ID]; c.Broke > 0 {
			c.Buy += c.Broke - min(c.Spare, c.Broke)
			c.Spare = max(0, c.Spare-c.Broke)
		}
		if need := c.Buy - c.Spare; have[c.Unit.ID] >= need { // none is bought to be spare alone
			c.Spare = min(c.Spare, have[c.Unit.ID]-need)
			c.Buy = need + c.Spare
		}
		c.Have = min(have[c.Unit.ID], c.Buy)
		c.Buy -= c.Have
		c.Cost = price(c.Unit.ID, c.Unit.Price).Times(c.Buy)
	}
	for i := range p.Heaps {
		h := &p.Heaps[i]
		h.Have = min(have[h.Loose.ID], h.Packs)
		h.Packs -= h.Have
		h.Cost = price(h.Loose.ID, h.Loose.Price).Times(h.Packs)
	}
}

// base adds the trench and what goes into it.
func (p *Plan) base(frames []frame.Frame, cat *catalog.Catalog, price func(string, money.Amount) money.Amount) error {
	for _, f := range frames {
		n := measure.Volume(f.Times)
		for _, b := range f.Bases {
			p.Dug += b.Area.By(b.Stone+b.Screed+b.Buried) * n
			p.Trench += b.Line * measure.Length(f.Times)
			if b.Stone > 0 && p.Hire == nil {
				hire, err := cat.Fitting("compactor")
				if err != nil {
					return fmt.Errorf("laying: %w", err)
				}
				p.Hire = &hire
			}
		}
		for _, l := range layers(f) {
			l.step.Of = why.Times(why.Count(f.Times), l.step.Of)
			if err := p.heap(cat, price, l.kind, l.v*n, l.step); err != nil {
				return err
			}
		}
	}
	return nil
}

// layer is something loose that a frame needs in one place, and how much.
type layer struct {
	kind catalog.LooseKind
	v    measure.Volume
	step why.Step
}

// layers are what a frame takes below and behind its walls.
func layers(f frame.Frame) []layer {
	var list []layer
	add := func(kind catalog.LooseKind, name string, v measure.Volume, of why.Term) {
		if v > 0 {
			list = append(list, layer{kind, v, why.Step{Name: name, Of: of, As: why.Volume}})
		}
	}
	parts := measure.Volume(sandParts + cementParts)
	looser := why.Of(why.Number, loosened/10.)
	for _, b := range f.Bases {
		add(catalog.BaseStone, "compacted in the trench, corners counted once", b.Area.By(b.Stone),
			why.Times(b.Reckoned(), why.Long(b.Stone)))
		screed := why.Times(why.Face(b.Seat).Called("under the units"), why.Long(b.Screed), looser)
		sand, cement := Screed(b)
		if b.Sand {
			add(catalog.Sand, "under the first course, struck off level", sand, screed)
			continue
		}
		of := func(n int) why.Term { return why.Over(why.Times(screed, why.Count(n)), why.Count(int(parts))) }
		const dry = "a dry screed of six sand to one cement under the first course"
		add(catalog.Sand, dry, sand, of(sandParts))
		add(catalog.Cement, dry, cement, of(cementParts))
	}
	for _, d := range f.Drains {
		add(catalog.DrainStone, "behind the walls, course by course, so that water runs off", d.Volume, why.Room(d.Volume))
	}
	for _, c := range f.Cores {
		add(catalog.DrainStone, "in the cores of the blocks", c.Volume, why.Room(c.Volume))
	}
	return list
}

// heap adds packs of a kind that hold so much in place.
func (p *Plan) heap(
	cat *catalog.Catalog,
	price func(string, money.Amount) money.Amount,
	kind catalog.LooseKind,
	v measure.Volume,
	of why.Step,
) error {
	l, err := cat.LooseOf(kind)
	if err != nil {
		return fmt.Errorf("laying: %w", err)
	}
	i := slices.IndexFunc(p.Heaps, func(h Heap) bool { return h.Loose.ID == l.ID })
	if i < 0 {
		i = len(p.Heaps)
		p.Heaps = append(p.Heaps, Heap{Loose: l})
	}
	h := &p.Heaps[i] // it comes in whole packs once
	h.For = append(h.For, of)
	h.Volume += v
	v = h.Volume
	h.Mass = measure.Mass(v.CubicMetres() * l.Density)
	if kind == catalog.Mortar {
		h.Packs = int((v + l.Volume - 1) / l.Volume)
		h.Mass = measure.Mass(l.Mass * float64(h.Packs))
	} else {
		h.Packs = int(float64(h.Mass)/l.Mass + 1 - 1e-9)
	}
	h.Cost = price(l.ID, l.Price).Times(h.Packs)
	return nil
}
