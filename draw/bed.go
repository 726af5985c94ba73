package draw

import (
	"fmt"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// View is a way to look at a bed.
type View string

// The views.
const (
	Above View = "above"
	Front View = "front"
	End   View = "end"
	Solid View = "solid"
	Apart View = "apart" // in build order, what is not built yet floating above
	Loads View = "loads" // where a load goes, from soil to ground
)

// Views lists the views in the order they are offered, with their names.
var Views = []struct {
	View View
	Name string
}{{Above, "from above"}, {Front, "front"}, {End, "end"}, {Solid, "solid"}, {Apart, "taken apart"}, {Loads, "loads"}}

// ParseView reads a view's name; anything else is the view from above.
func ParseView(s string) View {
	for _, v := range Views {
		if string(v.View) == s {
			return v.View
		}
	}
	return Above
}

func (v View) name() string {
	for _, w := range Views {
		if w.View == v {
			return w.Name
		}
	}
	return string(v)
}

// Sheet is the paper a drawing is made for.
type Sheet struct {
	W, H  float64  // pixels
	Font  float64  // of dimensions, pixels
	Own   bool     // carries its style, for a file
	Edit  string   // link that takes a dimension in hand; "%s" is the field. Empty: nothing can be edited
	Parts []string // draw these only, for a step; nil draws all
	New   []string // of those, the ones the step is about; the others are faint
	Plain bool     // no dimensions
	Pick  string   // link that takes a part in hand; "%s" is its ID. Empty: none
	Held  string   // the part in hand
	Turn  int      // of the solid: degrees round it, from where it is usually looked at
	Tilt  int      // of the solid: degrees down, likewise
	Acts  int      // of the bed taken apart: how many acts of assembly are done
	Path  string   // of the loads: which; "" for the one that is nearest to too much
	Bar   bool     // with a scale bar
	Heads bool     // with the heads of all fixings
	Snug  bool     // no higher than what is drawn takes, where it cannot be turned
}

// Where the solid is usually looked at from: degrees to the right of the front,
// and down.
const (
	usualTurn = 28
	usualTilt = 32
)

// Bed draws one bed of a plan.
func Bed(p *plan.Plan, bed string, v View, s Sheet) string {
	for i := range p.Frames {
		if p.Frames[i].Bed == bed || bed == "" {
			d := &drawing{plan: p, f: &p.Frames[i], view: v, sheet: s, precision: p.Shop.Precision()}
			return d.draw()
		}
	}
	return ""
}

type drawing struct {
	page
	plan      *plan.Plan
	f         *frame.Frame
	view      View
	sheet     Sheet
	precision measure.Precision
	cam       camera
	scale     float64
	shift     pt
	order     []*body
	box       [2]pt                     // of the figure, on paper
	heard     map[string]bool           // letters and courses that were named for who hears it
	taken     []pt                      // middles of letters and marks already set
	inner     bool                      // another dimension stands outside the one being drawn
	apart     bool                      // taken apart: the soil is not in yet
	lifts     map[string]measure.Length // of parts that float
	floating  []floatingAct
}

func (d *drawing) at(v vec) pt {
	q := d.cam.flat(v)
	return pt{q.x*d.scale + d.shift.x, q.y*d.scale + d.shift.y}
}

func (d *drawing) place(p frame.Point) pt { return d.at(space(p)) }

func (d *drawing) draw() string {
	switch d.view {
	case Above:
		d.cam = fromAbove
	case Front:
		d.cam = fromFront
	case End:
		d.cam = fromEnd
	case Apart:
		d.apart = true
		d.cam = turned(usualTurn, 24)
	default:
		d.cam = turned(float64(usualTurn+d.sheet.Turn), float64(min(max(usualTilt+d.sheet.Tilt, 5), 85)))
	}
	if d.apart {
		d.float(0)
		d.order, _ = paint(d.bodies(), d.cam)
		d.fit() // for the tallest: the scale stays while it is built
		d.float(d.sheet.Acts)
	}
	d.order, _ = paint(d.bodies(), d.cam)
	if !d.apart {
		d.fit()
	}
	title := d.f.Name + ", " + d.view.name()
	if d.sheet.Pick != "" {
		title += ": " + d.plan.Described(d.f.Bed)
	}
	d.open(d.sheet.W, d.sheet.H, title, d.sheet.Own)
	falls := d.f.Fall > 0 && d.view == Front // and is drawn across the wall
	if d.elevation() && !falls {
		d.ground()
	}
	if d.view == Loads {
		d.begin("d-ghost")
	}
	for _, b := range d.order {
		d.body(b)
	}
	if d.view == Loads {
		d.end()
		d.loads()
		return d.close()
	}
	if falls {
		d.ground()
	}
	d.behind()
	d.fittings()
	d.letters()
	if d.sheet.Heads && !d.apart {
		d.heads()
	}
	if d.apart {
		d.actNumbers()
		return d.close()
	}
	if !d.sheet.Plain {
		d.dimensions()
		d.doubts()
		d.handles()
		d.points()
	}
	if d.view == Above || d.elevation() {
		d.barOn(d.sheet, d.scale, d.precision.System)
	}
	return d.close()
}

func (d *drawing) elevation() bool { return d.view == Front || d.view == End }

func (d *drawing) wanted(id string) bool {
	return d.sheet.Parts == nil || has(d.sheet.Parts, id)
}

func has(list []string, id string) bool {
	for _, s := range list {
		if s == id {
			return true
		}
	}
	return false
}

// fit finds the scale at which the figure and its dimensions fill the sheet.
func (d *drawing) fit() {
	var all []pt
	for _, b := range d.order {
		all = append(all, b.lo, b.hi)
	}
	if d.elevation() || d.apart {
		for _, part := range d.f.Parts {
			if d.wanted(part.ID) {
				for _, q := range part.Body.Corners() {
					all = append(all, d.cam.flat(space(q)))
				}
			}
		}
	}
	if len(d.f.Levels) > 0 { // the last terrace ends at no wall
		for _, s := range d.f.Outside {
			all = append(all, d.cam.flat(space(frame.Point{X: s.U, Y: s.V, Z: d.f.Levels[len(d.f.Levels)-1].Height})))
		}
	}
	if d.sheet.Parts == nil {
		for _, x := range d.f.Fittings {
			for _, line := range x.Lines {
				for _, q := range line {
					all = append(all, d.cam.flat(space(q)))
				}
			}
		}
	}
	if d.elevation() {
		for _, c := range d.f.Cavities {
			for _, s := range c.Outline {
				if c.Pot {
					all = append(all, d.cam.flat(space(frame.Point{X: s.U, Y: s.V, Z: c.Top})))
				}
			}
		}
	}
	if len(all) == 0 {
		all = []pt{{0, 0}, {1000, 1000}}
	}
	lo, hi := bounds(all)
	m := d.margins()
	w, h := d.sheet.W-m.left-m.right, d.sheet.H-m.top-m.bottom
	d.scale = min(w/max(hi.x-lo.x, 1), h/max(hi.y-lo.y, 1))
	if d.sheet.Snug && (d.view == Above || d.elevation()) {
		h = (hi.y - lo.y) * d.scale
		d.sheet.H = h + m.top + m.bottom
	}
	d.shift = pt{
		m.left + (w-(hi.x-lo.x)*d.scale)/2 - lo.x*d.scale,
		m.top + (h-(hi.y-lo.y)*d.scale)/2 - lo.y*d.scale,
	}
	d.box = [2]pt{
		{lo.x*d.scale + d.shift.x, lo.y*d.scale + d.shift.y},
		{hi.x*d.scale + d.shift.x, hi.y*d.scale + d.shift.y},
	}
}

type margin struct{ left, right, top, bottom float64 }

func (d *drawing) row() float64 { return d.sheet.Font * 2.1 }

func (d *drawing) margins() margin {
	if d.apart {
		return margin{d.sheet.Font * 3.4, 16, 14, 14}
	}
	if d.sheet.Plain {
		return margin{12, 12, 12, 12}
	}
	if d.view == Loads {
		return margin{30, 30, 30, 40}
	}
	if d.view == Solid {
		e := d.row() * 2.2
		high := 0.0 // the height may be written beside its line
		for _, m := range d.f.Measures {
			if axis, l := m.Run(); m.Primary && axis == frame.Z {
				high = textWidth(d.precision.Feet(l), d.sheet.Font)
			}
		}
		return margin{max(e, d.row()*0.9+high+14), e, d.row() * 0.8, e}
	}
	rows := d.rows()
	size := func(n int) float64 { return d.row()*float64(n) + d.sheet.Font*1.1 }
	beside := 0.0 // low walls have their height written beside the line
	if d.elevation() {
		beside = d.sheet.Font * 2.6
	}
	return margin{
		left:   size(rows[leftSide]) + beside,
		right:  size(rows[rightSide]) + beside,
		top:    size(rows[topSide]),
		bottom: size(rows[bottomSide]),
	}
}

// body draws one solid as a group that carries its name and letter.
func (d *drawing) body(b *body) {
	if b.pot {
		d.begin("pot")
		for _, f := range b.visible(d.cam) {
			if f.normal[2] > 0.9 {
				d.poly("d-soil", d.corners(f))
			} else {
				d.poly("d-pot", d.corners(f))
			}
		}
		d.end()
		return
	}
	if b.unit != nil {
		d.laid(b)
		return
	}
	if b.cast {
		d.poured(b)
		return
	}
	if b.back {
		d.begin("back")
		for _, f := range b.visible(d.cam) {
			d.poly("d-back", d.corners(f))
		}
		d.end()
		return
	}
	if b.part == nil {
		d.begin("soil")
		for _, f := range b.visible(d.cam) {
			pts := d.corners(f)
			if b.more {
				d.poly("d-soil d-soil-piece", pts)
			} else {
				d.poly("d-soil", pts)
			}
			if f.normal[2] > 0.9 {
				d.flecks(pts)
			}
		}
		d.end()
		return
	}
	extra := ""
	if d.sheet.New != nil && !has(d.sheet.New, b.part.ID) {
		extra = " d-faint"
	}
	if b.more && d.sheet.Pick == "" {
		d.add(`<g class="part%s" data-letter="%s">`, extra, esc(b.part.Letter))
	} else if b.more {
		d.add(`<a class="part%s" data-letter="%s" href="%s" tabindex="-1" aria-hidden="true"><title>%s: %s</title>`, extra,
			esc(b.part.Letter), esc(fmt.Sprintf(d.sheet.Pick, b.part.ID)), esc(b.part.Letter), esc(b.part.Role))
	} else {
		d.group(b.part, extra)
	}
	for _, f := range b.visible(d.cam) {
		pts := d.corners(f)
		if len(b.part.Notches) > 0 {
			d.poly(d.tone(f, b.part)+" d-seamless", pts)
			d.edges(f, b.part)
			continue
		}
		d.poly(d.tone(f, b.part), pts)
		d.grain(f, b.part, pts)
	}
	d.endPart()
}

func (p *page) begin(class string) { p.add(`<g class="%s">`, class) }

func (p *page) end() { p.add(`</g>`) }

// group opens a part's own group, a link where parts can be taken in hand.
func (d *drawing) group(p *frame.Part, extra string) {
	if p.ID == d.sheet.Held {
		extra += " d-lit"
	}
	if d.sheet.Pick == "" {
		d.add(`<g class="part%s" data-part="%s" data-letter="%s">`, extra, esc(p.ID), esc(p.Letter))
	} else {
		alike := 0
		for i := range d.f.Parts {
			if d.f.Parts[i].Letter == p.Letter {
				alike++
			}
		}
		words := fmt.Sprintf("%s: %s, %s", p.Letter, p.Role, d.precision.Short(p.Length))
		if alike > 1 {
			words += fmt.Sprintf(", one of %d alike", alike)
		}
		d.add(`<a class="part%s" data-part="%s" data-letter="%s" href="%s" tabindex="-1"%s>`, extra, esc(p.ID),
			esc(p.Letter), esc(fmt.Sprintf(d.sheet.Pick, p.ID)), d.once(p.Letter, words))
	}
	d.add(`<title>%s: %s, %s</title>`, esc(p.Letter), esc(p.Role), esc(d.precision.Short(p.Length)))
}

// once is how a thing is heard that is drawn many times: the first says what they all are, the others nothing.
func (d *drawing) once(key, words string) string {
	if d.heard[key] {
		return ` aria-hidden="true"`
	}
	if d.heard == nil {
		d.heard = map[string]bool{}
	}
	d.heard[key] = true
	return ` aria-label="` + esc(words) + `"`
}

func (d *drawing) endPart() {
	if d.sheet.Pick == "" {
		d.end()
		return
	}
	d.add(`</a>`)
}

func (d *drawing) corners(f face) []pt {
	pts := make([]pt, len(f.corners))
	for i, c := range f.corners {
		pts[i] = d.at(c)
	}
	return pts
}
