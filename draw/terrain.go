package draw

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/terrain"
)

// Line is where a section through the ground is looked at, on the plot, in millimetres from
// its left front corner.
type Line [4]float64

// CutLine is the line a section is looked at along, where none is asked for: through the middle
// of a bed, the way the ground falls, from edge to edge of the plot.
func CutLine(p *plan.Plan, bed string) Line {
	w, h := p.Site.Plot.Width.Millimetres(), p.Site.Plot.Depth.Millimetres()
	x, y := w/2, h/2
	if i, ok := p.Site.Stand(bed, 0); ok {
		s := p.Site.Stands[i]
		x, y = (s.Lo.U+s.Hi.U).Millimetres()/2, (s.Lo.V+s.Hi.V).Millimetres()/2
	}
	dx, dy := 1.0, 0.0
	if p.Surface != nil {
		if share, _ := p.Surface.Plane.Fall(); share > 1e-6 {
			dx, dy = p.Surface.Plane.Right/share, p.Surface.Plane.Away/share
		}
	}
	x, y = min(max(x, 0), w), min(max(y, 0), h)
	reach := func(dx, dy float64) (float64, float64) {
		t := math.Inf(1)
		for _, e := range [][3]float64{{x, dx, w}, {y, dy, h}} {
			switch {
			case e[1] > 1e-9:
				t = min(t, (e[2]-e[0])/e[1])
			case e[1] < -1e-9:
				t = min(t, -e[0]/e[1])
			}
		}
		return x + t*dx, y + t*dy
	}
	ax, ay := reach(-dx, -dy)
	bx, by := reach(dx, dy)
	if ax > bx+1 || math.Abs(ax-bx) <= 1 && ay > by { // it is read from the left
		ax, ay, bx, by = bx, by, ax, ay
	}
	return Line{math.Round(ax), math.Round(ay), math.Round(bx), math.Round(by)}
}

// Ground draws the plot with its ground as it was measured: contours, the heights of pegs, what is
// dug and filled for every bed, and below it a section along a line.
func Ground(p *plan.Plan, s Sheet, along Line) string {
	d := &groundDrawing{plotDrawing: plotDrawing{plan: p, sheet: s, precision: p.Shop.Precision(), l: &p.Site},
		along: along}
	d.draw()
	return d.close()
}

type groundDrawing struct {
	plotDrawing
	along Line
	taken [][2]pt // boxes of what is written already
}

func (d *groundDrawing) spot(x, y float64) pt { // metres
	return pt{d.zero.x + x*1000*d.scale, d.zero.y - y*1000*d.scale}
}

func (d *groundDrawing) draw() {
	w, h := d.l.Plot.Width.Millimetres(), d.l.Plot.Depth.Millimetres()
	edge, top := d.sheet.Font*2.2, d.sheet.Font*1.2
	strip := d.sheet.H * 0.34 // of the section
	if d.plan.Surface == nil {
		strip = 0
	}
	d.scale = min((d.sheet.W-3.2*edge)/w, (d.sheet.H-strip-edge-top)/h)
	d.zero = pt{(d.sheet.W - w*d.scale) / 2, top + h*d.scale + (d.sheet.H-strip-edge-top-h*d.scale)/2}
	d.open(d.sheet.W, d.sheet.H, "the ground from above, and a section through it", d.sheet.Own)
	d.poly("d-lawn", d.corners(frame.Spot{}, frame.Spot{U: d.l.Plot.Width, V: d.l.Plot.Depth}))
	for _, e := range d.l.Plot.Fences {
		d.fence(e)
	}
	d.north()
	d.contours()
	for i := range d.l.Stands {
		d.bed(i)
	}
	d.fall()
	d.pegs()
	d.walks()
	d.size()
	if strip > 0 {
		d.cutLine()
		d.section(pt{edge, d.sheet.H - strip + d.sheet.Font*0.6}, pt{d.sheet.W - edge, d.sheet.H - d.sheet.Font*1.5})
	}
}

// steps are those that contours are drawn at, fine to coarse.
func (d *groundDrawing) steps() []measure.Length {
	if d.precision.System == measure.Imperial {
		in := measure.Inch
		return []measure.Length{in / 4, in / 2, in, 2 * in, 3 * in, 6 * in, 12 * in, 24 * in, 60 * in, 120 * in,
			240 * in}
	}
	mm := measure.Millimetre
	return []measure.Length{5 * mm, 10 * mm, 20 * mm, 50 * mm, 100 * mm, 200 * mm, 500 * mm, 1000 * mm, 2000 * mm,
		5000 * mm}
}

