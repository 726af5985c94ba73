package plan

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"chamfer/core/aside"
	"chamfer/core/builder"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/review"
	"chamfer/core/site"
	"chamfer/core/strength"
	"chamfer/core/water"
)

// vet builds a bed anew with every remedy and keeps those that can be built, mend what
// they are for, and bring nothing worse. Where none is left for what will disappoint or
// cannot be built, it looks for one: another board, less soil, a shorter bed, another
// system. It builds as many as its share of the bound allows; see mostVetted.
func (p *Plan) vet(i int, found []review.Finding) {
	type offer struct{ of, at int }
	var offers []offer
	for k, f := range found {
		for m := range f.Remedies {
			offers = append(offers, offer{k, m})
		}
	}
	mends := make([]bool, len(offers))
	left := p.vetted(i)
	again := looks{}
	aside.Do(min(len(offers), left), func(n int) { // one that brings a fault is not offered
		if p.left() {
			return
		}
		f := found[offers[n].of]
		mends[n] = p.mends(i, f, found, f.Remedies[offers[n].at].Edits, &again)
	})
	left -= len(offers)
	good := make([][]review.Remedy, len(found))
	for n, o := range offers {
		if mends[n] {
			good[o.of] = append(good[o.of], found[o.of].Remedies[o.at])
		}
	}
	for k := range found {
		f := &found[k]
		f.Remedies = good[k]
	}
	for k := range found {
		f := &found[k]
		if len(f.Remedies) > 0 || f.Severity == review.Note {
			continue
		}
		for _, m := range p.lastResorts(p.Design.Beds[i]) {
			if left--; left < 0 || p.left() {
				return
			}
			mend := false
			fault := aside.Catch(func() { mend = p.mends(i, *f, found, m.Edits, &again) })
			if fault == nil && mend {
				f.Remedies = append(f.Remedies, m)
				break
			}
		}
	}
}

// left reports whether whoever asked for the plan is gone.
func (p *Plan) left() bool { return p.waiting != nil && p.waiting.Err() != nil }

// looks are the findings of a bed after edits, each list of edits once: several findings
// are mended by the same change.
type looks struct{ made sync.Map } // of the edits, written out: func() ([]review.Finding, error)

// after edits, look finds what it finds, at once or once another has found it.
func (l *looks) after(edits []design.Edit, look func() ([]review.Finding, error)) ([]review.Finding, error) {
	once, _ := l.made.LoadOrStore(fmt.Sprintf("%q", edits), sync.OnceValues(look))
	return once.(func() ([]review.Finding, error))()
}

// mends reports whether edits rid a bed of a finding without bringing a worse one.
func (p *Plan) mends(i int, f review.Finding, before []review.Finding, edits []design.Edit, again *looks) bool {
	after, err := again.after(edits, func() ([]review.Finding, error) { return p.edited(i, edits) })
	if err != nil {
		return false
	}
	for _, g := range after {
		if g.Code == f.Code && g.Severity.Rank() >= f.Severity.Rank() {
			return false
		}
		there := slices.ContainsFunc(
			before,
			func(b review.Finding) bool { return b.Code == g.Code && b.Severity.Rank() >= g.Severity.Rank() },
		)
		if !there && g.Severity.Rank() > f.Severity.Rank() {
			return false
		}
	}
	return true
}

// edited reviews the i-th bed with edits.
func (p *Plan) edited(i int, edits []design.Edit) ([]review.Finding, error) {
	d, at := p.Design, i
	placed := slices.ContainsFunc(edits, func(e design.Edit) bool { return strings.HasPrefix(e.Field, "place:") })
	if !placed { // the others are as they were
		d.Beds, at = d.Beds[i:i+1], 0
	}
	d, err := design.Apply(d, p.Shop.Catalog, edits...)
	if err != nil {
		return nil, err
	}
	return p.lookAgain(d.Beds[at], i, d, placed)
}

// lookAgain reviews the bed that was the i-th as it is now: it is built and fixed, and
// what no board yields is told by its length, without planning the cuts. Beds that were
// placed anew are laid out anew.
func (p *Plan) lookAgain(bed design.Bed, i int, d design.Design, placed bool) ([]review.Finding, error) {
	f, err := builder.Build(bed, p.Shop.Catalog)
	if err != nil {
		return nil, err
	}
	f.Times = bed.Times()
	one := []frame.Frame{f}
	frame.Letter(one)
	fixed := p.draft.With(i, &one[0])
	fixed.Use(d.Have)
	layout := p.Site
	if placed {
		frames := slices.Clone(p.Frames)
		frames[i] = one[0]
		plot := d.PlotOr(p.Shop.Catalog)
		layout = site.Arrange(d.Beds, frames, plot, d.Plot != nil, p.Shop.Catalog.Passages[plot.Passage])
	}
	forms := ground.Form(p.Surface, &layout, []design.Bed{bed}, one, ground.EarthOf(d.GroundOr().Earth).Trodden)
	links := strength.Walk(strength.Input{Frame: &one[0], Catalog: p.Shop.Catalog, Fixed: fixed.ByJoint, On: bed.On})
	walks := p.Walks
	if placed {
		walks = ground.Walks(p.Surface, &layout, ground.EarthOf(d.GroundOr().Earth).Trodden)
	}
	return review.Look(
		review.Input{
			Bed:        bed,
			Frame:      &one[0],
			Site:       &layout,
			Formations: forms,
			Survey:     p.Survey,
			Walks:      walks,
			Even:       d.GroundOr().Even == "even",
			Water:      p.wetAgain(bed, i, one[0], d, &layout),
			Links:      links,
			Catalog:    p.Shop.Catalog,
			Habits:     p.Shop.Habits,
			Unmet:      p.tooLong(one[0]),
			Missing:    fixed.Missing,
			Fixed:      fixed.ByJoint,
			Needs:      fixed.Needs,
			First:      i == 0,
			Patches:    p.regrown(i, bed, &one[0]),
			Crops:      p.Crops,
			South:      p.Light().Place.Lat < 0,
		},
	), nil
}

