package work

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

var (
	silica = Caution{
		"Cut blocks wet or with the saw's dust drawn off, and wear a mask rated for fine dust, eye and ear protection.",
		"The dust is silica: it scars lungs for good. Rules on exposure differ from place to place; local ones" +
			" come first.",
	}
	chips  = Caution{"Wear eye protection when you split a block with a chisel.", "Chips fly."}
	cement = Caution{"Wear gloves, and wash wet cement off at once.", "It burns skin, and is not felt until it has."}
	caps   = Caution{"Put a cap on every stake and pin that stands up.", "Someone who stumbles falls on it."}
	retain = Caution{
		"These walls hold ground up. Ask the local office what height it allows without a permit, and leave anything" +
			" over it, or below a drive or a building, to a licensed engineer.",
		"A wall that gives way takes the slope with it.",
	}
	blocks = Caution{
		"Lift blocks one at a time with bent knees, and let another person hand them to you.",
		"Backs and fingers go on the fiftieth block, not on the first.",
	}
)

// bringBlocks is the step of what is delivered.
func (w *writer) bringBlocks() {
	if len(w.Laying.Units)+len(w.Laying.Heaps) == 0 {
		return
	}
	s := Step{
		ID:       "blocks",
		Chores:   []Chore{{Rates()["receive"], 1}},
		Title:    "Have the blocks and the base brought",
		Cautions: []Caution{blocks},
		Have:     []string{"the shopping list", "boards to set pallets on"},
	}
	if len(w.Laying.Units) == 0 {
		s.Title, s.Cautions, s.Have = "Have the mix and the base brought", []Caution{
			lift,
		}, []string{
			"the shopping list",
			"sheeting to keep bags dry",
		}
	}
	for _, c := range w.Laying.Units {
		s.Do = append(
			s.Do,
			fmt.Sprintf(
				"%d × %s, about %s%s.",
				c.Buy,
				c.Unit.Name,
				w.sys.Mass(measure.Mass(c.Unit.Mass*float64(c.Buy))),
				beside(c.Have),
			),
		)
	}
	for _, h := range w.Laying.Heaps {
		name := strings.ToLower(h.Loose.Name[:1]) + h.Loose.Name[1:]
		packs := fmt.Sprintf("%d × %s", h.Packs, name)
		if !strings.Contains(name, h.Loose.Pack) {
			packs = measure.Count(h.Packs, h.Loose.Pack) + " of " + name
		}
		s.Do = append(s.Do, packs+beside(h.Have)+".")
	}
	if n := w.Laying.Batches(); n > 0 {
		days := "a day's pour"
		if d := w.Laying.Days(); d > 1 {
			days = fmt.Sprintf(
				"%d days' pours, %d a day; each day but the last ends on a slope, damped before the next",
				d,
				w.Laying.Daily,
			)
		}
		s.Do = append(
			s.Do,
			fmt.Sprintf(
				"Mixed %s at a time, that is %s: %s.",
				w.sys.Volume(w.Laying.Batch),
				measure.Count(n, "batch"),
				days,
			),
		)
		s.Do = append(s.Do, fmt.Sprintf("Gather %s of clean rubble.", w.sys.Volume(w.Laying.Rubble)))
		if b := w.Laying.Bricks; b > 0 {
			s.Do = append(
				s.Do,
				fmt.Sprintf(
					"About %s of mix is left in the last bag: a greased box ready for it makes %s.",
					w.sys.Volume(w.Laying.Left),
					measure.Count(b, "brick"),
				),
			)
		}
		s.Cautions = append(s.Cautions, cement, caps)
	}
	if len(w.Laying.Units) > 0 {
		s.Do = append(
			s.Do,
			"Set everything down close to where it is laid; check for broken corners while the lorry is there.",
		)
	}
	w.add(s)
	w.cutBlocks()
}

// beside tells of what is there already.
func beside(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf(", beside your %d", n)
}