// mostContours is how many heights of contours a drawing has at most.
const mostContours = 12

func (d *groundDrawing) contours() {
	s := d.plan.Surface
	if s == nil {
		return
	}
	list := d.steps()
	step := list[len(list)-1]
	for _, l := range list {
		if (s.Hi.Z-s.Lo.Z)/l.Metres() <= mostContours {
			step = l
			break
		}
	}
	for _, c := range s.Contours(step.Metres()) {
		class := "d-contour"
		if k := math.Round(c.Height / step.Metres()); math.Mod(k, 5) == 0 {
			class += " d-contour-main"
		}
		long := 0.0
		var at []pt
		var known, guessed strings.Builder
		line := c.Line
		if c.Closed {
			line = append(slices.Clip(line), line[0])
		}
		for i, q := range line {
			p := d.spot(q.X, q.Y)
			at = append(at, p)
			if i == 0 {
				continue
			}
			last := at[i-1]
			long += math.Hypot(p.x-last.x, p.y-last.y)
			b := &known
			if c.Guess[i-1] {
				b = &guessed
			}
			if i == 1 || c.Guess[i-1] != c.Guess[i-2] {
				fmt.Fprintf(b, "M%s %s", n(last.x), n(last.y))
			}
			fmt.Fprintf(b, "L%s %s", n(p.x), n(p.y))
		}
		if known.Len() > 0 {
			d.add(`<path class="%s" d="%s"/>`, class, known.String())
		}
		if guessed.Len() > 0 {
			d.add(`<path class="%s d-contour-guessed" d="%s"/>`, class, guessed.String())
		}
		words := d.height(c.Height)
		if size := d.sheet.Font * 0.78; long > 2.4*textWidth(words, size) {
			d.onLine(at, long, words, size)
		}
	}
}

// onLine writes a contour's height on it where nothing is written yet.
func (d *groundDrawing) onLine(at []pt, long float64, words string, size float64) {
	w := textWidth(words, size)
	for _, t := range []float64{0.5, 0.32, 0.68, 0.18, 0.82} {
		far := 0.0
		for i := 1; i < len(at); i++ {
			a, b := at[i-1], at[i]
			l := math.Hypot(b.x-a.x, b.y-a.y)
			if far+l < t*long || l == 0 {
				far += l
				continue
			}
			k := (t*long - far) / l
			c := pt{a.x + k*(b.x-a.x), a.y + k*(b.y-a.y)}
			if d.free(pt{c.x - w/2 - 2, c.y - size*0.6}, pt{c.x + w/2 + 2, c.y + size*0.6}) {
				d.label(c, size, words)
				return
			}
			break
		}
	}
}

// free reports whether nothing is written in a box, on no bed, inside the plot, and takes it.
func (d *groundDrawing) free(lo, hi pt) bool {
	a, b := d.spot(0, 0), d.spot(d.l.Plot.Width.Metres(), d.l.Plot.Depth.Metres())
	if lo.x < a.x || hi.x > b.x || lo.y < b.y || hi.y > a.y {
		return false
	}
	for _, t := range d.taken {
		if lo.x < t[1].x && hi.x > t[0].x && lo.y < t[1].y && hi.y > t[0].y {
			return false
		}
	}
	for _, s := range d.l.Stands {
		l, h := bounds(d.corners(s.Lo, s.Hi))
		if lo.x < h.x && hi.x > l.x && lo.y < h.y && hi.y > l.y {
			return false
		}
	}
	d.taken = append(d.taken, [2]pt{lo, hi})
	return true
}

func (d *groundDrawing) height(m float64) string {
	l := measure.Length(math.Round(m * float64(measure.Metre)))
	if d.precision.Round(l) > 0 {
		return "+" + d.precision.Short(l)
	}
	return d.precision.Short(l)
}

// bed draws what a bed stands on, with what is dug hatched one way and what is filled the other.
func (d *groundDrawing) bed(i int) {
	s := d.l.Stands[i]
	f := d.frame(s.Bed)
	class := "d-stood"
	if s.Bed == d.sheet.Held {
		class += " d-stood-held"
	}
	name := s.Name
	if f.Times > 1 {
		name = fmt.Sprintf("%s, %d", s.Name, s.N+1)
	}
	d.add(`<a class="stand-on" href="%s"><title>%s</title>`, esc(fmt.Sprintf(cmp.Or(d.sheet.Pick, "#%s"), s.Bed)),
		esc(name))
	put := s.On(f)
	for _, o := range ground.Base(f) {
		d.poly("d-halo", d.put(put, o))
	}
	x, measured := ground.Formed(d.plan.Formations, s.Bed, s.N)
	if measured {
		for _, cut := range []bool{true, false} {
			class := map[bool]string{true: "d-dig", false: "d-heap"}[cut]
			for _, o := range x.Outlines {
				for _, piece := range d.plan.Surface.Pieces(o, x.To, cut) {
					var pts []pt
					for _, q := range piece {
						pts = append(pts, d.spot(q.X, q.Y))
					}
					d.hatch(class, pts, cut)
				}
			}
		}
	}
	for _, o := range ground.Base(f) {
		d.poly(class, d.put(put, o))
	}
	lines := []string{name}
	if measured {
		lines = append(lines, d.told(x)...)
	}
	d.plate(d.corners(s.Lo, s.Hi), lines)
	d.add(`</a>`)
}

