package web

import (
	"fmt"
	"math"

	"chamfer/core/strength"
	"chamfer/draw"
)

// loadsView is the path of a load beside its drawing: every kind of link at its worst.
type loadsView struct {
	Paths []viewLink
	Rows  []loadRow
}

type loadRow struct {
	What, Load, Holds, Breaks, Share string
	Class                            string // "", "much" or "over"
}

// loads fills the list of the path that is drawn.
func (b *benchPage) loads() {
	if b.View != draw.Loads {
		return
	}
	var links []strength.Link
	for _, l := range b.Plan.Links {
		if l.Bed == b.Bed {
			links = append(links, l)
		}
	}
	f := b.frame()
	if f == nil || len(links) == 0 {
		return
	}
	v := &loadsView{}
	path := draw.LoadPath(links, b.Path)
	for _, p := range strength.Paths(links) {
		v.Paths = append(v.Paths, viewLink{string(p), b.Link("path", string(p)), p == path})
	}
	kind := func(id string) string {
		if p, ok := f.Part(id); ok {
			return string(p.Kind)
		}
		return id
	}
	for _, l := range strength.Gathered(links, path, kind) {
		row := loadRow{
			What:   fmt.Sprintf("%s on %s, %s", kind(l.From), kind(l.To), l.Way),
			Load:   b.force(l.Load),
			Holds:  b.force(l.Holds),
			Breaks: b.force(l.Breaks),
			Share:  fmt.Sprintf("%.0f %%", math.Min(100*l.Ratio(), 99_999)),
		}
		if l.From == l.To {
			row.What = fmt.Sprintf("%s, %s", kind(l.From), l.Way)
		}
		switch {
		case l.Ratio() > l.Much():
			row.Class = "over"
		case l.Ratio() > 1:
			row.Class = "much"
		}
		v.Rows = append(v.Rows, row)
	}
	b.Loads = v
}

// force is a force in the project's words.
func (b *benchPage) force(n float64) string { return b.P.pr.System.Force(n) }