// cutBlocks is the step of cutting units, where any are cut.
func (w *writer) cutBlocks() {
	s := Step{
		ID:       "cut-blocks",
		Phase:    Saw,
		Title:    "Cut the blocks",
		Have:     []string{"masonry saw with water, or chisel and club hammer", "square", "pencil"},
		Cautions: []Caution{silica, chips},
	}
	for _, c := range w.Laying.Units {
		for _, k := range c.Kinds {
			if k.Cut == 0 {
				continue
			}
			s.chore("cut-block", float64(k.Count))
			words := fmt.Sprintf("%d × %s to %s", k.Count, c.Unit.Name, w.p.Short(k.Cut))
			if c.Split(k) {
				words = fmt.Sprintf(
					"%d × half of %s: score it all round, rest it on sand and split it with one blow; both halves"+
						" are used",
					k.Count,
					c.Unit.Name,
				)
			}
			if k.Angle != 0 {
				words += fmt.Sprintf(
					", the ends at %s° from square",
					strconv.FormatFloat(math.Round(10*k.Angle)/10, 'f', -1, 64),
				)
			}
			s.Do = append(s.Do, words+".")
		}
		if c.Left > 0 {
			s.Do = append(
				s.Do,
				measure.Count(c.Left, "rest")+" of "+c.Unit.Name+", longer than a quarter of it, to keep.",
			)
		}
	}
	if len(s.Do) > 0 {
		s.Do = append(s.Do, "Lay the course out dry first, and mark each cut where it will lie.")
		w.add(s)
	}
	w.lugs()
}

// lugs is the step of knocking lugs off, where any come off.
func (w *writer) lugs() {
	s := Step{
		ID:       "lugs",
		Phase:    Saw,
		Title:    "Knock lugs off",
		Have:     []string{"chisel and club hammer", "sand to rest the block on"},
		Cautions: []Caution{chips},
	}
	for _, c := range w.Laying.Units {
		s.chore("lug", float64(c.Lugs))
		if c.Lugs > 0 {
			s.Do = append(s.Do, fmt.Sprintf("%d × %s.", c.Lugs, c.Unit.Name))
		}
	}
	if len(s.Do) > 0 {
		s.Do = append(
			s.Do,
			"They lie on the base, or at a corner across the units below, and would rock on their lugs.",
		)
		w.add(s)
	}
}

// bedUnits are the trench and the base of a bed of units: for each wall of a slope, where they are laid one after the
// other.
func (w *writer) bedUnits(f *frame.Frame, of string) {
	for _, b := range f.Bases {
		none := b.Stone+b.Screed+b.Buried == 0 // it stands on what is there
		if !climbs(f) {
			if !none {
				w.add(w.trench(f, b, of))
			}
			continue
		}
		n := len(f.Levels)
		for i, l := range f.Levels {
			part := b
			part.Line = b.Line*measure.Length(i+1)/measure.Length(n) - b.Line*measure.Length(i)/measure.Length(n)
			part.Area = b.Area*measure.Area(i+1)/measure.Area(n) - b.Area*measure.Area(i)/measure.Area(n)
			part.Seat = b.Seat*measure.Area(i+1)/measure.Area(n) - b.Seat*measure.Area(i)/measure.Area(n)
			s := w.trench(f, part, of)
			s.Title = fmt.Sprintf("Dig the trench and lay the base of wall %d%s", i+1, of)
			if none {
				s.Do, s.Digs = nil, true
				s.Title = fmt.Sprintf("Make the ground of wall %d%s", i+1, of)
			}
			s.ID, s.level = fmt.Sprintf("%s.%d", s.ID, i+1), i+1
			s.chore(w.digging(), (l.Cut+l.Fill).CubicMetres()*float64(f.Times))
			when := "stands"
			if len(f.Pours) > 0 {
				when = "has stood a week"
			}
			s.Do = append([]string{fmt.Sprintf("Cut the ground for %s, which lies %s above the lowest: %s to cut, and %s to"+
				" fill behind the wall once it %s, trodden down in layers a hand deep.", l.Name, w.p.Feet(l.Height),
				w.sys.Volume(l.Cut), w.sys.Volume(l.Fill), when)}, s.Do...)
			w.add(s)
		}
	}
}

