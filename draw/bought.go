package draw

import (
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/fill"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// pile is so many alike things as they stand in a yard, in millimetres.
type pile struct {
	class     string
	wide      float64 // of one
	high      float64
	n         int
	heap      bool // a cone of its own size
	rings     bool // the end of a board
	rounded   bool // a sack
	half      bool // every other course by half its length
	name      string
	rows, col int
}

// Bought draws what is bought in one shop as it is heaped in its yard, w wide, all at one scale that is drawn below:
// boards by their ends, blocks by their faces, loose soil as the cone it is tipped in, sacks, rolls and boxes.
func Bought(p *plan.Plan, shop string, w float64) string {
	const base, lead, apart, most = 20.0, 4.0, 6.0, 110.0 // pixels
	piles := bought(p, shop)
	high, wide := 1.0, 1.0
	for _, q := range piles {
		high, wide = max(high, q.tall()), wide+q.span()
	}
	scale := min(0.14, (w-2*lead-apart*float64(len(piles)))/wide, most/high)
	d := &page{}
	h := high*scale + base + 8
	d.add(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="%s">`,
		n(w), n(h), n(w), n(h), esc(shop+": "+names(piles)))
	ground := h - base
	x := lead
	for _, q := range piles {
		d.add(`<g><title>%s</title>`, esc(q.name))
		q.draw(d, x, ground, scale)
		d.add(`</g>`)
		x += q.span()*scale + apart
	}
	d.add(`<path class="d-dim" d="M0 %sH%s"/>`, n(ground+0.5), n(w))
	l, words := measure.Metre, "1 m"
	if p.Shop.Catalog.System == measure.Imperial {
		l, words = 3*measure.Foot, "3 ft"
	}
	long := l.Millimetres() * scale
	d.add(`<path class="d-dim" d="M1 %sh%sm-%s -4v8m%s -8v8"/>`, n(ground+11), n(long), n(long), n(long))
	d.text("d-text d-name", pt{long + 20, ground + 15}, 13, 0, words)
	d.add(`</svg>`)
	return d.b.String()
}

func names(piles []pile) string {
	var list []string
	for _, q := range piles {
		list = append(list, q.name)
	}
	return strings.Join(list, ", ")
}

// bought is what lies in a shop's heap.
func bought(p *plan.Plan, shop string) (piles []pile) {
	ends := map[string]catalog.Profile{}
	for _, c := range p.Cuts {
		for _, o := range c.Offers {
			ends[o.SKU] = c.Profile
		}
	}
	faces := map[string]catalog.Unit{}
	for _, c := range p.Laying.Units {
		faces[c.Unit.ID] = c.Unit
	}
	for _, a := range p.Bill.Aisles() {
		if a.Shop != shop {
			continue
		}
		for _, l := range a.Lines {
			words := cost.Packs(l.Quantity, l.Unit) + " of " + l.Item
			if end, ok := ends[l.SKU]; ok {
				piles = stack(piles, pile{class: "d-timber-end", wide: end.Width.Millimetres(),
					high: end.Thickness.Millimetres(), rings: true,
					n: l.Quantity, name: words})
			} else if u, ok := faces[l.SKU]; ok {
				piles = stack(piles, pile{class: "d-stone-face", wide: u.Length.Millimetres(),
					high: u.Height.Millimetres(), half: true,
					n: l.Quantity, name: words})
			} else if q, ok := packed(l, words); ok {
				piles = stack(piles, q)
			}
		}
		here := func(sku string) bool {
			return slices.ContainsFunc(a.Lines, func(l cost.Line) bool { return l.SKU == sku })
		}
		if a.Group == cost.Soil {
			for _, h := range p.Fill.Heaps() {
				if !here(h.SKU) {
					continue
				}
				piles = append(piles, cone(h.Name, h.Across, h.High))
			}
		}
		if a.Group == cost.Masonry {
			for _, h := range p.Laying.Heaps {
				if !strings.HasPrefix(h.Loose.Pack, "bag") && h.Packs > 0 && h.Volume > 0 && here(h.Loose.ID) {
					across, high := fill.Cone(h.Volume, gravelRepose)
					piles = append(piles, cone(strings.ToLower(h.Loose.Name), across, high))
				}
			}
		}
	}
	for i := range piles {
		piles[i].lay()
	}
	return piles
}

// gravelRepose is the slope that crushed stone lies at, in degrees; common practice.
const gravelRepose = 37

func cone(name string, across, high measure.Length) pile {
	return pile{class: "d-food", wide: across.Millimetres(), high: high.Millimetres(), n: 1, heap: true, name: name}
}

// packed is a sack, a roll or a box, by what one is called.
func packed(l cost.Line, words string) (pile, bool) {
	switch {
	case strings.Contains(l.Unit, "bag"):
		return pile{class: "d-sack", wide: 560, high: 130, rounded: true, n: l.Quantity, name: words}, true
	case strings.HasPrefix(l.Unit, "roll"):
		return pile{class: "d-roll", wide: 150, high: 150, rounded: true, n: l.Quantity, name: words}, true
	case strings.HasPrefix(l.Unit, "box"), strings.HasPrefix(l.Unit, "pack"):
		return pile{class: "d-carton", wide: 130, high: 80, n: l.Quantity, name: words}, true
	case strings.HasPrefix(l.Unit, "sheet"):
		return pile{class: "d-timber-face", wide: 1220, high: 18, n: l.Quantity, name: words}, true
	case strings.HasPrefix(l.Unit, "tube"), strings.HasPrefix(l.Unit, "piece"), strings.HasPrefix(l.Unit, "can"),
		strings.HasPrefix(l.Unit, "tin"):
		return pile{class: "d-carton", wide: 60, high: 60, n: l.Quantity, name: words}, true
	}
	return pile{}, false // a hire, a delivery, what is loose
}

// stack puts what is alike on the pile of it.
func stack(piles []pile, q pile) []pile {
	for i := range piles {
		if o := &piles[i]; o.class == q.class && o.wide == q.wide && o.high == q.high && o.rounded == q.rounded {
			o.n += q.n
			o.name += ", " + q.name
			return piles
		}
	}
	return append(piles, q)
}

// lay chooses how many stand side by side: a pile about as high as it is wide, not above 1.4 m.
func (q *pile) lay() {
	q.col = 1
	if !q.heap {
		q.col = max(1, int(math.Round(math.Sqrt(float64(q.n)*q.high/q.wide))), int(math.Ceil(float64(q.n)*q.high/1400)))
	}
	q.rows = (q.n + q.col - 1) / q.col
}

func (q pile) tall() float64 { return q.high * float64(q.rows) }

// span is how wide the whole pile is.
func (q pile) span() float64 {
	w := q.wide * float64(q.col)
	if q.half && q.rows > 1 {
		w += q.wide / 2
	}
	return w
}

func (q pile) draw(d *page, x, ground, scale float64) {
	w, h := q.wide*scale, q.high*scale
	if q.heap {
		d.add(`<path class="%s" d="M%s %sQ%s %s %s %sQ%s %s %s %sZ"/>`, q.class, n(x), n(ground),
			n(x+w*0.42), n(ground-h*0.95), n(x+w/2), n(ground-h), n(x+w*0.58), n(ground-h*0.95), n(x+w), n(ground))
		return
	}
	round := 0.0
	if q.rounded {
		round = h * 0.45
	}
	for k := range q.n {
		row, col := k/q.col, k%q.col
		left, top := x+float64(col)*w, ground-float64(row+1)*h
		if q.half && row%2 == 1 {
			left += w / 2
		}
		d.add(`<rect class="%s" x="%s" y="%s" width="%s" height="%s" rx="%s"/>`, q.class, n(left), n(top), n(w),
			n(h), n(round))
		if q.rings && h > 3 {
			d.add(`<path class="d-grain" d="M%s %sQ%s %s %s %s"/>`, n(left+w*0.15), n(top+h*0.9), n(left+w/2), n(top-h*0.3),
				n(left+w*0.85), n(top+h*0.9))
		}
	}
}
