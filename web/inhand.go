package web

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
)

// partView is the part that was taken in hand on the drawing: what it is, and
// the decisions that shape it.
type partView struct {
	frame.Part
	Profile string
	Alike   int // pieces of its letter, in the whole project
	Size    string
	Act     string // when it is put in place
	Fields  []fieldView
	Course  []*remedyView // one board lower, one board higher
	Close   string
}

// actView is one act of assembly of the bed taken apart.
type actView struct {
	Number int
	Title  string
	Link   string
	Done   bool
}

// frame is the bed that is looked at.
func (b *benchPage) frame() *frame.Frame {
	i := slices.IndexFunc(b.Plan.Frames, func(f frame.Frame) bool { return f.Bed == b.Bed })
	return &b.Plan.Frames[max(0, i)]
}

// listedPart is what is cut alike, or a course, in the list of parts: the twin of pressing it on the drawing.
type listedPart struct {
	Letter, What string
	Count        int
	Link         string
}

// PartList lists what the bed in hand is made of, by letter and by course.
func (b *benchPage) PartList() (list []listedPart) {
	f, pr := b.frame(), b.Plan.Shop.Precision()
	at := map[string]int{}
	add := func(key, what, id string) {
		i, ok := at[key]
		if !ok {
			i = len(list)
			at[key] = i
			list = append(list, listedPart{Letter: key, What: what, Link: b.Link("part", id) + "#inhand"})
		}
		list[i].Count++
	}
	for _, p := range f.Parts {
		add(p.Letter, p.Role+", "+pr.Short(p.Length), p.ID)
	}
	for _, u := range f.Units {
		add(fmt.Sprint("course ", u.Course), "blocks", u.ID)
	}
	return list
}

// inHand shows the part in hand, if there is one.
func (b *benchPage) inHand(bed design.Bed, no refused) {
	f := b.frame()
	cat, pr := b.Plan.Shop.Catalog, b.Plan.Shop.Precision()
	part, ok := f.Part(b.Part)
	unit := slices.IndexFunc(f.Units, func(u frame.Unit) bool { return u.ID == b.Part })
	if unit >= 0 {
		u := f.Units[unit]
		part, ok = frame.Part{
			ID:     u.ID,
			Letter: fmt.Sprint(u.Course),
			Role:   u.Role + ", " + string(u.Kind),
			Fields: u.Fields,
		}, true
	}
	if !ok {
		return
	}
	v := &partView{Part: part, Close: b.Link("part", "")}
	if p, err := cat.Profile(part.Profile); err == nil {
		v.Profile = p.Name
		v.Size = fmt.Sprintf("%s × %s, %s long", pr.Short(part.Thickness), pr.Short(part.Width), pr.Feet(part.Length))
		if part.Width < p.Width {
			v.Size += ", ripped from " + pr.Short(p.Width)
		}
	}
	if unit >= 0 {
		u := f.Units[unit]
		if of, err := cat.Unit(u.SKU); err == nil {
			v.Profile = of.Name
			v.Size = fmt.Sprintf("%s × %s × %s", pr.Short(of.Length), pr.Short(of.Depth), pr.Short(of.Height))
		}
		if u.Cut > 0 {
			v.Size = strings.TrimSuffix(v.Size, ", cut") + ", cut to " + pr.Short(u.Cut)
		}
		for _, o := range f.Units {
			if o.SKU == u.SKU && o.Kind == u.Kind && o.Cut == u.Cut {
				v.Alike += f.Times
			}
		}
	}
	for _, n := range part.Notches {
		from, to, deep, _ := n.Cut(part)
		v.Size += fmt.Sprintf(
			"; notched for %s from %s to %s along, %s in",
			n.For,
			pr.Short(from),
			pr.Short(to),
			pr.Short(deep),
		)
	}
	for i := range b.Plan.Frames {
		for _, p := range b.Plan.Frames[i].Parts {
			if p.Letter == part.Letter && unit < 0 {
				v.Alike += b.Plan.Frames[i].Times
			}
		}
	}
	for _, a := range f.Acts {
		if slices.Contains(a.Parts, part.ID) && !a.Loose || slices.Contains(a.Again, part.ID) {
			v.Act = a.Title
		}
	}
	for _, key := range part.Fields {
		if d, ok := design.FieldOf(bed, key); ok && d.Decides(b.Plan.Shop.Catalog, bed) {
			shown := b.field(d, bed, no, true)
			shown.ID = "p-" + key
			v.Fields = append(v.Fields, shown)
		}
	}
	if part.Course > 0 {
		b.courses(v, bed, part)
	}
	b.InHand = v
}

