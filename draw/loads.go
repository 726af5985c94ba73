package draw

import (
	"fmt"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// loads draws the path of a load over the faint bed: every piece that bends as a line along
// it, every joint as a dot, every foot as an arrow into the ground; the fuller a link is the
// thicker, and the worst of each kind with its share of what may be counted on.
func (d *drawing) loads() {
	var links, all []strength.Link
	for _, l := range d.plan.Links {
		if l.Bed == d.f.Bed {
			all = append(all, l)
		}
	}
	path := LoadPath(all, d.sheet.Path)
	for _, l := range all {
		if l.Path == path && l.Load > 0 {
			links = append(links, l)
		}
	}
	joints := map[string]frame.Point{}
	for _, j := range d.f.Joints {
		joints[j.ID] = j.At
	}
	slices.SortStableFunc(links, func(a, b strength.Link) int { // the worst on top
		return int(1000*min(a.Ratio(), 1e6)) - int(1000*min(b.Ratio(), 1e6))
	})
	for _, l := range links {
		part, ok := d.f.Part(l.From)
		if !ok {
			continue
		}
		at, joined := joints[l.Joint]
		switch {
		case l.From == l.To && l.Way == strength.Bending:
			a, b := ends(part)
			d.line(loadClass(l), d.place(a), d.place(b))
		case joined:
			q := d.place(at)
			d.add(
				`<circle class="%s" cx="%s" cy="%s" r="%s"/>`,
				loadClass(l),
				n(q.x),
				n(q.y),
				n(2.5+3*min(l.Ratio(), 2)),
			)
		case l.To == "ground" || l.Way == strength.Rolling || l.To == "deck" || l.To == "slab":
			d.downArrow(loadClass(l), d.place(foot(part)))
		}
	}
	d.loadLabels(links, path, joints)
}

// LoadPath is the path that is asked for, or the one whose worst link is worst.
func LoadPath(links []strength.Link, asked string) strength.Path {
	best, most := strength.Path(""), -1.0
	for _, l := range links {
		if l.Load <= 0 {
			continue
		}
		if string(l.Path) == asked {
			return l.Path
		}
		if over := l.Ratio() / l.Much(); over > most && l.Path != strength.Seated {
			best, most = l.Path, over
		}
	}
	return best
}

// loadClass is a link's look, by how full it is.
func loadClass(l strength.Link) string {
	switch ratio := l.Ratio(); {
	case ratio <= 1:
		return "d-load"
	case ratio <= l.Much():
		return "d-load d-load-much"
	}
	return "d-load d-load-over"
}

// ends are the middles of a piece's ends.
func ends(p frame.Part) (a, b frame.Point) {
	lo, hi := p.Body.Bounds()
	mid := frame.Point{X: (lo.X + hi.X) / 2, Y: (lo.Y + hi.Y) / 2, Z: (lo.Z + hi.Z) / 2}
	a, b = mid, mid
	if way, half := p.Way(), float64(p.Length)/2; p.Turn != 0 {
		d := frame.Point{X: measure.Length(half * way[0]), Y: measure.Length(half * way[1])}
		return frame.Point{X: mid.X - d.X, Y: mid.Y - d.Y, Z: mid.Z}, mid.Plus(d)
	}
	switch p.Grain {
	case frame.X:
		a.X, b.X = lo.X, hi.X
	case frame.Y:
		a.Y, b.Y = lo.Y, hi.Y
	default:
		a.Z, b.Z = lo.Z, hi.Z
	}
	return a, b
}

// foot is the middle of a piece's underside.
func foot(p frame.Part) frame.Point {
	lo, hi := p.Body.Bounds()
	return frame.Point{X: (lo.X + hi.X) / 2, Y: (lo.Y + hi.Y) / 2, Z: lo.Z}
}

func (d *drawing) downArrow(class string, q pt) {
	const long, wide = 22, 5
	tip := pt{q.x, q.y + long}
	d.add(`<path class="%s" d="M%s %sV%sM%s %sL%s %sL%s %s"/>`, class, n(q.x), n(q.y), n(tip.y),
		n(tip.x-wide), n(tip.y-wide*1.4), n(tip.x), n(tip.y), n(tip.x+wide), n(tip.y-wide*1.4))
}

// loadLabels writes the share of each kind of link at its worst, where there is room.
func (d *drawing) loadLabels(links []strength.Link, path strength.Path, joints map[string]frame.Point) {
	kind := func(id string) string {
		if p, ok := d.f.Part(id); ok {
			return string(p.Kind)
		}
		return id
	}
	const most = 6
	size := d.sheet.Font * 0.85
	var boxes [][2]pt
	for _, l := range strength.Gathered(links, path, kind) {
		part, ok := d.f.Part(l.From)
		if !ok || len(boxes) == most || l.Ratio() < 0.05 {
			continue
		}
		at, joined := joints[l.Joint]
		switch {
		case joined:
		case l.From == l.To:
			a, b := ends(part)
			at = frame.Point{X: (a.X + b.X) / 2, Y: (a.Y + b.Y) / 2, Z: (a.Z + b.Z) / 2}
		case l.To == "ground" || l.To == "deck" || l.To == "slab":
			at = foot(part)
		default:
			continue
		}
		text := fmt.Sprintf("%.0f %%", 100*l.Ratio())
		q := d.place(at)
		w := textWidth(text, size) + 10
		for _, shift := range []pt{{0, -size * 1.2}, {w * 0.7, 0}, {-w * 0.7, 0}, {0, size * 2}} {
			lo, hi := pt{q.x + shift.x - w/2, q.y + shift.y - size}, pt{q.x + shift.x + w/2, q.y + shift.y + size*0.4}
			if lo.x < 2 || hi.x > d.sheet.W-2 || lo.y < 2 || hi.y > d.sheet.H-2 ||
				slices.ContainsFunc(boxes, func(b [2]pt) bool {
					return lo.x < b[1].x && hi.x > b[0].x && lo.y < b[1].y && hi.y > b[0].y
				}) {
				continue
			}
			boxes = append(boxes, [2]pt{lo, hi})
			d.add(
				`<rect class="d-load-tag" x="%s" y="%s" width="%s" height="%s" rx="3"/>`,
				n(lo.x),
				n(lo.y),
				n(hi.x-lo.x),
				n(hi.y-lo.y),
			)
			d.text("d-text", pt{q.x + shift.x, q.y + shift.y}, size, 0, text)
			break
		}
	}
}
