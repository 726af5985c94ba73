package work

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// soil fills the beds, each in a step of its own, waters them and lets them settle.
func (w *writer) soil() {
	if w.Fill.Order == 0 && w.Fill.Net == 0 {
		return
	}
	w.soilBrought()
	before := len(w.steps)
	for i := range w.Frames {
		w.fillBed(&w.Frames[i])
	}
	if len(w.steps) == before { // it is all for paths
		return
	}
	do := []string{"Water until it runs out below, wait a few days, and top up."}
	if slices.ContainsFunc(w.Frames, func(f frame.Frame) bool { return len(f.Cavities) > 0 && !potted(&f) }) {
		do[0] += " Look at the walls once the soil is wet: a side that moves now will not stop by itself."
	}
	if deep, v := w.Fill.Sinks(1); v > 0 {
		do = append(do, fmt.Sprintf("The filler rots: next spring the surface is down by up to %s. Top it up with %s of"+
			" compost then, and a little less every spring after.", w.p.Short(deep), w.sys.Volume(v)))
	}
	s := Step{ID: "settle", Phase: Sink, Title: "Water it and let it settle", Have: []string{"hose with a rose"}, Do: do}
	for _, f := range w.Frames {
		if len(f.Cavities) > 0 {
			s.chore("water", float64(f.Times))
		}
	}
	w.add(s)
	w.feed()
}

// soilBrought is the step of what comes loose or in bags.
func (w *writer) soilBrought() {
	s := Step{ID: "soil", Phase: Ready, Title: "Have the soil brought", Cautions: []Caution{lift},
		Have: []string{"the shopping list"}}
	loose := false
	for _, n := range w.Fill.Needs {
		if len(n.Ways) == 0 || n.Way().Packs == 0 {
			continue
		}
		way := n.Way()
		words := w.heap(n)
		if n.Owned > 0 { // what is there needs no bringing
			words, _, _ = strings.Cut(words, ", beside")
		}
		if way.Loads > 1 {
			words += ", in " + measure.Count(way.Loads, "load")
		}
		s.chore("receive", float64(max(1, way.Loads)))
		loose = loose || way.Fill.Kind != catalog.Bag
		s.Do = append(s.Do, strings.ToUpper(words[:1])+words[1:]+".")
	}
	if len(s.Do) == 0 {
		return
	}
	if loose {
		s.Have = append(s.Have, "sheeting to tip it on")
		s.Do = append(s.Do, "Have it tipped as near as a lorry gets and clear of the way to the beds, on sheeting; cover it:"+
			" what is rained on weighs half as much again.")
	} else {
		s.Title = "Bring the bags of soil"
		s.Do = append(s.Do, "Set them down beside the beds; what lies in the rain weighs half as much again.")
	}
	w.add(s)
}

// fillBed fills one bed; what carries another ring first, in a step of its own.
func (w *writer) fillBed(f *frame.Frame) {
	of := ""
	if len(w.Frames) > 1 {
		of = ": " + f.Name
	}
	if f.Times > 1 {
		of += fmt.Sprintf(", %d times", f.Times)
	}
	filling := w.fillings(f)
	if len(filling) == 0 {
		return
	}
	var all float64
	for _, c := range f.Cavities {
		all += c.Net().CubicMetres()
	}
	left := map[string]measure.Volume{}
	for n, level := range filling {
		var part float64
		s := Step{ID: f.Bed + ".fill", Was: "fill", Bed: f.Bed, Phase: Tip,
			Title: "Fill with soil" + of, Cautions: []Caution{lift}}
		if w.Decks {
			s.Cautions = append(s.Cautions, deck)
		}
		last := n == len(filling)-1
		for _, c := range level {
			s.Fills = append(s.Fills, c.ID)
			part += c.Net().CubicMetres()
		}
		if len(filling) > 1 {
			s.ID += fmt.Sprintf(".%d", n+1)
			s.Title = fmt.Sprintf("Fill part %d of %d with soil%s", n+1, len(filling), of)
			if n < len(f.Levels) {
				s.Title = fmt.Sprintf("Fill with soil%s: %s", of, f.Levels[n].Name)
			}
		}
		for _, need := range w.Fill.Needs {
			v := w.Fill.Into(f.Bed, need)
			take := v - left[need.Material.ID]
			if !last {
				take = measure.Volume(float64(v) * part / all)
			}
			left[need.Material.ID] += take
			w.filled(&s, f, need, take, len(filling) == 1)
		}
		if len(s.Have) == 0 && w.Fill.Topsoil == 0 && w.Fill.Turf == 0 {
			continue
		}
		s.shovelled(w.Fill.Placed(f.Bed).CubicMetres()*part/all, w.Catalog)
		w.fillWords(&s, f, n, len(filling))
		w.add(s)
	}
}

