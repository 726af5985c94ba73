package work

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Before is a step that comes before another, why, and how long it has to be left alone before the other is begun.
type Before struct {
	ID   string
	Why  string
	Wait Wait // the zero value is none
}

// after puts a step of an ID before s; there need be none of it.
func (s *Step) after(id, why string, wait ...string) {
	if id == "" || id == s.ID {
		return
	}
	b := Before{ID: id, Why: why}
	for _, key := range wait {
		b.Wait = Waits()[key]
	}
	for i, is := range s.After {
		if is.ID == id {
			if b.Wait.High > is.Wait.High {
				s.After[i] = b
			}
			return
		}
	}
	s.After = append(s.After, b)
}

// graph says of every step what comes before it.
func (w *writer) graph() {
	for i := range w.Frames {
		w.bedGraph(&w.Frames[i])
	}
	w.jobGraph()
	known := map[string]bool{}
	for _, s := range w.steps {
		known[s.ID] = true
	}
	for i := range w.steps {
		w.steps[i].After = slices.DeleteFunc(w.steps[i].After, func(b Before) bool { return !known[b.ID] })
	}
}

// each calls do for all steps.
func (w *writer) each(do func(s *Step)) {
	for i := range w.steps {
		do(&w.steps[i])
	}
}

// jobGraph ties together what is done for all beds.
func (w *writer) jobGraph() {
	fetched := map[string]string{} // by what brings it
	made := ""                     // the last of what is done to boards before any is joined
	shaped := ""                   // and to blocks
	w.each(func(s *Step) {
		switch s.ID {
		case "cut", "lay-out", "drill":
			made = s.ID
		case "blocks", "cut-blocks", "lugs":
			shaped = s.ID
		}
		for _, item := range s.Brings {
			fetched[item] = s.ID
		}
	})
	chain := func(s *Step, ids []string, why string) {
		for i, id := range ids {
			if s.ID == id && i > 0 {
				for k := i - 1; k >= 0; k-- {
					if slices.ContainsFunc(w.steps, func(o Step) bool { return o.ID == ids[k] }) {
						s.after(ids[k], why)
						break
					}
				}
			}
		}
	}
	w.each(func(s *Step) {
		chain(s, []string{"buy", "cut", "lay-out", "drill"}, "the boards")
		chain(s, []string{"blocks", "cut-blocks", "lugs"}, "the blocks")
		if len(s.timber) > 0 {
			s.after(made, "its pieces")
		}
		if len(s.units) > 0 {
			s.after(shaped, "its blocks")
		}
		if s.act != nil && s.act.Soils {
			s.after("soil", "soil goes into it")
		}
		for _, u := range s.Uses {
			s.after(fetched[u.Item], "what it takes")
		}
		switch {
		case s.Phase == Tip:
			w.each(func(o *Step) {
				if o.ID == "spoil" && w.Fill.Topsoil+w.Fill.Turf > 0 {
					s.after(o.ID, "the soil that was dug")
				}
			})
		case s.ID == "spoil":
			w.each(func(o *Step) {
				if o.Digs && o.level < 2 { // further up a slope it goes the same way
					s.after(o.ID, "what it digs")
				}
			})
		case s.ID == "settle":
			w.each(func(o *Step) {
				if o.Phase == Tip {
					s.after(o.ID, "its soil")
				}
			})
		case s.ID == "walks":
			w.each(func(o *Step) {
				if o.Phase == SetOut {
					s.after(o.ID, "the ground of the bed")
				}
			})
		case s.ID == "paths":
			s.after("walks", "they are even first")
			s.after("spoil", "barrows tear the cloth")
			w.each(func(o *Step) {
				if o.Phase == Tip || o.Phase == Stand {
					s.after(o.ID, "barrows and posts tear the cloth")
				}
			})
		case s.ID == "feed":
			s.after("settle", "it goes into the top of the soil")
		case s.ID == "drip", s.ID == "sprinkler":
			s.after("settle", "it lies on the soil", w.sinking())
			s.after("feed", "a fork tears lines")
		case s.ID == "mulch":
			s.after("settle", "it lies on the soil", w.sinking())
			s.after("feed", "that goes under it")
			s.after("drip", "the lines lie under it")
		case s.Phase == Brush:
			w.each(func(o *Step) {
				if o.Bed != "" && slices.Contains(s.beds, o.Bed) && len(o.timber) > 0 {
					s.after(o.ID, "what is brushed")
				}
			})
		}
	})
}

// sinking is how long the soil of all beds settles.
func (w *writer) sinking() string {
	for _, l := range w.Fill.Laid {
		if l.Rough {
			return "rough"
		}
	}
	return "soil"
}

