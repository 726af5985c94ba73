package plan

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"chamfer/core/aside"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/laying"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/review"
)

// Prospect is a bed that could be built: what it plants, what it costs, how long it lasts.
type Prospect struct {
	System        design.System
	Edits         []design.Edit // from the bed in hand to it
	Length, Width measure.Length
	Soil          measure.Length
	Of            string // what it is built of, where that was sought too
	Area          measure.Area
	Total         money.Amount
	Bought        money.Amount // before tax, of the boards or blocks of its walls that are not there yet
	Years         [2]int
	Buys          []string // of a pile: what has to be bought besides
	Left          []string // and what is left of it
}

// Prospects are the beds that were found, the best first, and what was tried.
type Prospects struct {
	List    []Prospect // the best of each system and what it is built of
	Free    []Prospect // of a pile: those for which nothing at all is bought
	Next    []Prospect // of a pile: larger ones, for which some of the walls has to be bought
	Front   []Prospect // those that nothing which was tried plants as much for less than, the smallest first
	Tried   int
	Refused int // of those, that cannot be built
	Unfit   int // that can be built, and that a finding stops
	Stopped bool
	Nearest bool   // sizes were brought as near as they go
	Over    string // what was tried, in words
}

// Most is what a budget shall buy the most of.
type Most string

// What can be asked for.
const (
	MostArea  Most = "area"
	MostDepth Most = "depth"
	MostYears Most = "years"
)

// Mosts are all of them.
var Mosts = []design.Choice{{Value: string(MostArea), Label: "the most planting"},
	{Value: string(MostDepth), Label: "the deepest soil"}, {Value: string(MostYears), Label: "the longest life"}}

// size is one that is tried.
type size struct{ length, width, soil measure.Length }

// built is one way that a bed is built: a system, and what of.
type built struct {
	system design.System
	edits  []design.Edit
	of     string
	wall   string // the boards or blocks of a pile that its walls are of
}

// Sizes that are tried: every foot (300 mm) of length from two feet to sixteen, by the bed's own width and three more.
func (p *Plan) sizes(bed design.Bed, soils ...measure.Length) (list []size) {
	foot := p.Shop.Catalog.Told(measure.Foot, 300*measure.Millimetre)
	widths := []measure.Length{bed.Width}
	for n := measure.Length(2); n <= 4; n++ {
		if w := n * foot; w != bed.Width {
			widths = append(widths, w)
		}
	}
	for _, w := range widths {
		for n := measure.Length(2); n <= 16; n++ {
			if l := n * foot; l >= w || w == bed.Width {
				for _, s := range soils {
					list = append(list, size{l, w, s})
				}
			}
		}
	}
	return list
}

// sizesInWords says what [Plan.sizes] are.
func (p *Plan) sizesInWords() string {
	if p.Shop.Catalog.System == measure.Metric {
		return "every 300 mm of length from 600 to 4800 mm by this bed's width and 600, 900 and 1200 mm, or the nearest" +
			" that is built"
	}
	return "every foot of length from 2 to 16 ft by this bed's width and 2, 3 and 4 ft, or the nearest that is built"
}

