package draw

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// Lining draws how one sheet lies, cut through, large enough to see its laps: against a wall in strips, on a
// floor with its edge turned up, as a trough with its holes, on the ground, or out at a fence. It is "" for a
// sheet the plan does not have.
func Lining(p *plan.Plan, sheet string, s Sheet) string {
	for _, c := range p.Ground.Covers {
		if c.Sheet.ID != sheet {
			continue
		}
		d := &lining{cover: c, p: p.Shop.Precision(), size: s.Font, w: s.W, h: s.H, tall: 8 * measure.Inch,
			thick: 2 * measure.Inch, say: func(text string) string { return p.Say(text) }}
		for i := range p.Frames {
			if f := &p.Frames[i]; f.Bed == c.Sheet.Bed {
				d.of(f)
			}
		}
		d.open(s.W, s.H, "How the "+strings.ToLower(c.Roll.Name)+" lies", s.Own)
		d.draw()
		return d.close()
	}
	return ""
}

// lining is a sheet beside a wall so tall and thick; the sheet itself is drawn thicker than it is.
type lining struct {
	page
	cover       ground.Cover
	p           measure.Precision
	size, w, h  float64
	tall, thick measure.Length
	boards      []measure.Length // heights where one board ends and the next begins
	soil        measure.Length   // below the rim
	times       int
	floor       bool
	stone       bool
	say         func(string) string
	scale, x, y float64 // of the wall's inner foot
	notes       []noted
}

// of takes the wall from a bed's frame: the first that soil lies against.
func (d *lining) of(f *frame.Frame) {
	d.times, d.floor = f.Times, f.OnFeet || len(f.Floors) > 0
	for _, c := range f.Cavities {
		if !c.Pot {
			d.tall, d.soil = max(c.Rim, c.Top)-c.Bottom, max(c.Rim, c.Top)-c.Top
			break
		}
	}
	for _, p := range f.Parts {
		if lo, hi := p.Body.Bounds(); p.Course > 0 && p.Grain == frame.X && len(f.Cavities) > 0 {
			d.thick = hi.Y - lo.Y
			d.boards = append(d.boards, hi.Z-f.Cavities[0].Bottom)
		}
	}
	d.stone = f.Lasts()
	if len(f.Units) > 0 {
		lo, hi := f.Units[0].Body.Bounds()
		d.thick = min(hi.Y-lo.Y, hi.X-lo.X)
	}
}

func (d *lining) draw() {
	s := d.cover.Sheet
	lift := d.size * 2.6
	if d.narrow() {
		lift += d.size * 6.6
	}
	d.y = d.h - lift
	d.scale = min((d.y-d.size)/float64(d.tall), d.right()*0.3/float64(max(d.thick, d.tall/3)))
	d.x = max(d.size*2, d.right()*0.24)
	switch {
	case s.Bed == "":
		d.onPath()
	case s.Outside:
		d.atFence()
	case !s.Inside:
		d.onGround()
	case s.Holes.Count > 0:
		d.trough()
	case s.Lines:
		d.strips()
	default:
		d.turnedUp()
	}
	d.tell()
}

func (d *lining) px(l measure.Length) float64 { return float64(l) * d.scale }

// class is the line of what it is of.
func (d *lining) class() string {
	switch d.cover.Sheet.Material {
	case "mesh":
		return "d-mesh d-thick d-on-soil"
	case catalog.Membrane, catalog.Trough:
		return "d-membrane d-thick"
	}
	return "d-cloth d-thick"
}

// earth draws the ground below to a right edge.
func (d *lining) earth(right float64) {
	d.poly("d-earth-cut", []pt{{0, d.y}, {right, d.y}, {right, d.y + d.size*1.8}, {0, d.y + d.size*1.8}})
}

