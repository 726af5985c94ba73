package draw

import (
	"fmt"
	"slices"

	"chamfer/core/cutting"
	"chamfer/core/measure"
)

// Board draws one board as it is cut, at a scale at which a board of length
// full fills the width: its pieces with their letters, the saw cuts in the mark
// colour (never thinner than 2 px), running measures from the left end where
// there is room for them, trims and defects hatched, and what is left over. A
// board that is ripped first is drawn as its strips.
func Board(b cutting.Board, kerf, full measure.Length, p measure.Precision, w float64) string {
	d := &boardDrawing{b: b, kerf: kerf, p: p, w: w, scale: (w - 11) / float64(full), tall: boardTall}
	if b.Stock.Width > sheetWide {
		d.tall = min(sheetTall, max(boardTall, float64(b.Stock.Width)*d.scale))
	}
	words := fmt.Sprintf("board %s", p.Feet(b.Stock.Length))
	for _, s := range b.Strips {
		words += ", ripped to " + p.Short(s)
	}
	for _, blank := range b.Blanks {
		words += fmt.Sprintf(", a blank of %s ripped to %s", p.Short(blank.Length), Widths(blank.Strips, p))
	}
	for _, c := range b.Cuts {
		words += fmt.Sprintf(", %s %s", c.Piece, p.Short(c.Length))
	}
	if left := p.Short(b.Offcut); p.Round(b.Offcut) > 0 {
		words += ", left over " + left
	}
	d.add(
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="%s">`,
		n(w),
		n(d.tall+25),
		n(w),
		n(d.tall+25),
		esc(words),
	)
	d.add(`<g transform="translate(0 7)">`) // below its upper edge
	boardEdge(&d.page, d.at(0), d.at(b.Stock.Length), 1, d.tall)
	d.rect("d-left", d.at(0), 1, d.at(b.Stock.Length)-d.at(0), d.tall)
	for _, blank := range b.Blanks {
		d.blank(blank)
	}
	for i, c := range b.Cuts {
		d.piece(c, i > 0 && b.Cuts[i-1].At == c.At && b.Cuts[i-1].Strip == c.Strip && b.Cuts[i-1].Blank == c.Blank)
	}
	d.leftovers()
	for _, bad := range b.Stock.Defects {
		d.unusable(bad.From, bad.To)
	}
	d.unusable(0, b.Stock.TrimStart)
	d.unusable(b.Stock.Length-b.Stock.TrimEnd, b.Stock.Length)
	if b.Part > 0 {
		x := d.at(b.Part)
		d.add(`<path class="d-part" d="M%s 0V%s"/>`, n(x), n(d.tall+2))
		d.text("d-text d-name", pt{x, d.tall + 16}, 12, 0, "shop")
	}
	for i := range b.Strips {
		if y0, _ := d.lane(b.Strips, i+1); i > 0 {
			d.rect("d-kerf", d.at(0), y0-1, d.at(b.Stock.Length)-d.at(0), 2)
		}
	}
	for _, s := range d.saw { // last, so that nothing hides them
		d.rect("d-kerf", s[0], s[1], s[2], s[3])
	}
	d.pencil()
	d.add(`</g>`)
	return d.close()
}

// boardTall is how high a board is drawn, whatever its width; stock wider than
// sheetWide is drawn to scale, up to sheetTall.
const (
	boardTall = 34.0
	sheetTall = 300.0
	sheetWide = 300 * measure.Millimetre
)

type boardDrawing struct {
	page
	b        cutting.Board
	kerf     measure.Length
	p        measure.Precision
	w        float64
	scale    float64 // pixels to a nanometre
	saw      [][4]float64
	lastMark float64
	tall     float64 // of the board; a sheet's is to scale
}

func (d *boardDrawing) at(l measure.Length) float64 { return 2 + float64(l)*d.scale }

// lane is where a strip lies in the board's height; strip 0 is the whole.
func (d *boardDrawing) lane(strips []measure.Length, strip int) (y0, y1 float64) {
	if strip == 0 || d.b.Stock.Width == 0 {
		return 1, 1 + d.tall
	}
	from := measure.Length(0)
	for _, s := range strips[:strip-1] {
		from += s + d.kerf
	}
	per := d.tall / float64(d.b.Stock.Width)
	return 1 + float64(from)*per, 1 + float64(min(from+strips[strip-1], d.b.Stock.Width))*per
}

// strips are those that a cut's strip is one of: its board's, or its blank's.
func (d *boardDrawing) strips(c cutting.Cut) []measure.Length {
	if c.Blank > 0 {
		return d.b.Blanks[c.Blank-1].Strips
	}
	return d.b.Strips
}

// blank draws the wood of a blank that no piece takes, and its cuts: the one that takes it
// off the board, and the rips between its strips.
func (d *boardDrawing) blank(b cutting.Blank) {
	a, z := d.at(b.At), d.at(b.At+b.Length)
	d.rect("d-left", a, 1, z-a, d.tall)
	for s := range b.Strips {
		_, y := d.lane(b.Strips, s+1)
		if y < d.tall {
			d.saw = append(d.saw, [4]float64{a, y, z - a, 2})
		}
	}
	if usable := d.b.Stock.Length - d.b.Stock.TrimEnd; b.At+b.Length < usable {
		d.saw = append(d.saw, [4]float64{z, 0, max(2, d.at(min(b.At+b.Length+d.kerf, usable))-z), d.tall + 2})
	}
}

// Widths lists what a blank is ripped to.
func Widths(strips []measure.Length, p measure.Precision) string {
	words := ""
	for i, s := range strips {
		switch {
		case i > 0 && i == len(strips)-1:
			words += " and "
		case i > 0:
			words += ", "
		}
		words += p.Short(s)
	}
	return words
}

// piece draws one piece; again where it comes out of the blank drawn before.
func (d *boardDrawing) piece(c cutting.Cut, again bool) {
	a, z := d.at(c.At), d.at(c.End())
	strips := d.strips(c)
	y0, y1 := d.lane(strips, c.Strip)
	if c.Strip > 0 && c.Width > 0 && c.Width < strips[c.Strip-1] { // trimmed to its width
		trimmed := y0 + (y1-y0)*float64(c.Width)/float64(strips[c.Strip-1])
		d.saw = append(d.saw, [4]float64{a, trimmed, z - a, 2})
		y1 = trimmed
	}
	if !again {
		d.add(`<g class="part" data-letter="%s">`, esc(c.Piece))
		d.rect("d-timber-face", a, y0, z-a, y1-y0)
		for k, y := range []float64{0.3, 0.7} {
			if z-a > 20 {
				d.add(
					`<path class="d-grain" d="M%s %sQ%s %s %s %s"/>`,
					n(a+2),
					n(y0+(y1-y0)*y),
					n((a+z)/2),
					n(y0+(y1-y0)*y+float64(k*6-3)*(y1-y0)/d.tall),
					n(z-2),
					n(y0+(y1-y0)*y),
				)
			}
		}
		rips := len(d.saw)
		if c.Width > 0 && c.Strip == 0 && d.b.Stock.Width > 0 { // a blank that is ripped
			y1 = d.ripped(c, a, z, y0, y1)
		}
		size := min(15, (y1-y0)*0.8)
		label := c.Piece
		full := c.Piece + "\u00a0 " + d.p.Short(c.Length)
		if d.b.Stock.Width > sheetWide && c.Width > 0 {
			full += " × " + d.p.Short(c.Width)
		}
		if textWidth(full, size) < z-a-8 {
			label = full
		}
		if lw := textWidth(label, size); lw < z-a && size > 7 {
			box := [4]float64{(a+z)/2 - lw/2 - 4, (y0+y1)/2 - size*0.66, lw + 8, size * 1.32}
			d.rect("d-letterbox", box[0], box[1], box[2], box[3])
			d.besides(rips, box)
			d.text("d-text d-letter", pt{(a + z) / 2, (y0+y1)/2 + size*0.33}, size, 0, label)
		}
		d.add(`</g>`)
	}
	if words := d.p.Short(c.End()); c.Strip <= 1 && z-d.lastMark > textWidth(words, 12)+6 &&
		z < d.w-textWidth(words, 12)/2 {
		d.add(`<path class="d-dim" d="M%s %sv6"/>`, n(z), n(d.tall+1))
		d.text("d-text d-name", pt{z, d.tall + 16}, 12, 0, words)
		d.lastMark = z
	}
	usable := d.b.Stock.Length - d.b.Stock.TrimEnd
	if c.Blank > 0 {
		usable = d.b.Blanks[c.Blank-1].At + d.b.Blanks[c.Blank-1].Length
	}
	if c.End() < usable { // no cut where the last piece ends with the board
		d.saw = append(d.saw, [4]float64{z, y0 - 1, max(2, d.at(min(c.End()+d.kerf, usable))-z), y1 - y0 + 2})
	}
}

// ripped draws the rip cuts of a blank and what is left of its width; the pieces
// end at the height it returns.
func (d *boardDrawing) ripped(c cutting.Cut, a, z, y0, y1 float64) float64 {
	per := d.tall / float64(d.b.Stock.Width)
	out := 0
	for _, o := range d.b.Cuts {
		if o.At == c.At && o.Strip == 0 && o.Blank == 0 {
			out += max(1, o.Out)
		}
	}
	end := y1
	for k := range out {
		at := measure.Length(k+1)*(c.Width+d.kerf) - d.kerf
		if at+d.kerf <= d.b.Stock.Width {
			end = y0 + float64(at)*per
			d.saw = append(d.saw, [4]float64{a, end, z - a, max(1.5, float64(d.kerf)*per)})
		}
	}
	if y1-end > 3 {
		d.rect("d-left", a, end, z-a, y1-end)
		return end
	}
	return y1
}

// besides parts the rip cuts from the i-th on where they would go through a letter.
func (d *boardDrawing) besides(i int, box [4]float64) {
	for at, cut := range slices.Clone(d.saw[i:]) {
		if cut[1] < box[1] || cut[1] > box[1]+box[3] {
			continue
		}
		end := box[0] + box[2]
		d.saw[i+at][2] = max(0, box[0]-cut[0])
		d.saw = append(d.saw, [4]float64{end, cut[1], max(0, cut[0]+cut[2]-end), cut[3]})
	}
}

// leftovers writes the length of the longest thing left of a board that is not
// ripped, where it is.
func (d *boardDrawing) leftovers() {
	if d.b.Offcut <= 0 || len(d.b.Strips) > 0 || len(d.b.Left) > 0 {
		return
	}
	usable := d.b.Stock.Length - d.b.Stock.TrimEnd
	from := d.at(usable - d.b.Offcut)
	if s := d.p.Short(d.b.Offcut); textWidth(s, 13) < d.at(usable)-from-6 {
		d.text("d-text d-name", pt{(from + d.at(usable)) / 2, 1 + d.tall/2 + 4}, 13, 0, s)
	}
}

// pencil marks the board as a carpenter does: a V with its point at each cut across it, and a cross on what is left
// over where there is room for it and no number stands.
func (d *boardDrawing) pencil() {
	for _, s := range d.saw {
		if s[3] > d.tall && s[0] > 14 { // across, not along
			d.add(`<path class="d-pencil" d="M%s %sl4 7l4 -7"/>`, n(s[0]-4), n(d.tall-6.5))
		}
	}
	if d.b.Offcut <= 0 || len(d.b.Strips) > 0 || len(d.b.Left) > 0 {
		return
	}
	usable := d.b.Stock.Length - d.b.Stock.TrimEnd
	from, to := d.at(usable-d.b.Offcut)+3, d.at(usable)
	room := (to-from)/2 - textWidth(d.p.Short(d.b.Offcut), 13)/2
	if room < 20 {
		return
	}
	d.add(`<path class="d-pencil" d="M%s %sl14 %sm0 -%sl-14 %s"/>`, n(from+room/2-7), n(d.tall/2-6), "14", "14", "14")
}

// unusable hatches a stretch of the board.
func (d *boardDrawing) unusable(from, to measure.Length) {
	if to <= from {
		return
	}
	a, z := d.at(from), d.at(to)
	d.rect("d-bad", a, 1, z-a, d.tall)
	path := ""
	for x := a + 5; x < z+d.tall*0.5; x += 6 {
		x0, x1 := min(x, z), max(a, x-d.tall*0.5)
		path += fmt.Sprintf("M%s %sL%s %s", n(x0), n(1+(x-x0)*2), n(x1), n(1+(x-x1)*2))
	}
	d.add(`<path class="d-earth" d="%s"/>`, path)
}

func (p *page) rect(class string, x, y, w, h float64) {
	p.add(`<rect class="%s" x="%s" y="%s" width="%s" height="%s"/>`, class, n(x), n(y), n(w), n(h))
}
