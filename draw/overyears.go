package draw

import (
	"fmt"
	"strings"

	"chamfer/core/money"
	"chamfer/core/plan"
)

// Spending is one alternative's cost over the years.
type Spending struct {
	Name string
	Of   plan.Weighed
}

// dashes tell the lines apart without colour: as it stands, and up to three beside it.
var dashes = []string{"", "9 5", "2 4", "12 4 2 4"}

// OverYears draws what alternatives have cost by the end of each year: a line each that rises by its keep and steps up
// where the timber is bought again. The end of each line says whose it is.
func OverYears(list []Spending, years int, currency money.Currency, s Sheet) string {
	d := &page{}
	left, right, top, foot := s.Font*5.2, s.Font*6.5, s.Font*1.2, s.Font*2.4
	if s.W < 500 {
		right = s.Font * 4
	}
	h := s.H
	most := money.Amount(1)
	for _, x := range list {
		most = max(most, x.Of.Spent(years))
	}
	d.open(s.W, h, fmt.Sprintf("what each has cost by the end of a year, over %d years", years), s.Own)
	x := func(year float64) float64 { return left + year/float64(years)*(s.W-left-right) }
	y := func(a money.Amount) float64 { return h - foot - float64(a)/float64(most)*(h-foot-top) }
	d.add(`<path class="d-ext" d="M%s %sV%sH%s"/>`, n(left), n(top), n(h-foot), n(s.W-right))
	for year := 0; year <= years; year += 5 {
		d.add(`<path class="d-ext" d="M%s %sv6"/>`, n(x(float64(year))), n(h-foot))
		d.text("d-text d-name", pt{x(float64(year)), h - foot + s.Font*1.25}, s.Font*0.8, 0, fmt.Sprint(year))
	}
	for part := money.Amount(1); part <= 4; part++ {
		a := most * part / 4
		d.add(`<text class="d-text d-name d-before" x="%s" y="%s" font-size="%s" text-anchor="end">%s</text>`, n(left-6),
			n(y(a)+s.Font*0.3), n(s.Font*0.8), esc(whole(currency, a)))
		d.add(`<path class="d-string" d="M%s %sH%s"/>`, n(left), n(y(a)), n(s.W-right))
	}
	used := []float64{}
	for k, one := range list {
		path := fmt.Sprintf("M%s %s", n(x(0)), n(y(one.Of.Spent(0))))
		for year := 1; year <= years; year++ {
			before := one.Of.Spent(year) - one.Of.Oil - one.Of.TopUp
			path += fmt.Sprintf("L%s %sL%s %s", n(x(float64(year-1))), n(y(before)), n(x(float64(year))),
				n(y(one.Of.Spent(year))))
		}
		d.add(`<path class="d-spent" d="%s" stroke-dasharray="%s"><title>%s</title></path>`, path, dashes[k%len(dashes)],
			esc(one.Name))
		at := y(one.Of.Spent(years))
		for _, u := range used { // names do not lie on one another
			if at > u-s.Font && at < u+s.Font {
				at = u + s.Font
			}
		}
		used = append(used, at)
		name := one.Name
		for len(name) > 3 && textWidth(name, s.Font*0.85) > right-8 {
			name = name[:len(name)-1]
		}
		d.add(`<text class="d-text d-start" x="%s" y="%s" font-size="%s">%s</text>`, n(s.W-right+6), n(at+s.Font*0.3),
			n(s.Font*0.85), esc(name))
	}
	return d.close()
}

// whole writes money without its cents.
func whole(c money.Currency, a money.Amount) string {
	return strings.Replace(c.Format(a/100*100), ".00", "", 1)
}

// Frontier draws beds along what they cost and how much they plant, each as large as it is against the others, the
// front of
// those that nothing plants as much for less than. Link is of a press, "%d" which.
func Frontier(list []plan.Prospect, currency money.Currency, link string, s Sheet) string {
	d := &page{}
	if len(list) == 0 {
		return ""
	}
	last := list[len(list)-1]
	left, right, top, foot := s.Font*2.2, s.Font*3, s.Font*2.6, s.Font*2.6
	scale := (s.H - top - foot) / float64(last.Area.SquareFeet()) // px a square foot, upwards
	long := 0.0
	for _, f := range list {
		long = max(long, f.Length.Metres(), f.Width.Metres())
	}
	bed := min(s.W, s.H*2) * 0.11 / long // px a metre, of the little beds
	d.open(s.W, s.H, "beds by what they cost and how much they plant", s.Own)
	x := func(f plan.Prospect) float64 {
		return left + float64(f.Total-list[0].Total)/float64(max(1, last.Total-list[0].Total))*(s.W-left-right)
	}
	y := func(f plan.Prospect) float64 { return s.H - foot - f.Area.SquareFeet()*scale }
	path := ""
	for k, f := range list {
		path += fmt.Sprintf("%s%s %s", map[bool]string{true: "M", false: "L"}[k == 0], n(x(f)), n(y(f)))
	}
	d.add(`<path class="d-spent" d="%s"/>`, path)
	d.add(`<path class="d-ext" d="M%s %sH%s"/>`, n(left), n(s.H-foot), n(s.W-right))
	room := -1e9
	for k, f := range list {
		w, h := f.Length.Metres()*bed, f.Width.Metres()*bed
		words := fmt.Sprintf("%s: %s", f.System.Title, currency.Format(f.Total))
		d.add(`<a href="%s" aria-label="%s"><title>%s</title><rect class="d-timber-top" x="%s" y="%s" width="%s"`+
			` height="%s"/><rect class="d-soil" x="%s" y="%s" width="%s" height="%s"/></a>`, esc(fmt.Sprintf(link, k)),
			esc(words), esc(words), n(x(f)-w/2), n(y(f)-h/2), n(w), n(h), n(x(f)-w/2+1.5), n(y(f)-h/2+1.5), n(w-3), n(h-3))
		if x(f) > room {
			text := whole(currency, f.Total)
			d.text("d-text d-name", pt{x(f), s.H - foot + s.Font*1.3}, s.Font*0.8, 0, text)
			room = x(f) + textWidth(text, s.Font*0.8) + 8
		}
	}
	return d.close()
}
