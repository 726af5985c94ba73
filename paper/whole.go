package paper

import "math"

// overlap is what two sheets share of a drawing that is parted over them, so that they can be laid together.
const overlap = 8

// FullSize sets a drawing at full size below its name. One that is larger than a sheet is parted over several, with
// crosses to lay them together by.
func (p *Pages) FullSize(name, svg string) error {
	w, h, err := extent(svg)
	if err != nil {
		return err
	}
	w, h = w*PerPixel, h*PerPixel
	title := 0.0
	if name != "" {
		title = body*point*leading + 3
	}
	whole := p.h - p.Top - p.Bottom - title
	if h <= whole && w <= p.Width() {
		p.Room(h + title)
		if name != "" {
			p.Bold(name)
		}
		err := p.Place(svg, p.Side, p.y, w)
		p.y += h + 3
		return err
	}
	across := parts(w, p.Width())
	down := parts(h, whole-4)
	n := 0
	for j := range down {
		for i := range across {
			n++
			p.Sheet("")
			p.Bold(name + sheetOf(n, across*down))
			x, y := float64(i)*(p.Width()-overlap), float64(j)*(whole-4-overlap)
			if err := p.window(svg, x, y, min(p.Width(), w-x), min(whole-4, h-y), w); err != nil {
				return err
			}
			p.crosses(i, j, across, down, p.Width(), whole-4)
			p.y += whole
		}
	}
	return nil
}

// parts is into how many parts a length goes that overlap.
func parts(l, most float64) int {
	if l <= most {
		return 1
	}
	return int(math.Ceil((l - overlap) / (most - overlap)))
}

// window sets what of a drawing w wide lies in a window of it, below what is written.
func (p *Pages) window(svg string, x, y, wide, high, w float64) error {
	p.pdf.ClipRect(p.Side, p.y, wide, high, false)
	err := p.Place(svg, p.Side-x, p.y-y, w)
	p.pdf.ClipEnd()
	return err
}

// crosses mark the middles of what a sheet shares with its neighbours.
func (p *Pages) crosses(i, j, across, down int, wide, high float64) {
	p.pdf.SetLineWidth(0.2)
	p.stroke(ink)
	cross := func(x, y float64) {
		p.pdf.Line(x-3, y, x+3, y)
		p.pdf.Line(x, y-3, x, y+3)
	}
	for _, at := range []float64{0.25, 0.75} {
		if i > 0 {
			cross(p.Side+overlap/2, p.y+high*at)
		}
		if i < across-1 {
			cross(p.Side+wide-overlap/2, p.y+high*at)
		}
		if j > 0 {
			cross(p.Side+wide*at, p.y+overlap/2)
		}
		if j < down-1 {
			cross(p.Side+wide*at, p.y+high-overlap/2)
		}
	}
}

// Tall sets a drawing as wide as the sheet, over as many sheets as it takes.
func (p *Pages) Tall(svg string) error {
	w, h, err := extent(svg)
	if err != nil {
		return err
	}
	scale := p.Width() / w
	if most := p.Left(); h*scale > most && h*scale < most*1.45 { // a little smaller, and whole
		scale = most / h
	}
	const done = 0.1 // of a millimetre: what is left of a drawing after sums that are not exact
	for from := 0.0; from < h*scale-done; {
		high := min(p.Left(), h*scale-from)
		if err := p.window(svg, 0, from, p.Width(), high, w*scale); err != nil {
			return err
		}
		p.y += high
		if from += high; from < h*scale-done {
			p.Sheet("")
		}
	}
	return nil
}