// wall draws the wall with the soil before it, torn off at the right, and returns where the soil's surface is.
func (d *lining) wall(right float64) float64 {
	top, t := d.y-d.px(d.tall), d.px(d.thick)
	surface := top + d.px(d.soil)
	if !d.floor {
		d.earth(right)
	}
	soil := []pt{{d.x, surface}}
	for k := range 9 {
		soil = append(soil, pt{right - 7*float64(k%2), surface + (d.y-surface)*float64(k)/8})
	}
	d.poly("d-soil", append(soil, pt{d.x, d.y}))
	of := "d-timber-end"
	if d.stone {
		of = "d-stone-face"
	}
	d.poly(of, []pt{{d.x - t, top}, {d.x, top}, {d.x, d.y}, {d.x - t, d.y}})
	for _, z := range d.boards {
		if y := d.y - d.px(z); y > top+1 && y < d.y-1 {
			d.line("d-edge", pt{d.x - t, y}, pt{d.x, y})
		}
	}
	return surface
}

// note says something of a place; it is written once all is drawn.
func (d *lining) note(at pt, said string) { d.notes = append(d.notes, noted{at, said}) }

// noted is what is said of a place.
type noted struct {
	at   pt
	said string
}

// tell writes the notes in the order their places lie, so that no two lines cross: beside the drawing, each as
// near its place as there is room, or where it is narrow as numbers with the words below.
func (d *lining) tell() {
	low := func(x noted) bool { return x.at.y > d.y/2 }
	slices.SortStableFunc(d.notes, func(a, b noted) int {
		beside := cmp.Compare(b.at.x, a.at.x)
		if low(a) && low(b) {
			beside = -beside
		}
		return cmp.Or(cmp.Compare(math.Round(a.at.y/12), math.Round(b.at.y/12)), beside)
	})
	row := d.size * 1.7
	last := d.size * 0.2
	for k, x := range d.notes {
		if d.narrow() {
			q := pt{6, d.h + d.size*(1.5*float64(k-len(d.notes))-0.6)}
			d.add(`<circle class="d-note-mark" cx="%s" cy="%s" r="%s"/>`, n(x.at.x), n(x.at.y), n(d.size*0.62))
			d.text("d-text d-note-n", pt{x.at.x, x.at.y + d.size*0.34}, d.size*0.9, 0, fmt.Sprint(k+1))
			d.start(q, fmt.Sprintf("%d  %s", k+1, x.said))
			continue
		}
		most := d.h - d.size*0.6 - row*float64(len(d.notes)-1-k)
		last = min(max(last+row, x.at.y), most)
		q := pt{d.right() + d.size*1.6, last}
		for _, class := range []string{"d-note-halo", "d-note-line"} {
			d.line(class, x.at, pt{q.x - 5, q.y - d.size*0.34})
		}
		d.add(`<circle class="d-note-mark" cx="%s" cy="%s" r="3"/>`, n(x.at.x), n(x.at.y))
		d.start(q, x.said)
	}
}

// start writes words that start at a place.
func (d *lining) start(at pt, said string) {
	d.add(`<text class="d-text d-start" x="%s" y="%s" font-size="%s">%s</text>`, n(at.x), n(at.y), n(d.size), esc(said))
}

// narrow reports whether there is no room for words beside the drawing.
func (d *lining) narrow() bool { return d.w < 500 }

// right is where the drawing ends and words begin.
func (d *lining) right() float64 {
	if d.narrow() {
		return d.w - 4
	}
	return d.w * 0.58
}

// staple is drawn through a sheet at a height.
func (d *lining) staple(x, y float64) {
	d.line("d-staple", pt{x + 9, y}, pt{x - 12, y})
	d.line("d-staple", pt{x + 9, y - 4}, pt{x + 9, y + 4})
}

// strips are those of a wall's lining: the upper hangs over the lower.
func (d *lining) strips() {
	right := d.right()
	top := d.wall(right) + 4
	each := max(1, d.cover.Strips/max(1, d.times))
	roll, lap := d.px(d.cover.Roll.RollWidth), d.px(d.cover.Roll.Lap)
	low := d.y
	for k := range each {
		high := max(top, low-roll)
		if k == each-1 {
			high = top
		}
		off := 5 + 9*float64(k)
		d.line(d.class(), pt{d.x + off, low}, pt{d.x + off, high})
		d.staple(d.x+off, high+6)
		if k > 0 {
			d.span(low, low-lap, d.x+off+12, "lap "+d.p.Short(d.cover.Roll.Lap))
		}
		low = high + lap
	}
	d.note(pt{d.x + 12, top + 6}, d.say(everyStaple))
	d.note(pt{d.x + d.size*4, top}, "its edge in the soil: no sun")
	if each > 1 {
		d.note(pt{d.x + 14, low - lap - 4}, "the upper hangs over the lower")
	}
	d.note(pt{d.x + 5, d.y - 3}, "open below: water leaves")
}