// trench is the step of digging one and laying a base in it.
func (w *writer) trench(f *frame.Frame, b frame.Base, of string) Step {
	s := Step{
		ID:       f.Bed + ".trench",
		Bed:      f.Bed,
		Phase:    SetOut,
		Title:    "Dig the trench and lay the base" + of,
		Have:     []string{"spade", "level", "a straight board", "pegs and string"},
		Cautions: []Caution{dig},
	}
	if len(f.Levels) > 0 {
		s.Cautions = append(s.Cautions, retain)
	}
	w.based(&s, f, b)
	s.Do = append(s.Do, fmt.Sprintf("A trench %s wide and %s deep, along the middle of the wall.", w.p.Short(b.Wide),
		w.p.Short(b.Stone+b.Screed+b.Buried)))
	if b.Stone > 0 {
		s.Do = append(s.Do, fmt.Sprintf("Fill in stone and compact it to %s, in two layers, level all along.",
			w.p.Short(b.Stone)))
		s.Have = append(s.Have, "plate compactor")
	}
	const struck = ", struck off with the board between two level rails: the first course is only as level as this."
	switch {
	case b.Screed == 0:
	case b.Sand:
		s.Do = append(s.Do, "Tread the bottom firm. On it "+w.p.Short(b.Screed)+" of sand"+struck)
	default:
		s.Do = append(s.Do, "On it "+w.p.Short(b.Screed)+" of dry sand and cement, six to one"+struck)
		s.Cautions = append(s.Cautions, cement)
	}
	return s
}

// laid writes an act of laying: the units it adds, counted by kind.
func (w *writer) laid(f *frame.Frame, a frame.Act, so []string, of string) Step {
	s := Step{ID: a.Key(f.Bed), Bed: f.Bed, Title: a.Title + of, Where: a.Where, New: a.Parts, Parts: slices.Clone(so),
		Have: append([]string{"level"}, a.Tools...)}
	w.laidUses(&s, f, a)
	var order []string
	count := map[string]int{}
	tall := measure.Length(0)
	for _, u := range f.Units {
		if !slices.Contains(a.Parts, u.ID) {
			continue
		}
		name := string(u.Kind)
		if unit, err := w.Catalog.Unit(u.SKU); err == nil {
			name = unit.Name + ", " + string(u.Kind)
			if u.Cut > 0 {
				name += " to " + w.p.Short(u.Cut)
			}
			if unit.Joint > 0 && u.Kind != frame.CapUnit && !u.Dry && !slices.Contains(s.Have, "mortar") {
				s.Have = append(s.Have, "mortar", "trowel")
				s.Cautions = append(s.Cautions, cement)
			}
			tall = max(tall, unit.Course())
		}
		if len(order) == 0 {
			along := "line and pins"
			if len(f.Arcs) > 0 {
				along = "peg and string"
			}
			s.Have = append(s.Have, along, "rubber mallet")
			s.Cautions = append(s.Cautions, blocks)
		}
		if count[name] == 0 {
			order = append(order, name)
		}
		count[name]++
	}
	var boards []string
	for _, id := range a.Parts {
		if _, ok := f.Part(id); ok {
			boards = append(boards, id)
		}
	}
	if len(boards) > 0 {
		s.Do = append(s.Do, "Take "+w.letters(f, boards)+".")
	}
	for _, name := range order {
		s.Do = append(s.Do, fmt.Sprintf("%d × %s.", count[name], name))
	}
	s.Cautions = append(s.Cautions, w.dangers(f, a)...)
	if a.Verb == frame.FixCap {
		if glue := Waits()["glue"]; len(f.Beads) > 0 {
			s.Do = append(s.Do, fmt.Sprintf("Nobody sits on them for %.0f hours: then %s.", glue.High, glue.What))
		}
		s.Have = append(s.Have, "masonry adhesive")
	} else if tall > 0 {
		s.Do = append(s.Do, fmt.Sprintf("Each course is %s high; check against a rod marked with them.",
			w.p.Short(tall)))
	}
	s.Do = append(s.Do, a.Note)
	return s
}

// dangers are those of what is put in with an act: mesh, pins and stakes, wet mix.
func (w *writer) dangers(f *frame.Frame, a frame.Act) (list []Caution) {
	if len(f.Pours) > 0 {
		return []Caution{cement, caps}
	}
	if a.Verb == frame.FitOut &&
		slices.ContainsFunc(f.Sheets, func(s frame.Sheet) bool { return s.Material == "mesh" }) {
		list = append(list, mesh)
	}
	if slices.ContainsFunc(f.Fittings, func(x frame.Fitting) bool { return x.Kind == "pin" }) &&
		(a.Verb == frame.FitOut || len(f.Parts) > 0) {
		list = append(list, caps, dig)
	}
	return list
}
