package draw

import (
	"fmt"

	"chamfer/core/cutting"
	"chamfer/core/measure"
)

// Board draws one board as it is cut, at a scale at which a board of length
// full fills the width: its pieces with their letters, the saw cuts in the mark
// colour (never thinner than 2 px), running measures from the left end where
// there is room for them, and the offcut.
func Board(b cutting.Board, kerf, full measure.Length, p measure.Precision, w float64) string {
	const tall = 34.0
	d := &page{}
	scale := (w - 4) / float64(full)
	at := func(l measure.Length) float64 { return 2 + float64(l)*scale }
	words := fmt.Sprintf("board %s", p.Feet(b.Stock.Length))
	for _, c := range b.Cuts {
		words += fmt.Sprintf(", %s %s", c.Piece, p.Short(c.Length))
	}
	words += ", left over " + p.Short(b.Offcut)
	d.add(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="%s">`, n(w), n(tall+18), n(w), n(tall+18), esc(words))
	end := at(b.Stock.Length)
	if b.Stock.TrimStart > 0 {
		d.rect("d-left", at(0), 1, at(b.Stock.TrimStart)-at(0), tall)
	}
	marks := b.Marks(kerf)
	usable := b.Stock.Length - b.Stock.TrimEnd
	lastMark := -100.0
	var saw []pt // cuts, drawn last so that nothing hides them: place and width
	for i, c := range b.Cuts {
		a, z := at(marks[i]-c.Length), at(marks[i])
		d.add(`<g class="part" data-letter="%s">`, esc(c.Piece))
		d.rect("d-timber-face", a, 1, z-a, tall)
		for k, y := range []float64{0.3, 0.7} {
			if z-a > 20 {
				d.add(`<path class="d-grain" d="M%s %sQ%s %s %s %s"/>`, n(a+2), n(1+tall*y), n((a+z)/2), n(1+tall*y+float64(k*6-3)), n(z-2), n(1+tall*y))
			}
		}
		label := c.Piece
		if full := c.Piece + "  " + p.Short(c.Length); textWidth(full, 15) < z-a-8 {
			label = full
		}
		if lw := textWidth(label, 15); lw < z-a {
			d.rect("d-letterbox", (a+z)/2-lw/2-4, 1+tall/2-10, lw+8, 20)
			d.text("d-text d-letter", pt{(a + z) / 2, 1 + tall/2 + 5}, 15, 0, label)
		}
		d.add(`</g>`)
		if words := p.Short(marks[i]); z-lastMark > textWidth(words, 12)+6 && z < w-textWidth(words, 12)/2 {
			d.add(`<path class="d-dim" d="M%s %sv6"/>`, n(z), n(tall+1))
			d.text("d-text d-name", pt{z, tall + 16}, 12, 0, words)
			lastMark = z
		}
		if marks[i] < usable { // no cut where the last piece ends with the board
			saw = append(saw, pt{z, max(2, at(min(marks[i]+kerf, usable))-z)})
		}
	}
	if b.Offcut > 0 && end-at(usable-b.Offcut) > 3 {
		from := at(usable - b.Offcut)
		d.rect("d-left", from+1, 1, at(usable)-from-1, tall)
		if s := p.Short(b.Offcut); textWidth(s, 13) < at(usable)-from-6 {
			d.text("d-text d-name", pt{(from + at(usable)) / 2, 1 + tall/2 + 4}, 13, 0, s)
		}
	}
	if b.Stock.TrimEnd > 0 {
		d.rect("d-left", at(b.Stock.Length-b.Stock.TrimEnd), 1, end-at(b.Stock.Length-b.Stock.TrimEnd), tall)
	}
	for _, s := range saw {
		d.rect("d-kerf", s.x, 0, s.y, tall+2)
	}
	return d.close()
}

func (p *page) rect(class string, x, y, w, h float64) {
	p.add(`<rect class="%s" x="%s" y="%s" width="%s" height="%s"/>`, class, n(x), n(y), n(w), n(h))
}