// Within seeks the bed of most planting, soil or years that a sum pays for, over all systems: of planting over many
// sizes, as deep as the bed in hand; of soil over depths, as large as it; of years over the timbers that are sold, as
// large and as deep. It stops, with what was found, when ctx is done.
func (p *Plan) Within(ctx context.Context, bedID string, sum money.Amount, most Most) (Prospects, error) {
	alone := p.alone(bedID)
	bed, err := alone.Bed(bedID)
	if err != nil {
		return Prospects{}, err
	}
	var ways []built
	for _, s := range design.Systems() {
		way := built{system: s, edits: []design.Edit{{Bed: bedID, Field: "system", Value: s.Name}}}
		if most != MostYears {
			ways = append(ways, way)
			continue
		}
		d, err := design.Apply(alone, p.Shop.Catalog, way.edits...)
		if err != nil {
			continue
		}
		b, err := d.Bed(bedID)
		if err != nil {
			continue
		}
		f, ok := design.FieldOf(*b, "species")
		if !ok || s.Of != "" {
			ways = append(ways, way)
			continue
		}
		for _, c := range f.Choices(p.Shop.Catalog, *b) {
			ways = append(ways, built{system: s, of: c.Label, edits: append(slices.Clone(way.edits),
				design.Edit{Bed: bedID, Field: "species", Value: c.Value})})
		}
	}
	sizes, over := p.sizes(*bed, bed.Soil), p.sizesInWords()+", as deep as this one"
	better := func(a, b Prospect) int { return cmp.Compare(b.Area, a.Area) }
	switch most {
	case MostDepth:
		sizes = nil
		over = "this bed's length and width with every 2 in of soil from 4 to 36 in"
		if p.Shop.Catalog.System == measure.Metric {
			over = "this bed's length and width with every 50 mm of soil from 100 to 900 mm"
		}
		step := p.Shop.Catalog.Told(2*measure.Inch, 50*measure.Millimetre)
		for n := measure.Length(2); n <= 18; n++ {
			sizes = append(sizes, size{bed.Length, bed.Width, n * step})
		}
		better = func(a, b Prospect) int { return cmp.Compare(b.Soil, a.Soil) }
	case MostYears:
		sizes = []size{{bed.Length, bed.Width, bed.Soil}}
		over = "this bed's size in every timber that is sold for it"
		better = func(a, b Prospect) int { return cmp.Compare(b.Years[0]+b.Years[1], a.Years[0]+a.Years[1]) }
	}
	return p.seek(ctx, bedID, ways, sizes, over, func(f Prospect) bool { return f.Total <= sum }, better)
}

// OfPile seeks the largest bed whose walls are built of boards or blocks that are there, and of no others: over the
// systems that take them, all boards, timbers and blocks of the pile, many sizes, and soil as deep as the bed in hand
// or
// two thirds or one third of that; walls over a floor inside them also lower and without it. What else it takes is
// bought, and told. Next are larger ones for which some of the
// walls has to be bought, the cheapest of each system.
func (p *Plan) OfPile(ctx context.Context, bedID string) (Prospects, error) {
	alone := p.alone(bedID)
	bed, err := alone.Bed(bedID)
	if err != nil {
		return Prospects{}, err
	}
	var ways []built
	for _, s := range design.Systems() {
		d, err := design.Apply(alone, p.Shop.Catalog, design.Edit{Bed: bedID, Field: "system", Value: s.Name})
		if err != nil {
			continue
		}
		b, err := d.Bed(bedID)
		if err != nil {
			continue
		}
		offers := func(key, value string) bool {
			f, ok := design.FieldOf(*b, key)
			ok = ok && slices.ContainsFunc(design.FieldsOf(*b), func(o design.Field) bool { return o.Key == key })
			return ok && slices.ContainsFunc(f.Choices(p.Shop.Catalog, *b),
				func(c design.Choice) bool { return c.Value == value })
		}
		add := func(wall, of string, pairs ...string) {
			w := built{system: s, of: of, wall: wall}
			if offers("cap", string(design.NoCap)) {
				pairs = append(pairs, "cap", string(design.NoCap))
			}
			w.edits = []design.Edit{{Bed: bedID, Field: "system", Value: s.Name}}
			for i := 0; i < len(pairs); i += 2 {
				w.edits = append(w.edits, design.Edit{Bed: bedID, Field: pairs[i], Value: pairs[i+1]})
			}
			if !slices.ContainsFunc(ways, func(o built) bool { return slices.Equal(o.edits, w.edits) }) {
				ways = append(ways, w)
			}
		}
		for _, l := range p.Shop.Shed {
			if l.Quantity > 0 && offers("board", l.Profile) {
				name := l.Profile
				if x, err := p.Shop.Catalog.Profile(l.Profile); err == nil {
					name = x.Name
				}
				if x, err := p.Shop.Catalog.SpeciesOf(l.Species); err == nil {
					name += ", " + lower(x.Name)
				}
				add(l.Profile, name, "species", l.Species, "board", l.Profile)
				for _, lower := range p.lowered(*b, l.Profile) {
					add(l.Profile, name, append([]string{"species", l.Species, "board", l.Profile}, lower...)...)
				}
			}
		}
		for _, u := range p.Shop.Catalog.Units {
			if p.Design.Have[u.ID] > 0 && offers("unit", u.ID) {
				add(u.ID, u.Name, "unit", u.ID)
			}
		}
	}
	soils := []measure.Length{bed.Soil, bed.Soil * 2 / 3, bed.Soil / 3}
	return p.seek(ctx, bedID, ways, p.sizes(*bed, soils...),
		p.sizesInWords()+", as deep as this one, two thirds and one third of that, without a cap; walls that may be higher"+
			" than their soil, also one to six boards high",
		func(f Prospect) bool { return f.Bought == 0 }, func(a, b Prospect) int {
			return cmp.Or(cmp.Compare(b.Area, a.Area), cmp.Compare(b.Soil, a.Soil))
		})
}