// bedGraph ties together the steps of one bed: what its acts say, what they join and stand on, and what is inside
// before what closes it.
func (w *writer) bedGraph(f *frame.Frame) {
	var acts []*Step // in the order they were written
	var ground, square string
	var covers, lined, trenches []*Step
	w.each(func(s *Step) {
		if s.Bed != f.Bed {
			return
		}
		switch {
		case s.act != nil:
			acts = append(acts, s)
		case s.ID == f.Bed+".ground":
			ground = s.ID
		case s.Digs && s.act == nil:
			trenches = append(trenches, s)
		case s.ID == f.Bed+".square":
			square = s.ID
		case s.Sheet != "" && s.Phase == Found:
			covers = append(covers, s)
		case s.Sheet != "":
			lined = append(lined, s)
		}
	})
	id := func(named string) string {
		for _, s := range acts {
			if s.act.Named() == named {
				return s.ID
			}
		}
		for _, l := range lined {
			if l.Sheet == named {
				return l.ID
			}
		}
		return ""
	}
	for _, l := range lined { // what an act goes on is of its level, and what lies in its cavity
		for i, c := range f.Cavities {
			if climbs(f) && c.ID == w.sheetOf(f, l).Cavity {
				l.level = i + 1
			}
		}
		for _, s := range acts {
			if slices.Contains(s.act.After, l.Sheet) {
				l.level = s.level
			}
		}
	}
	inside := len(f.Bases) > 0 // a cover is cut to fit between the walls, which stand on a base of their own
	wall := func(s *Step) bool { return s.act.Verb == frame.Lay && w.standsOn(f, s) < 0 }
	firstJoin := slices.IndexFunc(acts, func(s *Step) bool { return s.act.Verb == frame.JoinUp })
	ledPosts := func(k int) bool { return acts[k].act.Verb == frame.SetPost && k < firstJoin }
	w.each(func(s *Step) {
		cover := s.Bed == f.Bed && s.Sheet != "" && s.Phase == Found
		pipe := s.ID == "water-pipe" && w.led(f)
		switch {
		case slices.ContainsFunc(trenches, func(t *Step) bool { return t.ID == s.ID }):
			s.after(ground, "its line")
		case cover || pipe:
			s.after(ground, "the ground is level")
			for _, t := range trenches {
				if t.level < 2 {
					s.after(t.ID, "what is dug lies on it else")
				}
			}
		}
		if !cover {
			return
		}
		for _, o := range acts {
			if inside && wall(o) {
				s.after(o.ID, "it is cut to fit between the walls")
			}
		}
		if w.led(f) {
			s.after("water-pipe", "the pipe comes up through it")
		}
		for k, o := range acts {
			if ledPosts(k) {
				s.after(o.ID, "it is cut round them")
			}
		}
	})
	joins := w.together(f, acts)
	early := make([]bool, len(acts)) // what some part of the frame is joined to before that is squared
	for k := len(acts) - 1; k >= 0; k-- {
		for j := range k {
			if joins[k][j] && (early[k] || acts[k].act.Verb == frame.JoinUp) {
				early[j] = true
			}
		}
		early[k] = early[k] || ledPosts(k)
	}
	for k, s := range acts {
		for _, named := range s.act.After {
			s.after(id(named), "it goes on that")
		}
		for j, o := range acts[:k] {
			if joins[k][j] && o.Phase == Trim && s.Phase == Stand { // what is fitted on waits for what stands
				o.after(s.ID, "it is fixed to that or stands on it")
				continue
			}
			if joins[k][j] {
				why, wait := "it is fixed to that or stands on it", []string(nil)
				switch {
				case s.act.Verb == frame.FixCap && w.mortared(f, o):
					wait = []string{"bed-joint"}
				case kindOf(s.act) == "strips" && kindOf(o.act) == "mix" && s.level == o.level:
					wait = []string{"strip"}
				}
				s.after(o.ID, why, wait...)
			}
		}
		if s.Phase == Bench {
			continue
		}
		s.after(ground, "its place")
		for _, t := range trenches {
			if t.level == s.level || s.level == 0 {
				s.after(t.ID, "its base")
			}
		}
		if !ledPosts(k) && !(inside && wall(s)) {
			for _, c := range covers {
				s.after(c.ID, "it lies under that")
			}
		}
		if w.led(f) && !f.OnFeet {
			s.after("water-pipe", "it runs under the wall")
		}
		switch {
		case s.act.Verb == frame.JoinUp || early[k] || square == "":
		case s.act.Filled() != frame.AnyTime || s.act.Verb == frame.FixCap || len(s.timber) > 0:
			s.after(square, "it would hold it out of square")
		}
		if s.act.Filled() == frame.OnSoil {
			s.after("settle", "it stands on the soil", w.sinking())
		}
		if s.act.Verb == frame.FixCap {
			for _, l := range lined {
				if w.lines(f, l.Sheet) {
					s.after(l.ID, "its edge lies under the cap")
				}
			}
		}
	}
	for _, s := range acts {
		if s.act.Verb == frame.JoinUp {
			w.each(func(o *Step) {
				if o.ID == square {
					o.after(s.ID, "what is squared")
				}
			})
		}
	}
	for _, l := range lined {
		sheet := w.sheetOf(f, l)
		l.after(ground, "its place")
		l.after(square, "what it is cut to fit")
		if sheet.After != "" {
			l.after(id(sheet.After), "it goes on that")
			continue
		}
		for _, s := range acts {
			if s.act.Filled() == frame.BeforeSoil && s.Phase != Bench && w.standsOn(f, s) < 0 &&
				(l.level == 0 || s.level <= l.level) {
				l.after(s.ID, "what it is laid against")
			}
		}
	}
	w.fillGraph(f, acts, lined, covers, square)
}

