package draw

import (
	"chamfer/core/measure"
)

// Bar is a scale bar by itself, w pixels of paper at so many pixels to the millimetre.
func Bar(perMM, w, size float64, system measure.System) string {
	p := &page{}
	p.open(w, size*1.8, "Scale", false)
	p.bar(pt{1, size * 1.3}, perMM, w/4, size, system)
	return p.close()
}

// bar draws a scale bar with its left end at q: a round length that comes to at most most pixels at so many
// pixels to the millimetre. On paper that was printed at another size it is still true.
func (p *page) bar(q pt, perMM, most, size float64, system measure.System) {
	length, parts := barOf(perMM, most, system)
	if length == 0 {
		return
	}
	w := length.Millimetres() * perMM
	h := size * 0.32
	for i := range parts {
		class := "d-bar"
		if i%2 == 1 {
			class = "d-bar-gap"
		}
		p.rect(class, q.x+w*float64(i)/float64(parts), q.y-h, w/float64(parts), h)
	}
	pr := measure.Millimetres
	if system == measure.Imperial {
		pr = measure.Sixteenths
	}
	p.text("d-text d-start", pt{q.x + w + size*0.5, q.y}, size, 0, pr.Feet(length))
}

// barOn draws it where a sheet has one, in its lower left corner.
func (p *page) barOn(s Sheet, perMM float64, system measure.System) {
	if s.Bar {
		p.bar(pt{s.Font, s.H - s.Font*0.6}, perMM, s.W/5, s.Font, system)
	}
}

// barOf is the longest round length that fits, and in how many it is parted.
func barOf(perMM, most float64, system measure.System) (length measure.Length, parts int) {
	rounds := []struct {
		of    measure.Length
		parts int
	}{{10, 2}, {20, 2}, {50, 5}, {100, 2}, {200, 2}, {500, 5}, {1000, 2}, {2000, 2}, {5000, 5}}
	unit := measure.Millimetre
	if system == measure.Imperial {
		unit = measure.Inch
		rounds = rounds[:0]
		for _, n := range []measure.Length{1, 2, 4, 6, 12, 24, 36, 60, 120, 240} {
			parts := 2
			if n > 12 {
				parts = int(n) / 12
			}
			rounds = append(rounds, struct {
				of    measure.Length
				parts int
			}{n, min(parts, 5)})
		}
	}
	for _, r := range rounds {
		if l := r.of * unit; l.Millimetres()*perMM <= most {
			length, parts = l, r.parts
		}
	}
	return length, parts
}