// lowered are decisions by which walls whose height is a decision of their own, over a floor inside them, are so many
// boards high, down to the ground and without that floor: fields and their values in turn.
func (p *Plan) lowered(b design.Bed, board string) (list [][]string) {
	const highest = 6
	x, err := p.Shop.Catalog.Profile(board)
	floors, rims := design.Serves(b, design.FloorsInside), design.Serves(b, design.SetsRim)
	if err != nil || len(floors) == 0 || len(rims) == 0 {
		return nil
	}
	var pairs []string
	for _, c := range floors[0].Choices(p.Shop.Catalog, b) {
		if c.Value != floors[0].Value {
			pairs = []string{floors[0].Key, c.Value}
		}
	}
	for n := range measure.Length(highest) {
		list = append(list, append(slices.Clone(pairs), rims[0].Key, ((n+1)*x.Width).String()))
	}
	return list
}

// seek tries ways and sizes, and lists the best of each way that is good, of as good ones the cheapest; the front of
// all; and, larger than the largest that is good, the ones of each system that want least of their walls bought.
func (p *Plan) seek(ctx context.Context, bedID string, ways []built, sizes []size, over string,
	good func(Prospect) bool, better func(a, b Prospect) int) (out Prospects, err error) {
	alone := p.alone(bedID)
	plain := design.New(p.Shop.Catalog, "").Beds[0].System // takes any size
	out.Over = over
	type trial struct {
		way     built
		found   *Prospect
		refused bool
		stopped bool
	}
	list := make([]trial, len(ways)*len(sizes))
	for i, fault := range tried(ctx, len(list), func(i int) {
		t := &list[i]
		t.way = ways[i/len(sizes)]
		if t.stopped = ctx.Err() != nil; t.stopped {
			return
		}
		s := sizes[i%len(sizes)]
		f := Prospect{System: t.way.system, Of: t.way.of}
		// The sizes are said of boards, which take any; the system then builds what is nearest.
		f.Edits = append([]design.Edit{{Bed: bedID, Field: "system", Value: plain},
			{Bed: bedID, Field: "length", Value: s.length.String()}, {Bed: bedID, Field: "width", Value: s.width.String()},
			{Bed: bedID, Field: "soil", Value: s.soil.String()}}, t.way.edits...)
		d, err := design.Apply(alone, p.Shop.Catalog, f.Edits...)
		if err != nil {
			t.refused = true
			return
		}
		then, err := reckon(ctx, d, p.Shop, nil)
		if err != nil || len(then.Bill.Without) > 0 {
			t.refused, t.stopped = ctx.Err() == nil, ctx.Err() != nil
			return
		}
		f.Area, f.Total = then.Area(), then.Bill.Total
		f.Length, f.Width, f.Soil = d.Beds[0].Length, d.Beds[0].Width, d.Beds[0].Soil
		f.Years[0], f.Years[1] = then.Life()
		for _, line := range then.Bill.Lines {
			if t.way.wall != "" && !line.Owned && (line.SKU == t.way.wall || strings.HasPrefix(line.SKU, t.way.wall+"/")) {
				f.Bought += line.Amount
			}
		}
		t.found = &f
	}) {
		if fault != nil {
			list[i].refused, list[i].found = true, nil
		}
	}
	looked := map[string]bool{}
	ofPile := slices.ContainsFunc(ways, func(w built) bool { return w.wall != "" })
	byGood := func(a, b Prospect) int { return cmp.Or(better(a, b), cmp.Compare(a.Total, b.Total)) }
	out.Tried = len(list)
	var all []Prospect
	for _, t := range list {
		switch {
		case t.refused:
			out.Refused++
		case t.stopped:
			out.Stopped, out.Tried = true, out.Tried-1
		case t.found != nil:
			all = append(all, *t.found)
		}
	}
	// What is told is looked at: what may not be built is left out, and the next best stands in for it.
	for {
		out.List, out.Free, out.Next = nil, nil, nil
		for _, f := range all {
			if good(f) {
				out.List = put(out.List, f, byGood)
			}
		}
		slices.SortStableFunc(out.List, byGood)
		for _, f := range all {
			if ofPile && f.Total == 0 {
				out.Free = put(out.Free, f, byGood)
			}
		}
		slices.SortStableFunc(out.Free, byGood)
		for _, f := range all {
			if !good(f) && (len(out.List) == 0 || better(f, out.List[0]) < 0) {
				out.Next = put(out.Next, f, func(a, b Prospect) int { return cmp.Compare(a.Bought, b.Bought) })
			}
		}
		slices.SortStableFunc(out.Next, func(a, b Prospect) int { return cmp.Compare(a.Bought, b.Bought) })
		out.Front = front(all)
		told := slices.Concat(out.List, out.Front)
		if ofPile {
			told = slices.Concat(told, out.Free, out.Next)
		}
		unfit := p.stopped(context.WithoutCancel(ctx), alone, told, looked) // what is told is looked at, stopped or not
		if len(unfit) == 0 {
			if ofPile {
				for _, list := range [][]Prospect{out.List, out.Free, out.Next} {
					p.ofThePile(context.WithoutCancel(ctx), alone, list)
				}
			}
			return out, nil
		}
		out.Unfit += len(unfit)
		all = slices.DeleteFunc(all, func(f Prospect) bool { return unfit[f.key()] })
	}
}