// filled puts so much of a material into a bed.
func (w *writer) filled(s *Step, f *frame.Frame, need fill.Need, v measure.Volume, whole bool) {
	if v <= 0 {
		return
	}
	alone := whole && v == need.Order-need.Mulch-need.Paths && need.Mulch+need.Paths == 0
	if alone {
		s.Have = append(s.Have, w.heap(need))
	} else {
		s.Have = append(s.Have, w.sys.Volume(v)+" of "+strings.ToLower(need.Material.Name))
	}
	if len(need.Ways) > 0 {
		s.use(Use{Item: need.Way().Fill.ID, Volume: v})
	}
}

// shovelled is the work of so many cubic metres in a heap that go somewhere by barrow.
func (s *Step) shovelled(v float64, cat *catalog.Catalog) {
	s.chore("fill", v)
	s.chore("barrow", v*1000/cat.BarrowLitres)
}

// fillWords says how the soil goes in.
func (w *writer) fillWords(s *Step, f *frame.Frame, n, of int) {
	if w.Fill.Topsoil > 0 {
		s.Have = append(s.Have, "its share of the "+w.sys.Volume(w.Fill.Topsoil)+" of topsoil that was dug")
	}
	s.Have = append(s.Have, "wheelbarrow", "rake")
	if w.Fill.Turf > 0 && n == 0 {
		s.Do = append(s.Do, "Lay the turf upside down on the bottom, close together.")
	}
	if w.Fill.Layered() {
		s.Title = strings.Replace(s.Title, "Fill with soil", "Fill, layer by layer", 1)
		s.Have = append(s.Have, "hose with a rose")
		s.Do = append(s.Do, w.layers(f.Bed)...)
		s.Do = append(s.Do, "Water every layer until it is wet through before the next goes on: dry filler sinks"+
			" later. Fork each layer a hand deep into the one below: layers that lie apart feed nothing.")
	} else {
		barrows := 0.0
		for _, c := range s.Chores {
			if c.Rate.Key == "barrow" {
				barrows = c.N
			}
		}
		how := "Fill in layers a hand deep, treading lightly along the walls."
		if potted(f) {
			how = "Fill every pot in layers a hand deep, pressed down at its edge, to two fingers below the rim."
		}
		s.Do = append(s.Do, fmt.Sprintf("%s It takes about %s.", how,
			measure.Count(int(math.Ceil(barrows-1e-6)), "barrow-load")))
		if need, ok := w.Fill.Need(catalog.Mixed); ok && n+1 == of {
			order := w.Fill.Into(f.Bed, need)
			s.Do = append(s.Do, fmt.Sprintf("Heap it a little: it settles by %d %% over the first season, and %s is"+
				" ordered for that.", need.Loses*100/(1000+need.Loses),
				w.sys.Volume(order-measure.Volume(float64(order)*1000/float64(1000+need.Loses)))))
		}
	}
	if n+1 < of && len(f.Levels) == 0 {
		s.Do = append(s.Do, "Wet it and tread it firm, a hand's depth at a time: a wall stands on it. Strike it off level at"+
			" the last.")
	}
	for _, a := range f.Acts {
		if a.Verb == frame.Fill {
			s.Do = append(s.Do, a.Note)
		}
	}
	if _, ok := w.Fill.Need("manure"); ok {
		s.Do = append(s.Do, "Manure and hay may carry weed-killer that spoils beans and tomatoes for years: sow"+
			" beans in a pot of it three weeks before, and see them grow.")
	}
	if n+1 == of {
		wet := fmt.Sprintf("Wet, it weighs about %s.", w.sys.Mass(w.Fill.MassIn(f.Bed, w.Catalog)))
		if w.On[f.Bed] == design.OnDeck || f.OnFeet { // what is on feet may stand on one tomorrow
			wet += " On a deck, a roof or a balcony that is a question for someone licensed to answer it, and local codes" +
				" come first."
		}
		s.Do = append(s.Do, wet)
	}
}

// potted reports whether all soil of a bed is in pots.
func potted(f *frame.Frame) bool {
	return len(f.Cavities) > 0 && !slices.ContainsFunc(f.Cavities, func(c frame.Cavity) bool { return !c.Pot })
}

// feed forks in what feeds the soil.
func (w *writer) feed() {
	s := Step{ID: "feed", Phase: Sink, Title: "Fork in what feeds the soil", Have: []string{"fork", "gloves"}}
	for _, f := range w.Fill.Forked {
		s.use(Use{Item: f.Of.ID, Count: f.Amount})
		s.Have = append(s.Have, f.Words(w.sys)+" of "+f.Of.Name)
		s.Do = append(s.Do, fmt.Sprintf("Strew %s of %s evenly over %s and fork it into the top hand's depth, a week"+
			" or two before planting. Gloves, and no breathing of its dust.", f.Words(w.sys), strings.ToLower(f.Of.Name[:1])+
			f.Of.Name[1:], strings.Join(f.Beds, ", ")))
		if f.Of.ID == "lime" {
			s.Do = append(s.Do, "Lime and manure not together: what feeds goes off as gas. Leave weeks between"+
				" them, and test the soil first.")
		}
	}
	if len(s.Do) == 0 {
		return
	}
	var area measure.Area
	for _, f := range w.Frames {
		area += f.PlantingArea() * measure.Area(f.Times)
	}
	s.chore("feed", area.SquareMetres())
	w.add(s)
}

