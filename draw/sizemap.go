package draw

import (
	"fmt"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
)

// SizeMap draws a bed's sizes, lengths to the right and widths upwards: the darker a cell, the dearer its planting by
// the square foot or metre; a green notch where less of the boards is waste than at all sizes beside it. Link is of a
// press, "%d.%d" its column and row; the dashed line is as wide as can be reached; held the one that was pressed, with
// a column below nought for none.
func SizeMap(m plan.SizeMap, link string, held [2]int, now [2]float64, widest measure.Length,
	pr measure.Precision, currency money.Currency, s Sheet) string {
	d := &page{}
	columns, rows := len(m.Lengths), len(m.Widths)
	left, right, top, foot := s.Font*3.4, 4.0, 6.0, s.Font*2.2
	w := (s.W - left - right) / float64(columns)
	high := min(w*1.35, (s.H-top-foot)/float64(rows))
	h := top + high*float64(rows) + foot
	var prices []money.Amount
	for _, c := range m.Cells {
		if c.Built {
			prices = append(prices, c.PerArea)
		}
	}
	slices.Sort(prices)
	shade := func(a money.Amount) int { // by sixths of all sizes
		at, _ := slices.BinarySearch(prices, a)
		return 1 + at*6/max(1, len(prices))
	}
	d.open(s.W, h, "sizes of the bed by what their planting costs", s.Own)
	x := func(column int) float64 { return left + float64(column)*w }
	y := func(row int) float64 { return top + high*float64(rows-1-row) }
	for row := range rows {
		for column := range columns {
			c := m.At(column, row)
			if !c.Built {
				continue
			}
			words := fmt.Sprintf("%s by %s: %s", pr.Feet(c.Length), pr.Feet(c.Width), currency.Format(c.Total))
			class := ""
			if held == [2]int{column * m.Every, row * m.Every} {
				class = " d-cell-held"
			}
			d.add(`<a class="size%s" href="%s" aria-label="%s" tabindex="%d"><title>%s</title><rect class="d-dear d-dear-%d"`+
				` x="%s" y="%s" width="%s" height="%s"/></a>`, class, esc(fmt.Sprintf(link, column*m.Every, row*m.Every)),
				esc(words),
				map[bool]int{true: 0, false: -1}[c.Least || m.Every > 1], esc(words), min(6, shade(c.PerArea)), n(x(column)),
				n(y(row)),
				n(w), n(high))
		}
	}
	for row := range rows {
		for column := range columns {
			if c := m.At(column, row); c.Least {
				cx, base, r := x(column)+w/2, y(row)+high-1, min(w, high)*0.36
				d.add(`<path class="d-notch" d="M%s %sl%s %sl%s %sZ"/>`, n(cx-r), n(base), n(r), n(-1.7*r), n(r), n(1.7*r))
			}
		}
	}
	for column := 0; column < columns; column += 8 / m.Every {
		d.text("d-text d-name", pt{x(column) + w/2, h - foot + s.Font*1.2}, s.Font*0.8, 0, pr.Feet(m.Lengths[column]))
	}
	for row := 0; row < rows; row += 4 / m.Every {
		d.add(`<text class="d-text d-name d-before" x="%s" y="%s" font-size="%s">%s</text>`, n(left-6),
			n(y(row)+high/2+s.Font*0.28), n(s.Font*0.8), esc(pr.Feet(m.Widths[row])))
	}
	if columns < 2 || rows < 2 {
		return d.close()
	}
	step := (m.Lengths[1] - m.Lengths[0]).Metres()
	deep := (m.Widths[1] - m.Widths[0]).Metres()
	if at := top + high*(float64(rows)-1-(widest-m.Widths[0]).Metres()/deep); at > top && at < h-foot {
		d.add(`<path class="d-frost" d="M%s %sH%s"><title>no wider can be reached</title></path>`, n(left), n(at),
			n(s.W-right))
	}
	px := left + ((now[0]-m.Lengths[0].Metres())/step+0.5)*w
	py := top + high*(float64(rows)-0.5-(now[1]-m.Widths[0].Metres())/deep)
	if px > left && px < s.W && py > top && py < h-foot {
		d.add(`<circle class="d-here" cx="%s" cy="%s" r="%s"/>`, n(px), n(py), n(max(5, w*0.5)))
	}
	return d.close()
}
