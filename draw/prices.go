package draw

import (
	"time"

	"chamfer/core/money"
)

// Priced is a price on a day.
type Priced struct {
	Price money.Amount
	On    time.Time
}

// Prices draws how a price moved: a step at each day that it was seen, up to now; the least and the most it was are
// the edges.
func Prices(list []Priced, now time.Time, s Sheet) string {
	d := &page{}
	d.open(s.W, s.H, "how the price moved", s.Own)
	if len(list) == 0 {
		return d.close()
	}
	least, most := list[0].Price, list[0].Price
	for _, p := range list {
		least, most = min(least, p.Price), max(most, p.Price)
	}
	span := max(now.Sub(list[0].On), 24*time.Hour)
	x := func(t time.Time) float64 { return 4 + float64(t.Sub(list[0].On))/float64(span)*(s.W-8) }
	y := func(a money.Amount) float64 {
		if most == least {
			return s.H / 2
		}
		return s.H - 5 - float64(a-least)/float64(most-least)*(s.H-10)
	}
	path := "M" + n(x(list[0].On)) + " " + n(y(list[0].Price))
	for _, p := range list[1:] {
		path += "H" + n(x(p.On)) + "V" + n(y(p.Price))
	}
	d.add(`<path class="d-spent" d="%sH%s"/>`, path, n(s.W-4))
	for _, p := range list {
		d.add(`<circle class="d-notch" cx="%s" cy="%s" r="3"/>`, n(x(p.On)), n(y(p.Price)))
	}
	return d.close()
}
