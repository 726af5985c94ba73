package review

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/strength"
)

// lighten is what carpenters do about a link that is over, on its path.
func (r *reviewer) lighten(x route, l strength.Link) []Remedy {
	switch x.path {
	case strength.OnFloor:
		return r.carryBetter(l)
	case strength.Seated:
		if p, ok := r.Frame.Part(l.From); ok && p.Kind == frame.CapBoard {
			return r.capBetter()
		}
		return r.carryBetter(l)
	case strength.Wind:
		return r.lower()
	}
	return r.holdBetter(x, l)
}

// carryBetter is how a floor's load is hung better: each measure that the bed has and does
// not take yet, then all of them, with other beams, with legs between, with thicker boards,
// with less soil.
func (r *reviewer) carryBetter(l strength.Link) []Remedy {
	var list []Remedy
	var all Remedy
	hang := design.Serves(r.Bed, design.HangsFloor)
	if r.hasBeams() {
		hang = append(hang, design.Serves(r.Bed, design.HangsBeams)...)
	}
	for _, d := range hang {
		if d.Taken(r.Bed) || d.IdleOn(r.Bed) {
			continue
		}
		e := d.Edit(r.Bed)
		list = append(list, Remedy{d.Words, []design.Edit{e}})
		if all.Label != "" {
			all.Label += ", "
		}
		all.Label, all.Edits = all.Label+d.Words, append(all.Edits, e)
	}
	with := func(label string, edits ...design.Edit) Remedy {
		if all.Label == "" {
			return Remedy{label, edits}
		}
		return Remedy{all.Label + ", " + label, append(slices.Clone(all.Edits), edits...)}
	}
	if len(all.Edits) > 1 {
		list = append(list, all)
	}
	for _, d := range design.Serves(r.Bed, design.TurnsBeams) {
		if !d.Taken(r.Bed) && !d.IdleOn(r.Bed) {
			list = append(list, with(d.Words, d.Edit(r.Bed), r.edit("beams", design.Auto)))
		}
	}
	if d, ok := design.Serve(r.Bed, design.AddsLegs); ok && (len(all.Edits) == 0 || severity(l) == Warning) {
		list = append(list, r.legsBetween(d, all.Edits)...)
	}
	for _, f := range r.Frame.Floors {
		if f.Field != "" {
			word := f.Carriers()
			for _, n := range []int{len(f.Beams) + 1, 0} {
				if n <= f.Most && n != len(f.Beams) && (n > 0 || word == frame.Beam) {
					list = append(list, with(supports(n, word)+" under the floor", r.edit(f.Field, strconv.Itoa(n))))
				}
			}
		}
		if f.LedgerField != "" {
			list = append(
				list,
				Remedy{
					supports(f.LedgerSpans, frame.MidPost) + " on each long side",
					[]design.Edit{r.edit(f.LedgerField, strconv.Itoa(f.LedgerSpans))},
				},
			)
		}
	}
	if p, ok := r.Frame.Part(l.From); ok && p.Course > 0 && (l.Way == strength.Bending || l.Way == strength.Shearing) {
		for _, p := range r.thicker() {
			list = append(list, with("boards of "+p.Name, r.edit("board", p.ID)))
			break
		}
	}
	step := r.usualHole() / 12
	for _, over := range []float64{l.Ratio(), excess(l)} {
		if less := floorTo(r.Bed.Soil, over, step); less >= 4*step && l.Path == strength.OnFloor {
			list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
			if all.Label != "" {
				break
			}
		}
	}
	return list
}

// legsBetween are legs between the corners, more and more of them, beside what hangs the
// floor better; where they can stand only if others stand elsewhere, those are moved.
func (r *reviewer) legsBetween(legs design.Serving, hang []design.Edit) []Remedy {
	freed := design.Serves(r.Bed, design.FreesLegs)
	stays := slices.DeleteFunc(slices.Clone(hang), func(e design.Edit) bool {
		return slices.ContainsFunc(freed, func(d design.Serving) bool { return d.Key == e.Field })
	})
	where := "legs"
	for _, d := range freed {
		stays = append(stays, d.Edit(r.Bed))
		where = cmp.Or(d.Words, where)
	}
	var list []Remedy
	now, _ := strconv.Atoi(legs.Text(r.Bed, r.p))
	for n := now + 1; n <= legs.Most; n++ {
		list = append(list, Remedy{fmt.Sprintf("%s, %d between on each long side", where, n),
			append(slices.Clone(stays), legs.To(r.Bed, strconv.Itoa(n)))})
	}
	return list
}

func (r *reviewer) hasBeams() bool {
	return slices.ContainsFunc(r.Frame.Parts, func(p frame.Part) bool { return p.Kind == frame.Beam })
}

// capBetter is what is done about a cap that pries its screws out.
func (r *reviewer) capBetter() []Remedy {
	board, err := r.Catalog.Profile(r.Bed.CapProfile)
	if err != nil || r.Bed.Cap == design.NoCap {
		return nil
	}
	half := (board.Width - r.board.Thickness) / 2
	var list []Remedy
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	return append(list, Remedy{"the cap centred on the walls", append(r.to("cap_in", half), r.to("cap_out", half)...)},
		Remedy{"no cap", []design.Edit{r.edit("cap", design.NoCap)}})
}

// lower takes what stands tall down, or away.
func (r *reviewer) lower() []Remedy {
	var list []Remedy
	step := r.usualHole() / 12
	for _, d := range design.Serves(r.Bed, design.SetsTall) {
		for _, eighths := range []int64{7, 6, 5} {
			high := floorTo(d.LengthOf(r.Bed)*8, 64/float64(eighths), step)
			list = append(list, Remedy{"only " + r.p.Feet(high) + " high", r.to(d.Key, high)})
		}
	}
	for _, d := range design.Serves(r.Bed, design.StandsTall) {
		if !d.Taken(r.Bed) {
			list = append(list, Remedy{d.Words, []design.Edit{d.Edit(r.Bed)}})
		}
	}
	return list
}

// tiesAcross are so many ties more than there are, one after the other, up to three.
func (r *reviewer) tiesAcross(more int) []Remedy {
	d, ok := design.Serve(r.Bed, design.TiesWalls)
	if !ok {
		return nil
	}
	var list []Remedy
	now, _ := strconv.Atoi(d.Text(r.Bed, r.p))
	for n := now + 1; n <= min(3, now+more); n++ {
		list = append(list, Remedy{supports(n, frame.CrossTie), []design.Edit{d.To(r.Bed, strconv.Itoa(n))}})
	}
	return list
}

// holdBetter is what is done about a wall whose boards are pulled off.
func (r *reviewer) holdBetter(x route, l strength.Link) []Remedy {
	var list []Remedy
	for _, w := range r.Frame.Walls {
		if slices.Contains(w.Boards, l.From) && w.Field != "" {
			list = append(list, r.moreSupports(w, min(6, len(w.Supports)-2+1)))
		}
	}
	for _, d := range design.Serves(r.Bed, design.HoldsCorners) {
		if !d.Taken(r.Bed) {
			list = append(list, Remedy{d.Words, []design.Edit{d.Edit(r.Bed)}})
		}
	}
	if x.path == strength.OnSide {
		list = append(list, r.tiesAcross(1)...)
	}
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	// a push grows with the square of its depth, or the lowest board's with it
	for _, over := range []float64{math.Sqrt(l.Ratio()), l.Ratio()} {
		if less := r.lessSoil(over); less > 0 && less < r.Bed.Soil {
			list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
		}
	}
	return list
}