// everyStaple is how sheets are stapled.
const everyStaple = "stapled every 5 to 6 in (125 to 150 mm)"

// span is an upright dimension with its words to the right.
func (d *lining) span(from, to, x float64, words string) {
	d.line("d-dim d-on-soil", pt{x, from}, pt{x, to})
	for _, y := range []float64{from, to} {
		d.line("d-tick d-on-soil", pt{x - 3, y + 3}, pt{x + 3, y - 3})
	}
	d.add(`<text class="d-text d-start d-on-soil" x="%s" y="%s" font-size="%s">%s</text>`, n(x+6),
		n((from+to)/2+d.size*0.34), n(d.size), esc(words))
}

// turnedUp is a sheet on a floor or the ground inside, turned up the walls.
func (d *lining) turnedUp() {
	right := d.right()
	d.wall(right)
	up := d.px(d.cover.Sheet.TurnUp)
	if d.floor {
		for x := d.x; x < right-d.size; x += d.size * 3.4 {
			d.poly("d-timber-end", []pt{{x, d.y}, {min(x+d.size*3, right), d.y}, {min(x+d.size*3, right), d.y + d.size},
				{x, d.y + d.size}})
		}
	}
	d.add(`<path class="%s" d="M%s %sV%sH%s"/>`, d.class(), n(d.x+5), n(d.y-up), n(d.y-4), n(right))
	if up > 0 {
		d.span(d.y, d.y-up, d.x+18, d.p.Short(d.cover.Sheet.TurnUp)+" up")
		if d.cover.Sheet.Stapled > 0 {
			d.staple(d.x+5, d.y-up+5)
			d.note(pt{d.x + 12, d.y - up + 5}, d.say(everyStaple))
		}
	}
	told := "water goes through, soil does not"
	if d.cover.Sheet.Material == "mesh" {
		told = "cut points turned down"
	}
	d.note(pt{(d.x + right) / 2, d.y - 4}, told)
	if d.cover.Strips > max(1, d.times) {
		d.note(pt{right - d.size, d.y - 4}, "strips lap "+d.p.Short(d.cover.Roll.Lap))
	}
}

// trough is a sheet over floor and walls, with its holes, on a floor that is packed up at its back.
func (d *lining) trough() {
	h := d.cover.Sheet.Holes
	wide := d.cover.Sheet.Width
	d.scale = min((d.right()-d.size*2)/float64(wide+2*d.thick), (d.y-d.size)/float64(d.tall+h.Tilt))
	t, left := d.px(d.thick), d.size*1.4
	d.x = left + t
	right := d.x + d.px(wide)
	lean := max(d.px(h.Tilt), 5)
	top, surface := d.y-d.px(d.tall), d.y-d.px(d.tall-d.soil)
	d.poly("d-soil", []pt{{d.x, surface}, {right, surface}, {right, d.y - lean}, {d.x, d.y}})
	for _, x := range []float64{left, right} {
		d.poly("d-timber-end", []pt{{x, top}, {x + t, top}, {x + t, d.y}, {x, d.y}})
	}
	d.line("d-ground", pt{0, d.y + 10}, pt{right + t + d.size, d.y + 10})
	d.add(`<path class="%s" d="M%s %sh%sV%sL%s %sV%sh%s"/>`, d.class(), n(d.x+14), n(surface+7), n(-10.0), n(d.y-3),
		n(right-4), n(d.y-3-lean), n(surface+7), n(-10.0))
	rows := h.Rows
	first, last := d.x+d.px(h.Near), right-d.px(h.Near)
	var hole pt
	for k := range rows {
		x := first + (last-first)*float64(k)/float64(rows-1)
		y := d.y - 3 - lean*(x-d.x)/(right-d.x)
		d.line("d-hole", pt{x - 4, y}, pt{x + 4, y})
		d.line("d-runs", pt{x, y + 2}, pt{x, y + 12})
		hole = pt{x, y}
	}
	for _, x := range []struct {
		at   pt
		said string
	}{
		{pt{right - 9, surface + 7}, "folded under, in the soil"},
		{pt{right - 4, (surface + d.y) / 2}, "pressed into the corners"},
		{hole, measure.Count(h.Count, "hole") + " of " + d.p.Short(h.Across)},
		{pt{right - 8, d.y - lean}, "packed up by " + d.p.Short(h.Tilt)},
	} {
		d.note(x.at, x.said)
	}
}

