package review

import (
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
		if p, ok := r.Frame.Part(l.From); ok && p.Kind == "cap" {
			return r.capBetter()
		}
		return r.carryBetter(l)
	case strength.Wind:
		return r.lower()
	}
	return r.holdBetter(x, l)
}

// measure is one change to how a floor is hung.
type measureOf struct {
	label, field, value string
}

// carryBetter is how a floor's load is hung better: each measure that the bed has and does
// not take yet, then all of them, with other beams, with legs between, with thicker boards,
// with less soil.
func (r *reviewer) carryBetter(l strength.Link) []Remedy {
	var list []Remedy
	var all Remedy
	for _, m := range []measureOf{
		{"more screws at the legs", "leg_screws", "many"}, {"blocks under the ledgers' ends", "ledger_ends", "blocks"},
		{"screws along the ledgers every 3 in (75 mm)", "ledger_screws", "close"}, {"brackets at the beams' ends",
			"beam_ends", "brackets"},
	} {
		f, ok := design.FieldOf(r.Bed, m.field)
		if !ok || f.Text(r.Bed, r.p) == m.value || m.field == "beam_ends" && !r.hasBeams() ||
			m.field == "ledger_ends" && r.Bed.Options["legs"] == "outside" {
			continue
		}
		e := r.edit(m.field, m.value)
		list = append(list, Remedy{m.label, []design.Edit{e}})
		if all.Label != "" {
			all.Label += ", "
		}
		all.Label, all.Edits = all.Label+m.label, append(all.Edits, e)
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
	if f, ok := design.FieldOf(r.Bed, "beams_run"); ok && f.Text(r.Bed, r.p) != "across" &&
		r.Bed.Options["floor"] == "level" {
		list = append(
			list,
			with("beams from side to side", r.edit("beams_run", "across"), r.edit("beams", design.Auto)),
		)
	}
	if _, ok := design.FieldOf(r.Bed, "mid_legs"); ok && (len(all.Edits) == 0 || severity(l) == Warning) {
		now, _ := strconv.Atoi(r.Bed.Options["mid_legs"])
		for n := now + 1; n <= 3; n++ {
			var edits []design.Edit
			for _, e := range all.Edits {
				if e.Field != "ledger_ends" {
					edits = append(edits, e)
				}
			}
			edits = append(
				edits,
				r.edit("ledger_ends", "walls"),
				r.edit("legs", "outside"),
				r.edit("mid_legs", strconv.Itoa(n)),
			)
			list = append(list, Remedy{fmt.Sprintf("legs outside the walls, %d between on each long side", n), edits})
		}
	}
	for _, f := range r.Frame.Floors {
		if f.Field != "" {
			word := "beam"
			if f.Field == "spanners" {
				word = "spanner"
			}
			for _, n := range []int{len(f.Beams) + 1, 0} {
				if n <= f.Most && n != len(f.Beams) && (n > 0 || word == "beam") {
					list = append(list, with(supports(n, word)+" under the floor", r.edit(f.Field, strconv.Itoa(n))))
				}
			}
		}
		if f.LedgerField != "" {
			list = append(
				list,
				Remedy{
					supports(f.LedgerSpans, "mid post") + " on each long side",
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

func (r *reviewer) hasBeams() bool {
	return slices.ContainsFunc(r.Frame.Parts, func(p frame.Part) bool { return p.Kind == "beam" })
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
	for _, field := range []string{"trellis_height", "hoop_rise"} {
		f, ok := design.FieldOf(r.Bed, field)
		if !ok {
			continue
		}
		for _, eighths := range []int64{7, 6, 5} {
			high := floorTo(f.LengthOf(r.Bed)*8, 64/float64(eighths), step)
			list = append(list, Remedy{"only " + r.p.Feet(high) + " high", r.to(field, high)})
		}
	}
	for _, field := range []string{"trellis", "hoops", "arch"} {
		if _, ok := design.FieldOf(r.Bed, field); ok && r.Bed.Has(field) {
			list = append(list, Remedy{"no " + field, []design.Edit{r.edit(field, design.NotThere)}})
		}
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
	if f, ok := design.FieldOf(r.Bed, "fixed_by"); ok && f.Text(r.Bed, r.p) == "screws" {
		list = append(list, Remedy{"lag bolts at the corners", []design.Edit{r.edit("fixed_by", "lags")}})
	}
	if f, ok := design.FieldOf(r.Bed, "cross_ties"); ok && x.path == strength.OnSide {
		now, _ := strconv.Atoi(f.Text(r.Bed, r.p))
		if now < 3 {
			list = append(
				list,
				Remedy{supports(now+1, "cross tie"), []design.Edit{r.edit("cross_ties", strconv.Itoa(now+1))}},
			)
		}
	}
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	for _, over := range []float64{math.Sqrt(l.Ratio()), l.Ratio()} { // a push grows with the square of its depth, or the lowest board's with it
		if less := r.lessSoil(over); less > 0 && less < r.Bed.Soil {
			list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
		}
	}
	return list
}
