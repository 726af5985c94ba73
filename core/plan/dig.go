package plan

import (
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/terrain"
	"chamfer/core/water"
)

// lead lays the water to the beds, and the paths between them, once.
func (p *Plan) lead() (err error) {
	if p.led {
		return nil
	}
	p.led = true
	d := p.Design
	if p.Site.Stands == nil && slices.ContainsFunc(d.Beds, func(b design.Bed) bool {
		return b.Water == design.ByDrip || b.Water == design.BySprinkler
	}) {
		p.layOut()
	}
	if p.edging, err = ground.Edged(p.pathArea(), p.edge(), p.Shop.Catalog); err != nil {
		return err
	}
	p.Fixings.Also(p.edging, p.Shop.Catalog)
	p.Water, err = water.Work(water.Input{Beds: d.Beds, Frames: p.Frames, Site: &p.Site,
		Water: d.WaterOr(p.Shop.Catalog), Catalog: p.Shop.Catalog})
	return err
}

// dig works out the ground the beds stand on from what was read of it, once. What is as it was in
// another plan is taken from there: what-ifs ask for it dozens of times.
func (p *Plan) dig(from *Plan) {
	g := p.Design.GroundOr()
	if len(g.Readings) == 0 || p.dug {
		return
	}
	p.dug = true
	if p.Site.Stands == nil {
		p.layOut()
	}
	if p.onGroundOf(from) {
		p.Survey, p.Surface, p.Walks = from.Survey, from.Surface, from.Walks
		if p.Design.GroundOr().Earth != from.Design.GroundOr().Earth {
			p.Walks = ground.Walks(p.Surface, &p.Site, ground.EarthOf(g.Earth).Trodden)
		}
		if p.levelsOf(from) {
			p.Formations = from.Formations
			return
		}
	} else {
		survey, err := terrain.Reduce(g.Readings)
		if err != nil {
			return // Check has seen that they can be reduced
		}
		p.Survey, p.Surface = survey, ground.Surface(survey.Pegs, &p.Site)
		p.Walks = ground.Walks(p.Surface, &p.Site, ground.EarthOf(g.Earth).Trodden)
	}
	p.Formations = ground.Form(p.Surface, &p.Site, p.Design.Beds, p.Frames, ground.EarthOf(g.Earth).Trodden)
}

// onGroundOf reports whether the ground is that of another plan: the same readings, under beds
// that stand in the same places.
func (p *Plan) onGroundOf(from *Plan) bool {
	return from != nil && from.dug && slices.Equal(p.Design.GroundOr().Readings, from.Design.GroundOr().Readings) &&
		slices.Equal(p.Site.Stands, from.Site.Stands) && slices.Equal(p.Site.Plot.Fences, from.Site.Plot.Fences) &&
		p.Site.Plot.Passage == from.Site.Plot.Passage && p.Site.Plot.Width == from.Site.Plot.Width &&
		p.Site.Plot.Depth == from.Site.Plot.Depth
}

// plain reports whether what a frame stands on follows from its outside alone.
func plain(f *frame.Frame) bool {
	return f.Taken == nil && f.Outline == nil && len(f.Arcs)+len(f.Pours)+len(f.Levels) == 0
}

// levelsOf reports whether all beds stand on it as they do in the other plan.
func (p *Plan) levelsOf(from *Plan) bool {
	if len(p.Frames) != len(from.Frames) || p.Design.GroundOr().Earth != from.Design.GroundOr().Earth {
		return false
	}
	for i, b := range p.Design.Beds {
		o := from.Design.Beds[i]
		f, g := &p.Frames[i], &from.Frames[i]
		if b.ID != o.ID || b.Name != o.Name || b.On != o.On || f.OnFeet != g.OnFeet || !plain(f) || !plain(g) ||
			f.Outside != g.Outside || !slices.Equal(b.Places, o.Places) {
			return false
		}
	}
	return true
}
