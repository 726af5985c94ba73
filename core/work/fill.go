package work

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// soil fills the beds, waters them and lets them settle.
func (w *writer) soil() {
	if w.Fill.Order == 0 && w.Fill.Net == 0 {
		return
	}
	cautions := []Caution{lift}
	if w.Decks {
		cautions = append(cautions, deck)
	}
	fills := Step{ID: "fill", Title: "Fill with soil", Cautions: cautions}
	for _, n := range w.Fill.Needs {
		if n.Order == n.Mulch+n.Paths {
			continue
		}
		fills.Have = append(fills.Have, w.heap(n))
		if len(n.Ways) > 0 {
			fills.use(Use{Item: n.Way().Fill.ID, Volume: n.Order - n.Mulch - n.Paths})
		}
	}
	if w.Fill.Topsoil > 0 {
		fills.Have = append(fills.Have, w.sys.Volume(w.Fill.Topsoil)+" of topsoil that was dug")
	}
	fills.Have = append(fills.Have, "wheelbarrow", "rake")
	if w.Fill.Turf > 0 {
		fills.Do = append(fills.Do, "Lay the turf upside down on the bottom, close together.")
	}
	if w.Fill.Layered() {
		fills.Title = "Fill, layer by layer"
		fills.Have = append(fills.Have, "hose with a rose")
		fills.Do = append(fills.Do, w.layers()...)
		fills.Do = append(fills.Do, "Water every layer until it is wet through before the next goes on: dry filler sinks"+
			" later. Fork each layer a hand deep into the one below: layers that lie apart feed nothing.")
	} else {
		fills.Do = append(fills.Do, fmt.Sprintf(
			"Fill in layers a hand deep, treading lightly along the walls. It takes about %s.",
			measure.Count(w.Fill.Barrows, "barrow-load")))
		if n, ok := w.Fill.Need(catalog.Mixed); ok {
			fills.Do = append(fills.Do, fmt.Sprintf(
				"Heap it a little: the %s settles to %s, %d %% less, over the first season.", w.sys.Volume(n.Order),
				w.sys.Volume(n.Settled), n.Loses*100/(1000+n.Loses)))
		}
	}
	if _, ok := w.Fill.Need("manure"); ok {
		fills.Do = append(fills.Do, "Manure and hay may carry weed-killer that spoils beans and tomatoes for years: sow"+
			" beans in a pot of it three weeks before, and see them grow.")
	}
	for _, f := range w.Fill.Forked {
		fills.use(Use{Item: f.Of.ID, Count: f.Amount})
		fills.Have = append(fills.Have, f.Words(w.sys)+" of "+f.Of.Name, "fork")
		fills.Do = append(fills.Do, fmt.Sprintf("Strew %s of %s evenly over %s and fork it into the top hand's depth, a week"+
			" or two before planting. Gloves, and no breathing of its dust.", f.Words(w.sys), strings.ToLower(f.Of.Name[:1])+
			f.Of.Name[1:], strings.Join(f.Beds, ", ")))
		if f.Of.ID == "lime" {
			fills.Do = append(fills.Do, "Lime and manure not together: what feeds goes off as gas. Leave weeks between"+
				" them, and test the soil first.")
		}
	}
	fills.Do = append(fills.Do, fmt.Sprintf(
		"Wet, it weighs about %s. On a deck, a roof or a balcony that is a question for someone licensed to"+
			" answer it, and local codes come first.", w.sys.Mass(w.Fill.WetMass)))
	w.add(fills)
	do := []string{"Water until it runs out below, wait a few days, and top up. Look at the walls once the soil is wet:" +
		" a side that moves now will not stop by itself."}
	if deep, v := w.Fill.Sinks(1); v > 0 {
		do = append(do, fmt.Sprintf("The filler rots: next spring the surface is down by up to %s. Top it up with %s of"+
			" compost then, and a little less every spring after.", w.p.Short(deep), w.sys.Volume(v)))
	}
	w.add(Step{ID: "settle", Title: "Water it and let it settle", Have: []string{"hose with a rose"}, Do: do})
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

// layers says what goes in, bed by bed, from the bottom.
func (w *writer) layers() (list []string) {
	for i := 0; i < len(w.Fill.Laid); {
		n := i
		var words []string
		for n < len(w.Fill.Laid) && w.Fill.Laid[n].Bed == w.Fill.Laid[i].Bed {
			l := w.Fill.Laid[n]
			words = append(words, fmt.Sprintf("%s, %s deep once settled (%s)", l.Words, w.p.Short(l.Depth),
				w.sys.Volume(l.Volume)))
			n++
		}
		of := ""
		if len(w.Frames) > 1 {
			of = w.Fill.Laid[i].Name + ", "
		}
		list = append(list, fmt.Sprintf("%sfrom the bottom: %s.", of, strings.Join(words, "; then ")))
		i = n
	}
	for i, s := range list {
		list[i] = strings.ToUpper(s[:1]) + s[1:]
	}
	return list
}

// cover lays mulch on the beds, and chips on the paths.
func (w *writer) cover() {
	if len(w.Fill.Mulches) > 0 {
		s := Step{ID: "mulch", Title: "Mulch", Have: []string{"rake"}}
		for _, n := range w.Fill.Needs {
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
	s := Step{ID: "paths", Title: "Cover the paths", Sheet: "paths", Have: []string{"knife", "rake", "barrow"}}
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
		if n.Paths > 0 && len(n.Ways) > 0 {
			s.use(Use{Item: n.Way().Fill.ID, Volume: n.Paths})
			s.Have = append(s.Have, w.sys.Volume(n.Paths)+" of "+strings.ToLower(n.Material.Name))
		}
	}
	w.add(s)
}
