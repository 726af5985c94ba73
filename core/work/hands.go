package work

import (
	"encoding/binary"
	"hash/fnv"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// longPiece is from what length a piece takes a second pair of hands at its other end (common practice).
const longPiece = 3 * measure.Metre

// hands says how many people each step takes at least: by the weight of what is lifted and by how long it is.
func (w *writer) hands() {
	frames := map[string]*frame.Frame{}
	for i := range w.Frames {
		frames[w.Frames[i].Bed] = &w.Frames[i]
	}
	w.each(func(s *Step) {
		s.Hands = 1
		f := frames[s.Bed]
		if f == nil || s.act == nil {
			return
		}
		most := 0.0
		for _, id := range s.timber {
			p, _ := f.Part(id)
			most = max(most, w.heaviest(f, []string{id}))
			if p.Length >= longPiece {
				s.Hands = 2
			}
		}
		switch {
		case s.act.Loose || s.act.AsOne:
			for _, kg := range w.made(f, s.act) {
				most = max(most, kg)
			}
		case s.act.Verb == frame.JoinUp: // what was made up is carried here
			for i := range f.Acts {
				if a := &f.Acts[i]; a.Loose && w.meets(f, a, s.act) {
					for _, kg := range w.made(f, a) {
						most = max(most, kg)
					}
				}
			}
		}
		if s.act.Bent || s.act.Over && !s.act.Loose { // it springs back, or a whole bed is turned over
			s.Hands = 2
		}
		s.Hands = max(s.Hands, min(4, int(math.Ceil(most/twoPeople-1e-9))))
	})
}

// meets reports whether two acts of a bed are joined.
func (w *writer) meets(f *frame.Frame, a, b *frame.Act) bool {
	return slices.ContainsFunc(f.Joints, func(j frame.Joint) bool {
		return slices.Contains(a.Parts, j.Parts[0]) && slices.Contains(b.Parts, j.Parts[1]) ||
			slices.Contains(a.Parts, j.Parts[1]) && slices.Contains(b.Parts, j.Parts[0])
	}) || slices.ContainsFunc(b.Again, func(id string) bool { return slices.Contains(a.Parts, id) })
}

// bring says which step brings what: boards and what lies on a shelf are fetched, blocks and soil are brought.
func (w *writer) bring() {
	from := map[string]string{}
	for _, c := range w.Laying.Units {
		from[c.Unit.ID] = "blocks"
	}
	for _, h := range w.Laying.Heaps {
		from[string(h.Loose.Kind)] = "blocks"
	}
	for _, n := range w.Fill.Needs {
		if len(n.Ways) > 0 {
			from[n.Way().Fill.ID] = "soil"
		}
	}
	var shelf []string
	there := map[string]bool{}
	brings := map[string][]string{}
	w.each(func(s *Step) {
		there[s.ID] = true
		for _, u := range s.Uses {
			by, ok := from[u.Item]
			if !ok {
				by = "buy"
			}
			if !slices.Contains(brings[by], u.Item) {
				brings[by] = append(brings[by], u.Item)
			}
		}
	})
	shelf = brings["buy"]
	if len(shelf) > 0 && !there["buy"] {
		s := Step{ID: "buy", Title: "Bring home what is on the list", Have: []string{"the shopping list"},
			Do: []string{"Fixings, cloth and all else that lies on a shelf, before the first day's work: what is missing" +
				" stops it."}}
		s.chore("fetch", 1)
		w.steps = append([]Step{s}, w.steps...)
	}
	w.each(func(s *Step) {
		s.Brings = brings[s.ID]
		slices.Sort(s.Brings)
	})
}

// amounts puts beside each step what it takes of what is loose: stone, sand, cement, mortar.
func (w *writer) amounts() {
	w.each(func(s *Step) {
		var list []string
		for _, u := range s.Uses {
			for _, h := range w.Laying.Heaps {
				if string(h.Loose.Kind) != u.Item || u.Volume == 0 {
					continue
				}
				name, _, _ := strings.Cut(h.Loose.Name, ",")
				list = append(list, w.sys.Volume(u.Volume)+" of "+strings.ToLower(name[:1])+name[1:])
				if h.Loose.Kind == catalog.Mortar {
					s.Have = slices.DeleteFunc(s.Have, func(x string) bool { return x == "mortar" })
				}
			}
		}
		s.Have = append(list, s.Have...)
	})
}

// shown says of each step, in its order, what is there already when it is done.
func (w *writer) shown(steps []Step) []Step {
	in := map[string][]string{} // by bed, what stands in its place
	for i := range steps {
		switch s := &steps[i]; {
		case s.act == nil && s.Phase == Stand: // it is squared
			s.Parts = slices.Clone(in[s.Bed])
		case s.act == nil:
		case s.act.Loose:
			s.Parts = slices.Concat(s.act.Parts, s.act.Again)
		default:
			in[s.Bed] = slices.Concat(in[s.Bed], s.act.Parts, s.act.Again)
			s.Parts = slices.Clone(in[s.Bed])
		}
	}
	for i := range steps {
		steps[i].Print = w.print(&steps[i])
	}
	return steps
}

// print is a mark of what a step does: its pieces and blocks with their sizes and places, and how much there is to do.
// Names, letters, words and prices are none of it, nor which screw or which bag is bought for it.
func (w *writer) print(s *Step) string {
	var b []byte
	text := func(list ...string) {
		for _, t := range list {
			b = append(append(b, t...), 0)
		}
	}
	length := func(list ...measure.Length) {
		for _, l := range list {
			b = binary.AppendVarint(b, int64(l))
		}
	}
	for _, c := range s.Chores {
		text(c.Rate.Key)
		b = binary.AppendVarint(b, int64(math.Round(100*c.N)))
	}
	text(s.Sheet)
	text(s.Fills...)
	text(s.Joints...)
	for i := range w.Frames {
		f := &w.Frames[i]
		if s.Bed == f.Bed {
			for _, o := range f.Outside {
				length(o.U, o.V)
			}
			b = binary.AppendVarint(b, int64(f.Times))
			for _, id := range s.New {
				text(id)
				if body, ok := w.solids(f)[id]; ok {
					length(measure.Length(body.Axis), body.From, body.To)
					for _, o := range body.Outline {
						length(o.U, o.V)
					}
				}
			}
		}
		if s.ID == "cut" {
			for _, p := range f.Parts {
				text(p.Profile, p.Species, string(p.Ends[0]), string(p.Ends[1]))
				bevels := p.Bevels()
				length(p.Length+p.Extra, p.Width, measure.Length(1000*bevels[0]), measure.Length(1000*bevels[1]))
				b = binary.AppendVarint(b, int64(f.Times))
			}
		}
	}
	h := fnv.New64a()
	_, _ = h.Write(b) // which never fails
	return strconv.FormatUint(h.Sum64(), 36)
}
