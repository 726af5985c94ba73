package plan

import (
	"fmt"

	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
)

// A plan has a bound on its work, so that no design keeps anybody waiting or fills the
// memory. It is counted in things: the parts, units and joints that are worked out, each
// bed once however many are built alike. What is over a bound is refused by name while it
// is set, by Make as by every edit. About 50,000 things a second are looked at, and about
// 300,000 asked the price of, by one processor of a small machine.
const (
	MostThings = 20_000 // of one project: some fifty large beds
	MostUnits  = 10_000 // blocks or bricks, those of beds built alike counted each
	// mostVetted is how many are built anew to find out whether remedies mend, shared
	// evenly among the beds: all remedies of any everyday project. One that was not built
	// is not offered.
	mostVetted = 80_000
	// mostAsked is how many are asked the price of for one page: all alternatives of any
	// project of up to some 4,000 things.
	mostAsked = 400_000
	// mostKinds of timber are searched for their cheapest boards with the whole effort;
	// more share what that comes to.
	mostKinds = 12
)

// things is how much there is to work out in a frame.
func things(f *frame.Frame) int { return len(f.Parts) + len(f.Units) + len(f.Joints) }

// Things is how much there is to work out in a plan, each bed once.
func (p *Plan) Things() int {
	n := 0
	for i := range p.Frames {
		n += things(&p.Frames[i])
	}
	return n
}

// bounded refuses a project of more things than one plan works out, or of more blocks
// than it counts.
func (p *Plan) bounded() error {
	units, worst := 0, &p.Frames[0]
	for i := range p.Frames {
		f := &p.Frames[i]
		if units += len(f.Units) * f.Times; len(f.Units)*f.Times > len(worst.Units)*worst.Times {
			worst = f
		}
	}
	if units > MostUnits {
		r := &design.Refusal{Bed: worst.Bed, Field: "count", Value: fmt.Sprint(worst.Times)}
		r.Reason = fmt.Sprintf("%d blocks are more than the %d of one plan: ", units, MostUnits)
		if up := worst.Times - (units-MostUnits+len(worst.Units)-1)/len(worst.Units); up > 0 {
			r.Reason += fmt.Sprintf("up to %d of this bed work, or a second project for the rest", up)
		} else {
			r.Field, r.Reason = "beds", r.Reason+"fewer beds work, or a second project for some of them"
		}
		return r
	}
	n := p.Things()
	if n <= MostThings {
		return nil
	}
	return &design.Refusal{
		Field: "beds",
		Reason: fmt.Sprintf("this project comes to %d parts, units and joints, more than the %d of one plan:"+
			" a bed less or a shorter one works, or a second project for some of them", n, MostThings),
	}
}

// tooMany refuses what the cutter does not take: more pieces of a kind of timber, or more
// different ones, than one plan holds; by the bed that has the most of them.
func (p *Plan) tooMany(k timberKind, name string, r cutting.Request) error {
	pieces := 0
	for _, q := range r.Pieces {
		pieces += q.Quantity
	}
	if len(r.Pieces) > cutting.MaxKinds || len(r.Stock) > cutting.MaxKinds {
		return &design.Refusal{
			Field: "beds",
			Reason: fmt.Sprintf("%d different pieces of %s are more than the %d of one plan:"+
				" beds that are alike share their pieces, or a second project takes some of them", len(r.Pieces), name,
				cutting.MaxKinds),
		}
	}
	if pieces <= cutting.MaxPieces {
		return nil
	}
	worst, most, each := 0, 0, 1
	for i, f := range p.Frames {
		n := 0
		for _, part := range f.Parts {
			if (timberKind{part.Profile, part.Species}) == k {
				n++
			}
		}
		if n*f.Times > most {
			worst, most, each = i, n*f.Times, n
		}
	}
	f := &p.Frames[worst]
	if up := f.Times - (pieces-cutting.MaxPieces+each-1)/each; up > 0 {
		return &design.Refusal{Bed: f.Bed, Field: "count", Value: fmt.Sprint(f.Times),
			Reason: fmt.Sprintf(
				"%d of these bring %s to %d pieces, more than the %d of one plan: up to %d work, or a second project"+
					" for the rest",
				f.Times,
				name,
				pieces,
				cutting.MaxPieces,
				up,
			)}
	}
	return &design.Refusal{Field: "beds", Reason: fmt.Sprintf("%d pieces of %s are more than the %d of one plan:"+
		" fewer beds work, or a second project for some of them", pieces, name, cutting.MaxPieces)}
}

// vetted is how many remedies of a bed are built anew.
func (p *Plan) vetted(i int) int {
	return max(2, mostVetted/len(p.Frames)/max(1, things(&p.Frames[i])))
}

// askable is how many what-ifs of the whole plan are answered for one page.
func (p *Plan) askable() int { return mostAsked / max(1, p.Things()) }

// Prices reports whether this many alternatives are asked the price of; where they are
// not, the project is too large for it.
func (p *Plan) Prices(n int) bool { return n <= p.askable() }