// sheetOf is the sheet that a step puts in.
func (w *writer) sheetOf(f *frame.Frame, s *Step) frame.Sheet {
	return f.Sheets[slices.IndexFunc(f.Sheets, func(x frame.Sheet) bool { return x.ID == s.Sheet })]
}

// led reports whether a pipe runs up inside a bed.
func (w *writer) led(f *frame.Frame) bool {
	for _, b := range w.Water.Beds {
		if b.Bed == f.Bed && b.By == "drip" {
			return true
		}
	}
	return false
}

// lines reports whether a sheet of a bed lies between its walls and the soil.
func (w *writer) lines(f *frame.Frame, id string) bool {
	return slices.ContainsFunc(f.Sheets, func(s frame.Sheet) bool { return s.ID == id && s.Lines })
}

// mortared reports whether a step lays anything in mortar.
func (w *writer) mortared(f *frame.Frame, s *Step) bool {
	return slices.ContainsFunc(s.Uses, func(u Use) bool { return u.Item == "mortar" && u.Volume > 0 })
}

// together reports of every two acts of a bed whether what they bring to their place touches or is joined, the later
// first. What is made up on the bench is brought by the act that joins it to the rest.
func (w *writer) together(f *frame.Frame, acts []*Step) [][]bool {
	in := make([]map[string]bool, len(acts)) // what each brings to its place, or makes up
	by := map[string]int{}
	for k, s := range acts {
		in[k] = map[string]bool{}
		for _, id := range slices.Concat(s.act.Parts, s.act.Again) {
			in[k][id] = true
			if _, ok := by[id]; !ok {
				by[id] = k
			}
		}
	}
	out := make([][]bool, len(acts))
	for k := range out {
		out[k] = make([]bool, k)
	}
	tie := func(a, b int) {
		if a != b {
			out[max(a, b)][min(a, b)] = true
		}
	}
	for k, s := range acts {
		for _, id := range s.act.Again {
			tie(k, by[id])
		}
	}
	for _, j := range f.Joints {
		a, okA := by[j.Parts[0]]
		b, okB := by[j.Parts[1]]
		if okA && okB && !(acts[a].act.Loose && acts[b].act.Loose) {
			tie(a, b)
		}
	}
	boxes := make([][][2]frame.Point, len(acts))
	for k, s := range acts {
		for _, id := range slices.Concat(s.act.Parts, s.act.Again) {
			if body, ok := w.solids(f)[id]; ok {
				lo, hi := body.Bounds()
				boxes[k] = append(boxes[k], [2]frame.Point{lo, hi})
			}
		}
	}
	for k := range acts {
		for j := range k {
			if !out[k][j] && !acts[k].act.Loose && !acts[j].act.Loose && touch(boxes[k], boxes[j]) {
				out[k][j] = true
			}
		}
	}
	for k, s := range acts { // what is poured or filled in goes with what was stood before it
		if len(s.timber)+len(s.units) == 0 && s.act.Verb == frame.Lay {
			for j := range k {
				out[k][j] = out[k][j] || acts[j].act.Verb == frame.Lay && acts[j].act.Filled() == frame.BeforeSoil
			}
		}
		if len(s.act.Parts) == 0 && s.act.Verb == frame.FitOut { // it is put on what is built
			for j := range k {
				out[k][j] = out[k][j] || acts[j].Phase == Stand
			}
		}
	}
	return out
}

// solids are what the parts and blocks of a bed fill, by their IDs.
func (w *writer) solids(f *frame.Frame) map[string]frame.Prism {
	if at, ok := w.index[f.Bed]; ok {
		return at
	}
	if w.index == nil {
		w.index = map[string]map[string]frame.Prism{}
	}
	at := make(map[string]frame.Prism, len(f.Parts)+len(f.Units))
	for _, p := range f.Parts {
		at[p.ID] = p.Body
	}
	for _, u := range f.Units {
		at[u.ID] = u.Body
	}
	w.index[f.Bed] = at
	return at
}

// touch reports whether the boxes round any two solids share room or a face.
func touch(a, b [][2]frame.Point) bool {
	const near = measure.Millimetre
	for _, p := range a {
		for _, q := range b {
			if p[0].X <= q[1].X+near && q[0].X <= p[1].X+near && p[0].Y <= q[1].Y+near && q[0].Y <= p[1].Y+near &&
				p[0].Z <= q[1].Z+near && q[0].Z <= p[1].Z+near {
				return true
			}
		}
	}
	return false
}