// onGround is a sheet laid before the walls, which stand on it.
func (d *lining) onGround() {
	right := d.right()
	d.wall(right)
	lap := max(d.px(d.cover.Roll.Lap), d.size*3)
	from, mid := d.x-d.px(d.thick)-6, (d.x+right)/2
	d.line(d.class(), pt{from, d.y + 3}, pt{mid + lap/2, d.y + 3})
	if d.cover.Strips > max(1, d.times) {
		d.add(`<path class="%s" d="M%s %sL%s %sH%s"/>`, d.class(), n(mid-lap/2), n(d.y-4), n(mid+lap/2), n(d.y-4), n(right))
		d.note(pt{mid, d.y - 4}, "strips lap "+d.p.Short(d.cover.Roll.Lap))
	} else {
		d.line(d.class(), pt{mid + lap/2, d.y + 3}, pt{right, d.y + 3})
	}
	d.note(pt{d.x - d.px(d.thick)/2, d.y + 3}, "the walls stand on it")
	told := "wetted: it lies flat"
	if d.cover.Sheet.Material != "cardboard" {
		told = "pulled flat"
	}
	d.note(pt{d.x + d.size*2, d.y + 3}, told)
}

// atFence is a skirt: a hand up the net, the rest outwards on the ground.
func (d *lining) atFence() {
	d.scale = d.right() * 0.5 / float64(24*measure.Inch)
	out := d.cover.Sheet.Width - d.cover.Sheet.Up
	right := d.right()
	x := right * 0.6
	d.earth(right)
	d.poly("d-fence-post", []pt{{x, d.size}, {x + 14, d.size}, {x + 14, d.y}, {x, d.y}})
	d.line("d-line", pt{x - 3, d.size}, pt{x - 3, d.y})
	up := d.px(d.cover.Sheet.Up)
	end := max(x-6-d.px(out), 8)
	d.add(`<path class="%s" d="M%s %sV%sH%s"/>`, d.class(), n(x-6), n(d.y-up), n(d.y-3), n(end))
	d.line("d-staple", pt{end + 5, d.y - 5}, pt{end + 5, d.y + 18})
	d.note(pt{x - 6, d.y - up + 4}, "wired to the net")
	d.note(pt{end + 5, d.y + 8}, d.say("a peg every foot (300 mm)"))
	d.note(pt{(x + end) / 2, d.y - 3}, d.p.Short(out)+" outwards")
}

// onPath is cloth under chips, its strips lapped and pegged, an edging where it ends.
func (d *lining) onPath() {
	right := d.right()
	d.earth(right)
	high, lap, mid := d.size*3, d.size*3.6, right/2
	d.poly("d-rough", []pt{{10, d.y - high}, {right, d.y - high}, {right, d.y}, {10, d.y}})
	d.line(d.class(), pt{10, d.y - 2}, pt{mid + lap/2, d.y - 2})
	d.line(d.class(), pt{mid - lap/2, d.y - 8}, pt{right, d.y - 8})
	d.line("d-staple", pt{mid, d.y - 11}, pt{mid, d.y + 16})
	d.note(pt{mid + lap/4, d.y - 8}, "strips lap "+d.p.Short(d.cover.Roll.Lap))
	d.note(pt{mid, d.y + 8}, d.say("a peg every foot (300 mm)"))
	d.note(pt{right * 0.8, d.y - high/2}, "chips")
}
