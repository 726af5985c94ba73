// Package draw turns a plan into drawings: the bed from above, from the front,
// from its end and as a solid, boards with their cuts, the rule of sizes near
// this one. A drawing is exact: everything stands where the plan says it does,
// at one scale, and every dimension is the plan's own number.
//
// The output is SVG made of classes and tokens from look.css, which the pages
// import as well; a drawing on its own carries the style with it.
package draw

import (
	"cmp"
	_ "embed"
	"fmt"
	"html"
	"math"
	"regexp"
	"slices"
	"strings"
)

// Look is the style sheet of drawings, with the named colours.
//
//go:embed look.css
var Look string

// pt is a place on paper, in pixels, y down.
type pt struct{ x, y float64 }

// page gathers SVG.
type page struct {
	b strings.Builder
}

func (p *page) add(format string, args ...any) { fmt.Fprintf(&p.b, format, args...) }

// n prints a coordinate with at most two decimals and no trailing zeros, so
// that drawings are small and the same everywhere.
func n(v float64) string {
	s := fmt.Sprintf("%.2f", v)
	s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	if s == "-0" {
		return "0"
	}
	return s
}

func esc(s string) string { return html.EscapeString(s) }

func (p *page) line(class string, a, b pt) {
	p.add(`<path class="%s" d="M%s %sL%s %s"/>`, class, n(a.x), n(a.y), n(b.x), n(b.y))
}

func (p *page) poly(class string, pts []pt) {
	p.add(`<path class="%s" d="%s"/>`, class, path(pts))
}

func path(pts []pt) string {
	var b strings.Builder
	for i, q := range pts {
		c := "L"
		if i == 0 {
			c = "M"
		}
		b.WriteString(c + n(q.x) + " " + n(q.y))
	}
	return b.String() + "Z"
}

// text writes s centred on its baseline at q, turned by degrees.
func (p *page) text(class string, q pt, size, degrees float64, s string) {
	turn := ""
	if degrees != 0 {
		turn = fmt.Sprintf(` transform="rotate(%s %s %s)"`, n(degrees), n(q.x), n(q.y))
	}
	p.add(
		`<text class="%s" x="%s" y="%s" font-size="%s"%s>%s</text>`,
		class,
		n(q.x),
		n(q.y),
		n(size),
		turn,
		fraction.ReplaceAllString(esc(s), `<tspan class="d-frac">$0</tspan>`),
	)
}

// fraction finds the fractions in a text: the type face sets only these as
// true fractions.
var fraction = regexp.MustCompile(`\b\d+/\d+\b`)

// textWidth estimates the width of a text in the drawing face, a little on the
// wide side, so that boxes made for it are never too small.
func textWidth(s string, size float64) float64 {
	w := 0.0
	for _, r := range s {
		switch {
		case strings.ContainsRune(" '\"./|il", r):
			w += 0.3
		case r >= 'A' && r <= 'Z', r == 'm', r == 'w', r == '×':
			w += 0.72
		default:
			w += 0.53
		}
	}
	return w * size
}

// open starts a drawing of a size; own carries the style inside it.
func (p *page) open(w, h float64, title string, own bool) {
	p.add(
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="group" aria-label="%s">`,
		n(w),
		n(h),
		n(w),
		n(h),
		esc(title),
	)
	p.add(`<title>%s</title>`, esc(title))
	if own {
		p.add("<style>%s</style>", Look)
		p.add(`<rect width="%s" height="%s" fill="var(--paper)"/>`, n(w), n(h))
	}
}

func (p *page) close() string {
	p.add(`</svg>`)
	return p.b.String()
}

// bounds of a set of places.
func bounds(pts []pt) (lo, hi pt) {
	lo, hi = pt{math.Inf(1), math.Inf(1)}, pt{math.Inf(-1), math.Inf(-1)}
	for _, q := range pts {
		lo = pt{min(lo.x, q.x), min(lo.y, q.y)}
		hi = pt{max(hi.x, q.x), max(hi.y, q.y)}
	}
	return lo, hi
}

// hull is the smallest convex outline round places, by Andrew's monotone chain.
func hull(pts []pt) []pt {
	pts = slices.Clone(pts)
	slices.SortFunc(pts, func(a, b pt) int { return cmp.Or(cmp.Compare(a.x, b.x), cmp.Compare(a.y, b.y)) })
	var out []pt
	for range 2 {
		start := len(out)
		for _, q := range pts {
			for len(out) > start+1 {
				a, b := out[len(out)-2], out[len(out)-1]
				if (b.x-a.x)*(q.y-a.y)-(b.y-a.y)*(q.x-a.x) > 1e-9 {
					break
				}
				out = out[:len(out)-1]
			}
			out = append(out, q)
		}
		out = out[:len(out)-1]
		slices.Reverse(pts)
	}
	return out
}

// inside reports whether q is in a polygon.
func inside(q pt, poly []pt) bool {
	in := false
	for i, j := 0, len(poly)-1; i < len(poly); j, i = i, i+1 {
		a, b := poly[i], poly[j]
		if (a.y > q.y) != (b.y > q.y) && q.x < (b.x-a.x)*(q.y-a.y)/(b.y-a.y)+a.x {
			in = !in
		}
	}
	return in
}
