package draw

import (
	"fmt"

	"chamfer/core/measure"
)

// Stop draws a saw set for pieces of one length, from above, at the scale at which a
// board of length full fills the width: the fence, the block that the end is pushed
// against, the blade, and the wood between them.
func Stop(length, full measure.Length, p measure.Precision, w float64) string {
	const block, gap, y, tall, fence = 13.0, 2.0, 9.0, 20.0, 5.0
	d := &page{}
	words := p.Short(length)
	d.add(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s 50" width="%s" height="50" role="img" aria-label="%s">`,
		n(w), n(w), esc("a stop block "+words+" from the blade"))
	a := gap + block
	z := a + max(8, float64(length)*(w-a-48)/float64(full))
	d.rect("d-fence-bar", 0, y-fence-2, w, fence)
	d.rect("d-left", z+2.5, y, min(w-z-6, 34), tall)
	d.rect("d-timber-face", a, y, z-a, tall)
	d.add(`<path class="d-grain" d="M%s %sH%sM%s %sH%s"/>`, n(a+3), n(y+tall*0.34), n(z-3), n(a+3), n(y+tall*0.68), n(z-3))
	d.rect("d-timber-end", gap, y, block, tall)
	d.add(`<circle class="d-grain" cx="%s" cy="%s" r="5"/><circle class="d-grain" cx="%s" cy="%s" r="2.5"/>`,
		n(gap+block/2), n(y+tall/2), n(gap+block/2), n(y+tall/2))
	d.rect("d-kerf", z, 0, 2.5, y+tall+5)
	d.measured(a, z, y+tall+8, words, 13)
	d.add(`</svg>`)
	return d.b.String()
}

// measured is a dimension from a to z at height y with its number below it, or behind it where there is no room.
func (p *page) measured(a, z, y float64, words string, size float64) {
	p.add(`<path class="d-dim" d="M%s %sH%sM%s %sv6M%s %sv6"/>`, n(a), n(y), n(z), n(a), n(y-3), n(z), n(y-3))
	if half := textWidth(words, size) / 2; z-a > 2*half {
		p.text("d-text d-name", pt{(a + z) / 2, y + size*0.95}, size, 0, words)
	} else {
		p.text("d-text d-name", pt{z + half + 5, y + size*0.35}, size, 0, words)
	}
}

// Marking draws how a length is marked and sawn: the tape on the end of the board, a V whose
// point is the length, the line by the square, and the blade on the far side of it.
func Marking(kerf measure.Length, p measure.Precision) string {
	const w, h, top, tall, at, cut = 300.0, 142.0, 46.0, 56.0, 176.0, 9.0
	const size = 15.0
	d := &page{}
	d.add(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="%s">`,
		n(w), n(h), n(w), n(h),
		esc("the tape hooks on the end, the line is square, the blade takes "+kerf.String()+" on the far side of it"))
	solidBoard(d, 14, w-16, top, tall)
	d.add(`<path class="d-grain" d="M18 %sQ120 %s 280 %sM18 %sQ150 %s 280 %s"/>`, n(top+16), n(top+12), n(top+17),
		n(top+38), n(top+43), n(top+36))
	d.rect("d-tape", 12, top+5, at+24, 12)
	d.add(`<path class="d-tape-hook" d="M13 %sv18"/>`, n(top+2))
	for x := 24.0; x < at+34; x += 10 {
		d.add(`<path class="d-ext" d="M%s %sv%d"/>`, n(x), n(top+5), 4+4*(int(x-14)/10%2))
	}
	d.rect("d-square", at-56, top+tall+1, 56, 11)
	d.rect("d-square", at-9, top-7, 9, tall+8)
	d.add(`<path class="d-earth" d="M%s %sl%s 9m-%s 1l%s 9m-%s 1l%s 9m-%s 1l%s 9m-%s 1l%s 9"/>`,
		n(at), n(top+2), n(cut), n(cut), n(cut), n(cut), n(cut), n(cut), n(cut), n(cut), n(cut))
	d.rect("d-kerf", at, top-4, 2, tall+10)
	d.add(`<path class="d-pencil" d="M%s %sl6 10l6 -10"/>`, n(at-6), n(top+19))
	x := at + 60.0
	d.add(`<path class="d-pencil" d="M%s %sl24 22m0 -22l-24 22"/>`, n(x-12), n(top+21))
	d.text("d-text d-name", pt{x + 4, top + tall + 20}, size, 0, "left over")
	d.text("d-text d-name", pt{60, top - 13}, size, 0, "tape on the end")
	d.line("d-ext", pt{30, top - 9}, pt{24, top + 6})
	words := fmt.Sprintf("blade beyond the line, %s", p.Short(kerf))
	d.text("d-text d-name", pt{w - textWidth(words, size)/2 - 4, top - 28}, size, 0, words)
	d.line("d-ext", pt{at + 20, top - 24}, pt{at + cut/2, top - 2})
	d.text("d-text d-name", pt{104, top + tall + 30}, size, 0, "square on the edge")
	d.add(`</svg>`)
	return d.b.String()
}

// solidBoard is the face of a board from a to z with its upper edge and the rings of its end.
func solidBoard(p *page, a, z, y, tall float64) {
	p.rect("d-timber-face", a, y, z-a, tall)
	boardEdge(p, a, z, y, tall)
}

// boardEdge is the upper edge of a board that is drawn from a to z, and the rings of its end.
func boardEdge(p *page, a, z, y, tall float64) {
	const deep = 6.0
	p.poly("d-timber-top", []pt{{a, y}, {a + deep, y - deep}, {z + deep, y - deep}, {z, y}})
	p.poly("d-timber-end", []pt{{z, y}, {z + deep, y - deep}, {z + deep, y + tall - deep}, {z, y + tall}})
	for _, k := range []float64{0.3, 0.55, 0.8} {
		p.add(`<path class="d-grain" d="M%s %sQ%s %s %s %s"/>`, n(z), n(y+tall*k), n(z+deep*0.6),
			n(y+tall*k-tall*0.16-deep/2),
			n(z+deep), n(y+tall*k-deep))
	}
}