// heap is what lies ready of a material.
func (w *writer) heap(n fill.Need) string {
	if len(n.Ways) == 0 {
		return fmt.Sprintf("%s of %s, found", w.sys.Volume(n.Order), strings.ToLower(n.Material.Name))
	}
	way := n.Way()
	heap := fmt.Sprintf("%s of %s", w.sys.Volume(way.Bought), way.Fill.Name)
	if way.Fill.Kind == catalog.Bag {
		heap = measure.Count(way.Packs, "bag") + " of " + way.Fill.Name
	}
	if n.Owned == n.Order {
		if n.Material.ID == catalog.Mixed {
			return "the soil that is there"
		}
		return "the " + strings.ToLower(n.Material.Name) + " that is there"
	}
	if n.Owned > 0 {
		heap += ", beside the " + w.sys.Volume(n.Owned) + " that are there"
	}
	return heap
}

// layers says what goes into a bed from the bottom.
func (w *writer) layers(bed string) (list []string) {
	for i := 0; i < len(w.Fill.Laid); {
		if w.Fill.Laid[i].Bed != bed {
			i++
			continue
		}
		n := i
		var words []string
		for n < len(w.Fill.Laid) && w.Fill.Laid[n].Bed == w.Fill.Laid[i].Bed {
			l := w.Fill.Laid[n]
			words = append(words, fmt.Sprintf("%s, %s deep once settled (%s)", l.Words, w.p.Short(l.Depth),
				w.sys.Volume(l.Volume)))
			n++
		}
		list = append(list, fmt.Sprintf("From the bottom: %s.", strings.Join(words, "; then ")))
		i = n
	}
	return list
}

// cover lays mulch on the beds, and chips on the paths.
func (w *writer) cover() {
	if len(w.Fill.Mulches) > 0 {
		s := Step{ID: "mulch", Phase: Cover, Title: "Mulch", Have: []string{"rake"}}
		for _, n := range w.Fill.Needs {
			s.chore("fill", n.Mulch.CubicMetres())
			if n.Mulch > 0 && len(n.Ways) > 0 {
				s.use(Use{Item: n.Way().Fill.ID, Volume: n.Mulch})
				s.Have = append(s.Have, w.sys.Volume(n.Mulch)+" of "+strings.ToLower(n.Material.Name))
			}
		}
		for _, l := range w.Fill.Mulches {
			s.Do = append(s.Do, fmt.Sprintf("%s: %s of %s, once what is sown stands; a hand's width off stems.", l.Name,
				w.p.Short(l.Depth), l.Words))
		}
		w.add(s)
	}
	if w.Ground.Paths == 0 {
		return
	}
	s := Step{ID: "paths", Phase: Cover, Title: "Cover the paths",
		Sheet: "paths", Have: []string{"knife", "rake", "barrow"}}
	for _, x := range w.Edging {
		w.fits(&s, &frame.Frame{Fittings: w.Edging, Times: 1}, []string{x.ID})
		if x.Each > 0 {
			s.Have = append(s.Have, "spade", "mallet")
			s.Do = append(s.Do, fmt.Sprintf("Cut a slot with the spade along the string, and set %s of edging in it, its top"+
				" level with the grass: the mower goes over it.", w.p.Feet(x.Each)))
		}
	}
	s.Do = append(s.Do,
		fmt.Sprintf("Cut the grass short on %s of path, lay the cloth in strips, each lapped over the next, and cut it to"+
			" fit round the beds. A peg every foot (300 mm) along each strip.", w.sys.Area(w.Ground.Paths)),
		"Rake the chips over it, as deep as a hand is wide. Top them up every other year: the lower ones make soil.")
	for _, c := range w.Ground.Covers {
		if c.Sheet.ID == "paths" {
			w.sheeted(&s, c, 1)
			s.Have = append(s.Have, c.Roll.Name)
		}
	}
	for _, n := range w.Fill.Needs {
		s.shovelled(n.Paths.CubicMetres(), w.Catalog)
		if n.Paths > 0 && len(n.Ways) > 0 {
			s.use(Use{Item: n.Way().Fill.ID, Volume: n.Paths})
			s.Have = append(s.Have, w.sys.Volume(n.Paths)+" of "+strings.ToLower(n.Material.Name))
		}
	}
	w.add(s)
}
