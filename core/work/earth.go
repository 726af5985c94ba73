package work

import (
	"fmt"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
)

// bank is what is dug so deep that its sides may slide.
var bank = Caution{
	"Cut a bank over knee height back to a slope, or have it held: a wall that holds ground up is licensed work in many" +
		" places.",
	"Wet ground slides without a sign, and buries legs.",
}

// kneeHigh is how deep ground is cut before its edge has to be seen to (common practice).
const kneeHigh = 500 * measure.Millimetre

// formed says how the ground is made below beds that stand where it was measured; false where
// it was not.
func (w *writer) formed(s *Step, f *frame.Frame) bool {
	said := false
	for _, x := range w.Formations {
		if x.Bed != f.Bed {
			continue
		}
		of := ""
		if f.Times > 1 {
			of = fmt.Sprintf("Number %d: ", x.N+1)
		}
		said = true
		if x.Way == "follow" {
			share, toward := x.Ground.Fall()
			s.Do = append(s.Do, fmt.Sprintf("%sRake the ground even, so that it falls %s to the %s towards %s, as it does"+
				" now.", of, w.p.Short(measure.Length(share*float64(w.per()))), w.perName(), ground.Direction(toward)))
			continue
		}
		at := func(z float64) measure.Length { return measure.Length(z * float64(measure.Metre)) }
		s.chore(w.digging(), x.Moved.Cut)
		s.chore("fill", x.Moved.Fill)
		words := []string{fmt.Sprintf("%sMake the ground level at %s, as the pegs count", of, w.p.Feet(at(x.At())))}
		if deep := at(x.Moved.Deepest); deep > measure.Millimetre {
			words = append(words, fmt.Sprintf("dig %s, %s deep %s and running out to nothing",
				w.sys.Volume(measure.CubicMetres(x.Moved.Cut)), w.p.Short(deep), x.Where(x.High)))
			if deep > kneeHigh {
				s.Cautions = append(s.Cautions, bank)
			}
		}
		if high := at(x.Moved.Highest); high > measure.Millimetre {
			words = append(words, fmt.Sprintf("fill %s, up to %s high %s, in layers a hand deep, each trodden down",
				w.sys.Volume(measure.CubicMetres(x.Moved.Fill)), w.p.Short(high), x.Where(x.Low)))
		}
		s.Do = append(s.Do, strings.Join(words, "; ")+".")
	}
	if said {
		s.Do = append(s.Do, "Check with the level on the straight board, along, across and corner to corner.")
	}
	return said
}

// per is the length a fall is told to: a foot or a metre.
func (w *writer) per() measure.Length {
	return w.Catalog.Told(measure.Foot, measure.Metre)
}

func (w *writer) perName() string {
	if w.sys == measure.Imperial {
		return "foot"
	}
	return "metre"
}

// walks makes the paths even across, and says where they want steps.
func (w *writer) walks() {
	s := Step{ID: "walks", Phase: Lead, Title: "Make the paths even across",
		Have: []string{"rake", "shovel", "level", "a straight board"}}
	var cut, fill float64
	steps := 0
	for _, x := range w.Walks {
		cut, fill, steps = cut+x.Moved.Cut, fill+x.Moved.Fill, steps+x.Steps
	}
	if !w.Even || len(w.Walks) == 0 {
		return
	}
	s.chore(w.digging(), cut)
	s.chore("fill", fill)
	s.Do = []string{fmt.Sprintf("Scrape %s off the high sides of the paths and tread it down on their low ones, %s of"+
		" room, until the board lies level across. Along they keep their fall: water runs off.",
		w.sys.Volume(measure.CubicMetres(cut)), w.sys.Volume(measure.CubicMetres(fill)))}
	if steps > 0 {
		s.Do = append(s.Do, fmt.Sprintf("Where a path is too steep, %s of 6 in (150 mm) take it up; the drawing of the"+
			" ground shows which.", measure.Count(steps, "step")))
	}
	w.add(s)
}

// spoil says where what was dug goes.
func (w *writer) spoil() {
	a := w.Ground.Account
	if len(a.Out) == 0 {
		return
	}
	s := Step{ID: "spoil", Phase: Lead, Title: "See to what was dug", Have: []string{"barrow", "shovel"}}
	for _, o := range a.Out {
		s.chore("spoil", o.Volume.CubicMetres())
	}
	s.chore("barrow", float64(a.Barrows))
	if a.Turf > a.Under && a.Turf > 0 {
		s.Do = append(s.Do, "Stack the turf upside down out of the way: in a year it is good soil.")
	}
	if a.Used > 0 {
		s.Do = append(s.Do, fmt.Sprintf("Heap the topsoil, %s as it lay, beside the beds: it goes into them.",
			w.sys.Volume(a.Used)))
	}
	if a.Leaves > 0 {
		s.Do = append(s.Do, fmt.Sprintf("%s is left over, %s loose: %s, or %s of a small trailer.",
			w.sys.Volume(a.Leaves), w.sys.Volume(a.Loose), measure.Count(a.Barrows, "barrow-load"),
			measure.Count(a.Loads, "load")))
	}
	if a.Short > 0 {
		s.Do = append(s.Do, fmt.Sprintf("The fill takes %s more than is dug: dig it where the plot is high, or have it"+
			" brought.", w.sys.Volume(a.Short)))
	}
	if a.Mass > 0 {
		s.Cautions = []Caution{lift}
	}
	w.add(s)
}