// ofThePile tells of each bed of a list what has to be bought besides, and what is left of what is there.
func (p *Plan) ofThePile(ctx context.Context, alone design.Design, list []Prospect) {
	aside.Do(len(list), func(i int) {
		d, err := design.Apply(alone, p.Shop.Catalog, list[i].Edits...)
		if err != nil {
			return
		}
		then, err := MakeFor(ctx, d, p.Shop.asked())
		if err != nil {
			return
		}
		for _, l := range then.Bill.Lines {
			if !l.Owned {
				list[i].Buys = append(list[i].Buys, cost.Packs(l.Quantity, l.Unit)+" of "+l.Item)
			}
		}
		list[i].Left = then.leftOfPile()
	})
}

// leftOfPile is what of what is there a plan does not use: boards of the shed, blocks, screws, packs.
func (p *Plan) leftOfPile() (list []string) {
	opened := map[string]int{}
	for _, c := range p.Cuts {
		for _, b := range c.Answer.Boards {
			opened[b.Stock.ID] += b.Count
		}
	}
	for _, l := range p.Shop.Shed {
		if n := l.Quantity - opened[fmt.Sprintf("%s%d", ShedStock, l.ID)]; n > 0 {
			name := l.Profile
			if x, err := p.Shop.Catalog.Profile(l.Profile); err == nil {
				name = x.Name
			}
			list = append(list, fmt.Sprintf("%d × %s of %s", n, name, p.Shop.sizeOf(l)))
		}
	}
	balance := p.Balance()
	filled := map[string]measure.Volume{} // of each material that is there, what is filled in
	for _, n := range p.Fill.Needs {
		filled[n.Material.ID] = n.Owned
	}
	for _, f := range p.Shop.Catalog.Fills {
		if there := f.Pack * measure.Volume(p.Design.Have[f.ID]); there > 0 {
			took := min(there, filled[f.Of])
			if filled[f.Of] -= took; there > took {
				list = append(list, p.Shop.Catalog.System.Volume(there-took)+" of "+lower(f.Name))
			}
		}
	}
	for _, id := range slices.Sorted(maps.Keys(p.Design.Have)) {
		i := slices.IndexFunc(balance, func(b Balanced) bool { return b.Item == id })
		switch {
		case p.Shop.Catalog.IsFill(id):
		case i < 0:
			list = append(list, fmt.Sprintf("%d × %s", p.Design.Have[id], p.HaveName(id)))
		case balance[i].Owned > 0 && balance[i].Bought == 0 && balance[i].Left > 0:
			list = append(list, balance[i].Words(p, balance[i].Left)+" of "+lower(balance[i].Name))
		}
		if x := p.laidOf(id); x.Have > 0 && p.Design.Have[id] > x.Have {
			list = append(list, fmt.Sprintf("%d × %s", p.Design.Have[id]-x.Have, x.Unit.Name))
		}
	}
	return list
}

