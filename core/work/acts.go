package work

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// act writes an act of assembly from the parts it adds and the joints that
// become whole with them.
func (w *writer) act(f *frame.Frame, a frame.Act, so []string, of string) (s Step) {
	s = Step{ID: a.Key(f.Bed), Bed: f.Bed, Title: a.Title + of, Where: a.Where, New: a.Parts, Parts: slices.Clone(so)}
	in := slices.Concat(a.Parts, a.Again)
	switch {
	case len(a.Again) == 0 && len(in) > 0:
		s.Do = append(s.Do, "Take "+w.letters(f, in)+".")
	case len(a.Parts) > 0:
		s.Do = append(s.Do, fmt.Sprintf("Take %s, and what was made up: %s.", w.letters(f, a.Parts), w.letters(f, a.Again)))
	case len(in) > 0:
		s.Do = append(s.Do, "Take what was made up: "+w.letters(f, in)+".")
	}
	defer func() { w.fits(&s, f, a.Fits) }()
	s.chore("handle", float64(len(in)*f.Times))
	s.holes(f, a)
	screws := map[string]int{}
	var order []fixing.Fixed
	var pairs []string
	for _, j := range f.Joints {
		if !slices.Contains(so, j.Parts[0]) || !slices.Contains(so, j.Parts[1]) ||
			!slices.Contains(in, j.Parts[0]) && !slices.Contains(in, j.Parts[1]) ||
			w.madeUp(j, a) {
			continue
		}
		fx, ok := w.Fixings.ByJoint[j.ID]
		if !ok {
			continue
		}
		if screws[fx.Fixing.ID] == 0 {
			order = append(order, fx)
		}
		screws[fx.Fixing.ID] += fx.Count
		s.Joints = append(s.Joints, j.ID)
		s.use(Use{Item: fx.Fixing.ID, Count: fx.Count * f.Times})
		s.driver(fx.Fixing, fx.Count*f.Times)
		if id := w.Fixings.Washer(fx.Fixing); id != "" {
			s.use(Use{Item: id, Count: fx.Count * f.Times})
		}
		first, _ := f.Part(j.Parts[0])
		second, _ := f.Part(j.Parts[1])
		pair := fmt.Sprintf("%s to %s with %d", first.Letter, second.Letter, fx.Count)
		if !slices.Contains(pairs, pair) {
			pairs = append(pairs, pair)
		}
	}
	for _, fx := range order {
		s.Do = append(
			s.Do,
			fmt.Sprintf("Fix %s: %d of %s.", strings.Join(pairs, ", "), screws[fx.Fixing.ID], fx.Fixing.Name),
		)
		s.Have = append(s.Have, fmt.Sprintf("%d of %s", screws[fx.Fixing.ID], fx.Fixing.Name))
		pairs = []string{"as well"}
	}
	if a.Verb == frame.Drive { // in before anything is fixed to them
		at := min(1, len(s.Do))
		s.Do = slices.Insert(s.Do, at, w.driven(f, so)...)
		s.Have = append(s.Have, "sledgehammer or post driver", "a block of scrap wood")
		s.Cautions = append(s.Cautions, dig, hammer)
	} else if a.Verb == frame.SetPost {
		if holes := w.holes(f, a.Parts); holes != "" {
			s.Do = append([]string{holes}, s.Do...)
			s.Have = append(s.Have, "spade or post-hole digger", "level", "a stick to ram with")
			s.Cautions = append(s.Cautions, dig)
		}
	} else if w.buried(f, a.Parts) && w.Ground.Driven == 0 {
		s.Cautions = append(s.Cautions, dig)
		s.Do = append(s.Do, "These posts run into the ground: dig their holes before the frame goes in place.")
	}
	if a.Note != "" {
		s.Do = append(s.Do, a.Note)
	}
	if kg := w.heaviest(f, in); kg >= twoPeople {
		s.Cautions = append(
			s.Cautions,
			Caution{
				heavy,
				fmt.Sprintf("The heaviest weighs about %s dry, more when it is wet.", w.sys.Mass(measure.Mass(kg))),
			},
		)
	}
	return s
}

// twoPeople is the weight in kg from which two lift: common practice, 20 to 25.
const twoPeople = 25

// heaviest is the weight in kg of the heaviest of some parts.
func (w *writer) heaviest(f *frame.Frame, parts []string) float64 {
	most := 0.0
	for _, id := range parts {
		p, _ := f.Part(id)
		most = max(most, strength.Mass(p, w.Catalog))
	}
	return most
}

// holes says how deep the posts' holes are.
func (w *writer) holes(f *frame.Frame, parts []string) string {
	var depths []string
	for _, id := range parts {
		p, _ := f.Part(id)
		lo, _ := p.Body.Bounds()
		if deep := w.p.Feet(-lo.Z); lo.Z < 0 && !slices.Contains(depths, deep) {
			depths = append(depths, deep)
		}
	}
	if len(depths) == 0 {
		return ""
	}
	return fmt.Sprintf("Dig a hole %s deep for each post.", strings.Join(depths, " or "))
}

// driven says how deep stakes go.
func (w *writer) driven(f *frame.Frame, parts []string) []string {
	for _, id := range parts {
		p, _ := f.Part(id)
		if p.Ends[0] != frame.Pointed {
			continue
		}
		lo, _ := p.Body.Bounds()
		do := []string{
			fmt.Sprintf(
				"Drive each stake %s into the ground, a little at a time all round, with the block on its head."+
					" Check plumb and level as you go.",
				w.p.Feet(-lo.Z),
			),
		}
		if p.Extra > 0 {
			do = append(
				do,
				fmt.Sprintf("Each is cut %s long for that: saw the battered head off level.", w.p.Short(p.Extra)),
			)
		}
		return do
	}
	return nil
}

func (w *writer) buried(f *frame.Frame, parts []string) bool {
	return slices.ContainsFunc(parts, func(id string) bool {
		p, ok := f.Part(id)
		if !ok {
			return false
		}
		lo, _ := p.Body.Bounds()
		return lo.Z < 0
	})
}

// letters writes "4 of B and 4 of C".
func (w *writer) letters(f *frame.Frame, parts []string) string {
	var order []string
	n := map[string]int{}
	for _, id := range parts {
		p, _ := f.Part(id)
		if n[p.Letter] == 0 {
			order = append(order, p.Letter)
		}
		n[p.Letter]++
	}
	var words []string
	for _, l := range order {
		words = append(words, fmt.Sprintf("%d of %s", n[l], l))
	}
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	return strings.Join(words[:len(words)-1], ", ") + " and " + words[len(words)-1]
}
