package design

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// moveTo takes a project to another region: its catalogue, its measure and its money. Sizes
// stay what they are to the nanometre, but for those that whole units decide; boards, posts
// and blocks become those that are nearest of what is sold there, and timber the one that
// lasts as long. What was said of the old shop goes: its prices, what was there of its goods,
// boards measured, timbers of one's own, lengths not to be had.
func (d *Design) moveTo(region string, from *catalog.Catalog) (*catalog.Catalog, error) {
	to, err := catalog.ForRegion(region)
	if err != nil {
		return from, err
	}
	if region == d.Region {
		return from, nil
	}
	if n := len(d.Saw); n > 0 {
		return from, fmt.Errorf("with %s cut already it stays in the catalogue they are from",
			measure.Count(n, "board"))
	}
	for id, text := range d.Units {
		was, err1 := catalog.ParseUnit(text, from.System)
		is, err2 := catalog.ParseUnit(text, to.System)
		if err1 != nil || err2 != nil || was.Length != is.Length || was.Height != is.Height || was.Depth != is.Depth {
			return from, fmt.Errorf("the block %q (%s) was written without units, and would become another size", text, id)
		}
	}
	d.Region = region
	d.Prices, d.Sold, d.Measured, d.Have, d.Broken, d.Without, d.Timbers = nil, nil, nil, nil, nil, nil, nil
	to = to.Owning(d.Units)
	for i := range d.Beds {
		b := &d.Beds[i]
		b.Before = nil
		b.resettle(from, to)
	}
	return to, nil
}

// resettle gives a bed the nearest of what another catalogue has to what it is built of.
func (b *Bed) resettle(from, to *catalog.Catalog) {
	s, _ := SystemNamed(b.System)
	b.Species = lasting(b.Species, from, to)
	b.Board = nearestProfile(b.Board, from, to, func(p catalog.Profile) bool {
		return s.takes(p) && to.Sold(p.ID, b.Species)
	})
	if !to.Sold(b.Board, b.Species) {
		b.takeBoard(s, to)
	}
	b.Post = nearestProfile(b.Post, from, to, func(p catalog.Profile) bool {
		was, err := from.Profile(b.Post)
		return err == nil && p.Kind == was.Kind
	})
	b.CapProfile = nearestProfile(b.CapProfile, from, to, func(p catalog.Profile) bool { return p.Kind == catalog.Board })
	for _, f := range FieldsOf(*b) {
		if f.Kind != ChoiceField || f.Key == "system" || f.listed || f.extra != "" && !b.Has(f.extra) {
			continue
		}
		choices := f.Choices(to, *b)
		has := func(value string) bool {
			return slices.ContainsFunc(choices, func(c Choice) bool { return c.Value == value })
		}
		value := f.value(*b)
		if has(value) || len(choices) == 0 {
			continue
		}
		next := ""
		if _, err := from.Profile(value); err == nil {
			next = nearestProfile(value, from, to, func(p catalog.Profile) bool { return has(p.ID) })
		} else if u, err := from.Unit(value); err == nil {
			next = nearestUnit(u, to, has)
		}
		if !has(next) && f.own() {
			next = f.start(to)
		}
		if !has(next) {
			next = choices[0].Value
		}
		if f.own() {
			b.option(f.Key, next)
		} else {
			*f.text(b) = next
		}
	}
	b.shareCap(to, []Edit{{Bed: b.ID, Field: "board"}})
	rail, err := to.Profile(b.CapProfile)
	if board, err2 := to.Profile(b.Board); err == nil && err2 == nil && s.RippedCap {
		share := max(0, rail.Width-board.Thickness)
		b.CapOut = min(b.CapOut, share)
		b.CapIn = min(b.CapIn, share-b.CapOut)
	}
	if !b.suits(to) && s.Follow != nil { // in whole units, where it is built of those
		c := b.Copied()
		s.Follow(&c, to, func(field string) bool { return field == "unit" })
		if c.suits(to) {
			*b = c
		}
	}
	if !b.suits(to) && s.Start != nil { // of what the system starts with there, if that suits
		c := b.Copied()
		s.Start(to, &c)
		c.Length, c.Width, c.Soil, c.Freeboard = b.Length, b.Width, b.Soil, b.Freeboard
		if s.Follow != nil {
			s.Follow(&c, to, func(string) bool { return false })
		}
		if c.suits(to) {
			*b = c
		}
	}
}

// lasting is the timber of another catalogue that is called the same, or lasts as long.
func lasting(id string, from, to *catalog.Catalog) string {
	if _, err := to.SpeciesOf(id); err == nil {
		return id
	}
	was, err := from.SpeciesOf(id)
	best, off := id, 0
	for i, s := range to.Species {
		d := max(s.LifeMax-was.LifeMax, was.LifeMax-s.LifeMax)
		if err != nil || i == 0 || d < off {
			best, off = s.ID, d
		}
	}
	return best
}

// nearestProfile is the profile of another catalogue whose section is nearest, of those that
// will do; thickness counts three times, since it decides what holds. With none it stays.
func nearestProfile(id string, from, to *catalog.Catalog, will func(catalog.Profile) bool) string {
	was, err := from.Profile(id)
	if err != nil {
		return id
	}
	best, off := id, measure.Length(-1)
	for _, p := range to.Profiles {
		d := 3*max(p.Thickness-was.Thickness, was.Thickness-p.Thickness) + max(p.Width-was.Width, was.Width-p.Width)
		if will(p) && (off < 0 || d < off) {
			best, off = p.ID, d
		}
	}
	return best
}

// nearestUnit is the unit of another catalogue of a kind whose length, depth and height are
// nearest together; any other that is offered where there is none of the kind.
func nearestUnit(was catalog.Unit, to *catalog.Catalog, will func(string) bool) string {
	best, off := "", measure.Length(-1)
	apart := func(a, b measure.Length) measure.Length { return max(a-b, b-a) }
	for _, kind := range []bool{true, false} {
		for _, u := range to.Units {
			d := apart(u.Length, was.Length) + apart(u.Depth, was.Depth) + apart(u.Height, was.Height)
			if will(u.ID) && (u.Kind == was.Kind) == kind && (off < 0 || d < off) {
				best, off = u.ID, d
			}
		}
		if best != "" {
			break
		}
	}
	return best
}