// laidOf is how many of a unit are laid; none of anything else.
func (p *Plan) laidOf(id string) laying.Count {
	for _, c := range p.Laying.Units {
		if c.Unit.ID == id {
			return c
		}
	}
	return laying.Count{}
}

// HaveName is what something is called that there are so many of.
func (p *Plan) HaveName(id string) string {
	for _, f := range p.Shop.Catalog.Fixings {
		if f.ID == id {
			return f.Name
		}
	}
	if w, ok := p.Shop.Catalog.Ware(id); ok {
		return w.Name
	}
	return id
}

// key tells prospects apart.
func (f Prospect) key() string {
	return fmt.Sprint(f.System.Name, f.Of, f.Length, f.Width, f.Soil, f.Total)
}

// stopped are those of a list that a finding stops, by their keys; looked remembers those that were looked at.
func (p *Plan) stopped(ctx context.Context, alone design.Design, list []Prospect,
	looked map[string]bool) map[string]bool {
	var todo []Prospect
	for _, f := range list {
		if _, done := looked[f.key()]; !done {
			looked[f.key()] = false
			todo = append(todo, f)
		}
	}
	stops := make([]bool, len(todo))
	for i, fault := range aside.Do(len(todo), func(i int) {
		d, err := design.Apply(alone, p.Shop.Catalog, todo[i].Edits...)
		if err != nil {
			stops[i] = true
			return
		}
		then, err := MakeFor(ctx, d, p.Shop.asked())
		stops[i] = err != nil || slices.ContainsFunc(then.Findings, func(f review.Finding) bool {
			return f.Severity == review.Stop
		})
	}) {
		stops[i] = stops[i] || fault != nil
	}
	unfit := map[string]bool{}
	for i, f := range todo {
		if stops[i] {
			looked[f.key()], unfit[f.key()] = true, true
		}
	}
	return unfit
}

// put keeps the best of each system and what it is built of.
func put(list []Prospect, f Prospect, better func(a, b Prospect) int) []Prospect {
	for i, o := range list {
		if o.System.Name == f.System.Name && o.Of == f.Of {
			if better(f, o) < 0 {
				list[i] = f
			}
			return list
		}
	}
	return append(list, f)
}

// front are those that none plants as much for less than, or more for as much.
func front(all []Prospect) (list []Prospect) {
	sorted := slices.Clone(all)
	slices.SortStableFunc(sorted, func(a, b Prospect) int {
		return cmp.Or(cmp.Compare(a.Total, b.Total), cmp.Compare(b.Area, a.Area))
	})
	for _, f := range sorted {
		if n := len(list); n == 0 || f.Area > list[n-1].Area {
			list = append(list, f)
		}
	}
	return list
}

// Claim says what was tried, and what was not.
func (f Prospects) Claim() string {
	text := fmt.Sprintf("%d beds were tried, of which %d can be built: %s.", f.Tried, f.Tried-f.Refused-f.Unfit, f.Over)
	if !f.Nearest {
		text += " Nothing between was tried."
	}
	if f.Stopped {
		text += " It was stopped before all were."
	}
	return text
}
