package draw

import (
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
)

// Rule draws what the sizes near the one in hand would cost: a tape with a
// step line of the total above it, a notch under every size that wastes least
// at its price, and the size in hand in the mark colour.
func Rule(near []plan.Near, p measure.Precision, c money.Currency, w float64) string {
	if len(near) < 2 {
		return ""
	}
	const tall, base, top = 92.0, 58.0, 24.0
	d := &page{}
	d.add(
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="What `+
			`sizes from %s to %s would cost">`,
		n(w),
		n(tall),
		n(w),
		n(tall),
		esc(p.Feet(near[0].Length)),
		esc(p.Feet(near[len(near)-1].Length)),
	)
	lo, hi := near[0].Total, near[0].Total
	for _, k := range near {
		lo, hi = min(lo, k.Total), max(hi, k.Total)
	}
	x := func(l measure.Length) float64 {
		return 34 + float64(l-near[0].Length)/float64(near[len(near)-1].Length-near[0].Length)*(w-68)
	}
	y := func(a money.Amount) float64 {
		if hi == lo {
			return (base + top) / 2
		}
		return base - 6 - float64(a-lo)/float64(hi-lo)*(base-6-top)
	}
	line := ""
	for i, k := range near {
		cmd := "L"
		if i == 0 {
			cmd = "M"
		} else {
			line += "L" + n(x(k.Length)) + " " + n(y(near[i-1].Total))
		}
		line += cmd + n(x(k.Length)) + " " + n(y(k.Total))
	}
	d.add(`<path class="d-dim" d="%s"/>`, line)
	d.line("d-tick", pt{34, base}, pt{w - 34, base})
	text := -100.0
	for _, k := range near {
		at, long := x(k.Length), 5.0
		if k.Sweet || k.Now {
			long = 10
		}
		class := "d-dim"
		if k.Now {
			class = "d-now"
		}
		d.add(`<path class="%s" d="M%s %sv%s"/>`, class, n(at), n(base), n(long))
		if k.Sweet && !k.Now {
			d.add(`<path class="d-sweet" d="M%s %sl5 9h-10z"/>`, n(at), n(base+2))
		}
	}
	for _, k := range near { // the size in hand first, so that it is never left out
		if k.Now {
			at := x(k.Length)
			d.add(
				`<path class="d-now" d="M%s %sV%s"/><circle class="d-now-dot" cx="%s" cy="%s" r="4"/>`,
				n(at),
				n(base),
				n(top-6),
				n(at),
				n(y(k.Total)),
			)
			d.text("d-text d-now-text", pt{min(max(at, 44), w-44), top - 10}, 15, 0, c.Format(k.Total))
			d.text("d-text d-now-text", pt{at, base + 28}, 14, 0, p.Feet(k.Length))
			text = at
		}
	}
	last := -100.0
	for i, k := range near {
		s := p.Feet(k.Length)
		half := textWidth(s, 13)/2 + 6
		if k.Now || !k.Sweet && i != 0 && i != len(near)-1 {
			continue
		}
		if at := x(k.Length); at-last > 2*half && (at-text > 2*half || text-at > 2*half) {
			d.text("d-text d-name", pt{at, base + 28}, 13, 0, s)
			last = at
		}
	}
	return d.close()
}