// told is what is written on a bed of its ground.
func (d *groundDrawing) told(x ground.Formation) (list []string) {
	sys := d.precision.System
	for _, m := range []struct {
		verb      string
		all, deep float64
	}{{"dig", x.Moved.Cut, x.Moved.Deepest}, {"fill", x.Moved.Fill, x.Moved.Highest}} {
		if deep := measure.Length(m.deep * float64(measure.Metre)); deep >= measure.Millimetre {
			list = append(list, fmt.Sprintf("%s %s, to %s", m.verb, sys.Volume(measure.CubicMetres(m.all)),
				d.precision.Short(deep)))
		}
	}
	if len(list) == 0 {
		list = []string{"nothing to dig"}
	}
	return list
}

// plate writes lines in the middle of a box where they fit, of fewer lines where they do not.
func (d *groundDrawing) plate(box []pt, lines []string) {
	a, b := bounds(box)
	size := d.sheet.Font * 0.86
	for ; len(lines) > 0; lines = lines[:len(lines)-1] {
		w := 0.0
		for _, l := range lines {
			w = max(w, textWidth(l, size))
		}
		h := size * (0.3 + 1.2*float64(len(lines)))
		if w+10 > b.x-a.x || h > b.y-a.y {
			continue
		}
		c := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
		d.rect("d-plate", c.x-w/2-5, c.y-h/2, w+10, h)
		for k, l := range lines {
			d.text("d-text", pt{c.x, c.y + size*(0.33+1.2*(float64(k)-float64(len(lines)-1)/2))}, size, 0, l)
		}
		return
	}
}

