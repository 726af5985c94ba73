package draw

import (
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Templates are drawn at full size: a pixel is a 96th of an inch, as a printer has it that prints at 100 %.

// full is a length at full size, in pixels.
func full(l measure.Length) float64 { return float64(l) / float64(measure.Inch) * 96 }

// Template draws where the holes of a joint go, at full size, to be laid on the piece and pricked through; ""
// where there is nothing to prick: pockets have their jig, metal its own holes, and what runs along a piece is
// measured.
//
//	 edge of the board
//	+-----------------
//	|  +      a cross for each hole, round it the drill's own size
//	|  +
//	+-----------------
//	end
func Template(d fixing.Detail, p measure.Precision) string {
	metal := d.Kind == frame.Bracket || d.Kind == frame.Splice || d.Kind == frame.PlateOn
	if metal || d.Fixing.Kind == catalog.Pocket || d.Pilot == 0 && d.Clear == 0 ||
		d.End == 0 && d.Run > 12*measure.Inch {
		return ""
	}
	const size, edge = 13.0, 30.0
	t := &page{}
	wide := max(d.End+40*measure.Millimetre, 60*measure.Millimetre)
	w, h := full(wide), full(d.Run)
	x := edge + full(d.End)
	left := "the end"
	if d.End == 0 {
		x, left = edge+w/2, "either side of the middle"
	}
	t.open(max(w+edge*2, 340), h+edge*2+size*2, "Template, "+string(d.Kind), false)
	top := edge
	t.poly("d-template", []pt{{edge, top}, {edge + w, top}, {edge + w, top + h}, {edge, top + h}})
	t.line("d-template-edge", pt{edge, top}, pt{edge + w, top})
	t.line("d-template-edge", pt{edge, top + h}, pt{edge + w, top + h})
	if d.End > 0 {
		t.line("d-template-edge", pt{edge, top}, pt{edge, top + h})
	} else {
		t.line("d-hidden", pt{x, top}, pt{x, top + h})
	}
	upper := "edge"
	if d.Past > 0 {
		upper = p.Short(d.Past) + " below the upper edge: the other piece ends here"
	}
	t.text("d-text d-start", pt{edge, top - size*0.6}, size, 0, upper)
	t.text("d-text", pt{edge - size*0.7, top + h/2}, size, -90, left)
	drill := d.Clear
	if drill == 0 {
		drill = d.Pilot
	}
	for k := range d.Face {
		y := top + full(d.Edge+d.Apart*measure.Length(k))
		t.prick("d-prick", pt{x, y}, full(drill)/2)
		if d.Offset > 0 {
			t.prick("d-prick d-prick-other", pt{x, y + full(d.Offset)}, full(drill)/2)
		}
	}
	words := []string{p.Short(d.Edge) + " from the edge"}
	if d.End > 0 {
		words = append(words, p.Short(d.End)+" from the end")
	}
	if d.Face > 1 {
		words = append(words, p.Short(d.Apart)+" apart")
	}
	words = append(words, "drill "+drill.String())
	if d.Offset > 0 {
		words = append(words, "dashed: the board round the corner")
	}
	for i := 0; i < len(words); i += 3 {
		line := strings.Join(words[i:min(i+3, len(words))], ", ")
		t.text("d-text d-start", pt{edge, top + h + size*(1.4+1.3*float64(i/3))}, size, 0, line)
	}
	return t.close()
}

// NotchTemplate draws a notch of a piece at full size, from the edge it is cut into.
func NotchTemplate(part frame.Part, n frame.Notch, p measure.Precision) string {
	const size, edge = 13.0, 36.0
	from, to, deep, _ := n.Cut(part)
	atEnd := from == 0 || to == part.Length
	past := 30 * measure.Millimetre
	w, h := full(to-from), full(deep)
	t := &page{}
	t.open(max(w+2*edge+2*full(past), 420), h+full(past)+edge*2, "Template, notch of "+part.Letter, false)
	x, y := edge+full(past), edge
	if from == 0 {
		x = edge
	}
	t.poly("d-template-off", []pt{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}})
	ends := []pt{{x - full(past), y}, {x, y}, {x, y + h}, {x + w, y + h}, {x + w, y}, {x + w + full(past), y}}
	if from == 0 {
		ends = ends[2:]
	}
	if to == part.Length {
		ends = ends[:len(ends)-2]
	}
	for i := 1; i < len(ends); i++ {
		t.line("d-template-edge", ends[i-1], ends[i])
	}
	t.text("d-text d-start", pt{edge, y - size*0.6}, size, 0, "edge of "+part.Letter)
	words := p.Short(to-from) + " long, " + p.Short(deep) + " deep, for " + n.For
	if !atEnd {
		words += "; it begins " + p.Short(from) + " from the end"
	}
	t.text("d-text d-start", pt{edge, y + h + full(past)*0.7}, size, 0, words)
	return t.close()
}

func (p *page) prick(class string, q pt, r float64) {
	p.add(`<g class="%s"><circle cx="%s" cy="%s" r="%s"/><path d="M%s %sh%sM%s %sv%s"/></g>`, class,
		n(q.x), n(q.y), n(max(r, 2)), n(q.x-16), n(q.y), n(32), n(q.x), n(q.y-16), n(32))
}

// Ruler is a rule at full size, to hold a real one against before a template is used.
func Ruler(system measure.System) string {
	const size = 13.0
	t := &page{}
	unit, count, parts, long := 10*measure.Millimetre, 15, 10, "150 mm"
	if system == measure.Imperial {
		unit, count, parts, long = measure.Inch, 6, 16, "6 in"
	}
	w := full(unit) * float64(count)
	t.open(w+40, 64, "A rule, to check the printer", false)
	t.poly("d-template", []pt{{20, 10}, {20 + w, 10}, {20 + w, 44}, {20, 44}})
	for i := range count*parts + 1 {
		h := 6.0
		switch {
		case i%parts == 0:
			h = 18
		case i%(parts/2) == 0:
			h = 12
		}
		t.line("d-template-edge", pt{20 + w*float64(i)/float64(count*parts), 10},
			pt{20 + w*float64(i)/float64(count*parts), 10 + h})
		if i%parts == 0 && i > 0 && i < count*parts {
			t.text("d-text", pt{20 + w*float64(i)/float64(count*parts), 40}, size, 0, n(float64(i/parts)*unitsOf(system)))
		}
	}
	t.text("d-text d-start", pt{20, 58}, size, 0, "This is "+long+" long.")
	return t.close()
}

// unitsOf is what a mark of the rule counts: centimetres are written in millimetres.
func unitsOf(system measure.System) float64 {
	if system == measure.Imperial {
		return 1
	}
	return 10
}