// wetAgain lays the water anew with the i-th bed changed, where something of it is amiss as it is.
func (p *Plan) wetAgain(bed design.Bed, i int, f frame.Frame, d design.Design, layout *site.Layout) water.Plan {
	amiss := p.Water.Trickles()
	for _, z := range p.Water.Zones {
		amiss = amiss || p.Water.Short(z) || p.Water.Weak(z)
	}
	if !amiss {
		return water.Plan{}
	}
	beds, frames := slices.Clone(p.Design.Beds), slices.Clone(p.Frames)
	beds[i], frames[i] = bed, f
	w, err := water.Work(water.Input{Beds: beds, Frames: frames, Site: layout, Water: d.WaterOr(p.Shop.Catalog),
		Catalog: p.Shop.Catalog})
	if err != nil {
		return p.Water // as bad as it was
	}
	return w
}

// tooLong lists the pieces of a frame that are longer than any board there is.
func (p *Plan) tooLong(f frame.Frame) []cutting.Unmet {
	var list []cutting.Unmet
	longest := map[[2]string]measure.Length{}
	for _, part := range f.Parts {
		key := [2]string{part.Profile, part.Species}
		most, ok := longest[key]
		if !ok {
			profile, err := p.Shop.Catalog.Profile(part.Profile)
			if err != nil {
				continue
			}
			for _, o := range p.Shop.Catalog.OffersOf(part.Profile, part.Species) {
				if !slices.Contains(p.Design.Without, o.SKU) {
					most = max(most, o.Length-profile.Ear)
				}
			}
			for _, l := range p.Shop.Shed {
				if l.Profile == part.Profile && l.Species == part.Species {
					most = max(most, l.Length)
				}
			}
			longest[key] = most
		}
		if part.CutLength() > most &&
			!slices.ContainsFunc(list, func(u cutting.Unmet) bool { return u.Piece == part.Letter }) {
			list = append(list, cutting.Unmet{Piece: part.Letter, Reason: "no board is long enough"})
		}
	}
	return list
}

// A planter that two people carry and one reaches across (common practice: 4 ft by 2 ft and 9
// in of soil, 1200 by 600 and 225 mm).
const (
	tableLong = 48 * measure.Inch
	tableWide = 24 * measure.Inch
	tableDeep = 9 * measure.Inch
)

// lastResorts are changes that mend much, the gentlest first.
func (p *Plan) lastResorts(bed design.Bed) []review.Remedy {
	pr := p.Shop.Precision()
	step := measure.Inch
	if pr.System == measure.Metric {
		step = 25 * measure.Millimetre
	}
	set := func(field, value string) design.Edit { return design.Edit{Bed: bed.ID, Field: field, Value: value} }
	var list []review.Remedy
	add := func(label string, edits ...design.Edit) {
		list = append(list, review.Remedy{Label: label, Edits: edits})
	}
	less := func(l measure.Length, percent int64) measure.Length {
		return l * measure.Length(percent) / 100 / step * step
	}
	if d, ok := design.Serve(bed, design.TiesWalls); ok {
		for i, words := range []string{"one cross tie", "two cross ties", "three cross ties"} {
			if n := fmt.Sprint(i + 1); n != d.Text(bed, pr) {
				add(words, d.To(bed, n))
			}
		}
	}
	soil := []int64{85, 70, 55, 40}
	for _, percent := range soil[:2] {
		add(pr.Feet(less(bed.Soil, percent))+" of soil", set("soil", less(bed.Soil, percent).String()))
	}
	if f, ok := design.FieldOf(bed, "board"); ok {
		for _, c := range f.Choices(p.Shop.Catalog, bed) {
			if c.Value != bed.Board {
				add("boards of "+c.Label, set("board", c.Value))
			}
		}
	}
	for _, percent := range soil[2:] {
		add(pr.Feet(less(bed.Soil, percent))+" of soil", set("soil", less(bed.Soil, percent).String()))
	}
	for _, percent := range soil {
		if l := less(bed.Length, percent); l >= bed.Width {
			add("make the bed "+pr.Feet(l)+" long", set("length", l.String()))
		}
	}
	if bed.On.Firm() {
		add("stand it on the ground", set("on", "ground"))
	}
	for _, what := range []string{design.AnyHeight, design.OnPaving} {
		if s, ok := design.SystemFor(what); ok && s.Name != bed.System {
			add("a "+lower(s.Title)+" instead", set("system", s.Name))
			add(
				fmt.Sprintf("a %s with %s of soil", lower(s.Title), pr.Feet(less(bed.Soil, 70))),
				set("system", s.Name),
				set("soil", less(bed.Soil, 70).String()),
			)
			long, wide, deep := min(
				bed.Length,
				tableLong/step*step,
			), min(
				bed.Width,
				tableWide/step*step,
			), min(
				bed.Soil,
				tableDeep/step*step,
			)
			add(
				fmt.Sprintf("a %s of %s by %s instead", lower(s.Title), pr.Feet(long), pr.Feet(wide)),
				set(
					"system",
					s.Name,
				),
				set("length", long.String()),
				set("width", wide.String()),
				set("soil", deep.String()),
			)
		}
	}
	return list
}