// hatch draws strokes over a polygon that line up from one to the next: leaning right where
// ground is dug, left and crossed by short ones where it is filled.
func (d *groundDrawing) hatch(class string, poly []pt, right bool) {
	const apart = 7.0
	lean := 1.0
	if !right {
		lean = -1
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	of := func(q pt) float64 { return q.x*lean + q.y }
	for _, q := range poly {
		lo, hi = min(lo, of(q)), max(hi, of(q))
	}
	var b strings.Builder
	for k := math.Ceil(lo / apart); k*apart <= hi; k++ {
		var xs []float64
		for i, p := range poly {
			q := poly[(i+1)%len(poly)]
			u, v := of(p)-k*apart, of(q)-k*apart
			if (u < 0) != (v < 0) {
				xs = append(xs, p.x+(q.x-p.x)*u/(u-v))
			}
		}
		slices.Sort(xs)
		for i := 0; i+1 < len(xs); i += 2 {
			fmt.Fprintf(&b, "M%s %sL%s %s", n(xs[i]), n(k*apart-xs[i]*lean), n(xs[i+1]), n(k*apart-xs[i+1]*lean))
		}
	}
	d.add(`<path class="%s-wash" d="%s"/>`, class, path(poly))
	if b.Len() > 0 {
		d.add(`<path class="%s" d="%s"/>`, class, b.String())
	}
}

// fall draws which way the plot falls as a whole, and how much.
// walks draws how the paths fall: an arrow down each, how steep it is, and a line for every step it wants.
func (d *groundDrawing) walks() {
	size := d.sheet.Font * 0.76
	for _, w := range d.plan.Walks {
		if w.Along < 0.005 {
			continue
		}
		a, b := d.spot(w.From.X, w.From.Y), d.spot(w.To.X, w.To.Y)
		long := math.Hypot(b.x-a.x, b.y-a.y)
		if long < size*5 {
			continue
		}
		ux, uy := (b.x-a.x)/long, (b.y-a.y)/long
		words := fmt.Sprintf("1 in %.0f", 1/w.Along)
		d.add(`<g class="d-walk"><title>%s</title>`, esc("the path "+w.Between(d.l)+" falls "+words+" along, "+
			fmt.Sprintf("%.1f %% across", w.Across*100)))
		half := min(long*0.42, size*4)
		c := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
		from, to := pt{c.x - ux*half, c.y - uy*half}, pt{c.x + ux*half, c.y + uy*half}
		d.line("d-fall-line", from, to)
		for _, side := range []float64{1, -1} {
			d.line("d-fall-line", to, pt{to.x - ux*7 + side*uy*4, to.y - uy*7 - side*ux*4})
		}
		for k := range w.Steps {
			t := float64(k+1) / float64(w.Steps+1)
			q := pt{a.x + (b.x-a.x)*t, a.y + (b.y-a.y)*t}
			d.line("d-step", pt{q.x - uy*9, q.y + ux*9}, pt{q.x + uy*9, q.y - ux*9})
		}
		turn := math.Atan2(uy, ux) * 180 / math.Pi
		if turn > 90 || turn <= -90 {
			turn += 180
		}
		q := pt{c.x + math.Abs(uy)*size*1.1, c.y - math.Abs(ux)*size*0.5}
		w, h := textWidth(words, size)/2, size*0.6
		if math.Abs(uy) > math.Abs(ux) {
			w, h = h, w
		}
		if d.free(pt{q.x - w, q.y - h - size*0.4}, pt{q.x + w, q.y + h - size*0.4}) {
			d.text("d-text", q, size, turn, words)
		}
		d.end()
	}
}

func (d *groundDrawing) fall() {
	s := d.plan.Surface
	if s == nil {
		return
	}
	share, toward := s.Plane.Fall()
	if share < 0.002 {
		return
	}
	sin, cos := math.Sincos(toward * math.Pi / 180)
	r := d.sheet.Font * 2
	// beside the plot, at its right
	right := d.zero.x + d.l.Plot.Width.Millimetres()*d.scale
	c := pt{min(d.sheet.W-r-4, right+d.sheet.Font*2.4), d.zero.y - r - d.sheet.Font}
	a, b := pt{c.x - sin*r*0.8, c.y + cos*r*0.8}, pt{c.x + sin*r*0.8, c.y - cos*r*0.8}
	d.add(`<g class="d-fall"><title>%s</title>`, esc(fmt.Sprintf("the plot falls 1 in %.0f towards %s", 1/share,
		ground.Direction(toward))))
	d.line("d-fall-line", a, b)
	for _, turn := range []float64{150, -150} {
		s, c := math.Sincos((toward + turn) * math.Pi / 180)
		d.line("d-fall-line", b, pt{b.x + s*9, b.y - c*9})
	}
	d.text("d-text", pt{c.x, c.y + r + d.sheet.Font}, d.sheet.Font*0.86, 0, fmt.Sprintf("1 in %.0f", 1/share))
	d.end()
}

// pegs draws where the ground was read, with its height; the lowest and the highest say so.
func (d *groundDrawing) pegs() {
	pegs := d.plan.Survey.Pegs
	if len(pegs) == 0 {
		return
	}
	byHeight := func(a, b terrain.Peg) int { return cmp.Compare(a.Height, b.Height) }
	low, high := slices.MinFunc(pegs, byHeight), slices.MaxFunc(pegs, byHeight)
	size := d.sheet.Font * 0.78
	for _, g := range pegs {
		c := d.spot(g.X.Metres(), g.Y.Metres())
		what := ""
		switch {
		case low.Height == high.Height:
		case g.Name == low.Name:
			what = "lowest, "
		case g.Name == high.Name:
			what = "highest, "
		}
		words := d.height(g.Height.Metres())
		d.add(`<g class="d-read"><title>%s</title><path d="M%s %sl-4.5 -9h9z"/>`,
			esc(fmt.Sprintf("peg %s: %s%s", g.Name, what, words)), n(c.x), n(c.y))
		if what != "" {
			d.add(`<circle class="d-read-ring" cx="%s" cy="%s" r="9"/>`, n(c.x), n(c.y-5))
		}
		d.end()
		for _, text := range []string{g.Name + " " + what + words, g.Name + " " + words, words, g.Name} {
			w := textWidth(text, size)
			done := false
			for _, o := range []pt{{12 + w/2, -4}, {-12 - w/2, -4}, {0, size * 0.9}, {0, -18}} {
				at := pt{c.x + o.x, c.y + o.y}
				if d.free(pt{at.x - w/2 - 2, at.y - size*0.6}, pt{at.x + w/2 + 2, at.y + size*0.6}) {
					d.label(at, size, text)
					done = true
					break
				}
			}
			if done {
				break
			}
		}
	}
}