// courses offers the bed a board lower and a board higher.
func (b *benchPage) courses(v *partView, bed design.Bed, part frame.Part) {
	soil, ok := design.FieldOf(bed, "soil")
	if !ok {
		return
	}
	pr := b.Plan.Shop.Precision()
	for _, by := range []struct {
		words string
		add   measure.Length
	}{{"one board lower", -part.Width}, {"one board higher", part.Width}} {
		to := soil.LengthOf(bed) + by.add
		if to <= 0 {
			continue
		}
		rv := &remedyView{Label: by.words + ", " + pr.Feet(to) + " of soil", Set: []string{"soil=" + to.String()}}
		b.ask(
			func(o plan.Outcome) { rv.Effect, rv.Vain = effect(o.Changes), o.Err != nil },
			design.Edit{Bed: bed.ID, Field: "soil", Value: to.String()},
		)
		v.Course = append(v.Course, rv)
	}
}

// measured lists the boards of the bed with the sizes they are reckoned at.
func (b *benchPage) measured(no refused) {
	cat, pr := b.Plan.Shop.Catalog, b.Plan.Shop.Precision()
	var seen []string
	for _, p := range b.frame().Parts {
		if slices.Contains(seen, p.Profile) {
			continue
		}
		seen = append(seen, p.Profile)
		profile, err := cat.Profile(p.Profile)
		if err != nil {
			continue
		}
		_, own := b.Plan.Design.Measured[profile.ID]
		b.Own = b.Own || own
		for _, side := range []struct {
			name string
			is   measure.Length
		}{{"width", profile.Width}, {"thickness", profile.Thickness}} {
			b.Measured = append(b.Measured, b.sizeField(profile, side.name, side.is, own, pr, no))
		}
	}
}

func (b *benchPage) sizeField(
	p catalog.Profile,
	side string,
	is measure.Length,
	own bool,
	pr measure.Precision,
	no refused,
) fieldView {
	key := "measured:" + p.ID + ":" + side
	v := fieldView{
		ID:    "m-" + p.ID + "-" + side,
		Key:   key,
		Label: p.Name + ", " + side,
		Kind:  design.LengthField,
		Text:  pr.Feet(is),
	}
	if !pr.Exact(is) {
		v.Text = is.String()
	}
	if own {
		v.Help = "as you measured it; empty goes back to the size it is sold as"
	}
	no.fill(&v)
	b.Own = b.Own || v.Error != ""
	return v
}

// actList lists the acts of assembly for the slider of the bed taken apart, and
// the ways to turn the solid.
func (b *benchPage) actList() {
	f := b.frame()
	b.ActsDone = min(b.where.Acts, len(f.Acts))
	number := 0
	for i, a := range f.Acts {
		v := actView{Title: a.Title, Done: i < b.ActsDone, Link: b.Link("acts", fmt.Sprint(i+1))}
		if !a.Loose && len(f.Pieces(a.Parts))+len(a.Again) > 0 {
			number++
			v.Number = number
		}
		b.Acts = append(b.Acts, v)
	}
	if b.View != draw.Solid {
		return
	}
	for _, t := range []struct {
		name       string
		turn, tilt int
	}{{"turn left", -30, 0}, {"turn right", 30, 0}, {"from higher", 0, 12}, {"from lower", 0, -12}} {
		link := b.Link("turn", fmt.Sprint((b.Turn+t.turn)%360), "tilt", fmt.Sprint(min(max(b.Tilt+t.tilt, -24), 48)))
		b.Turns = append(b.Turns, viewLink{Name: t.name, Link: link})
	}
	if b.Turn != 0 || b.Tilt != 0 {
		b.Turns = append(b.Turns, viewLink{Name: "as at first", Link: b.Link("turn", "0", "tilt", "0")})
	}
}
